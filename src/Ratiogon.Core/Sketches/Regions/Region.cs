using System.Collections.Immutable;
using Ratiogon.Core.Geometry;

namespace Ratiogon.Core.Sketches.Regions;

/// <summary>One edge of a profile, in the direction in which the region lies to its left.</summary>
/// <param name="Entity">The sketch entity it is a piece of.</param>
/// <param name="From">Where it begins, in millimetres on the sketch plane.</param>
/// <param name="To">Where it ends; equal to <paramref name="From"/> for a full circle.</param>
/// <param name="Centre">Of a round edge.</param>
/// <param name="Radius">In millimetres; 0 for a straight edge.</param>
/// <param name="Counterclockwise">Which way a round edge goes about its centre.</param>
/// <param name="Forward">Whether it goes the way the entity was drawn.</param>
public sealed record ProfileEdge(string Entity, Vec2 From, Vec2 To, Vec2 Centre, double Radius, bool Counterclockwise, bool Forward)
{
    /// <summary>Of an ellipse, elliptic arc or spline: its curve.</summary>
    public PlaneCurve? Free { get; init; }

    /// <summary>Of a free curve: the parameters where it begins and ends, the way it goes here. On a closed curve the
    /// later one may lie past the end of the range.</summary>
    public Interval Stretch { get; init; }

    public bool Round => Radius > 0;

    public bool Full => (Round || Free is { Closed: true }) && From == To;

    /// <summary>How far a round edge turns, in radians, positive counterclockwise.</summary>
    public double Turn
    {
        get
        {
            if (!Round)
            {
                return 0;
            }

            if (Full)
            {
                return Counterclockwise ? 2 * Math.PI : -2 * Math.PI;
            }

            var turn = (To - Centre).Angle - (From - Centre).Angle;
            return Counterclockwise ? (turn <= 0 ? turn + (2 * Math.PI) : turn) : (turn >= 0 ? turn - (2 * Math.PI) : turn);
        }
    }

    /// <summary>Twice the signed area between the edge and the origin (Green's theorem), in mm².</summary>
    internal double TwiceArea =>
        Free is { } f ? f.Integral(Stretch.From, Stretch.To, t => f.At(t).Cross(f.Slope(t)))
        : Round ? (Radius * Radius * Turn) + Centre.Cross(To - From)
        : From.Cross(To);

    /// <summary>The same edge the other way round.</summary>
    internal ProfileEdge Reversed =>
        this with
        {
            From = To,
            To = From,
            Counterclockwise = !Counterclockwise,
            Forward = !Forward,
            Stretch = new Interval(Stretch.To, Stretch.From),
        };

    /// <summary>A place at a share of the way along, not an end.</summary>
    internal Vec2 Inside(double share) =>
        Free is { } f ? f.At(Stretch.From + ((Stretch.To - Stretch.From) * share))
        : Round ? Centre + Vec2.Polar((From - Centre).Angle + (Turn * share), Radius)
        : From + ((To - From) * share);

    /// <summary>The edge as points, its end left out.</summary>
    public IEnumerable<Vec2> Drawn(double maxTurn = Math.PI / 24)
    {
        if (Free is { } f)
        {
            var count = Math.Max(4, (int)Math.Ceiling(f.Steps().Count * Math.Abs(Stretch.To - Stretch.From) / f.End));
            for (var i = 0; i < count; i++)
            {
                yield return f.At(Stretch.From + ((Stretch.To - Stretch.From) * i / count));
            }

            yield break;
        }

        var n = Math.Max(1, (int)Math.Ceiling(Math.Abs(Turn) / maxTurn));
        for (var i = 0; i < n; i++)
        {
            yield return Round ? Centre + Vec2.Polar((From - Centre).Angle + (Turn * i / n), Radius) : From;
        }
    }
}

/// <summary>One face of the arrangement of a sketch's curves.</summary>
/// <param name="Key">Names the region by the entities that bound it and the side on which it lies: <c>+c1 -l2</c>
/// lies to the left of c1 and to the right of l2 as they were drawn. Sizes do not change it.
/// Where the same sides bound several regions, a number follows: <c>+c1 -c2 #2</c>.</param>
/// <param name="Outer">Its outer boundary, counterclockwise.</param>
/// <param name="Holes">Its holes, clockwise.</param>
/// <param name="Depth">How many other regions' outlines surround it; even depths are material by default.</param>
public sealed record Region(string Key, ImmutableArray<ProfileEdge> Outer, ImmutableArray<ImmutableArray<ProfileEdge>> Holes, int Depth)
{
    /// <summary>In mm².</summary>
    public double Area => (Outer.Sum(e => e.TwiceArea) + Holes.Sum(h => h.Sum(e => e.TwiceArea))) / 2;

    /// <summary>Whether a point lies inside the outer boundary and in none of the holes.</summary>
    public bool Contains(Vec2 p) => Loops.Contain(Outer, p) && !Holes.Any(h => Loops.Contain(h, p));
}

/// <summary>Closed chains of profile edges.</summary>
internal static class Loops
{
    public static double Area(IEnumerable<ProfileEdge> loop) => loop.Sum(e => e.TwiceArea) / 2;

    /// <summary>Exact winding by a ray to the right.</summary>
    public static bool Contain(IEnumerable<ProfileEdge> loop, Vec2 p)
    {
        var crossings = 0;
        foreach (var edge in loop)
        {
            crossings +=
                edge.Free is not null ? FreeCrossings.OfRay(edge, p)
                : edge.Round ? RoundCrossings(edge, p)
                : StraightCrossing(edge.From, edge.To, p);
        }

        return crossings % 2 != 0;
    }

    private static int StraightCrossing(Vec2 a, Vec2 b, Vec2 p)
    {
        if ((a.Y > p.Y) == (b.Y > p.Y))
        {
            return 0;
        }

        return a.X + ((p.Y - a.Y) / (b.Y - a.Y) * (b.X - a.X)) > p.X ? 1 : 0;
    }

    private static int RoundCrossings(ProfileEdge edge, Vec2 p)
    {
        // Split at the highest and lowest points: each piece is monotone in y and crosses the ray at most once.
        var start = (edge.From - edge.Centre).Angle;
        var cuts = new List<double> { 0, edge.Turn };
        for (var k = -5; k <= 5; k++)
        {
            var t = (Math.PI / 2) + (k * Math.PI) - start;
            if (t > Math.Min(0, edge.Turn) && t < Math.Max(0, edge.Turn))
            {
                cuts.Add(t);
            }
        }

        cuts.Sort();
        var count = 0;
        for (var i = 0; i + 1 < cuts.Count; i++)
        {
            var (a, b) = (At(cuts[i]), At(cuts[i + 1]));
            if ((a.Y > p.Y) == (b.Y > p.Y))
            {
                continue;
            }

            var right = Math.Cos(start + ((cuts[i] + cuts[i + 1]) / 2)) > 0 ? 1 : -1;
            var dy = p.Y - edge.Centre.Y;
            var x = edge.Centre.X + (right * Math.Sqrt(Math.Max(0, (edge.Radius * edge.Radius) - (dy * dy))));
            count += x > p.X ? 1 : 0;
        }

        return count;

        // The ends are taken as they are, so that neighbours in the loop agree on them to the last bit.
        Vec2 At(double turn) =>
            turn == 0 ? edge.From
            : turn == edge.Turn ? edge.To
            : edge.Centre + Vec2.Polar(start + turn, edge.Radius);
    }
}
