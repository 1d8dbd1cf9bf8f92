using System.Globalization;
using System.Text;
using Ratiogon.Core;
using Ratiogon.Core.Sketches;

namespace Ratiogon.Exchange.Tests;

/// <summary>Drawings that others write, read as the standard says.</summary>
public class SvgStandardTests
{
    private const string Head = "width=\"100mm\" height=\"100mm\" viewBox=\"0 0 100 100\"";

    private static SvgRead Read(string inside, string head = Head, string before = "")
    {
        var read = SvgSketch.ReadAll(
            Encoding.UTF8.GetBytes(
                $"{before}<svg xmlns=\"http://www.w3.org/2000/svg\" xmlns:xlink=\"http://www.w3.org/1999/xlink\" {head}>{inside}</svg>"
            ),
            Sketch.Empty
        );
        read.Refusal?.Message.ShouldBeNull();
        return read.Value;
    }

    private static List<(Vec2 From, Vec2 To)> Lines(SvgRead read)
    {
        var sketch = new Sketch { Entities = read.Edit.Add };
        return [.. sketch.Entities.OfType<LineEntity>().Select(l => (sketch.At(l.From), sketch.At(l.To)))];
    }

    private static void Line(SvgRead read, double x1, double y1, double x2, double y2)
    {
        var (from, to) = Lines(read).Single();
        from.DistanceTo(new Vec2(x1, -y1)).ShouldBeLessThan(1e-6, $"{from}");
        to.DistanceTo(new Vec2(x2, -y2)).ShouldBeLessThan(1e-6, $"{to}");
    }

    [Fact]
    public void A_document_type_alone_is_no_danger_and_one_with_declarations_is_refused()
    {
        const string Type = "<!DOCTYPE svg PUBLIC \"-//W3C//DTD SVG 1.1//EN\" \"http://www.w3.org/Graphics/SVG/1.1/DTD/svg11.dtd\">";
        Line(Read("<line x2='10'/>", before: $"<?xml version=\"1.0\"?>\n{Type}\n"), 0, 0, 10, 0);
        SvgSketch
            .Read(
                Encoding.UTF8.GetBytes(
                    "<!DOCTYPE svg [<!ENTITY a \"b\">]><svg xmlns=\"http://www.w3.org/2000/svg\"><line x2=\"9\"/></svg>"
                ),
                Sketch.Empty
            )
            .Refusal!.Message.ShouldContain("document type of its own");
    }

    [Theory]
    [InlineData("<defs><g id='k'><line x2='10'/></g></defs><use href='#k' x='5' y='7'/>", 5, 7, 15, 7)]
    [InlineData("<defs><line id='k' x2='10'/></defs><use xlink:href='#k' transform='scale(2)' x='5'/>", 10, 0, 30, 0)]
    [InlineData(
        "<symbol id='k' viewBox='0 0 10 10'><line x2='10'/></symbol><use href='#k' x='20' y='30' width='40' height='40'/>",
        20,
        30,
        60,
        30
    )]
    [InlineData("<symbol id='k' viewBox='0 0 10 10'><line x2='10'/></symbol><use href='#k' width='40' height='20'/>", 10, 0, 30, 0)]
    [InlineData("<svg x='10' y='20' width='50' height='50' viewBox='0 0 5 5'><line x2='5'/></svg>", 10, 20, 60, 20)]
    [InlineData(
        "<svg x='10' width='50' height='20' viewBox='0 0 10 10' preserveAspectRatio='none'><line x2='10' y2='10'/></svg>",
        10,
        0,
        60,
        20
    )]
    [InlineData("<svg width='40' height='20' viewBox='0 0 10 10' preserveAspectRatio='xMaxYMin slice'><line x2='10'/></svg>", 0, 0, 40, 0)]
    [InlineData("<switch><line systemLanguage='xx' x2='3'/><line x2='10'/><line x2='5'/></switch>", 0, 0, 10, 0)]
    [InlineData("<line x2='50%' y2='25%'/>", 0, 0, 50, 25)]
    [InlineData("<g style='font-size:5px'><line x2='2em'/></g>", 0, 0, 10, 0)]
    [InlineData("<line x2='10' style='transform: translate(5px, 6px)'/>", 5, 6, 15, 6)]
    [InlineData(
        "<style>.off{display:none} line.way{transform:translate(1px,2px)}</style><line class='off' x2='9'/><line class='way' x2='10'/>",
        1,
        2,
        11,
        2
    )]
    [InlineData("<g display='none'><line x2='9'/></g><g style='display:none'><line x2='9'/></g><line x2='10'/>", 0, 0, 10, 0)]
    [InlineData("<g visibility='hidden'><line x2='9'/><line visibility='visible' x2='10'/></g>", 0, 0, 10, 0)]
    [InlineData("<polyline points='1-2.5.5-3'/>", 1, -2.5, 0.5, -3)]
    [InlineData("<line x2='10' transform='matrix(1 0 0 1 5-6)'/>", 5, -6, 15, -6)]
    [InlineData("<clipPath id='c'><rect x='2' y='-5' width='6' height='10'/></clipPath><line x2='10' clip-path='url(#c)'/>", 2, 0, 8, 0)]
    public void Elements_and_properties_as_the_standard_says(string inside, double x1, double y1, double x2, double y2) =>
        Line(Read(inside), x1, y1, x2, y2);

    [Theory]
    [InlineData("width='50mm' viewBox='0 0 100 100'", 5, 0)]
    [InlineData("height='50mm' viewBox='0 0 100 100'", 5, 0)]
    [InlineData("width='200mm' height='50mm' viewBox='0 0 100 100'", 5, 0)]
    [InlineData("width='200mm' height='50mm' viewBox='0 0 100 100' preserveAspectRatio='none'", 20, 0)]
    [InlineData("width='100%' height='100%' viewBox='0 0 100 100'", 10 * 25.4 / 96, 0)]
    [InlineData("width='10cm' height='10cm' viewBox='0-50 100 100'", 10, 0)]
    [InlineData("width='1in' height='1in' viewBox='0 0 254 254'", 1, 0)]
    public void The_drawing_has_its_true_size(string head, double x, double y)
    {
        Line(Read("<line x2='10'/>", head), 0, 0, x, y);
    }

    [Fact]
    public void A_path_is_read_up_to_its_first_fault_which_is_told()
    {
        var read = Read("<g>\n<path id='p' d='M0 0 L10 0 L20 zero'/></g>");
        Line(read, 0, 0, 10, 0);
        read.Said.Single().ShouldContain("path 'p' in line 2");
        read.Said.Single().ShouldContain("read up to there");
        Read("<path d='L 5 5'/><line x2='10'/>").Said.Single().ShouldContain("begins with a move");
        Line(Read("<polyline points='0,0 10,0 x'/>"), 0, 0, 10, 0);
    }

    [Fact]
    public void What_is_left_out_is_counted()
    {
        var read = Read(
            "<text>a</text><text>b</text><image href='x.png'/><g display='none'><line x2='9'/></g><line x2='10'/><line "
                + "x2='3e9'/><use href='#gone'/>"
        );
        Line(read, 0, 0, 10, 0);
        read.Said.ShouldContain("2 texts left out");
        read.Said.ShouldContain("1 image left out");
        read.Said.ShouldContain("1 hidden part left out");
        read.Said.ShouldContain(s =>
            s.Contains("beyond 1000 m", StringComparison.Ordinal) && s.Contains("line 1", StringComparison.Ordinal)
        );
        read.Said.ShouldContain(s => s.Contains("'#gone' is not in the file", StringComparison.Ordinal));
    }

    [Fact]
    public void What_uses_itself_ends()
    {
        Read("<g id='a'><use href='#a'/><line x2='10'/></g>").Said.ShouldContain(s => s.Contains("uses itself", StringComparison.Ordinal));
        Read("<defs><g id='a'><use href='#b'/></g><g id='b'><use href='#a'/></g></defs><use href='#a'/><line x2='10'/>")
            .Said.ShouldNotBeEmpty();
        var doubling = string.Concat(
            Enumerable.Range(1, 40).Select(i => $"<g id='g{i}'><use href='#g{i - 1}'/><use href='#g{i - 1}'/></g>")
        );
        SvgSketch
            .Read(
                Encoding.UTF8.GetBytes(
                    $"<svg xmlns='http://www.w3.org/2000/svg'><defs><line id='g0' x2='1'/>{doubling}</defs><use href='#g24'/></svg>"
                ),
                Sketch.Empty
            )
            .Refusal!.Message.ShouldContain("more than 200 000 elements");
    }

    [Fact]
    public void Round_things_come_in_round()
    {
        Sketch Of(string inside) => new() { Entities = Read(inside).Edit.Add };
        Of("<path d='M 60 50 A 10 10 0 0 1 40 50 A 10 10 0 0 1 60 50 Z'/>")
            .Entities.OfType<CircleEntity>()
            .Single()
            .Radius.ShouldBe(10, 1e-9);
        Of("<path d='M 60 50 a 10 10 0 1 0 -20 0 10 10 0 1 0 20 0'/>").Entities.Length.ShouldBe(2);
        Of("<path d='M 60 50 A 10 10 0 1 1 60 49.99999'/>").Entities.OfType<CircleEntity>().Single().Radius.ShouldBe(10, 1e-4);
        Of("<path d='M 70 50 A 20 10 0 0 1 30 50 A 20 10 0 0 1 70 50 Z'/>").Entities.OfType<EllipseEntity>().Count().ShouldBe(1);
        Of("<path d='M 70 50 A 20 10 0 0 1 50 60'/>").Entities.OfType<EllipticArcEntity>().Count().ShouldBe(1);

        // As a drawing program writes an ellipse, with three decimals.
        const double K = 0.5523;
        string N(double v) => Math.Round(v, 3).ToString(CultureInfo.InvariantCulture);
        var ellipse = Of(
            $"<path d='M 70 50 C 70 {N(50 + (K * 10))} {N(50 + (K * 20))} 60 50 60 S 30 {N(50 + (K * 10))} 30 50 S "
                + $"{N(50 - (K * 20))} 40 50 40 S 70 {N(50 - (K * 10))} 70 50 Z'/>"
        );
        var e = ellipse.Entities.OfType<EllipseEntity>().Single();
        ellipse.At(e.Centre).DistanceTo(new Vec2(50, -50)).ShouldBeLessThan(1e-9);
        new[] { e.First, e.Second }
            .Select(p => ellipse.At(p).DistanceTo(ellipse.At(e.Centre)))
            .Order()
            .Zip([10.0, 20])
            .ShouldAllBe(z => Math.Abs(z.First - z.Second) < 1e-6);

        // Over 400 mm nothing strays by a share of its radius.
        Of("<path d='M 0 0 C 90 34 210 34 300 0'/>").Entities.OfType<SplineEntity>().Count().ShouldBe(1);
    }

    [Fact]
    public void Affine_maps_take_ellipses_to_ellipses()
    {
        var random = new Random(5);
        for (var i = 0; i < 200; i++)
        {
            double In(double low, double high) => low + (random.NextDouble() * (high - low));
            var (rx, ry, tilt, a, b, c, d) = (In(1, 20), In(1, 20), In(0, 180), In(-2, 2), In(-2, 2), In(-2, 2), In(-2, 2));
            if (Math.Abs((a * d) - (b * c)) < 0.2)
            {
                continue;
            }

            var read = new Sketch
            {
                Entities = Read(
                    FormattableString.Invariant(
                        $"<ellipse rx='{rx:R}' ry='{ry:R}' transform='matrix({a:R} {b:R} {c:R} {d:R} 3 4) rotate({tilt:R})'/>"
                    )
                ).Edit.Add,
            };
            var area = Math.PI * rx * ry * Math.Abs((a * d) - (b * c));
            var (centre, first, second) = read.Entities.OfType<EllipticEntity>().Single() is var e
                ? (read.At(e.Centre), read.At(e.First) - read.At(e.Centre), read.At(e.Second) - read.At(e.Centre))
                : default;
            centre.DistanceTo(new Vec2(3, -4)).ShouldBeLessThan(1e-9);
            first.Dot(second).ShouldBe(0, 1e-9 * area);
            (Math.PI * first.Length * second.Length).ShouldBe(area, 1e-9 * area);

            // The images of two places of the ellipse lie on what was read.
            foreach (var t in new[] { 0.3, 2.1 })
            {
                var (x, y) = (rx * Math.Cos(t), ry * Math.Sin(t));
                var (cos, sin) = (Math.Cos(tilt * Math.PI / 180), Math.Sin(tilt * Math.PI / 180));
                var (px, py) = ((x * cos) - (y * sin), (x * sin) + (y * cos));
                var at = new Vec2((a * px) + (c * py), -((b * px) + (d * py)));
                (Math.Pow(at.Dot(first.Unit) / first.Length, 2) + Math.Pow(at.Dot(second.Unit) / second.Length, 2)).ShouldBe(1, 1e-9);
            }
        }
    }
}
