using System.IO.Compression;
using System.Reflection;
using System.Text.Json;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.ResponseCompression;
using Microsoft.AspNetCore.SignalR;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Tools;
using Ratiogon.Server;
using Ratiogon.Server.Accounts;
using Ratiogon.Server.Cluster;
using Ratiogon.Server.Demo;
using Ratiogon.Server.Live;
using Ratiogon.Server.Operating;
using Ratiogon.Server.Parts;
using Ratiogon.Server.Safety;
using Ratiogon.Server.Workers;
using Ratiogon.Store;

var builder = WebApplication.CreateBuilder(args);

// Each endpoint has its own bound; this one only keeps a sender from sending for ever.
builder.WebHost.ConfigureKestrel(options => (options.Limits.MaxRequestBodySize, options.AddServerHeader) = (512L * 1024 * 1024, false));

// A database that is not there yet is made; what else goes wrong with one reaches the log as the exception itself.
builder.Logging.AddFilter("Microsoft.EntityFrameworkCore.Database.Connection", LogLevel.None);

// What live methods refuse is no fault; what is one, LiveCalls writes.
builder.Logging.AddFilter("Microsoft.AspNetCore.SignalR.Internal.DefaultHubDispatcher", LogLevel.None);
var services = builder.Services;
var database = builder.Configuration["Database"]
    ?? throw new InvalidOperationException("The setting 'Database' is missing; start the server with ./run.");
services.AddDbContextFactory<RatiogonDb>(o => o.UseNpgsql(database));

// What the mapping of the tables takes goes beside all else that a start takes.
_ = Task.Run(() => new RatiogonDb(new DbContextOptionsBuilder<RatiogonDb>().UseNpgsql(database).Options).Model);
services.AddScoped(p => p.GetRequiredService<IDbContextFactory<RatiogonDb>>().CreateDbContext());
services
    .AddIdentity<Account, IdentityRole<Guid>>(o =>
    {
        o.User.RequireUniqueEmail = true;
        (
            o.Password.RequiredLength,
            o.Password.RequireDigit,
            o.Password.RequireUppercase,
            o.Password.RequireLowercase,
            o.Password.RequireNonAlphanumeric
        ) = (1, false, false, false, false);
        o.Password.RequiredUniqueChars = 1;
    })
    .AddEntityFrameworkStores<RatiogonDb>()
    .AddDefaultTokenProviders()
    .AddPasswordValidator<PasswordRules>();
services.ConfigureApplicationCookie(o =>
{
    (o.Cookie.Name, o.Cookie.SameSite, o.Cookie.HttpOnly, o.ExpireTimeSpan, o.SlidingExpiration) = (
        "ratiogon",
        SameSiteMode.Strict,
        true,
        TimeSpan.FromDays(14),
        true
    );
    o.Cookie.SecurePolicy = CookieSecurePolicy.SameAsRequest;
    o.Events.OnValidatePrincipal = async c =>
    {
        if (!await c.HttpContext.RequestServices.GetRequiredService<Sessions>().MayStandAsync(c.Principal, c.HttpContext.RequestAborted))
        {
            c.RejectPrincipal();
            await c.HttpContext.SignOutAsync(IdentityConstants.ApplicationScheme);
        }
    };
    o.Events.OnRedirectToLogin = c =>
    {
        c.Response.StatusCode = StatusCodes.Status401Unauthorized;
        return Task.CompletedTask;
    };
});
services.AddAuthorization();
services.AddLimits(builder.Configuration);
services.AddSingleton<Sessions>().AddHostedService(p => p.GetRequiredService<Sessions>());
builder.AddFences();
builder.AddOperating();
builder.AddCluster();
services.AddProblemDetails(o =>
    o.CustomizeProblemDetails = c =>
    {
        c.ProblemDetails.Detail ??= BadJson.Of(c.Exception) is var (path, why) ? $"The request could not be read at {path}: {why}" : null;
        if (c.ProblemDetails.Status == StatusCodes.Status503ServiceUnavailable)
        {
            c.HttpContext.Response.Headers.RetryAfter = Away.Again.ToString(System.Globalization.CultureInfo.InvariantCulture);
        }

        if (Away.Is(c.Exception))
        {
            var refusal = Away.Of(c.Exception);
            (c.ProblemDetails.Detail, c.ProblemDetails.Type, c.ProblemDetails.Extensions["code"]) = (
                refusal.Message,
                $"urn:ratiogon:{refusal.Code}",
                refusal.Code
            );
        }
    }
);
services.Configure<RouteHandlerOptions>(o => o.ThrowOnBadRequest = true);
services
    // Answers hold no secrets that a stranger's text could be held against, and come to no other origin.
    .AddResponseCompression(o => (o.EnableForHttps, o.MimeTypes) = (true, ["application/json", "application/problem+json"]))
    .Configure<BrotliCompressionProviderOptions>(o => o.Level = CompressionLevel.Fastest);
services.ConfigureHttpJsonOptions(o => PartJson.Configure(o.SerializerOptions));
services.AddSingleton(TimeProvider.System).AddSingleton<LiveDesks>();
services
    .AddSignalR(o =>
    {
        o.AddFilter<LiveCalls>();
        (o.MaximumReceiveMessageSize, o.MaximumParallelInvocationsPerClient, o.KeepAliveInterval) = (4_200_000, 8, TimeSpan.FromSeconds(2));
    })
    .AddMessagePackProtocol();
services.AddOpenApi("v1", o => o.AddLiveMessages());
services
    .Configure<WorkerOptions>(builder.Configuration.GetSection("Workers"))
    .Configure<LiveOptions>(builder.Configuration.GetSection("Live"));
services.AddSingleton(new DemoSwitch(builder.Configuration.GetValue("Demo", false)));
services
    .AddSingleton<PartStore>()
    .AddSingleton<ModelStore>()
    .AddSingleton<AccountStore>()
    .AddHostedService<Visitors>()
    .AddHostedService<Bin>()
    .AddSingleton<Keeper>()
    .AddHostedService(p => p.GetRequiredService<Keeper>());
services
    .AddSingleton<WorkerPool>()
    .AddSingleton<LiveAudience>()
    .AddSingleton<IPartAudience>(p => p.GetRequiredService<LiveAudience>())
    .AddSingleton<IPartSessions, PartSessions>()
    .AddHostedService<PartNews>();

var app = builder.Build();
app.UseExceptionHandler(
    new ExceptionHandlerOptions
    {
        StatusCodeSelector = e =>
            e is BadHttpRequestException bad ? bad.StatusCode
            : BadJson.Of(e) is not null ? StatusCodes.Status400BadRequest
            : Away.Is(e) ? StatusCodes.Status503ServiceUnavailable
            : StatusCodes.Status500InternalServerError,
        SuppressDiagnosticsCallback = c =>
            c.Exception is BadHttpRequestException || BadJson.Of(c.Exception) is not null || Away.Is(c.Exception),
    }
);
app.UseStatusCodePages();
app.UseResponseCompression();
app.UseFences();
app.UsePages();
app.UseAuthentication();
app.UseAuthorization();
app.UseRateLimiter();
app.MapOpenApi("/openapi/{documentName}.json");
app.MapAccounts();
app.MapParts();
app.MapExamples();
app.MapGet("/api/tools", () => TypedResults.Ok(ToolView.All)).WithName("listTools").WithTags("tools");
app.MapGet("/api/formats", () => TypedResults.Ok(FormatView.All)).WithName("listFormats").WithTags("tools");
app.MapGet("/api/health", async (RatiogonDb db) =>
        await db.Database.CanConnectAsync() ? Results.Ok() : Results.StatusCode(StatusCodes.Status503ServiceUnavailable)
    )
    .ExcludeFromDescription();
app.MapHealth();
app.MapHub<LiveHub>("/live");
app.MapGet("/favicon.ico", () => TypedResults.Redirect("/mark.svg", permanent: true)).ExcludeFromDescription();
app.Map("/api/{**rest}", () => Results.Problem(statusCode: StatusCodes.Status404NotFound)).ExcludeFromDescription();
app.MapFallbackToFile("index.html", Pages.Options);

// The document generator starts the program only to look at it.
if (Assembly.GetEntryAssembly()?.GetName().Name != "GetDocument.Insider")
{
    var opened = Beforehand.Begin(app);
    await using var scope = app.Services.CreateAsyncScope();
    var tables = scope.ServiceProvider.GetRequiredService<RatiogonDb>().Database;
    if (!await tables.CanConnectAsync() || (await tables.GetPendingMigrationsAsync()).Any())
    {
        await tables.MigrateAsync();
    }

    var (pool, parts) = (app.Services.GetRequiredService<WorkerPool>(), app.Services.GetRequiredService<IPartSessions>());
    Figures.Look(() => pool.Waiting, () => parts.Count);
    if (app.Services.GetRequiredService<DemoSwitch>().On)
    {
        await DemoSeed.RunAsync(scope.ServiceProvider);
    }

    if (app.Services.GetRequiredService<IOptions<WorkerOptions>>().Value.Ahead)
    {
        app.Lifetime.ApplicationStarted.Register(() =>
            _ = Rehearsal.BuildAsync(app.Services, opened).ContinueWith(_ => pool.WarmUpAsync(), TaskScheduler.Default)
        );
    }
}

await app.RunAsync();

/// <summary>For the test host.</summary>
public sealed partial class Program;
