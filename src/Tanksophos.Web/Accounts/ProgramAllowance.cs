using System.Security.Cryptography;
using System.Text;
using System.Threading.RateLimiting;

namespace Tanksophos.Web.Accounts;

/// <summary>How much one program may ask, by its token: one that asks ten times a second for good is not slowed down, one that asks in a loop is.</summary>
internal static class ProgramAllowance
{
    /// <summary>The name of the policy.</summary>
    public const string Policy = "programs";

    /// <summary>How many requests at once.</summary>
    public const int Burst = 600;

    /// <summary>How many a second for good.</summary>
    public const int PerSecond = 10;

    private const int Period = 5;

    /// <summary>The token that came with a request; null for none.</summary>
    public static string? Bearer(HttpContext context)
    {
        ArgumentNullException.ThrowIfNull(context);
        var header = context.Request.Headers.Authorization.ToString();
        return header.StartsWith("Bearer ", StringComparison.OrdinalIgnoreCase) ? header[7..].Trim() : null;
    }

    /// <summary>One allowance a token; who comes without one shares that of the address.</summary>
    public static string Of(HttpContext context) => Bearer(context) is { Length: > 0 and < 200 } token
        ? "token " + Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(token)).AsSpan(0, 8)) : "program " + SigningIn.Address(context);

    /// <summary>A fresh allowance.</summary>
    public static RateLimiter Fresh() => new TokenBucketRateLimiter(new TokenBucketRateLimiterOptions
    {
        TokenLimit = Burst,
        TokensPerPeriod = PerSecond * Period,
        ReplenishmentPeriod = TimeSpan.FromSeconds(Period),
        AutoReplenishment = false,
    });
}
