using System.IO.Compression;
using System.Net;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using Ratiogon.Core.Asking;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;

namespace Ratiogon.Server.Tests;

/// <summary>Questions over HTTP: answered beside rebuilds, stopped with what was found, refused at their place.</summary>
public class AskTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private static Task<HttpResponseMessage> AskAsync(Client client, string id, Question question) =>
        client.Http.PostAsync(
            $"/api/parts/{id}/ask",
            new StringContent(JsonSerializer.Serialize(question, PartJson.Compact), Encoding.UTF8, "application/json")
        );

    [Fact]
    public async Task A_question_is_answered_and_changes_nothing()
    {
        await using var client = await Client.SignedUpAsync(fixture.Server);
        var id = await client.NewPartAsync();
        await client.DoAsync(id, Commands.Plate);
        await client.DoAsync(
            id,
            new AddStep(new Core.Gauging.ReadingStep("v", 0, "Volume", "volume", [])),
            new SetTolerance("plate", "length", "±0.1"),
            new SetParameter("n", "3")
        );
        var before = (await client.PartAsync(id)).ToJsonString();
        var told = await Client.JsonAsync(await AskAsync(client, id, new TolerancesQuestion("v", 10)));
        ((string)told["answer"]!).ShouldBe("tolerances");
        told["contributions"]!.AsArray().Count.ShouldBe(1);
        ((int)told["sampled"]!["runs"]!).ShouldBe(10);
        var why = await Client.JsonAsync(await AskAsync(client, id, new WhyQuestion("plate")));
        ((string)why["words"]!).ShouldNotBeEmpty();
        (await client.PartAsync(id)).ToJsonString().ShouldBe(before);

        var refused = await AskAsync(client, id, new TolerancesQuestion("gone"));
        refused.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await Client.CodeAsync(refused)).ShouldBe("ask.no-reading");
        var nonsense = await client.Http.PostAsync(
            $"/api/parts/{id}/ask",
            new StringContent("{\"ask\":\"guess\"}", Encoding.UTF8, "application/json")
        );
        nonsense.StatusCode.ShouldBe(HttpStatusCode.BadRequest);
        await using var other = await Client.SignedUpAsync(fixture.Server);
        (await AskAsync(other, id, new WhyQuestion("plate"))).StatusCode.ShouldBe(HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task A_long_question_holds_up_no_rebuild_and_is_stopped_with_what_was_found()
    {
        await using var client = await Client.SignedUpAsync(fixture.Server);
        var id = await client.NewPartAsync();
        await client.DoAsync(id, [.. Commands.Plate, .. Commands.ManyHoles(6, 6)]);
        await client.DoAsync(id, new SetParameter("thick", "12 mm"), new SetSize("plate", "length", "thick"));
        var (_, models) = await client.OpenAsync(id);
        await Client.ModelAsync(models, (long)(await client.PartAsync(id))["revision"]!);
        var asked = AskAsync(client, id, new FlexQuestion(["thick"], FlexOf.MostTries) { Pair = ["thick", "plate/length"] });
        var refused = await asked;
        refused.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity, "its length is a formula of the parameter");
        await client.DoAsync(id, new SetParameter("u", "7 mm"));
        asked = AskAsync(client, id, new FlexQuestion(["thick", "u"], FlexOf.MostTries));
        await Task.Delay(1500);
        asked.IsCompleted.ShouldBeFalse("thousands of tries take a while");

        // An edit is built while the question goes on.
        await client.DoAsync(id, new SetParameter("thick", "13 mm"));
        var clock = System.Diagnostics.Stopwatch.StartNew();
        (await Client.ModelAsync(models, (long)(await client.PartAsync(id))["revision"]!)).Bodies.Length.ShouldBe(1);
        clock.Elapsed.ShouldBeLessThan(TimeSpan.FromSeconds(30));
        asked.IsCompleted.ShouldBeFalse("it was not stopped by that");
        ((bool)(await Client.JsonAsync(await client.Http.PostAsync($"/api/parts/{id}/stop", null)))["underWay"]!).ShouldBeTrue();
        var answer = await Client.JsonAsync(await asked);
        ((string)answer["said"]!).ShouldStartWith("It was stopped after ");
        answer["tries"]!.AsArray().Count.ShouldBeLessThan(FlexOf.MostTries);

        // Its picture may be made just then; after that nothing is left.
        for (var more = 0; (bool)(await Client.JsonAsync(await client.Http.PostAsync($"/api/parts/{id}/stop", null)))["underWay"]!; more++)
        {
            more.ShouldBeLessThan(20);
            await Task.Delay(250);
        }
    }

    /// <summary>Two deaths: what both workers had begun is gone around, where it is the same; everything else is built.</summary>
    [Fact]
    public async Task A_question_outlives_its_workers()
    {
        await using var client = await Client.SignedUpAsync(fixture.Server);
        var id = await client.NewPartAsync();
        await client.DoAsync(id, [.. Commands.Plate, .. Commands.ManyHoles(5, 5)]);
        await client.DoAsync(id, new SetParameter("u", "7 mm"), new SetParameter("v", "3 mm"), new SetSize("plate", "length", "u + v"));
        var (_, models) = await client.OpenAsync(id);
        await Client.ModelAsync(models, (long)(await client.PartAsync(id))["revision"]!);
        var asked = AskAsync(client, id, new FlexQuestion(["u", "v"], 60));
        var killed = new HashSet<int>();
        while (killed.Count < 3 && !asked.IsCompleted)
        {
            // The one that is at the question is the one that works.
            var before = client.Workers().ToDictionary(w => w, Worked);
            await Task.Delay(500);
            if (before.OrderByDescending(w => Worked(w.Key) - w.Value).Select(w => w.Key).FirstOrDefault() is var busy and > 0)
            {
                killed.Add(busy);
                Client.Kill(busy);
            }
        }

        killed.Count.ShouldBeGreaterThan(1);
        var answer = await Client.JsonAsync(await asked);
        answer["tries"]!.AsArray().Count.ShouldBe(60);
        answer["tries"]!.AsArray().Count(t => (string)t!["state"]! == "good").ShouldBeGreaterThan(50);
    }

    private static long Worked(int pid)
    {
        try
        {
            return (long)System.Diagnostics.Process.GetProcessById(pid).TotalProcessorTime.TotalMilliseconds;
        }
        catch (Exception e) when (e is ArgumentException or InvalidOperationException)
        {
            return 0;
        }
    }

    [Fact]
    public async Task Variants_are_seen_and_written_as_an_archive()
    {
        await using var client = await Client.SignedUpAsync(fixture.Server);
        var id = await client.NewPartAsync("Plate");
        await client.DoAsync(id, Commands.Plate);
        await client.DoAsync(
            id,
            new SetParameter("t", "12 mm"),
            new SetSize("plate", "length", "t"),
            new SetVariants([new Variant("Thin", [new VariantValue("t", "5")]), new Variant("None", [new VariantValue("t", "0 mm")])]),
            new ChooseVariant("Thin")
        );
        var part = await client.PartAsync(id);
        ((string)part["variant"]!).ShouldBe("Thin");
        ((string)part["parameters"]![0]!["value"]!).ShouldBe("5 mm");
        var zip = await client.Http.GetAsync($"/api/parts/{id}/variants.zip?format=stl");
        zip.StatusCode.ShouldBe(HttpStatusCode.OK, await zip.Content.ReadAsStringAsync());
        using var archive = new ZipArchive(await zip.Content.ReadAsStreamAsync());
        archive.Entries.Select(e => e.FullName).ShouldBe(["thin.stl", "not written.txt"], ignoreOrder: true);
        using var reader = new StreamReader(archive.GetEntry("not written.txt")!.Open());
        (await reader.ReadToEndAsync()).ShouldStartWith("None: ");
        (await client.Http.GetAsync($"/api/parts/{id}/variants.zip?format=stl&only=None")).StatusCode.ShouldBe(
            HttpStatusCode.UnprocessableEntity
        );
        (await client.Http.GetAsync($"/api/parts/{id}/variants.zip?format=doc")).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        ((JsonArray)part["variants"]!).Count.ShouldBe(2);
    }
}
