using NodaTime;
using Tanksophos.Data;
using Tanksophos.Web.Rigs;

namespace Tanksophos.Web.Hosting;

/// <summary>Lets go of households that nobody has asked for in a while, where one computer serves many.</summary>
public sealed class IdleRigs(RigCache memory) : BackgroundService
{
    private static readonly TimeSpan Every = TimeSpan.FromMinutes(5);
    private static readonly Duration Idle = Duration.FromMinutes(20);
    private const int MaxEntries = 200_000;

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        try
        {
            while (true)
            {
                await Task.Delay(Every, stoppingToken);
                memory.Rest(Idle, MaxEntries);
            }
        }
        catch (OperationCanceledException)
        {
            // the program stops
        }
    }
}

/// <summary>Writes the day's backup when the program runs, and looks again every hour.</summary>
public sealed partial class DailyBackup(SafeKeeping keeping, IClock clock, ILogger<DailyBackup> log) : BackgroundService
{
    private static readonly TimeSpan AfterStart = TimeSpan.FromSeconds(20); // a start is not held up by it
    private static readonly TimeSpan Every = TimeSpan.FromHours(1);

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        try
        {
            for (var wait = AfterStart; ; wait = Every)
            {
                await Task.Delay(wait, stoppingToken);
                try
                {
                    keeping.WriteDaily(clock.GetCurrentInstant().InUtc().Date);
                }
                catch (Exception e) when (e is not OperationCanceledException) // whatever it is, the program goes on
                {
                    NotWritten(log, e.Message);
                }
            }
        }
        catch (OperationCanceledException)
        {
            // the program stops
        }
    }

    [LoggerMessage(LogLevel.Error, "The daily backup was not written: {Why}")]
    private static partial void NotWritten(ILogger log, string why);
}
