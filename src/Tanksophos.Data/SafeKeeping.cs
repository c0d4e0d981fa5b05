using System.Globalization;
using Microsoft.Data.Sqlite;
using NodaTime;

namespace Tanksophos.Data;

/// <summary>A backup in the data folder.</summary>
/// <param name="Name">The file's name.</param>
/// <param name="Bytes">Its size.</param>
/// <param name="Daily">Whether it is one of the daily ones.</param>
public sealed record BackupFile(string Name, long Bytes, bool Daily);

/// <summary>Thrown when a file cannot be restored; says why in words for its reader. Nothing was changed.</summary>
public sealed class NotABackupException(string message) : Exception(message);

/// <summary>
/// Backs the database up and brings it back, by SQLite's own online backup: while people log, without a moment in which the file is half written.
/// </summary>
public sealed class SafeKeeping(DataFolder folder)
{
    /// <summary>Daily backups kept.</summary>
    public const int DailyKept = 14;

    /// <summary>Backups kept of those taken before something was replaced or deleted.</summary>
    public const int BeforeKept = 10;

    private const string Daily = "daily-", Before = "before-", Ending = ".db";

    // Restoring and backing up take turns; each is one copy from end to end.
    private readonly Lock turn = new();

    /// <summary>The backups in the folder, newest first.</summary>
    public IReadOnlyList<BackupFile> Backups() =>
        [.. new DirectoryInfo(folder.Backups).EnumerateFiles("*" + Ending).OrderByDescending(f => f.LastWriteTimeUtc).ThenByDescending(f => f.Name, StringComparer.Ordinal)
            .Select(f => new BackupFile(f.Name, f.Length, f.Name.StartsWith(Daily, StringComparison.Ordinal)))];

    /// <summary>The full path of a backup in the folder; null if there is none of that name.</summary>
    public string? Find(string? name) => Backups().FirstOrDefault(b => b.Name == name) is { } backup ? Path.Combine(folder.Backups, backup.Name) : null;

    /// <summary>Writes a backup to a new file.</summary>
    /// <exception cref="IOException">The file cannot be written.</exception>
    public void Write(string path)
    {
        lock (turn)
        {
            var half = path + ".part";
            File.Delete(half);
            using (var from = Open(folder.Database))
            using (var to = Open(half)) from.BackupDatabase(to);
            Settle(half);
            File.Move(half, path, overwrite: true);
        }
    }

    /// <summary>Writes the day's backup unless it is there, and lets go of those older than the last fourteen.</summary>
    /// <returns>Whether one was written.</returns>
    public bool WriteDaily(LocalDate today)
    {
        var path = Path.Combine(folder.Backups, $"{Daily}{today.ToString("uuuu-MM-dd", CultureInfo.InvariantCulture)}{Ending}");
        if (File.Exists(path)) return false;
        Write(path);
        Trim(Daily, DailyKept);
        return true;
    }

    /// <summary>Keeps the present database aside before something is replaced or deleted.</summary>
    /// <param name="what">What is about to happen, in one word.</param>
    /// <param name="now">The time.</param>
    /// <returns>The file's name.</returns>
    public string KeepAside(string what, Instant now)
    {
        var name = $"{Before}{what}-{now.ToString("uuuu-MM-dd'T'HHmmss", CultureInfo.InvariantCulture)}";
        for (var n = 1; File.Exists(Path.Combine(folder.Backups, name + Ending)); n++) name = n == 1 ? name + "-1" : name[..name.LastIndexOf('-')] + $"-{n}";
        Write(Path.Combine(folder.Backups, name + Ending));
        Trim(Before, BeforeKept);
        return name + Ending;
    }

    /// <summary>
    /// Puts a backup in the place of the present database: checks it, brings it up to this version of the program, keeps the present one aside, and then
    /// copies it over in one transaction. The given file is not touched.
    /// </summary>
    /// <param name="path">The backup.</param>
    /// <param name="now">The time.</param>
    /// <returns>Name of the file in which the previous database is kept; null if there was none.</returns>
    /// <exception cref="NotABackupException">The file is no backup, is damaged, or comes from a newer version; nothing was changed.</exception>
    public string? Restore(string path, Instant now)
    {
        var staged = Path.Combine(folder.Staging, $"restore-{Guid.NewGuid():N}{Ending}");
        try
        {
            File.Copy(path, staged);
            Check(staged);
            var looked = new DataFolder(folder.Root, staged);
            looked.Migrate();
            ReadAll(looked);
            var aside = File.Exists(folder.Database) ? KeepAside("restore", now) : null;
            lock (turn)
            {
                using var from = Open(staged);
                using var to = Open(folder.Database);
                from.BackupDatabase(to);
            }
            SqliteConnection.ClearAllPools(); // connections remember what they have read
            return aside;
        }
        finally
        {
            foreach (var left in (string[])[staged, staged + "-wal", staged + "-shm"]) File.Delete(left);
        }
    }

    private static void Check(string path)
    {
        var header = new byte[16];
        using (var file = File.OpenRead(path)) file.ReadAtLeast(header, header.Length, throwOnEndOfStream: false);
        if (!header.AsSpan().SequenceEqual("SQLite format 3\0"u8)) throw new NotABackupException("It is no backup of this program: a database file as the Account page hands it out is accepted.");
        try
        {
            using var connection = Open(path);
            if (Scalar(connection, "PRAGMA integrity_check") is not "ok") throw new NotABackupException("The file is damaged: it does not pass the database's own integrity check.");
            if (Scalar(connection, "SELECT count(*) FROM sqlite_master WHERE type = 'table' AND name IN ('Rigs', 'Entries', '__EFMigrationsHistory')") is not 3L)
                throw new NotABackupException("It is a database, but not one of this program.");
            if (Scalar(connection, "SELECT count(*) FROM sqlite_master WHERE type IN ('trigger', 'view')") is not 0L)
                throw new NotABackupException("The database holds triggers or views, which this program never writes.");
            var newest = Scalar(connection, "SELECT max(MigrationId) FROM __EFMigrationsHistory") as string;
            if (newest is null || !DataFolder.Migrations.Contains(newest)) throw new NotABackupException("The backup comes from a newer version of the program. Update the program first.");
            if (Scalar(connection, "PRAGMA foreign_key_check") is not null) throw new NotABackupException("The file is damaged: rows in it belong to a rig that is not there.");
        }
        catch (SqliteException)
        {
            throw new NotABackupException("The file is damaged: the database cannot be opened.");
        }
    }

    // What cannot be read here could not be read by any page later.
    private static void ReadAll(DataFolder staged)
    {
        try
        {
            using var context = staged.Open();
            var store = new RigStore(context, SystemClock.Instance);
            foreach (var rig in store.Rigs()) store.Log(rig.Id);
            _ = (context.Users.FirstOrDefault(), context.Memberships.FirstOrDefault(), context.Invitations.FirstOrDefault(), context.ApiTokens.FirstOrDefault(), context.Photos.FirstOrDefault(), context.RigRevisions.FirstOrDefault());
        }
        catch (Exception e) when (e is SqliteException or InvalidDataException or InvalidOperationException or InvalidCastException)
        {
            throw new NotABackupException("The file is damaged: a rig or an entry in it cannot be read.");
        }
    }

    private void Trim(string start, int kept)
    {
        foreach (var old in Directory.EnumerateFiles(folder.Backups, start + "*" + Ending).OrderByDescending(f => File.GetLastWriteTimeUtc(f)).ThenByDescending(f => f, StringComparer.Ordinal).Skip(kept).ToList()) File.Delete(old);
    }

    // A finished backup is one file: nothing of it is left in a log beside it.
    private static void Settle(string path)
    {
        using var connection = Open(path);
        Scalar(connection, "PRAGMA journal_mode=DELETE");
    }

    private static object? Scalar(SqliteConnection connection, string sql)
    {
        using var command = connection.CreateCommand();
        command.CommandText = sql;
        return command.ExecuteScalar();
    }

    private static SqliteConnection Open(string path)
    {
        var connection = new SqliteConnection(new SqliteConnectionStringBuilder { DataSource = path, Pooling = false, DefaultTimeout = 30 }.ToString());
        connection.Open();
        return connection;
    }
}
