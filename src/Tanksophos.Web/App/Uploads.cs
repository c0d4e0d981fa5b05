using System.Globalization;
using System.Security.Cryptography;
using Tanksophos.Data;

namespace Tanksophos.Web.App;

/// <summary>Keeps an uploaded file between its preview and the person's yes, in the data folder, for a day at most.</summary>
public sealed class Uploads(DataFolder folder)
{
    /// <summary>Largest file in bytes; some 100,000 entries.</summary>
    public const long MostBytes = 32L << 20;

    /// <summary>Largest backup that is taken by the page, in bytes.</summary>
    public const long MostBackupBytes = 512L << 20;

    /// <summary>What a form adds around a file at most.</summary>
    internal const long FormBytes = 1L << 20;

    /// <summary>Up to here an upload that is too large is read to its end before it is refused.</summary>
    internal const long MostBytesToDiscard = 1L << 30;

    private static readonly TimeSpan Kept = TimeSpan.FromDays(1);

    /// <summary>The limit in words.</summary>
    public static string Limit => string.Create(CultureInfo.InvariantCulture, $"{MostBytes >> 20} MB");

    /// <summary>Keeps a file.</summary>
    /// <returns>The word by which it is found again.</returns>
    public string Keep(byte[] content)
    {
        foreach (var old in Directory.EnumerateFiles(folder.Staging).Where(f => DateTime.UtcNow - File.GetLastWriteTimeUtc(f) > Kept)) File.Delete(old);
        var token = Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(16));
        File.WriteAllBytes(PathOf(token), content);
        return token;
    }

    /// <summary>The kept file; null if it is gone or the word is not one of ours.</summary>
    public byte[]? Find(string? token)
    {
        if (token is not { Length: 32 } || !token.All(char.IsAsciiHexDigitLower)) return null;
        var path = PathOf(token);
        return File.Exists(path) ? File.ReadAllBytes(path) : null;
    }

    /// <summary>Forgets a file.</summary>
    public void Forget(string token)
    {
        if (Find(token) is not null) File.Delete(PathOf(token));
    }

    private string PathOf(string token) => Path.Combine(folder.Staging, token + ".upload");
}
