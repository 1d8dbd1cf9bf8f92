using System.Collections.Immutable;
using System.Xml;
using System.Xml.Linq;
using Ratiogon.Core;

namespace Ratiogon.Exchange;

/// <summary>Walks an SVG document (SVG 1.1, with what CSS says of its properties) and gathers its curves in millimetres, y upwards,
/// shape by shape, and what was left out.</summary>
internal sealed class SvgReader
{
    private const double OfAnInch = 25.4 / 96;
    private const int MostVisited = 200_000,
        DeepestUse = 30;
    private static readonly XName OldLink = XName.Get("href", "http://www.w3.org/1999/xlink");
    private readonly XElement root;
    private readonly SvgStyles styles;
    private readonly Dictionary<string, XElement> named;
    private readonly SortedDictionary<string, int> left = new(StringComparer.Ordinal);
    private readonly List<string> faults = [];
    private readonly int[] visited;

    public SvgReader(XElement root)
    {
        (this.root, styles, named, visited) = (root, new SvgStyles(root), new(StringComparer.Ordinal), new int[1]);
        foreach (var element in root.DescendantsAndSelf())
        {
            if (element.Attribute("id")?.Value is { } id)
            {
                named.TryAdd(id, element);
            }
        }
    }

    private SvgReader(SvgReader of, XElement root) => (this.root, styles, named, visited) = (root, of.styles, of.named, of.visited);

    /// <summary>The shapes, each as its curves in order.</summary>
    public List<(XElement From, IReadOnlyList<SvgCurve> Curves)> Shapes { get; } = [];

    /// <summary>What was left out or could not be read, in words.</summary>
    public ImmutableArray<string> Said =>
        [
            .. left.Select(l => $"{l.Value} {l.Key}{(l.Value == 1 ? "" : "s")} left out"),
            .. faults.Take(6),
            .. faults.Count > 6 ? [$"{faults.Count - 6} more faults"] : Array.Empty<string>(),
        ];

    /// <summary>What may be seen by percentages and font units where an element stands.</summary>
    private sealed record Around(
        SvgMatrix To,
        double Width,
        double Height,
        double Font,
        bool Visible,
        ImmutableArray<SvgClip> Clips,
        int Uses
    );

    public void Leave(string what) => left[what] = left.GetValueOrDefault(what) + 1;

    public void Fault(XElement at, string words) =>
        faults.Add(
            $"{at.Name.LocalName}{(at.Attribute("id")?.Value is { } id ? $" '{Ids.Shorten(id)}'" : "")} in line "
                + $"{((IXmlLineInfo)at).LineNumber}: {words}"
        );

    public void Read()
    {
        var flipped = new SvgMatrix(OfAnInch, 0, 0, -OfAnInch, 0, 0);
        var box = Box(root);
        var page = new Around(flipped, box?[2] ?? 300, box?[3] ?? 150, 16, true, [], 0);
        var (w, h) = (
            Length(root.Attribute("width")?.Value, page, null, page.Width),
            Length(root.Attribute("height")?.Value, page, null, page.Height)
        );

        // A share of a page that nobody knows is no size; one size alone follows the shape of the viewBox.
        (w, h) = (Share(root, "width") ? null : w, Share(root, "height") ? null : h);
        (w, h) = (
            w ?? (box is not null && h is { } only ? only * box[2] / box[3] : null),
            h ?? (box is not null && w is { } alone ? alone * box[3] / box[2] : null)
        );
        var seen = Viewed(root, page with { Width = w ?? page.Width, Height = h ?? page.Height }, box, w ?? box?[2], h ?? box?[3]);

        // A sketch has an origin, not a page: the drawing keeps its own.
        Children(root, seen with { To = seen.To with { E = 0, F = 0 } });
    }

    private static bool Share(XElement element, string name) =>
        element.Attribute(name)?.Value.Trim() is { } text && (text.EndsWith('%') || text == "auto");

    /// <summary>Inside an element that opens a view: its viewBox fitted into its size.</summary>
    private static Around Viewed(XElement element, Around outside, double[]? box, double? width, double? height)
    {
        if (box is null || width is not > 0 || height is not > 0)
        {
            return outside with { Width = width ?? outside.Width, Height = height ?? outside.Height };
        }

        var how = (element.Attribute("preserveAspectRatio")?.Value ?? "xMidYMid meet")
            .Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries)
            .Where(p => p != "defer")
            .ToArray();
        var (sx, sy) = (width.Value / box[2], height.Value / box[3]);
        var align = how.Length > 0 ? how[0] : "xMidYMid";
        if (align != "none")
        {
            sx = sy = how.Contains("slice") ? Math.Max(sx, sy) : Math.Min(sx, sy);
        }

        double Part(string min, string mid) =>
            align == "none" || align.Contains(min, StringComparison.Ordinal) ? 0
            : align.Contains(mid, StringComparison.Ordinal) ? 0.5
            : 1;
        var (x, y) = ((width.Value - (sx * box[2])) * Part("xMin", "xMid"), (height.Value - (sy * box[3])) * Part("YMin", "YMid"));
        return outside with
        {
            To = outside.To.Times(new SvgMatrix(sx, 0, 0, sy, x - (sx * box[0]), y - (sy * box[1]))),
            Width = box[2],
            Height = box[3],
        };
    }

    private double[]? Box(XElement element)
    {
        try
        {
            return SvgNumbers.All(element.Attribute("viewBox")?.Value) is { Count: 4 } n && n[2] > 0 && n[3] > 0 ? [.. n] : null;
        }
        catch (FormatException e)
        {
            Fault(element, $"its viewBox is passed over: {e.Message}");
            return null;
        }
    }

    private void Children(XElement element, Around here)
    {
        foreach (var child in element.Elements())
        {
            One(child, here);
        }
    }

    private void One(XElement element, Around outside)
    {
        if (++visited[0] > MostVisited)
        {
            throw new InvalidDataException("it shows more than 200 000 elements, with all that it uses again.");
        }

        if (element.Name.NamespaceName is not ("" or "http://www.w3.org/2000/svg"))
        {
            return;
        }

        if (styles.Of(element, "display") == "none")
        {
            Leave("hidden part");
            return;
        }

        try
        {
            var font = Length(styles.Of(element, "font-size"), outside, null, outside.Font) ?? outside.Font;
            var visible = styles.Of(element, "visibility") switch
            {
                "hidden" or "collapse" => false,
                "visible" => true,
                _ => outside.Visible,
            };
            var here = outside with
            {
                To = outside.To.Times(SvgMatrix.Of(styles.Of(element, "transform"))),
                Font = font > 0 ? font : outside.Font,
                Visible = visible,
            };
            here = Clipped(element, here);
            Shown(element, here);
        }
        catch (FormatException e)
        {
            Fault(element, e.Message);
        }
    }

    private void Shown(XElement element, Around here)
    {
        double A(string name, char of) => Length(styles.Of(element, name), here, of, 0) ?? 0;
        switch (element.Name.LocalName)
        {
            case "g" or "a":
                Children(element, here);
                break;
            case "svg":
                Nested(
                    element,
                    here,
                    A("x", 'x'),
                    A("y", 'y'),
                    element.Attribute("width") is null ? here.Width : A("width", 'x'),
                    element.Attribute("height") is null ? here.Height : A("height", 'y')
                );
                break;
            case "switch":
                if (element.Elements().FirstOrDefault(Spoken) is { } first)
                {
                    One(first, here);
                }

                break;
            case "use":
                Used(element, here, A);
                break;
            case "path":
                var (curves, fault) = SvgPath.Read(
                    styles.Of(element, "d") is { } d
                        ? d.StartsWith("path(", StringComparison.Ordinal)
                            ? d[5..].Trim('(', ')', '"', '\'')
                            : d
                        : ""
                );
                if (fault is not null)
                {
                    Fault(element, $"{fault}; it was read up to there");
                }

                Add(element, here, curves);
                break;
            case "line":
                Add(element, here, [new SvgLine(new Vec2(A("x1", 'x'), A("y1", 'y')), new Vec2(A("x2", 'x'), A("y2", 'y')))]);
                break;
            case "polyline" or "polygon":
                Add(element, here, Many(element));
                break;
            case "rect":
                var (rx, ry) = (Radius(element, "rx", here, 'x'), Radius(element, "ry", here, 'y'));
                Add(
                    element,
                    here,
                    [.. SvgPath.Rectangle(A("x", 'x'), A("y", 'y'), A("width", 'x'), A("height", 'y'), rx ?? ry ?? 0, ry ?? rx ?? 0)]
                );
                break;
            case "circle":
                Add(
                    element,
                    here,
                    A("r", 'r') is > 0 and var r ? [new SvgRound(new Vec2(A("cx", 'x'), A("cy", 'y')), r, r, 0, 0, 2 * Math.PI)] : []
                );
                break;
            case "ellipse":
                var (ex, ey) = (Radius(element, "rx", here, 'x'), Radius(element, "ry", here, 'y'));
                Add(
                    element,
                    here,
                    (ex ?? ey) is > 0 and var p && (ey ?? ex) is > 0 and var q
                        ? [new SvgRound(new Vec2(A("cx", 'x'), A("cy", 'y')), p, q, 0, 0, 2 * Math.PI)]
                        : []
                );
                break;
            case "text" or "image" or "foreignObject":
                Leave(element.Name.LocalName == "foreignObject" ? "foreign object" : element.Name.LocalName);
                break;
        }
    }

    private double? Radius(XElement element, string name, Around here, char of) =>
        styles.Of(element, name) is { } text && text.Trim() != "auto" ? Length(text, here, of, 0) : null;

    private List<SvgCurve> Many(XElement element)
    {
        var (numbers, n) = (new SvgNumbers(element.Attribute("points")?.Value ?? ""), new List<double>());
        try
        {
            while (numbers.More)
            {
                n.Add(numbers.Number());
            }
        }
        catch (FormatException e)
        {
            Fault(element, $"{e.Message.TrimEnd('.')}; it was read up to there");
        }

        var points = Enumerable.Range(0, n.Count / 2).Select(i => new Vec2(n[2 * i], n[(2 * i) + 1])).ToList();
        if (element.Name.LocalName == "polygon" && points.Count > 2)
        {
            points.Add(points[0]);
        }

        return [.. points.Zip(points.Skip(1)).Select(s => new SvgLine(s.First, s.Second))];
    }

    /// <summary>Whether a reader of English may see it, and no extension is asked for.</summary>
    private static bool Spoken(XElement element) =>
        element.Attribute("requiredExtensions") is null
        && (
            element.Attribute("systemLanguage")?.Value is not { } languages
            || languages.Split(',').Any(l => l.Trim().StartsWith("en", StringComparison.OrdinalIgnoreCase))
        );

    private void Nested(XElement element, Around here, double x, double y, double width, double height)
    {
        if (width > 0 && height > 0)
        {
            Children(
                element,
                Viewed(
                    element,
                    here with
                    {
                        To = here.To.Times(SvgMatrix.None with { E = x, F = y }),
                        Width = width,
                        Height = height,
                    },
                    Box(element),
                    width,
                    height
                )
            );
        }
    }

    private void Used(XElement element, Around here, Func<string, char, double> at)
    {
        var link = (element.Attribute("href") ?? element.Attribute(OldLink))?.Value.Trim() ?? "";
        if (!link.StartsWith('#') || !named.TryGetValue(link[1..], out var what))
        {
            Fault(element, $"'{Ids.Shorten(link)}' is not in the file");
            return;
        }

        if (here.Uses >= DeepestUse || element.AncestorsAndSelf().Contains(what))
        {
            Fault(element, $"'{Ids.Shorten(link)}' uses itself");
            return;
        }

        var moved = here with { To = here.To.Times(SvgMatrix.None with { E = at("x", 'x'), F = at("y", 'y') }), Uses = here.Uses + 1 };
        if (what.Name.LocalName is not ("symbol" or "svg"))
        {
            One(what, moved);
            return;
        }

        double Size(string name, char of, double otherwise) =>
            element.Attribute(name) is not null ? at(name, of)
            : what.Name.LocalName == "svg" && what.Attribute(name) is { } own ? Length(own.Value, moved, of, otherwise) ?? otherwise
            : otherwise;
        if (styles.Of(what, "display") != "none")
        {
            Nested(what, moved, 0, 0, Size("width", 'x', moved.Width), Size("height", 'y', moved.Height));
        }
    }

    private Around Clipped(XElement element, Around here)
    {
        var link = styles.Of(element, "clip-path");
        if (
            string.IsNullOrWhiteSpace(link)
            || link == "none"
            || link.IndexOf('#', StringComparison.Ordinal) is not (>= 0 and var hash)
            || !named.TryGetValue(link[(hash + 1)..].TrimEnd(')', '"', '\'', ' '), out var clip)
        )
        {
            return here;
        }

        if (clip.Attribute("clipPathUnits")?.Value == "objectBoundingBox")
        {
            Fault(element, "its clip path is given in shares of the shape, which is not read: the shape is read whole");
            return here;
        }

        if (here.Uses >= DeepestUse)
        {
            Fault(element, "its clip path is clipped by itself");
            return here;
        }

        var apart = new SvgReader(this, clip);
        var inside = here with
        {
            To = here.To.Times(SvgMatrix.Of(styles.Of(clip, "transform"))),
            Visible = true,
            Clips = [],
            Uses = here.Uses + 1,
        };
        apart.Children(clip, inside);
        return here with { Clips = here.Clips.Add(new SvgClip(apart.Shapes.SelectMany(s => s.Curves))) };
    }

    private void Add(XElement from, Around here, IReadOnlyList<SvgCurve> curves)
    {
        if (!here.Visible)
        {
            Leave("hidden part");
            return;
        }

        IEnumerable<SvgCurve> moved = curves.Select(c => c.Moved(here.To));
        foreach (var clip in here.Clips)
        {
            moved = moved.SelectMany(clip.Of);
        }

        List<SvgCurve> all = [.. moved];
        if (all.Exists(c => Beyond(c.Start) || Beyond(c.At(0.5)) || Beyond(c.End)))
        {
            Fault(from, $"it reaches beyond {Tolerances.LargestSize / 1000:0} m, more than a sketch holds; it was left out");
            return;
        }

        Shapes.Add((from, all));
    }

    private static bool Beyond(Vec2 p) => !(Math.Abs(p.X) <= Tolerances.LargestSize && Math.Abs(p.Y) <= Tolerances.LargestSize);

    /// <summary>A length in user units; null for none.</summary>
    /// <param name="text">As it is written.</param>
    /// <param name="here">What shares are of.</param>
    /// <param name="of">x, y, or any other for the diagonal.</param>
    /// <param name="whole">What a share is of where <paramref name="of"/> is null.</param>
    private static double? Length(string? text, Around here, char? of, double whole)
    {
        if (string.IsNullOrWhiteSpace(text) || text.Trim() is "auto" or "inherit" or "initial")
        {
            return null;
        }

        var trimmed = text.Trim();
        var digits = trimmed.Length;
        while (digits > 0 && (char.IsAsciiLetter(trimmed[digits - 1]) || trimmed[digits - 1] == '%'))
        {
            digits--;
        }

        var unit = trimmed[digits..].ToLowerInvariant();
        if (digits == 0)
        {
            // Words for font sizes.
            return unit switch
            {
                "small" or "smaller" => 13,
                "large" or "larger" => 18,
                _ => 16,
            };
        }

        var share = of switch
        {
            null => whole,
            'x' => here.Width,
            'y' => here.Height,
            _ => Math.Sqrt(((here.Width * here.Width) + (here.Height * here.Height)) / 2),
        };
        return SvgNumbers.One(trimmed[..digits].Trim())
            * unit switch
            {
                "" or "px" => 1,
                "mm" => 96 / 25.4,
                "cm" => 960 / 25.4,
                "in" => 96,
                "pt" => 96.0 / 72,
                "pc" => 16,
                "q" => 24 / 25.4,
                "em" or "rem" => here.Font,
                "ex" or "ch" => here.Font / 2,
                "%" => share / 100,
                "vw" => here.Width / 100,
                "vh" => here.Height / 100,
                "vmin" => Math.Min(here.Width, here.Height) / 100,
                "vmax" => Math.Max(here.Width, here.Height) / 100,
                _ => throw new FormatException($"'{Ids.Shorten(unit)}' is no unit of SVG."),
            };
    }
}
