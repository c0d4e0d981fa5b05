using NodaTime;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;

namespace Tanksophos.Core.Outlook;

/// <summary>From the belief: when each tank reaches its marks, and what to do next, in order.</summary>
public sealed class Advice
{
    private const double Cautious = 0.05;
    private const double Expected = 0.5;
    private const double BlackWorthDumping = 0.05;
    private const double WideRange = 0.4;
    private static readonly Duration LongSilence = Duration.FromDays(14);

    private readonly Logbook logbook;
    private readonly LevelBelief belief;
    private readonly Circumstances now;
    private readonly IReadOnlyList<LogEntry> entries;
    private readonly HouseRules rules;
    private readonly Rig rig;
    private readonly Instant at;
    private readonly Dictionary<string, TankOutlook> outlooks;

    private Advice(Logbook logbook, LevelBelief belief)
    {
        this.logbook = logbook;
        this.belief = belief;
        rig = logbook.Rig;
        rules = rig.RulesInForce;
        now = belief.InForce;
        entries = logbook.InOrder();
        at = belief.AsOf?.ToInstant() ?? NodaConstants.UnixEpoch;
        outlooks = belief.Tanks.ToDictionary(t => t.Tank.Id, Outlook);
        Steps = belief.AsOf is null ? []
            : [.. Collect().OrderByDescending(s => s.Urgent).ThenBy(s => s.Urgent ? Rank(s) : 0).ThenBy(s => s.Due ?? Instant.MaxValue).ThenBy(Rank)];
    }

    /// <summary>
    /// Whether so much of a tank is in doubt (more than four tenths, nine times of ten) that somebody has to look before anything is built on the level.
    /// </summary>
    /// <param name="tank">What is believed of it.</param>
    public static bool IsWide(TankBelief tank)
    {
        ArgumentNullException.ThrowIfNull(tank);
        return tank.Fraction(tank.Level.P95L - tank.Level.P05L) > WideRange;
    }

    /// <summary>What is in force now.</summary>
    public Circumstances Circumstances => now;

    /// <summary>What to do next: what is urgent first, then by the hour, then what has no hour.</summary>
    public IReadOnlyList<NextStep> Steps { get; }

    /// <summary>When a tank reaches its marks.</summary>
    /// <exception cref="KeyNotFoundException">The rig has no such tank.</exception>
    public TankOutlook this[string tankId] => outlooks[tankId];

    /// <summary>Computes the advice for a logbook from what is believed about it.</summary>
    public static Advice For(Logbook logbook, LevelBelief belief)
    {
        ArgumentNullException.ThrowIfNull(logbook);
        ArgumentNullException.ThrowIfNull(belief);
        return new Advice(logbook, belief);
    }

    // What is urgent stands in the order of the codes. At the same hour gray is closed before black is dumped, and what follows a dump comes after it.
    private static int Rank(NextStep step) => step.Code == StepCode.CloseGray ? -1 : (int)step.Code;

    private TankOutlook Outlook(TankBelief tank)
    {
        var dump = rules.DumpLevel(tank.Tank.Role) * tank.Tank.CapacityL;
        var f = tank.Forecast;
        if (belief.AsOf is null) return new TankOutlook(dump, null, null, null, null);
        if (tank.ValveOpen) f = f.EmptiedAt(at);
        return new TankOutlook(dump, f.Reaches(dump, Expected), f.Reaches(dump, Cautious), f.Reaches(tank.Tank.CapacityL, Expected),
            f.Reaches(tank.Tank.CapacityL, Cautious));
    }

    private IEnumerable<NextStep> Collect()
    {
        if (now.PropaneAlarm is { } alarm) yield return new NextStep(StepCode.PropaneAlarm, null, null, true) { Since = alarm };
        // Beyond this silence something happened that is not in the log; what is computed is a guess until somebody looks.
        if (entries.Count > 0 && now.People > 0 && now.Hookup != Hookup.Storage && at - entries[^1].Instant > LongSilence)
            yield return new NextStep(StepCode.CatchUp, null, at, true) { Since = entries[^1].Instant };
        if (now.StaySince is null) yield return new NextStep(StepCode.SayWhere, null, null, false);

        Instant? blackDump = null;
        foreach (var tank in belief.Tanks.Where(t => t.Tank.Role == TankRole.Black))
        {
            foreach (var step in Black(tank))
            {
                if (step.Code is StepCode.DumpBlack or StepCode.TopUpAndDump) blackDump = Earlier(blackDump, step.Due);
                yield return step;
            }
        }
        foreach (var tank in belief.Tanks.Where(t => t.Tank.Role == TankRole.Gray))
            foreach (var step in Gray(tank, blackDump)) yield return step;
        foreach (var tank in belief.Tanks)
        {
            // A soak ends by the clock, a scrub with its drive; both wait for the dump.
            foreach (var course in Courses.Build(entries, tank.Tank.Id, at).Where(c => c.Stage != CourseStage.WantsDrive))
                yield return new NextStep(StepCode.DumpSoak, tank.Tank.Id, course.Stage == CourseStage.Dump ? at
                    : SensibleHours.NotBefore(course.Until!.Value, now.Zone), false)
                {
                    Recipe = course.Recipe,
                    Since = course.Since,
                    ExpectedAt = course.Until
                };
            foreach (var probe in tank.Probes.Where(p => !p.Believed))
                yield return new NextStep(StepCode.CheckLamp, tank.Tank.Id, null, false) { Probe = probe.Probe.Label, Since = probe.DoubtedSince };
            if (IsWide(tank) && !tank.ValveOpen)
                yield return new NextStep(StepCode.LookInside, tank.Tank.Id, null, false);
        }
    }

    private IEnumerable<NextStep> Black(TankBelief tank)
    {
        var id = tank.Tank.Id;
        if (tank.ValveOpen)
        {
            yield return new NextStep(StepCode.CloseBlack, id, at, true) { Since = now.OpenSince(id) };
            yield break;
        }
        var outlook = outlooks[id];
        var sewerHere = now.Hookup == Hookup.Full;
        var overflow = tank.Forecast.Reaches(tank.Tank.CapacityL, rules.OverflowRisk);
        if (!sewerHere && tank.Forecast.ChanceOf(tank.Tank.CapacityL, at) > rules.OverflowRisk)
            yield return new NextStep(StepCode.StopFilling, id, at, true) { Fraction = tank.Fraction(tank.Level.P95L) };

        var deadline = tank.LastEmptied is { } emptied && tank.Fraction(tank.Level.P50L) > BlackWorthDumping
            ? emptied + Duration.FromDays(rules.MaxDays) : (Instant?)null;
        if (!sewerHere)
        {
            if (Earlier(overflow, deadline) is { } latest)
            {
                var due = Instant.Max(at, SensibleHours.NotAfter(latest, now.Zone));
                yield return new NextStep(StepCode.FindSewer, id, due, false)
                {
                    ExpectedAt = outlook.DumpExpected,
                    CautiousAt = overflow,
                    Fraction = Level(tank, due),
                    Days = DaysSince(tank, due)
                };
            }
        }
        else if (Earlier(outlook.DumpExpected, deadline) is { } level)
        {
            var tooLow = deadline is { } d && (outlook.DumpExpected is not { } e || d < e);
            var due = DumpHour(Instant.Max(level, at), overflow);
            var fraction = Level(tank, due);
            yield return new NextStep(tooLow ? StepCode.TopUpAndDump : StepCode.DumpBlack, id, due, false)
            {
                ExpectedAt = outlook.DumpExpected,
                CautiousAt = outlook.DumpCautious,
                Fraction = fraction,
                Days = DaysSince(tank, due),
                WaterL = tooLow ? Math.Max(0, (HouseRules.Default.DumpBlackAt - fraction) * tank.Tank.CapacityL) : null,
            };
        }
        foreach (var step in AfterDump(tank, sewerHere ? Earlier(outlook.DumpExpected, deadline) : null)) yield return step;
    }

    // The hour of a dump: when the level is reached, but not at night; the evening before if the morning after might be too late.
    private Instant DumpHour(Instant level, Instant? overflow)
    {
        if (SensibleHours.Holds(level, now.Zone)) return level;
        var morning = SensibleHours.NotBefore(level, now.Zone);
        var evening = SensibleHours.NotAfter(level, now.Zone);
        return overflow is { } o && o < morning && evening > at ? evening : morning;
    }

    // Starter water and dose belong to the dump; they are due as long as nothing of the kind was logged after it.
    private IEnumerable<NextStep> AfterDump(TankBelief tank, Instant? nextDump)
    {
        if (tank.LastEmptied is not { } emptied || now.Hookup == Hookup.Storage) yield break;
        var since = entries.Between(emptied, Instant.MaxValue).Where(e => e.Tank == tank.Tank.Id).ToList();
        var water = since.Sum(e => e switch { WaterEntry w => w.WaterL, DoseEntry d => d.WaterL ?? 0, _ => 0 });
        var wanted = RoutineDose.StarterWaterL(rules.Treatment, tank.Tank.CapacityL, Shelf.For(rig, rules.Treatment));
        // Once the tank has filled past the starter water by use, there is nothing left to cover.
        if (water < 0.5 * wanted && tank.Level.P50L < 1.5 * wanted)
            yield return new NextStep(StepCode.StarterWater, tank.Tank.Id, at, false) { WaterL = wanted - water, Since = emptied };

        if (RoutineDose.For(rules.Treatment, tank.Tank.CapacityL) is null) yield break;
        var dosed = since.OfType<DoseEntry>().Where(d => RoutineDose.IsRoutine(d.Recipe)).Select(d => (Instant?)d.Instant).Max();
        var due = dosed is { } last ? last + Duration.FromDays(Shelf.LastsDays(rig, rules.Treatment)) : at;
        if (nextDump <= due) yield break; // the dump comes first, and a new dose with it
        yield return new NextStep(StepCode.Dose, tank.Tank.Id, Instant.Max(at, SensibleHours.NotBefore(due, now.Zone)), false) { Since = dosed };
    }

    private IEnumerable<NextStep> Gray(TankBelief tank, Instant? blackDump)
    {
        var id = tank.Tank.Id;
        var drainHere = now.Hookup is Hookup.Full or Hookup.GrayDrain;
        var overflow = tank.Forecast.Reaches(tank.Tank.CapacityL, rules.OverflowRisk);
        if (!drainHere)
        {
            if (tank.Forecast.ChanceOf(tank.Tank.CapacityL, at) > rules.OverflowRisk)
                yield return new NextStep(StepCode.StopFilling, id, at, true) { Fraction = tank.Fraction(tank.Level.P95L) };
            else if (overflow is { } full)
            {
                var due = Instant.Max(at, SensibleHours.NotAfter(full, now.Zone));
                yield return new NextStep(StepCode.FindGrayDrain, id, due, false)
                {
                    ExpectedAt = outlooks[id].FullExpected,
                    CautiousAt = full,
                    Fraction = Level(tank, due)
                };
            }
            yield break;
        }
        var closing = blackDump is { } dump && rules.GrayAtFullHookup != GrayAtFullHookup.Batch ? ClosingHour(tank, dump) : (Instant?)null;
        if (tank.ValveOpen)
        {
            if (closing is { } hour)
                yield return new NextStep(StepCode.CloseGray, id, Instant.Max(at, hour), false) { ExpectedAt = blackDump, Since = now.OpenSince(id) };
            yield break;
        }
        if (rules.GrayAtFullHookup == GrayAtFullHookup.Batch || closing is { } c && c <= at)
        {
            // Held for the rinse or by school: it goes when it is about two thirds, or in time before it could overflow.
            var level = rules.GrayAtFullHookup == GrayAtFullHookup.Batch ? Earlier(outlooks[id].DumpExpected, overflow) : overflow;
            if (level is { } when && (blackDump is null || when < blackDump))
                yield return new NextStep(StepCode.DumpGray, id, Instant.Max(at, SensibleHours.NotAfter(when, now.Zone)),
                    false)
                { ExpectedAt = outlooks[id].DumpExpected, CautiousAt = overflow, Fraction = Level(tank, when) };
            yield break;
        }
        if (now.People > 0)
            yield return new NextStep(StepCode.OpenGray, id, at, false) { ExpectedAt = closing, Fraction = tank.Fraction(tank.Level.P50L) };
    }

    /// <summary>
    /// When to close an open gray before a black dump: so that low inflow (p10) reaches the target by then while high inflow (p95) does not fill
    /// the tank; at most two days before, and never at night.
    /// </summary>
    private Instant ClosingHour(TankBelief tank, Instant dump)
    {
        var capacity = tank.Tank.CapacityL;
        var target = GrayRinse.TargetL(logbook.Rig, rules, tank.Tank);
        var closed = tank.Forecast.EmptiedAt(at);
        var earliest = dump - GrayRinse.LongestBanking;
        if (closed.LitresPerDay <= 0) return SensibleHours.NotAfter(earliest, now.Zone);

        var most = UseHours.Between(earliest, dump, now.Zone);
        var enough = Search(most, days => closed.Quantile(days, 0.10) >= target);
        var tooMuch = Search(most, days => closed.Quantile(days, 0.95) >= capacity);
        return SensibleHours.NotAfter(Back(dump, Math.Min(enough, tooMuch), earliest), now.Zone);
    }

    private Instant Back(Instant dump, double days, Instant earliest)
    {
        Instant low = earliest, high = dump;
        for (var i = 0; i < 24; i++)
        {
            var mid = low + (high - low) / 2;
            if (UseHours.Between(mid, dump, now.Zone) > days) low = mid;
            else high = mid;
        }
        return low;
    }

    private static double Search(double most, Func<double, bool> reached)
    {
        double low = 0, high = most;
        if (!reached(high)) return most;
        for (var i = 0; i < 24; i++)
        {
            var mid = 0.5 * (low + high);
            if (reached(mid)) high = mid;
            else low = mid;
        }
        return high;
    }

    private static double Level(TankBelief tank, Instant when) => tank.Fraction(tank.Forecast.At(Instant.Max(when, tank.Forecast.From)).P50L);

    private static double? DaysSince(TankBelief tank, Instant when) => tank.LastEmptied is { } e ? (when - e).TotalDays : null;

    private static Instant? Earlier(Instant? a, Instant? b) => a is null ? b : b is null ? a : Instant.Min(a.Value, b.Value);
}
