namespace Tanksophos.Words.Pages;

/// <summary>What the pages of Rigs say.</summary>
internal static class RigsSays
{
    // Index
    public static string Archived => " Archived.";
    public static string YourRole(string roleName, string archived) => $"Your role: {roleName}.{archived}";
    public static string ExportEverythingZIP => "Export everything (ZIP)";
    public static string Delete => "Delete";
    public static string TypeItsNameToConfirm => "Type its name to confirm";
    public static string DeleteOf(string name) => $"Delete {name}";
    public static string DeletesTheRigItsLogPhotos => "Deletes the rig, its log, photos, invitations and tokens, for everyone.";
    public static string ExportEverythingFirstThenYou => "Export everything first. Then you can delete it.";
    public static string SetUpAnotherRig => "Set up another rig";
    public static string ImportARig => "Import a rig";
    public static string OfThem(int count) => count == 1 ? "one so far" : $"{count} of them";
    public static string GoToToday => "Go to Today";
    public static string Open => "Open";
    public static string Archive => "Archive";
    public static string IsArchivedNothingIsLost(string name) => $"{name} is archived. Nothing is lost. Unarchive it here.";
    public static string IsInUseAgain(string name) => $"{name} is in use again.";
    public static string ToDeleteItTypeItsName(string name) => $"To delete it, type its name exactly: {name}";
    public static string HasChangedSinceYourLastExport(string name) =>
        $"{name} has changed since your last export, or was never exported. Export everything first.";
    public static string HasChangedSinceYourLastExportExport(string name) => $"{name} has changed since your last export. Export everything first.";
    public static string ABackupFromBeforeIsKept(string aside) => $" A backup from before is kept for a while as {aside}.";
    public static string IsDeletedWithItsLogAnd(string name, string after) => $"{name} is deleted, with its log and photos.{after}";
}
