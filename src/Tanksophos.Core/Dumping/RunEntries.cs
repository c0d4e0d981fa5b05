using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Dumping;

/// <summary>Turns what was done in a run into the entries of the log. What was not done is not written.</summary>
public static class RunEntries
{
    /// <summary>The entries in the order of time. Their ids follow from the run's word and the step, so that writing them twice writes them once.</summary>
    /// <param name="run">The run's own word, the start of each id.</param>
    /// <param name="state">Where the run stands.</param>
    /// <param name="zone">Local time there.</param>
    /// <param name="rig">The rig: a light that its tank has not is not written; null to take any.</param>
    public static IReadOnlyList<LogEntry> Build(string run, RunState state, DateTimeZone zone, Rig? rig = null)
    {
        ArgumentException.ThrowIfNullOrEmpty(run);
        ArgumentNullException.ThrowIfNull(state);
        ArgumentNullException.ThrowIfNull(zone);
        var script = state.Script;
        var entries = new List<(Instant At, LogEntry Entry)>();
        void Write(Instant at, string id, Func<OffsetDateTime, LogEntry> make) =>
            entries.Add((at, make(at.InZone(zone).ToOffsetDateTime()) with { Id = $"{run}-{id}" }));

        // Valves that stood open and were closed at the start, and what the cap showed.
        foreach (var tank in script.Tanks.Where(t => t.Open))
            if (state.ValveMoves.FirstOrDefault(m => m.Tank == tank.Id) is { Tank: not null, State: ValveState.Closed } closed)
                Write(closed.At, $"shut-{tank.Id}", t => new ValveEntry { At = t, Tank = tank.Id, State = ValveState.Closed });
        if (state.Record(Codes<RunStepKind>.Word(RunStepKind.Valves)) is { Answer: { } cap, AnsweredAt: { } capAt })
        {
            Write(capAt, "cap", t => new CheckEntry { At = t, Code = CheckCode.CapDry, Result = cap == RunPress.Dry ? CheckResult.Pass : CheckResult.Fail });
            if (cap == RunPress.Drips)
                Write(capAt, "drips", t => new SymptomEntry
                {
                    At = t,
                    Code = SymptomCode.ValveDrips,
                    Tank = script.Tanks.Count == 1
                ? script.Tanks[0].Id : null
                });
        }

        foreach (var step in script.Steps)
        {
            var tank = step.Tank;
            var record = state.Record(step.Id);
            switch (step.Kind)
            {
                case RunStepKind.TopUp when record is not null:
                    var flow = script.Rinses.FirstOrDefault(r => r.Tank == tank)?.FlowLPerMin;
                    // Water that was forgotten for hours has not put in more than the tank holds: the rest came out.
                    var holds = script.Tanks.FirstOrDefault(t => t.Id == tank)?.CapacityL ?? StepRecord.MaxLitres;
                    var litres = record.Litres > 0 ? record.Litres : Math.Min(holds, record.FilledSeconds / 60 * (flow ?? RinsePlan.HeadLPerMin));
                    if (litres > 0 && (record.AnsweredAt ?? record.Stopped ?? record.Started) is { } topped)
                        Write(topped, step.Id, t => new WaterEntry { At = t, Tank = tank, WaterL = Math.Round(litres, 1), Purpose = WaterPurpose.TopUp });
                    break;
                case RunStepKind.Drain when record?.Started is { } began && record.Answer is { } how:
                    Write(began, step.Id, t => new DumpEntry
                    {
                        At = t,
                        Tank = tank,
                        Minutes = record.Seconds is { } s ? Math.Round(s / 60, 2) : null,
                        Flow = FlowOf(how)
                    });
                    if (how == RunPress.LeaveOpen)
                        Write(record.AnsweredAt!.Value, $"open-{tank}", t => new ValveEntry { At = t, Tank = tank, State = ValveState.Open });
                    break;
                case RunStepKind.Judge when script.RinseOf(step) is { } rinse && state.Cycles(rinse) is { Count: > 0 } cycles:
                    Write(LastOf(state, rinse), rinse.Loop, t => new FlushEntry { At = t, Tank = tank, Method = rinse.Method, Cycles = cycles });
                    break;
                case RunStepKind.Sniff when record?.Answer is RunPress.Pass or RunPress.Fail:
                    Write(record.AnsweredAt!.Value, step.Id,
                        t => new CheckEntry
                        {
                            At = t,
                            Code = CheckCode.SniffTest,
                            Result = record.Answer == RunPress.Pass ? CheckResult.Pass
                        : CheckResult.Fail
                        });
                    break;
                case RunStepKind.Starter when record?.Answer == RunPress.In:
                    var water = record.Litres > 0 ? record.Litres : step.AimL ?? 0;
                    Write(record.AnsweredAt!.Value, step.Id,
                        t => new WaterEntry
                        {
                            At = t,
                            Tank = tank,
                            WaterL = Math.Round(water, 1),
                            Purpose = state.Script.Form == RunForm.EndOfTrip
                        ? WaterPurpose.Storage : WaterPurpose.Starter
                        });
                    break;
                case RunStepKind.Dose or RunStepKind.GrayCare when record?.Answer == RunPress.In:
                    Write(record.AnsweredAt!.Value, step.Id,
                        t => new DoseEntry
                        {
                            At = t,
                            Tank = tank,
                            Recipe = step.Recipe ?? DoseRecipe.Other,
                            Amount = step.Amount,
                            WaterL = step.Kind == RunStepKind.GrayCare ? step.AimL : null,
                            Used = step.Used
                        });
                    break;
                case RunStepKind.Fill when script.RinseOf(step) is { } metered:
                    FullUnderMeter(state, step, metered, rig?.FindEver(step.Tank)?.Monitor, Write);
                    break;
            }
        }
        return [.. entries.Select((e, i) => (e, i)).OrderBy(x => x.e.At).ThenBy(x => x.i).Select(x => x.e.Entry)];
    }

    private static DumpFlow? FlowOf(RunPress how) => how switch
    {
        RunPress.Rush => DumpFlow.Rush,
        RunPress.Steady => DumpFlow.Steady,
        RunPress.Slow => DumpFlow.Slow,
        RunPress.Trickle => DumpFlow.Trickle,
        RunPress.Nothing => DumpFlow.None,
        _ => null,
    };

    private static Instant LastOf(RunState state, RunRinse rinse)
    {
        Instant? last = null;
        foreach (var step in state.Script.Steps.Where(s => s.Loop == rinse.Loop))
            for (var round = 1; round <= state.Rounds(rinse.Loop); round++)
                if (state.Record(step.Id, round) is { } r && (r.AnsweredAt ?? r.Stopped ?? r.Started) is { } at && (last is null || at > last)) last = at;
        return last!.Value;
    }

    // A metered fill at which the Full lamp came on tells where Full is: the level by the meter and the lamp at the same moment.
    private static void FullUnderMeter(RunState state, RunStep step, RunRinse rinse, TankMonitor? monitor,
        Action<Instant, string, Func<OffsetDateTime, LogEntry>> write)
    {
        var tank = state.Script.Tanks.First(t => t.Id == step.Tank);
        for (var round = 1; round <= state.Rounds(rinse.Loop); round++)
        {
            if (state.Record(step.Id, round) is not { Litres: > 0, Stopped: { } at } fill
                || fill.Said.GetValueOrDefault("full") is not { Length: > 0 } lamp) continue;
            var lit = lamp.Split(' ', StringSplitOptions.RemoveEmptyEntries).Where(id => monitor is null || monitor.Probes.Any(p => p.Id == id)).ToList();
            if (lit.Count == 0) continue;
            var share = Math.Round(Math.Min(1, (fill.Litres + DumpEntry.ResidueFraction * tank.CapacityL) / (tank.StatedL ?? tank.CapacityL)), 4);
            // A moment before the valve opened, in a tank that is filled and dumped within the run.
            var when = at - Duration.FromSeconds(1);
            write(when, $"water-{tank.Id}-{round}",
                t => new WaterEntry
                {
                    At = t,
                    Tank = tank.Id,
                    WaterL = Math.Round(fill.Litres, 1),
                    Purpose = WaterPurpose.Other,
                    Note = "metered up to the Full lamp"
                });
            write(when, $"metered-{tank.Id}-{round}", t => new ReadingEntry { At = t, Tank = tank.Id, Via = ReadingVia.Meter, Fraction = share });
            write(when, $"full-{tank.Id}-{round}", t => new ReadingEntry { At = t, Tank = tank.Id, Via = ReadingVia.Panel, Lit = lit });
            return;
        }
    }
}
