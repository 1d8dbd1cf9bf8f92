using System.Collections.Immutable;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Sketches.Regions;

namespace Ratiogon.Core.Forms;

/// <summary>One corner of a turned outline, with the name of the face that leads to it from the corner before.</summary>
/// <param name="Along">Along the axis, in millimetres.</param>
/// <param name="Radius">From the axis.</param>
/// <param name="Face">Empty for the first.</param>
public readonly record struct TurnedCorner(double Along, double Radius, string Face);

/// <summary>A tool turned about an axis: what drills, counterbores and countersinks leave.</summary>
/// <param name="Axis">Where it works, in its direction.</param>
/// <param name="Outline">From the axis at its start to the axis at its end.</param>
/// <param name="Before">Stands before the names of its faces.</param>
/// <param name="After">Stands behind them.</param>
public sealed record RoundTool(Line3 Axis, ImmutableArray<TurnedCorner> Outline, string Before, string After)
{
    /// <summary>Corners of an outline nearer than this, in millimetres, are one.</summary>
    private const double Same = 1e-12;

    /// <summary>What the axes of its flat faces follow.</summary>
    public AxisGuide Guide { get; init; }

    public double From => Outline[0].Along;

    public double To => Outline[^1].Along;

    public double Reach => Outline.Max(c => c.Radius);

    /// <summary>The same tool elsewhere.</summary>
    /// <param name="by">The motion.</param>
    /// <param name="before">Put before the names of its faces.</param>
    public RoundTool Moved(Rigid by, string before) =>
        this with
        {
            Axis = new Line3(by.Apply(Axis.Origin), by.Turn(Axis.Direction)),
            Before = before + Before,
            Guide = Guide.Moved(by),
        };

    /// <summary>Only what lies between two places along the axis; null where nothing does.</summary>
    public RoundTool? Between(double from, double to)
    {
        var kept = new List<TurnedCorner>();
        for (var i = 1; i < Outline.Length; i++)
        {
            var (a, b) = (Outline[i - 1], Outline[i]);
            var (low, high) = (Math.Max(a.Along, from), Math.Min(b.Along, to));
            if (b.Along < from || a.Along > to)
            {
                continue;
            }

            double At(double s) =>
                b.Along - a.Along < Same ? b.Radius : a.Radius + ((b.Radius - a.Radius) * (s - a.Along) / (b.Along - a.Along));
            if (kept.Count == 0)
            {
                var first = b.Along - a.Along < Same ? b.Radius : At(low);
                kept.Add(new TurnedCorner(low, 0, ""));
                kept.Add(new TurnedCorner(low, first, "top"));
            }

            if (high > low + Same || (b.Along - a.Along < Same && Math.Abs(kept[^1].Radius - b.Radius) > Same))
            {
                kept.Add(new TurnedCorner(high, At(high), b.Face));
            }
        }

        if (kept.Count < 3)
        {
            return null;
        }

        if (kept[^1].Radius > 0)
        {
            kept.Add(new TurnedCorner(kept[^1].Along, 0, to < To ? "bottom" : Outline[^1].Face));
        }

        return this with
        {
            Outline = [.. kept],
        };
    }

    /// <summary>The solid, its faces named.</summary>
    public Outcome<Shaped> Make(ISolidKernel kernel)
    {
        ArgumentNullException.ThrowIfNull(kernel);
        var across = Axis.Direction.Across().A;

        // The outline lies in a plane through the axis: x along it, y away from it.
        var plane = new Frame(Axis.Origin, Axis.Direction, across);
        var edges = ImmutableArray.CreateBuilder<ProfileEdge>();
        for (var i = Outline.Length - 1; i > 0; i--)
        {
            var (a, b) = (Outline[i], Outline[i - 1]);
            if (Math.Abs(a.Along - b.Along) + Math.Abs(a.Radius - b.Radius) > Same)
            {
                edges.Add(new ProfileEdge(a.Face, new Vec2(a.Along, a.Radius), new Vec2(b.Along, b.Radius), Vec2.Zero, 0, false, true));
            }
        }

        edges.Add(new ProfileEdge("axis", new Vec2(From, 0), new Vec2(To, 0), Vec2.Zero, 0, false, true));
        var profile = new Profile(plane, [new Region("tool", edges.ToImmutable(), [], 0)]);
        return kernel
            .Revolve(profile, Axis, 2 * Math.PI)
            .Map(r => Shaped.Of(r, Before.TrimEnd('/'), o => $"{Before}{profile.Edges[o.Index].Entity}{After}", _ => Guide));
    }
}
