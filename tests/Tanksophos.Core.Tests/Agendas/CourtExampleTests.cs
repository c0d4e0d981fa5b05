using System.Text;
using System.Text.Json;
using NodaTime;
using Tanksophos.Cli;
using Tanksophos.Core.Agendas;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Trips;
using static Tanksophos.Core.Tests.Given;

namespace Tanksophos.Core.Tests.Agendas;

/// <summary>Situations as people meet them, each with what a practitioner would say.</summary>
public class CourtExampleTests
{
    private static readonly DateTimeZone Zone = DateTimeZoneProviders.Tzdb["America/Denver"];

    private static Agenda Decide(Rig rig, OffsetDateTime now, LogEntry[] entries, params Stop[] stops)
    {
        var book = Book(rig, now, entries);
        return Court.Decide(Situation.Build(book, new JointEstimator().Estimate(book), stops.Length == 0 ? null : new Itinerary("Trip", stops)));
    }

    private static Agenda Decide(OffsetDateTime now, params LogEntry[] entries) => Decide(Rig(), now, entries);

    private static Stop Stop(string id, double from, double to, StopHookup hookup) => new(id, id, Zone, At(from), At(to), hookup, 2) { DriveHoursBefore = 1 };

    private static ValveEntry Valve(double day, string tank, ValveState state) => new() { At = At(day), Tank = tank, State = state };

    private static StayEntry Place(double day, Hookup hookup) => new() { At = At(day), Hookup = hookup, Place = "Lantern Hollow", Zone = Zone };

    private static CheckEntry Checked(double day, CheckCode code, bool pass) =>
        new() { At = At(day), Code = code, Result = pass ? CheckResult.Pass : CheckResult.Fail };

    private static IEnumerable<AgendaItem> Of(Agenda agenda, AgendaCode code, string? tank = null) =>
        agenda.Items.Where(i => i.Code == code && (tank is null || i.Tanks.Contains(tank)));

    // Some days into a stay, black looked at just now.
    private static LogEntry[] Black(double fraction, Hookup hookup, params LogEntry[] more) =>
        [Place(0, hookup), Dump(At(0.1)), new FlushEntry { At = At(0.11), Tank = "black", Method = FlushMethod.BuiltIn },
        new WaterEntry { At = At(0.12), Tank = "black", WaterL = 16, Purpose = WaterPurpose.Starter }, Dump(At(0.13), "gray"),
        Looked(At(4.3), fraction), .. more];

    [Theory]
    [InlineData(Smell.Gas, 3, true)]
    [InlineData(Smell.Gas, 5, true)]
    [InlineData(Smell.Gas, 2, false)]
    [InlineData(Smell.Sewage, 5, false)]
    public void A_strong_smell_of_gas_is_taken_like_an_alarm(Smell smell, int strength, bool evacuate)
    {
        var agenda = Decide(At(4.35),
            Black(0.7, Hookup.Full, new OdorEntry { At = At(4.34), Where = OdorPlace.GalleySink, Smell = smell, Strength = strength }));
        (agenda.Items is [{ Code: AgendaCode.Evacuate, Level: AgendaLevel.Safety }]).ShouldBe(evacuate);
        if (evacuate) agenda.Held.ShouldContain(h => h.Code == AgendaCode.DumpRun);
    }

    [Fact]
    public void The_last_dump_before_storage_ends_the_trip_and_none_before_it_does()
    {
        var last = Of(Decide(Rig(), At(4.35), Black(0.6, Hookup.Full), Stop("a", 0, 6, StopHookup.Full), Stop("b", 6.1, 40, StopHookup.Storage)),
            AgendaCode.DumpRun, "black").ShouldHaveSingleItem();
        last.Form.ShouldBe(RunForm.EndOfTrip);
        var longStay = Of(Decide(Rig(), At(4.35), Black(0.6, Hookup.Full), Stop("a", 0, 20, StopHookup.Full), Stop("b", 20.1, 40, StopHookup.Storage)),
            AgendaCode.DumpRun, "black").OrderBy(r => r.At).ToList();
        longStay.Count.ShouldBeGreaterThanOrEqualTo(2);
        longStay[0].Form.ShouldBe(RunForm.Full);
        longStay[^1].Form.ShouldBe(RunForm.EndOfTrip);
        var runs = Of(Decide(Rig(), At(4.35), Black(0.6, Hookup.Full), Stop("a", 0, 6, StopHookup.Full), Stop("b", 6.1, 12, StopHookup.Dry),
            Stop("c", 12.1, 18, StopHookup.Full), Stop("d", 18.1, 40, StopHookup.Storage)), AgendaCode.DumpRun, "black").OrderBy(r => r.At).ToList();
        runs.Count.ShouldBeGreaterThanOrEqualTo(2);
        runs[^1].Form.ShouldBe(RunForm.EndOfTrip);
        runs.SkipLast(1).ShouldAllBe(r => r.Form == RunForm.Full);
    }

    [Fact]
    public void An_alarm_stays_until_propane_was_ruled_out()
    {
        LogEntry[] entries = Black(0.3, Hookup.Full, new SymptomEntry { At = At(4.31), Code = SymptomCode.PropaneAlarm });
        Decide(At(5), entries).Items.ShouldHaveSingleItem().Because.ShouldBe([Because.PropaneAlarm]);
        Of(Decide(At(5), [.. entries, Checked(4.5, CheckCode.PropaneRuledOut, true)]), AgendaCode.Evacuate).ShouldBeEmpty();
    }

    [Fact]
    public void Bleach_in_a_used_tank_is_aired_dumped_and_rinsed_twice_and_nothing_else_goes_in()
    {
        LogEntry[] entries = Black(0.4, Hookup.Full, new DoseEntry { At = At(4.32), Tank = "black", Recipe = DoseRecipe.ClassicBleach, Amount = "1 cup" });
        var agenda = Decide(At(4.33), entries);
        agenda.Items[0].ShouldSatisfyAllConditions(i => i.Code.ShouldBe(AgendaCode.Ventilate), i => i.Level.ShouldBe(AgendaLevel.Safety));
        Of(agenda, AgendaCode.DumpRun, "black").First().Because.ShouldContain(Because.Bleach);
        Of(agenda, AgendaCode.StopUsing, "black").ShouldNotBeEmpty();
        agenda.Items.ShouldNotContain(i => i.Tanks.Contains("black")
            && (i.Code == AgendaCode.Dose || i.Code == AgendaCode.StarterWater || i.Code == AgendaCode.TopUp));

        // Dumped, one rinse: one is still to come. Rinsed twice: it is over.
        var dumped = entries.Append(Dump(At(4.4))).ToArray();
        Of(Decide(At(4.42), [.. dumped,
            new FlushEntry { At = At(4.41), Tank = "black", Method = FlushMethod.BuiltIn, Cycles = [new FlushCycle(120, null, null, null)] }]),
            AgendaCode.Rinse, "black").ShouldNotBeEmpty();
        Of(Decide(At(4.42), [.. dumped,
            new FlushEntry { At = At(4.41), Tank = "black", Method = FlushMethod.BuiltIn,
            Cycles = [new FlushCycle(120, null, null, null), new FlushCycle(120, null, null, null)] }]), AgendaCode.Rinse).ShouldBeEmpty();
    }

    [Fact]
    public void A_tank_that_let_nothing_out_is_left_alone_and_the_others_go_on()
    {
        var agenda = Decide(At(4.33),
            Black(0.7, Hookup.Full, new DumpEntry { At = At(4.32), Tank = "black", Flow = DumpFlow.None },
            new ReadingEntry { At = At(4.325), Tank = "gray", Via = ReadingVia.Panel, Percent = 85 }));
        Of(agenda, AgendaCode.StopUsing, "black").ShouldHaveSingleItem().Level.ShouldBe(AgendaLevel.Now);
        agenda.Items.ShouldNotContain(i => i.Tanks.Contains("black")
            && (i.Code == AgendaCode.DumpRun || i.Code == AgendaCode.Dose || i.Code == AgendaCode.StarterWater || i.Code == AgendaCode.TopUp
            || i.Code == AgendaCode.Rinse));
        agenda.Held.ShouldContain(h => h.Code == AgendaCode.DumpRun && h.Tank == "black");
        Of(agenda, AgendaCode.Remedy, "black").First().For.ShouldBe("outlet-clog");
        Of(agenda, AgendaCode.DumpRun, "gray").ShouldNotBeEmpty();
    }

    [Theory]
    [InlineData(0.3, true)]
    [InlineData(0.93, false)]
    public void The_first_rung_fits_the_room_there_surely_is(double fraction, bool water)
    {
        var remedy = Of(Decide(At(4.33), Black(fraction, Hookup.Full, new DumpEntry { At = At(4.32), Tank = "black", Flow = DumpFlow.None })),
            AgendaCode.Remedy, "black").First();
        if (water) remedy.WaterL!.Value.ShouldBeInRange(5, 0.75 * BlackL);
        else remedy.WaterL.ShouldBeNull();
    }

    [Fact]
    public void A_gray_open_where_nothing_drains_is_closed_now_and_before_leaving_in_time()
    {
        var dry = Of(Decide(At(4.35), Black(0.3, Hookup.Dry, Valve(4.34, "gray", ValveState.Open))), AgendaCode.CloseValve, "gray").ShouldHaveSingleItem();
        (dry.Level, dry.Because[0]).ShouldBe((AgendaLevel.Now, Because.NothingDrains));

        var leaving = Decide(Rig(), At(4.35), Black(0.3, Hookup.Full, Valve(4.34, "gray", ValveState.Open)), Stop("a", 0, 4.7, StopHookup.Full),
            Stop("b", 4.8, 7, StopHookup.Dry));
        Of(leaving, AgendaCode.CloseValve, "gray").First().At!.Value.ShouldBeLessThanOrEqualTo(At(4.7).ToInstant());
        Of(Decide(At(4.35), Black(0.3, Hookup.Full, Valve(4.34, "black", ValveState.Open))), AgendaCode.CloseValve, "black")
            .ShouldHaveSingleItem().Level.ShouldBe(AgendaLevel.Now);
    }

    [Fact]
    public void Black_due_with_too_little_gray_waits_for_the_morning_if_it_surely_lasts_and_goes_now_if_not()
    {
        // Evening; gray has stood open and holds nothing.
        var evening = At(4, 12);
        LogEntry[] Evening(double fraction) => [.. Black(0.3, Hookup.Full, Valve(0.5, "gray", ValveState.Open)), Looked(At(4, 11.9), fraction)];
        var lasts = Decide(Rig(), evening, Evening(0.68));
        var run = Of(lasts, AgendaCode.DumpRun, "black").First();
        run.At!.Value.InZone(Zone).LocalDateTime.ShouldSatisfyAllConditions(t => t.Date.ShouldBe(evening.Date.PlusDays(1)), t => t.Hour.ShouldBeInRange(7, 11));
        Of(lasts, AgendaCode.CloseValve, "gray").First().Level.ShouldBe(AgendaLevel.Now);

        var full = Of(Decide(Rig(), evening, Evening(0.97)), AgendaCode.DumpRun, "black").First();
        full.Level.ShouldBe(AgendaLevel.Now);
        full.Because.ShouldContain(Because.RinsedWithWater);
    }

    // What is asked says why: people who were not counted are no forgotten dump.
    [Theory]
    [InlineData(0.5)]
    [InlineData(2.4)]
    public void Tanks_that_fill_otherwise_than_counted_ask_for_people_and_not_for_a_dump(double times)
    {
        var rig = Rig() with { Tanks = [Rig().Tanks[0] with { CapacityL = 75 }, Rig().Tanks[1] with { CapacityL = 400 }] };
        double Share(int tank, double of) => 0.01 + 1.95 * of * rig.People * rig.MedianInflow(rig.Tanks[tank], Hookup.Full) / rig.Tanks[tank].CapacityL;
        var entries = new List<LogEntry> { Place(0, Hookup.Full) };
        for (var k = 0; k <= 10; k++)
            entries.AddRange([Dump(At(3 * k, 1)), Dump(At(3 * k, 1.1), "gray"), Looked(At(3 * k + 2), Share(0, k == 10 ? times : 1)),
                Looked(At(3 * k + 2, 0.1), Share(1, k == 10 ? times : 1), "gray")]);
        var asked = Of(Decide(rig, At(32, 1), [.. entries]), AgendaCode.ConfirmEntry).ShouldHaveSingleItem();
        asked.Because.ShouldBe([Because.UnloggedPeople]);
        asked.Doubts[0].Misfit.Kind.ShouldBe(InconsistencyKind.UnloggedPeople);
        (asked.Doubts[0].Misfit.FoundL < asked.Doubts[0].Misfit.ExpectedL).ShouldBe(times < 1);
        asked.Entry.ShouldBeOfType<PeopleEntry>().Count.ShouldBeInRange(times < 1 ? 1 : 3, times < 1 ? 1 : 6);
    }

    [Fact]
    public void Low_black_goes_past_a_station_to_the_sewer_ahead()
    {
        var station = Stop("station", 4.5, 4.55, StopHookup.DumpStation) with { Busy = true, RinseWater = RinseWater.Unthreaded };
        var agenda = Decide(Rig(), At(4.35), Black(0.12, Hookup.Dry, new ReadingEntry { At = At(4.34), Tank = "gray", Via = ReadingVia.Panel, Percent = 80 }),
            Stop("a", 0, 4.45, StopHookup.Dry), station, Stop("b", 4.7, 8, StopHookup.Full));
        agenda.Items.Where(i => i.Code == AgendaCode.DumpRun && i.At < At(4.6).ToInstant())
            .ShouldAllBe(i => i.Form == RunForm.GrayOnly && !i.Tanks.Contains("black"));
    }

    [Theory]
    [InlineData(StopHookup.Full, 0.12, true)]
    [InlineData(StopHookup.Partial, 0.12, false)]
    [InlineData(StopHookup.Full, 0.6, false)]
    public void A_low_black_that_was_wished_away_at_a_busy_station_is_held_only_if_a_sewer_is_ahead(StopHookup next, double level, bool holds)
    {
        var station = Stop("station", 4.5, 4.55, StopHookup.DumpStation) with { Busy = true, RinseWater = RinseWater.Unthreaded };
        var book = Book(Rig(), At(4.35), Black(level, Hookup.Dry));
        var trip = new Itinerary("Trip", [Stop("a", 0, 4.45, StopHookup.Dry), station, Stop("b", 4.7, 8, next)])
        { Wishes = [new TripWish("station", TankRole.Black, DumpWish.Here)] };
        var agenda = Court.Decide(Situation.Build(book, new JointEstimator().Estimate(book), trip));
        agenda.Held.Any(h => h.Code == AgendaCode.DumpRun && h.Because == Because.SewerAhead).ShouldBe(holds);
        Of(agenda, AgendaCode.DumpRun, "black").Any(i => i.At < At(4.6).ToInstant()).ShouldBe(!holds);
    }

    [Fact]
    public void A_dose_waits_for_a_dump_within_two_days()
    {
        var agenda = Decide(At(4.35),
            [Place(0, Hookup.Full), Dump(At(0.1)), new WaterEntry { At = At(0.12), Tank = "black", WaterL = 16, Purpose = WaterPurpose.Starter },
            Looked(At(4.3), 0.6)]);
        var run = Of(agenda, AgendaCode.DumpRun, "black").First();
        (run.At!.Value - At(4.35).ToInstant()).ShouldBeLessThan(Duration.FromHours(48));
        Of(agenda, AgendaCode.Dose, "black").ShouldBeEmpty();
    }

    [Fact]
    public void What_was_just_answered_is_not_asked_again_until_something_new_comes_up()
    {
        LogEntry[] odd = [.. Black(0.5, Hookup.Full), Lamps(At(4.31)), new SymptomEntry { At = At(4.32), Code = SymptomCode.LampsDead }, Lamps(At(4.33))];
        const string battery = "battery-ok";
        Of(Decide(At(4.35), odd), AgendaCode.Check).ShouldContain(i => i.Check == battery);
        Of(Decide(At(4.35), [.. odd, Checked(4.34, CheckCode.BatteryOk, true)]), AgendaCode.Check).ShouldNotContain(i => i.Check == battery);
    }

    [Fact]
    public void A_trip_and_a_log_that_disagree_are_named()
    {
        var stops = (Stop[])[Stop("a", 0, 6, StopHookup.Dry), Stop("b", 6.2, 8, StopHookup.Full)];
        Of(Decide(Rig(), At(4.35), Black(0.3, Hookup.Full), stops), AgendaCode.LogPlace).ShouldHaveSingleItem().Because.ShouldBe([Because.TripDisagrees]);
        Of(Decide(Rig(), At(4.35), Black(0.3, Hookup.Dry), stops), AgendaCode.LogPlace).ShouldBeEmpty();
    }

    [Fact]
    public void The_command_reads_a_situation_or_a_logbook_and_names_what_is_wrong()
    {
        var log = Encoding.UTF8.GetString(LogbookFormat.Write(Book(Rig(), At(4.35), Black(0.7, Hookup.Full))));
        using var alone = JsonDocument.Parse(Commands.Agenda(Utf8(log), false).Line);
        alone.RootElement.GetProperty("format").GetString().ShouldBe("tanksophos-agenda");
        var run = alone.RootElement.GetProperty("items").EnumerateArray().First(i => i.GetProperty("code").GetString() == "dump-run");
        run.GetProperty("tanks").EnumerateArray().Select(t => t.GetString()).ShouldBe(["black", "gray"]);
        run.GetProperty("at").GetString()!.ShouldEndWith("-06:00");
        run.GetProperty("why").GetString().ShouldNotBeNullOrEmpty();

        using var both = JsonDocument.Parse(Commands.Agenda(Utf8($$"""{"format":"tanksophos-situation","version":1,"logbook":{{log}},"trip":{"stops":[{"id":"a","name":"A","zone":"America/Denver","arrive":"2026-05-01T08:00:00-06:00","depart":"2026-05-09T08:00:00-06:00","hookup":"full","people":2} ] } }"""),
            false).Line);
        both.RootElement.GetProperty("items").EnumerateArray().ShouldContain(i => i.GetProperty("code").GetString() == "dump-run");

        var bad = Commands.Agenda(Utf8($$"""{"format":"tanksophos-situation","version":1,"logbook":{{log}},"trip":{"stops":[{"id":"a","hookup":"moon"} ] } }"""), false);
        bad.Failed.ShouldBeTrue();
        Encoding.UTF8.GetString(bad.Line).ShouldContain("trip.stops[0]");
    }
}
