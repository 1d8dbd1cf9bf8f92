using Ratiogon.Core.Geometry;

namespace Ratiogon.Core.Sketching.Regions;

/// <summary>A drawn curve with a parameter that runs along it: from 0 to 1 for a line, over the angle for circles and arcs.</summary>
internal readonly record struct SketchCurve(string Entity, Vec2 From, Vec2 To, Vec2 Centre, double Radius, double StartAngle, double Sweep)
{
    public bool Round => Radius > 0;

    public bool Full => Round && Sweep >= (2 * Math.PI) - 1e-12;

    /// <summary>The end of the parameter's range.</summary>
    public double End => Round ? Sweep : 1;

    public static SketchCurve? Of(Sketch sketch, SketchEntity entity) => entity switch
    {
        LineEntity l => new SketchCurve(l.Id, sketch.At(l.From), sketch.At(l.To), default, 0, 0, 0),
        CircleEntity c => new SketchCurve(c.Id, default, default, sketch.At(c.Centre), c.Radius, 0, 2 * Math.PI),
        ArcEntity a => new SketchCurve(a.Id, sketch.At(a.From), sketch.At(a.To), sketch.At(a.Centre), a.Radius, Arcs.Start(sketch, a), Arcs.Sweep(sketch, a)),
        _ => null,
    };

    public Vec2 At(double t) => Round ? Centre + Vec2.Polar(StartAngle + t, Radius) : From + ((To - From) * t);

    /// <summary>The parameter of a point that lies on the carrier, or null where it lies beyond the ends.</summary>
    public double? ParameterOf(Vec2 p)
    {
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

        return angle <= Sweep + near ? Math.Min(angle, Sweep) : (2 * Math.PI) - angle <= near ? 0 : null;
    }
}
