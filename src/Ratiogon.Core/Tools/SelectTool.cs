using System.Collections.Immutable;
using Ratiogon.Core.Numerics;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Rules;
using Ratiogon.Core.Sketches.Solving;

namespace Ratiogon.Core.Tools;

/// <summary>Picks by click, drags what is free.</summary>
public sealed class SelectTool : SketchTool
{
    private ImmutableArray<string> picks = [];
    private DragSession? drag;
    private string grabbed = "";
    private Vec2? corner;

    public override void Begin(ImmutableArray<string> picks) => this.picks = picks;

    public override ToolAnswer Handle(ToolContext context, ToolInput input)
    {
        var under = Snapper.Under(drag?.Current() ?? context.Sketch, input.At, input.Reach) ?? "";
        var answer = new ToolAnswer { Prompt = Prompt, Hover = under };
        switch (input.Kind)
        {
            case InputKind.Click:
                picks =
                    under.Length == 0 ? (input.Extend ? picks : [])
                    : !input.Extend ? [under]
                    : picks.Contains(under) ? picks.Remove(under)
                    : picks.Add(under);
                return answer with { Picks = picks, Prompt = Prompt };
            case InputKind.Cancel:
                picks = [];
                (drag, corner) = (null, null);
                return answer with { Picks = picks };
            case InputKind.DragStart when under.Length == 0 || Sketch.IsBuiltIn(under):
                corner = input.At;
                return answer;
            case InputKind.Drag when corner is { } from:
                return answer with { Prompt = "Picks everything inside", Preview = Box(from, input.At) };
            case InputKind.DragEnd when corner is { } from:
                corner = null;
                var inside = Inside(context.Sketch, from, input.At);
                picks = input.Extend ? [.. picks.Union(inside)] : inside;
                return answer with { Picks = picks, Prompt = Prompt };
            case InputKind.DragStart:
                return Start(context, input, under, answer);
            case InputKind.Drag when drag is not null:
                var moved = drag.MoveTo(input.At);
                return answer with
                {
                    Prompt = $"Dragging {grabbed}",
                    Dragged = drag.Current(),
                    Refusal = moved ? null : new Refusal("drag.stays", $"{grabbed} cannot go there: its constraints hold it.", grabbed),
                };
            case InputKind.DragEnd when drag is not null:
                var edit = Changes(context.Sketch, drag.Current());
                drag = null;
                return edit.Move.IsEmpty && edit.Resize.IsEmpty
                    ? answer
                    : answer with
                    {
                        Command = new EditSketch(context.Step.Id, edit, $"drag {grabbed}"),
                    };
            default:
                return answer;
        }
    }

    private string Prompt => picks.IsEmpty ? "Pick geometry, or drag what is free" : $"{picks.Length} picked; offers are at the right";

    private static ImmutableArray<PreviewCurve> Box(Vec2 a, Vec2 b) =>
        [Path([a, new(b.X, a.Y), b, new(a.X, b.Y), a]) with { Role = "guide" }];

    /// <summary>Curves that lie wholly inside a box, and points in it that no curve uses.</summary>
    private static ImmutableArray<string> Inside(Sketch sketch, Vec2 a, Vec2 b)
    {
        var (low, high) = (new Vec2(Math.Min(a.X, b.X), Math.Min(a.Y, b.Y)), new Vec2(Math.Max(a.X, b.X), Math.Max(a.Y, b.Y)));
        bool Holds(Vec2 p) => p.X >= low.X && p.X <= high.X && p.Y >= low.Y && p.Y <= high.Y;
        var used = sketch.Entities.SelectMany(e => e.Points).ToHashSet(StringComparer.Ordinal);
        return
        [
            .. sketch
                .Entities.Where(e =>
                    e is PointEntity p
                        ? !used.Contains(p.Id) && Holds(p.At)
                        : Sketches.SketchCurve.Of(sketch, e) is { } curve && curve.Drawn(0, curve.End).All(Holds)
                )
                .Select(e => e.Id),
        ];
    }

    private ToolAnswer Start(ToolContext context, ToolInput input, string under, ToolAnswer answer)
    {
        if (Freedoms.Of(context.Sketch).OfEntity.GetValueOrDefault(under) == 0)
        {
            return answer with { Refusal = new Refusal("drag.set", $"{under} is set and stays: {Holding(context.Sketch, under)}.", under) };
        }

        grabbed = under;
        drag = new DragSession(
            context.Sketch,
            SketchValues.Of(context.Sketch, context.Values) is { Done: true } v ? v.Value : Witness.Readings(context.Sketch),
            under,
            input.At,
            Freedoms.Of(context.Sketch)
        );
        return answer with { Prompt = $"Dragging {grabbed}", Refusal = drag.Refusal };
    }

    /// <summary>The rules nearest to something that cannot move.</summary>
    internal static string Holding(Sketch sketch, string id)
    {
        var own = sketch.Find(id)!.Points.Append(id).ToHashSet(StringComparer.Ordinal);
        bool Touches(ImmutableArray<string> of) => of.Any(o => own.Contains(o) || sketch.Find(o)!.Points.Any(own.Contains));
        var rules = sketch
            .Dimensions.Where(d => d.Driving && Touches(d.Of))
            .Select(d => SketchWords.Describe(sketch, new Owner(OwnerKind.Dimension, d.Id)))
            .Concat(
                sketch
                    .Constraints.Where(c => Touches(c.Of))
                    .OrderBy(c => c.Kind == "fixed" ? 0 : 1)
                    .Select(c => SketchWords.Describe(sketch, new Owner(OwnerKind.Constraint, c.Id)))
            )
            .Take(3)
            .ToList();
        return rules.Count == 0 ? "other geometry holds it" : $"held by {string.Join("; ", rules)}";
    }

    private static SketchEdit Changes(Sketch before, Sketch after)
    {
        var move = ImmutableDictionary.CreateBuilder<string, Vec2>();
        var resize = ImmutableDictionary.CreateBuilder<string, double>();
        foreach (var entity in after.Entities)
        {
            switch (entity, before.Find(entity.Id))
            {
                case (PointEntity now, PointEntity was) when now.At != was.At:
                    move[now.Id] = now.At;
                    break;
                case (CircleEntity now, CircleEntity was) when now.Radius != was.Radius:
                    resize[now.Id] = now.Radius;
                    break;
                case (ArcEntity now, ArcEntity was) when now.Radius != was.Radius:
                    resize[now.Id] = now.Radius;
                    break;
            }
        }

        return new SketchEdit { Move = move.ToImmutable(), Resize = resize.ToImmutable() };
    }
}
