using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Treatments;

/// <summary>What comes of two substances in one fill.</summary>
internal enum Together
{
    /// <summary>They may go together unless a label forbids it.</summary>
    May,

    /// <summary>Poisonous gas, or close to it.</summary>
    PoisonousGas,

    /// <summary>The cultures die.</summary>
    KillsCultures,

    /// <summary>Two digesters fight for the same waste.</summary>
    TwoDigesters,

    /// <summary>Foam under ice or in a closed tank lifts out of the vent.</summary>
    Foams,

    /// <summary>One product at a time: what they make together nobody has tried.</summary>
    OneAtATime,

    /// <summary>It is the same again: more than the label's dose.</summary>
    TheSame,
}

/// <summary>Which substances may go together, pair by pair.</summary>
internal static class Mixing
{
    // One line per substance in the order of the enumeration, up to the substance itself: m may, g gas, k kills cultures, d two digesters, f foams, o one at a
    // time, s the same.
    // Practitioners' rules: borax and dish soap may join a routine dose; bleach, acids, other cleaners and a second digester may not; bleach with urine, acids
    // or cleaners makes
    // poisonous gas and kills cultures; no foaming soap in an ice scrub. Where nobody has a rule, one at a time.
    private static readonly string[] Table =
    [
        "s",                    // Cultures
        "ds",                   // Yeast
        "dds",                  // Deodorant
        "kkds",                 // Formaldehyde
        "oooos",                // SoftenerCleaner
        "ddddos",               // PaperDigester
        "mmmomos",              // Borax
        "mmmomoms",             // DishSoap
        "oooooomms",            // LaundryDetergent
        "ooooooooos",           // DishwasherDetergent
        "oooooomomos",          // WaterSoftener
        "ooooooomooos",         // Degreaser
        "oooooooooooos",        // SensorCleaner
        "mmmmmmmmmmmmos",       // ValveLubricant
        "mmmmmmmmmmmmmms",      // SealConditioner
        "kkgggggggggggggs",     // Bleach
        "kkooooooooooooogs",    // Acid
        "ooooooooooooooogos",   // OtherCleaner
        "oooooooffmooommgoos",  // Ice
    ];

    /// <summary>What comes of two substances in one fill.</summary>
    /// <exception cref="InvalidOperationException">The table says nothing of these two; a test goes through all pairs.</exception>
    public static Together Of(Substance a, Substance b)
    {
        var (row, column) = a > b ? ((int)a, (int)b) : ((int)b, (int)a);
        return Table[row][column] switch
        {
            'm' => Together.May,
            'g' => Together.PoisonousGas,
            'k' => Together.KillsCultures,
            'd' => Together.TwoDigesters,
            'f' => Together.Foams,
            'o' => Together.OneAtATime,
            's' => Together.TheSame,
            _ => throw new InvalidOperationException($"Nothing is said of {a} with {b}."),
        };
    }

    /// <summary>Whether waste may be in the tank with it: bleach needs clean water alone.</summary>
    public static bool NeedsCleanWater(Substance substance) => substance == Substance.Bleach;

    /// <summary>Whether parks on septic systems forbid it as a rule; others are a matter of asking.</summary>
    public static bool ForbiddenOnSeptic(Substance substance) => substance is Substance.Formaldehyde or Substance.Bleach;

    /// <summary>What a recipe puts into the tank.</summary>
    public static IReadOnlyList<Substance> In(DoseRecipe recipe) => recipe switch
    {
        DoseRecipe.Enzyme => [Substance.Cultures],
        DoseRecipe.Deodorant => [Substance.Deodorant],
        DoseRecipe.SoftenerCleaner => [Substance.SoftenerCleaner],
        DoseRecipe.Yeast => [Substance.Yeast],
        DoseRecipe.TravelScrub => [Substance.Borax, Substance.DishSoap],
        DoseRecipe.Freshener => [Substance.Borax],
        DoseRecipe.SoftenerSoak => [Substance.WaterSoftener, Substance.LaundryDetergent],
        DoseRecipe.IceScrub => [Substance.Ice, Substance.DishwasherDetergent],
        DoseRecipe.SoapSoak or DoseRecipe.GraySoap => [Substance.DishSoap],
        DoseRecipe.SanitizeBleach or DoseRecipe.ClassicBleach => [Substance.Bleach],
        DoseRecipe.SensorCleaner => [Substance.SensorCleaner],
        DoseRecipe.PaperDigester => [Substance.PaperDigester],
        DoseRecipe.ValveLubricant => [Substance.ValveLubricant],
        DoseRecipe.SealConditioner => [Substance.SealConditioner],
        DoseRecipe.GrayDegreaser => [Substance.Degreaser],
        DoseRecipe.StorageDose => [Substance.Cultures],
        DoseRecipe.Other => [Substance.OtherCleaner],
    };
}
