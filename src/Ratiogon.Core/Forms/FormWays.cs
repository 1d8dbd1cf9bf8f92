using System.Collections.Immutable;

namespace Ratiogon.Core.Forms;

/// <summary>A way on from a refusal: a field of the form set to something else, or what it stands on changed.</summary>
/// <param name="Words">On a button.</param>
/// <param name="Field">The field.</param>
/// <param name="Value">What it is set to: a formula, the value of an option, true or false, or a reference.</param>
public sealed record FormWay(string Words, string Field, string Value)
{
    /// <summary>Of a field with picks: the reference that gives way to it.</summary>
    public string? Instead { get; init; }

    /// <summary>A command as JSON where something else than the form is changed; there is no field then.</summary>
    public string? FirstJson { get; init; }
}

/// <summary>The ways on that a refused form has.</summary>
public static class FormWays
{
    private const int Most = 4;

    /// <summary>Refusals that may end where the form goes the other way.</summary>
    private static readonly ImmutableHashSet<string> Turning =
    [
        "hole.behind",
        "extrude.no-next",
        "extrude.crossing",
        "extrude.inside",
        "form.no-material",
    ];

    /// <param name="step">The form as it was refused.</param>
    /// <param name="refusal">Why.</param>
    public static ImmutableArray<FormWay> Of(FormStep step, Refusal refusal)
    {
        ArgumentNullException.ThrowIfNull(step);
        ArgumentNullException.ThrowIfNull(refusal);
        var ways = ImmutableArray.CreateBuilder<FormWay>();
        if (refusal is { Fits: { } fits, Where: { } field })
        {
            ways.Add(new FormWay($"Take {fits.Words}", field, fits.Value));
        }

        if (Turning.Contains(refusal.Code) && Flag(step, "flip") is { } flip)
        {
            ways.Add(new FormWay("Turn it round", flip.Name, flip.Get(step) ? "false" : "true"));
        }

        if (refusal.Code == "sweep.aside" && Flag(step, "brought") is { } brought)
        {
            ways.Add(new FormWay("Bring it to the path", brought.Name, "true"));
        }

        if (refusal.Code == "extrude.through-join")
        {
            ways.Add(new FormWay("Cut instead", "operation", nameof(FormOperation.Cut)));
        }

        if (
            refusal is { Code: "name.lost" or "name.pieces", Where: { } lost }
            && step.Fields.OfType<PickField>().FirstOrDefault(f => f.When(step) && f.Get(step).Contains(lost)) is { } picks
        )
        {
            ways.AddRange(refusal.Involved.Take(Most).Select(r => new FormWay($"Take {r}", picks.Name, r) { Instead = lost }));
        }

        return ways.ToImmutable();
    }

    private static FlagField? Flag(FormStep step, string name) =>
        step.Fields.OfType<FlagField>().FirstOrDefault(f => f.Name == name && f.When(step));
}
