using System.Collections;
using System.Collections.Immutable;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Steps;

namespace Ratiogon.Core.Building;

/// <summary>
/// What each step of a part has to wait for, found out before anything is built: the steps that it refers to or whose
/// readings its formulas use, and those before it that work on the same bodies. Steps that need not wait for each other can
/// be built side by side, and a form that keeps to some bodies is not built again when others change.
/// </summary>
/// <remarks>
/// Bodies go by the place of the step that may begin them. Where only the build shows which bodies a step meets, it counts
/// for all that there are. Bodies that one step worked on together are kin from then on: faces may have gone from one to
/// another.
/// </remarks>
internal sealed class BuildOrder
{
    private readonly Part part;
    private readonly Dictionary<string, int> places = new(StringComparer.Ordinal);
    private readonly BitArray[] scopes;
    private readonly BitArray?[] kin;
    private readonly BitArray known;

    /// <summary>The places of <see cref="known"/>: of the steps that began a body, or may have.</summary>
    private readonly List<int> began = [];
    private readonly int[] touched;
    private readonly bool[] loose;

    /// <summary>By what they ask for that is not there yet, a step or a reading: the steps that asked too early. What comes later
    /// must not be seen by them.</summary>
    private readonly Dictionary<string, List<int>> early = new(StringComparer.Ordinal);
    private readonly Dictionary<string, int> readings = new(StringComparer.Ordinal);

    private BuildOrder(Part part)
    {
        var count = part.Steps.Length;
        this.part = part;
        (scopes, kin, known, touched, loose) = (
            new BitArray[count],
            new BitArray?[count],
            new BitArray(count),
            new int[count],
            new bool[count]
        );
        (Before, Next) = (new int[count], [.. part.Steps.Select(_ => new List<int>())]);
        var named = part.Steps.OfType<ReadingStep>().Where(r => r.Named).Select(r => r.Name).ToHashSet(StringComparer.Ordinal);
        for (var i = 0; i < count; i++)
        {
            var after = new HashSet<int>();
            Place(part.Steps[i], i, named, after);
            Before[i] = after.Count;
            foreach (var earlier in after)
            {
                Next[earlier].Add(i);
            }
        }
    }

    /// <summary>By step: how many it waits for.</summary>
    public int[] Before { get; }

    /// <summary>By step: those that wait for it.</summary>
    public ImmutableArray<List<int>> Next { get; }

    public static BuildOrder Of(Part part) => new(part);

    /// <summary>The place of the step that began a body.</summary>
    public int PlaceOf(string body) => places[World.StepOf(body)];

    /// <summary>Whether a step may look at a body, or change it.</summary>
    public bool Sees(int step, string body) => scopes[step][PlaceOf(body)];

    private void Place(Step step, int at, HashSet<string> named, HashSet<int> after)
    {
        var asked = step.References.Select(World.StepOf).Where(id => id != World.Id).Distinct().ToList();
        after.UnionWith(asked.Where(places.ContainsKey).Select(id => places[id]));
        asked.Where(id => !places.ContainsKey(id)).ToList().ForEach(id => AskedEarly(id, at));
        foreach (var name in named.Count == 0 ? [] : step.NamesUsed().Distinct().Where(named.Contains))
        {
            if (readings.TryGetValue(name, out var reading))
            {
                after.Add(reading);
            }

            AskedEarly(Reading(name), at);
        }

        after.UnionWith(early.GetValueOrDefault(step.Id, []));
        if (step is ReadingStep { Named: true })
        {
            after.UnionWith(early.GetValueOrDefault(Reading(step.Name), []));
            readings[step.Name] = at;
        }

        places[step.Id] = at;
        scopes[at] = part.Leaves(step) ? new BitArray(known.Length) : Scope(step, at, asked);
        foreach (var body in Members(scopes[at]))
        {
            if (body != at)
            {
                after.Add(touched[body]);
            }

            touched[body] = at;
        }

        after.Remove(at);
    }

    private static string Reading(string name) => $"= {name}";

    private void AskedEarly(string what, int at) => (early.TryGetValue(what, out var those) ? those : early[what] = []).Add(at);

    /// <summary>The bodies that a step looks at or changes. Those of a form are kin from now on.</summary>
    private BitArray Scope(Step step, int at, List<string> asked)
    {
        // What is gone may have been on any body.
        var gone = asked.Exists(id => !places.ContainsKey(id));
        var keeps = WorksOn(step);
        loose[at] = keeps is null;
        var works = gone || keeps is null ? new BitArray(known) : Together(keeps.Select(World.StepOf));
        if (step is FormStep or ImportStep)
        {
            known[at] = works[at] = true;
            began.Add(at);
            foreach (var member in Members(new BitArray(works)))
            {
                works.Or(kin[member] ?? works);
            }

            foreach (var member in Members(works))
            {
                kin[member] = works;
            }
        }

        return Together(asked).Or(works);
    }

    /// <summary>The references by which a step says which bodies it works on; null for all there are.</summary>
    private Refs? WorksOn(Step step) =>
        step switch
        {
            FormStep form => form.Repeats.Any(id => places.TryGetValue(id, out var at) && loose[at]) ? null : form.KeepsTo,
            ImportStep import => import.Apart ? [] : null,
            ReadingStep { Of.IsEmpty: true } => null,
            SketchStep sketch when sketch.Copies.Any(c => c.How == CopyHow.Section) => null,
            _ => [],
        };

    /// <summary>The bodies that faces named by these steps may be on now.</summary>
    private BitArray Together(IEnumerable<string> steps) =>
        steps
            .Where(places.ContainsKey)
            .Select(id => kin[places[id]])
            .OfType<BitArray>()
            .Aggregate(new BitArray(known.Length), (all, one) => all.Or(one));

    private IEnumerable<int> Members(BitArray set) => began.Where(i => set[i]);
}
