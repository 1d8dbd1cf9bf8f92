namespace Ratiogon.Server.Operating;

/// <summary>
/// What a start does one after the other, begun at once beside it: that the server is there again soon after it ended. Whatever fails
/// here fails again where it is needed, and is told there.
/// </summary>
internal static class Beforehand
{
    public static void Begin(WebApplication app)
    {
        Beside(() => app.Services.GetServices<IHostedService>().Count());
        Beside(() => ((IEndpointRouteBuilder)app).DataSources.Sum(s => s.Endpoints.Count));
    }

    private static void Beside(Func<int> what) => _ = Task.Run(what).ContinueWith(t => t.Exception, TaskScheduler.Default);
}
