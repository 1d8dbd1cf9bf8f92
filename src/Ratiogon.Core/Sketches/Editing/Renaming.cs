using System.Collections.Immutable;

namespace Ratiogon.Core.Sketches.Editing;

/// <summary>Other ids for entities, wherever they are spoken of.</summary>
public static class Renaming
{
    /// <summary>The sketch with entities renamed; constraints and dimensions follow.</summary>
    public static Sketch Of(Sketch sketch, IReadOnlyDictionary<string, string> names)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        ArgumentNullException.ThrowIfNull(names);
        string Name(string id) => names.GetValueOrDefault(id, id);
        return sketch with
        {
            Entities = [.. sketch.Entities.Select(e => WithPoints(e, Name) with { Id = Name(e.Id) })],
            Constraints = [.. sketch.Constraints.Select(c => c.Of.Any(names.ContainsKey) ? c with { Of = [.. c.Of.Select(Name)] } : c)],
            Dimensions = [.. sketch.Dimensions.Select(d => d.Of.Any(names.ContainsKey) ? d with { Of = [.. d.Of.Select(Name)] } : d)],
        };
    }

    /// <summary>An entity drawn through other points.</summary>
    public static SketchEntity WithPoints(SketchEntity entity, Func<string, string> name) =>
        entity switch
        {
            LineEntity l => l with { From = name(l.From), To = name(l.To) },
            CircleEntity c => c with { Centre = name(c.Centre) },
            ArcEntity a => a with { Centre = name(a.Centre), From = name(a.From), To = name(a.To) },
            EllipseEntity e => e with { Centre = name(e.Centre), First = name(e.First), Second = name(e.Second) },
            EllipticArcEntity e => e with
            {
                Centre = name(e.Centre),
                First = name(e.First),
                Second = name(e.Second),
                From = name(e.From),
                To = name(e.To),
            },
            SplineEntity s => s with
            {
                Through = [.. s.Through.Select(name)],
                FromHandle = s.FromHandle is { } f ? name(f) : null,
                ToHandle = s.ToHandle is { } t ? name(t) : null,
            },
            _ => entity,
        };
}
