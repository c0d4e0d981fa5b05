using Tanksophos.Words.Pages;

namespace Tanksophos.Web.Rigs;

/// <summary>Tells a page a number whenever it may have changed: server-sent events.</summary>
public static class LiveNumber
{
    private static readonly TimeSpan Heartbeat = TimeSpan.FromSeconds(20);

    /// <summary>Tells it until the page is closed, whoever listens may no longer, or the program stops.</summary>
    /// <param name="response">The answer.</param>
    /// <param name="bell">What rings when something changes.</param>
    /// <param name="number">For what it rings.</param>
    /// <param name="may">Whether who listens still may.</param>
    /// <param name="version">The number that is told.</param>
    /// <param name="gone">The page is closed.</param>
    /// <param name="stopping">The program stops.</param>
    public static async Task ServeAsync(HttpResponse response, Bell bell, int number, Func<bool> may, Func<long> version, CancellationToken gone,
        CancellationToken stopping)
    {
        ArgumentNullException.ThrowIfNull(response);
        ArgumentNullException.ThrowIfNull(bell);
        ArgumentNullException.ThrowIfNull(may);
        ArgumentNullException.ThrowIfNull(version);
        using var both = CancellationTokenSource.CreateLinkedTokenSource(gone, stopping);
        response.ContentType = "text/event-stream";
        response.Headers.CacheControl = "no-store";
        try
        {
            while (!both.IsCancellationRequested)
            {
                var rung = bell.Wait(number); // before the look, so that nothing is missed between
                if (!may()) break;
                await response.WriteAsync(RunSays.DataNN(version()), both.Token);
                await response.Body.FlushAsync(both.Token);
                await Task.WhenAny(rung, Task.Delay(Heartbeat, both.Token));
            }
        }
        catch (OperationCanceledException)
        {
            // the page was closed, or the program stops
        }
    }
}
