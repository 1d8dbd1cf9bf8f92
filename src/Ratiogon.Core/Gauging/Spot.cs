using System.Collections.Immutable;
using System.Globalization;
using Ratiogon.Core.Datums;
using Ratiogon.Core.Parts;

namespace Ratiogon.Core.Gauging;

/// <summary>
/// What a reading is taken of, as text: a reference, or a place made on the spot from one or two. <c>e/end^e/side/a@middle</c>
/// is the middle of an edge; the snaps are centre, middle, start, end and a share of the length such as <c>0.25</c>.
/// <c>a &amp; b@crossing</c> is where two curves meet or come nearest, <c>a &amp; b@halfway</c> lies between two places.
/// </summary>
/// <param name="Of">One reference, or two.</param>
/// <param name="Snap">None for the thing itself.</param>
public sealed record Spot(ImmutableArray<string> Of, string? Snap)
{
    private const string And = " & ";

    public static readonly ImmutableArray<string> Snaps = ["centre", "middle", "start", "end"];

    public bool Equals(Spot? other) => other is not null && Snap == other.Snap && Of.SequenceEqual(other.Of);

    public override int GetHashCode() => HashCode.Combine(Snap, Of.Length);

    public override string ToString() => $"{string.Join(And, Of)}{(Snap is null ? "" : $"@{Snap}")}";

    public static Outcome<Spot> Parse(string? text)
    {
        if (string.IsNullOrWhiteSpace(text) || text.Length > 4000)
        {
            return new Refusal("spot.empty", "Nothing is picked there.");
        }

        var at = text.LastIndexOf('@');
        var (of, snap) = at < 0 ? (text, null) : (text[..at], text[(at + 1)..].Trim());
        ImmutableArray<string> things = [.. of.Split(And).Select(t => t.Trim())];
        var share = double.TryParse(snap, NumberStyles.Float, CultureInfo.InvariantCulture, out var s);
        return things.Length > 2 || things.Any(t => t.Length == 0)
                ? new Refusal("spot.things", $"'{Ids.Shorten(text)}' is made of {things.Length} things; a place is made of one, or of two.")
            : snap is null && things.Length == 2
                ? new Refusal("spot.snap", $"'{Ids.Shorten(text)}' names two things: say @crossing or @halfway.")
            : snap is null
            || (things.Length == 1 && (Snaps.Contains(snap) || (share && s is >= 0 and <= 1)))
            || (things.Length == 2 && snap is "crossing" or "halfway")
                ? new Spot(things, snap)
            : new Refusal(
                "spot.snap",
                share
                    ? $"A share of a length is from 0 to 1, not {snap}."
                    : $"'@{Ids.Shorten(snap)}' is no place on {(things.Length == 1 ? "a thing" : "two things")}: use "
                        + $"{(things.Length == 1 ? string.Join(", ", Snaps) + " or a share of the length" : "crossing or halfway")}."
            );
    }

    /// <summary>The thing it names, or the place that it makes of it.</summary>
    public Outcome<Thing> In(IModel model)
    {
        ArgumentNullException.ThrowIfNull(model);
        return model
            .Find(Of[0])
            .Then<Thing>(a =>
            {
                if (Of.Length == 1)
                {
                    return Snap is null ? a : Place(a).Map(p => Thing.OfPoint(ToString(), $"the {Said} of {a.Words}", p));
                }

                return model
                    .Find(Of[1])
                    .Then(b =>
                        (Snap == "crossing" ? Crossing(a, b) : Halfway(a, b)).Map(p =>
                            Thing.OfPoint(
                                ToString(),
                                $"the {(Snap == "crossing" ? "crossing of" : "place halfway between")} {a.Words} and {b.Words}",
                                p
                            )
                        )
                    );
            });
    }

    private string Said => Snaps.Contains(Snap!) ? Snap! : $"place at {Snap} of the length";

    /// <summary>The snaps that a thing has.</summary>
    public static ImmutableArray<string> On(Thing thing)
    {
        ArgumentNullException.ThrowIfNull(thing);
        return [.. Snaps.Where(s => new Spot([thing.Reference], s).Place(thing).Done)];
    }

    private Outcome<Vec3> Place(Thing of)
    {
        Vec3? place = Snap switch
        {
            "centre" => of.Centre ?? (of.Axis is { } axis && of.Middle is { } m ? axis.Foot(m) : null),
            "middle" => of.Path is { } p ? p.AtLength(p.Length / 2).At : of.Middle,
            "start" => of.Path is { Closed: false } p ? p.Start : null,
            "end" => of.Path is { Closed: false } p ? p.End : null,
            _ => of.Path is { } p && double.TryParse(Snap, NumberStyles.Float, CultureInfo.InvariantCulture, out var share)
                ? p.AtLength(p.Length * share).At
                : null,
        };
        return place is { } at ? at : new Refusal("spot.none", $"{of.Words} has no {Said}.", of.Reference);
    }

    private static Outcome<Vec3> Crossing(Thing a, Thing b)
    {
        if (a.Straight is { } l && b.Straight is { } m)
        {
            var (here, there) = l.Nearest(m);
            return l.Direction.Cross(m.Direction).Length < Tolerances.Angle
                ? new Refusal("spot.parallel", $"{a.Words} and {b.Words} are parallel: they cross nowhere.")
                : (here + there) / 2;
        }

        var (line, flat) =
            a.Straight is { } one ? (one, b.Plane)
            : b.Straight is { } two ? (two, a.Plane)
            : (default, null);
        if (flat is { } plane)
        {
            var lean = line.Direction.Dot(plane.Z);
            return Math.Abs(lean) < Tolerances.Angle
                ? new Refusal("spot.parallel", $"{a.Words} and {b.Words} are parallel: they cross nowhere.")
                : line.At((plane.Origin - line.Origin).Dot(plane.Z) / lean);
        }

        if (a.Path is { } p && b.Path is { } q)
        {
            // From every step of the one to the nearest of the other and back, until it stands.
            var best = p.Curves.SelectMany(c => c.Steps().Select(c.At)).MinBy(v => q.AtLength(q.Nearest(v)).At.DistanceTo(v));
            for (var i = 0; i < 200; i++)
            {
                var there = q.AtLength(q.Nearest(best)).At;
                var back = p.AtLength(p.Nearest(there)).At;
                if (back.DistanceTo(best) < Tolerances.Rounding)
                {
                    break;
                }

                best = back;
            }

            return (best + q.AtLength(q.Nearest(best)).At) / 2;
        }

        return new Refusal("spot.crossing", $"{a.Words} and {b.Words} make no crossing: take two curves, or a line and a plane.");
    }

    private static Outcome<Vec3> Halfway(Thing a, Thing b) =>
        PlaceOf(a) is { } p && PlaceOf(b) is { } q
            ? (p + q) / 2
            : new Refusal("spot.halfway", $"{a.Words} and {b.Words} are not both places: take points, or round things with a centre.");

    /// <summary>The place that a thing stands for where one is needed: a point, a centre, the middle of a round face on its axis.</summary>
    public static Vec3? PlaceOf(Thing thing)
    {
        ArgumentNullException.ThrowIfNull(thing);
        return thing.Place ?? (thing.Axis is { } axis && thing.Middle is { } middle ? axis.Foot(middle) : null);
    }
}

/// <summary>A direction as text: anything straight or flat (its normal), from one place to another (<c>a &amp; b</c>), or three
/// numbers.</summary>
public static class Way
{
    public static Outcome<Heading> Of(IModel model, string text)
    {
        ArgumentNullException.ThrowIfNull(model);
        ArgumentNullException.ThrowIfNull(text);
        var numbers = text.Split([',', ' '], StringSplitOptions.RemoveEmptyEntries);
        if (numbers.Length == 3 && numbers.All(n => double.TryParse(n, NumberStyles.Float, CultureInfo.InvariantCulture, out _)))
        {
            var v = new Vec3(Number(numbers[0]), Number(numbers[1]), Number(numbers[2]));
            return v.Length > Tolerances.Angle && double.IsFinite(v.Length)
                ? new Heading(v.Unit, $"({string.Join(", ", numbers)})")
                : new Refusal("way.zero", "0, 0, 0 points nowhere.", "along");
        }

        if (text.Split(" & ") is [var from, var to])
        {
            return Spot.Parse(from)
                .Then(s => s.In(model))
                .Then(a =>
                    Spot.Parse(to)
                        .Then(s => s.In(model))
                        .Then<Heading>(b =>
                            Spot.PlaceOf(a) is not { } p || Spot.PlaceOf(b) is not { } q
                                ? new Refusal("way.places", $"{a.Words} and {b.Words} are not both places.", "along")
                            : p.DistanceTo(q) < Tolerances.Length
                                ? new Refusal("way.zero", $"{a.Words} and {b.Words} lie in one place: they give no direction.", "along")
                            : new Heading((q - p).Unit, $"from {a.Words} to {b.Words}")
                        )
                );
        }

        return model
            .Find(text)
            .Then<Heading>(t =>
                (t.Straight?.Direction ?? t.Plane?.Z ?? t.Frame?.Z) is { } way
                    ? new Heading(way, t.Words)
                    : new Refusal(
                        "way.none",
                        $"{t.Words} has no direction: take anything straight, a flat face, two points, or three numbers.",
                        "along"
                    )
            );
    }

    private static double Number(string text) => double.Parse(text, CultureInfo.InvariantCulture);
}

/// <summary>A direction, with the words for it.</summary>
/// <param name="Along">Unit length.</param>
/// <param name="Words">As shown.</param>
public readonly record struct Heading(Vec3 Along, string Words);
