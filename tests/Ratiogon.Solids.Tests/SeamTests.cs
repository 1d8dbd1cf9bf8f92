using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;

namespace Ratiogon.Solids.Tests;

/// <summary>A disc and a cone whose round faces the geometry library does not see meet for some places of their seams.</summary>
public sealed class SeamTests
{
    [Theory]
    [InlineData(0, 0)]
    [InlineData(37, 0)]
    [InlineData(90, 37)]
    [InlineData(37, 37)]
    public void What_two_round_bodies_have_in_common_does_not_hang_on_where_their_seams_lie(int disc, int cone)
    {
        AddStep Frame(string id, DatumCondition condition) => new(new FrameStep(id, 0, "", [condition]));
        Vec2[] corners = [new(0, -18.75), new(11.25, -18.75), new(4.5, 18.75), new(0, 18.75)];
        PartCommand[] both =
        [
            Frame("g", new("free", []) { Values = ["0 mm", "0 mm", "0 mm", "0 deg", "0 deg", $"{disc} deg"] }),
            .. Parts.Sketched("s", "g", Parts.Circle("c", 0, 0, 28.75)),
            new AddStep(new ExtrudeStep("b", 0, "", "s") { Length = "15 mm", Operation = FormOperation.Body }),
            Frame("h", new("free", []) { Values = ["-15 mm", "15 mm", "0 mm", "270 deg", "90 deg", "90 deg"] }),
            Frame("f", new("like", ["h"]) { Values = ["0 mm", "0 mm", "0 mm", "0 deg", $"{cone} deg", "0 deg"] }),
            .. Parts.Sketched(
                "t",
                "f",
                new()
                {
                    Add =
                    [
                        .. corners.Select((p, i) => (SketchEntity)new PointEntity($"p{i}", p)),
                        .. corners.Select((_, i) => (SketchEntity)new LineEntity($"l{i}", $"p{i}", $"p{(i + 1) % 4}")),
                    ],
                }
            ),
            new AddStep(new RevolveStep("o", 0, "", "t", "f/y") { Operation = FormOperation.Body }),
        ];
        using var rebuilder = new Rebuilder(new NativeKernel());
        double Combined(FormOperation how)
        {
            var built = rebuilder.Rebuild(
                Parts.Of([.. both, new AddStep(new CombineStep("k", 0, "", "b", ["o"]) { Operation = how })]),
                withMesh: false
            );
            built.Steps[^1].Message.ShouldBeEmpty();
            return built.Bodies.Sum(b => b.Mass.Volume);
        }

        var common = Combined(FormOperation.Intersect);
        common.ShouldBe(3429.098, 1e-3);
        var (block, tool) = (Math.PI * 28.75 * 28.75 * 15, Math.PI * 37.5 / 3 * ((11.25 * 11.25) + (11.25 * 4.5) + (4.5 * 4.5)));
        Combined(FormOperation.Join).ShouldBe(block + tool - common, 1e-3);
        Combined(FormOperation.Cut).ShouldBe(block - common, 1e-3);
    }
}
