using Ratiogon.Core.Datums;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;

namespace Ratiogon.Core.Parts;

/// <summary>A sketch as it stands, where it lies.</summary>
/// <param name="Step">The step that it is.</param>
/// <param name="Sketch">With what followed the model since.</param>
/// <param name="Plane">Its origin and axes.</param>
public sealed record PlacedSketch(Step Step, Sketch Sketch, Frame Plane);

/// <summary>A part as far as it is built: what its references name and its formulas come to.</summary>
public interface IModel
{
    Part Part { get; }

    /// <summary>What names in formulas stand for: parameters, and readings once they are taken.</summary>
    ParameterValues Values { get; }

    /// <summary>What a reference names, or that it is lost with the closest there are now.</summary>
    Outcome<Thing> Find(string reference);

    /// <summary>What people call what a reference names, without an article; of what is lost, as far as its name tells.</summary>
    string WordsOf(string reference);

    /// <summary>A text in which every reference is said in words.</summary>
    string InWords(string text);

    /// <summary>A built sketch; null for anything else.</summary>
    PlacedSketch? SketchOf(string id);

    /// <summary>The frame of anything flat that can be drawn on: a plane, a planar face, a frame.</summary>
    Outcome<Frame> PlaneOf(string reference);
}
