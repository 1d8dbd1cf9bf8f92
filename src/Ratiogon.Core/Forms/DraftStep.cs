using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Ratiogon.Core.Kernel;

namespace Ratiogon.Core.Forms;

/// <summary>Faces tilted for a mould, about where they meet a plane that stays.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Number">Place in the build sheet.</param>
/// <param name="Name">As shown.</param>
/// <param name="Faces">Faces to tilt.</param>
/// <param name="Neutral">The plane or planar face about which they tilt.</param>
[Kind("draft")]
[FormTool("Draft", 'd', "M5 3h6l2.500 10h-11zM8 1.500v13", Group = FormToolAttribute.EdgesAndFaces, Place = 100)]
public sealed record DraftStep(string Id, int Number, string Name, Refs Faces, string Neutral) : FormStep(Id, Number, Name)
{
    private static readonly FormFields<DraftStep> Described = new FormFields<DraftStep>()
        .Picks("faces", "Faces", PickKind.Face, s => s.Faces, (s, v) => s with { Faces = v }, hint: "Pick the faces to tilt")
        .Pick(
            "neutral",
            "About",
            PickKind.Plane,
            s => s.Neutral,
            (s, v) => s with { Neutral = v ?? "" },
            hint: "Pick the plane or planar face where their outline stays"
        )
        .Angle("angle", "Angle", s => s.Angle, (s, v) => s with { Angle = v }, negative: true)
        .Flag("flip", "Lean the other way", s => s.Flip, (s, v) => s with { Flip = v });

    public string Angle { get; init; } = "2 deg";

    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool Flip { get; init; }

    public override string Kind => "draft";

    public override ImmutableArray<FormField> Fields => Described.All;

    public override Refs? KeepsTo => Faces;

    public override Outcome<FormResult> Build(FormSite site) =>
        site.Angle(Angle, "angle")
            .Then(angle =>
                site.Plane(Neutral)
                    .Then(plane =>
                        FacePicks
                            .On(site, Faces, "faces")
                            .Then<FormResult>(picked =>
                            {
                                var (body, faces) = picked;
                                var flat = faces.FirstOrDefault(
                                    f => body.Topology.Faces[f].Plane is { } p && p.Z.Cross(plane.Z).Length < Tolerances.Angle,
                                    -1
                                );
                                if (flat >= 0)
                                {
                                    return new Refusal(
                                        "draft.parallel",
                                        $"'{body.Names.Faces[flat]}' is parallel to the plane it would tilt about.",
                                        "faces"
                                    );
                                }

                                Outcome<SolidResult> Leaning(double by) =>
                                    site.Kernel.Draft(body.Solid, faces, Flip ? plane.Flipped() : plane, by);
                                var made = Leaning(angle);
                                if (made.Done)
                                {
                                    return new BodiesResult([new ChangedBody(body.Name, Shaped.Of(made.Value, Id, [body.Shape]))]);
                                }

                                var degrees = Math.Abs(angle) * 180 / Math.PI;
                                var most = LargestThatFits.Below(degrees, d => Leaning(Math.Sign(angle) * d * Math.PI / 180).Done);
                                var said = FormSite.Degrees(Math.Sign(angle) * most * Math.PI / 180);
                                return new Refusal(
                                    "draft.impossible",
                                    $"The faces cannot lean by {FormSite.Degrees(angle)}: one of them is rounded off, "
                                        + "free-form, or would meet another before it ends."
                                        + (most > degrees * 0.002 ? $" About {said} is the most that they can." : ""),
                                    "angle"
                                )
                                {
                                    Fits = most > degrees * 0.002 ? FormSite.FittingAngle(Math.Sign(angle) * most * Math.PI / 180) : null,
                                };
                            })
                    )
            );
}
