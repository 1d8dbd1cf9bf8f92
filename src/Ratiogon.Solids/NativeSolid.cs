using Ratiogon.Core.Forms;

namespace Ratiogon.Solids;

/// <summary>A body of the native library.</summary>
internal sealed class NativeSolid(ShapeHandle handle) : ISolid
{
    public ShapeHandle Handle { get; } = handle;

    public void Dispose() => Handle.Dispose();
}
