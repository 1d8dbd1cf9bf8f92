using System.Diagnostics;
using System.Net;
using System.Net.Http.Json;
using Microsoft.AspNetCore.SignalR.Client;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Server.Accounts;
using Ratiogon.TestHost;

namespace Ratiogon.Server.Tests;

/// <summary>Nobody stops the service, acts for somebody else, or goes on after signing out.</summary>
public sealed class SafetyTests(SafetyTests.Started started) : IClassFixture<SafetyTests.Started>
{
    private readonly ServerProcess server = started.Server;

    /// <summary>A server that lets four tries in to one account.</summary>
    public sealed class Started : IAsyncLifetime
    {
        public ServerProcess Server { get; private set; } = null!;

        public async ValueTask InitializeAsync() =>
            Server = await ServerProcess.StartAsync(demo: false, new() { ["Limits__SignIns"] = "4" });

        public async ValueTask DisposeAsync() => await Server.DisposeAsync();
    }

    private static string Address() => $"u{Guid.NewGuid():N}@ratiogon.example";

    private static object Known(string email, string password = "moss nursery", bool stay = true) =>
        new
        {
            email,
            password,
            stay,
        };

    [Fact]
    public async Task Signing_out_ends_the_session_everywhere_it_was_copied_to_and_its_live_link()
    {
        var email = Address();
        var jar = new CookieContainer();
        using var handler = new HttpClientHandler { CookieContainer = jar };
        using var http = new HttpClient(handler) { BaseAddress = server.Address };
        (await http.PostAsJsonAsync("/api/account/sign-up", Known(email))).EnsureSuccessStatusCode();
        var stolen = jar.GetCookieHeader(server.Address);

        // Another browser of the same account is another session.
        await using var other = new Client(server);
        (await other.Http.PostAsJsonAsync("/api/account/sign-in", Known(email))).EnsureSuccessStatusCode();
        await using var link = new HubConnectionBuilder()
            .WithUrl(new Uri(server.Address, "/live"), o => o.Headers["Cookie"] = stolen)
            .Build();
        var closed = new TaskCompletionSource();
        link.Closed += _ =>
        {
            closed.TrySetResult();
            return Task.CompletedTask;
        };
        await link.StartAsync();
        (await Get(stolen)).ShouldBe(HttpStatusCode.OK);
        (await http.PostAsync("/api/account/sign-out", null)).EnsureSuccessStatusCode();
        await closed.Task.WaitAsync(TimeSpan.FromSeconds(5));
        (await Get(stolen)).ShouldBe(HttpStatusCode.Unauthorized);
        (await other.Http.GetAsync("/api/parts")).StatusCode.ShouldBe(HttpStatusCode.OK);

        // It stays ended when the server that ended it is gone.
        await server.KillAsync();
        await server.StartProcessAsync();
        (await Get(stolen)).ShouldBe(HttpStatusCode.Unauthorized);

        async Task<HttpStatusCode> Get(string cookie)
        {
            using var bare = new HttpClient(new HttpClientHandler { UseCookies = false }) { BaseAddress = server.Address };
            bare.DefaultRequestHeaders.Add("Cookie", cookie);
            return (await bare.GetAsync("/api/parts")).StatusCode;
        }
    }

    [Fact]
    public async Task Another_password_ends_every_other_session_and_its_live_link()
    {
        var email = Address();
        await using var mine = new Client(server);
        (await mine.Http.PostAsJsonAsync("/api/account/sign-up", Known(email))).EnsureSuccessStatusCode();
        var jar = new CookieContainer();
        using var handler = new HttpClientHandler { CookieContainer = jar };
        using var other = new HttpClient(handler) { BaseAddress = server.Address };
        (await other.PostAsJsonAsync("/api/account/sign-in", Known(email))).EnsureSuccessStatusCode();
        await using var link = new HubConnectionBuilder().WithUrl(new Uri(server.Address, "/live"), o => o.Cookies = jar).Build();
        var closed = new TaskCompletionSource();
        link.Closed += _ =>
        {
            closed.TrySetResult();
            return Task.CompletedTask;
        };
        await link.StartAsync();

        Task<HttpResponseMessage> Change(HttpClient http, string current, string next) =>
            http.PostAsJsonAsync("/api/account/password", new { current, next });
        foreach (
            var (current, next, why) in new[]
            {
                ("not this one", "otter lantern", "present password is another"),
                ("moss nursery", "short", "8 to 128"),
                ("moss nursery", "password123", "tried first"),
            }
        )
        {
            var refused = await Change(mine.Http, current, next);
            refused.IsSuccessStatusCode.ShouldBeFalse();
            (await refused.Content.ReadAsStringAsync()).ShouldContain(why);
        }

        using var stranger = new HttpClient { BaseAddress = server.Address };
        (await Change(stranger, "moss nursery", "otter lantern")).StatusCode.ShouldBe(HttpStatusCode.Unauthorized);
        (await other.GetAsync("/api/parts")).StatusCode.ShouldBe(HttpStatusCode.OK);

        (await Change(mine.Http, "moss nursery", "otter lantern")).StatusCode.ShouldBe(HttpStatusCode.NoContent);
        await closed.Task.WaitAsync(TimeSpan.FromSeconds(8));
        (await other.GetAsync("/api/parts")).StatusCode.ShouldBe(HttpStatusCode.Unauthorized);
        (await mine.Http.GetAsync("/api/parts")).StatusCode.ShouldBe(HttpStatusCode.OK);
        await using var late = new Client(server);
        (await late.Http.PostAsJsonAsync("/api/account/sign-in", Known(email))).IsSuccessStatusCode.ShouldBeFalse();
        (await late.Http.PostAsJsonAsync("/api/account/sign-in", Known(email, "otter lantern"))).EnsureSuccessStatusCode();
    }

    [Fact]
    public async Task A_session_lasts_as_long_as_the_browser_unless_it_is_to_stay()
    {
        foreach (var (stay, kept) in new[] { (false, false), (true, true) })
        {
            using var http = new HttpClient(new HttpClientHandler { UseCookies = false }) { BaseAddress = server.Address };
            var cookie = (await http.PostAsJsonAsync("/api/account/sign-up", Known(Address(), stay: stay)))
                .Headers.GetValues("Set-Cookie")
                .Single(c => c.StartsWith("ratiogon=", StringComparison.Ordinal));
            cookie.Contains("expires=", StringComparison.OrdinalIgnoreCase).ShouldBe(kept, cookie);
            cookie.ShouldContain("httponly", Case.Insensitive);
            cookie.ShouldContain("samesite=strict", Case.Insensitive);
        }
    }

    [Theory]
    [InlineData("password1", "tried first")]
    [InlineData("Sunshine2024!", "tried first")]
    [InlineData("aaaaaaaaaa", "tried first")]
    [InlineData("moss", "8 to 128")]
    [InlineData("", "8 to 128")]
    public void Passwords_that_are_tried_first_are_refused(string password, string why) =>
        PasswordRules.Wrong(password, "").ShouldNotBeNull().ShouldContain(why);

    [Fact]
    public void Other_passwords_are_taken_and_the_address_is_none()
    {
        PasswordRules.Wrong("moss nursery", "a@b.example").ShouldBeNull();
        PasswordRules.Wrong(new string('x', 60) + "yz-7", "a@b.example").ShouldBeNull();
        PasswordRules.Wrong("brunhilde", "Brunhilde@b.example").ShouldNotBeNull().ShouldContain("address");
        PasswordRules.Wrong(new string('x', 100) + new string('y', 29), "").ShouldNotBeNull().ShouldContain("8 to 128");
    }

    [Fact]
    public async Task Long_passwords_and_large_requests_are_refused_before_anything_is_hashed()
    {
        using var http = new HttpClient { BaseAddress = server.Address };
        var clock = Stopwatch.StartNew();
        (await http.PostAsJsonAsync("/api/account/sign-up", Known(Address(), new string('x', 1000)))).StatusCode.ShouldBe(
            HttpStatusCode.UnprocessableEntity
        );
        var large = await Task.WhenAll(Enumerable.Range(0, 6).Select(async _ => await RefusedAsync(http, new string('x', 20_000_000))));
        large.ShouldAllBe(refused => refused);
        clock.Elapsed.ShouldBeLessThan(TimeSpan.FromSeconds(10));
        using var process = Process.GetProcessById(server.ProcessId);
        process.WorkingSet64.ShouldBeLessThan(600L * 1024 * 1024);

        async Task<bool> RefusedAsync(HttpClient client, string password)
        {
            try
            {
                return (await client.PostAsJsonAsync("/api/account/sign-up", Known(Address(), password))).StatusCode
                    == HttpStatusCode.RequestEntityTooLarge;
            }
            catch (HttpRequestException)
            {
                // Closed while it was still sending.
                return true;
            }
        }
    }

    [Fact]
    public async Task Guessing_from_elsewhere_is_slowed_down_and_does_not_keep_the_owner_out()
    {
        var email = Address();
        await using var owner = new Client(server);
        (await owner.Http.PostAsJsonAsync("/api/account/sign-up", Known(email))).EnsureSuccessStatusCode();
        using var guesser = new HttpClient { BaseAddress = server.Address };
        for (var i = 0; i < 4; i++)
        {
            (await guesser.PostAsJsonAsync("/api/account/sign-in", Known(email, $"guess number {i}"))).StatusCode.ShouldBe(
                HttpStatusCode.UnprocessableEntity
            );
        }

        var slowed = await guesser.PostAsJsonAsync("/api/account/sign-in", Known(email));
        slowed.StatusCode.ShouldBe(HttpStatusCode.TooManyRequests);
        slowed.Headers.RetryAfter.ShouldNotBeNull();
        (await Client.CodeAsync(slowed)).ShouldBe("busy.too-many");
        (await owner.Http.PostAsync("/api/account/sign-out", null)).EnsureSuccessStatusCode();
        (await owner.Http.PostAsJsonAsync("/api/account/sign-in", Known(email))).StatusCode.ShouldBe(
            HttpStatusCode.OK,
            "from a browser that was signed in before"
        );
    }

    [Fact]
    public async Task An_address_without_an_account_is_answered_in_the_same_words()
    {
        using var http = new HttpClient { BaseAddress = server.Address };
        var email = Address();
        (await http.PostAsJsonAsync("/api/account/sign-up", Known(email))).EnsureSuccessStatusCode();
        using var other = new HttpClient { BaseAddress = server.Address };
        var known = await other.PostAsJsonAsync("/api/account/sign-in", Known(email, "another password"));
        var unknown = await other.PostAsJsonAsync("/api/account/sign-in", Known(Address(), "another password"));
        known.StatusCode.ShouldBe(unknown.StatusCode);
        (await Client.JsonAsync(known))["detail"]!.ToString().ShouldBe((await Client.JsonAsync(unknown))["detail"]!.ToString());
    }

    [Fact]
    public async Task A_crowd_of_sign_ups_is_bounded_by_address_and_holds_up_no_edit()
    {
        await using var strict = await ServerProcess.StartAsync(demo: false, new() { ["Limits__AccountRequests"] = "30" });
        await using var client = await Client.SignedUpAsync(strict);
        var part = await client.NewPartAsync();
        await client.DoAsync(part, new SetParameter("a", "1 mm"));
        using var crowd = new HttpClient { BaseAddress = strict.Address };
        var all = Enumerable
            .Range(0, 200)
            .Select(async _ => (await crowd.PostAsJsonAsync("/api/account/sign-up", Known(Address()))).StatusCode)
            .ToList();
        var slowest = TimeSpan.Zero;
        for (var i = 0; i < 10; i++)
        {
            var clock = Stopwatch.StartNew();
            await client.DoAsync(part, new SetParameter("a", $"{i + 2} mm"));
            slowest = clock.Elapsed > slowest ? clock.Elapsed : slowest;
        }

        var answers = await Task.WhenAll(all);
        answers.Count(a => a == HttpStatusCode.TooManyRequests).ShouldBeGreaterThan(150);
        answers.Count(a => a == HttpStatusCode.OK).ShouldBeLessThanOrEqualTo(30);
        answers.ShouldAllBe(a => a == HttpStatusCode.OK || a == HttpStatusCode.TooManyRequests);
        slowest.ShouldBeLessThan(TimeSpan.FromSeconds(5), "an edit meanwhile");
    }

    [Fact]
    public async Task Pages_of_other_origins_change_nothing_and_open_no_link()
    {
        await using var client = await Client.SignedUpAsync(server);
        foreach (
            var (name, value, expected) in new[]
            {
                ("Origin", $"http://127.0.0.1:{server.Port + 1}", HttpStatusCode.Forbidden),
                ("Origin", "null", HttpStatusCode.Forbidden),
                ("Sec-Fetch-Site", "same-site", HttpStatusCode.Forbidden),
                ("Origin", server.Address.ToString().TrimEnd('/'), HttpStatusCode.OK),
            }
        )
        {
            foreach (var path in new[] { "/api/parts", "/live/negotiate?negotiateVersion=1" })
            {
                using var request = new HttpRequestMessage(HttpMethod.Post, path)
                {
                    Content = path == "/api/parts" ? JsonContent.Create(new { name = "Part" }) : null,
                };
                request.Headers.Add(name, value);
                ((int)(await client.Http.SendAsync(request)).StatusCode / 100).ShouldBe((int)expected / 100, $"{path} from {name} {value}");
            }
        }

        (await Client.JsonAsync(await client.Http.GetAsync("/api/account")))["email"].ShouldNotBeNull();
    }

    [Fact]
    public async Task Other_hosts_are_refused()
    {
        using var request = new HttpRequestMessage(HttpMethod.Get, server.Address);
        request.Headers.Host = "elsewhere.example";
        using var http = new HttpClient();
        (await http.SendAsync(request)).StatusCode.ShouldBe(HttpStatusCode.BadRequest);
    }

    [Theory]
    [InlineData("/")]
    [InlineData("/api/account")]
    [InlineData("/api/nothing")]
    public async Task Every_answer_tells_browsers_what_to_keep_to(string path)
    {
        using var http = new HttpClient { BaseAddress = server.Address };
        var answer = await http.GetAsync(path);
        string Header(string name) => answer.Headers.TryGetValues(name, out var values) ? values.Single() : "";
        Header("Content-Security-Policy").ShouldContain("script-src 'self';");
        Header("Content-Security-Policy").ShouldContain("frame-ancestors 'none'");
        Header("X-Content-Type-Options").ShouldBe("nosniff");
        Header("Referrer-Policy").ShouldBe("no-referrer");
        Header("Cache-Control").ShouldBe(path == "/" ? "no-cache" : "no-store");
        Header("Server").ShouldBeEmpty();
    }
}
