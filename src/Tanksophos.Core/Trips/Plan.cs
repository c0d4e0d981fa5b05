using NodaTime;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;

namespace Tanksophos.Core.Trips;

/// <summary>What a plan asks for.</summary>
public enum PlanActionKind
{
    /// <summary>Opened, drained, closed.</summary>
    Dump,

    /// <summary>Rinse cycles after a dump; ends drained and closed.</summary>
    Flush,

    /// <summary>A gray valve that stood open is closed.</summary>
    CloseValve,

    /// <summary>A gray valve is opened and stays open.</summary>
    OpenValve,

    /// <summary>Water into black before a dump, up to the rush level.</summary>
    TopUp,

    /// <summary>Water that covers the bottom after a dump.</summary>
    StarterWater,

    /// <summary>A treatment.</summary>
    Dose,

    /// <summary>A travel scrub put in before a drive.</summary>
    ScrubBeforeDrive,

    /// <summary>The jug is filled before leaving for a station without a threaded tap.</summary>
    FillJug,

    /// <summary>Part of the gray water goes down the toilet.</summary>
    Divert,

    /// <summary>Less water than expected is used.</summary>
    CutUse,

    /// <summary>Water into traps that are not used.</summary>
    TopUpTraps,
}

/// <summary>What would mend a plan that does not hold.</summary>
public enum PlanAdvice
{
    /// <summary>Let part of the gray water go down the toilet.</summary>
    DivertToBlack,

    /// <summary>Use less.</summary>
    CutUse,

    /// <summary>Dump earlier, below the rush level.</summary>
    DumpEarlier,

    /// <summary>Leave a stop earlier.</summary>
    LeaveEarlier,

    /// <summary>Take a dump station on the way.</summary>
    AddStation,

    /// <summary>Shorten a stay.</summary>
    ShortenStay,

    /// <summary>Leave a flush out.</summary>
    SkipFlush,
}

/// <summary>One action of a plan.</summary>
/// <param name="At">When, in the local time of its stop.</param>
/// <param name="Stop">Id of the stop.</param>
/// <param name="Kind">What.</param>
/// <param name="Tank">Id of the tank meant; null if none is.</param>
/// <param name="Why">The reason; null for an action that was kept before reasons had codes.</param>
public sealed record PlanAction(OffsetDateTime At, string Stop, PlanActionKind Kind, string? Tank, PlanWhy? Why)
{
    /// <summary>Litres expected in the tank just before (a dump).</summary>
    public double? ExpectedL { get; init; }

    /// <summary>Method of a flush.</summary>
    public FlushMethod? Method { get; init; }

    /// <summary>Cycles of a flush.</summary>
    public int? Cycles { get; init; }

    /// <summary>Litres of water.</summary>
    public double? WaterL { get; init; }

    /// <summary>What is dosed.</summary>
    public DoseRecipe? Recipe { get; init; }

    /// <summary>Its amount in words.</summary>
    public string? Amount { get; init; }

    /// <summary>Share of the gray water that goes to black.</summary>
    public double? ShareToBlack { get; init; }

    /// <summary>Whether it is doubled for the heat.</summary>
    public bool Doubled { get; init; }

    /// <summary>The place on a septic system where it would be dumped and would do harm; null if none is.</summary>
    public string? NotForSepticAt { get; init; }
}

/// <summary>A tank's level at a moment of the plan.</summary>
public readonly record struct PlanLevel(OffsetDateTime At, LevelBand Level);

/// <summary>Something that would lower a risk.</summary>
/// <param name="Advice">What.</param>
/// <param name="Stop">Id of the stop it is done at.</param>
/// <param name="RiskLeft">Chance that the tank overflows in this stretch all the same.</param>
public sealed record PlanMend(PlanAdvice Advice, string Stop, double RiskLeft)
{
    /// <summary>Share of the gray water that goes to black.</summary>
    public double? ShareToBlack { get; init; }

    /// <summary>What is used, as a share of what is expected.</summary>
    public double? ToFraction { get; init; }

    /// <summary>Days by which a stop is left earlier.</summary>
    public int? Days { get; init; }

    /// <summary>When a station would be taken, or an earlier dump made.</summary>
    public OffsetDateTime? At { get; init; }
}

/// <summary>A risk that a plan leaves, in one stretch from a drain of the tank to the next.</summary>
/// <param name="At">When it is greatest, in the local time of the stop.</param>
/// <param name="Tank">Id of the tank.</param>
/// <param name="Probability">Chance that the tank overflows in this stretch.</param>
/// <param name="Mends">What would lower it, the most useful first.</param>
public sealed record PlanRisk(OffsetDateTime At, string Tank, double Probability, IReadOnlyList<PlanMend> Mends)
{
    /// <summary>The kinds of what would mend it, the most useful first.</summary>
    public IReadOnlyList<PlanAdvice> Advice => [.. Mends.Select(m => m.Advice).Distinct()];
}

/// <summary>Sums over a plan.</summary>
public sealed record PlanTotals(int BlackDumps, int GrayDumps, double RinseWaterL, int Doses, double StationMinutes, double OverflowProbability)
{
    /// <summary>Chance that black overflows at least once, which has a rule of its own.</summary>
    public double BlackOverflowProbability { get; init; }
}

/// <summary>A schedule for a trip.</summary>
/// <param name="Feasible">Whether the risk of overflow, and that of black alone, are within the house rules.</param>
/// <param name="Actions">What to do, in the order of time.</param>
/// <param name="Levels">Each tank's level over the trip, by tank id.</param>
/// <param name="Risks">What may run over; empty for a plan without noticeable risk.</param>
/// <param name="Totals">Sums.</param>
public sealed record Plan(bool Feasible,
    IReadOnlyList<PlanAction> Actions, IReadOnlyDictionary<string, IReadOnlyList<PlanLevel>> Levels, IReadOnlyList<PlanRisk> Risks, PlanTotals Totals)
{
    /// <summary>Whether no other sequence of dumps on the grid is better; long trips may stop short of proving it.</summary>
    public bool Proven { get; init; }
}
