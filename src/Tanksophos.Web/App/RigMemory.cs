using System.Collections.Concurrent;
using NodaTime;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Outlook;
using Tanksophos.Data;
using Tanksophos.Web.Drawing;

namespace Tanksophos.Web.App;

/// <summary>A rig's log, what is believed about it now, and what follows from that.</summary>
public sealed record Picture(Logbook Logbook, LevelBelief Belief, Advice Advice)
{
    private RibbonGeometry? ribbon;

    /// <summary>The ribbon of it in a local time; kept for the next who asks in the same zone.</summary>
    public RibbonGeometry Ribbon(DateTimeZone zone) => ribbon is { } kept && kept.Zone.Equals(zone) ? kept : ribbon = new RibbonGeometry(this, zone);
}

/// <summary>
/// Remembers of each rig its log in the order of time, the estimate up to the last entry with points to resume it from, and what each entry changed.
/// A new entry at the end costs one step; one further back, the steps since the point before it. Nothing here is truth; it can be dropped at any time.
/// </summary>
public sealed class RigMemory(ILevelEstimator estimator, IClock clock)
{
    /// <summary>How far back the level is kept for the drawing.</summary>
    public static readonly Duration TrackLength = Duration.FromDays(7);

    // Entries between two points from which the estimate can be resumed.
    private const int Stride = 1000;

    // Filters whose number of finds is remembered.
    private const int MostCounts = 200;

    private readonly ConcurrentDictionary<int, Remembered> rigs = new();

    /// <summary>The picture of a rig at the present minute.</summary>
    public Picture Now(StoredRig rig, RigStore store) => Get(rig, store, r => r.Picture(rig, clock.GetCurrentInstant()));

    /// <summary>What entries changed in the belief about their tanks, by key; an entry that is out of the log, means no tank, or lies ahead has none.</summary>
    public IReadOnlyDictionary<string, BeliefChange> Changes(StoredRig rig, RigStore store, IEnumerable<string> keys) =>
        Get(rig, store, r => keys.Select(k => (Key: k, Change: r.Change(k))).Where(c => c.Change is not null).ToDictionary(c => c.Key, c => c.Change!));

    /// <summary>How many entries the logbook shows with a filter, withdrawn ones included.</summary>
    public int Count(StoredRig rig, RigStore store, EntryFilter filter) => Get(rig, store, r => r.Count(filter, f => store.Count(rig.Id, f)));

    /// <summary>A stretch of the log, both ends included, with what each entry changed; before it, the stay in force at its start.</summary>
    public IReadOnlyList<(LogEntry Entry, BeliefChange? Change)> Stretch(StoredRig rig, RigStore store, Instant from, Instant to) => Get(rig, store, r => r.Stretch(from, to));

    /// <summary>The log in the order of time.</summary>
    public IReadOnlyList<LogEntry> Log(StoredRig rig, RigStore store) => Get(rig, store, r => r.Log);

    /// <summary>Forgets everything: the database was replaced.</summary>
    public void Clear() => rigs.Clear();

    /// <summary>Forgets one rig.</summary>
    public void Forget(int rigId) => rigs.TryRemove(rigId, out _);

    private T Get<T>(StoredRig rig, RigStore store, Func<Remembered, T> ask)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(store);
        var remembered = rigs.GetOrAdd(rig.Id, _ => new Remembered(estimator));
        lock (remembered)
        {
            remembered.Update(rig, store, clock.GetCurrentInstant());
            return ask(remembered);
        }
    }

    private sealed class Remembered(ILevelEstimator estimator)
    {
        private readonly List<LogChange> log = []; // in the order of time, then of sequence
        private readonly Dictionary<string, (Instant At, long Sequence)> places = new(StringComparer.Ordinal);
        private readonly HashSet<string> withdrawn = new(StringComparer.Ordinal);
        private readonly Dictionary<string, BeliefChange> changes = new(StringComparer.Ordinal);
        private readonly List<(int Taken, IRunningEstimate Estimate)> points = [];
        private readonly Dictionary<EntryFilter, int> counts = [];
        private long version = -1;
        private string description = "";
        private IRunningEstimate? running;
        private int taken; // how many entries of the log the running estimate has seen
        private IReadOnlyList<LogEntry>? entries;
        private (Instant Minute, Picture Picture)? picture;

        public int Count(EntryFilter filter, Func<EntryFilter, int> count)
        {
            if (filter == EntryFilter.None) return log.Count + withdrawn.Count;
            if (counts.TryGetValue(filter, out var known)) return known;
            if (counts.Count > MostCounts) counts.Clear();
            return counts[filter] = count(filter);
        }

        public IReadOnlyList<LogEntry> Log => entries ??= [.. log.Select(c => c.Entry!)];

        public List<(LogEntry, BeliefChange?)> Stretch(Instant from, Instant to)
        {
            var first = Find(from, 0);
            var stretch = new List<(LogEntry, BeliefChange?)>();
            for (var i = first - 1; i >= 0 && stretch.Count == 0; i--) if (log[i].Entry is StayEntry stay) stretch.Add((stay, null));
            for (var i = first; i < log.Count && log[i].Entry!.Instant <= to; i++) stretch.Add((log[i].Entry!, Change(log[i].Key)));
            return stretch;
        }

        public BeliefChange? Change(string key) => changes.GetValueOrDefault(key);

        public void Update(StoredRig rig, RigStore store, Instant now)
        {
            var present = store.Version(rig.Id);
            if (present == version && description == rig.Description)
            {
                if (taken < log.Count && log[taken].Entry!.Instant <= Minute(now)) Run(now); // what lay ahead has come
                return;
            }
            var from = description == rig.Description ? log.Count : 0;
            if (present != version) from = Math.Min(from, Apply(store.Changes(rig.Id, Math.Max(version, 0))));
            if (description != rig.Description) (running, taken) = (null, 0);
            version = present;
            description = rig.Description;
            entries = null;
            picture = null;
            counts.Clear();
            if (running is null || from < taken) Rewind(rig, from, now);
            Run(now);
        }

        public Picture Picture(StoredRig rig, Instant now)
        {
            var minute = Minute(now);
            if (picture is { } kept && kept.Minute == minute) return kept.Picture;
            var at = minute.WithOffset(Offset.Zero);
            var logbook = new Logbook(rig.Rig, Log, at);
            var belief = running!.At(at);
            belief = belief with { Tanks = [.. belief.Tanks.Select(t => t with { Track = [.. t.Track.Where(p => p.At >= minute - TrackLength)] })] };
            var made = new Picture(logbook, belief, Advice.For(logbook, belief));
            picture = (minute, made);
            return made;
        }

        private static Instant Minute(Instant now) => Instant.FromUnixTimeSeconds(now.ToUnixTimeSeconds() / 60 * 60 + 59);

        // Returns how much of the log, from its start, is as it was.
        private int Apply(IReadOnlyList<LogChange> touched)
        {
            var same = log.Count;
            foreach (var change in touched)
            {
                if (places.Remove(change.Key, out var place))
                {
                    var old = Find(place.At, place.Sequence);
                    log.RemoveAt(old);
                    same = Math.Min(same, old);
                }
                withdrawn.Remove(change.Key);
                if (change.Entry is not { } entry)
                {
                    withdrawn.Add(change.Key);
                    continue;
                }
                var at = Find(entry.Instant, change.Sequence);
                log.Insert(at, change);
                places[change.Key] = (entry.Instant, change.Sequence);
                same = Math.Min(same, at);
            }
            return same;
        }

        private int Find(Instant at, long sequence)
        {
            int low = 0, high = log.Count;
            while (low < high)
            {
                var mid = (low + high) / 2;
                var there = log[mid];
                var order = there.Entry!.Instant.CompareTo(at);
                if (order == 0) order = there.Sequence.CompareTo(sequence);
                if (order < 0) low = mid + 1;
                else high = mid;
            }
            return low;
        }

        private void Rewind(StoredRig rig, int to, Instant now)
        {
            if (running is null) points.Clear();
            points.RemoveAll(p => p.Taken > to);
            foreach (var c in log.Skip(Math.Max(0, points.Count == 0 ? 0 : points[^1].Taken))) changes.Remove(c.Key);
            foreach (var key in withdrawn) changes.Remove(key);
            if (points.Count > 0) (taken, running) = (points[^1].Taken, points[^1].Estimate.Copy());
            else
            {
                // The level over time is kept from a little before it is first drawn.
                var last = log.Count > 0 ? Instant.Min(log[^1].Entry!.Instant, now) : now;
                (taken, running) = (0, estimator.Start(rig.Rig, new EstimateOptions(Instant.Min(last, now) - TrackLength - Duration.FromDays(1))));
            }
        }

        private void Run(Instant now)
        {
            var until = Minute(now);
            for (; taken < log.Count && log[taken].Entry!.Instant <= until; taken++)
            {
                if (taken > 0 && taken % Stride == 0 && (points.Count == 0 || points[^1].Taken < taken)) points.Add((taken, running!.Copy()));
                if (running!.Add(log[taken].Entry!) is { } change) changes[log[taken].Key] = change;
            }
            picture = null;
        }
    }
}
