using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Levels;

/// <summary>How one moment that is kept for looking back follows from the one before.</summary>
internal enum SmootherStep
{
    /// <summary>Time passed and water ran in.</summary>
    Flowed,

    /// <summary>Something was seen; the level is the same.</summary>
    Seen,

    /// <summary>A known amount went in or out.</summary>
    Poured,

    /// <summary>The tank was emptied.</summary>
    Emptied,
}

/// <summary>What was believed at a moment, as mean and covariance of level and household factor.</summary>
internal readonly record struct SmootherNode(Instant At, SmootherStep Step, double MedianL, double Level, double Factor, double LevelVariance,
    double Covariance, double FactorVariance, bool Open);

/// <summary>What one lamp showed at one reading, and what is now believed of its probe at that time.</summary>
/// <param name="At">When.</param>
/// <param name="Lit">Whether it was lit.</param>
/// <param name="Working">Probability, as believed now, that the probe worked then.</param>
/// <param name="StuckOn">Probability that it was fouled.</param>
/// <param name="StuckOff">Probability that it was broken.</param>
/// <param name="ExpectedL">Litres that were expected just before the reading.</param>
/// <param name="ChanceAbove">Chance, as believed just before, that liquid reached the probe.</param>
/// <param name="HoursSinceEmptied">Hours since the tank was emptied; null if that is not on record.</param>
public sealed record LampLook(OffsetDateTime At, bool Lit, double Working, double StuckOn, double StuckOff, double ExpectedL, double ChanceAbove,
    double? HoursSinceEmptied)
{
    /// <summary>Likelihood of what was seen if the probe worked, was stuck on, or stuck off.</summary>
    internal (double Working, double StuckOn, double StuckOff) Likelihood { get; init; }

    /// <summary>Whether the lamp spoke the truth, as believed now.</summary>
    public bool Believed => Working >= StuckOn && Working >= StuckOff;
}

/// <summary>A probe, looked back on.</summary>
/// <param name="Probe">The probe.</param>
/// <param name="Looks">Its readings in the order of time.</param>
/// <param name="LyingSince">The first reading of the present stretch at which it is now believed to have lied; null while it is believed.</param>
/// <param name="LastRight">The last reading before that at which it was almost certainly right; null if none.</param>
/// <param name="CameBack">When it was last believed again after having lied; null if never.</param>
public sealed record ProbeLookBack(Probe Probe, IReadOnlyList<LampLook> Looks, OffsetDateTime? LyingSince, OffsetDateTime? LastRight, OffsetDateTime? CameBack);

/// <summary>A tank, looked back on.</summary>
/// <param name="Tank">The tank.</param>
/// <param name="Then">The level over time as it was believed at each moment.</param>
/// <param name="Now">The level over the same time as it is believed now, with all that was learned since.</param>
/// <param name="Probes">Its probes, low to high.</param>
public sealed record TankLookBack(Tank Tank, IReadOnlyList<TrackPoint> Then, IReadOnlyList<TrackPoint> Now, IReadOnlyList<ProbeLookBack> Probes);

/// <summary>
/// Looks back on a stretch of the log with all that is known now: since when a probe has lied, and what the level really was.
/// The probes are smoothed first; then the levels are estimated once more with each lamp believed as far as it is now, and smoothed backwards.
/// </summary>
public static class LevelSmoother
{
    // A lamp counts as right for certain from this probability on.
    private const double Sure = 0.9;

    /// <summary>Looks back on a whole logbook.</summary>
    /// <param name="logbook">The logbook.</param>
    /// <param name="from">The first moment wanted; null for the whole log.</param>
    public static IReadOnlyList<TankLookBack> Compute(Logbook logbook, Instant? from = null)
    {
        ArgumentNullException.ThrowIfNull(logbook);
        return Compute(new RunningBelief(logbook.Rig, null), logbook.InOrder(), logbook.Now(), from ?? Instant.MinValue);
    }

    /// <summary>Looks back on a stretch.</summary>
    /// <param name="before">The estimate before the first of the entries.</param>
    /// <param name="entries">The entries in the order of time.</param>
    /// <param name="now">The moment of looking; null for the last entry.</param>
    /// <param name="from">The first moment wanted.</param>
    /// <exception cref="ArgumentException">The estimate is not one of this library's.</exception>
    public static IReadOnlyList<TankLookBack> Compute(IRunningEstimate before, IReadOnlyList<LogEntry> entries, OffsetDateTime? now, Instant from)
    {
        ArgumentNullException.ThrowIfNull(before);
        ArgumentNullException.ThrowIfNull(entries);
        if (before is not RunningBelief start) throw new ArgumentException("An estimate of another kind cannot be looked back on.", nameof(before));
        var options = new EstimateOptions(from) { ForSmoothing = true };
        var first = Run(start, entries, now, options);
        var probes = first.Filters.Select(f => Probes(f, entries)).ToList();
        var known = new Dictionary<(string, string, Instant), (double, double, double)>();
        foreach (var (filter, found) in first.Filters.Zip(probes))
            foreach (var probe in found)
                foreach (var look in probe.Looks) known[(filter.Tank.Id, probe.Probe.Id, look.At.ToInstant())] = (look.Working, look.StuckOn, look.StuckOff);
        // A dump that nobody logged is drawn where it most likely was, or the smoothing would spread it over the days before.
        List<LogEntry> mended = [.. entries, .. first.Filters.SelectMany(f => LogDoubts.Dumps(f.Tank, f.Inconsistencies, entries))
            .Where(d => start.Last is not { } last || d.Instant >= last)];
        var second = Run(start, [.. mended.OrderBy(e => e.Instant)], now,
            options with { Known = (tank, probe, at) => known.GetValueOrDefault((tank, probe, at), (1, 0, 0)) });
        return [.. first.Filters.Select((f, i) =>
            new TankLookBack(f.Tank, Track(f), Smooth(second.Filters[i], f.Unsure),
            [.. probes[i].Select(p => p with { Looks = [.. p.Looks.Where(l => l.At.ToInstant() >= from)] })]))];
    }

    /// <summary>Looks back on the probes of one tank, with what the estimate has kept of its readings (the last hundred or more).</summary>
    /// <param name="belief">What is believed of the tank.</param>
    /// <param name="entries">The log in the order of time.</param>
    public static IReadOnlyList<ProbeLookBack> Probes(TankBelief belief, IReadOnlyList<LogEntry> entries)
    {
        ArgumentNullException.ThrowIfNull(belief);
        ArgumentNullException.ThrowIfNull(entries);
        return belief.Filter is { } filter ? Probes(filter, entries) : [.. belief.Probes.Select(p => new ProbeLookBack(p.Probe, [], null, null, null))];
    }

    private static RunningBelief Run(RunningBelief start, IReadOnlyList<LogEntry> entries, OffsetDateTime? now, EstimateOptions options)
    {
        var running = (RunningBelief)start.Copy(options);
        foreach (var entry in entries) running.Add(entry);
        running.Finish(now ?? (entries.Count > 0 ? entries[^1].At : null));
        return running;
    }

    private static TrackPoint[] Track(TankFilter filter) => [.. filter.TrackSoFar];

    // Forward and backward over the readings of each probe: what it was at each of them, given all of them.
    private static List<ProbeLookBack> Probes(TankFilter filter, IReadOnlyList<LogEntry> entries)
    {
        // What was done before the first of the reports kept, is in none of the moves between them.
        var first = filter.Reports.Count > 0 ? filter.Reports.Min(w => w.At.ToInstant()) : Instant.MaxValue;
        var done = entries.Deeds(filter.Tank.Id);
        List<LogEntry> deeds = [.. done.Skip(done.FirstAt(first))
            .Where(e => TankFilter.FreedBy(e) > 0 || e is ServiceEntry { Code: ServiceCode.WiringRepaired })];
        var found = new List<ProbeLookBack>();
        for (var i = 0; i < filter.Tank.Monitor.Probes.Count; i++)
        {
            var reports = filter.Reports.Where(w => w.Probe == i).ToList();
            found.Add(Probe(filter.Tank, i, reports, deeds));
        }
        return found;
    }

    private static ProbeLookBack Probe(Tank tank, int index, List<LampReport> reports, List<LogEntry> deeds)
    {
        var probe = tank.Monitor.Probes[index];
        var n = reports.Count;
        if (n == 0) return new ProbeLookBack(probe, [], null, null, null);
        var forward = new double[n][];
        var moves = new double[n][,];
        double[] state = index == 0 ? [0.79, 0.18, 0.03] : [0.88, 0.09, 0.03];
        for (var k = 0; k < n; k++)
        {
            moves[k] = Move(tank, index, k == 0 ? reports[0].At.ToInstant() : reports[k - 1].At.ToInstant(), reports[k].At.ToInstant(), deeds, probe.Id);
            var next = new double[3];
            for (var a = 0; a < 3; a++) for (var b = 0; b < 3; b++) next[b] += state[a] * moves[k][a, b];
            double[] seen = [reports[k].IfWorking, reports[k].IfStuckOn, reports[k].IfStuckOff];
            for (var b = 0; b < 3; b++) next[b] *= seen[b];
            forward[k] = state = Norm(next);
        }
        double[] back = [1, 1, 1];
        var looks = new LampLook[n];
        for (var k = n - 1; k >= 0; k--)
        {
            var both = Norm([forward[k][0] * back[0], forward[k][1] * back[1], forward[k][2] * back[2]]);
            var w = reports[k];
            looks[k] = new LampLook(w.At, w.Lit, both[0], both[1], both[2], w.ExpectedL, w.ChanceAbove, double.IsNaN(w.HoursSinceEmptied) ? null
                : w.HoursSinceEmptied)
            { Likelihood = (w.IfWorking, w.IfStuckOn, w.IfStuckOff) };
            if (k == 0) break;
            double[] seen = [w.IfWorking, w.IfStuckOn, w.IfStuckOff];
            var earlier = new double[3];
            for (var a = 0; a < 3; a++) for (var b = 0; b < 3; b++) earlier[a] += moves[k][a, b] * seen[b] * back[b];
            back = Norm(earlier);
        }
        var since = n;
        while (since > 0 && !looks[since - 1].Believed) since--;
        var back2 = Enumerable.Range(1, n - 1).LastOrDefault(k => looks[k].Believed && !looks[k - 1].Believed);
        return new ProbeLookBack(probe, looks, since < n ? looks[since].At : null, since < n ? looks.Take(since).LastOrDefault(l => l.Working > Sure)?.At
            : null, back2 > 0 ? looks[back2].At : null);
    }

    private static double[,] Move(Tank tank, int index, Instant from, Instant to, List<LogEntry> deeds, string probe)
    {
        var (foul, broken, clears, contact) = TankFilter.Rates(tank, index);
        var days = Math.Max(0, (to - from).TotalDays);
        double Chance(double rate) => 1 - Math.Exp(-rate * days);
        var (freed, mended) = (Chance(clears), Chance(contact));
        foreach (var deed in deeds.Between(from, to))
        {
            if (deed.Instant == from) continue;
            if (deed is ServiceEntry { Probe: { } only } && only != probe) continue;
            freed = 1 - (1 - freed) * (1 - TankFilter.FreedBy(deed));
            if (deed is ServiceEntry { Code: ServiceCode.WiringRepaired or ServiceCode.ProbeReplaced }) mended = 1 - (1 - mended) * 0.1;
        }
        return new[,] { { 1 - Chance(foul) - Chance(broken), Chance(foul), Chance(broken) }, { freed, 1 - freed, 0 }, { mended, 0, 1 - mended } };
    }

    // From the last moment back: what a later moment turned out to be corrects the one before by how far the two went together.
    private static TrackPoint[] Smooth(TankFilter filter, (double Times, double Share) unsure)
    {
        var nodes = filter.Nodes;
        var smoothed = new TrackPoint[nodes.Length];
        if (nodes.Length == 0) return smoothed;
        var last = nodes[^1];
        double level = last.Level, factor = last.Factor, ll = last.LevelVariance, lf = last.Covariance, ff = last.FactorVariance;
        for (var k = nodes.Length - 1; k >= 0; k--)
        {
            if (k < nodes.Length - 1)
            {
                var a = nodes[k];
                var b = nodes[k + 1];
                if (b.Step != SmootherStep.Seen)
                {
                    // Covariance of (level, factor) before with (level, factor) after.
                    double c11, c12, c21, c22;
                    if (b.Step == SmootherStep.Emptied || b.Open) (c11, c12, c21, c22) = (0, a.Covariance, 0, a.FactorVariance);
                    else (c11, c12, c21, c22) = (a.LevelVariance + b.MedianL * a.Covariance, a.Covariance, a.Covariance + b.MedianL * a.FactorVariance,
                        a.FactorVariance);
                    var det = b.LevelVariance * b.FactorVariance - b.Covariance * b.Covariance;
                    if (det > 1e-14)
                    {
                        double i11 = b.FactorVariance / det, i12 = -b.Covariance / det, i22 = b.LevelVariance / det;
                        double g11 = c11 * i11 + c12 * i12, g12 = c11 * i12 + c12 * i22, g21 = c21 * i11 + c22 * i12, g22 = c21 * i12 + c22 * i22;
                        double dl = level - b.Level, df = factor - b.Factor;
                        double d11 = ll - b.LevelVariance, d12 = lf - b.Covariance, d22 = ff - b.FactorVariance;
                        level = a.Level + g11 * dl + g12 * df;
                        factor = a.Factor + g21 * dl + g22 * df;
                        ll = Math.Max(1e-6, a.LevelVariance + g11 * g11 * d11 + 2 * g11 * g12 * d12 + g12 * g12 * d22);
                        lf = a.Covariance + g11 * g21 * d11 + (g11 * g22 + g12 * g21) * d12 + g12 * g22 * d22;
                        ff = Math.Max(1e-9, a.FactorVariance + g21 * g21 * d11 + 2 * g21 * g22 * d12 + g22 * g22 * d22);
                    }
                    else (level, factor, ll, lf, ff) = (a.Level, a.Factor, a.LevelVariance, a.Covariance, a.FactorVariance);
                }
            }
            var sd = Math.Sqrt(unsure.Times * ll + unsure.Share * level * unsure.Share * level);
            double Cut(double x) => Math.Clamp(x, 0, filter.Tank.CapacityL);
            smoothed[k] = new TrackPoint(nodes[k].At, new LevelBand(Cut(level - 1.6449 * sd), Cut(level), Cut(level + 1.6449 * sd)), level, ll, nodes[k].Open);
        }
        return smoothed;
    }

    private static double[] Norm(double[] x)
    {
        var sum = x.Sum();
        return sum > 1e-300 ? [.. x.Select(v => v / sum)] : [.. x.Select(_ => 1.0 / x.Length)];
    }
}
