namespace Tanksophos.Core.Levels;

/// <summary>The level of one tank and the household's factor, as far as they matter for what comes: a mixture of normal distributions.</summary>
internal sealed class LevelMixture
{
    private const int MaxSteps = 60;
    private const double Fine = 1e-8; // of the tank

    private readonly double capacity;
    private readonly Part[] parts;

    /// <summary>One normal of the mixture.</summary>
    /// <param name="Weight">Its weight.</param>
    /// <param name="Mean">Expected litres.</param>
    /// <param name="Variance">Its variance.</param>
    /// <param name="Factor">The household's factor.</param>
    /// <param name="FactorVariance">Its variance within this part.</param>
    /// <param name="Covariance">Covariance of level and factor within this part.</param>
    public readonly record struct Part(double Weight, double Mean, double Variance, double Factor, double FactorVariance, double Covariance)
    {
        /// <summary>Whether the two are so near each other that one normal says what both do.</summary>
        public bool IsLike(Part other)
        {
            var gap = Math.Abs(Mean - other.Mean);
            return gap * gap < 0.04 * Math.Min(Variance, other.Variance) && Math.Abs(Variance - other.Variance) < 0.2 * Math.Min(Variance, other.Variance);
        }

        /// <summary>The two as one, with the same mean and variance as both together.</summary>
        public Part With(Part other)
        {
            var weight = Weight + other.Weight;
            var s = other.Weight / weight;
            double level = other.Mean - Mean, factor = other.Factor - Factor;
            return new Part(weight, Mean + s * level, (1 - s) * Variance + s * other.Variance + s * (1 - s) * level * level, Factor + s * factor,
                (1 - s) * FactorVariance + s * other.FactorVariance + s * (1 - s) * factor * factor,
                    (1 - s) * Covariance + s * other.Covariance + s * (1 - s) * level * factor);
        }
    }

    public LevelMixture(double capacityL, IReadOnlyList<Part> parts)
    {
        capacity = capacityL;
        var sum = parts.Sum(p => p.Weight);
        this.parts = [.. parts.Select(p => p with { Weight = p.Weight / sum })];
    }

    /// <summary>The same, less sure of its levels.</summary>
    /// <param name="times">How many times the variance; 1 and more.</param>
    /// <param name="scale">How far, as a share, every level may be off because the tank holds more or less than it should (sd).</param>
    /// <param name="seen">Variance with which somebody saw the level last; that part is as sure as it was.</param>
    public LevelMixture LessSure(double times, double scale, double seen = 0) => new(capacity,
        [.. parts.Select(p => p with { Variance = times * p.Variance - (times - 1) * Math.Min(seen, p.Variance) + scale * scale * p.Mean * p.Mean })]);

    /// <summary>Mean of the household's factor.</summary>
    public double ExpectedFactor => parts.Sum(p => p.Weight * p.Factor);

    /// <summary>The same household with the tank emptied.</summary>
    public LevelMixture Emptied(double residue, double sd) =>
        new(capacity, [.. parts.Select(p => p with { Mean = residue, Variance = sd * sd, Covariance = 0 })]);

    /// <summary>
    /// Chance of at least so much, after a further inflow of <paramref name="median"/> litres for the median household, scattered by <paramref name="scatter"/>
    /// times the factor squared.
    /// </summary>
    public double ChanceOf(double litres, double median = 0, double scatter = 0)
    {
        if (litres <= 0) return 1;
        var sum = 0.0;
        foreach (var p in parts)
        {
            var variance = p.Variance + 2 * median * p.Covariance + median * median * p.FactorVariance + scatter * p.Factor * p.Factor;
            sum += p.Weight * Gaussian.Below((p.Mean + median * p.Factor - litres) / (Math.Sqrt(Math.Max(variance, 0)) + 1e-9));
        }
        return sum;
    }

    /// <summary>The level not exceeded with a probability, between empty and full, after a further inflow.</summary>
    public double Quantile(double probability, double median = 0, double scatter = 0)
    {
        // Between a point below and one above, by false position with halved weight for the end that stays; halving where that is slow.
        double low = 0, high = capacity;
        var atLow = -probability;
        var atHigh = 1 - ChanceOf(capacity, median, scatter) - probability;
        if (atHigh <= 0) return capacity;
        for (var i = 0; i < MaxSteps && high - low > Fine * capacity; i++)
        {
            var guess = i % 4 == 3 ? 0.5 * (low + high) : (low * atHigh - high * atLow) / (atHigh - atLow);
            guess = Math.Clamp(guess, low + 0.02 * (high - low), high - 0.02 * (high - low));
            var there = 1 - ChanceOf(guess, median, scatter) - probability;
            if (there < 0)
            {
                (low, atLow) = (guess, there);
                atHigh *= 0.5;
            }
            else
            {
                (high, atHigh) = (guess, there);
                atLow *= 0.5;
            }
        }
        return 0.5 * (low + high);
    }

    public LevelBand Band(double median = 0, double scatter = 0) =>
        new(Quantile(0.05, median, scatter), Quantile(0.5, median, scatter), Quantile(0.95, median, scatter));
}
