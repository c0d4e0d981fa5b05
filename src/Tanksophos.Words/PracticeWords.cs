using System.Globalization;
using Tanksophos.Core.Agendas;
using Tanksophos.Core.Log;
using Tanksophos.Core.Practice;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Simulation;

namespace Tanksophos.Words;

/// <summary>Says practice cases in words: question, answers, evidence, what was found, what to remember.</summary>
public sealed class PracticeWords(Units units)
{
    /// <summary>Name of a topic.</summary>
    public static string Topic(PracticeTopic topic) => topic switch
    {
        PracticeTopic.Lamps => "Lights",
        PracticeTopic.Smells => "Smells",
        PracticeTopic.Clogs => "Clogs and piles",
        PracticeTopic.Rinsing => "Rinsing",
        PracticeTopic.Planning => "Planning a trip",
        PracticeTopic.Mixed => "Mixed",
    };

    /// <summary>What a topic teaches.</summary>
    public static string About(PracticeTopic topic) => topic switch
    {
        PracticeTopic.Lamps => "Which light is wrong, and how full is it really?",
        PracticeTopic.Smells => "Propane first. Then: where does it come from?",
        PracticeTopic.Clogs => "Pile, clog, vent, valve, or just full?",
        PracticeTopic.Rinsing => "Is it clean, or does it only look clean?",
        PracticeTopic.Planning => "Dump, top up, or leave it for the next sewer?",
        PracticeTopic.Mixed => "Anything can come up.",
    };

    /// <summary>What is asked.</summary>
    /// <param name="case">The case.</param>
    public static string Question(PracticeCase @case)
    {
        ArgumentNullException.ThrowIfNull(@case);
        var entries = @case.Logbook.InOrder();
        var last = entries.OfType<ReadingEntry>().LastOrDefault(r => r.Tank == @case.Tank.Id && r.Lit is not null);
        var probes = @case.Tank.Monitor.Probes;
        switch (@case.Question)
        {
            case CaseQuestion.LitAfterDump:
                {
                    var lit = probes.Where(p => last!.Lit!.Contains(p.Id)).Select(p => p.Label).ToList();
                    var dump = entries.OfType<DumpEntry>().Last(d => d.Tank == @case.Tank.Id);
                    var hours = Math.Max(1, (int)Math.Round((last!.Instant - dump.Instant).TotalHours));
                    var since = $"{hours} {(hours == 1 ? "hour" : "hours")} after you logged a black dump";
                    return lit.Count == 0 ? $"No black light is on {since}. Is that right?"
                        : $"The black {EntryWords.And(lit)} {(lit.Count == 1 ? "light is" : "lights are")} on {since}. Why?";
                }
            case CaseQuestion.DarkLight:
                {
                    var dark = probes.Where(p => !last!.Lit!.Contains(p.Id)).Select(p => p.Label).ToList();
                    return dark.Count == probes.Count ? "No black light is on. Why?" : $"The black {dark[0]} light is off. Why?";
                }
            case CaseQuestion.AllAlike:
                return last!.Lit!.Count > 0 ? "Every light is on, on both tanks. Why?" : "Every light is off, on both tanks. Why?";
            case CaseQuestion.Smell:
                {
                    if (@case.Gas == Because.PropaneAlarm) return "The propane alarm went off. What is it, and what do you do first?";
                    if (@case.GasFirst) return "There's a strong gas smell. What is it, and what do you do first?";
                    var odor = entries.OfType<OdorEntry>().Last();
                    return $"There's a {EntryWords.Spaced(odor.Smell)} smell {FaultWords.Place(odor.Where)}. Where does it come from?";
                }
            case CaseQuestion.Trouble:
                return entries.OfType<SymptomEntry>().LastOrDefault()?.Code switch
                {
                    SymptomCode.BacksUpOnFlush => "Water backs up when you flush. What's wrong?",
                    SymptomCode.DrainsSlowly => "The toilet drains slowly. What's wrong?",
                    SymptomCode.Gurgles => "The toilet gurgles. What's wrong?",
                    SymptomCode.FillsTooSoon => "Black fills much too fast. What's wrong?",
                    SymptomCode.ValveDrips => "It drips at the outlet. What's wrong?",
                    SymptomCode.ValveWontClose => "The black valve won't close all the way. What's wrong?",
                    SymptomCode.NothingComesOut => "You opened black and nothing came. What's wrong?",
                    _ => "Something is wrong with black. What is it?",
                };
            case CaseQuestion.Rinse:
                return entries.OfType<DumpEntry>().LastOrDefault(d => d.Tank == @case.Tank.Id)?.Flow == DumpFlow.Trickle
                    ? "You opened black and only a trickle came. What now?" : "You're rinsing black, and the middle ran clear. What now?";
            case CaseQuestion.Leaving:
                return $"You leave tomorrow for {@case.Nights} nights with no hookups. What do you do with the tanks before you go?";
            default:
                return $"{@case.Nights} more {(@case.Nights == 1 ? "night" : "nights")} here with no hookups, then a full hookup. What do you do?";
        }
    }

    /// <summary>An answer to choose.</summary>
    /// <param name="answer">The answer.</param>
    /// <param name="topic">What the case is about.</param>
    public static string Answer(CaseAnswer answer, PracticeTopic topic) => answer switch
    {
        CaseAnswer.TankFull when topic == PracticeTopic.Clogs => "Nothing is blocked: the tank is full",
        CaseAnswer.OutletClog when topic == PracticeTopic.Rinsing => "Stop. The outlet is clogged: no more water in",
        CaseAnswer.StuckOn => "A light is stuck on",
        CaseAnswer.StuckOff => "A light is stuck off: bad sensor or wire",
        CaseAnswer.TankFull => "The lights are right",
        CaseAnswer.WetFilm => "A wet film on the sensor. It clears by tomorrow",
        CaseAnswer.PanelFault => "Low battery or bad ground: the whole panel is wrong",
        CaseAnswer.ForgottenDump => "Someone dumped and didn't log it",
        CaseAnswer.FanDraw => FaultWords.Cause(Core.Diagnosis.OdorCause.FanDraw),
        CaseAnswer.BowlSeal => FaultWords.Cause(Core.Diagnosis.OdorCause.BowlSeal),
        CaseAnswer.BlackAnaerobic => "Black has gone septic",
        CaseAnswer.BlackCoated => FaultWords.Cause(Core.Diagnosis.OdorCause.BlackCoated),
        CaseAnswer.DryTrap => FaultWords.Cause(Core.Diagnosis.OdorCause.DryTrap),
        CaseAnswer.GrayGreasy => FaultWords.Cause(Core.Diagnosis.OdorCause.GrayGreasy),
        CaseAnswer.ValveOpenToSewer => FaultWords.Cause(Core.Diagnosis.OdorCause.ValveOpenToSewer),
        CaseAnswer.VentBlocked => FaultWords.Cause(Core.Diagnosis.OdorCause.VentBlocked),
        CaseAnswer.HoseOrCap => "The hose, the cap or the storage bay",
        CaseAnswer.Propane => "A propane leak",
        CaseAnswer.Heap => "A waste pile under the toilet",
        CaseAnswer.OutletClog => "The outlet is clogged",
        CaseAnswer.Buildup => "Buildup on the walls",
        CaseAnswer.ValveLeak => "The black valve leaks",
        CaseAnswer.Done => "It's clean: close black, starter water, dose",
        CaseAnswer.RinseAgain => "Not clean yet: rinse again",
        CaseAnswer.DeepClean => "Stop. More water won't do it: plan a deep clean",
        CaseAnswer.CloseGray => "Close the gray valve first",
        CaseAnswer.CarryOn => "Nothing: there is room",
        CaseAnswer.DumpNow => "Dump black, then gray",
        CaseAnswer.TopUpThenDump => "Add water to black up to 2/3, then dump both",
        CaseAnswer.GrayOnly => "Dump gray only, keep black",
        CaseAnswer.Divert => "Pour some dishwater down the toilet",
        CaseAnswer.LeaveEarly => "Go to a dump station before the nights are over",
    };

    /// <summary>Name of a light.</summary>
    /// <param name="tank">Its tank.</param>
    /// <param name="probe">Its probe.</param>
    /// <param name="case">The case; where it asks about one tank, the tank is not named.</param>
    public static string Light(Tank tank, Probe probe, PracticeCase @case)
    {
        ArgumentNullException.ThrowIfNull(tank);
        ArgumentNullException.ThrowIfNull(probe);
        ArgumentNullException.ThrowIfNull(@case);
        return @case.Lights.All(l => l.Tank == tank) ? probe.Label : $"{tank.Name} {probe.Label}";
    }

    /// <summary>What a light does.</summary>
    public static string Light(ProbeState state) => state switch
    {
        ProbeState.StuckOn => "stuck on",
        ProbeState.StuckOff => "never comes on",
        ProbeState.Working => "works",
    };

    /// <summary>Something to ask for.</summary>
    /// <param name="evidence">The check.</param>
    public string Evidence(Evidence evidence)
    {
        ArgumentNullException.ThrowIfNull(evidence);
        return evidence.Code switch
        {
            EvidenceCode.Flashlight => "Look down the toilet with a flashlight",
            EvidenceCode.AskCrew => "Ask everyone aboard",
            EvidenceCode.Handles => "Look at the valve handles",
            EvidenceCode.Battery => "Check the battery",
            EvidenceCode.PanelTomorrow => "Read the panel again tomorrow",
            EvidenceCode.Wiring => "Check the wires at the sensors",
            EvidenceCode.MeteredFill => $"Fill {units.Volume(evidence.WaterL)} by meter and read the panel",
            EvidenceCode.GasOut => "Everyone out, gas off only if it's safe, call for help",
            EvidenceCode.Sniff => "Do the sniff test",
            EvidenceCode.FanOff => "Fan off, roof vent shut, then flush",
            EvidenceCode.BowlHolds => "Fill the bowl and look again in an hour",
            EvidenceCode.Traps => "Check every drain for water",
            EvidenceCode.SinkRun => "Run the galley sink and smell",
            EvidenceCode.AddWater => $"Add {units.Volume(evidence.WaterL)} of water to black and wait",
            EvidenceCode.RoofVent => "Check the roof vent",
            EvidenceCode.CapOff => "Take the cap off with the valves closed",
            EvidenceCode.Hose => "Check hose, lugs, gasket and cap",
            EvidenceCode.BowlFlush => "Flush one bowlful and watch",
            EvidenceCode.DumpWatch => "Open black on the sewer and watch",
            EvidenceCode.Cleanout => "Open the cleanout and look in",
            EvidenceCode.WatchEnd => "Open black again and watch the last trickle",
            EvidenceCode.RinseWatch => $"Rinse once more with {units.Volume(evidence.WaterL)} and watch the end",
        };
    }

    /// <summary>What a check costs: minutes, water, mess.</summary>
    /// <param name="evidence">The check.</param>
    public string Cost(Evidence evidence)
    {
        ArgumentNullException.ThrowIfNull(evidence);
        var time = evidence.Minutes >= 1440 ? "1 day" : evidence.Minutes >= 60 ? $"{evidence.Minutes / 60:0} h" : $"{evidence.Minutes:0} min";
        var water = evidence.WaterL > 0 ? $" · {units.Volume(evidence.WaterL)}" : "";
        return $"{time}{water} · {Of(evidence.Mess)}";
    }

    /// <summary>How dirty it is.</summary>
    public static string Of(Mess mess) => mess switch { Mess.Clean => "clean", Mess.Some => "gloves", _ => "messy" };

    /// <summary>What can hurt at a check; null for nothing.</summary>
    public static string? Caution(EvidenceCode code) => code switch
    {
        EvidenceCode.GasOut => "No flames, no switches. A propane alarm is real until shown otherwise.",
        EvidenceCode.Cleanout => "Never under a tank that isn't empty.",
        EvidenceCode.RoofVent => "Falls hurt. Ladder on firm ground, never alone.",
        EvidenceCode.MeteredFill or EvidenceCode.RinseWatch => "Overfilling sends sewage out the roof vent or toilet.",
        EvidenceCode.Wiring => "12 V off first.",
        EvidenceCode.CapOff or EvidenceCode.DumpWatch or EvidenceCode.Hose => "Gloves and eye protection on.",
        _ => null,
    };

    /// <summary>What was found.</summary>
    /// <param name="result">The result.</param>
    /// <param name="case">The case.</param>
    public static string Found(EvidenceResult result, PracticeCase @case)
    {
        ArgumentNullException.ThrowIfNull(result);
        ArgumentNullException.ThrowIfNull(@case);
        var rig = @case.Logbook.Rig;
        var yes = result.Found == true;
        return result.Evidence.Code switch
        {
            EvidenceCode.Flashlight => Seen(result),
            EvidenceCode.AskCrew => result.Entries.OfType<PeopleEntry>().FirstOrDefault() is { } people ? $"{people.Count} people are coming along."
                : !yes ? "No one has anything to add." : @case.Question == CaseQuestion.LitAfterDump ? "“I may have pulled the wrong handle.”"
                : "“I dumped this morning and forgot to log it.”",
            EvidenceCode.Handles => yes ? "The gray handle is out: gray is open." : "All valves are closed.",
            EvidenceCode.Battery => yes ? "11.4 volts with a load on. That's low." : "12.6 volts with a load on. OK.",
            EvidenceCode.Wiring => yes ? "A corroded stud and a loose crimp." : "Wires and studs look good.",
            EvidenceCode.PanelTomorrow or EvidenceCode.MeteredFill => string.Join(" ", result.Entries.OfType<ReadingEntry>().Select(r => Lights(r, rig))),
            EvidenceCode.GasOut => yes ? "The technician found a leak at a fitting." : "The technician found no propane. All clear.",
            EvidenceCode.Sniff => yes ? "It smells." : "No smell.",
            EvidenceCode.FanOff => yes ? "With the fan off, no smell." : "It smells the same.",
            EvidenceCode.BowlHolds => yes ? "The bowl is dry after an hour." : "The bowl still holds its water.",
            EvidenceCode.Traps => yes ? "One trap is dry." : "Every trap holds water.",
            EvidenceCode.SinkRun => yes ? "The smell gets much stronger while it drains." : "No difference.",
            EvidenceCode.AddWater => yes ? "An hour later the smell is nearly gone." : "It smells the same.",
            EvidenceCode.RoofVent => yes ? "Leaves and an old nest: it's blocked." : "The vent is clear.",
            EvidenceCode.CapOff => yes ? "It drips from the outlet." : "Dry.",
            EvidenceCode.Hose => yes ? "The cap's gasket is cracked, and the bay is damp." : "All OK.",
            EvidenceCode.BowlFlush => result.Entries.OfType<SymptomEntry>().FirstOrDefault()?.Code switch
            {
                SymptomCode.BacksUpOnFlush => "It goes down slowly and comes back up.",
                null => "It goes down as usual.",
                _ => "It gurgles and goes down slowly.",
            },
            EvidenceCode.DumpWatch => result.Entries.OfType<DumpEntry>().FirstOrDefault() is { } dump
                ? string.Create(CultureInfo.InvariantCulture, $"{Flow(dump.Flow)} {dump.Minutes:0.0} min.")
                + (dump.Debris == Debris.None ? " Only liquid." : "")
                : "",
            EvidenceCode.Cleanout => yes ? "Waste is packed behind the plug." : "Waste runs out.",
            EvidenceCode.WatchEnd => End(result),
            EvidenceCode.RinseWatch => result.Entries.Count == 0 ? "Hardly anything comes out." : End(result),
            _ => "",
        };
    }

    private static string Seen(EvidenceResult result)
    {
        var share = result.Entries.OfType<ReadingEntry>().First().Fraction ?? 0;
        var level = $"Liquid up to about {StepWords.Percent(share)} of the tank.";
        return result.Found == true ? $"{level} A pile sticks up out of it under the toilet." : level;
    }

    private static string Lights(ReadingEntry reading, Rig rig)
    {
        var tank = rig.Find(reading.Tank);
        var lit = tank?.Monitor.Probes.Where(p => reading.Lit?.Contains(p.Id) == true).Select(p => p.Label).ToList() ?? [];
        return $"{tank?.Name}: {(lit.Count == 0 ? "no light on" : $"{EntryWords.And(lit)} on")}.";
    }

    private static string Flow(DumpFlow? flow) => flow switch
    {
        DumpFlow.Rush => "It runs out in a rush.",
        DumpFlow.Steady => "It runs out steadily.",
        DumpFlow.Slow => "It runs slowly and gulps.",
        _ => "Only a trickle comes.",
    };

    private static string End(EvidenceResult result) => result.Entries.OfType<FlushEntry>().FirstOrDefault()?.Cycles[^1].End switch
    {
        EndColor.Clear => "The last trickle is clear, nothing in it.",
        EndColor.Tinted => "The last trickle is tinted, with paper in it.",
        EndColor.Dark => "The last trickle is dark, with paper in it.",
        _ => "",
    };

    /// <summary>What fails a case: what could have happened.</summary>
    public static string Why(Danger danger) => danger switch
    {
        Danger.Overfilled => "You filled a tank past the top. Sewage comes out of the roof vent or the toilet.",
        Danger.GasIgnored => "There was a sign of propane and you did something else first. One spark can be enough.",
        Danger.BothValvesOpen => "You rinsed black with gray open. Black water runs up into gray.",
        Danger.CleanoutUnderFull => "You opened the cleanout under a tank that wasn't empty. All of it comes out at once.",
        Danger.Spilled => "Sewage ran onto the ground. Check the hose, both ends, before anything opens.",
        Danger.WrongInlet => "You put the rinse hose on the drinking water inlet. Sewer germs get into the water you drink.",
    };

    /// <summary>A sentence to remember.</summary>
    public static string Remember(CaseAnswer answer) => answer switch
    {
        CaseAnswer.StuckOn => "A light that's on right after a dump is probably wrong. Look down the toilet before you rinse.",
        CaseAnswer.StuckOff => "A dark light doesn't mean empty. Count people and days, and look.",
        CaseAnswer.TankFull => "A logged dump isn't proof. If the lights and a look agree, believe them.",
        CaseAnswer.WetFilm => "A light may stay on for hours after a dump. Read it again tomorrow before you blame it.",
        CaseAnswer.PanelFault => "When every light is wrong at once, check the battery first.",
        CaseAnswer.ForgottenDump => "Lights that go out on both tanks at once usually mean a dump nobody logged. Ask.",
        CaseAnswer.FanDraw => "Turn the fan off and shut the roof vent before you flush.",
        CaseAnswer.BowlSeal => "An inch or two of water in the bowl is what keeps the smell in the tank.",
        CaseAnswer.BlackAnaerobic => "More water first. A dose only if the smell stays.",
        CaseAnswer.BlackCoated => "A tank that smells right after a good rinse has buildup.",
        CaseAnswer.DryTrap => "Pour water into every unused drain, every two weeks.",
        CaseAnswer.GrayGreasy => "Gray needs care too: a squirt of dish soap before a drive, degreaser once a month.",
        CaseAnswer.ValveOpenToSewer => "On a sewer hookup, a valve left open lets the sewer's smell in.",
        CaseAnswer.VentBlocked => "If it gurgles and the tank isn't full, check the roof vent.",
        CaseAnswer.HoseOrCap => "If it only smells outside, check the hose, the cap and the bay first.",
        CaseAnswer.Propane => "A propane alarm is real until a qualified person says otherwise.",
        CaseAnswer.Heap => "Water in the bowl and starter water keep a pile from growing.",
        CaseAnswer.OutletClog => "Put nothing more into a tank that won't empty.",
        CaseAnswer.Buildup => "More rinses than last year until it runs clear: that's buildup.",
        CaseAnswer.ValveLeak => "Cap off, valves closed, bucket under it: a drip tells which side leaks.",
        CaseAnswer.Done => "If the last trickle is clear, it's clean. Don't waste more water.",
        CaseAnswer.RinseAgain => "The middle always looks clean. Only the last trickle counts.",
        CaseAnswer.DeepClean => "Five dirty rinses in a row: more water won't do it.",
        CaseAnswer.CloseGray => "Gray stays closed while you dump or rinse black.",
        CaseAnswer.CarryOn => "If there is room to spare, leave it alone.",
        CaseAnswer.DumpNow => "Dump black at 2/3, or sooner if it won't last.",
        CaseAnswer.TopUpThenDump => "Never dump black low. Add water to 2/3 first, so it leaves in a rush.",
        CaseAnswer.GrayOnly => "Dump gray every time, black only when it's time.",
        CaseAnswer.Divert => "Without a sewer gray fills first. Dishwater down the toilet buys a day or two.",
        CaseAnswer.LeaveEarly => "If a tank won't last, go to a dump station before it's full.",
    };
}
