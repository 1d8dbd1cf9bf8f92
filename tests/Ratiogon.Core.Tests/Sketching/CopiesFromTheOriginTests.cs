using System.Collections.Immutable;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Constraints;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Shapes;
using Ratiogon.Core.Sketches.Solving;
using static Ratiogon.Core.Tests.Solving.Sketches;

namespace Ratiogon.Core.Tests.Sketching;

/// <summary>What hangs on the sketch's own origin is copied like anything else: the copy has a point of its own in its place.</summary>
public class CopiesFromTheOriginTests
{
    private const string Own = "origin";

    public static TheoryData<string, string> All
    {
        get
        {
            var data = new TheoryData<string, string>();
            foreach (var kind in new[] { "circle", "arc", "line", "ellipse", "elliptic-arc", "spline" })
            {
                foreach (var way in new[] { "row", "ring", "mirror", "copy", "paste" })
                {
                    data.Add(kind, way);
                }
            }

            return data;
        }
    }

    [Theory]
    [MemberData(nameof(All))]
    public void A_copy_is_the_original_moved_and_follows_it(string kind, string way)
    {
        var sketch = Drawn(kind);
        var turn = new Similarity(new Vec2(30, 10), Vec2.Zero, Math.PI / 2, 1);
        var shift = new Similarity(Vec2.Zero, new Vec2(70, 15), 0, 1);
        var of = Copying.Whole(sketch, ["k"]);
        var (edit, place) = way switch
        {
            "row" => (Patterns.Grid("g", of, 2, new Vec2(70, 15), 1, Vec2.Zero, "2", "1"), (Func<Vec2, Vec2>)shift.Apply),
            "ring" => (Patterns.Ring("g", sketch, of, "about", 2, 90, "2"), turn.Apply),
            "mirror" => (Mirroring.Of(sketch, ["k"], "axis").Value, p => new Vec2(80 - p.X, p.Y)),
            "copy" => (Moving.Copy(sketch, ["k"], shift).Value, shift.Apply),
            _ => (Clipping.Paste(sketch, Clipping.Cut(sketch, ["k"]).Value, shift).Value, shift.Apply),
        };
        var copied = Applied(sketch, edit);
        Same(copied, place);
        Diagnosis.AllRedundant(copied).ShouldBeEmpty();

        // Copies that follow do so when the original changes.
        if (way is "row" or "ring" or "mirror")
        {
            var other = copied.Entities.OfType<PointEntity>().FirstOrDefault(p => p.Id is "a" or "f");
            var changed = other is not null
                ? Applied(copied, new SketchEdit { Move = ImmutableDictionary<string, Vec2>.Empty.Add(other.Id, other.At * 1.2) })
                : Applied(copied, new SketchEdit { Resize = ImmutableDictionary<string, double>.Empty.Add("k", 17) });
            changed.ShouldNotBe(copied);
            if (way == "row")
            {
                var by = changed.At(copied.Entities.First(e => e.Id.StartsWith("g.1.0", StringComparison.Ordinal)).Id);
                place = p => p + by;
            }

            Same(changed, place);
        }
    }

    [Theory]
    [InlineData("circle")]
    [InlineData("arc")]
    [InlineData("line")]
    [InlineData("spline")]
    public void What_hangs_on_the_origin_is_not_bent_by_a_move_but_turned_about_it_or_refused(string kind)
    {
        var sketch = Drawn(kind);
        Moving.Move(sketch, ["k"], new Similarity(Vec2.Zero, new Vec2(5, 0), 0, 1)).Refusal!.Message.ShouldContain("hangs on the origin");
        Moving.Move(sketch, ["k"], new Similarity(new Vec2(3, 0), Vec2.Zero, 1, 1)).Done.ShouldBeFalse();
        var before = SketchCurve.Of(sketch, sketch.Find("k")!)!.Value;
        var turn = new Similarity(Vec2.Zero, Vec2.Zero, 0.4, 1);
        var turned = Moving.Move(sketch, ["k"], turn).Value is { Move.Count: > 0 } edit ? Applied(sketch, edit) : sketch;
        var after = SketchCurve.Of(turned, turned.Find("k")!)!.Value;
        var at = turn.Apply(before.At(before.End / 3));
        after.At(after.Nearest(at)).DistanceTo(at).ShouldBeLessThan(1e-6);
    }

    [Fact]
    public void A_piece_is_pasted_whole_into_a_sketch_where_its_ids_are_free()
    {
        var sketch = Of(
            [P("p1", 5, 5), P("p2", 25, 5), L("l1", "p1", "p2")],
            [K("k1", "horizontal", "l1")],
            [D("d1", "distance", "20 mm", "l1")]
        );
        var piece = Clipping.Cut(sketch, ["l1"]).Value;
        var pasted = Applied(
            Core.Sketches.Sketch.Empty,
            Clipping.Paste(Core.Sketches.Sketch.Empty, piece, new Similarity(Vec2.Zero, new Vec2(1, 2), 0, 1)).Value
        );
        (pasted.Entities.Length, pasted.Constraints.Length, pasted.Dimensions.Length).ShouldBe((3, 1, 1));
        pasted.At("p2").ShouldBe(new Vec2(26, 7));
    }

    private static Sketch Drawn(string kind)
    {
        var axis = new SketchEntity[] { P("about", 30, 10), P("x", 40, -50), P("y", 40, 50), L("axis", "x", "y") };
        SketchEntity[] own = kind switch
        {
            "circle" => [new CircleEntity("k", Own, 12)],
            "arc" => [P("a", 12, 0), P("b", 0, 12), new ArcEntity("k", Own, "a", "b", 12)],
            "line" => [P("a", 12, 5), L("k", Own, "a")],
            "ellipse" => [P("f", 12, 0), P("s", 0, 6), new EllipseEntity("k", Own, "f", "s")],
            "elliptic-arc" =>
            [
                P("f", 12, 0),
                P("s", 0, 6),
                P("a", 12, 0),
                P("b", 0, 6),
                new EllipticArcEntity("k", Own, "f", "s", "a", "b"),
            ],
            _ =>
            [
                P("a", 9, 6),
                P("b", 15, -3),
                new SplineEntity("k", [Own, "a", "b"], Curves.SpansOf([Vec2.Zero, new(9, 6), new(15, -3)])),
            ],
        };
        return Of([.. axis, .. own], [K("held", "fixed", "about", "x", "y")]);
    }

    /// <summary>The one copy passes where the moved original does.</summary>
    private static void Same(Sketch sketch, Func<Vec2, Vec2> place)
    {
        var original = SketchCurve.Of(sketch, sketch.Find("k")!)!.Value;
        var copy = sketch.Entities.Single(e => e is not PointEntity && e.Id is not ("k" or "axis"));
        var drawn = SketchCurve.Of(sketch, copy)!.Value;
        for (var i = 0; i <= 10; i++)
        {
            var at = place(original.At(original.End * i / 10));
            drawn.At(drawn.Nearest(at)).DistanceTo(at).ShouldBeLessThan(1e-6, $"{i}");
        }

        if (copy is ArcEntity arc)
        {
            sketch.At(arc.From).DistanceTo(sketch.At(arc.Centre)).ShouldBe(arc.Radius, 1e-9);
        }
    }
}
