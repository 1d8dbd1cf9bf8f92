using System.Collections.Immutable;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketching;

namespace Ratiogon.Core.Solving;

/// <summary>One rule that would take a freedom.</summary>
/// <param name="Words">For people.</param>
/// <param name="Tie">The constraint, or null.</param>
/// <param name="Size">The dimension, or null.</param>
public sealed record Proposal(string Words, SketchConstraint? Tie, SketchDimension? Size);

/// <summary>
/// Proposes what would set the rest of a sketch: candidates in the order in which a shop would choose them (what is drawn
/// level, upright or equal already; then sizes with round values; then places from the origin), each taken where its row
/// is independent of the Jacobian so far, until the rank is full.
/// </summary>
public static class FinishIt
{
    private const double Nearly = 0.02;
    private const double Holds = 1e-6;

    /// <summary>As many rules as there are freedoms, where that many can be found.</summary>
    public static ImmutableArray<Proposal> Propose(Sketch sketch, LengthUnit units)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        var writer = SketchCompiler.Write(sketch, Witness.Readings(sketch), reducing: false);
        var raw = writer.Start.Length;
        var space = new RowSpace(raw, tracking: false);
        for (var e = 0; e < writer.Equations.Count; e++)
        {
            Add(space, writer, writer.Equations[e], e);
        }

        var free = raw - FixedCount(writer, raw) - space.Rank;
        var found = ImmutableArray.CreateBuilder<Proposal>();
        var taken = sketch.UsedIds();
        foreach (var candidate in Candidates(sketch))
        {
            if (free <= 0)
            {
                break;
            }

            var before = writer.Equations.Count;
            if (!Write(sketch, writer, candidate) || writer.Start.Length != raw)
            {
                continue;
            }

            // A rule of several equations is only taken where all of them say something new.
            var fresh = writer.Equations.Skip(before).ToList();
            var rank = space.Rank;
            if (fresh.Count > 0 && fresh.Select((e, i) => Add(space, writer, e, before + i)).All(independent => independent))
            {
                free -= fresh.Count;
                found.Add(Named(sketch, candidate, taken, units));
            }
            else
            {
                space.BackTo(rank);
            }
        }

        return found.ToImmutable();
    }

    /// <summary>A rule to try: a constraint kind, or a dimension kind with its value.</summary>
    private readonly record struct Candidate(string Kind, ImmutableArray<string> Of, double? Value);

    private static bool Write(Sketch sketch, SystemWriter writer, Candidate candidate)
    {
        var of = sketch.FindAll(candidate.Of)!;
        if (candidate.Value is { } value)
        {
            var kind = DimensionCatalog.Find(candidate.Kind)!;
            if (kind.Check(sketch, of) is not null || kind.CheckValue(value) is not null)
            {
                return false;
            }

            kind.Write(writer, of, value);
        }
        else
        {
            var kind = ConstraintCatalog.Find(candidate.Kind)!;
            if (kind.Check(of) is not null)
            {
                return false;
            }

            kind.Write(writer, of);
        }

        return true;
    }

    /// <summary>Adds an equation's row over the raw unknowns; true when it is independent.</summary>
    private static bool Add(RowSpace space, SystemWriter writer, Equation equation, int number)
    {
        var variables = equation.RawVariables;
        Span<double> v = stackalloc double[Equation.MostVariables];
        Span<double> d = stackalloc double[Equation.MostVariables];
        for (var i = 0; i < variables.Length; i++)
        {
            v[i] = writer.Start[variables[i]];
        }

        d.Clear();
        equation.Evaluate(v, d);
        var row = new SortedDictionary<int, double>();
        for (var i = 0; i < variables.Length; i++)
        {
            if (writer.Union.FixedValue(variables[i]) is null)
            {
                row[variables[i]] = row.GetValueOrDefault(variables[i]) + d[i];
            }
        }

        return space.Add(number, [.. row.Keys], row.Values.ToArray()) is null;
    }

    private static int FixedCount(SystemWriter writer, int raw) => Enumerable.Range(0, raw).Count(v => writer.Union.FixedValue(v) is not null);

    private static IEnumerable<Candidate> Candidates(Sketch sketch)
    {
        var lines = sketch.Entities.OfType<LineEntity>().ToList();
        var inner = Inner(sketch);
        var points = sketch.Entities.OfType<PointEntity>().Where(p => !inner.Contains(p.Id)).ToList();
        foreach (var line in lines)
        {
            var u = (sketch.At(line.To) - sketch.At(line.From)).Unit;
            if (Math.Abs(u.Y) < Nearly || Math.Abs(u.X) < Nearly)
            {
                yield return new Candidate(Math.Abs(u.Y) < Nearly ? "horizontal" : "vertical", [line.Id], null);
            }
        }

        foreach (var point in points)
        {
            if (point.At.Length < Holds)
            {
                yield return new Candidate("coincident", [Sketch.Origin, point.Id], null);
            }
            else if (Math.Abs(point.At.Y) < Holds || Math.Abs(point.At.X) < Holds)
            {
                yield return new Candidate(Math.Abs(point.At.Y) < Holds ? "horizontal" : "vertical", [Sketch.Origin, point.Id], null);
            }
        }

        var round = Alike(sketch.Entities.Where(e => e is CircleEntity or ArcEntity), RimDistance.RadiusOf);
        var straight = Alike(lines.Where(l => !l.Construction), l => sketch.At(l.From).DistanceTo(sketch.At(l.To)));
        foreach (var (first, other) in round.Concat(straight))
        {
            yield return new Candidate("equal", [first.Id, other.Id], null);
        }

        foreach (var pair in LinedUp(points))
        {
            yield return pair;
        }

        foreach (var size in Sizes(sketch, lines))
        {
            yield return size;
        }

        foreach (var place in Placed(sketch, points, lines, inner))
        {
            yield return place;
        }
    }

    /// <summary>Each of what has the same number, to five decimals, with the first that has it.</summary>
    private static IEnumerable<(SketchEntity First, SketchEntity Other)> Alike<T>(IEnumerable<T> entities, Func<T, double> number)
        where T : SketchEntity => entities.GroupBy(e => Math.Round(number(e), 5)).SelectMany(same => same.Skip(1).Select(other => ((SketchEntity)same.First(), (SketchEntity)other)));

    /// <summary>Points drawn level with or upright of one another.</summary>
    private static IEnumerable<Candidate> LinedUp(List<PointEntity> points)
    {
        for (var axis = 0; axis < 2; axis++)
        {
            var along = axis;
            foreach (var (first, other) in Alike(points.Take(400), p => along == 0 ? p.At.Y : p.At.X))
            {
                yield return new Candidate(axis == 0 ? "horizontal" : "vertical", [first.Id, other.Id], null);
            }
        }
    }

    private static IEnumerable<Candidate> Sizes(Sketch sketch, List<LineEntity> lines)
    {
        foreach (var size in sketch.Shapes.SelectMany(ShapeSizes.Of).Where(s => sketch.FindAll(s.Of) is not null))
        {
            yield return new Candidate(size.Kind, size.Of, Value(sketch, size));
        }

        foreach (var entity in sketch.Entities)
        {
            switch (entity)
            {
                case CircleEntity c:
                    yield return new Candidate("diameter", [c.Id], Rounded(2 * c.Radius));
                    break;
                case ArcEntity a:
                    yield return new Candidate("radius", [a.Id], Rounded(a.Radius));
                    break;
                case EllipticEntity e:
                    yield return new Candidate("first-semi-axis", [e.Id], Rounded(sketch.At(e.Centre).DistanceTo(sketch.At(e.First))));
                    yield return new Candidate("second-semi-axis", [e.Id], Rounded(sketch.At(e.Centre).DistanceTo(sketch.At(e.Second))));
                    break;
            }
        }

        foreach (var line in lines.OrderBy(l => l.Construction ? 1 : 0))
        {
            yield return new Candidate("distance", [line.Id], Rounded(sketch.At(line.From).DistanceTo(sketch.At(line.To))));
        }
    }

    private static double? Value(Sketch sketch, SketchDimension size) => DimensionCatalog.Measure(sketch, size) is { } now
        ? DimensionCatalog.Find(size.Kind)!.Of == Dimension.OfAngle ? Math.Round(now * 180 / Math.PI, 1) * Math.PI / 180 : Rounded(now) : 0;

    /// <summary>Places from the origin: centres first, then everything else that can move.</summary>
    private static IEnumerable<Candidate> Placed(Sketch sketch, List<PointEntity> points, List<LineEntity> lines, HashSet<string> inner)
    {
        var centres = sketch.Entities.Select(Curves.Centre).OfType<string>().ToHashSet(StringComparer.Ordinal);
        foreach (var point in points.OrderBy(p => centres.Contains(p.Id) ? 0 : 1))
        {
            yield return Math.Abs(point.At.X) < Holds ? new Candidate("vertical", [Sketch.Origin, point.Id], null) : new Candidate("horizontal-distance", [Sketch.Origin, point.Id], Rounded(Math.Abs(point.At.X)));
            yield return Math.Abs(point.At.Y) < Holds ? new Candidate("horizontal", [Sketch.Origin, point.Id], null) : new Candidate("vertical-distance", [Sketch.Origin, point.Id], Rounded(Math.Abs(point.At.Y)));
        }

        foreach (var line in lines)
        {
            var u = sketch.At(line.To) - sketch.At(line.From);
            yield return new Candidate("angle", [Sketch.XAxis, line.Id], Math.Round(Math.Abs(u.Angle) * 180 / Math.PI, 1) * Math.PI / 180);
        }

        // What is left moves in ways that only its own inner points show.
        foreach (var point in sketch.Entities.OfType<PointEntity>().Where(p => inner.Contains(p.Id)))
        {
            yield return new Candidate("horizontal-distance", [Sketch.Origin, point.Id], Rounded(Math.Abs(point.At.X)));
            yield return new Candidate("vertical-distance", [Sketch.Origin, point.Id], Rounded(Math.Abs(point.At.Y)));
        }
    }

    /// <summary>Handles of splines and ends of semi-axes: nobody dimensions these first.</summary>
    private static HashSet<string> Inner(Sketch sketch) =>
        sketch.Entities.OfType<EllipticEntity>().SelectMany(e => new[] { e.First, e.Second }).Concat(sketch.Entities.OfType<PointEntity>().Where(p => p.Construction).Select(p => p.Id)).ToHashSet(StringComparer.Ordinal);

    /// <summary>The nearest value that a drawing would hold: whole or half millimetres where that is near, else tenths, else hundredths.</summary>
    internal static double Rounded(double v)
    {
        foreach (var step in new[] { 1, 0.5, 0.1 })
        {
            var round = Math.Round(v / step) * step;
            if (round > 0 && Math.Abs(round - v) <= 0.012 * v)
            {
                return Math.Round(round, 3);
            }
        }

        return Math.Max(0.01, Math.Round(v, 2));
    }

    private static Proposal Named(Sketch sketch, Candidate candidate, HashSet<string> taken, LengthUnit units)
    {
        if (candidate.Value is not { } value)
        {
            var tie = new SketchConstraint(Ids.Next("k", taken), candidate.Kind, candidate.Of);
            return new Proposal($"{candidate.Kind} {string.Join(", ", candidate.Of)}", tie, null);
        }

        var kind = DimensionCatalog.Find(candidate.Kind)!;
        var text = Units.Show(new Quantity(value, kind.Of), units, 4);
        var now = kind.Measure(sketch, sketch.FindAll(candidate.Of)!);
        var from = Math.Abs(now - value) > Holds ? $" (now {Units.Show(new Quantity(now, kind.Of), units)})" : "";
        return new Proposal($"{candidate.Kind.Replace('-', ' ')} {text} of {string.Join(", ", candidate.Of)}{from}", null, new SketchDimension(Ids.Next("d", taken), candidate.Kind, candidate.Of, text));
    }
}
