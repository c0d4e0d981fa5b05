using System.Reflection;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Migrations;

namespace Tanksophos.Data;

/// <summary>The folder in which one household's data lives.</summary>
public sealed class DataFolder
{
    /// <summary>Opens the folder, creating it if it is missing.</summary>
    /// <exception cref="IOException">The folder cannot be created or written.</exception>
    public DataFolder(string path)
    {
        Root = Path.GetFullPath(path);
        Database = Path.Combine(Root, "tanksophos.db");
        // Keys, passphrases' hashes and backups lie in it: a new folder is for its owner alone.
        if (!Directory.Exists(Root) && !OperatingSystem.IsWindows()) Directory.CreateDirectory(Root, UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute);
        Directory.CreateDirectory(Root);
        Directory.CreateDirectory(Staging);
        Directory.CreateDirectory(Backups);
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

    /// <summary>All migrations this version of the program knows, oldest first.</summary>
    internal static IReadOnlyList<string> Migrations { get; } =
        [.. typeof(TanksophosContext).Assembly.GetTypes().Select(t => t.GetCustomAttribute<MigrationAttribute>()?.Id).OfType<string>().Order(StringComparer.Ordinal)];

    /// <summary>A context on the database.</summary>
    public TanksophosContext Open() => new(TanksophosContext.OptionsFor(Database));

    /// <summary>Claims the folder for one running program, until the returned file is closed or the process ends.</summary>
    /// <returns>Null if another program holds it.</returns>
    public FileStream? Hold()
    {
        try
        {
            return new FileStream(Path.Combine(Root, "in-use"), FileMode.OpenOrCreate, FileAccess.ReadWrite, FileShare.None);
        }
        catch (IOException)
        {
            return null;
        }
    }

    /// <summary>Brings the database up to this version of the program. Migrations never lose data.</summary>
    public void Migrate()
    {
        using var context = Open();
        if (!UpToDate()) context.Database.Migrate();
    }

    // Working out what is to be migrated takes longer than all the rest of a start; the last line of the history tells as much.
    private bool UpToDate()
    {
        if (!File.Exists(Database)) return false;
        using var connection = new SqliteConnection($"Data Source={Database};Default Timeout=30");
        connection.Open();
        using var command = connection.CreateCommand();
        command.CommandText = "SELECT count(*) FROM sqlite_master WHERE name = '__EFMigrationsHistory'";
        if ((long)command.ExecuteScalar()! == 0) return false;
        command.CommandText = "SELECT max(MigrationId) FROM __EFMigrationsHistory";
        return command.ExecuteScalar() as string == Migrations[^1];
    }
}
