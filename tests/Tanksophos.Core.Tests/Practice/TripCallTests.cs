using NodaTime;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Practice;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Trips;

namespace Tanksophos.Core.Tests.Practice;

/// <summary>The call at a glance says of plain cases what the planner says.</summary>
public class TripCallTests
{
    // What the planner does before a stretch without a sewer, or during it, from the levels that are really there.
    private static CaseAnswer Planned(PracticeCase @case, int people)
    {
        var now = @case.Logbook.AsOf!.Value;
        var zone = DateTimeZone.ForOffset(now.Offset);
        var leaving = @case.Question == CaseQuestion.Leaving;
        OffsetDateTime At(int day, int hour) => (now.Date.PlusDays(day) + new LocalTime(hour, 0)).WithOffset(now.Offset);
        var rig = @case.Logbook.Rig with { People = people };
        Stop[] stops = leaving
            ? [new("here", "Here", zone, now, At(1, 9), StopHookup.Full, people),
                new("dry", "Dry", zone, At(1, 14), At(1 + @case.Nights, 9), StopHookup.Dry, people),
                new("next", "Next", zone, At(1 + @case.Nights, 13), At(3 + @case.Nights, 9), StopHookup.Full, people)]
            : [new("here", "Here", zone, now, At(@case.Nights, 9), StopHookup.Dry, people),
                new("next", "Next", zone, At(@case.Nights, 13), At(2 + @case.Nights, 9), StopHookup.Full, people)];
        var levels = @case.Truth.LevelsL.ToDictionary(l => l.Key, l => new LevelBand(0.97 * l.Value, l.Value, 1.03 * l.Value));
        var plan = Planner.Make(new Trip(rig, HouseRules.Default, new TripStart(now, levels, false, 300, 3), stops));
        if (!leaving) return plan.Feasible && plan.Actions.All(a => a.Stop != "here" || a.Kind != PlanActionKind.Divert) ? CaseAnswer.CarryOn
            : plan.Feasible ? CaseAnswer.Divert : CaseAnswer.LeaveEarly;
        var here = plan.Actions.Where(a => a.Stop == "here").ToList();
        return here.Any(a => a is { Kind: PlanActionKind.TopUp, Tank: "black" }) ? CaseAnswer.TopUpThenDump
            : here.Any(a => a is { Kind: PlanActionKind.Dump, Tank: "black" }) ? CaseAnswer.DumpNow : CaseAnswer.GrayOnly;
    }

    [Fact]
    public void The_planner_mostly_does_what_the_call_says()
    {
        var cases = Enumerable.Range(0, 60).Select(i => CaseMaker.Make(4000 + i, PracticeTopic.Planning, 1 + i % 2)).ToList();
        var said = cases.AsParallel().Select(c => (Call: c.Truth.Answer, Plan: Planned(c, c.Logbook.Rig.People))).ToList();
        var same = said.Count(s => s.Call == s.Plan);
        same.ShouldBeGreaterThanOrEqualTo(50, string.Join(" ", said.GroupBy(s => s).Select(g => $"{g.Key.Call}/{g.Key.Plan}:{g.Count()}")));
    }
}
