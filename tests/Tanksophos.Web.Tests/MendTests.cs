using System.Net;
using NodaTime;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Web.Pages;
using Tanksophos.Web.Rigs;
using Tanksophos.Data;
using Microsoft.Extensions.DependencyInjection;

namespace Tanksophos.Web.Tests;

/// <summary>What people forgot or mistyped is asked, on Today and on a page of its own, and the answer counts.</summary>
public sealed class MendTests : IDisposable
{
    private readonly App app = App.Demo();
    private readonly OffsetDateTime now = App.Start.WithOffset(Offset.FromHours(-6));

    public void Dispose() => app.Dispose();

    // Black two thirds full by the log, then dark at two looks.
    private void Forget(params LogEntry[] more) => app.With(s => s.Writer.Record(1, [
        new ReadingEntry { At = now - Duration.FromHours(1), Tank = "black", Via = ReadingVia.Sight, Fraction = 0.05, Id = "look" }, .. more], "test"));

    private IReadOnlyList<LogDoubt> Doubts()
    {
        using var scope = app.Services.CreateScope();
        var store = scope.ServiceProvider.GetRequiredService<RigStore>();
        var picture = scope.ServiceProvider.GetRequiredService<RigCache>().Now(store.Find(1)!, store);
        return LogDoubts.Of(picture.Logbook, picture.Belief);
    }

    private LogDoubt Asked => Doubts().Single(d => d.Misfit.Kind == InconsistencyKind.UnloggedEmptying);

    [Fact]
    public async Task A_forgotten_dump_is_asked_on_today_and_yes_logs_it_with_an_undo()
    {
        Forget();
        var today = await app.GetAsync("/");
        today.ShouldShow("[data-agenda=confirm-entry] [data-mend=yes]");
        today.ShouldShow(".ribbon .pin.is-asked");
        var asked = Asked;
        (await app.GetAsync("/mend")).ShouldShow("[data-doubt=unlogged-emptying][data-tank~=black] [data-mend=no]");
        (await app.GetAsync("/logbook")).ShouldShow("[data-doubts]");

        var (status, html) = await app.PostAsync("/mend", "/mend?handler=Yes", ("doubt", MendModel.Key(asked)), ("id", "yes1"), ("back", "/"));
        status.ShouldBe(HttpStatusCode.OK);
        html.ShouldShow("[data-undo]");
        Doubts().ShouldNotContain(d => d.Misfit.Kind == InconsistencyKind.UnloggedEmptying);
        (await app.GetAsync("/")).ShouldNotShow("[data-agenda=confirm-entry]");
        (await app.PostAsync("/", "/?handler=UndoBatch", ("batch", "yes1"))).Status.ShouldBe(HttpStatusCode.OK);
        Asked.Misfit.At.ShouldBe(asked.Misfit.At);
    }

    [Fact]
    public async Task No_is_remembered_and_is_not_asked_again()
    {
        Forget();
        (await app.PostAsync("/mend", "/mend?handler=No", ("doubt", MendModel.Key(Asked)), ("id", "no1"))).Status.ShouldBe(HttpStatusCode.OK);
        Doubts().ShouldNotContain(d => d.Misfit.Kind == InconsistencyKind.UnloggedEmptying);
        (await app.GetAsync("/")).ShouldNotShow("[data-agenda=confirm-entry]");
        (await app.GetAsync("/logbook?type=check")).ShouldContain("not dumped");
    }

    [Fact]
    public async Task Answers_to_what_is_settled_and_nonsense_are_refused_with_words()
    {
        Forget();
        var key = MendModel.Key(Asked);
        foreach (var bad in new[] { "", "black|unlogged-emptying|x|", new string('q', 5000), "\u0000" })
            foreach (var handler in new[] { "Yes", "No" })
                (await app.PostAsync("/mend", $"/mend?handler={handler}", ("doubt", bad))).Status.ShouldBe(HttpStatusCode.BadRequest);
        (await app.PostAsync("/mend", "/mend?handler=No", ("doubt", key))).Status.ShouldBe(HttpStatusCode.OK);
        var (status, html) = await app.PostAsync("/mend", "/mend?handler=Yes", ("doubt", key));
        status.ShouldBe(HttpStatusCode.BadRequest);
        html.ShouldRefuse("question");
    }

    [Fact]
    public async Task One_dump_logged_by_two_people_is_crossed_out_once()
    {
        var at = now - Duration.FromHours(2);
        app.With(s => s.Writer.Record(1, [new DumpEntry { At = at, Tank = "black", Id = "hers", Minutes = 2 },
            new DumpEntry { At = at + Duration.FromMinutes(20), Tank = "black", Id = "his" }], "test"));
        var doubt = Doubts().Single(d => d.Misfit.Kind == InconsistencyKind.LoggedTwice);
        (await app.GetAsync("/mend")).ShouldShow("[data-doubt=logged-twice] [data-mend=yes]");
        (await app.PostAsync("/mend", "/mend?handler=Yes", ("doubt", MendModel.Key(doubt)))).Status.ShouldBe(HttpStatusCode.OK);
        Doubts().ShouldNotContain(d => d.Misfit.Kind == InconsistencyKind.LoggedTwice);
        app.With(s => s.Log.Entry(1, "his")!.Withdrawn).ShouldBeTrue();
        app.With(s => s.Log.Entry(1, "hers")!.Withdrawn).ShouldBeFalse();
    }

    [Fact]
    public async Task What_was_looked_over_and_is_right_is_not_asked_again()
    {
        var at = now - Duration.FromHours(2);
        app.With(s => s.Writer.Record(1, [new DumpEntry { At = at, Tank = "black", Id = "one" },
            new DumpEntry { At = at + Duration.FromMinutes(20), Tank = "black", Id = "two" }], "test"));
        var doubt = Doubts().Single(d => d.Misfit.Kind == InconsistencyKind.LoggedTwice);
        (await app.PostAsync("/mend", "/mend?handler=No", ("doubt", MendModel.Key(doubt)), ("id", "right"))).Status.ShouldBe(HttpStatusCode.OK);
        Doubts().ShouldNotContain(d => d.Misfit.Kind == InconsistencyKind.LoggedTwice);
        (await app.GetAsync("/mend")).ShouldNotShow("[data-doubt=logged-twice]");
        app.With(s => s.Log.Entry(1, "two")!.Withdrawn).ShouldBeFalse();
    }

    [Fact]
    public async Task Once_it_was_dumped_again_the_question_no_longer_comes_first()
    {
        Forget();
        app.Clock.AdvanceHours(9);
        app.With(s => s.Writer.Record(1, [new DumpEntry { At = now + Duration.FromHours(8), Tank = "black", Id = "after", Minutes = 1 }], "test"));
        var today = await app.GetAsync("/");
        today.ShouldNotShow(".agenda-first[data-agenda=confirm-entry]");
        today.ShouldShow("[data-agenda=confirm-entry]");
    }
}
