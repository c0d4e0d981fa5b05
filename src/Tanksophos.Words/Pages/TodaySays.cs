namespace Tanksophos.Words.Pages;

/// <summary>What the pages of Today say.</summary>
internal static class TodaySays
{
    // Index
    public static string NewHere => "New here?";
    public static string FourPlacesToKnow => "Four places to know.";
    public static string ShowMe => "Show me";
    public static string NoThanks => "No, thanks";
    public static string GotIt => "Got it";
    public static string WaterIsON => ", water is ON";
    public static string ADumpRunIsUnderWay(int position, int count, string waterOn) =>
        $"A dump run is under way: step {position} of {count}{waterOn}";
    public static string Continue => "Continue";
    public static string NothingDue => "Nothing due";
    public static string LogThePanelOnceOrTwice => "Log the panel once or twice a day to keep levels accurate.";
    public static string Why => "Why?";
    public static string LogAReading => "Log a reading.";
    public static string Likely => "likely";
    public static string Of => "of";
    public static string Reached => "reached";
    public static string By(string when) => $"by {when}";
    public static string DumpLevel(string when) => $"dump level {when}";
    public static string NotTrusted(string lights) => $"{lights} not trusted";
    public static string Details => "Details";
    public static string CompletelyFull => "completely full";
    public static string NoMonitorCountedFromPeopleAnd => "No monitor. Counted from people and days.";
    public static string Agrees => "· agrees";
    public static string Later(int count) => $"Later ({count})";
    public static string GuestViewOnly => "Guest: view only.";
    public static string FourPlacesToKnowField => "Four places to know";
    public static string WhatToDoNext => "What to do next";
    public static string AfterThat => "After that";
    public static string OverTime => "Over time";
    public static string People(int count) => count switch { 0 => "no one on board", 1 => "1 person", _ => $"{count} people" };
    public static string WhenYouGetToIt => "When you get to it";
    public static string AboutPercentFull(string name, string percent) => $"{name}: about {percent} percent full";
    public static string MeasuredStated(string capacity, string volume) => $"{capacity} measured, {volume} stated";
    public static string ValveOpenAndThereIsNo => "valve open, and there is no drain here";
    public static string ValveOpenDrains => "valve open, drains";
    public static string Since(string day) => $" since {day}";
    public static string ValveOpen => "Valve open";
    public static string FillingSince(string at) => $"Filling since {at}";
    public static string LastDumpNotOnRecord => "Last dump not on record";
    public static string IfClosedNow => "if closed now";
    public static string ContradictsTheCount => "contradicts the count";
    public static string ContradictsTheCountOf(string lights) => $"{lights} contradicts the count";
    public static string ReadingViaIsOneOf(string accepted) => $"Reading: via is one of {accepted}.";
    public static string LevelEnterANumberFrom0 => "Level: enter a number from 0 to 100 percent.";
    public static string PanelEnterANumberFrom0 => "Panel: enter a number from 0 to 100 percent.";
    public static string PanelNoLightOnThisTank(string unknown) => $"Panel: no light '{unknown}' on this tank.";
    public static string MinutesEnter0To120 => "Minutes: enter 0 to 120.";
    public static string FlowChooseOneOf(string accepted) => $"Flow: choose one of {accepted}.";
    public static string WaterEnterMoreThan0(string acceptedVolume) => $"Water: enter {acceptedVolume}, more than 0.";
    public static string WaterWontFitIn(string volume, string tank, string capacity) => $"Water: {volume} won't fit in {tank} ({capacity}).";
    public static string PurposeChooseOneOf(string accepted) => $"Purpose: choose one of {accepted}.";
    public static string ValveChooseOpenOrClosed => "Valve: choose open or closed.";
    public static string DoseYourHouseRulesHaveNo => "Dose: your house rules have no routine dose.";
    public static string HookupChooseOneOf(string accepted) => $"Hookup: choose one of {accepted}.";
    public static string PlaceUseAtMost200Characters => "Place: use at most 200 characters.";
    public static string NoDumpLoggedYetToRepeat => "No dump logged yet to repeat.";
    public static string TheLogChangedSinceYouOpened => "The log changed since you opened the page. Check it again.";
    public static string ThisFormWasAlreadySentReload => "This form was already sent. Reload the page.";
    public static string LoggedSameAsLastTime => "Logged same as last time: ";
    public static string RemovedTheyStayInTheLogbook(string entries) => $"Removed: {entries}. They stay in the logbook, crossed out.";
    public static string RemovedItStaysInTheLogbook(string kind) => $"Removed: {kind}. It stays in the logbook, crossed out.";
    public static string Heard => "OK";
    public static string TankChooseOne => "Tank: choose one.";
    public static string TankThereIsNoTankOn(string tank) => $"Tank: there is no tank '{tank}' on this rig.";
}
