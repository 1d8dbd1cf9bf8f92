using System.IO.Compression;

namespace Ratiogon.Core.Kernel;

/// <summary>How an imported file is kept with its step: gzip, then base64.</summary>
public static class ImportedFile
{
    /// <summary>The largest file that is kept, unpacked.</summary>
    public const int LargestBytes = 64 * 1024 * 1024;

    /// <summary>The most that what is kept unpacks to: a picked file of triangles may be larger than a body file.</summary>
    public const int MostKept = 128 * 1024 * 1024;

    /// <summary>The format that a file's ending says.</summary>
    public static Kernel.BodyFormat FormatOf(string file) =>
        Path.GetExtension(file).ToLowerInvariant() is ".igs" or ".iges" ? Kernel.BodyFormat.Iges : Kernel.BodyFormat.Step214;

    /// <param name="file">What to keep.</param>
    /// <param name="fast">Whether time counts for more than size.</param>
    public static string Pack(ReadOnlySpan<byte> file, bool fast = false)
    {
        using var packed = new MemoryStream();
        using (var gzip = new GZipStream(packed, fast ? CompressionLevel.Fastest : CompressionLevel.Optimal))
        {
            gzip.Write(file);
        }

        return Convert.ToBase64String(packed.ToArray());
    }

    /// <summary>The file as it was; refused when damaged or larger than allowed.</summary>
    public static Outcome<ReadOnlyMemory<byte>> Unpack(string content)
    {
        try
        {
            using var gzip = new GZipStream(new MemoryStream(Convert.FromBase64String(content)), CompressionMode.Decompress);
            using var file = new MemoryStream();
            var buffer = new byte[81920];
            for (var n = gzip.Read(buffer); n > 0; n = gzip.Read(buffer))
            {
                file.Write(buffer, 0, n);
                if (file.Length > MostKept)
                {
                    return new Refusal("import.too-large", $"The file unpacks to more than {MostKept >> 20} MB.");
                }
            }

            return new ReadOnlyMemory<byte>(file.ToArray());
        }
        catch (Exception e) when (e is FormatException or InvalidDataException)
        {
            return new Refusal("import.damaged", "The kept file is damaged.");
        }
    }
}
