using System.Text.Json;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Parts;

namespace Ratiogon.Core.Tests.Geometry;

public class FrameTests
{
    [Fact]
    public void Frames_on_any_plane_are_right_handed_and_upright() => CsCheck.Check.Sample(CsCheck.Gen.Double[-1, 1].Array[3], v =>
        {
            if (v.Sum(x => x * x) < 0.01)
            {
                return true;
            }

            var normal = new Vec3(v[0], v[1], v[2]).Unit;
            var frame = Frame.Facing(new Vec3(1, 2, 3), normal);
            return (frame.Z - normal).Length < 1e-12
                && Math.Abs(frame.X.Dot(frame.Y)) < 1e-12
                && (Math.Sqrt((normal.X * normal.X) + (normal.Y * normal.Y)) < 1e-8 || frame.Y.Z > 0);
        });

    [Fact]
    public void Points_go_to_the_world_and_back()
    {
        var frame = Frame.Facing(new Vec3(5, -2, 9), new Vec3(1, 2, 3));
        frame.ToPlane(frame.ToWorld(new Vec2(4, -7))).DistanceTo(new Vec2(4, -7)).ShouldBeLessThan(1e-12);
        frame.Shifted(5).ToPlane(frame.ToWorld(new Vec2(4, -7))).DistanceTo(new Vec2(4, -7)).ShouldBeLessThan(1e-12);
    }

    [Theory]
    [InlineData(1, 0, 0, 0, 1, 0)]
    [InlineData(-1, 0, 0, 0, -1, 0)]
    [InlineData(0, -1, 0, 1, 0, 0)]
    [InlineData(0, 0, 1, 1, 0, 0)]
    [InlineData(0, 0, -1, 1, 0, 0)]
    public void Main_directions_have_their_x_to_the_right(double nx, double ny, double nz, double x, double y, double z) =>
        Frame.Facing(Vec3.Zero, new Vec3(nx, ny, nz)).X.DistanceTo(new Vec3(x, y, z)).ShouldBeLessThan(1e-12);
}

public class VectorJsonTests
{
    [Fact]
    public void Vectors_are_arrays_and_read_back_to_the_last_bit() =>
        CsCheck.Check.Sample(CsCheck.Gen.Double[-1e5, 1e5].Array[2], v =>
            JsonSerializer.Deserialize<Vec2>(JsonSerializer.Serialize(new Vec2(v[0], v[1]), PartJson.Compact), PartJson.Compact)
            == new Vec2(v[0], v[1])
        );

    [Theory]
    [InlineData("[1]")]
    [InlineData("[1,2,3]")]
    [InlineData("[1,\"2\"]")]
    [InlineData("[1,1e300]")]
    [InlineData("{}")]
    public void Anything_else_is_refused(string json) =>
        Should.Throw<JsonException>(() => JsonSerializer.Deserialize<Vec2>(json, PartJson.Compact));
}
