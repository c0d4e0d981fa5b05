using System.Globalization;
using System.Security.Cryptography;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Identity;
using NodaTime;
using Tanksophos.Data;

namespace Tanksophos.Web.Accounts;

/// <summary>
/// Signing in with a code beside the passphrase: what stands between the two steps, and the codes themselves. A code of the app is good once.
/// </summary>
public sealed class SecondStep(IClock clock, IDataProtectionProvider protection)
{
    /// <summary>How many recovery codes are made at once.</summary>
    public const int RecoveryCodes = 10;

    private static readonly Duration Lasts = Duration.FromMinutes(5);

    private readonly IDataProtector protector = protection.CreateProtector("second step");
    private readonly Dictionary<(int Person, string Code), Instant> used = [];

    /// <summary>That a person has typed the right passphrase, for the form that asks for the code.</summary>
    public string Ticket(Person person)
    {
        ArgumentNullException.ThrowIfNull(person);
        return protector.Protect(string.Create(CultureInfo.InvariantCulture,
            $"{person.Id}|{clock.GetCurrentInstant().ToUnixTimeSeconds()}|{person.SecurityStamp}"));
    }

    /// <summary>The person of such a ticket; null if it is none, too old, or the passphrase has changed since.</summary>
    public async Task<Person?> PersonOfAsync(string? ticket, UserManager<Person> accounts)
    {
        ArgumentNullException.ThrowIfNull(accounts);
        if (ticket is not { Length: > 0 and < 2000 }) return null;
        try
        {
            var parts = protector.Unprotect(ticket).Split('|', 3);
            var made = Instant.FromUnixTimeSeconds(long.Parse(parts[1], CultureInfo.InvariantCulture));
            return clock.GetCurrentInstant() - made > Lasts || await accounts.FindByIdAsync(parts[0]) is not { } person || person.SecurityStamp != parts[2]
                ? null : person;
        }
        catch (Exception e) when (e is CryptographicException or FormatException)
        {
            return null;
        }
    }

    /// <summary>Whether a code is right: one of the app, or a recovery code, which is used up by it.</summary>
    public async Task<bool> IsRightAsync(Person person, string? typed, UserManager<Person> accounts)
    {
        ArgumentNullException.ThrowIfNull(person);
        ArgumentNullException.ThrowIfNull(accounts);
        var code = Plain(typed);
        if (code.Length == AppDigits && code.All(char.IsAsciiDigit))
            return await accounts.VerifyTwoFactorTokenAsync(person, TokenOptions.DefaultAuthenticatorProvider, code) && First(person.Id, code);
        return code.Length is > AppDigits and <= 40 && (await accounts.RedeemTwoFactorRecoveryCodeAsync(person,
            $"{code[..(code.Length / 2)]}-{code[(code.Length / 2)..]}".ToUpperInvariant())).Succeeded;
    }

    /// <summary>The address that an authenticator app reads from a QR code.</summary>
    public static string AppAddress(string name, string key) =>
        $"otpauth://totp/Tanksophos:{Uri.EscapeDataString(name)}?secret={key}&issuer=Tanksophos&digits={AppDigits}";

    private const int AppDigits = 6;

    private static string Plain(string? typed) => new([.. (typed ?? "").Where(c => c is not ' ' and not '-').Take(60)]);

    // Who looks over a shoulder must not come in with the same code.
    private bool First(int person, string code)
    {
        lock (used)
        {
            var now = clock.GetCurrentInstant();
            foreach (var (old, at) in used) if (now - at > Lasts) used.Remove(old);
            if (!used.TryAdd((person, code), now)) return false;
            return true;
        }
    }
}
