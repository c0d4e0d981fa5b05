using System.Collections.Concurrent;
using System.Net;
using System.Net.Http.Headers;
using System.Text;
using System.Text.Json;
using System.Text.RegularExpressions;

namespace Tanksophos.Browser.Tests;

/// <summary>Pulling the plug: what was acknowledged is there afterwards, once, and the database is whole.</summary>
public sealed partial class KillTests : IDisposable
{
    private const int Kills = 12;

    private readonly string folder = Directory.CreateTempSubdirectory("tanksophos-kill").FullName;

    public void Dispose() => Directory.Delete(folder, recursive: true);

    [Fact]
    public async Task No_acknowledged_entry_is_lost_when_the_process_is_killed_in_the_middle_of_writing()
    {
        var acknowledged = new ConcurrentDictionary<string, bool>();
        string token;
        using (var site = new Site(demo: true, data: folder)) token = await TokenAsync(site);

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
        using var client = Client(last, token);
        using var document = JsonDocument.Parse(await client.GetStringAsync(new Uri("/api/v1/logbook", UriKind.Relative), TestContext.Current.CancellationToken));
        var ids = document.RootElement.GetProperty("entries").EnumerateArray().Where(e => e.TryGetProperty("id", out _)).Select(e => e.GetProperty("id").GetString()!).ToList();
        ids.Distinct().Count().ShouldBe(ids.Count);
        acknowledged.Keys.Except(ids).ShouldBeEmpty();
        last.Said.ShouldBeEmpty();
    }

    private static async Task WriteAsync(Site site, string token, int round, int writer, ConcurrentDictionary<string, bool> acknowledged, CancellationToken stop)
    {
        using var client = Client(site, token);
        for (var n = 0; !stop.IsCancellationRequested; n++)
        {
            var id = $"r{round}-w{writer}-{n}";
            using var body = new StringContent($"{{\"id\":\"{id}\",\"at\":\"2026-06-09T12:00:00-06:00\",\"type\":\"people\",\"count\":{n % 9}}}", Encoding.UTF8, "application/json");
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

    private static HttpClient Client(Site site, string token)
    {
        var client = new HttpClient { BaseAddress = site.Url };
        client.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue("Bearer", token);
        return client;
    }

    private static async Task<string> TokenAsync(Site site)
    {
        using var client = new HttpClient { BaseAddress = site.Url };
        async Task<string> PostAsync(string page, string action, params (string, string)[] fields)
        {
            var html = await client.GetStringAsync(new Uri(page, UriKind.Relative));
            using var form = new FormUrlEncodedContent([new("__RequestVerificationToken", Verification().Match(html).Groups[1].Value), .. fields.Select(f => new KeyValuePair<string, string>(f.Item1, f.Item2))]);
            using var response = await client.PostAsync(new Uri(action, UriKind.Relative), form);
            return await response.Content.ReadAsStringAsync();
        }
        await PostAsync("/sign-in", "/sign-in?handler=Demo");
        return Token().Match(await PostAsync("/account", "/account?handler=Token", ("name", "the writer"), ("mayLog", "yes"))).Value;
    }

    [GeneratedRegex("name=\"__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)\"")]
    private static partial Regex Verification();

    [GeneratedRegex("tks_[0-9a-f]{40}")]
    private static partial Regex Token();
}
