using System.Text.Json.Serialization;
using Ratiogon.Core.Geometry;

namespace Ratiogon.Core.Sketching;

/// <summary>One thing drawn in a sketch. Positions are the last solved ones, in millimetres on the sketch plane.</summary>
/// <param name="Id">Unique in the sketch; readable (<c>p1</c>, <c>outline.top</c>).</param>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "kind")]
[JsonDerivedType(typeof(PointEntity), "point")]
[JsonDerivedType(typeof(LineEntity), "line")]
[JsonDerivedType(typeof(CircleEntity), "circle")]
[JsonDerivedType(typeof(ArcEntity), "arc")]
public abstract record SketchEntity(string Id)
{
    /// <summary>Construction geometry guides others and bounds no region.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool Construction { get; init; }

    /// <summary>The points this entity is drawn through.</summary>
    public abstract IReadOnlyList<string> Points { get; }

    /// <summary>The trade's word for it.</summary>
    public abstract string Word { get; }
}

/// <summary>A point.</summary>
public sealed record PointEntity(string Id, Vec2 At) : SketchEntity(Id)
{
    public override IReadOnlyList<string> Points => [];

    public override string Word => "point";
}

/// <summary>A straight line between two points.</summary>
public sealed record LineEntity(string Id, string From, string To) : SketchEntity(Id)
{
    public override IReadOnlyList<string> Points => [From, To];

    public override string Word => "line";
}

/// <summary>A full circle.</summary>
/// <param name="Id">Unique in the sketch.</param>
/// <param name="Centre">A point.</param>
/// <param name="Radius">In millimetres.</param>
public sealed record CircleEntity(string Id, string Centre, double Radius) : SketchEntity(Id)
{
    public override IReadOnlyList<string> Points => [Centre];

    public override string Word => "circle";
}

/// <summary>A circular arc, always counterclockwise from its first end to its second, so that it cannot turn into
/// its complement.</summary>
/// <param name="Id">Unique in the sketch.</param>
/// <param name="Centre">A point.</param>
/// <param name="From">The point where it begins.</param>
/// <param name="To">The point where it ends.</param>
/// <param name="Radius">In millimetres; kept with the ends by two distance equations.</param>
public sealed record ArcEntity(string Id, string Centre, string From, string To, double Radius) : SketchEntity(Id)
{
    public override IReadOnlyList<string> Points => [Centre, From, To];

    public override string Word => "arc";
}
