using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Treatments;

/// <summary>What is left of a product, and for how long.</summary>
/// <param name="Left">What is left, in <see cref="Product.HoldsIn"/>; null if it was never counted.</param>
/// <param name="Doses">Whole doses left; null if that or the dose is not known.</param>
/// <param name="PerDay">What is used a day, from the log; null with fewer than two uses.</param>
/// <param name="RunsOut">When it is used up at this rate; null if that is not known.</param>
/// <param name="Reorder">Whether it is time to buy it.</param>
public sealed record StockState(double? Left, int? Doses, double? PerDay, Instant? RunsOut, bool Reorder);

/// <summary>The products of a rig: which is in use, what a treatment takes of them and costs, what is left.</summary>
public static class Shelf
{
    /// <summary>With no more doses than this it is time to buy.</summary>
    public const int FewDoses = 2;

    /// <summary>What runs out within this time is bought now: the next shop may be a trip away.</summary>
    public static readonly Duration SoonOut = Duration.FromDays(14);

    private static readonly Duration RateOver = Duration.FromDays(120);

    /// <summary>Whether recipes say how much of it is used, so that no label dose is needed.</summary>
    public static bool IsMeasuredByRecipes(Substance kind) =>
        kind is Substance.Borax or Substance.DishSoap or Substance.LaundryDetergent or Substance.DishwasherDetergent
        or Substance.WaterSoftener or Substance.Degreaser or Substance.ValveLubricant or Substance.Bleach or Substance.Ice or Substance.Acid
        or Substance.OtherCleaner;

    /// <summary>The recipe under which a product of a kind is dosed by its label; null for what is only part of a recipe.</summary>
    public static DoseRecipe? RecipeOf(Substance kind) => kind switch
    {
        Substance.Cultures => DoseRecipe.Enzyme,
        Substance.Yeast => DoseRecipe.Yeast,
        Substance.Deodorant or Substance.Formaldehyde => DoseRecipe.Deodorant,
        Substance.SoftenerCleaner => DoseRecipe.SoftenerCleaner,
        Substance.PaperDigester => DoseRecipe.PaperDigester,
        Substance.SensorCleaner => DoseRecipe.SensorCleaner,
        Substance.ValveLubricant => DoseRecipe.ValveLubricant,
        Substance.SealConditioner => DoseRecipe.SealConditioner,
        Substance.Degreaser => DoseRecipe.GrayDegreaser,
        Substance.Borax or Substance.DishSoap or Substance.LaundryDetergent or Substance.DishwasherDetergent or Substance.WaterSoftener or Substance.Bleach
            or Substance.Acid or Substance.OtherCleaner or Substance.Ice => null,
    };

    /// <summary>The product in use whose label gives the dose of a recipe; null where the recipe's own figures count.</summary>
    /// <param name="products">The shelf.</param>
    /// <param name="recipe">The recipe.</param>
    public static Product? InUse(IReadOnlyList<Product> products, DoseRecipe recipe)
    {
        ArgumentNullException.ThrowIfNull(products);
        return products.FirstOrDefault(p => !p.Retired && p.Dose is not null
            && (RecipeOf(p.Kind) == recipe || recipe == DoseRecipe.StorageDose && p.Kind == Substance.Cultures));
    }

    /// <summary>The product in use for a school's routine dose; null without one.</summary>
    public static Product? For(Rig rig, TreatmentSchool school)
    {
        ArgumentNullException.ThrowIfNull(rig);
        return RoutineDose.For(school, 100) is { } dose ? InUse(rig.Products, dose.Recipe) : null;
    }

    /// <summary>Days that a school's routine dose works: the label's, else a week.</summary>
    public static int LastsDays(Rig rig, TreatmentSchool school) => For(rig, school)?.Dose?.LastsDays ?? RoutineDose.LastsDays;

    /// <summary>What a computed treatment takes from the shelf. Ingredients that are not on it are left out.</summary>
    /// <param name="products">The shelf.</param>
    /// <param name="dose">The treatment.</param>
    public static IReadOnlyList<ProductUse> Takes(IReadOnlyList<Product> products, ComputedDose dose)
    {
        ArgumentNullException.ThrowIfNull(products);
        ArgumentNullException.ThrowIfNull(dose);
        var uses = new List<ProductUse>();
        foreach (var ingredient in dose.Ingredients)
        {
            var product = ingredient.Product is { } named ? named : products.FirstOrDefault(p => !p.Retired && p.Kind == ingredient.Kind);
            if (product is not null && Quantity(product, ingredient) is > 0 and var quantity) uses.Add(new ProductUse(product.Id, Math.Round(quantity, 2)));
        }
        return uses;
    }

    /// <summary>What so much of a product costs, in hundredths; null without price and size.</summary>
    public static double? Cost(Product product, double quantity)
    {
        ArgumentNullException.ThrowIfNull(product);
        return product is { PriceMinor: { } price, Holds: > 0 and var holds } ? price * quantity / holds : null;
    }

    /// <summary>What uses cost together, in hundredths; null as soon as one of them has no price, or there is none.</summary>
    public static double? Cost(IReadOnlyList<Product> products, IReadOnlyList<ProductUse> uses)
    {
        ArgumentNullException.ThrowIfNull(products);
        ArgumentNullException.ThrowIfNull(uses);
        double sum = 0;
        foreach (var use in uses)
        {
            if (products.FirstOrDefault(p => p.Id == use.Product) is not { } product || Cost(product, use.Quantity) is not { } cost) return null;
            sum += cost;
        }
        return uses.Count > 0 ? sum : null;
    }

    /// <summary>What is left of a product.</summary>
    /// <param name="product">The product.</param>
    /// <param name="entries">The log in the order of time.</param>
    /// <param name="now">The present moment.</param>
    /// <param name="dose">What one dose takes; null for the last that the log knows.</param>
    public static StockState StateOf(Product product, IReadOnlyList<LogEntry> entries, Instant now, double? dose = null)
    {
        ArgumentNullException.ThrowIfNull(product);
        ArgumentNullException.ThrowIfNull(entries);
        // From now backwards to the last count of the bottle, as far as the rate is reckoned over, and at least to the last use.
        var since0 = Instant.Min(now - RateOver, product.Stock.LastOrDefault(s => !s.Bought && s.At.ToInstant() <= now)?.At.ToInstant() ?? Instant.MaxValue);
        var uses = new List<(Instant Instant, double Quantity)>();
        var taken = entries.Kind<DoseEntry>();
        for (var i = taken.Count - 1; i >= 0 && (taken[i].Instant >= since0 || uses.Count == 0); i--)
            if (taken[i].Instant <= now)
                foreach (var u in taken[i].Used.Where(u => u.Product == product.Id).Reverse()) uses.Add((taken[i].Instant, u.Quantity));
        uses.Reverse();
        double? left = null;
        if (product.Stock.LastOrDefault(s => !s.Bought && s.At.ToInstant() <= now) is { } counted)
        {
            var since = counted.At.ToInstant();
            left = counted.Amount + product.Stock.Where(s => s.Bought && s.At.ToInstant() > since && s.At.ToInstant() <= now)
                .Sum(s => s.Amount) - uses.Where(u => u.Instant > since).Sum(u => u.Quantity);
            left = Math.Max(0, left.Value);
        }
        var recent = uses.Where(u => now - u.Instant <= RateOver).ToList();
        // From the first use to now: a bottle that stands unused for long lasts longer.
        double? rate = recent.Count >= 2 && (now - recent[0].Instant).TotalDays >= 1
            ? recent.Sum(u => u.Quantity) / Math.Max((now - recent[0].Instant).TotalDays, 7) : null;
        var each = dose is > 0 ? dose : uses.Count > 0 ? uses[^1].Quantity : null;
        var doses = left is { } l && each is { } e ? (int)Math.Floor(l / e + 0.02) : (int?)null;
        var days = left / rate;
        var runsOut = days is < 3650 and var d ? now + Duration.FromDays(d) : (Instant?)null;
        return new StockState(left, doses, rate, runsOut, !product.Retired
            && (doses is { } n && n <= FewDoses || runsOut is { } out_ && out_ - now <= SoonOut));
    }

    // Powders are weighed on the box and measured in cups: about 0.85 g to the millilitre, scooped (a cup of borax is about 200 g).
    private const double ScoopedGPerMl = 0.85;

    private static double? Quantity(Product product, Ingredient ingredient)
    {
        if (ingredient.Quantity is { } exact && ingredient.Product?.Id == product.Id) return exact;
        return product.HoldsIn switch
        {
            DoseUnit.Ml => ingredient.AmountMl ?? ingredient.AmountG / ScoopedGPerMl,
            DoseUnit.G => ingredient.AmountG ?? ingredient.AmountMl * ScoopedGPerMl,
            DoseUnit.Cap or DoseUnit.Piece => null,
        };
    }
}
