using System.Collections.Immutable;
using System.Globalization;
using System.Runtime.InteropServices;
using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Constraints;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Solids.Tests.Rig;

/// <summary>Random forms and chains of forms, held against identities that need no closed form: what two bodies have together and in
/// common, mirrored twice, another order, moved and turned as a whole, rounded and hollowed within what their edges and faces
/// allow. Every body is also held against the volume that its own closed triangles enclose.</summary>
internal static partial class FormRig
{
    private const double Exact = 1e-6;

    /// <summary>What came of one seed.</summary>
    public enum Outcome
    {
        Right,
        Refused,
        Wrong,
    }

    public sealed record Verdict(int Seed, string Kind, Outcome Outcome, string Words);

    private static readonly (string Name, Func<Rig, Verdict> Run)[] Kinds =
    [
        ("boolean", Boolean),
        ("rounded", r => Blended(r, "rounded")),
        ("bevelled", r => Blended(r, "bevelled")),
        ("hollow", Hollow),
        ("leaning", Leaning),
        ("mirrored", Mirrored),
        ("order", Order),
        ("placed", Placed),
        ("loft", Loft),
        ("row", Row),
        ("halves", Halves),
        ("extent", Extent),
        ("turned", TurnedPart),
        ("pipe", Pipe),
        ("drilled", Drilled),
        ("repeated", Repeated),
        ("reflected", Reflected),
        ("larger", Larger),
        ("chained", Chained),
        ("copied", Copied),
        ("faced", ByFaces),
        ("twisted", Twisted),
    ];

    public static string KindOf(int seed) => Kinds[seed % Kinds.Length].Name;

    public static Verdict Run(int seed, Rebuilder rebuilder)
    {
        var random = new Random(seed);
        var (name, run) = Kinds[seed % Kinds.Length];
        var rig = new Rig(seed, name, random, rebuilder);
        try
        {
            return run(rig);
        }
        catch (Failed f)
        {
            return new Verdict(
                seed,
                name,
                f.Refused ? Outcome.Refused : Outcome.Wrong,
                $"{string.Join(", ", rig.Bodies.Distinct())}: {f.Message}"
            );
        }
    }

    private sealed class Failed(bool refused, string message) : Exception(message)
    {
        public bool Refused => refused;
    }

    private sealed record Rig(int Seed, string Kind, Random Random, Rebuilder Rebuilder)
    {
        /// <summary>Millimetres of one unit of length: shops of every size.</summary>
        public double Scale => Unit ?? Given ?? Chosen;

        /// <summary>RATIOGON_FORM_RIG_UNIT sets one for all.</summary>
        private static double? Given { get; } =
            double.TryParse(Environment.GetEnvironmentVariable("RATIOGON_FORM_RIG_UNIT"), CultureInfo.InvariantCulture, out var unit)
                ? unit
                : null;

        /// <summary>Set where a rig is run in another size.</summary>
        public double? Unit { get; init; }

        private double Chosen { get; } =
            Math.Pow(
                10,
                Chance(seed: Seed) switch
                {
                    < 0.7 => 0,
                    < 0.78 => -1,
                    < 0.84 => -2,
                    < 0.92 => 1,
                    _ => 2,
                }
            );

        /// <summary>What its bodies are.</summary>
        public List<string> Bodies { get; } = [];

        public bool Round { get; } = Random.NextDouble() < 0.5;

        /// <summary>Between bounds; in half of the rigs in whole steps, so that faces fall on faces and edges on edges.</summary>
        public double In(double low, double high)
        {
            var v = low + (Random.NextDouble() * (high - low));
            return (Round ? Math.Max(low, Math.Round(v / 2.5) * 2.5) : v) * Scale;
        }

        public double Turn() => Round ? Random.Next(0, 4) * 90 : Random.NextDouble() * 360;

        public Verdict Right(string words = "") => new(Seed, Kind, Outcome.Right, words);

        public Verdict Refused(string words) => new(Seed, Kind, Outcome.Refused, words);

        public Verdict Wrong(string words) => new(Seed, Kind, Outcome.Wrong, words);

        /// <summary>The bodies of a part, each sound by itself; what is refused before the step that is tried ends the run.</summary>
        public ImmutableArray<BodyResult> Built(Part part, string? tried = null)
        {
            var result = Rebuilder.Rebuild(part);
            foreach (var step in result.Steps)
            {
                if (step.State != StepState.Built)
                {
                    Lead(part, step);
                    throw new Failed(true, $"{(step.Id == tried ? "" : "before: ")}{part.Find(step.Id)!.Kind}: {step.Message}");
                }
            }

            foreach (var body in result.Bodies)
            {
                Sound(body);
            }

            return result.Bodies;
        }

        /// <summary>A value that a refusal offers in place of its own can be built.</summary>
        private void Lead(Part part, StepResult refused)
        {
            foreach (var way in refused.Ways)
            {
                var form = (FormStep)part.Find(refused.Id)!;
                if (
                    form.Fields.FirstOrDefault(f => f.Name == way.Field) is ValueField field
                    && Rebuilder.Rebuild(part.With(field.Set(form, way.Value)), withMesh: false).Step(refused.Id) is var after
                    && after!.State != StepState.Built
                )
                {
                    throw new Failed(false, $"{refused.Message} '{way.Words}' ({way.Value}) does not do: {after.Message}");
                }
            }
        }

        private static double Chance(int seed) => new Random(seed * 31 + 7).NextDouble();
    }

    private static string Mm(double v) => string.Create(CultureInfo.InvariantCulture, $"{v:R} mm");

    private static string Deg(double v) => string.Create(CultureInfo.InvariantCulture, $"{v:R} deg");

    private static bool Same(double a, double b, double of) => Math.Abs(a - b) <= Exact * Math.Abs(of);

    /// <summary>Its triangles enclose its volume, which they do only where they close.</summary>
    private static void Sound(BodyResult body)
    {
        var middle = (body.Bounds.Low + body.Bounds.High) * 0.5;
        var volume = Triangles(body, _ => true).Sum(t => (t.A - middle).Dot((t.B - middle).Cross(t.C - middle)) / 6);
        if (body.Mesh!.FaceTriangles.Any(n => n == 0))
        {
            throw new Failed(false, "a face without triangles");
        }

        if (Crossing(body) is { } crossing)
        {
            throw new Failed(false, $"its faces pass through each other at {crossing}");
        }

        var slack =
            (body.Mass.Area * body.Bounds.Diagonal * Tolerances.DrawnDeviation * 2)
            + (1e-5 * body.Mass.Volume)
            + (1e-6 * body.Bounds.Diagonal * body.Mass.Area);
        if (!(body.Mass.Volume > 0) || Math.Abs(volume - body.Mass.Volume) > slack)
        {
            throw new Failed(false, $"its triangles enclose {volume:R} mm3, its volume is {body.Mass.Volume:R}");
        }
    }

    /// <summary>Where an edge of a triangle goes through a triangle of another face, by more than triangles may be off.</summary>
    private static string? Crossing(BodyResult body)
    {
        var off = 4 * body.Bounds.Diagonal * Tolerances.DrawnDeviation;
        var faces = Enumerable.Range(0, body.Mesh!.FaceTriangles.Length).Select(f => Triangles(body, f)).ToList();
        var boxes = faces.Select(f => Box(f.SelectMany(t => new[] { t.A, t.B, t.C }))).ToList();
        for (var f = 0; f < faces.Count; f++)
        {
            for (var g = 0; g < faces.Count; g++)
            {
                if (f == g || !Meet(boxes[f], boxes[g]))
                {
                    continue;
                }

                foreach (var (a, b, c) in faces[g].Where(t => Meet(Box([t.A, t.B, t.C]), boxes[f])))
                {
                    var n = (b - a).Cross(c - a);
                    if (n.Length < 1e-12 * body.Bounds.Diagonal * body.Bounds.Diagonal)
                    {
                        continue;
                    }

                    n *= 1 / n.Length;
                    foreach (var (p, q) in faces[f].SelectMany(t => new[] { (t.A, t.B), (t.B, t.C), (t.C, t.A) }))
                    {
                        var (d, e) = ((p - a).Dot(n), (q - a).Dot(n));
                        if (d < off || e > -off)
                        {
                            continue;
                        }

                        var x = p + ((q - p) * (d / (d - e)));
                        bool In(Vec3 from, Vec3 to) => n.Dot((to - from).Cross(x - from)) > off * (to - from).Length;
                        if (In(a, b) && In(b, c) && In(c, a))
                        {
                            return $"{x}, {body.Names.Faces[f]} and {body.Names.Faces[g]}";
                        }
                    }
                }
            }
        }

        return null;
    }

    private static (Vec3 Low, Vec3 High) Box(IEnumerable<Vec3> places)
    {
        var all = places.ToList();
        return all.Count == 0
            ? (new(1, 1, 1), new(-1, -1, -1))
            : (new(all.Min(p => p.X), all.Min(p => p.Y), all.Min(p => p.Z)), new(all.Max(p => p.X), all.Max(p => p.Y), all.Max(p => p.Z)));
    }

    private static bool Meet((Vec3 Low, Vec3 High) a, (Vec3 Low, Vec3 High) b) =>
        a.Low.X <= b.High.X
        && b.Low.X <= a.High.X
        && a.Low.Y <= b.High.Y
        && b.Low.Y <= a.High.Y
        && a.Low.Z <= b.High.Z
        && b.Low.Z <= a.High.Z;

    private static readonly string[] Words = ["cylinder", "prism", "angle", "ring", "tapered", "cone", "rounded block", "drilled block"];

    /// <summary>A body of a random kind on a frame of its own. It stands alone.</summary>
    private static PartCommand[] Body(Rig r, string id, double reach, bool placed = true)
    {
        var (w, d, h) = (r.In(8, 40), r.In(8, 40), r.In(6, 40));
        string[] place = placed
            ? [Mm(r.In(-reach, reach)), Mm(r.In(-reach, reach)), Mm(r.In(-reach, reach)), Deg(r.Turn()), Deg(r.Turn()), Deg(r.Turn())]
            : ["0 mm", "0 mm", "0 mm", "0 deg", "0 deg", "0 deg"];
        var frame = new AddStep(new FrameStep($"{id}f", 0, "", [new DatumCondition("free", []) { Values = [.. place] }]));
        PartCommand[] Extruded(SketchEdit edit, string? draft = null) =>
            [
                frame,
                .. Parts.Sketched($"{id}s", $"{id}f", edit),
                new AddStep(
                    new ExtrudeStep(id, 0, "", $"{id}s")
                    {
                        Length = Mm(h),
                        Draft = draft,
                        Operation = FormOperation.Body,
                    }
                ),
            ];
        PartCommand[] Block() => Extruded(Loose([new(-w / 2, -d / 2), new(w / 2, -d / 2), new(w / 2, d / 2), new(-w / 2, d / 2)]));
        PartCommand[] Turned(params Vec2[] corners) =>
            [
                frame,
                .. Parts.Sketched($"{id}s", $"{id}f", Loose(corners)),
                new AddStep(new RevolveStep(id, 0, "", $"{id}s", $"{id}f/y") { Operation = FormOperation.Body }),
            ];
        var kind = r.Random.Next(10);
        r.Bodies.Add(kind < Words.Length ? Words[kind] : "block");
        switch (kind)
        {
            case 0:
                return Extruded(Parts.Circle("c", 0, 0, w / 2));
            case 1:
                var n = r.Random.Next(3, 8);
                return Extruded(
                    Loose([
                        .. Enumerable
                            .Range(0, n)
                            .Select(i => new Vec2(w / 2 * Math.Cos(2 * Math.PI * i / n), w / 2 * Math.Sin(2 * Math.PI * i / n))),
                    ])
                );
            case 2:
                return Extruded(Loose([new(0, 0), new(w, 0), new(w, d * 0.4), new(w * 0.35, d * 0.4), new(w * 0.35, d), new(0, d)]));
            case 3:
                return Turned(new(w * 0.3, -h / 2), new(w * 0.3 + (w / 2), -h / 2), new(w * 0.3 + (w / 2), h / 2), new(w * 0.3, h / 2));
            case 4:
                return Extruded(
                    Loose([new(-w / 2, -d / 2), new(w / 2, -d / 2), new(w / 2, d / 2), new(-w / 2, d / 2)]),
                    Deg(r.Random.Next(1, 9))
                );
            case 5:
                return Turned(new(0, -h / 2), new(w * 0.5, -h / 2), new(w * 0.2, h / 2), new(0, h / 2));
            case 6:
                return
                [
                    .. Block(),
                    new AddStep(
                        new FilletStep($"{id}r", 0, "", [$"{id}/side/l0^{id}/side/l1", $"{id}/side/l2^{id}/side/l3"])
                        {
                            Radius = Mm(Math.Min(w, d) * 0.2),
                        }
                    ),
                ];
            case 7:
                return
                [
                    .. Block(),
                    .. Parts.Sketched($"{id}h", $"{id}f", Parts.Circle("c", w * 0.1, d * 0.1, Math.Min(w, d) * 0.2)),
                    new AddStep(
                        new HoleStep($"{id}b", 0, "", [$"{id}h/c"])
                        {
                            Diameter = Mm(Math.Min(w, d) * 0.3),
                            Depth = Mm(h * 0.6),
                            Flip = true,
                            Bodies = [id],
                        }
                    ),
                ];
            default:
                return Block();
        }
    }

    /// <summary>A closed outline of lines l0, l1 ... that nothing holds.</summary>
    private static SketchEdit Loose(Vec2[] corners) =>
        new()
        {
            Add =
            [
                .. corners.Select((c, i) => (SketchEntity)new PointEntity($"p{i}", c)),
                .. corners.Select((_, i) => (SketchEntity)new LineEntity($"l{i}", $"p{i}", $"p{(i + 1) % corners.Length}")),
            ],
        };

    private static Verdict Boolean(Rig r)
    {
        PartCommand[] both = [.. Body(r, "a", 0), .. Body(r, "b", 14)];
        var start = r.Built(Parts.Of(both));
        var (a, b) = (start[0].Mass.Volume, start[1].Mass.Volume);
        double? Combined(FormOperation how)
        {
            try
            {
                return r.Built(Parts.Of([.. both, new AddStep(new CombineStep("k", 0, "", "a", ["b"]) { Operation = how })]), "k")
                    .Single()
                    .Mass.Volume;
            }
            catch (Failed f) when (f.Refused && f.Message.Contains("would be left", StringComparison.Ordinal))
            {
                return 0;
            }
        }

        var (common, joined, cut) = (
            Combined(FormOperation.Intersect) ?? 0,
            Combined(FormOperation.Join) ?? 0,
            Combined(FormOperation.Cut) ?? 0
        );
        return !Same(common + joined, a + b, a + b) ? r.Wrong($"together {joined:R} and in common {common:R}, alone {a:R} and {b:R}")
            : !Same(cut + common, a, a) ? r.Wrong($"what is left {cut:R} and in common {common:R} are not {a:R}")
            : r.Right();
    }

    /// <summary>Some edges rounded or bevelled: only on the right side of each, and no more than the section along it.</summary>
    private static Verdict Blended(Rig r, string how)
    {
        var body = Body(r, "a", 10);
        var before = r.Built(Parts.Of(body)).Single();
        var edges = Enumerable
            .Range(0, before.Topology.Edges.Length)
            .Where(i => !before.Topology.Edges[i].Seam && before.Topology.Edges[i].Faces.Length == 2)
            .OrderBy(_ => r.Random.Next())
            .Take(r.Random.Next(1, 5))
            .ToList();
        if (edges.Count == 0)
        {
            return r.Refused("no edges");
        }

        var size =
            Math.Min(before.Bounds.High.X - before.Bounds.Low.X, before.Bounds.High.Z - before.Bounds.Low.Z)
            * (0.01 + (0.6 * Math.Pow(r.Random.NextDouble(), 2)));
        Refs picks = [.. edges.Select(e => before.Names.Edges[e])];
        var step =
            how == "rounded"
                ? (Step)new FilletStep("k", 0, "", picks) { Radius = Mm(size) }
                : new ChamferStep("k", 0, "", picks) { Size = Mm(size) };
        var after = r.Built(Parts.Of([.. body, new AddStep(step)]), "k").Single();
        // What runs on smoothly is blended too.
        var length = before.Topology.Edges.Sum(e => e.Length);
        var most = length * size * size * 4;
        var change = after.Mass.Volume - before.Mass.Volume;
        return Math.Abs(change) > most + (Exact * before.Mass.Volume)
                ? r.Wrong($"{size:0.###} mm along {length:0.###} mm changes {change:0.###} mm3")
            : Math.Abs(change) < 1e-12 * before.Mass.Volume ? r.Wrong("nothing was changed")
            : r.Right();
    }

    /// <summary>A wall of one thickness: less than the whole, no more than the thickness over all faces with what edges that lie in
    /// add.</summary>
    private static Verdict Hollow(Rig r)
    {
        var body = Body(r, "a", 10);
        var before = r.Built(Parts.Of(body)).Single();
        var flat = Enumerable.Range(0, before.Topology.Faces.Length).Where(i => before.Topology.Faces[i].Plane is not null).ToList();
        var closed = flat.Count == 0 || r.Random.Next(4) == 0;
        var t =
            Math.Min(before.Bounds.High.X - before.Bounds.Low.X, before.Bounds.High.Z - before.Bounds.Low.Z)
            * (0.02 + (0.2 * r.Random.NextDouble()));
        Refs open = closed ? [] : [before.Names.Faces[flat[r.Random.Next(flat.Count)]]];
        var outwards = r.Random.Next(4) == 0;
        r.Bodies.Add(
            $"{(closed ? "closed" : "open")}{(outwards ? " outwards" : "")} "
                + $"{t / Math.Min(before.Bounds.High.X - before.Bounds.Low.X, before.Bounds.High.Z - before.Bounds.Low.Z):0.00}"
        );
        BodyResult after;
        try
        {
            after = r.Built(
                    Parts.Of([
                        .. body,
                        new AddStep(
                            new ShellStep("k", 0, "", open)
                            {
                                Closed = closed,
                                Body = closed ? "a" : null,
                                Thickness = Mm(t),
                                Outwards = outwards,
                            }
                        ),
                    ]),
                    "k"
                )
                .Single();
        }
        catch (Failed f) when (f.Refused && !outwards && !f.Message.StartsWith("before", StringComparison.Ordinal))
        {
            var room = Room(before, open, t);
            return room == 0
                ? r.Right($"{string.Join(", ", r.Bodies.Distinct())}: rightly refused")
                : r.Refused($"{string.Join(", ", r.Bodies.Distinct())}: room {room:0.000} {string.Join(" ", open)}: {f.Message}");
        }

        var thinnest = Thinnest(before, open, after, outwards);
        if (thinnest < t * (1 - 1e-3) - (4 * after.Bounds.Diagonal * Tolerances.DrawnDeviation))
        {
            return r.Wrong(
                $"{string.Join(", ", r.Bodies.Distinct())} {string.Join(" ", open)}: a wall of {t:0.####} mm is {thinnest:0.####} "
                    + "mm thick somewhere"
            );
        }

        var faces = Enumerable
            .Range(0, before.Topology.Faces.Length)
            .Where(i => !open.Contains(before.Names.Faces[i]))
            .Sum(i => before.Topology.Faces[i].Area);
        var most =
            (faces * t)
            + (before.Topology.Edges.Sum(e => e.Length) * t * t * (outwards ? 3 : 1.5))
            + (before.Topology.Vertices.Length * t * t * t * 4);
        return after.Mass.Volume > most * (1 + Exact) || (!outwards && after.Mass.Volume >= before.Mass.Volume)
                ? r.Wrong($"a wall of {t:0.###} mm has {after.Mass.Volume:0.###} mm3, {most:0.###} at the most")
            : after.Topology.Faces.Length <= before.Topology.Faces.Length ? r.Wrong("no inside was made")
            : r.Right();
    }

    /// <summary>The share of a body that is further than a wall's thickness from every face which keeps its wall, by points scattered
    /// in it and its triangles.</summary>
    private static double Room(BodyResult body, Refs open, double thickness)
    {
        var triangles = Triangles(body, _ => true);
        var walls = Triangles(body, f => !open.Contains(f));
        var random = new Random(5);
        var (inside, clear) = (0, 0);
        for (var n = 0; n < 6000; n++)
        {
            var size = body.Bounds.High - body.Bounds.Low;
            var p = body.Bounds.Low + new Vec3(size.X * random.NextDouble(), size.Y * random.NextDouble(), size.Z * random.NextDouble());
            if (Math.Abs(triangles.Sum(t => Angle(t.A - p, t.B - p, t.C - p))) < 2 * Math.PI)
            {
                continue;
            }

            inside++;
            clear += walls.All(t => Away(p, t.A, t.B, t.C) > thickness * 1.01) ? 1 : 0;
        }

        return clear / (double)Math.Max(1, inside);
    }

    /// <summary>The least distance from the other side of a wall to the faces that it lies behind, by the corners of its triangles; but
    /// from an open
    /// face on, where it ends.</summary>
    private static double Thinnest(BodyResult before, Refs open, BodyResult after, bool outwards)
    {
        var walls = Triangles(before, f => !open.Contains(f));
        var mouths = Triangles(before, open.Contains);
        bool FromMouth(Vec3 p, double away) =>
            mouths.Any(t => Away(p, t.A, t.B, t.C) <= (away * (1 + 1e-3)) + (1e-5 * before.Bounds.Diagonal));
        var inner = Triangles(after, f => f.StartsWith("k/inner/", StringComparison.Ordinal));
        return outwards
            ? double.PositiveInfinity
            : inner
                .SelectMany(t => new[] { t.A, t.B, t.C })
                .Distinct()
                .Select(p => (Place: p, Away: walls.Min(t => Away(p, t.A, t.B, t.C))))
                .Where(p => !FromMouth(p.Place, p.Away))
                .Select(p => p.Away)
                .DefaultIfEmpty(double.PositiveInfinity)
                .Min();
    }

    private static List<(Vec3 A, Vec3 B, Vec3 C)> Triangles(BodyResult body, Func<string, bool> of) =>
        [.. Enumerable.Range(0, body.Names.Faces.Length).Where(f => of(body.Names.Faces[f])).SelectMany(f => Triangles(body, f))];

    private static List<(Vec3 A, Vec3 B, Vec3 C)> Triangles(BodyResult body, int face)
    {
        var positions = MemoryMarshal.Cast<byte, float>(body.Mesh!.Positions);
        var corners = MemoryMarshal.Cast<byte, uint>(body.Mesh.Triangles);
        var all = new List<(Vec3 A, Vec3 B, Vec3 C)>();
        var first = body.Mesh.FaceTriangles.Take(face).Sum();
        for (var t = first; t < first + body.Mesh.FaceTriangles[face]; t++)
        {
            all.Add((At(positions, corners[3 * t]), At(positions, corners[(3 * t) + 1]), At(positions, corners[(3 * t) + 2])));
        }

        return all;

        static Vec3 At(ReadOnlySpan<float> all, uint i) => new(all[(int)(3 * i)], all[(int)(3 * i) + 1], all[(int)(3 * i) + 2]);
    }

    /// <summary>The solid angle under which a triangle is seen (Van Oosterom and Strackee, 1983).</summary>
    private static double Angle(Vec3 a, Vec3 b, Vec3 c) =>
        2
        * Math.Atan2(
            a.Dot(b.Cross(c)),
            (a.Length * b.Length * c.Length) + (a.Dot(b) * c.Length) + (b.Dot(c) * a.Length) + (c.Dot(a) * b.Length)
        );

    private static double Away(Vec3 p, Vec3 a, Vec3 b, Vec3 c)
    {
        var n = (b - a).Cross(c - a);
        if (n.Length < 1e-30)
        {
            return double.PositiveInfinity;
        }

        bool Beside(Vec3 from, Vec3 to) => n.Dot((to - from).Cross(p - from)) >= 0;
        double Edge(Vec3 from, Vec3 to) =>
            (p - from - ((to - from) * Math.Clamp((p - from).Dot(to - from) / (to - from).Dot(to - from), 0, 1))).Length;
        return Beside(a, b) && Beside(b, c) && Beside(c, a)
            ? Math.Abs((p - a).Dot(n)) / n.Length
            : Math.Min(Edge(a, b), Math.Min(Edge(b, c), Edge(c, a)));
    }

    /// <summary>The sides of a block lean about its foot: as a frustum, exactly.</summary>
    private static Verdict Leaning(Rig r)
    {
        var (w, d, h, angle) = (r.In(10, 40), r.In(10, 40), r.In(5, 30), r.Random.Next(1, 30));
        var part = Parts.Of([
            .. Parts.Sketched("s", World.Xy, Loose([new(-w / 2, -d / 2), new(w / 2, -d / 2), new(w / 2, d / 2), new(-w / 2, d / 2)])),
            new AddStep(new ExtrudeStep("e", 0, "", "s") { Length = Mm(h) }),
            new AddStep(new DraftStep("k", 0, "", ["e/side/l0", "e/side/l1", "e/side/l2", "e/side/l3"], "e/start") { Angle = Deg(angle) }),
        ]);
        var by = h * Math.Tan(angle * Math.PI / 180);
        double Frustum(double s) => h / 6 * ((w * d) + (4 * (w + s) * (d + s)) + ((w + (2 * s)) * (d + (2 * s))));
        var now = r.Built(part, "k").Single().Mass.Volume;
        return Same(now, Frustum(-by), now) && 2 * by < Math.Min(w, d) ? r.Right()
            : Same(now, Frustum(by), now) ? r.Right("outwards")
            : r.Wrong($"{now:R}, not {Frustum(-by):R} or {Frustum(by):R}");
    }

    private static Verdict Mirrored(Rig r)
    {
        var body = Body(r, "a", 10);
        var once = r.Built(
            Parts.Of([.. body, new AddStep(new MirrorStep("k", 0, "", ["a/body"], World.Yz) { Operation = FormOperation.Body })]),
            "k"
        );
        var twice = r.Built(
            Parts.Of([
                .. body,
                new AddStep(new MirrorStep("k", 0, "", ["a/body"], World.Yz) { Operation = FormOperation.Body }),
                new AddStep(new MirrorStep("l", 0, "", ["k/body"], World.Yz) { Operation = FormOperation.Body }),
            ]),
            "l"
        );
        var (a, k, l) = (once[0].Mass, once[1].Mass, twice[2].Mass);
        return
            Same(a.Volume, k.Volume, a.Volume)
            && Same(a.Volume, l.Volume, a.Volume)
            && a.Centre.DistanceTo(l.Centre) < 1e-7 * twice[2].Bounds.Diagonal
            && Math.Abs(a.Centre.X + k.Centre.X) < 1e-7 * once[0].Bounds.Diagonal
            ? r.Right()
            : r.Wrong($"{a.Volume:R}, {k.Volume:R}, {l.Volume:R}");
    }

    /// <summary>Two bodies taken from a third, in either order and at once.</summary>
    private static Verdict Order(Rig r)
    {
        PartCommand[] all = [.. Body(r, "a", 0), .. Body(r, "b", 16), .. Body(r, "c", 16)];
        double Left(params string[] order) =>
            r.Built(
                Parts.Of([
                    .. all,
                    .. order.Select(
                        (o, i) =>
                            new AddStep(
                                new CombineStep($"k{i}", 0, "", "a", [.. o.Select(x => $"{x}")])
                                {
                                    Operation = FormOperation.Cut,
                                    Keep = true,
                                }
                            )
                    ),
                ]),
                "k0"
            )[0].Mass.Volume;
        var (one, other, together) = (Left("b", "c"), Left("c", "b"), Left("bc"));
        return Same(one, other, one) && Same(one, together, one) ? r.Right() : r.Wrong($"{one:R}, {other:R}, together {together:R}");
    }

    /// <summary>A body with forms of its own, at the origin and far from it, turned.</summary>
    private static Verdict Placed(Rig r)
    {
        var body = Body(r, "a", 0, placed: false);
        var far = Math.Pow(10, r.Random.Next(1, 5)) * (Same(r.Scale, 1, 1) ? 1 : r.Scale);
        var moved = body.Select(c =>
                c is AddStep { Step: FrameStep f }
                    ? new AddStep(
                        new FrameStep(
                            f.Id,
                            0,
                            "",
                            [
                                new DatumCondition("free", [])
                                {
                                    Values = [Mm(far), Mm(-far * 0.7), Mm(far * 0.3), Deg(r.Turn()), Deg(r.Turn()), Deg(r.Turn())],
                                },
                            ]
                        )
                    )
                    : c
            )
            .ToArray();
        var (here, there) = (r.Built(Parts.Of(body)).Single(), r.Built(Parts.Of(moved)).Single());
        return
            Math.Abs(here.Mass.Volume - there.Mass.Volume) < 1e-6 * here.Mass.Volume
            && here.Topology.Faces.Length == there.Topology.Faces.Length
            && here.Names.Faces.Order(StringComparer.Ordinal).SequenceEqual(there.Names.Faces.Order(StringComparer.Ordinal))
            ? r.Right()
            : r.Wrong(
                $"{here.Mass.Volume:R} and {there.Mass.Volume:R} {far} mm away; {here.Topology.Faces.Length} and "
                    + $"{there.Topology.Faces.Length} faces"
            );
    }

    /// <summary>Straight between two rectangles: a prismatoid.</summary>
    private static Verdict Loft(Rig r)
    {
        var (w, d, v, e, h) = (r.In(8, 40), r.In(8, 40), r.In(8, 40), r.In(8, 40), r.In(8, 50));
        var part = Parts.Of([
            .. Parts.Sketched("s", World.Xy, Loose([new(-w / 2, -d / 2), new(w / 2, -d / 2), new(w / 2, d / 2), new(-w / 2, d / 2)])),
            new AddStep(PlaneStep.Offset("p", 0, "", World.Xy, Mm(h))),
            .. Parts.Sketched("t", "p", Loose([new(-v / 2, -e / 2), new(v / 2, -e / 2), new(v / 2, e / 2), new(-v / 2, e / 2)])),
            new AddStep(new LoftStep("k", 0, "", ["s", "t"]) { Straight = true }),
        ]);
        var expected = h / 6 * ((w * d) + (v * e) + ((w + v) * (d + e)));
        var now = r.Built(part, "k").Single().Mass.Volume;
        return Same(now, expected, expected) ? r.Right() : r.Wrong($"{now:R}, not {expected:R}");
    }

    /// <summary>A row of copies against the same bodies put there one by one and joined.</summary>
    private static Verdict Row(Rig r)
    {
        var (n, pitch) = (r.Random.Next(2, 5), r.In(5, 30));
        var body = Body(r, "a", 5);
        var row = r.Built(
                Parts.Of([
                    .. body,
                    new AddStep(
                        new PatternStep("k", 0, "", ["a/body"])
                        {
                            Along = "world/x",
                            Count = $"{n}",
                            Spacing = Mm(pitch),
                        }
                    ),
                ]),
                "k"
            )
            .Sum(b => b.Mass.Volume);
        PartCommand[] single =
        [
            .. Enumerable
                .Range(1, n - 1)
                .Select(i => new AddStep(
                    new PatternStep($"c{i}", 0, "", ["a/body"])
                    {
                        Along = "world/x",
                        Count = "2",
                        Spacing = Mm(pitch * i),
                        Operation = FormOperation.Body,
                    }
                )),
        ];
        var joined = r.Built(
                Parts.Of([
                    .. body,
                    .. single,
                    new AddStep(new CombineStep("k", 0, "", "a", [.. Enumerable.Range(1, n - 1).Select(i => $"c{i}")])),
                ]),
                "k"
            )
            .Sum(b => b.Mass.Volume);
        return Same(row, joined, row) ? r.Right() : r.Wrong($"in a row {row:R}, one by one {joined:R}");
    }

    /// <summary>A body divided by a plane: its halves are the whole.</summary>
    private static Verdict Halves(Rig r)
    {
        var body = Body(r, "a", 8);
        var whole = r.Built(Parts.Of(body)).Single().Mass;
        var halves = r.Built(Parts.Of([.. body, new AddStep(new SplitStep("k", 0, "", World.Planes[r.Random.Next(3)]))]), "k");
        return halves.Length == 2 && Same(halves.Sum(h => h.Mass.Volume), whole.Volume, whole.Volume)
            ? r.Right()
            : r.Wrong($"{string.Join(" and ", halves.Select(h => h.Mass.Volume))} of {whole.Volume:R}");
    }
}
