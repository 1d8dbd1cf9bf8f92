using System.Collections.Immutable;
using Ratiogon.Core.Geometry;

namespace Ratiogon.Core.Datums;

/// <summary>Points from conditions: linear ones first, then roots along a curve or a line that is left, then Newton from
/// fixed starts where only curved faces are left.</summary>
internal static class PointSolver
{
    /// <summary>How far beside a crossing it is looked whether values rise, as a share of the curve.</summary>
    private const double Aside = 1e-6;

    /// <summary>A determinant this small, as a share of its terms, is of curves that run along each other.</summary>
    private const double Singular = 1e-20;

    /// <summary>Nothing is gained by Newton steps below this share of the size.</summary>
    private const double Solved = 1e-13;

    /// <summary>A row whose square is smaller says nothing.</summary>
    private const double NoRow = 1e-18;

    private const int MostCombinations = 64;

    /// <summary>How near to a surface or a curve, as a share of the size, is on it.</summary>
    private const double Near = 1e-9;

    public static Determination Solve(IReadOnlyList<Condition> conditions)
    {
        var cases = Combinations.Write<PointCase>(conditions);
        if (!cases.Done)
        {
            return Determination.None(cases.Refusal!);
        }

        var scale = Scaling.Of([.. conditions.SelectMany(c => c.Of).Select(t => t.Anchor)]);
        var found = new List<(string Label, Vec3 At)>();
        var (free, shown, miss, redundant) = (0, (Vec3?)null, double.PositiveInfinity, false);
        foreach (var combination in Combinations.Of(cases.Value, MostCombinations))
        {
            var system = new Affine(3);
            foreach (var r in combination.SelectMany(c => c.Rows))
            {
                system.Add([r.N.X, r.N.Y, r.N.Z], (r.C - r.N.Dot(scale.Centre)) / scale.Size);
            }

            redundant |= system.Redundant;
            if (system.Contradiction)
            {
                miss = Math.Min(miss, system.Miss);
                continue;
            }

            var label = string.Join(' ', combination.Select(c => c.Label).Where(l => l.Length > 0));
            var loci = new Loci(combination, scale);
            var (some, freedom) = loci.Meet(system);
            if (freedom > 0)
            {
                (free, shown) = (freedom, some.Select(s => (Vec3?)s.At).FirstOrDefault());
            }
            else
            {
                found.AddRange(some.Select(s => (string.Join(' ', new[] { label, s.Label }.Where(l => l.Length > 0)), s.At)));
            }
        }

        found = [.. found.Where((f, i) => !found.Take(i).Any(o => o.At.DistanceTo(f.At) < Tolerances.OneSolution * scale.Size))];
        var frames = (found.Count > 0 || shown is null ? found : [("", shown.Value)]).Select(f => new DatumSolution(
            f.Label,
            Frame.World with
            {
                Origin = f.At,
            }
        ));
        return found.Count > 0 || free > 0
            ? new Determination(found.Count > 0 ? 0 : free, found.Count > 0 ? [] : Words(free), [.. frames]) { Redundant = redundant }
            : Determination.None(
                Reasons.Of(DatumKind.Point, conditions)
                    ?? (
                        double.IsFinite(miss)
                            ? new Refusal("datum.none", $"These contradict each other; they miss by {miss * scale.Size:0.###} mm.")
                            : new Refusal("datum.none", "These do not meet anywhere.")
                    )
            ) with
            {
                Redundant = redundant,
            };
    }

    private static ImmutableArray<string> Words(int free) =>
        [
            free switch
            {
                1 => "it can still move along one line: a plane, a face or a distance takes that",
                2 => "it can still move over a face: a line, an edge or two more faces take that",
                _ => "it can still move freely: a point, or coordinates, take that",
            },
        ];

    /// <summary>What the point lies on besides planes and lines.</summary>
    private sealed class Loci(IReadOnlyList<PointCase> combination, Scaling scale)
    {
        private readonly List<CurvePath> paths = [.. combination.Select(c => c.Path).OfType<CurvePath>()];
        private readonly List<Surface> surfaces = [.. combination.Select(c => c.Surface).OfType<Surface>()];
        private readonly List<PointRow> rows = [.. combination.SelectMany(c => c.Rows)];

        public (List<(string Label, Vec3 At)> Found, int Freedom) Meet(Affine system)
        {
            var place = World(system.Place);
            if (paths.Count > 0)
            {
                return AlongPath();
            }

            var freedom = 3 - system.Rank - surfaces.Count;
            if (system.Rank == 3)
            {
                return (surfaces.All(s => Math.Abs(s.Side(place)) < Near * scale.Size * 10) ? [("", place)] : [], 0);
            }

            if (freedom > 0)
            {
                return ([("", surfaces.Count > 0 ? surfaces[0].Foot(place) : place)], freedom);
            }

            var directions = system.Directions();
            if (system.Rank == 2)
            {
                var line = new Line3(place, new Vec3(directions[0][0], directions[0][1], directions[0][2]).Unit);
                var roots = surfaces[0]
                    .Meet(line)
                    .Where(t => surfaces.Skip(1).All(s => Math.Abs(s.Side(line.At(t))) < Near * scale.Size * 10))
                    .ToList();
                return (
                    [
                        .. Labels
                            .ByCrossing(roots, t => surfaces[0].Side(line.At(t)), scale.Size)
                            .Select(r => (roots.Count > 1 || surfaces[0] is not FlatSurface ? r.Label : "", line.At(r.T))),
                    ],
                    0
                );
            }

            return (Newton(directions), 0);
        }

        /// <summary>Where a curve meets the rest: roots of the first other condition along it that meet the others too.</summary>
        private (List<(string Label, Vec3 At)> Found, int Freedom) AlongPath()
        {
            var others = rows.Select(r => (Func<Vec3, double>)(p => r.N.Dot(p) - r.C))
                .Concat(surfaces.Select(s => (Func<Vec3, double>)s.Side))
                .ToList();
            var path = paths[0];

            // What the whole curve lies on says nothing about where along it.
            others.RemoveAll(f => path.Curves.All(c => c.Steps().All(t => Math.Abs(f(c.At(t))) < Near * scale.Size * 10)));
            if (others.Count == 0)
            {
                return paths.Count == 1 ? ([("", path.AtLength(path.Length / 2).At)], 1) : (Crossings(path, paths[1]), 0);
            }

            var found = new List<(string, Vec3)>();
            var (ins, outs) = (0, 0);
            foreach (var curve in path.Curves)
            {
                var samples = Math.Max(24, 2 * (curve.Steps().Count - 1));
                var roots = Roots.Find(t => others[0](curve.At(t)), curve.From, curve.To, samples, Near * scale.Size);
                foreach (var t in roots)
                {
                    var p = curve.At(t);
                    if (
                        others.Skip(1).Any(f => Math.Abs(f(p)) > Near * scale.Size * 10)
                        || found.Any(f => f.Item2.DistanceTo(p) < Tolerances.OneSolution * scale.Size)
                        || paths.Skip(1).Any(o => o.AtLength(o.Nearest(p)).At.DistanceTo(p) > Near * scale.Size * 10)
                    )
                    {
                        continue;
                    }

                    var step = Aside * (curve.To - curve.From);
                    var rising = others[0](curve.At(Math.Min(t + step, curve.To))) >= others[0](curve.At(Math.Max(t - step, curve.From)));
                    var n = rising ? ++ins : ++outs;
                    found.Add(
                        ($"{(rising ? "in" : "out")}{(n > 1 ? n.ToString(System.Globalization.CultureInfo.InvariantCulture) : "")}", p)
                    );
                }
            }

            return (found, 0);
        }

        /// <summary>Places where two curves touch or cross: Newton on both parameters from the nearest samples.</summary>
        private List<(string Label, Vec3 At)> Crossings(CurvePath a, CurvePath b)
        {
            var found = new List<(string, Vec3)>();
            foreach (var (ca, cb) in from x in a.Curves from y in b.Curves select (x, y))
            {
                foreach (var start in ca.Steps())
                {
                    var (s, t) = (start, cb.Nearest(ca.At(start)));
                    for (var step = 0; step < 30; step++)
                    {
                        var (gap, u, v) = (ca.At(s) - cb.At(t), ca.Slope(s), cb.Slope(t));
                        var (uu, uv, vv) = (u.Dot(u), u.Dot(v), v.Dot(v));
                        var det = (uu * vv) - (uv * uv);
                        if (det < Singular * uu * vv)
                        {
                            break;
                        }

                        var (gu, gv) = (gap.Dot(u), gap.Dot(v));
                        (s, t) = (
                            Math.Clamp(s - (((gu * vv) - (gv * uv)) / det), ca.From, ca.To),
                            Math.Clamp(t + (((gv * uu) - (gu * uv)) / det), cb.From, cb.To)
                        );
                    }

                    var at = ca.At(s);
                    if (
                        at.DistanceTo(cb.At(t)) < Near * scale.Size * 10
                        && !found.Any(f => f.Item2.DistanceTo(at) < Tolerances.OneSolution * scale.Size)
                    )
                    {
                        found.Add(($"#{found.Count + 1}", at));
                    }
                }
            }

            return found;
        }

        /// <summary>Curved faces alone, or with one plane: Newton over the free directions from points about the picks.</summary>
        private List<(string Label, Vec3 At)> Newton(double[][] directions)
        {
            var ways = directions.Select(d => new Vec3(d[0], d[1], d[2])).ToList();
            var found = new List<(string Label, Vec3 At)>();
            var values = new double[surfaces.Count];
            var starts = from x in Steps from y in Steps from z in Steps select new Vec3(x, y, z);
            foreach (var start in starts)
            {
                var p = Project(scale.Centre + (start * scale.Size));
                for (var step = 0; step < 25; step++)
                {
                    var worst = 0.0;
                    for (var i = 0; i < values.Length; i++)
                    {
                        values[i] = surfaces[i].Side(p);
                        worst = Math.Max(worst, Math.Abs(values[i]));
                    }

                    if (worst < Solved * scale.Size || !p.IsFinite)
                    {
                        break;
                    }

                    p += Step(p, values, ways);
                }

                if (
                    p.IsFinite
                    && surfaces.All(s => Math.Abs(s.Side(p)) < Near * scale.Size * 10)
                    && !found.Any(f => f.At.DistanceTo(p) < Tolerances.DatumAngle * scale.Size)
                )
                {
                    var gradients = surfaces.Take(ways.Count).Select(s => s.Normal(p)).ToList();
                    var turn =
                        ways.Count == 3
                            ? gradients[0].Dot(gradients[1].Cross(gradients[2]))
                            : gradients[0].Cross(gradients[1]).Dot(ways[0].Cross(ways[1]));
                    var label = turn >= 0 ? "left" : "right";
                    var n = found.Count(f => f.Label.StartsWith(label, StringComparison.Ordinal)) + 1;
                    found.Add(($"{label}{(n > 1 ? n.ToString(System.Globalization.CultureInfo.InvariantCulture) : "")}", p));
                }
            }

            return found;
        }

        /// <summary>The step to where all faces, taken as flat here, meet: Cramer's rule where there are as many as directions,
        /// otherwise the shortest one.</summary>
        private Vec3 Step(Vec3 p, double[] values, List<Vec3> ways)
        {
            if (ways.Count == 3 && surfaces.Count == 3)
            {
                var (a, b, c) = (surfaces[0].Normal(p), surfaces[1].Normal(p), surfaces[2].Normal(p));
                var (bc, ca, ab) = (b.Cross(c), c.Cross(a), a.Cross(b));
                var det = a.Dot(bc);
                if (Math.Abs(det) > Near)
                {
                    return ((bc * values[0]) + (ca * values[1]) + (ab * values[2])) / -det;
                }
            }

            var system = new Affine(ways.Count);
            for (var i = 0; i < surfaces.Count; i++)
            {
                var normal = surfaces[i].Normal(p);
                var row = ways.Select(normal.Dot).ToArray();
                if (Affine.Dot(row, row) > NoRow)
                {
                    system.Add(row, -values[i]);
                }
            }

            return ways.Select((w, i) => w * system.Place[i]).Aggregate(Vec3.Zero, (sum, w) => sum + w);
        }

        private static readonly double[] Steps = [-1.1, 0.07, 1.2];

        private Vec3 Project(Vec3 p)
        {
            var system = new Affine(3);
            foreach (var r in rows)
            {
                system.Add([r.N.X, r.N.Y, r.N.Z], r.C - r.N.Dot(p));
            }

            return p + new Vec3(system.Place[0], system.Place[1], system.Place[2]);
        }

        private Vec3 World(double[] v) => scale.Centre + (new Vec3(v[0], v[1], v[2]) * scale.Size);
    }
}
