namespace Tanksophos.Core.Dumping;

/// <summary>Something that can be true of a step while a run is under way.</summary>
internal enum RunTest
{
    /// <summary>Nothing was begun in it.</summary>
    NotStarted,

    /// <summary>Its flood is not running.</summary>
    NotFlooding,

    /// <summary>Its tank's valve is open.</summary>
    ValveOpen,

    /// <summary>Its tank's valve is closed and must stay so: a tank of the other kind is open, and black could run up into gray.</summary>
    MayNotOpen,

    /// <summary>The same, for a tank that fills from below.</summary>
    MayNotOpenBelow,

    /// <summary>Its tank kept what was in it: a trickle came, or nothing.</summary>
    Kept,

    /// <summary>The same, in a rinse.</summary>
    KeptInRinse,

    /// <summary>Some black tank kept what was in it.</summary>
    AnyBlackKept,

    /// <summary>Nothing more fits into its tank.</summary>
    LimitRefused,

    /// <summary>The water is on.</summary>
    WaterOn,

    /// <summary>The water is off.</summary>
    WaterOff,

    /// <summary>Its tank fills from below, and the end is not closed.</summary>
    EndNotClosed,

    /// <summary>The end is closed and the gray that floods is open.</summary>
    Flooded,

    /// <summary>A gray tank is open.</summary>
    GrayOpen,

    /// <summary>No tank is left that can be rinsed again.</summary>
    NoRinseLeft,

    /// <summary>The cap dripped and nothing stopped it.</summary>
    Drips,

    /// <summary>The sniff test failed and was not repeated.</summary>
    Smells,

    /// <summary>It is a gray tank's drain, answered already, and the sniff test failed.</summary>
    DrainedBeforeSmell,
}

/// <summary>What a press does. Deeds are done in the order in which a rule names them.</summary>
internal enum RunDeed
{
    /// <summary>All valves close.</summary>
    CloseAll,

    /// <summary>The gray valves close.</summary>
    CloseGrays,

    /// <summary>The tank's valve opens.</summary>
    OpenValve,

    /// <summary>The tank's valve closes.</summary>
    CloseValve,

    /// <summary>The tank's valve closes if it is a gray tank; black stays open for the rinse.</summary>
    CloseIfGray,

    /// <summary>The tank's valve closes if the step belongs to a rinse.</summary>
    CloseInRinse,

    /// <summary>The valve of the gray that floods opens.</summary>
    OpenFlooding,

    /// <summary>The tank is shut for a fill: its valve closes, or, from below, it opens and the end closes.</summary>
    ShutForFill,

    /// <summary>The valve at the end opens.</summary>
    OpenEnd,

    /// <summary>The valve at the end closes.</summary>
    CloseEnd,

    /// <summary>The water runs into this tank from now on, and a new fill begins.</summary>
    FillAnew,

    /// <summary>The water runs into this tank from now on; a fill that was begun goes on.</summary>
    FillOn,

    /// <summary>The water goes on.</summary>
    WaterOn,

    /// <summary>The water goes off.</summary>
    WaterOff,

    /// <summary>The step's clock starts, and what was said of it is void.</summary>
    StartAnew,

    /// <summary>The step's clock starts unless it runs already.</summary>
    StartOnce,

    /// <summary>The step's clock stops.</summary>
    Stop,

    /// <summary>The step's clock stops unless it stopped already.</summary>
    StopOnce,

    /// <summary>Litres that were read off are written down.</summary>
    Litres,

    /// <summary>Litres that were poured are added.</summary>
    Pour,

    /// <summary>That it dripped is written down; it stays on record, also when it was stopped.</summary>
    NoteDrip,

    /// <summary>The tank is drawn empty. Only drawings ask for it.</summary>
    DrawEmpty,

    /// <summary>The tank is drawn with what it kept. Only drawings ask for it.</summary>
    DrawKept,

    /// <summary>The press is the step's answer, with what was said.</summary>
    Answer,

    /// <summary>On to the next step.</summary>
    Next,

    /// <summary>On to the step after the rinse.</summary>
    LeaveRinse,

    /// <summary>The next cycle of this rinse.</summary>
    NextCycle,

    /// <summary>One more cycle of the first rinse whose tank emptied.</summary>
    RinseAgain,

    /// <summary>The run is finished.</summary>
    Finish,
}

/// <summary>What a press comes to when something is true.</summary>
/// <param name="When">What is true.</param>
/// <param name="Fate">What becomes of the press.</param>
internal sealed record RunUnless(RunTest When, TapFate Fate);

/// <summary>What a press does in a step.</summary>
/// <param name="Presses">The presses meant; none: any press that no rule before names.</param>
/// <param name="In">The kinds of step meant; none: any.</param>
/// <param name="Unless">When it does not count; the first that is true decides.</param>
/// <param name="Do">What it does.</param>
internal sealed record RunRule(IReadOnlyList<RunPress> Presses, IReadOnlyList<RunStepKind> In, IReadOnlyList<RunUnless> Unless, IReadOnlyList<RunDeed> Do);

/// <summary>When a step has become pointless.</summary>
/// <param name="In">The kinds of step meant; none: any that no rule before names.</param>
/// <param name="When">It is pointless when one of these is true.</param>
internal sealed record RunPointless(IReadOnlyList<RunStepKind> In, IReadOnlyList<RunTest> When);

/// <summary>
/// What may be pressed during a run and what it does, as data: the core applies them, and the page that goes on without a connection is sent the same ones.
/// </summary>
internal sealed record RunRules
{
    /// <summary>The rules in force.</summary>
    public static RunRules All { get; } = new();

    /// <summary>The longest time in seconds that a step is believed to have taken.</summary>
    public double LongestSeconds { get; } = StepRecord.LongestSeconds;

    /// <summary>The most litres that count as poured in one step.</summary>
    public double MaxLitres { get; } = StepRecord.MaxLitres;

    /// <summary>Most rinse cycles.</summary>
    public int MaxCycles { get; } = RunState.MaxRounds;

    /// <summary>From this share of a cycle's water on, a rinse counts as a whole one.</summary>
    public double LittleWater { get; } = Judging.LittleWater;

    /// <summary>What presses do; the first rule that fits is applied.</summary>
    public IReadOnlyList<RunRule> Rules { get; } =
    [
        Of([RunPress.Dry], [], RunDeed.CloseAll, RunDeed.Answer, RunDeed.Next),
        // A drip is looked into before anything else.
        Of([RunPress.Drips], [], RunDeed.CloseAll, RunDeed.NoteDrip, RunDeed.Answer),
        Of([RunPress.Done], [RunStepKind.Valves], RunDeed.CloseAll, RunDeed.Answer, RunDeed.Next),
        Of([RunPress.Done], [RunStepKind.Sniff], RunDeed.Next), // its answer stands
        Of([RunPress.Done], [RunStepKind.TopUp], RunDeed.WaterOff, RunDeed.Answer, RunDeed.Next),
        Of([RunPress.Open], [RunStepKind.Drain], RunDeed.OpenEnd, RunDeed.OpenValve, RunDeed.StartAnew)
            .But(RunTest.ValveOpen, TapFate.Stale).But(RunTest.MayNotOpen, TapFate.Blocked),
        // The valve opens after a fill.
        Of([RunPress.Open], [], RunDeed.Litres, RunDeed.Stop, RunDeed.OpenValve, RunDeed.OpenEnd, RunDeed.Answer, RunDeed.Next)
            .But(RunTest.MayNotOpen, TapFate.Blocked),
        Of([RunPress.Rush, RunPress.Steady, RunPress.Slow, RunPress.LeaveOpen], [], RunDeed.StopOnce, RunDeed.DrawEmpty, RunDeed.Answer, RunDeed.Next)
            .But(RunTest.NotStarted, TapFate.Stale),
        Of([RunPress.Trickle], [], RunDeed.StopOnce, RunDeed.DrawKept, RunDeed.CloseIfGray, RunDeed.Answer, RunDeed.Next)
            .But(RunTest.NotStarted, TapFate.Stale),
        Of([RunPress.Nothing], [], RunDeed.StopOnce, RunDeed.DrawKept, RunDeed.Answer, RunDeed.Next).But(RunTest.NotStarted, TapFate.Stale),
        Of([RunPress.Closed], [RunStepKind.Drain], RunDeed.StopOnce, RunDeed.DrawEmpty, RunDeed.CloseValve, RunDeed.Answer, RunDeed.Next)
            .But(RunTest.NotStarted, TapFate.Stale),
        Of([RunPress.Closed], [RunStepKind.Close], RunDeed.WaterOff, RunDeed.CloseValve, RunDeed.OpenEnd, RunDeed.Answer, RunDeed.Next),
        Of([RunPress.Closed], [], RunDeed.CloseValve).But(RunTest.Kept, TapFate.Blocked), // before pouring
        Of([RunPress.CloseOn], [], RunDeed.ShutForFill, RunDeed.FillAnew, RunDeed.WaterOn, RunDeed.StartOnce)
            .But(RunTest.Kept, TapFate.Blocked).But(RunTest.LimitRefused, TapFate.Blocked).But(RunTest.MayNotOpenBelow, TapFate.Blocked),
        Of([RunPress.WaterOn], [RunStepKind.Fill], RunDeed.FillOn, RunDeed.WaterOn, RunDeed.StartOnce)
            .But(RunTest.WaterOn, TapFate.Stale).But(RunTest.Kept, TapFate.Blocked).But(RunTest.EndNotClosed, TapFate.Blocked),
        Of([RunPress.WaterOn], [RunStepKind.OpenRinse], RunDeed.OpenValve, RunDeed.FillOn, RunDeed.WaterOn, RunDeed.StartOnce)
            .But(RunTest.WaterOn, TapFate.Stale).But(RunTest.MayNotOpen, TapFate.Blocked),
        Of([RunPress.WaterOn], [], RunDeed.FillOn, RunDeed.WaterOn, RunDeed.StartOnce).But(RunTest.WaterOn, TapFate.Stale),
        Of([RunPress.WaterOff], [RunStepKind.OpenRinse], RunDeed.WaterOff, RunDeed.Stop, RunDeed.Litres, RunDeed.Answer, RunDeed.Next)
            .But(RunTest.WaterOff, TapFate.Stale),
        Of([RunPress.WaterOff], [], RunDeed.WaterOff, RunDeed.Stop, RunDeed.Litres).But(RunTest.WaterOff, TapFate.Stale),
        Of([RunPress.Poured], [], RunDeed.CloseInRinse, RunDeed.StartOnce, RunDeed.Pour).But(RunTest.KeptInRinse, TapFate.Blocked),
        Of([RunPress.FloodOn], [], RunDeed.CloseEnd, RunDeed.OpenFlooding, RunDeed.OpenValve, RunDeed.StartAnew)
            .But(RunTest.Kept, TapFate.Blocked).But(RunTest.Flooded, TapFate.Blocked),
        Of([RunPress.FloodOff], [], RunDeed.CloseGrays, RunDeed.Stop).But(RunTest.NotFlooding, TapFate.Stale),
        // Gray is closed before the end valve opens.
        Of([RunPress.EndOpen], [], RunDeed.OpenEnd, RunDeed.Answer, RunDeed.Next)
            .But(RunTest.NotStarted, TapFate.Stale).But(RunTest.GrayOpen, TapFate.Blocked),
        // What still smells is rinsed again before anything is dosed; gray is closed for it.
        Of([RunPress.Again], [RunStepKind.Sniff], RunDeed.CloseGrays, RunDeed.RinseAgain).But(RunTest.NoRinseLeft, TapFate.Stale),
        Of([RunPress.Again], [], RunDeed.Answer, RunDeed.NextCycle),
        Of([RunPress.Enough], [], RunDeed.Answer, RunDeed.LeaveRinse),
        Of([RunPress.Fail], [], RunDeed.Answer),
        Of([RunPress.In], [], RunDeed.Litres, RunDeed.Answer, RunDeed.Next),
        Of([RunPress.Finish], [], RunDeed.Answer, RunDeed.WaterOff, RunDeed.Finish),
        Of([], [], RunDeed.Answer, RunDeed.Next),
    ];

    /// <summary>
    /// When a step has become pointless: no rinse, water or dose for a tank that kept what was in it, no top-up over a dripping valve, no dose while it smells,
    /// no second drain of gray after a repeated rinse.
    /// </summary>
    public IReadOnlyList<RunPointless> Pointless { get; } =
    [
        new([RunStepKind.TopUp], [RunTest.Drips]),
        new([RunStepKind.Sniff], [RunTest.AnyBlackKept]),
        new([RunStepKind.Dose], [RunTest.Kept, RunTest.Smells]),
        new([RunStepKind.Starter, RunStepKind.GrayCare], [RunTest.Kept]),
        new([RunStepKind.Drain], [RunTest.DrainedBeforeSmell]),
        new([], [RunTest.KeptInRinse]),
    ];

    /// <summary>The rule for a press in a step.</summary>
    internal RunRule For(RunPress press, RunStepKind kind) =>
        Rules.First(r => (r.Presses.Count == 0 || r.Presses.Contains(press)) && (r.In.Count == 0 || r.In.Contains(kind)));

    private static RunRule Of(IReadOnlyList<RunPress> presses, IReadOnlyList<RunStepKind> kinds, params RunDeed[] deeds) => new(presses, kinds, [], deeds);
}

file static class RuleBuilding
{
    public static RunRule But(this RunRule rule, RunTest when, TapFate fate) => rule with { Unless = [.. rule.Unless, new RunUnless(when, fate)] };
}
