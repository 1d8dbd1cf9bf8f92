using Ratiogon.Core;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Shapes;

namespace Ratiogon.Server.Tests;

/// <summary>The commands that make a plate of 80 x 50 x 12.</summary>
internal static class Commands
{
    public const double Volume = 80 * 50 * 12;

    public static PartCommand[] Plate { get; } =
    [
        new AddStep(new SketchStep("outline", 0, "Outline", World.Xy, Sketch.Empty)),
        new EditSketch("outline", Rectangle(80, 50)),
        new AddStep(new ExtrudeStep("plate", 0, "Plate", "outline") { Length = "12 mm" }),
    ];

    public static SketchEdit Rectangle(double w, double h)
    {
        var edit = ShapeCatalog
            .RectangleByCentre("r", Vec2.Zero, new Vec2(w / 2, h / 2))
            .With(ShapeCatalog.Placed("r", "r.centre", Vec2.Zero));
        return edit with { Size = [ShapeCatalog.Width("r", $"{w} mm"), ShapeCatalog.Height("r", $"{h} mm")] };
    }

    /// <summary>A cut by many holes: seconds of work for the geometry.</summary>
    public static PartCommand[] ManyHoles(int across, int up)
    {
        var edit = new SketchEdit();
        for (var i = 0; i < across * up; i++)
        {
            var at = new Vec2(-38 + (76.0 * (i % across) / (across - 1)), -23 + (46.0 * (i / across) / (up - 1)));
            edit = edit.With(new SketchEdit { Add = [new PointEntity($"p{i}", at), new CircleEntity($"c{i}", $"p{i}", 0.8)] });
        }

        return
        [
            new AddStep(new SketchStep("holes", 0, "Holes", "plate/end", Sketch.Empty)),
            new EditSketch("holes", edit),
            new AddStep(
                new ExtrudeStep("drilled", 0, "Drilled", "holes") { Extent = ExtrudeExtent.ThroughAll, Operation = FormOperation.Cut }
            ),
        ];
    }
}
