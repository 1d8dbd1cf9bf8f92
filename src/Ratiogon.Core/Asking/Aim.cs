using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Asking;

/// <summary>Where a reading is to be brought.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<AimGoal>))]
public enum AimGoal
{
    /// <summary>To a value.</summary>
    [JsonStringEnumMemberName("value")]
    Value,

    /// <summary>Into its limits.</summary>
    [JsonStringEnumMemberName("limits")]
    Limits,

    /// <summary>As low as it goes.</summary>
    [JsonStringEnumMemberName("least")]
    Least,

    /// <summary>As high as it goes.</summary>
    [JsonStringEnumMemberName("most")]
    Most,
}

/// <summary>One try.</summary>
/// <param name="At">What the parameters were, in their order.</param>
/// <param name="Reading">What it read; null where the part could not be built.</param>
/// <param name="Why">Why it could not.</param>
public sealed record AimTry(ImmutableArray<double> At, double? Reading, string? Why);

/// <summary>What a parameter or size is turned to.</summary>
/// <param name="Knob">Which.</param>
/// <param name="Measure">How its values are shown.</param>
/// <param name="To">The value that was found.</param>
/// <param name="Text">The same as a formula.</param>
public sealed record AimedKnob(Knob Knob, Measure Measure, double To, string Text);

/// <summary>What an aim came to.</summary>
/// <param name="Reading">Its name.</param>
/// <param name="Measure">How its values are shown.</param>
/// <param name="Was">Before.</param>
/// <param name="Reached">With the values found: the nearest there is, where the goal is out of reach.</param>
/// <param name="Goal">The value that was to be reached; null for least and most.</param>
/// <param name="Met">Whether it was.</param>
/// <param name="Said">In words: what was reached, or what stops it.</param>
/// <param name="Knobs">What to turn to what.</param>
/// <param name="Tries">All tries in order.</param>
[Kind("aim")]
public sealed record AimAnswer(
    string Reading,
    Measure Measure,
    double Was,
    double Reached,
    double? Goal,
    bool Met,
    string Said,
    ImmutableArray<AimedKnob> Knobs,
    ImmutableArray<AimTry> Tries
) : Answer;

/// <summary>
/// Brings a reading to a goal. One parameter by bracketing and Brent's method (Brent, Algorithms for Minimization without Derivatives,
/// 1973, chapters 4 and 5), several by steps along the slopes within a trust region and the ranges; what goes by a stride ends on it.
/// </summary>
public static class AimOf
{
    /// <summary>The most parameters that are turned at once.</summary>
    public const int MostKnobs = 6;

    public static Outcome<AimAnswer> Of(
        Part part,
        AimQuestion question,
        Builders builders,
        IProgress<double>? progress = null,
        CancellationToken cancel = default
    )
    {
        ArgumentNullException.ThrowIfNull(question);
        ArgumentNullException.ThrowIfNull(builders);
        var found = AskedReading.Of(part, question.Reading, builders.Build);
        if (!found.Done)
        {
            return found.Refusal!;
        }

        if (question.By.IsDefaultOrEmpty || question.By.Length > MostKnobs)
        {
            return new Refusal("aim.by", $"Choose from one to {MostKnobs} parameters or sizes to turn.", "by");
        }

        var knobs = new List<Knob>();
        foreach (var name in question.By)
        {
            var knob = Knob.Find(part, name);
            if (!knob.Done)
            {
                return knob.Refusal!;
            }

            if (knobs.Contains(knob.Value))
            {
                return new Refusal("aim.by", $"{knob.Value.Words} is named twice.", "by");
            }

            knobs.Add(knob.Value);
        }

        var goal = question.Goal == AimGoal.Value ? GoalOf(question, found.Value, part).Map(double? (v) => v) : (double?)null;
        return goal.Then(value => new AimSearch(found.Value, [.. knobs], builders, progress, cancel).Run(question.Goal, value, part));
    }

    private static Outcome<double> GoalOf(AimQuestion question, AskedReading asked, Part part)
    {
        var formula = Formula.ForField(question.Value ?? "", asked.Kind, part.Units, part.Values.Of);
        var value = formula.Then(f => f.Evaluate(part.Values.Of));
        return !value.Done ? value.Refusal! with { Where = "value" }
            : value.Value.Dimension != asked.Kind
            && !(value.Value.Dimension == Dimension.None && Units.Default(asked.Kind, part.Units) is null)
                ? new Refusal("aim.kind", $"{asked.Step.Name} is {asked.Kind.Words}, not {value.Value.Dimension.Words}.", "value")
            : value.Value.Value;
    }
}
