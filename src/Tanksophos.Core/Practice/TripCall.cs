using Tanksophos.Core.Rigs;
using Tanksophos.Core.Trips;

namespace Tanksophos.Core.Practice;

/// <summary>
/// What to do before or during some nights without a sewer, as an experienced owner calls it at a glance: by what is in the tanks, what comes in a day, and
/// the nights. The planner weighs far more; of plain cases it does the same in at least
/// five of six (a test counts them).
/// </summary>
internal static class TripCall
{
    // What comes in may be a third more than usual; a tank is not planned fuller than this.
    private const double More = 1.3, Fullest = 0.9;

    /// <summary>The call.</summary>
    /// <param name="question">Leaving a sewer, or staying without one.</param>
    /// <param name="black">Share of the black tank that is full.</param>
    /// <param name="gray">The same of gray.</param>
    /// <param name="blackPerDay">Share of black that a day brings.</param>
    /// <param name="grayPerDay">Share of gray that a day brings.</param>
    /// <param name="nights">Nights until the next sewer.</param>
    /// <param name="grayToBlack">Capacity of gray over that of black.</param>
    public static CaseAnswer For(CaseQuestion question, double black, double gray, double blackPerDay, double grayPerDay, int nights, double grayToBlack)
    {
        var blackThen = black + More * blackPerDay * nights;
        if (question == CaseQuestion.Leaving)
            return black >= HouseRules.Default.DumpBlackAt || blackThen > Fullest && black >= PlanSearch.LowestDump ? CaseAnswer.DumpNow
                : blackThen > Fullest ? CaseAnswer.TopUpThenDump : CaseAnswer.GrayOnly;
        var share = DryStay.MaxShare;
        var grayThen = gray + More * grayPerDay * nights;
        if (grayThen <= Fullest && blackThen <= Fullest) return CaseAnswer.CarryOn;
        var spared = gray + More * (1 - share) * grayPerDay * nights;
        return spared <= Fullest && blackThen + More * share * grayPerDay * nights * grayToBlack <= Fullest ? CaseAnswer.Divert : CaseAnswer.LeaveEarly;
    }
}
