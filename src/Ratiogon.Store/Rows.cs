using Microsoft.AspNetCore.Identity;

namespace Ratiogon.Store;

/// <summary>An account.</summary>
public sealed class Account : IdentityUser<Guid>
{
    public DateTimeOffset Created { get; set; } = DateTimeOffset.UtcNow;

    /// <summary>A copy of the demo for whoever looks in, thrown away after a day.</summary>
    public bool Visitor { get; set; }

    /// <summary>SHA-256 of the code that lets the owner in without the password; null where there is none.</summary>
    public byte[]? Recovery { get; set; }

    /// <summary>Megabytes that it may take; null for what the server gives everybody.</summary>
    public int? Quota { get; set; }
}

/// <summary>A part without its steps.</summary>
public sealed class PartRow
{
    public Guid Id { get; set; }

    public Guid OwnerId { get; set; }

    public required string Name { get; set; }

    /// <summary>Units, material, parameters and stop line as JSON.</summary>
    public required string Header { get; set; }

    /// <summary>Counts up with every kept change; a command that expects another one is stale.</summary>
    public long Revision { get; set; }

    public DateTimeOffset Created { get; set; }

    public DateTimeOffset Changed { get; set; }

    /// <summary>PNGs for the list of parts, on light paper and on dark; null where there is nothing to see.</summary>
    public byte[]? Picture { get; set; }

    public byte[]? PictureDark { get; set; }

    /// <summary>The revision that was drawn, or for which there was nothing to draw; 0 before.</summary>
    public long PictureOf { get; set; }

    /// <summary>How many of its steps failed when it was drawn.</summary>
    public int Failing { get; set; }

    /// <summary>When it was deleted; null while it is there. Whoever asks for parts does not see those.</summary>
    public DateTimeOffset? Deleted { get; set; }

    /// <summary>Words that its owner put on it.</summary>
    public string[] Tags { get; set; } = [];
}

/// <summary>What a state of a part was built into, to be shown before anything is built again.</summary>
public sealed class ModelRow
{
    public Guid PartId { get; set; }

    /// <summary>Of the part's content and of the program that built it.</summary>
    public required string Key { get; set; }

    /// <summary>As the worker answers, packed.</summary>
    public required byte[] Model { get; set; }

    public DateTimeOffset Used { get; set; }
}

/// <summary>One step of a part.</summary>
public sealed class StepRow
{
    public Guid PartId { get; set; }

    public required string StepId { get; set; }

    public int Number { get; set; }

    /// <summary>The step as JSON.</summary>
    public required string Body { get; set; }
}

/// <summary>One entry of the edit log; never changed once written.</summary>
public sealed class EditRow
{
    public Guid PartId { get; set; }

    /// <summary>The revision that it led to.</summary>
    public long Revision { get; set; }

    public DateTimeOffset At { get; set; }

    public Guid AccountId { get; set; }

    public EditKind Kind { get; set; }

    /// <summary>What was done, in a few words.</summary>
    public required string Words { get; set; }

    /// <summary>The rows it changed, before and after, as JSON.</summary>
    public required string Change { get; set; }

    /// <summary>What somebody called the state that it led to; null for most.</summary>
    public string? Name { get; set; }

    /// <summary>For undo and redo: the revision of the edit taken back or made again.</summary>
    public long? Of { get; set; }
}

public enum EditKind
{
    Do,
    Undo,
    Redo,
}
