using System.Globalization;
using System.Security.Cryptography;
using Tanksophos.Data;

namespace Tanksophos.Web.Rigs;

/// <summary>Keeps an uploaded file between its preview and the person's yes, in the data folder, for a day at most.</summary>
public sealed class Uploads(DataFolder folder)
{
    /// <summary>Largest file in bytes; some 500,000 entries.</summary>
    public const long MaxBytes = 128L << 20;

    /// <summary>Largest request in bytes where no file of ours is sent: a photo and what is around it.</summary>
    public const long UsualBytes = 8L << 20;

    /// <summary>Largest backup that is taken by the page, in bytes.</summary>
    public const long MaxBackupBytes = 512L << 20;

    /// <summary>What a form adds around a file at most.</summary>
    internal const long FormBytes = 1L << 20;

    /// <summary>Up to here an upload that is too large is read to its end before it is refused.</summary>
    internal const long MaxBytesToDiscard = 1L << 30;

    private static readonly TimeSpan Kept = TimeSpan.FromDays(1);

    /// <summary>The limit in words.</summary>
    public static string Limit => string.Create(CultureInfo.InvariantCulture, $"{MaxBytes >> 20} MB");

    /// <summary>Most files of one person that wait; a further one takes the place of the oldest.</summary>
    public const int MaxPerPerson = 3;

    /// <summary>The limit of a backup in words.</summary>
    public static string BackupLimit => string.Create(CultureInfo.InvariantCulture, $"{MaxBackupBytes >> 20} MB");

    /// <summary>Keeps a file.</summary>
    /// <param name="content">The file.</param>
    /// <param name="person">Whose it is.</param>
    /// <returns>The token by which it is found again.</returns>
    public string Keep(byte[] content, int person)
    {
        ArgumentNullException.ThrowIfNull(content);
        var mine = Of(person);
        var waiting = new DirectoryInfo(folder.Staging).EnumerateFiles("*" + Ending).OrderByDescending(f => f.LastWriteTimeUtc).ToList();
        foreach (var old in waiting.Where(f => DateTime.UtcNow - f.LastWriteTimeUtc > Kept)
            .Union(waiting.Where(f => f.Name.StartsWith(mine, StringComparison.Ordinal)).Skip(MaxPerPerson - 1))) old.Delete();
        var token = Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(16));
        using var to = DataFolder.CreateFile(PathOf(token, person));
        to.Write(content);
        return token;
    }

    /// <summary>The kept file of a person; null if it is gone or the token is not one of theirs.</summary>
    public byte[]? Find(string? token, int person)
    {
        if (token is not { Length: 32 } || !token.All(char.IsAsciiHexDigitLower)) return null;
        var path = PathOf(token, person);
        return File.Exists(path) ? File.ReadAllBytes(path) : null;
    }

    /// <summary>Forgets a file.</summary>
    public void Forget(string token, int person)
    {
        if (Find(token, person) is not null) File.Delete(PathOf(token, person));
    }

    private const string Ending = ".upload";

    private static string Of(int person) => person.ToString(CultureInfo.InvariantCulture) + "-";

    private string PathOf(string token, int person) => Path.Combine(folder.Staging, Of(person) + token + Ending);
}
