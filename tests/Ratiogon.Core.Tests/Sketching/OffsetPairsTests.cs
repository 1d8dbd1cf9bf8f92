using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Dimensions;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Shapes;
using Ratiogon.Core.Sketches.Solving;
using static Ratiogon.Core.Tests.Solving.Sketches;

namespace Ratiogon.Core.Tests.Sketching;

/// <summary>An offset follows its chain through every edit, and changes of the offset leave the chain alone.</summary>
public class OffsetPairsTests
{
    /// <summary>A rectangle 60 x 40 and its offset 5 mm outside or inside: 5 freedoms.</summary>
    private static Sketch Ring(bool outside = true)
    {
        var sketch = Applied(Core.Sketches.Sketch.Empty, ShapeCatalog.RectangleByCorners("r", Vec2.Zero, new Vec2(60, 40)));
        return Applied(sketch, Offsetting.Of(sketch, "r.bottom", 5, new Vec2(30, outside ? -9 : 9), "5 mm").Value);
    }

    private static SketchDimension Pairs(Sketch sketch) => sketch.Dimensions.Single(d => d.Kind == OffsetSize.KindName);

    private static string CopyOf(Sketch sketch, string original) => Pairs(sketch).Of[Pairs(sketch).Of.IndexOf(original) + 1];

    /// <summary>With another distance every pair is still that far apart.</summary>
    private static void Holds(Sketch sketch, string distance = "4 mm", double value = 4)
    {
        var pairs = Pairs(sketch);
        var wider = Applied(sketch, new SketchEdit { Size = [pairs with { Value = distance }] });
        for (var i = 0; i < pairs.Of.Length; i += 2)
        {
            Math.Abs(OffsetSize.Signed(wider, wider.Find(pairs.Of[i])!, wider.Find(pairs.Of[i + 1])!))
                .ShouldBe(value, 1e-7, $"{pairs.Of[i]} and {pairs.Of[i + 1]}");
        }
    }

    [Theory]
    [InlineData(true)]
    [InlineData(false)]
    public void Splitting_a_side_splits_its_offset(bool outside)
    {
        var ring = Ring(outside);
        var split = Applied(ring, Trimming.Split(ring, "r.bottom", new Vec2(20, 0)).Value);
        Pairs(split).Of.Length.ShouldBe(10);
        split.Entities.OfType<LineEntity>().Count().ShouldBe(10);
        Freedoms.Of(split).Count.ShouldBe(Freedoms.Of(ring).Count + 1, "where the cut is");
        Holds(split);
    }

    [Fact]
    public void Splitting_the_offset_leaves_the_chain_alone()
    {
        var ring = Ring();
        var split = Applied(ring, Trimming.Split(ring, CopyOf(ring, "r.bottom"), new Vec2(20, -5)).Value);
        Pairs(split).Of.Length.ShouldBe(10);
        split.Entities.OfType<LineEntity>().Count().ShouldBe(9);
        Freedoms.Of(split).Count.ShouldBe(Freedoms.Of(ring).Count + 1);
        Holds(split);
    }

    [Theory]
    [InlineData(true, 8, 13)]
    [InlineData(false, 8, 3)]
    public void Rounding_a_corner_rounds_the_offset_about_the_same_centre(bool outside, double radius, double other)
    {
        var ring = Ring(outside);
        var round = Applied(ring, Corners.Fillet(ring, "r.p1", radius, $"{radius} mm").Value);
        var arcs = round.Entities.OfType<ArcEntity>().ToList();
        arcs.Select(a => a.Radius).Order().ShouldBe(new[] { radius, other }.Order(), 1e-9);
        arcs[0].Centre.ShouldBe(arcs[1].Centre);
        Pairs(round).Of.Length.ShouldBe(10);
        Freedoms.Of(round).Count.ShouldBe(Freedoms.Of(ring).Count);
        Holds(round);
    }

    [Fact]
    public void A_rounding_that_leaves_nothing_of_the_offset_leaves_its_corner_sharp()
    {
        var ring = Ring(outside: false);
        var round = Applied(ring, Corners.Fillet(ring, "r.p1", 3, "3 mm").Value);
        round.Entities.OfType<ArcEntity>().Count().ShouldBe(1);
        Pairs(round).Of.Length.ShouldBe(8);
        Freedoms.Of(round).Count.ShouldBe(Freedoms.Of(ring).Count);
    }

    [Fact]
    public void The_offset_can_be_rounded_by_itself()
    {
        var ring = Ring();
        var corner = ring.Find(CopyOf(ring, "r.bottom"))!.Points.Intersect(ring.Find(CopyOf(ring, "r.left"))!.Points).Single();
        var round = Applied(ring, Corners.Fillet(ring, corner, 4, "4 mm").Value);
        round.Entities.OfType<ArcEntity>().Count().ShouldBe(1);
        Pairs(round).Of.Length.ShouldBe(8);
        Freedoms.Of(round).Count.ShouldBe(Freedoms.Of(ring).Count);
        Holds(round, "6 mm", 6);
    }

    [Theory]
    [InlineData(true)]
    [InlineData(false)]
    public void A_chamfer_has_its_offset_too(bool outside)
    {
        var ring = Ring(outside);
        var cut = Applied(ring, Corners.Chamfer(ring, "r.p1", 12, 12, "12 mm", null).Value);
        Pairs(cut).Of.Length.ShouldBe(10);
        Freedoms.Of(cut).Count.ShouldBe(Freedoms.Of(ring).Count);
        Holds(cut);
    }

    [Fact]
    public void Removing_a_member_leaves_the_other_pairs()
    {
        var ring = Ring();
        var open = Applied(ring, new SketchEdit { Remove = ["r.top"] });
        Pairs(open).Of.Length.ShouldBe(6);
        Holds(open);
    }

    [Fact]
    public void A_trimmed_chain_takes_its_offset_along()
    {
        var ring = Ring();
        var crossed = Applied(
            ring,
            new SketchEdit
            {
                Add = [new PointEntity("a", new Vec2(25, -20)), new PointEntity("b", new Vec2(25, 20)), new LineEntity("l", "a", "b")],
            }
        );
        var trimmed = Applied(crossed, Trimming.Trim(crossed, "r.bottom", new Vec2(40, 0)).Value);
        trimmed.At(((LineEntity)trimmed.Find("r.bottom")!).To).X.ShouldBe(25, 1e-9);
        trimmed.At(((LineEntity)trimmed.Find(CopyOf(ring, "r.bottom"))!).To).X.ShouldBe(25, 1e-9, "the offset ends square to the chain");
        Holds(trimmed);
    }

    [Fact]
    public void A_circle_cut_open_takes_its_offset_along()
    {
        var circle = Applied(
            Core.Sketches.Sketch.Empty,
            new SketchEdit
            {
                Add =
                [
                    new PointEntity("c", Vec2.Zero),
                    new CircleEntity("k", "c", 20),
                    new PointEntity("a", new Vec2(-40, 3)),
                    new PointEntity("b", new Vec2(40, 3)),
                    new LineEntity("l", "a", "b"),
                ],
            }
        );
        var ring = Applied(circle, Offsetting.Of(circle, "k", 5, new Vec2(0, 30), "5 mm").Value);
        var open = Applied(ring, Trimming.Trim(ring, "k", new Vec2(0, 20)).Value);
        open.Entities.OfType<ArcEntity>().Count().ShouldBe(2);
        open.Entities.OfType<ArcEntity>().Select(a => a.Radius).Order().ShouldBe([20, 25], 1e-9);
        Holds(open);
    }

    [Fact]
    public void A_round_end_that_is_cut_in_two_keeps_its_offset()
    {
        var slot = Applied(Core.Sketches.Sketch.Empty, Slots.Straight("s", Vec2.Zero, new Vec2(30, 0), 8));
        var ring = Applied(slot, Offsetting.Of(slot, "s.side1", 3, new Vec2(15, -20), "3 mm").Value);
        var split = Applied(ring, Trimming.Split(ring, "s.end1", new Vec2(-8, 0)).Value);
        Pairs(split).Of.Length.ShouldBe(10);
        Freedoms.Of(split).Count.ShouldBe(Freedoms.Of(ring).Count + 1);
        Holds(split);
    }
}
