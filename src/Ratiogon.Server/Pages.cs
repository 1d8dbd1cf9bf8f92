using Microsoft.AspNetCore.StaticFiles;

namespace Ratiogon.Server;

/// <summary>The page itself: what was built of it, sent compressed to browsers that take it so.</summary>
internal static class Pages
{
    /// <summary>Ending of a file that was compressed with Brotli (RFC 7932) when the page was built.</summary>
    private const string Compressed = ".br";

    private static readonly FileExtensionContentTypeProvider Types = new() { Mappings = { [Compressed] = "application/octet-stream" } };

    /// <summary>How its files are sent: those named by their content for ever, others asked for again.</summary>
    public static StaticFileOptions Options { get; } = new() { ContentTypeProvider = Types, OnPrepareResponse = Prepare };

    public static void UsePages(this WebApplication app)
    {
        app.UseDefaultFiles();
        app.Use(
            (context, next) =>
            {
                var path = context.Request.Path;
                if (
                    path.StartsWithSegments("/assets")
                    && Takes(context.Request)
                    && app.Environment.WebRootFileProvider.GetFileInfo(path + Compressed).Exists
                )
                {
                    context.Request.Path = path + Compressed;
                }

                return next(context);
            }
        );
        app.UseStaticFiles(Options);
    }

    private static bool Takes(HttpRequest request) =>
        request.GetTypedHeaders().AcceptEncoding.Any(e => e.Value.Equals("br", StringComparison.OrdinalIgnoreCase) && e.Quality is not 0);

    private static void Prepare(StaticFileResponseContext sent)
    {
        var (name, headers) = (sent.File.Name, sent.Context.Response.Headers);
        headers.CacheControl = sent.Context.Request.Path.StartsWithSegments("/assets") ? "public, max-age=31536000, immutable" : "no-cache";
        if (name.EndsWith(Compressed, StringComparison.Ordinal) && Types.TryGetContentType(name[..^Compressed.Length], out var type))
        {
            sent.Context.Response.ContentType = type;
            headers.ContentEncoding = "br";
        }

        if (sent.Context.Request.Path.StartsWithSegments("/assets"))
        {
            headers.Vary = "Accept-Encoding";
        }
    }
}
