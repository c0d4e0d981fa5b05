using CsCheck;
using NodaTime;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using static Tanksophos.Core.Tests.Given;

namespace Tanksophos.Core.Tests.Levels;

public class JointEstimatorTests
{
    private static LevelBelief Believe(Logbook log) => new JointEstimator().Estimate(log);

    private static TankBelief Black(OffsetDateTime asOf, params LogEntry[] entries) => Believe(Book(Rig(), asOf, entries))["black"];

    [Fact]
    public void Between_dumps_people_and_days_are_counted_at_the_usual_rate()
    {
        var level = Black(At(3), Dump(At(0))).Level;

        level.P50L.ShouldBe(3 * 2 * 6.8, 6); // residue and skew of the household's factor within that
        level.P05L.ShouldBeLessThan(0.6 * level.P50L); // the household's own rate is not known yet
        level.P95L.ShouldBeGreaterThan(1.6 * level.P50L);
    }

    [Fact]
    public void Dry_camping_fills_more_slowly_and_storage_not_at_all()
    {
        var hooked = Black(At(3), Stay(At(0), Hookup.Full), Dump(At(0))).Level.P50L;
        var dry = Black(At(3), Stay(At(0), Hookup.Dry), Dump(At(0))).Level.P50L;
        var stored = Black(At(30), Stay(At(0), Hookup.Storage), Dump(At(0)));

        dry.ShouldBe(hooked * 3.8 / 6.8, 3);
        stored.Level.P95L.ShouldBeLessThan(0.04 * BlackL);
        stored.InflowLPerPersonDay.ShouldBe(0);
        stored.Forecast.Reaches(0.66 * BlackL, 0.5).ShouldBeNull();
    }

    [Fact]
    public void Partial_hookup_without_a_stated_rate_uses_the_geometric_mean()
    {
        var rig = Rig() with { Usage = new Usage(new RoleUsage(8, null, 2, 0.45), Usage.Default.Gray) };

        rig.MedianInflow(rig.Tanks[0], Hookup.Partial).ShouldBe(4, 1e-9);
    }

    [Fact]
    public void Several_grays_share_the_inflow_by_their_shares_or_equally()
    {
        var rig = new Rig("r", "", 2,
            [new("a", "A", TankRole.Gray, 100), new("b", "B", TankRole.Gray, 100) { UsageShare = 0.5 }, new("c", "C", TankRole.Gray, 100)]);

        rig.Tanks.Select(t => rig.MedianInflow(t, Hookup.Full)).ShouldBe([9.5, 19, 9.5]);
    }

    [Fact]
    public void Nights_are_quiet()
    {
        var evening = Black(At(2, 15), Dump(At(0))).Level; // 23:00
        var morning = Black(At(2, 22), Dump(At(0))).Level; // 06:00

        morning.P50L.ShouldBe(evening.P50L, 1e-3);
        Black(At(2, 23), Dump(At(0))).Level.P50L.ShouldBeGreaterThan(morning.P50L + 0.5);
    }

    [Fact]
    public void An_open_gray_stays_near_empty_and_fills_once_it_is_closed()
    {
        ValveEntry Valve(OffsetDateTime at, ValveState state) => new() { At = at, Tank = "gray", State = state };
        var open = Believe(Book(Rig(), At(6), Valve(At(0), ValveState.Open)))["gray"];
        var closed = Believe(Book(Rig(), At(6), Valve(At(0), ValveState.Open), Valve(At(5), ValveState.Closed)))["gray"];

        open.ValveOpen.ShouldBeTrue();
        open.Fraction(open.Level.P95L).ShouldBeLessThan(0.04);
        open.Forecast.Reaches(100, 0.05).ShouldBeNull();
        closed.Level.P50L.ShouldBe(76, 8);
        closed.LastEmptied.ShouldBe(At(5).ToInstant());
    }

    [Fact]
    public void A_dump_does_not_close_a_valve_that_stood_open()
    {
        var gray = Believe(Book(Rig(), At(6), new ValveEntry { At = At(0), Tank = "gray", State = ValveState.Open }, Dump(At(1), "gray")))["gray"];

        gray.ValveOpen.ShouldBeTrue();
        gray.Fraction(gray.Level.P95L).ShouldBeLessThan(0.04);
    }

    [Fact]
    public void Water_put_in_counts_whole_and_so_does_the_water_of_a_dose()
    {
        var without = Black(At(0, 1), Dump(At(0))).Level.P50L;
        var with = Black(At(0, 1), Dump(At(0)),
            new WaterEntry { At = At(0), Tank = "black", WaterL = 15, Purpose = WaterPurpose.Starter },
            new DoseEntry { At = At(0), Tank = "black", Recipe = DoseRecipe.Enzyme, WaterL = 4 }).Level.P50L;

        (with - without).ShouldBe(19, 0.3);
    }

    [Fact]
    public void More_people_never_lower_the_level()
    {
        Gen.Select(Gen.Int[0, 8], Gen.Double[0.2, 9]).Sample((n, days) =>
        {
            double With(int people) => Believe(Book(Rig(people: people), At(days), Dump(At(0))))["black"].Level.P50L;
            With(n + 1).ShouldBeGreaterThanOrEqualTo(With(n) - 1e-9);
        }, iter: 200);
    }

    [Fact]
    public void A_look_corrects_the_level_and_teaches_the_household_rate()
    {
        var counted = Black(At(4), Dump(At(0)));
        var seen = Black(At(4), Dump(At(0)), Looked(At(4), 0.6));

        seen.Level.P50L.ShouldBe(0.6 * BlackL, 9);
        (seen.Level.P95L - seen.Level.P05L).ShouldBeLessThan(0.6 * (counted.Level.P95L - counted.Level.P05L));
        seen.InflowLPerPersonDay.ShouldBeGreaterThan(counted.InflowLPerPersonDay * 1.2);
    }

    [Fact]
    public void What_was_learned_of_the_household_outlives_the_dump()
    {
        LogEntry[] busy = [Dump(At(0)), Looked(At(4), 0.66), Dump(At(4)), Looked(At(8), 0.66), Dump(At(8))];

        Black(At(8), busy).InflowLPerPersonDay.ShouldBeGreaterThan(10);
        Black(At(10), busy).Level.P50L.ShouldBe(2 * 2 * 12, 10);
    }

    [Fact]
    public void A_lamp_that_stays_on_after_dumps_is_named_and_no_longer_moves_the_level()
    {
        var entries = new List<LogEntry>();
        for (var dump = 0; dump < 3; dump++)
        {
            entries.Add(Dump(At(dump * 5)));
            for (var i = 1; i < 4; i++) entries.Add(Lamps(At(dump * 5, i * 6), "low"));
        }
        var black = Black(At(10, 20), [.. entries]);

        black.Probes[0].StuckOn.ShouldBeGreaterThan(0.95);
        black.Probes[0].DoubtedSince.ShouldNotBeNull();
        black.Probes[1].Believed.ShouldBeTrue();
        black.MonitorVerdict.ShouldBe(MonitorVerdict.Doubt);
        black.Level.P95L.ShouldBeLessThan(0.33 * BlackL);
        black.Panel!.Contradicts.ShouldBe(["1/3"]);
    }

    [Fact]
    public void A_wet_film_for_some_hours_after_a_dump_is_no_fault()
    {
        var black = Black(At(1, 12), Dump(At(0)), Lamps(At(0, 1), "low"), Lamps(At(0, 14)), Lamps(At(1)), Lamps(At(1, 12)));

        black.Probes[0].Believed.ShouldBeTrue();
        black.Probes[0].Working.ShouldBeGreaterThan(0.9);
    }

    [Fact]
    public void A_panel_that_follows_the_level_is_never_accused()
    {
        // A household at the usual rate, with a panel that tells the truth, twice a day for two months.
        var entries = new List<LogEntry>();
        var level = 0.0;
        for (var half = 0; half < 120; half++)
        {
            var at = At(half / 2.0);
            if (level > 0.7 * BlackL)
            {
                entries.Add(Dump(at));
                level = 1.5;
            }
            string[] lit = [.. Rig().Tanks[0].Monitor.Probes.Where(p => level >= p.AtFraction * BlackL).Select(p => p.Id)];
            entries.Add(Lamps(at.Plus(Duration.FromMinutes(5)), lit));
            level += half % 2 == 0 ? 2 * 6.8 * 12 / 17 : 2 * 6.8 * 5 / 17;
            var black = Black(at.Plus(Duration.FromMinutes(6)), [.. entries]);
            black.Probes.ShouldAllBe(p => p.Believed);
        }
    }

    [Fact]
    public void A_reading_while_the_whole_panel_is_in_doubt_does_not_count()
    {
        LogEntry[] log = [Dump(At(0)), new SymptomEntry { At = At(1), Code = SymptomCode.LampsAllOn }, Lamps(At(1), "low", "mid", "top")];
        var belief = Believe(Book(Rig(), At(1), log));

        belief.PanelFault.ShouldBeGreaterThan(0.2); // as often every probe is fouled
        belief["black"].Level.P95L.ShouldBeLessThan(0.33 * BlackL);
        Believe(Book(Rig(), At(2),
            [.. log, new CheckEntry { At = At(2), Code = CheckCode.BatteryOk, Result = CheckResult.Pass }])).PanelFault.ShouldBeLessThan(0.3);
    }

    [Fact]
    public void A_strip_that_reads_high_over_an_empty_tank_is_corrected()
    {
        var rig = Rig(MonitorKind.Percent);
        ReadingEntry Percent(OffsetDateTime at, double percent) => new() { At = at, Tank = "black", Via = ReadingVia.Panel, Percent = percent };
        var entries = new List<LogEntry>();
        for (var i = 0; i < 4; i++) entries.AddRange([Dump(At(i * 6)), Percent(At(i * 6, 1), 30), Percent(At(i * 6, 3), 31)]);
        var black = Believe(Book(rig, At(18, 4), [.. entries]))["black"];

        black.Fraction(black.Level.P95L).ShouldBeLessThan(0.15);
        black.MonitorVerdict.ShouldBe(MonitorVerdict.Ignore);
    }

    [Fact]
    public void A_dump_from_which_nothing_comes_does_not_empty_the_tank()
    {
        var full = Looked(At(6), 0.7);
        Black(At(6, 1), Dump(At(0)), full, new DumpEntry { At = At(6, 1), Tank = "black", Flow = DumpFlow.None }).Level.P50L.ShouldBeGreaterThan(0.6 * BlackL);
        Black(At(6, 1), Dump(At(0)), full, new DumpEntry { At = At(6, 1), Tank = "black", Flow = DumpFlow.Rush }).Level.P50L.ShouldBeLessThan(0.04 * BlackL);
    }

    [Fact]
    public void Later_entries_than_asOf_are_ignored_and_entries_may_come_in_any_order()
    {
        LogEntry[] log = [Dump(At(0)), Looked(At(2), 0.3), Looked(At(4), 0.5), Dump(At(5))];
        var straight = Black(At(4), log).Level;

        Black(At(4), [.. log.Reverse()]).Level.ShouldBe(straight);
        Black(At(4), log[..3]).Level.ShouldBe(straight);
    }

    [Fact]
    public void Forecast_and_estimate_agree_when_nothing_happens()
    {
        LogEntry[] log = [Dump(At(0)), Looked(At(2), 0.25)];
        var ahead = Black(At(2), log).Forecast.At(At(5).ToInstant());
        var then = Black(At(5), log).Level;

        ahead.P50L.ShouldBe(then.P50L, 0.5);
        ahead.P95L.ShouldBe(then.P95L, 2.5);
    }

    [Fact]
    public void The_cautious_hour_is_earlier_than_the_expected_one_and_the_chance_there_is_one_in_twenty()
    {
        var black = Black(At(2), Dump(At(0)), Looked(At(2), 0.25));
        var expected = black.Forecast.Reaches(100, 0.5)!.Value;
        var cautious = black.Forecast.Reaches(100, 0.05)!.Value;

        cautious.ShouldBeLessThan(expected);
        black.Forecast.ChanceOf(100, cautious).ShouldBe(0.05, 0.002);
        black.Forecast.ChanceOf(100, expected).ShouldBe(0.5, 0.005);
    }

    [Fact]
    public void Contradictions_and_years_of_silence_give_a_wide_band_and_never_nonsense()
    {
        LogEntry[][] logs =
        [
            [Lamps(At(0), "top"), Lamps(At(0), "low"), Lamps(At(0))],
            [Dump(At(0)), Looked(At(0), 1), Looked(At(0), 0), Looked(At(0), 1)],
            [new WaterEntry { At = At(0), Tank = "black", WaterL = 5000, Purpose = WaterPurpose.Other }, Dump(At(1))],
            [Dump(At(0)), Dump(At(3650))],
            [new PeopleEntry { At = At(0), Count = 100 }, Dump(At(0)), Looked(At(9), 0.1)],
            [new DumpEntry { At = At(0), Tank = "black", VolumeL = 900 }, new DumpEntry { At = At(0), Tank = "black", VolumeL = 900, Flow = DumpFlow.Trickle }],
        ];
        foreach (var log in logs)
        {
            foreach (var asOf in new[] { At(10), At(2000) })
            {
                var level = Black(asOf, log).Level;
                new[] { level.P05L, level.P50L, level.P95L }.ShouldAllBe(l => l >= 0 && l <= BlackL);
                level.P05L.ShouldBeLessThanOrEqualTo(level.P50L);
                level.P50L.ShouldBeLessThanOrEqualTo(level.P95L);
                Black(asOf, log).Probes.ShouldAllBe(p => Math.Abs(p.Working + p.StuckOn + p.StuckOff - 1) < 1e-9);
            }
        }
        var silent = Black(At(1500), Dump(At(0))).Level;
        (silent.P95L - silent.P05L).ShouldBeGreaterThan(0.5 * BlackL);
    }

    [Fact]
    public void A_logbook_without_entries_is_believed_to_be_anywhere()
    {
        var belief = Believe(new Logbook(Rig(), []));

        belief.AsOf.ShouldBeNull();
        belief["black"].Level.P95L.ShouldBeGreaterThan(0.7 * BlackL);
    }

    [Fact]
    public void The_same_log_gives_the_same_answer()
    {
        var log = Simulation.DemoSeasonTests.Season;
        Believe(log).Tanks.Select(t => t.Level).ShouldBe(Believe(log).Tanks.Select(t => t.Level));
    }
}
