namespace Tanksophos.Words.Pages;

/// <summary>What the pages of Offline say.</summary>
internal static class OfflineSays
{
    // Index
    public static string NoConnection => "No connection";
    public static string ThisPageNeedsOneTodayThe =>
        "This page needs one. Today, the trip and your run are kept on this device as you last saw them. What you log there waits, and is "
        + "sent when you're back online.";
}
