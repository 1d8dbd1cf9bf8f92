using System.Text.Json.Serialization;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Parts;

/// <summary>One row of the build sheet.</summary>
/// <param name="Id">Stable and readable; names of faces begin with it.</param>
/// <param name="Number">10, 20, 30 …; steps are built in this order.</param>
/// <param name="Name">As shown.</param>
[ToldBy("kind")]
public abstract record Step(string Id, int Number, string Name)
{
    /// <summary>A suppressed step is kept but not built.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool Suppressed { get; init; }

    /// <summary>Whether it is built but not drawn; null where the view decides (a sketch that a form was made of is not drawn).</summary>
    public bool? Hidden { get; init; }

    /// <summary>The group of the build sheet that it is shown in, or null.</summary>
    public string? Group { get; init; }

    /// <summary>As written in files.</summary>
    public abstract string Kind { get; }

    /// <summary>References to faces, planes and sketches that it is built from.</summary>
    public abstract IReadOnlyList<string> References { get; }

    /// <summary>Its sizes that are formulas, the main one first. A sketch's sizes are its driving dimensions.</summary>
    public abstract IReadOnlyList<StepSize> Sizes { get; }

    /// <summary>The name by which formulas of later steps may use what it reads; null for what reads nothing.</summary>
    public virtual string? ValueName => null;

    /// <summary>What it is called when it is added without a name.</summary>
    /// <param name="part">What it is added to.</param>
    /// <param name="id">The id that it gets there.</param>
    public virtual string FirstName(Part part, string id) => id;

    /// <summary>The names of parameters and readings that its formulas use.</summary>
    public IEnumerable<string> NamesUsed() => Sizes.SelectMany(z => Formula.Parse(z.Formula) is { Done: true } f ? f.Value.Names : []);

    /// <summary>What of it is large, such as the file that it was read from; null for most.</summary>
    [JsonIgnore]
    public virtual string? Bulk => null;

    /// <summary>The step with another bulk.</summary>
    public virtual Step WithBulk(string bulk) => this;

    /// <summary>What one of its sizes is to whoever makes the part.</summary>
    public virtual SizeUse UseOf(StepSize size) => SizeUse.Laid;

    /// <summary>The step with one size given a new formula; only for fields of <see cref="Sizes"/>.</summary>
    public abstract Step WithSize(string field, string formula);

    /// <summary>What is wrong with the step by itself, or null.</summary>
    public abstract Refusal? Check();
}

/// <summary>What a size is to whoever makes the part.</summary>
public enum SizeUse
{
    /// <summary>It lays something out, as a plane's distance, or is a limit or a count: nothing is made to it.</summary>
    Laid,

    /// <summary>It is made and may be off.</summary>
    Made,

    /// <summary>It is made as the radius or height of a broken edge.</summary>
    Broken,
}

/// <summary>A size of a step.</summary>
/// <param name="Field">The name of the field.</param>
/// <param name="Formula">As written.</param>
/// <param name="Kind">Length or angle.</param>
/// <param name="MayBeNegative">Whether zero and negative values make sense.</param>
public sealed record StepSize(string Field, string Formula, Dimension Kind, bool MayBeNegative = false)
{
    /// <summary>The field as messages call it.</summary>
    public string Words => WordsOf(Field);

    /// <summary>The name of a field as messages call it: <c>headAngle</c> is the head angle.</summary>
    public static string WordsOf(string field) =>
        $"The {string.Concat(field.Select(c => char.IsUpper(c) ? $" {char.ToLowerInvariant(c)}" : c.ToString()))}";
}
