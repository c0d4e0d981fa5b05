using NodaTime;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Log;

/// <summary>A rig and what was written about it.</summary>
/// <param name="Rig">The rig.</param>
/// <param name="Entries">The entries in any order; those at the same moment apply in the order given here.</param>
/// <param name="AsOf">"Now", if stated: later entries are ignored and inflow runs on to it.</param>
public sealed record Logbook(Rig Rig, IReadOnlyList<LogEntry> Entries, OffsetDateTime? AsOf = null)
{
    /// <summary>
    /// The entries up to <see cref="AsOf"/> (inclusive) in the order of time; entries at the same moment keep their order.
    /// </summary>
    public IReadOnlyList<LogEntry> InOrder()
    {
        var until = AsOf?.ToInstant() ?? Instant.MaxValue;
        return [.. Entries.Where(e => e.Instant <= until).OrderBy(e => e.Instant)]; // OrderBy is stable
    }

    /// <summary>The stated <see cref="AsOf"/>, else the time of the last entry, else null.</summary>
    public OffsetDateTime? Now()
    {
        if (AsOf is { } stated) return stated;
        LogEntry? last = null;
        foreach (var e in Entries) if (last is null || e.Instant >= last.Instant) last = e;
        return last?.At;
    }
}
