using System.IO.Compression;
using System.Security.Cryptography;
using System.Text;
using MessagePack;
using Ratiogon.Core.Building;

namespace Ratiogon.Worker;

/// <summary>What a part was built into, as it is kept: under a key of its content and of the program that built it.</summary>
public static class KeptModel
{
    /// <summary>Another program may build something else of the same part.</summary>
    private static readonly Lazy<byte[]> Program = new(() =>
    {
        using var sum = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        foreach (var assembly in new[] { typeof(RebuildResult).Assembly, typeof(Solids.NativeKernel).Assembly, typeof(KeptModel).Assembly })
        {
            sum.AppendData(assembly.ManifestModule.ModuleVersionId.ToByteArray());
        }

        foreach (var library in Directory.GetFiles(AppContext.BaseDirectory, "libratiogon_solids.*").Order(StringComparer.Ordinal))
        {
            sum.AppendData(File.ReadAllBytes(library));
        }

        return sum.GetHashAndReset();
    });

    /// <param name="part">As it travels to the worker.</param>
    public static string KeyOf(ReadOnlySpan<byte> part)
    {
        using var sum = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        sum.AppendData(Program.Value);
        sum.AppendData(part);
        return Convert.ToHexStringLower(sum.GetHashAndReset());
    }

    public static byte[] Pack(byte[] result)
    {
        using var packed = new MemoryStream();
        using (var packing = new BrotliStream(packed, CompressionLevel.Fastest))
        {
            packing.Write(result);
        }

        return packed.ToArray();
    }

    /// <summary>What was kept; null where it cannot be read.</summary>
    public static RebuildResult? Unpack(byte[] kept)
    {
        try
        {
            using var packing = new BrotliStream(new MemoryStream(kept), CompressionMode.Decompress);
            return MessagePackSerializer.Deserialize<RebuildResult>(packing, WorkerFormat.Options);
        }
        catch (Exception e) when (e is MessagePackSerializationException or InvalidDataException or InvalidOperationException)
        {
            return null;
        }
    }
}
