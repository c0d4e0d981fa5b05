using Tanksophos.Core.Dumping;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Simulation;

namespace Tanksophos.Core.Tests.Dumping;

public class RunHistoryTests
{
    private static readonly Tank Black = Runs.Rig().Tanks[0];

    private static DumpEntry Dump(double day, double minutes, DumpFlow flow = DumpFlow.Rush) =>
        new() { At = Given.At(day), Tank = "black", Minutes = minutes, Flow = flow };

    private static FlushEntry Flush(double day, params EndColor[] ends) => new()
    {
        At = Given.At(day, 0.3),
        Tank = "black",
        Method = FlushMethod.BuiltIn,
        Cycles = [.. ends.Select(e => new FlushCycle(60, null, e, Debris.None))]
    };

    private static EndColor[] ClearAfter(int cycles) => [.. Enumerable.Repeat(EndColor.Tinted, cycles - 1), EndColor.Clear];

    [Fact]
    public void Without_a_history_physics_tells_the_time_of_a_drain()
    {
        var forty = new Tank("black", "Black", TankRole.Black, 151.4);
        RunHistory.Drain([], forty, 151.4, _ => null)
            .ShouldSatisfyAllConditions(u => u.Seconds.ShouldBeInRange(90, 180, "40 gal take 1.5 to 3 minutes"), u => u.Timed.ShouldBe(0),
            u => u.SlowSeconds.ShouldBeGreaterThan(1.5 * u.Seconds));
        RunHistory.Drain([], forty, 38, _ => null).Seconds.ShouldBe(RunHistory.Drain([], forty, 152, _ => null).Seconds / 2, 2, "with the root of the depth");
    }

    [Fact]
    public void The_rigs_own_drains_outweigh_physics_and_make_slowness_sharper()
    {
        LogEntry[] log = [.. Enumerable.Range(0, 8).Select(i => (LogEntry)Dump(i, 4))];
        var usual = RunHistory.Drain(log, Black, 100, _ => 100);
        usual.Timed.ShouldBe(8);
        usual.Seconds.ShouldBeInRange(180, 240);
        usual.SlowSeconds.ShouldBeLessThan(2 * usual.Seconds);
        RunHistory.Drain(log, Black, 100, _ => null).Timed.ShouldBe(0, "from an unknown level a time tells nothing");
        RunHistory.Drain([Dump(0, 40, DumpFlow.Slow)], Black, 100, _ => 100).Timed.ShouldBe(0, "a slow one is not the usual");
    }

    [Fact]
    public void Cycles_are_expected_from_the_tanks_own_rinses()
    {
        var none = RunHistory.Cycles([], "black");
        none.Rinses.ShouldBe(0);
        none.Further[0].ShouldBeInRange(2.5, 3.5);
        LogEntry[] quick = [.. Enumerable.Range(0, 10).Select(i => (LogEntry)Flush(i, ClearAfter(2)))],
            long5 = [.. Enumerable.Range(0, 10).Select(i => (LogEntry)Flush(i, ClearAfter(5)))];
        RunHistory.Cycles(quick, "black").Further[0].ShouldBeLessThan(none.Further[0]);
        var five = RunHistory.Cycles(long5, "black").Further;
        five[0].ShouldBeInRange(4, 5);
        five[2].ShouldBeInRange(2, 3);
        five.ShouldAllBe(f => f >= 1);
        RunHistory.Cycles(long5, "other").Rinses.ShouldBe(0);
        RunHistory.Cycles([.. quick, .. Enumerable.Range(10, 6).Select(i => (LogEntry)Flush(i, ClearAfter(5)))], "black").Further[0]
            .ShouldBeGreaterThan(3, "the later ones count more");
    }

    [Fact]
    public void A_rise_in_cycles_is_told_from_chance()
    {
        RunHistory.Trend([Flush(0, ClearAfter(2)), Flush(9, ClearAfter(3))], "black").ShouldBeNull("too few");
        LogEntry[] rising = [.. Enumerable.Range(0, 8).Select(i => (LogEntry)Flush(15 * i, ClearAfter(2 + i / 2)))];
        RunHistory.Trend(rising, "black")!.ShouldSatisfyAllConditions(t => t.Rises.ShouldBeTrue(), t => t.PerMonth.ShouldBeInRange(0.7, 1.3));
        LogEntry[] level = [.. Enumerable.Range(0, 8).Select(i => (LogEntry)Flush(15 * i, ClearAfter(2 + i % 2)))];
        RunHistory.Trend(level, "black")!.Rises.ShouldBeFalse();
        // What ended dirty took more than was counted.
        RunHistory.Trend([.. level.Take(7), Flush(105, EndColor.Dark, EndColor.Dark, EndColor.Dark, EndColor.Dark, EndColor.Dark)],
            "black")!.PerMonth.ShouldBeGreaterThan(RunHistory.Trend(level, "black")!.PerMonth);
    }

    [Fact]
    public void The_flow_is_learned_from_cycles_that_were_both_timed_and_metered()
    {
        FlushEntry Metered(double litres, FlushMethod method = FlushMethod.BuiltIn) =>
            new()
            {
                At = Given.At(1),
                Tank = "black",
                Method = method,
                Cycles = [new FlushCycle(60, litres, null, null), new FlushCycle(60, null, null, null)]
            };
        RunHistory.Flow([Metered(7), Metered(8), Metered(30)], FlushMethod.BuiltIn)!.Value.ShouldBe(8);
        RunHistory.Flow([Metered(30, FlushMethod.Reverse)], FlushMethod.BuiltIn).ShouldBeNull();
        RunHistory.Flow([], FlushMethod.BuiltIn).ShouldBeNull();
    }

    [Fact]
    public void A_tank_is_suspect_after_a_slow_dump_or_a_heap_until_it_runs_again()
    {
        RunHistory.IsSuspect([], "black").ShouldBeFalse();
        RunHistory.IsSuspect([Dump(1, 9, DumpFlow.Slow)], "black").ShouldBeTrue();
        RunHistory.IsSuspect([Dump(1, 9, DumpFlow.Slow), Dump(5, 2)], "black").ShouldBeFalse();
        RunHistory.IsSuspect([Dump(1, 2), new SymptomEntry { At = Given.At(2), Code = SymptomCode.HeapSeen, Tank = "black" }], "black").ShouldBeTrue();
        RunHistory.IsSuspect([Dump(1, 2), new SymptomEntry { At = Given.At(2), Code = SymptomCode.HeapSeen, Tank = "other" }], "black").ShouldBeFalse();
    }

    [Fact]
    public void Runs_written_by_hand_are_runs_too()
    {
        var season = DemoSeason.Until(NodaTime.Instant.FromUtc(2026, 6, 10, 0, 30));
        var runs = RunHistory.Runs(season.InOrder(), 10);
        runs.Count.ShouldBe(3);
        runs[0].ShouldSatisfyAllConditions(r => r.Place.ShouldBe("Lantern Hollow"), r => r.Dumps.Count().ShouldBe(3), r => r.Cycles.Count.ShouldBe(3),
            r => r.Minutes.ShouldBe(37, 0.5), r => r.Entries.OfType<DoseEntry>().Count().ShouldBe(1));
        runs.Select(r => r.At.ToInstant()).ShouldBeInOrder(SortDirection.Descending);
        RunHistory.Runs(season.InOrder(), 2).Count.ShouldBe(2);
        RunHistory.Runs([], 3).ShouldBeEmpty();
    }

    [Theory]
    [InlineData("clear none", 1, 5, Verdict.Clean)]
    [InlineData("clear specks", 1, 5, Verdict.Clean)]
    [InlineData("clear paper", 1, 5, Verdict.OneMore)]
    [InlineData("tinted none", 1, 5, Verdict.OneMore)]
    [InlineData("clear none", 2, 7, Verdict.OnceMoreToBeSure)]
    [InlineData("clear none,clear none", 2, 7, Verdict.Clean)]
    [InlineData("clear none,tinted none,clear none", 2, 7, Verdict.OnceMoreToBeSure)]
    [InlineData("dark paper,dark paper,tinted paper,tinted none,tinted specks", 1, 5, Verdict.StopAndScrub)]
    [InlineData("dark paper,clear none", 2, 2, Verdict.Clean)]
    public void The_end_of_a_cycle_decides_whether_it_is_clean(string ends, int need, int cap, Verdict verdict)
    {
        FlushCycle[] cycles = [.. ends.Split(',')
            .Select(e => new FlushCycle(60, null, Codes<EndColor>.TryParse(e.Split(' ')[0], out var c) ? c : null,
            Codes<Debris>.TryParse(e.Split(' ')[1], out var d) ? d : null))];
        Judging.Judge(cycles, need, cap, null, 20).ShouldBe(verdict);
    }

    [Fact]
    public void Without_water_there_is_no_one_more_and_without_a_look_no_verdict()
    {
        FlushCycle[] dark = [new(60, null, EndColor.Dark, null)];
        Judging.Judge(dark, 1, 5, 9, 20).ShouldBe(Verdict.NoWaterLeft);
        Judging.Judge(dark, 1, 5, 11, 20).ShouldBe(Verdict.OneMore);
        Judging.Judge([], 1, 5, null, 20).ShouldBe(Verdict.Look);
        Judging.Judge([new FlushCycle(60, null, null, null)], 1, 5, null, 20).ShouldBe(Verdict.Look);
    }

    // Fills before a dump and after it, from the level that the belief has and the true one of a simulated rig; the flow scatters as it does. From near empty
    // no
    // clock can do both: at one overfill in a thousand its median fill is 59.9 % of what somebody who knew all would put in.
    [Theory]
    [InlineData(FillStop.Meter, 0, 0.85)]
    [InlineData(FillStop.ClockKnownFlow, 1, 0.595)]
    [InlineData(FillStop.Clock, 0, 0)]
    public void Fills_from_the_beliefs_own_error_do_not_run_over(FillStop stop, int mostOverfillsInThousand, double leastMedian)
    {
        var random = new SeededRandom(77);
        int over = 0, fills = 0;
        var chance = 0.0;
        var shares = new List<double>();
        foreach (var (tank, band, level) in Fills.Value)
            for (var draw = 0; draw < 8; draw++)
            {
                fills++;
                const double known = 8;
                var flow = stop == FillStop.Clock ? 7.6 * Math.Exp(0.5 * random.Normal()) : known * Math.Exp(0.2 * random.Normal());
                var limit = Guard.Limit(tank, band, stop, known);
                var put = limit.Refused is not null ? 0 : stop == FillStop.Meter ? limit.Litres : flow * limit.Seconds!.Value / 60;
                if (level + put > tank.CapacityL) over++;
                if (stop == FillStop.ClockKnownFlow && limit.Seconds is { } s) chance += Above(Math.Log((tank.CapacityL - level) / (known * s / 60)) / 0.2);
                var best = Guard.FillTo * tank.CapacityL - level;
                if (best > 10) shares.Add(put / best);
            }
        fills.ShouldBeGreaterThanOrEqualTo(10_000);
        // One in a thousand is the chance over all fills; how many of these very ones run over scatters around it.
        (chance / fills).ShouldBeLessThanOrEqualTo(mostOverfillsInThousand / 1000.0);
        over.ShouldBeLessThanOrEqualTo(2 * mostOverfillsInThousand * fills / 1000);
        shares.Order().ElementAt(shares.Count / 2).ShouldBeGreaterThanOrEqualTo(leastMedian);
    }

    // The chance that a normal deviate is above z, by its tail's continued fraction and series.
    private static double Above(double z)
    {
        if (z < 2) return 1 - Enumerable.Range(0, 4001)
            .Sum(i => Math.Exp(-0.5 * Math.Pow(-8 + (z + 8) * i / 4000, 2)) * (z + 8) / 4000) / Math.Sqrt(2 * Math.PI);
        var fraction = z;
        for (var k = 60; k > 0; k--) fraction = z + k / fraction;
        return Math.Exp(-0.5 * z * z) / Math.Sqrt(2 * Math.PI) / fraction;
    }

    // Rinses after dumps, where the belief's own residue meets one drawn as the simulator draws it, and top-ups from below half at the readings of the season.
    private static readonly Lazy<List<(Tank Tank, LevelBand Band, double Level)>> Fills = new(() =>
    {
        var fills = new List<(Tank, LevelBand, double)>();
        var random = new SeededRandom(5);
        for (var seed = 900; fills.Count < 1300; seed++)
        {
            var season = SimulatedSeason.Simulate(new Scenario(seed, 60, Given.Rig(), []));
            var estimate = new JointEstimator().Start(season.Logbook.Rig);
            var tank = season.Logbook.Rig.Tanks[0];
            var truth = season.Truth.Where(t => t.Tank == "black").ToLookup(t => t.At.ToInstant());
            var readings = 0;
            foreach (var entry in season.Logbook.InOrder())
            {
                estimate.Add(entry);
                if (entry.Tank != "black") continue;
                if (entry is FlushEntry)
                {
                    var belief = estimate.At(null)["black"];
                    for (var i = 0; i < 4; i++) fills.Add((tank, belief.Level, 0.01 * tank.CapacityL * Math.Exp(0.5 * random.Normal())));
                }
                else if (truth[entry.Instant].LastOrDefault() is { } now && now.LevelL < 0.5 * tank.CapacityL && ++readings % 16 == 0
                    && estimate.At(null)["black"] is var before && before.Level.P50L < 0.5 * tank.CapacityL) fills.Add((tank, before.Level, now.LevelL));
            }
        }
        return fills;
    });
}
