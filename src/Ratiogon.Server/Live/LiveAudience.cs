using System.Collections.Immutable;
using System.Runtime.CompilerServices;
using Microsoft.AspNetCore.SignalR;
using Ratiogon.Core.Building;
using Ratiogon.Core.Parts;
using Ratiogon.Server.Parts;

namespace Ratiogon.Server.Live;

/// <summary>
/// The browsers that look at parts through this server. Each is told by itself, and the next when it has read that: one that reads slowly,
/// or not at all, keeps neither the part nor any other waiting, and is told of the newest when it reads again.
/// </summary>
public sealed class LiveAudience(IHubContext<LiveHub, ILiveClient> hub) : IPartAudience
{
    private readonly Lock gate = new();
    private readonly Dictionary<Guid, ImmutableDictionary<string, Outbox>> parts = [];
    private readonly ConditionalWeakTable<RebuildResult, Messages> made = [];

    /// <summary>A connection looks at a part from now on, until <see cref="Leave"/>.</summary>
    public Outbox Join(Guid part, string connection)
    {
        var outbox = new Outbox(hub.Clients.Client(connection), Message);
        lock (gate)
        {
            parts[part] = parts.GetValueOrDefault(part, ImmutableDictionary<string, Outbox>.Empty).SetItem(connection, outbox);
        }

        return outbox;
    }

    public void Leave(Guid part, string connection)
    {
        lock (gate)
        {
            if (parts.TryGetValue(part, out var browsers))
            {
                parts[part] = browsers.Remove(connection);
                if (parts[part].IsEmpty)
                {
                    parts.Remove(part);
                }
            }
        }
    }

    public Task ChangedAsync(Guid part, long revision) => Tell(part, o => o.Changed(revision));

    public Task RebuiltAsync(Guid id, Part part, long revision, RebuildResult result) => Tell(id, o => o.Model(part, revision, result));

    public Task ShareAsync(Guid part, double share) => Tell(part, o => o.Share(share));

    public Task BuildingAsync(Guid part, string? step) => Tell(part, o => o.Building(step));

    private Task Tell(Guid part, Action<Outbox> what)
    {
        ImmutableDictionary<string, Outbox>? browsers;
        lock (gate)
        {
            parts.TryGetValue(part, out browsers);
        }

        foreach (var outbox in browsers?.Values ?? [])
        {
            what(outbox);
        }

        return Task.CompletedTask;
    }

    /// <summary>One message for all who know the same.</summary>
    private RebuiltMessage Message(Part part, long revision, RebuildResult result, RebuildResult? before) =>
        made.GetOrCreateValue(result).Of(part, revision, result, before);

    /// <summary>What was made of a model and is on its way still.</summary>
    private sealed class Messages
    {
        private readonly List<(Part Part, long Revision, RebuildResult? Before, WeakReference<RebuiltMessage> Message)> all = [];

        public RebuiltMessage Of(Part part, long revision, RebuildResult result, RebuildResult? before)
        {
            lock (all)
            {
                all.RemoveAll(m => !m.Message.TryGetTarget(out _));
                foreach (var made in all)
                {
                    if (
                        ReferenceEquals(made.Part, part)
                        && made.Revision == revision
                        && ReferenceEquals(made.Before, before)
                        && made.Message.TryGetTarget(out var there)
                    )
                    {
                        return there;
                    }
                }

                var message = RebuiltMessage.Of(part, revision, result, before);
                all.Add((part, revision, before, new(message)));
                return message;
            }
        }
    }
}

/// <summary>What one browser is still to be told. Of each kind the newest stands in the place of the one before.</summary>
/// <param name="browser">Told one thing after the other.</param>
/// <param name="message">Makes the message of a model for who was told another one before.</param>
public sealed class Outbox(ILiveClient browser, Func<Part, long, RebuildResult, RebuildResult?, RebuiltMessage> message)
{
    private readonly Lock gate = new();
    private Pending pending;
    private RebuildResult? told;
    private long newest;

    /// <summary>Nothing is sent before <see cref="Begin"/>.</summary>
    private bool sending = true;

    /// <summary>It has been told of a model in full, or of none yet; what came meanwhile follows.</summary>
    public void Begin(long revision, RebuildResult? shown)
    {
        lock (gate)
        {
            (told, newest) = (shown, Math.Max(newest, revision));
            pending = pending.Model?.Revision <= revision ? pending with { Model = null } : pending;
        }

        _ = Task.Run(SendAsync);
    }

    public void Changed(long revision) => Post(p => p with { Changed = revision });

    public void Building(string? step) => Post(p => p with { Building = new Step(step) });

    public void Share(double share) => Post(p => p with { Share = share });

    /// <summary>A model; one of an earlier revision than was heard of is no news.</summary>
    public void Model(Part part, long revision, RebuildResult result) =>
        Post(p =>
        {
            if (revision < newest)
            {
                return p;
            }

            newest = revision;
            return p with { Model = new Shown(part, revision, result) };
        });

    /// <summary>A model with all of its geometry, for who has none of it.</summary>
    public void Whole(Part part, long revision, RebuildResult result)
    {
        lock (gate)
        {
            told = null;
        }

        Model(part, revision, result);
    }

    private void Post(Func<Pending, Pending> note)
    {
        lock (gate)
        {
            pending = note(pending);
            if (sending)
            {
                return;
            }

            sending = true;
        }

        _ = Task.Run(SendAsync);
    }

    private async Task SendAsync()
    {
        while (Take() is var (next, before))
        {
            try
            {
                if (next.Changed is { } revision)
                {
                    await browser.Changed(revision);
                }

                if (next.Building is { } building)
                {
                    await browser.Building(building.Id);
                }

                if (next.Share is { } share)
                {
                    await browser.Share(share);
                }

                if (next.Model is { } model)
                {
                    await browser.Rebuilt(message(model.Part, model.Revision, model.Result, before));
                }
            }
            catch (Exception e) when (e is IOException or InvalidOperationException or OperationCanceledException)
            {
                // It is gone, and leaves by itself.
            }
        }
    }

    private (Pending Next, RebuildResult? Before)? Take()
    {
        lock (gate)
        {
            var (next, before) = (pending, told);
            pending = default;
            if (next == default)
            {
                sending = false;
                return null;
            }

            told = next.Model?.Result ?? told;
            return (next, before);
        }
    }

    private sealed record Step(string? Id);

    private sealed record Shown(Part Part, long Revision, RebuildResult Result);

    private readonly record struct Pending(long? Changed, Step? Building, double? Share, Shown? Model);
}
