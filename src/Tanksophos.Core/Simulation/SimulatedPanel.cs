using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Simulation;

/// <summary>
/// Stands in for a monitor panel: from a log it plays what is really in the tanks of an invented rig, and says what its panel shows. What is logged
/// (dumps, water, valves, people, places) happens to it; readings do not. The same log and moment give the same answer.
/// </summary>
/// <param name="seed">Seed of the household and of chance.</param>
public sealed class SimulatedPanel(long seed)
{
    // Figures of the play, shared with no estimator.
    private const double DayLogSd = 0.3, HouseholdLogSd = 0.15, ResidueShare = 0.012, FilmChance = 0.35, PercentHigh = 0.02;
    private const int ScrubsThatFree = 4;
    private static readonly Duration FilmLasts = Duration.FromHours(5);

    /// <summary>What the panel shows: one reading per tank with a monitor.</summary>
    /// <param name="logbook">The log; what is later than the moment is not looked at.</param>
    /// <param name="now">The moment, with the local offset.</param>
    /// <param name="fouled">Lamps that are fouled, as tank and probe, until a jet, a new probe, two cleanings or four travel scrubs have freed them.</param>
    public IReadOnlyList<ReadingEntry> Show(Logbook logbook, OffsetDateTime now, params (string Tank, string Probe)[] fouled)
    {
        ArgumentNullException.ThrowIfNull(logbook);
        var at = now.ToInstant();
        var entries = logbook.InOrder().TakeWhile(e => e.Instant <= at).ToList();
        var readings = new List<ReadingEntry>();
        foreach (var tank in logbook.Rig.Tanks.Where(t => t.Monitor.Kind != MonitorKind.None))
        {
            var play = Play(logbook.Rig, tank, entries, at);
            if (tank.Monitor.Kind == MonitorKind.Percent)
            {
                var share = Math.Min(1, play.Level / tank.FullMarkL + PercentHigh);
                readings.Add(new ReadingEntry { At = now, Tank = tank.Id, Via = ReadingVia.Panel, Percent = Math.Round(100 * share) });
                continue;
            }
            bool Stuck(Probe p) => fouled.Contains((tank.Id, p.Id)) && play.Scrubs < ScrubsThatFree && play.Cleanings < 2 && !play.Renewed;
            bool Film(Probe p) => play.Emptied is { } e && at - e < FilmLasts && play.Before >= p.AtFraction * tank.CapacityL
                && Chance(tank, e.ToUnixTimeSeconds() + p.Id.Length).Uniform() < FilmChance;
            readings.Add(new ReadingEntry
            {
                At = now,
                Tank = tank.Id,
                Via = ReadingVia.Panel,
                Lit = [.. tank.Monitor.Probes.Where(p => Stuck(p) || Film(p) || play.Level >= p.AtFraction * tank.CapacityL).Select(p => p.Id)]
            });
        }
        return readings;
    }

    /// <summary>What is really in a tank of the invented rig, in litres.</summary>
    public double Truth(Logbook logbook, string tankId, Instant now)
    {
        ArgumentNullException.ThrowIfNull(logbook);
        return Play(logbook.Rig, logbook.Rig.Find(tankId)!, [.. logbook.InOrder().TakeWhile(e => e.Instant <= now)], now).Level;
    }

    private sealed record State(double Level, double Before, Instant? Emptied, int Scrubs, int Cleanings, bool Renewed);

    private State Play(Rig rig, Tank tank, List<LogEntry> entries, Instant until)
    {
        var now = new Circumstances(rig);
        var household = Math.Exp(HouseholdLogSd * Chance(tank, 0).Normal());
        var state = new State(0.05 * tank.CapacityL, Before: 0, Emptied: null, Scrubs: 0, Cleanings: 0, Renewed: false);
        var clock = entries.Count > 0 ? entries[0].Instant : until;
        void Run(Instant to)
        {
            var from = now.DrivingUntil is { } arrival ? Instant.Max(clock, arrival) : clock;
            clock = to;
            if (now.IsOpen(tank.Id)) return;
            var rate = now.People * rig.MedianInflow(tank, now.Hookup) * household;
            foreach (var (day, share, _) in UseHours.Days(from, to, now.Zone))
                state = state with
                {
                    Level = Math.Min(tank.CapacityL, state.Level + rate * share * Chance(tank, day.ToYearMonth().Year * 400 + day.DayOfYear)
                    .Scatter(DayLogSd))
                };
        }
        foreach (var entry in entries)
        {
            Run(entry.Instant);
            if (entry.Tank == tank.Id) state = After(state, entry, tank);
            now.Apply(entry);
        }
        Run(until);
        return state;
    }

    private static State After(State state, LogEntry entry, Tank tank) => entry switch
    {
        DumpEntry { Emptied: true } or FlushEntry or ValveEntry => (entry is FlushEntry { Method: FlushMethod.Jet } ? state with { Renewed = true }
            : state) with
        {
            Before = Math.Max(state.Level, state.Emptied is { } e && entry.Instant - e < Duration.FromHours(1) ? state.Before : 0),
            Level = Math.Min(state.Level, ResidueShare * tank.CapacityL),
            Emptied = entry.Instant,
        },
        WaterEntry water => state with { Level = Math.Min(tank.CapacityL, state.Level + water.WaterL) },
        DoseEntry dose => state with
        {
            Level = Math.Min(tank.CapacityL, state.Level + (dose.WaterL ?? 0)),
            Scrubs = state.Scrubs + (dose.Recipe == DoseRecipe.TravelScrub ? 1 : 0),
            Cleanings = state.Cleanings + (dose.Recipe == DoseRecipe.SensorCleaner ? 1 : 0),
        },
        ServiceEntry { Code: ServiceCode.PressureJet or ServiceCode.ProbeReplaced } => state with { Renewed = true },
        _ => state,
    };

    private SeededRandom Chance(Tank tank, long what) => new(unchecked(seed * 1_000_003 + what * 7_919 + tank.Id.Sum(c => c * 31L)));
}
