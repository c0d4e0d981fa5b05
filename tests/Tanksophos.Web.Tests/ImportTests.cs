using System.Net;
using System.Text;
using Tanksophos.Core.Log;
using Tanksophos.Web.Hosting;
using Tanksophos.Web.Rigs;

namespace Tanksophos.Web.Tests;

public sealed class ImportTests : IDisposable
{
    private readonly App app = new();

    public void Dispose() => app.Dispose();

    private int Rigs => app.With(s => s.Rigs().Count);

    private int Entries(int rig = 1) => app.With(s => s.Log.All(rig).Count);

    private async Task BringInExampleAsync() => await app.ConfirmAsync((await app.UploadAsync(App.Example("logbook.json"))).Html);

    // What the page shows as a table can be brought in as it stands, line by line.
    [Fact]
    public async Task The_example_on_the_page_is_a_table()
    {
        using var app = App.Demo();
        var example = (await app.GetAsync("/import")).Dom().QuerySelector("pre")!.TextContent;
        var lines = example.Split('\n', StringSplitOptions.RemoveEmptyEntries);
        lines.Length.ShouldBe(4);
        lines[0].ShouldStartWith("at,tank,");
        lines.Skip(1).ShouldAllBe(l => l.Split(',').Length == lines[0].Split(',').Length && l.StartsWith("2026-05-09T", StringComparison.Ordinal));
    }

    [Fact]
    public async Task A_logbook_is_shown_first_and_written_only_after_a_yes()
    {
        var (status, preview) = await app.UploadAsync(App.Example("logbook.json"));
        status.ShouldBe(HttpStatusCode.OK);
        preview.Text("[data-into=new]").ShouldContain("Blue Kettle");
        preview.ShouldShow("[data-added='168']");
        Rigs.ShouldBe(0);

        var (confirmed, today) = await app.ConfirmAsync(preview);
        confirmed.ShouldBe(HttpStatusCode.OK);
        today.Text("[data-logged]").ShouldContain("168");
        today.ShouldShow("[data-agenda=dump-run]");
        Entries().ShouldBe(168);
    }

    [Fact]
    public async Task The_same_file_again_adds_nothing()
    {
        await BringInExampleAsync();

        var (_, preview) = await app.UploadAsync(App.Example("logbook.json"));
        preview.Text("[data-into=here]").ShouldContain("Blue Kettle");
        preview.ShouldShow("[data-there='168']");
        await app.ConfirmAsync(preview);

        Rigs.ShouldBe(1);
        Entries().ShouldBe(168);
    }

    [Fact]
    public async Task Dates_as_people_write_them_are_shown_as_they_were_read_and_can_be_turned_round()
    {
        await BringInExampleAsync();
        var before = Entries();
        const string table = "at,tank,via,fraction\n3/4/2026 9:00 PM,black,sight,0.5\n";
        var (_, preview) = await app.UploadAsync(table, "readings.csv");
        preview.ShouldShow("[data-dates=month][data-sure=no]");
        var (_, turned) = await app.PostAsync("/import", "/import?handler=Order", [.. preview.Fields("[data-dates]"), ("order", "day")]);
        turned.ShouldShow("[data-dates=day]");
        await app.PostAsync("/import", "/import?handler=Confirm", [.. turned.Fields("form[action*=Confirm]")]);
        Entries().ShouldBe(before + 1);
        app.With(s => s.Log.All(1)).OfType<ReadingEntry>().ShouldContain(e => e.Fraction == 0.5 && e.At.Month == 4 && e.At.Day == 3 && e.At.Hour == 21);
    }

    [Fact]
    public async Task Entries_without_ids_are_known_by_their_content()
    {
        var text = App.Example("logbook.json");
        for (var i = 1; i <= 168; i++) text = text.Replace($"      \"id\": \"e{i:000}\",\n", "", StringComparison.Ordinal);
        await app.ConfirmAsync((await app.UploadAsync(text)).Html);
        Entries().ShouldBe(168);

        (await app.UploadAsync(text)).Html.ShouldShow("[data-there='168']");
    }

    [Fact]
    public async Task An_id_with_other_content_is_a_clash_that_stops_all()
    {
        await BringInExampleAsync();
        var changed = App.Example("logbook.json")
            .Replace("\"at\": \"2026-06-09T08:10:00-06:00\"", "\"at\": \"2026-06-09T08:12:00-06:00\"", StringComparison.Ordinal);

        var (status, html) = await app.UploadAsync(changed);

        status.ShouldBe(HttpStatusCode.BadRequest);
        html.ShouldContain("entries[166].id");
        Entries().ShouldBe(168);
    }

    [Fact]
    public async Task A_table_of_readings_goes_to_the_rig_at_hand()
    {
        await BringInExampleAsync();

        var (status, preview) = await app.UploadAsync(App.Example("readings.csv"), "readings.csv");
        status.ShouldBe(HttpStatusCode.OK);
        preview.Text("[data-into=here]").ShouldContain("Blue Kettle");
        (await app.ConfirmAsync(preview)).Html.Text("[data-logged]").ShouldContain("5");
        app.With(s => s.Log.All(1)).OfType<ReadingEntry>().ShouldContain(r => r.Note == "flashlight, straight down");
    }

    [Fact]
    public async Task A_document_can_be_brought_in_as_a_rig_of_its_own()
    {
        await BringInExampleAsync();
        var (_, preview) = await app.UploadAsync(App.Example("logbook.json"), into: "new");
        await app.ConfirmAsync(preview, into: "new");

        Rigs.ShouldBe(2);
        Entries(2).ShouldBe(168);
        (await app.GetAsync("/")).ShouldContain("<option value=\"2\" selected");
    }

    [Theory]
    [InlineData("", "the file is empty")]
    [InlineData("   \n", "the file is empty")]
    [InlineData("{ \"format\": \"tanksophos-logbook\", \"version\": 1, \"rig\": {", "breaks off")]
    [InlineData("{ \"format\": \"tanksophos-trip\", \"version\": 1 }", "expected 'tanksophos-logbook'")]
    [InlineData("at,tank,via\n2026-05-01T08:00Z,black,panel\n", "needs a rig")]
    [InlineData("PK\u0003\u0004 not for us", "can't be read")]
    [InlineData("[1, 2, 3]", "expected an object")]
    public async Task A_wrong_file_is_refused_in_words(string text, string words)
    {
        var (status, html) = await app.UploadAsync(text);

        status.ShouldBe(HttpStatusCode.BadRequest);
        html.ShouldContain(words);
        html.ShouldShow("[data-refused]");
        Rigs.ShouldBe(0);
    }

    [Theory]
    [InlineData("\"tank\": \"bath\"", "\"tank\": \"bidet\"", "tank")]
    [InlineData("\"waterL\": 15", "\"waterL\": -15", "waterL")]
    [InlineData("\"at\": \"2026-06-09T08:10:00-06:00\"", "\"at\": \"2029-06-09T08:10:00-06:00\"", "at")]
    public async Task Errors_are_shown_with_their_path(string good, string bad, string field)
    {
        var entries = System.Text.Json.JsonDocument.Parse(App.Example("logbook.json")).RootElement.GetProperty("entries").EnumerateArray()
            .Select(e => e.GetRawText()).ToList();
        var path = $"entries[{entries.FindIndex(e => e.Contains(good, StringComparison.Ordinal))}].{field}";
        var (status, html) = await app.UploadAsync(App.Example("logbook.json").Replace(good, bad, StringComparison.Ordinal));

        status.ShouldBe(HttpStatusCode.BadRequest);
        html.ShouldContain($"<code>{path}</code>");
    }

    [Fact]
    public async Task A_time_less_than_a_day_ahead_is_taken_with_a_remark()
    {
        var (status, html) = await app.UploadAsync(App.Example("logbook.json")
            .Replace("2026-06-09T08:10:00-06:00", "2026-06-10T08:10:00-06:00", StringComparison.Ordinal));

        status.ShouldBe(HttpStatusCode.OK);
        html.ShouldShow("[data-remark^=entries]");
    }

    [Fact]
    public async Task A_table_with_a_wrong_separator_or_binary_in_it_is_refused_in_words()
    {
        await BringInExampleAsync();

        (await app.UploadAsync("at\ttank\tvia\n2026-05-01T08:00Z\tblack\tpanel\n", "r.csv")).Html.ShouldShow("[data-refused]");
        (await app.UploadAsync([0x89, 0x50, 0x4E, 0x47, 0, 1, 2, 3], "photo.png")).Html.ShouldShow("[data-refused]");
        (await app.UploadAsync("at,tank,via,lit\n2026-06-01T08:00Z,brown,panel,low\n", "r.csv")).Html.ShouldContain("black, bath, galley");
    }

    [Theory]
    [InlineData(33)]
    [InlineData(50)]
    public async Task A_file_that_is_too_large_is_refused_with_the_limit(int megabytes)
    {
        var (status, html) = await app.UploadAsync(Encoding.ASCII.GetBytes(new string(' ', megabytes << 20)));

        ((int)status).ShouldBeOneOf(400, 413);
        html.ShouldContain(Uploads.Limit);
    }

    [Fact]
    public async Task A_yes_to_nothing_or_to_a_forged_word_is_refused()
    {
        foreach (var token in new[] { "", "0123456789abcdef0123456789abcdef", "../../etc/passwd" })
            (await app.PostAsync("/import", "/import?handler=Confirm", ("token", token))).Html.ShouldShow("[data-refused]");
        (await app.PostAsync("/import", "/import")).Status.ShouldBe(HttpStatusCode.BadRequest);
    }

    [Fact]
    public void The_command_brings_in_the_same_files()
    {
        var folder = Directory.CreateTempSubdirectory("tanksophos-cli").FullName;
        var examples = Path.Combine(AppContext.BaseDirectory, "examples");
        (int Code, string Out, string Errors) Run(string file, string? rig = null)
        {
            var (output, errors) = (new StringWriter(), new StringWriter());
            return (ImportCommand.Run(folder, new FileInfo(Path.Combine(examples, file)), rig, output, errors), output.ToString(), errors.ToString());
        }

        Run("readings.csv").Errors.ShouldContain("needs a rig");
        var first = Run("logbook.json");
        (first.Code, first.Errors).ShouldBe((0, ""));
        first.Out.ShouldContain("168 entries");
        var again = Run("logbook.json").Out;
        again.ShouldContain("0 entries");
        again.ShouldContain("168");
        Run("readings.csv").Out.ShouldContain("5 entries added");
        Run("readings.csv", "Red Kettle").Errors.ShouldContain("there is no rig 'Red Kettle'");
        Run("trip.json").Code.ShouldBe(1);
        Run("nothing.json").Code.ShouldBe(2);
        Directory.Delete(folder, recursive: true);
    }
}
