using System.Collections.Concurrent;
using NodaTime;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Data;

namespace Tanksophos.Web.Rigs;

/// <summary>
/// Remembers of each rig its log in the order of time, the estimate up to the last entry with points to resume it from, and what each entry changed.
/// A new entry at the end costs one step; one further back, the steps since the point before it. Where that is much (a large import, an entry years
/// back, the first look after a start), it is worked out in the background; until then the answer comes from the newest entries and a saved estimate.
/// Nothing here is truth; it can be dropped at any time.
/// </summary>
/// <param name="estimator">The estimator.</param>
/// <param name="clock">The present moment.</param>
/// <param name="folder">Where the background reads the log and saved estimates lie; null for neither.</param>
/// <param name="log">Where it is written down if something cannot be worked out.</param>
public sealed partial class RigCache(ILevelEstimator estimator, IClock clock, DataFolder? folder = null, ILogger<RigCache>? log = null)
{
    /// <summary>How far back the level is kept for the drawing.</summary>
    public static readonly Duration TrackLength = Duration.FromDays(7);

    /// <summary>More entries to work out than these would keep a person waiting.</summary>
    public const int Much = 4000;

    private readonly ConcurrentDictionary<int, CachedRig> rigs = new();

    /// <summary>The picture of a rig at the present minute.</summary>
    public RigSnapshot Now(StoredRig rig, RigStore store)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(store);
        var remembered = rigs.GetOrAdd(rig.Id, _ => new CachedRig(estimator, clock, folder, log));
        lock (remembered)
        {
            try
            {
                var picture = remembered.Serve(rig, store).RigSnapshot(rig, clock.GetCurrentInstant());
                var (done, failing) = (remembered.Working ? remembered.Done : (double?)null, remembered.Failing);
                if (done != picture.WorkingOut || failing != picture.Stale) picture = picture with { WorkingOut = done, Stale = failing };
                if (!remembered.Failing) remembered.LastGood = picture;
                return picture;
            }
            catch (Exception e) when (remembered.LastGood is not null && e is not Microsoft.Data.Sqlite.SqliteException)
            {
                if (log is not null) NotWorkedOut(log, rig.Id, e);
                return remembered.LastGood with { WorkingOut = null, Stale = true };
            }
        }
    }

    /// <summary>
    /// Keeps the estimate for taking it up after a restart, if it is time to. Called when something was written down; looking at a page writes nothing.
    /// </summary>
    public void Keep(StoredRig rig, RigStore store)
    {
        ArgumentNullException.ThrowIfNull(rig);
        if (!rigs.TryGetValue(rig.Id, out var remembered)) return;
        lock (remembered) remembered.Keep(rig, store);
    }

    [LoggerMessage(LogLevel.Error, "The estimate of rig {Rig} could not be worked out")]
    private static partial void NotWorkedOut(ILogger log, int rig, Exception e);

    /// <summary>
    /// What entries changed in the belief about their tanks, by key; an entry that is out of the log, means no tank, lies ahead or is still to be worked out
    /// has none.
    /// </summary>
    public IReadOnlyDictionary<string, BeliefChange> Changes(StoredRig rig, RigStore store, IEnumerable<string> keys) =>
        Get(rig, store, (r, _) => keys.Select(k => (Key: k, Change: r.Change(k))).Where(c => c.Change is not null).ToDictionary(c => c.Key, c => c.Change!));

    /// <summary>How many entries the logbook shows with a filter, withdrawn ones included.</summary>
    public int Count(StoredRig rig, RigStore store, EntryFilter filter) => Get(rig, store, (r, _) => r.Count(filter, f => store.Log.Count(rig.Id, f)));

    /// <summary>The rows that a search for words finds, newest first; looked for once for each state of the log.</summary>
    public IReadOnlyList<long> Found(StoredRig rig, RigStore store, EntryFilter filter) =>
        Get(rig, store, (r, _) => r.Found(filter, f => store.Log.Find(rig.Id, f)));

    /// <summary>A stretch of the log, both ends included, with what each entry changed; before it, the stay in force at its start.</summary>
    public IReadOnlyList<(LogEntry Entry, BeliefChange? Change)> Stretch(StoredRig rig, RigStore store, Instant from, Instant to) =>
        Get(rig, store, (r, _) => r.Stretch(from, to));

    /// <summary>The log in the order of time; while older entries are worked out, the newest of it.</summary>
    public IReadOnlyList<LogEntry> Log(StoredRig rig, RigStore store) => Get(rig, store, (r, _) => r.Log);

    /// <summary>A stretch of the log up to now, looked back on.</summary>
    public IReadOnlyList<TankLookBack> LookBack(StoredRig rig, RigStore store, Instant from) =>
        Get(rig, store, (r, _) => r.LookBack(from, clock.GetCurrentInstant()));

    /// <summary>The share of a rig's log that is worked out, 0..1; null if all of it is.</summary>
    public double? Progress(int rigId)
    {
        if (!rigs.TryGetValue(rigId, out var remembered)) return null;
        lock (remembered) return remembered.Working ? remembered.Done : null;
    }

    /// <summary>
    /// Lets go of rigs that nobody has asked for in a while, where many are remembered: what was worked out for them is worked out again when it is wanted.
    /// </summary>
    /// <param name="idle">For how long nobody has asked.</param>
    /// <param name="most">So many entries are kept in memory whoever asks for them or not.</param>
    /// <returns>How many rigs were let go of.</returns>
    public int Rest(Duration idle, int most)
    {
        var now = clock.GetCurrentInstant();
        var let = 0;
        var held = rigs.Values.Sum(r => (long)r.Entries);
        foreach (var (id, remembered) in rigs.OrderBy(r => r.Value.AskedAt).ToList())
        {
            if (held <= most || now - remembered.AskedAt < idle) break;
            if (remembered.Working || !rigs.TryRemove(new KeyValuePair<int, CachedRig>(id, remembered))) continue;
            held -= remembered.Entries;
            let++;
        }
        return let;
    }

    /// <summary>Waits for what is worked out in the background.</summary>
    public Task Idle() => Task.WhenAll(rigs.Values.Select(r => r.Work ?? Task.CompletedTask));

    /// <summary>Forgets everything: the database was replaced.</summary>
    public void Clear()
    {
        foreach (var id in rigs.Keys) Forget(id);
    }

    /// <summary>Forgets one rig.</summary>
    public void Forget(int rigId)
    {
        if (rigs.TryRemove(rigId, out var remembered)) remembered.Stop();
    }

    private T Get<T>(StoredRig rig, RigStore store, Func<LogReplay, double?, T> ask)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(store);
        var remembered = rigs.GetOrAdd(rig.Id, _ => new CachedRig(estimator, clock, folder, log));
        lock (remembered)
        {
            var whole = remembered.Serve(rig, store);
            return ask(whole, remembered.Working ? remembered.Done : null);
        }
    }
}
