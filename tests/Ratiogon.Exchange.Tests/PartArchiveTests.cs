using System.IO.Compression;
using System.Text;
using Ratiogon.Core.Demo;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;

namespace Ratiogon.Exchange.Tests;

public class PartArchiveTests
{
    private static byte[] Zip(params (string Name, byte[] Bytes)[] entries)
    {
        using var file = new MemoryStream();
        using (var zip = new ZipArchive(file, ZipArchiveMode.Create, leaveOpen: true))
        {
            foreach (var (name, bytes) in entries)
            {
                using var entry = zip.CreateEntry(name).Open();
                entry.Write(bytes);
            }
        }

        return file.ToArray();
    }

    [Fact]
    public void Parts_come_back_as_they_were_even_with_the_same_name()
    {
        var parts = new[] { MotorPlate.Build(), MotorPlate.Build() with { Units = Core.Quantities.LengthUnit.Inch }, Scene.Part };
        var back = PartArchive.Read(PartArchive.Write(parts)).Value;
        back.ShouldBe(parts);
    }

    [Fact]
    public void Formulas_that_use_readings_come_back_and_are_built_again()
    {
        // What a reading gives is known only once the part is built: neither a step nor a sketch may be refused for it.
        var part = Scene.Part;
        part = new AddStep(new ReadingStep("r", 0, "tall", "distance", ["pin/start", "pin/end"])).Apply(part).Value;
        part = part with { Readings = part.Readings.Add("tall", Core.Quantities.Quantity.Length(20)) };
        foreach (
            var command in new PartCommand[]
            {
                new AddStep(PlaneStep.Offset("p", 0, "Level", "e/end", "tall / 4")),
                new AddStep(new SketchStep("k", 0, "Cap", "p", Sketch.Empty)),
                new EditSketch("k", Scene.Circle("c", 0, 0, 5) with { Size = [new SketchDimension("d", "diameter", ["c"], "tall / 2")] }),
                new AddStep(new ExtrudeStep("cap", 0, "Cap", "k") { Length = "tall / 10", Operation = FormOperation.Body }),
            }
        )
        {
            var next = command.Apply(part);
            next.Refusal?.Message.ShouldBeNull();
            part = next.Value;
        }

        var back = PartArchive.Read(PartArchive.Write([part])).Then(all => PartSolver.Resolve(all[0], all[0].Steps));
        back.Refusal?.Message.ShouldBeNull();
        Scene.Site(back.Value).Bodies.Single(b => b.Name == "cap").Box.High.Z.ShouldBe(12 + 5 + 2, 1e-6);

        // A name that no reading has is still refused.
        var text = Encoding.UTF8.GetString(PartFile.Write(part)).Replace("\"tall / 10\"", "\"short / 10\"", StringComparison.Ordinal);
        PartFile.Read(Encoding.UTF8.GetBytes(text)).Refusal!.Message.ShouldContain("There is no parameter 'short'");
    }

    [Fact]
    public void Hostile_archives_are_refused_whole()
    {
        var good = PartFile.Write(MotorPlate.Build());
        string Refused(byte[] file) => PartArchive.Read(file).Refusal.ShouldNotBeNull().Message;
        Refused("no zip"u8.ToArray()).ShouldContain("no zip archive");
        Refused(Zip()).ShouldContain("holds no parts");
        Refused(Zip(("a.json", good), ("../../etc/passwd.json", good))).ShouldContain("no folders");
        Refused(Zip(("a.json", good), ("b.exe", good))).ShouldContain("no part file");
        Refused(Zip(("a.json", good), ("b.json", Encoding.UTF8.GetBytes("{")))).ShouldContain("b.json");
        Refused(Zip(("bomb.json", new byte[PartFile.LargestBytes + 1]))).ShouldContain("which no part does");
        Refused(Zip([.. Enumerable.Range(0, 1001).Select(i => ($"{i}.json", Array.Empty<byte>()))])).ShouldContain("up to 1000");
        var deep = Encoding.UTF8.GetBytes(new string('[', 5000) + new string(']', 5000));
        Refused(Zip(("deep.json", deep))).ShouldContain("deep.json");
    }
}
