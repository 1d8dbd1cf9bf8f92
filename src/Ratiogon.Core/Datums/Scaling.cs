namespace Ratiogon.Core.Datums;

/// <summary>Moves a problem to the middle of its picks and to unit size, so that tolerances mean the same for a watch and
/// for a ship.</summary>
/// <param name="Centre">The middle, in millimetres.</param>
/// <param name="Size">One unit, in millimetres.</param>
internal readonly record struct Scaling(Vec3 Centre, double Size)
{
    public static Scaling Of(IReadOnlyList<Vec3> anchors)
    {
        if (anchors.Count == 0)
        {
            return new Scaling(Vec3.Zero, 1);
        }

        var centre = anchors.Aggregate(Vec3.Zero, (sum, p) => sum + p) / anchors.Count;
        var size = anchors.Max(p => p.DistanceTo(centre));
        return new Scaling(centre, size > Tolerances.SmallestSize ? size : 1);
    }
}
