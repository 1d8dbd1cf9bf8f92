using System.Collections.Immutable;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches.Dimensions;
using Ratiogon.Core.Sketches.Rules;

namespace Ratiogon.Core.Sketches.Editing;

/// <summary>A shift, turn or scaling of the sketch plane.</summary>
/// <param name="About">The place that stays, for turns and scalings.</param>
/// <param name="Shift">In millimetres.</param>
/// <param name="Turn">In radians.</param>
/// <param name="Scale">Above zero.</param>
public readonly record struct Similarity(Vec2 About, Vec2 Shift, double Turn, double Scale)
{
    public Vec2 Apply(Vec2 p)
    {
        var d = (p - About) * Scale;
        var (sin, cos) = Math.SinCos(Turn);
        return About + Shift + new Vec2((d.X * cos) - (d.Y * sin), (d.X * sin) + (d.Y * cos));
    }
}

/// <summary>Moves, turns and scales what is picked, or makes a copy of it elsewhere.</summary>
public static class Moving
{
    /// <summary>New positions; sizes among what is picked grow with it. The solver has the last word.</summary>
    public static Outcome<SketchEdit> Move(Sketch sketch, ImmutableArray<string> ids, Similarity by)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        var of = Copying.Closure(sketch, ids);
        if (of.IsEmpty)
        {
            return new Refusal("move.nothing", "Pick what to move first.");
        }

        // The sketch's own points stay: what hangs on one would be bent or left behind.
        if (by.Apply(Vec2.Zero).Length > Tolerances.Length && of.FirstOrDefault(e => e.Points.Any(Sketch.IsBuiltIn)) is { } hung)
        {
            return new Refusal(
                "move.origin",
                $"{char.ToUpperInvariant(hung.Word[0])}{hung.Word[1..]} {hung.Id} hangs on the origin, which stays: a copy of it "
                    + "can stand elsewhere.",
                hung.Id
            );
        }

        var inside = of.Select(e => e.Id).ToHashSet(StringComparer.Ordinal);
        return new SketchEdit
        {
            Move = of.OfType<PointEntity>().ToImmutableDictionary(p => p.Id, p => by.Apply(p.At)),
            Resize =
                by.Scale == 1
                    ? ImmutableDictionary<string, double>.Empty
                    : of.Where(e => e is CircleEntity or ArcEntity)
                        .ToImmutableDictionary(e => e.Id, e => RimDistance.RadiusOf(e) * by.Scale),
            Size =
                by.Scale == 1
                    ? []
                    :
                    [
                        .. sketch
                            .Dimensions.Where(d => d.Driving && d.Of.All(inside.Contains) && IsLength(d))
                            .Select(d => d with { Value = Scaled(d.Value!, by.Scale), TextAt = d.TextAt is { } t ? by.Apply(t) : null }),
                    ],
        };
    }

    /// <summary>A copy with the rules that hold among what is picked.</summary>
    public static Outcome<SketchEdit> Copy(Sketch sketch, ImmutableArray<string> ids, Similarity by)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        return Clipping.Cut(sketch, ids).Then<SketchEdit>(piece => Clipping.Paste(sketch, piece, by));
    }

    private static bool IsLength(SketchDimension dimension) => DimensionCatalog.Find(dimension.Kind)?.Of == Dimension.OfLength;

    /// <summary>A formula times a factor; a plain value stays one.</summary>
    internal static string Scaled(string formula, double scale)
    {
        var parts = formula.Split(' ', 2);
        return parts.Length == 2 && double.TryParse(parts[0], out var number) && Units.TryGet(parts[1], out _)
            ? $"{number * scale:0.######} {parts[1]}"
            : $"({formula}) * {scale:0.######}";
    }
}

/// <summary>Pieces of sketches that stand on their own, to be put elsewhere, also in another sketch or part.</summary>
public static class Clipping
{
    /// <summary>The picked entities with their points and the rules among them.</summary>
    public static Outcome<Sketch> Cut(Sketch sketch, ImmutableArray<string> ids)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        var of = Copying.Whole(sketch, ids);
        if (of.IsEmpty)
        {
            return new Refusal("copy.nothing", "Pick what to copy first.");
        }

        var inside = of.Select(e => e.Id).ToHashSet(StringComparer.Ordinal);
        var piece = new Sketch
        {
            Entities = of,
            Constraints = [.. sketch.Constraints.Where(c => c.Kind != "fixed" && c.Of.All(inside.Contains))],
            Dimensions = [.. sketch.Dimensions.Where(d => d.Of.All(inside.Contains))],
        };

        // What is the sketch's own here is an ordinary point of the piece.
        var used = sketch.UsedIds();
        var own = of.Where(e => Sketch.IsBuiltIn(e.Id)).ToDictionary(e => e.Id, _ => Ids.Next("p", used), StringComparer.Ordinal);
        return own.Count == 0 ? piece : Renaming.Of(piece, own);
    }

    /// <summary>A piece put into a sketch under new ids.</summary>
    public static Outcome<SketchEdit> Paste(Sketch sketch, Sketch piece, Similarity by)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        ArgumentNullException.ThrowIfNull(piece);
        if (SketchCheck.Check(piece) is { } wrong)
        {
            return wrong;
        }

        if (piece.Entities.IsEmpty)
        {
            return new Refusal("copy.nothing", "There is nothing to paste.");
        }

        var draft = new Draft(sketch);
        var names = piece.Entities.ToDictionary(e => e.Id, e => draft.NewId(Mirroring.Stem(e)), StringComparer.Ordinal);
        string Name(string id) => names.GetValueOrDefault(id, id);
        draft.Add([.. piece.Entities.Select(e => Copying.One(e, Name, by.Apply, by.Scale))]);

        // Level and upright lines do not stay so when turned.
        var turned = Math.Abs(Math.Sin(by.Turn)) > Tolerances.Angle;
        foreach (var constraint in piece.Constraints.Where(c => !turned || ConstraintCatalog.Find(c.Kind) is not { LeansOnAxes: true }))
        {
            draft.Change(e => e with { Tie = e.Tie.Add(constraint with { Id = draft.NewId("k"), Of = [.. constraint.Of.Select(Name)] }) });
        }

        foreach (var dimension in piece.Dimensions.Where(d => !turned || d.Kind is not ("horizontal-distance" or "vertical-distance")))
        {
            var scaled =
                dimension.Value is { } v && by.Scale != 1 && DimensionCatalog.Find(dimension.Kind)?.Of == Dimension.OfLength
                    ? Moving.Scaled(v, by.Scale)
                    : dimension.Value;
            draft.Change(e =>
                e with
                {
                    Size = e.Size.Add(
                        dimension with
                        {
                            Id = draft.NewId("d"),
                            Of = [.. dimension.Of.Select(Name)],
                            Value = scaled,
                            TextAt = dimension.TextAt is { } t ? by.Apply(t) : null,
                        }
                    ),
                }
            );
        }

        return draft.Edit;
    }
}
