using Ratiogon.Core.Numerics;
using Ratiogon.Core.Sketches.Writing;

namespace Ratiogon.Core.Sketches.Solving;

/// <summary>
/// How something that hangs on the places of a solved sketch grows with the sketch's sizes, by the implicit function theorem: where
/// F(x, s) = 0 holds, a gradient g over the places is made up of the rows of the Jacobian, J'l = g, and its slopes to the sizes are
/// -l' dF/ds. One sparse factor answers for all sizes.
/// </summary>
internal sealed class SketchSlopes
{
    /// <summary>What sizes are moved by to have the derivatives of their own equations, as a share of them.</summary>
    private const double SizeStride = 1e-3;

    /// <summary>A size of nothing is moved as if it were this large, in mm or radians.</summary>
    private const double LeastSize = 1e-2;

    /// <summary>What of a change of sizes, as a share, would tear equations apart that depend on one another.</summary>
    private const double Tears = 1e-7;

    private readonly SystemWriter writer;
    private readonly EquationSystem system;
    private readonly ProximalRows rows;
    private readonly IReadOnlyDictionary<string, double>[] bySize;
    private readonly Dictionary<string, SizeSlope> bound = new(StringComparer.Ordinal);

    private SketchSlopes(
        SystemWriter writer,
        EquationSystem system,
        ProximalRows rows,
        IReadOnlyDictionary<string, double>[] bySize,
        double[] held
    )
    {
        (this.writer, this.system, this.rows, this.bySize) = (writer, system, rows, bySize);
        Collect(bound, held, weighed: false);
    }

    /// <summary>Prepares the answers; null where the equations are not ones that can be followed.</summary>
    /// <param name="solved">A sketch whose positions meet its sizes.</param>
    /// <param name="values">Its driving sizes by id, in mm and radians.</param>
    public static SketchSlopes? Of(Sketch solved, IReadOnlyDictionary<string, double> values)
    {
        var writer = SketchCompiler.Write(solved, values, reducing: false);
        var system = SystemReduction.Of(writer);
        var (x, count) = (system.Start, system.Equations.Length);
        if (writer.ClashingReductions.Count > 0 || system.LargestResidual(x) > Math.Max(Tears, system.Tolerance))
        {
            return null;
        }

        var coefficients = new double[count][];
        Span<double> row = stackalloc double[Equation.MostVariables];
        for (var e = 0; e < count; e++)
        {
            system.Evaluate(e, x, row);
            coefficients[e] = row[..system.Columns[e].Length].ToArray();
        }

        var rows = new ProximalRows(system.Columns, coefficients, system.UnknownCount);
        var bySize = SizeSlopes(solved, values, system);
        if (!rows.Usable || bySize is null)
        {
            return null;
        }

        // Where rows depend on one another, a size that is one of them cannot change alone; a vector that is not special tells.
        var probe = new double[count];
        for (var e = 0; e < count; e++)
        {
            probe[e] = Math.Sin((e * 12.9898) + 1);
        }

        return new SketchSlopes(writer, system, rows, bySize, rows.Bound(probe));
    }

    /// <summary>The unknowns that an entity's place is: those of its points, and its own.</summary>
    public IEnumerable<int> UnknownsOf(SketchEntity entity) =>
        entity
            .Points.Select(p => writer.Sketch.Find(p))
            .OfType<SketchEntity>()
            .Append(entity)
            .SelectMany(writer.OwnOf)
            .Where(raw => system.UnknownOf(raw) >= 0)
            .Distinct();

    /// <summary>Entities of the sketch, without its rules, with one of its unknowns moved.</summary>
    public Sketch Moved(Sketch loose, int raw, double by)
    {
        SketchEntity At(SketchEntity entity)
        {
            var own = writer.OwnOf(entity);
            return Array.IndexOf(own, raw) is var i and >= 0
                ? entity switch
                {
                    PointEntity p => p with { At = p.At + (i == 0 ? new Vec2(by, 0) : new Vec2(0, by)) },
                    CircleEntity c => c with { Radius = c.Radius + by },
                    ArcEntity a => a with { Radius = a.Radius + by },
                    _ => entity,
                }
                : entity;
        }

        return loose with
        {
            Entities = [.. loose.Entities.Select(At)],
        };
    }

    /// <summary>The slopes to all sizes that move it, each with the sum of its terms' amounts; null where it hangs on what no size
    /// determines.</summary>
    /// <param name="gradient">Of what is asked about, by raw unknowns.</param>
    public IReadOnlyDictionary<string, SizeSlope>? Of(IReadOnlyDictionary<int, double> gradient)
    {
        var g = new double[system.UnknownCount];
        foreach (var (raw, slope) in gradient)
        {
            g[system.UnknownOf(raw)] += slope;
        }

        if (rows.Combine(g) is not { } weights)
        {
            return null;
        }

        var slopes = new Dictionary<string, SizeSlope>(StringComparer.Ordinal);
        Collect(slopes, weights, weighed: true);
        return slopes;
    }

    /// <summary>Of each size, what its equations make with these weights; the amounts are of the terms, or of what is weighed.</summary>
    private void Collect(Dictionary<string, SizeSlope> to, double[] weights, bool weighed)
    {
        for (var e = 0; e < bySize.Length; e++)
        {
            foreach (var (size, by) in bySize[e])
            {
                var (term, before) = (-weights[e] * by, to.GetValueOrDefault(size));
                to[size] = new SizeSlope(before.Slope + term, before.Amount + Math.Abs(weighed ? term : by));
            }
        }
    }

    /// <summary>Whether sizes can change at these rates with all rules going on to hold.</summary>
    public bool Allows(IReadOnlyDictionary<string, double> rates)
    {
        var (sum, amount) = (0.0, 0.0);
        foreach (var (size, rate) in rates)
        {
            if (bound.TryGetValue(size, out var by))
            {
                (sum, amount) = (sum + (by.Slope * rate), amount + Math.Abs(by.Amount * rate));
            }
        }

        return Math.Abs(sum) <= Tears * amount;
    }

    /// <summary>For each equation, the derivatives of its residual by the sizes that it is written for; null where other values of
    /// the sizes write other equations.</summary>
    private static IReadOnlyDictionary<string, double>[]? SizeSlopes(
        Sketch solved,
        IReadOnlyDictionary<string, double> values,
        EquationSystem system
    )
    {
        double Stride(string size) => SizeStride * Math.Max(Math.Abs(values[size]), LeastSize);
        EquationSystem At(double strides) =>
            SystemReduction.Of(
                SketchCompiler.Write(solved, values.ToDictionary(v => v.Key, v => v.Value + (strides * Stride(v.Key))), reducing: false)
            );

        double[] places = [1, -1, 0.5, -0.5];
        var moved = Array.ConvertAll(places, At);
        var count = system.Equations.Length;
        if (moved.Any(m => m.Equations.Length != count || m.UnknownCount != system.UnknownCount))
        {
            return null;
        }

        var raw = system.ToRaw(system.Start);
        var slopes = new IReadOnlyDictionary<string, double>[count];
        Span<double> v = stackalloc double[Equation.MostVariables];
        Span<double> d = stackalloc double[Equation.MostVariables];
        Span<double> residual = stackalloc double[places.Length];
        for (var e = 0; e < count; e++)
        {
            var equation = system.Equations[e];
            slopes[e] = System.Collections.ObjectModel.ReadOnlyDictionary<string, double>.Empty;
            if (equation.Owner is not { Kind: OwnerKind.Dimension, Id: var size } || !values.ContainsKey(size))
            {
                continue;
            }

            for (var i = 0; i < equation.RawVariables.Length; i++)
            {
                v[i] = raw[equation.RawVariables[i]];
            }

            for (var p = 0; p < places.Length; p++)
            {
                if (!moved[p].Equations[e].RawVariables.AsSpan().SequenceEqual(equation.RawVariables))
                {
                    return null;
                }

                residual[p] = moved[p].Equations[e].Evaluate(v, d);
            }

            var stride = Stride(size);
            var (far, near) = ((residual[0] - residual[1]) / (2 * stride), (residual[2] - residual[3]) / stride);
            slopes[e] = new Dictionary<string, double> { [size] = ((4 * near) - far) / 3 };
        }

        return slopes;
    }
}

/// <summary>A slope to a size.</summary>
/// <param name="Slope">Itself.</param>
/// <param name="Amount">The sum of the amounts of the terms it is made of: what cancels in it is seen by that.</param>
internal readonly record struct SizeSlope(double Slope, double Amount);
