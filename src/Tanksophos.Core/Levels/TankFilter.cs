using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Levels;

/// <summary>What one lamp said in one reading, and how likely that was for each state of its probe.</summary>
/// <param name="Probe">Index of the probe.</param>
/// <param name="At">When.</param>
/// <param name="Lit">Whether it was lit.</param>
/// <param name="IfWorking">Likelihood if the probe works.</param>
/// <param name="IfStuckOn">Likelihood if it is stuck on.</param>
/// <param name="IfStuckOff">Likelihood if it is stuck off.</param>
/// <param name="ExpectedL">Litres expected just before.</param>
/// <param name="ChanceAbove">Chance, just before, that liquid reached the probe.</param>
/// <param name="HoursSinceEmptied">Hours since the last emptying on record; NaN if none.</param>
internal readonly record struct LampReport(int Probe, OffsetDateTime At, bool Lit, double IfWorking, double IfStuckOn, double IfStuckOff, double ExpectedL,
    double ChanceAbove, double HoursSinceEmptied);

/// <summary>The running estimate of one tank: what each entry of the log says of its <see cref="JointState"/>.</summary>
internal sealed class TankFilter
{
    /// <summary>How often a lamp shows otherwise than it should: misread, flicker.</summary>
    public const double Slip = 0.015;

    /// <summary>Slosh about a probe's height, as a share of capacity.</summary>
    public const double Slosh = 0.02;

    // Probes beyond this many are not judged; no panel has so many lamps.
    private const int MaxProbes = 24;

    // Black probes often foul within 6-9 months of full-time use, the lowest first. Gray fouls more slowly, with grease. Wires and studs fail far more rarely.
    private const double FoulPerDayLowest = 1 / 240.0, FoulPerDay = 1 / 480.0, GraySlower = 0.6, BreakPerDay = 1 / 1500.0;
    // A fault may also go by itself: paper comes loose, a wire makes contact again.
    private const double ClearsPerDay = 1 / 300.0, ContactPerDay = 1 / 250.0;
    // Most older rigs on the road have at least one bad probe.
    private const double OldLowestOn = 0.16, OldOn = 0.08, OldOff = 0.03, OldAllOn = 0.025;
    // What fouls one probe often fouls all of them.
    private const double FoulAllPerDay = 1 / 3000.0;
    // A wet film after an emptying holds a lamp for minutes to a day.
    private const double FilmChance = 0.4, FilmMeanHours = 6, FilmLongestHours = 36;
    // What frees a fouled probe: about nine in ten come back after a jet; the rest are guesses of size from the ladder's order.
    private const double FreedByJet = 0.9, FreedByReverse = 0.12, FreedByFlush = 0.05, FreedByCleaner = 0.35, FreedByScrub = 0.2, FreedBySoak = 0.12,
        Repaired = 0.85;

    // A strip's own scatter, and how its wall is coated, as shares of capacity.
    private const double PercentNoise = 0.03, CoatingStart = 0.03, CoatingStartSd = 0.06, CoatingPerDay = 0.0006, CoatingSdPerDay = 0.006;
    private const double MeteredError = 0.05;
    private const double Contradiction = 0.15;
    // An emptying without a word in the log is thought of from this chance on; it is proposed, decided and given up from these.
    private const double Proposed = 0.7, Decided = 0.97, GivenUp = 0.004, TakenBack = 0.5, NoticedShare = 0.03;
    // Starter water that is forgotten with a dump, as a share of capacity, and how little it is known.
    private const double StarterShare = 0.05, RestSd = 0.045;
    private static readonly Duration ShortestDoubt = Duration.FromHours(1), GuessedWithin = Duration.FromHours(6);
    // Tanks seldom hold exactly what their plate says; what was measured is known better (sd as a share).
    private const double PlateOff = 0.04, MeasuredOff = 0.015;
    // Days that scatter more than most people's, guests nobody wrote down: a log whose looks move the level further than they should is believed less, and
    // more so than in proportion: what surprises once is off between the looks too.
    private const double SurprisesToLearn = 3, MostSurprise = 9, AsUsual = 0.64, LeastSure = 10;
    private const int KeptReports = 480, KeptMisfits = 12;
    // Minutes of a free dump go with the root of the level; a rig's own pace is learned from its dumps.
    private const double MinutesSd = 0.25, PaceSd = 0.5;
    private const int DumpsToLearnPace = 4;

    private readonly Rig rig;
    private Chain<SmootherNode>? nodes;
    private double flowed; // median litres since the last node
    private int hookup = JointState.Full;
    private readonly Tank stated;
    private double[] marks;
    private readonly CapacityWatch watch;
    private readonly List<LogInconsistency> inconsistencies;
    private Chain<LampReport>? reports;
    private Chain<TrackPoint>? track;
    private LampReport[]? reportsInOrder;
    private readonly Instant?[] doubtedSince;
    private JointState state;
    private LocalDate day;
    private double daySoFar;
    private Instant? lastEmptied, aged, lastRead;
    private double flowedSince, dumpDays; // median litres, and days for a dump, since the level was last seen or emptied
    private double flowedInForce; // median litres since people, place or an emptying was last logged
    private IReadOnlyList<Opening> openings = [];
    private ReadingEntry? panel;
    private LevelMixture? panelMixture; // the band is worked out only when it is asked for
    private LevelBand panelBelieved;
    private IReadOnlyList<string> contradicts = [];
    private double moved = AsUsual * SurprisesToLearn, foreseen = SurprisesToLearn; // how far looks moved the level, and how far they should have, in variances
    private double seenVariance; // of the level when somebody last looked in or emptied it: what was seen is as sure as it was, whatever surprised before
    private double pace, paceVariance = PaceSd * PaceSd;
    private int dumpsTimed;
    private JointState? beforeDump;
    private bool driving;

    public TankFilter(Rig rig, Tank tank)
    {
        this.rig = rig;
        Tank = stated = tank;
        var probes = tank.Monitor.Probes.Take(MaxProbes).ToList();
        marks = [.. probes.Select(p => p.AtFraction * tank.CapacityL)];
        doubtedSince = new Instant?[probes.Count];
        state = new JointState(tank.CapacityL, (rig.Usage ?? Usage.Default).For(tank.Role).LogSd,
            (CoatingStart * tank.CapacityL, CoatingStartSd * tank.CapacityL),
            [.. probes.Select((_, i) => Prior(i == 0 ? OldLowestOn : OldOn, OldOff))]);
        state.FoulAll(marks.Length, OldAllOn);
        inconsistencies = [];
        watch = new CapacityWatch(tank);
    }

    private TankFilter(TankFilter other)
    {
        rig = other.rig;
        (Tank, stated) = (other.Tank, other.stated);
        marks = other.marks;
        state = other.state.Copy();
        inconsistencies = [.. other.inconsistencies];
        watch = other.watch.Copy();
        (reports, track, nodes, flowed, hookup, Options) = (other.reports, other.track, other.nodes, other.flowed, other.hookup, other.Options);
        doubtedSince = [.. other.doubtedSince];
        (day, daySoFar, lastEmptied, aged, lastRead) = (other.day, other.daySoFar, other.lastEmptied, other.aged, other.lastRead);
        (panel, panelMixture, panelBelieved, contradicts) = (other.panel, other.panelMixture, other.panelBelieved, other.contradicts);
        (moved, foreseen, seenVariance) = (other.moved, other.foreseen, other.seenVariance);
        (flowedSince, flowedInForce, dumpDays, openings, Careless) = (other.flowedSince, other.flowedInForce, other.dumpDays, other.openings, other.Careless);
        (pace, paceVariance, dumpsTimed, beforeDump, driving) = (other.pace, other.paceVariance, other.dumpsTimed, other.beforeDump, other.driving);
    }

    /// <summary>The tank, with the capacity that is counted with.</summary>
    public Tank Tank { get; private set; }

    /// <summary>Looks whether an entry of the tank shows how much it holds; from then on that is counted with.</summary>
    public void Watch(LogEntry entry)
    {
        var reading = entry is ReadingEntry;
        if (watch.Take(entry, reading ? state.Moments().Mean : 0, !reading || marks.Length == 0 || Belief(marks.Length - 1).Believed)) Resize(watch.UsedL);
    }

    private void Resize(double capacityL)
    {
        Tank = stated with
        {
            CapacityL = capacityL,
            ShrunkFromL = capacityL < stated.CapacityL ? stated.CapacityL : null,
            RoomAboveFullL = Math.Min(stated.RoomAboveFullL, capacityL)
        };
        marks = [.. Tank.Monitor.Probes.Take(MaxProbes).Select(p => p.AtFraction * capacityL)];
        state.Resize(capacityL);
    }

    public EstimateOptions? Options { get; set; }

    /// <summary>How often this crew forgets to log a dump, as the log shows so far.</summary>
    public double Careless { get; set; }

    /// <summary>The level over time so far.</summary>
    public TrackPoint[] TrackSoFar => Chain<TrackPoint>.InOrder(track);

    /// <summary>What is kept for looking back, in the order of time.</summary>
    public SmootherNode[] Nodes => Chain<SmootherNode>.InOrder(nodes);

    public JointState State => state;

    /// <summary>Litres at which each judged probe should light, ascending.</summary>
    public double[] Marks => marks;

    /// <summary>Median litres per day and its scatter if people and place stay, and where the factor of that hookup stands.</summary>
    public (double PerDay, double Scatter, int Hookup) Inflow(Circumstances now)
    {
        var rate = now.IsOpen(Tank.Id) ? 0 : now.People * rig.MedianInflow(Tank, now.Hookup);
        return (rate, rate * rate * DayScatter.Variance, HookupIndex(now.Hookup));
    }

    /// <summary>What the lamps said lately, in the order of time.</summary>
    public IReadOnlyList<LampReport> Reports => reportsInOrder ??= Chain<LampReport>.InOrder(reports);

    public TankFilter Copy() => new(this);

    private static double[] Prior(double on, double off) => [1 - on - off, 0, on, off];

    private static int HookupIndex(Hookup hookup) => hookup switch
    {
        Hookup.Dry => JointState.Dry,
        Hookup.Partial => JointState.Partial,
        Hookup.Full or Hookup.GrayDrain or Hookup.Storage => JointState.Full,
    };

    /// <summary>What is needed to say later what an entry changed.</summary>
    public (double Mean, double Variance, bool[] Believed) Summary()
    {
        var (mean, variance) = state.Moments();
        return (mean, variance, [.. Enumerable.Range(0, marks.Length).Select(i => Belief(i).Believed)]);
    }

    public BeliefChange ChangeSince((double Mean, double Variance, bool[] Believed) before)
    {
        var after = Summary();
        string[] Labels(Func<int, bool> which) => [.. Enumerable.Range(0, marks.Length).Where(which).Select(i => Tank.Monitor.Probes[i].Label)];
        return new BeliefChange((float)before.Mean, (float)Math.Sqrt(before.Variance), (float)after.Mean, (float)Math.Sqrt(after.Variance),
            Labels(i => before.Believed[i] && !after.Believed[i]), Labels(i => !before.Believed[i] && after.Believed[i]));
    }

    public void Advance(Instant from, Instant to, Circumstances now)
    {
        if (to <= from) return;
        if (Tank.Monitor.Kind == MonitorKind.Percent)
        {
            var days = (to - from).TotalDays;
            state.Coat(CoatingPerDay * Tank.CapacityL * days, Square(CoatingSdPerDay * Tank.CapacityL) * days);
        }
        driving = now.DrivingUntil is { } until && to < until;
        dumpDays += (to - from).TotalDays * Dumpable(now.Hookup);
        if (now.IsOpen(Tank.Id)) return; // what flows in flows on; it was emptied when it was opened
        var rate = now.People * rig.MedianInflow(Tank, now.Hookup);
        if (rate <= 0) return;
        if (now.DrivingUntil is { } arrival) from = Instant.Max(from, arrival);
        foreach (var (date, share, _) in UseHours.Days(from, to, now.Zone))
        {
            if (date != day) (day, daySoFar) = (date, 0);
            var before = daySoFar;
            daySoFar += rate * share;
            flowed += rate * share;
            flowedSince += rate * share;
            flowedInForce = Math.Min(flowedInForce + rate * share, MiscountedDays * rate);
            hookup = HookupIndex(now.Hookup);
            state.Flow(rate * share, (Square(daySoFar) - Square(before)) * DayScatter.Variance, hookup);
        }
    }

    // How easily a dump is had at a place: with its own sewer at any time, else on a drive to a station. No figure is on record.
    private double Dumpable(Hookup hookup) => hookup switch
    {
        Hookup.Full => 1,
        Hookup.GrayDrain => Tank.Role == TankRole.Gray ? 1 : AwayFromSewer,
        Hookup.Partial or Hookup.Dry => AwayFromSewer,
        Hookup.Storage => 0,
    };

    private const double AwayFromSewer = 0.2, OnTheWay = 0.6, BeforeLeaving = 1.2;

    public void Apply(LogEntry entry, Circumstances now)
    {
        if (entry is StayEntry or PeopleEntry) flowedInForce = 0;
        if (entry is StayEntry) dumpDays += now.Hookup == Hookup.Full ? BeforeLeaving : OnTheWay; // dumped before leaving, or at a station on the way
        if (entry.Tank != Tank.Id)
        {
            Elsewhere(entry, now);
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
                beforeDump = null;
                Empty(flush.Instant, 1);
                Freed(FreedBy(flush));
                break;
            case WaterEntry water:
                Pour(water.At, water.WaterL);
                break;
            case DoseEntry dose:
                if (dose.WaterL is { } litres) Pour(dose.At, litres);
                Freed(FreedBy(dose));
                break;
            case ServiceEntry service:
                Serve(service);
                break;
            case SymptomEntry symptom:
                Notice(symptom, now);
                break;
            case CheckEntry { Code: CheckCode.NotDumped, Result: CheckResult.Pass }:
                // Who was there knows: since the last look it was not emptied.
                state.Deny();
                openings = [];
                (lastRead, dumpDays) = (entry.Instant, 0);
                break;
            case ReadingEntry { Fraction: { } fraction } seen:
                Look(seen, fraction);
                break;
        }
    }

    // When an emptying that the log does not have was first thought of, and what was expected then.
    private sealed record Opening(OffsetDateTime From, double ExpectedL, double Share);

    /// <summary>Before a panel reading is weighed: what time has done to the probes.</summary>
    public void Prepare(ReadingEntry reading)
    {
        Age(reading.Instant, reading.BayC);
        // Seen rising, step by step: somebody washes, and how much ran in is open.
        if (reading.Rising == true && Options?.Known is null) state.Flow(0, Square(RisingSd * Tank.CapacityL), hookup);
        Settle();
    }

    // An emptying that the log may not have, since the level was last seen or emptied; null where there is nothing to ask.
    private Emptying? Forgotten(Instant at)
    {
        if (Options?.Known is not null || lastEmptied is null && lastRead is null) return null;
        var since = Instant.Max(lastEmptied ?? Instant.MinValue, lastRead ?? Instant.MinValue);
        if (at - since < ShortestDoubt) return null;
        var starter = Tank.Role == TankRole.Black ? StarterShare : 0;
        var hours = (at - since).TotalHours;
        return new Emptying(dumpDays, Careless,
            (Residue.Mean + starter) * Tank.CapacityL, (starter > 0 ? RestSd : 2 * Residue.Sd) * Tank.CapacityL, flowedSince,
            hours < FilmLongestHours ? FilmChance * FilmMeanHours / hours * (1 - Math.Exp(-hours / FilmMeanHours)) : 0);
    }

    /// <summary>The same tank if the people or the place are not as they were written down: guests whom nobody counted, a stay that nobody logged.</summary>
    /// <returns>Null where nothing has flowed in that could be miscounted.</returns>
    public TankFilter? Miscounted()
    {
        if (flowedInForce <= 0 || Tank.Monitor.Kind != MonitorKind.Probes || Options?.Known is not null) return null;
        var made = Copy();
        made.state.Widen(flowedInForce, MiscountMore, Square(MiscountSd), hookup);
        return made;
    }

    // By how much of the inflow people or place are off where they are (rather more than fewer: nothing flows out), and how many days of it are in question.
    private const double MiscountMore = 0.75, MiscountSd = 0.75, MiscountedDays = 4;

    /// <summary>What does not fit, so far.</summary>
    public IReadOnlyList<LogInconsistency> Inconsistencies => inconsistencies;

    /// <summary>How many emptyings that the log does not have are proposed.</summary>
    public int Proposals => inconsistencies.Count(m => m.Kind == InconsistencyKind.UnloggedEmptying);

    /// <summary>Allows for an emptying that the log may not have, since the level was last seen; for the belief at a moment, of which nobody goes on.</summary>
    public void Unseen(Instant at)
    {
        if (Forgotten(at) is { } emptying && state.ChanceOf(emptying) > 0.004) state.Doubt(emptying, 1, marks, []);
    }

    private void Open(Emptying emptying, OffsetDateTime at, double odds, bool[] lit)
    {
        var (expected, before) = (state.Moments().Mean, state.Unlogged);
        state.Doubt(emptying, odds, marks, lit);
        var more = state.Unlogged - before;
        if (more <= 0) return;
        var from = Instant.Max(lastEmptied ?? Instant.MinValue, lastRead ?? Instant.MinValue).WithOffset(at.Offset);
        openings = [.. openings.Select(o => o with { Share = o.Share * before / (before + more) }), new Opening(from, expected, more / (before + more))];
    }

    private void Settle()
    {
        state.Settle(Decided, GivenUp);
        if (state.Unlogged == 0) openings = [];
    }

    /// <summary>Chance, before a panel reading, that the tank was emptied without a word in the log, and how much likelier the reading is then.</summary>
    /// <param name="reading">The reading.</param>
    /// <param name="well">Likelihood of the reading as the log has it.</param>
    public (double Chance, double Ratio) Emptied(ReadingEntry reading, double well)
    {
        if (!Shown(reading) || Forgotten(reading.Instant) is not { } emptying) return (0, 1);
        var chance = state.ChanceOf(emptying);
        if (chance <= 0) return (0, 1);
        double then;
        if (Tank.Monitor.Kind == MonitorKind.Probes)
        {
            var (lit, known) = Pattern(reading);
            then = state.LikelihoodIf(emptying, marks, lit, known, Slip, Slosh * Tank.CapacityL);
        }
        else
        {
            var (mean, variance) = emptying.LevelFor(state.CurrentRequest(hookup).Mean);
            var (coating, spread) = state.Moments(JointState.Coating);
            var sd = Math.Sqrt(variance + spread + Square(PercentNoise * Tank.CapacityL));
            var gap = reading.Percent!.Value / 100 * Tank.FullMarkL - mean - Math.Max(0, coating);
            then = Math.Max(0.03, 0.97 * Gaussian.Density(gap / sd) / sd * Tank.CapacityL);
        }
        return (chance, then / Math.Max(well, 1e-12));
    }

    /// <summary>Likelihood of a panel reading if the panel is well, all dark, and all lit.</summary>
    public (double Well, double Dead, double AllLit) Likelihood(ReadingEntry reading)
    {
        if (!Shown(reading)) return (1, 1, 1);
        if (Tank.Monitor.Kind == MonitorKind.Probes)
        {
            var (lit, known) = Pattern(reading);
            var on = lit.Count(x => x);
            var (dead, allLit) = PanelState.Likelihood(on, known.Count(x => x) - on);
            return (Weighed(lit, known), dead, allLit);
        }
        var percent = reading.Percent!.Value;
        // Beside a density per tank: a dead strip shows nothing or 0, a shorted one 100; each within a percent or so.
        return (Math.Max(0.03, state.Copy().Observe(percent / 100 * Tank.FullMarkL, PercentNoise * Tank.CapacityL, eyes: false, coated: true)), percent <= 1
            ? 25 : 0.01, percent >= 99 ? 25 : 0.01);
    }

    /// <summary>Takes a panel reading into account, given what else is known of the panel.</summary>
    /// <param name="reading">The reading.</param>
    /// <param name="dead">Chance that the panel is dead, by the other tanks.</param>
    /// <param name="allLit">Chance that it lights everything, by the other tanks.</param>
    /// <param name="odds">By how much the other tanks raise the odds that this one was emptied without a word.</param>
    /// <param name="worth">Whether that is likely enough to be carried.</param>
    public void See(ReadingEntry reading, double dead, double allLit, double odds, bool worth)
    {
        if (!Shown(reading)) return;
        if (worth && Forgotten(reading.Instant) is { } emptying)
            Open(emptying, reading.At, odds, Tank.Monitor.Kind == MonitorKind.Probes ? Pattern(reading).Lit : []);
        var disagree = new List<string>();
        if (Tank.Monitor.Kind == MonitorKind.Probes)
        {
            var (lit, known) = Pattern(reading);
            var blur = (driving ? 3 : 1) * Slosh * Tank.CapacityL;
            var on = lit.Count(x => x);
            var (ifDead, ifAllLit) = PanelState.Likelihood(on, known.Count(x => x) - on);
            if (Options?.Known is { } told)
            {
                state.SeeKnown(marks, Enumerable.Range(0, marks.Length).Where(i => known[i])
                    .Select(i => (i, lit[i], told(Tank.Id, Tank.Monitor.Probes[i].Id, reading.Instant))), Slip, blur);
                return;
            }
            Remember(reading, lit, known, blur, dead, allLit);
            state.See(marks, lit, known, Slip, blur, 1 - dead - allLit, dead * ifDead + allLit * ifAllLit);
            Measured(reading, lit, known);
            var mixture = state.Mixture(JointState.Full);
            for (var i = 0; i < marks.Length; i++)
            {
                if (!known[i]) continue;
                var above = mixture.ChanceOf(marks[i]);
                var against = lit[i] ? above < Contradiction : above > 1 - Contradiction;
                if (against) disagree.Add(Tank.Monitor.Probes[i].Label);
                if (!against && Belief(i).Working > 0.5) doubtedSince[i] = null;
                else if (against) doubtedSince[i] ??= reading.Instant;
            }
        }
        else
        {
            var percent = reading.Percent!.Value;
            var shown = percent / 100 * Tank.FullMarkL;
            if (percent >= 99)
            {
                var (coating, spread) = state.Moments(JointState.Coating);
                state.ObserveThreshold(Tank.FullMarkL - Math.Max(0, coating), Slosh * Tank.CapacityL + Math.Sqrt(spread), 0.95, 0.1 + 0.6 * allLit);
            }
            else state.Observe(shown, PercentNoise * Tank.CapacityL, eyes: false, coated: true, 1 - dead - allLit,
                dead * (percent <= 1 ? 25 : 0.01) + allLit * 0.01);
            if (Math.Abs(shown - Math.Min(state.Moments().Mean, Tank.FullMarkL)) > 0.12 * Tank.CapacityL) disagree.Add("percent");
        }
        Propose(reading.At);
        (lastRead, flowedSince, dumpDays) = (reading.Instant, 0, 0);
        (panel, panelMixture, contradicts) = (reading, state.Mixture(JointState.Full), disagree);
    }

    // What is likely enough to be asked is proposed, once; what later turns out otherwise is taken back.
    private void Propose(OffsetDateTime at)
    {
        if (openings.FirstOrDefault(o => o.Share > NoticedShare) is not { } first) return;
        var chance = state.Unlogged;
        var there = inconsistencies.FindIndex(m => m.Kind == InconsistencyKind.UnloggedEmptying && openings.Any(o => o.From == m.From));
        if (there >= 0 && chance < TakenBack) inconsistencies.RemoveAt(there);
        else if (there >= 0) inconsistencies[there] = inconsistencies[there] with { Probability = chance, From = first.From };
        else if (chance > Proposed)
        {
            inconsistencies.Add(new LogInconsistency(at, InconsistencyKind.UnloggedEmptying, first.ExpectedL, state.Moments().Mean)
            { From = first.From, Probability = chance });
            if (inconsistencies.Count > KeptMisfits) inconsistencies.RemoveAt(0);
        }
    }

    /// <summary>Keeps the level for drawings and for looking back.</summary>
    /// <param name="at">The moment.</param>
    /// <param name="now">What is in force.</param>
    /// <param name="after">The entry that has just been taken into account; null if only time has passed.</param>
    public void Note(Instant at, Circumstances now, LogEntry? after = null)
    {
        var (mean, variance) = state.Moments();
        if (Options?.Known is null) track = new(new TrackPoint(at, Band(), mean, variance, now.IsOpen(Tank.Id)), track);
        if (Options?.ForSmoothing != true) return;
        var (factor, spread, together) = state.CurrentRequest(hookup);
        var step = after switch
        {
            null => SmootherStep.Flowed,
            DumpEntry { Emptied: true } or FlushEntry or ValveEntry => SmootherStep.Emptied,
            WaterEntry or DoseEntry or DumpEntry => SmootherStep.Poured,
            _ => SmootherStep.Seen,
        };
        nodes = new(new SmootherNode(at, step, flowed, mean, factor, variance, together, spread, now.IsOpen(Tank.Id)), nodes);
        flowed = 0;
    }

    /// <summary>The drawing's points were kept by the filter that this one replaces.</summary>
    public void KeepTrackOf(TankFilter other)
    {
        if (other.track is { } kept && kept.Count > (track?.Count ?? 0)) track = kept;
        if (other.nodes is { } more && more.Count > (nodes?.Count ?? 0)) (nodes, flowed) = (more, other.flowed);
    }

    public TankBelief Belief(Circumstances now, Instant at, double panelFault)
    {
        Age(at);
        var open = now.IsOpen(Tank.Id);
        var rate = rig.MedianInflow(Tank, now.Hookup);
        var start = now.DrivingUntil is { } arrival ? Instant.Max(at, arrival) : at;
        var mixture = Sure(state.Mixture(HookupIndex(now.Hookup)));
        return new TankBelief
        {
            Tank = Tank,
            Level = mixture.Band(),
            InflowLPerPersonDay = rate * mixture.ExpectedFactor,
            Factors = new HouseholdFactors(Factor(JointState.Full), Factor(JointState.Partial), Factor(JointState.Dry)),
            Probes = [.. Tank.Monitor.Probes.Select((p, i) => i < marks.Length ? Belief(i) : new ProbeBelief(p, 1 - OldOn - OldOff, OldOn, OldOff, null))],
            MonitorVerdict = Verdict(panelFault),
            ValveOpen = open,
            LastEmptied = lastEmptied,
            Panel = panel is { } word ? new PanelReport(word, PanelBelieved, contradicts) : null,
            CoatingL = Tank.Monitor.Kind == MonitorKind.Percent ? state.Moments(JointState.Coating).Mean : 0,
            Inconsistencies = inconsistencies,
            Capacity = watch.Capacity,
            Track = Chain<TrackPoint>.InOrder(track),
            Forecast = new MixtureForecast(mixture, Tank.CapacityL, now.People * rate, open, start, now.Zone),
            Filter = this,
        };
    }

    public LevelBand Band() => Sure(state.Mixture(JointState.Full)).Band();

    private LevelMixture Sure(LevelMixture level) => level.LessSure(Unsure.Times, Unsure.Share, seenVariance);

    /// <summary>By how much more the level scatters than the log would make believe: times its variance, and a share of what is in the tank.</summary>
    public (double Times, double Share) Unsure => (Math.Clamp(Square(moved / foreseen / AsUsual), 1, LeastSure),
        watch.Capacity.Observations.Count > 0 ? MeasuredOff : PlateOff);

    /// <summary>Remembers how far a look moved the level, beside how far looks move it where all is as it is thought to be.</summary>
    /// <param name="before">The level before it.</param>
    public void Surprised((double Mean, double Variance, bool[] Believed) before)
    {
        var (mean, variance) = state.Moments();
        // What a forgotten dump explains surprises nobody.
        if (state.Unlogged > 0.2 || before.Variance < 1e-6 || Options?.Known is not null) return;
        moved += Math.Min(MostSurprise, Square(mean - before.Mean) / before.Variance);
        foreseen += Math.Clamp(1 - variance / before.Variance, 0.02, 1);
    }

    public void Save(BinaryWriter to)
    {
        watch.Save(to);
        state.Save(to);
        var kept = Chain<LampReport>.InOrder(reports);
        to.Write(kept.Length);
        foreach (var w in kept)
        {
            to.Write((byte)w.Probe);
            to.WriteTime(w.At);
            to.Write(w.Lit);
            foreach (var x in (double[])[w.IfWorking, w.IfStuckOn, w.IfStuckOff, w.ExpectedL, w.ChanceAbove, w.HoursSinceEmptied]) to.Write(x);
        }
        to.Write(inconsistencies.Count);
        foreach (var m in inconsistencies)
        {
            to.WriteTime(m.At);
            to.Write((byte)m.Kind);
            to.Write(m.ExpectedL);
            to.Write(m.FoundL);
            to.WriteTime(m.From);
            to.Write(m.Probability);
        }
        foreach (var since in doubtedSince) to.WriteTime(since);
        to.Write((day.Year * 100 + day.Month) * 100 + day.Day);
        to.Write(daySoFar);
        to.Write(flowedSince);
        to.Write(flowedInForce);
        to.Write(dumpDays);
        to.Write(openings.Count);
        foreach (var o in openings)
        {
            to.WriteTime(o.From);
            to.Write(o.ExpectedL);
            to.Write(o.Share);
        }
        foreach (var at in (Instant?[])[lastEmptied, aged, lastRead]) to.WriteTime(at);
        to.Write(seenVariance);
        to.Write(moved);
        to.Write(foreseen);
        to.Write(pace);
        to.Write(paceVariance);
        to.Write(dumpsTimed);
        to.Write(panel is not null);
        if (panel is null) return;
        to.WriteTime(panel.At);
        to.Write(panel.Lit is not null);
        if (panel.Lit is { } lit) to.Write(string.Join(' ', lit));
        to.Write(panel.Percent ?? -1);
        foreach (var x in (double[])[PanelBelieved.P05L, PanelBelieved.P50L, PanelBelieved.P95L]) to.Write(x);
        to.Write(string.Join('\n', contradicts));
    }

    public void Load(BinaryReader from)
    {
        watch.Load(from);
        if (watch.UsedL < Tank.CapacityL) Resize(watch.UsedL);
        state.Load(from);
        for (var n = from.ReadInt32(); n > 0; n--)
            reports = new(new LampReport(from.ReadByte(), from.ReadTime()!.Value, from.ReadBoolean(), from.ReadDouble(), from.ReadDouble(), from.ReadDouble(),
                from.ReadDouble(), from.ReadDouble(), from.ReadDouble()), reports);
        for (var n = from.ReadInt32(); n > 0; n--)
            inconsistencies.Add(new LogInconsistency(from.ReadTime()!.Value, (InconsistencyKind)from.ReadByte(), from.ReadDouble(), from.ReadDouble())
            {
                From = from.ReadTime(),
                Probability = from.ReadDouble()
            });
        for (var i = 0; i < doubtedSince.Length; i++) doubtedSince[i] = from.ReadInstant();
        var date = from.ReadInt32();
        day = new LocalDate(date / 10000, date / 100 % 100, date % 100);
        daySoFar = from.ReadDouble();
        (flowedSince, flowedInForce, dumpDays) = (from.ReadDouble(), from.ReadDouble(), from.ReadDouble());
        openings = [.. Enumerable.Range(0, from.ReadInt32()).Select(_ => new Opening(from.ReadTime()!.Value, from.ReadDouble(), from.ReadDouble()))];
        (lastEmptied, aged, lastRead) = (from.ReadInstant(), from.ReadInstant(), from.ReadInstant());
        (seenVariance, moved, foreseen) = (from.ReadDouble(), from.ReadDouble(), from.ReadDouble());
        (pace, paceVariance, dumpsTimed) = (from.ReadDouble(), from.ReadDouble(), from.ReadInt32());
        if (!from.ReadBoolean()) return;
        var at = from.ReadTime()!.Value;
        var lit = from.ReadBoolean() ? from.ReadString().Split(' ', StringSplitOptions.RemoveEmptyEntries) : null;
        var percent = from.ReadDouble();
        panel = new ReadingEntry { At = at, Tank = Tank.Id, Via = ReadingVia.Panel, Lit = lit, Percent = percent < 0 ? null : percent };
        panelBelieved = new LevelBand(from.ReadDouble(), from.ReadDouble(), from.ReadDouble());
        contradicts = from.ReadString().Split('\n', StringSplitOptions.RemoveEmptyEntries);
    }

    private LevelBand PanelBelieved => panelMixture?.Band() ?? panelBelieved;

    private HouseholdFactor Factor(int hookup)
    {
        var (mean, variance, _) = state.CurrentRequest(hookup);
        return new HouseholdFactor(mean, Math.Sqrt(variance));
    }

    private ProbeBelief Belief(int probe)
    {
        var m = state.Modes(probe);
        var working = m[0] + m[1];
        return new ProbeBelief(Tank.Monitor.Probes[probe], working, m[2], m[3], working >= m[2] && working >= m[3] ? null : doubtedSince[probe]);
    }

    // Whether a panel reading says something with the monitor that the tank has now; one from a monitor that is no longer there does not.
    private bool Shown(ReadingEntry reading) => Tank.MonitorAt(reading.Instant).Kind == Tank.Monitor.Kind
        && (Tank.Monitor.Kind == MonitorKind.Probes ? reading.Lit is not null : Tank.Monitor.Kind == MonitorKind.Percent && reading.Percent is not null);

    private (bool[] Lit, bool[] Known) Pattern(ReadingEntry reading)
    {
        var then = Tank.MonitorAt(reading.Instant).Probes;
        var probes = Tank.Monitor.Probes;
        return ([.. marks.Select((_, i) => reading.Lit!.Contains(probes[i].Id))], [.. marks.Select((_, i) => then.Any(p => p.Id == probes[i].Id))]);
    }

    private double Weighed(bool[] lit, bool[] known) => state.Likelihood(marks, lit, known, Slip, Slosh * Tank.CapacityL);

    private void Remember(ReadingEntry reading, bool[] lit, bool[] known, double blur, double dead, double allLit)
    {
        var expected = state.Moments().Mean;
        var hours = lastEmptied is { } e ? (reading.Instant - e).TotalHours : double.NaN;
        for (var i = 0; i < marks.Length; i++)
        {
            if (!known[i]) continue;
            var (litIfWorking, above) = state.LampChance(i, marks[i], Slip, blur);
            var well = 1 - dead - allLit;
            double Of(double litChance) => well * (lit[i] ? litChance : 1 - litChance) + (lit[i] ? dead * Slip + allLit * (1 - Slip)
                : dead * (1 - Slip) + allLit * Slip);
            var odds = lit[i] && reading.Ohms.FirstOrDefault(o => o.Probe == Tank.Monitor.Probes[i].Id) is { } at ? at.Odds() : (Water: 1, Film: 1, Fouled: 1);
            reports = new(new LampReport(i, reading.At, lit[i], Of(litIfWorking) * (above * odds.Water + (1 - above) * odds.Film),
                Of(1 - Slip) * odds.Fouled, Of(Slip), expected, above, hours), reports);
        }
        reportsInOrder = null;
        if (reports?.Count > 2 * KeptReports && Options?.ForSmoothing != true)
            reports = Chain<LampReport>.Of(Chain<LampReport>.InOrder(reports)[^KeptReports..]);
    }

    private void Elsewhere(LogEntry entry, Circumstances now)
    {
        if (entry.Tank is not null) return;
        switch (entry)
        {
            case ServiceEntry { Code: ServiceCode.WiringRepaired }:
                Contact(Repaired);
                break;
            case SymptomEntry symptom when rig.Tanks.Count(t => t.Role == Tank.Role) == 1: // it can only mean this one
                Notice(symptom, now);
                break;
        }
    }

    private void Empty(Instant at, double widen)
    {
        Age(at);
        for (var i = 0; i < marks.Length; i++)
        {
            var mark = marks[i];
            state.Move(i, (code, mode) =>
            {
                if (mode != ProbeMode.Working) return null;
                var film = FilmChance * state.ChanceAbove(code, mark);
                return film < 1e-4 ? null : [1 - film, film, 0, 0];
            });
        }
        state.Empty(Residue.Mean * Tank.CapacityL * widen, Residue.Sd * Tank.CapacityL * widen);
        openings = [];
        (flowedSince, flowedInForce, dumpDays) = (0, 0, 0);
        seenVariance = state.Moments().Variance;
        lastEmptied = at;
        (day, daySoFar) = (default, 0);
    }

    private void Dump(DumpEntry dump)
    {
        Age(dump.Instant);
        if (dump.VolumeL is { } volume && dump.Emptied)
        {
            if (volume > 1.05 * Tank.CapacityL) Fits(new LogInconsistency(dump.At, InconsistencyKind.MoreThanFits, Tank.CapacityL, volume));
            state.Observe(Math.Min(volume + Residue.Mean * Tank.CapacityL, Tank.CapacityL), Math.Max(MeteredError * volume, Slosh * Tank.CapacityL),
                eyes: true);
        }
        if (dump.Emptied)
        {
            Timed(dump);
            // a fuller tank leaves in one fast rush
            if (dump.Flow == DumpFlow.Rush) state.ObserveThreshold(0.35 * Tank.CapacityL, 0.1 * Tank.CapacityL, 0.75, 0.3);
            // The dump is there, only its hour was guessed.
            var guessed = inconsistencies.FindLastIndex(m => m.Kind == InconsistencyKind.UnloggedEmptying && dump.Instant - m.At.ToInstant() < GuessedWithin);
            if (guessed >= 0) inconsistencies[guessed] = inconsistencies[guessed] with { Kind = InconsistencyKind.WrongHour };
            beforeDump = state.Copy();
            Empty(dump.Instant, dump.Flow == DumpFlow.Slow ? 3 : 1);
        }
        else if (dump.VolumeL is { } little) state.Add(-little, MeteredError * little);
        else if (dump.Flow == DumpFlow.Trickle) state.Lose(0.15, 0.15);
    }

    private void Timed(DumpEntry dump)
    {
        if (dump.Minutes is not { } minutes || minutes < 0.2 || dump.Flow == DumpFlow.Slow) return;
        var (mean, variance) = state.Moments();
        var share = Math.Clamp(mean / Tank.CapacityL, 0.05, 1);
        var spread = Square(MinutesSd) + variance / Square(share * Tank.CapacityL) / 4;
        var own = Math.Log(minutes) - 0.5 * Math.Log(share);
        if (dumpsTimed >= DumpsToLearnPace)
        {
            var said = Math.Clamp(Math.Exp(2 * (Math.Log(minutes) - pace)), 0.05, 1) * Tank.CapacityL;
            state.Observe(said, Math.Max(2 * Math.Sqrt(Square(MinutesSd) + paceVariance) * said, 0.05 * Tank.CapacityL), eyes: false);
        }
        if (dumpsTimed == 0) pace = Math.Log(2.5); // 40 gal take roughly 1.5-3 minutes
        var gain = paceVariance / (paceVariance + spread);
        pace += gain * (own - pace);
        paceVariance *= 1 - gain;
        dumpsTimed++;
    }

    private void Pour(OffsetDateTime at, double litres)
    {
        var before = state.Moments().Mean;
        if (before + litres > 1.15 * Tank.CapacityL) Fits(new LogInconsistency(at, InconsistencyKind.MoreThanFits, Tank.CapacityL, before + litres));
        state.Add(litres, MeteredError * litres);
    }

    private void Look(ReadingEntry seen, double fraction)
    {
        Age(seen.Instant);
        var halfWidth = seen.PlusMinus ?? (seen.Via == ReadingVia.Sight ? ReadingEntry.SightPlusMinus : ReadingEntry.MeterPlusMinus);
        var sd = Math.Max(halfWidth, 0.005) * Tank.CapacityL / 1.645;
        var (mean, variance) = state.Moments();
        // An eye sees a height, a meter has counted litres, which are written as a share of the stated capacity.
        var litres = fraction * (seen.Via == ReadingVia.Sight ? Tank.CapacityL : Tank.StatedL);
        Settle();
        var less = litres < mean - 2 * Math.Sqrt(variance + sd * sd);
        if (less && Forgotten(seen.Instant) is { } emptying && state.ChanceOf(emptying) > 0) Open(emptying, seen.At, 1, []);
        var surprising = Math.Abs(litres - Math.Min(mean, Tank.CapacityL)) > 4 * Math.Sqrt(variance + sd * sd);
        state.Observe(litres, sd, eyes: true);
        Propose(seen.At);
        (lastRead, flowedSince, dumpDays, seenVariance) = (seen.Instant, 0, 0, state.Moments().Variance);
        if (surprising && state.Unlogged < Proposed)
            Fits(new LogInconsistency(seen.At, InconsistencyKind.SeenOtherwise, Math.Min(mean, Tank.CapacityL), litres));
    }

    // How likely a shower that stands in water means a full gray: soon after a dump, and else.
    private const double ClogSooner = 0.35, FullRather = 0.9;

    private void Notice(SymptomEntry symptom, Circumstances now)
    {
        var c = Tank.CapacityL;
        switch (symptom.Code)
        {
            case SymptomCode.Gurgles when Tank.Role == TankRole.Black: // about full, or the vent is blocked
                state.ObserveThreshold(0.9 * c, 0.05 * c, 0.5, 0.06);
                break;
            case SymptomCode.BacksUpOnFlush when Tank.Role == TankRole.Black: // full, a heap, or a clog
                state.ObserveThreshold(0.93 * c, 0.05 * c, 0.4, 0.1);
                break;
            case SymptomCode.ShowerStandsInWater when Tank.Role == TankRole.Gray && !now.IsOpen(Tank.Id):
                state.ObserveThreshold(0.93 * c, 0.04 * c, 0.6, 0.02);
                // Whatever was counted: it nearly always means that gray is full, seldom that the drain itself is clogged.
                var (mean, variance) = state.Moments();
                if (mean + Math.Sqrt(variance) >= 0.9 * c) break;
                var full = state.Copy();
                full.Add(0.97 * c - mean, 0.03 * c);
                state.Blend(full, lastEmptied is { } dumped && symptom.Instant - dumped < Duration.FromHours(12) ? ClogSooner : FullRather);
                break;
            case SymptomCode.NothingComesOut when beforeDump is { } before && lastEmptied is { } at && symptom.Instant - at < Duration.FromHours(3):
                state.Blend(before, 0.9); // then it did not empty
                beforeDump = null;
                break;
        }
    }

    private void Serve(ServiceEntry service)
    {
        Age(service.Instant);
        switch (service.Code)
        {
            case ServiceCode.ProbeReplaced:
                for (var i = 0; i < marks.Length; i++)
                {
                    if (service.Probe is not null && service.Probe != Tank.Monitor.Probes[i].Id) continue;
                    state.Move(i, (_, _) => Prior(0.01, 0.02));
                    doubtedSince[i] = null;
                }
                if (Tank.Monitor.Kind == MonitorKind.Percent) state.Clean(0.9);
                break;
            case ServiceCode.WiringRepaired:
                Contact(Repaired, service.Probe);
                break;
            case ServiceCode.PressureJet:
                Freed(FreedBy(service));
                state.Clean(0.7);
                break;
        }
    }

    /// <summary>Chance that a fouled probe of the tank comes free by what was done.</summary>
    public static double FreedBy(LogEntry entry) => entry switch
    {
        FlushEntry { Method: FlushMethod.Jet } => FreedByJet,
        FlushEntry { Method: FlushMethod.Reverse } => FreedByReverse,
        FlushEntry => FreedByFlush,
        DoseEntry { Recipe: DoseRecipe.SensorCleaner } => FreedByCleaner,
        DoseEntry { Recipe: DoseRecipe.TravelScrub } => FreedByScrub,
        DoseEntry { Recipe: DoseRecipe.SoftenerSoak or DoseRecipe.SoapSoak or DoseRecipe.IceScrub } => FreedBySoak,
        ServiceEntry { Code: ServiceCode.PressureJet } => FreedByJet,
        ServiceEntry { Code: ServiceCode.ProbeReplaced } => 0.99,
        _ => 0,
    };

    /// <summary>How often a working probe fouls, how often it breaks, how often a fouled one clears and a broken one makes contact again, per day.</summary>
    public static (double Foul, double Break, double Clears, double Contact) Rates(Tank tank, int probe) =>
        ((probe == 0 ? FoulPerDayLowest : FoulPerDay) * (tank.Role == TankRole.Gray ? GraySlower : 1), BreakPerDay, ClearsPerDay, ContactPerDay);

    private void Freed(double chance)
    {
        if (chance <= 0) return;
        for (var i = 0; i < marks.Length; i++) state.Move(i, (_, mode) => mode == ProbeMode.On ? [chance, 0, 1 - chance, 0] : null);
    }

    private void Contact(double chance, string? probe = null)
    {
        for (var i = 0; i < marks.Length; i++)
            if (probe is null || probe == Tank.Monitor.Probes[i].Id) state.Move(i, (_, mode) => mode == ProbeMode.Off ? [chance, 0, 0, 1 - chance] : null);
    }

    // What was measured at a probe whose lamp is lit tells liquid from a film, and both from what bridges it.
    private void Measured(ReadingEntry reading, bool[] lit, bool[] known)
    {
        for (var i = 0; i < marks.Length; i++)
        {
            if (!known[i] || !lit[i] || reading.Ohms.FirstOrDefault(o => o.Probe == Tank.Monitor.Probes[i].Id) is not { } at) continue;
            var (water, film, fouled) = at.Odds();
            state.Move(i, (_, mode) => mode switch
            {
                ProbeMode.Working => [water, 0, 0, 0],
                ProbeMode.Film => [0, film, 0, 0],
                ProbeMode.On => [0, 0, fouled, 0],
                ProbeMode.Off => null,
            });
        }
    }

    // A film dries half as fast for each ten degrees Celsius colder than the season it was learned in, within bounds.
    private static double DriesIn(double? bayC) => bayC is { } c ? Math.Clamp(Math.Pow(2, (MildC - c) / 10), 0.5, 4) : 1;

    private const double MildC = 18, RisingSd = 0.3;

    private void Age(Instant to, double? bayC = null)
    {
        aged ??= to;
        var days = (to - aged.Value).TotalDays;
        if (days <= 0 || Options?.Known is not null) return;
        var hours = lastEmptied is { } e ? (to - e).TotalHours : double.MaxValue;
        var slower = DriesIn(bayC);
        var dries = hours > FilmLongestHours * slower ? 1 : 1 - Math.Exp(-24 * days / (FilmMeanHours * slower));
        var clears = 1 - Math.Exp(-ClearsPerDay * days);
        var contact = 1 - Math.Exp(-ContactPerDay * days);
        for (var i = 0; i < marks.Length; i++)
        {
            var rates = Rates(Tank, i);
            var fails = 1 - Math.Exp(-(rates.Foul + rates.Break) * days);
            var on = fails * rates.Foul / (rates.Foul + rates.Break);
            var off = fails - on;
            double[] working = [1 - fails, 0, on, off], film = [(1 - fails) * dries, (1 - fails) * (1 - dries), on, off], fouled = [clears, 0, 1 - clears, 0],
                broken = [contact, 0, 0, 1 - contact];
            state.Move(i, (_, mode) => mode switch { ProbeMode.Working => working, ProbeMode.Film => film, ProbeMode.On => fouled, ProbeMode.Off => broken });
        }
        state.FoulAll(marks.Length, 1 - Math.Exp(-FoulAllPerDay * days));
        aged = to;
    }

    private void Fits(LogInconsistency inconsistency)
    {
        if (inconsistencies.Count > 0 && inconsistencies[^1].Kind == inconsistency.Kind
            && inconsistency.At.ToInstant() - inconsistencies[^1].At.ToInstant() < Duration.FromDays(2)) return;
        inconsistencies.Add(inconsistency);
        if (inconsistencies.Count > KeptMisfits) inconsistencies.RemoveAt(0);
    }

    private MonitorVerdict Verdict(double panelFault)
    {
        if (Tank.Monitor.Kind == MonitorKind.None) return MonitorVerdict.None;
        if (panelFault > 0.5) return MonitorVerdict.Ignore;
        if (Tank.Monitor.Kind == MonitorKind.Percent)
        {
            var coating = state.Moments(JointState.Coating).Mean;
            return coating > 0.2 * Tank.CapacityL ? MonitorVerdict.Ignore : coating > 0.08 * Tank.CapacityL || panelFault > 0.2 ? MonitorVerdict.Doubt
                : MonitorVerdict.Trust;
        }
        var beliefs = Enumerable.Range(0, marks.Length).Select(Belief).ToList();
        var faulty = beliefs.Count(b => !b.Believed);
        if (faulty * 2 > beliefs.Count) return MonitorVerdict.Ignore;
        return faulty > 0 || panelFault > 0.2 || beliefs.Any(b => b.Working < 0.7) ? MonitorVerdict.Doubt : MonitorVerdict.Trust;
    }

    private static double Square(double x) => x * x;
}

/// <summary>A list that grows at its end and is shared between copies.</summary>
internal sealed record Chain<T>(T Item, Chain<T>? Before)
{
    public int Count { get; } = (Before?.Count ?? 0) + 1;

    public static T[] InOrder(Chain<T>? last)
    {
        var items = new T[last?.Count ?? 0];
        for (var c = last; c is not null; c = c.Before) items[c.Count - 1] = c.Item;
        return items;
    }

    public static Chain<T>? Of(IEnumerable<T> items)
    {
        Chain<T>? last = null;
        foreach (var item in items) last = new(item, last);
        return last;
    }
}
