using System.Net;
using System.Net.Http.Headers;
using System.Text;
using System.Text.RegularExpressions;
using NodaTime;
using Tanksophos.Web.Hosting;

namespace Tanksophos.Web.Tests.Accounts;

public sealed partial class AccountTests : IDisposable
{
    private readonly App app = App.Demo(own: true);

    public void Dispose() => app.Dispose();

    private static (string, string)[] Account(string name, string passphrase = App.Passphrase) =>
        [("name", name), ("passphrase", passphrase), ("again", passphrase)];

    /// <summary>Makes an invitation on the page and gives the path of its link.</summary>
    private async Task<string> InviteAsync(string role)
    {
        var (_, html) = await app.PostAsync("/account", "/account?handler=Invite", ("role", role));
        html.ShouldShow("[role=img][data-invite-code]");
        return Link().Match(html).Groups[1].Value;
    }

    private async Task<string> TokenAsync(bool mayLog)
    {
        var (_, html) = await app.PostAsync("/account", "/account?handler=Token", ("name", "porch panel"), ("may", "Read"), ("may", mayLog ? "Log" : ""));
        return Token().Match(html).Value;
    }

    private async Task<(HttpStatusCode Status, string Text)> ApiAsync(string token, string method, string what, string? body = null)
    {
        using var request = new HttpRequestMessage(new HttpMethod(method), $"/api/v1/{what}")
        {
            Content = body is null ? null
            : new StringContent(body, Encoding.UTF8, "application/json")
        };
        request.Headers.Authorization = new AuthenticationHeaderValue("Bearer", token);
        using var response = await app.Visitor().SendAsync(request);
        return (response.StatusCode, await response.Content.ReadAsStringAsync());
    }

    [Fact]
    public async Task The_first_start_makes_the_owner_and_then_nobody_can_register()
    {
        using var fresh = new App(signedIn: false);
        (await fresh.GetAsync("/logbook")).ShouldShow("[data-first]");
        (await fresh.PostAsync("/first", "/first", Account("Robin"))).Html.ShouldShow("main[data-page='/Start/Index']");

        var other = fresh.Visitor();
        (await other.GetAsync(new Uri("/first", UriKind.Relative))).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        (await (await other.GetAsync(new Uri("/", UriKind.Relative))).Content.ReadAsStringAsync()).ShouldShow("main[data-page='/SignIn/Index']");
    }

    [Theory]
    [InlineData("", App.Passphrase, App.Passphrase, "name")]
    [InlineData("Robin", "short", "short", "passphrase")]
    [InlineData("Robin", "aaaaaaaaaaaaaa", "aaaaaaaaaaaaaa", "passphrase")]
    [InlineData("Robin", App.Passphrase, "another biscuit", "passphrase")]
    public async Task An_account_says_what_it_accepts(string name, string passphrase, string again, string field)
    {
        using var fresh = new App(signedIn: false);
        var (status, html) = await fresh.PostAsync("/first", "/first", ("name", name), ("passphrase", passphrase), ("again", again));
        status.ShouldBe(HttpStatusCode.BadRequest);
        html.ShouldRefuse(field);
    }

    [Fact]
    public async Task An_invitation_lets_one_person_in_who_then_logs_under_their_own_name()
    {
        var link = await InviteAsync("Crew");
        app.As(app.Visitor());
        (await app.GetAsync(link)).Text("[data-invited]").ShouldContain("Old Biscuit");
        (await app.PostAsync(link, link, Account("Kim"))).Html.ShouldShow("[data-log]");
        await app.PostAsync("/", "/?handler=People", ("id", "kims"), ("count", "3"));
        app.With(s => s.Log.Entry(1, "kims"))!.Who.ShouldBe("Kim");

        using var late = await app.Visitor().GetAsync(new Uri(link, UriKind.Relative));
        late.StatusCode.ShouldBe(HttpStatusCode.NotFound);
        (await late.Content.ReadAsStringAsync()).ShouldShow("[data-invitation=gone]");
    }

    [Fact]
    public async Task An_invitation_runs_out_after_a_week_and_can_be_taken_back()
    {
        var link = await InviteAsync("Guest");
        (await InviteAsync("Guest")).ShouldNotBe(link);
        await app.PostAsync("/account", "/account?handler=Revoke", ("id", "1"));
        (await app.Visitor().GetAsync(new Uri(link, UriKind.Relative))).StatusCode.ShouldBe(HttpStatusCode.NotFound);

        var second = await InviteAsync("Guest");
        app.Clock.Advance(Duration.FromDays(7) + Duration.FromMinutes(1));
        (await app.Visitor().GetAsync(new Uri(second, UriKind.Relative))).StatusCode.ShouldBe(HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task Five_wrong_passphrases_make_one_wait_and_ten_tries_a_minute_are_enough()
    {
        using var mine = new App(own: true);
        mine.As(mine.Visitor());
        for (var i = 0; i < 5; i++)
            (await mine.PostAsync("/sign-in", "/sign-in", ("name", App.Owner), ("passphrase", "guess number " + i))).Status.ShouldBe(HttpStatusCode.BadRequest);
        (await mine.PostAsync("/sign-in", "/sign-in", ("name", App.Owner), ("passphrase", App.Passphrase))).Html.ShouldShow("[role=alert]");
        for (var i = 0; i < 10; i++) await mine.PostAsync("/sign-in", "/sign-in", ("name", "nobody here"), ("passphrase", "guess"));
        var (status, html) = await mine.PostAsync("/sign-in", "/sign-in", ("name", "nobody here"), ("passphrase", "guess"));
        status.ShouldBe(HttpStatusCode.TooManyRequests);
        html.ShouldShow("main[data-page='/Error']");
    }

    [Fact]
    public async Task A_restart_signs_nobody_out_and_a_new_passphrase_signs_other_devices_out()
    {
        var folder = Directory.CreateTempSubdirectory("tanksophos-restart").FullName;
        string cookie;
        using (var before = new App(folder: folder))
        {
            cookie = before.SignInCookie;
            before.Keep = true;
        }
        using var after = new App(signedIn: false, folder: folder);
        var phone = after.Visitor();
        phone.DefaultRequestHeaders.Add("Cookie", cookie);
        (await (await phone.GetAsync(new Uri("/account", UriKind.Relative))).Content.ReadAsStringAsync()).ShouldContain($"<h1>{App.Owner}</h1>");

        await after.PostAsync("/sign-in", "/sign-in", ("name", App.Owner), ("passphrase", App.Passphrase));
        (await after.PostAsync("/you", "/you?handler=Passphrase", ("present", App.Passphrase), ("passphrase", "new biscuit kettle"),
            ("again", "new biscuit kettle"))).Html.ShouldShow("[data-logged]");
        (await (await phone.GetAsync(new Uri("/account", UriKind.Relative))).Content.ReadAsStringAsync()).ShouldShow("main[data-page='/SignIn/Index']");
        (await after.GetAsync("/account")).ShouldContain($"<h1>{App.Owner}</h1>");
    }

    [Fact]
    public async Task A_forgotten_passphrase_is_set_anew_at_the_machine()
    {
        using var mine = new App(own: true);
        var (said, errors) = (new StringWriter(), new StringWriter());
        (await KeepingCommands.PassphraseAsync(mine.Folder, "Nobody", false, new StringReader("x"), said, errors)).ShouldBe(2);
        errors.ToString().ShouldContain($"there is: {App.Owner}");
        (await KeepingCommands.PassphraseAsync(mine.Folder, App.Owner, false, new StringReader("short\n"), said, errors)).ShouldBe(1);
        (await KeepingCommands.PassphraseAsync(mine.Folder, App.Owner, false, new StringReader("words set anew here\n"), said, errors)).ShouldBe(0);

        (await mine.GetAsync("/account")).ShouldShow("main[data-page='/SignIn/Index']");
        (await mine.PostAsync("/sign-in", "/sign-in", ("name", App.Owner), ("passphrase", App.Passphrase))).Status.ShouldBe(HttpStatusCode.BadRequest);
        (await mine.PostAsync("/sign-in", "/sign-in", ("name", App.Owner), ("passphrase", "words set anew here"))).Status.ShouldBe(HttpStatusCode.OK);
        (await mine.GetAsync("/account")).ShouldContain($"<h1>{App.Owner}</h1>");
    }

    [Fact]
    public async Task One_click_is_for_the_demonstration_only()
    {
        using var mine = new App(own: true);
        mine.As(mine.Visitor());
        (await mine.GetAsync("/sign-in")).ShouldNotContain("data-demo");
        (await mine.PostAsync("/sign-in", "/sign-in?handler=Demo")).Status.ShouldBe(HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task The_last_owner_cannot_leave_and_roles_change_at_once()
    {
        (await app.PostAsync("/account", "/account?handler=Leave")).Html.ShouldShow("[data-problem]");
        (await app.PostAsync("/account", "/account?handler=Member", ("id", "1"), ("role", "Guest"))).Html.ShouldShow("[data-problem]");

        var link = await InviteAsync("Crew");
        var owner = app.Client;
        var kim = app.Visitor();
        await app.As(kim).PostAsync(link, link, Account("Kim"));
        (await app.GetAsync("/")).ShouldShow("a[data-log]");
        await app.As(owner).PostAsync("/account", "/account?handler=Member", ("id", "2"), ("role", "Guest"));
        (await app.As(kim).GetAsync("/")).ShouldShow("[data-guest]");
        await app.As(owner).PostAsync("/account", "/account?handler=Member", ("id", "2"), ("role", "out"));
        (await app.As(kim).GetAsync("/")).ShouldShow("main[data-page='/Start/Index']");
    }

    [Fact]
    public async Task A_token_reads_or_logs_for_its_rig_until_it_is_removed_and_is_stored_only_as_a_hash()
    {
        var reads = await TokenAsync(mayLog: false);
        var logs = await TokenAsync(mayLog: true);
        const string Entry = "{\"id\":\"gadget-1\",\"at\":\"2026-06-09T17:00:00-06:00\",\"type\":\"reading\",\"tank\":\"galley\",\"via\":\"panel\",\"percent\":41}";

        (await ApiAsync(reads, "GET", "logbook")).Text.ShouldContain("\"tanksophos-logbook\"");
        (await ApiAsync(reads, "GET", "assessment")).Text.ShouldContain("\"tanksophos-assessment\"");
        (await ApiAsync(reads, "POST", "entries", Entry)).Status.ShouldBe(HttpStatusCode.Forbidden);
        (await ApiAsync(logs, "POST", "entries", Entry)).Text.ShouldContain("\"added\":1");
        (await ApiAsync(logs, "POST", "entries", $"[{Entry}]")).Text.ShouldContain("\"alreadyThere\":1");
        (await ApiAsync(logs, "POST", "entries", Entry.Replace("41", "55", StringComparison.Ordinal))).Status.ShouldBe(HttpStatusCode.Conflict);
        (await ApiAsync(logs, "POST", "entries", "[{\"type\":\"reading\"}]")).Text.ShouldContain("entries[0].at");
        (await ApiAsync(logs, "GET", "elsewhere")).Status.ShouldBe(HttpStatusCode.NotFound);
        app.With(s => s.Log.Entry(1, "gadget-1"))!.Who.ShouldBe("porch panel");
        File.ReadAllText(Path.Combine(app.Folder, "tanksophos.db"), Encoding.Latin1).ShouldNotContain(logs);

        await app.PostAsync("/account", "/account?handler=DropToken", ("id", "2"));
        (await ApiAsync(logs, "POST", "entries", Entry)).Status.ShouldBe(HttpStatusCode.Unauthorized);
    }

    [Fact]
    public async Task A_form_without_its_token_changes_nothing_and_a_form_of_another_rig_finds_nothing()
    {
        using var content = new FormUrlEncodedContent([new("count", "7")]);
        (await app.Client.PostAsync(new Uri("/?handler=People", UriKind.Relative), content)).StatusCode.ShouldBe(HttpStatusCode.BadRequest);
        var foreign = app.With(s => s.Add(Core.Simulation.DemoSeason.Rig with { Name = "Elsewhere" }));
        (await app.PostAsync("/", "/?handler=People", ("count", "7"), ("__rig", foreign.ToString()))).Status.ShouldBe(HttpStatusCode.NotFound);
        app.With(s => s.Log.All(foreign).Count).ShouldBe(0);
    }

    [Fact]
    public async Task A_form_opened_for_one_rig_lands_there_though_another_was_chosen_meanwhile()
    {
        var second = app.With(s => s.Add(Core.Simulation.DemoSeason.Rig with { Name = "Second" }, owner: 1));
        (await app.PostAsync("/rigs", "/rigs?handler=Choose", ("id", second.ToString()))).Html.ShouldContain("Second");
        await app.PostAsync("/", "/?handler=People", ("id", "late"), ("count", "5"), ("__rig", "1"));
        app.With(s => s.Log.Entry(1, "late")).ShouldNotBeNull();
        app.With(s => s.Log.All(second).Count).ShouldBe(0);
    }

    [Fact]
    public async Task A_handler_that_is_not_there_is_refused_with_or_without_a_rig()
    {
        using var fresh = new App(own: true);
        foreach (var page in new[] { "/", "/logbook", "/entry/x", "/account", "/keeping", "/rig", "/rules", "/write", "/export/logbook" })
        {
            // Where a page takes one form only, the unknown name falls back to that form, which is empty here.
            (await app.PostAsync("/account", page + "?handler=Nope")).Status.ShouldBeOneOf([HttpStatusCode.NotFound, HttpStatusCode.BadRequest], page);
            ((int)(await fresh.PostAsync("/account", page + "?handler=Nope")).Status).ShouldBeLessThan(500, page);
            ((int)(await fresh.Client.GetAsync(new Uri(page + "?handler=Nope", UriKind.Relative))).StatusCode).ShouldBeLessThan(500, page);
        }
    }

    [Fact]
    public async Task The_answers_carry_what_keeps_strangers_out()
    {
        using var response = await app.Client.GetAsync(new Uri("/", UriKind.Relative));
        response.Headers.GetValues("X-Frame-Options").ShouldBe(["DENY"]);
        response.Headers.GetValues("X-Content-Type-Options").ShouldBe(["nosniff"]);
        response.Headers.GetValues("Content-Security-Policy").Single().ShouldContain("default-src 'none'");
        app.SignInCookieLine.ShouldContain("httponly", Case.Insensitive);
        app.SignInCookieLine.ShouldContain("samesite=lax", Case.Insensitive);
        using var rebound = new HttpRequestMessage(HttpMethod.Get, "/sign-in");
        rebound.Headers.Host = "evil.example";
        (await app.Visitor().SendAsync(rebound)).StatusCode.ShouldBe(HttpStatusCode.BadRequest);
    }

    [GeneratedRegex("value=\"http://localhost(/join/[0-9a-f]+)\"")]
    private static partial Regex Link();

    [GeneratedRegex("tks_[0-9a-f]{40}")]
    private static partial Regex Token();
}
