using NodaTime;
using Tanksophos.Core.Care;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Outlook;

/// <summary>What a month or a trip took. Costs are in the smallest unit of the household's currency.</summary>
/// <param name="From">Its first day.</param>
/// <param name="To">Its last day.</param>
/// <param name="WaterL">Water that was counted: put in, metered while rinsing, with doses; in litres.</param>
/// <param name="TreatmentMinor">Treatments, by what was taken from the shelf.</param>
/// <param name="StationMinor">Fees of stops.</param>
/// <param name="ServiceMinor">Services and chores.</param>
/// <param name="Dumps">Dumps of all tanks.</param>
public sealed record CostTotals(LocalDate From, LocalDate To, double WaterL, double TreatmentMinor, double StationMinor, double ServiceMinor, int Dumps)
{
    /// <summary>All costs.</summary>
    public double TotalMinor => TreatmentMinor + StationMinor + ServiceMinor;

    /// <summary>By calendar month, the newest last; months in which nothing was are left out.</summary>
    /// <param name="rig">The rig, for the prices on its shelf.</param>
    /// <param name="entries">The log in the order of time.</param>
    /// <param name="zone">Local time.</param>
    /// <param name="fees">Fees of stops that are over or have begun.</param>
    public static IReadOnlyList<CostTotals> ByMonth(Rig rig, IReadOnlyList<LogEntry> entries, DateTimeZone zone, IReadOnlyList<(Instant At,
        int FeeMinor)> fees)
    {
        ArgumentNullException.ThrowIfNull(entries);
        ArgumentNullException.ThrowIfNull(fees);
        LocalDate Month(Instant at) => at.InZone(zone).Date.With(DateAdjusters.StartOfMonth);
        var byMonth = entries.GroupBy(e => Month(e.Instant)).ToDictionary(g => g.Key, g => g.ToList());
        return [.. byMonth.Keys.Concat(fees.Select(f => Month(f.At))).Distinct().Order()
            .Select(m => Sum(rig, m, m.With(DateAdjusters.EndOfMonth), byMonth.GetValueOrDefault(m) ?? [], fees.Where(f => Month(f.At) == m)))
            .Where(t => t.TotalMinor > 0 || t.WaterL > 0 || t.Dumps > 0)];
    }

    /// <summary>By trip: what lies between two stretches in storage, the newest last.</summary>
    public static IReadOnlyList<CostTotals> ByTrip(Rig rig, IReadOnlyList<LogEntry> entries, DateTimeZone zone, IReadOnlyList<(Instant At,
        int FeeMinor)> fees)
    {
        ArgumentNullException.ThrowIfNull(entries);
        ArgumentNullException.ThrowIfNull(fees);
        if (entries.Count == 0) return [];
        var trips = new List<CostTotals>();
        var from = entries[0].Instant;
        foreach (var span in Standing.Of(entries).Storage)
        {
            Add(from, span.From);
            from = span.To ?? Instant.MaxValue;
        }
        if (from < entries[^1].Instant) Add(from, entries[^1].Instant + Duration.Epsilon);
        return trips;

        void Add(Instant begin, Instant end)
        {
            if (end <= begin) return;
            var total = Sum(rig, begin.InZone(zone).Date, end.InZone(zone).Date, entries.Between(begin, end), fees.Where(f => f.At >= begin && f.At < end));
            if (total.TotalMinor > 0 || total.WaterL > 0 || total.Dumps > 0) trips.Add(total);
        }
    }

    private static CostTotals Sum(Rig rig, LocalDate from, LocalDate to, IEnumerable<LogEntry> entries, IEnumerable<(Instant At, int FeeMinor)> fees)
    {
        double water = 0, treatment = 0, service = 0;
        var dumps = 0;
        foreach (var entry in entries)
        {
            switch (entry)
            {
                case WaterEntry w: water += w.WaterL; break;
                case FlushEntry f: water += f.Cycles.Sum(c => c.WaterL ?? 0); break;
                case DoseEntry d:
                    water += d.WaterL ?? 0;
                    treatment += d.Used.Sum(u => rig.Products.FirstOrDefault(p => p.Id == u.Product) is { PriceMinor: { } price, Holds: > 0 and var holds }
                        ? price * u.Quantity / holds : 0);
                    break;
                case ServiceEntry s: service += s.CostMinor ?? 0; break;
                case ChoreEntry c: service += c.CostMinor ?? 0; break;
                case DumpEntry: dumps++; break;
            }
        }
        return new CostTotals(from, to, water, treatment, fees.Sum(f => f.FeeMinor), service, dumps);
    }

    /// <summary>Totals as a table, one line each; costs with two decimals, water in litres.</summary>
    /// <param name="totals">The totals.</param>
    public static byte[] Csv(IEnumerable<CostTotals> totals)
    {
        ArgumentNullException.ThrowIfNull(totals);
        var culture = System.Globalization.CultureInfo.InvariantCulture;
        string Cost(double minor) => (minor / 100).ToString("0.00", culture);
        return System.Text.Encoding.UTF8.GetBytes("from,to,waterL,treatments,stations,service,total,dumps\n" + string.Concat(totals.Select(t =>
            string.Create(culture, $"{t.From:uuuu-MM-dd},{t.To:uuuu-MM-dd},{t.WaterL:0.#},{Cost(t.TreatmentMinor)},{Cost(t.StationMinor)},")
            + string.Create(culture, $"{Cost(t.ServiceMinor)},{Cost(t.TotalMinor)},{t.Dumps}\n"))));
    }
}

/// <summary>How long a tank lasted from dump to dump, in a season of the year.</summary>
/// <param name="Tank">Id of the tank.</param>
/// <param name="Year">The year in which the season began (winter begins in December).</param>
/// <param name="Quarter">0 winter, 1 spring, 2 summer, 3 fall.</param>
/// <param name="Days">Mean days from dump to dump.</param>
/// <param name="Fills">Fills it rests on.</param>
public sealed record FillDays(string Tank, int Year, int Quarter, double Days, int Fills)
{
    // Longer than this nobody used it.
    private static readonly Duration Longest = Duration.FromDays(45);

    /// <summary>Of all tanks, the newest season last.</summary>
    /// <param name="entries">The log in the order of time.</param>
    /// <param name="zone">Local time.</param>
    public static IReadOnlyList<FillDays> Of(IReadOnlyList<LogEntry> entries, DateTimeZone zone)
    {
        ArgumentNullException.ThrowIfNull(entries);
        var stored = Standing.Of(entries).Storage;
        return [.. entries.Kind<DumpEntry>().Where(d => d.Emptied && d.Tank is not null).GroupBy(d => d.Tank!).SelectMany(g => g.Zip(g.Skip(1))
            .Where(p => p.Second.Instant - p.First.Instant is var d && d <= Longest && d >= Duration.FromHours(6)
                && !stored.Any(s => s.From < p.Second.Instant && (s.To ?? Instant.MaxValue) > p.First.Instant))
            .GroupBy(p => Season(p.Second.Instant.InZone(zone).Date))
            .Select(s => new FillDays(g.Key, s.Key.Year, s.Key.Quarter, s.Average(p => (p.Second.Instant - p.First.Instant).TotalDays), s.Count())))
            .OrderBy(f => f.Year).ThenBy(f => f.Quarter).ThenBy(f => f.Tank, StringComparer.Ordinal)];
    }

    private static (int Year, int Quarter) Season(LocalDate day) => (day.Month == 12 ? day.Year + 1 : day.Year, day.Month % 12 / 3);
}
