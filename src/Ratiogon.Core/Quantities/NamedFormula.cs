namespace Ratiogon.Core.Quantities;

/// <summary>A value typed as <c>name = formula</c>, which makes a parameter of that name.</summary>
/// <param name="Name">The parameter's name.</param>
/// <param name="Text">Its formula.</param>
public readonly record struct NamedFormula(string Name, string Text)
{
    /// <summary>The two parts of a typed text; null where it is a plain formula.</summary>
    public static NamedFormula? Of(string? text)
    {
        var at = text?.IndexOf('=', StringComparison.Ordinal) ?? -1;
        return at > 0 ? new NamedFormula(text![..at].Trim(), text[(at + 1)..].Trim()) : null;
    }
}
