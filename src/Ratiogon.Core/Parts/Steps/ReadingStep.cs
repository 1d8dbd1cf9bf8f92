using System.Collections.Immutable;

namespace Ratiogon.Core.Parts;

/// <summary>A measurement kept as a step.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Number">Place in the build sheet.</param>
/// <param name="Name">As shown.</param>
/// <param name="What">A name of <see cref="Gauging.ReadingCatalog"/>.</param>
/// <param name="Of">Faces, edges or vertices; none for readings of the whole part.</param>
public sealed record ReadingStep(string Id, int Number, string Name, string What, ImmutableArray<string> Of) : Step(Id, Number, Name)
{
    public override string Kind => "reading";

    public override IReadOnlyList<string> References => Of;

    public override IReadOnlyList<StepSize> Sizes => [];

    public override Step WithSize(string field, string formula) => this;

    public override Refusal? Check() => Gauging.ReadingCatalog.Check(What, Of);

    public bool Equals(ReadingStep? other) => other is not null && base.Equals(other) && What == other.What && Of.SequenceEqual(other.Of);

    public override int GetHashCode() => HashCode.Combine(Id, What, Of.Length);
}
