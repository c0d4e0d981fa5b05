using System.Net;
using System.Text.RegularExpressions;
using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Web.Tests;

public sealed class TodayTests : IDisposable
{
    private readonly App app = App.Demo();

    public void Dispose() => app.Dispose();

    private IReadOnlyList<LogEntry> Log => app.With(s => s.Log.All(1));

    private static int Level(string html, string tank) =>
        int.Parse(Regex.Match(html, $"<h2>{tank}</h2>\\s*<p class=\"level\"><strong>(\\d+) %").Groups[1].Value,
            System.Globalization.CultureInfo.InvariantCulture);

    [Fact]
    public async Task It_shows_each_tank_with_range_marks_and_the_panel_s_word()
    {
        var html = await app.GetAsync("/");

        html.ShouldContain("Lantern Hollow");
        foreach (var tank in new[] { "Black", "Bath gray", "Galley gray" }) html.ShouldContain($"<h2>{tank}</h2>");
        Level(html, "Black").ShouldBeInRange(40, 68);
        html.Text("[data-reaches=dump-level][data-expected=later] td").ShouldMatch("\\d+:\\d\\d [AP]M");
        html.Text("[data-doubted]").ShouldContain("1/3");
        html.ShouldShow("[data-agenda=dump-run][data-tank^=black]");
    }

    [Theory]
    [InlineData("Reading", "tank=black&via=panel&lit=low mid")]
    [InlineData("Reading", "tank=black&via=sight&fraction=60")]
    [InlineData("Reading", "tank=galley&via=panel&percent=12")]
    [InlineData("Dump", "tank=black&minutes=2.5&flow=rush")]
    [InlineData("Water", "tank=black&amount=3 gal&purpose=top-up")]
    [InlineData("Valve", "tank=bath&state=closed")]
    [InlineData("Dose", "tank=black")]
    [InlineData("People", "count=4")]
    [InlineData("Stay", "hookup=dry&place=Tin Mesa")]
    public async Task What_is_logged_stands_first_in_the_logbook_and_can_be_taken_back_and_put_back(string handler, string form)
    {
        var before = Log.Count;
        var (status, html) = await app.PostAsync("/", $"/?handler={handler}", [("id", "test-entry"), .. Fields(form)]);
        status.ShouldBe(HttpStatusCode.OK);
        html.ShouldContain("Undo");

        var entry = Log[^1];
        entry.Id.ShouldBe("test-entry");
        entry.Instant.ShouldBe(App.Start);
        Regex.Match(await app.GetAsync("/logbook"), "data-key=\"([^\"]+)\"").Groups[1].Value.ShouldBe("test-entry");

        (await app.PostAsync("/", "/?handler=Undo", ("key", "test-entry"))).Status.ShouldBe(HttpStatusCode.OK);
        Log.Count.ShouldBe(before);
        (await app.GetAsync("/logbook")).ShouldContain("is-withdrawn");
        (await app.PostAsync("/logbook", "/logbook?handler=Restore", ("key", "test-entry"))).Status.ShouldBe(HttpStatusCode.OK);
        Log[^1].Id.ShouldBe("test-entry");
    }

    [Fact]
    public async Task Logging_moves_the_belief_and_undo_moves_it_back()
    {
        var before = Level(await app.GetAsync("/"), "Black");
        var seen = Level((await app.PostAsync("/", "/?handler=Reading", ("id", "r1"), ("tank", "black"), ("via", "sight"), ("fraction", "90"))).Html, "Black");
        var undone = Level((await app.PostAsync("/", "/?handler=Undo", ("key", "r1"))).Html, "Black");
        var dumped = Level((await app.PostAsync("/", "/?handler=Dump", ("id", "d1"), ("tank", "black"))).Html, "Black");

        seen.ShouldBeGreaterThan(before + 5);
        undone.ShouldBe(before);
        dumped.ShouldBeLessThan(4);
    }

    [Fact]
    public async Task Without_scripts_the_log_is_a_page_whose_forms_work_as_they_stand()
    {
        var page = await app.GetAsync("/log?tank=bath");
        foreach (var form in new[] { "[data-reading=bath] form", "[data-reading=bath] form.valve-form" })
        {
            var before = Log.Count;
            var action = page.Dom().QuerySelector(form)!.GetAttribute("action")!;
            var (status, html) = await app.PostAsync("/log", action, [.. page.Fields(form), ("state", "closed")]);
            status.ShouldBe(HttpStatusCode.OK, html);
            Log.Count.ShouldBe(before + 1);
        }
        Log.OfType<ReadingEntry>().Last().ShouldSatisfyAllConditions(r => r.Tank.ShouldBe("bath"), r => r.Via.ShouldBe(ReadingVia.Sight));
    }

    [Fact]
    public async Task A_form_sent_twice_is_one_entry()
    {
        var before = Log.Count;
        for (var i = 0; i < 3; i++) (await app.PostAsync("/", "/?handler=People", ("id", "once"), ("count", "3"))).Status.ShouldBe(HttpStatusCode.OK);
        Log.Count.ShouldBe(before + 1);

        var (status, html) = await app.PostAsync("/", "/?handler=People", ("id", "once"), ("count", "5"));
        status.ShouldBe(HttpStatusCode.BadRequest);
        html.ShouldShow("[data-problem]");
    }

    [Fact]
    public async Task Back_dated_entries_stand_at_their_own_local_time()
    {
        await app.PostAsync("/", "/?handler=Dump", ("id", "late"), ("tank", "bath"), ("at", "2026-06-08T09:15"));

        var entry = Log.Single(e => e.Id == "late");
        entry.At.ShouldBe(new LocalDateTime(2026, 6, 8, 9, 15).WithOffset(Offset.FromHours(-6)));
    }

    [Theory]
    [InlineData("/", "/?handler=Dump", "tank=black")]
    [InlineData("/write/drive", "/write/drive", "hours=2")]
    public async Task A_time_less_than_a_day_ahead_is_taken_with_a_warning_and_does_not_count_yet(string page, string action, string form)
    {
        var before = Level(await app.GetAsync("/"), "Black");

        var (status, html) = await app.PostAsync(page, action, [("at", "2026-06-10T09:00"), .. Fields(form)]);

        status.ShouldBe(HttpStatusCode.OK);
        html.Text("[data-logged]").ShouldContain("tomorrow 9:00 AM");
        Level(html, "Black").ShouldBe(before);
    }

    [Fact]
    public async Task An_unknown_handler_an_unknown_key_and_a_missing_token_are_no_500()
    {
        (await app.PostAsync("/", "/?handler=Fly")).Status.ShouldBe(HttpStatusCode.NotFound);
        (await app.PostAsync("/", "/?handler=Undo", ("key", "nothing"))).Status.ShouldBe(HttpStatusCode.NotFound);
        using var forged = new FormUrlEncodedContent([new("tank", "black")]);
        using var response = await app.Client.PostAsync(new Uri("/?handler=Dump", UriKind.Relative), forged);
        response.StatusCode.ShouldBe(HttpStatusCode.BadRequest);
        (await response.Content.ReadAsStringAsync()).ShouldShow("main[data-page='/Error']");
    }

    [Fact]
    public async Task An_alarm_comes_first_until_it_is_cleared()
    {
        app.With(s => s.Writer.Record(1, [new SymptomEntry { At = App.Start.WithOffset(Offset.Zero), Code = SymptomCode.PropaneAlarm }], "test"));
        foreach (var page in new[] { "/", "/trip", "/find", "/logbook", "/treatments" })
            (await app.GetAsync(page)).ShouldShow("[data-alarm=propane]");

        app.Clock.AdvanceMinutes(5);
        await app.PostAsync("/alarm", "/alarm?handler=Clear");
        (await app.GetAsync("/")).ShouldNotShow("[data-alarm]");
    }

    [Fact]
    public async Task Units_are_the_person_s_own()
    {
        (await app.GetAsync("/")).ShouldContain("of 40 gal");
        await app.PostAsync("/", "/prefs", ("units", "metric"));
        var html = await app.GetAsync("/");
        html.ShouldContain("of 151 L");
        html.ShouldNotContain("of 40 gal");
    }

    [Fact]
    public async Task Hours_are_shown_in_the_zone_of_the_place()
    {
        var expected = app.With(s => s.Log.All(1)).OfType<ReadingEntry>().Last(e => e.Tank == "black").At;
        (await app.GetAsync("/logbook"))
            .ShouldContain($"<time>{expected.LocalDateTime.ToString("h:mm tt", System.Globalization.CultureInfo.InvariantCulture)}</time>");
        expected.Offset.ShouldBe(Offset.FromHours(-6));
    }

    [Fact]
    public async Task Names_with_markup_stay_text()
    {
        await app.PostAsync("/", "/?handler=Stay", ("hookup", "dry"), ("place", "<script>alert(1)</script>"));

        using var response = await app.Client.GetAsync(new Uri("/", UriKind.Relative));
        (await response.Content.ReadAsStringAsync()).ShouldNotContain("<script>alert");
        Log[^1].ShouldBeOfType<StayEntry>().Hookup.ShouldBe(Hookup.Dry);
    }

    internal static (string, string)[] Fields(string form) =>
        [.. form.Split('&', StringSplitOptions.RemoveEmptyEntries).Select(p => p.Split('=', 2)).Select(p => (p[0], p[1]))];
}
