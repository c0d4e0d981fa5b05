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
        RunForm.Full => "Black, rinse until the end is clear, gray, sniff test.",
        RunForm.Quick => "Black, a short rinse, gray, go. For stations where people wait.",
        RunForm.GrayOnly => "Gray between black dumps.",
        RunForm.BlackOnly => "Black and its rinse; gray stays as it is.",
        RunForm.EndOfTrip => "Rinse until two ends in a row are clear, then water and treatment for standing.",
    };

    /// <summary>Why something cannot be had.</summary>
    public static string Refusal(RunRefusal why) => why switch
    {
        RunRefusal.NoSewer => "Black goes only where there is a sewer, and none is logged here.",
        RunRefusal.NoDrain => "No drain is logged here. Whether gray may go on the ground is a matter of local rules; it is never assumed.",
        RunRefusal.PropaneAlarm => "A propane alarm stands. Everyone out first; nothing else until someone qualified has ruled it out and that is logged.",
        RunRefusal.Clog => "A tank of this run did not drain. Add no water; clear the clog first.",
        RunRefusal.NoBlackTank => "The rig has no black tank.",
        RunRefusal.NoGrayTank => "The rig has no gray tank.",
        RunRefusal.NothingThroughMacerator => "Nothing can be pushed back through a macerator.",
        RunRefusal.NoEndValve => "Gray floods up into black only behind a closed valve at the end of the outlet, and the rig has none.",
        RunRefusal.NoGrayToFlood => "There is not enough gray water to flood with, or its valve stands open.",
        RunRefusal.NoTapForHose => "No hose fits the tap here.",
        RunRefusal.NotOnThisRig => "The rig does not have it, or it does not fit the toilet's bend.",
        RunRefusal.PanelInDoubt => "Lamps that are not believed stop no fill.",
        RunRefusal.NoMeter => "The rig has no water meter.",
        RunRefusal.FlowNotKnown => "The flow is not known. Learn it with a bucket and a clock.",
        RunRefusal.SchoolNeedsOtherWater => "This water is poured, not run in.",
    };

    /// <summary>A way of getting rinse water in.</summary>
    public static string Method(FlushMethod method) => method switch
    {
        FlushMethod.BuiltIn => "Spray head in the tank",
        FlushMethod.Pedal => "Bowlfuls with the pedal",
        FlushMethod.Bucket => "Jug through the toilet",
        FlushMethod.Wand => "Wand through the toilet",
        FlushMethod.Reverse => "Reverse flush",
        FlushMethod.GrayBackfeed => "Gray flooding up into black",
        FlushMethod.Jet => "Pressure jet",
    };

    /// <summary>A school of rinsing.</summary>
    public static string School(RinseSchool school) => school switch
    {
        RinseSchool.WatchedFills => "Watched fills: to Full with somebody at the panel",
        RinseSchool.OpenRinse => "Open rinse: valve open, six minutes; where the manual forbids closed fills",
        RinseSchool.TimedFills => "Timed fills: closed 30 seconds, three times",
        RinseSchool.ThirdFills => "Third fills: up to a third of the tank, then open",
        RinseSchool.QuickRefills => "Quick refills: a little back in, dump again",
        RinseSchool.MeteredFloods => "Metered floods: to nine tenths by the meter",
    };

    /// <summary>What ends a fill.</summary>
    public static string Stop(FillStop stop) => stop switch
    {
        FillStop.Meter => "The water meter",
        FillStop.Watched => "Somebody at the panel",
        FillStop.ClockKnownFlow => "The clock, with the flow learned",
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
            lines.Add($"The tank is stated at {units.Volume(capacityL)}, and was last measured at {units.Volume(limit.EffectiveCapacityL)}: the smaller counts.");
        lines.Add(limit.Stop == FillStop.Watched && limit.UpToL < limit.EffectiveCapacityL * Guard.FillTo + 0.5
            ? $"Up to Full, {units.Volume(limit.UpToL)}: the room above Full is the reserve."
            : $"Filled to at most {StepWords.Percent(limit.UpToL / limit.EffectiveCapacityL)} of {units.Volume(limit.EffectiveCapacityL)}, which is {units.Volume(limit.UpToL)}.");
        lines.Add($"In it already, at most: {units.Volume(limit.UpperLevelL)}.");
        if (limit.Refused is { } no)
        {
            lines.Add(no switch
            {
                NoFill.PanelInDoubt => "The lights are in doubt, so they cannot tell you when to stop.",
                NoFill.FlowNotKnown => "The flow is not known, so no time can be figured.",
                NoFill.NoRoom => "So there may be no room."
            });
            return lines;
        }
        lines.Add($"So at most {units.Volume(limit.Litres)} may go in.");
        if (limit.Seconds is { } seconds && limit.UpperFlowLPerMin is { } flow)
            lines.Add(limit.Stop == FillStop.Clock
                ? $"The flow is not known; the fastest heads give {units.Volume(flow)} a minute. Without it the fill stays with {Clock(seconds)}, and never over {Guard.MaxTimedFillSeconds.ToString("0", CultureInfo.InvariantCulture)} seconds."
                : $"The water may run at up to {units.Volume(flow)} a minute on a good day: {units.Volume(limit.Litres)} take {Clock(seconds)}.");
        return lines;
    }

    /// <summary>A step in words.</summary>
    public RunText Of(RunScript script, RunStep step)
    {
        ArgumentNullException.ThrowIfNull(script);
        ArgumentNullException.ThrowIfNull(step);
        var tank = script.Tanks.FirstOrDefault(t => t.Id == step.Tank);
        var name = step.Tank is null ? "" : Name(step.Tank);
        var black = tank?.Role == TankRole.Black;
        var rinse = script.RinseOf(step);
        var kit = rig.Equipment ?? new Equipment();
        switch (step.Kind)
        {
            case RunStepKind.Gloves:
                return new("Gloves on, eyes covered",
                    ["Hands off the face until they are washed.", "Hoses for this work only; none of them ever touches drinking water.",
                    "Disinfectant within reach. Children and pets away."],
                    "What is in the tank gets into eyes and mouths by hands and splashes.");
            case RunStepKind.Fan:
                return new("Fan off, roof vent shut", ["Leave both so until the toilet is closed for the last time."],
                    "A running fan pulls tank air into the room as soon as the toilet opens.");
            case RunStepKind.Bowl:
                return new("Clean the bowl",
                    ["Hold the toilet valve open and wipe its seal and the throat below.", "Leave it closed, with water in the bowl."],
                    "Debris on the seal lets the smell past it.", "Water that stays in the bowl.");
            case RunStepKind.Valves:
                return new("All valves closed, then the cap off",
                    ["Push every valve fully in, black and gray.", "Put something under the outlet, stand aside, take the cap off."],
                    "A drip when the cap comes off is a valve that leaks.", "A drip, or a gush: then close the cap again and find the open valve.",
                    "Stand aside: what stands in the pipe comes out first.");
            case RunStepKind.SetUp:
                return new("Check the hose run here",
                    [$"It falls all the way: {(units == Units.Us ? "a quarter inch per foot" : "2 cm per metre")} or more, supported, no dip.",
                    "Sewer end screwed in or weighted.", "The rinse hose goes to the flush inlet, never to the drinking-water inlet."],
                    "Once for each place. It is remembered and not asked again.", "A dip in which water would stand.",
                        "Check the label. The wrong inlet contaminates your drinking water or floods the black tank.");
            case RunStepKind.SewerHose:
                return new("Sewer hose on, both ends",
                    ["Both lugs of the bayonet engaged and turned, no holes, no kink.",
                    "Straight and falling all the way; look at it again if it lay out overnight.", kit.ClearPiece == true
                    ? "Clear piece in line: it shows what comes." : "A clear piece in line would show what comes.", "Sewer end screwed in or weighted."],
                    "Attached at both ends before any valve moves.", "Give it a pull.");
            case RunStepKind.ThinHose:
                return new("The pump's hose on",
                    ["Screw the thin hose on and put its end firmly into the sewer.", "Fuse and switch off until a valve is open."],
                    "A pump pushes hard: an end that is not fixed jumps out.", "A firm grip at both ends.",
                    "12 V: dry hands at the switch. Never run it dry for long.");
            case RunStepKind.RinseHose:
                return new("Rinse hose on",
                    [kit.BackflowPreventer == true ? "Backflow preventer between the hose and the tank."
                    : "A backflow preventer belongs between the hose and the tank; without one do not connect it to a tap that also gives drinking water.",
                    rinse is null && script.Rinses.Count > 0 && script.Rinses[0].Method == FlushMethod.Wand ? "Wand at hand; open the tap later."
                    : "To the flush inlet, not to the drinking-water inlet.", "The other color, never the drinking-water hose. Tap still closed."],
                    "So that nothing from the tank can be drawn into drinking water.", "The word on the inlet.");
            case RunStepKind.Jug:
                return new("Fill the jug", [$"{units.Volume(kit.JugL ?? 0)}. The tap here takes no hose.", "Keep it by the toilet."], "It is the rinse.", null,
                    "A jug for the toilet never holds drinking water.");
            case RunStepKind.TopUp:
                var by = step.Presses.Contains(RunPress.WaterOn);
                return new($"Top up {name}: {units.Volume(step.AimL ?? 0)}",
                    [by ? "Valve stays closed. Water on, and stay at it."
                    : $"{Count(step.AimL ?? 0, Pour(script, step.Tank))} of {units.Volume(Pour(script, step.Tank))}, poured with the toilet valve held open and counted.",
                    $"There is about {units.Volume(tank!.LevelL)} in it: too low to leave in a rush."],
                    "Below half a tank the liquid drains away and the solids stay.", null,
                        "Overfilled, it comes out on the roof or through the toilet. If you must walk away, turn the water off first.");
            case RunStepKind.Drain when black:
                return new(step.Pump ? $"Open {name}, pump it out" : $"Open {name}, all the way", step.Pump
                    ? ["Only this valve. Switch the pump on; off when it runs dry."]
                    : ["One pull, fully open.", "Listen: a rush first, then thin. What swirls out last carries the solids: do not close early."],
                    step.UsualSeconds is { } usual
                        ? $"From this level it usually takes about {Clock(usual)}; beyond {Clock(step.SlowSeconds ?? usual)} it would be slow for this rig."
                        : "Its time is compared with the next ones.", "Paper and solids in the clear piece.",
                        "Sewer gas is poisonous and burns: no flame near, face away from the hose end.");
            case RunStepKind.Drain:
                return new(step.Pump ? $"Open {name}, pump it out" : $"Open {name}",
                    ["Black is closed: never both open at once.", step.Pump ? "Switch on, off when it runs dry."
                    : "It rinses the hose behind the black water."], step.Presses.Contains(RunPress.LeaveOpen)
                    ? "By the house rule it may stay open here until it is needed for the next rinse." : "Warm soapy water is the best rinse the hose gets.",
                    "Water that comes up in the shower: then gray is clogged.");
            case RunStepKind.OpenRinse:
                return new("Rinse with the valve open",
                    [$"{TimeWords.Capital(name)} stays open. Water on for about {Clock(step.AimSeconds ?? 360)}, then off."],
                    "It only wets the walls, but it cannot overfill. Good as a first step, or where the manual forbids closed fills.",
                    "The stream in the clear piece.");
            case RunStepKind.Fill:
                return new("Close, fill, open",
                    [step.AimL is { } aim ? $"Up to about {units.Volume(aim)}, then open for the rush."
                    : $"Closed for {Clock(step.Limit?.Seconds ?? 30)}, then open.", FillBy(step)],
                    "The swirl as it leaves takes along what lies in the corners.", rinse?.Method == FlushMethod.Wand
                        ? "Hold the wand low in the tank; disinfect it afterwards." : null,
                        "Stay at the valve. An overfilled tank comes out on the roof or through the toilet. If you must walk away, turn the water off first.");
            case RunStepKind.Pour:
                return new(rinse?.Method == FlushMethod.Bucket ? "Close, pour a jug, open" : "Close, a few bowlfuls, open",
                    [$"{TimeWords.Capital(name)} closed. Hold the toilet valve open and pour in about {units.Volume(step.AimL ?? 0)}, then open."],
                    "Poured at once it stirs up what lies under the toilet.", null, rinse?.Method == FlushMethod.Bucket
                    ? "Pour slowly, face away. The jug never holds drinking water." : "Pump on only while you fill; count the bowlfuls.");
            case RunStepKind.Flood:
                return new("Flood gray up into black",
                    ["Valve at the end closed. Open gray, then black.",
                    $"Count {(step.AimSeconds ?? 10).ToString("0", CultureInfo.InvariantCulture)} seconds, then close gray.",
                    "Only then open the valve at the end."],
                    "Gray water washes black from below. It is the one exception to never having both open, and only behind the closed end.", null,
                    $"Never longer than {Clock(step.Limit?.Seconds ?? 15)}: it must not rise beyond what black holds. Gray is closed before the end opens.");
            case RunStepKind.Judge:
                return new("Look at the END of it",
                    ["Let it run until it only trickles. The first gush is always dark, and the middle looks clean too soon.",
                    "What does the last of it look like?"], "The trickle at the end tells whether the tank is clean.", "Color and debris in the clear piece.");
            case RunStepKind.Close:
                return new($"Water off, {name} closed", ["Water off at the tap.", $"Let it drain, then push {name} fully in."],
                    "So that nothing fills a closed tank, and nothing of black runs up into gray.", "The valve is in as far as it goes.");
            case RunStepKind.Sniff:
                return new("Sniff test",
                    ["Windows shut. Toilet valve open and fan on, for a second or two.", "Before anything is dosed. Then refill the bowl."],
                    "No smell is a clean tank. A dose would hide what is left.", null, "A second is enough: sewer gas is poisonous. Fan off again.");
            case RunStepKind.Stow:
                return new(step.Pump ? "Pump hose off, cap on" : "Rinse and stow the hose, cap on",
                    ["Lift it from the rig's end towards the sewer; rinse it with the hose that is not for drinking water.",
                    "Unhook, keep the ends up, join them or bag it, into its sealed box.", "Cap on. Rinse the place, sewer lid shut."],
                    "A rig never drives without its cap: drips can be fined.", "A dry outlet.",
                    "Close the tap; open the rinse hose slowly, it is under pressure.");
            case RunStepKind.HoseStays:
                return new("The hose stays: look along it",
                    ["Both ends still fast, falling all the way, nobody trips over it.", "Rinse hose off the flush inlet."],
                    "It lies out until the next dump; people tread on it.", "A drip at the bayonet.");
            case RunStepKind.Starter:
                return new($"Starter water: {units.Volume(step.AimL ?? 0)}",
                    [script.Form == RunForm.EndOfTrip ? "For standing: it keeps what is left from drying."
                    : "Enough to cover the bottom; the dose's water is this same water.", "Bowlfuls, a jug, or the metered hose. Black stays closed."],
                    "On a dry floor what lands first sets hard.", null, script.Form == RunForm.EndOfTrip
                    ? "In frost no water is left in tanks, valves or traps: emptied and protected with RV antifreeze by the maker's manual." : null);
            case RunStepKind.Dose:
                var product = rig.Products.FirstOrDefault(p => step.Used.Any(u => u.Product == p.Id));
                return new(step.Recipe == DoseRecipe.StorageDose && product is null ? "Treatment for standing, by its label"
                    : $"{TimeWords.Capital(step.Amount ?? "")} of {product?.Name ?? EntryWords.Spaced(step.Recipe ?? DoseRecipe.Other)}",
                    ["Poured in through the open toilet. A whiff while pouring is normal.", "Then water in the bowl."], product is null
                    ? "By the school of the house, for this tank and its heat." : "By its label, for this tank and its heat.", null,
                    (product?.Kind == Substance.Formaldehyde ? "Not where this fill will be dumped into a septic system: formaldehyde harms it. "
                    : product?.Caution is { } own ? $"Its label: {own}. "
                    : "") + "The label outranks this amount. One product at a time; never with bleach, acids or other cleaners: poisonous gas. Where the park is on septic, ask what is allowed.");
            case RunStepKind.GrayCare:
                return new($"A squirt of dish soap into {name}", ["Through a drain that feeds this very tank, with a little water."],
                    "It works on the drive and keeps grease from setting. You may leave it out.");
            default:
                return new("Gloves off last, wash hands", ["Wipe what you touched with disinfectant.", "With soap, to the wrists."],
                    "Then the run is written into the log in one go.");
        }
    }

    /// <summary>What to do when the sniff test fails.</summary>
    public static IReadOnlyList<string> AfterFailedSniff { get; } =
    [
        "A smell straight after dump and rinse means coated walls. Do one or two more rinses if there is water and time.",
        "If it stays: no dose on top. Plan a soak (overnight) or a travel scrub before the next dump.",
        "A smell with a dry bowl is the seal: clean it, and see whether water stays in the bowl.",
    ];

    /// <summary>The answer to "one more?".</summary>
    public static string VerdictTitle(Verdict verdict) => verdict switch
    {
        Verdict.Look => "Say what the end looked like",
        Verdict.Clean => "Clean. That is enough.",
        Verdict.OneMore => "One more",
        Verdict.OnceMoreToBeSure => "One more, to be sure",
        Verdict.StopAndScrub => "Stop here, plan a scrub",
        Verdict.NoWaterLeft => "No water left for another",
        Verdict.NotEmptied => "It did not empty: nothing more in",
    };

    /// <summary>Its reason.</summary>
    public static string VerdictReason(Verdict verdict, RunRinse rinse)
    {
        ArgumentNullException.ThrowIfNull(rinse);
        return verdict switch
        {
            Verdict.Look => "Color and debris of the last trickle.",
            Verdict.Clean => rinse.Need > 1 ? "Two clear ends in a row, nothing but specks." : "The end ran clear, with nothing but specks.",
            Verdict.OneMore => "The end was not clear yet, or carried paper or more.",
            Verdict.OnceMoreToBeSure => "The end was clear; thorough means two clear ends in a row.",
            Verdict.StopAndScrub => $"Still dirty after {rinse.Cap}: more water will not do it. A soak or a travel scrub will.",
            Verdict.NoWaterLeft => "Rinse again at the next place with water; the tank is closed with starter water until then.",
            Verdict.NotEmptied => "A tank that does not run empty may be clogged. Stop using the toilet, keep the free room, and see what to do for a clog.",
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

    private static string Count(double litres, double unit) => Math.Max(1, Math.Round(litres / unit)) is var n && n == 1 ? "One"
        : n.ToString("0", CultureInfo.InvariantCulture) + " times";

    private static string FillBy(RunStep step) => step.Limit?.Stop switch
    {
        FillStop.Meter => "The meter set to zero first; stop by the meter.",
        FillStop.Watched => "Somebody at the panel calls out each lamp. Stop at Full.",
        FillStop.ClockKnownFlow => "By the clock, from the flow that was learned.",
        FillStop.Clock => "By the clock alone, so it stays short.",
    };
}
