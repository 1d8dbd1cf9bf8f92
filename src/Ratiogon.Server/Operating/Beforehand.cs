using Ratiogon.Server.Live;

namespace Ratiogon.Server.Operating;

/// <summary>
/// What a start does one after the other, begun at once beside it: that the server is there again soon after it ended. Whatever fails
/// here fails again where it is needed, and is told there.
/// </summary>
internal static class Beforehand
{
    public static void Begin(WebApplication app)
    {
        Beside(() => Task.FromResult(app.Services.GetServices<IHostedService>().Count()));
        Beside(() => Task.FromResult(((IEndpointRouteBuilder)app).DataSources.Sum(s => s.Endpoints.Count)));
        Beside(() => Rehearsal.OpenAsync(app.Services));
    }

    private static void Beside(Func<Task> what) => _ = Task.Run(what).ContinueWith(t => t.Exception, TaskScheduler.Default);
}
