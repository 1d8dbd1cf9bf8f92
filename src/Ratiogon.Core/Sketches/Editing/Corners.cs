using Ratiogon.Core.Geometry;

namespace Ratiogon.Core.Sketches.Editing;

/// <summary>Fillets and chamfers of corners. The corner stays as a construction point where both curves would meet, so that
/// what was measured from it still is.</summary>
public static class Corners
{
    /// <summary>How near to an end of a curve, as a share of it, is the end.</summary>
    private const double Ends = 1e-6;

    /// <summary>The two curves that end at a point.</summary>
    public static Outcome<EntityPair> At(Sketch sketch, string point)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        var curves = sketch
            .Entities.Where(e => !e.Construction && Curves.Ends(e) is var (from, to) && (from == point || to == point))
            .ToList();
        return curves is [var a, var b] && a is LineEntity or ArcEntity && b is LineEntity or ArcEntity
            ? new EntityPair(a, b)
            : new Refusal(
                "corner.none",
                curves.Count == 2
                    ? $"At {point} {curves[0].AWord} meets {curves[1].AWord}; corners of lines and arcs can be rounded."
                    : $"{Ids.Shorten(point)} is no corner: {curves.Count} curves end there, not 2.",
                point
            );
    }

    /// <summary>An arc of a radius, tangent to both curves.</summary>
    /// <param name="sketch">Where.</param>
    /// <param name="corner">The point.</param>
    /// <param name="radius">In millimetres.</param>
    /// <param name="text">The formula of a driving radius; null leaves it free.</param>
    /// <param name="equalTo">A fillet that this one is to equal, instead of a size of its own.</param>
    public static Outcome<SketchEdit> Fillet(Sketch sketch, string corner, double radius, string? text, string? equalTo = null) =>
        At(sketch, corner)
            .Then<SketchEdit>(pair =>
            {
                var (a, b) = (Ray.Of(sketch, pair.A, corner), Ray.Of(sketch, pair.B, corner));
                if (Math.Abs(a.Direction.Cross(b.Direction)) < Tolerances.DrawnAngle && pair.A is LineEntity && pair.B is LineEntity)
                {
                    return new Refusal(
                        "corner.straight",
                        $"{pair.A.Id} and {pair.B.Id} go straight on into each other: there is no corner to round.",
                        corner
                    );
                }

                var at = sketch.At(corner);
                Vec2? best = null;
                foreach (var centre in Touching.Two(a.Touched, b.Touched, radius))
                {
                    var (p, q) = (a.Touched.At(centre, radius), b.Touched.At(centre, radius));
                    if (a.Holds(p) && b.Holds(q) && (best is null || centre.DistanceTo(at) < best.Value.DistanceTo(at)))
                    {
                        best = centre;
                    }
                }

                if (best is not { } c)
                {
                    return new Refusal(
                        "corner.too-large",
                        $"A radius of {radius:0.###} mm does not fit at {corner}: the largest here is about {Largest(a, b, at):0.##} mm.",
                        "radius"
                    );
                }

                var draft = new Draft(sketch);
                var (first, second) = (draft.NewPoint(a.Touched.At(c, radius)), draft.NewPoint(b.Touched.At(c, radius)));
                var middle = draft.NewPoint(c);
                var arc = draft.NewId("a");
                var left = (draft.At(first) - c).Cross(draft.At(second) - c) > 0;
                draft.Add(new ArcEntity(arc, middle, left ? first : second, left ? second : first, radius));
                Shorten(draft, pair.A, corner, first);
                Shorten(draft, pair.B, corner, second);
                Keep(draft, corner, pair.A, pair.B);
                OffsetPairs.FollowCorner(draft, corner, pair.A, pair.B, draft.Edit.Add.First(e => e.Id == arc));
                draft.Tie("tangent", arc, pair.A.Id);
                draft.Tie("tangent", arc, pair.B.Id);
                if (equalTo is not null)
                {
                    draft.Tie("equal", equalTo, arc);
                }
                else if (text is not null)
                {
                    draft.Size("radius", text, arc);
                }

                return draft.Edit;
            });

    /// <summary>A line across a corner of two lines, as far from it along the one as along the other where only one size is
    /// given.</summary>
    public static Outcome<SketchEdit> Chamfer(Sketch sketch, string corner, double along, double other, string? text, string? otherText) =>
        At(sketch, corner)
            .Then<SketchEdit>(pair =>
            {
                if (pair.A is not LineEntity || pair.B is not LineEntity)
                {
                    return new Refusal(
                        "corner.chamfer",
                        $"A chamfer lies between two lines; at {corner} {pair.A.AWord} meets {pair.B.AWord}.",
                        corner
                    );
                }

                var (a, b) = (Ray.Of(sketch, pair.A, corner), Ray.Of(sketch, pair.B, corner));
                var at = sketch.At(corner);
                foreach (var (ray, size) in new[] { (a, along), (b, other) })
                {
                    if (size >= ray.Length - Tolerances.SmallestSize)
                    {
                        return new Refusal(
                            "corner.too-large",
                            $"{ray.Id} is {ray.Length:0.###} mm long: {size:0.###} mm of it cannot be taken.",
                            "size"
                        );
                    }
                }

                var draft = new Draft(sketch);
                var (first, second) = (draft.NewPoint(at + (a.Direction * along)), draft.NewPoint(at + (b.Direction * other)));
                var across = new LineEntity(draft.NewId("l"), first, second);
                draft.Add(across);
                Shorten(draft, pair.A, corner, first);
                Shorten(draft, pair.B, corner, second);
                Keep(draft, corner, pair.A, pair.B);
                OffsetPairs.FollowCorner(draft, corner, pair.A, pair.B, across);
                if (text is not null)
                {
                    draft.Size("distance", text, corner, first);
                    draft.Size("distance", otherText ?? text, corner, second);
                }

                return draft.Edit;
            });

    private static double Largest(Ray a, Ray b, Vec2 corner)
    {
        var (low, high) = (0.0, Math.Min(a.Length, b.Length) * 4);
        for (var i = 0; i < 40; i++)
        {
            var r = (low + high) / 2;
            var fits = Touching
                .Two(a.Touched, b.Touched, r)
                .Any(c => a.Holds(a.Touched.At(c, r)) && b.Holds(b.Touched.At(c, r)) && c.DistanceTo(corner) < 10 * high);
            (low, high) = fits ? (r, high) : (low, r);
        }

        return low;
    }

    private static void Shorten(Draft draft, SketchEntity curve, string corner, string end)
    {
        Reshaping.Whole(draft, curve);
        draft.Redraw(Renaming.WithPoints(curve, p => p == corner ? end : p));

        // A size of the whole line is one between its old ends.
        if (curve is LineEntity line)
        {
            var other = line.From == corner ? line.To : line.From;
            draft
                .Sketch.Dimensions.Where(d => d.Of.Length == 1 && d.Of[0] == curve.Id)
                .ToList()
                .ForEach(d => draft.Resize(d with { Of = [other, corner] }));
        }
    }

    private static void Keep(Draft draft, string corner, SketchEntity a, SketchEntity b)
    {
        if (draft.Sketch.Find(corner) is PointEntity point && !Sketch.IsBuiltIn(corner))
        {
            draft.Redraw(point with { Construction = true });
        }

        draft.Tie("on-curve", corner, a.Id);
        draft.Tie("on-curve", corner, b.Id);
    }

    /// <summary>A curve as seen from a corner it ends at.</summary>
    private readonly record struct Ray(string Id, SketchCurve Curve, bool AtStart, Vec2 Direction, Touched Touched)
    {
        public double Length => Curve.Round ? Curve.Radius * Curve.Sweep : Curve.From.DistanceTo(Curve.To);

        public static Ray Of(Sketch sketch, SketchEntity entity, string corner)
        {
            var curve = SketchCurve.Of(sketch, entity)!.Value;
            var start = Curves.Ends(entity)!.Value.From == corner;
            return new Ray(
                entity.Id,
                curve,
                start,
                start ? curve.Slope(0).Unit : -curve.Slope(curve.End).Unit,
                curve.Round ? Touched.Circle(curve.Centre, curve.Radius) : Touched.Line(curve.From, curve.To)
            );
        }

        /// <summary>Whether a place lies on the curve, off its ends.</summary>
        public bool Holds(Vec2 p) => Curve.ParameterOf(p) is { } t && t > Ends * Curve.End && t < Curve.End * (1 - Ends);
    }
}

/// <summary>Two curves that meet.</summary>
/// <param name="A">One of them.</param>
/// <param name="B">The other.</param>
public readonly record struct EntityPair(SketchEntity A, SketchEntity B);
