using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;

namespace Ratiogon.Core.Forms;

/// <summary>Edges bevelled; a face stands for all its edges.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Number">Place in the build sheet.</param>
/// <param name="Name">As shown.</param>
/// <param name="Edges">Edges and faces.</param>
[Kind("chamfer")]
[FormTool("Chamfer", 'c', "M3 13V8l5-5h5M3 3h.010", Group = FormToolAttribute.EdgesAndFaces, Place = 80, Offered = OfferedWith.Edges)]
public sealed record ChamferStep(string Id, int Number, string Name, Refs Edges) : FormStep(Id, Number, Name)
{
    private static readonly FormFields<ChamferStep> Described = new FormFields<ChamferStep>()
        .Picks(
            "edges",
            "Edges",
            PickKind.Edge | PickKind.Face,
            s => s.Edges,
            (s, v) => s with { Edges = v },
            hint: "Pick edges to bevel, or a face for all its edges"
        )
        .Choice(
            "how",
            "Given by",
            s => s.How,
            (s, v) => s with { How = v },
            null,
            new(ChamferHow.Equal, "one size"),
            new(ChamferHow.TwoSizes, "two sizes"),
            new(ChamferHow.Angle, "size and angle")
        )
        .Length("size", "Size", s => s.Size, (s, v) => s with { Size = v })
        .Length("second", "Second size", s => s.Second, (s, v) => s with { Second = v }, s => s.How == ChamferHow.TwoSizes)
        .Angle("angle", "Angle", s => s.Angle, (s, v) => s with { Angle = v }, s => s.How == ChamferHow.Angle)
        .Flag("flip", "From the other face", s => s.Flip, (s, v) => s with { Flip = v }, s => s.How != ChamferHow.Equal)
        .Picks(
            "turned",
            "Turned edges",
            PickKind.Edge,
            s => s.Turned,
            (s, v) => s with { Turned = v },
            0,
            when: s => s.How != ChamferHow.Equal,
            hint: "Pick the edges on which the sizes change sides"
        );

    public ChamferHow How { get; init; }

    public string Size { get; init; } = "1 mm";

    public string? Second { get; init; }

    public string? Angle { get; init; }

    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool Flip { get; init; }

    /// <summary>Edges on which the sizes lie the other way round than on the rest.</summary>
    public Refs Turned { get; init; } = [];

    public override SizeUse UseOf(StepSize size) => base.UseOf(size) == SizeUse.Made ? SizeUse.Broken : SizeUse.Laid;

    public override string Kind => "chamfer";

    public override ImmutableArray<FormField> Fields => Described.All;

    public override string? Beginning(string field) =>
        field switch
        {
            "second" => "2 mm",
            "angle" => "30 deg",
            _ => null,
        };

    public override Refs? KeepsTo => Edges;

    public override Outcome<FormResult> Build(FormSite site) =>
        site.Length(Size, "size")
            .Then(size =>
                SecondOf(site)
                    .Then(second =>
                        EdgePicks
                            .On(site, Edges)
                            .Then(picked =>
                                TurnedOf(site, picked)
                                    .Then<FormResult>(turned =>
                                    {
                                        Outcome<SolidResult> Bevelled(
                                            FormBody body,
                                            IReadOnlyList<(int Edge, int Picked)> edges,
                                            double share = 1
                                        ) =>
                                            site.Kernel.Chamfer(
                                                body.Solid,
                                                [
                                                    .. edges.Select(e => new BevelledEdge(
                                                        e.Edge,
                                                        FirstFace(
                                                            body,
                                                            e.Edge,
                                                            picked.Sides.TryGetValue(e.Picked, out var side)
                                                                ? picked.Body.Names.Faces[side]
                                                                : null,
                                                            turned.Contains(e.Picked)
                                                        )
                                                    )),
                                                ],
                                                How,
                                                size * share,
                                                How == ChamferHow.Angle ? second : second * share
                                            );
                                        var made = EdgePicks.Change(site, Id, "bevel", picked, (body, edges) => Bevelled(body, edges));
                                        if (made.Done)
                                        {
                                            return made;
                                        }

                                        var guilty = EdgePicks.Standing(picked.Edges, edges =>
                                            Bevelled(picked.Body, [.. edges.Select(e => (e, e))]).Done
                                        );
                                        var where =
                                            guilty.Count == 0
                                                ? "where the edges meet"
                                                : $"at {site.Show(EdgePicks.Place(picked, guilty[0]))}";
                                        var fitting = LargestThatFits.Below(size, s =>
                                            Bevelled(picked.Body, [.. picked.Edges.Select(e => (e, e))], s / size).Done
                                        );
                                        var most =
                                            fitting <= size * 0.002 ? ""
                                            : How == ChamferHow.TwoSizes
                                                ? $" About {site.Show(fitting)} with "
                                                    + $"{site.Show(second * fitting / size)} is the largest of its kind that fits"
                                                    + $"{EdgePicks.All(picked.Edges.Length)}."
                                            : $" About {site.Show(fitting)} is the largest that fits{EdgePicks.All(picked.Edges.Length)}.";
                                        return new Refusal(
                                            "chamfer.too-large",
                                            $"A bevel of {site.Show(size)} does not fit {where}: the faces beside it "
                                                + $"are narrower than that.{most}",
                                            "size"
                                        )
                                        {
                                            Involved = [.. guilty.Select(e => picked.Body.Names.Edges[e])],
                                            // Of two sizes the other would have to go down as well.
                                            Fits = most.Length > 0 && How != ChamferHow.TwoSizes ? site.Fitting(fitting) : null,
                                        };
                                    })
                            )
                    )
            );

    private Outcome<ImmutableArray<int>> TurnedOf(FormSite site, EdgePicks picked) =>
        Turned.Count == 0 || How == ChamferHow.Equal
            ? ImmutableArray<int>.Empty
            : EdgePicks
                .On(site, Turned)
                .Then<ImmutableArray<int>>(t =>
                    t.Body == picked.Body && t.Edges.All(picked.Edges.Contains)
                        ? t.Edges
                        : new Refusal("chamfer.turned", "Only edges that are bevelled can be turned.", "turned")
                );

    private Outcome<double> SecondOf(FormSite site) =>
        How switch
        {
            ChamferHow.TwoSizes => site.Length(Second, "second"),
            ChamferHow.Angle => site.Angle(Angle, "angle")
                .Then<double>(a =>
                    a is > 0.001 and < (Math.PI / 2) - 0.001
                        ? a
                        : new Refusal("chamfer.angle", $"The angle lies between 0 and 90 deg, not at {FormSite.Degrees(a)}.", "angle")
                ),
            _ => 0.0,
        };

    /// <summary>The face that the first size lies on: the picked one, and of an edge that was picked by itself the face of the
    /// earlier name: rules that do not change when the body is built anew.</summary>
    private int FirstFace(FormBody body, int edge, string? side, bool turned)
    {
        var faces = body
            .Topology.Edges[edge]
            .Faces.OrderBy(f => body.Names.Faces[f] == side ? 0 : 1)
            .ThenBy(f => body.Names.Faces[f], StringComparer.Ordinal)
            .ToList();
        return Flip != turned ? faces[^1] : faces[0];
    }
}
