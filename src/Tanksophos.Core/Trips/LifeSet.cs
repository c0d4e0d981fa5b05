using System.Numerics;

namespace Tanksophos.Core.Trips;

/// <summary>A set of possible lives, a bit each.</summary>
internal static class LifeSet
{
    public const int Words = DemandScenarios.Count / 64;

    public static readonly ulong[] None = new ulong[Words];
    public static readonly ulong[] All = [.. Enumerable.Repeat(ulong.MaxValue, Words)];

    public static ulong[] Union(ulong[] a, ulong[] b)
    {
        if (ReferenceEquals(a, None) || ReferenceEquals(a, b)) return b;
        if (ReferenceEquals(b, None)) return a;
        var u = new ulong[Words];
        for (var i = 0; i < Words; i++) u[i] = a[i] | b[i];
        return u;
    }

    /// <summary>Whether all of the first are in the second.</summary>
    public static bool Within(ulong[] a, ulong[] b)
    {
        for (var i = 0; i < Words; i++) if ((a[i] & ~b[i]) != 0) return false;
        return true;
    }

    public static int Counted(ulong[] a)
    {
        var n = 0;
        foreach (var w in a) n += BitOperations.PopCount(w);
        return n;
    }

    /// <summary>How many are in one or the other.</summary>
    public static int CountedTogether(ulong[] a, ulong[] b)
    {
        var n = 0;
        for (var i = 0; i < Words; i++) n += BitOperations.PopCount(a[i] | b[i]);
        return n;
    }

    /// <summary>The lives for which more is in a tank than it holds.</summary>
    public static ulong[] Above(double[] level, double capacityL)
    {
        ulong[]? set = null;
        for (var word = 0; word < Words; word++)
        {
            var bits = 0UL;
            for (var bit = 0; bit < 64; bit++) bits |= (level[64 * word + bit] > capacityL ? 1UL : 0) << bit;
            if (bits != 0) (set ??= new ulong[Words])[word] = bits;
        }
        return set ?? None;
    }
}
