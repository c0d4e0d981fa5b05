using NodaTime;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Tests.Dumping;

/// <summary>Settings of runs, and somebody who presses.</summary>
internal static class Runs
{
    public static readonly Instant Noon = Instant.FromUtc(2026, 6, 9, 18, 0);

    public static readonly Equipment Kit = new()
    {
        FlushInlet = true,
        JugL = 19,
        Wand = "flexible",
        ToiletDrop = "straight",
        HoseLengthM = 4.6,
        ClearPiece = true,
        BackflowPreventer = true
    };

    public static Rig Rig(Equipment? kit = null, HouseRules? rules = null, bool gray = true) => new("Test rig", "van", 2,
        [new Tank("black", "Black", TankRole.Black, 150) { RoomAboveFullL = 12,
            Monitor = TankMonitor.WithProbes(new Probe("low", "1/3", 0.33), new Probe("top", "Full", 0.92)) }, .. gray
            ? [new Tank("gray", "Gray", TankRole.Gray, 190)] : Array.Empty<Tank>()])
    { Equipment = kit ?? Kit, Rules = rules };

    public static RunSetting Setting(double black = 100, double gray = 90, Equipment? kit = null, HouseRules? rules = null, RunPlace? place = RunPlace.Sewer,
        bool grayTank = true)
    {
        var rig = Rig(kit, rules, grayTank);
        return new RunSetting
        {
            Rig = rig,
            Place = place,
            SetUpKnown = true,
            Tanks = [.. rig.Tanks.Select(t => new RunTank(t, Band(t.Role == TankRole.Black ? black : gray), new LevelBand(0.8, 1.5, 4),
                false) { Usual = new UsualDrain(130, 220, 3) })],
        };
    }

    public static LevelBand Band(double litres) => new(Math.Max(0, litres - 6), litres, litres + 6);

    public static RunScript Script(RunSetting setting, RunForm form = RunForm.Full) => RunBuilder.Offer(setting, form).Script
        ?? throw new InvalidOperationException(string.Join(", ", RunBuilder.Offer(setting, form).Refused));

    public static RunStepKind[] Kinds(RunScript script) => [.. script.Steps.Select(s => s.Kind)];
}

/// <summary>Presses through a run, a few seconds between.</summary>
internal sealed class Presser
{
    private readonly List<RunEvent> taps = [];
    private Instant now = Runs.Noon;
    private int number;

    public Presser(RunScript script) => (Script, State) = (script, RunState.Replay(script, []));

    public RunScript Script { get; }

    public RunState State { get; }

    public IReadOnlyList<RunEvent> Taps => taps;

    public Instant Now => now;

    public Presser Wait(double seconds)
    {
        now += Duration.FromSeconds(seconds);
        return this;
    }

    public TapFate Last { get; private set; }

    public Presser Press(RunPress press, params (string Field, string Value)[] said)
    {
        Wait(2);
        var tap = new RunEvent($"k{++number}", now, State.Step.Id, State.Round, press, said.ToDictionary(s => s.Field, s => s.Value));
        taps.Add(tap);
        Last = State.Apply(tap);
        return this;
    }

    /// <summary>Presses on until a kind of step is in front.</summary>
    public Presser To(RunStepKind kind)
    {
        for (var i = 0; i < 100 && State.Step.Kind != kind; i++)
        {
            var first = State.Step.Presses[0];
            switch (State.Step.Kind)
            {
                case RunStepKind.Drain:
                    Press(RunPress.Open).Wait(120).Press(State.Step.Presses.Contains(RunPress.Rush) ? RunPress.Rush : RunPress.Closed);
                    break;
                case RunStepKind.Fill:
                    Press(RunPress.CloseOn).Wait(60).Press(RunPress.Open);
                    break;
                case RunStepKind.Pour:
                    Press(RunPress.Poured, ("litres", "19")).Press(RunPress.Open);
                    break;
                case RunStepKind.Judge:
                    Press(RunPress.Enough, ("end", "clear"), ("debris", "none"));
                    break;
                case RunStepKind.TopUp:
                    Press(State.Step.Presses.Contains(RunPress.Poured) ? RunPress.Poured : RunPress.WaterOn, ("litres", "4")).Wait(30).Press(RunPress.Done);
                    break;
                case RunStepKind.OpenRinse:
                    Press(RunPress.WaterOn).Wait(300).Press(RunPress.WaterOff);
                    break;
                default:
                    Press(first);
                    break;
            }
        }
        State.Step.Kind.ShouldBe(kind);
        return this;
    }
}
