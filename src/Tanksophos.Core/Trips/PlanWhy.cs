namespace Tanksophos.Core.Trips;

/// <summary>Why something is planned.</summary>
public enum PlanWhy
{
    /// <summary>Gray fills first here: dish water and warm-up water go down the toilet.</summary>
    GrayFillsFirst,

    /// <summary>The house keeps gray closed and dumps it at about two thirds.</summary>
    StaysClosed,

    /// <summary>Gray may not drain here.</summary>
    MayNotDrain,

    /// <summary>Near two thirds, and there is a sewer.</summary>
    NearTwoThirds,

    /// <summary>It would not last to the next drain; black is left for a better place.</summary>
    WontLastToDrain,

    /// <summary>Gray water for the hose, and nothing of black can run up into it.</summary>
    ForTheRinse,

    /// <summary>The run is done.</summary>
    RunDone,

    /// <summary>Before the hose comes off.</summary>
    BeforeLeaving,

    /// <summary>Gray may drain here.</summary>
    MayDrain,

    /// <summary>Kept closed it would want more than two dumps a day.</summary>
    TooManyDumps,

    /// <summary>The house leaves it open.</summary>
    LeftOpen,

    /// <summary>It drains until it is wanted for the rinse.</summary>
    UntilRinse,

    /// <summary>No hose fits at the next sewer.</summary>
    JugRinses,

    /// <summary>Below the rush level.</summary>
    BelowRush,

    /// <summary>A site with its own sewer has time and water for it.</summary>
    OwnSewer,

    /// <summary>It would not last to a site with its own sewer.</summary>
    WontLastToSewer,

    /// <summary>The last sewer before it would be too full.</summary>
    LastSewer,

    /// <summary>Short, since others wait.</summary>
    OthersWait,

    /// <summary>Short; the long flush follows at a site with its own sewer.</summary>
    LongFlushLater,

    /// <summary>While the rig stays.</summary>
    WhileStaying,

    /// <summary>The last of the trip.</summary>
    LastOfTrip,

    /// <summary>Until the last trickle is clear.</summary>
    UntilClear,

    /// <summary>After black, so that it rinses the hose.</summary>
    RinsesHose,

    /// <summary>After each dump, by the house's school.</summary>
    AfterEachDump,

    /// <summary>Frost is likely in storage.</summary>
    FrostInStorage,

    /// <summary>The house stores the tank full of fresh water.</summary>
    StoredFull,

    /// <summary>The house stores the tank dry.</summary>
    StoredDry,

    /// <summary>A little treated water through storage.</summary>
    StoredTreated,

    /// <summary>Half as much again, since days without water follow.</summary>
    DryDaysAhead,

    /// <summary>Covers the bottom.</summary>
    CoversBottom,

    /// <summary>A course of scrubs for the sensors.</summary>
    SensorCourse,

    /// <summary>The school that doses before a drive.</summary>
    SchoolOfTheRoad,

    /// <summary>Once a month by the house rule.</summary>
    Monthly,

    /// <summary>Once a trip by the house rule.</summary>
    OncePerTrip,

    /// <summary>A dose works for about a week; this fill goes on.</summary>
    DoseWornOff,

    /// <summary>Emptied before a drive: it works on the road.</summary>
    WorksOnTheRoad,

    /// <summary>Unused drains dry out.</summary>
    UnusedTraps,
}
