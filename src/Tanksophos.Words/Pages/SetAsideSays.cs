namespace Tanksophos.Words.Pages;

/// <summary>What the pages of SetAside say.</summary>
internal static class SetAsideSays
{
    // Index
    public static string CantBeRead => "Can't be read";
    public static string EverythingSavedForThisRigCan => "Everything saved for this rig can be read.";
    public static string TheseRowsCantBeReadSo =>
        "These rows can't be read, so they aren't counted. Everything else works. Correct the text, withdraw the row, or download it.";
    public static string DownloadAll => "Download all";
    public static string TextAsItIsSaved => "Text as it is saved";
    public static string SaveCorrected => "Save corrected";
    public static string Withdraw => "Withdraw";
    public static string Download => "Download";
    public static string By(string who) => $", by {who}";
    public static string TextUse1ToCharacters(int longestRaw) => $"Text: use 1 to {longestRaw} characters.";
    public static string CorrectedItCountsAgain => "Corrected. It counts again.";
    public static string WithdrawnItsTextStaysInThe => "Withdrawn. Its text stays in the database and its backups.";
    public static string ThatRowIsGoneOrTheres => "That row is gone, or there's nothing readable to go back to.";
    public static string LogEntry => "Log entry";
    public static string VersionOfALogEntry(int revision) => $"Version {revision} of a log entry";
    public static string TheRigsDetails => "The rig's details";
    public static string VersionOfTheRigsDetails(int revision) => $"Version {revision} of the rig's details";
    public static string Trip(string key) => $"Trip {key}";
    public static string VersionOfTrip(int revision, string key) => $"Version {revision} of trip {key}";
    public static string DumpRun(string key) => $"Dump run {key}";
    public static string PressInADumpRun(string key) => $"Press {key} in a dump run";
    public static string RowChooseOneOf(string accepted) => $"Row: choose one of {accepted}.";
}
