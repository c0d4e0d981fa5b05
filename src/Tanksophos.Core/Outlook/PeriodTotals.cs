using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Outlook;

/// <summary>What a stretch of the log adds up to.</summary>
/// <param name="Dumps">Dumps by tank, in the order of the rig; former tanks last; tanks without one are left out.</param>
/// <param name="Rinses">Rinse cycles of all tanks.</param>
/// <param name="RinseL">Metered rinse water in litres; cycles that were only timed do not count.</param>
/// <param name="AddedL">Other water added, in litres.</param>
/// <param name="Doses">Doses.</param>
/// <param name="SmellDays">Local days with a smell logged.</param>
/// <param name="FailedChecks">Checks that did not pass.</param>
public sealed record PeriodTotals(IReadOnlyList<(string Tank, int Count)> Dumps, int Rinses, double RinseL, double AddedL, int Doses, int SmellDays,
    int FailedChecks)
{
    /// <summary>Adds up entries.</summary>
    /// <param name="rig">The rig.</param>
    /// <param name="entries">The entries of the stretch.</param>
    public static PeriodTotals Compute(Rig rig, IReadOnlyList<LogEntry> entries)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(entries);
        var dumps = entries.OfType<DumpEntry>().ToList();
        var cycles = entries.OfType<FlushEntry>().SelectMany(f => f.Cycles).ToList();
        return new PeriodTotals(
            [.. rig.Tanks.Concat(rig.FormerTanks.Select(f => f.Tank)).Select(t => (t.Id, dumps.Count(d => d.Tank == t.Id))).Where(t => t.Item2 > 0)],
            cycles.Count, cycles.Sum(c => c.WaterL ?? 0), entries.OfType<WaterEntry>().Sum(w => w.WaterL), entries.OfType<DoseEntry>().Count(),
            entries.OfType<OdorEntry>().Select(o => o.At.Date).Distinct().Count(), entries.OfType<CheckEntry>().Count(c => c.Result == CheckResult.Fail));
    }
}
