using Ratiogon.Core.Geometry;

namespace Ratiogon.Core.Datums;

/// <summary>Why picks determine nothing, with the numbers.</summary>
internal static class Reasons
{
    public static string Degrees(double radians) => $"{radians * 180 / Math.PI:0.####} deg";

    public static Refusal Parallel(Plane3 a, Plane3 b)
    {
        var apart = Math.Abs((b.Offset * Math.Sign(a.Normal.Dot(b.Normal))) - a.Offset);
        return new Refusal("datum.parallel", $"The planes are parallel to within {Degrees(Math.Asin(Math.Min(1, a.Normal.Cross(b.Normal).Length)))}, {apart:0.###} mm apart: they never meet. A plane midway between them is offered.");
    }

    /// <summary>The first thing that is wrong between the picks, or null.</summary>
    public static Refusal? Of(DatumKind kind, IReadOnlyList<Condition> conditions)
    {
        var things = conditions.SelectMany(c => c.Of).ToList();
        return Lines(things) ?? Points(things) ?? LineAndPlane(things) ?? LineAndFace(things) ?? Inside(kind, conditions) ?? Planes(things);
    }

    private static Refusal? Lines(List<Thing> things)
    {
        if (things.Where(t => t.Line is not null).Select(t => t.Line!.Value).ToList() is not [var a, var b, ..])
        {
            return null;
        }

        var (here, there) = a.Nearest(b);
        var (turn, gap) = (Math.Asin(Math.Min(1, a.Direction.Cross(b.Direction).Length)), here.DistanceTo(there));
        return turn < 1e-7 ? new Refusal("datum.parallel", $"The lines are parallel to within {Degrees(turn)}, {gap:0.###} mm apart.")
            : gap > Tolerances.Length ? new Refusal("datum.skew", $"The lines pass {gap:0.####} mm apart; a point halfway between them is offered.")
            : null;
    }

    private static Refusal? Points(List<Thing> things)
    {
        var points = things.Select(t => t.Place).OfType<Vec3>().ToList();
        if (points is [var p, var q, ..] && p.DistanceTo(q) < Tolerances.Length)
        {
            return new Refusal("datum.same-point", $"Two of the points are the same place to within {Math.Max(p.DistanceTo(q), 1e-9):0.#########} mm.");
        }

        if (points is not [var a, var b, var c, ..])
        {
            return null;
        }

        var line = Line3.Through(a, b);
        return line.DistanceTo(c) < 1e-7 * Math.Max(a.DistanceTo(b), a.DistanceTo(c)) ? new Refusal("datum.collinear", $"The three points lie on one line to within {line.DistanceTo(c):0.#########} mm.") : null;
    }

    private static Refusal? LineAndPlane(List<Thing> things)
    {
        if (things.FirstOrDefault(t => t.Line is not null) is not { Line: { } line } || things.FirstOrDefault(t => t.Plane is not null) is not { Plane: { } frame })
        {
            return null;
        }

        var plane = Plane3.Of(frame);
        var (slope, side) = (Math.Asin(Math.Min(1, Math.Abs(plane.Normal.Dot(line.Direction)))), plane.Side(line.Origin));
        return slope > 1e-7 ? null
            : Math.Abs(side) < Tolerances.Length ? new Refusal("datum.line-in-plane", "The line lies inside the plane: they meet everywhere along it.")
            : new Refusal("datum.line-parallel", $"The line runs parallel to the plane to within {Degrees(slope)}, {Math.Abs(side):0.###} mm off it.");
    }

    private static Refusal? LineAndFace(List<Thing> things)
    {
        if (things.FirstOrDefault(t => t.Straight is not null && t.Surface is null) is not { Straight: { } line } || things.FirstOrDefault(t => t.Surface is not null) is not { Surface: { } surface } face)
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
        if (kind != DatumKind.Plane || conditions.FirstOrDefault(c => c.Relation.Name == "tangent") is not { } tangent || tangent.Of[0].Surface is not { } surface)
        {
            return null;
        }

        foreach (var t in conditions.Where(c => c.Relation.Name.StartsWith("through", StringComparison.Ordinal)).Select(c => c.Of[0]))
        {
            if (t.Place is { } p && surface.Side(p) < -Tolerances.Length)
            {
                return new Refusal("datum.inside", $"{t.Words} lies {-surface.Side(p):0.###} mm inside {tangent.Of[0].Words}: no plane through it touches that face.");
            }

            if (t.Line is { } line && surface is CylinderSurface c && line.Direction.Cross(c.Axis.Direction).Length > 1e-7)
            {
                return new Refusal("datum.not-along", $"A plane that touches {tangent.Of[0].Words} runs along its axis; {t.Words} is {Degrees(Math.Asin(Math.Min(1, line.Direction.Cross(c.Axis.Direction).Length)))} off that.");
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
                if (planes[i].Normal.Cross(planes[j].Normal).Length < 1e-7)
                {
                    return Parallel(planes[j], planes[i]);
                }
            }
        }

        return planes.Count >= 3 && Math.Abs(planes[0].Normal.Dot(planes[1].Normal.Cross(planes[2].Normal))) < 1e-7
            ? new Refusal("datum.no-corner", "The three planes run along one direction: they share no single point.")
            : null;
    }
}
