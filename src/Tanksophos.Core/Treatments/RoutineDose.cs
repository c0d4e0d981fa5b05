using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Treatments;

/// <summary>The routine dose of a treatment school for one tank, and the water that goes in with it.</summary>
/// <param name="Recipe">What is dosed.</param>
/// <param name="AmountMl">Millilitres, for liquids; 0 for a powder.</param>
/// <param name="AmountG">Grams, for a powder; 0 for a liquid.</param>
/// <param name="WaterL">Litres of water that the dose asks for. It is the same water as the starter water.</param>
public sealed record RoutineDose(DoseRecipe Recipe, double AmountMl, double AmountG, double WaterL)
{
    private const double Gallon = UsMeasures.GallonL;
    /// <summary>A treatment that would be dumped within this time is not put in (practitioners' rule).</summary>
    public static readonly NodaTime.Duration BeforeDump = NodaTime.Duration.FromHours(48);

    private const double FluidOunce = UsMeasures.FluidOunceMl, Cup = UsMeasures.CupMl, Ounce = UsMeasures.OunceG;

    /// <summary>A dose lasts about a week; a longer fill is dosed again on day 7.</summary>
    public const int LastsDays = 7;

    /// <summary>Days over this (85 F) are hot: the dose is doubled, never more.</summary>
    public const double HotC = 29;

    /// <summary>Whether a hottest day calls for the double dose.</summary>
    public static bool IsHot(double? highC) => highC > HotC;

    /// <summary>Starter water as a share of capacity: covers the bottom.</summary>
    public const double StarterFraction = 0.10;

    /// <summary>Least starter water, 1 gal.</summary>
    public const double MinStarterL = Gallon;

    /// <summary>
    /// The dose after each dump, or null for schools without one. Enzyme: 8 fl oz per 40 gal with 3 gal of water. Deodorant: 8 fl oz
    /// a tank with 5 gal. Softener and cleaner: half a cup up to 40 gal, a cup above, with 2.5 gal. Yeast: 2 oz with 1 gal.
    /// The product's label outranks these figures.
    /// </summary>
    /// <param name="school">The school.</param>
    /// <param name="capacityL">The tank's capacity in litres.</param>
    public static RoutineDose? For(TreatmentSchool school, double capacityL) => school switch
    {
        TreatmentSchool.Enzyme => new(DoseRecipe.Enzyme, 8 * FluidOunce * capacityL / (40 * Gallon), 0, 3 * Gallon),
        TreatmentSchool.Deodorant => new(DoseRecipe.Deodorant, 8 * FluidOunce, 0, 5 * Gallon),
        TreatmentSchool.SoftenerCleaner => new(DoseRecipe.SoftenerCleaner, capacityL <= 40.5 * Gallon ? Cup / 2 : Cup, 0, 2.5 * Gallon),
        TreatmentSchool.Yeast => new(DoseRecipe.Yeast, 0, 2 * Ounce, Gallon),
        TreatmentSchool.BoraxSoap or TreatmentSchool.WaterOnly => null,
    };

    /// <summary>
    /// Starter water after a dump: a tenth of the tank, at least a gallon, and what the dose asks for; never more than a quarter of the tank.
    /// </summary>
    /// <param name="school">The school of the routine dose.</param>
    /// <param name="capacityL">The tank's capacity in litres.</param>
    /// <param name="product">The owner's product, whose label may ask for other water; null for the school's figure.</param>
    public static double StarterWaterL(TreatmentSchool school, double capacityL, Product? product = null) =>
        Math.Min(capacityL / 4, Math.Max(Math.Max(StarterFraction * capacityL, MinStarterL), For(school, capacityL) is { } dose ? product?.Dose?.WaterL
            ?? dose.WaterL : 0));

    /// <summary>Water that a tank is stored with above freezing: a little, at least a gallon; nearly full; or none.</summary>
    /// <param name="rule">The school of storage.</param>
    /// <param name="capacityL">The tank's capacity in litres.</param>
    public static double StorageWaterL(StorageRule rule, double capacityL) => rule switch
    {
        StorageRule.TreatedWater => Math.Max(UsMeasures.GallonL, Recipes.Find(DoseRecipe.StorageDose)!.WaterShare * capacityL),
        StorageRule.FullFresh => Dumping.Guard.FillTo * capacityL,
        StorageRule.Dry => 0,
    };

    /// <summary>Whether a recipe is a routine dose of some school.</summary>
    public static bool IsRoutine(DoseRecipe recipe) =>
        recipe is DoseRecipe.Enzyme or DoseRecipe.Deodorant or DoseRecipe.SoftenerCleaner or DoseRecipe.Yeast;
}
