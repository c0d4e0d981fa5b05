using Tanksophos.Data;

namespace Tanksophos.Web.Rigs;

/// <summary>What is kept beside the log once something was written down; it spares time later, and may be lost.</summary>
public sealed partial class AfterWriting(RigStore store, RigCache memory, TripService trips, LogBell bell, ILogger<AfterWriting> log)
{
    /// <summary>Notes by which plan is done what comes now.</summary>
    public void Before(StoredRig rig)
    {
        ArgumentNullException.ThrowIfNull(rig);
        try
        {
            trips.Follow(rig, plan: false);
        }
        catch (Exception e) when (e is not OperationCanceledException)
        {
            NotKept(log, rig.Id, e);
        }
    }

    /// <summary>Brings a rig's trip and its saved estimate up to what was written.</summary>
    /// <param name="rigId">The rig.</param>
    /// <param name="changed">Whether its log changed; otherwise its trip or description may have.</param>
    public void Written(int rigId, bool changed)
    {
        try
        {
            if (store.Find(rigId) is not { } rig) return;
            trips.Follow(rig, plan: true);
            if (changed) memory.Keep(rig, store);
        }
        catch (Exception e) when (e is not OperationCanceledException)
        {
            NotKept(log, rigId, e);
        }
        bell.Ring(rigId);
    }

    [LoggerMessage(LogLevel.Warning, "What follows from an entry of rig {Rig} was not kept; it is worked out again when it is asked for")]
    private static partial void NotKept(ILogger log, int rig, Exception e);
}

/// <summary>
/// The same for programs that log one entry after another: once they pause for a moment, so that no entry waits for a plan.
/// </summary>
public sealed class AfterPrograms(IServiceScopeFactory scopes, IHostApplicationLifetime life, LogBell bell)
{
    private static readonly TimeSpan Pause = TimeSpan.FromSeconds(2);

    private readonly System.Collections.Concurrent.ConcurrentDictionary<int, byte> waiting = new();

    /// <summary>Notes that something was written into a rig's log.</summary>
    public void Written(int rigId)
    {
        bell.Ring(rigId); // who looks at a page waits for nothing
        if (!waiting.TryAdd(rigId, 0)) return;
        _ = Task.Run(async () =>
        {
            await Task.Delay(Pause);
            waiting.TryRemove(rigId, out _);
            if (life.ApplicationStopping.IsCancellationRequested) return;
            using var scope = scopes.CreateScope();
            scope.ServiceProvider.GetRequiredService<AfterWriting>().Written(rigId, changed: true);
        });
    }
}
