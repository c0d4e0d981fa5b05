using System.Diagnostics;
using System.Net;
using System.Text.RegularExpressions;
using NodaTime.Testing;
using Tanksophos.Data;

namespace Tanksophos.Benchmarks;

/// <summary>The web application as a process of its own on a free port, with a long log, and somebody signed in.</summary>
internal sealed partial class BenchApp : IDisposable
{
    private readonly DataFolder folder = new(Directory.CreateTempSubdirectory("tanksophos-bench").FullName);
    private readonly string work = Directory.CreateTempSubdirectory("tanksophos-bench-app").FullName;
    private readonly Process process;

    /// <summary>Where the client's cookies are.</summary>
    public CookieContainer Cookies { get; } = new();

    /// <param name="entries">Length of the log of its own rig.</param>
    /// <param name="more">Puts more into the database before the start.</param>
    public BenchApp(int entries, Action<DataFolder>? more = null)
    {
        folder.Migrate();
        var watch = Stopwatch.StartNew();
        var log = LongLog.Of(entries);
        void Say(string what)
        {
            Console.WriteLine($"{what}: {watch.Elapsed.TotalSeconds:0.0} s");
            watch.Restart();
        }
        Say("log made");
        Rig = With(s => s.Add(log.Rig with { Name = "A long log" }, log.Entries));
        more?.Invoke(folder);
        Say("log recorded");
        Startup.Publish(Startup.FindRoot(), "bench/Tanksophos.BarePage", work);
        Say("published");
        var start = new ProcessStartInfo("dotnet",
            [Path.Combine(work, "Tanksophos.BarePage.dll"), "--data", folder.Root, "--port", "0", "--demo", "--now",
            LongLog.Now.ToString()])
        { RedirectStandardOutput = true };
        process = Process.Start(start)!;
        string? line;
        while ((line = process.StandardOutput.ReadLine()) is not null && !line.Contains("http://", StringComparison.Ordinal)) Console.WriteLine(line);
        Client = new HttpClient(new HttpClientHandler { CookieContainer = Cookies })
        {
            BaseAddress =
            new Uri((line ?? "")[(line ?? "").IndexOf("http://", StringComparison.Ordinal)..].Trim())
        };
        Say("started");
        var page = Client.GetStringAsync(new Uri("/sign-in", UriKind.Relative)).GetAwaiter().GetResult();
        using var form = new FormUrlEncodedContent([new("__RequestVerificationToken", Token().Match(page).Groups[1].Value)]);
        Client.PostAsync(new Uri("/sign-in?handler=Demo", UriKind.Relative), form).GetAwaiter().GetResult().EnsureSuccessStatusCode();
        Say("signed in, first page");
    }

    /// <summary>The token of the forms on a page.</summary>
    public async Task<string> VerificationAsync(string page) => Token().Match(await Client.GetStringAsync(new Uri(page, UriKind.Relative))).Groups[1].Value;

    /// <summary>Sends a form.</summary>
    public async Task<string> PostAsync(string page, string action, params (string Name, string Value)[] fields)
    {
        using var form = new FormUrlEncodedContent([new("__RequestVerificationToken", await VerificationAsync(page)),
            .. fields.Select(f => new KeyValuePair<string, string>(f.Name, f.Value))]);
        using var response = await Client.PostAsync(new Uri(action, UriKind.Relative), form);
        return await response.Content.ReadAsStringAsync();
    }

    /// <summary>Makes a token that may log.</summary>
    public async Task<string> TokenAsync() => ApiToken()
        .Match(await PostAsync("/account", "/account?handler=Token", ("name", "bench"), ("may", "Read"), ("may", "Log"), ("may", "Devices"))).Value;

    [GeneratedRegex("tks_[0-9a-f]{40}")]
    private static partial Regex ApiToken();

    public int Rig { get; }

    public HttpClient Client { get; }

    /// <summary>Memory of the process in bytes.</summary>
    public long Memory
    {
        get
        {
            process.Refresh();
            return process.WorkingSet64;
        }
    }

    /// <summary>Uses the database beside the running program.</summary>
    public T With<T>(Func<RigStore, T> use)
    {
        using var context = folder.Open();
        return use(new RigStore(context, new FakeClock(LongLog.Now)));
    }

    public void Dispose()
    {
        Client.Dispose();
        process.Kill();
        process.WaitForExit();
        process.Dispose();
        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        Directory.Delete(folder.Root, recursive: true);
        Directory.Delete(work, recursive: true);
    }

    [GeneratedRegex("name=\"__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)\"")]
    private static partial Regex Token();
}
