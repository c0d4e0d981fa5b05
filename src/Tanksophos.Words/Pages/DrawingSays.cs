namespace Tanksophos.Words.Pages;

/// <summary>Texts in drawings.</summary>
internal static class DrawingSays
{
    // PipePlan
    public static string MH(string count, string count2, string count3) => $"M{count} {count2}H{count3}";
    public static string MV(string count, string count2, string count3) => $"M{count} {count2}V{count3}";

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
