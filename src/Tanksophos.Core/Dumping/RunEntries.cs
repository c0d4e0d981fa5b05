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
    /// <exception cref="ArgumentException">The run has no key.</exception>
    public static IReadOnlyList<LogEntry> Build(string run, RunState state, DateTimeZone zone, Rig? rig = null)
    {
        ArgumentException.ThrowIfNullOrEmpty(run);
        ArgumentNullException.ThrowIfNull(state);
        ArgumentNullException.ThrowIfNull(zone);
        var entries = new List<(Instant At, LogEntry Entry)>();
        void Write(Instant at, string id, Func<OffsetDateTime, LogEntry> make) =>
            entries.Add((at, make(at.InZone(zone).ToOffsetDateTime()) with { Id = $"{run}-{id}" }));
        Start(state, Write);
        foreach (var step in state.Script.Steps) Step(state, step, rig, Write);
        return [.. entries.Select((e, i) => (e, i)).OrderBy(x => x.e.At).ThenBy(x => x.i).Select(x => x.e.Entry)];
    }

    /// <summary>The field in which a press says that something was found that is not OK.</summary>
    public const string Problem = "problem";

    // Writes an entry: when, the end of its id, and how it is made for the local time.
    private delegate void Writer(Instant at, string id, Func<OffsetDateTime, LogEntry> make);

    // Valves that stood open and were closed at the start, and what the cap showed.
    private static void Start(RunState state, Writer write)
    {
        var tanks = state.Script.Tanks;
        foreach (var tank in tanks.Where(t => t.Open))
            if (state.ValveMoves.FirstOrDefault(m => m.Tank == tank.Id) is { Tank: not null, State: ValveState.Closed } closed)
                write(closed.At, $"shut-{tank.Id}", t => new ValveEntry { At = t, Tank = tank.Id, State = ValveState.Closed });
        if (state.Record(Codes<RunStepKind>.Word(RunStepKind.Valves)) is not { Answer: { } cap, AnsweredAt: { } capAt } valves) return;
        // With the hose on there was no cap to look under.
        var dripped = valves.Said.ContainsKey("drips");
        if (cap == RunPress.Done && !dripped) return;
        write(capAt, "cap", t => new CheckEntry { At = t, Code = CheckCode.CapDry, Result = dripped ? CheckResult.Fail : CheckResult.Pass });
        var only = tanks.Count == 1 ? tanks[0].Id : null;
        if (dripped) write(capAt, "drips", t => new SymptomEntry
        {
            At = t,
            Code = SymptomCode.ValveDrips,
            Tank = only,
            Note = cap == RunPress.Dry ? "stopped after the valves were worked" : null
        });
    }

    private static void Step(RunState state, RunStep step, Rig? rig, Writer write)
    {
        var tank = step.Tank;
        var record = state.Record(step.Id);
        switch (step.Kind)
        {
            // Whoever locks the hose has looked it over: holes, lugs, gasket.
            case RunStepKind.SewerHose when record is { Answer: RunPress.Done, AnsweredAt: { } looked }:
                var worn = record.Said.ContainsKey(Problem);
                write(looked, step.Id, t => new CheckEntry { At = t, Code = CheckCode.HoseSound, Result = worn ? CheckResult.Fail : CheckResult.Pass });
                break;
            case RunStepKind.TopUp when record is not null:
                ToppedUp(state.Script, step, record, write);
                break;
            case RunStepKind.Drain when record is { Started: not null, Answer: not null }:
                Drained(step, record, write);
                break;
            case RunStepKind.Judge when state.Script.RinseOf(step) is { } rinse && state.Cycles(rinse) is { Count: > 0 } cycles:
                write(LastOf(state, rinse), rinse.Loop, t => new FlushEntry { At = t, Tank = tank, Method = rinse.Method, Cycles = cycles });
                break;
            case RunStepKind.Sniff when record?.Answer is RunPress.Pass or RunPress.Fail:
                var result = record.Answer == RunPress.Pass ? CheckResult.Pass : CheckResult.Fail;
                write(record.AnsweredAt!.Value, step.Id, t => new CheckEntry { At = t, Code = CheckCode.SniffTest, Result = result });
                break;
            case RunStepKind.Starter when record?.Answer == RunPress.In:
                var water = Math.Round(record.Litres > 0 ? record.Litres : step.AimL ?? 0, 1);
                var purpose = state.Script.Form == RunForm.EndOfTrip ? WaterPurpose.Storage : WaterPurpose.Starter;
                write(record.AnsweredAt!.Value, step.Id, t => new WaterEntry { At = t, Tank = tank, WaterL = water, Purpose = purpose });
                break;
            case RunStepKind.Dose or RunStepKind.GrayCare when record?.Answer == RunPress.In:
                write(record.AnsweredAt!.Value, step.Id, t => new DoseEntry
                {
                    At = t,
                    Tank = tank,
                    Recipe = step.Recipe ?? DoseRecipe.Other,
                    Amount = step.Amount,
                    WaterL = step.Kind == RunStepKind.GrayCare ? step.AimL : null,
                    Used = step.Used,
                });
                break;
            case RunStepKind.Fill when state.Script.RinseOf(step) is { } metered:
                FullUnderMeter(state, step, metered, rig?.FindEver(step.Tank)?.Monitor, write);
                break;
        }
    }

    private static void ToppedUp(RunScript script, RunStep step, StepRecord record, Writer write)
    {
        var flow = script.Rinses.FirstOrDefault(r => r.Tank == step.Tank)?.FlowLPerMin;
        // Water that was forgotten for hours has not put in more than the tank holds: the rest came out.
        var holds = script.Tanks.FirstOrDefault(t => t.Id == step.Tank)?.CapacityL ?? StepRecord.MaxLitres;
        var litres = record.Litres > 0 ? record.Litres : Math.Min(holds, record.FilledSeconds / 60 * (flow ?? RinsePlan.HeadLPerMin));
        if (litres > 0 && (record.AnsweredAt ?? record.Stopped ?? record.Started) is { } topped)
            write(topped, step.Id, t => new WaterEntry { At = t, Tank = step.Tank, WaterL = Math.Round(litres, 1), Purpose = WaterPurpose.TopUp });
    }

    private static void Drained(RunStep step, StepRecord record, Writer write)
    {
        double? minutes = record.Seconds is { } s ? Math.Round(s / 60, 2) : null;
        write(record.Started!.Value, step.Id, t => new DumpEntry { At = t, Tank = step.Tank, Minutes = minutes, Flow = FlowOf(record.Answer!.Value) });
        if (record.Answer == RunPress.LeaveOpen)
            write(record.AnsweredAt!.Value, $"open-{step.Tank}", t => new ValveEntry { At = t, Tank = step.Tank, State = ValveState.Open });
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
        Writer write)
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
