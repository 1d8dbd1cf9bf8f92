using System.Collections.Immutable;

namespace Ratiogon.Core.Geometry;

/// <summary>A rational B-spline surface; faces that are nothing simpler come as one.</summary>
/// <param name="DegreeU">Degree along u.</param>
/// <param name="DegreeV">Degree along v.</param>
/// <param name="KnotsU">Flat, with repetitions.</param>
/// <param name="KnotsV">Flat, with repetitions.</param>
/// <param name="Poles">Row by row: all v for the first u, and so on.</param>
/// <param name="Weights">One for each pole; none for a surface that is not rational.</param>
public sealed record SplineSurface(
    int DegreeU,
    int DegreeV,
    ImmutableArray<double> KnotsU,
    ImmutableArray<double> KnotsV,
    ImmutableArray<Vec3> Poles,
    ImmutableArray<double> Weights
) : Surface
{
    /// <summary>A step smaller than this share of the range changes nothing.</summary>
    private const double Grain = 1e-14;

    /// <summary>How far beyond its poles, in millimetres, a line is looked for on the surface.</summary>
    private const double Margin = 1e-3;

    /// <summary>How near to it, as a share of its size, is on it.</summary>
    private const double OnIt = 1e-10;

    private const int Starts = 12;
    private const int MostSteps = 50;

    public override string Word => "free-form face";

    public Interval RangeU => new Interval(KnotsU[DegreeU], KnotsU[^(DegreeU + 1)]);

    public Interval RangeV => new Interval(KnotsV[DegreeV], KnotsV[^(DegreeV + 1)]);

    private int CountV => KnotsV.Length - DegreeV - 1;

    /// <summary>The place at parameters, with its derivatives along u and v.</summary>
    public SurfacePlace At(double u, double v)
    {
        u = Math.Clamp(u, RangeU.From, RangeU.To);
        v = Math.Clamp(v, RangeV.From, RangeV.To);
        var ku = KnotsU.AsSpan();
        var kv = KnotsV.AsSpan();
        var (i, j) = (BSplineBasis.Span(ku, DegreeU, u), BSplineBasis.Span(kv, DegreeV, v));
        Span<double> bu = stackalloc double[2 * (DegreeU + 1)];
        Span<double> bv = stackalloc double[2 * (DegreeV + 1)];
        BSplineBasis.Derivatives(ku, DegreeU, i, u, 1, bu);
        BSplineBasis.Derivatives(kv, DegreeV, j, v, 1, bv);
        Vec3 a = default,
            au = default,
            av = default;
        var (w, wu, wv) = (0.0, 0.0, 0.0);
        for (var k = 0; k <= DegreeU; k++)
        {
            for (var l = 0; l <= DegreeV; l++)
            {
                var at = ((i - DegreeU + k) * CountV) + j - DegreeV + l;
                var weight = Weights.IsDefaultOrEmpty ? 1 : Weights[at];
                var (f, fu, fv) = (bu[k] * bv[l] * weight, bu[DegreeU + 1 + k] * bv[l] * weight, bu[k] * bv[DegreeV + 1 + l] * weight);
                (a, au, av) = (a + (Poles[at] * f), au + (Poles[at] * fu), av + (Poles[at] * fv));
                (w, wu, wv) = (w + f, wu + fu, wv + fv);
            }
        }

        var p = a / w;
        return new SurfacePlace(p, (au - (p * wu)) / w, (av - (p * wv)) / w);
    }

    /// <summary>The parameters of the place nearest to a point: Gauss-Newton from the nearest of a grid.</summary>
    public SurfaceParameters Nearest(Vec3 p)
    {
        var (bu, bv, best) = (0.0, 0.0, double.PositiveInfinity);
        for (var i = 0; i <= Starts; i++)
        {
            for (var j = 0; j <= Starts; j++)
            {
                var (u, v) = (
                    RangeU.From + ((RangeU.To - RangeU.From) * i / Starts),
                    RangeV.From + ((RangeV.To - RangeV.From) * j / Starts)
                );
                if (At(u, v).P.DistanceTo(p) is var d && d < best)
                {
                    (bu, bv, best) = (u, v, d);
                }
            }
        }

        for (var step = 0; step < MostSteps; step++)
        {
            var (at, du, dv) = At(bu, bv);
            var gap = p - at;
            var (a, b, c) = (du.Dot(du), du.Dot(dv), dv.Dot(dv));
            var det = (a * c) - (b * b);
            if (det <= Tolerances.Vanishing)
            {
                break;
            }

            var (x, y) = (gap.Dot(du), gap.Dot(dv));
            var (nu, nv) = (
                Math.Clamp(bu + (((c * x) - (b * y)) / det), RangeU.From, RangeU.To),
                Math.Clamp(bv + (((a * y) - (b * x)) / det), RangeV.From, RangeV.To)
            );
            var still = Math.Abs(nu - bu) + Math.Abs(nv - bv) < Grain * (RangeU.To - RangeU.From + RangeV.To - RangeV.From);
            (bu, bv) = (nu, nv);
            if (still)
            {
                break;
            }
        }

        return new SurfaceParameters(bu, bv);
    }

    public override double Side(Vec3 p)
    {
        var (u, v) = Nearest(p);
        var (at, du, dv) = At(u, v);
        var gap = p - at;
        return Math.CopySign(gap.Length, gap.Dot(du.Cross(dv)));
    }

    public override Vec3 Normal(Vec3 p)
    {
        var (u, v) = Nearest(p);
        var (_, du, dv) = At(u, v);
        return du.Cross(dv).Unit;
    }

    public override Vec3 Foot(Vec3 p)
    {
        var (u, v) = Nearest(p);
        return At(u, v).P;
    }

    public override IReadOnlyList<double> Meet(Line3 line)
    {
        var along = Poles.Select(line.Along).ToList();
        return Roots.Find(
            t => Side(line.At(t)),
            along.Min() - Margin,
            along.Max() + Margin,
            4 * Starts,
            OnIt * Math.Max(1, along.Max() - along.Min())
        );
    }
}

/// <summary>A place on a surface with its slopes.</summary>
/// <param name="P">The place.</param>
/// <param name="U">How it moves with the first parameter.</param>
/// <param name="V">With the second.</param>
public readonly record struct SurfacePlace(Vec3 P, Vec3 U, Vec3 V);

/// <summary>The parameters of a place on a surface.</summary>
/// <param name="U">The first.</param>
/// <param name="V">The second.</param>
public readonly record struct SurfaceParameters(double U, double V);
