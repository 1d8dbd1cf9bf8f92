using System.Collections.Immutable;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Dimensions;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Rules;

namespace Ratiogon.Core.Tools;

/// <summary>One tool for every dimension: what is picked and where the pointer goes decide which it becomes; the other
/// sizes of the same picks are its further ways. Pick one or two entities, click where the text goes, type the value.</summary>
public sealed class DimensionTool : SketchTool
{
    private ImmutableArray<string> picks = [];
    private string? chosen;
    private (string Kind, Vec2 TextAt)? placed;

    public override void Begin(ImmutableArray<string> picks) => this.picks = picks;

    public override ToolAnswer Handle(ToolContext context, ToolInput input)
    {
        ArgumentNullException.ThrowIfNull(context);
        ArgumentNullException.ThrowIfNull(input);
        if (
            !picks.IsEmpty && context.Sketch.FindAll(picks) is null or { Count: 0 }
            || (picks.Length > 0 && Kinds(context.Sketch, picks).Count == 0 && picks.Length > 1)
        )
        {
            Reset();
        }

        var under = Snapper.Under(context.Sketch, input.At, input.Reach) ?? "";
        switch (input.Kind)
        {
            case InputKind.Cancel:
                var leave = picks.IsEmpty;
                Reset();
                return Prompt(context, input, under) with { Leave = leave };
            case InputKind.Way:
                return Switch(context, input, under);
            case InputKind.Typed when placed is { } where:
                return Finish(context, input, where.Kind, where.TextAt, input.Text);
            case InputKind.Accept when placed is { } where:
                return Finish(context, input, where.Kind, where.TextAt, Shown(context, where.Kind));
            case InputKind.Click
                when placed is null
                    && under.Length > 0
                    && !picks.Contains(under)
                    && picks.Length < 2
                    && Possible(context.Sketch, picks.Add(under)):
                (picks, chosen) = (picks.Add(under), null);
                return Prompt(context, input, under);
            case InputKind.Click when placed is null && picks.IsEmpty:
                return Prompt(context, input, under) with
                {
                    Refusal = new Refusal(
                        "dimension.pick",
                        "Pick a line, a circle, an arc, an ellipse, or two things to dimension between."
                    ),
                };
            case InputKind.Click when placed is null:
                if (KindFor(context.Sketch, input.At) is not { } kind)
                {
                    return Prompt(context, input, under) with
                    {
                        Refusal = new Refusal("dimension.one-more", $"{string.Join(", ", picks)} alone has no size: pick one thing more."),
                    };
                }

                placed = (kind, input.At);
                return Prompt(context, input, under);
            default:
                return Prompt(context, input, under);
        }
    }

    private void Reset() => (picks, placed, chosen) = ([], null, null);

    private ToolAnswer Switch(ToolContext context, ToolInput input, string under)
    {
        var kinds = Kinds(context.Sketch, picks);
        if (kinds.Count > 0)
        {
            var now = placed?.Kind ?? KindFor(context.Sketch, input.At);
            chosen = kinds.Contains(input.Text) ? input.Text : kinds[(kinds.IndexOf(now ?? "") + 1) % kinds.Count];
            placed = placed is { } p ? (chosen, p.TextAt) : null;
        }

        return Prompt(context, input, under);
    }

    private static bool Possible(Sketch sketch, ImmutableArray<string> picks) => picks.Length == 1 || Kinds(sketch, picks).Count > 0;

    /// <summary>Every dimension that the picks can have.</summary>
    private static List<string> Kinds(Sketch sketch, ImmutableArray<string> picks) =>
        picks.IsEmpty || sketch.FindAll(picks) is not { } of
            ? []
            : [.. DimensionCatalog.All.Where(k => k.OfPicks && k.Check(sketch, of) is null).Select(k => k.Name)];

    /// <summary>The kind that fits the picks, by where the text would stand.</summary>
    private string? KindFor(Sketch sketch, Vec2 at)
    {
        var kinds = Kinds(sketch, picks);
        if (chosen is not null && kinds.Contains(chosen))
        {
            return chosen;
        }

        if (kinds.Count == 0 || sketch.FindAll(picks) is not { Count: > 0 } of)
        {
            return null;
        }

        var meant = of switch
        {
            [CircleEntity] => "diameter",
            [ArcEntity] => "radius",
            [EllipticEntity e] => Math.Abs((at - sketch.At(e.Centre)).Dot(Curves.Axes(sketch, e).U.Unit))
            > Math.Abs((at - sketch.At(e.Centre)).Cross(Curves.Axes(sketch, e).U.Unit))
                ? "first-semi-axis"
                : "second-semi-axis",
            [LineEntity l] => Between(sketch.At(l.From), sketch.At(l.To), at),
            [LineEntity a, LineEntity b] => kinds.Contains("distance") ? Beside(sketch, of, at) : Sector(sketch, a, b, at),
            _ when of.Any(e => e is LineEntity) => Beside(sketch, of, at),
            [var a, var b] when a is CircleEntity or ArcEntity && b is CircleEntity or ArcEntity => Rims(sketch, of, at),
            _ => Between(RimDistance.Ends(sketch, of).A, RimDistance.Ends(sketch, of).B, at),
        };
        return kinds.Contains(meant) ? meant : kinds[0];
    }

    /// <summary>Between two points: above or below gives the horizontal, beside the vertical, along the way the true distance.</summary>
    private static string Between(Vec2 a, Vec2 b, Vec2 at)
    {
        var d = b - a;
        if (Math.Abs(d.X) < Tolerances.Length || Math.Abs(d.Y) < Tolerances.Length)
        {
            return "distance";
        }

        var (low, high) = (new Vec2(Math.Min(a.X, b.X), Math.Min(a.Y, b.Y)), new Vec2(Math.Max(a.X, b.X), Math.Max(a.Y, b.Y)));
        var (insideX, insideY) = (at.X >= low.X && at.X <= high.X, at.Y >= low.Y && at.Y <= high.Y);
        return insideX && !insideY ? "horizontal-distance"
            : insideY && !insideX ? "vertical-distance"
            : "distance";
    }

    /// <summary>From a line: past a construction line, on its other side, the width across it is meant.</summary>
    private static string Beside(Sketch sketch, IReadOnlyList<SketchEntity> of, Vec2 at)
    {
        if (AcrossAxis.Ordered(of) is not [LineEntity { Construction: true } axis, var other] || other is LineEntity { Construction: true })
        {
            return "distance";
        }

        var (a, b) = (sketch.At(axis.From), sketch.At(axis.To));
        var measured = other is LineEntity l ? sketch.At(l.From) : RimDistance.Ends(sketch, [other, axis]).A;
        return (b - a).Cross(at - a) * (b - a).Cross(measured - a) < 0 ? "across-axis" : "distance";
    }

    /// <summary>Which of the four sectors between two lines the pointer is in.</summary>
    private static string Sector(Sketch sketch, LineEntity a, LineEntity b, Vec2 at)
    {
        var (p, u) = (sketch.At(a.From), sketch.At(a.To) - sketch.At(a.From));
        var (q, v) = (sketch.At(b.From), sketch.At(b.To) - sketch.At(b.From));
        var apex = p + (u * ((q - p).Cross(v) / u.Cross(v)));
        var w = at - apex;
        return w.Cross(v) / u.Cross(v) * (u.Cross(w) / u.Cross(v)) >= 0 ? "angle" : "other-angle";
    }

    /// <summary>Between two circles: in the gap the near sides, beyond them the far sides, elsewhere the centres.</summary>
    private static string Rims(Sketch sketch, IReadOnlyList<SketchEntity> of, Vec2 at)
    {
        var (a, b) = RimDistance.Ends(sketch, of);
        var (r, s, d) = (RimDistance.RadiusOf(of[0]), RimDistance.RadiusOf(of[1]), a.DistanceTo(b));
        var u = (b - a).Unit;
        var (along, off) = ((at - a).Dot(u), Math.Abs((at - a).Cross(u)));
        return d > r + s && along > r && along < d - s && off < Math.Min(r, s) ? "near-distance"
            : along < -r || along > d + s ? "far-distance"
            : Between(a, b, at);
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
        return Prompt(context, input, "") with
        {
            Command = Edit(context, input, new SketchEdit { Size = [dimension] }, $"{kind} {read.Value.Text}"),
        };
    }

    private string Shown(ToolContext context, string kind)
    {
        var found = DimensionCatalog.Find(kind)!;
        return Units.Show(new Quantity(found.Measure(context.Sketch, context.Sketch.FindAll(picks)!), found.Of), context.Part.Units, 6);
    }

    private ToolAnswer Prompt(ToolContext context, ToolInput input, string under)
    {
        var answer = new ToolAnswer
        {
            Prompt = "Pick what to dimension: a line, a circle, or two things",
            Hover = under,
            Picks = picks,
        };
        if (picks.IsEmpty)
        {
            return answer;
        }

        var kinds = Kinds(context.Sketch, picks);
        var kind = placed?.Kind ?? KindFor(context.Sketch, input.At);
        answer = answer with
        {
            Ways = kinds.Count > 1 ? [.. kinds.Select(k => new ToolWay(k, k.Replace('-', ' ')))] : [],
            Way = kind ?? "",
        };
        if (placed is { } where)
        {
            return answer with
            {
                Prompt = $"Type the {where.Kind.Replace('-', ' ')}, or Enter to keep it",
                Fields = [new ToolField("value", where.Kind.Replace('-', ' '), Shown(context, where.Kind), false)],
            };
        }

        return answer with
        {
            Prompt = kind is null
                ? $"Picked {picks[0]}; pick one thing more"
                : $"{kind.Replace('-', ' ')} {Shown(context, kind)}: click where the text goes, or pick one thing "
                    + $"more{(kinds.Count > 1 ? "; v: another size" : "")}",
        };
    }
}
