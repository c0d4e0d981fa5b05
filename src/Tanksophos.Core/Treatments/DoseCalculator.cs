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
/// <param name="Name">What it is; a kind, or what its owner calls it.</param>
/// <param name="Amount">How much, in kitchen words.</param>
public sealed record Ingredient(string Name, string Amount)
{
    /// <summary>Millilitres; null for what is weighed or counted, or goes by its label alone.</summary>
    public double? AmountMl { get; init; }

    /// <summary>Grams; null for what is measured by volume or counted, or goes by its label alone.</summary>
    public double? AmountG { get; init; }

    /// <summary>What kind of thing it is.</summary>
    public Substance? Kind { get; init; }

    /// <summary>The owner's product whose label gave the amount; null where a recipe did.</summary>
    public Product? Product { get; init; }

    /// <summary>How much of that product, in what its bottle is counted in.</summary>
    public double? Quantity { get; init; }
}

/// <summary>A computed treatment.</summary>
/// <param name="Ingredients">What goes in, one by one; empty for water alone.</param>
/// <param name="WaterL">Litres of water with it; for a routine dose it is the same water as the starter water.</param>
/// <param name="Steps">What to do, in order.</param>
/// <param name="Cautions">What can hurt people, seals or the park.</param>
public sealed record ComputedDose(IReadOnlyList<Ingredient> Ingredients, double WaterL, IReadOnlyList<string> Steps, IReadOnlyList<string> Cautions)
{
    /// <summary>All that goes in beside the water, in kitchen measures: "1/2 cup borax, 1/4 cup dish soap".</summary>
    public string AmountInWords => string.Join(", ", Ingredients.Select(i => $"{i.Amount} {i.Name}"));

    /// <summary>Why this much: the arithmetic, line by line.</summary>
    public IReadOnlyList<string> Why { get; init; } = [];
}

/// <summary>The tank and the days a dose is computed for.</summary>
/// <param name="CapacityL">Capacity in litres, above 0.</param>
public sealed record DoseCase(double CapacityL)
{
    /// <summary>Measures for the words, and what amounts are rounded to.</summary>
    public KitchenUnits Units { get; init; } = KitchenUnits.Us;

    /// <summary>Hottest expected day in C; above <see cref="RoutineDose.HotC"/> a routine dose is doubled. Null if it is not known.</summary>
    public double? HighC { get; init; }

    /// <summary>Days until the next dump; a fill longer than a dose works is dosed again. Null if they are not known.</summary>
    public double? Days { get; init; }

    /// <summary>The owner's product whose label outranks the recipe; null for the recipe's own figures.</summary>
    public Product? Product { get; init; }

    /// <summary>Litres that surely fit, by the cautious side of the belief; null if that is not asked.</summary>
    public double? FreeL { get; init; }

    /// <summary>Whether a travel scrub is to win a lamp back: a whole cup of borax, where half a one keeps a tank up.</summary>
    public bool Recovery { get; init; }

    /// <summary>Whether nobody really knows the level, so that water goes in by small counted amounts.</summary>
    public bool LevelUnknown { get; init; }
}

/// <summary>
/// Computes what to put into a tank, how much, with how much water and in which steps. The figures are practitioners'; a product's label outranks all of them.
/// </summary>
public static class DoseCalculator
{
    private const double Gallon = UsMeasures.GallonL, FluidOunce = Measure.FluidOunce, Cup = Measure.Cup, Ounce = Measure.Ounce, Pound = UsMeasures.PoundG;
    // A closed tank is not filled beyond this.
    private const double MostFill = 0.9;
    private const double LabelWater = 3 * Gallon;
    // Into a tank of unknown level: this much at a time, counted.
    private const double SmallAmountL = 1.5 * Gallon;

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
    public static ComputedDose Routine(TreatmentSchool school, double capacityL, double? highC = null, double? days = null, KitchenUnits units = KitchenUnits.Us) =>
        Routine(school, new DoseCase(capacityL) { HighC = highC, Days = days, Units = units });

    /// <summary>The routine dose of a school after a dump, or what the school does instead.</summary>
    /// <exception cref="ArgumentOutOfRangeException">The capacity is not above 0.</exception>
    public static ComputedDose Routine(TreatmentSchool school, DoseCase tank)
    {
        ArgumentNullException.ThrowIfNull(tank);
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(tank.CapacityL);
        var (capacityL, units) = (tank.CapacityL, tank.Units);
        if (school == TreatmentSchool.BoraxSoap)
        {
            var scrub = Of(DoseRecipe.TravelScrub, tank);
            return scrub with { Steps = ["This school doses monthly or before a drive, not after each dump.", .. scrub.Steps] };
        }
        var product = tank.Product is { Dose: not null } ? tank.Product : null;
        var starter = RoutineDose.StarterWaterL(school, capacityL, product);
        var water = Math.Min(starter, tank.FreeL ?? double.MaxValue);
        List<string> why = [$"Water: the larger of a tenth of the tank ({Water(RoutineDose.StarterFraction * capacityL, units)}), a gallon and what the dose asks for; at most a quarter of the tank."];
        if (water < starter) why.Add($"Only {Water(water, units)} surely fit.");
        if (RoutineDose.For(school, capacityL) is not { } dose)
            return new ComputedDose([], water, [$"Put {Water(water, units)} in: enough to cover the bottom.", "Nothing else: flush with plenty of water at each use."], ["A tank in use is never left dry: what lands on a dry floor sets hard."]) { Why = why };
        // Heat doubles; a long fill is dosed again instead. Together they never make more than double at once.
        var hot = RoutineDose.IsHot(tank.HighC);
        var lasts = product?.Dose!.LastsDays ?? RoutineDose.LastsDays;
        Ingredient ingredient;
        if (product is not null) ingredient = ByProduct(product, tank, why);
        else
        {
            var (name, kind) = dose.Recipe switch
            {
                DoseRecipe.Enzyme => ("enzyme or bacteria product", Substance.Cultures),
                DoseRecipe.Deodorant => ("deodorant digester", Substance.Deodorant),
                DoseRecipe.SoftenerCleaner => ("softener-and-cleaner solution", Substance.SoftenerCleaner),
                _ => ("dry yeast enzyme", Substance.Yeast),
            };
            ingredient = (dose.AmountMl > 0 ? Liquid(name, (hot ? 2 : 1) * dose.AmountMl, units) : Weighed(name, (hot ? 2 : 1) * dose.AmountG, units)) with { Kind = kind };
            why.Add(dose.Recipe switch
            {
                DoseRecipe.Enzyme => $"{Small(8 * FluidOunce, units)} for each {Water(40 * Gallon, units)} of tank: {Water(capacityL, units)} take {Small(dose.AmountMl, units)}.",
                DoseRecipe.Deodorant => $"{Small(8 * FluidOunce, units)} for a tank of any size.",
                DoseRecipe.SoftenerCleaner => $"{(units == KitchenUnits.Us ? "Half a cup" : "120 mL")} up to {Water(40 * Gallon, units)}, twice that above: this tank holds {Water(capacityL, units)}.",
                _ => $"{Weight(2 * Ounce, units)} for a tank of any size.",
            });
            why.Add("Practitioners' figure; the label of what you have outranks it. Put it on the shelf and it will.");
        }
        if (hot) why.Add($"The hottest day, {Heat(tank.HighC!.Value, units)}, is over {(units == KitchenUnits.Us ? "85 F" : Heat(RoutineDose.HotC, units))}: doubled, and never more than double.");
        var again = tank.Days > lasts;
        if (again) why.Add($"{tank.Days!.Value.ToString("0.#", CultureInfo.InvariantCulture)} days are longer than it works ({lasts}): the same again on day {lasts}, not more at once.");
        List<string> steps = [$"Put {Water(water, units)} into the emptied and flushed tank.", $"{(dose.Recipe == DoseRecipe.SoftenerCleaner ? "Shake the solution, then pour in" : ingredient.Product?.Dose?.Unit == DoseUnit.Piece ? "Drop in" : "Pour in")} {ingredient.Amount} of {ingredient.Name}."];
        if (tank.LevelUnknown) steps.Insert(0, Counted(water, units));
        if (hot) steps.Add("It is doubled for the heat; never go beyond the label's own maximum.");
        if (again) steps.Add($"A dose works for about {(lasts == 7 ? "a week" : $"{lasts} days")}: put the same in again on day {lasts}.");
        List<string> cautions = [Label, Children, Bleach];
        if (product?.Caution is { } own) cautions.Insert(0, $"Its label: {own}");
        if (dose.Recipe is DoseRecipe.Enzyme or DoseRecipe.Yeast) cautions.Add("Living cultures: bleach kills them. After bleach rinse twice first. No second digester in the same fill.");
        if (dose.Recipe == DoseRecipe.Deodorant) cautions.Add("Where the stop is on septic, nothing with formaldehyde. No second digester in the same fill.");
        if (dose.Recipe == DoseRecipe.SoftenerCleaner) cautions.Add("No cleaner of pure pine oil: it is corrosive.");
        cautions.Add(Septic);
        return new ComputedDose([ingredient], water, steps, cautions) { Why = why };
    }

    /// <summary>A recipe for a tank.</summary>
    /// <param name="recipe">The recipe.</param>
    /// <param name="capacityL">Capacity in litres, above 0.</param>
    /// <param name="units">Measures for the words.</param>
    /// <param name="highC">Hottest expected day in C; counts for routine doses.</param>
    /// <param name="days">Days until the next dump; counts for routine doses.</param>
    /// <exception cref="ArgumentOutOfRangeException">The capacity is not above 0.</exception>
    /// <exception cref="ArgumentException">The recipe is none that is computed, see <see cref="WhyNot"/>.</exception>
    public static ComputedDose Of(DoseRecipe recipe, double capacityL, KitchenUnits units = KitchenUnits.Us, double? highC = null, double? days = null) =>
        Of(recipe, new DoseCase(capacityL) { Units = units, HighC = highC, Days = days });

    /// <summary>A recipe for a tank.</summary>
    /// <exception cref="ArgumentOutOfRangeException">The capacity is not above 0.</exception>
    /// <exception cref="ArgumentException">The recipe is none that is computed, see <see cref="WhyNot"/>.</exception>
    public static ComputedDose Of(DoseRecipe recipe, DoseCase tank)
    {
        ArgumentNullException.ThrowIfNull(tank);
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(tank.CapacityL);
        if (WhyNot(recipe) is { } not) throw new ArgumentException(not, nameof(recipe));
        if (SchoolOf(recipe) is { } school) return Routine(school, tank);
        var (capacityL, units) = (tank.CapacityL, tank.Units);
        List<string> why = [];
        var free = tank.FreeL is { } f ? Math.Max(0, f) : double.MaxValue;
        double Room(double wanted, string said)
        {
            var most = Math.Min(wanted, Math.Min(MostFill * capacityL, free));
            why.Add(most < wanted - 0.2 ? $"Water: {said}; by the cautious side of the estimate only {Water(most, units)} surely fit." : $"Water: {said}.");
            return most;
        }
        double Fill(double share) => Math.Round(Room(share * capacityL, $"{share.ToString("0 %", CultureInfo.InvariantCulture)} of {Water(capacityL, units)} is {Water(share * capacityL, units)}"), 1);
        double Fits(double litres, string? said = null) => Room(litres, said ?? $"{Water(litres, units)}, whatever the size of the tank");
        string W(double litres) => Water(litres, units);
        Ingredient L(Substance kind, string name, double ml)
        {
            why.Add($"{TitleOf(name)}: {Small(ml, units)}, as practitioners use it in a tank of any size.");
            return Liquid(name, ml, units) with { Kind = kind };
        }
        Ingredient ByLabel(Substance kind, string name)
        {
            if (tank.Product is { Dose: not null } own) return ByProduct(own, tank with { HighC = null }, why);
            why.Add($"{TitleOf(name)}: by its label. Put it on the shelf with its label's dose and the amount is computed.");
            return new Ingredient(name, "by its label") { Kind = kind };
        }
        ComputedDose Made(IReadOnlyList<Ingredient> ingredients, double water, string[] steps, string[] cautions) =>
            new(ingredients, water, tank.LevelUnknown && water > SmallAmountL ? [Counted(water, units), .. steps] : steps, tank.Product?.Caution is { } own ? [$"Its label: {own}", .. cautions] : cautions) { Why = why };
        double Litres() => Recipes.Find(recipe)!.WaterLitres;
        double Share() => Recipes.Find(recipe)!.WaterShare;
        switch (recipe)
        {
            case DoseRecipe.TravelScrub:
                var warm = Fits(Litres());
                return Made([L(Substance.Borax, "borax", tank.Recovery ? Cup : Cup / 2), L(Substance.DishSoap, "dish soap", Cup / 4)], Math.Round(warm, 1),
                    [$"Dissolve the borax fully in {W(Gallon / 2)} of hot water; what stays undissolved becomes sediment.", $"Before the drive to a dump pour it and the soap onto the waste, with warm water up to {W(warm)} in all; there must be free room for it.", "Drive: the longer the better.", "Dump, refill to a half or two thirds, dump again.", "For sensors: a whole cup of borax, on 4 to 6 dumps in a row until they recover; then each trip or monthly."],
                    [Label, Children, Bleach, "Not beyond the room that is left in the tank."]);
            case DoseRecipe.Freshener:
                var fresh = Fits(Litres());
                return Made([L(Substance.Borax, "borax", Cup / 3)], Math.Round(fresh, 1), [$"First try water alone: {W(fresh)}.", "If the smell stays, dissolve the borax fully and pour it in with the same amount of water."], [Label, Children, Bleach]);
            case DoseRecipe.SoftenerSoak:
                var soak = Fill(Share());
                return Made([L(Substance.WaterSoftener, "water softener", 2 * Cup), L(Substance.LaundryDetergent, "laundry detergent", Cup)], soak,
                    [$"Dissolve the softener fully in {W(Gallon)} of hot water.", $"Pour both into the emptied and flushed tank and fill it, under watch, with {W(soak)} in all; less by what will still be used meanwhile.", "Let it stand 24 hours.", "Dump and flush."], [Label, Children, Bleach, "Stay at the water while a closed tank fills. Leave room for what is used meanwhile, or leave the toilet out of use."]);
            case DoseRecipe.IceScrub:
                var ice = Math.Clamp(30 * capacityL / (40 * Gallon), 20, 50) * Pound;
                var detergent = Cup / 2 * capacityL / (38 * Gallon);
                var half = Fill(Share());
                why.Add($"Ice: {Weight(30 * Pound, units)} for {W(40 * Gallon)}, between {Weight(20 * Pound, units)} and {Weight(50 * Pound, units)}. Some use ice alone, and its worth is disputed.");
                why.Add($"Detergent: {Small(Cup / 2, units)} for each {W(38 * Gallon)}: {Small(detergent, units)}.");
                why.Add($"Weight: a litre of water is a kilogram, so {W(half)} and the ice are {Weight(1000 * half + ice, units)}.");
                return Made([Weighed("ice", ice, units) with { Kind = Substance.Ice }, Liquid("automatic-dishwasher detergent", detergent, units) with { Kind = Substance.DishwasherDetergent }], half,
                    ["Pour the ice down the toilet into the emptied tank.", $"Add the detergent and {W(half)} of water, half a tank.", "Drive two hours or until it has melted; bends help.", "Dump and flush."],
                    [Label, Children, "Never foaming dish liquid. If the detergent's label names bleach or chlorine: do not use it.", $"Half a tank and the ice weigh about {Weight(1000 * half + ice, units)} on the road."]);
            case DoseRecipe.SoapSoak:
                var near = Fill(Share());
                return Made([L(Substance.DishSoap, "dish soap", Cup / 2)], near, [$"Pour the soap in and fill to {W(near)} in all, with room left for the night.", "Let it stand overnight.", "Dump and flush."], [Label, Bleach, "Stay at the water while a closed tank fills."]);
            case DoseRecipe.SanitizeBleach:
                var clean = Fill(Share());
                return Made([L(Substance.Bleach, "plain household bleach", Cup / 2)], clean,
                    ["Only after the tank was dumped and flushed until clear, with no waste left in it.", $"Fill with {W(clean)} of clean water, then pour the bleach in.", "A short drive; never leave it standing.", "Dump at once, fill and rinse twice."],
                    ["Bleach with urine (ammonia), acids or other cleaners makes poisonous gas. Never into a tank with waste or with any other treatment.", "It swells rubber seals and kills the bacteria of enzyme products; rinse twice before any of these.", Label, Children, Septic]);
            case DoseRecipe.SensorCleaner:
                var whole = Fill(Share());
                return Made([ByLabel(Substance.SensorCleaner, "sensor cleaner")], whole, [$"Fill the cleaned tank, usually whole ({W(whole)}), by the label.", "Let it stand overnight.", "Dump and flush; look at the panel the day after."], [Label, Children, Bleach, "Stay at the water while a closed tank fills."]);
            case DoseRecipe.PaperDigester:
                var cover = Fits(tank.Product?.Dose?.WaterL ?? Litres(), $"enough to cover the heap; begin with {W(tank.Product?.Dose?.WaterL ?? Litres())}");
                return Made([ByLabel(Substance.PaperDigester, "paper digester")], Math.Round(cover, 1), [$"Put in water enough to cover the heap; begin with {W(cover)}.", "Pour in the digester by its label.", "Let it stand 24 hours with the toilet out of use.", "Dump."], [Label, Children, Bleach, "No second digester in the same fill. A clogged tank cannot be emptied quickly: keep free room."]);
            case DoseRecipe.ValveLubricant:
                var around = Fits(tank.Product?.Dose?.WaterL ?? Litres());
                return Made([tank.Product is { Dose: not null } ? ByLabel(Substance.ValveLubricant, "valve lubricant") : L(Substance.ValveLubricant, "valve lubricant", 8 * FluidOunce)], Math.Round(around, 1), [$"Pour it in with {W(around)} of water.", "Leave it 1 to 2 days in use.", "Work the valves while dumping."], [Label, "On rubber only what is made for it."]);
            case DoseRecipe.SealConditioner:
                return Made([ByLabel(Substance.SealConditioner, "toilet seal conditioner")], Math.Round(2 * FluidOunce / 1000, 3), [$"Pour it into the bowl by its label, with about {Liquid("", 2 * FluidOunce, units).Amount} of water.", "Let it stand some hours on the seal."], [Label, "On rubber only what is made for it."]);
            case DoseRecipe.GraySoap:
                var little = Fits(Litres());
                return Made([L(Substance.DishSoap, "dish soap", FluidOunce / 2)], Math.Round(little, 1), [$"A squirt through a drain that feeds this very tank, with {W(little)} of water.", "It works on the drive."], [Label]);
            case DoseRecipe.GrayDegreaser:
                var five = Fits(tank.Product?.Dose?.WaterL ?? Litres());
                return Made([tank.Product is { Dose: not null } ? ByLabel(Substance.Degreaser, "citrus degreaser") : L(Substance.Degreaser, "citrus degreaser", Cup)], Math.Round(five, 1), [$"Pour it through a drain that feeds this very tank, with {W(five)} of water.", "Drive.", "Dump."], [Label, Children, Bleach]);
            default:
                var seventh = Math.Max(Math.Min(Gallon, MostFill * capacityL), Share() * capacityL);
                var stored = Math.Round(Fits(seventh, $"about 7 % of {W(capacityL)}, at least a gallon: {W(seventh)}"), 1);
                return Made([ByLabel(Substance.Cultures, "holding-tank treatment for storage")], stored, [$"Into the cleaned tank: {W(stored)} of water, about 7 % of it, and the treatment by its label.", "It keeps residue from drying while the rig stands."], [Label, Children, "In frost: emptied, and protected with RV antifreeze by the maker's manual. Water left in freezing tanks, valves or traps splits them."]);
        }
    }

    /// <summary>The school of which a recipe is the routine dose; null for others.</summary>
    public static TreatmentSchool? SchoolOf(DoseRecipe recipe) => recipe switch
    {
        DoseRecipe.Enzyme => TreatmentSchool.Enzyme,
        DoseRecipe.Deodorant => TreatmentSchool.Deodorant,
        DoseRecipe.SoftenerCleaner => TreatmentSchool.SoftenerCleaner,
        DoseRecipe.Yeast => TreatmentSchool.Yeast,
        _ => null,
    };

    /// <summary>Why a recipe is not computed; null if it is.</summary>
    public static string? WhyNot(DoseRecipe recipe) => recipe switch
    {
        DoseRecipe.ClassicBleach => "it is only recorded when an owner reports it; bleach with anything but clean water is never planned or dosed",
        DoseRecipe.Other => "it has no amounts to compute from",
        _ => null,
    };

    private static string Counted(double litres, KitchenUnits units) => litres > SmallAmountL
        ? $"Nobody knows how full it is: put the water in by {Water(Gallon, units)} to {Water(2 * Gallon, units)} at a time, count it, and look down between."
        : "Nobody knows how full it is: pour slowly, count it, and look down meanwhile.";

    private static Ingredient ByProduct(Product product, DoseCase tank, List<string> why)
    {
        var label = product.Dose!;
        var dose = LabelDoses.For(label, tank.CapacityL, tank.HighC, tank.Units);
        string Said(double amount) => Words(amount, label, tank.Units);
        why.Add(label.PerL is { } per
            ? $"The label of {product.Name}: {Said(label.Amount)} for each {Water(per, tank.Units)}; {Water(tank.CapacityL, tank.Units)} take {Said(dose.Exact / (dose.Doubled ? 2 : 1))}."
            : $"The label of {product.Name}: {Said(label.Amount)} a tank.");
        if (dose.AtMost) why.Add($"The label's most is {Said(label.Most!.Value)} a tank: no more than that.");
        return new Ingredient(product.Name, Said(dose.Amount))
        {
            Kind = product.Kind,
            Product = product,
            AmountMl = label.Unit is DoseUnit.Ml or DoseUnit.Cap ? Math.Round(dose.InBottleUnits(label), 1) : null,
            AmountG = label.Unit == DoseUnit.G ? Math.Round(dose.Amount, 1) : null,
            Quantity = Math.Round(dose.InBottleUnits(label), 2),
        };
    }

    /// <summary>An amount by a label in words: "2 caps (30 mL)", "1 sachet", "4 fl oz".</summary>
    public static string Words(double amount, LabelDose label, KitchenUnits units)
    {
        ArgumentNullException.ThrowIfNull(label);
        var number = amount.ToString("0.##", CultureInfo.InvariantCulture);
        return label.Unit switch
        {
            DoseUnit.Cap => $"{number} {(amount > 1 ? "caps" : "cap")}{(label.CapMl is { } cap ? $" ({Small(amount * cap, units)})" : "")}",
            DoseUnit.Piece => $"{number} {(amount > 1 ? "pieces" : "piece")}",
            DoseUnit.G => Weight(amount, units),
            _ => Small(amount, units),
        };
    }

    private static string TitleOf(string name) => char.ToUpperInvariant(name[0]) + name[1..];

    private static string Heat(double celsius, KitchenUnits units) => units == KitchenUnits.Us
        ? string.Create(CultureInfo.InvariantCulture, $"{celsius * 9 / 5 + 32:0} F") : string.Create(CultureInfo.InvariantCulture, $"{celsius:0.#} C");

    // Small volumes as they are measured: spoons, ounces, millilitres.
    private static string Small(double ml, KitchenUnits units)
    {
        if (units == KitchenUnits.Metric) return string.Create(CultureInfo.InvariantCulture, $"{Math.Round(ml, ml < 20 ? 1 : 0):0.#} mL");
        return ml < 1.45 * FluidOunce ? string.Create(CultureInfo.InvariantCulture, $"{ml / Measure.Teaspoon:0.##} tsp") : string.Create(CultureInfo.InvariantCulture, $"{ml / FluidOunce:0.#} fl oz");
    }

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
        : grams >= Pound ? string.Create(CultureInfo.InvariantCulture, $"{grams / Pound:0} lb") : string.Create(CultureInfo.InvariantCulture, $"{(grams < Ounce ? grams / Ounce : Math.Round(2 * grams / Ounce) / 2):0.##} oz by weight");

    private static string Water(double litres, KitchenUnits units) => units == KitchenUnits.Metric
        ? string.Create(CultureInfo.InvariantCulture, $"{Math.Round(2 * litres) / 2:0.#} L")
        : string.Create(CultureInfo.InvariantCulture, $"{Math.Round(2 * litres / Gallon) / 2:0.#} gal");
}
