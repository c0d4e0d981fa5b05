using CsCheck;
using NodaTime;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Simulation;
using static Tanksophos.Core.Tests.Given;

namespace Tanksophos.Core.Tests.Levels;

/// <summary>What holds for every log, because tanks and water are as they are.</summary>
public class LawsTests
{
    private static readonly JointEstimator Estimator = new();

    [Fact]
    public void A_winter_without_an_entry_breaks_no_panel()
    {
        var year = new JointEstimator().Estimate(new Logbook(Rig(), [Lamps(At(0), "low")], At(365)));
        year.PanelFault.ShouldBeInRange(0.0, 0.08);
        new JointEstimator().Estimate(new Logbook(Rig(), [Lamps(At(0), "low"), Lamps(At(20_000), "low")], At(20_001))).PanelFault.ShouldBeInRange(0.0, 1.0);
    }

    private static Logbook Season(long seed, int days = 25) => SimulatedSeason.Simulate(new Scenario(seed, days, Rig(), [])).Logbook;

    private static LevelBelief Believe(Logbook log) => Estimator.Estimate(log);

    private static double Width(TankBelief t) => t.Level.P95L - t.Level.P05L;

    [Fact]
    public void What_is_put_in_with_nobody_aboard_is_what_is_in_it()
    {
        Gen.Double[0.5, 20].Array[1, 5].Sample(waters =>
        {
            LogEntry[] log = [new PeopleEntry { At = At(0), Count = 0 }, Dump(At(0, 1)),
                .. waters.Select((w, i) => new WaterEntry { At = At(0, 2 + i), Tank = "black", WaterL = w, Purpose = WaterPurpose.Other })];
            var level = Believe(Book(Rig(), At(3), log))["black"].Level;
            level.P50L.ShouldBe(waters.Sum() + 0.012 * BlackL, 1);
            (level.P95L - level.P05L).ShouldBeLessThan(0.2 * waters.Sum() + 6);
        }, iter: 60);
    }

    [Fact]
    public void More_people_never_lower_the_forecast()
    {
        Gen.Select(Gen.Long[1, 5000], Gen.Int[0, 8], Gen.Int[1, 6]).Sample((seed, people, days) =>
        {
            var log = Season(seed, 8);
            TankBelief With(int count) => Believe(log with { Entries = [.. log.Entries, new PeopleEntry { At = log.AsOf!.Value, Count = count }] })["black"];
            var (few, many) = (With(people), With(people + 1));
            var at = log.AsOf!.Value.ToInstant() + Duration.FromDays(days);
            foreach (var p in (double[])[0.05, 0.5, 0.95]) many.Forecast.Quantile(days, p).ShouldBeGreaterThanOrEqualTo(few.Forecast.Quantile(days, p) - 1e-4);
            many.Forecast.ChanceOf(0.8 * BlackL, at).ShouldBeGreaterThanOrEqualTo(few.Forecast.ChanceOf(0.8 * BlackL, at) - 1e-9);
        }, iter: 10);
    }

    [Fact]
    public void A_free_dump_leaves_no_more_than_was_there()
    {
        Gen.Long[1, 5000].Sample(seed =>
        {
            var log = Season(seed, 10);
            var before = Believe(log)["black"].Level;
            var after = Believe(log with { Entries = [.. log.Entries, new DumpEntry { At = log.AsOf!.Value, Tank = "black" }] })["black"].Level;
            after.P50L.ShouldBeLessThanOrEqualTo(Math.Max(before.P50L, 0.03 * BlackL));
            after.P95L.ShouldBeLessThan(0.05 * BlackL);
        }, iter: 10);
    }

    [Fact]
    public void A_look_that_agrees_narrows_the_band_on_average()
    {
        double without = 0, with = 0;
        for (var seed = 1; seed <= 10; seed++)
        {
            var log = Season(seed, 12);
            var belief = Believe(log)["black"];
            without += Width(belief);
            with += Width(Believe(log with
            {
                Entries = [.. log.Entries,
                new ReadingEntry { At = log.AsOf!.Value, Tank = "black", Via = ReadingVia.Sight,
                Fraction = Math.Min(1, belief.Fraction(belief.Level.P50L)) }]
            })["black"]);
        }
        with.ShouldBeLessThan(0.9 * without);
    }

    [Fact]
    public void The_order_in_which_entries_of_different_times_are_written_does_not_matter()
    {
        Gen.Select(Gen.Long[1, 5000], Gen.Int[0, 1000]).Sample((seed, shuffle) =>
        {
            var log = Season(seed, 10);
            var spread = log.Entries.GroupBy(e => e.Instant).SelectMany(g => g.Select((e, i) => e with { At = e.At.Plus(Duration.FromSeconds(i)) })).ToList();
            var random = new SeededRandom(shuffle);
            var mixed = spread.OrderBy(_ => random.Uniform()).ToList();
            var (a, b) = (Believe(log with { Entries = spread }), Believe(log with { Entries = mixed }));
            foreach (var (x, y) in a.Tanks.Zip(b.Tanks)) x.Level.ShouldBe(y.Level);
        }, iter: 8);
    }

    [Fact]
    public void A_household_that_uses_more_is_found_out_at_the_hookup_where_it_does()
    {
        // Twice the usual at a full hookup, the usual when dry: seen at the end of each fill.
        var log = new List<LogEntry>();
        for (var n = 0; n < 8; n++)
        {
            var dry = n % 2 == 1;
            log.AddRange([Stay(At(n * 4), dry ? Hookup.Dry : Hookup.Full), Dump(At(n * 4, 0.1)), Looked(At(n * 4 + 3.9), (dry ? 0.2 : 0.65) + 0.01)]);
        }
        var factors = Believe(Book(Rig(), At(32), [.. log]))["black"].Factors;

        factors.Full.Mean.ShouldBeGreaterThan(1.5);
        factors.Dry.Mean.ShouldBeLessThan(factors.Full.Mean - 0.15);
        factors.Full.Sd.ShouldBeLessThan(0.25);
    }

    [Fact]
    public void Nothing_a_log_can_say_makes_nonsense()
    {
        var entry = Gen.Select(Gen.Int[0, 12], Gen.Double[0, 40], Gen.Double[0, 1], Gen.Int[0, 7]).Select(t =>
        {
            var (kind, day, share, pattern) = t;
            var at = At(day);
            return (LogEntry)(kind switch
            {
                0 => Dump(at),
                1 => new DumpEntry { At = at, Tank = "black", Minutes = 40 * share, Flow = (DumpFlow)(pattern % 5), VolumeL = 400 * share },
                2 => new WaterEntry { At = at, Tank = "black", WaterL = 300 * share, Purpose = WaterPurpose.Other },
                3 => new PeopleEntry { At = at, Count = (int)(20 * share) },
                4 => Looked(at, share),
                5 => new SymptomEntry { At = at, Code = (SymptomCode)(pattern * 2 % 14), Tank = "black" },
                6 => Stay(at, (Hookup)(pattern % 5)),
                7 => new ValveEntry { At = at, Tank = "black", State = share < 0.5 ? ValveState.Open : ValveState.Closed },
                8 => new ReadingEntry { At = at, Tank = "gray", Via = ReadingVia.Panel, Percent = 100 * share },
                9 => new DriveEntry { At = at, Hours = 30 * share },
                _ => Lamps(at, [.. new[] { "low", "mid", "top" }.Where((_, i) => (pattern >> i & 1) == 1)]),
            });
        });
        entry.Array[0, 40].Sample(entries =>
        {
            var belief = Believe(Book(Rig(), At(41), entries));
            foreach (var tank in belief.Tanks)
            {
                double[] numbers = [tank.Level.P05L, tank.Level.P50L, tank.Level.P95L, tank.InflowLPerPersonDay,
                    .. tank.Probes.SelectMany(p => (double[])[p.Working, p.StuckOn, p.StuckOff])];
                numbers.ShouldAllBe(x => double.IsFinite(x) && x >= 0);
                tank.Level.P95L.ShouldBeLessThanOrEqualTo(tank.Tank.CapacityL + 1e-9);
                tank.Level.P05L.ShouldBeLessThanOrEqualTo(tank.Level.P95L + 1e-6);
                foreach (var p in tank.Probes) (p.Working + p.StuckOn + p.StuckOff).ShouldBe(1, 1e-6);
            }
            LevelSmoother.Compute(Book(Rig(), At(41), entries)).SelectMany(t => t.Now).ShouldAllBe(p => double.IsFinite(p.Level.P50L));
        }, iter: 50);
    }

    [Fact]
    public void In_hindsight_the_levels_are_known_better_than_they_were()
    {
        double then = 0, now = 0;
        for (var seed = 1; seed <= 8; seed++)
        {
            var season = SimulatedSeason.Simulate(new Scenario(seed, 35, Rig(), [new ScenarioFault("black", "low", ProbeState.StuckOn, 5)]));
            var back = LevelSmoother.Compute(season.Logbook).First(t => t.Tank.Id == "black");
            foreach (var truth in season.Truth.Where(t => t.Tank == "black" && t.At.ToInstant() > season.Truth[0].At.ToInstant() + Duration.FromDays(7)))
            {
                var at = truth.At.ToInstant();
                var (a, b) = (back.Then.LastOrDefault(p => p.At == at), back.Now.LastOrDefault(p => p.At == at));
                if (a == default || b == default) continue;
                then += Math.Abs(a.Level.P50L - truth.LevelL);
                now += Math.Abs(b.Level.P50L - truth.LevelL);
            }
        }
        now.ShouldBeLessThan(0.95 * then);
        then.ShouldBeGreaterThan(0);
    }
}
