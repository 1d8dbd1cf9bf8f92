using System.Collections.Immutable;
using System.Globalization;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Building;

/// <summary>One row of the hole table, in the unit of the part.</summary>
/// <param name="Number">Counted from 1.</param>
/// <param name="Step">Name of its step.</param>
/// <param name="Centre">What it stands on.</param>
/// <param name="X">Of its start on the axis.</param>
/// <param name="Y">Of its start.</param>
/// <param name="Z">Of its start.</param>
/// <param name="Direction">As a unit vector.</param>
/// <param name="Size">In words.</param>
/// <param name="Diameter">Of the drill.</param>
/// <param name="Thread">Name and depth, or empty.</param>
/// <param name="Depth">Of the full diameter, or through.</param>
public sealed record HoleTableRow(
    int Number,
    string Step,
    string Centre,
    string X,
    string Y,
    string Z,
    string Direction,
    string Size,
    string Diameter,
    string Thread,
    string Depth
);

/// <summary>Every hole of a part, as a table and as CSV (RFC 4180).</summary>
public static class HoleTable
{
    private static readonly string[] Heads =
    [
        "number",
        "step",
        "centre",
        "x",
        "y",
        "z",
        "direction",
        "size",
        "diameter",
        "thread",
        "depth",
        "unit",
    ];

    public static ImmutableArray<HoleTableRow> Of(Part part, RebuildResult built)
    {
        ArgumentNullException.ThrowIfNull(part);
        ArgumentNullException.ThrowIfNull(built);
        var rows = ImmutableArray.CreateBuilder<HoleTableRow>();
        foreach (var step in built.Steps)
        {
            foreach (var hole in step.Holes)
            {
                var drilled = part.Find(hole.By) as HoleStep;
                var at = hole.At + (hole.Direction * hole.Start);
                rows.Add(
                    new HoleTableRow(
                        rows.Count + 1,
                        part.Find(step.Id)!.Name,
                        hole.Centre,
                        Number(at.X, part),
                        Number(at.Y, part),
                        Number(at.Z, part),
                        string.Create(
                            CultureInfo.InvariantCulture,
                            $"{Plain(hole.Direction.X)} {Plain(hole.Direction.Y)} {Plain(hole.Direction.Z)}"
                        ),
                        hole.Size,
                        Number(hole.Diameter, part),
                        hole.Thread <= 0 ? ""
                            : drilled is { Extent: HoleExtent.Through } ? $"{drilled.Thread} through"
                            : $"{drilled?.Thread} {Number(hole.Thread, part)} deep",
                        drilled?.Extent == HoleExtent.Through ? "through" : Number(hole.End - hole.Start, part)
                    )
                );
            }
        }

        return rows.ToImmutable();
    }

    public static byte[] Csv(Part part, RebuildResult built)
    {
        ArgumentNullException.ThrowIfNull(part);
        var unit = part.Units == LengthUnit.Inch ? "in" : "mm";
        return Quantities.Csv.Of(
            Heads,
            Of(part, built)
                .Select(r =>
                    new[]
                    {
                        r.Number.ToString(CultureInfo.InvariantCulture),
                        r.Step,
                        r.Centre,
                        r.X,
                        r.Y,
                        r.Z,
                        r.Direction,
                        r.Size,
                        r.Diameter,
                        r.Thread,
                        r.Depth,
                        unit,
                    }
                )
        );
    }

    /// <summary>Without a minus before zero.</summary>
    private static string Plain(double v) => (Math.Round(v, 4) + 0.0).ToString("0.####", CultureInfo.InvariantCulture);

    private static string Number(double millimetres, Part part) => Plain(millimetres / (part.Units == LengthUnit.Inch ? 25.4 : 1));
}
