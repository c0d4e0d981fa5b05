using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Dumping;

/// <summary>A form of the dump run: how much of it is done.</summary>
public enum RunForm
{
    /// <summary>At a site with its own sewer and time: black, flush until clear, gray, sniff test.</summary>
    Full,

    /// <summary>At a station where people wait: black, a short rinse, gray, go.</summary>
    Quick,

    /// <summary>Gray alone, between black dumps.</summary>
    GrayOnly,

    /// <summary>Black alone; gray stays as it is.</summary>
    BlackOnly,

    /// <summary>The trip's last: flush until two ends in a row are clear, then water and dose for storage.</summary>
    EndOfTrip,
}

/// <summary>Where the run is to be.</summary>
public enum RunPlace
{
    /// <summary>A site with its own sewer inlet.</summary>
    Sewer,

    /// <summary>A dump station.</summary>
    Station,

    /// <summary>A site where gray may run off; black may not.</summary>
    GrayDrain,
}

/// <summary>What rinse water there is at the place.</summary>
public enum TapWater
{
    /// <summary>A tap that a hose fits.</summary>
    Threaded,

    /// <summary>A tap without a thread: it fills jugs.</summary>
    Unthreaded,

    /// <summary>None.</summary>
    None,
}

/// <summary>How the rinse fills are done; practitioners disagree.</summary>
public enum RinseSchool
{
    /// <summary>Somebody at the panel: to Full under watch, then open; repeated while debris shows.</summary>
    WatchedFills,

    /// <summary>
    /// Valve open, water on for five to eight minutes. Weak, but it cannot overfill; the only one where the maker's manual allows the spray head only with the
    /// valve open.
    /// </summary>
    OpenRinse,

    /// <summary>Closed for 30 seconds, open; three times. The default without meter, watcher or a known flow.</summary>
    TimedFills,

    /// <summary>Closed until ten gallons, or a third of a small tank, then open and let the swirl work. The default with a meter or a known flow.</summary>
    ThirdFills,

    /// <summary>Five to ten gallons back in, or a jug; dump again; one to three times.</summary>
    QuickRefills,

    /// <summary>To nine tenths through a meter that was set to zero; two to seven times.</summary>
    MeteredFloods,
}

/// <summary>Why a run cannot be had.</summary>
public enum RunRefusal
{
    /// <summary>Black goes only where there is a sewer.</summary>
    NoSewer,

    /// <summary>There is no drain here; gray on the ground is a matter of local rules.</summary>
    NoDrain,

    /// <summary>A propane alarm stands.</summary>
    PropaneAlarm,

    /// <summary>The rig has no black tank.</summary>
    NoBlackTank,

    /// <summary>The rig has no gray tank.</summary>
    NoGrayTank,

    /// <summary>Nothing can be pushed back through a macerator.</summary>
    NothingThroughMacerator,

    /// <summary>Gray floods up into black only behind a closed valve at the end.</summary>
    NoEndValve,

    /// <summary>There is no gray tank, or not enough gray water, to flood with.</summary>
    NoGrayToFlood,

    /// <summary>A hose is needed, and none fits the tap here.</summary>
    NoTapForHose,

    /// <summary>The rig has no such thing.</summary>
    NotOnThisRig,

    /// <summary>Lamps in doubt stop nothing; the fill cannot be watched by them.</summary>
    PanelInDoubt,

    /// <summary>No meter on this rig.</summary>
    NoMeter,

    /// <summary>The flow is not known.</summary>
    FlowNotKnown,

    /// <summary>This way of rinsing is not done with this water.</summary>
    SchoolNeedsOtherWater,

    /// <summary>There is next to nothing in the tanks of this form.</summary>
    NoReason,

    /// <summary>Pressure jetting is for a trained person; it is recorded, not instructed.</summary>
    TrainedPerson,

    /// <summary>A tank of it does not let go of what is in it: nothing is drained and nothing filled until it does.</summary>
    Clog,
}

/// <summary>What is known of a tank before a run.</summary>
/// <param name="Tank">The tank.</param>
/// <param name="Level">What is believed to be in it.</param>
/// <param name="AfterDrain">What will be believed to be in it once it has run empty.</param>
/// <param name="Open">Whether its valve stands open now.</param>
public sealed record RunTank(Tank Tank, LevelBand Level, LevelBand AfterDrain, bool Open)
{
    /// <summary>Below this share of a tank the liquid does not carry the solids out in a rush; topped up first it goes to two thirds.</summary>
    private const double RushLevel = 0.5;

    /// <summary>Whether there is enough in it to leave in a rush.</summary>
    public bool EnoughForRush => Level.P50L >= RushLevel * Tank.CapacityL;

    /// <summary>A tank as it is believed to be, with what the rig's own log has taught of it.</summary>
    /// <param name="belief">What is believed.</param>
    /// <param name="log">The entries of the rig.</param>
    /// <param name="blocked">Whether the agenda lets nothing in or out of it.</param>
    /// <param name="timed">Dumps with the litres that were in the tank before; they tell its usual time.</param>
    public static RunTank Build(TankBelief belief, IReadOnlyList<LogEntry> log, bool blocked, IReadOnlyDictionary<DumpEntry, double> timed)
    {
        ArgumentNullException.ThrowIfNull(belief);
        ArgumentNullException.ThrowIfNull(timed);
        var tank = belief.Tank;
        return new RunTank(tank, belief.Level, belief.Forecast.EmptiedAt(belief.Forecast.From).At(belief.Forecast.From), belief.ValveOpen)
        {
            PanelInDoubt = belief.MonitorVerdict is MonitorVerdict.Doubt or MonitorVerdict.Ignore,
            Blocked = blocked,
            Suspect = RunHistory.IsSuspect(log, tank.Id),
            Usual = RunHistory.Drain([.. timed.Keys], tank, Math.Max(belief.Level.P50L, 1), d => timed.TryGetValue(d, out var litres) ? litres : null),
            Cycles = RunHistory.Cycles(log, tank.Id),
        };
    }

    /// <summary>Whether its lamps are in doubt.</summary>
    public bool PanelInDoubt { get; init; }

    /// <summary>Whether it does not let go of what is in it, as the agenda has decided.</summary>
    public bool Blocked { get; init; }

    /// <summary>Whether it may be clogged or hold a heap.</summary>
    public bool Suspect { get; init; }

    /// <summary>Usual seconds of a drain from this level.</summary>
    public UsualDrain? Usual { get; init; }

    /// <summary>Rinse cycles until clear, from the rig's own history.</summary>
    public CyclesToClear? Cycles { get; init; }

    /// <summary>Whether the level is known well enough to compute a top-up from: nine times out of ten within four tenths of the tank.</summary>
    public bool LevelKnown => Level.P95L - Level.P05L <= 0.4 * Tank.CapacityL;
}
