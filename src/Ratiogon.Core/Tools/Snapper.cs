using System.Collections.Immutable;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Constraints;
using Ratiogon.Core.Sketches.Regions;

namespace Ratiogon.Core.Tools;

/// <summary>Draws the pointer to what is near it: points, crossings, middles, quadrants, feet of tangents and
/// perpendiculars, curves, line-ups with other points, extensions of curves; in that order.</summary>
public static class Snapper
{
    /// <summary>How far outside a circle, as a share of its radius, a point has to be for tangents from it.</summary>
    private const double Outside = 1e-6;

    private const double LineUpReach = 0.5;

    /// <summary>The nearest place that means something, or the pointer's own.</summary>
    /// <param name="sketch">What is drawn.</param>
    /// <param name="input">Pointer, reach, and whether inference is held back.</param>
    /// <param name="from">Where the line under way begins: it may meet a curve tangentially or squarely.</param>
    public static Place Snap(Sketch sketch, ToolInput input, Place? from = null)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        ArgumentNullException.ThrowIfNull(input);
        var (at, reach) = (input.At, input.Reach);
        if (input.Suppress)
        {
            return Place.Free(at);
        }

        if (NearestPoint(sketch, at, reach) is { } point)
        {
            return new Place(point.At, point.Id, new SnapMark("point", point.At, point.Id));
        }

        var near = CurvesNear(sketch, at, reach);
        return Crossing(near, at, reach)
            ?? Middle(sketch, at, reach)
            ?? Quadrant(sketch, near, at, reach)
            ?? (from is null ? null : Foot(sketch, near, from.At, at, reach))
            ?? OnCurve(near, at, reach)
            ?? LineUp(sketch, at, reach * LineUpReach, from)
            ?? Extension(sketch, at, reach * LineUpReach)
            ?? Place.Free(at);
    }

    /// <summary>A place exactly where two typed numbers say.</summary>
    public static Place Typed(Sketch sketch, TypedPoint typed)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        return NearestPoint(sketch, typed.At, Tolerances.Length) is { } point
            ? new Place(point.At, point.Id, new SnapMark("point", point.At, point.Id)) { Typed = new TypedPlace(typed.X, typed.Y) }
            : Place.Free(typed.At) with
            {
                Typed = new TypedPlace(typed.X, typed.Y),
            };
    }

    /// <summary>The entity under the pointer: a point first, then a curve; null where there is none.</summary>
    public static string? Under(Sketch sketch, Vec2 at, double reach)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        return NearestPoint(sketch, at, reach)?.Id ?? CurveUnder(sketch, at, reach);
    }

    /// <summary>The curve under the pointer, what was drawn before the axes that it may lie on.</summary>
    public static string? CurveUnder(Sketch sketch, Vec2 at, double reach)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        var near = CurvesNear(sketch, at, reach);
        return near.Count == 0 ? null : Nearest(near, at).Curve.Entity;
    }

    private static PointEntity? NearestPoint(Sketch sketch, Vec2 at, double reach) =>
        Sketch
            .BuiltIns.Where(e => e.Id == Sketch.Origin)
            .Concat(sketch.Entities)
            .OfType<PointEntity>()
            .Where(p => p.At.DistanceTo(at) <= reach)
            .MinBy(p => p.At.DistanceTo(at));

    private static List<(SketchCurve Curve, Vec2 Foot)> CurvesNear(Sketch sketch, Vec2 at, double reach)
    {
        var near = new List<(SketchCurve, Vec2)>();
        foreach (var entity in sketch.Entities.Concat(Sketch.BuiltIns))
        {
            if (CurveOf(sketch, entity) is { } curve && curve.At(curve.Nearest(at)) is var foot && foot.DistanceTo(at) <= reach)
            {
                near.Add((curve, foot));
            }
        }

        return near;
    }

    private static SketchCurve? CurveOf(Sketch sketch, SketchEntity entity)
    {
        if (SketchCurve.Of(sketch, entity) is not { } curve)
        {
            return null;
        }

        // The sketch's own axes have no ends.
        return Sketch.IsBuiltIn(entity.Id)
            ? curve with
            {
                From = curve.To * -Tolerances.LargestSize,
                To = curve.To * Tolerances.LargestSize,
            }
            : curve;
    }

    private static (SketchCurve Curve, Vec2 Foot) Nearest(List<(SketchCurve Curve, Vec2 Foot)> near, Vec2 at) =>
        near.OrderBy(c => Sketch.IsBuiltIn(c.Curve.Entity) ? 1 : 0).ThenBy(c => c.Foot.DistanceTo(at)).First();

    private static Place? Crossing(List<(SketchCurve Curve, Vec2 Foot)> near, Vec2 at, double reach)
    {
        Place? best = null;
        for (var i = 0; i < near.Count; i++)
        {
            for (var k = i + 1; k < near.Count; k++)
            {
                foreach (var p in Crossings.Of(near[i].Curve, near[k].Curve))
                {
                    if (
                        p.DistanceTo(at) <= reach
                        && (best is null || p.DistanceTo(at) < best.At.DistanceTo(at))
                        && !(Sketch.IsBuiltIn(near[i].Curve.Entity) && Sketch.IsBuiltIn(near[k].Curve.Entity))
                    )
                    {
                        var with = ImmutableArray.Create(near[i].Curve.Entity, near[k].Curve.Entity);
                        best = new Place(p, null, new SnapMark("crossing", p, with[0])) { Ties = [new PlaceTie("crossing", with)] };
                    }
                }
            }
        }

        return best;
    }

    private static Place? Middle(Sketch sketch, Vec2 at, double reach)
    {
        foreach (var line in sketch.Entities.OfType<LineEntity>())
        {
            var middle = (sketch.At(line.From) + sketch.At(line.To)) / 2;
            if (middle.DistanceTo(at) <= reach)
            {
                return new Place(middle, null, new SnapMark("midpoint", middle, line.Id)) { Ties = [new PlaceTie("midpoint", [line.Id])] };
            }
        }

        return null;
    }

    private static Place? Quadrant(Sketch sketch, List<(SketchCurve Curve, Vec2 Foot)> near, Vec2 at, double reach)
    {
        foreach (var (curve, _) in near.Where(c => c.Curve.Round))
        {
            for (var quarter = 0; quarter < 4; quarter++)
            {
                var p = curve.Centre + Vec2.Polar(quarter * Math.PI / 2, curve.Radius);
                if (p.DistanceTo(at) <= reach && curve.ParameterOf(p) is not null)
                {
                    var centre = Curves.Centre(sketch.Find(curve.Entity)!)!;
                    return new Place(p, null, new SnapMark("quadrant", p, curve.Entity))
                    {
                        Ties =
                        [
                            new PlaceTie("on-curve", [curve.Entity]),
                            new PlaceTie(quarter % 2 == 0 ? "horizontal" : "vertical", [centre]),
                        ],
                    };
                }
            }
        }

        return null;
    }

    /// <summary>Where a line from a place meets a curve squarely or tangentially.</summary>
    private static Place? Foot(Sketch sketch, List<(SketchCurve Curve, Vec2 Foot)> near, Vec2 from, Vec2 at, double reach)
    {
        foreach (var (curve, _) in near.OrderBy(c => c.Foot.DistanceTo(at)))
        {
            var entity = sketch.Find(curve.Entity)!;
            if (entity is LineEntity)
            {
                var foot = from.FootOn(curve.From, curve.To);
                if (foot.DistanceTo(at) <= reach && foot.DistanceTo(from) > reach && curve.ParameterOf(foot) is not null)
                {
                    return Arrive(foot, "perpendicular", curve.Entity);
                }
            }
            else if (curve.Round && from.DistanceTo(curve.Centre) is var d && d > curve.Radius * (1 + Outside))
            {
                var (heading, half) = ((from - curve.Centre).Angle, Math.Acos(curve.Radius / d));
                foreach (var side in new[] { half, -half })
                {
                    var p = curve.Centre + Vec2.Polar(heading + side, curve.Radius);
                    if (p.DistanceTo(at) <= reach && curve.ParameterOf(p) is not null)
                    {
                        return Arrive(p, "tangent", curve.Entity);
                    }
                }
            }
        }

        return null;

        static Place Arrive(Vec2 p, string kind, string curve) =>
            new(p, null, new SnapMark(kind, p, curve))
            {
                Ties = [new PlaceTie("on-curve", [curve])],
                Arriving = new PlaceTie(kind, [curve]),
            };
    }

    private static Place? OnCurve(List<(SketchCurve Curve, Vec2 Foot)> near, Vec2 at, double reach)
    {
        if (near.Count == 0)
        {
            return null;
        }

        var (curve, foot) = Nearest(near, at);
        return foot.DistanceTo(at) > reach
            ? null
            : new Place(foot, null, new SnapMark("on-curve", foot, curve.Entity)) { Ties = [new PlaceTie("on-curve", [curve.Entity])] };
    }

    /// <summary>Level with one point, upright with one, or both.</summary>
    private static Place? LineUp(Sketch sketch, Vec2 at, double reach, Place? from)
    {
        PointEntity? level = null;
        PointEntity? upright = null;
        foreach (
            var point in sketch
                .Entities.OfType<PointEntity>()
                .Where(p => p.Id != from?.Existing)
                .Append((PointEntity)sketch.Find(Sketch.Origin)!)
        )
        {
            var (dx, dy) = (Math.Abs(point.At.X - at.X), Math.Abs(point.At.Y - at.Y));
            level = dy <= reach && (level is null || dy < Math.Abs(level.At.Y - at.Y)) ? point : level;
            upright = dx <= reach && (upright is null || dx < Math.Abs(upright.At.X - at.X)) ? point : upright;
        }

        if (level is null && upright is null)
        {
            return null;
        }

        var p = new Vec2(upright?.At.X ?? at.X, level?.At.Y ?? at.Y);
        var ties = ImmutableArray.CreateBuilder<PlaceTie>();
        if (level is not null)
        {
            ties.Add(new PlaceTie("horizontal", [level.Id]));
        }

        if (upright is not null)
        {
            ties.Add(new PlaceTie("vertical", [upright.Id]));
        }

        return new Place(
            p,
            null,
            new SnapMark("line-up", p, (level ?? upright)!.Id)
            {
                Guides = [.. new[] { level, upright }.OfType<PointEntity>().Select(g => g.At)],
            }
        )
        {
            Ties = ties.ToImmutable(),
        };
    }

    private static Place? Extension(Sketch sketch, Vec2 at, double reach)
    {
        foreach (var entity in sketch.Entities)
        {
            Vec2? foot = entity switch
            {
                LineEntity l
                    when sketch.At(l.From) is var a
                        && sketch.At(l.To) is var b
                        && at.FootOn(a, b) is var f
                        && Math.Min(f.DistanceTo(a), f.DistanceTo(b)) < 2 * a.DistanceTo(b) => f,
                ArcEntity a when sketch.At(a.Centre) is var c && at.DistanceTo(c) > Tolerances.SmallestSize => c
                    + ((at - c).Unit * a.Radius),
                _ => null,
            };
            if (foot is { } p && p.DistanceTo(at) <= reach)
            {
                return new Place(p, null, new SnapMark("extension", p, entity.Id) { Guides = [sketch.At(Curves.Ends(entity)!.Value.To)] })
                {
                    Ties = [new PlaceTie("on-curve", [entity.Id])],
                };
            }
        }

        return null;
    }
}
