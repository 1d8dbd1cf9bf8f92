using System.IO.Compression;
using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.TestHost;

namespace Ratiogon.Server.Tests;

/// <summary>What accounts keep and how they end: recovery, taking everything home, leaving, visitors, room.</summary>
public class AccountTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private readonly ServerProcess server = fixture.Server;

    private static string Address() => $"u{Guid.NewGuid():N}@ratiogon.example";

    private async Task<(Client Client, string Address, string Code)> SignedUpAsync()
    {
        var (client, address) = (new Client(server), Address());
        var answer = await Client.JsonAsync(
            await client.Http.PostAsJsonAsync("/api/account/sign-up", new { email = address, password = "moss nursery" })
        );
        return (client, address, (string)answer["code"]!);
    }

    private static Task<HttpResponseMessage> RecoverAsync(Client client, string email, string code, string next) =>
        client.Http.PostAsJsonAsync(
            "/api/account/recover",
            new
            {
                email,
                code,
                next,
            }
        );

    [Fact]
    public async Task The_code_lets_the_owner_in_once_and_ends_every_other_session()
    {
        var (client, address, code) = await SignedUpAsync();
        await using var lost = new Client(server);
        foreach (
            var (email, wrong) in new[]
            {
                (address, "00000-00000-00000-00000"),
                (Address(), code),
                (address, ""),
                (address, new string('0', 500)),
            }
        )
        {
            var refused = await RecoverAsync(lost, email, wrong, "otter lantern");
            refused.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
            ((string)(await Client.JsonAsync(refused))["detail"]!).ShouldBe(
                "Address and code do not fit together.",
                "the same whether there is such an account"
            );
        }

        (await RecoverAsync(lost, address, code, "short")).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        var taken = await RecoverAsync(lost, address, code.Replace("-", "", StringComparison.Ordinal).ToLowerInvariant(), "otter lantern");
        taken.StatusCode.ShouldBe(HttpStatusCode.OK, await taken.Content.ReadAsStringAsync());
        var another = (string)(await Client.JsonAsync(taken))["code"]!;
        another.ShouldNotBe(code);
        (await lost.Http.GetAsync("/api/parts")).StatusCode.ShouldBe(HttpStatusCode.OK);
        for (var tries = 0; (await client.Http.GetAsync("/api/parts")).StatusCode != HttpStatusCode.Unauthorized; tries++)
        {
            tries.ShouldBeLessThan(50, "the session before ends within five seconds");
            await Task.Delay(100);
        }

        (await RecoverAsync(lost, address, code, "third one here")).StatusCode.ShouldBe(
            HttpStatusCode.UnprocessableEntity,
            "a code is good for once"
        );
        (await lost.Http.PostAsJsonAsync("/api/account/sign-in", new { email = address, password = "moss nursery" })).StatusCode.ShouldBe(
            HttpStatusCode.UnprocessableEntity
        );

        // Whoever knows the password may have another code.
        (await lost.Http.PostAsJsonAsync("/api/account/code", new { password = "not it at all" })).StatusCode.ShouldBe(
            HttpStatusCode.UnprocessableEntity
        );
        var renewed = await Client.JsonAsync(await lost.Http.PostAsJsonAsync("/api/account/code", new { password = "otter lantern" }));
        (await RecoverAsync(lost, address, another, "third one here")).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await RecoverAsync(lost, address, (string)renewed["code"]!, "third one here")).StatusCode.ShouldBe(HttpStatusCode.OK);
        await client.DisposeAsync();
    }

    [Fact]
    public async Task Everything_comes_home_and_opens_again()
    {
        var (client, address, _) = await SignedUpAsync();
        await using var mine = client;
        foreach (var _ in new[] { 1, 2 })
        {
            var id = await client.NewPartAsync("Plate / 5");
            await client.DoAsync(id, Commands.Plate);
        }

        var kept = await Client.JsonAsync(await client.Http.GetAsync("/api/account/kept"));
        ((int)kept["parts"]!, (int)kept["edits"]!).ShouldBe((2, 6));
        ((long)kept["bytes"]!).ShouldBeGreaterThan(1000);
        using var archive = new ZipArchive(new MemoryStream(await client.Http.GetByteArrayAsync("/api/account/everything.zip")));
        var names = archive.Entries.Select(e => e.FullName).ToList();
        names.Where(n => !n.StartsWith("pictures/", StringComparison.Ordinal)).Count().ShouldBe(5);
        names.ShouldAllBe(n => !n.Contains("..", StringComparison.Ordinal));
        JsonNode Read(string folder, int n)
        {
            using var text = archive.Entries.Where(e => e.FullName.StartsWith(folder, StringComparison.Ordinal)).ElementAt(n).Open();
            return JsonNode.Parse(text)!;
        }

        ((string)Read("account", 0)["address"]!).ShouldBe(address);
        var history = Read("history/", 1).AsArray();
        history.Select(e => (long)e!["revision"]!).ShouldBe([2L, 3L, 4L]);
        var opened = await client.Http.PostAsync(
            "/api/parts/import.json",
            new StringContent(Read("parts/", 0).ToJsonString(), System.Text.Encoding.UTF8, "application/json")
        );
        opened.StatusCode.ShouldBe(HttpStatusCode.Created, await opened.Content.ReadAsStringAsync());
    }

    [Fact]
    public async Task Leaving_takes_everything_along_and_ends_links_and_sessions()
    {
        var (client, address, _) = await SignedUpAsync();
        await using var mine = client;
        var id = await client.NewPartAsync();
        var (hub, _) = await client.OpenAsync(id);
        var ended = new TaskCompletionSource();
        hub.Closed += _ =>
        {
            ended.TrySetResult();
            return Task.CompletedTask;
        };
        await using var elsewhere = new Client(server);
        (
            await elsewhere.Http.PostAsJsonAsync("/api/account/sign-in", new { email = address, password = "moss nursery" })
        ).StatusCode.ShouldBe(HttpStatusCode.OK);
        (await client.Http.PostAsJsonAsync("/api/account/delete", new { password = "wrong one" })).StatusCode.ShouldBe(
            HttpStatusCode.UnprocessableEntity
        );
        (await client.Http.GetAsync($"/api/parts/{id}")).StatusCode.ShouldBe(HttpStatusCode.OK);
        (await client.Http.PostAsJsonAsync("/api/account/delete", new { password = "moss nursery" })).StatusCode.ShouldBe(
            HttpStatusCode.NoContent
        );
        await ended.Task.WaitAsync(TimeSpan.FromSeconds(8));
        for (var tries = 0; (await elsewhere.Http.GetAsync("/api/parts")).StatusCode != HttpStatusCode.Unauthorized; tries++)
        {
            tries.ShouldBeLessThan(50);
            await Task.Delay(100);
        }

        (
            await elsewhere.Http.PostAsJsonAsync("/api/account/sign-in", new { email = address, password = "moss nursery" })
        ).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await client.Http.PostAsJsonAsync("/api/account/sign-up", new { email = address, password = "moss nursery" })).StatusCode.ShouldBe(
            HttpStatusCode.OK,
            "the address is free again"
        );
        (await client.Http.GetAsync($"/api/parts/{id}")).StatusCode.ShouldBe(HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task Each_visitor_of_the_demo_has_a_copy_and_harms_nobody()
    {
        await using var one = new Client(server);
        await using var two = new Client(server);
        foreach (var visitor in new[] { one, two })
        {
            var view = await Client.JsonAsync(await visitor.Http.PostAsync("/api/account/demo", null));
            ((bool)view["visitor"]!).ShouldBeTrue();
        }

        async Task<List<JsonNode>> PartsAsync(Client who) =>
            [.. JsonNode.Parse(await who.Http.GetStringAsync("/api/parts"))!.AsArray().Select(p => p!)];
        var (ones, twos) = (await PartsAsync(one), await PartsAsync(two));
        ones.Count.ShouldBe(Core.Demo.DemoParts.All.Count);
        ones.Select(p => (string)p["id"]!).Intersect(twos.Select(p => (string)p["id"]!)).ShouldBeEmpty();
        var id = (string)ones[0]["id"]!;
        await one.DoAsync(id, new RenamePart("Mine now"));
        (await two.Http.GetAsync($"/api/parts/{id}")).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        foreach (var part in ones)
        {
            (await one.Http.DeleteAsync($"/api/parts/{part["id"]}")).StatusCode.ShouldBe(HttpStatusCode.NoContent);
        }

        (await PartsAsync(two)).Count.ShouldBe(twos.Count);
        await using var third = new Client(server);
        await third.Http.PostAsync("/api/account/demo", null);
        (await PartsAsync(third)).Count.ShouldBe(twos.Count, "the next finds the demo as it was");

        // A visitor leaves without a password; nobody signs up as one.
        (await two.Http.PostAsJsonAsync("/api/account/delete", new { password = "" })).StatusCode.ShouldBe(HttpStatusCode.NoContent);
        (
            await two.Http.PostAsJsonAsync(
                "/api/account/sign-up",
                new { email = "visitor-1@demo.ratiogon.example", password = "moss nursery" }
            )
        ).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
    }

    [Fact]
    public async Task An_account_that_is_full_takes_no_more_and_loses_nothing()
    {
        await using var small = await ServerProcess.StartAsync(
            demo: false,
            new() { ["Limits__AccountParts"] = "2", ["Limits__AccountMegabytes"] = "1" }
        );
        await using var client = await Client.SignedUpAsync(small);
        await client.NewPartAsync("a");
        var id = await client.NewPartAsync("b");
        var refused = await client.Http.PostAsJsonAsync("/api/parts", new { name = "c" });
        refused.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await Client.CodeAsync(refused)).ShouldBe("account.full");
        (await client.Http.DeleteAsync($"/api/parts/{id}")).StatusCode.ShouldBe(HttpStatusCode.NoContent);
        var left = await client.NewPartAsync("c");
        var large = await client.Http.PostAsync(
            $"/api/parts/{left}/import?name=a.svg",
            new ByteArrayContent(new byte[1_100_000]) { Headers = { ContentType = new("image/svg+xml") } }
        );
        (await Client.CodeAsync(large)).ShouldBe("account.full", await large.Content.ReadAsStringAsync());
    }

    [Fact]
    public async Task The_log_says_who_came_in_and_who_tried_to_without_what_was_typed()
    {
        await using var own = await ServerProcess.StartAsync(
            demo: false,
            new() { ["Logging__LogLevel__Ratiogon.Server.Accounts"] = "Information" }
        );
        await using var client = new Client(own);
        var (address, password) = (Address(), "moss nursery");
        async Task AskAsync(string route, object body) => await client.Http.PostAsJsonAsync($"/api/account/{route}", body);
        await AskAsync("sign-up", new { email = address, password });
        await AskAsync("sign-out", new { });
        await AskAsync("sign-in", new { email = address, password = "wrong lantern" });
        await AskAsync("sign-in", new { email = Address(), password = "wrong lantern" });
        await AskAsync("sign-in", new { email = address, password });
        await AskAsync("password", new { current = password, next = "otter lantern" });
        await AskAsync(
            "recover",
            new
            {
                email = address,
                code = "00000-00000",
                next = "otter lanterns",
            }
        );
        await AskAsync("delete", new { password = "otter lantern" });

        // The log is read as it comes.
        string[] said = [];
        for (var tries = 0; tries < 100 && said.Length < 8; tries++)
        {
            await Task.Delay(50);
            said = [.. own.Log.Where(l => l.Contains("from 127.0.0.1", StringComparison.Ordinal)).Select(l => l.Trim())];
        }

        var account = System.Text.RegularExpressions.Regex.Match(said[0], "Account ([0-9a-f-]{36}) made").Groups[1].Value;
        account.ShouldNotBeEmpty();
        said.ShouldBe([
            $"Account {account} made from 127.0.0.1",
            $"Account {account}: signed out, from 127.0.0.1",
            $"Refused: a password that does not fit, account {account}, from 127.0.0.1",
            "Refused: a password that does not fit, account none, from 127.0.0.1",
            $"Account {account} signed in from 127.0.0.1",
            $"Account {account}: another password; its other sessions end, from 127.0.0.1",
            $"Refused: a recovery code that does not fit, account {account}, from 127.0.0.1",
            $"Account {account}: deleted, from 127.0.0.1",
        ]);
        own.Log.ShouldNotContain(l =>
            l.Contains(address, StringComparison.OrdinalIgnoreCase) || l.Contains("lantern", StringComparison.Ordinal)
        );
    }
}
