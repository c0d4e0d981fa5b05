using System.Globalization;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace Tanksophos.Data;

/// <summary>A backup in the data folder.</summary>
/// <param name="Name">The file's name.</param>
/// <param name="Bytes">Its size.</param>
/// <param name="Daily">Whether it is one of the daily ones.</param>
public sealed record BackupFile(string Name, long Bytes, bool Daily);

/// <summary>Thrown when a file cannot be restored; says why in words for its reader. Nothing was changed.</summary>
/// <param name="message">Why, in words.</param>
/// <param name="unreadable">Rows in it that cannot be read, if those are the only reason: it can be restored all the same, and they are set aside then.</param>
public sealed class NotABackupException(string message, IReadOnlyList<string>? unreadable = null) : Exception(message)
{
    /// <summary>Rows that cannot be read, if those are the only reason; empty otherwise.</summary>
    public IReadOnlyList<string> Unreadable { get; } = unreadable ?? [];
}

/// <summary>How a restore went.</summary>
/// <param name="Aside">Name of the file in which the previous database is kept; null if there was none.</param>
/// <param name="AccountsKept">Whether the backup had nobody who keeps the installation, and the present keepers' accounts were carried over.</param>
/// <param name="Unreadable">Rows that cannot be read and were set aside.</param>
public sealed record Restored(string? Aside, bool AccountsKept, IReadOnlyList<string> Unreadable);

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
        [.. new DirectoryInfo(folder.Backups).EnumerateFiles("*" + Ending).OrderByDescending(f => f.LastWriteTimeUtc)
            .ThenByDescending(f => f.Name, StringComparer.Ordinal)
            .Select(f => new BackupFile(f.Name, f.Length, f.Name.StartsWith(Daily, StringComparison.Ordinal)))];

    /// <summary>The full path of a backup in the folder; null if there is none of that name.</summary>
    public string? Find(string? name) => Backups().FirstOrDefault(b => b.Name == name) is { } backup ? Path.Combine(folder.Backups, backup.Name) : null;

    /// <summary>What the database's own check of itself says; "ok" where it is sound. Changes nothing.</summary>
    public IReadOnlyList<string> LookOver()
    {
        var reading = new SqliteConnectionStringBuilder { DataSource = folder.Database, Mode = SqliteOpenMode.ReadOnly };
        using var connection = new SqliteConnection(reading.ToString());
        connection.Open();
        using var ask = connection.CreateCommand();
        ask.CommandText = "PRAGMA integrity_check(20)";
        using var rows = ask.ExecuteReader();
        var said = new List<string>();
        while (rows.Read()) said.Add(rows.GetString(0));
        return said;
    }

    /// <summary>Writes a backup to a new file.</summary>
    /// <exception cref="IOException">The file cannot be written.</exception>
    public void Write(string path)
    {
        lock (turn)
        {
            var half = path + ".part";
            DataFolder.CreateFile(half).Dispose();
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
    /// Puts a backup in the place of the present database: checks all of it, brings it up to this version of the program, keeps the present one aside, and
    /// then copies it over in one transaction. The given file is not touched. Everybody signs in anew afterwards.
    /// </summary>
    /// <param name="path">The backup.</param>
    /// <param name="now">The time.</param>
    /// <param name="setAside">Whether rows that cannot be read are taken along and set aside, instead of refusing the file.</param>
    /// <exception cref="NotABackupException">The file is no backup, is damaged, or comes from a newer version; nothing was changed.</exception>
    public Restored Restore(string path, Instant now, bool setAside = false)
    {
        var staged = Path.Combine(folder.Staging, $"restore-{Guid.NewGuid():N}{Ending}");
        try
        {
            using (var from = File.OpenRead(path))
            using (var to = DataFolder.CreateFile(staged)) from.CopyTo(to);
            Check(staged);
            var looked = new DataFolder(folder.Root, staged);
            looked.Migrate();
            var unreadable = ReadAll(looked);
            if (unreadable.Count > 0 && !setAside)
                throw new NotABackupException($"{unreadable.Count} {(unreadable.Count == 1 ? "row" : "rows")} in the backup can't be read: "
                    + $"{string.Join("; ", unreadable.Take(5))}{(unreadable.Count > 5 ? "; ..." : "")}.",
                unreadable);
            var accounts = KeepAccounts(looked, now);
            looked.ForgetConnections();
            var aside = File.Exists(folder.Database) ? KeepAside("restore", now) : null;
            lock (turn)
            {
                using var from = Open(staged);
                using var to = Open(folder.Database);
                // A database that keeps a log cannot take in one of another page size.
                if (Scalar(from, "PRAGMA page_size") is long size && Scalar(to, "PRAGMA page_size") is long wanted && size != wanted)
                {
                    Scalar(from, "PRAGMA journal_mode=DELETE");
                    Scalar(from, $"PRAGMA page_size={wanted}");
                    Scalar(from, "VACUUM");
                }
                from.BackupDatabase(to);
            }
            folder.ForgetConnections();
            return new Restored(aside, accounts, unreadable);
        }
        catch (UnusableDatabaseException e)
        {
            throw new NotABackupException(e.InnerException is SqliteException ? Damaged
                : "The backup comes from a newer version of the program. Update the program first.");
        }
        finally
        {
            new DataFolder(folder.Root, staged).ForgetConnections();
            foreach (var left in (string[])[staged, staged + "-wal", staged + "-shm"]) File.Delete(left);
        }
    }

    private const string Damaged = "The file is damaged: the database cannot be opened.";

    // Who restores must be able to sign in afterwards: where nobody in the backup keeps the installation (it is from before there were accounts), the
    // present keepers do. Nobody is signed in by what an old backup remembers.
    private bool KeepAccounts(DataFolder staged, Instant now)
    {
        using var context = staged.Open();
        context.SignIns.ExecuteDelete();
        if (context.Users.Any(u => u.IsKeeper) || !File.Exists(folder.Database)) return false;
        folder.Migrate();
        using var present = folder.Open();
        var kept = false;
        foreach (var keeper in present.Users.AsNoTracking().Where(u => u.IsKeeper).OrderBy(u => u.Id).ToList())
        {
            if (context.Users.FirstOrDefault(u => u.NormalizedUserName == keeper.NormalizedUserName) is { } same)
                (same.IsKeeper, same.PasswordHash, same.SecurityStamp) = (true, keeper.PasswordHash, keeper.SecurityStamp);
            else
            {
                keeper.Id = 0;
                context.Users.Add(keeper);
            }
            context.SaveChanges();
            if (!kept) new PeopleStore(context, new AtMoment(now)).Adopt(context.Users.Where(u => u.IsKeeper).OrderBy(u => u.Id).Select(u => u.Id).First());
            kept = true;
        }
        return kept;
    }

    private sealed class AtMoment(Instant now) : IClock
    {
        public Instant GetCurrentInstant() => now;
    }

    private static void Check(string path)
    {
        var header = new byte[16];
        using (var file = File.OpenRead(path)) file.ReadAtLeast(header, header.Length, throwOnEndOfStream: false);
        if (!header.AsSpan().SequenceEqual("SQLite format 3\0"u8))
            throw new NotABackupException("It is no backup of this program: a database file as the Account page hands it out is accepted.");
        try
        {
            using var connection = Open(path);
            if (Scalar(connection, "PRAGMA integrity_check") is not "ok")
                throw new NotABackupException("The file is damaged: it does not pass the database's own integrity check.");
            if (Scalar(connection, "SELECT count(*) FROM sqlite_master WHERE type = 'table' AND name IN ('Rigs', 'Entries', "
                + "'__EFMigrationsHistory')") is not 3L)
                throw new NotABackupException("It is a database, but not one of this program.");
            if (Scalar(connection, "SELECT count(*) FROM sqlite_master WHERE type IN ('trigger', 'view')") is not 0L)
                throw new NotABackupException("The database holds triggers or views, which this program never writes.");
            var newest = Scalar(connection, "SELECT max(MigrationId) FROM __EFMigrationsHistory") as string;
            if (newest is null || !DataFolder.Migrations.Contains(newest))
                throw new NotABackupException("The backup comes from a newer version of the program. Update the program first.");
            if (Scalar(connection, "PRAGMA foreign_key_check") is not null)
                throw new NotABackupException("The file is damaged: rows in it belong to a rig that is not there.");
        }
        catch (SqliteException)
        {
            throw new NotABackupException(Damaged);
        }
    }

    // Whatever a page reads later is read here: tables and columns, rigs with all their versions, entries, trips, runs and presses, photos, people.
    private static List<string> ReadAll(DataFolder staged)
    {
        try
        {
            using var context = staged.Open();
            if (MissingFromSchema(context) is { } missing) throw new NotABackupException($"The file is damaged: it has no {missing}.");
            foreach (var person in context.Users.AsNoTracking()) _ = person.UserName;
            foreach (var member in context.Memberships.AsNoTracking())
                if (!Enum.IsDefined(member.Role)) throw new NotABackupException("The file is damaged: a membership in it cannot be read.");
            _ = (context.Invitations.Count(), context.ApiTokens.Count(), context.EstimatePoints.Count(), context.PlaceSetUps.Count(), context.SignIns.Count(),
                context.ShareLinks.Count());
            var unreadable = new List<string>();
            var rows = new SetAsideStore(context, SystemClock.Instance);
            foreach (var rig in rows.AllRigs())
                unreadable.AddRange(rows.Of(rig).Where(r => r.Counts).Select(r => $"{r.Kind.ToString().ToLowerInvariant()} {r.Key} of rig {rig}: {r.Reason}"));
            // One at a time: together they may be larger than the memory. A damaged one is kept, taken off its entry.
            foreach (var id in context.Photos.OrderBy(p => p.Id).Select(p => p.Id).ToList())
            {
                var photo = context.Photos.AsNoTracking().First(p => p.Id == id);
                if (photo.ContentType is "image/jpeg" or "image/png" && PhotoFile.Check(photo.Bytes, out _) is not null) continue;
                unreadable.Add($"photo {photo.Id} of rig {photo.RigId}: not a picture");
                context.Photos.Where(p => p.Id == id).ExecuteUpdate(u => u.SetProperty(p => p.Removed, true));
            }
            return unreadable;
        }
        catch (Exception e) when (e is SqliteException or InvalidDataException or InvalidOperationException or InvalidCastException or FormatException
            or OverflowException)
        {
            throw new NotABackupException("The file is damaged: a row in it cannot be read.");
        }
    }

    // The first table or column of ours that is not there; null if all are.
    private static string? MissingFromSchema(TanksophosContext context)
    {
        var there = context.Database.SqlQueryRaw<string>("SELECT m.name || '.' || c.name AS Value FROM sqlite_master m JOIN pragma_table_info(m.name) c WHERE "
            + "m.type = 'table'")
            .ToHashSet(StringComparer.OrdinalIgnoreCase);
        foreach (var entity in context.Model.GetEntityTypes())
        {
            if (entity.GetTableName() is not { } table) continue;
            foreach (var property in entity.GetProperties())
                if (!there.Contains($"{table}.{property.GetColumnName()}"))
                    return there.Any(t => t.StartsWith(table + ".", StringComparison.OrdinalIgnoreCase))
                    ? $"column {property.GetColumnName()} in its table {table}" : $"table {table}";
        }
        return null;
    }

    private void Trim(string start, int kept)
    {
        foreach (var old in Directory.EnumerateFiles(folder.Backups, start + "*" + Ending).OrderByDescending(f => File.GetLastWriteTimeUtc(f))
            .ThenByDescending(f => f, StringComparer.Ordinal).Skip(kept).ToList()) File.Delete(old);
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
