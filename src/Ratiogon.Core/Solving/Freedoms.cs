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
    private const int DenseLimit = 120;

    /// <summary>Counts the freedoms of a solved sketch. Where the numerical rank falls short of the structural one the
    /// drawn position may be special, and the count is taken at a witness.</summary>
    public static Freedoms Of(Sketch sketch)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        var (basis, writer, fellShort) = NullSpace(sketch);
        if (fellShort && Witness.Of(sketch) is { } witness)
        {
            var (generic, genericWriter, _) = NullSpace(witness);
            if (generic.Count < basis.Count)
            {
                (basis, writer) = (generic, genericWriter);
            }
        }

        var rows = new Dictionary<int, List<(int Motion, double Value)>>();
        for (var m = 0; m < basis.Count; m++)
        {
            foreach (var (raw, value) in basis[m])
            {
                (rows.TryGetValue(raw, out var list) ? list : rows[raw] = []).Add((m, value));
            }
        }

        var ofEntity = sketch.Entities.ToDictionary(e => e.Id, e => RankOf(UnknownsOf(writer, e), rows), StringComparer.Ordinal);
        return new Freedoms(basis.Count, ofEntity, [.. basis.Select(v => MotionWords.Describe(sketch, writer, v))]);
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

    /// <summary>The null space in raw unknowns, and whether the rank fell short of the structural rank.</summary>
    private static (List<Dictionary<int, double>> Basis, SystemWriter Writer, bool Short) NullSpace(Sketch sketch)
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
            fell |= Math.Min(rank, space.Rank) < DulmageMendelsohn.Of(system, equations, unknowns).StructuralRank;
            reduced.AddRange(space.NullSpace().Select(v => v.ToDictionary(p => unknowns[p.Key], p => p.Value)));
        }

        for (var u = 0; u < touched.Length; u++)
        {
            if (!touched[u])
            {
                reduced.Add(new Dictionary<int, double> { [u] = 1 });
            }
        }

        var rawOf = new List<int>[system.UnknownCount];
        for (var raw = 0; raw < system.RawCount; raw++)
        {
            if (system.UnknownOf(raw) is var u and >= 0)
            {
                (rawOf[u] ??= []).Add(raw);
            }
        }

        var basis = reduced.Select(v => v.SelectMany(p => rawOf[p.Key].Select(raw => (raw, p.Value))).ToDictionary(p => p.raw, p => p.Value)).ToList();
        return (basis, writer, fell);
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
