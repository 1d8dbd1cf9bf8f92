namespace Ratiogon.Core.Numerics;

/// <summary>
/// Where a block of equations starts from: not where its unknowns were drawn, but where what they hang on has carried them.
/// The points that the block leans on have moved by earlier blocks; the block's own points follow as if all were one rigid
/// thing (the least-squares rotation between two sets of points; Umeyama, IEEE PAMI 13, 1991).
/// </summary>
internal static class BlockStart
{
    /// <summary>Moves the block's coordinates in x along with what they lean on. False where nothing has moved.</summary>
    /// <param name="system">The whole system.</param>
    /// <param name="equations">Equations of the block.</param>
    /// <param name="mine">Marks the unknowns of the block.</param>
    /// <param name="x">All unknowns, those of earlier blocks solved.</param>
    public static bool Carry(EquationSystem system, int[] equations, Func<int, bool> mine, double[] x)
    {
        var (seen, own) = (new HashSet<int>(), new List<int>());
        double n = 0,
            ox = 0,
            oy = 0,
            nx = 0,
            ny = 0,
            way = 0;
        var leans = new List<int>();
        foreach (var e in equations)
        {
            foreach (var raw in system.Equations[e].RawVariables)
            {
                if (system.Partner[raw] is not (var other and >= 0) || !seen.Add(Math.Min(raw, other)))
                {
                    continue;
                }

                var first = Math.Min(raw, other);
                if (IsMine(first) || IsMine(first + 1))
                {
                    own.Add(first);
                    continue;
                }

                leans.Add(first);
                var (was, now) = (At(system.Start, first), At(x, first));
                (n, ox, oy, nx, ny) = (n + 1, ox + was.X, oy + was.Y, nx + now.X, ny + now.Y);
                way = Math.Max(way, Math.Abs(now.X - was.X) + Math.Abs(now.Y - was.Y));
            }
        }

        if (own.Count == 0 || !(way > Tolerances.Rounding * system.Size))
        {
            return false;
        }

        (ox, oy, nx, ny) = (ox / n, oy / n, nx / n, ny / n);
        var (cos, sin) = (0.0, 0.0);
        foreach (var p in leans)
        {
            var (was, now) = (At(system.Start, p), At(x, p));
            var (ax, ay, bx, by) = (was.X - ox, was.Y - oy, now.X - nx, now.Y - ny);
            (cos, sin) = (cos + (ax * bx) + (ay * by), sin + (ax * by) - (ay * bx));
        }

        var size = Math.Sqrt((cos * cos) + (sin * sin));
        (cos, sin) = size > 0 ? (cos / size, sin / size) : (1, 0);
        var placed = new HashSet<int>();
        foreach (var p in own)
        {
            var was = At(system.Start, p);
            var (dx, dy) = (was.X - ox, was.Y - oy);
            Put(p, nx + (cos * dx) - (sin * dy));
            Put(p + 1, ny + (sin * dx) + (cos * dy));
        }

        return true;

        bool IsMine(int raw) => system.UnknownOf(raw) is var u and >= 0 && mine(u);

        (double X, double Y) At(double[] of, int raw) => (system.ValueAt(of, raw), system.ValueAt(of, raw + 1));

        void Put(int raw, double value)
        {
            if (IsMine(raw) && placed.Add(system.UnknownOf(raw)))
            {
                x[system.UnknownOf(raw)] = value - system.OffsetOf(raw);
            }
        }
    }
}
