using System.Reflection;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Migrations;
using NodaTime;

namespace Tanksophos.Data;

/// <summary>Thrown when the database in a folder cannot be used; the message says what is wrong and what to do.</summary>
public sealed class UnusableDatabaseException(string message, Exception? inner = null) : Exception(message, inner);

/// <summary>The folder in which one household's data lives.</summary>
public sealed class DataFolder
{
    private const UnixFileMode OwnerFile = UnixFileMode.UserRead | UnixFileMode.UserWrite;
    private const UnixFileMode OwnerFolder = OwnerFile | UnixFileMode.UserExecute;
    private const UnixFileMode Others =
        UnixFileMode.GroupRead | UnixFileMode.GroupWrite | UnixFileMode.GroupExecute | UnixFileMode.OtherRead | UnixFileMode.OtherWrite
            | UnixFileMode.OtherExecute;

    // What SQLite answers for a file that is none of its own, or is damaged.
    private const int Corrupt = 11, NotADatabase = 26;

    /// <summary>Opens the folder, creating it if it is missing.</summary>
    /// <exception cref="IOException">The folder cannot be created or written.</exception>
    public DataFolder(string path)
    {
        Root = Path.GetFullPath(path);
        Database = Path.Combine(Root, "tanksophos.db");
        // Keys, passphrases' hashes and backups lie in it: a new folder is for its owner alone.
        foreach (var folder in (string[])[Root, Staging, Backups]) MakeFolder(folder);
    }

    /// <summary>The folder with another file as its database: a backup that is being looked at.</summary>
    internal DataFolder(string path, string database) : this(path) => Database = database;

    /// <summary>The folder's full path.</summary>
    public string Root { get; }

    /// <summary>The database file.</summary>
    public string Database { get; }

    /// <summary>Uploads that wait for a person's yes.</summary>
    public string Staging => Path.Combine(Root, "staging");

    /// <summary>Daily backups, and what was kept aside before something was replaced.</summary>
    public string Backups => Path.Combine(Root, "backups");

    /// <summary>Whether other users of this computer can look into the folder.</summary>
    public bool IsOpenToOthers => !OperatingSystem.IsWindows() && (File.GetUnixFileMode(Root) & Others) != 0;

    /// <summary>All migrations this version of the program knows, oldest first.</summary>
    public static IReadOnlyList<string> Migrations { get; } =
        [.. typeof(TanksophosContext).Assembly.GetTypes().Select(t => t.GetCustomAttribute<MigrationAttribute>()?.Id).OfType<string>()
            .Order(StringComparer.Ordinal)];

    /// <summary>A context on the database.</summary>
    public TanksophosContext Open() => new(TanksophosContext.OptionsFor(Database));

    /// <summary>Lets go of connections to the database that wait to be used again: they remember what they have read.</summary>
    public void ForgetConnections()
    {
        using var context = Open();
        SqliteConnection.ClearPool((SqliteConnection)context.Database.GetDbConnection());
    }

    /// <summary>Claims the folder for one running program, until the returned file is closed or the process ends.</summary>
    /// <returns>Null if another program holds it.</returns>
    public FileStream? Hold()
    {
        try
        {
            return CreateFile(Path.Combine(Root, "in-use"), FileMode.OpenOrCreate);
        }
        catch (IOException)
        {
            return null;
        }
    }

    /// <summary>Makes a file that only its owner can read, and opens it for writing.</summary>
    /// <exception cref="IOException">It cannot be made.</exception>
    public static FileStream CreateFile(string path, FileMode mode = FileMode.Create)
    {
        var options = new FileStreamOptions { Mode = mode, Access = FileAccess.ReadWrite, Share = FileShare.None };
        if (!OperatingSystem.IsWindows()) options.UnixCreateMode = OwnerFile;
        return new FileStream(path, options);
    }

    /// <summary>
    /// For who holds the folder: closes what earlier versions left readable for others (database, its log, backups, keys), and clears away what an
    /// interrupted upload, backup or restore left behind.
    /// </summary>
    /// <exception cref="IOException">The folder cannot be written.</exception>
    public void Tidy()
    {
        foreach (var left in Directory.EnumerateFiles(Staging).Concat(Directory.EnumerateFiles(Backups, "*.part*")).ToList()) File.Delete(left);
        if (OperatingSystem.IsWindows()) return;
        foreach (var folder in (string[])[Staging, Backups, Path.Combine(Root, "keys")])
            if (Directory.Exists(folder) && (File.GetUnixFileMode(folder) & Others) != 0) File.SetUnixFileMode(folder, OwnerFolder);
        foreach (var file in Directory.EnumerateFiles(Root, "*", SearchOption.AllDirectories))
            if ((File.GetUnixFileMode(file) & Others) != 0) File.SetUnixFileMode(file, OwnerFile);
    }

    /// <summary>Brings the database up to this version of the program. Migrations never lose data.</summary>
    /// <param name="keepAside">The time, to keep a copy of a database of an earlier version before it is changed; null to keep none.</param>
    /// <exception cref="UnusableDatabaseException">It is damaged, or was written by a later version; nothing was changed.</exception>
    public void Migrate(Instant? keepAside = null)
    {
        try
        {
            if (!File.Exists(Database)) CreateFile(Database).Dispose(); // its log and index get the same rights
            var history = History();
            if (history.Count > 0 && history[^1] == Migrations[^1]) return;
            if (history.Count > 0 && keepAside is { } now) new SafeKeeping(this).KeepAside("upgrade", now);
            using var context = Open();
            context.Database.Migrate();
        }
        catch (SqliteException e) when (e.SqliteErrorCode is Corrupt or NotADatabase)
        {
            throw new UnusableDatabaseException($"The database '{Database}' is damaged and was left as it is: {e.Message} {WayBack()}", e);
        }
    }

    /// <summary>Where the backups are, and the command that brings one back.</summary>
    public string WayBack()
    {
        var newest = new DirectoryInfo(Backups).EnumerateFiles("*.db").OrderByDescending(f => f.LastWriteTimeUtc).FirstOrDefault();
        var file = newest is null ? "FILE" : $"\"{newest.FullName}\"";
        return $"Backups are in '{Backups}'{(newest is null ? ", which has none yet" : $"; the newest is {newest.Name}")}. To restore one: tanksophos-web "
            + $"restore {file} --data \"{Root}\"";
    }

    // The migrations the database has been through. Working out what is to be migrated takes longer than all the rest of a start; this tells as much.
    private List<string> History()
    {
        using var connection = new SqliteConnection(new SqliteConnectionStringBuilder { DataSource = Database, Pooling = false, DefaultTimeout = 30 }
            .ToString());
        connection.Open();
        using var command = connection.CreateCommand();
        command.CommandText = "SELECT count(*) FROM sqlite_master WHERE name = '__EFMigrationsHistory'";
        if ((long)command.ExecuteScalar()! == 0)
        {
            command.CommandText = "SELECT count(*) FROM sqlite_master";
            if ((long)command.ExecuteScalar()! > 0)
                throw new UnusableDatabaseException($"'{Database}' is a database of another program, and was left as it is. {WayBack()}");
            return [];
        }
        command.CommandText = "SELECT MigrationId FROM __EFMigrationsHistory ORDER BY MigrationId";
        var history = new List<string>();
        using var reader = command.ExecuteReader();
        while (reader.Read()) history.Add(reader.GetString(0));
        if (history.Except(Migrations).FirstOrDefault() is { } unknown)
            throw new UnusableDatabaseException($"The database '{Database}' was written by a later version of Tanksophos ({unknown}), and was left as it is. "
                + $"Update the program, or go back to a backup made by this version. {WayBack()}");
        return history;
    }

    private static void MakeFolder(string path)
    {
        if (Directory.Exists(path)) return;
        if (OperatingSystem.IsWindows()) Directory.CreateDirectory(path);
        else Directory.CreateDirectory(path, OwnerFolder);
    }
}
