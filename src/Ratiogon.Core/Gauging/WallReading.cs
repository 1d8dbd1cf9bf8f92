using Ratiogon.Core.Forms;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;

namespace Ratiogon.Core.Gauging;

/// <summary>
/// The smallest wall that lines along a direction meet. Lines are shot through places of the faces, the thinnest is brought in
/// by a pattern search. Only stretches count whose faces both stand across the line (within 60 degrees): where a round face
/// runs out alongside it every stretch comes down to nothing, which no shop would call a wall.
/// </summary>
internal static class WallReading
{
    private const int MostLines = 1500;
    private const double Across = 0.5;

    public static Outcome<GaugeValue> Read(GaugeSite site, GaugeAsk ask) =>
        site.BodiesOf(ask.Of)
            .Then<GaugeValue>(bodies =>
            {
                var (way, words) = ask.Along!.Value;
                var plane = Frame.Facing(Vec3.Zero, way);
                (double Length, Vec2 At, MaterialStretch Stretch, FormBody Body)? thinnest = null;
                foreach (var body in bodies)
                {
                    var starts = Places(site, body).Select(plane.ToPlane).Distinct().ToList();
                    var every = Math.Max(1, starts.Count / MostLines);
                    foreach (var at in starts.Where((_, i) => i % every == 0))
                    {
                        if (Thinnest(site, body, plane, at) is { } found && !(thinnest?.Length <= found.Length))
                        {
                            thinnest = (found.Length, at, found, body);
                        }
                    }
                }

                if (thinnest is not { } wall)
                {
                    return new Refusal("reading.no-wall", $"No wall stands across {words}.", "along");
                }

                for (var step = wall.Body.Box.Diagonal / 50; step > Tolerances.Length; step /= 2)
                {
                    for (var better = true; better; )
                    {
                        better = false;
                        foreach (var d in new[] { new Vec2(step, 0), new Vec2(-step, 0), new Vec2(0, step), new Vec2(0, -step) })
                        {
                            if (
                                Thinnest(site, wall.Body, plane, wall.At + d) is { } found
                                && found.Length < wall.Length - Tolerances.Rounding
                            )
                            {
                                (wall, better) = ((found.Length, wall.At + d, found, wall.Body), true);
                            }
                        }
                    }
                }

                var line = new Line3(plane.ToWorld(wall.At), way);
                return new GaugeValue(wall.Length, [line.At(wall.Stretch.In.At), line.At(wall.Stretch.Out.At)], $"along {words}");
            });

    private static MaterialStretch? Thinnest(GaugeSite site, FormBody body, Frame plane, Vec2 at)
    {
        var line = new Line3(plane.ToWorld(at), plane.Z);
        return site
            .Kernel.Probe(body.Solid, line)
            .Where(s =>
                s.Length > Tolerances.Length && Math.Abs(s.In.Normal.Dot(plane.Z)) > Across && Math.Abs(s.Out.Normal.Dot(plane.Z)) > Across
            )
            .OrderBy(s => s.Length)
            .Cast<MaterialStretch?>()
            .FirstOrDefault();
    }

    /// <summary>Middles of the triangles that the body is drawn with.</summary>
    private static IEnumerable<Vec3> Places(GaugeSite site, FormBody body)
    {
        var mesh = body.Mesh();
        Vec3 Corner(uint i) =>
            new(
                BitConverter.ToSingle(mesh.Positions, (int)(12 * i)),
                BitConverter.ToSingle(mesh.Positions, (int)(12 * i) + 4),
                BitConverter.ToSingle(mesh.Positions, (int)(12 * i) + 8)
            );
        for (var t = 0; t + 12 <= mesh.Triangles.Length; t += 12)
        {
            var (a, b, c) = (
                Corner(BitConverter.ToUInt32(mesh.Triangles, t)),
                Corner(BitConverter.ToUInt32(mesh.Triangles, t + 4)),
                Corner(BitConverter.ToUInt32(mesh.Triangles, t + 8))
            );
            yield return (a + b + c) / 3;
        }
    }
}
