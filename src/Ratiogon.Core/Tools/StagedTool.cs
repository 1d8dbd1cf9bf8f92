using System.Collections.Immutable;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Shapes;

namespace Ratiogon.Core.Tools;

/// <summary>A value that may be typed at a stage.</summary>
/// <param name="Name">As sent.</param>
/// <param name="Label">As shown.</param>
/// <param name="Kind">What it measures.</param>
/// <param name="Now">Its value under the pointer, in millimetres, radians or as a plain number.</param>
internal sealed record StageField(string Name, string Label, Dimension Kind, Func<Vec2, double> Now)
{
    /// <summary>Whether it may be negative or zero.</summary>
    public bool Signed { get; init; }

    /// <summary>A value that stands unless another is typed, such as a number of sides.</summary>
    public string? Default { get; init; }
}

/// <summary>One place to be chosen.</summary>
/// <param name="Prompt">What is expected.</param>
internal sealed record Stage(string Prompt)
{
    public ImmutableArray<StageField> Fields { get; init; } = [];

    /// <summary>Where the place goes when values were typed; the pointer's place otherwise.</summary>
    public Func<Place, Place>? Adjust { get; init; }

    /// <summary>Whether a curve is to be picked rather than a place.</summary>
    public bool PicksCurve { get; init; }

    /// <summary>Whether places are added until Enter.</summary>
    public bool Repeats { get; init; }

    /// <summary>Whether Enter finishes with the pointer's place even where nothing was typed.</summary>
    public bool AcceptsPointer { get; init; } = true;
}

/// <summary>A way of drawing: its stages, one after the other.</summary>
internal sealed record DrawingWay(string Name, string Label, ImmutableArray<Stage> Stages);

/// <summary>A drawing tool told as stages: each waits for a place, shows what would be drawn, takes typed values, and the
/// last one makes the change. Escape takes everything back, or leaves.</summary>
public abstract class StagedTool : SketchTool
{
    private readonly List<Place> places = [];
    private int way;
    private bool picked;

    private protected TypedFields Typed { get; } = new();

    /// <summary>The ways of drawing; the first is the one the tool begins with.</summary>
    private protected abstract ImmutableArray<DrawingWay> Ways { get; }

    /// <summary>What the tool works on, where it needs picks first: in words for the prompt; null where it draws anew.</summary>
    private protected virtual string? PicksFor => null;

    /// <summary>The picks it works on.</summary>
    private protected ImmutableArray<string> Picks { get; private set; } = [];

    /// <summary>The places chosen so far.</summary>
    private protected IReadOnlyList<Place> Places => places;

    private protected string Way => Ways[way].Name;

    /// <summary>Which of several solutions is shown, counted from 0; steps past the last begin again.</summary>
    private protected int Solution { get; set; }

    /// <summary>Begins with another way than the first.</summary>
    private protected void BeginWith(string name) => way = Math.Max(0, Ways.ToList().FindIndex(w => w.Name == name));

    /// <summary>What the tool would make with these places, the pointer's the last of them; fewer than the stages while
    /// some are still to come, in which case only its drawing is used.</summary>
    private protected abstract Outcome<SketchEdit> Make(ToolContext context, ToolInput input, IReadOnlyList<Place> at);

    /// <summary>What a stage shows; by default what it would make.</summary>
    private protected virtual ImmutableArray<PreviewCurve> Preview(ToolContext context, ToolInput input, IReadOnlyList<Place> at)
    {
        if (at.Count == 1 && StagesNow.Length > 1)
        {
            return [Point(at[0].At)];
        }

        var made = Make(context, input, at);
        return made.Done ? Drawn(context.Sketch, made.Value) : [Point(at[^1].At)];
    }

    /// <summary>How many solutions the places leave; 0 where there is nothing to choose.</summary>
    private protected virtual int Solutions(ToolContext context, IReadOnlyList<Place> at) => 0;

    /// <summary>The name of what is made, for the undo button.</summary>
    private protected abstract string What { get; }

    private ImmutableArray<Stage> StagesNow => Ways[way].Stages;

    private Stage Now => StagesNow[Math.Min(places.Count, StagesNow.Length - 1)];

    public override ToolAnswer Handle(ToolContext context, ToolInput input)
    {
        ArgumentNullException.ThrowIfNull(context);
        ArgumentNullException.ThrowIfNull(input);
        Refresh(context.Sketch);
        if (PicksFor is not null && !picked && input.Kind is not InputKind.Way)
        {
            return Picking(context, input);
        }

        switch (input.Kind)
        {
            case InputKind.Cancel when places.Count == 0 && picked:
                (picked, Picks) = (false, []);
                return Answer(context, input) with { Picks = Picks };
            case InputKind.Cancel:
                var leave = places.Count == 0;
                Reset();
                return Answer(context, input) with { Leave = leave };
            case InputKind.Way:
                var named = Ways.ToList().FindIndex(w => w.Name == input.Text);
                way = named >= 0 ? named : (way + 1) % Ways.Length;
                Reset();
                return Answer(context, input);
            case InputKind.Next:
                Solution += input.Text == "-" ? -1 : 1;
                return Shown(context, input);
            case InputKind.Typed:
                return TakeTyped(context, input);
            case InputKind.Click:
                return Take(context, input, PlaceOf(context, input));
            case InputKind.Accept when Now.Repeats && places.Count >= StagesNow.Length - 1:
                return Finish(context, input, places);
            case InputKind.Accept when (places.Count > 0 || Typed.Any) && Now.AcceptsPointer && !Now.PicksCurve:
                return Take(context, input, PlaceOf(context, input));
            default:
                return Shown(context, input);
        }
    }

    /// <summary>Others may have changed the sketch since: what is gone from it is let go here too.</summary>
    private void Refresh(Sketch sketch)
    {
        var left = Picks.RemoveAll(id => sketch.Find(id) is null);
        if (left.Length < Picks.Length)
        {
            (Picks, picked) = (left, picked && !left.IsEmpty);
        }

        var now = places.ConvertAll(p => p.In(sketch));
        if (now.Contains(null) || now.Zip(places).Any(p => p.Second.Existing is not null && p.First!.Existing is null && NeedsPoints))
        {
            Reset();
            return;
        }

        for (var i = 0; i < now.Count; i++)
        {
            places[i] = now[i]!;
        }
    }

    /// <summary>Whether the points that were picked must be points of the sketch.</summary>
    private protected virtual bool NeedsPoints => false;

    public override void Begin(ImmutableArray<string> picks)
    {
        Picks = picks;
        picked = PicksFor is not null && !picks.IsEmpty;
    }

    private ToolAnswer Picking(ToolContext context, ToolInput input)
    {
        var under = Snapper.Under(context.Sketch, input.At, input.Reach) ?? "";
        switch (input.Kind)
        {
            case InputKind.Click when under.Length == 0 || Sketches.Sketch.IsBuiltIn(under):
                return PickAnswer() with { Refusal = new Refusal("tool.nothing-here", "There is nothing here to pick.") };
            case InputKind.Click:
                Picks = Picks.Contains(under) ? Picks.Remove(under) : Picks.Add(under);
                return PickAnswer();
            case InputKind.Accept when Picks.IsEmpty:
                return PickAnswer() with { Refusal = new Refusal("tool.nothing-picked", $"Pick {PicksFor} first, then press Enter.") };
            case InputKind.Accept:
                picked = true;
                return Answer(context, input) with { Picks = Picks };
            case InputKind.Cancel:
                var leave = Picks.IsEmpty;
                Picks = [];
                return PickAnswer() with { Leave = leave };
            default:
                return PickAnswer() with { Hover = under };
        }

        ToolAnswer PickAnswer() =>
            new()
            {
                Prompt = $"Pick {PicksFor}; Enter when all are picked{(Picks.IsEmpty ? "" : $" — {Picks.Length} picked")}",
                Picks = Picks,
                Ways = WaysShown,
                Way = Way,
            };
    }

    /// <summary>The ways in which it can be used; none where there is one.</summary>
    public ImmutableArray<ToolWay> WaysShown => Ways.Length > 1 ? [.. Ways.Select(w => new ToolWay(w.Name, w.Label))] : [];

    private protected virtual void Reset()
    {
        places.Clear();
        Typed.Clear();
        Solution = 0;
    }

    /// <summary>A number typed into a field, or the field's own default.</summary>
    private protected double Number(string field, double otherwise) => Typed.Value(field) ?? otherwise;

    /// <summary>The place as far from another and in the heading that were typed; what was not typed follows the pointer.</summary>
    private protected static Place Polar(Vec2 from, Place place, double? length, double? angle)
    {
        if (length is null && angle is null)
        {
            return place;
        }

        var d = place.At - from;
        var heading = angle ?? d.Angle;
        return Place.Free(from + Vec2.Polar(heading, length ?? Math.Max(0, d.Dot(Vec2.Polar(heading)))));
    }

    /// <summary>Why a typed number cannot be one of sides or instances, or null; a good one goes to <paramref name="take"/>.</summary>
    private protected Refusal? CheckCount(string field, int fewest, int most, Action<string> take)
    {
        if (Typed.Text(field) is not { } text)
        {
            return null;
        }

        var n = Typed.Value(field) ?? 0;
        if (Math.Abs(n - Math.Round(n)) > Tolerances.WholeNumber || n < fewest || n > most)
        {
            return new Refusal("count.range", $"The number lies between {fewest} and {most} and is whole; not {n:0.###}.", field);
        }

        take(text);
        return null;
    }

    /// <summary>Adds the dimension of a field where a value was typed into it.</summary>
    private protected void Sized(Draft draft, string field, Func<string, Sketches.SketchDimension> make)
    {
        if (Typed.Text(field) is { } text)
        {
            draft.Change(e => e with { Size = e.Size.Add(make(text)) });
        }
    }

    private Place PlaceOf(ToolContext context, ToolInput input)
    {
        if (Now.PicksCurve)
        {
            return Place.Free(input.At) with { Curve = Snapper.CurveUnder(context.Sketch, input.At, input.Reach) };
        }

        var place = Snapper.Snap(context.Sketch, input, places.Count > 0 ? places[^1] : null) with { Arriving = null };
        return Adjusted(place);
    }

    private Place Adjusted(Place place) => Typed.Any && Now.Adjust is { } adjust ? adjust(place) : place;

    private ToolAnswer Shown(ToolContext context, ToolInput input)
    {
        var place = PlaceOf(context, input);
        var at = places.Append(place).ToList();
        ImmutableArray<PreviewCurve> preview = Now.PicksCurve && place.Curve is null ? [] : Preview(context, input, at);
        return Answer(context, input) with
        {
            Snap = Now.PicksCurve ? null : place.Mark,
            Hover = Now.PicksCurve ? place.Curve ?? "" : "",
            Preview = preview,
            Inferred = Now.PicksCurve ? [] : [.. place.Words],
            Solutions = Solutions(context, at),
        };
    }

    private ToolAnswer TakeTyped(ToolContext context, ToolInput input)
    {
        if (!Now.PicksCurve && Coordinates(context, input.Text) is { } typed)
        {
            var refused = typed.Refusal
                ?? Typed.Twice(Now.Fields.Where(f => f.Default is null).Select(f => (f.Name, f.Label)), input.Field);
            return refused is null
                ? Take(context, input, Snapper.Typed(context.Sketch, typed.Value))
                : Answer(context, input) with
                {
                    Refusal = refused,
                };
        }

        if (Now.Fields.FirstOrDefault(f => f.Name == input.Field) is not { } field)
        {
            return Answer(context, input) with
            {
                Refusal = new Refusal("tool.coordinates", "Type two lengths separated by a comma, such as 20, 10.", "point"),
            };
        }

        var refusal = Typed.Take(context, input, field.Kind, field.Signed) ?? CheckTyped(field.Name);
        if (refusal is not null)
        {
            Typed.Forget(field.Name, refusal);
        }

        return Shown(context, input) with
        {
            Refusal = refusal,
        };
    }

    /// <summary>Why a typed value cannot be used, or null.</summary>
    private protected virtual Refusal? CheckTyped(string field) => null;

    private ToolAnswer Take(ToolContext context, ToolInput input, Place place)
    {
        if (Now.PicksCurve && place.Curve is null)
        {
            return Answer(context, input) with
            {
                Refusal = new Refusal("tool.pick-curve", "There is no curve here: pick a line, circle or arc."),
            };
        }

        if (places.Count > 0 && !Now.PicksCurve && places[^1].At.DistanceTo(place.At) < Tolerances.SmallestSize)
        {
            // Pressing the last place again ends a chain.
            return Now.Repeats ? Finish(context, input, places) : Answer(context, input) with { Refusal = NoSize };
        }

        if (CheckPlace(context, places, place) is { } wrong)
        {
            return Answer(context, input) with { Refusal = wrong };
        }

        if (places.Count < StagesNow.Length - 1 || Now.Repeats)
        {
            places.Add(place);
            return Shown(context, input) with { Snap = place.Mark };
        }

        return Finish(context, input, [.. places, place]);
    }

    /// <summary>Why the next place cannot be where it is, or null.</summary>
    private protected virtual Refusal? CheckPlace(ToolContext context, IReadOnlyList<Place> before, Place place) => null;

    private protected static Refusal NoSize { get; } =
        new("tool.no-size", "It needs a size: click away from the last place, or type a value.");

    private ToolAnswer Finish(ToolContext context, ToolInput input, IReadOnlyList<Place> at)
    {
        var made = Make(context, input, at);
        if (!made.Done)
        {
            return Answer(context, input) with { Refusal = made.Refusal };
        }

        if (Unused(context, made.Value, at) is { } unused)
        {
            return Answer(context, input) with { Refusal = unused };
        }

        Reset();
        (picked, Picks) = (false, []);
        return Answer(context, input) with
        {
            Command = Edit(context, input, made.Value, What),
            Picks = PicksFor is null ? null : [],
            Note = Passed(context, made.Value, at),
        };
    }

    /// <summary>Whether what is typed becomes sizes of what is drawn; a tool that only moves things uses it up.</summary>
    private protected virtual bool KeepsTyped => true;

    /// <summary>Why a typed value or place cannot be kept as typed, or null: nothing typed is passed over in silence.</summary>
    private Refusal? Unused(ToolContext context, SketchEdit edit, IReadOnlyList<Place> at)
    {
        if (!KeepsTyped)
        {
            return null;
        }

        foreach (var place in at.Where(p => p.Existing is null && p.Typed is not null))
        {
            if (!edit.Add.OfType<PointEntity>().Any(p => p.At.DistanceTo(place.At) <= Tolerances.Length && ShapeCatalog.Places(edit, p.Id)))
            {
                return new Refusal(
                    "tool.place-unused",
                    $"No point of the {What} comes to lie at {context.Show(place.At.X)}, {context.Show(place.At.Y)}: click there, or "
                        + "type its size.",
                    "point"
                );
            }
        }

        foreach (var (field, text, value) in Typed.All)
        {
            var kept =
                edit.Size.Any(d => d.Value == text)
                || edit.Shapes.Any(s => s.Count == text || s.Rows == text)
                || Headings.Kept(edit, value);
            if (!kept)
            {
                return new Refusal("tool.value-unused", $"The {field} {text} cannot be kept here.", field);
            }
        }

        return null;
    }

    /// <summary>In words, a point that was clicked and could not be used: what is drawn does not go through it.</summary>
    private static string? Passed(ToolContext context, SketchEdit edit, IReadOnlyList<Place> at)
    {
        var used = edit.Add.SelectMany(e => e.Points).Concat(edit.Tie.SelectMany(t => t.Of)).ToHashSet(StringComparer.Ordinal);
        if (
            at.FirstOrDefault(p => p.Existing is { } e && !used.Contains(e)) is not { } passed
            || edit.Add.OfType<PointEntity>().ToList() is not { Count: > 0 } points
        )
        {
            return null;
        }

        var off = points.Min(p => p.At.DistanceTo(passed.At));
        return off > Tolerances.Length
            ? $"Not joined to {passed.Existing}, which lies {context.Show(off)} off: tie them where they are to meet."
            : null;
    }

    private protected virtual string PromptNow(ToolContext context) => Now.Prompt;

    private ToolAnswer Answer(ToolContext context, ToolInput input)
    {
        if (PicksFor is not null && !picked)
        {
            return new ToolAnswer
            {
                Prompt = $"Pick {PicksFor}; Enter when all are picked",
                Ways = WaysShown,
                Way = Way,
            };
        }

        var fields = Now.Fields.IsEmpty
            ? (Now.PicksCurve ? [] : TypedFields.Point)
            :
            [
                .. Now.Fields.Select(f =>
                    Typed.Field(f.Name, f.Label, f.Default ?? Units.Show(new Quantity(f.Now(input.At), f.Kind), context.Part.Units))
                ),
            ];
        return new ToolAnswer
        {
            Prompt = PromptNow(context),
            Fields = fields,
            Ways = WaysShown,
            Way = Way,
        };
    }
}
