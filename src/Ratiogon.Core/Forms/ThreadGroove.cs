using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;

namespace Ratiogon.Core.Forms;

/// <summary>A cylinder of a body.</summary>
/// <param name="Axis">Begins where the face does, and runs along it.</param>
/// <param name="Radius">In millimetres.</param>
/// <param name="Outside">Whether it is a shaft.</param>
public readonly record struct RoundFace(Line3 Axis, double Radius, bool Outside);

/// <summary>The groove of an ISO metric thread, of the basic profile (ISO 68-1): flanks at 60 degrees, 5/8 of the
/// fundamental triangle deep, an eighth of the pitch left at the major diameter and a quarter at the minor.</summary>
internal static class ThreadGroove
{
    private const int MostTurns = 120;

    /// <summary>How far the groove goes past the face that it opens to, over the pitch.</summary>
    private const double Past = 0.05;

    private static readonly double Slope = 2 * Math.Tan(Math.PI / 6);

    /// <summary>The body with the thread cut into it.</summary>
    /// <param name="site">Where it is built.</param>
    /// <param name="step">Names the new faces.</param>
    /// <param name="body">The body of the face.</param>
    /// <param name="thread">From the tables.</param>
    /// <param name="face">What is threaded.</param>
    /// <param name="length">From the face's beginning, in millimetres.</param>
    public static Outcome<Shaped> Cut(FormSite site, string step, FormBody body, MetricThread thread, RoundFace face, double length)
    {
        var (half, pitch) = (0.5 * Width(thread, face, face.Radius), thread.Pitch);
        if (length < 2 * half)
        {
            return new Refusal(
                "thread.too-short",
                $"The groove of {thread.Name} is {site.Show(2 * half)} wide; a length of {site.Show(length)} leaves no room for it.",
                "length"
            );
        }

        // It runs out through an end that is open, and stops short of one that is not.
        var from = Open(site, body, face, thread, 0, -1) ? -half - (pitch / 4) : half;
        var to = length + (Open(site, body, face, thread, length, 1) ? half + (pitch / 4) : -half);
        var turns = (to - from) / pitch;
        if (turns is < 0.1 or > MostTurns)
        {
            return new Refusal(
                "thread.turns",
                $"A thread that is cut has up to {MostTurns} turns; this one would have {turns:0}. Draw it instead, or make it shorter.",
                "length"
            );
        }

        var mouth = face.Radius + ((face.Outside ? Past : -Past) * pitch);
        var root = face.Outside ? (thread.Diameter / 2) - (thread.Triangle * 5 / 8) : thread.Diameter / 2;
        var groove = new Groove(
            new Line3(face.Axis.At(from), face.Axis.Direction),
            mouth,
            Math.Min(Width(thread, face, mouth), 0.97 * pitch),
            root,
            Width(thread, face, root),
            pitch,
            turns
        );
        return site
            .Kernel.Groove(groove)
            .Then(tool =>
                site.Kernel.Carve(body.Solid, tool.Solid)
                    .Then<Shaped>(carved =>
                        Sound(site, body, tool.Solid, carved.Solid)
                            ? Shaped.Of(carved, step, [body.Shape, Shaped.Of(tool, step, o => Name(step, o))])
                            : new Refusal(
                                "thread.unsound",
                                "The groove could not be cut cleanly here: where it leaves the body, faces nearly touch. "
                                    + "Change the length a little, or draw the thread instead.",
                                "length"
                            )
                    )
            );
    }

    /// <summary>Whether what was taken is no more than the groove and more than a trace: a boolean may go astray without a word.</summary>
    private static bool Sound(FormSite site, FormBody body, ISolid groove, ISolid carved) =>
        body.Mass.Volume - site.Kernel.Mass(carved).Volume is var taken
        && site.Kernel.Mass(groove).Volume is var most
        && taken > most * 0.02
        && taken < most * 1.0001;

    private static string Name(string step, FaceOrigin origin) =>
        (origin.Kind, origin.Index) switch
        {
            (OriginKind.Side, 0) => $"{step}/flank/1",
            (OriginKind.Side, 1) => $"{step}/root",
            (OriginKind.Side, 2) => $"{step}/flank/2",
            (OriginKind.StartCap, _) => $"{step}/start",
            (OriginKind.EndCap, _) => $"{step}/end",
            _ => $"{step}/face",
        };

    /// <summary>How wide the groove is at a radius.</summary>
    private static double Width(MetricThread thread, RoundFace face, double radius) =>
        face.Outside
            ? (thread.Pitch * 7 / 8) - (((thread.Diameter / 2) - radius) * Slope)
            : (thread.Pitch / 8) + (((thread.Diameter / 2) - radius) * Slope);

    /// <summary>Whether there is no material just past a place of the thread, where its groove would run on.</summary>
    private static bool Open(FormSite site, FormBody body, RoundFace face, MetricThread thread, double at, int way)
    {
        var across = Frame.Facing(face.Axis.Origin, face.Axis.Direction).X;
        var within = face.Radius + ((face.Outside ? -0.25 : 0.25) * thread.Triangle);
        var line = new Line3(face.Axis.At(at) + (across * within), face.Axis.Direction * way);
        var (near, far) = (thread.Pitch * 0.05, thread.Pitch * 0.5);
        return !site.Kernel.Probe(body.Solid, line).Any(s => s.In.At < far && s.Out.At > near);
    }
}
