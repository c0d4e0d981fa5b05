using System.Net;
using System.Text.Json;
using NodaTime;
using Tanksophos.Core.Log;

namespace Tanksophos.Web.Tests;

public sealed class FindTests : IDisposable
{
    private readonly App app = App.Demo();

    public void Dispose() => app.Dispose();

    private LogEntry Newest => app.With(s => s.Log(1))[^1];

    private void Log(params LogEntry[] entries) => app.With(s => s.Record(1, entries, "test"));

    private static OffsetDateTime Ago(double hours) => (App.Start - Duration.FromHours(hours)).WithOffset(Offset.FromHours(-6));

    [Fact]
    public async Task A_quiet_rig_is_told_so_and_can_be_pointed_at()
    {
        var html = await app.GetAsync("/find");
        html.ShouldContain("Nothing speaks for a trouble");
        html.ShouldContain("href=\"/write/odor?where=galley-sink\"");
        html.ShouldNotContain("@(");
        (await app.GetAsync("/write/odor?where=galley-sink")).ShouldMatch("value=\"galley-sink\"\\s+checked|checked[^>]*value=\"galley-sink\"");
        (await app.GetAsync("/")).ShouldNotContain("Find the cause</a></p>");
    }

    [Fact]
    public async Task What_is_noticed_is_one_tap_and_ranks_at_once_with_its_reasons_and_the_ladder()
    {
        var html = (await app.PostAsync("/find", "/find?handler=Noticed", ("id", "n1"), ("tank", "black"), ("code", "heap-seen"))).Html;
        Newest.ShouldBeOfType<SymptomEntry>().ShouldSatisfyAllConditions(s => s.Code.ShouldBe(SymptomCode.HeapSeen), s => s.Tank.ShouldBe("black"));
        html.ShouldContain("Black: a heap under the toilet");
        html.ShouldContain("Nothing more into the toilet");
        html.ShouldContain("Soak with hot water and soap overnight");
        html.ShouldContain("A clogged tank cannot be emptied quickly");
        html.ShouldContain("/treatments/soap-soak?tank=black");
        html.ShouldContain("a heap was seen, today");
        (await app.GetAsync("/")).ShouldContain("Black: a heap under the toilet");
        (await app.PostAsync("/find", "/?handler=Undo", ("key", "n1"))).Status.ShouldBe(HttpStatusCode.OK);
        (await app.GetAsync("/find")).ShouldContain("Nothing speaks for a trouble");
    }

    [Fact]
    public async Task The_check_in_front_is_answered_there_and_turns_the_ranking()
    {
        Log(new OdorEntry { Id = "o", At = Ago(1), Where = OdorPlace.Bathroom, Smell = Smell.Sewage, When = [OdorWhen.Always] });
        var before = await app.GetAsync("/find");
        before.ShouldContain("<h2>Does the bowl hold its water?</h2>");
        var after = (await app.PostAsync("/find", "/find?handler=Check", ("code", "bowl-holds-water"), ("result", "fail"))).Html;
        after.ShouldMatch("(?s)<h2>The smell</h2>.*?<b>The bowl's seal lets air through</b>");
        after.ShouldContain("Clean the bowl's seal");
        Newest.ShouldBeOfType<CheckEntry>().Result.ShouldBe(CheckResult.Fail);
    }

    [Fact]
    public async Task An_alarm_stands_before_every_page_until_it_is_cleared_or_taken_back()
    {
        await app.PostAsync("/find", "/find?handler=Noticed", ("code", "propane-alarm"), ("tank", "black"));
        Newest.Tank.ShouldBeNull();
        foreach (var page in new[] { "/find", "/find/health", "/treatments/shelf", "/run", "/write/odor" })
        {
            var html = await app.GetAsync(page);
            html.ShouldContain("Propane alarm: everyone out");
            html.ShouldNotContain("<h1>Find the cause");
        }
        (await app.PostAsync("/alarm", "/alarm?handler=Clear")).Html.ShouldContain("Find the cause");
        Newest.ShouldBeOfType<CheckEntry>().Code.ShouldBe(CheckCode.PropaneRuledOut);
        app.Clock.AdvanceMinutes(10);
        await app.PostAsync("/find", "/find?handler=Noticed", ("code", "propane-alarm"));
        (await app.GetAsync("/")).ShouldContain("everyone out", Case.Insensitive, "an all-clear covers one alarm");
        await app.PostAsync("/alarm", "/alarm?handler=Mistake");
        (await app.GetAsync("/")).ShouldNotContain("everyone out", Case.Insensitive);
        (await app.GetAsync("/alarm")).ShouldContain("No alarm stands");
    }

    [Fact]
    public async Task Health_and_service_sheet_hold_what_the_log_tells()
    {
        Log(new ServiceEntry { Id = "s", At = Ago(30), Code = ServiceCode.SeasonOpen, Tank = "black", Grade = Grade.C });
        var health = await app.GetAsync("/find/health?tank=black");
        foreach (var said in new[] { "Cycles to clear", "Drain time against usual", "Risk of a heap", "Graded C", "1/3 lamp: not believed" }) health.ShouldContain(said);
        (await app.GetAsync("/find/health?tank=bath")).ShouldNotContain("Risk of a heap");
        using var none = await app.Client.GetAsync(new Uri("/find/health?tank=bidet", UriKind.Relative));
        none.StatusCode.ShouldBe(HttpStatusCode.NotFound);
        var sheet = await app.GetAsync("/find/sheet");
        foreach (var said in new[] { "Old Biscuit", "1/3 at 33", "stuck on", "season open", "Grade A B C D E F" }) sheet.ShouldContain(said, Case.Insensitive);
        using var json = JsonDocument.Parse(await app.GetAsync("/find/sheet?handler=Document"));
        json.RootElement.GetProperty("format").GetString().ShouldBe("tanksophos-service-sheet");
        json.RootElement.GetProperty("assessment").GetProperty("tanks").GetArrayLength().ShouldBe(3);
    }

    [Theory]
    [InlineData("Noticed", "code", "it-sings", "Noticed: one of")]
    [InlineData("Noticed", "tank", "bidet", "Tank: one of")]
    [InlineData("Check", "code", "luck", "Check: one of")]
    [InlineData("Check", "result", "maybe", "Result: pass or fail")]
    public async Task What_is_no_symptom_and_no_check_is_refused_by_its_field(string handler, string field, string value, string problem)
    {
        var before = app.With(s => s.Log(1).Count);
        (string, string)[] sound = handler == "Check" ? [("code", "sniff-test"), ("result", "pass")] : [("code", "gurgles"), ("tank", "black")];
        var (status, html) = await app.PostAsync("/find", "/find?handler=" + handler, [.. sound.Where(f => f.Item1 != field), (field, value)]);
        status.ShouldBe(HttpStatusCode.BadRequest);
        html.ShouldContain(problem);
        app.With(s => s.Log(1).Count).ShouldBe(before);
    }
}
