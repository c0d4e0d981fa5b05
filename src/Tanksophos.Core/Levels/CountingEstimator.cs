using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Levels;

/// <summary>
/// The first estimator: counts people and days at the usual rates between dumps, and lets what was read or seen correct both the
/// level and the household's own rate. Lamps count as far as each is believed; a lamp that keeps contradicting the count is not.
/// </summary>
public sealed class CountingEstimator : ILevelEstimator
{
    /// <inheritdoc/>
    public LevelBelief Estimate(Logbook logbook, EstimateOptions? options = null)
    {
        ArgumentNullException.ThrowIfNull(logbook);
        var running = new RunningCount(logbook.Rig, options);
        foreach (var entry in logbook.InOrder()) running.Add(entry);
        return running.Finish(logbook.Now());
    }

    /// <inheritdoc/>
    public IRunningEstimate Start(Rig rig, EstimateOptions? options = null) => new RunningCount(rig, options);
}

/// <summary>The count in the making: all tanks, the panel, and what is in force.</summary>
internal sealed class RunningCount : IRunningEstimate
{
    private static readonly Duration TrackStep = Duration.FromHours(3);

    private readonly Circumstances circumstances;
    private readonly List<TankEstimate> tanks;
    private readonly PanelHealth panel;
    private readonly Instant? trackFrom;
    private Instant? clock;
    private OffsetDateTime? last;

    public RunningCount(Rig rig, EstimateOptions? options)
    {
        ArgumentNullException.ThrowIfNull(rig);
        circumstances = new Circumstances(rig);
        tanks = [.. rig.Tanks.Select(t => new TankEstimate(rig, t))];
        panel = new PanelHealth();
        trackFrom = options?.TrackFrom;
    }

    private RunningCount(RunningCount other)
    {
        circumstances = other.circumstances.Copy();
        tanks = [.. other.tanks.Select(t => t.Copy())];
        panel = other.panel.Copy();
        (trackFrom, clock, last) = (other.trackFrom, other.clock, other.last);
    }

    public Instant? Last => last?.ToInstant();

    public IRunningEstimate Copy() => new RunningCount(this);

    public BeliefChange? Add(LogEntry entry)
    {
        ArgumentNullException.ThrowIfNull(entry);
        Advance(entry.Instant);
        panel.Apply(entry);
        BeliefChange? change = null;
        foreach (var tank in tanks)
        {
            var mine = entry.Tank == tank.Tank.Id;
            if (mine && trackFrom is not null) tank.Note(entry.Instant, trackFrom.Value);
            if (mine) change = tank.Changing(() => tank.Apply(entry, circumstances, panel.Suspect));
            else tank.Apply(entry, circumstances, panel.Suspect);
            if (mine && trackFrom is not null) tank.Note(entry.Instant, trackFrom.Value);
        }
        circumstances.Apply(entry);
        last = entry.At;
        return change;
    }

    public LevelBelief At(OffsetDateTime? now) => new RunningCount(this).Finish(now ?? last);

    /// <summary>Runs on to a moment and says what is believed then.</summary>
    public LevelBelief Finish(OffsetDateTime? now)
    {
        var end = now?.ToInstant() ?? NodaConstants.UnixEpoch;
        if (now is not null) Advance(end);
        if (trackFrom is { } from) foreach (var tank in tanks) tank.Note(end, from);
        return new LevelBelief(now, [.. tanks.Select(t => t.Belief(circumstances, end))], panel.Probability);
    }

    private void Advance(Instant to)
    {
        clock ??= to; // before the first entry nothing is counted
        if (trackFrom is { } first && to > first)
        {
            // Steps at fixed moments, so that the drawing does not change its shape with each entry.
            for (var t = NextStep(Instant.Max(first, clock.Value)); t < to; t = NextStep(t))
            {
                foreach (var tank in tanks) tank.Advance(clock.Value, t, circumstances);
                clock = t;
                foreach (var tank in tanks) tank.Note(t, first);
            }
        }
        foreach (var tank in tanks) tank.Advance(clock.Value, to, circumstances);
        clock = to;
    }

    private static Instant NextStep(Instant t)
    {
        var step = (long)TrackStep.TotalSeconds;
        return Instant.FromUnixTimeSeconds((Math.DivRem(t.ToUnixTimeSeconds(), step).Quotient + 1) * step);
    }
}

/// <summary>Whether the whole panel is at fault, as far as somebody said so.</summary>
internal sealed class PanelHealth
{
    private const double Rare = 0.01;
    private const double Reported = 0.7;

    public bool Suspect { get; private set; }

    public PanelHealth Copy() => new() { Suspect = Suspect };

    public double Probability => Suspect ? Reported : Rare;

    public void Apply(LogEntry entry)
    {
        switch (entry)
        {
            case SymptomEntry { Code: SymptomCode.LampsDead or SymptomCode.LampsAllOn }:
                Suspect = true;
                break;
            case CheckEntry { Code: CheckCode.BatteryOk or CheckCode.WiringOk, Result: CheckResult.Pass }:
            case ServiceEntry { Code: ServiceCode.WiringRepaired }:
                Suspect = false;
                break;
        }
    }
}

/// <summary>The running estimate of one tank.</summary>
internal sealed class TankEstimate
{
    // A strip's own scatter, and how fast its wall is coated, as shares of capacity.
    private const double PercentNoise = 0.04;
    private const double PercentOffsetStart = 0.05;
    private const double PercentOffsetPerDay = 0.006;
    private const double Slosh = 0.015;
    private const double MeteredError = 0.05;
    private const double Contradiction = 0.15;

    private readonly Rig rig;
    private readonly LevelMixture level;
    private readonly List<ProbeEstimate> probes;
    private readonly List<TrackPoint> track = [];
    private double offset, offsetVariance;
    private LocalDate day;
    private double daySoFar;
    private Instant? lastEmptied;
    private (ReadingEntry Entry, LevelMixture Level, IReadOnlyList<string> Contradicts)? panel; // the band is worked out only when it is asked for

    public TankEstimate(Rig rig, Tank tank)
    {
        this.rig = rig;
        Tank = tank;
        level = new LevelMixture(tank.CapacityL, (rig.Usage ?? Usage.Default).For(tank.Role).LogSd);
        probes = [.. tank.Monitor.Probes.Select((p, i) => new ProbeEstimate(p, lowest: i == 0))];
        offsetVariance = Square(PercentOffsetStart * tank.CapacityL);
    }

    private TankEstimate(TankEstimate other)
    {
        rig = other.rig;
        Tank = other.Tank;
        level = other.level.Copy();
        probes = [.. other.probes.Select(p => p.Copy())];
        track = [.. other.track];
        (offset, offsetVariance, day, daySoFar, lastEmptied, panel) = (other.offset, other.offsetVariance, other.day, other.daySoFar, other.lastEmptied, other.panel);
    }

    public Tank Tank { get; }

    public TankEstimate Copy() => new(this);

    /// <summary>Does something to the estimate and says what that changed.</summary>
    public BeliefChange Changing(Action act)
    {
        var before = level.Moments;
        var doubted = probes.Where(p => !p.Belief().Believed).ToList();
        act();
        var after = level.Moments;
        return new BeliefChange((float)before.Mean, (float)Math.Sqrt(before.Variance), (float)after.Mean, (float)Math.Sqrt(after.Variance),
            [.. probes.Where(p => !p.Belief().Believed && !doubted.Contains(p)).Select(p => p.Probe.Label)], [.. doubted.Where(p => p.Belief().Believed).Select(p => p.Probe.Label)]);
    }

    public void Advance(Instant from, Instant to, Circumstances now)
    {
        if (to <= from) return;
        var days = (to - from).TotalDays;
        foreach (var probe in probes) probe.Age(days);
        offsetVariance += Square(PercentOffsetPerDay * Tank.CapacityL) * days;
        if (now.IsOpen(Tank.Id)) return; // what flows in flows on; it was emptied when it was opened
        var rate = now.People * rig.MedianInflow(Tank, now.Hookup);
        if (rate <= 0) return;
        if (now.DrivingUntil is { } arrival) from = Instant.Max(from, arrival);
        foreach (var (date, share, _) in UseHours.Days(from, to, now.Zone))
        {
            if (date != day) (day, daySoFar) = (date, 0);
            var before = daySoFar;
            daySoFar += rate * share;
            level.Flow(rate * share, (Square(daySoFar) - Square(before)) * DayScatter.Variance);
        }
    }

    public void Apply(LogEntry entry, Circumstances now, bool panelSuspect)
    {
        if (entry.Tank != Tank.Id)
        {
            if (entry is ServiceEntry { Tank: null, Code: ServiceCode.WiringRepaired }) foreach (var probe in probes) probe.WiringRepaired();
            return;
        }
        switch (entry)
        {
            case ValveEntry { State: ValveState.Open }:
            case ValveEntry { State: ValveState.Closed } when now.IsOpen(Tank.Id):
                Empty(entry.Instant, 1);
                break;
            case DumpEntry dump:
                Dump(dump);
                break;
            case FlushEntry flush:
                Empty(flush.Instant, 1);
                foreach (var probe in probes) probe.Rinsed(flush.Method == FlushMethod.Jet ? 0.9 : 0.05);
                break;
            case WaterEntry water:
                level.Add(water.WaterL, MeteredError * water.WaterL);
                break;
            case DoseEntry dose:
                if (dose.WaterL is { } litres) level.Add(litres, MeteredError * litres);
                foreach (var probe in probes) probe.Rinsed(dose.Recipe is DoseRecipe.SensorCleaner or DoseRecipe.TravelScrub ? 0.15 : 0);
                break;
            case ServiceEntry service:
                foreach (var probe in probes) probe.Serviced(service);
                break;
            case ReadingEntry reading:
                Read(reading, panelSuspect);
                break;
        }
    }

    public void Note(Instant at, Instant from)
    {
        if (at >= from) track.Add(new TrackPoint(at, level.Band()));
    }

    public TankBelief Belief(Circumstances now, Instant at)
    {
        var open = now.IsOpen(Tank.Id);
        var rate = rig.MedianInflow(Tank, now.Hookup);
        var start = now.DrivingUntil is { } arrival ? Instant.Max(at, arrival) : at;
        return new TankBelief
        {
            Tank = Tank,
            Level = level.Band(),
            InflowLPerPersonDay = rate * level.ExpectedFactor,
            Probes = [.. probes.Select(p => p.Belief())],
            MonitorVerdict = Verdict(),
            ValveOpen = open,
            LastEmptied = lastEmptied,
            Panel = panel is { } word ? new PanelWord(word.Entry, word.Level.Band(), word.Contradicts) : null,
            Track = track,
            Forecast = new MixtureForecast(level.Copy(), Tank.CapacityL, now.People * rate, open, start, now.Zone),
        };
    }

    private void Empty(Instant at, double widen)
    {
        level.Empty(Residue.Mean * Tank.CapacityL * widen, Residue.Sd * Tank.CapacityL * widen);
        lastEmptied = at;
        foreach (var probe in probes) probe.Emptied(at);
    }

    private void Dump(DumpEntry dump)
    {
        if (dump.VolumeL is { } volume && dump.Emptied)
            level.ObserveLevel(Math.Min(volume + Residue.Mean * Tank.CapacityL, Tank.CapacityL), Math.Max(MeteredError * volume, Slosh * Tank.CapacityL), eyes: true);
        if (dump.Emptied) Empty(dump.Instant, dump.Flow == DumpFlow.Slow ? 3 : 1);
        else if (dump.VolumeL is { } little) level.Add(-little, MeteredError * little);
        else if (dump.Flow == DumpFlow.Trickle) level.Lose(0.15, 0.15);
    }

    private void Read(ReadingEntry reading, bool panelSuspect)
    {
        if (reading.Via != ReadingVia.Panel)
        {
            if (reading.Fraction is not { } fraction) return;
            var halfWidth = reading.PlusMinus ?? (reading.Via == ReadingVia.Sight ? ReadingEntry.SightPlusMinus : ReadingEntry.MeterPlusMinus);
            level.ObserveLevel(fraction * Tank.CapacityL, Math.Max(halfWidth, 0.005) * Tank.CapacityL / 1.645, eyes: true);
            return;
        }
        var shown = Tank.MonitorAt(reading.Instant);
        if (shown.Kind != Tank.Monitor.Kind) return; // from a monitor that is no longer there
        var contradicts = new List<string>();
        if (Tank.Monitor.Kind == MonitorKind.Probes && reading.Lit is { } lit)
        {
            foreach (var probe in probes.Where(p => shown.Probes.Any(x => x.Id == p.Probe.Id))) probe.See(level, Tank.CapacityL, lit.Contains(probe.Probe.Id), reading.Instant, panelSuspect, Slosh);
            foreach (var probe in probes.Where(p => shown.Probes.Any(x => x.Id == p.Probe.Id)))
            {
                var above = level.ChanceOf(probe.Probe.AtFraction * Tank.CapacityL);
                var on = lit.Contains(probe.Probe.Id);
                var against = on ? above < Contradiction : above > 1 - Contradiction;
                probe.Judge(against, reading.Instant);
                if (against) contradicts.Add(probe.Probe.Label);
            }
        }
        else if (Tank.Monitor.Kind == MonitorKind.Percent && reading.Percent is { } percent)
        {
            if (!panelSuspect) SeePercent(percent);
            var expected = Math.Min(level.Moments.Mean, Tank.FullMarkL);
            if (Math.Abs(percent / 100 * Tank.FullMarkL - expected) > 0.12 * Tank.CapacityL) contradicts.Add("percent");
        }
        panel = (reading, level.Copy(), contradicts);
    }

    // A coated strip reads high by a constant: the surprise is shared between level and coating by how uncertain each is.
    private void SeePercent(double percent)
    {
        var shown = percent / 100 * Tank.FullMarkL;
        if (percent >= 99)
        {
            level.ObserveMark(Tank.FullMarkL, Slosh * Tank.CapacityL, 0.95, 0.1 + 0.5 * (1 - Math.Exp(-Math.Max(0, offset) / (0.1 * Tank.CapacityL))));
            return;
        }
        var (mean, variance) = level.Moments;
        var noise = Square(PercentNoise * Tank.CapacityL);
        var total = variance + offsetVariance + noise;
        var surprise = shown - offset - mean;
        level.ObserveLevel(shown - offset, Math.Sqrt(noise + offsetVariance), eyes: false);
        var gain = offsetVariance / total;
        offset = Math.Max(0, offset + gain * surprise);
        offsetVariance *= 1 - gain;
    }

    private MonitorVerdict Verdict()
    {
        switch (Tank.Monitor.Kind)
        {
            case MonitorKind.None:
                return MonitorVerdict.None;
            case MonitorKind.Percent:
                return offset > 0.2 * Tank.CapacityL ? MonitorVerdict.Ignore : offset > 0.08 * Tank.CapacityL ? MonitorVerdict.Doubt : MonitorVerdict.Trust;
            default:
                var faulty = probes.Count(p => !p.Belief().Believed);
                if (faulty * 2 > probes.Count) return MonitorVerdict.Ignore;
                return faulty > 0 || probes.Any(p => p.Belief().Working < 0.7) ? MonitorVerdict.Doubt : MonitorVerdict.Trust;
        }
    }

    private static double Square(double x) => x * x;
}

/// <summary>The running estimate of one probe: working, stuck on, or stuck off.</summary>
internal sealed class ProbeEstimate
{
    // Black probes often foul within 6-9 months of full-time use, the lowest first; most older rigs have at least one bad one.
    private const double FoulPerDayLowest = 1 / 200.0;
    private const double FoulPerDay = 1 / 400.0;
    private const double BreakPerDay = 1 / 2000.0;
    // How often a lamp that follows the level shows otherwise (flicker, slosh, misread).
    private const double Slip = 0.02;
    // A wet film after a dump holds a lamp for minutes to a day.
    private const double FilmChance = 0.35;
    private const double FilmHours = 6;

    private readonly double foulPerDay;
    private double working, stuckOn, stuckOff;
    private Instant? emptied, doubtedSince;
    private bool seenDark;

    public ProbeEstimate(Probe probe, bool lowest)
    {
        Probe = probe;
        foulPerDay = lowest ? FoulPerDayLowest : FoulPerDay;
        (stuckOn, stuckOff) = (lowest ? 0.15 : 0.08, 0.03);
        working = 1 - stuckOn - stuckOff;
    }

    public Probe Probe { get; }

    public ProbeEstimate Copy() => (ProbeEstimate)MemberwiseClone();

    public ProbeBelief Belief() => new(Probe, working, stuckOn, stuckOff, working >= stuckOn && working >= stuckOff ? null : doubtedSince);

    public void Age(double days)
    {
        var total = foulPerDay + BreakPerDay;
        var failed = working * (1 - Math.Exp(-total * days));
        working -= failed;
        stuckOn += failed * foulPerDay / total;
        stuckOff += failed * BreakPerDay / total;
    }

    public void Emptied(Instant at)
    {
        emptied = at;
        seenDark = false;
    }

    /// <summary>A rinse or treatment frees a fouled probe with some chance.</summary>
    public void Rinsed(double freed)
    {
        working += stuckOn * freed;
        stuckOn *= 1 - freed;
    }

    public void WiringRepaired()
    {
        working += stuckOff * 0.8;
        stuckOff *= 0.2;
    }

    public void Serviced(ServiceEntry service)
    {
        if (service.Probe is not null && service.Probe != Probe.Id) return;
        switch (service.Code)
        {
            case ServiceCode.ProbeReplaced:
                (working, stuckOn, stuckOff, doubtedSince) = (0.97, 0.01, 0.02, null);
                break;
            case ServiceCode.WiringRepaired:
                WiringRepaired();
                break;
            case ServiceCode.PressureJet:
                Rinsed(0.9);
                break;
        }
    }

    /// <summary>Takes a lamp into account: what it says of the level counts as far as the probe was believed before.</summary>
    public void See(LevelMixture level, double capacity, bool lit, Instant at, bool panelSuspect, double slosh)
    {
        if (panelSuspect) return;
        var mark = Probe.AtFraction * capacity;
        var hours = emptied is { } e ? (at - e).TotalHours : double.MaxValue;
        // The film only excuses a lit lamp; a dark one is no evidence that the lamp is dead. A film is there or not; once the lamp has gone dark after a dump, it is gone until the next.
        var film = hours < 72 && !seenDark ? FilmChance * Math.Exp(-hours / FilmHours) : 0;
        seenDark |= !lit;
        var litBelow = Math.Min(0.9, Slip + film);
        double ifAbove = lit ? 1 - Slip : Slip, ifBelow = lit ? litBelow : 1 - Slip;
        double ifOn = lit ? 1 - Slip : Slip, ifOff = lit ? Slip : 1 - Slip;
        var above = level.ChanceOf(mark);

        level.ObserveMark(mark, slosh * capacity,
            working * ifAbove + stuckOn * ifOn + stuckOff * ifOff,
            working * ifBelow + stuckOn * ifOn + stuckOff * ifOff);

        working *= above * ifAbove + (1 - above) * ifBelow;
        stuckOn *= ifOn;
        stuckOff *= ifOff;
        var sum = working + stuckOn + stuckOff;
        working /= sum;
        stuckOn /= sum;
        stuckOff /= sum;
    }

    /// <summary>Keeps since when its lamp has spoken against the level.</summary>
    public void Judge(bool against, Instant at)
    {
        if (!against && working > 0.5) doubtedSince = null;
        else if (against) doubtedSince ??= at;
    }
}
