using System.Text.Json;
using MessagePack;
using Ratiogon.Core.Building;
using Ratiogon.Core.Demo;
using Ratiogon.Core.Parts;
using Ratiogon.Server.Parts;
using Ratiogon.Server.Workers;
using Ratiogon.Store;
using Ratiogon.Worker;

namespace Ratiogon.Server.Live;

/// <summary>Goes once through what opening a part takes of this process, so that the first who opens one does not wait until it is
/// compiled.</summary>
internal static class Rehearsal
{
    private static readonly TimeSpan Moment = TimeSpan.FromSeconds(1);

    private static readonly Part Played = MotorPlate.Build();

    private static readonly byte[] Bytes = JsonSerializer.SerializeToUtf8Bytes(Played, PartJson.Compact);

    /// <summary>Opens a part, without what needs a worker.</summary>
    public static async Task OpenAsync(IServiceProvider services)
    {
        JsonSerializer.Serialize(PartSnapshot.Of(new StoredPart(Guid.Empty, Guid.Empty, Played, 1, default, [], [])), PartJson.Compact);
        await services.GetRequiredService<PartStore>().LoadAsync(Guid.Empty, Guid.Empty);
        await services.GetRequiredService<Keeper>().FindAsync(Guid.Empty, Bytes);
    }

    /// <summary>The rest, which needs one. Who was there before the server ended comes back within a moment of its start and has the
    /// machine until then.</summary>
    /// <param name="services">Where all is.</param>
    /// <param name="opened">Over when a part was opened.</param>
    public static async Task BuildAsync(IServiceProvider services, Task opened)
    {
        await Task.WhenAll(opened, Task.Delay(Moment));
        var built = await services
            .GetRequiredService<WorkerPool>()
            .RunAsync(Guid.Empty, worker => worker.RebuildAsync(Bytes, oneByOne: false));
        var result = MessagePackSerializer.Deserialize<RebuildResult>(built, WorkerFormat.Options);
        MessagePackSerializer.Serialize(RebuiltMessage.Of(Played, 1, KeptModel.Unpack(KeptModel.Pack(built)) ?? result));
    }
}
