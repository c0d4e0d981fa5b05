using System.Globalization;
using NodaTime;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Words;

/// <summary>A check in words.</summary>
/// <param name="Title">What to do.</param>
/// <param name="How">How it is done, and how long it takes.</param>
/// <param name="Caution">What can hurt, if something can.</param>
/// <param name="Outcomes">What each answer would mean.</param>
public sealed record CheckText(string Title, string How, string? Caution, IReadOnlyList<string> Outcomes);

/// <summary>A rung of the ladder in words.</summary>
public sealed record RungText(string Title, string How, string? Caution);

/// <summary>What the core found out about sensors, in words, in a person's units and local time.</summary>
public sealed class SensorWords(Units units, TimeWords times)
{
    /// <summary>A verdict in two or three words.</summary>
    public static string Verdict(ProbeFinding finding)
    {
        ArgumentNullException.ThrowIfNull(finding);
        var word = finding.Verdict switch { ProbeVerdict.StuckOn => "stuck on", ProbeVerdict.StuckOff => "never lights", ProbeVerdict.Working => "works" };
        return finding.Settled ? word : $"probably {word}";
    }

    /// <summary>The verdict and what carries it, in a sentence or two.</summary>
    public string Reason(ProbeFinding finding)
    {
        ArgumentNullException.ThrowIfNull(finding);
        if (finding.Readings == 0) return "This lamp was never read; only its age speaks. Look at the panel and log it.";
        var since = Since(finding.LookBack);
        var text = finding.Verdict switch
        {
            ProbeVerdict.StuckOn => StuckOn(finding),
            ProbeVerdict.StuckOff => StuckOff(finding),
            ProbeVerdict.Working => Works(finding),
        };
        if (finding.Verdict != ProbeVerdict.Working && since.Length > 0) text += $" It began {since}.";
        if (!finding.Settled) text += " Not enough readings yet to be sure.";
        return text;
    }

    /// <summary>One reading that carries a verdict.</summary>
    public string Evidence(LampEvidence evidence)
    {
        ArgumentNullException.ThrowIfNull(evidence);
        var expected = units.Volume(Math.Max(0, evidence.ExpectedL));
        var after = evidence.HoursSinceEmptied is { } h ? $" {Hours(h)} after it was emptied" : "";
        return evidence.Kind switch
        {
            LampEvidenceKind.LitThoughBelow => $"lit{after}, with {expected} expected",
            LampEvidenceKind.DarkThoughAbove => $"dark with {expected} expected",
            LampEvidenceKind.LitAsExpected => $"lit with {expected} expected",
            LampEvidenceKind.DarkAsExpected => $"dark{after}, with {expected} expected",
        };
    }

    /// <summary>How much a reading weighs, in words.</summary>
    public static string Weight(LampEvidence evidence)
    {
        ArgumentNullException.ThrowIfNull(evidence);
        if (evidence.Weight < 0) return "against it";
        return Math.Exp(evidence.Weight) switch { >= 20 => "strong evidence", >= 5 => "good evidence", >= 1.5 => "some evidence", _ => "weak evidence" };
    }

    /// <summary>A check in words.</summary>
    public CheckText Check(NextCheck check, LevelBelief belief)
    {
        ArgumentNullException.ThrowIfNull(check);
        ArgumentNullException.ThrowIfNull(belief);
        var tank = check.Tank is { } id ? belief[id].Tank : null;
        var name = tank?.Name ?? "";
        var (title, how, caution) = check.Code switch
        {
            NextCheckCode.PanelTomorrow => ($"Look at the {name} lamps again tomorrow", "One minute. Press the panel's button, log exactly what is lit.", null),
            NextCheckCode.Flashlight when tank?.Role == TankRole.Black =>
                ("Look down the toilet with a flashlight",
                "Two minutes. Fan off, roof vent shut, hold the toilet valve open and see how close below the floor the liquid stands.",
                "Keep your face away from the opening and no flame near it: what comes up is sewer gas."),
            NextCheckCode.Flashlight =>
                ($"See how full {name} is",
                "Two minutes. Water standing in the shower base means full; otherwise a look through the lowest drain or a gauge outside.", null),
            NextCheckCode.BatteryOk =>
                ("Test the house battery",
                "Five minutes. Switch on a few lights and the pump: if they dim or a tester calls it low, charge it and look at the panel again.",
                "If you are not at home with batteries, leave it to somebody who is."),
            NextCheckCode.HardFlushThenPanel =>
                ($"Dump {name}, flush hard, look at the panel next day",
                "Half an hour at a sewer. Flush until the end of a cycle runs clear; the day after only what is fouled is still lit.",
                "Gloves on. Never leave a closed tank that fills."),
            NextCheckCode.MeteredFill =>
                ($"Put {units.Volume(check.FillL)} into {name} through a meter",
                "Twenty minutes. By the count the liquid then stands just above the lamp: log the water, then the panel.",
                "Stay at the water; stop at once if anything gurgles. An overfilled tank comes out on the roof."),
            _ => ($"Have the wire and stud of the {check.Probe} lamp looked at",
                "Three quarters of an hour for someone who knows it: nut, crimp, corrosion, ground.",
                "12 V off first. Tank empty and clean before a stud is touched."),
        };
        return new CheckText(title, how, caution,
            [.. check.Outcomes.Where(o => o.Outcome != CheckOutcome.Level && o.Chance > 0.005).OrderBy(o => o.Outcome).Select(o => Meaning(o, check))]);
    }

    /// <summary>A rung in words.</summary>
    public static RungText Rung(SensorRung rung) => rung switch
    {
        SensorRung.HardFlush => new("Hard flush, panel again next day", "Flush until the end of a cycle runs clear.", null),
        SensorRung.SensorCleaner => new("Soak or sensor cleaner overnight", "In an already cleaned tank, by the label, with room left for the night.",
            "The label outranks everything here. One product at a time; nothing with bleach."),
        SensorRung.TravelScrub =>
            new("Travel scrub on 4 to 6 dumps in a row",
            "Borax fully dissolved in hot water and dish soap before the drive to the dump; the longer the drive, the better.",
            "Keep concentrates away from children and pets."),
        SensorRung.ReverseFloods => new("Reverse floods until clear", "Metered, from the outlet up, with the fitting's own gate.",
            "Never beyond the tank's free volume; somebody watches the toilet."),
        SensorRung.PressureJet =>
            new("Pressure jet", "By a trained person; then a few floods, cleaner overnight, a flush next day. About nine in ten come back.",
            "Water under this pressure cuts. Not a job to learn on your own rig."),
        SensorRung.Wiring => new("Wiring, ground, studs", "Loose crimp, corroded nut, a broken ground: someone competent looks along the wire.",
            "12 V off first."),
        SensorRung.NewProbes => new("New probes",
            "Same height as the old ones, with a non-stick sleeve; in black a shield over the tip. Photograph and label the wires first.",
            "Tank empty and clean, one wire at a time. A hole drilled wrongly cannot be undone."),
    };

    /// <summary>What does not fit, in words.</summary>
    public string LogInconsistency(LogInconsistency inconsistency)
    {
        ArgumentNullException.ThrowIfNull(inconsistency);
        var at = times.At(inconsistency.At.ToInstant());
        return inconsistency.Kind switch
        {
            InconsistencyKind.UnloggedEmptying =>
                $"The lamps {at} fit only if the tank had been emptied: about {units.Volume(inconsistency.ExpectedL)} were expected. Was a dump not written down?",
            InconsistencyKind.SeenOtherwise =>
                $"Somebody saw about {units.Volume(inconsistency.FoundL)} {at}, where the log led to expect {units.Volume(inconsistency.ExpectedL)}. What was seen counts; something may be missing in the log.",
            InconsistencyKind.MoreThanFits =>
                $"By the log there would have been {units.Volume(inconsistency.FoundL)} {at}, more than the {units.Volume(inconsistency.ExpectedL)} that fit. Is the capacity right, or was a dump not written down?",
        };
    }

    /// <summary>A lamp that came back, in words.</summary>
    public string CameBack(Recovery recovery, Rig rig)
    {
        ArgumentNullException.ThrowIfNull(recovery);
        ArgumentNullException.ThrowIfNull(rig);
        var by = recovery.By is { } rung
            ? $", after {string.Join(", ", recovery.Rungs.Select(r => Done(r)))}. What helped last: {Rung(rung).Title.ToLowerInvariant()}" : ", by itself";
        return $"{rig.Find(recovery.Tank)?.Name} {recovery.Probe} came back {times.Day(recovery.At.ToInstant().InZone(times.Zone).Date)}{by}.";
    }

    private static string Done(RungState rung) => rung.Rung switch
    {
        SensorRung.HardFlush => "flushing",
        SensorRung.SensorCleaner => "a soak or cleaner",
        SensorRung.TravelScrub => $"{rung.Done} travel {(rung.Done == 1 ? "scrub" : "scrubs")}",
        SensorRung.ReverseFloods => "reverse floods",
        SensorRung.PressureJet => "a pressure jet",
        SensorRung.Wiring => "work on the wiring",
        SensorRung.NewProbes => "a new probe",
    };

    /// <summary>Since when a probe has lied, as far as the readings tell.</summary>
    public string Since(ProbeLookBack back)
    {
        ArgumentNullException.ThrowIfNull(back);
        if (back.LyingSince is not { } since) return "";
        var first = Day(since);
        return back.LastRight is { } right ? Day(right) == first ? $"on {first}" : $"between {Day(right)} and {first}" : $"on {first} or before";
    }

    private string Day(OffsetDateTime at) => times.Day(at.ToInstant().InZone(times.Zone).Date);

    private string StuckOn(ProbeFinding finding)
    {
        var low = finding.Evidence.FirstOrDefault(e => e.Kind == LampEvidenceKind.LitThoughBelow);
        var held = finding.ExpectedAfterDumpL is { } e ? $", while a clean tank would have held about {units.Volume(Math.Max(0, e))}" : "";
        return finding.DumpsLit switch
        {
            > 1 when finding.HoursAfterDump is { } h => $"Lit {Hours(h)} after each of the last {finding.DumpsLit} emptyings{held}.",
            1 when finding.HoursAfterDump is { } h => $"Lit {Hours(h)} after the last emptying{held}.",
            _ => low is null ? "Lit more often than the level explains." : $"{TimeWords.Capital(Evidence(low))}, on {Day(low.At)}.",
        };
    }

    private string StuckOff(ProbeFinding finding)
    {
        var dark = finding.Evidence.Where(e => e.Kind == LampEvidenceKind.DarkThoughAbove).ToList();
        return dark.Count == 0 ? "Dark more often than the level explains."
            : $"Dark {Times(dark.Count)} with the tank expected above it; on {Day(dark.MaxBy(e => e.At.ToInstant())!.At)} about {units.Volume(dark.MaxBy(e => e.At.ToInstant())!.ExpectedL)} were in it.";
    }

    private static string Works(ProbeFinding finding)
    {
        var lit = finding.LookBack.Looks.Count(l => l.Lit);
        var dark = finding.LookBack.Looks.Count - lit;
        return lit == 0 ? $"Dark at all {dark} looks, as the level was below it each time. It has not yet had to show that it can light."
            : dark == 0 ? $"Lit at all {lit} looks, with the tank above it. It has not yet had to show that it can go dark."
            : $"Lit {Times(lit)} and dark {Times(dark)}, as the level asked for.";
    }

    private static string Times(int count) => count == 1 ? "once" : $"{count} times";

    private static string Hours(double hours) => hours < 1.5 ? "an hour" : hours < 36 ? $"{hours.ToString("0", CultureInfo.InvariantCulture)} hours"
        : $"{(hours / 24).ToString("0", CultureInfo.InvariantCulture)} days";

    private static string Meaning(OutcomeMeaning outcome, NextCheck check)
    {
        var seen = outcome.Outcome switch
        {
            CheckOutcome.Lit => $"{check.Probe} lit",
            CheckOutcome.Dark => $"{check.Probe} dark",
            CheckOutcome.Above => $"liquid at {check.Probe} or above",
            CheckOutcome.Below => $"liquid below {check.Probe}",
            CheckOutcome.Pass => "in order",
            CheckOutcome.Fail or CheckOutcome.Level => "not in order",
        };
        var percent = (100 * outcome.Probability).ToString("0", CultureInfo.InvariantCulture);
        return outcome.Verdict switch
        {
            null => $"If {seen}: the panel as a whole is at fault with {percent} %.",
            ProbeVerdict.StuckOn => $"If {seen}: stuck on, {percent} %.",
            ProbeVerdict.StuckOff => $"If {seen}: it never lights, {percent} %.",
            _ => $"If {seen}: it works, {percent} %.",
        };
    }
}
