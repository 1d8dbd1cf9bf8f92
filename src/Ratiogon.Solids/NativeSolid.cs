using Ratiogon.Core.Kernel;

namespace Ratiogon.Solids;

/// <summary>A body of the native library.</summary>
internal sealed class NativeSolid(ShapeHandle handle) : ISolid
{
    public ShapeHandle Handle { get; } = handle;

    /// <summary>How it hangs together, once somebody asked: a body never changes.</summary>
    public Topology? Described { get; set; }

    public void Dispose() => Handle.Dispose();
}
