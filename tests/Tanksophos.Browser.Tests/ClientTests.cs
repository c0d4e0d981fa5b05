using System.Diagnostics;
using System.Text.Json;

namespace Tanksophos.Browser.Tests;

/// <summary>The small clients of the docs do what they say, against the published program.</summary>
public class ClientTests
{
    private static (int Code, string Out, string Errors) Run(string program, Site site, string token, params string[] arguments)
    {
        var start = new ProcessStartInfo(program) { RedirectStandardOutput = true, RedirectStandardError = true };
        foreach (var a in arguments) start.ArgumentList.Add(a);
        (start.Environment["TANKSOPHOS"], start.Environment["TOKEN"]) = (site.Url.ToString().TrimEnd('/'), token);
        using var process = Process.Start(start)!;
        var (said, errors) = (process.StandardOutput.ReadToEnd(), process.StandardError.ReadToEnd());
        process.WaitForExit();
        return (process.ExitCode, said, errors);
    }

    [Fact]
    public async Task Both_read_and_log_and_say_what_was_refused()
    {
        using var site = new Site(demo: true);
        var token = await Gadget.TokenAsync(site);
        var folder = Path.Combine(AppContext.BaseDirectory, "examples", "clients");
        var (shell, python) = (Path.Combine(folder, "tanksophos.sh"), Path.Combine(folder, "tanksophos.py"));
        JsonElement Shell(params string[] what) => Run("bash", site, token, [shell, .. what]).Out is { Length: > 0 } said ? JsonDocument.Parse(said).RootElement
            : throw new InvalidOperationException("nothing came");
        (int Code, string Out, string Errors) Python(params string[] what) => Run("python3", site, token, [python, site.Url.ToString(), token, .. what]);

        Shell("agenda").GetProperty("items").GetArrayLength().ShouldBeGreaterThan(0);
        Shell("entries", "type=dump", "limit=2").GetProperty("entries").GetArrayLength().ShouldBe(2);
        // The clock of the demonstration is set: these entries say their time.
        Shell("log", """{"at":"2026-06-09T17:00:00-06:00","type":"people","count":3}""").GetProperty("added").GetInt32().ShouldBe(1);
        JsonDocument.Parse(Python("agenda").Out).RootElement.GetProperty("items").GetArrayLength().ShouldBeGreaterThan(0);
        var logged = Python("log", """{"at":"2026-06-09T17:01:00-06:00","type":"people","count":2}""");
        JsonDocument.Parse(logged.Out).RootElement.GetProperty("added").GetInt32().ShouldBe(1);
        var total = Shell("entries").GetProperty("total").GetInt32();
        JsonDocument.Parse(Python("entries").Out).RootElement.GetArrayLength().ShouldBe(total);
        var refused = Python("log", """{"at":"2026-06-09T17:01:00-06:00","type":"people","count":-2}""");
        (refused.Code, refused.Errors.Contains("count", StringComparison.Ordinal)).ShouldBe((1, true));
        Run("bash", site, "tks_wrong", [shell, "agenda"]).Code.ShouldNotBe(0);
    }
}
