using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Dumping;

/// <summary>How one tank's part of a run went, against what the rig's log had until then.</summary>
/// <param name="Tank">The tank.</param>
/// <param name="Dump">Its dump.</param>
/// <param name="UsualSeconds">What its drain usually takes from there; null where that was not known.</param>
/// <param name="SlowSeconds">Slower than this is out of the ordinary for this rig.</param>
/// <param name="Cycles">Its rinse cycles.</param>
/// <param name="UsualCycles">Cycles until clear to be expected before the run, and the rinses that rests on; null without a rinse.</param>
/// <param name="Trend">Whether cycles to clear rise, this run included; null for too few.</param>
public sealed record TankReview(Tank Tank, DumpEntry Dump, double? UsualSeconds, double? SlowSeconds, IReadOnlyList<FlushCycle> Cycles,
    CyclesToClear? UsualCycles, CyclesTrend? Trend)
{
    /// <summary>Whether the last cycle ended clear.</summary>
    public bool EndedClear => Cycles.Count > 0 && Judging.IsClean(Cycles[^1]);

    /// <summary>Whether it drained slower than it does, or not at all.</summary>
    public bool Slow => Dump.Flow is DumpFlow.Slow or DumpFlow.Trickle or DumpFlow.None || Dump.Minutes * 60 > SlowSeconds;

    /// <summary>Whether it took two cycles more than expected, or stayed dirty.</summary>
    public bool ManyCycles => UsualCycles is { } usual && Cycles.Count > 0 && Cycles.Any(c => c.End is not null)
        && (Cycles.Count >= usual.Further[0] + 2 || !EndedClear && Cycles.Count > usual.Further[0]);
}

/// <summary>How a run went.</summary>
/// <param name="Minutes">Minutes from the first press to the last.</param>
/// <param name="Tanks">The tanks that went, in order.</param>
/// <param name="RinseL">Litres of rinse water, counted where they were and else from time and flow.</param>
/// <param name="Sniff">The sniff test; null if it was not done.</param>
public sealed record RunReview(double Minutes, IReadOnlyList<TankReview> Tanks, double RinseL, CheckResult? Sniff)
{
    /// <summary>Looks back at a run that ended.</summary>
    /// <param name="state">The run.</param>
    /// <param name="written">Its entries.</param>
    /// <param name="before">The rig's log until the run began.</param>
    /// <param name="rig">The rig.</param>
    public static RunReview Of(RunState state, IReadOnlyList<LogEntry> written, IReadOnlyList<LogEntry> before, Rig rig)
    {
        ArgumentNullException.ThrowIfNull(state);
        ArgumentNullException.ThrowIfNull(written);
        ArgumentNullException.ThrowIfNull(before);
        ArgumentNullException.ThrowIfNull(rig);
        var tanks = new List<TankReview>();
        double rinse = 0;
        foreach (var dump in written.OfType<DumpEntry>())
        {
            if (rig.FindEver(dump.Tank) is not { } tank
                || state.Script.Steps.FirstOrDefault(s => s.Kind == RunStepKind.Drain && s.Tank == tank.Id) is not { } drain) continue;
            var cycles = written.OfType<FlushEntry>().Where(f => f.Tank == tank.Id).SelectMany(f => f.Cycles).ToList();
            var flow = state.Script.Rinses.FirstOrDefault(r => r.Tank == tank.Id)?.FlowLPerMin;
            rinse += cycles.Sum(c => c.WaterL ?? c.Seconds / 60 * flow ?? 0);
            tanks.Add(new TankReview(tank, dump, drain.UsualSeconds, drain.SlowSeconds, cycles, cycles.Count > 0 ? RunHistory.Cycles(before, tank.Id) : null,
                RunHistory.Trend([.. before, .. written], tank.Id)));
        }
        var minutes = state is { BegunAt: { } from, EndedAt: { } to } ? (to - from).TotalMinutes : 0;
        return new RunReview(minutes, tanks, rinse, written.OfType<CheckEntry>().LastOrDefault(c => c.Code == CheckCode.SniffTest)?.Result);
    }
}

/// <summary>A run that was finished.</summary>
/// <param name="Form">Its form.</param>
/// <param name="PlannedMinutes">Minutes it was planned with, before anything was learned.</param>
/// <param name="TookMinutes">Minutes it took.</param>
public sealed record RunTime(RunForm Form, double PlannedMinutes, double TookMinutes);

/// <summary>How this crew's runs compare with the time that is planned: gloves, cold and questions take theirs.</summary>
public static class RunPace
{
    // The plan counts as two runs. Shorter than this nobody did it by the hose; longer, the phone was forgotten.
    private const double PlanCounts = 2, ShortestMinutes = 3, LongestMinutes = 240, Most = 2.5;

    /// <summary>The factor to plan the minutes of a form with.</summary>
    /// <param name="times">Runs that were finished, the newest last.</param>
    /// <param name="form">The form.</param>
    /// <returns>The factor from 0.4 to 2.5, and the runs it rests on; 1 and 0 without any.</returns>
    public static (double Factor, int Runs) Learn(IEnumerable<RunTime> times, RunForm form)
    {
        ArgumentNullException.ThrowIfNull(times);
        var ratios = times.Where(t => t.Form == form && t.PlannedMinutes > 0 && t.TookMinutes is >= ShortestMinutes and <= LongestMinutes).TakeLast(10)
            .Select(t => Math.Log(Math.Clamp(t.TookMinutes / t.PlannedMinutes, 1 / Most, Most))).ToList();
        return (Math.Exp(ratios.Sum() / (PlanCounts + ratios.Count)), ratios.Count);
    }
}
