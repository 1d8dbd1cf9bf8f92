using System.Collections.Immutable;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;

namespace Ratiogon.Core.Forms;

/// <summary>A body divided by a plane: below it keeps its name, above it becomes a body of its own.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Number">Place in the build sheet.</param>
/// <param name="Name">As shown.</param>
/// <param name="By">A plane, a planar face or a frame.</param>
[Kind("split")]
[FormTool(
    "Split",
    'k',
    "M2 8h4.500M9.500 8H14M8 3v2M8 11v2M6.500 6.500v3M9.500 6.500v3",
    Group = FormToolAttribute.CopiesAndBodies,
    Place = 130
)]
public sealed record SplitStep(string Id, int Number, string Name, string By) : FormStep(Id, Number, Name)
{
    /// <summary>A piece that is smaller than this share of the whole is none.</summary>
    private const double NoPiece = 1e-9;

    private static readonly FormFields<SplitStep> Described = new FormFields<SplitStep>()
        .Pick(
            "by",
            "Plane",
            PickKind.Plane,
            s => s.By,
            (s, v) => s with { By = v ?? "" },
            hint: "Pick the plane or planar face that divides it"
        )
        .Pick(
            "body",
            "Body",
            PickKind.Body,
            s => s.Body,
            (s, v) => s with { Body = v },
            optional: true,
            hint: "Pick the body to divide; with one body none is needed"
        )
        .Choice(
            "keep",
            "Kept",
            s => s.Keep,
            (s, v) => s with { Keep = v },
            [new("both", "both sides"), new("below", "the side behind the plane"), new("above", "the side in front")]
        );

    /// <summary>The body; where there is one only, none need be picked.</summary>
    public string? Body { get; init; }

    /// <summary>both, below or above.</summary>
    public string Keep { get; init; } = "both";

    public override string Kind => "split";

    public override ImmutableArray<FormField> Fields => Described.All;

    public override Refs? KeepsTo => Body is null ? null : [Body];

    public override Outcome<FormResult> Build(FormSite site) =>
        site.Plane(By)
            .Then(plane =>
                BodyOf(site)
                    .Then<FormResult>(body =>
                    {
                        var below = site.Kernel.Below(body.Solid, plane);
                        var above = below.Done ? site.Kernel.Below(body.Solid, plane.Flipped()) : below;
                        var whole = body.Mass.Volume;
                        if (!below.Done || !above.Done || site.Kernel.Mass(below.Value.Solid).Volume > whole * (1 - NoPiece))
                        {
                            return new Refusal(
                                "split.misses",
                                "The plane does not pass through the body: there is nothing to divide.",
                                "by"
                            );
                        }

                        var (low, high) = (Named(below.Value, body, plane, false), Named(above.Value, body, plane, Keep == "both"));
                        return new BodiesResult(
                            Keep switch
                            {
                                "below" => [new(body.Name, low)],
                                "above" => [new(body.Name, high)],
                                _ => [new(body.Name, low), new(Id, high)],
                            }
                        );
                    })
            );

    private Shaped Named(SolidResult made, FormBody body, Frame plane, bool other) =>
        Shaped.Of(
            made,
            Id,
            o =>
                o.Kind != OriginKind.Face
                    ? other
                        ? $"{Id}/cut/2"
                        : $"{Id}/cut"
                    : other
                        ? $"{Id}/of/{body.Shape.Bases[o.Index]}"
                        : body.Shape.Bases[o.Index],
            o => o.Kind != OriginKind.Face ? AxisGuide.Of(plane) : body.Shape.Guide(o.Index)
        );

    private Outcome<FormBody> BodyOf(FormSite site) =>
        Body is not null ? site.On(Body).Map(f => f.Body)
        : site.Bodies is [var only] ? only
        : new Refusal(
            "form.incomplete",
            site.Bodies.IsEmpty ? "There is no body to divide yet." : $"There are {site.Bodies.Length} bodies: pick the one to divide.",
            "body"
        );
}
