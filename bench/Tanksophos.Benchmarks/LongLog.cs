using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Simulation;

namespace Tanksophos.Benchmarks;

/// <summary>Logs of a wanted length: the demonstration's season, strung together backwards from a moment.</summary>
internal static class LongLog
{
    public static readonly Instant Now = Instant.FromUtc(2026, 6, 9, 23, 30);

    public static Logbook Of(int entries)
    {
        var seasons = new List<LogEntry>();
        for (var end = Now; seasons.Count < entries; end -= Duration.FromDays(24))
            seasons.InsertRange(0, DemoSeason.Until(end, end.ToUnixTimeSeconds()).Entries);
        return new Logbook(DemoSeason.Rig, [.. seasons.TakeLast(entries)]);
    }
}
