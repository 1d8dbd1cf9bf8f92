using System.Collections.Immutable;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Constraints;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Rules;

namespace Ratiogon.Core.Tools;

/// <summary>One constraint. With picks that fit it is made at once; otherwise picks are collected until they do. Where
/// more than two may be tied, further picks are tied to the first.</summary>
public sealed class TieTool(string kind) : SketchTool
{
    private ImmutableArray<string> picks = [];
    private string? anchor;
    private bool ready;

    public override void Begin(ImmutableArray<string> picks)
    {
        this.picks = picks;
        ready = !picks.IsEmpty;
    }

    public override ToolAnswer Handle(ToolContext context, ToolInput input)
    {
        ArgumentNullException.ThrowIfNull(context);
        ArgumentNullException.ThrowIfNull(input);
        var rule = ConstraintCatalog.Find(kind)!;
        var under = Snapper.Under(context.Sketch, input.At, input.Reach) ?? "";
        picks = [.. picks.Where(p => context.Sketch.Find(p) is not null)];
        if (ready)
        {
            ready = false;
            var of = context.Sketch.FindAll(picks)!;
            if (rule.Check(of) is null || Crosses(of))
            {
                return Make(context, input, new ToolAnswer { Prompt = Prompt(rule) });
            }
        }

        var answer = new ToolAnswer
        {
            Prompt = Prompt(rule),
            Hover = under,
            Picks = picks,
        };
        switch (input.Kind)
        {
            case InputKind.Cancel:
                var leave = picks.IsEmpty && anchor is null;
                (picks, anchor) = ([], null);
                return answer with { Leave = leave, Picks = picks, Prompt = Prompt(rule) };
            case InputKind.Click when under.Length == 0:
                return answer with { Refusal = new Refusal("tie.nothing-here", "There is nothing here to pick.") };
            case InputKind.Click:
                picks = picks.Contains(under) ? picks.Remove(under) : picks.Add(under);
                return Try(context, input, rule, answer with { Picks = picks });
            default:
                return answer;
        }
    }

    private string Prompt(ConstraintKind rule) =>
        anchor is not null && picks.IsEmpty
            ? $"{kind.Replace('-', ' ')}: pick another to tie to {anchor}, or Escape"
            : $"{kind.Replace('-', ' ')}: pick {rule.Needs}{(picks.IsEmpty ? "" : $" — picked {string.Join(", ", picks)}")}";

    private ToolAnswer Try(ToolContext context, ToolInput input, ConstraintKind rule, ToolAnswer answer)
    {
        var of = context.Sketch.FindAll(picks)!;
        if (rule.Check(of) is null || Crosses(of))
        {
            return Make(context, input, answer);
        }

        // A further pick for what was tied last.
        if (anchor is not null && picks.Length == 1 && context.Sketch.Find(anchor) is { } first && rule.Check([first, of[0]]) is null)
        {
            picks = [anchor, picks[0]];
            return Make(context, input, answer);
        }

        // Three picks that still do not fit will not begin to.
        if (picks.Length < 3)
        {
            return answer with { Prompt = $"{kind.Replace('-', ' ')}: picked {string.Join(", ", picks)}; pick {rule.Needs}" };
        }

        var notYet = rule.Check(of);
        picks = [];
        return answer with { Refusal = notYet, Picks = picks };
    }

    /// <summary>Two curves alone get a new point where they cross.</summary>
    private bool Crosses(IReadOnlyList<SketchEntity> of) => kind == "crossing" && of.Count == 2 && of.All(e => e is not PointEntity);

    private ToolAnswer Make(ToolContext context, ToolInput input, ToolAnswer answer)
    {
        var of = context.Sketch.FindAll(picks)!;
        var made = Crosses(of) ? CrossingPoint.New(context.Sketch, of[0], of[1], input.At) : Tied(context.Sketch, picks);
        anchor = ConstraintCatalog.Find(kind)!.Grows ? picks[0] : null;
        picks = [];
        return made.Done
            ? answer with
            {
                Command = Edit(context, input with { Construction = false }, made.Value, kind),
                Picks = picks,
                Prompt = Prompt(ConstraintCatalog.Find(kind)!),
            }
            : answer with
            {
                Refusal = made.Refusal,
                Picks = picks,
            };
    }

    private SketchEdit Tied(Sketch sketch, ImmutableArray<string> of)
    {
        var draft = new Draft(sketch);
        draft.Tie(kind, [.. of]);
        return draft.Edit;
    }
}

/// <summary>A new point where two curves cross.</summary>
internal static class CrossingPoint
{
    /// <param name="sketch">Where.</param>
    /// <param name="a">A curve.</param>
    /// <param name="b">Another.</param>
    /// <param name="near">Which of several crossings is meant.</param>
    public static Outcome<SketchEdit> New(Sketch sketch, SketchEntity a, SketchEntity b, Vec2 near)
    {
        var places = Unbounded(sketch, a, b);
        if (places.Count == 0)
        {
            return new Refusal(
                "crossing.none",
                $"{a.Word} {a.Id} and {b.Word} {b.Id} cross nowhere{(a is LineEntity && b is LineEntity ? ": they are parallel" : "")}."
            );
        }

        var draft = new Draft(sketch);
        draft.Tie("crossing", draft.NewPoint(places.MinBy(p => p.DistanceTo(near))), a.Id, b.Id);
        return draft.Edit;
    }

    /// <summary>Crossings with lines counted as unbounded and arcs as whole circles, as the constraint does.</summary>
    private static List<Vec2> Unbounded(Sketch sketch, SketchEntity a, SketchEntity b) =>
        Sketches.Regions.Crossings.Of(Whole(sketch, a), Whole(sketch, b));

    private static Sketches.SketchCurve Whole(Sketch sketch, SketchEntity entity)
    {
        var curve = Sketches.SketchCurve.Of(sketch, entity)!.Value;
        if (curve.Free is not null)
        {
            return curve;
        }

        var u = (curve.To - curve.From).Unit * 1e5;
        return curve.Round ? curve with { StartAngle = 0, Sweep = 2 * Math.PI } : curve with { From = curve.From - u, To = curve.To + u };
    }
}
