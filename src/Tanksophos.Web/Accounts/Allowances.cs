using System.Collections.Concurrent;
using System.Globalization;
using System.Threading.RateLimiting;
using Microsoft.AspNetCore.RateLimiting;

namespace Tanksophos.Web.Accounts;

/// <summary>
/// Who may ask how often. The library's limiters, filled up when they are asked and not by a clock: the library's own middleware wakes the machine ten times a
/// second also when nobody is there.
/// </summary>
internal sealed class Allowances
{
    private const int Most = 2000;
    private static readonly TimeSpan Forgotten = TimeSpan.FromMinutes(10);

    private readonly ConcurrentDictionary<string, RateLimiter> known = new(StringComparer.Ordinal);

    /// <summary>Lets a request through, or answers that it has to wait.</summary>
    public async Task CheckAsync(HttpContext context, RequestDelegate next)
    {
        ArgumentNullException.ThrowIfNull(context);
        ArgumentNullException.ThrowIfNull(next);
        using var lease = Ask(context);
        if (lease is null or { IsAcquired: true })
        {
            await next(context);
            return;
        }
        context.Response.StatusCode = StatusCodes.Status429TooManyRequests;
        if (lease.TryGetMetadata(MetadataName.RetryAfter, out var wait))
            context.Response.Headers.RetryAfter = ((int)Math.Ceiling(wait.TotalSeconds)).ToString(CultureInfo.InvariantCulture);
    }

    private RateLimitLease? Ask(HttpContext context)
    {
        var asks = context.GetEndpoint()?.Metadata;
        if (asks?.GetMetadata<EnableRateLimitingAttribute>()?.PolicyName is not { } policy || asks.GetMetadata<DisableRateLimitingAttribute>() is not null)
            return null;
        var (key, fresh) = policy == ProgramAllowance.Policy ? (ProgramAllowance.Of(context), (Func<RateLimiter>)ProgramAllowance.Fresh)
            : (SigningIn.Guesser(context), SigningIn.Slow);
        if (key is null) return null;
        if (known.Count > Most) foreach (var (old, limiter) in known) if (limiter.IdleDuration > Forgotten) known.TryRemove(old, out _);
        var mine = known.GetOrAdd(key, _ => fresh());
        if (mine is ReplenishingRateLimiter filling) filling.TryReplenish();
        return mine.AttemptAcquire();
    }
}
