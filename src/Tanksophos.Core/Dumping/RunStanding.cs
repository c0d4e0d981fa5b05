using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Dumping;

/// <summary>How valves and water stand while a step of a run is being done as it is meant to be done.</summary>
/// <param name="Open">Ids of the tanks whose valves are open.</param>
/// <param name="EndClosed">Whether the valve at the end of the outlet, or the gate of the reverse fitting, is closed.</param>
/// <param name="WaterOn">Whether water runs into a tank: through head, wand, fitting, jug or pedal.</param>
internal sealed record RunStanding(IReadOnlySet<string> Open, bool EndClosed, bool WaterOn)
{
    /// <summary>The standing of each step of a run, in order.</summary>
    /// <param name="script">The run.</param>
    public static IReadOnlyList<RunStanding> Of(RunScript script)
    {
        ArgumentNullException.ThrowIfNull(script);
        var open = script.Tanks.Where(t => t.Open).Select(t => t.Id).ToHashSet(StringComparer.Ordinal);
        var all = new List<RunStanding>();
        foreach (var step in script.Steps)
        {
            var tank = step.Tank;
            var water = false;
            var end = false;
            switch (step.Kind)
            {
                case RunStepKind.Valves:
                    open.Clear();
                    break;
                case RunStepKind.Drain or RunStepKind.Judge:
                    open.Add(tank!);
                    break;
                case RunStepKind.OpenRinse:
                    (_, water) = (open.Add(tank!), true);
                    break;
                case RunStepKind.Fill when step.BehindEnd:
                    (_, water, end) = (open.Add(tank!), true, true);
                    break;
                case RunStepKind.TopUp or RunStepKind.Fill or RunStepKind.Pour or RunStepKind.Starter:
                    (_, water) = (open.Remove(tank!), true);
                    break;
                case RunStepKind.Flood:
                    (_, end) = (open.Add(tank!), true);
                    open.Add(script.Floods!);
                    break;
                case RunStepKind.Close:
                    open.Remove(tank!);
                    break;
            }
            all.Add(new RunStanding(open.ToHashSet(StringComparer.Ordinal), end, water));
            // Gray is closed again, or stays open where that is the rule; what flooded is closed before the end opens.
            if (step.Kind == RunStepKind.Drain && script.Tanks.First(t => t.Id == tank).Role == TankRole.Gray && !step.Presses.Contains(RunPress.LeaveOpen))
                open.Remove(tank!);
            if (step.Kind == RunStepKind.Flood) open.Remove(script.Floods!);
        }
        return all;
    }
}
