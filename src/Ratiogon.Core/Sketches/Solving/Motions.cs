using Ratiogon.Core.Numerics;
using Ratiogon.Core.Sketches.Writing;

namespace Ratiogon.Core.Sketches.Solving;

/// <summary>
/// Ways to move in which few things take part. Small components give a whole basis of their null space by elimination; in large
/// ones each motion is looked for in a neighbourhood with everything around it held, and only what moves as a whole takes
/// the projection of the null space.
/// </summary>
internal static class Motions
{
    /// <summary>What moves by less than this share of the fastest takes no part.</summary>
    private const double TakesPart = 1e-6;

    private const int Small = 160;
    private const int Neighbourhood = 48;

    /// <param name="sketch">The sketch.</param>
    /// <param name="writer">It, written.</param>
    /// <param name="system">Its reduced equations.</param>
    /// <param name="rows">Their coefficients where the motions are asked for, each column times its size.</param>
    /// <param name="size">The size that each unknown is counted in.</param>
    /// <param name="space">The same rows, judged.</param>
    /// <param name="most">The most motions to answer.</param>
    public static IReadOnlyList<Motion> Of(
        Sketch sketch,
        SystemWriter writer,
        EquationSystem system,
        (int[] Columns, double[] Values)[] rows,
        double[] size,
        RowDependence space,
        int most
    )
    {
        var found = new List<Dictionary<int, double>>();
        var components = Components.Of(system);
        var touched = new bool[system.UnknownCount];
        foreach (var (equations, unknowns) in components)
        {
            unknowns.ForEach(u => touched[u] = true);
        }

        for (var u = 0; u < touched.Length && found.Count < most; u++)
        {
            if (!touched[u])
            {
                found.Add(new Dictionary<int, double> { [u] = 1 });
            }
        }

        foreach (var (equations, unknowns) in components.OrderBy(c => c.Unknowns.Count))
        {
            if (found.Count >= most)
            {
                break;
            }

            found.AddRange(
                unknowns.Count <= Small
                    ? Basis(equations.Select(e => Plain(rows[e], size)), unknowns)
                    : Local(system, rows, size, space, equations, unknowns, most - found.Count)
            );
        }

        return [.. found.OrderBy(v => v.Count).Take(most).Select(v => MotionWords.Describe(sketch, writer, Raw(system, v)))];
    }

    /// <summary>An equation's own coefficients: those of the rows are scaled by column.</summary>
    private static (int[] Columns, double[] Values) Plain((int[] Columns, double[] Values) row, double[] size) =>
        (row.Columns, [.. row.Values.Select((v, i) => v / size[row.Columns[i]])]);

    private static IEnumerable<Dictionary<int, double>> Basis(IEnumerable<(int[] Columns, double[] Values)> rows, List<int> unknowns)
    {
        var local = unknowns.Select((u, i) => (u, i)).ToDictionary(p => p.u, p => p.i);
        var space = new RowSpace(unknowns.Count, tracking: false);
        var n = 0;
        foreach (var (columns, values) in rows)
        {
            // Unknowns outside stay where they are.
            var inside = Enumerable.Range(0, columns.Length).Where(i => local.ContainsKey(columns[i])).ToArray();
            space.Add(n++, Array.ConvertAll(inside, i => local[columns[i]]), Array.ConvertAll(inside, i => values[i]));
        }

        return space.NullSpace().Select(v => v.ToDictionary(p => unknowns[p.Key], p => p.Value));
    }

    private static List<Dictionary<int, double>> Local(
        EquationSystem system,
        (int[] Columns, double[] Values)[] rows,
        double[] size,
        RowDependence space,
        List<int> equations,
        List<int> unknowns,
        int most
    )
    {
        var rowsOf = unknowns.ToDictionary(u => u, _ => new List<int>());
        foreach (var e in equations)
        {
            foreach (var c in system.Columns[e])
            {
                rowsOf[c].Add(e);
            }
        }

        var found = new List<Dictionary<int, double>>();
        var seen = new HashSet<int>();
        foreach (var u in unknowns)
        {
            if (found.Count >= most)
            {
                break;
            }

            if (seen.Contains(u) || space.RankOf([u]) == 0)
            {
                continue;
            }

            var near = Around(system, rowsOf, u);
            var basis = Basis(near.SelectMany(v => rowsOf[v]).Distinct().Order().Select(e => Plain(rows[e], size)), near)
                .Where(v => v.Keys.Any(k => !seen.Contains(k)))
                .ToList();
            if (basis.Count == 0)
            {
                var whole = space.Motion(u).Select((v, i) => v * size[i]).ToArray();
                var largest = whole.Max(Math.Abs);
                basis =
                [
                    Enumerable
                        .Range(0, whole.Length)
                        .Where(i => Math.Abs(whole[i]) > TakesPart * largest)
                        .ToDictionary(i => i, i => whole[i]),
                ];
            }

            foreach (var motion in basis.OrderBy(v => v.Count))
            {
                found.Add(motion);
                seen.UnionWith(motion.Keys);
            }
        }

        return found;
    }

    /// <summary>The unknowns nearest to one, by the equations that they share.</summary>
    private static List<int> Around(EquationSystem system, Dictionary<int, List<int>> rowsOf, int u)
    {
        var near = new List<int> { u };
        var seen = new HashSet<int> { u };
        for (var i = 0; i < near.Count && near.Count < Neighbourhood; i++)
        {
            foreach (var c in rowsOf[near[i]].SelectMany(e => system.Columns[e]))
            {
                if (near.Count < Neighbourhood && seen.Add(c))
                {
                    near.Add(c);
                }
            }
        }

        return near;
    }

    /// <summary>A vector over the unknowns, spelled out over the raw ones.</summary>
    private static Dictionary<int, double> Raw(EquationSystem system, Dictionary<int, double> vector)
    {
        var raw = new Dictionary<int, double>();
        for (var v = 0; v < system.RawCount; v++)
        {
            if (system.UnknownOf(v) is var u and >= 0 && vector.TryGetValue(u, out var value))
            {
                raw[v] = value;
            }
        }

        return raw;
    }
}
