using System.Collections.Immutable;
using Ratiogon.Core.Building;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches.Regions;

namespace Ratiogon.Core.Tools.Forms;

/// <summary>Grips that drag the values of a form along a line in space.</summary>
internal static class FormGrips
{
    /// <summary>The finest reach of the pointer, in millimetres, that values are rounded by.</summary>
    private const double FinestReach = 1e-3;

    /// <summary>A value as a line: its grip at <c>Origin + Direction · value · Factor</c>.</summary>
    private sealed record Rail(string Field, Line3 Line, double Factor);

    public static ImmutableArray<FormGrip> Of(Model model, FormStep step) =>
        [
            .. Rails(model, step)
                .Select(rail => (rail, value: Value(model, step, rail.Field)))
                .Where(r => r.value is not null)
                .Select(r => new FormGrip(
                    r.rail.Field,
                    r.rail.Line.At(r.value!.Value * r.rail.Factor),
                    r.rail.Line.Direction,
                    Units.Show(Quantity.Length(r.value.Value), model.Part.Units)
                )),
        ];

    /// <summary>The formula that brings a grip to a ray, rounded to what the pointer can say.</summary>
    public static string? Pulled(Model model, FormStep step, string field, Line3 ray, double reach)
    {
        if (Rails(model, step).FirstOrDefault(r => r.Field == field) is not { } rail)
        {
            return null;
        }

        var value = rail.Line.Along(rail.Line.Nearest(ray).Here) / rail.Factor;
        var inch = model.Part.Units == LengthUnit.Inch ? Units.MillimetresPerInch : 1;
        var digits = (int)Math.Clamp(Math.Ceiling(-Math.Log10(Math.Max(reach, FinestReach) / inch)), 0, 3);
        var rounded = Math.Round(value / inch, digits) * inch;
        return rounded > Tolerances.SmallestSize ? Units.Show(Quantity.Length(rounded), model.Part.Units, 4) : null;
    }

    private static double? Value(Model model, FormStep step, string field) =>
        step.Fields.OfType<ValueField>().FirstOrDefault(f => f.Name == field && f.When(step)) is { } f
        && Formula.Parse(f.Get(step)).Then(p => p.Evaluate(model.Values.Of)) is { Done: true } v
            ? v.Value.Value
            : null;

    private static IEnumerable<Rail> Rails(Model model, FormStep step)
    {
        if (
            step is ExtrudeStep extrude
            && model.SketchOf(extrude.Sketch) is { } sketch
            && Arrangement.Of(sketch.Sketch) is var all
            && all.Choose(extrude.Regions) is { Done: true } chosen
            && chosen.Value.Length > 0
        )
        {
            var profile = new Profile(sketch.Plane, all.Join(chosen.Value));
            var way =
                extrude.Along is null ? sketch.Plane.Z
                : model.Find(extrude.Along) is { Done: true, Value.Straight: { } line }
                    ? line.Direction * Math.Sign(line.Direction.Dot(sketch.Plane.Z))
                : sketch.Plane.Z;
            way = extrude.Flip ? -way : way;
            var start = string.IsNullOrWhiteSpace(extrude.Start) ? 0 : Value(model, extrude, "start") ?? 0;
            var at = profile.Middle + (way * start);
            if (extrude.Extent is ExtrudeExtent.Length or ExtrudeExtent.TwoLengths or ExtrudeExtent.Symmetric)
            {
                yield return new Rail("length", new Line3(at, way), extrude.Extent == ExtrudeExtent.Symmetric ? 0.5 : 1);
            }

            if (extrude.Extent == ExtrudeExtent.TwoLengths)
            {
                yield return new Rail("second", new Line3(at, -way), 1);
            }
        }

        if (
            step is HoleStep { Extent: HoleExtent.Depth, Centres.Count: > 0 } hole
            && model.Find(hole.Centres[0]) is { Done: true, Value.Place: { } centre }
        )
        {
            Vec3? way =
                hole.Along is null ? (model.SketchOf(World.StepOf(hole.Centres[0])) is { } s ? -s.Plane.Z : null)
                : model.Find(hole.Along) is { Done: true, Value: var t } ? t.Straight?.Direction ?? (t.Plane is { } p ? -p.Z : null)
                : null;
            if (way is { } w)
            {
                yield return new Rail("depth", new Line3(centre, hole.Flip ? -w : w), 1);
            }
        }
    }
}
