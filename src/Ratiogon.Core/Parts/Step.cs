using System.Text.Json.Serialization;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Parts;

/// <summary>One row of the build sheet.</summary>
/// <param name="Id">Stable and readable; names of faces begin with it.</param>
/// <param name="Number">10, 20, 30 …; steps are built in this order.</param>
/// <param name="Name">As shown.</param>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "kind")]
[JsonDerivedType(typeof(PlaneStep), "plane")]
[JsonDerivedType(typeof(AxisStep), "axis")]
[JsonDerivedType(typeof(PointStep), "point")]
[JsonDerivedType(typeof(FrameStep), "frame")]
[JsonDerivedType(typeof(CurveStep), "curve")]
[JsonDerivedType(typeof(SketchStep), "sketch")]
[JsonDerivedType(typeof(ExtrudeStep), "extrude")]
[JsonDerivedType(typeof(RevolveStep), "revolve")]
[JsonDerivedType(typeof(SweepStep), "sweep")]
[JsonDerivedType(typeof(LoftStep), "loft")]
[JsonDerivedType(typeof(HoleStep), "hole")]
[JsonDerivedType(typeof(MirrorStep), "mirror")]
[JsonDerivedType(typeof(PatternStep), "pattern")]
[JsonDerivedType(typeof(ThreadStep), "thread")]
[JsonDerivedType(typeof(FilletStep), "fillet")]
[JsonDerivedType(typeof(ChamferStep), "chamfer")]
[JsonDerivedType(typeof(ShellStep), "shell")]
[JsonDerivedType(typeof(DraftStep), "draft")]
[JsonDerivedType(typeof(SplitStep), "split")]
[JsonDerivedType(typeof(CombineStep), "combine")]
[JsonDerivedType(typeof(ReadingStep), "reading")]
[JsonDerivedType(typeof(ImportStep), "import")]
[JsonDerivedType(typeof(MeshStep), "mesh")]
[JsonDerivedType(typeof(UnreadStep), "unread")]
public abstract record Step(string Id, int Number, string Name)
{
    /// <summary>A suppressed step is kept but not built.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool Suppressed { get; init; }

    /// <summary>Whether it is built but not drawn; null where the view decides (a sketch that a form was made of is not drawn).</summary>
    public bool? Hidden { get; init; }

    /// <summary>The group of the build sheet that it is shown in, or null.</summary>
    public string? Group { get; init; }

    /// <summary>As written in files.</summary>
    public abstract string Kind { get; }

    /// <summary>References to faces, planes and sketches that it is built from.</summary>
    public abstract IReadOnlyList<string> References { get; }

    /// <summary>Its sizes that are formulas, the main one first. A sketch's sizes are its driving dimensions.</summary>
    public abstract IReadOnlyList<StepSize> Sizes { get; }

    /// <summary>The names of parameters and readings that its formulas use.</summary>
    public IEnumerable<string> NamesUsed() => Sizes.SelectMany(z => Formula.Parse(z.Formula) is { Done: true } f ? f.Value.Names : []);

    /// <summary>The step with one size given a new formula; only for fields of <see cref="Sizes"/>.</summary>
    public abstract Step WithSize(string field, string formula);

    /// <summary>What is wrong with the step by itself, or null.</summary>
    public abstract Refusal? Check();
}

/// <summary>A size of a step.</summary>
/// <param name="Field">The name of the field.</param>
/// <param name="Formula">As written.</param>
/// <param name="Kind">Length or angle.</param>
/// <param name="MayBeNegative">Whether zero and negative values make sense.</param>
public sealed record StepSize(string Field, string Formula, Dimension Kind, bool MayBeNegative = false)
{
    /// <summary>The field as messages call it.</summary>
    public string Words => WordsOf(Field);

    /// <summary>The name of a field as messages call it: <c>headAngle</c> is the head angle.</summary>
    public static string WordsOf(string field) => $"The {string.Concat(field.Select(c => char.IsUpper(c) ? $" {char.ToLowerInvariant(c)}" : c.ToString()))}";
}

/// <summary>The references that need no step, and those within a frame.</summary>
public static class World
{
    public const string Id = "world";
    public const string Xy = "world/xy";
    public const string Yz = "world/yz";
    public const string Xz = "world/xz";
    public const string Origin = "world/origin";

    public static IReadOnlyList<string> Planes { get; } = [Xy, Yz, Xz];

    /// <summary>What a frame holds, after its id and a slash.</summary>
    public static IReadOnlyList<string> Members { get; } = ["xy", "yz", "xz", "x", "y", "z", "origin"];

    /// <summary>The frame of a world plane, or null for anything else.</summary>
    public static Frame? Plane(string reference) => reference is not null && StepOf(reference) == Id && reference.Length > Id.Length ? PlaneOf(Frame.World, reference[(Id.Length + 1)..]) : null;

    /// <summary>One of the three planes of a frame. Of the world's, xz is seen from the front: its normal points to the viewer.</summary>
    public static Frame? PlaneOf(Frame frame, string member) => member switch
    {
        "xy" => frame,
        "yz" => frame with { X = frame.Y, Y = frame.Z },
        "xz" => frame with { Y = frame.Z },
        _ => null,
    };

    /// <summary>One of the three directions of a frame.</summary>
    public static Vec3? DirectionOf(Frame frame, string member) => member switch
    {
        "x" => frame.X,
        "y" => frame.Y,
        "z" => frame.Z,
        _ => null,
    };

    /// <summary>Whether a reference names the world frame or a part of it.</summary>
    public static bool Has(string reference) => reference == Id || (StepOf(reference) == Id && Members.Contains(reference[(Id.Length + 1)..]));

    /// <summary>Between the edges of a path that runs over several.</summary>
    public const string Next = " + ";

    /// <summary>The single references of a chain of edges; any other reference by itself.</summary>
    public static string[] Single(string reference) => reference.Split(Next);

    /// <summary>The body that a step began, as it stands, where the step's id alone would mean the form.</summary>
    public static string Body(string name) => $"{name}/body";

    /// <summary>Whether a reference means the whole body of a name.</summary>
    public static bool IsBody(string reference, string name) => reference == name || reference == Body(name);

    /// <summary>Whether a reference means a body as it stands.</summary>
    public static bool IsBody(string reference) => reference.EndsWith("/body", StringComparison.Ordinal) || reference.Contains("/body/", StringComparison.Ordinal);

    /// <summary>The step that a reference belongs to: what stands before the first slash.</summary>
    public static string StepOf(string reference) => reference.Split('/', 2)[0];
}
