using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Simulation;
using Tanksophos.Data;

namespace Tanksophos.Web.App;

/// <summary>
/// In a demonstration: reads the stand-in for the invented rig's panel now and then and writes the readings down, as a panel that was wired to the
/// program would. It is marked in each entry, and on the page of the sensors.
/// </summary>
public sealed partial class SimulatedPanelFeed(DataFolder folder, IClock clock, Hosting hosting, ILogger<SimulatedPanelFeed> log) : BackgroundService
{
    /// <summary>Who its entries are written down by.</summary>
    public const string Who = "panel stand-in";

    private static readonly TimeSpan Every = TimeSpan.FromMinutes(10);
    private static readonly Duration AnywayAfter = Duration.FromHours(3);
    private static readonly (string, string)[] Fouled = [("black", "low")];

    /// <summary>Reads the stand-in panel and writes down what it shows.</summary>
    /// <param name="store">The rigs.</param>
    /// <param name="rig">The rig of the demonstration.</param>
    /// <param name="zone">Local time there.</param>
    /// <param name="now">The moment.</param>
    /// <param name="onlyNews">Leave out what the last reading already said, unless it is hours old.</param>
    /// <returns>What was written.</returns>
    public static IReadOnlyList<LogEntry> Read(RigStore store, StoredRig rig, DateTimeZone zone, Instant now, bool onlyNews)
    {
        ArgumentNullException.ThrowIfNull(store);
        ArgumentNullException.ThrowIfNull(rig);
        var logbook = new Logbook(rig.Rig, store.Log(rig.Id), now.WithOffset(Offset.Zero));
        var shown = new SimulatedPanel(DemoSeason.Seed).Show(logbook, now.InZone(zone).ToOffsetDateTime(), Fouled);
        var fresh = shown.Where(r => !onlyNews || News(logbook, r)).Select((r, i) => (LogEntry)(r with { Id = $"stand-in-{now.ToUnixTimeSeconds()}-{i}", Note = "Read by the stand-in panel of the demonstration." })).ToList();
        if (fresh.Count > 0) store.Record(rig.Id, fresh, Who, $"stand-in-{now.ToUnixTimeSeconds()}");
        return fresh;
    }

    private static bool News(Logbook logbook, ReadingEntry shown)
    {
        var last = logbook.InOrder().OfType<ReadingEntry>().LastOrDefault(r => r.Tank == shown.Tank && r.Via == ReadingVia.Panel);
        return last is null || shown.Instant - last.Instant > AnywayAfter || !(shown.Lit ?? []).SequenceEqual(last.Lit ?? []) || Math.Abs((shown.Percent ?? 0) - (last.Percent ?? 0)) >= 5;
    }

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        // A clock that was set stands still: then it is read only when somebody asks.
        if (!hosting.Demo || clock is not SystemClock) return;
        try
        {
            while (true)
            {
                await Task.Delay(Every, stoppingToken);
                try
                {
                    using var context = folder.Open();
                    var store = new RigStore(context, clock);
                    if (store.Rigs() is [var rig, ..] && rig.Rig.Name == DemoSeason.Rig.Name) Read(store, rig, DateTimeZoneProviders.Tzdb["America/Denver"], clock.GetCurrentInstant(), onlyNews: true);
                }
                catch (Exception e) when (e is not OperationCanceledException) // whatever it is, the program goes on
                {
                    NotRead(log, e.Message);
                }
            }
        }
        catch (OperationCanceledException)
        {
            // the program stops
        }
    }

    [LoggerMessage(LogLevel.Warning, "The stand-in panel was not read: {Why}")]
    private static partial void NotRead(ILogger log, string why);
}
