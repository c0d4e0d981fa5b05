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
    /// <summary>How many allowances are kept apart; whoever comes when there are so many shares one with others.</summary>
    internal const int Most = 2000;

    // By then every allowance is full again.
    private static readonly TimeSpan Forgotten = TimeSpan.FromMinutes(10);

    private readonly ConcurrentDictionary<string, Kept> known = new(StringComparer.Ordinal);

    private sealed class Kept(RateLimiter limiter)
    {
        public RateLimiter Limiter { get; } = limiter;

        public long Asked { get; set; } = Environment.TickCount64;
    }

    /// <summary>How many allowances are kept now.</summary>
    internal int Count => known.Count;

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
        return Of(key, fresh).AttemptAcquire();
    }

    private RateLimiter Of(string key, Func<RateLimiter> fresh)
    {
        if (!known.ContainsKey(key) && known.Count >= Most)
        {
            foreach (var (old, kept) in known) if (Environment.TickCount64 - kept.Asked > Forgotten.TotalMilliseconds) known.TryRemove(old, out _);
            if (known.Count >= Most) key = "crowd of " + key.Split(' ')[0];
        }
        var mine = known.GetOrAdd(key, _ => new Kept(fresh()));
        mine.Asked = Environment.TickCount64;
        if (mine.Limiter is ReplenishingRateLimiter filling) filling.TryReplenish();
        return mine.Limiter;
    }
}
