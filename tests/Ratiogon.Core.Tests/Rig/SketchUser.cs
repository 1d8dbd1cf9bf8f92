using System.Collections.Immutable;
using System.Globalization;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Rules;
using Ratiogon.Core.Tools;

namespace Ratiogon.Core.Tests.Rig;

/// <summary>Somebody who sends everything that can be sent to a sketch: tools with clicks and typed values, picks, ties, sizes, edits,
/// drags, undo. Each input is worked out from a number and the state that it meets, so that any sequence of numbers is a sequence of
/// inputs.</summary>
internal sealed class SketchUser(double scale, Vec2 middle)
{
    private const double Reach = 0.5;
    private readonly Stack<Part> undo = new();
    private readonly Stack<Part> redo = new();
    private SketchTool tool = new SelectTool();
    private string toolName = "select";
    private ToolAnswer last = new() { Prompt = "" };
    private bool dragging;

    public Part Part { get; private set; } = new AddStep(new SketchStep("s", 0, "", World.Xy, Sketch.Empty)).Apply(new Part()).Value;

    public Sketch Sketch => ((SketchStep)Part.Find("s")!).Sketch;

    /// <summary>The last input in words.</summary>
    public string Told { get; private set; } = "";

    /// <summary>What the last input changed; null where it changed nothing.</summary>
    public Change? Last { get; private set; }

    /// <summary>Why the last command was refused; null where none was.</summary>
    public Refusal? Refused { get; private set; }

    /// <summary>The values typed for what is being drawn, as the tool took them.</summary>
    public List<(string Field, string Text)> Typed { get; } = [];

    /// <summary>A change that was kept.</summary>
    public sealed record Change(
        Sketch Before,
        Sketch After,
        PartCommand Command,
        string Tool,
        ImmutableArray<(string Field, string Text)> Typed
    )
    {
        /// <summary>The whole part before it.</summary>
        public required Part Was { get; init; }
    }

    public void Do(int number)
    {
        var random = new Random(number);
        (Last, Refused) = (null, null);
        switch (random.Next(100))
        {
            case < 11:
                Take(random);
                break;
            case < 22:
                Work(random);
                break;
            case < 50:
                Send(InputKind.Click, Place(random), extend: random.Next(3) == 0, suppress: random.Next(12) == 0);
                break;
            case < 54:
                Send(InputKind.Move, Place(random));
                break;
            case < 70:
                Type(random);
                break;
            case < 77:
                Send(InputKind.Accept, Place(random));
                break;
            case < 80:
                Send(InputKind.Cancel, Place(random));
                break;
            case < 83:
                Send(InputKind.Way, Place(random), text: last.Ways.IsEmpty ? "" : last.Ways[random.Next(last.Ways.Length)].Name);
                break;
            case < 84:
                Send(InputKind.Next, Place(random), text: random.Next(2) == 0 ? "-" : "");
                break;
            case < 89:
                Drag(random);
                break;
            case < 92:
                Remove(random);
                break;
            case < 95:
                Resize(random);
                break;
            case < 97:
                Back(random.Next(3) > 0 ? (undo, redo) : (redo, undo));
                break;
            default:
                Other(random);
                break;
        }
    }

    private void Take(Random random)
    {
        var entry = ToolCatalog.All[random.Next(ToolCatalog.All.Count)];
        var picks =
            random.Next(3) == 0 || Sketch.Entities.IsEmpty
                ? []
                : Enumerable.Range(0, random.Next(1, 4)).Select(_ => Entity(random)).Distinct().ToImmutableArray();
        (tool, toolName, dragging) = (entry.Make(), entry.Name, false);
        Typed.Clear();
        tool.Begin(picks);
        Told = $"tool {entry.Name} on [{string.Join(", ", picks)}]";
        Send(InputKind.Move, Place(random), told: Told);
    }

    /// <summary>One job done from its beginning to its end: something is drawn, or a curve that is there is changed.</summary>
    private void Work(Random random)
    {
        var draws = Sketch.Entities.Length < 12 || (Sketch.Entities.Length < 60 && random.Next(3) == 0);
        string[] tools = draws
            ? ["line", "rectangle", "rectangle-centre", "circle", "arc", "slot", "polygon", "ellipse", "spline"]
            : ["trim", "trim", "split", "split", "extend", "corner", "corner", "offset", "mirror", "pattern-row", "pattern-ring"];
        var name = tools[random.Next(tools.Length)];
        var picks = name is "mirror" or "pattern-row" or "pattern-ring"
            ? Enumerable.Range(0, random.Next(1, 3)).Select(_ => Entity(random)).Distinct().ToImmutableArray()
            : [];
        (tool, toolName, dragging) = (ToolCatalog.Find(name)!.Make(), name, false);
        Typed.Clear();
        tool.Begin(picks);
        Send(InputKind.Move, Place(random), told: $"tool {name} on [{string.Join(", ", picks)}]");
        if (random.Next(3) == 0 && last.Ways.Length > 1)
        {
            Send(InputKind.Way, Place(random), text: last.Ways[random.Next(last.Ways.Length)].Name);
        }

        var told = Told;
        for (var i = 0; i < 5 && Last is null; i++)
        {
            var at =
                draws && random.Next(4) > 0 ? Anywhere(random)
                : name == "corner" ? OnPoint(random)
                : OnSomething(random);
            Send(InputKind.Click, at);
            told += $"; {Told}";
        }

        if (Last is null && last.Prompt.Contains("Enter", StringComparison.Ordinal))
        {
            Send(InputKind.Accept, Anywhere(random));
        }

        Told = told;
    }

    private Vec2 OnPoint(Random random) =>
        Sketch.Entities.OfType<PointEntity>().ToList() is { Count: > 0 } points ? points[random.Next(points.Count)].At : Anywhere(random);

    private Vec2 Anywhere(Random random) => middle + (new Vec2(random.NextDouble() - 0.5, random.NextDouble() - 0.5) * (90 * scale));

    private void Type(Random random)
    {
        if (last.Fields.IsEmpty)
        {
            Send(InputKind.Move, Place(random));
            return;
        }

        var field = last.Fields[random.Next(last.Fields.Length)];
        double Number() => Math.Round((3 + (27 * random.NextDouble())) * scale, Digits(2));
        int Digits(int of) => Math.Max(0, of - (int)Math.Log10(scale));
        string Text(double v) => v.ToString("0.#######", CultureInfo.InvariantCulture);
        var text =
            random.Next(14) == 0 ? new[] { "abc", "-3", "0", "1 / 0", "12 deg", "5 kg", "" }[random.Next(7)]
            : field.Name is "point" || random.Next(8) == 0 ? Coordinates()
            : field.Name is "angle" or "sweep" or "turn" ? $"{random.Next(1, 24) * 15} deg"
            : field.Name is "count" or "columns" or "rows" or "number" ? random.Next(2, 6).ToString(CultureInfo.InvariantCulture)
            : random.Next(6) == 0 ? $"{Text(Number())} mm + {Text(Math.Round(scale, Digits(2)))} mm"
            : $"{Text(Number())} mm";
        Send(InputKind.Typed, Place(random), field.Name, text);

        string Coordinates()
        {
            var p = Place(random);
            return
                random.Next(4) == 0
                && Sketch.Entities.OfType<PointEntity>().ToList() is { Count: > 0 } points
                && points[random.Next(points.Count)].At is var at
                ? $"{at.X.ToString("R", CultureInfo.InvariantCulture)} mm, {at.Y.ToString("R", CultureInfo.InvariantCulture)} mm"
                : $"{Text(Math.Round(p.X, Digits(3)))} mm, {Text(Math.Round(p.Y, Digits(3)))} mm";
        }
    }

    private void Drag(Random random)
    {
        if (!dragging)
        {
            (tool, toolName) = (new SelectTool(), "select");
            Typed.Clear();
            Send(InputKind.DragStart, OnSomething(random));
            dragging = true;
        }

        for (var i = random.Next(1, 4); i > 0; i--)
        {
            Send(InputKind.Drag, Place(random));
        }

        Send(InputKind.DragEnd, Place(random));
        dragging = false;
    }

    private void Remove(Random random)
    {
        var all = Sketch
            .Entities.Select(e => e.Id)
            .Concat(Sketch.Constraints.Select(c => c.Id))
            .Concat(Sketch.Dimensions.Select(d => d.Id))
            .Concat(Sketch.Shapes.Select(s => s.Id))
            .ToList();
        if (all.Count > 0)
        {
            Run(new EditSketch("s", new SketchEdit { Remove = [all[random.Next(all.Count)]] }, "remove"));
        }
    }

    private void Resize(Random random)
    {
        var sizes = Part.Find("s")!.Sizes.ToList();
        if (sizes.Count == 0)
        {
            return;
        }

        var size = sizes[random.Next(sizes.Count)];
        var value = Formula.Parse(size.Formula).Then(f => f.Evaluate(Part.Values.Of));
        if (value.Done)
        {
            Run(
                new SetSize(
                    "s",
                    size.Field,
                    size.Kind == Dimension.None
                        ? random.Next(2, 7).ToString(CultureInfo.InvariantCulture)
                        : Units.Show(new Quantity(value.Value.Value * (0.7 + random.NextDouble()), size.Kind), LengthUnit.Millimetre)
                )
            );
        }
    }

    private void Back((Stack<Part> From, Stack<Part> To) way)
    {
        Told = "undo or redo";
        if (way.From.TryPop(out var there))
        {
            way.To.Push(Part);
            Part = there;
        }
    }

    private void Other(Random random)
    {
        if (Sketch.Entities.IsEmpty)
        {
            return;
        }

        var picks = Enumerable.Range(0, random.Next(1, 5)).Select(_ => Entity(random)).Distinct().ToImmutableArray();
        var by = new Similarity(middle, new Vec2(random.NextDouble() - 0.5, random.NextDouble() - 0.5) * (40 * scale), 0, 1);
        var edit = random.Next(5) switch
        {
            0 => Moving.Copy(Sketch, picks, by),
            1 => Merging.Part(Sketch, Sketch.Entities.OfType<PointEntity>().Select(p => p.Id).ElementAtOrDefault(random.Next(20)) ?? ""),
            2 => new SketchEdit { ToggleConstruction = picks },
            3
                when Ids.Next("d", Sketch.UsedIds()) is var id
                    && DimensionCatalog.All.Where(k => k.OfPicks && k.Check(Sketch, Sketch.FindAll(picks)!) is null).ToList()
                        is { Count: > 0 } kinds
                    && kinds[random.Next(kinds.Count)] is var kind => new SketchEdit { Size = [new SketchDimension(id, kind.Name, picks)] },
            _ => new SketchEdit { Remove = picks },
        };
        if (edit.Done)
        {
            Run(new EditSketch("s", edit.Value, "other"));
        }
    }

    private string Entity(Random random) => Sketch.Entities[random.Next(Sketch.Entities.Length)].Id;

    private Vec2 Place(Random random) => random.Next(3) == 0 || Sketch.Entities.IsEmpty ? Anywhere(random) : OnSomething(random);

    /// <summary>A place on or very near something drawn.</summary>
    private Vec2 OnSomething(Random random)
    {
        if (Sketch.Entities.IsEmpty)
        {
            return middle;
        }

        var entity = Sketch.Entities[random.Next(Sketch.Entities.Length)];
        var at =
            entity is PointEntity p ? p.At
            : SketchCurve.Of(Sketch, entity) is { } curve ? curve.At(curve.End * random.NextDouble())
            : middle;
        return at + (new Vec2(random.NextDouble() - 0.5, random.NextDouble() - 0.5) * (0.6 * Reach * scale));
    }

    private void Send(
        InputKind kind,
        Vec2 at,
        string field = "",
        string text = "",
        bool extend = false,
        bool suppress = false,
        string? told = null
    )
    {
        Told = told
            ?? FormattableString.Invariant(
                $"{toolName}: {kind} {at.X:0.######},{at.Y:0.######} {field} '{text}'{(extend ? " extend" : "")}{(suppress ? " suppress" : "")}"
            );
        var answer = tool.Handle(
            new ToolContext(Part, (SketchStep)Part.Find("s")!),
            new ToolInput(kind, at, Reach * scale)
            {
                Field = field,
                Text = text,
                Extend = extend,
                Suppress = suppress,
            }
        );
        last = answer;
        Refused = answer.Refusal;
        if (kind == InputKind.Typed && answer.Refusal is null && text.Length > 0)
        {
            Typed.RemoveAll(t => t.Field == field && !t.Text.Contains(',', StringComparison.Ordinal));
            Typed.Add((text.Contains(',', StringComparison.Ordinal) ? "point" : field, text));
        }
        else if (kind == InputKind.Typed && text.Length == 0)
        {
            Typed.RemoveAll(t => t.Field == field);
        }

        Typed.RemoveAll(t => answer.Fields.Any(f => f.Name == t.Field && !f.Typed && f.Name != "point"));
        if (kind is InputKind.Cancel or InputKind.Way)
        {
            Typed.Clear();
        }

        if (answer.Command is { } command)
        {
            Run(command, toolName, [.. Typed]);
            Typed.Clear();
        }
    }

    private void Run(PartCommand command, string by = "", ImmutableArray<(string Field, string Text)> typed = default)
    {
        Told = by.Length > 0 ? Told : $"{command.Words}: {System.Text.Json.JsonSerializer.Serialize(command, PartJson.Compact)}";
        if (by.Length == 0)
        {
            Typed.Clear();
        }

        var (before, was) = (Sketch, Part);
        var next = command.Apply(Part);
        Refused = next.Refusal;
        if (next.Done)
        {
            undo.Push(Part);
            redo.Clear();
            Part = next.Value;
            Last = new Change(before, Sketch, command, by, typed.IsDefault ? [] : typed) { Was = was };
        }
    }
}
