using NodaTime;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using static Tanksophos.Core.Tests.Given;

namespace Tanksophos.Core.Tests.Levels;

public class LevelSmootherTests
{
    private static TankLookBack Black(OffsetDateTime now, params LogEntry[] log) => LevelSmoother.Compute(Book(Rig(), now, log))
        .First(t => t.Tank.Id == "black");

    private static LevelBand At(IReadOnlyList<TrackPoint> track, OffsetDateTime at) => track.Last(p => p.At <= at.ToInstant()).Level;

    [Fact]
    public void A_late_look_corrects_the_days_before_it()
    {
        var back = Black(Given.At(6), Dump(Given.At(0)), Looked(Given.At(6), 0.9));
        var (then, now) = (At(back.Then, Given.At(3)), At(back.Now, Given.At(3)));

        then.P50L.ShouldBeLessThan(50); // at the usual rate
        now.P50L.ShouldBeGreaterThan(then.P50L + 12); // who reaches 90 % on day 6 was not at the usual rate on day 3
        (now.P95L - now.P05L).ShouldBeLessThan(then.P95L - then.P05L);
    }

    [Fact]
    public void What_is_learned_of_the_household_reaches_fills_that_nobody_looked_at()
    {
        LogEntry[] later = [.. Enumerable.Range(1, 4).SelectMany(n => new LogEntry[] { Looked(Given.At(6 * n + 5.9), 0.85), Dump(Given.At(6 * n + 6)) })];
        var back = Black(Given.At(31), [Dump(Given.At(0)), Dump(Given.At(6)), .. later]);

        At(back.Now, Given.At(5.5)).P50L.ShouldBeGreaterThan(At(back.Then, Given.At(5.5)).P50L + 15);
    }

    [Fact]
    public void At_the_last_moment_both_say_the_same()
    {
        var back = Black(Given.At(4), Dump(Given.At(0)), Lamps(Given.At(2)), Looked(Given.At(3), 0.3));
        back.Now[^1].Level.P50L.ShouldBe(back.Then[^1].Level.P50L, 2);
        back.Now.Select(p => p.At).ShouldBe(back.Now.Select(p => p.At).Order());
    }

    [Fact]
    public void A_stretch_is_looked_back_on_from_an_estimate_in_its_middle()
    {
        LogEntry[] log = [Dump(Given.At(0)), Looked(Given.At(4), 0.5), Dump(Given.At(5)), Lamps(Given.At(6)), Looked(Given.At(8), 0.35)];
        var start = new JointEstimator().Start(Rig());
        foreach (var entry in log.Take(3)) start.Add(entry);
        var part = LevelSmoother.Compute(start, [.. log.Skip(3)], Given.At(9), Given.At(5).ToInstant()).First(t => t.Tank.Id == "black");
        var whole = Black(Given.At(9), log);

        foreach (var day in (double[])[6, 7.5, 9]) At(part.Now, Given.At(day)).P50L.ShouldBe(At(whole.Now, Given.At(day)).P50L, 1.5);
        part.Now[0].At.ShouldBeGreaterThanOrEqualTo(Given.At(5).ToInstant());
        start.Last.ShouldBe(Given.At(5).ToInstant()); // the estimate itself stays where it was
    }

    [Fact]
    public void A_probe_that_was_never_read_has_nothing_to_tell()
    {
        var probe = Black(Given.At(2), Dump(Given.At(0))).Probes[0];
        probe.Looks.ShouldBeEmpty();
        (probe.LyingSince, probe.LastRight, probe.CameBack).ShouldBe((null, null, null));
    }

    [Fact]
    public void A_replaced_probe_is_right_from_that_day_on()
    {
        var log = new List<LogEntry>();
        for (var n = 0; n < 4; n++) log.AddRange([Dump(Given.At(n * 5)), Lamps(Given.At(n * 5 + 1), "low"), Lamps(Given.At(n * 5 + 2), "low")]);
        log.Add(new ServiceEntry { At = Given.At(19), Tank = "black", Code = ServiceCode.ProbeReplaced, Probe = "low" });
        log.AddRange([Dump(Given.At(20)), Lamps(Given.At(21)), Lamps(Given.At(22))]);
        var probe = Black(Given.At(22), [.. log]).Probes[0];

        probe.LyingSince.ShouldBeNull();
        probe.CameBack.ShouldBe(Given.At(21));
        probe.Looks.Where(l => l.At.ToInstant() < Given.At(18).ToInstant() && l.At.ToInstant() > Given.At(5).ToInstant()).ShouldAllBe(l => !l.Believed);
    }
}
