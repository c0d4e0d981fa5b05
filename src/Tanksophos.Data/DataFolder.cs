using Microsoft.EntityFrameworkCore;

namespace Tanksophos.Data;

/// <summary>The folder in which one household's data lives.</summary>
public sealed class DataFolder
{
    /// <summary>Opens the folder, creating it if it is missing.</summary>
    /// <exception cref="IOException">The folder cannot be created or written.</exception>
    public DataFolder(string path)
    {
        Root = Path.GetFullPath(path);
        Directory.CreateDirectory(Root);
        Directory.CreateDirectory(Staging);
    }

    /// <summary>The folder's full path.</summary>
    public string Root { get; }

    /// <summary>The database file.</summary>
    public string Database => Path.Combine(Root, "tanksophos.db");

    /// <summary>Uploads that wait for a person's yes.</summary>
    public string Staging => Path.Combine(Root, "staging");

    /// <summary>A context on the database.</summary>
    public TanksophosContext Open() => new(TanksophosContext.OptionsFor(Database));

    /// <summary>Brings the database up to this version of the program. Migrations never lose data.</summary>
    public void Migrate()
    {
        using var context = Open();
        context.Database.Migrate();
    }
}
