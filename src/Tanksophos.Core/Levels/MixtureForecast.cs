using NodaTime;
using Tanksophos.Core.Log;

namespace Tanksophos.Core.Levels;

/// <summary>Carries a <see cref="LevelMixture"/> forward under unchanged circumstances.</summary>
internal sealed class MixtureForecast(LevelMixture level, double capacity, double medianWhenClosed, bool open, Instant from, DateTimeZone zone) : ILevelForecast
{
    private static readonly Duration Horizon = Duration.FromDays(60);

    private readonly double medianPerDay = open ? 0 : medianWhenClosed;

    public Instant From => from;

    public DateTimeZone Zone => zone;

    public double LitresPerDay => medianPerDay * level.ExpectedFactor;

    public LevelBand At(Instant moment)
    {
        var (median, scatter) = Inflow(UseHours.Between(from, moment, zone));
        return level.Band(median, scatter);
    }

    public double Quantile(double days, double probability)
    {
        var (median, scatter) = Inflow(days);
        return level.Quantile(probability, median, scatter);
    }

    public double ChanceOf(double litres, Instant moment)
    {
        var (median, scatter) = Inflow(UseHours.Between(from, moment, zone));
        return level.ChanceOf(litres, median, scatter);
    }

    public Instant? Reaches(double litres, double probability)
    {
        if (level.ChanceOf(litres) >= probability) return from;
        if (medianPerDay <= 0) return null;
        double low = 0, high = UseHours.Between(from, from + Horizon, zone);
        if (Chance(high) < probability) return null;
        for (var i = 0; i < 40; i++)
        {
            var mid = 0.5 * (low + high);
            if (Chance(mid) < probability) low = mid;
            else high = mid;
        }
        return UseHours.After(from, high, zone);

        double Chance(double days)
        {
            var (median, scatter) = Inflow(days);
            return level.ChanceOf(litres, median, scatter);
        }
    }

    public ILevelForecast EmptiedAt(Instant moment)
    {
        return new MixtureForecast(level.Emptied(Residue.Mean * capacity, Residue.Sd * capacity), capacity, medianWhenClosed, false, moment, zone);
    }

    // Days scatter independently, so their variances add; within one day the scatter is shared, so it grows with the square.
    private (double Median, double Scatter) Inflow(double days)
    {
        var whole = Math.Floor(days);
        var part = days - whole;
        return (days * medianPerDay, (whole + part * part) * medianPerDay * medianPerDay * DayScatter.Variance);
    }
}

/// <summary>What stays in a tank that was emptied, as shares of its capacity: the corners beside the drain hole.</summary>
internal static class Residue
{
    public const double Mean = 0.012;
    public const double Sd = 0.010;
}

/// <summary>Scatter of one day around the household's own mean: log-normal with mean 1.</summary>
internal static class DayScatter
{
    /// <summary>Variance of one day's inflow as a multiple of its mean squared.</summary>
    public static readonly double Variance = Math.Exp(Rigs.Usage.DayLogSd * Rigs.Usage.DayLogSd) - 1;
}
