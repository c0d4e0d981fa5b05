using NodaTime;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Simulation;
using static Tanksophos.Core.Tests.Given;

namespace Tanksophos.Core.Tests.Levels;

/// <summary>Logs as people keep them: dumps nobody logged, lights mistyped, one dump logged twice.</summary>
public class ForgottenDumpTests
{
    private static readonly Tank Gray = new("gray", "Gray", TankRole.Gray, 189.3)
    { Monitor = TankMonitor.WithProbes(new Probe("g1", "1/3", 0.33), new Probe("g2", "2/3", 0.66), new Probe("g3", "Full", 0.92)) };

    private static Rig Two => Rig() with { Tanks = [Rig().Tanks[0], Gray] };

    private static ReadingEntry Lit(OffsetDateTime at, string tank, params string[] lit) =>
        new() { At = at, Tank = tank, Via = ReadingVia.Panel, Lit = lit, Id = $"{tank}-{at}" };

    // Weeks in which everything is logged, then both tanks full and, half a day later, dark.
    private static List<LogEntry> Season(bool grayToo)
    {
        var log = new List<LogEntry>();
        for (var week = 0; week < 3; week++)
        {
            log.AddRange([Dump(At(7 * week)), Dump(At(7 * week, 0.1), "gray")]);
            log.AddRange([Lit(At(7 * week + 1), "black"), Lit(At(7 * week + 3), "black", "low"), Lit(At(7 * week + 5.5), "black", "low", "mid")]);
            if (grayToo) log.AddRange([Lit(At(7 * week + 1), "gray", "g1"), Lit(At(7 * week + 2), "gray", "g1", "g2"), Dump(At(7 * week + 2.5), "gray"),
                Lit(At(7 * week + 4), "gray", "g1", "g2"), Lit(At(7 * week + 5.5), "gray", "g1", "g2", "g3")]);
        }
        return log;
    }

    private static (Logbook Book, LevelBelief Belief) Estimate(Rig rig, OffsetDateTime now, IEnumerable<LogEntry> log)
    {
        var book = new Logbook(rig, [.. log], now);
        return (book, new JointEstimator().Estimate(book));
    }

    [Fact]
    public void Lights_that_go_out_on_both_tanks_are_one_run_and_no_dead_sensor()
    {
        var log = Season(grayToo: true);
        log.AddRange([Lit(At(20), "black"), Lit(At(20), "gray"), Lit(At(20.6), "black"), Lit(At(20.6), "gray", "g1")]);
        var (book, belief) = Estimate(Two, At(20.7), log);
        foreach (var tank in belief.Tanks)
        {
            tank.Probes.ShouldAllBe(p => p.Believed);
            tank.Fraction(tank.Level.P50L).ShouldBeLessThan(0.55, tank.Tank.Id);
        }
        var doubts = LogDoubts.Of(book, belief).Where(d => d.Misfit.Kind == InconsistencyKind.UnloggedEmptying).ToList();
        doubts.Select(d => d.Tank.Id).ShouldBe(["black", "gray"], ignoreOrder: true);
        foreach (var doubt in doubts)
        {
            doubt.Misfit.Probability.ShouldBeGreaterThan(0.7);
            (doubt.Misfit.From!.Value.ToInstant() <= At(19.5).ToInstant() && doubt.Misfit.At.ToInstant() >= At(20).ToInstant()).ShouldBeTrue();
            var dump = doubt.Suggest.ShouldHaveSingleItem().ShouldBeOfType<DumpEntry>();
            (dump.Instant > doubt.Misfit.From.Value.ToInstant() && dump.Instant < doubt.Misfit.At.ToInstant()).ShouldBeTrue();
            doubt.Entries.ShouldNotBeEmpty();
        }
        LogDoubts.SameRun(doubts, doubts[0]).Count.ShouldBe(2);
    }

    [Fact]
    public void What_the_other_tank_shows_raises_or_lowers_the_chance()
    {
        double Chance(params string[] gray)
        {
            var log = Season(grayToo: true);
            log.AddRange([Lit(At(20), "black"), Lit(At(20), "gray", gray)]);
            return LogDoubts.Of(Book(Two, At(20.1), [.. log]), Estimate(Two, At(20.1), log).Belief)
                .Where(d => d.Tank.Id == "black" && d.Misfit.Kind == InconsistencyKind.UnloggedEmptying).Select(d => d.Misfit.Probability).FirstOrDefault();
        }
        Chance().ShouldBeGreaterThan(0.9);
        Chance("g1", "g2", "g3").ShouldBeLessThan(Chance());
    }

    [Fact]
    public void The_answer_no_is_evidence_and_the_answer_yes_settles_it()
    {
        var log = Season(grayToo: false);
        log.AddRange([Lit(At(20), "black"), Lit(At(20.6), "black"), Lit(At(21), "black")]);
        var (book, belief) = Estimate(Rig(), At(21), log);
        var asked = LogDoubts.Of(book, belief).Single(d => d.Misfit.Kind == InconsistencyKind.UnloggedEmptying);
        belief["black"].Fraction(belief["black"].Level.P50L).ShouldBeLessThan(0.4);

        var no = new CheckEntry
        {
            At = (asked.Misfit.At.ToInstant() - Duration.FromMinutes(1)).WithOffset(asked.Misfit.At.Offset),
            Tank = "black",
            Code = CheckCode.NotDumped,
            Result = CheckResult.Pass
        };
        var (denied, after) = Estimate(Rig(), At(21), [.. log, no]);
        after["black"].Level.P50L.ShouldBeGreaterThan(belief["black"].Level.P50L + 0.2 * Rig().Tanks[0].CapacityL);
        LogDoubts.Of(denied, after).ShouldNotContain(d => d.Misfit.Kind == InconsistencyKind.UnloggedEmptying && d.Misfit.At == asked.Misfit.At);

        var (said, settled) = Estimate(Rig(), At(21), [.. log, asked.Suggest[0]]);
        LogDoubts.Of(said, settled).ShouldNotContain(d => d.Misfit.Kind == InconsistencyKind.UnloggedEmptying);
        settled["black"].Probes.ShouldAllBe(p => p.Believed);
    }

    [Fact]
    public void Looking_back_the_forgotten_dump_is_a_fall_in_its_hours_and_not_a_slope_before_them()
    {
        var log = Season(grayToo: false);
        log.AddRange([Lit(At(20), "black"), Lit(At(20.6), "black"), Lit(At(21), "black")]);
        var back = LevelSmoother.Compute(Book(Rig(), At(21), [.. log]))[0];
        double Share(double day) => back.Now.Last(p => p.At <= At(day).ToInstant()).Level.P50L / back.Tank.CapacityL;
        Share(19.4).ShouldBeGreaterThan(0.6);
        Share(20.2).ShouldBeLessThan(0.3);
    }

    [Fact]
    public void A_dump_logged_an_hour_after_the_lights_knew_has_a_wrong_hour_and_is_not_asked_for()
    {
        var log = Season(grayToo: false);
        log.AddRange([Lit(At(20), "black"), Dump(At(20, 2))]);
        var (book, belief) = Estimate(Rig(), At(20.5), log);
        LogDoubts.Of(book, belief).Select(d => d.Misfit.Kind).ShouldBe([InconsistencyKind.WrongHour]);
    }

    [Fact]
    public void A_light_that_was_mistyped_is_asked_for_with_the_reading_as_it_should_be()
    {
        var log = Season(grayToo: false);
        var wrong = Lit(At(23), "black", "mid"); // long after a film has dried
        log.AddRange([Dump(At(21)), Lit(At(22.4), "black"), wrong, Lit(At(23.4), "black"), Lit(At(23.8), "black")]);
        var (book, belief) = Estimate(Rig(), At(24), log);
        var doubt = LogDoubts.Of(book, belief).ShouldHaveSingleItem();
        doubt.Misfit.Kind.ShouldBe(InconsistencyKind.WrongLamp);
        doubt.Entries.ShouldBe([wrong.Id!]);
        doubt.Suggest.ShouldHaveSingleItem().ShouldBeOfType<ReadingEntry>().Lit.ShouldBeEmpty();
    }

    [Fact]
    public void Two_people_who_log_the_same_dump_are_asked_and_a_rinse_in_between_is_another_dump()
    {
        LogDoubt[] Twice(params LogEntry[] log) => [.. LogDoubts.Of(Book(Rig(), At(2), log), new JointEstimator().Estimate(Book(Rig(), At(2), log)))];
        var first = Dump(At(0)) with { Id = "a" };
        var second = Dump(At(0, 0.5)) with { Id = "b" };
        Twice(first, second).ShouldHaveSingleItem().Surplus.ShouldBe("b");
        Twice(first, new FlushEntry { At = At(0, 0.2), Tank = "black", Method = FlushMethod.Bucket }, second).ShouldBeEmpty();
        Twice(first, Dump(At(0, 3)) with { Id = "b" }).ShouldBeEmpty();
    }

    [Theory]
    [InlineData(0.0)]
    [InlineData(0.2)]
    public void Over_seasons_a_careless_log_costs_little_and_accuses_nobody_and_a_tidy_one_is_not_asked(double forgets)
    {
        int asked = 0, found = 0, forgotten = 0, accused = 0;
        double error = 0, n = 0;
        for (var seed = 70; seed < 80; seed++)
        {
            var season = SimulatedSeason.Simulate(new Scenario(seed, 60, Two, [new ScenarioFault("black", "low", ProbeState.Working, 0),
                new ScenarioFault("gray", "g1", ProbeState.Working, 0)]));
            var (log, missing) = UntidyLog.Make(season, new Keeping(forgets, 0, 0, 0), (ulong)seed);
            var belief = new JointEstimator().Estimate(log);
            var doubts = LogDoubts.Of(log, belief).Where(d => d.Misfit.Kind == InconsistencyKind.UnloggedEmptying).ToList();
            forgotten += missing.Count;
            found += missing.Count(f => doubts.Any(d => d.Tank.Id == f.Tank && f.At >= d.Misfit.From!.Value.ToInstant() && f.At <= d.Misfit.At.ToInstant()));
            asked += doubts.Count;
            accused += belief.Tanks.Sum(t => t.Probes.Count(p => !p.Believed));
            foreach (var truth in season.Truth.GroupBy(t => t.Tank).Select(g => g.Last()))
            {
                error += Math.Abs(belief[truth.Tank].Level.P50L - truth.LevelL) / belief[truth.Tank].Tank.CapacityL;
                n++;
            }
        }
        (error / n).ShouldBeLessThan(forgets == 0 ? 0.06 : 0.16);
        accused.ShouldBeLessThanOrEqualTo(2); // of 60
        if (forgets == 0) asked.ShouldBeLessThanOrEqualTo(1);
        else (found / (double)forgotten).ShouldBeGreaterThan(0.3);
    }
}
