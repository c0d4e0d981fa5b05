using System.Collections.Concurrent;
using NodaTime;
using Tanksophos.Core.Agendas;
using Tanksophos.Core.Trips;
using Tanksophos.Data;

namespace Tanksophos.Web.Rigs;

/// <summary>A trip with its plan as of now.</summary>
/// <param name="Stored">The trip.</param>
/// <param name="Trip">As it stands now; null if no stop is left.</param>
/// <param name="Plan">Its plan; null if no stop is left.</param>
/// <param name="Progress">What is done of it and how it changed.</param>
public sealed record TripNow(StoredTrip Stored, Trip? Trip, Plan? Plan, TripProgress Progress)
{
    private IReadOnlyList<DryStay>? dry;

    /// <summary>How long the tanks last where there is no sewer.</summary>
    public IReadOnlyList<DryStay> DryStays => dry ??= Trip is { } t && Plan is { } p ? DryStay.Compute(t, p) : [];

    // Once for a plan, however often it is asked for.
    private readonly Lazy<LookedPlan?> looked = new(() => Trip is { } t && Plan is { } p ? PlanLooks.For(t, p) : null);

    /// <summary>The looks on the way that are worth taking, and what they bring; null without a plan.</summary>
    public LookedPlan? Looked => looked.Value;

    /// <summary>Name of a stop, of those that are over too; null if it is gone.</summary>
    public string? NameOf(string id) => Trip?.Stops.FirstOrDefault(s => s.Id == id)?.Name ?? Stored.Itinerary.Stops.FirstOrDefault(s => s.Id == id)?.Name;

    /// <summary>The stop of an action; where the rig stands now is one too.</summary>
    public Stop Stop(string id) => Trip?.Stops.FirstOrDefault(s => s.Id == id) ?? Stored.Itinerary.Stops.First(s => s.Id == id);
}

/// <summary>Remembers plans until an entry, a changed stop or half an hour makes them old. Nothing here is truth.</summary>
public sealed class PlanMemory
{
    /// <summary>How long a plan stands while nothing changes.</summary>
    public static readonly Duration Lasts = Duration.FromMinutes(30);

    private readonly ConcurrentDictionary<int, Remembered> plans = new();

    internal sealed record Remembered(int Revision, int RigRevision, long Version, double? WorkingOut, Instant At, TripNow Now)
    {
        /// <summary>Whether it was written down.</summary>
        public bool Kept { get; init; }
    }

    internal Remembered? Find(int tripId) => plans.GetValueOrDefault(tripId);

    internal void Keep(int tripId, Remembered remembered) => plans[tripId] = remembered;

    /// <summary>Forgets everything: the database was replaced.</summary>
    public void Clear() => plans.Clear();
}

/// <summary>Plans a rig's trips from the present belief, and keeps account of what is done of them.</summary>
public sealed class TripService(TripStore trips, RigStore store, RigCache memory, PlanMemory plans, IClock clock)
{
    // The newest entries among which the doing of a plan is looked for, and the days of levels that are kept for comparing.
    private const int Newest = 300, DaysKept = 10;

    /// <summary>The trip that is under way or next, with its plan; null if there is none.</summary>
    public TripNow? Current(StoredRig rig)
    {
        ArgumentNullException.ThrowIfNull(rig);
        return trips.Current(rig.Id, clock.GetCurrentInstant()) is { } trip ? Of(rig, trip) : null;
    }

    /// <summary>
    /// Keeps account of the trip under way: what of its plan is done, and how the plan changed. Called before something is written down, so that the plan it
    /// was done by is known, and after it; looking at a page, or a calendar that asks, writes nothing.
    /// </summary>
    /// <param name="rig">The rig.</param>
    /// <param name="plan">Whether to plan anew if the plan at hand is not of now; otherwise only what somebody has looked at is kept.</param>
    public void Follow(StoredRig rig, bool plan)
    {
        ArgumentNullException.ThrowIfNull(rig);
        var now = clock.GetCurrentInstant();
        if (trips.Current(rig.Id, now) is not { } trip || memory.Progress(rig.Id) is not null) return;
        var version = store.Log.Version(rig.Id);
        var made = plans.Find(trip.Id);
        if (made is null || made.Version != version || made.Revision != trip.Revision || made.RigRevision != rig.Revision)
        {
            if (!plan || trips.ProgressIsOf(trip.Id, version, trip.Revision, rig.Revision)) return;
            Of(rig, trip);
            made = plans.Find(trip.Id);
        }
        if (made is null or { Kept: true } or { Now.Plan: null } or { WorkingOut: not null }) return;
        trips.Keep(trip.Id, new StoredProgress(made.Now.Progress, version, trip.Revision, rig.Revision), now + Duration.FromDays(DaysKept));
        plans.Keep(trip.Id, made with { Kept = true });
    }

    /// <summary>A trip with its plan.</summary>
    public TripNow Of(StoredRig rig, StoredTrip trip)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(trip);
        var now = clock.GetCurrentInstant();
        var version = store.Log.Version(rig.Id);
        var picture = memory.Now(rig, store);
        if (plans.Find(trip.Id) is { } known && known.Revision == trip.Revision && known.RigRevision == rig.Revision && known.Version == version
            && known.WorkingOut == picture.WorkingOut && now - known.At < PlanMemory.Lasts && now >= known.At)
            return known.Now with { Stored = trip };
        // From the last look, which may be newer than what was written down.
        var before = plans.Find(trip.Id) is { } last ? new StoredProgress(last.Now.Progress, last.Version, last.Revision, last.RigRevision)
            : trips.Progress(trip.Id);
        var progress = before?.Progress ?? TripProgress.None;
        var present = Present(trip.Itinerary, picture);
        var plan = present is null ? null : Planner.Make(present);
        if (present is not null && plan is not null && picture.WorkingOut is null)
        {
            var entries = store.Log.Recent(rig.Id, Newest).Where(e => e.Entry.Entry is not null).Select(e => (e.Entry.Key, e.Entry.Entry!)).ToList();
            progress = progress.Advance(present, plan, entries, before is not null && before.Revision != trip.Revision, before is not null
                && before.RigRevision != rig.Revision);
        }
        var made = new TripNow(trip, present, plan, progress);
        plans.Keep(trip.Id, new PlanMemory.Remembered(trip.Revision, rig.Revision, version, picture.WorkingOut, now, made));
        return made;
    }

    /// <summary>The stops as a trip that begins now; null if none is left.</summary>
    public Trip? Present(StoredRig rig, Itinerary itinerary)
    {
        ArgumentNullException.ThrowIfNull(rig);
        return Present(itinerary, memory.Now(rig, store));
    }

    private static Trip? Present(Itinerary itinerary, RigSnapshot picture) =>
        new Situation(picture.Logbook, picture.Belief, picture.Advice, picture.Sensors, picture.Faults).Present(itinerary);
}
