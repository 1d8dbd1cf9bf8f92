using System.Collections.Immutable;

namespace Ratiogon.Core.Asking;

/// <summary>Something that is asked of a part. A new question is one record with its name and what answers it.</summary>
[ToldBy("ask")]
public abstract record Question
{
    /// <summary>Whether anything is built for the answer: that takes a while.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public virtual bool Builds => true;

    /// <summary>The answer, or why there is none. Changes nothing.</summary>
    /// <param name="part">The part.</param>
    /// <param name="builders">Build parts, without triangles.</param>
    /// <param name="progress">From 0 to 1.</param>
    /// <param name="cancel">Ends it: what was found until then is answered where that makes sense.</param>
    public abstract Outcome<Answer> Ask(
        Parts.Part part,
        Builders builders,
        IProgress<double>? progress = null,
        CancellationToken cancel = default
    );
}

/// <summary>What a <see cref="Question"/> is answered by; numbers are in the core's units.</summary>
[ToldBy("answer")]
public abstract record Answer;

/// <summary>What tolerances do to a reading.</summary>
/// <param name="Reading">Its id or name.</param>
/// <param name="Runs">How many parts to draw at random; null for as many as it takes, 0 for none.</param>
/// <param name="Seed">Of the draw.</param>
[Kind("tolerances")]
public sealed record TolerancesQuestion(string Reading, int? Runs = null, int Seed = 1) : Question
{
    public override Outcome<Answer> Ask(
        Parts.Part part,
        Builders builders,
        IProgress<double>? progress = null,
        CancellationToken cancel = default
    ) => ToleranceStudy.Of(part, Reading, Runs, Seed, builders, progress, cancel).Map(Answer (a) => a);
}

/// <summary>How to bring a reading somewhere.</summary>
/// <param name="Reading">Its id or name.</param>
/// <param name="Goal">Where to.</param>
/// <param name="By">Parameters and sizes that may be turned.</param>
[Kind("aim")]
public sealed record AimQuestion(string Reading, AimGoal Goal, ImmutableArray<string> By) : Question
{
    /// <summary>For a value: a formula.</summary>
    public string? Value { get; init; }

    public override Outcome<Answer> Ask(
        Parts.Part part,
        Builders builders,
        IProgress<double>? progress = null,
        CancellationToken cancel = default
    ) => AimOf.Of(part, this, builders, progress, cancel).Map(Answer (a) => a);
}

/// <summary>What a reading reads over the range of one parameter.</summary>
/// <param name="Reading">Its id or name.</param>
/// <param name="By">A parameter or size.</param>
/// <param name="From">Where to begin, a formula; null for its range.</param>
/// <param name="To">Where to end.</param>
[Kind("course")]
public sealed record CourseQuestion(string Reading, string By, string? From = null, string? To = null) : Question
{
    public override Outcome<Answer> Ask(
        Parts.Part part,
        Builders builders,
        IProgress<double>? progress = null,
        CancellationToken cancel = default
    ) => CourseOf.Of(part, this, builders, progress, cancel).Map(Answer (a) => a);
}

/// <summary>Whether the part can be built over the ranges of its parameters.</summary>
/// <param name="Of">Which; none for all that have a range, or where none has one, all.</param>
/// <param name="Tries">How often it is built.</param>
/// <param name="Pair">Two of them that a map is made of; none for no map.</param>
[Kind("flex")]
public sealed record FlexQuestion(ImmutableArray<string> Of, int Tries = FlexOf.UsualTries) : Question
{
    public ImmutableArray<string> Pair { get; init; } = [];

    public override Outcome<Answer> Ask(
        Parts.Part part,
        Builders builders,
        IProgress<double>? progress = null,
        CancellationToken cancel = default
    ) => FlexOf.Of(part, this, builders, progress, cancel).Map(Answer (a) => a);
}

/// <summary>What each variant of the part reads.</summary>
[Kind("variants")]
public sealed record VariantsQuestion : Question
{
    public override Outcome<Answer> Ask(
        Parts.Part part,
        Builders builders,
        IProgress<double>? progress = null,
        CancellationToken cancel = default
    ) => VariantsOf.Of(part, builders, progress, cancel).Map(Answer (a) => a);
}

/// <summary>What something hangs on, and what hangs on it.</summary>
/// <param name="Step">Id of a step; empty for a parameter.</param>
/// <param name="Name">A size of the step, or the parameter; empty for the step.</param>
[Kind("why")]
public sealed record WhyQuestion(string Step, string Name = "") : Question
{
    public override bool Builds => false;

    public override Outcome<Answer> Ask(
        Parts.Part part,
        Builders builders,
        IProgress<double>? progress = null,
        CancellationToken cancel = default
    ) => WhyOf.Of(part, Step, Name).Map(Answer (a) => a);
}
