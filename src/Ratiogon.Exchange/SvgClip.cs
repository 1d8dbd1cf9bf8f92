using Ratiogon.Core;

namespace Ratiogon.Exchange;

/// <summary>What a clip path leaves of curves: its outlines as polygons, by even-odd.</summary>
internal sealed class SvgClip
{
    /// <summary>How far within the ends of a curve, as a share of it, it is looked whether it is seen.</summary>
    private const double Aside = 1e-6;

    private const int Chords = 48,
        Samples = 48,
        Halvings = 50;
    private readonly List<(Vec2 A, Vec2 B)> sides = [];

    /// <param name="outlines">Curves of the clip path, where they lie.</param>
    public SvgClip(IEnumerable<SvgCurve> outlines)
    {
        foreach (var curve in outlines)
        {
            var count = curve is SvgLine ? 1 : Chords;
            for (var i = 0; i < count; i++)
            {
                sides.Add((curve.At(i / (double)count), curve.At((i + 1) / (double)count)));
            }
        }
    }

    public IEnumerable<SvgCurve> Of(SvgCurve curve)
    {
        var (began, inside) = (0.0, Holds(curve.At(Aside)));
        for (var i = 1; i <= Samples; i++)
        {
            var (low, high) = (Math.Max(Aside, (i - 1.0) / Samples), Math.Min(1 - Aside, i / (double)Samples));
            if (Holds(curve.At(high)) == inside)
            {
                continue;
            }

            for (var k = 0; k < Halvings; k++)
            {
                var middle = (low + high) / 2;
                (low, high) = Holds(curve.At(middle)) == inside ? (middle, high) : (low, middle);
            }

            if (inside)
            {
                yield return curve.Between(began, low);
            }

            (began, inside) = (high, !inside);
        }

        if (inside)
        {
            yield return began == 0 ? curve : curve.Between(began, 1);
        }
    }

    private bool Holds(Vec2 p)
    {
        var odd = false;
        foreach (var (a, b) in sides)
        {
            if (a.Y > p.Y != b.Y > p.Y && p.X < a.X + ((b.X - a.X) * (p.Y - a.Y) / (b.Y - a.Y)))
            {
                odd = !odd;
            }
        }

        return odd;
    }
}
