using System.Diagnostics;
using System.Globalization;
using System.Text.Json;
using MessagePack;
using Microsoft.Extensions.Logging.Abstractions;
using Microsoft.Extensions.Options;
using Ratiogon.Core.Building;
using Ratiogon.Core.Demo;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Quantities;
using Ratiogon.Server.Live;
using Ratiogon.Server.Workers;
using Ratiogon.Solids;
using Ratiogon.Worker;

namespace Ratiogon.Bench;

/// <summary>How long the changed solid takes while a size of a form is stepped: every size of every form of the demo parts, in a worker
/// that has the part, with triangles and the message that goes to the browser.</summary>
internal static class PreviewBench
{
    private const int Steps = 8;
    private const double Aim = 100;

    public static async Task RunAsync()
    {
        await using var pool = new WorkerPool(Options.Create(new WorkerOptions { Count = 1 }), NullLogger<WorkerPool>.Instance);
        await pool.WarmUpAsync();
        var all = new List<double>();
        foreach (var (file, build) in DemoParts.All)
        {
            var part = build();
            await TimedAsync(pool, part, quick: false);
            var sizes = new List<(string Name, double P95, FormStep Form, ValueField Field)>();
            foreach (var form in part.Steps.OfType<FormStep>())
            {
                foreach (var field in form.Fields.OfType<ValueField>().Where(f => f.When(form) && f.Get(form) is { Length: > 0 }))
                {
                    var times = new List<double>();
                    for (var i = 1; i <= Steps; i++)
                    {
                        var changed = field.Set(form, Stepped(field, field.Get(form)!, i));
                        times.Add(await TimedAsync(pool, part.With(changed) with { StopLine = form.Number }, quick: true));
                    }

                    all.AddRange(times);
                    sizes.Add(($"{form.Name} {field.Label.ToLowerInvariant()}", Chains.Percentile(times, 0.95), form, field));
                }
            }

            if (sizes.Count > 0)
            {
                var (name, worst, form, field) = sizes.MaxBy(s => s.P95);
                Print(
                    $"{file}: {sizes.Count} sizes of forms, the slowest is {name}",
                    worst,
                    sizes.Select(s => s.P95).Order().ElementAt(sizes.Count / 2)
                );
                PrintKernel(part, form, field);
            }
        }

        Print("stepped size to changed solid, all of them", Chains.Percentile(all, 0.95), all.Order().ElementAt(all.Count / 2));
    }

    /// <summary>What the kernel was asked for, and for how long, while the size was stepped once.</summary>
    private static void PrintKernel(Part part, FormStep form, ValueField field)
    {
        var native = new NativeKernel();
        var kernel = TimedKernel.About(native);
        using var rebuilder = new Rebuilder(kernel);
        rebuilder.Rebuild(part);
        for (var i = 1; i <= 2; i++)
        {
            ((TimedKernel)(object)kernel).Spent.Clear();
            rebuilder.Quick(part.With(field.Set(form, Stepped(field, field.Get(form)!, i))) with { StopLine = form.Number });
        }

        Console.WriteLine($"    {((TimedKernel)(object)kernel).Told}");
    }

    private static string Stepped(ValueField field, string formula, int i) =>
        field.Kind == Dimension.None
            ? $"({formula}) + {i % 2}"
            : string.Create(CultureInfo.InvariantCulture, $"({formula}) * {1 + (0.004 * i)}");

    private static async Task<double> TimedAsync(WorkerPool pool, Part part, bool quick)
    {
        var clock = Stopwatch.StartNew();
        var bytes = JsonSerializer.SerializeToUtf8Bytes(part, PartJson.Compact);
        var packed = await pool.RunAsync(Guid.Empty, w => quick ? w.QuickAsync(bytes) : w.RebuildAsync(bytes, false));
        var result = MessagePackSerializer.Deserialize<RebuildResult>(packed, WorkerFormat.Options);
        _ = PreviewMessage.Of(part, result, part.Steps[^1].Id);
        return clock.Elapsed.TotalMilliseconds;
    }

    private static void Print(string what, double p95, double median) =>
        Console.WriteLine($"{what, -84} p95 {p95, 6:0} ms   median {median, 6:0} ms   aim {Aim} ms   {(p95 <= Aim ? "met" : "MISSED")}");
}
