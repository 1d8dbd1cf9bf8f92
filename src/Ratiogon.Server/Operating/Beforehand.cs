using Ratiogon.Server.Live;

namespace Ratiogon.Server.Operating;

/// <summary>
/// What a start does one after the other, begun at once beside it: that the server is there again soon after it ended. Whatever fails
/// here fails again where it is needed, and is told there.
/// </summary>
internal static class Beforehand
{
    /// <returns>Over when a part was opened once, or could not be, as on a database that has no tables yet.</returns>
    public static Task Begin(WebApplication app)
    {
        _ = Beside(() => Task.FromResult(app.Services.GetServices<IHostedService>().Count()));
        _ = Beside(() => Task.FromResult(((IEndpointRouteBuilder)app).DataSources.Sum(s => s.Endpoints.Count)));
        return Beside(() => Rehearsal.OpenAsync(app.Services));
    }

    private static async Task Beside(Func<Task> what) => await Task.Run(what).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
}
