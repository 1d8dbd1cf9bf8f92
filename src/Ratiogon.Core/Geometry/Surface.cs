namespace Ratiogon.Core.Geometry;

/// <summary>An unbounded surface that a face lies on.</summary>
public abstract record Surface
{
    /// <summary>A coefficient of an equation of directions of length one that is nothing.</summary>
    private const double NoTerm = 1e-14;

    /// <summary>A discriminant this small, as a share of the squared size, is of a line that touches.</summary>
    private const double Touches = 1e-12;

    /// <summary>In words.</summary>
    public abstract string Word { get; }

    /// <summary>Signed distance of a point, in millimetres: zero on the surface, positive to the side of <see cref="Normal"/>.
    /// For a cone it is exact near the surface and on the nappe's side of the apex.</summary>
    public abstract double Side(Vec3 p);

    /// <summary>The unit vector away from the surface's inside at the foot of a point; zero where none is best.</summary>
    public abstract Vec3 Normal(Vec3 p);

    /// <summary>The nearest point of the surface.</summary>
    public virtual Vec3 Foot(Vec3 p) => p - (Normal(p) * Side(p));

    /// <summary>Places where it is cut by a line, as lengths along the line from its origin, in rising order; touching
    /// places come once.</summary>
    public abstract IReadOnlyList<double> Meet(Line3 line);

    /// <summary>Rising real roots of a t^2 + 2 b t + c, a double one once.</summary>
    protected static IReadOnlyList<double> Quadratic(double a, double b, double c, double scale)
    {
        if (Math.Abs(a) < NoTerm)
        {
            return Math.Abs(b) < NoTerm ? [] : [-c / (2 * b)];
        }

        var disc = (b * b) - (a * c);
        if (disc < -Touches * scale * scale)
        {
            return [];
        }

        if (disc <= Touches * scale * scale)
        {
            return [-b / a];
        }

        // The larger root first, the other from the product: no cancellation.
        var q = -(b + Math.CopySign(Math.Sqrt(disc), b));
        var (s, t) = (q / a, c / q);
        return s < t ? [s, t] : [t, s];
    }
}

/// <summary>A plane as a surface.</summary>
public sealed record FlatSurface(Plane3 Plane) : Surface
{
    public override string Word => "plane";

    public override double Side(Vec3 p) => Plane.Side(p);

    public override Vec3 Normal(Vec3 p) => Plane.Normal;

    public override IReadOnlyList<double> Meet(Line3 line)
    {
        var along = Plane.Normal.Dot(line.Direction);
        return Math.Abs(along) < Tolerances.Angle ? [] : [-Plane.Side(line.Origin) / along];
    }
}

/// <summary>A cylinder; its inside is about the axis.</summary>
public sealed record CylinderSurface(Line3 Axis, double Radius) : Surface
{
    public override string Word => "cylinder";

    public override double Side(Vec3 p) => Axis.DistanceTo(p) - Radius;

    public override Vec3 Normal(Vec3 p) => (p - Axis.Foot(p)).Unit;

    public override IReadOnlyList<double> Meet(Line3 line)
    {
        var d = line.Direction - (Axis.Direction * line.Direction.Dot(Axis.Direction));
        var o = line.Origin - Axis.Foot(line.Origin);
        return d.Length < Tolerances.Angle ? [] : Quadratic(d.Dot(d), o.Dot(d), o.Dot(o) - (Radius * Radius), Radius * d.Length);
    }
}

/// <summary>One nappe of a cone.</summary>
/// <param name="Apex">Its tip.</param>
/// <param name="Direction">From the apex along the axis into the nappe; unit vector.</param>
/// <param name="HalfAngle">Between axis and side line, in radians, in (0, pi / 2).</param>
public sealed record ConeSurface(Vec3 Apex, Vec3 Direction, double HalfAngle) : Surface
{
    public override string Word => "cone";

    public Line3 Axis => new(Apex, Direction);

    public override double Side(Vec3 p) => (Axis.DistanceTo(p) * Math.Cos(HalfAngle)) - ((p - Apex).Dot(Direction) * Math.Sin(HalfAngle));

    public override Vec3 Normal(Vec3 p) => ((p - Axis.Foot(p)).Unit * Math.Cos(HalfAngle)) - (Direction * Math.Sin(HalfAngle));

    public override IReadOnlyList<double> Meet(Line3 line)
    {
        var (c, o) = (Math.Cos(HalfAngle) * Math.Cos(HalfAngle), line.Origin - Apex);
        var (du, ou) = (line.Direction.Dot(Direction), o.Dot(Direction));
        var roots = Quadratic(
            (du * du) - c,
            (ou * du) - (c * o.Dot(line.Direction)),
            (ou * ou) - (c * o.Dot(o)),
            Math.Max(o.Length, Tolerances.Apart)
        );
        return [.. roots.Where(t => ou + (t * du) > -Tolerances.Apart * (1 + Math.Abs(t)))];
    }
}

public sealed record SphereSurface(Vec3 Centre, double Radius) : Surface
{
    public override string Word => "sphere";

    public override double Side(Vec3 p) => p.DistanceTo(Centre) - Radius;

    public override Vec3 Normal(Vec3 p) => (p - Centre).Unit;

    public override IReadOnlyList<double> Meet(Line3 line)
    {
        var o = line.Origin - Centre;
        return Quadratic(1, o.Dot(line.Direction), o.Dot(o) - (Radius * Radius), Radius);
    }
}

/// <summary>A torus.</summary>
/// <param name="Axis">Through its centre, which is the line's origin.</param>
/// <param name="Ring">Radius of the circle that the tube's centre runs on, in millimetres.</param>
/// <param name="Tube">Radius of the tube, in millimetres.</param>
public sealed record TorusSurface(Line3 Axis, double Ring, double Tube) : Surface
{
    /// <summary>How near to a surface, as a share of the reach, a crossing is found.</summary>
    private const double OnIt = 1e-11;

    private const int Samples = 96;

    public override string Word => "torus";

    public override double Side(Vec3 p) => p.DistanceTo(Core(p)) - Tube;

    public override Vec3 Normal(Vec3 p) => (p - Core(p)).Unit;

    public override IReadOnlyList<double> Meet(Line3 line)
    {
        var middle = line.Along(Axis.Origin);
        var reach = (Ring + Tube) * 1.01;
        return Roots.Find(t => Side(line.At(t)), middle - reach, middle + reach, Samples, OnIt * reach);
    }

    private Vec3 Core(Vec3 p)
    {
        var level = p - Axis.Origin;
        level -= Axis.Direction * level.Dot(Axis.Direction);
        return Axis.Origin + ((level.Length > 0 ? level.Unit : Axis.Direction.Across().A) * Ring);
    }
}
