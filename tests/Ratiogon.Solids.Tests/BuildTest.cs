using Ratiogon.Core.Building;
using Ratiogon.Core.Parts;

namespace Ratiogon.Solids.Tests;

/// <summary>Tests that build parts with the real geometry library.</summary>
public abstract class BuildTest : IDisposable
{
    private readonly Rebuilder rebuilder = new(new NativeKernel());

    public void Dispose()
    {
        rebuilder.Dispose();
        GC.SuppressFinalize(this);
    }

    /// <summary>However it comes out.</summary>
    protected RebuildResult Tried(Part part) => rebuilder.Rebuild(part, withMesh: false);

    /// <summary>With every step built.</summary>
    /// <param name="part">The part.</param>
    /// <param name="when">What is told beside a step that is not.</param>
    protected RebuildResult Built(Part part, string when = "")
    {
        var result = Tried(part);
        result.Steps.Where(s => s.State != StepState.Built).Select(s => $"{s.Id}: {s.Message}").ShouldBeEmpty(when);
        return result;
    }
}
