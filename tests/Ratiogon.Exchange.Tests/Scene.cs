using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Shapes;
using Ratiogon.Solids;

namespace Ratiogon.Exchange.Tests;

/// <summary>A block of 80 x 50 x 12 with a bore of 10, and a pin of its own beside it.</summary>
internal static class Scene
{
    public const double Block = (80 * 50 * 12) - (Math.PI * 25 * 12),
        Pin = Math.PI * 9 * 20;

    public static Part Part { get; } =
        Of(
            new AddStep(new SketchStep("s", 0, "Outline", World.Xy, Sketch.Empty)),
            new EditSketch("s", ShapeCatalog.RectangleByCentre("r", Vec2.Zero, new Vec2(40, 25))),
            new EditSketch("s", Circle("c", 10, 5, 5)),
            new AddStep(new ExtrudeStep("e", 0, "Block", "s") { Length = "12 mm" }),
            new AddStep(new SketchStep("q", 0, "Pin outline", World.Xy, Sketch.Empty)),
            new EditSketch("q", Circle("c", 60, 0, 3)),
            new AddStep(new ExtrudeStep("pin", 0, "Pin", "q") { Length = "20 mm", Operation = FormOperation.Body })
        );

    public static Part Of(params PartCommand[] commands) => commands.Aggregate(new Part { Name = "Block & pin" }, (p, c) =>
        {
            var next = c.Apply(p);
            next.Refusal?.Message.ShouldBeNull();
            return next.Value;
        });

    public static SketchEdit Circle(string id, double x, double y, double r) =>
        new() { Add = [new PointEntity(id + "m", new Vec2(x, y)), new CircleEntity(id, id + "m", r)] };

    /// <summary>A part built, to be read or written.</summary>
    public static GaugeSite Site(Part part) => new Rebuilder(new NativeKernel()).Gauge(part);

    public static byte[] Written(string ending, ExportOptions? options = null)
    {
        var written = Exporter.Write(Site(Part), ending, options ?? new ExportOptions());
        written.Refusal?.Message.ShouldBeNull();
        return written.Value;
    }
}
