using System.Collections.Concurrent;
using System.Collections.Immutable;
using Ratiogon.Core.Datums;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;

namespace Ratiogon.Core.Building;

/// <summary>What references name: the things of steps, sketches and bodies.</summary>
public sealed partial class Model
{
    /// <summary>What a reference names, or that it is lost with the closest there are now.</summary>
    public Outcome<Thing> Find(string reference)
    {
        ArgumentNullException.ThrowIfNull(reference);
        if (known.TryGetValue(reference, out var seen))
        {
            return seen;
        }

        if (World.Single(reference) is { Length: > 1 } edges)
        {
            return Chain(reference, edges);
        }

        var id = World.StepOf(reference);
        var member = reference.Length > id.Length ? reference[(id.Length + 1)..] : null;
        if (id == World.Id)
        {
            return FrameThings.Of(reference, "the world", Frame.World, member) is { } world ? world : Lost(reference);
        }

        if (frames.TryGetValue(id, out var datum) && Datum(reference, datum.Step, datum.Frame, member) is { } found)
        {
            return found;
        }

        if (member is null && curves.TryGetValue(id, out var curve))
        {
            return curve;
        }

        if (sketches.TryGetValue(id, out var sketch))
        {
            var entity = member is null
                ? Thing.OfPlane(reference, sketch.Step.Name, sketch.Plane)
                : SketchThings.Of(reference, sketch, member, Part.Units);
            return entity is not null
                ? entity
                : new Refusal("name.lost", $"'{member}' is no longer in sketch {sketch.Step.Name}.", reference);
        }

        return references.TryGetValue(id, out var triangles) ? OnBody(reference, [triangles]) : OnBody(reference, bodies);
    }

    /// <summary>The frame of anything flat that can be drawn on: a plane, a planar face, a frame.</summary>
    public Outcome<Frame> PlaneOf(string reference) =>
        Find(reference)
            .Then<Frame>(t =>
                (t.Frame ?? t.Plane) is { } plane
                    ? plane
                    : new Refusal(
                        "plane.curved",
                        t.Surface is { } s ? $"{t.Words} is a {s.Word}, not a plane." : $"{t.Words} is not flat.",
                        reference
                    )
            );

    private static Thing? Datum(string reference, Step step, Frame frame, string? member) =>
        step switch
        {
            PlaneStep when member is null => Thing.OfPlane(reference, step.Name, frame),
            AxisStep when member is null => Thing.OfLine(reference, step.Name, new Line3(frame.Origin, frame.X)) with
            {
                Guide = new AxisGuide(frame.Y, Vec3.Zero),
            },
            PointStep when member is null => Thing.OfPoint(reference, step.Name, frame.Origin),
            FrameStep => FrameThings.Of(reference, step.Name, frame, member),
            _ => null,
        };

    private Outcome<Thing> OnBody(string reference, ImmutableArray<INamedBody> bodies)
    {
        if (bodies.IsEmpty)
        {
            return Part.Find(World.StepOf(reference)) is not (FormStep or ImportStep or MeshStep)
                ? Lost(reference)
                : new Refusal("name.no-body", $"'{reference}' is part of a body, but there is no body yet.", reference);
        }

        foreach (var b in bodies)
        {
            if (World.IsBody(reference, b.Name))
            {
                return known[reference] = new Thing(
                    reference,
                    b is Meshes.ReferenceBody ? StepName(b.Name) : $"body {StepName(b.Name)}",
                    b.Centre
                )
                {
                    Box = b.Box,
                    Middle = b.Centre,
                };
            }

            var parts = b.Names.All(reference);
            List<Thing> made = [.. parts.Select(p => OfPart(b, p, reference)).OfType<Thing>()];
            if (made.Count == 1 && parts.Length == 1)
            {
                return known[reference] = made[0];
            }

            if (parts.Length > 1)
            {
                var pieces = parts.Select(b.Names.Of).ToImmutableArray();
                return made.Count == parts.Length && BodyThings.AsOne(made) is { } one
                    ? known[reference] = one with { Pieces = pieces }
                    : Names.InPieces(reference, pieces);
            }
        }

        var near = bodies.SelectMany(b => b.Names.Candidates(reference)).Take(3).ToList();
        return new Refusal("name.lost", $"'{reference}' is gone from the body. The closest now: {string.Join(", ", near)}.", reference)
        {
            Involved = near,
        };
    }

    private Thing? OfPart(INamedBody b, SubShape part, string reference)
    {
        var made = part switch
        {
            { Kind: SubShapeKind.Face, Index: var i } => BodyThings.Face(reference, b.Topology.Faces[i]),
            { Kind: SubShapeKind.Edge, Index: var i } => BodyThings.Edge(reference, b.Topology, i, b.Names),
            { Kind: SubShapeKind.Vertex, Index: var i } => Thing.OfPoint(reference, "", b.Topology.Vertices[i]),
            _ => null,
        };
        return made is null ? null : made with { Say = () => $"the {Wording.Of(b, part)}" };
    }

    /// <summary>Edges and curves that follow each other, as one path.</summary>
    private Outcome<Thing> Chain(string reference, string[] edges)
    {
        var (curves, guide) = (new List<SpaceCurve>(), AxisGuide.None);
        foreach (var edge in edges)
        {
            var found = Find(edge);
            if (!found.Done)
            {
                return found;
            }

            if (found.Value.Path is not { } path)
            {
                return new Refusal("path.no-curve", $"{found.Value.Words} is no curve: a path runs over edges and curves.", edge);
            }

            guide = guide.Given ? guide : found.Value.Guide;
            curves.AddRange(path.Curves);
        }

        return CurvePath.Of(curves).Map(path => Thing.OfCurve(reference, $"a path over {edges.Length} edges", path) with { Guide = guide });
    }

    private Refusal Lost(string reference)
    {
        var id = World.StepOf(reference);
        var near = frames.Keys.Concat(curves.Keys).Concat(sketches.Keys).OrderByDescending(k => Alike(k, id)).Take(3).ToList();
        return new Refusal(
            "name.lost",
            Part.Find(id) is { } there && id != reference
                ? $"'{reference}' is no part of {there.Name}."
                : $"'{reference}' is gone{(near.Count > 0 ? $". There are: {string.Join(", ", near)}" : "")}.",
            reference
        )
        {
            Involved = near,
        };
    }

    private string StepName(string reference) => Part.Find(World.StepOf(reference))?.Name ?? World.StepOf(reference);

    private static int Alike(string a, string b) => a.Zip(b).TakeWhile(p => p.First == p.Second).Count();
}
