using System.Globalization;

namespace Tanksophos.Core.Rigs;

/// <summary>One side in a matter on which experienced people disagree.</summary>
/// <param name="Code">Its code: the word of the format, or the number as text.</param>
/// <param name="Name">Its name.</param>
/// <param name="Holds">What it holds, in at most two sentences.</param>
public sealed record School(string Code, string Name, string Holds);

/// <summary>A matter on which experienced people disagree, and the house's choice in it.</summary>
/// <param name="Id">The field of the house rules, as in documents.</param>
/// <param name="Title">What it is about.</param>
/// <param name="Schools">The sides.</param>
/// <param name="Default">Code of the default.</param>
/// <param name="Why">Why the default is the default.</param>
/// <param name="Chosen">The code chosen in some rules; null if they hold a value that is none of the sides.</param>
/// <param name="Choose">The rules with another choice.</param>
public sealed record Matter(string Id, string Title, IReadOnlyList<School> Schools, string Default, string Why, Func<HouseRules, string?> Chosen, Func<HouseRules, string, HouseRules> Choose);

/// <summary>All matters of the house rules with their schools.</summary>
public static class Matters
{
    /// <summary>The matters in the order of the work: dumping, gray, flushing, treating, caring.</summary>
    public static IReadOnlyList<Matter> All { get; } =
    [
        Number("dumpBlackAt", "When to dump black", r => r.DumpBlackAt, (r, v) => r with { DumpBlackAt = v }, 0.66,
            "Full enough to leave in one rush that takes the bottom along, with room left for a mistake.",
            (0.5, "At a half", "Little is lost if a lamp lies, and nothing dries on. The rush is weaker, and there are more dumps."),
            (0.66, "At two thirds", "A strong rush, and a third of the tank as reserve."),
            (0.75, "At three quarters", "Fewer dumps and more liquid time, in which paper breaks down. A busy day can overtake the plan."),
            (0.9, "Near full", "The strongest rush. Only for those who know their level well: it comes out on the roof.")),
        Number("maxDays", "The longest time between black dumps", r => r.MaxDays, (r, v) => r with { MaxDays = (int)v }, 10,
            "Two people fill a usual tank in one to two weeks; beyond ten days waste begins to dry on.",
            (7, "A week", "For hot weather, and for those who like a rhythm. The tank is often topped up before the dump."),
            (10, "Ten days", "Long enough to fill by use, short enough that nothing sets."),
            (14, "Two weeks", "For one or two careful people in cool weather with plenty of water in the tank."),
            (30, "A month", "The level decides almost alone. Needs water and attention to smells.")),
        Coded<GrayAtFullHookup>("grayAtFullHookup", "Gray where there is a sewer", r => r.GrayAtFullHookup, (r, v) => r with { GrayAtFullHookup = v }, GrayAtFullHookup.Bank,
            "Nobody has to think of gray between dumps, and yet it rinses the hose when black has gone. It is what most people do.",
            (GrayAtFullHookup.Batch, "Batch", "Kept closed and dumped at about two thirds, like black. Better for the tank, since an open gray grows scum, grease and mold, and more work."),
            (GrayAtFullHookup.Bank, "Bank", "Open between dumps, closed early enough before the black dump that gray water can rinse the hose."),
            (GrayAtFullHookup.Open, "Open always", "Closed only while black is dumped. Least work; the tank fouls slowly, and there is little water for the rinse.")),
        Number("grayTargetAtDump", "How much gray to have ready for the rinse", r => r.GrayTargetAtDump, (r, v) => r with { GrayTargetAtDump = v }, 0.5,
            "Several times what the hose holds, without filling the tank before its time.",
            (0.25, "A quarter", "Saves water and time. Enough for a short hose."),
            (0.5, "A half", "Rinses a usual hose several times over."),
            (0.75, "Three quarters", "For long hoses, and for those who like the hose clean. It must be closed earlier.")),
        Coded<FlushProgramme>("flush", "How long to flush", r => r.Flush, (r, v) => r with { Flush = v }, FlushProgramme.Standard,
            "What counts is the trickle at the end of a cycle; five cycles reach it in most tanks.",
            (FlushProgramme.Quick, "Quick", "Two or three short refills. Good where people wait or water is short; the long flush follows at the next site."),
            (FlushProgramme.Standard, "Standard", "Until the end of a cycle runs clear, five cycles at most. Still dirty then: stop and plan a scrub."),
            (FlushProgramme.Thorough, "Thorough", "Until two ends in a row run clear, seven cycles at most. For tanks that will stand, and after trouble.")),
        Coded<TreatmentSchool>("treatment", "The routine treatment", r => r.Treatment, (r, v) => r with { Treatment = v }, TreatmentSchool.Enzyme,
            "Safe for the septic systems of most parks and for seals; it needs water and air, and no bleach.",
            (TreatmentSchool.Enzyme, "Enzyme or bacteria", "Living cultures digest paper and solids. They need water, and bleach kills them."),
            (TreatmentSchool.Deodorant, "Deodorant digester", "A chemical breaks down and masks. Some parks on septic systems forbid it."),
            (TreatmentSchool.SoftenerCleaner, "Softener and cleaner", "A tank should hold, not digest: slick walls instead. That digested waste coats probes is disputed."),
            (TreatmentSchool.BoraxSoap, "Borax and soap", "Softens water and keeps walls slick. Monthly or before a drive, nothing after each dump."),
            (TreatmentSchool.Yeast, "Dry yeast enzyme", "As enzyme, as a powder."),
            (TreatmentSchool.WaterOnly, "Water only", "Plenty of water and nothing else. Needs more starter water and more dumps.")),
        Coded<BleachRule>("bleach", "Bleach", r => r.Bleach, (r, v) => r with { Bleach = v }, BleachRule.Never,
            "With urine, acids or other cleaners it makes poisonous gas; it kills the cultures of enzyme products and swells seals.",
            (BleachRule.Never, "Never", "There is no need for it that something else does not meet."),
            (BleachRule.CleanTank, "Only in a clean tank", "In clean water in a tank that was already flushed, dumped at once and rinsed twice. Never left standing, never with anything else.")),
        Coded<PaperRule>("paper", "Paper", r => r.Paper, (r, v) => r with { Paper = v }, PaperRule.AnyThatPasses,
            "Half a minute in a glass of water tells more than a label; little paper and much water matter as much as the kind.",
            (PaperRule.RvOnly, "Rig paper only", "Made to fall apart. Dearer, and not all of it passes the test."),
            (PaperRule.AnyThatPasses, "Any that passes the test", "What is pulp after thirty seconds in water suits a tank."),
            (PaperRule.None, "No paper in the tank", "It goes into a lidded bin. The surest against clogs, and not for everyone.")),
        Coded<StorageRule>("storage", "Tanks in storage, above freezing", r => r.Storage, (r, v) => r with { Storage = v }, StorageRule.TreatedWater,
            "Keeps what is left from drying hard, at little weight. In frost tanks are emptied and protected by the maker's manual.",
            (StorageRule.TreatedWater, "A little treated water", "About 7 % of the tank with a dose: residue stays soft."),
            (StorageRule.FullOfWater, "Full of fresh water", "Keeps seals wet and mold out. Heavy, and never where it may freeze."),
            (StorageRule.Dry, "Dry", "Nothing can freeze or smell. What is left in the corners sets hard.")),
        Coded<DeepCleanRule>("deepClean", "Deep clean", r => r.DeepClean, (r, v) => r with { DeepClean = v }, DeepCleanRule.EachTrip,
            "It falls to the moment at which there is time and a sewer, and always before long standing.",
            (DeepCleanRule.Monthly, "Monthly", "For those who live aboard: their tanks foul about ten times faster."),
            (DeepCleanRule.EachTrip, "Each trip", "At the end, before the rig stands."),
            (DeepCleanRule.EveryFewTrips, "Every few trips", "For short trips with good flushes. Cycles that get more tell when it is due.")),
    ];

    private static Matter Number(string id, string title, Func<HouseRules, double> get, Func<HouseRules, double, HouseRules> set, double standard, string why, params (double Value, string Name, string Holds)[] sides) =>
        new(id, title, [.. sides.Select(s => new School(Text(s.Value), s.Name, s.Holds))], Text(standard), why,
            rules => sides.FirstOrDefault(s => Math.Abs(s.Value - get(rules)) < 0.005).Name is null ? null : Text(sides.First(s => Math.Abs(s.Value - get(rules)) < 0.005).Value),
            (rules, code) => set(rules, sides.First(s => Text(s.Value) == code).Value));

    private static Matter Coded<T>(string id, string title, Func<HouseRules, T> get, Func<HouseRules, T, HouseRules> set, T standard, string why, params (T Value, string Name, string Holds)[] sides) where T : struct, Enum =>
        new(id, title, [.. sides.Select(s => new School(Codes<T>.Word(s.Value), s.Name, s.Holds))], Codes<T>.Word(standard), why,
            rules => Codes<T>.Word(get(rules)),
            (rules, code) => Codes<T>.TryParse(code, out var value) ? set(rules, value) : throw new ArgumentException($"No school '{code}'.", nameof(code)));

    private static string Text(double value) => value.ToString("0.##", CultureInfo.InvariantCulture);
}
