using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;

namespace Ratiogon.Core.Forms;

/// <summary>A thread that is drawn on a round face without changing it. Lengths in millimetres.</summary>
/// <param name="Axis">Begins where the thread does.</param>
/// <param name="Radius">Of the line that is drawn, just off the face.</param>
/// <param name="Length">Along the axis.</param>
/// <param name="Pitch">From turn to turn.</param>
public sealed record DrawnThread(Line3 Axis, double Radius, double Length, double Pitch)
{
    /// <summary>How far off the face it is drawn, as a share of the radius.</summary>
    public const double Off = 0.015;

    /// <summary>Just off a round face, on the side where it is seen.</summary>
    public static DrawnThread On(Line3 axis, double radius, bool outside, double length, double pitch) =>
        new(axis, radius * (outside ? 1 + Off : 1 - Off), length, pitch);
}

/// <summary>An ISO metric thread on a shaft or in a hole: drawn on its face, or cut into it.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Number">Place in the build sheet.</param>
/// <param name="Name">As shown.</param>
/// <param name="Face">The cylinder that is threaded.</param>
[Kind("thread")]
[FormTool("Thread", 't', "M5 2v12M11 2v12M5 4.500l6-2M5 7.500l6-2M5 10.500l6-2M5 13.500l6-2", Place = 60)]
public sealed record ThreadStep(string Id, int Number, string Name, string Face) : FormStep(Id, Number, Name)
{
    private static readonly FormFields<ThreadStep> Described = new FormFields<ThreadStep>()
        .Pick(
            "face",
            "Face",
            PickKind.Face,
            s => s.Face,
            (s, v) => s with { Face = v ?? "" },
            hint: "Pick the cylinder to thread, outside or inside"
        )
        .Choice(
            "thread",
            "Thread",
            s => s.Thread,
            (s, v) => s with { Thread = v },
            Threads.All.Select(t => new FieldOption(t.Name, t.Name.Contains('x', StringComparison.Ordinal) ? $"{t.Name} fine" : t.Name))
        )
        .Length("length", "Length", s => s.Length, (s, v) => s with { Length = v }, optional: true)
        .Flag("modelled", "Cut into the face", s => s.Modelled, (s, v) => s with { Modelled = v })
        .Flag("flip", "From the other end", s => s.Flip, (s, v) => s with { Flip = v });

    /// <summary>A name of <see cref="Threads"/>.</summary>
    public string Thread { get; init; } = "M6";

    /// <summary>How far it goes; none for the whole face.</summary>
    public string? Length { get; init; }

    /// <summary>Cut as a groove of the basic profile; otherwise only drawn.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool Modelled { get; init; }

    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool Flip { get; init; }

    public override string Kind => "thread";

    public override ImmutableArray<FormField> Fields => Described.All;

    public override Refs? KeepsTo => [Face];

    public override Outcome<FormResult> Build(FormSite site)
    {
        if (Threads.Find(Thread) is not { } thread)
        {
            return new Refusal("hole.thread", $"There is no thread '{Ids.Shorten(Thread)}' in the tables of ISO 261.", "thread");
        }

        return site.On(Face)
            .Then<FormResult>(on =>
            {
                var (body, part) = on;
                if (
                    part.Kind != SubShapeKind.Face
                    || ShapeNumbers.SurfaceOf(body.Topology.Faces[part.Index]) is not CylinderSurface cylinder
                )
                {
                    return new Refusal("thread.no-cylinder", $"'{Face}' is no cylinder.", "face");
                }

                var shape = body.Topology.Faces[part.Index];
                var outward = ShapeNumbers.Outward(
                    shape,
                    cylinder,
                    shape.Numbers.Length >= 3 ? new Vec3(shape.Numbers[0], shape.Numbers[1], shape.Numbers[2]) : cylinder.Axis.Origin
                );
                var at = new Vec3(shape.Numbers[0], shape.Numbers[1], shape.Numbers[2]);
                var outside = (at - cylinder.Axis.Foot(at)).Dot(outward) > 0;
                var fits = outside ? thread.Diameter : thread.Drill;
                if (Math.Abs((2 * cylinder.Radius) - fits) > thread.Pitch * 0.35)
                {
                    return new Refusal(
                        "thread.unfit",
                        $"{Thread} wants a {(outside ? "shaft" : "hole")} of {site.Show(fits)}; this one has "
                            + $"{site.Show(2 * cylinder.Radius)}.",
                        "thread"
                    );
                }

                var ends = Ends(body, part.Index, cylinder.Axis);
                return (string.IsNullOrWhiteSpace(Length) ? ends.To - ends.From : site.Length(Length, "length")).Then<FormResult>(length =>
                {
                    if (length > ends.To - ends.From + Tolerances.KernelLength)
                    {
                        return new Refusal(
                            "thread.too-long",
                            $"The thread, {site.Show(length)}, is longer than its face, {site.Show(ends.To - ends.From)}.",
                            "length"
                        );
                    }

                    var axis = Flip
                        ? new Line3(cylinder.Axis.At(ends.To), -cylinder.Axis.Direction)
                        : new Line3(cylinder.Axis.At(ends.From), cylinder.Axis.Direction);
                    return Modelled
                        ? ThreadGroove
                            .Cut(site, Id, body, thread, new RoundFace(axis, cylinder.Radius, outside), length)
                            .Map<FormResult>(now => new BodiesResult([new ChangedBody(body.Name, now)]))
                        : new BodiesResult([]) { Threads = [DrawnThread.On(axis, cylinder.Radius, outside, length, thread.Pitch)] };
                });
            });
    }

    /// <summary>Where a round face begins and ends along its axis, by the vertices and edges about it.</summary>
    private static (double From, double To) Ends(FormBody body, int face, Line3 axis)
    {
        var along = body
            .Topology.Edges.Where(e => e.Faces.Contains(face))
            .Select(ShapeNumbers.CurveOf)
            .OfType<SpaceCurve>()
            .SelectMany(c => Enumerable.Range(0, 9).Select(i => axis.Along(c.At(c.From + ((c.To - c.From) * i / 8)))))
            .ToList();
        return (along.Min(), along.Max());
    }
}
