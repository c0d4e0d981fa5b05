using System.Net;
using NodaTime;
using Tanksophos.Core.Log;

namespace Tanksophos.Web.Tests;

public sealed class TreatmentsTests : IDisposable
{
    private readonly App app = App.Demo();

    public void Dispose() => app.Dispose();

    private LogEntry Newest => app.With(s => s.Log.All(1))[^1];

    private void Log(params LogEntry[] entries) => app.With(s => s.Writer.Record(1, entries, "test"));

    private static OffsetDateTime Ago(double hours) => (App.Start - Duration.FromHours(hours)).WithOffset(Offset.FromHours(-6));

    [Fact]
    public async Task The_page_says_what_is_in_each_tank_and_what_could_go_in()
    {
        var html = await app.GetAsync("/treatments");
        html.Text("[data-tank=black] [data-in=enzyme]").ShouldContain("8 fl oz");
        html.ShouldNotShow("[data-tank=bath] [data-in]");
        html.Text("[data-recipe=travel-scrub]").ShouldContain("1 cup", Case.Sensitive, "the 1/3 lamp is fouled: a whole cup wins it back");
        html.ShouldShow("[data-against=two-digesters]");
        html.ShouldNotShow("[data-recipe=sanitize-bleach]"); // the house uses none
        html.ShouldNotContain("@(");
        await app.PostAsync("/account", "/prefs", ("units", "metric"));
        (await app.GetAsync("/treatments")).ShouldContain("mL borax");
    }

    [Fact]
    public async Task A_recipe_is_followed_and_logged_and_Today_waits_for_its_dump()
    {
        Log(new DumpEntry { At = Ago(2), Id = "d", Tank = "black" }, new FlushEntry { At = Ago(1.9), Id = "f", Tank = "black", Method = FlushMethod.BuiltIn });
        var html = await app.GetAsync("/treatments/softener-soak?tank=black");
        html.ShouldContain("<b>2 cups</b> water softener");
        html.ShouldMatch("data-note=\"recipe-step\">[^<]*24 hours");
        html.ShouldShow(".caution");
        (await app.PostAsync("/treatments", "/treatments/softener-soak?handler=In&tank=black",
            ("id", "soak"))).Html.ShouldShow("[data-logged]");
        Newest.ShouldBeOfType<DoseEntry>()
            .ShouldSatisfyAllConditions(d => d.Recipe.ShouldBe(DoseRecipe.SoftenerSoak),
            d => d.Amount.ShouldBe("2 cups water softener + 1 cup laundry detergent"),
            d => d.WaterL!.Value.ShouldBeInRange(95, 125, "nine tenths of the tank, less what may be left in it and what two people may use in a busy day"));
        (await app.GetAsync("/treatments")).Text("[data-stage=stands]").ShouldContain("tomorrow 5:30 PM");
        (await app.GetAsync("/")).ShouldMatch("data-agenda=\"dump-run\" data-tank=\"black[^>]*data-because=\"soak-done");
        app.Clock.AdvanceHours(25);
        (await app.GetAsync("/treatments")).ShouldShow("[data-stage=dump]");
    }

    [Fact]
    public async Task What_can_hurt_is_refused_with_the_reason_and_not_logged()
    {
        var before = app.With(s => s.Log.All(1).Count);
        var page = await app.GetAsync("/treatments/deodorant?tank=black");
        page.ShouldShow("[data-objection=two-digesters].is-problem");
        page.ShouldNotShow("form[action*=\"handler=In\"]");
        foreach (var (recipe, reason) in new[] { ("deodorant", "two-digesters"), ("sanitize-bleach", "bleach-not-in-this-house"),
            ("sanitize-bleach", "bleach-into-waste") })
            (await app.PostAsync("/treatments", $"/treatments/{recipe}?handler=In&tank=black"))
                .ShouldSatisfyAllConditions(r => r.Status.ShouldBe(HttpStatusCode.BadRequest), r => r.Html.ShouldShow($"[data-objection={reason}]"));
        (await app.PostAsync("/treatments", "/treatments/gray-soap?handler=In&tank=black")).Html.ShouldShow("[data-objection=wrong-tank]");
        foreach (var path in new[] { "/treatments/tonic", "/treatments/classic-bleach", "/treatments/enzyme?tank=bidet" })
        {
            using var response = await app.Client.GetAsync(new Uri(path, UriKind.Relative));
            response.StatusCode.ShouldBe(HttpStatusCode.NotFound, path);
        }
        app.With(s => s.Log.All(1).Count).ShouldBe(before);
    }

    [Fact]
    public async Task Bleach_in_the_log_is_told_until_it_is_rinsed_out()
    {
        Log(new DumpEntry { At = Ago(5), Id = "d", Tank = "black" },
            new DoseEntry { At = Ago(4.9), Id = "b", Tank = "black", Recipe = DoseRecipe.SanitizeBleach },
            new DumpEntry { At = Ago(4), Id = "d2", Tank = "black" });
        (await app.GetAsync("/treatments")).ShouldShow("[data-bleach]");
        (await app.GetAsync("/treatments/enzyme?tank=black")).ShouldShow("[data-objection=rinse-after-bleach]");
        Log(new FlushEntry
        {
            At = Ago(3),
            Id = "f",
            Tank = "black",
            Method = FlushMethod.BuiltIn,
            Cycles = [new(60, null, null, null), new(60, null, null, null)]
        });
        (await app.GetAsync("/treatments")).ShouldNotShow("[data-bleach]");
    }

    [Fact]
    public async Task A_paper_is_tested_and_its_last_result_stands()
    {
        foreach (var result in new[] { "fail", "pass" })
        {
            (await app.PostAsync("/treatments", "/treatments?handler=Paper", ("paper", "The soft one"), ("result", result))).Status.ShouldBe(HttpStatusCode.OK);
            app.Clock.AdvanceMinutes(1);
        }
        Newest.ShouldBeOfType<CheckEntry>()
            .ShouldSatisfyAllConditions(c => c.Code.ShouldBe(CheckCode.PaperDissolves), c => c.Result.ShouldBe(CheckResult.Pass),
            c => c.Note.ShouldBe("The soft one"));
        var html = await app.GetAsync("/treatments");
        html.ShouldShow("[data-paper-result=ok]");
        html.ShouldNotShow("[data-paper-result=not]");
        (await app.PostAsync("/treatments", "/treatments?handler=Paper", ("result", "maybe"))).Html.ShouldRefuse("paper");
        (await app.PostAsync("/treatments", "/treatments?handler=Paper", ("result", "pass"),
            ("paper", new string('x', 61)))).Status.ShouldBe(HttpStatusCode.BadRequest);
    }
}
