namespace Ratiogon.Core.Quantities;

/// <summary>One function that formulas may call.</summary>
/// <param name="Name">As written.</param>
/// <param name="Least">Fewest arguments.</param>
/// <param name="Most">Most arguments.</param>
/// <param name="Apply">The rule; answers a refusal for units that do not fit or values outside its domain.</param>
internal sealed record Function(string Name, int Least, int Most, Func<Quantity[], Outcome<Quantity>> Apply)
{
    /// <summary>Every function by name.</summary>
    public static readonly IReadOnlyDictionary<string, Function> All = new[]
    {
        OfAngle("sin", Math.Sin),
        OfAngle("cos", Math.Cos),
        OfAngle("tan", Math.Tan),
        ToAngle("asin", Math.Asin),
        ToAngle("acos", Math.Acos),
        ToAngle("atan", Math.Atan),
        new Function("atan2", 2, 2, a => SameKind("atan2", a) ?? (Outcome<Quantity>)Quantity.Angle(Math.Atan2(a[0].Value, a[1].Value))),
        new Function("hypot", 2, 2, a =>
            SameKind("hypot", a)
            ?? (Outcome<Quantity>)(a[0] with { Value = Math.Sqrt((a[0].Value * a[0].Value) + (a[1].Value * a[1].Value)) })
        ),
        new Function("sqrt", 1, 1, SquareRoot),
        Keeping("abs", Math.Abs),
        Keeping("round", v => Math.Round(v, MidpointRounding.AwayFromZero)),
        Keeping("floor", Math.Floor),
        Keeping("ceil", Math.Ceiling),
        new Function("min", 1, 16, a => SameKind("min", a) ?? (Outcome<Quantity>)(a[0] with { Value = a.Min(q => q.Value) })),
        new Function("max", 1, 16, a => SameKind("max", a) ?? (Outcome<Quantity>)(a[0] with { Value = a.Max(q => q.Value) })),
        OfNumber("exp", Math.Exp),
        OfNumber("ln", Math.Log),
        OfNumber("log10", Math.Log10),
    }.ToDictionary(f => f.Name, StringComparer.Ordinal);

    private static Function OfAngle(string name, Func<double, double> f) =>
        new(name, 1, 1, a =>
            a[0].Dimension == Dimension.OfAngle
                ? Quantity.Number(f(a[0].Value))
                : new Refusal("formula.argument", $"{name} takes an angle such as 30 deg, not {a[0].Dimension.Words}.")
        );

    private static Function ToAngle(string name, Func<double, double> f) => new(name, 1, 1, a => a[0].Dimension != Dimension.None
                ? new Refusal("formula.argument", $"{name} takes a plain number, not {a[0].Dimension.Words}.")
            : double.IsNaN(f(a[0].Value)) ? new Refusal("formula.domain", $"{name} takes a number from -1 to 1, not {a[0].Value:0.###}.")
            : Quantity.Angle(f(a[0].Value)));

    private static Function OfNumber(string name, Func<double, double> f) =>
        new(name, 1, 1, a =>
            a[0].Dimension == Dimension.None
                ? Quantity.Number(f(a[0].Value))
                : new Refusal("formula.argument", $"{name} takes a plain number, not {a[0].Dimension.Words}.")
        );

    private static Function Keeping(string name, Func<double, double> f) => new(name, 1, 1, a => a[0] with { Value = f(a[0].Value) });

    private static Outcome<Quantity> SquareRoot(Quantity[] a)
    {
        var (value, dim) = a[0];
        if (value < 0)
        {
            return new Refusal("formula.domain", $"sqrt takes no negative value ({value:0.###}).");
        }

        return dim.Length % 2 == 0 && dim.Angle % 2 == 0 && dim.Mass % 2 == 0
            ? new Quantity(Math.Sqrt(value), new Dimension(dim.Length / 2, dim.Angle / 2, dim.Mass / 2))
            : new Refusal("formula.argument", $"sqrt of {dim.Words} has no unit.");
    }

    private static Refusal? SameKind(string name, Quantity[] a) =>
        Array.Exists(a, q => q.Dimension != a[0].Dimension)
            ? new Refusal(
                "formula.mixed-units",
                $"{name} takes values of one kind, not {a[0].Dimension.Words} beside "
                    + $"{Array.Find(a, q => q.Dimension != a[0].Dimension).Dimension.Words}."
            )
            : null;
}
