using Tanksophos.Core.Agendas;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Simulation;

namespace Tanksophos.Core.Practice;

/// <summary>What a case is about.</summary>
public enum PracticeTopic
{
    /// <summary>Lights that may be wrong.</summary>
    Lamps,

    /// <summary>Smells; propane first.</summary>
    Smells,

    /// <summary>Clogs, piles, vents, valves.</summary>
    Clogs,

    /// <summary>Whether a rinse is done.</summary>
    Rinsing,

    /// <summary>What to do before a stretch without a sewer.</summary>
    Planning,

    /// <summary>One of the others, by the seed.</summary>
    Mixed,
}

/// <summary>What is asked.</summary>
public enum CaseQuestion
{
    /// <summary>Lights are on after a dump: why?</summary>
    LitAfterDump,

    /// <summary>A light that should be on is dark: why?</summary>
    DarkLight,

    /// <summary>All lights on every tank show the same: why?</summary>
    AllAlike,

    /// <summary>It smells: where from?</summary>
    Smell,

    /// <summary>The tank behaves oddly: what is it?</summary>
    Trouble,

    /// <summary>In the middle of a rinse: what now?</summary>
    Rinse,

    /// <summary>Leaving a sewer for some nights without one: what before?</summary>
    Leaving,

    /// <summary>Some nights left without a sewer: what now?</summary>
    Staying,
}

/// <summary>What a learner may answer.</summary>
public enum CaseAnswer
{
    /// <summary>Something holds a light on.</summary>
    StuckOn,

    /// <summary>A light has a bad wire or sensor.</summary>
    StuckOff,

    /// <summary>The lights are right, the tank is that full.</summary>
    TankFull,

    /// <summary>A wet film, gone by tomorrow.</summary>
    WetFilm,

    /// <summary>Low battery or ground: the whole panel.</summary>
    PanelFault,

    /// <summary>Somebody dumped and did not log it.</summary>
    ForgottenDump,

    /// <summary>The fan draws tank air.</summary>
    FanDraw,

    /// <summary>The bowl seal leaks.</summary>
    BowlSeal,

    /// <summary>Black has gone septic.</summary>
    BlackAnaerobic,

    /// <summary>Black walls are coated.</summary>
    BlackCoated,

    /// <summary>A dry trap.</summary>
    DryTrap,

    /// <summary>Grease in gray.</summary>
    GrayGreasy,

    /// <summary>A valve left open on a sewer.</summary>
    ValveOpenToSewer,

    /// <summary>The roof vent is blocked.</summary>
    VentBlocked,

    /// <summary>Hose or cap.</summary>
    HoseOrCap,

    /// <summary>Propane.</summary>
    Propane,

    /// <summary>A waste pile under the toilet.</summary>
    Heap,

    /// <summary>The outlet is clogged.</summary>
    OutletClog,

    /// <summary>Buildup on the walls.</summary>
    Buildup,

    /// <summary>A valve leaks.</summary>
    ValveLeak,

    /// <summary>Clean: close, starter water, dose.</summary>
    Done,

    /// <summary>One more rinse.</summary>
    RinseAgain,

    /// <summary>More water will not do it: stop, plan a deep clean.</summary>
    DeepClean,

    /// <summary>Close the gray valve before anything else.</summary>
    CloseGray,

    /// <summary>Nothing: there is room.</summary>
    CarryOn,

    /// <summary>Dump black and gray now.</summary>
    DumpNow,

    /// <summary>Add water to two thirds, then dump.</summary>
    TopUpThenDump,

    /// <summary>Dump gray only.</summary>
    GrayOnly,

    /// <summary>Pour dishwater down the toilet.</summary>
    Divert,

    /// <summary>To a dump station before the nights are over.</summary>
    LeaveEarly,
}

/// <summary>What a learner may ask for.</summary>
public enum EvidenceCode
{
    /// <summary>Look down the toilet with a flashlight.</summary>
    Flashlight,

    /// <summary>Ask everybody aboard.</summary>
    AskCrew,

    /// <summary>Look at the valve handles.</summary>
    Handles,

    /// <summary>Test the house battery.</summary>
    Battery,

    /// <summary>Read the panel again tomorrow.</summary>
    PanelTomorrow,

    /// <summary>Check the wires at the sensors.</summary>
    Wiring,

    /// <summary>Fill by meter until the next light should come on.</summary>
    MeteredFill,

    /// <summary>Everyone out, gas off if safe, call for help.</summary>
    GasOut,

    /// <summary>Sniff test at the toilet.</summary>
    Sniff,

    /// <summary>Fan off, roof vent shut, flush.</summary>
    FanOff,

    /// <summary>Fill the bowl, look again after an hour.</summary>
    BowlHolds,

    /// <summary>Look for water in every drain.</summary>
    Traps,

    /// <summary>Run the galley sink and smell.</summary>
    SinkRun,

    /// <summary>Two gallons of water into black.</summary>
    AddWater,

    /// <summary>Look at the roof vent.</summary>
    RoofVent,

    /// <summary>Cap off with the valves closed.</summary>
    CapOff,

    /// <summary>Look over hose, lugs, gasket and cap.</summary>
    Hose,

    /// <summary>Flush one bowlful and watch.</summary>
    BowlFlush,

    /// <summary>Open black on the sewer and watch.</summary>
    DumpWatch,

    /// <summary>Open the cleanout: never under a tank that is not empty.</summary>
    Cleanout,

    /// <summary>Open black again and watch the last of it.</summary>
    WatchEnd,

    /// <summary>One more rinse, watched to its end.</summary>
    RinseWatch,
}

/// <summary>How dirty a check is.</summary>
public enum Mess
{
    /// <summary>Clean hands.</summary>
    Clean,

    /// <summary>Gloves.</summary>
    Some,

    /// <summary>Gloves, bucket, a wash after.</summary>
    Messy,
}

/// <summary>Something to ask for, and what it costs.</summary>
/// <param name="Code">What it is.</param>
/// <param name="Minutes">Minutes until the answer is there.</param>
/// <param name="WaterL">Litres of water that it takes.</param>
/// <param name="Mess">How dirty it is.</param>
public sealed record Evidence(EvidenceCode Code, double Minutes, double WaterL, Mess Mess);

/// <summary>What came of something asked for.</summary>
/// <param name="Evidence">What was asked.</param>
/// <param name="Entries">What the crew would log of it.</param>
/// <param name="Found">Whether the check found what it looks for; null where it only shows something.</param>
/// <param name="Danger">What went wrong; null for nothing.</param>
/// <param name="LevelL">What is then in the tank that is asked about, in litres. Hidden until the debrief.</param>
public sealed record EvidenceResult(Evidence Evidence, IReadOnlyList<LogEntry> Entries, bool? Found, Danger? Danger, double LevelL);

/// <summary>What fails a case.</summary>
public enum Danger
{
    /// <summary>A tank was filled beyond what it holds.</summary>
    Overfilled,

    /// <summary>Something else was done while a propane alarm was on.</summary>
    GasIgnored,

    /// <summary>Black was rinsed with the gray valve open.</summary>
    BothValvesOpen,

    /// <summary>A cleanout was opened under a tank that was not empty.</summary>
    CleanoutUnderFull,

    /// <summary>Sewage ran onto the ground.</summary>
    Spilled,

    /// <summary>The rinse hose was on the inlet for drinking water.</summary>
    WrongInlet,
}

/// <summary>What is hidden in a case.</summary>
/// <param name="Answer">What is so.</param>
/// <param name="LevelsL">Litres in each tank at the logbook's now.</param>
/// <param name="Probes">True state of each probe, by tank and probe.</param>
/// <param name="Best">The checks that settle it, in order; the cheapest that do.</param>
/// <param name="Trace">Litres over time in each tank.</param>
public sealed record CaseTruth(CaseAnswer Answer, IReadOnlyDictionary<string, double> LevelsL,
    IReadOnlyDictionary<string, IReadOnlyDictionary<string, ProbeState>> Probes, IReadOnlyList<EvidenceCode> Best, IReadOnlyList<CaseTracePoint> Trace);

/// <summary>What was in a tank at a moment.</summary>
/// <param name="At">The moment.</param>
/// <param name="Tank">Id of the tank.</param>
/// <param name="LevelL">Litres.</param>
public sealed record CaseTracePoint(NodaTime.Instant At, string Tank, double LevelL);

/// <summary>
/// A practice case: a simulated rig with something hidden in it, and its log as its crew kept it. The same seed, topic and difficulty give the same case on
/// every machine.
/// </summary>
public sealed class PracticeCase
{
    /// <summary>Version of the maker: a case begun with another one cannot be gone on with.</summary>
    public const int Maker = 1;

    /// <summary>Levels of difficulty: how much is logged, how many answers there are, how far the log leads astray.</summary>
    public const int Easiest = 1, Hardest = 3;

    private readonly Func<HiddenRig> replay;
    private readonly Lazy<IRunningEstimate> estimate;

    internal PracticeCase(long seed, PracticeTopic topic, int difficulty, HiddenRig rig, Func<HiddenRig> replay, IReadOnlyList<CaseAnswer> choices,
        IReadOnlyList<EvidenceCode> best)
    {
        (Seed, Topic, Difficulty, Choices, this.replay) = (seed, topic, difficulty, choices, replay);
        (Logbook, Question, Nights, Evidence) = (rig.Told(), rig.Question, rig.Nights, rig.Offered());
        estimate = new(() =>
        {
            var running = new JointEstimator().Start(Logbook.Rig);
            foreach (var entry in Logbook.InOrder()) running.Add(entry);
            return running;
        });
        Truth = new CaseTruth(rig.Answer, rig.Levels(), rig.Probes(), best, [.. rig.Trace]);
    }

    /// <summary>The seed.</summary>
    public long Seed { get; }

    /// <summary>The topic; never <see cref="PracticeTopic.Mixed"/>.</summary>
    public PracticeTopic Topic { get; }

    /// <summary>1 to 3.</summary>
    public int Difficulty { get; }

    /// <summary>The log as the learner sees it.</summary>
    public Logbook Logbook { get; }

    /// <summary>What is asked.</summary>
    public CaseQuestion Question { get; }

    /// <summary>Nights without a sewer, where the question is about them; else 0.</summary>
    public int Nights { get; }

    /// <summary>The tank whose level is asked.</summary>
    public Tank Tank => Logbook.Rig.Tanks[0];

    /// <summary>The lights that are asked about one by one; empty where the question is about something else.</summary>
    public IReadOnlyList<(Tank Tank, Probe Probe)> Lights => Topic != PracticeTopic.Lamps ? []
        : [.. Logbook.Rig.Tanks.Where(t => t == Tank || Question == CaseQuestion.AllAlike).SelectMany(t => t.Monitor.Probes.Select(p => (t, p)))];

    /// <summary>The answers to choose from, in an order that says nothing.</summary>
    public IReadOnlyList<CaseAnswer> Choices { get; }

    /// <summary>What may be asked for.</summary>
    public IReadOnlyList<Evidence> Evidence { get; }

    /// <summary>What is hidden. It leaves the server only with the debrief.</summary>
    public CaseTruth Truth { get; }

    /// <summary>Why getting out comes before everything else, by the rule of the agenda; null if it does not.</summary>
    public string? Gas => GasIn(Logbook);

    /// <summary>Whether getting out comes before everything else.</summary>
    public bool GasFirst => Gas is not null;

    /// <summary>What a log tells of gas that nobody has ruled out, by the rule of the agenda.</summary>
    internal static string? GasIn(Logbook logbook)
    {
        var inForce = new Circumstances(logbook.Rig);
        foreach (var entry in logbook.InOrder()) inForce.Apply(entry);
        return Court.Gas(inForce, logbook.InOrder(), logbook.AsOf!.Value.ToInstant())?.Because;
    }

    /// <summary>What comes of asking for some evidence, in that order. The same order gives the same results.</summary>
    /// <param name="asked">What is asked for; what the case does not offer is left out.</param>
    public IReadOnlyList<EvidenceResult> Ask(IEnumerable<EvidenceCode> asked)
    {
        ArgumentNullException.ThrowIfNull(asked);
        var rig = replay();
        var gas = GasFirst;
        var results = new List<EvidenceResult>();
        foreach (var code in asked.Distinct())
        {
            if (Evidence.FirstOrDefault(e => e.Code == code) is not { } evidence) continue;
            var result = rig.Ask(evidence);
            if (gas && code == EvidenceCode.GasOut) gas = false;
            else if (gas) result = result with { Danger = Danger.GasIgnored };
            results.Add(result);
        }
        return results;
    }

    /// <summary>The log with what was found added to it, and its now moved on.</summary>
    /// <param name="results">What was asked for so far.</param>
    public Logbook With(IReadOnlyList<EvidenceResult> results)
    {
        ArgumentNullException.ThrowIfNull(results);
        var entries = results.SelectMany(r => r.Entries).ToList();
        if (entries.Count == 0) return Logbook;
        var last = entries.MaxBy(e => e.Instant)!.At;
        return new Logbook(Logbook.Rig, [.. Logbook.InOrder(), .. entries.OrderBy(e => e.Instant).Select((e, i) => e with { Id = $"asked-{i}" })],
            last.ToInstant() > Logbook.AsOf!.Value.ToInstant() ? last : Logbook.AsOf);
    }

    /// <summary>What the program believes of the tanks after some checks.</summary>
    internal LevelBelief Believe(IReadOnlyList<EvidenceResult> results, Logbook with)
    {
        var running = estimate.Value.Copy();
        foreach (var entry in results.SelectMany(r => r.Entries).OrderBy(e => e.Instant)) running.Add(entry);
        return running.At(with.AsOf);
    }
}
