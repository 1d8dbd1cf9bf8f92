using Ratiogon.Core.Tools.Gauges;

namespace Ratiogon.Server.Live;

/// <summary>The measuring tool.</summary>
public sealed partial class LiveHub
{
    /// <summary>Which parameters and sizes move a reading, by its id.</summary>
    public async Task<DrivesMessage> Drives(string reading)
    {
        var session = Session();
        await session.SettledAsync();
        var told = await session.DrivesAsync(reading ?? "");
        return told.Done ? DrivesMessage.Of(told.Value) : DrivesMessage.Refused(told.Refusal!.Message);
    }

    /// <summary>Does one thing to a draft of a measurement; draft and input are JSON, and so is the answer, a
    /// <see cref="GaugeAnswer"/> or a refusal.</summary>
    public async Task<string?> Gauge(string draft, string? input)
    {
        if (Read<GaugeDraft>(draft) is null || (input is not null && Read<GaugeInput>(input) is null))
        {
            return null;
        }

        var session = Session();
        await session.SettledAsync();
        var answer = await session.GaugeAsync(draft, input);
        return answer.Done ? answer.Value : Json(new { refusal = answer.Refusal!.Message });
    }
}
