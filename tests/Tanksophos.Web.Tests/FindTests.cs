using System.Net;
using System.Text.Json;
using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Web.Drawing;
using Tanksophos.Web.Pages;

namespace Tanksophos.Web.Tests;

public sealed class FindTests : IDisposable
{
    private readonly App app = App.Demo();

    public void Dispose() => app.Dispose();

    private LogEntry Newest => app.With(s => s.Log.All(1))[^1];

    private void Log(params LogEntry[] entries) => app.With(s => s.Writer.Record(1, entries, "test"));

    private static OffsetDateTime Ago(double hours) => (App.Start - Duration.FromHours(hours)).WithOffset(Offset.FromHours(-6));

    [Fact]
    public async Task A_quiet_rig_is_told_so_and_can_be_pointed_at()
    {
        var html = await app.GetAsync("/find");
        html.ShouldContain("data-finding=\"none\"");
        html.ShouldContain("href=\"/write/odor?where=galley-sink\"");
        html.ShouldNotContain("@(");
        (await app.GetAsync("/write/odor?where=galley-sink")).ShouldMatch("value=\"galley-sink\"\\s+checked|checked[^>]*value=\"galley-sink\"");
        (await app.GetAsync("/")).ShouldNotShow(".find-note");
    }

    [Fact]
    public async Task What_is_noticed_is_one_tap_and_ranks_at_once_with_its_reasons_and_the_ladder()
    {
        var html = (await app.PostAsync("/find", "/find?handler=Noticed", ("id", "n1"), ("tank", "black"), ("code", "heap-seen"))).Html;
        Newest.ShouldBeOfType<SymptomEntry>().ShouldSatisfyAllConditions(s => s.Code.ShouldBe(SymptomCode.HeapSeen), s => s.Tank.ShouldBe("black"));
        html.ShouldShow("[data-cause=heap][data-tank=black]");
        html.ShouldShow("[data-course=heap] [data-action=stop-using]");
        html.ShouldShow("[data-course=heap] [data-action=soap-soak]");
        html.ShouldShow("[data-course=heap] .caution");
        html.ShouldMatch("data-agenda=\"stop-using\"[^>]*data-tank=\"black\"");
        html.ShouldShow("[data-sign=heap-seen]");
        (await app.GetAsync("/")).ShouldShow(".find-note");
        (await app.PostAsync("/find", "/?handler=Undo", ("key", "n1"))).Status.ShouldBe(HttpStatusCode.OK);
        (await app.GetAsync("/find")).ShouldContain("data-finding=\"none\"");
    }

    [Fact]
    public async Task The_check_in_front_is_answered_there_and_turns_the_ranking()
    {
        Log(new OdorEntry { Id = "o", At = Ago(1), Where = OdorPlace.Bathroom, Smell = Smell.Sewage, When = [OdorWhen.Always] });
        var before = await app.GetAsync("/find");
        before.ShouldShow("[data-check=bowl-holds-water]");
        var after = (await app.PostAsync("/find", "/find?handler=Check", ("code", "bowl-holds-water"), ("result", "fail"))).Html;
        after.Dom().QuerySelector("[data-causes=smell] [data-cause]")!.GetAttribute("data-cause").ShouldBe("bowl-seal");
        after.ShouldShow("[data-action=clean-bowl-seal]");
        Newest.ShouldBeOfType<CheckEntry>().Result.ShouldBe(CheckResult.Fail);
    }

    [Fact]
    public async Task An_alarm_stands_before_every_page_until_it_is_cleared_or_taken_back()
    {
        await app.PostAsync("/find", "/find?handler=Noticed", ("code", "propane-alarm"), ("tank", "black"));
        Newest.Tank.ShouldBeNull();
        foreach (var page in new[] { "/find", "/find/health", "/treatments/shelf", "/run", "/write/odor" })
        {
            var html = await app.GetAsync(page);
            html.ShouldShow("[data-alarm=propane]");
            html.Dom().QuerySelectorAll("h1").Length.ShouldBe(1);
        }
        (await app.PostAsync("/alarm", "/alarm?handler=Clear")).Html.ShouldShow("[data-after-alarm]");
        Newest.ShouldBeOfType<CheckEntry>().Code.ShouldBe(CheckCode.PropaneRuledOut);
        app.Clock.AdvanceMinutes(10);
        await app.PostAsync("/find", "/find?handler=Noticed", ("code", "propane-alarm"));
        (await app.GetAsync("/")).ShouldShow("[data-alarm]"); // an all-clear covers one alarm
        await app.PostAsync("/alarm", "/alarm?handler=Mistake");
        (await app.GetAsync("/")).ShouldNotShow("[data-alarm]");
        (await app.GetAsync("/alarm")).ShouldContain("handler=Sounds");
        // A strong smell of gas opens the same page, a weak one does not.
        await app.PostAsync("/write/odor", "/write/odor", ("where", "whole-rig"), ("smell", "gas"), ("strength", "2"));
        (await app.GetAsync("/treatments")).ShouldNotShow("[data-alarm]");
        await app.PostAsync("/write/odor", "/write/odor", ("where", "whole-rig"), ("smell", "gas"), ("strength", "4"));
        (await app.GetAsync("/treatments")).ShouldShow("[data-alarm=smell]");
        await app.PostAsync("/alarm", "/alarm?handler=Mistake");
        (await app.GetAsync("/treatments")).ShouldNotShow("[data-alarm]");
        // The button on every page.
        (await app.PostAsync("/run", "/alarm?handler=Sounds")).Html.ShouldShow("[data-alarm=propane]");
    }

    [Fact]
    public async Task Health_and_service_sheet_hold_what_the_log_tells()
    {
        Log(new ServiceEntry { Id = "s", At = Ago(30), Code = ServiceCode.SeasonOpen, Tank = "black", Grade = Grade.C });
        var health = await app.GetAsync("/find/health?tank=black");
        foreach (var shown in new[] { "[data-chart=cycles]", "[data-chart=drain-time]", "[data-chart=heap]", "[data-grade=C]",
            "[data-probe=low][data-trusted=no]" })
            health.ShouldShow(shown);
        (await app.GetAsync("/find/health?tank=bath")).ShouldNotShow("[data-chart=heap]");
        using var none = await app.Client.GetAsync(new Uri("/find/health?tank=bidet", UriKind.Relative));
        none.StatusCode.ShouldBe(HttpStatusCode.NotFound);
        var sheet = await app.GetAsync("/find/sheet");
        foreach (var said in new[] { "Old Biscuit", "1/3 at 33", "stuck on", "season open", "Grade A B C D E F" }) sheet.ShouldContain(said, Case.Insensitive);
        using var json = JsonDocument.Parse(await app.GetAsync("/find/sheet?handler=Document"));
        json.RootElement.GetProperty("format").GetString().ShouldBe("tanksophos-service-sheet");
        json.RootElement.GetProperty("assessment").GetProperty("tanks").GetArrayLength().ShouldBe(3);
    }

    [Fact]
    public async Task Drains_valves_tanks_and_the_outlet_can_be_pointed_at_and_each_asks_its_own()
    {
        var html = await app.GetAsync("/find");
        foreach (var link in new[] { "/find?tank=black&drain=toilet#here", "/find?tank=bath&drain=shower#here", "/find?tank=galley&drain=galley-sink#here",
            "/find?tank=bath&part=valve#here", "/find?part=outlet#here", "/find/health?tank=galley" })
            html.ShouldContain($"href=\"{link}\"");
        var toilet = await app.GetAsync("/find?tank=black&drain=toilet");
        foreach (var said in new[] { "data-part=\"toilet\"", "value=\"bowl-goes-dry\"", "where=toilet-on-flush&fixture=toilet&tank=black" })
            toilet.ShouldContain(said);
        var shower = await app.GetAsync("/find?tank=bath&drain=shower");
        foreach (var said in new[] { "data-part=\"shower\" "
            + "data-tank=\"bath\"", "value=\"shower-stands-in-water\"", "value=\"traps-wet\"" }) shower.ShouldContain(said);
        shower.ShouldNotContain("value=\"heap-seen\"");
        var valve = await app.GetAsync("/find?tank=black&part=valve");
        foreach (var said in new[] { "data-part=\"valve\" "
            + "data-tank=\"black\"", "value=\"valve-wont-close\"", "value=\"nothing-comes-out\"" }) valve.ShouldContain(said);
        (await app.GetAsync("/find?part=outlet")).ShouldShow("[data-part=outlet] [name=code][value=cap-dry]");
    }

    [Theory]
    [InlineData("/find?tank=bidet&drain=toilet")]
    [InlineData("/find?tank=black&drain=shower")]
    [InlineData("/find?tank=black")]
    [InlineData("/find?part=chimney")]
    [InlineData("/find?tank=bidet&part=valve")]
    public async Task What_the_rig_does_not_have_cannot_be_pointed_at(string path)
    {
        using var none = await app.Client.GetAsync(new Uri(path, UriKind.Relative));
        none.StatusCode.ShouldBe(HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task What_is_noticed_at_a_drain_keeps_the_drain_and_is_answered_though_it_makes_nothing_likely()
    {
        var html = (await app.PostAsync("/find", "/find?handler=Noticed", ("id", "d1"), ("tank", "bath"), ("drain", "shower"), ("code", "gurgles"))).Html;
        Newest.ShouldBeOfType<SymptomEntry>().Fixture.ShouldBe("shower");
        html.ShouldShow("[data-noticed] [data-code=gurgles][data-fixture=shower][data-one-drain=yes]");
        html.ShouldShow("[data-cause=vent-blocked][data-tank=bath]");
        html.ShouldNotShow("[data-finding=none]");
        (await app.PostAsync("/find", "/find?handler=Noticed", ("tank", "bath"), ("drain", "bath-sink"),
            ("code", "gurgles"))).Html.ShouldNotShow("[data-one-drain]"); // now it is two
        var (status, refused) = await app.PostAsync("/find", "/find?handler=Noticed", ("tank", "black"), ("drain", "shower"), ("code", "gurgles"));
        status.ShouldBe(HttpStatusCode.BadRequest);
        refused.ShouldRefuse("drain");
        (await app.GetAsync($"/logbook?text=shower")).ShouldContain("at the shower");
    }

    [Fact]
    public async Task A_smell_at_a_drain_is_written_with_its_drain_and_keeps_it_when_corrected()
    {
        (await app.GetAsync("/write/odor?where=shower&fixture=shower&tank=bath")).ShouldContain("name=\"fixture\" value=\"shower\"");
        await app.PostAsync("/write/odor", "/write/odor", ("where", "shower"), ("smell", "sewage"), ("fixture", "shower"), ("tank", "bath"));
        var odor = Newest.ShouldBeOfType<OdorEntry>();
        (odor.Fixture, odor.Tank).ShouldBe(("shower", "bath"));
        (await app.GetAsync("/find")).ShouldShow("[data-causes=smell]");
    }

    [Fact]
    public async Task A_rung_says_its_amounts_and_what_speaks_against_it_now()
    {
        await app.PostAsync("/find", "/find?handler=Noticed", ("tank", "black"), ("code", "heap-seen"));
        var html = await app.GetAsync("/find");
        html.ShouldMatch("rung-amounts\">\\d gal of water at most");
        Log(new ReadingEntry { Id = "seen", At = Ago(0.2), Tank = "black", Via = ReadingVia.Sight, Fraction = 0.3 });
        html = await app.GetAsync("/find");
        html.Text("[data-action=soap-soak] .rung-amounts").ShouldMatch("^1/2 cup dish soap \\+ \\d+ gal");
        html.ShouldNotShow("[data-objection].is-problem");
        Log(new DoseEntry { Id = "b", At = Ago(2), Tank = "black", Recipe = DoseRecipe.ClassicBleach });
        var after = await app.GetAsync("/find");
        after.ShouldContain("data-agenda=\"ventilate\"");
        after.ShouldShow("[data-agenda=ventilate] .caution");
    }

    [Fact]
    public async Task A_rung_that_puts_water_in_says_how_much_fits_and_sends_one_to_look_where_nobody_knows()
    {
        Log(new DumpEntry { Id = "d", At = Ago(5), Tank = "black" },
            new FlushEntry
            {
                Id = "f",
                At = Ago(4.8),
                Tank = "black",
                Method = FlushMethod.BuiltIn,
                Cycles = [new FlushCycle(60, null, EndColor.Clear, Debris.None)]
            });
        var html = (await app.PostAsync("/find", "/find?handler=Noticed", ("tank", "black"), ("code", "valve-drips"))).Html;
        html.ShouldShow("[data-course=valve-leak][data-tank=black]");
        html.ShouldMatch("data-room=\"[1-9]\\d*\"");
        Log(new ReadingEntry { Id = "r", At = Ago(0.2), Tank = "black", Via = ReadingVia.Sight, Fraction = 0.97 });
        (await app.GetAsync("/find")).ShouldContain("data-room=\"0\"");
    }

    [Fact]
    public async Task A_bowl_that_goes_dry_is_looked_after_before_it_smells()
    {
        var html = (await app.PostAsync("/find", "/find?handler=Noticed", ("tank", "black"), ("drain", "toilet"), ("code", "bowl-goes-dry"))).Html;
        html.ShouldShow("[data-course=bowl-seal]");
        html.ShouldNotShow("[data-causes=smell]");
        (await app.PostAsync("/find", "/find?handler=Check", ("code", "bowl-holds-water"),
            ("result", "pass"))).Html.ShouldNotShow("[data-course=bowl-seal]");
    }

    [Fact]
    public async Task Lamps_and_smell_days_are_drawn_over_the_year()
    {
        var black = await app.GetAsync("/find/health?tank=black");
        black.ShouldShow("[data-chart=sensors] svg[aria-label]");
        black.ShouldContain("class=\"held\"");
        black.ShouldContain("class=\"lied\"");
        black.ShouldNotShow("[data-chart=smells]");
        (await app.GetAsync("/find/health?tank=galley&view=table")).Dom().QuerySelectorAll("[data-chart=smells] tbody tr").Length.ShouldBe(1);
        (await app.GetAsync("/find/health?tank=galley")).ShouldShow("[data-chart=smells] .chart-point.is-last"); // the demonstration's galley smelled once
    }

    [Fact]
    public async Task Everything_that_can_be_said_at_a_part_is_taken_and_lands_at_its_tank_and_drain()
    {
        var rig = app.With(s => s.Find(1)!.Rig);
        PointedAt[] parts =
        [
            .. rig.Tanks.SelectMany(t => PipePlan.DrainsOf(t).Select(d => PointedAt.Find(rig, t.Id, d, null)!)),
            .. rig.Tanks.Select(t => PointedAt.Find(rig, t.Id, null, PointedAt.Valve)!),
            PointedAt.Find(rig, null, null, PointedAt.Outlet)!,
        ];
        parts.Length.ShouldBe(8);
        foreach (var part in parts)
        {
            foreach (var (code, _) in part.Symptoms)
            {
                app.Clock.AdvanceMinutes(1);
                var (status, html) = await app.PostAsync("/find", "/find?handler=Noticed", ("tank", part.Tank?.Id ?? ""), ("drain", part.Drain ?? ""),
                    ("code", Codes<SymptomCode>.Word(code)));
                status.ShouldBe(HttpStatusCode.OK, html);
                Newest.ShouldBeOfType<SymptomEntry>()
                    .ShouldSatisfyAllConditions(s => s.Code.ShouldBe(code), s => s.Tank.ShouldBe(part.Tank?.Id), s => s.Fixture.ShouldBe(part.Drain));
            }
            foreach (var (code, result, _) in part.Checks)
            {
                app.Clock.AdvanceMinutes(1);
                (await app.PostAsync("/find", "/find?handler=Check", ("tank", part.Tank?.Id ?? ""),
                    ("code", Codes<CheckCode>.Word(code)), ("result", Codes<CheckResult>.Word(result)))).Status.ShouldBe(HttpStatusCode.OK);
                Newest.ShouldBeOfType<CheckEntry>().ShouldSatisfyAllConditions(c => c.Code.ShouldBe(code), c => c.Result.ShouldBe(result));
            }
            foreach (var (place, _) in part.Smells) (await app.GetAsync($"/write/odor?where={Codes<OdorPlace>.Word(place)}")).ShouldContain("checked");
        }
        (await app.GetAsync("/find")).ShouldShow("[data-course]");
        (await app.GetAsync("/find/sheet")).ShouldContain("valve wont close", Case.Insensitive);
    }

    [Fact]
    public async Task A_correction_keeps_the_drain()
    {
        await app.PostAsync("/find", "/find?handler=Noticed", ("id", "keep"), ("tank", "bath"), ("drain", "shower"), ("code", "gurgles"));
        var form = await app.GetAsync("/write/symptom?edit=keep");
        form.ShouldContain("name=\"fixture\" value=\"shower\"");
        var (status, html) = await app.PostAsync("/write/symptom?edit=keep",
            "/write/symptom?edit=keep&seen=" + app.With(s => s.Log.Entry(1, "keep"))!.Revision, ("code", "drains-slowly"), ("tank", "bath"),
            ("fixture", "shower"));
        status.ShouldBe(HttpStatusCode.OK, html);
        app.With(s => s.Log.All(1)).OfType<SymptomEntry>().Single(s => s.Id == "keep").Fixture.ShouldBe("shower");
    }

    [Fact]
    public async Task A_look_at_the_lamps_is_named_beside_the_causes_and_leads_to_their_page()
    {
        // A lamp that lies and one that is dark below it: the panel is worth another look.
        Log(new ReadingEntry { Id = "odd", At = Ago(0.5), Tank = "black", Via = ReadingVia.Panel, Lit = ["top"] });
        var html = await app.GetAsync("/find");
        html.ShouldShow("[data-lamp-checks] li");
        html.ShouldShow("[data-lamp-checks] a[href^=\"/sensors\"]");
    }

    [Theory]
    [InlineData("Noticed", "code", "it-sings", "noticed")]
    [InlineData("Noticed", "tank", "bidet", "tank")]
    [InlineData("Check", "code", "luck", "check")]
    [InlineData("Check", "result", "maybe", "result")]
    public async Task What_is_no_symptom_and_no_check_is_refused_by_its_field(string handler, string field, string value, string problem)
    {
        var before = app.With(s => s.Log.All(1).Count);
        (string, string)[] sound = handler == "Check" ? [("code", "sniff-test"), ("result", "pass")] : [("code", "gurgles"), ("tank", "black")];
        var (status, html) = await app.PostAsync("/find", "/find?handler=" + handler, [.. sound.Where(f => f.Item1 != field), (field, value)]);
        status.ShouldBe(HttpStatusCode.BadRequest);
        html.ShouldRefuse(problem);
        app.With(s => s.Log.All(1).Count).ShouldBe(before);
    }
}
