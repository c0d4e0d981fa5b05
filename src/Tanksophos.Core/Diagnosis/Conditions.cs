using NodaTime;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Diagnosis;

/// <summary>How likely each condition of a tank is, from the signs in its log.</summary>
public static class Conditions
{
    /// <summary>From here on a condition is named to the owner, with what to do.</summary>
    public const double Likely = 0.5;

    /// <summary>From here on it is mentioned as a possibility, with the check that would settle it.</summary>
    public const double Possible = 0.2;

    // A remedy that was done and a dump after it leave this much of what spoke for the condition before; a cure leaves nothing.
    private const double Telling = 0.8, OldNews = 0.15, OldNewsOfCoat = 0.7;

    private const double AfterRemedy = 0.6, AfterDeepClean = 0.3, AfterWork = 0.15;

    /// <summary>The beliefs as they were at a moment of the past, by what the log held then; remembered while entries come at its end only.</summary>
    /// <param name="rig">The rig.</param>
    /// <param name="tank">The tank.</param>
    /// <param name="log">The whole log in the order of time.</param>
    /// <param name="at">The moment.</param>
    internal static IReadOnlyList<ConditionBelief> Then(Rig rig, Tank tank, IReadOnlyList<LogEntry> log, Instant at)
    {
        IReadOnlyList<ConditionBelief> Judge() => Compute(rig, tank, FaultReport.Read(log, at), at);
        return log is IndexedLog indexed ? indexed.PrefixMemo((nameof(Then), rig, tank, at, log.FirstAt(at + Duration.Epsilon)), Judge) : Judge();
    }

    /// <summary>The beliefs about one tank's conditions, in the order of the enumeration.</summary>
    /// <param name="rig">The rig.</param>
    /// <param name="tank">The tank.</param>
    /// <param name="entries">The log in the order of time, nothing later than <paramref name="now"/>.</param>
    /// <param name="now">The moment.</param>
    /// <param name="belief">What is believed of the tank; null where only the log is to speak.</param>
    public static IReadOnlyList<ConditionBelief> Compute(Rig rig, Tank tank, IReadOnlyList<LogEntry> entries, Instant now, TankBelief? belief = null)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(tank);
        ArgumentNullException.ThrowIfNull(entries);
        var signs = Signs.Collect(rig, tank, entries, now, belief);
        var conditions = Enum.GetValues<Condition>();
        // What each sign weighs by itself, then what of it is left where another condition explains it.
        var told = conditions.ToDictionary(c => c, c => Weigh(c, tank, signs, entries, now));
        var alone = conditions.ToDictionary(c => c, c => Probability(c, tank, told[c].Where(r => !Shared.Contains(r.Sign.Code))));
        return [.. conditions.Select(c =>
        {
            IReadOnlyList<Reason> reasons = [.. told[c].Select(r => Explained(c, r, alone, told))];
            return new ConditionBelief(c, Probability(c, tank, reasons), [.. reasons.OrderByDescending(r => Math.Abs(r.Weight))]);
        })];
    }

    // Signs that several conditions give; where one of these is known otherwise, the sign says little of the others.
    private static readonly HashSet<SignCode> Shared = [SignCode.DrainsSlowly, SignCode.BacksUp, SignCode.RanSlowly, SignCode.DrainedLong, SignCode.StayedFull,
        SignCode.FillsTooSoon, SignCode.ValveWontClose, SignCode.ValveStiff, SignCode.ValveDrips];

    // The least that is left of a sign that another condition explains: both may be there.
    private const double MinLeft = 0.25;

    private static Reason Explained(Condition condition, Reason reason, Dictionary<Condition, double> alone, Dictionary<Condition, List<Reason>> told)
    {
        if (reason.Weight <= 0 || !Shared.Contains(reason.Sign.Code)) return reason;
        double Claim(Condition c) => told[c].FirstOrDefault(r => ReferenceEquals(r.Sign, reason.Sign)) is { Weight: > 0 } r ? alone[c] * Math.Exp(r.Weight) : 0;
        var all = alone.Keys.Sum(Claim);
        return all <= 0 ? reason : reason with { Weight = reason.Weight * Math.Max(MinLeft, Math.Sqrt(Claim(condition) / all)) };
    }

    private static double Probability(Condition condition, Tank tank, IEnumerable<Reason> reasons)
    {
        var prior = SignTable.Prior(condition, tank.Role == TankRole.Black);
        var odds = Math.Clamp(Math.Log(prior / (1 - prior)) + reasons.Sum(r => r.Weight), -SignTable.Surest - 2, SignTable.Surest);
        return 1 / (1 + Math.Exp(-odds));
    }

    private static List<Reason> Weigh(Condition condition, Tank tank, IReadOnlyList<Sign> signs, IReadOnlyList<LogEntry> entries, Instant now)
    {
        var reasons = new List<Reason>();
        foreach (var line in LinesOf[condition])
        {
            var weights = signs.Where(s => s.Code == line.Sign)
                .Select(s => (Sign: s, Weight: line.LogOdds * s.Size * Math.Pow(0.5, (now - s.At).TotalDays / line.HalfLifeDays) * Left(condition, line, s,
                tank, entries)))
                .OrderByDescending(x => Math.Abs(x.Weight)).ToList();
            var share = 1.0;
            foreach (var (sign, weight) in weights)
            {
                if (Math.Abs(weight * share) < 0.03) break;
                reasons.Add(new Reason(sign, weight * share));
                share *= line.Again;
            }
        }
        // What was in order before it began to show says little of now. A coat takes months to grow; the others come in a day.
        var shows = reasons.Where(r => r.Weight > Telling).Select(r => (Instant?)r.Sign.At).Max();
        var old = condition == Condition.Buildup ? OldNewsOfCoat : OldNews;
        return [.. reasons.Select(r => r.Weight < 0 && shows is { } since && r.Sign.At < since ? r with { Weight = r.Weight * old } : r)];
    }

    // What may cure anything of a tank at all: few of the entries of a year.
    private static List<LogEntry> Curing(Tank tank, IReadOnlyList<LogEntry> entries) =>
        entries.Memo((nameof(Curing), tank.Id),
        () => entries.Where(e => IsMine(e, tank)
        && e is ServiceEntry or CheckEntry or DoseEntry or DumpEntry { Flow: not null }
        or FlushEntry { Method: FlushMethod.Jet or FlushMethod.Reverse }).ToList());

    // And what may cure this condition of it.
    private static List<LogEntry> Curing(Condition condition, Tank tank, IReadOnlyList<LogEntry> entries) =>
        entries.Memo((nameof(Curing), condition, tank.Id), () => Curing(tank, entries)
            .Where(e => LinesOf[condition].Any(l => Cures(condition, l, e, tank) < 1)).ToList());

    private static readonly Dictionary<Condition, SignTable.Line[]> LinesOf = Enum.GetValues<Condition>()
        .ToDictionary(c => c, c => SignTable.Lines.Where(l => l.Condition == c).ToArray());

    private static bool IsMine(LogEntry entry, Tank tank) => entry.Tank == tank.Id || entry.Tank is null
        && (entry is not DumpEntry and not FlushEntry and not DoseEntry);

    // How much of a sign is left after what was done since: the service or the dump that cures it resets it.
    private static double Left(Condition condition, SignTable.Line line, Sign sign, Tank tank, IReadOnlyList<LogEntry> entries)
    {
        if (line.LogOdds < 0 && condition is not Condition.OutletClog) return 1;
        // What is computed over months has its own beginning after a jet.
        if (line.HalfLifeDays > 1000) return 1;
        var left = 1.0;
        var curing = Curing(condition, tank, entries);
        for (var i = curing.Count - 1; i >= 0 && curing[i].Instant > sign.At && left > 0; i--)
            if (!ReferenceEquals(curing[i], sign.Entry)) left = Math.Min(left, Cures(condition, line, curing[i], tank));
        return left;
    }

    private static double Cures(Condition condition, SignTable.Line line, LogEntry entry, Tank tank)
    {
        if (!IsMine(entry, tank)) return 1;
        return (condition, entry) switch
        {
            (Condition.Buildup or Condition.Heap or Condition.OutletClog,
                ServiceEntry { Code: ServiceCode.PressureJet } or FlushEntry { Method: FlushMethod.Jet }) => 0,
            // A deep clean makes what was seen before it old news, and the nose has the last word on older smells.
            (Condition.Buildup, DoseEntry dose) when DeepClean.Is(dose.Recipe) => AfterDeepClean,
            (Condition.Buildup, FlushEntry flush) when DeepClean.Is(flush) => AfterDeepClean,
            (Condition.Buildup, CheckEntry
            {
                Code: CheckCode.SniffTest,
                Result: CheckResult.Pass
            }) when line.Sign is SignCode.SmellAfterDump or SignCode.SniffFailed or SignCode.SniffFailedLater => AfterWork,
            (Condition.Heap, DoseEntry { Recipe: DoseRecipe.SoapSoak or DoseRecipe.PaperDigester or DoseRecipe.IceScrub }) => AfterRemedy,
            // A rush that brings the solids is the end of a heap that had only threatened.
            (Condition.Heap, DumpEntry { Flow: DumpFlow.Rush, Debris: Debris.Chunks or Debris.Paper }) => AfterRemedy,
            // What was open runs again: a clog is gone the moment a dump goes through it.
            (Condition.OutletClog, DumpEntry { Flow: DumpFlow.Rush }) => line.LogOdds > 0 ? 0.06 : 1,
            (Condition.OutletClog, DumpEntry { Flow: DumpFlow.Steady }) => line.LogOdds > 0 ? 0.2 : 1,
            // And one that runs badly again makes the good dump of before old news.
            (Condition.OutletClog, DumpEntry { Flow: DumpFlow.Trickle or DumpFlow.None }) => line.LogOdds < 0 ? 0.2 : 1,
            (Condition.VentBlocked, ServiceEntry { Code: ServiceCode.VentCleared }) => 0,
            (Condition.VentBlocked, CheckEntry { Code: CheckCode.RoofVentClear, Result: CheckResult.Pass }) when line.Sign != SignCode.VentFoundClear => 0.3,
            (Condition.ValveLeak, ServiceEntry { Code: ServiceCode.ValveReplaced }) => 0,
            (Condition.ValveLeak, CheckEntry { Code: CheckCode.CapDry, Result: CheckResult.Pass }) => 0.5,
            (Condition.ValveStiff, ServiceEntry { Code: ServiceCode.ValveReplaced }) => 0,
            (Condition.ValveStiff, ServiceEntry { Code: ServiceCode.ValveLubricated }) => AfterWork,
            (Condition.ValveStiff, DoseEntry { Recipe: DoseRecipe.ValveLubricant }) => AfterRemedy,
            _ => 1,
        };
    }
}
