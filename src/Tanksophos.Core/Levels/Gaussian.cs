namespace Tanksophos.Core.Levels;

/// <summary>The standard normal distribution.</summary>
internal static class Gaussian
{
    /// <summary>Density at <paramref name="x"/>.</summary>
    public static double Density(double x) => 0.3989422804014327 * Math.Exp(-0.5 * x * x);

    /// <summary>Probability of less than <paramref name="x"/>, to about 1e-7 (a rational Chebyshev fit of erfc).</summary>
    public static double Below(double x)
    {
        var z = Math.Abs(x) * 0.7071067811865476;
        var t = 1 / (1 + 0.5 * z);
        var erfc = t * Math.Exp(-z * z - 1.26551223 + t * (1.00002368 + t * (0.37409196 + t * (0.09678418 + t * (-0.18628806
            + t * (0.27886807 + t * (-1.13520398 + t * (1.48851587 + t * (-0.82215223 + t * 0.17087277)))))))));
        return x >= 0 ? 1 - 0.5 * erfc : 0.5 * erfc;
    }
}
