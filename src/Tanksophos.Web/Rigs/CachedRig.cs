using NodaTime;
using Tanksophos.Core.Levels;
using Tanksophos.Data;

namespace Tanksophos.Web.Rigs;

/// <summary>What is remembered of one rig: the whole, or, while that is worked out, the newest part of it.</summary>
internal sealed partial class CachedRig(ILevelEstimator estimator, IClock clock, DataFolder? folder, ILogger? log)
{
    // Entries between two estimates that are saved.
    private const int SavedEvery = 200;

    // The newest entries from which the answer comes while the rest is worked out.
    private const int Newest = 2000;

    // After a failure in the background it is tried again after so long, the last of them over and over.
    private static readonly Duration[] TriedAgainAfter = [Duration.FromMinutes(1), Duration.FromMinutes(5), Duration.FromMinutes(30)];

    [LoggerMessage(LogLevel.Error, "The estimate of rig {Rig} could not be worked out")]
    private static partial void NotWorkedOut(ILogger log, int rig, Exception e);

    [LoggerMessage(LogLevel.Warning, "The estimate of rig {Rig} could not be kept for the next start: {Why}")]
    private static partial void NotKept(ILogger log, int rig, string why);

    private volatile bool stopped;
    private LogReplay? whole, newest;
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

    public LogReplay Serve(StoredRig rig, RigStore store)
    {
        var now = clock.GetCurrentInstant();
        AskedAt = now;
        if (!Working)
        {
            Ended(rig, now);
            if (whole is null && (folder is null || store.Log.Count(rig.Id, EntryFilter.None) <= RigCache.Much)) whole = new LogReplay(estimator, log);
            if (whole is not null)
            {
                whole.Take(rig, store, now);
                if (folder is null || whole.Behind(now) <= RigCache.Much)
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
        newest ??= LogReplay.Newest(estimator, log, rig, store, now, Newest);
        newest.Take(rig, store, now);
        newest.Run(now);
        return newest;
    }

    /// <summary>Keeps the estimate if enough has come since.</summary>
    public void Keep(StoredRig rig, RigStore store)
    {
        if (whole is null || Working) return;
        whole.Take(rig, store, clock.GetCurrentInstant());
        if (whole.Behind(clock.GetCurrentInstant()) > RigCache.Much) return;
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
            var built = whole ?? new LogReplay(estimator, log);
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
    private void Save(LogReplay built, StoredRig rig, RigStore store)
    {
        if (folder is null || built.Taken < Newest || (saved >= 0 && built.Taken < saved + SavedEvery && built.Taken >= saved)
            || built.Point() is not { } point) return;
        try
        {
            store.Checkpoints.Save(rig, point);
        }
        catch (Exception e) when (e is Microsoft.Data.Sqlite.SqliteException or Microsoft.EntityFrameworkCore.DbUpdateException)
        {
            if (log is not null) NotKept(log, rig.Id, e.Message);
        }
        saved = built.Taken;
    }
}
