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

    /// <summary>Every format, in the order in which they are shown.</summary>
    public static IReadOnlyList<FileFormat> Formats { get; } =
    [
        new(
            ["step", "stp"],
            "model/step",
            "STEP",
            "exact bodies, ISO 10303 AP214 or AP242",
            "exact bodies with names and colours, for other CAD and CAM programs",
            (site, options) => Bodies(site, options.Ap242 ? BodyFormat.Step242 : BodyFormat.Step214)
        )
        {
            Choices = FormatChoices.Ap242,
            InUnitsOfPart = true,
        },
        new(["iges", "igs"], "model/iges", "IGES", "exact bodies, IGES 5.3", "exact bodies, for older programs", (site, _) =>
            Bodies(site, BodyFormat.Iges)
        )
        {
            InUnitsOfPart = true,
        },
        StlFile.Format,
        ThreeMfFile.Format,
        GlbFile.Format,
        SvgDrawing.Format,
        PartFile.Written,
    ];

    /// <summary>Every ending that can be written.</summary>
    public static IEnumerable<string> Endings => Formats.SelectMany(f => f.Endings);

    /// <summary>The format of an ending, in any case, or null.</summary>
    public static FileFormat? Find(string ending) =>
        Formats.FirstOrDefault(f => f.Endings.Contains(ending, StringComparer.OrdinalIgnoreCase));

    /// <summary>Writes a part in the format of the ending.</summary>
    public static Outcome<byte[]> Write(GaugeSite site, string ending, ExportOptions options)
    {
        ArgumentNullException.ThrowIfNull(site);
        ArgumentNullException.ThrowIfNull(ending);
        ArgumentNullException.ThrowIfNull(options);
        return Find(ending) is { } format ? format.Write(site, options) : CheckFormat(ending)!;
    }

    /// <summary>How many triangles a fineness gives, how far they stray and how long the file would be. Of a format without triangles it
    /// is told as if it had those.</summary>
    public static Outcome<ExportPreview> Preview(GaugeSite site, string ending, ExportOptions options)
    {
        ArgumentNullException.ThrowIfNull(site);
        return Meshes(site, options)
            .Then(meshes =>
                (
                    Find(ending)?.Pack is { } pack ? (Outcome<byte[]>)pack(site.Part.Name, meshes, options) : Write(site, ending, options)
                ).Map(file => new ExportPreview(
                    meshes.Sum(m => m.Mesh.Real().Count),
                    site.Bodies.Max(b => site.Kernel.Deviation(b.Solid)),
                    file.LongLength
                ))
            );
    }

    /// <summary>What is wrong with the ending of a file, or null.</summary>
    public static Refusal? CheckFormat(string ending) =>
        Find(ending) is not null
            ? null
            : new Refusal("export.format", $"'.{Ids.Shorten(ending)}' is no known format; use {string.Join(", ", Endings)}.", "ending");

    private static Outcome<byte[]> Bodies(GaugeSite site, BodyFormat format) =>
        site.Bodies.IsEmpty
            ? new Refusal("export.empty", "The part has no body to write yet.")
            : site.Kernel.Write(
                format,
                [.. site.Bodies.Select(b => new NamedSolid(NameOf(site, b), b.Solid, ColourOf(site, b)))],
                site.Part.Units
            );

    /// <summary>The bodies as triangles that leave nothing open, or why there are none.</summary>
    internal static Outcome<IReadOnlyList<MeshBody>> Meshes(GaugeSite site, ExportOptions options) =>
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
