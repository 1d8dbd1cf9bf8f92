using System.Net;
using Microsoft.AspNetCore.SignalR.Client;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Server.Live;
using Ratiogon.TestHost;

namespace Ratiogon.Server.Tests;

/// <summary>Workers that die or hang, a server that is killed.</summary>
public class NothingIsLostTests
{
    [Fact]
    public async Task A_worker_killed_in_mid_rebuild_is_replaced_and_the_model_comes()
    {
        await using var server = await ServerProcess.StartAsync(demo: false);
        await using var client = await Client.SignedUpAsync(server);
        var id = await client.NewPartAsync();
        await client.DoAsync(id, Commands.Plate);
        var (_, models) = await client.OpenAsync(id);
        await client.DoAsync(id, Commands.ManyHoles(18, 12));
        await Task.Delay(150);
        var before = client.Workers();
        before.ShouldNotBeEmpty();
        foreach (var pid in before)
        {
            Client.Kill(pid);
        }

        var model = await Client.ModelAsync(models, (long)(await client.PartAsync(id))["revision"]!);
        model.Steps.ShouldAllBe(s => s.State == "built");
        model.Bodies.Single().Volume.ShouldBe(Commands.Volume - (18 * 12 * Math.PI * 0.64 * 12), 1e-3);
        client.Workers().Intersect(before).ShouldBeEmpty();
    }

    [Fact]
    public async Task A_rebuild_that_takes_too_long_names_its_step_and_keeps_the_part()
    {
        await using var server = await ServerProcess.StartAsync(
            demo: false,
            new() { ["Workers__Limit"] = "00:00:12", ["Workers__Count"] = "1" }
        );
        await using var client = await Client.SignedUpAsync(server);
        var id = await client.NewPartAsync();
        await client.DoAsync(id, Commands.Plate);
        var (_, models) = await client.OpenAsync(id);
        await Client.ModelAsync(models, (long)(await client.PartAsync(id))["revision"]!);

        // Whichever worker has the part hangs, and so does one that stands ready.
        await client.DoAsync(id, Commands.ManyHoles(3, 3)[..2]);
        await Client.ModelAsync(models, (long)(await client.PartAsync(id))["revision"]!);
        var hung = client.Workers();
        await Task.WhenAll(hung.Select(Hang.BeginAsync));

        await client.DoAsync(id, Commands.ManyHoles(3, 3)[2]);
        var revision = (long)(await client.PartAsync(id))["revision"]!;
        var model = await Client.ModelAsync(models, revision);
        model.Steps.ShouldContain(s => s.State == "failed" && s.Message.Contains("took too long", StringComparison.Ordinal));
        model.Bodies.Length.ShouldBe(1, "the last good model stays");
        await Task.WhenAll(hung.Select(Hang.EndAsync));

        // The next change finds a new worker.
        await client.DoAsync(id, new SetSize("plate", "length", "13 mm"));
        var next = await Client.ModelAsync(models, revision + 1);
        next.Steps.ShouldAllBe(s => s.State == "built");
    }

    [Fact]
    public async Task A_long_rebuild_holds_up_no_drawing_and_is_stopped_on_request()
    {
        await using var server = await ServerProcess.StartAsync(demo: false, new() { ["Workers__Count"] = "1" });
        await using var client = await Client.SignedUpAsync(server);
        await using var other = await Client.SignedUpAsync(server);
        var id = await client.NewPartAsync();
        await client.DoAsync(id, Commands.Plate);
        var (hub, models) = await client.OpenAsync(id);
        await Client.ModelAsync(models, (long)(await client.PartAsync(id))["revision"]!);
        async Task<bool> StopAsync(Client who, HttpStatusCode expected)
        {
            var answer = await who.Http.PostAsync($"/api/parts/{id}/stop", null);
            answer.StatusCode.ShouldBe(expected);
            return expected == HttpStatusCode.OK && (bool)(await Client.JsonAsync(answer))["underWay"]!;
        }

        // What is kept of the model is made a while after it was built: stopped as well, until nothing is under way.
        for (var tries = 0; await StopAsync(client, HttpStatusCode.OK); tries++)
        {
            tries.ShouldBeLessThan(100);
            await Task.Delay(100);
        }

        var holes = Commands.ManyHoles(20, 14);
        await client.DoAsync(id, holes[..2]);
        await Client.ModelAsync(models, (long)(await client.PartAsync(id))["revision"]!);
        var building = new TaskCompletionSource();
        hub.On<string?>("Building", step => _ = step == "drilled" && building.TrySetResult());
        await client.DoAsync(id, holes[2]);
        var revision = (long)(await client.PartAsync(id))["revision"]!;
        await building.Task.WaitAsync(TimeSpan.FromSeconds(60));

        // What is asked of the model waits for the worker; a tool in a sketch does not.
        var offers = hub.InvokeAsync<object[]>("Offers", null, Array.Empty<string>());
        var taken = await hub.InvokeAsync<AnswerMessage>("StartTool", "outline", "line", Array.Empty<string>());
        taken.Leave.ShouldBeFalse();
        taken.Prompt.ShouldNotBeEmpty();
        offers.IsCompleted.ShouldBeFalse("the rebuild is still under way");
        await StopAsync(other, HttpStatusCode.NotFound);
        (await StopAsync(client, HttpStatusCode.OK)).ShouldBeTrue();
        var model = await Client.ModelAsync(models, revision);
        model.Steps.ShouldContain(s => s.State == "failed" && s.Message.Contains("was stopped", StringComparison.Ordinal));
        model.Bodies.Single().Volume.ShouldBe(Commands.Volume, 1e-6, "the last good model stays");
        await offers;
    }

    [Fact]
    public async Task A_rebuild_that_waits_for_its_worker_is_stopped_as_one_under_way_is()
    {
        await using var server = await ServerProcess.StartAsync(demo: false, new() { ["Workers__Count"] = "1" });
        await using var client = await Client.SignedUpAsync(server);
        var id = await client.NewPartAsync();
        await client.DoAsync(id, Commands.Plate);
        var (hub, models) = await client.OpenAsync(id);
        await client.DoAsync(id, Commands.ManyHoles(20, 14));

        // Whatever the worker does at this moment, and whether the last change has come to it or not.
        var questions = Enumerable.Range(0, 3).Select(_ => hub.InvokeAsync<object[]>("Offers", null, Array.Empty<string>())).ToList();
        var stopped = await Client.JsonAsync(await client.Http.PostAsync($"/api/parts/{id}/stop", null));
        ((bool)stopped["underWay"]!).ShouldBeTrue();
        var revision = (long)(await client.PartAsync(id))["revision"]!;
        var model = await Client.ModelAsync(models, revision);
        model.Steps.ShouldContain(s => s.State == "failed" && s.Message.Contains("was stopped", StringComparison.Ordinal));
        await Task.WhenAll(questions);

        // The next change is built.
        await client.DoAsync(id, new RemoveStep("drilled"));
        (await Client.ModelAsync(models, revision + 1)).Steps.ShouldAllBe(s => s.State == "built");
    }

    [Fact]
    public async Task A_server_killed_after_an_edit_has_kept_it_with_its_undo()
    {
        await using var server = await ServerProcess.StartAsync(demo: false);
        await using var client = await Client.SignedUpAsync(server);
        var id = await client.NewPartAsync();
        await client.DoAsync(id, Commands.Plate);
        await client.DoAsync(id, new SetSize("outline", "r.width", "96"));
        var kept = (await client.PartAsync(id)).ToJsonString();
        await server.KillAsync();
        await server.StartProcessAsync();
        (await client.PartAsync(id)).ToJsonString().ShouldBe(kept);
        (await client.StepAsync(id, "undo")).StatusCode.ShouldBe(HttpStatusCode.OK);
        (await client.PartAsync(id)).ToJsonString().ShouldContain("80 mm");
        var (_, models) = await client.OpenAsync(id);
        (await Client.ModelAsync(models, (long)(await client.PartAsync(id))["revision"]!))
            .Bodies.Single()
            .Volume.ShouldBe(Commands.Volume, 1e-6);
    }
}

/// <summary>The live link.</summary>
[Collection("server")]
public class LiveHubTests(ServerFixture fixture)
{
    private static InputMessage At(string kind, double x, double y) =>
        new()
        {
            Kind = kind,
            X = x,
            Y = y,
            Reach = 0.5,
        };

    [Fact]
    public async Task A_tool_draws_through_the_link_and_everybody_on_the_part_hears_of_it()
    {
        await using var client = await Client.SignedUpAsync(fixture.Server);
        var id = await client.NewPartAsync();
        await client.DoAsync(id, Commands.Plate[0]);
        var (hub, _) = await client.OpenAsync(id);
        var (second, _) = await client.OpenAsync(id);
        var heard = new TaskCompletionSource<long>();
        second.On<long>("Changed", r => heard.TrySetResult(r));

        (await hub.InvokeAsync<AnswerMessage>("StartTool", "outline", "circle", Array.Empty<string>())).Prompt.ShouldContain("centre");
        await hub.InvokeAsync<AnswerMessage>("Input", At("click", 10, 5));
        var preview = await hub.InvokeAsync<AnswerMessage>("Input", At("move", 13, 9));
        preview.Preview.Single().Kind.ShouldBe("circle");
        preview.Preview.Single().Numbers.ShouldBe([10, 5, 5]);
        var done = await hub.InvokeAsync<AnswerMessage>("Input", At("click", 13, 9));
        done.Refusal.ShouldBeNull();
        (await heard.Task.WaitAsync(TimeSpan.FromSeconds(10))).ShouldBe(done.Revision);
        (await client.PartAsync(id))["steps"]![0]!["sketch"]!["freedoms"]!.GetValue<int>().ShouldBe(3);
    }

    [Fact]
    public async Task Picks_get_offers_with_values()
    {
        await using var client = await Client.SignedUpAsync(fixture.Server);
        var id = await client.NewPartAsync();
        await client.DoAsync(id, Commands.Plate);
        var (hub, models) = await client.OpenAsync(id);
        await Client.ModelAsync(models, (long)(await client.PartAsync(id))["revision"]!);
        var offers = await hub.InvokeAsync<OfferMessage[]>("Offers", null, new[] { "plate/side/r.left", "plate/side/r.right" });
        offers.Single(o => o.Id == "distance").Detail.ShouldBe("80 mm");
        offers.Single(o => o.Id == "volume").Detail.ShouldBe("48000 mm³");
        var inSketch = await hub.InvokeAsync<OfferMessage[]>("Offers", "outline", new[] { "r.left", "r.right" });
        inSketch.Select(o => o.Id).ShouldContain("tie-equal");
        inSketch.Single(o => o.Id == "size-distance").Detail.ShouldBe("80 mm");
    }

    [Fact]
    public async Task A_redundant_dimension_is_offered_as_a_reference()
    {
        await using var client = await Client.SignedUpAsync(fixture.Server);
        var id = await client.NewPartAsync();
        await client.DoAsync(id, Commands.Plate[..2]);
        var (hub, _) = await client.OpenAsync(id);
        await hub.InvokeAsync<AnswerMessage>("StartTool", "outline", "dimension", Array.Empty<string>());
        await hub.InvokeAsync<AnswerMessage>("Input", At("click", 10, 25));
        await hub.InvokeAsync<AnswerMessage>("Input", At("click", 5, 33));
        var refused = await hub.InvokeAsync<AnswerMessage>(
            "Input",
            new InputMessage
            {
                Kind = "typed",
                Field = "value",
                Text = "80",
                Reach = 0.5,
            }
        );
        refused.Refusal!.Code.ShouldBe("sketch.redundant");
        refused.Outs.ShouldNotBeEmpty();
        var command = System.Text.Json.JsonSerializer.Deserialize<PartCommand>(refused.Outs[0].Command, Core.Parts.PartJson.Compact)!;
        await client.DoAsync(id, command);
        (await client.PartAsync(id))["steps"]![0]!["sketch"]!["dimensions"]!
            .AsArray()
            .Select(d => d!["text"]!.GetValue<string>())
            .ShouldContain("(80 mm)");
    }

    [Fact]
    public async Task Nonsense_on_the_link_is_answered_not_obeyed()
    {
        await using var client = await Client.SignedUpAsync(fixture.Server);
        var id = await client.NewPartAsync();
        await client.DoAsync(id, Commands.Plate[0]);
        var (hub, _) = await client.OpenAsync(id);
        await Should.ThrowAsync<Microsoft.AspNetCore.SignalR.HubException>(() =>
            hub.InvokeAsync<AnswerMessage>("StartTool", "outline", "no-such-tool", Array.Empty<string>())
        );
        (await hub.InvokeAsync<AnswerMessage>("Input", At("click", 1, 1))).Leave.ShouldBeTrue();
        await hub.InvokeAsync<AnswerMessage>("StartTool", "outline", "line", Array.Empty<string>());
        await hub.InvokeAsync<AnswerMessage>("Input", At("click", double.NaN, double.PositiveInfinity));
        (await hub.InvokeAsync<AnswerMessage>("Input", At("explode", 1, 1))).Leave.ShouldBeTrue();
        (await hub.InvokeAsync<OfferMessage[]>("Offers", "outline", new[] { "nothing" })).ShouldBeEmpty();
    }
}
