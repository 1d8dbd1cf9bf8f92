using Ratiogon.Core.Kernel;
using Ratiogon.Core.Meshes;

namespace Ratiogon.Core.Parts.Steps;

/// <summary>Triangles read from a file, to measure and to build on: no body, and no form changes them.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Number">Place in the build sheet.</param>
/// <param name="Name">As shown.</param>
/// <param name="File">The name of the file they came from.</param>
/// <param name="Content">The triangles as <see cref="TriangleMesh.ToBytes"/> gives them, compressed with gzip and written as
/// base64.</param>
[Kind("mesh")]
public sealed record MeshStep(string Id, int Number, string Name, string File, string Content) : Step(Id, Number, Name)
{
    /// <summary>What one of the file's numbers means.</summary>
    public MeshUnit Unit { get; init; }

    public override string Kind => "mesh";

    public override string? Bulk => Content;

    public override Step WithBulk(string bulk) => this with { Content = bulk };

    public override IReadOnlyList<string> References => [];

    public override IReadOnlyList<StepSize> Sizes => [];

    public override Step WithSize(string field, string formula) => this;

    public override Refusal? Check() =>
        !Enum.IsDefined(Unit) ? new Refusal("mesh.unit", "The unit of a mesh is mm, cm, m, in, ft or um.", "unit")
        : string.IsNullOrEmpty(Content) ? new Refusal("import.empty", "The import holds no file.", "content")
        : null;

    /// <summary>The triangles in millimetres; refused where what was kept is damaged.</summary>
    public Outcome<TriangleMesh> Triangles() =>
        ImportedFile
            .Unpack(Content)
            .Then(kept =>
                TriangleMesh
                    .Of(kept.Span, Unit.Millimetres())
                    .Then<TriangleMesh>(mesh =>
                        mesh.Count == 0 ? new Refusal("mesh.empty", "The file holds no triangle that has an area.", "content") : mesh
                    )
            );
}
