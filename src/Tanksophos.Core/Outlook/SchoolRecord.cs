using NodaTime;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;

namespace Tanksophos.Core.Outlook;

/// <summary>How a black tank did under a school of treatment, from the rig's own log.</summary>
/// <param name="School">The school.</param>
/// <param name="From">Start of its first fill.</param>
/// <param name="To">End of its last.</param>
/// <param name="Fills">Fills from one dump to the next.</param>
/// <param name="Days">Days of them with the tank in use.</param>
public sealed record SchoolRecord(TreatmentSchool School, Instant From, Instant To, int Fills, double Days)
{
    /// <summary>Hundredths a fill; null where a price is not known.</summary>
    public double? CostPerFill { get; init; }

    /// <summary>Hundredths in 30 days.</summary>
    public double? CostPerMonth { get; init; }

    /// <summary>Days on which a smell was logged that black can be behind.</summary>
    public int OdorDays { get; init; }

    /// <summary>Rinse cycles until the end ran clear, the mean; null without a judged rinse.</summary>
    public double? CyclesToClear { get; init; }

    /// <summary>Judged rinses behind it.</summary>
    public int Rinses { get; init; }

    /// <summary>Looks at the panel within a day of a dump, and those of them with a lamp lit that should have been dark.</summary>
    public int Looks { get; init; }

    /// <summary>Looks with a lamp still lit.</summary>
    public int LampsLit { get; init; }
}

/// <summary>Compares the schools of treatment on the rig itself.</summary>
public static class SchoolRecords
{
    // A panel looked at within this time of a dump shows an all but empty tank.
    private static readonly Duration JustDumped = Duration.FromHours(24);

    // Lamps from this share of the tank on cannot be reached by a day's use and the starter water.
    private const double OutOfReach = 0.3;

    // A fill that stood in storage says nothing of a school; nor does one of some hours.
    private static readonly Duration ShortestFill = Duration.FromHours(12), LongestFill = Duration.FromDays(45);

    /// <summary>One record for each school that was used, the latest first.</summary>
    /// <param name="entries">The log in the order of time.</param>
    /// <param name="rig">The rig, with its shelf.</param>
    /// <param name="tank">Id of a black tank.</param>
    /// <param name="now">The present moment; it ends the fill under way.</param>
    public static IReadOnlyList<SchoolRecord> Of(IReadOnlyList<LogEntry> entries, Rig rig, string tank, Instant now)
    {
        ArgumentNullException.ThrowIfNull(entries);
        ArgumentNullException.ThrowIfNull(rig);
        // Fills of ten years change only with the log; the one at hand grows with the hours.
        return rig.Find(tank) is not { } black ? []
            : entries.Memo((nameof(SchoolRecords), rig, tank, now.ToUnixTimeSeconds() / 3600), () => Compared(entries, rig, black, now));
    }

    private static IReadOnlyList<SchoolRecord> Compared(IReadOnlyList<LogEntry> entries, Rig rig, Tank black, Instant now)
    {
        var tank = black.Id;
        var past = entries.Where(e => e.Instant <= now).ToList();
        var dumps = past.Where(e => e is DumpEntry { Emptied: true } && e.Tank == tank).Select(e => e.Instant).ToList();
        var fills = new List<Fill>();
        for (var i = 0; i < dumps.Count; i++)
        {
            var (from, to) = (dumps[i], i + 1 < dumps.Count ? dumps[i + 1] : now);
            if (to - from < ShortestFill || to - from > LongestFill) continue;
            fills.Add(new Fill(from, to, i + 1 < dumps.Count, past.GetRange(First(past, from), First(past, to) - First(past, from))));
        }
        return [.. fills.GroupBy(f => SchoolOf(f, tank)).Select(g => Record(g.Key, [.. g], rig, black, past)).OrderByDescending(r => r.To)];
    }

    // The log is in the order of time: the first entry at or after a moment.
    private static int First(List<LogEntry> log, Instant moment)
    {
        int low = 0, high = log.Count;
        while (low < high)
        {
            var middle = (low + high) / 2;
            if (log[middle].Instant < moment) low = middle + 1;
            else high = middle;
        }
        return low;
    }

    private sealed record Fill(Instant From, Instant To, bool Ended, IReadOnlyList<LogEntry> Entries);

    private static TreatmentSchool SchoolOf(Fill fill, string tank)
    {
        var doses = fill.Entries.OfType<DoseEntry>().Where(d => d.Tank == tank).Select(d => d.Recipe).ToList();
        foreach (var recipe in doses) if (DoseCalculator.SchoolOf(recipe) is { } school) return school;
        return doses.Contains(DoseRecipe.TravelScrub) ? TreatmentSchool.BoraxSoap : TreatmentSchool.WaterOnly;
    }

    private static SchoolRecord Record(TreatmentSchool school, IReadOnlyList<Fill> fills, Rig rig, Tank black, List<LogEntry> past)
    {
        var days = fills.Sum(f => (f.To - f.From).TotalDays);
        double? cost = 0;
        var odors = new HashSet<LocalDate>();
        int looks = 0, lit = 0;
        var cycles = new List<double>();
        foreach (var fill in fills)
        {
            foreach (var entry in fill.Entries)
                switch (entry)
                {
                    case DoseEntry dose when dose.Tank == black.Id:
                        cost += CostOf(dose, rig, black);
                        break;
                    case OdorEntry { Where: not (OdorPlace.GalleySink or OdorPlace.StorageBay) } odor:
                        odors.Add(odor.At.Date);
                        break;
                    case ReadingEntry { Via: ReadingVia.Panel } look when look.Tank == black.Id && entry.Instant > fill.From
                        && entry.Instant - fill.From <= JustDumped:
                        var high = black.MonitorAt(entry.Instant).Probes.Where(p => p.AtFraction >= OutOfReach).Select(p => p.Id)
                            .ToHashSet(StringComparer.Ordinal);
                        if (look.Lit is null || high.Count == 0) break;
                        looks++;
                        if (look.Lit.Any(high.Contains)) lit++;
                        break;
                }
            // The rinse that ends a fill tells of that fill's school.
            if (!fill.Ended) continue;
            var rinse = new List<FlushEntry>();
            for (var i = First(past, fill.To); i < past.Count && past[i].Instant - fill.To <= LastRunTemplate.RunLasts; i++)
                if (past[i] is FlushEntry flush && flush.Tank == black.Id) rinse.Add(flush);
            if (rinse.Count > 0 && RunHistory.ToClear(rinse, black.Id) is { Count: > 0 } judged) cycles.Add(judged.Sum(c => c.Cycles + (c.Clear ? 0 : 1)));
        }
        return new SchoolRecord(school, fills[0].From, fills[^1].To, fills.Count, days)
        {
            CostPerFill = cost / fills.Count,
            CostPerMonth = days > 0 ? cost / days * 30 : null,
            OdorDays = odors.Count,
            CyclesToClear = cycles.Count > 0 ? cycles.Average() : null,
            Rinses = cycles.Count,
            Looks = looks,
            LampsLit = lit,
        };
    }

    // What the entry says was taken; for older ones what the dose would take today.
    private static double? CostOf(DoseEntry dose, Rig rig, Tank tank)
    {
        if (dose.Used.Count > 0) return Shelf.Cost(rig.Products, dose.Used);
        if (!DoseCalculator.IsComputed(dose.Recipe)) return null;
        var computed = DoseCalculator.Compute(dose.Recipe, new DoseCase(tank.CapacityL) { Product = Shelf.InUse(rig.Products, dose.Recipe) });
        var takes = Shelf.Takes(rig.Products, computed);
        return takes.Count == computed.Ingredients.Count ? Shelf.Cost(rig.Products, takes) : null;
    }

    /// <summary>What a school's routine would cost on a tank, a fill, with what is on the shelf; null without a price.</summary>
    /// <param name="rig">The rig, with its shelf.</param>
    /// <param name="school">The school; for borax and soap a scrub once a fill.</param>
    /// <param name="tank">The tank.</param>
    public static double? Expected(Rig rig, TreatmentSchool school, Tank tank)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(tank);
        if (school == TreatmentSchool.WaterOnly) return 0;
        var dose = DoseCalculator.Routine(school, new DoseCase(tank.CapacityL) { Product = Shelf.For(rig, school) });
        var takes = Shelf.Takes(rig.Products, dose);
        return takes.Count == dose.Ingredients.Count ? Shelf.Cost(rig.Products, takes) : null;
    }
}
