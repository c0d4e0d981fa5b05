namespace Tanksophos.Words.Pages;

/// <summary>What the scripts write into a page. The texts are sent with it; in braces stands what the script fills in.</summary>
internal static class ScriptSays
{
    /// <summary>On any page.</summary>
    public static IReadOnlyDictionary<string, string> Everywhere => new Dictionary<string, string>
    {
        ["waiting-one"] = "1 entry is waiting on this device. It's sent when you're back online.",
        ["waiting"] = "{count} entries are waiting on this device. They're sent when you're back online.",
        ["not-accepted"] = "It was not accepted.",
        ["save-looked"] = "Save: I looked, about {percent} %",
        ["save-percent"] = "Save: panel shows {percent} %",
        ["save-lit"] = "Save: {lights} on",
        ["save-dark"] = "Save: no lights on"
    };

    /// <summary>Where a backup is sent.</summary>
    public static IReadOnlyDictionary<string, string> Upload => new Dictionary<string, string>
    {
        ["sent"] = "{percent} % sent",
        ["checking"] = "Sent. Checking the file ...",
        ["refused"] = "The file was not accepted. Nothing was changed.",
        ["broke"] = "The connection broke. Nothing was changed. Try again."
    };

    /// <summary>The stopwatch of the bucket test.</summary>
    public static IReadOnlyDictionary<string, string> Stopwatch => new Dictionary<string, string>
    {
        ["start-timer"] = "Start timer",
        ["bucket-full"] = "It is full"
    };

    /// <summary>The clock of the glass test.</summary>
    public static IReadOnlyDictionary<string, string> Glass => new Dictionary<string, string>
    {
        ["stir"] = "Stir once. Is it pulp?"
    };

    /// <summary>A dump run under way.</summary>
    public static IReadOnlyDictionary<string, string> Run => new Dictionary<string, string>
    {
        ["step"] = "step {step} of {steps}",
        ["round"] = "rinse {round}",
        ["round-of"] = "rinse {round}, about {rounds} expected",
        ["water-left"] = "Rinse water left: {volume}",
        ["poured"] = "{volume} so far",
        ["took"] = "It took {clock}.",
        ["filled-of"] = ", {volume} of {aim} so far",
        ["filled"] = ", {volume} so far",
        ["metered"] = ", {volume} by the flow meter",
        ["of-at-most"] = "of {clock} at most",
        ["at-most"] = "at most {volume}",
        ["of-about"] = "of about {clock}",
        ["slower"] = "slower than this rig does: usually {clock}",
        ["usual"] = "usually about {clock}",
        ["about"] = "about {percent} %",
        ["hose-checked"] = "hose run checked",
        ["hose-unsaved"] = "The check was not saved: no connection. The run continues."
    };
}
