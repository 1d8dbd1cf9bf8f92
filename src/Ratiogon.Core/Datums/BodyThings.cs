using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;

namespace Ratiogon.Core.Datums;

/// <summary>Faces and edges of a body as things to build on.</summary>
internal static class BodyThings
{
    public static Thing? Face(string reference, FaceShape face)
    {
        if (face.Plane is { } plane)
        {
            return Thing.OfPlane(reference, "a face", plane) with { Middle = face.Centre, Anchor = face.Centre };
        }

        return ShapeNumbers.SurfaceOf(face) is { } surface
            ? Thing.OfSurface(reference, $"a {surface.Word}", surface, face.Centre, p => ShapeNumbers.Outward(face, surface, p)) with
            {
                Middle = face.Centre,
                Guide = face.Guide,
            }
            : null;
    }

    /// <summary>An edge, run through so that it has the face of the earlier name on its left, seen from outside: a way that
    /// does not change when the body is built anew.</summary>
    public static Thing? Edge(string reference, Topology topology, int index, Names names)
    {
        var edge = topology.Edges[index];
        if (ShapeNumbers.CurveOf(edge) is not { } curve)
        {
            return null;
        }

        if (edge.Faces is [var f, var g] && f != g)
        {
            var (first, second) = string.CompareOrdinal(names.Faces[f], names.Faces[g]) < 0 ? (f, g) : (g, f);
            var middle = (curve.From + curve.To) / 2;
            var at = curve.At(middle);
            if (
                ShapeNumbers.Normal(topology.Faces[first], at) is { } a
                && ShapeNumbers.Normal(topology.Faces[second], at) is { } b
                && curve.Tangent(middle).Dot(a.Cross(b)) < -Tolerances.Angle
            )
            {
                curve = curve.Reversed();
            }
        }

        // What stands on it follows the flat face beside it that comes first by name: its normal, or what is round its axes.
        var flat = edge
            .Faces.OrderBy(f => names.Faces[f], StringComparer.Ordinal)
            .Select(f => topology.Faces[f].Plane)
            .FirstOrDefault(p => p is not null);
        var guide = flat is { } on ? new AxisGuide(edge.Curve == "line" ? on.Z : on.X, on.Z) : AxisGuide.None;
        return CurvePath.Of(curve) is { Done: true } path ? Thing.OfCurve(reference, "an edge", path.Value) with { Guide = guide } : null;
    }

    /// <summary>Pieces of one plane, one cylinder or one line as that, without bounds; null where they are of different ones.</summary>
    public static Thing? AsOne(IReadOnlyList<Thing> pieces)
    {
        var first = pieces[0];
        bool Together(Line3 a, Line3 b) =>
            Math.Abs(Math.Abs(a.Direction.Dot(b.Direction)) - 1) < Tolerances.Angle && a.DistanceTo(b.Origin) < Tolerances.Length;
        return first switch
        {
            { Plane: { } plane }
                when pieces.All(p =>
                    p.Plane is { } other
                    && other.Z.Dot(plane.Z) > 1 - Tolerances.Angle
                    && Math.Abs((other.Origin - plane.Origin).Dot(plane.Z)) < Tolerances.Length
                ) => Thing.OfPlane(first.Reference, "", plane) with
            {
                Anchor = first.Anchor,
                Say = first.Say,
            },
            { Surface: CylinderSurface tube }
                when pieces.All(p =>
                    p.Surface is CylinderSurface other
                    && Math.Abs(other.Radius - tube.Radius) < Tolerances.Length
                    && Together(other.Axis, tube.Axis)
                ) => Thing.OfSurface(first.Reference, "", tube, first.Anchor, first.Outward) with
            {
                Guide = first.Guide,
                Say = first.Say,
            },
            { Line: { } line } when pieces.All(p => p.Line is { } other && Together(other, line)) => Thing.OfLine(
                first.Reference,
                "",
                line
            ) with
            {
                Anchor = first.Anchor,
                Say = first.Say,
            },
            _ => null,
        };
    }
}
