using System.Collections.Immutable;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;

namespace Ratiogon.Core.Forms;

/// <summary>Picked faces repeated in other places: the pocket or the boss that they enclose is closed to a solid, moved, and
/// taken away or added once more.</summary>
internal static class FaceCopies
{
    /// <param name="site">Where.</param>
    /// <param name="step">The step that repeats: its copies are named by it.</param>
    /// <param name="picks">Faces of one body; those that hang together are one pocket or boss.</param>
    /// <param name="places">A label and a motion for every copy.</param>
    public static Outcome<FormResult> Make(FormSite site, string step, Refs picks, IReadOnlyList<(string Label, Rigid By)> places) =>
        FacePicks
            .On(site, picks, "faces")
            .Then<FormResult>(on =>
            {
                var all = ImmutableArray.CreateBuilder<MaterialResult>();
                foreach (var group in Together(on.Body, on.Faces))
                {
                    var plug = site.Kernel.Plug(on.Body.Solid, group);
                    if (!plug.Done)
                    {
                        return new Refusal(
                            "copy.faces",
                            $"These faces enclose no pocket and no boss that could be repeated: {Reason(plug.Refusal!)}. Pick all faces of "
                                + "it, up to where they meet one face around.",
                            "faces"
                        );
                    }

                    var shaped = Shaped.Of(
                        plug.Value.Plug,
                        step,
                        o => o.Kind == OriginKind.Limit ? "cap" : on.Body.Shape.Bases[o.Index],
                        o => o.Kind == OriginKind.Limit ? AxisGuide.None : on.Body.Shape.Guide(o.Index)
                    );
                    var tools = Copies.Placed(site, step, [shaped], places);
                    if (!tools.Done)
                    {
                        return tools.Refusal!;
                    }

                    all.Add(new MaterialResult(tools.Value, plug.Value.Adds ? FormOperation.Join : FormOperation.Cut, [on.Body.Name]));
                }

                return new SeveralResult(all.ToImmutable());
            });

    /// <summary>The picked faces in groups that hang together by edges.</summary>
    private static List<List<int>> Together(FormBody body, ImmutableArray<int> faces)
    {
        var groups = new List<List<int>>();
        var left = faces.ToHashSet();
        while (left.Count > 0)
        {
            List<int> group = [left.First()];
            left.Remove(group[0]);
            for (var i = 0; i < group.Count; i++)
            {
                foreach (
                    var next in body
                        .Topology.Edges.Where(e => e.Faces.Contains(group[i]))
                        .SelectMany(e => e.Faces)
                        .Where(left.Contains)
                        .Distinct()
                        .ToList()
                )
                {
                    left.Remove(next);
                    group.Add(next);
                }
            }

            groups.Add(group);
        }

        return groups;
    }

    private static string Reason(Refusal kernel) =>
        kernel.Message[(kernel.Message.IndexOf(": ", StringComparison.Ordinal) + 2)..].TrimEnd('.');
}
