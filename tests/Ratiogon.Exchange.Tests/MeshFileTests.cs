using System.Diagnostics;
using System.Globalization;
using System.IO.Compression;
using System.Text;
using System.Text.Json;
using System.Xml.Linq;
using Ratiogon.Core;
using Ratiogon.Solids;

namespace Ratiogon.Exchange.Tests;

/// <summary>Files of triangles, each read back by a reader that knows only the format.</summary>
public class MeshFileTests
{
    private static readonly XNamespace Core = "http://schemas.microsoft.com/3dmanufacturing/core/2015/02";

    [Theory]
    [InlineData(0.1)]
    [InlineData(0.01)]
    public void Stl_is_closed_and_has_the_volume_of_the_bodies(double deviation)
    {
        var volume = Others.Closed(Others.Binary(Scene.Written("stl", new ExportOptions { Deviation = deviation })));
        volume.ShouldBe(Scene.Block + Scene.Pin, (Scene.Block + Scene.Pin) * deviation * 0.05);
    }

    [Fact]
    public void Text_stl_says_the_same_as_binary()
    {
        var text = Encoding.ASCII.GetString(Scene.Written("stl", new ExportOptions { Text = true }));
        text.ShouldStartWith("solid Block & pin\n");
        text.TrimEnd().ShouldEndWith("endsolid Block & pin");
        var corners = text.Split('\n')
            .Where(l => l.StartsWith("vertex ", StringComparison.Ordinal))
            .Select(l => l.Split(' '))
            .Select(w => new Vec3(
                float.Parse(w[1], CultureInfo.InvariantCulture),
                float.Parse(w[2], CultureInfo.InvariantCulture),
                float.Parse(w[3], CultureInfo.InvariantCulture)
            ))
            .ToList();
        var triangles = Enumerable
            .Range(0, corners.Count / 3)
            .Select(i => (corners[3 * i], corners[(3 * i) + 1], corners[(3 * i) + 2]))
            .ToList();
        triangles.ShouldBe(Others.Binary(Scene.Written("stl")));
    }

    [Fact]
    public void ThreeMf_is_a_package_with_a_closed_object_for_each_body()
    {
        using var package = new ZipArchive(new MemoryStream(Scene.Written("3mf")), ZipArchiveMode.Read);
        package.Entries.Select(e => e.FullName).ShouldBe(["[Content_Types].xml", "_rels/.rels", "3D/3dmodel.model"]);
        XDocument
            .Load(package.GetEntry("[Content_Types].xml")!.Open())
            .Root!.Elements()
            .Select(e => (string?)e.Attribute("Extension"))
            .ShouldBe(["rels", "model"]);
        XDocument
            .Load(package.GetEntry("_rels/.rels")!.Open())
            .Root!.Elements()
            .Single()
            .Attribute("Target")!
            .Value.ShouldBe("/3D/3dmodel.model");
        var model = XDocument.Load(package.GetEntry("3D/3dmodel.model")!.Open()).Root!;
        model.Name.ShouldBe(Core + "model");
        model.Attribute("unit")!.Value.ShouldBe("millimeter");
        var objects = model.Element(Core + "resources")!.Elements(Core + "object").ToList();
        objects.Select(o => o.Attribute("name")!.Value).ShouldBe(["Block & pin", "Block & pin, Pin"]);
        model
            .Element(Core + "build")!
            .Elements(Core + "item")
            .Select(i => i.Attribute("objectid")!.Value)
            .ShouldBe(objects.Select(o => o.Attribute("id")!.Value));
        var colours = model.Descendants(Core + "base").Select(b => b.Attribute("displaycolor")!.Value).ToList();
        colours.ShouldAllBe(c => c.Length == 7 && c[0] == '#');
        foreach (var (o, expected) in objects.Zip([Scene.Block, Scene.Pin]))
        {
            double N(XElement e, string name) => double.Parse(e.Attribute(name)!.Value, CultureInfo.InvariantCulture);
            var vertices = o.Descendants(Core + "vertex").Select(v => new Vec3(N(v, "x"), N(v, "y"), N(v, "z"))).ToList();
            vertices.Distinct().Count().ShouldBe(vertices.Count);
            Others
                .Closed(
                    o.Descendants(Core + "triangle")
                        .Select(t => (vertices[(int)N(t, "v1")], vertices[(int)N(t, "v2")], vertices[(int)N(t, "v3")]))
                )
                .ShouldBe(expected, expected * 0.01);
            N(o, "pindex").ShouldBeLessThan(colours.Count);
        }
    }

    [Fact]
    public void Gltf_passes_the_validator_and_stands_upright_in_metres()
    {
        var file = Scene.Written("glb");
        var report = Others.Validated("gltf", file);
        report.GetProperty("issues").GetProperty("numErrors").GetInt32().ShouldBe(0, report.ToString());
        report.GetProperty("issues").GetProperty("numWarnings").GetInt32().ShouldBe(0, report.ToString());
        report.GetProperty("info").GetProperty("drawCallCount").GetInt32().ShouldBe(2);
        report.GetProperty("info").GetProperty("materialCount").GetInt32().ShouldBe(2);
        Encoding.UTF8.GetString(file).ShouldContain("\"max\":[0.04,0.025,0.012]");
    }

    [Fact]
    public void ThreeMf_is_read_strictly_by_the_consortiums_own_library()
    {
        var report = Others.Validated("3mf", Scene.Written("3mf"));
        report.GetProperty("refused").ValueKind.ShouldBe(JsonValueKind.Null);
        report.GetProperty("warnings").GetInt32().ShouldBe(0);
        report.GetProperty("items").GetInt32().ShouldBe(2);
        report
            .GetProperty("objects")
            .EnumerateArray()
            .Select(o => (o.GetProperty("name").GetString(), o.GetProperty("closed").GetBoolean(), o.GetProperty("valid").GetBoolean()))
            .ShouldBe([("Block & pin", true, true), ("Block & pin, Pin", true, true)]);
    }

    [Theory]
    [InlineData("<triangle ", "<tri ", true)]
    [InlineData("unit=\"millimeter\"", "unit=\"furlong\"", true)]
    [InlineData("<triangle v1=\"0\"", "<triangle v1=\"1\"", false)]
    public void And_that_library_tells_a_bad_file(string good, string bad, bool refused)
    {
        var (from, to) = (new MemoryStream(Scene.Written("3mf")), new MemoryStream());
        using (var read = new ZipArchive(from, ZipArchiveMode.Read))
        using (var write = new ZipArchive(to, ZipArchiveMode.Create, leaveOpen: true))
        {
            foreach (var entry in read.Entries)
            {
                using var text = new StreamReader(entry.Open());
                var content = text.ReadToEnd();
                var at = content.IndexOf(good, StringComparison.Ordinal);
                using var put = new StreamWriter(write.CreateEntry(entry.FullName).Open());
                put.Write(at < 0 ? content : content[..at] + bad + content[(at + good.Length)..]);
            }
        }

        var report = Others.Validated("3mf", to.ToArray());
        (report.GetProperty("refused").ValueKind == JsonValueKind.String || report.GetProperty("warnings").GetInt32() > 0).ShouldBe(
            refused
        );
        if (!refused)
        {
            report.GetProperty("objects")[0].GetProperty("closed").GetBoolean().ShouldBeFalse();
        }
    }

    public static TheoryData<string> Endings => [.. Exporter.Endings];

    [Theory]
    [MemberData(nameof(Endings))]
    public void Every_format_writes_its_file_under_each_of_its_endings(string ending)
    {
        var site = Scene.Site(Scene.Part);
        var options = new ExportOptions { Of = Scene.Part.Steps.OfType<Ratiogon.Core.Parts.Steps.SketchStep>().First().Id };
        var format = Exporter.Find(ending.ToUpperInvariant()).ShouldNotBeNull();
        format.Endings.ShouldContain(ending);
        var file = Exporter.Write(site, ending, options).Value;
        file.Length.ShouldBe(format.Write(site, options).Value.Length);
        if (format.Pack is not null)
        {
            format.Choices.HasFlag(FormatChoices.Deviation).ShouldBeTrue();
            Exporter.Preview(site, ending, options).Value.Bytes.ShouldBe(file.Length);
            MeshFile.Read($"a.{ending}", file).Value.Mesh.Count.ShouldBe(Exporter.Preview(site, ending, options).Value.Triangles);
        }
    }

    [Fact]
    public void The_preview_counts_triangles_and_says_how_far_they_stray()
    {
        var site = Scene.Site(Scene.Part);
        var coarse = Exporter.Preview(site, "stl", new ExportOptions { Deviation = 0.5 }).Value;
        var fine = Exporter.Preview(site, "stl", new ExportOptions { Deviation = 0.005 }).Value;
        fine.Triangles.ShouldBeGreaterThan(coarse.Triangles);
        fine.Deviation.ShouldBeInRange(1e-6, 0.006);
        coarse.Deviation.ShouldBeGreaterThan(fine.Deviation);
        fine.Bytes.ShouldBe(84 + (50 * fine.Triangles));
        Exporter
            .Preview(site, "stl", new ExportOptions { Deviation = 50 })
            .Refusal!.Message.ShouldContain("from 0.0005 to 5 mm, not 50 mm");
        Exporter.Write(site, "xyz", new ExportOptions()).Refusal!.Message.ShouldContain("is no known format; use step");
        Exporter.Write(Scene.Site(new Ratiogon.Core.Parts.Part()), "stl", new ExportOptions()).Refusal!.Code.ShouldBe("export.empty");
    }
}
