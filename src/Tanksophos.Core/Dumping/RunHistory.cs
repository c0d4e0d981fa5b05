using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Dumping;

/// <summary>How long a tank usually takes to drain from a level.</summary>
/// <param name="Seconds">Usual seconds.</param>
/// <param name="SlowSeconds">Slower than this is out of the ordinary for this rig (one time in forty by chance).</param>
/// <param name="Timed">Timed drains it rests on; 0 if it is from physics alone.</param>
public sealed record UsualDrain(double Seconds, double SlowSeconds, int Timed);

/// <summary>How many rinse cycles a tank takes until it is clear.</summary>
/// <param name="Further">Expected further cycles after none, one, two ... that were not clear.</param>
/// <param name="Rinses">Rinses on record it rests on; 0 if it is the usual of most rigs.</param>
public sealed record CyclesToClear(IReadOnlyList<double> Further, int Rinses);

/// <summary>Whether cycles to clear rise over the months: then walls build up.</summary>
/// <param name="PerMonth">Cycles more per 30 days.</param>
/// <param name="Low">Lower side of it, one time in twenty below.</param>
/// <param name="High">Upper side.</param>
/// <param name="Rinses">Rinses it rests on.</param>
public sealed record CyclesTrend(double PerMonth, double Low, double High, int Rinses)
{
    /// <summary>Whether it surely rises.</summary>
    public bool Rises => Rinses >= 5 && Low > 0;
}

/// <summary>A dump run as the log has it, written by a run or by hand.</summary>
/// <param name="At">Its first dump.</param>
/// <param name="Entries">Its entries in the order of time.</param>
/// <param name="Place">Where; null if the log does not say.</param>
public sealed record PastRun(OffsetDateTime At, IReadOnlyList<LogEntry> Entries, string? Place)
{
    /// <summary>Its dumps.</summary>
    public IEnumerable<DumpEntry> Dumps => Entries.OfType<DumpEntry>();

    /// <summary>Its rinse cycles.</summary>
    public IReadOnlyList<FlushCycle> Cycles => [.. Entries.OfType<FlushEntry>().SelectMany(f => f.Cycles)];

    /// <summary>Minutes from the first entry to the last.</summary>
    public double Minutes => (Entries[^1].Instant - Entries[0].Instant).TotalMinutes;
}

/// <summary>What a rig's own log tells for its next run.</summary>
public static class RunHistory
{
    // Gravity drain through a 3-inch gate: discharge coefficient 0.6, head equal to the depth of water, slowed two- to threefold by the hose.
    private const double GateM2 = 0.00456, Discharge = 0.6, HoseSlows = 2.5, Gravity = 9.81, UsualDepthM = 0.25;

    // What physics says counts as two timed drains, and is right within a factor of about 1.4.
    private const double PhysicsCounts = 2, PhysicsLogSd = 0.35, MinLogSd = 0.18, Unusual = 2;
    private const int DrainsKept = 12;

    // Cycles to clear on most rigs, 1 to 7 and more; it counts as three rinses of this rig.
    private static readonly double[] Usually = [0.10, 0.25, 0.28, 0.18, 0.10, 0.05, 0.04];
    private const double UsuallyCounts = 3;

    /// <summary>Rinses until clear of most rigs, before a tank's own are known.</summary>
    public static double UsualToClear { get; } = Usually.Select((share, i) => share * (i + 1)).Sum();
    private const int RinsesKept = 15;
    private static readonly Duration TrendOver = Duration.FromDays(365);

    /// <summary>How long a tank usually takes to drain.</summary>
    /// <param name="entries">The log in the order of time.</param>
    /// <param name="tank">The tank.</param>
    /// <param name="fromL">Litres from which it drains, above 0.</param>
    /// <param name="before">Litres that were in it before a dump, as believed; null where nobody knows.</param>
    public static UsualDrain Drain(IReadOnlyList<LogEntry> entries, Tank tank, double fromL, Func<DumpEntry, double?> before)
    {
        ArgumentNullException.ThrowIfNull(entries);
        ArgumentNullException.ThrowIfNull(tank);
        ArgumentNullException.ThrowIfNull(before);
        // The time goes with the root of the depth, so each timed drain tells the time of a full tank.
        var timed = new List<double>();
        for (var i = entries.Count - 1; i >= 0 && timed.Count < DrainsKept; i--)
            if (entries[i] is DumpEntry { Minutes: > 0, Flow: null or DumpFlow.Rush or DumpFlow.Steady } d && d.Tank == tank.Id && before(d) is { } litres
                && litres > 0.1 * tank.CapacityL)
                timed.Add(Math.Log(60 * d.Minutes!.Value / Math.Sqrt(litres / tank.CapacityL)));
        var physics = Math.Log(2 * tank.CapacityL / 1000 / (GateM2 * Discharge * Math.Sqrt(2 * Gravity * (tank.DepthM ?? UsualDepthM))) * HoseSlows);
        var n = timed.Count;
        var mean = (PhysicsCounts * physics + timed.Sum()) / (PhysicsCounts + n);
        var spread = PhysicsCounts * PhysicsLogSd * PhysicsLogSd + timed.Sum(t => (t - (n > 0 ? timed.Average() : 0)) * (t - (n > 0 ? timed.Average() : 0)));
        var sd = Math.Max(MinLogSd, Math.Sqrt(spread / (PhysicsCounts + n)));
        var seconds = Math.Exp(mean) * Math.Sqrt(Math.Clamp(fromL / tank.CapacityL, 0.02, 1));
        return new UsualDrain(seconds, seconds * Math.Exp(Unusual * sd), n);
    }

    /// <summary>How many cycles a tank takes until its end is clear.</summary>
    /// <param name="entries">The log in the order of time.</param>
    /// <param name="tank">Id of the tank.</param>
    public static CyclesToClear Cycles(IReadOnlyList<LogEntry> entries, string tank)
    {
        ArgumentNullException.ThrowIfNull(entries);
        var counts = entries.Memo((nameof(ToClear), tank), () => ToClear(entries, tank)).TakeLast(RinsesKept).ToList();
        var chance = new double[Usually.Length];
        for (var i = 0; i < chance.Length; i++) chance[i] = UsuallyCounts * Usually[i];
        // Later rinses count more: a tank changes.
        for (var i = 0; i < counts.Count; i++)
        {
            var weight = Math.Pow(0.9, counts.Count - 1 - i);
            // One that ended dirty took at least one more.
            var (_, cycles, clear) = counts[i];
            chance[Math.Clamp(cycles + (clear ? 0 : 1), 1, chance.Length) - 1] += weight;
        }
        var further = new double[chance.Length];
        for (var done = 0; done < further.Length; done++)
        {
            double sum = 0, left = 0;
            for (var n = done + 1; n <= chance.Length; n++)
            {
                sum += chance[n - 1];
                left += chance[n - 1] * (n - done);
            }
            further[done] = sum > 0 ? left / sum : 1;
        }
        return new CyclesToClear(further, counts.Count);
    }

    /// <summary>Whether cycles to clear rise; null with fewer than three rinses in the last year.</summary>
    /// <param name="entries">The log in the order of time.</param>
    /// <param name="tank">Id of the tank.</param>
    public static CyclesTrend? Trend(IReadOnlyList<LogEntry> entries, string tank)
    {
        ArgumentNullException.ThrowIfNull(entries);
        var all = entries.Memo((nameof(ToClear), tank), () => ToClear(entries, tank));
        if (all.Count == 0) return null;
        var recent = all.Where(r => all[^1].At - r.At <= TrendOver).ToList();
        if (recent.Count < 3) return null;
        var x = recent.Select(r => (r.At - recent[0].At).TotalDays / 30).ToArray();
        var y = recent.Select(r => (double)r.Cycles + (r.Clear ? 0 : 1)).ToArray();
        double mx = x.Average(), my = y.Average(), sxx = x.Sum(v => (v - mx) * (v - mx));
        if (sxx < 1e-6) return null;
        var slope = x.Zip(y).Sum(p => (p.First - mx) * (p.Second - my)) / sxx;
        var residual = x.Zip(y).Sum(p => Math.Pow(p.Second - my - slope * (p.First - mx), 2));
        // A count scatters by about three quarters of a cycle even if nothing changes.
        var sd = Math.Sqrt(Math.Max(residual / Math.Max(1, recent.Count - 2), 0.5) / sxx);
        return new CyclesTrend(slope, slope - 1.645 * sd, slope + 1.645 * sd, recent.Count);
    }

    /// <summary>The flow of a way of filling, from cycles that were both timed and metered: their median over the last twenty.</summary>
    /// <returns>Litres per minute; null if none was.</returns>
    public static double? Flow(IReadOnlyList<LogEntry> entries, FlushMethod method)
    {
        ArgumentNullException.ThrowIfNull(entries);
        var flows = new List<double>();
        var flushes = entries.Kind<FlushEntry>();
        for (var i = flushes.Count - 1; i >= 0 && flows.Count < 20; i--)
            if (flushes[i] is var flush && flush.Method == method)
                flows.AddRange(flush.Cycles.Where(c => c is { Seconds: >= 15, WaterL: >= 2 }).Select(c => Guard.FlowOf(c.WaterL!.Value, c.Seconds!.Value)));
        if (flows.Count == 0) return null;
        flows.Sort();
        return flows[flows.Count / 2];
    }

    /// <summary>
    /// Litres in the tank when the Full lamp came on under the meter, from the last such fill: a metered level and, at the same moment, the panel with its
    /// top lamp lit. Less than in an earlier fill means that buildup has taken the room.
    /// </summary>
    /// <returns>Null if it was never metered.</returns>
    public static double? MeteredFullL(IReadOnlyList<LogEntry> entries, Tank tank)
    {
        ArgumentNullException.ThrowIfNull(entries);
        ArgumentNullException.ThrowIfNull(tank);
        return tank.Monitor.Probes.Count == 0 ? null : entries.Memo((nameof(MeteredFullL), tank), () => Metered(entries, tank));
    }

    private static double? Metered(IReadOnlyList<LogEntry> entries, Tank tank)
    {
        var top = tank.Monitor.Probes[^1].Id;
        for (var i = entries.Count - 1; i >= 0; i--)
        {
            if (entries[i] is not ReadingEntry { Via: ReadingVia.Meter, Fraction: { } share } metered || metered.Tank != tank.Id) continue;
            for (var j = Math.Max(0, i - 6); j < Math.Min(entries.Count, i + 7); j++)
                if (entries[j] is ReadingEntry { Via: ReadingVia.Panel, Lit: { } lit } panel && panel.Tank == tank.Id && panel.Instant == metered.Instant
                    && lit.Contains(top)) return share * tank.StatedL;
        }
        return null;
    }

    /// <summary>Whether a tank may be clogged: its last dump ran slowly or not at all, or it has backed up, drained slowly or shown a heap since.</summary>
    public static bool IsSuspect(IReadOnlyList<LogEntry> entries, string tank)
    {
        ArgumentNullException.ThrowIfNull(entries);
        for (var i = entries.Count - 1; i >= 0; i--)
        {
            if (entries[i] is SymptomEntry
                {
                    Code: SymptomCode.BacksUpOnFlush or SymptomCode.DrainsSlowly or SymptomCode.HeapSeen
                or SymptomCode.NothingComesOut
                } s
                && (s.Tank ?? tank) == tank) return true;
            if (entries[i] is DumpEntry dump && dump.Tank == tank) return dump.Flow is DumpFlow.Slow or DumpFlow.Trickle or DumpFlow.None;
        }
        return false;
    }

    /// <summary>The runs on record, the newest first: dumps within three hours belong to one run, with what was done in it.</summary>
    /// <param name="entries">The log in the order of time.</param>
    /// <param name="most">Most runs.</param>
    public static IReadOnlyList<PastRun> Runs(IReadOnlyList<LogEntry> entries, int most)
    {
        ArgumentNullException.ThrowIfNull(entries);
        var runs = new List<PastRun>();
        for (var last = entries.Count - 1; last >= 0 && runs.Count < most; last--)
        {
            if (entries[last] is not DumpEntry) continue;
            var first = last;
            for (var i = last - 1; i >= 0 && entries[last].Instant - entries[i].Instant <= LastRunTemplate.RunLasts; i--)
                if (entries[i] is DumpEntry) first = i;
            var from = first;
            for (var i = first - 1; i >= 0 && entries[first].Instant - entries[i].Instant <= Lead; i--)
                if (entries[i] is WaterEntry { Purpose: WaterPurpose.TopUp } or CheckEntry { Code: CheckCode.CapDry }) from = i;
            var run = new List<LogEntry>();
            for (var i = from; i < entries.Count && entries[i].Instant - entries[first].Instant <= LastRunTemplate.RunLasts
                && (i <= last || entries[i] is FlushEntry or CheckEntry { Code: CheckCode.SniffTest } or WaterEntry { Purpose: WaterPurpose.Starter }
                or DoseEntry); i++)
                if (entries[i] is DumpEntry or FlushEntry or CheckEntry or WaterEntry or DoseEntry or ValveEntry or SymptomEntry) run.Add(entries[i]);
            string? place = null;
            for (var i = first; i >= 0 && place is null; i--) if (entries[i] is StayEntry stay) place = stay.Place ?? "";
            runs.Add(new PastRun(entries[first].At, run, string.IsNullOrEmpty(place) ? null : place));
            last = from;
        }
        return runs;
    }

    private static readonly Duration Lead = Duration.FromMinutes(40);

    internal static List<(Instant At, int Cycles, bool Clear)> ToClear(IReadOnlyList<LogEntry> entries, string tank) =>
        [.. entries.Kind<FlushEntry>().Where(f => f.Tank == tank && f.Cycles.Count > 0 && f.Cycles.Any(c => c.End is not null)).Select(f =>
        {
            var clear = 0;
            while (clear < f.Cycles.Count && !Judging.IsClean(f.Cycles[clear])) clear++;
            return (f.Instant, Math.Min(clear + 1, f.Cycles.Count), clear < f.Cycles.Count);
        })];
}
