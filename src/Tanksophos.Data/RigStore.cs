using System.Security.Cryptography;
using System.Text;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Data;

/// <summary>A rig with its number.</summary>
/// <param name="Id">Number in this database.</param>
/// <param name="Rig">The rig.</param>
/// <param name="Description">The rig as it is stored: equal texts are equal rigs.</param>
/// <param name="Revision">Grows with each change of the description.</param>
/// <param name="CreatedAt">When it was set up.</param>
public sealed record StoredRig(int Id, Rig Rig, string Description, int Revision, Instant CreatedAt);

/// <summary>An entry as the logbook page shows it.</summary>
/// <param name="Key">Its id in this database.</param>
/// <param name="Entry">The newest revision.</param>
/// <param name="RecordedAt">When that revision was written down.</param>
/// <param name="Who">Who wrote it down.</param>
/// <param name="Withdrawn">Whether it was taken out of the log.</param>
/// <param name="Revision">1 if it was never changed.</param>
public sealed record StoredEntry(string Key, LogEntry Entry, Instant RecordedAt, string Who, bool Withdrawn, int Revision);

/// <summary>One page of a log, newest first.</summary>
/// <param name="Entries">The entries.</param>
/// <param name="Total">How many there are on all pages.</param>
public sealed record EntryPage(IReadOnlyList<StoredEntry> Entries, int Total);

/// <summary>What bringing in entries would do, or did.</summary>
/// <param name="New">Entries that are not in the log yet, with their keys, in the order of the file.</param>
/// <param name="AlreadyThere">Entries that stand in the log with the same content.</param>
/// <param name="Conflicts">Entries whose id stands in the log with other content, by their path.</param>
public sealed record ImportPlan(IReadOnlyList<(string Key, LogEntry Entry)> New, int AlreadyThere, IReadOnlyList<Problem> Conflicts);

/// <summary>Thrown when an entry's id is already in the log with other content. Nothing was written.</summary>
public sealed class EntryConflictException(IReadOnlyList<Problem> conflicts) : Exception(string.Join("; ", conflicts))
{
    /// <summary>The entries that clash.</summary>
    public IReadOnlyList<Problem> Conflicts { get; } = conflicts;
}

/// <summary>Keeps rigs and their logs.</summary>
/// <param name="context">The database.</param>
/// <param name="clock">Says when something is written down.</param>
public sealed class RigStore(TanksophosContext context, IClock clock)
{
    /// <summary>All rigs by name.</summary>
    public IReadOnlyList<StoredRig> Rigs() =>
        [.. context.Rigs.AsNoTracking().OrderBy(r => r.Name).ThenBy(r => r.Id).AsEnumerable().Select(Stored)];

    /// <summary>One rig, or null.</summary>
    public StoredRig? Find(int rigId) =>
        context.Rigs.AsNoTracking().FirstOrDefault(r => r.Id == rigId) is { } row ? Stored(row) : null;

    /// <summary>Adds a rig, with entries if there are any, in one go.</summary>
    /// <returns>The rig's number.</returns>
    public int Add(Rig rig, IReadOnlyList<LogEntry>? entries = null, string who = "owner", string? batch = null)
    {
        ArgumentNullException.ThrowIfNull(rig);
        using var transaction = context.Database.BeginTransaction();
        var row = new RigRow { Name = rig.Name, Json = Encoding.UTF8.GetString(RigCodec.Write(rig)), CreatedAt = clock.GetCurrentInstant() };
        context.Rigs.Add(row);
        context.SaveChanges();
        if (entries is { Count: > 0 }) Insert(row.Id, [.. Keyed(entries)], who, batch);
        transaction.Commit();
        return row.Id;
    }

    /// <summary>Changes a rig's description, unless somebody else has changed it since it was seen.</summary>
    /// <param name="rigId">The rig.</param>
    /// <param name="seen">The revision that the change was made on.</param>
    /// <param name="change">Makes the new rig out of the present one.</param>
    /// <returns>False if the rig is gone or was changed meanwhile; nothing is written then.</returns>
    public bool Change(int rigId, int seen, Func<Rig, Rig> change)
    {
        ArgumentNullException.ThrowIfNull(change);
        using var transaction = context.Database.BeginTransaction();
        var row = context.Rigs.FirstOrDefault(r => r.Id == rigId);
        if (row is null || row.Revision != seen) return false;
        var rig = change(Stored(row).Rig);
        row.Name = rig.Name;
        row.Json = Encoding.UTF8.GetString(RigCodec.Write(rig));
        row.Revision++;
        context.SaveChanges();
        transaction.Commit();
        context.ChangeTracker.Clear();
        return true;
    }

    /// <summary>The state of a rig's log: grows with every change, so what was computed for a number stays right for it.</summary>
    public long Version(int rigId) =>
        context.Entries.AsNoTracking().Where(e => e.RigId == rigId).Max(e => (long?)e.Id) ?? 0;

    /// <summary>The rig's log without withdrawn entries, in the order of time.</summary>
    /// <exception cref="InvalidDataException">A stored entry cannot be read.</exception>
    public IReadOnlyList<LogEntry> Log(int rigId)
    {
        var rows = context.Entries.AsNoTracking()
            .Where(e => e.RigId == rigId && e.IsCurrent && !e.Withdrawn)
            .OrderBy(e => e.At).ThenBy(e => e.Sequence).Select(e => e.Json).ToList();
        return [.. rows.Select(Parse)];
    }

    /// <summary>A page of the log, newest first; withdrawn entries are among them, marked.</summary>
    /// <param name="rigId">The rig.</param>
    /// <param name="skip">How many newer entries to leave out.</param>
    /// <param name="take">How many to return at most.</param>
    public EntryPage Page(int rigId, int skip, int take)
    {
        var current = context.Entries.AsNoTracking().Where(e => e.RigId == rigId && e.IsCurrent);
        var rows = current.OrderByDescending(e => e.At).ThenByDescending(e => e.Sequence).Skip(skip).Take(take).ToList();
        return new EntryPage([.. rows.Select(r => new StoredEntry(r.Key, Parse(r.Json), r.RecordedAt, r.Who, r.Withdrawn, r.Revision))], current.Count());
    }

    /// <summary>What recording these entries would do. Nothing is written.</summary>
    /// <param name="rigId">The rig.</param>
    /// <param name="entries">The entries in the order of the file.</param>
    /// <param name="paths">Where each stands in the file; null to name them by id.</param>
    public ImportPlan Plan(int rigId, IReadOnlyList<LogEntry> entries, IReadOnlyList<string>? paths = null)
    {
        var keyed = Keyed(entries).ToList();
        var known = context.Entries.AsNoTracking().Where(e => e.RigId == rigId && e.IsCurrent)
            .Select(e => new { e.Key, e.Json }).ToDictionary(e => e.Key, e => e.Json, StringComparer.Ordinal);
        var fresh = new List<(string, LogEntry)>();
        var conflicts = new List<Problem>();
        for (var i = 0; i < keyed.Count; i++)
        {
            var (key, entry) = keyed[i];
            if (!known.TryGetValue(key, out var json)) fresh.Add((key, entry));
            else if (json != Json(entry))
                conflicts.Add(new Problem(paths is null ? key : paths[i] + ".id", $"the log already has an entry '{key}' with other content: withdraw that one, or give this one another id"));
        }
        return new ImportPlan(fresh, keyed.Count - fresh.Count - conflicts.Count, conflicts);
    }

    /// <summary>Records entries in one go. Those already there with the same content are skipped, so doing it twice does it once.</summary>
    /// <exception cref="EntryConflictException">An id is taken by an entry with other content; nothing was written.</exception>
    public ImportPlan Record(int rigId, IReadOnlyList<LogEntry> entries, string who, string? batch = null)
    {
        using var transaction = context.Database.BeginTransaction(); // begins immediate: one writer
        var plan = Plan(rigId, entries);
        if (plan.Conflicts.Count > 0) throw new EntryConflictException(plan.Conflicts);
        Insert(rigId, plan.New, who, batch);
        transaction.Commit();
        return plan;
    }

    /// <summary>Takes an entry out of the log, or puts it back. Both are new revisions.</summary>
    /// <returns>The entry; null if there is none with this key. Doing what is already done changes nothing.</returns>
    public LogEntry? Withdraw(int rigId, string key, bool withdrawn, string who)
    {
        using var transaction = context.Database.BeginTransaction();
        var row = context.Entries.FirstOrDefault(e => e.RigId == rigId && e.Key == key && e.IsCurrent);
        if (row is null) return null;
        if (row.Withdrawn != withdrawn)
        {
            row.IsCurrent = false;
            context.Entries.Add(new EntryRow
            {
                RigId = rigId,
                Key = key,
                Revision = row.Revision + 1,
                IsCurrent = true,
                Withdrawn = withdrawn,
                At = row.At,
                OffsetSeconds = row.OffsetSeconds,
                Sequence = row.Sequence,
                Type = row.Type,
                Tank = row.Tank,
                Json = row.Json,
                RecordedAt = clock.GetCurrentInstant(),
                Who = who,
                Batch = row.Batch,
            });
            context.SaveChanges();
        }
        transaction.Commit();
        return Parse(row.Json);
    }

    private void Insert(int rigId, IReadOnlyList<(string Key, LogEntry Entry)> entries, string who, string? batch)
    {
        var at = clock.GetCurrentInstant();
        var next = (context.Entries.Max(e => (long?)e.Id) ?? 0) + 1;
        context.ChangeTracker.AutoDetectChangesEnabled = false;
        foreach (var (key, entry) in entries)
        {
            context.Entries.Add(new EntryRow
            {
                Id = next,
                RigId = rigId,
                Key = key,
                Revision = 1,
                IsCurrent = true,
                At = entry.Instant,
                OffsetSeconds = entry.At.Offset.Seconds,
                Sequence = next,
                Type = entry.Type,
                Tank = entry.Tank,
                Json = Json(entry),
                RecordedAt = at,
                Who = who,
                Batch = batch,
            });
            next++;
        }
        context.SaveChanges();
        context.ChangeTracker.AutoDetectChangesEnabled = true;
        context.ChangeTracker.Clear();
    }

    // An entry without an id is known by its content; of several alike in one file the second is another entry, not the same again.
    private static IEnumerable<(string Key, LogEntry Entry)> Keyed(IReadOnlyList<LogEntry> entries)
    {
        var seen = new Dictionary<string, int>(StringComparer.Ordinal);
        foreach (var entry in entries)
        {
            if (entry.Id is { } id)
            {
                yield return (id, entry);
                continue;
            }
            var hash = "content-" + Convert.ToHexStringLower(SHA256.HashData(EntryCodec.Write(entry)).AsSpan(0, 10));
            var n = seen[hash] = seen.GetValueOrDefault(hash) + 1;
            yield return (n == 1 ? hash : $"{hash}-{n}", entry);
        }
    }

    private static StoredRig Stored(RigRow row)
    {
        var read = RigCodec.Read(Encoding.UTF8.GetBytes(row.Json));
        return new StoredRig(row.Id, read.Value ?? throw new InvalidDataException($"The stored rig {row.Id} cannot be read: {read.Errors[0]}"), row.Json, row.Revision, row.CreatedAt);
    }

    private static string Json(LogEntry entry) => Encoding.UTF8.GetString(EntryCodec.Write(entry));

    private static LogEntry Parse(string json)
    {
        // Read without the rig: what was recorded stays readable when a tank or probe is changed later.
        var read = EntryCodec.Read(Encoding.UTF8.GetBytes(json), null);
        return read.Value ?? throw new InvalidDataException($"A stored entry cannot be read: {read.Errors[0]}");
    }
}
