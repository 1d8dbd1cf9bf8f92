using System.Collections.Immutable;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Applying;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Rules;

namespace Ratiogon.Core.Parts.Commands;

/// <summary>Changes what is drawn in a sketch.</summary>
[Kind("edit-sketch")]
public sealed record EditSketch(string Step, SketchEdit Edit, string What = "edit the sketch") : PartCommand
{
    public override string Words => What;

    public override string? Said(Part before, Part after)
    {
        ArgumentNullException.ThrowIfNull(before);
        ArgumentNullException.ThrowIfNull(after);
        return !Edit.Tie.IsEmpty && before.Find(Step) is SketchStep was && after.Find(Step) is SketchStep now
            ? Sketches.Solving.Turns.Said(was.Sketch, now.Sketch)
            : null;
    }

    protected override Outcome<Part> Make(Part part)
    {
        if (part.Find(Step) is not SketchStep edited)
        {
            return NoStep(Step);
        }

        if (edited.Bound(part) is { } bound)
        {
            return bound;
        }

        var sizes = ImmutableArray.CreateBuilder<SketchDimension>();
        foreach (var dimension in Edit.Size)
        {
            if (!dimension.Driving || DimensionCatalog.Find(dimension.Kind) is not { } kind)
            {
                sizes.Add(dimension);
                continue;
            }

            var named = Naming.Of(part, dimension.Value, kind.Of);
            if (!named.Done)
            {
                return named.Refusal! with { Where = dimension.Id };
            }

            (part, var text) = named.Value;
            var formula = Formula.ForField(text, kind.Of, part.Units, part.Values.Of);
            if (!formula.Done)
            {
                return formula.Refusal! with { Where = dimension.Id };
            }

            sizes.Add(dimension with { Value = formula.Value.Text });
        }

        var step = (SketchStep)part.Find(Step)!;
        return SketchEditor
            .Apply(step.Sketch, Edit with { Size = sizes.ToImmutable() }, part.Values)
            .Map(sketch => part.With(step with { Sketch = sketch, Copies = SketchCopy.Living(sketch, step.Copies) }));
    }
}
