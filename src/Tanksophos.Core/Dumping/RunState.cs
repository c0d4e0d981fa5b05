using System.Globalization;
using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Dumping;

/// <summary>Something that was pressed during a run.</summary>
/// <param name="Key">Its own key: the same press sent twice counts once.</param>
/// <param name="At">When.</param>
/// <param name="Step">Id of the step it was pressed in.</param>
/// <param name="Round">The rinse cycle it was pressed in, from 1; 0 outside of a rinse.</param>
/// <param name="Press">What was pressed.</param>
/// <param name="Said">What was said with it, field by field: <c>litres</c>, <c>end</c>, <c>debris</c>, <c>to</c>, <c>amount</c>.</param>
public sealed record RunEvent(string Key, Instant At, string Step, int Round, RunPress Press, IReadOnlyDictionary<string, string> Said);

/// <summary>What became of a press.</summary>
public enum TapFate
{
    /// <summary>It counts.</summary>
    Used,

    /// <summary>The run had gone on from that step, on this device or another; it does not count.</summary>
    Stale,

    /// <summary>It would have had two valves open at once, or water into a tank that did not empty.</summary>
    Blocked,
}

/// <summary>What is recorded of one step, in one rinse cycle.</summary>
public sealed class StepRecord
{
    /// <summary>When a drain, or the water, began.</summary>
    public Instant? Started { get; internal set; }

    /// <summary>When it ended.</summary>
    public Instant? Stopped { get; internal set; }

    /// <summary>Seconds for which water ran into the closed tank.</summary>
    public double FilledSeconds { get; internal set; }

    /// <summary>Litres that were poured or read off a meter.</summary>
    public double Litres { get; internal set; }

    /// <summary>How it ended: the last press that counts as an answer.</summary>
    public RunPress? Answer { get; internal set; }

    /// <summary>When that was.</summary>
    public Instant? AnsweredAt { get; internal set; }

    /// <summary>What was said, field by field.</summary>
    public IReadOnlyDictionary<string, string> Said => Answers;

    internal Dictionary<string, string> Answers { get; } = new(StringComparer.Ordinal);

    /// <summary>The longest time in seconds that a step is believed to have taken: 2 hours. What went on longer was forgotten, not timed.</summary>
    public const double LongestSeconds = 7200;

    /// <summary>The most litres that count as poured in one step.</summary>
    public const double MaxLitres = 2000;

    /// <summary>Seconds from start to end, up to <see cref="LongestSeconds"/>; null unless both are known and it was not longer.</summary>
    public double? Seconds => Started is { } from && Stopped is { } to && (to - from).TotalSeconds is var seconds && seconds <= LongestSeconds ? seconds : null;

    /// <summary>Whether water ran into the closed tank for a time that can be believed.</summary>
    public bool FillTimed => FilledSeconds is > 0 and <= LongestSeconds;
}

/// <summary>
/// Where a run stands: follows from what was pressed and nothing else, so that it is the same on every device and after every reload. Times are computed from
/// the moments of the presses, never counted up.
/// </summary>
public sealed class RunState
{
    private readonly Dictionary<(string Step, int Round), StepRecord> records = [];
    private readonly Dictionary<string, Instant> open = new(StringComparer.Ordinal);
    private readonly Dictionary<string, int> rounds = new(StringComparer.Ordinal);
    private readonly HashSet<string> keys = new(StringComparer.Ordinal);
    private readonly List<(Instant At, string Tank, ValveState State)> moves = [];
    private Instant last = Instant.MinValue;
    private Instant? fillingSince;
    private double filled;
    private (string Step, int Round)? fillOf;

    private RunState(RunScript script)
    {
        Script = script;
        foreach (var tank in script.Tanks.Where(t => t.Open)) open[tank.Id] = Instant.MinValue;
    }

    /// <summary>The run.</summary>
    public RunScript Script { get; }

    /// <summary>Number of the step in front.</summary>
    public int Position { get; private set; }

    /// <summary>The step in front.</summary>
    public RunStep Step => Script.Steps[Position];

    /// <summary>The rinse cycle in front, from 1; 0 outside of a rinse.</summary>
    public int Round { get; private set; }

    /// <summary>Whether the water is on.</summary>
    public bool WaterOn { get; private set; }

    /// <summary>The tank the water runs into.</summary>
    public string? WaterInto { get; private set; }

    /// <summary>Whether the end valve is closed behind which gray floods up.</summary>
    public bool EndClosed { get; private set; }

    /// <summary>Whether the run is finished.</summary>
    public bool Finished { get; private set; }

    /// <summary>When it was finished or broken off; null while it goes on.</summary>
    public Instant? EndedAt { get; private set; }

    /// <summary>Whether it was broken off and not taken up again.</summary>
    public bool BrokenOff => EndedAt is not null && !Finished;

    /// <summary>When the first press was; null before.</summary>
    public Instant? BegunAt { get; private set; }

    /// <summary>How many presses counted.</summary>
    public int Used { get; private set; }

    /// <summary>Valves that were moved, in order.</summary>
    public IReadOnlyList<(Instant At, string Tank, ValveState State)> ValveMoves => moves;

    /// <summary>The state after some presses, in order.</summary>
    public static RunState Replay(RunScript script, IEnumerable<RunEvent> taps)
    {
        ArgumentNullException.ThrowIfNull(script);
        ArgumentNullException.ThrowIfNull(taps);
        var state = new RunState(script);
        foreach (var tap in taps) state.Apply(tap);
        return state;
    }

    /// <summary>Whether a tank's valve is open.</summary>
    public bool IsOpen(string tank) => open.ContainsKey(tank);

    /// <summary>What is recorded of a step; null if nothing is.</summary>
    public StepRecord? Record(string step, int round = 0) => records.GetValueOrDefault((step, round));

    /// <summary>Rinse cycles begun.</summary>
    public int Rounds(string loop) => rounds.GetValueOrDefault(loop);

    /// <summary>Seconds for which water has run into the closed tank since it was closed.</summary>
    public double FilledSeconds(Instant now) => filled + (fillingSince is { } since ? Math.Max(0, (now - since).TotalSeconds) : 0);

    /// <summary>Whether water runs into a closed tank now.</summary>
    public bool Filling => fillingSince is not null;

    /// <summary>The rinse cycles so far, as they will be logged.</summary>
    public IReadOnlyList<FlushCycle> Cycles(RunRinse rinse)
    {
        ArgumentNullException.ThrowIfNull(rinse);
        var cycles = new List<FlushCycle>();
        var fill = Script.Steps.First(s => s.Loop == rinse.Loop && s.Kind != RunStepKind.Judge);
        var judge = Script.Steps.First(s => s.Loop == rinse.Loop && s.Kind == RunStepKind.Judge);
        for (var round = 1; round <= Rounds(rinse.Loop); round++)
        {
            var water = Record(fill.Id, round);
            var seen = Record(judge.Id, round);
            if (water is null && seen is null) continue;
            double? seconds = fill.Kind switch
            {
                RunStepKind.Fill when water?.FillTimed == true => Math.Round(water!.FilledSeconds, MidpointRounding.AwayFromZero),
                RunStepKind.OpenRinse or RunStepKind.Flood when water?.Seconds is { } s => Math.Round(s, MidpointRounding.AwayFromZero),
                _ => null,
            };
            double? litres = water?.Litres > 0 ? Math.Round(water.Litres, 1, MidpointRounding.AwayFromZero) : null;
            EndColor? end = Codes<EndColor>.TryParse(seen?.Said.GetValueOrDefault("end"), out var color) ? color : null;
            Debris? debris = Codes<Debris>.TryParse(seen?.Said.GetValueOrDefault("debris"), out var d) ? d : null;
            if (seconds is null && litres is null && end is null && debris is null) continue;
            cycles.Add(new FlushCycle(seconds, litres, end, debris));
        }
        return cycles;
    }

    /// <summary>Litres of rinse water left; null where a tap runs.</summary>
    public double? LeftL(RunRinse rinse)
    {
        ArgumentNullException.ThrowIfNull(rinse);
        return rinse.OnHandL is { } there ? Math.Max(0, there - Cycles(rinse).Sum(c => c.WaterL ?? rinse.PerCycleL)) : null;
    }

    /// <summary>The answer to "one more?" in a rinse.</summary>
    public Verdict VerdictOf(RunRinse rinse)
    {
        ArgumentNullException.ThrowIfNull(rinse);
        return Emptied(rinse.Tank) ? Judging.Judge(Cycles(rinse), rinse.Need, rinse.Cap, LeftL(rinse), rinse.PerCycleL) : Verdict.NotEmptied;
    }

    /// <summary>Whether nothing leaves a tank: its valve is closed, or the one at the end behind it.</summary>
    public bool IsShut(string tank) => EndClosed || !IsOpen(tank);

    /// <summary>Whether the cap dripped and nothing stopped it.</summary>
    public bool Drips => Record(Codes<RunStepKind>.Word(RunStepKind.Valves)) is { Answer: not RunPress.Dry } valves && valves.Said.ContainsKey("drips");

    /// <summary>Whether the sniff test failed and was not repeated.</summary>
    public bool SniffFailed => Record(Codes<RunStepKind>.Word(RunStepKind.Sniff))?.Answer == RunPress.Fail;

    /// <summary>Whether a tank's drain, if it was answered, emptied it.</summary>
    public bool Emptied(string tank) => Record($"drain-{tank}")?.Answer is not (RunPress.Trickle or RunPress.Nothing);

    /// <summary>Whether a tank drained slower than it does: then less may go in.</summary>
    public bool Slow(string tank)
    {
        var step = Script.Steps.FirstOrDefault(s => s.Id == $"drain-{tank}");
        var record = Record($"drain-{tank}");
        return record?.Answer == RunPress.Slow || (step?.SlowSeconds is { } slow && record?.Seconds > slow);
    }

    /// <summary>The limit in force for a fill.</summary>
    public FillLimit? LimitOf(RunStep step)
    {
        ArgumentNullException.ThrowIfNull(step);
        return step.Tank is { } tank && step.SuspectLimit is { } less && Slow(tank) ? less : step.Limit;
    }

    /// <summary>Takes a press into account.</summary>
    public TapFate Apply(RunEvent tap)
    {
        ArgumentNullException.ThrowIfNull(tap);
        if (!keys.Add(tap.Key)) return TapFate.Stale;
        // A device's clock may be wrong; the run's never goes back.
        var at = tap.At > last ? tap.At : last;
        var fate = Take(tap, at);
        if (fate != TapFate.Used) return fate;
        last = at;
        BegunAt ??= at;
        Used++;
        return fate;
    }

    private TapFate Take(RunEvent tap, Instant at)
    {
        if (tap.Press == RunPress.Resume)
        {
            if (!BrokenOff) return TapFate.Stale;
            EndedAt = null;
            return TapFate.Used;
        }
        if (EndedAt is not null) return TapFate.Stale;
        switch (tap.Press)
        {
            // Whatever is on the screen: who turned the water off has turned it off.
            case RunPress.WaterOff when WaterOn && !(tap.Step == Step.Id && Step.Presses.Contains(RunPress.WaterOff)):
                Water(false, at);
                Litres(tap, at);
                return TapFate.Used;
            case RunPress.BreakOff:
                if (WaterOn) Water(false, at);
                EndedAt = at;
                return TapFate.Used;
        }
        if (tap.Step != Step.Id || tap.Round != Round) return TapFate.Stale;
        if (tap.Press == RunPress.Jump)
        {
            if (Script.IndexOf(tap.Said.GetValueOrDefault("to")) is not (>= 0 and var to)) return TapFate.Stale;
            GoTo(to, Script.Steps[to].Loop is { } loop ? Math.Max(1, Rounds(loop)) : 0);
            return TapFate.Used;
        }
        if (tap.Press == RunPress.Back) return Back();
        if (tap.Press == RunPress.Skip)
        {
            LeaveLoop();
            return TapFate.Used;
        }
        return Step.Presses.Contains(tap.Press) ? Press(tap, at) : TapFate.Stale;
    }

    private TapFate Press(RunEvent tap, Instant at)
    {
        var rule = RunRules.All.For(tap.Press, Step.Kind);
        if (rule.Unless.FirstOrDefault(u => Is(u.When, Step)) is { } refusal) return refusal.Fate;
        foreach (var deed in rule.Do) Do(deed, tap, at);
        return TapFate.Used;
    }

    private bool Is(RunTest test, RunStep step) => test switch
    {
        RunTest.NotStarted => Record(step.Id, Round)?.Started is null,
        RunTest.NotFlooding => Record(step.Id, Round) is not { Started: not null, Stopped: null },
        RunTest.ValveOpen => IsOpen(step.Tank!),
        RunTest.MayNotOpen => !IsOpen(step.Tank!) && !MayOpen(step.Tank!),
        RunTest.MayNotOpenBelow => step.BehindEnd && !MayOpen(step.Tank!),
        RunTest.Kept => !Emptied(step.Tank!),
        RunTest.KeptInRinse => step.Loop is not null && !Emptied(step.Tank!),
        RunTest.AnyBlackKept => Script.Tanks.Any(t => t.Role == TankRole.Black && !Emptied(t.Id)),
        RunTest.LimitRefused => LimitOf(step)?.Refused is not null,
        RunTest.WaterOn => WaterOn,
        RunTest.WaterOff => !WaterOn,
        RunTest.EndNotClosed => step.BehindEnd && !EndClosed,
        RunTest.Flooded => EndClosed && IsOpen(Script.Floods!),
        RunTest.GrayOpen => Script.Tanks.Any(t => t.Role == TankRole.Gray && IsOpen(t.Id)),
        RunTest.NoRinseLeft => Script.Rinses.FirstOrDefault(r => Emptied(r.Tank)) is not { } rinse || Rounds(rinse.Loop) >= MaxRounds,
        RunTest.Drips => Drips,
        RunTest.Smells => SniffFailed,
        RunTest.DrainedBeforeSmell => SniffFailed && RoleOf(step.Tank!) == TankRole.Gray && Record(step.Id)?.Answer is not null,
        _ => throw new ArgumentOutOfRangeException(nameof(test)),
    };

    private void Do(RunDeed deed, RunEvent tap, Instant at)
    {
        switch (deed)
        {
            case RunDeed.CloseAll: foreach (var id in open.Keys.ToList()) Valve(id, false, at); break;
            case RunDeed.CloseGrays: foreach (var gray in Script.Tanks.Where(t => t.Role == TankRole.Gray)) Valve(gray.Id, false, at); break;
            case RunDeed.OpenValve: Valve(Step.Tank!, true, at); break;
            case RunDeed.CloseValve: Valve(Step.Tank!, false, at); break;
            case RunDeed.CloseIfGray: if (RoleOf(Step.Tank!) == TankRole.Gray) Valve(Step.Tank!, false, at); break;
            case RunDeed.CloseInRinse: if (Step.Loop is not null) Valve(Step.Tank!, false, at); break;
            case RunDeed.OpenFlooding: Valve(Script.Floods!, true, at); break;
            case RunDeed.ShutForFill:
                // From below the fitting's gate holds the water, and the tank's own valve lets it in.
                Valve(Step.Tank!, Step.BehindEnd, at);
                if (Step.BehindEnd) End(true, at);
                break;
            case RunDeed.OpenEnd: End(false, at); break;
            case RunDeed.CloseEnd: End(true, at); break;
            case RunDeed.FillAnew: (WaterInto, fillOf) = (Step.Tank, (Step.Id, Round)); break;
            case RunDeed.FillOn:
                WaterInto = Step.Tank;
                if (IsShut(Step.Tank!)) fillOf ??= (Step.Id, Round);
                break;
            case RunDeed.WaterOn: Water(true, at); break;
            case RunDeed.WaterOff: if (WaterOn) Water(false, at); break;
            case RunDeed.Litres: Litres(tap, at); break;
            case RunDeed.Next: Next(); break;
            case RunDeed.LeaveRinse: LeaveLoop(); break;
            case RunDeed.NextCycle: if (Round < MaxRounds) Cycle(Script.RinseOf(Step)!.Loop, Round + 1); break;
            case RunDeed.RinseAgain: var loop = Script.Rinses.First(r => Emptied(r.Tank)).Loop; Cycle(loop, Rounds(loop) + 1); break;
            case RunDeed.Finish: (Finished, EndedAt) = (true, at); break;
            case RunDeed.DrawEmpty or RunDeed.DrawKept: break;
            default: Write(deed, tap, at); break;
        }
    }

    // Deeds that only write into the record of the step in front.
    private void Write(RunDeed deed, RunEvent tap, Instant at)
    {
        var record = records.TryGetValue((Step.Id, Round), out var there) ? there : records[(Step.Id, Round)] = new StepRecord();
        switch (deed)
        {
            case RunDeed.StartAnew: (record.Started, record.Stopped, record.Answer) = (at, null, null); break;
            case RunDeed.StartOnce: record.Started ??= at; break;
            case RunDeed.Stop: record.Stopped = at; break;
            case RunDeed.StopOnce: record.Stopped ??= at; break;
            case RunDeed.Pour:
                record.Litres = Math.Min(StepRecord.MaxLitres, record.Litres + (Number(tap.Said.GetValueOrDefault("litres")) ?? 0));
                break;
            case RunDeed.NoteDrip: record.Answers["drips"] = "yes"; break;
            case RunDeed.Answer:
                (record.Answer, record.AnsweredAt) = (tap.Press, at);
                foreach (var (field, value) in tap.Said) record.Answers[field] = value;
                break;
            default: throw new ArgumentOutOfRangeException(nameof(deed));
        }
    }

    private void Cycle(string loop, int round) => GoTo(Script.Steps.ToList().FindIndex(s => s.Loop == loop), round);

    /// <summary>Most rinse cycles; beyond, presses for one more change nothing.</summary>
    public const int MaxRounds = 30;

    // Never both open at once, so that black cannot run up into gray.
    private bool MayOpen(string tank) => Script.Tanks.All(t => t.Id == tank || t.Role == RoleOf(tank) || !IsOpen(t.Id));

    private TankRole RoleOf(string tank) => Script.Tanks.First(t => t.Id == tank).Role;

    private void Litres(RunEvent tap, Instant at)
    {
        if (Number(tap.Said.GetValueOrDefault("litres")) is not { } litres) return;
        var (step, round) = tap.Step == Step.Id ? (Step.Id, Round) : fillOf ?? (Step.Id, Round);
        if (!records.TryGetValue((step, round), out var record)) records[(step, round)] = record = new StepRecord { Started = at };
        record.Litres = litres;
    }

    private void Valve(string tank, bool opened, Instant at)
    {
        if (IsOpen(tank) == opened) return;
        Settle(at);
        if (opened)
        {
            if (tank == WaterInto) Filled();
            open[tank] = at;
        }
        else open.Remove(tank);
        moves.Add((at, tank, opened ? ValveState.Open : ValveState.Closed));
        Resume(at);
    }

    // The valve at the end, behind which a tank fills from below.
    private void End(bool closed, Instant at)
    {
        if (EndClosed == closed) return;
        Settle(at);
        if (!closed) Filled();
        EndClosed = closed;
        Resume(at);
    }

    // What had run in until now belongs to the fill it began with.
    private void Filled()
    {
        if (filled <= 0 || fillOf is not { } fill) return;
        if (!records.TryGetValue(fill, out var record)) records[fill] = record = new StepRecord();
        record.FilledSeconds = filled;
        (filled, fillOf) = (0, null);
    }

    private void Water(bool on, Instant at)
    {
        Settle(at);
        WaterOn = on;
        Resume(at);
        if (!on && fillOf is { } fill && records.TryGetValue(fill, out var record)) record.FilledSeconds = filled;
    }

    private void Settle(Instant at)
    {
        if (fillingSince is { } since) filled += (at - since).TotalSeconds;
        fillingSince = null;
    }

    private void Resume(Instant at)
    {
        if (WaterOn && WaterInto is { } tank && IsShut(tank)) fillingSince = at;
    }

    private TapFate Back()
    {
        if (Position == 0 && Round <= 1) return TapFate.Stale;
        var step = Step;
        // Within a rinse the step before its first is the last of the cycle before.
        if (step.Loop is { } loop && Round > 1 && (Position == 0 || Script.Steps[Position - 1].Loop != loop))
        {
            var lastOf = Position;
            while (lastOf + 1 < Script.Steps.Count && Script.Steps[lastOf + 1].Loop == loop) lastOf++;
            GoTo(lastOf, Round - 1);
            return TapFate.Used;
        }
        GoTo(Position - 1, null);
        return TapFate.Used;
    }

    // The step after this one, or after the rinse it belongs to.
    private void LeaveLoop()
    {
        var (loop, after) = (Step.Loop, Position + 1);
        while (loop is not null && after < Script.Steps.Count && Script.Steps[after].Loop == loop) after++;
        GoTo(Onward(after), null);
    }

    private void Next()
    {
        if (Position + 1 >= Script.Steps.Count) return;
        var to = Onward(Position + 1);
        GoTo(to, Step.Loop is not null && Script.Steps[to].Loop == Step.Loop ? Round : null);
    }

    // The next step that what happened has not made pointless; the last one always stands.
    private int Onward(int from)
    {
        while (from < Script.Steps.Count - 1 && Pointless(Script.Steps[from])) from++;
        return Math.Min(from, Script.Steps.Count - 1);
    }

    /// <summary>Whether what happened has made a step pointless.</summary>
    /// <param name="step">A step of the run.</param>
    public bool Pointless(RunStep step)
    {
        ArgumentNullException.ThrowIfNull(step);
        return RunRules.All.Pointless.First(p => p.In.Count == 0 || p.In.Contains(step.Kind)).When.Any(test => Is(test, step));
    }

    private void GoTo(int position, int? round)
    {
        var loop = Script.Steps[position].Loop;
        Position = position;
        Round = loop is null ? 0 : round ?? Math.Max(1, Rounds(loop));
        if (loop is not null) rounds[loop] = Math.Max(Rounds(loop), Round);
    }

    private static double? Number(string? text) =>
        double.TryParse(text, NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var value) && value is >= 0 and < StepRecord.MaxLitres
            ? value : null;
}
