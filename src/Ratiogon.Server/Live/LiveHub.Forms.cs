using Microsoft.AspNetCore.SignalR;
using Ratiogon.Core.Building;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Tools.Forms;

namespace Ratiogon.Server.Live;

/// <summary>The Form bench and the Probe.</summary>
public sealed partial class LiveHub
{
    /// <summary>A new form with the picks; answers a <see cref="FormAnswer"/> as JSON.</summary>
    public async Task<string?> BeginForm(string kind, string[] picks) =>
        FormCatalog.Find(kind) is { } known
            ? Json(FormDrafting.Begin(await Session().ModelAsync(), known, (picks ?? []).Take(MostPicks)))
            : null;

    /// <summary>The draft of a form that is there, with the model as it stood before it.</summary>
    public async Task<string?> EditForm(string step) =>
        Session().Present.Find(step) is FormStep form ? Json(FormDrafting.Edit(await BeforeAsync(form), form)) : null;

    /// <summary>Does one thing to a draft of a form; draft and input are JSON.</summary>
    public async Task<string?> Form(string draft, string input) =>
        Read<FormDraft>(draft) is { Step: FormStep step } asked && Read<FormInput>(input) is { } done
            ? Json(FormDrafting.Answer(await BeforeAsync(step), asked, done))
            : null;

    /// <summary>The part as a draft of a form would make it, or as it stands before the form.</summary>
    /// <param name="draft">A <see cref="FormDraft"/> as JSON.</param>
    /// <param name="before">Whether it is asked for without the form.</param>
    /// <param name="quick">Whether a picture of a moment will do, while a size changes.</param>
    public async Task<PreviewMessage?> PreviewForm(string draft, bool before, bool quick)
    {
        var session = Session();
        if (Read<FormDraft>(draft) is not { Step: FormStep step } asked)
        {
            return null;
        }

        if (before)
        {
            return PreviewMessage.Of(session.Present, await BeforeResultAsync(step), "");
        }

        var applied = asked.Command.Apply(session.Present);
        if (!applied.Done)
        {
            return PreviewMessage.Refused(applied.Refusal!);
        }

        // A new step has the id that the old part lacks.
        var made = applied.Value.Steps.First(s => step.Id.Length > 0 ? s.Id == step.Id : session.Present.Find(s.Id) is null);
        var built = await session.TryAsync(applied.Value with { StopLine = made.Number }, quick);
        return built.Done ? PreviewMessage.Of(applied.Value, built.Value, made.Id) : PreviewMessage.Refused(built.Refusal!);
    }

    /// <summary>What places the centre of a hole on a face that was pointed at: a <see cref="PlacedCentre"/> or the refusal, as
    /// JSON.</summary>
    /// <param name="draft">The hole, a <see cref="FormDraft"/> as JSON.</param>
    /// <param name="face">The face.</param>
    /// <param name="ray">From the eye through the place: origin and direction.</param>
    /// <param name="reach">What a pixel comes to there, in millimetres.</param>
    public async Task<string> PlaceCentre(string draft, string face, double[] ray, double reach)
    {
        if (Read<FormDraft>(draft) is not { Step: FormStep hole } || Ray(ray) is not { } along || !double.IsFinite(reach))
        {
            return Json(new { refusal = "That is no place." });
        }

        var model = await BeforeAsync(hole);
        var placed = CentrePlacing.On(model, face ?? "", along, reach, hole);
        return placed.Done ? Json(placed.Value) : Json(new { refusal = model.Wording.In(placed.Refusal!.Message) });
    }

    /// <summary>The stretches of material along anything straight; answers a <see cref="ProbeView"/> as JSON.</summary>
    public async Task<string> Probe(string reference)
    {
        var session = Session();
        var model = await session.ModelAsync();
        var line = model
            .Find(reference)
            .Then<Line3>(t =>
                t.Straight is { } s ? s
                : t.Plane is { } p ? new Line3(t.Middle ?? p.Origin, p.Z)
                : new Core.Refusal("probe.direction", $"{t.Words} has no direction: pick anything straight, a round face or a plane.")
            );
        if (!line.Done)
        {
            return Json(new { refusal = line.Refusal!.Message });
        }

        var found = await session.ProbeAsync(line.Value);
        return found.Done
            ? Json(ProbeView.Of(line.Value, found.Value, session.Present.Units))
            : Json(new { refusal = found.Refusal!.Message });
    }

    /// <summary>The plane of something flat, as origin, x and y; null for what is not.</summary>
    public async Task<double[]?> PlaneOf(string reference) =>
        (await Session().ModelAsync()).PlaneOf(reference) is { Done: true, Value: var p }
            ? [p.Origin.X, p.Origin.Y, p.Origin.Z, p.X.X, p.X.Y, p.X.Z, p.Y.X, p.Y.Y, p.Y.Z]
            : null;

    /// <summary>The model just before a step; of a new step, as it stands at the stop line.</summary>
    private async Task<Model> BeforeAsync(FormStep step) =>
        step.Id.Length == 0 ? await Session().ModelAsync() : Model.Of(Session().Present, await BeforeResultAsync(step));

    private async Task<RebuildResult> BeforeResultAsync(FormStep step)
    {
        var session = Session();
        await session.SettledAsync();
        if (session.Present.Find(step.Id) is not { } there)
        {
            return session.Now.Result;
        }

        var key = $"{session.Stored.Revision} {step.Id}";
        if (Here.Before is { } kept && kept.Key == key)
        {
            return kept.Result;
        }

        var built = await session.TryAsync(session.Present with { StopLine = there.Number - 1 });
        var result = built.Done ? built.Value : RebuildResult.Empty;
        Here.Before = (key, result);
        return result;
    }
}
