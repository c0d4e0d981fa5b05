using System.Globalization;
using Tanksophos.Core.Agendas;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Outlook;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;

namespace Tanksophos.Words;

/// <summary>What a step asks for, in words.</summary>
/// <param name="When">"Today by 19:00", "Now", or empty.</param>
/// <param name="Title">The instruction.</param>
/// <param name="Reason">Why, in a sentence.</param>
/// <param name="Because">The figures behind it, line by line.</param>
/// <param name="Caution">What can hurt, if something can.</param>
public sealed record StepText(string When, string Title, string Reason, IReadOnlyList<string> Because, string? Caution = null);

/// <summary>The figures behind a step of the outlook, in a person's units and local time.</summary>
/// <param name="picture">What is believed.</param>
/// <param name="units">The person's units.</param>
/// <param name="times">Local time.</param>
/// <param name="highC">Hottest day of the week ahead in C; null if it is not known.</param>
public sealed class StepWords(Situation picture, Units units, TimeWords times, double? highC = null)
{
    private Rig Rig => picture.Logbook.Rig;

    private HouseRules Rules => Rig.RulesInForce;

    /// <summary>The figures, line by line.</summary>
    public IReadOnlyList<string> Of(NextStep step)
    {
        ArgumentNullException.ThrowIfNull(step);
        var tank = step.Tank is { } id ? picture.Belief[id] : null;
        return step.Code switch
        {
            StepCode.CloseBlack => Lines(step.Since is { } s ? $"Open since {times.At(s)}." : null,
                "Close it, put water in, and let it fill to the dump level before the next dump."),
            StepCode.DumpBlack => [.. Marks(tank!, step), DumpRule()],
            StepCode.TopUpAndDump =>
                [.. Marks(tank!, step), $"By then it is {step.Days?.ToString("0", CultureInfo.InvariantCulture)} days since the last dump; expected level "
                    + $"{Percent(step.Fraction)}."],
            StepCode.CloseGray => [$"Wanted for the rinse: {units.Volume(GrayRinse.TargetL(Rig, Rules, tank!.Tank))}. The hose holds about "
                + $"{units.Volume(GrayRinse.HoseL(Rig))}.",
                "The time is set so that a low-use day still reaches that, and a busy day does not fill the tank.", .. Flow(tank)],
            StepCode.DumpSoak => Lines($"Put in {times.At(step.Since!.Value)}.", step.ExpectedAt is { } stood ? $"Let it sit until {times.At(stood)}." : null),
            StepCode.OpenGray => Lines(Rules.GrayAtFullHookup == GrayAtFullHookup.Bank ? "Your rule: open between dumps, closed in time before you dump black."
                : "Your rule: open except while you dump black.", $"In it now: {units.Volume(tank!.Level.P50L)}."),
            StepCode.FindSewer => [.. Marks(tank!, step), .. Figures(tank!)],
            StepCode.StopFilling or StepCode.DumpGray or StepCode.FindGrayDrain => [.. Figures(tank!)],
            StepCode.StarterWater => Lines(step.Since is { } e ? $"Emptied {times.At(e)}; no water logged since." : null,
                "A tenth of the tank, at least a gallon, and what the dose asks for. It is the same water."),
            StepCode.Dose => Dose(step, tank!),
            StepCode.LookInside => [$"Likely {Percent(tank!.Fraction(tank.Level.P05L))} to {Percent(tank.Fraction(tank.Level.P95L))}."],
            StepCode.CatchUp => [$"Last entry: {times.At(step.Since!.Value)}.",
                "Log the place, then a dump or a look into each tank. You can add what happened in between with its own date."],
            StepCode.PropaneAlarm or StepCode.CheckLamp or StepCode.SayWhere => [],
        };
    }

    private string[] Dose(NextStep step, TankBelief tank)
    {
        var product = Shelf.For(Rig, Rules.Treatment);
        var dose = DoseCalculator.Routine(Rules.Treatment,
            new DoseCase(tank.Tank.CapacityL) { Units = units == Units.Us ? KitchenUnits.Us : KitchenUnits.Metric, HighC = highC, Product = product });
        var lasts = product?.Dose?.LastsDays ?? RoutineDose.LastsDays;
        return [step.Since is { } last
            ? $"The last dose was {times.Ago(last)}; it works for {(lasts == RoutineDose.LastsDays ? "about a week" : $"about {lasts} days")}."
            : "Nothing was dosed since the tank was last emptied.", $"Your rule: {EntryWords.Spaced(Rules.Treatment)}.", .. dose.Why.Skip(1)
            .Select(l => DoseWords.Of(l, dose.Units))];
    }

    private IEnumerable<string> Marks(TankBelief tank, NextStep step)
    {
        var outlook = picture.Advice[tank.Tank.Id];
        if (outlook.DumpExpected is { } e)
            yield return $"Dump level ({units.Volume(outlook.DumpLevelL)}) expected "
                + $"{times.At(e)}{(outlook.DumpCautious is { } c ? $", in busy days {times.At(c)}" : "")}.";
        if (step.Days is { } days)
            yield return $"{days.ToString("0.#", CultureInfo.InvariantCulture)} days since it was last emptied; your rule allows {Rules.MaxDays}.";
        foreach (var line in Flow(tank)) yield return line;
    }

    private IEnumerable<string> Figures(TankBelief tank)
    {
        var outlook = picture.Advice[tank.Tank.Id];
        yield return $"Now {units.Volume(tank.Level.P50L)} of {units.Volume(tank.Tank.CapacityL)}, between {units.Number(tank.Level.P05L)} and "
            + $"{units.Volume(tank.Level.P95L)}.";
        if (outlook.FullExpected is { } e)
            yield return $"Completely full expected {times.At(e)}{(outlook.FullCautious is { } c ? $", in busy days {times.At(c)}" : "")}.";
        foreach (var line in Flow(tank)) yield return line;
    }

    private IEnumerable<string> Flow(TankBelief tank)
    {
        var people = picture.Advice.Circumstances.People;
        if (people > 0) yield return $"Counted: {units.Volume(tank.InflowLPerPersonDay)} per person and day, {people} people.";
    }

    private string DumpRule() => $"Your rule: dump black at {Percent(Rules.DumpBlackAt)}. Lower leaves solids behind, higher leaves less room for a mistake.";

    private static string[] Lines(params string?[] lines) => [.. lines.OfType<string>()];

    /// <summary>A share as "58 %"; the sign never goes to a line of its own.</summary>
    // the sign never stands alone on a line
    public static string Percent(double? share) => ((share ?? 0) * 100).ToString("0", CultureInfo.InvariantCulture) + "\u00a0%";

}
