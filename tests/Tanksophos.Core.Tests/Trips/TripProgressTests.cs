using NodaTime;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Trips;

namespace Tanksophos.Core.Tests.Trips;

public class TripProgressTests
{
    private static readonly DateTimeZone Zone = DateTimeZoneProviders.Tzdb["America/Denver"];
    private static readonly Rig Rig = Given.Rig() with { Usage = new Usage(Usage.Default.Black with { LogSd = 0.1 }, Usage.Default.Gray with { LogSd = 0.1 }) };

    private static OffsetDateTime At(int day, int hour, int minute = 0) => (new LocalDate(2026, 6, 5).PlusDays(day) + new LocalTime(hour, minute))
        .InZoneLeniently(Zone).ToOffsetDateTime();

    private static Trip Trip(OffsetDateTime now, double blackL, double days = 0) =>
        new(Rig, HouseRules.Default,
        new TripStart(now, new Dictionary<string, LevelBand> { ["black"] = new(blackL - 3, blackL, blackL + 3), ["gray"] = new(0, 2, 5) }, false, 150, days),
    [
        new Stop("dry", "Dry place", Zone, At(0, 15), At(4, 10), StopHookup.Dry, 2),
        new Stop("site", "Site", Zone, At(4, 13), At(9, 10), StopHookup.Full, 2) { DriveHoursBefore = 2 },
        new Stop("end", "End", Zone, At(9, 14), At(15, 10), StopHookup.Full, 2) { DriveHoursBefore = 2 },
    ]);

    private static (Trip Trip, Plan Plan, TripProgress Progress) Begun(double blackL = 60)
    {
        var trip = Trip(At(0, 16), blackL);
        var plan = Planner.Make(trip);
        return (trip, plan, TripProgress.None.Advance(trip, plan, [], false, false));
    }

    private static (string, LogEntry) Logged(string key, LogEntry entry) => (key, entry with { Id = key });

    [Fact]
    public void The_first_look_changes_nothing()
    {
        var (_, plan, progress) = Begun();
        progress.Planned.ShouldBe(plan.Actions);
        progress.Done.ShouldBeEmpty();
        progress.Changes.ShouldBeEmpty();
    }

    [Fact]
    public void A_level_far_below_the_planned_one_is_a_reason_with_both_figures()
    {
        const ChangeReason reason = ChangeReason.EmptierThanPlanned;
        var (_, plan, progress) = Begun();
        var planned = plan.Levels["black"].First(l => l.At.ToInstant() >= At(1, 12).ToInstant());
        var found = planned.Level.P50L - 45;
        var later = Trip(planned.At, found);
        var said = progress.Advance(later, Planner.Make(later), [], false, false).Changes.SelectMany(c => c.Reasons).Where(r => r.Reason == reason).ToList();
        said.ShouldNotBeEmpty();
        said[0].Tank.ShouldBe("black");
        said[0].FoundL!.Value.ShouldBe(found, 0.1);
        said[0].ExpectedL!.Value.ShouldBe(planned.Level.P50L, 12);
    }

    [Fact]
    public void A_logged_dump_ticks_the_planned_one_and_is_no_change()
    {
        var (_, plan, progress) = Begun();
        var dump = plan.Actions.First(a => a is { Kind: PlanActionKind.Dump, Tank: "black" });
        var flush = plan.Actions.First(a => a.Kind == PlanActionKind.Flush);
        var now = dump.At.Plus(Duration.FromMinutes(50));
        // An hour later than planned, and both at once.
        var after = Trip(now, 16);
        var next = progress.Advance(after, Planner.Make(after),
            [Logged("d", new DumpEntry { At = dump.At.Plus(Duration.FromMinutes(40)), Tank = "black" }),
            Logged("f", new FlushEntry { At = dump.At.Plus(Duration.FromMinutes(45)), Tank = "black", Method = FlushMethod.BuiltIn })], false, false);

        next.Done.Select(d => (d.EntryKey, d.Action.Kind)).ShouldBe([("d", dump.Kind), ("f", flush.Kind)]);
        next.Changes.ShouldBeEmpty();
        next.Advance(after, Planner.Make(after), [Logged("d", new DumpEntry { At = dump.At, Tank = "black" })], false, false).Done.Count.ShouldBe(2,
            "an entry ticks once");
    }

    [Fact]
    public void A_dump_that_was_not_logged_changes_the_plan_and_says_so()
    {
        var (_, plan, progress) = Begun();
        var dump = plan.Actions.First(a => a is { Kind: PlanActionKind.Dump, Tank: "black" });
        var later = Trip(dump.At.Plus(Duration.FromHours(9)), 95);
        var next = progress.Advance(later, Planner.Make(later), [], false, false);

        var change = next.Changes.ShouldHaveSingleItem();
        change.Reasons.ShouldContain(r => r.Reason == ChangeReason.NotDumped && r.Tank == "black");
        change.Runs.ShouldContain(r => r.Was != null && r.Was.Value.ToInstant() == dump.At.ToInstant());
    }

    [Fact]
    public void A_tank_far_fuller_than_planned_is_named_with_both_figures()
    {
        var (_, _, progress) = Begun(blackL: 10);
        var now = Trip(At(1, 16), 140);
        var next = progress.Advance(now, Planner.Make(now), [], false, false);
        var reason = next.Changes.ShouldHaveSingleItem().Reasons.ShouldHaveSingleItem();
        (reason.Reason, reason.Tank, reason.FoundL).ShouldBe((ChangeReason.FullerThanPlanned, "black", 140));
        reason.ExpectedL!.Value.ShouldBeInRange(10, 40);
        // By so much a day it filled, and by so much it should have; the two lead from the same start to the two figures.
        reason.DailyL!.Value.ShouldBeGreaterThan(reason.PlannedDailyL!.Value);
        ((140 - reason.ExpectedL.Value) / (reason.DailyL.Value - reason.PlannedDailyL.Value)).ShouldBeInRange(0.75, 2, "days since the plan was made");
    }

    [Fact]
    public void A_dump_nobody_planned_and_changed_stops_are_reasons_too()
    {
        var (_, plan, progress) = Begun(blackL: 100);
        plan.Actions.ShouldContain(a => a.Stop == "site" && a.Kind == PlanActionKind.Dump);
        var now = Trip(At(1, 16), 3);
        var next = progress.Advance(now, Planner.Make(now), [Logged("x", new DumpEntry { At = At(1, 12), Tank = "black" })], stopsChanged: true,
            rulesChanged: true);
        var reasons = next.Changes.ShouldHaveSingleItem().Reasons.Select(r => r.Reason).ToList();
        reasons.ShouldContain(ChangeReason.DumpedUnplanned);
        reasons.ShouldContain(ChangeReason.StopsChanged);
        reasons.ShouldContain(ChangeReason.RulesChanged);
        reasons.ShouldContain(ChangeReason.EmptierThanPlanned);
    }

    [Theory]
    [InlineData(PlanActionKind.CloseValve, true)]
    [InlineData(PlanActionKind.OpenValve, false)]
    public void A_valve_entry_ticks_its_own_direction_alone(PlanActionKind kind, bool does)
    {
        var action = new PlanAction(At(0, 19), "site", kind, "gray", PlanWhy.ForTheRinse);
        TripProgress.Does(new ValveEntry { At = At(0, 20), Tank = "gray", State = ValveState.Closed }, action).ShouldBe(does);
        TripProgress.Does(new ValveEntry { At = At(0, 20), Tank = "black", State = ValveState.Closed }, action).ShouldBeFalse();
        TripProgress.Does(new ValveEntry { At = At(2, 20), Tank = "gray", State = ValveState.Closed }, action).ShouldBeFalse("too long after");
    }

    [Fact]
    public void Doses_and_waters_tick_their_kind()
    {
        PlanAction Action(PlanActionKind kind, string? tank = "black") => new(At(0, 19), "site", kind, tank, PlanWhy.CoversBottom);
        TripProgress.Does(new DoseEntry { At = At(0, 19), Tank = "black", Recipe = DoseRecipe.Enzyme }, Action(PlanActionKind.Dose)).ShouldBeTrue();
        TripProgress.Does(new DoseEntry { At = At(0, 19), Tank = "black", Recipe = DoseRecipe.TravelScrub }, Action(PlanActionKind.Dose)).ShouldBeFalse();
        TripProgress.Does(new DoseEntry { At = At(0, 19), Tank = "black", Recipe = DoseRecipe.TravelScrub }, Action(PlanActionKind.ScrubBeforeDrive))
            .ShouldBeTrue();
        TripProgress.Does(new WaterEntry { At = At(0, 19), Tank = "black", WaterL = 15, Purpose = WaterPurpose.Starter }, Action(PlanActionKind.StarterWater))
            .ShouldBeTrue();
        TripProgress.Does(new WaterEntry { At = At(0, 19), Tank = "black", WaterL = 15, Purpose = WaterPurpose.Starter }, Action(PlanActionKind.TopUp))
            .ShouldBeFalse();
        TripProgress.Does(new CheckEntry { At = At(0, 19), Code = CheckCode.TrapsWet, Result = CheckResult.Pass }, Action(PlanActionKind.TopUpTraps, null))
            .ShouldBeTrue();
    }

    [Fact]
    public void What_is_kept_between_two_looks_comes_back_as_it_was_and_damage_begins_anew()
    {
        var (_, plan, progress) = Begun();
        var later = Trip(At(6, 9), 140);
        var next = progress.Advance(later, Planner.Make(later),
            [Logged("d", new DumpEntry { At = plan.Actions.First(a => a.Kind == PlanActionKind.Dump).At, Tank = "black" })], false, false);
        next.Done.ShouldNotBeEmpty();
        var read = ItineraryFormat.ReadProgress(ItineraryFormat.WriteProgress(next, At(8, 0).ToInstant()));

        read.Planned.ShouldBe(next.Planned);
        read.Done.ShouldBe(next.Done);
        read.SeenUntil.ShouldBe(next.SeenUntil);
        read.Changes.Count.ShouldBe(next.Changes.Count);
        read.Levels["black"].ShouldAllBe(p => p.At.ToInstant() <= At(8, 0).ToInstant());
        ItineraryFormat.ReadProgress(Given.Utf8("{ broken")).ShouldBe(TripProgress.None);
    }

    [Fact]
    public void What_was_kept_with_sentences_is_read_and_reasons_are_kept_as_codes()
    {
        // As it was written before reasons had codes.
        var old = """{"format":"tanksophos-progress","version":1,"seenUntil":17500000000000000,"planned":[{"at":"2026-06-09T11:05:00-06:00","stop":"s2","tank":"black","action":"dump","why":"At a site with its own sewer there is time and water for it.","expectedL":88},{"at":"2026-06-09T11:20:00-06:00","stop":"s2","tank":"black","action":"dose","why":"After each dump, by the house's school. Doubled, since days are hot.","recipe":"enzyme","amount":"16 fl oz (473 mL)"}],"levels":{"black":[{"at":"2026-06-09T11:05:00-06:00","p05L":80,"p50L":88,"p95L":96}]},"done":[],"changes":[]}"""u8;
        var read = ItineraryFormat.ReadProgress(old.ToArray());
        read.Planned.Select(a => (a.Kind, a.Why, a.Amount))
            .ShouldBe([(PlanActionKind.Dump, null, null), (PlanActionKind.Dose, (PlanWhy?)null, "16 fl oz (473 mL)")]);
        read.Planned[0].ExpectedL.ShouldBe(88);

        PlanAction[] planned = [new(At(0, 19), "s", PlanActionKind.Dose, "black", PlanWhy.AfterEachDump) { Recipe = DoseRecipe.Deodorant, Amount = "1 cup",
            Doubled = true, NotForSepticAt = "Alder Bend" }, new(At(0, 20), "s", PlanActionKind.Dump, "black", PlanWhy.OwnSewer) { ExpectedL = 50 }];
        var kept = ItineraryFormat.WriteProgress(new TripProgress(planned, new Dictionary<string, IReadOnlyList<PlanLevel>>(), [], [], At(0, 1).ToInstant()),
            At(9, 0).ToInstant());
        ItineraryFormat.ReadProgress(kept).Planned.ShouldBe(planned);
        System.Text.Encoding.UTF8.GetString(kept).ShouldNotContain("why");
    }
}
