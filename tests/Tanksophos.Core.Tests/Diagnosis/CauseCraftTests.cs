using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using static Tanksophos.Core.Tests.Given;

namespace Tanksophos.Core.Tests.Diagnosis;

/// <summary>What a practitioner would make of small logs: each is a handful of entries in which one thing is told.</summary>
public class CauseCraftTests
{
    private static readonly Rig Plumbed = Rig() with
    {
        Tanks = [Rig().Tanks[0] with { Fixtures = ["toilet"] },
        Rig().Tanks[1] with { Fixtures = ["galley-sink", "bath-sink", "shower"] }]
    };

    private static FaultReport Report(Rig rig, double day, params LogEntry[] entries)
    {
        var book = Book(rig, At(day), entries);
        return FaultReport.Compute(book, new JointEstimator().Estimate(book));
    }

    private static FaultReport Report(double day, params LogEntry[] entries) => Report(Plumbed, day, entries);

    private static double Leak(FaultReport report, int tank = 0) => report.Tanks[tank][Condition.ValveLeak];

    private static double Odor(FaultReport report, OdorCause cause) => report.Odors.First(o => o.Cause == cause).Probability;

    private static ReadingEntry Percent(double day, double percent, string tank = "black") =>
        new() { At = At(day), Tank = tank, Via = ReadingVia.Panel, Percent = percent };

    private static PeopleEntry People(double day, int count) => new() { At = At(day), Count = count };

    private static SymptomEntry Noticed(double day, SymptomCode code, string? tank = "black", string? drain = null) =>
        new() { At = At(day), Code = code, Tank = tank, Fixture = drain };

    private static OdorEntry Smelled(double day, OdorPlace where, Smell smell, params OdorWhen[] when) =>
        new() { At = At(day), Where = where, Smell = smell, When = when };

    private static CheckEntry Checked(double day, CheckCode code, bool pass) =>
        new() { At = At(day), Code = code, Result = pass ? CheckResult.Pass : CheckResult.Fail };

    // What falls

    [Fact]
    public void A_level_that_falls_by_little_every_day_with_nobody_aboard_is_a_leak_though_no_two_looks_show_it()
    {
        var rig = Rig(MonitorKind.Percent);
        LogEntry[] begin = [Stay(At(0), Hookup.Partial), Dump(At(1)), Percent(6, 47), People(6.1, 0)];
        var falling = Report(rig, 14, [.. begin, .. Enumerable.Range(0, 7).Select(i => Percent(7 + i, 43 - 6 * i))]);
        var holding = Report(rig, 14, [.. begin, .. Enumerable.Range(0, 7).Select(i => Percent(7 + i, 47 - i % 2))]);
        Leak(falling).ShouldBeGreaterThan(0.4);
        Leak(holding).ShouldBeLessThan(0.04);
        falling.Tanks[0].Conditions.First(c => c.Code == Condition.ValveLeak).Reasons.ShouldContain(r => r.Sign.Code == SignCode.LevelFell
            && r.Sign.Entry is ReadingEntry && r.Weight > 1);
    }

    [Fact]
    public void One_fall_to_nothing_may_be_a_dump_that_nobody_wrote_down()
    {
        var rig = Rig(MonitorKind.None);
        var atOnce = Leak(Report(rig, 8, Stay(At(0), Hookup.Full), Dump(At(0.5)), Looked(At(5), 0.6), Looked(At(6), 0.6), Looked(At(7), 0.02)));
        var slowly = Leak(Report(rig, 8, Stay(At(0), Hookup.Full), Dump(At(0.5)), Looked(At(5), 0.6), Looked(At(5.5), 0.48), Looked(At(6), 0.36),
            Looked(At(6.5), 0.2), Looked(At(7), 0.02)));
        var written = Leak(Report(rig, 8, Stay(At(0), Hookup.Full), Dump(At(0.5)), Looked(At(5), 0.6), Dump(At(6.5)), Looked(At(7), 0.02)));
        atOnce.ShouldBeGreaterThan(written);
        slowly.ShouldBeGreaterThan(atOnce);
        written.ShouldBeLessThan(0.06);
    }

    [Theory]
    [InlineData(new[] { "low", "mid" }, new string[0], true)] // from two thirds to below one third
    [InlineData(new[] { "low", "mid" }, new[] { "low" }, false)] // one lamp at its own height is slosh
    [InlineData(new[] { "low" }, new[] { "low" }, false)]
    public void Lamps_that_go_dark_tell_of_a_fall_only_where_the_level_surely_fell(string[] before, string[] after, bool fell)
    {
        var report = Report(10, Stay(At(0), Hookup.Full), Dump(At(1)), Lamps(At(6), before), Lamps(At(7), before), Lamps(At(8), after), Lamps(At(9), after));
        report.Tanks[0].Conditions.First(c => c.Code == Condition.ValveLeak).Reasons.Any(r => r.Sign.Code == SignCode.LevelFell && r.Sign.Entry is not null)
            .ShouldBe(fell);
    }

    [Fact]
    public void With_nobody_aboard_one_lamp_is_enough_and_in_storage_nobody_is()
    {
        LogEntry[] seen = [Lamps(At(6), "low", "mid"), Lamps(At(7), "low", "mid"), Lamps(At(9), "low"), Lamps(At(11), "low")];
        double Of(params LogEntry[] more) => Leak(Report(12, [Stay(At(0), Hookup.Full), Dump(At(1)), .. seen, .. more]));
        Of(People(6.5, 0)).ShouldBeGreaterThan(Of());
        Of(Stay(At(6.5), Hookup.Storage)).ShouldBeGreaterThan(Of());
    }

    [Fact]
    public void A_drip_at_the_cap_is_a_valve_and_each_drip_makes_it_surer()
    {
        LogEntry[] days = [Stay(At(0), Hookup.Full), Dump(At(2)), Dump(At(9))];
        var once = Report(10, [.. days, Checked(9.1, CheckCode.CapDry, false)]);
        var twice = Report(13, [.. days, Checked(9.1, CheckCode.CapDry, false), Checked(12.1, CheckCode.CapDry, false)]);
        var healed = Report(13, [.. days, Checked(9.1, CheckCode.CapDry, false), Checked(12.1, CheckCode.CapDry, true)]);
        Leak(once).ShouldBeGreaterThan(0.25);
        Leak(twice).ShouldBeGreaterThan(Conditions.Likely);
        Leak(healed).ShouldBeLessThan(Leak(once));
        Leak(once).ShouldBeGreaterThan(Leak(once, 1), "whose drip it is nobody said; black comes first through the cap");
        Leak(Report(10, [.. days, Checked(9.1, CheckCode.CapDry, false) with { Tank = "gray" }])).ShouldBeLessThan(0.1);
        twice.Courses.First(c => c.Condition == Condition.ValveLeak).Rungs.Select(r => r.Action).ShouldContain(RemedyAction.AddEndValve);
    }

    // Drains

    [Fact]
    public void One_drain_of_several_that_is_slow_says_little_of_the_tank_and_two_say_much()
    {
        double Vent(params LogEntry[] noticed) => Report(10, [Stay(At(0), Hookup.Partial), .. noticed]).Tanks[1][Condition.VentBlocked];
        var one = Vent(Noticed(8, SymptomCode.DrainsSlowly, "gray", "shower"), Noticed(9, SymptomCode.DrainsSlowly, "gray", "shower"));
        var two = Vent(Noticed(8, SymptomCode.DrainsSlowly, "gray", "shower"), Noticed(9, SymptomCode.DrainsSlowly, "gray", "galley-sink"));
        var unsaid = Vent(Noticed(8, SymptomCode.DrainsSlowly, "gray"), Noticed(9, SymptomCode.DrainsSlowly, "gray"));
        one.ShouldBeLessThan(two);
        two.ShouldBe(unsaid, 1e-9, "two different drains are the tank's own voice");
        Report(10, Stay(At(0), Hookup.Partial), Noticed(9, SymptomCode.DrainsSlowly, "black", "toilet")).Tanks[0][Condition.OutletClog]
            .ShouldBe(Report(10, Stay(At(0), Hookup.Partial), Noticed(9, SymptomCode.DrainsSlowly)).Tanks[0][Condition.OutletClog], 1e-9,
            "black has one drain; there is nothing to tell apart");
    }

    [Fact]
    public void A_drain_is_kept_by_the_document()
    {
        var book = Book(Plumbed, At(3), Noticed(1, SymptomCode.Gurgles, "gray", "shower"),
            Smelled(2, OdorPlace.Floor, Smell.Sewage) with { Fixture = "washer" });
        var (read, problems, warnings) = LogbookFormat.Read(LogbookFormat.Write(book));
        problems.ShouldBeEmpty();
        warnings.ShouldBeEmpty();
        read!.Entries.OfType<SymptomEntry>().Single().Fixture.ShouldBe("shower");
        read.Entries.OfType<OdorEntry>().Single().Fixture.ShouldBe("washer");
        LogbookFormat.Read(Utf8(Document($$"""{ "at": "2026-05-02T08:00:00-06:00", "type": "symptom", "code": "gurgles", "fixture": "{{new string('x',
            61)}}" }"""))).Errors.Single().Path.ShouldBe("entries[0].fixture");
    }

    // Smells

    [Fact]
    public void Traps_that_nobody_watered_for_weeks_are_the_likelier_the_longer()
    {
        double Dry(params LogEntry[] more) => Odor(Report(41, [Stay(At(0), Hookup.Full), .. more, Smelled(40, OdorPlace.WholeRig, Smell.Sewage)]),
            OdorCause.DryTrap);
        var unknown = Dry();
        Dry(Checked(20, CheckCode.TrapsWet, true)).ShouldBeGreaterThan(unknown, "twenty days ago");
        Dry(Checked(4, CheckCode.TrapsWet, true)).ShouldBeGreaterThan(Dry(Checked(20, CheckCode.TrapsWet, true)), "thirty-six days ago");
        Dry(Checked(38, CheckCode.TrapsWet, true)).ShouldBeLessThan(unknown, "two days ago");
    }

    [Fact]
    public void Heat_and_days_since_the_dump_together_turn_black()
    {
        double Turned(double dumped, params OdorWhen[] when) =>
            Odor(Report(12, Stay(At(0), Hookup.Partial), Dump(At(dumped)), Smelled(11, OdorPlace.Bathroom, Smell.RottenEgg, when)), OdorCause.BlackAnaerobic);
        Turned(4, OdorWhen.HotDay).ShouldBeGreaterThan(Turned(4));
        Turned(4, OdorWhen.HotDay).ShouldBeGreaterThan(Turned(10.5, OdorWhen.HotDay), "a tank dumped this morning has not turned");
    }

    [Theory]
    [InlineData(OdorPlace.Bathroom, Smell.Sewage, new[] { OdorWhen.Always, OdorWhen.AfterStorage }, OdorCause.BowlSeal)]
    [InlineData(OdorPlace.ToiletOnFlush, Smell.RottenEgg, new[] { OdorWhen.RoofVentOpen }, OdorCause.FanDraw)]
    [InlineData(OdorPlace.Floor, Smell.Sewage, new[] { OdorWhen.AfterStorage }, OdorCause.DryTrap)]
    [InlineData(OdorPlace.GalleySink, Smell.Rancid, new OdorWhen[0], OdorCause.GrayGreasy)]
    [InlineData(OdorPlace.Outside, Smell.Sewage, new OdorWhen[0], OdorCause.HoseOrCap)]
    [InlineData(OdorPlace.BathSink, Smell.Sewage, new[] { OdorWhen.UnusedFixture }, OdorCause.DryTrap)]
    [InlineData(OdorPlace.WholeRig, Smell.Gas, new OdorWhen[0], OdorCause.Propane)]
    public void A_smell_is_ranked_as_the_craft_would(OdorPlace where, Smell smell, OdorWhen[] when, OdorCause cause) =>
        Report(6, Stay(At(0), Hookup.Partial), Smelled(5, where, smell, when)).Odors[0].Cause.ShouldBe(cause);

    [Theory]
    [InlineData(OdorPlace.Bathroom, OdorWhen.Always, CheckCode.BowlHoldsWater, OdorCause.BowlSeal)]
    [InlineData(OdorPlace.Floor, OdorWhen.UnusedFixture, CheckCode.TrapsWet, OdorCause.DryTrap)]
    [InlineData(OdorPlace.ToiletOnFlush, OdorWhen.Always, CheckCode.RoofVentClear, OdorCause.VentBlocked)]
    [InlineData(OdorPlace.StorageBay, OdorWhen.HookedUp, CheckCode.HoseSound, OdorCause.HoseOrCap)]
    public void Each_cause_has_a_check_that_raises_it_when_it_fails_and_lowers_it_when_it_passes(OdorPlace where, OdorWhen when, CheckCode check,
        OdorCause cause)
    {
        double With(params LogEntry[] more) => Odor(Report(6, [Stay(At(0), Hookup.Full), Smelled(5, where, Smell.Sewage, when), .. more]), cause);
        With(Checked(5.5, check, false)).ShouldBeGreaterThan(With());
        With(Checked(5.5, check, true)).ShouldBeLessThan(With());
    }

    [Fact]
    public void A_bowl_that_goes_dry_has_its_ladder_before_it_smells_and_loses_it_when_it_holds()
    {
        var dry = Report(6, Stay(At(0), Hookup.Full), Noticed(5, SymptomCode.BowlGoesDry));
        dry.Odors.ShouldBeEmpty();
        var course = dry.Courses.Single(c => c.Odor == OdorCause.BowlSeal);
        course.Next.Action.ShouldBe(RemedyAction.CleanBowlSeal);
        course.Since.ShouldBe(At(5).ToInstant());
        Report(6, Stay(At(0), Hookup.Full), Noticed(5, SymptomCode.BowlGoesDry), Checked(5.5, CheckCode.BowlHoldsWater, true)).Courses.ShouldBeEmpty();
        Report(30, Stay(At(0), Hookup.Full), Noticed(5, SymptomCode.BowlGoesDry)).Courses.ShouldBeEmpty("weeks ago");
        Report(6, Stay(At(0), Hookup.Full), Noticed(5, SymptomCode.BowlGoesDry), Noticed(5.2, SymptomCode.PropaneAlarm, null)).Courses.ShouldAllBe(c =>
            c.Odor == OdorCause.Propane);
    }

    // Checks

    [Fact]
    public void Who_just_looked_down_the_toilet_is_not_sent_to_look_again()
    {
        LogEntry[] backs = [Stay(At(0), Hookup.Partial), Dump(At(1)), Noticed(5, SymptomCode.BacksUpOnFlush), Noticed(5.3, SymptomCode.FillsTooSoon)];
        Report(6, backs).Checks.ShouldContain(c => c.Code == CauseCheckCode.Flashlight);
        Report(6, [.. backs, Noticed(5.6, SymptomCode.HeapSeen)]).Checks.ShouldNotContain(c => c.Code == CauseCheckCode.Flashlight);
        Report(6, [.. backs, Looked(At(5.6), 0.3)]).Checks.ShouldNotContain(c => c.Code == CauseCheckCode.Flashlight);
        Report(9, [.. backs, Looked(At(5.6), 0.3), Noticed(8.5, SymptomCode.BacksUpOnFlush)]).Checks.ShouldContain(c => c.Code == CauseCheckCode.Flashlight,
            "something new was noticed since");
    }

    [Fact]
    public void What_the_answers_of_a_check_would_mean_agrees_with_what_they_are_worth()
    {
        var report = Report(6, Stay(At(0), Hookup.Full), Smelled(5, OdorPlace.Bathroom, Smell.Sewage, OdorWhen.Always), Noticed(5.2, SymptomCode.Gurgles));
        report.Checks.Count.ShouldBeGreaterThan(2);
        foreach (var check in report.Checks)
        {
            check.Outcomes.Sum(o => o.Chance).ShouldBe(1, 1e-6, check.Code.ToString());
            check.Outcomes.ShouldAllBe(o => o.Probability >= 0 && o.Probability <= 1);
            check.Worth.ShouldBe(check.Bits / CauseChecks.Effort(check.Code), 1e-9);
        }
        report.Checks.Zip(report.Checks.Skip(1)).ShouldAllBe(p => p.First.Worth >= p.Second.Worth);
    }

    // Ladders

    [Theory]
    [InlineData(Condition.Heap, SymptomCode.HeapSeen, RemedyAction.SoapSoak)]
    [InlineData(Condition.OutletClog, SymptomCode.NothingComesOut, RemedyAction.SoapSoak)]
    [InlineData(Condition.ValveStiff, SymptomCode.ValveStiff, RemedyAction.ValveLubricant)]
    public void A_ladder_ends_at_a_trained_person_or_a_new_part_and_never_begins_there(Condition condition, SymptomCode seen, RemedyAction first)
    {
        var course = Report(6, Stay(At(0), Hookup.Full), Dump(At(1)), Noticed(5, seen)).Courses.Single(c => c.Condition == condition);
        course.Next.Action.ShouldBe(first);
        course.BeyondOwner.ShouldBeFalse();
        course.Rungs[^1].Action.ShouldBeOneOf(RemedyAction.PressureJet, RemedyAction.ValveReplaced, RemedyAction.Professional);
        course.Rungs.Where(r => r.Number > 0).Select(r => r.Number).ShouldBe(Enumerable.Range(1, course.Rungs.Count(r => r.Number > 0)));
    }

    [Fact]
    public void Nothing_is_pushed_back_up_through_a_macerator()
    {
        var through = Plumbed with { Equipment = new Equipment { Macerator = true, ReverseFlush = true } };
        Report(through, 6, Stay(At(0), Hookup.Full), Noticed(5, SymptomCode.HeapSeen)).Courses[0].Rungs.ShouldNotContain(r => r.Action == RemedyAction.Reverse);
        Report(Plumbed with { Equipment = new Equipment { ReverseFlush = true } }, 6, Stay(At(0), Hookup.Full),
            Noticed(5, SymptomCode.HeapSeen)).Courses[0].Rungs.ShouldContain(r => r.Action == RemedyAction.Reverse);
    }

    [Fact]
    public void A_trouble_that_ended_is_on_record_with_what_ended_it()
    {
        var rig = Plumbed;
        LogEntry[] log = [Stay(At(0), Hookup.Full), Dump(At(2)), Noticed(5, SymptomCode.ValveStiff), Noticed(6, SymptomCode.ValveStiff),
            new ServiceEntry { At = At(8), Tank = "black", Code = ServiceCode.ValveReplaced }, Dump(At(10))];
        var health = TankHealth.Compute(rig, rig.Tanks[0], log, At(12).ToInstant());
        var cure = health.Cures.Single(c => c.Condition == Condition.ValveStiff);
        cure.By.ShouldBeOfType<ServiceEntry>().Code.ShouldBe(ServiceCode.ValveReplaced);
        cure.Cured.Instant.ShouldBe(At(8).ToInstant());
        health.Events.ShouldContain(e => e.Entry is ServiceEntry);
        TankHealth.Compute(rig, rig.Tanks[1], log, At(12).ToInstant()).Cures.ShouldBeEmpty();
    }

    [Fact]
    public void Order_of_writing_and_withdrawn_tanks_do_not_matter_to_the_verdict()
    {
        LogEntry[] log = [Stay(At(0), Hookup.Full), Dump(At(2)), Noticed(5, SymptomCode.BacksUpOnFlush), Noticed(6, SymptomCode.FillsTooSoon),
            Smelled(6.5, OdorPlace.Bathroom, Smell.Sewage, OdorWhen.Always)];
        var straight = Report(8, log);
        var turned = Report(8, [.. log.Reverse()]);
        turned.Tanks[0].Conditions.Select(c => c.Probability).ShouldBe(straight.Tanks[0].Conditions.Select(c => c.Probability));
        turned.Odors.Select(o => (o.Cause, o.Probability)).ShouldBe(straight.Odors.Select(o => (o.Cause, o.Probability)));
    }

    [Fact]
    public void A_jet_and_a_passed_sniff_test_retire_the_coat_that_it_smelled_of()
    {
        LogEntry[] smelled = [Stay(At(0), Hookup.Full), Dump(At(1)), Smelled(1.05, OdorPlace.Bathroom, Smell.Sewage, OdorWhen.RightAfterDump),
            Checked(1.06, CheckCode.SniffTest, false), Dump(At(4)), Smelled(4.05, OdorPlace.Bathroom, Smell.Sewage, OdorWhen.RightAfterDump)];
        Odor(Report(5, smelled), OdorCause.BlackCoated).ShouldBeGreaterThan(0.6);
        Odor(Report(6, [.. smelled, new ServiceEntry { At = At(5.5), Code = ServiceCode.PressureJet, Tank = "black" },
            Checked(5.6, CheckCode.SniffTest, true)]), OdorCause.BlackCoated).ShouldBeLessThan(0.1);
        Odor(Report(6, [.. smelled, Dump(At(5.5)), Checked(5.6, CheckCode.SniffTest, true)]), OdorCause.BlackCoated)
            .ShouldBeLessThan(0.35, "a pass outweighs older smells");
    }

    // Habits

    private static WaterEntry Starter(double day) => new() { At = At(day), Tank = "black", WaterL = 15, Purpose = WaterPurpose.Starter };

    // Six dumps below a third, without water put in first, with paper that failed its test: the pile is in the making.
    [Fact]
    public void Low_dry_dumps_with_bad_paper_over_weeks_are_a_pile_in_the_making()
    {
        var entries = new List<LogEntry> { Stay(At(0), Hookup.Full), Checked(0.1, CheckCode.PaperDissolves, pass: false), Dump(At(0.2)) };
        for (var k = 1; k <= 6; k++) entries.AddRange([Looked(At(4 * k), 0.22), Dump(At(4 * k, 1)) with { Flow = DumpFlow.Steady }]);
        var report = Report(26, [.. entries]);
        report.Tanks[0][Condition.Heap].ShouldBeGreaterThan(0.35, string.Join("; ", report.Tanks[0].Conditions.First(c => c.Code == Condition.Heap).Reasons
            .Select(r => $"{r.Sign.Code} {r.Sign.At} {r.Sign.Size:0.00} {r.Weight:0.00}")));
        // The same crew, dumping at two thirds with water put in first.
        entries = [Stay(At(0), Hookup.Full), Dump(At(0.2)), Starter(0.3)];
        for (var k = 1; k <= 6; k++)
            entries.AddRange([Looked(At(9 * k), 0.66), Dump(At(9 * k, 1)) with { Flow = DumpFlow.Rush }, Starter(9 * k + 0.1)]);
        Report(56, [.. entries]).Tanks[0][Condition.Heap].ShouldBeLessThan(0.05);
    }

    [Fact]
    public void A_smell_at_the_galley_sink_leads_to_the_tank_that_the_galley_drains_into()
    {
        var rig = Plumbed with
        {
            Tanks = [Plumbed.Tanks[0], new Tank("bath", "Bath", TankRole.Gray, 150) { Fixtures = ["bath-sink", "shower"] },
                new Tank("galley", "Galley", TankRole.Gray, 120) { Fixtures = ["galley-sink"] }],
        };
        LogEntry[] entries = [Stay(At(0), Hookup.Full), Dump(At(1)),
            Smelled(6, OdorPlace.GalleySink, Smell.Rancid), Smelled(7, OdorPlace.GalleySink, Smell.Rancid)];
        var course = Report(rig, 8, entries).Courses.First(c => c.Odor == OdorCause.GrayGreasy);
        course.Tank.ShouldBe("galley");
        var shower = Report(rig, 8, [.. entries[..2], Smelled(6, OdorPlace.Shower, Smell.Rancid), Smelled(7, OdorPlace.Shower, Smell.Rancid)]);
        shower.Courses.Where(c => c.Odor == OdorCause.GrayGreasy).ShouldAllBe(c => c.Tank == "bath");
    }
}
