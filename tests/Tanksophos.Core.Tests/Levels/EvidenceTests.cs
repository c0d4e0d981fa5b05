using NodaTime;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using static Tanksophos.Core.Tests.Given;

namespace Tanksophos.Core.Tests.Levels;

/// <summary>Each kind of entry says what it says: one entry more, and the belief moves as a practitioner's would.</summary>
public class EvidenceTests
{
    private static TankBelief Black(OffsetDateTime now, params LogEntry[] log) => new JointEstimator().Estimate(Book(Rig(), now, log))["black"];

    private static SymptomEntry Symptom(OffsetDateTime at, SymptomCode code, string? tank = null) => new() { At = at, Code = code, Tank = tank };

    private static double Share(TankBelief t) => t.Fraction(t.Level.P50L);

    [Theory]
    [InlineData(SymptomCode.Gurgles)]
    [InlineData(SymptomCode.BacksUpOnFlush)]
    public void A_toilet_that_burps_or_backs_up_speaks_for_a_full_tank(SymptomCode code)
    {
        var before = Black(At(7), Dump(At(0)));
        var after = Black(At(7), Dump(At(0)), Symptom(At(7), code));

        Share(after).ShouldBeGreaterThan(Share(before) + 0.05);
        after.InflowLPerPersonDay.ShouldBeGreaterThan(before.InflowLPerPersonDay);
        // Just after a dump it must be something else.
        Share(Black(At(0.5), Dump(At(0)), Symptom(At(0.5), code))).ShouldBeLessThan(0.2);
    }

    [Fact]
    public void Water_standing_in_the_shower_means_that_gray_is_full()
    {
        TankBelief Gray(params LogEntry[] more) => new JointEstimator().Estimate(Book(Rig(), At(2), [Dump(At(0), "gray"), .. more]))["gray"];
        var full = Gray(Symptom(At(2), SymptomCode.ShowerStandsInWater));

        full.Fraction(full.Level.P50L).ShouldBeGreaterThan(0.9);
        Gray().Fraction(Gray().Level.P50L).ShouldBeLessThan(0.9);
        Share(Black(At(2), Dump(At(0)), Symptom(At(2), SymptomCode.ShowerStandsInWater))).ShouldBeLessThan(0.3); // it says nothing of black
    }

    [Fact]
    public void If_nothing_came_out_the_dump_did_not_empty_it()
    {
        var emptied = Black(At(6.1), Dump(At(0)), Dump(At(6)));
        var blocked = Black(At(6.1), Dump(At(0)), Dump(At(6)), Symptom(At(6.02), SymptomCode.NothingComesOut, "black"));

        Share(emptied).ShouldBeLessThan(0.05);
        Share(blocked).ShouldBeGreaterThan(0.4);
        // Hours later it means another dump.
        Share(Black(At(6.4), Dump(At(0)), Dump(At(6)), Symptom(At(6.3), SymptomCode.NothingComesOut, "black"))).ShouldBeLessThan(0.1);
    }

    [Fact]
    public void A_measured_volume_teaches_the_household()
    {
        var much = Black(At(6), Dump(At(0)), new DumpEntry { At = At(5.9), Tank = "black", VolumeL = 120 });
        var little = Black(At(6), Dump(At(0)), new DumpEntry { At = At(5.9), Tank = "black", VolumeL = 45 });

        much.InflowLPerPersonDay.ShouldBeGreaterThan(little.InflowLPerPersonDay * 1.6);
        Black(At(6), Dump(At(0)), new DumpEntry { At = At(5.9), Tank = "black", VolumeL = 400 }).Inconsistencies.ShouldContain(m =>
            m.Kind == InconsistencyKind.MoreThanFits);
    }

    [Fact]
    public void The_rig_s_own_minutes_tell_of_the_level_once_they_are_known()
    {
        // Seven dumps of a tank that was looked at before: 3 minutes for half a tank. Then a short and a long one, unseen.
        LogEntry[] known = [.. Enumerable.Range(0, 7)
            .SelectMany(n => new LogEntry[] { Looked(At(6 * n + 5.9), 0.5), new DumpEntry { At = At(6 * n + 6), Tank = "black", Minutes = 3 } })];
        double Rate(double minutes) =>
            Black(At(49), [Dump(At(0)), .. known, new DumpEntry { At = At(48), Tank = "black", Minutes = minutes }]).Factors.Full.Mean;

        Rate(4.5).ShouldBeGreaterThan(Rate(1.8));
    }

    [Fact]
    public void A_rush_says_that_there_was_something_in_it()
    {
        DumpEntry Ran(DumpFlow flow) => new() { At = At(3), Tank = "black", Flow = flow };
        Black(At(3.1), Dump(At(0)),
            Ran(DumpFlow.Rush)).InflowLPerPersonDay.ShouldBeGreaterThan(Black(At(3.1), Dump(At(0)), Ran(DumpFlow.Steady)).InflowLPerPersonDay);
    }

    [Fact]
    public void What_frees_a_probe_gives_it_another_chance()
    {
        var log = new List<LogEntry>();
        for (var n = 0; n < 5; n++) log.AddRange([Dump(At(n * 5)), Lamps(At(n * 5 + 1), "low"), Lamps(At(n * 5 + 2), "low")]);
        double Works(params LogEntry[] more) => Black(At(23), [.. log, .. more]).Probes[0].Working;

        var before = Works();
        before.ShouldBeLessThan(0.05);
        Works(new DoseEntry { At = At(22.5), Tank = "black", Recipe = DoseRecipe.SensorCleaner }).ShouldBeGreaterThan(before + 0.2);
        Works(new ServiceEntry { At = At(22.5), Tank = "black", Code = ServiceCode.PressureJet }).ShouldBeGreaterThan(0.8);
        Works(new ServiceEntry { At = At(22.5), Tank = "black", Code = ServiceCode.ProbeReplaced, Probe = "low" }).ShouldBeGreaterThan(0.95);
        Works(new ServiceEntry { At = At(22.5), Tank = "black", Code = ServiceCode.ProbeReplaced, Probe = "top" }).ShouldBe(before, 0.02);
        Works(new DoseEntry { At = At(22.5), Tank = "black", Recipe = DoseRecipe.Enzyme }).ShouldBe(before, 0.02);
    }

    [Fact]
    public void Mended_wiring_gives_a_dead_lamp_another_chance()
    {
        var log = new List<LogEntry>();
        for (var n = 0; n < 4; n++) log.AddRange([Dump(At(n * 7)), Looked(At(n * 7 + 6), 0.6), Lamps(At(n * 7 + 6.1))]);
        TankBelief With(params LogEntry[] more) => Black(At(28), [.. log, .. more]);

        With().Probes[0].StuckOff.ShouldBeGreaterThan(0.8);
        With(new ServiceEntry { At = At(27.8), Code = ServiceCode.WiringRepaired }).Probes[0].Working.ShouldBeGreaterThan(0.7);
    }

    [Fact]
    public void A_battery_found_low_speaks_for_the_panel_and_one_in_order_against_it()
    {
        CheckEntry Battery(CheckResult result) => new() { At = At(6.5), Code = CheckCode.BatteryOk, Result = result };
        LogEntry[] dark = [Dump(At(0)), Looked(At(5.5), 0.6), Lamps(At(6))];
        double Panel(params LogEntry[] more) => new JointEstimator().Estimate(Book(Rig(), At(6.6), [.. dark, .. more])).PanelFault;

        var before = Panel();
        before.ShouldBeGreaterThan(0.05);
        Panel(Battery(CheckResult.Fail)).ShouldBeGreaterThan(before);
        Panel(Battery(CheckResult.Pass)).ShouldBeLessThan(before);
        Panel(new SymptomEntry { At = At(6.5), Code = SymptomCode.LampsDead }).ShouldBeGreaterThan(before);
    }

    [Fact]
    public void An_alarm_stands_in_the_belief_until_it_is_cleared()
    {
        LevelBelief With(params LogEntry[] log) => new JointEstimator().Estimate(Book(Rig(), At(3), log));
        With(Symptom(At(1), SymptomCode.PropaneAlarm)).InForce.PropaneAlarm.ShouldBe(At(1).ToInstant());
        With(Symptom(At(1), SymptomCode.PropaneAlarm),
            new CheckEntry { At = At(2), Code = CheckCode.PropaneRuledOut, Result = CheckResult.Pass }).InForce.PropaneAlarm.ShouldBeNull();
    }

    [Fact]
    public void A_look_that_nobody_expected_is_believed_and_named()
    {
        var seen = Black(At(1), Dump(At(0)), Looked(At(1), 0.85));

        Share(seen).ShouldBe(0.85, 0.08);
        var inconsistency = seen.Inconsistencies.ShouldHaveSingleItem();
        inconsistency.Kind.ShouldBe(InconsistencyKind.SeenOtherwise);
        inconsistency.FoundL.ShouldBe(0.85 * BlackL, 0.1);
        inconsistency.ExpectedL.ShouldBeLessThan(0.5 * BlackL);
    }

    [Fact]
    public void A_saved_estimate_goes_on_as_if_it_had_never_stopped()
    {
        var estimator = new JointEstimator();
        var log = new List<LogEntry>();
        for (var d = 0; d < 20; d++)
            log.AddRange(d % 6 == 0 ? [Dump(At(d)), Lamps(At(d, 10), "low")] : [Lamps(At(d, 10), d % 6 > 3 ? ["low", "mid"] : ["low"])]);
        var whole = estimator.Start(Rig());
        foreach (var entry in log) whole.Add(entry);
        var half = estimator.Start(Rig());
        foreach (var entry in log.Take(11)) half.Add(entry);
        var resumed = estimator.Resume(Rig(), half.Save()).ShouldNotBeNull();
        foreach (var entry in log.Skip(11)) resumed.Add(entry);

        var (a, b) = (whole.At(At(20))["black"], resumed.At(At(20))["black"]);
        b.Level.P50L.ShouldBe(a.Level.P50L, 1e-6);
        b.Level.P95L.ShouldBe(a.Level.P95L, 1e-6);
        foreach (var (p, q) in a.Probes.Zip(b.Probes)) q.StuckOn.ShouldBe(p.StuckOn, 1e-9);
        b.LastEmptied.ShouldBe(a.LastEmptied);
        b.Panel!.Entry.Lit.ShouldBe(a.Panel!.Entry.Lit);
    }
}
