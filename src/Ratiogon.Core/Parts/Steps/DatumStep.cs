using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Ratiogon.Core.Datums;
using Ratiogon.Core.Kernel;

namespace Ratiogon.Core.Parts.Steps;

/// <summary>A plane, axis, point or frame that follows what it stands on.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Number">Place in the build sheet.</param>
/// <param name="Name">As shown.</param>
/// <param name="Conditions">What determines it, in the order picked.</param>
public abstract record DatumStep(string Id, int Number, string Name, ImmutableArray<DatumCondition> Conditions) : Step(Id, Number, Name)
{
    /// <summary>The label of the chosen solution, where there are several; null takes the first.</summary>
    public string? Choice { get; init; }

    /// <summary>Whether the normal, or the direction, points the other way.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool Flip { get; init; }

    /// <summary>What it is.</summary>
    public abstract DatumKind Makes { get; }

    public override string Kind => Makes.ToString().ToLowerInvariant();

    public override IReadOnlyList<string> References => [.. Conditions.SelectMany(c => c.Of).SelectMany(World.Single)];

    public override IReadOnlyList<StepSize> Sizes =>
        [.. Fields().Select(f => new StepSize(f.Name, Conditions[f.Condition].Values[f.Value], f.Field.Kind, MayBeNegative: true))];

    public override Step WithSize(string field, string formula) =>
        Fields().FirstOrDefault(f => f.Name == field) is { Name: not null } at
            ? this with
            {
                Conditions = Conditions.SetItem(
                    at.Condition,
                    Conditions[at.Condition] with
                    {
                        Values = Conditions[at.Condition].Values.SetItem(at.Value, formula),
                    }
                ),
            }
            : this;

    public override Refusal? Check() =>
        Conditions.IsDefaultOrEmpty
            ? new Refusal("datum.empty", $"A {Kind} needs something that determines it.", "conditions")
            : Conditions.Select(c => c.Check(Makes)).FirstOrDefault(r => r is not null);

    /// <summary>The values with names that are unique in the step.</summary>
    internal IEnumerable<(string Name, int Condition, int Value, RelationField Field)> Fields()
    {
        var taken = new HashSet<string>(StringComparer.Ordinal);
        for (var i = 0; i < Conditions.Length; i++)
        {
            var fields = RelationCatalog.Find(Makes, Conditions[i].Relation)?.Fields ?? [];
            for (var k = 0; k < fields.Length && k < Conditions[i].Values.Length; k++)
            {
                var name = fields[k].Name;
                for (var n = 2; !taken.Add(name); n++)
                {
                    name = $"{fields[k].Name} {n}";
                }

                yield return (name, i, k, fields[k]);
            }
        }
    }

    public virtual bool Equals(DatumStep? other) =>
        other is not null
        && base.Equals(other)
        && Conditions.AsSpan().SequenceEqual(other.Conditions.AsSpan())
        && Choice == other.Choice
        && Flip == other.Flip;

    public override int GetHashCode() => HashCode.Combine(Id, Conditions.Length, Choice, Flip);
}

[Kind("plane")]
public sealed record PlaneStep(string Id, int Number, string Name, ImmutableArray<DatumCondition> Conditions)
    : DatumStep(Id, Number, Name, Conditions)
{
    public override DatumKind Makes => DatumKind.Plane;

    /// <summary>A plane parallel to another at a signed distance.</summary>
    public static PlaneStep Offset(string id, int number, string name, string from, string distance) =>
        new(id, number, name, [new DatumCondition("offset", [from]) { Values = [distance] }]);
}

[Kind("axis")]
public sealed record AxisStep(string Id, int Number, string Name, ImmutableArray<DatumCondition> Conditions)
    : DatumStep(Id, Number, Name, Conditions)
{
    public override DatumKind Makes => DatumKind.Axis;
}

[Kind("point")]
public sealed record PointStep(string Id, int Number, string Name, ImmutableArray<DatumCondition> Conditions)
    : DatumStep(Id, Number, Name, Conditions)
{
    public override DatumKind Makes => DatumKind.Point;
}

[Kind("frame")]
public sealed record FrameStep(string Id, int Number, string Name, ImmutableArray<DatumCondition> Conditions)
    : DatumStep(Id, Number, Name, Conditions)
{
    public override DatumKind Makes => DatumKind.Frame;
}
