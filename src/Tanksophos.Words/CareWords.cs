using NodaTime;
using Tanksophos.Core.Care;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;

namespace Tanksophos.Words;

/// <summary>Says the chores of the year.</summary>
/// <param name="rig">The rig, for names.</param>
/// <param name="times">Moments in words.</param>
/// <param name="units">The person's units.</param>
public sealed class CareWords(Rig rig, TimeWords times, Units units)
{
    /// <summary>What a trap takes: "1 to 2 cups".</summary>
    /// <param name="units">The person's units.</param>
    public static string TrapWater(Units units) => units == Units.Us ? "1 to 2 cups" : "250 to 500 mL";

    /// <summary>The monthly cleaning of a gray tank, in a sentence.</summary>
    /// <param name="capacityL">The tank's capacity in litres.</param>
    /// <param name="units">The person's units.</param>
    public static string Degrease(double capacityL, Units units)
    {
        ArgumentNullException.ThrowIfNull(units);
        var dose = DoseCalculator.Compute(DoseRecipe.GrayDegreaser, new DoseCase(capacityL)
        {
            Units = units == Units.Metric ? KitchenUnits.Metric : KitchenUnits.Us
        });
        var what = string.Join(", ", dose.Ingredients.Select(TreatmentWords.Amount));
        return $"{what} in {units.Volume(dose.WaterL)} of warm water, through a drain of this tank. Then dump it.";
    }

    /// <summary>The name of a chore: "Deep clean, black".</summary>
    /// <param name="chore">The chore's word.</param>
    /// <param name="tank">Its tank; null for none.</param>
    public string Name(string chore, string? tank)
    {
        var name = chore switch
        {
            ChoreWords.Traps => "Water in the traps",
            ChoreWords.DeepClean => "Deep clean",
            ChoreWords.HoseInspection => "Hose and cap",
            ChoreWords.YearlyInspection => "Yearly check",
            ChoreWords.StorageCheck => "Storage check",
            ChoreWords.GrayCare => "Degrease",
            ChoreWords.Frost => "Freeze",
            ChoreWords.PressureJet => "Pressure jet",
            ChoreWords.SeasonOpen => "Open the season",
            ChoreWords.SeasonClose => "Close the season",
            _ => rig.Chores.FirstOrDefault(c => c.Id == chore)?.Name ?? chore,
        };
        return tank is null ? name : $"{name}, {TimeWords.Lower(rig.FindEver(tank)?.Name ?? tank)}";
    }

    /// <summary>What to do, as a heading: "Deep clean black".</summary>
    /// <param name="item">The chore.</param>
    public string What(CareItem item)
    {
        ArgumentNullException.ThrowIfNull(item);
        var name = item.Tank is null ? "" : TimeWords.Lower(rig.FindEver(item.Tank)?.Name ?? item.Tank);
        return item.Chore switch
        {
            ChoreWords.Traps => "Add water to drains you don't use",
            ChoreWords.DeepClean => $"Deep clean {name}",
            ChoreWords.HoseInspection => "Check the sewer hose and cap",
            ChoreWords.YearlyInspection => "Do the yearly check",
            ChoreWords.StorageCheck => "Check on the rig in storage",
            ChoreWords.Frost => item.BayC is not null ? "Warm the bay, or drain what can freeze" : "Get ready for a freeze",
            ChoreWords.GrayCare => $"Degrease {name}",
            ChoreWords.PressureJet => $"Have {name} pressure jetted",
            _ => Name(item.Chore, null),
        };
    }

    // What is best here, and why.
    private static string Best(RemedyAction? by) => by switch
    {
        RemedyAction.Reverse => "Best here: reverse floods, which lift what the rinses leave behind.",
        RemedyAction.IceScrub => "Best here: ice and detergent on your next drive.",
        RemedyAction.SoftenerSoak => "Best here: a softener soak for a day, since you don't drive soon.",
        RemedyAction.TravelScrub => "Best here: a travel scrub on your next drive.",
        _ => "Best here: a soap soak overnight, since you don't drive soon.",
    };

    /// <summary>How it is done, step by step.</summary>
    /// <param name="item">The chore.</param>
    public IReadOnlyList<string> Steps(CareItem item)
    {
        ArgumentNullException.ThrowIfNull(item);
        var frost = item.Because.Contains(CareBecause.Frost);
        return item.Chore switch
        {
            ChoreWords.Traps => [$"Pour {TrapWater(units)} of water into each drain nobody uses{(item.Drains.Count > 0 ? $": {Drains(item.Drains)}" : "")}.",
                "Waterless traps dry out and stick too. Run water through them."],
            ChoreWords.DeepClean => [$"{Best(item.By)} Or pick another: travel scrub, ice on a drive, softener or soap soak, reverse floods.",
                "Then dump, and rinse until it runs clear twice.", "Log the treatment and the dump, and it counts by itself."],
            ChoreWords.HoseInspection => ["Hose: holes and kinks. Lugs: all locked. Gasket: no cracks. Clear piece: no cracks.",
                "Valves closed, take the cap off: nothing should drip.", "Supports: the hose slopes all the way."],
            ChoreWords.YearlyInspection => ["Seals: bowl, valve shafts, cap.", "Valves: work each one a few times; oil a stiff one before you force it.",
                "Vent cap on the roof: there, and not blocked.", "Backflow preventer: no drip, no crack.", "Wiring at the sensors: tight, no corrosion."],
            ChoreWords.StorageCheck => frost
                ? ["Smell, inside and in the bay.", "Traps: antifreeze still in each bend.", "Level: still empty.",
                    "Mice and insects at the vent and the cap."]
                : ["Smell, inside and in the bay.", "Traps: water in each bend.", "Level: as you left it.", "Mice and insects at the vent and the cap."],
            ChoreWords.GrayCare => [$"Monthly, before a drive: {Degrease(rig.FindEver(item.Tank)?.CapacityL ?? 0, units)}",
                $"After each dump: {Recipes.GraySquirt} of dish soap with {units.Volume(Recipes.Find(DoseRecipe.GraySoap)!.WaterLitres)} of water "
                    + "before you drive."],
            ChoreWords.PressureJet =>
                [$"A trained person only: {units.Pressure(CareReport.JetLowBar)} to {units.Pressure(CareReport.JetHighBar)} cuts skin. "
                    + "Not through a macerator.",
                "Log grade (what came out), pressure, minutes, cost, and the panel before and after.",
                "Afterward: 2 to 4 floods at 90 %, sensor cleaner overnight, dump and rinse."],
            ChoreWords.Frost => ["Water hose off, drained and stowed. Run from the fresh tank.",
                "Sewer hose: valves closed, drained, off the ground or stowed.", "Bay heat on, doors shut. Never an open flame.",
                rig.Equipment?.FrostProof == true ? "Tanks and valves are protected on this rig. Hoses, pump and traps may not be."
                    : "Water left in tanks, valves, pumps and traps can split them. Dump before a long freeze.",
                "Nobody aboard and no heat: winterize, by the maker's manual."],
            ChoreWords.SeasonOpen => ["Step by step: seal, traps, valves, vent, cap, starter water, first panel reading."],
            ChoreWords.SeasonClose => ["Step by step: dump, rinse clear, deep clean, gray, bowl, traps, hose. First question: will it freeze?"],
            _ => item.Own?.Steps ?? [],
        };
    }

    /// <summary>What can hurt there; null for nothing.</summary>
    /// <param name="item">The chore.</param>
    public static string? Caution(CareItem item)
    {
        ArgumentNullException.ThrowIfNull(item);
        return item.Chore switch
        {
            ChoreWords.DeepClean => "Poisonous gas: one product at a time, never bleach with anything else. Follow the labels.",
            ChoreWords.PressureJet => "A jet can inject sewage under your skin. Leave it to a trained person.",
            ChoreWords.HoseInspection or ChoreWords.YearlyInspection => "Gloves on, bucket under the cap. Power off before you touch wiring.",
            ChoreWords.Frost => "Water that freezes splits tanks, valves, pumps and traps. No grill or stove for heat: carbon monoxide kills.",
            ChoreWords.SeasonClose or ChoreWords.SeasonOpen => "Water that freezes splits tanks, valves and traps. Gas and electric work: a licensed person.",
            _ => null,
        };
    }

    /// <summary>Why it is due when it is, in a sentence or two.</summary>
    /// <param name="item">The chore.</param>
    public string Why(CareItem item)
    {
        ArgumentNullException.ThrowIfNull(item);
        return string.Join(" ", item.Because.Select(b => Sentence(b, item)).Distinct().Where(s => s.Length > 0));
    }

    private string Sentence(string because, CareItem item)
    {
        var last = item.Last is { } l ? times.Day(l.InZone(times.Zone).Date) : null;
        return because switch
        {
            CareBecause.Interval when item.Chore == ChoreWords.Traps =>
                $"{(last is null ? "" : $"Last filled {last}. ")}A trap nobody uses dries out in about two weeks.",
            CareBecause.Interval when item.Chore == ChoreWords.GrayCare =>
                $"{(last is null ? "" : $"Last done {last}. ")}Grease builds up in gray, most where the galley drains. Monthly.",
            CareBecause.Interval when item.Chore == ChoreWords.PressureJet =>
                "Have it jetted at least once, even if it runs clear. Rinsing doesn't show all buildup.",
            CareBecause.Interval when item.Own is { } own => $"{(last is null ? "" : $"Last done {last}. ")}{Rhythm(own)}.",
            CareBecause.Interval => $"{(last is null ? "" : $"Last done {last}. ")}Once a year.",
            CareBecause.NeverRecorded => "Not logged yet. If you did it, log it with its date.",
            CareBecause.HouseRule => $"Your house rule: {(rig.RulesInForce.DeepClean == DeepCleanRule.Monthly ? "monthly" : "every few trips")}."
                + (last is null ? "" : $" Last done {last}."),
            CareBecause.Trips when item.Own is not null => "Once each trip.",
            CareBecause.Trips => (item.Trips is { } n and > 0
                ? $"{n} {(n == 1 ? "trip" : "trips")} since {last ?? "the log began"}. " : "") + "Your house rule: "
                + $"{(rig.RulesInForce.DeepClean == DeepCleanRule.EachTrip ? "each trip" : "every few trips")}.",
            CareBecause.LivedIn => $"{(last is null ? "" : $"Last done {last}. ")}Monthly while you live in it.",
            CareBecause.BeforeStorage => item.Chore == ChoreWords.SeasonClose ? "Storage is next."
                : "Storage is next. A tank should be clean before it sits for months.",
            CareBecause.InStorage => item.Chore switch
            {
                ChoreWords.StorageCheck => "Once a month while in storage.",
                ChoreWords.SeasonClose => "In storage, and the season was never closed.",
                _ => "In storage.",
            },
            CareBecause.AfterStorage => item.Chore == ChoreWords.Traps ? "Traps dried out in storage. Fill them first." : "The rig is out of storage.",
            CareBecause.Season => item.Chore switch
            {
                ChoreWords.SeasonClose => last is null ? "Before it freezes." : $"Last closed {last}.",
                ChoreWords.SeasonOpen => "Before the first trip.",
                _ => item.Own?.Season == ChoreSeason.Close ? "When the season is closed." : "When the season is opened.",
            },
            CareBecause.ColdBay => item.BayC is { } bay ? $"The bay is down to {units.Temperature(bay)}." : "The bay is near freezing.",
            CareBecause.Freezes => item.Night is not { } night ? "It is going to freeze."
                : $"A low of {units.Temperature(night.LowC)} {times.Day(night.Date)}"
                + (night.Source == Core.Weather.WeatherSource.LastKnown ? ", by an older forecast." : "."),
            CareBecause.Frost => "Winterized: no water in tanks and traps.",
            CareBecause.Dumped when item.Because.Contains(CareBecause.Problem) => "",
            CareBecause.Dumped => $"{(last is null ? "" : $"Last checked {last}. ")}Check it at each dump run.",
            CareBecause.Grade => $"Grade {item.Grade}, {last}. Jet again after {Months(item.Grade)} months.",
            CareBecause.Ungraded => $"Last jetted {last}, no grade logged. Jet again after {Months(null)} months.",
            CareBecause.Problem => $"{TimeWords.Capital(item.Evidence.OfType<ChoreEntry>().LastOrDefault()?.Part ?? "it")} was not OK {last ?? "last time"}. "
                + "Fix it, then mark this done.",
            CareBecause.HoldsWaste => "There is waste in a tank. Dump it before you store the rig.",
            CareBecause.SniffFailed => "The sniff test failed after a rinse.",
            CareBecause.RinsesRise => "It takes more rinses than before until it runs clear.",
            CareBecause.StuckLight => "A light is stuck on.",
            CareBecause.Buildup => "There is likely buildup on the walls.",
            CareBecause.PutOff => $"You put it off until {times.Day(item.Due.InZone(times.Zone).Date)}.",
            CareBecause.SkippedLast => "You skipped it last time.",
            CareBecause.WaitsForSewer => "Needs a sewer, so it waits for your next sewer hookup.",
            _ => throw new ArgumentOutOfRangeException(nameof(because), because, "a reason without words"),
        };
    }

    private static string Months(Grade? grade) => CareReport.JetAgainMonths(grade) is var (from, to) && from == to ? $"{from}" : $"{from} to {to}";

    /// <summary>A rhythm in words: "every 3 months", "4 times a year".</summary>
    /// <param name="own">The chore.</param>
    public static string Rhythm(OwnChore own)
    {
        ArgumentNullException.ThrowIfNull(own);
        return own switch
        {
            { EveryDays: { } d } => d == 1 ? "Every day" : $"Every {d} days",
            { EveryMonths: { } m } => m == 1 ? "Every month" : $"Every {m} months",
            { TimesAYear: { } t } => t == 1 ? "Once a year" : $"{t} times a year",
            { Season: ChoreSeason.Open } => "When the season is opened",
            { Season: ChoreSeason.Close } => "When the season is closed",
            _ => "Each trip",
        };
    }

    /// <summary>When it is due: "now", "3 days late", "Sun, Oct 11".</summary>
    /// <param name="item">The chore.</param>
    public string Due(CareItem item)
    {
        ArgumentNullException.ThrowIfNull(item);
        var late = Period.DaysBetween(item.Due.InZone(times.Zone).Date, times.Now.InZone(times.Zone).Date);
        return item.State switch
        {
            CareState.Overdue or CareState.Due when late >= 1 => late == 1 ? "1 day late" : $"{late} days late",
            CareState.Overdue or CareState.Due => "now",
            CareState.Never => "not logged yet",
            _ when late > 0 => "waiting",
            _ => times.Day(item.Due.InZone(times.Zone).Date),
        };
    }

    private static string Drains(IReadOnlyList<string> drains) => EntryWords.And([.. drains.Select(d => d.Replace('-', ' '))]);
}
