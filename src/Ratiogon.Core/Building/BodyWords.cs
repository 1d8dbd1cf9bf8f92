using System.Collections.Immutable;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Building;

/// <summary>
/// Faces, edges and corners of a body as people call them: what a face is and which way it looks, of which step, and where it is
/// among others of its kind. Without articles; no two parts of a body have the same words.
/// </summary>
/// <param name="body">The body.</param>
/// <param name="part">Lends the names of steps and the unit of length.</param>
public sealed class BodyWords(INamedBody body, Part part)
{
    /// <summary>How square to an axis of the world a face must look to be called by it.</summary>
    private const double Square = 0.9995;

    private readonly Lazy<ImmutableArray<FaceWords>> faces = new(() => All(body, part));
    private readonly Lazy<int[][]> around = new(() => Around(body));
    private readonly Dictionary<string, string> edges = new(StringComparer.Ordinal);

    /// <summary>What a face is, and of which step.</summary>
    private readonly record struct FaceWords(string What, string Of)
    {
        public string Whole => Of.Length > 0 ? $"{What} of {Of}" : What;
    }

    /// <summary>For example <c>top of Plate</c>, <c>upper left hole ⌀ 7.4 of Holes</c>.</summary>
    public string Face(int index) => faces.Value[index].Whole;

    /// <summary>For example <c>edge between the top and the right side of Plate, 50 mm</c>.</summary>
    public string Edge(int index) => edges.TryGetValue(body.Names.Edges[index], out var known) ? known : NameEdge(index);

    /// <summary>For example <c>corner of the top, the front and the right side of Plate</c>.</summary>
    public string Vertex(int index)
    {
        var about = around.Value[index];
        if (about.Length == 0)
        {
            return "corner";
        }

        var alike = Enumerable.Range(0, body.Topology.Vertices.Length).Where(v => around.Value[v].SequenceEqual(about)).ToList();
        return Whereabouts.Placed(
            $"corner of {Together(about)}",
            Whereabouts.Of([.. alike.Select(v => body.Topology.Vertices[v])])[alike.IndexOf(index)]
        );
    }

    /// <summary>The faces about each corner, by their names.</summary>
    private static int[][] Around(INamedBody body)
    {
        var around = body.Topology.Vertices.Select(_ => new HashSet<int>()).ToArray();
        foreach (var edge in body.Topology.Edges)
        {
            foreach (var end in edge.Ends)
            {
                around[end].UnionWith(edge.Faces);
            }
        }

        return [.. around.Select(f => f.OrderBy(i => body.Names.Faces[i], StringComparer.Ordinal).ToArray())];
    }

    private string NameEdge(int index)
    {
        var edge = body.Topology.Edges[index];
        var alike = body
            .Topology.Edges.Select((e, i) => (Edge: e, Index: i))
            .Where(e => !e.Edge.Seam && e.Edge.Faces.Order().SequenceEqual(edge.Faces.Order()))
            .ToList();
        var where = Whereabouts.Of([.. alike.Select(e => e.Edge.Middle)]);
        for (var k = 0; k < alike.Count; k++)
        {
            edges[body.Names.Edges[alike[k].Index]] = Whereabouts.Placed(Plain(alike[k].Edge), where[k]);
        }

        return edges.TryGetValue(body.Names.Edges[index], out var found) ? found : Plain(edge);
    }

    private string Plain(EdgeShape edge)
    {
        List<int> about = [.. edge.Faces.Distinct().OrderBy(f => body.Names.Faces[f], StringComparer.Ordinal)];
        var flat = about.FindAll(f => body.Topology.Faces[f].Plane is not null);
        if (edge.Curve == "circle" && about.Count == 2 && flat.Count == 1)
        {
            var round = about.Find(f => f != flat[0]);
            return $"rim of {Together([round, flat[0]], " at ")}";
        }

        var length = Units.Show(Quantity.Length(edge.Length), part.Units);
        return about.Count switch
        {
            0 => $"edge, {length}",
            1 => $"edge of the {Face(about[0])}, {length}",
            _ => $"edge between {Together(about)}, {length}",
        };
    }

    /// <summary>Several faces, of which step said once where it is the same of all.</summary>
    private string Together(IReadOnlyList<int> about, string last = " and ")
    {
        var told = about.Select(f => faces.Value[f]).ToList();
        var one = told.TrueForAll(t => t.Of == told[0].Of) && told[0].Of.Length > 0;
        var each = told.ConvertAll(t => $"the {(one ? t.What : t.Whole)}");
        var joined = each.Count == 1 ? each[0] : string.Join(", ", each.Take(each.Count - 1)) + last + each[^1];
        return one ? $"{joined} of {told[0].Of}" : joined;
    }

    private static ImmutableArray<FaceWords> All(INamedBody body, Part part)
    {
        var told = new FaceWords[body.Topology.Faces.Length];
        for (var i = 0; i < told.Length; i++)
        {
            var step = part.Find(World.StepOf(body.Names.Faces[i]));
            told[i] = new FaceWords(What(body, body.Topology.Faces[i], step, part.Units), step?.Name ?? "");
        }

        foreach (var alike in Enumerable.Range(0, told.Length).GroupBy(i => told[i]).Where(g => g.Count() > 1).ToList())
        {
            int[] of = [.. alike];
            var where = Whereabouts.Of([.. of.Select(i => body.Topology.Faces[i].Centre)]);
            for (var k = 0; k < of.Length; k++)
            {
                told[of[k]] = told[of[k]] with { What = Whereabouts.Placed(told[of[k]].What, where[k]) };
            }
        }

        return [.. told];
    }

    private static string What(INamedBody body, FaceShape face, Step? step, LengthUnit unit)
    {
        string Size(double millimetres) => Units.Show(Quantity.Length(millimetres), unit).Split(' ')[0];
        var made = step?.Kind switch
        {
            "fillet" => "rounding",
            "chamfer" => "bevel",
            "thread" => "thread",
            _ => null,
        };
        if (face.Plane is { } plane)
        {
            return made ?? Flat(plane.Z, face.Centre, body.Box);
        }

        var inside = face.Numbers.Length >= 6 && IsInside(face);
        return ShapeNumbers.SurfaceOf(face) switch
        {
            CylinderSurface c when made is not null => $"{made} R {Size(c.Radius)}",
            CylinderSurface c => $"{(inside ? "hole" : "round side")} ⌀ {Size(2 * c.Radius)}",
            TorusSurface t => $"{made ?? "rounding"} R {Size(t.Tube)}",
            _ when made is not null => made,
            SphereSurface s => $"ball ⌀ {Size(2 * s.Radius)}",
            ConeSurface => inside ? "countersink" : "cone",
            _ => "free-form face",
        };
    }

    /// <summary>Whether a round face has its material outside.</summary>
    private static bool IsInside(FaceShape face)
    {
        var (at, normal) = (
            new Vec3(face.Numbers[0], face.Numbers[1], face.Numbers[2]),
            new Vec3(face.Numbers[3], face.Numbers[4], face.Numbers[5])
        );
        return ShapeNumbers.SurfaceOf(face) switch
        {
            CylinderSurface c => (at - c.Axis.Foot(at)).Dot(normal) < 0,
            ConeSurface c => (at - c.Axis.Foot(at)).Dot(normal) < 0,
            _ => false,
        };
    }

    /// <summary>A flat face by the way it looks: the outermost of the body are its sides, the others only look there.</summary>
    private static string Flat(Vec3 normal, Vec3 centre, Box box)
    {
        var slack = Tolerances.KernelLength * Math.Max(1, box.Diagonal);
        return normal switch
        {
            { Z: > Square } => centre.Z > box.High.Z - slack ? "top" : "face looking up",
            { Z: < -Square } => centre.Z < box.Low.Z + slack ? "bottom" : "face looking down",
            { X: > Square } => centre.X > box.High.X - slack ? "right side" : "face looking right",
            { X: < -Square } => centre.X < box.Low.X + slack ? "left side" : "face looking left",
            { Y: > Square } => centre.Y > box.High.Y - slack ? "back" : "face looking back",
            { Y: < -Square } => centre.Y < box.Low.Y + slack ? "front" : "face looking to the front",
            _ => "slanted face",
        };
    }
}
