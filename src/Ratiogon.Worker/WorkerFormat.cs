using MessagePack;
using MessagePack.ImmutableCollection;
using MessagePack.Resolvers;
using StreamJsonRpc;

namespace Ratiogon.Worker;

/// <summary>How calls and results travel between server and worker: MessagePack, bytes as they are.</summary>
public static class WorkerFormat
{
    public static MessagePackSerializerOptions Options { get; } =
        MessagePackSerializerOptions.Standard.WithResolver(
            CompositeResolver.Create(ImmutableCollectionResolver.Instance, ContractlessStandardResolver.Instance)
        );

    /// <summary>Calls over a pipe, each with its length before it.</summary>
    /// <param name="pipe">Read and written; its owner closes it.</param>
    public static IJsonRpcMessageHandler Over(Stream pipe)
    {
        var formatter = new MessagePackFormatter();
        formatter.SetMessagePackSerializerOptions(Options);
        return new LengthHeaderMessageHandler(pipe, pipe, formatter);
    }
}
