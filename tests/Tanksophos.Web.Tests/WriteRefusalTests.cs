using System.Net;
using Tanksophos.Core.Log;

namespace Tanksophos.Web.Tests;

/// <summary>What is refused on the pages that write entries down; nothing is written, so one application serves all.</summary>
public sealed class WriteRefusalTests(SharedDemo app) : IClassFixture<SharedDemo>
{
    [Theory]
    [InlineData("odor", "where=shower", "smell")]
    [InlineData("odor", "where=moon&smell=sewage", "where")]
    [InlineData("odor", "where=shower&smell=sewage&strength=9", "strength")]
    [InlineData("symptom", "", "what")]
    [InlineData("symptom", "code=gurgles&tank=bidet", "tank")]
    [InlineData("check", "code=sniff-test", "result")]
    [InlineData("flush", "tank=black", "method")]
    [InlineData("flush", "tank=black&method=wand&filled-2=a while", "rinse-2")]
    [InlineData("dose", "tank=black&recipe=enzyme&waterL=lots", "water")]
    [InlineData("drive", "hours=many", "hours")]
    [InlineData("drive", "hours=-1", "hours")]
    [InlineData("service", "code=probe-replaced&probe=deep", "probe")]
    [InlineData("drive", "hours=2&at=soon", "time")]
    public async Task What_cannot_be_taken_is_said_by_name_and_what_was_typed_stays(string kind, string form, string field)
    {
        var before = app.Instance.With(s => s.Log.All(1).Count);
        var (status, html) = await app.Instance.PostAsync($"/write/{kind}", $"/write/{kind}", [("note", "typed before"), .. TodayTests.Fields(form)]);

        status.ShouldBe(HttpStatusCode.BadRequest);
        html.ShouldRefuse(field);
        html.ShouldContain("value=\"typed before\"");
        app.Instance.With(s => s.Log.All(1).Count).ShouldBe(before);
    }

    [Theory]
    [InlineData("drive", "hours=many", "hours")]
    [InlineData("dump", "tank=black&minutes=soon", "minutes")]
    [InlineData("dose", "tank=black&recipe=enzyme&waterL=lots", "waterL")]
    public async Task What_is_wrong_stands_at_the_field_too(string kind, string form, string field)
    {
        var (_, html) = await app.Instance.PostAsync($"/write/{kind}", $"/write/{kind}", TodayTests.Fields(form));

        var page = html.Dom();
        var wrong = page.QuerySelectorAll(".is-invalid").ShouldHaveSingleItem();
        wrong.GetAttribute("name").ShouldBe(field);
        wrong.GetAttribute("aria-invalid").ShouldBe("true");
        page.GetElementById(wrong.GetAttribute("aria-describedby")!)!.GetAttribute("data-wrong").ShouldBe(field);
    }

    // "Time: ..." is not about the time zone.
    [Fact]
    public async Task A_field_beside_the_wrong_one_is_not_marked()
    {
        var (_, html) = await app.Instance.PostAsync("/write/stay", "/write/stay", TodayTests.Fields("hookup=full&zone=America/Denver&at=soon"));

        html.ShouldRefuse("time");
        html.Dom().QuerySelectorAll(".is-invalid").ShouldAllBe(f => f.GetAttribute("name") == "at");
    }

    [Theory]
    [InlineData("/entry/none")]
    [InlineData("/photos/99")]
    [InlineData("/write/people?edit=none")]
    [InlineData("/write/dump?edit=e1")]
    public async Task What_is_not_there_is_not_found(string path)
    {
        app.Instance.With(s => s.Writer.Record(1, [new PeopleEntry { Id = "e1", At = App.Start.WithOffset(NodaTime.Offset.Zero), Count = 2 }], "test"));
        (await app.Instance.Client.GetAsync(new Uri(path, UriKind.Relative))).StatusCode.ShouldBe(HttpStatusCode.NotFound);
    }
}
