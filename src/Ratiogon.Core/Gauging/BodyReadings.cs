using System.Collections.Immutable;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Meshes;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Gauging;

/// <summary>Readings of whole bodies: of those picked, or of all together.</summary>
internal static class BodyReadings
{
    private const int Many = 64;
    private static readonly Dimension OfInertia = new(2, 0, 1);

    public static ImmutableArray<ReadingKind> All { get; } =
    [
        Whole("volume", "volume", Dimension.OfVolume, (site, bodies, _) => bodies.Sum(b => b.Mass.Volume)),
        Outer("area", "surface area", Dimension.OfArea, (_, shapes, _) => shapes.Sum(Area)),
        Whole("mass", "mass", Dimension.OfMass, (site, bodies, _) => Mass.Grams(bodies.Sum(b => b.Mass.Volume), site.Part.Material)),
        .. Axes.Select(a =>
            Centred(
                $"centre-{a.Name}",
                $"{a.Name} of the centre of mass",
                (_, centre, frame) => a.Of(frame.ToLocal(centre)),
                Dimension.OfLength
            )
        ),
        .. Axes.Select(a =>
            Outer($"box-{a.Name}", $"size along {a.Name}", Dimension.OfLength, (site, shapes, frame) =>
                a.Of(Size(site, shapes, frame))
            ) with
            {
                Framed = true,
            }
        ),
        .. Moments.Select(m =>
            Whole($"inertia-{m.Name}", $"inertia {m.Name}", OfInertia, (site, bodies, frame) =>
                m.Of(InertiaIn(site, bodies, frame)) * site.Part.Material.Density / 1000
            ) with
            {
                Framed = true,
            }
        ),
        new("gap", "gap between bodies", Dimension.OfLength, 2, 2, Gap),
        new("overlap", "overlap of bodies", Dimension.OfVolume, 2, 2, Overlap),
        new("wall", "smallest wall along a direction", Dimension.OfLength, 0, Many, WallReading.Read) { Way = WayUse.Needed, Whole = true },
    ];

    private static (string Name, Func<Vec3, double> Of)[] Axes => [("x", v => v.X), ("y", v => v.Y), ("z", v => v.Z)];

    private static (string Name, Func<Inertia, double> Of)[] Moments =>
        [("xx", i => i.Xx), ("yy", i => i.Yy), ("zz", i => i.Zz), ("xy", i => i.Xy), ("xz", i => i.Xz), ("yz", i => i.Yz)];

    private static ReadingKind Whole(
        string name,
        string label,
        Dimension kind,
        Func<GaugeSite, ImmutableArray<FormBody>, Frame, double> of
    ) =>
        new(name, label, kind, 0, Many, (site, ask) => site.BodiesOf(ask.Of).Map(bodies => new GaugeValue(of(site, bodies, ask.Frame), [])))
        {
            Whole = true,
        };

    /// <summary>What only needs an outside, so that triangles of a file have it too.</summary>
    private static ReadingKind Outer(
        string name,
        string label,
        Dimension kind,
        Func<GaugeSite, ImmutableArray<INamedBody>, Frame, double> of
    ) =>
        new(name, label, kind, 0, Many, (site, ask) => site.ShapesOf(ask.Of).Map(shapes => new GaugeValue(of(site, shapes, ask.Frame), [])))
        {
            Whole = true,
        };

    private static double Area(INamedBody shape) => shape is FormBody body ? body.Mass.Area : ((ReferenceBody)shape).Area;

    private static ReadingKind Centred(string name, string label, Func<GaugeSite, Vec3, Frame, double> of, Dimension kind) =>
        new(name, label, kind, 0, Many, (site, ask) =>
            site.BodiesOf(ask.Of).Map(bodies => Centre(site, bodies) is var c ? new GaugeValue(of(site, c, ask.Frame), [c]) : null!)
        )
        {
            Whole = true,
            Framed = true,
        };

    private static Vec3 Centre(GaugeSite site, ImmutableArray<FormBody> bodies) => Mass.Centre(bodies.Select(b => b.Mass));

    /// <summary>The sides of the box about bodies and references along the axes of a frame.</summary>
    private static Vec3 Size(GaugeSite site, ImmutableArray<INamedBody> shapes, Frame frame)
    {
        var into = Rigid.Between(new MovingFrame(frame.Origin, frame.X, frame.Y), new MovingFrame(Vec3.Zero, Vec3.AlongX, Vec3.AlongY));
        var boxes = shapes
            .Select(shape =>
            {
                if (shape is ReferenceBody triangles)
                {
                    return Box.About(triangles.Mesh.Places.Select(frame.ToLocal));
                }

                var moved = site.Kernel.Move(((FormBody)shape).Solid, into).Value.Solid;
                using (moved)
                {
                    return site.Kernel.Bounds(moved);
                }
            })
            .ToList();
        return new Vec3(
            boxes.Max(b => b.High.X) - boxes.Min(b => b.Low.X),
            boxes.Max(b => b.High.Y) - boxes.Min(b => b.Low.Y),
            boxes.Max(b => b.High.Z) - boxes.Min(b => b.Low.Z)
        );
    }

    /// <summary>About the common centre of mass, turned to the axes of a frame, for a density of 1.</summary>
    private static Inertia InertiaIn(GaugeSite site, ImmutableArray<FormBody> bodies, Frame frame)
    {
        var (xx, yy, zz, xy, xz, yz) = Mass.Together([.. bodies.Select(b => new BodyMass(b.Mass, site.Kernel.Inertia(b.Solid)))]).Inertia;
        Vec3 Times(Vec3 v) =>
            new((xx * v.X) + (xy * v.Y) + (xz * v.Z), (xy * v.X) + (yy * v.Y) + (yz * v.Z), (xz * v.X) + (yz * v.Y) + (zz * v.Z));
        double In(Vec3 a, Vec3 b) => a.Dot(Times(b));
        return new Inertia(
            In(frame.X, frame.X),
            In(frame.Y, frame.Y),
            In(frame.Z, frame.Z),
            In(frame.X, frame.Y),
            In(frame.X, frame.Z),
            In(frame.Y, frame.Z)
        );
    }

    private static Outcome<GaugeValue> Gap(GaugeSite site, GaugeAsk ask) =>
        TwoBodies(site, ask)
            .Then(two =>
                site.Kernel.Distance(two.A.Solid, default, two.B.Solid, default)
                    .Map(n => new GaugeValue(n.Distance, [n.A, n.B], n.Distance < Tolerances.Length ? "they touch or overlap" : ""))
            );

    private static Outcome<GaugeValue> Overlap(GaugeSite site, GaugeAsk ask) =>
        TwoBodies(site, ask)
            .Then<GaugeValue>(two =>
            {
                var common = site.Kernel.Common(two.A.Solid, two.B.Solid);
                if (!common.Done)
                {
                    return common.Refusal!.Code == "form.nothing-left" ? new GaugeValue(0, [], "they do not overlap") : common.Refusal;
                }

                using (common.Value.Solid)
                {
                    var mass = site.Kernel.Mass(common.Value.Solid);
                    return new GaugeValue(mass.Volume, [mass.Centre]);
                }
            });

    private static Outcome<(FormBody A, FormBody B)> TwoBodies(GaugeSite site, GaugeAsk ask) =>
        site.BodiesOf(ask.Of)
            .Then<(FormBody, FormBody)>(b =>
                b.Length == 2 ? (b[0], b[1]) : new Refusal("reading.two-bodies", "Pick two different bodies.")
            );
}
