using NodaTime;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Simulation;

namespace Tanksophos.Core.Tests.Dumping;

/// <summary>How a run is looked back at, and what is learned of its time.</summary>
public class RunReviewTests
{
    private static readonly Instant Noon = Instant.FromUtc(2026, 6, 1, 18, 0);

    private static LogEntry[] Rinses(params int[] cycles) => [.. cycles.Select((n, i) => (LogEntry)new FlushEntry
    {
        At = (Noon - Duration.FromDays(60 - 5 * i)).WithOffset(Offset.Zero),
        Tank = "black",
        Method = FlushMethod.BuiltIn,
        Cycles = [.. Enumerable.Range(1, n).Select(c => new FlushCycle(60, null, c == n ? EndColor.Clear : EndColor.Dark, Debris.None))],
    })];

    private static RunReview Play(IReadOnlyList<LogEntry> before, int rinses, EndColor end, int drainSeconds, RunPress flow)
    {
        var rig = DemoSeason.Rig;
        var setting = new RunSetting
        {
            Rig = rig,
            Place = RunPlace.Sewer,
            FlowLPerMin = 8,
            Tanks = [.. rig.Tanks.Select(t => new RunTank(t, new LevelBand(60, 70, 80), new LevelBand(0, 1, 3), false) { Usual = new UsualDrain(90, 140, 4) })],
        };
        var script = RunBuilder.Offer(setting, RunForm.BlackOnly).Script!;
        var state = RunState.Replay(script, []);
        var at = Noon;
        var n = 0;
        void Press(RunPress press, int seconds = 5, params (string, string)[] said)
        {
            at += Duration.FromSeconds(seconds);
            state.Apply(new RunEvent($"k{n++}", at, state.Step.Id, state.Round, press, said.ToDictionary(s => s.Item1, s => s.Item2))).ShouldBe(TapFate.Used);
        }
        while (state.Step.Kind != RunStepKind.Drain) Press(state.Step.Presses.Contains(RunPress.Dry) ? RunPress.Dry : RunPress.Done);
        Press(RunPress.Open);
        Press(flow, drainSeconds);
        for (var r = 1; state.Step.Kind == RunStepKind.Fill; r++)
        {
            Press(RunPress.CloseOn);
            Press(RunPress.Open, 60);
            Press(r < rinses ? RunPress.Again : RunPress.Enough, 5, ("end", Codes<EndColor>.Word(r < rinses ? EndColor.Dark : end)), ("debris", "none"));
        }
        while (state.EndedAt is null)
            Press(state.Step.Presses.First(p => p is RunPress.Closed or RunPress.Pass or RunPress.In or RunPress.Finish or RunPress.Done));
        return RunReview.Of(state, RunEntries.Build("r", state, DateTimeZone.Utc, rig), before, rig);
    }

    [Fact]
    public void A_run_as_usual_is_said_to_be_as_usual()
    {
        var review = Play(Rinses(2, 2, 2, 2), 2, EndColor.Clear, 90, RunPress.Rush);
        var black = review.Tanks.ShouldHaveSingleItem();
        (black.Slow, black.ManyCycles, black.EndedClear, black.Cycles.Count).ShouldBe((false, false, true, 2));
        review.RinseL.ShouldBe(2 * 8, 0.5); // two fills of a minute
        review.Sniff.ShouldBe(CheckResult.Pass);
        review.Minutes.ShouldBeInRange(3, 10);
    }

    [Theory]
    [InlineData(6, EndColor.Clear, 90, RunPress.Rush, false, true)]
    [InlineData(5, EndColor.Dark, 90, RunPress.Rush, false, true)]
    [InlineData(2, EndColor.Clear, 200, RunPress.Steady, true, false)]
    [InlineData(2, EndColor.Clear, 90, RunPress.Slow, true, false)]
    [InlineData(0, EndColor.Clear, 90, RunPress.Trickle, true, false)]
    public void What_is_out_of_the_ordinary_is_noticed(int rinses, EndColor end, int drain, RunPress flow, bool slow, bool many)
    {
        var black = Play(Rinses(2, 2, 2, 2), rinses, end, drain, flow).Tanks.ShouldHaveSingleItem();
        (black.Slow, black.ManyCycles).ShouldBe((slow, many));
        if (flow == RunPress.Trickle) black.Cycles.ShouldBeEmpty();
    }

    [Fact]
    public void The_pace_is_learned_from_runs_of_the_same_form_and_a_forgotten_phone_teaches_nothing()
    {
        RunPace.Learn([], RunForm.Full).ShouldBe((1, 0));
        RunPace.Learn([new(RunForm.Quick, 10, 20), new(RunForm.Full, 30, 600), new(RunForm.Full, 30, 1)], RunForm.Full).ShouldBe((1, 0));
        var slow = Enumerable.Repeat(new RunTime(RunForm.Full, 30, 60), 8).ToList();
        var (factor, runs) = RunPace.Learn(slow, RunForm.Full);
        runs.ShouldBe(8);
        factor.ShouldBeInRange(1.6, 1.99);
        RunPace.Learn([.. slow, .. Enumerable.Repeat(new RunTime(RunForm.Full, 30, 30), 10)], RunForm.Full).Factor.ShouldBe(1, 0.001);
    }
}
