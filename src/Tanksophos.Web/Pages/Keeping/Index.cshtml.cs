using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using NodaTime;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;

namespace Tanksophos.Web.Pages;

/// <summary>What the page of the backups shows, also when a restore was refused.</summary>
public abstract class KeepingPage(SafeKeeping keeping) : FormPage
{
    /// <summary>The word that is typed before everything is replaced.</summary>
    public const string Word = "restore";

    public IReadOnlyList<BackupFile> Backups => keeping.Backups();

    /// <summary>What a backup holds that cannot be read, if it was refused for that alone.</summary>
    public IReadOnlyList<string> Unreadable { get; protected set; } = [];

    /// <summary>The backup kept here that was asked for.</summary>
    public string? Kept { get; protected set; }

    public static string Size(long bytes) => bytes < 1 << 20 ? KeepingSays.KB(bytes / 1024.0) : (bytes / 1048576.0)
        .ToString("0.0", CultureInfo.InvariantCulture) + " MB";
}

/// <summary>Backups of everything. For who keeps the installation.</summary>
[KeeperOnly]
public sealed class KeepingModel(SafeKeeping keeping, DataFolder folder, IClock clock) : KeepingPage(keeping)
{
    private readonly SafeKeeping keeping = keeping;

    public void OnGet()
    {
    }

    public IActionResult OnPostNow()
    {
        var path = Path.Combine(folder.Staging, $"backup-{Guid.NewGuid():N}.db");
        keeping.Write(path);
        // A backup that this page would not take back is not handed out here.
        if (new FileInfo(path).Length > Uploads.MaxBackupBytes)
        {
            System.IO.File.Delete(path);
            return Refuse(KeepingSays.TheDatabaseHasMoreThanBack(Uploads.BackupLimit));
        }
        // Deleted as soon as it has been sent, however that ends.
        var file = new FileStream(path, FileMode.Open, FileAccess.Read, FileShare.Read, 1 << 16, FileOptions.DeleteOnClose | FileOptions.Asynchronous);
        return File(file, "application/vnd.sqlite3", $"tanksophos-{clock.GetCurrentInstant().ToString("uuuu-MM-dd'T'HHmm", CultureInfo.InvariantCulture)}.db");
    }

    public IActionResult OnGetFile(string? name) => keeping.Find(name) is { } path ? PhysicalFile(path, "application/vnd.sqlite3", name) : NotFound();
}
