using System.Collections.Immutable;
using System.Text.Json.Serialization;

namespace Ratiogon.Core.Sketches;

/// <summary>One thing drawn in a sketch. Positions are the last solved ones, in millimetres on the sketch plane.</summary>
/// <param name="Id">Unique in the sketch; readable (<c>p1</c>, <c>outline.top</c>).</param>
[ToldBy("kind")]
public abstract record SketchEntity(string Id)
{
    /// <summary>Construction geometry guides others and bounds no region.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool Construction { get; init; }

    /// <summary>The points this entity is drawn through.</summary>
    public abstract IReadOnlyList<string> Points { get; }

    /// <summary>The trade's word for it.</summary>
    public abstract string Word { get; }

    /// <summary>The same with its article: a line, an arc.</summary>
    public string AWord => $"{("aeiou".Contains(Word[0], StringComparison.Ordinal) ? "an" : "a")} {Word}";
}

/// <summary>A point.</summary>
[Kind("point")]
public sealed record PointEntity(string Id, Vec2 At) : SketchEntity(Id)
{
    public override IReadOnlyList<string> Points => [];

    public override string Word => "point";
}

/// <summary>A straight line between two points.</summary>
[Kind("line")]
public sealed record LineEntity(string Id, string From, string To) : SketchEntity(Id)
{
    public override IReadOnlyList<string> Points => [From, To];

    public override string Word => "line";
}

/// <summary>A full circle.</summary>
/// <param name="Id">Unique in the sketch.</param>
/// <param name="Centre">A point.</param>
/// <param name="Radius">In millimetres.</param>
[Kind("circle")]
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
[Kind("arc")]
public sealed record ArcEntity(string Id, string Centre, string From, string To, double Radius) : SketchEntity(Id)
{
    public override IReadOnlyList<string> Points => [Centre, From, To];

    public override string Word => "arc";
}

/// <summary>What an ellipse and an elliptic arc share: a centre and the ends of two semi-axes at a right angle.</summary>
/// <param name="Id">Unique in the sketch.</param>
/// <param name="Centre">A point.</param>
/// <param name="First">The point at the end of one semi-axis.</param>
/// <param name="Second">The point at the end of the other; kept square to the first by an equation.</param>
public abstract record EllipticEntity(string Id, string Centre, string First, string Second) : SketchEntity(Id);

/// <summary>A whole ellipse.</summary>
[Kind("ellipse")]
public sealed record EllipseEntity(string Id, string Centre, string First, string Second) : EllipticEntity(Id, Centre, First, Second)
{
    public override IReadOnlyList<string> Points => [Centre, First, Second];

    public override string Word => "ellipse";
}

/// <summary>A piece of an ellipse, always counterclockwise from its first end to its second.</summary>
/// <param name="Id">Unique in the sketch.</param>
/// <param name="Centre">A point.</param>
/// <param name="First">End of one semi-axis.</param>
/// <param name="Second">End of the other.</param>
/// <param name="From">The point where it begins.</param>
/// <param name="To">The point where it ends.</param>
[Kind("elliptic-arc")]
public sealed record EllipticArcEntity(string Id, string Centre, string First, string Second, string From, string To)
    : EllipticEntity(Id, Centre, First, Second)
{
    public override IReadOnlyList<string> Points => [Centre, First, Second, From, To];

    public override string Word => "elliptic arc";
}

/// <summary>A cubic spline through points, with continuous curvature inside and straight ends (no curvature there)
/// unless an end has a handle.</summary>
/// <param name="Id">Unique in the sketch.</param>
/// <param name="Through">Two or more points.</param>
/// <param name="Spans">Parameter length of each span, one fewer than the points: their share of the chord length when
/// it was drawn. Constants of the curve, so that its shape depends on nothing but its points.</param>
[Kind("spline")]
public sealed record SplineEntity(string Id, ImmutableArray<string> Through, ImmutableArray<double> Spans) : SketchEntity(Id)
{
    /// <summary>A point that the curve leaves its first point towards: the first inner control point of its first span.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? FromHandle { get; init; }

    /// <summary>The same at its last point.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? ToHandle { get; init; }

    public override IReadOnlyList<string> Points =>
        Through.IsDefault ? [] : [.. Through, .. new[] { FromHandle, ToHandle }.OfType<string>()];

    public override string Word => "spline";

    public bool Equals(SplineEntity? other) =>
        other is not null
        && Id == other.Id
        && Construction == other.Construction
        && FromHandle == other.FromHandle
        && ToHandle == other.ToHandle
        && Through.AsSpan().SequenceEqual(other.Through.AsSpan())
        && Spans.AsSpan().SequenceEqual(other.Spans.AsSpan());

    public override int GetHashCode() => HashCode.Combine(Id, Through.Length, FromHandle, ToHandle);
}
