using System.Globalization;
using System.Text.Json;
using OpenQA.Selenium;
using Ratiogon.Core;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Shapes;

namespace Ratiogon.Browser.Tests;

/// <summary>The Datum bench driven on a block with a boss. The block reaches from the origin to (40, 30, 20); the boss stands
/// on it about (20, 15) with a radius of 6 up to 35; a curve in space and two points stand beside it.</summary>
public abstract class DatumBench(ServerFixture fixture) : BrowserTest(fixture, fresh: false)
{
    protected static readonly (double, double, double) Top = (34, 24, 20),
        Front = (10, 0, 8),
        Right = (40, 20, 6),
        Boss = (23.2, 9.9, 27),
        BossTop = (17, 13, 35);
    protected static readonly (double, double, double) TopFrontEdge = (8, 0, 20),
        TopRightEdge = (40, 9, 20),
        Rim = (20, 9, 35),
        Corner = (40, 0, 20),
        FarCorner = (0, 0, 20),
        BackCorner = (40, 30, 20);
    protected static readonly (double, double, double) P = (60, 0, 0),
        Q = (60, 30, 30),
        Curve = (60, 15, 15);

    protected static string Json(PartCommand command) => JsonSerializer.Serialize(command, PartJson.Compact);

    protected static AddStep Point(string id, double x, double y, double z) =>
        new(new PointStep(id, 0, id, [new DatumCondition("coordinates", []) { Values = [$"{x} mm", $"{y} mm", $"{z} mm"] }]));

    protected static SketchEdit Rectangle() => ShapeCatalog.RectangleByCentre("box", new Vec2(20, 15), new Vec2(40, 30));

    protected static SketchEdit Circle() => new() { Add = [new PointEntity("c", new Vec2(20, 15)), new CircleEntity("round", "c", 6)] };

    /// <summary>Opens a fresh part with the scene.</summary>
    protected void Open()
    {
        PartCommand scene = new Several(
            [
                new AddStep(new SketchStep("base", 0, "Base", World.Xy, Sketch.Empty)),
                new EditSketch("base", Rectangle()),
                new AddStep(new ExtrudeStep("block", 0, "Block", "base") { Length = "20 mm" }),
                new AddStep(new SketchStep("foot", 0, "Foot", "block/end", Sketch.Empty)),
                new EditSketch("foot", Circle()),
                new AddStep(new ExtrudeStep("boss", 0, "Boss", "foot") { Length = "15 mm" }),
                Point("p", 60, 0, 0),
                Point("q", 60, 30, 30),
                new AddStep(new CurveStep("rod", 0, "Rod", CurveShape.Line, ["p", "q"])),
            ],
            "scene"
        );
        OpenNew("Scene", Json(scene));
        B.Press("[data-view=fit]");
        B.Drawn();
    }

    protected void Begin(string tool)
    {
        B.PressBench("Datum");
        B.Press($"[data-tool={tool}]");
        B.Find("[data-testid=datum-panel]");
        B.Quiet();
    }

    protected void Pick(params (double X, double Y, double Z)[] places)
    {
        foreach (var (x, y, z) in places)
        {
            var before = Conditions();
            B.ClickPlace(x, y, z);
            B.Until(() => Conditions() != before, $"the pick at ({x}, {y}, {z}) to be taken");
        }
    }

    protected string Conditions() =>
        string.Join(
            '|',
            B.Driver.FindElements(By.CssSelector("[data-testid=datum-panel] [data-pick]")).Select(e => e.GetAttribute("data-pick"))
        );

    /// <summary>Chooses how a condition stands to its pick, by words.</summary>
    protected void Relate(int condition, string words)
    {
        B.Until(
            () =>
            {
                var select = B.Find($"[data-relation='{condition}']");
                if (select.FindElements(By.TagName("option")).FirstOrDefault(o => o.Text.Trim() == words) is not { } option)
                {
                    return false;
                }

                option.Click();
                return true;
            },
            $"'{words}'"
        );
        B.Quiet();
    }

    /// <summary>Chooses another reading of the same picks, by some of its words.</summary>
    protected void Read(string words)
    {
        B.Until(
            () =>
            {
                // It may be the one that is offered first.
                if (
                    B
                        .Driver.FindElements(By.CssSelector("[data-testid=datum-panel] [data-relation] option:first-child"))
                        .Any(e => e.Text.Contains(words, StringComparison.Ordinal))
                )
                {
                    return true;
                }

                B.Driver.FindElements(By.CssSelector("[data-reading]"))
                    .First(e => e.Text.Contains(words, StringComparison.Ordinal))
                    .Click();
                return true;
            },
            $"a reading '{words}'; there are: "
                + $"{string.Join(" | ", B.Driver.FindElements(By.CssSelector("[data-reading]")).Select(e => e.Text))}"
        );
        B.Quiet();
    }

    protected void Value(string field, string text)
    {
        B.Fill($"footer [data-field='{field}']", text + Keys.Tab);
        B.Quiet();
    }

    protected void Solution(int n)
    {
        B.Until(
            () =>
            {
                B.Driver.FindElements(By.CssSelector("[data-solution]"))[n].Click();
                return true;
            },
            $"solution {n}"
        );
        B.Quiet();
    }

    /// <summary>Accepts, answers where the new datum lies, and takes it back so that it is not in the way of the next.</summary>
    protected Frame Accept(bool keep = false)
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

    protected int Rows() => B.Driver.FindElements(By.CssSelector("tr[data-step]")).Count;

    protected Frame Last() => FrameOf(B.Driver.FindElements(By.CssSelector("tr[data-step]"))[^1].GetAttribute("data-step")!);

    protected Frame FrameOf(string step)
    {
        B.Settled();
        var n = B.Until(
                    () => B.Attribute($"tr[data-step='{step}']", "data-frame") is { Length: > 0 } text ? text : null,
                    $"{step} to be built"
                )!
            .Split(' ')
            .Select(v => double.Parse(v, CultureInfo.InvariantCulture))
            .ToArray();
        return new Frame(new Vec3(n[0], n[1], n[2]), new Vec3(n[3], n[4], n[5]), new Vec3(n[6], n[7], n[8]));
    }

    protected static void OnPlane(Frame plane, params Vec3[] places)
    {
        foreach (var p in places)
        {
            Plane3.Of(plane).Side(p).ShouldBe(0, 1e-6);
        }
    }

    protected static void Along(Vec3 a, Vec3 b) => Math.Abs(a.Unit.Dot(b.Unit)).ShouldBe(1, 1e-9);

    protected static Vec3 V(double x, double y, double z) => new(x, y, z);

    protected void NoErrors() => B.ConsoleErrors().Where(e => !e.Contains("422", StringComparison.Ordinal)).ShouldBeEmpty();
}
