namespace Tanksophos.Core.Levels;

/// <summary>
/// The level of one tank and the household's inflow factor, together: for each of a grid of factors the level is a normal
/// distribution. Inflow moves each by its own factor, so what is seen of the level teaches the factor, exactly and without chance.
/// </summary>
internal sealed class LevelMixture
{
    private const int FactorSteps = 41;
    private const double WidestSds = 3;
    private const double Negligible = 1e-9; // components below this weigh nothing in a chance or a quantile
    private const int Halvings = 30; // to a billionth of the tank

    private readonly double capacity;
    private readonly double[] factor;
    private double[] weight, mean, variance;
    private int[] group; // index of the factor of each component

    /// <summary>A tank about whose level nothing is known.</summary>
    /// <param name="capacityL">Litres to the top.</param>
    /// <param name="logSd">Spread of the household's factor (standard deviation of its logarithm).</param>
    public LevelMixture(double capacityL, double logSd)
    {
        capacity = capacityL;
        factor = new double[FactorSteps];
        var prior = new double[FactorSteps];
        for (var k = 0; k < FactorSteps; k++)
        {
            var z = WidestSds * (2.0 * k / (FactorSteps - 1) - 1);
            factor[k] = Math.Exp(z * logSd);
            prior[k] = Gaussian.Density(z);
        }
        // Unknown start: as likely freshly emptied as anywhere up to full.
        (double At, double Sd, double Share)[] starts = [(0.02, 0.015, 0.5), (0.2, 0.1, 0.2), (0.45, 0.12, 0.15), (0.75, 0.13, 0.15)];
        var n = FactorSteps * starts.Length;
        weight = new double[n];
        mean = new double[n];
        variance = new double[n];
        group = new int[n];
        for (var k = 0; k < FactorSteps; k++)
        {
            for (var s = 0; s < starts.Length; s++)
            {
                var i = k * starts.Length + s;
                weight[i] = prior[k] * starts[s].Share;
                mean[i] = starts[s].At * capacity;
                variance[i] = Square(starts[s].Sd * capacity);
                group[i] = k;
            }
        }
        Normalise();
    }

    private LevelMixture(LevelMixture other)
    {
        capacity = other.capacity;
        factor = other.factor;
        weight = [.. other.weight];
        mean = [.. other.mean];
        variance = [.. other.variance];
        group = [.. other.group];
    }

    public LevelMixture Copy() => new(this);

    /// <summary>Mean of the household's factor.</summary>
    public double ExpectedFactor
    {
        get
        {
            var sum = 0.0;
            for (var i = 0; i < weight.Length; i++) sum += weight[i] * factor[group[i]];
            return sum;
        }
    }

    public (double Mean, double Variance) Moments
    {
        get
        {
            double m = 0, s = 0;
            for (var i = 0; i < weight.Length; i++)
            {
                m += weight[i] * mean[i];
                s += weight[i] * (variance[i] + mean[i] * mean[i]);
            }
            return (m, Math.Max(0, s - m * m));
        }
    }

    /// <summary>Inflow of <paramref name="median"/> litres for the median household; <paramref name="scatter"/> is its variance in units of the factor squared.</summary>
    public void Flow(double median, double scatter)
    {
        for (var i = 0; i < mean.Length; i++)
        {
            var f = factor[group[i]];
            mean[i] += median * f;
            variance[i] += scatter * f * f;
            // What does not fit runs out of the vent. Far beyond that, a dump may have gone unlogged: full is likeliest, little is known.
            if (mean[i] <= capacity * 2) continue;
            mean[i] = capacity * 2;
            variance[i] = Math.Max(variance[i], Square(capacity));
        }
    }

    /// <summary>A known amount went in or, if negative, came out.</summary>
    public void Add(double litres, double sd)
    {
        for (var i = 0; i < mean.Length; i++)
        {
            mean[i] = Math.Clamp(mean[i] + litres, 0, capacity * 1.2);
            variance[i] += sd * sd;
        }
    }

    /// <summary>The tank was emptied: what was learned of the factor stays, the level is the residue.</summary>
    public void Empty(double residue, double sd)
    {
        var w = new double[FactorSteps];
        for (var i = 0; i < weight.Length; i++) w[group[i]] += weight[i];
        weight = w;
        mean = [.. Enumerable.Repeat(residue, FactorSteps)];
        variance = [.. Enumerable.Repeat(sd * sd, FactorSteps)];
        group = [.. Enumerable.Range(0, FactorSteps)];
    }

    /// <summary>The tank may have lost part of what was in it.</summary>
    public void Lose(double share, double sdShare)
    {
        for (var i = 0; i < mean.Length; i++)
        {
            variance[i] += Square(sdShare * mean[i]);
            mean[i] *= 1 - share;
        }
    }

    /// <summary>
    /// A level was seen, with a normal error. Where it lies far from what was expected, either the observation is plainly wrong, or
    /// (<paramref name="eyes"/>) something happened that is not in the log: then what was seen stands.
    /// </summary>
    /// <param name="litres">What was seen.</param>
    /// <param name="sd">Standard deviation of its error.</param>
    /// <param name="eyes">Whether a person looked or metered, rather than a panel.</param>
    public void ObserveLevel(double litres, double sd, bool eyes)
    {
        const double wrong = 0.03;
        for (var i = 0; i < mean.Length; i++)
        {
            var total = variance[i] + sd * sd;
            var gap = litres - mean[i];
            var right = (1 - wrong) * Gaussian.Density(gap / Math.Sqrt(total)) / Math.Sqrt(total);
            var likelihood = right + wrong / capacity;
            var believed = right / likelihood;
            var gain = variance[i] / total;
            weight[i] *= likelihood;
            // Two cases mixed into one normal: corrected as usual, or untouched (a wrong panel) or moved to what was seen (eyes).
            var other = eyes ? 1.0 : 0.0;
            var otherVariance = eyes ? sd * sd : variance[i];
            mean[i] += (believed * gain + (1 - believed) * other) * gap;
            variance[i] = believed * variance[i] * (1 - gain) + (1 - believed) * otherVariance + believed * (1 - believed) * Square((other - gain) * gap);
        }
        Normalise();
    }

    /// <summary>
    /// Something was seen whose likelihood is <paramref name="above"/> if the level is at or above a mark and <paramref name="below"/> otherwise;
    /// slosh blurs the mark.
    /// </summary>
    public void ObserveMark(double mark, double blur, double above, double below)
    {
        for (var i = 0; i < mean.Length; i++)
        {
            var spread = Math.Sqrt(variance[i] + blur * blur);
            var d = (mean[i] - mark) / spread;
            var p = Gaussian.Below(d);
            var z = above * p + below * (1 - p);
            var slope = (above - below) * Gaussian.Density(d) / (spread * z);
            var curve = -slope * d / spread - slope * slope;
            weight[i] *= z;
            mean[i] += variance[i] * slope;
            variance[i] = Math.Max(variance[i] * (1 + variance[i] * curve), 1e-6);
        }
        Normalise();
    }

    /// <summary>Chance of at least so much, after a further inflow as in <see cref="Flow"/>.</summary>
    public double ChanceOf(double litres, double median = 0, double scatter = 0)
    {
        if (litres <= 0) return 1;
        var sum = 0.0;
        for (var i = 0; i < mean.Length; i++)
        {
            if (weight[i] < Negligible) continue;
            var f = factor[group[i]];
            var sd = Math.Sqrt(variance[i] + scatter * f * f) + 1e-9;
            sum += weight[i] * Gaussian.Below((mean[i] + median * f - litres) / sd);
        }
        return sum;
    }

    /// <summary>The level not exceeded with a probability, between empty and full, after a further inflow.</summary>
    public double Quantile(double probability, double median = 0, double scatter = 0)
    {
        double low = 0, high = capacity;
        if (ChanceOf(capacity, median, scatter) >= 1 - probability) return capacity;
        for (var i = 0; i < Halvings; i++)
        {
            var mid = 0.5 * (low + high);
            if (1 - ChanceOf(mid, median, scatter) < probability) low = mid;
            else high = mid;
        }
        return 0.5 * (low + high);
    }

    public LevelBand Band(double median = 0, double scatter = 0) =>
        new(Quantile(0.05, median, scatter), Quantile(0.5, median, scatter), Quantile(0.95, median, scatter));

    private void Normalise()
    {
        var sum = 0.0;
        foreach (var w in weight) sum += w;
        if (!(sum > 1e-250)) // everything was impossible: keep what was known
        {
            Array.Fill(weight, 1.0 / weight.Length);
            return;
        }
        for (var i = 0; i < weight.Length; i++) weight[i] /= sum;
    }

    private static double Square(double x) => x * x;
}
