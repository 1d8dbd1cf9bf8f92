using Ratiogon.Core.Geometry;

namespace Ratiogon.Core.Meshes;

/// <summary>Surfaces laid through the corners of triangles: least squares, so that what a program cut into triangles is found as it
/// was before.</summary>
internal static class MeshFitting
{
    /// <summary>Squared spread of points, as a share of all of it, below which they have none that way.</summary>
    private const double NoSpread = 1e-20;

    /// <summary>The cylinder whose axis the normals stand square to; null where there is none.</summary>
    /// <param name="normals">Of the facets, unit vectors.</param>
    /// <param name="points">The corners.</param>
    public static CylinderSurface? Cylinder(IReadOnlyList<Vec3> normals, IReadOnlyList<Vec3> points)
    {
        var axis = Least(normals);
        var middle = Middle(points);
        var (u, v) = axis.Across();
        return Circle([.. points.Select(p => new Vec2((p - middle).Dot(u), (p - middle).Dot(v)))]) is var (centre, radius)
            ? new CylinderSurface(new Line3(middle + (u * centre.X) + (v * centre.Y), axis), radius)
            : null;
    }

    /// <summary>The sphere through points; null where they lie in a plane.</summary>
    public static SphereSurface? Sphere(IReadOnlyList<Vec3> points)
    {
        // |p|^2 = 2 c.p + k about the middle: three equations, for the mean takes k away.
        var middle = Middle(points);
        var moments = new double[3, 3];
        var right = new double[3];
        var mean = points.Average(p => (p - middle).Dot(p - middle));
        foreach (var p in points)
        {
            var d = p - middle;
            double[] at = [d.X, d.Y, d.Z];
            for (var i = 0; i < 3; i++)
            {
                right[i] += at[i] * (d.Dot(d) - mean) / 2;
                for (var j = 0; j < 3; j++)
                {
                    moments[i, j] += at[i] * at[j];
                }
            }
        }

        if (Solve(moments, right) is not { } c)
        {
            return null;
        }

        var centre = new Vec3(c[0], c[1], c[2]);
        return new SphereSurface(middle + centre, Math.Sqrt(mean + centre.Dot(centre)));
    }

    /// <summary>Centre and radius of the circle through points of a plane; null where they lie on a line.</summary>
    public static RoundOutline? Circle(IReadOnlyList<Vec2> points)
    {
        var middle = points.Aggregate(Vec2.Zero, (a, b) => a + b) / points.Count;
        double xx = 0,
            xy = 0,
            yy = 0,
            rx = 0,
            ry = 0;
        var mean = points.Average(p => (p - middle).Dot(p - middle));
        foreach (var p in points)
        {
            var d = p - middle;
            var far = (d.Dot(d) - mean) / 2;
            (xx, xy, yy, rx, ry) = (xx + (d.X * d.X), xy + (d.X * d.Y), yy + (d.Y * d.Y), rx + (d.X * far), ry + (d.Y * far));
        }

        var det = (xx * yy) - (xy * xy);
        if (det <= Tolerances.Rounding * (xx + yy) * (xx + yy))
        {
            return null;
        }

        var centre = new Vec2(((yy * rx) - (xy * ry)) / det, ((xx * ry) - (xy * rx)) / det);
        return new RoundOutline(middle + centre, Math.Sqrt(mean + centre.Dot(centre)));
    }

    private static Vec3 Middle(IReadOnlyList<Vec3> points) => points.Aggregate(Vec3.Zero, (a, b) => a + b) / points.Count;

    /// <summary>The direction that vectors have least of: the eigenvector of the smallest eigenvalue of their second moments, by
    /// Jacobi's rotations.</summary>
    private static Vec3 Least(IReadOnlyList<Vec3> vectors)
    {
        var m = new double[3, 3];
        foreach (var d in vectors)
        {
            double[] at = [d.X, d.Y, d.Z];
            for (var i = 0; i < 3; i++)
            {
                for (var j = 0; j < 3; j++)
                {
                    m[i, j] += at[i] * at[j];
                }
            }
        }

        double[,] axes =
        {
            { 1, 0, 0 },
            { 0, 1, 0 },
            { 0, 0, 1 },
        };
        var nothing = NoSpread * (m[0, 0] + m[1, 1] + m[2, 2]);
        ReadOnlySpan<(int, int)> planes = [(0, 1), (0, 2), (1, 2)];
        for (var (sweep, turned) = (0, true); turned && sweep < 30; sweep++)
        {
            turned = false;
            foreach (var (p, q) in planes)
            {
                if (Math.Abs(m[p, q]) <= nothing)
                {
                    continue;
                }

                turned = true;

                var angle = 0.5 * Math.Atan2(2 * m[p, q], m[q, q] - m[p, p]);
                var (c, s) = (Math.Cos(angle), Math.Sin(angle));
                for (var k = 0; k < 3; k++)
                {
                    (m[k, p], m[k, q]) = ((c * m[k, p]) - (s * m[k, q]), (s * m[k, p]) + (c * m[k, q]));
                    (axes[k, p], axes[k, q]) = ((c * axes[k, p]) - (s * axes[k, q]), (s * axes[k, p]) + (c * axes[k, q]));
                }

                for (var k = 0; k < 3; k++)
                {
                    (m[p, k], m[q, k]) = ((c * m[p, k]) - (s * m[q, k]), (s * m[p, k]) + (c * m[q, k]));
                }
            }
        }

        var least = Enumerable.Range(0, 3).MinBy(i => m[i, i]);
        return new Vec3(axes[0, least], axes[1, least], axes[2, least]).Unit;
    }

    /// <summary>Three equations by Cramer's rule; null where they do not determine the three.</summary>
    private static double[]? Solve(double[,] a, double[] b)
    {
        Vec3 Column(int j) => new(a[0, j], a[1, j], a[2, j]);
        var (x, y, z, r) = (Column(0), Column(1), Column(2), new Vec3(b[0], b[1], b[2]));
        var det = x.Dot(y.Cross(z));
        var scale = a[0, 0] + a[1, 1] + a[2, 2];
        return Math.Abs(det) <= Tolerances.Rounding * scale * scale * scale
            ? null
            : [r.Dot(y.Cross(z)) / det, x.Dot(r.Cross(z)) / det, x.Dot(y.Cross(r)) / det];
    }
}
