using System.Net;
using System.Net.Http.Json;
using Microsoft.AspNetCore.SignalR;
using Microsoft.AspNetCore.SignalR.Client;
using Npgsql;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Server.Live;
using Ratiogon.TestHost;

namespace Ratiogon.Server.Tests;

/// <summary>A database that refuses every connection for a while: 503 with when to ask again, in words, and nothing lost or half
/// done.</summary>
public class AwayTests
{
    private static async Task OpenAsync(ServerProcess server, bool open)
    {
        var own = new NpgsqlConnectionStringBuilder(server.Database);
        await using var connection = new NpgsqlConnection(
            new NpgsqlConnectionStringBuilder(server.Database) { Database = "postgres", Pooling = false }.ToString()
        );
        await connection.OpenAsync();
        await using var command = connection.CreateCommand();
        command.CommandText = $"alter database {own.Database} allow_connections {open}";
        await command.ExecuteNonQueryAsync();
        command.CommandText = $"select pg_terminate_backend(pid) from pg_stat_activity where datname = '{own.Database}'";
        await command.ExecuteNonQueryAsync();
    }

    [Fact]
    public async Task While_the_database_is_away_nothing_is_lost_and_it_is_said()
    {
        await using var server = await ServerProcess.StartAsync(demo: false);
        await using var client = await Client.SignedUpAsync(server);
        var id = await client.NewPartAsync();
        await client.DoAsync(id, Commands.Plate);
        var (hub, models) = await client.OpenAsync(id);
        var revision = (long)(await client.PartAsync(id))["revision"]!;
        await Client.ModelAsync(models, revision);
        await OpenAsync(server, open: false);

        // A part that is live can still be looked at; what changes it, or asks the database, is answered in words.
        (await client.Http.GetAsync($"/api/parts/{id}")).StatusCode.ShouldBe(HttpStatusCode.OK);
        foreach (
            var answer in new[]
            {
                await client.SendAsync(id, new SetSize("plate", "length", "20 mm"), revision),
                await client.Http.GetAsync("/api/parts"),
                await client.Http.PostAsJsonAsync("/api/parts", new { name = "New" }),
                await client.StepAsync(id, "undo"),
                await client.Http.GetAsync($"/api/parts/{Guid.NewGuid()}"),
            }
        )
        {
            answer.StatusCode.ShouldBe(HttpStatusCode.ServiceUnavailable, await answer.Content.ReadAsStringAsync());
            ((string)(await Client.JsonAsync(answer))["detail"]!).ShouldContain("does not answer just now");
            (await Client.CodeAsync(answer)).ShouldBe("store.away");
        }

        (await client.Http.GetAsync("/api/parts")).Headers.RetryAfter!.Delta!.Value.TotalSeconds.ShouldBeInRange(1, 30);
        (await client.Http.GetAsync("/api/health")).StatusCode.ShouldBe(HttpStatusCode.ServiceUnavailable);

        // A tool that draws keeps what it has, and says why nothing was made of it.
        await hub.InvokeAsync<AnswerMessage>("StartTool", "outline", "line", Array.Empty<string>());
        async Task<AnswerMessage> ClickAsync(double x, double y) =>
            await hub.InvokeAsync<AnswerMessage>(
                "Input",
                new InputMessage
                {
                    Kind = "click",
                    X = x,
                    Y = y,
                    Reach = 0.5,
                }
            );
        await ClickAsync(5, 5);
        var refused = await ClickAsync(15, 9);
        refused.Refusal.ShouldNotBeNull().Code.ShouldBe("store.away");

        await OpenAsync(server, open: true);
        ((long)(await client.PartAsync(id))["revision"]!).ShouldBe(revision, "nothing was half done");
        var done = await client.SendAsync(id, new SetSize("plate", "length", "20 mm"), revision);
        done.StatusCode.ShouldBe(HttpStatusCode.OK, await done.Content.ReadAsStringAsync());
        (await Client.ModelAsync(models, revision + 1)).Bodies.Single().Volume.ShouldBe(80 * 50 * 20, 1e-9);
        server.Log.ShouldNotContain(l => l.StartsWith("crit:", StringComparison.Ordinal));
    }

    /// <summary>As the database answers when its disk is full: SQLSTATE 53100, at the edit log.</summary>
    [Fact]
    public async Task A_full_disk_is_said_and_what_was_kept_is_safe()
    {
        await using var server = await ServerProcess.StartAsync(demo: false);
        await using var client = await Client.SignedUpAsync(server);
        var id = await client.NewPartAsync();
        await client.DoAsync(id, Commands.Plate);
        var revision = (long)(await client.PartAsync(id))["revision"]!;
        async Task TellAsync(string sql)
        {
            await using var connection = new NpgsqlConnection(server.Database);
            await connection.OpenAsync();
            await using var command = connection.CreateCommand();
            command.CommandText = sql;
            await command.ExecuteNonQueryAsync();
        }

        await TellAsync(
            """
            create function no_room() returns trigger language plpgsql as $$
            begin raise exception 'could not extend file: No space left on device' using errcode = '53100'; end $$;
            create trigger no_room before insert on edits for each row execute function no_room();
            create trigger no_room before insert on parts for each row execute function no_room();
            """
        );
        foreach (
            var answer in new[]
            {
                await client.SendAsync(id, new SetSize("plate", "length", "20 mm"), revision),
                await client.Http.PostAsJsonAsync("/api/parts", new { name = "New" }),
            }
        )
        {
            answer.StatusCode.ShouldBe(HttpStatusCode.ServiceUnavailable);
            (await Client.CodeAsync(answer)).ShouldBe("store.full");
            ((string)(await Client.JsonAsync(answer))["detail"]!).ShouldContain("no room left on its disk");
            answer.Headers.RetryAfter.ShouldNotBeNull();
        }

        ((long)(await client.PartAsync(id))["revision"]!).ShouldBe(revision);
        await TellAsync("drop trigger no_room on edits; drop trigger no_room on parts");
        (await client.SendAsync(id, new SetSize("plate", "length", "20 mm"), revision)).StatusCode.ShouldBe(HttpStatusCode.OK);
    }
}
