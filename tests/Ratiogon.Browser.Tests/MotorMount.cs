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

namespace Ratiogon.Browser.Tests;

/// <summary>A made-up motor, handed over as STEP, and a plate that is built on its flange.</summary>
internal static class MotorMount
{
    private static AddStep Sketched(string id, string on) => new(new SketchStep(id, 0, id, on, Sketch.Empty));

    private static SketchEdit Circle(string id, double x, double y, double r) =>
        new() { Add = [new PointEntity(id + "c", new Vec2(x, y)), new CircleEntity(id, id + "c", r)] };

    /// <summary>A can of 42, a flange of 56 and a shaft of 8.</summary>
    private static byte[] Motor()
    {
        PartCommand[] commands =
        [
            Sketched("can", World.Xy),
            new EditSketch("can", Circle("k", 0, 0, 21)),
            new AddStep(new ExtrudeStep("body", 0, "Can", "can") { Length = "50 mm", Flip = true }),
            Sketched("flange", World.Xy),
            new EditSketch("flange", Circle("k", 0, 0, 28)),
            new AddStep(new ExtrudeStep("rim", 0, "Flange", "flange") { Length = "4 mm" }),
            Sketched("shaft", "rim/end"),
            new EditSketch("shaft", Circle("k", 0, 0, 4)),
            new AddStep(new ExtrudeStep("axle", 0, "Shaft", "shaft") { Length = "22 mm" }),
        ];
        var part = commands.Aggregate(new Part { Name = "Motor 42" }, (p, c) => c.Apply(p).Value);
        var kernel = new NativeKernel();
        using var rebuilder = new Rebuilder(kernel);
        return kernel
            .Write(BodyFormat.Step214, [.. rebuilder.Gauge(part).Bodies.Select(b => new NamedSolid("Motor 42", b.Solid, "#5b7d8c"))])
            .Value;
    }

    public static PartCommand Scene()
    {
        var file = Motor();
        var kernel = new NativeKernel();
        using var solid = kernel.Read(BodyFormat.Step214, file).Value.Solid;
        var faces = kernel.Describe(solid).Faces;
        var flange = Enumerable
            .Range(0, faces.Length)
            .First(i => faces[i].Plane is { } p && p.Z.Z > 0.99 && Math.Abs(faces[i].Centre.Z - 4) < 1e-6);
        var shaft = Enumerable.Range(0, faces.Length).First(i => faces[i].Surface == "cylinder" && faces[i].Centre.Z > 6);
        return new Several(
            [
                new AddStep(
                    new ImportStep("motor", 0, "Motor 42", "motor-42.step", ImportedFile.Pack(file)) { Colour = "#5b7d8c", Apart = true }
                ),
                new AddStep(
                    new PlaneStep("seat", 0, "Seat", [new DatumCondition("offset", [$"motor/face/{flange + 1}"]) { Values = ["2 mm"] }])
                ),
                Sketched("outline", "seat"),
                new EditSketch("outline", ShapeCatalog.RectangleByCentre("r", Vec2.Zero, new Vec2(45, 32)).With(Circle("bore", 0, 0, 6))),
                new AddStep(new ExtrudeStep("plate", 0, "Mounting plate", "outline") { Length = "6 mm", Operation = FormOperation.Body }),
                new AddStep(new ReadingStep("gap", 0, "clearance", "gap", ["motor", "plate"]) { Least = "1.5 mm" }),
                new AddStep(new ReadingStep("shaft", 0, "shaft", "diameter", [$"motor/face/{shaft + 1}"])),
            ],
            "mount"
        );
    }
}
