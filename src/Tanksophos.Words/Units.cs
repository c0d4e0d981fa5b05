using System.Globalization;
using System.Text.RegularExpressions;
using Tanksophos.Core.Dumping;
using UnitsNet;

namespace Tanksophos.Words;

/// <summary>A person's units. Storage is always in litres.</summary>
public sealed partial record Units(string Code, string VolumeSymbol, double LitresPerUnit)
{
    /// <summary>Gallons.</summary>
    public static readonly Units Us = new("us", "gal", UnitsNet.Volume.FromUsGallons(1).Liters);
    /// <summary>Litres.</summary>
    public static readonly Units Metric = new("metric", "L", 1);

    /// <summary>"18 gal", "0.5 gal", "68 L".</summary>
    public string Volume(double litres) => $"{Number(litres)} {VolumeSymbol}";

    /// <summary>The number alone: whole from 3 on, one decimal below.</summary>
    public string Number(double litres)
    {
        var value = litres / LitresPerUnit;
        return value.ToString(Math.Abs(value) < 2.95 && this == Us ? "0.#" : "0", CultureInfo.InvariantCulture);
    }

    /// <summary>A volume with one decimal, as limits are computed with: "36 gal", "34.8 gal".</summary>
    public string Tenth(double litres) => Shown(Math.Round(10 * litres / LitresPerUnit) / 10);

    /// <summary>
    /// The most that may go in, so that the figures add up as they are shown: the level that must not be passed less what may be there, rounded up.
    /// </summary>
    public string Fits(FillLimit limit)
    {
        ArgumentNullException.ThrowIfNull(limit);
        return Shown((Math.Round(10 * limit.UpToL / LitresPerUnit) - Math.Ceiling(10 * limit.UpperLevelL / LitresPerUnit - 1e-6)) / 10);
    }

    /// <summary>What may be there already, with one decimal, rounded up: "1.2 gal".</summary>
    public string AtLeast(double litres) => Shown(Math.Ceiling(10 * litres / LitresPerUnit - 1e-6) / 10);

    /// <summary>A flow with two decimals, rounded up: "3.69 gal".</summary>
    public string Flow(double litres) => Shown(Math.Ceiling(100 * litres / LitresPerUnit - 1e-6) / 100);

    private string Shown(double value) => $"{value.ToString("0.##", CultureInfo.InvariantCulture)} {VolumeSymbol}";

    /// <summary>A volume as it is typed, with as many digits as bring it back: "3.04 gal", "57.5 L".</summary>
    public string Exact(double litres) => $"{Math.Round(litres / LitresPerUnit, 4).ToString(CultureInfo.InvariantCulture)} {VolumeSymbol}";

    /// <summary>"6 fl oz" or "180 mL".</summary>
    public string SmallVolume(double millilitres) => this == Us
        ? (Math.Round(UnitsNet.Volume.FromMilliliters(millilitres).UsOunces * 2) / 2).ToString("0.#", CultureInfo.InvariantCulture) + " fl oz"
        : (Math.Round(millilitres / 10) * 10).ToString("0", CultureInfo.InvariantCulture) + " mL";

    /// <summary>"167 lb" or "76 kg".</summary>
    public string Load(double kilograms) => this == Us
        ? $"{Math.Round(kilograms / 0.45359237).ToString("0", CultureInfo.InvariantCulture)} lb"
        : $"{Math.Round(kilograms).ToString("0", CultureInfo.InvariantCulture)} kg";

    /// <summary>"2,500 psi" or "172 bar".</summary>
    public string Pressure(double bar) => this == Us
        ? (Math.Round(UnitsNet.Pressure.FromBars(bar).PoundsForcePerSquareInch / 10) * 10).ToString("#,0", CultureInfo.InvariantCulture) + " psi"
        : bar.ToString("0", CultureInfo.InvariantCulture) + " bar";

    /// <summary>Reads "2500", "2,500 psi", "170 bar"; a bare number is in the person's own unit.</summary>
    /// <param name="text">What was typed.</param>
    /// <param name="bar">Bar, 0 to 1,000.</param>
    /// <returns>Whether it is one.</returns>
    public bool TryParsePressure(string? text, out double bar)
    {
        var typed = (text ?? "").Trim();
        var inBar = typed.EndsWith("bar", StringComparison.OrdinalIgnoreCase) || this != Us && !typed.EndsWith("psi", StringComparison.OrdinalIgnoreCase);
        var plain = typed.Replace("bar", "", StringComparison.OrdinalIgnoreCase).Replace("psi", "", StringComparison.OrdinalIgnoreCase).Trim();
        bar = 0;
        if (!double.TryParse(plain, NumberStyles.AllowDecimalPoint | NumberStyles.AllowThousands, CultureInfo.InvariantCulture, out var value)
            || !double.IsFinite(value)) return false;
        bar = Math.Round(inBar ? value : UnitsNet.Pressure.FromPoundsForcePerSquareInch(value).Bars, 2);
        return bar is >= 0 and <= 1000;
    }

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
        if (!m.Success || Amount(m) is not { } number) return false;
        UnitsNet.Volume? volume = m.Groups["u"].Value.Replace(" ", "", StringComparison.Ordinal).ToLowerInvariant() switch
        {
            "" => UnitsNet.Volume.FromLiters(number * LitresPerUnit),
            "gal" or "gals" or "gallon" or "gallons" => UnitsNet.Volume.FromUsGallons(number),
            "l" or "litre" or "litres" or "liter" or "liters" => UnitsNet.Volume.FromLiters(number),
            "qt" or "quart" or "quarts" => UnitsNet.Volume.FromUsQuarts(number),
            "cup" or "cups" => UnitsNet.Volume.FromUsCustomaryCups(number),
            "pt" or "pint" or "pints" => UnitsNet.Volume.FromUsPints(number),
            "oz" or "floz" => UnitsNet.Volume.FromUsOunces(number),
            "tbsp" => UnitsNet.Volume.FromUsTablespoons(number),
            "tsp" => UnitsNet.Volume.FromUsTeaspoons(number),
            "dl" => UnitsNet.Volume.FromDeciliters(number),
            "ml" => UnitsNet.Volume.FromMilliliters(number),
            _ => null,
        };
        if (volume is not { } v) return false;
        litres = v.Liters;
        return true;
    }

    /// <summary>"9 in" or "23 cm".</summary>
    public string Length(double metres) => this == Us
        ? UnitsNet.Length.FromMeters(metres).Inches.ToString("0.#", CultureInfo.InvariantCulture) + " in"
        : (metres * 100).ToString("0.#", CultureInfo.InvariantCulture) + " cm";

    /// <summary>"15 ft" or "4.6 m".</summary>
    public string Distance(double metres) => this == Us
        ? UnitsNet.Length.FromMeters(metres).Feet.ToString("0.#", CultureInfo.InvariantCulture) + " ft"
        : metres.ToString("0.##", CultureInfo.InvariantCulture) + " m";

    /// <summary>What <see cref="TryParseLength"/> accepts, for messages.</summary>
    public string AcceptedLength => this == Us ? "a length such as 9 in, 1 ft 6 in or 23 cm" : "a length such as 23 cm, 4.6 m or 9 in";

    /// <summary>What <see cref="TryParseDistance"/> accepts, for messages.</summary>
    public string AcceptedDistance => this == Us ? "a length such as 20, 20 ft 6 in or 6 m" : "a length such as 6, 6.1 m or 20 ft";

    /// <summary>Unit of a bare number in a field for a distance.</summary>
    public string DistanceSymbol => this == Us ? "ft" : "m";

    /// <summary>Reads "9", "9 in", "1 ft 6 in", "23 cm", "4.6 m", with a minus before it if it lies below; a bare number is inches or centimetres.</summary>
    public bool TryParseLength(string? text, out double metres) => TryParse(text, this == Us ? "in" : "cm", out metres);

    /// <summary>Reads "20", "20 ft", "20' 6\"", "6.1 m"; a bare number is feet or metres.</summary>
    public bool TryParseDistance(string? text, out double metres) => TryParse(text, DistanceSymbol, out metres);

    private static bool TryParse(string? text, string usual, out double metres)
    {
        metres = 0;
        var trimmed = (text ?? "").Trim();
        var sign = trimmed.StartsWith('-') ? -1 : 1;
        trimmed = trimmed.TrimStart('-').Replace('\u2032', '\'').Replace('\u2033', '"');
        // Feet with inches are two amounts.
        if (FeetAndInches().Match(trimmed) is { Success: true } both)
        {
            if (!TryParse(both.Groups["ft"].Value + " ft", usual, out var feet) || !TryParse(both.Groups["in"].Value + " in", usual, out var inches))
                return false;
            metres = sign * (feet + inches);
            return true;
        }
        var m = Typed().Match(trimmed.Replace("'", " ft", StringComparison.Ordinal).Replace("\"", " in", StringComparison.Ordinal));
        if (!m.Success || Amount(m) is not { } number) return false;
        var unit = m.Groups["u"].Value.ToLowerInvariant();
        UnitsNet.Length? length = (unit.Length == 0 ? usual : unit) switch
        {
            "in" or "inch" or "inches" => UnitsNet.Length.FromInches(number),
            "ft" or "foot" or "feet" => UnitsNet.Length.FromFeet(number),
            "cm" => UnitsNet.Length.FromCentimeters(number),
            "m" => UnitsNet.Length.FromMeters(number),
            "mm" => UnitsNet.Length.FromMillimeters(number),
            _ => null,
        };
        if (length is not { } l) return false;
        metres = sign * l.Meters;
        return true;
    }

    [GeneratedRegex("^(?<ft>[0-9.,/ ]+?)\\s*(?:ft|foot|feet|')\\s*(?<in>[0-9.,/ ]+?)\\s*(?:in|inch|inches|\")?$", RegexOptions.IgnoreCase)]
    private static partial Regex FeetAndInches();

    /// <summary>"24 C" or "75 F".</summary>
    public string Temperature(double celsius) => this == Us
        ? UnitsNet.Temperature.FromDegreesCelsius(celsius).DegreesFahrenheit.ToString("0", CultureInfo.InvariantCulture) + " F"
        : celsius.ToString("0", CultureInfo.InvariantCulture) + " C";

    /// <summary>What <see cref="TryParseTemperature"/> accepts, for messages.</summary>
    public string AcceptedTemperature => this == Us ? "a temperature such as 75, 75 F or 24 C" : "a temperature such as 24, 24 C or 75 F";

    /// <summary>Reads "75", "75 F", "24 C", "-5"; a bare number is in the person's own scale.</summary>
    public bool TryParseTemperature(string? text, out double celsius)
    {
        celsius = 0;
        var trimmed = (text ?? "").Replace("\u00b0", "", StringComparison.Ordinal).Trim();
        var sign = trimmed.StartsWith('-') ? -1 : 1;
        var m = Typed().Match(trimmed.TrimStart('-'));
        if (!m.Success || Amount(m) is not { } number) return false;
        var unit = m.Groups["u"].Value.ToLowerInvariant();
        if (unit is not ("" or "f" or "c")) return false;
        celsius = unit == "f" || (unit.Length == 0 && this == Us) ? UnitsNet.Temperature.FromDegreesFahrenheit(sign * number).DegreesCelsius : sign * number;
        return true;
    }

    // "3", "3,5", "1/2", "1 1/2"
    private static double? Amount(Match typed)
    {
        double whole = 0, part = 0;
        if (typed.Groups["n"].Success
            && !double.TryParse(typed.Groups["n"].Value.Replace(',', '.'), NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture,
            out whole)) return null;
        if (typed.Groups["a"].Success)
        {
            var under = int.Parse(typed.Groups["b"].Value, CultureInfo.InvariantCulture);
            if (under == 0) return null;
            part = int.Parse(typed.Groups["a"].Value, CultureInfo.InvariantCulture) / (double)under;
        }
        return whole + part;
    }

    [GeneratedRegex(@"\A\s*(?:(?<n>[0-9]{1,6})\s+(?<a>[0-9]{1,2})\s*/\s*(?<b>[0-9]{1,2})|(?<a>[0-9]{1,2})\s*/\s*(?<b>[0-9]{1,2})|(?<n>[0-9]{1,6}([.,][0-9]{1,4})?))\s*(?<u>[A-Za-z]*(?:\s[A-Za-z]+)?)\.?\s*\z",
        RegexOptions.ExplicitCapture)]
    private static partial Regex Typed();
}
