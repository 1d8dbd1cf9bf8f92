using System.Globalization;
using System.Text;
using System.Xml;
using Ratiogon.Core;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Drawing;

namespace Ratiogon.Exchange;

/// <summary>A sketch or a planar face as SVG at true scale: one unit is a millimetre, in layers for profile, construction and
/// dimensions. Circles and arcs stay what they are; splines are written as the Bézier curves that they are made of.</summary>
public static class SvgDrawing
{
    private const string Svg = "http://www.w3.org/2000/svg";
    private const double Margin = 5;

    public static FileFormat Format { get; } =
        new(
            ["svg"],
            "image/svg+xml",
            "SVG",
            "a sketch or a planar face at true scale",
            "a sketch or a planar face at true scale, for cutting",
            (site, options) => Write(site, options.Of)
        )
        {
            Choices = FormatChoices.Of,
        };

    public static Outcome<byte[]> Write(GaugeSite site, string? of)
    {
        ArgumentNullException.ThrowIfNull(site);
        if (string.IsNullOrWhiteSpace(of))
        {
            return site.Part.Steps.OfType<SketchStep>().LastOrDefault(s => site.Model.SketchOf(s.Id) is not null) is { } last
                ? Write(site, last.Id)
                : new Refusal("export.no-drawing", "Pick a sketch or a planar face to draw: the part has no sketch.", "of");
        }

        if (site.Model.SketchOf(of) is { } sketch)
        {
            return Drawn(OfSketch(site.Part, sketch.Sketch), $"{site.Part.Name}, {sketch.Step.Name}");
        }

        return site
            .Model.Find(of)
            .Then(thing =>
                thing.Plane is { } plane && site.On(thing) is { Part: { Kind: SubShapeKind.Face, Index: var face }, Body: var body }
                    ? Drawn(OfFace(body, face, plane), $"{site.Part.Name}, {of}")
                    : new Refusal(
                        "export.not-flat",
                        $"{thing.Words} is neither a sketch nor a planar face: only those lie flat on paper.",
                        "of"
                    )
            );
    }

    /// <summary>What is drawn: a layer, the shape's attributes, and places that it reaches.</summary>
    private sealed record Stroke(string Layer, string Element, (string Name, string Value)[] Attributes, Vec2[] Reach, string? Text = null);

    private static IEnumerable<Stroke> OfSketch(Part part, Sketch sketch)
    {
        foreach (var entity in sketch.Entities.Where(e => !Sketch.IsBuiltIn(e.Id)))
        {
            if (OfEntity(sketch, entity, entity.Construction ? "construction" : "profile") is { } stroke)
            {
                yield return stroke;
            }
        }

        foreach (var d in SketchView.Of(sketch, part.Units).Dimensions)
        {
            for (var i = 0; i + 3 < d.Drawing.Lines.Length; i += 4)
            {
                yield return Line(
                    "dimensions",
                    new Vec2(d.Drawing.Lines[i], d.Drawing.Lines[i + 1]),
                    new Vec2(d.Drawing.Lines[i + 2], d.Drawing.Lines[i + 3])
                );
            }

            yield return new Stroke(
                "dimensions",
                "text",
                [("x", Number(d.Drawing.TextAt.X)), ("y", Number(-d.Drawing.TextAt.Y))],
                [d.Drawing.TextAt],
                d.Text
            );
        }
    }

    private static Stroke? OfEntity(Sketch sketch, SketchEntity entity, string layer)
    {
        switch (entity)
        {
            case LineEntity l:
                return Line(layer, sketch.At(l.From), sketch.At(l.To));
            case CircleEntity c:
                return Circle(layer, sketch.At(c.Centre), c.Radius);
            case ArcEntity a:
                var (centre, from, to) = (sketch.At(a.Centre), sketch.At(a.From), sketch.At(a.To));
                return Arc(layer, centre, a.Radius, (from - centre).Angle, Arcs.Sweep(sketch, a), from, to);
            case EllipticEntity or SplineEntity when Curves.Of(sketch, entity) is { } curve:
                return Beziers(layer, curve);
            default:
                return null;
        }
    }

    private static IEnumerable<Stroke> OfFace(FormBody body, int face, Frame plane)
    {
        foreach (var edge in body.Topology.Edges.Where(e => e.Faces.Contains(face) && !e.Seam))
        {
            switch (ShapeNumbers.CurveOf(edge)?.Plain())
            {
                case SegmentCurve s:
                    yield return Line("profile", plane.ToPlane(s.A), plane.ToPlane(s.B));
                    break;
                case RoundCurve { Circular: true } r when r.Closed:
                    yield return Circle("profile", plane.ToPlane(r.Centre), r.Radius);
                    break;
                case RoundCurve { Circular: true } r:
                    var centre = plane.ToPlane(r.Centre);
                    var counterclockwise = r.Axis.Direction.Dot(plane.Z) > 0;
                    var (from, to) = (
                        plane.ToPlane(r.At(counterclockwise ? r.From : r.To)),
                        plane.ToPlane(r.At(counterclockwise ? r.To : r.From))
                    );
                    yield return Arc("profile", centre, r.Radius, (from - centre).Angle, r.To - r.From, from, to);
                    break;
                case { } other:
                    yield return Hermite("profile", other, plane);
                    break;
            }
        }
    }

    private static Stroke Line(string layer, Vec2 a, Vec2 b) =>
        new(layer, "line", [("x1", Number(a.X)), ("y1", Number(-a.Y)), ("x2", Number(b.X)), ("y2", Number(-b.Y))], [a, b]);

    private static Stroke Circle(string layer, Vec2 c, double r) =>
        new(layer, "circle", [("cx", Number(c.X)), ("cy", Number(-c.Y)), ("r", Number(r))], [c + new Vec2(r, r), c - new Vec2(r, r)]);

    /// <summary>Counterclockwise in the sketch, which is downwards-y clockwise on paper: sweep flag 0.</summary>
    private static Stroke Arc(string layer, Vec2 centre, double radius, double start, double sweep, Vec2 from, Vec2 to) =>
        new(
            layer,
            "path",
            [("d", $"M {Pair(from)} A {Number(radius)} {Number(radius)} 0 {(sweep > Math.PI ? 1 : 0)} 0 {Pair(to)}")],
            [.. Enumerable.Range(0, 17).Select(i => centre + Vec2.Polar(start + (sweep * i / 16), radius))]
        );

    private static Stroke Beziers(string layer, PlaneCurve curve)
    {
        IReadOnlyList<Vec2> poles = curve is SplineCurve spline
            ? spline.Beziers(0, curve.End)
            : Pieces(curve.At, curve.Slope, 0, curve.End, 16);
        return Path(layer, poles);
    }

    /// <summary>A curve in space, laid on a plane, as cubic pieces with its places and slopes.</summary>
    private static Stroke Hermite(string layer, SpaceCurve curve, Frame plane)
    {
        Vec2 Slope(double t)
        {
            var s = curve.Slope(t);
            return new Vec2(s.Dot(plane.X), s.Dot(plane.Y));
        }

        return Path(layer, Pieces(t => plane.ToPlane(curve.At(t)), Slope, curve.From, curve.To, 48));
    }

    private static List<Vec2> Pieces(Func<double, Vec2> at, Func<double, Vec2> slope, double from, double to, int count)
    {
        var poles = new List<Vec2> { at(from) };
        var step = (to - from) / count;
        for (var i = 0; i < count; i++)
        {
            var (a, b) = (from + (step * i), from + (step * (i + 1)));
            poles.AddRange([at(a) + (slope(a) * (step / 3)), at(b) - (slope(b) * (step / 3)), at(b)]);
        }

        return poles;
    }

    private static Stroke Path(string layer, IReadOnlyList<Vec2> poles)
    {
        var d = new StringBuilder($"M {Pair(poles[0])}");
        for (var i = 1; i + 2 < poles.Count; i += 3)
        {
            d.Append(CultureInfo.InvariantCulture, $" C {Pair(poles[i])} {Pair(poles[i + 1])} {Pair(poles[i + 2])}");
        }

        return new Stroke(layer, "path", [("d", d.ToString())], [.. poles]);
    }

    private static Outcome<byte[]> Drawn(IEnumerable<Stroke> all, string title)
    {
        var strokes = all.ToList();
        if (strokes.Count == 0)
        {
            return new Refusal("export.nothing-drawn", "There is nothing to draw: the sketch is empty.", "of");
        }

        var reach = strokes.SelectMany(s => s.Reach).ToList();
        var (left, right, low, high) = (
            reach.Min(p => p.X) - Margin,
            reach.Max(p => p.X) + Margin,
            reach.Min(p => p.Y) - Margin,
            reach.Max(p => p.Y) + Margin
        );
        using var file = new MemoryStream();
        using (var xml = XmlWriter.Create(file, new XmlWriterSettings { Encoding = new UTF8Encoding(false), Indent = true }))
        {
            xml.WriteStartElement("svg", Svg);
            xml.WriteAttributeString("version", "1.1");
            xml.WriteAttributeString("width", $"{Number(right - left)}mm");
            xml.WriteAttributeString("height", $"{Number(high - low)}mm");
            xml.WriteAttributeString("viewBox", $"{Number(left)} {Number(-high)} {Number(right - left)} {Number(high - low)}");
            xml.WriteElementString("title", Svg, title);
            foreach (
                var (layer, width, dash) in new[]
                {
                    ("profile", "0.35", ""),
                    ("construction", "0.18", "4 1 0.6 1"),
                    ("dimensions", "0.18", ""),
                }
            )
            {
                xml.WriteStartElement("g", Svg);
                xml.WriteAttributeString("id", layer);
                xml.WriteAttributeString("fill", "none");
                xml.WriteAttributeString("stroke", "#000");
                xml.WriteAttributeString("stroke-width", width);
                if (dash.Length == 0)
                {
                    // Lines that meet at a corner fill it.
                    xml.WriteAttributeString("stroke-linecap", "round");
                }
                else
                {
                    xml.WriteAttributeString("stroke-dasharray", dash);
                }

                foreach (var s in strokes.Where(s => s.Layer == layer))
                {
                    Put(xml, s);
                }

                xml.WriteEndElement();
            }

            xml.WriteEndElement();
        }

        return file.ToArray();
    }

    private static void Put(XmlWriter xml, Stroke stroke)
    {
        xml.WriteStartElement(stroke.Element, Svg);
        foreach (var (name, value) in stroke.Attributes)
        {
            xml.WriteAttributeString(name, value);
        }

        if (stroke.Text is { } text)
        {
            xml.WriteAttributeString("font-size", "3.5");
            xml.WriteAttributeString("font-family", "sans-serif");
            xml.WriteAttributeString("text-anchor", "middle");
            xml.WriteAttributeString("fill", "#000");
            xml.WriteAttributeString("stroke", "none");
            xml.WriteString(text);
        }

        xml.WriteEndElement();
    }

    private static string Pair(Vec2 p) => $"{Number(p.X)} {Number(-p.Y)}";

    private static string Number(double v) => (Math.Round(v, 9) + 0.0).ToString("0.#########", CultureInfo.InvariantCulture);
}
