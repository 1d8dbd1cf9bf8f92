using System.Collections.Immutable;
using System.Text.Json;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.SignalR;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Rebuilding;
using Ratiogon.Core.Sketching;
using Ratiogon.Core.Sketching.Drawing;
using Ratiogon.Core.Sketching.Editing;
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
    private const int MostPicks = 2000;
    private const int LargestPiece = 4_000_000;

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

    /// <summary>Takes up a tool in a sketch, with what is picked there.</summary>
    public Task<AnswerMessage> StartTool(string step, string tool, string[]? picks)
    {
        var entry = ToolCatalog.Find(tool) ?? throw new HubException($"There is no tool '{tool}'.");
        var made = entry.Make();
        made.Begin([.. (picks ?? []).Take(MostPicks)]);
        Context.Items[ToolKey] = (Step: step, Tool: made);
        return HandAsync(new ToolInput(InputKind.Move, default, 0));
    }

    /// <summary>Hands one input to the tool; a change that it asks for is made before the answer comes.</summary>
    public Task<AnswerMessage> Input(InputMessage message) => message?.ToInput() is { } input ? HandAsync(input) : Task.FromResult(new AnswerMessage { Leave = true });

    private async Task<AnswerMessage> HandAsync(ToolInput input)
    {
        var session = Session();
        if (Tool(session) is not { } active)
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

        return AnswerMessage.Of(answer with { Refusal = changed.Refusal }, session.Stored.Revision) with { Outs = Outs(session, answer.Command, changed.Refusal!) };
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

    private static OfferMessage Message(Offer offer) => new(offer.Id, offer.Label, offer.Detail, offer.Command is null ? null : Json(offer.Command), offer.WhyNot, [.. offer.Touches]);

    private static string Json<T>(T value) => JsonSerializer.Serialize(value, PartJson.Compact);

    /// <summary>Ways out for a command that was refused; empty where it is not refused any more.</summary>
    public WayOutMessage[] WaysOut(string command)
    {
        var session = Session();
        return Read<PartCommand>(command) is { } refused && refused.Apply(session.Stored.Part).Refusal is { } refusal ? Outs(session, refused, refusal) : [];
    }

    /// <summary>What would set the rest of a sketch.</summary>
    public ProposalMessage[] Finish(string step)
    {
        var part = Session().Stored.Part;
        return part.Find(step) is SketchStep sketch
            ? [.. Core.Solving.FinishIt.Propose(sketch.Sketch, part.Units).Select(p => new ProposalMessage(p.Words, p.Tie is { } t ? Json(t) : null, p.Size is { } s ? Json(s) : null, [.. p.Tie?.Of ?? p.Size!.Of]))]
            : [];
    }

    /// <summary>What a command would make of a sketch, without making it; null where it is refused.</summary>
    public CurveMessage[]? Preview(string step, string command) =>
        Read<PartCommand>(command)?.Apply(Session().Stored.Part) is { Done: true } applied && applied.Value.Find(step) is SketchStep after ? Curves(after.Sketch) : null;

    /// <summary>The picks as a piece that can be pasted elsewhere, as JSON.</summary>
    public string? Copy(string step, string[] picks) =>
        Session().Stored.Part.Find(step) is SketchStep sketch && Clipping.Cut(sketch.Sketch, [.. (picks ?? []).Take(MostPicks)]) is { Done: true } piece ? Json(piece.Value) : null;

    /// <summary>A command, as JSON, that puts a piece into a sketch with its first point at a place; null for what is no piece.</summary>
    public string? Paste(string step, string piece, double x, double y)
    {
        if (Session().Stored.Part.Find(step) is not SketchStep sketch || piece is null || piece.Length > LargestPiece || Read<Sketch>(piece) is not { } cut || cut.Entities.OfType<PointEntity>().FirstOrDefault() is not { } first)
        {
            return null;
        }

        var pasted = Clipping.Paste(sketch.Sketch, cut, new Similarity(Vec2.Zero, new Vec2(x, y) - first.At, 0, 1));
        return pasted.Done ? Json<PartCommand>(new EditSketch(step, pasted.Value, "paste")) : null;
    }

    private static WayOutMessage[] Outs(IPartSession session, PartCommand command, Core.Refusal refusal) =>
        [.. Core.Tools.WaysOut.Of(session.Stored.Part, command, refusal).Select(w => new WayOutMessage(w.Words, Json<PartCommand>(w.Command), Curves(w.After)))];

    private static CurveMessage[] Curves(Sketch sketch) => [.. SketchView.EntitiesOf(sketch, null).Select(CurveMessage.Of)];

    private static T? Read<T>(string json)
        where T : class
    {
        try
        {
            return JsonSerializer.Deserialize<T>(json, PartJson.Compact);
        }
        catch (JsonException)
        {
            return null;
        }
    }

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
