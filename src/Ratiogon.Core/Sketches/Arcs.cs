namespace Ratiogon.Core.Sketches;

/// <summary>The angles of an arc entity as it is drawn.</summary>
public static class Arcs
{
    /// <summary>Angle of the first end from the centre, in radians.</summary>
    public static double Start(Sketch sketch, ArcEntity arc) => (sketch.At(arc.From) - sketch.At(arc.Centre)).Angle;

    /// <summary>How far the arc goes round, counterclockwise, in radians in (0, 2 pi].</summary>
    public static double Sweep(Sketch sketch, ArcEntity arc)
    {
        var sweep = (sketch.At(arc.To) - sketch.At(arc.Centre)).Angle - Start(sketch, arc);
        return sweep <= 0 ? sweep + (2 * Math.PI) : sweep;
    }
}
