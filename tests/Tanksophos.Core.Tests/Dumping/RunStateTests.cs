using CsCheck;
using NodaTime;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;

namespace Tanksophos.Core.Tests.Dumping;

public class RunStateTests
{
    private static readonly DateTimeZone Zone = DateTimeZoneProviders.Tzdb["America/Denver"];

    private static Presser Full(RunSetting? setting = null, RunForm form = RunForm.Full) =>
        new(Runs.Script(setting ?? Runs.Setting() with { FlowLPerMin = 8, Leaving = true }, form));

    private static IReadOnlyList<LogEntry> Written(Presser run) => RunEntries.Build("run-x", run.State, Zone);

    [Fact]
    public void A_whole_run_becomes_the_entries_of_its_log_in_the_order_of_time()
    {
        var run = Full().To(RunStepKind.Judge).Press(RunPress.Again, ("end", "tinted"), ("debris", "paper")).To(RunStepKind.Sniff).Press(RunPress.Pass)
            .To(RunStepKind.Wash).Press(RunPress.Finish);
        run.State.Finished.ShouldBeTrue();
        var log = Written(run);
        log.Select(e => e.Type).ShouldBe(["check", "check", "dump", "flush", "dump", "check", "water", "dose", "dose"]);
        log.OfType<CheckEntry>().ElementAt(1).ShouldSatisfyAllConditions(c => c.Code.ShouldBe(CheckCode.HoseSound), c => c.Result.ShouldBe(CheckResult.Pass));
        log.Select(e => e.Id).ShouldBeUnique();
        log.Zip(log.Skip(1)).ShouldAllBe(p => p.First.Instant <= p.Second.Instant);
        log.OfType<DumpEntry>().First()
            .ShouldSatisfyAllConditions(d => d.Tank.ShouldBe("black"), d => d.Minutes!.Value.ShouldBe(122 / 60.0, 0.01), d => d.Flow.ShouldBe(DumpFlow.Rush));
        var flush = log.OfType<FlushEntry>().Single();
        flush.Method.ShouldBe(FlushMethod.BuiltIn);
        flush.Cycles.ShouldBe([new FlushCycle(62, null, EndColor.Tinted, Debris.Paper), new FlushCycle(62, null, EndColor.Clear, Debris.None)]);
        log.OfType<CheckEntry>().Last().ShouldSatisfyAllConditions(c => c.Code.ShouldBe(CheckCode.SniffTest), c => c.Result.ShouldBe(CheckResult.Pass));
        log.OfType<WaterEntry>().Single().WaterL.ShouldBe(15);
        log.OfType<DoseEntry>().First().Amount.ShouldBe("1 cup");
    }

    [Fact]
    public void What_was_not_done_is_not_written_and_a_run_that_was_broken_off_goes_on()
    {
        var run = Full().To(RunStepKind.Fill);
        run.Press(RunPress.CloseOn).Wait(40).Press(RunPress.BreakOff);
        run.State.BrokenOff.ShouldBeTrue();
        run.State.WaterOn.ShouldBeFalse("who breaks off turns the water off");
        var first = Written(run);
        first.Select(e => e.Type).ShouldBe(["check", "check", "dump", "flush"]);
        run.Press(RunPress.Done).Last.ShouldBe(TapFate.Stale);
        run.Press(RunPress.Resume).Last.ShouldBe(TapFate.Used);
        run.State.Step.Kind.ShouldBe(RunStepKind.Fill);
        run.Press(RunPress.Open).To(RunStepKind.Wash).Press(RunPress.Finish);
        var whole = Written(run);
        foreach (var entry in first) whole.ShouldContain(e => e.Id == entry.Id, "the same entry, not another");
        run.Press(RunPress.Resume).Last.ShouldBe(TapFate.Stale, "what is finished is finished");
    }

    [Fact]
    public void A_worn_hose_is_noted_in_the_run()
    {
        var run = Full().To(RunStepKind.SewerHose).Press(RunPress.Done, (RunEntries.Problem, "hose"));
        run.Press(RunPress.BreakOff);
        Written(run).OfType<CheckEntry>().Last()
            .ShouldSatisfyAllConditions(c => c.Code.ShouldBe(CheckCode.HoseSound), c => c.Result.ShouldBe(CheckResult.Fail));
    }

    [Fact]
    public void Nothing_is_written_of_a_run_in_which_nothing_was_done()
    {
        var run = Full().Press(RunPress.Done).Press(RunPress.Done).Press(RunPress.BreakOff);
        Written(run).ShouldBeEmpty();
        var skipped = Full();
        while (skipped.State.Step.Kind != RunStepKind.Wash) skipped.Press(RunPress.Skip);
        skipped.Press(RunPress.Finish);
        Written(skipped).ShouldBeEmpty();
    }

    [Fact]
    public void The_clock_of_a_fill_runs_only_while_water_runs_into_the_closed_tank()
    {
        var run = Full().To(RunStepKind.Fill);
        run.State.IsOpen("black").ShouldBeTrue();
        run.Press(RunPress.CloseOn).Wait(30);
        run.State.FilledSeconds(run.Now).ShouldBe(30, 0.01);
        run.Press(RunPress.WaterOff).Wait(100);
        run.State.FilledSeconds(run.Now).ShouldBe(32, 0.01, "off is off");
        run.Press(RunPress.WaterOn).Wait(10).Press(RunPress.Open);
        run.State.Record("fill-black", 1)!.FilledSeconds.ShouldBe(44, 0.01);
        run.State.FilledSeconds(run.Now).ShouldBe(0);
        run.State.WaterOn.ShouldBeTrue("the tap runs on; with the valve open nothing fills");
        // Closed with the water on: the next fill begins at that moment.
        run.Press(RunPress.Again, ("end", "dark")).Press(RunPress.CloseOn).Wait(20);
        run.State.FilledSeconds(run.Now).ShouldBe(20, 0.01);
    }

    [Fact]
    public void Water_can_be_turned_off_whatever_step_is_looked_at()
    {
        var run = Full().To(RunStepKind.Fill).Press(RunPress.CloseOn).Wait(20).Press(RunPress.Back);
        run.State.Step.Kind.ShouldBe(RunStepKind.Drain);
        run.State.Filling.ShouldBeTrue("looking back turns no tap");
        run.Press(RunPress.WaterOff).Last.ShouldBe(TapFate.Used);
        run.State.WaterOn.ShouldBeFalse();
        run.State.Record("fill-black", 1)!.FilledSeconds.ShouldBe(24, 0.01);
    }

    [Fact]
    public void Two_valves_never_stand_open_at_once()
    {
        var run = Full().To(RunStepKind.Judge);
        run.Press(RunPress.Jump, ("to", "drain-gray")).Press(RunPress.Open).Last.ShouldBe(TapFate.Blocked);
        run.State.IsOpen("gray").ShouldBeFalse();
        run.Press(RunPress.Jump, ("to", "close-black")).Press(RunPress.Closed);
        run.State.Step.Id.ShouldBe("drain-gray");
        run.Press(RunPress.Open).Last.ShouldBe(TapFate.Used);
        run.Press(RunPress.Jump, ("to", "drain-black")).Press(RunPress.Open).Last.ShouldBe(TapFate.Blocked);
    }

    [Theory]
    [InlineData(RunPress.Trickle)]
    [InlineData(RunPress.Nothing)]
    public void Into_a_tank_that_did_not_empty_nothing_more_goes(RunPress answer)
    {
        var run = Full().To(RunStepKind.Drain).Press(RunPress.Open).Wait(200).Press(answer);
        run.State.Step.Kind.ShouldBe(RunStepKind.Close, "no rinse");
        run.State.VerdictOf(run.Script.Rinses.Single()).ShouldBe(Verdict.NotEmptied);
        run.Press(RunPress.Jump, ("to", "fill-black")).Press(RunPress.CloseOn).Last.ShouldBe(TapFate.Blocked);
        run.Press(RunPress.Jump, ("to", "close-black")).To(RunStepKind.Wash);
        Written(run).Where(e => e.Tank == "black").Select(e => e.Type).ShouldBe(["dump"], "no rinse, no water, no dose");
        Written(run).OfType<CheckEntry>().ShouldNotContain(c => c.Code == CheckCode.SniffTest);
        Written(run).OfType<DumpEntry>().First().Flow.ShouldBe(answer == RunPress.Trickle ? DumpFlow.Trickle : DumpFlow.None);
        var poured = new Presser(Runs.Script(Runs.Setting() with { Water = TapWater.Unthreaded })).To(RunStepKind.Drain).Press(RunPress.Open).Press(answer);
        poured.Press(RunPress.Jump, ("to", "pour-black")).Press(RunPress.Poured, ("litres", "19")).Last.ShouldBe(TapFate.Blocked);
    }

    [Fact]
    public void After_a_slow_drain_less_may_go_in()
    {
        var run = Full().To(RunStepKind.Drain).Press(RunPress.Open).Wait(400).Press(RunPress.Steady); // far over the 220 s that this rig takes at most
        var fill = run.State.Step;
        run.State.LimitOf(fill).ShouldBe(fill.SuspectLimit);
        var usual = Full().To(RunStepKind.Fill);
        usual.State.LimitOf(usual.State.Step).ShouldBe(usual.State.Step.Limit);
    }

    [Fact]
    public void A_press_counts_once_and_one_from_a_step_that_is_past_not_at_all()
    {
        var run = Full();
        var tap = new RunEvent("same", run.Now, "gloves", 0, RunPress.Done, new Dictionary<string, string>());
        run.State.Apply(tap).ShouldBe(TapFate.Used);
        run.State.Apply(tap).ShouldBe(TapFate.Stale);
        run.State.Apply(tap with { Key = "other" }).ShouldBe(TapFate.Stale, "a double tap, or another phone's");
        run.State.Step.Kind.ShouldBe(RunStepKind.Fan);
        run.State.Apply(tap with { Key = "unknown", Step = "nowhere" }).ShouldBe(TapFate.Stale);
        run.State.Apply(tap with { Key = "not here", Step = "fan", Press = RunPress.CloseOn }).ShouldBe(TapFate.Stale);
    }

    [Fact]
    public void A_clock_that_was_set_back_takes_nothing_back()
    {
        var run = Full().To(RunStepKind.Fill).Press(RunPress.CloseOn);
        var at = run.Now;
        run.State.Apply(new RunEvent("late", at - Duration.FromHours(5), "fill-black", 1, RunPress.Open, new Dictionary<string, string>()))
            .ShouldBe(TapFate.Used);
        run.State.Record("fill-black", 1)!.FilledSeconds.ShouldBe(0);
        Written(run).ShouldAllBe(e => e.Instant >= Runs.Noon && e.Instant <= at);
    }

    [Fact]
    public void Going_back_and_forth_loses_nothing_and_one_more_cycle_after_gray_keeps_gray()
    {
        var run = Full().To(RunStepKind.Sniff);
        var before = Written(run).Count;
        for (var i = 0; i < 30; i++) run.Press(RunPress.Back);
        run.State.Position.ShouldBe(0);
        while (run.State.Step.Kind != RunStepKind.Sniff) run.Press(RunPress.Skip);
        Written(run).Count.ShouldBe(before);
        run.Press(RunPress.Jump, ("to", "judge-black")).Press(RunPress.Again, ("end", "tinted"));
        run.State.Round.ShouldBe(2);
        run.Press(RunPress.CloseOn).Wait(30).Press(RunPress.Open).Press(RunPress.Enough, ("end", "clear"));
        Written(run).OfType<DumpEntry>().Count().ShouldBe(2);
        Written(run).OfType<FlushEntry>().Single().Cycles.Count.ShouldBe(2);
        // Back over the second cycle goes through its steps.
        run.Press(RunPress.Back);
        (run.State.Step.Kind, run.State.Round).ShouldBe((RunStepKind.Judge, 2));
        run.Press(RunPress.Back).Press(RunPress.Back);
        (run.State.Step.Kind, run.State.Round).ShouldBe((RunStepKind.Judge, 1));
    }

    [Fact]
    public void Gray_floods_up_behind_the_closed_end_and_is_closed_before_it_opens()
    {
        var run = new Presser(Runs.Script(Runs.Setting(kit: Runs.Kit with { EndValve = true }) with { Method = FlushMethod.GrayBackfeed }))
            .To(RunStepKind.Flood);
        run.Press(RunPress.FloodOn).Last.ShouldBe(TapFate.Used);
        (run.State.EndClosed, run.State.IsOpen("gray"), run.State.IsOpen("black")).ShouldBe((true, true, true));
        run.Wait(8).Press(RunPress.EndOpen).Last.ShouldBe(TapFate.Blocked, "gray first");
        run.Press(RunPress.FloodOff).Press(RunPress.EndOpen).Last.ShouldBe(TapFate.Used);
        run.State.EndClosed.ShouldBeFalse();
        run.Press(RunPress.Enough, ("end", "clear")).To(RunStepKind.Wash);
        Written(run).OfType<FlushEntry>().Single()
            .ShouldSatisfyAllConditions(f => f.Method.ShouldBe(FlushMethod.GrayBackfeed), f => f.Cycles.Single().Seconds!.Value.ShouldBeInRange(8, 14));
    }

    [Fact]
    public void Poured_water_is_counted_and_when_none_is_left_one_more_is_not_asked_for()
    {
        var run = new Presser(Runs.Script(Runs.Setting() with { Water = TapWater.None, FreshL = 5 })).To(RunStepKind.Judge);
        var rinse = run.Script.Rinses.Single();
        run.State.LeftL(rinse).ShouldBe(5);
        run.Press(RunPress.Enough, ("end", "dark"), ("debris", "paper"));
        run.State.VerdictOf(rinse).ShouldBe(Verdict.NoWaterLeft);
        Written(run).OfType<FlushEntry>().Single().Cycles.Single().ShouldBe(new FlushCycle(null, 19, EndColor.Dark, Debris.Paper));
    }

    [Fact]
    public void Valves_that_stood_open_are_logged_closed_and_a_drip_is_a_symptom()
    {
        var setting = Runs.Setting();
        var open = setting with { Tanks = [setting.Tanks[0], setting.Tanks[1] with { Open = true }] };
        var run = new Presser(Runs.Script(open)).To(RunStepKind.Valves);
        run.State.Step.HoseOn.ShouldBeTrue("gray runs into it: no cap to take off");
        run.Press(RunPress.Done).To(RunStepKind.Drain);
        Written(run).Select(e => e.Type).ShouldBe(["valve", "check"], "the hose was looked over");
        run.State.IsOpen("gray").ShouldBeFalse();
        // It may stay open afterwards: that is an entry too.
        run.To(RunStepKind.Close).Press(RunPress.Closed).Press(RunPress.Open).Wait(60).Press(RunPress.LeaveOpen);
        Written(run).OfType<ValveEntry>().Last().ShouldSatisfyAllConditions(v => v.Tank.ShouldBe("gray"), v => v.State.ShouldBe(ValveState.Open));
    }

    [Fact]
    public void A_drip_at_the_cap_is_looked_into_and_no_water_is_added_over_it()
    {
        var setting = Runs.Setting();
        var low = setting with { Tanks = [setting.Tanks[0] with { Level = new LevelBand(20, 25, 30) }, setting.Tanks[1]] };
        var script = Runs.Script(low);
        script.Steps.ShouldContain(s => s.Kind == RunStepKind.TopUp);
        var careful = new Presser(script).To(RunStepKind.Valves).Press(RunPress.Drips);
        careful.State.Step.Kind.ShouldBe(RunStepKind.Valves, "which one, and does it stop?");
        Written(careful.Press(RunPress.Done)).Select(e => e.Type).ShouldBe(["check", "symptom"]);
        careful.State.Pointless(script.Steps.First(s => s.Kind == RunStepKind.TopUp)).ShouldBeTrue();
        var mended = new Presser(script).To(RunStepKind.Valves).Press(RunPress.Drips).Press(RunPress.Dry);
        mended.State.Pointless(script.Steps.First(s => s.Kind == RunStepKind.TopUp)).ShouldBeFalse();
        Written(mended).OfType<SymptomEntry>().Single().Note.ShouldNotBeNull();
    }

    [Fact]
    public void What_smells_is_rinsed_again_before_it_is_dosed()
    {
        var run = Full().To(RunStepKind.Sniff).Press(RunPress.Fail);
        run.State.Step.Kind.ShouldBe(RunStepKind.Sniff);
        var given = new Presser(run.Script).To(RunStepKind.Sniff).Press(RunPress.Fail).Press(RunPress.Done).To(RunStepKind.Wash);
        Written(given).ShouldNotContain(e => e is DoseEntry && e.Tank == "black");
        run.Press(RunPress.Again);
        (run.State.Step.Kind, run.State.Round).ShouldBe((RunStepKind.Fill, 2));
        run.Press(RunPress.CloseOn).Wait(30).Press(RunPress.Open).Press(RunPress.Enough, ("end", "clear")).Press(RunPress.Closed);
        run.State.Step.Kind.ShouldBe(RunStepKind.Sniff, "gray has gone already");
        run.Press(RunPress.Pass).To(RunStepKind.Wash);
        Written(run).ShouldContain(e => e is DoseEntry && e.Tank == "black");
        Written(run).OfType<FlushEntry>().Single().Cycles.Count.ShouldBe(2);
    }

    [Fact]
    public void From_below_the_gate_is_closed_and_the_tank_is_open()
    {
        var kit = Runs.Kit with { ReverseFlush = true };
        var script = Runs.Script(Runs.Setting(kit: kit) with { Method = FlushMethod.Reverse });
        var run = new Presser(script).To(RunStepKind.Fill);
        run.State.Step.BehindEnd.ShouldBeTrue();
        run.Press(RunPress.CloseOn).Wait(12);
        (run.State.IsOpen("black"), run.State.EndClosed, run.State.Filling).ShouldBe((true, true, true));
        run.Press(RunPress.Open);
        (run.State.IsOpen("black"), run.State.EndClosed, run.State.Filling).ShouldBe((true, false, false));
        run.State.Record("fill-black", 1)!.FilledSeconds.ShouldBeInRange(12, 16);
        run.Press(RunPress.WaterOff).Press(RunPress.Enough, ("end", "clear")).Press(RunPress.Closed);
        run.State.IsOpen("black").ShouldBeFalse();
    }

    [Fact]
    public void Small_fills_do_not_count_as_whole_rinses()
    {
        var dirty = Enumerable.Repeat(new FlushCycle(null, 4, EndColor.Dark, Debris.Paper), 5).ToList();
        Judging.Judge(dirty, 1, 5, null, 38).ShouldBe(Verdict.OneMore);
        Judging.Judge([.. dirty.Select(c => c with { WaterL = 30 })], 1, 5, null, 38).ShouldBe(Verdict.StopAndScrub);
        Judging.Judge([.. dirty.Select(c => c with { WaterL = null })], 1, 5, null, 38).ShouldBe(Verdict.StopAndScrub);
    }

    [Fact]
    public void The_Full_lamp_under_the_meter_is_learned_from()
    {
        var run = new Presser(Runs.Script(Runs.Setting(kit: Runs.Kit with { WaterMeter = true }) with { School = RinseSchool.WatchedFills }))
            .To(RunStepKind.Fill);
        run.Press(RunPress.CloseOn).Wait(600).Press(RunPress.Open, ("litres", "131.5"), ("full", "low top")).Press(RunPress.Enough, ("end", "clear"));
        var log = Written(run);
        var tank = Runs.Rig().Tanks[0];
        RunHistory.MeteredFullL(log, tank)!.Value.ShouldBe(133, 0.05);
        new JointEstimator().Estimate(new Logbook(Runs.Rig(), log))[tank.Id].Capacity!.UsedL.ShouldBe(145, 0.05);
        log.OfType<WaterEntry>().Single().ShouldSatisfyAllConditions(w => w.Purpose.ShouldBe(WaterPurpose.Other), w => w.WaterL.ShouldBe(131.5));
        log.OfType<FlushEntry>().Single().Cycles.Single().WaterL.ShouldBe(131.5);
        log.OfType<FlushEntry>().Single().Instant.ShouldBeGreaterThan(log.OfType<ReadingEntry>().First().Instant, "it is drained after that");
    }

    // Whatever is pressed in whatever order: the laws hold, and the same presses give the same log.
    [Fact]
    public void No_presses_break_the_laws()
    {
        var presses = Enum.GetValues<RunPress>();
        var scripts = new[]
        {
            Runs.Script(Runs.Setting() with { FlowLPerMin = 8 }), Runs.Script(Runs.Setting(black: 40) with { Water = TapWater.Unthreaded }),
            Runs.Script(Runs.Setting(kit: Runs.Kit with { EndValve = true }) with { Method = FlushMethod.GrayBackfeed }),
                Runs.Script(Runs.Setting(kit: Runs.Kit with { WaterMeter = true }) with { School = RinseSchool.OpenRinse }, RunForm.EndOfTrip),
        };
        Gen.Select(Gen.Int[0, scripts.Length - 1], Gen.Select(Gen.Int[0, 200], Gen.Int[-5, 90], Gen.Int[0, 12]).Array[1, 80]).Sample((which, keys) =>
        {
            var script = scripts[which];
            var run = new Presser(script);
            foreach (var (key, seconds, how) in keys)
            {
                if (run.State.EndedAt is not null && how < 9) run.Press(RunPress.Resume);
                var own = run.State.Step.Presses;
                var press = how < 9 ? own[key % own.Count] : presses[key % presses.Length];
                if (press is RunPress.BreakOff or RunPress.Finish && how != 12) continue;
                run.Wait(seconds).Press(press, ("end", key % 2 == 0 ? "clear" : "dark"),
                    ("litres", (key % 30).ToString(System.Globalization.CultureInfo.InvariantCulture)), ("to", script.Steps[key % script.Steps.Count].Id));
                (run.State.IsOpen("black") && run.State.IsOpen("gray") && !run.State.EndClosed).ShouldBeFalse("both open");
                if (run.State.Filling) run.State.IsOpen(run.State.WaterInto!).ShouldBeFalse();
                run.State.Round.ShouldBe(run.State.Step.Loop is null ? 0 : Math.Max(1, run.State.Round));
            }
            var log = Written(run);
            log.Select(e => e.Id).ShouldBeUnique();
            log.Zip(log.Skip(1)).ShouldAllBe(p => p.First.Instant <= p.Second.Instant);
            log.OfType<DumpEntry>().GroupBy(d => d.Tank).ShouldAllBe(g => g.Count() == 1);
            if (log.OfType<FlushEntry>().Any()) log.OfType<FlushEntry>().Count().ShouldBe(1);
            RunEntries.Build("run-x", RunState.Replay(script, run.Taps), Zone).Select(e => e.ToString()).ShouldBe(log.Select(e => e.ToString()));
        }, iter: 600);
    }
}
