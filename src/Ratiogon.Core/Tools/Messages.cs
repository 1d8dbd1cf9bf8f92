using System.Collections.Immutable;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;

namespace Ratiogon.Core.Tools;

/// <summary>What a user does, as a tool hears it.</summary>
public enum InputKind
{
    /// <summary>The pointer is somewhere.</summary>
    Move,

    /// <summary>The pointer went down and up in one place.</summary>
    Click,

    /// <summary>The pointer went down and began to move.</summary>
    DragStart,

    /// <summary>It moves while down.</summary>
    Drag,

    /// <summary>It went up again.</summary>
    DragEnd,

    /// <summary>A value was typed into a field.</summary>
    Typed,

    /// <summary>Enter.</summary>
    Accept,

    /// <summary>Escape.</summary>
    Cancel,

    /// <summary>Another way of drawing within the tool: the one named by the text, or the next.</summary>
    Way,

    /// <summary>The next of several solutions; the one before where the text is a minus sign.</summary>
    Next,
}

/// <summary>One input.</summary>
/// <param name="Kind">What was done.</param>
/// <param name="At">Where, on the sketch plane, in millimetres.</param>
/// <param name="Reach">How near counts as on something, in millimetres: a few pixels at the present zoom.</param>
public sealed record ToolInput(InputKind Kind, Vec2 At, double Reach)
{
    /// <summary>Whether inference is held back by a key.</summary>
    public bool Suppress { get; init; }

    /// <summary>Whether picks are added to those there are.</summary>
    public bool Extend { get; init; }

    /// <summary>Whether what is drawn is to be construction geometry.</summary>
    public bool Construction { get; init; }

    /// <summary>For <see cref="InputKind.Typed"/>: the field's name.</summary>
    public string Field { get; init; } = "";

    /// <summary>For <see cref="InputKind.Typed"/>: a formula, or two separated by a comma to place a point.</summary>
    public string Text { get; init; } = "";
}

/// <summary>What a tool works in.</summary>
public sealed record ToolContext(Part Part, SketchStep Step)
{
    public Sketch Sketch => Step.Sketch;

    public ParameterValues Values { get; } = Part.Values;

    /// <summary>Reads a typed value of the given kind; of <c>name = formula</c> the name stays before it.</summary>
    public Outcome<ReadValue> Read(string text, Dimension kind) =>
        NamedFormula.Of(text) is { } named
            ? Parameter.CheckName(named.Name) is { } bad
                ? bad
                : Read(named.Text, kind).Map(r => new ReadValue($"{named.Name} = {r.Text}", r.Value))
            : Formula.ForField(text, kind, Part.Units, Values.Of).Then(f => f.Evaluate(Values.Of).Map(q => new ReadValue(f.Text, q.Value)));

    public string Show(double millimetres) => Units.Show(Quantity.Length(millimetres), Part.Units);
}

/// <summary>A curve of a preview.</summary>
/// <param name="Kind">point, line, circle, arc or path.</param>
/// <param name="Numbers">x y; x1 y1 x2 y2; cx cy r; cx cy r start sweep; x y of each place along a path.</param>
public sealed record PreviewCurve(string Kind, ImmutableArray<double> Numbers)
{
    /// <summary>What it shows: empty for what would be drawn, <c>gone</c> for what would vanish, <c>guide</c> for what only
    /// explains.</summary>
    public string Role { get; init; } = "";
}

/// <summary>A way of drawing within a tool.</summary>
/// <param name="Name">As sent.</param>
/// <param name="Label">In words.</param>
public sealed record ToolWay(string Name, string Label);

/// <summary>A field that may be typed now.</summary>
/// <param name="Name">As sent back with the typed text.</param>
/// <param name="Label">As shown.</param>
/// <param name="Text">What it holds: the typed formula, or the value under the pointer.</param>
/// <param name="Typed">Whether the user fixed it.</param>
public sealed record ToolField(string Name, string Label, string Text, bool Typed);

/// <summary>Where the pointer was drawn to.</summary>
/// <param name="Kind">point, crossing, midpoint, quadrant, tangent, perpendicular, on-curve, line-up, extension, level, upright or
/// free.</param>
/// <param name="At">The place.</param>
/// <param name="Entity">What it lies on, or empty.</param>
public sealed record SnapMark(string Kind, Vec2 At, string Entity)
{
    /// <summary>Places that thin lines lead to, to show what it lines up with.</summary>
    public ImmutableArray<Vec2> Guides { get; init; } = [];

    public bool Equals(SnapMark? other) => other is not null && Kind == other.Kind && At == other.At && Entity == other.Entity;

    public override int GetHashCode() => HashCode.Combine(Kind, At, Entity);
}

/// <summary>What a tool answers to an input.</summary>
public sealed record ToolAnswer
{
    /// <summary>What is expected next.</summary>
    public required string Prompt { get; init; }

    public ImmutableArray<PreviewCurve> Preview { get; init; } = [];

    public SnapMark? Snap { get; init; }

    /// <summary>Constraints that a click here would add, in words.</summary>
    public ImmutableArray<string> Inferred { get; init; } = [];

    public ImmutableArray<ToolField> Fields { get; init; } = [];

    /// <summary>The ways of drawing that the tool has; empty when there is only one.</summary>
    public ImmutableArray<ToolWay> Ways { get; init; } = [];

    /// <summary>The one in use.</summary>
    public string Way { get; init; } = "";

    /// <summary>How many solutions there are to choose from, where there are several.</summary>
    public int Solutions { get; init; }

    /// <summary>Why the last input did nothing.</summary>
    public Refusal? Refusal { get; init; }

    /// <summary>What the user should know of the change that is made now; null where there is nothing to say.</summary>
    public string? Note { get; init; }

    /// <summary>A change to make now.</summary>
    public PartCommand? Command { get; init; }

    /// <summary>The tool is done and wants to be left.</summary>
    public bool Leave { get; init; }

    /// <summary>What is picked; null leaves the picks as they are.</summary>
    public ImmutableArray<string>? Picks { get; init; }

    /// <summary>What the pointer is on, or empty.</summary>
    public string Hover { get; init; } = "";

    /// <summary>The sketch as a drag shows it, before it is kept.</summary>
    public Sketch? Dragged { get; init; }
}

/// <summary>A value that was typed.</summary>
/// <param name="Text">As it is kept.</param>
/// <param name="Value">In millimetres, radians or as it is.</param>
public readonly record struct ReadValue(string Text, double Value);
