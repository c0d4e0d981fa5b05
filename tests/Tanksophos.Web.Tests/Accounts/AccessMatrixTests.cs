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
    private enum Needed { Anyone, SignedIn, Guest, Crew, Owner, Keeper }

    // What each handler must ask for, written down by hand and not taken from the pages themselves.
    private static readonly Dictionary<string, Needed> Table = new()
    {
        ["Today Get"] = Needed.Guest,
        ["Today Get Live"] = Needed.Guest,
        ["Today Get Progress"] = Needed.Guest,
        ["Sensors Get"] = Needed.Guest,
        ["Sensors Post Check"] = Needed.Crew,
        ["Sensors Post StandIn"] = Needed.Crew,
        ["Today Post Reading"] = Needed.Crew,
        ["Today Post Dump"] = Needed.Crew,
        ["Today Post Water"] = Needed.Crew,
        ["Today Post Valve"] = Needed.Crew,
        ["Today Post Dose"] = Needed.Crew,
        ["Today Post People"] = Needed.Crew,
        ["Today Post Stay"] = Needed.Crew,
        ["Today Post Usual"] = Needed.Crew,
        ["Today Post Undo"] = Needed.Crew,
        ["Today Post UndoBatch"] = Needed.Crew,
        ["More Get"] = Needed.Guest,
        ["SensorsLooks Get"] = Needed.Guest,
        ["SensorsLooks Get Csv"] = Needed.Guest,
        ["Care Get"] = Needed.Guest,
        ["Care Post Done"] = Needed.Crew,
        ["Care Post PutOff"] = Needed.Crew,
        ["Care Post Switch"] = Needed.Owner,
        ["Care Post Fresh"] = Needed.Owner,
        ["Care Post Drains"] = Needed.Owner,
        ["Care Post Add"] = Needed.Owner,
        ["Care Post Remove"] = Needed.Owner,
        ["CareSheet Get"] = Needed.Guest,
        ["CareCosts Get"] = Needed.Guest,
        ["CareCosts Get Csv"] = Needed.Guest,
        ["CareSeason Get"] = Needed.Crew,
        ["CareSeason Post Begin"] = Needed.Crew,
        ["CareSeason Post Step"] = Needed.Crew,
        ["CareSeason Post Finish"] = Needed.Crew,
        ["CareSeason Post GiveUp"] = Needed.Crew,
        ["Practice Get"] = Needed.Guest,
        ["Practice Post Start"] = Needed.Guest,
        ["PracticeCase Get"] = Needed.Guest,
        ["PracticeCase Post Ask"] = Needed.Guest,
        ["PracticeCase Post Answer"] = Needed.Guest,
        ["PracticeCase Post Share"] = Needed.Guest,
        ["PracticeTogether Get"] = Needed.Anyone,
        ["PracticeTogether Post"] = Needed.Anyone,
        ["PracticeVisit Get"] = Needed.Anyone,
        ["PracticeVisit Post Ask"] = Needed.Anyone,
        ["PracticeVisit Post Answer"] = Needed.Anyone,
        ["PracticeVisit Post Share"] = Needed.Anyone,
        ["PracticeVisitDebrief Get"] = Needed.Anyone,
        ["PracticeVisitDebrief Post Again"] = Needed.Anyone,
        ["PracticeDebrief Get"] = Needed.Guest,
        ["PracticeDebrief Post Again"] = Needed.Guest,
        ["PracticePictures Get"] = Needed.Guest,
        ["PracticeRun Get"] = Needed.Guest,
        ["PracticeRun Post Do"] = Needed.Guest,
        ["PracticeRun Post Another"] = Needed.Guest,
        ["Practice Post Run"] = Needed.Guest,
        ["Notices Get"] = Needed.Owner,
        ["Notices Post Add"] = Needed.Owner,
        ["Notices Post Remove"] = Needed.Owner,
        ["Notices Post Test"] = Needed.Owner,
        ["Weather Get"] = Needed.Guest,
        ["Weather Post Climate"] = Needed.Owner,
        ["Devices Get"] = Needed.Guest,
        ["Devices Post Add"] = Needed.Owner,
        ["Devices Post State"] = Needed.Owner,
        ["Devices Post Remove"] = Needed.Owner,
        ["Devices Post Bind"] = Needed.Owner,
        ["PracticePile Get"] = Needed.Guest,
        ["PracticePile Get Play"] = Needed.Guest,
        ["PracticeTwin Get"] = Needed.Guest,
        ["Mend Get"] = Needed.Guest,
        ["Mend Post Yes"] = Needed.Crew,
        ["Mend Post No"] = Needed.Crew,
        ["Log Get"] = Needed.Crew,
        ["Logbook Get"] = Needed.Guest,
        ["LogbookSheet Get"] = Needed.Guest,
        ["Logbook Post Undo"] = Needed.Crew,
        ["Logbook Post Restore"] = Needed.Crew,
        ["Entry Get"] = Needed.Guest,
        ["Entry Post Withdraw"] = Needed.Crew,
        ["Entry Post Note"] = Needed.Crew,
        ["Entry Post Version"] = Needed.Crew,
        ["Entry Post Photo"] = Needed.Crew,
        ["Entry Post PhotoOff"] = Needed.Crew,
        ["Photo Get"] = Needed.Guest,
        ["Write Get"] = Needed.Crew,
        ["Write Post"] = Needed.Crew,
        ["Export Get"] = Needed.Guest,
        ["Rig Get"] = Needed.Guest,
        ["Rig Post"] = Needed.Owner,
        ["Rig Post Draw"] = Needed.Owner,
        ["Rules Get"] = Needed.Guest,
        ["Rules Post"] = Needed.Owner,
        ["Trip Get"] = Needed.Guest,
        ["Trip Get Calendar"] = Needed.Guest,
        ["Trip Get Document"] = Needed.Guest,
        ["Trip Get Plan"] = Needed.Guest,
        ["Trip Get Compare"] = Needed.Guest,
        ["Trip Post New"] = Needed.Crew,
        ["Trip Post Add"] = Needed.Crew,
        ["Trip Post Stop"] = Needed.Crew,
        ["Trip Post Stretch"] = Needed.Crew,
        ["Trip Post Move"] = Needed.Crew,
        ["Trip Post DropStop"] = Needed.Crew,
        ["Trip Post Wish"] = Needed.Crew,
        ["Trip Post Rename"] = Needed.Crew,
        ["Trip Post Back"] = Needed.Crew,
        ["Trip Post Remove"] = Needed.Crew,
        ["Trip Post Restore"] = Needed.Crew,
        ["Trip Post Import"] = Needed.Crew,
        ["Trip Post Feed"] = Needed.Owner,
        ["Trip Post FeedOff"] = Needed.Owner,
        ["TripSheet Get"] = Needed.Guest,
        ["Run Get"] = Needed.Guest,
        ["Run Post Start"] = Needed.Crew,
        ["Run Post Flow"] = Needed.Crew,
        ["Run Post Room"] = Needed.Owner,
        ["RunAt Get"] = Needed.Crew,
        ["RunAt Get State"] = Needed.Crew,
        ["RunAt Get Live"] = Needed.Crew,
        ["RunAt Get Meter"] = Needed.Crew,
        ["RunAt Post Taps"] = Needed.Crew,
        ["RunAt Post Press"] = Needed.Crew,
        ["RunAt Post SetUp"] = Needed.Crew,
        ["RunCard Get"] = Needed.Guest,
        ["Treatments Get"] = Needed.Guest,
        ["Treatments Post In"] = Needed.Crew,
        ["Treatments Post Paper"] = Needed.Crew,
        ["Find Get"] = Needed.Guest,
        ["Find Post Noticed"] = Needed.Crew,
        ["Find Post Check"] = Needed.Crew,
        ["FindHealth Get"] = Needed.Guest,
        ["FindSheet Get"] = Needed.Guest,
        ["FindSheet Get Document"] = Needed.Guest,
        ["FindSheet Post Share"] = Needed.Owner,
        ["FindSheet Post Unshare"] = Needed.Owner,
        ["Alarm Get"] = Needed.Guest,
        ["Alarm Post Clear"] = Needed.Crew,
        ["Alarm Post Sounds"] = Needed.Crew,
        ["Alarm Post Mistake"] = Needed.Crew,
        ["TreatmentsShelf Get"] = Needed.Guest,
        ["TreatmentsShelf Post Save"] = Needed.Owner,
        ["TreatmentsShelf Post Bought"] = Needed.Owner,
        ["TreatmentsShelf Post Counted"] = Needed.Owner,
        ["TreatmentsShelf Post Away"] = Needed.Owner,
        ["TreatmentsShelf Post Use"] = Needed.Owner,
        ["Rigs Get"] = Needed.SignedIn,
        ["Rigs Post Choose"] = Needed.SignedIn,
        ["Rigs Post Archive"] = Needed.Owner,
        ["Rigs Post Delete"] = Needed.Owner,
        ["Start Get"] = Needed.SignedIn,
        ["Start Post"] = Needed.SignedIn,
        ["Start Post Draw"] = Needed.SignedIn,
        ["Start Post Sample"] = Needed.SignedIn,
        ["Import Get"] = Needed.SignedIn,
        ["Import Post"] = Needed.SignedIn,
        ["Import Post Confirm"] = Needed.SignedIn,
        ["Import Post Order"] = Needed.SignedIn,
        ["Import Post Columns"] = Needed.SignedIn,
        ["Import Post Undo"] = Needed.Owner,
        ["ImportWorking Get"] = Needed.SignedIn,
        ["ImportWorking Get State"] = Needed.SignedIn,
        ["ImportWorking Post Stop"] = Needed.SignedIn,
        ["Prefs Get"] = Needed.SignedIn,
        ["Prefs Post"] = Needed.SignedIn,
        ["Account Get"] = Needed.SignedIn,
        ["You Get"] = Needed.SignedIn,
        ["You Get Data"] = Needed.SignedIn,
        ["You Post Name"] = Needed.SignedIn,
        ["You Post Passphrase"] = Needed.SignedIn,
        ["You Post Everywhere"] = Needed.SignedIn,
        ["You Post End"] = Needed.SignedIn,
        ["You Post Key"] = Needed.SignedIn,
        ["You Post Codes"] = Needed.SignedIn,
        ["You Post Recovery"] = Needed.SignedIn,
        ["You Post NoCodes"] = Needed.SignedIn,
        ["You Post Delete"] = Needed.SignedIn,
        ["Programs Get"] = Needed.SignedIn,
        ["Guide Get"] = Needed.SignedIn,
        ["Account Post HandOver"] = Needed.Owner,
        ["Account Post Leave"] = Needed.Guest,
        ["Account Post Invite"] = Needed.Owner,
        ["Account Post Revoke"] = Needed.Owner,
        ["Account Post Token"] = Needed.Owner,
        ["Account Post DropToken"] = Needed.Owner,
        ["Account Post Member"] = Needed.Owner,
        ["Keeping Get"] = Needed.Keeper,
        ["Keeping Get File"] = Needed.Keeper,
        ["Keeping Post Now"] = Needed.Keeper,
        ["KeepingRestore Get"] = Needed.Keeper,
        ["KeepingRestore Post"] = Needed.Keeper,
        ["SetAside Get"] = Needed.Guest,
        ["SetAside Get Raw"] = Needed.Guest,
        ["SetAside Post Correct"] = Needed.Owner,
        ["SetAside Post Withdraw"] = Needed.Owner,
        ["SignOut Get"] = Needed.SignedIn,
        ["SignOut Post"] = Needed.SignedIn,
        ["SignIn Get"] = Needed.Anyone,
        ["SignIn Post"] = Needed.Anyone,
        ["SignIn Post Demo"] = Needed.Anyone,
        ["SignIn Post Code"] = Needed.Anyone,
        ["Look Get"] = Needed.Anyone,
        ["First Get"] = Needed.Anyone,
        ["First Post"] = Needed.Anyone,
        ["Join Get"] = Needed.Anyone,
        ["Join Post"] = Needed.Anyone,
        ["Error Get"] = Needed.Anyone,
        ["Offline Get"] = Needed.Anyone,
        ["Error Post"] = Needed.Anyone,
    };

    // These change who may do what, so they come last.
    private static readonly string[] Last = ["Trip Post Remove", "Account Post Leave", "SignOut Post", "You Post Everywhere", "SignIn Post Demo"];

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
            if (name == "You Post Everywhere" && visitor != "nobody")
                await AskAsync(client, "Post", "/sign-in", ("name", visitor), ("passphrase", App.Passphrase));
            var (status, location) = await AskAsync(client, method, url);
            var what = $"{visitor}: {name} answered {(int)status} {location}";
            ((int)status).ShouldBeLessThan(500, what);
            switch (Table[name])
            {
                case Needed.Anyone:
                    break;
                case var _ when visitor == "nobody":
                    location.ShouldStartWith("/sign-in", Case.Sensitive, what);
                    break;
                case Needed.SignedIn:
                    status.ShouldNotBe(HttpStatusCode.Forbidden, what);
                    location.ShouldNotStartWith("/sign-in?", Case.Sensitive, what); // signing out leads to /sign-in, without a way back
                    break;
                case Needed.Keeper: // who joins by invitation keeps nothing
                    status.ShouldBe(HttpStatusCode.Forbidden, what);
                    break;
                case var _ when visitor == "stranger":
                    status.ShouldBe(HttpStatusCode.NotFound, what);
                    break;
                case var least:
                    if (role >= Enum.Parse<Role>(least.ToString()))
                    {
                        status.ShouldNotBe(HttpStatusCode.Forbidden, what);
                        // A case is one's own: that of a word nobody has is not there.
                        if (method == "Get") status.ShouldBe(
                            url.StartsWith("/practice/", StringComparison.Ordinal) && url.Contains("/no-such-", StringComparison.Ordinal)
                                ? HttpStatusCode.NotFound : HttpStatusCode.OK, what);
                    }
                    else status.ShouldBe(HttpStatusCode.Forbidden, what);
                    break;
            }
        }
    }

    [Fact]
    public async Task Who_keeps_the_installation_reaches_the_backups()
    {
        (await app.GetAsync("/keeping")).ShouldShow("a[href*=Download], form[action*=Download], [data-backup]");
    }

    [Fact]
    public void Every_other_address_is_a_file_or_asks_for_a_token()
    {
        var others = app.Services.GetRequiredService<EndpointDataSource>().Endpoints.OfType<RouteEndpoint>()
            .Where(e => e.Metadata.GetMetadata<PageActionDescriptor>() is null
            && e.Metadata.All(m => !m.GetType().Name.Contains("StaticAsset", StringComparison.Ordinal)))
            .Select(e => e.RoutePattern.RawText!)
            .Where(r => !r.StartsWith("/api/v1", StringComparison.Ordinal) && !r.Contains('.', StringComparison.Ordinal)
            && !r.EndsWith(":file}", StringComparison.Ordinal)).ToList();
        // Whether it is well, and figures for this machine: nothing of anybody's rig.
        others.Order().ShouldBe(["/health", "/metrics"]);
    }

    [Theory]
    [InlineData("GET", "logbook")]
    [InlineData("GET", "assessment")]
    [InlineData("GET", "rig")]
    [InlineData("GET", "entries")]
    [InlineData("GET", "agenda")]
    [InlineData("GET", "plan")]
    [InlineData("GET", "devices")]
    [InlineData("GET", "care")]
    [InlineData("GET", "photos")]
    [InlineData("GET", "photos/1")]
    [InlineData("POST", "entries/x/photos")]
    [InlineData("POST", "measurements")]
    [InlineData("POST", "entries")]
    public async Task Without_a_token_no_program_gets_in_not_even_with_an_owners_cookie(string method, string what)
    {
        foreach (var client in new[] { app.Visitor(), app.Client })
        {
            using var request = new HttpRequestMessage(new HttpMethod(method), $"/api/v1/{what}")
            {
                Content = method == "POST"
                ? new StringContent("{}") : null
            };
            (await client.SendAsync(request)).StatusCode.ShouldBe(HttpStatusCode.Unauthorized);
        }
    }

    private (string Key, int Photo) Seed()
    {
        var key = app.With(s => s.Log.Page(1, 0, 1)).Entries[0].Key;
        using var scope = app.Services.CreateScope();
        var rig = scope.ServiceProvider.GetRequiredService<RigStore>().Find(1)!.Rig;
        var setting = new RunSetting
        {
            Rig = rig,
            Place = RunPlace.Sewer,
            Tanks = [.. rig.Tanks.Select(t => new RunTank(t, new LevelBand(0, 9, 20), new LevelBand(0, 1, 3), false))]
        };
        scope.ServiceProvider.GetRequiredService<RunStore>()
            .Start(1, RunBuilder.Offer(setting, RunForm.Full).Script!, "here", NodaTime.DateTimeZone.Utc, "Demo").Id.ShouldBe(1);
        return (key, scope.ServiceProvider.GetRequiredService<PhotoStore>().Add(1, key, PhotoFile.Check(Pictures.Png(), out _)!, "Demo")!.Value);
    }

    private async Task<HttpClient> JoinAsync(string visitor)
    {
        var client = app.Visitor(follow: false);
        if (visitor == "nobody") return client;
        using var scope = app.Services.CreateScope();
        var people = scope.ServiceProvider.GetRequiredService<PeopleStore>();
        // The stranger belongs to a rig, but to another one.
        var rig = visitor == "stranger" ? scope.ServiceProvider.GetRequiredService<RigStore>()
            .Add(Core.Simulation.DemoSeason.Rig with { Name = "Elsewhere" }) : 1;
        var word = people.Invite(rig, visitor switch { "guest" => Role.Guest, "crew" => Role.Crew, _ => Role.Owner });
        var (status, location) = await AskAsync(client, "Post", $"/join/{word}", ("name", visitor), ("passphrase", App.Passphrase), ("again", App.Passphrase));
        status.ShouldBe(HttpStatusCode.Redirect, location);
        return client;
    }

    private static async Task<(HttpStatusCode Status, string Location)> AskAsync(HttpClient client, string method, string url,
        params (string Name, string Value)[] fields)
    {
        HttpResponseMessage response;
        // a stream of news has no end
        if (method == "Get") response = await client.GetAsync(new Uri(url, UriKind.Relative), HttpCompletionOption.ResponseHeadersRead);
        else
        {
            // The token of a page of one's own: what is tested is the person, not the forged form.
            var page = url.StartsWith("/join/", StringComparison.Ordinal) ? url : "/sign-in";
            var html = await (await client.GetAsync(new Uri(page, UriKind.Relative))).Content.ReadAsStringAsync();
            if (!Token().IsMatch(html)) html = await (await client.GetAsync(new Uri("/account", UriKind.Relative))).Content.ReadAsStringAsync();
            using var content = new FormUrlEncodedContent([new("__RequestVerificationToken", Token().Match(html).Groups[1].Value),
                .. fields.Select(f => new KeyValuePair<string, string>(f.Name, f.Value))]);
            response = await client.PostAsync(new Uri(url, UriKind.Relative), content);
        }
        using (response) return (response.StatusCode, response.Headers.Location?.ToString().Replace("http://localhost", "", StringComparison.Ordinal) ?? "");
    }

    private async Task<List<(string Name, string Method, string Url)>> HandlersAsync(string key, int photo)
    {
        var loader = app.Services.GetRequiredService<PageLoader>();
        var handlers = new List<(string, string, string)>();
        foreach (var page in app.Services.GetRequiredService<IActionDescriptorCollectionProvider>().ActionDescriptors.Items.OfType<PageActionDescriptor>()
            .DistinctBy(p => p.ViewEnginePath))
        {
            var loaded = await loader.LoadAsync(page, new EndpointMetadataCollection());
            var template = page.AttributeRouteInfo!.Template!;
            var url = "/" + Parameter()
                .Replace(template, m => m.Groups[1].Value switch
                {
                    "key" => key,
                    "id" => photo.ToString(),
                    "what" => "logbook",
                    "recipe" => "enzyme",
                    "word" => "no-such-word",
                    "group" => "no-such-group",
                    "end" => "close",
                    "job" => "no-such-job",
                    _ => ""
                }).TrimEnd('/');
            foreach (var h in loaded.HandlerMethods)
            {
                var query = string.Join('&',
                    new[] { h.Name is { } n ? $"handler={n}" : null, "rig=1", h.Name == "File" ? "name=none" : null,
                    h.Name is "Archive" or "Delete" or "Choose" ? "id=1" : null }.OfType<string>());
                handlers.Add(($"{page.ViewEnginePath.Replace("/Index", "", StringComparison.Ordinal).Replace("/", "", StringComparison.Ordinal)} "
                    + $"{h.HttpMethod}{(h.Name is null ? "" : " " + h.Name)}",
                    h.HttpMethod, $"{url}?{query}"));
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
