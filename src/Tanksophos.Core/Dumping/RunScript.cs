using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Dumping;

/// <summary>What a step of the run is about.</summary>
public enum RunStepKind
{
    /// <summary>Gloves, eyes, hands; children and pets away.</summary>
    Gloves,

    /// <summary>Fan off, roof vent shut.</summary>
    Fan,

    /// <summary>Clean the bowl and the seal of its valve.</summary>
    Bowl,

    /// <summary>All valves closed, and a look for a drip when the cap comes off.</summary>
    Valves,

    /// <summary>The check of a place's hose run: fall, inlet, hoses.</summary>
    SetUp,

    /// <summary>The sewer hose.</summary>
    SewerHose,

    /// <summary>The macerator's thin hose.</summary>
    ThinHose,

    /// <summary>The rinse hose.</summary>
    RinseHose,

    /// <summary>Fill the jug.</summary>
    Jug,

    /// <summary>Top up before the dump.</summary>
    TopUp,

    /// <summary>Drain a tank.</summary>
    Drain,

    /// <summary>Rinse with the valve open.</summary>
    OpenRinse,

    /// <summary>Fill the closed tank.</summary>
    Fill,

    /// <summary>Pour water into the closed tank.</summary>
    Pour,

    /// <summary>Flood gray up into black behind the closed end valve.</summary>
    Flood,

    /// <summary>Look at the end of the cycle.</summary>
    Judge,

    /// <summary>Water off, let it drain, close.</summary>
    Close,

    /// <summary>Smell at the toilet before anything is dosed.</summary>
    Sniff,

    /// <summary>Rinse and stow the hose, cap on.</summary>
    Stow,

    /// <summary>The hose stays: look at it.</summary>
    HoseStays,

    /// <summary>Starter water.</summary>
    Starter,

    /// <summary>The dose.</summary>
    Dose,

    /// <summary>A little soap and water for gray.</summary>
    GrayCare,

    /// <summary>Gloves off last, wash hands.</summary>
    Wash,
}

/// <summary>What can be pressed.</summary>
public enum RunPress
{
    /// <summary>Done; on to the next.</summary>
    Done,

    /// <summary>Not done; on to the next.</summary>
    Skip,

    /// <summary>Look at the step before.</summary>
    Back,

    /// <summary>Look at another step; nothing is done by it.</summary>
    Jump,

    /// <summary>No drip at the cap; valves are closed.</summary>
    Dry,

    /// <summary>It drips at the cap; valves are closed.</summary>
    Drips,

    /// <summary>The tank's valve was opened.</summary>
    Open,

    /// <summary>The drain ran in one rush.</summary>
    Rush,

    /// <summary>It ran evenly.</summary>
    Steady,

    /// <summary>It ran slowly.</summary>
    Slow,

    /// <summary>Little came.</summary>
    Trickle,

    /// <summary>Nothing came.</summary>
    Nothing,

    /// <summary>The tank's valve was closed.</summary>
    Closed,

    /// <summary>The gray valve stays open.</summary>
    LeaveOpen,

    /// <summary>Valve closed and water on.</summary>
    CloseOn,

    /// <summary>Water on.</summary>
    WaterOn,

    /// <summary>Water off; may be pressed at any step.</summary>
    WaterOff,

    /// <summary>Poured in: one jug or bowlful.</summary>
    Poured,

    /// <summary>End valve closed, gray and black open: it floods.</summary>
    FloodOn,

    /// <summary>Gray closed again.</summary>
    FloodOff,

    /// <summary>End valve opened.</summary>
    EndOpen,

    /// <summary>One more cycle.</summary>
    Again,

    /// <summary>No more cycles.</summary>
    Enough,

    /// <summary>No smell.</summary>
    Pass,

    /// <summary>It smells.</summary>
    Fail,

    /// <summary>It is in.</summary>
    In,

    /// <summary>The run is finished.</summary>
    Finish,

    /// <summary>The run is broken off; may be pressed at any step.</summary>
    BreakOff,

    /// <summary>A run that was broken off is taken up again.</summary>
    Resume,
}

/// <summary>One step of a run.</summary>
/// <param name="Id">Unique within the run.</param>
/// <param name="Kind">What it is about.</param>
/// <param name="Tank">Id of the tank meant; null if none is.</param>
/// <param name="Presses">What can be pressed in it beside going back, skipping and looking elsewhere.</param>
public sealed record RunStep(string Id, RunStepKind Kind, string? Tank, IReadOnlyList<RunPress> Presses)
{
    /// <summary>Id of the rinse it is repeated in; null outside.</summary>
    public string? Loop { get; init; }

    /// <summary>Minutes to plan with, once.</summary>
    public double Minutes { get; init; }

    /// <summary>The most that may go in, for a fill.</summary>
    public FillLimit? Limit { get; init; }

    /// <summary>The same after a slow drain: the tank may be clogged.</summary>
    public FillLimit? SuspectLimit { get; init; }

    /// <summary>Litres to aim for.</summary>
    public double? AimL { get; init; }

    /// <summary>Seconds to aim for.</summary>
    public double? AimSeconds { get; init; }

    /// <summary>Usual seconds of a drain from this level, and from which on it is slow.</summary>
    public double? UsualSeconds { get; init; }

    /// <summary>Seconds from which on a drain is slow for this rig.</summary>
    public double? SlowSeconds { get; init; }

    /// <summary>What is dosed.</summary>
    public DoseRecipe? Recipe { get; init; }

    /// <summary>How much of it, in the measures of the kitchen.</summary>
    public string? Amount { get; init; }

    /// <summary>What it takes from the rig's shelf.</summary>
    public IReadOnlyList<ProductUse> Used { get; init; } = [];

    /// <summary>How the water gets in, for a step that puts some in; null otherwise.</summary>
    public FlushMethod? Method { get; init; }

    /// <summary>
    /// Whether the water goes in from below: through the reverse fitting, its gate closed, with the tank's own valve open.
    /// </summary>
    public bool BehindEnd { get; init; }

    /// <summary>Whether the sewer hose is on already, with gray running into it: then there is no cap to take off.</summary>
    public bool HoseOn { get; init; }

    /// <summary>Whether a macerator pumps.</summary>
    public bool Pump { get; init; }

    /// <summary>Whether the step follows a black drain that may end with a half-full tank: then it is not to be done.</summary>
    public bool NeedsEmptied => Kind is RunStepKind.Fill or RunStepKind.Pour or RunStepKind.Flood or RunStepKind.OpenRinse;
}

/// <summary>How a tank is rinsed.</summary>
/// <param name="Loop">Id, as in the steps.</param>
/// <param name="Tank">The tank.</param>
/// <param name="Method">How the water gets in.</param>
/// <param name="School">How the fills are done.</param>
/// <param name="Need">Clear ends in a row that are enough.</param>
/// <param name="Cap">Cycles after which one stops and plans a scrub.</param>
/// <param name="PerCycleL">Litres of a cycle.</param>
/// <param name="OnHandL">Litres of rinse water there are; null where a tap runs.</param>
/// <param name="Further">Expected further cycles after none, one, two ... cycles that were not clear.</param>
public sealed record RunRinse(string Loop, string Tank, FlushMethod Method, RinseSchool School, int Need, int Cap, double PerCycleL, double? OnHandL,
    IReadOnlyList<double> Further)
{
    /// <summary>Litres per minute, if learned; the seconds of a fill are then also litres.</summary>
    public double? FlowLPerMin { get; init; }
}

/// <summary>A run, built once: what is pressed later is about this, whatever becomes of the rig meanwhile.</summary>
/// <param name="Form">Its form.</param>
/// <param name="Place">Where.</param>
/// <param name="Steps">Its steps in order.</param>
/// <param name="Rinses">How tanks are rinsed in it.</param>
/// <param name="Tanks">The tanks it is about, with their valves at the start.</param>
public sealed record RunScript(RunForm Form, RunPlace Place, IReadOnlyList<RunStep> Steps, IReadOnlyList<RunRinse> Rinses, IReadOnlyList<RunScriptTank> Tanks)
{
    /// <summary>Number of a step.</summary>
    /// <returns>-1 for none.</returns>
    public int IndexOf(string? id)
    {
        for (var i = 0; i < Steps.Count; i++) if (Steps[i].Id == id) return i;
        return -1;
    }

    /// <summary>The gray that floods up into black: the fullest; null for a rig without one.</summary>
    public string? Floods => Tanks.Where(t => t.Role == TankRole.Gray).OrderByDescending(t => t.LevelL).FirstOrDefault()?.Id;

    /// <summary>The rinse of a step; null outside of one.</summary>
    public RunRinse? RinseOf(RunStep step)
    {
        ArgumentNullException.ThrowIfNull(step);
        return step.Loop is null ? null : Rinses.FirstOrDefault(r => r.Loop == step.Loop);
    }

    /// <summary>Minutes that it takes, rinse cycles counted as often as they are expected, at this crew's pace.</summary>
    public double Minutes => PlannedMinutes * Pace;

    /// <summary>The same before anything was learned of the crew.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public double PlannedMinutes => Steps.Sum(s => s.Minutes * (RinseOf(s) is { } r ? ExpectedRinses(r) : 1));

    /// <summary>How this crew's runs compare with the planned time, as learned; 1 is as planned.</summary>
    public double Pace { get; init; } = 1;

    /// <summary>Rinses that are expected of a loop of this run.</summary>
    /// <param name="rinse">The loop.</param>
    public int ExpectedRinses(RunRinse rinse)
    {
        ArgumentNullException.ThrowIfNull(rinse);
        return RinsePlan.Expected(rinse.Further.Count > 0 ? rinse.Further[0] : 1, rinse.Need, rinse.Cap, Form == RunForm.Quick);
    }
}

/// <summary>A tank of a run.</summary>
/// <param name="Id">Its id.</param>
/// <param name="Role">Black or gray.</param>
/// <param name="CapacityL">Capacity in litres.</param>
/// <param name="Open">Whether its valve stood open at the start.</param>
/// <param name="LevelL">Litres expected in it at the start.</param>
public sealed record RunScriptTank(string Id, TankRole Role, double CapacityL, bool Open, double LevelL)
{
    /// <summary>Litres as its plate states them, where less is counted with; null where that is its capacity.</summary>
    public double? StatedL { get; init; }
}
