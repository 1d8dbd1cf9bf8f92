using System.Collections.Immutable;
using Ratiogon.Core.Datums;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;

namespace Ratiogon.Core.Gauging;

/// <summary>Takes readings.</summary>
public static class Gauger
{
    /// <summary>The reading that a step describes.</summary>
    public static Outcome<TakenReading> Read(GaugeSite site, ReadingStep step)
    {
        ArgumentNullException.ThrowIfNull(site);
        ArgumentNullException.ThrowIfNull(step);
        if (step.Check() is { } wrong)
        {
            return wrong;
        }

        var kind = ReadingCatalog.Find(step.What)!;
        return Ask(site.Model, step.Of, step.Along, step.In)
            .Then(ask => kind.Read(site, ask))
            .Then<TakenReading>(value =>
                double.IsFinite(value.Value)
                    ? new TakenReading(kind, value)
                    : new Refusal("reading.endless", $"{kind.Label} of these has no value.", "of")
            );
    }

    /// <summary>Every reading that picks have, in the order of the catalogue.</summary>
    public static ImmutableArray<TakenReading> All(GaugeSite site, GaugeAsk ask)
    {
        ArgumentNullException.ThrowIfNull(site);
        ArgumentNullException.ThrowIfNull(ask);
        var n = ask.Of.Length;
        return
        [
            .. ReadingCatalog
                .All.Where(k => n >= k.Least && n <= k.Most && (k.Way == WayUse.None || ask.Along is not null))
                .Select(k => (Kind: k, Value: k.Read(site, ask)))
                .Where(r => r.Value.Done && double.IsFinite(r.Value.Value.Value))
                .Select(r => new TakenReading(r.Kind, r.Value.Value)),
        ];
    }

    /// <summary>What texts mean in a model.</summary>
    public static Outcome<GaugeAsk> Ask(IModel model, ImmutableArray<string> of, string? along, string? frame)
    {
        ArgumentNullException.ThrowIfNull(model);
        var things = ImmutableArray.CreateBuilder<Thing>();
        foreach (var text in of)
        {
            var thing = Spot.Parse(text).Then(s => s.In(model));
            if (!thing.Done)
            {
                return thing.Refusal!;
            }

            // What is bounded differs from piece to piece.
            if (!thing.Value.Pieces.IsEmpty)
            {
                return Names.InPieces(thing.Value.Reference, thing.Value.Pieces);
            }

            things.Add(thing.Value);
        }

        Outcome<Heading?> way = string.IsNullOrWhiteSpace(along) ? (Heading?)null : Way.Of(model, along).Map(w => (Heading?)w);
        return way.Then(w =>
            (
                string.IsNullOrWhiteSpace(frame)
                    ? (Frame?)null
                    : model
                        .Find(frame)
                        .Then<Frame?>(t =>
                            (t.Frame ?? t.Plane) is { } f ? f : new Refusal("reading.frame", $"{t.Words} is no frame.", "in")
                        )
            ).Map(f => new GaugeAsk(things.ToImmutable(), w, f))
        );
    }
}

/// <summary>A reading that was taken.</summary>
/// <param name="Kind">What was read.</param>
/// <param name="Value">What it came to.</param>
public readonly record struct TakenReading(ReadingKind Kind, GaugeValue Value);
