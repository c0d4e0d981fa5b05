using System.Globalization;
using System.Text.RegularExpressions;
using Tanksophos.Core.Rigs;
using UnitsNet;

namespace Tanksophos.Words;

/// <summary>Amounts of products: what is typed, and what is said.</summary>
public static partial class ShelfWords
{
    /// <summary>Units a label's dose may be typed in, with what they are in millilitres, grams or pieces.</summary>
    public static IReadOnlyList<(string Code, string Name, DoseUnit Unit, double Each)> Typed { get; } =
    [
        ("floz", "fl oz", DoseUnit.Ml, Volume.FromUsOunces(1).Milliliters),
        ("ml", "mL", DoseUnit.Ml, 1),
        ("tsp", "teaspoons", DoseUnit.Ml, Volume.FromUsTeaspoons(1).Milliliters),
        ("tbsp", "tablespoons", DoseUnit.Ml, Volume.FromUsTablespoons(1).Milliliters),
        ("cup", "cups", DoseUnit.Ml, Volume.FromUsCustomaryCups(1).Milliliters),
        ("oz", "oz by weight", DoseUnit.G, Mass.FromOunces(1).Grams),
        ("g", "g", DoseUnit.G, 1),
        ("cap", "capfuls", DoseUnit.Cap, 1),
        ("piece", "sachets or tablets", DoseUnit.Piece, 1),
    ];

    /// <summary>What a product of a kind is called.</summary>
    public static string Kind(Substance kind) => kind switch
    {
        Substance.Cultures => "enzyme or bacteria",
        Substance.Yeast => "dry yeast",
        Substance.Deodorant => "deodorant digester, no formaldehyde",
        Substance.Formaldehyde => "deodorant with formaldehyde",
        Substance.SoftenerCleaner => "softener and cleaner solution",
        Substance.PaperDigester => "paper digester",
        Substance.Borax => "borax",
        Substance.DishSoap => "dish soap",
        Substance.LaundryDetergent => "laundry detergent",
        Substance.DishwasherDetergent => "dishwasher detergent, no chlorine",
        Substance.WaterSoftener => "water softener",
        Substance.Degreaser => "citrus degreaser",
        Substance.SensorCleaner => "sensor cleaner",
        Substance.ValveLubricant => "valve lubricant",
        Substance.SealConditioner => "toilet seal conditioner",
        Substance.Bleach => "bleach, or with chlorine",
        Substance.Acid => "acid, vinegar, descaler",
        Substance.OtherCleaner => "another cleaner",
        Substance.Ice => "ice",
    };

    /// <summary>An amount in what a bottle is counted in: "32 fl oz", "1.9 L", "2.5 lb", "12 pieces".</summary>
    public static string Quantity(double amount, DoseUnit holdsIn, Units units)
    {
        string N(double value, string format = "0.#") => value.ToString(format, CultureInfo.InvariantCulture);
        var us = units == Units.Us;
        return holdsIn switch
        {
            DoseUnit.Piece => $"{N(amount)} {(Math.Abs(amount - 1) < 0.01 ? "piece" : "pieces")}",
            DoseUnit.G when us => amount >= 900 ? $"{N(Mass.FromGrams(amount).Pounds)} lb" : $"{N(Mass.FromGrams(amount).Ounces)} oz",
            DoseUnit.G => amount >= 1000 ? $"{N(amount / 1000, "0.##")} kg" : $"{N(amount, "0")} g",
            _ when us => $"{N(amount / Typed[0].Each)} fl oz",
            _ => amount >= 1000 ? $"{N(amount / 1000, "0.##")} L" : $"{N(amount, "0")} mL",
        };
    }

    /// <summary>An amount as it is typed, with as many digits as bring it back.</summary>
    public static string Exact(double amount, DoseUnit holdsIn, Units units)
    {
        var (factor, symbol) = (holdsIn, units == Units.Us) switch
        {
            (DoseUnit.Piece, _) => (1.0, ""),
            (DoseUnit.G, true) => (Mass.FromOunces(1).Grams, " oz"),
            (DoseUnit.G, false) => (1.0, " g"),
            (_, true) => (Typed[0].Each, " fl oz"),
            _ => (1.0, " mL"),
        };
        return Math.Round(amount / factor, 3).ToString(CultureInfo.InvariantCulture) + symbol;
    }

    /// <summary>What <see cref="TryParse"/> accepts, for messages.</summary>
    public static string Accepted(DoseUnit holdsIn) => holdsIn switch
    {
        DoseUnit.Piece => "a number of pieces such as 12",
        DoseUnit.G => "a weight such as 24 oz, 2 lb or 500 g",
        _ => "a volume such as 32 fl oz, 1 gal or 950 mL",
    };

    /// <summary>Reads an amount of a product. A bare number is fluid ounces or millilitres, ounces or grams, or pieces.</summary>
    public static bool TryParse(string? text, DoseUnit holdsIn, Units units, out double amount)
    {
        ArgumentNullException.ThrowIfNull(units);
        amount = 0;
        var m = Shape().Match(text ?? "");
        if (!m.Success || !double.TryParse(m.Groups["n"].Value.Replace(',', '.'), NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture,
            out var number)) return false;
        var unit = m.Groups["u"].Value.Replace(" ", "", StringComparison.Ordinal).ToLowerInvariant();
        double? each = holdsIn switch
        {
            DoseUnit.Piece => unit is "" or "piece" or "pieces" or "sachet" or "sachets" or "tablet" or "tablets" or "pod" or "pods" ? 1 : null,
            DoseUnit.G => unit switch
            {
                "" => units == Units.Us ? Mass.FromOunces(1).Grams : 1,
                "g" => 1,
                "kg" => 1000,
                "oz" => Mass.FromOunces(1).Grams,
                "lb" or "lbs" => Mass.FromPounds(1).Grams,
                _ => null
            },
            _ => unit.Length == 0 ? units == Units.Us ? Typed[0].Each : 1 : Units.Us.TryParseVolume("1 " + unit, out var litres) ? litres * 1000 : null,
        };
        if (each is not { } factor) return false;
        amount = number * factor;
        return true;
    }

    [GeneratedRegex(@"\A\s*(?<n>[0-9]{1,6}([.,][0-9]{1,4})?)\s*(?<u>[A-Za-z]*(?:\s[A-Za-z]+)?)\.?\s*\z", RegexOptions.ExplicitCapture)]
    private static partial Regex Shape();
}
