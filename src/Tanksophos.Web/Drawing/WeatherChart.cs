using Tanksophos.Core.Treatments;
using Tanksophos.Core.Weather;

namespace Tanksophos.Web.Drawing;

/// <summary>A bar from a night's low to a day's high.</summary>
/// <param name="From">Where it begins, 0 to 100.</param>
/// <param name="Width">How wide it is.</param>
/// <param name="Hot">Whether doses are doubled.</param>
/// <param name="Freezes">Whether it freezes.</param>
public readonly record struct WeatherBar(double From, double Width, bool Hot, bool Freezes);

/// <summary>Days one under the other on one scale, 0 to 100 wide, with the two lines that matter: water freezes, doses wear off. Without texts.</summary>
public sealed class WeatherChart
{
    private const double Margin = 3, Narrowest = 1.5;

    private readonly double low, high;

    /// <summary>Draws them.</summary>
    /// <param name="days">The days; null for one that is not known.</param>
    public WeatherChart(IReadOnlyList<WeatherDay?> days)
    {
        ArgumentNullException.ThrowIfNull(days);
        // Both lines are always on it.
        low = Math.Min(WeatherDay.FreezingC, days.Min(d => d?.LowC) ?? 0) - Margin;
        high = Math.Max(RoutineDose.HotC, days.Max(d => d?.HighC) ?? 0) + Margin;
        Bars = [.. days.Select(d => d is null ? (WeatherBar?)null
            : new WeatherBar(X(d.LowC), Math.Max(Narrowest, X(d.HighC) - X(d.LowC)), RoutineDose.IsHot(d.HighC), d.Freezes))];
    }

    /// <summary>The bars, in the order of the days.</summary>
    public IReadOnlyList<WeatherBar?> Bars { get; }

    /// <summary>Where water freezes.</summary>
    public double Freezing => X(WeatherDay.FreezingC);

    /// <summary>From where on doses are doubled.</summary>
    public double Heat => X(RoutineDose.HotC);

    private double X(double celsius) => 100 * (celsius - low) / (high - low);
}
