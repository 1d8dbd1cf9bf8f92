using System.IO.Compression;
using Ratiogon.Core;
using Ratiogon.Core.Parts;

namespace Ratiogon.Exchange;

/// <summary>An account's parts as one zip archive of part files, written and read whole.</summary>
public static class PartArchive
{
    public const int LargestBytes = 128 * 1024 * 1024,
        MostParts = 1000;

    /// <summary>The most that an archive may unpack to.</summary>
    private const long LargestUnpacked = 256L * 1024 * 1024;

    /// <summary>Part files pack to a tenth or so: whatever unpacks to this many times its size, and is large, is none.</summary>
    private const long MostRatio = 200,
        SmallBytes = 4 * 1024 * 1024;

    public static byte[] Write(IEnumerable<Part> parts)
    {
        ArgumentNullException.ThrowIfNull(parts);
        using var file = new MemoryStream();
        using (var archive = new ZipArchive(file, ZipArchiveMode.Create, leaveOpen: true))
        {
            var taken = new HashSet<string>(StringComparer.Ordinal);
            foreach (var part in parts)
            {
                var name = Ids.Free(PlainName(part.Name), "-", taken);
                using var entry = archive.CreateEntry($"{name}.json").Open();
                entry.Write(PartFile.Write(part));
            }
        }

        return file.ToArray();
    }

    /// <summary>All parts of an archive, or why it is refused: nothing of it is read then.</summary>
    public static Outcome<IReadOnlyList<Part>> Read(byte[] file)
    {
        ArgumentNullException.ThrowIfNull(file);
        try
        {
            using var archive = new ZipArchive(new MemoryStream(file), ZipArchiveMode.Read);
            if (archive.Entries.Count is 0 or > MostParts)
            {
                return new Refusal(
                    "archive.count",
                    archive.Entries.Count == 0
                        ? "The archive holds no parts."
                        : $"The archive holds {archive.Entries.Count} files; up to {MostParts} are read."
                );
            }

            // What it says it unpacks to is looked at before anything is; what it really does is bounded as well.
            if (
                archive.Entries.FirstOrDefault(e =>
                    e.Length > PartFile.LargestBytes || (e.Length > SmallBytes && e.Length > e.CompressedLength * MostRatio)
                ) is
                { } bomb
            )
            {
                return new Refusal(
                    "archive.too-large",
                    $"'{Ids.Shorten(bomb.Name)}' would unpack to {bomb.Length >> 20} MB out of {bomb.CompressedLength >> 10} kB, "
                        + "which no part does."
                );
            }

            if (archive.Entries.Sum(e => e.Length) > LargestUnpacked)
            {
                return new Refusal("archive.too-large", $"The archive would unpack to more than {LargestUnpacked >> 20} MB.");
            }

            var parts = new List<Part>();
            var unpacked = 0L;
            foreach (var entry in archive.Entries)
            {
                if (
                    entry.FullName != entry.Name
                    || entry.Name.Contains("..", StringComparison.Ordinal)
                    || !entry.Name.EndsWith(".json", StringComparison.OrdinalIgnoreCase)
                )
                {
                    return new Refusal(
                        "archive.entry",
                        $"'{Ids.Shorten(entry.FullName)}' is no part file: an archive holds .json files, and no folders."
                    );
                }

                var bytes = Unpacked(entry);
                if (bytes is null || (unpacked += bytes.Length) > LargestUnpacked)
                {
                    return new Refusal("archive.too-large", $"'{Ids.Shorten(entry.Name)}' unpacks to more than is read.");
                }

                var part = PartFile.Read(bytes);
                if (!part.Done)
                {
                    return part.Refusal! with { Message = $"{Ids.Shorten(entry.Name)}: {part.Refusal!.Message}" };
                }

                parts.Add(part.Value);
            }

            return parts;
        }
        catch (InvalidDataException)
        {
            return new Refusal("archive.broken", "This is no zip archive, or it is damaged.");
        }
    }

    /// <summary>Letters, digits and hyphens of a name, for a file.</summary>
    public static string PlainName(string name) =>
        string.Concat((name ?? "").Select(c => char.IsAsciiLetterOrDigit(c) ? char.ToLowerInvariant(c) : '-')).Trim('-')
            is { Length: > 0 } plain
            ? plain
            : "part";

    private static byte[]? Unpacked(ZipArchiveEntry entry)
    {
        using var from = entry.Open();
        using var into = new MemoryStream();
        var buffer = new byte[81920];
        for (var n = from.Read(buffer); n > 0; n = from.Read(buffer))
        {
            if (into.Length + n > PartFile.LargestBytes)
            {
                return null;
            }

            into.Write(buffer, 0, n);
        }

        return into.ToArray();
    }
}
