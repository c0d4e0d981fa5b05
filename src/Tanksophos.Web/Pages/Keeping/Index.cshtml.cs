using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.Data.Sqlite;
using NodaTime;
using Tanksophos.Data;
using Tanksophos.Web.App;

namespace Tanksophos.Web.Pages;

/// <summary>Backups of everything, and bringing one back. For who keeps the installation.</summary>
[KeeperOnly]
public sealed class KeepingModel(SafeKeeping keeping, RigMemory memory, PlanMemory plans, DataFolder folder, IClock clock) : FormPage
{
    /// <summary>The word that is typed before everything is replaced.</summary>
    public const string Word = "restore";

    public IReadOnlyList<BackupFile> Backups => keeping.Backups();

    public void OnGet()
    {
    }

    public IActionResult OnPostNow()
    {
        var path = Path.Combine(folder.Staging, $"backup-{Guid.NewGuid():N}.db");
        keeping.Write(path);
        // Deleted as soon as it has been sent, however that ends.
        var file = new FileStream(path, FileMode.Open, FileAccess.Read, FileShare.Read, 1 << 16, FileOptions.DeleteOnClose | FileOptions.Asynchronous);
        return File(file, "application/vnd.sqlite3", $"tanksophos-{clock.GetCurrentInstant().ToString("uuuu-MM-dd'T'HHmm", CultureInfo.InvariantCulture)}.db");
    }

    public IActionResult OnGetFile(string? name) => keeping.Find(name) is { } path ? PhysicalFile(path, "application/vnd.sqlite3", name) : NotFound();

    public IActionResult OnPostRestore(IFormFile? file, string? kept, string? word)
    {
        if (!string.Equals(word?.Trim(), Word, StringComparison.OrdinalIgnoreCase)) return Refuse($"Confirmation: type the word {Word}.");
        if (file is null && string.IsNullOrEmpty(kept)) return Refuse("Backup: choose a file, or one of the backups below.");
        if (file?.Length > Uploads.MostBackupBytes) return Refuse($"Backup: it has {file.Length >> 20} MB; at most {Uploads.MostBackupBytes >> 20} MB are accepted here. Larger ones are restored at the machine: tanksophos-web restore FILE.");
        var uploaded = Path.Combine(folder.Staging, $"uploaded-{Guid.NewGuid():N}.db");
        try
        {
            string? path;
            if (file is not null)
            {
                using (var to = System.IO.File.Create(uploaded)) file.CopyTo(to);
                path = uploaded;
            }
            else if ((path = keeping.Find(kept)) is null) return Refuse("Backup: there is none of that name any more.");
            var aside = keeping.Restore(path, clock.GetCurrentInstant());
            memory.Clear();
            plans.Clear();
            TempData[TodayModel.Logged] = $"Restored. What was here before is kept as {aside}.";
            return RedirectToPage();
        }
        catch (NotABackupException e)
        {
            return Refuse($"{e.Message} Nothing was changed.");
        }
        catch (Exception e) when (e is IOException or SqliteException)
        {
            return Refuse($"It cannot be restored: {e.Message} Nothing was changed.");
        }
        finally
        {
            System.IO.File.Delete(uploaded);
        }
    }

    public static string Size(long bytes) => bytes < 1 << 20 ? $"{bytes / 1024.0:0} KB" : (bytes / 1048576.0).ToString("0.0", CultureInfo.InvariantCulture) + " MB";
}
