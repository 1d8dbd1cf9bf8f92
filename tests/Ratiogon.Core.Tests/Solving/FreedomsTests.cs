using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Shapes;
using Ratiogon.Core.Sketches.Solving;
using static Ratiogon.Core.Tests.Solving.Sketches;

namespace Ratiogon.Core.Tests.Solving;

public class FreedomsTests
{
    private static Sketch Rectangle(params SketchDimension[] sizes)
    {
        var edit = ShapeCatalog.RectangleByCentre("r", Vec2.Zero, new Vec2(40, 25)).With(ShapeCatalog.Placed("r", "r.centre", Vec2.Zero));
        return Edit(Sketch.Empty, edit with { Size = [.. edit.Size, .. sizes] }).Value;
    }

    [Fact]
    public void Each_way_in_which_ends_of_lines_can_move_is_said_in_other_words()
    {
        var chain = Of([P("a", 0, 0), P("b", 40, 5), P("c", 60, 30), L("ab", "a", "b"), L("bc", "b", "c")], [K("held", "fixed", "a")]);
        var words = Freedoms.Of(chain).Motions.Select(m => m.Words).ToList();
        words.Count.ShouldBe(4);
        words.ShouldBeUnique();
        words.ShouldContain("the end of line ab slides along x");
        words.ShouldContain("the end of line bc slides along y");
    }

    [Fact]
    public void A_free_point_has_two_and_a_circle_three()
    {
        var freedoms = Freedoms.Of(Of([P("p", 1, 2), P("c", 5, 5), new CircleEntity("k", "c", 3)]));
        freedoms.Count.ShouldBe(5);
        freedoms.OfEntity["p"].ShouldBe(2);
        freedoms.OfEntity["k"].ShouldBe(3);
    }

    [Fact]
    public void Sizes_take_freedoms_one_by_one_until_everything_is_set()
    {
        Freedoms.Of(Rectangle()).Count.ShouldBe(2);
        Freedoms.Of(Rectangle(ShapeCatalog.Width("r", "80 mm"))).Count.ShouldBe(1);
        var set = Freedoms.Of(Rectangle(ShapeCatalog.Width("r", "80 mm"), ShapeCatalog.Height("r", "50 mm")));
        set.Count.ShouldBe(0);
        set.OfEntity.Values.ShouldAllBe(n => n == 0);
    }

    [Fact]
    public void Only_what_can_move_is_said_to()
    {
        var freedoms = Freedoms.Of(
            Of(
                [P("a", 0, 0), P("b", 10, 0), P("c", 10, 7), L("ab", "a", "b"), L("bc", "b", "c")],
                [K("f", "fixed", "a", "b"), K("v", "vertical", "bc")]
            )
        );
        freedoms.Count.ShouldBe(1);
        freedoms.OfEntity["ab"].ShouldBe(0);
        freedoms.OfEntity["c"].ShouldBe(1);
        freedoms.Motions[0].Words.ShouldBe("the end of line bc slides along y");
        freedoms.Motions[0].Moves["c"].ShouldBe(new Vec2(0, 1));
    }

    [Fact]
    public void Motions_are_told_in_words()
    {
        var freedoms = Freedoms.Of(Of([P("c", 0, 0), new CircleEntity("k", "c", 3)], [K("f", "coincident", "c", "origin")]));
        freedoms.Motions.Single().Words.ShouldBe("circle k grows");
    }

    [Fact]
    public void A_linkage_counts_by_rank()
    {
        // Three bars between two fixed pivots: the four-bar linkage has one freedom.
        var sketch = Of(
            [P("o", 0, 0), P("a", 0, 10), P("b", 20, 14), P("q", 25, 0)],
            [K("f", "fixed", "o", "q")],
            [D("d1", "distance", "10 mm", "o", "a"), D("d2", "distance", "20.4 mm", "a", "b"), D("d3", "distance", "15 mm", "b", "q")]
        );
        var freedoms = Freedoms.Of(Solved(sketch));
        freedoms.Count.ShouldBe(1);
        freedoms.OfEntity["a"].ShouldBe(1);
    }

    [Fact]
    public void A_stretched_linkage_is_counted_at_a_witness()
    {
        // Two bars stretched straight between their pivots: the drawn position is rigid to first order, though the
        // constraint by itself would leave the joint free to move across only to second order.
        var sketch = Of(
            [P("o", 0, 0), P("a", 10, 0), P("q", 20, 0)],
            [K("f", "fixed", "o", "q")],
            [D("d1", "distance", "10 mm", "o", "a"), D("d2", "distance", "10 mm", "a", "q")]
        );
        Freedoms.Of(Solved(sketch)).Count.ShouldBe(0);
    }

    [Fact]
    public void A_theorem_is_not_mistaken_for_a_constraint()
    {
        // The midpoints of a quadrilateral always form a parallelogram: making them parallel says nothing.
        SketchEntity[] entities =
        [
            P("a", 0, 0),
            P("b", 30, 3),
            P("c", 35, 28),
            P("d", 4, 20),
            P("m1", 15, 1.5),
            P("m2", 32.5, 15.5),
            P("m3", 19.5, 24),
            P("m4", 2, 10),
            L("s", "m1", "m2"),
            L("t", "m4", "m3"),
        ];
        SketchConstraint[] ties =
        [
            K("k1", "midpoint", "m1", "a", "b"),
            K("k2", "midpoint", "m2", "b", "c"),
            K("k3", "midpoint", "m3", "c", "d"),
            K("k4", "midpoint", "m4", "d", "a"),
        ];
        var before = Freedoms.Of(Of(entities, ties)).Count;
        before.ShouldBe(8);
        var refused = Edit(Of(entities, ties), new SketchEdit { Tie = [K("k5", "parallel", "s", "t")] });
        refused.Refusal!.Code.ShouldBe("sketch.redundant");
        refused.Refusal.Involved.ShouldBe(["k1", "k2", "k3", "k4"], ignoreOrder: true);
    }

    [Fact]
    public void Large_sketches_are_counted_by_the_sparse_way_and_agree()
    {
        var freedoms = Freedoms.Of(Solved(Chain(70, placed: false)));
        freedoms.Count.ShouldBe(2);
        freedoms.OfEntity["r69.top"].ShouldBe(2);
    }
}
