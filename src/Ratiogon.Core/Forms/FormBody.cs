using System.Collections.Immutable;
using Ratiogon.Core.Kernel;

namespace Ratiogon.Core.Forms;

/// <summary>A body as it stands after some step. What is known of it is worked out when first asked for: of most bodies between
/// two steps nobody asks how they hang together.</summary>
/// <param name="kernel">Asked for it.</param>
/// <param name="name">Id of the step that began it.</param>
/// <param name="key">Content key: the same key means the same geometry.</param>
/// <param name="shape">Its geometry and the history of its faces.</param>
public sealed class FormBody(ISolidKernel kernel, string name, string key, Shaped shape) : INamedBody
{
    /// <summary>Bounds of how far drawn triangles stray, in millimetres, and how much further those of a moment.</summary>
    private const double Finest = 0.002,
        Roughest = 2,
        Coarser = 8;

    private readonly Lock gate = new();
    private Topology? topology;
    private Names? names;
    private Box? box;
    private MassProperties? mass;
    private SolidMesh? mesh,
        coarse;

    /// <summary>Id of the step that began it.</summary>
    public string Name => name;

    /// <summary>Content key: the same key means the same geometry.</summary>
    public string Key => key;

    /// <summary>Whether it is no body but only looks like what it will be; see <see cref="FormSite.Quick"/>.</summary>
    public bool OnlyLooks { get; init; }

    /// <summary>Its geometry and the history of its faces.</summary>
    public Shaped Shape => shape;

    public ISolid Solid => shape.Solid;

    /// <summary>How it hangs together.</summary>
    public Topology Topology
    {
        get
        {
            lock (gate)
            {
                return topology ??= Guided(kernel.Describe(Solid), shape);
            }
        }
    }

    /// <summary>Complete names.</summary>
    public Names Names
    {
        get
        {
            var described = Topology;
            lock (gate)
            {
                return names ??= Names.Of(shape.Bases, described);
            }
        }
    }

    /// <summary>Along the world axes.</summary>
    public Box Box
    {
        get
        {
            lock (gate)
            {
                return box ??= kernel.Bounds(Solid);
            }
        }
    }

    /// <summary>Whether a reference means this body as a whole.</summary>
    public bool IsCalled(string reference) => Kernel.World.IsBody(reference, Name);

    /// <summary>Volume, area and centre.</summary>
    public MassProperties Mass
    {
        get
        {
            lock (gate)
            {
                return mass ??= kernel.Mass(Solid);
            }
        }
    }

    public Vec3 Centre => Mass.Centre;

    /// <summary>Its triangles.</summary>
    public SolidMesh Mesh()
    {
        var deviation = Deviation;
        lock (gate)
        {
            return mesh ??= kernel.Mesh(Solid, deviation);
        }
    }

    /// <summary>Its triangles where they are there already, else coarse ones.</summary>
    /// <returns>With whether they are coarse.</returns>
    public DrawnNow MeshNow()
    {
        var deviation = Deviation * Coarser;
        lock (gate)
        {
            return mesh is not null
                ? new DrawnNow(mesh, false)
                : new DrawnNow(coarse ??= kernel.Mesh(Solid, deviation, coarse: true), true);
        }
    }

    /// <summary>In steps of a half octave: while sizes change a little, faces that do not change keep their triangles.</summary>
    private double Deviation =>
        Math.Clamp(Math.Pow(2, Math.Floor(Math.Log2(Box.Diagonal * Tolerances.DrawnDeviation) * 2) / 2), Finest, Roughest);

    /// <summary>The body that a reference names, or names a part of, and that part; null for anything else.</summary>
    public static BodyPart? Named(ImmutableArray<FormBody> bodies, string reference)
    {
        foreach (var body in bodies)
        {
            if (body.IsCalled(reference))
            {
                return new BodyPart(body, default(SubShape));
            }

            if (body.Names.Find(reference) is { } found)
            {
                return new BodyPart(body, found);
            }
        }

        return null;
    }

    /// <summary>The same with every piece that the name means now; none for anything else.</summary>
    public static BodyParts AllNamed(ImmutableArray<FormBody> bodies, string reference)
    {
        var body = bodies.FirstOrDefault(b => b.IsCalled(reference) || b.Names.Find(reference) is not null);
        return body is null ? default : new BodyParts(body, body.IsCalled(reference) ? [default] : body.Names.All(reference));
    }

    /// <summary>The flat faces with axes that follow what they were made from, and the others with where angles about them begin.</summary>
    private static Topology Guided(Topology topology, Shaped shape) =>
        shape.Guides.IsEmpty
            ? topology
            : topology with
            {
                Faces =
                [
                    .. topology.Faces.Select(
                        (f, i) =>
                            shape.Guide(i) is { Given: true } guide
                                ? f with
                                {
                                    Plane = f.Plane is { } p ? guide.On(p.Origin, p.Z) : null,
                                    Guide = guide,
                                }
                                : f
                    ),
                ],
            };
}

/// <summary>Triangles to show now.</summary>
/// <param name="Mesh">Fine or coarse.</param>
/// <param name="Coarse">Whether finer ones have yet to be made.</param>
public readonly record struct DrawnNow(SolidMesh Mesh, bool Coarse);

/// <summary>What a form gives.</summary>
public abstract record FormResult
{
    /// <summary>What is worth knowing though it was built.</summary>
    public ImmutableArray<string> Notes { get; init; } = [];

    /// <summary>Threads that are only drawn.</summary>
    public ImmutableArray<DrawnThread> Threads { get; init; } = [];

    /// <summary>Its holes, for the hole table.</summary>
    public ImmutableArray<HoleRow> Holes { get; init; } = [];
}

/// <summary>Material to be added to the bodies, or taken from them.</summary>
/// <param name="Tools">The pieces of it; they may touch.</param>
/// <param name="Operation">What it does.</param>
/// <param name="Bodies">The bodies that it works on; none for all that it meets.</param>
public sealed record MaterialResult(ImmutableArray<Shaped> Tools, FormOperation Operation, Refs Bodies) : FormResult
{
    /// <summary>The name of the body that it begins, where that is not to be found by counting.</summary>
    public string? Begins { get; init; }

    /// <summary>Turned tools, besides the others; made solid only where a boolean needs them.</summary>
    public ImmutableArray<RoundTool> Round { get; init; } = [];

    /// <summary>Every tool as a solid.</summary>
    public Outcome<ImmutableArray<Shaped>> Solids(ISolidKernel kernel)
    {
        var all = Tools.ToBuilder();
        foreach (var round in Round)
        {
            var made = round.Make(kernel);
            if (!made.Done)
            {
                return made.Refusal!;
            }

            all.Add(made.Value);
        }

        return all.ToImmutable();
    }
}

/// <summary>Several of them, one after the other.</summary>
public sealed record SeveralResult(ImmutableArray<MaterialResult> All) : FormResult;

/// <summary>Bodies in a new state, by name; those that it does not name stay, those without a shape go.</summary>
public sealed record BodiesResult(ImmutableArray<ChangedBody> Bodies) : FormResult;

/// <summary>A body, or a part of one.</summary>
/// <param name="Body">The body.</param>
/// <param name="Part">Its face, edge or corner; nothing for all of it.</param>
public readonly record struct BodyPart(FormBody Body, SubShape Part);

/// <summary>A body and the parts of it that a name means.</summary>
/// <param name="Body">The body.</param>
/// <param name="Parts">Its faces, edges or corners.</param>
public readonly record struct BodyParts(FormBody Body, ImmutableArray<SubShape> Parts);

/// <summary>Faces of one body.</summary>
/// <param name="Body">The body.</param>
/// <param name="Faces">Their numbers.</param>
public readonly record struct BodyFaces(FormBody Body, ImmutableArray<int> Faces);

/// <summary>A body in a new state.</summary>
/// <param name="Name">Of the body.</param>
/// <param name="Now">Its new shape; null where it goes.</param>
public readonly record struct ChangedBody(string Name, Shaped? Now);
