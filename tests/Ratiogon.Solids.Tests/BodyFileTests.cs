using System.Text;
using Ratiogon.Core.Demo;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Rebuilding;

namespace Ratiogon.Solids.Tests;

public sealed class BodyFileTests : IDisposable
{
    private static readonly NativeKernel Kernel = new();
    private readonly Rebuilder rebuilder = new(Kernel);

    public void Dispose() => rebuilder.Dispose();

    private byte[] Plate(BodyFormat format) => Kernel.Write(format, [.. rebuilder.Gauge(MotorPlate.Build()).Bodies.Select(b => new NamedSolid("Motor plate", b.Solid, "#336699"))]).Value;

    [Theory]
    [InlineData(BodyFormat.Step214, "AUTOMOTIVE_DESIGN", 1e-9)]
    [InlineData(BodyFormat.Step242, "AP242", 1e-9)]
    [InlineData(BodyFormat.Iges, "MM", 1e-6)]
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
        var inches = text.Replace("( LENGTH_UNIT() NAMED_UNIT(*) SI_UNIT(.MILLI.,.METRE.) )", "( CONVERSION_BASED_UNIT('INCH',#9002) LENGTH_UNIT() NAMED_UNIT(#9001) )", StringComparison.Ordinal)
            .Replace("ENDSEC;\nEND-ISO", "#9001 = DIMENSIONAL_EXPONENTS(1.,0.,0.,0.,0.,0.,0.);\n#9002 = LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(25.4),#9003);\n#9003 = ( LENGTH_UNIT() NAMED_UNIT(*) SI_UNIT(.MILLI.,.METRE.) );\nENDSEC;\nEND-ISO", StringComparison.Ordinal);
        inches.ShouldContain("CONVERSION_BASED_UNIT");
        using var solid = Kernel.Read(BodyFormat.Step214, Encoding.ASCII.GetBytes(inches)).Value.Solid;
        Kernel.Mass(solid).Volume.ShouldBe(MotorPlate.VolumeByHand() * Math.Pow(25.4, 3), MotorPlate.VolumeByHand() * Math.Pow(25.4, 3) * 1e-6);
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
        own.Rebuild(new AddStep(new ImportStep("b", 0, "B", "plate.step", ImportedFile.Pack(file)) { Apart = true }).Apply(one).Value, withMesh: false).Bodies.Length.ShouldBe(2);
        kernel.Calls("Read").ShouldBe(2);
    }

    [Fact]
    public void A_part_without_a_body_writes_nothing() => Kernel.Write(BodyFormat.Step214, []).Refusal!.Code.ShouldBe("export.empty");
}
