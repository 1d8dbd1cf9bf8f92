using System.Collections.Immutable;
using Ratiogon.Core.Geometry;

namespace Ratiogon.Core.Sketches;

/// <summary>The free-form curves of a sketch as they are drawn.</summary>
public static class Curves
{
    /// <summary>Knots of a spline lie no nearer than this share of the mean.</summary>
    private const double LeastWeight = 1e-3;

    /// <summary>The curve of an ellipse, elliptic arc or spline; null for anything else.</summary>
    public static PlaneCurve? Of(Sketch sketch, SketchEntity entity)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        switch (entity)
        {
            case EllipticEntity e:
                var centre = sketch.At(e.Centre);
                var (u, v) = Axes(sketch, e);
                if (e is not EllipticArcEntity arc)
                {
                    return new EllipseCurve(centre, u, v, 0, 2 * Math.PI);
                }

                var start = EllipseCurve.InnerAngle(centre, u, v, sketch.At(arc.From));
                var sweep = EllipseCurve.InnerAngle(centre, u, v, sketch.At(arc.To)) - start;
                return new EllipseCurve(centre, u, v, start, sweep <= Tolerances.WholeTurn ? sweep + (2 * Math.PI) : sweep);
            case SplineEntity s:
                return new SplineCurve(
                    [.. s.Through.Select(sketch.At)],
                    s.Spans,
                    s.FromHandle is { } f ? sketch.At(f) : null,
                    s.ToHandle is { } t ? sketch.At(t) : null
                );
            default:
                return null;
        }
    }

    /// <summary>The semi-axes of an ellipse, the second to the left of the first.</summary>
    public static SemiAxes Axes(Sketch sketch, EllipticEntity ellipse)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        ArgumentNullException.ThrowIfNull(ellipse);
        var centre = sketch.At(ellipse.Centre);
        var (u, v) = (sketch.At(ellipse.First) - centre, sketch.At(ellipse.Second) - centre);
        return u.Cross(v) < 0 ? new SemiAxes(u, -v) : new SemiAxes(u, v);
    }

    /// <summary>The spans of a spline as it is drawn now: shares of the square root of the chord lengths (Lee, "Choosing
    /// nodes in parametric curve interpolation", 1989), 1 on average.</summary>
    public static ImmutableArray<double> SpansOf(IReadOnlyList<Vec2> points)
    {
        ArgumentNullException.ThrowIfNull(points);
        var roots = Enumerable
            .Range(0, points.Count - 1)
            .Select(i => Math.Sqrt(Math.Max(points[i].DistanceTo(points[i + 1]), Tolerances.SmallestSize)))
            .ToList();
        var mean = roots.Average();
        return [.. roots.Select(r => Math.Round(r / mean, 6) is var s && s > LeastWeight ? s : LeastWeight)];
    }

    /// <summary>The two ends of a curve that has ends.</summary>
    public static EndPoints? Ends(SketchEntity entity) =>
        entity switch
        {
            LineEntity l => new EndPoints(l.From, l.To),
            ArcEntity a => new EndPoints(a.From, a.To),
            EllipticArcEntity a => new EndPoints(a.From, a.To),
            SplineEntity s => new EndPoints(s.Through[0], s.Through[^1]),
            _ => null,
        };

    /// <summary>The centre of anything that has one.</summary>
    public static string? Centre(SketchEntity entity) =>
        entity switch
        {
            CircleEntity c => c.Centre,
            ArcEntity a => a.Centre,
            EllipticEntity e => e.Centre,
            _ => null,
        };
}

/// <summary>The semi-axes of an ellipse.</summary>
/// <param name="U">To the end of the first.</param>
/// <param name="V">To the end of the second.</param>
public readonly record struct SemiAxes(Vec2 U, Vec2 V);

/// <summary>The points where a curve begins and ends.</summary>
/// <param name="From">The id of the first.</param>
/// <param name="To">Of the last.</param>
public readonly record struct EndPoints(string From, string To);
