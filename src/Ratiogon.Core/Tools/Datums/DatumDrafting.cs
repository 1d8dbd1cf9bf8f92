using System.Collections.Immutable;
using Ratiogon.Core.Building;
using Ratiogon.Core.Datums;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Tools.Datums;

/// <summary>Makes and edits datums. It keeps nothing between questions: the screen holds the draft, this answers what it
/// determines.</summary>
public static class DatumDrafting
{
    /// <summary>Takes new picks into the draft and says what it determines.</summary>
    public static DatumAnswer Answer(Model model, DatumDraft draft)
    {
        ArgumentNullException.ThrowIfNull(model);
        ArgumentNullException.ThrowIfNull(draft);
        var taken = TakePicks(model, draft);
        if (!taken.Done)
        {
            var refusal = model.Wording.In(taken.Refusal!);
            return Shown(model, draft with { Picks = [] }) with { Refusal = refusal, Prompt = refusal.Message };
        }

        var shown = Shown(model, taken.Value);
        return shown.Refusal is null
            ? shown
            : shown with
            {
                Refusal = model.Wording.In(shown.Refusal),
                Prompt = model.InWords(shown.Prompt),
            };
    }

    /// <summary>The draft with one value dragged to a ray through the view, or null where it cannot follow.</summary>
    /// <param name="model">The model.</param>
    /// <param name="draft">Without new picks.</param>
    /// <param name="field">Name of the value.</param>
    /// <param name="ray">From the eye.</param>
    /// <param name="reach">How far the pointer may miss, in millimetres: values are rounded no finer, detents hold this far.</param>
    public static DatumDraft? Drag(Model model, DatumDraft draft, string field, Line3 ray, double reach)
    {
        ArgumentNullException.ThrowIfNull(model);
        ArgumentNullException.ThrowIfNull(draft);
        if (
            draft.ToStep().Fields().FirstOrDefault(f => f.Name == field) is not { Name: not null } at
            || Handle.Of(model, draft, field) is not { } handle
        )
        {
            return null;
        }

        var value = handle.Pulled(ray);
        var text = Handle.Rounded(value, at.Field, handle.Speed, reach, model.Part.Units);
        var values = draft.Conditions[at.Condition].Values.SetItem(at.Value, text);
        return draft with { Conditions = draft.Conditions.SetItem(at.Condition, draft.Conditions[at.Condition] with { Values = values }) };
    }

    /// <summary>A frame as the view looks, placed freely: its z towards the eye.</summary>
    public static DatumDraft AsViewed(Frame view, LengthUnit unit)
    {
        // R = Rx Ry Rz of turns about the frame's own axes.
        var (a, b, c) = (Math.Atan2(-view.Z.Y, view.Z.Z), Math.Asin(Math.Clamp(view.Z.X, -1, 1)), Math.Atan2(-view.Y.X, view.X.X));
        string Length(double v) => Units.Show(Quantity.Length(v), unit, 4);
        string Angle(double v) => Units.Show(Quantity.Angle(v), unit, 4);
        return new DatumDraft
        {
            Makes = DatumKind.Frame,
            Conditions =
            [
                new DatumCondition("free", [])
                {
                    Values = [Length(view.Origin.X), Length(view.Origin.Y), Length(view.Origin.Z), Angle(a), Angle(b), Angle(c)],
                },
            ],
        };
    }

    /// <summary>The condition that puts a point where a ray meets a thing: a vertex is the point itself, an edge gives a
    /// fraction, a face its own coordinates.</summary>
    public static Outcome<DatumCondition> PointAt(Model model, string reference, Line3 ray)
    {
        ArgumentNullException.ThrowIfNull(model);
        var unit = model.Part.Units;
        string Length(double v) => Units.Show(Quantity.Length(v), unit, 3);
        return model
            .Find(reference)
            .Then<DatumCondition>(thing =>
            {
                if (thing.Point is not null)
                {
                    return new DatumCondition("at", [reference]);
                }

                if (thing.Path is { } path)
                {
                    var along = path.NearestTo(ray) / path.Length;
                    return new DatumCondition("at-fraction", [reference]) { Values = [Detents.Near(along, 0.02).ToString("0.####")] };
                }

                if (thing.Plane is { } plane && new FlatSurface(Plane3.Of(plane)).Meet(ray) is [var t])
                {
                    var local = plane.ToLocal(ray.At(t));
                    return new DatumCondition("on-flat-at", [reference]) { Values = [Length(local.X), Length(local.Y)] };
                }

                return thing.Middle is not null
                    ? new DatumCondition("at-middle", [reference])
                    : new Refusal("datum.no-place", $"No point can be put on {thing.Words} here.", reference);
            });
    }

    /// <summary>The value that a field begins with.</summary>
    internal static double Beginning(RelationField field, LengthUnit unit) =>
        Formula.Parse(BeginningText(field, unit)).Then(f => f.Evaluate(_ => new Refusal("formula.unknown-name", ""))).Value.Value;

    internal static string BeginningText(RelationField field, LengthUnit unit) =>
        unit == LengthUnit.Inch && field.Inch is { } inch ? inch : field.Default;

    internal static DatumCondition Kept(Condition condition, LengthUnit unit) =>
        new(condition.Relation.Name, [.. condition.Of.Select(t => t.Reference)])
        {
            Values = [.. condition.Relation.Fields.Select(f => BeginningText(f, unit))],
        };

    private static Outcome<DatumDraft> TakePicks(Model model, DatumDraft draft)
    {
        if (draft.Picks.IsDefaultOrEmpty)
        {
            return draft;
        }

        var things = new List<Thing>();
        foreach (var reference in draft.Conditions.SelectMany(c => c.Of).Concat(draft.Picks).Distinct())
        {
            var found = model.Find(reference);
            if (found.Done)
            {
                things.Add(found.Value);
            }
            else if (draft.Picks.Contains(reference))
            {
                return found.Refusal!;
            }
        }

        var unit = model.Part.Units;
        var readings = Offering.Of(draft.Makes, things, f => Beginning(f, unit), whole: true);
        if (readings.IsEmpty)
        {
            return Reasons.Of(draft.Makes, [.. things.Select(t => new Condition(RelationCatalog.All[0], [t], []))])
                ?? new Refusal(
                    "datum.no-reading",
                    $"{string.Join(" and ", things.Select(t => t.Words))} say nothing together about a {Word(draft.Makes)}."
                );
        }

        // A free frame keeps its place while it is aimed at an edge or a face; an origin picked ties it down.
        if (
            draft.Makes == DatumKind.Frame
            && draft.Conditions.FirstOrDefault(c => c.Of.IsEmpty) is { } free
            && things.All(t => t.Place is null && t.Frame is null && t.Box is null)
        )
        {
            var aimed = things
                .Select(t =>
                    t.Plane is not null ? new DatumCondition("z-square", [t.Reference])
                    : t.Straight is not null ? new DatumCondition("x", [t.Reference])
                    : null
                )
                .OfType<DatumCondition>()
                .ToList();
            if (aimed.Count == things.Count)
            {
                return draft with { Conditions = [free, .. aimed], Picks = [], Choice = null };
            }
        }

        // What was said stays said, where a reading allows it.
        var best = readings.OrderByDescending(r => draft.Said ? draft.Conditions.Count(c => r.Conditions.Any(o => Says(o, c))) : 0).First();
        var conditions = best.Conditions.Select(o => draft.Conditions.FirstOrDefault(c => Says(o, c)) ?? Kept(o, unit)).ToImmutableArray();
        return draft with { Conditions = conditions, Picks = [], Choice = null };
    }

    private static bool Says(Condition o, DatumCondition c) =>
        o.Relation.Name == c.Relation && o.Of.Select(t => t.Reference).SequenceEqual(c.Of);

    private static DatumAnswer Shown(Model model, DatumDraft draft)
    {
        var unit = model.Part.Units;
        var views = draft.Conditions.Select(c => View(model, draft.Makes, c)).ToImmutableArray();
        var blank = new DatumAnswer
        {
            Draft = draft,
            Prompt = "",
            Conditions = views,
        };
        if (draft.Conditions.IsEmpty)
        {
            return blank with { Free = DatumSolver.Freedoms(draft.Makes), Prompt = Begin(draft.Makes) };
        }

        var resolved = model.Resolve(draft.Makes, draft.Conditions);
        if (!resolved.Done)
        {
            // What was typed stays to be typed over.
            return blank with
            {
                Refusal = resolved.Refusal,
                Prompt = resolved.Refusal!.Message,
                Fields = views.Any(v => v.Of.Any(p => p.Lost)) ? [] : Fields(model, draft),
            };
        }

        var determined = DatumSolver.Solve(draft.Makes, resolved.Value);
        var things = resolved.Value.SelectMany(c => c.Of).ToList();
        var readings = Offering
            .Of(draft.Makes, things, f => Beginning(f, unit))
            .Select(o => new ReadingView(o.Said(things), [.. o.Conditions.Select(c => Kept(c, unit))], o.Determined.Solutions.Length))
            .ToImmutableArray();
        blank = blank with { Free = determined.Free, Left = determined.Left, Readings = readings, Fields = Fields(model, draft) };
        if (determined.Refusal is { } refusal)
        {
            return blank with { Refusal = refusal, Prompt = refusal.Message, Instead = InsteadOf(refusal, things) };
        }

        var chosen = draft.Choice is null
            ? 0
            : determined.Solutions.IndexOf(determined.Solutions.FirstOrDefault(s => s.Goes(draft.Choice))!);
        var solutions = draft.Flip
            ? [.. determined.Solutions.Select(s => s with { Frame = Model.Flipped(draft.Makes, s.Frame) })]
            : determined.Solutions;
        var settled = determined.Determined || (draft.Makes == DatumKind.Frame && !determined.Solutions.IsEmpty);
        draft = draft with
        {
            Choice = settled && chosen >= 0 && determined.Solutions.Length > 1 ? determined.Solutions[chosen].Label : draft.Choice,
        };
        return blank with
        {
            Draft = draft,
            Solutions = solutions,
            Chosen = chosen,
            Extensions = chosen >= 0 && chosen < solutions.Length ? Extensions.Of(draft.Makes, solutions[chosen].Frame, things) : [],
            Prompt =
                chosen < 0
                    ? DatumSolver.Choose(determined, draft.Choice).Refusal!.Message
                    : Say(draft, determined, Reasons.Of(draft.Makes, resolved.Value)),
            Command = settled && chosen >= 0 ? Accepted(draft) : null,
        };
    }

    private static PartCommand Accepted(DatumDraft draft) =>
        draft.Step is null ? new AddStep(draft.ToStep()) : new ReplaceStep(draft.ToStep());

    private static ConditionView View(Model model, DatumKind kind, DatumCondition condition)
    {
        var found = condition.Of.Select(model.Find).ToList();
        var picks = condition
            .Of.Zip(found, (r, f) => new PickView(r, f.Done ? f.Value.Words : model.WordsOf(r), !f.Done))
            .ToImmutableArray();
        var words = Alone(RelationCatalog.Find(kind, condition.Relation)?.Words ?? condition.Relation);
        if (found.Any(f => !f.Done))
        {
            return new ConditionView(condition, words, picks, []);
        }

        Thing[] things = [.. found.Select(f => f.Value)];
        var others = RelationCatalog
            .Fitting(kind, things)
            .Where(r => r.Name != condition.Relation)
            .OrderBy(r => r.Cost)
            .Select(r => new RelationView(
                Alone(r.Words),
                Kept(new Condition(r, [.. things], []), model.Part.Units) is var kept && SameFields(kind, condition, r)
                    ? kept with
                    {
                        Values = condition.Values,
                    }
                    : kept
            ));
        return new ConditionView(condition, words, picks, [.. others]);
    }

    /// <summary>Words of a relation where nothing follows them.</summary>
    private static string Alone(string words) => words.TrimEnd(',', ':');

    private static bool SameFields(DatumKind kind, DatumCondition condition, Relation other) =>
        RelationCatalog.Find(kind, condition.Relation) is { } now
        && now.Fields.Length > 0
        && now.Fields.Select(f => f.Name).SequenceEqual(other.Fields.Select(f => f.Name));

    private static ImmutableArray<FieldView> Fields(Model model, DatumDraft draft)
    {
        var fields = ImmutableArray.CreateBuilder<FieldView>();
        foreach (var f in draft.ToStep().Fields())
        {
            var text = draft.Conditions[f.Condition].Values[f.Value];
            var value = Formula.Parse(text).Then(p => p.Evaluate(model.Values.Of));
            var handle = value.Done ? Handle.Of(model, draft, f.Name) : null;
            fields.Add(
                new FieldView(
                    f.Name,
                    text,
                    value.Done ? Units.Show(value.Value, model.Part.Units, 4) : "?",
                    handle?.Grip,
                    handle?.Way ?? Vec3.Zero
                )
            );
        }

        return fields.ToImmutable();
    }

    private static DatumDraft? InsteadOf(Refusal refusal, List<Thing> things) =>
        refusal.Code switch
        {
            "datum.skew" when things.Where(t => t.Straight is not null).Take(2).ToList() is [var a, var b] => new DatumDraft
            {
                Makes = DatumKind.Point,
                Conditions = [new DatumCondition("nearest", [a.Reference, b.Reference])],
            },
            "datum.parallel" when things.Where(t => t.Plane is not null).Take(2).ToList() is [var a, var b] => new DatumDraft
            {
                Makes = DatumKind.Plane,
                Conditions = [new DatumCondition("midway", [a.Reference, b.Reference])],
            },
            _ => null,
        };

    private static string Say(DatumDraft draft, Determination determined, Refusal? why) =>
        determined.Free > 0
            ? (determined.Redundant && why is not null ? $"{why.Message} " : "")
                + (determined.Free == 1 ? "1 freedom" : $"{determined.Free} freedoms")
                + $" left: {string.Join("; ", determined.Left)}"
        : determined.Solutions.Length > 1 ? $"{determined.Solutions.Length} solutions: n steps through them, a click chooses"
        : $"The {Word(draft.Makes)} is determined: Enter accepts";

    private static string Begin(DatumKind kind) =>
        kind switch
        {
            DatumKind.Plane => "Pick what the plane stands on: faces, edges, points, axes, in any order",
            DatumKind.Axis => "Pick what the axis runs along or through: edges, faces, points, planes",
            DatumKind.Point => "Pick what the point lies on, or type its coordinates",
            _ => "Pick an origin and directions, or a face, an edge, a body",
        };

    private static string Word(DatumKind kind) => kind.ToString().ToLowerInvariant();
}
