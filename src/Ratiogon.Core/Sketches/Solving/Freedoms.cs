using Ratiogon.Core.Numerics;
using Ratiogon.Core.Sketches.Writing;

namespace Ratiogon.Core.Sketches.Solving;

/// <summary>One way in which a sketch can still move.</summary>
/// <param name="Words">For example <c>circle c4 grows</c>.</param>
/// <param name="Moves">For each moving point, its direction (x, y); for each circle, the change of its radius (r, 0).
/// Scaled so that the largest is 1.</param>
public sealed record Motion(string Words, IReadOnlyDictionary<string, Vec2> Moves);

/// <summary>
/// What of a sketch can still move. Freedoms are counted in general: unknowns less the rank of the Jacobian at a witness of
/// the same constraints. Where the drawn position has more, it may be that it moves at these very sizes (a linkage of equal
/// cranks) or only seems to (bars stretched straight): the rank at another place with the same sizes tells.
/// </summary>
public sealed class Freedoms
{
    /// <summary>Motions that are put into words by default: more than anyone reads.</summary>
    public const int MostMotions = 12;

    private static readonly System.Runtime.CompilerServices.ConditionalWeakTable<Sketch, Freedoms> Known = [];

    private readonly Lazy<IReadOnlyList<Motion>> motions;

    private Freedoms(
        int count,
        int atTheseSizes,
        bool ofDrawn,
        IReadOnlyDictionary<string, int> ofEntity,
        Func<IReadOnlyList<Motion>> motions
    )
    {
        (Count, AtTheseSizes, OfDrawn, OfEntity) = (count, atTheseSizes, ofDrawn, ofEntity);
        this.motions = new(motions);
    }

    /// <summary>Degrees of freedom in general: for almost all sizes.</summary>
    public int Count { get; }

    /// <summary>Degrees of freedom at the present sizes; more than <see cref="Count"/> where these sizes happen to let it move.</summary>
    public int AtTheseSizes { get; }

    /// <summary>Whether no witness was found, so that the count speaks of the drawn position only.</summary>
    public bool OfDrawn { get; }

    /// <summary>For each entity, in how many ways it can move at the present sizes; 0 means set.</summary>
    public IReadOnlyDictionary<string, int> OfEntity { get; }

    /// <summary>Ways to move in which few entities take part, in words; at most <see cref="MostMotions"/> by default. Worked
    /// out when first asked for.</summary>
    public IReadOnlyList<Motion> Motions => motions.Value;

    /// <summary>In words, where the present sizes let something move that could not in general, or the count is of the drawn position;
    /// null otherwise.</summary>
    public string? Remark =>
        OfDrawn ? "Counted at the drawn position only: no other place that meets the constraints was found near it."
        : AtTheseSizes <= Count ? null
        : Count == 0 ? $"Could not move in general; at these sizes it does: {string.Join("; ", Motions.Take(2).Select(m => m.Words))}."
        : $"{Count} in general; at these sizes {AtTheseSizes}: {string.Join("; ", Motions.Take(AtTheseSizes).Select(m => m.Words))}.";

    /// <summary>Counts the freedoms of a solved sketch; what was counted for a sketch is kept with it.</summary>
    /// <param name="sketch">At positions that meet its rules.</param>
    public static Freedoms Of(Sketch sketch)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        return Known.GetValue(sketch, s => Counting(s, MostMotions));
    }

    /// <summary>The same, counted anew, with as many motions as are asked for.</summary>
    public static Freedoms Of(Sketch sketch, int mostMotions)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        return Counting(sketch, mostMotions);
    }

    private static Freedoms Counting(Sketch sketch, int mostMotions)
    {
        var scales = Scales.Of(sketch);
        var here = Counted.At(sketch, scales);
        if (here.Space.Rank >= here.StructuralRank)
        {
            return here.Told(sketch, here.Free, false, mostMotions);
        }

        if (Witness.Of(sketch) is not { } witness)
        {
            return here.Told(sketch, here.Free, true, mostMotions);
        }

        var general = Counted.At(witness, scales);
        if (general.Free >= here.Free)
        {
            return here.Told(sketch, here.Free, false, mostMotions);
        }

        // More at the drawn position than in general: either these sizes let it move, or it only seems so to first order.
        var moved = Witness.OfSameSizes(sketch) is { } beside ? Counted.At(beside, scales) : null;
        return moved is not null && moved.Free > general.Free
            ? (moved.Free == here.Free ? here : moved).Told(sketch, general.Free, false, mostMotions)
            : general.Told(sketch, general.Free, false, mostMotions);
    }

    /// <summary>The rank of a sketch's reduced equations at its positions, and what it leaves free.</summary>
    private sealed class Counted
    {
        private readonly SystemWriter writer;
        private readonly EquationSystem system;
        private readonly (int[] Columns, double[] Values)[] rows;
        private readonly List<int[]> groups = [];
        private readonly int[] groupOf;
        private readonly double[] size;

        private Counted(Sketch sketch, Scales scales)
        {
            writer = SketchCompiler.WriteKept(sketch, Witness.Readings(sketch));
            system = SystemReduction.Of(writer);
            size = ColumnSizes(sketch, scales);
            rows = new (int[], double[])[system.Equations.Length];
            var row = new double[Equation.MostVariables];
            for (var e = 0; e < rows.Length; e++)
            {
                var columns = system.Columns[e];
                system.Evaluate(e, system.Start, row);
                var of = new double[columns.Length];
                for (var i = 0; i < of.Length; i++)
                {
                    of[i] = row[i] * size[columns[i]];
                }

                rows[e] = (columns, of);
            }

            groupOf = Groups(sketch);
            Space = new RowDependence(rows, system.UnknownCount, [.. groups.Where(g => g.Length > 1)]);
            StructuralRank = Components.Of(system).Sum(c => ComponentStructure.Of(system, c.Equations, c.Unknowns).Parts.StructuralRank);
        }

        public RowDependence Space { get; }

        public int StructuralRank { get; }

        public int Free => system.UnknownCount - Space.Rank;

        public static Counted At(Sketch sketch, Scales scales) => new(sketch, scales);

        public Freedoms Told(Sketch sketch, int inGeneral, bool ofDrawn, int most)
        {
            var ofGroup = Free == 0 ? new int[groups.Count] : [.. groups.Select(Space.RankOf)];
            var ofEntity = new Dictionary<string, int>(groupOf.Length, StringComparer.Ordinal);
            for (var i = 0; i < groupOf.Length; i++)
            {
                ofEntity[sketch.Entities[i].Id] = ofGroup[groupOf[i]];
            }

            return new Freedoms(inGeneral, Free, ofDrawn, ofEntity, () =>
                Free == 0 ? [] : Sketches.Solving.Motions.Of(sketch, writer, system, rows, size, Space, most)
            );
        }

        /// <summary>For each entity the group of unknowns that its own and those of its points come to; many share one.</summary>
        private int[] Groups(Sketch sketch)
        {
            var (known, of, unknowns) = (new Dictionary<UnknownGroup, int>(), new int[sketch.Entities.Length], new List<int>());
            for (var i = 0; i < of.Length; i++)
            {
                unknowns.Clear();
                foreach (var point in sketch.Index.Points[i])
                {
                    Add(point);
                }

                Add(i);
                ref var group = ref System.Runtime.InteropServices.CollectionsMarshal.GetValueRefOrAddDefault(
                    known,
                    new UnknownGroup([.. unknowns]),
                    out var there
                );
                if (!there)
                {
                    group = groups.Count;
                    groups.Add([.. unknowns]);
                }

                of[i] = group;
            }

            return of;

            void Add(int place)
            {
                // What is the sketch's own never moves.
                for (var k = 0; place >= 0 && k < SystemWriter.OwnCount(sketch.Entities[place]); k++)
                {
                    if (system.UnknownOf(writer.Placed[place] + k) is var u and >= 0 && !unknowns.Contains(u))
                    {
                        unknowns.Add(u);
                    }
                }
            }
        }

        /// <summary>Every unknown counts in the size of what it belongs to, so that small things are seen to move beside large
        /// ones.</summary>
        private double[] ColumnSizes(Sketch sketch, Scales scales)
        {
            var sizes = new double[system.UnknownCount];
            for (var i = 0; i < sketch.Entities.Length; i++)
            {
                for (var k = 0; k < SystemWriter.OwnCount(sketch.Entities[i]); k++)
                {
                    if (system.UnknownOf(writer.Placed[i] + k) is var u and >= 0)
                    {
                        sizes[u] = sizes[u] > 0 ? Math.Min(sizes[u], scales.At(i)) : scales.At(i);
                    }
                }
            }

            return Array.ConvertAll(sizes, s => s > 0 ? s : 1);
        }
    }

    /// <summary>Some unknowns, compared by content.</summary>
    private readonly struct UnknownGroup(int[] unknowns) : IEquatable<UnknownGroup>
    {
        private readonly int[] unknowns = unknowns;

        public bool Equals(UnknownGroup other) => unknowns.AsSpan().SequenceEqual(other.unknowns);

        public override bool Equals(object? obj) => obj is UnknownGroup other && Equals(other);

        public override int GetHashCode()
        {
            var hash = default(HashCode);
            hash.AddBytes(System.Runtime.InteropServices.MemoryMarshal.AsBytes(unknowns.AsSpan()));
            return hash.ToHashCode();
        }
    }
}
