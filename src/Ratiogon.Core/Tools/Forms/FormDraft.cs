using System.Collections.Immutable;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;

namespace Ratiogon.Core.Tools.Forms;

/// <summary>A form being made or edited: all that the screen holds of it.</summary>
/// <param name="Step">As it stands; a new one has no id yet.</param>
public sealed record FormDraft(Step Step)
{
    /// <summary>The field that the next pick goes to; null for the first that takes it.</summary>
    public string? Active { get; init; }

    /// <summary>What makes it a step, or puts it in place of the one that is edited.</summary>
    public PartCommand Command => Step.Id.Length > 0 ? new ReplaceStep(Step) : new AddStep(Step);
}

/// <summary>One thing done on the bench.</summary>
public sealed record FormInput
{
    /// <summary>Something picked; picked once more it is left out.</summary>
    public string? Pick { get; init; }

    /// <summary>The field that is set, activated, or that a pick is meant for.</summary>
    public string? Field { get; init; }

    /// <summary>What the field is set to: a formula, the value of an option, true or false; with a pick, the reference that gives way
    /// to it.</summary>
    public string? Value { get; init; }

    /// <summary>A ray through the view that a handle is pulled to: origin and direction.</summary>
    public ImmutableArray<double> Ray { get; init; } = [];

    /// <summary>How far the pointer may miss, in millimetres.</summary>
    public double Reach { get; init; }

    /// <summary>A name for the step.</summary>
    public string? Name { get; init; }
}

public sealed record FormPickView(string Reference, string Words, bool Lost);

public sealed record FormOptionView(string Value, string Words);

/// <summary>One field as shown.</summary>
/// <param name="Name">As in files.</param>
/// <param name="Label">In words.</param>
/// <param name="Type">picks, regions, value, choice or flag.</param>
public sealed record FormFieldView(string Name, string Label, string Type)
{
    public string Hint { get; init; } = "";

    public bool Active { get; init; }

    public bool Optional { get; init; }

    /// <summary>Whether planes may be picked for it: then those of the world are shown.</summary>
    public bool Planes { get; init; }

    /// <summary>Of picks: whether a place on a flat face will do.</summary>
    public bool Places { get; init; }

    /// <summary>Of picks: whether a point may be among them, so that one can be typed.</summary>
    public bool Points { get; init; }

    public ImmutableArray<FormPickView> Picks { get; init; } = [];

    /// <summary>The formula, or the value of the chosen option.</summary>
    public string Value { get; init; } = "";

    /// <summary>What the formula comes to.</summary>
    public string Shown { get; init; } = "";

    public ImmutableArray<FormOptionView> Options { get; init; } = [];

    public bool On { get; init; }
}

/// <summary>A grip that drags a value.</summary>
public sealed record FormGrip(string Field, Vec3 At, Vec3 Way, string Shown);

/// <summary>A centre that a hole could have, with the reason.</summary>
public sealed record CentreView(string Reference, string Words, bool In);

/// <summary>What the Form bench answers: everything the screen shows.</summary>
public sealed record FormAnswer
{
    public required FormDraft Draft { get; init; }

    public required string Title { get; init; }

    public required string Prompt { get; init; }

    public ImmutableArray<FormFieldView> Fields { get; init; } = [];

    public ImmutableArray<FormGrip> Grips { get; init; } = [];

    public ImmutableArray<CentreView> Centres { get; init; } = [];

    /// <summary>The ways on from the refusal.</summary>
    public ImmutableArray<FormWay> Ways { get; init; } = [];

    /// <summary>What was refused last, or why it cannot be accepted yet.</summary>
    public Refusal? Refusal { get; init; }

    /// <summary>What accepting sends; null while something is missing.</summary>
    public PartCommand? Command { get; init; }
}
