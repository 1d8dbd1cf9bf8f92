using System.Collections.Immutable;
using Ratiogon.Core.Datums;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Constraints;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Core.Building;

/// <summary>What of the model is copied, as curves in the sketch plane.</summary>
public static partial class SketchCopies
{
    private static Outcome<(IReadOnlyList<Piece> Pieces, string? Choice)> Drawn(
        Model model,
        Thing thing,
        CopyHow how,
        Frame plane,
        string? choice
    ) =>
        how switch
        {
            CopyHow.Crossing => Crossing(thing, plane, choice)
                .Map(c => ((IReadOnlyList<Piece>)[new PointPiece(plane.ToPlane(c.At))], (string?)c.Label)),
            CopyHow.Section => Section(model, thing, plane).Map(p => (p, (string?)null)),
            _ => Seen(thing, plane).Map(p => (p, (string?)null)),
        };

    /// <summary>Where a line or a curve meets the plane; of several the first, or the one chosen before.</summary>
    private static Outcome<(Vec3 At, string Label)> Crossing(Thing thing, Frame plane, string? choice)
    {
        if (thing.Straight is null && thing.Path is null)
        {
            return new Refusal(
                "copy.no-curve",
                $"{thing.Words} is no curve: a crossing point needs an edge, an axis or a curve.",
                thing.Reference
            );
        }

        // A straight edge counts only as far as it goes: a crossing beyond its end is none.
        var on = thing.Path is not null ? thing with { Line = null, Axis = null } : thing;
        var relation = RelationCatalog.Find(
            DatumKind.Point,
            on.Path is not null ? "on-curve"
                : thing.Line is not null ? "on-line"
                : "on-axis"
        )!;
        var met = DatumSolver.Solve(
            DatumKind.Point,
            [
                new Condition(relation, [on], []),
                new Condition(RelationCatalog.Find(DatumKind.Point, "on-plane")!, [Thing.OfPlane("plane", "the sketch plane", plane)], []),
            ]
        );
        if (met.Refusal is not null || met.Solutions.IsEmpty || met.Free > 0)
        {
            var gap = thing.Path is { } path
                ? path.Curves.SelectMany(c => c.Steps().Select(c.At)).Min(p => Math.Abs(Plane3.Of(plane).Side(p)))
                : double.NaN;
            return new Refusal(
                "copy.no-crossing",
                $"{thing.Words} does not meet the sketch plane"
                    + (
                        double.IsNaN(gap) ? "."
                        : gap < Tolerances.Length ? ": it lies in it."
                        : $": its nearest place is {gap:0.###} mm off it."
                    ),
                thing.Reference
            );
        }

        return DatumSolver.Choose(met, choice).Map(s => (s.Frame.Origin, s.Label));
    }

    private static Outcome<IReadOnlyList<Piece>> Section(Model model, Thing thing, Frame plane)
    {
        if (model.Section is not { } section)
        {
            return new Refusal("copy.no-body", "There is no body to cut with the sketch plane yet.");
        }

        return section(plane)
            .Then<IReadOnlyList<Piece>>(curves =>
            {
                var of = curves.Where(c => thing.Box is not null || c.Face == thing.Reference).ToList();
                if (of.Count == 0)
                {
                    var middle = thing.Middle ?? thing.Anchor;
                    return new Refusal(
                        "copy.section-misses",
                        $"The sketch plane misses {thing.Words}: its middle lies {Math.Abs(Plane3.Of(plane).Side(middle)):0.###} mm off "
                            + "the plane.",
                        thing.Reference
                    );
                }

                var pieces = of.Select(c => Piece.Of(c.Curve, plane)).ToList();
                return pieces.FirstOrDefault(p => !p.Done) is { Refusal: { } refusal } ? refusal : Outcomes(pieces);
            });
    }

    private static Outcome<IReadOnlyList<Piece>> Outcomes(List<Outcome<Piece>> pieces) => pieces.Select(p => p.Value).ToList();

    /// <summary>A thing as seen square onto the plane.</summary>
    private static Outcome<IReadOnlyList<Piece>> Seen(Thing thing, Frame plane)
    {
        if (thing.Point is { } p)
        {
            return new List<Piece> { new PointPiece(plane.ToPlane(p)) };
        }

        if (thing.Path is { } path)
        {
            var pieces = path.Curves.Select(c => Piece.Of(c, plane)).ToList();
            return pieces.FirstOrDefault(o => !o.Done) is { Refusal: { } refusal } ? refusal : Outcomes(pieces);
        }

        if (thing.Straight is { } line)
        {
            // An axis without ends is drawn as far as the sketch might want it.
            var (a, b) = (plane.ToPlane(line.Origin), plane.ToPlane(line.Origin + (line.Direction * 50)));
            return a.DistanceTo(b) < Tolerances.KernelLength * 50
                ? new List<Piece> { new PointPiece(a) }
                : new List<Piece> { new LinePiece(a - (b - a), b) };
        }

        return thing.Plane is { } other
            ? Trace(other, plane, thing)
            : new Refusal("copy.kind", $"{thing.Words} cannot be copied as it is: pick its edges, or take its section.", thing.Reference);
    }

    /// <summary>The line where another plane meets the sketch plane.</summary>
    private static Outcome<IReadOnlyList<Piece>> Trace(Frame other, Frame plane, Thing thing)
    {
        var along = other.Z.Cross(plane.Z);
        if (along.Length < Flat * 100)
        {
            return new Refusal(
                "copy.parallel",
                $"{thing.Words} runs parallel to the sketch plane, {Math.Abs(Plane3.Of(plane).Side(other.Origin)):0.###} mm off: "
                    + "they meet nowhere.",
                thing.Reference
            );
        }

        // From the sketch origin's foot on the line, along it both ways.
        var u = along.Unit;
        var across = u.Cross(plane.Z);
        var foot = plane.Origin + (across * (-Plane3.Of(other).Side(plane.Origin) / other.Z.Dot(across)));
        return new List<Piece> { new LinePiece(plane.ToPlane(foot - (u * 50)), plane.ToPlane(foot + (u * 50))) };
    }

    /// <summary>One curve as it is drawn in the sketch.</summary>
    private abstract record Piece
    {
        public abstract void Into(Draft draft);

        public static Outcome<Piece> Of(SpaceCurve curve, Frame plane)
        {
            Vec2 At(double t) => plane.ToPlane(curve.At(t));
            var (from, to) = (At(curve.From), At(curve.To));
            switch (curve)
            {
                case SegmentCurve:
                    return from.DistanceTo(to) < Tolerances.KernelLength ? new PointPiece(from) : new LinePiece(from, to);
                case RoundCurve r:
                    return Round(r, plane, from, to);
                default:
                    if (curve.Reversed() is SegmentCurve or RoundCurve)
                    {
                        return Of(curve.Reversed(), plane);
                    }

                    var steps = curve.Steps();
                    var places = steps.Where((_, i) => i % 4 == 0 || i == steps.Count - 1).Select(At).ToList();
                    return new SplinePiece([.. places.Where((p, i) => i == 0 || p.DistanceTo(places[i - 1]) > Tolerances.KernelLength)]);
            }
        }

        private static Outcome<Piece> Round(RoundCurve r, Frame plane, Vec2 from, Vec2 to)
        {
            var centre = plane.ToPlane(r.Centre);
            var (u, v) = (new Vec2(r.U.Dot(plane.X), r.U.Dot(plane.Y)), new Vec2(r.V.Dot(plane.X), r.V.Dot(plane.Y)));
            var whole = r.End - r.Start > (2 * Math.PI) - Tolerances.Angle;
            var area = u.Cross(v);
            if (Math.Abs(area) < Flat * r.U.Length * r.V.Length)
            {
                // Seen edge-on: as far as it reaches.
                var way = u.Length > v.Length ? u.Unit : v.Unit;
                var steps = r.Steps().Select(t => (plane.ToPlane(r.At(t)) - centre).Dot(way)).ToList();
                return new LinePiece(centre + (way * steps.Min()), centre + (way * steps.Max()));
            }

            (from, to) = area > 0 ? (from, to) : (to, from);
            if (Math.Abs(u.Length - v.Length) < Flat * u.Length && Math.Abs(u.Dot(v)) < Flat * u.Length * u.Length)
            {
                return whole ? new CirclePiece(centre, u.Length) : new ArcPiece(centre, from, to, u.Length);
            }

            // Conjugate semi-diameters to semi-axes: the turn that makes them square (Rytz).
            var t = Math.Atan2(2 * u.Dot(v), u.Dot(u) - v.Dot(v)) / 2;
            var (first, second) = ((u * Math.Cos(t)) + (v * Math.Sin(t)), (v * Math.Cos(t)) - (u * Math.Sin(t)));
            second = first.Left * (second.Length / first.Length) is var exact && exact.Dot(second) >= 0 ? exact : -exact;
            return new EllipsePiece(centre, centre + first, centre + second, whole ? null : (from, to));
        }
    }

    private sealed record PointPiece(Vec2 At) : Piece
    {
        public override void Into(Draft draft) => draft.NewPoint(At);
    }

    private sealed record LinePiece(Vec2 A, Vec2 B) : Piece
    {
        public override void Into(Draft draft) => draft.Add(new LineEntity(draft.NewId("l"), draft.NewPoint(A), draft.NewPoint(B)));
    }

    private sealed record CirclePiece(Vec2 Centre, double Radius) : Piece
    {
        public override void Into(Draft draft) => draft.Add(new CircleEntity(draft.NewId("c"), draft.NewPoint(Centre), Radius));
    }

    private sealed record ArcPiece(Vec2 Centre, Vec2 From, Vec2 To, double Radius) : Piece
    {
        public override void Into(Draft draft) =>
            draft.Add(new ArcEntity(draft.NewId("a"), draft.NewPoint(Centre), draft.NewPoint(From), draft.NewPoint(To), Radius));
    }

    private sealed record EllipsePiece(Vec2 Centre, Vec2 First, Vec2 Second, (Vec2 From, Vec2 To)? Ends) : Piece
    {
        public override void Into(Draft draft)
        {
            var (c, f, s) = (draft.NewPoint(Centre), draft.NewPoint(First), draft.NewPoint(Second));
            draft.Add(
                Ends is { } ends
                    ? new EllipticArcEntity(draft.NewId("e"), c, f, s, draft.NewPoint(ends.From), draft.NewPoint(ends.To))
                    : new EllipseEntity(draft.NewId("e"), c, f, s)
            );
        }
    }

    private sealed record SplinePiece(ImmutableArray<Vec2> Through) : Piece
    {
        public override void Into(Draft draft) =>
            draft.Add(new SplineEntity(draft.NewId("s"), [.. Through.Select(p => draft.NewPoint(p))], Curves.SpansOf(Through)));
    }
}
