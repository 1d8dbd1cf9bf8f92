using System.Collections.Immutable;
using Ratiogon.Core.Datums;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;

namespace Ratiogon.Core.Tools.Datums;

/// <summary>A datum being made or edited: all that the screen holds of it.</summary>
public sealed record DatumDraft
{
    public required DatumKind Makes { get; init; }

    /// <summary>What has been said so far.</summary>
    public ImmutableArray<DatumCondition> Conditions { get; init; } = [];

    /// <summary>Whether the user had a say in the conditions: then further picks leave them as they are where they can.</summary>
    public bool Said { get; init; }

    /// <summary>References picked since, to be given their relations.</summary>
    public ImmutableArray<string> Picks { get; init; } = [];

    /// <summary>Label of the chosen solution; null takes the first.</summary>
    public string? Choice { get; init; }

    public bool Flip { get; init; }

    /// <summary>Name to give; empty for one by itself.</summary>
    public string Name { get; init; } = "";

    /// <summary>Id of the step that is edited; null for a new one.</summary>
    public string? Step { get; init; }

    /// <summary>Id of the frame that typed coordinates are read in; null for the world.</summary>
    public string? Active { get; init; }

    /// <summary>The step of this draft.</summary>
    public DatumStep ToStep()
    {
        var id = Step ?? "";
        DatumStep made = Makes switch
        {
            DatumKind.Plane => new PlaneStep(id, 0, Name, Conditions),
            DatumKind.Axis => new AxisStep(id, 0, Name, Conditions),
            DatumKind.Point => new PointStep(id, 0, Name, Conditions),
            _ => new FrameStep(id, 0, Name, Conditions),
        };
        return made with { Choice = Choice, Flip = Flip };
    }

    public static DatumDraft Of(DatumStep step)
    {
        ArgumentNullException.ThrowIfNull(step);
        return new DatumDraft
        {
            Makes = step.Makes,
            Conditions = step.Conditions,
            Choice = step.Choice,
            Flip = step.Flip,
            Name = step.Name,
            Step = step.Id,
            Said = true,
        };
    }
}

/// <summary>One condition as shown.</summary>
/// <param name="Condition">As kept.</param>
/// <param name="Words">In words; the picks are shown behind it.</param>
/// <param name="Of">The picks, each with its words; a lost one is marked.</param>
/// <param name="Others">The relations that it could be instead.</param>
public sealed record ConditionView(
    DatumCondition Condition,
    string Words,
    ImmutableArray<PickView> Of,
    ImmutableArray<RelationView> Others
);

public sealed record PickView(string Reference, string Words, bool Lost);

/// <summary>Another relation for the same picks, as a whole condition.</summary>
public sealed record RelationView(string Words, DatumCondition Condition);

/// <summary>Another reading of all picks.</summary>
public sealed record ReadingView(string Words, ImmutableArray<DatumCondition> Conditions, int Solutions);

/// <summary>A value of a datum, with the handle that drags it.</summary>
/// <param name="Name">Unique in the datum.</param>
/// <param name="Formula">As written.</param>
/// <param name="Shown">Its value.</param>
/// <param name="Grip">Where the handle sits; null where nothing moves with the value.</param>
/// <param name="Way">Which way the grip goes as the value grows; unit vector.</param>
public sealed record FieldView(string Name, string Formula, string Shown, Vec3? Grip, Vec3 Way);

/// <summary>What the Datum bench answers: everything the screen shows.</summary>
public sealed record DatumAnswer
{
    public required DatumDraft Draft { get; init; }

    public required string Prompt { get; init; }

    public ImmutableArray<ConditionView> Conditions { get; init; } = [];

    public int Free { get; init; }

    public ImmutableArray<string> Left { get; init; } = [];

    public ImmutableArray<DatumSolution> Solutions { get; init; } = [];

    /// <summary>Which solution is chosen; -1 for none.</summary>
    public int Chosen { get; init; } = -1;

    public ImmutableArray<FieldView> Fields { get; init; } = [];

    /// <summary>Other readings of the same picks.</summary>
    public ImmutableArray<ReadingView> Readings { get; init; } = [];

    /// <summary>Where a thing is taken as going on beyond its ends: pairs of places.</summary>
    public ImmutableArray<Vec3> Extensions { get; init; } = [];

    public Refusal? Refusal { get; init; }

    /// <summary>Another datum that these picks would give, where this one is refused.</summary>
    public DatumDraft? Instead { get; init; }

    /// <summary>What accepting sends; null while it cannot be accepted.</summary>
    public PartCommand? Command { get; init; }
}
