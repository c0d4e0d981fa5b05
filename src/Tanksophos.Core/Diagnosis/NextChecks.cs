using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Diagnosis;

/// <summary>A check that a person can do to settle what the record leaves open.</summary>
public enum NextCheckCode
{
    /// <summary>Look at the panel again tomorrow.</summary>
    PanelTomorrow,

    /// <summary>Look down the toilet or drain with a flashlight.</summary>
    Flashlight,

    /// <summary>Test the house battery, with a load on.</summary>
    BatteryOk,

    /// <summary>Dump and flush hard, look at the panel next day.</summary>
    HardFlushThenPanel,

    /// <summary>Fill through a meter until the level is known to have passed the lamp.</summary>
    MeteredFill,

    /// <summary>Look at wire, ground and stud.</summary>
    WiringOk,
}

/// <summary>What a check may show.</summary>
public enum CheckOutcome
{
    /// <summary>The lamp in question is lit.</summary>
    Lit,

    /// <summary>The lamp in question is dark.</summary>
    Dark,

    /// <summary>Liquid stands at or above the lamp's height.</summary>
    Above,

    /// <summary>Liquid stands below the lamp's height.</summary>
    Below,

    /// <summary>What was tested is in order.</summary>
    Pass,

    /// <summary>What was tested is not in order.</summary>
    Fail,

    /// <summary>A level is seen, whatever it is.</summary>
    Level,
}

/// <summary>What an outcome would mean.</summary>
/// <param name="Outcome">What is seen.</param>
/// <param name="Chance">How likely that is, 0..1.</param>
/// <param name="Verdict">What would then be believed of the lamp in question; null if the check is not about a lamp.</param>
/// <param name="Probability">With what probability; for the panel, that it is at fault.</param>
public sealed record OutcomeMeaning(CheckOutcome Outcome, double Chance, ProbeVerdict? Verdict, double Probability);

/// <summary>A check worth doing.</summary>
/// <param name="Code">The check.</param>
/// <param name="Tank">Id of the tank; null if it is about the panel.</param>
/// <param name="Probe">Label of the lamp most in doubt; null if it is about the panel or the level.</param>
/// <param name="Bits">How much it is expected to tell, in bits.</param>
/// <param name="Worth">The same for its effort; the list is in this order.</param>
/// <param name="Outcomes">What each answer would mean.</param>
public sealed record NextCheck(NextCheckCode Code, string? Tank, string? Probe, double Bits, double Worth, IReadOnlyList<OutcomeMeaning> Outcomes)
{
    /// <summary>Litres to put in for a metered fill; 0 for other checks.</summary>
    public double FillL { get; init; }
}

/// <summary>Names the checks that would settle best what the record leaves open, by how much they are expected to tell for their effort.</summary>
internal static class NextChecks
{
    /// <summary>A check that tells less than this is not worth the way.</summary>
    public const double WorthDoing = 0.04;

    private const double InDoubt = 0.15; // bits of doubt about a lamp from which a check is looked for
    private const double PanelInDoubt = 0.03;
    private const double WideBand = 0.25; // of capacity
    private const int MaxLamps = 6, MaxChecks = 6;
    private const double FillOver = 0.04; // so far above the lamp, as a share of capacity, the level is brought
    // So much water is as much trouble as a look at the panel: two minutes at the tap, and room that is gone until the next dump.
    private const double LitresOfEffort = 15;
    private const double SightSd = 0.06, FilmNextDay = 0.04;

    // Chance that a battery or wiring test finds something, by what is so.
    private const double BatteryFoundIfPanel = 0.65, BatteryFoundOtherwise = 0.05, WiringFoundIfOff = 0.75, WiringFoundOtherwise = 0.06;

    /// <summary>Effort beside a look at the panel: minutes, dirt, having to be somewhere.</summary>
    public static double Effort(NextCheckCode code) => code switch
    {
        NextCheckCode.PanelTomorrow => 1,
        NextCheckCode.Flashlight => 1.3,
        NextCheckCode.BatteryOk => 1.5,
        NextCheckCode.HardFlushThenPanel => 3,
        NextCheckCode.MeteredFill => 3,
        NextCheckCode.WiringOk => 4,
    };

    /// <summary>The checks worth doing, best first; empty if nothing is in doubt.</summary>
    /// <param name="belief">What is believed now.</param>
    /// <param name="now">What is in force now.</param>
    public static IReadOnlyList<NextCheck> Compute(LevelBelief belief, Circumstances now)
    {
        ArgumentNullException.ThrowIfNull(belief);
        ArgumentNullException.ThrowIfNull(now);
        var checks = new List<NextCheck>();
        if (belief.Tanks.Any(t => t.Tank.Monitor.Kind != MonitorKind.None)) checks.AddRange(Panel(belief));
        // While the panel itself is in doubt, its lamps tell little of the probes, and battery comes before wires.
        foreach (var tank in belief.Tanks)
            checks.AddRange(Tank(tank, now)
            .Select(c => c.Code != NextCheckCode.Flashlight
            ? c with { Bits = c.Bits * (1 - belief.PanelFault), Worth = c.Worth * (1 - belief.PanelFault) } : c));
        return [.. checks.Where(c => c.Worth >= WorthDoing).OrderByDescending(c => c.Worth).ThenBy(c => c.Code).Take(MaxChecks)];
    }

    private static IEnumerable<NextCheck> Panel(LevelBelief belief)
    {
        var p = belief.PanelFault;
        if (p < PanelInDoubt) yield break;
        // Where it is the panel, the test also tells what of it.
        var test = Test(NextCheckCode.BatteryOk, null, null, p, BatteryFoundIfPanel, BatteryFoundOtherwise, null);
        var bits = test.Bits + p * Doubt([BatteryFoundIfPanel, 1 - BatteryFoundIfPanel]);
        yield return test with { Bits = bits, Worth = bits / Effort(NextCheckCode.BatteryOk) };
    }

    private static IEnumerable<NextCheck> Tank(TankBelief tank, Circumstances now)
    {
        if (tank.Filter is not { } filter || tank.ValveOpen) yield break;
        var capacity = tank.Tank.CapacityL;
        if (filter.Marks.Length == 0)
        {
            // Without lamps what is in doubt is the level itself.
            var width = (tank.Level.P95L - tank.Level.P05L) / capacity;
            if (width < WideBand) yield break;
            var bits = Math.Log2(Math.Max(1, width / 3.29 / SightSd));
            yield return new NextCheck(NextCheckCode.Flashlight, tank.Tank.Id, null, bits, bits / Effort(NextCheckCode.Flashlight),
                [new(CheckOutcome.Level, 1, null, 1)]);
            yield break;
        }
        var probes = tank.Probes.Take(filter.Marks.Length).ToList();
        var target = Enumerable.Range(0, probes.Count).MaxBy(i => Doubt([probes[i].Working, probes[i].StuckOn, probes[i].StuckOff]));
        if (Doubt([probes[target].Working, probes[target].StuckOn, probes[target].StuckOff]) < InDoubt) yield break;
        var lamps = Math.Min(probes.Count, Math.Max(MaxLamps, target + 1));
        var label = probes[target].Probe.Label;
        var (perDay, scatter, hookup) = filter.Inflow(now);
        NextCheck Found(NextCheckCode code, List<(ulong Code, double Weight, double[] Outcomes)> table, Func<int, CheckOutcome> group)
        {
            var bits = Information(table);
            return new NextCheck(code, tank.Tank.Id, label, bits, bits / Effort(code), Meanings(table, target, group));
        }

        var marks = filter.Marks[..lamps];
        CheckOutcome ByLamp(int pattern) => (pattern >> target & 1) == 1 ? CheckOutcome.Lit : CheckOutcome.Dark;
        yield return Found(NextCheckCode.PanelTomorrow,
            [.. filter.State.Stretches(marks, TankFilter.Slosh * capacity, perDay, scatter, hookup)
            .Select(c => (c.Code, c.Weight, Patterns(c.Code, c.Stretches, lamps, 0)))], ByLamp);

        // A flashlight tells the level to about a tenth either way: in steps of a tenth, with one at the lamp's own height.
        var edges = Enumerable.Range(1, 9).Select(i => 0.1 * i * capacity).Append(filter.Marks[target]).Order().ToArray();
        var own = Array.IndexOf(edges, filter.Marks[target]);
        yield return Found(NextCheckCode.Flashlight, [.. filter.State.Stretches(edges, SightSd * capacity, 0, 0, hookup)], stretch => stretch > own
            ? CheckOutcome.Above : CheckOutcome.Below);

        var emptied = new double[lamps + 1];
        emptied[0] = 1;
        yield return Found(NextCheckCode.HardFlushThenPanel,
            [.. filter.State.Stretches(marks, 0, 0, 0, hookup).Select(c => (c.Code, c.Weight, Patterns(c.Code, emptied, lamps, FilmNextDay)))], ByLamp);

        // Only where there is water, and where the tank keeps a tenth free by the cautious belief.
        var over = filter.Marks[target] + FillOver * capacity + (tank.Level.P95L - tank.Level.P50L);
        if (tank.Level.P50L < filter.Marks[target] && over < 0.9 * capacity && (now.Hookup is Hookup.Full or Hookup.Partial or Hookup.GrayDrain))
        {
            var filled = new double[lamps + 1];
            filled[target + 1] = 1;
            var fill = Found(NextCheckCode.MeteredFill,
                [.. filter.State.Stretches(marks, 0, 0, 0, hookup).Select(c => (c.Code, c.Weight, Patterns(c.Code, filled, lamps, 0)))], ByLamp);
            var litres = filter.Marks[target] + FillOver * capacity - tank.Level.P50L;
            // Water takes minutes, and it has to be dumped again.
            yield return fill with { FillL = litres, Worth = fill.Bits / (Effort(NextCheckCode.MeteredFill) + litres / LitresOfEffort) };
        }
        yield return Test(NextCheckCode.WiringOk, tank.Tank.Id, label, probes[target].StuckOff, WiringFoundIfOff, WiringFoundOtherwise, probes[target]);
    }

    // Chance of each pattern of lamps, as bits from the lowest, for one combination of probe states.
    private static double[] Patterns(ulong code, double[] stretches, int lamps, double film)
    {
        var chances = new double[1 << lamps];
        for (var stretch = 0; stretch < stretches.Length; stretch++)
        {
            if (stretches[stretch] < 1e-9) continue;
            for (var pattern = 0; pattern < chances.Length; pattern++)
            {
                var p = stretches[stretch];
                for (var i = 0; i < lamps; i++)
                {
                    var lit = JointState.ModeIn(code, i) switch
                    {
                        ProbeMode.Working => stretch > i ? 1 - TankFilter.Slip : TankFilter.Slip + film,
                        ProbeMode.Off => TankFilter.Slip,
                        ProbeMode.On => 1 - TankFilter.Slip,
                        ProbeMode.Film => stretch > i ? 1 - TankFilter.Slip : 0.5,
                    };
                    p *= (pattern >> i & 1) == 1 ? lit : 1 - lit;
                }
                chances[pattern] += p;
            }
        }
        return chances;
    }

    // Mutual information between what the probes are and what the check shows; a film is no state of its own.
    private static double Information(List<(ulong Code, double Weight, double[] Outcomes)> table)
    {
        var states = table.GroupBy(t => Verdicts(t.Code)).Select(g =>
        {
            var weight = g.Sum(t => t.Weight);
            var outcomes = new double[table[0].Outcomes.Length];
            foreach (var t in g) for (var o = 0; o < outcomes.Length; o++) outcomes[o] += t.Weight / weight * t.Outcomes[o];
            return (Weight: weight, Outcomes: outcomes);
        }).ToList();
        var total = states.Sum(s => s.Weight);
        var bits = 0.0;
        for (var o = 0; o < table[0].Outcomes.Length; o++)
        {
            var all = states.Sum(s => s.Weight / total * s.Outcomes[o]);
            if (all < 1e-12) continue;
            foreach (var s in states) if (s.Outcomes[o] > 1e-12) bits += s.Weight / total * s.Outcomes[o] * Math.Log2(s.Outcomes[o] / all);
        }
        return Math.Max(0, bits);
    }

    private static ulong Verdicts(ulong code)
    {
        var verdicts = 0UL;
        for (var i = 0; i < 31; i++)
        {
            var mode = JointState.ModeIn(code, i);
            if (mode > ProbeMode.Film) verdicts |= (ulong)mode << (2 * i);
        }
        return verdicts;
    }

    private static List<OutcomeMeaning> Meanings(List<(ulong Code, double Weight, double[] Outcomes)> table, int target, Func<int, CheckOutcome> group)
    {
        var chances = new SortedDictionary<CheckOutcome, double[]>();
        foreach (var (code, weight, outcomes) in table)
        {
            var state = JointState.ModeIn(code, target) switch
            {
                ProbeMode.On => ProbeVerdict.StuckOn,
                ProbeMode.Off => ProbeVerdict.StuckOff,
                ProbeMode.Working or ProbeMode.Film => ProbeVerdict.Working
            };
            for (var o = 0; o < outcomes.Length; o++)
            {
                var key = group(o);
                if (!chances.TryGetValue(key, out var sums)) chances[key] = sums = new double[3];
                sums[(int)state] += weight * outcomes[o];
            }
        }
        var meanings = new List<OutcomeMeaning>();
        foreach (var (outcome, sums) in chances)
        {
            var all = sums.Sum();
            if (all < 1e-4) continue;
            var best = Array.IndexOf(sums, sums.Max());
            meanings.Add(new OutcomeMeaning(outcome, all, (ProbeVerdict)best, sums[best] / all));
        }
        return meanings;
    }

    private static NextCheck Test(NextCheckCode code, string? tank, string? label, double fault, double foundIfFault, double foundOtherwise, ProbeBelief? probe)
    {
        var fail = fault * foundIfFault + (1 - fault) * foundOtherwise;
        double after = fault * foundIfFault / fail, afterPass = fault * (1 - foundIfFault) / (1 - fail);
        var bits = Math.Max(0, Doubt([fault, 1 - fault]) - fail * Doubt([after, 1 - after]) - (1 - fail) * Doubt([afterPass, 1 - afterPass]));
        OutcomeMeaning Meaning(CheckOutcome outcome, double chance, double faulty)
        {
            if (probe is null) return new OutcomeMeaning(outcome, chance, null, faulty);
            var rest = (1 - faulty) / Math.Max(1e-9, probe.Working + probe.StuckOn);
            (ProbeVerdict Verdict, double Chance)[] states = [(ProbeVerdict.Working, probe.Working * rest), (ProbeVerdict.StuckOn, probe.StuckOn * rest),
                (ProbeVerdict.StuckOff, faulty)];
            var best = states.MaxBy(s => s.Chance);
            return new OutcomeMeaning(outcome, chance, best.Verdict, best.Chance);
        }
        return new NextCheck(code, tank, label, bits, bits / Effort(code),
            [Meaning(CheckOutcome.Pass, 1 - fail, afterPass), Meaning(CheckOutcome.Fail, fail, after)]);
    }

    private static double Doubt(double[] chances) => chances.Where(p => p > 0).Sum(p => -p * Math.Log2(p));
}
