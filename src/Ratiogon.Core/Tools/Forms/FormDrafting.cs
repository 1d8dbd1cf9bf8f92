using System.Collections.Immutable;
using Ratiogon.Core.Building;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;

namespace Ratiogon.Core.Tools.Forms;

/// <summary>Makes and edits forms. It keeps nothing between questions: the screen holds the draft, this answers what it is and
/// what it still needs. How it would look is found out by building it.</summary>
public static class FormDrafting
{
    private static readonly Dictionary<string, string> InInches = new(StringComparer.Ordinal)
    {
        ["10 mm"] = "1/2 in",
        ["20 mm"] = "1 in",
        ["5 mm"] = "1/4 in",
        ["2 mm"] = "1/16 in",
        ["1 mm"] = "1/32 in",
    };

    /// <summary>A new form with what is picked already; a form of a sketch takes the last sketch where none is picked.</summary>
    public static FormAnswer Begin(Model model, FormKind kind, IEnumerable<string> picks)
    {
        ArgumentNullException.ThrowIfNull(model);
        ArgumentNullException.ThrowIfNull(kind);
        var step = InUnits(kind.Make(), model.Part.Units);
        var draft = new FormDraft(step);
        Refusal? refused = null;
        foreach (var pick in picks ?? [])
        {
            var next = Pick(model, draft, pick, null, first: true);
            refused ??= next.Refusal;
            draft = next.Done ? next.Value : draft;
        }

        step = (FormStep)draft.Step;
        if (
            step.Fields[0] is PickField { Accepts: PickKind.Sketch } first
            && first.When(step)
            && first.Get(step).Count == 0
            && model.Part.Steps.OfType<SketchStep>().LastOrDefault(s => model.SketchOf(s.Id) is not null) is { } last
        )
        {
            draft = draft with { Step = first.Set(step, [last.Id]) };
        }

        return Shown(model, Advanced(draft, null)) with
        {
            Refusal = refused is null ? null : model.Wording.In(refused),
        };
    }

    /// <summary>The draft of a form that is there.</summary>
    public static FormAnswer Edit(Model model, FormStep step) => Shown(model, Advanced(new FormDraft(step), null));

    /// <summary>Does one thing to the draft.</summary>
    public static FormAnswer Answer(Model model, FormDraft draft, FormInput input)
    {
        ArgumentNullException.ThrowIfNull(model);
        ArgumentNullException.ThrowIfNull(draft);
        ArgumentNullException.ThrowIfNull(input);
        var next = input switch
        {
            { Name: { } name } => draft with { Step = draft.Step with { Name = name } },
            { Ray: { IsDefaultOrEmpty: false } ray, Field: { } field } => Pull(model, draft, field, ray, input.Reach),
            { Pick: { } pick, Field: { } field, Value: { } instead } => Replace(draft, field, instead, pick),
            { Pick: { } pick } => Pick(model, draft, pick, input.Field),
            { Field: { } field, Value: { } value } => Set(model, draft, field, value),
            { Field: { } field } => draft with { Active = draft.Active == field ? null : field },
            _ => (Outcome<FormDraft>)draft,
        };
        return next.Done
            ? Shown(model, next.Value)
            : Shown(model, draft) with
            {
                Refusal = model.Wording.In(next.Refusal!),
                Ways = FormWays.Of((FormStep)draft.Step, next.Refusal!),
            };
    }

    /// <summary>One pick in place of another.</summary>
    private static Outcome<FormDraft> Replace(FormDraft draft, string name, string instead, string pick)
    {
        var step = (FormStep)draft.Step;
        return step.Fields.OfType<PickField>().FirstOrDefault(f => f.Name == name && f.When(step)) is { } field
            ? draft with
            {
                Step = field.Set(step, [.. field.Get(step).Select(r => r == instead ? pick : r).Distinct()]),
            }
            : new Refusal("form.no-field", $"There is no field '{Ids.Shorten(name)}'.", name);
    }

    /// <param name="model">The model.</param>
    /// <param name="draft">The draft.</param>
    /// <param name="pick">What was picked.</param>
    /// <param name="meant">The field it is meant for, or null.</param>
    /// <param name="first">Whether it was picked before the form was taken up: then it also serves fields that may be left out.</param>
    private static Outcome<FormDraft> Pick(Model model, FormDraft draft, string pick, string? meant, bool first = false)
    {
        var step = (FormStep)draft.Step;
        var fields = step.Fields.OfType<PickField>().Where(f => f.When(step)).ToList();
        if (fields.FirstOrDefault(f => f.Name == meant && f.Accepts == PickKind.Region) is { } regions)
        {
            return draft with { Step = regions.Set(step, regions.Get(step).Toggled(pick)) };
        }

        if (World.StepOf(pick) == step.Id && step.Id.Length > 0)
        {
            return new Refusal("form.itself", "A form cannot stand on what it makes itself.");
        }

        var wanted = fields.FirstOrDefault(f => f.Name == (meant ?? draft.Active));
        List<PickField> order = wanted is not null ? [wanted] : [];
        order.AddRange(fields.Where(f => f != wanted && f.Get(step).Count < f.Least));
        order.AddRange(fields.Where(f => f != wanted && f.Least > 0 && f.Most > 1 && f.Get(step).Count >= f.Least));
        order.AddRange(
            fields.Where(f => first && f.Least == 0 && f.Accepts is not (PickKind.Region or PickKind.Body) && f.Get(step).Count == 0)
        );
        foreach (var field in order)
        {
            var given = FormPicking.For(model, field, pick);
            if (given.Count == 0)
            {
                continue;
            }

            var had = field.Get(step);
            var now =
                field.Most == 1 ? (had.Count == 1 && had[0] == given[0] ? Refs.None : [given[0]])
                : given.Count > 1 ? Refs.Of(had.Concat(given).Distinct())
                : had.Toggled(given[0]);
            return Advanced(draft with { Step = Filled(field.Set(step, now), model.Part.Units) }, field);
        }

        var words = model.Find(pick) is { Done: true, Value: var thing } ? thing.Words : $"'{Ids.Shorten(pick)}'";
        var needs = wanted ?? fields.FirstOrDefault(f => f.Get(step).Count < f.Least) ?? fields.FirstOrDefault();
        return needs is null
            ? new Refusal("form.no-picks", $"Nothing needs to be picked; {words} is not used.")
            : new Refusal(
                "form.unfit",
                $"{words} does not fit: {needs.Label.ToLowerInvariant()} takes {FormPicking.Words(needs.Accepts)}.",
                needs.Name
            );
    }

    /// <summary>The field that the next pick goes to: the one in use while it wants more, then what is still missing.</summary>
    private static FormDraft Advanced(FormDraft draft, PickField? used)
    {
        var step = (FormStep)draft.Step;
        if (used is not null && used.Most > 1)
        {
            return draft with { Active = used.Name };
        }

        var fields = step.Fields.OfType<PickField>().Where(f => f.When(step)).ToList();
        return draft with
        {
            Active = (
                fields.FirstOrDefault(f => f.Get(step).Count < f.Least)
                ?? fields.FirstOrDefault(f => f.Accepts == PickKind.Region)
                ?? fields.FirstOrDefault(f => f.Most > 1 && f.Least > 0)
            )?.Name,
        };
    }

    private static Outcome<FormDraft> Set(Model model, FormDraft draft, string name, string value)
    {
        var step = (FormStep)draft.Step;
        switch (step.Fields.FirstOrDefault(f => f.Name == name))
        {
            case ValueField { } field when field.Optional && string.IsNullOrWhiteSpace(value):
                return draft with { Step = field.Set(step, "") };
            case ValueField field:
                return Formula
                    .ForField(value, field.Kind, model.Part.Units, model.Values.Of)
                    .Map(f => draft with { Step = field.Set(step, f.Text) });
            case ChoiceField field:
                return field.Set(step, value) is { } chosen
                    ? Advanced(draft with { Step = Filled(Inwards(model, step, chosen), model.Part.Units) }, null)
                    : new Refusal("form.choice", $"{field.Label} has no choice '{Ids.Shorten(value)}'.", name);
            case FlagField field:
                return draft with { Step = field.Set(step, value == "true") };
            case PickField field when value.Length == 0:
                return Advanced(draft with { Step = field.Set(step, []) }, null);
            case PickField field:
                return draft with { Step = field.Set(step, Refs.Of(field.Get(step).Where(r => r != value))) };
            default:
                return new Refusal("form.no-field", $"There is no field '{Ids.Shorten(name)}'.", name);
        }
    }

    /// <summary>An extrude on a face goes into the body when it begins to take material away, and out of it again when it no longer
    /// does.</summary>
    private static FormStep Inwards(Model model, FormStep before, FormStep now) =>
        before is ExtrudeStep { Operation: var was, Along: null }
        && now is ExtrudeStep form
        && was != form.Operation
        && (was == FormOperation.Cut) != (form.Operation == FormOperation.Cut)
        && model.Part.Find(form.Sketch) is SketchStep sketch
        && model.Named.Any(b => b.Names.Faces.Contains(sketch.On))
            ? form with
            {
                Flip = form.Operation == FormOperation.Cut,
            }
            : now;

    private static Outcome<FormDraft> Pull(Model model, FormDraft draft, string field, ImmutableArray<double> ray, double reach)
    {
        if (ray.Length != 6 || !ray.All(double.IsFinite))
        {
            return draft;
        }

        var line = new Line3(new Vec3(ray[0], ray[1], ray[2]), new Vec3(ray[3], ray[4], ray[5]).Unit);
        return FormGrips.Pulled(model, (FormStep)draft.Step, field, line, reach) is { } formula ? Set(model, draft, field, formula) : draft;
    }

    /// <summary>Gives values that apply and have none yet something to begin with.</summary>
    private static FormStep Filled(FormStep step, LengthUnit unit)
    {
        foreach (
            var field in step.Fields.OfType<ValueField>().Where(f => !f.Optional && f.When(step) && string.IsNullOrWhiteSpace(f.Get(step)))
        )
        {
            var begin = step.Beginning(field.Name)
                ?? (
                    field.Kind == Dimension.OfAngle ? "90 deg"
                    : field.Kind == Dimension.OfLength ? "5 mm"
                    : "2"
                );
            step = field.Set(step, unit == LengthUnit.Inch && InInches.TryGetValue(begin, out var inch) ? inch : begin);
        }

        return step;
    }

    private static FormStep InUnits(FormStep step, LengthUnit unit)
    {
        foreach (var field in step.Fields.OfType<ValueField>().Where(_ => unit == LengthUnit.Inch))
        {
            step = field.Get(step) is { } value && InInches.TryGetValue(value, out var inch) ? field.Set(step, inch) : step;
        }

        return step;
    }

    private static FormAnswer Shown(Model model, FormDraft draft)
    {
        var step = (FormStep)draft.Step;
        var kind = FormCatalog.Find(step.Kind)!;
        var missing = step.Check();
        var command = draft.Command;
        var refused = missing ?? command.Apply(model.Part).Refusal;
        var active = step.Fields.OfType<PickField>().FirstOrDefault(f => f.Name == draft.Active && f.When(step));
        var wanting = active is not null && (active.Get(step).Count < active.Least || active.Name == missing?.Where);
        return new FormAnswer
        {
            Draft = draft,
            Title = step.Id.Length > 0 ? $"Edit {(step.Name.Length > 0 ? step.Name : step.Id)}" : $"New {kind.Label.ToLowerInvariant()}",
            Prompt =
                wanting && active!.Hint.Length > 0
                    ? active.Hint
                    : missing?.Message
                        ?? (
                            active is { Hint.Length: > 0 } && active.Accepts != PickKind.Region ? $"{active.Hint}, or accept"
                            : active?.Accepts == PickKind.Region ? "Click regions to choose them, none for all; then accept"
                            : "Accept, or change a value"
                        ),
            Fields = [.. step.Fields.Where(f => f.When(step)).Select(f => View(model, step, f, draft.Active))],
            Grips = FormGrips.Of(model, step),
            Centres = Centres(model, step),
            Refusal = missing is null && refused is not null ? model.Wording.In(refused) : null,
            Ways = refused is null ? [] : FormWays.Of(step, refused),
            Command = refused is null ? command : null,
        };
    }

    private static FormFieldView View(Model model, FormStep step, FormField field, string? active) =>
        field switch
        {
            PickField p => new FormFieldView(p.Name, p.Label, p.Accepts == PickKind.Region ? "regions" : "picks")
            {
                Hint = p.Hint,
                Active = p.Name == active,
                Optional = p.Least == 0,
                Planes = (p.Accepts & (PickKind.Plane | PickKind.Straight)) != 0,
                Points = (p.Accepts & PickKind.Point) != 0,
                Places = p.Places,
                Picks = [.. p.Get(step).Select(r => p.Accepts == PickKind.Region ? new FormPickView(r, r, false) : PickView(model, r))],
            },
            ValueField v => new FormFieldView(v.Name, v.Label, "value")
            {
                Hint = v.Hint,
                Value = v.Get(step) ?? "",
                Optional = v.Optional,
                Shown = Value(model, v.Get(step)),
            },
            ChoiceField c => new FormFieldView(c.Name, c.Label, "choice")
            {
                Value = c.Get(step),
                Options = [.. c.Options.Select(o => new FormOptionView(o.Value, o.Words))],
            },
            FlagField f => new FormFieldView(f.Name, f.Label, "flag") { On = f.Get(step) },
            _ => throw new InvalidOperationException(field.GetType().Name),
        };

    private static FormPickView PickView(Model model, string reference)
    {
        if (!reference.Contains('/', StringComparison.Ordinal) && model.Part.Find(reference) is { } step)
        {
            return new FormPickView(reference, $"{step.Name}", false);
        }

        var found = model.Find(reference);
        return new FormPickView(reference, found.Done ? found.Value.Words : model.WordsOf(reference), !found.Done);
    }

    private static string Value(Model model, string? formula) =>
        !string.IsNullOrWhiteSpace(formula) && Formula.Parse(formula).Then(f => f.Evaluate(model.Values.Of)) is { Done: true } v
            ? Units.Show(v.Value, model.Part.Units, 4)
            : "";

    /// <summary>Every centre that a hole could have in the sketches that it uses, and its others.</summary>
    private static ImmutableArray<CentreView> Centres(Model model, FormStep step)
    {
        if (step is not HoleStep hole)
        {
            return [];
        }

        var all = ImmutableArray.CreateBuilder<CentreView>();
        foreach (var id in hole.Centres.Select(World.StepOf).Distinct())
        {
            if (model.SketchOf(id) is { } sketch)
            {
                all.AddRange(
                    FormPicking
                        .Centres(sketch.Sketch)
                        .Select(c => new CentreView(
                            $"{id}/{c.Id}",
                            $"{(c is CircleEntity ? "centre of " : "")}{model.WordsOf($"{id}/{c.Id}")}",
                            hole.Centres.Contains($"{id}/{c.Id}")
                        ))
                );
            }
        }

        all.AddRange(
            hole.Centres.Where(c => !all.Any(a => a.Reference == c)).Select(c => new CentreView(c, PickView(model, c).Words, true))
        );
        return all.ToImmutable();
    }
}
