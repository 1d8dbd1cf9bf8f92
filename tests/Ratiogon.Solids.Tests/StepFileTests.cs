using System.Text;
using Ratiogon.Core.Demo;
using Ratiogon.Core.Parts.Rebuilding;

namespace Ratiogon.Solids.Tests;

public class StepFileTests
{
    private static readonly NativeKernel Kernel = new();

    private static byte[] Plate()
    {
        using var rebuilder = new Rebuilder(Kernel);
        return rebuilder.WriteStep(MotorPlate.Build()).Value;
    }

    [Fact]
    public void A_written_body_reads_back_exactly()
    {
        var file = Plate();
        Encoding.ASCII.GetString(file).ShouldContain("AUTOMOTIVE_DESIGN");
        Encoding.ASCII.GetString(file).ShouldContain("Motor plate");
        using var solid = Kernel.ReadStep(file).Value;
        Kernel.Mass(solid).Volume.ShouldBe(MotorPlate.VolumeByHand(), MotorPlate.VolumeByHand() * 1e-9);
    }

    [Fact]
    public void Broken_files_are_refused()
    {
        var file = Plate();
        foreach (var bad in new[] { [], "not STEP at all"u8.ToArray(), file[..(file.Length / 2)], file[..(file.Length - 400)] })
        {
            var read = Kernel.ReadStep(bad);
            read.Refusal!.Code.ShouldBe("import.step", $"{bad.Length} bytes");
        }
    }

    [Fact]
    public void A_part_without_a_body_writes_nothing() => new Rebuilder(Kernel).WriteStep(new Core.Parts.Part()).Refusal!.Code.ShouldBe("export.empty");
}
