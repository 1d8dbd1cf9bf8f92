using Ratiogon.Core.Numerics;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Rules;
using Ratiogon.Core.Sketches.Shapes;
using Ratiogon.Core.Sketches.Solving;
using Ratiogon.Core.Sketches.Writing;
using static Ratiogon.Core.Tests.Solving.Sketches;

namespace Ratiogon.Core.Tests.Solving;

public class StructureTests
{
    private static EquationSystem System(Sketch sketch) =>
        SystemReduction.Of(SketchCompiler.Write(sketch, Witness.Readings(sketch), reducing: true));

    [Fact]
    public void A_component_of_the_same_structure_is_decomposed_once()
    {
        var sketch = Triangle(D("d1", "distance", "10 mm", "ab"), D("d2", "distance", "9 mm", "bc"));
        ComponentStructure Of(Sketch s) =>
            System(s) is var system && Components.Of(system).Single() is var (e, u) ? ComponentStructure.Of(system, e, u) : null!;
        var first = Of(sketch);
        Of(sketch with { Dimensions = sketch.Dimensions.SetItem(0, sketch.Dimensions[0] with { Value = "12 mm" }) }).ShouldBeSameAs(first);
        Of(Triangle(D("d1", "distance", "10 mm", "ab"), D("d2", "distance", "9 mm", "bc"), D("d3", "distance", "9 mm", "ca")))
            .ShouldNotBeSameAs(first);
    }

    [Fact]
    public void A_height_that_two_points_share_is_no_part_of_their_distance()
    {
        var sketch = Of(
            [P("a", 0, 3), P("b", 10, 7)],
            [],
            [D("v", "vertical-distance", "4 mm", "a", "b"), D("d", "distance", "11 mm", "a", "b")]
        );
        var system = System(sketch);
        system.Columns.Single().Length.ShouldBe(2, "x of the one and of the other");
        var solved = Solved(sketch);
        solved.At("a").DistanceTo(solved.At("b")).ShouldBe(11, 1e-9);
        (solved.At("b").Y - solved.At("a").Y).ShouldBe(4, 1e-12);
    }

    [Fact]
    public void Rows_let_go_can_be_added_again()
    {
        var space = new RowSpace(3, tracking: true);
        space.Add(0, [0, 1], [1, 1]).ShouldBeNull();
        var rank = space.Rank;
        space.Add(1, [1, 2], [1, -1]).ShouldBeNull();
        space.Add(2, [0, 2], [1, 1])!.Keys.Order().ToArray().ShouldBe([0, 1]);
        space.BackTo(rank);
        space.Rank.ShouldBe(1);
        space.Add(2, [0, 2], [1, 1]).ShouldBeNull("without the second row it is new");
    }

    [Fact]
    public void Arcs_say_of_their_ends_only_what_nothing_else_says()
    {
        var slot = Slots.AlongArc("s", Vec2.Zero, new Vec2(20, 0), new Vec2(0, 20), 3);
        var sketch = new Sketch { Entities = slot.Add, Constraints = slot.Tie };
        var contacts = SketchContacts.Of(sketch);
        IEnumerable<string> Ends(string id) => contacts.OwnEnds((ArcEntity)sketch.Find(id)!);
        Ends("s.outer").Count().ShouldBe(2);
        Ends("s.inner").Count().ShouldBe(1);
        Ends("s.end1").ToArray().ShouldBe(["s.o1"]);
        Ends("s.axis").Count().ShouldBe(2);
        Freedoms.Of(sketch).Count.ShouldBe(6);
        Diagnosis.AllRedundant(sketch).ShouldBeEmpty();
        var pinned = sketch with { Constraints = sketch.Constraints.Add(K("f", "fixed", "s.axis")) };
        SketchContacts.Of(pinned).OwnEnds((ArcEntity)sketch.Find("s.axis")!).Count().ShouldBe(1);
        Freedoms.Of(pinned).Count.ShouldBe(1, "the width");
    }

    [Fact]
    public void A_place_stays_on_its_spline_when_it_is_led_into_the_next_span()
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
            [K("f", "fixed", "s"), K("on", "on-curve", "q", "s")],
            [D("x", "horizontal-distance", "5 mm", "origin", "q")]
        );
        var solved = Solved(sketch);
        foreach (var x in new[] { 12.0, 24, 31, 3 })
        {
            solved = Solved(solved with { Dimensions = [D("x", "horizontal-distance", $"{x} mm", "origin", "q")] });
            var curve = Curves.Of(solved, solved.Find("s")!)!;
            curve.At(curve.Nearest(solved.At("q"))).DistanceTo(solved.At("q")).ShouldBeLessThan(1e-9);
            solved.At("q").X.ShouldBe(x, 1e-9);
        }

        Solve(solved with { Dimensions = [D("x", "horizontal-distance", "45 mm", "origin", "q")] })
            .Solved.ShouldBeFalse("the spline ends before");
    }
}
