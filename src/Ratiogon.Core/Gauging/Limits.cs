using System.Text.Json.Serialization;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Gauging;

/// <summary>How a reading stands to its limits.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<Verdict>))]
public enum Verdict
{
    /// <summary>It has none.</summary>
    [JsonStringEnumMemberName("none")]
    None,

    [JsonStringEnumMemberName("pass")]
    Pass,

    /// <summary>It passes, but only just.</summary>
    [JsonStringEnumMemberName("near")]
    Near,

    [JsonStringEnumMemberName("fail")]
    Fail,
}

/// <summary>The limits of a reading, worked out.</summary>
/// <param name="Least">None where it may be as small as it likes.</param>
/// <param name="Most">None where it may be as large as it likes.</param>
public readonly record struct Limits(double? Least, double? Most)
{
    /// <summary>How far beyond a limit, as a share of the value, a reading may be by rounding.</summary>
    private const double Slack = 1e-9;

    /// <summary>Near a limit is this share of the stretch between two, or of a single one by itself.</summary>
    private const double NearOfTwo = 0.1,
        NearOfOne = 0.02;

    public Verdict Of(double value)
    {
        var slack = Slack * Math.Max(1, Math.Abs(value));
        if (Least is null && Most is null)
        {
            return Verdict.None;
        }

        if (value < Least - slack || value > Most + slack)
        {
            return Verdict.Fail;
        }

        var near = Least is { } l && Most is { } m ? (m - l) * NearOfTwo : Math.Abs((Least ?? Most)!.Value) * NearOfOne;
        return value < Least + near - slack || value > Most - near + slack ? Verdict.Near : Verdict.Pass;
    }

    /// <summary>The limits of a reading step, its formulas evaluated.</summary>
    public static Outcome<Limits> Of(ReadingStep step, Dimension kind, Func<string, Outcome<Quantity>> names)
    {
        ArgumentNullException.ThrowIfNull(step);
        return One(step.Least, "least")
            .Then(least =>
                One(step.Most, "most")
                    .Then<Limits>(most =>
                        least > most
                            ? new Refusal("reading.limits", $"The least, {step.Least}, lies above the most, {step.Most}.", "least")
                            : new Limits(least, most)
                    )
            );
        Outcome<double?> One(string? formula, string field) =>
            string.IsNullOrWhiteSpace(formula)
                ? (double?)null
                : Formula
                    .Parse(formula)
                    .Then(f => f.Evaluate(names))
                    .Then<double?>(q =>
                        q.Dimension == kind
                            ? q.Value
                            : new Refusal("formula.kind", $"The limit needs {kind.Words}; '{formula}' is {q.Dimension.Words}.", field)
                    );
    }
}
