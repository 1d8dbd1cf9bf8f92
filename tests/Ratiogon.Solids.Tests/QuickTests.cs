using System.Globalization;
using Ratiogon.Core.Building;
using Ratiogon.Core.Demo;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Solids.Tests;

/// <summary>Pictures of a moment while a size changes: they look like the real thing, say what they are, and leave nothing
/// behind.</summary>
public sealed class QuickTests
{
    public static TheoryData<string> Demo => [.. DemoParts.All.Select(p => p.File)];

    private static Part Stepped(Part part, FormStep form, ValueField field, double share)
    {
        var formula = field.Get(form)!;
        var now = field.Kind == Dimension.None ? formula : string.Create(CultureInfo.InvariantCulture, $"({formula}) * {share}");
        return part.With(field.Set(form, now)) with { StopLine = form.Number };
    }

    [Theory]
    [MemberData(nameof(Demo))]
    public void Whatever_was_shown_for_a_moment_the_part_comes_out_as_from_cold(string file)
    {
        var part = DemoParts.All.Single(p => p.File == file).Build();
        using var rebuilder = new Rebuilder(new NativeKernel());
        rebuilder.Rebuild(part);
        foreach (var form in part.Steps.OfType<FormStep>())
        {
            foreach (var field in form.Fields.OfType<ValueField>().Where(f => f.When(form) && f.Get(form) is { Length: > 0 }).Take(2))
            {
                rebuilder.Quick(Stepped(part, form, field, 1.03));
                var stepped = Stepped(part, form, field, 1.01);
                var quick = rebuilder.Quick(stepped);
                var warm = rebuilder.Rebuild(stepped);
                using var other = new Rebuilder(new NativeKernel());
                var cold = other.Rebuild(stepped);

                var what = $"{form.Name} {field.Label}";
                warm.Rough.ShouldBeFalse(what);
                warm.Steps.Select(s => (s.State, s.Message)).ShouldBe(cold.Steps.Select(s => (s.State, s.Message)), what);
                quick.Step(form.Id)!.State.ShouldBe(cold.Step(form.Id)!.State, what);
                warm.Bodies.Select(b => b.Key).ShouldBe(cold.Bodies.Select(b => b.Key), what);
                foreach (var (a, b, q) in warm.Bodies.Zip(cold.Bodies, quick.Bodies))
                {
                    a.Mass.Volume.ShouldBe(b.Mass.Volume, b.Mass.Volume * 1e-12, what);
                    a.Names.Faces.ShouldBe(b.Names.Faces, what);
                    a.Topology.Edges.Select(e => e.Length).ShouldBe(b.Topology.Edges.Select(e => e.Length), what);
                    ((double)a.Mesh!.Triangles.Length / b.Mesh!.Triangles.Length).ShouldBeInRange(0.8, 1.5, what);
                    q.Bounds.Low.DistanceTo(b.Bounds.Low).ShouldBeLessThan(1e-6, what);
                    q.Bounds.High.DistanceTo(b.Bounds.High).ShouldBeLessThan(1e-6, what);
                    if (quick.Rough)
                    {
                        q.Key.ShouldNotBe(b.Key, what);
                    }
                }
            }
        }
    }

    [Fact]
    public void A_join_of_a_moment_stands_beside_what_it_joins_and_has_no_mass()
    {
        var part = HoseGuide.Build() with { StopLine = HoseGuide.Build().Find("tube_e")!.Number };
        using var rebuilder = new Rebuilder(new NativeKernel());
        var quick = rebuilder.Quick(part);
        quick.Rough.ShouldBeTrue();
        var body = quick.Bodies.ShouldHaveSingleItem();
        body.Mass.ShouldBe(default);
        body.Names.Faces.Distinct().Count().ShouldBe(body.Topology.Faces.Length);

        // Asked for again it is there; asked for as it is, it is built.
        rebuilder.Quick(part).Bodies.Single().Key.ShouldBe(body.Key);
        var whole = rebuilder.Rebuild(part);
        whole.Bodies.Single().Mass.Volume.ShouldBe(HoseGuide.VolumeByHand(HoseGuide.LengthByHand()), 2);

        // What is known exactly already is shown as that, not built roughly again.
        rebuilder.Quick(part).Rough.ShouldBeFalse();
    }

    [Fact]
    public void What_cannot_be_built_is_refused_in_a_moment_as_well()
    {
        var part = RotorHub.Build();
        var hole = part.Find("drilling").ShouldBeOfType<HoleStep>();
        using var rebuilder = new Rebuilder(new NativeKernel());
        var bad = part.With(hole with { Diameter = "0 mm" }) with { StopLine = hole.Number };
        var quick = rebuilder.Quick(bad).Step(hole.Id)!;
        quick.State.ShouldBe(StepState.Failed);
        quick.Message.ShouldBe(rebuilder.Rebuild(bad).Step(hole.Id)!.Message);
    }

    [Fact]
    public void Coarse_triangles_are_fewer_and_not_kept_with_the_body()
    {
        var kernel = new NativeKernel();
        using var rebuilder = new Rebuilder(kernel);
        var site = rebuilder.Gauge(Spout.Build());
        var solid = site.Bodies[0].Solid;
        var coarse = kernel.Mesh(solid, 0.4, coarse: true);
        var fine = kernel.Mesh(solid, 0.02);
        using var other = new Rebuilder(kernel);
        var untouched = kernel.Mesh(other.Gauge(Spout.Build()).Bodies[0].Solid, 0.02);
        coarse.Triangles.Length.ShouldBeLessThan(fine.Triangles.Length / 2);
        fine.Triangles.ShouldBe(untouched.Triangles);
        kernel.Deviation(solid).ShouldBeLessThan(0.0201);
        kernel.Mesh(solid, 0.4, coarse: true).Triangles.Length.ShouldBe(fine.Triangles.Length, "what is finer already stays");
    }
}
