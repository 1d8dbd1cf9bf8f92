using System.Collections.Immutable;
using System.Text.Json;
using MessagePack;
using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Parts;
using Ratiogon.Worker;

namespace Ratiogon.Server.Cluster;

/// <summary>A value that is never changed, on its way between who owns a part and who asks: within one server the value itself, to
/// another one as bytes.</summary>
[Immutable]
internal sealed class Carried<T>(T value)
{
    public T Value { get; } = value;
}

/// <summary>A <see cref="Carried{T}"/> as bytes.</summary>
[GenerateSerializer]
internal struct CarriedBytes<T>
{
    [Id(0)]
    public byte[] Bytes;
}

[RegisterConverter]
internal sealed class CarriedConverter<T> : IConverter<Carried<T>, CarriedBytes<T>>
{
    public Carried<T> ConvertFromSurrogate(in CarriedBytes<T> surrogate) => new(Wire.Read<T>(surrogate.Bytes));

    public CarriedBytes<T> ConvertToSurrogate(in Carried<T> value) => new() { Bytes = Wire.Write(value.Value) };
}

/// <summary>A value or the refusal, on its way likewise; neither where the value is none.</summary>
[GenerateSerializer, Immutable]
internal sealed class Answer<T>
{
    [Id(0)]
    public Carried<T>? Value { get; init; }

    [Id(1)]
    public Carried<Refusal>? Refusal { get; init; }

    public Outcome<T> Outcome =>
        Refusal is { } refused ? refused.Value
        : Value is { } value ? value.Value
        : default(T)!;

    public static Answer<T> Of(Outcome<T> outcome) =>
        !outcome.Done ? new Answer<T> { Refusal = new(outcome.Refusal!) }
        : outcome.Value is null ? new Answer<T>()
        : new Answer<T> { Value = new(outcome.Value) };
}

/// <summary>How values are written between servers: bytes as they are, what workers answer as they write it, all else as JSON.</summary>
internal static class Wire
{
    private static readonly HashSet<Type> OfWorkers =
    [
        typeof(RebuildResult),
        typeof(ImmutableArray<Stretch>),
        typeof(DrivesReply),
        typeof(SectionAnswer),
    ];

    public static byte[] Write<T>(T value) =>
        value is byte[] bytes ? bytes
        : OfWorkers.Contains(typeof(T)) ? MessagePackSerializer.Serialize(value, WorkerFormat.Options)
        : JsonSerializer.SerializeToUtf8Bytes(value, PartJson.Compact);

    public static T Read<T>(byte[] bytes) =>
        bytes is T same ? same
        : OfWorkers.Contains(typeof(T)) ? MessagePackSerializer.Deserialize<T>(bytes, WorkerFormat.Options)
        : JsonSerializer.Deserialize<T>(bytes, PartJson.Compact)!;
}
