using System.Globalization;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Tanksophos.Data;

namespace Tanksophos.Web.Hosting;

/// <summary>The command <c>doctor</c>: looks over the data folder and changes nothing. Ends with 1 where something has to be done.</summary>
internal static class DoctorCommand
{
    private const long LittleSpace = 200L << 20;
    private const int OldBackupDays = 3;

    public static int Run(string? data, IClock clock, TextWriter output, TextWriter errors)
    {
        var path = Path.GetFullPath(data ?? Server.UsualDataFolder);
        // Looking must not make what is not there.
        if (!File.Exists(Path.Combine(path, "tanksophos.db")))
        {
            errors.WriteLine($"--data: there is no database in '{path}' yet.");
            return 2;
        }
        var sick = 0;
        var folder = new DataFolder(path);
        try
        {
            using var context = folder.Open();
            foreach (var line in new SafeKeeping(folder).LookOver()) Say(line == "ok", "database", line == "ok" ? "sound" : line);
            if (context.Database.GetPendingMigrations().Any()) Say(false, "version", "made by an earlier version; start the program once");
            var stores = new SetAsideStore(context, clock);
            var unreadable = stores.AllRigs().Sum(id => stores.Of(id).Count(i => i.Counts));
            Say(unreadable == 0, "entries", unreadable == 0 ? "all can be read" : $"{unreadable} can't be read: see the page 'Set aside'");
        }
        catch (Exception e) when (e is SqliteException or IOException or UnauthorizedAccessException or InvalidOperationException)
        {
            Say(false, "database", e.Message);
        }
        var newest = new SafeKeeping(folder).Backups().Where(b => b.Daily).Select(b => File.GetLastWriteTimeUtc(Path.Combine(folder.Backups, b.Name)))
            .OrderDescending().Cast<DateTime?>().FirstOrDefault();
        double? age = newest is { } at ? (clock.GetCurrentInstant() - Instant.FromDateTimeUtc(DateTime.SpecifyKind(at, DateTimeKind.Utc))).TotalDays : null;
        Say(age <= OldBackupDays, "backups", age is { } days ? string.Create(CultureInfo.InvariantCulture, $"the newest is {Math.Max(0, days):0.#} days old")
            : "none yet; one is written each day while the program runs");
        Say(!folder.IsOpenToOthers, "permissions",
            folder.IsOpenToOthers ? $"others can look into the folder: chmod 700 \"{folder.Root}\"" : "for this user only");
        var free = new DriveInfo(folder.Root).AvailableFreeSpace;
        Say(free > LittleSpace, "space", $"{free >> 20} MB free");
        return sick == 0 ? 0 : 1;

        void Say(bool well, string what, string said)
        {
            if (!well) sick++;
            output.WriteLine($"{(well ? "ok  " : "look")}  {what}: {said}");
        }
    }
}
