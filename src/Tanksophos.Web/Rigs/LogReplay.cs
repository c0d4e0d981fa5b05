using NodaTime;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Outlook;
using Tanksophos.Core.Rigs;
using Tanksophos.Data;

namespace Tanksophos.Web.Rigs;

/// <summary>
/// A rig's log in the order of time, played through the estimator as far as now, and what each entry changed: the whole, or the newest part of it.
/// </summary>
internal sealed partial class LogReplay(ILevelEstimator estimator, ILogger? logger)
{
    // Entries between two points from which the estimate can be resumed.
    private const int Stride = 1000, StrideOfNewest = 250;

    // Filters whose number of finds, and whose finds, are remembered.
    private const int MaxCounts = 200, MaxFinds = 20;

    // More entries than these that cannot be worked in are no accident of single entries.
    private const int MaxLeftOut = 20;

    [LoggerMessage(LogLevel.Error, "Entry {Key} could not be worked into the estimate and is left out of it")]
    private static partial void LeavesOut(ILogger log, string key, Exception e);

    private readonly HashSet<string> setAside = new(StringComparer.Ordinal), leftOut = new(StringComparer.Ordinal);
    private readonly List<LogChange> log = []; // in the order of time, then of sequence
    private readonly Dictionary<string, (Instant At, long Sequence)> places = new(StringComparer.Ordinal);
    private readonly HashSet<string> withdrawn = new(StringComparer.Ordinal);
    private readonly Dictionary<string, BeliefChange> changes = new(StringComparer.Ordinal);
    private readonly Checkpoints points = new();
    private readonly Dictionary<EntryFilter, int> counts = [];
    private long version = -1;
    private string description = "";
    private IRunningEstimate? running;
    private int taken; // how many entries of the log the running estimate has seen
    private bool partial; // only the newest entries are here
    private readonly Dictionary<EntryFilter, IReadOnlyList<long>> found = [];
    private IndexedLog? entries;
    private Judgements? judged;
    private (IndexedLog? Log, int Taken) judgedOf;
    private Rig? rig;
    private (Instant Minute, RigSnapshot RigSnapshot)? picture;
    private (Instant From, Instant Minute, IReadOnlyList<TankLookBack> Tanks)? lookBack;

    public int Count(EntryFilter filter, Func<EntryFilter, int> count)
    {
        if (filter == EntryFilter.None && !partial) return log.Count + withdrawn.Count + setAside.Count;
        if (counts.TryGetValue(filter, out var known)) return known;
        if (counts.Count > MaxCounts) counts.Clear();
        return counts[filter] = count(filter);
    }

    public IndexedLog Log => entries ??= new IndexedLog([.. log.Select(c => c.Entry!)]);

    public IReadOnlyList<long> Found(EntryFilter filter, Func<EntryFilter, IReadOnlyList<long>> find)
    {
        if (found.TryGetValue(filter, out var known)) return known;
        if (found.Count > MaxFinds) found.Clear();
        return found[filter] = find(filter);
    }

    public List<(LogEntry, BeliefChange?)> Stretch(Instant from, Instant to)
    {
        var first = Find(from, 0);
        var stretch = new List<(LogEntry, BeliefChange?)>();
        for (var i = first - 1; i >= 0 && stretch.Count == 0; i--) if (log[i].Entry is StayEntry stay) stretch.Add((stay, null));
        for (var i = first; i < log.Count && log[i].Entry!.Instant <= to; i++) stretch.Add((log[i].Entry!, Change(log[i].Key)));
        return stretch;
    }

    public BeliefChange? Change(string key) => changes.GetValueOrDefault(key);

    public int Taken => taken;

    /// <summary>How many entries are still to be worked out.</summary>
    public int Behind(Instant now)
    {
        if (taken < log.Count && log[^1].Entry!.Instant <= Minute(now)) return log.Count - taken;
        return Math.Max(0, Find(Minute(now), long.MaxValue) - taken);
    }

    /// <summary>The newest part of a log, going on from a saved estimate if there is one.</summary>
    public static LogReplay Newest(ILevelEstimator estimator, ILogger? logger, StoredRig rig, RigStore store, Instant now, int count)
    {
        var part = new LogReplay(estimator, logger) { partial = true, version = store.Log.Version(rig.Id), description = rig.Description };
        var recent = store.Log.Recent(rig.Id, count);
        foreach (var (change, _) in recent)
        {
            part.log.Add(change);
            part.places[change.Key] = (change.Entry!.Instant, change.Sequence);
        }
        var last = recent.Count > 0 ? Instant.Min(recent[^1].Entry.Entry!.Instant, now) : now;
        var options = new EstimateOptions(last - RigCache.TrackLength - Duration.FromDays(1));
        if (store.Checkpoints.Find(rig.Id) is { } kept && estimator.Resume(rig.Rig, kept.Point.Bytes, options) is { } resumed)
        {
            part.running = resumed;
            // What was taken into account then comes first; what was written since, and lies later, is still to come.
            while (part.taken < recent.Count && (recent[part.taken].Version <= kept.Point.Version || recent[part.taken].Entry.Entry!.Instant < kept.Point.At))
                part.taken++;
        }
        else part.running = estimator.Start(rig.Rig, options);
        part.points.Add(part.taken, part.running);
        return part;
    }

    /// <summary>The estimate as it can be saved; null if it has not seen the whole log.</summary>
    public Checkpoint? Point() => partial || running?.Last is not { } last || taken < log.Count ? null
        : new Checkpoint(version, last, running.Save());

    public IReadOnlyList<TankLookBack> LookBack(Instant from, Instant now)
    {
        if (lookBack is { } kept && kept.From == from && Minute(now) >= kept.Minute && Minute(now) - kept.Minute < Judgements.Lasts) return kept.Tanks;
        // From the point before it, or from where the log here begins.
        var point = points.Latest(t => t == 0 || log[t - 1].Entry!.Instant <= from) ?? (partial ? points.First : null);
        var (first, start) = point ?? (0, estimator.Start(rig!));
        var minute = Minute(now);
        var looked = LevelSmoother.Compute(start, [.. log.Skip(first).Select(c => c.Entry!).TakeWhile(e => e.Instant <= minute)],
            minute.WithOffset(Offset.Zero), from);
        lookBack = (from, minute, looked);
        return looked;
    }

    /// <summary>Takes in what has changed; what follows from it is worked out by <see cref="Run"/>.</summary>
    public void Take(StoredRig stored, RigStore store, Instant now)
    {
        rig = stored.Rig;
        var present = store.Log.Version(stored.Id);
        if (present == version && description == stored.Description) return;
        var before = log.Count;
        var from = description == stored.Description ? before : 0;
        if (present != version)
        {
            var same = Apply(store.Log.Changes(stored.Id, Math.Max(version, 0)));
            from = Math.Min(from, same);
            // What came at the end is added to what is known of the log; anything else begins it anew.
            entries = entries is not null && same == before && entries.Count == before ? entries.Append([.. log.Skip(before).Select(c => c.Entry!)]) : null;
        }
        if (description != stored.Description) (running, taken) = (null, 0);
        version = present;
        if (description != stored.Description) judged = null;
        description = stored.Description;
        picture = null;
        lookBack = null;
        counts.Clear();
        found.Clear();
        if (running is null || from < taken) Rewind(from, now);
    }

    public RigSnapshot RigSnapshot(StoredRig rig, Instant now)
    {
        var minute = Minute(now);
        if (picture is { } kept && kept.Minute == minute) return kept.RigSnapshot;
        var at = minute.WithOffset(Offset.Zero);
        var logbook = new Logbook(rig.Rig, Log, at);
        var belief = running!.At(at);
        belief = belief with { Tanks = [.. belief.Tanks.Select(t => t with { Track = [.. t.Track.Where(p => p.At >= minute - RigCache.TrackLength)] })] };
        if (judged is null || minute - judged.At >= Judgements.Lasts || minute < judged.At || judgedOf != (Log, taken))
            (judged, judgedOf) = (new Judgements(logbook, belief), (Log, taken));
        var made = new RigSnapshot(logbook, belief, Advice.For(logbook, belief))
        {
            Judged = judged,
            SetAside = setAside.Count,
            LeftOut = leftOut.Count == 0
            ? [] : [.. log.Where(c => leftOut.Contains(c.Key)).Select(c => c.Entry!)]
        };
        picture = (minute, made);
        return made;
    }

    private static Instant Minute(Instant now) => Instant.FromUnixTimeSeconds(now.ToUnixTimeSeconds() / 60 * 60 + 59);

    // Returns how much of the log, from its start, is as it was.
    private int Apply(IReadOnlyList<LogChange> touched)
    {
        var same = log.Count;
        var floor = partial && log.Count > 0 ? log[0].Entry!.Instant : Instant.MinValue;
        foreach (var change in touched)
        {
            if (places.Remove(change.Key, out var place))
            {
                var old = Find(place.At, place.Sequence);
                log.RemoveAt(old);
                same = Math.Min(same, old);
            }
            withdrawn.Remove(change.Key);
            setAside.Remove(change.Key);
            leftOut.Remove(change.Key);
            if (change.Entry is not { } entry)
            {
                (change.SetAside ? setAside : withdrawn).Add(change.Key);
                continue;
            }
            if (entry.Instant < floor) continue; // the whole will know
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

    private void Rewind(int to, Instant now)
    {
        if (running is null) points.Clear();
        points.DropAfter(to, keepFirst: partial);
        foreach (var c in log.Skip(points.Last?.Taken ?? 0)) changes.Remove(c.Key);
        foreach (var key in withdrawn.Concat(setAside)) changes.Remove(key);
        (taken, running) = points.Last is { } last ? (last.Taken, last.Estimate.Copy()) : (0, Begin(now));
    }

    /// <summary>Works out what has not been yet.</summary>
    /// <param name="now">Entries later than this minute wait.</param>
    /// <param name="report">Told the share done now and then.</param>
    public void Run(Instant now, Action<double>? report = null)
    {
        var until = Minute(now);
        var first = taken;
        while (taken < log.Count && log[taken].Entry!.Instant <= until)
        {
            if (taken % 100 == 0) report?.Invoke((double)taken / log.Count);
            if (taken > 0 && taken % (partial ? StrideOfNewest : Stride) == 0 && (points.Last is not { } latest || latest.Taken < taken))
                points.Add(taken, running!);
            var next = log[taken];
            try
            {
                if (!leftOut.Contains(next.Key) && running!.Add(next.Entry!) is { } change) changes[next.Key] = change;
                taken++;
            }
            catch (Exception e) when (e is not OperationCanceledException && leftOut.Count < MaxLeftOut)
            {
                // One entry that cannot be worked in does not take the others along: the estimate goes on from the point before it, without it.
                if (logger is not null) LeavesOut(logger, next.Key, e);
                leftOut.Add(next.Key);
                changes.Remove(next.Key);
                if (points.Last is { } point) (taken, running) = (point.Taken, point.Estimate.Copy());
                else (taken, running) = (0, Begin(now));
            }
        }
        if (taken > first) picture = null;
    }

    // The level over time is kept from a little before it is first drawn.
    private IRunningEstimate Begin(Instant now)
    {
        var last = log.Count > 0 ? Instant.Min(log[^1].Entry!.Instant, now) : now;
        return estimator.Start(rig!, new EstimateOptions(Instant.Min(last, now) - RigCache.TrackLength - Duration.FromDays(1)));
    }
}
