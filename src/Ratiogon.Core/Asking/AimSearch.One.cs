using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Asking;

/// <summary>The search by one parameter: bracketed, then by Brent's methods.</summary>
internal sealed partial class AimSearch
{
    /// <summary>Looks outwards for a change of side, then closes in on it.</summary>
    private void Bracket(double goal, double was)
    {
        var (least, most) = knobs[0].Span;
        (double X, double Y) start = (from[0], was - goal);
        var found = new List<((double X, double Y) A, (double X, double Y) B)>();
        foreach (var end in new[] { most, least })
        {
            var (last, share) = (start, 0.02);
            var good = true;
            while (good && !Over && last.X != end)
            {
                var x = share >= 1 ? end : start.X + (share * (end - start.X));
                if (At([x]) is { } r)
                {
                    if (Math.Sign(r - goal) != Math.Sign(start.Y))
                    {
                        found.Add((last, (x, r - goal)));
                        break;
                    }

                    (last, share) = ((x, r - goal), share * 2);
                }
                else
                {
                    // It cannot be built there: how far it can, and whether the goal lies before that.
                    var (built, broken) = (last, x);
                    for (var n = 0; n < 12 && !Over; n++)
                    {
                        var middle = (built.X + broken) / 2;
                        if (At([middle]) is not { } y)
                        {
                            broken = middle;
                        }
                        else if (Math.Sign(y - goal) != Math.Sign(start.Y))
                        {
                            found.Add((built, (middle, y - goal)));
                            break;
                        }
                        else
                        {
                            built = (middle, y - goal);
                        }
                    }

                    good = false;
                }
            }
        }

        // The nearer of two.
        if (found.OrderBy(f => Math.Min(Math.Abs(f.A.X - from[0]), Math.Abs(f.B.X - from[0]))).FirstOrDefault() is var (a, b) && a != b)
        {
            Brent(goal, a, b);
        }
    }

    /// <summary>Brent's root search between two places of different sign.</summary>
    private void Brent(double goal, (double X, double Y) a, (double X, double Y) b)
    {
        var c = a;
        var (d, e) = (b.X - a.X, b.X - a.X);
        while (!Over)
        {
            if (Math.Abs(c.Y) < Math.Abs(b.Y))
            {
                (a, b, c) = (b, c, b);
            }

            var (tolerance, middle) = (4 * double.Epsilon + (Grain * Math.Abs(b.X)), (c.X - b.X) / 2);
            if (Math.Abs(middle) <= tolerance || IsMet(b.Y + goal, goal))
            {
                return;
            }

            if (Math.Abs(e) >= tolerance && Math.Abs(a.Y) > Math.Abs(b.Y))
            {
                // By the secant, or through three places.
                var s = b.Y / a.Y;
                double p,
                    q;
                if (a.X == c.X)
                {
                    (p, q) = (2 * middle * s, 1 - s);
                }
                else
                {
                    var (t, r) = (a.Y / c.Y, b.Y / c.Y);
                    p = s * ((2 * middle * t * (t - r)) - ((b.X - a.X) * (r - 1)));
                    q = (t - 1) * (r - 1) * (s - 1);
                }

                q = p > 0 ? -q : q;
                p = Math.Abs(p);
                (e, d) = 2 * p < Math.Min((3 * middle * q) - Math.Abs(tolerance * q), Math.Abs(e * q)) ? (d, p / q) : (middle, middle);
            }
            else
            {
                (d, e) = (middle, middle);
            }

            a = b;
            var x = b.X + (Math.Abs(d) > tolerance ? d : Math.CopySign(tolerance, middle));
            if (At([x]) is not { } y)
            {
                return;
            }

            b = (x, y - goal);
            if (Math.Sign(b.Y) == Math.Sign(c.Y))
            {
                (c, d) = (a, b.X - a.X);
                e = d;
            }
        }
    }

    /// <summary>The lowest worth over one range: a look at the whole of it, then golden sections about the best.</summary>
    private void Lowest()
    {
        const int Looks = 12;
        var (least, most) = knobs[0].Span;
        var seen = new List<(double X, double Y)> { (from[0], worth(best!.Value.Reading)) };
        for (var i = 0; i <= Looks && !Over; i++)
        {
            var x = least + ((most - least) * i / Looks);
            seen.Add((x, At([x]) is { } r ? worth(r) : double.PositiveInfinity));
        }

        var sorted = seen.OrderBy(s => s.X).ToList();
        var low = sorted.IndexOf(sorted.MinBy(s => s.Y));
        var (a, b) = (sorted[Math.Max(0, low - 1)].X, sorted[Math.Min(sorted.Count - 1, low + 1)].X);
        var golden = (Math.Sqrt(5) - 1) / 2;
        double Y(double x) => At([x]) is { } r ? worth(r) : double.PositiveInfinity;
        var (c, d) = (b - (golden * (b - a)), a + (golden * (b - a)));
        var (yc, yd) = (Y(c), Y(d));
        while (!Over && b - a > FlatTo * Math.Max(LeastSize, most - least))
        {
            if (yc < yd)
            {
                (b, d, yd) = (d, c, yc);
                c = b - (golden * (b - a));
                yc = Y(c);
            }
            else
            {
                (a, c, yc) = (c, d, yd);
                d = a + (golden * (b - a));
                yd = Y(d);
            }
        }
    }
}
