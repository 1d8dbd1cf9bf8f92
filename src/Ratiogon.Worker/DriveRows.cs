using System.Globalization;
using Ratiogon.Core.Asking;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Worker;

/// <summary>What moves a reading, in the words and units of a part.</summary>
internal static class DriveRows
{
    /// <summary>An error below this share of the slope is not told: a slope by differences is held to be as good as that.</summary>
    private const double WorthTelling = 1e-4;

    public static DrivesReply Of(DrivesAnswer answer, LengthUnit unit) =>
        new(
            answer.Reading,
            Units.Show(new Quantity(answer.Value, answer.Kind), unit),
            [.. answer.Drives.Select(d => Row(d, answer.Kind, unit))],
            [.. answer.Left.Select(l => $"{l.Words}: {l.Why}")],
            answer.Tried,
            null
        );

    private static DriveRow Row(Drive drive, Dimension of, LengthUnit unit)
    {
        var step = One(drive.Kind, unit);
        string Shown(double slope) => Units.Show(new Quantity(slope * step.Value, of), unit, 4);
        var per = drive.Kind == Dimension.None ? "for one more" : $"per {Units.Show(step, unit)}";
        string[] notes =
        [
            .. drive.Kink ? [$"{Shown(drive.SlopeDown)} downwards"] : Array.Empty<string>(),
            .. Math.Abs(drive.Error) > WorthTelling * Math.Abs(drive.Slope)
                ? [$"to within {drive.Error.ToString("G2", CultureInfo.InvariantCulture)}"]
                : Array.Empty<string>(),
        ];
        return new DriveRow(
            drive.Step,
            drive.Name,
            drive.Words,
            Units.Show(new Quantity(drive.Value, drive.Kind), unit),
            $"{(drive.Slope > 0 ? "+" : "")}{Shown(drive.Slope)} {per}",
            string.Join(", ", notes),
            drive.Share
        );
    }

    /// <summary>What one more is of a kind, as people count it: a millimetre or an inch, a degree, one.</summary>
    private static Quantity One(Dimension kind, LengthUnit unit) =>
        kind == Dimension.OfLength ? Quantity.Length(unit == LengthUnit.Inch ? 25.4 : 1)
        : kind == Dimension.OfAngle ? Quantity.Angle(Math.PI / 180)
        : new Quantity(1, kind);
}
