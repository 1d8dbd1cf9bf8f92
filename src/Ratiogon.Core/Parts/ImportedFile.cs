using System.IO.Compression;

namespace Ratiogon.Core.Parts;

/// <summary>How an imported file is kept with its step: gzip, then base64.</summary>
public static class ImportedFile
{
    /// <summary>The largest file that is kept, unpacked.</summary>
    public const int LargestBytes = 64 * 1024 * 1024;

    /// <summary>The format that a file's ending says.</summary>
    public static Forms.BodyFormat FormatOf(string file) => Path.GetExtension(file).ToLowerInvariant() is ".igs" or ".iges" ? Forms.BodyFormat.Iges : Forms.BodyFormat.Step214;

    public static string Pack(ReadOnlySpan<byte> file)
    {
        using var packed = new MemoryStream();
        using (var gzip = new GZipStream(packed, CompressionLevel.Optimal))
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
                if (file.Length > LargestBytes)
                {
                    return new Refusal("import.too-large", $"The file unpacks to more than {LargestBytes >> 20} MB.");
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
