using System.Collections.Immutable;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Applying;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Rules;
using Ratiogon.Core.Sketches.Shapes;
using Ratiogon.Core.Sketches.Solving;
using Ratiogon.Core.Sketches.Writing;

namespace Ratiogon.Core.Tests.Solving;

/// <summary>Thousands of generated sketches under random edits and drags: whatever is done, numbers stay finite, what is
/// fixed stays, nothing is lost, and what is called solved is solved.</summary>
public class GeneratedSketchTests
{
    private static readonly string[] Ties = [.. ConstraintCatalog.All.Where(k => k.TiedByHand).Select(k => k.Name)];
    private static readonly string[] Sizes = [.. DimensionCatalog.All.Where(k => k.OfPicks).Select(k => k.Name)];

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    [InlineData(4)]
    public void Random_shapes_edits_and_drags_keep_every_promise(int seed)
    {
        var edits = 0;
        for (var n = 0; n < 600; n++)
        {
            var random = new Random((seed * 100_000) + n);
            var sketch = Shapes(random);
            for (var k = 0; k < 6; k++)
            {
                var before = sketch;
                var change = Change(random, sketch);
                var after = SketchEditor.Apply(sketch, change, ParameterValues.None);
                edits++;
                before.Equals(sketch).ShouldBeTrue("a refused change leaves the sketch as it was");
                if (after.Done)
                {
                    Promises(before, after.Value, change);
                    sketch = after.Value;
                }
                else
                {
                    after.Refusal!.Message.ShouldNotBeNullOrWhiteSpace();
                }
            }

            Dragged(random, sketch);
        }

        edits.ShouldBe(3600);
    }

    [Fact]
    public void The_same_input_gives_the_same_result_to_the_last_bit()
    {
        for (var n = 0; n < 100; n++)
        {
            Made(new Random(900 + n), 5).Equals(Made(new Random(900 + n), 5)).ShouldBeTrue();
        }
    }

    /// <summary>Random shapes after some random changes.</summary>
    internal static Sketch Made(Random random, int changes)
    {
        var sketch = Shapes(random);
        for (var k = 0; k < changes; k++)
        {
            sketch = SketchEditor.Apply(sketch, Change(random, sketch), ParameterValues.None) is { Done: true } done ? done.Value : sketch;
        }

        return sketch;
    }

    private static Sketch Shapes(Random random)
    {
        var edit = new SketchEdit();
        for (var i = random.Next(1, 4); i > 0; i--)
        {
            var (a, b) = (Place(random), Place(random));
            b = a.DistanceTo(b) < 4 ? a + new Vec2(9, 7) : b;
            var id = $"q{i}";
            edit = edit.With(
                random.Next(9) switch
                {
                    0 => ShapeCatalog.RectangleByCorners(
                        id,
                        a,
                        a + new Vec2(3 + (20 * random.NextDouble()), 3 + (20 * random.NextDouble()))
                    ),
                    1 => Rectangles.OnSide(id, a, b, b + (b - a).Left),
                    2 => Slots.Straight(id, a, b, 1 + random.NextDouble()),
                    3 => Slots.AlongArc(id, a, b, a + ((b - a).Left * 0.9), a.DistanceTo(b) * (0.1 + (0.5 * random.NextDouble()))),
                    4 => Polygons.Regular(id, a, b, random.Next(3, 9), random.Next(2) == 0, "5") with { Shapes = [] },
                    5 => Rectangles.Rounded(id, a, a + new Vec2(12, 9), 1 + random.NextDouble()),
                    6 => Ellipse(id, a, b),
                    7 => Spline(random, id, a, b),
                    _ => new SketchEdit
                    {
                        Add = [new PointEntity($"{id}.c", a), new CircleEntity($"{id}.k", $"{id}.c", 2 + (9 * random.NextDouble()))],
                    },
                }
            );
        }

        return SketchEditor.Apply(Sketch.Empty, edit, ParameterValues.None).Value;
    }

    private static SketchEdit Ellipse(string id, Vec2 a, Vec2 b) =>
        new()
        {
            Add =
            [
                new PointEntity($"{id}.c", a),
                new PointEntity($"{id}.f", b),
                new PointEntity($"{id}.s", a + ((b - a).Left * 0.6)),
                new EllipseEntity($"{id}.e", $"{id}.c", $"{id}.f", $"{id}.s"),
            ],
        };

    private static SketchEdit Spline(Random random, string id, Vec2 a, Vec2 b)
    {
        Vec2[] through = [a, ((a + b) / 2) + new Vec2(5 * random.NextDouble(), 8), b];
        return new SketchEdit
        {
            Add =
            [
                .. through.Select((p, i) => new PointEntity($"{id}.p{i}", p)),
                new SplineEntity($"{id}.s", [$"{id}.p0", $"{id}.p1", $"{id}.p2"], Curves.SpansOf(through)),
            ],
        };
    }

    private static Vec2 Place(Random random) => new((random.NextDouble() * 80) - 40, (random.NextDouble() * 60) - 30);

    private static SketchEdit Change(Random random, Sketch sketch)
    {
        var taken = sketch.UsedIds();
        string Any() =>
            random.Next(12) == 0 ? new[] { "origin", "x-axis", "y-axis" }[random.Next(3)]
            : sketch.Entities.Length == 0 ? "origin"
            : sketch.Entities[random.Next(sketch.Entities.Length)].Id;
        ImmutableArray<string> Some() => [.. Enumerable.Range(0, random.Next(1, 4)).Select(_ => Any()).Distinct()];
        switch (random.Next(8))
        {
            case 0 or 1 or 2:
                return new SketchEdit { Tie = [new SketchConstraint(Ids.Next("k", taken), Ties[random.Next(Ties.Length)], Some())] };
            case 3 or 4:
                var kind = Sizes[random.Next(Sizes.Length)];
                var of = Some();
                var now =
                    sketch.FindAll(of) is { } found && DimensionCatalog.Find(kind)!.Check(sketch, found) is null
                        ? DimensionCatalog.Find(kind)!.Measure(sketch, found)
                        : 5;
                var angle = DimensionCatalog.Find(kind)!.Of == Dimension.OfAngle;
                var value = now * (0.6 + random.NextDouble());
                return new SketchEdit
                {
                    Size =
                    [
                        new SketchDimension(
                            Ids.Next("d", taken),
                            kind,
                            of,
                            angle ? $"{value * 180 / Math.PI:0.####} deg" : $"{value:0.####} mm"
                        ),
                    ],
                };
            case 5 when sketch.Dimensions.Length > 0:
                var d = sketch.Dimensions[random.Next(sketch.Dimensions.Length)];
                return new SketchEdit
                {
                    Size = [d with { Value = d.Value is null ? null : $"({d.Value}) * {0.2 + (3 * random.NextDouble()):0.###}" }],
                };
            case 6 when sketch.Entities.OfType<LineEntity>().FirstOrDefault() is { } line:
                var cut =
                    random.Next(2) == 0
                        ? Trimming.Trim(sketch, line.Id, (sketch.At(line.From) + sketch.At(line.To)) / 2)
                        : Trimming.Split(sketch, line.Id, (sketch.At(line.From) + sketch.At(line.To)) / 2);
                return cut.Done ? cut.Value : new SketchEdit();
            default:
                return sketch.Entities.Length > 6 && random.Next(3) == 0
                    ? new SketchEdit { Remove = [sketch.Entities[random.Next(sketch.Entities.Length)].Id] }
                    : new SketchEdit { Tie = [new SketchConstraint(Ids.Next("k", taken), "fixed", [Any()])] };
        }
    }

    private static void Promises(Sketch before, Sketch after, SketchEdit change)
    {
        SketchCheck.Check(after).ShouldBeNull();
        after.Entities.OfType<PointEntity>().ShouldAllBe(p => p.At.IsFinite);
        var gone = Removal.Gone(before, change.Remove);
        before
            .Entities.Where(e => !gone.Contains(e.Id) && !change.Remove.Contains(e.Id))
            .ShouldAllBe(e => after.Find(e.Id) != null, "no entity is lost");
        foreach (var tied in after.Constraints.Where(c => c.Kind == "fixed" && before.Constraints.Contains(c)))
        {
            foreach (var point in tied.Of.Select(before.Find).OfType<PointEntity>())
            {
                after.At(point.Id).DistanceTo(point.At).ShouldBe(0, 1e-7, "what is fixed does not move");
            }
        }

        var values = SketchValues.Of(after, ParameterValues.None);
        values.Done.ShouldBeTrue();
        var system = SystemReduction.Of(SketchCompiler.Write(after, values.Value, reducing: false));
        // The parameters of places on free curves are not kept with the sketch; rules that hold there are solved once more.
        var parameters = system.Equations.Any(e =>
            e.GetType().Name.Contains("Form", StringComparison.Ordinal) || e.GetType().Name is "SameDirection" or "SameBend"
        );
        foreach (var (equation, i) in system.Equations.Select((e, i) => (e, i)).Where(_ => !parameters))
        {
            Math.Abs(system.Residual(i, system.Start))
                .ShouldBeLessThan(1e-7, $"{equation.GetType().Name} of {equation.Owner.Id} is called met: {Told(after)}");
        }

        if (parameters)
        {
            var again = SketchSolver.Solve(after, values.Value);
            again.Solved.ShouldBeTrue(Told(after));
            after.Entities.OfType<PointEntity>().ShouldAllBe(p => again.Sketch.At(p.Id).DistanceTo(p.At) < 1e-5);
        }
    }

    private static string Told(Sketch s) =>
        $"{string.Join("; ", s.Constraints.Select(c => $"{c.Kind} {string.Join(",", c.Of)}"))}; "
        + $"{string.Join("; ", s.Dimensions.Select(d => $"{d.Kind} {d.Value} {string.Join(",", d.Of)}"))}";

    private static void Dragged(Random random, Sketch sketch)
    {
        if (sketch.Entities.IsEmpty)
        {
            return;
        }

        var entity = sketch.Entities[random.Next(sketch.Entities.Length)];
        var drag = new DragSession(sketch, SketchValues.Of(sketch, ParameterValues.None).Value, entity.Id, Place(random));
        for (var i = 0; i < 5; i++)
        {
            drag.MoveTo(Place(random) * 2);
        }

        var now = drag.Current();
        now.Entities.Length.ShouldBe(sketch.Entities.Length);
        now.Entities.OfType<PointEntity>().ShouldAllBe(p => p.At.IsFinite);
        foreach (
            var point in sketch.Constraints.Where(c => c.Kind == "fixed").SelectMany(c => c.Of).Select(sketch.Find).OfType<PointEntity>()
        )
        {
            now.At(point.Id).DistanceTo(point.At).ShouldBe(0, 1e-7, $"{point.Id} drag {entity.Id} {Told(sketch)}");
        }
    }
}
