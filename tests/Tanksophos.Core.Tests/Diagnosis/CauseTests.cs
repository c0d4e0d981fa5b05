using System.Text.Json;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Simulation;
using Tanksophos.Words;
using static Tanksophos.Core.Tests.Given;

namespace Tanksophos.Core.Tests.Diagnosis;

public class CauseTests
{
    private static FaultReport Report(double day, params LogEntry[] entries) => Report(Rig(), day, entries);

    private static FaultReport Report(Rig rig, double day, params LogEntry[] entries)
    {
        var book = Book(rig, At(day), entries);
        return FaultReport.Compute(book, new JointEstimator().Estimate(book));
    }

    private static SymptomEntry Noticed(double day, SymptomCode code, string? tank = "black") => new() { At = At(day), Code = code, Tank = tank };

    private static CheckEntry Checked(double day, CheckCode code, CheckResult result) => new() { At = At(day), Code = code, Result = result };

    private static DumpEntry Ran(double day, DumpFlow? flow = null, double? minutes = null, Debris? debris = null) =>
        new() { At = At(day), Tank = "black", Flow = flow, Minutes = minutes, Debris = debris };

    private static FlushEntry Rinsed(double day, int cycles, bool clear = true) => new()
    {
        At = At(day, 0.3),
        Tank = "black",
        Method = FlushMethod.BuiltIn,
        Cycles = [.. Enumerable.Range(1, cycles)
        .Select(k => new FlushCycle(60, null, k == cycles && clear ? EndColor.Clear : EndColor.Dark, k == cycles && clear ? Debris.None : Debris.Paper))]
    };

    private static double Black(FaultReport report, Condition condition) => report.Tanks[0][condition];

    private static OdorEntry Smelled(double day, OdorPlace where, Smell smell, params OdorWhen[] when) =>
        new() { At = At(day), Where = where, Smell = smell, When = when };

    private static LogEntry[] Healthy =>
        [Stay(At(0), Hookup.Full), Ran(1, DumpFlow.Rush, 2.2), Rinsed(1, 2), Checked(1.05, CheckCode.SniffTest, CheckResult.Pass), Ran(8, DumpFlow.Rush, 2.3),
        Rinsed(8, 2), Ran(15, DumpFlow.Rush, 2.1), Rinsed(15, 3), Checked(15.05, CheckCode.SniffTest, CheckResult.Pass)];

    [Fact]
    public void A_healthy_rig_has_nothing_named_and_says_that_there_was_enough_to_see()
    {
        var report = Report(18, Healthy);
        report.Tanks.SelectMany(t => t.Conditions).ShouldAllBe(c => c.Probability < Conditions.Possible);
        report.Tanks[0].Enough.ShouldBeTrue();
        report.Odors.ShouldBeEmpty();
        report.Courses.ShouldBeEmpty();
        Report(1, Stay(At(0), Hookup.Full)).Tanks[0].Enough.ShouldBeFalse("nothing is on record yet");
        Report(0).Tanks.Count.ShouldBe(2);
    }

    [Theory]
    [InlineData(SymptomCode.HeapSeen, Condition.Heap)]
    [InlineData(SymptomCode.NothingComesOut, Condition.OutletClog)]
    [InlineData(SymptomCode.ValveDrips, Condition.ValveLeak)]
    [InlineData(SymptomCode.ValveStiff, Condition.ValveStiff)]
    public void What_is_plain_to_see_is_named_however_good_the_days_before_were(SymptomCode code, Condition condition)
    {
        var report = Report(19, [.. Healthy, Noticed(18.5, code)]);
        Black(report, condition).ShouldBeGreaterThan(0.5);
        report.Tanks[0].Conditions.MaxBy(c => c.Probability)!.Code.ShouldBe(condition);
        report.Tanks[0].Conditions.First(c => c.Code == condition).Reasons[0].Sign.Entry.ShouldBeOfType<SymptomEntry>();
        report.Courses[0].Condition.ShouldBe(condition);
        Report(400, [.. Healthy, Noticed(18.5, code)]).Tanks[0][condition].ShouldBeLessThan(Black(report, condition), "old signs fade");
    }

    [Fact]
    public void A_full_tank_explains_gurgling_and_a_half_empty_one_does_not()
    {
        ReadingEntry Seen(double day, double share) => Looked(At(day), share);
        var empty = Report(17, [.. Healthy, Seen(16, 0.3), Noticed(16.1, SymptomCode.Gurgles), Seen(16.4, 0.33), Noticed(16.8, SymptomCode.Gurgles)]);
        var full = Report(17, [.. Healthy, Seen(16, 0.93), Noticed(16.1, SymptomCode.Gurgles), Seen(16.4, 0.93), Noticed(16.8, SymptomCode.Gurgles)]);
        Black(empty, Condition.VentBlocked).ShouldBeGreaterThan(0.3);
        Black(full, Condition.VentBlocked).ShouldBeLessThan(0.08);
        Black(Report(18, [.. Healthy, Seen(16, 0.3), Noticed(16.1, SymptomCode.Gurgles), Checked(17, CheckCode.RoofVentClear, CheckResult.Fail)]),
            Condition.VentBlocked).ShouldBeGreaterThan(0.9);
    }

    [Fact]
    public void A_dump_that_rushes_ends_a_clog_and_a_jet_ends_a_heap()
    {
        LogEntry[] clog = [.. Healthy, Ran(20, DumpFlow.Trickle, 14), Noticed(20.01, SymptomCode.NothingComesOut)];
        Black(Report(20.5, clog), Condition.OutletClog).ShouldBeGreaterThan(0.9);
        Black(Report(22.5, [.. clog, Ran(22, DumpFlow.Rush, 2.2, Debris.Chunks)]), Condition.OutletClog).ShouldBeLessThan(0.1);
        LogEntry[] heap = [.. Healthy, Noticed(20, SymptomCode.HeapSeen), Noticed(20.2, SymptomCode.BacksUpOnFlush)];
        Black(Report(21, heap), Condition.Heap).ShouldBeGreaterThan(0.8);
        LogEntry[] jetted = [.. heap, new ServiceEntry { At = At(22), Code = ServiceCode.PressureJet, Tank = "black", Grade = Grade.D }];
        Black(Report(23, jetted), Condition.Heap).ShouldBeLessThan(0.1);
        TankHealth.Compute(Rig(), Rig().Tanks[0], jetted, At(23).ToInstant()).ShouldSatisfyAllConditions(
            h => h.Cures.ShouldContain(c => c.Condition == Condition.Heap && c.By is ServiceEntry),
            h => h.Graded!.Grade.ShouldBe(Grade.D),
            h => h.Heap.Max(p => p.Value).ShouldBeGreaterThan(h.Heap[^1].Value),
            h => h.Cycles.Count.ShouldBe(3),
            h => h.Events.Single().Entry.ShouldBeOfType<ServiceEntry>());
    }

    [Fact]
    public void The_risk_of_a_heap_rises_before_there_is_anything_to_see()
    {
        var calm = Black(Report(30, Healthy), Condition.Heap);
        var open = Black(Report(30,
            [.. Healthy, new ValveEntry { At = At(16), Tank = "black", State = ValveState.Open },
            new ValveEntry { At = At(22), Tank = "black", State = ValveState.Closed }]), Condition.Heap);
        var paper = Black(Report(30, [.. Healthy, Checked(20, CheckCode.PaperDissolves, CheckResult.Fail)]), Condition.Heap);
        open.ShouldBeGreaterThan(3 * calm);
        paper.ShouldBeGreaterThan(1.5 * calm);
        open.ShouldBeLessThan(Conditions.Likely, "a risk, not a finding");
    }

    [Fact]
    public void Buildup_shows_in_rinses_that_take_ever_more_and_a_clean_sniff_speaks_against_it()
    {
        LogEntry[] rising = [Stay(At(0), Hookup.Full), .. Enumerable.Range(0, 9)
            .SelectMany(i => new LogEntry[] { Ran(10 * i + 1, DumpFlow.Steady), Rinsed(10 * i + 1, 2 + i / 2, i < 7) })];
        var coated = Report(86, rising);
        Black(coated, Condition.Buildup).ShouldBeGreaterThan(0.6);
        Black(Report(86, [.. rising, Checked(81.1, CheckCode.SniffTest, CheckResult.Pass), Checked(85, CheckCode.SniffTest, CheckResult.Pass)]),
            Condition.Buildup).ShouldBeLessThan(Black(coated, Condition.Buildup));
        Black(Report(86, [.. rising, Checked(81.1, CheckCode.SniffTest, CheckResult.Fail)]), Condition.Buildup)
            .ShouldBeGreaterThan(Black(coated, Condition.Buildup));
    }

    [Fact]
    public void A_level_that_falls_while_gray_rises_is_a_leaking_valve()
    {
        LogEntry[] log = [Stay(At(0), Hookup.Dry), new PeopleEntry { At = At(0.1), Count = 0 }, Looked(At(1), 0.6), Looked(At(1), 0.2, "gray"),
            Looked(At(3), 0.35), Looked(At(3), 0.45, "gray"), Looked(At(5), 0.1)];
        var report = Report(5.5, log);
        Black(report, Condition.ValveLeak).ShouldBeGreaterThan(0.5);
        report.Tanks[0].Conditions.First(c => c.Code == Condition.ValveLeak).Reasons.Select(r => r.Sign.Code).ShouldContain(SignCode.CrossFlow);
    }

    [Theory]
    [InlineData(OdorPlace.ToiletOnFlush, Smell.Sewage, OdorWhen.FanOn, OdorCause.FanDraw)]
    [InlineData(OdorPlace.Bathroom, Smell.RottenEgg, OdorWhen.HotDay, OdorCause.BlackAnaerobic)]
    [InlineData(OdorPlace.Shower, Smell.Sewage, OdorWhen.UnusedFixture, OdorCause.DryTrap)]
    [InlineData(OdorPlace.GalleySink, Smell.Rancid, OdorWhen.DrainingSink, OdorCause.GrayGreasy)]
    [InlineData(OdorPlace.StorageBay, Smell.Sewage, OdorWhen.HookedUp, OdorCause.HoseOrCap)]
    [InlineData(OdorPlace.Floor, Smell.Gas, OdorWhen.Always, OdorCause.Propane)]
    public void A_smell_told_as_the_craft_tells_it_has_its_cause_first(OdorPlace where, Smell smell, OdorWhen when, OdorCause cause)
    {
        var report = Report(22, [.. Healthy, Smelled(21.5, where, smell, when)]);
        report.Odors[0].Cause.ShouldBe(cause);
        report.Odors.Sum(o => o.Probability).ShouldBeLessThanOrEqualTo(1 + 1e-9);
        report.Odors.Select(o => o.Probability).ShouldBeInOrder(SortDirection.Descending);
        Report(40, [.. Healthy, Smelled(21.5, where, smell, when)]).Odors.ShouldBeEmpty("after two weeks nobody asks any more");
    }

    [Fact]
    public void Checks_turn_the_ranking_at_once_and_the_one_that_tells_most_comes_first()
    {
        LogEntry[] smell = [.. Healthy, Smelled(21.5, OdorPlace.Bathroom, Smell.Sewage, OdorWhen.Always)];
        var before = Report(22, smell);
        before.Checks[0].Code.ShouldBe(CauseCheckCode.BowlHoldsWater);
        before.Checks[0].Outcomes.Sum(o => o.Chance).ShouldBe(1, 1e-6);
        before.Checks.Select(c => c.Worth).ShouldBeInOrder(SortDirection.Descending);
        var after = Report(22, [.. smell, Checked(21.9, CheckCode.BowlHoldsWater, CheckResult.Pass)]);
        after.Odors.First(o => o.Cause == OdorCause.BowlSeal).Probability.ShouldBeLessThan(0.5 * before.Odors.First(o =>
            o.Cause == OdorCause.BowlSeal).Probability);
        after.Checks.ShouldNotContain(c => c.Code == CauseCheckCode.BowlHoldsWater, "it was just done");
        Report(22, [.. smell, Checked(21.9, CheckCode.BowlHoldsWater, CheckResult.Fail)]).Odors[0].Cause.ShouldBe(OdorCause.BowlSeal);
    }

    [Fact]
    public void An_open_valve_at_a_sewer_explains_a_smell_everywhere_and_without_a_sewer_it_cannot_be()
    {
        var open = Report(22, [.. Healthy, new ValveEntry { At = At(17), Tank = "gray", State = ValveState.Open },
            Smelled(21.5, OdorPlace.WholeRig, Smell.Sewage, OdorWhen.HookedUp)]);
        open.Odors[0].Cause.ShouldBe(OdorCause.ValveOpenToSewer);
        open.Courses.First(c => c.Odor is not null).Next.Action.ShouldBe(RemedyAction.CloseValve);
        Report(22, [.. Healthy, Stay(At(18), Hookup.Dry), Smelled(21.5, OdorPlace.WholeRig, Smell.Sewage)]).Odors.First(o =>
            o.Cause == OdorCause.ValveOpenToSewer).Probability.ShouldBeLessThan(0.1);
    }

    [Fact]
    public void The_ladder_goes_on_from_what_was_tried()
    {
        LogEntry[] heap = [.. Healthy, Noticed(20, SymptomCode.HeapSeen), Noticed(20.2, SymptomCode.BacksUpOnFlush)];
        var first = Report(20.5, heap).Courses.First(c => c.Condition == Condition.Heap);
        first.Next.ShouldSatisfyAllConditions(n => n.Number.ShouldBe(1), n => n.Action.ShouldBe(RemedyAction.SoapSoak));
        first.Rungs[0].Action.ShouldBe(RemedyAction.StopUsing);
        DoseEntry Dosed(double day, DoseRecipe recipe) => new() { At = At(day), Tank = "black", Recipe = recipe };
        Report(24, [.. heap, Dosed(20.6, DoseRecipe.SoapSoak), Dosed(21.6, DoseRecipe.SoapSoak), Noticed(22.5, SymptomCode.BacksUpOnFlush)]).Courses.First(c =>
            c.Condition == Condition.Heap).Next.Action.ShouldBe(RemedyAction.HoseJet);
        Report(26, [.. heap, Dosed(20.6, DoseRecipe.SoapSoak), Dosed(23.6, DoseRecipe.PaperDigester), Noticed(25.5, SymptomCode.HeapSeen)]).Courses.First(c =>
            c.Condition == Condition.Heap).Next.Action.ShouldBe(RemedyAction.ClogTube);
        var pump = Rig() with { Equipment = new Equipment { Macerator = true } };
        Report(pump, 20.5, heap).Courses.First(c => c.Condition == Condition.Heap).Rungs.ShouldNotContain(r => r.Action == RemedyAction.Reverse,
            "nothing goes back up through a macerator");
    }

    [Fact]
    public void While_a_propane_alarm_stands_there_is_one_thing_to_do_and_an_all_clear_covers_that_alarm_only()
    {
        LogEntry[] log = [.. Healthy, Smelled(21, OdorPlace.Floor, Smell.Gas), Noticed(21.1, SymptomCode.PropaneAlarm, null)];
        var alarm = Report(21.5, log);
        alarm.Checks.Single().Code.ShouldBe(CauseCheckCode.PropaneRuledOut);
        alarm.Courses[0].Next.Action.ShouldBe(RemedyAction.CallForHelp);
        var clear = Report(22, [.. log, Checked(21.6, CheckCode.PropaneRuledOut, CheckResult.Pass)]);
        clear.Alarm.ShouldBeFalse();
        clear.Odors[0].Cause.ShouldNotBe(OdorCause.Propane);
        Report(23, [.. log, Checked(21.6, CheckCode.PropaneRuledOut, CheckResult.Pass), Noticed(22.5, SymptomCode.PropaneAlarm, null)]).Alarm.ShouldBeTrue();
        Report(23, [.. log, Checked(21.6, CheckCode.PropaneRuledOut, CheckResult.Fail)]).Alarm.ShouldBeTrue();
    }

    [Fact]
    public void The_assessment_holds_every_condition_and_its_smells_sum_to_at_most_one()
    {
        var book = Book(Rig(), At(22), [.. Healthy, Noticed(20, SymptomCode.HeapSeen), Smelled(21, OdorPlace.Shower, Smell.Sewage, OdorWhen.UnusedFixture)]);
        using var json = JsonDocument.Parse(AssessmentFormat.Write(book, new JointEstimator(), DocumentWords.English));
        var root = json.RootElement;
        root.GetProperty("tanks").EnumerateArray().ShouldAllBe(t => t.GetProperty("conditions").GetArrayLength() == 6);
        root.GetProperty("odorCauses")[0].GetProperty("cause").GetString().ShouldBe("dry-trap");
        root.GetProperty("odorCauses").EnumerateArray().Sum(o => o.GetProperty("probability").GetDouble()).ShouldBeLessThanOrEqualTo(1.00001);
        root.GetProperty("remedies").EnumerateArray().Select(r => $"{r.GetProperty("for").GetString()} {r.GetProperty("action").GetString()}")
            .ShouldContain("heap soap-soak");
        root.GetProperty("remedies").EnumerateArray().Select(r => r.GetProperty("for").GetString()).ShouldContain("dry-trap");
        root.GetProperty("nextChecks").EnumerateArray().ShouldAllBe(c => c.GetProperty("why").GetString()!.Length > 10);
        using var sheet = JsonDocument.Parse(ServiceSheetFormat.Write(book, new JointEstimator().Estimate(book), DocumentWords.English));
        sheet.RootElement.GetProperty("history").EnumerateArray().Select(e => e.GetProperty("type").GetString()).ShouldContain("symptom");
    }

    [Fact]
    public void Contradictions_hundreds_of_smells_and_unknown_tanks_are_borne()
    {
        var everything = Enum.GetValues<SymptomCode>().Select((c, i) => (LogEntry)Noticed(20 + 0.01 * i, c, i % 3 == 0 ? null : i % 3 == 1 ? "black" : "gray"))
            .Concat(Enum.GetValues<CheckCode>()
            .SelectMany((c, i) => new LogEntry[] { Checked(21 + 0.01 * i, c, CheckResult.Fail), Checked(21.005 + 0.01 * i, c, CheckResult.Pass) }))
            .Concat(Enumerable.Range(0, 400)
            .Select(i => (LogEntry)Smelled(21.5 + 0.001 * i, (OdorPlace)(i % 9), (Smell)(i % 6), (OdorWhen)(i % 10)))).ToArray();
        var report = Report(22, [.. Healthy, .. everything]);
        report.Tanks.SelectMany(t => t.Conditions).ShouldAllBe(c => c.Probability > 0 && c.Probability < 1);
        report.Odors.Sum(o => o.Probability).ShouldBeInRange(0, 1.000001);
        Report(22, new DumpEntry { At = At(1), Tank = "gone" },
            new OdorEntry { At = At(21), Where = OdorPlace.Floor, Smell = Smell.Gas }).Odors.Count.ShouldBe(10);
    }

    [Fact]
    public void Every_sign_that_is_found_weighs_something_and_each_condition_has_signs_both_ways()
    {
        foreach (var condition in Enum.GetValues<Condition>())
        {
            SignTable.Lines.ShouldContain(l => l.Condition == condition && l.LogOdds > 2);
            SignTable.Prior(condition, true).ShouldBeInRange(0.005, 0.2);
        }
        Enum.GetValues<SignCode>().ShouldAllBe(c => SignTable.Lines.Any(l => l.Sign == c));
        SignTable.Lines.Select(l => (l.Sign, l.Condition)).ShouldBeUnique();
    }

    [Fact]
    public void Over_practice_cases_the_true_cause_is_mostly_first_and_healthy_rigs_are_left_alone()
    {
        Enum.GetNames<CrewIllness>().ShouldBe(Enum.GetNames<Condition>());
        Enum.GetNames<CrewSmell>().ShouldBe(Enum.GetNames<OdorCause>());
        int cases = 0, right = 0, smells = 0, named = 0, healthy = 0, alarms = 0;
        foreach (var one in TroubleCases.Many(66, 40_000_003))
        {
            var report = FaultReport.Compute(one.Logbook, new JointEstimator().Estimate(one.Logbook));
            if (one.Condition is { } condition)
            {
                cases++;
                if (report.Tanks.SelectMany(t => t.Conditions.Select(c => (t.Tank.Id, c))).MaxBy(x => x.c.Probability) is ("black", var best)
                    && best.Code == (Condition)condition) right++;
            }
            else if (one.Odor is { } odor)
            {
                smells++;
                if (report.Odors.Take(2).Any(o => o.Cause == (OdorCause)odor)) named++;
            }
            else
            {
                healthy++;
                if (report.Tanks.Any(t => t.Conditions.Any(c => c.Probability >= Conditions.Likely))) alarms++;
            }
        }
        (cases, smells, healthy).ShouldBe((18, 30, 18));
        right.ShouldBeGreaterThanOrEqualTo(14);
        named.ShouldBeGreaterThanOrEqualTo(26);
        alarms.ShouldBeLessThanOrEqualTo(2);
    }
}
