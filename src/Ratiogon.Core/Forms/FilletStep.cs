using System.Collections.Immutable;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;

namespace Ratiogon.Core.Forms;

/// <summary>Edges rounded with one radius; a face stands for all its edges.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Number">Place in the build sheet.</param>
/// <param name="Name">As shown.</param>
/// <param name="Edges">Edges and faces.</param>
[Kind("fillet")]
[FormTool(
    "Fillet",
    'i',
    "M3 13V8a5 5 0 0 1 5-5h5M3 3h.010",
    Group = FormToolAttribute.EdgesAndFaces,
    Place = 70,
    Offered = OfferedWith.Edges
)]
public sealed record FilletStep(string Id, int Number, string Name, Refs Edges) : FormStep(Id, Number, Name)
{
    private static readonly FormFields<FilletStep> Described = new FormFields<FilletStep>()
        .Picks(
            "edges",
            "Edges",
            PickKind.Edge | PickKind.Face,
            s => s.Edges,
            (s, v) => s with { Edges = v },
            hint: "Pick edges to round, or a face for all its edges"
        )
        .Length("radius", "Radius", s => s.Radius, (s, v) => s with { Radius = v });

    public string Radius { get; init; } = "2 mm";

    public override SizeUse UseOf(StepSize size) => base.UseOf(size) == SizeUse.Made ? SizeUse.Broken : SizeUse.Laid;

    public override string Kind => "fillet";

    public override ImmutableArray<FormField> Fields => Described.All;

    public override Refs? KeepsTo => Edges;

    public override Outcome<FormResult> Build(FormSite site) =>
        site.Length(Radius, "radius")
            .Then(r =>
                EdgePicks
                    .On(site, Edges)
                    .Then(picked =>
                        EdgePicks.Change(site, Id, "round", picked, (body, edges) =>
                            site.Kernel.Fillet(body.Solid, [.. edges.Select(e => new RoundedEdge(e.Edge, r))])
                        )
                            is { Done: true } made
                            ? made
                            : (Outcome<FormResult>)Largest(site, picked, r)
                    )
            );

    /// <summary>Why the radius does not fit, with the edges that stand in the way and the largest that does.</summary>
    private static Refusal Largest(FormSite site, EdgePicks picked, double radius)
    {
        bool Fits(IEnumerable<int> edges, double r) =>
            site.Kernel.Fillet(picked.Body.Solid, [.. edges.Select(e => new RoundedEdge(e, r))]).Done;
        var guilty = EdgePicks.Standing(picked.Edges, edges => Fits(edges, radius));

        // The few that stand in the way tell what fits; the whole is only tried at the end, a little smaller each time.
        var low = guilty.Count > 0 && guilty.Count < picked.Edges.Length ? LargestThatFits.Below(radius, r => Fits(guilty, r)) : 0;
        if (!(low > 0 && Fits(picked.Edges, low)))
        {
            low = LargestThatFits.Below(low > 0 ? low : radius, r => Fits(picked.Edges, r));
        }

        var where = guilty.Count == 0 ? "where the edges meet" : $"at {site.Show(EdgePicks.Place(picked, guilty[0]))}";
        return new Refusal(
            "fillet.too-large",
            low > radius * 0.002
                ? $"A radius of {site.Show(radius)} does not fit {where}: the faces beside it are too narrow. About "
                    + $"{site.Show(low)} is the largest that fits{EdgePicks.All(picked.Edges.Length)}."
                : $"The edges cannot be rounded {where}: the faces there meet too flatly or end too soon.",
            "radius"
        )
        {
            Involved = [.. guilty.Select(e => picked.Body.Names.Edges[e])],
            Fits = low > radius * 0.002 ? site.Fitting(low) : null,
        };
    }
}
