using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Treatments;

/// <summary>Bleach that is in a tank, and what it met there.</summary>
/// <param name="Since">When it went in.</param>
/// <param name="Met">Whether it met waste, urine, another product, or a tank that was not flushed clean: then it makes poisonous gas.</param>
/// <param name="Dumped">Whether the tank was dumped since.</param>
/// <param name="RinsesLeft">Rinses that are still to be done after the dump.</param>
internal sealed record BleachInTank(Instant Since, bool Met, bool Dumped, int RinsesLeft)
{
    // Clean water with bleach is dumped after a short drive; longer with people aboard somebody has used the toilet.
    private static readonly Duration Unused = Duration.FromHours(1);

    /// <summary>Reads it off the log; null if none is left: none went in, or the tank was dumped and rinsed twice since.</summary>
    /// <param name="rig">The rig.</param>
    /// <param name="entries">The log in the order of time.</param>
    /// <param name="tank">Id of the tank.</param>
    /// <param name="now">The present moment.</param>
    /// <param name="people">People aboard now.</param>
    public static BleachInTank? Find(Rig rig, IReadOnlyList<LogEntry> entries, string tank, Instant now, int people)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(entries);
        var deeds = entries.Deeds(tank);
        // From now backwards to the bleach; what emptied the tank since counts.
        int emptied = 0, at = -1;
        Instant? firstEmptied = null;
        for (var i = deeds.Count - 1; i >= 0 && at < 0 && emptied <= InTheTank.RinsesAfterBleach; i--)
        {
            if (deeds[i].Instant > now) continue;
            switch (deeds[i])
            {
                case DumpEntry { Emptied: true }:
                    emptied++;
                    firstEmptied = deeds[i].Instant;
                    break;
                case FlushEntry flush:
                    emptied += Math.Max(1, flush.Cycles.Count);
                    firstEmptied = flush.Instant;
                    break;
                case DoseEntry dose when IsBleach(rig, dose):
                    at = i;
                    break;
            }
        }
        if (at < 0 || emptied > InTheTank.RinsesAfterBleach) return null;
        var since = deeds[at].Instant;
        return new BleachInTank(since, MetSomething(rig, entries, deeds, at, firstEmptied ?? now, people), firstEmptied is not null,
            Math.Min(InTheTank.RinsesAfterBleach, InTheTank.RinsesAfterBleach + 1 - emptied));
    }

    private static bool IsBleach(Rig rig, DoseEntry dose) => Mixing.In(dose.Recipe).Contains(Substance.Bleach)
        || dose.Used.Any(u => rig.Products.FirstOrDefault(p => p.Id == u.Product)?.Kind == Substance.Bleach);

    private static bool MetSomething(Rig rig, IReadOnlyList<LogEntry> entries, IReadOnlyList<LogEntry> deeds, int at, Instant until, int people)
    {
        // Before: the last thing that emptied the tank was a flush, nothing was dosed after it, and nobody has used it since.
        var clean = false;
        for (var i = at - 1; i >= 0; i--)
        {
            if (deeds[i] is DoseEntry) break;
            if (deeds[i] is not (DumpEntry or FlushEntry)) continue;
            clean = deeds[i] is FlushEntry && Used(entries, deeds[i].Instant, deeds[at].Instant, rig.People) <= Unused;
            break;
        }
        if (!clean) return true;
        for (var i = at + 1; i < deeds.Count; i++) if (deeds[i] is DoseEntry other && !IsBleach(rig, other)) return true;
        return people > 0 && Used(entries, deeds[at].Instant, until, people) > Unused;
    }

    // Time in which somebody may have used the toilet: on the road nobody does.
    private static Duration Used(IReadOnlyList<LogEntry> entries, Instant from, Instant to, int people)
    {
        if (people == 0 || to <= from) return Duration.Zero;
        var road = entries.Between(from - Duration.FromMinutes(10), to).OfType<DriveEntry>()
            .Aggregate(Duration.Zero, (sum, d) => sum + Duration.FromHours(d.Hours));
        return Duration.Max(Duration.Zero, to - from - road);
    }
}
