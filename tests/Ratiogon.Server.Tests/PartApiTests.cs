using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.SignalR.Client;
using Ratiogon.Core;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Server.Tests;

[Collection("server")]
public class PartApiTests(ServerFixture fixture)
{
    [Fact]
    public async Task Nobody_signed_in_sees_nothing()
    {
        await using var stranger = new Client(fixture.Server);
        (await stranger.Http.GetAsync("/api/parts")).StatusCode.ShouldBe(HttpStatusCode.Unauthorized);
        (await stranger.Http.PostAsJsonAsync("/live/negotiate", new { })).StatusCode.ShouldBe(HttpStatusCode.Unauthorized);
    }

    [Fact]
    public async Task A_browser_finds_an_icon_where_it_looks_for_one()
    {
        await using var stranger = new Client(fixture.Server);
        var icon = await stranger.Http.GetAsync("/favicon.ico");
        icon.StatusCode.ShouldBe(HttpStatusCode.OK);
        icon.Content.Headers.ContentType!.MediaType.ShouldBe("image/svg+xml");
    }

    [Fact]
    public async Task Scripts_and_styles_are_sent_compressed_to_those_that_take_it()
    {
        using var plain = new HttpClient(new HttpClientHandler { AutomaticDecompression = DecompressionMethods.None })
        {
            BaseAddress = fixture.Server.Address,
        };
        var page = await plain.GetStringAsync("/");
        foreach (
            System.Text.RegularExpressions.Match match in System.Text.RegularExpressions.Regex.Matches(page, "/assets/[^\"]+\\.(js|css)")
        )
        {
            var whole = await plain.GetAsync(match.Value);
            whole.Content.Headers.ContentEncoding.ShouldBeEmpty();
            using var request = new HttpRequestMessage(HttpMethod.Get, match.Value) { Headers = { { "Accept-Encoding", "gzip, br" } } };
            var packed = await plain.SendAsync(request);
            packed.Content.Headers.ContentEncoding.ShouldBe(["br"]);
            packed.Content.Headers.ContentType!.MediaType.ShouldBe(whole.Content.Headers.ContentType!.MediaType);
            packed.Headers.Vary.ShouldContain("Accept-Encoding");
            packed.Headers.CacheControl!.ToString().ShouldContain("immutable");
            var bytes = await packed.Content.ReadAsByteArrayAsync();
            using var unpacked = new MemoryStream();
            await using (
                var reader = new System.IO.Compression.BrotliStream(
                    new MemoryStream(bytes),
                    System.IO.Compression.CompressionMode.Decompress
                )
            )
            {
                await reader.CopyToAsync(unpacked);
            }

            unpacked.ToArray().ShouldBe(await whole.Content.ReadAsByteArrayAsync());
            (2 * bytes.Length).ShouldBeLessThan((int)unpacked.Length);
        }
    }

    [Fact]
    public async Task Passwords_and_addresses_are_checked_with_words()
    {
        await using var client = new Client(fixture.Server);
        var weak = await client.Http.PostAsJsonAsync("/api/account/sign-up", new { email = "w@ratiogon.example", password = "short" });
        weak.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await weak.Content.ReadAsStringAsync()).ShouldContain("8 to 128");
        var wrong = await client.Http.PostAsJsonAsync(
            "/api/account/sign-in",
            new { email = "nobody@ratiogon.example", password = "whatever it is" }
        );
        (await Client.CodeAsync(wrong)).ShouldBe("account.sign-in");
    }

    [Fact]
    public async Task Signing_out_ends_it_and_signing_in_brings_it_back()
    {
        await using var client = new Client(fixture.Server);
        var who = new { email = $"u{Guid.NewGuid():N}@ratiogon.example", password = "moss nursery" };
        (await client.Http.PostAsJsonAsync("/api/account/sign-up", who)).EnsureSuccessStatusCode();
        var id = await client.NewPartAsync();
        await client.Http.PostAsync("/api/account/sign-out", null);
        (await client.Http.GetAsync($"/api/parts/{id}")).StatusCode.ShouldBe(HttpStatusCode.Unauthorized);
        (await client.Http.PostAsJsonAsync("/api/account/sign-in", who)).EnsureSuccessStatusCode();
        (await client.Http.GetAsync($"/api/parts/{id}")).StatusCode.ShouldBe(HttpStatusCode.OK);
        (await client.Http.PostAsJsonAsync("/api/account/sign-up", who)).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
    }

    [Fact]
    public async Task Parts_are_copied_tagged_deleted_and_had_back_by_their_owner_alone()
    {
        await using var mine = await Client.SignedUpAsync(fixture.Server);
        await using var other = await Client.SignedUpAsync(fixture.Server);
        var id = await mine.NewPartAsync("Original");
        await mine.DoAsync(id, new SetParameter("w", "12 mm"));
        async Task<HttpStatusCode> StatusAsync(Task<HttpResponseMessage> answer) => (await answer).StatusCode;
        async Task<List<string>> NamesAsync(string of) =>
            [.. System.Text.Json.Nodes.JsonNode.Parse(await mine.Http.GetStringAsync(of))!.AsArray().Select(p => (string)p!["name"]!)];

        foreach (var (verb, route) in new[] { ("POST", "restore"), ("POST", "copy"), ("PUT", "tags"), ("DELETE", "?forever=true") })
        {
            var path = route[0] == '?' ? $"/api/parts/{id}{route}" : $"/api/parts/{id}/{route}";
            using var request = new HttpRequestMessage(new HttpMethod(verb), path)
            {
                Content = route == "tags" ? JsonContent.Create(new { tags = new[] { "t" } }) : null,
            };
            (await StatusAsync(other.Http.SendAsync(request))).ShouldBe(HttpStatusCode.NotFound, route);
        }

        var copy = await mine.Http.PostAsync($"/api/parts/{id}/copy", null);
        copy.StatusCode.ShouldBe(HttpStatusCode.Created);
        var made = await mine.Http.GetStringAsync(copy.Headers.Location);
        made.ShouldContain("Original, copy");
        made.ShouldContain("12 mm");
        (await StatusAsync(mine.Http.PutAsJsonAsync($"/api/parts/{id}/tags", new { tags = new[] { "b", "a" } }))).ShouldBe(
            HttpStatusCode.NoContent
        );
        var refused = await mine.Http.PutAsJsonAsync($"/api/parts/{id}/tags", new { tags = new[] { "a,b" } });
        refused.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await Client.CodeAsync(refused)).ShouldBe("part.tags");
        (await StatusAsync(mine.Http.PutAsJsonAsync($"/api/parts/{id}/tags", new { tags = new string?[] { null } }))).ShouldBe(
            HttpStatusCode.BadRequest
        );

        (await StatusAsync(mine.Http.DeleteAsync($"/api/parts/{id}"))).ShouldBe(HttpStatusCode.NoContent);
        (await StatusAsync(mine.Http.GetAsync($"/api/parts/{id}"))).ShouldBe(HttpStatusCode.NotFound);
        (await NamesAsync("/api/parts")).ShouldBe(["Original, copy"]);
        (await NamesAsync("/api/parts?deleted=true")).ShouldBe(["Original"]);
        (await StatusAsync(other.Http.PostAsync($"/api/parts/{id}/restore", null))).ShouldBe(HttpStatusCode.NotFound);
        (await StatusAsync(mine.Http.PostAsync($"/api/parts/{id}/restore", null))).ShouldBe(HttpStatusCode.NoContent);
        (await mine.Http.GetStringAsync($"/api/parts/{id}")).ShouldContain("12 mm");
        (await StatusAsync(mine.Http.DeleteAsync($"/api/parts/{id}?forever=true"))).ShouldBe(
            HttpStatusCode.NotFound,
            "it was not deleted before"
        );
    }

    [Fact]
    public async Task A_state_of_the_history_is_looked_at_gone_back_to_and_copied()
    {
        await using var mine = await Client.SignedUpAsync(fixture.Server);
        await using var other = await Client.SignedUpAsync(fixture.Server);
        var id = await mine.NewPartAsync("Old");
        await mine.DoAsync(id, new SetParameter("w", "12 mm"));
        await mine.DoAsync(id, new SetParameter("w", "13 mm"));
        var history = System.Text.Json.Nodes.JsonNode.Parse(await mine.Http.GetStringAsync($"/api/parts/{id}/history"))!.AsArray();
        history.Select(h => (long)h!["revision"]!).ShouldBe([3, 2, 1]);
        (await mine.Http.PutAsJsonAsync($"/api/parts/{id}/history/2/name", new { name = "narrow" })).StatusCode.ShouldBe(
            HttpStatusCode.NoContent
        );
        (await mine.Http.GetStringAsync($"/api/parts/{id}/history")).ShouldContain("narrow");
        (await mine.Http.GetAsync($"/api/parts/{id}/history/2/picture")).StatusCode.ShouldBe(
            HttpStatusCode.NoContent,
            "there is nothing to see"
        );
        foreach (
            var (verb, route) in new[] { ("GET", ""), ("GET", "/2/picture"), ("PUT", "/2/name"), ("POST", "/2/back"), ("POST", "/2/copy") }
        )
        {
            using var request = new HttpRequestMessage(new HttpMethod(verb), $"/api/parts/{id}/history{route}")
            {
                Content = verb == "GET" ? null : JsonContent.Create<object>(route == "/2/name" ? new { name = "n" } : new { revision = 3 }),
            };
            (await other.Http.SendAsync(request)).StatusCode.ShouldBe(
                route == "/2/copy" ? HttpStatusCode.UnprocessableEntity : HttpStatusCode.NotFound,
                route
            );
        }

        var stale = await mine.Http.PostAsJsonAsync($"/api/parts/{id}/history/2/back", new { revision = 2 });
        (await Client.CodeAsync(stale)).ShouldBe("edit.stale");
        (await Client.CodeAsync(await mine.Http.PostAsJsonAsync($"/api/parts/{id}/history/9/back", new { revision = 3 }))).ShouldBe(
            "history.no-state"
        );
        (await mine.Http.PostAsJsonAsync($"/api/parts/{id}/history/2/back", new { revision = 3 })).EnsureSuccessStatusCode();
        var back = await mine.Http.GetStringAsync($"/api/parts/{id}");
        back.ShouldContain("12 mm");
        back.ShouldNotContain("13 mm");

        // It is an edit like another: undone, the part is as before; and the copy is a part of its own.
        (await mine.Http.PostAsJsonAsync($"/api/parts/{id}/undo", new { revision = 4 })).EnsureSuccessStatusCode();
        (await mine.Http.GetStringAsync($"/api/parts/{id}")).ShouldContain("13 mm");
        var copy = await mine.Http.PostAsync($"/api/parts/{id}/history/2/copy", null);
        copy.StatusCode.ShouldBe(HttpStatusCode.Created);
        var copied = await mine.Http.GetStringAsync(copy.Headers.Location);
        copied.ShouldContain("12 mm");
        copied.ShouldContain("Old, state 2");
    }

    [Fact]
    public async Task A_part_belongs_to_its_owner_alone()
    {
        await using var mine = await Client.SignedUpAsync(fixture.Server);
        await using var other = await Client.SignedUpAsync(fixture.Server);
        var id = await mine.NewPartAsync("Secret");
        (await other.Http.GetAsync($"/api/parts/{id}")).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        (await other.Http.DeleteAsync($"/api/parts/{id}")).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        (await other.SendAsync(id, new RenamePart("Mine now"), 1)).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        (await other.Http.GetAsync($"/api/parts/{id}/export.json")).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        (await other.Http.GetAsync($"/api/parts/{id}/export.step")).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        (await other.Http.GetStringAsync("/api/parts")).ShouldNotContain("Secret");
        await Should.ThrowAsync<Microsoft.AspNetCore.SignalR.HubException>(() => other.OpenAsync(id));
        ((string)(await mine.PartAsync(id))["name"]!).ShouldBe("Secret");
    }

    [Fact]
    public async Task A_stale_command_is_refused_and_changes_nothing()
    {
        await using var client = await Client.SignedUpAsync(fixture.Server);
        var id = await client.NewPartAsync();
        var seen = (long)(await client.PartAsync(id))["revision"]!;
        await client.DoAsync(id, new RenamePart("First tab"));
        var stale = await client.SendAsync(id, new RenamePart("Second tab"), seen);
        stale.StatusCode.ShouldBe(HttpStatusCode.Conflict);
        (await Client.CodeAsync(stale)).ShouldBe("edit.stale");
        ((string)(await client.PartAsync(id))["name"]!).ShouldBe("First tab");
    }

    [Fact]
    public async Task Refusals_are_problem_details_with_the_place()
    {
        await using var client = await Client.SignedUpAsync(fixture.Server);
        var id = await client.NewPartAsync();
        await client.DoAsync(id, Commands.Plate);
        async Task Refused(PartCommand command, string code, string? where = null)
        {
            var before = (await client.PartAsync(id)).ToJsonString();
            var answer = await client.SendAsync(id, command);
            answer.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
            answer.Content.Headers.ContentType!.MediaType.ShouldBe("application/problem+json");
            var problem = await Client.JsonAsync(answer);
            ((string)problem["code"]!).ShouldBe(code);
            ((string?)problem["where"]).ShouldBe(where ?? (string?)problem["where"]);
            (await client.PartAsync(id)).ToJsonString().ShouldBe(before);
        }

        await Refused(new SetSize("plate", "length", "12 +"), "formula.syntax", "length");
        await Refused(new SetSize("plate", "length", "0 mm"), "size.too-small", "length");
        await Refused(new SetSize("plate", "length", "-3 mm"), "size.too-small");
        await Refused(new SetSize("plate", "length", "1e300 mm"), "size.too-large");
        await Refused(new SetSize("plate", "length", "3 mm + 2 deg"), "formula.mixed-units");
        await Refused(new SetSize("plate", "length", "1 mm / 0"), "formula.divide-by-zero");
        await Refused(new SetSize("nothing", "length", "1 mm"), "step.unknown");
        await Refused(new SetSize("outline", "nothing", "1 mm"), "step.no-size");
        await Refused(new RemoveStep("outline"), "step.in-use");
        await Refused(new RenamePart("  "), "name.empty");
        await Refused(new SetParameter("a", "a + 1 mm"), "parameter.cycle");
    }

    [Fact]
    public async Task Undo_and_redo_go_through_the_whole_history()
    {
        await using var client = await Client.SignedUpAsync(fixture.Server);
        var id = await client.NewPartAsync();
        await client.DoAsync(id, Commands.Plate);
        await client.DoAsync(id, new SetSize("outline", "r.width", "96"));
        string Width(System.Text.Json.Nodes.JsonObject part) =>
            (string)part["steps"]![0]!["sizes"]!.AsArray().First(s => (string)s!["field"]! == "r.width")!["formula"]!;
        Width(await client.PartAsync(id)).ShouldBe("96 mm");
        Width(await Client.JsonAsync(await client.StepAsync(id, "undo"))).ShouldBe("80 mm");
        Width(await Client.JsonAsync(await client.StepAsync(id, "redo"))).ShouldBe("96 mm");
        for (var i = 0; i < 4; i++)
        {
            (await client.StepAsync(id, "undo")).StatusCode.ShouldBe(HttpStatusCode.OK);
        }

        (await client.PartAsync(id))["steps"]!.AsArray().Count.ShouldBe(0);
        (await Client.CodeAsync(await client.StepAsync(id, "undo"))).ShouldBe("edit.nothing");
        for (var i = 0; i < 4; i++)
        {
            (await client.StepAsync(id, "redo")).StatusCode.ShouldBe(HttpStatusCode.OK);
        }

        Width(await client.PartAsync(id)).ShouldBe("96 mm");
    }

    [Fact]
    public async Task Step_files_go_out_and_come_back()
    {
        await using var client = await Client.SignedUpAsync(fixture.Server);
        var id = await client.NewPartAsync();
        await client.DoAsync(id, Commands.Plate);
        var file = await client.Http.GetByteArrayAsync($"/api/parts/{id}/export.step");
        Encoding.ASCII.GetString(file, 0, 13).ShouldBe("ISO-10303-21;");

        var copy = await client.NewPartAsync("Copy");
        var (_, models) = await client.OpenAsync(copy);
        (await client.Http.PostAsync($"/api/parts/{copy}/import?name=plate.step", Body(file, "model/step"))).StatusCode.ShouldBe(
            HttpStatusCode.OK
        );
        var model = await Client.ModelAsync(models, (long)(await client.PartAsync(copy))["revision"]!);
        model.Bodies.Single().Volume.ShouldBe(Commands.Volume, Commands.Volume * 1e-9);

        // A truncated one is refused before it becomes a step.
        var before = (await client.PartAsync(copy)).ToJsonString();
        var refused = await client.Http.PostAsync(
            $"/api/parts/{copy}/import?name=plate.step",
            Body(file[..(file.Length / 3)], "model/step")
        );
        refused.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await Client.CodeAsync(refused)).ShouldBe("import.file");
        (await client.PartAsync(copy)).ToJsonString().ShouldBe(before);
    }

    [Fact]
    public async Task Every_format_goes_out_with_its_type_and_wrong_ones_are_refused()
    {
        await using var client = await Client.SignedUpAsync(fixture.Server);
        var id = await client.NewPartAsync();
        await client.DoAsync(id, Commands.Plate);
        foreach (
            var (ending, type) in new[]
            {
                ("iges", "model/iges"),
                ("stl", "model/stl"),
                ("3mf", "model/3mf"),
                ("glb", "model/gltf-binary"),
                ("svg", "image/svg+xml"),
                ("json", "application/json"),
            }
        )
        {
            var response = await client.Http.GetAsync($"/api/parts/{id}/export.{ending}");
            response.StatusCode.ShouldBe(HttpStatusCode.OK, ending);
            response.Content.Headers.ContentType!.MediaType.ShouldBe(type);
        }

        (await Client.CodeAsync(await client.Http.GetAsync($"/api/parts/{id}/export.xyz"))).ShouldBe("export.format");
        (await Client.CodeAsync(await client.Http.GetAsync($"/api/parts/{id}/export.stl?deviation=80"))).ShouldBe("export.refused");
        var preview = JsonNode.Parse(await client.Http.GetStringAsync($"/api/parts/{id}/export-preview?ending=stl&deviation=0.1"))!;
        ((int)preview["triangles"]!).ShouldBe(12);
        ((long)preview["bytes"]!).ShouldBe(84 + (50 * (long)preview["triangles"]!));
        (await client.Http.GetStringAsync($"/api/parts/{id}/parameters.csv")).ShouldStartWith("name,formula,value,unit,note");
        (await client.Http.GetStringAsync($"/api/parts/{id}/readings.csv")).ShouldStartWith(
            "number,name,reading,of,value,unit,least,most,verdict,note"
        );
    }

    [Fact]
    public async Task Files_that_cannot_be_used_change_nothing()
    {
        await using var client = await Client.SignedUpAsync(fixture.Server);
        var id = await client.NewPartAsync();
        await client.DoAsync(id, Commands.Plate);
        var before = (await client.PartAsync(id)).ToJsonString();
        async Task<string> Refused(string name, byte[] file, string more = "")
        {
            var response = await client.Http.PostAsync($"/api/parts/{id}/import?name={name}{more}", Body(file, "application/octet-stream"));
            response.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
            return await Client.CodeAsync(response);
        }

        (await Refused("a.exe", [1, 2, 3])).ShouldBe("import.format");
        (await Refused("a.iges", "no iges"u8.ToArray())).ShouldBe("import.file");
        (await Refused("a.svg", "<svg"u8.ToArray())).ShouldBe("import.svg");
        (
            await Refused("a.svg", Encoding.UTF8.GetBytes("<svg xmlns='http://www.w3.org/2000/svg'><line x2='4'/></svg>"), "&step=gone")
        ).ShouldBe("import.no-sketch");
        (await Refused("a.step", "ISO-10303-21;"u8.ToArray(), "&step=gone")).ShouldBe("import.no-step");
        (await Refused("huge.step", new byte[(64 * 1024 * 1024) + 1])).ShouldBe("import.too-large");
        (await client.PartAsync(id)).ToJsonString().ShouldBe(before);
        (
            await Client.CodeAsync(await client.Http.PostAsync("/api/parts/import.zip", Body("no zip"u8.ToArray(), "application/zip")))
        ).ShouldBe("archive.broken");
    }

    [Fact]
    public async Task Triangles_come_in_as_a_reference_in_the_unit_that_is_said()
    {
        await using var client = await Client.SignedUpAsync(fixture.Server);
        var id = await client.NewPartAsync();
        await client.DoAsync(id, Commands.Plate);
        var (stl, glb) = (
            await client.Http.GetByteArrayAsync($"/api/parts/{id}/export.stl"),
            await client.Http.GetByteArrayAsync($"/api/parts/{id}/export.glb")
        );
        var scan = await client.NewPartAsync("Scan");
        var (hub, models) = await client.OpenAsync(scan);
        async Task<HttpResponseMessage> Import(string name, byte[] file, string more = "") =>
            await client.Http.PostAsync($"/api/parts/{scan}/import?name={name}{more}", Body(file, "application/octet-stream"));
        foreach (
            var (name, file, more, code) in new[]
            {
                ("a.stl", stl[..500], "&unit=mm", "import.file"),
                ("a.stl", stl, "&unit=ell", "mesh.unit"),
                ("a.stl", stl, "&unit=mm&step=nothing", "import.no-step"),
            }
        )
        {
            (await Client.CodeAsync(await Import(name, file, more))).ShouldBe(code);
        }

        ((long)(await client.PartAsync(scan))["revision"]!).ShouldBe(1);
        (await Import("a.stl", stl, "&unit=in")).StatusCode.ShouldBe(HttpStatusCode.OK);
        (await Import("b.glb", glb)).StatusCode.ShouldBe(HttpStatusCode.OK);
        (await Import("c.stl", stl, "&step=mesh1")).StatusCode.ShouldBe(HttpStatusCode.OK);
        var part = await client.PartAsync(scan);
        string Unit(int step) => (string)part["steps"]![step]!["step"]!["unit"]!;
        (Unit(0), Unit(1)).ShouldBe(("in", "m"), "a newer file is taken in the unit of the older one; glTF says its own");
        part.ToJsonString().ShouldContain("c.stl");
        var model = await Client.ModelAsync(models, (long)part["revision"]!);
        model.Bodies.ShouldAllBe(b => b.Reference && b.Volume == 0);
        model.Steps.ShouldAllBe(s => s.State == "built");

        // Nothing of it is material to export.
        (await Client.CodeAsync(await client.Http.GetAsync($"/api/parts/{scan}/export.step"))).ShouldBe("export.refused");

        // What is as it was comes by its key alone; who asks gets all of it.
        await client.DoAsync(scan, new SetMeshUnit("mesh1", Core.Meshes.MeshUnit.Centimetre));
        model = await Client.ModelAsync(models, (long)(await client.PartAsync(scan))["revision"]!);
        model.Bodies.Select(b => (b.Name, b.Same, b.Positions.Length == 0)).ShouldBe([("mesh1", false, false), ("mesh2", true, true)]);
        await hub.InvokeAsync("Whole");
        model = await Client.ModelAsync(models, (long)(await client.PartAsync(scan))["revision"]!);
        model.Bodies.ShouldAllBe(b => !b.Same && b.Positions.Length > 0);
    }

    [Fact]
    public async Task Two_hundred_megabytes_are_refused_without_being_kept()
    {
        await using var client = await Client.SignedUpAsync(fixture.Server);
        var id = await client.NewPartAsync();
        long Kept() =>
            long.Parse(
                File.ReadAllLines($"/proc/{fixture.Server.ProcessId}/status")
                    .Single(l => l.StartsWith("VmRSS:", StringComparison.Ordinal))
                    .Split(' ', StringSplitOptions.RemoveEmptyEntries)[1],
                System.Globalization.CultureInfo.InvariantCulture
            ) / 1024;
        var before = Kept();
        var file = new byte[200 * 1024 * 1024];
        foreach (var (name, code) in new[] { ("a.step", "import.too-large"), ("a.stl", "import.too-large"), ("a.svg", "import.too-large") })
        {
            (
                await Client.CodeAsync(
                    await client.Http.PostAsync($"/api/parts/{id}/import?name={name}&unit=mm", Body(file, "application/octet-stream"))
                )
            ).ShouldBe(code);
        }

        (Kept() - before).ShouldBeLessThan(100, "MB");
    }

    [Fact]
    public async Task A_newer_file_keeps_references_where_they_were()
    {
        await using var client = await Client.SignedUpAsync(fixture.Server);
        var id = await client.NewPartAsync();
        await client.DoAsync(id, Commands.Plate);
        await client.DoAsync(
            id,
            new EditSketch("outline", new SketchEdit { Add = [new PointEntity("m", new Vec2(10, 5)), new CircleEntity("c", "m", 5)] })
        );
        var old = await client.Http.GetByteArrayAsync($"/api/parts/{id}/export.step");
        var copy = await client.NewPartAsync("Copy");
        var (hub, models) = await client.OpenAsync(copy);
        (await client.Http.PostAsync($"/api/parts/{copy}/import?name=motor.step", Body(old, "model/step"))).StatusCode.ShouldBe(
            HttpStatusCode.OK
        );
        var model = await Client.ModelAsync(models, (long)(await client.PartAsync(copy))["revision"]!);
        var names = model.Bodies.Single().Faces;
        var cylinder = names[Array.IndexOf(model.Bodies.Single().Surfaces, "cylinder")];
        await client.DoAsync(copy, new AddStep(new Core.Gauging.ReadingStep("d", 0, "d", "diameter", [cylinder])));
        await Client.ModelAsync(models, (long)(await client.PartAsync(copy))["revision"]!);

        // The newer motor is wider: its faces come in another order for all anyone knows.
        await client.DoAsync(id, new SetSize("outline", "r.width", "96 mm"));
        await Task.Delay(300);
        var newer = await client.Http.GetByteArrayAsync($"/api/parts/{id}/export.step");
        (
            await client.Http.PostAsync($"/api/parts/{copy}/import?name=motor-2.step&step=import1", Body(newer, "model/step"))
        ).StatusCode.ShouldBe(HttpStatusCode.OK);
        model = await Client.ModelAsync(models, (long)(await client.PartAsync(copy))["revision"]!);
        model.Bodies.Single().Volume.ShouldBeGreaterThan(Commands.Volume);
        model.Bodies.Single().Faces.Order().ShouldBe(names.Order());
        model.Bodies.Single().Surfaces[Array.IndexOf(model.Bodies.Single().Faces, cylinder)].ShouldBe("cylinder");
        model.Steps.Single(s => s.Id == "d").State.ShouldBe("built");
    }

    [Fact]
    public async Task An_account_s_parts_go_out_and_come_back_in_one_archive()
    {
        await using var client = await Client.SignedUpAsync(fixture.Server);
        await client.NewPartAsync("One");
        await client.DoAsync(await client.NewPartAsync("Two"), Commands.Plate);
        var archive = await client.Http.GetByteArrayAsync("/api/parts/archive.zip");
        await using var other = await Client.SignedUpAsync(fixture.Server);
        (await other.Http.PostAsync("/api/parts/import.zip", Body(archive, "application/zip"))).StatusCode.ShouldBe(HttpStatusCode.OK);
        JsonNode
            .Parse(await other.Http.GetStringAsync("/api/parts"))!
            .AsArray()
            .Select(p => (string)p!["name"]!)
            .Order()
            .ShouldBe(["One", "Two"]);
    }

    [Fact]
    public async Task Part_files_go_out_and_come_back_the_same()
    {
        await using var client = await Client.SignedUpAsync(fixture.Server);
        var id = await client.NewPartAsync("Plate");
        await client.DoAsync(id, Commands.Plate);
        var file = await client.Http.GetByteArrayAsync($"/api/parts/{id}/export.json");
        var made = await client.Http.PostAsync("/api/parts/import.json", Body(file, "application/json"));
        made.StatusCode.ShouldBe(HttpStatusCode.Created);
        var again = await client.Http.GetByteArrayAsync($"/api/parts/{(string)(await Client.JsonAsync(made))["id"]!}/export.json");
        Encoding.UTF8.GetString(again).ShouldBe(Encoding.UTF8.GetString(file));
    }

    [Fact]
    public async Task Ten_megabytes_of_the_wrong_json_are_refused_quickly()
    {
        await using var client = await Client.SignedUpAsync(fixture.Server);
        var nested = new string('[', 5_000_000) + new string(']', 5_000_000);
        var clock = System.Diagnostics.Stopwatch.StartNew();
        var refused = await client.Http.PostAsync("/api/parts/import.json", Body(Encoding.ASCII.GetBytes(nested), "application/json"));
        refused.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await Client.CodeAsync(refused)).ShouldBe("file.json");
        var bad = await client.Http.PostAsync(
            $"/api/parts/{await client.NewPartAsync()}/commands",
            Body(Encoding.ASCII.GetBytes("""{"revision":1,"command":{"command":"rename-part","name":"x","more":1}}"""), "application/json")
        );
        bad.StatusCode.ShouldBe(HttpStatusCode.BadRequest);
        ((string)(await Client.JsonAsync(bad))["detail"]!).ShouldContain("$.command");
        clock.Elapsed.ShouldBeLessThan(TimeSpan.FromSeconds(20));
    }

    [Fact]
    public async Task The_demo_account_is_entered_with_one_press_and_its_sketches_are_set()
    {
        await using var client = new Client(fixture.Server);
        (await client.Http.PostAsync("/api/account/demo", null)).StatusCode.ShouldBe(HttpStatusCode.OK);
        var list = System.Text.Json.Nodes.JsonNode.Parse(await client.Http.GetStringAsync("/api/parts"))!.AsArray();
        var part = await client.PartAsync((string)list[0]!["id"]!);
        ((string)part["name"]!).ShouldBe("Motor plate");
        var sketches = part["steps"]!.AsArray().Where(s => (string)s!["kind"]! == "sketch").ToList();
        sketches.Count.ShouldBe(4);
        sketches.ShouldAllBe(s => (int)s!["sketch"]!["freedoms"]! == 0);
    }

    [Fact]
    public async Task The_committed_api_document_is_the_one_the_server_gives()
    {
        using var http = new HttpClient { BaseAddress = fixture.Server.Address };
        static string Plain(string text)
        {
            var node = System.Text.Json.Nodes.JsonNode.Parse(text)!.AsObject();
            node.Remove("servers");
            return node.ToJsonString();
        }

        var committed = await File.ReadAllTextAsync(Path.Combine(TestHost.ServerProcess.Repository, "web", "src", "api", "openapi.json"));
        Plain(await http.GetStringAsync("/openapi/v1.json")).ShouldBe(Plain(committed), "run scripts/api to write it anew");
    }

    private static ByteArrayContent Body(byte[] bytes, string type) =>
        new(bytes) { Headers = { ContentType = new MediaTypeHeaderValue(type) } };
}
