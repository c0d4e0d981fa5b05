using System.Collections.Concurrent;
using NodaTime;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Outlook;
using Tanksophos.Core.Rigs;
using Tanksophos.Data;

namespace Tanksophos.Web.App;

/// <summary>A rig's log, what is believed about it now, and what follows from that.</summary>
public sealed record RigSnapshot(Logbook Logbook, LevelBelief Belief, Advice Advice)
{
    private Judgements? judgements;

    /// <summary>The share of the log that is worked out, 0..1, while the rest still is; null if all of it is.</summary>
    public double? WorkingOut { get; init; }

    /// <summary>How many entries cannot be read, and are set aside.</summary>
    public int SetAside { get; init; }

    /// <summary>Entries that could not be worked in, and are left out of the estimate.</summary>
    public IReadOnlyList<LogEntry> LeftOut { get; init; } = [];

    /// <summary>Whether working out failed and will be tried again: this is the last good estimate, or the one from the newest entries.</summary>
    public bool Stale { get; init; }

    /// <summary>What is judged from the log and the belief; shared by the pictures of some minutes, as long as nothing is written.</summary>
    internal Judgements Judged { get => judgements ??= new Judgements(Logbook, Belief); init => judgements = value; }

    /// <summary>What there is to say of the sensors; made when it is first asked for.</summary>
    public SensorReport Sensors => Judged.Sensors;

    /// <summary>What is wrong beside the lamps; made when it is first asked for.</summary>
    public FaultReport Faults => Judged.Faults;

    /// <summary>When gas was noticed that nobody has ruled out since, by an alarm or a strong smell; null if none was.</summary>
    public (Instant Since, string Because)? Gas => Core.Agendas.Court.Gas(Belief, Logbook.InOrder(), Belief.AsOf?.ToInstant() ?? Instant.MinValue);

}

/// <summary>What the judges say of a log and the belief in it: made when it is first asked for, and good for a while.</summary>
internal sealed class Judgements(Logbook logbook, LevelBelief belief)
{
    /// <summary>How long what was judged is shown while nothing is written: signs change with days, not with minutes.</summary>
    public static readonly Duration Lasts = Duration.FromMinutes(10);

    private readonly Lazy<SensorReport> sensors = new(() => SensorReport.Of(logbook, belief));
    private readonly Lazy<FaultReport> faults = new(() => FaultReport.Of(logbook, belief));

    /// <summary>When they were made.</summary>
    public Instant At { get; } = logbook.AsOf?.ToInstant() ?? Instant.MinValue;

    public SensorReport Sensors => sensors.Value;

    public FaultReport Faults => faults.Value;
}

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

    // Entries between two points from which the estimate can be resumed, and between two that are saved.
    private const int Stride = 1000, StrideOfNewest = 250, SavedEvery = 200;

    // Points kept of one rig.
    private const int MostPoints = 16;

    // The newest entries from which the answer comes while the rest is worked out.
    private const int Newest = 2000;

    // Filters whose number of finds, and whose finds, are remembered.
    private const int MostCounts = 200, MostFinds = 20;

    // After a failure in the background it is tried again after so long, the last of them over and over.
    private static readonly Duration[] TriedAgainAfter = [Duration.FromMinutes(1), Duration.FromMinutes(5), Duration.FromMinutes(30)];

    // More entries than these that cannot be worked in are no accident of single entries.
    private const int MostLeftOut = 20;

    private readonly ConcurrentDictionary<int, Remembered> rigs = new();

    /// <summary>The picture of a rig at the present minute.</summary>
    public RigSnapshot Now(StoredRig rig, RigStore store)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(store);
        var remembered = rigs.GetOrAdd(rig.Id, _ => new Remembered(estimator, clock, folder, log));
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

    /// <summary>Keeps the estimate for taking it up after a restart, if it is time to. Called when something was written down; looking at a page writes nothing.</summary>
    public void Keep(StoredRig rig, RigStore store)
    {
        ArgumentNullException.ThrowIfNull(rig);
        if (!rigs.TryGetValue(rig.Id, out var remembered)) return;
        lock (remembered) remembered.Keep(rig, store);
    }

    [LoggerMessage(LogLevel.Error, "The estimate of rig {Rig} could not be worked out")]
    private static partial void NotWorkedOut(ILogger log, int rig, Exception e);

    [LoggerMessage(LogLevel.Error, "Entry {Key} could not be worked into the estimate and is left out of it")]
    private static partial void LeavesOut(ILogger log, string key, Exception e);

    [LoggerMessage(LogLevel.Warning, "The estimate of rig {Rig} could not be kept for the next start: {Why}")]
    private static partial void NotKept(ILogger log, int rig, string why);

    /// <summary>What entries changed in the belief about their tanks, by key; an entry that is out of the log, means no tank, lies ahead or is still to be worked out has none.</summary>
    public IReadOnlyDictionary<string, BeliefChange> Changes(StoredRig rig, RigStore store, IEnumerable<string> keys) =>
        Get(rig, store, (r, _) => keys.Select(k => (Key: k, Change: r.Change(k))).Where(c => c.Change is not null).ToDictionary(c => c.Key, c => c.Change!));

    /// <summary>How many entries the logbook shows with a filter, withdrawn ones included.</summary>
    public int Count(StoredRig rig, RigStore store, EntryFilter filter) => Get(rig, store, (r, _) => r.Count(filter, f => store.Count(rig.Id, f)));

    /// <summary>The rows that a search for words finds, newest first; looked for once for each state of the log.</summary>
    public IReadOnlyList<long> Found(StoredRig rig, RigStore store, EntryFilter filter) => Get(rig, store, (r, _) => r.Found(filter, f => store.Find(rig.Id, f)));

    /// <summary>A stretch of the log, both ends included, with what each entry changed; before it, the stay in force at its start.</summary>
    public IReadOnlyList<(LogEntry Entry, BeliefChange? Change)> Stretch(StoredRig rig, RigStore store, Instant from, Instant to) => Get(rig, store, (r, _) => r.Stretch(from, to));

    /// <summary>The log in the order of time; while older entries are worked out, the newest of it.</summary>
    public IReadOnlyList<LogEntry> Log(StoredRig rig, RigStore store) => Get(rig, store, (r, _) => r.Log);

    /// <summary>A stretch of the log up to now, looked back on.</summary>
    public IReadOnlyList<TankLookBack> LookBack(StoredRig rig, RigStore store, Instant from) => Get(rig, store, (r, _) => r.LookBack(from, clock.GetCurrentInstant()));

    /// <summary>The share of a rig's log that is worked out, 0..1; null if all of it is.</summary>
    public double? Progress(int rigId)
    {
        if (!rigs.TryGetValue(rigId, out var remembered)) return null;
        lock (remembered) return remembered.Working ? remembered.Done : null;
    }

    /// <summary>Lets go of rigs that nobody has asked for in a while, where many are remembered: what was worked out for them is worked out again when it is wanted.</summary>
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
            if (remembered.Working || !rigs.TryRemove(new KeyValuePair<int, Remembered>(id, remembered))) continue;
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

    private T Get<T>(StoredRig rig, RigStore store, Func<Whole, double?, T> ask)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(store);
        var remembered = rigs.GetOrAdd(rig.Id, _ => new Remembered(estimator, clock, folder, log));
        lock (remembered)
        {
            var whole = remembered.Serve(rig, store);
            return ask(whole, remembered.Working ? remembered.Done : null);
        }
    }

    /// <summary>What is remembered of one rig: the whole, or, while that is worked out, the newest part of it.</summary>
    private sealed class Remembered(ILevelEstimator estimator, IClock clock, DataFolder? folder, ILogger? log)
    {
        private volatile bool stopped;
        private Whole? whole, newest;
        private int saved = -1, failures;
        private Instant failedAt;
        private double done;

        public Task? Work { get; private set; }

        /// <summary>Whether the last try in the background failed and the next is not yet due.</summary>
        public bool Failing { get; private set; }

        /// <summary>When somebody last asked for the rig.</summary>
        public Instant AskedAt { get; private set; } = clock.GetCurrentInstant();

        /// <summary>About how many entries are held for it.</summary>
        public int Entries => Volatile.Read(ref entries);

        private int entries;

        /// <summary>The last picture that could be made.</summary>
        public RigSnapshot? LastGood { get; set; }

        public bool Working => Work is { IsCompleted: false };

        public double Done => Volatile.Read(ref done);

        public void Stop()
        {
            stopped = true;
            try
            {
                Work?.Wait();
            }
            catch (AggregateException)
            {
                // What is dropped need not end well.
            }
        }

        public Whole Serve(StoredRig rig, RigStore store)
        {
            var now = clock.GetCurrentInstant();
            AskedAt = now;
            if (!Working)
            {
                Ended(rig, now);
                if (whole is null && (folder is null || store.Count(rig.Id, EntryFilter.None) <= Much)) whole = new Whole(estimator, log);
                if (whole is not null)
                {
                    whole.Take(rig, store, now);
                    if (folder is null || whole.Behind(now) <= Much)
                    {
                        newest = null;
                        Failing = false;
                        whole.Run(now);
                        Volatile.Write(ref entries, whole.Taken);
                        return whole;
                    }
                }
                if (!Failing) Start(rig);
            }
            newest ??= Whole.Newest(estimator, log, rig, store, now, Newest);
            newest.Take(rig, store, now);
            newest.Run(now);
            return newest;
        }

        /// <summary>Keeps the estimate if enough has come since.</summary>
        public void Keep(StoredRig rig, RigStore store)
        {
            if (whole is null || Working) return;
            whole.Take(rig, store, clock.GetCurrentInstant());
            if (whole.Behind(clock.GetCurrentInstant()) > Much) return;
            whole.Run(clock.GetCurrentInstant());
            Save(whole, rig, store);
        }

        // What the background came to: if it failed, that is written down, and it is tried again after a while.
        private void Ended(StoredRig rig, Instant now)
        {
            if (Work is { } work)
            {
                Work = null;
                if (work.IsFaulted)
                {
                    whole = null; // half worked out
                    failedAt = now;
                    failures++;
                    Failing = true;
                    if (log is not null) NotWorkedOut(log, rig.Id, work.Exception!);
                }
                else failures = 0;
            }
            if (Failing && now - failedAt >= TriedAgainAfter[Math.Min(failures, TriedAgainAfter.Length) - 1]) Failing = false;
        }

        private void Start(StoredRig rig)
        {
            Volatile.Write(ref done, 0);
            Work = Task.Run(() =>
            {
                using var context = folder!.Open();
                var store = new RigStore(context, clock);
                var now = clock.GetCurrentInstant();
                var built = whole ?? new Whole(estimator, log);
                built.Take(rig, store, now);
                built.Run(now, share =>
                {
                    if (stopped) throw new OperationCanceledException();
                    Volatile.Write(ref done, share);
                });
                Save(built, rig, store);
                whole = built; // seen by whoever finds the work completed
                // What reading and working out ten years took is given back at once, not when memory runs short.
                GC.Collect(GC.MaxGeneration, GCCollectionMode.Aggressive, blocking: true, compacting: true);
            });
        }

        // A saved estimate spares time after a restart, no more: if it cannot be written, nothing is lost.
        private void Save(Whole built, StoredRig rig, RigStore store)
        {
            if (folder is null || built.Taken < Newest || (saved >= 0 && built.Taken < saved + SavedEvery && built.Taken >= saved) || built.Point(rig) is not { } point) return;
            try
            {
                store.SavePoint(point);
            }
            catch (Exception e) when (e is Microsoft.Data.Sqlite.SqliteException or Microsoft.EntityFrameworkCore.DbUpdateException)
            {
                if (log is not null) NotKept(log, rig.Id, e.Message);
            }
            saved = built.Taken;
        }
    }

    private sealed class Whole(ILevelEstimator estimator, ILogger? logger)
    {
        private readonly HashSet<string> setAside = new(StringComparer.Ordinal), leftOut = new(StringComparer.Ordinal);
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
            if (counts.Count > MostCounts) counts.Clear();
            return counts[filter] = count(filter);
        }

        public IndexedLog Log => entries ??= new IndexedLog([.. log.Select(c => c.Entry!)]);

        public IReadOnlyList<long> Found(EntryFilter filter, Func<EntryFilter, IReadOnlyList<long>> find)
        {
            if (found.TryGetValue(filter, out var known)) return known;
            if (found.Count > MostFinds) found.Clear();
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
        public static Whole Newest(ILevelEstimator estimator, ILogger? logger, StoredRig rig, RigStore store, Instant now, int count)
        {
            var part = new Whole(estimator, logger) { partial = true, version = store.Version(rig.Id), description = rig.Description };
            var recent = store.Recent(rig.Id, count);
            foreach (var (change, _) in recent)
            {
                part.log.Add(change);
                part.places[change.Key] = (change.Entry!.Instant, change.Sequence);
            }
            var last = recent.Count > 0 ? Instant.Min(recent[^1].Entry.Entry!.Instant, now) : now;
            var options = new EstimateOptions(last - TrackLength - Duration.FromDays(1));
            if (store.Point(rig.Id) is { } kept && estimator.Resume(rig.Rig, kept.Point.Bytes, options) is { } resumed)
            {
                part.running = resumed;
                // What was taken into account then comes first; what was written since, and lies later, is still to come.
                while (part.taken < recent.Count && (recent[part.taken].Version <= kept.Point.Version || recent[part.taken].Entry.Entry!.Instant < kept.Point.At)) part.taken++;
            }
            else part.running = estimator.Start(rig.Rig, options);
            part.points.Add((part.taken, part.running.Copy()));
            return part;
        }

        /// <summary>The estimate as it can be saved; null if it has not seen the whole log.</summary>
        public EstimatePointRow? Point(StoredRig rig) => partial || running?.Last is not { } last || taken < log.Count ? null
            : new EstimatePointRow { RigId = rig.Id, RigRevision = rig.Revision, Version = version, At = last, Bytes = running.Save() };

        public IReadOnlyList<TankLookBack> LookBack(Instant from, Instant now)
        {
            if (lookBack is { } kept && kept.From == from && Minute(now) >= kept.Minute && Minute(now) - kept.Minute < Judgements.Lasts) return kept.Tanks;
            // From the point before it, or from where the log here begins.
            var (first, start) = points.Where(p => p.Taken == 0 || log[p.Taken - 1].Entry!.Instant <= from).Select(p => (p.Taken, (IRunningEstimate?)p.Estimate)).LastOrDefault();
            if (start is null) (first, start) = points.Count > 0 && partial ? (points[0].Taken, points[0].Estimate) : (0, estimator.Start(rig!));
            var minute = Minute(now);
            var looked = LevelSmoother.Of(start, [.. log.Skip(first).Select(c => c.Entry!).TakeWhile(e => e.Instant <= minute)], minute.WithOffset(Offset.Zero), from);
            lookBack = (from, minute, looked);
            return looked;
        }

        /// <summary>Takes in what has changed; what follows from it is worked out by <see cref="Run"/>.</summary>
        public void Take(StoredRig stored, RigStore store, Instant now)
        {
            rig = stored.Rig;
            var present = store.Version(stored.Id);
            if (present == version && description == stored.Description) return;
            var before = log.Count;
            var from = description == stored.Description ? before : 0;
            if (present != version)
            {
                var same = Apply(store.Changes(stored.Id, Math.Max(version, 0)));
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
            belief = belief with { Tanks = [.. belief.Tanks.Select(t => t with { Track = [.. t.Track.Where(p => p.At >= minute - TrackLength)] })] };
            if (judged is null || minute - judged.At >= Judgements.Lasts || minute < judged.At || judgedOf != (Log, taken)) (judged, judgedOf) = (new Judgements(logbook, belief), (Log, taken));
            var made = new RigSnapshot(logbook, belief, Advice.For(logbook, belief)) { Judged = judged, SetAside = setAside.Count, LeftOut = leftOut.Count == 0 ? [] : [.. log.Where(c => leftOut.Contains(c.Key)).Select(c => c.Entry!)] };
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
            points.RemoveAll(p => p.Taken > to && !(partial && p == points[0]));
            foreach (var c in log.Skip(Math.Max(0, points.Count == 0 ? 0 : points[^1].Taken))) changes.Remove(c.Key);
            foreach (var key in withdrawn.Concat(setAside)) changes.Remove(key);
            (taken, running) = points.Count > 0 ? (points[^1].Taken, points[^1].Estimate.Copy()) : (0, Begin(now));
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
                if (taken > 0 && taken % (partial ? StrideOfNewest : Stride) == 0 && (points.Count == 0 || points[^1].Taken < taken)) Remember();
                var next = log[taken];
                try
                {
                    if (!leftOut.Contains(next.Key) && running!.Add(next.Entry!) is { } change) changes[next.Key] = change;
                    taken++;
                }
                catch (Exception e) when (e is not OperationCanceledException && leftOut.Count < MostLeftOut)
                {
                    // One entry that cannot be worked in does not take the others along: the estimate goes on from the point before it, without it.
                    if (logger is not null) LeavesOut(logger, next.Key, e);
                    leftOut.Add(next.Key);
                    changes.Remove(next.Key);
                    if (points.Count > 0) (taken, running) = (points[^1].Taken, points[^1].Estimate.Copy());
                    else (taken, running) = (0, Begin(now));
                }
            }
            if (taken > first) picture = null;
        }

        // The further back, the fewer points: what is written down is seldom about long ago, and each point weighs.
        private void Remember()
        {
            points.Add((taken, running!.Copy()));
            if (points.Count <= MostPoints) return;
            for (var i = points.Count / 2; i >= 1; i -= 2) points.RemoveAt(i);
        }

        // The level over time is kept from a little before it is first drawn.
        private IRunningEstimate Begin(Instant now)
        {
            var last = log.Count > 0 ? Instant.Min(log[^1].Entry!.Instant, now) : now;
            return estimator.Start(rig!, new EstimateOptions(Instant.Min(last, now) - TrackLength - Duration.FromDays(1)));
        }
    }
}
