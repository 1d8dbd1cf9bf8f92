namespace Ratiogon.Core.Solving;

/// <summary>The compiled system: unknowns after reduction, and equations with the columns they touch.</summary>
internal sealed class EquationSystem
{
    private readonly int[][] slots;
    private readonly int[] unknownOf;
    private readonly double[] offsetOf;

    private EquationSystem(Equation[] equations, int[][] columns, int[][] slots, int[] unknownOf, double[] offsetOf, double[] start, double[] weights)
    {
        (Equations, Columns, this.slots, this.unknownOf, this.offsetOf, Start, Weights) = (equations, columns, slots, unknownOf, offsetOf, start, weights);
    }

    public Equation[] Equations { get; }

    /// <summary>For each equation, the distinct unknowns it touches.</summary>
    public int[][] Columns { get; }

    /// <summary>Start values; where an unknown stands for several, their mean.</summary>
    public double[] Start { get; }

    /// <summary>How much each unknown weighs when as little as possible is to move: how many raw unknowns it stands for.</summary>
    public double[] Weights { get; }

    public int UnknownCount => Start.Length;

    /// <summary>The unknown behind a raw one, or -1 when that is fixed.</summary>
    public int UnknownOf(int raw) => unknownOf[raw];

    public int RawCount => unknownOf.Length;

    /// <summary>What a raw unknown lies above its unknown; the value itself when it is fixed.</summary>
    public double OffsetOf(int raw) => offsetOf[raw];

    /// <param name="writer">A finished writer.</param>
    /// <param name="goal">Raw positions to start from; by default the drawn ones.</param>
    /// <param name="rawWeights">Weights of the raw unknowns; by default 1 each.</param>
    public static EquationSystem From(SystemWriter writer, double[]? goal = null, double[]? rawWeights = null)
    {
        goal ??= writer.Start;
        var raw = writer.Start.Length;
        var unknownOf = new int[raw];
        var offsetOf = new double[raw];
        var numberOf = new Dictionary<int, int>();
        var start = new List<double>();
        var weights = new List<double>();
        for (var v = 0; v < raw; v++)
        {
            var (root, offset) = writer.Union.Find(v);
            if (writer.Union.FixedValue(root) is { } value)
            {
                (unknownOf[v], offsetOf[v]) = (-1, value + offset);
                continue;
            }

            if (!numberOf.TryGetValue(root, out var n))
            {
                numberOf[root] = n = start.Count;
                start.Add(0);
                weights.Add(0);
            }

            var weight = rawWeights?[v] ?? 1;
            (unknownOf[v], offsetOf[v]) = (n, offset);
            start[n] += weight * (goal[v] - offset);
            weights[n] += weight;
        }

        for (var n = 0; n < start.Count; n++)
        {
            start[n] /= weights[n];
        }

        var equations = writer.Equations.ToArray();
        var columns = new int[equations.Length][];
        var slots = new int[equations.Length][];
        for (var e = 0; e < equations.Length; e++)
        {
            var variables = equations[e].RawVariables;
            var distinct = new List<int>(variables.Length);
            var slot = new int[variables.Length];
            for (var i = 0; i < variables.Length; i++)
            {
                var u = unknownOf[variables[i]];
                slot[i] = u < 0 ? -1 : distinct.IndexOf(u);
                if (u >= 0 && slot[i] < 0)
                {
                    slot[i] = distinct.Count;
                    distinct.Add(u);
                }
            }

            (columns[e], slots[e]) = ([.. distinct], slot);
            if (slot.Count(s => s >= 0) > distinct.Count)
            {
                DropCancelling(equations[e], distinct, slot, writer.Start, ref columns[e], ref slots[e]);
            }
        }

        return new EquationSystem(equations, columns, slots, unknownOf, offsetOf, [.. start], [.. weights]);
    }

    /// <summary>An unknown that an equation reads several times may cancel: the distance of two points does not depend on a
    /// height that both share. Such columns would tie everything to everything and are left out; derivatives that are zero
    /// at two unrelated places are zero everywhere.</summary>
    private static void DropCancelling(Equation equation, List<int> distinct, int[] slot, double[] start, ref int[] columns, ref int[] slots)
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

                stays[k] |= times < 2 || !(Math.Abs(sum) <= 1e-13 * size);
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

    /// <summary>The residual of one equation at x; its derivatives by the unknowns of <see cref="Columns"/> go to <paramref name="row"/>.</summary>
    public double Evaluate(int equation, ReadOnlySpan<double> x, Span<double> row)
    {
        var e = Equations[equation];
        var variables = e.RawVariables;
        var slot = slots[equation];
        Span<double> v = stackalloc double[Equation.MostVariables];
        Span<double> d = stackalloc double[Equation.MostVariables];
        Gather(variables, x, v);
        var residual = e.Evaluate(v, d);
        row[..Columns[equation].Length].Clear();
        for (var i = 0; i < variables.Length; i++)
        {
            if (slot[i] >= 0)
            {
                row[slot[i]] += d[i];
            }
        }

        return residual;
    }

    public double Residual(int equation, ReadOnlySpan<double> x)
    {
        Span<double> v = stackalloc double[Equation.MostVariables];
        Span<double> d = stackalloc double[Equation.MostVariables];
        Gather(Equations[equation].RawVariables, x, v);
        return Equations[equation].Evaluate(v, d);
    }

    public bool OnSameSide(int equation, ReadOnlySpan<double> x)
    {
        Span<double> v = stackalloc double[Equation.MostVariables];
        Gather(Equations[equation].RawVariables, x, v);
        return Equations[equation].OnSameSide(v);
    }

    /// <summary>Largest residual in size; NaN counts as infinite.</summary>
    public double LargestResidual(ReadOnlySpan<double> x)
    {
        var largest = 0.0;
        for (var e = 0; e < Equations.Length; e++)
        {
            var r = Math.Abs(Residual(e, x));
            largest = r <= largest ? largest : double.IsNaN(r) ? double.PositiveInfinity : r;
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
