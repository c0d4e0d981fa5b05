using NodaTime;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;

namespace Tanksophos.Core.Diagnosis;

/// <summary>A measured or computed value at a moment.</summary>
/// <param name="At">When.</param>
/// <param name="Value">The value.</param>
public readonly record struct HealthPoint(Instant At, double Value);

/// <summary>Something that may have changed a tank's health.</summary>
/// <param name="At">When.</param>
/// <param name="Entry">The entry.</param>
/// <param name="School">The school of treatment that began with it; null if it was something else.</param>
public sealed record HealthEvent(Instant At, LogEntry Entry, TreatmentSchool? School = null);

/// <summary>How a tank did over the last year, from the log.</summary>
/// <param name="Tank">The tank.</param>
/// <param name="From">Start of the stretch.</param>
/// <param name="To">Its end.</param>
public sealed record TankHealth(Tank Tank, Instant From, Instant To)
{
    private const int MaxRisks = 24;
    private static readonly Duration Stretch = Duration.FromDays(365);

    /// <summary>Rinse cycles until the end ran clear, a rinse that ended dirty counted as one more.</summary>
    public required IReadOnlyList<HealthPoint> Cycles { get; init; }

    /// <summary>Minutes of timed drains against the rig's usual from that level, 1 for as usual.</summary>
    public required IReadOnlyList<HealthPoint> Drains { get; init; }

    /// <summary>Litres up to Full as metered.</summary>
    public required IReadOnlyList<HealthPoint> Capacity { get; init; }

    /// <summary>Risk of a heap after each dump, 0..1; empty for gray.</summary>
    public required IReadOnlyList<HealthPoint> Heap { get; init; }

    /// <summary>Risk of buildup after each dump, 0..1.</summary>
    public required IReadOnlyList<HealthPoint> Buildup { get; init; }

    /// <summary>Days with a smell, each once.</summary>
    public required IReadOnlyList<LocalDate> OdorDays { get; init; }

    /// <summary>The last grade that was given by what came out; null if none was.</summary>
    public ServiceEntry? Graded { get; init; }

    /// <summary>Jets, other services, storage, a new school of treatment.</summary>
    public required IReadOnlyList<HealthEvent> Events { get; init; }

    /// <summary>Troubles that came and went.</summary>
    public required IReadOnlyList<Cure> Cures { get; init; }

    /// <summary>Reads it off the log.</summary>
    /// <param name="rig">The rig.</param>
    /// <param name="tank">The tank.</param>
    /// <param name="log">The log in the order of time.</param>
    /// <param name="now">The moment.</param>
    public static TankHealth Compute(Rig rig, Tank tank, IReadOnlyList<LogEntry> log, Instant now)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(tank);
        ArgumentNullException.ThrowIfNull(log);
        // A year changes with the log; while nothing is written, once an hour is often enough.
        return log.Memo((nameof(TankHealth), rig, tank, now.ToUnixTimeSeconds() / 3600), () => Look(rig, tank, log, now));
    }

    private static TankHealth Look(Rig rig, Tank tank, IReadOnlyList<LogEntry> log, Instant now)
    {
        var entries = FaultReport.Read(log, now);
        var from = Instant.Max(now - Stretch, entries.Count > 0 ? entries[0].Instant : now);
        bool Within(Instant at) => at >= from;
        var level = new LevelReckoning(rig, tank, entries, null);
        var drains = new List<HealthPoint>();
        var earlier = new List<LogEntry>();
        foreach (var dump in entries.Kind<DumpEntry>().Where(d => d.Tank == tank.Id && d.Minutes > 0 && level.Before(d) > 0.15))
        {
            var usual = RunHistory.Drain(earlier, tank, level.Before(dump) * tank.CapacityL, d => level.Before(d) * tank.CapacityL);
            if (Within(dump.Instant)) drains.Add(new HealthPoint(dump.Instant, 60 * dump.Minutes!.Value / usual.Seconds));
            earlier.Add(dump);
        }
        // Risks after each dump, thinned out where there are many.
        var dumps = entries.Where(e => e is DumpEntry && e.Tank == tank.Id && Within(e.Instant)).Select(e => e.Instant).Append(now).ToList();
        var step = Math.Max(1, (dumps.Count + MaxRisks - 1) / MaxRisks);
        List<HealthPoint> heap = [], buildup = [];
        var risks = new (Instant At, double Heap, double Buildup)[(dumps.Count - 1) / step + 1];
        Parallel.For(0, risks.Length, n =>
        {
            // By what the log held then; it stays so while entries come at the end.
            var at = dumps[dumps.Count - 1 - n * step];
            var beliefs = at < now ? Conditions.Then(rig, tank, log, at) : Conditions.Compute(rig, tank, entries, now);
            risks[n] = (at, beliefs.First(b => b.Code == Condition.Heap).Probability, beliefs.First(b => b.Code == Condition.Buildup).Probability);
        });
        foreach (var (at, heaped, built) in risks.Reverse())
        {
            heap.Add(new HealthPoint(at, heaped));
            buildup.Add(new HealthPoint(at, built));
        }
        var events = new List<HealthEvent>();
        TreatmentSchool? school = null;
        foreach (var entry in entries)
        {
            switch (entry)
            {
                case ServiceEntry when entry.Tank is null || entry.Tank == tank.Id:
                case StayEntry { Hookup: Hookup.Storage }:
                case FlushEntry { Method: FlushMethod.Jet } when entry.Tank == tank.Id:
                    if (Within(entry.Instant)) events.Add(new HealthEvent(entry.Instant, entry));
                    break;
                case DoseEntry dose when dose.Tank == tank.Id && DoseCalculator.SchoolOf(dose.Recipe) is { } now2 && now2 != school:
                    if (school is not null && Within(entry.Instant)) events.Add(new HealthEvent(entry.Instant, entry, now2));
                    school = now2;
                    break;
            }
        }
        var top = tank.Monitor.Probes.Count > 0 ? tank.Monitor.Probes[^1].Id : null;
        return new TankHealth(tank, from, now)
        {
            Cycles = [.. RunHistory.ToClear(entries, tank.Id).Where(r => Within(r.At)).Select(r => new HealthPoint(r.At, r.Cycles + (r.Clear ? 0 : 1)))],
            Drains = drains,
            Capacity = [.. entries.Kind<ReadingEntry>()
                .Where(r => r.Tank == tank.Id && r.Via == ReadingVia.Meter && r.Fraction is not null && Within(r.Instant) && top is not null
                && entries.Between(r.Instant, r.Instant).Any(p => p is ReadingEntry { Lit: { } lit } && p.Tank == tank.Id && lit.Contains(top)))
                .Select(r => new HealthPoint(r.Instant, r.Fraction!.Value * tank.CapacityL))],
            Heap = tank.Role == TankRole.Black ? heap : [],
            Buildup = buildup,
            OdorDays = [.. entries.Kind<OdorEntry>()
                .Where(o => Within(o.Instant)
                && (tank.Role == TankRole.Black ? o.Where is not (OdorPlace.GalleySink or OdorPlace.StorageBay)
                : o.Where is OdorPlace.GalleySink or OdorPlace.BathSink or OdorPlace.Shower)).Select(o => o.At.Date).Distinct()],
            Graded = entries.Kind<ServiceEntry>().LastOrDefault(s => s.Grade is not null && (s.Tank is null || s.Tank == tank.Id)),
            Events = events,
            Cures = CauseLadder.Cures(rig, tank, entries, log),
        };
    }
}
