using System.Globalization;
using System.Text;
using System.Xml.Linq;
using Ratiogon.Core;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Exchange.Tests;

/// <summary>Sketches and faces as SVG, and SVG as sketch geometry.</summary>
public class SvgTests
{
    private static readonly XNamespace Svg = "http://www.w3.org/2000/svg";

    private static Sketch Read(string inside, string head = "width=\"100mm\" height=\"100mm\" viewBox=\"0 0 100 100\"")
    {
        var read = SvgSketch.Read(Encoding.UTF8.GetBytes($"<svg xmlns=\"http://www.w3.org/2000/svg\" {head}>{inside}</svg>"), Sketch.Empty);
        read.Refusal?.Message.ShouldBeNull();
        return new Sketch { Entities = read.Value.Add };
    }

    private static string Refused(string file) =>
        SvgSketch.Read(Encoding.UTF8.GetBytes(file), Sketch.Empty).Refusal.ShouldNotBeNull().Message;

    private static List<T> All<T>(Sketch sketch) => [.. sketch.Entities.OfType<T>()];

    private static void Near(Vec2 a, double x, double y) => a.DistanceTo(new Vec2(x, y)).ShouldBeLessThan(1e-6, $"{a} to {x}, {y}");

    [Fact]
    public void Sketches_come_out_at_true_scale_in_layers_and_read_back_as_they_were()
    {
        var written = Exporter.Write(Scene.Site(Scene.Part), "svg", new ExportOptions { Of = "s" }).Value;
        var root = XDocument.Load(new MemoryStream(written)).Root!;
        root.Name.ShouldBe(Svg + "svg");
        root.Elements(Svg + "g").Select(g => g.Attribute("id")!.Value).ShouldBe(["profile", "construction", "dimensions"]);
        double Mm(string name) => double.Parse(root.Attribute(name)!.Value[..^2], CultureInfo.InvariantCulture);
        Mm("width").ShouldBe(double.Parse(root.Attribute("viewBox")!.Value.Split(' ')[2], CultureInfo.InvariantCulture));
        var profile = root.Elements(Svg + "g").First();
        profile.Elements(Svg + "line").Count().ShouldBe(4);
        profile.Elements(Svg + "circle").Single().Attribute("r")!.Value.ShouldBe("5");

        var back = new Sketch { Entities = SvgSketch.Read(written, Sketch.Empty).Value.Add };
        Near(back.At(All<CircleEntity>(back).Single().Centre), 10, 5);
        All<LineEntity>(back)
            .Where(l => new[] { l.From, l.To }.Select(back.At).Any(p => p.DistanceTo(new Vec2(-40, -25)) < 1e-6))
            .Count()
            .ShouldBe(2);

        // Corners that meet are one point.
        All<LineEntity>(back).SelectMany(l => new[] { l.From, l.To }).Distinct().Count().ShouldBeLessThan(8);
    }

    [Fact]
    public void Planar_faces_are_drawn_and_curved_ones_are_not()
    {
        var site = Scene.Site(Scene.Part);
        var drawn = XDocument.Load(new MemoryStream(Exporter.Write(site, "svg", new ExportOptions { Of = "e/end" }).Value)).Root!;
        drawn.Descendants(Svg + "line").Count().ShouldBe(4);
        drawn.Descendants(Svg + "circle").Count().ShouldBe(1);
        Exporter
            .Write(site, "svg", new ExportOptions { Of = "e/side/c" })
            .Refusal!.Message.ShouldContain("neither a sketch nor a planar face");
        Exporter.Write(site, "svg", new ExportOptions { Of = "gone" }).Refusal!.Message.ShouldContain("gone");
    }

    [Fact]
    public void Arcs_ellipses_and_splines_keep_their_shape()
    {
        SketchEdit edit = new()
        {
            Add =
            [
                new PointEntity("m", Vec2.Zero),
                new PointEntity("a", new Vec2(10, 0)),
                new PointEntity("b", new Vec2(-10, 0)),
                new ArcEntity("arc", "m", "a", "b", 10),
                new PointEntity("s1", new Vec2(20, 0)),
                new PointEntity("s2", new Vec2(30, 8)),
                new PointEntity("s3", new Vec2(40, -3)),
                new SplineEntity("spline", ["s1", "s2", "s3"], [1, 1]),
            ],
        };
        var part = Scene.Of(
            new Core.Parts.Commands.AddStep(new Core.Parts.Steps.SketchStep("k", 0, "", Core.Kernel.World.Xy, Sketch.Empty)),
            new Core.Parts.Commands.EditSketch("k", edit)
        );
        var back = new Sketch
        {
            Entities = SvgSketch
                .Read(Exporter.Write(Scene.Site(part), "svg", new ExportOptions { Of = "k" }).Value, Sketch.Empty)
                .Value.Add,
        };
        var arc = All<ArcEntity>(back).Single();
        arc.Radius.ShouldBe(10, 1e-6);
        Near(back.At(arc.From), 10, 0);
        Near(back.At(arc.To), -10, 0);

        // Two spans, each exactly the cubic that it was.
        var spline = (SplineCurve)
            Curves.Of(part.Steps.OfType<Core.Parts.Steps.SketchStep>().Single().Sketch, edit.Add.OfType<SplineEntity>().Single())!;
        var pieces = All<SplineEntity>(back).Select(s => Curves.Of(back, s)!).ToList();
        pieces.Count.ShouldBe(2);
        foreach (var (piece, i) in pieces.Select((p, i) => (p, i)))
        {
            foreach (var t in new[] { 0.2, 0.5, 0.9 })
            {
                piece.At(t * piece.End).DistanceTo(spline.At(i + t)).ShouldBeLessThan(1e-6);
            }
        }
    }

    [Theory]
    [InlineData("width=\"80mm\" viewBox=\"0 0 80 80\"", 10)]
    [InlineData("width=\"4in\" viewBox=\"0 0 96 96\"", 10 * 101.6 / 96)]
    [InlineData("width=\"10cm\" viewBox=\"0 0 50 50\"", 20)]
    [InlineData("", 10 * 25.4 / 96)]
    [InlineData("width=\"72pt\" viewBox=\"0 0 25.4 25.4\"", 10)]
    public void Units_of_the_file_are_respected(string head, double length)
    {
        var sketch = Read("<line x1='0' y1='0' x2='10' y2='0'/>", head);
        var line = All<LineEntity>(sketch).Single();
        sketch.At(line.From).DistanceTo(sketch.At(line.To)).ShouldBe(length, 1e-9);
    }

    [Fact]
    public void Bezier_curves_that_are_arcs_are_recognised()
    {
        // Four cubic pieces, as drawing programs write a circle of 20.
        const double K = 11.045694996615908;
        var circle = Read(
            $"<path d='M 70 50 C 70 {50 + K} {50 + K} 70 50 70 C {50 - K} 70 30 {50 + K} 30 50 C 30 {50 - K} {50 - K} 30 50 "
                + $"30 C {50 + K} 30 70 {50 - K} 70 50 Z'/>"
        );
        All<CircleEntity>(circle).Single().Radius.ShouldBe(20, 1e-9);
        circle.Entities.Length.ShouldBe(2);

        // A quarter of it by itself strays five thousandths of a millimetre from an arc of 20: it is kept as it is.
        All<SplineEntity>(Read($"<path d='M 70 50 C 70 {50 + K} {50 + K} 70 50 70'/>")).Count.ShouldBe(1);

        // A sixteenth keeps to it.
        var (at, handle) = (new Vec2(20 * Math.Cos(Math.PI / 8), 20 * Math.Sin(Math.PI / 8)), 20 * 4.0 / 3 * Math.Tan(Math.PI / 32));
        All<ArcEntity>(
                Read(
                    FormattableString.Invariant(
                        $"<path d='M 20 0 C 20 {handle:R} {at.X + (handle * at.Y / 20):R} {at.Y - (handle * at.X / 20):R} {at.X:R} {at.Y:R}'/>"
                    )
                )
            )
            .Single()
            .Radius.ShouldBe(20, 1e-4);

        // One that is none stays a spline, and a flat one is a line.
        All<SplineEntity>(Read("<path d='M 0 0 C 0 30 40 30 80 0'/>")).Count.ShouldBe(1);
        All<LineEntity>(Read("<path d='M 0 0 C 10 10 20 20 30 30'/>")).Count.ShouldBe(1);
    }

    [Fact]
    public void Path_commands_of_every_kind()
    {
        var sketch = Read("<path d='M10,10 h20 v10 l-5-5 m10 0 q5 5 10 0 t10 0 a8 8 0 0 1 16 0 s5 5 8 0 S90 20 95 10z'/>");
        All<LineEntity>(sketch).Count.ShouldBe(4);
        All<ArcEntity>(sketch).Single().Radius.ShouldBe(8, 1e-9);
        All<SplineEntity>(sketch).Count.ShouldBe(4);
        All<LineEntity>(Read("<rect x='10' y='10' width='30' height='20' rx='4'/>")).Count.ShouldBe(4);
        All<ArcEntity>(Read("<rect x='10' y='10' width='30' height='20' rx='4'/>")).Count.ShouldBe(4);
        All<LineEntity>(Read("<polygon points='0,0 10,0 10,10'/>")).Count.ShouldBe(3);
        All<LineEntity>(Read("<polyline points='0 0 10 0 10 10'/>")).Count.ShouldBe(2);
        var ellipse = Read("<ellipse cx='50' cy='50' rx='20' ry='10'/>");
        Near(ellipse.At(All<EllipseEntity>(ellipse).Single().First), 70, -50);
        All<LineEntity>(Read("<defs><line x1='0' y1='0' x2='9' y2='0'/></defs><line x1='0' y1='0' x2='10' y2='0'/>")).Count.ShouldBe(1);
    }

    [Fact]
    public void Transforms_nest()
    {
        var sketch = Read("<g transform='translate(10 20) rotate(90)'><g transform='scale(2)'><circle cx='5' cy='0' r='3'/></g></g>");
        var circle = All<CircleEntity>(sketch).Single();
        circle.Radius.ShouldBe(6, 1e-9);
        Near(sketch.At(circle.Centre), 10, -30);
        var stretched = Read("<circle cx='5' cy='0' r='3' transform='scale(2 1)'/>");
        stretched
            .At(All<EllipseEntity>(stretched).Single().Centre)
            .DistanceTo(stretched.At(All<EllipseEntity>(stretched).Single().First))
            .ShouldBe(6, 1e-9);
        var skewed = Read("<line x1='0' y1='0' x2='0' y2='10' transform='skewX(45)'/>");
        Near(skewed.At(All<LineEntity>(skewed).Single().To), 10, -10);
    }

    [Fact]
    public void Broken_empty_and_hostile_files_are_refused()
    {
        Refused("<svg xmlns='http://www.w3.org/2000/svg'><line").ShouldContain("broken at line 1");
        Refused("<html/>").ShouldContain("no SVG file");
        Refused("<svg xmlns='http://www.w3.org/2000/svg'/>").ShouldContain("holds no lines");
        Refused("not xml").ShouldContain("broken");
        Refused("<!DOCTYPE svg [<!ENTITY a 'ha'><!ENTITY b '&a;&a;&a;&a;'>]><svg xmlns='http://www.w3.org/2000/svg'><text>&b;</text></svg>")
            .ShouldContain("document type");
        Refused("<svg xmlns='http://www.w3.org/2000/svg'><path d='M 0 0 L 1e400 0'/></svg>").ShouldContain("is no number");
        Refused("<svg xmlns='http://www.w3.org/2000/svg'><path d='M 0 0 X 4 4'/></svg>").ShouldContain("is no command");
        Refused("<svg xmlns='http://www.w3.org/2000/svg' width='4 furlong'><line x1='0' x2='1' y1='0' y2='0'/></svg>")
            .ShouldContain("no unit");
        Refused(
                $"<svg xmlns='http://www.w3.org/2000/svg'>{string.Concat(Enumerable.Repeat("<g>", 80))}<line/>{string.Concat(Enumerable.Repeat("</g>", 80))}</svg>"
            )
            .ShouldContain("nested more than 60 deep");
        Refused($"<svg xmlns='http://www.w3.org/2000/svg'>{string.Concat(Enumerable.Repeat("<line x2='9'/>", 8100))}</svg>")
            .ShouldContain("up to 8000 at once");
        SvgSketch.Read(new byte[SvgSketch.LargestBytes + 1], Sketch.Empty).Refusal!.Message.ShouldContain("up to 16 MB");
    }
}
