using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Dumping;

/// <summary>The figures of a rinse, once for the plan, the run and what is written of it.</summary>
public static class RinsePlan
{
    /// <summary>A fill to swirl with, in litres: ten gallons, or a third of a small tank (practitioners' rule).</summary>
    public const double ThirdFillL = 10 * UsMeasures.GallonL;

    /// <summary>A quick refill in litres: practitioners put five to ten gallons back in.</summary>
    public const double QuickFillL = 7 * UsMeasures.GallonL;

    /// <summary>A bowl of the toilet in litres.</summary>
    public const double BowlL = 1.1 * UsMeasures.GallonL;

    /// <summary>Bowls in a pedal rinse: four, or one where people wait.</summary>
    public const int Bowls = 4, BowlsWhereOthersWait = 1;

    /// <summary>Litres per minute of a usual spray head until it is learned; heads give 0.9 to 3 gal/min.</summary>
    public const double HeadLPerMin = 1.8 * UsMeasures.GallonL;

    /// <summary>Litres per minute pushed in at the outlet until it is learned; 6 to 12 gal/min.</summary>
    public const double ReverseLPerMin = 8 * UsMeasures.GallonL;

    /// <summary>Litres of one fill by a hose.</summary>
    /// <param name="capacityL">The tank.</param>
    /// <param name="quick">Whether it is a quick refill.</param>
    public static double FillL(double capacityL, bool quick) => Math.Min(quick ? QuickFillL : ThirdFillL, capacityL / 3);

    /// <summary>Litres of one pedal rinse.</summary>
    /// <param name="capacityL">The tank.</param>
    /// <param name="othersWait">Whether it is a short one.</param>
    public static double PedalL(double capacityL, bool othersWait) => Math.Min((othersWait ? BowlsWhereOthersWait : Bowls) * BowlL, capacityL / 3);

    /// <summary>
    /// Most rinses of a run: at a station two, with people waiting one; quick 3, standard 5, thorough and at the end of a trip 7. Still dirty then: stop and
    /// plan a scrub.
    /// </summary>
    /// <param name="flush">The house rule.</param>
    /// <param name="station">Whether it is the quick form, for stations.</param>
    /// <param name="othersWait">Whether people wait.</param>
    /// <param name="last">Whether it is the last of a trip.</param>
    public static int Cap(FlushProgramme flush, bool station, bool othersWait, bool last) =>
        station ? othersWait ? 1 : 2 : last || flush == FlushProgramme.Thorough ? 7 : flush == FlushProgramme.Quick ? 3 : 5;

    /// <summary>Clear ends in a row that end a rinse: two for a thorough one and at the end of a trip.</summary>
    /// <param name="flush">The house rule.</param>
    /// <param name="station">Whether it is the quick form, for stations.</param>
    /// <param name="last">Whether it is the last of a trip.</param>
    public static int Need(FlushProgramme flush, bool station, bool last) => last || flush == FlushProgramme.Thorough && !station ? 2 : 1;

    /// <summary>
    /// Rinses to plan with: what this tank took until it was clear, one more where two clear ends are asked for, at most the cap; one at a station.
    /// </summary>
    /// <param name="toClear">Expected rinses until clear, from the rig's history.</param>
    /// <param name="need">Clear ends asked for.</param>
    /// <param name="cap">Most rinses.</param>
    /// <param name="station">Whether it is the quick form, for stations.</param>
    public static int Expected(double toClear, int need, int cap, bool station) => station ? 1 : (int)Math.Clamp(Math.Round(toClear) + need - 1, 1, cap);
}

/// <summary>Minutes to plan with, as practitioners count them.</summary>
internal static class RunMinutes
{
    /// <summary>Gloves, hose, both ends.</summary>
    public const double SetUp = 6;

    /// <summary>Black runs out.</summary>
    public const double BlackDrain = 2;

    /// <summary>A drain after a fill.</summary>
    public const double AfterFill = 1;

    /// <summary>Gray runs out.</summary>
    public const double GrayDrain = 3;

    /// <summary>The hose rinsed and stowed.</summary>
    public const double Stow = 6;

    /// <summary>Starter water and dose.</summary>
    public const double Starter = 3;

    /// <summary>A jug filled and poured.</summary>
    public const double Jug = 3;

    /// <summary>A pedal rinse.</summary>
    public const double Pedal = 2;
}
