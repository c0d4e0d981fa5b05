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
/// <param name="ArchivedAt">Since when it is put away; null while it is in use.</param>
/// <param name="SetAside">Whether the present description cannot be read, and this is the newest one that can.</param>
public sealed record StoredRig(int Id, Rig Rig, string Description, int Revision, Instant CreatedAt, Instant? ArchivedAt = null, bool SetAside = false);

/// <summary>Keeps rigs; the one door to their logs too.</summary>
/// <param name="context">The database.</param>
/// <param name="clock">Says when something is written down.</param>
public sealed class RigStore(TanksophosContext context, IClock clock)
{
    /// <summary>The logs, read.</summary>
    public LogReader Log { get; } = new(context);

    /// <summary>The logs, written: single entries, corrections, imports.</summary>
    public LogWriter Writer { get; } = new(context, clock);

    /// <summary>Estimates that are kept for taking them up after a restart.</summary>
    public CheckpointStore Checkpoints { get; } = new(context);

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
    /// <param name="watch">Watches a long writing; null for nobody.</param>
    /// <returns>The rig's number.</returns>
    /// <exception cref="OperationCanceledException">It was stopped; nothing was written.</exception>
    public int Add(Rig rig, IReadOnlyList<LogEntry>? entries = null, string who = "owner", string? batch = null, int? owner = null, WritingWatch? watch = null)
    {
        ArgumentNullException.ThrowIfNull(rig);
        using var transaction = context.Database.BeginTransaction();
        var row = new RigRow { Name = rig.Name, Json = Gate.Rig(rig), CreatedAt = clock.GetCurrentInstant() };
        context.Rigs.Add(row);
        context.SaveChanges();
        context.RigRevisions.Add(new RigRevisionRow { RigId = row.Id, Revision = row.Revision, Json = row.Json, At = row.CreatedAt, Who = who });
        if (owner is { } person) context.Memberships.Add(new MembershipRow { RigId = row.Id, PersonId = person, Role = Role.Owner, Since = row.CreatedAt });
        context.SaveChanges();
        if (entries is { Count: > 0 }) Writer.Insert(row.Id, EntryKeys.Plan(entries), who, batch, watch);
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
        context.RigRevisions.AsNoTracking().Where(r => r.RigId == rigId && r.Revision == revision).Select(r => r.Json).FirstOrDefault() is { } json
            ? ReadRig(json) : null;

    /// <summary>Who changed a rig last, by name; null if that is not known.</summary>
    public string? ChangedBy(int rigId) => context.RigRevisions.AsNoTracking().Where(r => r.RigId == rigId).OrderByDescending(r => r.Revision)
        .Select(r => r.Who).FirstOrDefault() is { Length: > 0 } who ? who : null;

    /// <summary>Puts a rig away, or takes it out again. Nothing of it is lost.</summary>
    /// <returns>False if there is no such rig.</returns>
    public bool Archive(int rigId, bool archived)
    {
        Instant? since = archived ? clock.GetCurrentInstant() : null;
        return context.Rigs.Where(r => r.Id == rigId).ExecuteUpdate(u => u.SetProperty(r => r.ArchivedAt, since)) == 1;
    }

    /// <summary>A mark of all that an export of the rig holds: it changes with the description, the log and the photos.</summary>
    public string StateOf(int rigId)
    {
        var revision = context.Rigs.Where(r => r.Id == rigId).Select(r => r.Revision).FirstOrDefault();
        var photos = context.Photos.Where(p => p.RigId == rigId && !p.Removed).Select(p => (int?)p.Id).Max() ?? 0;
        return $"{revision}/{Log.Version(rigId)}/{photos}";
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
    private const int MaxRead = 500;

    private static Rig? ReadRig(string json)
    {
        if (Read.TryGetValue(json, out var known)) return known;
        if (RigCodec.Read(Encoding.UTF8.GetBytes(json)).Value is not { } rig) return null;
        if (Read.Count >= MaxRead) Read.Clear();
        return Read.GetOrAdd(json, rig);
    }
}
