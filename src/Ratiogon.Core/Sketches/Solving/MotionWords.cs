using Ratiogon.Core.Sketches.Writing;

namespace Ratiogon.Core.Sketches.Solving;

/// <summary>Says in words how a sketch moves along one vector of its null space.</summary>
internal static class MotionWords
{
    /// <summary>A point that moves by less than this of the fastest stands still.</summary>
    private const double NoMove = 1e-9;

    /// <summary>Movements nearer than this, of the fastest, are the same.</summary>
    private const double Alike = 1e-6;

    private const int MostNamed = 3;

    public static Motion Describe(Sketch sketch, SystemWriter writer, Dictionary<int, double> vector)
    {
        var largest = vector.Values.Max(Math.Abs);
        var moves = new Dictionary<string, Vec2>(StringComparer.Ordinal);
        foreach (var entity in sketch.Entities)
        {
            if (entity is PointEntity && writer.PointIndex(entity.Id) is var at && (vector.ContainsKey(at) || vector.ContainsKey(at + 1)))
            {
                Note(entity.Id, new Vec2(vector.GetValueOrDefault(at), vector.GetValueOrDefault(at + 1)) / largest);
            }
            else if (entity is CircleEntity or ArcEntity && vector.TryGetValue(writer.RadiusOf(entity), out var r))
            {
                Note(entity.Id, new Vec2(r / largest, 0));
            }
        }

        return new Motion(Words(sketch, moves), moves);

        void Note(string id, Vec2 move)
        {
            if (move.Length > NoMove)
            {
                moves[id] = move;
            }
        }
    }

    private static string Words(Sketch sketch, Dictionary<string, Vec2> moves)
    {
        var sizes = moves.Where(m => sketch.Find(m.Key) is CircleEntity or ArcEntity).Select(m => m.Key).ToList();
        var points = moves.Where(m => sketch.Find(m.Key) is PointEntity).ToList();
        if (points.Count == 0)
        {
            return $"{Named(sketch, sizes)} {(sizes.Count == 1 ? "grows" : "grow")}";
        }

        if (Turning(sketch, moves, points.ConvertAll(p => p.Key)) is { } turning)
        {
            return turning;
        }

        var first = points[0].Value;
        var together = points.TrueForAll(p => (p.Value - first).Length < Alike) && sizes.Count == 0;
        var carriers = Carriers(sketch, points.ConvertAll(p => p.Key));
        if (!together)
        {
            return $"{Named(sketch, carriers)} changes shape";
        }

        var what =
            carriers.Count == 1 && OneEnd(sketch, carriers[0], moves) is { } end
                ? $"the {end} of {Named(sketch, carriers)}"
                : Named(sketch, carriers);
        var slides = carriers.Count > 1 ? "slide" : "slides";
        return Math.Abs(first.Y) < Alike ? $"{what} {slides} along x"
            : Math.Abs(first.X) < Alike ? $"{what} {slides} along y"
            : $"{what} {slides} at {first.Angle * 180 / Math.PI:0.#} deg";
    }

    /// <summary>Lines of which one end stays while the other goes square to them, and every moving point is such an end; null for any
    /// other motion.</summary>
    private static string? Turning(Sketch sketch, Dictionary<string, Vec2> moves, List<string> points)
    {
        var turning = new List<LineEntity>();
        var ends = new HashSet<string>(StringComparer.Ordinal);
        foreach (var line in sketch.Entities.OfType<LineEntity>().Where(l => moves.ContainsKey(l.From) != moves.ContainsKey(l.To)))
        {
            var end = moves.ContainsKey(line.From) ? line.From : line.To;
            var way = moves[end];
            if (Math.Abs((sketch.At(line.To) - sketch.At(line.From)).Unit.Dot(way)) < Alike * way.Length)
            {
                turning.Add(line);
                ends.Add(end);
            }
        }

        // One free end that goes square to its line may as well slide: it turns only where its length is kept.
        bool Kept(LineEntity line) =>
            sketch.Dimensions.Any(d =>
                d.Driving
                && d.Kind == "distance"
                && ((d.Of.Length == 1 && d.Of[0] == line.Id) || (d.Of.Contains(line.From) && d.Of.Contains(line.To)))
            );
        return turning.Count > 0 && points.TrueForAll(ends.Contains) && turning.TrueForAll(Kept)
            ? $"{Named(sketch, turning.ConvertAll(l => l.Id))} {(turning.Count == 1 ? "turns" : "turn")}"
            : null;
    }

    /// <summary>Which end of a line moves while the other stays; null where both do, and for what is no line.</summary>
    private static string? OneEnd(Sketch sketch, string carrier, Dictionary<string, Vec2> moves) =>
        sketch.Find(carrier) is LineEntity line
            ? (moves.ContainsKey(line.From), moves.ContainsKey(line.To)) switch
            {
                (true, false) => "start",
                (false, true) => "end",
                _ => null,
            }
            : null;

    /// <summary>The shapes and curves that the moving points belong to; a point of none stands for itself.</summary>
    private static List<string> Carriers(Sketch sketch, List<string> points)
    {
        var curveOf = new Dictionary<string, string>(StringComparer.Ordinal);
        foreach (var curve in sketch.Entities)
        {
            foreach (var point in curve.Points)
            {
                curveOf.TryAdd(point, curve.Id);
            }
        }

        var shapes = sketch.Shapes.Select(s => s.Id).ToHashSet(StringComparer.Ordinal);
        string Carrier(string point) =>
            point.IndexOf('.', StringComparison.Ordinal) is var dot and > 0 && shapes.Contains(point[..dot])
                ? point[..dot]
                : curveOf.GetValueOrDefault(point, point);
        return [.. points.Select(Carrier).Distinct()];
    }

    private static string Named(Sketch sketch, List<string> ids)
    {
        var words = ids.Take(MostNamed)
            .Select(id => $"{sketch.Find(id)?.Word ?? sketch.Shapes.FirstOrDefault(s => s.Id == id)?.Kind} {id}");
        return string.Join(", ", words) + (ids.Count > MostNamed ? $" and {ids.Count - MostNamed} more" : "");
    }
}
