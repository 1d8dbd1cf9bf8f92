using System.Collections.Immutable;
using System.Text.Json.Serialization;

namespace Ratiogon.Core.Sketches.Editing;

/// <summary>A change of a sketch, applied as a whole or refused as a whole.</summary>
public sealed record SketchEdit
{
    /// <summary>Ids to take away, with whatever hangs on them.</summary>
    public ImmutableArray<string> Remove { get; init; } = [];

    /// <summary>Entities that take the place of those of the same id; done before anything is taken away.</summary>
    public ImmutableArray<SketchEntity> Replace { get; init; } = [];

    /// <summary>Constraints that take the place of those of the same id.</summary>
    public ImmutableArray<SketchConstraint> Retie { get; init; } = [];

    /// <summary>Points that become another: every mention of the first is one of the second.</summary>
    public ImmutableDictionary<string, string> Merge { get; init; } = ImmutableDictionary<string, string>.Empty;

    /// <summary>Entities to add, at their drawn positions.</summary>
    public ImmutableArray<SketchEntity> Add { get; init; } = [];

    /// <summary>Constraints to add.</summary>
    public ImmutableArray<SketchConstraint> Tie { get; init; } = [];

    /// <summary>Dimensions to add, or to replace where the id is in use.</summary>
    public ImmutableArray<SketchDimension> Size { get; init; } = [];

    public ImmutableArray<SketchShape> Shapes { get; init; } = [];

    /// <summary>Ids among <see cref="Tie"/> that were only inferred: left out when they would say nothing new.</summary>
    public ImmutableArray<string> Inferred { get; init; } = [];

    /// <summary>New positions of points, as a drag left them; the solver has the last word.</summary>
    public ImmutableDictionary<string, Vec2> Move { get; init; } = ImmutableDictionary<string, Vec2>.Empty;

    /// <summary>New radii of circles and arcs, in millimetres.</summary>
    public ImmutableDictionary<string, double> Resize { get; init; } = ImmutableDictionary<string, double>.Empty;

    /// <summary>Entities whose construction flag turns over.</summary>
    public ImmutableArray<string> ToggleConstruction { get; init; } = [];

    /// <summary>Whether it draws something new: then it moves nothing that is there, and is refused where it would have to.</summary>
    [JsonIgnore]
    public bool Draws { get; init; }

    /// <summary>Both changes as one.</summary>
    public SketchEdit With(SketchEdit other) =>
        this with
        {
            Remove = Remove.AddRange(other.Remove),
            Replace = Replace.AddRange(other.Replace),
            Retie = Retie.AddRange(other.Retie),
            Merge = Merge.SetItems(other.Merge),
            Add = Add.AddRange(other.Add),
            Tie = Tie.AddRange(other.Tie),
            Size = Size.AddRange(other.Size),
            Shapes = Shapes.AddRange(other.Shapes),
            Inferred = Inferred.AddRange(other.Inferred),
            Move = Move.SetItems(other.Move),
            Resize = Resize.SetItems(other.Resize),
            ToggleConstruction = ToggleConstruction.AddRange(other.ToggleConstruction),
            Draws = Draws || other.Draws,
        };
}
