using System.Diagnostics;
using System.Globalization;
using System.Net.Http.Headers;
using System.Text;

namespace Tanksophos.Benchmarks;

/// <summary>Twenty devices at a message a second, and a burst of two thousand a second, over HTTP at a program of its own.</summary>
internal static class DeviceLoad
{
    private const int Devices = 20, BurstPerSecond = 2000, BurstSeconds = 10, Together = 50;

    /// <param name="published">Folder of the published program.</param>
    /// <param name="seconds">Seconds of the quiet part.</param>
    public static async Task<int> MeasureAsync(string published, int seconds)
    {
        var data = Directory.CreateTempSubdirectory("bench-devices-").FullName;
        var program = Path.Combine(published, "tanksophos-web.dll");
        const int Port = 5391;
        using var server = Process.Start(new ProcessStartInfo("dotnet",
            [program, "--data", data, "--demo", "--port", Port.ToString(CultureInfo.InvariantCulture)])
        { RedirectStandardOutput = true })!;
        try
        {
            using var client = new HttpClient { BaseAddress = new Uri($"http://localhost:{Port}") };
            for (var i = 0; ; i++)
            {
                try
                {
                    await client.GetAsync(new Uri("/sign-in", UriKind.Relative));
                    break;
                }
                catch (HttpRequestException) when (i < 300)
                {
                    await Task.Delay(100);
                }
            }
            var tokens = new List<string>();
            for (var d = 0; d < Devices; d++)
            {
                string[] words = [program, "device", $"bench-{d}", "--data", data];
                using var command = Process.Start(new ProcessStartInfo("dotnet", words) { RedirectStandardOutput = true })!;
                tokens.Add((await command.StandardOutput.ReadToEndAsync()).Trim());
                await command.WaitForExitAsync();
            }
            long Size() => new DirectoryInfo(data).EnumerateFiles("tanksophos.db*").Sum(f => f.Length);
            long MemoryMb()
            {
                server.Refresh();
                return server.WorkingSet64 >> 20;
            }
            var (before, memory) = (Size(), MemoryMb());
            var watch = Stopwatch.StartNew();
            using var looking = new CancellationTokenSource();
            var page = LookAsync(client.BaseAddress!, tokens[0], looking.Token);
            var quiet = await Task.WhenAll(tokens.Select((token, d) => SpeakAsync(client, token, d, seconds)));
            await looking.CancelAsync();
            var shown = (await page).Order().ToList();
            var times = quiet.SelectMany(t => t).Order().ToList();
            Console.WriteLine($"{Devices} devices, a message a second, {seconds} s: {times.Count / watch.Elapsed.TotalSeconds:0.0} messages/s, acknowledged "
                + $"(on the disk) p50 {At(times, 0.5):0.0} ms, p95 {At(times, 0.95):0.0} ms, slowest {times[^1]:0} ms; database "
                + $"+{(Size() - before) / 1024.0 / 1024:0.0} MB; memory {memory} -> {MemoryMb()} MB");
            if (shown.Count > 0)
                Console.WriteLine($"to the page: from the message that tells it to the event at an open Today, {shown.Count} times: p50 {At(shown, 0.5):0} ms, "
                    + $"p95 {At(shown, 0.95):0} ms, slowest {shown[^1]:0} ms");
            watch.Restart();
            var burst = new List<Task<(int Taken, double Milliseconds)>>();
            for (var tick = 0; tick < BurstSeconds * BurstPerSecond / Together; tick++)
            {
                burst.Add(SendAsync(client, tokens[tick % Devices], tick % Devices, tick, Together));
                var due = TimeSpan.FromSeconds((tick + 1.0) * Together / BurstPerSecond) - watch.Elapsed;
                if (due > TimeSpan.Zero) await Task.Delay(due);
            }
            var answered = await Task.WhenAll(burst);
            var took = answered.Select(a => a.Milliseconds).Order().ToList();
            Console.WriteLine($"burst of {BurstPerSecond} messages/s in parcels of {Together} for {BurstSeconds} s: "
                + $"{answered.Sum(a => a.Taken)} acknowledged in {watch.Elapsed.TotalSeconds:0.0} s, p95 {At(took, 0.95):0} ms; memory {MemoryMb()} MB");
            await Task.Delay(5000);
            server.Kill();
            await server.WaitForExitAsync();
            using var connection = new Microsoft.Data.Sqlite.SqliteConnection($"Data Source={Path.Combine(data, "tanksophos.db")}");
            connection.Open();
            using var ask = connection.CreateCommand();
            ask.CommandText = "SELECT (SELECT count(*) FROM Measurements), (SELECT count(*) FROM Entries WHERE Who LIKE 'bench-%')";
            using var row = ask.ExecuteReader();
            row.Read();
            var expected = times.Count + answered.Sum(a => a.Taken);
            Console.WriteLine($"after a kill: {row.GetInt64(0)} measurements on the disk of {expected} acknowledged; {row.GetInt64(1)} log entries, one of "
                + $"{row.GetInt64(0) / Math.Max(1.0, row.GetInt64(1)):0} messages");
            return row.GetInt64(0) >= expected ? 0 : 1;
        }
        finally
        {
            if (!server.HasExited) server.Kill();
            await server.WaitForExitAsync();
            Directory.Delete(data, recursive: true);
        }
    }

    // A switch at a valve is turned to and fro; a signed-in page listens. The valve counts when it stays five seconds: from that message on it is timed.
    private static async Task<List<double>> LookAsync(Uri site, string token, CancellationToken stop)
    {
        using var client = new HttpClient { BaseAddress = site, Timeout = Timeout.InfiniteTimeSpan };
        var form = await client.GetStringAsync(new Uri("/sign-in", UriKind.Relative), CancellationToken.None);
        var mark = System.Text.RegularExpressions.Regex.Match(form, "name=\"__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)\"").Groups[1].Value;
        using var fields = new FormUrlEncodedContent([new("__RequestVerificationToken", mark)]);
        (await client.PostAsync(new Uri("/sign-in?handler=Demo", UriKind.Relative), fields, CancellationToken.None)).EnsureSuccessStatusCode();
        var times = new List<double>();
        try
        {
            using var stream = new StreamReader(await client.GetStreamAsync(new Uri("/?handler=Live", UriKind.Relative), stop));
            using var heard = new SemaphoreSlim(0);
            _ = Task.Run(async () =>
            {
                while (await stream.ReadLineAsync(stop) is { } line)
                    if (line.StartsWith("data:", StringComparison.Ordinal)) heard.Release();
            }, stop);
            for (var turn = 0; ; turn++)
            {
                var watch = new Stopwatch();
                while (heard.CurrentCount > 0) await heard.WaitAsync(stop);
                var began = Stopwatch.StartNew();
                var told = false;
                while (began.Elapsed < TimeSpan.FromSeconds(12))
                {
                    if (!told) await ValveAsync(client, token, turn % 2 == 0, stop);
                    if (!told && began.Elapsed > TimeSpan.FromSeconds(5.05)) (told, _) = (true, Restart(watch));
                    // What else rings before it is another entry, or the heartbeat.
                    if (!await heard.WaitAsync(told ? 6000 : 900, stop) || !told) continue;
                    times.Add(watch.Elapsed.TotalMilliseconds);
                    break;
                }
            }
        }
        catch (OperationCanceledException)
        {
            return times;
        }
    }

    private static bool Restart(Stopwatch watch)
    {
        watch.Restart();
        return true;
    }

    private static async Task ValveAsync(HttpClient client, string token, bool open, CancellationToken stop)
    {
        using var request = new HttpRequestMessage(HttpMethod.Post, "/api/v1/measurements");
        var body = $$"""{"device":"bench-0","values":{"valve.bath":"{{(open ? "open" : "closed")}}"} }""";
        request.Content = new StringContent(body, Encoding.UTF8, "application/json");
        request.Headers.Authorization = new AuthenticationHeaderValue("Bearer", token);
        (await client.SendAsync(request, stop)).EnsureSuccessStatusCode();
    }

    private static double At(List<double> sorted, double share) => sorted[(int)(share * (sorted.Count - 1))];

    private static async Task<List<double>> SpeakAsync(HttpClient client, string token, int device, int seconds)
    {
        var times = new List<double>();
        var watch = Stopwatch.StartNew();
        await Task.Delay(device * 1000 / Devices);
        for (var s = 0; s < seconds; s++)
        {
            var (taken, milliseconds) = await SendAsync(client, token, device, -s - 1, 1);
            if (taken == 1) times.Add(milliseconds);
            var due = TimeSpan.FromSeconds(s + 1 + (double)device / Devices) - watch.Elapsed;
            if (due > TimeSpan.Zero) await Task.Delay(due);
        }
        return times;
    }

    private static async Task<(int Taken, double Milliseconds)> SendAsync(HttpClient client, string token, int device, int round, int count)
    {
        var body = new StringBuilder("[");
        for (var i = 0; i < count; i++)
        {
            // A level that rises a little, a meter that runs now and then, a panel whose lights slosh.
            var turn = (long)round * Together + i;
            if (i > 0) body.Append(',');
            body.Append(CultureInfo.InvariantCulture, $$"""
                {"device":"bench-{{device}}","values":{"galley":{"percent":{{Math.Round(20 + Math.Abs(turn % 4000) / 100.0, 2)}} },
                 "black":{"lit":[{{(turn % 60 < 3 ? "\"low\"" : "")}}]},
                 "flow":{"litersTotal":{{Math.Abs(turn) / 100 * 3}} },"bay":{"celsius":{{4 + turn % 7}} } } }
                """);
        }
        body.Append(']');
        var watch = Stopwatch.StartNew();
        using var request = new HttpRequestMessage(HttpMethod.Post, "/api/v1/measurements");
        request.Content = new StringContent(body.ToString(), Encoding.UTF8, "application/json");
        request.Headers.Authorization = new AuthenticationHeaderValue("Bearer", token);
        using var response = await client.SendAsync(request);
        var said = await response.Content.ReadAsStringAsync();
        var taken = response.StatusCode == System.Net.HttpStatusCode.Accepted
            ? System.Text.Json.JsonDocument.Parse(said).RootElement.GetProperty("accepted").GetInt32() : 0;
        return (taken, watch.Elapsed.TotalMilliseconds);
    }
}
