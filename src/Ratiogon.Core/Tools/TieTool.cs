using System.Collections.Immutable;
using Ratiogon.Core.Sketching;

namespace Ratiogon.Core.Tools;

/// <summary>One constraint, tool first: picks are collected until they fit.</summary>
public sealed class TieTool(string kind) : SketchTool
{
    private ImmutableArray<string> picks = [];

    public override ToolAnswer Handle(ToolContext context, ToolInput input)
    {
        var rule = ConstraintCatalog.Find(kind)!;
        var under = Snapper.Under(context.Sketch, input.At, input.Reach) ?? "";
        var answer = new ToolAnswer { Prompt = $"{kind}: pick {rule.Needs}{(picks.IsEmpty ? "" : $" — picked {string.Join(", ", picks)}")}", Hover = under, Picks = picks };
        switch (input.Kind)
        {
            case InputKind.Cancel:
                var leave = picks.IsEmpty;
                picks = [];
                return answer with { Leave = leave, Picks = picks };
            case InputKind.Click when under.Length == 0:
                return answer with { Refusal = new Refusal("tie.nothing-here", "There is nothing here to pick.") };
            case InputKind.Click:
                picks = picks.Contains(under) ? picks.Remove(under) : picks.Add(under);
                return Try(context, rule, answer with { Picks = picks });
            default:
                return answer;
        }
    }

    private ToolAnswer Try(ToolContext context, ConstraintKind rule, ToolAnswer answer)
    {
        var of = context.Sketch.FindAll(picks)!;
        if (rule.Check(of) is { } notYet)
        {
            // Three picks that still do not fit will not begin to.
            if (picks.Length < 3)
            {
                return answer with { Prompt = $"{kind}: picked {string.Join(", ", picks)}; pick {rule.Needs}" };
            }

            picks = [];
            return answer with { Refusal = notYet, Picks = picks };
        }

        var draft = new Draft(context.Sketch);
        draft.Tie(kind, [.. picks]);
        picks = [];
        return answer with { Command = Edit(context, draft.Edit, kind), Picks = picks };
    }
}
