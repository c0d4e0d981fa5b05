using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Simulation;
using Tanksophos.Data;

namespace Tanksophos.Web.Rigs;

/// <summary>In a demonstration: what the stand-in for the invented rig's panel shows, written down as a panel that was wired to the program would.</summary>
public static class SimulatedPanelReadings
{
    /// <summary>Who its entries are written down by.</summary>
    public const string Who = "panel stand-in";

    private static readonly Duration AnywayAfter = Duration.FromHours(3);

    /// <summary>Reads the stand-in panel and writes down what it shows.</summary>
    /// <param name="store">The rigs.</param>
    /// <param name="rig">The rig of the demonstration.</param>
    /// <param name="zone">Local time there.</param>
    /// <param name="now">The moment.</param>
    /// <param name="onlyNews">Leave out what the last reading already said, unless it is hours old.</param>
    /// <returns>What was written.</returns>
    public static IReadOnlyList<LogEntry> Take(RigStore store, StoredRig rig, DateTimeZone zone, Instant now, bool onlyNews)
    {
        ArgumentNullException.ThrowIfNull(store);
        ArgumentNullException.ThrowIfNull(rig);
        var logbook = new Logbook(rig.Rig, store.Log.All(rig.Id), now.WithOffset(Offset.Zero));
        var shown = new SimulatedPanel(DemoSeason.Seed).Show(logbook, now.InZone(zone).ToOffsetDateTime(), [.. DemoSeason.Fouled]);
        var fresh = shown.Where(r => !onlyNews || News(logbook, r))
            .Select((r, i) => (LogEntry)(r with
            {
                Id = $"stand-in-{now.ToUnixTimeSeconds()}-{i}",
                Note = "Read by the stand-in panel of the demonstration."
            })).ToList();
        if (fresh.Count > 0) store.Writer.Record(rig.Id, fresh, Who, $"stand-in-{now.ToUnixTimeSeconds()}");
        return fresh;
    }

    private static bool News(Logbook logbook, ReadingEntry shown)
    {
        var last = logbook.InOrder().OfType<ReadingEntry>().LastOrDefault(r => r.Tank == shown.Tank && r.Via == ReadingVia.Panel);
        return last is null || shown.Instant - last.Instant > AnywayAfter || !(shown.Lit ?? []).SequenceEqual(last.Lit ?? [])
            || Math.Abs((shown.Percent ?? 0) - (last.Percent ?? 0)) >= 5;
    }
}
