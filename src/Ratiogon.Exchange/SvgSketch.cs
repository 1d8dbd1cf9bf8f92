using System.Collections.Immutable;
using System.Globalization;
using System.Xml;
using System.Xml.Linq;
using Ratiogon.Core;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Sketching;
using Ratiogon.Core.Sketching.Editing;

namespace Ratiogon.Exchange;

/// <summary>SVG read as sketch geometry: paths and shapes become lines, circles, arcs and splines in millimetres, y upwards.
/// Bézier curves that are arcs are recognised; every other is one spline, exactly. Ends in one place become one point.</summary>
public static class SvgSketch
{
    public const int LargestBytes = 16 * 1024 * 1024, MostCurves = 4000;
    private const int Deepest = 60;
    private const double Same = 1e-5, OfAnInch = 25.4 / 96;

    /// <summary>Reads a file into an edit of a sketch.</summary>
    public static Outcome<SketchEdit> Read(ReadOnlyMemory<byte> file, Sketch into)
    {
        ArgumentNullException.ThrowIfNull(into);
        if (file.Length > LargestBytes)
        {
            return new Refusal("import.too-large", $"An SVG file may have up to {LargestBytes >> 20} MB.");
        }

        try
        {
            using var reader = XmlReader.Create(new MemoryStream(file.ToArray()), new XmlReaderSettings { DtdProcessing = DtdProcessing.Prohibit, XmlResolver = null, MaxCharactersInDocument = LargestBytes });
            if (TooDeep(file))
            {
                return new Refusal("import.svg", $"The SVG file is nested more than {Deepest} deep.");
            }

            var root = XDocument.Load(reader).Root;
            if (root?.Name.LocalName != "svg")
            {
                return new Refusal("import.svg", $"This is no SVG file: its outermost element is '{root?.Name.LocalName}'.");
            }

            var curves = new List<SvgCurve>();
            return Gather(root, Scale(root), curves).Then(_ => curves.Count == 0
                ? new Refusal("import.svg", "The SVG file holds no lines or curves.") : Placed(curves, into));
        }
        catch (XmlException e)
        {
            return new Refusal("import.svg", e.Message.Contains("DTD", StringComparison.Ordinal) ? "The SVG file brings its own document type, which is not read: it could expand without end." : $"The SVG file is broken at line {e.LineNumber}: {e.Message}");
        }
        catch (FormatException e)
        {
            return new Refusal("import.svg", $"The SVG file is broken: {e.Message}");
        }
    }

    private static bool TooDeep(ReadOnlyMemory<byte> file)
    {
        using var reader = XmlReader.Create(new MemoryStream(file.ToArray()), new XmlReaderSettings { DtdProcessing = DtdProcessing.Prohibit, XmlResolver = null });
        while (reader.Read())
        {
            if (reader.Depth > Deepest)
            {
                return true;
            }
        }

        return false;
    }

    /// <summary>From the file's units to millimetres, by its width and its viewBox; without either a unit is a 96th of an inch.</summary>
    private static SvgMatrix Scale(XElement root)
    {
        var box = Numbers(root.Attribute("viewBox")?.Value);
        var width = Length(root.Attribute("width")?.Value);
        var height = Length(root.Attribute("height")?.Value);
        var sx = box.Count == 4 && box[2] > 0 && width is { } w ? w / box[2] : OfAnInch;
        var sy = box.Count == 4 && box[3] > 0 && height is { } h ? h / box[3] : sx;
        return new SvgMatrix(sx, 0, 0, -sy, 0, 0);
    }

    /// <summary>A length with its unit in millimetres; null for none, or a share of the page.</summary>
    private static double? Length(string? text)
    {
        if (string.IsNullOrWhiteSpace(text) || text.EndsWith('%'))
        {
            return null;
        }

        var number = text.TrimEnd().TrimEnd('a', 'b', 'c', 'd', 'f', 'g', 'h', 'i', 'j', 'k', 'l', 'm', 'n', 'o', 'p', 'q', 'r', 's', 't', 'u', 'v', 'w', 'x', 'y', 'z', 'Q');
        var unit = text.TrimEnd()[number.Length..] switch { "mm" => 1, "cm" => 10, "in" => 25.4, "pt" => 25.4 / 72, "pc" => 25.4 / 6, "Q" => 0.25, "" or "px" => OfAnInch, var other => throw new FormatException($"'{Ids.Shorten(other)}' is no unit of SVG.") };
        return Number(number) * unit;
    }

    private static Outcome<bool> Gather(XElement element, SvgMatrix outer, List<SvgCurve> curves)
    {
        var here = outer.Times(SvgMatrix.Of(element.Attribute("transform")?.Value));
        double A(string name) => element.Attribute(name)?.Value is { } text ? Length(text) is { } mm ? mm / OfAnInch : 0 : 0;
        switch (element.Name.LocalName)
        {
            case "defs" or "clipPath" or "mask" or "pattern" or "symbol" or "marker" or "text" or "style" or "script":
                return true;
            case var _ when element.Attribute("display")?.Value == "none" || element.Attribute("visibility")?.Value == "hidden":
                return true;
            case "path":
                curves.AddRange(SvgPath.Read(element.Attribute("d")?.Value ?? "").SelectMany(c => c.Moved(here)));
                break;
            case "line":
                curves.AddRange(new SvgLine(new Vec2(A("x1"), A("y1")), new Vec2(A("x2"), A("y2"))).Moved(here));
                break;
            case "polyline" or "polygon":
                var p = Numbers(element.Attribute("points")?.Value);
                var points = Enumerable.Range(0, p.Count / 2).Select(i => new Vec2(p[2 * i], p[(2 * i) + 1])).ToList();
                var closed = element.Name.LocalName == "polygon" && points.Count > 2 ? points.Append(points[0]) : points;
                curves.AddRange(closed.Zip(closed.Skip(1)).SelectMany(s => new SvgLine(s.First, s.Second).Moved(here)));
                break;
            case "rect":
                curves.AddRange(SvgPath.Rectangle(A("x"), A("y"), A("width"), A("height"), element.Attribute("rx") is null ? A("ry") : A("rx"), element.Attribute("ry") is null ? A("rx") : A("ry")).SelectMany(c => c.Moved(here)));
                break;
            case "circle":
                curves.AddRange(new SvgRound(new Vec2(A("cx"), A("cy")), A("r"), A("r"), 0, 0, 2 * Math.PI).Moved(here));
                break;
            case "ellipse":
                curves.AddRange(new SvgRound(new Vec2(A("cx"), A("cy")), A("rx"), A("ry"), 0, 0, 2 * Math.PI).Moved(here));
                break;
        }

        foreach (var child in element.Elements())
        {
            if (Gather(child, here, curves) is { Done: false } refused)
            {
                return refused;
            }
        }

        return curves.Count > MostCurves ? new Refusal("import.svg", $"The SVG file has more than {MostCurves} curves; a sketch holds no more.") : true;
    }

    private static Outcome<SketchEdit> Placed(List<SvgCurve> curves, Sketch into)
    {
        var draft = new Draft(into);
        var points = new Dictionary<(long, long), string>();
        string Point(Vec2 at)
        {
            var cell = ((long)Math.Round(at.X / Same), (long)Math.Round(at.Y / Same));
            for (var dx = -1; dx <= 1; dx++)
            {
                for (var dy = -1; dy <= 1; dy++)
                {
                    if (points.TryGetValue((cell.Item1 + dx, cell.Item2 + dy), out var known))
                    {
                        return known;
                    }
                }
            }

            return points[cell] = draft.NewPoint(at);
        }

        foreach (var curve in curves)
        {
            switch (curve)
            {
                case SvgLine l when l.From.DistanceTo(l.To) > Tolerances.SmallestSize:
                    draft.Add(new LineEntity(draft.NewId("l"), Point(l.From), Point(l.To)));
                    break;
                case SvgRound { Full: true } c when c.Rx > Tolerances.SmallestSize:
                    draft.Add(new CircleEntity(draft.NewId("c"), Point(c.Centre), c.Rx));
                    break;
                case SvgRound a when a.Rx > Tolerances.SmallestSize && a.At(a.Start).DistanceTo(a.At(a.Start + a.Sweep)) > Tolerances.SmallestSize:
                    var (from, to) = a.Sweep > 0 ? (a.At(a.Start), a.At(a.Start + a.Sweep)) : (a.At(a.Start + a.Sweep), a.At(a.Start));
                    draft.Add(new ArcEntity(draft.NewId("a"), draft.NewPoint(a.Centre, true), Point(from), Point(to), a.Rx));
                    break;
                case SvgCubic b when b.Longest > Tolerances.SmallestSize:
                    draft.Add(new SplineEntity(draft.NewId("s"), [Point(b.P0), b.P3.DistanceTo(b.P0) < Same ? draft.NewPoint(b.P3) : Point(b.P3)], [1]) { FromHandle = draft.NewPoint(b.P1, true), ToHandle = draft.NewPoint(b.P2, true) });
                    break;
            }
        }

        return draft.Edit.Add.IsDefaultOrEmpty ? new Refusal("import.svg", "The SVG file holds nothing larger than a point.") : draft.Edit;
    }

    internal static double Number(string text) => double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out var v) && Math.Abs(v) < 1e9 ? v : throw new FormatException($"'{Ids.Shorten(text)}' is no number.");

    internal static List<double> Numbers(string? text) => [.. (text ?? "").Split([' ', ',', '\t', '\n', '\r'], StringSplitOptions.RemoveEmptyEntries).Select(Number)];
}
