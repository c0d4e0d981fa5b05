using System.Net;
using System.Text;
using System.Text.Json;
using Tanksophos.Core.Log;
using Tanksophos.Web.Rigs;

namespace Tanksophos.Web.Tests;

/// <summary>A spreadsheet kept by hand on the page: seen first, corrected, brought in, undone in one press. And imports long enough to be stopped.</summary>
public sealed class SheetImportTests : IDisposable
{
    private readonly App app = App.Demo();

    public void Dispose() => app.Dispose();

    private int Entries => app.With(s => s.Log.All(1).Count);

    private const string Kept = "Our dump log\n,,\nDate,Black,Galley,Notes\n3/4/2026,1/3,40%,\n3/5/2026,dumped,dumped,\"long line, short tempers\"\n";

    // The preview's own form, as a browser would send it.
    private Task<(HttpStatusCode Status, string Html)> SendAsync(string html, string handler) =>
        app.PostAsync("/import", $"/import?handler={handler}", [.. html.Fields($"form[action*={handler}]").Where(f => f.Name != "__RequestVerificationToken")]);

    [Fact]
    public async Task It_is_shown_as_it_is_read_brought_in_and_undone_in_one_press()
    {
        var before = Entries;
        var (status, html) = await app.UploadAsync(Kept, "dumps.csv");
        status.ShouldBe(HttpStatusCode.OK);
        html.ShouldShow("[data-sheet='2'][data-lines='2'][data-order=month]");
        html.Dom().QuerySelectorAll("[data-column]").Select(c => c.GetAttribute("data-column")).ShouldBe(["date", "level:black", "level:galley", "note"]);
        html.ShouldShow("[data-added='4']");
        Entries.ShouldBe(before);
        (await SendAsync(html, "Confirm")).Status.ShouldBe(HttpStatusCode.OK);
        Entries.ShouldBe(before + 4);
        (await app.UploadAsync(Kept, "dumps.csv")).Html.ShouldShow("[data-added='0'][data-there='4']"); // once is enough

        var listed = await app.GetAsync("/import");
        listed.ShouldShow("[data-import='4']");
        (await SendAsync(listed, "Undo")).Html.ShouldShow("[data-import='0']");
        Entries.ShouldBe(before);
        (await SendAsync(await app.GetAsync("/import"), "Undo")).Html.ShouldShow("[data-import='4']"); // and back
        Entries.ShouldBe(before + 4);
    }

    [Fact]
    public async Task What_was_removed_by_hand_stays_removed_when_an_import_is_put_back()
    {
        await SendAsync((await app.UploadAsync(Kept, "dumps.csv")).Html, "Confirm");
        var key = app.With(s => s.Log.Page(1, 0, 500).Entries.First(e => e.Entry is DumpEntry && e.Entry.At.Date == new NodaTime.LocalDate(2026, 3, 5)).Key);
        app.With(s => s.Writer.Withdraw(1, key, true, "test"));
        app.Clock.Advance(NodaTime.Duration.FromMinutes(1));
        await SendAsync(await app.GetAsync("/import"), "Undo");
        app.Clock.Advance(NodaTime.Duration.FromMinutes(1));
        await SendAsync(await app.GetAsync("/import"), "Undo");
        (await app.GetAsync("/import")).ShouldShow("[data-import='3']");
        app.With(s => s.Log.Entry(1, key))!.Withdrawn.ShouldBeTrue();
    }

    [Fact]
    public async Task A_person_can_say_what_a_column_holds_and_how_dates_are_read()
    {
        var html = (await app.UploadAsync("Date,Stuff\n3/4/2026,x\n3/5/2026,\n", "mine.csv")).Html;
        html.ShouldShow("[data-refused]"); // nothing understood, but it can be explained
        var fields = html.Fields("form[action*=Columns]").Where(f => f.Name is not ("column" or "order" or "__RequestVerificationToken"))
            .Append(("column", "date")).Append(("column", "dumped:black")).Append(("order", "day"));
        var (status, read) = await app.PostAsync("/import", "/import?handler=Columns", [.. fields]);
        status.ShouldBe(HttpStatusCode.OK);
        read.ShouldShow("[data-added='1']");
        await SendAsync(read, "Confirm");
        app.With(s => s.Log.All(1)).OfType<DumpEntry>().ShouldContain(d => d.Tank == "black" && d.At.Date == new NodaTime.LocalDate(2026, 4, 3));
    }

    [Fact]
    public async Task A_spreadsheet_of_photos_is_refused_with_a_word_and_nothing_is_saved()
    {
        var before = Entries;
        foreach (var (file, name) in new[] { (Pictures.Png(), "sheet.xlsx"), ([0xFF, 0xD8, 0xFF, 0xE0, 0, 1], "log.csv"),
            (new byte[] { 0x50, 0x4B, 3, 4, 1, 2, 3 }, "x.xlsx") })
        {
            var (status, html) = await app.UploadAsync(file, name);
            status.ShouldBe(HttpStatusCode.BadRequest, name);
            html.ShouldShow("[data-refused] li");
        }
        Entries.ShouldBe(before);
    }

    private static string Many(int count)
    {
        var text = new StringBuilder("at,tank,via,lit,percent,fraction,note\n");
        var at = new NodaTime.LocalDateTime(2010, 1, 1, 8, 0);
        for (var i = 0; i < count; i++) text.Append($"{at.PlusHours(i):uuuu-MM-dd'T'HH:mm:ss}Z,black,sight,,,0.{i % 90 + 10},\n");
        return text.ToString();
    }

    private async Task<double?> ShareAsync(string page)
    {
        var json = await app.Client.GetStringAsync(new Uri(page + "?handler=State", UriKind.Relative));
        return JsonDocument.Parse(json).RootElement.GetProperty("share") is { ValueKind: JsonValueKind.Number } share ? share.GetDouble() : null;
    }

    private async Task<string> BeginAsync(int count)
    {
        var preview = (await app.UploadAsync(Many(count), "many.csv")).Html;
        using var answer = await app.SendAsync("/import", "/import?handler=Confirm", [.. preview.Fields("form[action*=Confirm]")
            .Where(f => f.Name != "__RequestVerificationToken")]);
        var at = answer.RequestMessage!.RequestUri!.AbsolutePath;
        return at;
    }

    private async Task EndedAsync(string page)
    {
        for (var i = 0; i < 600 && await ShareAsync(page) is not null; i++) await Task.Delay(50);
        (await ShareAsync(page)).ShouldBeNull();
    }

    [Fact]
    public async Task A_long_import_can_be_watched_to_its_end()
    {
        var before = Entries;
        var page = await BeginAsync(ImportJobs.Many + 200);
        if (page.StartsWith("/import/working/", StringComparison.Ordinal)) // else it was over before it could be looked at
        {
            await EndedAsync(page);
            (await app.GetAsync(page)).ShouldShow("[data-logged]");
        }
        Entries.ShouldBe(before + ImportJobs.Many + 200);
    }

    [Fact]
    public async Task A_long_import_that_is_stopped_leaves_nothing()
    {
        var before = Entries;
        var jobs = (ImportJobs)app.Services.GetService(typeof(ImportJobs))!;
        var page = await BeginAsync(60_000);
        page.ShouldStartWith("/import/working/");
        ImportJobs.Stop(jobs.Find(page.Split('/')[^1], 1)!);
        await EndedAsync(page);
        (await app.GetAsync(page)).ShouldShow("[data-ended=stopped]");
        Entries.ShouldBe(before);
        (await app.PostAsync("/import", page + "?handler=Stop")).Status.ShouldBe(HttpStatusCode.OK); // twice is no harm
        (await app.PostAsync("/import", "/import/working/none?handler=Stop")).Status.ShouldBe(HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task Everything_that_can_be_taken_out_is_on_one_page_and_comes()
    {
        var links = (await app.GetAsync("/import")).Dom().QuerySelectorAll(".formats a[download]").Select(a => a.GetAttribute("href")!).ToList();
        links.Count.ShouldBe(7);
        foreach (var link in links)
        {
            using var answer = await app.Client.GetAsync(new Uri(link, UriKind.Relative));
            answer.StatusCode.ShouldBe(HttpStatusCode.OK, link);
            (await answer.Content.ReadAsByteArrayAsync()).Length.ShouldBeGreaterThan(100, link);
        }
    }
}
