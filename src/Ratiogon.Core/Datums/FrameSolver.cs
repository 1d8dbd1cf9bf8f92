using System.Collections.Immutable;
using Ratiogon.Core.Geometry;

namespace Ratiogon.Core.Datums;

/// <summary>Frames from conditions: an origin, and two directions made exactly square. Directions that nothing says follow
/// the world's axes as far as the others allow, and count as freedoms.</summary>
internal static class FrameSolver
{
    /// <summary>An axis that leans less than this against another is not told apart by a plane through both.</summary>
    private const double NearlyAlong = 1e-3;

    public static Determination Solve(IReadOnlyList<Condition> conditions)
    {
        var cases = Combinations.Write<FrameCase>(conditions);
        if (!cases.Done)
        {
            return Determination.None(cases.Refusal!);
        }

        var pieces = cases.Value.Select(c => c[0]).ToList();
        if (pieces.Count > 1 && pieces.FindIndex(p => p.Yields) is var free and >= 0)
        {
            pieces = Yielding(pieces, free);
        }

        if (pieces.Count(p => p.Origin is not null) > 1)
        {
            return Determination.None(
                new Refusal("datum.two-origins", "Two of the picks each fix the origin: let one of them give a direction instead.")
            );
        }

        var origin = pieces.Select(p => p.Origin).FirstOrDefault(o => o is not null);
        var at = origin ?? Vec3.Zero;
        var towards = pieces.Select(p => p.Towards).OfType<Vec3>().Select(p => p - at).ToList();
        var side = pieces.Select(p => p.Side).OfType<Vec3>().Select(p => p - at).ToList();
        var (xs, ys, zs) = (
            pieces.Select(p => p.X).OfType<Vec3>().Concat(towards).ToList(),
            pieces.Select(p => p.Y).OfType<Vec3>().Concat(side).ToList(),
            pieces.Select(p => p.Z).OfType<Vec3>().ToList()
        );
        if (xs.Count > 1 || ys.Count > 1 || zs.Count > 1 || (xs.Count + ys.Count + zs.Count > 2))
        {
            return Determination.None(new Refusal("datum.too-many-directions", "A frame takes two directions at most: the third follows."));
        }

        if ((towards.Count > 0 || side.Count > 0) && origin is null)
        {
            return new Determination(6, ["its origin is still free: a point takes that"], []);
        }

        var (x, y, z) = (
            xs.Select(v => (Vec3?)v).FirstOrDefault(),
            ys.Select(v => (Vec3?)v).FirstOrDefault(),
            zs.Select(v => (Vec3?)v).FirstOrDefault()
        );
        if (new[] { x, y, z }.Any(v => v is { } d && d.Length < Tolerances.Length))
        {
            return Determination.None(new Refusal("datum.same-point", "A point that gives a direction must lie away from the origin."));
        }

        if (Pair(x, y, z) is ({ } a, { } b) && a.Unit.Cross(b.Unit).Length < Tolerances.DatumAngle)
        {
            return Determination.None(
                new Refusal(
                    "datum.parallel",
                    "The two directions are parallel to within "
                        + $"{Reasons.Degrees(Math.Asin(Math.Min(1, a.Unit.Cross(b.Unit).Length)))}: they give only one axis."
                )
            );
        }

        var turn = pieces.Select(p => p.Turn).Aggregate(Vec3.Zero, (sum, t) => sum + t);
        var frame = Turned(Made(at, x, y, z, AxisGuide.First(pieces.Select(p => p.Guide))), turn);
        var given = (x is null ? 0 : 1) + (y is null ? 0 : 1) + (z is null ? 0 : 1);
        var left = ImmutableArray.CreateBuilder<string>();
        if (origin is null)
        {
            left.Add("its origin is still free: a point takes that");
        }

        if (given < 2)
        {
            left.Add(
                given == 0
                    ? "it can still turn every way: until then it keeps the world's directions"
                    : "it can still turn about the direction given: another direction takes that"
            );
        }

        return new Determination(
            (origin is null ? 3 : 0)
                + (
                    given == 2 ? 0
                    : given == 1 ? 1
                    : 3
                ),
            left.ToImmutable(),
            [new DatumSolution("", frame)]
        );
    }

    /// <summary>The free frame's own directions fill only what the others leave open: x where z is aimed, z where x is.</summary>
    private static List<FrameCase> Yielding(List<FrameCase> pieces, int free)
    {
        var own = pieces[free];
        var others = pieces.Where((_, i) => i != free).ToList();
        var (x, y, z) = (
            others.Any(p => p.X is not null || p.Towards is not null),
            others.Any(p => p.Y is not null || p.Side is not null),
            others.Any(p => p.Z is not null)
        );
        var turned = Turned(Made(Vec3.Zero, own.X, null, own.Z, own.Guide), own.Turn);
        var given = (x ? 1 : 0) + (y ? 1 : 0) + (z ? 1 : 0);
        if (given != 1)
        {
            return given > 1 ? Placed(others, own.Origin, null, null) : Placed(others, own.Origin, turned.X, turned.Y);
        }

        // The direction it is aimed at counts in full; its own x, or y where x is aimed, fills the turn about it. Where that
        // axis runs along the direction, the next one serves.
        Vec3 Kept(Vec3 axis, Vec3 next) =>
            others.Any(p => (p.X ?? p.Y ?? p.Z) is { } d && d.Unit.Cross(axis).Length < NearlyAlong) ? next : axis;
        return x ? Placed(others, own.Origin, null, Kept(turned.Y, turned.Z)) : Placed(others, own.Origin, Kept(turned.X, turned.Y), null);
    }

    private static List<FrameCase> Placed(List<FrameCase> others, Vec3? origin, Vec3? x, Vec3? y) =>
        [.. others, new FrameCase(others.Any(p => p.Origin is not null) ? null : origin, x, y)];

    private static (Vec3? A, Vec3? B) Pair(Vec3? x, Vec3? y, Vec3? z) =>
        x is not null ? (x, y ?? z)
        : y is not null && z is not null ? (y, z)
        : (null, null);

    private static Frame Made(Vec3 at, Vec3? x, Vec3? y, Vec3? z, AxisGuide guide)
    {
        Vec3 Square(Vec3 v) => guide.Given ? guide.Zero(new Line3(at, v.Unit)) : PlaneRelations.Upright(v.Unit);
        return (x, y, z) switch
        {
            ({ } a, null, { } c) => Frame.OfAxes(at, c, a),
            ({ } a, { } b, null) => Frame.OfAxes(at, a.Cross(b), a),
            (null, { } b, { } c) => Frame.OfAxes(at, c, b.Cross(c)),
            (null, null, { } c) => guide.On(at, c),
            ({ } a, null, null) => Frame.OfAxes(at, Square(a), a),
            (null, { } b, null) => Frame.OfAxes(at, Square(b), b.Cross(Square(b))),
            _ => Frame.World with { Origin = at },
        };
    }

    private static Frame Turned(Frame f, Vec3 turn)
    {
        f = turn.X != 0 ? f.Turned(f.X, turn.X) : f;
        f = turn.Y != 0 ? f.Turned(f.Y, turn.Y) : f;
        return turn.Z != 0 ? f.Turned(f.Z, turn.Z) : f;
    }
}
