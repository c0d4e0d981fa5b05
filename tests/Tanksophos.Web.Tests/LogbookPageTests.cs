using System.Net;
using System.Text.RegularExpressions;
using Tanksophos.Core.Log;

namespace Tanksophos.Web.Tests;

public sealed class LogbookPageTests(SharedDemo shared) : IClassFixture<SharedDemo>
{
    private readonly App app = shared.Instance;

    private async Task<List<LogEntry>> ShownAsync(string query)
    {
        var keys = Regex.Matches(await app.GetAsync("/logbook?" + query), "data-key=\"([^\"]+)\"").Select(m => m.Groups[1].Value);
        return [.. keys.Select(k => app.With(s => s.Log.Entry(1, k))!.Entry)];
    }

    [Fact]
    public async Task Tank_and_kind_narrow_the_list()
    {
        var dumps = await ShownAsync("tank=black&type=dump");
        dumps.ShouldNotBeEmpty();
        dumps.ShouldAllBe(e => e is DumpEntry && e.Tank == "black");
        dumps.Count.ShouldBe(app.With(s => s.Log.All(1)).Count(e => e is DumpEntry { Tank: "black" }));
    }

    [Fact]
    public async Task Words_are_looked_for_in_everything_an_entry_says()
    {
        (await ShownAsync("text=Lantern")).ShouldAllBe(e => e is StayEntry);
        (await ShownAsync("text=lantern HOLLOW")).ShouldNotBeEmpty();
        (await ShownAsync("text=built-in")).ShouldAllBe(e => e is FlushEntry);
        (await app.GetAsync("/logbook?text=%25")).ShouldShow("[data-empty=no-match]"); // a percent sign is a percent sign
        (await app.GetAsync("/logbook?text=_%27%20OR%201=1")).ShouldShow("[data-empty=no-match]");
        (await app.GetAsync("/logbook?text=" + new string('x', 5000))).ShouldShow("[data-empty=no-match]");
        (await app.GetAsync("/logbook?text=<script>")).ShouldContain("value=\"<script>\""); // decoded here; encoded on the page
        (await app.Client.GetStringAsync(new Uri("/logbook?text=%3Cscript%3E", UriKind.Relative))).ShouldNotContain("<script>\"");
    }

    [Fact]
    public async Task A_day_is_jumped_to()
    {
        using var response = await app.Visitor(follow: false).GetAsync(new Uri("/logbook", UriKind.Relative));
        response.StatusCode.ShouldBe(HttpStatusCode.Redirect); // nobody reads it without signing in
        var first = app.With(s => s.Log.All(1))[0].At.Date;
        var html = await app.GetAsync($"/logbook?day={first:uuuu-MM-dd}");
        html.ShouldContain($"id=\"d{first:uuuu-MM-dd}\"");
        html.ShouldMatch("Page [3-9] of [3-9]");
        (await app.GetAsync("/logbook?day=2031-01-01")).ShouldContain("Page 1 of");
        (await app.GetAsync("/logbook?day=soon")).ShouldShow("[role=alert]");
        (await app.GetAsync("/logbook?day=0001-01-01")).ShouldShow("[role=alert]");
    }

    [Fact]
    public async Task The_ribbon_shows_the_days_of_the_page()
    {
        var html = await app.GetAsync("/logbook");
        html.ShouldContain("class=\"flow-line");
        Regex.Count(html, "class=\"pin").ShouldBe((await ShownAsync("")).OfType<DumpEntry>().Count());
        html.ShouldNotContain(">now</text>");
    }

    [Theory]
    [InlineData("/logbook?p=99999", "Page 3 of 3")]
    [InlineData("/logbook?p=-1", "Page 1 of 3")]
    [InlineData("/logbook?type=nonsense", "172 entries, newest first")]
    [InlineData("/logbook?tank=none", "data-empty=\"no-match\"")]
    public async Task What_is_asked_wrongly_is_answered_sensibly(string path, string words) => (await app.GetAsync(path)).ShouldContain(words);

    [Fact]
    public async Task A_stretch_of_days_goes_on_paper_with_what_it_adds_up_to()
    {
        var sheet = await app.GetAsync("/logbook/sheet?from=2026-05-28&to=2026-06-04");
        var (first, last) = (new NodaTime.LocalDate(2026, 5, 28), new NodaTime.LocalDate(2026, 6, 4));
        var entries = app.With(s => s.Log.All(1)).Where(e => e.At.Date >= first && e.At.Date <= last).ToList();
        entries.OfType<DumpEntry>().Count(d => d.Tank == "black").ShouldBeGreaterThan(0);
        sheet.Text("[data-total=dumps-black]").ShouldStartWith($"{entries.OfType<DumpEntry>().Count(d => d.Tank == "black")} ");
        sheet.Text("[data-total=rinses]").ShouldStartWith($"{entries.OfType<FlushEntry>().Sum(f => f.Cycles.Count)}");
        sheet.Text("[data-total=doses]").ShouldBe($"{entries.OfType<DoseEntry>().Count()}");
        sheet.Dom().QuerySelectorAll("section tr").Length.ShouldBe(entries.Count);
        foreach (var wrong in new[] { "from=2026-06-04&to=2026-05-28", "from=yesterday", "to=9999-12-31" })
            (await app.Client.GetAsync(new Uri($"/logbook/sheet?{wrong}", UriKind.Relative))).StatusCode.ShouldBe(System.Net.HttpStatusCode.BadRequest, wrong);
    }
}
