using System.Collections.Immutable;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Parts.Commands;

/// <summary>Adds a step above the stop line. A number of 0 is chosen by the part; an empty id too.</summary>
[Kind("add-step")]
public sealed record AddStep(Step Step) : PartCommand
{
    /// <summary>Whether the step was kept before, as in a file: what it has lost since stays written down.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public bool Kept { get; init; }

    public override string Words => $"add {Step.Kind} {Step.Name}";

    protected override Outcome<Part> Make(Part part) => Naming.Of(part, Step).Then(n => (this with { Step = n.Step }).Added(n.Part));

    private Outcome<Part> Added(Part part)
    {
        if (part.Steps.Length >= Part.MostSteps)
        {
            return new Refusal("part.too-many-steps", $"A part may hold {Part.MostSteps} steps.");
        }

        var taken = part.Steps.Select(s => s.Id).ToHashSet(StringComparer.Ordinal);
        var id = Step.Id.Length > 0 ? Step.Id : Ids.Next(Step.Kind, taken);
        var number = Step.Number > 0 ? Step.Number : part.NextNumber();
        if (number < 0)
        {
            // No number is left between two steps: the ones behind make room.
            var line = part.StopLine!.Value;
            part = part with { Steps = [.. part.Steps.Select(s => s.Number > line ? s with { Number = s.Number + 10 } : s)] };
            number = part.NextNumber();
        }

        var step = Step with { Id = id, Number = number, Name = Step.Name.Length > 0 ? Step.Name : Step.FirstName(part, id) };
        if (Ids.Check(id) is { } badId)
        {
            return badId;
        }

        if (part.Find(id) is not null || part.Steps.Any(s => s.Number == number))
        {
            return new Refusal("step.duplicate", $"There is already a step '{id}' or a step number {number}.", id);
        }

        return Part.CheckName(step.Name)
            ?? StepRules.Check(part, step, Kept ? step : null)
            ?? (Outcome<Part>)
                StepRules.Sorted(
                    part with
                    {
                        Steps = part.Steps.Add(step),
                        StopLine = part.StopLine is null ? null : Math.Max(part.StopLine.Value, number),
                    }
                );
    }
}

/// <summary>Puts a changed step in place of the one of the same id.</summary>
[Kind("replace-step")]
public sealed record ReplaceStep(Step Step) : PartCommand
{
    public override string Words => $"change {Step.Name}";

    protected override Outcome<Part> Make(Part part) => Naming.Of(part, Step).Then(n => (this with { Step = n.Step }).Replaced(n.Part));

    private Outcome<Part> Replaced(Part part)
    {
        if (part.Find(Step.Id) is not { } old)
        {
            return NoStep(Step.Id);
        }

        if (old.Kind != Step.Kind)
        {
            return new Refusal("step.kind", $"Step '{old.Id}' is a {old.Kind} and cannot become a {Step.Kind}.", "step");
        }

        var step = Step with { Number = old.Number };
        return Part.CheckName(step.Name) ?? StepRules.Check(part, step, old) ?? PartSolver.Resolve(part.With(step), [step]);
    }
}

/// <summary>Takes a step away; refused while others are built on it, unless it is wanted anyway: those then fail, saying
/// what they lost.</summary>
[Kind("remove-step")]
public sealed record RemoveStep(string Step, bool Anyway = false) : PartCommand
{
    public override string Words => $"remove {Step}";

    protected override Outcome<Part> Make(Part part)
    {
        if (part.Find(Step) is not { } step)
        {
            return NoStep(Step);
        }

        var users = part
            .Steps.Where(s => s.Id != Step && s.References.Any(r => World.StepOf(r) == Step))
            .Select(s => $"{s.Number} {s.Name}")
            .ToList();
        return users.Count > 0 && !Anyway
            ? new Refusal(
                "step.in-use",
                $"{step.Name} is needed by {string.Join(", ", users)}. Remove or change those first, suppress it, or remove it "
                    + "anyway: they then wait to be given something else.",
                Step
            )
            : part with
            {
                Steps = part.Steps.Remove(step),
            };
    }
}

[Kind("rename-step")]
public sealed record RenameStep(string Step, string Name) : PartCommand
{
    public override string Words => $"rename to {Name}";

    protected override Outcome<Part> Make(Part part) =>
        part.Find(Step) is not { } step ? NoStep(Step)
        : Part.CheckName(Name) is { } wrong ? wrong
        : step.ValueName is not null ? Followed(part, step)
        : part.With(step with { Name = Name.Trim() });

    /// <summary>The formulas that use a reading follow its name.</summary>
    private Outcome<Part> Followed(Part part, Step reading)
    {
        var (name, users) = (Name.Trim(), part.Steps.Where(s => s.NamesUsed().Contains(reading.Name)).ToList());
        if (users.Count > 0 && Parameter.CheckName(name) is { } unusable)
        {
            return unusable with
            {
                Message =
                    $"{unusable.Message} '{reading.Name}' is used in formulas of "
                    + $"{string.Join(", ", users.Select(u => $"step {u.Number} {u.Name}"))}.",
                Where = "name",
            };
        }

        var renamed = NameUse.Follow(part.With(reading with { Name = name }), reading.Name, name);

        // Its value is known by the new name until the next rebuild tells.
        return renamed with
        {
            Readings = part.Readings.TryGetValue(reading.Name, out var value)
                ? part.Readings.Remove(reading.Name).SetItem(name, value)
                : part.Readings,
        };
    }
}

/// <summary>Leaves a step out of the build, or takes it back in.</summary>
[Kind("suppress-step")]
public sealed record SuppressStep(string Step, bool Suppressed) : PartCommand
{
    public override string Words => Suppressed ? $"suppress {Step}" : $"build {Step} again";

    protected override Outcome<Part> Make(Part part) =>
        part.Find(Step) is { } step ? part.With(step with { Suppressed = Suppressed }) : NoStep(Step);
}

/// <summary>Leaves a body of an imported file out, or takes it in again.</summary>
/// <param name="Step">The import.</param>
/// <param name="Number">Which body, in the order of the file, from 1.</param>
/// <param name="Out">Whether it is left out.</param>
[Kind("leave-out-body")]
public sealed record LeaveOutBody(string Step, int Number, bool Out) : PartCommand
{
    public override string Words => Out ? $"leave body {Number} of {Step} out" : $"take body {Number} of {Step} in again";

    protected override Outcome<Part> Make(Part part)
    {
        if (part.Find(Step) is not ImportStep import)
        {
            return part.Find(Step) is null ? NoStep(Step) : new Refusal("import.no-import", $"'{Ids.Shorten(Step)}' is no import.", Step);
        }

        var changed = import with { LeftOut = import.LeavesOut(Number) == Out ? import.LeftOut : import.LeftOut.Toggled($"{Number}") };
        return changed.Check() is { } wrong ? wrong
            : changed.LeftOut.Count == changed.Bodies.Count && Out
                ? new Refusal("import.all-left-out", "The last body cannot be left out; suppress or remove the step instead.", Step)
            : part.With(changed);
    }
}

/// <summary>Says what the numbers of a file of triangles mean.</summary>
/// <param name="Step">The reference.</param>
/// <param name="Unit">The unit.</param>
[Kind("set-mesh-unit")]
public sealed record SetMeshUnit(string Step, Meshes.MeshUnit Unit) : PartCommand
{
    public override string Words => $"read {Step} in {Meshes.MeshUnits.Symbol(Unit)}";

    protected override Outcome<Part> Make(Part part)
    {
        if (part.Find(Step) is not MeshStep mesh)
        {
            return part.Find(Step) is null
                ? NoStep(Step)
                : new Refusal("import.no-mesh", $"'{Ids.Shorten(Step)}' holds no triangles of a file.", Step);
        }

        var changed = mesh with { Unit = Unit };
        return changed.Check() is { } wrong ? wrong : part.With(changed);
    }
}

/// <summary>Draws a step or not.</summary>
[Kind("show-step")]
public sealed record ShowStep(string Step, bool Shown) : PartCommand
{
    public override string Words => Shown ? $"show {Step}" : $"hide {Step}";

    protected override Outcome<Part> Make(Part part) =>
        part.Find(Step) is { } step ? part.With(step with { Hidden = !Shown }) : NoStep(Step);
}

/// <summary>Draws all steps of a kind, or none.</summary>
[Kind("show-kind")]
public sealed record ShowKind(string Kind, bool Shown) : PartCommand
{
    public override string Words => Shown ? $"show every {Kind}" : $"hide every {Kind}";

    protected override Outcome<Part> Make(Part part)
    {
        var of = part.Steps.Where(s => s.Kind == Kind).ToList();
        return of.Count == 0
            ? new Refusal("step.no-kind", $"There is no {Ids.Shorten(Kind)} in the part.", "kind")
            : part with
            {
                Steps = [.. part.Steps.Select(s => s.Kind == Kind ? s with { Hidden = !Shown } : s)],
            };
    }
}

/// <summary>Moves a step to stand right after another, or to the top.</summary>
/// <param name="Step">What moves.</param>
/// <param name="After">Id of the step above its new place; null for the top.</param>
[Kind("move-step")]
public sealed record MoveStep(string Step, string? After) : PartCommand
{
    public override string Words => $"move {Step}";

    protected override Outcome<Part> Make(Part part)
    {
        if (part.Find(Step) is not { } step)
        {
            return NoStep(Step);
        }

        var rest = part.Steps.Remove(step);
        var at = After is null ? 0 : rest.IndexOf(rest.FirstOrDefault(s => s.Id == After)!) + 1;
        if (After is not null && at == 0)
        {
            return NoStep(After);
        }

        if (rest.Skip(at).FirstOrDefault(s => step.References.Any(r => World.StepOf(r) == s.Id)) is { } parent)
        {
            return new Refusal("step.order", $"{step.Name} stands on {parent.Name} (step {parent.Number}) and cannot come before it.", Step)
            {
                Involved = [parent.Id],
            };
        }

        if (rest.Take(at).LastOrDefault(s => s.References.Any(r => World.StepOf(r) == Step)) is { } child)
        {
            return new Refusal("step.order", $"{child.Name} (step {child.Number}) stands on {step.Name} and cannot come before it.", Step)
            {
                Involved = [child.Id],
            };
        }

        // The numbers stay where they are; the steps move over them, and the stop line stays between the same two numbers.
        var numbers = part.Steps.Select(s => s.Number).ToList();
        return part with { Steps = [.. rest.Insert(at, step).Select((s, i) => s with { Number = numbers[i] })] };
    }
}

/// <summary>Moves the stop line below the step of that number; null takes it away.</summary>
[Kind("set-stop-line")]
public sealed record SetStopLine(int? Below) : PartCommand
{
    public override string Words => "move the stop line";

    protected override Outcome<Part> Make(Part part) =>
        part with
        {
            StopLine = Below is { } line && part.Steps.Any(s => s.Number > line) ? Math.Max(0, line) : null,
        };
}

/// <summary>Gives one size of a step another formula: a dimension of a sketch by its id, the length of an extrude.</summary>
[Kind("set-size")]
public sealed record SetSize(string Step, string Field, string Value) : PartCommand
{
    public override string Words => $"set {Field} of {Step} to {Value}";

    protected override Outcome<Part> Make(Part part)
    {
        if (part.Find(Step) is not { } step)
        {
            return NoStep(Step);
        }

        if (step.Sizes.FirstOrDefault(z => z.Field == Field) is not { } size)
        {
            return new Refusal("step.no-size", $"{step.Name} has no size '{Ids.Shorten(Field)}'.", Field);
        }

        if (NamedFormula.Of(Value) is not null)
        {
            var named = Naming.Of(part, Value, size.Kind);
            return named.Done ? new SetSize(Step, Field, named.Value.Text!).Apply(named.Value.Part) : named.Refusal! with { Where = Field };
        }

        var formula = Formula.ForField(Value, size.Kind, part.Units, part.Values.Of);
        if (!formula.Done)
        {
            return formula.Refusal! with { Where = Field };
        }

        if (step is SketchStep { Sketch: var sketch } && sketch.Dimensions.FirstOrDefault(d => d.Id == Field) is { } dimension)
        {
            return new EditSketch(Step, new Sketches.Editing.SketchEdit { Size = [dimension with { Value = formula.Value.Text }] }).Apply(
                part
            );
        }

        var changed = step.WithSize(Field, formula.Value.Text);
        return StepRules.Check(part, changed, step) ?? PartSolver.Resolve(part.With(changed), [changed]);
    }
}

/// <summary>What every step must keep.</summary>
internal static class StepRules
{
    public static Part Sorted(Part part) => part with { Steps = [.. part.Steps.OrderBy(s => s.Number)] };

    public static Refusal? Check(Part part, Step step, Step? old = null)
    {
        if (step.Check() is { } wrong)
        {
            return wrong;
        }

        foreach (var reference in step.References)
        {
            var on = World.StepOf(reference);
            if (on == World.Id)
            {
                if (!World.Has(reference))
                {
                    return new Refusal(
                        "step.reference",
                        $"'{Ids.Shorten(reference)}' is not part of the world frame "
                            + $"({string.Join(", ", World.Members.Select(m => $"{World.Id}/{m}"))}).",
                        reference
                    );
                }
            }
            else if (part.Find(on) is not { } parent)
            {
                // What was lost stays written down until it is replaced; the rebuild says what is missing.
                if (old?.References.Contains(reference) == true)
                {
                    continue;
                }

                return new Refusal(
                    "step.reference",
                    $"{step.Name} refers to '{Ids.Shorten(reference)}', which is no step of the part.",
                    reference
                );
            }
            else if (parent.Number >= step.Number)
            {
                return new Refusal(
                    "step.order",
                    $"{step.Name} (step {step.Number}) refers to {parent.Name}, which comes after it (step {parent.Number}).",
                    reference
                );
            }
        }

        var values = part.Values;
        foreach (var size in step.Sizes.Where(_ => step is not SketchStep))
        {
            var formula = Formula.Parse(size.Formula);
            if (formula.Done && part.AwaitsReading(formula.Value.Names))
            {
                continue;
            }

            var value = formula.Then(f => f.Evaluate(values.Of));
            var refusal = value.Refusal ?? CheckSize(size, value.Value, part.Units);
            if (refusal is not null)
            {
                return refusal with { Where = size.Field };
            }
        }

        return null;
    }

    private static Refusal? CheckSize(StepSize size, Quantity value, LengthUnit unit) =>
        value.Dimension != size.Kind
            ? new Refusal("formula.kind", $"{size.Words} needs {size.Kind.Words}; '{size.Formula}' is {value.Dimension.Words}.")
        : Math.Abs(value.Value) > Tolerances.LargestSize
            ? new Refusal(
                "size.too-large",
                $"{size.Words} may be up to {Units.Show(value with { Value = Tolerances.LargestSize }, unit)}, not "
                    + $"{Units.Show(value, unit)}."
            )
        : !size.MayBeNegative && value.Value < Tolerances.SmallestSize
            ? new Refusal("size.too-small", $"{size.Words} must be more than zero, not {Units.Show(value, unit, 4)}.")
        : null;
}
