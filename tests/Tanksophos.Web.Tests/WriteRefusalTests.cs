using System.Net;
using Tanksophos.Core.Log;

namespace Tanksophos.Web.Tests;

/// <summary>What is refused on the pages that write entries down; nothing is written, so one application serves all.</summary>
public sealed class WriteRefusalTests(SharedDemo app) : IClassFixture<SharedDemo>
{
    [Theory]
    [InlineData("odor", "where=shower", "Smell: missing")]
    [InlineData("odor", "where=moon&smell=sewage", "Where: unknown code 'moon'")]
    [InlineData("odor", "where=shower&smell=sewage&strength=9", "Strength: out of range")]
    [InlineData("symptom", "", "What: missing")]
    [InlineData("symptom", "code=gurgles&tank=bidet", "Tank: unknown tank")]
    [InlineData("check", "code=sniff-test", "Result: missing")]
    [InlineData("flush", "tank=black", "Method: missing")]
    [InlineData("flush", "tank=black&method=wand&filled-2=a while", "Cycle 2:")]
    [InlineData("dose", "tank=black&recipe=enzyme&waterL=lots", "Water: a volume")]
    [InlineData("drive", "hours=many", "Hours: expected a number")]
    [InlineData("drive", "hours=-1", "Hours: out of range")]
    [InlineData("service", "code=probe-replaced&probe=deep", "Probe: unknown probe")]
    [InlineData("drive", "hours=2&at=soon", "Time:")]
    public async Task What_cannot_be_taken_is_said_by_name_and_what_was_typed_stays(string kind, string form, string words)
    {
        var before = app.Instance.With(s => s.Log.All(1).Count);
        var (status, html) = await app.Instance.PostAsync($"/write/{kind}", $"/write/{kind}", [("note", "typed before"), .. TodayTests.Fields(form)]);

        status.ShouldBe(HttpStatusCode.BadRequest);
        html.ShouldContain(words);
        html.ShouldContain("value=\"typed before\"");
        app.Instance.With(s => s.Log.All(1).Count).ShouldBe(before);
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
