using System.Collections.Immutable;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketching;

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

    /// <summary>Reads a typed value of the given kind.</summary>
    public Outcome<(string Text, double Value)> Read(string text, Dimension kind) =>
        Formula.ForField(text, kind, Part.Units, Values.Of).Then(f => f.Evaluate(Values.Of).Map(q => (f.Text, q.Value)));

    public string Show(double millimetres) => Units.Show(Quantity.Length(millimetres), Part.Units);
}

/// <summary>A curve of a preview.</summary>
/// <param name="Kind">point, line, circle or arc.</param>
/// <param name="Numbers">x y; x1 y1 x2 y2; cx cy r; cx cy r start sweep.</param>
public sealed record PreviewCurve(string Kind, ImmutableArray<double> Numbers);

/// <summary>A field that may be typed now.</summary>
/// <param name="Name">As sent back with the typed text.</param>
/// <param name="Label">As shown.</param>
/// <param name="Text">What it holds: the typed formula, or the value under the pointer.</param>
/// <param name="Typed">Whether the user fixed it.</param>
public sealed record ToolField(string Name, string Label, string Text, bool Typed);

/// <summary>Where the pointer was drawn to.</summary>
/// <param name="Kind">point, midpoint, on-curve, level, upright or free.</param>
/// <param name="At">The place.</param>
/// <param name="Entity">What it lies on, or empty.</param>
public sealed record SnapMark(string Kind, Vec2 At, string Entity);

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

    /// <summary>Why the last input did nothing.</summary>
    public Refusal? Refusal { get; init; }

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
