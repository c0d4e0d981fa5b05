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
public sealed record ComputedDose(IReadOnlyList<Ingredient> Ingredients, double WaterL, IReadOnlyList<DoseLine> Steps, IReadOnlyList<DoseLine> Cautions)
{
    /// <summary>All that goes in beside the water, in kitchen measures: "1/2 cup borax, 1/4 cup dish soap".</summary>
    public string AmountInWords => string.Join(", ", Ingredients.Select(i => $"{i.Amount} {i.Name}"));

    /// <summary>Measures in which its amounts are given.</summary>
    public KitchenUnits Units { get; init; }

    /// <summary>Why this much: the arithmetic, line by line.</summary>
    public IReadOnlyList<DoseLine> Why { get; init; } = [];
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
    private const double MaxFill = 0.9;
    // Into a tank of unknown level: this much at a time, counted.
    private const double SmallAmountL = 1.5 * Gallon;

    private static readonly DoseLine Label = new(DoseNote.ReadLabel), Children = new(DoseNote.KeepAway), Bleach = new(DoseNote.NeverWithBleach),
        Septic = new(DoseNote.AskOnSeptic);

    /// <summary>The routine dose of a school after a dump, or what the school does instead.</summary>
    /// <param name="school">The school.</param>
    /// <param name="capacityL">Capacity in litres, above 0.</param>
    /// <param name="highC">Hottest expected day in C; above <see cref="RoutineDose.HotC"/> the dose is doubled.</param>
    /// <param name="days">Days until the next dump; a fill longer than a week is dosed again on day 7.</param>
    /// <param name="units">Measures for the words.</param>
    /// <exception cref="ArgumentOutOfRangeException">The capacity is not above 0.</exception>
    public static ComputedDose Routine(TreatmentSchool school, double capacityL, double? highC = null, double? days = null,
        KitchenUnits units = KitchenUnits.Us) =>
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
            var scrub = Compute(DoseRecipe.TravelScrub, tank);
            return scrub with { Steps = [new DoseLine(DoseNote.BeforeADrive), .. scrub.Steps] };
        }
        var product = tank.Product is { Dose: not null } ? tank.Product : null;
        var starter = RoutineDose.StarterWaterL(school, capacityL, product);
        var water = Math.Min(starter, tank.FreeL ?? double.MaxValue);
        List<DoseLine> why = [new(DoseNote.StarterRule) { Litres = RoutineDose.StarterFraction * capacityL }];
        if (water < starter) why.Add(new DoseLine(DoseNote.OnlyFits) { Litres = water });
        if (RoutineDose.For(school, capacityL) is not { } dose)
            return new ComputedDose([], water, [new DoseLine(DoseNote.CoverBottom) { Litres = water }, new DoseLine(DoseNote.WaterOnly)],
                [new DoseLine(DoseNote.NeverLeftDry)])
            { Why = why, Units = units };
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
            ingredient = (dose.AmountMl > 0 ? Liquid(name, (hot ? 2 : 1) * dose.AmountMl, units)
                : Weighed(name, (hot ? 2 : 1) * dose.AmountG, units)) with
            { Kind = kind };
            why.Add(new DoseLine(DoseNote.UsualDose) { Recipe = dose.Recipe, Litres = capacityL, Ml = dose.AmountMl, Grams = dose.AmountG });
            why.Add(new DoseLine(DoseNote.LabelOutranks));
        }
        if (hot) why.Add(new DoseLine(DoseNote.HotDay) { HeatC = tank.HighC });
        var again = tank.Days > lasts;
        if (again) why.Add(new DoseLine(DoseNote.LongFill) { Days = tank.Days, LastsDays = lasts });
        List<DoseLine> steps = [new(DoseNote.WaterIntoClean) { Litres = water }, new(DoseNote.PutIn) { Recipe = dose.Recipe, Ingredient = ingredient }];
        if (tank.LevelUnknown) steps.Insert(0, Counted(water));
        if (hot) steps.Add(new DoseLine(DoseNote.DoubledForHeat));
        if (again) steps.Add(new DoseLine(DoseNote.AgainLater) { LastsDays = lasts });
        List<DoseLine> cautions = [Label, Children, Bleach];
        if (product?.Caution is { } own) cautions.Insert(0, new DoseLine(DoseNote.OwnLabel) { Text = own });
        if (dose.Recipe is DoseRecipe.Enzyme or DoseRecipe.Yeast) cautions.Add(new DoseLine(DoseNote.LivingCultures));
        if (dose.Recipe == DoseRecipe.Deodorant) cautions.Add(new DoseLine(DoseNote.NoFormaldehydeOnSeptic));
        if (dose.Recipe == DoseRecipe.SoftenerCleaner) cautions.Add(new DoseLine(DoseNote.NoPineOil));
        cautions.Add(Septic);
        return new ComputedDose([ingredient], water, steps, cautions) { Why = why, Units = units };
    }

    /// <summary>A recipe for a tank.</summary>
    /// <param name="recipe">The recipe.</param>
    /// <param name="capacityL">Capacity in litres, above 0.</param>
    /// <param name="units">Measures for the words.</param>
    /// <param name="highC">Hottest expected day in C; counts for routine doses.</param>
    /// <param name="days">Days until the next dump; counts for routine doses.</param>
    /// <exception cref="ArgumentOutOfRangeException">The capacity is not above 0.</exception>
    /// <exception cref="ArgumentException">The recipe is none that is computed, see <see cref="IsComputed"/>.</exception>
    public static ComputedDose Compute(DoseRecipe recipe, double capacityL, KitchenUnits units = KitchenUnits.Us, double? highC = null, double? days = null) =>
        Compute(recipe, new DoseCase(capacityL) { Units = units, HighC = highC, Days = days });

    /// <summary>A recipe for a tank.</summary>
    /// <exception cref="ArgumentOutOfRangeException">The capacity is not above 0.</exception>
    /// <exception cref="ArgumentException">The recipe is none that is computed, see <see cref="IsComputed"/>.</exception>
    public static ComputedDose Compute(DoseRecipe recipe, DoseCase tank)
    {
        ArgumentNullException.ThrowIfNull(tank);
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(tank.CapacityL);
        if (!IsComputed(recipe)) throw new ArgumentException($"{recipe} is only recorded, never computed", nameof(recipe));
        if (SchoolOf(recipe) is { } school) return Routine(school, tank);
        var mixing = new Mixing(recipe, tank);
        return mixing.FromTheKitchen() ?? mixing.FromTheShelf();
    }

    // A recipe at work on one tank: what fits, what it is made of, and why.
    private sealed class Mixing(DoseRecipe recipe, DoseCase tank)
    {
        private readonly double capacityL = tank.CapacityL;
        private readonly KitchenUnits units = tank.Units;
        private readonly double free = tank.FreeL is { } f ? Math.Max(0, f) : double.MaxValue;
        private readonly List<DoseLine> why = [];

        private double Room(double wanted, DoseLine said)
        {
            var most = Math.Min(wanted, Math.Min(MaxFill * capacityL, free));
            why.Add(said);
            if (most < wanted - 0.2) why.Add(new DoseLine(DoseNote.OnlyFits) { Litres = most });
            return most;
        }

        private double Fill(double share) =>
            Math.Round(Room(share * capacityL, new DoseLine(DoseNote.ShareOfTank) { Share = share, Litres = capacityL, More = share * capacityL }), 1);

        private double Fits(double litres, DoseNote said = DoseNote.AnyTankWater) =>
            Room(litres, new DoseLine(said) { Recipe = recipe, Litres = litres, More = capacityL });

        private Ingredient Usual(Substance kind, string name, double ml)
        {
            why.Add(new DoseLine(DoseNote.UsualAmount) { Text = name, Ml = ml });
            return Liquid(name, ml, units) with { Kind = kind };
        }

        private Ingredient ByLabel(Substance kind, string name)
        {
            if (tank.Product is { Dose: not null } own) return ByProduct(own, tank with { HighC = null }, why);
            why.Add(new DoseLine(DoseNote.ByItsLabel) { Text = name });
            return new Ingredient(name, "by its label") { Kind = kind };
        }

        // The recipe's own steps by their number, with the figures that they name.
        private ComputedDose Made(IReadOnlyList<Ingredient> ingredients, double water, int count, DoseLine[] cautions, double? some = null,
            double? grams = null)
        {
            List<DoseLine> steps = [.. Enumerable.Range(1, count)
                .Select(n => new DoseLine(DoseNote.RecipeStep) { Recipe = recipe, Number = n, Litres = water, More = some, Grams = grams })];
            if (tank.LevelUnknown && water > SmallAmountL) steps.Insert(0, Counted(water));
            return new ComputedDose(ingredients, water, steps, tank.Product?.Caution is { } own ? [new DoseLine(DoseNote.OwnLabel) { Text = own }, .. cautions]
                : cautions)
            { Why = why, Units = units };
        }

        private DoseLine Own(int n, double? litres = null, double? grams = null) =>
            new(DoseNote.RecipeCaution) { Recipe = recipe, Number = n, Litres = litres, Grams = grams };

        private double Litres() => Recipes.Find(recipe)!.WaterLitres;

        private double Share() => Recipes.Find(recipe)!.WaterShare;

        // What a kitchen or laundry has; null for other recipes.
        public ComputedDose? FromTheKitchen()
        {
            switch (recipe)
            {
                case DoseRecipe.TravelScrub:
                    var warm = Math.Round(Fits(Litres()), 1);
                    return Made([Usual(Substance.Borax, "borax", tank.Recovery ? Cup : Cup / 2), Usual(Substance.DishSoap, "dish soap", Cup / 4)], warm, 5,
                        [Label, Children, Bleach, Own(1)], Gallon / 2);
                case DoseRecipe.Freshener:
                    var fresh = Math.Round(Fits(Litres()), 1);
                    return Made([Usual(Substance.Borax, "borax", Cup / 3)], fresh, 2, [Label, Children, Bleach]);
                case DoseRecipe.SoftenerSoak:
                    var soak = Fill(Share());
                    return Made([Usual(Substance.WaterSoftener, "water softener", 2 * Cup), Usual(Substance.LaundryDetergent, "laundry detergent", Cup)],
                        soak, 4,
                        [Label, Children, Bleach, Own(1)], Gallon);
                case DoseRecipe.IceScrub:
                    var ice = Math.Clamp(30 * capacityL / (40 * Gallon), 20, 50) * Pound;
                    var detergent = Cup / 2 * capacityL / (38 * Gallon);
                    var half = Fill(Share());
                    var weight = 1000 * half + ice;
                    why.Add(new DoseLine(DoseNote.IceWeight) { Grams = 30 * Pound, Litres = 40 * Gallon, MaxGrams = 50 * Pound, MinGrams = 20 * Pound });
                    why.Add(new DoseLine(DoseNote.DetergentShare) { Ml = Cup / 2, Litres = 38 * Gallon, MoreMl = detergent });
                    why.Add(new DoseLine(DoseNote.WeightOnTheRoad) { Litres = half, Grams = weight });
                    return Made([Weighed("ice", ice, units) with { Kind = Substance.Ice },
                        Liquid("automatic-dishwasher detergent", detergent, units) with { Kind = Substance.DishwasherDetergent }], half, 4,
                        [Label, Children, Own(1), Own(2, half, weight)]);
                case DoseRecipe.SoapSoak:
                    return Made([Usual(Substance.DishSoap, "dish soap", Cup / 2)], Fill(Share()), 3, [Label, Bleach, Own(1)]);
                case DoseRecipe.SanitizeBleach:
                    return Made([Usual(Substance.Bleach, "plain household bleach", Cup / 2)], Fill(Share()), 4, [Own(1), Own(2), Label, Children, Septic]);
                default:
                    return null;
            }
        }

        // What is bought for tanks: by its label where there is one.
        public ComputedDose FromTheShelf()
        {
            switch (recipe)
            {
                case DoseRecipe.SensorCleaner:
                    return Made([ByLabel(Substance.SensorCleaner, "sensor cleaner")], Fill(Share()), 3, [Label, Children, Bleach, Own(1)]);
                case DoseRecipe.PaperDigester:
                    var cover = Math.Round(Fits(tank.Product?.Dose?.WaterL ?? Litres(), DoseNote.CoverPile), 1);
                    return Made([ByLabel(Substance.PaperDigester, "paper digester")], cover, 4, [Label, Children, Bleach, Own(1)]);
                case DoseRecipe.ValveLubricant:
                    var around = Math.Round(Fits(tank.Product?.Dose?.WaterL ?? Litres()), 1);
                    return Made([tank.Product is { Dose: not null } ? ByLabel(Substance.ValveLubricant, "valve lubricant")
                        : Usual(Substance.ValveLubricant, "valve lubricant", 8 * FluidOunce)], around, 3, [Label, Own(1)]);
                case DoseRecipe.SealConditioner:
                    return Made([ByLabel(Substance.SealConditioner, "toilet seal conditioner")], Math.Round(2 * FluidOunce / 1000, 3), 2, [Label, Own(1)]);
                case DoseRecipe.GraySoap:
                    return Made([Usual(Substance.DishSoap, "dish soap", FluidOunce / 2)], Math.Round(Fits(Litres()), 1), 2, [Label]);
                case DoseRecipe.GrayDegreaser:
                    var five = Math.Round(Fits(tank.Product?.Dose?.WaterL ?? Litres()), 1);
                    return Made([tank.Product is { Dose: not null } ? ByLabel(Substance.Degreaser, "citrus degreaser")
                        : Usual(Substance.Degreaser, "citrus degreaser", Cup)], five, 3, [Label, Children, Bleach]);
                default:
                    var seventh = Math.Max(Math.Min(Gallon, MaxFill * capacityL), Share() * capacityL);
                    return Made([ByLabel(Substance.Cultures, "holding-tank treatment for storage")], Math.Round(Fits(seventh, DoseNote.StorageWater), 1), 2,
                        [Label, Children, Own(1)]);
            }
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

    /// <summary>
    /// Whether a recipe has amounts to compute: classic bleach is only recorded when an owner reports it, and of another product nothing is known.
    /// </summary>
    public static bool IsComputed(DoseRecipe recipe) => recipe is not (DoseRecipe.ClassicBleach or DoseRecipe.Other);

    private static DoseLine Counted(double litres) => litres > SmallAmountL ? new(DoseNote.CountSmallAmounts) { Litres = Gallon, More = 2 * Gallon }
        : new(DoseNote.PourSlowly);

    private static Ingredient ByProduct(Product product, DoseCase tank, List<DoseLine> why)
    {
        var label = product.Dose!;
        var dose = LabelDoses.For(label, tank.CapacityL, tank.HighC, tank.Units);
        string Said(double amount) => Words(amount, label, tank.Units);
        why.Add(new DoseLine(DoseNote.LabelDose)
        {
            Text = product.Name,
            Amount = Said(label.Amount),
            Litres = label.PerL,
            More = tank.CapacityL,
            Total = Said(dose.Exact / (dose.Doubled ? 2 : 1))
        });
        if (dose.AtMost) why.Add(new DoseLine(DoseNote.LabelMost) { Amount = Said(label.Max!.Value) });
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
            DoseUnit.Ml => Small(amount, units),
        };
    }

    /// <summary>Small volumes as they are measured: spoons, ounces, millilitres.</summary>
    /// <param name="ml">Millilitres.</param>
    /// <param name="units">Measures.</param>
    public static string Small(double ml, KitchenUnits units)
    {
        if (units == KitchenUnits.Metric) return string.Create(CultureInfo.InvariantCulture, $"{Math.Round(ml, ml < 20 ? 1 : 0):0.#} mL");
        return ml < 1.45 * FluidOunce ? string.Create(CultureInfo.InvariantCulture, $"{ml / Measure.Teaspoon:0.##} tsp")
            : string.Create(CultureInfo.InvariantCulture, $"{ml / FluidOunce:0.#} fl oz");
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
            return new Ingredient(name,
                $"{(whole > 0 ? whole.ToString("0", CultureInfo.InvariantCulture) : "")}{(whole > 0 && mark.Length > 0 ? " " : "")}{mark} "
                + $"{(marked > Cup + 1 ? "cups" : "cup")}")
            {
                AmountMl =
                Math.Round(marked, 1)
            };
        }
        return new Ingredient(name, string.Create(CultureInfo.InvariantCulture, $"{ounces:0.#} fl oz")) { AmountMl = Math.Round(ounces * FluidOunce, 1) };
    }

    private static readonly (double Share, string Mark)[] CupMarks = [(0, ""), (0.25, "1/4"), (1.0 / 3, "1/3"), (0.5, "1/2"), (2.0 / 3, "2/3"),
        (0.75, "3/4"), (1, "1")];

    private static Ingredient Weighed(string name, double grams, KitchenUnits units)
    {
        var exact = grams < 1000 ? Math.Round(grams, 1) : Math.Round(grams / 100) * 100;
        return new Ingredient(name, Weight(grams, units)) { AmountG = exact };
    }

    /// <summary>A weight as it is said: "2 oz by weight", "30 lb", "60 g".</summary>
    /// <param name="grams">Grams.</param>
    /// <param name="units">Measures.</param>
    public static string Weight(double grams, KitchenUnits units) => units == KitchenUnits.Metric
        ? grams >= 1000 ? string.Create(CultureInfo.InvariantCulture, $"{grams / 1000:0.#} kg")
        : string.Create(CultureInfo.InvariantCulture, $"{Math.Round(grams / 5) * 5:0} g")
        : grams >= Pound ? string.Create(CultureInfo.InvariantCulture, $"{grams / Pound:0} lb")
        : string.Create(CultureInfo.InvariantCulture, $"{(grams < Ounce ? grams / Ounce : Math.Round(2 * grams / Ounce) / 2):0.##} oz by weight");
}
