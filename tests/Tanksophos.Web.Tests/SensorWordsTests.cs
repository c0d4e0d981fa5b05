using NodaTime;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Simulation;
using Tanksophos.Words;

namespace Tanksophos.Web.Tests;

public class SensorWordsTests
{
    private static readonly OffsetDateTime Now = App.Start.WithOffset(Offset.FromHours(-6));

    private static readonly SensorWords Words = new(Units.Us, new TimeWords(App.Start, DateTimeZone.ForOffset(Offset.FromHours(-6))));

    private static (SensorReport Report, LevelBelief Belief) Demo()
    {
        var log = DemoSeason.Until(App.Start) with { AsOf = Now };
        var belief = new JointEstimator().Estimate(log);
        return (SensorReport.Compute(log, belief), belief);
    }

    [Fact]
    public void A_stuck_lamp_is_explained_by_what_a_clean_tank_would_have_held()
    {
        var low = Demo().Report.Tanks[0].Findings[0];

        SensorWords.Verdict(low).ShouldBe("stuck on");
        Words.Reason(low).ShouldMatch(@"^On \d+ hours after each of the last \d dumps, when a clean tank holds about \d+ gal\. Began ");
        Words.Evidence(low.Evidence[0]).ShouldMatch(@"^on .+ after it was emptied, with \d+(\.\d)? gal expected$");
        SensorWords.Weight(low.Evidence[0] with { Weight = 1 }).ShouldBe("some evidence");
        SensorWords.Weight(low.Evidence[0] with { Weight = -1 }).ShouldBe("against it");
        SensorWords.Weight(low.Evidence[0] with { Weight = 9 }).ShouldBe("strong evidence");
    }

    [Fact]
    public void A_lamp_that_has_not_yet_had_to_light_says_so()
    {
        var top = Demo().Report.Tanks[0].Findings[2];
        Words.Reason(top).ShouldContain("Not tested near this level yet.");
        Words.Reason(top with { Probability = 0.6 }).ShouldEndWith("Not enough readings yet to be sure.");
        SensorWords.Verdict(top with { Probability = 0.6 }).ShouldBe("probably works");
        Words.Reason(top with { Readings = 0 }).ShouldContain("No readings");
    }

    [Theory]
    [InlineData(NextCheckCode.PanelTomorrow, "black", null)]
    [InlineData(NextCheckCode.Flashlight, "black", "Sewer gas")]
    [InlineData(NextCheckCode.Flashlight, "bath", null)]
    [InlineData(NextCheckCode.BatteryOk, null, "Get help")]
    [InlineData(NextCheckCode.HardFlushThenPanel, "black", "Never leave a closed tank while it fills")]
    [InlineData(NextCheckCode.MeteredFill, "black", "out the roof vent")]
    [InlineData(NextCheckCode.WiringOk, "black", "12 V off first")]
    public void Every_check_says_how_long_it_takes_and_carries_its_caution(NextCheckCode code, string? tank, string? caution)
    {
        var check = new NextCheck(code, tank, tank is null ? null : "1/3", 0.5, 0.4,
            [new(CheckOutcome.Lit, 0.4, ProbeVerdict.StuckOn, 0.97), new(CheckOutcome.Dark, 0.6, ProbeVerdict.Working, 0.9)])
        { FillL = 20 };
        var text = Words.Check(check, Demo().Belief);

        text.Title.ShouldNotBeNullOrWhiteSpace();
        text.How.ShouldMatch("[Mm]inute|hour");
        if (caution is null) text.Caution.ShouldBeNull();
        else text.Caution!.ShouldContain(caution);
        text.Outcomes.ShouldContain("If 1/3 on: stuck on, 97 %.".Replace("1/3", tank is null ? "" : "1/3", StringComparison.Ordinal));
    }

    [Fact]
    public void Every_rung_has_words_and_those_that_can_hurt_a_caution()
    {
        foreach (var rung in Enum.GetValues<SensorRung>())
        {
            var text = SensorWords.Rung(rung);
            text.Title.ShouldNotBeNullOrWhiteSpace();
            text.How.ShouldNotBeNullOrWhiteSpace();
            if (rung > SensorRung.HardFlush) text.Caution.ShouldNotBeNullOrWhiteSpace();
        }
    }

    [Fact]
    public void What_does_not_fit_is_told_as_a_question_with_its_figures()
    {
        var words = new MendWords(Units.Us, new TimeWords(Now.ToInstant(), DateTimeZone.Utc, TimeStyle.Us), DemoSeason.Rig);
        foreach (var kind in Enum.GetValues<InconsistencyKind>())
        {
            var doubt = new LogDoubt(new LogInconsistency(Now, kind, 80, 10)
            {
                From = Now - Duration.FromHours(14),
                Probe = DemoSeason.Rig.Tanks[0].Monitor.Probes[0]
            },
                DemoSeason.Rig.Tanks[0], ["a"], kind == InconsistencyKind.UnloggedEmptying ? [new DumpEntry { At = Now, Tank = "black" }] : []);
            words.Question([doubt]).ShouldEndWith("?");
            words.Reason(doubt).ShouldNotBeNullOrWhiteSpace();
            var proposes = kind is InconsistencyKind.UnloggedEmptying or InconsistencyKind.WrongLamp;
            (words.Yes(doubt) is not null).ShouldBe(proposes, Codes<InconsistencyKind>.Word(kind));
            MendWords.No(doubt).ShouldNotBeNullOrWhiteSpace();
            if (kind is InconsistencyKind.UnloggedEmptying or InconsistencyKind.SeenOtherwise) words.Reason(doubt).ShouldContain("21 gal");
        }
    }

    [Fact]
    public void A_recovery_names_what_was_done_and_what_helped()
    {
        var words = Words.CameBack(new Recovery("black", "1/3", Now, SensorRung.TravelScrub,
            [new(SensorRung.HardFlush, 1, 1), new(SensorRung.TravelScrub, 3, 5)]), DemoSeason.Rig);
        words.ShouldBe("Black 1/3 came back today, after flushing, 3 travel scrubs. What helped last: travel scrub on 4 to 6 dumps in a row.");
        Words.CameBack(new Recovery("black", "Full", Now, null, []), DemoSeason.Rig).ShouldBe("Black Full came back today, by itself.");
    }

    [Fact]
    public void A_tank_without_a_monitor_has_a_page_of_its_own()
    {
        var rig = DemoSeason.Rig with { Tanks = [DemoSeason.Rig.Tanks[0] with { Monitor = TankMonitor.None }] };
        var log = new Logbook(rig, [new DumpEntry { At = Now.Minus(Duration.FromDays(9)), Tank = "black" }], Now);
        var report = SensorReport.Compute(log, new JointEstimator().Estimate(log));

        report.Tanks[0].Findings.ShouldBeEmpty();
        Words.Check(report.NextChecks.ShouldHaveSingleItem(), new JointEstimator().Estimate(log)).Title.ShouldBe("Look down the toilet with a flashlight");
    }
}
