using System.Globalization;
using System.Text.Json;
using Ratiogon.Core.Building;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Solids;

namespace Ratiogon.Exchange.Tests;

/// <summary>
/// Files as earlier versions of the program wrote them, kept as they were: each opens, builds, and is the body that it was.
/// RATIOGON_WRITE_VERSIONS=1 adds today's demo where it is another than any that is kept, and notes the volumes.
/// </summary>
public class VersionTests
{
    /// <summary>Of a volume: sketches are solved anew.</summary>
    private const double Near = 1e-9;
    private static readonly string Folder = Path.Combine(PartFileTests.Repository, "tests", "Ratiogon.Exchange.Tests", "Versions");
    private static readonly string Noted = Path.Combine(Folder, "volumes.txt");

    private static IEnumerable<string> Files => Directory.GetFiles(Folder, "*.json").Order(StringComparer.Ordinal);

    [Fact]
    public void A_file_of_every_version_opens_and_is_what_it_was()
    {
        var volumes = new SortedDictionary<string, string>(StringComparer.Ordinal);
        if (Environment.GetEnvironmentVariable("RATIOGON_WRITE_VERSIONS") == "1")
        {
            Keep();
        }

        using var rebuilder = new Rebuilder(new NativeKernel());
        foreach (var file in Files)
        {
            var name = Path.GetFileNameWithoutExtension(file);
            var read = PartFile.Read(File.ReadAllBytes(file));
            read.Done.ShouldBeTrue($"{name}: {read.Refusal?.Message}");
            read.Value.Steps.OfType<UnreadStep>().ShouldBeEmpty(name);
            var built = rebuilder.Rebuild(read.Value, withMesh: false);
            built
                .Steps.Where(s => s.State is StepState.Failed or StepState.Waiting)
                .Select(s => $"{s.Id}: {s.Message}")
                .ShouldBeEmpty(name);
            volumes[name] = string.Join(" ", built.Bodies.Select(b => b.Mass.Volume.ToString("R", CultureInfo.InvariantCulture)));
            PartFile.Read(PartFile.Write(read.Value)).Value.ShouldBe(read.Value, $"{name} is written and read as any other");
        }

        if (Environment.GetEnvironmentVariable("RATIOGON_WRITE_VERSIONS") == "1")
        {
            File.WriteAllLines(Noted, volumes.Select(v => $"{v.Key}: {v.Value}"));
        }

        volumes.Count.ShouldBeGreaterThan(10);
        var noted = File.ReadAllLines(Noted).Select(l => l.Split(": ")).ToDictionary(l => l[0], l => l[1]);
        noted.Keys.ShouldBe(volumes.Keys, ignoreOrder: true);
        foreach (var (name, found) in volumes)
        {
            var (now, then) = (Numbers(found), Numbers(noted[name]));
            now.Length.ShouldBe(then.Length, name);
            now.Zip(then).ShouldAllBe(v => Math.Abs(v.First - v.Second) <= Near * v.Second, name);
        }
    }

    private static double[] Numbers(string text) =>
        [.. text.Split(' ', StringSplitOptions.RemoveEmptyEntries).Select(n => double.Parse(n, CultureInfo.InvariantCulture))];

    private static void Keep()
    {
        var kept = Files.Select(File.ReadAllText).ToHashSet(StringComparer.Ordinal);
        foreach (
            var file in Directory
                .GetFiles(Path.Combine(PartFileTests.Repository, "demo"), "*.json")
                .Where(f => !kept.Contains(File.ReadAllText(f)))
        )
        {
            File.Copy(file, Path.Combine(Folder, $"{DateTime.UtcNow:yyyyMMdd}-{Path.GetFileName(file)}"));
        }
    }
}
