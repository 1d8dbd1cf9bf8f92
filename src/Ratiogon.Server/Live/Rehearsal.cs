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
    public static async Task RunAsync(IServiceProvider services)
    {
        var part = MotorPlate.Build();
        var bytes = JsonSerializer.SerializeToUtf8Bytes(part, PartJson.Compact);
        await services.GetRequiredService<PartStore>().LoadAsync(Guid.Empty);
        await services.GetRequiredService<Keeper>().FindAsync(Guid.Empty, bytes);
        var built = await services
            .GetRequiredService<WorkerPool>()
            .RunAsync(Guid.Empty, worker => worker.RebuildAsync(bytes, oneByOne: false));
        var result = MessagePackSerializer.Deserialize<RebuildResult>(built, WorkerFormat.Options);
        MessagePackSerializer.Serialize(RebuiltMessage.Of(part, 1, KeptModel.Unpack(KeptModel.Pack(built)) ?? result));
        JsonSerializer.Serialize(PartSnapshot.Of(new StoredPart(Guid.Empty, Guid.Empty, part, 1, default, [], [])), PartJson.Compact);
    }
}
