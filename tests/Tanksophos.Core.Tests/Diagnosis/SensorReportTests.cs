using NodaTime;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using static Tanksophos.Core.Tests.Given;

namespace Tanksophos.Core.Tests.Diagnosis;

public class SensorReportTests
{
    private static SensorReport Report(Logbook log) => SensorReport.Compute(log, new JointEstimator().Estimate(log));

    private static ProbeFinding Finding(SensorReport report, string probe) => report.Tanks[0].Findings.First(f => f.Probe.Id == probe);

    // Weeks of the usual life: a dump every six days, the panel read each evening; the lowest lamp fouls with the dump on day 12.
    private static List<LogEntry> Weeks(int days, int foulsOn = 12)
    {
        var log = new List<LogEntry>();
        for (var d = 0; d < days; d++)
        {
            if (d % 6 == 0) log.AddRange([Dump(At(d)), new FlushEntry { At = At(d, 0.2), Tank = "black", Method = FlushMethod.BuiltIn, Cycles = [] }]);
            var litres = d % 6 * 13.6 + 11;
            var lit = new List<string>();
            if (litres > 0.33 * BlackL || d >= foulsOn) lit.Add("low");
            if (litres > 0.66 * BlackL) lit.Add("mid");
            log.Add(Lamps(At(d, 12), [.. lit]));
        }
        return log;
    }

    private static DoseEntry Dose(double day, DoseRecipe recipe) => new() { At = At(day), Tank = "black", Recipe = recipe };

    [Fact]
    public void A_fouled_lamp_is_named_with_the_entries_that_carry_it_strongest_first()
    {
        var low = Finding(Report(Book(Rig(), At(26), [.. Weeks(26)])), "low");

        low.Verdict.ShouldBe(ProbeVerdict.StuckOn);
        low.Settled.ShouldBeTrue();
        low.DumpsLit.ShouldBe(3);
        low.HoursAfterDump!.Value.ShouldBeInRange(10, 40);
        low.Evidence.ShouldNotBeEmpty();
        low.Evidence.Select(e => e.Weight).ShouldBeInOrder(SortDirection.Descending);
        low.Evidence[0].Kind.ShouldBe(LampEvidenceKind.LitThoughBelow);
        low.Evidence[0].ExpectedL.ShouldBeLessThan(0.33 * BlackL);
    }

    [Fact]
    public void Looking_back_says_since_when()
    {
        var low = Finding(Report(Book(Rig(), At(26), [.. Weeks(26)])), "low").LookBack;

        low.LyingSince!.Value.ToInstant().ShouldBeInRange(At(9).ToInstant(), At(13).ToInstant());
        low.LastRight!.Value.ToInstant().ShouldBeLessThan(low.LyingSince.Value.ToInstant());
    }

    [Fact]
    public void Lamps_that_follow_the_level_are_not_accused_and_say_why()
    {
        var report = Report(Book(Rig(), At(26), [.. Weeks(26, foulsOn: 99)]));

        report.Courses.ShouldBeEmpty();
        report.Tanks[0].Findings.ShouldAllBe(f => f.Verdict == ProbeVerdict.Working);
        Finding(report, "low").Evidence.ShouldContain(e => e.Kind == LampEvidenceKind.DarkAsExpected && e.Weight > 0);
    }

    [Fact]
    public void The_ladder_goes_on_where_the_log_says_the_owner_stands()
    {
        var log = Weeks(26);
        SensorCourse Course(params LogEntry[] more) => Report(Book(Rig(), At(26), [.. log, .. more])).Courses.ShouldHaveSingleItem();

        Course().Next!.Rung.ShouldBe(SensorRung.SensorCleaner); // it was flushed at each dump
        Course(Dose(18.5, DoseRecipe.TravelScrub), Dose(24.2, DoseRecipe.TravelScrub)).Next.ShouldBe(new RungState(SensorRung.TravelScrub, 2, 5));
        var jet = Course(Dose(18.5, DoseRecipe.SensorCleaner), new ServiceEntry { At = At(24.1), Tank = "black", Code = ServiceCode.PressureJet });
        jet.Next!.Rung.ShouldBe(SensorRung.Wiring);
        jet.BeyondOwner.ShouldBeTrue();
        // What was done before the lamp lied does not count.
        Course(Dose(6.5, DoseRecipe.TravelScrub)).Rungs.First(r => r.Rung == SensorRung.TravelScrub).Done.ShouldBe(0);
    }

    [Fact]
    public void After_something_was_done_the_panel_is_looked_at_first()
    {
        var log = Weeks(26);
        Report(Book(Rig(), At(26), [.. log, Dose(25.9, DoseRecipe.SensorCleaner)])).Courses[0].CheckFirst.ShouldBeTrue();
        Report(Book(Rig(), At(26.6), [.. log, Dose(25.9, DoseRecipe.SensorCleaner), Lamps(At(26.5), "low", "mid")])).Courses[0].CheckFirst.ShouldBeFalse();
    }

    [Fact]
    public void A_lamp_that_came_back_is_recognised_with_what_helped()
    {
        var log = Weeks(24);
        for (var d = 24; d < 36; d++)
        {
            if (d % 6 == 0) log.AddRange([Dose(d - 0.1, DoseRecipe.TravelScrub), Dump(At(d))]);
            var litres = d % 6 * 13.6 + 11;
            log.Add(Lamps(At(d, 12), litres > 0.66 * BlackL ? ["low", "mid"] : litres > 0.33 * BlackL ? ["low"] : []));
        }
        var report = Report(Book(Rig(), At(36), [.. log]));

        report.Courses.ShouldBeEmpty();
        var back = report.Recoveries.ShouldHaveSingleItem();
        back.Probe.ShouldBe("1/3");
        back.By.ShouldBe(SensorRung.TravelScrub);
        back.At.ToInstant().ShouldBeInRange(At(24).ToInstant(), At(26).ToInstant());
    }

    [Fact]
    public void A_lamp_that_never_lights_goes_to_the_wiring()
    {
        var log = new List<LogEntry>();
        for (var d = 0; d < 24; d++)
        {
            if (d % 8 == 0) log.Add(Dump(At(d)));
            var litres = d % 8 * 13.6 + 11;
            log.Add(Lamps(At(d, 12), litres > 0.66 * BlackL ? ["mid"] : [])); // 1/3 stays dark below a lit 2/3
        }
        var report = Report(Book(Rig(), At(24), [.. log]));

        Finding(report, "low").Verdict.ShouldBe(ProbeVerdict.StuckOff);
        var course = report.Courses.ShouldHaveSingleItem();
        (course.For, course.Next!.Rung).ShouldBe((ProbeVerdict.StuckOff, SensorRung.Wiring));
        Finding(report, "low").Evidence[0].Kind.ShouldBe(LampEvidenceKind.DarkThoughAbove);
    }

    [Fact]
    public void Every_lamp_dark_on_every_tank_is_the_panel_and_not_so_many_probes()
    {
        var rig = Rig() with
        {
            Tanks = [Rig().Tanks[0],
            new Tank("gray", "Gray", TankRole.Gray,
            189.3) { Monitor = TankMonitor.WithProbes(new Probe("g1", "1/3", 0.33), new Probe("g2", "2/3", 0.66), new Probe("g3", "Full", 0.92)) }]
        };
        ReadingEntry Gray(OffsetDateTime at, params string[] lit) => new() { At = at, Tank = "gray", Via = ReadingVia.Panel, Lit = lit };
        LogEntry[] log = [Dump(At(0)), Dump(At(0, 0.1), "gray"), Looked(At(5), 0.55), Looked(At(5), 0.8, "gray"), Lamps(At(5, 4), "low"),
            Gray(At(5, 4), "g1", "g2"), Lamps(At(6)), Gray(At(6, 0.05)), Lamps(At(6, 8)), Gray(At(6, 8)), Lamps(At(7, 8)), Gray(At(7, 8)),
            Lamps(At(8, 8)), Gray(At(8, 8)), Lamps(At(9, 8)), Gray(At(9, 8))];
        // The next day it may also be a dump nobody logged. Days on, with water running in, dark is dark.
        var report = Report(Book(rig, At(9, 8), log));

        report.PanelFault.ShouldBeGreaterThan(0.7);
        report.PanelDead.ShouldBeGreaterThan(0.9 * report.PanelFault);
        report.Tanks.SelectMany(t => t.Findings).ShouldAllBe(f => f.Verdict == ProbeVerdict.Working);
        report.Tanks[0].Belief.MonitorVerdict.ShouldBe(MonitorVerdict.Ignore);
        report.NextChecks[0].Code.ShouldBe(NextCheckCode.BatteryOk);
    }

    [Fact]
    public void Every_lamp_lit_after_a_dump_is_the_panel_or_fouling_and_once_the_battery_passed_it_is_fouling()
    {
        var gray = new Tank("gray", "Gray", TankRole.Gray, 189.3)
        { Monitor = TankMonitor.WithProbes(new Probe("g1", "1/3", 0.33), new Probe("g2", "2/3", 0.66), new Probe("g3", "Full", 0.92)) };
        var rig = Rig() with { Tanks = [Rig().Tanks[0], gray] };
        ReadingEntry Gray(OffsetDateTime at) => new() { At = at, Tank = "gray", Via = ReadingVia.Panel, Lit = ["g1", "g2", "g3"] };
        LogEntry[] dumped = [Dump(At(0)), Dump(At(0, 0.1), "gray")];
        LogEntry[] lit = [.. dumped, Lamps(At(0, 1), "low", "mid", "top"), Gray(At(0, 1))];
        var battery = new CheckEntry { At = At(0, 2), Code = CheckCode.BatteryOk, Result = CheckResult.Pass };

        var first = Report(Book(rig, At(0, 1.5), lit));
        first.PanelFault.ShouldBeInRange(0.2, 0.8); // both are possible
        first.NextChecks.ShouldContain(c => c.Code == NextCheckCode.BatteryOk);

        var next = Report(Book(rig, At(1, 2), [.. lit, battery, Lamps(At(1, 1), "low", "mid", "top"), Gray(At(1, 1))]));
        next.PanelFault.ShouldBeLessThan(0.2);
        next.Tanks[0].Findings.ShouldAllBe(f => f.Verdict == ProbeVerdict.StuckOn);

        // Said in other words it is the same look.
        Report(Book(rig, At(0, 1.5), [.. dumped, new SymptomEntry { At = At(0, 1), Code = SymptomCode.LampsAllOn }])).PanelFault.ShouldBeGreaterThan(0.2);
    }

    [Fact]
    public void What_is_in_doubt_names_checks_and_what_each_answer_would_mean()
    {
        // A lamp lit once over a tank that should be low: film, fouling, or an unusual day.
        var report = Report(Book(Rig(), At(0.3), Dump(At(-12)), Lamps(At(-7), "low"), Dump(At(0)), Lamps(At(0.3), "low")));

        var low = Finding(report, "low");
        low.Settled.ShouldBeFalse();
        report.NextChecks.ShouldNotBeEmpty();
        report.NextChecks.Select(c => c.Worth).ShouldBeInOrder(SortDirection.Descending);
        foreach (var check in report.NextChecks)
        {
            check.Bits.ShouldBeGreaterThan(0);
            check.Outcomes.Sum(o => o.Chance).ShouldBe(1, 0.01);
            foreach (var outcome in check.Outcomes) outcome.Probability.ShouldBeInRange(0, 1.0000001);
        }
        var flush = report.NextChecks.First(c => c.Code == NextCheckCode.HardFlushThenPanel && c.Probe == "1/3");
        flush.Outcomes.First(o => o.Outcome == CheckOutcome.Lit).Verdict.ShouldBe(ProbeVerdict.StuckOn);
        flush.Outcomes.First(o => o.Outcome == CheckOutcome.Dark).Verdict.ShouldBe(ProbeVerdict.Working);
    }

    [Fact]
    public void The_answer_to_a_check_settles_what_it_promised()
    {
        LogEntry[] log = [Dump(At(-12)), Lamps(At(-7), "low"), Dump(At(0)), Lamps(At(0.3), "low")];
        var before = Finding(Report(Book(Rig(), At(0.3), log)), "low");
        var lit = Finding(Report(Book(Rig(), At(2.2), [.. log, Dump(At(1)), Lamps(At(2.2), "low")])), "low");
        var dark = Finding(Report(Book(Rig(), At(2.2), [.. log, Dump(At(1)), Lamps(At(2.2))])), "low");

        lit.Probability.ShouldBeGreaterThan(before.Probability);
        (lit.Verdict, lit.Settled).ShouldBe((ProbeVerdict.StuckOn, true));
        (dark.Verdict, dark.Settled).ShouldBe((ProbeVerdict.Working, true));
    }

    [Fact]
    public void A_metered_fill_is_never_proposed_where_it_could_run_over_or_no_water_is_at_hand()
    {
        LogEntry[] log = [Stay(At(-13), Hookup.Full), Dump(At(-12)), Dump(At(0)), Lamps(At(0.6))];
        foreach (var hookup in (Hookup[])[Hookup.Dry, Hookup.Full])
        {
            var checks = Report(Book(Rig(), At(0.8), [.. log, Stay(At(0.7), hookup)])).NextChecks.Where(c => c.Code == NextCheckCode.MeteredFill
                && c.Tank == "black").ToList();
            if (hookup == Hookup.Dry) checks.ShouldBeEmpty();
            foreach (var check in checks) check.FillL.ShouldBeInRange(1, 0.8 * BlackL);
            checks.ShouldNotContain(c => c.Probe == "Full");
        }
    }

    [Fact]
    public void Without_a_monitor_looks_and_counting_carry_everything()
    {
        var log = Book(Rig(MonitorKind.None), At(9), Dump(At(0)), Looked(At(3), 0.4), Dump(At(6)), Looked(At(8), 0.3));
        var report = Report(log);
        var black = report.Tanks[0].Belief;

        black.MonitorVerdict.ShouldBe(MonitorVerdict.None);
        report.Tanks[0].Findings.ShouldBeEmpty();
        black.InflowLPerPersonDay.ShouldBeGreaterThan(7.5);
        (black.Level.P95L - black.Level.P05L).ShouldBeLessThan(0.3 * BlackL);
        Report(Book(Rig(MonitorKind.None), At(12), Dump(At(0)))).NextChecks.ShouldContain(c => c.Code == NextCheckCode.Flashlight && c.Tank == "black");
    }

    [Fact]
    public void A_dump_that_was_not_written_down_is_suspected_rather_than_three_dead_lamps()
    {
        var log = Weeks(5, 99);
        log.AddRange([Lamps(At(5, 12), "low", "mid"), Lamps(At(6, 12)), Lamps(At(7, 12)), Lamps(At(8, 12))]);
        var report = Report(Book(Rig(), At(8, 13), [.. log]));

        report.Tanks[0].Findings.ShouldAllBe(f => f.Verdict == ProbeVerdict.Working);
        report.Tanks[0].Belief.Fraction(report.Tanks[0].Belief.Level.P50L).ShouldBeLessThan(0.33);
        report.Tanks[0].Belief.Inconsistencies.ShouldContain(m => m.Kind == InconsistencyKind.UnloggedEmptying);
    }
}
