using System.Collections.Immutable;
using System.Globalization;
using System.IO.Compression;
using System.Xml;
using Ratiogon.Core;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Meshes;

namespace Ratiogon.Exchange;

/// <summary>3MF (ISO/IEC 25422, core specification): the objects that its build names, with their components, where they are
/// placed. What extensions add (slices, lattices) is not read and said.</summary>
internal static class ThreeMfReader
{
    private const long MostUnpacked = 512L * 1024 * 1024;
    private const int Deepest = 32;

    private static readonly Dictionary<string, MeshUnit> Units = new(StringComparer.Ordinal)
    {
        ["micron"] = MeshUnit.Micrometre,
        ["millimeter"] = MeshUnit.Millimetre,
        ["centimeter"] = MeshUnit.Centimetre,
        ["inch"] = MeshUnit.Inch,
        ["foot"] = MeshUnit.Foot,
        ["meter"] = MeshUnit.Metre,
    };

    private sealed class Thing
    {
        public string Name { get; init; } = "";

        public List<Vec3> Places { get; } = [];

        public List<int> Corners { get; } = [];

        public List<(string Of, Placing At)> Parts { get; } = [];

        public bool Solid { get; init; } = true;
    }

    public static Outcome<ReadMesh> Read(ReadOnlyMemory<byte> file)
    {
        try
        {
            using var package = new ZipArchive(new MemoryStream(file.ToArray()), ZipArchiveMode.Read);
            var path = Start(package);
            if (package.GetEntry(path) is not { } entry)
            {
                return new Refusal("mesh.no-model", $"The 3MF package holds no '{Ids.Shorten(path)}', where its model should be.");
            }

            using var bounded = new BoundedStream(entry.Open(), MostUnpacked);
            using var xml = XmlReader.Create(
                bounded,
                new XmlReaderSettings
                {
                    DtdProcessing = DtdProcessing.Prohibit,
                    IgnoreComments = true,
                    IgnoreWhitespace = true,
                }
            );
            return Model(xml);
        }
        catch (InvalidDataException)
        {
            return new Refusal("mesh.no-package", "The file is no 3MF: it is not a sound package.");
        }
        catch (XmlException e)
        {
            return new Refusal(
                "mesh.xml",
                $"The model of the 3MF package cannot be read: line {e.LineNumber}, place {e.LinePosition}: {e.Message.Split('.')[0]}."
            );
        }
        catch (FormatException e)
        {
            return new Refusal("mesh.number", $"The model of the 3MF package cannot be read: {e.Message}");
        }
    }

    private static string Start(ZipArchive package)
    {
        const string Usual = "3D/3dmodel.model";
        if (package.GetEntry("_rels/.rels") is not { } relations)
        {
            return Usual;
        }

        using var bounded = new BoundedStream(relations.Open(), 1 << 20);
        using var xml = XmlReader.Create(bounded, new XmlReaderSettings { DtdProcessing = DtdProcessing.Prohibit });
        while (xml.Read())
        {
            if (
                xml is { NodeType: XmlNodeType.Element, LocalName: "Relationship" }
                && xml.GetAttribute("Type")?.EndsWith("/3dmodel", StringComparison.Ordinal) == true
            )
            {
                return xml.GetAttribute("Target")?.TrimStart('/') ?? Usual;
            }
        }

        return Usual;
    }

    private static Outcome<ReadMesh> Model(XmlReader xml)
    {
        var (things, built, unit, title, triangles) = (
            new Dictionary<string, Thing>(StringComparer.Ordinal),
            new List<(string Of, Placing At)>(),
            MeshUnit.Millimetre,
            "",
            0L
        );
        Thing? thing = null;
        var left = new SortedSet<string>(StringComparer.Ordinal);
        while (xml.Read())
        {
            if (xml.NodeType != XmlNodeType.Element)
            {
                continue;
            }

            switch (xml.LocalName)
            {
                case "model":
                    var said = xml.GetAttribute("unit") ?? "millimeter";
                    if (!Units.TryGetValue(said, out unit))
                    {
                        return new Refusal(
                            "mesh.unit",
                            $"The 3MF model is in '{Ids.Shorten(said)}', which is none of the standard's units."
                        );
                    }

                    break;
                case "metadata" when xml.GetAttribute("name") == "Title" && !xml.IsEmptyElement:
                    xml.Read();
                    title = xml.NodeType == XmlNodeType.Text ? xml.Value.Trim() : "";
                    break;
                case "object":
                    thing = new Thing
                    {
                        Name = xml.GetAttribute("name") ?? "",
                        Solid = (xml.GetAttribute("type") ?? "model") is "model" or "solidsupport",
                    };
                    things[Needed(xml, "id")] = thing;
                    break;
                case "vertex" when thing is not null:
                    thing.Places.Add(new Vec3(Number(xml, "x"), Number(xml, "y"), Number(xml, "z")));
                    break;
                case "triangle" when thing is not null:
                    if (++triangles > TriangleMesh.MostTriangles)
                    {
                        return MeshFile.TooMany(triangles);
                    }

                    thing.Corners.AddRange([Index(xml, "v1"), Index(xml, "v2"), Index(xml, "v3")]);
                    break;
                case "component" when thing is not null:
                    thing.Parts.Add((Needed(xml, "objectid"), Placing.Of(xml.GetAttribute("transform"))));
                    break;
                case "item":
                    built.Add((Needed(xml, "objectid"), Placing.Of(xml.GetAttribute("transform"))));
                    break;
                case "beamlattice" or "slicestack" or "levelset" or "displacementmesh":
                    left.Add(xml.LocalName);
                    break;
                default:
                    break;
            }
        }

        var soup = new TriangleSoup((int)triangles);
        foreach (var (of, at) in built.Count > 0 ? built : things.Keys.Select(k => (Of: k, At: Placing.None)))
        {
            if (Put(things, of, at, soup, 0) is { } wrong)
            {
                return wrong;
            }
        }

        var names = built.Select(b => things.GetValueOrDefault(b.Of)?.Name ?? "").Where(n => n.Length > 0).ToList();
        ImmutableArray<string> notes =
        [
            .. built.Count > 1 ? [$"{built.Count} objects as one"] : Array.Empty<string>(),
            .. left.Select(l => $"no {l}"),
        ];
        return new ReadMesh(soup.Mesh(), unit, title.Length > 0 ? title : names.FirstOrDefault() ?? "", notes);
    }

    private static Refusal? Put(Dictionary<string, Thing> things, string of, Placing at, TriangleSoup soup, int depth)
    {
        if (!things.TryGetValue(of, out var thing))
        {
            return new Refusal("mesh.reference", $"The 3MF model refers to object {Ids.Shorten(of)}, which it does not hold.");
        }

        if (depth > Deepest)
        {
            return new Refusal(
                "mesh.reference",
                $"Object {Ids.Shorten(of)} of the 3MF model is part of itself, or more than {Deepest} deep."
            );
        }

        if (!thing.Solid)
        {
            return null;
        }

        for (var t = 0; t < thing.Corners.Count; t += 3)
        {
            for (var k = 0; k < 3; k++)
            {
                var number = thing.Corners[t + (at.Mirrors ? 2 - k : k)];
                if (number < 0 || number >= thing.Places.Count)
                {
                    return new Refusal(
                        "mesh.reference",
                        $"Triangle {(t / 3) + 1:N0} of object {Ids.Shorten(of)} names corner {number:N0}; there are "
                            + $"{thing.Places.Count:N0}."
                    );
                }

                if (!soup.Add(at.Apply(thing.Places[number])))
                {
                    return new Refusal("mesh.number", $"A corner of triangle {(t / 3) + 1:N0} of object {Ids.Shorten(of)} is no place.");
                }
            }

            if (soup.Count > TriangleMesh.MostTriangles)
            {
                return MeshFile.TooMany(soup.Count);
            }
        }

        return thing.Parts.Select(p => Put(things, p.Of, p.At.Then(at), soup, depth + 1)).FirstOrDefault(r => r is not null);
    }

    private static string Needed(XmlReader xml, string name) =>
        xml.GetAttribute(name) ?? throw new FormatException($"'{xml.LocalName}' has no '{name}'{Line(xml)}.");

    private static double Number(XmlReader xml, string name) =>
        double.TryParse(Needed(xml, name), NumberStyles.Float, CultureInfo.InvariantCulture, out var value) && double.IsFinite(value)
            ? value
            : throw new FormatException($"'{name}' of '{xml.LocalName}' is no number{Line(xml)}.");

    private static int Index(XmlReader xml, string name) =>
        int.TryParse(Needed(xml, name), NumberStyles.None, CultureInfo.InvariantCulture, out var value)
            ? value
            : throw new FormatException($"'{name}' of '{xml.LocalName}' is no number of a corner{Line(xml)}.");

    private static string Line(XmlReader xml) =>
        xml is IXmlLineInfo { LineNumber: > 0 } at ? $" (line {at.LineNumber}, place {at.LinePosition})" : "";
}

/// <summary>An affine map, by rows: what becomes of x, y, z, and where the origin goes.</summary>
internal readonly record struct Placing(Vec3 X, Vec3 Y, Vec3 Z, Vec3 Origin)
{
    public static Placing None { get; } = new(Vec3.AlongX, Vec3.AlongY, Vec3.AlongZ, Vec3.Zero);

    /// <summary>Whether it turns left hands into right ones.</summary>
    public bool Mirrors => X.Dot(Y.Cross(Z)) < 0;

    public Vec3 Apply(Vec3 p) => Turn(p) + Origin;

    /// <summary>This first, then another.</summary>
    public Placing Then(Placing next) => new(next.Turn(X), next.Turn(Y), next.Turn(Z), next.Apply(Origin));

    /// <summary>Twelve numbers as 3MF writes them; null for none.</summary>
    /// <exception cref="FormatException">They are no twelve numbers.</exception>
    public static Placing Of(string? text)
    {
        if (text is null)
        {
            return None;
        }

        var n = text.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries)
            .Select(w => double.TryParse(w, NumberStyles.Float, CultureInfo.InvariantCulture, out var v) ? v : double.NaN)
            .ToArray();
        return n.Length == 12 && n.All(double.IsFinite)
            ? new Placing(new(n[0], n[1], n[2]), new(n[3], n[4], n[5]), new(n[6], n[7], n[8]), new(n[9], n[10], n[11]))
            : throw new FormatException($"'{Ids.Shorten(text)}' is no transform: it wants twelve numbers.");
    }

    private Vec3 Turn(Vec3 p) => (X * p.X) + (Y * p.Y) + (Z * p.Z);
}

/// <summary>Reads no more than so much of another stream.</summary>
internal sealed class BoundedStream(Stream inner, long most) : Stream
{
    private long read;

    public override bool CanRead => true;

    public override bool CanSeek => false;

    public override bool CanWrite => false;

    public override long Length => throw new NotSupportedException();

    public override long Position
    {
        get => read;
        set => throw new NotSupportedException();
    }

    /// <exception cref="FormatException">There is more than that.</exception>
    public override int Read(byte[] buffer, int offset, int count)
    {
        var n = inner.Read(buffer, offset, count);
        read += n;
        return read <= most ? n : throw new FormatException($"it unpacks to more than {most >> 20} MB.");
    }

    public override void Flush() { }

    public override long Seek(long offset, SeekOrigin origin) => throw new NotSupportedException();

    public override void SetLength(long value) => throw new NotSupportedException();

    public override void Write(byte[] buffer, int offset, int count) => throw new NotSupportedException();

    protected override void Dispose(bool disposing)
    {
        inner.Dispose();
        base.Dispose(disposing);
    }
}
