using System.Diagnostics;
using System.Text.Json;
using Microsoft.Extensions.Logging.Abstractions;
using Microsoft.Extensions.Options;
using Ratiogon.Core.Demo;
using Ratiogon.Core.Parts;
using Ratiogon.Server.Workers;

namespace Ratiogon.Bench;

/// <summary>How long a part waits whose worker has only just been started, or has died.</summary>
internal static class WorkerBench
{
    private const int Rounds = 5;

    public static async Task RunAsync()
    {
        var (part, other) = (Bytes(RotorHub.Build()), Bytes(Changed(RotorHub.Build())));
        var (cold, first, replaced, again) = (new List<double>(), new List<double>(), new List<double>(), new List<double>());
        for (var round = 0; round < Rounds; round++)
        {
            await using (var untouched = Pool())
            {
                cold.Add(await TimedAsync(untouched, part));
            }

            await using var pool = Pool();
            await pool.WarmUpAsync();
            first.Add(await TimedAsync(pool, part));
            again.Add(await TimedAsync(pool, other));
            foreach (var id in pool.ProcessIds)
            {
                Process.GetProcessById(id).Kill();
            }

            replaced.Add(await TimedAsync(pool, part));
        }

        Print("first rebuild of a worker that nothing was done with, its start included", cold, null);
        Print("first rebuild of a worker that the server made ready", first, 400);
        Print("the same once more, all of it changed: what the building itself takes", again, null);
        Print("first rebuild after the worker died", replaced, 400);
    }

    private static byte[] Bytes(Part part) => JsonSerializer.SerializeToUtf8Bytes(part, PartJson.Compact);

    private static Part Changed(Part part) =>
        part with
        {
            Parameters = [.. part.Parameters.Select((p, i) => i == 0 ? p with { Value = $"({p.Value}) * 1.01" } : p)],
        };

    private static WorkerPool Pool() => new(Options.Create(new WorkerOptions { Count = 1 }), NullLogger<WorkerPool>.Instance);

    private static async Task<double> TimedAsync(WorkerPool pool, byte[] part)
    {
        var clock = Stopwatch.StartNew();
        await pool.RunAsync(Guid.Empty, w => w.RebuildAsync(part, false));
        return clock.Elapsed.TotalMilliseconds;
    }

    private static void Print(string what, List<double> times, double? aim)
    {
        var most = times.Max();
        Console.WriteLine(
            $"{what, -72} {times.Order().ElementAt(times.Count / 2):0} ms, most {most:0} ms{"", -20} "
                + $"{(aim is { } a ? $"aim {a} ms   {(most <= a ? "met" : "MISSED")}" : "")}"
        );
    }
}
