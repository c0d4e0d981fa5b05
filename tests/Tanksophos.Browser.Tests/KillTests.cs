using System.Collections.Concurrent;
using System.Net;
using System.Text;
using System.Text.Json;

namespace Tanksophos.Browser.Tests;

/// <summary>Pulling the plug: what was acknowledged is there afterwards, once, and the database is whole.</summary>
public sealed class KillTests : IDisposable
{
    // A short run each time; TANKSOPHOS_KILLS=100 for a long one.
    private static readonly int Kills = int.TryParse(Environment.GetEnvironmentVariable("TANKSOPHOS_KILLS"), out var kills) && kills > 0 ? kills : 4;

    private readonly string folder = Directory.CreateTempSubdirectory("tanksophos-kill").FullName;

    public void Dispose() => Directory.Delete(folder, recursive: true);

    [Fact]
    public async Task No_acknowledged_entry_is_lost_when_the_process_is_killed_in_the_middle_of_writing()
    {
        var acknowledged = new ConcurrentDictionary<string, bool>();
        string token;
        using (var site = new Site(demo: true, data: folder)) token = await Gadget.TokenAsync(site);

        var written = 0;
        for (var round = 0; round < Kills; round++)
        {
            var site = new Site(demo: true, data: folder);
            using (var stop = new CancellationTokenSource())
            {
                var before = acknowledged.Count;
                var writers = Enumerable.Range(0, 3).Select(w => WriteAsync(site, token, round, w, acknowledged, stop.Token)).ToList();
                // Killed as soon as a number of entries is acknowledged that differs from round to round, with three requests under way.
                while (acknowledged.Count < before + 3 + round * 7 % 23) await Task.Delay(1, TestContext.Current.CancellationToken);
                site.Dispose();
                await stop.CancelAsync();
                await Task.WhenAll(writers);
            }
            written = acknowledged.Count;
        }

        written.ShouldBeGreaterThan(Kills * 3);
        using var last = new Site(demo: true, data: folder);
        using var client = Gadget.Client(last, token);
        using var document = JsonDocument.Parse(await client.GetStringAsync(new Uri("/api/v1/logbook", UriKind.Relative),
            TestContext.Current.CancellationToken));
        var ids = document.RootElement.GetProperty("entries").EnumerateArray().Where(e => e.TryGetProperty("id", out _))
            .Select(e => e.GetProperty("id").GetString()!).ToList();
        ids.Distinct().Count().ShouldBe(ids.Count);
        acknowledged.Keys.Except(ids).ShouldBeEmpty();
        last.Said.ShouldBeEmpty();
    }

    private static async Task WriteAsync(Site site, string token, int round, int writer, ConcurrentDictionary<string, bool> acknowledged,
        CancellationToken stop)
    {
        using var client = Gadget.Client(site, token);
        for (var n = 0; !stop.IsCancellationRequested; n++)
        {
            var id = $"r{round}-w{writer}-{n}";
            using var body = new StringContent($"{{\"id\":\"{id}\",\"at\":\"2026-06-09T12:00:00-06:00\",\"type\":\"people\",\"count\":{n % 9}}}",
                Encoding.UTF8, "application/json");
            try
            {
                using var response = await client.PostAsync(new Uri("/api/v1/entries", UriKind.Relative), body, stop);
                if (response.StatusCode == HttpStatusCode.OK) acknowledged[id] = true;
            }
            catch (Exception e) when (e is HttpRequestException or IOException or OperationCanceledException)
            {
                return; // the plug was pulled
            }
        }
    }
}
