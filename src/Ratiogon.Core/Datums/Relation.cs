using System.Collections.Immutable;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Datums;

/// <summary>A value that a relation needs.</summary>
/// <param name="Name">As stored and shown.</param>
/// <param name="Kind">Length, angle or plain number.</param>
/// <param name="Default">The formula it begins with, with a unit.</param>
/// <param name="Inch">The same where lengths are shown in inches.</param>
public sealed record RelationField(string Name, Dimension Kind, string Default, string? Inch = null);

/// <summary>How a datum may stand to what was picked: one row of the catalogue. A new one is one line in the catalogue of
/// its kind.</summary>
/// <param name="Name">As stored.</param>
/// <param name="Makes">Which datums it helps to determine.</param>
/// <param name="Words">Before the thing's name; "between" relations put "and" between two.</param>
/// <param name="Things">How many things it takes: 1 or 2; coordinates take none or one.</param>
/// <param name="Fields">Values that it needs.</param>
/// <param name="Cost">How far-fetched it is: what is offered first costs least.</param>
public abstract record Relation(string Name, DatumKind Makes, string Words, int Things, ImmutableArray<RelationField> Fields, int Cost)
{
    /// <summary>Between two things.</summary>
    public string And { get; init; } = "and";

    /// <summary>Whether it can be said of these things.</summary>
    public required Func<IReadOnlyList<Thing>, bool> Fits { get; init; }

    /// <summary>Of things that it can be said of: whether it is thought of by itself, and not only where it is named.</summary>
    public Func<IReadOnlyList<Thing>, bool> Natural { get; init; } = _ => true;

    /// <summary>The relation in words, said of things.</summary>
    public string Say(IReadOnlyList<Thing> of)
    {
        ArgumentNullException.ThrowIfNull(of);
        return of.Count == 0 ? Words : $"{Words} {string.Join($" {And} ", of.Select(t => t.Words))}";
    }
}

/// <summary>A relation with what it says, in the terms of its kind's solver.</summary>
internal sealed record Relation<TCase>(
    string Name,
    DatumKind Makes,
    string Words,
    int Things,
    ImmutableArray<RelationField> Fields,
    int Cost
) : Relation(Name, Makes, Words, Things, Fields, Cost)
{
    /// <summary>Every way in which it can hold, or why it cannot.</summary>
    public required Func<IReadOnlyList<Thing>, double[], Outcome<ImmutableArray<TCase>>> Write { get; init; }
}

/// <summary>A condition ready to be solved.</summary>
/// <param name="Relation">From the catalogue.</param>
/// <param name="Of">As many things as the relation takes.</param>
/// <param name="Values">In millimetres and radians, one for each field.</param>
public sealed record Condition(Relation Relation, ImmutableArray<Thing> Of, ImmutableArray<double> Values)
{
    public string Words => Relation.Say(Of);
}

/// <summary>Every relation.</summary>
public static class RelationCatalog
{
    public static IReadOnlyList<Relation> All { get; } =
    [.. PlaneRelations.All, .. AxisRelations.All, .. PointRelations.All, .. FrameRelations.All];

    private static readonly Dictionary<(DatumKind, string), Relation> Known = All.ToDictionary(r => (r.Makes, r.Name));

    public static Relation? Find(DatumKind kind, string name) => Known.GetValueOrDefault((kind, name));

    /// <summary>The relations that can be said of these things and are thought of by themselves.</summary>
    public static IEnumerable<Relation> Fitting(DatumKind kind, IReadOnlyList<Thing> of) =>
        All.Where(r => r.Makes == kind && r.Things == of.Count && r.Fits(of) && r.Natural(of));
}

/// <summary>Fields that several relations share.</summary>
internal static class Field
{
    public static readonly RelationField Distance = new("distance", Dimension.OfLength, "10 mm", "1/2 in");
    public static readonly RelationField Angle = new("angle", Dimension.OfAngle, "45 deg");
    public static readonly RelationField Fraction = new("fraction", Dimension.None, "0.5");
    public static readonly RelationField Length = new("length", Dimension.OfLength, "10 mm", "1/2 in");

    public static RelationField Coordinate(string name) => new(name, Dimension.OfLength, "0 mm", "0 in");
}

/// <summary>Places and tangents along a path for relations with a fraction or a length.</summary>
internal static class AlongPath
{
    private const int Frames = 65;

    /// <summary>What axes square to a path at a length follow: the normal of the plane that all of it lies in, or else a direction
    /// that turns about the path as little as possible.</summary>
    public static AxisGuide Guide(CurvePath path, AxisGuide own, double length)
    {
        var places = Enumerable.Range(0, Frames).Select(i => path.Length * i / (Frames - 1)).ToList();
        if (own.Y != Vec3.Zero && places.TrueForAll(s => Math.Abs(path.AtLength(s).Tangent.Dot(own.Y)) < Tolerances.DatumAngle))
        {
            return new AxisGuide(Vec3.Zero, own.Y);
        }

        var frames = MovingFrames.Along(path, own.X != Vec3.Zero ? own.X : path.AtLength(0).Tangent.Across().A, Frames);
        var at = Math.Clamp(length / path.Length, 0, 1) * (Frames - 1);
        var before = Math.Min((int)at, Frames - 2);
        return new AxisGuide(Vec3.Zero, (frames[before].Normal * (before + 1 - at)) + (frames[before + 1].Normal * (at - before)));
    }

    /// <summary>The place. Off the end of an open path is refused with the path's length; round a closed one a fraction goes on as often
    /// as it says, but a length beyond the path's own is refused: it is more likely a wrong number.</summary>
    public static Outcome<PathPlace> At(CurvePath path, double value, bool fraction)
    {
        var length = fraction ? value * path.Length : value;
        return (path.Closed && fraction) || (length >= -Tolerances.Apart * path.Length && length <= path.Length * (1 + Tolerances.Apart))
                ? path.AtLength(length)
            : path.Closed
                ? new Refusal(
                    "datum.off-path",
                    $"The path is {path.Length:0.###} mm all the way round; {value:0.###} mm lies "
                        + $"{(value < 0 ? "before its beginning" : "beyond that")}."
                )
            : new Refusal(
                "datum.off-path",
                fraction
                    ? $"A fraction lies between 0 and 1, not at {value:0.####}: the path stops at its ends."
                    : $"The path is {path.Length:0.###} mm long; {value:0.###} mm lies off its end."
            );
    }
}
