using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Levels;

/// <summary>
/// The estimator: per tank one joint distribution over level, household and probes (docs/decisions/0008-belief.md), carried from entry to
/// entry; over all tanks the state of the panel. The same log gives the same belief; nothing is drawn by chance.
/// </summary>
public sealed class JointEstimator : ILevelEstimator
{
    /// <inheritdoc/>
    public LevelBelief Estimate(Logbook logbook, EstimateOptions? options = null)
    {
        ArgumentNullException.ThrowIfNull(logbook);
        var running = new RunningBelief(logbook.Rig, options);
        foreach (var entry in logbook.InOrder()) running.Add(entry);
        return running.Finish(logbook.Now());
    }

    /// <inheritdoc/>
    public IRunningEstimate Start(Rig rig, EstimateOptions? options = null) => new RunningBelief(rig, options);

    /// <inheritdoc/>
    public IRunningEstimate? Resume(Rig rig, ReadOnlyMemory<byte> saved, EstimateOptions? options = null) => RunningBelief.Load(rig, saved, options);
}

/// <summary>The belief in the making: all tanks, the panel, and what is in force.</summary>
internal sealed class RunningBelief : IRunningEstimate
{
    private static readonly Duration TrackStep = Duration.FromHours(3);
    // Readings of several tanks within this time are one look at the panel.
    private static readonly Duration OneLook = Duration.FromMinutes(20);
    // A change of what the others say of the panel by less than this is not worth weighing a reading again.
    private const double WorthAgain = 0.01;
    // Raised whenever what is saved changes its meaning; what another version saved is not read.
    private const int SavedVersion = 5;

    private readonly Rig rig;
    private readonly Circumstances circumstances;
    private readonly List<TankFilter> tanks;
    private readonly Miscounted?[] miscounted; // by tank
    private EstimateOptions? options;
    private PanelState panel;
    private Look? look;
    private Instant? clock;
    private OffsetDateTime? last;

    // One look at the panel: the panel before it, and each tank before its reading.
    private sealed record Look(Instant Start, PanelState Before, List<Seen> Seen, bool WasAllLit);

    private sealed record Seen(int Tank, TankFilter Before, ReadingEntry Reading, double Well, double Dead, double AllLit, double Emptied, double Ratio)
    {
        public (double Dead, double AllLit, double Emptied) Used { get; set; }
    }

    public RunningBelief(Rig rig, EstimateOptions? options)
    {
        ArgumentNullException.ThrowIfNull(rig);
        this.rig = rig;
        this.options = options;
        circumstances = new Circumstances(rig);
        tanks = [.. rig.Tanks.Select(t => new TankFilter(rig, t) { Options = options })];
        miscounted = new Miscounted?[tanks.Count];
        panel = new PanelState();
    }

    private RunningBelief(RunningBelief other)
    {
        rig = other.rig;
        circumstances = other.circumstances.Copy();
        tanks = [.. other.tanks.Select(t => t.Copy())];
        miscounted = [.. other.miscounted.Select(m => m is null ? null : m with { Tank = m.Tank.Copy() })];
        panel = other.panel.Copy();
        look = other.look; // its parts are never changed, only replaced
        (options, clock, last, logged, everyLampLit) = (other.options, other.clock, other.last, other.logged, other.everyLampLit);
    }

    public Instant? Last => last?.ToInstant();

    public IRunningEstimate Copy(EstimateOptions? options = null)
    {
        var copy = new RunningBelief(this);
        if (options is null) return copy;
        copy.options = options;
        foreach (var tank in copy.Carried) tank.Options = options;
        return copy;
    }

    /// <summary>The tanks' filters, for looking back.</summary>
    internal IReadOnlyList<TankFilter> Filters => tanks;

    // The tanks as logged, and as they may be otherwise.
    private IEnumerable<TankFilter> Carried => tanks.Concat(miscounted.OfType<Miscounted>().Select(m => m.Tank));

    public BeliefChange? Add(LogEntry entry)
    {
        ArgumentNullException.ThrowIfNull(entry);
        Advance(entry.Instant);
        if (entry is not ReadingEntry { Via: ReadingVia.Panel }) look = null;
        panel.Apply(entry);
        if (entry is DumpEntry { Emptied: true }) logged++;
        if (entry is DumpEntry or FlushEntry or ValveEntry) everyLampLit = false;
        Learn();
        BeliefChange? change = null;
        for (var i = 0; i < tanks.Count; i++)
        {
            var tank = tanks[i];
            if (entry.Tank != tank.Tank.Id)
            {
                tank.Apply(entry, circumstances);
                miscounted[i]?.Tank.Apply(entry, circumstances);
                continue;
            }
            // Emptied or looked into, it is known how full it is, whoever was there.
            if (entry is DumpEntry or FlushEntry or ValveEntry or ReadingEntry { Fraction: not null }) miscounted[i] = null;
            else if (entry is not ReadingEntry) miscounted[i]?.Tank.Apply(entry, circumstances);
            tank.Watch(entry);
            miscounted[i]?.Tank.Watch(entry);
            if (Tracking(entry.Instant)) tank.Note(entry.Instant, circumstances);
            var before = tank.Summary();
            if (entry is ReadingEntry { Via: ReadingVia.Panel } reading) See(i, reading);
            else tank.Apply(entry, circumstances);
            if (entry is ReadingEntry) tanks[i].Surprised(before);
            change = tanks[i].ChangeSince(before);
            if (Tracking(entry.Instant)) tanks[i].Note(entry.Instant, circumstances, entry);
        }
        if (entry is SymptomEntry { Code: SymptomCode.LampsAllOn or SymptomCode.LampsDead } lamps) Told(lamps);
        circumstances.Apply(entry);
        last = entry.At;
        return change;
    }

    public LevelBelief At(OffsetDateTime? now) => new RunningBelief(this).Finish(now ?? last);

    /// <summary>Runs on to a moment and says what is believed then.</summary>
    public LevelBelief Finish(OffsetDateTime? now)
    {
        var end = now?.ToInstant() ?? NodaConstants.UnixEpoch;
        if (now is not null) Advance(end);
        // Nobody may have written for days: a dump may be among what was not.
        foreach (var tank in tanks)
        {
            if (tanks.Any(t => t.Proposals > 0)) tank.Unseen(end);
            if (options?.TrackFrom is not null) tank.Note(end, circumstances);
        }
        return new LevelBelief(now, [.. tanks.Select(t => t.Belief(circumstances, end, panel.Probability))], panel.Probability)
        {
            PanelDead = panel.Dead,
            InForce = circumstances.Copy()
        };
    }

    public byte[] Save()
    {
        using var memory = new MemoryStream();
        using (var to = new BinaryWriter(memory))
        {
            to.Write(SavedVersion);
            circumstances.Save(to);
            panel.Save(to);
            to.WriteTime(clock);
            to.WriteTime(last);
            to.Write(logged);
            to.Write(everyLampLit);
            to.Write(tanks.Count);
            foreach (var tank in tanks) tank.Save(to);
            foreach (var other in miscounted)
            {
                to.Write(other?.Odds ?? 0);
                other?.Tank.Save(to);
            }
        }
        return memory.ToArray();
    }

    public static RunningBelief? Load(Rig rig, ReadOnlyMemory<byte> saved, EstimateOptions? options)
    {
        try
        {
            using var from = new BinaryReader(new MemoryStream(saved.ToArray()));
            if (from.ReadInt32() != SavedVersion) return null;
            var running = new RunningBelief(rig, options);
            running.circumstances.Load(from);
            running.panel.Load(from);
            running.clock = from.ReadInstant();
            running.last = from.ReadTime();
            running.logged = from.ReadDouble();
            running.everyLampLit = from.ReadBoolean();
            if (from.ReadInt32() != running.tanks.Count) return null;
            foreach (var tank in running.tanks) tank.Load(from);
            for (var i = 0; i < running.tanks.Count; i++)
                if (from.ReadDouble() is > 0 and var odds)
                {
                    running.miscounted[i] = new Miscounted(new TankFilter(rig, rig.Tanks[i]) { Options = options }, odds);
                    running.miscounted[i]!.Tank.Load(from);
                }
            running.Learn();
            return running;
        }
        catch (Exception e) when (e is IOException or ArgumentException or OverflowException)
        {
            return null; // written by something else, or cut off: it is made anew
        }
    }

    // A reading is weighed by what the other tanks, read in the same look, say of the panel: all lamps dark on every tank is one fault, not many.
    private void See(int tank, ReadingEntry reading)
    {
        if (look is null || reading.Instant - look.Start > OneLook || look.Seen.Any(s => s.Tank == tank))
            look = new Look(reading.Instant, panel.Copy(), [], everyLampLit);
        tanks[tank].Prepare(reading);
        Miscount(tank, reading);
        var (well, dead, allLit) = tanks[tank].Likelihood(reading);
        var (emptied, ratio) = tanks[tank].Emptied(reading, well);
        look = look with { Seen = [.. look.Seen, new Seen(tank, tanks[tank].Copy(), reading, well, dead, allLit, emptied, ratio)] };
        for (var i = 0; i < look.Seen.Count; i++)
        {
            var seen = look.Seen[i];
            var (others, prior) = Told(look, i);
            var fresh = i == look.Seen.Count - 1;
            if (!fresh && Math.Abs(others.Dead - seen.Used.Dead) + Math.Abs(others.AllLit - seen.Used.AllLit) < WorthAgain
                && (Math.Abs(prior - seen.Used.Emptied) < WorthAgain || seen.Ratio < 0.02)) continue;
            var again = seen.Before.Copy();
            var odds = seen.Emptied > 0 ? prior / (1 - prior) * (1 - seen.Emptied) / seen.Emptied : 1;
            again.See(seen.Reading, others.Dead, others.AllLit, odds, prior * seen.Ratio > WorthDoubt * (1 - prior));
            if (!fresh) again.Advance(seen.Reading.Instant, reading.Instant, circumstances);
            again.KeepTrackOf(tanks[seen.Tank]);
            tanks[seen.Tank] = again;
            look.Seen[i] = seen with { Used = (others.Dead, others.AllLit, prior) };
        }
        var (ifDead, ifAllLit, _) = look.Seen[^1].Used;
        miscounted[tank]?.Tank.See(reading, ifDead, ifAllLit, 1, worth: false);
        panel = Told(look, -1).Panel;
        everyLampLit = look.Seen.All(s => s.AllLit > AsLit);
    }

    // A tank as it is if the people or the place are not as logged, and the odds of that beside the log's own story.
    private sealed record Miscounted(TankFilter Tank, double Odds);

    // How likely a look is, as logged, from which on people or place are doubted; how often they are wrong at first, and when the doubt is given up.
    private const double Odd = 0.3, MiscountOdds = 0.02, CountedRight = 0.002;

    // Lamps that light too soon, one look after the other, are guests rather than sensors: both stories are carried until the looks decide.
    private void Miscount(int tank, ReadingEntry reading)
    {
        var (well, dead, allLit) = tanks[tank].Likelihood(reading);
        var (emptied, ratio) = tanks[tank].Emptied(reading, well);
        var asLogged = well * (1 - emptied + emptied * ratio);
        if (miscounted[tank] is null && asLogged < Odd && tanks[tank].Miscounted() is { } made) miscounted[tank] = new Miscounted(made, MiscountOdds);
        if (miscounted[tank] is not { } other) return;
        other.Tank.Prepare(reading);
        double Of(double likelihood) => (1 - panel.Probability) * likelihood + panel.Probability * Math.Max(dead, allLit);
        var odds = other.Odds * Of(other.Tank.Likelihood(reading).Well) / Math.Max(Of(asLogged), 1e-12);
        miscounted[tank] = odds is > 1 or < CountedRight ? null : other with { Odds = odds };
        if (odds <= 1) return;
        other.Tank.KeepTrackOf(tanks[tank]);
        tanks[tank] = other.Tank;
    }

    // What the others, read in the same look, say of the panel, and of whether a tank was emptied without a word in the log: one run usually empties all of
    // them, and a dead panel darkens all of them. For no tank (-1) what all of them say of the panel.
    private static (PanelState Panel, double Emptied) Told(Look look, int tank)
    {
        var seen = look.Seen;
        var own = tank < 0 ? 0 : seen[tank].Emptied;
        var open = seen.Where(s => s.Emptied > 0).ToList();
        var all = open.Count < 2 ? 0 : TogetherShare * open.Min(s => s.Emptied);
        double dead = 1, allLit = 1, as0 = 1, together = all, others = 0, none = 1 - all;
        for (var j = 0; j < seen.Count; j++)
        {
            var alone = Math.Max(0, seen[j].Emptied - all);
            none -= alone;
            if (j == tank) continue;
            (dead, allLit, as0) = (dead * seen[j].Dead, allLit * seen[j].AllLit, as0 * seen[j].Well);
            if (seen[j].Emptied > 0) together *= seen[j].Ratio;
            others += alone * seen[j].Ratio;
        }
        var mine = Math.Max(0, own - all);
        var sum = Math.Max(0, none) + mine + others + together;
        var panel = look.Before.Copy();
        // Every lamp lit again, with nothing drained in between, says again what it said: fouled probes would do the same.
        if (look.WasAllLit && seen.All(s => s.AllLit > AsLit)) allLit = as0 * sum;
        panel.Weigh(as0 * sum, dead, allLit);
        var well = 1 - panel.Probability;
        return (panel, own <= 0 ? 0 : Math.Min(Surest, well * (together + mine) / Math.Max(sum, 1e-300) + (1 - well) * own));
    }

    private const double AsLit = 0.9;
    private bool everyLampLit; // whether the last look had every lamp lit, and nothing was drained since
    private const double TogetherShare = 0.85, WorthDoubt = 0.004, Surest = 0.999;
    // How often a crew forgets to log a dump: as one in ten at first, then as the log shows.
    private const double ForgetsPrior = 1.5, RemembersPrior = 9;
    private double logged;

    private void Learn()
    {
        var found = tanks.Sum(t => t.Proposals);
        foreach (var tank in tanks) tank.Careless = (ForgetsPrior + found) / (ForgetsPrior + RemembersPrior + logged + found);
    }

    // "All lights on", "lights dead" is a look at the panel, said in other words.
    private void Told(SymptomEntry lamps)
    {
        for (var i = 0; i < tanks.Count; i++)
            if (tanks[i].Tank is { Monitor.Kind: MonitorKind.Probes } tank && (lamps.Tank ?? tank.Id) == tank.Id)
                See(i, new ReadingEntry
                {
                    At = lamps.At,
                    Tank = tank.Id,
                    Via = ReadingVia.Panel,
                    Lit = lamps.Code == SymptomCode.LampsAllOn ? [.. tank.Monitor.Probes.Select(p => p.Id)] : [],
                });
    }

    private bool Tracking(Instant at) => options?.TrackFrom is { } from && at >= from;

    private void Advance(Instant to)
    {
        clock ??= to; // before the first entry nothing is counted
        panel.Age((to - clock.Value).TotalDays);
        if (options?.TrackFrom is { } first && to > first)
        {
            // Steps at fixed moments, so that the drawing does not change its shape with each entry.
            for (var t = NextStep(Instant.Max(first, clock.Value)); t < to; t = NextStep(t))
            {
                foreach (var tank in Carried) tank.Advance(clock.Value, t, circumstances);
                clock = t;
                foreach (var tank in tanks) tank.Note(t, circumstances);
            }
        }
        foreach (var tank in Carried) tank.Advance(clock.Value, to, circumstances);
        clock = to;
    }

    private static Instant NextStep(Instant t)
    {
        var step = (long)TrackStep.TotalSeconds;
        return Instant.FromUnixTimeSeconds((Math.DivRem(t.ToUnixTimeSeconds(), step).Quotient + 1) * step);
    }
}

/// <summary>Writing and reading moments of a saved estimate.</summary>
internal static class Saving
{
    public static void WriteTime(this BinaryWriter to, Instant? at)
    {
        to.Write(at is not null);
        if (at is { } t) to.Write(t.ToUnixTimeTicks());
    }

    public static void WriteTime(this BinaryWriter to, OffsetDateTime? at)
    {
        to.WriteTime(at?.ToInstant());
        if (at is { } t) to.Write(t.Offset.Seconds);
    }

    public static Instant? ReadInstant(this BinaryReader from) => from.ReadBoolean() ? Instant.FromUnixTimeTicks(from.ReadInt64()) : null;

    public static OffsetDateTime? ReadTime(this BinaryReader from) =>
        from.ReadInstant() is { } at ? at.WithOffset(Offset.FromSeconds(from.ReadInt32())) : null;
}
