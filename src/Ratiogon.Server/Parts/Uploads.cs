namespace Ratiogon.Server.Parts;

/// <summary>Reads request bodies up to a bound.</summary>
internal static class Uploads
{
    /// <summary>The body, or null when it is larger than allowed.</summary>
    public static async Task<byte[]?> ReadAsync(HttpRequest request, int most, CancellationToken cancel)
    {
        if (request.ContentLength is not { } length)
        {
            return await ReadToEndAsync(request, most, cancel);
        }

        if (length > most)
        {
            // Said beforehand: none of it is kept.
            await PassAsync(request, cancel);
            return null;
        }

        var whole = new byte[length];
        await request.Body.ReadExactlyAsync(whole, cancel);
        return whole;
    }

    private static async Task<byte[]?> ReadToEndAsync(HttpRequest request, int most, CancellationToken cancel)
    {
        using var body = new MemoryStream();
        var buffer = new byte[81920];
        int n;
        while ((n = await request.Body.ReadAsync(buffer, cancel)) > 0)
        {
            if (body.Length + n > most)
            {
                await PassAsync(request, cancel);
                return null;
            }

            body.Write(buffer, 0, n);
        }

        return body.ToArray();
    }

    /// <summary>Takes the rest without keeping it: whoever sends would not hear the answer otherwise.</summary>
    private static async Task PassAsync(HttpRequest request, CancellationToken cancel)
    {
        var buffer = new byte[81920];
        while (await request.Body.ReadAsync(buffer, cancel) > 0) { }
    }
}
