using System.IO.Compression;
using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;

namespace Ratiogon.Exchange;

/// <summary>Files of the variants of a part.</summary>
public static class VariantFiles
{
    /// <summary>A variant as a file, or why there is none.</summary>
    /// <param name="part">The part.</param>
    /// <param name="variant">Its name.</param>
    /// <param name="ending">One of <see cref="Exporter.Formats"/>.</param>
    /// <param name="rebuilder">Builds it.</param>
    public static Outcome<byte[]> Write(Part part, string variant, string ending, Rebuilder rebuilder)
    {
        ArgumentNullException.ThrowIfNull(part);
        ArgumentNullException.ThrowIfNull(rebuilder);
        return new ChooseVariant(variant)
            .Apply(part)
            .Then(made =>
            {
                made = made with { Name = $"{part.Name} {variant}" };
                var failing = rebuilder.Rebuild(made, withMesh: false).Steps.FirstOrDefault(s => s.State == StepState.Failed);
                return failing is null
                    ? Exporter.Write(rebuilder.Gauge(made), ending, new ExportOptions())
                    : new Refusal("export.failing", $"{made.Find(failing.Id)?.Name} fails: {failing.Message}");
            });
    }

    /// <summary>Every variant of a part as a file in an archive; what fails is told in a text beside the others.</summary>
    /// <param name="part">The part.</param>
    /// <param name="ending">One of <see cref="Exporter.Formats"/>.</param>
    /// <param name="only">The one that is wanted; null for all.</param>
    /// <param name="rebuilder">Builds them.</param>
    /// <param name="share">Told how far it is, from 0 to 1.</param>
    public static Outcome<byte[]> Zip(Part part, string ending, string? only, Rebuilder rebuilder, Action<double> share)
    {
        ArgumentNullException.ThrowIfNull(part);
        ArgumentNullException.ThrowIfNull(share);
        if (Exporter.CheckFormat(ending) is { } unknown)
        {
            return unknown with { Where = "format" };
        }

        var variants = part.Variants.Where(v => only is null || v.Name == only).ToList();
        if (variants.Count == 0)
        {
            return only is null
                ? new Refusal("variant.none", "The part has no variants.")
                : new Refusal("variant.unknown", $"There is no variant '{Ids.Shorten(only)}'.");
        }

        var (target, failed, names) = (new MemoryStream(), new List<string>(), new HashSet<string>(StringComparer.OrdinalIgnoreCase));
        using (var zip = new ZipArchive(target, ZipArchiveMode.Create, leaveOpen: true))
        {
            foreach (var (variant, i) in variants.Select((v, i) => (v, i)))
            {
                share((double)i / variants.Count);
                var written = Write(part, variant.Name, ending, rebuilder);
                if (!written.Done)
                {
                    failed.Add($"{variant.Name}: {written.Refusal!.Message}");
                    continue;
                }

                var name = PartArchive.PlainName(variant.Name);
                for (var n = 2; !names.Add(name); n++)
                {
                    name = $"{PartArchive.PlainName(variant.Name)} {n}";
                }

                using var entry = zip.CreateEntry($"{name}.{ending}").Open();
                entry.Write(written.Value);
            }

            if (failed.Count == variants.Count)
            {
                return new Refusal("variant.failing", string.Join(" ", failed));
            }

            if (failed.Count > 0)
            {
                using var entry = new StreamWriter(zip.CreateEntry("not written.txt").Open());
                entry.Write(string.Join("\n", failed));
            }
        }

        return target.ToArray();
    }
}
