using System.Collections.Immutable;
using System.Xml;
using System.Xml.Linq;
using Ratiogon.Core;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Constraints;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Exchange;

/// <summary>What came of reading a drawing.</summary>
/// <param name="Edit">What it puts into the sketch.</param>
/// <param name="Said">What was left out, and faults, in words.</param>
public sealed record SvgRead(SketchEdit Edit, ImmutableArray<string> Said);

/// <summary>SVG read as sketch geometry: paths and shapes become lines, circles, arcs, ellipses and splines in millimetres, y
/// upwards. Bézier curves that are arcs are recognised; every other is one spline, exactly. Ends in one place become one point.</summary>
public static class SvgSketch
{
    public const int LargestBytes = 16 * 1024 * 1024,
        MostCurves = 8000;
    private const int Deepest = 60;

    /// <summary>Points nearer than this, in millimetres, become one.</summary>
    private const double Same = 1e-5,
        ArcWithin = 1e-4,
        ArcShare = 1e-6;

    /// <summary>Reads a file into an edit of a sketch.</summary>
    public static Outcome<SketchEdit> Read(ReadOnlyMemory<byte> file, Sketch into) => ReadAll(file, into).Map(r => r.Edit);

    /// <summary>The same, with what was left out.</summary>
    public static Outcome<SvgRead> ReadAll(ReadOnlyMemory<byte> file, Sketch into)
    {
        ArgumentNullException.ThrowIfNull(into);
        if (file.Length > LargestBytes)
        {
            return new Refusal("import.too-large", $"An SVG file may have up to {LargestBytes >> 20} MB.");
        }

        try
        {
            if (Unsafe(file) is { } refusal)
            {
                return refusal;
            }

            using var reader = XmlReader.Create(new MemoryStream(file.ToArray()), Settings());
            var root = XDocument.Load(reader, LoadOptions.SetLineInfo).Root;
            if (root?.Name.LocalName != "svg")
            {
                return new Refusal("import.svg", $"This is no SVG file: its outermost element is '{root?.Name.LocalName}'.");
            }

            var drawing = new SvgReader(root);
            drawing.Read();
            var size = Size(drawing.Shapes.SelectMany(s => s.Curves));
            List<SvgCurve> curves = [.. drawing.Shapes.SelectMany(s => SvgRounds.Of(s.Curves, Math.Max(ArcWithin, ArcShare * size)))];
            return curves.Count == 0
                    ? new Refusal(
                        "import.svg",
                        $"The SVG file holds no lines or curves.{(drawing.Said.IsEmpty ? "" : $" {string.Join("; ", drawing.Said)}.")}"
                    )
                : curves.Count > MostCurves
                    ? new Refusal("import.svg", $"The SVG file has {curves.Count} curves; a sketch takes up to {MostCurves} at once.")
                : Placed(curves, into).Map(edit => new SvgRead(edit, drawing.Said));
        }
        catch (XmlException e)
        {
            return new Refusal("import.svg", $"The SVG file is broken at line {e.LineNumber}: {e.Message}");
        }
        catch (Exception e) when (e is FormatException or InvalidDataException)
        {
            return new Refusal("import.svg", $"The SVG file is broken: {e.Message}");
        }
    }

    /// <summary>A document type by itself says nothing that is needed and is passed over; nothing is fetched, and one with
    /// declarations of its own was refused before.</summary>
    private static XmlReaderSettings Settings() =>
        new()
        {
            DtdProcessing = DtdProcessing.Ignore,
            XmlResolver = null,
            MaxCharactersInDocument = LargestBytes,
        };

    private static Refusal? Unsafe(ReadOnlyMemory<byte> file)
    {
        // With no declarations allowed, the reader stops at those; a document type without them is only an error to it.
        var text = new StreamReader(new MemoryStream(file.ToArray()), detectEncodingFromByteOrderMarks: true).ReadToEnd();
        var at = text.IndexOf("<!DOCTYPE", StringComparison.Ordinal);
        if (at >= 0)
        {
            char quote = '\0';
            for (var i = at; i < text.Length && (quote != '\0' || text[i] != '>'); i++)
            {
                quote =
                    quote == '\0' && text[i] is '"' or '\'' && quote == '\0' ? text[i]
                    : text[i] == quote ? '\0'
                    : quote;
                if (quote == '\0' && text[i] == '[')
                {
                    return new Refusal(
                        "import.svg",
                        "The SVG file declares a document type of its own, which is not read: it could expand without end."
                    );
                }
            }
        }

        using var reader = XmlReader.Create(new MemoryStream(file.ToArray()), Settings());
        while (reader.Read())
        {
            if (reader.Depth > Deepest)
            {
                return new Refusal("import.svg", $"The SVG file is nested more than {Deepest} deep.");
            }
        }

        return null;
    }

    private static double Size(IEnumerable<SvgCurve> curves)
    {
        var (low, high) = (new Vec2(double.MaxValue, double.MaxValue), new Vec2(double.MinValue, double.MinValue));
        foreach (var p in curves.SelectMany(c => new[] { c.Start, c.At(0.25), c.At(0.5), c.At(0.75), c.End }))
        {
            (low, high) = (new Vec2(Math.Min(low.X, p.X), Math.Min(low.Y, p.Y)), new Vec2(Math.Max(high.X, p.X), Math.Max(high.Y, p.Y)));
        }

        return low.X > high.X ? 0 : low.DistanceTo(high);
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
                case SvgRound r when Math.Min(r.Rx, r.Ry) > Tolerances.SmallestSize:
                    Round(draft, Point, r);
                    break;
                case SvgRound r when Math.Max(r.Rx, r.Ry) is > Tolerances.SmallestSize and var reach:
                    // Pressed flat it is a line.
                    var along = (r.Rx > r.Ry ? r.FirstAxis : r.SecondAxis).Unit * reach;
                    draft.Add(new LineEntity(draft.NewId("l"), Point(r.Centre - along), Point(r.Centre + along)));
                    break;
                case SvgCubic b when b.Longest > Tolerances.SmallestSize:
                    draft.Add(
                        new SplineEntity(
                            draft.NewId("s"),
                            [Point(b.P0), b.P3.DistanceTo(b.P0) < Same ? draft.NewPoint(b.P3) : Point(b.P3)],
                            [1]
                        )
                        {
                            FromHandle = draft.NewPoint(b.P1, true),
                            ToHandle = draft.NewPoint(b.P2, true),
                        }
                    );
                    break;
            }
        }

        return draft.Edit.Add.IsDefaultOrEmpty ? new Refusal("import.svg", "The SVG file holds nothing larger than a point.") : draft.Edit;
    }

    private static void Round(Draft draft, Func<Vec2, string> point, SvgRound r)
    {
        // An arc whose ends are one place, all but whole, is whole; one that is all but nothing is nothing.
        var whole = r.Full || (r.Start.DistanceTo(r.End) <= Tolerances.SmallestSize && Math.Abs(r.Sweep) > Math.PI);
        if (!whole && r.Start.DistanceTo(r.End) <= Tolerances.SmallestSize)
        {
            return;
        }

        if (whole && r.Circular)
        {
            draft.Add(new CircleEntity(draft.NewId("c"), point(r.Centre), r.Rx));
            return;
        }

        var (from, to) = r.Sweep > 0 ? (r.Start, r.End) : (r.End, r.Start);
        if (r.Circular)
        {
            draft.Add(new ArcEntity(draft.NewId("a"), draft.NewPoint(r.Centre, true), point(from), point(to), r.Rx));
            return;
        }

        var (centre, first, second) = (
            draft.NewPoint(r.Centre, true),
            draft.NewPoint(r.Centre + r.FirstAxis, true),
            draft.NewPoint(r.Centre + r.SecondAxis, true)
        );
        draft.Add(
            whole
                ? new EllipseEntity(draft.NewId("e"), centre, first, second)
                : new EllipticArcEntity(draft.NewId("e"), centre, first, second, point(from), point(to))
        );
    }
}
