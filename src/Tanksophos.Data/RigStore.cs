using System.Linq.Expressions;
using System.Text;
using Microsoft.Data.Sqlite;
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
/// <param name="ArchivedAt">Since when it is put away; null while it is in use.</param>
/// <param name="SetAside">Whether the present description cannot be read, and this is the newest one that can.</param>
public sealed record StoredRig(int Id, Rig Rig, string Description, int Revision, Instant CreatedAt, Instant? ArchivedAt = null, bool SetAside = false);

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

/// <summary>Which entries of a log are asked for; null does not narrow.</summary>
/// <param name="Tank">Id of the tank meant.</param>
/// <param name="Type">Kind of entry.</param>
/// <param name="Text">Text that stands in the note, the place or another field.</param>
public sealed record EntryFilter(string? Tank = null, string? Type = null, string? Text = null)
{
    /// <summary>All entries.</summary>
    public static EntryFilter None { get; } = new();
}

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

/// <summary>A revision of an entry that came or went since a state of the log.</summary>
/// <param name="Key">The entry's key.</param>
/// <param name="Sequence">Its place among entries of the same moment.</param>
/// <param name="Entry">The entry; null if it was taken out of the log, or cannot be read.</param>
/// <param name="SetAside">Whether it cannot be read.</param>
public sealed record LogChange(string Key, long Sequence, LogEntry? Entry, bool SetAside = false);

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

/// <summary>Keeps rigs and their logs.</summary>
/// <param name="context">The database.</param>
/// <param name="clock">Says when something is written down.</param>
public sealed class RigStore(TanksophosContext context, IClock clock)
{
    // Up to this many entries are looked up one by one; beyond, reading the whole log is quicker.
    private const int FewEntries = 300;

    private const int ImportCacheKb = 128 * 1024;

    /// <summary>All rigs by name, those put away included; one of which no description can be read is left out.</summary>
    public IReadOnlyList<StoredRig> Rigs() =>
        [.. context.Rigs.AsNoTracking().OrderBy(r => r.Name).ThenBy(r => r.Id).ToList().Select(Stored).OfType<StoredRig>()];

    /// <summary>One rig; null if there is none of that number, or no description of it can be read.</summary>
    public StoredRig? Find(int rigId) =>
        context.Rigs.AsNoTracking().FirstOrDefault(r => r.Id == rigId) is { } row ? Stored(row) : null;

    /// <summary>Adds a rig, with entries if there are any, in one go.</summary>
    /// <param name="rig">The rig.</param>
    /// <param name="entries">What its log starts with.</param>
    /// <param name="who">Who sets it up, by name.</param>
    /// <param name="batch">What the entries are written down as in one go.</param>
    /// <param name="owner">The person who will own it; null for none yet.</param>
    /// <returns>The rig's number.</returns>
    public int Add(Rig rig, IReadOnlyList<LogEntry>? entries = null, string who = "owner", string? batch = null, int? owner = null)
    {
        ArgumentNullException.ThrowIfNull(rig);
        using var transaction = context.Database.BeginTransaction();
        var row = new RigRow { Name = rig.Name, Json = Gate.Rig(rig), CreatedAt = clock.GetCurrentInstant() };
        context.Rigs.Add(row);
        context.SaveChanges();
        context.RigRevisions.Add(new RigRevisionRow { RigId = row.Id, Revision = row.Revision, Json = row.Json, At = row.CreatedAt, Who = who });
        if (owner is { } person) context.Memberships.Add(new MembershipRow { RigId = row.Id, PersonId = person, Role = Role.Owner, Since = row.CreatedAt });
        context.SaveChanges();
        if (entries is { Count: > 0 }) Insert(row.Id, EntryKeys.Of(entries), who, batch);
        transaction.Commit();
        context.ChangeTracker.Clear();
        return row.Id;
    }

    /// <summary>Changes a rig's description, unless somebody else has changed it since it was seen.</summary>
    /// <param name="rigId">The rig.</param>
    /// <param name="seen">The revision that the change was made on.</param>
    /// <param name="change">Makes the new rig out of the present one.</param>
    /// <param name="who">Who changes it.</param>
    /// <returns>False if the rig is gone or was changed meanwhile; nothing is written then.</returns>
    public bool Change(int rigId, int seen, Func<Rig, Rig> change, string who = "owner")
    {
        ArgumentNullException.ThrowIfNull(change);
        using var transaction = context.Database.BeginTransaction();
        var row = context.Rigs.FirstOrDefault(r => r.Id == rigId);
        if (row is null || row.Revision != seen) return false;
        if (!context.RigRevisions.Any(r => r.RigId == rigId && r.Revision == row.Revision)) // from before revisions were kept
            context.RigRevisions.Add(new RigRevisionRow { RigId = rigId, Revision = row.Revision, Json = row.Json, At = row.CreatedAt, Who = "" });
        if (Stored(row) is not { } present) return false;
        var rig = change(present.Rig);
        row.Name = rig.Name;
        row.Json = Gate.Rig(rig);
        row.Revision++;
        context.RigRevisions.Add(new RigRevisionRow { RigId = rigId, Revision = row.Revision, Json = row.Json, At = clock.GetCurrentInstant(), Who = who });
        context.SaveChanges();
        transaction.Commit();
        context.ChangeTracker.Clear();
        return true;
    }

    /// <summary>The descriptions a rig has had, newest first; what cannot be read is left out.</summary>
    public IReadOnlyList<(int Revision, Rig Rig, Instant At, string Who)> Descriptions(int rigId) =>
        [.. context.RigRevisions.AsNoTracking().Where(r => r.RigId == rigId).OrderByDescending(r => r.Revision).AsEnumerable()
            .Select(r => (r.Revision, Rig: ReadRig(r.Json), r.At, r.Who)).Where(r => r.Rig is not null).Select(r => (r.Revision, r.Rig!, r.At, r.Who))];

    /// <summary>The description that a rig had as one revision; null if there was none, or it cannot be read.</summary>
    public Rig? Description(int rigId, int revision) =>
        context.RigRevisions.AsNoTracking().Where(r => r.RigId == rigId && r.Revision == revision).Select(r => r.Json).FirstOrDefault() is { } json ? ReadRig(json) : null;

    /// <summary>Who changed a rig last, by name; null if that is not known.</summary>
    public string? ChangedBy(int rigId) => context.RigRevisions.AsNoTracking().Where(r => r.RigId == rigId).OrderByDescending(r => r.Revision).Select(r => r.Who).FirstOrDefault() is { Length: > 0 } who ? who : null;

    /// <summary>Puts a rig away, or takes it out again. Nothing of it is lost.</summary>
    /// <returns>False if there is no such rig.</returns>
    public bool Archive(int rigId, bool archived)
    {
        Instant? since = archived ? clock.GetCurrentInstant() : null;
        return context.Rigs.Where(r => r.Id == rigId).ExecuteUpdate(u => u.SetProperty(r => r.ArchivedAt, since)) == 1;
    }

    /// <summary>A word for all that an export of the rig holds: it changes with the description, the log and the photos.</summary>
    public string StateOf(int rigId)
    {
        var revision = context.Rigs.Where(r => r.Id == rigId).Select(r => r.Revision).FirstOrDefault();
        var photos = context.Photos.Where(p => p.RigId == rigId && !p.Removed).Select(p => (int?)p.Id).Max() ?? 0;
        return $"{revision}/{Version(rigId)}/{photos}";
    }

    /// <summary>Remembers that a rig was exported whole in its present state.</summary>
    public void Exported(int rigId)
    {
        var state = StateOf(rigId);
        context.Rigs.Where(r => r.Id == rigId).ExecuteUpdate(u => u.SetProperty(r => r.ExportedState, state));
    }

    /// <summary>Whether the present state of the rig is the one that was last exported whole.</summary>
    public bool IsExported(int rigId) =>
        context.Rigs.Where(r => r.Id == rigId).Select(r => r.ExportedState).FirstOrDefault() is { } exported && exported == StateOf(rigId);

    /// <summary>Deletes a rig with everything that belongs to it, if its present state was exported.</summary>
    /// <returns>False if the rig is gone or has changed since it was exported; nothing is deleted then.</returns>
    public bool Delete(int rigId)
    {
        using var transaction = context.Database.BeginTransaction();
        if (!IsExported(rigId)) return false;
        context.Entries.Where(e => e.RigId == rigId).ExecuteDelete();
        context.Rigs.Where(r => r.Id == rigId).ExecuteDelete(); // what else belongs to it goes with it
        transaction.Commit();
        return true;
    }

    /// <summary>The state of a rig's log: grows with every change, so what was computed for a number stays right for it.</summary>
    public long Version(int rigId) =>
        context.Entries.AsNoTracking().Where(e => e.RigId == rigId).Max(e => (long?)e.Id) ?? 0;

    /// <summary>The rig's log without withdrawn entries, in the order of time; what cannot be read is left out.</summary>
    public IReadOnlyList<LogEntry> Log(int rigId)
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
        return [.. rows.Select(r => (r, Entry: r.Withdrawn ? null : ReadEntry(r.Json))).Select(x => new LogChange(x.r.Key, x.r.Sequence, x.Entry, x.Entry is null && !x.r.Withdrawn))];
    }

    /// <summary>The newest entries of a log in the order of time, each with the version at which it came to be as it is; withdrawn ones are not among them.</summary>
    /// <param name="rigId">The rig.</param>
    /// <param name="count">How many at most.</param>
    public IReadOnlyList<(LogChange Entry, long Version)> Recent(int rigId, int count)
    {
        var rows = context.Entries.AsNoTracking().Where(e => e.RigId == rigId && e.IsCurrent && !e.Withdrawn)
            .OrderByDescending(e => e.At).ThenByDescending(e => e.Sequence).Take(count).Select(e => new { e.Id, e.Key, e.Sequence, e.Json }).ToList();
        rows.Reverse();
        return [.. rows.Select(r => (Change: new LogChange(r.Key, r.Sequence, ReadEntry(r.Json)), r.Id)).Where(r => r.Change.Entry is not null)];
    }

    /// <summary>Keeps an estimate for taking it up later, in place of the one kept before.</summary>
    public void SavePoint(EstimatePointRow point)
    {
        ArgumentNullException.ThrowIfNull(point);
        using var transaction = context.Database.BeginTransaction();
        context.EstimatePoints.Where(p => p.RigId == point.RigId).ExecuteDelete();
        if (context.Rigs.Any(r => r.Id == point.RigId)) context.EstimatePoints.Add(point);
        context.SaveChanges();
        transaction.Commit();
        context.ChangeTracker.Clear();
    }

    /// <summary>The estimate kept for a rig, and whether everything written since lies after it, so that it can be taken up as it is.</summary>
    public (EstimatePointRow Point, bool Holds)? Point(int rigId)
    {
        if (context.EstimatePoints.AsNoTracking().FirstOrDefault(p => p.RigId == rigId) is not { } point) return null;
        var revision = context.Rigs.Where(r => r.Id == rigId).Select(r => r.Revision).FirstOrDefault();
        if (revision != point.RigRevision) return null;
        var since = context.Entries.AsNoTracking().Where(e => e.RigId == rigId && e.Id > point.Version);
        // An entry that was corrected or withdrawn may have been in it.
        var earlier = since.Any(e => e.At < point.At || (e.Revision > 1 && context.Entries.Any(o => o.RigId == rigId && o.Key == e.Key && o.Id <= point.Version)));
        return (point, !earlier);
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
    public IReadOnlyList<long> Find(int rigId, EntryFilter filter) => [.. Matching(rigId, filter).OrderByDescending(e => e.At).ThenByDescending(e => e.Sequence).Select(e => e.Id)];

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
        Matching(rigId, new EntryFilter(tank, type)).Where(e => !e.Withdrawn).OrderByDescending(e => e.At).ThenByDescending(e => e.Sequence).FirstOrDefault() is { } row ? Stored(row) : null;

    /// <summary>What recording these entries would do. Nothing is written.</summary>
    /// <param name="rigId">The rig.</param>
    /// <param name="entries">The entries in the order of the file.</param>
    /// <param name="paths">Where each stands in the file; null to name them by id.</param>
    public ImportPlan Plan(int rigId, IReadOnlyList<LogEntry> entries, IReadOnlyList<string>? paths = null)
    {
        var keyed = EntryKeys.Of(entries);
        var known = Known(rigId, keyed);
        var fresh = new List<PlannedEntry>();
        var conflicts = new List<Problem>();
        for (var i = 0; i < keyed.Count; i++)
        {
            var key = keyed[i].Key;
            if (!known.Contains(key)) fresh.Add(keyed[i]);
            else if (!known[key].Contains(Encoding.UTF8.GetString(keyed[i].Utf8.Span)))
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
        var entry = corrected with { Id = ReadEntry(row.Json) is { } before ? before.Id : IdOf(row) };
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
        return ReadEntry(row.Json);
    }

    /// <summary>Takes out of the log what was written down together in one go.</summary>
    /// <returns>How many entries were taken out.</returns>
    public int WithdrawBatch(int rigId, string batch, string who)
    {
        using var transaction = context.Database.BeginTransaction();
        var rows = context.Entries.Where(e => e.RigId == rigId && e.Batch == batch && e.IsCurrent && !e.Withdrawn).ToList();
        foreach (var row in rows) Supersede(row, who, next => next.Withdrawn = true);
        transaction.Commit();
        return rows.Count;
    }

    /// <summary>
    /// Within a transaction at hand: makes the log say what a run says it did. What is new is added, what the run now says otherwise is corrected, what it no
    /// longer says is taken out; what a person has corrected or taken out since stays so.
    /// </summary>
    internal void Put(int rigId, IReadOnlyList<LogEntry> entries, string who, string batch)
    {
        var planned = EntryKeys.Of(entries);
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
        foreach (var gone in rows.Where(g => !kept.Contains(g.Key)).Select(g => g.First(r => r.IsCurrent)).Where(r => !r.Withdrawn).ToList()) Supersede(gone, who, next => next.Withdrawn = true);
    }

    private void Supersede(EntryRow row, string who, Action<EntryRow> change)
    {
        row.IsCurrent = false;
        var next = row.Next(who, clock.GetCurrentInstant());
        change(next);
        context.Entries.Add(next);
        context.SaveChanges();
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
        var pattern = "%" + word.Replace("\\", "\\\\", StringComparison.Ordinal).Replace("%", "\\%", StringComparison.Ordinal).Replace("_", "\\_", StringComparison.Ordinal) + "%";
        return e => EF.Functions.Like(e.Json.Substring(e.Json.IndexOf("\"type\":")), pattern, "\\");
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

    private void Insert(int rigId, IReadOnlyList<PlannedEntry> entries, string who, string? batch)
    {
        if (entries.Count == 0) return;
        var many = entries.Count > FewEntries;
        if (many) context.Database.ExecuteSqlRaw($"PRAGMA cache_size=-{ImportCacheKb}"); // the index by id is filled in no order: it has to stay in memory
        var next = (context.Entries.Max(e => (long?)e.Id) ?? 0) + 1;
        EntryWriter.Write((SqliteConnection)context.Database.GetDbConnection(), next, rigId, entries, clock.GetCurrentInstant().ToUnixTimeTicks(), who, batch);
        if (many) context.Database.ExecuteSqlRaw("PRAGMA cache_size=-2000"); // the usual; the connection is used again
    }

    private static StoredEntry? Stored(EntryRow r) => ReadEntry(r.Json) is { } entry ? new(r.Key, entry, r.RecordedAt, r.Who, r.Withdrawn, r.Revision, r.Batch) : null;

    // An unreadable description gives way to the newest one that can be read, so that the rig goes on.
    private StoredRig? Stored(RigRow row)
    {
        if (ReadRig(row.Json) is { } rig) return new(row.Id, rig, row.Json, row.Revision, row.CreatedAt, row.ArchivedAt);
        foreach (var json in context.RigRevisions.AsNoTracking().Where(r => r.RigId == row.Id).OrderByDescending(r => r.Revision).Select(r => r.Json))
            if (ReadRig(json) is { } earlier) return new(row.Id, earlier, json, row.Revision, row.CreatedAt, row.ArchivedAt, SetAside: true);
        return null;
    }

    // A rig never changes: the same description gives the same rig, read once. What is remembered of a log goes by it.
    private static readonly System.Collections.Concurrent.ConcurrentDictionary<string, Rig> Read = new(StringComparer.Ordinal);
    private const int MostRead = 500;

    private static Rig? ReadRig(string json)
    {
        if (Read.TryGetValue(json, out var known)) return known;
        if (RigCodec.Read(Encoding.UTF8.GetBytes(json)).Value is not { } rig) return null;
        if (Read.Count >= MostRead) Read.Clear();
        return Read.GetOrAdd(json, rig);
    }

    // Read without the rig: what was recorded stays readable when a tank or probe is changed later.
    private static LogEntry? ReadEntry(string json) => EntryCodec.Read(Encoding.UTF8.GetBytes(json), null).Value;

    // Without an id of its own an entry is known by a key made from its content.
    internal static string? IdOf(EntryRow row) => row.Key.StartsWith(EntryKeys.ByContent, StringComparison.Ordinal) ? null : row.Key;
}
