using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Shouldly;
using Xunit;

namespace Ratiogon.Core.Tests.Parts;

/// <summary>Names of imported faces when a newer file takes the place of an older one.</summary>
public sealed class ImportedFacesTests
{
    private static FaceShape Flat(double x, double y, double z, Vec3 normal, double area) =>
        new("plane", Frame.Facing(new Vec3(x, y, z), normal), area, new Vec3(x, y, z));

    private static FaceShape Round(double x, double y, double z, double area) => new("cylinder", null, area, new Vec3(x, y, z));

    private static Topology Body(params FaceShape[] faces) => new([.. faces], [], [new Vec3(0, 0, 0), new Vec3(100, 60, 20)]);

    private static readonly FaceShape Top = Flat(50, 30, 20, Vec3.AlongZ, 6000),
        Bottom = Flat(50, 30, 0, -Vec3.AlongZ, 6000),
        Right = Flat(100, 30, 10, Vec3.AlongX, 1200),
        Bore = Round(30, 30, 10, 600),
        Pin = Round(70, 30, 10, 600);

    [Fact]
    public void The_same_faces_in_another_order_keep_their_names() =>
        ImportedFaces
            .Matched(Body(Top, Bottom, Right, Bore, Pin), ["1", "2", "3", "4", "5"], Body(Pin, Right, Top, Bore, Bottom))
            .ShouldBe(["5", "3", "1", "4", "2"]);

    [Fact]
    public void A_face_that_moved_a_little_keeps_its_name_and_a_new_one_gets_a_new_number() =>
        ImportedFaces
            .Matched(
                Body(Top, Bottom, Right, Bore),
                ["1", "2", "3", "4"],
                Body(Flat(104, 30, 10, Vec3.AlongX, 1200), Top, Bottom, Round(31, 30, 10, 700), Pin)
            )
            .ShouldBe(["3", "1", "2", "4", "5"]);

    [Fact]
    public void A_face_that_is_gone_leaves_its_name_unused()
    {
        var names = ImportedFaces.Matched(Body(Top, Bottom, Bore, Pin), ["1", "2", "3", "4"], Body(Top, Bottom, Pin));
        names.ShouldBe(["1", "2", "4"]);
        ImportedFaces.Matched(Body(Top, Bottom, Pin), names, Body(Top, Bottom, Pin, Bore)).ShouldBe(["1", "2", "4", "5"]);
    }

    [Fact]
    public void Faces_of_other_kinds_or_looking_the_other_way_are_never_the_same()
    {
        ImportedFaces.Matched(Body(Top), ["1"], Body(Round(50, 30, 20, 6000))).ShouldBe(["2"]);
        ImportedFaces.Matched(Body(Top), ["1"], Body(Flat(50, 30, 20, -Vec3.AlongZ, 6000))).ShouldBe(["2"]);
    }

    [Fact]
    public void The_nearer_of_two_takes_the_name() =>
        ImportedFaces.Matched(Body(Bore), ["7"], Body(Round(34, 30, 10, 600), Round(31, 30, 10, 600))).ShouldBe(["8", "7"]);
}
