namespace Ratiogon.Core.Kernel;

/// <summary>Names for the faces of a file that takes the place of another: a face that is the same in both keeps its name, one
/// that moved or grew a little keeps it where nothing else comes nearer, and what is new gets a new number.</summary>
public static class ImportedFaces
{
    /// <summary>How far apart two faces may lie and still be one, over the size of the body.</summary>
    private const double Near = 0.1;

    /// <param name="before">The faces of the file before.</param>
    /// <param name="names">Their names.</param>
    /// <param name="now">The faces of the new file.</param>
    public static Refs Matched(Topology before, Refs names, Topology now)
    {
        ArgumentNullException.ThrowIfNull(before);
        ArgumentNullException.ThrowIfNull(names);
        ArgumentNullException.ThrowIfNull(now);
        var size = Math.Max(Size(before), Size(now));
        var pairs =
            from i in Enumerable.Range(0, before.Faces.Length)
            from k in Enumerable.Range(0, now.Faces.Length)
            let cost = Cost(before.Faces[i], now.Faces[k], size)
            where cost < Near
            orderby cost
            select (Old: i, New: k);
        var taken = new Dictionary<int, int>();
        var used = new HashSet<int>();
        foreach (var (old, fresh) in pairs)
        {
            if (!taken.ContainsKey(fresh) && used.Add(old))
            {
                taken[fresh] = old;
            }
        }

        var next = names.Select(n => int.TryParse(n, out var v) ? v : 0).DefaultIfEmpty(0).Max();
        return [.. Enumerable.Range(0, now.Faces.Length).Select(k => taken.TryGetValue(k, out var old) ? names[old] : $"{++next}")];
    }

    /// <summary>How unlike two faces are: 0 for the same; surfaces of different kinds are never alike.</summary>
    private static double Cost(FaceShape a, FaceShape b, double size)
    {
        if (a.Surface != b.Surface)
        {
            return double.MaxValue;
        }

        var apart = a.Centre.DistanceTo(b.Centre) / size;
        var grown = Math.Abs(a.Area - b.Area) / Math.Max(a.Area, b.Area);
        var turned = a.Plane is { } p && b.Plane is { } q ? (1 - p.Z.Dot(q.Z)) / 2 : 0;
        return apart + (grown * 0.05) + turned;
    }

    private static double Size(Topology body) =>
        body.Vertices.Length == 0 ? 1
        : body.Vertices.Max(v => v.DistanceTo(body.Vertices[0])) is var d and > 0 ? d
        : 1;
}
