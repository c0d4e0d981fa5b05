using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Words;

/// <summary>A check in words.</summary>
/// <param name="Title">What to do.</param>
/// <param name="How">How, and how long it takes.</param>
/// <param name="Caution">What can hurt; null if nothing can.</param>
public sealed record CauseCheckText(string Title, string How, string? Caution);

/// <summary>A remedy in words.</summary>
/// <param name="Title">What to do.</param>
/// <param name="How">How.</param>
/// <param name="Caution">What can hurt, and who should do it.</param>
/// <param name="Failed">When it counts as failed.</param>
/// <param name="Recipe">The recipe that gives amounts and conflicts; null for none.</param>
public sealed record RemedyText(string Title, string How, string? Caution, string Failed, DoseRecipe? Recipe = null);

/// <summary>Says causes, signs, checks and remedies in words.</summary>
public sealed class FaultWords(Rig rig, Units units, TimeWords times)
{
    private const string Overfill = "A clogged tank cannot be emptied quickly: keep free room, stay at the water, somebody watches the toilet.";
    private const string SewerGas = "Sewer gas is poisonous and burns: air the place, no flame near, face away from the opening.";

    /// <summary>A condition as a finding about a tank.</summary>
    public static string Condition(Condition condition, Tank tank)
    {
        ArgumentNullException.ThrowIfNull(tank);
        var name = TimeWords.Capital(tank.Name);
        return condition switch
        {
            Core.Diagnosis.Condition.Buildup => $"{name}: a coat on walls and in corners",
            Core.Diagnosis.Condition.Heap => $"{name}: a heap under the toilet",
            Core.Diagnosis.Condition.OutletClog => $"{name}: the outlet is clogged",
            Core.Diagnosis.Condition.VentBlocked => $"{name}: the vent is blocked",
            Core.Diagnosis.Condition.ValveLeak => $"{name}: the valve leaks or does not close",
            Core.Diagnosis.Condition.ValveStiff => $"{name}: the valve moves hard",
        };
    }

    /// <summary>A condition in a word or two.</summary>
    public static string Brief(Condition condition) => condition switch
    {
        Core.Diagnosis.Condition.Buildup => "buildup",
        Core.Diagnosis.Condition.Heap => "heap",
        Core.Diagnosis.Condition.OutletClog => "clogged outlet",
        Core.Diagnosis.Condition.VentBlocked => "blocked vent",
        Core.Diagnosis.Condition.ValveLeak => "leaking valve",
        Core.Diagnosis.Condition.ValveStiff => "stiff valve",
    };

    /// <summary>A cause of a smell.</summary>
    public static string Cause(OdorCause cause) => cause switch
    {
        OdorCause.FanDraw => "The fan draws the tank's air in",
        OdorCause.BowlSeal => "The bowl's seal lets air through",
        OdorCause.BlackAnaerobic => "Black has turned: no air, too little water, or too long",
        OdorCause.BlackCoated => "Black's walls are coated",
        OdorCause.DryTrap => "A trap is dry",
        OdorCause.GrayGreasy => "Gray is coated or greasy",
        OdorCause.ValveOpenToSewer => "A valve stands open to the sewer",
        OdorCause.VentBlocked => "The vent is blocked",
        OdorCause.HoseOrCap => "Hose, cap or storage bay",
        OdorCause.Propane => "Propane",
    };

    /// <summary>How likely, in words beside the bar.</summary>
    public static string Likely(double probability) => probability switch
    {
        >= 0.85 => "almost certain",
        >= 0.6 => "likely",
        >= 0.35 => "quite possible",
        >= 0.15 => "possible",
        _ => "unlikely",
    };

    /// <summary>A sign, with when it was.</summary>
    public string Sign(Sign sign)
    {
        ArgumentNullException.ThrowIfNull(sign);
        var said = sign.Code switch
        {
            SignCode.BacksUp => "water came back up on flushing",
            SignCode.DrainsSlowly => "it drained slowly",
            SignCode.Gurgles => "it gurgled though the tank was not full",
            SignCode.GurglesWhenFull => "it gurgled, which the full tank explains",
            SignCode.FillsTooSoon => "it filled much too soon",
            SignCode.HeapSeen => "a heap was seen",
            SignCode.NothingCame => "the valve was open and nothing came",
            SignCode.ValveStiff => "the valve moved hard",
            SignCode.ValveDrips => "the valve dripped",
            SignCode.ValveWontClose => "the valve did not close",
            SignCode.SniffFailed => "the sniff test failed straight after a dump",
            SignCode.SniffFailedLater => "the sniff test failed",
            SignCode.SniffPassed => "the sniff test passed",
            SignCode.VentFoundBlocked => "the roof vent was found blocked",
            SignCode.VentFoundClear => "the roof vent was found clear",
            SignCode.CapWet => "it dripped when the cap came off",
            SignCode.CapDry => "the cap was dry",
            SignCode.Rushed => "a dump left in a rush",
            SignCode.RanSteadily => "a dump ran steadily",
            SignCode.RanSlowly => "a dump ran slowly",
            SignCode.Trickled => "only a trickle came",
            SignCode.DrainedLong => "it drained longer than this rig's usual",
            SignCode.DrainedAsUsual => "it drained in the usual time",
            SignCode.StayedFull => "the level stood high after a dump",
            SignCode.LiquidAlone => "a dump brought liquid alone",
            SignCode.BlackStoodOpen => "the black valve had stood open",
            SignCode.DryStart => "it was used without starter water",
            SignCode.LowDump => "it was dumped from a low level",
            SignCode.ThriftyUse => "it gets little water for each use",
            SignCode.PaperFailed => "the paper does not dissolve",
            SignCode.StoredDirty => "it was stored without a flush",
            SignCode.CyclesRise => "cycles to clear rise over the months",
            SignCode.CyclesMore => "the last rinses took more cycles than earlier ones",
            SignCode.RinseDirty => "a rinse ended dirty, or took very many cycles",
            SignCode.RinseClear => "a rinse ran clear at once",
            SignCode.HoldsLess => "less was metered up to Full than should fit",
            SignCode.HoldsAll => "as much was metered up to Full as should fit",
            SignCode.LampFouled => "a lamp is fouled",
            SignCode.LampsGood => "all lamps are believed",
            SignCode.SmellAfterDump => "it smelled straight after a dump",
            SignCode.LongUncleaned => "no deep clean for months",
            SignCode.LevelFell => "the level fell without a dump",
            SignCode.CrossFlow => "black fell while gray rose",
            SignCode.LevelHeld => "the level held",
            SignCode.SmellAtBay => "it smelled outside or in the bay",
            SignCode.SmellOnFlush => "it smelled on flushing with the fan off",
        };
        return sign.Entry is null ? TimeWords.Capital(said) : $"{TimeWords.Capital(said)}, {times.Day(sign.At.InZone(times.Zone).Date)}";
    }

    /// <summary>What is told of a smell.</summary>
    public static string Odor(OdorReason reason)
    {
        ArgumentNullException.ThrowIfNull(reason);
        var odor = reason.Entry as OdorEntry;
        return reason.What switch
        {
            OdorSign.Where => $"It was {Place(odor!.Where)}",
            OdorSign.Smell => $"It smelled of {EntryWords.Spaced(odor!.Smell)}",
            OdorSign.When => odor!.When.Count == 0 ? "Nothing in particular was going on"
                : string.Join(", ", odor.When.Select((w, i) => i == 0 ? TimeWords.Capital(EntryWords.Spaced(w)) : EntryWords.Spaced(w))),
            OdorSign.BowlDry => "The bowl does not hold water",
            OdorSign.BowlHolds => "The bowl holds its water",
            OdorSign.TrapDry => "A trap was found dry",
            OdorSign.TrapsWet => "The traps hold water",
            OdorSign.TrapsLongAgo => "Nobody wrote down water in the traps for more than two weeks",
            OdorSign.HotSinceDump => "Hot days since the black dump",
            OdorSign.VentBlocked => "The roof vent was found blocked",
            OdorSign.VentClear => "The roof vent is clear",
            OdorSign.HoseOrCapBad => "Hose, cap or valve were found wet or broken",
            OdorSign.HoseOrCapGood => "Hose and cap are sound",
            OdorSign.SniffFailed => "The sniff test failed",
            OdorSign.SniffPassed => "The sniff test passed",
            OdorSign.Cleaned => "It was cleaned since",
            OdorSign.Gurgles => "It gurgled or drained slowly with the tank not full",
            OdorSign.LongSinceDump => "Days since the black dump",
            OdorSign.DumpedJustBefore => "Black was dumped just before",
            OdorSign.Bleach => "Bleach went in",
            OdorSign.ValveOpen => "A valve stood open",
            OdorSign.ValvesClosed => "No valve stood open",
            OdorSign.NoSewer => "There was no sewer",
            OdorSign.AfterStanding => "The rig had stood unused",
            OdorSign.GrayOpenLong => "Gray had stood open for days",
            OdorSign.AlarmStands => "A propane alarm stands",
            OdorSign.AlarmCleared => "Propane was ruled out",
            OdorSign.Coated => "Other signs of a coat on the walls",
        };
    }

    private static string Place(OdorPlace place) => place switch
    {
        OdorPlace.Bathroom => "in the bathroom",
        OdorPlace.ToiletOnFlush => "at the toilet on flushing",
        OdorPlace.Shower => "at the shower",
        OdorPlace.BathSink => "at the bath sink",
        OdorPlace.GalleySink => "at the galley sink",
        OdorPlace.Floor => "near the floor",
        OdorPlace.WholeRig => "everywhere",
        OdorPlace.Outside => "outside",
        OdorPlace.StorageBay => "in the storage bay",
    };

    /// <summary>A check in words.</summary>
    public static CauseCheckText Check(CauseCheck check)
    {
        ArgumentNullException.ThrowIfNull(check);
        return check.Code switch
        {
            CauseCheckCode.SniffTest =>
                new("Sniff test", "One minute. Windows shut, toilet valve open, fan on for a second or two. No smell is a pass. Best straight after dump and flush, before anything is dosed.", SewerGas),
            CauseCheckCode.BowlHoldsWater => new("Does the bowl hold its water?", "Fill it an inch or two, mark the line, look again after some hours.", null),
            CauseCheckCode.TrapsWet =>
                new("Look into every drain for water",
                "Five minutes with a flashlight: shower, sinks, washer. A cup or two of water into each that is not used daily; log a fail if one was dry.", null),
            CauseCheckCode.RoofVentClear =>
                new("Is the roof vent clear?", "Look down the pipe for nests and leaves, and whether it smells there while somebody flushes.",
                "Ladder and roof: only on firm ground, never alone, not in wind or wet. Leave it to somebody who is used to it."),
            CauseCheckCode.CapDry => new("Take the cap off with the valves closed", "Two minutes, a bucket under it. Nothing may drip.",
                "Gloves on, eyes covered."),
            CauseCheckCode.HoseSound => new("Look over hose, lugs and gaskets", "Five minutes in daylight, the storage bay too.",
                "Gloves on; what touched it is washed."),
            CauseCheckCode.PaperDissolves => new("Test the paper in a glass", "Half a minute: a square into water; pulp passes.", null),
            CauseCheckCode.Flashlight =>
                new("Look down the toilet with a flashlight", "Two minutes. Fan off, roof vent shut. A heap stands up out of the liquid.", SewerGas),
            CauseCheckCode.PropaneRuledOut => new("Have propane ruled out", "By someone qualified, and only then.", "Until then: out, no flames, no switches."),
        };
    }

    /// <summary>What an answer would mean.</summary>
    public static string Meaning(CauseMeaning meaning, CauseCheck check)
    {
        ArgumentNullException.ThrowIfNull(meaning);
        ArgumentNullException.ThrowIfNull(check);
        var then = meaning.Cause is { } cause ? TimeWords.Lower(Cause(cause)) : Brief(meaning.Condition!.Value);
        var pass = meaning.Outcome == CheckOutcome.Pass;
        var came = check.Code == CauseCheckCode.Flashlight ? pass ? "If you see no waste pile" : "If you see a waste pile" : pass ? "If OK"
            : "If there is a problem";
        return $"{came}: {then}, {StepWords.Percent(meaning.Probability)}";
    }

    /// <summary>A remedy in words.</summary>
    /// <param name="action">The remedy.</param>
    /// <param name="tank">The tank; null for the rig.</param>
    public RemedyText Remedy(RemedyAction action, Tank? tank)
    {
        var two = tank is null ? "two thirds" : units.Volume(0.66 * tank.CapacityL);
        return action switch
        {
            RemedyAction.StopUsing => new("Nothing more into the toilet", "Until it drains again. Use another restroom.", null, ""),
            RemedyAction.SoapSoak =>
                new("Soak with hot water and soap overnight",
                $"As hot as is safe for pipes and hands, up to {two} in all at most, with dish soap; let it stand.", Overfill,
                "Still blocked the next day, twice.", DoseRecipe.SoapSoak),
            RemedyAction.HoseJet => new("A jet of water straight down the toilet",
                "Hose nozzle or wand, short bursts, count the water that goes in. Log it as a flush by wand.", Overfill + " Splash: eyes covered.",
                "No change after two goes."),
            RemedyAction.PaperDigester => new("Paper digester for a day", "By its label, with water enough to cover the heap; the toilet stays out of use.",
                "No second digester in the same fill. " + Overfill, "Nothing loosened after a day.", DoseRecipe.PaperDigester),
            RemedyAction.ClogTube =>
                new("A thin hose fed down the toilet",
                "Deeper whenever the water rises, until it goes away; then worked back and forth. Log it as a flush by wand with “tube” in the note.",
                Overfill + " That hose never carries drinking water again.", "The water does not go away."),
            RemedyAction.Reverse => new("Reverse flush in small volumes", "From the outlet up, a little at a time, with somebody at the toilet.",
                Overfill + " Backflow preventer between hose and tank.", "Two goes without solids."),
            RemedyAction.IceScrub => new("An ice drive", "Ice and water, then two hours on the road; it needs room in the tank.",
                "What it weighs is on the road with you.", "No change after one drive.", DoseRecipe.IceScrub),
            RemedyAction.PressureJet =>
                new("Pressure jet by a trained person", "Through the outlet, with a nozzle that fires backward; 5 to 30 minutes a tank.",
                "Water at this pressure cuts skin. Never open a cleanout under a full tank; no caustic drain openers, no compressed air.",
                "Then the tank itself is looked at."),
            RemedyAction.SoftenerSoak => new("Softener soak for a day", "Into the dumped and flushed tank, filled under watch.",
                "Leave room for what is still used, or the toilet out of use.", "The next rinse takes as many cycles.", DoseRecipe.SoftenerSoak),
            RemedyAction.TravelScrub =>
                new("Travel scrub on the drives to the next dumps", "Borax fully dissolved and soap before each drive, four to six dumps in a row.",
                "Keep concentrates away from children and pets.", "No fewer cycles after four.", DoseRecipe.TravelScrub),
            RemedyAction.Freshener => new("Water first, then freshener", "A gallon or two of water alone; if the smell stays, the freshener.", null,
                "It smells again within a day.", DoseRecipe.Freshener),
            RemedyAction.BuiltIn or RemedyAction.Wand or RemedyAction.Bucket or RemedyAction.Pedal =>
                new("Dump and flush until the end runs clear",
                "The whole run, with the valve worked back and forth while water runs: it takes debris out of its slot.",
                "Gloves on. Never leave a closed tank that fills.", "It smells, drips or sticks again after it."),
            RemedyAction.Enzyme => new("Plenty of water, then enzyme", "Starter water and the routine dose; flush with more water for a week.",
                "Not after bleach without two rinses.", "It smells again before the next dump.", DoseRecipe.Enzyme),
            RemedyAction.ValveLubricant => new("Valve lubricant in the tank", "With some water, a day or two in use; work the valve while dumping.",
                "On rubber only what is made for it.", "As stiff as before.", DoseRecipe.ValveLubricant),
            RemedyAction.ValveLubricated =>
                new("Lubricate the rod, work it while the tank is empty", "Pull it out and in some twenty times; log it under Service.",
                "On rubber only what is made for it. Never with force: a rod that breaks leaves the valve shut.", "As stiff as before."),
            RemedyAction.ValveReplaced => new("A new valve", "The tank emptied, rinsed and dry; by somebody who has done it.",
                "Whoever opens the pipe wears gloves and covers the eyes.", "Then the seat is looked at."),
            RemedyAction.AddEndValve => new("A gate valve on the outlet", "It holds back what the tank's own valve lets through; note it on the Rig page.",
                null, "It drips past both."),
            RemedyAction.VentCleared =>
                new("Clear the roof vent", "Nest, leaves or ice out of the pipe; water down it from above shows whether it is free. Log it under Service.",
                "Ladder and roof: firm ground, never alone, not in wind or wet; a trained person otherwise.", "It gurgles on, with the tank not full."),
            RemedyAction.WaterTraps =>
                new("A cup or two of water into every drain", "Shower, sinks, washer; every two weeks for those that are not used. Log the check “traps wet”.",
                null, "It smells at the same drain a day later: the trap device itself may have failed."),
            RemedyAction.CloseValve => new("Close the valve", "Black always, until it is time; gray for a day to see whether the smell goes.", null,
                "It smells on with all valves closed."),
            RemedyAction.FanOff => new("Fan off, roof vent shut while flushing", "An exhaust fan pulls tank air in as soon as the toilet's valve opens.", null,
                "It smells on flushing with the fan off."),
            RemedyAction.CleanBowlSeal =>
                new("Clean the bowl's seal", "Hold the valve open and wipe seal and throat; then see whether water stays in the bowl.", "Gloves on.",
                "The bowl still goes dry."),
            RemedyAction.SealConditioner => new("Condition the seal", "By its label, some hours in the bowl.", "On rubber only what is made for it.",
                "The bowl still goes dry.", DoseRecipe.SealConditioner),
            RemedyAction.SealReplaced => new("A new seal", "The toilet comes off its flange: somebody who has done it.", null,
                "Then the toilet itself is looked at."),
            RemedyAction.GraySoap => new("Soap into gray", "Through a drain that feeds this very tank, before a drive.", null, "It smells again after two.",
                DoseRecipe.GraySoap),
            RemedyAction.GrayDegreaser =>
                new("Degreaser into gray", "A cup with some gallons of water, a drive, then dump. Keep gray closed and dump it full from now on.",
                "Keep it away from children and pets.", "It smells again after the dump.", DoseRecipe.GrayDegreaser),
            RemedyAction.StowHose =>
                new("Rinse, dry, seal and cap", "Hose rinsed and drained into its closed box, cap on, bay wiped. Log the check “hose sound” or “cap dry”.",
                "Gloves on; disinfectant.", "It smells on with a dry bay."),
            RemedyAction.CallForHelp => new("Everyone out, call for help", "No flames, no switches.", null, ""),
            RemedyAction.Professional => new("Someone trained", "Show them the service sheet: it says what was seen and tried.", SewerGas, ""),
        };
    }

    /// <summary>Who the rig is.</summary>
    public string Rig => rig.Name;

    /// <summary>What the program itself noticed, in a line for Today.</summary>
    public static string Noticed(FaultReport report)
    {
        ArgumentNullException.ThrowIfNull(report);
        var named = report.Tanks.SelectMany(t => t.Conditions.Where(c => c.Probability >= Conditions.Likely).Select(c => (t.Tank, c)))
            .OrderByDescending(x => x.c.Probability).ToList();
        if (named.Count > 0) return $"{Condition(named[0].c.Code, named[0].Tank)} ({Likely(named[0].c.Probability)})";
        return report.Odors is [{ Probability: >= FaultReport.OdorLikely } odor, ..]
            ? $"The smell: {TimeWords.Lower(Cause(odor.Cause))} ({Likely(odor.Probability)})"
            : report.Tanks.SelectMany(t => t.Conditions.Where(c => c.Code is Core.Diagnosis.Condition.Heap or Core.Diagnosis.Condition.Buildup
            && c.Probability >= Conditions.Possible).Select(c => (t.Tank, c))).OrderByDescending(x => x.c.Probability).ToList() is [var risk, ..]
                ? $"{risk.Tank.Name}: the risk of a {Brief(risk.c.Code)} rises ({StepWords.Percent(risk.c.Probability)})" : "";
    }
}
