using System.Net;
using System.Text.RegularExpressions;
using Tanksophos.Core.Log;

namespace Tanksophos.Web.Tests;

public sealed class PagesTests(SharedDemo shared) : IClassFixture<SharedDemo>
{
    private static readonly (string, string)[] Filled =
        [("name", "Dented Can"), ("layout", "black-and-two-grays"), ("black", "32 gal"), ("gray", "150 L"), ("units", "us"), ("people", "3"),
            ("monitor", "probes"), ("hookup", "dry"), ("emptied", "yes")];

    [Fact]
    public async Task The_first_run_asks_and_then_shows_Today()
    {
        using var app = new App();
        (await app.GetAsync("/")).ShouldShow("main[data-page='/Start/Index']");

        var (status, html) = await app.PostAsync("/start", "/start", Filled);

        status.ShouldBe(HttpStatusCode.OK);
        html.ShouldContain("<h2>Bath gray</h2>");
        html.ShouldShow("[data-hookup=dry]");
        html.ShouldContain("3 people");
        var rig = app.With(s => s.Rigs()).ShouldHaveSingleItem().Rig;
        rig.Tanks.Select(t => (t.Id, Math.Round(t.CapacityL, 1))).ShouldBe([("black", 121.1), ("gray-bath", 150), ("gray-galley", 150)]);
        app.With(s => s.Log.All(1)).Select(e => e.Type).ShouldBe(["stay", "dump", "dump", "dump"]);
        app.With(s => s.Log.All(1)).OfType<StayEntry>().Single().Zone!.Id.ShouldBe("America/Denver");
    }

    [Fact]
    public async Task The_tanks_are_drawn_as_they_are_typed_and_nothing_is_written()
    {
        using var app = new App();
        var (status, html) = await app.PostAsync("/start", "/start?handler=Draw", ("layout", "black-and-two-grays"),
            ("black", "22"), ("gray", "90 L"), ("monitor", "percent"), ("units", "us"));
        status.ShouldBe(HttpStatusCode.OK);
        html.Dom().QuerySelectorAll("[data-part=tanks] figcaption").Select(f => f.TextContent)
            .ShouldBe(["Black 22 gal", "Bath gray 24 gal", "Galley gray 24 gal"]);
        html.Dom().QuerySelector(".stud").ShouldBeNull();
        (await app.PostAsync("/start", "/start?handler=Draw", ("layout", "six"), ("black", "-3"), ("monitor", "?"))).Html
            .Dom().QuerySelectorAll("figure").Length.ShouldBe(2);
        app.With(s => s.Rigs()).ShouldBeEmpty();
    }

    [Fact]
    public async Task Sample_data_brings_a_rig_a_log_and_a_trip_that_belong_to_the_person()
    {
        using var app = new App();
        (await app.PostAsync("/start", "/start?handler=Sample")).Html.ShouldShow("main[data-page='/Today/Index']");
        app.With(s => s.Rigs()).ShouldHaveSingleItem().Rig.Tanks.Count.ShouldBe(3);
        (await app.GetAsync("/trip")).ShouldShow("[data-holds=yes]");
        (await app.GetAsync("/account")).ShouldContain("Owner");
    }

    [Fact]
    public async Task The_tour_is_offered_until_it_is_put_away_for_good()
    {
        using var app = new App();
        await app.PostAsync("/start", "/start", Filled);
        (await app.GetAsync("/")).ShouldShow("[data-tour]");
        await app.PostAsync("/", "/prefs", ("tour", "done"));
        (await app.GetAsync("/")).ShouldNotShow("[data-tour]");
    }

    [Fact]
    public async Task Weeks_begin_on_the_day_of_the_person()
    {
        using var app = new App();
        await app.PostAsync("/start", "/start", Filled);
        (await app.GetAsync("/account")).ShouldShow("select[name=week] option[value='7'][selected]");
        await app.PostAsync("/account", "/prefs", ("week", "1"));
        await app.PostAsync("/account", "/prefs", ("week", "0"));
        (await app.GetAsync("/account")).ShouldShow("select[name=week] option[value='1'][selected]");
        (await app.GetAsync("/logbook/sheet")).Dom().QuerySelectorAll("[data-period$=week]").Select(a => a.GetAttribute("href")!)
            .ShouldAllBe(a => NodaTime.Text.LocalDatePattern.Iso.Parse(Regex.Match(a, "from=([0-9-]+)").Groups[1].Value).Value.DayOfWeek
                == NodaTime.IsoDayOfWeek.Monday);
    }

    [Fact]
    public async Task Prices_stand_in_the_currency_of_the_person()
    {
        using var app = new App();
        await app.PostAsync("/start", "/start", Filled);
        (await app.GetAsync("/account")).ShouldShow("select[name=currency] option[value=usd][selected]");
        await app.PostAsync("/account", "/prefs", ("currency", "eur"));
        (await app.GetAsync("/account")).ShouldShow("select[name=currency] option[value=eur][selected]");
        await app.PostAsync("/account", "/prefs", ("currency", "shells"));
        (await app.GetAsync("/account")).ShouldShow("select[name=currency] option[value=eur][selected]");
    }

    [Fact]
    public void What_works_without_a_connection_has_every_part_of_the_pages()
    {
        var web = Path.Combine(Architecture.OneSourceTests.Root, "src", "Tanksophos.Web", "wwwroot");
        var worker = File.ReadAllText(Path.Combine(web, "sw.js"));
        var parts = Directory.EnumerateFiles(Path.Combine(web, "js", "parts"), "*.js").Select(Path.GetFileNameWithoutExtension).ToList();
        parts.Count.ShouldBeGreaterThan(10);
        parts.ShouldAllBe(p => worker.Contains($"'{p}'", StringComparison.Ordinal));
    }

    [Theory]
    [InlineData("black-and-gray", new[] { "black", "gray" })]
    [InlineData("gray-only", new[] { "gray" })]
    public async Task Every_starting_layout_leads_to_a_working_Today(string layout, string[] tanks)
    {
        using var app = new App();
        await app.PostAsync("/start", "/start",
            [.. Filled.Where(f => f.Item1 is not ("layout" or "monitor" or "emptied")), ("layout", layout), ("monitor", "none")]);

        app.With(s => s.Rigs()[0].Rig.Tanks.Select(t => t.Id)).ShouldBe(tanks);
        var html = await app.GetAsync("/");
        html.ShouldShow(".tank h2, [data-tank] h2, h2");
        html.ShouldShow("[data-agenda]");
    }

    [Theory]
    [InlineData("name", " ", "Name")]
    [InlineData("black", "4000", "Black capacity")]
    [InlineData("black", "-5", "Black capacity")]
    [InlineData("gray", "two buckets", "Gray capacity")]
    [InlineData("people", "many", "People")]
    [InlineData("layout", "six-tanks", "Tanks")]
    [InlineData("hookup", "marina", "Hookup")]
    [InlineData("monitor", "crystal-ball", "Panel")]
    public async Task What_cannot_be_taken_at_the_first_run_is_said_and_what_was_typed_stays(string field, string value, string words)
    {
        using var app = new App();

        var (status, html) = await app.PostAsync("/start", "/start", [.. Filled.Where(f => f.Item1 != field), (field, value)]);

        status.ShouldBe(HttpStatusCode.BadRequest);
        html.ShouldMatch($"(?s)role=\"alert\">.*{words}");
        if (field != "gray") html.ShouldContain("value=\"150 L\"");
        app.With(s => s.Rigs()).ShouldBeEmpty();
    }

    [Theory]
    [InlineData("/")]
    [InlineData("/logbook")]
    [InlineData("/import")]
    [InlineData("/rig")]
    [InlineData("/rules")]
    [InlineData("/write")]
    [InlineData("/write/odor")]
    [InlineData("/start")]
    [InlineData("/no-such-page")]
    public async Task Every_page_carries_the_strict_policy_and_asks_no_other_host_for_anything(string path)
    {
        var app = shared.Instance;
        using var response = await app.Client.GetAsync(new Uri(path, UriKind.Relative));
        var html = await response.Content.ReadAsStringAsync();

        var policy = response.Headers.GetValues("Content-Security-Policy").Single();
        policy.ShouldContain("default-src 'none'");
        policy.ShouldContain("script-src 'self'");
        policy.ShouldNotContain("unsafe");
        response.Headers.GetValues("X-Content-Type-Options").Single().ShouldBe("nosniff");
        html.ShouldNotMatch("<script(?![^>]* src=)(?! type=\"application/json\")[^>]*>");
        html.ShouldNotMatch("<style| style=\"| on[a-z]+=\"");
        Regex.Matches(html, "(?:src|href|action)=\"((?:https?:)?//[^\"]+)\"").ShouldBeEmpty();
    }

    [Fact]
    public async Task A_page_that_is_not_there_says_so()
    {
        var app = shared.Instance;
        using var response = await app.Client.GetAsync(new Uri("/no-such-page", UriKind.Relative));

        response.StatusCode.ShouldBe(HttpStatusCode.NotFound);
        (await response.Content.ReadAsStringAsync()).ShouldContain("Page not found");
    }

    [Theory]
    [InlineData("rig=abc; units=furlong; theme=\"><b>; zone=Mars%2FOlympus")]
    [InlineData("rig=-1; zone=%00%ff")]
    [InlineData("rig=99999999999999999999")]
    public async Task Broken_cookies_do_no_harm(string cookies)
    {
        var app = shared.Instance;
        using var request = new HttpRequestMessage(HttpMethod.Get, "/");
        request.Headers.Add("Cookie", cookies);
        using var response = await app.Client.SendAsync(request);
        response.StatusCode.ShouldBe(HttpStatusCode.OK);
    }

    [Theory]
    [InlineData("0")]
    [InlineData("-3")]
    [InlineData("2")]
    [InlineData("999999")]
    [InlineData("99999999999999")]
    [InlineData("two")]
    public async Task Any_page_number_of_the_logbook_shows_some_page(string page)
    {
        var app = shared.Instance;
        (await app.GetAsync($"/logbook?p={page}")).ShouldMatch("Page [1-3] of 3");
    }

    [Fact]
    public async Task The_logbook_is_newest_first()
    {
        var app = shared.Instance;
        var keys = Regex.Matches(await app.GetAsync("/logbook"), "data-key=\"([^\"]+)\"").Select(m => m.Groups[1].Value).ToList();

        keys.Count.ShouldBe(60);
        keys.ShouldBe(app.With(s => s.Log.Page(1, 0, 60)).Entries.Select(e => e.Key));
        app.With(s => s.Log.Page(1, 0, 60)).Entries.Select(e => e.Entry.Instant).ShouldBeInOrder(SortDirection.Descending);
    }

    [Theory]
    [InlineData("http://localhost/logbook?p=2", "/logbook?p=2")]
    [InlineData("http://localhost//elsewhere.example/", "/")]
    [InlineData("http://elsewhere.example/logbook", "/")]
    [InlineData("not a url", "/")]
    public async Task A_choice_leads_back_to_where_it_was_made_and_nowhere_else(string from, string to)
    {
        using var app = App.Demo();
        app.Client.DefaultRequestHeaders.TryAddWithoutValidation("Referer", from);
        using var response = await app.SendAsync("/", "/prefs", ("units", "us"));

        response.StatusCode.ShouldBe(HttpStatusCode.OK);
        response.RequestMessage!.RequestUri!.PathAndQuery.ShouldBe(to);
    }

    [Fact]
    public async Task Only_this_machine_s_names_are_answered()
    {
        var app = shared.Instance;
        using var request = new HttpRequestMessage(HttpMethod.Get, "/") { Headers = { Host = "elsewhere.example" } };
        using var response = await app.Client.SendAsync(request);
        response.StatusCode.ShouldBe(HttpStatusCode.BadRequest);
    }
}
