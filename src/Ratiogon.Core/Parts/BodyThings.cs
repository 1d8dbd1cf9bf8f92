using Ratiogon.Core.Datums;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Naming;

namespace Ratiogon.Core.Parts;

/// <summary>Faces and edges of a body as things to build on.</summary>
internal static class BodyThings
{
    public static Thing? Face(string reference, FaceShape face, string of)
    {
        if (face.Plane is { } plane)
        {
            return Thing.OfPlane(reference, $"a face of {of}", plane) with { Middle = face.Centre, Anchor = face.Centre };
        }

        return ShapeNumbers.SurfaceOf(face) is { } surface
            ? Thing.OfSurface(reference, $"a {surface.Word} of {of}", surface, face.Centre, p => ShapeNumbers.Outward(face, surface, p)) with { Middle = face.Centre }
            : null;
    }

    /// <summary>An edge, run through so that it has the face of the earlier name on its left, seen from outside: a way that
    /// does not change when the body is built anew.</summary>
    public static Thing? Edge(string reference, Topology topology, int index, Names names, string of)
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
            if (Normal(topology.Faces[first], at) is { } a && Normal(topology.Faces[second], at) is { } b && curve.Tangent(middle).Dot(a.Cross(b)) < -1e-9)
            {
                curve = curve.Reversed();
            }
        }

        var word = edge.Curve switch { "line" => "an edge", "other" => "a free-form edge", "ellipse" => "an elliptic edge", _ => "a circular edge" };
        return CurvePath.Of(curve) is { Done: true } path ? Thing.OfCurve(reference, $"{word} of {of}", path.Value) : null;
    }

    private static Vec3? Normal(FaceShape face, Vec3 at) => face.Plane is { } plane ? plane.Z : ShapeNumbers.SurfaceOf(face) is { } surface ? ShapeNumbers.Outward(face, surface, at) : null;
}
