using System.Collections.Immutable;
using Ratiogon.Core.Building;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Core.Tools.Forms;

/// <summary>A centre that was pointed at on a face.</summary>
/// <param name="Command">What makes it: a sketch on the face, or one more point in the sketch that is there.</param>
/// <param name="Reference">The point, as the hole takes it.</param>
public sealed record PlacedCentre(PartCommand Command, string Reference);

/// <summary>Places the centre of a hole where a flat face was pointed at: a point of a sketch there, with sizes to two edges of the face
/// that cross (of a round face, to its middle), so that it can be set afterwards like anything that was drawn.</summary>
public static class CentrePlacing
{
    /// <summary>The sine of the least angle between two edges that a place is sized from.</summary>
    private const double Across = 0.25;

    /// <summary>How finely places are rounded: to so many pixels and no finer.</summary>
    private const double Coarse = 4;

    /// <summary>What makes a centre where a ray meets a face, or why it cannot be.</summary>
    /// <param name="model">The part as it is built.</param>
    /// <param name="face">The face that was pointed at.</param>
    /// <param name="ray">From the eye through the place.</param>
    /// <param name="reach">What a pixel comes to there, in millimetres.</param>
    /// <param name="hole">The hole: a sketch that holds centres of it and lies on the face takes this one too, and a new one stands before
    /// it.</param>
    public static Outcome<PlacedCentre> On(Model model, string face, Line3 ray, double reach, FormStep hole)
    {
        ArgumentNullException.ThrowIfNull(model);
        ArgumentNullException.ThrowIfNull(face);
        ArgumentNullException.ThrowIfNull(hole);
        return model
            .Find(face)
            .Then<PlacedCentre>(thing =>
            {
                if (thing.Plane is not { } flat || model.BodyOf(face) is null)
                {
                    return new Refusal("hole.place", $"{thing.Words} is not flat: pick a flat face, or a point.", "centres");
                }

                var lean = flat.Z.Dot(ray.Direction);
                if (Math.Abs(lean) < Tolerances.DrawnAngle)
                {
                    return new Refusal("hole.place-edge-on", $"{thing.Words} is seen edge-on: turn the view a little.", "centres");
                }

                var at = ray.Origin + (ray.Direction * ((flat.Origin - ray.Origin).Dot(flat.Z) / lean));
                var step = hole
                    .References.Select(World.StepOf)
                    .Select(model.Part.Find)
                    .OfType<SketchStep>()
                    .FirstOrDefault(s => s.On == face && s.Like is null);
                return step is null ? New(model, face, at, reach, hole) : Added(model, model.Part, step, face, at, reach, []);
            });
    }

    private static Outcome<PlacedCentre> New(Model model, string face, Vec3 at, double reach, FormStep hole)
    {
        var begun = new AddStep(new SketchStep("", 0, "", face, Sketch.Empty)).Apply(model.Part);
        if (!begun.Done)
        {
            return begun.Refusal!;
        }

        var part = begun.Value;
        var step = part.Steps.OfType<SketchStep>().First(s => model.Part.Find(s.Id) is null);
        ImmutableArray<PartCommand> commands = [new AddStep(step)];
        if (part.Find(hole.Id) is { } edited)
        {
            var place = part.Steps.IndexOf(edited);
            var moved = new MoveStep(step.Id, place > 0 ? part.Steps[place - 1].Id : null);
            var next = moved.Apply(part);
            if (!next.Done)
            {
                return next.Refusal!;
            }

            (part, commands) = (next.Value, commands.Add(moved));
        }

        return Added(model, part, step, face, at, reach, commands);
    }

    private static Outcome<PlacedCentre> Added(
        Model model,
        Part part,
        SketchStep step,
        string face,
        Vec3 at,
        double reach,
        ImmutableArray<PartCommand> commands
    )
    {
        var plane = step.PlaneIn(model);
        if (!plane.Done)
        {
            return plane.Refusal!;
        }

        var from = new List<string>();
        foreach (var edge in Edges(model, face, at))
        {
            var taken = Copied(model, part, step, edge);
            if (!taken.Done)
            {
                return taken.Refusal!;
            }

            (part, step) = (taken.Value.Part, taken.Value.Step);
            from.Add(taken.Value.Entity);
            commands = taken.Value.Command is { } copying ? commands.Add(copying) : commands;
        }

        var edit = Point(part, step.Sketch, from, plane.Value.ToPlane(at), reach, out var point);
        commands = commands.Add(new EditSketch(step.Id, edit, "place a centre"));
        var command = commands.Length == 1 ? commands[0] : new Several(commands, "place a centre");
        return command.Apply(model.Part).Map(_ => new PlacedCentre(command, $"{step.Id}/{point}"));
    }

    /// <summary>A thing of the model in the sketch: the copy that is there, or a new one.</summary>
    private sealed record Taken(Part Part, SketchStep Step, string Entity, PartCommand? Command);

    private static Outcome<Taken> Copied(Model model, Part part, SketchStep step, string reference)
    {
        if (
            step.Copies.IsDefaultOrEmpty is false
            && step.Copies.FirstOrDefault(c => c.How == CopyHow.Copy && c.Of == reference) is { } known
        )
        {
            return new Taken(part, step, known.Entities[^1], null);
        }

        return SketchCopies
            .Take(model, step, CopyHow.Copy, reference)
            .Then(command =>
                command
                    .Apply(part)
                    .Map(next =>
                    {
                        var now = (SketchStep)next.Find(step.Id)!;
                        return new Taken(next, now, now.Copies[^1].Entities[^1], command);
                    })
            );
    }

    /// <summary>The point with its sizes, rounded as the view shows it; where a size comes to nothing the point is tied instead.</summary>
    private static SketchEdit Point(Part part, Sketch sketch, List<string> from, Vec2 at, double reach, out string point)
    {
        var draft = new Draft(sketch);
        var id = point = draft.NewPoint(at);
        void Size(string kind, double length, string tied, params string[] of)
        {
            var value = Rounded(length, reach, part.Units);
            _ = value > 0 ? draft.Size(kind, Units.Show(Quantity.Length(value), part.Units, 4), of) : draft.Tie(tied, of);
        }

        if (from.Count == 2)
        {
            foreach (var line in from)
            {
                Size("distance", ToLine(sketch, line, at), "on-curve", id, line);
            }

            return draft.Edit;
        }

        var middle = from.Count == 1 && sketch.Find(from[0]) is CircleEntity circle ? circle.Centre : Sketch.Origin;
        var off = at - sketch.At(middle);
        Size("horizontal-distance", Math.Abs(off.X), "vertical", middle, id);
        Size("vertical-distance", Math.Abs(off.Y), "horizontal", middle, id);
        return draft.Edit;
    }

    private static double ToLine(Sketch sketch, string id, Vec2 at)
    {
        var line = (LineEntity)sketch.Find(id)!;
        var (a, b) = (sketch.At(line.From), sketch.At(line.To));
        return Math.Abs((b - a).Unit.Cross(at - a));
    }

    /// <summary>Two straight edges of a face that cross, the nearest first; else a round one; else none.</summary>
    private static IReadOnlyList<string> Edges(Model model, string face, Vec3 at)
    {
        var body = model.Named.First(b => b.Names.Faces.Contains(face) || b.Names.Find(face) is not null);
        var number = body.Names.Find(face)!.Value.Index;
        var around = body
            .Topology.Edges.Select((e, i) => (Edge: e, Name: body.Names.Edges[i]))
            .Where(e => e.Edge.Faces.Contains(number) && model.Find(e.Name).Done)
            .ToList();
        var straight = around
            .Where(e => e.Edge.Curve == "line")
            .Select(e => (e.Name, Line: model.Find(e.Name).Value.Straight!.Value))
            .OrderBy(e => e.Line.DistanceTo(at))
            .ToList();
        foreach (var first in straight.Take(1))
        {
            var second = straight.FirstOrDefault(e => e.Line.Direction.Cross(first.Line.Direction).Length > Across);
            if (second.Name is not null)
            {
                return [first.Name, second.Name];
            }
        }

        return [.. around.Where(e => e.Edge.Curve == "circle").OrderBy(e => e.Edge.Centre.DistanceTo(at)).Take(1).Select(e => e.Name)];
    }

    /// <summary>In millimetres, as fine in the part's unit as the view shows it.</summary>
    private static double Rounded(double length, double reach, LengthUnit unit)
    {
        var one = unit == LengthUnit.Inch ? Units.MillimetresPerInch : 1;
        var step = Math.Pow(10, Math.Ceiling(Math.Log10(Math.Max(reach * Coarse / one, Tolerances.SmallestSize))));
        return Math.Round(length / one / step) * step * one;
    }
}
