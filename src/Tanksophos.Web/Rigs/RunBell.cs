using System.Collections.Concurrent;

namespace Tanksophos.Web.Rigs;

/// <summary>Tells the pages that show a run when something was pressed in it, on whatever device.</summary>
public sealed class RunBell
{
    private readonly ConcurrentDictionary<int, TaskCompletionSource> waiting = new();

    /// <summary>Wakes who waits for a run.</summary>
    public void Ring(int run)
    {
        if (waiting.TryRemove(run, out var bell)) bell.TrySetResult();
    }

    /// <summary>Waits until something is pressed in a run.</summary>
    public Task Wait(int run) => waiting.GetOrAdd(run, _ => new TaskCompletionSource(TaskCreationOptions.RunContinuationsAsynchronously)).Task;
}
