using System.Collections.Immutable;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Asking;

/// <summary>Something of a part, in a list of what hangs on what.</summary>
/// <param name="Step">Id of the step; empty for a parameter.</param>
/// <param name="Name">The parameter's name; empty for a step.</param>
/// <param name="Words">As people call it.</param>
/// <param name="Via">By what it hangs on the one that is a step nearer: a size, a reference.</param>
/// <param name="Away">How many steps it is away; 1 for the nearest.</param>
/// <param name="From">Which of the nearer ones it hangs on: its place in the same list, or -1 for what was asked.</param>
public sealed record WhyNode(string Step, string Name, string Words, string Via, int Away, int From);

/// <summary>What something hangs on, and what hangs on it.</summary>
/// <param name="Words">What was asked.</param>
/// <param name="Above">What it hangs on, the nearest first.</param>
/// <param name="Below">What hangs on it: what would be built again if it changed.</param>
/// <param name="After">Names of forms that only come after it on the same material: built again, though they refer to nothing of
/// it.</param>
[Kind("why")]
public sealed record WhyAnswer(string Words, ImmutableArray<WhyNode> Above, ImmutableArray<WhyNode> Below, ImmutableArray<string> After)
    : Answer;

/// <summary>Follows formulas and references both ways.</summary>
public static class WhyOf
{
    private sealed record Place(string Step, string Name);

    private sealed record Link(Place On, Place From, string Via);

    public static Outcome<WhyAnswer> Of(Part part, string step, string name)
    {
        ArgumentNullException.ThrowIfNull(part);
        var asked = new Place(step ?? "", name ?? "");
        if (asked.Step.Length == 0 && !part.Parameters.Any(p => p.Name == asked.Name))
        {
            return new Refusal("parameter.unknown", $"There is no parameter '{Ids.Shorten(asked.Name)}'.", "name");
        }

        if (asked.Step.Length > 0 && part.Find(asked.Step) is null)
        {
            return new Refusal("step.unknown", $"There is no step '{Ids.Shorten(asked.Step)}' in the part.", "step");
        }

        if (asked is { Step.Length: > 0, Name.Length: > 0 } && part.Find(asked.Step)!.Sizes.All(z => z.Field != asked.Name))
        {
            return new Refusal("step.no-size", $"{part.Find(asked.Step)!.Name} has no size '{Ids.Shorten(asked.Name)}'.", "name");
        }

        var links = Links(part).ToList();

        // A size hangs on the names in its formula; what hangs on it is its step and what that carries.
        var (above, below) = (Walk(part, asked, links, l => l.From, l => l.On), new List<WhyNode>());
        if (asked is { Step.Length: > 0, Name.Length: > 0 })
        {
            var formula = part.Find(asked.Step)!.Sizes.First(z => z.Field == asked.Name).Formula;
            var names = NamesIn(formula);
            above = Walk(
                part,
                asked,
                [.. links.Where(l => l.From != new Place(asked.Step, "")), .. names.Select(n => new Link(Named(part, n), asked, formula))],
                l => l.From,
                l => l.On
            );
            below = Walk(part, asked, [.. links, new Link(asked, new Place(asked.Step, ""), $"its {asked.Name}")], l => l.On, l => l.From);
        }
        else
        {
            below = Walk(part, asked, links, l => l.On, l => l.From);
        }

        // Material: forms that come after a form that is touched are made again on what it leaves.
        var touched = below.Select(b => b.Step).Append(asked.Step).ToHashSet(StringComparer.Ordinal);
        var first = part.Steps.Where(s => s is FormStep && touched.Contains(s.Id)).Select(s => s.Number).DefaultIfEmpty(int.MaxValue).Min();
        var after = part.Steps.Where(s =>
            s is FormStep { KeepsTo: not { Count: 0 } } && s.Number > first && !touched.Contains(s.Id) && !part.Leaves(s)
        );
        return new WhyAnswer(Words(part, asked), [.. above], [.. below], [.. after.Select(s => s.Name)]);
    }

    private static IEnumerable<Link> Links(Part part)
    {
        foreach (var parameter in part.Parameters)
        {
            foreach (var name in NamesIn(parameter.Value))
            {
                yield return new Link(Named(part, name), new Place("", parameter.Name), parameter.Value);
            }
        }

        foreach (var step in part.Steps)
        {
            var here = new Place(step.Id, "");
            foreach (var size in step.Sizes)
            {
                foreach (var name in NamesIn(size.Formula))
                {
                    yield return new Link(Named(part, name), here, $"{size.Field} = {size.Formula}");
                }
            }

            foreach (var on in step.References.Select(World.StepOf).Distinct().Where(id => part.Find(id) is not null && id != step.Id))
            {
                yield return new Link(new Place(on, ""), here, "stands on it");
            }
        }
    }

    private static IEnumerable<string> NamesIn(string formula) =>
        Formula.Parse(formula) is { Done: true } f ? f.Value.Names.Distinct() : [];

    private static Place Named(Part part, string name) =>
        part.Parameters.Any(p => p.Name == name) ? new Place("", name)
        : part.Steps.FirstOrDefault(s => s.ValueName == name) is { } reading ? new Place(reading.Id, "")
        : new Place("", name);

    private static string Words(Part part, Place place) =>
        place.Step.Length == 0 ? place.Name
        : place.Name.Length == 0 ? part.Find(place.Step)?.Name ?? place.Step
        : $"{place.Name} of {part.Find(place.Step)?.Name}";

    /// <summary>Everything that can be reached, the nearest first, each once.</summary>
    private static List<WhyNode> Walk(Part part, Place from, List<Link> links, Func<Link, Place> here, Func<Link, Place> there)
    {
        var (found, seen, open) = (
            new List<WhyNode>(),
            new HashSet<Place> { from },
            new Queue<(Place At, int Index, int Away)>([(from, -1, 0)])
        );
        while (open.TryDequeue(out var next))
        {
            foreach (var link in links.Where(l => here(l) == next.At))
            {
                var place = there(link);
                if (seen.Add(place))
                {
                    found.Add(new WhyNode(place.Step, place.Name, Words(part, place), link.Via, next.Away + 1, next.Index));
                    open.Enqueue((place, found.Count - 1, next.Away + 1));
                }
            }
        }

        return found;
    }
}
