using System.Security.Cryptography;
using System.Text;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Log;

namespace Tanksophos.Data;

/// <summary>Gives every entry the id under which it is kept.</summary>
internal static class EntryKeys
{
    // From so many entries on, all cores write and hash.
    private const int ManyEntries = 2000;

    /// <summary>An entry without an id is known by its content; of several alike in one file the second is another entry, not the same again.</summary>
    public static IReadOnlyList<PlannedEntry> Of(IReadOnlyList<LogEntry> entries)
    {
        var planned = new PlannedEntry[entries.Count];
        if (entries.Count < ManyEntries) for (var i = 0; i < planned.Length; i++) planned[i] = Plan(entries[i]);
        else Parallel.For(0, planned.Length, i => planned[i] = Plan(entries[i]));
        var seen = new Dictionary<string, int>(StringComparer.Ordinal);
        for (var i = 0; i < planned.Length; i++)
        {
            if (planned[i].Entry.Id is not null) continue;
            ref var n = ref System.Runtime.InteropServices.CollectionsMarshal.GetValueRefOrAddDefault(seen, planned[i].Key, out _);
            if (++n > 1) planned[i] = planned[i] with { Key = $"{planned[i].Key}-{n}" };
        }
        return planned;
    }

    private static PlannedEntry Plan(LogEntry entry)
    {
        var utf8 = EntryCodec.Write(entry);
        return new PlannedEntry(entry.Id ?? "content-" + Convert.ToHexStringLower(SHA256.HashData(utf8).AsSpan(0, 10)), entry, utf8);
    }

    public static string Json(LogEntry entry) => Encoding.UTF8.GetString(EntryCodec.Write(entry));
}
