using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Parts.Commands;

/// <summary>Sizes typed as <c>name = formula</c>: the parameter is made, and the size uses it.</summary>
internal static class Naming
{
    /// <summary>The part with the parameter, and what the size then says; both as they are where the text is a plain formula.</summary>
    /// <param name="part">The part.</param>
    /// <param name="text">What was typed.</param>
    /// <param name="kind">What the size measures: a bare number takes its unit.</param>
    public static Outcome<(Part Part, string? Text)> Of(Part part, string? text, Dimension kind)
    {
        if (NamedFormula.Of(text) is not { } named)
        {
            return (part, text);
        }

        if (part.Parameters.Any(p => p.Name == named.Name))
        {
            return new Refusal(
                "parameter.taken",
                $"There is a parameter '{named.Name}' already: type '{named.Name}' alone to use it, or choose another name.",
                "value"
            );
        }

        return Formula
            .ForField(named.Text, kind, part.Units, part.Values.Of)
            .Then(formula => new SetParameter(named.Name, formula.Text).Apply(part))
            .Map(made => (made, (string?)named.Name));
    }

    /// <summary>The same for every size of a step.</summary>
    public static Outcome<(Part Part, Step Step)> Of(Part part, Step step)
    {
        foreach (var size in step.Sizes)
        {
            var named = Of(part, size.Formula, size.Kind);
            if (!named.Done)
            {
                return named.Refusal! with { Where = size.Field };
            }

            (part, step) = (named.Value.Part, named.Value.Text == size.Formula ? step : step.WithSize(size.Field, named.Value.Text!));
        }

        return (part, step);
    }
}
