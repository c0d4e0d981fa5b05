using System.Globalization;
using System.Text.RegularExpressions;
using UnitsNet;

namespace Tanksophos.Web.Words;

/// <summary>A person's units. Storage is always in litres.</summary>
public sealed partial record Units(string Code, string VolumeSymbol, double LitresPerUnit)
{
    public static readonly Units Us = new("us", "gal", UnitsNet.Volume.FromUsGallons(1).Liters);
    public static readonly Units Metric = new("metric", "L", 1);

    /// <summary>"18 gal", "0.5 gal", "68 L".</summary>
    public string Volume(double litres) => $"{Number(litres)} {VolumeSymbol}";

    /// <summary>The number alone: whole from 3 on, one decimal below.</summary>
    public string Number(double litres)
    {
        var value = litres / LitresPerUnit;
        return value.ToString(Math.Abs(value) < 2.95 && this == Us ? "0.#" : "0", CultureInfo.InvariantCulture);
    }

    /// <summary>"6 fl oz" or "180 mL".</summary>
    public string SmallVolume(double millilitres) => this == Us
        ? (Math.Round(UnitsNet.Volume.FromMilliliters(millilitres).UsOunces * 2) / 2).ToString("0.#", CultureInfo.InvariantCulture) + " fl oz"
        : (Math.Round(millilitres / 10) * 10).ToString("0", CultureInfo.InvariantCulture) + " mL";

    /// <summary>"2 oz" by weight or "57 g".</summary>
    public string Weight(double grams) => this == Us
        ? Mass.FromGrams(grams).Ounces.ToString("0.#", CultureInfo.InvariantCulture) + " oz by weight"
        : grams.ToString("0", CultureInfo.InvariantCulture) + " g";

    /// <summary>What <see cref="TryParseVolume"/> accepts, for messages.</summary>
    public string AcceptedVolume => this == Us ? "a volume such as 15, 15 gal or 57 L" : "a volume such as 57, 57 L or 15 gal";

    /// <summary>Reads "15", "15 gal", "57 l", "2 qt", "3,5"; a bare number is in the person's own unit.</summary>
    public bool TryParseVolume(string? text, out double litres)
    {
        litres = 0;
        var m = Typed().Match(text ?? "");
        if (!m.Success || !double.TryParse(m.Groups["n"].Value.Replace(',', '.'), NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var number)) return false;
        UnitsNet.Volume? volume = m.Groups["u"].Value.ToLowerInvariant() switch
        {
            "" => UnitsNet.Volume.FromLiters(number * LitresPerUnit),
            "gal" or "gals" or "gallon" or "gallons" => UnitsNet.Volume.FromUsGallons(number),
            "l" or "litre" or "litres" or "liter" or "liters" => UnitsNet.Volume.FromLiters(number),
            "qt" or "quart" or "quarts" => UnitsNet.Volume.FromUsQuarts(number),
            "cup" or "cups" => UnitsNet.Volume.FromUsCustomaryCups(number),
            "ml" => UnitsNet.Volume.FromMilliliters(number),
            _ => null,
        };
        if (volume is not { } v) return false;
        litres = v.Liters;
        return true;
    }

    [GeneratedRegex(@"\A\s*(?<n>[0-9]{1,6}([.,][0-9]{1,4})?)\s*(?<u>[A-Za-z]*)\.?\s*\z", RegexOptions.ExplicitCapture)]
    private static partial Regex Typed();
}
