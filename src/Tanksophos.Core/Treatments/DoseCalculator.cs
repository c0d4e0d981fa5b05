using System.Globalization;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Treatments;

/// <summary>Measures that amounts are given in.</summary>
public enum KitchenUnits
{
    /// <summary>Cups, fluid ounces, pounds, gallons.</summary>
    Us,

    /// <summary>Millilitres, grams, litres.</summary>
    Metric,
}

/// <summary>Something that goes into a tank.</summary>
/// <param name="Name">What it is; a kind, never a product.</param>
/// <param name="Amount">How much, in kitchen words.</param>
public sealed record Ingredient(string Name, string Amount)
{
    /// <summary>Millilitres; null for what is weighed, or goes by its label alone.</summary>
    public double? AmountMl { get; init; }

    /// <summary>Grams; null for what is measured by volume, or goes by its label alone.</summary>
    public double? AmountG { get; init; }
}

/// <summary>A computed treatment.</summary>
/// <param name="Ingredients">What goes in, one by one; empty for water alone.</param>
/// <param name="WaterL">Litres of water with it; for a routine dose it is the same water as the starter water.</param>
/// <param name="Steps">What to do, in order.</param>
/// <param name="Cautions">What can hurt people, seals or the park.</param>
public sealed record ComputedDose(IReadOnlyList<Ingredient> Ingredients, double WaterL, IReadOnlyList<string> Steps, IReadOnlyList<string> Cautions);

/// <summary>
/// Computes what to put into a tank, how much, with how much water and in which steps. The figures are practitioners'; a product's label outranks all of them.
/// </summary>
public static class DoseCalculator
{
    private const double Gallon = 3.785411784, FluidOunce = 29.5735295625, Cup = 236.5882365, Ounce = 28.349523125, Pound = 453.59237;
    // A closed tank is not filled beyond this.
    private const double MostFill = 0.9;
    private const double LabelWater = 3 * Gallon;

    private const string Label = "Read the label first: it outranks every figure here.";
    private const string Children = "Keep it away from children and pets; gloves on, eyes covered.";
    private const string Bleach = "Never together with bleach, acids or other cleaners: poisonous gas.";
    private const string Septic = "Some parks on septic systems forbid certain chemicals: ask.";

    /// <summary>The routine dose of a school after a dump, or what the school does instead.</summary>
    /// <param name="school">The school.</param>
    /// <param name="capacityL">Capacity in litres, above 0.</param>
    /// <param name="highC">Hottest expected day in C; above <see cref="RoutineDose.HotC"/> the dose is doubled.</param>
    /// <param name="days">Days until the next dump; a fill longer than a week is dosed again on day 7.</param>
    /// <param name="units">Measures for the words.</param>
    /// <exception cref="ArgumentOutOfRangeException">The capacity is not above 0.</exception>
    public static ComputedDose Routine(TreatmentSchool school, double capacityL, double? highC = null, double? days = null, KitchenUnits units = KitchenUnits.Us)
    {
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(capacityL);
        if (school == TreatmentSchool.BoraxSoap)
        {
            var scrub = Of(DoseRecipe.TravelScrub, capacityL, units);
            return scrub with { Steps = ["This school doses monthly or before a drive, not after each dump.", .. scrub.Steps] };
        }
        var water = RoutineDose.StarterWaterL(school, capacityL);
        if (RoutineDose.For(school, capacityL) is not { } dose)
            return new ComputedDose([], water, [$"Put {Water(water, units)} in: enough to cover the bottom.", "Nothing else: flush with plenty of water at each use."], ["A tank in use is never left dry: what lands on a dry floor sets hard."]);
        // Heat doubles; a long fill is dosed again instead. Together they never make more than double at once.
        var times = RoutineDose.IsHot(highC) ? 2 : 1;
        var again = days > RoutineDose.LastsDays;
        var name = dose.Recipe switch { DoseRecipe.Enzyme => "enzyme or bacteria product", DoseRecipe.Deodorant => "deodorant digester", DoseRecipe.SoftenerCleaner => "softener-and-cleaner solution", _ => "dry yeast enzyme" };
        var ingredient = dose.AmountMl > 0 ? Liquid(name, times * dose.AmountMl, units) : Weighed(name, times * dose.AmountG, units);
        List<string> steps = [$"Put {Water(water, units)} into the emptied and flushed tank.", $"{(dose.Recipe == DoseRecipe.SoftenerCleaner ? "Shake the solution, then pour in" : "Pour in")} {ingredient.Amount} of {name}."];
        if (times > 1) steps.Add("It is doubled for the heat; never go beyond the label's own maximum.");
        if (again) steps.Add("A dose works for about a week: put the same in again on day 7.");
        List<string> cautions = [Label, Children, Bleach];
        if (dose.Recipe is DoseRecipe.Enzyme or DoseRecipe.Yeast) cautions.Add("Living cultures: bleach kills them. After bleach rinse twice first. No second digester in the same fill.");
        if (dose.Recipe == DoseRecipe.Deodorant) cautions.Add("Where the stop is on septic, nothing with formaldehyde. No second digester in the same fill.");
        if (dose.Recipe == DoseRecipe.SoftenerCleaner) cautions.Add("No cleaner of pure pine oil: it is corrosive.");
        cautions.Add(Septic);
        return new ComputedDose([ingredient], water, steps, cautions);
    }

    /// <summary>A recipe for a tank.</summary>
    /// <param name="recipe">The recipe.</param>
    /// <param name="capacityL">Capacity in litres, above 0.</param>
    /// <param name="units">Measures for the words.</param>
    /// <param name="highC">Hottest expected day in C; counts for routine doses.</param>
    /// <param name="days">Days until the next dump; counts for routine doses.</param>
    /// <exception cref="ArgumentOutOfRangeException">The capacity is not above 0.</exception>
    /// <exception cref="ArgumentException">The recipe is none that is computed, see <see cref="WhyNot"/>.</exception>
    public static ComputedDose Of(DoseRecipe recipe, double capacityL, KitchenUnits units = KitchenUnits.Us, double? highC = null, double? days = null)
    {
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(capacityL);
        if (WhyNot(recipe) is { } why) throw new ArgumentException(why, nameof(recipe));
        double Fill(double share) => Math.Round(Math.Min(share, MostFill) * capacityL, 1);
        double Fits(double litres) => Math.Min(litres, MostFill * capacityL);
        string W(double litres) => Water(litres, units);
        switch (recipe)
        {
            case DoseRecipe.Enzyme:
                return Routine(TreatmentSchool.Enzyme, capacityL, highC, days, units);
            case DoseRecipe.Deodorant:
                return Routine(TreatmentSchool.Deodorant, capacityL, highC, days, units);
            case DoseRecipe.SoftenerCleaner:
                return Routine(TreatmentSchool.SoftenerCleaner, capacityL, highC, days, units);
            case DoseRecipe.Yeast:
                return Routine(TreatmentSchool.Yeast, capacityL, highC, days, units);
            case DoseRecipe.TravelScrub:
                var warm = Fits(3 * Gallon);
                return new ComputedDose([Liquid("borax", Cup / 2, units), Liquid("dish soap", Cup / 4, units)], Math.Round(warm, 1),
                    [$"Dissolve the borax fully in {W(Gallon / 2)} of hot water; what stays undissolved becomes sediment.", $"Before the drive to a dump pour it and the soap onto the waste, with warm water up to {W(warm)} in all; there must be free room for it.", "Drive: the longer the better.", "Dump, refill to a half or two thirds, dump again.", "For sensors: a whole cup of borax, on 4 to 6 dumps in a row until they recover; then each trip or monthly."],
                    [Label, Children, Bleach, "Not beyond the room that is left in the tank."]);
            case DoseRecipe.Freshener:
                var fresh = Fits(1.5 * Gallon);
                return new ComputedDose([Liquid("borax", Cup / 3, units)], Math.Round(fresh, 1), [$"First try water alone: {W(fresh)}.", "If the smell stays, dissolve the borax fully and pour it in with the same amount of water."], [Label, Children, Bleach]);
            case DoseRecipe.SoftenerSoak:
                return new ComputedDose([Liquid("water softener", 2 * Cup, units), Liquid("laundry detergent", Cup, units)], Fill(MostFill),
                    [$"Dissolve the softener fully in {W(Gallon)} of hot water.", $"Pour both into the emptied and flushed tank and fill it, under watch, with {W(Fill(MostFill))} in all; less by what will still be used meanwhile.", "Let it stand 24 hours.", "Dump and flush."], [Label, Children, Bleach, "Stay at the water while a closed tank fills. Leave room for what is used meanwhile, or leave the toilet out of use."]);
            case DoseRecipe.IceScrub:
                var ice = Math.Clamp(30 * capacityL / (40 * Gallon), 20, 50) * Pound;
                var half = Fill(0.5);
                return new ComputedDose([Weighed("ice", ice, units), Liquid("automatic-dishwasher detergent", Cup / 2 * capacityL / (38 * Gallon), units)], half,
                    ["Pour the ice down the toilet into the emptied tank.", $"Add the detergent and {W(half)} of water, half a tank.", "Drive two hours or until it has melted; bends help.", "Dump and flush."],
                    [Label, Children, "Never foaming dish liquid. If the detergent's label names bleach or chlorine: do not use it.", $"Half a tank and the ice weigh about {Weight(1000 * half + ice, units)} on the road."]);
            case DoseRecipe.SoapSoak:
                var near = Fill(0.8);
                return new ComputedDose([Liquid("dish soap", Cup / 2, units)], near, [$"Pour the soap in and fill to {W(near)} in all, with room left for the night.", "Let it stand overnight.", "Dump and flush."], [Label, Bleach, "Stay at the water while a closed tank fills."]);
            case DoseRecipe.SanitizeBleach:
                var clean = Fill(0.6);
                return new ComputedDose([Liquid("plain household bleach", Cup / 2, units)], clean,
                    ["Only after the tank was dumped and flushed until clear, with no waste left in it.", $"Fill with {W(clean)} of clean water, then pour the bleach in.", "A short drive; never leave it standing.", "Dump at once, fill and rinse twice."],
                    ["Bleach with urine (ammonia), acids or other cleaners makes poisonous gas. Never into a tank with waste or with any other treatment.", "It swells rubber seals and kills the bacteria of enzyme products; rinse twice before any of these.", Label, Children, Septic]);
            case DoseRecipe.SensorCleaner:
                return new ComputedDose([ByLabel("sensor cleaner")], Fill(MostFill), [$"Fill the cleaned tank, usually whole ({W(Fill(MostFill))}), by the label.", "Let it stand overnight.", "Dump and flush; look at the panel the day after."], [Label, Children, Bleach, "Stay at the water while a closed tank fills."]);
            case DoseRecipe.PaperDigester:
                var cover = Fits(LabelWater);
                return new ComputedDose([ByLabel("paper digester")], Math.Round(cover, 1), [$"Put in water enough to cover the heap; begin with {W(cover)}.", "Pour in the digester by its label.", "Let it stand 24 hours with the toilet out of use.", "Dump."], [Label, Children, Bleach, "No second digester in the same fill. A clogged tank cannot be emptied quickly: keep free room."]);
            case DoseRecipe.ValveLubricant:
                var around = Fits(5 * Gallon);
                return new ComputedDose([Liquid("valve lubricant", 8 * FluidOunce, units)], Math.Round(around, 1), [$"Pour it in with {W(around)} of water.", "Leave it 1 to 2 days in use.", "Work the valves while dumping."], [Label, "On rubber only what is made for it."]);
            case DoseRecipe.SealConditioner:
                return new ComputedDose([ByLabel("toilet seal conditioner")], Math.Round(2 * FluidOunce / 1000, 3), [$"Pour it into the bowl by its label, with about {Liquid("", 2 * FluidOunce, units).Amount} of water.", "Let it stand some hours on the seal."], [Label, "On rubber only what is made for it."]);
            case DoseRecipe.GraySoap:
                var little = Fits(1.5 * Gallon);
                return new ComputedDose([Liquid("dish soap", FluidOunce / 2, units)], Math.Round(little, 1), [$"A squirt through a drain that feeds this very tank, with {W(little)} of water.", "It works on the drive."], [Label]);
            case DoseRecipe.GrayDegreaser:
                var five = Fits(5 * Gallon);
                return new ComputedDose([Liquid("citrus degreaser", Cup, units)], Math.Round(five, 1), [$"Pour it through a drain that feeds this very tank, with {W(five)} of water.", "Drive.", "Dump."], [Label, Children, Bleach]);
            default:
                var stored = Math.Max(Fits(Gallon), Math.Round(0.07 * capacityL, 1));
                return new ComputedDose([ByLabel("holding-tank treatment for storage")], Math.Round(stored, 1), [$"Into the cleaned tank: {W(stored)} of water, about 7 % of it, and the treatment by its label.", "It keeps residue from drying while the rig stands."], [Label, Children, "In frost: emptied, and protected with RV antifreeze by the maker's manual. Water left in freezing tanks, valves or traps splits them."]);
        }
    }

    /// <summary>Why a recipe is not computed; null if it is.</summary>
    public static string? WhyNot(DoseRecipe recipe) => recipe switch
    {
        DoseRecipe.ClassicBleach => "it is only recorded when an owner reports it; bleach with anything but clean water is never planned or dosed",
        DoseRecipe.Other => "it has no amounts to compute from",
        _ => null,
    };

    private static Ingredient ByLabel(string name) => new(name, "by its label");

    // To the nearest measure in a kitchen.
    private static Ingredient Liquid(string name, double ml, KitchenUnits units)
    {
        if (units == KitchenUnits.Metric)
        {
            var round = ml < 50 ? 5 * Math.Max(1, Math.Round(ml / 5)) : 10 * Math.Round(ml / 10);
            return new Ingredient(name, string.Create(CultureInfo.InvariantCulture, $"{round:0} mL")) { AmountMl = round };
        }
        // Of all marks on cups and on an ounce measure the nearest, so that more is never rounded to less.
        var ounces = Math.Max(0.5, Math.Round(2 * ml / FluidOunce) / 2);
        var whole = Math.Floor(ml / Cup);
        var (marked, mark) = CupMarks.Select(m => (Ml: (whole + m.Share) * Cup, m.Mark)).MinBy(m => Math.Abs(m.Ml - ml));
        if (marked > 0 && Math.Abs(marked - ml) <= Math.Abs(ounces * FluidOunce - ml) + 1e-6)
        {
            if (mark == "1") (whole, mark) = (whole + 1, "");
            return new Ingredient(name, $"{(whole > 0 ? whole.ToString("0", CultureInfo.InvariantCulture) : "")}{(whole > 0 && mark.Length > 0 ? " " : "")}{mark} {(marked > Cup + 1 ? "cups" : "cup")}") { AmountMl = Math.Round(marked, 1) };
        }
        return new Ingredient(name, string.Create(CultureInfo.InvariantCulture, $"{ounces:0.#} fl oz")) { AmountMl = Math.Round(ounces * FluidOunce, 1) };
    }

    private static readonly (double Share, string Mark)[] CupMarks = [(0, ""), (0.25, "1/4"), (1.0 / 3, "1/3"), (0.5, "1/2"), (2.0 / 3, "2/3"), (0.75, "3/4"), (1, "1")];

    private static Ingredient Weighed(string name, double grams, KitchenUnits units)
    {
        var exact = grams < 1000 ? Math.Round(grams, 1) : Math.Round(grams / 100) * 100;
        return new Ingredient(name, Weight(grams, units)) { AmountG = exact };
    }

    private static string Weight(double grams, KitchenUnits units) => units == KitchenUnits.Metric
        ? grams >= 1000 ? string.Create(CultureInfo.InvariantCulture, $"{grams / 1000:0.#} kg") : string.Create(CultureInfo.InvariantCulture, $"{Math.Round(grams / 5) * 5:0} g")
        : grams >= Pound ? string.Create(CultureInfo.InvariantCulture, $"{grams / Pound:0} lb") : string.Create(CultureInfo.InvariantCulture, $"{Math.Round(2 * grams / Ounce) / 2:0.#} oz by weight");

    private static string Water(double litres, KitchenUnits units) => units == KitchenUnits.Metric
        ? string.Create(CultureInfo.InvariantCulture, $"{Math.Round(2 * litres) / 2:0.#} L")
        : string.Create(CultureInfo.InvariantCulture, $"{Math.Round(2 * litres / Gallon) / 2:0.#} gal");
}
