using System.Collections.Immutable;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Applying;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Rules;
using Ratiogon.Core.Sketches.Shapes;
using Ratiogon.Core.Sketches.Solving;

namespace Ratiogon.Core.Tests.Solving;

/// <summary>Random rules added one at a time, every verdict held against a second opinion: what is taken holds, what is called
/// redundant follows, and nothing is called a clash that some start can meet.</summary>
public class VerdictTests
{
    private static readonly string[] Ties =
    [
        "coincident",
        "on-curve",
        "midpoint",
        "horizontal",
        "vertical",
        "parallel",
        "perpendicular",
        "tangent",
        "concentric",
        "equal",
        "symmetric",
    ];
    private static readonly string[] Sizes = ["distance", "horizontal-distance", "vertical-distance", "angle", "radius", "diameter"];

    /// <summary>How the verdicts on a run of rules came out.</summary>
    internal sealed class Tally
    {
        public Dictionary<string, int> Verdicts { get; } = [];

        public List<string> Wrong { get; } = [];

        public void Count(string verdict) => Verdicts[verdict] = Verdicts.GetValueOrDefault(verdict) + 1;

        public override string ToString() =>
            string.Join(", ", Verdicts.OrderBy(v => v.Key).Select(v => $"{v.Value} {v.Key}"))
            + (Wrong.Count > 0 ? "\n" + string.Join("\n", Wrong.Take(12)) : "");
    }

    /// <summary>How many sketches for each seed; RATIOGON_VERDICTS sets another number, for a long run.</summary>
    private static int Campaign => int.TryParse(Environment.GetEnvironmentVariable("RATIOGON_VERDICTS"), out var n) ? n : 30;

    [Theory]
    [InlineData(1, 1)]
    [InlineData(2, 1)]
    [InlineData(3, 1e-2)]
    [InlineData(4, 1e3)]
    public void Verdicts_on_random_rules_are_right(int seed, double size)
    {
        var tally = Run(seed, Campaign, size);
        TestContext.Current.TestOutputHelper?.WriteLine(tally.ToString());
        tally.Wrong.ShouldBeEmpty(tally.ToString());
        tally.Verdicts.GetValueOrDefault("no way").ShouldBeLessThan(tally.Verdicts.Values.Sum() / 20, tally.ToString());
    }

    internal static Tally Run(int seed, int sketches, double size)
    {
        var tally = new Tally();
        for (var n = 0; n < sketches; n++)
        {
            var random = new Random((seed * 1_000_003) + n);
            var sketch = Drawn(random, size);
            for (var k = 0; k < 9; k++)
            {
                if (Rule(random, sketch) is { } edit)
                {
                    sketch = Judged(random, sketch, edit, tally, $"{seed}/{n}/{k}");
                }
            }
        }

        return tally;
    }

    private static Sketch Judged(Random random, Sketch sketch, SketchEdit edit, Tally tally, string where)
    {
        var all = sketch with { Constraints = sketch.Constraints.AddRange(edit.Tie), Dimensions = sketch.Dimensions.AddRange(edit.Size) };
        var values = SketchValues.Of(all, ParameterValues.None);
        if (!values.Done || SketchCheck.Check(all) is not null)
        {
            return sketch;
        }

        var second = new Independent(all, values.Value);
        if (!second.Speaks)
        {
            return sketch;
        }

        var answer = SketchEditor.Apply(sketch, edit, ParameterValues.None);
        var rule = edit.Tie.IsEmpty ? edit.Size[0].Id : edit.Tie[0].Id;
        string Told() => $"{where} {(answer.Done ? "taken" : answer.Refusal!.Code + " " + answer.Refusal.Message)} | {Words(all)}";
        switch (answer)
        {
            case { Done: true }:
                tally.Count("taken");
                if (new Independent(answer.Value, values.Value).Drawn > 1e-7 * Math.Max(1, Extent(all)))
                {
                    tally.Wrong.Add("not met: " + Told());
                }

                return answer.Value;
            case { Refusal.Code: "sketch.clash" }:
                tally.Count("clash");
                if (second.CanMeet(random, 24, 2))
                {
                    tally.Wrong.Add("false clash: " + Told());
                }

                Verified(random, all, values.Value, [rule, .. answer.Refusal!.Involved], tally, Told);
                return sketch;
            case { Refusal.Code: "sketch.redundant" }:
                tally.Count("redundant");
                if (second.DrawnOf(rule) > 1e-6 * Math.Max(1, Extent(all)))
                {
                    tally.Wrong.Add("called redundant and does not hold: " + Told());
                }
                else if (
                    second.Freedoms(random, 4) is var with and < int.MaxValue
                    && new Independent(sketch, values.Value).Freedoms(random, 4) is var without and < int.MaxValue
                    && with < without
                )
                {
                    tally.Wrong.Add($"false redundancy, freedoms {without} to {with}: " + Told());
                }

                return sketch;
            case { Refusal.Code: "sketch.no-way" or "sketch.turned-over" or "sketch.collapsed" }:
                tally.Count("no way");
                return sketch;
            default:
                tally.Count("refused");
                return sketch;
        }
    }

    /// <summary>A set is true, it fails by itself; and smallest, without any one member it holds.</summary>
    private static void Verified(
        Random random,
        Sketch all,
        IReadOnlyDictionary<string, double> values,
        string[] set,
        Tally tally,
        Func<string> told
    )
    {
        Sketch Only(Func<string, bool> keep) =>
            all with
            {
                Constraints = all.Constraints.RemoveAll(c => !keep(c.Id)),
                Dimensions = all.Dimensions.RemoveAll(d => !keep(d.Id)),
            };
        if (new Independent(Only(set.Contains), values).CanMeet(random, 40, 30))
        {
            tally.Wrong.Add("the set holds: " + told());
        }

        // That the rest holds is shown by a solution, whoever finds it.
        bool Holds(Sketch rest) =>
            (
                SketchSolver.AnySolution(rest, rest.Dimensions.ToDictionary(d => d.Id, d => values[d.Id]), 60) is { } found
                && new Independent(found, values).Drawn < 1e-7 * Math.Max(1, Extent(found))
                && SketchCheck.Check(found) is null
            ) || new Independent(rest, values).CanMeet(random, 60, 1e3);
        if (set.FirstOrDefault(member => !Holds(Only(id => id != member && set.Contains(id)))) is { } idle)
        {
            tally.Wrong.Add($"{idle} is not needed in the set: " + told());
        }
    }

    private static double Extent(Sketch sketch) => sketch.Entities.OfType<PointEntity>().Max(p => p.At.Length);

    internal static string Words(Sketch s) =>
        $"{string.Join("; ", s.Entities.Select(e => e is PointEntity p ? FormattableString.Invariant($"{p.Id} {p.At.X:0.####},{p.At.Y:0.####}") : e is CircleEntity c ? FormattableString.Invariant($"{c.Id} circle {c.Centre} {c.Radius:0.####}") : $"{e.Id} {e.Word} {string.Join(",", e.Points)}"))} | "
        + $"{string.Join("; ", s.Constraints.Select(c => $"{c.Id} {c.Kind} {string.Join(",", c.Of)}"))}; "
        + $"{string.Join("; ", s.Dimensions.Select(d => $"{d.Id} {d.Kind} {d.Value} {string.Join(",", d.Of)}"))}";

    internal static Sketch Drawn(Random random, double size)
    {
        var edit = new SketchEdit();
        Vec2 Place() => new Vec2((random.NextDouble() * 80) - 40, (random.NextDouble() * 60) - 30) * size;
        for (var i = random.Next(2, 4); i > 0; i--)
        {
            var (a, b) = (Place(), Place());
            b = a.DistanceTo(b) < 6 * size ? a + (new Vec2(9, 7) * size) : b;
            var id = $"q{i}";
            edit = edit.With(
                random.Next(6) switch
                {
                    0 => ShapeCatalog.RectangleByCorners(
                        id,
                        a,
                        a + (new Vec2(5 + (20 * random.NextDouble()), 5 + (20 * random.NextDouble())) * size)
                    ),
                    1 => new SketchEdit
                    {
                        Add =
                        [
                            new PointEntity($"{id}.c", a),
                            new CircleEntity($"{id}.k", $"{id}.c", (2 + (9 * random.NextDouble())) * size),
                        ],
                    },
                    2 => new SketchEdit
                    {
                        Add =
                        [
                            new PointEntity($"{id}.a", a),
                            new PointEntity($"{id}.b", b),
                            new PointEntity($"{id}.d", b + ((b - a).Left * 0.7) + (new Vec2(1, 2) * size)),
                            new LineEntity($"{id}.l", $"{id}.a", $"{id}.b"),
                            new LineEntity($"{id}.m", $"{id}.b", $"{id}.d"),
                        ],
                    },
                    3 => new SketchEdit { Add = [new PointEntity($"{id}.p", a)] },
                    _ => new SketchEdit
                    {
                        Add =
                        [
                            new PointEntity($"{id}.a", a),
                            new PointEntity($"{id}.b", b),
                            new LineEntity($"{id}.l", $"{id}.a", $"{id}.b"),
                        ],
                    },
                }
            );
        }

        return SketchEditor.Apply(Sketch.Empty, edit, ParameterValues.None).Value;
    }

    /// <summary>A random sketch with up to as many random rules as are taken.</summary>
    internal static Sketch Ruled(Random random, double size, int rules)
    {
        var sketch = Drawn(random, size);
        for (var k = 0; k < rules; k++)
        {
            sketch =
                Rule(random, sketch) is { } edit && SketchEditor.Apply(sketch, edit, ParameterValues.None) is { Done: true } done
                    ? done.Value
                    : sketch;
        }

        return sketch;
    }

    internal static SketchEdit? Rule(Random random, Sketch sketch)
    {
        var taken = sketch.UsedIds();
        string Any() =>
            random.Next(10) == 0
                ? new[] { "origin", "x-axis", "y-axis" }[random.Next(3)]
                : sketch.Entities[random.Next(sketch.Entities.Length)].Id;
        for (var attempt = 0; attempt < 40; attempt++)
        {
            ImmutableArray<string> of = [.. Enumerable.Range(0, random.Next(1, 4)).Select(_ => Any()).Distinct()];
            var found = sketch.FindAll(of)!;
            if (random.Next(3) > 0)
            {
                var tie = new SketchConstraint(Ids.Next("k", taken), Ties[random.Next(Ties.Length)], of);
                if (SketchCheck.CheckConstraint(sketch, tie) is null)
                {
                    return new SketchEdit { Tie = [tie] };
                }
            }
            else
            {
                var kind = DimensionCatalog.Find(Sizes[random.Next(Sizes.Length)])!;
                if (
                    kind.Check(sketch, found) is null
                    && kind.Measure(sketch, found) * (0.6 + random.NextDouble()) is var value
                    && kind.CheckValue(value) is null
                )
                {
                    var text = FormattableString.Invariant(
                        $"{(kind.Of == Dimension.OfAngle ? value * 180 / Math.PI : value):0.######} {(kind.Of == Dimension.OfAngle ? "deg" : "mm")}"
                    );
                    return new SketchEdit { Size = [new SketchDimension(Ids.Next("d", taken), kind.Name, of, text)] };
                }
            }
        }

        return null;
    }
}
