using Ratiogon.Core;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Solids.Tests;

/// <summary>The axes of sketches, planes and frames turn with what they stand on and by no more, whichever way that is tilted.</summary>
public sealed class AxesTests : BuildTest
{
    /// <summary>Forms of many kinds on a frame that is tilted about a direction, and something on each kind of flat face of them.</summary>
    private static PartCommand[] Leaning(string about)
    {
        string[] values =
        [
            "3 mm",
            "-4 mm",
            "5 mm",
            .. new[] { "x", "y", "z" }.Select(a => about.Contains(a, StringComparison.Ordinal) ? "tilt" : "0 deg"),
        ];
        return
        [
            new SetParameter("tilt", "10 deg"),
            new AddStep(new FrameStep("base", 0, "", [new DatumCondition("free", []) { Values = [.. values] }])),
            .. Parts.Sketched("s", "base", Parts.Rectangle(40, 30, new Vec2(30, 0))),
            new AddStep(new ExtrudeStep("e", 0, "", "s") { Length = "12 mm" }),
            new AddStep(new ChamferStep("bevel", 0, "", ["e/end^e/side/r.right"]) { Size = "3 mm" }),
            .. Parts.Sketched("bs", "e/end", Parts.Circle("c", 25, 5, 3)),
            new AddStep(
                new HoleStep("hole", 0, "", ["bs/c"])
                {
                    Diameter = "6 mm",
                    Depth = "5 mm",
                    Point = "180 deg",
                }
            ),
            .. Parts.Sketched("ts", "base/xz", Parts.Rectangle(6, 20, new Vec2(-12, 0))),
            new AddStep(
                new RevolveStep("turned", 0, "", "ts", "base/z")
                {
                    Extent = RevolveExtent.Angle,
                    Angle = "100 deg",
                    Operation = FormOperation.Body,
                }
            ),
            new AddStep(new MirrorStep("twin", 0, "", ["turned"], "base/yz") { Operation = FormOperation.Body }),
            new AddStep(new SplitStep("halved", 0, "", "base/xy") { Body = "turned" }),
        ];
    }

    private static readonly string[] Flat =
    [
        "base/xy",
        "base/yz",
        "e/end",
        "e/start",
        "e/side/r.left",
        "e/side/r.right",
        "e/side/r.top",
        "e/side/r.bottom",
        "bevel/bevel/(e/end~e/side/r.right)",
        "hole/floor/(bs/c)",
        "turned/start",
        "turned/end",
        "halved/of/turned/side/r.top",
        "turned/side/r.bottom",
        "twin/2/turned/end",
        "twin/2/turned/side/r.top",
        "halved/cut",
    ];

    [Theory]
    [InlineData("x")]
    [InlineData("y")]
    [InlineData("z")]
    public void What_stands_on_a_face_turns_as_the_face_turns(string about)
    {
        var axis = about switch
        {
            "x" => Vec3.AlongX,
            "y" => Vec3.AlongY,
            _ => Vec3.AlongZ,
        };
        var part = Parts.Of([.. Leaning(about), .. Flat.SelectMany((on, i) => Standing($"k{i}", on))]);
        var first = Frames(part, 0);
        first.Count.ShouldBe(Flat.Length * 5);
        for (var tilt = -180.0; tilt <= 180; tilt += 7.25)
        {
            // From level on, in its own position and through every quarter, the whole turns as one.
            var now = Frames(part, tilt);
            var by = Rigid.About(new Line3(new Vec3(3, -4, 5), axis), tilt * Math.PI / 180);
            foreach (var (id, was) in first)
            {
                var off = Math.Max(now[id].X.DistanceTo(by.Turn(was.X)), now[id].Y.DistanceTo(by.Turn(was.Y)));
                off.ShouldBeLessThan(
                    1e-6,
                    $"{id} on {Flat[int.Parse(id[1..id.IndexOf('_', StringComparison.Ordinal)], System.Globalization.CultureInfo.InvariantCulture)]} at {tilt} deg about {about}"
                );
            }
        }
    }

    /// <summary>A sketch, a plane beside, a frame, and a plane square to it through an edge or an axis.</summary>
    private static PartCommand[] Standing(string id, string on) =>
        [
            new AddStep(new SketchStep($"{id}_s", 0, "", on, Sketch.Empty)),
            new AddStep(new PlaneStep($"{id}_p", 0, "", [new DatumCondition("offset", [on]) { Values = ["4 mm"] }])),
            new AddStep(new FrameStep($"{id}_f", 0, "", [new DatumCondition("on", [on])])),
            new AddStep(
                new FrameStep(
                    $"{id}_z",
                    0,
                    "",
                    [new DatumCondition("z-square", [$"{id}_p"]), new DatumCondition("origin", ["base/origin"])]
                )
            ),
            new AddStep(
                new PlaneStep(
                    $"{id}_q",
                    0,
                    "",
                    [new DatumCondition("parallel", [$"{id}_p"]), new DatumCondition("through", ["base/origin"])]
                )
            ),
        ];

    private Dictionary<string, Frame> Frames(Part part, double tilt)
    {
        var built = Built(new SetParameter("tilt", $"{tilt} deg").Apply(part).Value);
        return part.Steps.Where(s => s.Id[0] == 'k').ToDictionary(s => s.Id, s => built.Step(s.Id)!.Frame!.Value);
    }

    /// <summary>The sloping top of a wedge drawn from the side: the slope goes through level in steps of a quarter degree.</summary>
    [Theory]
    [InlineData(World.Xz)]
    [InlineData(World.Yz)]
    [InlineData(World.Xy)]
    public void A_sketch_on_a_slope_goes_through_level_without_a_turn(string on)
    {
        var part = Parts.Of([
            new SetParameter("slope", "10 deg"),
            .. Parts.Sketched(
                "s",
                on,
                new SketchEdit
                {
                    Add =
                    [
                        new PointEntity("a", new Vec2(-20, -60)),
                        new PointEntity("b", new Vec2(20, -60)),
                        new PointEntity("c", new Vec2(20, 4)),
                        new PointEntity("d", new Vec2(-20, -4)),
                        new LineEntity("low", "a", "b"),
                        new LineEntity("right", "b", "c"),
                        new LineEntity("top", "c", "d"),
                        new LineEntity("left", "d", "a"),
                        new PointEntity("m", Vec2.Zero),
                    ],
                    Tie =
                    [
                        new SketchConstraint("t1", "horizontal", ["low"]),
                        new SketchConstraint("t2", "vertical", ["right"]),
                        new SketchConstraint("t3", "vertical", ["left"]),
                        new SketchConstraint("t4", "midpoint", ["m", "top"]),
                        new SketchConstraint("t5", "coincident", ["m", Sketch.Origin]),
                    ],
                    Size =
                    [
                        new SketchDimension("w", "distance", ["low"], "40 mm"),
                        new SketchDimension("lh", "distance", ["left"], "60 mm - 20 mm * sin(slope) / cos(slope)"),
                        new SketchDimension("rh", "distance", ["right"], "60 mm + 20 mm * sin(slope) / cos(slope)"),
                    ],
                }
            ),
            new AddStep(new ExtrudeStep("e", 0, "", "s") { Length = "30 mm" }),
            .. Parts.Sketched("pocket", "e/side/top", Parts.Circle("c", 6, 3, 2)),
        ]);
        Vec3? before = null;
        for (var slope = -70.0; slope <= 70; slope += 0.25)
        {
            var next = new SetParameter("slope", $"{slope} deg").Apply(part).Value;
            var built = Built(next, $"at {slope} deg");
            var at = built.Step("pocket")!.Frame!.Value.ToWorld(new Vec2(6, 3));
            if (before is { } was)
            {
                at.DistanceTo(was).ShouldBeLessThan(0.2, $"on {on} at {slope} deg");
            }

            before = at;
        }
    }

    /// <summary>Faces that lean by their own sizes: drafted sides, a bevel with two sizes, the cut of a leaning plane, an end that
    /// follows a plane.</summary>
    [Fact]
    public void Faces_that_lean_by_their_own_sizes_keep_their_axes()
    {
        var part = Parts.Of([
            new SetParameter("lean", "1 deg"),
            Parts.Point("high", new Vec3(-30, 0, 12)),
            Parts.Point("low", new Vec3(30, 5, 12)),
            .. Parts.Block(60, 40, 20),
            new AddStep(new DraftStep("draft", 0, "", ["e/side/r.right"], "e/start") { Angle = "lean" }),
            new AddStep(
                new ChamferStep("bevel", 0, "", ["e/end^e/side/r.left"])
                {
                    How = ChamferHow.Angle,
                    Size = "2 mm",
                    Angle = "45 deg + lean",
                }
            ),
            new AddStep(new PlaneStep("cutter", 0, "", [new DatumCondition("turned", ["high", "low"]) { Values = ["lean"] }])),
        ]);
        string[] on = ["e/side/r.right", "bevel/bevel/(e/end~e/side/r.left)", "cutter"];
        part = on.Select((o, i) => (PartCommand)new AddStep(new SketchStep($"k{i}", 0, "", o, Sketch.Empty)))
            .Aggregate(part, (p, c) => c.Apply(p).Value);
        Dictionary<string, Frame>? before = null;
        for (var lean = -30.0; lean <= 30; lean += 0.5)
        {
            var built = Built(
                new SetParameter("lean", Math.Abs(lean) < 1e-9 ? "0.001 deg" : $"{lean} deg").Apply(part).Value,
                $"at {lean} deg"
            );
            var now = on.Select((_, i) => $"k{i}").ToDictionary(k => k, k => built.Step(k)!.Frame!.Value);
            foreach (var (id, frame) in before ?? [])
            {
                now[id].X.AngleTo(frame.X).ShouldBeLessThan(0.02, $"{on[id[1] - '0']} at {lean}");
                now[id].Y.AngleTo(frame.Y).ShouldBeLessThan(0.02, $"{on[id[1] - '0']} at {lean}");
            }

            before = now;
        }
    }

    [Fact]
    public void A_plane_normal_to_a_curve_has_its_origin_on_the_curve_and_turns_evenly_along_it()
    {
        var part = Parts.Of([
            new SetParameter("f", "0.1"),
            .. Parts.Sketched("s", World.Xz, Parts.Bend(30, 12)),
            new AddStep(
                new PlaneStep(
                    "n",
                    0,
                    "",
                    [new DatumCondition("normal-at-fraction", [$"s/a{World.Next}s/bend{World.Next}s/b"]) { Values = ["f"] }]
                )
            ),
        ]);
        Frame? before = null;
        for (var i = 0; i <= 200; i++)
        {
            var built = Built(new SetParameter("f", $"{i / 200.0}").Apply(part).Value);
            var now = built.Step("n")!.Frame!.Value;
            if (before is { } was)
            {
                now.Origin.DistanceTo(was.Origin).ShouldBeLessThan(0.5);
                now.X.AngleTo(was.X).ShouldBeLessThan(0.05);
                now.Y.AngleTo(was.Y).ShouldBeLessThan(0.05);
            }
            else
            {
                now.Origin.Length.ShouldBeLessThan(1e-9);
            }

            before = now;
        }
    }
}
