using Ratiogon.Core.Numerics.Equations;

namespace Ratiogon.Core.Sketches.Writing;

/// <summary>The equations that entities bring along: an arc's ends lie on its circle, an ellipse's semi-axes are
/// square, a spline's slopes follow from its points.</summary>
internal static class OwnRules
{
    public static void Write(SystemWriter writer, SketchEntity entity)
    {
        switch (entity)
        {
            case ArcEntity arc:
                var (cx, cy) = writer.PointOf(arc);
                foreach (var end in writer.Contacts.OwnEnds(arc).Select(writer.PointIndex))
                {
                    writer.Add(new OnCircle(end, end + 1, cx, cy, writer.RadiusOf(arc)));
                }

                break;
            case EllipticEntity ellipse:
                var (c, f, s) = (writer.PointIndex(ellipse.Centre), writer.PointIndex(ellipse.First), writer.PointIndex(ellipse.Second));
                if (!writer.Contacts.IsPlaced(ellipse.Id) && writer.FirstOnAxes(c, f, s))
                {
                    AngledLines.Write(writer, [c, c + 1, f, f + 1], [c, c + 1, s, s + 1], Math.PI / 2);
                }

                if (ellipse is EllipticArcEntity piece)
                {
                    writer.PutOn(piece, piece.From);
                    writer.PutOn(piece, piece.To);
                }

                break;
            case SplineEntity spline:
                Slopes(writer, spline);
                break;
        }
    }

    /// <summary>The equations of <see cref="Geometry.SplineCurve"/>, coordinate by coordinate, divided by a slope's size.</summary>
    private static void Slopes(SystemWriter writer, SplineEntity spline)
    {
        var n = spline.Through.Length;
        var h = spline.Spans;
        for (var axis = 0; axis < 2; axis++)
        {
            int P(int i) => writer.PointIndex(spline.Through[i]) + axis;
            int M(int i) => writer.SlopeIndex(spline, i) + axis;
            for (var i = 0; i < n; i++)
            {
                if (i == 0 && spline.FromHandle is { } q)
                {
                    writer.Add(new Linear([M(0), writer.PointIndex(q) + axis, P(0)], [1, -3 / h[0], 3 / h[0]], 0));
                }
                else if (i == 0)
                {
                    writer.Add(new Linear([M(0), M(1), P(1), P(0)], [2, 1, -3 / h[0], 3 / h[0]], 0));
                }
                else if (i == n - 1 && spline.ToHandle is { } r)
                {
                    writer.Add(new Linear([M(i), P(i), writer.PointIndex(r) + axis], [1, -3 / h[i - 1], 3 / h[i - 1]], 0));
                }
                else if (i == n - 1)
                {
                    writer.Add(new Linear([M(i - 1), M(i), P(i), P(i - 1)], [1, 2, -3 / h[i - 1], 3 / h[i - 1]], 0));
                }
                else
                {
                    var (a, b) = (3 * h[i] / h[i - 1], 3 * h[i - 1] / h[i]);
                    writer.Add(
                        new Linear(
                            [M(i - 1), M(i), M(i + 1), P(i - 1), P(i), P(i + 1)],
                            [h[i], 2 * (h[i - 1] + h[i]), h[i - 1], a, b - a, -b],
                            0
                        )
                    );
                }
            }
        }
    }
}
