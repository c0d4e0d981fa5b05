using System.Net;
using System.Text;
using System.Text.RegularExpressions;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Words;

namespace Tanksophos.Web.Tests;

public sealed class RulesAndWriteTests : IDisposable
{
    private readonly App app = App.Demo();

    public void Dispose() => app.Dispose();

    private HouseRules Rules => app.With(s => s.Find(1)!.Rig.RulesInForce);

    private LogEntry Last(string id) => app.With(s => s.Log.All(1)).Single(e => e.Id == id);

    private async Task<string> RevisionAsync() => App.Hidden(await app.GetAsync("/rules"), "revision");

    [Fact]
    public async Task Every_matter_is_shown_with_its_schools_and_the_one_in_force_is_chosen()
    {
        var html = await app.GetAsync("/rules");

        foreach (var m in Matters.All)
        {
            html.ShouldContain($"<legend>{m.Title}</legend>");
            foreach (var s in m.Schools) html.ShouldContain(s.Holds);
        }
        Regex.Count(html, "type=\"radio\"[^>]* checked").ShouldBe(Matters.All.Count);
        Regex.Count(html, "our default").ShouldBe(Matters.All.Count);
    }

    [Fact]
    public async Task A_choice_is_kept_and_Today_obeys_it()
    {
        var (status, html) = await app.PostAsync("/rules", "/rules", ("revision", await RevisionAsync()), ("dumpBlackAt", "0.5"),
            ("grayAtFullHookup", "batch"), ("treatment", "water-only"), ("paper", "none"));

        status.ShouldBe(HttpStatusCode.OK);
        html.ShouldShow("[data-logged]");
        Rules.ShouldBe(HouseRules.Default with
        {
            DumpBlackAt = 0.5,
            GrayAtFullHookup = GrayAtFullHookup.Batch,
            Treatment = TreatmentSchool.WaterOnly,
            Paper = PaperRule.None
        });
        var today = await app.GetAsync("/");
        today.ShouldMatch("data-agenda=\"close-valve\"[^>]*data-because=\"house-rule\""); // it stands open by the rule before
        today.ShouldShow("[data-agenda=dump-run][data-tank^=black]");
        today.ShouldShow("[data-tank=black] [data-reaches=dump-level][data-expected=now]"); // 58 % is above a half
    }

    [Fact]
    public async Task Two_people_at_once_overwrite_nothing_unseen()
    {
        var seen = await RevisionAsync();
        await app.PostAsync("/rules", "/rules", ("revision", seen), ("maxDays", "7"));

        var (status, html) = await app.PostAsync("/rules", "/rules", ("revision", seen), ("maxDays", "14"), ("flush", "quick"));

        status.ShouldBe(HttpStatusCode.BadRequest);
        html.ShouldShow("[role=alert]");
        html.ShouldMatch("name=\"maxDays\" value=\"14\" checked");
        Rules.MaxDays.ShouldBe(7);
        await app.PostAsync("/rules", "/rules", ("revision", App.Hidden(html, "revision")), ("maxDays", "14"));
        Rules.MaxDays.ShouldBe(14);
    }

    [Theory]
    [InlineData("dumpBlackAt", "0.99")]
    [InlineData("treatment", "magic")]
    [InlineData("revision", "x")]
    public async Task A_choice_that_is_none_is_refused(string field, string value)
    {
        var (status, _) = await app.PostAsync("/rules", "/rules",
            [.. field == "revision" ? [] : new[] { ("revision", await RevisionAsync()) }, (field, value)]);

        status.ShouldBe(HttpStatusCode.BadRequest);
        Rules.ShouldBe(HouseRules.Default);
    }

    [Theory]
    [InlineData("odor", "where=shower&smell=sewage&strength=3&when=fan-on&when=hot-day", "Sewage smell · shower · strength 3/5 · fan on, hot day")]
    [InlineData("symptom", "code=gurgles&tank=black", "Black · gurgles")]
    [InlineData("check", "code=sniff-test&result=fail", "Sniff test: failed")]
    [InlineData("flush", "tank=black&method=built-in&filled-1=60 s&end-1=dark&debris-1=paper&filled-3=10 gal&end-3=clear",
        "Black flushed · built in · 2 rinses · end clear")]
    [InlineData("dose", "tank=black&recipe=travel-scrub&amount=1 cup&waterL=3 gal", "Black: travel scrub · 1 cup · with 3 gal water")]
    [InlineData("drive", "hours=2,5&winding=yes", "2.5 h drive, winding")]
    [InlineData("service", "code=probe-replaced&tank=black&probe=low&grade=C", "Black · probe replaced · low · grade C")]
    public async Task Every_kind_of_entry_can_be_written_down(string kind, string form, string line)
    {
        var (status, html) = await app.PostAsync($"/write/{kind}", $"/write/{kind}", [("id", "written"), ("note", "seen by Ines"), .. TodayTests.Fields(form)]);

        status.ShouldBe(HttpStatusCode.OK);
        html.ShouldContain(line);
        Last("written").Note.ShouldBe("seen by Ines");
        new Words.EntryWords(app.With(s => s.Find(1)!.Rig), Words.Units.Us).Line(Last("written")).ShouldBe(line);
    }

    [Fact]
    public async Task Cycles_keep_what_was_filled_in()
    {
        await app.PostAsync("/write/flush", "/write/flush",
            [("id", "f"), .. TodayTests.Fields("tank=black&method=wand&filled-1=45 s&end-1=tinted&filled-2=20 L&debris-2=specks")]);

        Last("f").ShouldBeOfType<FlushEntry>().Cycles.ShouldBe([new FlushCycle(45, null, EndColor.Tinted, null),
            new FlushCycle(null, 20, null, Debris.Specks)]);
    }

    [Fact]
    public async Task An_alarm_that_is_written_down_stands_first_on_Today_at_once()
    {
        var (_, html) = await app.PostAsync("/write/symptom", "/write/symptom", ("code", "propane-alarm"));
        html.ShouldShow("[data-alarm=propane]");
    }

    [Fact]
    public async Task The_kinds_are_offered_and_others_are_not_there()
    {
        var html = await app.GetAsync("/write");
        foreach (var kind in Tanksophos.Web.Pages.WriteModel.Kinds) html.ShouldContain($"href=\"/write/{kind.Code}\"");
        (await app.Client.GetAsync(new Uri("/write/poem", UriKind.Relative))).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        (await app.PostAsync("/write", "/write/poem")).Status.ShouldBe(HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task What_is_taken_out_can_be_brought_in_elsewhere_and_is_the_same()
    {
        await app.PostAsync("/rules", "/rules", ("revision", await RevisionAsync()), ("maxDays", "14"));
        await app.PostAsync("/", "/?handler=Undo", ("key", app.With(s => s.Log.Page(1, 0, 1)).Entries[0].Key)); // withdrawn entries stay here
        using var response = await app.Client.GetAsync(new Uri("/export/logbook", UriKind.Relative));
        response.Content.Headers.ContentDisposition!.FileName.ShouldBe("old-biscuit-logbook.json");
        var bytes = await response.Content.ReadAsByteArrayAsync();

        using var other = new App();
        await other.ConfirmAsync((await other.UploadAsync(bytes)).Html);

        using var again = await other.Client.GetAsync(new Uri("/export/logbook", UriKind.Relative));
        (await again.Content.ReadAsByteArrayAsync()).ShouldBe(bytes);
        other.With(s => s.Find(1)!.Rig.RulesInForce.MaxDays).ShouldBe(14);
        LogbookFormat.Read(bytes).Value!.Entries.Count.ShouldBe(app.With(s => s.Log.All(1)).Count);
    }

    [Fact]
    public async Task Readings_taken_out_as_a_table_are_the_readings_of_the_log()
    {
        var csv = await app.Client.GetByteArrayAsync(new Uri("/export/readings", UriKind.Relative));

        var rig = app.With(s => s.Find(1)!.Rig);
        var back = ReadingsCsv.Read(csv, rig).Value!.Entries;
        back.Select(e => Encoding.UTF8.GetString(EntryCodec.Write(e)))
            .ShouldBe(app.With(s => s.Log.All(1)).OfType<ReadingEntry>().Select(e => Encoding.UTF8.GetString(EntryCodec.Write(e))));
        (await app.Client.GetAsync(new Uri("/export/nothing", UriKind.Relative))).StatusCode.ShouldBe(HttpStatusCode.NotFound);
    }

    [Fact]
    public void Each_school_can_be_chosen_and_is_then_the_chosen_one()
    {
        foreach (var m in Matters.All)
        {
            m.Chosen(HouseRules.Default).ShouldBe(m.Default);
            m.Schools.Select(s => s.Code).ShouldBeUnique();
            foreach (var s in m.Schools)
            {
                m.Chosen(m.Choose(HouseRules.Default, s.Code)).ShouldBe(s.Code);
                Regex.Count(s.Holds, "[.](\\s|$)").ShouldBeInRange(1, 3, s.Holds);
            }
        }
    }
}
