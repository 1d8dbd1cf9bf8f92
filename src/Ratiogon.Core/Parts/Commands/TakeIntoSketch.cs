using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Core.Parts.Commands;

/// <summary>Adds a live copy of something of the model to a sketch.</summary>
[Kind("take-into-sketch")]
public sealed record TakeIntoSketch(string Step, SketchEdit Edit, SketchCopy Copy) : PartCommand
{
    public override string Words => $"take {Copy.Of} into the sketch";

    protected override Outcome<Part> Make(Part part) =>
        new EditSketch(Step, Edit, Words)
            .Apply(part)
            .Then<Part>(edited =>
            {
                var step = (SketchStep)edited.Find(Step)!;
                var taken = step with { Copies = step.Copies.Add(Copy) };
                return StepRules.Check(edited, taken, step) is { } wrong ? wrong : edited.With(taken);
            });
}
