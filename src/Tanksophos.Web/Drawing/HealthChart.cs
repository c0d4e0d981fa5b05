using NodaTime;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Levels;

namespace Tanksophos.Web.Drawing;

/// <summary>A small chart over time, 340 wide and 110 high: points, a line through them, marks of events.</summary>
public sealed class HealthChart
{
    public const double Width = 340, Height = 110;
    private const double Left = 34, Right = 332, Top = 12, Bottom = 84;

    private readonly Instant from, to;
    private readonly double low, high;

    /// <summary>Draws points between two moments.</summary>
    /// <param name="points">The points in the order of time.</param>
    /// <param name="from">Left end.</param>
    /// <param name="to">Right end.</param>
    /// <param name="low">The least the scale shows.</param>
    /// <param name="high">The most the scale shows at least.</param>
    /// <param name="events">What is marked below.</param>
    public HealthChart(IReadOnlyList<HealthPoint> points, Instant from, Instant to, double low, double high, IReadOnlyList<HealthEvent> events)
    {
        ArgumentNullException.ThrowIfNull(points);
        ArgumentNullException.ThrowIfNull(events);
        (this.from, this.to, this.low) = (from, to, low);
        this.high = Math.Max(high, points.Count > 0 ? points.Max(p => p.Value) : high);
        Dots = [.. points.Select(p => (X(p.At), Y(p.Value)))];
        Line = Dots.Count > 1 ? Svg.Path(Dots) : "";
        Marks = [.. events.Where(e => e.At >= from && e.At <= to).Select(e => X(e.At))];
    }

    /// <summary>The points.</summary>
    public IReadOnlyList<(double X, double Y)> Dots { get; }

    /// <summary>Path through them; empty for fewer than two.</summary>
    public string Line { get; }

    /// <summary>Where events are marked.</summary>
    public IReadOnlyList<double> Marks { get; }

    /// <summary>What the upper line of the scale stands for.</summary>
    public double Max => high;

    /// <summary>Height of a value.</summary>
    public double Y(double value) => Bottom - (Math.Clamp(value, low, high) - low) / Math.Max(1e-9, high - low) * (Bottom - Top);

    /// <summary>Where a moment stands.</summary>
    public double X(Instant at) => Left + (to > from ? (at - from).TotalDays / (to - from).TotalDays : 1) * (Right - Left);
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

    /// <summary>Days with a smell, counted by weeks from the start of the stretch.</summary>
    /// <param name="days">The days.</param>
    /// <param name="from">Start of the stretch.</param>
    /// <param name="to">Its end.</param>
    /// <param name="zone">Local time.</param>
    /// <returns>A point a week with at least one, in its middle.</returns>
    public static IReadOnlyList<HealthPoint> Weeks(IEnumerable<LocalDate> days, Instant from, Instant to, DateTimeZone zone)
    {
        ArgumentNullException.ThrowIfNull(days);
        ArgumentNullException.ThrowIfNull(zone);
        return [.. days.Select(d => d.AtStartOfDayInZone(zone).ToInstant() + Duration.FromHours(12))
            .Where(i => i >= from - Duration.FromDays(1) && i <= to + Duration.FromDays(1))
            .GroupBy(i => (int)Math.Max(0, (i - from).TotalDays / 7)).OrderBy(g => g.Key)
            .Select(g => new HealthPoint(Instant.Min(to, from + Duration.FromDays(7 * g.Key + 3.5)), g.Count()))];
    }
}
