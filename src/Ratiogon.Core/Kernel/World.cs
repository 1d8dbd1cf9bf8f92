using Ratiogon.Core.Geometry;

namespace Ratiogon.Core.Kernel;

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
    public static Frame? Plane(string reference) =>
        reference is not null && StepOf(reference) == Id && reference.Length > Id.Length
            ? PlaneOf(Frame.World, reference[(Id.Length + 1)..])
            : null;

    /// <summary>One of the three planes of a frame. Of the world's, xz is seen from the front: its normal points to the viewer.</summary>
    public static Frame? PlaneOf(Frame frame, string member) =>
        member switch
        {
            "xy" => frame,
            "yz" => frame with { X = frame.Y, Y = frame.Z },
            "xz" => frame with { Y = frame.Z },
            _ => null,
        };

    /// <summary>One of the three directions of a frame.</summary>
    public static Vec3? DirectionOf(Frame frame, string member) =>
        member switch
        {
            "x" => frame.X,
            "y" => frame.Y,
            "z" => frame.Z,
            _ => null,
        };

    /// <summary>Whether a reference names the world frame or a part of it.</summary>
    public static bool Has(string reference) =>
        reference == Id || (StepOf(reference) == Id && Members.Contains(reference[(Id.Length + 1)..]));

    /// <summary>Between the edges of a path that runs over several.</summary>
    public const string Next = " + ";

    /// <summary>The single references of a chain of edges; any other reference by itself.</summary>
    public static string[] Single(string reference) => reference.Split(Next);

    /// <summary>The body that a step began, as it stands, where the step's id alone would mean the form.</summary>
    public static string Body(string name) => $"{name}/body";

    /// <summary>Whether a reference means the whole body of a name.</summary>
    public static bool IsBody(string reference, string name) => reference == name || reference == Body(name);

    /// <summary>Whether a reference means a body as it stands.</summary>
    public static bool IsBody(string reference) =>
        reference.EndsWith("/body", StringComparison.Ordinal) || reference.Contains("/body/", StringComparison.Ordinal);

    /// <summary>The step that a reference belongs to: what stands before the first slash.</summary>
    public static string StepOf(string reference) => reference.Split('/', 2)[0];
}
