using Ratiogon.Core.Datums;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Meshes;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Steps;

namespace Ratiogon.Server.Parts;

/// <summary>What a step is made of, in a line.</summary>
internal static class StepSummary
{
    /// <param name="step">The step.</param>
    /// <param name="said">How a reference is said.</param>
    public static string Of(Step step, Func<string, string> said) =>
        step switch
        {
            DatumStep d => string.Join(
                ", ",
                d.Conditions.Select(c =>
                    $"{RelationCatalog.Find(d.Makes, c.Relation)?.Words ?? c.Relation} {string.Join(" and ", c.Of.Select(said))}"
                )
            ),
            CurveStep c => $"{c.Shape.ToString().ToLowerInvariant()} {(c.Points.Length > 1 ? "through" : "about")} "
                + $"{string.Join(", ", c.Points.Select(said))}",
            SketchStep { Like: { } like } s => $"as {said(like)}, on {said(s.On)}",
            SketchStep s => $"on {said(s.On)}",
            FormStep f => string.Join(
                ", ",
                f.Fields.Where(x => x.When(f))
                    .Select(x =>
                        x switch
                        {
                            PickField p when p.Accepts != PickKind.Region && p.Get(f).Count > 0 =>
                                $"{p.Label.ToLowerInvariant()} {string.Join(", ", p.Get(f).Select(said))}",
                            ChoiceField c => c.Options.FirstOrDefault(o => o.Value == c.Get(f)).Words,
                            _ => null,
                        }
                    )
                    .Where(w => w is not null)
            ),
            ReadingStep r => r.Of.IsEmpty ? r.What : $"{r.What} of {string.Join(" and ", r.Of.Select(said))}",
            ImportStep { Bodies.Count: > 0 } i => $"{i.File}: {string.Join(", ", i.Bodies.Select((name, n) => BodyOf(i, name, n + 1)))}",
            ImportStep i => i.File,
            MeshStep m => $"{m.File}, in {m.Unit.Symbol()}",
            UnreadStep => "cannot be read",
            _ => "",
        };

    private static string BodyOf(ImportStep import, string name, int number) =>
        (name.Length > 0 ? name : $"body {number}") + (import.LeavesOut(number) ? " (left out)" : "");
}
