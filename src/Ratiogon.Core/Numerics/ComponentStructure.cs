using System.Collections.Concurrent;

namespace Ratiogon.Core.Numerics;

/// <summary>
/// What of a component depends only on which equation touches which unknown: its decomposition. A sketch whose sizes
/// change keeps its structure, so the last ones are kept.
/// </summary>
internal sealed class ComponentStructure
{
    private const int MostKept = 512;
    private static readonly ConcurrentDictionary<StructureKey, ComponentStructure> Kept = new();
    private readonly Lazy<DulmageMendelsohn> parts;

    private ComponentStructure(int[][] rows, int columnCount) => parts = new(() => DulmageMendelsohn.Of(rows, columnCount));

    /// <summary>The decomposition, by places in the component's lists.</summary>
    public DulmageMendelsohn Parts => parts.Value;

    public static ComponentStructure Of(EquationSystem system, List<int> equations, List<int> unknowns)
    {
        var local = new int[system.UnknownCount];
        for (var i = 0; i < unknowns.Count; i++)
        {
            local[unknowns[i]] = i;
        }

        var rows = new int[equations.Count][];
        for (var i = 0; i < rows.Length; i++)
        {
            rows[i] = Array.ConvertAll(system.Columns[equations[i]], c => local[c]);
        }

        var key = new StructureKey(rows, unknowns.Count);
        if (Kept.TryGetValue(key, out var known))
        {
            return known;
        }

        if (Kept.Count >= MostKept)
        {
            Kept.Clear();
        }

        return Kept.GetOrAdd(key, k => new ComponentStructure(k.Rows, k.ColumnCount));
    }
}
