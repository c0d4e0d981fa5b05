using NodaTime;
using Tanksophos.Core.Simulation;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Rigs;

namespace Tanksophos.Web.Hosting;

/// <summary>
/// In a demonstration: reads the stand-in for the invented rig's panel now and then and writes the readings down, as a panel that was wired to the
/// program would. It is marked in each entry, and on the page of the sensors.
/// </summary>
public sealed partial class SimulatedPanelFeed(DataFolder folder, IClock clock, HostingOptions hosting, ILogger<SimulatedPanelFeed> log) : BackgroundService
{
    private static readonly TimeSpan Every = TimeSpan.FromMinutes(10);
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
                    if (store.Rigs() is [var rig, ..] && rig.Rig.Name == DemoSeason.Rig.Name)
                        SimulatedPanelReadings.Take(store, rig, DateTimeZoneProviders.Tzdb["America/Denver"], clock.GetCurrentInstant(), onlyNews: true);
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
