using System.Collections.Immutable;
using System.Reflection;
using Ratiogon.Core.Forms;

namespace Ratiogon.Core.Tools.Forms;

/// <summary>A form that can be made.</summary>
/// <param name="Kind">As in files.</param>
/// <param name="Tool">How it stands among the tools.</param>
/// <param name="Make">Makes an empty one: no name, no number, nothing picked.</param>
public sealed record FormKind(string Kind, FormToolAttribute Tool, Func<FormStep> Make)
{
    /// <summary>As shown.</summary>
    public string Label => Tool.Label;
}

/// <summary>Every form: the kinds of <see cref="FormStep"/>, those of other assemblies among them.</summary>
public static class FormCatalog
{
    /// <summary>In the order in which they are mostly used.</summary>
    /// <exception cref="InvalidOperationException">A form does not say how it stands among the tools, or two have one shortcut.</exception>
    public static ImmutableArray<FormKind> All { get; } = Find();

    public static FormKind? Find(string kind) => All.FirstOrDefault(k => k.Kind == kind);

    private static ImmutableArray<FormKind> Find()
    {
        FormKind[] found = [.. Kinds.Of(typeof(FormStep)).Select(Of).OrderBy(k => k.Tool.Place)];
        return found.GroupBy(k => k.Tool.Stroke).FirstOrDefault(g => g.Count() > 1) is { } twice
            ? throw new InvalidOperationException($"'{twice.Key}' is the shortcut of {string.Join(" and of ", twice.Select(k => k.Kind))}.")
            : [.. found];
    }

    private static FormKind Of(KindOf kind) =>
        new(
            kind.Name,
            kind.Type.GetCustomAttribute<FormToolAttribute>()
                ?? throw new InvalidOperationException($"{kind.Type} does not say how it stands among the tools."),
            () => Empty(kind.Type)
        );

    /// <summary>A form whose constructor is given what is empty: no text, no number, nothing picked.</summary>
    private static FormStep Empty(Type form)
    {
        var made = form.GetConstructors().Single();
        return (FormStep)
            made.Invoke([
                .. made.GetParameters()
                    .Select(p =>
                        p.ParameterType == typeof(string) ? ""
                        : p.ParameterType == typeof(Refs) ? (object)(Refs)[]
                        : Activator.CreateInstance(p.ParameterType)
                    ),
            ]);
    }
}
