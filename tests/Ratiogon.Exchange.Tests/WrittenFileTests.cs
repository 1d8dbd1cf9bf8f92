using System.Text;
using System.Xml.Linq;
using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Demo;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Solids;
using Ratiogon.Solids.Tests;

namespace Ratiogon.Exchange.Tests;

/// <summary>What is written, judged by others: every demo part and a dozen more, in every format.</summary>
public class WrittenFileTests
{
    private static readonly PartCommand[] Two =
    [
        .. Parts.Sketched("a", World.Xy, Parts.Rectangle(40, 40, Vec2.Zero)),
        new AddStep(new PlaneStep("up", 0, "", [new DatumCondition("offset", [World.Xy]) { Values = ["30 mm"] }])),
        .. Parts.Sketched("b", "up", Parts.Rectangle(20, 20, Vec2.Zero)),
    ];

    private static readonly PartCommand[] Bent = Parts.Sketched("p", World.Xy, Parts.Bend(30, 40));

    /// <summary>Flat and round, free form, hollow, in several bodies, very small, very large and far away.</summary>
    private static readonly Dictionary<string, PartCommand[]> More = new(StringComparer.Ordinal)
    {
        ["bevelled"] =
        [
            .. Parts.Block(40, 40, 40),
            new AddStep(
                new ChamferStep("c", 0, "", ["e/end"])
                {
                    How = ChamferHow.TwoSizes,
                    Size = "2 mm",
                    Second = "6 mm",
                }
            ),
        ],
        ["rounded"] = [.. Parts.Block(40, 30, 20), new AddStep(new FilletStep("f", 0, "", ["e/end", "e/start"]) { Radius = "3 mm" })],
        ["hollow"] =
        [
            .. Parts.Block(40, 40, 40),
            new AddStep(
                new ShellStep("h", 0, "", [])
                {
                    Closed = true,
                    Body = "e",
                    Thickness = "2 mm",
                }
            ),
        ],
        ["ring"] =
        [
            .. Parts.Sketched("s", World.Xz, Parts.Circle("c", 30, 0, 4)),
            new AddStep(new RevolveStep("r", 0, "", "s", "world/z")),
        ],
        ["quarter"] =
        [
            .. Parts.Sketched("s", World.Xz, Parts.Rectangle(10, 20, new Vec2(30, 0))),
            new AddStep(new RevolveStep("r", 0, "", "s", "world/z") { Extent = RevolveExtent.Angle, Angle = "90 deg" }),
        ],
        ["pipe"] =
        [
            .. Bent,
            new AddStep(
                new SweepStep("w", 0, "", ["p/a", "p/bend", "p/b"])
                {
                    Profile = SweepProfile.Round,
                    Diameter = "10 mm",
                    Bore = "6 mm",
                }
            ),
        ],
        ["twisted"] =
        [
            .. Bent,
            .. Parts.Sketched("s", World.Yz, Parts.Rectangle(8, 6, Vec2.Zero)),
            new AddStep(
                new SweepStep("w", 0, "", ["p/a"])
                {
                    Sketch = "s",
                    Keep = SweepKeep.Twist,
                    Twist = "90 deg",
                }
            ),
        ],
        ["blended"] = [.. Two, new AddStep(new LoftStep("l", 0, "", ["a", "b"]) { SquareFirst = true, SquareLast = true })],
        ["row"] =
        [
            .. Parts.Block(20, 20, 10),
            new AddStep(
                new PatternStep("q", 0, "", ["e"])
                {
                    Along = "world/x",
                    Spacing = "30 mm",
                    Count = "4",
                    Operation = FormOperation.Body,
                }
            ),
        ],
        ["speck"] =
        [
            .. Parts.Block(0.05, 0.04, 0.02),
            new AddStep(new FilletStep("f", 0, "", ["e/side/r.left^e/side/r.top"]) { Radius = "0.01 mm" }),
        ],
        ["hall"] = [.. Parts.Block(60000, 40000, 9000), new AddStep(new ChamferStep("c", 0, "", ["e/end"]) { Size = "500 mm" })],
        ["far"] =
        [
            .. Parts.Sketched("s", World.Xy, Parts.Circle("c", 20000, -30000, 25)),
            new AddStep(new ExtrudeStep("e", 0, "", "s") { Length = "40 mm" }),
        ],
    };

    public static TheoryData<string> Named => [.. DemoParts.All.Select(p => p.File), .. More.Keys];

    private static Part Find(string name) =>
        More.TryGetValue(name, out var made) ? Parts.Of(made) with { Name = name } : DemoParts.All.Single(p => p.File == name).Build();

    private static byte[] Written(GaugeSite site, string ending, ExportOptions? options = null)
    {
        var written = Exporter.Write(site, ending, options ?? new ExportOptions());
        written.Refusal?.Message.ShouldBeNull();
        return written.Value;
    }

    [Theory]
    [MemberData(nameof(Named))]
    public void Triangles_are_closed_and_pass_the_validators(string name)
    {
        using var rebuilder = new Rebuilder(new NativeKernel());
        var site = rebuilder.Gauge(Find(name));
        var (volume, area) = (site.Bodies.Sum(b => b.Mass.Volume), site.Bodies.Sum(b => b.Mass.Area));
        var size = site.Bodies.Max(b => b.Box.Diagonal);
        var fine = new ExportOptions { Deviation = Math.Clamp(size / 1000, Exporter.FinestDeviation, Exporter.CoarsestDeviation) };

        // Numbers of STL have six digits, wherever the part lies.
        var far = site.Bodies.Max(b => Math.Max(b.Box.Low.Length, b.Box.High.Length));
        Others.Closed(Others.Binary(Written(site, "stl", fine))).ShouldBe(volume, area * (fine.Deviation + (far * 2e-7)));
        var gltf = Others.Validated("gltf", Written(site, "glb", fine)).GetProperty("issues");
        (gltf.GetProperty("numErrors").GetInt32(), gltf.GetProperty("numWarnings").GetInt32()).ShouldBe((0, 0), gltf.ToString());
        var threeMf = Others.Validated("3mf", Written(site, "3mf", fine));
        (threeMf.GetProperty("refused").ValueKind, threeMf.GetProperty("warnings").GetInt32()).ShouldBe(
            (System.Text.Json.JsonValueKind.Null, 0)
        );
        threeMf
            .GetProperty("objects")
            .EnumerateArray()
            .ShouldAllBe(o => o.GetProperty("closed").GetBoolean() && o.GetProperty("valid").GetBoolean());
        threeMf.GetProperty("items").GetInt32().ShouldBe(site.Bodies.Length);
    }

    /// <summary>Part to file to part, in millimetres and in inches.</summary>
    [Theory]
    [MemberData(nameof(Named))]
    public async Task Bodies_come_back_as_a_part_with_their_volume_area_and_place(string name)
    {
        var kernel = new NativeKernel();
        using var rebuilder = new Rebuilder(kernel);
        foreach (var unit in new[] { LengthUnit.Millimetre, LengthUnit.Inch })
        {
            var site = rebuilder.Gauge(Find(name) with { Units = unit });
            foreach (
                var (ending, options, marks) in new[]
                {
                    ("step", new ExportOptions(), ("SI_UNIT(.MILLI.,.METRE.)", "CONVERSION_BASED_UNIT('INCH'")),
                    ("step", new ExportOptions { Ap242 = true }, ("SI_UNIT(.MILLI.,.METRE.)", "CONVERSION_BASED_UNIT('INCH'")),
                    ("iges", new ExportOptions(), ("2HMM", "4HINCH")),
                }
            )
            {
                var file = Written(site, ending, options);
                var text = Encoding.ASCII.GetString(file);
                text.ShouldContain(unit == LengthUnit.Inch ? marks.Item2 : marks.Item1);
                if (ending == "step")
                {
                    Others.Part21(text);
                }

                var read = kernel.Read(ending == "step" ? BodyFormat.Step214 : BodyFormat.Iges, file);
                read.Refusal?.Message.ShouldBeNull();
                read.Value.Said.ShouldBeEmpty();
                var step = new ImportStep("in", 0, "In", "file." + ending, ImportedFile.Pack(file));
                using var again = new Rebuilder(kernel);
                var back = again.Gauge(Parts.Of(new AddStep(step)));
                back.Bodies.Length.ShouldBe(name == "row" ? 4 : site.Bodies.Length, "what is apart comes back as bodies of their own");
                var (was, now) = (Whole(site), Whole(back));
                // A twisted skin is fitted: what is read back may lie elsewhere by the length that the library takes for nothing.
                var share = name == "twisted" ? was.Area * 1e-7 / was.Volume : 1e-9;
                now.Volume.ShouldBe(was.Volume, was.Volume * share, $"{name} {ending} {unit}");
                now.Area.ShouldBe(was.Area, was.Area * share, $"{name} {ending} {unit}");
                now.Centre.DistanceTo(was.Centre)
                    .ShouldBeLessThan(share * Math.Max(was.Centre.Length, was.Size), $"{name} {ending} {unit}");
            }

            (
                await NJsonSchema.JsonSchema.FromFileAsync(
                    Path.Combine(Others.Root(), "docs", "part.schema.json"),
                    TestContext.Current.CancellationToken
                )
            )
                .Validate(Encoding.UTF8.GetString(Written(site, "json")))
                .ShouldBeEmpty();
        }
    }

    private static (double Volume, double Area, Vec3 Centre, double Size) Whole(GaugeSite site)
    {
        var volume = site.Bodies.Sum(b => b.Mass.Volume);
        return (
            volume,
            site.Bodies.Sum(b => b.Mass.Area),
            site.Bodies.Aggregate(Vec3.Zero, (c, b) => c + (b.Mass.Centre * b.Mass.Volume)) / volume,
            site.Bodies.Max(b => b.Box.Diagonal)
        );
    }

    /// <summary>Each sketch: XML by a parser of other hands, drawn by a program of other hands with every line in its place, and read
    /// back as it was.</summary>
    [Theory]
    [MemberData(nameof(Named))]
    public void Drawings_are_sound_have_their_true_scale_and_come_back(string name)
    {
        using var rebuilder = new Rebuilder(new NativeKernel());
        var site = rebuilder.Gauge(Find(name));
        var drawn = 0;
        foreach (var step in site.Part.Steps.OfType<SketchStep>())
        {
            var sketch = site.Model.SketchOf(step.Id)!.Sketch;
            var svg = Written(site, "svg", new ExportOptions { Of = step.Id });
            Others.Said("xmllint", ["--noout", "--nonet"], svg);
            var box = XDocument
                .Load(new MemoryStream(svg))
                .Root!.Attribute("viewBox")!
                .Value.Split(' ')
                .Select(v => double.Parse(v, System.Globalization.CultureInfo.InvariantCulture))
                .ToArray();
            if (Math.Max(box[2], box[3]) < 1000)
            {
                var (ink, width, height) = Others.Rastered(svg);
                (width / 10.0, height / 10.0).ShouldSatisfyAllConditions(
                    s => s.Item1.ShouldBe(box[2], 0.11),
                    s => s.Item2.ShouldBe(box[3], 0.11)
                );
                foreach (var p in Places(sketch))
                {
                    var (x, y) = ((int)((p.X - box[0]) * 10), (int)((-p.Y - box[1]) * 10));
                    ink[(y * width) + x].ShouldBeTrue($"{name} {step.Id}: nothing drawn at {p}");
                    drawn++;
                }
            }

            var read = SvgSketch.Read(svg, Sketch.Empty);
            read.Refusal?.Message.ShouldBeNull();
            var back = Places(new Sketch { Entities = read.Value.Add }).ToList();
            foreach (var p in Places(sketch))
            {
                back.Min(q => q.DistanceTo(p)).ShouldBeLessThan(1e-6 * Math.Max(1, p.Length), $"{name} {step.Id}: {p} is gone");
            }
        }

        (drawn > 0 || name is "hall" or "far").ShouldBeTrue();
    }

    /// <summary>Ends, and of round lines the sides, of everything in the profile.</summary>
    private static IEnumerable<Vec2> Places(Sketch sketch) =>
        sketch
            .Entities.Where(e => !e.Construction && !Sketch.IsBuiltIn(e.Id))
            .SelectMany(e =>
                e switch
                {
                    LineEntity l => [sketch.At(l.From), sketch.At(l.To)],
                    CircleEntity c => [sketch.At(c.Centre) + new Vec2(c.Radius, 0), sketch.At(c.Centre) - new Vec2(0, c.Radius)],
                    ArcEntity a =>
                    [
                        sketch.At(a.From),
                        sketch.At(a.To),
                        sketch.At(a.Centre)
                            + Vec2.Polar((sketch.At(a.From) - sketch.At(a.Centre)).Angle + (Arcs.Sweep(sketch, a) / 2), a.Radius),
                    ],
                    _ => Curves.Of(sketch, e) is { } curve ? (Vec2[])[curve.At(0), curve.At(curve.End)] : [],
                }
            );
}
