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
    /// <summary>What is to be said of a tank's monitor as a whole, in a line.</summary>
    /// <param name="report">What is known of the sensors.</param>
    /// <param name="sensors">The tank.</param>
    public static string Headline(SensorReport report, TankSensors sensors)
    {
        ArgumentNullException.ThrowIfNull(report);
        ArgumentNullException.ThrowIfNull(sensors);
        var name = sensors.Belief.Tank.Name;
        var wrong = sensors.Findings.Where(f => f.Verdict != ProbeVerdict.Working).ToList();
        return sensors.Belief.MonitorVerdict switch
        {
            MonitorVerdict.None => $"{name} has no monitor. Levels come from counting and looking.",
            MonitorVerdict.Ignore when report.PanelFault > 0.5 => "The whole panel is the problem, not the sensors",
            MonitorVerdict.Ignore => $"Don't trust the {name} monitor",
            MonitorVerdict.Doubt when wrong.Count > 0 => $"{name}: {Stuck(wrong)}." + Others(sensors.Findings.Except(wrong).ToList()),
            MonitorVerdict.Doubt => $"{name}: part of the monitor is in doubt",
            MonitorVerdict.Trust => $"{name}: the monitor agrees with everything logged",
        };
    }

    // Only what is well known to work looks right.
    private const double Sound = 0.85;

    private static string Others(List<ProbeFinding> others)
    {
        var doubtful = others.Where(f => f.Probability < Sound).ToList();
        if (doubtful.Count > 0) return $" {EntryWords.And([.. doubtful.Select(f => f.Probe.Label)])} {(doubtful.Count == 1 ? "is" : "are")} in doubt too.";
        return others.Count switch
        {
            0 => "",
            1 => " The other looks right.",
            _ => " The others look right.",
        };
    }

    /// <summary>The same for the whole rig, short: the first tank with something wrong.</summary>
    /// <param name="report">What is known of the sensors.</param>
    /// <returns>The line, and whether something is wrong.</returns>
    public static (string Said, bool Wrong) Brief(SensorReport report)
    {
        ArgumentNullException.ThrowIfNull(report);
        if (report.PanelFault > 0.5) return ("The whole panel", true);
        if (report.Tanks.FirstOrDefault(t => t.Belief.MonitorVerdict is MonitorVerdict.Doubt or MonitorVerdict.Ignore) is not { } tank)
            return ("All look right", false);
        var wrong = tank.Findings.Where(f => f.Verdict != ProbeVerdict.Working).ToList();
        return ($"{tank.Belief.Tank.Name}: {(wrong.Count > 0 ? Stuck(wrong) : "monitor in doubt")}", true);
    }

    private static string Stuck(List<ProbeFinding> wrong) => EntryWords.And([.. wrong.GroupBy(f => f.Verdict).Select(g =>
        $"{EntryWords.And([.. g.Select(f => f.Probe.Label)])} {(g.Count() == 1 ? "is" : "are")} "
        + $"{(g.Key == ProbeVerdict.StuckOn ? "stuck on" : "stuck off")}")]);

    /// <summary>A verdict in two or three words.</summary>
    public static string Verdict(ProbeFinding finding)
    {
        ArgumentNullException.ThrowIfNull(finding);
        var word = finding.Verdict switch { ProbeVerdict.StuckOn => "stuck on", ProbeVerdict.StuckOff => "stuck off", ProbeVerdict.Working => "works" };
        return finding.Settled ? word : $"probably {word}";
    }

    /// <summary>The verdict and what carries it, in a sentence or two.</summary>
    public string Reason(ProbeFinding finding)
    {
        ArgumentNullException.ThrowIfNull(finding);
        if (finding.Readings == 0) return "No readings yet. Look at the panel and log it.";
        var since = Since(finding.LookBack);
        var text = finding.Verdict switch
        {
            ProbeVerdict.StuckOn => StuckOn(finding),
            ProbeVerdict.StuckOff => StuckOff(finding),
            ProbeVerdict.Working => Works(finding),
        };
        if (finding.Verdict != ProbeVerdict.Working && since.Length > 0) text += $" Began {since}.";
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
            LampEvidenceKind.LitThoughBelow => $"on{after}, with {expected} expected",
            LampEvidenceKind.DarkThoughAbove => $"off with {expected} expected",
            LampEvidenceKind.LitAsExpected => $"on with {expected} expected",
            LampEvidenceKind.DarkAsExpected => $"off{after}, with {expected} expected",
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
            NextCheckCode.PanelTomorrow => ($"Check the {name} lights again tomorrow", "1 minute. Press the panel button and log exactly which "
                + "lights are on.", null),
            NextCheckCode.Flashlight when tank?.Role == TankRole.Black =>
                ("Look down the toilet with a flashlight",
                "2 minutes. Fan off, roof vent shut. Hold the toilet valve open and see how far below the floor the liquid is.",
                "Sewer gas can poison and ignite. No flames; keep your face away."),
            NextCheckCode.Flashlight =>
                ($"See how full {name} is",
                "2 minutes. Water in the shower pan means full. Otherwise look through the lowest drain or at an outside gauge.", null),
            NextCheckCode.BatteryOk =>
                ("Test the house battery",
                "5 minutes. Turn on a few lights and the pump. If they dim, or a tester says low, charge it and check the panel again.",
                "Not used to batteries? Get help."),
            NextCheckCode.HardFlushThenPanel =>
                ($"Dump {name}, flush hard, check the panel the next day",
                "30 minutes at a sewer. Rinse until the last trickle is clear. The next day only fouled sensors still light.",
                "Gloves on. Never leave a closed tank while it fills."),
            NextCheckCode.MeteredFill =>
                ($"Put {units.Volume(check.FillL)} into {name} through a meter",
                "20 minutes. That brings the level just above the sensor. Log the water, then the panel.",
                "Overfilling sends sewage out the roof vent or toilet. Stay at the water. Stop at once if anything gurgles."),
            _ => ($"Have the {check.Probe} sensor's wire and stud checked",
                "A trained person needs 45 minutes: nut, crimp, corrosion, ground.",
                "12 V off first. Tank empty and clean before anyone touches a stud."),
        };
        return new CheckText(title, how, caution,
            [.. check.Outcomes.Where(o => o.Outcome != CheckOutcome.Level && o.Chance > 0.005).OrderBy(o => o.Outcome).Select(o => Meaning(o, check))]);
    }

    /// <summary>A rung in words.</summary>
    public static RungText Rung(SensorRung rung) => rung switch
    {
        SensorRung.HardFlush => new("Hard flush, panel again the next day", "Rinse until the last trickle is clear.", null),
        SensorRung.SensorCleaner => new("Soak or sensor cleaner overnight", "In a clean tank, by the label. Leave room for the night.",
            "Follow the label. One product at a time. Never with bleach."),
        SensorRung.TravelScrub =>
            new("Travel scrub on 4 to 6 dumps in a row",
            "Dissolve all the borax in hot water. Add dish soap. Put it in before the drive to the dump; longer is better.",
            "Keep from kids and pets."),
        SensorRung.ReverseFloods => new("Reverse flush until clear", "Metered, from the outlet up, with the fitting's own gate valve.",
            "Never more than the free space. Have someone watch the toilet."),
        SensorRung.PressureJet =>
            new("Pressure jet", "By a trained person. Then a few rinses, cleaner overnight, a flush the next day. About 9 in 10 come back.",
            "Water at this pressure cuts skin. Don't learn it on your own rig."),
        SensorRung.Wiring => new("Wiring, ground, studs", "Loose crimp, corroded nut, broken ground. Have a trained person check the wire.",
            "12 V off first."),
        SensorRung.NewProbes => new("New probes",
            "Same height as the old ones, with a non-stick sleeve. In black, a shield over the tip. Photograph and label the wires first.",
            "Tank empty and clean, one wire at a time. A wrong hole can't be undone."),
    };

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
        SensorRung.NewProbes => "a new sensor",
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
        var held = finding.ExpectedAfterDumpL is { } e ? $", when a clean tank holds about {units.Volume(Math.Max(0, e))}" : "";
        return finding.DumpsLit switch
        {
            > 1 when finding.HoursAfterDump is { } h => $"On {Hours(h)} after each of the last {finding.DumpsLit} dumps{held}.",
            1 when finding.HoursAfterDump is { } h => $"On {Hours(h)} after the last dump{held}.",
            _ => low is null ? "On too often for the level." : $"{TimeWords.Capital(Evidence(low))}, on {Day(low.At)}.",
        };
    }

    private string StuckOff(ProbeFinding finding)
    {
        var dark = finding.Evidence.Where(e => e.Kind == LampEvidenceKind.DarkThoughAbove).ToList();
        return dark.Count == 0 ? "Off too often for the level."
            : $"Off {Times(dark.Count)} with the level expected above it; on {Day(dark.MaxBy(e => e.At.ToInstant())!.At)} about "
            + $"{units.Volume(dark.MaxBy(e => e.At.ToInstant())!.ExpectedL)} was in it.";
    }

    private static string Works(ProbeFinding finding)
    {
        var lit = finding.LookBack.Looks.Count(l => l.Lit);
        var dark = finding.LookBack.Looks.Count - lit;
        return lit == 0 ? $"Off all {dark} times, with the level below it each time. Not tested near this level yet."
            : dark == 0 ? $"On all {lit} times, with the level above it. Not tested below this level yet."
            : $"On {Times(lit)} and off {Times(dark)}, as expected.";
    }

    private static string Times(int count) => count == 1 ? "once" : $"{count} times";

    private static string Hours(double hours) => hours < 1.5 ? "an hour" : hours < 36 ? $"{hours.ToString("0", CultureInfo.InvariantCulture)} hours"
        : $"{(hours / 24).ToString("0", CultureInfo.InvariantCulture)} days";

    private static string Meaning(OutcomeMeaning outcome, NextCheck check)
    {
        var seen = outcome.Outcome switch
        {
            CheckOutcome.Lit => $"{check.Probe} on",
            CheckOutcome.Dark => $"{check.Probe} off",
            CheckOutcome.Above => $"liquid at {check.Probe} or above",
            CheckOutcome.Below => $"liquid below {check.Probe}",
            CheckOutcome.Pass => "OK",
            CheckOutcome.Fail or CheckOutcome.Level => "there is a problem",
        };
        var percent = (100 * outcome.Probability).ToString("0", CultureInfo.InvariantCulture);
        return outcome.Verdict switch
        {
            null => $"If {seen}: the whole panel is at fault, {percent} %.",
            ProbeVerdict.StuckOn => $"If {seen}: stuck on, {percent} %.",
            ProbeVerdict.StuckOff => $"If {seen}: stuck off, {percent} %.",
            _ => $"If {seen}: it works, {percent} %.",
        };
    }
}
