using Ratiogon.Core.Building;
using Ratiogon.Core.Datums;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Tools.Datums;

/// <summary>A grip on a datum that moves with one value of it. Pulling solves for the value that brings the grip nearest to
/// the pointer, so one rule serves distances, angles, fractions and coordinates alike.</summary>
internal sealed class Handle
{
    /// <summary>The finest detent, in the unit shown.</summary>
    private const double FinestDetent = 1e-4;

    /// <summary>How far a value is changed to see what follows, as a share of the size or in radians.</summary>
    private const double Aside = 1e-4;

    /// <summary>A handle that moves less than this for a unit of the value cannot be dragged.</summary>
    private const double Moves = 1e-3;

    /// <summary>Kept from a divisor: a handle that hardly moves.</summary>
    private const double Still = 1e-9;

    private const int Steps = 12;
    private readonly Func<double, Vec3?> place;
    private readonly double now;
    private readonly double small;

    private Handle(Func<double, Vec3?> place, double now, double small, Vec3 grip, Vec3 speed)
    {
        (this.place, this.now, this.small, Grip) = (place, now, small, grip);
        (Way, Speed) = (speed.Unit, speed.Length);
    }

    /// <summary>Where it sits.</summary>
    public Vec3 Grip { get; }

    /// <summary>Which way it goes as the value grows.</summary>
    public Vec3 Way { get; }

    /// <summary>How far it goes for one millimetre, radian or whole, in millimetres.</summary>
    public double Speed { get; }

    /// <summary>The handle of a value, or null where nothing moves with it.</summary>
    public static Handle? Of(Model model, DatumDraft draft, string field)
    {
        if (
            draft.ToStep().Fields().FirstOrDefault(f => f.Name == field) is not { Name: not null } at
            || model.Resolve(draft.Makes, draft.Conditions) is not { Done: true } resolved
        )
        {
            return null;
        }

        var now = resolved.Value[at.Condition].Values[at.Value];
        var size = resolved.Value.SelectMany(c => c.Of).Select(t => t.Anchor).Append(Vec3.Zero).Max(p => p.Length);
        var arm = Math.Max(10, size * 0.25);
        Frame? Solved(double value)
        {
            var condition = resolved.Value[at.Condition];
            var changed = resolved.Value.SetItem(at.Condition, condition with { Values = condition.Values.SetItem(at.Value, value) });
            return
                DatumSolver.Solve(draft.Makes, changed) is { Refusal: null } determined
                && DatumSolver.Choose(determined, draft.Choice) is { Done: true } chosen
                ? chosen.Value.Frame
                : null;
        }

        var small = at.Field.Kind == Dimension.OfLength ? Aside * Math.Max(1, size) : Aside;
        if (Solved(now) is not { } frame || (Solved(now + small) ?? Solved(now - small)) is not { } next)
        {
            return null;
        }

        // The origin where it moves, otherwise the end of an axis that does.
        Func<Frame, Vec3>[] grips = [f => f.Origin, f => f.Origin + (f.Y * arm), f => f.Origin + (f.X * arm), f => f.Origin + (f.Z * arm)];
        foreach (var grip in grips)
        {
            var speed = (grip(next) - grip(frame)) / (Solved(now + small) is null ? -small : small);
            if (speed.Length > Moves * (at.Field.Kind == Dimension.OfLength ? 1 : arm))
            {
                return new Handle(v => Solved(v) is { } f ? grip(f) : null, now, small, grip(frame), speed);
            }
        }

        return null;
    }

    /// <summary>The value that brings the grip nearest to a ray: Gauss-Newton with numerical slopes.</summary>
    public double Pulled(Line3 ray)
    {
        var (value, before) = (now, double.PositiveInfinity);
        for (var i = 0; i < Steps; i++)
        {
            if (place(value) is not { } here || place(value + small) is not { } there)
            {
                break;
            }

            Vec3 Across(Vec3 v) => v - (ray.Direction * v.Dot(ray.Direction));
            var (off, slope) = (Across(here - ray.Origin), Across((there - here) / small));
            if (slope.Dot(slope) < Tolerances.Rounding * Speed * Speed || off.Length > before * 1.5)
            {
                break;
            }

            before = off.Length;
            value -= off.Dot(slope) / slope.Dot(slope);
        }

        return value;
    }

    /// <summary>A dragged value as a formula: no finer than the pointer can aim, and in a detent where one is near.</summary>
    public static string Rounded(double value, RelationField field, double speed, double reach, LengthUnit unit)
    {
        if (field.Kind == Dimension.None)
        {
            return Detents.Text(Math.Clamp(Detents.Near(value, reach / Math.Max(speed, Still)), 0, 1));
        }

        if (field.Kind == Dimension.OfAngle)
        {
            return Units.Show(Quantity.Angle(Math.Round(value * 180 / Math.PI) * Math.PI / 180), unit);
        }

        var one = unit == LengthUnit.Inch ? Units.MillimetresPerInch : 1;
        var step = Math.Pow(10, Math.Floor(Math.Log10(Math.Max(reach / one / 2, FinestDetent))));
        return Units.Show(Quantity.Length(Math.Round(value / one / step) * step * one), unit, 4);
    }
}
