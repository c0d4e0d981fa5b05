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
        if (ordered is { } known && known.For == (Entries, AsOf)) return known.Entries;
        var until = AsOf?.ToInstant() ?? Instant.MaxValue;
        var sorted = true;
        for (var i = Entries is IndexedLog ? Entries.Count : 1; sorted && i < Entries.Count; i++) sorted = Entries[i - 1].Instant <= Entries[i].Instant;
        IReadOnlyList<LogEntry> entries = sorted && (Entries.Count == 0 || Entries[^1].Instant <= until) ? Entries
            // OrderBy is stable
            : Entries is IndexedLog log ? new IndexedLog([.. log.Take(log.FirstAt(until + Duration.Epsilon))])
            : [.. Entries.Where(e => e.Instant <= until).OrderBy(e => e.Instant)];
        ordered = new((Entries, AsOf), entries);
        return entries;
    }

    private sealed record Ordered((IReadOnlyList<LogEntry>, OffsetDateTime?) For, IReadOnlyList<LogEntry> Entries);

    private Ordered? ordered;

    /// <summary>Two logbooks are equal if they hold the same; what was worked out from them does not count.</summary>
    public bool Equals(Logbook? other) => other is not null && Equals(Rig, other.Rig) && Equals(Entries, other.Entries) && AsOf.Equals(other.AsOf);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Rig, Entries, AsOf);

    /// <summary>The stated <see cref="AsOf"/>, else the time of the last entry, else null.</summary>
    public OffsetDateTime? Now()
    {
        if (AsOf is { } stated) return stated;
        if (Entries is IndexedLog indexed) return indexed.Count > 0 ? indexed[^1].At : null;
        LogEntry? last = null;
        foreach (var e in Entries) if (last is null || e.Instant >= last.Instant) last = e;
        return last?.At;
    }
}
