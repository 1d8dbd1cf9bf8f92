using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Shapes;
using static Ratiogon.Solids.Tests.Parts;

namespace Ratiogon.Solids.Tests;

/// <summary>Parts of many kinds of forms, each under random changes of sizes, counts, suppression and order. A datum on a face or edge
/// is, by
/// geometry worked out here from the sizes alone, where the thing that it was put on is now, or its step fails with a message.
/// RATIOGON_NAMES sets another number of changes.</summary>
public sealed class NamedPartsRigTests : BuildTest
{
    private const double Near = 1e-6;

    private static int Changes => int.TryParse(Environment.GetEnvironmentVariable("RATIOGON_NAMES"), out var n) ? n : 25;

    /// <summary>A part that is changed.</summary>
    /// <param name="Sizes">Its parameters, each between two values; without a unit they are counts.</param>
    /// <param name="Steps">What it is made of; witnesses are points in the middle of faces and axes of round ones.</param>
    /// <param name="Off">Steps that are left out now and then.</param>
    /// <param name="Where">For each witness, whether its origin and direction are right; by the sizes and what is left out.</param>
    private sealed record Rig(
        (string Name, double Low, double High, string Unit)[] Sizes,
        Func<PartCommand[]> Steps,
        string[] Off,
        Func<Func<string, double>, string?, Dictionary<string, Func<Vec3, Vec3, bool>>> Where
    );

    private static Func<Vec3, Vec3, bool> At(Func<Vec3, bool> place) => (p, _) => place(p);

    private static Func<Vec3, Vec3, bool> Along(Vec3 direction, Vec3 through) =>
        (p, d) => d.Cross(direction).Length < Near && new Line3(through, direction).DistanceTo(p) < Near;

    private static bool Is(double a, double b) => Math.Abs(a - b) < Near;

    private static SketchEdit Box(string w, string h, string atX, string atY, string id = "r")
    {
        var edit = ShapeCatalog.RectangleByCentre(id, new Vec2(20, 20), new Vec2(50, 40));
        return edit with
        {
            Size =
            [
                .. edit.Size,
                ShapeCatalog.Width(id, w),
                ShapeCatalog.Height(id, h),
                new SketchDimension($"{id}.x", "horizontal-distance", [Sketch.Origin, $"{id}.centre"], atX),
                new SketchDimension($"{id}.y", "vertical-distance", [Sketch.Origin, $"{id}.centre"], atY),
            ],
        };
    }

    private static SketchEdit Centred(string w, string h)
    {
        var edit = ShapeCatalog.RectangleByCentre("r", Vec2.Zero, new Vec2(30, 20)).With(ShapeCatalog.Placed("r", "r.centre", Vec2.Zero));
        return edit with { Size = [.. edit.Size, ShapeCatalog.Width("r", w), ShapeCatalog.Height("r", h)] };
    }

    private static SketchEdit Round(string id, string diameter, string? atX = null)
    {
        var centre = atX is null ? Sketch.Origin : $"{id}.c";
        return new SketchEdit
        {
            Add = atX is null
                ? [new CircleEntity(id, centre, 4)]
                : [new PointEntity(centre, new Vec2(15, 0)), new CircleEntity(id, centre, 4)],
            Tie = atX is null ? [] : [new SketchConstraint($"{id}.level", "horizontal", [Sketch.Origin, centre])],
            Size =
            [
                new SketchDimension($"{id}.d", "diameter", [id], diameter),
                .. atX is null
                    ? Array.Empty<SketchDimension>()
                    : [new SketchDimension($"{id}.x", "horizontal-distance", [Sketch.Origin, centre], atX)],
            ],
        };
    }

    private static PartCommand[] Drawn(string id, string on, SketchEdit edit) => Parts.Sketched(id, on, edit);

    private static readonly Dictionary<string, Rig> All = new()
    {
        // A disc turned about z, a ring of holes from below, its rim bevelled, a hub on it.
        ["disc"] = new(
            [
                ("ra", 40, 60, "mm"),
                ("ha", 12, 20, "mm"),
                ("hx", 15, 28, "mm"),
                ("hd", 2, 5, "mm"),
                ("n", 3, 7, ""),
                ("bevel", 0.5, 2, "mm"),
                ("hub", 8, 16, "mm"),
                ("hh", 3, 9, "mm"),
            ],
            () =>
                [
                    .. Drawn("s", World.Xz, Box("ra", "ha", "ra / 2", "ha / 2")),
                    new AddStep(new RevolveStep("disc", 0, "", "s", "world/z") { Extent = RevolveExtent.Full }),
                    .. Drawn("hs", World.Xy, Round("c", "hd", "hx")),
                    new AddStep(new ExtrudeStep("hole", 0, "", "hs") { Length = "ha", Operation = FormOperation.Cut }),
                    new AddStep(
                        new PatternStep("ring", 0, "", ["hole"])
                        {
                            Layout = PatternLayout.Circular,
                            Axis = "world/z",
                            Count = "n",
                        }
                    ),
                    new AddStep(new ChamferStep("rim", 0, "", ["disc/side/r.right^disc/side/r.top"]) { Size = "bevel" }),
                    .. Drawn("us", "disc/side/r.top", Round("u", "hub")),
                    new AddStep(new ExtrudeStep("hub", 0, "", "us") { Length = "hh" }),
                    Middle("bottom", "disc/side/r.bottom"),
                    Axis("outside", "disc/side/r.right"),
                    Axis("first", "hole/side/c"),
                    Axis("second", "ring/2/hole/side/c"),
                    Axis("third", "ring/3/hole/side/c"),
                    Axis("cone", "rim/bevel/(disc/side/r.right~disc/side/r.top)"),
                    Axis("hub_axis", "hub/side/u"),
                    Middle("hub_top", "hub/end"),
                ],
            ["ring", "rim", "hub"],
            (v, _) =>
                new()
                {
                    ["bottom"] = At(p => Is(p.Z, 0)),
                    ["outside"] = Along(Vec3.AlongZ, Vec3.Zero),
                    ["cone"] = Along(Vec3.AlongZ, Vec3.Zero),
                    ["hub_axis"] = Along(Vec3.AlongZ, Vec3.Zero),
                    ["hub_top"] = At(p => Is(p.Z, v("ha") + v("hh"))),
                    ["first"] = Along(Vec3.AlongZ, new Vec3(v("hx"), 0, 0)),
                    ["second"] = Along(Vec3.AlongZ, Turned(v("hx"), 2 * Math.PI / v("n"))),
                    ["third"] = Along(Vec3.AlongZ, Turned(v("hx"), 4 * Math.PI / v("n"))),
                }
        ),

        // A box with leaning sides, hollowed from above, a post on its floor, an edge rounded.
        ["tray"] = new(
            [
                ("w", 60, 110, "mm"),
                ("d", 40, 80, "mm"),
                ("h", 15, 30, "mm"),
                ("t", 1, 3, "mm"),
                ("lean", 1, 6, "deg"),
                ("post", 4, 9, "mm"),
                ("ph", 3, 9, "mm"),
                ("soft", 1, 4, "mm"),
            ],
            () =>
                [
                    .. Drawn("s", World.Xy, Centred("w", "d")),
                    new AddStep(new ExtrudeStep("block", 0, "", "s") { Length = "h" }),
                    new AddStep(
                        new DraftStep("leaning", 0, "", ["block/side/r.left", "block/side/r.right"], "block/start") { Angle = "lean" }
                    ),
                    new AddStep(new FilletStep("soft_e", 0, "", ["block/side/r.bottom^block/side/r.left"]) { Radius = "soft" }),
                    new AddStep(new ShellStep("tray", 0, "", ["block/end"]) { Thickness = "t" }),
                    .. Drawn("ps", "tray/inner/(block/start)", Round("c", "post")),
                    new AddStep(new ExtrudeStep("post", 0, "", "ps") { Length = "ph" }),
                    Middle("under", "block/start"),
                    Middle("floor", "tray/inner/(block/start)"),
                    Middle("left", "block/side/r.left"),
                    Middle("right", "block/side/r.right"),
                    Middle("back", "block/side/r.top"),
                    Middle("inner_back", "tray/inner/(block/side/r.top)"),
                    Middle("post_top", "post/end"),
                    Axis("post_axis", "post/side/c"),
                ],
            ["leaning", "soft_e", "post"],
            (v, off) =>
                new()
                {
                    ["under"] = At(p => Is(p.Z, 0)),
                    ["floor"] = At(p => Is(p.Z, v("t"))),
                    ["post_top"] = At(p => Is(p.Z, v("t") + v("ph"))),
                    ["left"] = At(p =>
                        p.X < 0 && Is(Math.Abs(p.X + (v("w") / 2)), off == "leaning" ? 0 : p.Z * Math.Tan(v("lean") * Math.PI / 180))
                    ),
                    ["right"] = At(p =>
                        p.X > 0 && Is(Math.Abs(p.X - (v("w") / 2)), off == "leaning" ? 0 : p.Z * Math.Tan(v("lean") * Math.PI / 180))
                    ),
                    ["back"] = At(p => Is(p.Y, v("d") / 2)),
                    ["inner_back"] = At(p => Is(p.Y, (v("d") / 2) - v("t"))),
                    ["post_axis"] = (_, d) => d.Cross(Vec3.AlongZ).Length < Near,
                }
        ),

        // Posts in rows and columns on a plate, a bore through the first and its copies, one corner cut off.
        ["posts"] = new(
            [
                ("w", 120, 160, "mm"),
                ("d", 90, 120, "mm"),
                ("h", 4, 9, "mm"),
                ("dia", 8, 12, "mm"),
                ("ph", 6, 15, "mm"),
                ("nx", 2, 5, ""),
                ("ny", 2, 4, ""),
                ("px", 16, 22, "mm"),
                ("py", 15, 20, "mm"),
                ("cut", 4, 9, "mm"),
            ],
            () =>
                [
                    .. Drawn("s", World.Xy, Box("w", "d", "w / 2 - 15 mm", "d / 2 - 15 mm")),
                    new AddStep(new ExtrudeStep("plate", 0, "", "s") { Length = "h" }),
                    .. Drawn("ps", World.Xy, Round("c", "dia")),
                    new AddStep(new ExtrudeStep("post", 0, "", "ps") { Length = "h + ph" }),
                    new AddStep(
                        new PatternStep("grid", 0, "", ["post"])
                        {
                            Along = "world/x",
                            Count = "nx",
                            Spacing = "px",
                            Across = "world/y",
                            Rows = "ny",
                            RowSpacing = "py",
                        }
                    ),
                    new AddStep(new ChamferStep("corner", 0, "", ["plate/side/r.right^plate/side/r.top"]) { Size = "cut" }),
                    Axis("first", "post/side/c"),
                    Axis("beside", "grid/2/post/side/c"),
                    Axis("behind", "grid/1-2/post/side/c"),
                    Axis("across", "grid/2-2/post/side/c"),
                    Axis("third", "grid/3/post/side/c"),
                    Middle("tip", "grid/2-2/post/end"),
                    Middle("slope", "corner/bevel/(plate/side/r.right~plate/side/r.top)"),
                    Middle("far", "plate/side/r.right"),
                ],
            ["grid", "corner"],
            (v, _) =>
                new()
                {
                    ["first"] = Along(Vec3.AlongZ, Vec3.Zero),
                    ["beside"] = Along(Vec3.AlongZ, new Vec3(v("px"), 0, 0)),
                    ["behind"] = Along(Vec3.AlongZ, new Vec3(0, v("py"), 0)),
                    ["across"] = Along(Vec3.AlongZ, new Vec3(v("px"), v("py"), 0)),
                    ["third"] = Along(Vec3.AlongZ, new Vec3(2 * v("px"), 0, 0)),
                    ["tip"] = At(p => Is(p.Z, v("h") + v("ph")) && Is(p.X, v("px")) && Is(p.Y, v("py"))),
                    ["slope"] = At(p => Is(p.X + p.Y, v("w") - 15 + v("d") - 15 - v("cut"))),
                    ["far"] = At(p => Is(p.X, v("w") - 15)),
                }
        ),

        // A loft between two rectangles, a block joined to it, mirrored as a whole, and divided.
        ["funnel"] = new(
            [
                ("w", 40, 60, "mm"),
                ("d", 30, 50, "mm"),
                ("tw", 20, 35, "mm"),
                ("td", 15, 25, "mm"),
                ("h", 20, 40, "mm"),
                ("nh", 5, 12, "mm"),
                ("far", 50, 80, "mm"),
            ],
            () =>
                [
                    .. Drawn("s", World.Xy, Centred("w", "d")),
                    new AddStep(new PlaneStep("up", 0, "", [new DatumCondition("offset", [World.Xy]) { Values = ["h"] }])),
                    .. Drawn("ts", "up", Centred("tw", "td")),
                    new AddStep(new LoftStep("funnel", 0, "", ["s", "ts"]) { Straight = true }),
                    .. Drawn("ns", "funnel/end", Centred("tw", "td")),
                    new AddStep(new ExtrudeStep("neck", 0, "", "ns") { Length = "nh" }),
                    new AddStep(new PlaneStep("glass", 0, "", [new DatumCondition("offset", [World.Yz]) { Values = ["far"] }])),
                    new AddStep(new MirrorStep("twin", 0, "", ["funnel/body"], "glass") { Whole = true, Operation = FormOperation.Body }),
                    Middle("foot", "funnel/start"),
                    Middle("top", "neck/end"),
                    Middle("twin_foot", "twin/2/funnel/start"),
                    Middle("twin_top", "twin/2/neck/end"),
                    Middle("slant", "funnel/side/r.right"),
                    Middle("twin_slant", "twin/2/funnel/side/r.right"),
                ],
            ["neck"],
            (v, off) =>
                new()
                {
                    ["foot"] = At(p => p.Length < Near),
                    ["top"] = At(p => Is(p.Z, v("h") + v("nh")) && Is(p.X, 0)),
                    ["twin_foot"] = At(p => Is(p.Z, 0) && Is(p.X, 2 * v("far"))),
                    ["twin_top"] = At(p => Is(p.Z, v("h") + v("nh")) && Is(p.X, 2 * v("far"))),
                    ["slant"] = At(p => p.X > 0 && Is(p.X, (v("w") / 2) + ((v("tw") - v("w")) / 2 * p.Z / v("h")))),
                    ["twin_slant"] = At(p =>
                        p.X < 2 * v("far") && Is((2 * v("far")) - p.X, (v("w") / 2) + ((v("tw") - v("w")) / 2 * p.Z / v("h")))
                    ),
                }
        ),

        // Two blocks made one, a bore and a slot through both, in an order that changes.
        ["ell"] = new(
            [
                ("a", 40, 70, "mm"),
                ("b", 10, 16, "mm"),
                ("c", 30, 50, "mm"),
                ("t", 10, 18, "mm"),
                ("bore", 3, 6, "mm"),
                ("bx", 18, 26, "mm"),
                ("sx", 6, 12, "mm"),
            ],
            () =>
                [
                    .. Drawn("s", World.Xy, Box("a", "b", "a / 2", "b / 2")),
                    new AddStep(new ExtrudeStep("long", 0, "", "s") { Length = "t" }),
                    .. Drawn("us", World.Xy, Box("b", "c", "b / 2", "c / 2")),
                    new AddStep(new ExtrudeStep("up", 0, "", "us") { Length = "t", Operation = FormOperation.Body }),
                    new AddStep(new CombineStep("one", 0, "", "long", ["up"]) { Operation = FormOperation.Join }),
                    .. Drawn("bs", World.Xz, Round("o", "bore", "bx")),
                    .. Drawn("gs", World.Xz, Box("2 mm", "4 mm", "a - sx / 2", "t - 2 mm")),
                    new AddStep(new ExtrudeStep("bored", 0, "", "bs") { Extent = ExtrudeExtent.ThroughAll, Operation = FormOperation.Cut }),
                    new AddStep(new ExtrudeStep("notch", 0, "", "gs") { Extent = ExtrudeExtent.ThroughAll, Operation = FormOperation.Cut }),
                    Middle("end", "long/side/r.right"),
                    Middle("top", "up/side/r.top"),
                    Middle("inside", "up/side/r.right"),
                    Axis("bore_axis", "bored/side/o"),
                    Middle("wall", "notch/side/r.left"),
                    Middle("deep", "notch/side/r.bottom"),
                ],
            ["bored", "notch"],
            (v, _) =>
                new()
                {
                    ["end"] = At(p => Is(p.X, v("a"))),
                    ["top"] = At(p => Is(p.Y, v("c"))),
                    ["inside"] = At(p => Is(p.X, v("b")) && p.Y > v("b") - Near),
                    ["bore_axis"] = Along(Vec3.AlongY, new Vec3(v("bx"), 0, 0)),
                    ["wall"] = At(p => Is(p.X, v("a") - (v("sx") / 2) - 1)),
                    ["deep"] = At(p => Is(p.Z, v("t") - 4)),
                }
        ),

        // A pipe along a line in space, a collar about its beginning, its rim bevelled.
        ["pipe"] = new(
            [
                ("len", 60, 120, "mm"),
                ("dia", 10, 16, "mm"),
                ("bore", 3, 7, "mm"),
                ("col", 20, 30, "mm"),
                ("cl", 4, 12, "mm"),
                ("bevel", 0.5, 2, "mm"),
            ],
            () =>
                [
                    new AddStep(new PointStep("p", 0, "", [new DatumCondition("coordinates", []) { Values = ["0 mm", "0 mm", "0 mm"] }])),
                    new AddStep(new PointStep("q", 0, "", [new DatumCondition("coordinates", []) { Values = ["len", "0 mm", "0 mm"] }])),
                    new AddStep(new CurveStep("rod", 0, "", CurveShape.Line, ["p", "q"])),
                    new AddStep(
                        new SweepStep("pipe", 0, "", ["rod"])
                        {
                            Profile = SweepProfile.Round,
                            Diameter = "dia",
                            Bore = "bore",
                        }
                    ),
                    .. Drawn("cs", World.Yz, Round("c", "col")),
                    new AddStep(new ExtrudeStep("collar", 0, "", "cs") { Length = "cl" }),
                    new AddStep(new ChamferStep("edge", 0, "", ["collar/end^collar/side/c"]) { Size = "bevel" }),
                    Middle("far", "pipe/end"),
                    Axis("outside", "pipe/side/rim"),
                    Axis("inside", "pipe/side/bore"),
                    Axis("collar_axis", "collar/side/c"),
                    Axis("edge_axis", "edge/bevel/(collar/end~collar/side/c)"),
                ],
            ["edge", "collar"],
            (v, _) =>
                new()
                {
                    ["far"] = At(p => Is(p.X, v("len"))),
                    ["outside"] = Along(Vec3.AlongX, Vec3.Zero),
                    ["inside"] = Along(Vec3.AlongX, Vec3.Zero),
                    ["collar_axis"] = Along(Vec3.AlongX, Vec3.Zero),
                    ["edge_axis"] = Along(Vec3.AlongX, Vec3.Zero),
                }
        ),

        // A block in two bodies, one of them rounded.
        ["halves"] = new(
            [("w", 60, 100, "mm"), ("d", 30, 50, "mm"), ("h", 12, 24, "mm"), ("px", -15, 15, "mm"), ("soft", 1, 4, "mm")],
            () =>
                [
                    .. Drawn("s", World.Xy, Centred("w", "d")),
                    new AddStep(new ExtrudeStep("block", 0, "", "s") { Length = "h" }),
                    new AddStep(new PlaneStep("saw", 0, "", [new DatumCondition("offset", [World.Yz]) { Values = ["px"] }])),
                    new AddStep(new SplitStep("cut", 0, "", "saw")),
                    new AddStep(new FilletStep("soft_e", 0, "", ["cut/of/block/end^cut/of/block/side/r.right"]) { Radius = "soft" }),
                    Middle("left", "block/side/r.left"),
                    Middle("right", "cut/of/block/side/r.right"),
                    Middle("low_cut", "cut/cut"),
                    Middle("high_cut", "cut/cut/2"),
                    Middle("low_top", "block/end"),
                    Middle("high_top", "cut/of/block/end"),
                    Axis("soft_axis", "soft_e/round/(cut/of/block/end~cut/of/block/side/r.right)"),
                ],
            ["soft_e"],
            (v, _) =>
                new()
                {
                    ["left"] = At(p => Is(p.X, -v("w") / 2)),
                    ["right"] = At(p => Is(p.X, v("w") / 2)),
                    ["low_cut"] = At(p => Is(p.X, v("px"))),
                    ["high_cut"] = At(p => Is(p.X, v("px"))),
                    ["low_top"] = At(p => Is(p.Z, v("h")) && p.X < v("px")),
                    ["high_top"] = At(p => Is(p.Z, v("h")) && p.X > v("px")),
                    ["soft_axis"] = Along(Vec3.AlongY, new Vec3((v("w") / 2) - v("soft"), 0, v("h") - v("soft"))),
                }
        ),

        // A piece of a turned ring, its outer edge bevelled, a bore across it.
        ["wedge"] = new(
            [("ri", 20, 30, "mm"), ("wide", 12, 22, "mm"), ("ha", 10, 18, "mm"), ("ang", 50, 170, "deg"), ("bevel", 0.5, 2, "mm")],
            () =>
                [
                    .. Drawn("s", World.Xz, Box("wide", "ha", "ri + wide / 2", "ha / 2")),
                    new AddStep(new RevolveStep("ring", 0, "", "s", "world/z") { Extent = RevolveExtent.Angle, Angle = "ang" }),
                    new AddStep(new ChamferStep("rim", 0, "", ["ring/side/r.right^ring/side/r.top"]) { Size = "bevel" }),
                    Middle("begin", "ring/start"),
                    Middle("close", "ring/end"),
                    Middle("under", "ring/side/r.bottom"),
                    Middle("over", "ring/side/r.top"),
                    Axis("outside", "ring/side/r.right"),
                    Axis("inside", "ring/side/r.left"),
                    Axis("cone", "rim/bevel/(ring/side/r.right~ring/side/r.top)"),
                ],
            ["rim"],
            (v, _) =>
                new()
                {
                    ["begin"] = At(p => Is(p.Y, 0) && p.X > 0),
                    ["close"] = At(p => Is(Math.Abs(Math.Atan2(p.Y, p.X)), v("ang") * Math.PI / 180)),
                    ["under"] = At(p => Is(p.Z, 0)),
                    ["over"] = At(p => Is(p.Z, v("ha"))),
                    ["outside"] = Along(Vec3.AlongZ, Vec3.Zero),
                    ["inside"] = Along(Vec3.AlongZ, Vec3.Zero),
                    ["cone"] = Along(Vec3.AlongZ, Vec3.Zero),
                }
        ),

        // Pockets in a row of which one is left out, their mirror image, a lid of its own.
        ["pockets"] = new(
            [
                ("w", 140, 180, "mm"),
                ("d", 40, 70, "mm"),
                ("h", 12, 20, "mm"),
                ("pw", 6, 9, "mm"),
                ("deep", 2, 6, "mm"),
                ("px", 12, 16, "mm"),
                ("first", 12, 20, "mm"),
                ("n", 2, 4, ""),
                ("lid", 3, 8, "mm"),
            ],
            () =>
                [
                    .. Drawn("s", World.Xy, Centred("w", "d")),
                    new AddStep(new ExtrudeStep("block", 0, "", "s") { Length = "h" }),
                    .. Drawn("ks", World.Xy, Box("pw", "10 mm", "first", "4 mm")),
                    new AddStep(new ExtrudeStep("pocket", 0, "", "ks") { Length = "deep", Operation = FormOperation.Cut }),
                    new AddStep(
                        new PatternStep("row", 0, "", ["pocket"])
                        {
                            Along = "world/x",
                            Count = "n",
                            Spacing = "px",
                            Left = ["2"],
                        }
                    ),
                    new AddStep(new MirrorStep("twin", 0, "", ["pocket"], World.Yz)),
                    new AddStep(new PlaneStep("above", 0, "", [new DatumCondition("offset", [World.Xy]) { Values = ["h"] }])),
                    .. Drawn("ls", "above", Centred("w", "d")),
                    new AddStep(new ExtrudeStep("lid", 0, "", "ls") { Length = "lid", Operation = FormOperation.Body }),
                    Middle("floor", "pocket/end"),
                    Middle("wall", "pocket/side/r.right"),
                    Middle("third", "row/3/pocket/end"),
                    Middle("image", "twin/2/pocket/end"),
                    Middle("image_wall", "twin/2/pocket/side/r.right"),
                    Middle("lid_top", "lid/end"),
                    Middle("lid_under", "lid/start"),
                    Middle("top", "block/end"),
                ],
            ["row", "twin", "lid"],
            (v, _) =>
                new()
                {
                    ["floor"] = At(p => Is(p.Z, v("deep")) && Is(p.X, v("first"))),
                    ["wall"] = At(p => Is(p.X, v("first") + (v("pw") / 2))),
                    ["third"] = At(p => Is(p.Z, v("deep")) && Is(p.X, v("first") + (2 * v("px")))),
                    ["image"] = At(p => Is(p.Z, v("deep")) && Is(p.X, -v("first"))),
                    ["image_wall"] = At(p => Is(p.X, -v("first") - (v("pw") / 2))),
                    ["lid_top"] = At(p => Is(p.Z, v("h") + v("lid"))),
                    ["lid_under"] = At(p => Is(p.Z, v("h"))),
                    ["top"] = At(p => Is(p.Z, v("h"))),
                }
        ),
    };

    public static TheoryData<string> Names => [.. All.Keys];

    private static Vec3 Turned(double r, double angle) => new(r * Math.Cos(angle), r * Math.Sin(angle), 0);

    [Theory]
    [MemberData(nameof(Names))]
    public void No_reference_jumps_or_means_less_in_silence(string name)
    {
        var rig = All[name];
        var random = new Random(71);
        PartCommand[] Set(Dictionary<string, double> v) =>
            [.. rig.Sizes.Select(s => new SetParameter(s.Name, FormattableString.Invariant($"{v[s.Name]} {s.Unit}").Trim()))];
        Dictionary<string, double> Sizes() =>
            rig.Sizes.ToDictionary(
                s => s.Name,
                s =>
                    s.Unit.Length == 0
                        ? random.Next((int)s.Low, (int)s.High + 1)
                        : Math.Round(s.Low + (random.NextDouble() * (s.High - s.Low)), 2)
            );
        var part = Parts.Of([.. Set(Sizes()), .. rig.Steps()]);
        var (held, lost, why) = (new Dictionary<string, int>(StringComparer.Ordinal), 0, new List<string>());
        for (var round = 0; round < Changes; round++)
        {
            var sizes = Sizes();
            var off = round > 0 && random.NextDouble() < 0.3 ? rig.Off[random.Next(rig.Off.Length)] : null;
            var changed = Set(sizes).Aggregate(part, (p, c) => c.Apply(p).Value);
            changed = off is null ? changed : new SuppressStep(off, true).Apply(changed).Value;

            // Steps that do not need each other change places.
            if (
                random.Next(3) == 0
                && changed.Steps[random.Next(changed.Steps.Length)] is var moved
                && new MoveStep(moved.Id, changed.Steps[random.Next(changed.Steps.Length)].Id).Apply(changed) is { Done: true } other
                && moved is SketchStep or PlaneStep or ExtrudeStep { Operation: FormOperation.Cut }
            )
            {
                changed = other.Value;
            }

            var result = Tried(changed);
            var witnesses = rig.Where(n => sizes[n], off);
            foreach (var (id, holds) in witnesses)
            {
                var step = result.Step(id)!;
                if (step.State == StepState.Built)
                {
                    var frame = step.Frame!.Value;
                    holds(frame.Origin, frame.X)
                        .ShouldBeTrue($"{name}, change {round}, without {off}: {id} is at {frame} with {string.Join(", ", sizes)}");
                    held[id] = held.GetValueOrDefault(id) + 1;
                }
                else
                {
                    step.Message.Length.ShouldBeGreaterThan(10, $"{id} fails in silence");
                    lost++;
                    why.Add($"{round} without {off}: {id}: {step.Message}");
                }
            }
        }

        held.Keys.Order().ShouldBe(rig.Where(_ => 3, null).Keys.Order(), string.Join("\n", why.Take(12)));
        held.Values.Min().ShouldBeGreaterThan(Changes / 3, string.Join(", ", held) + "\n" + string.Join("\n", why.Take(12)));
        lost.ShouldBeLessThan(held.Count * Changes / 3, string.Join("\n", why.Take(12)));
    }
}
