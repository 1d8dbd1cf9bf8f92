using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;

namespace Ratiogon.Core.Gauging;

/// <summary>Mass from volume.</summary>
public static class Mass
{
    /// <param name="volume">In mm³.</param>
    /// <param name="material">Density in g/cm³.</param>
    /// <returns>Grams.</returns>
    public static double Grams(double volume, Material material) => volume / 1000 * material.Density;

    /// <summary>Several bodies as one: the common centre of mass, and the moments about it, each body's own and by Steiner its
    /// volume times the square of the distance. For a density of 1, along the world axes.</summary>
    public static TogetherMass Together(IReadOnlyList<BodyMass> bodies)
    {
        ArgumentNullException.ThrowIfNull(bodies);
        var volume = bodies.Sum(b => b.Mass.Volume);
        var centre = Centre(bodies.Select(b => b.Mass));
        double Sum(Func<Inertia, double> own, Func<Vec3, double> apart) =>
            bodies.Sum(b => own(b.Inertia) + (b.Mass.Volume * apart(b.Mass.Centre - centre)));
        return new TogetherMass(
            volume,
            centre,
            new Inertia(
                Sum(i => i.Xx, d => (d.Y * d.Y) + (d.Z * d.Z)),
                Sum(i => i.Yy, d => (d.X * d.X) + (d.Z * d.Z)),
                Sum(i => i.Zz, d => (d.X * d.X) + (d.Y * d.Y)),
                Sum(i => i.Xy, d => -d.X * d.Y),
                Sum(i => i.Xz, d => -d.X * d.Z),
                Sum(i => i.Yz, d => -d.Y * d.Z)
            )
        );
    }

    /// <summary>The common centre of mass.</summary>
    public static Vec3 Centre(IEnumerable<MassProperties> bodies)
    {
        var all = bodies.ToList();
        return all.Aggregate(Vec3.Zero, (sum, m) => sum + (m.Centre * m.Volume)) / all.Sum(m => m.Volume);
    }
}

/// <summary>Several bodies as one.</summary>
/// <param name="Volume">In mm³.</param>
/// <param name="Centre">Their common centre of mass.</param>
/// <param name="Inertia">About that, for a density of 1.</param>
public readonly record struct TogetherMass(double Volume, Vec3 Centre, Inertia Inertia);

/// <summary>What a body is, as far as mass goes.</summary>
/// <param name="Mass">Volume, area and centre.</param>
/// <param name="Inertia">About its own centre, for a density of 1.</param>
public readonly record struct BodyMass(MassProperties Mass, Inertia Inertia);
