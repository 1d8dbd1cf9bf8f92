using Ratiogon.Core.Forms;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Meshes;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;

namespace Ratiogon.Core.Building;

/// <summary>What was built, kept by its content: a change redoes only what depends on it.</summary>
internal sealed class BuildCache
{
    private const int MostKept = 96,
        MostReferences = 4;
    private ReadAhead? ahead;

    public RecentlyUsed<Built> Forms { get; } = new(MostKept);

    public RecentlyUsed<ReferenceBody> References { get; } = new(MostReferences);

    public RecentlyUsed<SolvedSketch> Sketches { get; } = new(MostKept * 4);

    /// <summary>What a large part needs the next time stays, and as much again of what it was before.</summary>
    public void Trim(Part part)
    {
        Forms.Trim(2 * part.Steps.Count(s => s is FormStep or ImportStep));
        Sketches.Trim(2 * part.Steps.Count(s => s is SketchStep));
        References.Trim(2 * part.Steps.Count(s => s is MeshStep));
    }

    /// <summary>Keeps a file of bodies that is likely to become a step next.</summary>
    public void Expect(string key, ReadBodies file) => ahead = new ReadAhead(key, file);

    /// <summary>What was read ahead under a key; it serves one step alone, for bodies of two steps share nothing.</summary>
    public ReadBodies? Expected(string key) =>
        ahead is { } known && known.Key == key && Interlocked.CompareExchange(ref ahead, null, known) == known ? known.File : null;

    private sealed record ReadAhead(string Key, ReadBodies File);
}

/// <summary>A sketch with its sizes met, or why they cannot be, and how many freedoms it has.</summary>
internal sealed record SolvedSketch(Outcome<Sketch> Sketch, int Freedoms);
