using Tanksophos.Core.Levels;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Dumping;

/// <summary>What ends a closed fill.</summary>
public enum FillStop
{
    /// <summary>A water meter, set to zero before.</summary>
    Meter,

    /// <summary>Somebody at the panel, or a second person, step by step.</summary>
    Watched,

    /// <summary>The clock, with a flow that was learned by a bucket or from the meter.</summary>
    ClockKnownFlow,

    /// <summary>The clock alone; the flow is not known.</summary>
    Clock,
}

/// <summary>Why a closed fill is not allowed.</summary>
public enum NoFill
{
    /// <summary>There is no room that is surely free.</summary>
    NoRoom,

    /// <summary>The panel is in doubt, so watching it stops nothing.</summary>
    PanelInDoubt,

    /// <summary>No flow is known to compute the time from.</summary>
    FlowNotKnown,
}

/// <summary>The most that may go into a closed tank, and the longest it may take, with the figures it was computed from.</summary>
/// <param name="Stop">What ends the fill.</param>
/// <param name="Litres">Most litres; 0 if it is not allowed.</param>
/// <param name="Seconds">Longest time; null where the volume itself is watched.</param>
/// <param name="Refused">Why it is not allowed; null if it is.</param>
/// <param name="EffectiveCapacityL">The capacity that is counted with: the smaller of the stated and the measured one.</param>
/// <param name="UpToL">The level that must not be passed: what is kept free above it is the reserve.</param>
/// <param name="UpperLevelL">The upper side of what is believed to be in the tank.</param>
/// <param name="UpperFlowLPerMin">The upper side of the flow; null where no time is computed.</param>
public sealed record FillLimit(FillStop Stop, double Litres, double? Seconds, NoFill? Refused, double EffectiveCapacityL, double UpToL, double UpperLevelL,
    double? UpperFlowLPerMin)
{
    /// <summary>Seconds at which to warn: four fifths of the time.</summary>
    public double? WarnAtSeconds => 0.8 * Seconds;
}

/// <summary>
/// The overfill guard. Overfilling a closed tank is the most serious mistake of the work: it comes out of the roof vent or the toilet. Nobody leaves a filling
/// closed tank, whatever is computed here.
/// </summary>
public static class Guard
{
    /// <summary>Share of the effective capacity that is filled at most; the rest is reserve (practitioners' rule).</summary>
    public const double FillTo = 0.9;

    /// <summary>The same for a tank that may be clogged: it cannot be emptied quickly.</summary>
    public const double FillToIfSuspect = 0.7;

    /// <summary>Seconds of a timed fill without a meter, a watcher or a known flow (practitioners' school), and the most of it.</summary>
    public const double TimedFillSeconds = 30, MaxTimedFillSeconds = 45;

    // A learned flow scatters with park pressure by about 0.2 of its logarithm. Its upper side is at least the one that one time in twenty passes; beyond that
    // it is so high that level and flow together pass the top less than once in a thousand fills.
    private const double FlowLogSd = 0.2, UpperFlow = 1.645, MaxChance = 0.00097;

    // The fastest heads run at 3 gal/min, water pushed in at the outlet at 12.
    private const double FastestHeadLPerMin = 3 * UsMeasures.GallonL, FastestReverseLPerMin = 12 * UsMeasures.GallonL;
    private const double MinLitres = 2, ShortestSeconds = 5;

    /// <summary>Computes the limit of one closed fill.</summary>
    /// <param name="tank">The tank.</param>
    /// <param name="level">What is believed to be in it.</param>
    /// <param name="stop">What ends the fill.</param>
    /// <param name="flowLPerMin">The learned flow; null if none is.</param>
    /// <param name="suspect">Whether the tank may be clogged or its level rests on a sensor in doubt.</param>
    /// <param name="panelInDoubt">Whether its lamps are not believed.</param>
    /// <param name="reverse">Whether water is pushed in at the outlet, which is much faster.</param>
    public static FillLimit Limit(Tank tank, LevelBand level, FillStop stop, double? flowLPerMin = null, bool suspect = false, bool panelInDoubt = false,
        bool reverse = false)
    {
        ArgumentNullException.ThrowIfNull(tank);
        var effective = tank.CapacityL;
        var share = suspect ? FillToIfSuspect : FillTo;
        // Under watch the room above Full is the reserve, where there is one.
        var upTo = stop == FillStop.Watched && tank.RoomAboveFullL > 0 && !suspect ? Math.Min(effective - tank.RoomAboveFullL, share * effective)
            : share * effective;
        var upper = Math.Max(level.P95L, level.P50L);
        var litres = upTo - upper;
        FillLimit No(NoFill why) => new(stop, 0, null, why, effective, upTo, upper, null);
        if (stop == FillStop.Watched && panelInDoubt) return No(NoFill.PanelInDoubt);
        if (litres < MinLitres) return No(NoFill.NoRoom);
        if (stop is FillStop.Meter or FillStop.Watched) return new FillLimit(stop, litres, null, null, effective, upTo, upper, null);
        if (stop == FillStop.ClockKnownFlow)
        {
            if (flowLPerMin is not > 0) return No(NoFill.FlowNotKnown);
            var seconds = SureSeconds(flowLPerMin.Value, litres, level, effective);
            var fast = 60 * litres / seconds;
            return seconds < ShortestSeconds ? No(NoFill.NoRoom) : new FillLimit(stop, litres, seconds, null, effective, upTo, upper, fast);
        }
        var fastest = reverse ? FastestReverseLPerMin : FastestHeadLPerMin;
        var timed = Math.Min(Math.Min(TimedFillSeconds, MaxTimedFillSeconds), 60 * litres / fastest);
        return timed < ShortestSeconds ? No(NoFill.NoRoom) : new FillLimit(stop, litres, timed, null, effective, upTo, upper, fastest);
    }

    // The longest time at which the limit is not passed by the upper flow, and the top less than once in a thousand fills.
    private static double SureSeconds(double flowLPerMin, double litres, LevelBand level, double effective)
    {
        double low = 0, high = 60 * litres / (flowLPerMin * Math.Exp(UpperFlow * FlowLogSd));
        if (ChanceOver(high, flowLPerMin, level, effective) <= MaxChance) return high;
        for (var i = 0; i < 40; i++)
        {
            var middle = 0.5 * (low + high);
            if (ChanceOver(middle, flowLPerMin, level, effective) > MaxChance) high = middle;
            else low = middle;
        }
        return low;
    }

    // The chance that a fill of so many seconds passes the top, over the level's band and the flow's scatter.
    private static double ChanceOver(double seconds, double flowLPerMin, LevelBand level, double effective)
    {
        const int points = 24;
        const double width = 3.5;
        double sum = 0, weights = 0;
        for (var i = -points; i <= points; i++)
        {
            var z = width * i / points;
            var weight = Math.Exp(-0.5 * z * z);
            var there = level.P50L + z * (z > 0 ? level.P95L - level.P50L : level.P50L - level.P05L) / 1.645;
            var room = effective - Math.Max(0, there);
            sum += weight * (room <= 0 ? 1 : Gaussian.Below(Math.Log(flowLPerMin * seconds / 60 / room) / FlowLogSd));
            weights += weight;
        }
        return sum / weights;
    }

    /// <summary>The flow learned by a bucket test.</summary>
    /// <param name="litres">What the bucket holds, above 0.</param>
    /// <param name="seconds">How long it took to fill, above 0.</param>
    /// <returns>Litres per minute.</returns>
    /// <exception cref="ArgumentOutOfRangeException">One of them is not above 0.</exception>
    public static double FlowOf(double litres, double seconds)
    {
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(litres);
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(seconds);
        return 60 * litres / seconds;
    }
}
