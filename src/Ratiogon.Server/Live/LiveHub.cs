using System.Collections.Immutable;
using System.Text.Json;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.SignalR;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Rebuilding;
using Ratiogon.Core.Tools;
using Ratiogon.Server.Accounts;
using Ratiogon.Server.Parts;

namespace Ratiogon.Server.Live;

/// <summary>What the server says of itself over the live link.</summary>
public interface ILiveClient
{
    /// <summary>The part has another revision; fetch it.</summary>
    Task Changed(long revision);

    /// <summary>The model of a revision.</summary>
    Task Rebuilt(RebuiltMessage message);
}

/// <summary>Pointer, hover, drag and previews. Each connection has at most one part and one tool at a time.</summary>
[Authorize]
public sealed class LiveHub(IPartSessions sessions) : Hub<ILiveClient>
{
    private const string SessionKey = "session";
    private const string ToolKey = "tool";
    private const int MostPicks = 20;

    internal static string Group(Guid part) => part.ToString("N");

    /// <summary>Follows a part. The model comes as soon as it is built.</summary>
    public async Task Open(Guid part)
    {
        var session = await sessions.OpenAsync(part, Who.Of(Context.User).Id) ?? throw new HubException("There is no such part.");
        Context.Items[SessionKey] = session;
        Context.Items.Remove(ToolKey);
        await Groups.AddToGroupAsync(Context.ConnectionId, Group(part));
        if (session.Built.Revision > 0)
        {
            await Clients.Caller.Rebuilt(RebuiltMessage.Of(session.Stored.Part, session.Built.Revision, session.Built.Result));
        }
    }

    /// <summary>Takes up a tool in a sketch.</summary>
    public AnswerMessage StartTool(string step, string tool)
    {
        var entry = ToolCatalog.Find(tool) ?? throw new HubException($"There is no tool '{tool}'.");
        Context.Items[ToolKey] = (Step: step, Tool: entry.Make());
        var session = Session();
        return Tool(session) is { } active ? AnswerMessage.Of(active.Tool.Handle(active.Context, new ToolInput(InputKind.Move, default, 0)), session.Stored.Revision) : new AnswerMessage();
    }

    /// <summary>Hands one input to the tool; a change that it asks for is made before the answer comes.</summary>
    public async Task<AnswerMessage> Input(InputMessage message)
    {
        var session = Session();
        if (message?.ToInput() is not { } input || Tool(session) is not { } active)
        {
            return new AnswerMessage { Leave = true };
        }

        var answer = active.Tool.Handle(active.Context, input);
        if (answer.Command is null)
        {
            return AnswerMessage.Of(answer, session.Stored.Revision);
        }

        var changed = await session.ApplyAsync(answer.Command, Who.Of(Context.User).Id);
        if (changed.Done)
        {
            return AnswerMessage.Of(answer, changed.Value.Revision);
        }

        return AnswerMessage.Of(answer with { Refusal = changed.Refusal }, session.Stored.Revision) with { Alternative = AsReference(answer.Command, changed.Refusal!.Code) };
    }

    /// <summary>What the picks can become; in a sketch when one is named, else on the model.</summary>
    public async Task<OfferMessage[]> Offers(string? step, string[] picks)
    {
        var session = Session();
        var part = session.Stored.Part;
        var chosen = (picks ?? []).Take(MostPicks).ToImmutableArray();
        if (step is not null)
        {
            return part.Find(step) is SketchStep sketch ? [.. Core.Tools.Offers.InSketch(part, sketch, chosen).Select(Message)] : [];
        }

        double? distance = null;
        if (chosen is [var a, var b] && await session.DistanceAsync(a, b) is { Done: true } d)
        {
            distance = d.Value;
        }

        return [.. Core.Tools.Offers.OnModel(part, session.Built.Result, chosen, distance).Select(Message)];
    }

    private static OfferMessage Message(Offer offer) => new(offer.Id, offer.Label, offer.Detail, offer.Command is null ? null : Json(offer.Command));

    private static string Json(PartCommand command) => JsonSerializer.Serialize(command, PartJson.Compact);

    /// <summary>A dimension that says nothing new can still be read.</summary>
    private static string? AsReference(PartCommand command, string code) =>
        code == "sketch.redundant" && command is EditSketch { Edit: { Size.Length: 1, Add.IsEmpty: true, Tie.IsEmpty: true } edit } sketch
            ? Json(sketch with { Edit = edit with { Size = [edit.Size[0] with { Value = null }] } })
            : null;

    private IPartSession Session() => Context.Items[SessionKey] as IPartSession ?? throw new HubException("Open a part first.");

    private (SketchTool Tool, ToolContext Context)? Tool(IPartSession session) =>
        Context.Items.TryGetValue(ToolKey, out var item) && item is (string step, SketchTool tool) && session.Stored.Part is { } part && part.Find(step) is SketchStep sketch
            ? (tool, new ToolContext(part, sketch))
            : null;
}

/// <summary>Tells the browsers that follow a part.</summary>
internal sealed class LiveAudience(IHubContext<LiveHub, ILiveClient> hub) : IPartAudience
{
    public Task ChangedAsync(Guid part, long revision) => hub.Clients.Group(LiveHub.Group(part)).Changed(revision);

    public Task RebuiltAsync(Guid id, Part part, long revision, RebuildResult result) =>
        hub.Clients.Group(LiveHub.Group(id)).Rebuilt(RebuiltMessage.Of(part, revision, result));
}
