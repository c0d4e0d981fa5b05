using System.Collections.Concurrent;
using System.Diagnostics;
using System.Text;
using NodaTime.Testing;
using Tanksophos.Core.Simulation;
using Tanksophos.Data;

namespace Tanksophos.Benchmarks;

/// <summary>One server for a club or a campground: many rigs of a season each, many people at work at once with pages, readings and presses.</summary>
internal static class Households
{
    public static async Task<int> MeasureAsync(int rigs, int people, int seconds)
    {
        using var app = new BenchApp(100, folder =>
        {
            using var context = folder.Open();
            var store = new RigStore(context, new FakeClock(LongLog.Now));
            for (var i = 0; i < rigs; i++)
            {
                var season = DemoSeason.Until(LongLog.Now, i);
                store.Add(season.Rig with { Name = $"Rig {i}" }, season.Entries);
            }
        });
        var start = app.Memory;
        Console.WriteLine($"{rigs} rigs of a season each; memory at the start {start >> 20} MB");
        // One account serves: what is measured is the households, not the signing in.
        var token = await app.VerificationAsync("/account");
        var cookies = app.Cookies;
        var times = new ConcurrentDictionary<string, ConcurrentBag<double>>();
        var failed = 0;
        async Task WorkAsync(int person, CancellationToken stop)
        {
            using var client = new HttpClient(new HttpClientHandler
            {
                CookieContainer = cookies,
                AllowAutoRedirect = false
            })
            { BaseAddress = app.Client.BaseAddress };
            var random = new Random(person);
            var runs = new Dictionary<int, string>();
            for (var n = 0; !stop.IsCancellationRequested; n++)
            {
                var rig = 2 + random.Next(rigs); // the first is the bench's own
                var (kind, request) = random.Next(20) switch
                {
                    < 9 => ("Today", new HttpRequestMessage(HttpMethod.Get, $"/?rig={rig}")),
                    < 11 => ("Logbook", new HttpRequestMessage(HttpMethod.Get, $"/logbook?rig={rig}")),
                    < 12 => ("Run", new HttpRequestMessage(HttpMethod.Get, $"/run?rig={rig}")),
                    < 13 => ("Treatments", new HttpRequestMessage(HttpMethod.Get, $"/treatments?rig={rig}")),
                    < 14 => ("Find", new HttpRequestMessage(HttpMethod.Get, $"/find?rig={rig}")),
                    < 18 => ("reading logged",
                        Post("/?handler=Reading", ("id", $"p{person}-{n}"), ("tank", "black"), ("via", "sight"),
                        ("fraction", random.Next(10, 80).ToString(System.Globalization.CultureInfo.InvariantCulture)), ("__rig", $"{rig}"))),
                    _ => ("press", null!),
                };
                if (kind == "press")
                {
                    if (!runs.TryGetValue(rig, out var run))
                    {
                        using var begin = await client.SendAsync(Post("/run?handler=Start", ("form", "full"), ("__rig", $"{rig}")), CancellationToken.None);
                        runs[rig] = run = begin.Headers.Location?.ToString() ?? "/run/1";
                    }
                    request = new HttpRequestMessage(HttpMethod.Post,
                        $"{run.Split('?')[0]}?handler=Taps&rig={rig}")
                    {
                        Content =
                        new StringContent($"{{\"taps\":[{{\"key\":\"{person}-{n}\",\"at\":{LongLog.Now.ToUnixTimeMilliseconds()},\"step\":\"gloves\",\"round\":0,\"press\":\"done\"}}]}}",
                        Encoding.UTF8, "application/json")
                    };
                    request.Headers.Add("RequestVerificationToken", token);
                }
                var watch = Stopwatch.StartNew();
                using var response = await client.SendAsync(request, CancellationToken.None);
                await response.Content.ReadAsByteArrayAsync(CancellationToken.None);
                times.GetOrAdd(kind, _ => []).Add(watch.Elapsed.TotalMilliseconds);
                if ((int)response.StatusCode >= 400) Interlocked.Increment(ref failed);
                request.Dispose();
            }
        }
        HttpRequestMessage Post(string address, params (string Name, string Value)[] fields) =>
            new(HttpMethod.Post, address)
            {
                Content = new FormUrlEncodedContent([new("__RequestVerificationToken", token),
                .. fields.Select(f => new KeyValuePair<string, string>(f.Name, f.Value))])
            };

        var total = Stopwatch.StartNew();
        using (var stop = new CancellationTokenSource(TimeSpan.FromSeconds(seconds)))
            await Task.WhenAll(Enumerable.Range(0, people).Select(p => WorkAsync(p, stop.Token)));
        var took = total.Elapsed.TotalSeconds;
        Console.WriteLine($"{people} people at work without a pause for {took:0} s: {times.Values.Sum(t => t.Count) / took:0} requests/s, {failed} refused "
            + $"or failed");
        foreach (var (kind, taken) in times.OrderByDescending(t => t.Value.Count))
        {
            var sorted = taken.Order().ToList();
            Console.WriteLine($"{kind,-16} {sorted.Count / took,6:0.0}/s   p50 {sorted[sorted.Count / 2],6:0} ms   p95 "
                + $"{sorted[(int)(sorted.Count * 0.95)],6:0} ms   worst {sorted[^1],6:0} ms");
        }
        Console.WriteLine($"memory afterwards {app.Memory >> 20} MB");

        // What one person meets while the others pause a second between requests, as people do.
        times.Clear();
        using (var stop = new CancellationTokenSource(TimeSpan.FromSeconds(seconds)))
        {
            await Task.WhenAll(Enumerable.Range(0, people).Select(async p =>
            {
                using var client = new HttpClient(new HttpClientHandler { CookieContainer = cookies }) { BaseAddress = app.Client.BaseAddress };
                var random = new Random(p);
                while (!stop.IsCancellationRequested)
                {
                    await Task.Delay(500 + random.Next(1000), CancellationToken.None);
                    var watch = Stopwatch.StartNew();
                    await client.GetByteArrayAsync(new Uri($"/?rig={2 + random.Next(rigs)}", UriKind.Relative), CancellationToken.None);
                    times.GetOrAdd("Today", _ => []).Add(watch.Elapsed.TotalMilliseconds);
                }
            }));
        }
        var calm = times["Today"].Order().ToList();
        Console.WriteLine($"{people} people with a second between requests: {calm.Count / (double)seconds:0} requests/s, Today p50 {calm[calm.Count / 2]:0} "
            + $"ms, p95 {calm[(int)(calm.Count * 0.95)]:0} ms");
        return failed == 0 ? 0 : 1;
    }
}
