using Ratiogon.Core.Meshes;
using Ratiogon.Core.Parts.Steps;

namespace Ratiogon.Core.Building;

/// <summary>Builds the triangles that stand beside a part.</summary>
internal sealed class MeshBuilder(BuildCache cache)
{
    public Outcome<StepResult> Build(RebuildState state, MeshStep step)
    {
        var key = ContentKey.Of(step, []);
        var built =
            cache.References.Get(key) is { } kept ? kept
            : step.Check() is { } wrong ? wrong
            : step.Triangles().Map(mesh => new ReferenceBody(step.Id, key, mesh));
        return built.Map(reference =>
        {
            cache.References.Put(key, reference);
            state.References[step.Id] = reference;
            state.Model.Add(reference);
            state.Prints[step.Id] = key;
            return new StepResult(
                step.Id,
                StepState.Built,
                $"{reference.Mesh.Count:N0} triangles, {reference.Topology.Faces.Length:N0} faces"
            );
        });
    }
}
