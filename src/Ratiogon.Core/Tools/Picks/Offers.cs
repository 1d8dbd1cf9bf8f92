using System.Collections.Immutable;
using Ratiogon.Core.Building;
using Ratiogon.Core.Datums;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Numerics;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Constraints;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Rules;
using Ratiogon.Core.Sketches.Solving;

namespace Ratiogon.Core.Tools.Picks;

/// <summary>Something that the picks can become.</summary>
/// <param name="Id">Stable name of the offer.</param>
/// <param name="Label">In words.</param>
/// <param name="Detail">The value it would have, or empty.</param>
/// <param name="Command">What a press sends; null for a value that is only read.</param>
public sealed record Offer(string Id, string Label, string Detail, PartCommand? Command)
{
    /// <summary>What it makes, a heading over offers of its like; empty for what changes the picks themselves.</summary>
    public string Group { get; init; } = "";

    /// <summary>Why it cannot be pressed, where a designer might expect that it could.</summary>
    public string? WhyNot { get; init; }

    /// <summary>A datum to open on the bench instead of sending a command: it wants a value or a choice.</summary>
    public Tools.Datums.DatumDraft? Draft { get; init; }

    /// <summary>A form to open on the bench.</summary>
    public Tools.Forms.FormDraft? Form { get; init; }

    /// <summary>What is worth saying beside the value, or empty.</summary>
    public string Note { get; init; } = "";

    /// <summary>Of a reading, the places between which it is drawn.</summary>
    public ImmutableArray<Vec3> Points { get; init; } = [];

    /// <summary>What it would touch besides the picks: shown before it is pressed.</summary>
    public ImmutableArray<string> Touches { get; init; } = [];
}

/// <summary>Everything that the current picks determine.</summary>
public static class Offers
{
    private const string NewSketch = "New sketch";

    /// <summary>For picks in a sketch.</summary>
    public static ImmutableArray<Offer> InSketch(Part part, SketchStep step, ImmutableArray<string> picks)
    {
        ArgumentNullException.ThrowIfNull(part);
        ArgumentNullException.ThrowIfNull(step);
        var sketch = step.Sketch;
        if (picks.IsDefaultOrEmpty)
        {
            return [];
        }

        if (sketch.FindAll(picks) is not { } of)
        {
            return OfRules(step, picks);
        }

        var offers = ImmutableArray.CreateBuilder<Offer>();
        var taken = sketch.UsedIds();
        foreach (var kind in DimensionCatalog.All.Where(k => k.OfPicks && k.Check(sketch, of) is null))
        {
            var now = kind.Measure(sketch, of);
            var drives = kind.CheckValue(now) is null;
            var shown = Units.Show(new Quantity(now, kind.Of), part.Units, 4);
            var id = Ids.Next("d", new HashSet<string>(taken));
            offers.Add(
                new Offer(
                    $"size-{kind.Name}",
                    kind.Name.Replace('-', ' '),
                    shown,
                    drives
                        ? new EditSketch(
                            step.Id,
                            new SketchEdit { Size = [new SketchDimension(id, kind.Name, picks, shown)] },
                            $"{kind.Name} {shown}"
                        )
                        : null
                )
            );
        }

        foreach (var kind in ConstraintCatalog.All.Where(k => k.TiedByHand))
        {
            var id = Ids.Next("k", new HashSet<string>(taken));
            var tie = new SketchConstraint(id, kind.Name, picks);
            var wrong = kind.Check(of) ?? kind.CheckIn(sketch, () => SketchContacts.Of(sketch), tie, of);
            if (wrong is not null && kind.Name == "crossing" && of.Count == 2 && of.All(e => e is not PointEntity))
            {
                // Two curves get a new point where they cross.
                var made = CrossingPoint.New(sketch, of[0], of[1], Vec2.Zero);
                offers.Add(
                    new Offer(
                        "tie-crossing",
                        "point at the crossing",
                        "",
                        made.Done ? new EditSketch(step.Id, made.Value, "crossing") : null
                    )
                    {
                        WhyNot = made.Refusal?.Message,
                    }
                );
                continue;
            }

            offers.Add(
                new Offer(
                    $"tie-{kind.Name}",
                    kind.Name.Replace('-', ' '),
                    "",
                    wrong is null ? new EditSketch(step.Id, new SketchEdit { Tie = [tie] }, kind.Name) : null
                )
                {
                    WhyNot = wrong?.Message,
                }
            );
        }

        offers.AddRange(PointOffers(step, picks, of));
        if (of is [SplineEntity { FromHandle: null, ToHandle: null } spline])
        {
            offers.Add(new Offer("handles", "end tangents", "", new EditSketch(step.Id, Handles(sketch, spline), "end tangents")));
        }

        var own = picks.Where(p => !Sketch.IsBuiltIn(p)).ToImmutableArray();
        if (own.Length > 0)
        {
            offers.AddRange(CopyOffers(step, own));
            offers.Add(
                new Offer(
                    "construction",
                    "construction on or off",
                    "",
                    new EditSketch(step.Id, new SketchEdit { ToggleConstruction = own }, "construction")
                )
            );
            var gone = Removal
                .Gone(sketch, own)
                .Except(own)
                .Where(id => sketch.Find(id) is null || !own.Any(o => sketch.Find(o)?.Points.Contains(id) == true))
                .ToImmutableArray();
            offers.Add(
                new Offer(
                    "remove",
                    "remove",
                    gone.Length > 0 ? $"with {gone.Length} more" : "",
                    new EditSketch(step.Id, new SketchEdit { Remove = own }, "remove")
                )
                {
                    Touches = [.. gone.Select(id => Describe(sketch, id))],
                }
            );
        }

        return offers.ToImmutable();
    }

    /// <summary>For copies in a row, about a point or in a mirror: each can go its own way, or be left out, while the others
    /// stay.</summary>
    private static IEnumerable<Offer> CopyOffers(SketchStep step, ImmutableArray<string> own)
    {
        var sketch = step.Sketch;
        foreach (var rule in sketch.Constraints)
        {
            if (
                ConstraintCatalog.Find(rule.Kind) is not CopyRule copies
                || copies.Copies(rule).ToHashSet(StringComparer.Ordinal) is not { } following
                || !own.All(following.Contains)
            )
            {
                continue;
            }

            var copy = own.SelectMany(id => copies.CopyOf(sketch, rule, id)).Distinct().ToImmutableArray();
            var (what, many) = (rule.Kind == "mirror-image" ? "image" : "copy", rule.Kind == "mirror-image" ? "images" : "copies");
            var gone = copies.Without(rule, copy.ToHashSet(StringComparer.Ordinal));
            var free = gone is null ? new SketchEdit { Remove = [rule.Id] } : new SketchEdit { Retie = [gone] };
            yield return new Offer(
                "copy-go",
                $"let this {what} go its own way",
                gone is null ? "" : $"the other {many} stay",
                new EditSketch(step.Id, free, $"let {own[0]} go")
            );
            yield return new Offer(
                "copy-out",
                $"leave this {what} out",
                gone is null ? "" : $"the other {many} stay",
                new EditSketch(step.Id, new SketchEdit { Remove = copy }, $"leave {own[0]} out")
            )
            {
                Touches = [.. copy.Except(own).Where(id => sketch.Find(id) is not PointEntity).Select(id => Describe(sketch, id))],
            };
        }
    }

    /// <summary>For picked constraints and dimensions.</summary>
    private static ImmutableArray<Offer> OfRules(SketchStep step, ImmutableArray<string> picks)
    {
        var sketch = step.Sketch;
        if (
            !picks.All(p => sketch.Find(p) is not null || sketch.Constraints.Any(c => c.Id == p) || sketch.Dimensions.Any(d => d.Id == p))
            || picks.Any(Sketch.IsBuiltIn)
        )
        {
            return [];
        }

        var gone = Removal.Gone(sketch, picks).Except(picks).ToImmutableArray();
        var remove = new Offer(
            "remove",
            "remove",
            picks is [var one] ? Describe(sketch, one) : $"{picks.Length} picked",
            new EditSketch(step.Id, new SketchEdit { Remove = picks }, "remove")
        )
        {
            Touches = [.. gone.Select(id => Describe(sketch, id))],
        };
        return picks is [var id] && sketch.Dimensions.FirstOrDefault(d => d.Id == id && d.Driving) is { } dimension
            ?
            [
                new Offer(
                    "reference",
                    "make it a reference",
                    "",
                    new EditSketch(step.Id, new SketchEdit { Size = [dimension with { Value = null }] }, $"{id} reads only")
                ),
                remove,
            ]
            : [remove];
    }

    /// <summary>A dependent thing in words.</summary>
    private static string Describe(Sketch sketch, string id) =>
        SketchWords.OfRule(sketch, id)
        ?? (
            sketch.Shapes.FirstOrDefault(s => s.Id == id) is { } shape
                ? $"the {shape.Kind.Replace('-', ' ')} as a shape"
                : EntityWords.Of(sketch)[id]
        );

    private static IEnumerable<Offer> PointOffers(SketchStep step, ImmutableArray<string> picks, IReadOnlyList<SketchEntity> of)
    {
        var sketch = step.Sketch;
        if (of is [PointEntity a, PointEntity b])
        {
            var (gone, kept) = Sketch.IsBuiltIn(b.Id) ? (a.Id, b.Id) : (b.Id, a.Id);
            var merge = ImmutableDictionary<string, string>.Empty.Add(gone, kept);
            var wrong = Merging.Check(sketch, merge);
            yield return new Offer(
                "merge",
                "merge into one point",
                "",
                wrong is null ? new EditSketch(step.Id, new SketchEdit { Merge = merge }, $"merge {gone} into {kept}") : null
            )
            {
                WhyNot = wrong?.Message,
            };
        }

        if (
            of is [PointEntity point]
            && !Sketch.IsBuiltIn(point.Id)
            && sketch.Entities.Count(e => e.Points.Contains(point.Id)) > 1
            && Merging.Part(sketch, point.Id) is { Done: true } parted
        )
        {
            yield return new Offer("part", "part the curves here", "", new EditSketch(step.Id, parted.Value, $"part {point.Id}"));
        }
    }

    private static SketchEdit Handles(Sketch sketch, SplineEntity spline)
    {
        var draft = new Draft(sketch);
        var curve = (Geometry.SplineCurve)Curves.Of(sketch, spline)!;
        var (from, to) = (
            draft.NewPoint(curve.At(0) + (curve.Slope(0) * (spline.Spans[0] / 3)), true),
            draft.NewPoint(curve.At(curve.End) - (curve.Slope(curve.End) * (spline.Spans[^1] / 3)), true)
        );
        draft.Add(
            new LineEntity(draft.NewId("l"), spline.Through[0], from) { Construction = true },
            new LineEntity(draft.NewId("l"), to, spline.Through[^1]) { Construction = true }
        );
        draft.Redraw(spline with { FromHandle = from, ToHandle = to });
        return draft.Edit;
    }

    /// <summary>For faces, edges and vertices picked on the model.</summary>
    /// <param name="part">The part.</param>
    /// <param name="built">Its last rebuild.</param>
    /// <param name="picks">Names.</param>
    /// <param name="values">The readings that the picks have; without picks those of the whole part.</param>
    public static ImmutableArray<Offer> OnModel(
        Part part,
        RebuildResult built,
        ImmutableArray<string> picks,
        ImmutableArray<Tools.Gauges.GaugeShown> values
    )
    {
        ArgumentNullException.ThrowIfNull(part);
        ArgumentNullException.ThrowIfNull(built);
        var offers = ImmutableArray.CreateBuilder<Offer>();
        var model = Model.Of(part, built);
        if (picks is [var one])
        {
            if (model.PlaneOf(one).Done)
            {
                offers.Add(
                    new Offer("sketch-here", "on it", "", new AddStep(new SketchStep("", 0, "", one, Sketch.Empty))) { Group = NewSketch }
                );
            }
        }

        if (picks.Length is 1 or 2 && picks.All(p => model.Find(p) is { Done: true, Value.Place: not null }))
        {
            offers.Add(
                new Offer(
                    "quick",
                    picks.Length == 1 ? "on a plane through it, facing the view" : "on a plane through both, facing the view",
                    "",
                    null
                )
                {
                    Group = NewSketch,
                }
            );
        }

        // Edges ask to be rounded or bevelled: that comes first.
        var edges = !picks.IsDefaultOrEmpty && picks.All(IsEdge);
        if (edges)
        {
            offers.AddRange(Shaped(model, picks));
        }

        offers.AddRange(Determined(model, picks));
        offers.AddRange(SpaceCopies.Of(model, picks));
        offers.AddRange(values.Where(v => !Whole(v)).Select(Reading));
        if (!edges)
        {
            offers.AddRange(Shaped(model, picks));
        }

        offers.AddRange(values.Where(Whole).Select(Reading));
        return offers.ToImmutable();
    }

    /// <summary>The datums that picks determine.</summary>
    private static IEnumerable<Offer> Determined(Model model, ImmutableArray<string> picks)
    {
        var things = picks.Select(model.Find).Where(f => f.Done).Select(f => f.Value).ToList();
        if (things.Count != picks.Length)
        {
            yield break;
        }

        var unit = model.Part.Units;
        foreach (var (kind, most) in new[] { (DatumKind.Plane, 6), (DatumKind.Axis, 4), (DatumKind.Point, 4), (DatumKind.Frame, 3) })
        {
            var n = 0;
            foreach (var o in Offering.Of(kind, things, f => Tools.Datums.DatumDrafting.Beginning(f, unit)).Take(most))
            {
                var draft = new Tools.Datums.DatumDraft
                {
                    Makes = kind,
                    Conditions = [.. o.Conditions.Select(c => Tools.Datums.DatumDrafting.Kept(c, unit))],
                };
                var value = string.Join(", ", draft.Conditions.SelectMany(c => c.Values));
                var detail = string.Join(
                    ", ",
                    new[] { value, o.Determined.Solutions.Length > 1 ? $"{o.Determined.Solutions.Length} solutions" : "" }.Where(t =>
                        t.Length > 0
                    )
                );
                yield return new Offer(
                    $"{kind.ToString().ToLowerInvariant()}-{++n}",
                    o.Said(things),
                    detail,
                    o.AtOnce ? new AddStep(draft.ToStep()) : null
                )
                {
                    Draft = draft,
                    Group = $"New {kind.ToString().ToLowerInvariant()}",
                };
            }
        }
    }

    /// <summary>The forms that can begin with all of the picks.</summary>
    private static IEnumerable<Offer> Shaped(Model model, ImmutableArray<string> picks)
    {
        if (picks.IsDefaultOrEmpty)
        {
            yield break;
        }

        // Edges ask to be rounded, faces to be opened or tilted; what repeats or combines whole things is taken up from the bench.
        var edges = picks.All(IsEdge);
        var whole = picks.All(p => !p.Contains('/', StringComparison.Ordinal));
        foreach (
            var kind in Tools
                .Forms.FormCatalog.All.Where(k =>
                    (k.Tool.Begins || model.HasBody)
                    && k.Tool.Offered switch
                    {
                        OfferedWith.Edges => edges,
                        OfferedWith.WholeThings => whole,
                        _ => true,
                    }
                )
                .OrderBy(k => k.Tool.Offered == OfferedWith.Anything)
        )
        {
            var begun = Tools.Forms.FormDrafting.Begin(model, kind, picks);
            if (begun.Refusal is null && begun.Fields.Any(f => f.Picks.Length > 0))
            {
                yield return new Offer($"form-{kind.Kind}", kind.Label.ToLowerInvariant(), "", null)
                {
                    Form = begun.Draft,
                    Group = "New form",
                };
            }
        }
    }

    private static bool IsEdge(string reference) => reference.Contains('^', StringComparison.Ordinal);

    private static bool Whole(Tools.Gauges.GaugeShown value) => Gauging.ReadingCatalog.Find(value.What)!.Whole;

    private static Offer Reading(Tools.Gauges.GaugeShown value) =>
        new(value.What, value.Label, value.Shown, value.Keep)
        {
            Note = value.Note,
            Group = "Measured",
            Points = value.Points,
        };
}
