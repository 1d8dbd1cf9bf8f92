using System.Collections.Immutable;
using Ratiogon.Core.Datums;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Tools.Picks;

namespace Ratiogon.Core.Tools.Gauges;

/// <summary>A measurement being put together: two slots, a direction and a frame, each of which can be replaced at any time.</summary>
public sealed record GaugeDraft
{
    public const string FirstSlot = "first",
        SecondSlot = "second",
        AlongSlot = "along",
        FrameSlot = "in";

    /// <summary>As <see cref="Spot"/> reads it.</summary>
    public string? First { get; init; }

    public string? Second { get; init; }

    /// <summary>As <see cref="Way"/> reads it.</summary>
    public string? Along { get; init; }

    /// <summary>A frame that coordinates, sizes and inertia are taken in; none for the world's.</summary>
    public string? In { get; init; }

    /// <summary>The slot that the next pick goes into.</summary>
    public string Active { get; init; } = FirstSlot;

    public string? Of(string slot) =>
        slot switch
        {
            FirstSlot => First,
            SecondSlot => Second,
            AlongSlot => Along,
            _ => In,
        };

    public GaugeDraft With(string slot, string? text) =>
        slot switch
        {
            FirstSlot => this with { First = text },
            SecondSlot => this with { Second = text },
            AlongSlot => this with { Along = text },
            _ => this with { In = text },
        };
}

/// <summary>One thing done to a draft.</summary>
/// <param name="Do">pick, snap, type, use, clear.</param>
/// <param name="Slot">Which slot; the active one where none is said.</param>
/// <param name="Text">The reference picked, the snap, or what was typed.</param>
/// <param name="More">Of a pick: a second thing for the same slot, to make a place of the two.</param>
public sealed record GaugeInput(string Do, string? Slot = null, string? Text = null, bool More = false);

/// <summary>A slot as it is shown.</summary>
public sealed record GaugeSlot(
    string Slot,
    string Label,
    string Text,
    string Words,
    string? Snap,
    ImmutableArray<string> Snaps,
    bool Active
)
{
    /// <summary>Whether it has a length to take a share of.</summary>
    public bool Shared { get; init; }
}

/// <summary>A value that the slots have.</summary>
/// <param name="What">A name of <see cref="ReadingCatalog"/>.</param>
/// <param name="Label">In words.</param>
/// <param name="Shown">With its unit.</param>
/// <param name="Note">What is worth saying beside it.</param>
/// <param name="Points">Where it is drawn.</param>
/// <param name="Keep">Keeps it as a step.</param>
public sealed record GaugeShown(string What, string Label, string Shown, string Note, ImmutableArray<Vec3> Points, PartCommand Keep);

/// <summary>What the measuring tool answers.</summary>
public sealed record GaugeAnswer
{
    public required GaugeDraft Draft { get; init; }

    public required ImmutableArray<GaugeSlot> Slots { get; init; }

    public ImmutableArray<GaugeShown> Values { get; init; } = [];

    public string Prompt { get; init; } = "";

    public string? Refusal { get; init; }
}

/// <summary>The measuring tool; it keeps nothing between questions.</summary>
public static class GaugeDrafting
{
    private static readonly (string Slot, string Label)[] Slots =
    [
        (GaugeDraft.FirstSlot, "From"),
        (GaugeDraft.SecondSlot, "To"),
        (GaugeDraft.AlongSlot, "Along"),
        (GaugeDraft.FrameSlot, "In"),
    ];

    public static GaugeAnswer Answer(GaugeSite site, GaugeDraft draft, GaugeInput? input)
    {
        ArgumentNullException.ThrowIfNull(site);
        ArgumentNullException.ThrowIfNull(draft);
        var done = input is null ? draft : Do(site.Model, draft, input);
        var now = done.Done ? done.Value : draft;
        ImmutableArray<string> of = [.. new[] { now.First, now.Second }.OfType<string>()];
        var ask = Gauger.Ask(site.Model, of, now.Along, now.In);
        var values =
            ask.Done && of.Length > 0
                ? [.. Gauger.All(site, ask.Value).Select(r => Shown(site, r.Kind, r.Value, of, now.Along, now.In))]
                : ImmutableArray<GaugeShown>.Empty;
        return new GaugeAnswer
        {
            Draft = now,
            Slots = [.. Slots.Select(s => Slot(site.Model, now, s.Slot, s.Label))],
            Values = values,
            Prompt = Prompt(now, values),
            Refusal = (done.Refusal ?? ask.Refusal)?.Message is { } message ? site.Model.InWords(message) : null,
        };
    }

    /// <summary>Every value that picks have, a third pick being the direction; volume and mass of the part where none is a body.</summary>
    public static ImmutableArray<GaugeShown> Offered(GaugeSite site, ImmutableArray<string> picks)
    {
        ArgumentNullException.ThrowIfNull(site);
        List<GaugeShown> values =
            picks.Length == 3 ? Values(site, picks[..2], picks[2])
            : picks.Length is 1 or 2 ? Values(site, picks, null)
            : [];
        if (picks is [var body, var way] && site.Bodies.Any(b => b.Name == body))
        {
            values.AddRange(Values(site, [body], way).Where(v => ReadingCatalog.Find(v.What)!.Way == WayUse.Needed));
        }

        if (!site.Bodies.IsEmpty && !values.Exists(v => v.What == "volume"))
        {
            var whole = new GaugeAsk([], null, null);
            values.AddRange(
                new[] { "volume", "mass" }
                    .Select(n => ReadingCatalog.Find(n)!)
                    .Select(k => Shown(site, k, k.Read(site, whole).Value, [], null, null))
                    .Select(v => v with { Label = $"{v.Label} of the part" })
            );
        }

        return [.. values];
    }

    private static List<GaugeShown> Values(GaugeSite site, ImmutableArray<string> of, string? along) =>
        Gauger.Ask(site.Model, of, along, null) is not { Done: true, Value: var ask }
            ? []
            : [.. Gauger.All(site, ask).Where(r => Offers(r.Kind, ask)).Select(r => Shown(site, r.Kind, r.Value, of, along, null))];

    private static bool Offers(ReadingKind kind, GaugeAsk ask) =>
        kind.Way == WayUse.Needed ? ask.Along is not null
        : ask.Along is not null ? kind.Name is "distance" or "centre-distance"
        : kind.Name != "perimeter"
            && !kind.Name.StartsWith("inertia", StringComparison.Ordinal)
            && (!kind.Name.StartsWith("place", StringComparison.Ordinal) || ask.Of[0].Point is not null);

    private static GaugeShown Shown(
        GaugeSite site,
        ReadingKind kind,
        GaugeValue value,
        ImmutableArray<string> of,
        string? along,
        string? frame
    ) =>
        new(
            kind.Name,
            kind.Label,
            site.Show(value.Value, kind.Kind),
            value.Note,
            value.Points,
            new AddStep(
                new ReadingStep("", 0, "", kind.Name, of)
                {
                    Along = kind.Way == WayUse.Needed ? along : null,
                    In = kind.Framed ? frame : null,
                }
            )
        );

    private static Outcome<GaugeDraft> Do(IModel model, GaugeDraft draft, GaugeInput input)
    {
        var slot = input.Slot ?? draft.Active;
        if (Slots.All(s => s.Slot != slot))
        {
            return new Refusal("gauge.slot", $"There is no slot '{Ids.Shorten(slot)}'.");
        }

        switch (input.Do)
        {
            case "use":
                return draft with { Active = slot };
            case "clear":
                return draft.With(slot, null) with { Active = slot };
            case "snap":
                return Spot.Parse(draft.Of(slot))
                    .Then(s =>
                        Placed(model, draft, slot, (s with { Snap = string.IsNullOrEmpty(input.Text) ? null : input.Text }).ToString())
                    );
            case "type":
                return slot == GaugeDraft.AlongSlot
                    ? Way.Of(model, input.Text ?? "").Map(_ => draft.With(slot, input.Text))
                    : Placed(model, draft, slot, input.Text);
            case "pick" when slot == GaugeDraft.FrameSlot:
                return model
                    .Find(input.Text ?? "")
                    .Then<GaugeDraft>(t =>
                        (t.Frame ?? t.Plane) is not null
                            ? draft.With(slot, input.Text)
                            : new Refusal("gauge.frame", $"{t.Words} is no frame: take a frame, a plane or a planar face.", "in")
                    );
            case "pick" when slot == GaugeDraft.AlongSlot:
                var way =
                    input.More && draft.Along is { } from && !from.Contains(" & ", StringComparison.Ordinal)
                        ? $"{from} & {input.Text}"
                        : input.Text!;
                return Way.Of(model, way).Then<GaugeDraft>(_ => draft.With(slot, way)) is { Done: true } taken
                    ? taken
                    : Aimed(model, draft, input.Text!);
            case "pick":
                return input.More && Spot.Parse(draft.Of(slot)) is { Done: true, Value: { Of.Length: 1 } before }
                    ? Pair(model, draft, slot, before.Of[0], input.Text!)
                    : Placed(model, draft, slot, input.Text).Map(d => d with { Active = Next(d, slot) });
            default:
                return new Refusal("gauge.input", $"'{Ids.Shorten(input.Do)}' cannot be done to a measurement.");
        }
    }

    /// <summary>A place picked for the direction: the first of two.</summary>
    private static Outcome<GaugeDraft> Aimed(IModel model, GaugeDraft draft, string reference) =>
        Spot.Parse(reference)
            .Then(s => s.In(model))
            .Then<GaugeDraft>(t => Spot.PlaceOf(t) is null ? Way.Of(model, reference).Refusal! : draft with { Along = reference });

    private static Outcome<GaugeDraft> Pair(IModel model, GaugeDraft draft, string slot, string a, string b)
    {
        var crossing = Placed(model, draft, slot, $"{a} & {b}@crossing");
        return crossing.Done ? crossing
            : Placed(model, draft, slot, $"{a} & {b}@halfway") is { Done: true } halfway ? halfway
            : crossing;
    }

    private static Outcome<GaugeDraft> Placed(IModel model, GaugeDraft draft, string slot, string? text) =>
        Spot.Parse(text).Then(s => s.In(model).Map(_ => draft.With(slot, s.ToString())));

    private static string Next(GaugeDraft draft, string filled) =>
        filled == GaugeDraft.FirstSlot && draft.Second is null ? GaugeDraft.SecondSlot
        : filled == GaugeDraft.SecondSlot && draft.First is null ? GaugeDraft.FirstSlot
        : filled;

    private static GaugeSlot Slot(IModel model, GaugeDraft draft, string slot, string label)
    {
        var text = draft.Of(slot);
        if (text is null)
        {
            return new GaugeSlot(slot, label, "", "", null, [], draft.Active == slot);
        }

        if (slot == GaugeDraft.AlongSlot)
        {
            return new GaugeSlot(
                slot,
                label,
                text,
                Way.Of(model, text) is { Done: true } w ? w.Value.Words : $"from {text} to the next pick",
                null,
                [],
                draft.Active == slot
            );
        }

        if (slot == GaugeDraft.FrameSlot)
        {
            return new GaugeSlot(
                slot,
                label,
                text,
                model.Find(text) is { Done: true } f ? f.Value.Words : "",
                null,
                [],
                draft.Active == slot
            );
        }

        var spot = Spot.Parse(text);
        var thing = spot.Then(s => s.In(model));
        var picked =
            spot is { Done: true, Value: { Of.Length: 1 } of } && model.Find(of.Of[0]) is { Done: true, Value: var found } ? found : null;
        return new GaugeSlot(
            slot,
            label,
            text,
            thing.Done ? thing.Value.Words : thing.Refusal!.Message,
            spot.Done ? spot.Value.Snap : null,
            picked is null ? [] : Spot.On(picked),
            draft.Active == slot
        )
        {
            Shared = picked?.Path is not null,
        };
    }

    private static string Prompt(GaugeDraft draft, ImmutableArray<GaugeShown> values) =>
        draft.Active switch
        {
            GaugeDraft.AlongSlot when draft.Along is null =>
                "Pick anything straight or flat for the direction, two points with Shift for the second, or type three numbers",
            GaugeDraft.FrameSlot when draft.In is null =>
                "Pick a frame, a plane or a planar face to take coordinates, sizes and inertia in",
            GaugeDraft.SecondSlot when draft.Second is null =>
                "Pick what to measure to; Shift adds a second thing to make a place of the two",
            GaugeDraft.FirstSlot when draft.First is null => "Pick what to measure from",
            _ => values.IsEmpty
                ? "These have no value together; press a slot to replace it"
                : "Press a value to keep it, or a slot to replace what it holds",
        };
}
