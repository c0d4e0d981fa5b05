using System.Security.Cryptography;
using System.Text;
using Tanksophos.Core.Log;

namespace Tanksophos.Data;

/// <summary>Gives every entry the id under which it is kept.</summary>
internal static class EntryKeys
{
    /// <summary>How the key of an entry without an id begins.</summary>
    public const string ByContent = "content-";

    // From so many entries on, all cores write and hash.
    private const int ManyEntries = 2000;

    /// <exception cref="NotStorableException">An entry could not be read again.</exception>
    /// <summary>An entry without an id is known by its content; of several alike in one file the second is another entry, not the same again.</summary>
    public static IReadOnlyList<PlannedEntry> Plan(IReadOnlyList<LogEntry> entries)
    {
        var planned = new PlannedEntry[entries.Count];
        if (entries.Count < ManyEntries) for (var i = 0; i < planned.Length; i++) planned[i] = Plan(entries[i]);
        else
        {
            try
            {
                Parallel.For(0, planned.Length, i => planned[i] = Plan(entries[i]));
            }
            catch (AggregateException e) when (e.InnerExceptions.OfType<NotStorableException>().FirstOrDefault() is { } refused)
            {
                throw new NotStorableException(refused.Problems, e);
            }
        }
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
        var utf8 = Gate.Entry(entry);
        return new PlannedEntry(entry.Id ?? ByContent + Convert.ToHexStringLower(SHA256.HashData(utf8).AsSpan(0, 10)), entry, utf8);
    }

    public static string Json(LogEntry entry) => Encoding.UTF8.GetString(Gate.Entry(entry));
}
