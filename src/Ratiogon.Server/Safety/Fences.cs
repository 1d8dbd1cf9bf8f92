using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.HttpOverrides;

namespace Ratiogon.Server.Safety;

/// <summary>What browsers are told to keep to, and from where requests are taken (OWASP ASVS 4.0, chapters 13 and 14).</summary>
internal static class Fences
{
    /// <summary>Scripts, styles and links from this server alone; nothing frames it.</summary>
    private const string ContentPolicy =
        "default-src 'self'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; font-src "
        + "'self'; connect-src 'self'; worker-src 'self' blob:; "
        + "object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'";

    private const string Loopback = "localhost;127.0.0.1;[::1]";

    public static void AddFences(this WebApplicationBuilder builder)
    {
        // Whoever serves to others names the hosts; a request for any other is refused before anything looks at it. This machine's own
        // are always among them: by those a gateway asks whether a server is well.
        builder.Configuration["AllowedHosts"] = builder.Configuration["AllowedHosts"] is { Length: > 0 } named
            ? $"{named};{Loopback}"
            : Loopback;
        builder.Services.Configure<ForwardedHeadersOptions>(o =>
        {
            o.ForwardedHeaders = ForwardedHeaders.XForwardedFor | ForwardedHeaders.XForwardedProto;

            // Proxies may stand one before another: as many as are known count.
            o.ForwardLimit = null;
            o.KnownProxies.Clear();
            o.KnownIPNetworks.Clear();
            foreach (var proxy in builder.Configuration.GetSection("Proxies").Get<string[]>() ?? [])
            {
                o.KnownProxies.Add(System.Net.IPAddress.Parse(proxy));
            }
        });
    }

    /// <summary>Headers on every answer, and no state-changing request or live link from a page of somebody else.</summary>
    public static void UseFences(this WebApplication app)
    {
        if (app.Configuration.GetSection("Proxies").Get<string[]>() is { Length: > 0 })
        {
            app.UseForwardedHeaders();
        }

        var origins = app.Configuration.GetSection("Origins").Get<string[]>() ?? [];
        app.Use(
            async (context, next) =>
            {
                var headers = context.Response.Headers;
                headers.ContentSecurityPolicy = ContentPolicy;
                headers.XContentTypeOptions = "nosniff";
                headers["Referrer-Policy"] = "no-referrer";
                headers["Cross-Origin-Opener-Policy"] = "same-origin";
                headers["Cross-Origin-Resource-Policy"] = "same-origin";
                if (context.Request.IsHttps)
                {
                    headers.StrictTransportSecurity = "max-age=31536000";
                }

                if (context.Request.Path.StartsWithSegments("/api"))
                {
                    headers.CacheControl = "no-store";
                }

                if (Foreign(context.Request, origins))
                {
                    await Refused().ExecuteAsync(context);
                    return;
                }

                await next();
            }
        );
    }

    private static ProblemHttpResult Refused() =>
        TypedResults.Problem(
            detail: "The request came from a page of another origin; nothing was done.",
            statusCode: StatusCodes.Status403Forbidden,
            title: "Another origin",
            type: "urn:ratiogon:origin.other",
            extensions: new Dictionary<string, object?> { ["code"] = "origin.other" }
        );

    /// <summary>Whether a browser says that another origin asks for something that changes things, or for a live link. What is no
    /// browser says nothing.</summary>
    private static bool Foreign(HttpRequest request, string[] origins)
    {
        if (
            (HttpMethods.IsGet(request.Method) || HttpMethods.IsHead(request.Method) || HttpMethods.IsOptions(request.Method))
            && !request.Path.StartsWithSegments("/live")
        )
        {
            return false;
        }

        var origin = request.Headers.Origin.ToString();
        return origin.Length > 0
            ? origin != $"{request.Scheme}://{request.Host}" && !origins.Contains(origin)
            : request.Headers["Sec-Fetch-Site"].ToString() is not ("" or "same-origin" or "none");
    }
}
