using System.Collections.Immutable;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;

namespace Ratiogon.Core.Datums;

/// <summary>What a reference is, geometrically. A thing has several facets: a circular edge is a curve, lies in a plane,
/// has a centre and an axis. Relations ask for the facets that they need.</summary>
/// <param name="Reference">The name it was found by.</param>
/// <param name="Words">As people read it.</param>
/// <param name="Anchor">A place on or near it, in millimetres.</param>
public sealed record Thing(string Reference, string Words, Vec3 Anchor)
{
    /// <summary>As people read it, with its article where it has one.</summary>
    public string Words
    {
        get => Say is { } say ? say() : field;
        init;
    } = Words;

    /// <summary>Finds its words where that is some work; asked only when somebody reads them.</summary>
    public Func<string>? Say { get; init; }

    /// <summary>It is a point.</summary>
    public Vec3? Point { get; init; }

    /// <summary>It is straight: taken as unbounded.</summary>
    public Line3? Line { get; init; }

    /// <summary>It is flat, with z out of the material: taken as unbounded.</summary>
    public Frame? Plane { get; init; }

    /// <summary>It is a curved face: taken as unbounded where it is not free-form.</summary>
    public Surface? Surface { get; init; }

    /// <summary>It is a face: the normal at the foot of a point, out of the material.</summary>
    public Func<Vec3, Vec3>? Outward { get; init; }

    /// <summary>It is a curve between two ends, straight ones included.</summary>
    public CurvePath? Path { get; init; }

    /// <summary>It is round: a circle, an ellipse, or an arc of one.</summary>
    public RoundCurve? Round { get; init; }

    /// <summary>It has a centre: a circle, an arc, an ellipse, a sphere, a torus.</summary>
    public Vec3? Centre { get; init; }

    /// <summary>It has an axis: a circle, a cylinder, a cone, a torus.</summary>
    public Line3? Axis { get; init; }

    /// <summary>It is a face or a body: its centre of area or of mass.</summary>
    public Vec3? Middle { get; init; }

    /// <summary>What axes that stand on it follow, where it does not give them itself.</summary>
    public AxisGuide Guide { get; init; }

    /// <summary>It is a frame.</summary>
    public Frame? Frame { get; init; }

    /// <summary>It is a body: the box about it.</summary>
    public Box? Box { get; init; }

    /// <summary>It was divided: the names of its pieces, which all lie on what this is without bounds. None for what is whole.</summary>
    public ImmutableArray<string> Pieces { get; init; } = [];

    /// <summary>Anything straight that it stands for: the line it is, or the axis it has.</summary>
    public Line3? Straight => Line ?? Axis;

    /// <summary>Any place that it stands for: the point it is, or the centre it has.</summary>
    public Vec3? Place => Point ?? Centre;

    /// <summary>A point.</summary>
    public static Thing OfPoint(string reference, string words, Vec3 p) => new(reference, words, p) { Point = p };

    /// <summary>Something straight without ends.</summary>
    public static Thing OfLine(string reference, string words, Line3 line) => new(reference, words, line.Origin) { Line = line };

    /// <summary>Something flat.</summary>
    public static Thing OfPlane(string reference, string words, Frame plane) =>
        new(reference, words, plane.Origin)
        {
            Plane = plane,
            Outward = _ => plane.Z,
            Guide = AxisGuide.Of(plane),
        };

    /// <summary>A curved face.</summary>
    /// <param name="reference">Its name.</param>
    /// <param name="words">As people read it.</param>
    /// <param name="surface">What it lies on.</param>
    /// <param name="anchor">A place on it.</param>
    /// <param name="outward">The normal out of the material at the foot of a point; by default out of the surface's inside.</param>
    public static Thing OfSurface(string reference, string words, Surface surface, Vec3 anchor, Func<Vec3, Vec3>? outward = null)
    {
        ArgumentNullException.ThrowIfNull(surface);
        return new Thing(reference, words, anchor)
        {
            Surface = surface,
            Outward = outward ?? surface.Normal,
            Axis = surface switch
            {
                CylinderSurface c => c.Axis,
                ConeSurface c => c.Axis,
                TorusSurface t => t.Axis,
                _ => null,
            },
            Centre = surface switch
            {
                SphereSurface s => s.Centre,
                TorusSurface t => t.Axis.Origin,
                _ => null,
            },
        };
    }

    /// <summary>A curve: a straight one is a line too, a round one has a centre and an axis.</summary>
    public static Thing OfCurve(string reference, string words, CurvePath path)
    {
        ArgumentNullException.ThrowIfNull(path);
        var made = new Thing(reference, words, path.AtLength(path.Length / 2).At) { Path = path };
        return path.Curves.Length == 1 ? Known(made, path.Curves[0]) : made;
    }

    private static Thing Known(Thing made, SpaceCurve curve) =>
        curve switch
        {
            SegmentCurve s => made with { Line = Line3.Through(s.A, s.B) },
            RoundCurve { Circular: true } c => made with { Round = c, Centre = c.Centre, Axis = c.Axis },
            RoundCurve e => made with { Round = e, Centre = e.Centre },
            _ when curve.Reversed() is SegmentCurve or RoundCurve => Known(made, curve.Reversed()),
            _ => made,
        };
}
