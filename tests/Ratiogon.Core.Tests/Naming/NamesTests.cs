using System.Collections.Immutable;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;

namespace Ratiogon.Core.Tests.Naming;

public class NamesTests
{
    private static FaceShape Face(double x) => new("plane", Frame.World, 1, new Vec3(x, 0, 0));

    private static EdgeShape Edge(int a, int b, double x = 0) => new("line", [a, b], [0, 1], 1, new Vec3(x, 0, 0));

    private static Names Of(string[] bases, params EdgeShape[] edges) =>
        Names.Of(bases, new Topology([.. bases.Select((_, i) => Face(i))], [.. edges], [Vec3.Zero, Vec3.AlongX]));

    [Fact]
    public void A_face_of_its_own_keeps_its_plain_name() => Of(["a/end", "b/end"], Edge(0, 1)).Faces.ShouldBe(["a/end", "b/end"]);

    [Fact]
    public void Pieces_are_told_apart_by_the_neighbour_that_only_one_has()
    {
        // Two pieces of a/end, both beside cut/side; one beside left, the other beside right.
        var names = Of(["a/end", "a/end", "cut/side", "left", "right"], Edge(0, 2), Edge(1, 2), Edge(0, 3), Edge(1, 4));
        names.Faces[0].ShouldBe("a/end[left]");
        names.Faces[1].ShouldBe("a/end[right]");
    }

    [Fact]
    public void Pieces_with_the_same_neighbours_are_counted_by_place() =>
        Of(["a", "a", "b"], Edge(0, 2), Edge(1, 2)).Faces.ShouldBe(["a[#1]", "a[#2]", "b"]);

    [Fact]
    public void A_piece_finds_the_whole_again_and_the_whole_its_piece()
    {
        var whole = Of(["a/end", "b"], Edge(0, 1));
        whole.FindFace("a/end[left]").ShouldBe(0);
        var pieces = Of(["a/end", "a/end", "c", "left", "right"], Edge(0, 3), Edge(1, 4));
        pieces.FindFace("a/end[right]").ShouldBe(1);
        pieces.FindFace("a/end").ShouldBeGreaterThanOrEqualTo(0);
        pieces.FindFace("a/end[elsewhere]").ShouldBe(-1, "a piece that is gone is not taken for another");
    }

    [Fact]
    public void Edges_and_vertices_are_found_by_their_faces()
    {
        var names = Of(["a", "b", "c"], Edge(0, 1), Edge(2, 1, 5));
        names.Edges.ShouldBe(["a^b", "b^c"]);
        names.Find("b^c").ShouldBe(new SubShape(SubShapeKind.Edge, 1));
        names.Find("c").ShouldBe(new SubShape(SubShapeKind.Face, 2));
        names.Find("a^c").ShouldBeNull();
        names.Find(names.Vertices[0])!.Value.Kind.ShouldBe(SubShapeKind.Vertex);
    }

    [Fact]
    public void A_lost_name_is_answered_with_the_nearest_ones() =>
        Of(["plate/end", "plate/side/l1", "bore/side/c"], Edge(0, 1)).Candidates("plate/side/l2")[0].ShouldBe("plate/side/l1");
}
