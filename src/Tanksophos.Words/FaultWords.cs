using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Levels;
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
    private const string Overfill = "A clogged tank can't be emptied fast. Leave space, stay at the water, and have someone watch the toilet.";
    private const string SewerGas = "Sewer gas can poison and ignite. Air out the room, no flames, keep your face away.";

    /// <summary>A condition as a finding about a tank.</summary>
    public static string Condition(Condition condition, Tank tank)
    {
        ArgumentNullException.ThrowIfNull(tank);
        var name = TimeWords.Capital(tank.Name);
        return condition switch
        {
            Core.Diagnosis.Condition.Buildup => $"{name}: buildup on walls and in corners",
            Core.Diagnosis.Condition.Heap => $"{name}: waste pile under the toilet",
            Core.Diagnosis.Condition.OutletClog => $"{name}: outlet clogged",
            Core.Diagnosis.Condition.VentBlocked => $"{name}: vent blocked",
            Core.Diagnosis.Condition.ValveLeak => $"{name}: valve leaks or won't close",
            Core.Diagnosis.Condition.ValveStiff => $"{name}: stiff valve",
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
        OdorCause.FanDraw => "The fan pulls tank air in",
        OdorCause.BowlSeal => "The bowl seal leaks air",
        OdorCause.BlackAnaerobic => "Black has gone septic: no air, too little water, or too long",
        OdorCause.BlackCoated => "Buildup on the black tank's walls",
        OdorCause.DryTrap => "A drain trap is dry",
        OdorCause.GrayGreasy => "Buildup or grease in gray",
        OdorCause.ValveOpenToSewer => "A valve is open to the sewer",
        OdorCause.VentBlocked => "The roof vent is blocked",
        OdorCause.HoseOrCap => "Hose, cap or storage bay",
        OdorCause.Propane => "Propane",
    };

    /// <summary>How likely, in words beside the bar.</summary>
    public static string Likely(double probability) => probability switch
    {
        >= 0.85 => "almost certain",
        >= 0.6 => "likely",
        >= 0.35 => "maybe",
        >= 0.15 => "possible",
        _ => "unlikely",
    };

    /// <summary>A sign, with when it was.</summary>
    public string Sign(Sign sign)
    {
        ArgumentNullException.ThrowIfNull(sign);
        var said = sign.Code switch
        {
            SignCode.BacksUp => "water backed up when flushed",
            SignCode.DrainsSlowly => "it drained slowly",
            SignCode.Gurgles => "it gurgled and the tank wasn't full",
            SignCode.GurglesWhenFull => "it gurgled, but the tank was full",
            SignCode.FillsTooSoon => "it filled much too fast",
            SignCode.HeapSeen => "a waste pile was seen",
            SignCode.NothingCame => "the valve was open and nothing came",
            SignCode.ValveStiff => "the valve was stiff",
            SignCode.ValveDrips => "the valve dripped",
            SignCode.ValveWontClose => "the valve didn't close",
            SignCode.SniffFailed => "the sniff test failed right after a dump",
            SignCode.SniffFailedLater => "the sniff test failed",
            SignCode.SniffPassed => "the sniff test passed",
            SignCode.VentFoundBlocked => "the roof vent was found blocked",
            SignCode.VentFoundClear => "the roof vent was found clear",
            SignCode.CapWet => "it dripped when the cap came off",
            SignCode.CapDry => "the cap was dry",
            SignCode.Rushed => "a dump ran as a fast rush",
            SignCode.RanSteadily => "a dump ran steadily",
            SignCode.RanSlowly => "a dump ran slowly",
            SignCode.Trickled => "only a trickle came",
            SignCode.DrainedLong => "it drained slower than usual",
            SignCode.DrainedAsUsual => "it drained in the usual time",
            SignCode.StayedFull => "the level was high after a dump",
            SignCode.LiquidAlone => "only liquid came out",
            SignCode.BlackStoodOpen => "the black valve was left open",
            SignCode.DryStart => "it was used without starter water",
            SignCode.LowDump => "it was dumped too low",
            SignCode.ThriftyUse => "little water per flush",
            SignCode.PaperFailed => "the paper doesn't dissolve",
            SignCode.StoredDirty => "it was stored without a rinse",
            SignCode.CyclesRise => "rinses until clear go up over months",
            SignCode.CyclesMore => "recent dumps took more rinses",
            SignCode.RinseDirty => "it stayed dirty, or took many rinses",
            SignCode.RinseClear => "the first rinse ran clear",
            SignCode.HoldsLess => "it took less water to Full than it should",
            SignCode.HoldsAll => "it took as much water to Full as it should",
            SignCode.LampFouled => "a sensor is fouled",
            SignCode.LampsGood => "all sensors look right",
            SignCode.SmellAfterDump => "it smelled right after a dump",
            SignCode.LongUncleaned => "no deep clean for months",
            SignCode.LevelFell => "the level fell without a dump",
            SignCode.CrossFlow => "black fell while gray rose",
            SignCode.LevelHeld => "the level stayed put",
            SignCode.SmellAtBay => "it smelled outside or in the bay",
            SignCode.SmellOnFlush => "it smelled when flushed, fan off",
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
            OdorSign.When => odor!.When.Count == 0 ? "Nothing special was going on"
                : string.Join(", ", odor.When.Select((w, i) => i == 0 ? TimeWords.Capital(EntryWords.Spaced(w)) : EntryWords.Spaced(w))),
            OdorSign.BowlDry => "The bowl won't hold water",
            OdorSign.BowlHolds => "The bowl holds water",
            OdorSign.TrapDry => "A trap was found dry",
            OdorSign.TrapsWet => "The traps hold water",
            OdorSign.TrapsLongAgo => "No water logged in the traps for over two weeks",
            OdorSign.HotSinceDump => "Hot days since the black dump",
            OdorSign.VentBlocked => "The roof vent was found blocked",
            OdorSign.VentClear => "The roof vent is clear",
            OdorSign.HoseOrCapBad => "Hose, cap or valve was wet or broken",
            OdorSign.HoseOrCapGood => "Hose and cap are OK",
            OdorSign.SniffFailed => "The sniff test failed",
            OdorSign.SniffPassed => "The sniff test passed",
            OdorSign.Cleaned => "It has been cleaned since",
            OdorSign.Gurgles => "It gurgled or drained slowly, tank not full",
            OdorSign.LongSinceDump => "Days since the black dump",
            OdorSign.DumpedJustBefore => "Black was dumped just before",
            OdorSign.Bleach => "Bleach went in",
            OdorSign.ValveOpen => "A valve was open",
            OdorSign.ValvesClosed => "No valve was open",
            OdorSign.NoSewer => "There was no sewer",
            OdorSign.AfterStanding => "The rig sat unused",
            OdorSign.GrayOpenLong => "Gray was open for days",
            OdorSign.AlarmStands => "The propane alarm is active",
            OdorSign.AlarmCleared => "Propane was ruled out",
            OdorSign.Coated => "Other signs of buildup",
        };
    }

    internal static string Place(OdorPlace place) => place switch
    {
        OdorPlace.Bathroom => "in the bathroom",
        OdorPlace.ToiletOnFlush => "at the toilet when flushed",
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
                new("Sniff test", "1 minute. Windows shut, toilet valve open, fan on for a second or two. No smell means OK. Best right after dump and rinse, "
                    + "before any dose.", SewerGas),
            CauseCheckCode.BowlHoldsWater => new("Does the bowl hold water?", "Fill it an inch or two, mark the line, and look again in a few hours.", null),
            CauseCheckCode.TrapsWet =>
                new("Check every drain for water",
                "5 minutes with a flashlight: shower, sinks, washer. Add a cup or two of water to each one you don't use daily. Log a problem if one "
                + "was dry.", null),
            CauseCheckCode.RoofVentClear =>
                new("Is the roof vent clear?", "Look down the pipe for nests and leaves. Does it smell there while someone flushes?",
                "Falls hurt. Ladder on firm ground, never alone, not in wind or rain. Or leave it to someone used to it."),
            CauseCheckCode.CapDry => new("Take the cap off with the valves closed", "2 minutes, bucket under it. Nothing should drip.",
                "Gloves and eye protection on."),
            CauseCheckCode.HoseSound => new("Check hose, lugs and gaskets", "5 minutes in daylight. The storage bay too.",
                "Gloves on. Wash whatever touched it."),
            CauseCheckCode.PaperDissolves => new("Test the paper in a glass", "30 seconds: one square in water. Pulp is OK.", null),
            CauseCheckCode.Flashlight =>
                new("Look down the toilet with a flashlight", "2 minutes. Fan off, roof vent shut. A waste pile sticks up out of the liquid.", SewerGas),
            CauseCheckCode.PropaneRuledOut => new("Have propane ruled out", "By a qualified person.", "Until then: everyone out, no flames, no switches."),
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
            RemedyAction.StopUsing => new("Stop using the toilet", "Until it drains again. Use another restroom.", null, ""),
            RemedyAction.SoapSoak =>
                new("Soak with hot water and soap overnight",
                $"Water only as hot as pipes and hands can take, {two} total at most, with dish soap. Let it sit.", Overfill,
                "It's still blocked after two tries.", DoseRecipe.SoapSoak),
            RemedyAction.HoseJet => new("Spray straight down the toilet",
                "Hose nozzle or wand, short bursts. Count the water that goes in. Log it as a wand flush.", Overfill + " It splashes: eye protection on.",
                "No change after two tries."),
            RemedyAction.PaperDigester => new("Paper digester for a day", "By its label, with enough water to cover the pile. Don't use the toilet.",
                "No second digester in the same fill. " + Overfill, "Nothing loosened in a day.", DoseRecipe.PaperDigester),
            RemedyAction.ClogTube =>
                new("A thin hose fed down the toilet",
                "Feed it deeper each time the water rises, until the water drops. Then work it back and forth. Log it as a wand flush with “tube” in the note.",
                Overfill + " Never use that hose for drinking water again.", "The water doesn't drop."),
            RemedyAction.Reverse => new("Reverse flush in small volumes", "From the outlet up, a little at a time, with someone at the toilet.",
                Overfill + " Backflow preventer between hose and tank.", "No solids after two tries."),
            RemedyAction.IceScrub => new("Ice scrub on a drive", "Ice and water, then a two-hour drive. Needs space in the tank.",
                "Ice and water add weight on the road.", "No change after one drive.", DoseRecipe.IceScrub),
            RemedyAction.PressureJet =>
                new("Pressure jet by a trained person", "Through the outlet, with a nozzle that sprays backward. 5 to 30 minutes a tank.",
                "Water at this pressure cuts skin. Never open a cleanout under a full tank. No caustic drain opener, no compressed air.",
                "Have the tank inspected next."),
            RemedyAction.SoftenerSoak => new("Softener soak for a day", "In the dumped and rinsed tank. Watch it while it fills.",
                "Leave room for what you use meanwhile, or don't use the toilet.", "The next dump takes as many rinses.", DoseRecipe.SoftenerSoak),
            RemedyAction.TravelScrub =>
                new("Travel scrub before the next drives", "Dissolve all the borax. Add soap. Before each drive, 4 to 6 dumps in a row.",
                "Keep from kids and pets.", "No fewer rinses after four.", DoseRecipe.TravelScrub),
            RemedyAction.Freshener => new("Water first, then freshener", "A gallon or two of water first. Still smells? Add the freshener.", null,
                "It smells again within a day.", DoseRecipe.Freshener),
            RemedyAction.BuiltIn or RemedyAction.Wand or RemedyAction.Bucket or RemedyAction.Pedal =>
                new("Dump and rinse until the last trickle is clear",
                "The whole run. Work the valve back and forth while water runs to clear debris from its slot.",
                "Gloves on. Never leave a closed tank while it fills.", "It smells, drips or sticks again."),
            RemedyAction.Enzyme => new("Plenty of water, then enzyme", "Starter water and the routine dose. Flush with more water for a week.",
                "After bleach, rinse twice first.", "It smells again before the next dump.", DoseRecipe.Enzyme),
            RemedyAction.ValveLubricant => new("Valve lubricant in the tank", "With some water. Use the tank a day or two, then work the valve while you dump.",
                "On rubber, only products made for it.", "It's as stiff as before.", DoseRecipe.ValveLubricant),
            RemedyAction.ValveLubricated =>
                new("Lubricate the rod and work it, tank empty", "Pull it in and out about 20 times. Log it under Service.",
                "On rubber, only products made for it. Never force it: a broken rod leaves the valve shut.", "It's as stiff as before."),
            RemedyAction.ValveReplaced => new("A new valve", "Tank emptied, rinsed and dry. A job for a trained person.",
                "Gloves and eye protection on before the pipe opens.", "Have the valve seat inspected next."),
            RemedyAction.AddEndValve => new("A gate valve on the outlet", "It stops what the tank's valve lets through. Note it on the Rig page.",
                null, "It drips past both."),
            RemedyAction.VentCleared =>
                new("Clear the roof vent", "Clear nests, leaves or ice from the pipe. Water poured in from above shows if it's open. Log it under Service.",
                "Falls hurt. Ladder on firm ground, never alone, not in wind or rain. Or call a trained person.", "It still gurgles, tank not full."),
            RemedyAction.WaterTraps =>
                new("Add a cup or two of water to every drain", "Shower, sinks, washer. Every two weeks for unused ones. Log the check “traps wet”.",
                null, "It smells at the same drain a day later. The trap itself may have failed."),
            RemedyAction.CloseValve => new("Close the valve", "Black always, until you dump. Gray for a day, to see if the smell stops.", null,
                "It still smells with all valves closed."),
            RemedyAction.FanOff => new("Fan off, roof vent shut while flushing", "The fan pulls tank air in when the toilet valve opens.", null,
                "It smells when flushed, fan off."),
            RemedyAction.VentFan => new("A fan on the vent stack", "Some rigs smell a little whatever you do. The fan pulls the tank's air up and out. "
                + "Note it on the Rig page.", "Ladder work and wiring: leave it to a trained person if in doubt.", ""),
            RemedyAction.CleanBowlSeal =>
                new("Clean the bowl seal", "Hold the valve open and wipe the seal and throat. Then see if water stays in the bowl.", "Gloves on.",
                "The bowl still won't hold water."),
            RemedyAction.SealConditioner => new("Condition the seal", "By its label, a few hours in the bowl.", "On rubber, only products made for it.",
                "The bowl still won't hold water.", DoseRecipe.SealConditioner),
            RemedyAction.SealReplaced => new("A new seal", "The toilet comes off its flange. Get help if it's your first time.", null,
                "Have the toilet inspected next."),
            RemedyAction.GraySoap => new("Soap into gray", "Through a drain that drains to this tank, before a drive.", null, "It smells again after "
                + "two tries.",
                DoseRecipe.GraySoap),
            RemedyAction.GrayDegreaser =>
                new("Degreaser into gray", "1 cup with a few gallons of water, a drive, then dump. From now on keep gray closed and dump it full.",
                "Keep from kids and pets.", "It smells again after the dump.", DoseRecipe.GrayDegreaser),
            RemedyAction.StowHose =>
                new("Rinse, dry, seal and cap", "Rinse and drain the hose, close its box, cap on, wipe the bay. Log the check “hose sound” or “cap dry”.",
                "Gloves on. Use disinfectant.", "It still smells with a dry bay."),
            RemedyAction.CallForHelp => new("Everyone out, call for help", "No flames, no switches.", null, ""),
            RemedyAction.Professional => new("Someone trained", "Show them the service sheet: what you saw and tried.", SewerGas, ""),
        };
    }

    /// <summary>Who the rig is.</summary>
    public string Rig => rig.Name;

    /// <summary>What is said where there is nothing to say.</summary>
    /// <param name="tooLittle">Whether the log holds too little to tell.</param>
    /// <param name="sensorDoubted">Whether a sensor is not trusted; the page Sensors says more of it.</param>
    public static string Nothing(bool tooLittle, bool sensorDoubted) =>
        tooLittle ? "Not enough logged yet to tell" : sensorDoubted ? "No problems found except a bad sensor" : "No problems found";

    /// <summary>Whether the rig has a sensor that is not trusted.</summary>
    /// <param name="belief">What is believed of the rig.</param>
    public static bool SensorDoubted(LevelBelief belief)
    {
        ArgumentNullException.ThrowIfNull(belief);
        return belief.Tanks.Any(t => t.Probes.Any(p => !p.Believed));
    }

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
                ? $"{risk.Tank.Name}: risk of {Brief(risk.c.Code)} is rising ({StepWords.Percent(risk.c.Probability)})" : "";
    }
}
