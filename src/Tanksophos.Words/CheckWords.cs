using System.Globalization;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Words;

/// <summary>What a check would tell, in a sentence or two.</summary>
public static class CheckWords
{
    /// <summary>What a check of a cause would tell.</summary>
    public static string Why(CauseCheck check, LevelBelief belief)
    {
        ArgumentNullException.ThrowIfNull(check);
        ArgumentNullException.ThrowIfNull(belief);
        if (check.Code == CauseCheckCode.PropaneRuledOut && check.Outcomes.Count == 0)
            return "A propane alarm is active. Treat it as real until a qualified person rules out propane.";
        var answers = check.Outcomes.Select(o =>
            $"{Outcome(o.Outcome)}: {(o.Cause is { } c ? Codes<OdorCause>.Word(c) : Codes<Condition>.Word(o.Condition!.Value))} {Percent(o.Probability)}");
        return $"This tells the most about what is not sure yet{(check.Tank is { } id ? $" with {belief[id].Tank.Name}" : "")}. {string.Join("; ", answers)}.";
    }

    /// <summary>What a check of a sensor would tell.</summary>
    public static string Why(NextCheck check, LevelBelief belief)
    {
        ArgumentNullException.ThrowIfNull(check);
        ArgumentNullException.ThrowIfNull(belief);
        if (check.Tank is null) return $"The whole panel may be at fault ({Percent(belief.PanelFault)}). A low battery is the most common cause.";
        var tank = belief[check.Tank];
        if (check.Probe is null)
            return $"The level of {tank.Tank.Name} is only known to be {Percent(tank.Fraction(tank.Level.P05L))} to {Percent(tank.Fraction(tank.Level.P95L))}.";
        var meanings = check.Outcomes.Where(o => o.Verdict is not null)
            .Select(o => $"{Outcome(o.Outcome)}: {Verdict(o.Verdict!.Value)} ({Percent(o.Probability)})");
        return $"The {check.Probe} light of {tank.Tank.Name} is in doubt. {string.Join("; ", meanings)}.";
    }

    private static string Percent(double share) => string.Create(CultureInfo.InvariantCulture, $"{100 * share:0} %");

    private static string Outcome(CheckOutcome outcome) => outcome switch
    {
        CheckOutcome.Lit => "on",
        CheckOutcome.Dark => "off",
        CheckOutcome.Above => "liquid at or above it",
        CheckOutcome.Below => "liquid below it",
        CheckOutcome.Pass => "OK",
        CheckOutcome.Fail => "problem",
        CheckOutcome.Level => "a level",
        _ => throw new ArgumentOutOfRangeException(nameof(outcome), outcome, null),
    };

    private static string Verdict(ProbeVerdict verdict) => verdict switch
    {
        ProbeVerdict.StuckOn => "stuck on",
        ProbeVerdict.StuckOff => "stuck off",
        ProbeVerdict.Working => "works",
        _ => throw new ArgumentOutOfRangeException(nameof(verdict), verdict, null),
    };
}
