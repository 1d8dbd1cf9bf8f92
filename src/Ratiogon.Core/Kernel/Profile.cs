using System.Collections.Immutable;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Sketches.Regions;

namespace Ratiogon.Core.Kernel;

/// <summary>Chosen regions of a sketch where they lie.</summary>
/// <param name="Plane">The sketch plane.</param>
/// <param name="Regions">Joined: none touches another along an edge.</param>
public sealed record Profile(Frame Plane, ImmutableArray<Region> Regions)
{
    /// <summary>Every edge in the order in which a kernel numbers them.</summary>
    public ImmutableArray<ProfileEdge> Edges { get; } = [.. Regions.SelectMany(r => new[] { r.Outer }.Concat(r.Holes)).SelectMany(l => l)];

    /// <summary>The middle of its outline's box, on the plane.</summary>
    public Vec3 Middle
    {
        get
        {
            var (low, high) = (new Vec2(double.MaxValue, double.MaxValue), new Vec2(double.MinValue, double.MinValue));
            foreach (var p in Regions.SelectMany(r => r.Outer).SelectMany(e => e.Drawn()))
            {
                (low, high) = (
                    new Vec2(Math.Min(low.X, p.X), Math.Min(low.Y, p.Y)),
                    new Vec2(Math.Max(high.X, p.X), Math.Max(high.Y, p.Y))
                );
            }

            return Plane.ToWorld((low + high) / 2);
        }
    }
}
