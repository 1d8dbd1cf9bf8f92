using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Parts;

/// <summary>A datum plane parallel to another plane or a planar face, at a signed distance.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Number">Place in the build sheet.</param>
/// <param name="Name">As shown.</param>
/// <param name="From">A world plane, a plane step or a face.</param>
/// <param name="Distance">A formula; positive along the normal.</param>
public sealed record PlaneStep(string Id, int Number, string Name, string From, string Distance) : Step(Id, Number, Name)
{
    public override string Kind => "plane";

    public override IReadOnlyList<string> References => [From];

    public override IReadOnlyList<StepSize> Sizes => [new StepSize("distance", Distance, Dimension.OfLength, MayBeNegative: true)];

    public override Step WithSize(string field, string formula) => this with { Distance = formula };

    public override Refusal? Check() => string.IsNullOrWhiteSpace(From) ? new Refusal("step.reference", "A plane needs something to be parallel to.", "from") : null;
}
