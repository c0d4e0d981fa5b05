using NodaTime;
using Tanksophos.Core.Diagnosis;

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
    public double Most => high;

    /// <summary>Height of a value.</summary>
    public double Y(double value) => Bottom - (Math.Clamp(value, low, high) - low) / Math.Max(1e-9, high - low) * (Bottom - Top);

    private double X(Instant at) => Left + (to > from ? (at - from).TotalDays / (to - from).TotalDays : 1) * (Right - Left);
}
