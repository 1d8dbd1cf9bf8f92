using Ratiogon.Core.Demo;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;

namespace Ratiogon.Core.Tests.Sketching;

/// <summary>What the entities of a sketch are called.</summary>
public class EntityWordsTests
{
    private static Sketch Drawn(params SketchEntity[] entities) => Sketch.Empty with { Entities = [.. entities] };

    [Fact]
    public void By_what_they_are_and_how_large()
    {
        var words = EntityWords.Of(
            Drawn(
                new PointEntity("p1", new(0, 0)),
                new PointEntity("p2", new(40, 0)),
                new PointEntity("p3", new(40, 30)),
                new LineEntity("l1", "p1", "p2"),
                new LineEntity("l2", "p2", "p3") { Construction = true },
                new PointEntity("p4", new(9, 9)),
                new CircleEntity("c1", "p4", 3.7),
                new PointEntity("p5", new(1, 1))
            )
        );
        words["l1"].ShouldBe("line 40");
        words["l2"].ShouldBe("construction line 30");
        words["c1"].ShouldBe("circle ⌀ 7.4");
        words["p4"].ShouldBe("centre of circle ⌀ 7.4");
        words["p1"].ShouldBe("end of line 40");
        words["p2"].ShouldBe("joint of line 40 and construction line 30");
        words["p5"].ShouldBe("point");
        words["origin"].ShouldBe("origin");
        words["x-axis"].ShouldBe("x axis");
        words["nothing"].ShouldBe("nothing");
    }

    [Fact]
    public void By_the_name_that_somebody_gave()
    {
        var words = EntityWords.Of(
            Drawn(new PointEntity("pivot", new(0, 0)), new PointEntity("p2", new(40, 0)), new LineEntity("hinge", "pivot", "p2"))
        );
        (words["hinge"], words["pivot"], words["p2"]).ShouldBe(("hinge", "pivot", "end of hinge"));
    }

    [Fact]
    public void By_where_they_are_among_their_like()
    {
        var words = EntityWords.Of(
            Drawn([
                .. new[] { (0, 0), (50, 0), (50, 30), (0, 30) }.SelectMany(
                    (at, i) =>
                        new SketchEntity[] { new PointEntity($"p{i}", new(at.Item1, at.Item2)), new CircleEntity($"c{i}", $"p{i}", 2.5) }
                ),
            ])
        );
        words["c3"].ShouldBe("upper left circle ⌀ 5");
        words["p1"].ShouldBe("centre of lower right circle ⌀ 5");
        EntityWords
            .Of(Drawn(new PointEntity("p", new(0, 0)), new CircleEntity("c1", "p", 25.4)), LengthUnit.Inch)["c1"]
            .ShouldBe("circle ⌀ 2");
    }

    /// <summary>In every sketch of the demo parts: words of their own for all, and no id that the program made in any of them.</summary>
    [Fact]
    public void Of_all_demo_parts_without_a_made_id()
    {
        foreach (var sketch in DemoParts.All.SelectMany(d => d.Build().Steps).OfType<SketchStep>())
        {
            var words = EntityWords.Of(sketch.Sketch);
            var all = sketch.Sketch.Entities.Select(e => words[e.Id]).ToList();
            all.Distinct().Count().ShouldBe(all.Count, sketch.Name);
            all.Where(w => w.Split(' ', '(', ')').Any(EntityWords.IsMade)).ShouldBeEmpty(sketch.Name);
        }
    }
}
