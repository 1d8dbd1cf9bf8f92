using System.Collections;
using System.Runtime.CompilerServices;
using System.Text.Json;
using System.Text.Json.Serialization;

namespace Ratiogon.Core;

/// <summary>References in order, equal when they name the same; written as a plain array.</summary>
[CollectionBuilder(typeof(Refs), nameof(Of))]
[JsonConverter(typeof(RefsJson))]
public sealed class Refs : IReadOnlyList<string>, IEquatable<Refs>
{
    public static readonly Refs None = new([]);
    private readonly string[] items;

    private Refs(string[] items) => this.items = items;

    public int Count => items.Length;

    public string this[int index] => items[index];

    public static Refs Of(ReadOnlySpan<string> items) => items.IsEmpty ? None : new(items.ToArray());

    public static Refs Of(IEnumerable<string> items) => new([.. items]);

    /// <summary>With one more, or without it where it is there.</summary>
    public Refs Toggled(string item) => items.Contains(item) ? Of(items.Where(i => i != item)) : Of([.. items, item]);

    public bool Equals(Refs? other) => other is not null && items.AsSpan().SequenceEqual(other.items);

    public override bool Equals(object? obj) => Equals(obj as Refs);

    public override int GetHashCode() => items.Aggregate(items.Length, HashCode.Combine);

    public IEnumerator<string> GetEnumerator() => ((IEnumerable<string>)items).GetEnumerator();

    IEnumerator IEnumerable.GetEnumerator() => items.GetEnumerator();

    public override string ToString() => string.Join(", ", items);
}

/// <summary>Reads and writes references as an array of strings.</summary>
internal sealed class RefsJson : JsonConverter<Refs>
{
    public override Refs Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
        JsonSerializer.Deserialize<string[]>(ref reader, options) is { } items && items.All(i => i is not null)
            ? Refs.Of(items.AsSpan())
            : throw new JsonException("references are strings");

    public override void Write(Utf8JsonWriter writer, Refs value, JsonSerializerOptions options)
    {
        writer.WriteStartArray();
        foreach (var item in value)
        {
            writer.WriteStringValue(item);
        }

        writer.WriteEndArray();
    }
}
