using System.Globalization;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Words;

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
public sealed record Matter(string Id, string Title,
    IReadOnlyList<School> Schools, string Default, string Why, Func<HouseRules, string?> Chosen, Func<HouseRules, string, HouseRules> Choose);

/// <summary>All matters of the house rules with their schools.</summary>
public static class Matters
{
    /// <summary>The matters in the order of the work: dumping, gray, flushing, treating, caring.</summary>
    public static IReadOnlyList<Matter> All { get; } =
    [
        Number("dumpBlackAt", "When to dump black", r => r.DumpBlackAt, (r, v) => r with { DumpBlackAt = v }, 0.66,
            "Full enough to leave in one strong rush, with 1/3 in reserve.",
            (0.5, "At a half", "Safer if a sensor is wrong. The rush is weaker, and you dump more often."),
            (0.66, "At two thirds", "Strong rush, 1/3 in reserve."),
            (0.75, "At three quarters", "Fewer dumps, and paper has longer to break down. A busy day can overtake the plan."),
            (0.9, "Near full", "Strongest rush. Only if you know your level well: overflow comes out the roof vent.")),
        Number("maxDays", "Longest time between black dumps", r => r.MaxDays, (r, v) => r with { MaxDays = (int)v }, 10,
            "Two people fill a usual tank in one to two weeks. After ten days waste begins to dry on.",
            (7, "A week", "For hot weather, or if you like a routine. You often top up before the dump."),
            (10, "Ten days", "Long enough to fill by use, short enough that nothing dries hard."),
            (14, "Two weeks", "For one or two careful people in cool weather with plenty of water in the tank."),
            (30, "A month", "The level decides nearly alone. Use plenty of water and watch for smells.")),
        Coded<GrayAtFullHookup>("grayAtFullHookup", "Gray at a full hookup", r => r.GrayAtFullHookup, (r, v) => r with { GrayAtFullHookup = v },
            GrayAtFullHookup.Bank,
            "Gray drains on its own between dumps, and still rinses the hose after black. Most people do it this way.",
            (GrayAtFullHookup.Batch, "Batch", "Closed, and dumped at about 2/3 like black. Cleaner: an open gray tank grows scum, grease and mold. More work."),
            (GrayAtFullHookup.Bank, "Bank", "Open between dumps, closed in time to rinse the hose."),
            (GrayAtFullHookup.Open, "Open always",
                "Closed only while you dump black. Least work. The tank gets dirty over time, and there is little water for the rinse.")),
        Number("grayTargetAtDump", "Gray to save for the rinse", r => r.GrayTargetAtDump, (r, v) => r with { GrayTargetAtDump = v }, 0.5,
            "Several times what the hose holds, without filling the tank too soon.",
            (0.25, "A quarter", "Saves water and time. Enough for a short hose."),
            (0.5, "A half", "Rinses a usual hose several times over."),
            (0.75, "Three quarters", "For long hoses, or if you like a clean hose. You close gray earlier.")),
        Coded<FlushProgramme>("flush", "How long to rinse", r => r.Flush, (r, v) => r with { Flush = v }, FlushProgramme.Standard,
            "What counts is the last trickle. Five rinses get most tanks clear.",
            (FlushProgramme.Quick, "Quick", "Two or three short refills. Good where others wait or water is short. The long rinse follows at the next site."),
            (FlushProgramme.Standard, "Standard", "Until the last trickle is clear, five rinses at most. Still dirty? Stop and plan a scrub."),
            (FlushProgramme.Thorough, "Thorough", "Until two last trickles in a row are clear, seven rinses at most. Before storage and after trouble.")),
        Coded<TreatmentSchool>("treatment", "Routine treatment", r => r.Treatment, (r, v) => r with { Treatment = v }, TreatmentSchool.Enzyme,
            "Safe for most parks' septic systems and for seals. Needs water and air, and no bleach.",
            (TreatmentSchool.Enzyme, "Enzyme or bacteria", "Living cultures digest paper and solids. They need water, and bleach kills them."),
            (TreatmentSchool.Deodorant, "Deodorant digester", "A chemical breaks down waste and masks odor. Some parks on septic systems forbid it."),
            (TreatmentSchool.SoftenerCleaner, "Softener and cleaner",
                "Keeps walls slick and lets the sewer do the digesting. Whether digested waste coats sensors is disputed."),
            (TreatmentSchool.BoraxSoap, "Borax and soap", "Softens water and keeps walls slick. Monthly or before a drive, not after each dump."),
            (TreatmentSchool.Yeast, "Dry yeast enzyme", "Like enzyme, but a powder."),
            (TreatmentSchool.WaterOnly, "Water only", "Plenty of water and nothing else. Takes more starter water and more dumps.")),
        Coded<BleachRule>("bleach", "Bleach", r => r.Bleach, (r, v) => r with { Bleach = v }, BleachRule.Never,
            "Poisonous gas with urine, acid or other cleaners. It also kills the cultures of enzyme products and swells seals.",
            (BleachRule.Never, "Never", "Other products do the same jobs."),
            (BleachRule.CleanTank, "Only in a clean tank",
                "In clean water, in a tank already rinsed clear. Dumped at once and rinsed twice. Never left to sit, never with anything else.")),
        Coded<PaperRule>("paper", "Paper", r => r.Paper, (r, v) => r with { Paper = v }, PaperRule.AnyThatPasses,
            "Half a minute in a glass of water tells more than a label. Less paper and more water matter as much as the kind.",
            (PaperRule.RvOnly, "RV paper only", "Made to fall apart. Costs more, and some fails the test."),
            (PaperRule.AnyThatPasses, "Any that passes the test", "Pulp after 30 seconds in water is OK."),
            (PaperRule.None, "No paper in the tank", "It goes in a bin with a lid. Best against clogs, but not for everyone.")),
        Coded<StorageRule>("storage", "Tanks in storage, above freezing", r => r.Storage, (r, v) => r with { Storage = v }, StorageRule.TreatedWater,
            "Keeps residue from drying hard, and weighs little. If it may freeze, tanks are emptied and protected by the maker's manual.",
            (StorageRule.TreatedWater, "A little treated water", "About 7 % of the tank, with a dose. Residue stays soft."),
            (StorageRule.FullFresh, "Full of fresh water", "Keeps seals wet and mold out. Heavy. Never where it may freeze."),
            (StorageRule.Dry, "Dry", "Nothing can freeze or smell. What is left in the corners dries hard.")),
        Coded<DeepCleanRule>("deepClean", "Deep clean", r => r.DeepClean, (r, v) => r with { DeepClean = v }, DeepCleanRule.EachTrip,
            "Do it when you have time and a sewer, and always before storage.",
            (DeepCleanRule.Monthly, "Monthly", "If you live in it: those tanks get dirty about ten times faster."),
            (DeepCleanRule.EachTrip, "Each trip", "At the end of each trip, before storage."),
            (DeepCleanRule.EachFewTrips, "Every few trips", "For short trips with good rinses. More rinses than usual tell you when it is due."),
            (DeepCleanRule.BySigns, "When something shows it", "A failed sniff test, a stuck light, more rinses than usual. And before storage.")),
        Coded<LeavingLowRule>("leavingLow", "Black below its level when you leave a sewer", r => r.LeavingLow, (r, v) => r with { LeavingLow = v },
            LeavingLowRule.FewerDumps, "A dump takes water and time. Each gallon you carry weighs 8.3 lb.",
            (LeavingLowRule.FewerDumps, "Whichever takes fewer dumps", "Depends on the stops ahead."),
            (LeavingLowRule.TopUp, "Top it up and dump", "You leave light and empty. Takes water and one more dump."),
            (LeavingLowRule.CarryOn, "Carry it on", "The drive shakes it loose. Only if it lasts to the next sewer and the weight is fine.")),
    ];

    private static Matter Number(string id, string title, Func<HouseRules, double> get, Func<HouseRules, double, HouseRules> set, double standard, string why,
        params (double Value, string Name, string Holds)[] sides) =>
        new(id, title, [.. sides.Select(s => new School(Text(s.Value), s.Name, s.Holds))], Text(standard), why,
            rules => sides.FirstOrDefault(s => Math.Abs(s.Value - get(rules)) < 0.005).Name is null ? null
                : Text(sides.First(s => Math.Abs(s.Value - get(rules)) < 0.005).Value),
            (rules, code) => set(rules, sides.First(s => Text(s.Value) == code).Value));

    private static Matter Coded<T>(string id, string title, Func<HouseRules, T> get, Func<HouseRules, T, HouseRules> set, T standard, string why,
        params (T Value, string Name, string Holds)[] sides) where T : struct, Enum =>
        new(id, title, [.. sides.Select(s => new School(Codes<T>.Word(s.Value), s.Name, s.Holds))], Codes<T>.Word(standard), why,
            rules => Codes<T>.Word(get(rules)),
            (rules, code) => Codes<T>.TryParse(code, out var value) ? set(rules, value) : throw new ArgumentException($"No school '{code}'.", nameof(code)));

    private static string Text(double value) => value.ToString("0.##", CultureInfo.InvariantCulture);
}
