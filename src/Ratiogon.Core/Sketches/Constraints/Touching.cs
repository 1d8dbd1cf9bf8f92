using Ratiogon.Core.Geometry;
using Ratiogon.Core.Numerics.Equations;
using Ratiogon.Core.Sketches.Writing;

namespace Ratiogon.Core.Sketches.Constraints;

/// <summary>Two curves that touch: at a point known to lie on both where there is one, anywhere otherwise.</summary>
internal sealed class Tangent : ConstraintKind
{
    /// <summary>The least that directions are scaled by, in square millimetres: of curves that are points as yet.</summary>
    private const double LeastScale = 1e-9;

    /// <summary>How far apart differences are taken, as a share of a curve.</summary>
    private const double Aside = 1e-6;

    /// <summary>A determinant this small, as a share of its terms, is of curves that run along each other.</summary>
    private const double Singular = 1e-14;

    /// <summary>A squared residual, as a share of the squared size, at which a circle touches all three.</summary>
    private const double NotMet = 1e-10;

    public override string Name => "tangent";

    public override char Stroke => 't';

    public override string Icon => "M2 12.500h12M8 7.500m-5 0a5 5 0 1 0 10 0a5 5 0 1 0-10 0";

    public override bool MayCollapse => true;

    public override bool HasJoint => true;

    internal override void Note(SmoothJoints joints, SketchConstraint constraint) => joints.Touch(constraint.Of);

    public override string Needs => "two curves, not both lines";

    protected override bool Fits(IReadOnlyList<SketchEntity> of) => of.Count == 2 && of.All(IsCurve) && of.Any(e => e is not LineEntity);

    public override void Write(SystemWriter writer, IReadOnlyList<SketchEntity> of)
    {
        var (a, b) = (of[0], of[1]);
        if (writer.Contacts.Shared(a, b) is var (onFirst, onSecond))
        {
            WriteWay(writer, writer.FormAt(a, onFirst), writer.FormAt(b, onSecond));
        }
        else if (of.FirstOrDefault(e => e is LineEntity) is { } line && of.FirstOrDefault(IsRound) is { } round)
        {
            var (e, (cx, cy)) = (writer.EndsOf(line), writer.PointOf(round));
            var (from, to) = (writer.ValueOf((e[0], e[1])), writer.ValueOf((e[2], e[3])));
            var side = (to - from).Cross(writer.ValueOf((cx, cy)) - from) < 0 ? -1 : 1;
            writer.Add(new LineTouchesCircle(cx, cy, e, writer.RadiusOf(round), side));
        }
        else if (of.All(IsRound))
        {
            WriteCircles(writer, a, b);
        }
        else
        {
            var (p, q) = Nearest(writer.Sketch, a, b);
            var (f, g) = (writer.FormNear(a, p), writer.FormNear(b, q));
            writer.Add(new FormsMeet(f, g, 0));
            writer.Add(new FormsMeet(f, g, 1));
            WriteWay(writer, f, g);
        }
    }

    /// <summary>Which way two curves go past each other now, and the equation that keeps them so.</summary>
    internal static int WriteWay(SystemWriter writer, CurveForm f, CurveForm g)
    {
        var (d, e) = (Slope(writer, f), Slope(writer, g));
        var way = d.Dot(e) < 0 ? -1 : 1;
        writer.Add(new SameDirection(f, g, Math.Max(d.Length * e.Length, LeastScale), way));
        return way;
    }

    internal static Vec2 Slope(SystemWriter writer, CurveForm form)
    {
        Span<double> dx = stackalloc double[CurveForm.Most + 1];
        Span<double> dy = stackalloc double[CurveForm.Most + 1];
        var start = writer.Start;
        var (x, y) = form.Evaluate([.. form.All.Select(i => start[i])], 1, dx, dy);
        return new Vec2(x, y);
    }

    private static void WriteCircles(SystemWriter writer, SketchEntity a, SketchEntity b)
    {
        var ((ax, ay), (bx, by)) = (writer.PointOf(a), writer.PointOf(b));
        var (ra, rb) = (writer.RadiusOf(a), writer.RadiusOf(b));
        var (r, s) = (writer.Start[ra], writer.Start[rb]);
        var distance = writer.ValueOf((ax, ay)).DistanceTo(writer.ValueOf((bx, by)));

        // Outside or inside, whichever is nearer to what is drawn.
        var sign = Math.Abs(distance - (r + s)) <= Math.Abs(distance - Math.Abs(r - s)) ? 1 : -1;
        writer.Add(new CirclesTouch(ax, ay, ra, bx, by, rb, sign, Math.Sign(r - s)));
    }

    /// <summary>Where two curves are nearest to touching as drawn: roughly by samples, then refined, so that what touches
    /// already is found to do so and does not creep.</summary>
    private static (Vec2 P, Vec2 Q) Nearest(Sketch sketch, SketchEntity a, SketchEntity b)
    {
        const int Samples = 48;
        var (f, g) = (Sketches.SketchCurve.Of(sketch, a)!.Value, Sketches.SketchCurve.Of(sketch, b)!.Value);
        var size = Math.Max(f.Size, g.Size);
        var (s, t) = (
            from i in Enumerable.Range(1, Samples - 1)
            from k in Enumerable.Range(1, Samples - 1)
            select (S: f.End * i / Samples, T: g.End * k / Samples)
        ).MinBy(x => f.At(x.S).DistanceTo(g.At(x.T)) + (0.4 * size * Math.Abs(f.Slope(x.S).Unit.Cross(g.Slope(x.T).Unit))));
        (s, t) = Refined(f, g, s, t);
        return (f.At(s), g.At(t));
    }

    /// <summary>Gauss-Newton on the gap of two places and the sine between the curves there.</summary>
    private static (double S, double T) Refined(in Sketches.SketchCurve f, in Sketches.SketchCurve g, double s, double t)
    {
        var (drawn, best, size) = ((s, t), (s, t), Math.Max(f.Size, g.Size));
        var least = double.PositiveInfinity;
        for (var i = 0; i < 30; i++)
        {
            var (ds, dt) = (f.End * Aside, g.End * Aside);
            var gap = f.At(s) - g.At(t);
            double Sine(in Sketches.SketchCurve f, in Sketches.SketchCurve g, double s, double t) =>
                size * f.Slope(s).Unit.Cross(g.Slope(t).Unit);
            var sine = Sine(f, g, s, t);
            var off = gap.Dot(gap) + (sine * sine);
            if (!(off < least))
            {
                break;
            }

            (least, best) = (off, (s, t));
            var (fs, gt) = (f.Slope(s), -g.Slope(t));
            var (us, ut) = (
                (Sine(f, g, s + ds, t) - Sine(f, g, s - ds, t)) / (2 * ds),
                (Sine(f, g, s, t + dt) - Sine(f, g, s, t - dt)) / (2 * dt)
            );
            var (aa, ab, bb) = (fs.Dot(fs) + (us * us), fs.Dot(gt) + (us * ut), gt.Dot(gt) + (ut * ut));
            var (ra, rb) = (-(fs.Dot(gap) + (us * sine)), -(gt.Dot(gap) + (ut * sine)));
            var det = (aa * bb) - (ab * ab);
            if (Math.Abs(det) < Singular * aa * bb)
            {
                break;
            }

            (s, t) = (Within(f, s + (((ra * bb) - (rb * ab)) / det)), Within(g, t + (((aa * rb) - (ab * ra)) / det)));
        }

        // Curves that do not touch yet are led together from where they are drawn.
        return least < NotMet * size * size ? best : drawn;
    }

    /// <summary>Lines count as unbounded, closed curves go round, others end.</summary>
    private static double Within(in Sketches.SketchCurve curve, double t) =>
        curve.Full ? t - (Math.Floor(t / curve.End) * curve.End)
        : curve.Free is not null ? Math.Clamp(t, 0, curve.End)
        : t;
}

/// <summary>Two curves that go over into each other with one curvature at a shared end.</summary>
internal sealed class Smooth : ConstraintKind
{
    public override string Name => "smooth";

    public override char Stroke => 'b';

    public override string Icon => "M2 12C5 12 6 4 8 4s3 8 6 8M8 4h.010";

    public override bool MayCollapse => true;

    public override bool HasJoint => true;

    internal override void Note(SmoothJoints joints, SketchConstraint constraint) => joints.Touch(constraint.Of);

    public override string Needs => "two curves that share an end, at least one of them a spline";

    protected override bool Fits(IReadOnlyList<SketchEntity> of) => of.Count == 2 && of.All(IsCurve) && of.Any(e => e is SplineEntity);

    internal override Refusal? CheckIn(
        Sketch sketch,
        Func<Contacts> contacts,
        SketchConstraint constraint,
        IReadOnlyList<SketchEntity> of
    ) =>
        contacts().Shared(of[0], of[1]) is null
            ? new Refusal(
                "constraint.no-contact",
                $"{of[0].Word} {of[0].Id} and {of[1].Word} {of[1].Id} share no point: tie their ends together first."
            )
            : null;

    public override void Write(SystemWriter writer, IReadOnlyList<SketchEntity> of)
    {
        if (writer.Contacts.Shared(of[0], of[1]) is not var (onFirst, onSecond))
        {
            return;
        }

        var (f, g) = (writer.FormAt(of[0], onFirst), writer.FormAt(of[1], onSecond));
        var tangent = writer.Sketch.Constraints.Any(c => c.Kind == "tangent" && c.Of.Contains(of[0].Id) && c.Of.Contains(of[1].Id));
        var way = tangent ? Math.Sign(Tangent.Slope(writer, f).Dot(Tangent.Slope(writer, g))) : Tangent.WriteWay(writer, f, g);
        var scale = of.Select(e => Curves.Of(writer.Sketch, e)).OfType<SplineCurve>().Max(s => s.Through[0].DistanceTo(s.Through[^1]));
        writer.Add(new SameBend(f, g, way < 0 ? -1 : 1, Math.Max(scale, Tolerances.SmallestSize)));
    }
}

/// <summary>Lines along one unbounded line; points beside them lie on it.</summary>
internal sealed class Collinear : ConstraintKind
{
    public override string Name => "collinear";

    public override char Stroke => 'l';

    public override string Icon => "M2 11l4-2M10 7l4-2M7.200 8.400l1.600-.800";

    public override bool Grows => true;

    public override bool HasJoint => true;

    internal override void Note(SmoothJoints joints, SketchConstraint constraint) => joints.Carry(constraint.Of);

    public override string Needs => "two or more lines, or a line and points";

    protected override bool Fits(IReadOnlyList<SketchEntity> of) =>
        of.Count >= 2 && of.All(e => e is LineEntity or PointEntity) && of.Any(e => e is LineEntity) && of.Count(e => e is LineEntity) != 1
        || (of.Count >= 3 && of.Count(e => e is LineEntity) == 1 && of.All(e => e is LineEntity or PointEntity));

    public override void Write(SystemWriter writer, IReadOnlyList<SketchEntity> of)
    {
        var carrier = of.OfType<LineEntity>().OrderBy(l => Sketch.IsBuiltIn(l.Id) ? 0 : 1).First();
        var done = new HashSet<string>(StringComparer.Ordinal);
        foreach (var point in of.Where(e => e != carrier).SelectMany(e => e is PointEntity ? [e.Id] : e.Points))
        {
            if (!writer.Contacts.IsOn(point, carrier) && done.Add(writer.Contacts.Root(point)))
            {
                PlacedOn.WriteOn(writer, point, carrier);
            }
        }
    }
}

/// <summary>Two points, lines, circles or arcs on either side of a line.</summary>
internal sealed class Symmetric : ConstraintKind
{
    public override string Name => "symmetric";

    public override char Stroke => 's';

    public override string Icon => "M8 2v12M5 5L2.500 8 5 11M11 5l2.500 3-2.500 3";

    public override bool MayCollapse => true;

    internal override bool IsOfWhole(Sketch sketch, SketchConstraint constraint, string line) => AxisOf(sketch, constraint)?.Id != line;

    internal override SketchConstraint? Reshaped(Sketch sketch, SketchConstraint constraint, SketchEntity old, SketchEntity now) =>
        old is LineEntity && IsOfWhole(sketch, constraint, old.Id) ? null : constraint;

    private static LineEntity? AxisOf(Sketch sketch, SketchConstraint constraint) => Axis([.. constraint.Of.Select(o => sketch.Find(o)!)]);

    public override string Needs => "two points, two lines or two circles and arcs, and the line they are symmetric about";

    /// <summary>The axis among the picks: one of the sketch's own, the only construction line, or else the last line.</summary>
    public static LineEntity? Axis(IReadOnlyList<SketchEntity> of) =>
        of.OfType<LineEntity>().FirstOrDefault(l => Sketch.IsBuiltIn(l.Id))
        ?? (
            of.OfType<LineEntity>().Count(l => l.Construction) == 1
                ? of.OfType<LineEntity>().First(l => l.Construction)
                : of.OfType<LineEntity>().LastOrDefault()
        );

    protected override bool Fits(IReadOnlyList<SketchEntity> of) =>
        of.Count == 3
        && Axis(of) is { } axis
        && of.Where(e => e != axis).ToList() is [var a, var b]
        && ((a is LineEntity && b is LineEntity) || (HasPoint(a) && HasPoint(b) && IsRound(a) == IsRound(b)));

    internal override Refusal? CheckIn(
        Sketch sketch,
        Func<Contacts> contacts,
        SketchConstraint constraint,
        IReadOnlyList<SketchEntity> of
    ) =>
        Axis(of) is { } axis
        && of.FirstOrDefault(e =>
            e != axis && (e is PointEntity ? axis.Points.Contains(e.Id) : Curves.Centre(e) is { } centre && axis.Points.Contains(centre))
        )
            is { } end
            ? new Refusal(
                "constraint.on-own-axis",
                $"{end.Word} {end.Id} is an end of line {axis.Id} itself and has no mirror image in it but itself: pick another axis."
            )
            : null;

    public override void Write(SystemWriter writer, IReadOnlyList<SketchEntity> of)
    {
        var axis = Axis(of)!;
        var (a, b) = (of.First(e => e != axis), of.Last(e => e != axis));
        if (a is LineEntity l && b is LineEntity m)
        {
            var (start, end) = (Mirrored(writer.Sketch, axis, writer.Sketch.At(l.From)), writer.Sketch);
            var straight = start.DistanceTo(end.At(m.From)) <= start.DistanceTo(end.At(m.To));
            Write(writer, axis, l.From, straight ? m.From : m.To);
            Write(writer, axis, l.To, straight ? m.To : m.From);
        }
        else
        {
            Write(writer, axis, a is PointEntity ? a.Id : Curves.Centre(a)!, b is PointEntity ? b.Id : Curves.Centre(b)!);
            if (IsRound(a))
            {
                writer.Identify(writer.RadiusOf(a), writer.RadiusOf(b));
            }
        }
    }

    internal static Vec2 Mirrored(Sketch sketch, LineEntity axis, Vec2 p) => (p.FootOn(sketch.At(axis.From), sketch.At(axis.To)) * 2) - p;

    /// <summary>One point the mirror image of another; a point that is its own image lies on the axis.</summary>
    internal static void Write(SystemWriter writer, LineEntity axis, string p, string q)
    {
        if (writer.Contacts.Root(p) == writer.Contacts.Root(q))
        {
            if (!writer.Contacts.IsOn(p, axis))
            {
                PlacedOn.WriteOn(writer, p, axis);
            }

            return;
        }

        var (e, a, b) = (writer.EndsOf(axis), writer.PointIndex(p), writer.PointIndex(q));
        if (writer.Same(e[0], e[2]) || writer.Same(e[1], e[3]))
        {
            var across = writer.Same(e[0], e[2]) ? 0 : 1;
            writer.Identify(a + 1 - across, b + 1 - across);
            writer.Add(new Linear([a + across, b + across, e[across]], [0.5, 0.5, -1], 0));
        }
        else
        {
            writer.Add(new SquareTo(e, [a, a + 1, b, b + 1]));
            writer.Add(new EvenlyBeside([a, a + 1, b, b + 1], e));
        }
    }
}
