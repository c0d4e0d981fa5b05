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
        DoseRecipe.StorageDose => "Storage treatment",
        DoseRecipe.Other => "Another treatment",
    };

    /// <summary>What it is for, as a heading.</summary>
    public static string For(Purpose purpose) => purpose switch
    {
        Purpose.Routine => "After each dump",
        Purpose.Sensors => "Sensor reads wrong",
        Purpose.Odor => "A smell",
        Purpose.Film => "Buildup",
        Purpose.Paper => "Paper and waste piles",
        Purpose.Valves => "Stiff valves",
        Purpose.Seal => "Bowl won't hold water",
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
        if (recipe.IntoCleanTank && recipe.Then) parts.Add("into the dumped and rinsed tank");
        if (recipe.Stands is { } stands)
            parts.Add(stands.TotalHours >= 30 ? $"{(stands.TotalDays).ToString("0.#", CultureInfo.InvariantCulture)} days in use" : stands.TotalHours >= 20
            ? "sits a day" : stands.TotalHours >= 8 ? "sits overnight" : $"sits {stands.TotalHours.ToString("0", CultureInfo.InvariantCulture)} hours");
        if (recipe.Motion == Motion.Drive)
            parts.Add(recipe.DriveHours is { } h ? $"a drive of {h.ToString("0.#", CultureInfo.InvariantCulture)} h" : "the drive to the dump");
        if (recipe.Then) parts.Add("then dump and flush");
        if (recipe.Lasts is { } lasts && RoutineDose.IsRoutine(recipe.Code)) parts.Add($"works about {lasts.Days} days");
        if (recipe.Repeats > 1) parts.Add("4 to 6 dumps in a row for sensors");
        return TimeWords.Capital(string.Join(", ", parts));
    }

    /// <summary>How far a treatment under way is.</summary>
    public static string Stage(Course course, TimeWords times)
    {
        ArgumentNullException.ThrowIfNull(course);
        ArgumentNullException.ThrowIfNull(times);
        return course.Stage switch
        {
            CourseStage.Stands => $"Let it sit until {times.At(course.Until!.Value)}. Don't use the tank, or leave room for what you use.",
            CourseStage.WantsDrive => course.DrivenHours > 0
                ? $"{course.DrivenHours.ToString("0.#", CultureInfo.InvariantCulture)} h driven. A little more, then dump."
                : "It works on the drive to the next dump.",
            CourseStage.Dump => "It's done. Dump and flush.",
        };
    }

    /// <summary>What is left of a product, in a sentence.</summary>
    public static string Left(Product product, StockState stock, Units units, TimeWords times)
    {
        ArgumentNullException.ThrowIfNull(product);
        ArgumentNullException.ThrowIfNull(stock);
        ArgumentNullException.ThrowIfNull(times);
        if (stock.Left is not { } left) return $"{product.Name}: amount left not counted.";
        var doses = stock.Doses is { } n
            ? $", {(n == 0 ? "less than a dose" : n == 1 ? "one dose" : $"{n.ToString(CultureInfo.InvariantCulture)} doses")}" : "";
        var until = stock.RunsOut is { } end && left > 0 ? $"; gone about {times.Day(end.InZone(times.Zone).Date)} at this rate" : "";
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
            ObjectionCode.PoisonousGas => $"Never. With the {with} in the tank it makes poisonous gas.",
            ObjectionCode.BleachIntoWaste =>
                "Bleach with waste makes poisonous gas; urine is enough. Only in clean water in a tank you just dumped and rinsed.",
            ObjectionCode.BleachNotInThisHouse => "Your house rule is no bleach.",
            ObjectionCode.KillsCultures => $"It and the {with} in the tank cancel each other: the cultures die.",
            ObjectionCode.RinseAfterBleach => "There was bleach in this tank. Fill and dump it twice first.",
            ObjectionCode.TwoDigesters => $"There is already a digester in it ({with}). Use only one digester.",
            ObjectionCode.Foams => "Foaming soap under ice foams out the vent.",
            ObjectionCode.OneAtATime => $"There is {with} in it. One product at a time: dump and rinse first.",
            ObjectionCode.StillWorks => $"The last {with} still works. More won't help. Never more than the label's maximum.",
            ObjectionCode.Septic => objection.Refuses ? "This place is on a septic system. It would harm it."
                : "This place is on a septic system. Ask what is allowed.",
            ObjectionCode.WrongTank => "It is not for this tank.",
            ObjectionCode.NeverAdvised =>
                "You can log it if you did it. We never advise it: bleach with anything but clean water makes poisonous gas.",
            // Into a tank that is dumped for it anyway dumping first is no advice.
            _ when !objection.Refuses && objection.With is { } own && Recipes.Find(own) is { IntoCleanTank: true, Then: true } =>
                "Not all the water fits with what you flush while it sits. Use less, or don't use the toilet.",
            _ => objection.Refuses ? "There may be no room. Dump first."
                : "Not all the water may fit. Add 1 to 2 gallons at a time, counted, or dump first.",
        };
    }
}
