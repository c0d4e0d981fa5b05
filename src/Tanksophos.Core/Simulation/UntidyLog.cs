using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Simulation;

/// <summary>How carelessly a log is kept. All are shares, 0..1.</summary>
/// <param name="Forgets">Dump runs that are not logged, with their rinses, water and doses.</param>
/// <param name="WrongLight">Panel readings with one light written down wrongly.</param>
/// <param name="Missing">Panel readings that were never taken.</param>
/// <param name="WrongHour">Entries up to five hours off.</param>
internal sealed record Keeping(double Forgets, double WrongLight, double Missing, double WrongHour);

/// <summary>An emptying that really was and that the log does not have.</summary>
internal sealed record Forgotten(string Tank, Instant At);

/// <summary>A season's log as a careless crew would have kept it; what was really so stays as it was.</summary>
internal static class UntidyLog
{
    private static readonly Duration RunLasts = Duration.FromMinutes(90);
    private const double FurthestHours = 5;

    /// <summary>The log, in the order of time, and what is not in it.</summary>
    public static (Logbook Log, IReadOnlyList<Forgotten> Forgotten) Make(SimulatedSeason season, Keeping keeping, ulong seed)
    {
        var random = new SeededRandom((long)(seed % long.MaxValue));
        var forgotten = new List<Forgotten>();
        var kept = new List<LogEntry>();
        var entries = season.Logbook.Entries;
        Instant? forgetsUntil = null;
        Instant runFrom = Instant.MinValue;
        foreach (var e in entries)
        {
            if (e is DumpEntry && e.Instant - runFrom > RunLasts)
            {
                runFrom = e.Instant;
                forgetsUntil = random.Uniform() < keeping.Forgets ? e.Instant + RunLasts : null;
            }
            if (forgetsUntil is { } until && e.Instant <= until && e is DumpEntry or FlushEntry or WaterEntry or DoseEntry)
            {
                if (e is DumpEntry dump) forgotten.Add(new Forgotten(dump.Tank!, dump.Instant));
                continue;
            }
            if (e is ReadingEntry { Via: ReadingVia.Panel } && random.Uniform() < keeping.Missing) continue;
            kept.Add(Written(e, season.Logbook.Rig, keeping, random));
        }
        return (season.Logbook with { Entries = [.. kept.OrderBy(e => e.Instant)] }, forgotten);
    }

    private static LogEntry Written(LogEntry e, Rig rig, Keeping keeping, SeededRandom random)
    {
        if (e is ReadingEntry { Lit: { } lit } reading && random.Uniform() < keeping.WrongLight)
        {
            var probes = rig.Find(reading.Tank!)!.Monitor.Probes;
            var wrong = probes[(int)(random.Uniform() * probes.Count)].Id;
            e = reading with { Lit = lit.Contains(wrong) ? [.. lit.Where(l => l != wrong)] : [.. lit, wrong] };
        }
        if (random.Uniform() < keeping.WrongHour)
            e = e with { At = (e.Instant + Duration.FromHours((2 * random.Uniform() - 1) * FurthestHours)).WithOffset(e.At.Offset) };
        return e;
    }
}
