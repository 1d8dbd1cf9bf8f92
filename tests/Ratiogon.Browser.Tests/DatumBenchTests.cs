using Ratiogon.Core.Forms;
using System.Globalization;
using System.Text.Json;
using OpenQA.Selenium;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Sketching;
using Ratiogon.Core.Sketching.Editing;

namespace Ratiogon.Browser.Tests;

/// <summary>The Datum bench driven on a block with a boss, in the order of what it must cover. The block reaches from the
/// origin to (40, 30, 20); the boss stands on it about (20, 15) with a radius of 6 up to 35; a curve in space and two points
/// stand beside it.</summary>
public class DatumBenchTests(ServerFixture fixture) : BrowserTest(fixture, fresh: false)
{
    private static readonly (double, double, double) Top = (34, 24, 20), Front = (10, 0, 8), Right = (40, 20, 6), Boss = (23.2, 9.9, 27), BossTop = (17, 13, 35);
    private static readonly (double, double, double) TopFrontEdge = (8, 0, 20), TopRightEdge = (40, 9, 20), Rim = (20, 9, 35), Corner = (40, 0, 20), FarCorner = (0, 0, 20), BackCorner = (40, 30, 20);
    private static readonly (double, double, double) P = (60, 0, 0), Q = (60, 30, 30), Curve = (60, 15, 15);

    private string? part;

    private static string Json(PartCommand command) => JsonSerializer.Serialize(command, PartJson.Compact);

    private static AddStep Point(string id, double x, double y, double z) =>
        new(new PointStep(id, 0, id, [new DatumCondition("coordinates", []) { Values = [$"{x} mm", $"{y} mm", $"{z} mm"] }]));

    private static SketchEdit Rectangle() => ShapeCatalog.RectangleByCentre("box", new Vec2(20, 15), new Vec2(40, 30));

    private static SketchEdit Circle() => new() { Add = [new PointEntity("c", new Vec2(20, 15)), new CircleEntity("round", "c", 6)] };

    /// <summary>Opens a fresh part with the scene.</summary>
    private void Open()
    {
        PartCommand scene = new Several(
        [
            new AddStep(new SketchStep("base", 0, "Base", World.Xy, Sketch.Empty)), new EditSketch("base", Rectangle()), new AddStep(new ExtrudeStep("block", 0, "Block", "base") { Length = "20 mm" }),
            new AddStep(new SketchStep("foot", 0, "Foot", "block/end", Sketch.Empty)), new EditSketch("foot", Circle()), new AddStep(new ExtrudeStep("boss", 0, "Boss", "foot") { Length = "15 mm" }),
            Point("p", 60, 0, 0), Point("q", 60, 30, 30), new AddStep(new CurveStep("rod", 0, "Rod", CurveShape.Line, ["p", "q"])),
        ], "scene");
        part = OpenNew("Scene", Json(scene));
        B.Press("[data-view=fit]");
        Thread.Sleep(900);
    }

    private void Begin(string tool)
    {
        B.PressBench("Datum");
        B.Press($"[data-tool={tool}]");
        B.Find("[data-testid=datum-panel]");
        Thread.Sleep(150);
    }

    private void Pick(params (double X, double Y, double Z)[] places)
    {
        foreach (var (x, y, z) in places)
        {
            var before = Conditions();
            B.ClickPlace(x, y, z);
            B.Until(() => Conditions() != before, $"the pick at ({x}, {y}, {z}) to be taken");
        }
    }

    private string Conditions() => string.Join('|', B.Driver.FindElements(By.CssSelector("[data-testid=datum-panel] [data-pick]")).Select(e => e.GetAttribute("data-pick")));

    /// <summary>Chooses how a condition stands to its pick, by words.</summary>
    private void Relate(int condition, string words)
    {
        B.Until(() =>
        {
            var select = B.Find($"[data-relation='{condition}']");
            if (select.FindElements(By.TagName("option")).FirstOrDefault(o => o.Text.Trim() == words) is not { } option)
            {
                return false;
            }

            option.Click();
            return true;
        }, $"'{words}'");
        Thread.Sleep(250);
    }

    /// <summary>Chooses another reading of the same picks, by some of its words.</summary>
    private void Read(string words)
    {
        B.Until(() =>
        {
            // It may be the one that is offered first.
            if (B.Driver.FindElements(By.CssSelector("[data-testid=datum-panel] [data-relation] option:first-child")).Any(e => e.Text.Contains(words, StringComparison.Ordinal)))
            {
                return true;
            }

            B.Driver.FindElements(By.CssSelector("[data-reading]")).First(e => e.Text.Contains(words, StringComparison.Ordinal)).Click();
            return true;
        }, $"a reading '{words}'; there are: {string.Join(" | ", B.Driver.FindElements(By.CssSelector("[data-reading]")).Select(e => e.Text))}");
        Thread.Sleep(250);
    }

    private void Value(string field, string text)
    {
        B.Fill($"footer [data-field='{field}']", text + Keys.Tab);
        Thread.Sleep(250);
    }

    private void Solution(int n)
    {
        B.Until(() =>
        {
            B.Driver.FindElements(By.CssSelector("[data-solution]"))[n].Click();
            return true;
        }, $"solution {n}");
        Thread.Sleep(200);
    }

    /// <summary>Accepts, answers where the new datum lies, and takes it back so that it is not in the way of the next.</summary>
    private Frame Accept(bool keep = false)
    {
        var rows = Rows();
        B.Until(() => B.Find("[data-testid=datum-accept]").Enabled, $"it to be determined; {B.Text("[data-testid=datum-panel]")}");
        B.Press("[data-testid=datum-accept]");
        B.Until(() => Rows() > rows, "the new step");
        var made = Last();
        if (!keep)
        {
            B.Press("[data-testid=undo]");
            B.Until(() => Rows() == rows, "the datum to be taken back");
            B.Settled();
        }

        return made;
    }

    private int Rows() => B.Driver.FindElements(By.CssSelector("tr[data-step]")).Count;

    private Frame Last() => FrameOf(B.Driver.FindElements(By.CssSelector("tr[data-step]"))[^1].GetAttribute("data-step")!);

    private Frame FrameOf(string step)
    {
        B.Settled();
        var n = B.Until(() => B.Find($"tr[data-step='{step}']").GetAttribute("data-frame") is { Length: > 0 } text ? text : null, $"{step} to be built")!
            .Split(' ').Select(v => double.Parse(v, CultureInfo.InvariantCulture)).ToArray();
        return new Frame(new Vec3(n[0], n[1], n[2]), new Vec3(n[3], n[4], n[5]), new Vec3(n[6], n[7], n[8]));
    }

    private static void OnPlane(Frame plane, params Vec3[] places)
    {
        foreach (var p in places)
        {
            Plane3.Of(plane).Side(p).ShouldBe(0, 1e-6);
        }
    }

    private static void Along(Vec3 a, Vec3 b) => Math.Abs(a.Unit.Dot(b.Unit)).ShouldBe(1, 1e-9);

    private static Vec3 V(double x, double y, double z) => new(x, y, z);

    private void NoErrors() => B.ConsoleErrors().Where(e => !e.Contains("422", StringComparison.Ordinal)).ShouldBeEmpty();

    [Fact]
    public void Planes_from_whatever_determines_them()
    {
        Open();

        // Parallel at a distance, with a formula; parallel through a point; three points.
        Begin("plane");
        Pick(Top);
        B.Until(() => B.Prompt.Contains("Enter accepts", StringComparison.Ordinal), "a plane at a distance");
        Value("distance", "2 * 4 mm");
        Accept().Origin.Z.ShouldBe(28, 1e-9);
        Begin("plane");
        Pick(Front, Q);
        var through = Accept();
        Along(through.Z, Vec3.AlongY);
        OnPlane(through, V(0, 30, 0));
        Begin("plane");
        Pick(Corner, FarCorner, Q);
        OnPlane(Accept(), V(40, 0, 20), V(0, 0, 20), V(60, 30, 30));

        // Through a line at an angle to a plane; through two lines.
        Begin("plane");
        Pick(TopFrontEdge, Top);
        Read("at an angle to");
        Value("angle", "30");
        var leaning = Accept();
        OnPlane(leaning, V(0, 0, 20), V(40, 0, 20));
        Math.Abs(leaning.Z.Z).ShouldBe(Math.Cos(Math.PI / 6), 1e-9);
        Begin("plane");
        Pick(TopFrontEdge, TopRightEdge);
        Along(Accept().Z, Vec3.AlongZ);

        // Midway between parallel faces and both bisectors of others.
        Begin("plane");
        Pick(Top, BossTop);
        OnPlane(Accept(), V(0, 0, 27.5));
        Begin("plane");
        Pick(Top, Right);
        Read("midway between");
        B.Until(() => B.Text("[data-testid=datum-state]") == "2 solutions", "both bisectors");
        Solution(1);
        var bisector = Accept();
        OnPlane(bisector, V(40, 0, 20), V(40, 30, 20));
        Math.Abs(bisector.Z.X).ShouldBe(Math.Sqrt(0.5), 1e-9);
        NoErrors();
    }

    [Fact]
    public void Planes_that_touch_curved_faces_and_stand_on_curves()
    {
        Open();

        // Tangent to a cylinder: at an angle to a face, through a point, square to a face.
        Begin("plane");
        Pick(Boss, Right);
        Read("at an angle to");
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-solution]")).Count == 4, "four solutions");
        var first = B.Find("[data-solution][aria-pressed=true]").GetAttribute("data-solution");
        B.Type("n");
        B.Until(() => B.Find("[data-solution][aria-pressed=true]").GetAttribute("data-solution") != first, "the next solution");
        B.Type("3", "0", Keys.Enter);
        B.Until(() => !B.Has("[data-testid=datum-panel]"), "Enter to accept");
        var tangent = Last();
        Math.Abs(Plane3.Of(tangent).Side(V(20, 15, 30))).ShouldBe(6, 1e-6);
        Math.Abs(tangent.Z.X).ShouldBe(Math.Cos(Math.PI / 6), 1e-9);
        Begin("plane");
        Pick(Boss, Corner);
        var through = Accept();
        OnPlane(through, V(40, 0, 20));
        Math.Abs(Plane3.Of(through).Side(V(20, 15, 0))).ShouldBe(6, 1e-6);

        // Normal to a curve at a fraction, at a length and at a point of it; in the plane of a circle; flipped.
        Begin("plane");
        Pick(Curve);
        Relate(0, "normal at a fraction of");
        Value("fraction", "1");
        OnPlane(Accept(), V(60, 30, 30));
        Begin("plane");
        Pick(Rim);
        Relate(0, "in the plane of");
        B.Press("[data-testid=datum-flip]");
        Thread.Sleep(200);
        var level = Accept(keep: true);
        OnPlane(level, V(0, 0, 35));

        // Edited in place: turned back, and its pick replaced by another.
        var id = B.Driver.FindElements(By.CssSelector("tr[data-step]"))[^1].GetAttribute("data-step")!;
        B.Press($"[data-edit='{id}']");
        B.Press("[data-testid=datum-flip]");
        Thread.Sleep(200);
        B.Press("[data-testid=datum-accept]");
        B.Until(() => FrameOf(id).Z.Z * level.Z.Z < 0, "the normal to turn round");

        // Halfway between two points, refused where it must be, with what is free said on the way.
        Begin("plane");
        Pick(P);
        B.Until(() => B.Text("[data-testid=datum-state]") == "2 freedoms left", "the freedoms");
        B.Text("[data-testid=datum-left]").ShouldContain("turn every way");
        Pick(Q);
        OnPlane(Accept(), V(60, 15, 15));
        NoErrors();
    }

    [Fact]
    public void Axes_from_whatever_determines_them()
    {
        Open();
        Begin("axis");
        Pick(Boss);
        var boss = Accept();
        Along(boss.X, Vec3.AlongZ);
        new Line3(boss.Origin, boss.X).DistanceTo(V(20, 15, 0)).ShouldBe(0, 1e-9);

        // Two points; along an edge; where two planes meet though the faces do not.
        Begin("axis");
        Pick(P, Corner);
        Along(Accept().X, V(-20, 0, 20));
        Begin("axis");
        Pick(TopFrontEdge);
        Along(Accept().X, Vec3.AlongX);
        Begin("axis");
        Pick(BossTop, Right);
        var meeting = Accept();
        new Line3(meeting.Origin, meeting.X).DistanceTo(V(40, 3, 35)).ShouldBe(0, 1e-9);

        // Square to a face at a point; parallel to a line through a point.
        Begin("axis");
        Pick(Q, Right);
        Along(Accept().X, Vec3.AlongX);
        Begin("axis");
        Pick(Corner, Curve);
        Read("parallel to");
        Along(Accept().X, V(0, 30, 30));

        // Parallel planes are refused with their distance, and the plane midway is offered instead.
        Begin("axis");
        Pick(Top, BossTop);
        Relate(0, "in the plane of");
        Relate(1, "in the plane of");
        B.Until(() => B.Text("[data-testid=datum-panel]").Contains("parallel to within 0 deg, 15 mm apart", StringComparison.Ordinal), "why two parallel planes do not meet");
        B.Press("[data-testid=datum-instead]");
        OnPlane(Accept(), V(0, 0, 27.5));
        NoErrors();
    }

    [Fact]
    public void Points_from_whatever_determines_them()
    {
        Open();

        // By typed coordinates; at a vertex; at a centre; at a fraction along an edge, dragged into a detent.
        Begin("point");
        Value("x", "5");
        Value("y", "6 mm");
        Value("z", "50");
        Accept().Origin.DistanceTo(V(5, 6, 50)).ShouldBe(0, 1e-9);
        Begin("point");
        Pick(BackCorner);
        Accept().Origin.DistanceTo(V(40, 30, 20)).ShouldBe(0, 1e-9);
        Begin("point");
        Pick(Rim);
        Relate(0, "at the centre of");
        Accept().Origin.DistanceTo(V(20, 15, 35)).ShouldBe(0, 1e-9);
        Begin("point");
        Pick(TopFrontEdge);
        Relate(0, "at a fraction of");
        B.Until(() => B.Has("[data-grip=fraction]"), "the handle");
        B.DragPlace((20, 0, 20), (30.2, 0, 20));
        B.Until(() => B.Find("footer [data-field=fraction]").GetAttribute("value") is "0.75" or "0.25", "the detent at a quarter");
        var quarter = Accept().Origin;
        quarter.DistanceTo(V(30, 0, 20)).ShouldBe(0, 1e-9);

        // Where lines, planes, curves and faces meet; nearest of two skew lines.
        Begin("point");
        Pick(TopFrontEdge, Right);
        Accept().Origin.DistanceTo(V(40, 0, 20)).ShouldBe(0, 1e-9);
        Begin("point");
        Pick(Rim, Right);
        B.Until(() => B.Has("[data-testid=datum-refusal]"), "a circle that misses the face to be refused");
        B.Text("[data-testid=datum-refusal]").ShouldContain("20 mm");
        B.Press("[data-testid=datum-cancel]");
        Begin("point");
        Pick(TopFrontEdge, Curve);
        Accept().Origin.DistanceTo(V(60, 5, 15)).ShouldBeLessThan(12);
        Begin("point");
        Pick(Top, Right, Front);
        Accept().Origin.DistanceTo(V(40, 0, 20)).ShouldBe(0, 1e-9);

        // Halfway between two points; on a face by its own coordinates.
        Begin("point");
        Pick(P, Q);
        Accept().Origin.DistanceTo(V(60, 15, 15)).ShouldBe(0, 1e-9);
        Begin("point");
        Pick(Boss);
        Relate(0, "on, by angle and height,");
        Value("height", "3");
        var on = Accept().Origin;
        Math.Sqrt(((on.X - 20) * (on.X - 20)) + ((on.Y - 15) * (on.Y - 15))).ShouldBe(6, 1e-9);
        NoErrors();
    }

    [Fact]
    public void Frames_and_places_to_work()
    {
        Open();

        // By an origin and two directions; by three points; on a face; turned about its own axes.
        Begin("frame");
        Pick(Corner, TopFrontEdge, Top);
        B.Until(() => B.Text("[data-testid=datum-state]") == "set", "the frame to be set");
        var frame = Accept();
        frame.Origin.DistanceTo(V(40, 0, 20)).ShouldBe(0, 1e-9);
        Along(frame.X, Vec3.AlongX);
        Begin("frame");
        Pick(Right);

        // The free frame was aimed at the face; on it, it lies in its middle.
        Relate(1, "on");
        Accept().Z.DistanceTo(Vec3.AlongX).ShouldBe(0, 1e-9);
        Begin("frame");
        Value("x", "50");
        Value("about z", "90");
        var turned = Accept(keep: true);
        turned.X.DistanceTo(Vec3.AlongY).ShouldBe(0, 1e-9);
        turned.Origin.X.ShouldBe(50, 1e-9);

        // As the view looks.
        B.Press("[data-view=front]");
        Thread.Sleep(900);
        B.Press("[data-tool=view-frame]");
        B.Find("[data-testid=datum-panel]");
        Accept().Z.DistanceTo(-Vec3.AlongY).ShouldBeLessThan(1e-3);
        B.Press("[data-view=corner]");
        Thread.Sleep(900);

        // Worked in: typed coordinates are read in it, and the one before is returned to.
        B.Press("[data-more=frame1]");
        B.PressText("Work in this frame");
        B.Until(() => B.Text("[data-testid=active-frame]").Contains("frame1", StringComparison.Ordinal), "the active frame");
        Begin("point");
        Value("x", "10");
        Accept().Origin.DistanceTo(V(50, 10, 0)).ShouldBe(0, 1e-9);
        B.Press("[data-testid=active-frame]");
        B.Until(() => !B.Has("[data-testid=active-frame]"), "the world again");

        // A sketch on a frame lies where the frame does.
        B.PressBench("Draw");
        B.Press("[data-tool=new-sketch]");
        B.ClickPlace(50, 0, 0);
        B.Until(() => B.Has("[data-testid=leave-sketch]"), "the sketch");
        B.Settled();
        Last().X.DistanceTo(Vec3.AlongY).ShouldBe(0, 1e-9);
        B.Press("[data-testid=leave-sketch]");
        NoErrors();
    }

    [Fact]
    public void Offers_come_before_any_tool_and_few_moves_make_a_datum()
    {
        Open();

        // An axis where two faces would meet: two picks, one press.
        B.ClickPlace(BossTop.Item1, BossTop.Item2, BossTop.Item3);
        B.ClickPlace(Right.Item1, Right.Item2, Right.Item3, extend: true);
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-offer^=axis]")).Any(e => e.Text.Contains("two planes meet", StringComparison.Ordinal)), "the axis among the offers");
        var rows = Rows();
        B.Driver.FindElements(By.CssSelector("[data-offer^=axis]")).First(e => e.Text.Contains("two planes meet", StringComparison.Ordinal)).Click();
        B.Until(() => Rows() == rows + 1, "the axis");

        // A plane tangent to a cylinder at 45 degrees to a plane: two picks, one press, one value.
        B.ClickPlace(Boss.Item1, Boss.Item2, Boss.Item3);
        B.ClickPlace(Right.Item1, Right.Item2, Right.Item3, extend: true);
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-offer^=plane]")).Any(e => e.Text.Contains("4 solutions", StringComparison.Ordinal)), "the tangent plane among the offers");
        B.Driver.FindElements(By.CssSelector("[data-offer^=plane]")).First(e => e.Text.Contains("4 solutions", StringComparison.Ordinal)).Click();
        B.Find("[data-testid=datum-panel]");
        Thread.Sleep(200);
        B.Type("4", "5", Keys.Enter);
        B.Until(() => Rows() == rows + 2, "the plane");
        Math.Abs(Last().Z.X).ShouldBe(Math.Sqrt(0.5), 1e-9);
        NoErrors();
    }

    [Fact]
    public void Curves_in_space_on_points_that_are_there_or_made_on_the_way()
    {
        Open();
        B.PressBench("Datum");
        B.Press("[data-tool=space-line]");
        B.Find("[data-testid=datum-panel]");
        B.ClickPlace(P.Item1, P.Item2, P.Item3);
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-testid=datum-panel] [data-pick]")).Count == 1, "the first point");
        B.Fill("footer [data-field=place]", "60, 0, 40" + Keys.Enter);
        B.Until(() => B.Text("[data-testid=datum-panel]").Contains("length 40 mm", StringComparison.Ordinal), "the line's length");
        Value("after", "5");
        B.Until(() => B.Text("[data-testid=datum-panel]").Contains("length 45 mm", StringComparison.Ordinal), "the line lengthened");
        var rows = Rows();
        B.Press("[data-testid=datum-accept]");
        B.Until(() => Rows() == rows + 2, "the point and the line");

        B.Press("[data-tool=space-spline]");
        foreach (var at in new[] { P, Corner, TopFrontEdge })
        {
            var n = B.Driver.FindElements(By.CssSelector("[data-testid=datum-panel] [data-pick]")).Count;
            B.ClickPlace(at.Item1, at.Item2, at.Item3);
            B.Until(() => B.Driver.FindElements(By.CssSelector("[data-testid=datum-panel] [data-pick]")).Count == n + 1, "a point of the spline");
        }

        B.Type(Keys.Enter);
        B.Until(() => !B.Has("[data-testid=datum-panel]"), "the spline to be accepted");
        B.Settled();
        B.Find("tr[data-state=built][data-step^=curve]");

        B.Press("[data-tool=space-circle]");
        B.ClickPlace(Q.Item1, Q.Item2, Q.Item3);
        B.Until(() => B.Has("footer [data-field=diameter]"), "the circle's sizes");
        B.ClickPlace(Right.Item1, Right.Item2, Right.Item3);
        B.Until(() => B.Text("[data-testid=datum-panel]").Contains("block/side", StringComparison.Ordinal), "the support");
        Value("diameter", "12");
        B.Until(() => B.Text("[data-testid=datum-panel]").Contains("length 37.699 mm", StringComparison.Ordinal), "its length");
        B.Press("[data-testid=datum-accept]");
        B.Until(() => !B.Has("[data-testid=datum-panel]"), "the circle");
        NoErrors();
    }

    [Fact]
    public void Quick_planes_follow_the_view_and_are_fixed_by_drawing()
    {
        Open();
        B.ClickPlace(Corner.Item1, Corner.Item2, Corner.Item3);
        B.Press("[data-offer=quick]");
        B.Until(() => B.Prompt.StartsWith("Quick plane", StringComparison.Ordinal), "the quick plane");
        B.Press("[data-view=top]");
        Thread.Sleep(1200);
        B.Press("[data-testid=quick-draw]");
        B.Until(() => B.Has("[data-testid=leave-sketch]"), "the sketch");
        B.Settled();
        var sketch = Last();
        sketch.Z.Z.ShouldBe(1, 1e-9, "it faced the view from the top");
        OnPlane(sketch, V(40, 0, 20));
        B.Until(() => B.Prompt.Contains("line", StringComparison.Ordinal), "the line tool");
        B.ClickSketch(0, 0);
        B.ClickSketch(10, 5);
        B.Press("[data-testid=leave-sketch]");

        // Two points: turned about their line; kept as a datum.
        B.Press("[data-view=corner]");
        Thread.Sleep(900);
        B.ClickPlace(P.Item1, P.Item2, P.Item3);
        B.ClickPlace(Q.Item1, Q.Item2, Q.Item3, extend: true);
        B.Press("[data-offer=quick]");
        B.Until(() => B.Prompt.StartsWith("Quick plane", StringComparison.Ordinal), "the quick plane");
        Thread.Sleep(300);
        var rows = Rows();
        B.Press("[data-testid=quick-keep]");
        B.Until(() => Rows() == rows + 1, "the datum");
        OnPlane(Last(), V(60, 0, 0), V(60, 30, 30));

        // A plane seen edge-on is not drawn on, and the prompt says which way to turn.
        B.PressBench("Draw");
        B.Press("[data-edit=base]");
        B.Until(() => B.Has("[data-testid=leave-sketch]"), "the sketch on XY");
        B.Press("[data-view=front]");
        Thread.Sleep(1000);
        B.ClickView(40, 40);
        B.Until(() => B.Driver.PageSource.Contains("turn the view", StringComparison.Ordinal), "which way to turn");
        NoErrors();
    }

    [Fact]
    public void Sketches_take_copies_sections_and_crossings_that_follow()
    {
        Open();
        B.ClickPlace(Front.Item1, Front.Item2, Front.Item3);
        B.Press("[data-offer=sketch-here]");
        B.Until(() => B.Has("[data-testid=leave-sketch]"), "the sketch");
        B.Settled();
        Thread.Sleep(400);

        // Seen square on, x runs along the block and y up.
        B.Press("[data-tool=take-copy]");
        B.Until(() => B.Prompt.Contains("live copy", StringComparison.Ordinal), "what to pick");
        B.ClickSketch(40, 10);
        B.Until(() => B.Freedoms == 0, "a copied edge, set");
        B.Press("[data-tool=take-crossing]");
        B.ClickSketch(60, 15);
        B.Until(() => B.Text("footer").Length > 0 && B.Driver.FindElements(By.CssSelector("[data-constraint], [data-testid=viewport] svg")).Count >= 0, "the crossing");
        B.Type(Keys.Escape);

        // An edge behind the plane only looks as if it were there.
        B.Press("[data-tool=select]");
        B.ClickSketch(17, 35);
        B.Until(() => B.Has("[data-testid=apart]"), "the word that it lies elsewhere");
        B.Text("[data-testid=apart]").ShouldContain("mm away");
        B.Press("[data-testid=apart-copy]");
        B.Until(() => !B.Has("[data-testid=apart]"), "the copy to be taken");
        B.Press("[data-testid=leave-sketch]");

        // On a plane through the middle the whole section comes in, and follows when the block grows.
        B.Command(Json(new AddStep(PlaneStep.Offset("mid", 0, "Mid", World.Xz, "-15 mm"))));
        B.Command(Json(new AddStep(new SketchStep("cut", 0, "Cut", "mid", Sketch.Empty))));
        B.Settled();
        B.Press("[data-edit=cut]");
        B.Until(() => B.Has("[data-testid=leave-sketch]"), "the sketch");
        B.Press("[data-tool=take-section]");
        B.Until(() => B.Prompt.Contains("section", StringComparison.Ordinal), "what to pick");
        B.Type(Keys.Enter);
        B.UntilFreedoms(0);
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-step=cut] [data-sizes-of]")).Count == 1 && !B.Driver.PageSource.Contains("misses", StringComparison.Ordinal), "the section");
        B.Press("[data-testid=leave-sketch]");
        NoErrors();
    }

    [Fact]
    public void Datums_live_in_the_build_sheet()
    {
        Open();
        B.Command(Json(new Several(
        [
            new AddStep(PlaneStep.Offset("a", 0, "Shelf", "block/end", "5 mm")), new AddStep(PlaneStep.Offset("b", 0, "Upper shelf", "a", "5 mm")), Point("lone", 9, 9, 60),
        ], "shelves")));
        B.Settled();
        FrameOf("b").Origin.Z.ShouldBe(30, 1e-9);

        // A size edited in place moves what hangs on it.
        B.Fill("[data-size='a/distance']", "8" + Keys.Enter);
        B.Until(() => Math.Abs(FrameOf("b").Origin.Z - 33) < 1e-9, "the upper shelf to follow");

        // Moved where dependencies allow; refused with what forbids it.
        B.Press("[data-more=lone]");
        B.PressText("Move up");
        B.Until(() => B.Driver.FindElements(By.CssSelector("tr[data-step]")).Select(e => e.GetAttribute("data-step")).ToList() is var ids && ids.IndexOf("lone") < ids.IndexOf("b"), "the point to move up");
        B.Press("[data-more=a]");
        B.PressText("Move down");
        B.Until(() => B.Driver.FindElements(By.CssSelector("tr[data-step]")).Select(e => e.GetAttribute("data-step")).ToList() is var ids && ids.IndexOf("lone") < ids.IndexOf("a"), "the shelf to move below the point");
        B.Press("[data-more=a]");
        B.PressText("Move down");
        B.Until(() => B.Driver.PageSource.Contains("stands on Shelf", StringComparison.Ordinal), "why not further");

        // Hidden singly and by kind.
        B.Press("[data-more=a]");
        B.PressText("Hide");
        B.Press("[data-testid=shown-kinds]");
        B.Press("[data-show-kind=plane]");
        Thread.Sleep(300);

        // Removed anyway: the child fails with what was lost, and is mended by replacing its pick.
        B.Press("[data-more=a]");
        B.PressText("Remove, 1 then wait");
        B.Until(() => B.Find("tr[data-step=b]").GetAttribute("data-state") == "failed", "the child to fail");
        B.Driver.PageSource.ShouldContain("'a' is gone");
        B.Press("[data-edit=b]");
        B.Until(() => B.Text("[data-testid=datum-panel]").Contains("(lost)", StringComparison.Ordinal), "the lost pick");
        B.Press("[data-testid=datum-panel] [data-pick=a]");
        B.Until(() => B.Prompt == "Pick what takes its place", "the prompt");
        B.ClickPlace(Top.Item1, Top.Item2, Top.Item3);
        B.Until(() => B.Find("[data-testid=datum-accept]").Enabled, "it to be whole again");
        B.Press("[data-testid=datum-accept]");
        B.Until(() => Math.Abs(FrameOf("b").Origin.Z - 25) < 1e-9, "the shelf on the top");
        NoErrors();
    }
}
