using NodaTime;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Outlook;
using Tanksophos.Core.Rigs;
using static Tanksophos.Core.Tests.Given;

namespace Tanksophos.Core.Tests.Outlook;

public class AdviceTests
{
    private static Advice Advise(Rig rig, OffsetDateTime asOf, params LogEntry[] entries)
    {
        var log = Book(rig, asOf, entries);
        return Advice.For(log, new JointEstimator().Estimate(log));
    }

    private static LogEntry[] Started(OffsetDateTime at, Hookup hookup) =>
        [Stay(at, hookup), Dump(at), Dump(at, "gray"), new WaterEntry { At = at, Tank = "black", WaterL = 16, Purpose = WaterPurpose.Starter },
            new DoseEntry { At = at, Tank = "black", Recipe = DoseRecipe.Enzyme }];

    private static ValveEntry Gray(OffsetDateTime at, ValveState state) => new() { At = at, Tank = "gray", State = state };

    [Fact]
    public void At_a_sewer_black_is_dumped_when_it_reaches_the_level_and_never_at_night()
    {
        for (var hour = 0; hour < 24; hour += 3)
        {
            var advice = Advise(Rig(), At(3, hour), Started(At(0, hour / 2), Hookup.Full));
            var dump = advice.Steps.Single(s => s.Code == StepCode.DumpBlack);

            SensibleHours.Holds(dump.Due!.Value, advice.Circumstances.Zone).ShouldBeTrue();
            dump.Due.Value.ShouldBeGreaterThanOrEqualTo(advice["black"].DumpExpected!.Value - Duration.FromHours(11));
            advice.Steps.ShouldNotContain(s => s.Code == StepCode.FindSewer);
        }
    }

    [Fact]
    public void Without_a_sewer_one_has_to_be_found_before_black_could_be_full_to_the_top()
    {
        var advice = Advise(Rig(), At(3), Started(At(0), Hookup.Dry));
        var find = advice.Steps.Single(s => s.Code == StepCode.FindSewer);

        find.Due!.Value.ShouldBeLessThanOrEqualTo(At(0).ToInstant() + Duration.FromDays(10));
        advice.Steps.ShouldNotContain(s => s.Code == StepCode.DumpBlack);
        advice.Steps.ShouldContain(s => s.Code == StepCode.FindGrayDrain);
    }

    [Fact]
    public void The_maximum_of_days_calls_for_a_top_up_when_the_level_is_not_reached()
    {
        var step = Advise(Rig(people: 1), At(8), Started(At(0), Hookup.Full)).Steps.Single(s => s.Code == StepCode.TopUpAndDump);

        step.Due.ShouldBe(At(10).ToInstant());
        step.WaterL!.Value.ShouldBe(0.66 * BlackL - step.Fraction!.Value * BlackL, 0.5);
    }

    [Fact]
    public void An_open_black_is_said_first_and_nothing_else_is_said_of_black()
    {
        var steps = Advise(Rig(), At(2), [.. Started(At(0), Hookup.Full), new ValveEntry { At = At(1), Tank = "black", State = ValveState.Open }]).Steps;

        steps[0].Code.ShouldBe(StepCode.CloseBlack);
        steps.Count(s => s.Tank == "black").ShouldBe(1);
    }

    [Fact]
    public void A_propane_alarm_comes_before_everything()
    {
        var steps = Advise(Rig(), At(2),
            [.. Started(At(0), Hookup.Full), new ValveEntry { At = At(1), Tank = "black", State = ValveState.Open },
            new SymptomEntry { At = At(2), Code = SymptomCode.PropaneAlarm }]).Steps;

        steps[0].Code.ShouldBe(StepCode.PropaneAlarm);
    }

    [Fact]
    public void Gray_is_closed_early_enough_that_thrifty_days_bank_the_rinse_and_late_enough_that_busy_ones_do_not_fill_it()
    {
        LogEntry[] log = [.. Started(At(0), Hookup.Full), Gray(At(0, 1), ValveState.Open)];
        var asOf = At(2);
        var advice = Advise(Rig(), asOf, log);
        var close = advice.Steps.Single(s => s.Code == StepCode.CloseGray);
        var dump = advice.Steps.Single(s => s.Code == StepCode.DumpBlack).Due!.Value;
        var gray = new JointEstimator().Estimate(Book(Rig(), asOf, log))["gray"];

        close.Due!.Value.ShouldBeLessThan(dump);
        SensibleHours.Holds(close.Due.Value, advice.Circumstances.Zone).ShouldBeTrue();
        gray.Forecast.EmptiedAt(close.Due.Value).ChanceOf(189.3, dump).ShouldBeLessThan(0.08);
        gray.Forecast.EmptiedAt(close.Due.Value).At(dump).P50L.ShouldBeGreaterThan(0.4 * 189.3);
    }

    [Fact]
    public void Gray_comes_before_black_when_both_are_due_now()
    {
        var steps = Advise(Rig(), At(9, 4), [.. Started(At(0), Hookup.Full), Gray(At(0, 1), ValveState.Open), Looked(At(9, 4), 0.75)]).Steps;

        steps.Select(s => s.Code).Take(2).ShouldBe([StepCode.CloseGray, StepCode.DumpBlack]);
    }

    [Theory]
    [InlineData(GrayAtFullHookup.Bank, true)]
    [InlineData(GrayAtFullHookup.Open, true)]
    [InlineData(GrayAtFullHookup.Batch, false)]
    public void A_closed_gray_at_a_sewer_is_opened_by_the_schools_that_do(GrayAtFullHookup school, bool opened)
    {
        var rig = Rig() with { Rules = new HouseRules { GrayAtFullHookup = school } };
        var steps = Advise(rig, At(1), Started(At(0), Hookup.Full)).Steps;

        steps.Any(s => s.Code == StepCode.OpenGray).ShouldBe(opened);
        steps.Any(s => s.Code == StepCode.DumpGray).ShouldBe(!opened);
    }

    [Fact]
    public void Starter_water_and_dose_are_due_until_they_are_logged()
    {
        var bare = Advise(Rig(), At(0, 1), Stay(At(0), Hookup.Full), Dump(At(0))).Steps;
        bare.Single(s => s.Code == StepCode.StarterWater).WaterL!.Value.ShouldBe(0.1 * BlackL, 0.01);
        bare.ShouldContain(s => s.Code == StepCode.Dose);

        var done = Advise(Rig(), At(0, 1), Started(At(0), Hookup.Full)).Steps;
        done.ShouldNotContain(s => s.Code == StepCode.StarterWater);
        done.ShouldNotContain(s => s.Code == StepCode.Dose && s.Due == At(0, 1).ToInstant());

        var waterOnly = Rig() with { Rules = new HouseRules { Treatment = TreatmentSchool.WaterOnly } };
        Advise(waterOnly, At(0, 1), Stay(At(0), Hookup.Full), Dump(At(0))).Steps.ShouldNotContain(s => s.Code == StepCode.Dose);
    }

    [Fact]
    public void A_lying_lamp_a_missing_place_and_a_long_silence_are_said()
    {
        Advise(Rig(), At(2), Dump(At(0)), Lamps(At(1), "low"), Lamps(At(1, 8), "low"), Lamps(At(1, 14), "low")).Steps.ShouldContain(s =>
            s.Code == StepCode.CheckLamp && s.Probe == "1/3");
        Advise(Rig(), At(2), Dump(At(0))).Steps.ShouldContain(s => s.Code == StepCode.SayWhere);
        Advise(Rig(), At(20), Dump(At(0))).Steps[0].Code.ShouldBe(StepCode.CatchUp);
        Advise(Rig(), At(20), Stay(At(0), Hookup.Storage)).Steps.ShouldNotContain(s => s.Code == StepCode.CatchUp);
    }

    [Fact]
    public void With_nobody_aboard_nothing_fills()
    {
        var advice = Advise(Rig(), At(2), [.. Started(At(0), Hookup.Full), new PeopleEntry { At = At(0), Count = 0 }]);

        advice["black"].DumpExpected.ShouldBeNull();
        advice["gray"].FullCautious.ShouldBeNull();
    }

    [Fact]
    public void An_almost_full_tank_without_a_drain_stops_all_inflow()
    {
        var steps = Advise(Rig(people: 4), At(9), [.. Started(At(0), Hookup.Dry), Looked(At(8), 0.9), Looked(At(9), 0.98)]).Steps;

        steps[0].Code.ShouldBe(StepCode.StopFilling);
        steps[0].Urgent.ShouldBeTrue();
    }
}
