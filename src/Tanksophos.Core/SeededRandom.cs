namespace Tanksophos.Core;

/// <summary>A generator of our own (PCG, 32 bits out of 64), so that a seed gives the same numbers on every machine and in every version.</summary>
internal sealed class SeededRandom
{
    private ulong state;

    /// <summary>Starts a sequence.</summary>
    /// <param name="seed">Any number; the same number gives the same sequence.</param>
    public SeededRandom(long seed)
    {
        Next();
        state += unchecked((ulong)seed);
        Next();
    }

    /// <summary>A number from 0, included, to 1, excluded.</summary>
    public double Uniform() => Next() / 4294967296.0;

    /// <summary>A standard normal number.</summary>
    public double Normal()
    {
        var radius = Math.Sqrt(-2 * Math.Log(1 - Uniform()));
        return radius * Math.Cos(2 * Math.PI * Uniform());
    }

    /// <summary>A log-normal number with mean 1.</summary>
    /// <param name="logSd">Standard deviation of its logarithm.</param>
    public double Scatter(double logSd) => Math.Exp(logSd * Normal() - 0.5 * logSd * logSd);

    private uint Next()
    {
        var old = state;
        state = unchecked(old * 6364136223846793005UL + 1442695040888963407UL);
        var shifted = (uint)(((old >> 18) ^ old) >> 27);
        var rotate = (int)(old >> 59);
        return (shifted >> rotate) | (shifted << (-rotate & 31));
    }
}
