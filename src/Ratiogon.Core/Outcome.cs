using System.Collections.Immutable;

namespace Ratiogon.Core;

/// <summary>An expected failure, told as a value: what went wrong, in words for people, and where.</summary>
/// <param name="Code">Stable, dotted identifier such as <c>formula.unknown-name</c>.</param>
/// <param name="Message">One or two plain sentences with the reason and its numbers.</param>
/// <param name="Where">What the refusal is about (a field, an id, a path), or null.</param>
public sealed record Refusal(string Code, string Message, string? Where = null)
{
    /// <summary>Ids of the things that take part in the refusal (for example the constraints that clash).</summary>
    public IReadOnlyList<string> Involved { get; init; } = [];

    /// <summary>Places in space that the message speaks of, in millimetres.</summary>
    public ImmutableArray<Vec3> Places { get; init; } = [];

    /// <summary>What would do in the field that <see cref="Where"/> names; null where nothing is known to.</summary>
    public Fitting? Fits { get; init; }

    /// <summary>The same refusal, said to be about <paramref name="where"/>.</summary>
    public Refusal At(string where) => this with { Where = Where is null ? where : $"{where}: {Where}" };
}

/// <summary>A value that would do in place of one that was refused.</summary>
/// <param name="Words">As it is shown.</param>
/// <param name="Value">As it is typed, exactly.</param>
public sealed record Fitting(string Words, string Value);

/// <summary>Either a value or a <see cref="Refusal"/>. Exceptions are kept for defects.</summary>
public readonly record struct Outcome<T>
{
    private readonly T? value;

    private Outcome(T? value, Refusal? refusal) => (this.value, Refusal) = (value, refusal);

    /// <summary>The reason, when there is no value.</summary>
    public Refusal? Refusal { get; }

    /// <summary>True when there is a value.</summary>
    public bool Done => Refusal is null;

    /// <summary>The value; asking for it after a refusal is a defect and throws.</summary>
    public T Value => Refusal is null ? value! : throw new InvalidOperationException(Refusal.Message);

    public static implicit operator Outcome<T>(T value) => new(value, null);

    public static implicit operator Outcome<T>(Refusal refusal) => new(default, refusal);

    /// <summary>Goes on with the value, or carries the refusal through.</summary>
    public Outcome<TNext> Then<TNext>(Func<T, Outcome<TNext>> next)
    {
        ArgumentNullException.ThrowIfNull(next);
        return Refusal is null ? next(value!) : Refusal;
    }

    /// <summary>Turns the value, or carries the refusal through.</summary>
    public Outcome<TNext> Map<TNext>(Func<T, TNext> map)
    {
        ArgumentNullException.ThrowIfNull(map);
        return Refusal is null ? map(value!) : Refusal;
    }
}
