using Ratiogon.Core.Sketches.Constraints;

namespace Ratiogon.Core.Sketches.Regions;

/// <summary>Crossings with curves that are neither straight nor round: found between samples, then refined by Newton
/// to the last digits.</summary>
internal static class FreeCrossings
{
    /// <summary>Curves whose directions cross by less than this run along each other.</summary>
    private const double Along = 1e-12;

    /// <summary>A step smaller than this share of the curve changes nothing.</summary>
    private const double Grain = 1e-14;

    /// <summary>Meeting points within both curves; touching counts, and so does an end of one on the other.</summary>
    public static List<Vec2> Of(SketchCurve a, SketchCurve b)
    {
        var found = new List<Vec2>();
        foreach (var end in Ends(a).Where(p => OnCurve(b, p)).Concat(Ends(b).Where(p => OnCurve(a, p))))
        {
            Keep(found, end);
        }

        var (first, second) = (Chords(a), Chords(b));
        foreach (var (s, p, q) in first)
        {
            foreach (var (t, u, v) in second)
            {
                var reach = p.DistanceTo(q) / 4;
                var other = u.DistanceTo(v) / 4;
                if (
                    Math.Max(Math.Min(p.X, q.X) - reach, Math.Min(u.X, v.X) - other)
                        <= Math.Min(Math.Max(p.X, q.X) + reach, Math.Max(u.X, v.X) + other)
                    && Math.Max(Math.Min(p.Y, q.Y) - reach, Math.Min(u.Y, v.Y) - other)
                        <= Math.Min(Math.Max(p.Y, q.Y) + reach, Math.Max(u.Y, v.Y) + other)
                    && Refined(a, b, s, t) is { } place
                )
                {
                    Keep(found, place);
                }
            }
        }

        return found;
    }

    /// <summary>How often a ray to the right of a point meets an edge.</summary>
    public static int OfRay(ProfileEdge edge, Vec2 p)
    {
        var curve = edge.Free!;
        var (from, to) = edge.Stretch;
        var steps = Math.Max(8, (int)Math.Ceiling(curve.Steps().Count * Math.Abs(to - from) / curve.End));
        var count = 0;
        for (var i = 0; i < steps; i++)
        {
            var (s, t) = (from + ((to - from) * i / steps), from + ((to - from) * (i + 1) / steps));
            var (a, b) = (i == 0 ? edge.From : At(s), i == steps - 1 ? edge.To : At(t));
            if ((a.Y > p.Y) == (b.Y > p.Y))
            {
                continue;
            }

            var up = b.Y > a.Y;
            for (var k = 0; k < 60; k++)
            {
                var middle = (s + t) / 2;
                (s, t) = (At(middle).Y > p.Y) == up ? (s, middle) : (middle, t);
            }

            count += At((s + t) / 2).X > p.X ? 1 : 0;
        }

        return count;

        Vec2 At(double t) => curve.At(curve.Closed ? curve.Wrapped(t) : t);
    }

    private static IEnumerable<Vec2> Ends(SketchCurve c) => c.Full ? [] : [c.At(0), c.At(c.End)];

    private static bool OnCurve(SketchCurve c, Vec2 p) => c.At(c.Nearest(p)).DistanceTo(p) < Tolerances.Length;

    private static void Keep(List<Vec2> found, Vec2 p)
    {
        if (!found.Exists(f => f.DistanceTo(p) < 4 * Tolerances.Length))
        {
            found.Add(p);
        }
    }

    private static List<(double T, Vec2 From, Vec2 To)> Chords(SketchCurve c)
    {
        var n =
            c.Free is { } f ? f.Steps().Count - 1
            : c.Round ? 48
            : 1;
        return [.. Enumerable.Range(0, n).Select(i => (c.End * (i + 0.5) / n, c.At(c.End * i / n), c.At(c.End * (i + 1) / n)))];
    }

    private static Vec2? Refined(SketchCurve a, SketchCurve b, double s, double t)
    {
        for (var i = 0; i < 30; i++)
        {
            var gap = a.At(s) - b.At(t);
            var (d, e) = (a.Slope(s), b.Slope(t));
            var det = d.Cross(e);
            if (Math.Abs(det) < Along * d.Length * e.Length)
            {
                return null;
            }

            var (ds, dt) = (-gap.Cross(e) / det, -gap.Cross(d) / det);
            (s, t) = (Inside(a, s + ds), Inside(b, t + dt));
            if (Math.Abs(ds) < Grain * a.End && Math.Abs(dt) < Grain * b.End)
            {
                break;
            }
        }

        return a.At(s).DistanceTo(b.At(t)) < Tolerances.Length ? a.At(s) : null;
    }

    private static double Inside(SketchCurve c, double t) => c.Full ? t - (Math.Floor(t / c.End) * c.End) : Math.Clamp(t, 0, c.End);
}
