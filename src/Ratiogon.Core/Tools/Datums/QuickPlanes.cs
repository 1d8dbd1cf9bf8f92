using System.Collections.Immutable;
using Ratiogon.Core.Building;
using Ratiogon.Core.Datums;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Tools.Datums;

/// <summary>A plane for a quick sketch: through one point facing the main direction nearest to the view, or through two,
/// turned about their line to face the view best.</summary>
public static class QuickPlanes
{
    /// <summary>A plane seen flatter than this cannot be drawn on, in radians.</summary>
    public const double EdgeOn = 5 * Math.PI / 180;

    /// <param name="model">The model.</param>
    /// <param name="picks">One or two references to points, or to things with a centre or ends.</param>
    /// <param name="towards">From the model to the eye; unit vector.</param>
    /// <returns>The draft of the plane, or why the view does not allow one.</returns>
    public static Outcome<DatumDraft> Of(Model model, ImmutableArray<string> picks, Vec3 towards)
    {
        ArgumentNullException.ThrowIfNull(model);
        var places = new List<Vec3>();
        foreach (var pick in picks)
        {
            var found = model.Find(pick);
            if (!found.Done)
            {
                return found.Refusal!;
            }

            if (found.Value.Place is not { } p)
            {
                return new Refusal("quick.no-point", $"{found.Value.Words} is no point; pick a point or a centre.", pick);
            }

            places.Add(p);
        }

        return places.Count switch
        {
            1 => Facing(picks[0], model, towards),
            2 => Turned(model, picks, places[0], places[1], towards),
            _ => new Refusal("quick.picks", "A quick plane takes one point or two."),
        };
    }

    /// <summary>Why a plane cannot be drawn on from a view, with the way to turn; null where it can.</summary>
    public static Refusal? SeenEdgeOn(Frame plane, Vec3 towards)
    {
        var seen = Math.Asin(Math.Min(1, Math.Abs(plane.Z.Dot(towards))));
        if (seen > EdgeOn)
        {
            return null;
        }

        // Turning about the longer of the plane's own directions across the view brings it into sight.
        var away = plane.Z - (towards * plane.Z.Dot(towards));
        var way = Math.Abs(away.Z) > Math.Max(Math.Abs(away.X), Math.Abs(away.Y)) ? "up or down" : "left or right";
        return new Refusal(
            "plane.edge-on",
            $"The plane is seen edge-on ({seen * 180 / Math.PI:0.#} deg): turn the view {way} to draw on it."
        );
    }

    private static DatumDraft Facing(string pick, Model model, Vec3 towards)
    {
        var main = World.Planes.MaxBy(w => Math.Abs(World.Plane(w)!.Value.Z.Dot(towards)))!;
        var draft = new DatumDraft
        {
            Makes = DatumKind.Plane,
            Conditions =
            [
                new DatumCondition(model.Find(pick).Value.Point is null ? "through-centre" : "through", [pick]),
                new DatumCondition("parallel", [main]),
            ],
        };

        // Its front is the side that is seen.
        var seen = model.Resolve(DatumKind.Plane, draft.Conditions).Map(c => DatumSolver.Solve(DatumKind.Plane, c));
        return seen is { Done: true, Value.Solutions: [var only, ..] } && only.Frame.Z.Dot(towards) < 0
            ? draft with
            {
                Flip = true,
            }
            : draft;
    }

    private static Outcome<DatumDraft> Turned(Model model, ImmutableArray<string> picks, Vec3 a, Vec3 b, Vec3 towards)
    {
        if (a.DistanceTo(b) < Tolerances.Length)
        {
            return new Refusal("datum.same-point", "The two points are the same place.");
        }

        var along = (b - a).Unit;
        var best = towards - (along * along.Dot(towards));
        if (best.Length < Math.Sin(EdgeOn))
        {
            return new Refusal(
                "plane.edge-on",
                "The view looks along the line of the two points, so every plane through them is seen edge-on: turn the view aside."
            );
        }

        var zero = PlaneRelations.Upright(along);
        var turn = Math.Atan2(along.Dot(zero.Cross(best.Unit)), zero.Dot(best.Unit));
        return new DatumDraft
        {
            Makes = DatumKind.Plane,
            Conditions = [new DatumCondition("turned", picks) { Values = [Units.Show(Quantity.Angle(turn), model.Part.Units, 2)] }],
        };
    }
}
