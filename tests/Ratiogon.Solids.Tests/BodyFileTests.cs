using System.Text;
using System.Text.Json;
using Ratiogon.Core.Building;
using Ratiogon.Core.Demo;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;

namespace Ratiogon.Solids.Tests;

public sealed class BodyFileTests : IDisposable
{
    private static readonly NativeKernel Kernel = new();
    private readonly Rebuilder rebuilder = new(Kernel);

    public void Dispose() => rebuilder.Dispose();

    private byte[] Plate(BodyFormat format) =>
        Kernel
            .Write(format, [.. rebuilder.Gauge(MotorPlate.Build()).Bodies.Select(b => new NamedSolid("Motor plate", b.Solid, "#336699"))])
            .Value;

    [Theory]
    [InlineData(BodyFormat.Step214, "AUTOMOTIVE_DESIGN", 1e-9)]
    [InlineData(BodyFormat.Step242, "AP242", 1e-9)]
    [InlineData(BodyFormat.Iges, "MM", 1e-9)]
    public void A_written_body_reads_back_exactly_with_name_and_colour(BodyFormat format, string mark, double within)
    {
        var file = Plate(format);
        var text = Encoding.ASCII.GetString(file);
        text.ShouldContain(mark);
        text.ShouldContain("Motor plate");
        if (format != BodyFormat.Iges)
        {
            text.ShouldContain("'Ratiogon'", customMessage: "the program that wrote it");
        }

        var read = Kernel.Read(format, file).Value;
        using var solid = read.Solid;
        Kernel.Mass(solid).Volume.ShouldBe(MotorPlate.VolumeByHand(), MotorPlate.VolumeByHand() * within);
        read.Name.ShouldBe("Motor plate");
        read.Colour.ShouldBe("#336699");
    }

    [Fact]
    public void Inches_in_a_file_are_respected()
    {
        // The same figures, said to be inches.
        var text = Encoding.ASCII.GetString(Plate(BodyFormat.Step214));
        var inches = text.Replace(
                "( LENGTH_UNIT() NAMED_UNIT(*) SI_UNIT(.MILLI.,.METRE.) )",
                "( CONVERSION_BASED_UNIT('INCH',#9002) LENGTH_UNIT() NAMED_UNIT(#9001) )",
                StringComparison.Ordinal
            )
            .Replace(
                "ENDSEC;\nEND-ISO",
                "#9001 = DIMENSIONAL_EXPONENTS(1.,0.,0.,0.,0.,0.,0.);\n#9002 = "
                    + "LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(25.4),#9003);\n#9003 = ( LENGTH_UNIT() NAMED_UNIT(*) "
                    + "SI_UNIT(.MILLI.,.METRE.) );\nENDSEC;\nEND-ISO",
                StringComparison.Ordinal
            );
        inches.ShouldContain("CONVERSION_BASED_UNIT");
        using var solid = Kernel.Read(BodyFormat.Step214, Encoding.ASCII.GetBytes(inches)).Value.Solid;
        Kernel
            .Mass(solid)
            .Volume.ShouldBe(MotorPlate.VolumeByHand() * Math.Pow(25.4, 3), MotorPlate.VolumeByHand() * Math.Pow(25.4, 3) * 1e-6);
    }

    [Theory]
    [InlineData(BodyFormat.Step214)]
    [InlineData(BodyFormat.Iges)]
    public void Broken_files_are_refused(BodyFormat format)
    {
        var file = Plate(format);
        foreach (var bad in new[] { [], "not a body at all"u8.ToArray(), file[..(file.Length / 3)] })
        {
            var read = Kernel.Read(format, bad);
            read.Done.ShouldBeFalse($"{bad.Length} bytes");
            read.Refusal!.Message.ShouldContain("cannot be used");
        }
    }

    [Fact]
    public void Triangles_keep_to_the_deviation_they_were_asked_for()
    {
        foreach (var deviation in new[] { 0.5, 0.05, 0.005 })
        {
            using var own = new Rebuilder(Kernel);
            var body = own.Gauge(MotorPlate.Build()).Bodies.Single();
            Kernel.Mesh(body.Solid, deviation);
            Kernel.Deviation(body.Solid).ShouldBeInRange(1e-9, deviation * 1.2);
        }
    }

    [Fact]
    public void A_file_that_was_looked_at_is_not_read_again_for_its_step_and_two_steps_share_nothing()
    {
        var file = Plate(BodyFormat.Step214);
        var kernel = CountingKernel.About(Kernel);
        using var own = new Rebuilder((ISolidKernel)kernel);
        own.Read(BodyFormat.Step214, file).Done.ShouldBeTrue();
        var one = Parts.Of(new AddStep(new ImportStep("a", 0, "A", "plate.step", ImportedFile.Pack(file))));
        own.Rebuild(one, withMesh: false).Bodies.Single().Mass.Volume.ShouldBe(MotorPlate.VolumeByHand(), MotorPlate.VolumeByHand() * 1e-9);
        kernel.Calls("Read").ShouldBe(1);
        own.Rebuild(
                new AddStep(new ImportStep("b", 0, "B", "plate.step", ImportedFile.Pack(file)) { Apart = true }).Apply(one).Value,
                withMesh: false
            )
            .Bodies.Length.ShouldBe(2);
        kernel.Calls("Read").ShouldBe(2);
    }

    [Theory]
    [InlineData("Träger Ω 部品 Nº 3")]
    [InlineData("a ~ b ~00E4~")]
    public void Names_have_any_letters_and_the_file_stays_plain(string name)
    {
        foreach (var format in new[] { BodyFormat.Step214, BodyFormat.Step242 })
        {
            var file = Kernel
                .Write(format, [.. rebuilder.Gauge(MotorPlate.Build()).Bodies.Select(b => new NamedSolid(name, b.Solid, "#336699"))])
                .Value;
            file.ShouldAllBe(b => b < 128);
            using var solid = Kernel.Read(format, file).Value.Solid;
            Kernel.Read(format, file).Value.Name.ShouldBe(name);
        }
    }

    [Fact]
    public void Every_solid_of_a_file_is_a_body_of_its_own()
    {
        var pair = Parts.Of([
            .. Parts.Block(20, 10, 5),
            .. Parts.Sketched("o", World.Xy, Parts.Rectangle(8, 8, new Core.Vec2(40, 0))),
            new AddStep(new ExtrudeStep("f", 0, "", "o") { Length = "3 mm", Operation = FormOperation.Body }),
        ]);
        var file = Kernel
            .Write(BodyFormat.Step214, [.. rebuilder.Gauge(pair).Bodies.Select(b => new NamedSolid(b.Name, b.Solid, "#336699"))])
            .Value;
        var built = rebuilder.Rebuild(
            Parts.Of(new AddStep(new ImportStep("i", 0, "Pair", "pair.step", ImportedFile.Pack(file)))),
            withMesh: false
        );
        built.Bodies.Select(b => Math.Round(b.Mass.Volume, 6)).Order().ShouldBe([192, 1000]);
        built.Step("i")!.Message.ShouldContain("2 bodies");
        built.Bodies.SelectMany(b => b.Names.Faces).Distinct().Count().ShouldBe(12);
    }

    [Theory]
    [InlineData(BodyFormat.Step214, "pair.step")]
    [InlineData(BodyFormat.Step242, "pair.step")]
    [InlineData(BodyFormat.Iges, "pair.igs")]
    public void Every_body_of_a_file_has_its_own_name_and_colour_and_may_be_left_out(BodyFormat format, string called)
    {
        var three = Parts.Of([
            .. Parts.Block(20, 10, 5),
            .. Parts.Sketched("o", World.Xy, Parts.Rectangle(8, 8, new Core.Vec2(40, 0))),
            new AddStep(new ExtrudeStep("f", 0, "", "o") { Length = "3 mm", Operation = FormOperation.Body }),
            .. Parts.Sketched("q", World.Xy, Parts.Circle("c", 80, 0, 4)),
            new AddStep(new ExtrudeStep("g", 0, "", "q") { Length = "2 mm", Operation = FormOperation.Body }),
        ]);
        string[] colours = ["#cc2200", "#0022cc", "#00cc22"];
        string[] names = ["Block", format == BodyFormat.Iges ? "Pad" : "Plättchen", "Pin"];
        var file = Kernel
            .Write(format, [.. rebuilder.Gauge(three).Bodies.Select((b, i) => new NamedSolid(names[i], b.Solid, colours[i]))])
            .Value;
        var read = Kernel.Read(format, file).Value;
        using (read.Solid)
        {
            read.Bodies.ShouldBe([.. names.Zip(colours, (n, c) => new ReadBody(n, c))]);
        }

        var import = new ImportStep("i", 0, "Pair", called, ImportedFile.Pack(file))
        {
            Bodies = read.NamesOfSeveral,
            Colours = read.ColoursOfSeveral,
        };
        var part = Parts.Of(new AddStep(import));
        string[] Names(Part of) =>
            [
                .. rebuilder
                    .Rebuild(of, withMesh: false)
                    .Bodies.Select(b =>
                        $"{b.Name} {((ImportStep)of.Find("i")!).NameIn(b.Name)} {((ImportStep)of.Find("i")!).ColourIn(b.Name)}"
                    ),
            ];
        string[] all = [$"i {names[0]} {colours[0]}", $"i/body/2 {names[1]} {colours[1]}", $"i/body/3 {names[2]} {colours[2]}"];
        Names(part).ShouldBe(all);

        // The others keep their names, whichever goes.
        var without = new LeaveOutBody("i", 2, true).Apply(part).Value;
        Names(without).ShouldBe([all[0], all[2]]);
        rebuilder.Rebuild(without, withMesh: false).Step("i")!.Message.ShouldContain("3 bodies, 1 left out");
        Names(new LeaveOutBody("i", 2, false).Apply(without).Value).ShouldBe(all);
        var alone = new LeaveOutBody("i", 1, true).Apply(without).Value;
        Names(alone).ShouldBe([all[2]]);
        new LeaveOutBody("i", 3, true).Apply(alone).Refusal!.Code.ShouldBe("import.all-left-out");
        new LeaveOutBody("i", 4, true).Apply(part).Refusal!.Code.ShouldBe("import.no-body");
        new LeaveOutBody("o", 1, true).Apply(three).Refusal!.Code.ShouldBe("import.no-import");
        JsonSerializer
            .Deserialize<Step>(JsonSerializer.Serialize<Step>(without.Find("i")!, PartJson.Compact), PartJson.Compact)
            .ShouldBe(without.Find("i"), "kept in files");
    }

    [Fact]
    public void Copies_of_one_body_are_numbered() =>
        new ReadBodies(Kernel.Dot(Core.Vec3.Zero), "", null)
        {
            Bodies = [new ReadBody("Pin", null), new ReadBody("Plate", "#112233"), new ReadBody("Pin", null), new ReadBody("", null)],
        }.NamesOfSeveral.ShouldBe(["Pin 1", "Plate", "Pin 2", ""]);

    [Theory]
    [InlineData("END-ISO-10303-21;", "", "its end is missing")]
    [InlineData("VERTEX_POINT('',#", "VERTEX_POINT('',#999999", "is not there")]
    [InlineData("VERTEX_POINT('',#", "VERTEX_POINT('',$);/*#", "does not end|names no CARTESIAN_POINT")]
    [InlineData("EDGE_LOOP('',(#", "ORIENTED_EDGE('',*,*,#1,(#", "stands on #")]
    [InlineData("CLOSED_SHELL('',(", "CLOSED_SHELL('','x',(", "has 3 parameters, not 2")]
    [InlineData("CLOSED_SHELL('',(", "CLOSED_SHELL(',(", "does not end")]
    public void A_damaged_step_file_is_refused_with_the_instance_and_its_line(string what, string into, string why)
    {
        var text = Encoding.ASCII.GetString(Plate(BodyFormat.Step214));
        var at = text.IndexOf(what, StringComparison.Ordinal);
        at.ShouldBeGreaterThan(0);
        var refusal = Kernel.Read(BodyFormat.Step214, Encoding.ASCII.GetBytes(text[..at] + into + text[(at + what.Length)..])).Refusal!;
        refusal.Code.ShouldBe("import.step");
        refusal.Message.ShouldMatch(why);
    }

    [Fact]
    public void A_cut_or_changed_iges_file_is_refused_with_its_line_before_the_library_sees_it()
    {
        var lines = Encoding.ASCII.GetString(Plate(BodyFormat.Iges)).Split('\n');
        for (var n = 1; n < lines.Length - 1; n += 7)
        {
            Kernel
                .Read(BodyFormat.Iges, Encoding.ASCII.GetBytes(string.Join('\n', lines.Take(n))))
                .Refusal!.Message.ShouldMatch("end is missing|end does not count|80 columns|cannot be used");
        }

        // A directory entry that points elsewhere, a parameter record of another entry, a count that is wrong.
        int At(char section, int which) => Array.FindIndex(lines, l => l.Length > 72 && l[72] == section) + which;
        string Changed(int line, int column, string to) =>
            string.Join('\n', lines.Select((l, i) => i == line ? string.Concat(l.AsSpan(0, column), to, l.AsSpan(column + to.Length)) : l));
        Kernel
            .Read(BodyFormat.Iges, Encoding.ASCII.GetBytes(Changed(At('D', 0), 8, "  999999")))
            .Refusal!.Message.ShouldContain("parameters that are not there");
        Kernel
            .Read(BodyFormat.Iges, Encoding.ASCII.GetBytes(Changed(At('P', 0), 64, "      99")))
            .Refusal!.Message.ShouldContain("point back");
        Kernel
            .Read(BodyFormat.Iges, Encoding.ASCII.GetBytes(Changed(At('T', 0), 9, "      1")))
            .Refusal!.Message.ShouldContain("does not count");
    }

    [Fact]
    public void A_part_without_a_body_writes_nothing() => Kernel.Write(BodyFormat.Step214, []).Refusal!.Code.ShouldBe("export.empty");
}
