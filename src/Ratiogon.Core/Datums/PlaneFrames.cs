using Ratiogon.Core.Geometry;

namespace Ratiogon.Core.Datums;

/// <summary>Origin and axes of a plane by a rule that hangs on what determines it and how, never on where that happens to lie:
/// x along something straight that it must hold, or the axes of a plane that it must be parallel to, or what else these carry.</summary>
internal static class PlaneFrames
{
    public static Frame Of(Plane3 plane, IReadOnlyList<Condition> conditions)
    {
        var things = conditions.SelectMany(c => c.Of).ToList();
        var origin = plane.Foot(
            conditions.Select(OnCurve).FirstOrDefault(p => p is not null)?.At
                ?? (things.Count == 0 ? Vec3.Zero : things[0].Plane?.Origin ?? things[0].Place ?? things[0].Anchor)
        );
        return Guide(conditions).On(origin, plane.Normal);
    }

    private static AxisGuide Guide(IReadOnlyList<Condition> conditions) =>
        AxisGuide.First(conditions.Select(Held).Concat(conditions.SelectMany(c => c.Of).Select(t => t.Guide)));

    /// <summary>The place on a curve that a plane is normal to it at, which is the plane's origin too.</summary>
    private static (Vec3 At, double Length)? OnCurve(Condition condition)
    {
        double? length = condition.Relation.Name switch
        {
            "normal-at-fraction" => condition.Values[0] * condition.Of[0].Path!.Length,
            "normal-at-length" => condition.Values[0],
            "normal-at" => condition.Of[0].Path!.Nearest(condition.Of[1].Point!.Value),
            _ => null,
        };
        return length is { } l ? (condition.Of[0].Path!.AtLength(l).At, l) : null;
    }

    /// <summary>A direction in the plane whatever the sizes are; nothing where a relation gives none.</summary>
    private static AxisGuide Held(Condition condition)
    {
        var first = condition.Of[0];
        if (first.Plane is { } copied && Motions.Made(condition) is { } by)
        {
            return AxisGuide.Of(copied).Moved(by);
        }

        return condition.Relation.Name switch
        {
            "through-line" or "through-axis" or "along" => new AxisGuide(first.Straight!.Value.Direction, Vec3.Zero),
            "tangent" or "tangent-at" when first.Surface is CylinderSurface => new AxisGuide(first.Axis!.Value.Direction, Vec3.Zero),
            "offset" or "parallel" => AxisGuide.Of(first.Plane!.Value),
            "square" => new AxisGuide(Vec3.Zero, first.Plane!.Value.Z),
            "across" => first.Guide,
            "holds" => new AxisGuide(first.Round!.U, Vec3.Zero),
            "turned" => new AxisGuide(condition.Of[1].Place!.Value - first.Place!.Value, Vec3.Zero),
            "normal-at-fraction" or "normal-at-length" or "normal-at" => AlongPath.Guide(
                first.Path!,
                first.Guide,
                OnCurve(condition)!.Value.Length
            ),
            _ => AxisGuide.None,
        };
    }
}
