using System.Collections.Immutable;
using System.Globalization;
using System.Runtime.CompilerServices;
using System.Text.RegularExpressions;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Sketches;

/// <summary>
/// The entities of a sketch as people call them: <c>upper left circle ⌀ 7.4</c>, <c>right side of the rectangle</c>, and by the name
/// that somebody gave. No two entities of a sketch have the same words.
/// </summary>
public sealed partial class EntityWords
{
    private static readonly ConditionalWeakTable<Sketch, EntityWords> Kept = [];
    private readonly Sketch sketch;
    private readonly LengthUnit unit;
    private readonly Lazy<Dictionary<string, string>> words;

    private EntityWords(Sketch sketch, LengthUnit unit)
    {
        (this.sketch, this.unit) = (sketch, unit);
        words = new(All);
    }

    /// <summary>The words of a sketch; worked out once, when the first is asked for.</summary>
    /// <param name="sketch">As it stands.</param>
    /// <param name="unit">What sizes are said in.</param>
    public static EntityWords Of(Sketch sketch, LengthUnit unit = LengthUnit.Millimetre)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        var kept = Kept.GetValue(sketch, s => new EntityWords(s, unit));
        return kept.unit == unit ? kept : new EntityWords(sketch, unit);
    }

    /// <summary>What an entity is called, without an article; the id itself of what the sketch does not have.</summary>
    public string this[string id] =>
        id == Sketch.Origin ? "origin"
        : id == Sketch.XAxis ? "x axis"
        : id == Sketch.YAxis ? "y axis"
        : words.Value.GetValueOrDefault(id, id);

    /// <summary>The same with an article where it describes: <c>the top side of the rectangle</c>; a name stands as it is.</summary>
    public string The(string id) => this[id] == id ? id : $"the {this[id]}";

    /// <summary>Whether an id was made by the program rather than given by somebody.</summary>
    public static bool IsMade(string id) => MadeId().IsMatch(id);

    [GeneratedRegex(@"^[a-z]{1,2}\d+(\.|$)|^[a-z]+\d+\.", RegexOptions.CultureInvariant)]
    private static partial Regex MadeId();

    private Dictionary<string, string> All()
    {
        var told = new Dictionary<string, string>(StringComparer.Ordinal);
        var shapes = ShapeWords();
        foreach (var curve in sketch.Entities.Where(e => e is not PointEntity))
        {
            told[curve.Id] = Member(curve.Id, shapes, OfShape(curve)) ?? (IsMade(curve.Id) ? Plain(curve) : curve.Id);
        }

        Distinguish(told, sketch.Entities.Where(e => e is not PointEntity).Select(e => e.Id), Middle);
        var on = sketch.Entities.SelectMany(e => e.Points.Select(p => (Point: p, Curve: e))).ToLookup(o => o.Point, o => o.Curve);
        foreach (var point in sketch.Entities.OfType<PointEntity>())
        {
            told[point.Id] = Member(point.Id, shapes, Corner(point))
                ?? (IsMade(point.Id) ? Ends(point, [.. on[point.Id]], told) : point.Id);
        }

        Distinguish(told, sketch.Entities.OfType<PointEntity>().Select(p => p.Id), p => sketch.At(p));
        return told;
    }

    /// <summary>Shapes by their ids, each with words of its own.</summary>
    private Dictionary<string, string> ShapeWords()
    {
        var words = new Dictionary<string, string>(StringComparer.Ordinal);
        foreach (var shape in sketch.Shapes)
        {
            words[shape.Id] = IsMade(shape.Id + ".") ? Noun(shape.Kind) : shape.Id;
        }

        Distinguish(words, sketch.Shapes.Select(s => s.Id), CentreOf);
        return words;
    }

    private static string Noun(string kind) =>
        kind.Contains("rectangle", StringComparison.Ordinal) ? "rectangle"
        : kind.Contains("slot", StringComparison.Ordinal) ? "slot"
        : kind.Replace('-', ' ');

    private Vec2 CentreOf(string shape)
    {
        var points = sketch
            .Entities.OfType<PointEntity>()
            .Where(p => p.Id.StartsWith(shape + ".", StringComparison.Ordinal))
            .Select(p => p.At)
            .ToList();
        return points.Count == 0 ? Vec2.Zero : new Vec2(points.Average(p => p.X), points.Average(p => p.Y));
    }

    /// <summary>A member of a shape: what it is of the shape, and which shape.</summary>
    private string? Member(string id, Dictionary<string, string> shapes, string what)
    {
        var dot = id.IndexOf('.', StringComparison.Ordinal);
        return
            dot > 0
            && what.StartsWith("circle", StringComparison.Ordinal)
            && sketch.Shapes.Any(s => s.Id == id[..dot] && s.Kind == "circle")
            ? IsMade(id)
                ? what
                : id[..dot]
            : dot > 0 && shapes.TryGetValue(id[..dot], out var shape)
                ? $"{what} of {(IsMade(id) ? "the " : "")}{shape}"
                : null;
    }

    /// <summary>What a curve is of its shape, by its own name there or by what it is.</summary>
    private string OfShape(SketchEntity curve)
    {
        var member = curve.Id[(curve.Id.IndexOf('.', StringComparison.Ordinal) + 1)..];
        return member switch
        {
            "top" or "bottom" or "left" or "right" => $"{member} side",
            "axis" or "round" => member == "axis" ? "middle line" : "circle",
            _ => curve switch
            {
                ArcEntity => member.StartsWith("corner", StringComparison.Ordinal) ? "rounded corner" : "round end",
                LineEntity => "side",
                _ => Plain(curve),
            },
        };
    }

    private static string Corner(PointEntity point)
    {
        var dot = point.Id.IndexOf('.', StringComparison.Ordinal);
        return dot > 0 && point.Id[(dot + 1)..] == "centre" ? "centre" : "corner";
    }

    /// <summary>What it is and how large.</summary>
    private string Plain(SketchEntity curve)
    {
        var said = curve switch
        {
            LineEntity l => $"line {Length(sketch.At(l.From).DistanceTo(sketch.At(l.To)))}",
            CircleEntity c => $"circle ⌀ {Length(2 * c.Radius)}",
            ArcEntity a => $"arc R {Length(a.Radius)}",
            _ => curve.Word,
        };
        return curve.Construction ? $"construction {said}" : said;
    }

    /// <summary>A point by what hangs on it: the centre of something round, the end of a curve, the joint of two.</summary>
    private static string Ends(PointEntity point, IReadOnlyList<SketchEntity> on, Dictionary<string, string> told)
    {
        return on.FirstOrDefault(e => Curves.Centre(e) == point.Id) is { } round ? $"centre of {told[round.Id]}"
            : on.Count == 1
                ? $"{(Curves.Ends(on[0]) is var (a, b) && (a == point.Id || b == point.Id) ? "end" : "point")} of {told[on[0].Id]}"
            : on.Count == 2 ? $"joint of {told[on[0].Id]} and {told[on[1].Id]}"
            : on.Count > 2 ? "joint"
            : "point";
    }

    private Vec2 Middle(string id)
    {
        var entity = sketch.Find(id)!;
        var points = Curves.Centre(entity) is { } centre && entity is not ArcEntity ? [centre] : entity.Points;
        return points.Count == 0 ? Vec2.Zero : new Vec2(points.Average(p => sketch.At(p).X), points.Average(p => sketch.At(p).Y));
    }

    private string Length(double millimetres) => Units.Show(Quantity.Length(millimetres), unit, 3).Split(' ')[0];

    /// <summary>Adds where they are to those that have the same words.</summary>
    private static void Distinguish(Dictionary<string, string> words, IEnumerable<string> of, Func<string, Vec2> place)
    {
        foreach (var alike in of.GroupBy(id => words[id]).Where(g => g.Count() > 1).ToList())
        {
            string[] ids = [.. alike];
            var where = Whereabouts.Of([.. ids.Select(place)]);
            for (var i = 0; i < ids.Length; i++)
            {
                words[ids[i]] = Whereabouts.Placed(words[ids[i]], where[i]);
            }
        }

        // A place that was added may be one that another already had by itself.
        foreach (var alike in of.GroupBy(id => words[id]).Where(g => g.Count() > 1).ToList())
        {
            var n = 0;
            foreach (var id in alike.ToList())
            {
                words[id] = string.Create(CultureInfo.InvariantCulture, $"{words[id]} ({++n} of {alike.Count()})");
            }
        }
    }
}
