using System.Text.Json;
using OpenQA.Selenium;
using Ratiogon.Core;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Shapes;

namespace Ratiogon.Browser.Tests;

/// <summary>The Form bench driven on a block from the origin to (60, 40, 20) with sketches beside and on it.</summary>
public abstract class FormBench(ServerFixture fixture) : BrowserTest(fixture, fresh: false)
{
    protected const double Block = 60 * 40 * 20;
    protected static readonly (double, double, double) Top = (45, 30, 20),
        Front = (20, 0, 8),
        TopFrontEdge = (12, 0, 20),
        TopRightEdge = (60, 12, 20),
        CornerEdge = (60, 0, 6);

    protected static string Json(PartCommand command) => JsonSerializer.Serialize(command, PartJson.Compact);

    protected static AddStep Sketched(string id, string on) => new(new SketchStep(id, 0, id, on, Sketch.Empty));

    protected static SketchEdit Rectangle(double x, double y, double w, double h) =>
        ShapeCatalog.RectangleByCentre("r", new Vec2(x, y), new Vec2(x + (w / 2), y + (h / 2)));

    protected static SketchEdit Circle(string id, double x, double y, double r) =>
        new() { Add = [new PointEntity(id + "c", new Vec2(x, y)), new CircleEntity(id, id + "c", r)] };

    protected static AddStep Point(string id, double x, double y, double z) =>
        new(new PointStep(id, 0, id, [new DatumCondition("coordinates", []) { Values = [$"{x} mm", $"{y} mm", $"{z} mm"] }]));

    protected static PartCommand[] TheBlock =>
        [
            Sketched("base", World.Xy),
            new EditSketch("base", Rectangle(30, 20, 60, 40)),
            new AddStep(new ExtrudeStep("block", 0, "Block", "base") { Length = "20 mm" }),
        ];

    protected void Open(params PartCommand[] scene)
    {
        OpenNew("Forms", Json(new Several([.. scene], "scene")));
        B.Press("[data-view=fit]");
        B.Drawn();
    }

    protected void Begin(string form)
    {
        B.PressBench("Form");
        B.Press($"[data-tool={form}]");
        B.Find("[data-testid=form-panel]");
        B.Quiet();
    }

    protected string Picks() =>
        string.Join(
            '|',
            B.Driver.FindElements(By.CssSelector("[data-testid=form-panel] [data-pick]")).Select(e => e.GetAttribute("data-pick"))
        );

    protected void Pick(params (double X, double Y, double Z)[] places)
    {
        foreach (var (x, y, z) in places)
        {
            var before = Picks();
            B.ClickPlace(x, y, z);
            B.Until(() => Picks() != before, $"the pick at ({x}, {y}, {z}) to be taken");
        }
    }

    /// <summary>A row of the build sheet serves as a pick.</summary>
    protected void PickRow(string step)
    {
        var before = Picks();
        B.Press($"[data-edit={step}]");
        B.Until(() => Picks() != before, $"the pick of {step} to be taken");
    }

    protected void Use(string field)
    {
        More(field);
        if (B.Attribute($"[data-testid=form-panel] button[data-field={field}]", "aria-pressed") != "true")
        {
            B.Press($"[data-testid=form-panel] button[data-field={field}]");
        }

        B.Until(
            () => B.Attribute($"[data-testid=form-panel] button[data-field={field}]", "aria-pressed") == "true",
            $"{field} to be active"
        );
    }

    protected void More(string field)
    {
        if (!B.Has($"[data-testid=form-panel] [data-field={field}]"))
        {
            B.Press("[data-testid=form-more]");
        }
    }

    protected void Value(string field, string text)
    {
        More(field);
        B.Fill($"[data-testid=form-panel] input[data-field={field}]", text + Keys.Tab);
        B.Quiet();
    }

    protected void Choose(string field, string words)
    {
        More(field);
        B.Until(
            () =>
            {
                var option = B.Find($"[data-testid=form-panel] select[data-field={field}]")
                    .FindElements(By.TagName("option"))
                    .FirstOrDefault(o => o.Text.Trim() == words);
                option?.Click();
                return option is not null;
            },
            $"'{words}' of {field}"
        );
        B.Quiet();
    }

    protected void Accept(double volume, double within = 1e-6)
    {
        B.Until(
            () => B.Has("[data-testid=form-state]") && B.Text("[data-testid=form-state]") == "ready",
            "the form to be ready; it says " + (B.Has("[data-testid=form-refusal]") ? B.Text("[data-testid=form-refusal]") : B.Prompt)
        );
        B.Press("[data-testid=form-accept]");
        B.Until(() => !B.Has("[data-testid=form-panel]"), "the form to be accepted");
        B.Settled();
        B.Until(() => Math.Abs(Volume() - volume) < Math.Max(within * volume, 0.0011), $"a volume of {volume}, not {Volume()}");
        B.ConsoleErrors().ShouldBeEmpty();
    }

    protected double Volume()
    {
        var text = B.Text("[data-offer=volume] [data-value]");
        return double.Parse(text.Split(' ')[0], System.Globalization.CultureInfo.InvariantCulture);
    }

    protected void Undo()
    {
        B.Press("[data-testid=undo]");
        B.Quiet();
        B.Settled();
    }

    protected void Choice(string step, string words)
    {
        B.Press($"[data-more={step}]");
        B.PressText(words);
        B.Quiet();
    }
}
