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

    public BenchApp(int entries)
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
        Say("log recorded");
        Startup.Publish(Startup.FindRoot(), "bench/Tanksophos.BarePage", work);
        Say("published");
        var start = new ProcessStartInfo("dotnet", [Path.Combine(work, "Tanksophos.BarePage.dll"), "--data", folder.Root, "--port", "0", "--demo", "--now", LongLog.Now.ToString()]) { RedirectStandardOutput = true };
        process = Process.Start(start)!;
        string? line;
        while ((line = process.StandardOutput.ReadLine()) is not null && !line.Contains("http://", StringComparison.Ordinal)) Console.WriteLine(line);
        Client = new HttpClient(new HttpClientHandler { CookieContainer = new CookieContainer() }) { BaseAddress = new Uri((line ?? "")[(line ?? "").IndexOf("http://", StringComparison.Ordinal)..].Trim()) };
        Say("started");
        var page = Client.GetStringAsync(new Uri("/sign-in", UriKind.Relative)).GetAwaiter().GetResult();
        using var form = new FormUrlEncodedContent([new("__RequestVerificationToken", Token().Match(page).Groups[1].Value)]);
        Client.PostAsync(new Uri("/sign-in?handler=Demo", UriKind.Relative), form).GetAwaiter().GetResult().EnsureSuccessStatusCode();
        Say("signed in, first page");
    }

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
