using System.Collections.Immutable;
using System.Text.Json.Serialization;

namespace Ratiogon.Core.Sketches;

/// <summary>A rule between entities.</summary>
/// <param name="Id">Unique in the sketch.</param>
/// <param name="Kind">A name of <see cref="ConstraintCatalog"/>.</param>
/// <param name="Of">The entities it ties.</param>
public sealed record SketchConstraint(string Id, string Kind, ImmutableArray<string> Of)
{
    /// <summary>Of copies: how many entities one instance holds.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public int Each { get; init; }

    /// <summary>Of copies in a grid: how many instances stand in a row.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public int Columns { get; init; }

    /// <summary>Of copies about a point: degrees from one to the next.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public double Step { get; init; }

    /// <summary>Of copies: the numbers of instances that are left out or go their own way, counted from the original's 0.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public ImmutableArray<int> Out { get; init; }

    /// <summary>Whether an instance is left out.</summary>
    public bool Leaves(int instance) => !Out.IsDefault && Out.Contains(instance);

    public bool Equals(SketchConstraint? other) =>
        other is not null
        && Id == other.Id
        && Kind == other.Kind
        && Each == other.Each
        && Columns == other.Columns
        && Step == other.Step
        && Of.AsSpan().SequenceEqual(other.Of.AsSpan())
        && Out.AsSpan().SequenceEqual(other.Out.AsSpan());

    public override int GetHashCode() => HashCode.Combine(Id, Kind, Of.Length);
}

/// <summary>A size in a sketch.</summary>
/// <param name="Id">Unique in the sketch.</param>
/// <param name="Kind">A name of <see cref="DimensionCatalog"/>.</param>
/// <param name="Of">The entities it measures.</param>
/// <param name="Value">The formula of a driving dimension; null for a reference dimension, which only reads.</param>
public sealed record SketchDimension(string Id, string Kind, ImmutableArray<string> Of, string? Value = null)
{
    /// <summary>Where its text stands on the sketch plane; by default it is placed beside what it measures.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public Vec2? TextAt { get; init; }

    public bool Driving => Value is not null;

    /// <summary>The value that drives it, in millimetres or radians; null where none does.</summary>
    /// <param name="values">Values of driving dimensions by their ids.</param>
    public double? ValueIn(IReadOnlyDictionary<string, double> values) => Driving && values.TryGetValue(Id, out var value) ? value : null;

    public bool Equals(SketchDimension? other) =>
        other is not null
        && Id == other.Id
        && Kind == other.Kind
        && Value == other.Value
        && TextAt == other.TextAt
        && Of.AsSpan().SequenceEqual(other.Of.AsSpan());

    public override int GetHashCode() => HashCode.Combine(Id, Kind, Value, Of.Length);
}

/// <summary>Entities that were made together and are spoken of together: a rectangle, a slot, a polygon, a pattern.</summary>
/// <param name="Id">Unique in the sketch; its members' ids begin with it.</param>
/// <param name="Kind">A name of <see cref="ShapeCatalog"/>.</param>
public sealed record SketchShape(string Id, string Kind)
{
    /// <summary>A formula for how many there are: sides of a polygon, instances of a ring, columns of a grid.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Count { get; init; }

    /// <summary>Of a grid: a formula for how many rows it has.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Rows { get; init; }

    /// <summary>Short form in files: the centre of a rectangle or circle. Gone once the shape is spelled out.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public Vec2? Centre { get; init; }

    /// <summary>Short form: the lower left corner of a rectangle.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public Vec2? Corner { get; init; }

    /// <summary>Short form: a formula.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Width { get; init; }

    /// <summary>Short form: a formula.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Height { get; init; }

    /// <summary>Short form: a formula.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Diameter { get; init; }
}

/// <summary>An immutable sketch: entities with their last solved positions, constraints and dimensions.</summary>
public sealed record Sketch
{
    public static readonly Sketch Empty = new();

    private static readonly Dictionary<string, SketchEntity> BuiltIn = new SketchEntity[]
    {
        new PointEntity(Origin, Vec2.Zero),
        new PointEntity("x-axis.end", new Vec2(1, 0)) { Construction = true },
        new PointEntity("y-axis.end", new Vec2(0, 1)) { Construction = true },
        new LineEntity(XAxis, Origin, "x-axis.end") { Construction = true },
        new LineEntity(YAxis, Origin, "y-axis.end") { Construction = true },
    }.ToDictionary(e => e.Id);

    private static readonly SketchEntity[] Own = [.. BuiltIn.Values];

    private Indexed? indexed;

    /// <summary>Id of the sketch's own origin, a point that never moves.</summary>
    public const string Origin = "origin";

    /// <summary>Id of the sketch's own x axis.</summary>
    public const string XAxis = "x-axis";

    /// <summary>Id of the sketch's own y axis.</summary>
    public const string YAxis = "y-axis";

    public ImmutableArray<SketchEntity> Entities { get; init; } = [];

    public ImmutableArray<SketchConstraint> Constraints { get; init; } = [];

    public ImmutableArray<SketchDimension> Dimensions { get; init; } = [];

    public ImmutableArray<SketchShape> Shapes { get; init; } = [];

    /// <summary>The origin, the axes and their ends: always there, never moving, not written to files.</summary>
    public static IReadOnlyCollection<SketchEntity> BuiltIns => BuiltIn.Values;

    public static bool IsBuiltIn(string id) => BuiltIn.ContainsKey(id);

    /// <summary>The entity of that id (the origin and the axes included), or null.</summary>
    public SketchEntity? Find(string id)
    {
        return Index.PlaceOf(id) is var place and >= 0 ? Entities[place] : BuiltIn.GetValueOrDefault(id);
    }

    /// <summary>The same sketch with its entities at other positions; which ids stand where is kept.</summary>
    /// <param name="entities">The entities, in the same order and with the same ids.</param>
    internal Sketch Moved(ImmutableArray<SketchEntity> entities) => this with { Entities = entities, indexed = new(entities, Index) };

    /// <summary>Which entity stands where.</summary>
    internal SketchIndex Index
    {
        get
        {
            if (indexed is not { } known || known.Of != Entities)
            {
                indexed = known = new(Entities, new SketchIndex(Entities));
            }

            return known.Index;
        }
    }

    /// <summary>The position of a point by its place, as <see cref="SketchIndex"/> has it.</summary>
    internal Vec2 At(int place) => ((PointEntity)(place < 0 ? Own[-1 - place] : Entities[place])).At;

    /// <summary>Below zero: the place of one of the sketch's own entities, counted down from -1; less than all of them for what is
    /// none.</summary>
    internal static int OwnPlace(string id) => -1 - (Array.FindIndex(Own, e => e.Id == id) is var at and >= 0 ? at : Own.Length);

    private sealed record Indexed(ImmutableArray<SketchEntity> Of, SketchIndex Index);

    /// <summary>The position of a point; asking for anything else is a defect.</summary>
    public Vec2 At(string point) =>
        Find(point) is PointEntity p ? p.At : throw new InvalidOperationException($"'{point}' is not a point of the sketch");

    /// <summary>The entities of the given ids; null where one is missing.</summary>
    public IReadOnlyList<SketchEntity>? FindAll(ImmutableArray<string> ids)
    {
        var found = new SketchEntity[ids.Length];
        for (var i = 0; i < ids.Length; i++)
        {
            if (Find(ids[i]) is not { } entity)
            {
                return null;
            }

            found[i] = entity;
        }

        return found;
    }

    /// <summary>Every id in use, so that new ones can be chosen. What stands before a dot counts as used too: while anything named
    /// <c>r1.…</c> lives, no other shape is called r1 and so no member of it can meet an id that is there.</summary>
    public HashSet<string> UsedIds()
    {
        var used = new HashSet<string>(BuiltIn.Keys, StringComparer.Ordinal);
        foreach (
            var id in Entities
                .Select(e => e.Id)
                .Concat(Constraints.Select(c => c.Id))
                .Concat(Dimensions.Select(d => d.Id))
                .Concat(Shapes.Select(s => s.Id))
        )
        {
            used.Add(id);
            for (var dot = id.IndexOf('.', StringComparison.Ordinal); dot > 0; dot = id.IndexOf('.', dot + 1))
            {
                used.Add(id[..dot]);
            }
        }

        return used;
    }

    public bool Equals(Sketch? other) =>
        other is not null
        && Entities.SequenceEqual(other.Entities)
        && Constraints.SequenceEqual(other.Constraints)
        && Dimensions.SequenceEqual(other.Dimensions)
        && Shapes.SequenceEqual(other.Shapes);

    public override int GetHashCode() => HashCode.Combine(Entities.Length, Constraints.Length, Dimensions.Length);
}
