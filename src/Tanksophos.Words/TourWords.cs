namespace Tanksophos.Words;

/// <summary>What a newcomer is shown once.</summary>
public static class TourWords
{
    /// <summary>The places, with the name of their icon.</summary>
    public static IReadOnlyList<(string Icon, string Name, string What)> Stops { get; } =
    [
        ("log", "Log", "What the panel shows, a dump, a smell: three taps. Everything else is figured from it."),
        ("today", "Today", "The next thing to do, when, and why. Tap the reason to see the entries behind it."),
        ("dump", "Dump run", "At the hose, one step a screen, with the clock and the most water that fits."),
        ("find", "Troubleshoot", "A smell, a drip, a light that lies: tap where it is, and get the next check."),
    ];
}
