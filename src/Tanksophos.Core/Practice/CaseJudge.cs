using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Practice;

/// <summary>What the program believes of a case after some checks.</summary>
/// <param name="Level">The tank that is asked about.</param>
/// <param name="Probes">Its probes.</param>
/// <param name="Answers">How likely each answer is, the likeliest first; they sum to 1.</param>
public sealed record CaseView(LevelBand Level, IReadOnlyList<ProbeBelief> Probes, IReadOnlyList<(CaseAnswer Answer, double Chance)> Answers)
{
    /// <summary>The likeliest answer.</summary>
    public CaseAnswer Best => Answers[0].Answer;
}

/// <summary>Judges a case as the program judges a real log: by its own belief and diagnosis, with what was found added to the log.</summary>
internal static class CaseJudge
{
    private const double Hardly = 0.004; // nothing is ruled out
    private const double Untested = 0.2, GuestsMaybe = 0.15, Apart = 0.1, SeenRight = 0.1;

    /// <summary>The view after some checks.</summary>
    /// <param name="case">The case.</param>
    /// <param name="results">What was found so far.</param>
    public static CaseView View(PracticeCase @case, IReadOnlyList<EvidenceResult> results)
    {
        ArgumentNullException.ThrowIfNull(@case);
        ArgumentNullException.ThrowIfNull(results);
        var log = @case.With(results);
        var belief = @case.Believe(results, log);
        var tank = belief[@case.Tank.Id];
        var told = @case.Topic switch
        {
            PracticeTopic.Lamps => Lamps(@case, belief, tank, results),
            PracticeTopic.Smells => Smells(belief, log),
            PracticeTopic.Clogs => Clogs(belief, tank, log),
            PracticeTopic.Rinsing => Rinsing(belief, tank, log, results),
            _ => Planning(@case, belief, tank, log, results),
        };
        var weights = @case.Choices.Select(a => (Answer: a, Weight: Math.Max(Hardly, told.GetValueOrDefault(a)) * Unlogged(@case.Topic, results, a))).ToList();
        var sum = weights.Sum(w => w.Weight);
        return new CaseView(tank.Level, tank.Probes, [.. weights.Select(w => (w.Answer, w.Weight / sum)).OrderByDescending(w => w.Item2)]);
    }

    // Checks that no log has a word for are weighed by how often they find something.
    private static double Unlogged(PracticeTopic topic, IReadOnlyList<EvidenceResult> results, CaseAnswer answer)
    {
        var weight = 1.0;
        foreach (var result in results)
        {
            if (result.Found is not { } found) continue;
            var code = result.Evidence.Code;
            if (code is EvidenceCode.FanOff or EvidenceCode.SinkRun or EvidenceCode.AddWater or EvidenceCode.Handles or EvidenceCode.BowlFlush
                || code == EvidenceCode.AskCrew && topic == PracticeTopic.Lamps || code == EvidenceCode.Hose)
            {
                var p = EvidenceOdds.Found(code, answer);
                weight *= found ? p : 1 - p;
            }
        }
        return weight;
    }

    private static double Below(LevelBand band, double litres) =>
        litres <= band.P05L ? 0.04 : litres >= band.P95L ? 0.96
        : litres < band.P50L ? 0.05 + 0.45 * (litres - band.P05L) / Math.Max(1e-9, band.P50L - band.P05L)
        : 0.5 + 0.45 * (litres - band.P50L) / Math.Max(1e-9, band.P95L - band.P50L);

    private static Dictionary<CaseAnswer, double> Lamps(PracticeCase @case, LevelBelief belief, TankBelief tank, IReadOnlyList<EvidenceResult> results)
    {
        var asked = @case.Logbook.InOrder().OfType<ReadingEntry>().Last(r => r.Tank == tank.Tank.Id && r.Lit is not null);
        var tomorrow = results.FirstOrDefault(r => r.Evidence.Code == EvidenceCode.PanelTomorrow)?.Entries.OfType<ReadingEntry>()
            .FirstOrDefault(r => r.Tank == tank.Tank.Id);
        var looked = results.Any(r => r.Evidence.Code == EvidenceCode.Flashlight);
        bool Done(EvidenceCode code) => results.Any(r => r.Evidence.Code == code);
        var lit = tank.Probes.Where(p => asked.Lit!.Contains(p.Probe.Id)).ToList();
        var dark = tank.Probes.Where(p => !asked.Lit!.Contains(p.Probe.Id)).ToList();
        var on = lit.Select(p => p.StuckOn).DefaultIfEmpty().Max();
        var off = dark.Select(p => p.StuckOff * (1 - Below(tank.Level, p.Probe.AtFraction * tank.Tank.CapacityL))).DefaultIfEmpty().Max();
        var below = lit.Count == 0 ? 0 : Below(tank.Level, lit.Max(p => p.Probe.AtFraction) * tank.Tank.CapacityL);
        // Who looked knows: what is seen well above a light that is on makes the light right.
        var seen = results.SelectMany(r => r.Entries).OfType<ReadingEntry>().LastOrDefault(r => r.Via == ReadingVia.Sight)?.Fraction;
        if (lit.Count > 0 && seen > lit.Min(p => p.Probe.AtFraction) + Apart) (on, below) = (SeenRight * on, SeenRight * below);
        var forgotten = tank.Inconsistencies.Where(i => i.Kind == InconsistencyKind.UnloggedEmptying
            && Math.Abs((asked.Instant - i.At.ToInstant()).TotalDays) < 2).Select(i => i.Probability).DefaultIfEmpty().Max();
        var panel = belief.PanelFault;
        // A battery that nobody tested is worth a thought when all lights of all tanks show the same.
        if (@case.Question == CaseQuestion.AllAlike && !Done(EvidenceCode.Battery)) panel = Math.Max(panel, Untested);
        // A film holds for hours, not for days, and not for the day after.
        var hours = tank.LastEmptied is { } emptied ? (asked.Instant - emptied).TotalHours : double.PositiveInfinity;
        var film = tomorrow is null ? hours <= ProbeFindings.FilmHours ? 1 : 0.05 : lit.Any(p => !tomorrow.Lit!.Contains(p.Probe.Id)) ? 6 : 0.03;
        // A dump that is logged may have been another tank's: until somebody looked, that is worth a thought.
        var right = @case.Question == CaseQuestion.DarkLight ? 0.05 : (1 - on) * (1 - off) * (1 - below);
        if (!looked && @case.Question == CaseQuestion.LitAfterDump) right = Math.Max(right, Untested);
        return new()
        {
            [CaseAnswer.PanelFault] = panel,
            [CaseAnswer.StuckOn] = (1 - panel) * on * (film > 1 ? 0.1 : 1),
            [CaseAnswer.StuckOff] = (1 - panel) * off,
            [CaseAnswer.WetFilm] = (1 - panel) * Math.Max(0.1, (1 - on) * below) * film,
            [CaseAnswer.TankFull] = (1 - panel) * right * (film > 1 ? 0.1 : 1),
            [CaseAnswer.ForgottenDump] = (1 - panel) * forgotten * (lit.Count > 1 ? 0.1 : 1),
        };
    }

    private static Dictionary<CaseAnswer, double> Smells(LevelBelief belief, Logbook log) =>
        FaultReport.Compute(log, belief).Odors.ToDictionary(o => Enum.Parse<CaseAnswer>(o.Cause.ToString()), o => o.Probability);

    private static Dictionary<CaseAnswer, double> Clogs(LevelBelief belief, TankBelief tank, Logbook log)
    {
        var conditions = FaultReport.Compute(log, belief).Tanks.First(t => t.Tank.Id == tank.Tank.Id);
        var full = 1 - Below(tank.Level, 0.85 * tank.Tank.CapacityL);
        return new()
        {
            [CaseAnswer.Heap] = conditions[Condition.Heap],
            [CaseAnswer.OutletClog] = conditions[Condition.OutletClog],
            [CaseAnswer.VentBlocked] = conditions[Condition.VentBlocked] * (1 - full),
            [CaseAnswer.Buildup] = conditions[Condition.Buildup],
            [CaseAnswer.ValveLeak] = conditions[Condition.ValveLeak],
            [CaseAnswer.TankFull] = full,
        };
    }

    // By the rule of the run: what counts is the end of the last rinse.
    private static Dictionary<CaseAnswer, double> Rinsing(LevelBelief belief, TankBelief tank, Logbook log, IReadOnlyList<EvidenceResult> results)
    {
        var rig = log.Rig;
        if (rig.Tanks.Any(t => t.Role == TankRole.Gray && belief.InForce.IsOpen(t.Id))) return new() { [CaseAnswer.CloseGray] = 1 };
        var entries = log.InOrder();
        var dump = entries.OfType<DumpEntry>().LastOrDefault(d => d.Tank == tank.Tank.Id);
        if (dump is { Flow: DumpFlow.Trickle or DumpFlow.None }) return new() { [CaseAnswer.OutletClog] = 1 };
        var cycles = new List<FlushCycle>();
        foreach (var cycle in entries.OfType<FlushEntry>().Where(f => f.Tank == tank.Tank.Id && f.Instant >= dump?.Instant).SelectMany(f => f.Cycles))
        {
            // A second look at the end of the same rinse.
            if (cycle.WaterL == 0 && cycles.Count > 0) cycles[^1] = cycles[^1] with { End = cycle.End, Debris = cycle.Debris };
            else cycles.Add(cycle);
        }
        var rules = rig.RulesInForce;
        var fill = RinsePlan.FillL(tank.Tank.CapacityL, false);
        var verdict = Judging.Judge(cycles, 1, RinsePlan.Cap(rules.Flush, false, false, false), null, fill);
        var sniff = results.LastOrDefault(r => r.Evidence.Code == EvidenceCode.Sniff)?.Found;
        return verdict switch
        {
            Verdict.Clean when sniff == true => new() { [CaseAnswer.RinseAgain] = 1 },
            Verdict.Clean => new() { [CaseAnswer.Done] = 1 },
            Verdict.StopAndScrub => new() { [CaseAnswer.DeepClean] = 1 },
            Verdict.Look => sniff switch
            {
                true => new() { [CaseAnswer.RinseAgain] = 0.6, [CaseAnswer.DeepClean] = cycles.Count >= 4 ? 0.9 : 0.2 },
                false => new() { [CaseAnswer.Done] = 0.9, [CaseAnswer.RinseAgain] = 0.1 },
                _ => new() { [CaseAnswer.RinseAgain] = 0.5, [CaseAnswer.Done] = 0.35, [CaseAnswer.DeepClean] = cycles.Count >= 4 ? 0.5 : 0.1 },
            },
            _ => new() { [CaseAnswer.RinseAgain] = 1 },
        };
    }

    private static Dictionary<CaseAnswer, double> Planning(PracticeCase @case, LevelBelief belief, TankBelief black, Logbook log,
        IReadOnlyList<EvidenceResult> results)
    {
        var gray = belief.Tanks.First(t => t.Tank.Role == TankRole.Gray);
        double Rate(TankBelief t, double more) => more * belief.InForce.People * log.Rig.MedianInflow(t.Tank, Hookup.Dry) * Math.Max(0.3, t.Factors.Dry.Mean)
            / t.Tank.CapacityL;
        // Guests whom nobody asked about are possible.
        var asked = results.Any(r => r.Evidence.Code == EvidenceCode.AskCrew);
        var guests = (belief.InForce.People + 2.0) / Math.Max(1, belief.InForce.People);
        (double More, double Weight)[] rates = [(0.75, 0.2), (1, 0.6), (1.3, 0.2), .. asked ? (ReadOnlySpan<(double, double)>)[] : [(guests, GuestsMaybe)]];
        var told = new Dictionary<CaseAnswer, double>();
        // Over the levels and rates that are believed possible.
        foreach (var (b, wb) in Points(black))
            foreach (var (g, wg) in Points(gray))
                foreach (var (more, w) in rates)
                {
                    var call = TripCall.For(@case.Question, b, g, Rate(black, more), Rate(gray, more), @case.Nights,
                        gray.Tank.CapacityL / black.Tank.CapacityL);
                    told[call] = told.GetValueOrDefault(call) + wb * wg * w;
                }
        return told;
    }

    private static (double Share, double Weight)[] Points(TankBelief tank) =>
        [(tank.Level.P05L / tank.Tank.CapacityL, 0.2), (tank.Level.P50L / tank.Tank.CapacityL, 0.6), (tank.Level.P95L / tank.Tank.CapacityL, 0.2)];
}
