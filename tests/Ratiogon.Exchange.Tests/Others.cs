using System.Diagnostics;
using System.IO.Compression;
using System.Text.Json;
using System.Text.RegularExpressions;
using Ratiogon.Core;

namespace Ratiogon.Exchange.Tests;

/// <summary>Judges of files that know nothing of how they were written: the formats' own grammar, and programs of other hands.</summary>
internal static class Others
{
    /// <summary>Every directed side once, its reverse once: closed and turned one way. And the volume inside.</summary>
    public static double Closed(IEnumerable<(Vec3 A, Vec3 B, Vec3 C)> triangles)
    {
        var sides = new Dictionary<(Vec3, Vec3), int>();
        var six = 0.0;
        foreach (var (a, b, c) in triangles)
        {
            six += a.Dot(b.Cross(c));
            foreach (var side in new[] { (a, b), (b, c), (c, a) })
            {
                sides[side] = sides.GetValueOrDefault(side) + 1;
            }
        }

        sides.ShouldAllBe(s => s.Value == 1 && sides.ContainsKey(new ValueTuple<Vec3, Vec3>(s.Key.Item2, s.Key.Item1)));
        return six / 6;
    }

    private static Vec3 Place(BinaryReader r) => new(r.ReadSingle(), r.ReadSingle(), r.ReadSingle());

    public static List<(Vec3 A, Vec3 B, Vec3 C)> Binary(byte[] stl)
    {
        using var reader = new BinaryReader(new MemoryStream(stl));
        reader.ReadBytes(80);
        var count = reader.ReadInt32();
        stl.Length.ShouldBe(84 + (50 * count));
        return
        [
            .. Enumerable
                .Range(0, count)
                .Select(_ =>
                {
                    var (normal, a, b, c) = (Place(reader), Place(reader), Place(reader), Place(reader));
                    reader.ReadUInt16().ShouldBe((ushort)0);
                    (b - a).Cross(c - a).Unit.Dot(normal).ShouldBeGreaterThan(0.999);
                    return (a, b, c);
                }),
        ];
    }

    /// <summary>ISO 10303-21 as far as its exchange structure goes: the sections in order, each instance named once, nothing referred
    /// to that is not there, strings and brackets closed.</summary>
    public static void Part21(string text)
    {
        text.ShouldStartWith("ISO-10303-21;");
        text.TrimEnd().ShouldEndWith("END-ISO-10303-21;");

        // Strings are made empty first: what is in them is nobody's reference.
        var bare = Regex.Replace(text, "'(?:[^']|'')*'", "''");
        Regex.Matches(bare, "HEADER;|ENDSEC;|DATA;").Select(m => m.Value).ShouldBe(["HEADER;", "ENDSEC;", "DATA;", "ENDSEC;"]);
        var data = bare[(bare.IndexOf("DATA;", StringComparison.Ordinal) + 5)..bare.LastIndexOf("ENDSEC;", StringComparison.Ordinal)];
        var instances = data.Split(';', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
        instances
            .Where(i =>
                !Regex.IsMatch(i, @"^#\d+\s*=\s*(\(|[A-Z_0-9]+\s*\()[\s\S]*\)$") || i.Count(c => c == '(') != i.Count(c => c == ')')
            )
            .ShouldBeEmpty();
        var names = instances.Select(i => i[..i.IndexOf('=', StringComparison.Ordinal)].Trim()).ToList();
        var known = names.ToHashSet(StringComparer.Ordinal);
        known.Count.ShouldBe(names.Count, "each name once");
        instances.SelectMany(i => Regex.Matches(i, @"#\d+").Select(m => m.Value)).Where(r => !known.Contains(r)).ShouldBeEmpty();
    }

    /// <summary>What a validator of other hands says of a file.</summary>
    public static JsonElement Validated(string format, byte[] content)
    {
        return JsonDocument
            .Parse(Said("node", [Path.Combine(Root(), $"tests/Ratiogon.Exchange.Tests/validate-{format}.mjs")], content))
            .RootElement;
    }

    /// <summary>A drawing as the program draws it that comes with most desktops: 254 dots to the inch, so 10 to the millimetre. Whether
    /// anything is drawn at each dot, row by row.</summary>
    public static (bool[] Ink, int Width, int Height) Rastered(byte[] svg)
    {
        var (bytes, width, height, depth) = Unpacked(Said("rsvg-convert", ["--dpi-x", "254", "--dpi-y", "254", "--format", "png"], svg));
        depth.ShouldBe(4, "with how much each dot is covered");
        return ([.. Enumerable.Range(0, width * height).Select(i => bytes[(i * 4) + 3] > 60)], width, height);
    }

    /// <summary>The colours of a picture, by column and row.</summary>
    public static (byte R, byte G, byte B)[,] Dots(byte[] png)
    {
        var (bytes, width, height, depth) = Unpacked(png);
        var dots = new (byte, byte, byte)[width, height];
        for (var i = 0; i < width * height; i++)
        {
            dots[i % width, i / width] = (bytes[i * depth], bytes[(i * depth) + 1], bytes[(i * depth) + 2]);
        }

        return dots;
    }

    /// <summary>A PNG of eight bits and no interlacing (ISO/IEC 15948), its rows with their filters undone.</summary>
    private static (byte[] Bytes, int Width, int Height, int Depth) Unpacked(byte[] png)
    {
        var (width, height, depth) = (BigEndian(png, 16), BigEndian(png, 20), png[25] == 6 ? 4 : 3);
        (png[24], png[25] is 2 or 6, png[28]).ShouldBe(((byte)8, true, (byte)0));
        using var packed = new MemoryStream();
        for (var at = 8; at < png.Length; at += 12 + BigEndian(png, at))
        {
            if (png.AsSpan(at + 4, 4).SequenceEqual("IDAT"u8))
            {
                packed.Write(png, at + 8, BigEndian(png, at));
            }
        }

        packed.Position = 0;
        using var lines = new ZLibStream(packed, CompressionMode.Decompress);
        var (row, above, all) = (new byte[(width * depth) + 1], new byte[width * depth], new byte[width * height * depth]);
        for (var y = 0; y < height; y++)
        {
            lines.ReadExactly(row);
            var now = row.AsSpan(1);
            for (var i = 0; i < now.Length; i++)
            {
                var (left, up, corner) = (i < depth ? 0 : now[i - depth], above[i], i < depth ? 0 : above[i - depth]);
                now[i] += (byte)(
                    row[0] switch
                    {
                        0 => 0,
                        1 => left,
                        2 => up,
                        3 => (left + up) / 2,
                        _ => Paeth(left, up, corner),
                    }
                );
            }

            now.CopyTo(above);
            above.CopyTo(all, y * above.Length);
        }

        return (all, width, height, depth);
    }

    /// <summary>What a program that reads from its input or from a file of that name prints; it has to be content.</summary>
    public static byte[] Said(string program, string[] arguments, byte[] content)
    {
        var file = Path.GetTempFileName();
        try
        {
            File.WriteAllBytes(file, content);
            using var process = Process.Start(
                new ProcessStartInfo(program, [.. arguments, file]) { RedirectStandardOutput = true, RedirectStandardError = true }
            )!;
            var wrong = process.StandardError.ReadToEndAsync();
            using var said = new MemoryStream();
            process.StandardOutput.BaseStream.CopyTo(said);
            process.WaitForExit();
            process.ExitCode.ShouldBe(0, $"{program}: {wrong.Result}");
            return said.ToArray();
        }
        finally
        {
            File.Delete(file);
        }
    }

    private static int BigEndian(byte[] bytes, int at) => System.Buffers.Binary.BinaryPrimitives.ReadInt32BigEndian(bytes.AsSpan(at));

    /// <summary>The predictor of ISO/IEC 15948, 9.4.</summary>
    private static int Paeth(int a, int b, int c)
    {
        var p = a + b - c;
        var (pa, pb, pc) = (Math.Abs(p - a), Math.Abs(p - b), Math.Abs(p - c));
        return pa <= pb && pa <= pc ? a
            : pb <= pc ? b
            : c;
    }

    public static string Root()
    {
        var at = AppContext.BaseDirectory;
        while (!File.Exists(Path.Combine(at, "Ratiogon.slnx")))
        {
            at = Path.GetDirectoryName(at)!;
        }

        return at;
    }
}
