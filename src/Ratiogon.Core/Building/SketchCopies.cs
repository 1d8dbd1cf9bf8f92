using System.Collections.Immutable;
using Ratiogon.Core.Datums;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Constraints;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Core.Building;

/// <summary>Takes edges, vertices, curves, sections and crossing points of the model into sketches, and keeps them up to date.</summary>
public static partial class SketchCopies
{
    /// <summary>A curve seen on edge is flat: lengths below this share of it are none.</summary>
    private const double Flat = 1e-9;

    /// <summary>The command that takes a thing into a sketch, or why it cannot be.</summary>
    /// <param name="model">With the sketch's plane and, for sections, the section there.</param>
    /// <param name="step">The sketch.</param>
    /// <param name="how">What of it.</param>
    /// <param name="reference">What.</param>
    public static Outcome<PartCommand> Take(Model model, SketchStep step, CopyHow how, string reference)
    {
        ArgumentNullException.ThrowIfNull(model);
        ArgumentNullException.ThrowIfNull(step);
        if (World.StepOf(reference) == step.Id)
        {
            return new Refusal("copy.self", "A sketch cannot copy from itself: pick something of the model.", reference);
        }

        return step.PlaneIn(model)
            .Then(plane =>
                model
                    .Find(reference)
                    .Then<PartCommand>(thing =>
                    {
                        if (how == CopyHow.Section && thing.Box is not null)
                        {
                            return WholeSection(model, step, plane);
                        }

                        var draft = new Draft(step.Sketch);
                        var drawn = Drawn(model, thing, how, plane, null);
                        if (!drawn.Done)
                        {
                            return drawn.Refusal!;
                        }

                        var before = draft.Edit.Add.Length;
                        foreach (var piece in drawn.Value.Pieces)
                        {
                            piece.Into(draft);
                        }

                        var ids = draft.Edit.Add.Skip(before).OrderBy(e => e is PointEntity ? 0 : 1).Select(e => e.Id).ToImmutableArray();
                        var held = draft.Edit.Add.Where(e => e is PointEntity or CircleEntity).Select(e => e.Id).ToArray();
                        draft.Change(e =>
                            e with
                            {
                                Add = [.. e.Add.OrderBy(o => o is PointEntity ? 0 : 1).Select(o => o with { Construction = true })],
                            }
                        );
                        draft.Tie("fixed", held);
                        return new TakeIntoSketch(step.Id, draft.Edit, new SketchCopy(how, reference, ids) { Choice = drawn.Value.Choice });
                    })
            );
    }

    /// <summary>The section of every face that the sketch plane meets, each a copy by itself, so that one can be lost without the
    /// others.</summary>
    private static Outcome<PartCommand> WholeSection(Model model, SketchStep step, Frame plane)
    {
        if (model.Section is not { } section)
        {
            return new Refusal("copy.no-body", "There is no body to cut with the sketch plane yet.");
        }

        return section(plane)
            .Then<PartCommand>(curves =>
            {
                var (commands, now) = (new List<PartCommand>(), step);
                foreach (var face in curves.Select(c => c.Face).Distinct())
                {
                    var taken = Take(model, now, CopyHow.Section, face);
                    if (taken is not { Done: true, Value: TakeIntoSketch take })
                    {
                        return taken;
                    }

                    commands.Add(take);
                    now = now with
                    {
                        Sketch = now.Sketch with
                        {
                            Entities = now.Sketch.Entities.AddRange(take.Edit.Add),
                            Constraints = now.Sketch.Constraints.AddRange(take.Edit.Tie),
                        },
                    };
                }

                return commands.Count == 0
                    ? new Refusal("copy.section-misses", "The sketch plane misses the body.")
                    : new Several([.. commands], "take the section into the sketch");
            });
    }

    /// <summary>What to do about a thing that lies in front of the sketch or behind it: it meets a place of the sketch only as
    /// seen from the view.</summary>
    /// <param name="model">The model.</param>
    /// <param name="step">The sketch.</param>
    /// <param name="reference">What was pointed at.</param>
    /// <param name="at">Where, on the sketch plane.</param>
    /// <param name="ray">From the eye through that place.</param>
    /// <param name="point">A point of the sketch to be tied to the crossing, or null.</param>
    public static Outcome<SeenOnly> Apart(Model model, SketchStep step, string reference, Vec2 at, Line3 ray, string? point)
    {
        ArgumentNullException.ThrowIfNull(model);
        ArgumentNullException.ThrowIfNull(step);
        return step.PlaneIn(model)
            .Then(plane =>
                model
                    .Find(reference)
                    .Map(thing =>
                    {
                        var here = plane.ToWorld(at);
                        var there = thing.Point
                            ?? (thing.Path is { } path ? path.AtLength(path.NearestTo(ray)).At : thing.Straight?.Nearest(ray).Here ?? here);
                        var gap = here.DistanceTo(there);
                        var crossing = Take(model, step, CopyHow.Crossing, reference);
                        var copy = Take(model, step, CopyHow.Copy, reference);
                        var words =
                            gap < Tolerances.Length * 10
                                ? $"{thing.Words} meets the sketch plane here, but is no part of the sketch: take the "
                                    + $"crossing point into it."
                                : $"{thing.Words} only looks as if it lay here: it is {gap:0.###} mm away, "
                                    + $"{(plane.Z.Dot(there - here) > 0 ? "in front of" : "behind")} the sketch plane.";
                        return new SeenOnly(
                            words,
                            here,
                            there,
                            Tied(crossing, point),
                            copy.Done ? copy.Value : null,
                            crossing.Refusal?.Message
                        );
                    })
            );
    }

    private static PartCommand? Tied(Outcome<PartCommand> crossing, string? point)
    {
        if (!crossing.Done || point is null || crossing.Value is not TakeIntoSketch take)
        {
            return crossing.Done ? crossing.Value : null;
        }

        var tie = new SketchConstraint($"{take.Edit.Tie[0].Id}.at", "coincident", [take.Copy.Entities[0], point]);
        return new Several([take, new EditSketch(take.Step, new SketchEdit { Tie = [tie] }, "coincident")], "coincident with the crossing");
    }
}
