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
    public static Standing Of(IReadOnlyList<LogEntry> entries) => entries.Memo((nameof(Standing), 0), () => Read(entries));

    private static Standing Read(IReadOnlyList<LogEntry> entries)
    {
        var spans = new List<StorageSpan>();
        ServiceEntry? closed = null, opened = null;
        foreach (var entry in Merged(Merged(entries.Kind<StayEntry>(), entries.Kind<DriveEntry>()),
            [.. entries.Kind<ServiceEntry>().Where(s => s.Code is ServiceCode.SeasonOpen or ServiceCode.SeasonClose)]))
        {
            var stored = spans is [.., { To: null }];
            switch (entry)
            {
                case ServiceEntry { Code: ServiceCode.SeasonClose } close:
                    closed = close;
                    if (!stored) spans.Add(new StorageSpan(close.Instant, null, close.Frost == true));
                    else if (close.Frost == true) spans[^1] = spans[^1] with { Frost = true };
                    break;
                case StayEntry { Hookup: Hookup.Storage }:
                    if (!stored) spans.Add(new StorageSpan(entry.Instant, null, false));
                    break;
                case ServiceEntry open:
                    opened = open;
                    goto default;
                // The drive to where it is stored is logged after the close.
                case DriveEntry when stored && entry.Instant - spans[^1].From < DriveToStorage:
                    break;
                default:
                    if (stored) spans[^1] = spans[^1] with { To = entry.Instant };
                    break;
            }
        }
        return new Standing(spans, closed, opened);
    }

    // Two lists in the order of time as one; of the same moment the first goes first. Sorting ten years anew for each entry would be felt.
    private static List<LogEntry> Merged(IReadOnlyList<LogEntry> one, IReadOnlyList<LogEntry> other)
    {
        var merged = new List<LogEntry>(one.Count + other.Count);
        for (int i = 0, k = 0; i < one.Count || k < other.Count;)
            merged.Add(k == other.Count || i < one.Count && one[i].Instant <= other[k].Instant ? one[i++] : other[k++]);
        return merged;
    }

    private static readonly Duration DriveToStorage = Duration.FromHours(36);
}
