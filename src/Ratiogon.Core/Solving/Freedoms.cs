using Ratiogon.Core.Sketching;

namespace Ratiogon.Core.Solving;

/// <summary>One way in which a sketch can still move.</summary>
/// <param name="Words">For example <c>circle c4 grows</c>.</param>
/// <param name="Moves">For each moving point, its direction (x, y); for each circle, the change of its radius (r, 0).
/// Scaled so that the largest is 1.</param>
public sealed record Motion(string Words, IReadOnlyDictionary<string, Geometry.Vec2> Moves);

/// <summary>What of a sketch can still move.</summary>
/// <param name="Count">Degrees of freedom: unknowns less the rank of the Jacobian.</param>
/// <param name="OfEntity">For each entity, the rank of its rows in a basis of the motions; 0 means set.</param>
/// <param name="Motions">A basis of motions in which few entities move at a time.</param>
public sealed record Freedoms(int Count, IReadOnlyDictionary<string, int> OfEntity, IReadOnlyList<Motion> Motions)
{
    /// <summary>Motions that are put into words by default: more than anyone reads.</summary>
    public const int MostMotions = 12;

    private const int DenseLimit = 120;

    /// <summary>Counts the freedoms of a solved sketch. Where the numerical rank falls short of the structural one the
    /// drawn position may be special, and the count is taken at a witness.</summary>
    public static Freedoms Of(Sketch sketch, int mostMotions = MostMotions)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        var (basis, writer, system, fellShort) = NullSpace(sketch);
        if (fellShort && Witness.Of(sketch) is { } witness)
        {
            var (generic, genericWriter, genericSystem, _) = NullSpace(witness);
            if (generic.Count < basis.Count)
            {
                (basis, writer, system) = (generic, genericWriter, genericSystem);
            }
        }

        var rows = new Dictionary<int, List<(int Motion, double Value)>>();
        for (var m = 0; m < basis.Count; m++)
        {
            foreach (var (unknown, value) in basis[m])
            {
                (rows.TryGetValue(unknown, out var list) ? list : rows[unknown] = []).Add((m, value));
            }
        }

        var ofEntity = sketch.Entities.ToDictionary(
            e => e.Id,
            e => RankOf([.. UnknownsOf(writer, e).Select(system.UnknownOf).Where(u => u >= 0).Distinct()], rows),
            StringComparer.Ordinal);
        var told = basis.OrderBy(v => v.Count).Take(mostMotions).Select(v => MotionWords.Describe(sketch, writer, Raw(system, v)));
        return new Freedoms(basis.Count, ofEntity, [.. told]);
    }

    private static int[] UnknownsOf(SystemWriter writer, SketchEntity entity)
    {
        var unknowns = new List<int>();
        foreach (var point in entity is PointEntity ? [entity.Id] : entity.Points)
        {
            unknowns.Add(writer.PointIndex(point));
            unknowns.Add(writer.PointIndex(point) + 1);
        }

        if (entity is CircleEntity or ArcEntity)
        {
            unknowns.Add(writer.RadiusOf(entity));
        }

        return [.. unknowns];
    }

    private static int RankOf(int[] unknowns, Dictionary<int, List<(int Motion, double Value)>> rows)
    {
        var columns = new Dictionary<int, int>();
        foreach (var (motion, _) in unknowns.SelectMany(u => rows.GetValueOrDefault(u) ?? []))
        {
            columns.TryAdd(motion, columns.Count);
        }

        if (columns.Count == 0)
        {
            return 0;
        }

        var matrix = new double[unknowns.Length * columns.Count];
        for (var i = 0; i < unknowns.Length; i++)
        {
            foreach (var (motion, value) in rows.GetValueOrDefault(unknowns[i]) ?? [])
            {
                matrix[(i * columns.Count) + columns[motion]] = value;
            }
        }

        return RankRevealingQr.Rank(matrix, unknowns.Length, columns.Count, 1e-7);
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

    /// <summary>The null space over the unknowns, and whether the rank fell short of the structural rank.</summary>
    private static (List<Dictionary<int, double>> Basis, SystemWriter Writer, EquationSystem System, bool Short) NullSpace(Sketch sketch)
    {
        var writer = SketchCompiler.Write(sketch, Witness.Readings(sketch), reducing: true);
        var system = EquationSystem.From(writer);
        var reduced = new List<Dictionary<int, double>>();
        var touched = new bool[system.UnknownCount];
        var fell = false;
        var row = new double[Equation.MostVariables];
        foreach (var (equations, unknowns) in Components.Of(system))
        {
            var local = unknowns.Select((u, i) => (u, i)).ToDictionary(p => p.u, p => p.i);
            var space = new RowSpace(unknowns.Count, tracking: false);
            var dense = unknowns.Count <= DenseLimit ? new double[equations.Count * unknowns.Count] : null;
            for (var i = 0; i < equations.Count; i++)
            {
                system.Evaluate(equations[i], system.Start, row);
                var columns = Array.ConvertAll(system.Columns[equations[i]], c => local[c]);
                space.Add(i, columns, row.AsSpan(0, columns.Length));
                FillDense(dense, i, unknowns.Count, columns, row);
            }

            unknowns.ForEach(u => touched[u] = true);
            var rank = dense is null ? space.Rank : RankRevealingQr.Rank(dense, equations.Count, unknowns.Count, Tolerances.Rank);
            fell |= Math.Min(rank, space.Rank) < ComponentStructure.Of(system, equations, unknowns).Parts.StructuralRank;
            reduced.AddRange(space.NullSpace().Select(v => v.ToDictionary(p => unknowns[p.Key], p => p.Value)));
        }

        for (var u = 0; u < touched.Length; u++)
        {
            if (!touched[u])
            {
                reduced.Add(new Dictionary<int, double> { [u] = 1 });
            }
        }

        return (reduced, writer, system, fell);
    }

    private static void FillDense(double[]? dense, int i, int width, int[] columns, double[] row)
    {
        if (dense is null)
        {
            return;
        }

        for (var k = 0; k < columns.Length; k++)
        {
            dense[(i * width) + columns[k]] = row[k];
        }
    }
}
