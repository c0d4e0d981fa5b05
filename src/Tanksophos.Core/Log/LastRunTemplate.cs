using NodaTime;

namespace Tanksophos.Core.Log;

/// <summary>
/// What this household usually does in one go when it dumps, read off the log: the last black dump (or gray, without a black tank) and what belonged to
/// it. It is offered for logging in one tap, so that the log stays complete without typing.
/// </summary>
public static class LastRunTemplate
{
    /// <summary>What is logged within this time after the first dump belongs to the same run; runs are rarely longer.</summary>
    public static readonly Duration RunLasts = Duration.FromHours(3);

    private static readonly Duration Step = Duration.FromSeconds(1);

    /// <summary>The entries of the last dump run, moved so that the run ends at a moment; in their order, each a second apart, without ids and notes.</summary>
    /// <param name="entries">The log in the order of time.</param>
    /// <param name="ends">When the run that is logged now has ended.</param>
    /// <returns>Empty if no dump is on record.</returns>
    public static IReadOnlyList<LogEntry> Of(IReadOnlyList<LogEntry> entries, OffsetDateTime ends)
    {
        ArgumentNullException.ThrowIfNull(entries);
        var last = -1;
        for (var i = entries.Count - 1; i >= 0 && last < 0; i--) if (entries[i] is DumpEntry { Emptied: true }) last = i;
        if (last < 0) return [];
        // Back to the first dump of the same run.
        var first = last;
        for (var i = last - 1; i >= 0 && entries[last].Instant - entries[i].Instant <= RunLasts; i--) if (entries[i] is DumpEntry { Emptied: true }) first = i;
        var run = new List<LogEntry>();
        for (var i = first; i < entries.Count && entries[i].Instant - entries[first].Instant <= RunLasts; i++)
        {
            LogEntry? again = entries[i] switch
            {
                // How it ran this time is not known; what was done is.
                DumpEntry { Emptied: true } dump => dump with { Minutes = null, Flow = null, End = null, Debris = null, VolumeL = null },
                FlushEntry flush => flush with { Cycles = [.. flush.Cycles.Select(c => c with { End = null, Debris = null })] },
                WaterEntry { Purpose: WaterPurpose.Starter } water => water,
                DoseEntry dose => dose,
                ValveEntry { State: ValveState.Open } valve => valve,
                _ => null,
            };
            if (again is not null) run.Add(again);
        }
        return [.. run.Select((e, i) => e with { Id = null, Note = null, At = (ends.ToInstant() - Step * (run.Count - 1 - i)).WithOffset(ends.Offset) })];
    }
}
