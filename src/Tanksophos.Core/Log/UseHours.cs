using NodaTime;

namespace Tanksophos.Core.Log;

/// <summary>The hours of the day in which water runs: nights are quiet.</summary>
internal static class UseHours
{
    /// <summary>Start of the day's use, 06:00 local (practitioners' counts).</summary>
    public static readonly LocalTime From = new(6, 0);

    /// <summary>End of the day's use, 23:00 local.</summary>
    public static readonly LocalTime To = new(23, 0);

    /// <summary>
    /// Splits a stretch of time into its days of use. Each part is the share of that local day's inflow that falls into the
    /// stretch, 0..1, computed on the local day's true length, so that a clock change bends nothing.
    /// </summary>
    /// <param name="from">Start, included.</param>
    /// <param name="to">End, excluded; nothing is returned unless it is later than the start.</param>
    /// <param name="zone">Local time.</param>
    public static IEnumerable<(LocalDate Day, double Share, Instant End)> Days(Instant from, Instant to, DateTimeZone zone)
    {
        ArgumentNullException.ThrowIfNull(zone);
        if (to <= from) yield break;
        for (var day = from.InZone(zone).Date; ; day = day.PlusDays(1))
        {
            var (start, end) = Window(day, zone);
            if (start >= to) yield break;
            var a = Instant.Max(start, from);
            var b = Instant.Min(end, to);
            if (b > a) yield return (day, (b - a) / (end - start), b);
        }
    }

    /// <summary>Days of use between two moments: 1.0 for a whole day.</summary>
    public static double Between(Instant from, Instant to, DateTimeZone zone) => Days(from, to, zone).Sum(d => d.Share);

    /// <summary>The moment at which so many days of use have passed since <paramref name="from"/>.</summary>
    /// <param name="from">Start.</param>
    /// <param name="days">Days of use, 0 or more.</param>
    /// <param name="zone">Local time.</param>
    public static Instant After(Instant from, double days, DateTimeZone zone)
    {
        ArgumentNullException.ThrowIfNull(zone);
        if (days <= 0) return from;
        for (var day = from.InZone(zone).Date; ; day = day.PlusDays(1))
        {
            var (start, end) = Window(day, zone);
            var a = Instant.Max(start, from);
            if (a >= end) continue;
            var share = (end - a) / (end - start);
            if (share >= days) return a + (end - start) * days;
            days -= share;
        }
    }

    private static (Instant Start, Instant End) Window(LocalDate day, DateTimeZone zone) =>
        ((day + From).InZoneLeniently(zone).ToInstant(), (day + To).InZoneLeniently(zone).ToInstant());
}
