using System.IO.Compression;
using System.Net.Http.Headers;
using System.Runtime.InteropServices;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.SignalR.Client;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Server.Live;

namespace Ratiogon.Server.Tests;

/// <summary>What goes over the wire: packed, and the same to the last bit when it is unpacked.</summary>
[Collection("server")]
public class WireTests(ServerFixture fixture)
{
    /// <summary>As the page does it.</summary>
    private static byte[] Unpacked(byte[] packed)
    {
        using var planes = new MemoryStream();
        using (var inflate = new DeflateStream(new MemoryStream(packed), CompressionMode.Decompress))
        {
            inflate.CopyTo(planes);
        }

        var (bytes, count) = (planes.ToArray(), (int)planes.Length / 4);
        return [.. Enumerable.Range(0, bytes.Length).Select(i => bytes[(i % 4 * count) + (i / 4)])];
    }

    private static float[] Floats(byte[] packed) => MemoryMarshal.Cast<byte, float>(Unpacked(packed)).ToArray();

    private static uint[] Rising(byte[] packed)
    {
        var steps = MemoryMarshal.Cast<byte, uint>(Unpacked(packed)).ToArray();
        for (var i = 1; i < steps.Length; i++)
        {
            steps[i] += steps[i - 1];
        }

        return steps;
    }

    [Fact]
    public async Task Triangles_come_packed_and_close_the_body_when_unpacked()
    {
        await using var client = await Client.SignedUpAsync(fixture.Server);
        var id = await client.NewPartAsync();
        await client.DoAsync(id, Commands.Plate);
        var (_, models) = await client.OpenAsync(id);
        var body = (await Client.ModelAsync(models, (long)(await client.PartAsync(id))["revision"]!)).Bodies.Single();
        var (places, normals, corners) = (Floats(body.Positions), Floats(body.Normals), Rising(body.Triangles));
        corners.Length.ShouldBe(3 * body.FaceTriangles.Sum());
        normals.Length.ShouldBe(places.Length);
        var volume = 0.0;
        double P(int corner, int axis) => places[(3 * corners[corner]) + axis];
        for (var t = 0; t < corners.Length; t += 3)
        {
            volume +=
                (P(t, 0) * ((P(t + 1, 1) * P(t + 2, 2)) - (P(t + 1, 2) * P(t + 2, 1))))
                - (P(t, 1) * ((P(t + 1, 0) * P(t + 2, 2)) - (P(t + 1, 2) * P(t + 2, 0))))
                + (P(t, 2) * ((P(t + 1, 0) * P(t + 2, 1)) - (P(t + 1, 1) * P(t + 2, 0))));
        }

        (volume / 6).ShouldBe(Commands.Volume, 1e-3);
        Floats(body.EdgePoints).Length.ShouldBe(3 * body.EdgeCounts.Sum());
    }

    [Fact]
    public async Task A_form_is_previewed_roughly_first_and_then_as_it_is()
    {
        await using var client = await Client.SignedUpAsync(fixture.Server);
        var id = await client.NewPartAsync();
        await client.DoAsync(id, Commands.Plate);
        await client.DoAsync(
            id,
            new AddStep(new SketchStep("rim", 0, "Rim", "plate/end", Sketch.Empty)),
            new EditSketch("rim", Commands.Rectangle(20, 10))
        );
        var (hub, models) = await client.OpenAsync(id);
        await Client.ModelAsync(models, (long)(await client.PartAsync(id))["revision"]!);
        var begun = JsonNode.Parse((await hub.InvokeAsync<string>("BeginForm", "extrude", new[] { "rim" }))!)!;
        var draft = begun["draft"]!.ToJsonString();
        var rough = await hub.InvokeAsync<PreviewMessage>("PreviewForm", draft, false, true);
        var exact = await hub.InvokeAsync<PreviewMessage>("PreviewForm", draft, false, false);
        (rough.State, rough.Rough, exact.State, exact.Rough).ShouldBe(("built", true, "built", false), $"{rough.Message} {exact.Message}");
        rough.Bodies.Single().Volume.ShouldBe(0, "it is not known");
        exact.Bodies.Single().Volume.ShouldBeGreaterThan(Commands.Volume);
        rough.Bodies.Single().Key.ShouldNotBe(exact.Bodies.Single().Key);
    }

    [Fact]
    public async Task Answers_are_packed_for_those_who_can_read_them()
    {
        await using var client = await Client.SignedUpAsync(fixture.Server);
        var id = await client.NewPartAsync();
        await client.DoAsync(id, Commands.Plate);
        var plain = await client.Http.GetByteArrayAsync($"/api/parts/{id}");
        using var asked = new HttpRequestMessage(HttpMethod.Get, $"/api/parts/{id}");
        asked.Headers.AcceptEncoding.Add(new StringWithQualityHeaderValue("br"));
        using var answer = await client.Http.SendAsync(asked);
        answer.Content.Headers.ContentEncoding.ShouldBe(["br"]);
        var packed = await answer.Content.ReadAsByteArrayAsync();
        packed.Length.ShouldBeLessThan(plain.Length / 2);
        using var read = new MemoryStream();
        await using var brotli = new BrotliStream(new MemoryStream(packed), CompressionMode.Decompress);
        await brotli.CopyToAsync(read);
        read.ToArray().ShouldBe(plain);
    }
}
