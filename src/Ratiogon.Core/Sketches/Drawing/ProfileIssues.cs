using System.Collections.Immutable;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Regions;

namespace Ratiogon.Core.Sketches.Drawing;

/// <summary>Something about a profile that may not be meant.</summary>
/// <param name="Kind">gap, open, crossing or overlap.</param>
/// <param name="At">Where.</param>
/// <param name="Words">What it is.</param>
/// <param name="Of">The curves it is about.</param>
public sealed record ProfileIssue(string Kind, Vec2 At, string Words, ImmutableArray<string> Of)
{
    /// <summary>What closes a gap; null for anything else.</summary>
    public SketchEdit? Mend { get; init; }
}

/// <summary>Open ends, gaps, crossings and overlaps of a profile, where they are.</summary>
public static class ProfileIssues
{
    private const int Most = 40;

    public static ImmutableArray<ProfileIssue> Of(Sketch sketch, Arrangement arrangement, LengthUnit units, double size)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        ArgumentNullException.ThrowIfNull(arrangement);
        var issues = new List<ProfileIssue>();
        var done = new HashSet<string>(StringComparer.Ordinal);
        foreach (var end in arrangement.OpenEnds)
        {
            var point = EndAt(sketch, end.Entity, end.At);
            var other = arrangement
                .OpenEnds.Where(o => o != end && o.At.DistanceTo(end.At) <= (end.Gap * (1 + Tolerances.Apart)) + Tolerances.Rounding)
                .Select(o => (o.Entity, Point: EndAt(sketch, o.Entity, o.At)))
                .FirstOrDefault();
            if (end.Gap < size * 0.1 && point is not null && other.Point is not null && point != other.Point)
            {
                if (done.Add(string.CompareOrdinal(point, other.Point) < 0 ? $"{point} {other.Point}" : $"{other.Point} {point}"))
                {
                    issues.Add(
                        new ProfileIssue(
                            "gap",
                            end.At,
                            $"a gap of {Units.Show(Quantity.Length(end.Gap), units)} between {end.Entity} and {other.Entity}",
                            [end.Entity, other.Entity]
                        )
                        {
                            Mend = new SketchEdit { Merge = ImmutableDictionary<string, string>.Empty.Add(point, other.Point) },
                        }
                    );
                }
            }
            else
            {
                issues.Add(new ProfileIssue("open", end.At, $"{end.Entity} ends openly at {end.At}", [end.Entity]));
            }
        }

        issues.AddRange(
            arrangement.CrossedAt.Select(c => new ProfileIssue("crossing", c.At, $"{c.A} and {c.B} cross at {c.At}", [c.A, c.B]))
        );
        issues.AddRange(
            arrangement.Overlaps.Select(o => new ProfileIssue(
                "overlap",
                o.At,
                $"{o.A} and {o.B} lie on top of each other at {o.At}",
                [o.A, o.B]
            ))
        );
        return [.. issues.Take(Most)];
    }

    private static string? EndAt(Sketch sketch, string entity, Vec2 at) =>
        sketch.Find(entity) is { } e && Curves.Ends(e) is var (from, to)
            ? (sketch.At(from).DistanceTo(at) <= sketch.At(to).DistanceTo(at) ? from : to)
            : null;
}
