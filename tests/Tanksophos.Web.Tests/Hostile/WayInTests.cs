using System.Net;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Rigs;

namespace Tanksophos.Web.Tests.Hostile;

/// <summary>Ways in that must stay shut, and doors that must not lock their owners out.</summary>
public sealed class WayInTests : IDisposable
{
    private readonly App app = new(own: true);

    public void Dispose() => app.Dispose();

    private static async Task<(HttpStatusCode Status, string Html)> SignInAsync(App app, HttpClient client, string name, string passphrase)
    {
        app.As(client);
        return await app.PostAsync("/sign-in", "/sign-in", ("name", name), ("passphrase", passphrase));
    }

    [Fact]
    public async Task A_cookie_is_worthless_after_signing_out()
    {
        var cookie = app.SignInCookie;
        (await app.GetAsync("/account")).ShouldContain($"<h1>{App.Owner}</h1>");
        (await app.PostAsync("/account", "/sign-out")).Status.ShouldBe(HttpStatusCode.OK);
        var thief = app.Visitor();
        thief.DefaultRequestHeaders.Add("Cookie", cookie);
        (await (await thief.GetAsync(new Uri("/account", UriKind.Relative))).Content.ReadAsStringAsync()).ShouldShow("main[data-page='/SignIn/Index']");
    }

    [Fact]
    public async Task Names_that_exist_and_names_that_do_not_are_answered_alike_and_nobody_locks_anybody_out()
    {
        var owner = app.Client; // has signed in from here before
        await app.PostAsync("/account", "/sign-out");
        (await SignInAsync(app, owner, App.Owner, App.Passphrase)).Status.ShouldBe(HttpStatusCode.OK);
        await app.PostAsync("/account", "/sign-out");
        var answers = new List<string>();
        foreach (var name in new[] { App.Owner, "nobody" })
        {
            var stranger = app.Visitor();
            for (var i = 0; i < 4; i++) answers.Add(Alert((await SignInAsync(app, stranger, name, "guess number " + i)).Html));
        }
        answers.Distinct().ShouldHaveSingleItem();
        // The stranger waits, whatever the name; the owner's own browser does not.
        var throttle = app.Services.GetRequiredService<SignInThrottle>();
        var context = new Microsoft.AspNetCore.Http.DefaultHttpContext();
        foreach (var name in new[] { App.Owner, "nobody" })
            for (var i = 0; i < SignInThrottle.MaxWrong; i++) throttle.Wrong(context, name, null);
        throttle.Waits(context, App.Owner, null).ShouldBeTrue();
        throttle.Waits(context, "nobody", null).ShouldBeTrue();
        throttle.Waits(context, "somebody else", null).ShouldBeFalse();
        app.Clock.Advance(Duration.FromMinutes(6));
        throttle.Waits(context, App.Owner, null).ShouldBeFalse();
    }

    [Fact]
    public async Task The_owners_own_browser_gets_in_while_strangers_at_the_same_address_wait()
    {
        var owner = app.Client;
        await app.PostAsync("/account", "/sign-out");
        (await SignInAsync(app, owner, App.Owner, App.Passphrase)).Status.ShouldBe(HttpStatusCode.OK);
        await app.PostAsync("/account", "/sign-out");
        var stranger = app.Visitor();
        for (var i = 0; i < 5; i++) await SignInAsync(app, stranger, App.Owner, "guess number " + i);
        Alert((await SignInAsync(app, stranger, App.Owner, App.Passphrase)).Html).ShouldContain("Too many");
        (await SignInAsync(app, owner, App.Owner, App.Passphrase)).Html.ShouldNotContain("role=\"alert\"");
    }

    [Fact]
    public async Task The_demos_door_opens_no_other_one()
    {
        var stranger = app.Visitor();
        app.As(stranger);
        var token = await app.TokenAsync("/sign-in");
        HttpStatusCode last = default;
        for (var i = 0; i < 12; i++)
        {
            using var form = new FormUrlEncodedContent([new("__RequestVerificationToken", token), new("name", "x"), new("passphrase", "guess")]);
            last = (await stranger.PostAsync(new Uri($"/join/{i}?handler=Demo", UriKind.Relative), form)).StatusCode;
        }
        last.ShouldBe(HttpStatusCode.TooManyRequests);
    }

    [Fact]
    public async Task Of_several_first_visitors_at_once_one_keeps_the_installation()
    {
        using var fresh = new App(signedIn: false, own: true);
        var forms = await Task.WhenAll(Enumerable.Range(0, 6).Select(async i =>
        {
            var visitor = fresh.Visitor();
            var html = await visitor.GetStringAsync(new Uri("/first", UriKind.Relative));
            return (visitor, token: System.Text.RegularExpressions.Regex.Match(html,
                "name=\"__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)\"").Groups[1].Value, i);
        }));
        await Task.WhenAll(forms.Select(async f =>
        {
            using var form = new FormUrlEncodedContent([new("__RequestVerificationToken", f.token), new("name", "Person " + f.i),
                new("passphrase", App.Passphrase), new("again", App.Passphrase)]);
            using var response = await f.visitor.PostAsync(new Uri("/first", UriKind.Relative), form);
            ((int)response.StatusCode).ShouldBeLessThan(500);
        }));
        using var scope = fresh.Services.CreateScope();
        scope.ServiceProvider.GetRequiredService<TanksophosContext>().Users.Count().ShouldBe(1);
    }

    [Fact]
    public void Uploads_that_wait_have_a_quota_for_each_person_and_no_stranger_finds_them()
    {
        var uploads = new Uploads(new DataFolder(app.Folder));
        var tokens = Enumerable.Range(0, 5).Select(i => uploads.Keep([1, 2, (byte)i], 7)).ToList();
        var others = uploads.Keep([9], 70);
        Directory.EnumerateFiles(Path.Combine(app.Folder, "staging"), "7-*").Count().ShouldBe(Uploads.MaxPerPerson);
        uploads.Find(tokens[^1], 7).ShouldNotBeNull();
        uploads.Find(tokens[^1], 70).ShouldBeNull();
        uploads.Find(others, 7).ShouldBeNull();
        uploads.Find("7-../../tanksophos.db", 7).ShouldBeNull();
        uploads.Find(null, 7).ShouldBeNull();
        uploads.Forget(others, 70);
        uploads.Find(others, 70).ShouldBeNull();
    }

    [Fact]
    public void A_picture_of_a_hundred_megapixels_is_refused_however_small_its_file()
    {
        PhotoFile.Check(Pictures.Png(4000), out _).ShouldNotBeNull();
        PhotoFile.Check(Pictures.Png(10_000), out var problem).ShouldBeNull();
        problem.ShouldContain("megapixels");
    }

    [Fact]
    public async Task Encrypted_answers_ask_for_encryption_from_now_on_only_where_the_host_is_a_name()
    {
        async Task<bool> AsksAsync(string address)
        {
            using var request = new HttpRequestMessage(HttpMethod.Get, address);
            using var response = await app.Client.SendAsync(request);
            return response.Headers.Contains("Strict-Transport-Security");
        }
        var name = Addresses.Hosts(true)
            .FirstOrDefault(h => !h.Contains("localhost", StringComparison.Ordinal) && !IPAddress.TryParse(h.Trim('[', ']'), out _)) ?? "rig.local";
        (await AsksAsync($"https://{name}/sign-in")).ShouldBeTrue();
        (await AsksAsync("https://localhost/sign-in")).ShouldBeFalse();
        (await AsksAsync("https://127.0.0.1/sign-in")).ShouldBeFalse();
        (await AsksAsync($"http://{name}/sign-in")).ShouldBeFalse();
    }

    private static string Alert(string html) => System.Text.RegularExpressions.Regex.Match(html, "role=\"alert\"[^>]*>(.*?)</div>",
        System.Text.RegularExpressions.RegexOptions.Singleline).Groups[1].Value;
}
