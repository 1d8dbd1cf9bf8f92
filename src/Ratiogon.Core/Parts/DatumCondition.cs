using System.Collections.Immutable;
using Ratiogon.Core.Datums;

namespace Ratiogon.Core.Parts;

/// <summary>A condition of a datum as it is kept: how it stands to what was picked.</summary>
/// <param name="Relation">A name of <see cref="RelationCatalog"/>.</param>
/// <param name="Of">References: faces, edges, vertices, sketch entities, datums, parts of the world frame;
/// a path over several edges is their names with <c> + </c> between them.</param>
public sealed record DatumCondition(string Relation, ImmutableArray<string> Of)
{
    /// <summary>A formula for each field of the relation.</summary>
    public ImmutableArray<string> Values { get; init; } = [];

    /// <summary>What is wrong with it by itself, or null.</summary>
    public Refusal? Check(DatumKind kind)
    {
        if (RelationCatalog.Find(kind, Relation) is not { } relation)
        {
            return new Refusal(
                "datum.relation",
                $"There is no relation '{Ids.Shorten(Relation)}' for a {kind.ToString().ToLowerInvariant()}.",
                "relation"
            );
        }

        return Of.IsDefault || Of.Length != relation.Things
                ? new Refusal("datum.picks", $"'{relation.Words}' takes {relation.Things} pick(s).", "of")
            : Values.IsDefault || Values.Length != relation.Fields.Length
                ? new Refusal(
                    "datum.values",
                    $"'{relation.Words}' takes {relation.Fields.Length} value(s): "
                        + $"{string.Join(", ", relation.Fields.Select(f => f.Name))}.",
                    "values"
                )
            : null;
    }

    public bool Equals(DatumCondition? other) =>
        other is not null
        && Relation == other.Relation
        && Of.AsSpan().SequenceEqual(other.Of.AsSpan())
        && Values.AsSpan().SequenceEqual(other.Values.AsSpan());

    public override int GetHashCode() => HashCode.Combine(Relation, Of.Length, Values.Length);
}
