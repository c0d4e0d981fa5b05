using System.Net;
using NodaTime;
using Tanksophos.Core.Care;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Web.Rigs;
using Tanksophos.Data;
using Microsoft.Extensions.DependencyInjection;

namespace Tanksophos.Web.Tests;

/// <summary>The room Care: what is due, done with a press, put off, switched off; the season step by step; costs.</summary>
public sealed class CareTests : IDisposable
{
    private readonly App app = App.Demo();
    private readonly OffsetDateTime now = App.Start.WithOffset(Offset.FromHours(-6));

    public void Dispose() => app.Dispose();

    private Logbook Book
    {
        get
        {
            using var scope = app.Services.CreateScope();
            var store = scope.ServiceProvider.GetRequiredService<RigStore>();
            return scope.ServiceProvider.GetRequiredService<RigCache>().Now(store.Find(1)!, store).Logbook;
        }
    }

    private Rig Rig => app.With(s => s.Find(1)!.Rig);

    private void Log(params LogEntry[] entries) => app.With(s => s.Writer.Record(1, entries, "test"));

    private Task<(HttpStatusCode Status, string Html)> Press(string handler, params (string, string)[] fields) => app.PostAsync("/care",
        $"/care?handler={handler}", fields);

    [Fact]
    public async Task Done_logs_the_chore_with_an_undo_and_moves_its_date()
    {
        app.Clock.Advance(Duration.FromDays(4));
        (await app.GetAsync("/care")).ShouldShow("[data-chore=traps][data-state=due]");
        (await app.GetAsync("/")).ShouldShow("[data-agenda=care]");
        var (status, html) = await Press("Done", ("chore", "traps"), ("result", "done"), ("id", "d1"));
        status.ShouldBe(HttpStatusCode.OK);
        html.ShouldShow("[data-undo]");
        html.ShouldShow("[data-chore=traps][data-state=done]");
        Book.Entries.OfType<ChoreEntry>().Last().ShouldSatisfyAllConditions(c => c.Chore.ShouldBe("traps"), c => c.Result.ShouldBe(ChoreResult.Done));
        (await app.GetAsync("/")).ShouldNotShow("[data-agenda=care]");
    }

    [Fact]
    public async Task Today_has_two_lines_of_chores_at_most_and_more_counts_what_care_asks_for()
    {
        foreach (var name in new[] { "One", "Two", "Three", "Four" })
            await Press("Add", ("name", name), ("rhythm", "everyDays"), ("number", "1"));
        app.Clock.Advance(Duration.FromDays(1.1));
        var today = await app.GetAsync("/");
        System.Text.RegularExpressions.Regex.Count(today.Split("agenda-more")[0], "data-agenda=\"care\"").ShouldBeInRange(1, 2);
        var asked = System.Text.RegularExpressions.Regex.Count(await app.GetAsync("/care"), "class=\"care-row is-due\"");
        asked.ShouldBeGreaterThan(3);
        (await app.GetAsync("/more")).ShouldShow($"[data-care-due='{asked}']");
    }

    [Fact]
    public async Task A_problem_with_its_part_asks_to_buy_it_on_today()
    {
        (await Press("Done", ("chore", "hose-inspection"), ("result", "problem"), ("part", "cap gasket"), ("minutes", "6"), ("cost", "$1.50"), ("id", "p1")))
            .Status.ShouldBe(HttpStatusCode.OK);
        Book.Entries.OfType<ChoreEntry>().Last().ShouldSatisfyAllConditions(c => c.Part.ShouldBe("cap gasket"), c => c.Minutes.ShouldBe(6),
            c => c.CostMinor.ShouldBe(150));
        (await app.GetAsync("/")).ShouldShow("[data-agenda=buy]");
        (await app.GetAsync("/care")).ShouldShow("[data-chore=hose-inspection][data-state=due]");
    }

    [Theory]
    [InlineData("Done", "cost", "much")]
    [InlineData("Done", "minutes", "-3")]
    [InlineData("Done", "day", "2030-01-01")]
    [InlineData("PutOff", "until", "2026-06-01")]
    [InlineData("PutOff", "until", "soon")]
    [InlineData("PutOff", "until", "2031-01-01")]
    public async Task What_cannot_be_meant_is_refused_and_nothing_is_logged(string handler, string field, string value)
    {
        var before = Book.Entries.Count;
        var (status, html) = await Press(handler, ("chore", "traps"), ("id", "x1"), (field, value));
        status.ShouldBe(HttpStatusCode.BadRequest);
        html.ShouldShow("[role=alert]");
        Book.Entries.Count.ShouldBe(before);
        (await Press("Done", ("chore", "polish"), ("id", "x2"))).Status.ShouldBe(HttpStatusCode.BadRequest);
        (await Press("Done", ("chore", "traps"), ("result", "maybe"), ("id", "x3"))).Status.ShouldBe(HttpStatusCode.BadRequest);
        (await Press("Done", ("chore", "traps"), ("part", new string('x', 121)), ("id", "x4"))).Status.ShouldBe(HttpStatusCode.BadRequest);
        (await Press("Drains", ("other", new string('x', 61)))).Status.ShouldBe(HttpStatusCode.BadRequest);
        Book.Entries.Count.ShouldBe(before);
    }

    [Fact]
    public async Task What_is_put_off_comes_back_on_its_day()
    {
        app.Clock.Advance(Duration.FromDays(4));
        (await Press("PutOff", ("chore", "traps"), ("until", "2026-06-20"), ("id", "o1"), ("note", "no water here"))).Status.ShouldBe(HttpStatusCode.OK);
        (await app.GetAsync("/care")).ShouldShow("[data-chore=traps][data-state=done]");
        app.Clock.Advance(Duration.FromDays(7));
        (await app.GetAsync("/care")).ShouldShow("[data-chore=traps][data-state=due]");
    }

    [Fact]
    public async Task Unused_drains_are_asked_once_and_late_reminders_start_from_today_in_one_press()
    {
        (await Press("Drains", ("unused", "shower"), ("other", "second bath"))).Status.ShouldBe(HttpStatusCode.OK);
        Rig.UnusedFixtures.ShouldBe(["shower", "second bath"]);
        (await Press("Drains", ("none", "true"))).Html.ShouldNotShow("[data-asks-drains]");
        Rig.UnusedFixtures.ShouldBe([]);
        (await Press("Drains", ("unused", "shower"))).Status.ShouldBe(HttpStatusCode.OK);
        Log(new ChoreEntry { At = now - Duration.FromDays(20), Chore = ChoreWords.YearlyInspection, Result = ChoreResult.Done, Id = "y" },
            new DoseEntry { At = now - Duration.FromDays(19), Tank = "bath", Recipe = DoseRecipe.GrayDegreaser, Id = "g" });
        app.Clock.Advance(Duration.FromDays(900));
        (await app.GetAsync("/care")).ShouldShow("[data-flood]");
        var (status, html) = await Press("Fresh");
        status.ShouldBe(HttpStatusCode.OK);
        html.ShouldNotShow("[data-flood]");
        html.ShouldNotShow("[data-state=overdue]");
    }

    [Fact]
    public async Task Chores_of_their_own_are_added_refused_with_the_field_and_taken_off()
    {
        foreach (var (number, rhythm) in new[] { ("0", "everyDays"), ("10000", "everyDays"), ("", "everyMonths"), ("2", "often") })
            (await Press("Add", ("name", "Filters"), ("rhythm", rhythm), ("number", number))).Status.ShouldBe(HttpStatusCode.BadRequest);
        (await Press("Add", ("name", "Filters"), ("rhythm", "everyMonths"), ("number", "6"), ("minutes", "15"), ("cost", "12"), ("steps", "off\non"))).Status
            .ShouldBe(HttpStatusCode.OK);
        (await Press("Add", ("name", " filters "), ("rhythm", "everyDays"), ("number", "6"))).Status.ShouldBe(HttpStatusCode.BadRequest, "the same name");
        var own = Rig.Chores.Single(c => c.Name == "Filters");
        (own.EveryMonths, own.Minutes, own.CostMinor, own.Steps.Count).ShouldBe((6, 15.0, 1200, 2));
        (await Press("Add", ("ready", ReadyMade.WaterHeater))).Html.ShouldShow($"[data-chore={ReadyMade.WaterHeater}]");
        (await Press("Remove", ("chore", own.Id))).Html.ShouldNotShow($"[data-chore={own.Id}]");
        (await Press("Switch", ("chore", "gray-care"))).Html.ShouldNotShow("[data-chore=gray-care]");
        (await Press("Switch", ("chore", "gray-care"), ("on", "true"))).Html.ShouldShow("[data-chore=gray-care]");
    }

    private Task<(HttpStatusCode Status, string Html)> Season(string end, string handler, params (string, string)[] fields) =>
        app.PostAsync($"/care/season/{end}", $"/care/season/{end}?handler={handler}", fields);

    [Fact]
    public async Task A_season_is_not_closed_over_waste_and_leaves_everything_in_the_log_once_it_is()
    {
        (await Season("close", "Begin")).Status.ShouldBe(HttpStatusCode.BadRequest, "whether it freezes is asked first");
        (await Season("close", "Begin", ("frost", "no"), ("sewer", "yes"), ("months", "5"))).Html.ShouldShow("[data-step=dump]");
        (await Season("close", "Finish")).Status.ShouldBe(HttpStatusCode.BadRequest, "black is more than half full");
        Log(new DumpEntry { At = now + Duration.FromMinutes(1), Tank = "black", Id = "b" }, new DumpEntry
        {
            At = now + Duration.FromMinutes(4),
            Tank = "bath",
            Id = "c"
        },
            new DumpEntry { At = now + Duration.FromMinutes(5), Tank = "galley", Id = "e" });
        app.Clock.Advance(Duration.FromMinutes(20));
        foreach (var step in new[] { "rinse-twice-black", "deep-clean-black", "gray-bath", "gray-galley", "bowl", "traps", "storage-water-black", "hose" })
        {
            (await app.GetAsync("/care/season/close")).ShouldShow($"[data-step={step}]");
            (await Season("close", "Step", ("step", step), ("done", "yes"))).Status.ShouldBe(HttpStatusCode.OK);
        }
        (await Season("close", "Step", ("step", "cap"), ("done", "no"))).Html.ShouldShow("[data-finish]");
        var before = Book.Entries.Count;
        (await Season("close", "Finish", ("nobody", "yes"))).Status.ShouldBe(HttpStatusCode.OK);
        var added = Book.Entries.Skip(before).ToList();
        added.OfType<ServiceEntry>().ShouldContain(s => s.Code == ServiceCode.SeasonClose && s.Frost == null);
        added.OfType<WaterEntry>().Single().Purpose.ShouldBe(WaterPurpose.Storage);
        added.OfType<ChoreEntry>().Select(c => c.Chore).Distinct().ShouldBe([ChoreWords.DeepClean, ChoreWords.GrayCare, ChoreWords.Traps,
            ChoreWords.HoseInspection],
            ignoreOrder: true);
        added.OfType<PeopleEntry>().Single().Count.ShouldBe(0);
        (await Season("close", "Finish")).Status.ShouldBe(HttpStatusCode.BadRequest, "nothing is under way any more");
        (await app.GetAsync("/care/season/close")).ShouldShow("[data-already]");
        (await app.GetAsync("/care")).ShouldShow("[data-chore=storage-check]");
    }

    [Fact]
    public async Task In_frost_no_step_puts_water_in_and_the_guide_goes_on_where_it_was()
    {
        (await Season("close", "Begin", ("frost", "yes"), ("sewer", "yes"))).Status.ShouldBe(HttpStatusCode.OK);
        (await app.GetAsync("/care/season/close?list=true")).ShouldShow("li[data-step=antifreeze]");
        var list = await app.GetAsync("/care/season/close?list=true");
        foreach (var wet in new[] { "traps", "storage-water-black" }) list.ShouldNotShow($"li[data-step={wet}]");
        await Season("close", "Step", ("step", "dump"), ("done", "yes"));
        (await app.GetAsync("/care/season/close")).ShouldShow("section[data-step=rinse-twice-black]");
        (await Season("open", "Begin")).Status.ShouldBe(HttpStatusCode.BadRequest, "the other end is under way");
        (await Season("close", "GiveUp")).Status.ShouldBe(HttpStatusCode.OK);
        (await app.GetAsync("/care/season/close")).ShouldShow("[data-begin]");
    }

    [Fact]
    public async Task A_light_over_an_empty_tank_is_caught_when_the_season_is_opened()
    {
        Log(new DumpEntry { At = now, Tank = "black", Id = "b" });
        (await Season("open", "Begin")).Status.ShouldBe(HttpStatusCode.OK);
        (await app.GetAsync("/care/season/open?list=true")).ShouldNotShow("li.is-behind[data-step=first-reading]"); // this morning's was not over empty tanks
        Log(new ReadingEntry { At = now + Duration.FromMinutes(2), Tank = "black", Via = ReadingVia.Panel, Lit = ["low"], Id = "r" });
        app.Clock.Advance(Duration.FromMinutes(5));
        (await app.GetAsync("/care/season/open")).ShouldShow("[data-lit=black]");
        Log(new ReadingEntry { At = now + Duration.FromMinutes(6), Tank = "black", Via = ReadingVia.Sight, Fraction = 0.7, Id = "full" });
        app.Clock.Advance(Duration.FromMinutes(5));
        (await app.GetAsync("/care/season/open")).ShouldNotShow("[data-lit=black]"); // then there is something that it shows
    }

    [Fact]
    public async Task Costs_add_up_by_month_and_leave_as_a_table()
    {
        Log(new ServiceEntry { At = now, Code = ServiceCode.PressureJet, Tank = "black", CostMinor = 19000, Minutes = 90, Id = "j" });
        (await app.GetAsync("/care/costs")).ShouldShow("[data-month='2026-06']");
        var csv = (await app.GetAsync("/care/costs?handler=Csv")).Split('\n');
        csv[0].ShouldStartWith("from,to,waterL");
        var june = csv.Single(l => l.StartsWith("2026-06", StringComparison.Ordinal)).Split(',');
        june[5].ShouldBe("196.50", "the jet and the gasket of the demonstration");
        (await app.GetAsync("/care")).ShouldShow("[data-year-cost='19650']");
    }

    [Fact]
    public async Task Service_and_chores_are_logged_with_all_their_details()
    {
        (await app.PostAsync("/write/service", "/write/service", ("id", "s1"), ("code", "pressure-jet"), ("tank", "black"), ("grade", "B"), ("debris",
            "chunks"),
            ("pressure", "2,500 psi"), ("floods", "3"), ("minutes", "90"), ("cost", "190"), ("by",
                "Two brothers with a truck"))).Status.ShouldBe(HttpStatusCode.OK);
        var jet = Book.Entries.OfType<ServiceEntry>().Single(s => s.Code == ServiceCode.PressureJet);
        (jet.Floods, jet.Minutes, jet.CostMinor, jet.Debris, jet.By).ShouldBe((3, 90.0, 19000, Debris.Chunks, "Two brothers with a truck"));
        jet.PressureBar!.Value.ShouldBe(172.4, 0.1);
        // A correction of something else leaves the pressure as it was, though the form shows it rounded.
        var form = await app.GetAsync("/write/service?edit=s1");
        (await app.PostAsync("/write/service?edit=s1", "/write/service", ("edit", "s1"), ("seen", App.Hidden(form, "seen")), ("code", "pressure-jet"),
            ("tank", "black"),
            ("grade", "B"), ("pressure", "2,500 psi"), ("minutes", "95"))).Status.ShouldBe(HttpStatusCode.OK);
        var corrected = Book.Entries.OfType<ServiceEntry>().Single(s => s.Code == ServiceCode.PressureJet);
        (corrected.Minutes, corrected.PressureBar).ShouldBe((95.0, jet.PressureBar));
        (await app.GetAsync("/care")).ShouldShow("[data-chore=pressure-jet][data-state=done]");
        (await app.PostAsync("/write/service", "/write/service", ("id", "s2"), ("code", "pressure-jet"), ("pressure",
            "hard"))).Status.ShouldBe(HttpStatusCode.BadRequest);
        (await app.PostAsync("/write/chore", "/write/chore", ("id", "c1"), ("chore", "yearly-inspection"), ("result", "done"), ("minutes", "50"))).Status
            .ShouldBe(HttpStatusCode.OK);
        (await app.GetAsync("/care")).ShouldShow("[data-chore=yearly-inspection][data-state=done]");
    }

    [Fact]
    public async Task Due_chores_stand_in_the_calendar()
    {
        app.Clock.Advance(Duration.FromDays(3));
        var calendar = await app.GetAsync("/trip?handler=Calendar");
        calendar.ShouldContain("-traps-@tanksophos");
    }
}
