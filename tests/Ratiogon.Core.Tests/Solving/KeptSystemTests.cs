using Ratiogon.Core.Numerics;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Applying;
using Ratiogon.Core.Sketches.Constraints;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Shapes;
using Ratiogon.Core.Sketches.Solving;
using Ratiogon.Core.Sketches.Writing;

namespace Ratiogon.Core.Tests.Solving;

/// <summary>A system that is kept with its sketch and gets other values of its sizes is the one that would be written anew.</summary>
public class KeptSystemTests
{
    [Fact]
    public void A_kept_system_with_other_sizes_is_the_system_written_anew()
    {
        var (kept, anew) = (0, 0);
        for (var n = 0; n < 1500; n++)
        {
            var random = new Random(5_100 + n);
            var sketch =
                n % 2 == 0 ? GeneratedSketchTests.Made(random, 6) : VerdictTests.Ruled(random, Math.Pow(10, random.Next(-2, 4)), 8);
            if (sketch.Dimensions.IsEmpty)
            {
                continue;
            }

            var writer = SketchCompiler.Write(sketch, Witness.Readings(sketch), reducing: true, repeatable: true);
            SystemReduction.Of(writer);
            for (var k = 0; k < 3; k++)
            {
                var values = Witness
                    .Readings(sketch)
                    .ToDictionary(v => v.Key, v => random.Next(2) == 0 ? v.Value : v.Value * (0.2 + (2 * random.NextDouble())));
                if (writer.WithSizes(sketch, values, SketchCompiler.WriteSize) is { } again)
                {
                    kept++;
                    Alike(again, SketchCompiler.Write(sketch, values, reducing: true), random);
                }
                else
                {
                    anew++;
                }
            }
        }

        kept.ShouldBeGreaterThan(1000);
        anew.ShouldBeLessThan(kept / 50, "sizes of other values leave the structure as it is");
    }

    [Fact]
    public void What_was_kept_serves_only_where_all_else_is_the_same()
    {
        var sketch = VerdictTests.Ruled(new Random(3), 1, 8);
        SketchCompiler.WriteKept(sketch, Witness.Readings(sketch));
        KeptWriters.Find(sketch).ShouldNotBeNull();
        KeptWriters.Find(sketch with { Dimensions = [.. sketch.Dimensions.Select(d => d with { Value = "7 mm" })] }).ShouldNotBeNull();
        KeptWriters.Find(sketch with { Dimensions = [.. sketch.Dimensions.Select(d => d with { Value = null })] }).ShouldBeNull();
        KeptWriters.Find(sketch with { Dimensions = sketch.Dimensions[1..] }).ShouldBeNull();
        KeptWriters
            .Find(sketch with { Constraints = [.. sketch.Constraints, new SketchConstraint("more", "fixed", [sketch.Entities[0].Id])] })
            .ShouldBeNull();
        KeptWriters
            .Find(sketch with { Entities = [.. sketch.Entities.Select(e => e is PointEntity p ? p with { At = p.At * 2 } : e)] })
            .ShouldBeNull();
    }

    [Fact]
    public void A_size_that_is_edited_finds_what_was_compiled_to_count_the_freedoms()
    {
        var edit = ShapeCatalog.RectangleByCorners("r1", new(0, 0), new(40, 30)) with
        {
            Size = [ShapeCatalog.Width("r1", "40 mm"), ShapeCatalog.Height("r1", "30 mm")],
        };
        var sketch = SketchEditor.Apply(Sketch.Empty, edit, ParameterValues.None).Value;
        Freedoms.Of(sketch).Count.ShouldBe(2);
        var wider = sketch with { Dimensions = [.. sketch.Dimensions.Select(d => d.Id == "r1.width" ? d with { Value = "50 mm" } : d)] };
        KeptWriters.Find(wider)!.Sketch.Dimensions.ShouldBe(sketch.Dimensions);
        var after = SketchEditor.Apply(sketch, new SketchEdit { Size = [ShapeCatalog.Width("r1", "50 mm")] }, ParameterValues.None).Value;
        after.At("r1.p1").DistanceTo(after.At("r1.p2")).ShouldBe(50, 1e-9);
    }

    [Fact]
    public void Two_sizes_that_come_to_contradict_each_other_do_so_in_the_kept_system_too()
    {
        var sketch = new Sketch
        {
            Entities = [new PointEntity("a", new(0, 0)), new PointEntity("b", new(10, 0)), new LineEntity("l", "a", "b")],
            Constraints = [new SketchConstraint("h", "horizontal", ["l"])],
            Dimensions =
            [
                new SketchDimension("d", "distance", ["l"], "10 mm"),
                new SketchDimension("e", "horizontal-distance", ["a", "b"], "10 mm"),
            ],
        };
        var writer = SketchCompiler.Write(
            sketch,
            new Dictionary<string, double> { ["d"] = 10, ["e"] = 10 },
            reducing: true,
            repeatable: true
        );
        writer.RedundantReductions.ShouldBe([new Owner(OwnerKind.Dimension, "e")]);
        var other = writer.WithSizes(sketch, new Dictionary<string, double> { ["d"] = 10, ["e"] = 12 }, SketchCompiler.WriteSize)!;
        other.RedundantReductions.ShouldBeEmpty();
        other.ClashingReductions.ShouldBe([new Owner(OwnerKind.Dimension, "e")]);
    }

    /// <summary>Tries other values on a sketch's kept system; null where all is as it would be written anew.</summary>
    internal static string? Differs(Sketch sketch, IReadOnlyDictionary<string, double> values, Random random)
    {
        var others = values.ToDictionary(v => v.Key, v => random.Next(2) == 0 ? v.Value : v.Value * (0.5 + random.NextDouble()));
        if (
            SketchCompiler.Write(sketch, values, reducing: true, repeatable: true).WithSizes(sketch, others, SketchCompiler.WriteSize) is
            { } again
        )
        {
            try
            {
                Alike(again, SketchCompiler.Write(sketch, others, reducing: true), random);
            }
            catch (ShouldAssertException different)
            {
                return different.Message;
            }
        }

        return null;
    }

    private static void Alike(SystemWriter again, SystemWriter fresh, Random random)
    {
        again.RedundantReductions.ShouldBe(fresh.RedundantReductions);
        again.ClashingReductions.ShouldBe(fresh.ClashingReductions);
        again.Start.ShouldBe(fresh.Start);
        again.Weights.ShouldBe(fresh.Weights);
        var (a, b) = (SystemReduction.Of(again), SystemReduction.Of(fresh));
        (a.UnknownCount, a.Jumped, a.Tolerance, a.Size).ShouldBe((b.UnknownCount, b.Jumped, b.Tolerance, b.Size));
        a.Start.ShouldBe(b.Start);
        for (var v = 0; v < a.RawCount; v++)
        {
            a.UnknownOf(v).ShouldBe(b.UnknownOf(v));
            a.OffsetOf(v).ShouldBe(b.OffsetOf(v));
        }

        var x = Array.ConvertAll(a.Start, s => s + random.NextDouble() - 0.5);
        Same(a.Equations, b.Equations, a.Columns, b.Columns, (e, row) => a.Evaluate(e, x, row), (e, row) => b.Evaluate(e, x, row));
        Same(a.Soft, b.Soft, a.SoftColumns, b.SoftColumns, (e, row) => a.EvaluateSoft(e, x, row), (e, row) => b.EvaluateSoft(e, x, row));
        a.Crossed(x).ShouldBe(b.Crossed(x));
    }

    private static void Same(
        Equation[] a,
        Equation[] b,
        int[][] columns,
        int[][] others,
        Func<int, double[], double> mine,
        Func<int, double[], double> fresh
    )
    {
        a.Length.ShouldBe(b.Length);
        for (var e = 0; e < a.Length; e++)
        {
            a[e].Owner.ShouldBe(b[e].Owner);
            columns[e].ShouldBe(others[e]);
            var (row, other) = (new double[Equation.MostVariables], new double[Equation.MostVariables]);
            mine(e, row).ShouldBe(fresh(e, other));
            row.ShouldBe(other);
        }
    }
}
