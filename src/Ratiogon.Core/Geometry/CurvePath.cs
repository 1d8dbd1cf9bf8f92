using System.Collections.Immutable;

namespace Ratiogon.Core.Geometry;

/// <summary>Curves that follow each other, run through by length.</summary>
public sealed class CurvePath
{
    /// <summary>How near a length along the path is found, as a share of all of it.</summary>
    private const double Found = 1e-9;

    private readonly double[] ends;

    private CurvePath(ImmutableArray<SpaceCurve> curves)
    {
        Curves = curves;
        ends = new double[curves.Length];
        for (var i = 0; i < curves.Length; i++)
        {
            ends[i] = curves[i].Length + (i > 0 ? ends[i - 1] : 0);
        }
    }

    public ImmutableArray<SpaceCurve> Curves { get; }

    /// <summary>In millimetres.</summary>
    public double Length => ends[^1];

    /// <summary>Whether it ends where it begins.</summary>
    public bool Closed => Start.DistanceTo(End) < Tolerances.Length * 10;

    public Vec3 Start => Curves[0].At(Curves[0].From);

    public Vec3 End => Curves[^1].At(Curves[^1].To);

    /// <summary>Joins curves at their ends, whichever way round each runs; the first keeps its way where it can. Refuses with
    /// the gap where one does not follow.</summary>
    public static Outcome<CurvePath> Of(params IEnumerable<SpaceCurve> curves)
    {
        var left = curves.ToList();
        if (left.Count == 0)
        {
            return new Refusal("path.empty", "A path needs a curve.");
        }

        var chain = new List<SpaceCurve> { left[0] };
        left.RemoveAt(0);
        while (left.Count > 0)
        {
            var (from, to) = (chain[0].At(chain[0].From), chain[^1].At(chain[^1].To));
            var best = left.Select(c => (Curve: c, A: c.At(c.From), B: c.At(c.To)))
                .Select(c =>
                    new (double Gap, Action Add)[]
                    {
                        (c.A.DistanceTo(to), () => chain.Add(c.Curve)),
                        (c.B.DistanceTo(to), () => chain.Add(c.Curve.Reversed())),
                        (c.B.DistanceTo(from), () => chain.Insert(0, c.Curve)),
                        (c.A.DistanceTo(from), () => chain.Insert(0, c.Curve.Reversed())),
                    }.MinBy(o => o.Gap)
                        is var o
                        ? (c.Curve, o.Gap, o.Add)
                        : default
                )
                .MinBy(o => o.Gap);
            if (best.Gap > Tolerances.Length * 100)
            {
                return new Refusal("path.gap", $"The curves do not follow each other: the next end is {best.Gap:0.###} mm away.");
            }

            best.Add();
            left.Remove(best.Curve);
        }

        return new CurvePath([.. chain]);
    }

    /// <summary>The place at a length from the start, with the unit tangent. Round a closed path lengths go on; otherwise
    /// they stop at the ends.</summary>
    public PathPlace AtLength(double length)
    {
        var along = Closed ? length - (Math.Floor(length / Length) * Length) : Math.Clamp(length, 0, Length);
        var i = Math.Min(Array.FindIndex(ends, e => along <= e) is var found && found >= 0 ? found : ends.Length - 1, ends.Length - 1);
        var curve = Curves[i];
        var t = curve.AtLength(along - (i > 0 ? ends[i - 1] : 0));
        return new PathPlace(curve.At(t), curve.Tangent(t));
    }

    /// <summary>The same path the other way.</summary>
    public CurvePath Reversed() => new([.. Curves.Reverse().Select(c => c.Reversed())]);

    /// <summary>The curvature vector at a length from the start: towards the centre of the bend, as long as one over its
    /// radius (in 1/mm).</summary>
    public Vec3 BendAt(double length)
    {
        var along = Math.Clamp(length, 0, Length);
        var i = Math.Max(0, Array.FindIndex(ends, e => along <= e));
        var curve = Curves[i];
        var t = curve.AtLength(along - (i > 0 ? ends[i - 1] : 0));
        var (slope, bend) = (curve.Slope(t), curve.Bend(t));
        var across = bend - (slope * (bend.Dot(slope) / slope.Dot(slope)));
        return across / slope.Dot(slope);
    }

    /// <summary>The length from the start to the place nearest to a point.</summary>
    public double Nearest(Vec3 p)
    {
        var (best, gap) = (0.0, double.PositiveInfinity);
        for (var i = 0; i < Curves.Length; i++)
        {
            var t = Curves[i].Nearest(p);
            if (Curves[i].At(t).DistanceTo(p) is var d && d < gap)
            {
                (best, gap) = ((i > 0 ? ends[i - 1] : 0) + Curves[i].LengthTo(t), d);
            }
        }

        return best;
    }

    /// <summary>The length from the start to the place nearest to a line: by samples, then by golden section about the best.</summary>
    public double NearestTo(Line3 line)
    {
        const int Samples = 96;
        const double Golden = 0.6180339887498949;
        double Gap(double s) => line.DistanceTo(AtLength(s).At);
        var best = Enumerable.Range(0, Samples + 1).Select(i => Length * i / Samples).MinBy(Gap);
        var (low, high) = (Math.Max(0, best - (Length / Samples)), Math.Min(Length, best + (Length / Samples)));
        while (high - low > Found * Length)
        {
            var (a, b) = (high - (Golden * (high - low)), low + (Golden * (high - low)));
            (low, high) = Gap(a) < Gap(b) ? (low, b) : (a, high);
        }

        return (low + high) / 2;
    }
}

/// <summary>A place on a path.</summary>
/// <param name="At">Where it is.</param>
/// <param name="Tangent">The unit direction of the path there.</param>
public readonly record struct PathPlace(Vec3 At, Vec3 Tangent);
