using System.Reflection;
using Microsoft.AspNetCore.SignalR;
using Ratiogon.Server.Safety;

namespace Ratiogon.Server.Live;

/// <summary>What every call of a live method goes through: none is made with null where it takes a text, and a defect reaches the log as
/// what it is, and the caller in words.</summary>
internal sealed partial class LiveCalls(ILogger<LiveCalls> log) : IHubFilter
{
    public const string Defect = "Something went wrong inside, and nothing was changed.";

    public async ValueTask<object?> InvokeMethodAsync(
        HubInvocationContext invocationContext,
        Func<HubInvocationContext, ValueTask<object?>> next
    )
    {
        var parameters = invocationContext.HubMethod.GetParameters();
        for (var i = 0; i < parameters.Length && i < invocationContext.HubMethodArguments.Count; i++)
        {
            if (
                invocationContext.HubMethodArguments[i] is null
                && parameters[i].ParameterType == typeof(string)
                && new NullabilityInfoContext().Create(parameters[i]).WriteState == NullabilityState.NotNull
            )
            {
                throw new HubException($"'{parameters[i].Name}' is missing.");
            }
        }

        try
        {
            return await next(invocationContext);
        }
        catch (Exception e) when (Away.Is(e))
        {
            throw new HubException(Away.Of(e).Message);
        }
        catch (Exception e) when (e is not (HubException or OperationCanceledException))
        {
            LogDefect(log, e, invocationContext.HubMethodName);
            throw new HubException(Defect);
        }
    }

    [LoggerMessage(LogLevel.Error, "The live method {Method} met a defect")]
    private static partial void LogDefect(ILogger log, Exception defect, string method);
}
