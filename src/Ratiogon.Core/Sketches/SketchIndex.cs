using System.Collections.Immutable;
using System.Runtime.InteropServices;

namespace Ratiogon.Core.Sketches;

/// <summary>Where the entities of a sketch stand in its list, and what hangs on whom: worked out once for all sketches that
/// differ in their positions only.</summary>
internal sealed class SketchIndex
{
    private readonly Dictionary<string, int> placeOf;
    private readonly Lazy<(int From, int To)[]> ends;
    private readonly Lazy<(int A, int At, int B)[]> corners;
    private readonly Lazy<int[][]> points;

    public SketchIndex(ImmutableArray<SketchEntity> entities)
    {
        placeOf = new Dictionary<string, int>(entities.Length, StringComparer.Ordinal);
        for (var i = 0; i < entities.Length; i++)
        {
            placeOf[entities[i].Id] = i;
        }

        ends = new(() => [.. entities.Select(e => Curves.Ends(e) is var (a, b) ? (PlaceOf(a), PlaceOf(b)) : (int.MinValue, int.MinValue))]);
        points = new(() => [.. entities.Select(e => e.Points.Select(PlaceOf).ToArray())]);
        corners = new(() => [.. CornersOf(entities).Select(c => (PlaceOf(c.A), PlaceOf(c.Corner), PlaceOf(c.B)))]);
    }

    /// <summary>For each entity the places of its two ends; below zero where they are the sketch's own, and for what has none.</summary>
    public (int From, int To)[] Ends => ends.Value;

    /// <summary>For each entity the places of the points that it is drawn through; below zero where they are the sketch's own.</summary>
    public int[][] Points => points.Value;

    /// <summary>Points where just two lines meet, with their other ends, by place.</summary>
    public (int A, int At, int B)[] Corners => corners.Value;

    /// <summary>Where an entity stands; of the sketch's own, and of what is not there, below zero.</summary>
    public int PlaceOf(string id) => placeOf.TryGetValue(id, out var place) ? place : Sketch.OwnPlace(id);

    /// <summary>Points where just two lines meet, with their other ends.</summary>
    public static IEnumerable<(string A, string Corner, string B)> CornersOf(IEnumerable<SketchEntity> entities)
    {
        var ends = new Dictionary<string, (string? A, string? B, bool More)>(StringComparer.Ordinal);
        foreach (var line in entities.OfType<LineEntity>())
        {
            Note(line.From, line.To);
            Note(line.To, line.From);
        }

        return ends.Where(e => e.Value is { B: not null, More: false }).Select(e => (e.Value.A!, e.Key, e.Value.B!));

        void Note(string corner, string other)
        {
            ref var at = ref CollectionsMarshal.GetValueRefOrAddDefault(ends, corner, out _);
            at =
                at.A is null ? (other, null, false)
                : at.B is null ? (at.A, other, false)
                : at with { More = true };
        }
    }
}
