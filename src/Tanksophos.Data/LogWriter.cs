using System.Text;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Log;

namespace Tanksophos.Data;

/// <summary>An entry on its way into the log.</summary>
/// <param name="Key">The id under which it is kept.</param>
/// <param name="Entry">The entry.</param>
/// <param name="Utf8">The entry as it is stored: JSON in UTF-8.</param>
public sealed record PlannedEntry(string Key, LogEntry Entry, ReadOnlyMemory<byte> Utf8);

/// <summary>What bringing in entries would do, or did.</summary>
/// <param name="New">Entries that are not in the log yet, in the order of the file.</param>
/// <param name="AlreadyThere">Entries that stand in the log with the same content, or did before they were corrected or taken back.</param>
/// <param name="Conflicts">Entries whose id stands in the log with other content, by their path.</param>
public sealed record ImportPlan(IReadOnlyList<PlannedEntry> New, int AlreadyThere, IReadOnlyList<Problem> Conflicts);

/// <summary>Lets somebody watch a long writing and stop it; what was written until then is taken back.</summary>
/// <param name="Stop">Stops it.</param>
public sealed record WritingWatch(CancellationToken Stop)
{
    private int written;

    /// <summary>How many entries are written by now.</summary>
    public int Written => Volatile.Read(ref written);

    internal void Saw(int count)
    {
        Stop.ThrowIfCancellationRequested();
        Volatile.Write(ref written, count);
    }
}

/// <summary>How a correction went.</summary>
public enum Correction
{
    /// <summary>It is written.</summary>
    Done,

    /// <summary>There is no such entry.</summary>
    Missing,

    /// <summary>Somebody else changed the entry since it was seen; nothing was written.</summary>
    ChangedMeanwhile,
}

/// <summary>Thrown when an entry's id is already in the log with other content. Nothing was written.</summary>
public sealed class EntryConflictException(IReadOnlyList<Problem> conflicts) : Exception(string.Join("; ", conflicts))
{
    /// <summary>The entries that clash.</summary>
    public IReadOnlyList<Problem> Conflicts { get; } = conflicts;
}

/// <summary>Writes into rigs' logs. Rows are only ever added: a correction and a withdrawal are new revisions.</summary>
/// <param name="context">The database.</param>
/// <param name="clock">Says when something is written down.</param>
public sealed class LogWriter(TanksophosContext context, IClock clock)
{
    // Up to this many entries are looked up one by one; beyond, reading the whole log is quicker.
    private const int FewEntries = 300;

    private const int ImportCacheKb = 128 * 1024;

    /// <summary>What recording these entries would do. Nothing is written.</summary>
    /// <param name="rigId">The rig.</param>
    /// <param name="entries">The entries in the order of the file.</param>
    /// <param name="paths">Where each stands in the file; null to name them by id.</param>
    public ImportPlan Plan(int rigId, IReadOnlyList<LogEntry> entries, IReadOnlyList<string>? paths = null)
    {
        var keyed = EntryKeys.Plan(entries);
        var known = Known(rigId, keyed);
        var fresh = new List<PlannedEntry>();
        var conflicts = new List<Problem>();
        for (var i = 0; i < keyed.Count; i++)
        {
            var key = keyed[i].Key;
            if (!known.Contains(key)) fresh.Add(keyed[i]);
            else if (!known[key].Contains(Encoding.UTF8.GetString(keyed[i].Utf8.Span)))
                conflicts.Add(new Problem(paths is null ? key : paths[i] + ".id",
                    $"the log already has an entry '{key}' with other content: withdraw that one, or give this one another id"));
        }
        return new ImportPlan(fresh, keyed.Count - fresh.Count - conflicts.Count, conflicts);
    }

    /// <summary>Records entries in one go. Those already there with the same content are skipped, so doing it twice does it once.</summary>
    /// <exception cref="EntryConflictException">An id is taken by an entry with other content; nothing was written.</exception>
    /// <exception cref="OperationCanceledException">It was stopped; nothing was written.</exception>
    public ImportPlan Record(int rigId, IReadOnlyList<LogEntry> entries, string who, string? batch = null, WritingWatch? watch = null)
    {
        using var transaction = context.Database.BeginTransaction(); // begins immediate: one writer
        var plan = Plan(rigId, entries);
        if (plan.Conflicts.Count > 0) throw new EntryConflictException(plan.Conflicts);
        Insert(rigId, plan.New, who, batch, watch);
        transaction.Commit();
        return plan;
    }

    /// <summary>Corrects an entry: a new revision with the same id and the same place among entries of its moment.</summary>
    /// <param name="rigId">The rig.</param>
    /// <param name="key">The entry.</param>
    /// <param name="seen">The revision that the correction was made on.</param>
    /// <param name="corrected">What it should say; its id is kept whatever this one carries.</param>
    /// <param name="who">Who corrects it.</param>
    public Correction Correct(int rigId, string key, int seen, LogEntry corrected, string who)
    {
        ArgumentNullException.ThrowIfNull(corrected);
        using var transaction = context.Database.BeginTransaction();
        var row = context.Entries.FirstOrDefault(e => e.RigId == rigId && e.Key == key && e.IsCurrent);
        if (row is null) return Correction.Missing;
        if (row.Revision != seen) return Correction.ChangedMeanwhile;
        var entry = corrected with { Id = LogReader.ReadEntry(row.Json) is { } before ? before.Id : IdOf(row) };
        var json = EntryKeys.Json(entry);
        if (json != row.Json || row.Withdrawn)
            Supersede(row, who, next =>
            {
                next.At = entry.Instant;
                next.OffsetSeconds = entry.At.Offset.Seconds;
                next.Type = entry.Type;
                next.Tank = entry.Tank;
                next.Json = json;
                next.Withdrawn = false;
            });
        transaction.Commit();
        return Correction.Done;
    }

    /// <summary>Takes an entry out of the log, or puts it back. Both are new revisions.</summary>
    /// <returns>The entry; null if there is none with this key, or it cannot be read. Doing what is already done changes nothing.</returns>
    public LogEntry? Withdraw(int rigId, string key, bool withdrawn, string who)
    {
        using var transaction = context.Database.BeginTransaction();
        var row = context.Entries.FirstOrDefault(e => e.RigId == rigId && e.Key == key && e.IsCurrent);
        if (row is null) return null;
        if (row.Withdrawn != withdrawn) Supersede(row, who, next => next.Withdrawn = withdrawn);
        transaction.Commit();
        return LogReader.ReadEntry(row.Json);
    }

    /// <summary>How the batch of an import begins.</summary>
    public const string ImportBatch = "import-";

    /// <summary>Takes out of the log what was written down together in one go.</summary>
    /// <returns>How many entries were taken out.</returns>
    public int WithdrawBatch(int rigId, string batch, string who) => Turn(rigId, batch, who, withdrawn: true, since: null);

    /// <summary>Puts back what <see cref="WithdrawBatch"/> took out last; what a person had taken out before stays out.</summary>
    /// <returns>How many entries were put back.</returns>
    public int RestoreBatch(int rigId, string batch, string who) =>
        context.Entries.Where(e => e.RigId == rigId && e.Batch == batch && e.IsCurrent && e.Withdrawn).Max(e => (Instant?)e.RecordedAt) is { } last
            ? Turn(rigId, batch, who, withdrawn: false, last) : 0;

    // In two statements, however many there are: a new revision of each, and the old one no longer in force.
    private int Turn(int rigId, string batch, string who, bool withdrawn, Instant? since)
    {
        using var transaction = context.Database.BeginTransaction();
        var now = clock.GetCurrentInstant().ToUnixTimeTicks();
        var from = since?.ToUnixTimeTicks() ?? 0;
        var turned = context.Database.ExecuteSql($"""
            INSERT INTO Entries (RigId, Key, Revision, IsCurrent, Withdrawn, At, OffsetSeconds, Sequence, Type, Tank, Json, RecordedAt, Who, Batch)
            SELECT RigId, Key, Revision + 1, 1, {withdrawn}, At, OffsetSeconds, Sequence, Type, Tank, Json, {now}, {who}, Batch FROM Entries
            WHERE RigId = {rigId} AND Batch = {batch} AND IsCurrent AND Withdrawn = {!withdrawn} AND ({withdrawn} OR RecordedAt = {from}) ORDER BY Id
            """);
        context.Database.ExecuteSql($"""
            UPDATE Entries SET IsCurrent = 0
            WHERE RigId = {rigId} AND Batch = {batch} AND IsCurrent AND Withdrawn = {!withdrawn} AND ({withdrawn} OR RecordedAt = {from})
            """);
        transaction.Commit();
        return turned;
    }

    /// <summary>
    /// Within a transaction at hand: makes the log say what a run says it did. What is new is added, what the run now says otherwise is corrected, what it no
    /// longer says is taken out; what a person has corrected or taken out since stays so.
    /// </summary>
    internal void Put(int rigId, IReadOnlyList<LogEntry> entries, string who, string batch)
    {
        var planned = EntryKeys.Plan(entries);
        var rows = context.Entries.Where(e => e.RigId == rigId && e.Batch == batch).ToList().ToLookup(r => r.Key, StringComparer.Ordinal);
        Insert(rigId, [.. planned.Where(p => !rows.Contains(p.Key))], who, batch);
        foreach (var (key, entry, utf8) in planned)
        {
            var json = Encoding.UTF8.GetString(utf8.Span);
            if (!rows.Contains(key) || rows[key].Any(r => r.Json == json)) continue;
            Supersede(rows[key].First(r => r.IsCurrent), who, next =>
            {
                (next.At, next.OffsetSeconds, next.Type, next.Tank, next.Json) = (entry.Instant, entry.At.Offset.Seconds, entry.Type, entry.Tank, json);
            });
        }
        var kept = planned.Select(p => p.Key).ToHashSet(StringComparer.Ordinal);
        foreach (var gone in rows.Where(g => !kept.Contains(g.Key)).Select(g => g.First(r => r.IsCurrent)).Where(r => !r.Withdrawn).ToList())
            Supersede(gone, who, next => next.Withdrawn = true);
    }

    private void Supersede(EntryRow row, string who, Action<EntryRow> change)
    {
        row.IsCurrent = false;
        var next = row.Next(who, clock.GetCurrentInstant());
        change(next);
        context.Entries.Add(next);
        context.SaveChanges();
    }

    // What each key has ever said: a file brought in again does not clash with what was corrected since.
    private ILookup<string, string> Known(int rigId, IReadOnlyList<PlannedEntry> keyed)
    {
        var rows = context.Entries.AsNoTracking().Where(e => e.RigId == rigId);
        if (keyed.Count <= FewEntries)
        {
            var keys = keyed.Select(k => k.Key).ToList();
            rows = rows.Where(e => keys.Contains(e.Key));
        }
        return rows.Select(e => new { e.Key, e.Json }).AsEnumerable().ToLookup(e => e.Key, e => e.Json, StringComparer.Ordinal);
    }

    internal void Insert(int rigId, IReadOnlyList<PlannedEntry> entries, string who, string? batch, WritingWatch? watch = null)
    {
        if (entries.Count == 0) return;
        var many = entries.Count > FewEntries;
        if (many) context.Database.ExecuteSqlRaw($"PRAGMA cache_size=-{ImportCacheKb}"); // the index by id is filled in no order: it has to stay in memory
        var next = (context.Entries.Max(e => (long?)e.Id) ?? 0) + 1;
        EntryWriter.Write((SqliteConnection)context.Database.GetDbConnection(), next, rigId, entries, clock.GetCurrentInstant().ToUnixTimeTicks(), who, batch,
            watch);
        if (many) context.Database.ExecuteSqlRaw("PRAGMA cache_size=-2000"); // the usual; the connection is used again
    }

    // Without an id of its own an entry is known by a key made from its content.
    internal static string? IdOf(EntryRow row) => row.Key.StartsWith(EntryKeys.ByContent, StringComparison.Ordinal) ? null : row.Key;
}
