using Ratiogon.Core;

namespace Ratiogon.Exchange;

/// <summary>The path data of SVG 1.1, section 8.3, as curves in the file's own units.</summary>
internal static class SvgPath
{
    private const int MostPieces = 200_000;

    /// <summary>Up to its first fault, as the standard says (SVG 1.1, appendix F.2), with what that is.</summary>
    public static (IReadOnlyList<SvgCurve> Curves, string? Fault) Read(string text)
    {
        var reader = new SvgNumbers(text);
        var curves = new List<SvgCurve>();
        try
        {
            Read(reader, curves);
            return (curves, null);
        }
        catch (FormatException fault)
        {
            return (curves, $"at place {reader.Place + 1} of its data {fault.Message.TrimEnd('.')}");
        }
    }

    private static void Read(SvgNumbers reader, List<SvgCurve> curves)
    {
        Vec2 at = Vec2.Zero,
            begun = Vec2.Zero;
        Vec2? handle = null;
        var (command, last) = ('\0', '\0');
        while (reader.More)
        {
            command = reader.Command()
                ?? (
                    command is 'M' ? 'L'
                    : command is 'm' ? 'l'
                    : command != '\0' && char.ToUpperInvariant(command) != 'Z' ? command
                    : throw new FormatException("a path begins without a command.")
                );
            if (last == '\0' && command is not ('M' or 'm'))
            {
                throw new FormatException("a path begins with a move.");
            }

            var relative = char.IsLower(command);
            Vec2 Next() => new Vec2(reader.Number(), reader.Number()) + (relative ? at : Vec2.Zero);
            var before = at;
            switch (char.ToUpperInvariant(command))
            {
                case 'M':
                    at = begun = Next();
                    break;
                case 'L':
                    curves.Add(new SvgLine(before, at = Next()));
                    break;
                case 'H':
                    at = new Vec2(reader.Number() + (relative ? at.X : 0), at.Y);
                    curves.Add(new SvgLine(before, at));
                    break;
                case 'V':
                    at = new Vec2(at.X, reader.Number() + (relative ? at.Y : 0));
                    curves.Add(new SvgLine(before, at));
                    break;
                case 'C':
                    var (c1, c2) = (Next(), Next());
                    curves.Add(new SvgCubic(before, c1, c2, at = Next()));
                    handle = c2;
                    break;
                case 'S':
                    var first = char.ToUpperInvariant(last) is 'C' or 'S' ? (before * 2) - handle!.Value : before;
                    var second = Next();
                    curves.Add(new SvgCubic(before, first, second, at = Next()));
                    handle = second;
                    break;
                case 'Q':
                    var q = Next();
                    at = Next();
                    curves.Add(Raised(before, q, at));
                    handle = q;
                    break;
                case 'T':
                    var mirrored = char.ToUpperInvariant(last) is 'Q' or 'T' ? (before * 2) - handle!.Value : before;
                    at = Next();
                    curves.Add(Raised(before, mirrored, at));
                    handle = mirrored;
                    break;
                case 'A':
                    var (rx, ry, tilt) = (Math.Abs(reader.Number()), Math.Abs(reader.Number()), reader.Number() * Math.PI / 180);
                    var (large, sweep) = (reader.Flag(), reader.Flag());
                    at = Next();
                    curves.Add(Arc(before, at, rx, ry, tilt, large, sweep));
                    break;
                case 'Z':
                    if (at.DistanceTo(begun) > 0)
                    {
                        curves.Add(new SvgLine(at, begun));
                    }

                    at = begun;
                    break;
                default:
                    throw new FormatException($"'{command}' is no command of a path.");
            }

            last = command;
            if (curves.Count > MostPieces)
            {
                throw new FormatException($"a path has more than {MostPieces} pieces.");
            }
        }
    }

    /// <summary>A rectangle with corners that may be round.</summary>
    public static IEnumerable<SvgCurve> Rectangle(double x, double y, double w, double h, double rx, double ry)
    {
        if (w <= 0 || h <= 0)
        {
            yield break;
        }

        (rx, ry) = (Math.Min(rx, w / 2), Math.Min(ry, h / 2));
        Vec2[] corners = [new(x + w, y), new(x + w, y + h), new(x, y + h), new(x, y)];
        Vec2[] inward = [new(-rx, ry), new(-rx, -ry), new(rx, -ry), new(rx, ry)];
        for (var i = 0; i < 4; i++)
        {
            var (from, to) = (corners[(i + 3) % 4], corners[i]);
            var flat = i % 2 == 0;
            var (off, back) = (
                flat ? new Vec2(inward[(i + 3) % 4].X, 0) : new Vec2(0, inward[(i + 3) % 4].Y),
                flat ? new Vec2(inward[i].X, 0) : new Vec2(0, inward[i].Y)
            );
            yield return new SvgLine(from + off, to + back);
            if (rx > 0 && ry > 0)
            {
                yield return new SvgRound(corners[i] + inward[i], rx, ry, 0, (-Math.PI / 2) + (i * Math.PI / 2), Math.PI / 2);
            }
        }
    }

    private static SvgCubic Raised(Vec2 a, Vec2 q, Vec2 b) => new(a, a + ((q - a) * (2.0 / 3)), b + ((q - b) * (2.0 / 3)), b);

    /// <summary>From end points to centre (SVG 1.1, appendix F.6).</summary>
    private static SvgCurve Arc(Vec2 from, Vec2 to, double rx, double ry, double tilt, bool large, bool sweep)
    {
        if (rx == 0 || ry == 0 || from == to)
        {
            return new SvgLine(from, to);
        }

        var (cos, sin) = (Math.Cos(tilt), Math.Sin(tilt));
        var d = (from - to) / 2;
        var p = new Vec2((cos * d.X) + (sin * d.Y), (-sin * d.X) + (cos * d.Y));
        var grow = ((p.X * p.X) / (rx * rx)) + ((p.Y * p.Y) / (ry * ry));
        if (grow > 1)
        {
            (rx, ry) = (rx * Math.Sqrt(grow), ry * Math.Sqrt(grow));
        }

        var (x2, y2) = (rx * rx * p.Y * p.Y, ry * ry * p.X * p.X);
        var k = Math.Sqrt(Math.Max(0, ((rx * rx * ry * ry) - x2 - y2) / (x2 + y2))) * (large == sweep ? -1 : 1);
        var c = new Vec2(k * rx * p.Y / ry, -k * ry * p.X / rx);
        var centre = new Vec2((cos * c.X) - (sin * c.Y), (sin * c.X) + (cos * c.Y)) + ((from + to) / 2);
        double Angle(Vec2 v) => Math.Atan2(v.Y / ry, v.X / rx);
        var start = Angle(p - c);
        var turn = Angle(-p - c) - start;
        turn +=
            sweep && turn < 0 ? 2 * Math.PI
            : !sweep && turn > 0 ? -2 * Math.PI
            : 0;
        return new SvgRound(centre, rx, ry, tilt, start, turn);
    }
}
