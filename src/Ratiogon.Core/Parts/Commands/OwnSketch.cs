using Ratiogon.Core.Parts.Steps;

namespace Ratiogon.Core.Parts.Commands;

/// <summary>Makes a live copy of a sketch one of its own: drawn as its original is now, with its rules and sizes, and free of it.</summary>
[Kind("own-sketch")]
public sealed record OwnSketch(string Step) : PartCommand
{
    public override string Words => $"make {Step} a sketch of its own";

    protected override Outcome<Part> Make(Part part)
    {
        if (part.Find(Step) is not SketchStep step)
        {
            return NoStep(Step);
        }

        // Copies of copies: the first of them says how it is drawn.
        var original = step;
        while (original.Like is { } like)
        {
            if (part.Find(like) is not SketchStep next)
            {
                return new Refusal("sketch.copy", $"{step.Name} is no live copy of a sketch that is there.", Step);
            }

            original = next;
        }

        return ReferenceEquals(original, step)
            ? new Refusal("sketch.copy", $"{step.Name} is a sketch of its own already.", Step)
            : part.With(step with { Like = null, Sketch = original.Sketch, Copies = [] });
    }
}
