using System.Collections.Immutable;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Sketches.Regions;

namespace Ratiogon.Core.Forms;

/// <summary>Outlines made to run the same way, with as many corners each, the corners that go together first: so a loft is not
/// twisted. Circles are cut up where the corners of the others lie; other outlines with different numbers of corners are left
/// to the kernel.</summary>
internal static class LoopMatching
{
    public static ImmutableArray<Profile> Of(ImmutableArray<Profile> sections)
    {
        var most = sections.Max(s => s.Edges.Length);
        var lead = sections.First(s => s.Edges.Length == most);
        var all = sections.Select(s => SameWay(s, sections[0])).ToList();
        var leading = SameWay(lead, sections[0]);
        return
        [
            .. all.Select(s => s.Edges.Length == most || s.Edges is not [{ Full: true, Free: null }] ? s : CutUp(s, leading))
                .Select((s, i) => s.Edges.Length == most ? Begun(s, leading) : s),
        ];
    }

    private static Profile With(Profile p, IEnumerable<ProfileEdge> loop) =>
        new(p.Plane, [p.Regions[0] with { Outer = [.. loop], Holes = [] }]);

    /// <summary>Run the way round that it has seen along the first one's normal.</summary>
    private static Profile SameWay(Profile p, Profile first)
    {
        var positive = p.Edges.Sum(e => e.TwiceArea) > 0;
        var wanted = p.Plane.Z.Dot(first.Plane.Z) >= 0;
        return positive == wanted ? p : With(p, p.Edges.Reverse().Select(e => e.Reversed));
    }

    private static Vec3 Centre(Profile p) => p.Edges.Aggregate(Vec3.Zero, (a, e) => a + p.Plane.ToWorld(e.Inside(0.5))) / p.Edges.Length;

    /// <summary>Begun at the corner from which its corners lie nearest to those of the other.</summary>
    private static Profile Begun(Profile p, Profile other)
    {
        var n = p.Edges.Length;
        var (c, d) = (Centre(p), Centre(other));
        double Apart(int shift) =>
            Enumerable
                .Range(0, n)
                .Sum(i =>
                    (p.Plane.ToWorld(p.Edges[(i + shift) % n].From) - c - (other.Plane.ToWorld(other.Edges[i].From) - d)) is var v
                        ? v.Dot(v)
                        : 0
                );
        var best = Enumerable.Range(0, n).MinBy(Apart);
        return With(p, Enumerable.Range(0, n).Select(i => p.Edges[(i + best) % n]));
    }

    private static Profile CutUp(Profile circle, Profile other)
    {
        var (edge, centre) = (circle.Edges[0], Centre(other));
        var angles = other
            .Edges.Select(e =>
                circle.Plane.ToPlane(circle.Plane.ToWorld(edge.Centre) + (other.Plane.ToWorld(e.From) - centre)) - edge.Centre
            )
            .Select(v => v.Angle)
            .ToList();
        Vec2 At(double a) => edge.Centre + Vec2.Polar(a, edge.Radius);
        return With(circle, angles.Select((a, i) => edge with { From = At(a), To = At(angles[(i + 1) % angles.Count]) }));
    }
}
