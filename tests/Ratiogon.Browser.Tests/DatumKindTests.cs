using System.Globalization;
using System.Text.Json;
using OpenQA.Selenium;
using Ratiogon.Core;
using Ratiogon.Core.Geometry;

namespace Ratiogon.Browser.Tests;

/// <summary>Every kind of datum from whatever determines it, in the order of what the bench must cover.</summary>
public class DatumKindTests(ServerFixture fixture) : DatumBench(fixture)
{
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
    public void A_curve_is_mirrored_and_goes_all_round_in_one_press()
    {
        Open();
        B.ClickPlace(60, 15, 15);
        B.Until(() => B.Picks is ["rod"], "the rod");
        B.Act().KeyDown(Keys.Shift).Click(B.Find("[data-world='world/yz']")).KeyUp(Keys.Shift).Perform();
        B.Until(() => B.Has("[data-offer=copies-mirrored]"), "the copies");
        B.Press("[data-offer=copies-mirrored]");
        B.Settled();
        B.Until(() => B.Has("tr[data-step=curve1]"), "the mirrored rod");
        B.Text("tr[data-step=curve1]").ShouldContain("Rod mirrored");
        B.Press("[data-testid=undo]");
        B.Until(() => !B.Has("tr[data-step=curve1]"), "it to be undone at once");
        B.Has("tr[data-step=point1]").ShouldBeFalse();
        B.ClickPlace(60, 15, 15);
        B.Until(() => B.Picks is ["rod"], "the rod again");
        B.Act().KeyDown(Keys.Shift).Click(B.Find("[data-world='world/z']")).KeyUp(Keys.Shift).Perform();
        // By keyboard as well: Enter on the offer.
        B.Until(() => B.Has("[data-offer=copies-round-4]"), "the copies all round");
        B.Driver.ExecuteScript("document.querySelector('[data-offer=copies-round-4]').focus()");
        B.Act().SendKeys(Keys.Enter).Perform();
        B.Until(() => B.Has("tr[data-step=curve3]"), "four rods");
        B.Settled();
        NoErrors();
    }

    [Fact]
    public void What_is_taken_stands_first_in_its_group_the_next_time()
    {
        Open();
        List<string> Planes() =>
            [.. B.Driver.FindElements(By.CssSelector("[data-offer^=plane]")).Select(o => o.GetAttribute("data-offer")!)];
        void PickFaces()
        {
            B.ClickPlace(Top.Item1, Top.Item2, Top.Item3);
            B.ClickPlace(Right.Item1, Right.Item2, Right.Item3, extend: true);
            B.Until(() => Planes().Count > 1, "several planes");
        }

        PickFaces();
        var (before, last) = (Planes(), Planes()[^1]);
        B.Press($"[data-offer='{last}']");
        B.Until(() => B.Has("[data-testid=datum-panel]") || B.Picks.Count == 0, "the offer to be taken");
        B.Type(Keys.Escape, Keys.Escape);
        B.Until(() => !B.Has("[data-testid=datum-panel]"), "the panel to be closed");
        PickFaces();
        B.Until(() => Planes() is var now && now[0] == last && now.Count == before.Count, "the one that was taken to come first");
        NoErrors();
    }

    [Fact]
    public void A_sketch_is_mirrored_in_one_press_follows_and_is_let_go()
    {
        Open();
        B.Press("[data-more=base]");
        B.PressText("Pick it, for copies in space");
        B.Until(() => B.Picks is ["base"], "the sketch to be picked");
        B.Act().KeyDown(Keys.Shift).Click(B.Find("[data-world='world/yz']")).KeyUp(Keys.Shift).Perform();
        B.Until(() => B.Has("[data-offer=copies-mirrored]"), "the copies");
        B.Press("[data-offer=copies-mirrored]");
        B.Until(() => B.Has("tr[data-step=sketch1]"), "the mirrored sketch");
        B.Text("tr[data-step=sketch1]").ShouldContain("Base mirrored");
        B.Settled();

        // Nothing is drawn in it: that is said, with the reason.
        B.Press("[data-edit=sketch1]");
        B.Until(() => B.Has("[data-testid=leave-sketch]"), "the copy to be open");
        B.Freedoms.ShouldBe(0);
        B.Text("[data-testid=copied]").ShouldContain("A live copy of Base");
        B.PressBench("Draw");
        B.Press("[data-tool=point]");
        B.Until(() => B.Refusal.Contains("live copy of", StringComparison.Ordinal), "the refusal");
        B.Type(Keys.Escape, Keys.Escape);
        B.Until(() => !B.Has("[data-testid=leave-sketch]"), "the copy to be left");

        B.Press("[data-more=sketch1]");
        B.PressText("Make it a sketch of its own");
        B.Press("[data-more=sketch1]");
        B.Until(
            () =>
                B.Driver.FindElements(By.CssSelector("[role=menuitem]")).Count > 3
                && B.Driver.FindElements(By.CssSelector("[role=menuitem]"))
                    .All(m => !m.Text.StartsWith("Make it a sketch", StringComparison.Ordinal)),
            "it to be one of its own"
        );
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
        var first = B.Attribute("[data-solution][aria-pressed=true]", "data-solution");
        B.Type("n");
        B.Until(() => B.Attribute("[data-solution][aria-pressed=true]", "data-solution") != first, "the next solution");
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
        B.Quiet();
        var level = Accept(keep: true);
        OnPlane(level, V(0, 0, 35));

        // Edited in place: turned back, and its pick replaced by another.
        var id = B.Driver.FindElements(By.CssSelector("tr[data-step]"))[^1].GetAttribute("data-step")!;
        B.Press($"[data-edit='{id}']");
        B.Press("[data-testid=datum-flip]");
        B.Quiet();
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
        B.Until(
            () => B.Text("[data-testid=datum-panel]").Contains("parallel to within 0 deg, 15 mm apart", StringComparison.Ordinal),
            "why two parallel planes do not meet"
        );
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
        B.Until(() => B.Attribute("footer [data-field=fraction]", "value") is "0.75" or "0.25", "the detent at a quarter");
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
        Relate(0, "on, by angle and height");
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
        B.Drawn();
        B.Press("[data-tool=view-frame]");
        B.Find("[data-testid=datum-panel]");
        Accept().Z.DistanceTo(-Vec3.AlongY).ShouldBeLessThan(1e-3);
        B.Press("[data-view=corner]");
        B.Drawn();

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
}
