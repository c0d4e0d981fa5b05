using System.Globalization;

namespace Tanksophos.Words;

/// <summary>A currency in which a person writes prices. Amounts are kept in hundredths of it; nothing is converted.</summary>
/// <param name="Code">Its code: "usd".</param>
/// <param name="Sign">What stands before an amount.</param>
public sealed record Currency(string Code, string Sign)
{
    /// <summary>The dollar of the United States.</summary>
    public static readonly Currency UsDollar = new("usd", "$");

    /// <summary>Those that can be chosen, the usual one first.</summary>
    public static IReadOnlyList<Currency> All { get; } =
        [UsDollar, new("cad", "CA$"), new("eur", "€"), new("gbp", "£"), new("aud", "A$"), new("nzd", "NZ$"), new("mxn", "MX$")];

    /// <summary>The currency of a code.</summary>
    /// <returns>Null for a code that is none of ours.</returns>
    public static Currency? Find(string? code) => All.FirstOrDefault(c => c.Code == code);

    /// <summary>What a browser's first language suggests: "en-GB" the pound, "de" the euro, otherwise the dollar.</summary>
    /// <param name="language">The language with its region, as the browser sends it.</param>
    public static Currency Guess(string? language) => (language ?? "").Split('-') switch
    {
        [_, .., "CA"] => Find("cad")!,
        [_, .., "GB"] => Find("gbp")!,
        [_, .., "AU"] => Find("aud")!,
        [_, .., "NZ"] => Find("nzd")!,
        [_, .., "MX"] => Find("mxn")!,
        [_, .., "IE"] or ["de" or "fr" or "it" or "nl" or "es" or "pt" or "fi", ..] and not [_, .., "US" or "CH" or "BR"] => Find("eur")!,
        _ => UsDollar,
    };

    /// <summary>Reads "14.99", "$14.99", "14,99 €".</summary>
    /// <param name="text">What was typed.</param>
    /// <param name="max">The most that is accepted, in whole units.</param>
    /// <param name="minor">Hundredths; 0 if it cannot be read.</param>
    /// <returns>Whether it is an amount from 0 to the most.</returns>
    public static bool TryParse(string? text, int max, out int minor)
    {
        minor = 0;
        var plain = All.OrderByDescending(c => c.Sign.Length)
            .Aggregate((text ?? "").Trim(), (t, c) => t.Replace(c.Sign, "", StringComparison.OrdinalIgnoreCase));
        if (!decimal.TryParse(plain.Trim().Replace(',', '.'), NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var amount) || amount > max)
            return false;
        minor = (int)Math.Round(amount * 100);
        return true;
    }

    /// <summary>An amount: "$12.50".</summary>
    /// <param name="minor">Hundredths.</param>
    public string Amount(double minor) => Sign + (minor / 100).ToString("0.00", CultureInfo.InvariantCulture);
}
