using NodaTime;
using Tanksophos.Core.Care;

namespace Tanksophos.Web.Drawing;

/// <summary>A tooth of a chore: it rises from when it was done to when it was done again.</summary>
/// <param name="Points">Its outline, as SVG points; closed along the ground.</param>
/// <param name="Ahead">Whether it has not come yet.</param>
public readonly record struct CareTooth(string Points, bool Ahead);

/// <summary>
/// One chore over a year: time since it was last done grows until it is due. 600 wide and 36 high; seven months back, six ahead. Without texts, so that it
/// can be as wide as there is room.
/// </summary>
public sealed class CareStrip
{
    public const double Width = 600, Height = 36, Ground = 27, Due = 6;
    private static readonly Duration Back = Duration.FromDays(213), Ahead = Duration.FromDays(183);

    private readonly Instant now;

    /// <summary>Draws a chore.</summary>
    /// <param name="item">The chore.</param>
    /// <param name="now">The present moment.</param>
    public CareStrip(CareItem item, Instant now)
    {
        ArgumentNullException.ThrowIfNull(item);
        this.now = now;
        var every = Duration.Max(Duration.FromDays(1), item.Due - item.From);
        var teeth = new List<CareTooth>();
        var marks = item.DoneAt.Where(d => d >= now - Back - every && d <= now).ToList();
        for (var i = 0; i + 1 < marks.Count; i++) teeth.Add(Tooth(marks[i], marks[i + 1], every, false));
        var from = marks.Count > 0 ? marks[^1] : item.From;
        if (item.From > from) from = item.From;
        if (from < now) teeth.Add(Tooth(from, now, every, false));
        if (item.Due > now) teeth.Add(Tooth(from, item.Due, every, true));
        Teeth = [.. teeth.Where(t => t.Points.Length > 0)];
        DoneAt = [.. item.DoneAt.Where(d => d >= now - Back && d <= now).Select(X)];
        DueAt = item.Due >= now - Back && item.Due <= now + Ahead ? X(item.Due) : null;
    }

    /// <summary>Where now is.</summary>
    public static double Now => Width * (Back / (Back + Ahead));

    /// <summary>Its teeth, the oldest first.</summary>
    public IReadOnlyList<CareTooth> Teeth { get; }

    /// <summary>Where it was done.</summary>
    public IReadOnlyList<double> DoneAt { get; }

    /// <summary>Where it is due; null if that is off the strip.</summary>
    public double? DueAt { get; }

    /// <summary>Where a moment is.</summary>
    public double X(Instant at) => Width * ((at - (now - Back)) / (Back + Ahead));

    /// <summary>The months' beginnings on the strip.</summary>
    /// <param name="now">The present moment.</param>
    /// <param name="zone">Local time.</param>
    public static IEnumerable<(double X, LocalDate Month)> Months(Instant now, DateTimeZone zone)
    {
        var first = (now - Back).InZone(zone).Date.With(DateAdjusters.StartOfMonth).PlusMonths(1);
        for (var month = first; ; month = month.PlusMonths(1))
        {
            var x = Width * ((month.AtStartOfDayInZone(zone).ToInstant() - (now - Back)) / (Back + Ahead));
            if (x >= Width - 30) yield break; // no room for its name
            yield return (x, month);
        }
    }

    private CareTooth Tooth(Instant from, Instant to, Duration every, bool ahead)
    {
        double Rise(Instant at) => Ground - (Ground - Due) * Math.Min(1, (at - from) / every);
        var (start, end) = (Instant.Max(from, now - Back), Instant.Min(to, now + Ahead));
        if (ahead) start = Instant.Max(start, now);
        if (end <= start) return new CareTooth("", ahead);
        // It stays at the line once it is due.
        var corner = from + every;
        var top = corner > start && corner < end ? $"{Svg.N(X(corner))},{Svg.N(Due)} " : "";
        var (left, right) = (Svg.N(X(start)), Svg.N(X(end)));
        return new CareTooth($"{left},{Svg.N(Ground)} {left},{Svg.N(Rise(start))} {top}{right},{Svg.N(Rise(end))} {right},{Svg.N(Ground)}", ahead);
    }
}
