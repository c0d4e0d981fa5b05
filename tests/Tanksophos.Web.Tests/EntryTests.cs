using System.Net;
using System.Net.Http.Headers;
using System.Text;
using System.Text.RegularExpressions;
using Tanksophos.Core.Log;
using Tanksophos.Data;

namespace Tanksophos.Web.Tests;

public sealed class EntryTests : IDisposable
{
    private readonly App app = App.Demo();

    public void Dispose() => app.Dispose();

    private Task<(HttpStatusCode Status, string Html)> WriteAsync(string kind, params (string, string)[] fields) =>
        app.PostAsync("/account", $"/write/{kind}", fields);

    private StoredEntry Entry(string key) => app.With(s => s.Log.Entry(1, key))!;

    private async Task<(HttpStatusCode Status, string Html)> PhotoAsync(byte[] file, string key = "e1", string name = "photo.jpg")
    {
        using var content = new MultipartFormDataContent { { new StringContent(await app.TokenAsync("/account")), "__RequestVerificationToken" } };
        var part = new ByteArrayContent(file);
        part.Headers.ContentType = new MediaTypeHeaderValue("image/jpeg");
        content.Add(part, "photo", name);
        using var response = await app.Client.PostAsync(new Uri($"/entry/{key}?handler=Photo", UriKind.Relative), content);
        return (response.StatusCode, WebUtility.HtmlDecode(await response.Content.ReadAsStringAsync()));
    }

    /// <summary>The fields of a form as the page shows them.</summary>
    private async Task<List<(string Name, string Value)>> FormAsync(string path) => (await app.GetAsync(path)).Fields("form.write");

    // One form of each kind, filled in as a person would.
    public static TheoryData<string, string, string> Kinds => new()
    {
        { "flush", "tank=black&method=bucket&filled-1=60 s&end-1=dark&debris-1=paper&filled-2=60 s + 5 gal&end-2=clear",
            "{\"tank\":\"black\",\"method\":\"bucket\",\"cycles\":[{\"seconds\":60,\"end\":\"dark\",\"debris\":\"paper\"},{\"seconds\":60,\"waterL\":18.93,\"end\":\"clear\"}]}" },
        { "dose", "tank=black&recipe=enzyme&amount=1/2 cup&waterL=1/2 gal",
            "{\"tank\":\"black\",\"recipe\":\"enzyme\",\"amount\":\"1/2 cup\",\"waterL\":1.89}" },
        { "odor", "where=shower&smell=musty&strength=3&when=hot-day&when=driving",
            "{\"where\":\"shower\",\"smell\":\"musty\",\"strength\":3,\"when\":[\"hot-day\",\"driving\"]}" },
        { "symptom", "code=gurgles&tank=bath", "{\"tank\":\"bath\",\"code\":\"gurgles\"}" },
        { "check", "code=sniff-test&result=fail", "{\"code\":\"sniff-test\",\"result\":\"fail\"}" },
        { "drive", "hours=2,5&winding=yes", "{\"hours\":2.5,\"winding\":true}" },
        { "service", "code=probe-replaced&tank=black&probe=low&grade=B", "{\"tank\":\"black\",\"code\":\"probe-replaced\",\"probe\":\"low\",\"grade\":\"B\"}" },
        { "dump", "tank=black&minutes=3.5&flow=steady&end=tinted&debris=specks&volumeL=70 L",
            "{\"tank\":\"black\",\"minutes\":3.5,\"flow\":\"steady\",\"end\":\"tinted\",\"debris\":\"specks\",\"volumeL\":70}" },
        { "reading", "tank=black&via=panel&lit-black=low&lit-black=mid&lit-bath=q1&fraction=40",
            "{\"tank\":\"black\",\"via\":\"panel\",\"lit\":[\"low\",\"mid\"]}" },
        { "reading", "tank=galley&via=panel&percent=33", "{\"tank\":\"galley\",\"via\":\"panel\",\"percent\":33}" },
        { "reading", "tank=bath&via=sight&fraction=55&plusMinus=8&lit-bath=q1&percent=3",
            "{\"tank\":\"bath\",\"via\":\"sight\",\"fraction\":0.55,\"plusMinus\":0.08}" },
        { "water", "tank=black&waterL=2 qt&purpose=soak", "{\"tank\":\"black\",\"waterL\":1.89,\"purpose\":\"soak\"}" },
        { "valve", "tank=bath&state=closed", "{\"tank\":\"bath\",\"state\":\"closed\"}" },
        { "people", "count=0", "{\"count\":0}" },
        { "stay", "hookup=dry&place=Tin Mesa&zone=America/Phoenix", "{\"place\":\"Tin Mesa\",\"hookup\":\"dry\",\"zone\":\"America/Phoenix\"}" },
    };

    [Theory]
    [MemberData(nameof(Kinds))]
    public async Task Every_kind_is_written_and_a_correction_that_changes_nothing_changes_nothing(string kind, string form, string expected)
    {
        (string, string)[] fields = [.. form.Split('&').Select(f => f.Split('=', 2)).Select(f => (f[0], f[1]))];
        (await WriteAsync(kind, [("id", "e1"), ("note", "said so"), .. fields])).Status.ShouldBe(HttpStatusCode.OK);
        var first = Entry("e1");
        var json = Encoding.UTF8.GetString(Core.Formats.EntryCodec.Write(first.Entry));
        System.Text.Json.Nodes.JsonNode.DeepEquals(System.Text.Json.Nodes.JsonNode.Parse(Regex.Replace(json, "\"(id|at|type|note)\":\"[^\"]*\",?", "")
            .Replace(",}", "}", StringComparison.Ordinal)), System.Text.Json.Nodes.JsonNode.Parse(expected)).ShouldBeTrue(json);

        var (status, html) = await WriteAsync(kind, [.. await FormAsync($"/write/{kind}?edit=e1")]);
        status.ShouldBe(HttpStatusCode.OK, html);
        Entry("e1").Revision.ShouldBe(1, Encoding.UTF8.GetString(Core.Formats.EntryCodec.Write(Entry("e1").Entry)) + " was " + json);
    }

    [Fact]
    public async Task A_correction_is_a_new_version_and_the_old_one_can_be_brought_back()
    {
        await WriteAsync("people", ("id", "e1"), ("count", "3"));
        var (_, html) = await WriteAsync("people", ("edit", "e1"), ("seen", "1"), ("count", "4"), ("note", "the twins"), ("at", "2026-06-08T12:00"));
        html.ShouldContain("Corrected");
        html.ShouldContain("3 people"); // the earlier version stands in the history
        var corrected = Entry("e1");
        ((PeopleEntry)corrected.Entry).Count.ShouldBe(4);
        corrected.Entry.Instant.ShouldBe(NodaTime.Instant.FromUtc(2026, 6, 8, 18, 0));
        corrected.Entry.Id.ShouldBe("e1");
        (await app.GetAsync("/logbook")).ShouldContain("by Demo");

        await app.PostAsync("/account", "/entry/e1?handler=Version", ("revision", "1"), ("seen", "2"));
        ((PeopleEntry)Entry("e1").Entry).Count.ShouldBe(3);
        app.With(s => s.Log.History(1, "e1")).Select(h => h.Revision).ShouldBe([3, 2, 1]);
        app.With(s => s.Log.All(1)).OfType<PeopleEntry>().Count(p => p.Id == "e1").ShouldBe(1);
    }

    [Fact]
    public async Task Two_who_correct_the_same_entry_both_keep_their_words()
    {
        await WriteAsync("people", ("id", "e1"), ("count", "3"));
        await WriteAsync("people", ("edit", "e1"), ("seen", "1"), ("count", "4"), ("note", "theirs"));
        var (status, html) = await WriteAsync("people", ("edit", "e1"), ("seen", "1"), ("count", "5"), ("note", "mine"));

        status.ShouldBe(HttpStatusCode.Conflict);
        html.ShouldContain("4 people · theirs");
        html.ShouldContain("value=\"mine\"");
        html.ShouldContain("name=\"seen\" value=\"2\"");
        ((PeopleEntry)Entry("e1").Entry).Count.ShouldBe(4);
        (await WriteAsync("people", ("edit", "e1"), ("seen", "2"), ("count", "5"), ("note", "mine"))).Status.ShouldBe(HttpStatusCode.OK);
        Entry("e1").Entry.Note.ShouldBe("mine");
        app.With(s => s.Log.History(1, "e1")).Select(h => h.Entry.Note).ShouldBe(["mine", "theirs", null]);
    }

    [Fact]
    public async Task A_note_is_kept_as_text_and_never_runs()
    {
        await WriteAsync("people", ("id", "e1"), ("count", "3"));
        await app.PostAsync("/account", "/entry/e1?handler=Note", ("note", "<script>alert(1)</script> =HYPERLINK(\"x\")"), ("seen", "1"));
        (await app.Client.GetStringAsync(new Uri("/entry/e1", UriKind.Relative))).ShouldNotContain("<script>alert");
        (await app.Client.GetStringAsync(new Uri("/logbook", UriKind.Relative))).ShouldNotContain("<script>alert");
        Entry("e1").Entry.Note!.ShouldStartWith("<script>");
        (await app.PostAsync("/account", "/entry/e1?handler=Note", ("note", "late"), ("seen", "1"))).Html.ShouldContain("data-conflict");
        (await app.PostAsync("/account", "/entry/e1?handler=Note", ("note", new string('x', 4001)),
            ("seen", "2"))).Html.ShouldRefuse("note");
    }

    [Fact]
    public async Task The_page_says_what_the_entry_changed_and_the_logbook_too()
    {
        await WriteAsync("dump", ("id", "e1"), ("tank", "black"));
        (await app.GetAsync("/entry/e1")).Text("[data-changed]").ShouldMatch("[1-9][0-9.]* gal .*0\\.[0-9] gal");
        (await app.GetAsync("/logbook")).ShouldMatch("[0-9.]+ → 0\\.[0-9] gal");
        await app.PostAsync("/account", "/entry/e1?handler=Withdraw", ("back", "no"));
        (await app.GetAsync("/entry/e1")).ShouldShow("h1.is-struck");
    }

    [Fact]
    public async Task A_photo_is_kept_without_its_place_and_can_be_taken_off_and_put_back()
    {
        await WriteAsync("people", ("id", "e1"), ("count", "3"));
        (await PhotoAsync(Pictures.Jpeg())).Html.ShouldShow("[data-logged]");
        var bytes = await app.Client.GetByteArrayAsync(new Uri("/photos/1", UriKind.Relative));
        var text = Encoding.Latin1.GetString(bytes);
        text.ShouldNotContain("47.11 north");
        text.ShouldNotContain("about somebody");
        text.ShouldContain("Exif"); // how it was held
        (await app.GetAsync("/logbook")).ShouldContain("class=\"thumb\"");

        await app.PostAsync("/account", "/entry/e1?handler=PhotoOff", ("id", "1"));
        (await app.GetAsync("/logbook")).ShouldNotContain("class=\"thumb\"");
        (await app.PostAsync("/account", "/entry/e1?handler=PhotoOff", ("id", "1"), ("back", "yes"))).Html.ShouldShow("[data-logged]");
        for (var i = 1; i < PhotoStore.MaxPerEntry; i++) await PhotoAsync(Pictures.Png());
        (await PhotoAsync(Pictures.Png())).Html.ShouldShow("[data-problem]");
    }

    [Theory]
    [InlineData("GIF89a not one of ours")]
    [InlineData("<svg onload=alert(1)>")]
    [InlineData("")]
    public async Task What_is_no_photo_is_refused(string content)
    {
        await WriteAsync("people", ("id", "e1"), ("count", "3"));
        var (status, html) = await PhotoAsync(Encoding.UTF8.GetBytes(content));
        status.ShouldBe(HttpStatusCode.BadRequest);
        html.ShouldContain("JPEG or PNG");
    }

    [Fact]
    public void A_torn_or_huge_picture_is_no_picture()
    {
        PhotoFile.Check(Pictures.Png(), out _)!.Width.ShouldBe(4);
        PhotoFile.Check(Pictures.Jpeg(), out _)!.ShouldSatisfyAllConditions(p => p.Width.ShouldBe(30), p => p.Height.ShouldBe(20),
            p => p.ContentType.ShouldBe("image/jpeg"));
        foreach (var picture in (byte[][])[Pictures.Png(), Pictures.Jpeg()])
            for (var length = 0; length < picture.Length - 1; length++) PhotoFile.Check(picture.AsSpan(0, length), out _).ShouldBeNull();
        PhotoFile.Check(Pictures.Jpeg(width: 20_000), out _).ShouldBeNull();
        PhotoFile.Check(Pictures.Png(0), out _).ShouldBeNull();
    }

    [Fact]
    public async Task The_usual_way_logs_the_last_run_again_in_one_go_and_is_undone_in_one()
    {
        var seen = (await app.GetAsync("/log")).Fields("form.usual").Single(f => f.Name == "seen").Value;
        var before = app.With(s => s.Log.All(1).Count);
        var (_, logged) = await app.PostAsync("/", "/?handler=Usual", ("id", "run1"), ("seen", seen));
        logged.ShouldShow("[data-logged] form[action*=UndoBatch]");
        app.With(s => s.Log.All(1)).Skip(before).Select(e => e.Type).ShouldBe(["dump", "flush", "dump", "dump", "water", "dose", "valve", "valve"]);
        (await app.PostAsync("/", "/?handler=Usual", ("id", "run1"), ("seen", seen))).Status.ShouldBe(HttpStatusCode.OK); // pressed twice
        app.With(s => s.Log.All(1).Count).ShouldBe(before + 8);

        (await app.PostAsync("/", "/?handler=UndoBatch", ("batch", "run1"))).Html.Text("[data-logged]").ShouldContain("8 ");
        app.With(s => s.Log.All(1).Count).ShouldBe(before);
        (await app.PostAsync("/", "/?handler=Usual", ("id", "run2"), ("seen", "something else"))).Html.ShouldShow("[data-problem]");
    }

    [Fact]
    public async Task A_form_starts_with_what_was_used_last()
    {
        await WriteAsync("flush", ("id", "e1"), ("tank", "black"), ("method", "wand"));
        (await FormAsync("/write/flush")).ShouldContain(("method", "wand"));
        (await FormAsync("/write/stay")).ShouldContain(("zone", "America/Denver"));
    }

    [Fact]
    public async Task The_hour_of_an_arrival_is_the_hour_of_the_place()
    {
        await WriteAsync("stay", ("id", "e1"), ("hookup", "full"), ("place", "East Gate"), ("zone", "America/Chicago"), ("at", "2026-06-09T18:00"));
        Entry("e1").Entry.Instant.ShouldBe(NodaTime.Instant.FromUtc(2026, 6, 9, 23, 0));
        (await app.GetAsync("/logbook")).ShouldContain("<time>6:00 PM</time>");
        // From now on the hours typed are those of the new place, whatever the device says.
        await WriteAsync("people", ("id", "e2"), ("count", "2"), ("at", "2026-06-09T18:20"));
        (Entry("e2").Entry.Instant - Entry("e1").Entry.Instant).ShouldBe(NodaTime.Duration.FromMinutes(20));
    }
}
