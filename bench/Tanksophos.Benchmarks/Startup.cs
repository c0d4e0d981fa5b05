using System.Diagnostics;
using System.Globalization;
using System.Net;
using System.Net.Sockets;

namespace Tanksophos.Benchmarks;

/// <summary>Time from starting the process to the first 200, beside an empty web application, turn by turn in one run.</summary>
internal static class Startup
{
    public static async Task<int> MeasureAsync(int rounds)
    {
        var root = FindRoot();
        var work = Directory.CreateTempSubdirectory("tanksophos-startup").FullName;
        Publish(root, "src/Tanksophos.Web", Path.Combine(work, "web"));
        Publish(root, "bench/Tanksophos.EmptyApp", Path.Combine(work, "empty"));
        var data = Path.Combine(work, "data");
        List<double> ours = [], empty = [];
        for (var i = 0; i < rounds; i++)
        {
            empty.Add(await TimeAsync(Path.Combine(work, "empty", "Tanksophos.EmptyApp.dll"), p => ["--urls", $"http://127.0.0.1:{p}"]));
            ours.Add(await TimeAsync(Path.Combine(work, "web", "tanksophos-web.dll"),
                p => ["--data", data, "--demo", "--port", p.ToString(CultureInfo.InvariantCulture)]));
            if (i > 0) continue;
            ours.Clear(); // the first round makes the database and warms the disk
            empty.Clear();
        }
        Console.WriteLine($"empty application: median {Median(empty):0} ms; Tanksophos with the demo rig: median {Median(ours):0} ms; ratio "
            + $"{Median(ours) / Median(empty):0.00} ({ours.Count} rounds each)");
        Directory.Delete(work, recursive: true);
        return 0;
    }

    private static async Task<double> TimeAsync(string dll, Func<int, string[]> arguments)
    {
        using var probe = new TcpListener(IPAddress.Loopback, 0);
        probe.Start();
        var port = ((IPEndPoint)probe.LocalEndpoint).Port;
        probe.Stop();
        var start = new ProcessStartInfo("dotnet") { RedirectStandardOutput = true, RedirectStandardError = true };
        start.ArgumentList.Add(dll);
        foreach (var a in arguments(port)) start.ArgumentList.Add(a);
        var watch = Stopwatch.StartNew();
        using var process = Process.Start(start)!;
        process.OutputDataReceived += (_, _) => { };
        process.BeginOutputReadLine();
        using var client = new HttpClient();
        while (watch.Elapsed < TimeSpan.FromSeconds(60))
        {
            try
            {
                using var response = await client.GetAsync(new Uri($"http://127.0.0.1:{port}/"));
                if (response.StatusCode == HttpStatusCode.OK) break;
            }
            catch (HttpRequestException)
            {
                await Task.Delay(2);
            }
        }
        var time = watch.Elapsed.TotalMilliseconds;
        process.Kill();
        await process.WaitForExitAsync();
        return time;
    }

    /// <summary>Publishes a project for this machine.</summary>
    internal static void Publish(string root, string project, string output)
    {
        using var process = Process.Start(new ProcessStartInfo("dotnet",
            ["publish", Path.Combine(root, project), "-c", "Release", "-o", output, "--use-current-runtime", "--self-contained", "false", "-v", "quiet",
            "--nologo"]))!;
        process.WaitForExit();
        if (process.ExitCode != 0) throw new InvalidOperationException($"{project} does not publish.");
    }

    private static double Median(List<double> values)
    {
        var sorted = values.Order().ToList();
        return 0.5 * (sorted[(sorted.Count - 1) / 2] + sorted[sorted.Count / 2]);
    }

    /// <summary>The repository that the benchmarks run in.</summary>
    internal static string FindRoot()
    {
        for (var d = new DirectoryInfo(AppContext.BaseDirectory); d is not null; d = d.Parent)
            if (File.Exists(Path.Combine(d.FullName, "Tanksophos.slnx"))) return d.FullName;
        throw new InvalidOperationException("Run it from within the repository.");
    }
}
