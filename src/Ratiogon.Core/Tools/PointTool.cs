using Ratiogon.Core.Sketching;

namespace Ratiogon.Core.Tools;

/// <summary>Points, by click or by two numbers.</summary>
public sealed class PointTool : SketchTool
{
    public override ToolAnswer Handle(ToolContext context, ToolInput input)
    {
        var answer = new ToolAnswer { Prompt = "Click where the point goes, or type x, y", Fields = TypedFields.Point };
        var place = Snapper.Snap(context.Sketch, input);
        switch (input.Kind)
        {
            case InputKind.Cancel:
                return answer with { Leave = true };
            case InputKind.Typed when Coordinates(context, input.Text) is { } typed:
                if (!typed.Done)
                {
                    return answer with { Refusal = typed.Refusal };
                }

                var placed = new Draft(context.Sketch);
                var id = placed.NewId("p");
                placed.Add(new PointEntity(id, typed.Value));
                return answer with { Command = Edit(context, placed.Edit.With(ShapeCatalog.Placed(id, id, typed.Value)), $"point {id}") };
            case InputKind.Typed:
                return answer with { Refusal = new Refusal("tool.coordinates", "Type two lengths separated by a comma, such as 20, 10.", "point") };
            case InputKind.Click when place.Existing is not null:
                return answer with { Refusal = new Refusal("tool.point-there", $"There is already a point here: {place.Existing}.") };
            case InputKind.Click:
                var draft = new Draft(context.Sketch);
                return answer with { Command = Edit(context, Drawn(draft, place), "point"), Snap = place.Mark };
            default:
                return answer with { Preview = [Point(place.At)], Snap = place.Mark, Inferred = place.Words is { } w ? [w] : [] };
        }
    }

    private static Sketching.Editing.SketchEdit Drawn(Draft draft, Place place)
    {
        draft.PointAt(place);
        return draft.Edit;
    }
}
