using System.Collections.Immutable;
using Ratiogon.Core.Numerics;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches.Dimensions;
using Ratiogon.Core.Sketches.Rules;
using Ratiogon.Core.Sketches.Shapes;
using Ratiogon.Core.Sketches.Writing;

namespace Ratiogon.Core.Sketches.Solving;

/// <summary>One rule that would take a freedom.</summary>
/// <param name="Words">For people.</param>
/// <param name="Tie">The constraint, or null.</param>
/// <param name="Size">The dimension, or null.</param>
public sealed record Proposal(string Words, SketchConstraint? Tie, SketchDimension? Size);

/// <summary>
/// Proposes what would set the rest of a sketch, in the order in which a shop would draw it: what lies on the axes or stands
/// symmetric about them, what is level, upright or of one size already; then the fewest sizes, whole values first, and places
/// from the origin. All are chosen in one system: each is taken where its row stands well apart from the span of those so
/// far, and each rounded value is solved before the next is looked at, so that all of them hold together and move nothing by more
/// than their rounding.
/// </summary>
public static class FinishIt
{
    /// <summary>The least size of a sketch, in millimetres, of which a share is meant.</summary>
    private const double LeastPart = 1e-3;

    private const double Nearly = 0.02;

    /// <summary>How near, as a share of the size, what is drawn has to be to a rule for that to hold already.</summary>
    private const double Holds = 1e-6;

    /// <summary>How much of a rule must be new: less would follow from others by a root.</summary>
    private const double Apart = 0.15;

    /// <summary>How far points may be apart, as a share of the size, in a second and stricter round.</summary>
    private const double Hardly = 1e-4;

    private const double Spread = 1.5;
    private const double Level = 0.01;
    private const int MostProposals = 80;

    /// <summary>As many rules as there are freedoms, where that many can be found.</summary>
    public static ImmutableArray<Proposal> Propose(Sketch sketch, LengthUnit units)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        var values = new Dictionary<string, double>(Witness.Readings(sketch), StringComparer.Ordinal);
        var found = ImmutableArray.CreateBuilder<Proposal>();
        var taken = sketch.UsedIds();
        var system = new Rules(sketch, values);

        // What says little new comes last, and only where nothing better is left.
        foreach (var (candidate, apart) in new[] { Apart, Hardly }.SelectMany(apart => Candidates(sketch).Select(c => (c, apart))))
        {
            if (system.Free == 0 || found.Count >= MostProposals)
            {
                break;
            }

            if (!system.IsNew(candidate, apart))
            {
                continue;
            }

            // What holds already moves nothing; a value that is rounded, or a direction that is nearly met, is solved first.
            var proposal = Named(sketch, candidate, taken, units);
            var with = system.With(proposal);
            if (with is null && candidate.Value is not null && Exact(system.Sketch, candidate) is var exact)
            {
                proposal = Named(sketch, exact, taken, units);
                with = system.With(proposal);
            }

            if (with is not null)
            {
                system = with;
                found.Add(proposal);
                taken.Add(proposal.Tie?.Id ?? proposal.Size!.Id);
            }
        }

        return found.ToImmutable();
    }

    /// <summary>The candidate with what it measures now, to a ten-thousandth.</summary>
    private static Candidate Exact(Sketch sketch, Candidate candidate)
    {
        var kind = DimensionCatalog.Find(candidate.Kind)!;
        var now = kind.Measure(sketch, sketch.FindAll(candidate.Of)!);
        return candidate with
        {
            Value = kind.Of == Dimension.OfAngle ? Math.Round(now * 180 / Math.PI, 4) * Math.PI / 180 : Math.Round(now, 4),
        };
    }

    /// <summary>The sketch with what has been proposed so far, solved, and what is still free of it.</summary>
    private sealed class Rules
    {
        private readonly Dictionary<string, double> values;
        private readonly SystemWriter writer;
        private readonly RowDependence space;
        private readonly int raw;
        private readonly double[] size;

        public Rules(Sketch sketch, Dictionary<string, double> values)
        {
            (Sketch, this.values) = (sketch, values);
            writer = SketchCompiler.Write(sketch, values, reducing: false);
            raw = writer.Start.Length;
            size = writer.Sizes(Scales.Of(sketch));
            space = new RowDependence([.. writer.Equations.Select(Row)], raw);
            Free = Enumerable.Range(0, raw).Count(v => writer.Union.FixedValue(v) is null) - space.Rank;
        }

        public Sketch Sketch { get; }

        public int Free { get; }

        /// <summary>Whether every equation of a candidate says something new, by more than a share of it.</summary>
        public bool IsNew(Candidate candidate, double apart)
        {
            var before = writer.Equations.Count;
            if (!Write(Sketch, writer, candidate) || writer.Start.Length != raw)
            {
                return false;
            }

            var (kept, fresh) = (space.Added, writer.Equations.Skip(before).ToList());
            var all =
                fresh.Count > 0
                && fresh.Select((e, i) => Row(e) is var row && space.Add(row.Columns, row.Values, before + i, apart)).All(isNew => isNew);
            space.BackTo(kept);
            return all;
        }

        /// <summary>The rules with one more, solved; null where it does not solve, moves more than its rounding, or takes
        /// nothing.</summary>
        public Rules? With(Proposal proposal)
        {
            var (with, known, rounding) = (Sketch, new Dictionary<string, double>(values, StringComparer.Ordinal), 0.0);
            if (proposal.Tie is { } tie)
            {
                with = with with { Constraints = with.Constraints.Add(tie) };
                rounding = Nearly * SizeOf(with, tie.Of);
            }
            else if (
                proposal.Size is { } dimension
                && SketchValues.Of(with with { Dimensions = [dimension] }, ParameterValues.None) is { Done: true } read
            )
            {
                var kind = DimensionCatalog.Find(dimension.Kind)!;
                with = with with { Dimensions = with.Dimensions.Add(dimension) };
                known[dimension.Id] = read.Value[dimension.Id];
                rounding =
                    Math.Abs(known[dimension.Id] - kind.Measure(with, with.FindAll(dimension.Of)!))
                    * (kind.Of == Dimension.OfAngle ? SizeOf(with, dimension.Of) : 1);
            }

            var report = SketchSolver.Solve(with, known);
            if (
                !report.Solved
                || with.Entities.OfType<PointEntity>()
                    .Any(p => report.Sketch.At(p.Id).DistanceTo(p.At) > (Spread * rounding) + (Holds * SizeOf(with, [p.Id])))
            )
            {
                return null;
            }

            var next = new Rules(report.Sketch, known);
            return next.Free < Free ? next : null;
        }

        private static double SizeOf(Sketch sketch, IEnumerable<string> of)
        {
            var points = of.SelectMany(id => sketch.Find(id) is PointEntity ? [id] : sketch.Find(id)!.Points)
                .Where(p => !Sketch.IsBuiltIn(p))
                .Select(sketch.At)
                .ToList();
            return Math.Max(LeastPart, points.Select(p => p.Length).DefaultIfEmpty(1).Max());
        }

        /// <summary>An equation's row over the raw unknowns that are not fixed, each in its own size.</summary>
        private (int[] Columns, double[] Values) Row(Equation equation)
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
                    row[variables[i]] =
                        row.GetValueOrDefault(variables[i]) + (d[i] * (variables[i] < size.Length ? size[variables[i]] : 1));
                }
            }

            return ([.. row.Keys], [.. row.Values]);
        }
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

    private static IEnumerable<Candidate> Candidates(Sketch sketch)
    {
        var lines = sketch.Entities.OfType<LineEntity>().ToList();
        var inner = Inner(sketch);
        var points = sketch.Entities.OfType<PointEntity>().Where(p => !inner.Contains(p.Id)).ToList();
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

        foreach (var line in lines)
        {
            var u = (sketch.At(line.To) - sketch.At(line.From)).Unit;
            if (Math.Abs(u.Y) < Level || Math.Abs(u.X) < Level)
            {
                yield return new Candidate(Math.Abs(u.Y) < Level ? "horizontal" : "vertical", [line.Id], null);
            }
        }

        foreach (var pair in Mirrored(sketch, points))
        {
            yield return pair;
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

        // Whole values first, each kind in its order.
        foreach (var size in Sizes(sketch, lines).OrderBy(s => Roundness(s)))
        {
            yield return size;
        }

        foreach (var place in Placed(sketch, points, lines, inner))
        {
            yield return place;
        }
    }

    /// <summary>0 for a whole number of millimetres or degrees, 1 for a half, 2 for tenths, 3 for the rest.</summary>
    private static int Roundness(Candidate candidate)
    {
        var value =
            candidate.Value is not { } v ? 0
            : DimensionCatalog.Find(candidate.Kind)!.Of == Dimension.OfAngle ? v * 180 / Math.PI
            : v;
        return Array.FindIndex([1, 0.5, 0.1], step => Math.Abs(value - (Math.Round(value / step) * step)) < Holds) is var at and >= 0
            ? at
            : 3;
    }

    /// <summary>Circles of one size and points that stand symmetric about an axis of the sketch, as nearly as they would be
    /// drawn.</summary>
    private static IEnumerable<Candidate> Mirrored(Sketch sketch, List<PointEntity> points)
    {
        var circles = sketch.Entities.OfType<CircleEntity>().ToList();
        foreach (var axis in new[] { Sketch.YAxis, Sketch.XAxis })
        {
            Vec2 Over(Vec2 p) => axis == Sketch.YAxis ? new(-p.X, p.Y) : new(p.X, -p.Y);
            double Off(Vec2 p) => axis == Sketch.YAxis ? p.X : p.Y;
            bool Match(Vec2 p, Vec2 q) => Over(p).DistanceTo(q) < Nearly * Math.Max(Math.Abs(Off(p)), Holds);
            foreach (var one in circles)
            {
                if (
                    Off(sketch.At(one.Centre)) > Holds
                    && circles.FirstOrDefault(o =>
                        o != one
                        && Math.Abs(o.Radius - one.Radius) < Nearly * one.Radius
                        && Match(sketch.At(one.Centre), sketch.At(o.Centre))
                    )
                        is { } other
                )
                {
                    yield return new Candidate("symmetric", [one.Id, other.Id, axis], null);
                }
            }

            var centres = circles.Select(c => c.Centre).ToHashSet(StringComparer.Ordinal);
            foreach (var point in points.Where(p => !centres.Contains(p.Id) && Off(p.At) > Holds).Take(400))
            {
                if (points.FirstOrDefault(o => o != point && !centres.Contains(o.Id) && Match(point.At, o.At)) is { } other)
                {
                    yield return new Candidate("symmetric", [point.Id, other.Id, axis], null);
                }
            }
        }
    }

    /// <summary>Each of what has the same number, to five decimals, with the first that has it.</summary>
    private static IEnumerable<(SketchEntity First, SketchEntity Other)> Alike<T>(IEnumerable<T> entities, Func<T, double> number)
        where T : SketchEntity =>
        entities
            .GroupBy(e => Math.Round(number(e), 5))
            .SelectMany(same => same.Skip(1).Select(other => ((SketchEntity)same.First(), (SketchEntity)other)));

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

    private static double? Value(Sketch sketch, SketchDimension size) =>
        DimensionCatalog.Measure(sketch, size) is { } now
            ? DimensionCatalog.Find(size.Kind)!.Of == Dimension.OfAngle
                ? Math.Round(now * 180 / Math.PI, 1) * Math.PI / 180
                : Rounded(now)
            : 0;

    /// <summary>Places from the origin: centres first, then everything else that can move.</summary>
    private static IEnumerable<Candidate> Placed(Sketch sketch, List<PointEntity> points, List<LineEntity> lines, HashSet<string> inner)
    {
        var centres = sketch.Entities.Select(Curves.Centre).OfType<string>().ToHashSet(StringComparer.Ordinal);
        foreach (var point in points.OrderBy(p => centres.Contains(p.Id) ? 0 : 1))
        {
            yield return Math.Abs(point.At.X) < Holds
                ? new Candidate("vertical", [Sketch.Origin, point.Id], null)
                : new Candidate("horizontal-distance", [Sketch.Origin, point.Id], Rounded(Math.Abs(point.At.X)));
            yield return Math.Abs(point.At.Y) < Holds
                ? new Candidate("horizontal", [Sketch.Origin, point.Id], null)
                : new Candidate("vertical-distance", [Sketch.Origin, point.Id], Rounded(Math.Abs(point.At.Y)));
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
        sketch
            .Entities.OfType<EllipticEntity>()
            .SelectMany(e => new[] { e.First, e.Second })
            .Concat(sketch.Entities.OfType<PointEntity>().Where(p => p.Construction).Select(p => p.Id))
            .ToHashSet(StringComparer.Ordinal);

    /// <summary>The nearest value that a drawing would hold: whole or half millimetres where that is near, else tenths, else
    /// hundredths.</summary>
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

    /// <param name="sketch">As it is, for what it reads now.</param>
    /// <param name="candidate">The rule.</param>
    /// <param name="taken">Ids in use.</param>
    /// <param name="units">Of the part.</param>
    private static Proposal Named(Sketch sketch, Candidate candidate, HashSet<string> taken, LengthUnit units)
    {
        var words = EntityWords.Of(sketch, units);
        var things = string.Join(", ", candidate.Of.Select(words.The));
        if (candidate.Value is not { } value)
        {
            var tie = new SketchConstraint(Ids.Next("k", taken), candidate.Kind, candidate.Of);
            return new Proposal($"{candidate.Kind.Replace('-', ' ')}: {things}", tie, null);
        }

        var kind = DimensionCatalog.Find(candidate.Kind)!;
        var text = Units.Show(new Quantity(value, kind.Of), units, 4);
        var now = kind.Measure(sketch, sketch.FindAll(candidate.Of)!);
        var from = Math.Abs(now - value) > Holds ? $" (now {Units.Show(new Quantity(now, kind.Of), units)})" : "";
        return new Proposal(
            $"{candidate.Kind.Replace('-', ' ')} {text} of {things}{from}",
            null,
            new SketchDimension(Ids.Next("d", taken), candidate.Kind, candidate.Of, text)
        );
    }
}
