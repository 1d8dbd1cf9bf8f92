using System.Diagnostics;
using System.Globalization;
using System.IO.Compression;
using System.Text;
using System.Text.Json;
using System.Xml.Linq;
using Ratiogon.Core.Demo;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Parts.Rebuilding;
using Ratiogon.Solids;

namespace Ratiogon.Exchange.Tests;

/// <summary>Files of triangles, each read back by a reader that knows only the format.</summary>
public class MeshFileTests
{
    private static readonly XNamespace Core = "http://schemas.microsoft.com/3dmanufacturing/core/2015/02";

    /// <summary>Every directed side once, its reverse once: closed and turned one way. And the volume inside.</summary>
    private static double Closed(IEnumerable<(Vec3 A, Vec3 B, Vec3 C)> triangles)
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

    private static List<(Vec3 A, Vec3 B, Vec3 C)> Binary(byte[] stl)
    {
        using var reader = new BinaryReader(new MemoryStream(stl));
        reader.ReadBytes(80);
        var count = reader.ReadInt32();
        stl.Length.ShouldBe(84 + (50 * count));
        return [.. Enumerable.Range(0, count).Select(_ =>
        {
            var (normal, a, b, c) = (Place(reader), Place(reader), Place(reader), Place(reader));
            reader.ReadUInt16().ShouldBe((ushort)0);
            (b - a).Cross(c - a).Unit.Dot(normal).ShouldBeGreaterThan(0.999);
            return (a, b, c);
        })];
    }

    [Theory]
    [InlineData(0.1)]
    [InlineData(0.01)]
    public void Stl_is_closed_and_has_the_volume_of_the_bodies(double deviation)
    {
        var volume = Closed(Binary(Scene.Written("stl", new ExportOptions { Deviation = deviation })));
        volume.ShouldBe(Scene.Block + Scene.Pin, (Scene.Block + Scene.Pin) * deviation * 0.05);
    }

    [Fact]
    public void Text_stl_says_the_same_as_binary()
    {
        var text = Encoding.ASCII.GetString(Scene.Written("stl", new ExportOptions { Text = true }));
        text.ShouldStartWith("solid Block & pin\n");
        text.TrimEnd().ShouldEndWith("endsolid Block & pin");
        var corners = text.Split('\n').Where(l => l.StartsWith("vertex ", StringComparison.Ordinal)).Select(l => l.Split(' ')).Select(w => new Vec3(float.Parse(w[1], CultureInfo.InvariantCulture), float.Parse(w[2], CultureInfo.InvariantCulture), float.Parse(w[3], CultureInfo.InvariantCulture))).ToList();
        var triangles = Enumerable.Range(0, corners.Count / 3).Select(i => (corners[3 * i], corners[(3 * i) + 1], corners[(3 * i) + 2])).ToList();
        triangles.ShouldBe(Binary(Scene.Written("stl")));
    }

    [Fact]
    public void ThreeMf_is_a_package_with_a_closed_object_for_each_body()
    {
        using var package = new ZipArchive(new MemoryStream(Scene.Written("3mf")), ZipArchiveMode.Read);
        package.Entries.Select(e => e.FullName).ShouldBe(["[Content_Types].xml", "_rels/.rels", "3D/3dmodel.model"]);
        XDocument.Load(package.GetEntry("[Content_Types].xml")!.Open()).Root!.Elements().Select(e => (string?)e.Attribute("Extension")).ShouldBe(["rels", "model"]);
        XDocument.Load(package.GetEntry("_rels/.rels")!.Open()).Root!.Elements().Single().Attribute("Target")!.Value.ShouldBe("/3D/3dmodel.model");
        var model = XDocument.Load(package.GetEntry("3D/3dmodel.model")!.Open()).Root!;
        model.Name.ShouldBe(Core + "model");
        model.Attribute("unit")!.Value.ShouldBe("millimeter");
        var objects = model.Element(Core + "resources")!.Elements(Core + "object").ToList();
        objects.Select(o => o.Attribute("name")!.Value).ShouldBe(["Block & pin", "Block & pin, Pin"]);
        model.Element(Core + "build")!.Elements(Core + "item").Select(i => i.Attribute("objectid")!.Value).ShouldBe(objects.Select(o => o.Attribute("id")!.Value));
        var colours = model.Descendants(Core + "base").Select(b => b.Attribute("displaycolor")!.Value).ToList();
        colours.ShouldAllBe(c => c.Length == 7 && c[0] == '#');
        foreach (var (o, expected) in objects.Zip([Scene.Block, Scene.Pin]))
        {
            double N(XElement e, string name) => double.Parse(e.Attribute(name)!.Value, CultureInfo.InvariantCulture);
            var vertices = o.Descendants(Core + "vertex").Select(v => new Vec3(N(v, "x"), N(v, "y"), N(v, "z"))).ToList();
            vertices.Distinct().Count().ShouldBe(vertices.Count);
            Closed(o.Descendants(Core + "triangle").Select(t => (vertices[(int)N(t, "v1")], vertices[(int)N(t, "v2")], vertices[(int)N(t, "v3")]))).ShouldBe(expected, expected * 0.01);
            N(o, "pindex").ShouldBeLessThan(colours.Count);
        }
    }

    [Fact]
    public void Gltf_passes_the_validator_and_stands_upright_in_metres()
    {
        var file = Scene.Written("glb");
        var report = Validated("gltf", file);
        report.GetProperty("issues").GetProperty("numErrors").GetInt32().ShouldBe(0, report.ToString());
        report.GetProperty("issues").GetProperty("numWarnings").GetInt32().ShouldBe(0, report.ToString());
        report.GetProperty("info").GetProperty("drawCallCount").GetInt32().ShouldBe(2);
        report.GetProperty("info").GetProperty("materialCount").GetInt32().ShouldBe(2);
        Encoding.UTF8.GetString(file).ShouldContain("\"max\":[0.04,0.025,0.012]");
    }

    [Fact]
    public void ThreeMf_is_read_strictly_by_the_consortiums_own_library()
    {
        var report = Validated("3mf", Scene.Written("3mf"));
        report.GetProperty("refused").ValueKind.ShouldBe(JsonValueKind.Null);
        report.GetProperty("warnings").GetInt32().ShouldBe(0);
        report.GetProperty("items").GetInt32().ShouldBe(2);
        report.GetProperty("objects").EnumerateArray().Select(o => (o.GetProperty("name").GetString(), o.GetProperty("closed").GetBoolean(), o.GetProperty("valid").GetBoolean()))
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

        var report = Validated("3mf", to.ToArray());
        (report.GetProperty("refused").ValueKind == JsonValueKind.String || report.GetProperty("warnings").GetInt32() > 0).ShouldBe(refused);
        if (!refused)
        {
            report.GetProperty("objects")[0].GetProperty("closed").GetBoolean().ShouldBeFalse();
        }
    }

    public static TheoryData<string> Demos => [.. DemoParts.All.Select(p => p.File)];

    /// <summary>What the demo parts are written as, by readers of other hands: triangles closed with the volume of the bodies, glTF
    /// and 3MF by their validators, STEP by its grammar and its references, and read again with the same volume, area and centre.</summary>
    [Theory]
    [MemberData(nameof(Demos))]
    public void Every_demo_part_is_written_soundly_in_every_format(string demo)
    {
        var kernel = new NativeKernel();
        using var rebuilder = new Rebuilder(kernel);
        var site = rebuilder.Gauge(DemoParts.All.Single(p => p.File == demo).Build());
        byte[] Written(string ending, bool ap242 = false)
        {
            var written = Exporter.Write(site, ending, new ExportOptions { Ap242 = ap242 });
            written.Refusal?.Message.ShouldBeNull();
            return written.Value;
        }

        var (volume, area) = (site.Bodies.Sum(b => b.Mass.Volume), site.Bodies.Sum(b => b.Mass.Area));
        Closed(Binary(Written("stl"))).ShouldBe(volume, area * new ExportOptions().Deviation);
        var gltf = Validated("gltf", Written("glb")).GetProperty("issues");
        (gltf.GetProperty("numErrors").GetInt32(), gltf.GetProperty("numWarnings").GetInt32()).ShouldBe((0, 0), gltf.ToString());
        var threeMf = Validated("3mf", Written("3mf"));
        (threeMf.GetProperty("refused").ValueKind, threeMf.GetProperty("warnings").GetInt32()).ShouldBe((JsonValueKind.Null, 0));
        threeMf.GetProperty("objects").EnumerateArray().ShouldAllBe(o => o.GetProperty("closed").GetBoolean() && o.GetProperty("valid").GetBoolean());
        foreach (var (format, file, slack) in new[] { (BodyFormat.Step214, Written("step"), 1e-9), (BodyFormat.Step242, Written("step", ap242: true), 1e-9), (BodyFormat.Iges, Written("iges"), 1e-9) })
        {
            if (format != BodyFormat.Iges)
            {
                Part21(Encoding.ASCII.GetString(file));
            }

            var read = kernel.Read(format, file);
            read.Refusal?.Message.ShouldBeNull();
            read.Value.Said.ShouldBeEmpty();
            var mass = kernel.Mass(read.Value.Solid);
            mass.Volume.ShouldBe(volume, volume * slack, $"{format}");
            mass.Area.ShouldBe(area, area * slack, $"{format}");
            var centre = site.Bodies.Aggregate(Vec3.Zero, (c, b) => c + (b.Mass.Centre * b.Mass.Volume)) / volume;
            mass.Centre.DistanceTo(centre).ShouldBeLessThan(1e-6, $"{format}");
        }
    }

    /// <summary>ISO 10303-21 as far as its exchange structure goes: the sections in order, each instance named once, nothing referred
    /// to that is not there, strings and brackets closed.</summary>
    private static void Part21(string text)
    {
        text.ShouldStartWith("ISO-10303-21;");
        text.TrimEnd().ShouldEndWith("END-ISO-10303-21;");

        // Strings are made empty first: what is in them is nobody's reference.
        var bare = System.Text.RegularExpressions.Regex.Replace(text, "'(?:[^']|'')*'", "''");
        System.Text.RegularExpressions.Regex.Matches(bare, "HEADER;|ENDSEC;|DATA;").Select(m => m.Value).ShouldBe(["HEADER;", "ENDSEC;", "DATA;", "ENDSEC;"]);
        var data = bare[(bare.IndexOf("DATA;", StringComparison.Ordinal) + 5)..bare.LastIndexOf("ENDSEC;", StringComparison.Ordinal)];
        var instances = data.Split(';', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
        instances.Where(i => !System.Text.RegularExpressions.Regex.IsMatch(i, @"^#\d+\s*=\s*(\(|[A-Z_0-9]+\s*\()[\s\S]*\)$") || i.Count(c => c == '(') != i.Count(c => c == ')')).ShouldBeEmpty();
        var names = instances.Select(i => i[..i.IndexOf('=', StringComparison.Ordinal)].Trim()).ToList();
        var known = names.ToHashSet(StringComparer.Ordinal);
        known.Count.ShouldBe(names.Count, "each name once");
        instances.SelectMany(i => System.Text.RegularExpressions.Regex.Matches(i, @"#\d+").Select(m => m.Value)).Where(r => !known.Contains(r)).ShouldBeEmpty();
    }

    /// <summary>What a validator of other hands says of a file.</summary>
    private static JsonElement Validated(string format, byte[] content)
    {
        var file = Path.Combine(Path.GetTempPath(), $"ratiogon-{Guid.NewGuid():N}.{format}");
        try
        {
            File.WriteAllBytes(file, content);
            var start = new ProcessStartInfo("node", [Path.Combine(Root(), $"tests/Ratiogon.Exchange.Tests/validate-{format}.mjs"), file]) { RedirectStandardOutput = true, RedirectStandardError = true };
            using var node = Process.Start(start)!;
            var wrong = node.StandardError.ReadToEndAsync();
            var said = node.StandardOutput.ReadToEnd();
            node.WaitForExit();
            node.ExitCode.ShouldBe(0, wrong.Result);
            return JsonDocument.Parse(said).RootElement;
        }
        finally
        {
            File.Delete(file);
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
        Exporter.Preview(site, "stl", new ExportOptions { Deviation = 50 }).Refusal!.Message.ShouldContain("from 0.0005 to 5 mm, not 50 mm");
        Exporter.Write(site, "xyz", new ExportOptions()).Refusal!.Message.ShouldContain("is no known format; use step");
        Exporter.Write(Scene.Site(new Ratiogon.Core.Parts.Part()), "stl", new ExportOptions()).Refusal!.Code.ShouldBe("export.empty");
    }

    private static string Root()
    {
        var at = AppContext.BaseDirectory;
        while (!File.Exists(Path.Combine(at, "Ratiogon.slnx")))
        {
            at = Path.GetDirectoryName(at)!;
        }

        return at;
    }
}
