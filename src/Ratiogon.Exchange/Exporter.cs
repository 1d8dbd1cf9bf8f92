using Ratiogon.Core;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts.Steps;

namespace Ratiogon.Exchange;

/// <summary>A body as triangles, to be written.</summary>
/// <param name="Name">As shown.</param>
/// <param name="Colour">As #rrggbb.</param>
/// <param name="Mesh">Its triangles.</param>
public sealed record MeshBody(string Name, string Colour, SolidMesh Mesh);

/// <summary>Writes a part in every format, by the ending of the file.</summary>
public static class Exporter
{
    public const double FinestDeviation = 0.0005,
        CoarsestDeviation = 5;
    private const string Grey = "#b9b4a6";

    /// <summary>The formats by their endings, with what they hold.</summary>
    public static IReadOnlyList<(string Ending, string Type, string Words)> Formats { get; } =
    [
        ("step", "model/step", "exact bodies, ISO 10303 AP214 or AP242"),
        ("stp", "model/step", "the same"),
        ("iges", "model/iges", "exact bodies, IGES 5.3"),
        ("igs", "model/iges", "the same"),
        ("stl", "model/stl", "triangles, binary or text"),
        ("3mf", "model/3mf", "triangles with names and colours, ISO/IEC 25422"),
        ("glb", "model/gltf-binary", "triangles with names and colours, ISO/IEC 12113"),
        ("svg", "image/svg+xml", "a sketch or a planar face at true scale"),
        ("json", "application/json", "the part itself"),
    ];

    public static string TypeOf(string ending) => Formats.FirstOrDefault(f => f.Ending == ending).Type ?? "application/octet-stream";

    public static Outcome<byte[]> Write(GaugeSite site, string ending, ExportOptions options)
    {
        ArgumentNullException.ThrowIfNull(site);
        ArgumentNullException.ThrowIfNull(ending);
        ArgumentNullException.ThrowIfNull(options);
        switch (ending.ToLowerInvariant())
        {
            case "json":
                return PartFile.Write(site.Part);
            case "step" or "stp":
                return Bodies(site, options.Ap242 ? BodyFormat.Step242 : BodyFormat.Step214);
            case "iges" or "igs":
                return Bodies(site, BodyFormat.Iges);
            case "stl" or "3mf" or "glb":
                return Meshes(site, options).Map(m => Packed(site.Part.Name, ending, m, options));
            case "svg":
                return SvgDrawing.Write(site, options.Of);
            default:
                return CheckFormat(ending)!;
        }
    }

    /// <summary>How many triangles a fineness gives, and how far they stray.</summary>
    public static Outcome<ExportPreview> Preview(GaugeSite site, string ending, ExportOptions options)
    {
        ArgumentNullException.ThrowIfNull(site);
        return Meshes(site, options)
            .Then(meshes =>
                (IsMesh(ending) ? Packed(site.Part.Name, ending, meshes, options) : Write(site, ending, options)).Map(
                    file => new ExportPreview(
                        meshes.Sum(m => m.Mesh.Real().Count),
                        site.Bodies.Max(b => site.Kernel.Deviation(b.Solid)),
                        file.LongLength
                    )
                )
            );
    }

    /// <summary>What is wrong with the ending of a file, or null.</summary>
    public static Refusal? CheckFormat(string ending) =>
        Formats.Any(f => f.Ending == ending)
            ? null
            : new Refusal(
                "export.format",
                $"'{Ids.Shorten(ending)}' is no known format; use {string.Join(", ", Formats.Select(f => f.Ending))}.",
                "ending"
            );

    private static bool IsMesh(string ending) => ending.ToLowerInvariant() is "stl" or "3mf" or "glb";

    private static byte[] Packed(string name, string ending, IReadOnlyList<MeshBody> meshes, ExportOptions options) =>
        ending.ToLowerInvariant() switch
        {
            "3mf" => ThreeMfFile.Write(name, meshes),
            "glb" => GlbFile.Write(name, meshes),
            _ => options.Text ? StlFile.Text(name, meshes) : StlFile.Binary(meshes),
        };

    private static Outcome<byte[]> Bodies(GaugeSite site, BodyFormat format) =>
        site.Bodies.IsEmpty
            ? new Refusal("export.empty", "The part has no body to write yet.")
            : site.Kernel.Write(
                format,
                [.. site.Bodies.Select(b => new NamedSolid(NameOf(site, b), b.Solid, ColourOf(site, b)))],
                site.Part.Units
            );

    private static Outcome<IReadOnlyList<MeshBody>> Meshes(GaugeSite site, ExportOptions options) =>
        site.Bodies.IsEmpty ? new Refusal("export.empty", "The part has no body to write yet.")
        : options.Deviation is not (>= FinestDeviation and <= CoarsestDeviation)
            ? new Refusal(
                "export.deviation",
                $"The deviation is from {FinestDeviation} to {CoarsestDeviation} mm, not {options.Deviation:0.####} mm.",
                "deviation"
            )
        : Closed(
            site,
            [.. site.Bodies.Select(b => new MeshBody(NameOf(site, b), ColourOf(site, b), site.Kernel.Mesh(b.Solid, options.Deviation)))]
        );

    /// <summary>A file of triangles with a hole in it is no body: refused with the face.</summary>
    private static Outcome<IReadOnlyList<MeshBody>> Closed(GaugeSite site, List<MeshBody> meshes)
    {
        for (var i = 0; i < meshes.Count; i++)
        {
            if (Array.IndexOf(meshes[i].Mesh.FaceTriangles, 0) is var open and >= 0)
            {
                return new Refusal(
                    "export.open",
                    $"The face {site.Bodies[i].Names.Faces[open]} could not be turned into triangles; the file would have a hole "
                        + "there. Try another deviation, or write STEP."
                );
            }
        }

        return meshes;
    }

    /// <summary>The part's own name for its first body, that of the step for others.</summary>
    private static string NameOf(GaugeSite site, FormBody body) =>
        ImportStep.Of(site.Part, body.Name)?.NameIn(body.Name)
        ?? (body == site.Bodies[0] ? site.Part.Name : $"{site.Part.Name}, {site.Part.Find(World.StepOf(body.Name))?.Name ?? body.Name}");

    private static string ColourOf(GaugeSite site, FormBody body) =>
        ImportStep.Of(site.Part, body.Name)?.ColourIn(body.Name) ?? site.Part.Material.Colour ?? Grey;
}
