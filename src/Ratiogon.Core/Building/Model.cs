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

/// <summary>What references name, as the model stands: filled step by step while a part is built, or at once from a finished
/// rebuild. Nothing of it changes the part.</summary>
public sealed class Model : IModel
{
    private readonly ConcurrentDictionary<string, (Step Step, Frame Frame)> frames = new(StringComparer.Ordinal);
    private readonly ConcurrentDictionary<string, Thing> curves = new(StringComparer.Ordinal);
    private readonly ConcurrentDictionary<string, PlacedSketch> sketches = new(StringComparer.Ordinal);
    private readonly ConcurrentDictionary<string, INamedBody> references = new(StringComparer.Ordinal);
    private readonly Dictionary<string, Thing> known = new(StringComparer.Ordinal);
    private readonly ImmutableArray<INamedBody> bodies = [];
    private Wording? wording;

    /// <param name="part">Its steps lend their names to the words.</param>
    public Model(Part part) => (Part, Values) = (part, part.Values);

    private Model(Model of, ImmutableArray<INamedBody> bodies)
    {
        (Part, Values) = (of.Part, of.Values);
        (frames, curves, sketches, references) = (of.frames, of.curves, of.sketches, of.references);
        this.bodies = bodies;
    }

    public Part Part { get; }

    /// <summary>What names in formulas stand for: parameters, and readings once they are taken.</summary>
    public ParameterValues Values { get; private set; }

    /// <summary>Cuts the bodies with a plane, where that can be done.</summary>
    public Func<Frame, Outcome<ImmutableArray<SectionCurve>>>? Section { get; set; }

    /// <summary>The model after a finished rebuild.</summary>
    public static Model Of(Part part, RebuildResult built)
    {
        ArgumentNullException.ThrowIfNull(part);
        ArgumentNullException.ThrowIfNull(built);
        var model = new Model(part).Seeing([.. built.Bodies]);
        built.References.ToList().ForEach(model.Add);

        foreach (var step in part.Steps)
        {
            if (built.Step(step.Id) is { State: StepState.Built } result)
            {
                if (step is SketchStep sketch && result.Frame is { } plane)
                {
                    model.Add(sketch, result.Followed() ?? sketch.Sketch, plane);
                }
                else if (step is ReadingStep reading && result.Reading is { } read && ReadingCatalog.Find(reading.What) is { } kind)
                {
                    model.Add(reading, new Quantity(read, kind.Kind));
                }
                else if (step is CurveStep curve)
                {
                    _ = model.Build(curve);
                }
                else if (result.Frame is { } frame)
                {
                    model.Add(step, frame);
                }
            }
        }

        return model;
    }

    /// <summary>The same model as far as one step sees it: its own bodies and the readings so far; what it names is named here
    /// too. Views may be used side by side.</summary>
    public Model Seeing(ImmutableArray<INamedBody> seen) => new(this, seen);

    /// <summary>Lets formulas use a reading from now on; a parameter of the same name comes first.</summary>
    public void Add(ReadingStep step, Outcome<Quantity> value)
    {
        ArgumentNullException.ThrowIfNull(step);
        if (step.Named && Part.Parameters.All(p => p.Name != step.Name))
        {
            Values = Values.With(step.Name, value);
        }
    }

    /// <summary>Names a plane, axis, point or frame.</summary>
    public void Add(Step step, Frame frame)
    {
        ArgumentNullException.ThrowIfNull(step);
        frames[step.Id] = (step, frame);
    }

    /// <summary>Names the faces, edges and points of a reference.</summary>
    public void Add(INamedBody reference)
    {
        ArgumentNullException.ThrowIfNull(reference);
        references[reference.Name] = reference;
    }

    /// <summary>Names a sketch with all its entities.</summary>
    public void Add(SketchStep step, Sketch sketch, Frame plane)
    {
        ArgumentNullException.ThrowIfNull(step);
        sketches[step.Id] = new PlacedSketch(step, sketch, plane);
    }

    /// <summary>A built sketch; null for anything else.</summary>
    public PlacedSketch? SketchOf(string id) => sketches.GetValueOrDefault(id);

    /// <summary>Whether there is a body of material.</summary>
    public bool HasBody => bodies.Any(b => b is not Meshes.ReferenceBody);

    /// <summary>The body of material that a reference names or names a part of; null for anything else, triangles of a file too.</summary>
    public string? BodyOf(string reference) =>
        bodies
            .FirstOrDefault(b => b is not Meshes.ReferenceBody && (World.IsBody(reference, b.Name) || b.Names.Find(reference) is not null))
            ?.Name;

    /// <summary>Every body, those of files too.</summary>
    internal IEnumerable<INamedBody> Named => bodies.Concat(references.Values);

    public string WordsOf(string reference) => Wording.Of(reference);

    public string InWords(string text) => Wording.In(text);

    /// <summary>What people call what references name.</summary>
    public Wording Wording => wording ??= new Wording(this);

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

    /// <summary>A condition with its things and values, ready to be solved.</summary>
    public Outcome<Condition> Resolve(DatumKind kind, DatumCondition condition)
    {
        ArgumentNullException.ThrowIfNull(condition);
        if (condition.Check(kind) is { } wrong)
        {
            return wrong;
        }

        var relation = RelationCatalog.Find(kind, condition.Relation)!;
        var things = ImmutableArray.CreateBuilder<Thing>();
        foreach (var reference in condition.Of)
        {
            var thing = Find(reference);
            if (!thing.Done)
            {
                return thing.Refusal!;
            }

            things.Add(thing.Value);
        }

        if (!relation.Fits(things))
        {
            return new Refusal(
                "datum.unfit",
                $"'{relation.Words}' cannot be said of {string.Join(" and ", things.Select(t => t.Words))}.",
                condition.Of.FirstOrDefault()
            );
        }

        var values = ImmutableArray.CreateBuilder<double>();
        for (var i = 0; i < relation.Fields.Length; i++)
        {
            var field = relation.Fields[i];
            var value = Formula
                .Parse(condition.Values[i])
                .Then(f => f.Evaluate(Values.Of))
                .Then<double>(q =>
                    q.Dimension == field.Kind
                        ? q.Value
                        : new Refusal(
                            "formula.kind",
                            $"{field.Name} needs {field.Kind.Words}; '{condition.Values[i]}' is {q.Dimension.Words}.",
                            field.Name
                        )
                );
            if (!value.Done)
            {
                return value.Refusal!;
            }

            values.Add(value.Value);
        }

        return new Condition(relation, things.ToImmutable(), values.ToImmutable());
    }

    /// <summary>Every condition resolved, or the first refusal.</summary>
    public Outcome<ImmutableArray<Condition>> Resolve(DatumKind kind, IEnumerable<DatumCondition> conditions)
    {
        ArgumentNullException.ThrowIfNull(conditions);
        var all = ImmutableArray.CreateBuilder<Condition>();
        foreach (var c in conditions)
        {
            var resolved = Resolve(kind, c);
            if (!resolved.Done)
            {
                return resolved.Refusal!;
            }

            all.Add(resolved.Value);
        }

        return all.ToImmutable();
    }

    /// <summary>Where a datum lies, and that it is named from now on.</summary>
    public Outcome<Frame> Build(DatumStep step)
    {
        ArgumentNullException.ThrowIfNull(step);
        return Resolve(step.Makes, step.Conditions)
            .Then<Frame>(conditions =>
            {
                var determined = DatumSolver.Solve(step.Makes, conditions);
                if (determined.Refusal is null && determined.Free > 0 && step.Makes != DatumKind.Frame)
                {
                    var why = determined.Redundant ? Reasons.Of(step.Makes, conditions)?.Message + " " : "";
                    return new Refusal(
                        "datum.free",
                        $"{why.TrimStart()}{(determined.Free == 1 ? "One freedom is" : $"{determined.Free} freedoms are")} left: "
                            + $"{string.Join("; ", determined.Left)}."
                    );
                }

                return DatumSolver
                    .Choose(determined, step.Choice)
                    .Map(s =>
                    {
                        var frame = step.Flip ? Flipped(step.Makes, s.Frame) : s.Frame;
                        Add(step, frame);
                        return frame;
                    });
            });
    }

    /// <summary>A 3D curve, named from now on.</summary>
    public Outcome<CurvePath> Build(CurveStep step)
    {
        ArgumentNullException.ThrowIfNull(step);
        return SpaceCurves
            .Make(this, step)
            .Map(path =>
            {
                curves[step.Id] = Thing.OfCurve(step.Id, step.Name, path);
                return path;
            });
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

    /// <summary>A datum the other way round: the normal of a plane, the direction of an axis.</summary>
    public static Frame Flipped(DatumKind kind, Frame frame) =>
        kind switch
        {
            DatumKind.Plane => frame.Flipped(),
            DatumKind.Axis => frame with { X = -frame.X },
            DatumKind.Frame => frame with { X = -frame.X, Y = frame.Y },
            _ => frame,
        };

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
