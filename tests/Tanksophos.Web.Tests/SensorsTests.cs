using System.Net;
using System.Text.RegularExpressions;
using NodaTime;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Simulation;
using Tanksophos.Web.Drawing;

namespace Tanksophos.Web.Tests;

public sealed class SensorsTests : IDisposable
{
    private readonly App app = App.Demo();

    public void Dispose() => app.Dispose();

    [Fact]
    public async Task The_page_opens_with_the_tank_whose_lamp_lies_and_says_why()
    {
        var html = await app.GetAsync("/sensors");

        html.ShouldContain("data-verdict=\"doubt\"");
        html.ShouldShow("[data-state=stuck-on]");
        Regex.IsMatch(html, @"\d+ hours after each of the last \d dumps").ShouldBeTrue();
        html.ShouldContain("Began ");
        html.ShouldNotContain("@if");
        Regex.Count(html, "class=\"weight\"").ShouldBeGreaterThan(2);
        html.ShouldShow(".ladder .is-here"); // the rung it stands on
        html.ShouldShow(".caution");
    }

    [Fact]
    public async Task Each_tank_has_its_page_also_without_lamps()
    {
        (await app.GetAsync("/sensors?tank=bath")).ShouldContain("data-verdict=\"trust\"");
        (await app.GetAsync("/sensors?tank=galley")).ShouldShow("[data-tank-page=galley]");
        (await app.Client.GetAsync("/sensors?tank=nowhere", TestContext.Current.CancellationToken)).StatusCode.ShouldBe(HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task A_reading_logged_in_place_leads_back_and_counts()
    {
        var before = app.With(s => s.Log.All(1).Count);
        var (status, html) = await app.PostAsync("/sensors?tank=black", "/?handler=Reading", ("id", "in-place"), ("tank", "black"), ("via", "panel"),
            ("lit", "low mid"), ("back", "/sensors?tank=black"));

        status.ShouldBe(HttpStatusCode.OK);
        html.ShouldShow("[data-verdict]");
        html.ShouldContain("data-undo");
        app.With(s => s.Log.All(1).Count).ShouldBe(before + 1);
    }

    [Fact]
    public async Task The_answer_of_a_battery_test_is_logged_and_a_wrong_one_is_refused()
    {
        var (_, html) = await app.PostAsync("/sensors", "/sensors?handler=Check", ("id", "b1"), ("code", "battery-ok"), ("result", "pass"));
        html.ShouldContain("data-undo");
        app.With(s => s.Log.All(1)).OfType<CheckEntry>().ShouldContain(c => c.Code == CheckCode.BatteryOk && c.Result == CheckResult.Pass);

        (await app.PostAsync("/sensors", "/sensors?handler=Check", ("code", "sniff-test"), ("result", "pass"))).Status.ShouldBe(HttpStatusCode.BadRequest);
        var (status, page) = await app.PostAsync("/sensors", "/sensors?handler=Check", ("code", "wiring-ok"), ("result", "perhaps"), ("tank", "black"));
        status.ShouldBe(HttpStatusCode.BadRequest);
        page.ShouldRefuse("result");
    }

    [Fact]
    public async Task The_stand_in_panel_can_be_read_and_is_marked()
    {
        (await app.GetAsync("/sensors")).ShouldShow("[data-stand-in]");
        var before = app.With(s => s.Log.All(1).Count);
        var (_, html) = await app.PostAsync("/sensors", "/sensors?handler=StandIn", ("tank", "black"));

        html.ShouldShow("[data-logged]");
        var added = app.With(s => s.Log.All(1)).OfType<ReadingEntry>().Where(r => r.Note?.Contains("stand-in", StringComparison.Ordinal) == true).ToList();
        added.Count.ShouldBe(3);
        app.With(s => s.Log.All(1).Count).ShouldBe(before + 3);
        added.First(r => r.Tank == "black").Lit!.ShouldContain("low");
        await app.PostAsync("/sensors", "/sensors?handler=StandIn"); // the same moment again
        app.With(s => s.Log.All(1).Count).ShouldBe(before + 3);
    }

    [Fact]
    public async Task A_form_that_is_asked_for_opens_filled_in()
    {
        var html = await app.GetAsync("/write/dose?tank=bath&recipe=travel-scrub");
        html.Fields("form.write").ShouldSatisfyAllConditions(f => f.ShouldContain(("recipe", "travel-scrub")), f => f.ShouldContain(("tank", "bath")));
    }

    [Fact]
    public void The_record_draws_the_band_the_looks_and_the_emptyings_in_one_time()
    {
        var season = DemoSeason.Until(App.Start);
        var from = App.Start - Duration.FromDays(20);
        var back = LevelSmoother.Compute(season with { AsOf = App.Start.WithOffset(Offset.Zero) }, from).First(t => t.Tank.Id == "black");
        var record = new SensorRecord(back, season.InOrder(), from, App.Start, t => t.ToString(), DateTimeZone.Utc);

        record.Strips.Select(s => s.Probe.Label).ShouldBe(["Full", "2/3", "1/3"]);
        record.Strips[2].Looks.ShouldContain(l => l.Lit && !l.Believed);
        record.Strips[0].Looks.ShouldAllBe(l => l.Believed);
        record.Dumps.Count.ShouldBe(season.Entries.Count(e => e is DumpEntry { Tank: "black" } && e.Instant >= from));
        foreach (var x in record.Strips.SelectMany(s => s.Looks).Select(l => l.X).Concat(record.Dumps.Select(d => d.X)))
            x.ShouldBeInRange(SensorRecord.Left, SensorRecord.Right);
        record.Y(0).ShouldBe(record.ChartBottom);
        record.Y(back.Tank.CapacityL).ShouldBe(SensorRecord.ChartTop);
        record.Band.ShouldStartWith("M");
        record.Band.ShouldEndWith("Z");
        record.Days.Count.ShouldBeInRange(4, 10);
    }

    [Fact]
    public async Task Each_look_is_shown_beside_the_estimate_before_it()
    {
        var html = await app.GetAsync("/sensors/looks");
        var seen = app.With(s => s.Log.All(1)).OfType<ReadingEntry>().Where(r => r.Fraction is not null).ToList();
        var most = seen.GroupBy(r => r.Tank).MaxBy(g => g.Count())!;
        html.ShouldShow($"[data-looks='{most.Count()}']");
        Regex.Count(html, "class=\"believed\"").ShouldBe(Math.Min(HindsightChart.Most, most.Count()));
        (await app.GetAsync("/sensors")).ShouldContain("/sensors/looks");
        var table = await app.Client.GetStringAsync(new Uri("/sensors/looks?handler=Csv", UriKind.Relative));
        table.Split('\n', StringSplitOptions.RemoveEmptyEntries).Length.ShouldBe(seen.Count + 1);
        using var unknown = await app.Client.GetAsync(new Uri("/sensors/looks?tank=nothing", UriKind.Relative));
        unknown.StatusCode.ShouldBe(System.Net.HttpStatusCode.NotFound);
    }
}
