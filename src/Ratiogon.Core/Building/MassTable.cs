using System.Collections.Immutable;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Building;

/// <summary>Mass properties of one body, or of all together, as people read them.</summary>
public sealed record MassRow(string Body, string Volume, string Area, string Mass, string Centre, string Size, string Inertia);

/// <summary>The mass properties of a part.</summary>
public static class MassTable
{
    public static ImmutableArray<MassRow> Of(Part part, RebuildResult built, ImmutableArray<Inertia> inertias)
    {
        ArgumentNullException.ThrowIfNull(part);
        ArgumentNullException.ThrowIfNull(built);
        var rows = built
            .Bodies.Zip(inertias)
            .Select(z => (b: z.First, i: z.Second))
            .Select(x =>
                Row(
                    part,
                    part.Find(World.StepOf(x.b.Name))?.Name ?? x.b.Name,
                    x.b.Mass.Volume,
                    x.b.Mass.Area,
                    x.b.Mass.Centre,
                    x.b.Bounds.High - x.b.Bounds.Low,
                    [x.i.Xx, x.i.Yy, x.i.Zz]
                )
            )
            .ToList();
        if (built.Bodies.Length > 1)
        {
            var (volume, centre, all) = Gauging.Mass.Together([
                .. built.Bodies.Zip(inertias).Select(z => new BodyMass(z.First.Mass, z.Second)),
            ]);
            var low = new Vec3(
                built.Bodies.Min(b => b.Bounds.Low.X),
                built.Bodies.Min(b => b.Bounds.Low.Y),
                built.Bodies.Min(b => b.Bounds.Low.Z)
            );
            var high = new Vec3(
                built.Bodies.Max(b => b.Bounds.High.X),
                built.Bodies.Max(b => b.Bounds.High.Y),
                built.Bodies.Max(b => b.Bounds.High.Z)
            );
            rows.Add(Row(part, "all bodies", volume, built.Bodies.Sum(b => b.Mass.Area), centre, high - low, [all.Xx, all.Yy, all.Zz]));
        }

        return [.. rows];
    }

    private static MassRow Row(Part part, string name, double volume, double area, Vec3 centre, Vec3 size, double[] inertia)
    {
        string Show(double v, Dimension kind) => Units.Show(new Quantity(v, kind), part.Units);
        string Length(double v) => Show(v, Dimension.OfLength);
        var grams = part.Material.Density / 1000;
        return new MassRow(
            name,
            Show(volume, Dimension.OfVolume),
            Show(area, Dimension.OfArea),
            Show(Mass.Grams(volume, part.Material), Dimension.OfMass),
            $"{Length(centre.X)}, {Length(centre.Y)}, {Length(centre.Z)}",
            $"{Length(size.X)} × {Length(size.Y)} × {Length(size.Z)}",
            string.Join(", ", inertia.Select(i => $"{(i * grams).ToString("0.###", System.Globalization.CultureInfo.InvariantCulture)}"))
                + " g·mm²"
        );
    }
}
