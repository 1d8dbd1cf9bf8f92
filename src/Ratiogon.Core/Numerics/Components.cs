namespace Ratiogon.Core.Numerics;

/// <summary>Connected components of the equation-unknown graph.</summary>
internal static class Components
{
    /// <summary>The equations and unknowns of each component that has an equation; unknowns that no equation touches
    /// belong to none.</summary>
    public static List<(List<int> Equations, List<int> Unknowns)> Of(EquationSystem system)
    {
        var sets = new DisjointSets(system.UnknownCount);
        foreach (var columns in system.Columns)
        {
            for (var i = 1; i < columns.Length; i++)
            {
                sets.Join(columns[i], columns[0]);
            }
        }

        var found = new Dictionary<int, (List<int> Equations, List<int> Unknowns)>();
        for (var e = 0; e < system.Columns.Length; e++)
        {
            if (system.Columns[e].Length > 0)
            {
                var root = sets.Of(system.Columns[e][0]);
                if (!found.TryGetValue(root, out var component))
                {
                    found[root] = component = ([], []);
                }

                component.Equations.Add(e);
            }
        }

        for (var v = 0; v < system.UnknownCount; v++)
        {
            if (found.TryGetValue(sets.Of(v), out var component))
            {
                component.Unknowns.Add(v);
            }
        }

        return [.. found.Values];
    }
}
