using System.Collections.Immutable;

namespace Ratiogon.Core.Quantities;

/// <summary>A named value of a part.</summary>
/// <param name="Name">Letters, digits and underscores, not starting with a digit.</param>
/// <param name="Value">A formula.</param>
/// <param name="Note">What it is for.</param>
public sealed record Parameter(string Name, string Value, string Note = "")
{
    /// <summary>The least that it may be, a number with its unit; null for no bound.</summary>
    public string? Least { get; init; }

    /// <summary>The most that it may be.</summary>
    public string? Most { get; init; }

    /// <summary>What it goes by, from <see cref="Least"/> or from nothing: 0.5 mm, 1; null for anything in between.</summary>
    public string? Stride { get; init; }

    /// <summary>The heading that it is shown under, or null.</summary>
    public string? Group { get; init; }

    /// <summary>Its range in the core's units, as far as it has one.</summary>
    public Bounds Range => new Bounds(Bound(Least) ?? double.NegativeInfinity, Bound(Most) ?? double.PositiveInfinity);

    /// <summary>What it goes by in the core's units, or null.</summary>
    public double? StrideValue => Bound(Stride);

    private static double? Bound(string? text) =>
        text is not null && Formula.Parse(text) is { Done: true } f && f.Value.Evaluate(_ => new Refusal("", "")) is { Done: true } q
            ? q.Value.Value
            : null;

    /// <summary>Why a name cannot be used, or null.</summary>
    public static Refusal? CheckName(string name)
    {
        var good =
            !string.IsNullOrEmpty(name)
            && name.Length <= 40
            && (char.IsLetter(name[0]) || name[0] == '_')
            && name.All(c => char.IsLetterOrDigit(c) || c == '_');
        return !good
                ? new Refusal(
                    "parameter.name",
                    $"'{Shorten(name)}' cannot name a parameter: use up to 40 letters, digits and underscores, beginning with a letter."
                )
            : name == "pi" || Units.TryGet(name, out _) || Function.All.ContainsKey(name)
                ? new Refusal("parameter.reserved", $"'{name}' already means a unit or a function.")
            : null;
    }

    private static string Shorten(string? text) =>
        text is null ? ""
        : text.Length > 40 ? text[..40] + "…"
        : text;
}

/// <summary>The values of a part's parameters, worked out in the order their formulas need.</summary>
public sealed class ParameterValues
{
    private readonly ImmutableDictionary<string, Outcome<Quantity>> values;

    private ParameterValues(ImmutableDictionary<string, Outcome<Quantity>> values) => this.values = values;

    public static readonly ParameterValues None = new(ImmutableDictionary<string, Outcome<Quantity>>.Empty);

    /// <summary>The first parameter that has no value, or null.</summary>
    public Refusal? FirstRefusal =>
        values.OrderBy(v => v.Key, StringComparer.Ordinal).Select(v => v.Value.Refusal).FirstOrDefault(r => r is not null);

    /// <summary>The value of a name, or why it has none. Fits <see cref="Formula.Evaluate"/>.</summary>
    public Outcome<Quantity> Of(string name) =>
        values.TryGetValue(name, out var value) ? value : new Refusal("formula.unknown-name", $"There is no parameter '{name}'.", name);

    /// <summary>With one more name, or another value for it; parameters keep theirs.</summary>
    public ParameterValues With(string name, Outcome<Quantity> value) => new(values.SetItem(name, value));

    public bool Has(string name) => values.ContainsKey(name);

    public static ParameterValues Evaluate(IEnumerable<Parameter> parameters)
    {
        var known = parameters.ToDictionary(p => p.Name, StringComparer.Ordinal);
        var done = ImmutableDictionary.CreateBuilder<string, Outcome<Quantity>>(StringComparer.Ordinal);
        var open = new List<string>();

        Outcome<Quantity> Resolve(string name)
        {
            if (done.TryGetValue(name, out var ready))
            {
                return ready;
            }

            if (!known.TryGetValue(name, out var parameter))
            {
                return new Refusal("formula.unknown-name", $"There is no parameter '{name}'.", name);
            }

            if (open.Contains(name))
            {
                return new Refusal(
                    "parameter.cycle",
                    $"'{name}' depends on itself: {string.Join(" -> ", open.SkipWhile(n => n != name).Append(name))}.",
                    name
                );
            }

            open.Add(name);
            var value = Formula.Parse(parameter.Value).Then(f => f.Evaluate(Resolve));
            open.RemoveAt(open.Count - 1);
            done[name] = value.Refusal is { } refusal ? refusal with { Where = refusal.Where ?? name } : value;
            return done[name];
        }

        foreach (var name in known.Keys)
        {
            Resolve(name);
        }

        return new ParameterValues(done.ToImmutable());
    }
}
