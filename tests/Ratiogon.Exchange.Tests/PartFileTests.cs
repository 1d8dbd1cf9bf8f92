using System.Text;
using Ratiogon.Core;
using Ratiogon.Core.Demo;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches.Solving;

namespace Ratiogon.Exchange.Tests;

public class PartFileTests
{
    private const string ByHand = """
        {
          "format": "ratiogon-part", "version": 1, "name": "Plate",
          "parameters": [ { "name": "w", "value": "80 mm" } ],
          "steps": [
            { "id": "outline", "kind": "sketch", "on": "world/xy", "sketch": {
                "shapes": [ { "id": "r", "kind": "rectangle", "centre": [0, 0], "width": "w", "height": "2 in" },
                            { "id": "c", "kind": "circle", "centre": [20, -5], "diameter": "w / 8" } ] } },
            { "id": "plate", "kind": "extrude", "sketch": "outline", "length": "12 mm" }
          ]
        }
        """;

    internal static readonly string Repository = FindRepository();

    private static Outcome<Part> Read(string text) => PartFile.Read(Encoding.UTF8.GetBytes(text));

    [Fact]
    public void A_part_written_by_hand_is_read_with_its_short_forms_spelled_out()
    {
        var part = Read(ByHand).Value;
        part.Steps.Select(s => s.Number).ShouldBe([10, 20]);
        var sketch = ((SketchStep)part.Steps[0]).Sketch;
        sketch.Entities.Length.ShouldBe(11);
        var solved = SketchSolver.Solve(sketch, Core.Sketches.Rules.SketchValues.Of(sketch, part.Values).Value);
        solved.Solved.ShouldBeTrue();
        Freedoms.Of(solved.Sketch).Count.ShouldBe(0);
        solved.Sketch.At("r.p3").DistanceTo(new Core.Vec2(40, 25.4)).ShouldBeLessThan(1e-9);
        solved.Sketch.At("c.centre").DistanceTo(new Core.Vec2(20, -5)).ShouldBeLessThan(1e-9);
    }

    [Fact]
    public void What_is_written_reads_back_the_same()
    {
        var part = MotorPlate.Build();
        var file = PartFile.Write(part);
        PartFile.Read(file).Value.ShouldBe(part);
        PartFile.Write(PartFile.Read(file).Value).ShouldBe(file);
    }

    [Theory]
    [InlineData("motor-plate")]
    [InlineData("hose-cradle")]
    [InlineData("rotor-hub")]
    [InlineData("inlet-block")]
    [InlineData("hose-guide")]
    [InlineData("spout")]
    public async Task The_demo_files_are_the_demo_parts_and_fit_the_schema(string name)
    {
        var part = DemoParts.All.First(d => d.File == name).Build();
        var path = Path.Combine(Repository, "demo", name + ".json");
        if (Environment.GetEnvironmentVariable("RATIOGON_WRITE_DEMO") is not null)
        {
            await File.WriteAllBytesAsync(path, PartFile.Write(part), TestContext.Current.CancellationToken);
        }

        var file = await File.ReadAllBytesAsync(path, TestContext.Current.CancellationToken);
        PartFile.Read(file).Value.ShouldBe(part);
        PartFile.Write(part).ShouldBe(file, "the file is written anew when the part changes");
        var schema = await NJsonSchema.JsonSchema.FromFileAsync(
            Path.Combine(Repository, "docs", "part.schema.json"),
            TestContext.Current.CancellationToken
        );
        schema.Validate(Encoding.UTF8.GetString(file)).ShouldBeEmpty();
        schema.Validate(ByHand).ShouldBeEmpty();
        schema.Validate(ByHand.Replace("\"width\"", "\"wide\"", StringComparison.Ordinal)).ShouldNotBeEmpty();
    }

    [Theory]
    [InlineData("", "file.json", null)]
    [InlineData("[1]", "file.not-a-part", null)]
    [InlineData("{}", "file.not-a-part", "$.format")]
    [InlineData("""{"format":"ratiogon-part","version":9,"name":"x"}""", "file.version", "$.version")]
    [InlineData("""{"format":"ratiogon-part","version":1,"name":"x","colour":"red"}""", "file.json", null)]
    [InlineData("""{"format":"ratiogon-part","version":1,"name":"x","name":"y"}""", "file.json", null)]
    [InlineData("""{"format":"ratiogon-part","version":1,"name":""}""", "name.empty", "$.name")]
    [InlineData("""{"format":"ratiogon-part","version":1,"steps":[{"id":"a","kind":"magic"}]}""", "file.json", "$.steps[0]")]
    [InlineData("""{"format":"ratiogon-part","version":1,"steps":[{"id":"a","kind":"extrude"}]}""", "file.json", "$.steps[0]")]
    [InlineData(
        """{"format":"ratiogon-part","version":1,"steps":[{"id":"a","kind":"extrude","sketch":"world/nowhere"}]}""",
        "step.reference",
        "$.steps[0] (a)"
    )]
    [InlineData(
        """{"format":"ratiogon-part","version":1,"steps":[{"id":"a","kind":"plane","conditions":[{"relation":"leaning","of":["world/xy"]}]}]}""",
        "datum.relation",
        "$.steps[0] (a)"
    )]
    [InlineData(
        """{"format":"ratiogon-part","version":1,"steps":[{"id":"a","kind":"plane","conditions":[{"relation":"offset","of":["world/xy"]}]}]}""",
        "datum.values",
        "$.steps[0] (a)"
    )]
    [InlineData(
        """{"format":"ratiogon-part","version":1,"parameters":[{"name":"a","value":"b"}]}""",
        "formula.unknown-name",
        "$.parameters"
    )]
    [InlineData(
        """{"format":"ratiogon-part","version":1,"parameters":[{"name":"a","value":"1 mm"},{"name":"a","value":"2 mm"}]}""",
        "parameter.duplicate",
        "$.parameters"
    )]
    [InlineData(
        """{"format":"ratiogon-part","version":1,"steps":[{"id":"a","kind":"sketch","on":"world/xy","sketch":{"entities":[{"id":"p","kind":"point","at":[1e300,0]}]}}]}""",
        "file.json",
        "$.steps[0]"
    )]
    [InlineData(
        """{"format":"ratiogon-part","version":1,"steps":[{"id":"a","kind":"sketch","on":"world/xy","sketch":{"entities":[{"id":"l","kind":"line","from":"p","to":"q"}]}}]}""",
        "sketch.unknown-id",
        "$.steps[0] (a)"
    )]
    [InlineData(
        """{"format":"ratiogon-part","version":1,"steps":[{"id":"a","kind":"sketch","on":"world/xy","sketch":{"shapes":[{"id":"r","kind":"rectangle","centre":[0,0],"width":"0 mm","height":"1 mm"}]}}]}""",
        "size.out-of-range",
        "$.steps[0]"
    )]
    [InlineData(
        """{"format":"ratiogon-part","version":1,"steps":[{"id":"a","kind":"sketch","on":"world/xy","sketch":{"constraints":[{"kind":"horizontal","of":[]}]}}]}""",
        "sketch.nothing-picked",
        "$.steps[0] (a)"
    )]
    public void What_is_wrong_is_said_with_its_place(string text, string code, string? where)
    {
        var refusal = Read(text).Refusal!;
        refusal.Code.ShouldBe(code);
        if (where is not null)
        {
            refusal.Where!.ShouldStartWith(where);
        }

        refusal.Message.Length.ShouldBeLessThan(400);
    }

    [Fact]
    public async Task Every_kind_of_datum_comes_back_as_it_was_and_fits_the_schema()
    {
        var part = new Part { Name = "datums" };
        foreach (
            var step in new Step[]
            {
                new PlaneStep(
                    "p",
                    0,
                    "",
                    [new DatumCondition("tangent", ["shaft/side/c"]), new DatumCondition("angle", [World.Xy]) { Values = ["45 deg"] }]
                )
                {
                    Choice = "+ - a",
                    Flip = true,
                    Hidden = true,
                },
                new AxisStep("a", 0, "", [new DatumCondition("meeting", [World.Xy, World.Yz])]),
                new PointStep("o", 0, "", [new DatumCondition("coordinates", []) { Values = ["1 mm", "2 mm", "3 mm"] }]),
                new FrameStep("f", 0, "", [new DatumCondition("origin", ["o"]), new DatumCondition("x", ["a"])]),
                new CurveStep("c", 0, "", CurveShape.Arc, ["o"])
                {
                    Support = "f/yz",
                    Diameter = "8 mm",
                    From = "0 deg",
                    To = "90 deg",
                },
                new SketchStep("s", 0, "", "f", Core.Sketches.Sketch.Empty) { Turn = "30 deg", ShiftX = "1 mm" },
            }
        )
        {
            // The shaft is gone: what was lost stays written down.
            part = new Core.Parts.Commands.AddStep(step) { Kept = true }
                .Apply(part)
                .Value;
        }

        var file = PartFile.Write(part);
        PartFile.Read(file).Value.ShouldBe(part);
        var schema = await NJsonSchema.JsonSchema.FromFileAsync(
            Path.Combine(Repository, "docs", "part.schema.json"),
            TestContext.Current.CancellationToken
        );
        schema.Validate(Encoding.UTF8.GetString(file)).ShouldBeEmpty();
    }

    [Fact]
    public void A_plane_may_be_written_short()
    {
        var part = Read(
            """{"format":"ratiogon-part","version":1,"name":"x","steps":[{"id":"p","kind":"plane","from":"world/xy","distance":"8 mm"}]}"""
        ).Value;
        part.Steps[0].ShouldBe(PlaneStep.Offset("p", 10, "p", World.Xy, "8 mm"));
    }

    [Fact]
    public void Ten_megabytes_of_nesting_and_of_names_are_refused_in_time()
    {
        var clock = System.Diagnostics.Stopwatch.StartNew();
        Read("{\"a\":" + new string('[', 5_000_000)).Refusal!.Code.ShouldBe("file.json");
        Read($$"""{"format":"ratiogon-part","version":1,"name":"{{new string('x', 10_000_000)}}"}""")
            .Refusal!.Code.ShouldBe("name.too-long");
        clock.Elapsed.ShouldBeLessThan(TimeSpan.FromSeconds(10));
    }

    private static string FindRepository()
    {
        var folder = new DirectoryInfo(AppContext.BaseDirectory);
        while (!File.Exists(Path.Combine(folder.FullName, "Directory.Packages.props")))
        {
            folder = folder.Parent!;
        }

        return folder.FullName;
    }

    [Theory]
    [InlineData("\"steps\":[null]", "$.steps[0]", "nothing (null)")]
    [InlineData(
        "\"steps\":[{\"kind\":\"sketch\",\"id\":\"s\",\"on\":\"world/xy\",\"sketch\":{\"entities\":[null],\"constraints\":[],\"dimensions\":[],\"shapes\":[]}}]",
        "$.steps[0].sketch.entities[0]",
        "nothing (null)"
    )]
    [InlineData(
        "\"steps\":[{\"kind\":\"sketch\",\"id\":\"\",\"on\":\"world/xy\",\"sketch\":{\"entities\":[],\"constraints\":[],\"dimensions\":[],\"shapes\":[]}}]",
        "$.steps[0].id",
        "needs an id"
    )]
    [InlineData(
        "\"steps\":[{\"kind\":\"extrude\",\"id\":\"e\",\"sketch\":\"s\",\"operation\":99}]",
        "operation",
        "must be one of \"join\""
    )]
    [InlineData("\"steps\":[{\"kind\":\"extrude\",\"id\":\"e\",\"sketch\":\"s\",\"extent\":\"sideways\"}]", "extent", "must be one of \"")]
    [InlineData("\"material\":{\"name\":\"x\",\"density\":\"much\"}", "density", "must be a number")]
    [InlineData("\"steps\":[{\"kind\":\"extrude\",\"id\":null,\"sketch\":\"s\"}]", "id", "'id' may not be null")]
    [InlineData("\"steps\":[{\"kind\":\"extrude\",\"id\":\"e\",\"sketch\":\"s\",\"length\":3}]", "length", "must be a text")]
    public void What_is_no_part_is_refused_with_its_place(string steps, string where, string why)
    {
        var refusal = Read($"{{\"format\":\"ratiogon-part\",\"version\":1,\"name\":\"x\",\"units\":\"mm\",\"parameters\":[],{steps}}}")
            .Refusal.ShouldNotBeNull();
        $"{refusal.Where} {refusal.Message}".ShouldContain(where);
        refusal.Message.ShouldContain(why);
        refusal.Message.ShouldNotContain("LineNumber");
    }

    [Fact]
    public void An_archive_that_would_unpack_to_much_more_than_it_is_is_refused_before_it_does()
    {
        using var file = new MemoryStream();
        using (var archive = new System.IO.Compression.ZipArchive(file, System.IO.Compression.ZipArchiveMode.Create, leaveOpen: true))
        {
            using var entry = archive.CreateEntry("a.json").Open();
            entry.Write(new byte[40 * 1024 * 1024]);
        }

        PartArchive.Read(file.ToArray()).Refusal!.Message.ShouldContain("which no part does");
    }
}
