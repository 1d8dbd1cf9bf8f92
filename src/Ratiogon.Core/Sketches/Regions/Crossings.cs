namespace Ratiogon.Core.Sketches.Regions;

/// <summary>Where two drawn curves meet, exactly.</summary>
internal static class Crossings
{
    /// <summary>Meeting points within both curves; touching counts. Overlapping stretches give their ends.</summary>
    public static List<Vec2> Of(in SketchCurve a, in SketchCurve b)
    {
        if (a.Free is not null || b.Free is not null)
        {
            return FreeCrossings.Of(a, b);
        }

        var found = new List<Vec2>();
        foreach (
            var p in (a.Round, b.Round) switch
            {
                (false, false) => LineLine(a, b),
                (false, true) => LineCircle(a, b),
                (true, false) => LineCircle(b, a),
                _ => CircleCircle(a, b),
            }
        )
        {
            if (a.ParameterOf(p) is not null && b.ParameterOf(p) is not null)
            {
                found.Add(p);
            }
        }

        return found;
    }

    private static IEnumerable<Vec2> LineLine(SketchCurve a, SketchCurve b)
    {
        var (u, v, w) = (a.To - a.From, b.To - b.From, b.From - a.From);
        var cross = u.Cross(v);
        if (Math.Abs(cross) > Tolerances.Angle * u.Length * v.Length)
        {
            return [a.From + (u * (w.Cross(v) / cross))];
        }

        // Parallel: on one carrier the ends may lie on the other.
        return Math.Abs(u.Unit.Cross(w)) < Tolerances.Length ? [a.From, a.To, b.From, b.To] : [];
    }

    private static IEnumerable<Vec2> LineCircle(SketchCurve line, SketchCurve circle)
    {
        var u = (line.To - line.From).Unit;
        var foot = circle.Centre.FootOn(line.From, line.To);
        var h = foot.DistanceTo(circle.Centre);
        if (h > circle.Radius + Tolerances.Length)
        {
            return [];
        }

        var half = Math.Sqrt(Math.Max(0, (circle.Radius - h) * (circle.Radius + h)));
        return Math.Abs(circle.Radius - h) < Tolerances.Length ? [foot] : [foot + (u * half), foot - (u * half)];
    }

    private static IEnumerable<Vec2> CircleCircle(SketchCurve a, SketchCurve b)
    {
        var d = b.Centre - a.Centre;
        var distance = d.Length;
        if (distance < Tolerances.Length)
        {
            return Math.Abs(a.Radius - b.Radius) < Tolerances.Length ? [a.At(0), a.At(a.End), b.At(0), b.At(b.End)] : [];
        }

        if (distance > a.Radius + b.Radius + Tolerances.Length || distance < Math.Abs(a.Radius - b.Radius) - Tolerances.Length)
        {
            return [];
        }

        var along = ((distance * distance) + (a.Radius * a.Radius) - (b.Radius * b.Radius)) / (2 * distance);
        var half = Math.Sqrt(Math.Max(0, (a.Radius - along) * (a.Radius + along)));
        var foot = a.Centre + (d.Unit * along);
        var touching =
            Math.Abs(distance - a.Radius - b.Radius) < Tolerances.Length
            || Math.Abs(distance - Math.Abs(a.Radius - b.Radius)) < Tolerances.Length;
        return touching ? [foot] : [foot + (d.Unit.Left * half), foot - (d.Unit.Left * half)];
    }
}
