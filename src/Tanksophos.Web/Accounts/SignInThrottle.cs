using System.Collections.Concurrent;
using System.Globalization;
using Microsoft.AspNetCore.DataProtection;
using NodaTime;
using Tanksophos.Data;
using Tanksophos.Web.Rigs;

namespace Tanksophos.Web.Accounts;

/// <summary>
/// Slows down guessing of a passphrase without letting anybody lock out anybody: wrong tries are counted by name and address, the same for names that exist
/// and names that do not. A device that has signed in to the account before is counted apart, so that strangers at the same address cannot hold it up.
/// </summary>
public sealed class SignInThrottle(IClock clock, IDataProtectionProvider protection)
{
    /// <summary>Wrong tries until a pause.</summary>
    public const int MaxWrong = 5;

    /// <summary>How long the pause is, and how long a wrong try counts.</summary>
    public static readonly Duration Pause = Duration.FromMinutes(5);

    private const string DeviceCookie = "device";
    private const int MaxKept = 10_000;

    private readonly ConcurrentDictionary<string, (int Wrong, Instant Last)> tries = new(StringComparer.Ordinal);
    private readonly IDataProtector protector = protection.CreateProtector("known device");

    /// <summary>Whether this device at this address has to wait before it tries this name again.</summary>
    public bool Waits(HttpContext context, string name, Person? person) =>
        tries.TryGetValue(Key(context, name, person), out var t) && t.Wrong >= MaxWrong && clock.GetCurrentInstant() - t.Last < Pause;

    /// <summary>Counts a wrong try.</summary>
    public void Wrong(HttpContext context, string name, Person? person)
    {
        var now = clock.GetCurrentInstant();
        if (tries.Count > MaxKept) foreach (var (old, t) in tries) if (now - t.Last >= Pause) tries.TryRemove(old, out _);
        tries.AddOrUpdate(Key(context, name, person), (1, now), (_, t) => (now - t.Last < Pause ? t.Wrong + 1 : 1, now));
    }

    /// <summary>Forgets the wrong tries, and knows this device from now on.</summary>
    public void Right(HttpContext context, string name, Person person)
    {
        ArgumentNullException.ThrowIfNull(context);
        ArgumentNullException.ThrowIfNull(person);
        tries.TryRemove(Key(context, name, person), out _);
        context.Response.Cookies.Append(DeviceCookie, protector.Protect(person.Id.ToString(CultureInfo.InvariantCulture)), CurrentRequest.Kept);
    }

    private string Key(HttpContext context, string name, Person? person)
    {
        ArgumentNullException.ThrowIfNull(context);
        ArgumentNullException.ThrowIfNull(name);
        var from = Knows(context, person) ? "known:" + context.Request.Cookies[DeviceCookie] : context.Connection.RemoteIpAddress?.ToString() ?? "here";
        return $"{name.Trim().ToUpperInvariant()}|{from}";
    }

    private bool Knows(HttpContext context, Person? person)
    {
        if (person is null || context.Request.Cookies[DeviceCookie] is not { Length: > 0 and < 1000 } cookie) return false;
        try
        {
            return protector.Unprotect(cookie) == person.Id.ToString(CultureInfo.InvariantCulture);
        }
        catch (System.Security.Cryptography.CryptographicException)
        {
            return false;
        }
    }
}
