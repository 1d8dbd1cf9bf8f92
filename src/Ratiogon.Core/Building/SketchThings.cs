using System.Collections.Immutable;
using Ratiogon.Core.Datums;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;

namespace Ratiogon.Core.Building;

/// <summary>Entities of a sketch as things in space.</summary>
internal static class SketchThings
{
    /// <param name="reference">Its full name.</param>
    /// <param name="placed">The sketch.</param>
    /// <param name="id">The entity.</param>
    /// <param name="unit">What sizes in its words are said in.</param>
    public static Thing? Of(string reference, PlacedSketch placed, string id, LengthUnit unit)
    {
        var (step, sketch, plane) = placed;
        if (sketch.Find(id) is not { } entity)
        {
            return null;
        }

        string Words() => $"{(EntityWords.IsMade(id) ? "the " : "")}{EntityWords.Of(sketch, unit)[id]} of {step.Name}";
        if (entity is PointEntity p)
        {
            return Thing.OfPoint(reference, id, plane.ToWorld(p.At)) with { Guide = AxisGuide.Of(plane), Say = Words };
        }

        return Curve(sketch, plane, entity) is { } curve && CurvePath.Of(curve) is { Done: true } path
            ? Thing.OfCurve(reference, id, path.Value) with
            {
                Say = Words,
                Guide = new AxisGuide(entity is LineEntity ? plane.Z : plane.X, plane.Z),
            }
            : null;
    }

    /// <summary>A curve of a sketch in space; null for what is no curve.</summary>
    public static SpaceCurve? Curve(Sketch sketch, Frame plane, SketchEntity entity)
    {
        Vec3 Way(Vec2 v) => (plane.X * v.X) + (plane.Y * v.Y);
        switch (entity)
        {
            case LineEntity l:
                return new SegmentCurve(plane.ToWorld(sketch.At(l.From)), plane.ToWorld(sketch.At(l.To)));
            case CircleEntity c:
                return new RoundCurve(plane.ToWorld(sketch.At(c.Centre)), plane.X * c.Radius, plane.Y * c.Radius, 0, 2 * Math.PI);
            case ArcEntity a:
                var centre = sketch.At(a.Centre);
                var (from, to) = (sketch.At(a.From) - centre, sketch.At(a.To) - centre);
                var sweep = to.Angle - from.Angle;
                return new RoundCurve(
                    plane.ToWorld(centre),
                    plane.X * from.Length,
                    plane.Y * from.Length,
                    from.Angle,
                    from.Angle + (sweep <= 0 ? sweep + (2 * Math.PI) : sweep)
                );
            default:
                return Curves.Of(sketch, entity) switch
                {
                    EllipseCurve e => new RoundCurve(plane.ToWorld(e.Centre), Way(e.U), Way(e.V), e.Start, e.Start + e.End),
                    SplineCurve s => BSplineCurve.OfBeziers(
                        [.. s.Beziers(0, s.End).Select(plane.ToWorld)],
                        [.. s.Knots.Zip(s.Knots.Skip(1), (a, b) => b - a)]
                    ),
                    _ => null,
                };
        }
    }
}
