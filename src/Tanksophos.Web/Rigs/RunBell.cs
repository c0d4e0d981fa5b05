using System.Collections.Concurrent;

namespace Tanksophos.Web.Rigs;

/// <summary>Wakes who waits for something that changes, by its number.</summary>
public abstract class Bell
{
    private readonly ConcurrentDictionary<int, TaskCompletionSource> waiting = new();

    /// <summary>Wakes who waits.</summary>
    public void Ring(int number)
    {
        if (waiting.TryRemove(number, out var bell)) bell.TrySetResult();
    }

    /// <summary>Waits until it rings.</summary>
    public Task Wait(int number) => waiting.GetOrAdd(number, _ => new TaskCompletionSource(TaskCreationOptions.RunContinuationsAsynchronously)).Task;
}

/// <summary>Tells the pages that show a run when something was pressed in it, on whatever device.</summary>
public sealed class RunBell : Bell;

/// <summary>Tells the pages that show a rig when its log changed, whoever wrote it.</summary>
public sealed class LogBell : Bell;
