namespace Tanksophos.Words.Pages;

/// <summary>Texts in drawings.</summary>
internal static class DrawingSays
{
    // PipePlan

    // RibbonGeometry
    public static string CloseTheValve => "close the valve";
    public static string OpenTheValve => "open the valve";
    public static string FindADrain => "find a drain";
    public static string PerhapsDumpedNotLogged => "perhaps dumped, not logged";

    // SensorRecord
    public static string Seen(string times) => $"seen {times}";
    public static string Panel(string times) => $"panel {times}";
    public static string NotBelieved => ", not believed";

    // TripRibbon
    public static string TravelScrub => "travel scrub";
}
