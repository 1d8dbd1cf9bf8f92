using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Applying;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Solving;
using static Ratiogon.Core.Tests.Solving.Sketches;

namespace Ratiogon.Core.Tests.Solving;

/// <summary>What a drag shows is what is kept: set things stay, nothing leaps, curves are followed past their knots, and a
/// release moves nothing.</summary>
public class DragTests
{
    [Fact]
    public void In_fast_and_slow_drags_what_is_set_stays_and_nothing_leaps()
    {
        for (var seed = 0; seed < 120; seed++)
        {
            var random = new Random(seed);
            var sketch = VerdictTests.Ruled(random, 1, 7);

            var freedoms = Freedoms.Of(sketch);
            var entity = sketch.Entities[random.Next(sketch.Entities.Length)];
            var at = entity is PointEntity p ? p.At : sketch.At(entity.Points[0]);
            var drag = new DragSession(sketch, Values(sketch), entity.Id, at);
            var slow = seed % 2 == 0;
            var before = sketch;
            for (var i = 0; i < 20; i++)
            {
                at += slow
                    ? new Vec2(random.NextDouble() - 0.5, random.NextDouble() - 0.5) * 2
                    : new Vec2(random.NextDouble() - 0.5, random.NextDouble() - 0.5) * 120;
                drag.MoveTo(at);
                var now = drag.Current();
                foreach (var point in sketch.Entities.OfType<PointEntity>())
                {
                    var moved = now.At(point.Id).DistanceTo(before.At(point.Id));
                    if (freedoms.OfEntity[point.Id] == 0)
                    {
                        now.At(point.Id)
                            .DistanceTo(point.At)
                            .ShouldBe(0, 1e-9, $"{seed}: {point.Id} is set, dragging {entity.Id} | {VerdictTests.Words(sketch)}");
                    }

                    if (slow)
                    {
                        moved.ShouldBeLessThan(
                            20,
                            $"{seed}: {point.Id} leaps while {entity.Id} is dragged by a millimetre | {VerdictTests.Words(sketch)}"
                        );
                    }
                }

                new Independent(now, Values(sketch)).Drawn.ShouldBeLessThan(1e-6, $"{seed}: {VerdictTests.Words(sketch)}");
                before = now;
            }

            Released(sketch, drag, $"{seed}: {entity.Id}");
        }
    }

    private static void Released(Sketch sketch, DragSession drag, string where)
    {
        var now = drag.Current();
        var released = SketchEditor.Apply(
            sketch,
            new SketchEdit
            {
                Move = System.Collections.Immutable.ImmutableDictionary.CreateRange(
                    now.Entities.OfType<PointEntity>().Where(p => p.At != sketch.At(p.Id)).Select(p => KeyValuePair.Create(p.Id, p.At))
                ),
                Resize = System.Collections.Immutable.ImmutableDictionary.CreateRange(
                    now.Entities.OfType<CircleEntity>()
                        .Where(c => c.Radius != ((CircleEntity)sketch.Find(c.Id)!).Radius)
                        .Select(c => KeyValuePair.Create(c.Id, c.Radius))
                ),
            },
            ParameterValues.None
        );
        released.Refusal?.Message.ShouldBeNull(where);
        now.Entities.OfType<PointEntity>().ShouldAllBe(p => released.Value.At(p.Id).DistanceTo(p.At) < 1e-6, where);
    }

    [Fact]
    public void A_circle_whose_size_is_set_moves_as_a_whole_by_its_rim()
    {
        var sketch = Of([P("c", 10, 10), new CircleEntity("k", "c", 5)], [], [D("d", "diameter", "10 mm", "k")]);
        var drag = new DragSession(sketch, Values(sketch), "k", new Vec2(15, 10));
        drag.Refusal.ShouldBeNull();
        drag.MoveTo(new Vec2(35, 17)).ShouldBeTrue();
        drag.Current().At("c").DistanceTo(new Vec2(30, 17)).ShouldBeLessThan(1e-6);
        ((CircleEntity)drag.Current().Find("k")!).Radius.ShouldBe(5);
        var loose = Of([P("c", 10, 10), new CircleEntity("k", "c", 5)]);
        var grows = new DragSession(loose, Values(loose), "k", new Vec2(15, 10));
        grows.MoveTo(new Vec2(18, 10)).ShouldBeTrue();
        ((CircleEntity)grows.Current().Find("k")!).Radius.ShouldBe(8, 1e-4);
    }

    [Theory]
    [InlineData(1.0)]
    [InlineData(9.0)]
    public void A_point_is_drawn_along_a_spline_past_its_knots_and_stays_on_it(double step)
    {
        var sketch = Of(
            [
                P("a", 0, 0),
                P("b", 10, 6),
                P("c", 20, 2),
                P("d", 32, 9),
                new SplineEntity("s", ["a", "b", "c", "d"], [1, 1, 1]),
                P("q", 5, 4),
            ],
            [K("f", "fixed", "s"), K("on", "on-curve", "q", "s")]
        );
        sketch = Solved(sketch);
        var drag = new DragSession(sketch, Values(sketch), "q", sketch.At("q"));
        var reached = 0.0;
        for (var x = 5.0; x < 31; x += step)
        {
            drag.MoveTo(new Vec2(x, 5));
            var now = drag.Current();
            var curve = Curves.Of(now, now.Find("s")!)!;
            curve.At(curve.Nearest(now.At("q"))).DistanceTo(now.At("q")).ShouldBeLessThan(1e-6, $"at {x}");
            reached = Math.Max(reached, now.At("q").X);
        }

        reached.ShouldBeGreaterThan(22, "two knots were passed");
        Released(sketch, drag, "spline");
    }

    [Fact]
    public void A_point_goes_round_an_ellipse_and_stays_on_it()
    {
        SketchEntity[] ellipse = [P("e", 0, 0), P("f", 30, 0), P("g", 0, 12), new EllipseEntity("k", "e", "f", "g"), P("q", 30, 0.1)];
        var sketch = Solved(Of(ellipse, [K("x", "fixed", "e", "f", "g"), K("on", "on-curve", "q", "k")]));
        var drag = new DragSession(sketch, Values(sketch), "q", sketch.At("q"));
        for (var i = 1; i <= 72; i++)
        {
            var t = i * Math.PI / 36;
            drag.MoveTo(new Vec2(32 * Math.Cos(t), 14 * Math.Sin(t)));
            var q = drag.Current().At("q");
            (((q.X * q.X) / 900) + ((q.Y * q.Y) / 144)).ShouldBe(1, 1e-8, $"at {i}");
        }
    }
}
