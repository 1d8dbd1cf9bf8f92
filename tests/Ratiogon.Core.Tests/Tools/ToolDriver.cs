using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Regions;
using Ratiogon.Core.Sketches.Rules;
using Ratiogon.Core.Sketches.Solving;
using Ratiogon.Core.Tools;

namespace Ratiogon.Core.Tests.Tools;

/// <summary>A user without a screen: tools driven by clicks and typed text on an empty sketch.</summary>
public abstract class ToolDriver
{
    private protected SketchTool Tool { get; set; } = new SelectTool();

    private protected Part Part { get; set; } = new AddStep(new SketchStep("s", 0, "", World.Xy, Sketch.Empty)).Apply(new Part()).Value;

    private protected Sketch Drawn => ((SketchStep)Part.Find("s")!).Sketch;

    private protected void Take(string name, string? way = null, params string[] picks)
    {
        Tool = ToolCatalog.Find(name)!.Make();
        Tool.Begin([.. picks]);
        if (way is not null)
        {
            Do(InputKind.Way, text: way).Way.ShouldBe(way);
        }
    }

    private protected ToolAnswer Do(
        InputKind kind,
        double x = 0,
        double y = 0,
        string field = "",
        string text = "",
        bool suppress = false,
        bool extend = false,
        bool construction = false
    )
    {
        var answer = Tool.Handle(
            new ToolContext(Part, (SketchStep)Part.Find("s")!),
            new ToolInput(kind, new Vec2(x, y), 0.5)
            {
                Field = field,
                Text = text,
                Suppress = suppress,
                Extend = extend,
                Construction = construction,
            }
        );
        if (answer.Command is { } command)
        {
            var next = command.Apply(Part);
            next.Refusal?.Message.ShouldBeNull();
            Part = next.Value;
            Diagnosis.AllRedundant(Drawn).ShouldBeEmpty("no tool makes rules that say nothing new");
        }

        return answer;
    }

    private protected ToolAnswer Click(double x, double y) => Do(InputKind.Click, x, y);

    private protected ToolAnswer Type(string field, string text, double x = 9, double y = 7)
    {
        var answer = Do(InputKind.Typed, x, y, field, text);
        answer.Refusal?.Message.ShouldBeNull();
        return answer;
    }

    private protected ToolAnswer Enter(double x = 9, double y = 7) => Do(InputKind.Accept, x, y);

    /// <summary>A level slot that begins at a place, its length and width typed.</summary>
    private protected void Slot(double x, double y, string length, string width, string? way = null)
    {
        Take("slot", way);
        Click(x, y);
        Type("length", length, x + 20, y + 1);
        Type("angle", "0", x + 20, y + 1);
        Enter(x + 20, y + 1);
        Type("width", width, x + 10, y + 5);
        Enter(x + 10, y + 5);
    }

    private protected int Free() => Freedoms.Of(Drawn).Count;

    private protected T Only<T>()
        where T : SketchEntity => Drawn.Entities.OfType<T>().Single(e => !e.Construction);

    private protected double Area() => Arrangement.Of(Drawn).Regions.Where(r => r.Depth % 2 == 0).Sum(r => r.Area);

    private protected void Edit(Core.Sketches.Editing.SketchEdit edit) =>
        Part = new EditSketch("s", edit).Apply(Part) is { Done: true } done
            ? done.Value
            : throw new InvalidOperationException(new EditSketch("s", edit).Apply(Part).Refusal!.Message);

    private protected void Size(string kind, string value, params string[] of)
    {
        var taken = Drawn.UsedIds();
        Edit(new Core.Sketches.Editing.SketchEdit { Size = [new SketchDimension(Ids.Next("d", taken), kind, [.. of], value)] });
    }

    private protected void Tie(string kind, params string[] of)
    {
        var taken = Drawn.UsedIds();
        Edit(new Core.Sketches.Editing.SketchEdit { Tie = [new SketchConstraint(Ids.Next("k", taken), kind, [.. of])] });
    }

    private protected void Set(string field, string value) =>
        Part = new SetSize("s", field, value).Apply(Part) is { Done: true } done
            ? done.Value
            : throw new InvalidOperationException(new SetSize("s", field, value).Apply(Part).Refusal!.Message);

    private protected double Measured(string kind, params string[] of) =>
        DimensionCatalog.Measure(Drawn, new SketchDimension("m", kind, [.. of]))!.Value;
}
