using System.Collections.Immutable;
using System.Security.Cryptography;
using System.Text.Json;
using Ratiogon.Core.Building;
using Ratiogon.Core.Parts;

namespace Ratiogon.Core.Asking;

/// <summary>
/// What a question builds is written down before it is begun and after it is done, so that whoever asks again when the process died
/// knows what it died of. What was under way at one death is built alone from then on; what is under way at a second one is not built
/// again, and told as a failure of its own: one value that the kernel dies of does not end a question over hundreds.
/// </summary>
public sealed class BuildDiary : IDisposable
{
    private const string Begun = "begun",
        Done = "done",
        Suspect = "suspect",
        Deadly = "deadly";

    private readonly HashSet<string> suspects;
    private readonly HashSet<string> deadly;
    private readonly StreamWriter writer;
    private readonly Lock gate = new();

    /// <param name="path">A file that those who died before wrote, or none yet.</param>
    /// <exception cref="IOException">It cannot be written.</exception>
    public BuildDiary(string path)
    {
        var lines = File.Exists(path) ? File.ReadAllLines(path).Select(l => l.Split(' ', 2)).Where(l => l.Length == 2).ToList() : [];
        HashSet<string> Of(string what) => [.. lines.Where(l => l[0] == what).Select(l => l[1])];
        (suspects, deadly) = (Of(Suspect), Of(Deadly));
        var open = Of(Begun);
        open.ExceptWith(Of(Done));
        deadly.UnionWith(open.Where(suspects.Contains));
        suspects.UnionWith(open);
        writer = new StreamWriter(path, append: false) { AutoFlush = true };
        foreach (var key in suspects)
        {
            writer.WriteLine($"{Suspect} {key}");
        }

        foreach (var key in deadly)
        {
            writer.WriteLine($"{Deadly} {key}");
        }
    }

    /// <summary>Whether a process died of what this one is to do: then one thing is built at a time.</summary>
    public bool Careful => suspects.Count > 0;

    /// <summary>How many builds are known to end the process.</summary>
    public int Known => deadly.Count;

    /// <summary>The same builder, with everything written down.</summary>
    public Func<Part, RebuildResult> Watched(Func<Part, RebuildResult> build)
    {
        ArgumentNullException.ThrowIfNull(build);
        return part =>
        {
            var key = Convert.ToHexString(SHA256.HashData(JsonSerializer.SerializeToUtf8Bytes(part, PartJson.Compact)));
            if (deadly.Contains(key))
            {
                return Refused(part);
            }

            Write(Begun, key);
            var built = build(part);
            Write(Done, key);
            return built;
        };
    }

    public void Dispose() => writer.Dispose();

    private void Write(string what, string key)
    {
        lock (gate)
        {
            writer.WriteLine($"{what} {key}");
        }
    }

    /// <summary>As if its last form had refused.</summary>
    private static RebuildResult Refused(Part part)
    {
        var last = part.Steps.LastOrDefault(s => s is Forms.FormStep && !part.Leaves(s)) ?? part.Steps[^1];
        return new RebuildResult(
            [new StepResult(last.Id, StepState.Failed, "The geometry kernel gave up on these values.")],
            ImmutableArray<BodyResult>.Empty
        );
    }
}
