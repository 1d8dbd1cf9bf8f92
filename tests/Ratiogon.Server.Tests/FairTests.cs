using System.Diagnostics;
using System.Net;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.TestHost;

namespace Ratiogon.Server.Tests;

/// <summary>Nine heavy parts of one account, built at once: another's light part is built meanwhile as if they were not there.</summary>
public class FairTests
{
    private const int Parts = 9;

    /// <summary>What is solved in the server's own process has a bound as well: refused, and nothing is changed.</summary>
    [Fact]
    public async Task An_edit_that_would_take_too_long_is_refused()
    {
        await using var server = await ServerProcess.StartAsync(demo: false, new() { ["Live__Solving"] = "00:00:00.0000010" });
        await using var client = await Client.SignedUpAsync(server);
        var id = await client.NewPartAsync();
        await client.DoAsync(id, Commands.Plate[0]);
        var before = (await client.PartAsync(id)).ToJsonString();
        var answer = await client.SendAsync(id, Commands.Plate[1]);
        answer.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await Client.CodeAsync(answer)).ShouldBe("command.too-long");
        (await client.PartAsync(id)).ToJsonString().ShouldBe(before);
        await client.DoAsync(id, new SetParameter("a", "1 mm"));
    }

    [Fact]
    public async Task Heavy_parts_of_one_account_do_not_hold_up_another()
    {
        await using var server = await ServerProcess.StartAsync(demo: false);
        await using var heavy = await Client.SignedUpAsync(server);
        await using var light = await Client.SignedUpAsync(server);

        // The light part's worker is there, as it is on a server that runs.
        var plate = await light.NewPartAsync();
        await light.DoAsync(plate, Commands.Plate);
        var (_, models) = await light.OpenAsync(plate);
        await Client.ModelAsync(models, (long)(await light.PartAsync(plate))["revision"]!);

        var ids = new List<string>();
        for (var i = 0; i < Parts; i++)
        {
            ids.Add(await heavy.NewPartAsync($"Heavy {i}"));
        }

        await Task.WhenAll(ids.Select(id => heavy.DoAsync(id, [.. Commands.Plate, .. Commands.ManyHoles(14, 14)])));
        await Task.WhenAll(ids.Select(id => heavy.SendAsync(id, new SetSize("plate", "length", "11 mm"))));

        // Another's edits while they are built.
        var times = new List<double>();
        for (var i = 0; i < 4; i++)
        {
            var clock = Stopwatch.StartNew();
            (await light.SendAsync(plate, new SetSize("plate", "length", $"{13 + i} mm"))).EnsureSuccessStatusCode();
            await Client.ModelAsync(models, (long)(await light.PartAsync(plate))["revision"]!);
            times.Add(clock.Elapsed.TotalSeconds);
        }

        // Not a benchmark: with turns in order of arrival it would wait for all of them.
        times.Max().ShouldBeLessThan(15, $"{string.Join(", ", times.Select(t => $"{t:0.0}"))} s");
        TestContext.Current.TestOutputHelper?.WriteLine(string.Join(", ", times.Select(t => $"{t:0.00} s")));
        await Task.WhenAll(ids.Select(id => heavy.Http.GetAsync($"/api/parts/{id}/holes")));
        (await Task.WhenAll(ids.Select(id => heavy.Http.GetAsync($"/api/parts/{id}/mass")))).ShouldAllBe(a => a.IsSuccessStatusCode);
    }
}
