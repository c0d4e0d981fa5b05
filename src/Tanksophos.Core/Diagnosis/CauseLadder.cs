using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Diagnosis;

/// <summary>What can be done about a trouble; the words are those of recipes, ways of flushing, services, and a few deeds of their own.</summary>
public enum RemedyAction
{
    /// <summary>No more into the tank.</summary>
    StopUsing,

    /// <summary>Fill with hot-as-safe water and soap, stand overnight.</summary>
    SoapSoak,

    /// <summary>A jet of water straight down the toilet.</summary>
    HoseJet,

    /// <summary>Paper digester for a day.</summary>
    PaperDigester,

    /// <summary>A thin hose fed down the toilet.</summary>
    ClogTube,

    /// <summary>Reverse flush.</summary>
    Reverse,

    /// <summary>Ice scrub.</summary>
    IceScrub,

    /// <summary>Pressure jet by a trained person.</summary>
    PressureJet,

    /// <summary>Softener soak for a day.</summary>
    SoftenerSoak,

    /// <summary>Travel scrub.</summary>
    TravelScrub,

    /// <summary>Freshener.</summary>
    Freshener,

    /// <summary>Flush through the built-in head until clear.</summary>
    BuiltIn,

    /// <summary>Flush with a wand until clear.</summary>
    Wand,

    /// <summary>Flush by jug or bucket.</summary>
    Bucket,

    /// <summary>Flush by the pedal.</summary>
    Pedal,

    /// <summary>Enzyme, with plenty of water.</summary>
    Enzyme,

    /// <summary>Lubricant in the tank.</summary>
    ValveLubricant,

    /// <summary>Lubricate the rod, work it when empty.</summary>
    ValveLubricated,

    /// <summary>A new valve.</summary>
    ValveReplaced,

    /// <summary>A gate valve on the outlet.</summary>
    AddEndValve,

    /// <summary>Clear the roof vent.</summary>
    VentCleared,

    /// <summary>Water into every trap.</summary>
    WaterTraps,

    /// <summary>Close the valve.</summary>
    CloseValve,

    /// <summary>Fan off, roof vent shut while flushing.</summary>
    FanOff,

    /// <summary>A fan on the vent stack: the last rung where a rig smells a little whatever one does.</summary>
    VentFan,

    /// <summary>Wipe the bowl's seal.</summary>
    CleanBowlSeal,

    /// <summary>Condition the seal.</summary>
    SealConditioner,

    /// <summary>A new seal.</summary>
    SealReplaced,

    /// <summary>Soap into gray.</summary>
    GraySoap,

    /// <summary>Degreaser into gray.</summary>
    GrayDegreaser,

    /// <summary>Rinse, dry, seal and cap.</summary>
    StowHose,

    /// <summary>Everyone out, call for help.</summary>
    CallForHelp,

    /// <summary>Someone trained.</summary>
    Professional,
}

/// <summary>One rung of a ladder.</summary>
/// <param name="Number">Its number; 0 is what goes on beside all others.</param>
/// <param name="Action">What is done.</param>
/// <param name="Done">How often, by the log since the trouble began.</param>
/// <param name="Of">How often it takes before it counts as failed.</param>
public sealed record Rung(int Number, RemedyAction Action, int Done, int Of)
{
    /// <summary>Whether it was done to its end, and the trouble is still there.</summary>
    public bool Failed => Done >= Of;
}

/// <summary>Where an owner stands with one trouble.</summary>
/// <param name="Tank">Id of the tank; null for a smell of the rig.</param>
/// <param name="Condition">The condition; null for a smell.</param>
/// <param name="Odor">The cause of the smell; null for a condition.</param>
/// <param name="Probability">How likely it is.</param>
/// <param name="Since">When its first sign was seen that still counts.</param>
/// <param name="Rungs">All rungs.</param>
/// <param name="Next">The rung to do next; the last if all were tried.</param>
public sealed record CauseCourse(string? Tank, Condition? Condition, OdorCause? Odor, double Probability, Instant Since, IReadOnlyList<Rung> Rungs, Rung Next)
{
    /// <summary>Whether what is next is a trained person's.</summary>
    public bool BeyondOwner => Next.Action is RemedyAction.PressureJet or RemedyAction.Professional or RemedyAction.CallForHelp;
}

/// <summary>A trouble that was there and is gone.</summary>
/// <param name="Tank">Id of the tank.</param>
/// <param name="Condition">What it was.</param>
/// <param name="Cured">The entry with which it was over.</param>
/// <param name="By">The last remedy before it; null if it went by itself.</param>
public sealed record Cure(string Tank, Condition Condition, LogEntry Cured, LogEntry? By);

/// <summary>The ladders of remedies, climbed by what the log says was done.</summary>
internal static class CauseLadder
{
    // How often a rung is done before it counts as failed, where it is not once.
    private static readonly Dictionary<RemedyAction, int> Times = new()
    {
        [RemedyAction.TravelScrub] = 4,
        [RemedyAction.SoapSoak] = 2,
        [RemedyAction.GraySoap] = 2,
        [RemedyAction.Reverse] = 2,
        [RemedyAction.HoseJet] = 2
    };

    /// <summary>The rungs for a condition, the gentlest first.</summary>
    internal static RemedyAction[] Ladder(Condition condition, Rig rig) => condition switch
    {
        // Nothing can be pushed back up through a macerator.
        Condition.Heap or Condition.OutletClog => rig.Equipment is { Macerator: true }
            ? [RemedyAction.SoapSoak, RemedyAction.HoseJet, RemedyAction.PaperDigester, RemedyAction.ClogTube, RemedyAction.IceScrub, RemedyAction.PressureJet]
            : [RemedyAction.SoapSoak, RemedyAction.HoseJet, RemedyAction.PaperDigester, RemedyAction.ClogTube, RemedyAction.Reverse, RemedyAction.IceScrub,
            RemedyAction.PressureJet],
        Condition.Buildup => rig.Equipment is { ReverseFlush: true, Macerator: not true }
            ? [Flush(rig), RemedyAction.SoftenerSoak, RemedyAction.TravelScrub, RemedyAction.IceScrub, RemedyAction.Reverse, RemedyAction.PressureJet]
            : [Flush(rig), RemedyAction.SoftenerSoak, RemedyAction.TravelScrub, RemedyAction.IceScrub, RemedyAction.PressureJet],
        Condition.VentBlocked => [RemedyAction.VentCleared, RemedyAction.Professional],
        Condition.ValveLeak => [Flush(rig), RemedyAction.AddEndValve, RemedyAction.ValveReplaced],
        Condition.ValveStiff => [RemedyAction.ValveLubricant, RemedyAction.ValveLubricated, RemedyAction.ValveReplaced],
    };

    /// <summary>The rungs for a cause of a smell, the gentlest first.</summary>
    internal static RemedyAction[] Ladder(OdorCause cause, Rig rig) => cause switch
    {
        OdorCause.FanDraw => [RemedyAction.FanOff],
        OdorCause.BowlSeal => [RemedyAction.CleanBowlSeal, RemedyAction.SealConditioner, RemedyAction.SealReplaced],
        // A rig that smells whatever one does: the fan is the last, where there is none yet.
        OdorCause.BlackAnaerobic => [RemedyAction.Freshener, Flush(rig), RemedyAction.Enzyme, RemedyAction.TravelScrub,
            .. rig.Equipment is { VentFan: true } ? Array.Empty<RemedyAction>() : [RemedyAction.VentFan]],
        OdorCause.BlackCoated => [RemedyAction.SoftenerSoak, RemedyAction.TravelScrub, RemedyAction.IceScrub, RemedyAction.PressureJet],
        OdorCause.DryTrap => [RemedyAction.WaterTraps, RemedyAction.Professional],
        OdorCause.GrayGreasy => [RemedyAction.GraySoap, RemedyAction.GrayDegreaser, RemedyAction.TravelScrub],
        OdorCause.ValveOpenToSewer => [RemedyAction.CloseValve],
        OdorCause.VentBlocked => [RemedyAction.VentCleared, RemedyAction.Professional],
        OdorCause.HoseOrCap => [RemedyAction.StowHose, RemedyAction.AddEndValve, RemedyAction.ValveReplaced],
        OdorCause.Propane => [RemedyAction.CallForHelp],
    };

    private static RemedyAction Flush(Rig rig) =>
        rig.Equipment switch
        { { FlushInlet: true } => RemedyAction.BuiltIn, { Wand: "rigid" or "flexible" } => RemedyAction.Wand,
            { JugL: not null } => RemedyAction.Bucket,
            _ => RemedyAction.Pedal
        };

    /// <summary>Whether a rung is what an entry did.</summary>
    /// <param name="action">The rung.</param>
    /// <param name="entry">The entry.</param>
    public static bool Does(RemedyAction action, LogEntry entry) => (action, entry) switch
    {
        (RemedyAction.SoapSoak, DoseEntry { Recipe: DoseRecipe.SoapSoak }) => true,
        (RemedyAction.PaperDigester, DoseEntry { Recipe: DoseRecipe.PaperDigester }) => true,
        (RemedyAction.IceScrub, DoseEntry { Recipe: DoseRecipe.IceScrub }) => true,
        (RemedyAction.SoftenerSoak, DoseEntry { Recipe: DoseRecipe.SoftenerSoak or DoseRecipe.SoapSoak }) => true,
        (RemedyAction.TravelScrub, DoseEntry { Recipe: DoseRecipe.TravelScrub }) => true,
        (RemedyAction.Freshener, DoseEntry { Recipe: DoseRecipe.Freshener }) => true,
        (RemedyAction.Enzyme, DoseEntry { Recipe: DoseRecipe.Enzyme }) => true,
        (RemedyAction.ValveLubricant, DoseEntry { Recipe: DoseRecipe.ValveLubricant }) => true,
        (RemedyAction.SealConditioner, DoseEntry { Recipe: DoseRecipe.SealConditioner } or ServiceEntry { Code: ServiceCode.SealConditioned }) => true,
        (RemedyAction.GraySoap, DoseEntry { Recipe: DoseRecipe.GraySoap }) => true,
        (RemedyAction.GrayDegreaser, DoseEntry { Recipe: DoseRecipe.GrayDegreaser }) => true,
        (RemedyAction.ClogTube, FlushEntry { Method: FlushMethod.Wand, Note: { } note }) => note.Contains("tube", StringComparison.OrdinalIgnoreCase),
        (RemedyAction.HoseJet, FlushEntry { Method: FlushMethod.Wand } f) => f.Note?.Contains("tube", StringComparison.OrdinalIgnoreCase) != true,
        (RemedyAction.Wand, FlushEntry { Method: FlushMethod.Wand }) => true,
        (RemedyAction.BuiltIn, FlushEntry { Method: FlushMethod.BuiltIn }) => true,
        (RemedyAction.Bucket, FlushEntry { Method: FlushMethod.Bucket }) => true,
        (RemedyAction.Pedal, FlushEntry { Method: FlushMethod.Pedal }) => true,
        (RemedyAction.Reverse, FlushEntry { Method: FlushMethod.Reverse }) => true,
        (RemedyAction.PressureJet, ServiceEntry { Code: ServiceCode.PressureJet } or FlushEntry { Method: FlushMethod.Jet }) => true,
        (RemedyAction.VentCleared, ServiceEntry { Code: ServiceCode.VentCleared }) => true,
        (RemedyAction.ValveLubricated, ServiceEntry { Code: ServiceCode.ValveLubricated }) => true,
        (RemedyAction.ValveReplaced, ServiceEntry { Code: ServiceCode.ValveReplaced }) => true,
        (RemedyAction.SealReplaced, ServiceEntry { Code: ServiceCode.SealReplaced }) => true,
        (RemedyAction.WaterTraps, CheckEntry { Code: CheckCode.TrapsWet, Result: CheckResult.Pass }) => true,
        (RemedyAction.CloseValve, ValveEntry { State: ValveState.Closed }) => true,
        (RemedyAction.StowHose, CheckEntry { Code: CheckCode.HoseSound or CheckCode.CapDry, Result: CheckResult.Pass }) => true,
        _ => false,
    };

    /// <summary>The course for a condition of a tank.</summary>
    internal static CauseCourse Build(Rig rig, Tank tank, ConditionBelief belief, IReadOnlyList<LogEntry> entries, Instant now)
    {
        var since = belief.Reasons.Where(r => r.Weight > 0.2).Select(r => r.Sign.At).DefaultIfEmpty(now).Min();
        var actions = Ladder(belief.Code, rig);
        var rungs = Climbed(actions, entries.Where(e => e.Instant >= since && (e.Tank == tank.Id || e.Tank is null && e is ServiceEntry)).ToList());
        // An end valve that is fitted is no rung to climb.
        if (rig.Equipment?.AddOnValve == true || rig.Equipment?.EndValve == true)
            rungs = [.. rungs.Select(r => r.Action == RemedyAction.AddEndValve ? r with { Done = r.Of } : r)];
        var next = Next(rungs);
        // Before anything is done about a heap or a clog nothing more goes in.
        if (belief.Code is Condition.Heap or Condition.OutletClog && tank.Role == TankRole.Black) rungs = [new Rung(0, RemedyAction.StopUsing, 0, 1), .. rungs];
        return new CauseCourse(tank.Id, belief.Code, null, belief.Probability, since, rungs, next);
    }

    /// <summary>The course for a smell.</summary>
    internal static CauseCourse Build(Rig rig, OdorBelief belief, IReadOnlyList<LogEntry> entries, Instant now, Instant? begun = null)
    {
        var since = begun ?? entries.Kind<OdorEntry>().Where(o => now - o.Instant <= Odors.Counts).Select(o => o.Instant).DefaultIfEmpty(now).Min();
        var role = belief.Cause is OdorCause.GrayGreasy ? TankRole.Gray : TankRole.Black;
        // Of several grays the one that takes the water of the drain where it smells.
        var where = entries.Kind<OdorEntry>() is [.., var smelled] ? (OdorPlace?)smelled.Where : null;
        var tank = rig.Tanks.Where(t => t.Role == role)
            .OrderByDescending(t => where is { } w && t.Fixtures.Contains(Codes<OdorPlace>.Word(w))).FirstOrDefault();
        var rungs = Climbed(Ladder(belief.Cause, rig),
            [.. entries.Where(e => e.Instant >= since
            && (e.Tank is null || rig.FindEver(e.Tank)?.Role == role || belief.Cause is OdorCause.ValveOpenToSewer or OdorCause.HoseOrCap))]);
        return new CauseCourse(belief.Cause is OdorCause.BlackAnaerobic or OdorCause.BlackCoated or OdorCause.GrayGreasy ? tank?.Id : null, null, belief.Cause,
            belief.Probability, since, rungs, Next(rungs));
    }

    private static List<Rung> Climbed(IReadOnlyList<RemedyAction> actions, IReadOnlyList<LogEntry> deeds) =>
        [.. actions.Select((a, i) => new Rung(i + 1, a, deeds.Count(e => Does(a, e)), Times.GetValueOrDefault(a, 1)))];

    // Who has begun a rung goes on with it; below the highest rung that was begun nothing is asked for any more.
    private static Rung Next(IReadOnlyList<Rung> rungs)
    {
        var highest = rungs.LastOrDefault(r => r.Done > 0)?.Number ?? 0;
        return rungs.FirstOrDefault(r => r.Number >= highest && !r.Failed) ?? rungs[^1];
    }

    /// <summary>Troubles of the last year that are over: likely before an entry, unlikely after it.</summary>
    /// <param name="rig">The rig.</param>
    /// <param name="tank">The tank.</param>
    /// <param name="entries">The log in the order of time.</param>
    /// <param name="log">The whole log, by which it is known what was likely when.</param>
    internal static IReadOnlyList<Cure> Cures(Rig rig, Tank tank, IReadOnlyList<LogEntry> entries, IReadOnlyList<LogEntry> log)
    {
        var found = new List<Cure>();
        var likely = new HashSet<Condition>();
        // What is looked at in any case is judged side by side and remembered.
        if (log is IndexedLog) Parallel.ForEach(entries.Where(e => Turns(e) && e is not DumpEntry), e => Conditions.Then(rig, tank, log, e.Instant));
        bool Turns(LogEntry e) => e is SymptomEntry or CheckEntry or ServiceEntry or DumpEntry && (e.Tank is null || e.Tank == tank.Id);
        for (var i = 0; i < entries.Count; i++)
        {
            // Only what can turn a verdict is worth a look.
            if (!Turns(entries[i])) continue;
            // A dump that went as it should makes nothing likely that was not.
            if (likely.Count == 0 && entries[i] is DumpEntry { Flow: null or DumpFlow.Rush or DumpFlow.Steady }) continue;
            var beliefs = Conditions.Then(rig, tank, log, entries[i].Instant);
            foreach (var b in beliefs)
            {
                if (b.Probability >= Conditions.Likely) likely.Add(b.Code);
                else if (b.Probability < Conditions.Possible && likely.Remove(b.Code))
                {
                    var by = Enumerable.Range(0, i + 1).Select(n => entries[i - n])
                        .FirstOrDefault(e => (e.Tank == tank.Id || e.Tank is null) && Ladder(b.Code, rig).Any(a => Does(a, e)));
                    found.Add(new Cure(tank.Id, b.Code, entries[i], by));
                }
            }
        }
        found.Reverse();
        return found;
    }
}
