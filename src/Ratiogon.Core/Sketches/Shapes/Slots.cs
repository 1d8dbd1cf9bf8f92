using Ratiogon.Core.Sketches.Constraints;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Core.Sketches.Shapes;

/// <summary>Slots with round ends, straight or along an arc.</summary>
public static class Slots
{
    /// <summary>A straight slot about two centres: 5 freedoms.</summary>
    public static SketchEdit Straight(string id, Vec2 from, Vec2 to, double halfWidth)
    {
        var across = (to - from).Unit.Left * halfWidth;
        return new SketchEdit
        {
            Add =
            [
                new PointEntity($"{id}.c1", from),
                new PointEntity($"{id}.c2", to),
                new PointEntity($"{id}.a1", from + across),
                new PointEntity($"{id}.b1", from - across),
                new PointEntity($"{id}.a2", to + across),
                new PointEntity($"{id}.b2", to - across),
                new LineEntity($"{id}.axis", $"{id}.c1", $"{id}.c2") { Construction = true },
                new LineEntity($"{id}.side1", $"{id}.b1", $"{id}.b2"),
                new LineEntity($"{id}.side2", $"{id}.a2", $"{id}.a1"),
                new ArcEntity($"{id}.end1", $"{id}.c1", $"{id}.a1", $"{id}.b1", halfWidth),
                new ArcEntity($"{id}.end2", $"{id}.c2", $"{id}.b2", $"{id}.a2", halfWidth),
            ],
            Tie =
            [
                new SketchConstraint($"{id}.equal", "equal", [$"{id}.end1", $"{id}.end2"]),
                new SketchConstraint($"{id}.touch1", "tangent", [$"{id}.end1", $"{id}.side1"]),
                new SketchConstraint($"{id}.touch2", "tangent", [$"{id}.side1", $"{id}.end2"]),
                new SketchConstraint($"{id}.touch3", "tangent", [$"{id}.end2", $"{id}.side2"]),
                new SketchConstraint($"{id}.touch4", "tangent", [$"{id}.side2", $"{id}.end1"]),
            ],
            Shapes = [new SketchShape(id, "slot")],
        };
    }

    /// <summary>The distance of its centres.</summary>
    public static SketchDimension Centres(string id, string value) => new($"{id}.centres", "distance", [$"{id}.axis"], value);

    /// <summary>Its length over all.</summary>
    public static SketchDimension Overall(string id, string value) =>
        new($"{id}.overall", "far-distance", [$"{id}.end1", $"{id}.end2"], value);

    /// <summary>The width of a straight slot.</summary>
    public static SketchDimension Width(string id, string value) => new($"{id}.width", "distance", [$"{id}.side1", $"{id}.side2"], value);

    /// <summary>A slot along an arc, counterclockwise from one centre of its round ends to the other: 6 freedoms.</summary>
    public static SketchEdit AlongArc(string id, Vec2 centre, Vec2 from, Vec2 to, double halfWidth)
    {
        var (u, v) = ((from - centre).Unit, (to - centre).Unit);
        var r = centre.DistanceTo(from);
        return new SketchEdit
        {
            Add =
            [
                new PointEntity($"{id}.centre", centre),
                new PointEntity($"{id}.c1", from),
                new PointEntity($"{id}.c2", centre + (v * r)),
                new PointEntity($"{id}.o1", centre + (u * (r + halfWidth))),
                new PointEntity($"{id}.o2", centre + (v * (r + halfWidth))),
                new PointEntity($"{id}.i1", centre + (u * (r - halfWidth))),
                new PointEntity($"{id}.i2", centre + (v * (r - halfWidth))),
                new ArcEntity($"{id}.axis", $"{id}.centre", $"{id}.c1", $"{id}.c2", r) { Construction = true },
                new ArcEntity($"{id}.outer", $"{id}.centre", $"{id}.o1", $"{id}.o2", r + halfWidth),
                new ArcEntity($"{id}.inner", $"{id}.centre", $"{id}.i1", $"{id}.i2", r - halfWidth),
                new ArcEntity($"{id}.end1", $"{id}.c1", $"{id}.i1", $"{id}.o1", halfWidth),
                new ArcEntity($"{id}.end2", $"{id}.c2", $"{id}.o2", $"{id}.i2", halfWidth),
            ],
            Tie =
            [
                new SketchConstraint($"{id}.close1", EndCap.KindName, [$"{id}.end1", $"{id}.outer", $"{id}.inner"]),
                new SketchConstraint($"{id}.close2", EndCap.KindName, [$"{id}.end2", $"{id}.outer", $"{id}.inner"]),
            ],
            Shapes = [new SketchShape(id, "arc-slot")],
        };
    }

    /// <summary>The radius of an arc slot's centre line.</summary>
    public static SketchDimension Radius(string id, string value) => new($"{id}.radius", "radius", [$"{id}.axis"], value);

    /// <summary>How far an arc slot goes round, between the centres of its ends.</summary>
    public static SketchDimension Sweep(string id, string value) => new($"{id}.sweep", "sweep", [$"{id}.axis"], value);

    /// <summary>The width of an arc slot.</summary>
    public static SketchDimension ArcWidth(string id, string value) => new($"{id}.width", "distance", [$"{id}.o1", $"{id}.i1"], value);
}
