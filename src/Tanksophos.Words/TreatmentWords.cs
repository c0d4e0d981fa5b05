using System.Globalization;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;

namespace Tanksophos.Words;

/// <summary>Says treatments in words.</summary>
public static class TreatmentWords
{
    /// <summary>The name of a recipe.</summary>
    public static string Title(DoseRecipe recipe) => recipe switch
    {
        DoseRecipe.Enzyme => "Enzyme or bacteria",
        DoseRecipe.Deodorant => "Deodorant digester",
        DoseRecipe.SoftenerCleaner => "Softener and cleaner",
        DoseRecipe.Yeast => "Dry yeast",
        DoseRecipe.TravelScrub => "Travel scrub",
        DoseRecipe.Freshener => "Freshener",
        DoseRecipe.SoftenerSoak => "Softener soak",
        DoseRecipe.IceScrub => "Ice scrub",
        DoseRecipe.SoapSoak => "Soap soak",
        DoseRecipe.SanitizeBleach => "Sanitize with bleach",
        DoseRecipe.ClassicBleach => "Old recipe with bleach",
        DoseRecipe.SensorCleaner => "Sensor cleaner",
        DoseRecipe.PaperDigester => "Paper digester",
        DoseRecipe.ValveLubricant => "Valve lubricant",
        DoseRecipe.SealConditioner => "Seal conditioner",
        DoseRecipe.GraySoap => "Dish soap for gray",
        DoseRecipe.GrayDegreaser => "Degreaser for gray",
        DoseRecipe.StorageDose => "Treatment for standing",
        DoseRecipe.Other => "Another treatment",
    };

    /// <summary>What it is for, as a heading.</summary>
    public static string For(Purpose purpose) => purpose switch
    {
        Purpose.Routine => "After each dump",
        Purpose.Sensors => "Sensor reads wrong",
        Purpose.Odor => "A smell",
        Purpose.Film => "Film and crust",
        Purpose.Paper => "Paper and heaps",
        Purpose.Valves => "Stiff valves",
        Purpose.Seal => "A bowl that goes dry",
        Purpose.Grease => "Grease in gray",
        Purpose.Storage => "Before storage",
        Purpose.Sanitize => "Bacteria",
    };

    /// <summary>An ingredient with its amount.</summary>
    public static string Amount(Ingredient ingredient)
    {
        ArgumentNullException.ThrowIfNull(ingredient);
        return ingredient.AmountMl is null && ingredient.AmountG is null ? $"{ingredient.Name} by its label" : $"{ingredient.Amount} {ingredient.Name}";
    }

    /// <summary>What follows once it is in, in a line.</summary>
    public static string Then(Recipe recipe)
    {
        ArgumentNullException.ThrowIfNull(recipe);
        var parts = new List<string>();
        if (recipe.IntoCleanTank && recipe.Then) parts.Add("into the dumped and flushed tank");
        if (recipe.Stands is { } stands)
            parts.Add(stands.TotalHours >= 30 ? $"{(stands.TotalDays).ToString("0.#", CultureInfo.InvariantCulture)} days in use" : stands.TotalHours >= 20
            ? "stands a day" : stands.TotalHours >= 8 ? "stands overnight" : $"stands {stands.TotalHours.ToString("0", CultureInfo.InvariantCulture)} hours");
        if (recipe.Motion == Motion.Drive)
            parts.Add(recipe.DriveHours is { } h ? $"a drive of {h.ToString("0.#", CultureInfo.InvariantCulture)} h" : "the drive to the dump");
        if (recipe.Then) parts.Add("then dump and flush");
        if (recipe.Lasts is { } lasts && RoutineDose.IsRoutine(recipe.Code)) parts.Add($"works about {lasts.Days} days");
        if (recipe.Repeats > 1) parts.Add("4 to 6 dumps in a row for lamps");
        return TimeWords.Capital(string.Join(", ", parts));
    }

    /// <summary>How far a treatment under way is.</summary>
    public static string Stage(Course course, TimeWords times)
    {
        ArgumentNullException.ThrowIfNull(course);
        ArgumentNullException.ThrowIfNull(times);
        return course.Stage switch
        {
            CourseStage.Stands => $"It stands until {times.At(course.Until!.Value)}. Leave the tank alone, or leave room for what is still used.",
            CourseStage.WantsDrive => course.DrivenHours > 0
                ? $"{course.DrivenHours.ToString("0.#", CultureInfo.InvariantCulture)} h driven; a little more, then dump."
                : "It works on the drive to the next dump.",
            CourseStage.Dump => "It has done its work: dump and flush.",
        };
    }

    /// <summary>What is left of a product, in a sentence.</summary>
    public static string Left(Product product, StockState stock, Units units, TimeWords times)
    {
        ArgumentNullException.ThrowIfNull(product);
        ArgumentNullException.ThrowIfNull(stock);
        ArgumentNullException.ThrowIfNull(times);
        if (stock.Left is not { } left) return $"{product.Name}: nobody has counted what is left.";
        var doses = stock.Doses is { } n
            ? $", {(n == 0 ? "not a whole dose" : n == 1 ? "one dose" : $"{n.ToString(CultureInfo.InvariantCulture)} doses")}" : "";
        var until = stock.RunsOut is { } end && left > 0 ? $"; used up about {times.Day(end.InZone(times.Zone).Date)} at this rate" : "";
        return $"{product.Name}: {ShelfWords.Quantity(left, product.HoldsIn, units)} left{doses}{until}.{(stock.Reorder ? " Time to buy." : "")}";
    }

    /// <summary>The name of a school.</summary>
    public static string School(TreatmentSchool school) => school switch
    {
        TreatmentSchool.Enzyme => "Enzyme or bacteria",
        TreatmentSchool.Deodorant => "Deodorant digester",
        TreatmentSchool.SoftenerCleaner => "Softener and cleaner",
        TreatmentSchool.BoraxSoap => "Borax and soap",
        TreatmentSchool.Yeast => "Dry yeast",
        TreatmentSchool.WaterOnly => "Water only",
    };

    /// <summary>What speaks against a treatment.</summary>
    public static string Objection(Objection objection, HouseRules rules)
    {
        ArgumentNullException.ThrowIfNull(objection);
        ArgumentNullException.ThrowIfNull(rules);
        var with = objection.With is { } w ? Title(w).ToLowerInvariant() : "";
        return objection.Code switch
        {
            ObjectionCode.PoisonousGas => $"With the {with} that is in the tank it makes poisonous gas. Never.",
            ObjectionCode.BleachIntoWaste =>
                "Bleach with waste makes poisonous gas: urine is enough. Only into clean water in a tank that was dumped and flushed just now.",
            ObjectionCode.BleachNotInThisHouse => "The house rule is: no bleach.",
            ObjectionCode.KillsCultures => $"It and the {with} in the tank do not live together: the cultures die.",
            ObjectionCode.RinseAfterBleach => "There was bleach in this tank. Fill and dump it twice first.",
            ObjectionCode.TwoDigesters => $"There is already a digester in it ({with}). Two fight for the same waste.",
            ObjectionCode.Foams => "Foaming soap under ice lifts out of the vent.",
            ObjectionCode.OneAtATime => $"There is {with} in it. One product at a time: dump and flush first.",
            ObjectionCode.StillWorks => $"The last {with} still works. More at once helps nothing; the label's own maximum counts.",
            ObjectionCode.Septic => objection.Refuses ? "The place is on a septic system, which this would harm."
                : "The place is on a septic system: ask what is allowed.",
            ObjectionCode.WrongTank => "It is not for this tank.",
            ObjectionCode.NeverAdvised =>
                "It can be written down when it was done. It is never advised: bleach with anything but clean water makes poisonous gas.",
            // Into a tank that is dumped for it anyway dumping first is no advice.
            _ when !objection.Refuses && objection.With is { } own && Recipes.Find(own) is { IntoCleanTank: true, Then: true } =>
                "All its water may not fit with what you still flush while it sits: use less, or stop using the toilet.",
            _ => objection.Refuses ? "There may be no room for it: dump first."
                : "All its water may not fit: add small counted amounts, 1 to 2 gallons at a time, or dump first.",
        };
    }
}
