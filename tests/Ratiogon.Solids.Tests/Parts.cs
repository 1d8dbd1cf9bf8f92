using Ratiogon.Core;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Shapes;

namespace Ratiogon.Solids.Tests;

/// <summary>Small parts that the tests build on.</summary>
internal static class Parts
{
    /// <summary>The part with further commands.</summary>
    public static Part Then(Part part, params PartCommand[] commands) => commands.Aggregate(part, (p, c) =>
        {
            var next = c.Apply(p);
            next.Refusal?.Message.ShouldBeNull();
            return next.Value;
        });

    public static Part Of(params IEnumerable<PartCommand> commands) => Then(new Part(), [.. commands]);

    public static SketchEdit Rectangle(double w, double h, Vec2 centre)
    {
        var edit = ShapeCatalog
            .RectangleByCentre("r", centre, centre + new Vec2(w / 2, h / 2))
            .With(ShapeCatalog.Placed("r", "r.centre", centre));
        return edit with { Size = [.. edit.Size, ShapeCatalog.Width("r", $"{w} mm"), ShapeCatalog.Height("r", $"{h} mm")] };
    }

    public static SketchEdit Circle(string id, double x, double y, double r) =>
        new() { Add = [new PointEntity(id + "c", new Vec2(x, y)), new CircleEntity(id, id + "c", r)] };

    /// <summary>A sketch with what is drawn in it.</summary>
    public static PartCommand[] Sketched(string id, string on, SketchEdit edit) =>
        [new AddStep(new SketchStep(id, 0, "", on, Sketch.Empty)), new EditSketch(id, edit)];

    /// <summary>A sketch "s" with a rectangle about the origin.</summary>
    public static PartCommand[] Plate(double w, double h) => Sketched("s", World.Xy, Rectangle(w, h, Vec2.Zero));

    /// <summary>The same as a block "e".</summary>
    public static PartCommand[] Block(double w, double h, double t) =>
        [.. Plate(w, h), new AddStep(new ExtrudeStep("e", 0, "", "s") { Length = $"{t} mm" })];

    /// <summary>A point in the middle of a face.</summary>
    public static AddStep Middle(string id, string face) => new(new PointStep(id, 0, "", [new DatumCondition("at-middle", [face])]));

    /// <summary>The axis of a round face.</summary>
    public static AddStep Axis(string id, string face) => new(new AxisStep(id, 0, "", [new DatumCondition("axis-of", [face])]));

    /// <summary>A 3D line between two places.</summary>
    public static PartCommand Line(string id, Vec3 from, Vec3 to) =>
        new Several(
            [Point($"{id}_a", from), Point($"{id}_b", to), new AddStep(new CurveStep(id, 0, "", CurveShape.Line, [$"{id}_a", $"{id}_b"]))],
            "line"
        );

    public static AddStep Point(string id, Vec3 at) =>
        new(new PointStep(id, 0, "", [new DatumCondition("coordinates", []) { Values = [$"{at.X} mm", $"{at.Y} mm", $"{at.Z} mm"] }]));

    /// <summary>A straight along x from the origin, a quarter bend to the left, and a straight along y.</summary>
    public static SketchEdit Bend(double straight, double radius) =>
        new()
        {
            Add =
            [
                new PointEntity("pa", new Vec2(0, 0)),
                new PointEntity("pb", new Vec2(straight, 0)),
                new PointEntity("pm", new Vec2(straight, radius)),
                new PointEntity("pc", new Vec2(straight + radius, radius)),
                new PointEntity("pd", new Vec2(straight + radius, radius + straight)),
                new LineEntity("a", "pa", "pb"),
                new ArcEntity("bend", "pm", "pb", "pc", radius),
                new LineEntity("b", "pc", "pd"),
            ],
        };
}
