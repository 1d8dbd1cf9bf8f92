using System.Collections.Immutable;

namespace Ratiogon.Core.Sketching;

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
        corners = new(() => [.. Solving.Turns.Corners(entities).Select(c => (PlaceOf(c.A), PlaceOf(c.Corner), PlaceOf(c.B)))]);
    }

    /// <summary>For each entity the places of its two ends; below zero where they are the sketch's own, and for what has none.</summary>
    public (int From, int To)[] Ends => ends.Value;

    /// <summary>For each entity the places of the points that it is drawn through; below zero where they are the sketch's own.</summary>
    public int[][] Points => points.Value;

    /// <summary>Points where just two lines meet, with their other ends, by place.</summary>
    public (int A, int At, int B)[] Corners => corners.Value;

    /// <summary>Where an entity stands; of the sketch's own, and of what is not there, below zero.</summary>
    public int PlaceOf(string id) => placeOf.TryGetValue(id, out var place) ? place : Sketch.OwnPlace(id);
}
