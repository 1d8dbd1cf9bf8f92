using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Exchange.Pictures;
using Ratiogon.Solids;
using Ratiogon.Solids.Tests;

namespace Ratiogon.Exchange.Tests;

/// <summary>Pictures of parts, looked at dot by dot.</summary>
public class PictureTests
{
    private static readonly (byte, byte, byte) Paper = (0xf8, 0xf5, 0xee);

    private static (byte R, byte G, byte B)[,]? Drawn(Part part, PictureColours? colours = null)
    {
        using var rebuilder = new Rebuilder(new NativeKernel());
        return PartPicture.Draw(part, rebuilder.Rebuild(part, withMesh: true), colours ?? PictureColours.Light) is { } png
            ? Others.Dots(png)
            : null;
    }

    private static bool Dark((byte R, byte G, byte B) dot) => dot.R + dot.G + dot.B < 3 * 110;

    /// <summary>Where a place of a cube of 40 about the middle of its picture is drawn, worked out anew from how the workspace looks at
    /// it.</summary>
    private static (int X, int Y) At(Vec3 p)
    {
        var towards = new Vec3(0.62, -1, 0.72).Unit;
        var right = Vec3.AlongZ.Cross(towards).Unit;
        var up = towards.Cross(right);
        var corners = from x in new[] { -20, 20 } from y in new[] { -20, 20 } from z in new[] { 0, 40 } select new Vec3(x, y, z);
        var (high, low) = (corners.Max(c => c.Dot(up)), corners.Min(c => c.Dot(up)));
        var scale = PartPicture.Height * 0.84 / (high - low);
        var middle = (corners.Max(c => c.Dot(right)) + corners.Min(c => c.Dot(right))) / 2;
        return (
            (int)((PartPicture.Width / 2.0) + ((p.Dot(right) - middle) * scale)),
            (int)((PartPicture.Height / 2.0) - ((p.Dot(up) - ((high + low) / 2)) * scale))
        );
    }

    private static bool Line((byte, byte, byte)[,] dots, Vec3 p)
    {
        var (x, y) = At(p);
        return Enumerable.Range(-2, 5).Any(i => Enumerable.Range(-2, 5).Any(j => Dark(dots[x + i, y + j])));
    }

    [Fact]
    public void A_cube_shows_three_faces_nine_edges_and_none_of_the_three_behind()
    {
        var dots = Drawn(Parts.Of(Parts.Block(40, 40, 40))).ShouldNotBeNull();
        dots[3, 3].ShouldBe(Paper);
        var faces = new[] { new Vec3(5, 3, 40), new Vec3(5, -20, 17), new Vec3(20, 4, 17) }
            .Select(p => At(p) is var (x, y) ? dots[x, y] : default)
            .ToList();
        faces.Distinct().Count().ShouldBe(3, "each in its own light");
        faces.ShouldAllBe(c => !Dark(c));
        faces.ShouldNotContain(Paper);
        (faces[0].R > faces[1].R && faces[0].R > faces[2].R).ShouldBeTrue("light comes from above");
        foreach (
            var front in new[]
            {
                new Vec3(20, -20, 13),
                new Vec3(-20, -20, 13),
                new Vec3(20, 20, 13),
                new Vec3(7, -20, 40),
                new Vec3(20, 7, 40),
                new Vec3(-20, 7, 40),
                new Vec3(7, 20, 40),
                new Vec3(7, -20, 0),
                new Vec3(20, 7, 0),
            }
        )
        {
            Line(dots, front).ShouldBeTrue($"{front}");
        }

        foreach (var behind in new[] { new Vec3(-20, 20, 13), new Vec3(-20, 7, 0), new Vec3(9, 20, 0) })
        {
            Line(dots, behind).ShouldBeFalse($"{behind}");
        }
    }

    [Fact]
    public void Dark_is_dark_a_part_without_bodies_shows_its_curves_and_an_empty_one_nothing()
    {
        Dark(Drawn(Parts.Of(Parts.Block(40, 40, 40)), PictureColours.Dark)![3, 3]).ShouldBeTrue();
        var sketched = Drawn(Parts.Of(Parts.Plate(30, 20))).ShouldNotBeNull();
        sketched.Cast<(byte, byte, byte)>().Count(Dark).ShouldBeInRange(400, 6000);
        Drawn(new Part()).ShouldBeNull();
        Drawn(Parts.Of(new AddStep(new SketchStep("s", 0, "", World.Xy, Sketch.Empty)))).ShouldBeNull("an empty sketch");
    }

    [Theory]
    [InlineData(1e-3)]
    [InlineData(1)]
    [InlineData(1e3)]
    public void Any_size_fills_its_picture(double scale)
    {
        var dots = Drawn(
                Parts.Of([
                    .. Parts.Sketched("s", World.Xy, Parts.Circle("c", 900 * scale, 0, 30 * scale)),
                    new AddStep(new ExtrudeStep("e", 0, "", "s") { Length = $"{20 * scale} mm" }),
                ])
            )
            .ShouldNotBeNull();
        var drawn =
            from x in Enumerable.Range(0, PartPicture.Width)
            from y in Enumerable.Range(0, PartPicture.Height)
            where dots[x, y] != Paper
            select (x, y);
        ((double)(drawn.Max(d => d.y) - drawn.Min(d => d.y))).ShouldBe(PartPicture.Height * 0.84, 5);
    }
}
