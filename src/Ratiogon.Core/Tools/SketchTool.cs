using System.Collections.Immutable;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Core.Tools;

/// <summary>A place that was typed.</summary>
/// <param name="At">Where, in millimetres.</param>
/// <param name="X">The first formula.</param>
/// <param name="Y">The second.</param>
public readonly record struct TypedPoint(Vec2 At, string X, string Y);

/// <summary>A tool as a state machine without a screen. It stays active until it is left. A new tool is one subclass
/// and one line in <see cref="ToolCatalog"/>.</summary>
public abstract class SketchTool
{
    /// <summary>Starts with what was picked before the tool was taken up.</summary>
    public virtual void Begin(ImmutableArray<string> picks) { }

    /// <summary>Answers one input. The context is the part as it is now.</summary>
    public abstract ToolAnswer Handle(ToolContext context, ToolInput input);

    protected static PreviewCurve Line(Vec2 a, Vec2 b) => new("line", [a.X, a.Y, b.X, b.Y]);

    protected static PreviewCurve Circle(Vec2 c, double r) => new("circle", [c.X, c.Y, r]);

    protected static PreviewCurve Point(Vec2 p) => new("point", [p.X, p.Y]);

    /// <summary>An arc counterclockwise from one place to another.</summary>
    protected static PreviewCurve Arc(Vec2 c, Vec2 from, Vec2 to)
    {
        var sweep = (to - c).Angle - (from - c).Angle;
        return new PreviewCurve("arc", [c.X, c.Y, from.DistanceTo(c), (from - c).Angle, sweep <= 0 ? sweep + (2 * Math.PI) : sweep]);
    }

    protected static PreviewCurve Path(IEnumerable<Vec2> places) => new("path", [.. places.SelectMany(p => new[] { p.X, p.Y })]);

    /// <summary>What a change would draw, straight from its entities.</summary>
    protected static ImmutableArray<PreviewCurve> Drawn(Sketch sketch, SketchEdit edit)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        ArgumentNullException.ThrowIfNull(edit);
        var with = sketch with { Entities = sketch.Entities.AddRange(edit.Add) };
        var curves = edit.Add.Any(e => e is not PointEntity);
        return [.. edit.Add.Where(e => !curves || e is not PointEntity).Select(e => PreviewCurves.Of(with, e)).OfType<PreviewCurve>()];
    }

    /// <summary>Two typed numbers place a point.</summary>
    protected static Outcome<TypedPoint>? Coordinates(ToolContext context, string text)
    {
        ArgumentNullException.ThrowIfNull(context);
        ArgumentNullException.ThrowIfNull(text);

        // A comma inside brackets separates the arguments of a function.
        var depth = 0;
        for (var i = 0; i < text.Length; i++)
        {
            depth +=
                text[i] == '(' ? 1
                : text[i] == ')' ? -1
                : 0;
            if (text[i] == ',' && depth == 0)
            {
                var second = text[(i + 1)..];
                return context
                    .Read(text[..i], Quantities.Dimension.OfLength)
                    .Then(x =>
                        context
                            .Read(second, Quantities.Dimension.OfLength)
                            .Map(y => new TypedPoint(new Vec2(x.Value, y.Value), x.Text, y.Text))
                    );
            }
        }

        return null;
    }

    /// <summary>The change as a command; curves become construction geometry where the user asked for that.</summary>
    protected static PartCommand Edit(ToolContext context, ToolInput input, SketchEdit edit, string what)
    {
        ArgumentNullException.ThrowIfNull(context);
        ArgumentNullException.ThrowIfNull(input);
        ArgumentNullException.ThrowIfNull(edit);
        edit = edit with { Draws = true };
        return new EditSketch(
            context.Step.Id,
            input.Construction
                ? edit with
                {
                    Add = [.. edit.Add.Select(e => e is PointEntity ? e : e with { Construction = true })],
                }
                : edit,
            what
        );
    }
}
