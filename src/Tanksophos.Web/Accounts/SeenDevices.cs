using System.Collections.Concurrent;
using NodaTime;

namespace Tanksophos.Web.Accounts;

/// <summary>When each signed-in device last looked at a page, since the start. Kept in memory: looking writes nothing.</summary>
public sealed class SeenDevices(IClock clock)
{
    private const int Most = 10_000;

    private readonly ConcurrentDictionary<string, Instant> seen = new(StringComparer.Ordinal);

    /// <summary>Notes that a device looked.</summary>
    /// <param name="place">Its name, as in <see cref="Data.SignInPlace.Id"/>.</param>
    public void See(string place)
    {
        if (seen.Count > Most) seen.Clear();
        seen[place] = clock.GetCurrentInstant();
    }

    /// <summary>When a device was last seen: the later of what is kept and what was noted here.</summary>
    public Instant? Last(string place, Instant? kept) => seen.TryGetValue(place, out var at) && (kept is null || at > kept) ? at : kept;
}
