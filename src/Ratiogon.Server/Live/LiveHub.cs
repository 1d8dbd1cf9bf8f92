using System.Collections.Immutable;
using System.Text.Json;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.SignalR;
using Microsoft.Extensions.Options;
using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Datums;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Drawing;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Solving;
using Ratiogon.Core.Tools;
using Ratiogon.Core.Tools.Datums;
using Ratiogon.Core.Tools.Picks;
using Ratiogon.Server.Accounts;
using Ratiogon.Server.Parts;
using Ratiogon.Store;

namespace Ratiogon.Server.Live;

/// <summary>What the server says of itself over the live link.</summary>
public interface ILiveClient
{
    /// <summary>The part has another revision; fetch it.</summary>
    Task Changed(long revision);

    /// <summary>The model of a revision.</summary>
    Task Rebuilt(RebuiltMessage message);

    /// <summary>A long rebuild has come to a step; null when it has ended.</summary>
    Task Building(string? step);

    /// <summary>A long read, write or mesh has come so far, from 0 to 1.</summary>
    Task Share(double share);
}

/// <summary>Pointer, hover, drag and previews. Each connection has at most one part and one tool at a time.</summary>
[Authorize]
public sealed partial class LiveHub(
    IPartSessions sessions,
    PartStore store,
    Sessions signedIn,
    LiveAudience audience,
    IOptions<LiveOptions> options
) : Hub<ILiveClient>
{
    private const string StateKey = "state",
        WatchKey = "watch";
    private const int LongestDesk = 60;
    private const int MostPicks = 2000;
    private const int LargestPiece = 4_000_000;

    /// <summary>Follows a part. The model comes as soon as it is built.</summary>
    public async Task Open(Guid part)
    {
        var session = await sessions.OpenAsync(part, Who.Of(Context.User).Id) ?? throw new HubException("There is no such part.");
        (Here.Session, Here.Tool) = (session, null);
        StopWatching();
        var looking = new Looking(session.Watch(), audience, part, Context.ConnectionId);
        Context.Items[WatchKey] = looking;
        var at = session.Now;
        if (at.Revision > 0)
        {
            await Clients.Caller.Rebuilt(RebuiltMessage.Of(at.Present, at.Revision, at.Result));
        }

        looking.Outbox.Begin(at.Revision, at.Revision > 0 ? at.Result : null);
    }

    /// <summary>Follows a part from a desk: what was begun there before the link went away goes on.</summary>
    /// <param name="part">The part.</param>
    /// <param name="desk">A name that the page made up for itself.</param>
    public async Task Resume(Guid part, string desk)
    {
        if (desk is not { Length: > 0 and <= LongestDesk })
        {
            throw new HubException("A desk has a short name.");
        }

        var state = Context.GetHttpContext()!.RequestServices.GetRequiredService<LiveDesks>().Take(Who.Of(Context.User).Id, desk);
        var (was, tool) = (state.Session, state.Tool);
        Context.Items[StateKey] = state;
        await Open(part);
        state.Tool = ReferenceEquals(was, state.Session) ? tool : null;
    }

    /// <summary>Sends the model with all of its geometry once more, to who misses some.</summary>
    public void Whole()
    {
        if (Here.Session?.Now is { Revision: > 0 } at && Context.Items.TryGetValue(WatchKey, out var looking))
        {
            ((Looking)looking!).Outbox.Whole(at.Present, at.Revision, at.Result);
        }
    }

    /// <summary>Answers at once: whether the link is there.</summary>
    public int Ping() => 0;

    /// <summary>Takes up a tool in a sketch, with what is picked there.</summary>
    public Task<AnswerMessage> StartTool(string step, string tool, string[]? picks)
    {
        var entry = ToolCatalog.Find(tool) ?? throw new HubException($"There is no tool '{tool}'.");
        var made = entry.Make();
        made.Begin([.. (picks ?? []).Take(MostPicks)]);
        return HandAsync(new ToolInput(InputKind.Move, default, 0), new LiveTool(step, made));
    }

    /// <summary>Hands one input to the tool; a change that it asks for is made before the answer comes.</summary>
    public Task<AnswerMessage> Input(InputMessage message) =>
        message?.ToInput() is { } input ? HandAsync(input, number: message.Number) : Task.FromResult(new AnswerMessage { Leave = true });

    /// <summary>Tools take one input at a time, in the order in which they come; what asks about the model may come in between.</summary>
    private async Task<AnswerMessage> HandAsync(ToolInput input, LiveTool? taken = null, int number = 0)
    {
        var here = Here;
        await here.Turn.WaitAsync();
        try
        {
            // An input whose answer was lost with the link comes once more, and is answered once more.
            if (number > 0 && here.Last is var (known, answered) && known == number)
            {
                return answered;
            }

            here.Tool = taken ?? here.Tool;
            var answer = await HandInTurnAsync(input);
            here.Last = number > 0 ? (number, answer) : here.Last;
            return answer;
        }
        finally
        {
            here.Turn.Release();
        }
    }

    private async Task<AnswerMessage> HandInTurnAsync(ToolInput input)
    {
        var session = Session();
        if (Tool(session) is not { } active)
        {
            return new AnswerMessage { Leave = true };
        }

        ToolAnswer answer;
        try
        {
            using var patience = Patience.Limit(options.Value.Solving);
            answer = active.Tool.Handle(active.Context, input);
        }
        catch (OutOfPatienceException e)
        {
            answer = new ToolAnswer { Prompt = "Take the tool up again", Refusal = e.Refused };
        }
        catch (Exception e) when (e is not OutOfMemoryException)
        {
            LogDefect(Context.GetHttpContext()!.RequestServices.GetRequiredService<ILogger<LiveHub>>(), e, active.Tool.GetType().Name);
            answer = new ToolAnswer
            {
                Prompt = "Take the tool up again",
                Refusal = new Core.Refusal(
                    PartCommand.Defect,
                    $"Something went wrong inside, and nothing was changed: {e.GetType().Name}, {e.Message}"
                ),
            };
        }

        if (answer.Command is null)
        {
            return AnswerMessage.Of(answer, session.Stored.Revision, active.Context.Sketch);
        }

        var before = session.Present;
        var changed = await session.ApplyAsync(answer.Command, Who.Of(Context.User).Id);
        if (changed.Done)
        {
            return AnswerMessage.Of(
                answer with
                {
                    Note = answer.Command.Said(before, changed.Value.Part) ?? answer.Note,
                },
                changed.Value.Revision
            );
        }

        return AnswerMessage.Of(answer with { Refusal = changed.Refusal }, session.Stored.Revision) with
        {
            Outs = Outs(session, answer.Command, changed.Refusal!),
        };
    }

    /// <summary>What the picks can become; in a sketch when one is named, else on the model.</summary>
    public async Task<OfferMessage[]> Offers(string? step, string[] picks)
    {
        var session = Session();
        var at = session.Now;
        var chosen = (picks ?? []).Take(MostPicks).ToImmutableArray();
        if (step is not null)
        {
            return at.Present.Find(step) is SketchStep sketch
                ? [.. Core.Tools.Picks.Offers.InSketch(at.Present, sketch, chosen).Select(Message)]
                : [];
        }

        return [.. Core.Tools.Picks.Offers.OnModel(at.Present, at.Result, chosen, await session.ReadingsAsync(chosen)).Select(Message)];
    }

    private static OfferMessage Message(Offer offer) =>
        new(
            offer.Id,
            offer.Label,
            offer.Detail,
            offer.Command is null ? null : Json(offer.Command),
            offer.WhyNot,
            [.. offer.Touches],
            offer.Draft is null ? null : Json(offer.Draft),
            offer.Form is null ? null : Json(offer.Form),
            offer.Note,
            offer.Group,
            [.. offer.Points.SelectMany(p => new[] { p.X, p.Y, p.Z })]
        );

    private static string Json<T>(T value) => JsonSerializer.Serialize(value, PartJson.Compact);

    /// <summary>What a draft of a datum, as JSON, determines; answers a <see cref="DatumAnswer"/> as JSON.</summary>
    public async Task<string?> Datum(string draft) =>
        Read<DatumDraft>(draft) is { } asked ? Json(DatumDrafting.Answer(await Session().ModelAsync(), asked)) : null;

    /// <summary>The same after one value was pulled to a ray (origin and direction) through the view.</summary>
    public async Task<string?> DragDatum(string draft, string field, double[] ray, double reach)
    {
        if (Read<DatumDraft>(draft) is not { } asked || Ray(ray) is not { } along)
        {
            return null;
        }

        var model = await Session().ModelAsync();
        return Json(DatumDrafting.Answer(model, DatumDrafting.Drag(model, asked, field, along, reach) ?? asked));
    }

    /// <summary>The draft of a datum that is there, or of a 3D curve, as JSON.</summary>
    public string? Draft(string step) =>
        Session().Present.Find(step) switch
        {
            DatumStep datum => Json(DatumDraft.Of(datum)),
            CurveStep curve => Json(CurveDraft.Of(curve)),
            _ => null,
        };

    /// <summary>What a draft of a 3D curve, as JSON, gives; answers a <see cref="CurveAnswer"/> as JSON.</summary>
    public async Task<string?> Curve(string draft) =>
        Read<CurveDraft>(draft) is { } asked ? Json(CurveDrafting.Answer(await Session().ModelAsync(), asked)) : null;

    /// <summary>The condition of a point where a ray meets a thing, or the refusal, as JSON.</summary>
    public async Task<string> PointAt(string reference, double[] ray)
    {
        var made = Ray(ray) is { } along
            ? DatumDrafting.PointAt(await Session().ModelAsync(), reference, along)
            : new Core.Refusal("datum.no-place", "There is no place under the pointer.");
        return made.Done ? Json(new { condition = made.Value }) : Json(new { refusal = made.Refusal!.Message });
    }

    /// <summary>The plane for a quick sketch on one point or two as the view stands; answers a <see cref="DatumAnswer"/> as JSON.</summary>
    public async Task<string> QuickPlane(string[] picks, double[] towards)
    {
        var model = await Session().ModelAsync();
        var drafted = QuickPlanes.Of(model, [.. picks ?? []], towards is [var x, var y, var z] ? new Vec3(x, y, z).Unit : Vec3.AlongZ);
        return Json(
            drafted.Done
                ? DatumDrafting.Answer(model, drafted.Value)
                : new DatumAnswer
                {
                    Draft = new DatumDraft { Makes = DatumKind.Plane },
                    Prompt = drafted.Refusal!.Message,
                    Refusal = drafted.Refusal,
                }
        );
    }

    /// <summary>The draft of a frame as the view looks (origin, x to the right, y up), as JSON.</summary>
    public string? ViewFrame(double[] view) =>
        view is { Length: 9 } && view.All(double.IsFinite)
            ? Json(
                DatumDrafting.AsViewed(
                    Frame.OfAxes(Point(view, 0), Point(view, 3).Cross(Point(view, 6)), Point(view, 3)),
                    Session().Present.Units
                )
            )
            : null;

    /// <summary>Which way to turn the view when a step's plane is seen edge-on; null where it can be drawn on.</summary>
    public string? EdgeOn(string step, double[] towards) =>
        Session().Now.Result.Step(step)?.Frame is { } plane && towards is { Length: 3 }
            ? QuickPlanes.SeenEdgeOn(plane, Point(towards, 0).Unit)?.Message
            : null;

    /// <summary>The command that takes something of the model into a sketch, or the refusal, as JSON.</summary>
    /// <param name="step">The sketch.</param>
    /// <param name="how">copy, section or crossing.</param>
    /// <param name="reference">What.</param>
    public async Task<string> Take(string step, string how, string reference)
    {
        var session = Session();
        var model = await session.ModelAsync();
        if (model.Part.Find(step) is not SketchStep sketch || !Enum.TryParse<CopyHow>(how, ignoreCase: true, out var wanted))
        {
            return Json(new { refusal = "There is no such sketch." });
        }

        if (wanted == CopyHow.Section && sketch.PlaneIn(model) is { Done: true } plane)
        {
            var cut = await session.SectionAsync(plane.Value);
            model.Section = _ => cut;
        }

        var taken = SketchCopies.Take(model, sketch, wanted, reference);
        return taken.Done ? Json(new { command = taken.Value }) : Json(new { refusal = taken.Refusal!.Message });
    }

    /// <summary>What to do about a thing that meets a place of the sketch only as seen; a <see cref="SeenOnly"/> or null, as
    /// JSON.</summary>
    public async Task<string?> Apart(string step, string reference, double x, double y, double[] ray, string? point)
    {
        var model = await Session().ModelAsync();
        return
            model.Part.Find(step) is SketchStep sketch
            && Ray(ray) is { } along
            && SketchCopies.Apart(model, sketch, reference, new Vec2(x, y), along, point) is { Done: true } apart
            ? Json(apart.Value)
            : null;
    }

    private static Line3? Ray(double[] ray) =>
        ray is { Length: 6 } && ray.All(double.IsFinite) && Point(ray, 3).Length > 0 ? new Line3(Point(ray, 0), Point(ray, 3).Unit) : null;

    private static Vec3 Point(double[] v, int at) => new(v[at], v[at + 1], v[at + 2]);

    /// <summary>The model of a state that the part was in, to be looked at; null where there is none.</summary>
    public async Task<RebuiltMessage?> At(long revision)
    {
        var session = Session();
        var state = await HistoryEndpoints.StateAsync(store, session.Id, Who.Of(Context.User).Id, revision, Context.ConnectionAborted);
        if (!state.Done)
        {
            return null;
        }

        var built = await session.TryAsync(state.Value);
        return built.Done ? RebuiltMessage.Of(state.Value, revision, built.Value) : null;
    }

    /// <summary>The model as it would be after a command, to be looked at; null where that is refused, or is none.</summary>
    public async Task<RebuiltMessage?> Try(string command)
    {
        var session = Session();
        if (Read<PartCommand>(command)?.Apply(session.Present) is not { Done: true } tried)
        {
            return null;
        }

        var built = await session.TryAsync(tried.Value);
        return built.Done ? RebuiltMessage.Of(tried.Value, session.Stored.Revision, built.Value) : null;
    }

    /// <summary>What people call the things that references name, without articles.</summary>
    /// <param name="step">The sketch whose entities are meant; null for references of the model.</param>
    /// <param name="references">Ids of entities, or references.</param>
    public async Task<string[]> Words(string? step, string[] references)
    {
        var session = Session();
        var asked = (references ?? []).Take(MostPicks).Select(r => r ?? "");
        if (step is not null && session.Present.Find(step) is SketchStep sketch)
        {
            var words = EntityWords.Of(sketch.Sketch, session.Present.Units);
            return [.. asked.Select(r => SketchWords.OfRule(sketch.Sketch, r, session.Present.Units) ?? words[r])];
        }

        var wording = (await session.ModelAsync()).Wording;
        return [.. asked.Select(wording.Of)];
    }

    /// <summary>Ways out for a command that was refused; empty where it is not refused any more.</summary>
    public WayOutMessage[] WaysOut(string command)
    {
        var session = Session();
        return Read<PartCommand>(command) is { } refused && refused.Apply(session.Present).Refusal is { } refusal
            ? Outs(session, refused, refusal)
            : [];
    }

    /// <summary>What would set the rest of a sketch.</summary>
    public ProposalMessage[] Finish(string step)
    {
        var part = Session().Present;
        return part.Find(step) is SketchStep sketch
            ?
            [
                .. Core
                    .Sketches.Solving.FinishIt.Propose(sketch.Sketch, part.Units)
                    .Select(p => new ProposalMessage(
                        p.Words,
                        p.Tie is { } t ? Json(t) : null,
                        p.Size is { } s ? Json(s) : null,
                        [.. p.Tie?.Of ?? p.Size!.Of]
                    )),
            ]
            : [];
    }

    /// <summary>How a sketch can still move.</summary>
    public MotionMessage[] Motions(string step) =>
        Session().Present.Find(step) is SketchStep sketch
            ?
            [
                .. SketchView
                    .MotionsOf(sketch.Sketch)
                    .Select(m => new MotionMessage(
                        m.Words,
                        m.Moves.ToDictionary(v => v.Key, v => new[] { v.Value.X, v.Value.Y }),
                        m.Paths.ToDictionary(p => p.Key, p => p.Value.ToArray())
                    )),
            ]
            : [];

    /// <summary>What a command would make of a sketch, without making it; null where it is refused.</summary>
    public CurveMessage[]? Preview(string step, string command) =>
        Read<PartCommand>(command)?.Apply(Session().Present) is { Done: true } applied && applied.Value.Find(step) is SketchStep after
            ? Curves(after.Sketch)
            : null;

    /// <summary>The picks as a piece that can be pasted elsewhere, as JSON.</summary>
    public string? Copy(string step, string[] picks) =>
        Session().Present.Find(step) is SketchStep sketch
        && Clipping.Cut(sketch.Sketch, [.. (picks ?? []).Take(MostPicks)]) is { Done: true } piece
            ? Json(piece.Value)
            : null;

    /// <summary>A command, as JSON, that puts a piece into a sketch with its first point at a place; null for what is no piece.</summary>
    public string? Paste(string step, string piece, double x, double y)
    {
        if (
            Session().Present.Find(step) is not SketchStep sketch
            || piece is null
            || piece.Length > LargestPiece
            || Read<Sketch>(piece) is not { } cut
            || cut.Entities.OfType<PointEntity>().FirstOrDefault() is not { } first
        )
        {
            return null;
        }

        var pasted = Clipping.Paste(sketch.Sketch, cut, new Similarity(Vec2.Zero, new Vec2(x, y) - first.At, 0, 1));
        return pasted.Done ? Json<PartCommand>(new EditSketch(step, pasted.Value, "paste")) : null;
    }

    [LoggerMessage(LogLevel.Error, "The tool {Tool} failed")]
    private static partial void LogDefect(ILogger log, Exception defect, string tool);

    private static WayOutMessage[] Outs(IPartSession session, PartCommand command, Core.Refusal refusal) =>
        [
            .. Core
                .Tools.WaysOut.Of(session.Present, command, refusal)
                .Select(w => new WayOutMessage(w.Words, Json<PartCommand>(w.Command), Curves(w.After))),
        ];

    private static CurveMessage[] Curves(Sketch sketch) => [.. SketchView.EntitiesOf(sketch, null).Select(CurveMessage.Of)];

    private static T? Read<T>(string? json)
        where T : class
    {
        try
        {
            return json is null ? null : JsonSerializer.Deserialize<T>(json, PartJson.Compact);
        }
        catch (Exception e) when (BadJson.Of(e) is not null)
        {
            return null;
        }
    }

    private LiveState Here => (LiveState)Context.Items[StateKey]!;

    public override Task OnConnectedAsync()
    {
        Context.Items[StateKey] = new LiveState();
        signedIn.Attach(Context);
        return base.OnConnectedAsync();
    }

    public override Task OnDisconnectedAsync(Exception? exception)
    {
        signedIn.Detach(Context);
        StopWatching();
        return base.OnDisconnectedAsync(exception);
    }

    private void StopWatching()
    {
        if (Context.Items.Remove(WatchKey, out var watching))
        {
            ((IDisposable)watching!).Dispose();
        }
    }

    private IPartSession Session() => Here.Session ?? throw new HubException("Open a part first.");

    private (SketchTool Tool, ToolContext Context)? Tool(IPartSession session) =>
        Here.Tool is { } active && session.Present is { } part && part.Find(active.Step) is SketchStep sketch
            ? (active.Tool, new ToolContext(part, sketch))
            : null;
}

/// <summary>A connection that looks at a part: the part stays live, and it is told of it.</summary>
internal sealed class Looking(IDisposable watch, LiveAudience audience, Guid part, string connection) : IDisposable
{
    public Outbox Outbox { get; } = audience.Join(part, connection);

    public void Dispose()
    {
        audience.Leave(part, connection);
        watch.Dispose();
    }
}

/// <summary>The tool in use and the sketch it works on.</summary>
internal sealed record LiveTool(string Step, SketchTool Tool);

/// <summary>What one connection is at. Its calls may run side by side; tools take turns.</summary>
internal sealed class LiveState
{
    public IPartSession? Session { get; set; }

    public LiveTool? Tool { get; set; }

    public SemaphoreSlim Turn { get; } = new(1);

    /// <summary>The last numbered input and its answer.</summary>
    public (int Number, AnswerMessage Answer)? Last { get; set; }

    /// <summary>The model before the form that is edited: the revision and the step, and what was built.</summary>
    public (string Key, RebuildResult Result)? Before { get; set; }
}
