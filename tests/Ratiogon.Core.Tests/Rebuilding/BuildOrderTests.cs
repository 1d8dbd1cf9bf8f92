using Ratiogon.Core.Building;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;

namespace Ratiogon.Core.Tests.Rebuilding;

/// <summary>Which steps wait for which, and which bodies they see.</summary>
public class BuildOrderTests
{
    private static SketchStep On(string id, string on = World.Xy) => new(id, 0, "", on, Sketch.Empty);

    private static ExtrudeStep Own(string id, string sketch) => new(id, 0, "", sketch) { Operation = FormOperation.Body };

    private static FilletStep Fillet(string id, string of) => new(id, 0, "", [$"{of}/end^{of}/side/r.left"]);

    /// <summary>Two bodies, each with a sketch of its own.</summary>
    private static Step[] Two => [On("s"), Own("a", "s"), On("t"), Own("b", "t")];

    private static (Part Part, BuildOrder Order) Of(params Step[] steps)
    {
        var part = new Part { Steps = [.. steps.Select((s, i) => s with { Number = 10 * (i + 1) })] };
        return (part, BuildOrder.Of(part));
    }

    private static void ShouldWait((Part Part, BuildOrder Order) of, string step, params string[] expected)
    {
        int At(string id) => of.Part.Steps.Select((s, i) => (s.Id, i)).First(s => s.Id == id).i;
        of.Part.Steps.Where((_, i) => of.Order.Next[i].Contains(At(step)))
            .Select(s => s.Id)
            .ShouldBe(expected, ignoreOrder: true, $"{step} waits for");
        of.Order.Before[At(step)].ShouldBe(expected.Length);
    }

    private static bool Sees((Part Part, BuildOrder Order) of, string step, string body) =>
        of.Order.Sees(of.Part.Steps.Select((s, i) => (s.Id, i)).First(s => s.Id == step).i, body);

    [Fact]
    public void Bodies_of_their_own_wait_for_their_sketches_only()
    {
        var of = Of([.. Two, Fillet("fa", "a"), Fillet("fb", "b"), Fillet("fa2", "a")]);
        ShouldWait(of, "a", "s");
        ShouldWait(of, "b", "t");
        ShouldWait(of, "fa", "a");
        ShouldWait(of, "fb", "b");
        ShouldWait(of, "fa2", "a", "fa");
        Sees(of, "fa2", "a").ShouldBeTrue();
        Sees(of, "fa2", "b").ShouldBeFalse();
        Sees(of, "b", "a").ShouldBeFalse();
    }

    [Fact]
    public void What_meets_any_body_waits_for_all_and_all_wait_for_it()
    {
        var of = Of([
            .. Two,
            On("u"),
            new ExtrudeStep("slot", 0, "", "u") { Operation = FormOperation.Cut },
            Fillet("fa", "a"),
            Fillet("fb", "b"),
        ]);
        ShouldWait(of, "slot", "u", "a", "b");
        Sees(of, "slot", "a").ShouldBeTrue();
        Sees(of, "slot", "b").ShouldBeTrue();

        // It may have put faces of one onto the other: they are kin.
        ShouldWait(of, "fa", "a", "slot");
        ShouldWait(of, "fb", "b", "fa");
        Sees(of, "fa", "b").ShouldBeTrue();
    }

    [Fact]
    public void A_cut_that_names_its_body_leaves_the_other_alone()
    {
        var of = Of([
            .. Two,
            On("u"),
            new ExtrudeStep("slot", 0, "", "u") { Operation = FormOperation.Cut, Bodies = ["a"] },
            Fillet("fb", "b"),
            Fillet("fslot", "slot"),
        ]);
        ShouldWait(of, "slot", "u", "a");
        ShouldWait(of, "fb", "b");
        ShouldWait(of, "fslot", "slot");
        Sees(of, "fslot", "a").ShouldBeTrue("the walls of the slot are on it");
        Sees(of, "fslot", "b").ShouldBeFalse();
    }

    [Theory]
    [InlineData(ExtrudeExtent.ToNext, true)]
    [InlineData(ExtrudeExtent.To, true)]
    [InlineData(ExtrudeExtent.Length, false)]
    public void An_extrude_that_ends_where_the_material_is_looks_at_all_of_it(ExtrudeExtent extent, bool waits)
    {
        var of = Of([.. Two, On("u"), Own("c", "u") with { Extent = extent, To = "world/xy" }]);
        ShouldWait(of, "c", waits ? ["u", "a", "b"] : ["u"]);
    }

    [Fact]
    public void A_form_that_goes_to_a_face_sees_its_body_but_leaves_it_apart()
    {
        var of = Of([.. Two, On("u", "a/end"), Own("c", "u") with { From = "b/end" }, Fillet("fc", "c"), Fillet("fb", "b")]);
        ShouldWait(of, "u", "a");
        ShouldWait(of, "c", "u", "b");
        Sees(of, "c", "b").ShouldBeTrue();
        Sees(of, "c", "a").ShouldBeFalse("the sketch on it is all that was needed");
        ShouldWait(of, "fc", "c");
        ShouldWait(of, "fb", "b", "c");
    }

    [Fact]
    public void Sketches_on_a_face_take_it_before_it_changes()
    {
        var of = Of([.. Two, On("u", "a/end"), Fillet("fa", "a")]);
        ShouldWait(of, "fa", "a", "u");
    }

    [Fact]
    public void Copies_follow_what_they_repeat()
    {
        var apart = Of([
            .. Two,
            new MirrorStep("m", 0, "", ["a"], World.Yz) { Operation = FormOperation.Body },
            Fillet("fb", "b"),
            Fillet("fa", "a"),
        ]);
        ShouldWait(apart, "m", "a");
        ShouldWait(apart, "fb", "b");
        ShouldWait(apart, "fa", "a", "m");

        // A cut of whatever it meets meets anything elsewhere, too; and so does a copy of the copy.
        var loose = Of([
            .. Two,
            On("u"),
            new ExtrudeStep("slot", 0, "", "u") { Operation = FormOperation.Cut },
            new MirrorStep("m", 0, "", ["slot"], World.Yz),
            new MirrorStep("n", 0, "", ["m"], World.Xz),
        ]);
        Sees(loose, "m", "b").ShouldBeTrue();
        Sees(loose, "n", "b").ShouldBeTrue();
    }

    [Fact]
    public void Bodies_that_were_combined_are_kin_and_pieces_of_a_split_too()
    {
        var of = Of([
            .. Two,
            On("u"),
            Own("c", "u"),
            new CombineStep("ab", 0, "", "a", ["b"]),
            Fillet("fb", "b"),
            Fillet("fc", "c"),
            new SplitStep("two", 0, "", World.Yz) { Body = "c" },
            Fillet("ftwo", "two"),
        ]);
        ShouldWait(of, "ab", "a", "b");
        ShouldWait(of, "fb", "b", "ab");
        Sees(of, "fb", "a").ShouldBeTrue("what was on b is on a now");
        ShouldWait(of, "fc", "c");
        Sees(of, "ftwo", "c").ShouldBeTrue();
        Sees(of, "ftwo", "a").ShouldBeFalse();
    }

    [Fact]
    public void Whole_readings_wait_for_every_body_and_see_none_that_comes_later()
    {
        var of = Of([
            .. Two[..2],
            new ReadingStep("v", 0, "v", "volume", []),
            .. Two[2..],
            new ReadingStep("f", 0, "", "face-area", ["b/end"]),
        ]);
        ShouldWait(of, "v", "a");
        Sees(of, "v", "b").ShouldBeFalse();
        ShouldWait(of, "b", "t");
        ShouldWait(of, "f", "b");
    }

    [Fact]
    public void Formulas_wait_for_the_reading_they_use_and_readings_for_those_that_used_the_name_before()
    {
        var of = Of([
            On("s"),
            Own("early", "s") with
            {
                Length = "v",
            },
            new ReadingStep("r", 0, "v", "volume", ["early"]),
            Own("late", "s") with
            {
                Length = "v / 2",
            },
        ]);
        ShouldWait(of, "early", "s");
        ShouldWait(of, "r", "early");
        ShouldWait(of, "late", "s", "r");
        ShouldWait(
            Of(On("s"), Own("a", "s") with { Length = "v" }, On("t"), Own("b", "t"), new ReadingStep("r", 0, "v", "volume", ["b"])),
            "r",
            "b",
            "a"
        );
    }

    [Fact]
    public void What_is_gone_may_have_been_anywhere_and_what_is_left_out_holds_nothing_up()
    {
        var gone = Of([.. Two, Fillet("f", "nothing")]);
        ShouldWait(gone, "f", "a", "b");
        var left = Of([
            .. Two,
            new ExtrudeStep("slot", 0, "", "s") { Operation = FormOperation.Cut, Suppressed = true },
            Fillet("fb", "b"),
        ]);
        ShouldWait(left, "fb", "b");
        Sees(left, "slot", "a").ShouldBeFalse();
    }

    [Fact]
    public void A_section_cuts_all_bodies_before_it()
    {
        var cut = On("u") with { Copies = [new SketchCopy(CopyHow.Section, "a", [])] };
        ShouldWait(Of([.. Two, cut]), "u", "a", "b");
        ShouldWait(Of([.. Two, cut with { Copies = [cut.Copies[0] with { How = CopyHow.Copy }] }]), "u", "a");
    }

    [Fact]
    public void Nothing_waits_for_itself_or_for_what_comes_later()
    {
        var (part, order) = Of([new MirrorStep("m", 0, "", ["m", "b"], World.Yz), .. Two, On("late", "later/end"), Own("later", "t")]);
        for (var i = 0; i < part.Steps.Length; i++)
        {
            order.Next[i].ShouldAllBe(n => n > i);
        }

        ShouldWait((part, order), "later", "t", "late");
    }
}
