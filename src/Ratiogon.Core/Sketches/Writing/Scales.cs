namespace Ratiogon.Core.Sketches.Writing;

/// <summary>How large the things are that each point and radius belongs to: by how much it may be moved and still be what it is.</summary>
internal sealed class Scales
{
    private readonly SketchIndex index;
    private readonly double[] of;
    private readonly double typical;

    private Scales(Sketch sketch)
    {
        index = sketch.Index;
        of = new double[sketch.Entities.Length];
        var box = new List<double>();
        for (var i = 0; i < of.Length; i++)
        {
            if (Size(sketch, i) is not (> 0 and var size))
            {
                continue;
            }

            box.Add(size);
            of[i] = size;
            foreach (var point in index.Points[i])
            {
                if (point >= 0)
                {
                    of[point] = of[point] > 0 ? Math.Min(size, of[point]) : size;
                }
            }
        }

        var points = sketch.Entities.OfType<PointEntity>().Select(p => p.At).ToList();
        var extent =
            points.Count < 2 ? 0 : Math.Max(points.Max(p => p.X) - points.Min(p => p.X), points.Max(p => p.Y) - points.Min(p => p.Y));
        box.Sort();
        typical =
            box.Count > 0 ? box[box.Count / 2]
            : extent > 0 ? extent / Math.Sqrt(points.Count)
            : 1;
    }

    public static Scales Of(Sketch sketch) => new(sketch);

    /// <summary>The size that goes with a point, circle or arc, in mm: of the smallest curve it belongs to, else of the sketch's
    /// curves.</summary>
    public double this[string id] => At(index.PlaceOf(id));

    /// <summary>The same of what stands at a place of the sketch.</summary>
    public double At(int place) => place >= 0 && of[place] > 0 ? of[place] : typical;

    /// <summary>The sketch with every point and radius moved at random, each by a share of its own size; nothing of it need hold, but
    /// what is fixed stays.
    /// The same seed always moves the same way.</summary>
    public Sketch Stirred(Sketch sketch, int seed, double share)
    {
        var random = new Random(20260717 + (7919 * seed));
        var held = Held(sketch);
        double Way(string id) => held.Contains(id) ? 0 : (random.NextDouble() - 0.5) * 2 * share * this[id];
        return sketch with
        {
            Entities =
            [
                .. sketch.Entities.Select(e =>
                    e switch
                    {
                        PointEntity p => p with { At = p.At + new Vec2(Way(p.Id), Way(p.Id)) },
                        CircleEntity c => c with { Radius = Math.Max(c.Radius * 0.2, c.Radius + Way(c.Id)) },
                        ArcEntity a => a with { Radius = Math.Max(a.Radius * 0.2, a.Radius + Way(a.Id)) },
                        _ => e,
                    }
                ),
            ],
        };
    }

    /// <summary>The sketch with every point anywhere within its extent and somewhat beyond, and every radius up to twice or down to half
    /// of what it is; what is fixed stays. The same seed always throws the same way.</summary>
    public Sketch Thrown(Sketch sketch, int seed)
    {
        var random = new Random(20260718 + (7919 * seed));
        var held = Held(sketch);
        var points = sketch.Entities.OfType<PointEntity>().Select(p => p.At).ToList();
        if (points.Count == 0)
        {
            return sketch;
        }

        var (low, high) = (new Vec2(points.Min(p => p.X), points.Min(p => p.Y)), new Vec2(points.Max(p => p.X), points.Max(p => p.Y)));
        var (middle, half) = ((low + high) / 2, Math.Max(Math.Max(high.X - low.X, high.Y - low.Y), 2 * typical));
        return sketch with
        {
            Entities =
            [
                .. sketch.Entities.Select(e =>
                    e switch
                    {
                        PointEntity p when !held.Contains(p.Id) => p with
                        {
                            At = middle + (new Vec2(random.NextDouble() - 0.5, random.NextDouble() - 0.5) * (2 * half)),
                        },
                        CircleEntity c when !held.Contains(c.Id) => c with
                        {
                            Radius = c.Radius * Math.Pow(2, (2 * random.NextDouble()) - 1),
                        },
                        ArcEntity a when !held.Contains(a.Id) => a with { Radius = a.Radius * Math.Pow(2, (2 * random.NextDouble()) - 1) },
                        _ => e,
                    }
                ),
            ],
        };
    }

    private static HashSet<string> Held(Sketch sketch) =>
        sketch
            .Constraints.Where(c => c.Kind == "fixed")
            .SelectMany(c => c.Of)
            .SelectMany(id => sketch.Find(id)!.Points.Append(id))
            .ToHashSet(StringComparer.Ordinal);

    private static double Size(Sketch sketch, int place)
    {
        var points = sketch.Index.Points[place];
        double Between(int a, int b) => sketch.At(points[a]).DistanceTo(sketch.At(points[b]));
        return sketch.Entities[place] switch
        {
            LineEntity => Between(0, 1),
            CircleEntity c => c.Radius,
            ArcEntity a => Math.Min(a.Radius, Between(1, 2)),
            EllipticEntity e => Math.Min(
                sketch.At(e.Centre).DistanceTo(sketch.At(e.First)),
                sketch.At(e.Centre).DistanceTo(sketch.At(e.Second))
            ),
            SplineEntity s => Enumerable
                .Range(1, s.Through.Length - 1)
                .Min(i => sketch.At(s.Through[i - 1]).DistanceTo(sketch.At(s.Through[i]))),
            _ => 0,
        };
    }
}
