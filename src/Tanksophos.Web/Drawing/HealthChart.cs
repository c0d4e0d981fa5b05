using NodaTime;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Levels;

namespace Tanksophos.Web.Drawing;

/// <summary>A value at a moment, as the page shows it.</summary>
/// <param name="At">When.</param>
/// <param name="Value">In the unit of the chart.</param>
/// <param name="X">Where it stands.</param>
/// <param name="Y">How high it stands.</param>
/// <param name="Date">Its day in words.</param>
/// <param name="Words">Its value in words.</param>
public readonly record struct ChartPoint(Instant At, double Value, double X, double Y, string Date, string Words);

/// <summary>A chart over time with axes, dates and values: the one that every page uses. 340 wide and 210 high.</summary>
public sealed class HealthChart
{
    public const double Width = 340, Height = 210, Left = 58, Right = 332, Top = 34, Bottom = 172;

    private const int MostSteps = 4, DateMarks = 3;

    private readonly Instant from, to;
    private readonly double low, high;

    /// <summary>Draws points between two moments.</summary>
    /// <param name="points">The points in the order of time, in the unit of the chart.</param>
    /// <param name="from">Left end.</param>
    /// <param name="to">Right end.</param>
    /// <param name="low">The least the scale shows.</param>
    /// <param name="high">The most the scale shows at least.</param>
    /// <param name="zone">Local time.</param>
    /// <param name="day">A day in words.</param>
    /// <param name="words">A value in words.</param>
    public HealthChart(IReadOnlyList<HealthPoint> points, Instant from, Instant to, double low, double high, DateTimeZone zone,
        Func<LocalDate, string> day, Func<double, string> words)
    {
        ArgumentNullException.ThrowIfNull(points);
        ArgumentNullException.ThrowIfNull(day);
        ArgumentNullException.ThrowIfNull(words);
        (this.from, this.to, this.low) = (from, to, low);
        var most = Math.Max(high, points.Count > 0 ? points.Max(p => p.Value) : high);
        var step = Step(most - low);
        this.high = low + step * Math.Ceiling((most - low) / step - 1e-9);
        Levels = [.. Enumerable.Range(0, (int)Math.Round((this.high - low) / step) + 1).Select(i => low + i * step).Select(v => (Y(v), words(v)))];
        Points = [.. points.Select(p => new ChartPoint(p.At, p.Value, X(p.At), Y(p.Value), day(p.At.InZone(zone).Date), words(p.Value)))];
        Line = Points.Count > 1 ? Svg.Path([.. Points.Select(p => (p.X, p.Y))]) : "";
        Dates = [.. DaysBetween(from.InZone(zone).Date, to.InZone(zone).Date)
            .Select(d => (X(d.AtStartOfDayInZone(zone).ToInstant()), day(d))).Where(d => d.Item1 is >= Left and <= Right - 14)];
    }

    /// <summary>The points.</summary>
    public IReadOnlyList<ChartPoint> Points { get; }

    /// <summary>Path through them; empty for fewer than two.</summary>
    public string Line { get; }

    /// <summary>The lines of the scale: height and words.</summary>
    public IReadOnlyList<(double Y, string Words)> Levels { get; }

    /// <summary>The days that are named below: where, and in words.</summary>
    public IReadOnlyList<(double X, string Words)> Dates { get; }

    /// <summary>Height of a value.</summary>
    public double Y(double value) => Bottom - (Math.Clamp(value, low, high) - low) / Math.Max(1e-9, high - low) * (Bottom - Top);

    /// <summary>Where a moment stands.</summary>
    public double X(Instant at) => Left + (to > from ? (at - from).TotalDays / (to - from).TotalDays : 1) * (Right - Left);

    // 1, 2 or 5 times a power of ten, so that at most four steps reach the top.
    private static double Step(double span)
    {
        var rough = Math.Max(1e-9, span) / MostSteps;
        var power = Math.Pow(10, Math.Floor(Math.Log10(rough)));
        return power * (rough / power) switch { <= 1 => 1, <= 2 => 2, <= 5 => 5, _ => 10 };
    }

    // Whole days, weeks or firsts of months, about three of them.
    private static IEnumerable<LocalDate> DaysBetween(LocalDate first, LocalDate last)
    {
        var days = Period.Between(first, last, PeriodUnits.Days).Days;
        if (days > 31 * DateMarks)
        {
            var months = Math.Max(1, (int)Math.Ceiling(days / 30.4 / (DateMarks + 1)));
            for (var d = new LocalDate(first.Year, first.Month, 1).PlusMonths(1); d <= last; d = d.PlusMonths(months)) yield return d;
            yield break;
        }
        var step = Math.Max(1, days / DateMarks);
        for (var d = first.PlusDays(step / 2); d <= last; d = d.PlusDays(step)) yield return d;
    }
}

/// <summary>A stretch in which a lamp was believed, or was not.</summary>
/// <param name="From">Left end.</param>
/// <param name="To">Right end, at least a hair further on.</param>
/// <param name="Believed">Whether it was.</param>
public readonly record struct BelievedStretch(double From, double To, bool Believed);

/// <summary>What a year says of the lamps and of smells, on the scale of the other charts.</summary>
public static class HealthStrips
{
    private const double MinWidth = 3;

    /// <summary>One lamp's looks, joined where they say the same.</summary>
    /// <param name="looks">The looks in the order of time.</param>
    /// <param name="chart">The scale.</param>
    /// <param name="from">What is older is left out.</param>
    public static IReadOnlyList<BelievedStretch> Lamp(IReadOnlyList<LampLook> looks, HealthChart chart, Instant from)
    {
        ArgumentNullException.ThrowIfNull(looks);
        ArgumentNullException.ThrowIfNull(chart);
        var found = new List<BelievedStretch>();
        foreach (var look in looks.Where(l => l.At.ToInstant() >= from))
        {
            var x = chart.X(look.At.ToInstant());
            if (found.Count > 0 && found[^1] is var last && last.Believed == look.Believed) found[^1] = last with { To = Math.Max(last.To, x) };
            else
            {
                // The one before reaches up to here: nothing else was seen in between.
                if (found.Count > 0) found[^1] = found[^1] with { To = x };
                found.Add(new BelievedStretch(x, x + MinWidth, look.Believed));
            }
        }
        return found;
    }

    /// <summary>Days with a smell, counted by the weeks of the calendar.</summary>
    /// <param name="days">The days.</param>
    /// <param name="from">Start of the stretch.</param>
    /// <param name="to">Its end.</param>
    /// <param name="zone">Local time.</param>
    /// <param name="begins">The day on which a week begins.</param>
    /// <returns>A point a week with at least one, in its middle.</returns>
    public static IReadOnlyList<HealthPoint> Weeks(IEnumerable<LocalDate> days, Instant from, Instant to, DateTimeZone zone, IsoDayOfWeek begins)
    {
        ArgumentNullException.ThrowIfNull(days);
        ArgumentNullException.ThrowIfNull(zone);
        var (first, last) = (from.InZone(zone).Date.PlusDays(-1), to.InZone(zone).Date.PlusDays(1));
        return [.. days.Where(d => d >= first && d <= last).GroupBy(d => WeekOf(d, begins)).OrderBy(g => g.Key)
            .Select(g => new HealthPoint(Within(g.Key.PlusDays(3).AtStartOfDayInZone(zone).ToInstant() + Duration.FromHours(12)), g.Count()))];

        Instant Within(Instant middle) => Instant.Max(from, Instant.Min(to, middle));
    }

    /// <summary>The first day of the week that a day belongs to.</summary>
    /// <param name="day">The day.</param>
    /// <param name="begins">The day on which a week begins.</param>
    public static LocalDate WeekOf(LocalDate day, IsoDayOfWeek begins) => day.DayOfWeek == begins ? day : day.Previous(begins);
}
