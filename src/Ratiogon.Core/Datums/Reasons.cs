using Ratiogon.Core.Geometry;

namespace Ratiogon.Core.Datums;

/// <summary>Why picks determine nothing, with the numbers.</summary>
internal static class Reasons
{
    public static string Degrees(double radians) => $"{radians * 180 / Math.PI:0.####} deg";

    public static Refusal Parallel(Plane3 a, Plane3 b)
    {
        var apart = Math.Abs((b.Offset * Math.Sign(a.Normal.Dot(b.Normal))) - a.Offset);
        return new Refusal(
            "datum.parallel",
            $"The planes are parallel to within {Degrees(Math.Asin(Math.Min(1, a.Normal.Cross(b.Normal).Length)))}, "
                + $"{apart:0.###} mm apart: they never meet. A plane midway between them is offered."
        );
    }

    /// <summary>Of two systems without a solution the one that is nearer to one.</summary>
    public static Affine Nearer(Affine? known, Affine other) =>
        known is null || other.Turn + other.Miss < known.Turn + known.Miss ? other : known;

    /// <summary>By how much rows contradict each other: an angle where they are of directions, else a length.</summary>
    public static string Missed(Affine? nearest, Scaling scale) =>
        nearest is null ? "These contradict each other."
        : nearest.Turn > Tolerances.Angle ? $"These contradict each other; their directions miss by {Degrees(nearest.Turn)} at least."
        : $"These contradict each other; they miss by {nearest.Miss * scale.Size:0.###} mm at least.";

    /// <summary>The first thing that is wrong between the picks, or null.</summary>
    public static Refusal? Of(DatumKind kind, IReadOnlyList<Condition> conditions)
    {
        var things = conditions.SelectMany(c => c.Of).ToList();
        return Lines(things)
            ?? Points(things)
            ?? LineAndPlane(things)
            ?? Leaning(kind, conditions)
            ?? Nested(conditions)
            ?? LineAndFace(things)
            ?? Inside(kind, conditions)
            ?? Planes(things);
    }

    /// <summary>Two places that count as one, where each is to give a direction with the other: no axis or plane is made of
    /// rounding.</summary>
    public static Refusal? SamePlace(IReadOnlyList<Condition> conditions)
    {
        var through = conditions
            .Where(c => c.Relation.Name is "through" or "through-centre" or "through-middle")
            .Select(c => c.Of[0])
            .Select(t => t.Place ?? t.Middle)
            .OfType<Vec3>()
            .ToList();
        for (var i = 0; i < through.Count; i++)
        {
            for (var j = 0; j < i; j++)
            {
                if (through[i].DistanceTo(through[j]) is > 0 and < Tolerances.Length)
                {
                    return SamePlace(through[i].DistanceTo(through[j]));
                }
            }
        }

        return null;
    }

    private static Refusal SamePlace(double apart) =>
        new("datum.same-point", $"Two of the points are the same place to within {Math.Max(apart, Tolerances.Apart):0.#########} mm.");

    /// <summary>A plane that is to be parallel to one thing and hold, or be parallel to, another that leans against it.</summary>
    private static Refusal? Leaning(DatumKind kind, IReadOnlyList<Condition> conditions)
    {
        if (kind != DatumKind.Plane)
        {
            return null;
        }

        var normals = conditions
            .Select(c =>
                (
                    c.Of[0].Words,
                    Normal: c.Relation.Name switch
                    {
                        "parallel" or "offset" => c.Of[0].Plane?.Z,
                        "across" => c.Of[0].Straight?.Direction,
                        _ => null,
                    }
                )
            )
            .Where(n => n.Normal is not null)
            .ToList();
        if (
            normals is [var first, var second, ..]
            && Math.Asin(Math.Min(1, first.Normal!.Value.Cross(second.Normal!.Value).Length)) is var between
            && between > Tolerances.DatumAngle
        )
        {
            return new Refusal("datum.leaning", $"{first.Words} and {second.Words} are {Degrees(between)} apart: no plane goes with both.");
        }

        var held = conditions
            .Select(c => (c.Of[0].Words, Line: c.Relation.Name is "through-line" or "through-axis" or "along" ? c.Of[0].Straight : null))
            .FirstOrDefault(l => l.Line is not null);
        return
            normals is [var normal, ..]
            && held.Line is { } line
            && Math.Asin(Math.Min(1, Math.Abs(line.Direction.Dot(normal.Normal!.Value)))) is var lean
            && lean > Tolerances.DatumAngle
            ? new Refusal(
                "datum.leaning",
                $"{held.Words} leans {Degrees(lean)} out of the direction that {normal.Words} gives: no plane that goes with that holds it."
            )
            : null;
    }

    /// <summary>Round faces of which one lies inside the other, or whose axes go different ways: no plane touches both.</summary>
    private static Refusal? Nested(IReadOnlyList<Condition> conditions)
    {
        var touched = conditions.Where(c => c.Relation.Name == "tangent").Select(c => c.Of[0]).ToList();
        if (
            touched is not [{ Surface: { } a } first, { Surface: { } b } second, ..]
            || Round(a) is not { } one
            || Round(b) is not { } other
        )
        {
            return null;
        }

        if (
            one.Axis is { } u
            && other.Axis is { } v
            && Math.Asin(Math.Min(1, u.Direction.Cross(v.Direction).Length)) is var turn
            && turn > Tolerances.DatumAngle
        )
        {
            var apart = u.Nearest(v) is var (here, there) ? here.DistanceTo(there) : 0;
            return new Refusal(
                "datum.not-along",
                $"A plane that touches both would run along both axes, which are {Degrees(turn)} apart and pass {apart:0.###} mm "
                    + $"from each other: it touches both only where that is the sum or the difference of the radii, {one.Radius:0.###} "
                    + $"and {other.Radius:0.###} mm."
            );
        }

        var distance =
            one.Axis is { } axis ? axis.DistanceTo(other.Centre)
            : other.Axis is { } along ? along.DistanceTo(one.Centre)
            : one.Centre.DistanceTo(other.Centre);
        var within = Math.Abs(one.Radius - other.Radius) - distance;
        var (inner, outer) = one.Radius < other.Radius ? (first, second) : (second, first);
        return within > Tolerances.Length
            ? new Refusal(
                "datum.inside",
                $"{inner.Words} lies inside {outer.Words}, {within:0.###} mm from touching it: no plane touches both."
            )
            : null;
    }

    private static (Vec3 Centre, double Radius, Line3? Axis)? Round(Surface surface) =>
        surface switch
        {
            CylinderSurface c => (c.Axis.Origin, c.Radius, c.Axis),
            SphereSurface s => (s.Centre, s.Radius, null),
            _ => null,
        };

    private static Refusal? Lines(List<Thing> things)
    {
        if (things.Where(t => t.Line is not null).Select(t => t.Line!.Value).ToList() is not [var a, var b, ..])
        {
            return null;
        }

        var (here, there) = a.Nearest(b);
        var (turn, gap) = (Math.Asin(Math.Min(1, a.Direction.Cross(b.Direction).Length)), here.DistanceTo(there));
        return turn < Tolerances.DatumAngle
                ? new Refusal("datum.parallel", $"The lines are parallel to within {Degrees(turn)}, {gap:0.###} mm apart.")
            : gap > Tolerances.Length
                ? new Refusal("datum.skew", $"The lines pass {gap:0.####} mm apart; a point halfway between them is offered.")
            : null;
    }

    private static Refusal? Points(List<Thing> things)
    {
        var points = things.Select(t => t.Place).OfType<Vec3>().ToList();
        if (points is [var p, var q, ..] && p.DistanceTo(q) < Tolerances.Length)
        {
            return SamePlace(p.DistanceTo(q));
        }

        if (points is not [var a, var b, var c, ..])
        {
            return null;
        }

        var line = Line3.Through(a, b);
        return line.DistanceTo(c) < Tolerances.DatumAngle * Math.Max(a.DistanceTo(b), a.DistanceTo(c))
            ? new Refusal("datum.collinear", $"The three points lie on one line to within {line.DistanceTo(c):0.#########} mm.")
            : null;
    }

    private static Refusal? LineAndPlane(List<Thing> things)
    {
        if (
            things.FirstOrDefault(t => t.Line is not null) is not { Line: { } line }
            || things.FirstOrDefault(t => t.Plane is not null) is not { Plane: { } frame }
        )
        {
            return null;
        }

        var plane = Plane3.Of(frame);
        var (slope, side) = (Math.Asin(Math.Min(1, Math.Abs(plane.Normal.Dot(line.Direction)))), plane.Side(line.Origin));
        return slope > Tolerances.DatumAngle ? null
            : Math.Abs(side) < Tolerances.Length
                ? new Refusal("datum.line-in-plane", "The line lies inside the plane: they meet everywhere along it.")
            : new Refusal(
                "datum.line-parallel",
                $"The line runs parallel to the plane to within {Degrees(slope)}, {Math.Abs(side):0.###} mm off it."
            );
    }

    private static Refusal? LineAndFace(List<Thing> things)
    {
        if (
            things.FirstOrDefault(t => t.Straight is not null && t.Surface is null) is not { Straight: { } line }
            || things.FirstOrDefault(t => t.Surface is not null) is not { Surface: { } surface } face
        )
        {
            return null;
        }

        if (surface.Meet(line).Count > 0)
        {
            return null;
        }

        var nearest = surface switch
        {
            CylinderSurface c => line.Nearest(c.Axis) is var (h, t) ? h.DistanceTo(t) - c.Radius : 0,
            SphereSurface s => line.DistanceTo(s.Centre) - s.Radius,
            _ => double.NaN,
        };
        return new Refusal("datum.misses", $"The line misses {face.Words}{(double.IsNaN(nearest) ? "" : $" by {nearest:0.###} mm")}.");
    }

    private static Refusal? Inside(DatumKind kind, IReadOnlyList<Condition> conditions)
    {
        if (
            kind != DatumKind.Plane
            || conditions.FirstOrDefault(c => c.Relation.Name == "tangent") is not { } tangent
            || tangent.Of[0].Surface is not { } surface
        )
        {
            return null;
        }

        foreach (var t in conditions.Where(c => c.Relation.Name.StartsWith("through", StringComparison.Ordinal)).Select(c => c.Of[0]))
        {
            if (t.Place is { } p && surface.Side(p) < -Tolerances.Length)
            {
                return new Refusal(
                    "datum.inside",
                    $"{t.Words} lies {-surface.Side(p):0.###} mm inside {tangent.Of[0].Words}: no plane through it touches that face."
                );
            }

            if (t.Line is { } line && surface is CylinderSurface c && line.Direction.Cross(c.Axis.Direction).Length > Tolerances.DatumAngle)
            {
                return new Refusal(
                    "datum.not-along",
                    $"A plane that touches {tangent.Of[0].Words} runs along its axis; {t.Words} is "
                        + $"{Degrees(Math.Asin(Math.Min(1, line.Direction.Cross(c.Axis.Direction).Length)))} off that."
                );
            }
        }

        return null;
    }

    private static Refusal? Planes(List<Thing> things)
    {
        var planes = things.Where(t => t.Plane is not null).Select(t => Plane3.Of(t.Plane!.Value)).ToList();
        for (var i = 0; i < planes.Count; i++)
        {
            for (var j = 0; j < i; j++)
            {
                if (planes[i].Normal.Cross(planes[j].Normal).Length < Tolerances.DatumAngle)
                {
                    return Parallel(planes[j], planes[i]);
                }
            }
        }

        return planes.Count >= 3 && Math.Abs(planes[0].Normal.Dot(planes[1].Normal.Cross(planes[2].Normal))) < Tolerances.DatumAngle
            ? new Refusal("datum.no-corner", "The three planes run along one direction: they share no single point.")
            : null;
    }
}
