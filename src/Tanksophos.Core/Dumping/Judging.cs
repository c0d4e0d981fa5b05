using Tanksophos.Core.Log;

namespace Tanksophos.Core.Dumping;

/// <summary>The answer to "one more?".</summary>
public enum Verdict
{
    /// <summary>The end of the last cycle was not looked at.</summary>
    Look,

    /// <summary>It is clean: enough.</summary>
    Clean,

    /// <summary>One more.</summary>
    OneMore,

    /// <summary>A clear end; thorough wants two in a row.</summary>
    OnceMoreToBeSure,

    /// <summary>Still dirty after as many cycles as make sense: stop, and plan a scrub.</summary>
    StopAndScrub,

    /// <summary>Not clean, but there is no water left for another.</summary>
    NoWaterLeft,

    /// <summary>The tank did not empty: nothing more may go in.</summary>
    NotEmptied,
}

/// <summary>
/// Judges whether a tank is clean. What counts is the trickle at the END of a cycle: its first gush is always dark, and the middle looks clean too soon.
/// </summary>
internal static class Judging
{
    /// <summary>From this share of a cycle's water on, a rinse counts as a whole one.</summary>
    public const double LittleWater = 0.5;

    /// <summary>Whether the end of a cycle was clean: clear, and no debris but specks.</summary>
    public static bool IsClean(FlushCycle cycle)
    {
        ArgumentNullException.ThrowIfNull(cycle);
        return cycle is { End: EndColor.Clear, Debris: null or Debris.None or Debris.Specks };
    }

    /// <summary>The answer after some cycles.</summary>
    /// <param name="cycles">The cycles so far, at least one.</param>
    /// <param name="need">Clean ends in a row that are enough.</param>
    /// <param name="cap">Cycles after which one stops.</param>
    /// <param name="leftL">Litres of rinse water left; null where a tap runs.</param>
    /// <param name="perCycleL">Litres of a cycle.</param>
    public static Verdict Judge(IReadOnlyList<FlushCycle> cycles, int need, int cap, double? leftL, double perCycleL)
    {
        ArgumentNullException.ThrowIfNull(cycles);
        if (cycles.Count == 0 || cycles[^1].End is null) return Verdict.Look;
        var clean = 0;
        for (var i = cycles.Count - 1; i >= 0 && IsClean(cycles[i]); i--) clean++;
        if (clean >= need) return Verdict.Clean;
        // Five fills of a gallon are not five rinses: what counts is the water.
        var rinses = cycles.Sum(c => c.WaterL is { } litres && perCycleL > 0 ? Math.Min(1, litres / (LittleWater * perCycleL)) : 1);
        if (rinses >= cap) return clean > 0 ? Verdict.Clean : Verdict.StopAndScrub;
        if (leftL < 0.5 * perCycleL) return Verdict.NoWaterLeft;
        return clean > 0 ? Verdict.OnceMoreToBeSure : Verdict.OneMore;
    }
}
