using System.Collections.Immutable;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketching;

namespace Ratiogon.Core.Tools;

/// <summary>One tool for every dimension: what is picked and where the pointer goes decide which it becomes. Pick one
/// or two entities, click where the text goes, type the value.</summary>
public sealed class DimensionTool : SketchTool
{
    private ImmutableArray<string> picks = [];
    private (string Kind, Vec2 TextAt)? placed;

    public override ToolAnswer Handle(ToolContext context, ToolInput input)
    {
        var under = Snapper.Under(context.Sketch, input.At, input.Reach) ?? "";
        switch (input.Kind)
        {
            case InputKind.Cancel:
                var leave = picks.IsEmpty;
                Reset();
                return Prompt(context, input, under) with { Leave = leave };
            case InputKind.Typed when placed is { } where:
                return Finish(context, input, where.Kind, where.TextAt, input.Text);
            case InputKind.Accept when placed is { } where:
                return Finish(context, input, where.Kind, where.TextAt, Shown(context, where.Kind));
            case InputKind.Click when placed is null && under.Length > 0 && !picks.Contains(under) && picks.Length < 2 && Possible(context.Sketch, picks.Add(under)):
                picks = picks.Add(under);
                return Prompt(context, input, under);
            case InputKind.Click when placed is null && picks.IsEmpty:
                return Prompt(context, input, under) with { Refusal = new Refusal("dimension.pick", "Pick a line, a circle, an arc, or two things to dimension between.") };
            case InputKind.Click when placed is null:
                if (KindFor(context.Sketch, input.At) is not { } kind)
                {
                    return Prompt(context, input, under) with { Refusal = new Refusal("dimension.one-more", $"{string.Join(", ", picks)} alone has no size: pick one thing more.") };
                }

                placed = (kind, input.At);
                return Prompt(context, input, under);
            default:
                return Prompt(context, input, under);
        }
    }

    private void Reset() => (picks, placed) = ([], null);

    private static bool Possible(Sketch sketch, ImmutableArray<string> picks) =>
        picks.Length == 1 || (sketch.FindAll(picks) is { } of && DimensionCatalog.All.Any(k => k.Check(sketch, of) is null));

    /// <summary>The kind that fits the picks, by where the text would stand.</summary>
    private string? KindFor(Sketch sketch, Vec2 at)
    {
        var of = sketch.FindAll(picks);
        if (of is null || of.Count == 0)
        {
            return null;
        }

        if (of.Count == 1)
        {
            return of[0] switch { CircleEntity => "diameter", ArcEntity => "radius", LineEntity l => Between(sketch, [sketch.At(l.From), sketch.At(l.To)], at), _ => null };
        }

        if (of.All(e => e is LineEntity))
        {
            return DimensionCatalog.Find("distance")!.Check(sketch, of) is null ? "distance" : "angle";
        }

        return of.Any(e => e is LineEntity) ? "distance" : Between(sketch, [.. of.Select(e => PointAt(sketch, e))], at);
    }

    /// <summary>Between two points: above or below gives the horizontal, beside the vertical, along the way the true distance.</summary>
    private static string Between(Sketch sketch, Vec2[] ends, Vec2 at)
    {
        var d = ends[1] - ends[0];
        if (Math.Abs(d.X) < Tolerances.Length || Math.Abs(d.Y) < Tolerances.Length)
        {
            return "distance";
        }

        var (low, high) = (new Vec2(Math.Min(ends[0].X, ends[1].X), Math.Min(ends[0].Y, ends[1].Y)), new Vec2(Math.Max(ends[0].X, ends[1].X), Math.Max(ends[0].Y, ends[1].Y)));
        var (insideX, insideY) = (at.X >= low.X && at.X <= high.X, at.Y >= low.Y && at.Y <= high.Y);
        return insideX && !insideY ? "horizontal-distance" : insideY && !insideX ? "vertical-distance" : "distance";
    }

    private ToolAnswer Finish(ToolContext context, ToolInput input, string kind, Vec2 textAt, string text)
    {
        var read = context.Read(text, DimensionCatalog.Find(kind)!.Of);
        if (!read.Done)
        {
            return Prompt(context, input, "") with { Refusal = read.Refusal! with { Where = "value" } };
        }

        var draft = new Draft(context.Sketch);
        var id = draft.NewId("d");
        var dimension = new SketchDimension(id, kind, picks, read.Value.Text) { TextAt = textAt };
        Reset();
        return Prompt(context, input, "") with { Command = Edit(context, new Sketching.Editing.SketchEdit { Size = [dimension] }, $"{kind} {read.Value.Text}") };
    }

    private string Shown(ToolContext context, string kind)
    {
        var found = DimensionCatalog.Find(kind)!;
        return Units.Show(new Quantity(found.Measure(context.Sketch, context.Sketch.FindAll(picks)!), found.Of), context.Part.Units, 6);
    }

    private static Vec2 PointAt(Sketch sketch, SketchEntity e) => e switch { PointEntity p => p.At, CircleEntity c => sketch.At(c.Centre), ArcEntity a => sketch.At(a.Centre), _ => default };

    private ToolAnswer Prompt(ToolContext context, ToolInput input, string under)
    {
        var answer = new ToolAnswer { Prompt = "Pick what to dimension: a line, a circle, or two things", Hover = under, Picks = picks };
        if (placed is { } where)
        {
            return answer with { Prompt = $"Type the {where.Kind.Replace('-', ' ')}, or Enter to keep it", Fields = [new ToolField("value", where.Kind.Replace('-', ' '), Shown(context, where.Kind), false)] };
        }

        if (picks.IsEmpty)
        {
            return answer;
        }

        var kind = KindFor(context.Sketch, input.At);
        return answer with { Prompt = kind is null ? $"Picked {picks[0]}; pick one thing more" : $"{kind.Replace('-', ' ')} {Shown(context, kind)}: click where the text goes, or pick one thing more" };
    }
}
