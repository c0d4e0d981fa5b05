using System.Diagnostics;
using System.Globalization;
using System.Net;
using System.Net.Http.Headers;
using System.Text;
using System.Text.Json;
using System.Text.RegularExpressions;
using NodaTime;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Simulation;

namespace Tanksophos.Benchmarks;

/// <summary>
/// Ten years of a household, played through HTTP: three rigs, two owners, devices, storage each winter, another zone every other year, a clock set
/// back, crashes instead of stops, a backup restored and a database of the first schema to begin with.
/// </summary>
internal static partial class Decade
{
    private const int Port = 5393, Rigs = 3, Parts = 3, SeasonDays = 200, Batch = 800, Looks = 12;
    private const string Owner = "Robin", Second = "Kim", Passphrase = "kettle biscuit gravel";

    private static readonly string[] Pages = ["/", "/logbook", "/sensors", "/care", "/trip", "/find"];

    private sealed record Part(Instant Until, IReadOnlyList<LogEntry> Entries, IReadOnlyDictionary<string, double> Truth);

    /// <param name="published">Folder of the published program.</param>
    /// <param name="backups">Folder with a database of the first schema.</param>
    /// <param name="years">How many years.</param>
    public static async Task<int> MeasureAsync(string published, string backups, int years)
    {
        var program = Path.Combine(published, "tanksophos-web.dll");
        var data = Directory.CreateTempSubdirectory("bench-decade-").FullName;
        var watch = Stopwatch.StartNew();
        Run(program, "restore", Path.Combine(backups, "1-FirstSlice.db"), "--data", data);
        var lives = Enumerable.Range(0, Rigs).Select(r => Enumerable.Range(0, years).SelectMany(y => Season(r, 2016 + y)).ToList()).ToList();
        Console.WriteLine($"{lives.Sum(l => l.Sum(p => p.Entries.Count))} entries of {Rigs} rigs in {years} years made in {watch.Elapsed.TotalSeconds:0.0} s");
        var tokens = new string[Rigs];
        var sent = new int[Rigs];
        var (within, seen, wide, memory, lost) = (0, 0, 0.0, new List<long>(), 0);
        string? kept = null;
        for (var step = 0; step < years * Parts; step++)
        {
            var (year, part) = (step / Parts, step % Parts);
            var now = lives.Max(l => l[step].Until);
            // The clock of a small board comes up wrong now and then: a day behind, for one start.
            if (year == 6 && part == 1)
                await WithServerAsync(program, data, now - Duration.FromDays(1), async (client, _) => await LookAsync(client, Pages));
            await WithServerAsync(program, data, now, async (client, server) =>
            {
                if (step == 0) tokens = await BeginAsync(client, lives);
                else await SignInAsync(client, Owner);
                for (var r = 0; r < Rigs; r++)
                {
                    sent[r] += lives[r][step].Entries.Count;
                    await SendAsync(client, tokens[r], lives[r][step].Entries);
                    if (part == Parts - 1) await MeasureAsync(client, tokens[r], now);
                    using var entries = await AskAsync(client, tokens[r], "entries?limit=1");
                    lost += Math.Max(0, sent[r] - entries.RootElement.GetProperty("total").GetInt32());
                    using var assessment = await AskAsync(client, tokens[r], "assessment");
                    foreach (var tank in assessment.RootElement.GetProperty("tanks").EnumerateArray())
                    {
                        var level = tank.GetProperty("level");
                        var (low, high) = (level.GetProperty("p05L").GetDouble(), level.GetProperty("p95L").GetDouble());
                        var truth = lives[r][step].Truth[tank.GetProperty("tank").GetString()!];
                        seen++;
                        wide += high - low;
                        if (truth >= low - 0.5 && truth <= high + 0.5) within++;
                    }
                }
                if (part < Parts - 1) return;
                var times = await LookAsync(client, Pages);
                server.Refresh();
                memory.Add(server.WorkingSet64 >> 20);
                Console.WriteLine($"{2016 + year}: {sent.Sum()} entries, {memory[^1]} MB, pages p50 {times[times.Count / 2]:0} ms, "
                    + $"p95 {times[times.Count * 95 / 100]:0} ms, {lost} lost");
            });
            if (part < Parts - 1) continue;
            // The disk fails in the sixth winter: the backup of that autumn takes its place, and what came since is sent again.
            var backup = Path.Combine(data, $"..{Path.DirectorySeparatorChar}{Path.GetFileName(data)}-{year}.db");
            Run(program, "backup", backup, "--data", data);
            if (year == 5)
            {
                Directory.Delete(data, recursive: true);
                Run(program, "restore", kept!, "--data", data);
                await WithServerAsync(program, data, now, async (client, _) =>
                {
                    for (var r = 0; r < Rigs; r++)
                        foreach (var again in lives[r].Take(step + 1).Skip(step + 1 - Parts)) await SendAsync(client, tokens[r], again.Entries);
                });
            }
            if (kept is not null) File.Delete(kept);
            kept = backup;
        }
        File.Delete(kept!);
        Console.WriteLine($"nothing lost: {(lost == 0 ? "yes" : $"no, {lost}")}; levels within their band {within} of {seen} ({100.0 * within / seen:0} %, "
            + $"90 % wanted), band {wide / seen:0} L wide; memory first year {memory[0]} MB, last {memory[^1]} MB; {watch.Elapsed.TotalMinutes:0.0} minutes");
        Directory.Delete(data, recursive: true);
        return lost == 0 ? 0 : 1;
    }

    // A season from April on, in three parts, with the truth at the end of each; then the rig goes into storage.
    private static IEnumerable<Part> Season(int rig, int year)
    {
        var offset = Offset.FromHours(year % 2 == 0 ? -6 : -5); // every other year spent in the next zone
        var simulated = SimulatedSeason.Simulate(new Scenario(7000 + 100 * rig + year, SeasonDays, RigOf(rig), []));
        var log = simulated.Logbook.InOrder();
        var start = new LocalDateTime(year, 4, 5, 0, 0).WithOffset(offset).ToInstant();
        var shift = start - log[0].Instant;
        for (var p = 0; p < Parts; p++)
        {
            var (from, to) = (start + Duration.FromDays(SeasonDays * p / Parts), start + Duration.FromDays(SeasonDays * (p + 1) / Parts));
            var entries = log.Where(e => e.Instant + shift >= from && e.Instant + shift < to)
                .Select((e, i) => e with { Id = $"{rig}-{year}-{p}-{i}", At = (e.Instant + shift).WithOffset(offset) }).ToList();
            var truth = simulated.Truth.Where(t => t.At.ToInstant() + shift <= to).GroupBy(t => t.Tank).ToDictionary(g => g.Key, g => g.Last());
            var until = truth.Values.Max(t => t.At.ToInstant() + shift);
            entries.RemoveAll(e => e.Instant > until);
            if (p == 0)
            {
                var stored = new LocalDateTime(year - 1, 11, 15, 12, 0).WithOffset(offset);
                entries.InsertRange(0, [
                    new StayEntry { Id = $"{rig}-{year}-stored", At = stored, Hookup = Hookup.Storage, Place = "Home" },
                    new PeopleEntry { Id = $"{rig}-{year}-aboard", At = from.WithOffset(offset), Count = RigOf(rig).People },
                    new StayEntry { Id = $"{rig}-{year}-out", At = from.WithOffset(offset), Hookup = Hookup.Full, Place = "Home" },
                ]);
            }
            yield return new Part(until, entries, truth.ToDictionary(t => t.Key, t => t.Value.LevelL));
        }
    }

    private static Rig RigOf(int rig) => DemoSeason.Rig with { Name = $"Rig {rig + 1}" };

    private static async Task<string[]> BeginAsync(HttpClient client, List<List<Part>> lives)
    {
        await PostAsync(client, "/first", "/first", ("name", Owner), ("passphrase", Passphrase), ("again", Passphrase));
        var tokens = new List<string>();
        for (var r = 0; r < lives.Count; r++)
        {
            var document = LogbookFormat.Write(new Logbook(RigOf(r), []));
            using var upload = new MultipartFormDataContent
            {
                { new StringContent(await VerificationAsync(client, "/import")), "__RequestVerificationToken" }, { new StringContent("new"), "into" },
                { new ByteArrayContent(document), "file", "rig.json" },
            };
            using var preview = await client.PostAsync(new Uri("/import", UriKind.Relative), upload);
            var html = await preview.Content.ReadAsStringAsync();
            await PostAsync(client, "/import", "/import?handler=Confirm", ("token", HiddenToken().Match(html).Groups[1].Value), ("into", "new"),
                ("name", "rig"));
            var made = await PostAsync(client, "/account", "/account?handler=Token", ("name", "bench"), ("may", "Read"), ("may", "Log"), ("may", "Devices"));
            tokens.Add(ApiToken().Match(made).Value);
        }
        var invited = await PostAsync(client, "/account", "/account?handler=Invite", ("role", "Owner"));
        var link = Join().Match(invited).Value;
        using var second = Client();
        await PostAsync(second, link, link, ("name", Second), ("passphrase", Passphrase), ("again", Passphrase));
        return [.. tokens];
    }

    private static async Task SignInAsync(HttpClient client, string name) =>
        await PostAsync(client, "/sign-in", "/sign-in", ("name", name), ("passphrase", Passphrase));

    private static async Task SendAsync(HttpClient client, string token, IReadOnlyList<LogEntry> entries)
    {
        foreach (var batch in entries.Chunk(Batch))
        {
            using var request = new HttpRequestMessage(HttpMethod.Post, "/api/v1/entries")
            {
                Content = new StringContent($"[{string.Join(',', batch.Select(e => Encoding.UTF8.GetString(EntryCodec.Write(e))))}]", Encoding.UTF8,
                    "application/json"),
            };
            request.Headers.Authorization = new AuthenticationHeaderValue("Bearer", token);
            using var answer = await client.SendAsync(request);
            if (answer.StatusCode != HttpStatusCode.OK) throw new InvalidOperationException(await answer.Content.ReadAsStringAsync());
        }
    }

    // A panel that speaks for a day.
    private static async Task MeasureAsync(HttpClient client, string token, Instant now)
    {
        var messages = Enumerable.Range(0, 288).Select(i => $$"""
            {"device":"panel","at":"{{Timestamps.Write((now - Duration.FromMinutes(5 * (288 - i))).WithOffset(Offset.Zero))}}",
             "values":{"bay":{"celsius":{{(12 + i % 7).ToString(CultureInfo.InvariantCulture)}} } } }
            """);
        using var request = new HttpRequestMessage(HttpMethod.Post, "/api/v1/measurements")
        {
            Content = new StringContent($"[{string.Join(',', messages)}]", Encoding.UTF8, "application/json"),
        };
        request.Headers.Authorization = new AuthenticationHeaderValue("Bearer", token);
        using var answer = await client.SendAsync(request);
        answer.EnsureSuccessStatusCode();
    }

    private static async Task<JsonDocument> AskAsync(HttpClient client, string token, string what)
    {
        using var request = new HttpRequestMessage(HttpMethod.Get, "/api/v1/" + what);
        request.Headers.Authorization = new AuthenticationHeaderValue("Bearer", token);
        using var answer = await client.SendAsync(request);
        answer.EnsureSuccessStatusCode();
        return JsonDocument.Parse(await answer.Content.ReadAsStringAsync());
    }

    private static async Task<List<double>> LookAsync(HttpClient client, string[] pages)
    {
        var times = new List<double>();
        for (var i = 0; i < Looks; i++)
            foreach (var page in pages)
            {
                var watch = Stopwatch.StartNew();
                using var answer = await client.GetAsync(new Uri(page, UriKind.Relative));
                await answer.Content.ReadAsByteArrayAsync();
                if ((int)answer.StatusCode >= 500) throw new InvalidOperationException($"{page} answered {(int)answer.StatusCode}");
                if (i > 0) times.Add(watch.Elapsed.TotalMilliseconds);
            }
        return [.. times.Order()];
    }

    private static HttpClient Client() => new(new HttpClientHandler { CookieContainer = new CookieContainer() })
    {
        BaseAddress = new Uri($"http://localhost:{Port}"),
        Timeout = TimeSpan.FromMinutes(5),
    };

    // The program runs for one part of a year and is then killed, as a board loses its power.
    private static async Task WithServerAsync(string program, string data, Instant now, Func<HttpClient, Process, Task> use)
    {
        using var server = Process.Start(new ProcessStartInfo("dotnet",
            [program, "--data", data, "--port", Port.ToString(CultureInfo.InvariantCulture), "--now", Timestamps.Write(now.WithOffset(Offset.Zero))])
        { RedirectStandardOutput = true })!;
        server.OutputDataReceived += (_, _) => { };
        server.BeginOutputReadLine();
        try
        {
            using var client = Client();
            for (var i = 0; ; i++)
            {
                try
                {
                    await client.GetAsync(new Uri("/health", UriKind.Relative));
                    break;
                }
                catch (HttpRequestException) when (i < 300)
                {
                    await Task.Delay(100);
                }
            }
            await use(client, server);
        }
        finally
        {
            server.Kill();
            await server.WaitForExitAsync();
        }
    }

    private static void Run(string program, params string[] words)
    {
        using var command = Process.Start(new ProcessStartInfo("dotnet", [program, .. words]) { RedirectStandardOutput = true })!;
        command.StandardOutput.ReadToEnd();
        command.WaitForExit();
        if (command.ExitCode != 0) throw new InvalidOperationException($"{words[0]} ended with {command.ExitCode}");
    }

    private static async Task<string> VerificationAsync(HttpClient client, string page) =>
        Verification().Match(await client.GetStringAsync(new Uri(page, UriKind.Relative))).Groups[1].Value;

    private static async Task<string> PostAsync(HttpClient client, string page, string action, params (string Name, string Value)[] fields)
    {
        using var form = new FormUrlEncodedContent([new("__RequestVerificationToken", await VerificationAsync(client, page)),
            .. fields.Select(f => new KeyValuePair<string, string>(f.Name, f.Value))]);
        using var answer = await client.PostAsync(new Uri(action, UriKind.Relative), form);
        var html = await answer.Content.ReadAsStringAsync();
        return (int)answer.StatusCode < 400 ? html : throw new InvalidOperationException($"{action} answered {(int)answer.StatusCode}");
    }

    [GeneratedRegex("name=\"__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)\"")]
    private static partial Regex Verification();

    [GeneratedRegex("name=\"token\" value=\"([^\"]+)\"")]
    private static partial Regex HiddenToken();

    [GeneratedRegex("tks_[0-9a-f]{40}")]
    private static partial Regex ApiToken();

    [GeneratedRegex("/join/[0-9a-f]{40}")]
    private static partial Regex Join();
}
