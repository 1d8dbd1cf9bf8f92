namespace Ratiogon.Core.Forms;

/// <summary>What has to be picked for a form to be offered, besides that it can begin with it.</summary>
public enum OfferedWith
{
    /// <summary>Whatever it can begin with.</summary>
    Anything,

    /// <summary>Edges and nothing else: they ask to be rounded.</summary>
    Edges,

    /// <summary>Whole steps and bodies, no faces or edges of them.</summary>
    WholeThings,
}

/// <summary>On a form: how it stands among the tools. With its <see cref="KindAttribute"/> it is all that brings a form into the
/// interface.</summary>
/// <param name="label">As shown.</param>
/// <param name="stroke">Second stroke of its shortcut, after that of the bench.</param>
/// <param name="icon">Its mark, an SVG path in a box of 16 by 16.</param>
[AttributeUsage(AttributeTargets.Class, Inherited = false)]
public sealed class FormToolAttribute(string label, char stroke, string icon) : Attribute
{
    /// <summary>Headings of the bench; a group of its own may have another.</summary>
    public const string EdgesAndFaces = "Edges and faces",
        CopiesAndBodies = "Copies and bodies";

    public string Label { get; } = label;

    public char Stroke { get; } = stroke;

    public string Icon { get; } = icon;

    /// <summary>The heading under which it stands; empty for the first ones.</summary>
    public string Group { get; init; } = "";

    /// <summary>Its place on the bench: what is mostly used comes first.</summary>
    public int Place { get; init; } = 1000;

    /// <summary>With which picks it is offered.</summary>
    public OfferedWith Offered { get; init; }

    /// <summary>Whether it makes a body from nothing; the others change bodies that are there.</summary>
    public bool Begins { get; init; }
}
