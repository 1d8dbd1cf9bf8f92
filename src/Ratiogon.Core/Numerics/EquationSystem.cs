namespace Ratiogon.Core.Numerics;

/// <summary>Equations that rather hold than not.</summary>
/// <param name="Equations">Those that hold, then those that only carry along.</param>
/// <param name="Columns">For each, the distinct unknowns it touches.</param>
/// <param name="Slots">For each of its variables, which of them it is; -1 for what is fixed.</param>
/// <param name="Stiffness">How much each resists.</param>
/// <param name="FirstCarrying">Those from here on only carry things along.</param>
internal sealed record SoftEquations(Equation[] Equations, int[][] Columns, int[][] Slots, double[] Stiffness, int FirstCarrying);

/// <summary>The compiled system: unknowns after reduction, and equations with the columns they touch.</summary>
internal sealed class EquationSystem
{
    /// <summary>What rounding may leave of a slope that is the same everywhere, as a share of its terms.</summary>
    private const double StaysTo = 1e-13;

    /// <summary>Unknowns of this weight or more give way only where nothing else can.</summary>
    public const double Stiff = 1e6;

    private readonly int[][] slots;
    private readonly Lazy<SoftEquations> soft;
    private readonly int[] unknownOf;
    private readonly double[] offsetOf;
    private readonly bool[] coordinates;

    internal EquationSystem(
        Equation[] equations,
        (int[][] Columns, int[][] Slots) hard,
        Func<SoftEquations> soft,
        int[] unknownOf,
        double[] offsetOf,
        int[] partner,
        double[] start,
        double[] weights,
        double size,
        double tolerance
    )
    {
        (Equations, (Columns, slots), this.soft) = (equations, hard, new(soft));
        (this.unknownOf, this.offsetOf, Partner, Start, Weights, Size, Tolerance) = (
            unknownOf,
            offsetOf,
            partner,
            start,
            weights,
            size,
            tolerance
        );
        coordinates = new bool[start.Length];
        for (var v = 0; v < partner.Length; v++)
        {
            if (partner[v] >= 0 && unknownOf[v] >= 0)
            {
                coordinates[unknownOf[v]] = true;
            }
        }
    }

    public Equation[] Equations { get; }

    /// <summary>For each equation, the distinct unknowns it touches.</summary>
    public int[][] Columns { get; }

    /// <summary>Equations that rather hold than not: what nobody sized keeps its size.</summary>
    public Equation[] Soft => soft.Value.Equations;

    /// <summary>Those from here on only carry things along, before the others hold them.</summary>
    public int FirstCarrying => soft.Value.FirstCarrying;

    /// <summary>For each soft equation, the distinct unknowns it touches; none where it cannot change.</summary>
    public int[][] SoftColumns => soft.Value.Columns;

    /// <summary>How much each soft equation resists.</summary>
    public double[] Stiffness => soft.Value.Stiffness;

    /// <summary>Of a raw coordinate, the point's other one; -1 for all else.</summary>
    public int[] Partner { get; }

    /// <summary>Start values; where an unknown stands for several, their mean.</summary>
    public double[] Start { get; }

    /// <summary>How much each unknown resists moving: the sum over the raw unknowns it stands for.</summary>
    public double[] Weights { get; }

    /// <summary>Whether reduction alone moves anything from where it was drawn; not told of a start elsewhere.</summary>
    public bool Jumped { get; internal init; }

    /// <summary>The extent of what is drawn, in mm.</summary>
    public double Size { get; }

    /// <summary>The largest scaled residual that counts as met: <see cref="Tolerances.Residual"/>, or far from the origin what
    /// the coordinates can tell apart.</summary>
    public double Tolerance { get; }

    public int UnknownCount => Start.Length;

    /// <summary>The unknown behind a raw one, or -1 when that is fixed.</summary>
    public int UnknownOf(int raw) => unknownOf[raw];

    public int RawCount => unknownOf.Length;

    /// <summary>What a raw unknown lies above its unknown; the value itself when it is fixed.</summary>
    public double OffsetOf(int raw) => offsetOf[raw];

    /// <summary>For each equation its distinct unknowns, and for each of its variables which of them it is.</summary>
    /// <param name="equations">The equations.</param>
    /// <param name="unknownOf">The unknown behind each raw one.</param>
    /// <param name="start">Raw positions.</param>
    /// <param name="known">The same of a system of the same structure: taken over where the equation is the same one.</param>
    internal static (int[][] Columns, int[][] Slots) Slotted(
        Equation[] equations,
        int[] unknownOf,
        double[] start,
        SystemSlots? known = null
    )
    {
        if (known is not null && !(known.Equations.Length == equations.Length && known.UnknownOf.AsSpan().SequenceEqual(unknownOf)))
        {
            known = null;
        }

        var columns = new int[equations.Length][];
        var slots = new int[equations.Length][];
        for (var e = 0; e < equations.Length; e++)
        {
            (columns[e], slots[e]) =
                known is not null && ReferenceEquals(known.Equations[e], equations[e])
                    ? (known.Columns[e], known.Slots[e])
                    : Slotted(equations[e], unknownOf, start);
        }

        return (columns, slots);
    }

    private static (int[] Columns, int[] Slots) Slotted(Equation equation, int[] unknownOf, double[] start)
    {
        var variables = equation.RawVariables;
        var distinct = new List<int>(variables.Length);
        var slot = new int[variables.Length];
        var known = 0;
        for (var i = 0; i < variables.Length; i++)
        {
            var u = unknownOf[variables[i]];
            slot[i] = u < 0 ? -1 : distinct.IndexOf(u);
            known += u < 0 ? 0 : 1;
            if (u >= 0 && slot[i] < 0)
            {
                slot[i] = distinct.Count;
                distinct.Add(u);
            }
        }

        int[] columns = [.. distinct];
        if (known > distinct.Count)
        {
            DropCancelling(equation, distinct, slot, start, ref columns, ref slot);
        }

        return (columns, slot);
    }

    /// <summary>An unknown that an equation reads several times may cancel: the distance of two points does not depend on a
    /// height that both share. Such columns would tie everything to everything and are left out; derivatives that are zero
    /// at two unrelated places are zero everywhere.</summary>
    private static void DropCancelling(
        Equation equation,
        List<int> distinct,
        int[] slot,
        double[] start,
        ref int[] columns,
        ref int[] slots
    )
    {
        Span<double> v = stackalloc double[Equation.MostVariables];
        Span<double> d = stackalloc double[Equation.MostVariables];
        Span<bool> stays = stackalloc bool[Equation.MostVariables];
        stays.Clear();
        var variables = equation.RawVariables;
        for (var place = 0; place < 2; place++)
        {
            for (var i = 0; i < variables.Length; i++)
            {
                v[i] = start[variables[i]] + (place * ((0.37 * i) + 0.11));
            }

            d.Clear();
            equation.Evaluate(v, d);
            for (var k = 0; k < distinct.Count; k++)
            {
                var (sum, size, times) = (0.0, 0.0, 0);
                for (var i = 0; i < slot.Length; i++)
                {
                    if (slot[i] == k)
                    {
                        sum += d[i];
                        size += Math.Abs(d[i]);
                        times++;
                    }
                }

                stays[k] |= times < 2 || !(Math.Abs(sum) <= StaysTo * size);
            }
        }

        var to = new int[distinct.Count];
        var kept = new List<int>();
        for (var k = 0; k < to.Length; k++)
        {
            to[k] = stays[k] ? kept.Count : -1;
            if (stays[k])
            {
                kept.Add(distinct[k]);
            }
        }

        if (kept.Count < distinct.Count)
        {
            (columns, slots) = ([.. kept], Array.ConvertAll(slot, s => s < 0 ? -1 : to[s]));
        }
    }

    /// <summary>The residual of one equation at x; its derivatives by the unknowns of <see cref="Columns"/> go to
    /// <paramref name="row"/>.</summary>
    public double Evaluate(int equation, ReadOnlySpan<double> x, Span<double> row) =>
        Evaluate(Equations[equation], Columns[equation], slots[equation], x, row);

    /// <summary>The same for a soft equation.</summary>
    public double EvaluateSoft(int equation, ReadOnlySpan<double> x, Span<double> row) =>
        Evaluate(Soft[equation], SoftColumns[equation], soft.Value.Slots[equation], x, row);

    private double Evaluate(Equation e, int[] columns, int[] slot, ReadOnlySpan<double> x, Span<double> row)
    {
        var variables = e.RawVariables;
        Span<double> v = stackalloc double[Equation.MostVariables];
        Span<double> d = stackalloc double[Equation.MostVariables];
        Gather(variables, x, v);
        var residual = e.Evaluate(v, d);
        row[..columns.Length].Clear();
        for (var i = 0; i < variables.Length; i++)
        {
            if (slot[i] >= 0)
            {
                row[slot[i]] += d[i];
            }
        }

        return residual;
    }

    public double Residual(int equation, ReadOnlySpan<double> x) => Residual(Equations[equation], x);

    /// <summary>The residual of a soft equation.</summary>
    public double SoftResidual(int equation, ReadOnlySpan<double> x) => Residual(Soft[equation], x);

    private double Residual(Equation equation, ReadOnlySpan<double> x)
    {
        Span<double> v = stackalloc double[Equation.MostVariables];
        Span<double> d = stackalloc double[Equation.MostVariables];
        Gather(equation.RawVariables, x, v);
        return equation.Evaluate(v, d);
    }

    public bool OnSameSide(int equation, ReadOnlySpan<double> x)
    {
        Span<double> v = stackalloc double[Equation.MostVariables];
        Gather(Equations[equation].RawVariables, x, v);
        return Equations[equation].OnSameSide(v);
    }

    /// <summary>Rules whose equations left their side.</summary>
    public List<Owner> Crossed(double[] x)
    {
        var crossed = new List<Owner>();
        for (var e = 0; e < Equations.Length; e++)
        {
            if (!OnSameSide(e, x) && !crossed.Contains(Equations[e].Owner))
            {
                crossed.Add(Equations[e].Owner);
            }
        }

        return crossed;
    }

    /// <summary>Whether all of these equations are met.</summary>
    public bool Meets(IEnumerable<int> equations, double[] x)
    {
        foreach (var e in equations)
        {
            if (!(Math.Abs(Residual(e, x)) <= Tolerance))
            {
                return false;
            }
        }

        return true;
    }

    /// <summary>Largest residual in size; NaN counts as infinite.</summary>
    public double LargestResidual(ReadOnlySpan<double> x)
    {
        var largest = 0.0;
        for (var e = 0; e < Equations.Length; e++)
        {
            var r = Math.Abs(Residual(e, x));
            largest =
                r <= largest ? largest
                : double.IsNaN(r) ? double.PositiveInfinity
                : r;
        }

        return largest;
    }

    /// <summary>Raw unknowns from the reduced ones.</summary>
    public double[] ToRaw(ReadOnlySpan<double> x)
    {
        var raw = new double[unknownOf.Length];
        for (var v = 0; v < raw.Length; v++)
        {
            raw[v] = unknownOf[v] < 0 ? offsetOf[v] : x[unknownOf[v]] + offsetOf[v];
        }

        return raw;
    }

    /// <summary>Whether an unknown stands for a coordinate.</summary>
    public bool IsCoordinate(int unknown) => coordinates[unknown];

    /// <summary>A raw unknown's value at these unknowns.</summary>
    public double ValueAt(ReadOnlySpan<double> x, int raw) => unknownOf[raw] is var u and >= 0 ? x[u] + offsetOf[raw] : offsetOf[raw];

    private void Gather(int[] variables, ReadOnlySpan<double> x, Span<double> v)
    {
        for (var i = 0; i < variables.Length; i++)
        {
            var raw = variables[i];
            var u = unknownOf[raw];
            v[i] = u < 0 ? offsetOf[raw] : x[u] + offsetOf[raw];
        }
    }
}
