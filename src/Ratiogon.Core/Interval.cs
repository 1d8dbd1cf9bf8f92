namespace Ratiogon.Core;

/// <summary>A stretch of a number line.</summary>
/// <param name="From">Where it begins.</param>
/// <param name="To">Where it ends; not below.</param>
public readonly record struct Interval(double From, double To)
{
    public double Length => To - From;
}

/// <summary>The least and the most that a value may be; infinite where nothing bounds it.</summary>
/// <param name="Least">The least.</param>
/// <param name="Most">The most.</param>
public readonly record struct Bounds(double Least, double Most);
