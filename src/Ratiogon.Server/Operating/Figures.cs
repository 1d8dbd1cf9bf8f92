using System.Diagnostics;
using System.Diagnostics.Metrics;

namespace Ratiogon.Server.Operating;

/// <summary>What is measured of the service, by the names of OpenTelemetry: whoever runs it has them sent where <c>Telemetry:Endpoint</c>
/// says.</summary>
internal static class Figures
{
    /// <summary>Of the meter and of the source of traces.</summary>
    public const string Name = "Ratiogon";

    private static readonly Meter Meter = new(Name);
    private static readonly Histogram<double> Edits = Meter.CreateHistogram<double>(
        "ratiogon.edit.duration",
        "s",
        "An edit, until it is kept"
    );
    private static readonly Histogram<double> Rebuilds = Meter.CreateHistogram<double>(
        "ratiogon.rebuild.duration",
        "s",
        "A rebuild, its wait for a worker included"
    );
    private static readonly Histogram<double> Waits = Meter.CreateHistogram<double>("ratiogon.worker.wait", "s", "The wait for a worker");
    private static readonly Counter<long> Deaths = Meter.CreateCounter<long>(
        "ratiogon.worker.ended",
        "{worker}",
        "Workers that were given up"
    );
    private static readonly Histogram<long> Models = Meter.CreateHistogram<long>(
        "ratiogon.model.size",
        "By",
        "What a worker answers of a part"
    );
    private static readonly UpDownCounter<long> Owners = Meter.CreateUpDownCounter<long>(
        "ratiogon.part.owned",
        "{part}",
        "Parts that this server changes and builds"
    );
    private static readonly ActivitySource Source = new(Name);

    /// <summary>A span of a trace; null where nobody looks.</summary>
    public static Activity? Begin(string what) => Source.StartActivity(what);

    public static void Edited(TimeSpan took, bool kept) => Edits.Record(took.TotalSeconds, new KeyValuePair<string, object?>("kept", kept));

    /// <param name="took">How long.</param>
    /// <param name="how">From what is kept, built, or failed.</param>
    /// <param name="bytes">Of what the worker answered.</param>
    public static void Rebuilt(TimeSpan took, string how, long bytes)
    {
        Rebuilds.Record(took.TotalSeconds, new KeyValuePair<string, object?>("how", how));
        if (bytes > 0)
        {
            Models.Record(bytes);
        }
    }

    public static void Waited(TimeSpan took) => Waits.Record(took.TotalSeconds);

    /// <summary>This server owns one part more, or one less.</summary>
    public static void Owned(int more) => Owners.Add(more);

    public static void Ended(string why) => Deaths.Add(1, new KeyValuePair<string, object?>("why", why));

    /// <summary>Tells how much waits for a worker, and how many parts are live, whenever somebody asks.</summary>
    public static void Look(Func<int> waiting, Func<int> live)
    {
        Meter.CreateObservableGauge("ratiogon.worker.waiting", waiting, "{work}", "Work that waits for a worker");
        Meter.CreateObservableGauge(
            "ratiogon.part.live",
            live,
            "{part}",
            "Parts that somebody looks at through this server, or did lately"
        );
    }
}
