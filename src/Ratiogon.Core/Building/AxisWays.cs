using System.Text.Json;
using Ratiogon.Core.Datums;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;

namespace Ratiogon.Core.Building;

/// <summary>Ways on for a hole that misses along an axis which has several solutions: those of the others that lead to material.</summary>
internal static class AxisWays
{
    private const int Most = 3;

    /// <param name="state">The rebuild, as far as it has come.</param>
    /// <param name="kernel">Has the bodies.</param>
    /// <param name="at">The place of the form among the steps.</param>
    /// <param name="refusal">Why the form was refused.</param>
    public static IEnumerable<FormWay> Of(RebuildState state, ISolidKernel kernel, int at, Refusal refusal)
    {
        if (
            refusal.Code != "hole.no-material"
            || state.Part.Steps[at] is not HoleStep { Along: { } along } hole
            || state.Part.Find(along) is not AxisStep axis
        )
        {
            return [];
        }

        var (model, bodies) = state.At(at);
        var determined = model.Resolve(axis.Makes, axis.Conditions).Map(c => DatumSolver.Solve(axis.Makes, c));
        if (!determined.Done || model.Find(along) is not { Done: true, Value.Straight: { } now })
        {
            return [];
        }

        Vec3[] centres = [.. hole.Centres.Select(c => model.Find(c)).Where(c => c.Done).Select(c => c.Value.Place).OfType<Vec3>()];
        var others = determined
            .Value.Solutions.Where(s =>
                s.Frame.X.Cross(now.Direction).Length > Tolerances.DatumAngle
                && Array.TrueForAll(centres, c => !HolePlan.Probe(kernel, bodies, new Line3(c, s.Frame.X)).IsEmpty)
            )
            .Take(Most)
            .ToList();
        return others.Select(
            (s, i) =>
                new FormWay($"Take {(others.Count == 1 ? "the other solution" : $"solution {i + 1} of the others")} of {axis.Name}", "", "")
                {
                    FirstJson = JsonSerializer.Serialize<PartCommand>(new ReplaceStep(axis with { Choice = s.Label }), PartJson.Compact),
                }
        );
    }
}
