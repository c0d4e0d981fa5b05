using NodaTime;
using Tanksophos.Core.Log;

namespace Tanksophos.Core.Diagnosis;

/// <summary>What can be wrong with a tank, beside its lamps.</summary>
public enum Condition
{
    /// <summary>A coat on walls and in corners.</summary>
    Buildup,

    /// <summary>A heap under the toilet: liquids leave, solids stay.</summary>
    Heap,

    /// <summary>The outlet is clogged.</summary>
    OutletClog,

    /// <summary>Its vent is blocked.</summary>
    VentBlocked,

    /// <summary>Its valve leaks or does not close.</summary>
    ValveLeak,

    /// <summary>Its valve moves hard.</summary>
    ValveStiff,
}

/// <summary>What can be behind a smell.</summary>
public enum OdorCause
{
    /// <summary>The exhaust fan draws the tank's air in.</summary>
    FanDraw,

    /// <summary>The bowl's seal leaks.</summary>
    BowlSeal,

    /// <summary>Black has gone anaerobic.</summary>
    BlackAnaerobic,

    /// <summary>Black's walls are coated.</summary>
    BlackCoated,

    /// <summary>A trap is dry.</summary>
    DryTrap,

    /// <summary>Gray is coated or greasy.</summary>
    GrayGreasy,

    /// <summary>A valve stands open to a sewer.</summary>
    ValveOpenToSewer,

    /// <summary>The vent is blocked.</summary>
    VentBlocked,

    /// <summary>Hose, cap or storage bay.</summary>
    HoseOrCap,

    /// <summary>Propane.</summary>
    Propane,
}

/// <summary>Something the log says, or that follows from it, which speaks for or against a cause.</summary>
public enum SignCode
{
    /// <summary>Water came back up on flushing.</summary>
    BacksUp,

    /// <summary>It drained slowly.</summary>
    DrainsSlowly,

    /// <summary>The toilet gurgled while the tank was not full.</summary>
    Gurgles,

    /// <summary>The toilet gurgled while the tank was about full, which explains it.</summary>
    GurglesWhenFull,

    /// <summary>It filled much too soon.</summary>
    FillsTooSoon,

    /// <summary>A heap was seen.</summary>
    HeapSeen,

    /// <summary>The valve was open and nothing came.</summary>
    NothingCame,

    /// <summary>The valve moved hard.</summary>
    ValveStiff,

    /// <summary>The valve dripped.</summary>
    ValveDrips,

    /// <summary>The valve did not close.</summary>
    ValveWontClose,

    /// <summary>A sniff test failed straight after a dump.</summary>
    SniffFailed,

    /// <summary>A sniff test failed, not straight after a dump.</summary>
    SniffFailedLater,

    /// <summary>A sniff test passed after a dump.</summary>
    SniffPassed,

    /// <summary>The roof vent was found blocked.</summary>
    VentFoundBlocked,

    /// <summary>The roof vent was found clear.</summary>
    VentFoundClear,

    /// <summary>It dripped when the cap came off.</summary>
    CapWet,

    /// <summary>The cap was dry.</summary>
    CapDry,

    /// <summary>A dump left in a rush.</summary>
    Rushed,

    /// <summary>A dump ran steadily.</summary>
    RanSteadily,

    /// <summary>A dump ran slowly.</summary>
    RanSlowly,

    /// <summary>Only a trickle came.</summary>
    Trickled,

    /// <summary>A drain took longer than this rig's usual from that level.</summary>
    DrainedLong,

    /// <summary>A drain took as long as usual.</summary>
    DrainedAsUsual,

    /// <summary>The level hardly fell at a dump.</summary>
    StayedFull,

    /// <summary>A dump from a good level brought liquid alone.</summary>
    LiquidAlone,

    /// <summary>The black valve stood open.</summary>
    BlackStoodOpen,

    /// <summary>It was used without starter water.</summary>
    DryStart,

    /// <summary>It was dumped from a low level.</summary>
    LowDump,

    /// <summary>It is used with little water.</summary>
    ThriftyUse,

    /// <summary>The paper in use does not dissolve.</summary>
    PaperFailed,

    /// <summary>It was stored without a flush.</summary>
    StoredDirty,

    /// <summary>Cycles to clear rise over the months.</summary>
    CyclesRise,

    /// <summary>The last rinses took more cycles than earlier ones.</summary>
    CyclesMore,

    /// <summary>Rinses end dirty after many cycles.</summary>
    RinseDirty,

    /// <summary>Rinses run clear at once.</summary>
    RinseClear,

    /// <summary>Less was metered up to Full than the tank should hold.</summary>
    HoldsLess,

    /// <summary>As much was metered up to Full as the tank should hold.</summary>
    HoldsAll,

    /// <summary>A lamp is fouled.</summary>
    LampFouled,

    /// <summary>All lamps are believed.</summary>
    LampsGood,

    /// <summary>It smelled straight after a dump.</summary>
    SmellAfterDump,

    /// <summary>Nothing that cleans deeply was logged for long.</summary>
    LongUncleaned,

    /// <summary>The level fell without a dump.</summary>
    LevelFell,

    /// <summary>Black fell while gray rose.</summary>
    CrossFlow,

    /// <summary>The level held without a dump.</summary>
    LevelHeld,

    /// <summary>It smelled outside or in the storage bay.</summary>
    SmellAtBay,

    /// <summary>It smelled on flushing with no fan on.</summary>
    SmellOnFlush,
}

/// <summary>A sign as found in a log.</summary>
/// <param name="Code">What it is.</param>
/// <param name="At">When.</param>
/// <param name="Entry">The entry behind it, or the last of several; null if it follows from the belief.</param>
/// <param name="Size">How strong it is beside the usual, 1 for the usual.</param>
public sealed record Sign(SignCode Code, Instant At, LogEntry? Entry, double Size = 1);

/// <summary>A sign with what it weighs for one condition now.</summary>
/// <param name="Sign">The sign.</param>
/// <param name="Weight">Natural logarithm of the odds it adds; below 0 it speaks against.</param>
public sealed record Reason(Sign Sign, double Weight);

/// <summary>How likely a condition is, and why.</summary>
/// <param name="Code">The condition.</param>
/// <param name="Probability">0..1.</param>
/// <param name="Reasons">What speaks for and against it, the weightiest first.</param>
public sealed record ConditionBelief(Condition Code, double Probability, IReadOnlyList<Reason> Reasons);

/// <summary>How likely a cause is behind the smells of the last two weeks, and why.</summary>
/// <param name="Cause">The cause.</param>
/// <param name="Probability">0..1; all together at most 1.</param>
/// <param name="Reasons">What speaks for and against it, the weightiest first.</param>
public sealed record OdorBelief(OdorCause Cause, double Probability, IReadOnlyList<OdorReason> Reasons);

/// <summary>Something that speaks for or against a cause of a smell.</summary>
/// <param name="What">What it is.</param>
/// <param name="Weight">Natural logarithm of its odds against the mean of all causes.</param>
/// <param name="Entry">The entry behind it; null if it follows from several.</param>
public sealed record OdorReason(OdorSign What, double Weight, LogEntry? Entry);

/// <summary>What is told of a smell, and what else bears on it.</summary>
public enum OdorSign
{
    /// <summary>Where it was.</summary>
    Where,

    /// <summary>What it smelled like.</summary>
    Smell,

    /// <summary>What was going on.</summary>
    When,

    /// <summary>The bowl does not hold its water.</summary>
    BowlDry,

    /// <summary>The bowl holds its water.</summary>
    BowlHolds,

    /// <summary>A trap was found dry.</summary>
    TrapDry,

    /// <summary>The traps hold water.</summary>
    TrapsWet,

    /// <summary>Nobody looked into the traps for longer than they hold their water.</summary>
    TrapsLongAgo,

    /// <summary>The roof vent was found blocked.</summary>
    VentBlocked,

    /// <summary>The roof vent is clear.</summary>
    VentClear,

    /// <summary>Hose or cap was found wet or broken, or a valve drips.</summary>
    HoseOrCapBad,

    /// <summary>Hose and cap are sound.</summary>
    HoseOrCapGood,

    /// <summary>A sniff test failed.</summary>
    SniffFailed,

    /// <summary>A sniff test passed.</summary>
    SniffPassed,

    /// <summary>It was jetted or deep cleaned since.</summary>
    Cleaned,

    /// <summary>The toilet gurgled, or drained slowly, while the tank was not full.</summary>
    Gurgles,

    /// <summary>Long since the black dump.</summary>
    LongSinceDump,

    /// <summary>Days since the black dump, and hot ones.</summary>
    HotSinceDump,

    /// <summary>Black was dumped just before.</summary>
    DumpedJustBefore,

    /// <summary>Bleach went in.</summary>
    Bleach,

    /// <summary>A valve stood open at a sewer.</summary>
    ValveOpen,

    /// <summary>No valve stood open.</summary>
    ValvesClosed,

    /// <summary>There was no sewer.</summary>
    NoSewer,

    /// <summary>The rig had stood unused.</summary>
    AfterStanding,

    /// <summary>Gray stood open for days.</summary>
    GrayOpenLong,

    /// <summary>A propane alarm stands.</summary>
    AlarmStands,

    /// <summary>Propane was ruled out.</summary>
    AlarmCleared,

    /// <summary>Signs of a coat on the walls.</summary>
    Coated,
}
