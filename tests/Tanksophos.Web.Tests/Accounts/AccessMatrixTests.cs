using System.Net;
using System.Text.RegularExpressions;
using Microsoft.AspNetCore.Http;
using Microsoft.AspNetCore.Mvc.Infrastructure;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.Mvc.RazorPages.Infrastructure;
using Microsoft.AspNetCore.Routing;
using Microsoft.Extensions.DependencyInjection;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Levels;
using Tanksophos.Data;

namespace Tanksophos.Web.Tests.Accounts;

/// <summary>Every page and handler there is, asked by everybody there can be. A page that is not in the table fails the test.</summary>
public sealed partial class AccessMatrixTests : IDisposable
{
    private enum Least { Anyone, SignedIn, Guest, Crew, Owner, Keeper }

    // What each handler must ask for, written down by hand and not taken from the pages themselves.
    private static readonly Dictionary<string, Least> Table = new()
    {
        ["Today Get"] = Least.Guest,
        ["Today Get Progress"] = Least.Guest,
        ["Sensors Get"] = Least.Guest,
        ["Sensors Post Check"] = Least.Crew,
        ["Sensors Post StandIn"] = Least.Crew,
        ["Today Post Reading"] = Least.Crew,
        ["Today Post Dump"] = Least.Crew,
        ["Today Post Water"] = Least.Crew,
        ["Today Post Valve"] = Least.Crew,
        ["Today Post Dose"] = Least.Crew,
        ["Today Post People"] = Least.Crew,
        ["Today Post Stay"] = Least.Crew,
        ["Today Post Usual"] = Least.Crew,
        ["Today Post Undo"] = Least.Crew,
        ["Today Post UndoBatch"] = Least.Crew,
        ["Logbook Get"] = Least.Guest,
        ["Logbook Post Undo"] = Least.Crew,
        ["Logbook Post Restore"] = Least.Crew,
        ["Entry Get"] = Least.Guest,
        ["Entry Post Withdraw"] = Least.Crew,
        ["Entry Post Note"] = Least.Crew,
        ["Entry Post Version"] = Least.Crew,
        ["Entry Post Photo"] = Least.Crew,
        ["Entry Post PhotoOff"] = Least.Crew,
        ["Photo Get"] = Least.Guest,
        ["Write Get"] = Least.Crew,
        ["Write Post"] = Least.Crew,
        ["Export Get"] = Least.Guest,
        ["Rig Get"] = Least.Guest,
        ["Rig Post"] = Least.Owner,
        ["Rig Post Draw"] = Least.Owner,
        ["Rules Get"] = Least.Guest,
        ["Rules Post"] = Least.Owner,
        ["Trip Get"] = Least.Guest,
        ["Trip Get Calendar"] = Least.Guest,
        ["Trip Get Document"] = Least.Guest,
        ["Trip Get Plan"] = Least.Guest,
        ["Trip Get Compare"] = Least.Guest,
        ["Trip Post New"] = Least.Crew,
        ["Trip Post Add"] = Least.Crew,
        ["Trip Post Stop"] = Least.Crew,
        ["Trip Post Stretch"] = Least.Crew,
        ["Trip Post Move"] = Least.Crew,
        ["Trip Post DropStop"] = Least.Crew,
        ["Trip Post Wish"] = Least.Crew,
        ["Trip Post Rename"] = Least.Crew,
        ["Trip Post Back"] = Least.Crew,
        ["Trip Post Remove"] = Least.Crew,
        ["Trip Post Restore"] = Least.Crew,
        ["Trip Post Import"] = Least.Crew,
        ["Trip Post Feed"] = Least.Owner,
        ["Trip Post FeedOff"] = Least.Owner,
        ["TripSheet Get"] = Least.Guest,
        ["Run Get"] = Least.Guest,
        ["Run Post Start"] = Least.Crew,
        ["Run Post Flow"] = Least.Crew,
        ["Run Post Room"] = Least.Owner,
        ["RunAt Get"] = Least.Crew,
        ["RunAt Get State"] = Least.Crew,
        ["RunAt Get Live"] = Least.Crew,
        ["RunAt Post Taps"] = Least.Crew,
        ["RunAt Post Press"] = Least.Crew,
        ["RunAt Post SetUp"] = Least.Crew,
        ["RunCard Get"] = Least.Guest,
        ["Treatments Get"] = Least.Guest,
        ["Treatments Post In"] = Least.Crew,
        ["Treatments Post Paper"] = Least.Crew,
        ["Find Get"] = Least.Guest,
        ["Find Post Noticed"] = Least.Crew,
        ["Find Post Check"] = Least.Crew,
        ["FindHealth Get"] = Least.Guest,
        ["FindSheet Get"] = Least.Guest,
        ["FindSheet Get Document"] = Least.Guest,
        ["Alarm Get"] = Least.Guest,
        ["Alarm Post Clear"] = Least.Crew,
        ["Alarm Post Sounds"] = Least.Crew,
        ["Alarm Post Mistake"] = Least.Crew,
        ["TreatmentsShelf Get"] = Least.Guest,
        ["TreatmentsShelf Post Save"] = Least.Owner,
        ["TreatmentsShelf Post Bought"] = Least.Owner,
        ["TreatmentsShelf Post Counted"] = Least.Owner,
        ["TreatmentsShelf Post Away"] = Least.Owner,
        ["TreatmentsShelf Post Use"] = Least.Owner,
        ["Rigs Get"] = Least.SignedIn,
        ["Rigs Post Choose"] = Least.SignedIn,
        ["Rigs Post Archive"] = Least.Owner,
        ["Rigs Post Delete"] = Least.Owner,
        ["Start Get"] = Least.SignedIn,
        ["Start Post"] = Least.SignedIn,
        ["Import Get"] = Least.SignedIn,
        ["Import Post"] = Least.SignedIn,
        ["Import Post Confirm"] = Least.SignedIn,
        ["Prefs Get"] = Least.SignedIn,
        ["Prefs Post"] = Least.SignedIn,
        ["Account Get"] = Least.SignedIn,
        ["Account Post Passphrase"] = Least.SignedIn,
        ["Account Post Everywhere"] = Least.SignedIn,
        ["Account Post Leave"] = Least.Guest,
        ["Account Post Invite"] = Least.Owner,
        ["Account Post Revoke"] = Least.Owner,
        ["Account Post Token"] = Least.Owner,
        ["Account Post DropToken"] = Least.Owner,
        ["Account Post Member"] = Least.Owner,
        ["Keeping Get"] = Least.Keeper,
        ["Keeping Get File"] = Least.Keeper,
        ["Keeping Post Now"] = Least.Keeper,
        ["KeepingRestore Get"] = Least.Keeper,
        ["KeepingRestore Post"] = Least.Keeper,
        ["SetAside Get"] = Least.Guest,
        ["SetAside Get Raw"] = Least.Guest,
        ["SetAside Post Correct"] = Least.Owner,
        ["SetAside Post Withdraw"] = Least.Owner,
        ["SignOut Get"] = Least.SignedIn,
        ["SignOut Post"] = Least.SignedIn,
        ["SignIn Get"] = Least.Anyone,
        ["SignIn Post"] = Least.Anyone,
        ["SignIn Post Demo"] = Least.Anyone,
        ["First Get"] = Least.Anyone,
        ["First Post"] = Least.Anyone,
        ["Join Get"] = Least.Anyone,
        ["Join Post"] = Least.Anyone,
        ["Error Get"] = Least.Anyone,
        ["Error Post"] = Least.Anyone,
    };

    // These change who may do what, so they come last.
    private static readonly string[] Last = ["Trip Post Remove", "Account Post Leave", "SignOut Post", "Account Post Everywhere", "SignIn Post Demo"];

    private readonly App app = App.Demo(own: true);

    public void Dispose() => app.Dispose();

    public static TheoryData<string> Visitors => ["nobody", "stranger", "guest", "crew", "owner"];

    [Theory]
    [MemberData(nameof(Visitors))]
    public async Task Everybody_may_do_what_the_table_says_and_no_more(string visitor)
    {
        var (key, photo) = Seed();
        var client = await JoinAsync(visitor);
        var role = visitor switch { "guest" => Role.Guest, "crew" => Role.Crew, "owner" => Role.Owner, _ => (Role?)null };
        foreach (var (name, method, url) in (await HandlersAsync(key, photo)).OrderBy(h => Array.IndexOf(Last, h.Name)))
        {
            Table.ShouldContainKey(name, "a page without a line in the table");
            if (name == "Account Post Everywhere" && visitor != "nobody") await AskAsync(client, "Post", "/sign-in", ("name", visitor), ("passphrase", App.Passphrase));
            var (status, location) = await AskAsync(client, method, url);
            var what = $"{visitor}: {name} answered {(int)status} {location}";
            ((int)status).ShouldBeLessThan(500, what);
            switch (Table[name])
            {
                case Least.Anyone:
                    break;
                case var _ when visitor == "nobody":
                    location.ShouldStartWith("/sign-in", Case.Sensitive, what);
                    break;
                case Least.SignedIn:
                    status.ShouldNotBe(HttpStatusCode.Forbidden, what);
                    location.ShouldNotStartWith("/sign-in?", Case.Sensitive, what); // signing out leads to /sign-in, without a way back
                    break;
                case Least.Keeper: // who joins by invitation keeps nothing
                    status.ShouldBe(HttpStatusCode.Forbidden, what);
                    break;
                case var _ when visitor == "stranger":
                    status.ShouldBe(HttpStatusCode.NotFound, what);
                    break;
                case var least:
                    if (role >= Enum.Parse<Role>(least.ToString()))
                    {
                        status.ShouldNotBe(HttpStatusCode.Forbidden, what);
                        if (method == "Get") status.ShouldBe(HttpStatusCode.OK, what);
                    }
                    else status.ShouldBe(HttpStatusCode.Forbidden, what);
                    break;
            }
        }
    }

    [Fact]
    public async Task Who_keeps_the_installation_reaches_the_backups()
    {
        (await app.GetAsync("/keeping")).ShouldContain("Take a backup now");
    }

    [Fact]
    public void Every_other_address_is_a_file_or_asks_for_a_token()
    {
        var others = app.Services.GetRequiredService<EndpointDataSource>().Endpoints.OfType<RouteEndpoint>()
            .Where(e => e.Metadata.GetMetadata<PageActionDescriptor>() is null && e.Metadata.All(m => !m.GetType().Name.Contains("StaticAsset", StringComparison.Ordinal)))
            .Select(e => e.RoutePattern.RawText!).Where(r => !r.StartsWith("/api/v1", StringComparison.Ordinal) && !r.Contains('.', StringComparison.Ordinal) && !r.EndsWith(":file}", StringComparison.Ordinal)).ToList();
        others.ShouldBeEmpty();
    }

    [Theory]
    [InlineData("GET", "logbook")]
    [InlineData("GET", "assessment")]
    [InlineData("POST", "entries")]
    public async Task Without_a_token_no_program_gets_in_not_even_with_an_owners_cookie(string method, string what)
    {
        foreach (var client in new[] { app.Visitor(), app.Client })
        {
            using var request = new HttpRequestMessage(new HttpMethod(method), $"/api/v1/{what}") { Content = method == "POST" ? new StringContent("{}") : null };
            (await client.SendAsync(request)).StatusCode.ShouldBe(HttpStatusCode.Unauthorized);
        }
    }

    private (string Key, int Photo) Seed()
    {
        var key = app.With(s => s.Log.Page(1, 0, 1)).Entries[0].Key;
        using var scope = app.Services.CreateScope();
        var rig = scope.ServiceProvider.GetRequiredService<RigStore>().Find(1)!.Rig;
        var setting = new RunSetting { Rig = rig, Place = RunPlace.Sewer, Tanks = [.. rig.Tanks.Select(t => new RunTank(t, new LevelBand(0, 9, 20), new LevelBand(0, 1, 3), false))] };
        scope.ServiceProvider.GetRequiredService<RunStore>().Start(1, RunBuilder.Offer(setting, RunForm.Full).Script!, "here", NodaTime.DateTimeZone.Utc, "Demo").Id.ShouldBe(1);
        return (key, scope.ServiceProvider.GetRequiredService<PhotoStore>().Add(1, key, PhotoFile.Check(Pictures.Png(), out _)!, "Demo")!.Value);
    }

    private async Task<HttpClient> JoinAsync(string visitor)
    {
        var client = app.Visitor(follow: false);
        if (visitor == "nobody") return client;
        using var scope = app.Services.CreateScope();
        var people = scope.ServiceProvider.GetRequiredService<PeopleStore>();
        // The stranger belongs to a rig, but to another one.
        var rig = visitor == "stranger" ? scope.ServiceProvider.GetRequiredService<RigStore>().Add(Core.Simulation.DemoSeason.Rig with { Name = "Elsewhere" }) : 1;
        var word = people.Invite(rig, visitor switch { "guest" => Role.Guest, "crew" => Role.Crew, _ => Role.Owner });
        var (status, location) = await AskAsync(client, "Post", $"/join/{word}", ("name", visitor), ("passphrase", App.Passphrase), ("again", App.Passphrase));
        status.ShouldBe(HttpStatusCode.Redirect, location);
        return client;
    }

    private static async Task<(HttpStatusCode Status, string Location)> AskAsync(HttpClient client, string method, string url, params (string Name, string Value)[] fields)
    {
        HttpResponseMessage response;
        if (method == "Get") response = await client.GetAsync(new Uri(url, UriKind.Relative), HttpCompletionOption.ResponseHeadersRead); // a stream of news has no end
        else
        {
            // The token of a page of one's own: what is tested is the person, not the forged form.
            var page = url.StartsWith("/join/", StringComparison.Ordinal) ? url : "/sign-in";
            var html = await (await client.GetAsync(new Uri(page, UriKind.Relative))).Content.ReadAsStringAsync();
            if (!Token().IsMatch(html)) html = await (await client.GetAsync(new Uri("/account", UriKind.Relative))).Content.ReadAsStringAsync();
            using var content = new FormUrlEncodedContent([new("__RequestVerificationToken", Token().Match(html).Groups[1].Value), .. fields.Select(f => new KeyValuePair<string, string>(f.Name, f.Value))]);
            response = await client.PostAsync(new Uri(url, UriKind.Relative), content);
        }
        using (response) return (response.StatusCode, response.Headers.Location?.ToString().Replace("http://localhost", "", StringComparison.Ordinal) ?? "");
    }

    private async Task<List<(string Name, string Method, string Url)>> HandlersAsync(string key, int photo)
    {
        var loader = app.Services.GetRequiredService<PageLoader>();
        var handlers = new List<(string, string, string)>();
        foreach (var page in app.Services.GetRequiredService<IActionDescriptorCollectionProvider>().ActionDescriptors.Items.OfType<PageActionDescriptor>().DistinctBy(p => p.ViewEnginePath))
        {
            var loaded = await loader.LoadAsync(page, new EndpointMetadataCollection());
            var template = page.AttributeRouteInfo!.Template!;
            var url = "/" + Parameter().Replace(template, m => m.Groups[1].Value switch { "key" => key, "id" => photo.ToString(), "what" => "logbook", "recipe" => "enzyme", "word" => "no-such-word", _ => "" }).TrimEnd('/');
            foreach (var h in loaded.HandlerMethods)
            {
                var query = string.Join('&', new[] { h.Name is { } n ? $"handler={n}" : null, "rig=1", h.Name == "File" ? "name=none" : null, h.Name is "Archive" or "Delete" or "Choose" ? "id=1" : null }.OfType<string>());
                handlers.Add(($"{page.ViewEnginePath.Replace("/Index", "", StringComparison.Ordinal).Replace("/", "", StringComparison.Ordinal)} {h.HttpMethod}{(h.Name is null ? "" : " " + h.Name)}", h.HttpMethod, $"{url}?{query}"));
            }
        }
        handlers.Count.ShouldBe(Table.Count, "the table has lines without a page");
        return handlers;
    }

    [GeneratedRegex("name=\"__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)\"")]
    private static partial Regex Token();

    [GeneratedRegex(@"\{([a-z]+)[^}]*\}")]
    private static partial Regex Parameter();
}
