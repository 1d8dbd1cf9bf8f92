using System.IO.Compression;
using System.Text;
using Ratiogon.Core.Demo;

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
    public void Hostile_archives_are_refused_whole()
    {
        var good = PartFile.Write(MotorPlate.Build());
        string Refused(byte[] file) => PartArchive.Read(file).Refusal.ShouldNotBeNull().Message;
        Refused("no zip"u8.ToArray()).ShouldContain("no zip archive");
        Refused(Zip()).ShouldContain("holds no parts");
        Refused(Zip(("a.json", good), ("../../etc/passwd.json", good))).ShouldContain("no folders");
        Refused(Zip(("a.json", good), ("b.exe", good))).ShouldContain("no part file");
        Refused(Zip(("a.json", good), ("b.json", Encoding.UTF8.GetBytes("{")))).ShouldContain("b.json");
        Refused(Zip(("bomb.json", new byte[PartFile.LargestBytes + 1]))).ShouldContain("unpacks to more");
        Refused(Zip([.. Enumerable.Range(0, 1001).Select(i => ($"{i}.json", Array.Empty<byte>()))])).ShouldContain("up to 1000");
        var deep = Encoding.UTF8.GetBytes(new string('[', 5000) + new string(']', 5000));
        Refused(Zip(("deep.json", deep))).ShouldContain("deep.json");
    }
}
