using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Diagnosis;

/// <summary>What a check's answer would leave as the likeliest.</summary>
/// <param name="Outcome">The answer.</param>
/// <param name="Chance">How likely it is, 0..1.</param>
/// <param name="Cause">The likeliest cause of the smell then; null if the check is about a condition.</param>
/// <param name="Condition">The condition in question; null if the check is about a smell.</param>
/// <param name="Probability">With what probability.</param>
public sealed record CauseMeaning(CheckOutcome Outcome, double Chance, OdorCause? Cause, Condition? Condition, double Probability);

/// <summary>A check that would settle best what is behind a smell or a trouble.</summary>
/// <param name="Code">The check.</param>
/// <param name="Tank">Id of the tank; null if it is about the rig.</param>
/// <param name="Bits">How much it is expected to tell, in bits.</param>
/// <param name="Worth">The same for its effort.</param>
/// <param name="Outcomes">What each answer would mean.</param>
public sealed record CauseCheck(CauseCheckCode Code, string? Tank, double Bits, double Worth, IReadOnlyList<CauseMeaning> Outcomes);

/// <summary>Checks that a person can do about smells, clogs and valves.</summary>
public enum CauseCheckCode
{
    /// <summary>Toilet valve open, fan on for a second.</summary>
    SniffTest,

    /// <summary>Fill the bowl, look again after some hours.</summary>
    BowlHoldsWater,

    /// <summary>Look into every drain for water.</summary>
    TrapsWet,

    /// <summary>Look whether the roof vent is clear.</summary>
    RoofVentClear,

    /// <summary>Take the cap off with the valves closed.</summary>
    CapDry,

    /// <summary>Look over hose, lugs and gaskets.</summary>
    HoseSound,

    /// <summary>A square of paper in a glass.</summary>
    PaperDissolves,

    /// <summary>A look down the toilet.</summary>
    Flashlight,

    /// <summary>Someone qualified rules propane out.</summary>
    PropaneRuledOut,
}

/// <summary>Weighs checks by how much they are expected to tell for their effort.</summary>
public static class CauseChecks
{
    /// <summary>A check that tells less than this for its effort is not named.</summary>
    public const double WorthDoing = 0.02;

    /// <summary>Effort beside a look at the panel.</summary>
    public static double Effort(CauseCheckCode code) => code switch
    {
        CauseCheckCode.SniffTest => 1,
        CauseCheckCode.BowlHoldsWater => 1.2,
        CauseCheckCode.TrapsWet => 1.1,
        CauseCheckCode.CapDry => 1.5,
        CauseCheckCode.HoseSound => 1.6,
        CauseCheckCode.Flashlight => 1.3,
        CauseCheckCode.PaperDissolves => 1.2,
        CauseCheckCode.RoofVentClear => 3.5, // a ladder
        CauseCheckCode.PropaneRuledOut => 2,
    };

    // How often the check fails with each cause of a smell, and otherwise; what is not listed fails as otherwise.
    private static readonly Dictionary<CauseCheckCode, (double Otherwise, Dictionary<OdorCause, double> With)> Smells = new()
    {
        [CauseCheckCode.SniffTest] = (0.2,
            new()
            {
                [OdorCause.BlackCoated] = 0.9,
                [OdorCause.BlackAnaerobic] = 0.7,
                [OdorCause.BowlSeal] = 0.35,
                [OdorCause.FanDraw] = 0.45,
                [OdorCause.VentBlocked] = 0.5
            }),
        [CauseCheckCode.BowlHoldsWater] = (0.06, new() { [OdorCause.BowlSeal] = 0.94 }),
        [CauseCheckCode.TrapsWet] = (0.1, new() { [OdorCause.DryTrap] = 0.92 }),
        [CauseCheckCode.RoofVentClear] = (0.05, new() { [OdorCause.VentBlocked] = 0.92 }),
        [CauseCheckCode.CapDry] = (0.08, new() { [OdorCause.HoseOrCap] = 0.6 }),
        [CauseCheckCode.HoseSound] = (0.08, new() { [OdorCause.HoseOrCap] = 0.65 }),
        [CauseCheckCode.PropaneRuledOut] = (0.02, new() { [OdorCause.Propane] = 0.97 }),
    };

    // The same for conditions of a tank.
    private static readonly (CauseCheckCode Code, Condition Condition, double With, double Otherwise)[] Tanks =
    [
        (CauseCheckCode.SniffTest, Condition.Buildup, 0.75, 0.15),
        (CauseCheckCode.RoofVentClear, Condition.VentBlocked, 0.92, 0.05),
        (CauseCheckCode.CapDry, Condition.ValveLeak, 0.85, 0.07),
        (CauseCheckCode.Flashlight, Condition.Heap, 0.85, 0.03),
        (CauseCheckCode.PaperDissolves, Condition.Heap, 0.5, 0.2),
    ];

    /// <summary>The checks worth doing, best first. While a propane alarm stands there is only one.</summary>
    /// <param name="rig">The rig.</param>
    /// <param name="conditions">What is believed of each tank.</param>
    /// <param name="odors">What is believed of the smells.</param>
    /// <param name="alarm">Whether a propane alarm stands.</param>
    /// <param name="doneLately">Whether a check was done so lately that doing it again tells nothing.</param>
    public static IReadOnlyList<CauseCheck> Build(Rig rig, IReadOnlyDictionary<string, IReadOnlyList<ConditionBelief>> conditions,
        IReadOnlyList<OdorBelief> odors, bool alarm, Func<CauseCheckCode, bool> doneLately)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(conditions);
        ArgumentNullException.ThrowIfNull(odors);
        ArgumentNullException.ThrowIfNull(doneLately);
        if (alarm) return [new CauseCheck(CauseCheckCode.PropaneRuledOut, null, 1, 1, [])];
        var bits = new Dictionary<CauseCheckCode, (double Bits, double Best, string? Tank, IReadOnlyList<CauseMeaning> Outcomes)>();
        void Add(CauseCheckCode code, string? tank, double told, IReadOnlyList<CauseMeaning> outcomes)
        {
            var before = bits.GetValueOrDefault(code);
            // The question it tells most about is the one whose answers are shown.
            bits[code] = told > before.Best ? (before.Bits + told, told, tank, outcomes) : (before.Bits + told, before.Best, before.Tank, before.Outcomes);
        }
        if (odors.Count > 0)
            foreach (var (code, (otherwise, with)) in Smells)
            {
                var fails = odors.Select(o => with.GetValueOrDefault(o.Cause, otherwise)).ToArray();
                var (told, outcomes) = OfSmell(odors, fails, otherwise);
                Add(code, null, told, outcomes);
            }
        foreach (var (tank, beliefs) in conditions)
            foreach (var (code, condition, with, otherwise) in Tanks)
            {
                var p = beliefs.First(b => b.Code == condition).Probability;
                // A healthy rig is not sent up a ladder for the odd chance.
                if (p < 0.08) continue;
                var fail = p * with + (1 - p) * otherwise;
                double ifFail = p * with / fail, ifPass = p * (1 - with) / (1 - fail);
                var told = Doubt(p) - fail * Doubt(ifFail) - (1 - fail) * Doubt(ifPass);
                Add(code, tank, told, [new CauseMeaning(CheckOutcome.Pass, 1 - fail, null, condition, ifPass),
                    new CauseMeaning(CheckOutcome.Fail, fail, null, condition, ifFail)]);
            }
        return
        [
            .. bits.Where(b => !doneLately(b.Key))
                .Select(b => new CauseCheck(b.Key, b.Value.Tank, b.Value.Bits, b.Value.Bits / Effort(b.Key), b.Value.Outcomes))
                .Where(c => c.Worth >= WorthDoing).OrderByDescending(c => c.Worth).ThenBy(c => c.Code),
        ];
    }

    /// <summary>The check of the log that answers it; null for a look that is logged as a reading.</summary>
    public static CheckCode? CodeOf(CauseCheckCode code) => code switch
    {
        CauseCheckCode.SniffTest => CheckCode.SniffTest,
        CauseCheckCode.BowlHoldsWater => CheckCode.BowlHoldsWater,
        CauseCheckCode.TrapsWet => CheckCode.TrapsWet,
        CauseCheckCode.RoofVentClear => CheckCode.RoofVentClear,
        CauseCheckCode.CapDry => CheckCode.CapDry,
        CauseCheckCode.HoseSound => CheckCode.HoseSound,
        CauseCheckCode.PaperDissolves => CheckCode.PaperDissolves,
        CauseCheckCode.PropaneRuledOut => CheckCode.PropaneRuledOut,
        CauseCheckCode.Flashlight => null,
    };

    private static (double Bits, IReadOnlyList<CauseMeaning> Outcomes) OfSmell(IReadOnlyList<OdorBelief> odors, double[] fails, double otherwise)
    {
        var rest = Math.Max(0, 1 - odors.Sum(o => o.Probability));
        var chances = odors.Select((o, i) => (o.Probability, Fail: fails[i])).Append((rest, otherwise)).ToList();
        var fail = chances.Sum(c => c.Item1 * c.Item2);
        var bits = 0.0;
        foreach (var (p, f) in chances)
        {
            if (p <= 0) continue;
            bits += p * (f * Math.Log2(f / fail) + (1 - f) * Math.Log2((1 - f) / (1 - fail)));
        }
        CauseMeaning Meaning(CheckOutcome outcome, double chance, Func<double, double> of)
        {
            var (cause, likely) = odors.Select((o, i) => (o.Cause, o.Probability * of(fails[i]) / chance)).MaxBy(x => x.Item2);
            return new CauseMeaning(outcome, chance, cause, null, likely);
        }
        return (bits, [Meaning(CheckOutcome.Pass, 1 - fail, f => 1 - f), Meaning(CheckOutcome.Fail, fail, f => f)]);
    }

    private static double Doubt(double p) => p is <= 0 or >= 1 ? 0 : -p * Math.Log2(p) - (1 - p) * Math.Log2(1 - p);
}
