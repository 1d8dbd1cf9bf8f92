using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Drawing;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Solving;
using Ratiogon.Core.Tests.Tools;
using Ratiogon.Core.Tools;
using Ratiogon.Core.Tools.Picks;
using static Ratiogon.Core.Tests.Solving.Sketches;

namespace Ratiogon.Core.Tests.Sketching;

/// <summary>Finishing, ways out, offers with reasons, what is said of a profile.</summary>
public class ExplainingTests : ToolDriver
{
    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public void Finish_it_sets_whatever_is_drawn(int kind)
    {
        switch (kind)
        {
            case 1:
                Take("rectangle");
                Click(10, 10);
                Click(50.3, 30.2);
                Take("circle");
                Click(21, 18);
                Click(26.1, 18);
                Take("circle");
                Click(40, 21);
                Do(Core.Tools.InputKind.Click, 45.1, 21.0);
                break;
            case 2:
                Take("slot", "arc-centre");
                Click(3, 2);
                Click(33, 5);
                Click(10, 30);
                Click(12, 36);
                break;
            default:
                Take("spline");
                Click(3, 2);
                Click(12, 9);
                Click(25, 4);
                Enter(25, 4);
                Take("ellipse");
                Click(50, 50);
                Click(70, 53);
                Click(50, 60);
                break;
        }

        var proposals = FinishIt.Propose(Drawn, LengthUnit.Millimetre);
        proposals.Length.ShouldBeInRange(1, Free());
        Edit(
            new SketchEdit
            {
                Tie = [.. proposals.Select(p => p.Tie).OfType<SketchConstraint>()],
                Size = [.. proposals.Select(p => p.Size).OfType<SketchDimension>()],
            }
        );
        Free().ShouldBe(0);
        FinishIt.Propose(Drawn, LengthUnit.Millimetre).ShouldBeEmpty();
    }

    [Fact]
    public void It_proposes_round_values_and_what_is_equal_already()
    {
        Take("circle");
        Do(Core.Tools.InputKind.Click, 20.02, 9.98, suppress: true);
        Do(Core.Tools.InputKind.Click, 26.0, 9.98, suppress: true);
        Do(Core.Tools.InputKind.Click, 50, 31, suppress: true);
        Do(Core.Tools.InputKind.Click, 50 + (26.0 - 20.02), 31, suppress: true);
        var words = FinishIt.Propose(Drawn, LengthUnit.Millimetre).Select(p => p.Words).ToList();
        words.ShouldContain(w => w.StartsWith("equal: the ", StringComparison.Ordinal));
        words.ShouldContain(w =>
            w.StartsWith("diameter 12 mm of the ", StringComparison.Ordinal) && w.EndsWith("(now 11.96 mm)", StringComparison.Ordinal)
        );
        words.ShouldAllBe(w => !w.Contains("c1", StringComparison.Ordinal) && !w.Contains("c2", StringComparison.Ordinal));
    }

    [Theory]
    [InlineData(41.97, 42)]
    [InlineData(7.48, 7.5)]
    [InlineData(0.805, 0.8)]
    [InlineData(3.337, 3.3)]
    [InlineData(0.0337, 0.03)]
    public void Values_are_rounded_as_a_drawing_would(double measured, double proposed) =>
        FinishIt.Rounded(measured).ShouldBe(proposed, 1e-9);

    [Fact]
    public void Every_way_out_of_a_clash_works_and_shows_what_it_leads_to()
    {
        Take("rectangle-centre");
        Click(0, 0);
        Type("width", "80");
        Type("height", "50");
        Enter();
        var command = new EditSketch("s", new SketchEdit { Size = [D("d9", "distance", "100 mm", "r1.p1", "r1.p3")] });
        var refusal = command.Apply(Part).Refusal!;
        refusal.Code.ShouldBe("sketch.clash");
        var ways = WaysOut.Of(Part, command, refusal);
        ways.Select(w => w.Words).ShouldContain(w => w.StartsWith("keep this size as a reference", StringComparison.Ordinal));
        var change = ways.Single(w => w.Words.StartsWith("change distance 80 mm", StringComparison.Ordinal));
        change.Words.ShouldEndWith($"to {Math.Sqrt(7500):0.#########} mm, this one only reads");
        foreach (var way in ways)
        {
            var after = way.Command.Apply(Part);
            after.Done.ShouldBeTrue(way.Words);
            ((SketchStep)after.Value.Find("s")!).Sketch.Equals(way.After).ShouldBeTrue();
        }
    }

    [Fact]
    public void A_size_that_cannot_be_set_names_the_smallest_set_and_its_ways_out()
    {
        Edit(
            new SketchEdit
            {
                Add =
                [
                    P("a", 0, 0),
                    P("b", 30, 1),
                    P("c", 12, 20),
                    L("ab", "a", "b"),
                    L("bc", "b", "c"),
                    L("ca", "c", "a"),
                    P("z", 90, 0),
                    P("y", 99, 9),
                    L("zy", "z", "y"),
                ],
            }
        );
        Size("distance", "30 mm", "ab");
        Size("distance", "25 mm", "bc");
        Size("distance", "20 mm", "ca");
        Size("distance", "15 mm", "zy");
        var command = new SetSize("s", "d1", "50 mm");
        var refusal = command.Apply(Part).Refusal!;
        refusal.Involved.Order().ToArray().ShouldBe(["d2", "d3"]);
        var ways = WaysOut.Of(Part, command, refusal);
        ways.ShouldContain(w => w.Words.StartsWith("make distance 25 mm", StringComparison.Ordinal));
        ways.ShouldAllBe(w => w.Command.Apply(Part).Done);
    }

    [Fact]
    public void What_cannot_be_tied_is_offered_with_its_reason()
    {
        Take("line");
        Click(3, 4);
        Click(20, 11);
        Do(Core.Tools.InputKind.Cancel);
        var offers = Offers.InSketch(Part, (SketchStep)Part.Find("s")!, ["l1"]);
        offers.Single(o => o.Id == "tie-parallel").WhyNot!.ShouldContain("two or more lines");
        offers.Single(o => o.Id == "tie-horizontal").WhyNot.ShouldBeNull();
    }

    [Fact]
    public void Removing_shows_what_hangs_on_it_first()
    {
        Take("rectangle");
        Click(3, 4);
        Click(20, 11);
        var remove = Offers.InSketch(Part, (SketchStep)Part.Find("s")!, ["r1.p1"]).Single(o => o.Id == "remove");
        remove.Touches.ShouldContain("bottom side of the rectangle");
        remove.Touches.ShouldContain("left side of the rectangle");
        remove.Touches.ShouldContain(t => t == "horizontal: the bottom side of the rectangle");
        Offers
            .InSketch(Part, (SketchStep)Part.Find("s")!, ["r1.level1"])
            .Single(o => o.Id == "remove")
            .Command!.Apply(Part)
            .Done.ShouldBeTrue();
    }

    [Fact]
    public void Gaps_crossings_and_overlaps_are_shown_where_they_are_and_a_gap_is_closed_by_one_press()
    {
        Edit(
            new SketchEdit
            {
                Add =
                [
                    P("a", 0, 0),
                    P("b", 40, 0),
                    P("c", 40, 30),
                    P("d", 0.3, 0.4),
                    L("ab", "a", "b"),
                    L("bc", "b", "c"),
                    L("cd", "c", "d"),
                    P("e", 20, -10),
                    P("f", 21, 40),
                    L("ef", "e", "f"),
                    P("g", 30, 0),
                    P("h", 60, 0),
                    L("gh", "g", "h"),
                ],
            }
        );
        var issues = SketchView.Of(Drawn, LengthUnit.Millimetre).Issues;
        var gap = issues.Single(i => i.Kind == "gap");
        gap.Words.ShouldContain("0.5 mm");
        issues.Count(i => i.Kind == "crossing").ShouldBe(2);
        issues.Single(i => i.Kind == "overlap").At.DistanceTo(new Vec2(35, 0)).ShouldBeLessThan(1e-9);
        issues.Count(i => i.Kind == "open").ShouldBe(3);
        Edit(gap.Mend!);
        SketchView.Of(Drawn, LengthUnit.Millimetre).Issues.ShouldNotContain(i => i.Kind == "gap");
    }

    [Fact]
    public void Texts_of_dimensions_keep_off_the_geometry_and_off_each_other()
    {
        Take("rectangle");
        Click(3, 4);
        Click(63, 44);
        Take("circle");
        Click(20, 20);
        Click(29, 20);
        foreach (
            var (kind, of) in new[]
            {
                ("distance", new[] { "r1.bottom" }),
                ("distance", ["r1.right"]),
                ("diameter", ["c1"]),
                ("distance", ["p1", "r1.left"]),
                ("distance", ["p1", "r1.bottom"]),
            }
        )
        {
            Size(kind, Units.Show(Quantity.Length(Measured(kind, of))), of);
        }

        var view = SketchView.Of(Drawn, LengthUnit.Millimetre);
        var places = view.Dimensions.Select(d => d.Drawing.TextAt).ToList();
        places.Distinct().Count().ShouldBe(5);
        var room = new TextRoom(Drawn, 60);
        foreach (var d in view.Dimensions)
        {
            room.IsClear(d.Drawing.TextAt, d.Text).ShouldBeTrue(d.Id);
            room.Take(d.Drawing.TextAt, d.Text);
        }
    }

    [Fact]
    public void Moving_a_text_changes_nothing_else()
    {
        Take("rectangle");
        Click(3, 4);
        Click(63, 44);
        Size("distance", "60 mm", "r1.bottom");
        var before = Drawn;
        Edit(new SketchEdit { Size = [before.Dimensions[0] with { TextAt = new Vec2(7, 77) }] });
        Drawn.Entities.ShouldBe(before.Entities);
        SketchView.Of(Drawn, LengthUnit.Millimetre).Dimensions[0].Drawing.TextAt.ShouldBe(new Vec2(7, 77));
    }
}
