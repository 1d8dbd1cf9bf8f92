namespace Ratiogon.Core.Numerics;

/// <summary>What an equation comes from.</summary>
/// <param name="Kind">A constraint, a dimension, or an entity's own rule (an arc's ends on its circle).</param>
/// <param name="Id">Its id in the sketch.</param>
public readonly record struct Owner(OwnerKind Kind, string Id);

public enum OwnerKind
{
    Entity,
    Constraint,
    Dimension,
}

/// <summary>
/// One scalar equation with analytic first derivatives, scaled so that a residual of 1 means about one millimetre
/// or one radian.
/// </summary>
/// <param name="variables">Indices of the unknowns it reads, in the order its rule expects.</param>
public abstract class Equation(int[] variables)
{
    /// <summary>The most unknowns that one equation reads.</summary>
    public const int MostVariables = 20;

    public IReadOnlyList<int> Variables => variables;

    internal int[] RawVariables => variables;

    /// <summary>Where it comes from.</summary>
    public Owner Owner { get; internal set; }

    /// <summary>The residual at <paramref name="v"/> (one value for each of <see cref="Variables"/>), with the
    /// derivatives written to <paramref name="d"/>.</summary>
    public abstract double Evaluate(ReadOnlySpan<double> v, Span<double> d);

    /// <summary>Its name and constants, by which another program can write the same equation; null where it has no plain form.</summary>
    internal virtual (string Name, double[] Constants)? Plain => null;

    /// <summary>Whether the solution is on the branch the equation was written for. An equation such as "at this
    /// angle" is also met by lines that point the other way; such a solution is not what the user sees.</summary>
    public virtual bool OnSameSide(ReadOnlySpan<double> v) => true;
}
