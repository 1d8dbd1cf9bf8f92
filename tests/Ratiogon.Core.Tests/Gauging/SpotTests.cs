using Ratiogon.Core.Building;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;
using Shouldly;
using Xunit;

namespace Ratiogon.Core.Tests.Gauging;

/// <summary>Places made on the spot, and directions, on a model of two sketches that lie across each other.</summary>
public sealed class SpotTests
{
    private static readonly Model Model = Made();

    private static Model Made()
    {
        SketchEdit edit = new()
        {
            Add =
            [
                new PointEntity("a", new Vec2(0, 0)),
                new PointEntity("b", new Vec2(40, 0)),
                new LineEntity("l", "a", "b"),
                new PointEntity("m", new Vec2(10, 20)),
                new CircleEntity("c", "m", 5),
                new PointEntity("d", new Vec2(30, -10)),
                new PointEntity("e", new Vec2(30, 10)),
                new LineEntity("k", "d", "e"),
                new PointEntity("f", new Vec2(10, 5)),
                new PointEntity("g", new Vec2(60, 5)),
                new LineEntity("p", "f", "g"),
            ],
        };
        var flat = new SketchStep("s", 10, "Flat", World.Xy, new Sketch { Entities = edit.Add });
        var upright = new SketchStep(
            "u",
            20,
            "Upright",
            World.Xz,
            new Sketch
            {
                Entities = [new PointEntity("a", new Vec2(20, -5)), new PointEntity("b", new Vec2(20, 25)), new LineEntity("l", "a", "b")],
            }
        );
        var model = new Model(new Part { Steps = [flat, upright] });
        model.Add(flat, flat.Sketch, Frame.World);
        model.Add(upright, upright.Sketch, World.Plane(World.Xz)!.Value);
        return model;
    }

    private static Vec3 At(string text)
    {
        var found = Spot.Parse(text).Then(s => s.In(Model));
        found.Refusal?.Message.ShouldBeNull();
        return found.Value.Point!.Value;
    }

    private static string Refused(string? text) => Spot.Parse(text).Then(s => s.In(Model)).Refusal.ShouldNotBeNull().Message;

    [Theory]
    [InlineData("s/l@start", 0, 0, 0)]
    [InlineData("s/l@end", 40, 0, 0)]
    [InlineData("s/l@middle", 20, 0, 0)]
    [InlineData("s/l@0.25", 10, 0, 0)]
    [InlineData("s/l@0", 0, 0, 0)]
    [InlineData("s/l@1", 40, 0, 0)]
    [InlineData("s/c@centre", 10, 20, 0)]
    [InlineData("u/l@end", 20, 0, 25)]
    [InlineData("s/l & s/k@crossing", 30, 0, 0)]
    [InlineData("s/l & u/l@crossing", 20, 0, 0)]
    [InlineData("u/l & world/xy@crossing", 20, 0, 0)]
    [InlineData("world/xy & u/l@crossing", 20, 0, 0)]
    [InlineData("s/a & s/c@halfway", 5, 10, 0)]
    public void Places_on_one_thing_and_on_two(string text, double x, double y, double z) =>
        At(text).DistanceTo(new Vec3(x, y, z)).ShouldBeLessThan(1e-9);

    [Fact]
    public void A_crossing_of_lines_that_pass_each_other_lies_half_way_between()
    {
        // The upright line meets the plane of p five away from it.
        At("s/p & u/l@crossing").DistanceTo(new Vec3(20, 2.5, 0)).ShouldBeLessThan(1e-9);
    }

    [Fact]
    public void A_crossing_of_a_line_and_a_circle_is_a_place_on_both()
    {
        var near = At("s/c & s/k@crossing");
        near.Z.ShouldBe(0);
        near.DistanceTo(new Vec3(10, 20, 0)).ShouldBeInRange(4.99, 20);
    }

    [Theory]
    [InlineData(null, "Nothing is picked")]
    [InlineData("  ", "Nothing is picked")]
    [InlineData("s/l & s/k", "say @crossing or @halfway")]
    [InlineData("s/l & s/k & s/p@crossing", "made of 3 things")]
    [InlineData("s/l@nowhere", "is no place on a thing")]
    [InlineData("s/l & s/k@middle", "is no place on two things")]
    [InlineData("s/l@1.01", "from 0 to 1")]
    [InlineData("s/c@start", "has no start")]
    [InlineData("s/a@middle", "has no middle")]
    [InlineData("s/l & s/p@crossing", "are parallel")]
    [InlineData("s/l & world/xz@crossing", "are parallel")]
    [InlineData("s/a & s/b@crossing", "make no crossing")]
    [InlineData("s/l & s/k@halfway", "are not both places")]
    [InlineData("s/gone@start", "no longer in sketch Flat")]
    public void What_cannot_be_a_place_is_refused_with_its_reason(string? text, string reason) => Refused(text).ShouldContain(reason);

    [Theory]
    [InlineData("s/l@0.25")]
    [InlineData("s/l & s/k@crossing")]
    [InlineData("a/side/[x&y]^b/end@middle")]
    [InlineData("plain/name")]
    public void Text_goes_in_and_out_the_same(string text) => Spot.Parse(text).Value.ToString().ShouldBe(text);

    [Fact]
    public void Every_thing_says_which_places_it_has()
    {
        Spot.On(Model.Find("s/l").Value).ShouldBe(["middle", "start", "end"]);
        Spot.On(Model.Find("s/c").Value).ShouldBe(["centre", "middle"]);
        Spot.On(Model.Find("s/a").Value).ShouldBeEmpty();
    }

    [Theory]
    [InlineData("s/l", 1, 0, 0)]
    [InlineData("u/l", 0, 0, 1)]
    [InlineData("s/c", 0, 0, 1)]
    [InlineData("world/xz", 0, -1, 0)]
    [InlineData("0, 3, 0", 0, 1, 0)]
    [InlineData("1 0 0", 1, 0, 0)]
    [InlineData("s/a & s/b", 1, 0, 0)]
    [InlineData("s/b & s/a", -1, 0, 0)]
    [InlineData("s/l@end & u/l@end", -0.6246950475544243, 0, 0.7808688094430304)]
    public void Directions_of_every_kind(string text, double x, double y, double z) =>
        Way.Of(Model, text).Value.Along.DistanceTo(new Vec3(x, y, z)).ShouldBeLessThan(1e-9);

    [Theory]
    [InlineData("0 0 0", "points nowhere")]
    [InlineData("s/a & s/a", "lie in one place")]
    [InlineData("s/a & s/l", "are not both places")]
    [InlineData("s/a", "has no direction")]
    [InlineData("nothing", "is gone")]
    public void What_has_no_direction_is_refused(string text, string reason) =>
        Way.Of(Model, text).Refusal.ShouldNotBeNull().Message.ShouldContain(reason);
}
