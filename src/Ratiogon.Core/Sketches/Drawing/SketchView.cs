using System.Collections.Immutable;
using System.Runtime.CompilerServices;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Rules;
using Ratiogon.Core.Sketches.Shapes;
using Ratiogon.Core.Sketches.Solving;

namespace Ratiogon.Core.Sketches.Drawing;

/// <summary>An entity as it is drawn.</summary>
/// <param name="Id">Its id.</param>
/// <param name="Kind">point, line, circle, arc, or path for ellipses and splines.</param>
/// <param name="Construction">Whether it is construction geometry.</param>
/// <param name="Freedoms">How many it still has; 0 is set.</param>
/// <param name="Numbers">x y; x1 y1 x2 y2; cx cy r; cx cy r start sweep; x y along a path.</param>
public sealed record EntityView(string Id, string Kind, bool Construction, int Freedoms, ImmutableArray<double> Numbers);

/// <summary>A dimension as it is drawn.</summary>
/// <param name="Id">Its id.</param>
/// <param name="Kind">Its kind.</param>
/// <param name="Text">The value with its unit, with the trade's sign for radius and diameter; in brackets when it is a reference.</param>
/// <param name="Value">The formula of a driving dimension, or null.</param>
/// <param name="Drawing">Lines, arrows and place of the text.</param>
/// <param name="Of">What it measures.</param>
/// <param name="Now">What it reads, as a formula that would drive it.</param>
public sealed record DimensionView(
    string Id,
    string Kind,
    string Text,
    string? Value,
    DimensionDrawing Drawing,
    ImmutableArray<string> Of,
    string Now
);

/// <summary>A constraint with where its mark stands.</summary>
public sealed record ConstraintView(string Id, string Kind, ImmutableArray<string> Of, Vec2 At);

/// <summary>A region that a click can choose.</summary>
/// <param name="Key">Its key.</param>
/// <param name="Outer">x y of its outline, arcs drawn as chords.</param>
/// <param name="Holes">The same of its holes.</param>
public sealed record RegionView(string Key, ImmutableArray<double> Outer, ImmutableArray<ImmutableArray<double>> Holes);

/// <summary>A number that can be edited: sides of a polygon, instances of a pattern.</summary>
public sealed record CountView(string Field, string Label, string Value);

/// <summary>Something about the profile that may not be meant.</summary>
public sealed record IssueView(string Kind, Vec2 At, string Words, ImmutableArray<string> Of, SketchEdit? Mend);

/// <summary>Everything needed to draw a sketch.</summary>
/// <param name="Freedoms">In all, in general.</param>
/// <param name="Remark">What there is to say where the present sizes let more move, or only the drawn position could be looked at.</param>
/// <param name="AtTheseSizes">At the present sizes; more than in general where these happen to let it move.</param>
public sealed record SketchView(
    ImmutableArray<EntityView> Entities,
    ImmutableArray<DimensionView> Dimensions,
    ImmutableArray<ConstraintView> Constraints,
    ImmutableArray<RegionView> Regions,
    int Freedoms,
    int AtTheseSizes,
    ImmutableArray<IssueView> Issues,
    ImmutableArray<CountView> Counts,
    string? Remark
)
{
    // Sketches are immutable: what was worked out for one holds as long as it lives.
    private static readonly ConditionalWeakTable<Sketch, SketchView[]> Kept = [];

    public static SketchView Of(Sketch sketch, LengthUnit units)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        var views = Kept.GetValue(sketch, _ => new SketchView[2]);
        return views[(int)units] ??= Made(sketch, units);
    }

    private static SketchView Made(Sketch sketch, LengthUnit units)
    {
        var freedoms = Sketches.Solving.Freedoms.Of(sketch);
        var arrangement = Sketches.Regions.Arrangement.Of(sketch);
        var size = Size(sketch);
        return new SketchView(
            EntitiesOf(sketch, freedoms),
            DimensionsOf(sketch, units, size),
            [
                .. sketch
                    .Constraints.Where(c => ConstraintCatalog.Find(c.Kind)!.TiedByHand)
                    .Select(c => new ConstraintView(c.Id, c.Kind, c.Of, Anchor(sketch, c))),
            ],
            [.. arrangement.Regions.Select(r => new RegionView(r.Key, Flat(r.Outer), [.. r.Holes.Select(h => Flat(h))]))],
            freedoms.Count,
            freedoms.AtTheseSizes,
            [.. ProfileIssues.Of(sketch, arrangement, units, size).Select(i => new IssueView(i.Kind, i.At, i.Words, i.Of, i.Mend))],
            [.. sketch.Shapes.SelectMany(CountsOf)],
            freedoms.Remark
        );
    }

    private static IEnumerable<CountView> CountsOf(SketchShape shape)
    {
        if (shape.Count is { } count)
        {
            yield return new CountView(
                $"{shape.Id}.count",
                shape.Kind switch
                {
                    "polygon" => $"sides of {shape.Id}",
                    "ring" => $"instances of {shape.Id}",
                    _ => $"columns of {shape.Id}",
                },
                count
            );
        }

        if (shape.Rows is { } rows)
        {
            yield return new CountView($"{shape.Id}.rows", $"rows of {shape.Id}", rows);
        }
    }

    /// <summary>Each remaining motion in words, with how everything moves; worked out when asked for.</summary>
    public static ImmutableArray<MotionView> MotionsOf(Sketch sketch) =>
        [
            .. Sketches
                .Solving.Freedoms.Of(sketch)
                .Motions.Select(m => new MotionView(m.Words, m.Moves.ToImmutableDictionary(), PathsOf(sketch, m))),
        ];

    /// <summary>How the places along ellipses and splines move: dx dy for each.</summary>
    private static ImmutableDictionary<string, ImmutableArray<double>> PathsOf(Sketch sketch, Sketches.Solving.Motion motion)
    {
        // How far along a motion, in its own unit, numbers are taken to tell their slopes.
        const double Step = 1e-4;
        var free = sketch.Entities.Where(e => e is EllipticEntity or SplineEntity && e.Points.Any(motion.Moves.ContainsKey)).ToList();
        if (free.Count == 0)
        {
            return ImmutableDictionary<string, ImmutableArray<double>>.Empty;
        }

        var moved = sketch with
        {
            Entities =
            [
                .. sketch.Entities.Select(e =>
                    e is PointEntity p && motion.Moves.TryGetValue(p.Id, out var m) ? p with { At = p.At + (m * Step) } : e
                ),
            ],
        };
        return free.ToImmutableDictionary(
            e => e.Id,
            e => (ImmutableArray<double>)[.. Numbers(moved, e).Zip(Numbers(sketch, e), (a, b) => (a - b) / Step)]
        );
    }

    /// <summary>Entities alone: what a drag frame needs.</summary>
    public static ImmutableArray<EntityView> EntitiesOf(Sketch sketch, Freedoms? freedoms)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        return
        [
            .. sketch.Entities.Select(e => new EntityView(
                e.Id,
                e is EllipticEntity or SplineEntity ? "path" : e.Word,
                e.Construction,
                freedoms?.OfEntity.GetValueOrDefault(e.Id) ?? 0,
                Numbers(sketch, e)
            )),
        ];
    }

    /// <summary>What moved from one state of a sketch to another with the same entities: for each of these its place among them, how
    /// many numbers follow, and its numbers as it is drawn now.</summary>
    public static ImmutableArray<double> MovedOf(Sketch before, Sketch now)
    {
        ArgumentNullException.ThrowIfNull(before);
        ArgumentNullException.ThrowIfNull(now);
        var moved = ImmutableArray.CreateBuilder<double>();
        for (var i = 0; i < now.Entities.Length && i < before.Entities.Length; i++)
        {
            var numbers = Numbers(now, now.Entities[i]);
            if (before.Entities[i].Id == now.Entities[i].Id && !Numbers(before, before.Entities[i]).SequenceEqual(numbers))
            {
                moved.Add(i);
                moved.Add(numbers.Length);
                moved.AddRange(numbers);
            }
        }

        return moved.ToImmutable();
    }

    private static ImmutableArray<DimensionView> DimensionsOf(Sketch sketch, LengthUnit units, double size)
    {
        var views = ImmutableArray.CreateBuilder<DimensionView>();
        var room = new TextRoom(sketch, size);

        // Texts that were placed by hand come first: the others keep off them.
        foreach (var dimension in sketch.Dimensions.OrderBy(d => d.TextAt is null ? 1 : 0))
        {
            if (DimensionCatalog.Measure(sketch, dimension) is { } value)
            {
                var kind = DimensionCatalog.Find(dimension.Kind)!;
                var shown = kind.Sign + Units.Show(new Quantity(value, kind.Of), units);
                var text = dimension.Driving ? shown : $"({shown})";
                if (DimensionDrawing.Of(sketch, dimension, text, size, room) is { } drawing)
                {
                    views.Add(
                        new DimensionView(
                            dimension.Id,
                            dimension.Kind,
                            text,
                            dimension.Value,
                            drawing,
                            dimension.Of,
                            Units.Show(new Quantity(value, kind.Of), units, 9)
                        )
                    );
                }
            }
        }

        return views.ToImmutable();
    }

    private static ImmutableArray<double> Numbers(Sketch sketch, SketchEntity entity)
    {
        switch (entity)
        {
            case PointEntity p:
                return [p.At.X, p.At.Y];
            case LineEntity l:
                var (a, b) = (sketch.At(l.From), sketch.At(l.To));
                return [a.X, a.Y, b.X, b.Y];
            case CircleEntity c:
                var centre = sketch.At(c.Centre);
                return [centre.X, centre.Y, c.Radius];
            case ArcEntity arc:
                var middle = sketch.At(arc.Centre);
                return [middle.X, middle.Y, arc.Radius, Arcs.Start(sketch, arc), Arcs.Sweep(sketch, arc)];
            case EllipticEntity or SplineEntity when Sketches.SketchCurve.Of(sketch, entity) is { } curve:
                return [.. curve.Drawn(0, curve.End).SelectMany(p => new[] { p.X, p.Y })];
            default:
                return [];
        }
    }

    private static Vec2 Anchor(Sketch sketch, SketchConstraint constraint) =>
        sketch.Find(constraint.Of[0]) switch
        {
            PointEntity p => p.At,
            LineEntity l when Sketch.IsBuiltIn(l.Id) && constraint.Of.Length > 1 => Anchor(
                sketch,
                constraint with
                {
                    Of = constraint.Of.RemoveAt(0),
                }
            ),
            LineEntity l => (sketch.At(l.From) + sketch.At(l.To)) / 2,
            CircleEntity c => sketch.At(c.Centre) + Vec2.Polar(Math.PI / 4, c.Radius),
            ArcEntity a => sketch.At(a.Centre) + Vec2.Polar(Arcs.Start(sketch, a) + (Arcs.Sweep(sketch, a) / 2), a.Radius),
            { } e when Curves.Of(sketch, e) is { } curve => curve.At(curve.End / 2),
            _ => Vec2.Zero,
        };

    private static double Size(Sketch sketch)
    {
        var points = sketch.Entities.OfType<PointEntity>().Select(p => p.At).ToList();
        var round = sketch.Entities.OfType<CircleEntity>().Select(c => 2 * c.Radius).DefaultIfEmpty(0).Max();
        var span =
            points.Count == 0 ? 0 : Math.Max(points.Max(p => p.X) - points.Min(p => p.X), points.Max(p => p.Y) - points.Min(p => p.Y));
        return Math.Max(1, Math.Max(span, round));
    }

    private static ImmutableArray<double> Flat(IEnumerable<Sketches.Regions.ProfileEdge> loop) =>
        [.. loop.SelectMany(e => e.Drawn()).SelectMany(p => new[] { p.X, p.Y })];
}

/// <summary>A motion that is left.</summary>
/// <param name="Words">What moves.</param>
/// <param name="Moves">dx dy of each point, dr 0 of each circle.</param>
/// <param name="Paths">dx dy of each place along ellipses and splines.</param>
public sealed record MotionView(
    string Words,
    ImmutableDictionary<string, Vec2> Moves,
    ImmutableDictionary<string, ImmutableArray<double>> Paths
);
