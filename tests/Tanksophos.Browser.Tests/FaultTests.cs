using System.Diagnostics;
using System.Net;
using System.Text;
using System.Text.Json;

namespace Tanksophos.Browser.Tests;

/// <summary>
/// A disk that is full, a folder that cannot be written, a clock that goes back: what was acknowledged stays, reading goes on, and people are told.
/// </summary>
public sealed class FaultTests : IDisposable
{
    private static readonly string[] Pages = ["/", "/logbook", "/trip", "/run", "/find", "/sensors", "/treatments", "/rig", "/rules", "/account", "/keeping",
        "/export/logbook"];

    private readonly string folder = Directory.CreateTempSubdirectory("tanksophos-fault").FullName;
    private bool mounted;

    public void Dispose()
    {
        if (mounted) Run("umount", "-l", folder);
        Run("chmod", "-R", "u+rwx", folder);
        Directory.Delete(folder, recursive: true);
    }

    private static bool Run(string program, params string[] arguments)
    {
        try
        {
            using var process = Process.Start(new ProcessStartInfo(program, arguments) { RedirectStandardError = true })!;
            process.WaitForExit();
            return process.ExitCode == 0;
        }
        catch (System.ComponentModel.Win32Exception)
        {
            return false;
        }
    }

    private static StringContent Entry(string id, string note = "") =>
        new($"{{\"id\":\"{id}\",\"at\":\"2026-06-09T12:00:00-06:00\",\"type\":\"people\",\"count\":2,\"note\":\"{note}\"}}", Encoding.UTF8, "application/json");

    [Fact]
    public async Task A_full_disk_is_said_on_the_page_and_in_json_reading_goes_on_and_nothing_acknowledged_is_lost()
    {
        // A small disk where one can be mounted; elsewhere a folder that is closed after the start says the same.
        mounted = Run("mount", "-t", "tmpfs", "-o", "size=3m", "none", folder);
        using var site = new Site(demo: true, data: folder);
        using var pages = new HttpClient { BaseAddress = site.Url };
        var token = await Gadget.TokenAsync(pages);
        using var gadget = Gadget.Client(site, token);
        foreach (var page in Pages) (await pages.GetAsync(new Uri(page, UriKind.Relative))).StatusCode.ShouldBe(HttpStatusCode.OK, page);
        if (!mounted) Run("chmod", "-R", "a-w", Path.Combine(folder, "data"));

        var acknowledged = new List<string>();
        HttpStatusCode last = default;
        string? type = null, said = null;
        for (var n = 0; n < 4000; n++)
        {
            using var response = await gadget.PostAsync(new Uri("/api/v1/entries", UriKind.Relative), Entry($"n{n}", new string('x', 3000)));
            (last, type, said) = (response.StatusCode, response.Content.Headers.ContentType?.MediaType, await response.Content.ReadAsStringAsync());
            if (last != HttpStatusCode.OK) break;
            acknowledged.Add($"n{n}");
        }
        last.ShouldBe(HttpStatusCode.InsufficientStorage, said);
        type.ShouldBe("application/problem+json");
        JsonDocument.Parse(said!).RootElement.GetProperty("detail").GetString()!.ShouldContain("disk is full");

        var html = await pages.GetStringAsync(new Uri("/", UriKind.Relative));
        var verification = System.Text.RegularExpressions.Regex.Match(html,
            "name=\"__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)\"").Groups[1].Value;
        HttpStatusCode status = default;
        string answer = "";
        for (var n = 0; n < 200 && status != HttpStatusCode.InsufficientStorage; n++) // a small entry may still find a corner
        {
            using var form = new FormUrlEncodedContent([new("__RequestVerificationToken", verification), new("id", $"p{n}"), new("count", "3")]);
            using var posted = await pages.PostAsync(new Uri("/?handler=People", UriKind.Relative), form);
            (status, answer) = (posted.StatusCode, await posted.Content.ReadAsStringAsync());
            if (status == HttpStatusCode.OK) acknowledged.Add($"p{n}");
        }
        status.ShouldBe(HttpStatusCode.InsufficientStorage);
        answer.ShouldContain("The disk is full");
        foreach (var page in Pages) (await pages.GetAsync(new Uri(page, UriKind.Relative))).StatusCode.ShouldBe(HttpStatusCode.OK, page);
        acknowledged.Except(await IdsAsync(gadget)).ShouldBeEmpty();

        // Room again: it goes on without a restart.
        if (mounted) Run("mount", "-o", "remount,size=64m", folder).ShouldBeTrue();
        else Run("chmod", "-R", "u+w", Path.Combine(folder, "data"));
        using var again = await gadget.PostAsync(new Uri("/api/v1/entries", UriKind.Relative), Entry("later"));
        again.StatusCode.ShouldBe(HttpStatusCode.OK);
        string[] all = [.. acknowledged, "later"];
        all.Except(await IdsAsync(gadget)).ShouldBeEmpty();
    }

    [Fact]
    public async Task A_clock_that_goes_back_leaves_every_page_standing()
    {
        using (var site = new Site(demo: true, data: folder)) await Gadget.TokenAsync(site);
        using var earlier = new Site(demo: true, data: folder, now: "2026-05-20T09:00:00-06:00");
        using var pages = new HttpClient { BaseAddress = earlier.Url };
        await Gadget.TokenAsync(pages);
        foreach (var page in Pages) (await pages.GetAsync(new Uri(page, UriKind.Relative))).StatusCode.ShouldBe(HttpStatusCode.OK, page);
        earlier.Said.ShouldBeEmpty();
    }

    private static async Task<HashSet<string>> IdsAsync(HttpClient gadget)
    {
        using var document = JsonDocument.Parse(await gadget.GetStringAsync(new Uri("/api/v1/logbook", UriKind.Relative)));
        return [.. document.RootElement.GetProperty("entries").EnumerateArray().Where(e => e.TryGetProperty("id", out _))
            .Select(e => e.GetProperty("id").GetString()!)];
    }
}
