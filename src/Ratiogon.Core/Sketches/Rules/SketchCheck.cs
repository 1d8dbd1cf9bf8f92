namespace Ratiogon.Core.Sketches.Rules;

/// <summary>Whether a sketch hangs together: ids unique and known, sizes usable, constraints of things they fit.</summary>
public static class SketchCheck
{
    /// <summary>The sine of the least angle between the semi-axes of an ellipse: below it they lie on one line.</summary>
    private const double LeastSine = 1e-3;

    /// <summary>The first thing wrong with the sketch, or null.</summary>
    public static Refusal? Check(Sketch sketch)
    {
        var seen = new HashSet<string>(Sketch.BuiltIns.Select(e => e.Id), StringComparer.Ordinal);
        var ids = sketch
            .Entities.Select(e => e.Id)
            .Concat(sketch.Constraints.Select(c => c.Id))
            .Concat(sketch.Dimensions.Select(d => d.Id))
            .Concat(sketch.Shapes.Select(s => s.Id));
        foreach (var id in ids)
        {
            if (Ids.Check(id) is { } bad)
            {
                return bad;
            }

            if (!seen.Add(id))
            {
                return new Refusal("sketch.duplicate-id", $"The id '{id}' is used twice.", id);
            }
        }

        return sketch.Entities.Select(e => CheckEntity(sketch, e)).FirstOrDefault(r => r is not null)
            ?? sketch.Constraints.Select(c => CheckConstraint(sketch, c)).FirstOrDefault(r => r is not null)
            ?? sketch.Dimensions.Select(d => CheckDimension(sketch, d)).FirstOrDefault(r => r is not null);
    }

    /// <summary>The first entity that has vanished, run away or turned into nothing, or size between two things that lost its
    /// meaning there, or null: what new positions can bring about in a sketch that passed <see cref="Check"/>.</summary>
    public static Refusal? Collapsed(Sketch sketch)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        for (var i = 0; i < sketch.Entities.Length; i++)
        {
            if (!Stands(sketch, i) && CheckEntity(sketch, sketch.Entities[i]) is { } wrong)
            {
                return wrong;
            }
        }

        foreach (var dimension in sketch.Dimensions)
        {
            if (
                dimension.Of.Length > 1
                && DimensionCatalog.Find(dimension.Kind)?.FitsAnywhere(sketch, dimension.Of) != true
                && CheckDimension(sketch, dimension) is { } lost
            )
            {
                return lost;
            }
        }

        return null;
    }

    /// <summary>Whether the entity at a place has a size, by its numbers alone; false where that takes a closer look.</summary>
    private static bool Stands(Sketch sketch, int place)
    {
        bool Sized(double size) => size >= Tolerances.SmallestSize && size <= Tolerances.LargestSize;
        bool Apart() =>
            sketch.Index.Ends[place] is (>= 0 and var from, >= 0 and var to)
            && sketch.At(from).DistanceTo(sketch.At(to)) >= Tolerances.SmallestSize;
        return sketch.Entities[place] switch
        {
            PointEntity p => p.At.IsFinite && Math.Abs(p.At.X) <= Tolerances.LargestSize && Math.Abs(p.At.Y) <= Tolerances.LargestSize,
            CircleEntity c => Sized(c.Radius),
            LineEntity => Apart(),
            ArcEntity a => Sized(a.Radius) && Apart(),
            _ => false,
        };
    }

    public static Refusal? CheckConstraint(Sketch sketch, SketchConstraint constraint)
    {
        if (ConstraintCatalog.Find(constraint.Kind) is not { } kind)
        {
            return new Refusal(
                "sketch.unknown-constraint",
                $"There is no constraint '{constraint.Kind}'. Known: {string.Join(", ", ConstraintCatalog.All.Select(k => k.Name))}.",
                constraint.Id
            );
        }

        return Resolve(sketch, constraint.Of, out var of)?.At(constraint.Id)
            ?? (kind.Check(of) ?? kind.CheckIn(sketch, () => SketchContacts.Of(sketch), constraint, of))?.At(constraint.Id);
    }

    public static Refusal? CheckDimension(Sketch sketch, SketchDimension dimension)
    {
        if (DimensionCatalog.Find(dimension.Kind) is not { } kind)
        {
            return new Refusal(
                "sketch.unknown-dimension",
                $"There is no dimension '{dimension.Kind}'. Known: {string.Join(", ", DimensionCatalog.All.Select(k => k.Name))}.",
                dimension.Id
            );
        }

        return Resolve(sketch, dimension.Of, out var of)?.At(dimension.Id) ?? kind.Check(sketch, of)?.At(dimension.Id);
    }

    private static Refusal? Resolve(
        Sketch sketch,
        System.Collections.Immutable.ImmutableArray<string> ids,
        out IReadOnlyList<SketchEntity> of
    )
    {
        of = [];
        if (ids.IsDefaultOrEmpty)
        {
            return new Refusal("sketch.nothing-picked", "It names no entities.");
        }

        foreach (var id in ids)
        {
            if (sketch.Find(id) is null)
            {
                return new Refusal("sketch.unknown-id", $"There is no entity '{Ids.Shorten(id)}' in the sketch.");
            }
        }

        of = sketch.FindAll(ids)!;
        return null;
    }

    private static Refusal? CheckEntity(Sketch sketch, SketchEntity entity)
    {
        foreach (var point in entity.Points)
        {
            if (sketch.Find(point) is not PointEntity)
            {
                return new Refusal(
                    "sketch.unknown-id",
                    $"{entity.Word} '{entity.Id}' needs a point '{Ids.Shorten(point)}', which is not in the sketch.",
                    entity.Id
                );
            }
        }

        return entity switch
        {
            PointEntity p when !p.At.IsFinite || Math.Abs(p.At.X) > Tolerances.LargestSize || Math.Abs(p.At.Y) > Tolerances.LargestSize =>
                new Refusal("sketch.out-of-range", $"Point '{p.Id}' lies outside +-{Tolerances.LargestSize:0} mm.", p.Id),
            LineEntity l when l.From == l.To || sketch.At(l.From).DistanceTo(sketch.At(l.To)) < Tolerances.SmallestSize => new Refusal(
                "sketch.collapsed",
                $"Line '{l.Id}' has no length.",
                l.Id
            ),
            CircleEntity c when !(c.Radius >= Tolerances.SmallestSize && c.Radius <= Tolerances.LargestSize) => new Refusal(
                "sketch.collapsed",
                $"Circle '{c.Id}' needs a radius above zero, not {c.Radius:0.####} mm.",
                c.Id
            ),
            ArcEntity a when !(a.Radius >= Tolerances.SmallestSize && a.Radius <= Tolerances.LargestSize) => new Refusal(
                "sketch.collapsed",
                $"Arc '{a.Id}' needs a radius above zero, not {a.Radius:0.####} mm.",
                a.Id
            ),
            EllipticEntity e
                when sketch.At(e.First).DistanceTo(sketch.At(e.Centre)) < Tolerances.SmallestSize
                    || sketch.At(e.Second).DistanceTo(sketch.At(e.Centre)) < Tolerances.SmallestSize => new Refusal(
                "sketch.collapsed",
                $"{char.ToUpperInvariant(e.Word[0])}{e.Word[1..]} '{e.Id}' needs two semi-axes above zero.",
                e.Id
            ),
            EllipticEntity e
                when Math.Abs((sketch.At(e.First) - sketch.At(e.Centre)).Unit.Cross((sketch.At(e.Second) - sketch.At(e.Centre)).Unit))
                    < LeastSine => new Refusal(
                "sketch.collapsed",
                $"The semi-axes of '{e.Id}' lie on one line; they must stand square to each other.",
                e.Id
            ),
            EllipticArcEntity e when e.From == e.To || sketch.At(e.From).DistanceTo(sketch.At(e.To)) < Tolerances.SmallestSize =>
                new Refusal("sketch.collapsed", $"Elliptic arc '{e.Id}' begins where it ends.", e.Id),
            SplineEntity s => CheckSpline(sketch, s),
            ArcEntity a when a.From == a.To || sketch.At(a.From).DistanceTo(sketch.At(a.To)) < Tolerances.SmallestSize => new Refusal(
                "sketch.collapsed",
                $"Arc '{a.Id}' begins where it ends.",
                a.Id
            ),
            _ => null,
        };
    }

    private static Refusal? CheckSpline(Sketch sketch, SplineEntity spline)
    {
        if (
            spline.Through.IsDefault
            || spline.Through.Length < 2
            || spline.Spans.IsDefault
            || spline.Spans.Length != spline.Through.Length - 1
        )
        {
            return new Refusal(
                "sketch.spline",
                $"Spline '{spline.Id}' needs two points or more, and one span fewer than points.",
                spline.Id
            );
        }

        if (spline.Spans.Any(s => !(s > 0 && s <= Tolerances.LargestSize)))
        {
            return new Refusal("sketch.spline", $"The spans of spline '{spline.Id}' must be above zero.", spline.Id);
        }

        for (var i = 0; i + 1 < spline.Through.Length; i++)
        {
            if (
                spline.Through[i] == spline.Through[i + 1]
                || sketch.At(spline.Through[i]).DistanceTo(sketch.At(spline.Through[i + 1])) < Tolerances.SmallestSize
            )
            {
                return new Refusal(
                    "sketch.collapsed",
                    $"Spline '{spline.Id}' goes through one place twice in a row: {spline.Through[i]} and {spline.Through[i + 1]}.",
                    spline.Id
                );
            }
        }

        return null;
    }
}
