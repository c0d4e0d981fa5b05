using System.Text.Json;
using Json.Schema;
using Tanksophos.Core.Agendas;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Cli;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Practice;
using Tanksophos.Core.Rigs;
using Tanksophos.Words;

namespace Tanksophos.Core.Tests.Practice;

public class PracticeTests
{
    private static readonly PracticeTopic[] Topics = [PracticeTopic.Lamps, PracticeTopic.Smells, PracticeTopic.Clogs, PracticeTopic.Rinsing,
        PracticeTopic.Planning];

    private static IEnumerable<PracticeCase> Cases(int count, long from) =>
        Enumerable.Range(0, count).Select(i => CaseMaker.Make(from + i, Topics[i % 5], 1 + i / 5 % 3));

    private static string Document(string fields) => $$"""{ "format": "tanksophos-practice", "version": 1, {{fields}} }""";

    [Fact]
    public void The_same_seed_gives_the_same_case_to_the_letter()
    {
        foreach (var @case in Cases(30, 40))
        {
            var again = CaseMaker.Make(@case.Seed, @case.Topic, @case.Difficulty);
            PracticeFormat.Write(again, DocumentWords.English, truth: true).ShouldBe(PracticeFormat.Write(@case, DocumentWords.English, truth: true));
        }
    }

    [Fact]
    public void Every_case_is_sound_and_gives_nothing_away()
    {
        var schema = JsonSchema.FromText(File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "format", "case.schema.json")));
        var places = new int[12];
        foreach (var @case in Cases(150, 1000))
        {
            var truth = @case.Truth;
            @case.Choices.ShouldContain(truth.Answer);
            @case.Choices.Count.ShouldBeGreaterThanOrEqualTo(3);
            @case.Choices.ShouldBeUnique();
            places[@case.Choices.ToList().IndexOf(truth.Answer)]++;
            truth.Best.ShouldNotBeEmpty();
            truth.Best.ShouldBeSubsetOf(@case.Evidence.Select(e => e.Code));
            foreach (var tank in @case.Logbook.Rig.Tanks) truth.LevelsL[tank.Id].ShouldBeInRange(0, tank.CapacityL);
            @case.Logbook.InOrder().Count.ShouldBe(@case.Logbook.Entries.Count);

            var seen = PracticeFormat.Write(@case, DocumentWords.English);
            schema.Evaluate(JsonDocument.Parse(seen).RootElement).IsValid.ShouldBeTrue();
            using var shown = JsonDocument.Parse(seen);
            shown.RootElement.TryGetProperty("truth", out _).ShouldBeFalse();
            LogbookFormat.Read(JsonSerializer.SerializeToUtf8Bytes(shown.RootElement.GetProperty("logbook"))).Errors.ShouldBeEmpty();
            schema.Evaluate(JsonDocument.Parse(PracticeFormat.Write(@case, DocumentWords.English, truth: true)).RootElement).IsValid.ShouldBeTrue();
        }
        // The right one stands anywhere.
        places.Take(3).ShouldAllBe(p => p >= 15);
    }

    [Fact]
    public void A_thousand_cases_are_solved_by_the_programs_own_play_without_a_danger()
    {
        var played = Cases(1000, 20_000).AsParallel().Select(c => (Case: c, Reply: CasePlay.Own(c)))
            .Select(p => (p.Case, Right: p.Reply.Answer == p.Case.Truth.Answer, Danger: p.Case.Ask(p.Reply.Asked).Any(r => r.Danger is not null))).ToList();
        played.ShouldAllBe(p => !p.Danger);
        played.Count(p => p.Right).ShouldBeGreaterThanOrEqualTo(900);
        foreach (var topic in played.GroupBy(p => p.Case.Topic)) topic.Count(p => p.Right).ShouldBeGreaterThanOrEqualTo(180, topic.Key.ToString());
    }

    [Fact]
    public void Bad_habits_score_worse_in_a_known_order()
    {
        var cases = Cases(120, 60_000).ToList();
        double Score(Func<PracticeCase, CaseReply> play) => cases.AsParallel().Select(c => (double)CaseReview.Of(c, play(c)).Score).Average();
        var own = Score(CasePlay.Own);
        var (everything, dumps, panel) = (Score(CasePlay.AsksEverything), Score(CasePlay.DumpsEverything), Score(CasePlay.BelievesThePanel));
        own.ShouldBeGreaterThan(85);
        Math.Max(everything, dumps).ShouldBeLessThan(own - 15);
        panel.ShouldBeLessThan(Math.Min(everything, dumps) - 8);
    }

    [Fact]
    public void The_best_course_is_enough_for_who_judges_as_the_program_does()
    {
        var cases = Cases(150, 80_000).ToList();
        var right = cases.AsParallel().Count(c => CaseJudge.View(c, c.Ask(c.Truth.Best)).Best == c.Truth.Answer);
        right.ShouldBeGreaterThanOrEqualTo(140);
        cases.SelectMany(c => c.Ask(c.Truth.Best)).ShouldAllBe(r => r.Danger == null);
    }

    [Fact]
    public void The_course_goes_through_ten_different_lessons()
    {
        CaseAnswer[] lessons = [.. Course.Cases.Select(c => CaseMaker.Make(c.Seed, c.Topic, c.Difficulty).Truth.Answer)];
        lessons.ShouldBe([CaseAnswer.StuckOn, CaseAnswer.RinseAgain, CaseAnswer.DryTrap, CaseAnswer.TopUpThenDump, CaseAnswer.ForgottenDump, CaseAnswer.Heap,
            CaseAnswer.CloseGray, CaseAnswer.Propane, CaseAnswer.LeaveEarly, CaseAnswer.TankFull]);
        Course.Cases.Select(c => c.Number).ShouldBe(Enumerable.Range(1, 10));
    }

    [Fact]
    public void With_the_alarm_on_anything_before_getting_out_fails_the_case_and_so_does_nothing_at_all()
    {
        var alarm = CaseMaker.Make(Course.Cases[7].Seed, PracticeTopic.Smells, 2);
        alarm.GasFirst.ShouldBeTrue();
        CaseReview Played(params EvidenceCode[] asked) => CaseReview.Of(alarm, new CaseReply(asked, CaseAnswer.Propane, 0.5, 0.3, 0.7));
        Played(EvidenceCode.GasOut, EvidenceCode.Traps).Dangers.ShouldBeEmpty();
        Played(EvidenceCode.Traps, EvidenceCode.GasOut).Dangers.ShouldBe([Danger.GasIgnored]);
        Played().Dangers.ShouldBe([Danger.GasIgnored]);
        Played().Score.ShouldBe(0);
        Played(EvidenceCode.GasOut).Solved.ShouldBeTrue();
    }

    [Fact]
    public void A_strong_gas_smell_comes_first_without_an_alarm_too_as_on_the_agenda()
    {
        var smell = Enumerable.Range(0, 400).Select(i => CaseMaker.Make(9000 + i, PracticeTopic.Smells, 2)).First(c => c.Gas == Because.GasSmell);
        smell.Logbook.Entries.OfType<SymptomEntry>().ShouldNotContain(s => s.Code == SymptomCode.PropaneAlarm);
        smell.Truth.Best[0].ShouldBe(EvidenceCode.GasOut);
        smell.Ask([EvidenceCode.Traps]).Single().Danger.ShouldBe(Danger.GasIgnored);
        CasePlay.Own(smell).Asked[0].ShouldBe(EvidenceCode.GasOut);
        var belief = new JointEstimator().Estimate(smell.Logbook);
        Court.Decide(Situation.Build(smell.Logbook, belief)).Items[0].Code.ShouldBe(AgendaCode.Evacuate);
    }

    [Fact]
    public void Each_answer_of_a_topic_comes_up_and_none_takes_over()
    {
        foreach (var topic in Topics)
        {
            var answers = Enumerable.Range(0, 120).Select(i => CaseMaker.Make(500 + i, topic, 1 + i % 3).Truth.Answer).GroupBy(a => a)
                .ToDictionary(g => g.Key, g => g.Count());
            answers.Keys.ShouldBe(CaseMaker.Pool(topic), ignoreOrder: true);
            answers.Values.ShouldAllBe(n => n >= 3 && n <= 60, topic.ToString());
        }
    }

    [Fact]
    public void A_harder_case_has_a_thinner_log_and_more_to_choose_from()
    {
        (double Looks, double Choices) Of(int difficulty)
        {
            var cases = Enumerable.Range(0, 40)
                .Select(i => CaseMaker.Make(300 + i, i % 2 == 0 ? PracticeTopic.Smells : PracticeTopic.Clogs, difficulty)).ToList();
            return (cases.Average(c => c.Logbook.Entries.OfType<ReadingEntry>().Count() / (c.Logbook.AsOf!.Value.ToInstant()
                - c.Logbook.Entries[0].Instant).TotalDays), cases.Average(c => c.Choices.Count));
        }
        var (easy, middle, hard) = (Of(1), Of(2), Of(3));
        easy.Looks.ShouldBeGreaterThan(middle.Looks);
        middle.Looks.ShouldBeGreaterThan(hard.Looks);
        easy.Choices.ShouldBeLessThan(middle.Choices);
        middle.Choices.ShouldBeLessThan(hard.Choices);
    }

    [Fact]
    public void What_is_really_in_the_tank_goes_on_without_leaps_but_by_dumps_and_water()
    {
        foreach (var @case in Cases(40, 7000))
            foreach (var tank in @case.Logbook.Rig.Tanks)
            {
                var trace = @case.Truth.Trace.Where(p => p.Tank == tank.Id).ToList();
                trace.ShouldAllBe(p => p.LevelL >= 0 && p.LevelL <= tank.CapacityL + 1e-9);
                trace.Zip(trace.Skip(1)).ShouldAllBe(p => p.First.At <= p.Second.At);
                // Nobody puts half a tank in within an hour.
                trace.Zip(trace.Skip(1)).Where(p => (p.Second.At - p.First.At).TotalHours <= 1)
                    .ShouldAllBe(p => p.Second.LevelL - p.First.LevelL < 0.5 * tank.CapacityL);
            }
    }

    [Fact]
    public void Where_no_light_is_in_question_the_belief_about_the_log_holds_the_level()
    {
        var cases = Cases(100, 11_000)
            .Where(c => c.Topic is PracticeTopic.Rinsing or PracticeTopic.Planning && c.Truth.Answer != CaseAnswer.OutletClog).ToList();
        var held = cases.Count(c => CaseJudge.View(c, []).Level is var band && c.Truth.LevelsL["black"] is var truth
            && band.P05L - 0.03 * c.Tank.CapacityL <= truth && truth <= band.P95L + 0.03 * c.Tank.CapacityL);
        held.ShouldBeGreaterThanOrEqualTo((int)(0.85 * cases.Count));
    }

    [Fact]
    public void Filling_blindly_overfills_a_tank_that_is_fuller_than_its_log_says()
    {
        var full = CaseMaker.Make(Course.Cases[9].Seed, PracticeTopic.Lamps, 3);
        full.Truth.Answer.ShouldBe(CaseAnswer.TankFull);
        var fill = full.Ask([EvidenceCode.MeteredFill]).Single();
        fill.Danger.ShouldBe(Danger.Overfilled);
        fill.LevelL.ShouldBe(full.Tank.CapacityL, 1e-6);
    }

    [Fact]
    public void Rinsing_with_gray_open_and_opening_a_cleanout_fail_a_case()
    {
        var open = CaseMaker.Make(Course.Cases[6].Seed, PracticeTopic.Rinsing, 2);
        open.Ask([EvidenceCode.RinseWatch]).Single().Danger.ShouldBe(Danger.BothValvesOpen);
        var clogs = Cases(60, 5).Where(c => c.Topic == PracticeTopic.Clogs).ToList();
        clogs.ShouldAllBe(c => c.Truth.LevelsL["black"] < 0.05 * c.Tank.CapacityL || c.Ask(new[] { EvidenceCode.Cleanout }).Single().Danger
            == Danger.CleanoutUnderFull);
    }

    [Fact]
    public void What_was_found_is_the_same_when_more_is_asked_and_double_asking_adds_nothing()
    {
        foreach (var @case in Cases(40, 300))
        {
            var codes = @case.Evidence.Where(e => e.Minutes < 60).Select(e => e.Code).ToList();
            var all = @case.Ask(codes);
            @case.Ask([codes[0], codes[0]]).Count.ShouldBe(1);
            @case.Ask([codes[0]]).Single().Found.ShouldBe(all[0].Found);
            @case.With(all).InOrder().Count.ShouldBe(@case.Logbook.Entries.Count + all.Sum(r => r.Entries.Count));
        }
    }

    [Fact]
    public void A_closer_level_a_right_answer_and_fewer_checks_never_score_less()
    {
        foreach (var @case in Cases(25, 700))
        {
            var truth = @case.Truth.LevelsL["black"] / @case.Tank.CapacityL;
            CaseReview Of(double share, CaseAnswer answer, params EvidenceCode[] asked) =>
                CaseReview.Of(@case, new CaseReply(asked, answer, share, share - 0.1, share + 0.1));
            var wrong = @case.Choices.First(c => c != @case.Truth.Answer);
            var (near, far) = (Of(truth, @case.Truth.Answer), Of(Math.Abs(truth - 0.5) < 0.1 ? 1 : 1 - truth, @case.Truth.Answer));
            near.Level.ShouldBeGreaterThanOrEqualTo(far.Level);
            near.Level.ShouldBe(CaseReview.MaxLevel);
            Of(truth, wrong).Cause.ShouldBe(0);
            Of(truth, wrong).Waste.ShouldBe(0);
            if (@case.GasFirst) continue;
            var slow = @case.Evidence.Where(e => e.Code is not (EvidenceCode.Cleanout or EvidenceCode.MeteredFill or EvidenceCode.RinseWatch)).Last().Code;
            Of(truth, @case.Truth.Answer, slow).Waste.ShouldBeLessThanOrEqualTo(near.Waste);
        }
    }

    [Theory]
    [InlineData("\"topic\": \"lamps\"", "seed")]
    [InlineData("\"seed\": 1.5, \"topic\": \"lamps\"", "seed")]
    [InlineData("\"seed\": \"x\", \"topic\": \"lamps\"", "seed")]
    [InlineData("\"seed\": 1", "topic")]
    [InlineData("\"seed\": 1, \"topic\": \"songs\"", "topic")]
    [InlineData("\"seed\": 1, \"topic\": \"lamps\", \"difficulty\": 0", "difficulty")]
    [InlineData("\"seed\": 1, \"topic\": \"lamps\", \"difficulty\": 4", "difficulty")]
    [InlineData("\"seed\": 1, \"topic\": \"lamps\", \"difficulty\": 1.5", "difficulty")]
    public void A_bad_request_is_named_by_its_field(string fields, string path)
    {
        var answer = Commands.Practice(Given.Utf8(Document(fields)), pretty: false);
        answer.Failed.ShouldBeTrue();
        using var line = JsonDocument.Parse(answer.Line);
        line.RootElement.GetProperty("error").GetProperty("path").GetString().ShouldBe(path);
        Commands.Validate(Given.Utf8(Document(fields)), pretty: false).Failed.ShouldBeTrue();
    }

    [Fact]
    public void The_command_hides_the_truth_unless_it_is_asked_for()
    {
        var document = Given.Utf8(Document("\"seed\": 7, \"topic\": \"mixed\", \"difficulty\": 2"));
        using var seen = JsonDocument.Parse(Commands.Practice(document, pretty: false).Line);
        using var opened = JsonDocument.Parse(Commands.PracticeTruth(document, pretty: true).Line);
        seen.RootElement.TryGetProperty("truth", out _).ShouldBeFalse();
        var answer = opened.RootElement.GetProperty("truth").GetProperty("answer").GetString();
        seen.RootElement.GetProperty("choices").EnumerateArray().Select(c => c.GetProperty("id").GetString()).ShouldContain(answer);
        seen.RootElement.GetProperty("topic").GetString().ShouldNotBe("mixed");
        Commands.Validate(document, pretty: false).Failed.ShouldBeFalse();
        CaseMaker.Make(7, PracticeTopic.Lamps, 1).Difficulty.ShouldBe(1);
        Should.Throw<ArgumentOutOfRangeException>(() => CaseMaker.Make(7, PracticeTopic.Lamps, 4));
    }

    [Fact]
    public void Every_answer_check_and_danger_has_its_words()
    {
        foreach (var answer in Enum.GetValues<CaseAnswer>())
        {
            PracticeWords.Remember(answer).ShouldNotBeNullOrWhiteSpace();
            foreach (var topic in Topics) PracticeWords.Answer(answer, topic).ShouldNotBeNullOrWhiteSpace();
        }
        foreach (var danger in Enum.GetValues<Danger>()) PracticeWords.Why(danger).ShouldNotBeNullOrWhiteSpace();
        foreach (var @case in Cases(60, 900))
            foreach (var result in @case.Ask(@case.Evidence.Select(e => e.Code)))
                PracticeWords.Found(result, @case).ShouldNotBeNullOrWhiteSpace($"{result.Evidence.Code} {@case.Seed}");
    }

    [Theory]
    [InlineData(CaseQuestion.Leaving, 0.7, 0.5, CaseAnswer.DumpNow)]
    [InlineData(CaseQuestion.Leaving, 0.3, 0.5, CaseAnswer.TopUpThenDump)]
    [InlineData(CaseQuestion.Leaving, 0.1, 0.5, CaseAnswer.GrayOnly)]
    [InlineData(CaseQuestion.Staying, 0.1, 0.1, CaseAnswer.CarryOn)]
    [InlineData(CaseQuestion.Staying, 0.1, 0.35, CaseAnswer.Divert)]
    [InlineData(CaseQuestion.Staying, 0.1, 0.8, CaseAnswer.LeaveEarly)]
    public void A_trip_is_called_by_what_fits(CaseQuestion question, double black, double gray, CaseAnswer call) =>
        TripCall.For(question, black, gray, question == CaseQuestion.Leaving ? 0.12 : 0.03, 0.12, 4, 1.25).ShouldBe(call);

    [Fact]
    public void Trying_on_a_twin_moves_only_what_is_tried()
    {
        var rig = Given.Rig();
        var now = Given.At(10);
        var book = Given.Book(rig, now, Given.Dump(Given.At(0)), Given.Lamps(Given.At(8), "low"));
        var black = rig.Tanks.First(t => t.Role == TankRole.Black).Id;
        var twin = new Twin(book, now);
        double Then(TwinAct act) => twin.Ahead(act, 3)[black].Level.P50L;
        var nothing = Then(TwinAct.Nothing);
        Then(TwinAct.DumpBlack).ShouldBeLessThan(nothing);
        Then(TwinAct.OpenBlack).ShouldBeLessThan(Then(TwinAct.DumpBlack));
        Then(TwinAct.TopUp).ShouldBe(nothing + Twin.TopUpL, 6);
        Then(TwinAct.Guests).ShouldBeGreaterThan(nothing);
        book.Entries.Count.ShouldBe(2);
        Then(TwinAct.Nothing).ShouldBe(nothing, 1e-9, "trying leaves the copy as it was");
        Should.Throw<ArgumentOutOfRangeException>(() => twin.Ahead(TwinAct.Nothing, 15));
    }
}
