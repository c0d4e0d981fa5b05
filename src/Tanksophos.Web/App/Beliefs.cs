using System.Collections.Concurrent;
using NodaTime;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Outlook;
using Tanksophos.Data;
using Tanksophos.Web.Drawing;

namespace Tanksophos.Web.App;

/// <summary>A rig's log, what is believed about it now, and what follows from that.</summary>
public sealed record Picture(Logbook Logbook, LevelBelief Belief, Advice Advice)
{
    private RibbonGeometry? ribbon;

    /// <summary>The ribbon of it in a local time; kept for the next who asks in the same zone.</summary>
    public RibbonGeometry Ribbon(DateTimeZone zone) => ribbon is { } kept && kept.Zone.Equals(zone) ? kept : ribbon = new RibbonGeometry(this, zone);
}

/// <summary>
/// Computes the picture of a rig, and keeps the last one per rig: as long as the log has not changed and the minute is the same,
/// the answer is too. Nothing here is truth; it can be dropped at any time.
/// </summary>
public sealed class Beliefs(ILevelEstimator estimator, IClock clock)
{
    /// <summary>How far back the level is kept for the drawing.</summary>
    public static readonly Duration TrackLength = Duration.FromDays(7);

    private readonly ConcurrentDictionary<int, (long Version, IReadOnlyList<LogEntry> Log)> logs = new();
    private readonly ConcurrentDictionary<int, (long Version, string Description, Instant Minute, Picture Picture)> pictures = new();

    /// <summary>The picture of a rig at the present minute.</summary>
    public Picture Now(StoredRig rig, RigStore store)
    {
        var version = store.Version(rig.Id);
        var minute = Instant.FromUnixTimeSeconds(clock.GetCurrentInstant().ToUnixTimeSeconds() / 60 * 60 + 59);
        if (pictures.TryGetValue(rig.Id, out var kept) && kept.Version == version && kept.Minute == minute && kept.Description == rig.Description) return kept.Picture;
        if (!logs.TryGetValue(rig.Id, out var log) || log.Version != version) logs[rig.Id] = log = (version, store.Log(rig.Id));
        var logbook = new Logbook(rig.Rig, log.Log, minute.WithOffset(Offset.Zero));
        var belief = estimator.Estimate(logbook, new EstimateOptions(minute - TrackLength));
        var picture = new Picture(logbook, belief, Advice.For(logbook, belief));
        pictures[rig.Id] = (version, rig.Description, minute, picture);
        return picture;
    }
}
