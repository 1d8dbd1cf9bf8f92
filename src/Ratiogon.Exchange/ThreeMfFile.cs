using System.Globalization;
using System.IO.Compression;
using System.Text;
using System.Xml;

namespace Ratiogon.Exchange;

/// <summary>Triangles as 3MF (ISO/IEC 25422, core specification 1.3): a package with one model, an object for each body with
/// its name, and colours as base materials. Corners that lie in one place are one vertex, so that every body is closed.</summary>
public static class ThreeMfFile
{
    private const string Core = "http://schemas.microsoft.com/3dmanufacturing/core/2015/02";
    private const string Model = "3D/3dmodel.model";

    public static FileFormat Format { get; } =
        FileFormat.OfTriangles(
            "3mf",
            "model/3mf",
            "3MF",
            "triangles with names and colours, ISO/IEC 25422",
            "triangles with names and colours, for printing",
            (name, bodies, _) => Write(name, bodies)
        );

    public static byte[] Write(string name, IReadOnlyList<MeshBody> bodies)
    {
        ArgumentNullException.ThrowIfNull(bodies);
        using var file = new MemoryStream();
        using (var package = new ZipArchive(file, ZipArchiveMode.Create, leaveOpen: true))
        {
            Put(
                package,
                "[Content_Types].xml",
                """
                <?xml version="1.0" encoding="UTF-8"?>
                <Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types">
                <Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/>
                <Default Extension="model" ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/>
                </Types>
                """
            );
            Put(
                package,
                "_rels/.rels",
                $"""
                <?xml version="1.0" encoding="UTF-8"?>
                <Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">
                <Relationship Id="rel0" Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel" Target="/{Model}"/>
                </Relationships>
                """
            );
            using var entry = package.CreateEntry(Model, CompressionLevel.Fastest).Open();
            using var xml = XmlWriter.Create(entry, new XmlWriterSettings { Encoding = new UTF8Encoding(false) });
            xml.WriteStartElement("model", Core);
            xml.WriteAttributeString("unit", "millimeter");
            xml.WriteStartElement("metadata", Core);
            xml.WriteAttributeString("name", "Title");
            xml.WriteString(Plain(name));
            xml.WriteEndElement();
            xml.WriteStartElement("resources", Core);
            xml.WriteStartElement("basematerials", Core);
            xml.WriteAttributeString("id", "1");
            foreach (var body in bodies)
            {
                xml.WriteStartElement("base", Core);
                xml.WriteAttributeString("name", Plain(body.Name));
                xml.WriteAttributeString("displaycolor", body.Colour.ToUpperInvariant());
                xml.WriteEndElement();
            }

            xml.WriteEndElement();
            for (var i = 0; i < bodies.Count; i++)
            {
                Object(xml, bodies[i], i);
            }

            xml.WriteEndElement();
            xml.WriteStartElement("build", Core);
            for (var i = 0; i < bodies.Count; i++)
            {
                xml.WriteStartElement("item", Core);
                xml.WriteAttributeString("objectid", Number(i + 2));
                xml.WriteEndElement();
            }

            xml.WriteEndElement();
            xml.WriteEndElement();
        }

        return file.ToArray();
    }

    private static void Object(XmlWriter xml, MeshBody body, int index)
    {
        var places = body.Mesh.Places();
        var corners = body.Mesh.Corners();
        var (vertices, of) = Welded(places);
        xml.WriteStartElement("object", Core);
        xml.WriteAttributeString("id", Number(index + 2));
        xml.WriteAttributeString("type", "model");
        xml.WriteAttributeString("name", Plain(body.Name));
        xml.WriteAttributeString("pid", "1");
        xml.WriteAttributeString("pindex", Number(index));
        xml.WriteStartElement("mesh", Core);
        xml.WriteStartElement("vertices", Core);
        foreach (var v in vertices)
        {
            xml.WriteStartElement("vertex", Core);
            xml.WriteAttributeString("x", v.X.ToString("R", CultureInfo.InvariantCulture));
            xml.WriteAttributeString("y", v.Y.ToString("R", CultureInfo.InvariantCulture));
            xml.WriteAttributeString("z", v.Z.ToString("R", CultureInfo.InvariantCulture));
            xml.WriteEndElement();
        }

        xml.WriteEndElement();
        xml.WriteStartElement("triangles", Core);
        foreach (var t in body.Mesh.Real())
        {
            var (a, b, c) = (of[corners[t]], of[corners[t + 1]], of[corners[t + 2]]);
            xml.WriteStartElement("triangle", Core);
            xml.WriteAttributeString("v1", Number(a));
            xml.WriteAttributeString("v2", Number(b));
            xml.WriteAttributeString("v3", Number(c));
            xml.WriteEndElement();
        }

        xml.WriteEndElement();
        xml.WriteEndElement();
        xml.WriteEndElement();
    }

    /// <summary>Corners in one place as one vertex, and for each corner which.</summary>
    private static (List<(float X, float Y, float Z)> Vertices, int[] Of) Welded(ReadOnlySpan<float> places)
    {
        var known = new Dictionary<(float, float, float), int>();
        var vertices = new List<(float, float, float)>();
        var of = new int[places.Length / 3];
        for (var i = 0; i < of.Length; i++)
        {
            var p = (places[3 * i], places[(3 * i) + 1], places[(3 * i) + 2]);
            if (!known.TryGetValue(p, out var at))
            {
                known[p] = at = vertices.Count;
                vertices.Add(p);
            }

            of[i] = at;
        }

        return (vertices, of);
    }

    private static void Put(ZipArchive package, string path, string text)
    {
        using var entry = package.CreateEntry(path).Open();
        entry.Write(Encoding.UTF8.GetBytes(text));
    }

    private static string Number(int n) => n.ToString(CultureInfo.InvariantCulture);

    private static string Plain(string text) => string.Concat(text.Where(c => XmlConvert.IsXmlChar(c)));
}
