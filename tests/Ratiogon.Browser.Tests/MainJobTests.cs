using OpenQA.Selenium;
using Ratiogon.Solids;

namespace Ratiogon.Browser.Tests;

/// <summary>The main job once, for real, as a designer would do it.</summary>
public class MainJobTests(ServerFixture fixture) : BrowserTest(fixture)
{
    [Fact]
    public void A_plate_is_sketched_set_extruded_read_kept_changed_and_handed_over()
    {
        SignUp();
        NewPart("Plate");

        // A rectangle from the centre on XY with typed sizes: 2 strokes, 1 click, 2 values, Enter.
        B.Type("d", "m");
        B.Until(() => B.Prompt.Contains("centre of the rectangle", StringComparison.Ordinal), "the rectangle tool");
        B.ClickSketch(0, 0);
        B.MoveSketch(30, 20);
        B.Type("8", "0", Keys.Tab, "50", Keys.Enter);
        B.UntilFreedoms(0);

        // A circle, free at first, then dimensioned from two edges.
        B.Press("[data-tool=circle]");
        B.ClickSketch(12, 7);
        B.ClickSketch(18, 7);
        B.UntilFreedoms(3);
        B.Press("[data-tool=select]");
        Size((18, 7), null, (24, 13), "10");
        B.UntilFreedoms(2);
        Size((17, 7), (40, 15), (30, 3), "25");
        B.UntilFreedoms(1);
        Size((20, 7), (5, 25), (2, 16), "15");
        B.UntilFreedoms(0);

        // Extrude by 12 mm and read the volume.
        B.Type("f", "e");
        B.Fill("[data-testid=form-panel] [data-field=length]", "12");
        B.Press("[data-testid=form-accept]");
        UntilVolume(80, 50, 10);
        B.ConsoleErrors().ShouldBeEmpty();

        B.Press("[data-testid=part-name]");
        B.Fill("input[aria-label='Name of the part']", "Plate <b>two</b>" + Keys.Enter);
        B.Until(() => B.Text("[data-testid=part-name]") == "Plate <b>two</b>", "the new name, as text");
        B.Driver.Navigate().Refresh();
        B.Settled();
        B.Text("[data-testid=part-name]").ShouldBe("Plate <b>two</b>");
        UntilVolume(80, 50, 10);

        // Change 80 to 96 in the build sheet; undo.
        B.Press("[data-sizes-of=sketch1]");
        B.Fill("[data-size='sketch1/r1.width']", "96" + Keys.Enter);
        UntilVolume(96, 50, 10);
        B.Press("[data-testid=undo]");
        UntilVolume(80, 50, 10);

        // Hand over as STEP and read it back.
        B.Press("[data-testid=files]");
        B.Press("[data-testid=export]");
        B.Press("[data-testid=export-write]");
        var file = B.Until(
            () =>
                Directory
                    .GetFiles(B.Downloads, "plate*.step")
                    .FirstOrDefault(f => File.ReadAllText(f).Contains("END-ISO-10303-21;", StringComparison.Ordinal)),
            "the STEP file"
        )!;
        var kernel = new NativeKernel();
        using var solid = kernel.Read(Core.Kernel.BodyFormat.Step214, File.ReadAllBytes(file)).Value.Solid;
        kernel.Mass(solid).Volume.ShouldBe(Volume(80, 50, 10), Volume(80, 50, 10) * 1e-6);

        B.Go("/parts");
        NewPart("Read back");
        B.Driver.FindElement(By.CssSelector("[data-testid=import-file]")).SendKeys(file);
        B.Find("[data-step=import1]");
        UntilVolume(80, 50, 10);
    }

    private static double Volume(double w, double h, double d) => ((w * h) - (Math.PI * d * d / 4)) * 12;

    private void UntilVolume(double w, double h, double d)
    {
        B.Settled();
        B.Until(
            () => Math.Abs(OfferValue("volume") - Volume(w, h, d)) < Volume(w, h, d) * 1e-6,
            $"a volume of {Volume(w, h, d):0.###} mm³"
        );
    }

    /// <summary>One dimension through the tool: picks, place of the text, value.</summary>
    private void Size((double X, double Y) first, (double X, double Y)? second, (double X, double Y) text, string value)
    {
        B.Type("s", "d");
        B.Until(() => B.Prompt.StartsWith("Pick what to dimension", StringComparison.Ordinal), "the dimension tool");
        B.ClickSketch(first.X, first.Y);
        if (second is { } s)
        {
            B.ClickSketch(s.X, s.Y);
        }

        B.ClickSketch(text.X, text.Y);
        B.Find("[data-field=value]");
        B.Type(value, Keys.Enter);
        B.Until(() => !B.Has("[data-field=value]"), $"the value {value} to be taken");
    }
}
