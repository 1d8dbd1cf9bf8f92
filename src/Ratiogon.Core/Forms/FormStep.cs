using System.Collections.Immutable;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Forms;

/// <summary>A step that makes or changes bodies. Its fields say what it refers to and which sizes it has.</summary>
public abstract record FormStep(string Id, int Number, string Name) : Step(Id, Number, Name)
{
    /// <summary>How it is filled in.</summary>
    public abstract ImmutableArray<FormField> Fields { get; }

    /// <summary>Builds it where it stands.</summary>
    public abstract Outcome<FormResult> Build(FormSite site);

    /// <summary>The bodies, by references to them or to what is on them, that the step keeps to: it neither looks at another one
    /// nor changes it, but for what it refers to besides. Null where only the build shows which bodies it meets.</summary>
    public abstract Refs? KeepsTo { get; }

    /// <summary>The forms, or bodies, that it makes again elsewhere: it meets whatever they meet.</summary>
    public virtual Refs Repeats => [];

    /// <summary>What a form of material keeps to: the bodies it names, and nothing where it stands as a body of its own.</summary>
    protected static Refs? Met(FormOperation operation, Refs bodies) =>
        bodies.Count > 0 ? bodies
        : operation == FormOperation.Body ? []
        : null;

    /// <summary>What a value begins with when it comes into use; null for the usual one of its kind.</summary>
    public virtual string? Beginning(string field) => null;

    public override IReadOnlyList<string> References =>
        [
            .. Fields
                .OfType<PickField>()
                .Where(f => f.Accepts != PickKind.Region && f.When(this))
                .SelectMany(f => f.Get(this))
                .SelectMany(World.Single),
        ];

    public override IReadOnlyList<StepSize> Sizes =>
        [
            .. Fields
                .OfType<ValueField>()
                .Where(f => f.When(this) && !string.IsNullOrEmpty(f.Get(this)))
                .Select(f => new StepSize(f.Name, f.Get(this)!, f.Kind, f.MayBeNegative)),
        ];

    public override SizeUse UseOf(StepSize size)
    {
        ArgumentNullException.ThrowIfNull(size);
        return size.Kind == Dimension.OfLength || size.Kind == Dimension.OfAngle ? SizeUse.Made : SizeUse.Laid;
    }

    public override Step WithSize(string field, string formula) =>
        Fields.OfType<ValueField>().First(f => f.Name == field).Set(this, formula);

    /// <summary>What is missing before it can be built.</summary>
    public override Refusal? Check()
    {
        foreach (var field in Fields.OfType<PickField>().Where(f => f.When(this)))
        {
            var n = field.Get(this).Count;
            if (n < field.Least)
            {
                return new Refusal(
                    "form.incomplete",
                    field.Hint.Length > 0
                        ? $"{field.Hint}."
                        : $"{field.Label}: {(field.Least == 1 ? "a pick is" : $"{field.Least} picks are")} needed.",
                    field.Name
                );
            }

            if (n > field.Most)
            {
                return new Refusal("form.too-many", $"{field.Label}: {field.Most} at most, not {n}.", field.Name);
            }
        }

        var empty = Fields.OfType<ValueField>().FirstOrDefault(f => f.When(this) && string.IsNullOrWhiteSpace(f.Get(this)) && !f.Optional);
        return empty is null ? null : new Refusal("form.incomplete", $"{empty.Label}: a value is needed.", empty.Name);
    }
}
