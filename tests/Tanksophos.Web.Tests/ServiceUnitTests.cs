using System.Diagnostics;

namespace Tanksophos.Web.Tests;

/// <summary>The service unit, by the system's own judgement where its tool is there.</summary>
public sealed class ServiceUnitTests
{
    private const string Tool = "/usr/bin/systemd-analyze";

    // Of 10; up to here a service counts as locked in.
    private const string Exposure = "20";

    private static string Unit
    {
        get
        {
            var at = AppContext.BaseDirectory;
            while (!File.Exists(Path.Combine(at, "tools", "run", "tanksophos.service"))) at = Path.GetDirectoryName(at)!;
            return Path.Combine(at, "tools", "run", "tanksophos.service");
        }
    }

    private static async Task<(int Code, string Said)> AskAsync(params string[] words)
    {
        Assert.SkipUnless(File.Exists(Tool), "this machine has no systemd-analyze");
        using var process = Process.Start(new ProcessStartInfo(Tool, words) { RedirectStandardOutput = true, RedirectStandardError = true })!;
        var said = await process.StandardOutput.ReadToEndAsync() + await process.StandardError.ReadToEndAsync();
        await process.WaitForExitAsync();
        Assert.SkipWhen(said.Contains("Failed to connect", StringComparison.Ordinal) || said.Contains("not supported", StringComparison.Ordinal),
            "systemd-analyze does not work here");
        return (process.ExitCode, said);
    }

    [Fact]
    public async Task It_is_locked_in()
    {
        var (code, said) = await AskAsync("security", "--offline=true", $"--threshold={Exposure}", Unit);
        code.ShouldBe(0, said);
    }

    [Fact]
    public async Task Its_lines_are_understood()
    {
        var (_, said) = await AskAsync("verify", Unit);
        // The program itself need not lie where the unit expects it.
        said.Split('\n', StringSplitOptions.RemoveEmptyEntries)
            .Where(l => l.Contains("tanksophos.service", StringComparison.Ordinal) && !l.Contains("is not executable", StringComparison.Ordinal))
                .ShouldBeEmpty();
    }

    [Theory]
    [InlineData("Type=notify")]
    [InlineData("DynamicUser=yes")]
    [InlineData("NoNewPrivileges=yes")]
    [InlineData("ProtectSystem=strict")]
    [InlineData("StateDirectoryMode=0700")]
    public void It_says_what_it_must(string line) => File.ReadAllLines(Unit).ShouldContain(line);
}
