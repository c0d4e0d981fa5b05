using System.Net;
using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Practice;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Simulation;
using Tanksophos.Data;

namespace Tanksophos.Web.Tests;

/// <summary>The room Practice: cases played over pages, sealed until they are answered; the pile and the twin.</summary>
public sealed class PracticeTests : IDisposable
{
    private readonly App app = App.Demo();

    public void Dispose() => app.Dispose();

    private TResult Store<TResult>(Func<PracticeStore, int, TResult> use)
    {
        using var scope = app.Services.CreateScope();
        var person = scope.ServiceProvider.GetRequiredService<TanksophosContext>().Users.OrderBy(u => u.Id).First().Id;
        return use(scope.ServiceProvider.GetRequiredService<PracticeStore>(), person);
    }

    private async Task<StoredPractice> BeginAsync(params (string, string)[] fields)
    {
        var (status, html) = await app.PostAsync("/practice", "/practice?handler=Start", fields);
        status.ShouldBe(HttpStatusCode.OK);
        html.ShouldShow("[data-question]");
        return Store((s, p) => s.Of(p)[0]);
    }

    private Task<(HttpStatusCode Status, string Html)> PressAsync(StoredPractice of, string handler, params (string, string)[] fields) =>
        app.PostAsync($"/practice/case/{of.Word}", $"/practice/case/{of.Word}?handler={handler}", fields);

    private static PracticeCase CaseOf(StoredPractice of) => CaseMaker.Make(of.Seed, of.Topic, of.Difficulty);

    [Fact]
    public async Task A_case_of_the_course_is_played_to_its_debrief_and_kept_as_progress()
    {
        var begun = await BeginAsync(("course", "1"));
        begun.Course.ShouldBe(1);
        (await app.GetAsync("/practice")).ShouldShow("[data-open-case]");

        var (_, asked) = await PressAsync(begun, "Ask", ("code", "flashlight"));
        asked.ShouldShow("[data-evidence=flashlight] [data-found]");
        asked.ShouldShow("[data-spent] [data-minutes='2']");
        asked.ShouldNotShow("[data-evidence=flashlight] button");

        var share = CaseOf(begun).Truth.LevelsL["black"] / CaseOf(begun).Tank.CapacityL;
        var (_, debrief) = await PressAsync(begun, "Answer", ("answer", "stuck-on"), ("level", $"{100 * share:0}"), ("spread", "8"), ("sure", "90"));
        debrief.ShouldShow("[data-part=cause][data-right=True]");
        int.Parse(debrief.Dom().QuerySelector("[data-score]")!.GetAttribute("data-score")!).ShouldBeGreaterThan(90);
        debrief.ShouldShow("[data-step=flashlight]");
        debrief.ShouldShow("[data-remember]");

        var room = await app.GetAsync("/practice");
        room.ShouldShow("[data-case='1'].is-solved");
        room.ShouldShow("[data-topic=lamps] [data-solved='1']");
        room.ShouldShow("[data-calibration]");
        room.ShouldNotShow("[data-open-case]");
        // The log of the rig knows nothing of it.
        app.With(s => s.Find(1)!.Rig).Name.ShouldNotBeNull();
    }

    [Fact]
    public async Task What_is_hidden_is_not_sent_before_the_answer()
    {
        foreach (var topic in new[] { "lamps", "smells", "clogs", "rinsing", "planning" })
        {
            var begun = await BeginAsync(("topic", topic), ("difficulty", "2"));
            var @case = CaseOf(begun);
            var page = await app.GetAsync($"/practice/case/{begun.Word}");
            page.ShouldNotContain($"{begun.Seed}");
            page.ShouldNotContain(System.Globalization.CultureInfo.InvariantCulture.TextInfo.ToLower($"{@case.Truth.LevelsL["black"]:0.00}"));
            foreach (var choice in @case.Choices) page.ShouldShow($"[name=answer][value={Codes<CaseAnswer>.Word(choice)}]");
            page.Dom().QuerySelectorAll("[name=answer][checked]").ShouldBeEmpty();
            // Nor is it to be had by asking for the debrief too soon.
            (await app.GetAsync($"/practice/debrief/{begun.Word}")).ShouldShow("[data-answer]");
        }
    }

    [Fact]
    public async Task The_propane_case_fails_for_who_looks_at_traps_first()
    {
        var begun = await BeginAsync(("course", "8"));
        await PressAsync(begun, "Ask", ("code", "traps"));
        var (_, debrief) = await PressAsync(begun, "Answer", ("answer", "propane"), ("level", "50"), ("spread", "10"), ("sure", ""));
        debrief.ShouldShow("[data-danger=gas-ignored]");
        debrief.ShouldShow("[data-score='0']");
        (await app.GetAsync("/practice")).ShouldShow("[data-case='8'].is-tried");
    }

    [Fact]
    public async Task After_the_answer_the_next_steps_are_put_in_order_and_marks_are_drawn_over_time()
    {
        var drawn = (await app.GetAsync("/practice")).Dom().QuerySelector("[data-progress]")?.GetAttribute("data-progress");
        StoredPractice begun;
        CaseOrder? order;
        var tried = 0;
        do
        {
            begun = await BeginAsync(("topic", "clogs"), ("difficulty", "1"));
            order = CaseOrder.Of(CaseOf(begun));
            await PressAsync(begun, "Answer", ("answer", Codes<CaseAnswer>.Word(CaseOf(begun).Truth.Answer)), ("level", "50"), ("spread", "10"));
        } while ((order is null || tried < 2) && ++tried < 40);
        string Said(IEnumerable<RemedyAction> steps) => string.Join("&", steps.Select(s => $"order={Codes<RemedyAction>.Word(s)}"));
        var page = $"/practice/debrief/{begun.Word}";
        (await app.GetAsync(page)).ShouldShow("[data-order] select[name=order]");
        (await app.GetAsync($"{page}?{Said(order!.Right)}")).ShouldShow($"[data-order] [data-in-place='{CaseOrder.Steps}']");
        (await app.GetAsync($"{page}?{Said(order.Offered)}")).ShouldShow($"[data-order] [data-in-place='{order.InPlace(order.Offered)}']");
        foreach (var bad in (string[])[Said([order.Right[0], order.Right[0], order.Right[1]]), "order=borax", Said(order.Right.Take(2))])
            (await app.GetAsync($"{page}?{bad}")).ShouldShow("[data-order] [data-no-order]");
        var now = (await app.GetAsync("/practice")).Dom().QuerySelector("[data-progress]")!;
        now.GetAttribute("data-progress").ShouldNotBe(drawn);
        now.QuerySelectorAll("g").Length.ToString(System.Globalization.CultureInfo.InvariantCulture).ShouldBe(now.GetAttribute("data-progress"));
    }

    [Theory]
    [InlineData("answer", "", "50", "10")]
    [InlineData("answer", "borax", "50", "10")]
    [InlineData("level", "", "400", "10")]
    [InlineData("level", "", "half", "10")]
    [InlineData("give-or-take", "", "50", "-3")]
    [InlineData("give-or-take", "", "50", "51")]
    public async Task A_reply_out_of_range_is_refused_by_its_field_and_the_case_goes_on(string field, string answer, string level, string spread)
    {
        var begun = await BeginAsync(("topic", "lamps"), ("difficulty", "1"));
        if (field != "answer") answer = Codes<CaseAnswer>.Word(CaseOf(begun).Choices[0]);
        var (status, html) = await PressAsync(begun, "Answer", ("answer", answer), ("level", level), ("spread", spread));
        status.ShouldBe(HttpStatusCode.BadRequest);
        html.ShouldShow("[data-answer]");
        html.ShouldShow(".alert-danger, [role=alert]");
        Store((s, p) => s.Find(p, begun.Word))!.EndedAt.ShouldBeNull();
    }

    [Fact]
    public async Task Two_tabs_and_the_back_button_answer_once_and_ask_nothing_after_it()
    {
        var begun = await BeginAsync(("topic", "rinsing"), ("difficulty", "1"));
        var first = Codes<CaseAnswer>.Word(CaseOf(begun).Choices[0]);
        var second = Codes<CaseAnswer>.Word(CaseOf(begun).Choices[1]);
        await PressAsync(begun, "Ask", ("code", "watch-end"));
        await PressAsync(begun, "Ask", ("code", "watch-end"));
        Store((s, p) => s.Find(p, begun.Word))!.Asked.Count.ShouldBe(1);
        var token = await app.TokenAsync("/practice");
        async Task SendAsync(string handler, params (string, string)[] fields) => (await app.Client.PostAsync($"/practice/case/{begun.Word}?handler={handler}",
            new FormUrlEncodedContent([.. fields.Select(f => new KeyValuePair<string, string>(f.Item1, f.Item2)), new("__RequestVerificationToken", token)])))
            .StatusCode.ShouldBe(HttpStatusCode.OK);
        await SendAsync("Answer", ("answer", first), ("level", "10"), ("spread", "10"));
        await SendAsync("Answer", ("answer", second), ("level", "90"), ("spread", "10"));
        await SendAsync("Ask", ("code", "sniff"));
        var kept = Store((s, p) => s.Find(p, begun.Word))!;
        kept.Reply!.Share.ShouldBe(0.1);
        kept.Asked.Count.ShouldBe(1);
        (await app.GetAsync($"/practice/case/{begun.Word}")).ShouldShow("[data-remember]");
    }

    [Fact]
    public async Task A_case_begun_with_another_program_cannot_go_on_and_loses_nothing_that_was_answered()
    {
        var done = await BeginAsync(("course", "2"));
        await PressAsync(done, "Answer", ("answer", "rinse-again"), ("level", "3"), ("spread", "5"));
        var open = await BeginAsync(("topic", "lamps"), ("difficulty", "1"));
        using (var scope = app.Services.CreateScope())
        {
            var context = scope.ServiceProvider.GetRequiredService<TanksophosContext>();
            context.Database.ExecuteSqlRaw("UPDATE Practice SET Maker = 0");
        }
        (await app.GetAsync($"/practice/case/{open.Word}")).ShouldShow("[data-renewed]");
        (await PressAsync(open, "Ask", ("code", "flashlight"))).Status.ShouldBe(HttpStatusCode.BadRequest);
        (await app.GetAsync($"/practice/debrief/{done.Word}")).ShouldShow("[data-renewed]");
        var room = await app.GetAsync("/practice");
        room.ShouldShow("[data-case='2'].is-solved");
        room.ShouldNotShow("[data-open-case]");
    }

    [Fact]
    public async Task Cases_of_others_and_unknown_ones_are_not_there()
    {
        foreach (var path in new[] { "/practice/case/nothing", "/practice/debrief/nothing" })
            (await app.Client.GetAsync(path)).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        (await app.PostAsync("/practice", "/practice?handler=Start", ("topic", "songs"), ("difficulty", "1"))).Status.ShouldBe(HttpStatusCode.BadRequest);
        (await app.PostAsync("/practice", "/practice?handler=Start", ("topic", "lamps"), ("difficulty", "9"))).Status.ShouldBe(HttpStatusCode.BadRequest);
        (await app.PostAsync("/practice", "/practice?handler=Start", ("course", "77"))).Status.ShouldBe(HttpStatusCode.BadRequest);
        var begun = await BeginAsync(("topic", "mixed"), ("difficulty", "3"));
        begun.Topic.ShouldNotBe(PracticeTopic.Mixed);
        (await PressAsync(begun, "Ask", ("code", "crystal-ball"))).Status.ShouldBe(HttpStatusCode.BadRequest);
    }

    [Fact]
    public async Task A_case_shown_to_others_is_the_same_for_them_and_the_answers_stand_side_by_side()
    {
        var shown = await BeginAsync(("topic", "clogs"), ("difficulty", "2"));
        var (_, page) = await PressAsync(shown, "Share");
        var link = new Uri(page.Dom().QuerySelector("[data-link]")!.GetAttribute("href")!).AbsolutePath;
        // Who shows it is led to the own copy.
        (await app.GetAsync(link)).ShouldShow("[data-answer]");
        var group = Store((s, p) => s.Find(p, shown.Word))!.Group!;
        var other = Store((s, p) => s.Start(p, shown.Seed, shown.Topic, shown.Difficulty, null, group));
        Store((s, p) => s.Mine(p, group))!.Word.ShouldBe(other.Word);
        await PressAsync(shown, "Answer", ("answer", Codes<CaseAnswer>.Word(CaseOf(shown).Truth.Answer)), ("level", "40"), ("spread", "20"));
        var debrief = await app.GetAsync($"/practice/debrief/{shown.Word}");
        debrief.Dom().QuerySelectorAll("[data-together] [data-who]").Length.ShouldBe(2);
        (await app.Client.GetAsync("/practice/together/nobody")).StatusCode.ShouldBe(HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task Again_is_the_same_case_and_next_is_the_next_one_of_the_course()
    {
        var first = await BeginAsync(("course", "1"));
        await PressAsync(first, "Answer", ("answer", "stuck-on"), ("level", "20"), ("spread", "10"));
        var (_, again) = await app.PostAsync($"/practice/debrief/{first.Word}", $"/practice/debrief/{first.Word}?handler=Again");
        again.ShouldShow("[data-answer]");
        Store((s, p) => s.Of(p)[0]).ShouldSatisfyAllConditions(c => c.Seed.ShouldBe(first.Seed), c => c.Course.ShouldBe(1),
            c => c.Word.ShouldNotBe(first.Word));
        var next = (await app.GetAsync($"/practice/debrief/{first.Word}")).Fields("form[action^='/practice?']");
        next.ShouldContain(("course", "2"));
    }

    [Fact]
    public async Task A_topic_that_went_wrong_is_offered_first_and_marks_show_the_last_cases()
    {
        for (var i = 0; i < 2; i++)
        {
            var begun = await BeginAsync(("topic", "smells"), ("difficulty", "1"));
            var wrong = CaseOf(begun).Choices.First(c => c != CaseOf(begun).Truth.Answer);
            await PressAsync(begun, "Answer", ("answer", Codes<CaseAnswer>.Word(wrong)), ("level", "50"), ("spread", "10"), ("sure", "90"));
        }
        var room = await app.GetAsync("/practice");
        room.ShouldShow("[data-weakest] [value=smells]");
        room.ShouldShow("[data-topic=smells] [data-solved='0']");
        room.Dom().QuerySelectorAll("[data-topic=smells] .practice-marks i").Length.ShouldBe(2);
        Store((s, p) => s.Of(p)).ShouldAllBe(c => c.Right == false && c.Sure == 0.9);
    }

    [Fact]
    public async Task The_room_is_offered_once_after_a_rig_was_made_and_from_sensors_and_troubleshoot()
    {
        var (_, today) = await app.PostAsync("/start", "/start", ("name", "New rig"), ("layout", "black-and-gray"), ("black", "40"), ("gray", "40"),
            ("people", "2"),
            ("monitor", "probes"), ("hookup", "full"), ("units", "us"));
        today.ShouldShow("[data-practice-offer] a[href='/practice']");
        (await app.GetAsync("/")).ShouldNotShow("[data-practice-offer]");
        foreach (var page in new[] { "/sensors", "/find" }) (await app.GetAsync(page)).ShouldShow("a[data-practice][href='/practice']");
        (await app.GetAsync("/more")).ShouldShow("a[href='/practice']");
    }

    [Fact]
    public async Task The_pile_answers_the_sliders_with_the_numbers_of_the_core()
    {
        (await app.GetAsync("/practice/pile")).ShouldShow("[x-data=pile] [data-side=open]");
        using var played = JsonDocument.Parse(await app.GetAsync("/practice/pile?handler=Play&flush=1&starter=0&dump=0.4&paper=1&people=4"));
        var core = PileModel.Play(new PileHabits(PileHabits.Usual.CapacityL, 4, 1, 0, 0.4, 1), open: true);
        var heights = played.RootElement.GetProperty("open").GetProperty("height").EnumerateArray().Select(h => h.GetDouble()).ToList();
        heights.Count.ShouldBe(core.Count);
        heights[^1].ShouldBe(core[^1].Height, 1e-4);
        foreach (var bad in new[] { "flush=x&starter=0&dump=0.4&paper=1&people=4", "flush=1&starter=0&dump=&paper=1&people=4", "flush=1" })
            (await app.Client.GetAsync($"/practice/pile?handler=Play&{bad}")).StatusCode.ShouldBe(HttpStatusCode.BadRequest);
    }

    [Fact]
    public async Task The_twin_plays_ahead_and_leaves_the_log_alone()
    {
        var before = await app.GetAsync("/logbook");
        double Percent(string html) => double.Parse(html.Dom().QuerySelector("[data-tank=black]")!.GetAttribute("data-percent")!,
            System.Globalization.CultureInfo.InvariantCulture);
        var nothing = await app.GetAsync("/practice/twin?act=nothing&days=3");
        var dumped = await app.GetAsync("/practice/twin?act=dump-black&days=3");
        Percent(dumped).ShouldBeLessThan(Percent(nothing));
        (await app.GetAsync("/practice/twin?act=open-black&days=7")).ShouldShow("[data-pile]");
        (await app.GetAsync("/logbook")).Dom().QuerySelectorAll(".log li").Length.ShouldBe(before.Dom().QuerySelectorAll(".log li").Length);
        foreach (var bad in new[] { "act=nothing&days=0", "act=nothing&days=99", "act=nothing&days=x", "act=fly&days=3" })
            (await app.Client.GetAsync($"/practice/twin?{bad}")).StatusCode.ShouldBe(HttpStatusCode.BadRequest);
    }

    [Fact]
    public async Task Lights_are_judged_one_by_one_and_told_on_the_debrief()
    {
        var begun = await BeginAsync(("course", "1"));
        var @case = CaseOf(begun);
        (await app.GetAsync($"/practice/case/{begun.Word}")).ShouldShow($"[data-lights='{@case.Lights.Count}'] [name=light]");
        var truth = @case.Lights.Select(l => Codes<ProbeState>.Word(@case.Truth.Probes[l.Tank.Id][l.Probe.Id])).ToList();
        (string, string)[] answer = [("answer", "stuck-on"), ("level", "5"), ("spread", "8")];
        (await PressAsync(begun, "Answer", [.. answer, ("light", "working")])).Status.ShouldBe(HttpStatusCode.BadRequest);
        (await PressAsync(begun, "Answer", [.. answer, .. truth.Select(_ => ("light", "purple"))])).Status.ShouldBe(HttpStatusCode.BadRequest);
        // All said to work, though one is stuck: not all of the points.
        var (_, debrief) = await PressAsync(begun, "Answer", [.. answer, .. truth.Select(_ => ("light", "working"))]);
        debrief.ShouldShow($"[data-lights-right='{truth.Count(t => t == "working")}']");
        truth.ShouldContain("stuck-on");
        var again = await BeginAsync(("course", "1"));
        var (_, better) = await PressAsync(again, "Answer", [.. answer, .. truth.Select(t => ("light", t))]);
        better.ShouldShow($"[data-lights-right='{truth.Count}']");
        Store((s, p) => s.Find(p, again.Word))!.Score!.Value.ShouldBeGreaterThan(Store((s, p) => s.Find(p, begun.Word))!.Score!.Value);
    }

    [Fact]
    public async Task A_dump_run_is_played_to_its_review_with_its_secrets_kept_until_then()
    {
        var (status, page) = await app.PostAsync("/practice", "/practice?handler=Run", ("difficulty", "3"));
        status.ShouldBe(HttpStatusCode.OK);
        page.ShouldShow("[data-drill]");
        page.ShouldNotShow("[data-trouble]");
        var run = Store((s, p) => s.Drills(p)[0]);
        page.ShouldNotContain($"{run.Seed}");
        (await app.GetAsync("/practice")).ShouldShow("[data-open-run]");
        var own = DrillReview.Of(DumpDrill.Play(run.Seed, run.Difficulty, [])).Own;
        Task<(HttpStatusCode Status, string Html)> DoAsync(string act, int done) =>
            app.PostAsync($"/practice/run/{run.Word}", $"/practice/run/{run.Word}?handler=Do", ("act", act), ("done", $"{done}"));
        (await DoAsync("work-valve", 0)).Status.ShouldBe(HttpStatusCode.BadRequest);
        (await DoAsync("fly", 0)).Status.ShouldBe(HttpStatusCode.BadRequest);
        var last = "";
        for (var i = 0; i < own.Steps.Count; i++)
        {
            (status, last) = await DoAsync(Codes<DrillAct>.Word(own.Steps[i].Act), i);
            status.ShouldBe(HttpStatusCode.OK);
            // A press from an older page, in a second tab, changes nothing.
            if (i == 2) (await DoAsync("wait", 1)).Html.ShouldShow("[data-acts='3']");
        }
        last.ShouldShow("[data-review] [data-part=clean][data-right=True]");
        last.ShouldShow("[data-score='100']");
        last.Dom().QuerySelectorAll("[data-trouble]").Length.ShouldBe(3);
        var room = await app.GetAsync("/practice");
        room.ShouldShow("[data-topic=run] [data-solved='1']");
        room.ShouldNotShow("[data-open-run]");
        (await DoAsync("wait", own.Steps.Count)).Html.ShouldShow("[data-review]");
        (await app.Client.GetAsync("/practice/run/nothing")).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        // A run that went wrong says what could have happened.
        var (_, next) = await app.PostAsync($"/practice/run/{run.Word}", $"/practice/run/{run.Word}?handler=Another", ("same", "true"));
        next.ShouldShow("[data-drill]");
        run = Store((s, p) => s.Drills(p)[0]);
        await DoAsync("open-black", 0);
        (await DoAsync("cap", 1)).Html.ShouldShow("[data-danger=spilled]");
    }

    [Fact]
    public async Task Somebody_without_an_account_plays_along_by_the_link_and_sees_nothing_else()
    {
        var shown = await BeginAsync(("topic", "lamps"), ("difficulty", "1"));
        var (_, page) = await PressAsync(shown, "Share");
        var link = new Uri(page.Dom().QuerySelector("[data-link]")!.GetAttribute("href")!).AbsolutePath;
        var (owner, visitor) = (app.Client, app.Visitor());
        var guest = app.As(visitor);
        var door = await guest.GetAsync(link);
        door.ShouldShow("[data-come-in] [name=name]");
        (await guest.PostAsync(link, link, ("name", "  "))).Status.ShouldBe(HttpStatusCode.BadRequest);
        (await guest.PostAsync(link, link, ("name", new string('x', 31)))).Status.ShouldBe(HttpStatusCode.BadRequest);
        var who = Store((s, p) => s.Together(s.Find(p, shown.Word)!.Group!))[0].Who;
        (await guest.PostAsync(link, link, ("name", who))).Status.ShouldBe(HttpStatusCode.BadRequest);
        var (status, play) = await guest.PostAsync(link, link, ("name", "Wren"));
        status.ShouldBe(HttpStatusCode.OK);
        play.ShouldShow("[data-answer]");
        play.ShouldNotShow("[data-link]");
        play.ShouldNotContain($"{shown.Seed}");
        (await guest.PostAsync(link, link, ("name", "wren"))).Status.ShouldBe(HttpStatusCode.BadRequest);
        var word = new Uri(play.Dom().QuerySelector("form[data-answer]")!.GetAttribute("action")!, UriKind.RelativeOrAbsolute).ToString().Split('?')[0];
        (await guest.PostAsync(word, $"{word}?handler=Ask", ("code", "flashlight"))).Html.ShouldShow("[data-evidence=flashlight] [data-found]");
        var truth = CaseOf(shown).Truth;
        var (_, debrief) = await guest.PostAsync(word, $"{word}?handler=Answer", ("answer", Codes<CaseAnswer>.Word(truth.Answer)), ("level", "20"),
            ("spread", "30"));
        debrief.ShouldShow("[data-remember]");
        debrief.ShouldShow("[data-together] [data-who=Wren]");
        // The room itself, the case of who shows it, and the visitor's case under a person's address stay closed.
        (await guest.GetAsync("/practice")).ShouldShow("[name=passphrase]");
        (await guest.GetAsync($"/practice/case/{shown.Word}")).ShouldShow("[name=passphrase]");
        app.As(owner);
        (await app.Client.GetAsync(word.Replace("/visit/", "/case/", StringComparison.Ordinal))).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        (await app.Client.GetAsync($"/practice/visit/{shown.Word}")).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        // Who shows it sees the answer, and has no case more.
        await PressAsync(shown, "Answer", ("answer", Codes<CaseAnswer>.Word(truth.Answer)), ("level", "20"), ("spread", "30"));
        (await app.GetAsync($"/practice/debrief/{shown.Word}")).ShouldShow("[data-together] [data-who=Wren]");
        Store((s, p) => s.Of(p)).Count.ShouldBe(1);
    }
}
