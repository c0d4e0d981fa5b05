using NodaTime;
using Tanksophos.Core.Care;

namespace Tanksophos.Web.Drawing;

/// <summary>A tooth of a chore: it rises from when it was done to when it was done again.</summary>
/// <param name="Points">Its outline, as SVG points; closed along the ground.</param>
/// <param name="Ahead">Whether it has not come yet.</param>
public readonly record struct CareTooth(string Points, bool Ahead);

/// <summary>
/// One chore over a year: time since it was last done grows until it is due. 600 wide and 36 high; thirteen months, each as wide as the others, of which the
/// present one is the eighth. Without texts, so that it can be as wide as there is room.
/// </summary>
public sealed class CareStrip
{
    public const double Width = 600, Height = 36, Ground = 27, Due = 6;

    /// <summary>Months on it.</summary>
    public const int Months = 13;

    private const int MonthsBack = 7;

    private readonly Instant begin, end;
    private readonly LocalDate first;
    private readonly DateTimeZone zone;

    /// <summary>Draws a chore.</summary>
    /// <param name="item">The chore.</param>
    /// <param name="now">The present moment.</param>
    /// <param name="zone">Local time.</param>
    /// <param name="frost">When it freezes.</param>
    public CareStrip(CareItem item, Instant now, DateTimeZone zone, IReadOnlyList<(Instant From, Instant To)>? frost = null)
    {
        ArgumentNullException.ThrowIfNull(item);
        ArgumentNullException.ThrowIfNull(zone);
        this.zone = zone;
        first = First(now, zone);
        (begin, end) = (first.AtStartOfDayInZone(zone).ToInstant(), first.PlusMonths(Months).AtStartOfDayInZone(zone).ToInstant());
        var every = Duration.Max(Duration.FromDays(1), item.Due - item.From);
        var teeth = new List<CareTooth>();
        var marks = item.DoneAt.Where(d => d >= begin - every && d <= now).ToList();
        for (var i = 0; i + 1 < marks.Count; i++) teeth.Add(Tooth(marks[i], marks[i], marks[i + 1], every, false));
        var from = marks.Count > 0 ? marks[^1] : item.From;
        if (item.From > from) from = item.From;
        if (from < now) teeth.Add(Tooth(from, from, now, every, false));
        if (item.Due > now) teeth.Add(Tooth(from, now, item.Due, every, true));
        Teeth = [.. teeth.Where(t => t.Points.Length > 0)];
        DoneAt = [.. item.DoneAt.Where(d => d >= begin && d <= now).Select(X)];
        DueAt = item.Due >= begin && item.Due < end ? X(item.Due) : null;
        Now = X(now);
        Frost = [.. (frost ?? []).Where(f => f.To > begin && f.From < end).Select(f => (X(Instant.Max(f.From, begin)), X(Instant.Min(f.To, end))))];
    }

    /// <summary>Where now is.</summary>
    public double Now { get; }

    /// <summary>When it freezes, from and to.</summary>
    public IReadOnlyList<(double From, double To)> Frost { get; }

    /// <summary>Its teeth, the oldest first.</summary>
    public IReadOnlyList<CareTooth> Teeth { get; }

    /// <summary>Where it was done.</summary>
    public IReadOnlyList<double> DoneAt { get; }

    /// <summary>Where it is due; null if that is off the strip.</summary>
    public double? DueAt { get; }

    /// <summary>The first month on a strip.</summary>
    /// <param name="now">The present moment.</param>
    /// <param name="zone">Local time.</param>
    public static LocalDate First(Instant now, DateTimeZone zone) => now.InZone(zone).Date.With(DateAdjusters.StartOfMonth).PlusMonths(-MonthsBack);

    /// <summary>Where a moment is.</summary>
    public double X(Instant at)
    {
        var local = at.InZone(zone).LocalDateTime;
        var months = 12 * (local.Year - first.Year) + local.Month - first.Month;
        return Width / Months * (months + (local.Day - 1 + local.Hour / 24.0) / local.Calendar.GetDaysInMonth(local.Year, local.Month));
    }

    private CareTooth Tooth(Instant done, Instant from, Instant to, Duration every, bool ahead)
    {
        double Rise(Instant at) => Ground - (Ground - Due) * Math.Min(1, (at - done) / every);
        var (start, stop) = (Instant.Max(from, begin), Instant.Min(to, end));
        if (stop <= start) return new CareTooth("", ahead);
        // It stays at the line once it is due.
        var corner = done + every;
        var top = corner > start && corner < stop ? $"{Svg.N(X(corner))},{Svg.N(Due)} " : "";
        var (left, right) = (Svg.N(X(start)), Svg.N(X(stop)));
        return new CareTooth($"{left},{Svg.N(Ground)} {left},{Svg.N(Rise(start))} {top}{right},{Svg.N(Rise(stop))} {right},{Svg.N(Ground)}", ahead);
    }
}
