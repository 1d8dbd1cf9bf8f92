using System.Collections.Immutable;
using Ratiogon.Core.Datums;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Gauging;

/// <summary>Readings between two things.</summary>
internal static class BetweenReadings
{
    public static ImmutableArray<ReadingKind> All { get; } =
    [
        new("distance", "smallest distance", Dimension.OfLength, 2, 2, Smallest),
        new("distance-along", "distance along a direction", Dimension.OfLength, 2, 2, Along) { Way = WayUse.Needed },
        new("centre-distance", "distance between centres", Dimension.OfLength, 2, 2, Centres),
        new("axis-distance", "distance between axes", Dimension.OfLength, 2, 2, Axes),
        new("angle", "angle", Dimension.OfAngle, 2, 2, Angle),
    ];

    private static Outcome<GaugeValue> Smallest(GaugeSite site, GaugeAsk ask) =>
        site.Distance(ask.Of[0], ask.Of[1]).Map(n => new GaugeValue(n.Distance, [n.A, n.B]));

    /// <summary>Between the places that the picks stand for; where one stands for none, between the feet of the smallest
    /// distance.</summary>
    private static Outcome<GaugeValue> Along(GaugeSite site, GaugeAsk ask)
    {
        var (way, words) = ask.Along!.Value;
        return Feet(site, ask.Of[0], ask.Of[1])
            .Map(feet =>
            {
                var apart = feet.B - feet.A;
                var projected = apart.Dot(way);
                var off = apart.Length < Tolerances.Length ? 0 : Math.Acos(Math.Clamp(Math.Abs(projected) / apart.Length, 0, 1));
                return new GaugeValue(
                    Math.Abs(projected),
                    [feet.A, feet.A + (way * projected), feet.B],
                    $"along {words}; {site.Show(apart.Length, Dimension.OfLength)} apart, {site.Show(off, Dimension.OfAngle)} off the "
                        + "direction"
                );
            });
    }

    private static Outcome<VecPair> Feet(GaugeSite site, Thing a, Thing b) =>
        (Spot.PlaceOf(a), Spot.PlaceOf(b)) switch
        {
            ({ } p, { } q) => new VecPair(p, q),
            ({ } p, null) => site.Distance(Thing.OfPoint("", a.Words, p), b).Map(n => new VecPair(p, n.B)),
            (null, { } q) => site.Distance(a, Thing.OfPoint("", b.Words, q)).Map(n => new VecPair(n.A, q)),
            _ => site.Distance(a, b).Map(n => new VecPair(n.A, n.B)),
        };

    private static Outcome<GaugeValue> Centres(GaugeSite site, GaugeAsk ask) =>
        Spot.PlaceOf(ask.Of[0]) is { } a && Spot.PlaceOf(ask.Of[1]) is { } b && (ask.Of[0].Point is null || ask.Of[1].Point is null)
            ? new GaugeValue(a.DistanceTo(b), [a, b])
            : new Refusal(
                "reading.no-centre",
                "This distance is between centres: pick circles, arcs, round faces, or one of them and a point."
            );

    private static Outcome<GaugeValue> Axes(GaugeSite site, GaugeAsk ask)
    {
        if (ask.Of[0].Straight is not { } a || ask.Of[1].Straight is not { } b || (ask.Of[0].Axis is null && ask.Of[1].Axis is null))
        {
            return new Refusal(
                "reading.no-axis",
                "This distance is between axes: pick two round faces or circles, or one and a straight line."
            );
        }

        var turn = Undirected(a.Direction, b.Direction);
        if (turn < Tolerances.Angle)
        {
            var from = ask.Of[0].Anchor is var anchor ? a.Foot(anchor) : a.Origin;
            return new GaugeValue(b.DistanceTo(from), [from, b.Foot(from)], "parallel");
        }

        var (here, there) = a.Nearest(b);
        return new GaugeValue(here.DistanceTo(there), [here, there], $"at {site.Show(turn, Dimension.OfAngle)} to each other");
    }

    private static Outcome<GaugeValue> Angle(GaugeSite site, GaugeAsk ask)
    {
        var (a, b) = (Direction(ask.Of[0]), Direction(ask.Of[1]));
        if (a is not { } p || b is not { } q)
        {
            var odd = ask.Of[a is null ? 0 : 1];
            return new Refusal(
                "reading.no-direction",
                $"{odd.Words} has no direction: an angle is between straight or flat things.",
                odd.Reference
            );
        }

        // Between a line and a plane it is what is left of the angle to the normal.
        var turn = Undirected(p.Way, q.Way);
        var angle = p.Flat == q.Flat ? turn : (Math.PI / 2) - turn;
        return new GaugeValue(
            angle,
            [ask.Of[0].Anchor, ask.Of[1].Anchor],
            angle > Tolerances.Angle && angle < (Math.PI / 2) - Tolerances.Angle
                ? $"or {site.Show(Math.PI - angle, Dimension.OfAngle)}"
                : ""
        );
    }

    private static (Vec3 Way, bool Flat)? Direction(Thing thing) =>
        thing.Straight is { } line ? (line.Direction, false)
        : (thing.Plane ?? thing.Frame) is { } plane ? (plane.Z, true)
        : null;

    /// <summary>From 0 to a right angle; by the cross product too, so that small angles are as exact as large ones.</summary>
    private static double Undirected(Vec3 a, Vec3 b) => Math.Atan2(a.Cross(b).Length, Math.Abs(a.Dot(b)));
}
