using Ratiogon.Core.Geometry;
using Ratiogon.Core.Numerics;
using Ratiogon.Core.Numerics.Equations;
using Ratiogon.Core.Sketches.Constraints;
using Ratiogon.Core.Sketches.Shapes;

namespace Ratiogon.Core.Sketches.Writing;

/// <summary>
/// What constraints and dimensions are written to. In reducing mode, rules that only identify or fix unknowns are
/// kept in the union-find and never become equations; in full mode everything is an equation over the raw unknowns,
/// which is what the diagnosis of dependent constraints reads.
/// </summary>
public sealed class SystemWriter
{
    private readonly Sketch sketch;
    private readonly Dictionary<string, int> first;
    private readonly bool reducing;
    private readonly List<double> start;
    private readonly List<int> partner;
    private readonly List<double> weights;
    private readonly Dictionary<(string Curve, string Point), CurveForm> forms;
    private readonly Dictionary<Owner, int> own;
    private readonly HashSet<(int, int, int)> axes;
    private readonly Lazy<int[]> placed;
    private readonly Lazy<(int From, int To)[]> lines;
    private readonly SizesWritten? written;
    private SizesWritten.Again? again;
    private double[]? whole;
    private Owner owner;

    /// <param name="sketch">What is written.</param>
    /// <param name="contacts">What its rules say of points and curves.</param>
    /// <param name="reducing">Whether rules that only identify or fix unknowns are taken out of the system.</param>
    /// <param name="repeatable">Whether it is noted what the sizes do, for <see cref="WithSizes"/>.</param>
    internal SystemWriter(Sketch sketch, Contacts contacts, bool reducing, bool repeatable = false)
    {
        this.sketch = sketch;
        this.reducing = reducing;
        (first, start, partner, weights, forms, own, axes, Union, Equations) = (
            new(StringComparer.Ordinal),
            [],
            [],
            [],
            [],
            [],
            [],
            new(),
            []
        );
        foreach (var entity in Sketch.BuiltIns.Concat(sketch.Entities))
        {
            first[entity.Id] = start.Count;
            switch (entity)
            {
                case PointEntity p:
                    var x = start.Count;
                    Unknown(p.At.X, 1, x + 1);
                    Unknown(p.At.Y, 1, x);
                    break;
                case CircleEntity c:
                    Unknown(c.Radius, SoftRules.OfRadius);
                    break;
                case ArcEntity a:
                    Unknown(a.Radius, SoftRules.OfRadius);
                    break;
                case SplineEntity s:
                    // The slopes at its points; linear equations tie them to the points.
                    foreach (var slope in ((SplineCurve)Curves.Of(sketch, s)!).Slopes)
                    {
                        Unknown(slope.X);
                        Unknown(slope.Y);
                    }

                    break;
            }
        }

        foreach (var point in Sketch.BuiltIns.OfType<PointEntity>())
        {
            Union.Fix(first[point.Id], point.At.X);
            Union.Fix(first[point.Id] + 1, point.At.Y);
        }

        Contacts = contacts;
        placed = new(() => [.. sketch.Entities.Select(e => first[e.Id])]);
        lines = new(() => [.. sketch.Entities.OfType<LineEntity>().Select(l => (first[l.From], first[l.To]))]);
        written = repeatable ? new SizesWritten() : null;
    }

    /// <summary>All that another writer has of the same sketch, with equations and reductions up to its sizes. It is not repeated in
    /// turn: its
    /// equations are of other values than those noted.</summary>
    private SystemWriter(SystemWriter other, Sketch sketch, SizesWritten sizes)
    {
        (this.sketch, reducing, Contacts) = (sketch, true, other.Contacts);
        (first, placed, lines, partner, weights, own, axes) = (
            other.first,
            other.placed,
            other.lines,
            other.partner,
            other.weights,
            other.own,
            other.axes
        );
        (start, forms, Union, Equations) = ([.. other.start], new(other.forms), sizes.Ruled!.Copy(other.start.Count), [.. other.Equations]);
        RedundantReductions.AddRange(other.RedundantReductions.Take(sizes.RedundantBefore));
        ClashingReductions.AddRange(other.ClashingReductions.Take(sizes.ClashingBefore));
        Slots = other.Slots;
    }

    /// <summary>Which unknowns and columns the system came to that was made of this; kept for the next with the same structure.</summary>
    internal SystemSlots? Slots { get; set; }

    /// <summary>All rules are written; what follows are sizes, one after the other.</summary>
    internal void BeginSizes() =>
        written?.Begin(Union.Flat(), Equations.Count, start.Count, RedundantReductions.Count, ClashingReductions.Count);

    /// <summary>One size is written.</summary>
    /// <param name="value">Its value; null where none drives it.</param>
    internal void EndSize(double? value) => written?.End(value, Equations.Count, start.Count);

    /// <summary>Everything is written.</summary>
    internal void Close() => written?.Close();

    /// <summary>The same sketch with other values of its sizes: only what hangs on a value that is another is written again. Null where
    /// the values change more than numbers (which unknowns are one, or which equations there are), or nothing was noted for it.</summary>
    /// <param name="sized">The sketch of this writer; only the formulas of its dimensions may be others.</param>
    /// <param name="values">All driving values.</param>
    /// <param name="write">Writes a dimension with its value.</param>
    internal SystemWriter? WithSizes(
        Sketch sized,
        IReadOnlyDictionary<string, double> values,
        Action<SystemWriter, SketchDimension, double> write
    )
    {
        if (written is null)
        {
            return null;
        }

        var other = new SystemWriter(this, sized, written);
        for (var i = 0; i < sized.Dimensions.Length; i++)
        {
            var dimension = sized.Dimensions[i];
            other.From(new Owner(OwnerKind.Dimension, dimension.Id));
            if (!other.Repeat(written, i, dimension.ValueIn(values), number => write(other, dimension, number)))
            {
                return null;
            }
        }

        return other;
    }

    private bool Repeat(SizesWritten sizes, int size, double? value, Action<double> write)
    {
        var was = sizes[size];
        if (was.Value == value)
        {
            foreach (var deed in sizes.Deeds(size))
            {
                switch (deed.Kind)
                {
                    case DeedKind.Identify:
                        Note(Union.Identify(deed.A, deed.B, deed.Number));
                        break;
                    case DeedKind.Fix:
                        Note(Union.Fix(deed.A, deed.Number));
                        break;
                    case DeedKind.Same when Same(deed.A, deed.B) != deed.Answer:
                    case DeedKind.Tied when Tied(deed.A, deed.B) != deed.Answer:
                        return false;
                }
            }

            return true;
        }

        if (was.Value is null || value is not { } number)
        {
            return false;
        }

        again = new SizesWritten.Again(sizes, size);
        write(number);
        var alike = again.Alike;
        again = null;
        return alike;
    }

    /// <summary>Which points are one, and which lie on which curves, by the sketch's constraints.</summary>
    internal Contacts Contacts { get; }

    /// <summary>Start values of the raw unknowns.</summary>
    internal double[] Start => whole is { } w && w.Length == start.Count ? w : whole = [.. start];

    /// <summary>How many unknowns a rule brought along for itself, such as where on a curve it holds.</summary>
    internal int OwnUnknowns(Owner of) => own.GetValueOrDefault(of);

    /// <summary>Adds a raw unknown.</summary>
    /// <param name="value">Where it starts.</param>
    /// <param name="weight">How much it resists moving, beside a coordinate's 1; what follows from coordinates hardly does.</param>
    /// <param name="other">Of a coordinate: the raw unknown that is the point's other one.</param>
    internal int Unknown(double value, double weight = SoftRules.OfFollowers, int other = -1)
    {
        if (again is not null)
        {
            // Of a size that is written again the unknown is there already.
            if (again.Unknown() is not { } known)
            {
                return start.Count - 1;
            }

            (start[known], whole) = (value, null);
            return known;
        }

        own[owner] = own.GetValueOrDefault(owner) + 1;
        start.Add(value);
        weights.Add(weight);
        partner.Add(other);
        return Union.Add();
    }

    /// <summary>How much each raw unknown resists moving.</summary>
    internal IReadOnlyList<double> Weights => weights;

    /// <summary>Of a coordinate, the point's other one; -1 for all else.</summary>
    internal IReadOnlyList<int> Partner => partner;

    internal AffineUnion Union { get; }

    internal List<Equation> Equations { get; }

    /// <summary>Rules that the union-find found to say what is said already.</summary>
    internal List<Owner> RedundantReductions { get; } = [];

    /// <summary>Rules that the union-find found to contradict another.</summary>
    internal List<Owner> ClashingReductions { get; } = [];

    internal Sketch Sketch => sketch;

    /// <summary>Whether no other ellipse has said yet that these semi-axes are square to each other.</summary>
    internal bool FirstOnAxes(int centre, int first, int second) => axes.Add((centre, first, second));

    internal void From(Owner next) => owner = next;

    /// <summary>For each entity of the sketch, in its order, the first unknown that is its own.</summary>
    internal int[] Placed => placed.Value;

    /// <summary>The x of both ends of each line, in the order of the sketch.</summary>
    internal (int From, int To)[] Lines => lines.Value;

    /// <summary>The index of a point's x; its y follows.</summary>
    internal int PointIndex(string point) => first[point];

    /// <summary>The index of the x of a spline's slope at one of its points; its y follows.</summary>
    internal int SlopeIndex(SplineEntity spline, int point) => first[spline.Id] + (2 * point);

    /// <summary>Puts a point on a curve that is neither straight nor round, by an unknown parameter of its own.</summary>
    internal CurveForm PutOn(SketchEntity curve, string point)
    {
        var key = (curve.Id, Contacts.Root(point));
        if (!forms.TryGetValue(key, out var form))
        {
            var drawn = Curves.Of(sketch, curve)!;
            var t = drawn.Nearest(sketch.At(point));
            forms[key] = form = Form(curve, drawn, t);
            var at = PointIndex(point);
            var slope = drawn.Slope(t);
            var steep = Math.Abs(slope.Y) > Math.Abs(slope.X) ? 1 : 0;

            // The end of a copy lies on the copy already; one equation is enough to find the parameter.
            foreach (var axis in Contacts.IsPlaced(curve.Id) && curve.Points.Contains(point) ? [steep] : new[] { 0, 1 })
            {
                Add(new PointAtForm(at + axis, form, axis));
            }
        }

        return form;
    }

    /// <summary>The place on a curve where a point that is known to lie on it is.</summary>
    internal CurveForm FormAt(SketchEntity curve, string point) =>
        curve switch
        {
            LineEntity => new LineForm(EndsOf(curve), -1),
            CircleEntity or ArcEntity => new RimForm(PointIndex(point), PointOf(curve).X),
            SplineEntity s when s.Through.ToList().FindIndex(p => Contacts.Root(p) == Contacts.Root(point)) is var i and >= 0 => KnotForm(
                s,
                i
            ),
            _ => PutOn(curve, point),
        };

    /// <summary>A place anywhere on a curve, with an unknown parameter that starts nearest to a point.</summary>
    internal CurveForm FormNear(SketchEntity curve, Vec2 near)
    {
        switch (curve)
        {
            case LineEntity:
                var e = EndsOf(curve);
                var (a, d) = (ValueOf((e[0], e[1])), ValueOf((e[2], e[3])) - ValueOf((e[0], e[1])));
                return new LineForm(e, Unknown((near - a).Dot(d) / Math.Max(d.Dot(d), Tolerances.Vanishing)));
            case CircleEntity or ArcEntity:
                return new CircleForm(PointOf(curve).X, RadiusOf(curve), Unknown((near - ValueOf(PointOf(curve))).Angle));
            default:
                var drawn = Curves.Of(sketch, curve)!;
                return Form(curve, drawn, drawn.Nearest(near));
        }
    }

    private CurveForm Form(SketchEntity curve, PlaneCurve drawn, double t)
    {
        switch (curve)
        {
            case EllipticEntity e:
                var (c, u, v) = (sketch.At(e.Centre), sketch.At(e.First), sketch.At(e.Second));
                var hand = (u - c).Cross(v - c) < 0 ? -1 : 1;
                return new EllipseForm(
                    PointIndex(e.Centre),
                    PointIndex(e.First),
                    PointIndex(e.Second),
                    hand,
                    Unknown(t + ((EllipseCurve)drawn).Start)
                );
            case SplineEntity s:
                var spline = (SplineCurve)drawn;
                var i = spline.SpanOf(t);
                return new SpanForm(
                    PointIndex(s.Through[i]),
                    PointIndex(s.Through[i + 1]),
                    SlopeIndex(s, i),
                    SlopeIndex(s, i + 1),
                    spline.Knots[i],
                    s.Spans[i],
                    Unknown(t)
                );
            default:
                throw new InvalidOperationException($"{curve.Word} has no free form");
        }
    }

    private SpanForm KnotForm(SplineEntity s, int point)
    {
        var i = Math.Min(point, s.Through.Length - 2);
        return new SpanForm(
            PointIndex(s.Through[i]),
            PointIndex(s.Through[i + 1]),
            SlopeIndex(s, i),
            SlopeIndex(s, i + 1),
            0,
            s.Spans[i],
            -1,
            point == i ? 0 : s.Spans[i]
        );
    }

    /// <summary>The unknowns of a point, or of the centre of a circle or arc.</summary>
    internal (int X, int Y) PointOf(SketchEntity entity)
    {
        var id = entity is PointEntity p
            ? p.Id
            : Curves.Centre(entity) ?? throw new InvalidOperationException($"{entity.Word} has no single point");
        return (first[id], first[id] + 1);
    }

    internal int RadiusOf(SketchEntity entity) =>
        entity is CircleEntity or ArcEntity ? first[entity.Id] : throw new InvalidOperationException($"{entity.Word} has no radius");

    /// <summary>The unknowns that are an entity's own: a point's coordinates, a circle's or arc's radius; none of other curves.</summary>
    internal int[] OwnOf(SketchEntity entity) =>
        OwnCount(entity) switch
        {
            0 => [],
            1 => [first[entity.Id]],
            _ => [first[entity.Id], first[entity.Id] + 1],
        };

    /// <summary>How many unknowns are an entity's own.</summary>
    internal static int OwnCount(SketchEntity entity) =>
        entity switch
        {
            PointEntity => 2,
            CircleEntity or ArcEntity => 1,
            _ => 0,
        };

    /// <summary>For each raw unknown the size of what it belongs to, in mm; 1 for what rules brought along.</summary>
    internal double[] Sizes(Scales scales)
    {
        var sizes = new double[Start.Length];
        Array.Fill(sizes, 1);
        foreach (var entity in sketch.Entities)
        {
            foreach (var raw in OwnOf(entity))
            {
                sizes[raw] = scales[entity.Id];
            }
        }

        return sizes;
    }

    /// <summary>The four unknowns of a line's ends: from x, from y, to x, to y.</summary>
    internal int[] EndsOf(SketchEntity entity)
    {
        var line = (LineEntity)entity;
        var (a, b) = (first[line.From], first[line.To]);
        return [a, a + 1, b, b + 1];
    }

    internal Vec2 ValueOf((int X, int Y) point) => new(Start[point.X], Start[point.Y]);

    internal double LengthOf(int[] ends) =>
        Math.Max(Tolerances.SmallestSize, new Vec2(Start[ends[2]] - Start[ends[0]], Start[ends[3]] - Start[ends[1]]).Length);

    /// <summary>Whether two unknowns are known to be one (up to a known offset of zero).</summary>
    internal bool Same(int a, int b)
    {
        if (!reducing)
        {
            return false;
        }

        var (ra, oa) = Union.Find(a);
        var (rb, ob) = Union.Find(b);
        return Told(
            DeedKind.Same,
            a,
            b,
            ra == rb
                ? Math.Abs(oa - ob) < Tolerances.Length
                : Union.FixedValue(ra) is { } va && Union.FixedValue(rb) is { } vb && Math.Abs(va + oa - vb - ob) < Tolerances.Length
        );
    }

    /// <summary>Whether the difference of two unknowns is known.</summary>
    internal bool Tied(int a, int b)
    {
        var (ra, rb) = (Union.Find(a).Root, Union.Find(b).Root);
        return Told(DeedKind.Tied, a, b, ra == rb || (Union.FixedValue(ra) is not null && Union.FixedValue(rb) is not null));
    }

    private bool Told(DeedKind kind, int a, int b, bool answer)
    {
        Did(new Deed(kind, a, b, 0, answer));
        return answer;
    }

    private void Did(in Deed deed)
    {
        if (again is not null)
        {
            again.Do(deed);
        }
        else
        {
            written?.Do(deed);
        }
    }

    /// <summary>Says b = a + distance.</summary>
    internal void Identify(int a, int b, double distance = 0)
    {
        if (reducing)
        {
            Did(new Deed(DeedKind.Identify, a, b, distance, false));
            Note(Union.Identify(a, b, distance));
        }
        else
        {
            Add(new Linear([a, b], [-1, 1], distance));
        }
    }

    /// <summary>Says that an unknown has a value.</summary>
    internal void Fix(int a, double value)
    {
        if (reducing)
        {
            Did(new Deed(DeedKind.Fix, a, -1, value, false));
            Note(Union.Fix(a, value));
        }
        else
        {
            Add(new Linear([a], [1], value));
        }
    }

    internal void Add(Equation equation)
    {
        equation.Owner = owner;
        if (again is null)
        {
            Equations.Add(equation);
        }
        else if (again.Equation(Equations, equation) is { } place)
        {
            Equations[place] = equation;
        }
    }

    private void Note(UnionResult result)
    {
        if (result == UnionResult.Redundant)
        {
            RedundantReductions.Add(owner);
        }
        else if (result == UnionResult.Clash)
        {
            ClashingReductions.Add(owner);
        }
    }
}
