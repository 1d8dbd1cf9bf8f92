using System.Diagnostics;
using System.Text.Json.Nodes;
using Ratiogon.Core.Demo;
using Ratiogon.Exchange;

namespace Ratiogon.Cli.Tests;

/// <summary>The program itself, started as a user starts it.</summary>
public sealed class CommandLineTests : IDisposable
{
    private readonly string folder = Directory.CreateTempSubdirectory("ratiogon-cli").FullName;

    public void Dispose() => Directory.Delete(folder, recursive: true);

    private string Write(byte[] content, string name = "part.json")
    {
        var path = Path.Combine(folder, name);
        File.WriteAllBytes(path, content);
        return path;
    }

    private string Plate() => Write(PartFile.Write(MotorPlate.Build()));

    private static (int Code, string Out, string Error) Run(params string[] arguments)
    {
        var start = new ProcessStartInfo("dotnet", [Path.Combine(AppContext.BaseDirectory, "ratiogon.dll"), .. arguments])
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        using var process = Process.Start(start)!;
        var error = process.StandardError.ReadToEndAsync();
        var output = process.StandardOutput.ReadToEnd();
        process.WaitForExit();
        return (process.ExitCode, output, error.Result);
    }

    private static JsonObject Json(string text) => JsonNode.Parse(text)!.AsObject();

    [Fact]
    public void Rebuild_prints_steps_bodies_and_readings()
    {
        var (code, output, _) = Run("rebuild", Plate(), "--json");
        code.ShouldBe(0);
        var json = Json(output);
        ((string)json["part"]!).ShouldBe("Motor plate");
        json["steps"]!.AsArray().Select(s => (string)s!["state"]!).ShouldAllBe(s => s == "built");
        ((int)json["steps"]![0]!["freedoms"]!).ShouldBe(0);
        var body = json["bodies"]![0]!;
        ((double)body["volume_mm3"]!).ShouldBe(MotorPlate.VolumeByHand(), 1e-4);
        ((double)body["mass_g"]!).ShouldBe(MotorPlate.VolumeByHand() / 1000 * 2.7, 1e-6);
        body["centre_mm"]!.AsArray().Count.ShouldBe(3);
        json["readings"]!.AsArray().Count.ShouldBe(4);
        ((double)json["readings"]![2]!["value"]!).ShouldBe(9.25, 1e-9);
        json["readings"]!.AsArray().Select(r => (string)r!["unit"]!).ShouldBe(["g", "mm^3", "mm", "mm"]);
        json["parameters"]!["collar"]!["shown"]!.GetValue<string>().ShouldBe("32 mm");
    }

    [Fact]
    public void Measure_prints_every_reading_of_two_things()
    {
        string[] holes = ["drilling/wall/(corners/h1.rim)^plate/end", "drilling/wall/(corners/h3.rim)^plate/end"];
        var (code, output, _) = Run("measure", Plate(), "--between", holes[0], holes[1], "--along", "world/x", "--json");
        code.ShouldBe(0);
        var readings = Json(output)["readings"]!.AsArray();
        double Value(string what) => (double)readings.Single(r => (string)r!["what"]! == what)!["value"]!;
        Value("distance-along").ShouldBe(76, 1e-9);
        Value("centre-distance").ShouldBe(Math.Sqrt((76 * 76) + (50 * 50)), 1e-9);
        readings[0]!["points"]!.AsArray().Count.ShouldBe(2);
        Run("measure", Plate(), "--between", "plate/end@middle").Out.ShouldContain("z of the place: 6 mm");
        Run("measure", Plate()).Out.ShouldContain("volume: ");
        var wrong = Run("measure", Plate(), "--between", "plate/gone", "plate/end");
        wrong.Code.ShouldBe(2);
        wrong.Error.ShouldContain("plate/gone");
        Run("measure", Plate(), "--between", holes[0], holes[1], "--along", "0 0 0").Error.ShouldContain("points nowhere");
    }

    [Theory]
    [InlineData("step", "ISO-10303-21;")]
    [InlineData("iges", "")]
    [InlineData("stl", "binary STL")]
    [InlineData("3mf", "PK")]
    [InlineData("glb", "glTF")]
    [InlineData("svg", "<?xml")]
    [InlineData("json", "{")]
    public void Export_writes_each_format_by_its_ending(string ending, string begins)
    {
        var target = Path.Combine(folder, $"out.{ending}");
        var (code, output, error) = Run("export", Plate(), target);
        code.ShouldBe(0, error);
        output.ShouldContain("bytes");
        System.Text.Encoding.UTF8.GetString(File.ReadAllBytes(target)).TrimStart((char)0xFEFF).ShouldStartWith(begins);
        new FileInfo(target).Length.ShouldBeGreaterThan(1000);
    }

    [Fact]
    public void A_file_that_the_library_is_not_done_with_is_refused_in_time()
    {
        var step = Path.Combine(folder, "slow.step");
        Run("export", Plate(), step).Code.ShouldBe(0);
        Environment.SetEnvironmentVariable("RATIOGON_READS_AT_MOST", "0.02");
        try
        {
            var (code, _, error) = Run("import", step, Path.Combine(folder, "slow.json"));
            code.ShouldBe(2);
            error.ShouldContain("was not done with it");
            File.Exists(Path.Combine(folder, "slow.json")).ShouldBeFalse();
        }
        finally
        {
            Environment.SetEnvironmentVariable("RATIOGON_READS_AT_MOST", null);
        }
    }

    [Fact]
    public void Import_makes_a_part_of_a_body_or_a_drawing()
    {
        var step = Path.Combine(folder, "motor.step");
        Run("export", Plate(), step).Code.ShouldBe(0);
        var part = Path.Combine(folder, "motor.json");
        Run("import", step, part).Code.ShouldBe(0);
        var body = Json(Run("rebuild", part, "--json").Out)["bodies"]![0]!;
        ((double)body["volume_mm3"]!).ShouldBe(MotorPlate.VolumeByHand(), 1e-4);
        var drawing = Path.Combine(folder, "slots.svg");
        Run("export", Plate(), drawing, "--of", "slots").Code.ShouldBe(0);
        Run("import", drawing, part).Code.ShouldBe(0);
        PartFile
            .Read(File.ReadAllBytes(part))
            .Value.Steps.OfType<Core.Parts.Steps.SketchStep>()
            .Single()
            .Sketch.Entities.ShouldNotBeEmpty();
        Run("import", Write("nonsense"u8.ToArray(), "bad.step"), part).Error.ShouldContain("cannot be used");
        Run("import", Write("nonsense"u8.ToArray(), "bad.doc"), part).Error.ShouldContain("no format that is read");
    }

    [Fact]
    public void Failing_steps_give_exit_code_1_with_their_message()
    {
        var part = MotorPlate.Build();
        var broken = part.With(((Core.Parts.Steps.SketchStep)part.Find("ring")!) with { On = "plate/side/none" });
        var (code, output, _) = Run("rebuild", Write(PartFile.Write(broken)), "--json");
        code.ShouldBe(1);
        var ring = Json(output)["steps"]!.AsArray().Single(s => (string)s!["name"]! == "Collar ring")!;
        ((string)ring["state"]!).ShouldBe("failed");
        ((string)ring["message"]!).ShouldContain("gone");
    }

    [Fact]
    public void Solve_prints_freedoms_residuals_and_positions_for_other_values()
    {
        var (code, output, _) = Run("solve", Plate(), "--set", "plate_w=120 mm", "--set", "bore=1 in", "--json");
        code.ShouldBe(0);
        var outline = Json(output)["sketches"]![0]!;
        ((string)outline["status"]!).ShouldBe("solved");
        ((int)outline["freedoms"]!).ShouldBe(0);
        ((double)outline["largest_residual"]!).ShouldBeLessThanOrEqualTo(1e-10);
        var corner = outline["entities"]!.AsArray().Single(e => (string)e!["id"]! == "frame.p3")!;
        ((double)corner["at"]![0]!).ShouldBe(60, 1e-9);
        ((double)outline["entities"]!.AsArray().Single(e => (string)e!["id"]! == "bore.rim")!["radius"]!).ShouldBe(12.7, 1e-9);
    }

    [Fact]
    public void Solve_names_redundant_and_clashing_sets()
    {
        string WithDimension(string value) =>
            """
                {"format":"ratiogon-part","version":1,"steps":[{"id":"s","kind":"sketch","on":"world/xy","sketch":{
                  "shapes":[{"id":"r","kind":"rectangle","centre":[0,0],"width":"80 mm","height":"50 mm"}],
                  "dimensions":[{"id":"again","kind":"distance","of":["r.top"],"value":"VALUE"}]}}]}
                """.Replace("VALUE", value, StringComparison.Ordinal);
        var redundant = Run("solve", Write(System.Text.Encoding.UTF8.GetBytes(WithDimension("80 mm"))), "--json");
        redundant.Code.ShouldBe(0);
        Json(redundant.Out)["sketches"]![0]!["redundant"]!.AsArray().Count.ShouldBe(1);
        var clash = Run("solve", Write(System.Text.Encoding.UTF8.GetBytes(WithDimension("90 mm"))), "--json");
        clash.Code.ShouldBe(1);
        var set = Json(clash.Out)["sketches"]![0]!["clashing"]!.AsArray().Select(i => (string)i!).ToList();
        set.ShouldContain("r.width");
        set.ShouldContain("again");
        set.ShouldNotContain("r.height");
    }

    [Fact]
    public void Export_writes_step_and_json()
    {
        var step = Path.Combine(folder, "out.step");
        Run("export", Plate(), step).Code.ShouldBe(0);
        File.ReadAllText(step).ShouldStartWith("ISO-10303-21;");
        var copy = Path.Combine(folder, "copy.json");
        Run("export", Plate(), copy).Code.ShouldBe(0);
        PartFile.Read(File.ReadAllBytes(copy)).Value.ShouldBe(MotorPlate.Build());
        var (code, _, error) = Run("export", Plate(), Path.Combine(folder, "out.xyz"));
        code.ShouldBe(2);
        error.ShouldContain(".xyz");
    }

    [Fact]
    public void Bad_input_is_exit_code_2_and_one_line()
    {
        foreach (
            var arguments in new[]
            {
                new[] { "rebuild", Path.Combine(folder, "missing.json") },
                ["rebuild", Write("{}"u8.ToArray(), "empty.json")],
                ["solve", Plate(), "--set", "nothing=3"],
                ["solve", Plate(), "--set", "plate_w=3 +"],
                ["frobnicate"],
            }
        )
        {
            var (code, _, error) = Run(arguments);
            code.ShouldBe(2, string.Join(' ', arguments));
            error.Trim().Split('\n').Length.ShouldBe(1);
            error.ShouldStartWith("ratiogon: ");
        }
    }

    [Fact]
    public void The_catalogue_lists_what_the_core_knows()
    {
        var json = Json(Run("catalog", "--json").Out);
        json["constraints"]!
            .AsArray()
            .Select(c => (string)c!["name"]!)
            .ShouldBe(Core.Sketches.Rules.ConstraintCatalog.All.Select(k => k.Name));
        json["dimensions"]!.AsArray().Count.ShouldBe(15);
        json["entities"]!
            .AsArray()
            .Select(e => (string)e!)
            .ShouldBe(["arc", "circle", "ellipse", "elliptic-arc", "line", "point", "spline"]);
        string[] Names(string of) =>
            [.. json[of]!.AsArray().Select(c => c is System.Text.Json.Nodes.JsonObject o ? (string)o["name"]! : (string)c!)];
        Names("readings").ShouldBe(Core.Gauging.ReadingCatalog.All.Select(k => k.Name));
        Names("forms").ShouldBe(Core.Tools.Forms.FormCatalog.All.Select(f => f.Kind));
        Names("relations").Length.ShouldBe(Core.Datums.RelationCatalog.All.Count);
        Names("tools").ShouldContain("polygon");
        Names("steps").ShouldContain("reading");
        Names("commands").ShouldContain("rename-parameter");
        Names("formats").ShouldContain("step");
        json["tools"]!.AsArray().Single(t => (string)t!["name"]! == "circle")!["needs"]!
            .ToString()
            .ShouldContain(";", customMessage: "its ways");
        json["forms"]!.AsArray().Single(t => (string)t!["name"]! == "fillet")!["needs"]!.ToString().ShouldContain("radius");

        // In words, everything has its line.
        var text = Run("catalog").Out;
        foreach (var name in Names("forms").Concat(Names("relations")).Concat(Names("tools")).Concat(Names("commands")))
        {
            text.ShouldContain(name);
        }
    }

    [Fact]
    public void Tolerances_print_worst_case_squares_and_what_was_drawn()
    {
        var (code, output, error) = Run("tolerances", Plate(), "wall", "--runs", "12", "--seed", "5");
        code.ShouldBe(0, error);
        output.ShouldStartWith("Bore to slot: 9.25 mm");
        output.ShouldContain("worst case         9.1895 mm to 9.27 mm");
        output.ShouldContain("12 built at random, seed 5");
        output.ShouldContain("upper.height of Slots 23 mm ±0.02");
        output.ShouldContain("bore.d of Outline 22 mm H7 (+0.021 0)");
        error.ShouldContain("100 %");
        var json = Json(Run("tolerances", Plate(), "wall", "--runs", "0", "--json").Out);
        ((double)json["worstLeast"]!).ShouldBe(22.98 - 11.0105 - 2.78, 1e-9);
        json["contributions"]!.AsArray().Count.ShouldBe(3);
        Run("tolerances", Plate(), "nothing").Error.ShouldContain("There is no reading 'nothing'");
    }

    [Fact]
    public void Aim_prints_what_to_turn_to_what()
    {
        var (code, output, error) = Run("aim", Plate(), "Mass=90 g", "--by", "thick");
        code.ShouldBe(0, error);
        output.ShouldStartWith("Mass reads 90 g.");
        output.ShouldContain("thick: 6 mm -> 6.14913 mm");
        var far = Run("aim", Plate(), "Mass=900 g", "--by", "thick");
        (far.Code, far.Out.StartsWith("Out of reach: the nearest is", StringComparison.Ordinal)).ShouldBe((1, true));
        Run("aim", Plate(), "Mass", "--by", "thick").Error.ShouldContain("Write READING=VALUE");
        Run("aim", Plate(), "Mass=least", "--by", "plate_w,plate_h", "--json").Out.ShouldContain("\"met\": true");
    }

    [Fact]
    public void Flex_course_and_why_print_what_they_found()
    {
        var flex = Run("flex", Plate(), "--of", "thick,bore", "--tries", "20");
        flex.Out.ShouldContain("thick: tried 4 mm to 10 mm, alone it holds from 4 mm to 6.");
        flex.Out.ShouldContain("bore: tried 17.6 mm to 26.4 mm (assumed)");
        flex.Out.ShouldContain("Mass: ");
        var course = Run("course", Plate(), "Mass", "--by", "thick", "--json");
        Json(course.Out)["points"]!.AsArray().Count.ShouldBe(9);
        var why = Run("why", Plate(), "bore");
        why.Out.ShouldContain("    collar  (bore + 10 mm)");
        Run("why", Plate(), "slots/upper.height").Out.ShouldContain("plate_h");
        Run("why", Plate(), "slotting").Out.ShouldContain("built again after it: 4x M5");
        Run("why", Plate(), "nothing").Code.ShouldBe(2);
    }

    [Fact]
    public void Variants_are_printed_and_written_as_files()
    {
        var cradle = Write(PartFile.Write(HoseCradle.Build()), "cradle.json");
        var printed = Run("variants", cradle);
        printed.Code.ShouldBe(0, printed.Error);
        printed.Out.ShouldContain("Hose 8 *");
        var into = Path.Combine(folder, "variants");
        var written = Run("variants", cradle, "--export", into, "--format", "stl");
        written.Code.ShouldBe(0, written.Error);
        Directory
            .GetFiles(into)
            .Select(Path.GetFileName)
            .Order()
            .ShouldBe(["hose-10.stl", "hose-12.stl", "hose-4.stl", "hose-6.stl", "hose-8.stl"]);
        Run("variants", cradle, "--export", into, "--format", "doc").Error.ShouldContain("no known format");
        Run("variants", Plate(), "--export", into).Error.ShouldContain("no variants");
    }
}
