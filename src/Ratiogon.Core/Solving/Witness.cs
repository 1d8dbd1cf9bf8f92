using Ratiogon.Core.Sketching;

namespace Ratiogon.Core.Solving;

/// <summary>
/// A nearby configuration that meets the same constraints but is otherwise generic (Michelucci and Foufou,
/// "Geometric constraint solving: the witness configuration method", 2006). Ranks taken there are not fooled by
/// things that merely happen to line up.
/// </summary>
internal static class Witness
{
    /// <summary>The sketch at a witness, or null when none was reached. Dimensions are let go; they take the values
    /// that they read there.</summary>
    public static Sketch? Of(Sketch sketch)
    {
        var writer = SketchCompiler.Write(sketch, new Dictionary<string, double>(), reducing: true);
        var system = EquationSystem.From(writer);
        var x = (double[])system.Start.Clone();
        var size = 1.0;
        foreach (var v in writer.Start)
        {
            size = Math.Max(size, Math.Abs(v));
        }

        // A fixed seed: the same sketch always gets the same answer.
        var random = new Random(20260717);
        for (var i = 0; i < x.Length; i++)
        {
            x[i] += (random.NextDouble() - 0.5) * 0.03 * size;
        }

        var steps = 0;
        foreach (var (equations, unknowns) in Components.Of(system))
        {
            if (!new MinimumNorm(system, [.. equations], [.. unknowns]).Solve(x, system.Weights, ref steps))
            {
                return null;
            }
        }

        var witness = SketchCompiler.WithPositions(sketch, writer, system.ToRaw(x));
        return SketchCheck.Check(witness) is null ? witness : null;
    }

    /// <summary>What each driving dimension reads on the drawn positions.</summary>
    public static Dictionary<string, double> Readings(Sketch sketch)
    {
        var values = new Dictionary<string, double>(StringComparer.Ordinal);
        foreach (var dimension in sketch.Dimensions)
        {
            if (dimension.Driving && DimensionCatalog.Measure(sketch, dimension) is { } now && DimensionCatalog.Find(dimension.Kind)!.CheckValue(now) is null)
            {
                values[dimension.Id] = now;
            }
        }

        return values;
    }
}
