using System.Diagnostics;
using System.Text.RegularExpressions;

namespace Tanksophos.Browser.Tests;

/// <summary>The published program as a process of its own, on a free port, with a data folder of its own and a set clock.</summary>
public sealed partial class Site : IDisposable
{
    private readonly Process process;
    private readonly string folder;
    private readonly bool keep;

    /// <summary>Starts the program.</summary>
    /// <param name="demo">Whether as a demonstration.</param>
    /// <param name="now">The time it believes it is.</param>
    /// <param name="data">A folder that outlives this process; null for one of its own.</param>
    /// <param name="port">The port; 0 for any that is free.</param>
    /// <param name="more">Further options.</param>
    public Site(bool demo, string now = "2026-06-09T17:30:00-06:00", string? data = null, int port = 0, params string[] more)
    {
        keep = data is not null;
        folder = data ?? Directory.CreateTempSubdirectory("tanksophos-browser").FullName;
        var start = new ProcessStartInfo("dotnet") { RedirectStandardOutput = true, RedirectStandardError = true, WorkingDirectory = folder };
        foreach (var argument in (string[])[Path.Combine(Published.Value, "tanksophos-web.dll"), "--data", Path.Combine(folder, "data"), "--port",
            port.ToString(System.Globalization.CultureInfo.InvariantCulture), "--now", now, .. demo ? ["--demo"] : Array.Empty<string>(), .. more])
            start.ArgumentList.Add(argument);
        process = Process.Start(start)!;
        var answered = new TaskCompletionSource<Uri>(TaskCreationOptions.RunContinuationsAsynchronously);
        void Hear(string? line)
        {
            if (string.IsNullOrWhiteSpace(line)) return;
            if (Address().Match(line) is { Success: true } m && answered.TrySetResult(new Uri(m.Value))) return;
            lock (Said) Said.Add(line);
        }
        process.OutputDataReceived += (_, e) => Hear(e.Data);
        process.ErrorDataReceived += (_, e) => Hear(e.Data);
        process.BeginOutputReadLine();
        process.BeginErrorReadLine();
        if (!answered.Task.Wait(TimeSpan.FromSeconds(60)))
        {
            process.Kill();
            throw new InvalidOperationException("The program does not answer: " + string.Join(" ", Said));
        }
        Url = answered.Task.Result;
    }

    public Uri Url { get; }

    /// <summary>What the program said since it answered: warnings and errors.</summary>
    public List<string> Said { get; } = [];

    /// <summary>Runs a command of the program on the same data, while it runs.</summary>
    /// <returns>What it said.</returns>
    public string Command(params string[] arguments)
    {
        var start = new ProcessStartInfo("dotnet") { RedirectStandardOutput = true };
        foreach (var argument in (string[])[Path.Combine(Published.Value, "tanksophos-web.dll"), .. arguments, "--data", Path.Combine(folder, "data")])
            start.ArgumentList.Add(argument);
        using var command = Process.Start(start)!;
        var said = command.StandardOutput.ReadToEnd();
        command.WaitForExit();
        return command.ExitCode == 0 ? said.Trim() : throw new InvalidOperationException($"{string.Join(' ', arguments)}: {command.ExitCode}");
    }

    public static string Root { get; } = FindRoot();

    public void Dispose()
    {
        process.Kill();
        process.WaitForExit();
        process.Dispose();
        if (!keep) Directory.Delete(folder, recursive: true);
    }

    // test.sh publishes before it starts; run from an editor, the tests do it themselves.
    private static readonly Lazy<string> Published = new(() =>
    {
        if (Environment.GetEnvironmentVariable("TANKSOPHOS_PUBLISHED") is { Length: > 0 } given) return given;
        var output = Path.Combine(Root, "artifacts", "test-web");
        using var publish = Process.Start("dotnet",
            ["publish", Path.Combine(Root, "src", "Tanksophos.Web"), "-c", "Release", "-o", output, "-v", "quiet", "--nologo"]);
        publish.WaitForExit();
        return publish.ExitCode == 0 ? output : throw new InvalidOperationException("The program does not publish.");
    });

    private static string FindRoot()
    {
        for (var d = new DirectoryInfo(AppContext.BaseDirectory); d is not null; d = d.Parent)
            if (File.Exists(Path.Combine(d.FullName, "Tanksophos.slnx"))) return d.FullName;
        throw new InvalidOperationException("The repository was not found above the tests.");
    }

    [GeneratedRegex(@"http://localhost:\d+")]
    private static partial Regex Address();
}
