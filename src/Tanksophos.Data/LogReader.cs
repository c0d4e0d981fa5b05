using System.Linq.Expressions;
using System.Text;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Log;

namespace Tanksophos.Data;

/// <summary>An entry as the logbook page shows it.</summary>
/// <param name="Key">Its id in this database.</param>
/// <param name="Entry">The entry as this revision has it.</param>
/// <param name="RecordedAt">When that revision was written down.</param>
/// <param name="Who">Who wrote it down.</param>
/// <param name="Withdrawn">Whether it was taken out of the log.</param>
/// <param name="Revision">1 if it was never changed.</param>
/// <param name="Batch">What was written down together with it in one go; null if it stands alone.</param>
public sealed record StoredEntry(string Key, LogEntry Entry, Instant RecordedAt, string Who, bool Withdrawn, int Revision, string? Batch = null);

/// <summary>One page of a log, newest first.</summary>
/// <param name="Entries">The entries.</param>
/// <param name="Total">How many there are on all pages.</param>
public sealed record EntryPage(IReadOnlyList<StoredEntry> Entries, int Total);

/// <summary>Entries that were brought in together.</summary>
/// <param name="Batch">What they are written down as in one go.</param>
/// <param name="Who">Who brought them in.</param>
/// <param name="At">When.</param>
/// <param name="Count">How many.</param>
/// <param name="Standing">How many of them are in the log now.</param>
public sealed record ImportedBatch(string Batch, string Who, Instant At, int Count, int Standing);

/// <summary>Which entries of a log are asked for; null does not narrow.</summary>
/// <param name="Tank">Id of the tank meant.</param>
/// <param name="Type">Kind of entry.</param>
/// <param name="Text">Text that stands in the note, the place or another field.</param>
public sealed record EntryFilter(string? Tank = null, string? Type = null, string? Text = null)
{
    /// <summary>All entries.</summary>
    public static EntryFilter None { get; } = new();
}

/// <summary>A revision of an entry that came or went since a state of the log.</summary>
/// <param name="Key">The entry's key.</param>
/// <param name="Sequence">Its place among entries of the same moment.</param>
/// <param name="Entry">The entry; null if it was taken out of the log, or cannot be read.</param>
/// <param name="SetAside">Whether it cannot be read.</param>
public sealed record LogChange(string Key, long Sequence, LogEntry? Entry, bool SetAside = false);

/// <summary>Reads rigs' logs: as a whole, in pages, what changed, and what an entry has said over time.</summary>
/// <param name="context">The database.</param>
public sealed class LogReader(TanksophosContext context)
{
    /// <summary>The state of a rig's log: grows with every change, so what was computed for a number stays right for it.</summary>
    public long Version(int rigId) =>
        context.Entries.AsNoTracking().Where(e => e.RigId == rigId).Max(e => (long?)e.Id) ?? 0;

    /// <summary>The rig's log without withdrawn entries, in the order of time; what cannot be read is left out.</summary>
    public IReadOnlyList<LogEntry> All(int rigId)
    {
        var rows = context.Entries.AsNoTracking()
            .Where(e => e.RigId == rigId && e.IsCurrent && !e.Withdrawn)
            .OrderBy(e => e.At).ThenBy(e => e.Sequence).Select(e => e.Json).ToList();
        return [.. rows.Select(ReadEntry).OfType<LogEntry>()];
    }

    /// <summary>What changed in a log since a version: each entry touched, as it is now.</summary>
    /// <param name="rigId">The rig.</param>
    /// <param name="since">The version then; 0 for all there is.</param>
    public IReadOnlyList<LogChange> Changes(int rigId, long since)
    {
        // Row by row: a log of ten years as texts would take more memory than the log itself.
        var rows = context.Entries.AsNoTracking().Where(e => e.RigId == rigId && e.IsCurrent && e.Id > since)
            .OrderBy(e => e.At).ThenBy(e => e.Sequence).Select(e => new { e.Key, e.Sequence, e.Withdrawn, e.Json }).AsEnumerable();
        return [.. rows.Select(r => (r, Entry: r.Withdrawn ? null : ReadEntry(r.Json)))
            .Select(x => new LogChange(x.r.Key, x.r.Sequence, x.Entry, x.Entry is null && !x.r.Withdrawn))];
    }

    /// <summary>
    /// The newest entries of a log in the order of time, each with the version at which it came to be as it is; withdrawn ones are not among them.
    /// </summary>
    /// <param name="rigId">The rig.</param>
    /// <param name="count">How many at most.</param>
    public IReadOnlyList<(LogChange Entry, long Version)> Recent(int rigId, int count)
    {
        var rows = context.Entries.AsNoTracking().Where(e => e.RigId == rigId && e.IsCurrent && !e.Withdrawn)
            .OrderByDescending(e => e.At).ThenByDescending(e => e.Sequence).Take(count).Select(e => new { e.Id, e.Key, e.Sequence, e.Json }).ToList();
        rows.Reverse();
        return [.. rows.Select(r => (Change: new LogChange(r.Key, r.Sequence, ReadEntry(r.Json)), r.Id)).Where(r => r.Change.Entry is not null)];
    }

    /// <summary>A page of the log, newest first; withdrawn entries are among them, marked.</summary>
    /// <param name="rigId">The rig.</param>
    /// <param name="skip">How many newer entries to leave out.</param>
    /// <param name="take">How many to return at most.</param>
    /// <param name="filter">Which entries; null for all.</param>
    /// <param name="total">How many there are, if it is known; null to count them.</param>
    public EntryPage Page(int rigId, int skip, int take, EntryFilter? filter = null, int? total = null)
    {
        var current = Matching(rigId, filter ?? EntryFilter.None);
        var all = total ?? current.Count();
        List<EntryRow> rows;
        if (skip > all / 2) // nearer to the other end: counted from there
        {
            rows = [.. current.OrderBy(e => e.At).ThenBy(e => e.Sequence).Skip(Math.Max(0, all - skip - take)).Take(Math.Max(0, Math.Min(take, all - skip)))];
            rows.Reverse();
        }
        else rows = [.. current.OrderByDescending(e => e.At).ThenByDescending(e => e.Sequence).Skip(skip).Take(take)];
        return new EntryPage([.. rows.Select(Stored).OfType<StoredEntry>()], all);
    }

    /// <summary>The numbers of the rows that a filter finds, newest first, withdrawn ones included.</summary>
    public IReadOnlyList<long> Find(int rigId, EntryFilter filter) => [.. Matching(rigId, filter).OrderByDescending(e => e.At).ThenByDescending(e => e.Sequence)
        .Select(e => e.Id)];

    /// <summary>A page of rows that were found before, in that order.</summary>
    /// <param name="rigId">The rig.</param>
    /// <param name="found">The numbers of all rows found.</param>
    /// <param name="skip">How many to leave out.</param>
    /// <param name="take">How many to return at most.</param>
    public EntryPage Page(int rigId, IReadOnlyList<long> found, int skip, int take)
    {
        ArgumentNullException.ThrowIfNull(found);
        var ids = found.Skip(skip).Take(take).ToList();
        var rows = context.Entries.AsNoTracking().Where(e => e.RigId == rigId && ids.Contains(e.Id)).ToDictionary(e => e.Id);
        return new EntryPage([.. ids.Select(id => rows.GetValueOrDefault(id)).OfType<EntryRow>().Select(Stored).OfType<StoredEntry>()], found.Count);
    }

    /// <summary>How many entries a filter finds, withdrawn ones included.</summary>
    public int Count(int rigId, EntryFilter filter) => Matching(rigId, filter).Count();

    /// <summary>How many entries lie later than a moment: as many are left out to start a page there.</summary>
    public int CountAfter(int rigId, Instant moment, EntryFilter? filter = null) => Matching(rigId, filter ?? EntryFilter.None).Count(e => e.At >= moment);

    /// <summary>An entry in its newest revision; null if there is none, or it cannot be read.</summary>
    public StoredEntry? Entry(int rigId, string key) =>
        context.Entries.AsNoTracking().FirstOrDefault(e => e.RigId == rigId && e.Key == key && e.IsCurrent) is { } row ? Stored(row) : null;

    /// <summary>All revisions of an entry that can be read, newest first; empty if there is none, or the newest cannot be read.</summary>
    public IReadOnlyList<StoredEntry> History(int rigId, string key)
    {
        var rows = context.Entries.AsNoTracking().Where(e => e.RigId == rigId && e.Key == key).OrderByDescending(e => e.Revision).ToList();
        return rows.Count > 0 && ReadEntry(rows[0].Json) is not null ? [.. rows.Select(Stored).OfType<StoredEntry>()] : [];
    }

    /// <summary>The newest entry of a kind that is in the log, or null.</summary>
    /// <param name="rigId">The rig.</param>
    /// <param name="type">The kind.</param>
    /// <param name="tank">The tank meant; null for any.</param>
    public StoredEntry? Last(int rigId, string type, string? tank = null) =>
        Matching(rigId, new EntryFilter(tank, type)).Where(e => !e.Withdrawn).OrderByDescending(e => e.At).ThenByDescending(e => e.Sequence)
            .FirstOrDefault() is { } row ? Stored(row) : null;

    /// <summary>What was brought in, the newest first.</summary>
    /// <param name="rigId">The rig.</param>
    /// <param name="most">How many at most.</param>
    public IReadOnlyList<ImportedBatch> Imports(int rigId, int most)
    {
        var first = context.Entries.AsNoTracking().Where(e => e.RigId == rigId && e.Revision == 1 && e.Batch != null
            && e.Batch.StartsWith(LogWriter.ImportBatch))
            .GroupBy(e => e.Batch!).Select(g => new { Batch = g.Key, Who = g.Min(e => e.Who), At = g.Min(e => e.RecordedAt), Count = g.Count() })
            .OrderByDescending(g => g.At).Take(most).ToList();
        var batches = first.Select(f => f.Batch).ToList();
        var standing = context.Entries.AsNoTracking().Where(e => e.RigId == rigId && e.IsCurrent && !e.Withdrawn && e.Batch != null
            && batches.Contains(e.Batch))
            .GroupBy(e => e.Batch!).Select(g => new { g.Key, Count = g.Count() }).ToDictionary(g => g.Key, g => g.Count);
        return [.. first.Select(f => new ImportedBatch(f.Batch, f.Who ?? "", f.At, f.Count, standing.GetValueOrDefault(f.Batch)))];
    }

    private IQueryable<EntryRow> Matching(int rigId, EntryFilter filter)
    {
        var rows = context.Entries.AsNoTracking().Where(e => e.RigId == rigId && e.IsCurrent);
        if (filter.Tank is { } tank) rows = rows.Where(e => e.Tank == tank);
        if (filter.Type is { } type) rows = rows.Where(e => e.Type == type);
        if (!string.IsNullOrWhiteSpace(filter.Text))
            foreach (var word in filter.Text.Split(' ', StringSplitOptions.RemoveEmptyEntries).Take(8)) rows = rows.Where(Says(word));
        return rows;
    }

    // The entry's own JSON is searched, without its id and its time: notes, places, amounts and the words of codes ("slow", "travel-scrub").
    private static Expression<Func<EntryRow, bool>> Says(string word)
    {
        var pattern = "%" + word.Replace("\\", "\\\\", StringComparison.Ordinal).Replace("%", "\\%", StringComparison.Ordinal)
            .Replace("_", "\\_", StringComparison.Ordinal) + "%";
        return e => EF.Functions.Like(e.Json.Substring(e.Json.IndexOf("\"type\":")), pattern, "\\");
    }

    private static StoredEntry? Stored(EntryRow r) => ReadEntry(r.Json) is { } entry
        ? new(r.Key, entry, r.RecordedAt, r.Who, r.Withdrawn, r.Revision, r.Batch) : null;

    // Read without the rig: what was recorded stays readable when a tank or probe is changed later.
    internal static LogEntry? ReadEntry(string json) => EntryCodec.Read(Encoding.UTF8.GetBytes(json), null).Value;
}
