namespace Tanksophos.Words.Pages;

/// <summary>What the pages of Log say.</summary>
internal static class LogSays
{
    // Index
    public static string Log => "Log";

    // _LogSheet
    public static string BlackFirstTapATankTo => "Black first. Tap a tank to log it drained and closed.";
    public static string Flow => "Flow";
    public static string Minutes => "Minutes";
    public static string SameAsLastTime => "Same as last time";
    public static string LogAllOfThis => "Log all of this";
    public static string Into => "Into";
    public static string HowMuchWentIn => "How much went in?";
    public static string AnotherAmount => "Another amount";
    public static string HowManyFromNowOnWas(int people) => $"How many from now on? Was {people}.";
    public static string PlaceOptional => "Place (optional)";
    public static string TapTheHookups => "Tap the hookups.";
    public static string Reading => "Reading";
    public static string Dump => "Dump";
    public static string Place => "Place";
    public static string WhatToLog => "What to log";
    public static string Of1Gal => "1 gal";
    public static string Of2Gal => "2 gal";
    public static string Of3Gal => "3 gal";
    public static string Of5Gal => "5 gal";
    public static string Of4L => "4 L";
    public static string Of10L => "10 L";
    public static string Of15L => "15 L";
    public static string Of20L => "20 L";
    public static string StarterWater => "starter water";
    public static string TopUpBeforeADump => "top-up before a dump";
    public static string SomethingElse => "something else";
    public static string Of75Gal => "7.5 gal";
    public static string Of28L => "28 L";

    // _TankReading
    public static string WhatYouSawGoesInHere => "What you saw goes in here. For the panel: [log a reading].";
    public static string PanelReading => "Panel reading, %";
    public static string ILookedAbout => "I looked: about";
    public static string Valve => "Valve:";
    public static string TapTheLightsThatAreOn => "Tap the lights that are on, or tap the level you saw.";
    public static string TapTheLevelYouSaw => "Tap the level you saw.";
    public static string Closed => "closed";
    public static string ClosedIt => "Closed it";
    public static string LeftItOpen => "Left it open";

    // Index
    public static string Smell => "Smell";
    public static string Other => "Other";
}
