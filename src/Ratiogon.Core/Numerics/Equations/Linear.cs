namespace Ratiogon.Core.Numerics.Equations;

/// <summary>sum(coefficient * unknown) = constant.</summary>
internal sealed class Linear(int[] variables, double[] coefficients, double constant) : Equation(variables)
{
    internal override (string Name, double[] Constants)? Plain => ("linear", [.. coefficients, constant]);

    public override double Evaluate(ReadOnlySpan<double> v, Span<double> d)
    {
        var sum = -constant;
        for (var i = 0; i < coefficients.Length; i++)
        {
            sum += coefficients[i] * v[i];
            d[i] = coefficients[i];
        }

        return sum;
    }
}
