using Ratiogon.Core.Numerics;
using Ratiogon.Core.Sketches.Rules;
using Ratiogon.Core.Sketches.Writing;

namespace Ratiogon.Core.Sketches.Solving;

/// <summary>
/// A nearby configuration that meets the same constraints but is otherwise generic (Michelucci and Foufou,
/// "Geometric constraint solving: the witness configuration method", 2006). Ranks taken there are not fooled by
/// things that merely happen to line up.
/// </summary>
internal static class Witness
{
    private const int MostSteps = 40;
    private static readonly double[] Shares = [0.03, 0.03, 0.01, 0.1, 0.003, 0.03, 0.001, 0.2];

    /// <summary>The sketch at a witness, or null when none was reached. Dimensions are let go; they take the values
    /// that they read there. Every unknown is moved by a share of its own size, less or otherwise where that leads nowhere.</summary>
    public static Sketch? Of(Sketch sketch)
    {
        var scales = Scales.Of(sketch);
        for (var i = 0; i < Shares.Length; i++)
        {
            if (Near(sketch, scales.Stirred(sketch, i, Shares[i])) is { } witness)
            {
                return witness;
            }
        }

        return null;
    }

    /// <summary>Another place near the drawn one with the same sizes, or null when none was reached.</summary>
    public static Sketch? OfSameSizes(Sketch sketch)
    {
        var scales = Scales.Of(sketch);
        for (var i = 0; i < 3; i++)
        {
            if (Near(sketch, scales.Stirred(sketch, i, Shares[i]), Readings(sketch)) is { } witness)
            {
                return witness;
            }
        }

        return null;
    }

    /// <summary>A place that meets the constraints near a stirred one. They are written as things are drawn, so that each keeps its
    /// side.</summary>
    private static Sketch? Near(Sketch sketch, Sketch stirred, IReadOnlyDictionary<string, double>? values = null)
    {
        var writer = SketchCompiler.Write(sketch, values ?? new Dictionary<string, double>(), reducing: true);
        var system = SystemReduction.Of(writer, SketchCompiler.Positions(writer, stirred));
        var x = (double[])system.Start.Clone();
        var steps = 0;
        foreach (var (equations, unknowns) in Components.Of(system))
        {
            // As exact as numbers allow: whether rows depend on each other is read off to 1e-8 there.
            if (
                !new MinimumNorm(system, [.. equations], [.. unknowns], x).Solve(
                    x,
                    system.Weights,
                    ref steps,
                    MostSteps,
                    system.Tolerance / 100
                ) && !system.Meets(equations, x)
            )
            {
                return null;
            }
        }

        for (var e = 0; e < system.Equations.Length; e++)
        {
            if (!system.OnSameSide(e, x))
            {
                return null;
            }
        }

        var witness = SketchCompiler.WithPositions(sketch, writer, system.ToRaw(x));
        return SketchCheck.Collapsed(witness) is null ? witness : null;
    }

    /// <summary>What each driving dimension reads on the drawn positions.</summary>
    public static Dictionary<string, double> Readings(Sketch sketch)
    {
        var values = new Dictionary<string, double>(StringComparer.Ordinal);
        foreach (var dimension in sketch.Dimensions)
        {
            if (
                dimension.Driving
                && DimensionCatalog.Measure(sketch, dimension) is { } now
                && DimensionCatalog.Find(dimension.Kind)!.CheckValue(now) is null
            )
            {
                values[dimension.Id] = now;
            }
        }

        return values;
    }
}
