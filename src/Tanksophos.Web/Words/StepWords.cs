using System.Globalization;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Outlook;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;
using Tanksophos.Web.App;

namespace Tanksophos.Web.Words;

/// <summary>What a step asks for, in words.</summary>
/// <param name="When">"Today by 19:00", "Now", or empty.</param>
/// <param name="Title">The instruction.</param>
/// <param name="Reason">Why, in a sentence.</param>
/// <param name="Because">The figures behind it, line by line.</param>
/// <param name="Caution">What can hurt, if something can.</param>
public sealed record StepText(string When, string Title, string Reason, IReadOnlyList<string> Because, string? Caution = null);

/// <summary>Turns the core's steps into words in a person's units and local time.</summary>
/// <param name="picture">What is believed.</param>
/// <param name="units">The person's units.</param>
/// <param name="times">Local time.</param>
/// <param name="highC">Hottest day of the week ahead in C; null if it is not known.</param>
public sealed class StepWords(Picture picture, Units units, TimeWords times, double? highC = null)
{
    private Rig Rig => picture.Logbook.Rig;

    private HouseRules Rules => Rig.RulesInForce;

    /// <summary>The words for one step.</summary>
    public StepText Of(NextStep step)
    {
        ArgumentNullException.ThrowIfNull(step);
        var tank = step.Tank is { } id ? picture.Belief[id] : null;
        var name = tank is null ? "" : Lower(tank.Tank.Name);
        var when = step.Due is { } due ? times.By(due) : "";
        return step.Code switch
        {
            StepCode.PropaneAlarm => new("Now", "Propane alarm: everyone out", "No flames, no switches. Leave first; then close the gas at the cylinder only if you can reach it safely, and call for help from outside.",
                [$"The alarm was logged {times.Ago(step.Since!.Value)}. It stands until someone qualified has ruled out propane and that is logged."]),
            StepCode.CloseBlack => new("Now", $"Close the {name} valve", "While it stands open the liquid runs off and the solids stay, dry and set hard.",
                Lines(step.Since is { } s ? $"Open since {times.At(s)}." : null, "Close it, put water in, and let it fill to the dump level before the next dump.")),
            StepCode.StopFilling => new("Now", $"Let nothing more into {name}", "It may be full to the top, and there is no drain here. It comes out of the roof vent or the toilet next.",
                [.. Figures(tank!)], "Never leave a full tank in use while you look for a sewer."),
            StepCode.DumpBlack => new(when, $"Dump run: {name} at {Percent(step.Fraction)}, then gray", "At this level it leaves in one fast rush that takes the bottom along.",
                [.. Marks(tank!, step), DumpRule()], "Gloves on, eyes covered. Hose attached at both ends before any valve moves."),
            StepCode.TopUpAndDump => new(when, $"Top up {name} with {units.Volume(step.WaterL ?? 0)}, then dump", $"The house rule of {Rules.MaxDays} days runs out before the tank is full enough. Topped up to 2/3 it still leaves in a rush.",
                [.. Marks(tank!, step), $"By then it will have been {step.Days?.ToString("0", CultureInfo.InvariantCulture)} days since it was last emptied; expected level {Percent(step.Fraction)}."], "Stay at the water while a closed tank fills: an overfilled one comes out on the roof."),
            StepCode.CloseGray => new(when, $"Close the {name} valve", $"Gray water will then stand ready to rinse the hose after the black dump{(step.ExpectedAt is { } d ? " " + times.At(d) : "")}.",
                [$"Wanted for the rinse: the larger of {Percent(Rules.GrayTargetAtDump)} of the tank and four times what the hose holds, at most three quarters.", "The hour is such that a thrifty day still reaches that, and a busy one does not fill the tank.", .. Flow(tank!)]),
            StepCode.DumpGray => new(when, $"Dump {name}", "It would run over before the next black dump. If both are due, black goes first.", [.. Figures(tank!)]),
            StepCode.DumpSoak => new(when, $"{TreatmentWords.Title(step.Recipe!.Value)} in {name}: dump and flush", step.Due is { } over && over > times.Now ? "It stands until then. Leave the tank alone, or leave room for what is still used." : "It has done its work; what it loosened should leave before it settles.",
                Lines($"Put in {times.At(step.Since!.Value)}.", step.ExpectedAt is { } stood ? $"It was to stand until {times.At(stood)}." : null, picture.Advice.Circumstances.Hookup == Hookup.Full || tank!.Tank.Role == TankRole.Gray ? null : "Black goes only where a sewer is."), "No other product on top of it."),
            StepCode.OpenGray => new(when, $"Open the {name} valve", step.ExpectedAt is { } c ? $"It may drain here until it is needed for the rinse; close it again {times.At(c)}." : "It may drain here, so nothing has to be carried.",
                Lines(Rules.GrayAtFullHookup == GrayAtFullHookup.Bank ? "House rule: bank. Open between dumps, closed in time before the black dump. It is what most people do; a gray kept closed and dumped in batches stays cleaner but is more work." : "House rule: open except while black is dumped.", $"In it now: {units.Volume(tank!.Level.P50L)}."), "Sewer hose attached at both ends first. Never both valves open at once."),
            StepCode.FindSewer => new(when, $"Be at a sewer for {name}", tank!.LastEmptied is not null && step.CautiousAt is { } o && step.Due is { } dd && o > dd.Plus(NodaTime.Duration.FromHours(20)) ? $"The house rule of {Rules.MaxDays} days between dumps runs out then." : "In a busy week it could be full to the top by then.",
                [.. Marks(tank, step), .. Figures(tank)]),
            StepCode.FindGrayDrain => new(when, $"Be at a drain for {name}", "With busy days it could be full to the top by then. Dish water and warm-up water can go down the toilet instead.",
                [.. Figures(tank!)], "Where gray may be put on the ground is a matter of local rules; never assume."),
            StepCode.StarterWater => new(when, $"Put {units.Volume(step.WaterL ?? 0)} of water into {name}", "Enough to cover the bottom, so that nothing lands on a dry floor.",
                Lines(step.Since is { } e ? $"Emptied {times.At(e)}; no water logged since." : null, "A tenth of the tank, at least a gallon, and what the dose asks for; it is the same water.")),
            StepCode.Dose => Dose(step, tank!, name, when),
            StepCode.CheckLamp => new("", $"{tank!.Tank.Name}: do not believe the {step.Probe} lamp", "It contradicts what is known of the level. Flush hard at the next dump and look at the panel the day after.",
                Lines(step.Since is { } since ? $"First contradicted {times.At(since)}." : null, "A lamp that stays on over an empty tank is usually fouled; a wet film can do the same for up to a day.")),
            StepCode.LookInside => new("", $"Look into {name}", tank!.Tank.Role == TankRole.Black ? "The level is uncertain. A look down the toilet with a flashlight settles it." : "The level is uncertain. A look at the panel, or at the shower drain, narrows it.",
                [$"Between {Percent(tank.Fraction(tank.Level.P05L))} and {Percent(tank.Fraction(tank.Level.P95L))} of the tank."]),
            StepCode.CatchUp => new("Now", "Bring the log up to date", $"The last entry is from {times.At(step.Since!.Value)}. Until somebody says where you stand and looks at the tanks, all below is a guess.",
                ["Log the place, then a dump or a look into each tank. What happened in between can be written with its own date."]),
            _ => new("", "Say where you stand", "What is connected decides how fast the tanks fill and where they can be emptied.", ["Until then a full hookup is assumed."]),
        };
    }

    private StepText Dose(NextStep step, TankBelief tank, string name, string when)
    {
        var product = Shelf.For(Rig, Rules.Treatment);
        var dose = DoseCalculator.Routine(Rules.Treatment, new DoseCase(tank.Tank.CapacityL) { Units = units == Units.Us ? KitchenUnits.Us : KitchenUnits.Metric, HighC = highC, Product = product });
        var lasts = product?.Dose?.LastsDays ?? RoutineDose.LastsDays;
        return new StepText(when, $"Dose {name}: {dose.Ingredients[0].Amount} of {product?.Name ?? EntryWords.Spaced(RoutineDose.For(Rules.Treatment, tank.Tank.CapacityL)!.Recipe)}",
            step.Since is { } last ? $"The last dose was {times.Ago(last)}; it works for {(lasts == RoutineDose.LastsDays ? "about a week" : $"about {lasts} days")}." : "Nothing was dosed since the tank was last emptied.",
            [$"House rule: {EntryWords.Spaced(Rules.Treatment)}.", .. dose.Why.Skip(1)],
            "The label outranks these figures. One product at a time; never bleach with anything else in the tank.");
    }

    private IEnumerable<string> Marks(TankBelief tank, NextStep step)
    {
        var outlook = picture.Advice[tank.Tank.Id];
        if (outlook.DumpExpected is { } e)
            yield return $"Dump level ({units.Volume(outlook.DumpLevelL)}) expected {times.At(e)}{(outlook.DumpCautious is { } c ? $", in busy days {times.At(c)}" : "")}.";
        if (step.Days is { } days) yield return $"{days.ToString("0.#", CultureInfo.InvariantCulture)} days since it was last emptied; the house rule allows {Rules.MaxDays}.";
        foreach (var line in Flow(tank)) yield return line;
    }

    private IEnumerable<string> Figures(TankBelief tank)
    {
        var outlook = picture.Advice[tank.Tank.Id];
        yield return $"Now {units.Volume(tank.Level.P50L)} of {units.Volume(tank.Tank.CapacityL)}, between {units.Number(tank.Level.P05L)} and {units.Volume(tank.Level.P95L)}.";
        if (outlook.FullExpected is { } e)
            yield return $"Full to the top expected {times.At(e)}{(outlook.FullCautious is { } c ? $", in busy days {times.At(c)}" : "")}.";
        foreach (var line in Flow(tank)) yield return line;
    }

    private IEnumerable<string> Flow(TankBelief tank)
    {
        var people = picture.Advice.Circumstances.People;
        if (people > 0) yield return $"Counted: {units.Volume(tank.InflowLPerPersonDay)} per person and day, {people} aboard.";
    }

    private string DumpRule() => $"House rule: dump black at {Percent(Rules.DumpBlackAt)}. Lower leaves solids behind, higher leaves less room for a mistake.";

    private static string[] Lines(params string?[] lines) => [.. lines.OfType<string>()];

    public static string Percent(double? share) => ((share ?? 0) * 100).ToString("0", CultureInfo.InvariantCulture) + "\u00a0%"; // the sign never stands alone on a line

    private static string Lower(string name) => name.Length == 0 ? name : char.ToLowerInvariant(name[0]) + name[1..];
}
