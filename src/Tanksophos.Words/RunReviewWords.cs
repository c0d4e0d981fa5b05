using System.Globalization;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Words;

/// <summary>How a run went, in words.</summary>
/// <param name="units">Measures.</param>
public sealed class RunReviewWords(Units units)
{
    private static string N(double v) => v.ToString("0", CultureInfo.InvariantCulture);

    /// <summary>A time in minutes.</summary>
    public static string Minutes(double minutes) => minutes < 1 ? "under 1 min" : $"{N(minutes)} min";

    /// <summary>The sniff test.</summary>
    public static string Sniff(CheckResult result) => result == CheckResult.Pass ? "passed" : "failed";

    /// <summary>What such a run takes.</summary>
    public static string Against(double minutes, int runs) => runs == 0 ? $"Planned: {N(Math.Ceiling(minutes))} minutes."
        : $"Going by your last {(runs == 1 ? "run" : $"{runs} runs")} of this kind: {N(Math.Ceiling(minutes))} minutes.";

    /// <summary>What is said of a tank, and whether it is out of the ordinary.</summary>
    public IEnumerable<(string Text, bool Odd)> Of(TankReview tank)
    {
        ArgumentNullException.ThrowIfNull(tank);
        var usual = tank.UsualSeconds is { } u ? $" Usually {RunWords.Clock(u)} from that level." : "";
        yield return (tank.Dump.Flow switch
        {
            DumpFlow.None => "Nothing came out. Add nothing until it drains.",
            DumpFlow.Trickle => "Only a trickle came out. Add nothing until it drains.",
            _ => tank.Dump.Minutes is { } m ? $"Drained in {RunWords.Clock(m * 60)}{(tank.Dump.Flow is { } f ? $", {Flow(f)}" : "")}.{usual}"
                : $"Drained{(tank.Dump.Flow is { } how ? $", {Flow(how)}" : "")}.",
        }, tank.Slow);
        if (tank.Slow && tank.Dump.Flow is not (DumpFlow.None or DumpFlow.Trickle))
            yield return ("Slower than usual for this rig. Watch the next dump. Twice in a row points to a clog or a waste pile.", true);
        if (tank.Cycles.Count == 0) yield break;
        var count = tank.Cycles.Count == 1 ? "1 rinse" : $"{tank.Cycles.Count} rinses";
        var before = tank.UsualCycles is { Rinses: > 0 } c ? $" Expected from your log: {c.Further[0].ToString("0.#", CultureInfo.InvariantCulture)}." : "";
        var end = tank.Cycles[^1].End switch
        {
            EndColor.Clear when tank.EndedClear => " until the end ran clear",
            EndColor.Clear => ", clear water but still debris at the end",
            EndColor.Tinted => ", still tinted at the end",
            EndColor.Dark => ", still dark at the end",
            _ => ", the end not looked at",
        };
        yield return ($"{count}{end}.{before}", tank.ManyCycles);
        if (tank.ManyCycles) yield return ("More than this tank usually needs. That points to buildup. A soak or a scrub before the next drive helps.", true);
        if (tank.Trend is { Rises: true } trend)
            yield return ($"Rinses until clear are rising, about {trend.PerMonth.ToString("0.#", CultureInfo.InvariantCulture)} more a month.", true);
        var water = tank.Cycles.Sum(x => x.WaterL ?? 0);
        if (water > 0) yield return ($"{units.Volume(water)} of rinse water counted.", false);
    }

    /// <summary>Asks for the panel after a run.</summary>
    public static string ReadPanel(IReadOnlyList<Tank> tanks)
    {
        ArgumentNullException.ThrowIfNull(tanks);
        return $"Look at the panel now. {(tanks.Count == 1 ? $"{tanks[0].Name} was" : $"{EntryWords.And([.. tanks.Select(t => t.Name)])} were")} just emptied. "
            + "A light that's still on may be wet film; if it's on again tomorrow, don't trust it.";
    }

    /// <summary>The press that logs a tank's panel.</summary>
    public static string LogPanel(Tank tank)
    {
        ArgumentNullException.ThrowIfNull(tank);
        return $"{tank.Name}: log the lights";
    }

    private static string Flow(DumpFlow flow) => flow switch
    {
        DumpFlow.Rush => "in one rush",
        DumpFlow.Steady => "steady",
        DumpFlow.Slow => "slow",
        _ => "",
    };
}
