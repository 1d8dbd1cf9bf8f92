using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Ratiogon.Core.Kernel;

namespace Ratiogon.Core.Forms;

/// <summary>A body made hollow, open where faces are picked.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Number">Place in the build sheet.</param>
/// <param name="Name">As shown.</param>
/// <param name="Open">Faces that are taken away.</param>
[Kind("shell")]
[FormTool("Shell", 'w', "M2.500 3v10h11V3h-2.500v7.500h-6V3z", Group = FormToolAttribute.EdgesAndFaces, Place = 90)]
public sealed record ShellStep(string Id, int Number, string Name, Refs Open) : FormStep(Id, Number, Name)
{
    private static readonly FormFields<ShellStep> Described = new FormFields<ShellStep>()
        .Picks(
            "open",
            "Open faces",
            PickKind.Face,
            s => s.Open,
            (s, v) => s with { Open = v },
            when: s => !s.Closed,
            hint: "Pick the faces that are to be open"
        )
        .Pick(
            "body",
            "Body",
            PickKind.Body,
            s => s.Body,
            (s, v) => s with { Body = v },
            when: s => s.Closed,
            hint: "Pick the body that is made hollow"
        )
        .Flag("closed", "No opening", s => s.Closed, (s, v) => s with { Closed = v })
        .Length("thickness", "Wall", s => s.Thickness, (s, v) => s with { Thickness = v })
        .Flag("outwards", "Wall outside", s => s.Outwards, (s, v) => s with { Outwards = v });

    /// <summary>Above so many, fewer walls are tried to find the thickest.</summary>
    private const int ManyFaces = 200;

    /// <summary>Whether it is hollow inside without an opening.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool Closed { get; init; }

    /// <summary>The body, where no face tells it.</summary>
    public string? Body { get; init; }

    public string Thickness { get; init; } = "2 mm";

    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool Outwards { get; init; }

    public override string Kind => "shell";

    public override ImmutableArray<FormField> Fields => Described.All;

    public override Refs? KeepsTo => Closed ? [Body ?? ""] : Open;

    public override Outcome<FormResult> Build(FormSite site) =>
        site.Length(Thickness, "thickness")
            .Then(t =>
                Picked(site)
                    .Then<FormResult>(picked =>
                    {
                        var (body, faces) = picked;
                        Outcome<Shaped> Walled(double thickness) =>
                            Hollowing.Make(site.Kernel, body, faces, Outwards ? thickness : -thickness, Id);
                        if (Walled(t) is { Done: true } made)
                        {
                            return new BodiesResult([new ChangedBody(body.Name, made.Value)]);
                        }

                        var most = LargestThatFits.Below(
                            t,
                            thickness => Walled(thickness).Done,
                            body.Topology.Faces.Length > ManyFaces ? 4 : 8
                        );
                        return new Refusal(
                            "shell.too-thick",
                            $"A wall of {site.Show(t)} does not fit: somewhere the body is thinner than two walls, or bends more "
                                + $"tightly.{(most > t * 0.002 ? $" About {site.Show(most)} is the thickest that fits." : "")}",
                            "thickness"
                        )
                        {
                            Fits = most > t * 0.002 ? site.Fitting(most) : null,
                        };
                    })
            );

    private Outcome<BodyFaces> Picked(FormSite site) =>
        Closed ? site.On(Body ?? "").Map(on => new BodyFaces(on.Body, [])) : FacePicks.On(site, Open, "open");
}
