namespace Ratiogon.Core.Kernel;

/// <summary>A body as references name it. Lengths in millimetres.</summary>
public interface INamedBody
{
    /// <summary>Id of the step that began it, or what the part calls it.</summary>
    string Name { get; }

    /// <summary>Of its faces, edges and vertices.</summary>
    Names Names { get; }

    /// <summary>How it hangs together.</summary>
    Topology Topology { get; }

    /// <summary>Its centre of mass.</summary>
    Vec3 Centre { get; }

    /// <summary>Along the world axes.</summary>
    Box Box { get; }
}
