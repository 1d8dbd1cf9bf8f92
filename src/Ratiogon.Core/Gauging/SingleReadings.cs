using System.Collections.Immutable;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Gauging;

/// <summary>Readings of one face, edge, curve or place.</summary>
internal static class SingleReadings
{
    /// <summary>A curvature, in 1/mm, below which a curve is straight: a radius of a thousand kilometres.</summary>
    private const double Straight = 1e-9;

    public static ImmutableArray<ReadingKind> All { get; } =
    [
        new("radius", "radius", Dimension.OfLength, 1, 1, Radius),
        new("diameter", "diameter", Dimension.OfLength, 1, 1, (site, ask) => Radius(site, ask).Map(r => r with { Value = 2 * r.Value })),
        new("edge-length", "length", Dimension.OfLength, 1, 1, Length),
        new("face-area", "area", Dimension.OfArea, 1, 1, Area),
        new("perimeter", "length of the outline", Dimension.OfLength, 1, 1, Outline),
        new("bend-radius", "smallest bend radius", Dimension.OfLength, 1, 1, Bend),
        new("cone-angle", "angle of the cone", Dimension.OfAngle, 1, 1, Cone),
        new("place-x", "x of the place", Dimension.OfLength, 1, 1, (_, ask) => Coordinate(ask, p => p.X)) { Framed = true },
        new("place-y", "y of the place", Dimension.OfLength, 1, 1, (_, ask) => Coordinate(ask, p => p.Y)) { Framed = true },
        new("place-z", "z of the place", Dimension.OfLength, 1, 1, (_, ask) => Coordinate(ask, p => p.Z)) { Framed = true },
    ];

    private static Outcome<GaugeValue> Radius(GaugeSite site, GaugeAsk ask) =>
        ask.Of[0] switch
        {
            { Round: { Circular: true } c } => new GaugeValue(c.Radius, [c.Centre, c.At(c.Start)]),
            { Surface: CylinderSurface c, Middle: var m } => new GaugeValue(
                c.Radius,
                m is { } at ? [c.Axis.Foot(at), c.Foot(ask.Of[0].Anchor)] : []
            ),
            { Surface: SphereSurface s } => new GaugeValue(s.Radius, [s.Centre, s.Foot(ask.Of[0].Anchor)]),
            { Surface: TorusSurface t } => new GaugeValue(t.Tube, [], $"of the tube; of the ring {site.Show(t.Ring, Dimension.OfLength)}"),
            var other => new Refusal(
                "reading.no-radius",
                $"{other.Words} has no radius: pick a circle, an arc, a cylinder, a sphere or a torus.",
                other.Reference
            ),
        };

    private static Outcome<GaugeValue> Length(GaugeSite site, GaugeAsk ask) =>
        ask.Of[0].Path is { } path
            ? new GaugeValue(path.Length, path.Closed ? [] : [path.Start, path.End])
            : new Refusal("reading.no-length", $"{ask.Of[0].Words} has no length: pick an edge or a curve.", ask.Of[0].Reference);

    private static Outcome<GaugeValue> Area(GaugeSite site, GaugeAsk ask) =>
        site.FaceOf(ask.Of[0]) is var (body, i)
            ? new GaugeValue(body.Topology.Faces[i].Area, [body.Topology.Faces[i].Centre])
            : new Refusal("reading.no-area", $"{ask.Of[0].Words} has no area: pick a face.", ask.Of[0].Reference);

    private static Outcome<GaugeValue> Outline(GaugeSite site, GaugeAsk ask) =>
        site.FaceOf(ask.Of[0]) is var (body, i)
            ? new GaugeValue(body.Topology.Edges.Where(e => e.Faces.Contains(i) && !e.Seam).Sum(e => e.Length), [])
            : new Refusal("reading.no-area", $"{ask.Of[0].Words} has no outline: pick a face.", ask.Of[0].Reference);

    /// <summary>Where a curve bends most, or where a face does within its outline; none for what is straight or flat.</summary>
    private static Outcome<GaugeValue> Bend(GaugeSite site, GaugeAsk ask)
    {
        var thing = ask.Of[0];
        if (thing.Path is { } path)
        {
            var (at, curvature) = path.Curves.Select(Tightest).MaxBy(t => t.Curvature);
            return curvature > Straight
                ? new GaugeValue(1 / curvature, [at])
                : new Refusal("reading.straight", $"{thing.Words} is straight: it bends nowhere.", thing.Reference);
        }

        if (site.On(thing) is not { Part: { Kind: SubShapeKind.Face, Index: var face }, Body: var body })
        {
            return new Refusal("reading.no-bend", $"{thing.Words} has no bend radius: pick a curve or a face.", thing.Reference);
        }

        return site.Kernel.Bend(body.Solid, face) is { } bend
            ? new GaugeValue(bend.Radius, [bend.At])
            : new Refusal("reading.straight", $"{thing.Words} is flat: it bends nowhere.", thing.Reference);
    }

    /// <summary>The largest curvature of a curve, bracketed by its steps and brought in by golden sections.</summary>
    private static (Vec3 At, double Curvature) Tightest(SpaceCurve curve)
    {
        const double Golden = 0.6180339887498949;
        const int Places = 200;
        double At(int i) => curve.From + ((curve.To - curve.From) * i / Places);
        var top = Enumerable.Range(0, Places + 1).MaxBy(i => curve.Curvature(At(i)));
        var (low, high) = (At(Math.Max(0, top - 1)), At(Math.Min(Places, top + 1)));
        for (var i = 0; i < 60; i++)
        {
            var (a, b) = (high - ((high - low) * Golden), low + ((high - low) * Golden));
            (low, high) = curve.Curvature(a) > curve.Curvature(b) ? (low, b) : (a, high);
        }

        var best = new[] { At(top), (low + high) / 2 }.MaxBy(curve.Curvature);
        return (curve.At(best), curve.Curvature(best));
    }

    private static Outcome<GaugeValue> Cone(GaugeSite site, GaugeAsk ask) =>
        ask.Of[0].Surface is ConeSurface cone
            ? new GaugeValue(2 * cone.HalfAngle, [])
            : new Refusal("reading.no-cone", $"{ask.Of[0].Words} is no cone.", ask.Of[0].Reference);

    private static Outcome<GaugeValue> Coordinate(GaugeAsk ask, Func<Vec3, double> of) =>
        ask.Of[0].Box is null && (Spot.PlaceOf(ask.Of[0]) ?? ask.Of[0].Middle) is { } place
            ? new GaugeValue(of(ask.Frame.ToLocal(place)), [place])
            : new Refusal(
                "reading.no-place",
                $"{ask.Of[0].Words} is no place: pick a point, a centre, or a place on it such as its middle.",
                ask.Of[0].Reference
            );
}
