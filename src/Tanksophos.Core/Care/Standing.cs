using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Care;

/// <summary>A stretch in storage.</summary>
/// <param name="From">Since when.</param>
/// <param name="To">Until when; null while it lasts.</param>
/// <param name="Frost">Whether it was closed against frost.</param>
internal sealed record StorageSpan(Instant From, Instant? To, bool Frost);

/// <summary>How a rig was used over the time of its log: on trips and in storage.</summary>
internal sealed record Standing(IReadOnlyList<StorageSpan> Storage, ServiceEntry? Closed, ServiceEntry? Opened)
{
    /// <summary>The stretch in storage that lasts now; null for none.</summary>
    public StorageSpan? Now => Storage is [.., { To: null } last] ? last : null;

    /// <summary>Whether the season is closed: closed, and not opened since.</summary>
    public bool IsClosed => Closed is not null && (Opened is null || Opened.Instant < Closed.Instant);

    /// <summary>Trips that ended after a moment.</summary>
    public IEnumerable<StorageSpan> After(Instant moment) => Storage.Where(s => s.From > moment);

    /// <summary>Reads it off a log. A season's close or a stay in storage begins a stretch; another stay, a season's opening or a drive ends it.</summary>
    /// <param name="entries">The log in the order of time.</param>
    public static Standing Of(IReadOnlyList<LogEntry> entries) =>
        entries.Fold((nameof(Standing), 0), new Standing([], null, null), static (standing, entry) => standing.After(entry));

    private Standing After(LogEntry entry) => entry switch
    {
        ServiceEntry { Code: ServiceCode.SeasonClose } close => (Now is not { } span ? Stored(close.Instant, close.Frost == true)
            : close.Frost == true ? Last(span with { Frost = true }) : this) with
        { Closed = close },
        ServiceEntry { Code: ServiceCode.SeasonOpen } open => Left(open.Instant) with { Opened = open },
        StayEntry { Hookup: Hookup.Storage } => Now is null ? Stored(entry.Instant, frost: false) : this,
        StayEntry => Left(entry.Instant),
        // The drive to where it is stored is logged after the close.
        DriveEntry => Now is { } span && entry.Instant - span.From < DriveToStorage ? this : Left(entry.Instant),
        _ => this,
    };

    private Standing Stored(Instant from, bool frost) => this with { Storage = [.. Storage, new StorageSpan(from, null, frost)] };

    private Standing Left(Instant at) => Now is { } span ? Last(span with { To = at }) : this;

    private Standing Last(StorageSpan span) => this with { Storage = [.. Storage.SkipLast(1), span] };

    private static readonly Duration DriveToStorage = Duration.FromHours(36);
}
