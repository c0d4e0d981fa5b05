using System.Security.Cryptography;
using System.Text;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Log;

namespace Tanksophos.Data;

/// <summary>Gives every entry the id under which it is kept.</summary>
internal static class EntryKeys
{
    /// <summary>An entry without an id is known by its content; of several alike in one file the second is another entry, not the same again.</summary>
    public static IEnumerable<PlannedEntry> Of(IReadOnlyList<LogEntry> entries)
    {
        var seen = new Dictionary<string, int>(StringComparer.Ordinal);
        foreach (var entry in entries)
        {
            var utf8 = EntryCodec.Write(entry);
            var json = Encoding.UTF8.GetString(utf8);
            if (entry.Id is { } id)
            {
                yield return new PlannedEntry(id, entry, json);
                continue;
            }
            var hash = "content-" + Convert.ToHexStringLower(SHA256.HashData(utf8).AsSpan(0, 10));
            var n = seen[hash] = seen.GetValueOrDefault(hash) + 1;
            yield return new PlannedEntry(n == 1 ? hash : $"{hash}-{n}", entry, json);
        }
    }

    public static string Json(LogEntry entry) => Encoding.UTF8.GetString(EntryCodec.Write(entry));
}
