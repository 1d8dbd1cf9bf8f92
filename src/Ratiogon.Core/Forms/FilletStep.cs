using System.Collections.Immutable;
using Ratiogon.Core.Geometry;

namespace Ratiogon.Core.Forms;

/// <summary>Edges rounded with one radius; a face stands for all its edges.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Number">Place in the build sheet.</param>
/// <param name="Name">As shown.</param>
/// <param name="Edges">Edges and faces.</param>
public sealed record FilletStep(string Id, int Number, string Name, Refs Edges) : FormStep(Id, Number, Name)
{
    private static readonly FormFields<FilletStep> Described = new FormFields<FilletStep>()
        .Picks("edges", "Edges", PickKind.Edge | PickKind.Face, s => s.Edges, (s, v) => s with { Edges = v }, hint: "Pick edges to round, or a face for all its edges")
        .Length("radius", "Radius", s => s.Radius, (s, v) => s with { Radius = v });

    public string Radius { get; init; } = "2 mm";

    public override string Kind => "fillet";

    public override ImmutableArray<FormField> Fields => Described.All;

    public override Refs? KeepsTo => Edges;

    public override Outcome<FormResult> Build(FormSite site) => site.Length(Radius, "radius").Then(r => EdgePicks.On(site, Edges).Then(picked =>
        EdgePicks.Change(site, Id, "round", picked, edges => site.Kernel.Fillet(picked.Body.Solid, [.. edges.Select(e => (e, r))])) is { Done: true } made ? made
            : (Outcome<FormResult>)Largest(site, picked, r)));

    /// <summary>Why the radius does not fit, with the edge and the largest that does.</summary>
    private static Refusal Largest(FormSite site, EdgePicks picked, double radius)
    {
        bool Fits(IEnumerable<int> edges, double r) => site.Kernel.Fillet(picked.Body.Solid, [.. edges.Select(e => (e, r))]) is { Done: true } made && Sound(site, picked, made.Value);
        var guilty = picked.Edges.Where(e => !Fits([e], radius)).ToList();
        var (low, high) = (0.0, radius);
        for (var i = 0; i < 10; i++)
        {
            var middle = (low + high) / 2;
            (low, high) = Fits(picked.Edges, middle) ? (middle, high) : (low, middle);
        }

        var where = guilty.Count == 0 ? "where the edges meet" : $"at {site.Show(EdgePicks.Place(picked, guilty[0]))}";
        return new Refusal("fillet.too-large", low > radius * 0.002
            ? $"A radius of {site.Show(radius)} does not fit {where}: the faces beside it are too narrow. About {site.Show(Math.Floor(low * 100) / 100)} is the largest that fits all {picked.Edges.Length}."
            : $"The edges cannot be rounded {where}: the faces there meet too flatly or end too soon.", "radius")
        { Involved = [.. guilty.Select(e => picked.Body.Names.Edges[e])] };
    }

    private static bool Sound(FormSite site, EdgePicks picked, SolidResult made) => site.Kernel.Mass(made.Solid).Volume > 0.01 * picked.Body.Mass(site.Kernel).Volume;
}
