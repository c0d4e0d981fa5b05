namespace Tanksophos.Words.Pages;

/// <summary>What the pages of Sensors say.</summary>
internal static class SensorsSays
{
    // Index
    public static string WhatThePanelShowsAndWhat => "what the panel shows, and what to trust";
    public static string InDoubt(int faults) => $"{faults} in doubt";
    public static string ValveOpen => ", valve open";
    public static string Of(string number, string volume, string valveOpen) => $"{number} of {volume}{valveOpen}";
    public static string Light => "light";
    public static string Panel => "panel";
    public static string Estimate => "estimate";
    public static string NotRead => "not read";
    public static string ThatWorksFinePeopleAndDays =>
        "That works fine. People and days are counted. A flashlight look or a metered fill now and then corrects the count, and teaches it "
        + "how much you use.";
    public static string ThePanelWasLastRead(string at) => $"The panel was last read {at}.";
    public static string AllLightsAreOff => "all lights are off";
    public static string AllLightsAreOn => "all lights are on";
    public static string ThePanelAsAWholeMay(string probability, string fault) =>
        $"The panel as a whole may be at fault ({probability}): {fault} on all tanks at once. Check the battery first, then ground and "
        + "panel. Until then, don't go by its lights.";
    public static string TheRecord => "The record";
    public static string EstimateNow => "estimate now";
    public static string EstimateThen => "estimate then";
    public static string SeenOrMetered => "seen or metered";
    public static string ThePanel => "the panel";
    public static string Empty => "empty";
    public static string Top => "top";
    public static string Emptied(string label) => $"emptied {label}";
    public static string EntriesBehindIt => "Entries behind it";
    public static string OnTheProbeMap => "On the probe map:";
    public static string ThePanelOfThisDemonstrationIs => "The panel of this demonstration is a stand-in.";
    public static string ItIsReadEveryTenMinutes =>
        "It is read every ten minutes from an invented tank that fills as the crew lives. What you log happens to it too. Its black 1/3 "
        + "sensor is fouled.";
    public static string ReadItNow => "Read it now";
    public static string PanelAndEstimate => "Panel and estimate";
    public static string Of90LikelyInThisRange => "90 % likely in this range";
    public static string AndBelowItEachLightOn => ", and below it each light, on or off at each look";
    public static string LevelOfOverTheLastWeeks(string name, string count) => $"Level of {name} over the last weeks{count}";
    public static string FixesInOrder => "Fixes, in order";
    public static string StandInPanel => "Stand-in panel";
    public static string Over99 => "over 99 %";
    public static string Under1 => "under 1 %";
    public static string On => "on";
    public static string Off => "off";
    public static string WouldBeOnByNow => ", would be on by now";
    public static string WouldBeOffByNow => ", would be off by now";
    public static string ThePanelShowed(string? percent, string ago) => $"The panel showed {percent} % {ago}.";
    public static string ItLikelyReadsPointsTooHigh(string points) =>
        $"It likely reads {points} points too high. Buildup does that: it won't go back to 0 when the tank is empty.";
    public static string ItLooksRightWithinAFew => "It looks right, within a few points.";
    public static string LogALook => "Log a look";
    public static string LogAReading => "Log a reading";
    public static string Wire(string wire) => $"{wire} wire";
    public static string AboveTheFloor(string length) => $"{length} above the floor";
    public static string Fix => "Fix";
    public static string Repair => "Repair";
    public static string YouveTriedEverythingCallA =>
        "You've tried everything. Call a trained person, or go without this light: counting, a flashlight and a meter work too.";
    public static string YourLastFixIsntCheckedYet => "Your last fix isn't checked yet. Dump, rinse, check the panel and log it before the next one.";
    public static string YouveDoneWhatAnOwnerCan => "You've done what an owner can do. It's fine to stop here: counting and a flashlight work too.";
    public static string InOrderWithAPanelCheck => "In order, with a panel check after each. Stop when the light works again.";
    public static string DoneOf(int done, int times) => $"{done} of {times}";
    public static string Done => "done";
    public static string Next => "next";
    public static string TheStandInPanelWasRead => "The stand-in panel was read a moment ago.";
    public static string TheStandInPanelShows => "The stand-in panel shows: ";
    public static string CheckChooseBatteryOkOrWiring => "Check: choose battery-ok or wiring-ok.";

    // Looks
    public static string BelievedAndFound => "Estimated and found";
    public static string EachLookBesideTheEstimate => "each look beside the estimate before it";
    public static string TableCsv => "Table (CSV)";
    public static string NoLooksYet => "No looks yet";
    public static string ShineAFlashlight =>
        "Shine a flashlight down the toilet, or fill through a meter to a known level, and log what you see. Each look shows how good the estimate was.";
    public static string WithinOf(int within, int all) => $"{within} of {all} {(all == 1 ? "look" : "looks")} fell within the estimate's range";
    public static string UsuallyOffBy(string percent, string volume, double leaning) =>
        $"Half of the looks were off by less than {percent} of the tank, {volume}."
        + (leaning > 0.03 ? " Usually there was more in it than estimated." : leaning < -0.03 ? " Usually there was less in it than estimated." : "");
    public static string FewLooks => "Fewer than ten looks don't tell much yet.";
    public static string TrustItLess => "It should be about nine in ten. This tank fills less evenly than the count assumes: look more often.";
    public static string EachLookAsABar(int looks) => $"{looks} looks: the range that was estimated, and what was found. The table below has each.";
    public static string BarDotTriangle => "Bar: the range estimated before the look, with its middle. Dot: what you found, within it. Triangle: outside it.";
    public static string Believed => "Estimated";
    public static string Found => "Found";
    public static string OffBy => "Off by";
    public static string BelievedFromTo(string middle, string low, string high) => $"{middle} ({low} to {high})";
    public static string MeteredInLine => ", metered";
    public static string OutsideInLine => ", outside";
    public static string SeeBelievedAndFound => "How good were the estimates?";
}
