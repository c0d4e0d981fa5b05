namespace Tanksophos.Words.Pages;

/// <summary>What the pages of Keeping say.</summary>
internal static class KeepingSays
{
    public static string LargerThan(string limit) => $"Choose a file of at most {limit}. Larger ones: tanksophos-web restore FILE.";
    // Index
    public static string Backups => "Backups";

    // _Keeping
    public static string AllRigsLogsPhotosAndAccounts => "all rigs, logs, photos and accounts in one file";
    public static string BackUpNow => "Back up now";
    public static string KeepLoggingWhileItRunsKeep =>
        "Keep logging while it runs. Keep a copy away from the rig: a stick at home, another computer.";
    public static string DownloadABackup => "Download a backup";
    public static string KeptInTheDataFolder => "Kept in the data folder";
    public static string NoneYetTheFirstDailyBackup => "None yet. The first daily backup is made shortly after startup.";
    public static string OneADayTheLastAre(int dailyKept) =>
        $"One a day; the last {dailyKept} are kept. Your data is also saved before a rig is deleted or a backup is restored.";
    public static string RestoreABackup => "Restore a backup";
    public static string RestoringReplacesEverything =>
        "Restoring replaces everything here. Your current data is saved first. The whole file is checked before anything is replaced, and "
        + "everyone signs in again afterward.";
    public static string TypeToConfirm(string word) => $"Type [{word}] to confirm";
    public static string RestoreAnywayAndSetAsideWhat => "Restore anyway, and set aside what can't be read";
    public static string ABackupKeptHere => "A backup kept here";
    public static string NoneOfThese => "none of these";
    public static string OrABackupFile => "or a backup file";
    public static string BackupFile => "Backup file";
    public static string AtMost(string count, string backupLimit) => $"{count}, at most {backupLimit}";
    public static string Restore => "Restore";
    public static string RowsThatCantBeRead => "Rows that can't be read are [listed here].";
    public static string BackUp => "Back up";
    public static string BackupsKeptHere => "Backups kept here";
    public static string Upload => "Upload";
    public static string Daily => "daily";
    public static string KeptAside => "kept aside";

    // Index
    public static string KB(double bytes) => $"{bytes:0} KB";
    public static string TheDatabaseHasMoreThanBack(string backupLimit) =>
        $"The database has more than {backupLimit}: back it up on this computer instead, with tanksophos-web backup FILE.";

    // Restore
    public static string ChooseABackupFileOrOne => "Choose a backup file, or one of the backups kept here.";
    public static string ThatBackupIsNoLongerHere => "That backup is no longer here.";
    public static string RestoredYourEarlierDataIsSaved(string? aside) => $"Restored. Your earlier data is saved as {aside}.";
    public static string TheBackupHadNoAccountTo => " The backup had no account to sign in with, so yours was kept.";
    public static string RowsCantBeReadAndWere(int count) => $" {count} rows can't be read and were set aside.";
    public static string NothingWasChanged(string message) => $"{message} Nothing was changed.";
    public static string TheFileArrivedIncompleteOrCant => "The file arrived incomplete, or can't be written. Nothing was changed.";
    public static string ChooseABackupOfAtMost(string backupLimit) =>
        $"Choose a backup of at most {backupLimit}. Larger ones are restored on this computer: tanksophos-web restore FILE. Nothing was changed.";
    public static string UseTheFormOnThisPage => "Use the form on this page.";
    public static string ThePageWasOpenTooLong => "The page was open too long. Reload it and send the form again. Nothing was changed.";
    public static string TypeToConfirmNothingWasChanged(string word) => $"Type {word} to confirm. Nothing was changed.";
}
