using System.Collections.Immutable;
using System.Globalization;

namespace Ratiogon.Core.Forms;

/// <summary>How much room a screw has in a clearance hole (ISO 273).</summary>
[System.Text.Json.Serialization.JsonConverter(typeof(System.Text.Json.Serialization.JsonStringEnumConverter<ClearanceFit>))]
public enum ClearanceFit
{
    [System.Text.Json.Serialization.JsonStringEnumMemberName("medium")]
    Medium,

    [System.Text.Json.Serialization.JsonStringEnumMemberName("fine")]
    Fine,

    [System.Text.Json.Serialization.JsonStringEnumMemberName("coarse")]
    Coarse,
}

/// <summary>An ISO metric thread. Sizes in millimetres.</summary>
/// <param name="Name">M6 for coarse, M8x1 for fine.</param>
/// <param name="Diameter">Nominal.</param>
/// <param name="Pitch">From crest to crest.</param>
/// <param name="Drill">The drill before tapping.</param>
public sealed record MetricThread(string Name, double Diameter, double Pitch, double Drill)
{
    /// <summary>Height of the fundamental triangle (ISO 68-1).</summary>
    public double Triangle => Pitch * Math.Sqrt(3) / 2;

    /// <summary>The basic minor diameter of the nut thread (ISO 724).</summary>
    public double Minor => Diameter - (1.25 * Triangle);
}

/// <summary>ISO metric threads: pitches per ISO 261 and 262, tapping drills per ISO 2306, clearance holes per ISO 273.</summary>
public static class Threads
{
    // Diameter, coarse pitch, tapping drill, clearance fine, medium, coarse.
    private static readonly double[][] Coarse =
    [
        [1.6, 0.35, 1.25, 1.7, 1.8, 2],
        [2, 0.4, 1.6, 2.2, 2.4, 2.6],
        [2.5, 0.45, 2.05, 2.7, 2.9, 3.1],
        [3, 0.5, 2.5, 3.2, 3.4, 3.6],
        [3.5, 0.6, 2.9, 3.7, 3.9, 4.2],
        [4, 0.7, 3.3, 4.3, 4.5, 4.8],
        [5, 0.8, 4.2, 5.3, 5.5, 5.8],
        [6, 1, 5, 6.4, 6.6, 7],
        [8, 1.25, 6.8, 8.4, 9, 10],
        [10, 1.5, 8.5, 10.5, 11, 12],
        [12, 1.75, 10.2, 13, 13.5, 14.5],
        [14, 2, 12, 15, 15.5, 16.5],
        [16, 2, 14, 17, 17.5, 18.5],
        [18, 2.5, 15.5, 19, 20, 21],
        [20, 2.5, 17.5, 21, 22, 24],
        [22, 2.5, 19.5, 23, 24, 26],
        [24, 3, 21, 25, 26, 28],
        [27, 3, 24, 28, 30, 32],
        [30, 3.5, 26.5, 31, 33, 35],
        [33, 3.5, 29.5, 34, 36, 38],
        [36, 4, 32, 37, 39, 42],
        [39, 4, 35, 40, 42, 45],
        [42, 4.5, 37.5, 43, 45, 48],
        [45, 4.5, 40.5, 46, 48, 52],
        [48, 5, 43, 50, 52, 56],
        [52, 5, 47, 54, 56, 62],
        [56, 5.5, 50.5, 58, 62, 66],
        [60, 5.5, 54.5, 62, 66, 70],
        [64, 6, 58, 66, 70, 74],
    ];

    private static readonly double[][] FinePitches =
    [
        [3, 0.35],
        [4, 0.5],
        [5, 0.5],
        [6, 0.75],
        [8, 1],
        [10, 1],
        [10, 1.25],
        [12, 1.25],
        [12, 1.5],
        [14, 1.5],
        [16, 1.5],
        [18, 1.5],
        [18, 2],
        [20, 1.5],
        [20, 2],
        [22, 1.5],
        [22, 2],
        [24, 2],
        [27, 2],
        [30, 2],
        [33, 2],
        [36, 3],
        [39, 3],
        [42, 3],
        [45, 3],
        [48, 3],
        [52, 4],
        [56, 4],
        [60, 4],
        [64, 4],
    ];

    public static ImmutableArray<MetricThread> All { get; } =
    [
        .. Coarse
            .Select(c => new MetricThread(string.Create(CultureInfo.InvariantCulture, $"M{c[0]}"), c[0], c[1], c[2]))
            .Concat(
                FinePitches.Select(f => new MetricThread(
                    string.Create(CultureInfo.InvariantCulture, $"M{f[0]}x{f[1]}"),
                    f[0],
                    f[1],
                    Math.Round(f[0] - f[1], 2)
                ))
            ),
    ];

    public static MetricThread? Find(string? name) => All.FirstOrDefault(t => t.Name == name);

    /// <summary>The clearance hole of a screw, in millimetres.</summary>
    public static double Clearance(MetricThread thread, ClearanceFit fit)
    {
        ArgumentNullException.ThrowIfNull(thread);
        var row = Array.Find(Coarse, c => c[0] == thread.Diameter)!;
        return fit switch
        {
            ClearanceFit.Fine => row[3],
            ClearanceFit.Coarse => row[5],
            _ => row[4],
        };
    }
}
