using Ratiogon.Core.Geometry;

namespace Ratiogon.Core.Sketches;

/// <summary>A drawn curve with a parameter that runs along it: from 0 to 1 for a line, over the angle for circles and
/// arcs, the curve's own for the others.</summary>
internal readonly record struct SketchCurve(string Entity, Vec2 From, Vec2 To, Vec2 Centre, double Radius, double StartAngle, double Sweep)
{
    /// <summary>The curve of an ellipse, elliptic arc or spline; null for the others.</summary>
    public PlaneCurve? Free { get; init; }

    public bool Round => Radius > 0;

    public bool Full => Free is { } f ? f.Closed : Round && Sweep >= (2 * Math.PI) - Tolerances.WholeTurn;

    /// <summary>The end of the parameter's range.</summary>
    public double End =>
        Free is { } f ? f.End
        : Round ? Sweep
        : 1;

    /// <summary>A length of its size, in millimetres.</summary>
    public double Size =>
        Free is { } f ? Math.Max(f.At(0).DistanceTo(f.At(f.End / 2)), f.At(0).DistanceTo(f.At(f.End / 3)))
        : Round ? Radius
        : From.DistanceTo(To);

    public static SketchCurve? Of(Sketch sketch, SketchEntity entity) =>
        entity switch
        {
            LineEntity l => new SketchCurve(l.Id, sketch.At(l.From), sketch.At(l.To), default, 0, 0, 0),
            CircleEntity c => new SketchCurve(c.Id, default, default, sketch.At(c.Centre), c.Radius, 0, 2 * Math.PI),
            ArcEntity a => new SketchCurve(
                a.Id,
                sketch.At(a.From),
                sketch.At(a.To),
                sketch.At(a.Centre),
                a.Radius,
                Arcs.Start(sketch, a),
                Arcs.Sweep(sketch, a)
            ),
            _ when Curves.Of(sketch, entity) is { } free => new SketchCurve(entity.Id, free.At(0), free.At(free.End), default, 0, 0, 0)
            {
                Free = free,
            },
            _ => null,
        };

    public Vec2 At(double t) =>
        Free is { } f ? f.At(t)
        : Round ? Centre + Vec2.Polar(StartAngle + t, Radius)
        : From + ((To - From) * t);

    /// <summary>The parameter of a point that lies on the carrier, or null where it lies beyond the ends.</summary>
    public double? ParameterOf(Vec2 p)
    {
        if (Free is { } free)
        {
            var t = free.Nearest(p);
            return free.At(t).DistanceTo(p) < 4 * Tolerances.Length ? t : null;
        }

        if (!Round)
        {
            var d = To - From;
            var t = (p - From).Dot(d) / d.Dot(d);
            var slack = Tolerances.Length / d.Length;
            return t >= -slack && t <= 1 + slack ? Math.Clamp(t, 0, 1) : null;
        }

        var angle = (p - Centre).Angle - StartAngle;
        angle -= Math.Floor(angle / (2 * Math.PI)) * 2 * Math.PI;
        var near = Tolerances.Length / Radius;
        if (Full)
        {
            return (2 * Math.PI) - angle < near ? 0 : angle;
        }

        return angle <= Sweep + near ? Math.Min(angle, Sweep)
            : (2 * Math.PI) - angle <= near ? 0
            : null;
    }

    /// <summary>Derivative by the parameter.</summary>
    public Vec2 Slope(double t) =>
        Free is { } f ? f.Slope(t)
        : Round ? Vec2.Polar(StartAngle + t, Radius).Left
        : To - From;

    /// <summary>The parameter of the place nearest to a point, within the curve.</summary>
    public double Nearest(Vec2 p)
    {
        if (Free is { } free)
        {
            return free.Nearest(p);
        }

        if (!Round)
        {
            var d = To - From;
            return Math.Clamp((p - From).Dot(d) / d.Dot(d), 0, 1);
        }

        var angle = (p - Centre).Angle - StartAngle;
        angle -= Math.Floor(angle / (2 * Math.PI)) * 2 * Math.PI;
        return angle <= Sweep ? angle
            : angle - Sweep < (2 * Math.PI) - angle ? Sweep
            : 0;
    }

    /// <summary>A box around it; a little larger than needed for free curves.</summary>
    public (Vec2 Low, Vec2 High) Box()
    {
        if (Free is null && !Round)
        {
            return (new Vec2(Math.Min(From.X, To.X), Math.Min(From.Y, To.Y)), new Vec2(Math.Max(From.X, To.X), Math.Max(From.Y, To.Y)));
        }

        if (Round && Free is null)
        {
            return (Centre - new Vec2(Radius, Radius), Centre + new Vec2(Radius, Radius));
        }

        var (low, high) = (At(0), At(0));
        var reach = 0.0;
        var last = At(0);
        foreach (var p in Drawn(0, End))
        {
            (low, high) = (new Vec2(Math.Min(low.X, p.X), Math.Min(low.Y, p.Y)), new Vec2(Math.Max(high.X, p.X), Math.Max(high.Y, p.Y)));
            reach = Math.Max(reach, p.DistanceTo(last) / 4);
            last = p;
        }

        return (low - new Vec2(reach, reach), high + new Vec2(reach, reach));
    }

    /// <summary>A stretch as points for drawing, both ends included.</summary>
    public IEnumerable<Vec2> Drawn(double from, double to)
    {
        var n =
            Free is { } f ? Math.Max(2, (int)Math.Ceiling(f.Steps().Count * Math.Abs(to - from) / f.End))
            : Round ? Math.Max(2, (int)Math.Ceiling(Math.Abs(to - from) / 0.08))
            : 1;
        for (var i = 0; i <= n; i++)
        {
            yield return At(from + ((to - from) * i / n));
        }
    }
}
