using System.Collections.Immutable;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Forms;

/// <summary>What may be picked for a field.</summary>
[Flags]
public enum PickKind
{
    None = 0,
    Sketch = 1,

    /// <summary>A region of the form's sketch, by its key.</summary>
    Region = 2,

    /// <summary>Anything with a straight line in it: edges, sketch lines, axes, axes of round faces, normals of planar faces.</summary>
    Straight = 4,

    /// <summary>A planar face, a plane or a frame.</summary>
    Plane = 8,
    Face = 16,
    Edge = 32,
    Point = 64,

    /// <summary>Edges, sketch curves and 3D curves that follow each other.</summary>
    Path = 128,
    Body = 256,

    /// <summary>Another form of the build sheet.</summary>
    Form = 512,
}

/// <summary>One field of a form, as data: what it is called, when it applies, how it is read and set. The step's
/// references, its sizes, the panel and the files all follow from it.</summary>
/// <param name="Name">Stable, as in files.</param>
/// <param name="Label">As shown.</param>
public abstract record FormField(string Name, string Label)
{
    /// <summary>Whether the field applies to the step as it is set.</summary>
    public Func<FormStep, bool> When { get; init; } = _ => true;

    /// <summary>One sentence for the prompt while the field is being filled.</summary>
    public string Hint { get; init; } = "";
}

/// <summary>A field of picks.</summary>
public sealed record PickField(
    string Name,
    string Label,
    PickKind Accepts,
    int Least,
    int Most,
    Func<FormStep, Refs> Get,
    Func<FormStep, Refs, FormStep> Set
) : FormField(Name, Label)
{
    /// <summary>Whether a place on a flat face will do: a point is then made there.</summary>
    public bool Places { get; init; }
}

/// <summary>A field with a formula.</summary>
public sealed record ValueField(
    string Name,
    string Label,
    Dimension Kind,
    Func<FormStep, string?> Get,
    Func<FormStep, string, FormStep> Set
) : FormField(Name, Label)
{
    /// <summary>Whether zero and negative values make sense.</summary>
    public bool MayBeNegative { get; init; }

    /// <summary>Whether it may be left empty; values that may be negative always may.</summary>
    public bool Optional
    {
        get => field || MayBeNegative;
        init;
    }
}

/// <summary>A field with a choice of words.</summary>
public sealed record ChoiceField(
    string Name,
    string Label,
    ImmutableArray<FieldOption> Options,
    Func<FormStep, string> Get,
    Func<FormStep, string, FormStep?> Set
) : FormField(Name, Label);

/// <summary>A field that is on or off.</summary>
public sealed record FlagField(string Name, string Label, Func<FormStep, bool> Get, Func<FormStep, bool, FormStep> Set)
    : FormField(Name, Label);

/// <summary>Writes down the fields of one kind of step.</summary>
public sealed class FormFields<TStep>
    where TStep : FormStep
{
    private readonly ImmutableArray<FormField>.Builder all = ImmutableArray.CreateBuilder<FormField>();

    public ImmutableArray<FormField> All => all.ToImmutable();

    public FormFields<TStep> Picks(
        string name,
        string label,
        PickKind accepts,
        Func<TStep, Refs> get,
        Func<TStep, Refs, TStep> set,
        int least = 1,
        int most = int.MaxValue,
        Func<TStep, bool>? when = null,
        string hint = "",
        bool places = false
    ) =>
        Add(
            new PickField(name, label, accepts, least, most, s => get((TStep)s), (s, v) => set((TStep)s, v))
            {
                When = Only(when),
                Hint = hint,
                Places = places,
            }
        );

    /// <summary>A single pick; empty where there is none.</summary>
    public FormFields<TStep> Pick(
        string name,
        string label,
        PickKind accepts,
        Func<TStep, string?> get,
        Func<TStep, string?, TStep> set,
        bool optional = false,
        Func<TStep, bool>? when = null,
        string hint = ""
    ) =>
        Picks(
            name,
            label,
            accepts,
            s => string.IsNullOrEmpty(get(s)) ? Refs.None : [get(s)!],
            (s, v) =>
                set(
                    s,
                    v.Count > 0 ? v[^1]
                        : optional ? null
                        : ""
                ),
            optional ? 0 : 1,
            1,
            when,
            hint
        );

    public FormFields<TStep> Length(
        string name,
        string label,
        Func<TStep, string?> get,
        Func<TStep, string, TStep> set,
        Func<TStep, bool>? when = null,
        bool negative = false,
        string hint = "",
        bool optional = false
    ) => Value(name, label, Dimension.OfLength, get, set, when, negative, hint, optional);

    public FormFields<TStep> Angle(
        string name,
        string label,
        Func<TStep, string?> get,
        Func<TStep, string, TStep> set,
        Func<TStep, bool>? when = null,
        bool negative = false
    ) => Value(name, label, Dimension.OfAngle, get, set, when, negative);

    public FormFields<TStep> Number(
        string name,
        string label,
        Func<TStep, string?> get,
        Func<TStep, string, TStep> set,
        Func<TStep, bool>? when = null
    ) => Value(name, label, Dimension.None, get, set, when);

    public FormFields<TStep> Value(
        string name,
        string label,
        Dimension kind,
        Func<TStep, string?> get,
        Func<TStep, string, TStep> set,
        Func<TStep, bool>? when = null,
        bool negative = false,
        string hint = "",
        bool optional = false
    ) =>
        Add(
            new ValueField(name, label, kind, s => get((TStep)s), (s, v) => set((TStep)s, v))
            {
                When = Only(when),
                MayBeNegative = negative,
                Optional = optional,
                Hint = hint,
            }
        );

    /// <summary>A choice among the values of an enumeration, by the names they have in files.</summary>
    public FormFields<TStep> Choice<TEnum>(
        string name,
        string label,
        Func<TStep, TEnum> get,
        Func<TStep, TEnum, TStep> set,
        Func<TStep, bool>? when = null,
        params ReadOnlySpan<EnumOption<TEnum>> options
    )
        where TEnum : struct, Enum
    {
        var known = options.ToArray();
        return Add(
            new ChoiceField(
                name,
                label,
                [.. known.Select(o => new FieldOption(o.Value.ToString(), o.Words))],
                s => get((TStep)s).ToString(),
                (s, v) =>
                    Enum.TryParse<TEnum>(v, out var value)
                    && Array.Exists(known, o => EqualityComparer<TEnum>.Default.Equals(o.Value, value))
                        ? set((TStep)s, value)
                        : null
            )
            {
                When = Only(when),
            }
        );
    }

    /// <summary>A choice among words that are values themselves.</summary>
    public FormFields<TStep> Choice(
        string name,
        string label,
        Func<TStep, string> get,
        Func<TStep, string, TStep> set,
        IEnumerable<FieldOption> options,
        Func<TStep, bool>? when = null
    )
    {
        ImmutableArray<FieldOption> known = [.. options];
        return Add(
            new ChoiceField(name, label, known, s => get((TStep)s), (s, v) => known.Any(o => o.Value == v) ? set((TStep)s, v) : null)
            {
                When = Only(when),
            }
        );
    }

    public FormFields<TStep> Flag(
        string name,
        string label,
        Func<TStep, bool> get,
        Func<TStep, bool, TStep> set,
        Func<TStep, bool>? when = null
    ) => Add(new FlagField(name, label, s => get((TStep)s), (s, v) => set((TStep)s, v)) { When = Only(when) });

    /// <summary>What it does to the material, and to which bodies.</summary>
    public FormFields<TStep> Operation(
        Func<TStep, FormOperation> get,
        Func<TStep, FormOperation, TStep> set,
        Func<TStep, Refs> bodies,
        Func<TStep, Refs, TStep> setBodies
    ) =>
        Choice(
                "operation",
                "Material",
                get,
                set,
                null,
                new(FormOperation.Join, "added"),
                new(FormOperation.Cut, "taken away"),
                new(FormOperation.Intersect, "kept only here"),
                new(FormOperation.Body, "a body of its own")
            )
            .Picks(
                "bodies",
                "Bodies",
                PickKind.Body,
                bodies,
                setBodies,
                0,
                when: s => get(s) != FormOperation.Body,
                hint: "Pick the bodies that it works on; none for all that it meets"
            );

    private FormFields<TStep> Add(FormField field)
    {
        all.Add(field);
        return this;
    }

    private static Func<FormStep, bool> Only(Func<TStep, bool>? when) => when is null ? _ => true : s => when((TStep)s);
}

/// <summary>One of the words of a choice.</summary>
/// <param name="Value">As written in files.</param>
/// <param name="Words">As shown.</param>
public readonly record struct FieldOption(string Value, string Words);

/// <summary>One of the words of a choice among the values of an enumeration.</summary>
/// <param name="Value">The value.</param>
/// <param name="Words">As shown.</param>
public readonly record struct EnumOption<TEnum>(TEnum Value, string Words)
    where TEnum : struct, Enum;
