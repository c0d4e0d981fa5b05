using System.Security.Cryptography;
using System.Text;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Trips;

namespace Tanksophos.Data;

/// <summary>A trip as it is stored.</summary>
/// <param name="Id">Number.</param>
/// <param name="RigId">The rig.</param>
/// <param name="Itinerary">Its stops.</param>
/// <param name="Revision">1 when it was made, one more with each change.</param>
/// <param name="Removed">Whether it was taken away.</param>
/// <param name="HasFeed">Whether there is a calendar address for it.</param>
/// <param name="SetAside">Whether the present stops cannot be read, and these are the newest ones that can.</param>
public sealed record StoredTrip(int Id, int RigId, Itinerary Itinerary, int Revision, bool Removed, bool HasFeed, bool SetAside = false);

/// <summary>How a change of a trip went.</summary>
public enum TripChange
{
    /// <summary>It is written.</summary>
    Done,

    /// <summary>The change itself was not to be made; nothing was written.</summary>
    Refused,

    /// <summary>Somebody else changed the trip since it was seen; nothing was written.</summary>
    ChangedMeanwhile,
}

/// <summary>A plan being carried out, with the states it was made from.</summary>
/// <param name="Progress">The plan.</param>
/// <param name="Version">State of the log.</param>
/// <param name="Revision">Revision of the stops.</param>
/// <param name="RigRevision">Revision of the rig.</param>
public sealed record StoredProgress(TripProgress Progress, long Version, int Revision, int RigRevision);

/// <summary>Keeps trips. A change of the stops is a new revision, so that it can be taken back; a trip that is removed can be put back.</summary>
/// <param name="context">The database.</param>
/// <param name="clock">The time.</param>
public sealed class TripStore(TanksophosContext context, IClock clock)
{
    private readonly WeatherStore weather = new(context, clock);

    /// <summary>Most trips of one rig.</summary>
    public const int MaxTrips = 500;

    /// <summary>The trips of a rig that were not removed, the newest first; one of which nothing can be read is left out.</summary>
    public IReadOnlyList<StoredTrip> Of(int rigId) =>
        [.. context.Trips.AsNoTracking().Where(t => t.RigId == rigId && !t.Removed).OrderByDescending(t => t.BeginsAt).ThenByDescending(t => t.Id)
            .Join(context.TripRevisions, t => new { TripId = t.Id, t.Revision }, r => new { r.TripId, r.Revision }, (t, r) => new { t, r.Json }).ToList()
            .Select(x => Read(x.t, x.Json)).OfType<StoredTrip>()];

    /// <summary>A trip of a rig, also one that was removed; null if the rig has none of that number.</summary>
    public StoredTrip? Find(int rigId, int id) => context.Trips.AsNoTracking().FirstOrDefault(t => t.RigId == rigId && t.Id == id) is { } row
        ? Read(row, JsonOf(row)) : null;

    /// <summary>The trip that is under way, or else the next, or else null.</summary>
    public StoredTrip? Current(int rigId, Instant now) =>
        context.Trips.AsNoTracking().Where(t => t.RigId == rigId && !t.Removed && t.EndsAt > now).OrderBy(t => t.BeginsAt).ToList()
            .Select(row => Read(row, JsonOf(row))).FirstOrDefault(t => t is not null);

    /// <summary>Makes a trip.</summary>
    /// <returns>Its number; null if the rig has as many as it may.</returns>
    public int? Add(int rigId, Itinerary itinerary, string who)
    {
        ArgumentNullException.ThrowIfNull(itinerary);
        using var transaction = context.Database.BeginTransaction();
        if (context.Trips.Count(t => t.RigId == rigId && !t.Removed) >= MaxTrips) return null;
        var row = new TripRow { RigId = rigId, BeginsAt = itinerary.Begins, EndsAt = itinerary.Ends, CreatedAt = clock.GetCurrentInstant() };
        context.Trips.Add(row);
        context.SaveChanges();
        context.TripRevisions.Add(Revised(row, itinerary, who));
        context.SaveChanges();
        transaction.Commit();
        context.ChangeTracker.Clear();
        return row.Id;
    }

    /// <summary>Writes changed stops as a new revision.</summary>
    /// <param name="rigId">The rig.</param>
    /// <param name="id">The trip.</param>
    /// <param name="seen">The revision that was seen; null to change whatever there is.</param>
    /// <param name="change">The change; null leaves the trip as it is.</param>
    /// <param name="who">Who changes it.</param>
    /// <exception cref="NotStorableException">The changed stops could not be read again; nothing was written.</exception>
    public TripChange Change(int rigId, int id, int? seen, Func<Itinerary, Itinerary?> change, string who)
    {
        ArgumentNullException.ThrowIfNull(change);
        using var transaction = context.Database.BeginTransaction();
        if (context.Trips.FirstOrDefault(t => t.RigId == rigId && t.Id == id && !t.Removed) is not { } row || (seen is { } s && s != row.Revision))
            return TripChange.ChangedMeanwhile;
        if (Read(row, JsonOf(row)) is not { } present || change(present.Itinerary) is not { } changed) return TripChange.Refused;
        row.Revision++;
        (row.BeginsAt, row.EndsAt) = (changed.Begins, changed.Ends);
        context.TripRevisions.Add(Revised(row, changed, who));
        context.SaveChanges();
        transaction.Commit();
        context.ChangeTracker.Clear();
        return TripChange.Done;
    }

    /// <summary>Who changed a trip last; null if it is not there.</summary>
    public string? ChangedBy(int id) => context.TripRevisions.AsNoTracking().Where(r => r.TripId == id).OrderByDescending(r => r.Revision).Select(r => r.Who)
        .FirstOrDefault();

    /// <summary>Puts the stops of an earlier revision in force again, as a new revision.</summary>
    /// <returns>Whether it was there.</returns>
    public bool BackTo(int rigId, int id, int revision, string who)
    {
        var json = context.TripRevisions.AsNoTracking().FirstOrDefault(r => r.TripId == id && r.Revision == revision)?.Json;
        return json is not null && Change(rigId, id, null, _ => Stops(json), who) == TripChange.Done;
    }

    /// <summary>Takes a trip away, or puts it back.</summary>
    /// <returns>Whether the rig has it.</returns>
    public bool Remove(int rigId, int id, bool removed) =>
        context.Trips.Where(t => t.RigId == rigId && t.Id == id).ExecuteUpdate(u => u.SetProperty(t => t.Removed, removed)) == 1;

    /// <summary>The plan being carried out; null before the first look.</summary>
    public StoredProgress? Progress(int id) =>
        context.Trips.AsNoTracking().Where(t => t.Id == id).Select(t => new { t.Progress, t.ProgressVersion, t.ProgressRevision, t.ProgressRigRevision })
            .FirstOrDefault() is { Progress: { } bytes } p
            ? new StoredProgress(ItineraryFormat.ReadProgress(bytes), p.ProgressVersion, p.ProgressRevision, p.ProgressRigRevision) : null;

    /// <summary>Whether the plan being carried out was kept for these states of log, stops and rig.</summary>
    public bool ProgressIsOf(int id, long version, int revision, int rigRevision) =>
        context.Trips.Any(t => t.Id == id && t.Progress != null && t.ProgressVersion == version && t.ProgressRevision == revision
            && t.ProgressRigRevision == rigRevision);

    /// <summary>Keeps the plan being carried out.</summary>
    /// <param name="id">The trip.</param>
    /// <param name="progress">The plan and what it was made from.</param>
    /// <param name="levelsUntil">Levels beyond this moment are not kept.</param>
    public void Keep(int id, StoredProgress progress, Instant levelsUntil)
    {
        ArgumentNullException.ThrowIfNull(progress);
        var bytes = ItineraryFormat.WriteProgress(progress.Progress, levelsUntil);
        context.Trips.Where(t => t.Id == id).ExecuteUpdate(u => u.SetProperty(t => t.Progress, bytes).SetProperty(t => t.ProgressVersion, progress.Version)
            .SetProperty(t => t.ProgressRevision, progress.Revision).SetProperty(t => t.ProgressRigRevision, progress.RigRevision));
    }

    /// <summary>Makes the address of the trip's calendar anew; one that was given out before no longer works.</summary>
    /// <returns>The secret in the address, shown once; null if the rig has no such trip.</returns>
    public string? NewFeed(int rigId, int id)
    {
        var secret = Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(24));
        var hash = HashOf(secret);
        return context.Trips.Where(t => t.RigId == rigId && t.Id == id).ExecuteUpdate(u => u.SetProperty(t => t.FeedHash, hash)) == 1 ? secret : null;
    }

    /// <summary>Takes the calendar's address back.</summary>
    public bool DropFeed(int rigId, int id) => context.Trips.Where(t => t.RigId == rigId && t.Id == id)
        .ExecuteUpdate(u => u.SetProperty(t => t.FeedHash, (string?)null)) == 1;

    /// <summary>The trip whose calendar has this secret in its address; null for none.</summary>
    public StoredTrip? ByFeed(string secret)
    {
        var hash = HashOf(secret);
        return context.Trips.AsNoTracking().FirstOrDefault(t => t.FeedHash == hash && !t.Removed) is { } row ? Read(row, JsonOf(row)) : null;
    }

    private TripRevisionRow Revised(TripRow row, Itinerary itinerary, string who) =>
        new() { TripId = row.Id, Revision = row.Revision, Json = Gate.Itinerary(itinerary), At = clock.GetCurrentInstant(), Who = who };

    private string JsonOf(TripRow row) => context.TripRevisions.AsNoTracking().Where(r => r.TripId == row.Id && r.Revision == row.Revision).Select(r => r.Json)
        .FirstOrDefault() ?? "";

    // Unreadable stops give way to the newest ones that can be read.
    private StoredTrip? Read(TripRow row, string json)
    {
        if (Stops(json) is { } stops) return new(row.Id, row.RigId, stops.With(weather.Book(row.RigId)), row.Revision, row.Removed, row.FeedHash is not null);
        foreach (var earlier in context.TripRevisions.AsNoTracking().Where(r => r.TripId == row.Id).OrderByDescending(r => r.Revision)
            .Select(r => r.Json).ToList())
            if (Stops(earlier) is { } readable) return new(row.Id, row.RigId, readable, row.Revision, row.Removed, row.FeedHash is not null, SetAside: true);
        return null;
    }

    internal static Itinerary? Stops(string json) => ItineraryFormat.Read(Encoding.UTF8.GetBytes(json)).Value;

    private static string HashOf(string secret) => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(secret)));
}
