using Ratiogon.Core.Geometry;

namespace Ratiogon.Core.Sketches.Dimensions;

/// <summary>What a straight dimension line stands on.</summary>
/// <param name="A">One measured place, on the sketch plane.</param>
/// <param name="B">The other.</param>
/// <param name="Along">Unit vector: which way the dimension line runs.</param>
public readonly record struct MeasuredSpan(Vec2 A, Vec2 B, Vec2 Along)
{
    /// <summary>Straight from one place to the other.</summary>
    public static MeasuredSpan Between(Vec2 a, Vec2 b) => new(a, b, (b - a).Unit is var u && u != Vec2.Zero ? u : new Vec2(1, 0));
}

/// <summary>How a dimension is drawn.</summary>
public enum DimensionLook
{
    /// <summary>A line between two places: <see cref="DimensionKind.Span"/>.</summary>
    Straight,

    /// <summary>From the centre of something round to its rim.</summary>
    Radius,

    /// <summary>Across something round.</summary>
    Diameter,

    /// <summary>An arc between two lines.</summary>
    Angle,

    /// <summary>An arc between one line and the other turned round.</summary>
    OtherAngle,

    /// <summary>Along an arc.</summary>
    Arc,
}
