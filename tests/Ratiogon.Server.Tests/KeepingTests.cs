using System.Net;
using System.Text.Json.Nodes;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Server.Live;
using Ratiogon.TestHost;

namespace Ratiogon.Server.Tests;

/// <summary>What parts are built into is kept, and their pictures are drawn, without anybody looking.</summary>
public class KeepingTests
{
    private static readonly byte[] PngSignature = [0x89, 0x50, 0x4E, 0x47, 0x0D, 0x0A, 0x1A, 0x0A];

    /// <summary>Waits until every part in the list is drawn as it is.</summary>
    private static async Task<List<JsonObject>> DrawnAsync(Client client)
    {
        for (var tries = 0; ; tries++)
        {
            var list = JsonNode.Parse(await client.Http.GetStringAsync("/api/parts"))!.AsArray().Select(p => p!.AsObject()).ToList();
            if (list.Count > 0 && list.TrueForAll(p => (long)p["drawn"]! == (long)p["revision"]!))
            {
                return list;
            }

            tries.ShouldBeLessThan(900);
            await Task.Delay(100);
        }
    }

    private static async Task<byte[]> PictureAsync(Client client, string id, bool dark) =>
        await client.Http.GetByteArrayAsync($"/api/parts/{id}/picture?dark={dark}");

    [Fact]
    public async Task A_part_opened_anew_is_there_before_any_worker_has_built_it()
    {
        await using var server = await ServerProcess.StartAsync(demo: false, new() { ["Live__Prepare"] = "00:10:00" });
        await using var client = await Client.SignedUpAsync(server);
        var id = await client.NewPartAsync();
        await client.DoAsync(id, Commands.Plate);
        (await DrawnAsync(client)).Single()["hasPicture"]!.GetValue<bool>().ShouldBeTrue();
        var light = await PictureAsync(client, id, dark: false);
        light.AsSpan(0, 8).ToArray().ShouldBe(PngSignature);
        (await PictureAsync(client, id, dark: true)).ShouldNotBe(light);

        await server.KillAsync();
        await server.StartProcessAsync();
        var revision = (long)(await client.PartAsync(id))["revision"]!;
        var (_, models) = await client.OpenAsync(id);
        var model = await Client.ModelAsync(models, revision);
        client.Workers().ShouldBeEmpty("nothing was built for it");
        model.Bodies.Single().Volume.ShouldBe(Commands.Volume, 1e-9);
        model.Bodies.Single().Triangles.Length.ShouldBeGreaterThan(0);
        model.Steps.ShouldAllBe(s => s.State == "built");

        // What comes next is built as ever, and kept and drawn as well.
        await client.DoAsync(id, new SetSize("plate", "length", "20 mm"));
        (await Client.ModelAsync(models, revision + 1)).Bodies.Single().Volume.ShouldBe(80 * 50 * 20, 1e-9);
        await DrawnAsync(client);
        (await PictureAsync(client, id, dark: false)).ShouldNotBe(light);
    }

    [Fact]
    public async Task Parts_that_nobody_opened_are_drawn_too_and_an_empty_one_has_nothing_to_see()
    {
        await using var server = await ServerProcess.StartAsync(demo: true);
        await using var visitor = new Client(server);
        (await visitor.Http.PostAsync("/api/account/demo", null)).StatusCode.ShouldBe(HttpStatusCode.OK);
        await visitor.NewPartAsync("Empty");
        var list = await DrawnAsync(visitor);
        list.Count.ShouldBe(Core.Demo.DemoParts.All.Count + 1);
        foreach (var part in list)
        {
            part["hasPicture"]!.GetValue<bool>().ShouldBe((string)part["name"]! != "Empty", (string)part["name"]!);
        }

        var other = await Client.SignedUpAsync(server);
        (await other.Http.GetAsync($"/api/parts/{list[0]["id"]}/picture")).StatusCode.ShouldBe(HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task A_part_with_a_step_that_cannot_be_read_opens_and_can_be_mended()
    {
        await using var server = await ServerProcess.StartAsync(demo: false);
        await using var client = await Client.SignedUpAsync(server);
        var id = await client.NewPartAsync();
        await client.DoAsync(id, [.. Commands.Plate, .. Commands.ManyHoles(2, 2)]);
        await server.KillAsync();
        await using (var connection = new Npgsql.NpgsqlConnection(server.Database))
        {
            await connection.OpenAsync();
            await using var spoil = connection.CreateCommand();
            spoil.CommandText = """update steps set "Body" = jsonb_set("Body", '{extent}', '7') where "StepId" = 'plate'""";
            (await spoil.ExecuteNonQueryAsync()).ShouldBe(1);
        }

        await server.StartProcessAsync();
        var part = await client.PartAsync(id);
        part["steps"]!.AsArray().Select(s => (string)s!["kind"]!).ShouldBe(["sketch", "unread", "sketch", "extrude"]);
        var (_, models) = await client.OpenAsync(id);
        var model = await Client.ModelAsync(models, (long)part["revision"]!);
        model.Steps.Select(s => s.State).ShouldBe(["built", "failed", "waiting", "waiting"]);
        model.Steps[1].Message.ShouldStartWith("What is kept of this step cannot be read");
        (await client.SendAsync(id, new RemoveStep("plate", Anyway: true))).StatusCode.ShouldBe(HttpStatusCode.OK);
        await client.DoAsync(id, Commands.Plate[^1]);
        (await Client.ModelAsync(models, (long)(await client.PartAsync(id))["revision"]!)).Bodies.Length.ShouldBe(1);
    }
}
