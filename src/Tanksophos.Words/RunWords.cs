using System.Globalization;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Words;

/// <summary>A step of the run in words.</summary>
/// <param name="Title">What to do, in a few words.</param>
/// <param name="Lines">How, line by line.</param>
/// <param name="Reason">Why.</param>
/// <param name="Look">What to look for; null for nothing.</param>
/// <param name="Caution">What can hurt; null for nothing.</param>
public sealed record RunText(string Title, IReadOnlyList<string> Lines, string Reason, string? Look = null, string? Caution = null);

/// <summary>Says a dump run in a person's units.</summary>
public sealed class RunWords(Rig rig, Units units)
{
    /// <summary>The name of a form.</summary>
    public static string Form(RunForm form) => form switch
    {
        RunForm.Full => "Full run",
        RunForm.Quick => "Quick run",
        RunForm.GrayOnly => "Gray only",
        RunForm.BlackOnly => "Black only",
        RunForm.EndOfTrip => "End of the trip",
    };

    /// <summary>What a form holds, in a line.</summary>
    public static string FormHolds(RunForm form) => form switch
    {
        RunForm.Full => "Black, rinse until the last trickle is clear, gray, sniff test.",
        RunForm.Quick => "Black, a short rinse, gray, go. For stations where people wait.",
        RunForm.GrayOnly => "Gray between black dumps.",
        RunForm.BlackOnly => "Black and its rinse. Gray stays as is.",
        RunForm.EndOfTrip => "Rinse until two last trickles in a row are clear. Then water and treatment for storage.",
    };

    /// <summary>Why something cannot be had.</summary>
    public static string Refusal(RunRefusal why) => why switch
    {
        RunRefusal.NoSewer => "Black goes only where there is a sewer, and none is logged here.",
        RunRefusal.NoDrain => "No drain is logged here. Whether gray may go on the ground is a matter of local rules; it is never assumed.",
        RunRefusal.PropaneAlarm => "The propane alarm is active. Everyone out first. Nothing else until a qualified person rules out propane.",
        RunRefusal.Clog => "A tank of this run did not drain. Add no water; clear the clog first.",
        RunRefusal.NoBlackTank => "The rig has no black tank.",
        RunRefusal.NoGrayTank => "The rig has no gray tank.",
        RunRefusal.NothingThroughMacerator => "Water can't be pushed back through a macerator.",
        RunRefusal.NoEndValve => "Flooding gray into black needs a valve at the end of the outlet. This rig has none.",
        RunRefusal.NoGrayToFlood => "Not enough gray water to flood with, or its valve is open.",
        RunRefusal.NoTapForHose => "No hose fits the tap here.",
        RunRefusal.NoReason => "There's next to nothing in it. Let it fill first.",
        RunRefusal.TrainedPerson => "Pressure jetting is a job for a trained person. Log it as service afterwards.",
        RunRefusal.NotOnThisRig => "This rig doesn't have one, or it won't fit through the toilet bend.",
        RunRefusal.PanelInDoubt => "Lights you can't trust can't stop a fill.",
        RunRefusal.NoMeter => "The rig has no water meter.",
        RunRefusal.FlowNotKnown => "Flow not known. Measure it with a bucket and a clock.",
        RunRefusal.SchoolNeedsOtherWater => "You pour this water by hand.",
    };

    /// <summary>A way of getting rinse water in.</summary>
    public static string Method(FlushMethod method) => method switch
    {
        FlushMethod.BuiltIn => "Spray head in the tank",
        FlushMethod.Pedal => "Bowlfuls with the pedal",
        FlushMethod.Bucket => "Jug through the toilet",
        FlushMethod.Wand => "Wand through the toilet",
        FlushMethod.Reverse => "Reverse flush",
        FlushMethod.GrayBackfeed => "Flood gray into black",
        FlushMethod.Jet => "Pressure jet",
    };

    /// <summary>A school of rinsing.</summary>
    public static string School(RinseSchool school) => school switch
    {
        RinseSchool.WatchedFills => "Watched fills: to Full with someone at the panel",
        RinseSchool.OpenRinse => "Open rinse: valve open, six minutes; where the manual forbids closed fills",
        RinseSchool.TimedFills => "Timed fills: closed 30 seconds, three times",
        RinseSchool.ThirdFills => "Third fills: up to a third of the tank, then open",
        RinseSchool.QuickRefills => "Quick refills: a little back in, dump again",
        RinseSchool.MeteredFloods => "Metered fills: to 90 % by the meter",
    };

    /// <summary>What ends a fill.</summary>
    public static string Stop(FillStop stop) => stop switch
    {
        FillStop.Meter => "The water meter",
        FillStop.Watched => "Someone at the panel",
        FillStop.ClockKnownFlow => "The clock, with your measured flow",
        FillStop.Clock => "The clock alone: 30 seconds",
    };

    /// <summary>Minutes and seconds: "4:30".</summary>
    public static string Clock(double seconds) => string.Create(CultureInfo.InvariantCulture, $"{Math.Floor(seconds / 60):0}:{Math.Floor(seconds % 60):00}");

    /// <summary>How a limit was computed, line by line.</summary>
    public IReadOnlyList<string> Arithmetic(FillLimit limit, double capacityL)
    {
        ArgumentNullException.ThrowIfNull(limit);
        var lines = new List<string>();
        if (limit.EffectiveCapacityL < capacityL - 0.5)
            lines.Add($"Stated {units.Tenth(capacityL)}, last measured {units.Tenth(limit.EffectiveCapacityL)}. The smaller one counts.");
        lines.Add(limit.Stop == FillStop.Watched && limit.UpToL < limit.EffectiveCapacityL * Guard.FillTo + 0.5
            ? $"Fill to Full, {units.Tenth(limit.UpToL)}. Headroom above Full is your reserve."
            : $"Filled to at most {StepWords.Percent(limit.UpToL / limit.EffectiveCapacityL)} of {units.Tenth(limit.EffectiveCapacityL)}, which is "
            + $"{units.Tenth(limit.UpToL)}.");
        lines.Add($"It may already hold {units.AtLeast(limit.UpperLevelL)}.");
        if (limit.Refused is { } no)
        {
            lines.Add(no switch
            {
                NoFill.PanelInDoubt => "The lights are in doubt, so they cannot tell you when to stop.",
                NoFill.FlowNotKnown => "The flow is not known, so no time can be figured.",
                NoFill.NoRoom => "There may be no room left."
            });
            return lines;
        }
        lines.Add($"So at most {units.Fits(limit)} fits.");
        if (limit.Seconds is { } seconds && limit.UpperFlowLPerMin is { } flow)
            lines.Add(limit.Stop == FillStop.Clock
                ? $"Flow not known. The fastest heads give {units.Flow(flow)} a minute, so fill for {Clock(seconds)}, never over "
                + $"{Guard.MaxTimedFillSeconds.ToString("0", CultureInfo.InvariantCulture)} seconds."
                : $"Fastest likely flow: {units.Flow(flow)} a minute. At that, {units.Fits(limit)} takes {Clock(seconds)}.");
        return lines;
    }

    /// <summary>A step in words.</summary>
    public RunText Of(RunScript script, RunStep step)
    {
        ArgumentNullException.ThrowIfNull(script);
        ArgumentNullException.ThrowIfNull(step);
        return Before(script, step) ?? Flowing(script, step) ?? After(script, step)
            ?? throw new ArgumentOutOfRangeException(nameof(step), step.Kind, "a step without words");
    }

    // Before anything flows.
    private RunText? Before(RunScript script, RunStep step)
    {
        var rinse = script.RinseOf(step);
        var kit = rig.Equipment ?? new Equipment();
        switch (step.Kind)
        {
            case RunStepKind.Gloves:
                return new("Gloves and eye protection on",
                    ["Don't touch your face until you've washed your hands.", "Use sewer-only hoses. None of them ever touches drinking water.",
                    "Disinfectant within reach. Children and pets away."],
                    "Waste gets into eyes and mouths from hands and splashes.");
            case RunStepKind.Fan:
                return new("Fan off, roof vent shut", ["Leave both that way until you close the toilet for the last time."],
                    "A running fan pulls tank air into the room as soon as the toilet opens.");
            case RunStepKind.Bowl:
                return new("Clean the bowl",
                    ["Hold the toilet valve open and wipe its seal and the throat below.", "Leave it closed, with water in the bowl."],
                    "Debris on the seal lets odor in.", "Water that stays in the bowl.");
            case RunStepKind.Valves when step.HoseOn:
                return new("Close every valve",
                    ["Push every valve fully in, black and gray. The hose stays on.", "Gray that was running into it drains off now."],
                    "Black never runs while a gray valve is open.", "Both hose ends still locked, no drip at them.");
            case RunStepKind.Valves:
                return new("All valves closed, then the cap off",
                    ["Push every valve fully in, black and gray.", "Put something under the outlet, stand aside, take the cap off."],
                    "A drip when the cap comes off means a valve leaks.", "A drip or a gush. If it gushes, put the cap back and find the open valve.",
                    "Stand aside: waste in the pipe comes out first.");
            case RunStepKind.SetUp:
                var inlet = script.Rinses.Any(r => r.Method == FlushMethod.BuiltIn);
                return new("Check the hose run here",
                    [$"It falls all the way: {(units == Units.Us ? "a quarter inch per foot" : "2 cm per meter")} or more, supported, no dip.",
                    "Sewer end screwed in or weighted.", inlet ? "The rinse hose goes to the flush inlet, never to the drinking-water inlet."
                    : "The rinse hose is not your drinking-water hose."],
                    "Once per place. You won't be asked again.", "A dip that holds water.",
                        inlet ? "Check the label. The wrong inlet contaminates your drinking water or floods the black tank." : null);
            case RunStepKind.SewerHose when step.HoseOn:
                return new("Check the hose", ["Both ends locked, no holes, no kinks.", "It slopes down all the way. Nobody stepped on it."],
                    "It has been out since you hooked up.", "Give both ends a pull.");
            case RunStepKind.SewerHose:
                return new("Sewer hose on, both ends",
                    ["Both lugs engaged and turned. No holes, no kinks.",
                    "Straight, sloping down all the way. Check again if it was out overnight.", kit.ClearPiece == true
                    ? "Clear piece in line: you see what comes out." : "A clear piece in line would show what comes out.", "Sewer end screwed in or weighted."],
                    "Connect both ends before you open a valve.", "Give it a pull.");
            case RunStepKind.ThinHose:
                return new("The pump's hose on",
                    ["Screw the thin hose on and put its end firmly into the sewer.", "Fuse and switch off until a valve is open."],
                    "A pump pushes hard: a loose end jumps out.", "A firm grip at both ends.",
                    "12 V: dry hands at the switch. Never run it dry for long.");
            case RunStepKind.RinseHose:
                if (step.Method is FlushMethod.Reverse or FlushMethod.Wand) return OtherHose(step.Method.Value, kit);
                return new("Rinse hose on",
                    [kit.BackflowPreventer == true ? "Backflow preventer between the hose and the tank."
                    : "A backflow preventer belongs between the hose and the tank; without one do not connect it to a tap that also gives drinking water.",
                    "To the flush inlet, not to the drinking-water inlet.", "The other color, never the drinking-water hose. Tap still closed."],
                    "Keeps tank water out of your drinking water.", "The label on the inlet.");
            case RunStepKind.Jug:
                return new("Fill the jug", [$"{units.Volume(kit.JugL ?? 0)}. No hose fits this tap.", "Keep it by the toilet."], "This jug is "
                    + "your rinse.", null,
                    "A jug for the toilet never holds drinking water.");
            default:
                return null;
        }
    }

    // The rinse hose where it does not go to a flush inlet.
    private static RunText OtherHose(FlushMethod method, Equipment kit)
    {
        var preventer = kit.BackflowPreventer == true ? "Backflow preventer at the tap."
            : "A backflow preventer belongs at the tap; without one, don't connect it to a tap you drink from.";
        const string own = "The other color, never the drinking-water hose.";
        return method == FlushMethod.Reverse
            ? new("Rinse hose on the reverse-flush fitting",
                ["The fitting sits between the rig's outlet and the sewer hose. Its gate opens and closes the way to the sewer.", preventer,
                own + " Tap still closed."],
                "Water goes up through the outlet, where the solids lie.", "The fitting's gate slides freely.")
            : new("Wand on its hose",
                ["In to the toilet. Close the wand's own valve, then open the tap.",
                kit.ToiletDrop == "offset" ? "The toilet drop has a bend: feed it slowly, don't force it."
                : "It goes straight down through the open toilet valve.",
                "Best with two: one at the wand, one at the black valve.", preventer, own],
                "Keeps tank water out of your drinking water.", "A closed wand that doesn't drip.");
    }

    // What empties and what rinses.
    private RunText? Flowing(RunScript script, RunStep step)
    {
        var tank = script.Tanks.FirstOrDefault(t => t.Id == step.Tank);
        var name = step.Tank is null ? "" : Name(step.Tank);
        var rinse = script.RinseOf(step);
        switch (step.Kind)
        {
            case RunStepKind.TopUp:
                var by = step.Presses.Contains(RunPress.WaterOn);
                return new($"Top up {name}: {units.Volume(step.AimL ?? 0)}",
                    [by ? "Valve stays closed. Water on, and stay with it."
                    : $"{Count(step.AimL ?? 0, Pour(script, step.Tank))} of {units.Volume(Pour(script, step.Tank))}, poured with the toilet valve held open "
                    + $"and counted.",
                    $"About {units.Volume(tank!.LevelL)} in it: too low for a strong rush."],
                    "Below half a tank the liquid drains away and the solids stay.", null,
                        "Overfilling sends sewage out the roof vent or toilet. If you must leave, turn the water off first.");
            case RunStepKind.Drain when tank?.Role == TankRole.Black:
                return new(step.Pump ? $"Open {name}, pump it out" : $"Open {name}, all the way", step.Pump
                    ? ["Only this valve. Switch the pump on; off when it runs dry."]
                    : ["One pull, fully open.", "Listen: a rush first, then a trickle. Don't close early: the solids come out last."],
                    step.UsualSeconds is { } usual
                        ? $"Usually {Clock(usual)} from this level; over {Clock(step.SlowSeconds ?? usual)} is slow."
                        : "This time is compared with later runs.", "Paper and solids in the clear piece.",
                        "Sewer gas can poison and ignite. No flames; keep your face away from the hose end.");
            case RunStepKind.Drain:
                return new(step.Pump ? $"Open {name}, pump it out" : $"Open {name}",
                    ["Black is closed: never both open at once.", step.Pump ? "Switch on, off when it runs dry."
                    : "It rinses the hose after the black water."], step.Presses.Contains(RunPress.LeaveOpen)
                    ? "Your rule: it can stay open here until the next rinse needs it." : "Warm soapy water is the best rinse the hose gets.",
                    "Water coming up in the shower: gray is clogged.");
            case RunStepKind.OpenRinse:
                return new("Rinse with the valve open",
                    [$"{TimeWords.Capital(name)} stays open. Water on for about {Clock(step.AimSeconds ?? 360)}, then off."],
                    "It can't overfill, but it only wets the walls. A good first step, or where the manual forbids closed fills.",
                    "The stream in the clear piece.");
            case RunStepKind.Fill when step.BehindEnd:
                return new("Close the gate, fill from below, open",
                    [$"Fitting's gate closed. {TimeWords.Capital(name)} stays open, gray closed.",
                    step.AimL is { } up ? $"Fill to about {units.Volume(up)}, then open the gate."
                    : $"Gate closed for {Clock(step.Limit?.Seconds ?? 30)}, then open it.", FillBy(step),
                    "Someone watches the toilet: water must never come up."],
                    "The push from below breaks up what lies at the outlet.", "Water rising in the toilet: open the gate at once.",
                        "It fills fast, 6 to 12 gal a minute. Overfilling sends sewage out the roof vent or toilet. Stay at the gate.");
            case RunStepKind.Fill:
                return new("Close, fill, open",
                    [step.AimL is { } aim ? $"Fill to about {units.Volume(aim)}, then open."
                    : $"Closed for {Clock(step.Limit?.Seconds ?? 30)}, then open.", FillBy(step)],
                    "The swirl carries waste out of the corners.", rinse?.Method == FlushMethod.Wand
                        ? "Hold the wand low in the tank; disinfect it afterwards." : null,
                        "Overfilling sends sewage out the roof vent or toilet. Stay at the valve. If you must leave, turn the water off first.");
            case RunStepKind.Pour:
                return new(rinse?.Method == FlushMethod.Bucket ? "Close, pour a jug, open" : "Close, a few bowlfuls, open",
                    rinse?.Method == FlushMethod.Bucket
                    ? [$"{TimeWords.Capital(name)} closed. Pump off, toilet valve held open.", $"Pour in {units.Volume(step.AimL ?? 0)}, then open.",
                        script.Steps.Any(s => s.Kind == RunStepKind.Jug) ? "Refill the jug while it drains." : "It's the jug you brought: there is no more."]
                    : [$"{TimeWords.Capital(name)} closed. Hold the toilet valve open, pump on.",
                        $"Count {Bowlfuls(step.AimL ?? 0)}, about {units.Volume(step.AimL ?? 0)}, then open."],
                    "Poured all at once, it stirs up waste under the toilet.", null, rinse?.Method == FlushMethod.Bucket
                    ? "Face away. The jug never holds drinking water." : "Turn the pump off when you're done.");
            case RunStepKind.Flood:
                return new("Flood gray up into black",
                    ["Nobody showers or runs water until this is done.", "Valve at the end closed. Open gray, then black.",
                    $"Count {(step.AimSeconds ?? 10).ToString("0", CultureInfo.InvariantCulture)} seconds, then close gray.",
                    "Only then open the valve at the end."],
                    "Gray water washes black from below. This is the only time both are open, and only behind the closed end valve.", null,
                    $"Never longer than {Clock(step.Limit?.Seconds ?? 15)}, or black comes up in the toilet. Close gray before you open the end valve.");
            case RunStepKind.Judge when step.Pump:
                return new("Check the clear piece", ["Pump until it sounds dry, then look.", "How did the last of it look?"],
                    "The last of it shows if the tank is clean.", "Color and debris in the clear piece.");
            case RunStepKind.Judge:
                return new("Check the last trickle",
                    ["Watch until the last of it. The first gush is always dark, and the middle looks clean too soon.",
                    "How does the last trickle look?"], "The last trickle shows if the tank is clean.", "Color and debris in the clear piece.");
            case RunStepKind.Close:
                if (step.Pump)
                    return new($"Pump off, {name} closed", ["Water off at the tap. Pump off when it sounds dry.", $"Push {name} fully in."],
                        "A pump that runs dry wears out, and a closed tank keeps black out of gray.", "The valve is in as far as it goes.");
                return new($"Water off, {name} closed", ["Water off at the tap.", $"Let it drain, then push {name} fully in."],
                    "So nothing fills a closed tank and black can't back up into gray.", "The valve is in as far as it goes.");
            default:
                return null;
        }
    }

    // After the last trickle.
    private RunText? After(RunScript script, RunStep step)
    {
        var name = step.Tank is null ? "" : Name(step.Tank);
        switch (step.Kind)
        {
            case RunStepKind.Sniff:
                return new("Sniff test",
                    ["Windows shut. Toilet valve open and fan on, for a second or two.", "Before any dose. Then refill the bowl."],
                    "No smell means a clean tank. A dose would hide what's left.", null, "Sewer gas is poisonous. A second is enough; fan off again.");
            case RunStepKind.Stow:
                return new(step.Pump ? "Pump hose off, cap on" : "Rinse and stow the hose, cap on",
                    ["Lift it from the rig end toward the sewer. Rinse it with the non-drinking-water hose.",
                    "Unhook, keep the ends up, join or bag them, and put it in its sealed box.", "Cap on. Rinse the spot and close the sewer lid."],
                    "Never drive without the cap: drips can cost you a fine.", "A dry outlet.",
                    "Close the tap; open the rinse hose slowly, it is under pressure.");
            case RunStepKind.HoseStays:
                return new("Leave the hose on: check it end to end",
                    ["Both ends locked, sloping down all the way, nobody trips on it.", script.Rinses.Any(r => r.Method == FlushMethod.Reverse)
                    ? "Rinse hose off the fitting, its gate open." : "Rinse hose off the flush inlet."],
                    "It stays out until the next dump, and people step on it.", "A drip at the bayonet.");
            case RunStepKind.Starter:
                return new($"Starter water: {units.Volume(step.AimL ?? 0)}",
                    [script.Form == RunForm.EndOfTrip ? "For storage: it keeps residue from drying."
                    : "Enough to cover the bottom. The dose uses this same water.", "Bowlfuls, a jug, or the metered hose. Black stays closed."],
                    "Waste dries hard on a bare tank bottom.", null, script.Form == RunForm.EndOfTrip
                    ? "If it may freeze, leave no water in tanks, valves or traps. Empty them and protect them with RV antifreeze by the "
                    + "maker's manual." : null);
            case RunStepKind.Dose:
                var product = rig.Products.FirstOrDefault(p => step.Used.Any(u => u.Product == p.Id));
                return new(step.Recipe == DoseRecipe.StorageDose && product is null ? "Storage treatment, by its label"
                    : $"{TimeWords.Capital(step.Amount ?? "")} of {product?.Name ?? EntryWords.Spaced(step.Recipe ?? DoseRecipe.Other)}",
                    ["Poured in through the open toilet. A whiff while pouring is normal.", "Then water in the bowl."], product is null
                    ? "Your rule, for this tank and temperature." : "Label dose for this tank and temperature.", null,
                    (product?.Kind == Substance.Formaldehyde ? "Not where this fill will be dumped into a septic system: formaldehyde harms it. "
                    : product?.Caution is { } own ? $"Its label: {own}. "
                    : "") + "Poisonous gas: never with bleach, acid or other cleaners. The label overrides this amount. One product at a time. On septic, ask "
                    + "what is allowed.");
            case RunStepKind.GrayCare:
                return new($"A squirt of dish soap into {name}", ["Through a drain that drains to this tank, with a little water."],
                    "It works on the drive and keeps grease from building up. Optional.");
            case RunStepKind.Wash:
                return new("Gloves off last, wash hands", ["Wipe what you touched with disinfectant.", "With soap, to the wrists."],
                    "Saves the whole run to the log.");
            default:
                return null;
        }
    }

    /// <summary>What to do when it drips at the cap.</summary>
    public static IReadOnlyList<string> AfterDrip { get; } =
    [
        "Which one? Sewage is black, soapy water is gray. Cap back on if it gushes.",
        "Open and close that valve twice, with a little water behind it. Tighten its cable or bolts.",
        "It stopped: go on. It still drips: go on with a bucket under it, add no water beforehand, and fix the valve soon.",
    ];

    /// <summary>What to do when nothing or only a trickle came.</summary>
    public static IReadOnlyList<string> AfterNoDrain { get; } =
    [
        "Close the valve. No rinse, no starter water, no dose: the space that's left is all you have.",
        "Stop using what drains into it. Your first remedy is on Today.",
    ];

    /// <summary>What to do when the sniff test fails.</summary>
    public static IReadOnlyList<string> AfterFailedSniff { get; } =
    [
        "Buildup is likely. Rinse again now if you have water and time: the dose waits.",
        "Still smells? Skip the dose. Plan an overnight soak or a travel scrub before the next dump.",
        "Bowl dry? Clean the seal and see if it holds water.",
    ];

    /// <summary>The answer to "one more?".</summary>
    public static string VerdictTitle(Verdict verdict) => verdict switch
    {
        Verdict.Look => "How did the last trickle look?",
        Verdict.Clean => "Clean. You can stop.",
        Verdict.OneMore => "One more",
        Verdict.OnceMoreToBeSure => "One more to be sure",
        Verdict.StopAndScrub => "Stop. Plan a scrub.",
        Verdict.NoWaterLeft => "No water left for another rinse",
        Verdict.NotEmptied => "It didn't drain. Add no water.",
    };

    /// <summary>Its reason.</summary>
    public static string VerdictReason(Verdict verdict, RunRinse rinse)
    {
        ArgumentNullException.ThrowIfNull(rinse);
        return verdict switch
        {
            Verdict.Look => "Color and debris of the last trickle.",
            Verdict.Clean => rinse.Need > 1 ? "Two clear in a row, only specks." : "Last trickle clear, only specks.",
            Verdict.OneMore => "The last trickle wasn't clear yet, or carried paper or more.",
            Verdict.OnceMoreToBeSure => "Last trickle clear. Thorough means two clear in a row.",
            Verdict.StopAndScrub => $"Still dirty after {rinse.Cap} rinses. More water won't do it. A soak or a travel scrub will.",
            Verdict.NoWaterLeft => "Rinse again at the next place with water. Until then the tank stays closed with starter water.",
            Verdict.NotEmptied => "The outlet may be clogged. Stop using the toilet, keep the space that's left, and clear the clog.",
        };
    }

    /// <summary>The name of a tank as it is said in a sentence.</summary>
    public string Name(string tank) => (rig.FindEver(tank)?.Name ?? tank).ToLowerInvariant();

    /// <summary>What is poured at once, in litres.</summary>
    public double Pour(RunScript script, string? tank)
    {
        ArgumentNullException.ThrowIfNull(script);
        return script.Rinses.FirstOrDefault(r => r.Tank == tank)?.Method == FlushMethod.Bucket && rig.Equipment?.JugL is > 0 and var jug ? jug
            : RinsePlan.BowlL;
    }

    private static string Bowlfuls(double litres) => Math.Max(1, Math.Round(litres / RinsePlan.BowlL)) is var n && n == 1 ? "one bowlful"
        : n.ToString("0", CultureInfo.InvariantCulture) + " bowlfuls";

    private static string Count(double litres, double unit) => Math.Max(1, Math.Round(litres / unit)) is var n && n == 1 ? "One"
        : n.ToString("0", CultureInfo.InvariantCulture) + " times";

    private static string FillBy(RunStep step) => step.Limit?.Stop switch
    {
        FillStop.Meter => "Zero the meter. Stop by its reading.",
        FillStop.Watched => "Someone at the panel calls out each light. Stop at Full.",
        FillStop.ClockKnownFlow => "By the clock, from your measured flow.",
        FillStop.Clock => "By the clock only, so keep it short.",
    };
}
