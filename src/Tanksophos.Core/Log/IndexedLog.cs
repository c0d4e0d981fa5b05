using System.Collections.Concurrent;
using System.Collections.ObjectModel;
using NodaTime;

namespace Tanksophos.Core.Log;

/// <summary>
/// A log in the order of time that knows its entries by kind and by tank, so that what is asked of ten years is answered from the few entries that bear on
/// it. Each state of the log is one of these and never changes; the next state takes over what an entry did not touch.
/// </summary>
public sealed class IndexedLog : ReadOnlyCollection<LogEntry>
{
    private readonly LogEntry[] entries;
    private readonly ConcurrentDictionary<Type, Array> kinds;
    private readonly ConcurrentDictionary<string, LogEntry[]> deeds;
    private readonly ConcurrentDictionary<object, object?> memo = new();
    private readonly ConcurrentDictionary<object, object?> prefixMemo;
    private readonly ConcurrentDictionary<object, Folded> folds = new();

    /// <summary>Indexes a log.</summary>
    /// <param name="entries">The entries in the order of time; the array is not changed afterwards.</param>
    public IndexedLog(LogEntry[] entries) : this(entries, new(), new(StringComparer.Ordinal), new())
    {
    }

    private IndexedLog(LogEntry[] entries,
        ConcurrentDictionary<Type, Array> kinds, ConcurrentDictionary<string, LogEntry[]> deeds, ConcurrentDictionary<object, object?> prefixMemo)
        : base(entries) =>
        (this.entries, this.kinds, this.deeds, this.prefixMemo) = (entries, kinds, deeds, prefixMemo);

    /// <summary>No entries.</summary>
    public static new IndexedLog Empty { get; } = new([]);

    /// <summary>The state after entries came at the end: what is known of the kinds is gone on with.</summary>
    /// <param name="added">Entries in the order of time, none earlier than the last one here.</param>
    public IndexedLog Append(IReadOnlyList<LogEntry> added)
    {
        ArgumentNullException.ThrowIfNull(added);
        if (added.Count == 0) return this;
        // Nothing is known of an empty log, and the empty one is shared.
        var next = new IndexedLog([.. entries, .. added], new(), new(StringComparer.Ordinal), entries.Length == 0 ? new() : prefixMemo);
        foreach (var (kind, known) in kinds)
        {
            var more = added.Where(kind.IsInstanceOfType).ToArray();
            if (more.Length == 0)
            {
                next.kinds[kind] = known;
                continue;
            }
            var grown = Array.CreateInstance(kind, known.Length + more.Length);
            known.CopyTo(grown, 0);
            for (var i = 0; i < more.Length; i++) grown.SetValue(more[i], known.Length + i);
            next.kinds[kind] = grown;
        }
        foreach (var (tank, known) in deeds)
        {
            var more = added.Where(e => IsDeed(e, tank)).ToArray();
            next.deeds[tank] = more.Length == 0 ? known : [.. known, .. more];
        }
        foreach (var (key, known) in folds) next.folds[key] = known.Over(added);
        return next;
    }

    /// <summary>The entries of a kind, in the order of time.</summary>
    /// <typeparam name="T">The kind: one of the entry types.</typeparam>
    public IReadOnlyList<T> Kind<T>() where T : LogEntry => (T[])kinds.GetOrAdd(typeof(T), static (_, all) => all.OfType<T>().ToArray(), entries);

    /// <summary>What was done with a tank: its entries other than readings, in the order of time.</summary>
    public IReadOnlyList<LogEntry> Deeds(string tank) => deeds.GetOrAdd(tank, static (t, all) => [.. all.Where(e => IsDeed(e, t))], entries);

    /// <summary>What follows from this state of the log; computed once for it.</summary>
    /// <param name="key">What is asked, with all it depends on beside the log.</param>
    /// <param name="compute">Computes it.</param>
    public T Memo<T>(object key, Func<T> compute) => (T)memo.GetOrAdd(key, static (_, make) => make(), compute)!;

    /// <summary>What follows from the entries up to some moment alone; computed once, and kept while entries come at the end only.</summary>
    /// <param name="key">What is asked, with the moment and all else it depends on.</param>
    /// <param name="compute">Computes it.</param>
    public T PrefixMemo<T>(object key, Func<T> compute) => (T)prefixMemo.GetOrAdd(key, static (_, make) => make(), compute)!;

    /// <summary>What comes of taking one entry after the other; gone on with, not begun anew, when entries come at the end.</summary>
    /// <param name="key">What is asked, with all it depends on beside the log.</param>
    /// <param name="seed">What it is before the first entry.</param>
    /// <param name="step">What it is after an entry; it leaves what was before as it is.</param>
    public T Fold<T>(object key, T seed, Func<T, LogEntry, T> step) =>
        ((Folded<T>)folds.GetOrAdd(key, static (_, a) => new Folded<T>(a.seed, a.step).Over(a.entries), (seed, step, entries))).Value;

    private abstract class Folded
    {
        public abstract Folded Over(IReadOnlyList<LogEntry> entries);
    }

    private sealed class Folded<T>(T value, Func<T, LogEntry, T> step) : Folded
    {
        public T Value => value;

        public override Folded Over(IReadOnlyList<LogEntry> entries)
        {
            var now = value;
            foreach (var entry in entries) now = step(now, entry);
            return new Folded<T>(now, step);
        }
    }

    private static bool IsDeed(LogEntry entry, string tank) => entry.Tank == tank && entry is not ReadingEntry;
}

/// <summary>Asking a log for what bears on a question: quick on an <see cref="IndexedLog"/>, and the same on any list in the order of time.</summary>
public static class LogQueries
{
    /// <summary>The entries of a kind, in the order of time.</summary>
    public static IReadOnlyList<T> Kind<T>(this IReadOnlyList<LogEntry> entries) where T : LogEntry
    {
        ArgumentNullException.ThrowIfNull(entries);
        return entries is IndexedLog log ? log.Kind<T>() : [.. entries.OfType<T>()];
    }

    /// <summary>The entries of a kind, the latest first.</summary>
    public static IEnumerable<T> Latest<T>(this IReadOnlyList<LogEntry> entries) where T : LogEntry
    {
        var all = entries.Kind<T>();
        for (var i = all.Count - 1; i >= 0; i--) yield return all[i];
    }

    /// <summary>What was done with a tank: its entries other than readings.</summary>
    public static IReadOnlyList<LogEntry> Deeds(this IReadOnlyList<LogEntry> entries, string tank)
    {
        ArgumentNullException.ThrowIfNull(entries);
        return entries is IndexedLog log ? log.Deeds(tank) : [.. entries.Where(e => e.Tank == tank && e is not ReadingEntry)];
    }

    /// <summary>What follows from the log as it is, computed once for this state of it where that can be remembered.</summary>
    public static T Memo<T>(this IReadOnlyList<LogEntry> entries, object key, Func<T> compute)
    {
        ArgumentNullException.ThrowIfNull(compute);
        return entries is IndexedLog log ? log.Memo(key, compute) : compute();
    }

    /// <summary>What comes of taking one entry after the other, remembered where that can be.</summary>
    /// <param name="entries">Entries in the order of time.</param>
    /// <param name="key">What is asked, with all it depends on beside the log.</param>
    /// <param name="seed">What it is before the first entry.</param>
    /// <param name="step">What it is after an entry; it leaves what was before as it is.</param>
    public static T Fold<T>(this IReadOnlyList<LogEntry> entries, object key, T seed, Func<T, LogEntry, T> step)
    {
        ArgumentNullException.ThrowIfNull(entries);
        return entries is IndexedLog log ? log.Fold(key, seed, step) : entries.Aggregate(seed, step);
    }

    /// <summary>The number of the first entry at or after a moment; the count if there is none.</summary>
    /// <param name="entries">Entries in the order of time.</param>
    /// <param name="moment">The moment.</param>
    public static int FirstAt(this IReadOnlyList<LogEntry> entries, Instant moment)
    {
        ArgumentNullException.ThrowIfNull(entries);
        int low = 0, high = entries.Count;
        while (low < high)
        {
            var middle = (low + high) / 2;
            if (entries[middle].Instant < moment) low = middle + 1;
            else high = middle;
        }
        return low;
    }

    /// <summary>The entries of a stretch of time, both ends included.</summary>
    public static IEnumerable<LogEntry> Between(this IReadOnlyList<LogEntry> entries, Instant from, Instant to)
    {
        ArgumentNullException.ThrowIfNull(entries);
        for (var i = entries.FirstAt(from); i < entries.Count && entries[i].Instant <= to; i++) yield return entries[i];
    }
}
