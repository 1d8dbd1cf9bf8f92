namespace Ratiogon.Core.Sketches.Drawing;

/// <summary>Where on a sketch there is room for the text of a dimension: off all curves and off the texts placed before.</summary>
internal sealed class TextRoom
{
    private const double CharacterWidth = 0.018;
    private const double Height = 0.05;
    private const int MostCurves = 1500;
    private readonly List<(Vec2 A, Vec2 B)> segments = [];
    private readonly List<(Vec2 Low, Vec2 High)> taken = [];
    private readonly double size;

    /// <param name="sketch">What must not be covered.</param>
    /// <param name="size">Its size in millimetres; texts are taken to be a share of it.</param>
    public TextRoom(Sketch sketch, double size)
    {
        this.size = size;
        foreach (var curve in sketch.Entities.Take(MostCurves).Select(e => SketchCurve.Of(sketch, e)).OfType<SketchCurve>())
        {
            Vec2? last = null;
            foreach (var p in curve.Drawn(0, curve.End))
            {
                if (last is { } from)
                {
                    segments.Add((from, p));
                }

                last = p;
            }
        }
    }

    /// <summary>The first of several places where the text is clear; the first of all where none is. It is then taken.</summary>
    public Vec2 First(IEnumerable<Vec2> places, string text)
    {
        Vec2? first = null;
        foreach (var place in places)
        {
            first ??= place;
            if (Clear(Box(place, text)))
            {
                Take(place, text);
                return place;
            }
        }

        Take(first!.Value, text);
        return first.Value;
    }

    public void Take(Vec2 place, string text) => taken.Add(Box(place, text));

    /// <summary>Whether a text there covers no curve and no other text.</summary>
    public bool IsClear(Vec2 place, string text) => Clear(Box(place, text));

    private (Vec2 Low, Vec2 High) Box(Vec2 at, string text)
    {
        var half = new Vec2(size * CharacterWidth * (text.Length + 1) / 2, size * Height / 2);
        return (at - half, at + half);
    }

    private bool Clear((Vec2 Low, Vec2 High) box) =>
        !taken.Exists(t => t.Low.X < box.High.X && t.High.X > box.Low.X && t.Low.Y < box.High.Y && t.High.Y > box.Low.Y)
        && !segments.Exists(s => Meets(s.A, s.B, box));

    /// <summary>Whether a segment meets a box (Liang and Barsky, 1984).</summary>
    private static bool Meets(Vec2 a, Vec2 b, (Vec2 Low, Vec2 High) box)
    {
        var d = b - a;
        var (t0, t1) = (0.0, 1.0);
        return Cut(-d.X, a.X - box.Low.X) && Cut(d.X, box.High.X - a.X) && Cut(-d.Y, a.Y - box.Low.Y) && Cut(d.Y, box.High.Y - a.Y);

        bool Cut(double p, double q)
        {
            if (p == 0)
            {
                return q >= 0;
            }

            var t = q / p;
            if (p < 0)
            {
                t0 = Math.Max(t0, t);
            }
            else
            {
                t1 = Math.Min(t1, t);
            }

            return t0 <= t1;
        }
    }
}
