using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Simulation;

/// <summary>
/// An invented rig that goes on from moment to moment: people flush and wash, a shower or a hose runs, valves are open, probes are fouled, it gets cold. What
/// devices around it would measure can be read off it. The same seed, steps and knobs give the same rig.
/// </summary>
public sealed class LiveRig
{
    // Figures of the play, shared with no estimator: litres a minute of a shower and of an open valve, of one flush; what stays in; degrees an hour that a bay
    // follows the air.
    private const double ShowerLPerMin = 7, DrainLPerMin = 90, FlushL = 1.6, WashL = 4, ResidueShare = 0.01, BayFollows = 0.35, HeatedBayC = 8, HourS = 3600;
    private const double FullBatteryV = 12.8, LowestPanelV = 10.5, BatteryVPerHour = 0.6, PercentWobble = 0.4;

    private readonly Rig rig;
    private readonly DateTimeZone zone;
    private readonly SeededRandom chance;
    private readonly Dictionary<string, double> levels, filmUntil = [], before = [];

    /// <summary>Makes it.</summary>
    /// <param name="rig">The rig.</param>
    /// <param name="levels">Litres in its tanks, by id; a tank that is missing is empty.</param>
    /// <param name="zone">Local time.</param>
    /// <param name="now">The moment.</param>
    /// <param name="seed">Seed of chance.</param>
    public LiveRig(Rig rig, IReadOnlyDictionary<string, double> levels, DateTimeZone zone, Instant now, long seed)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(levels);
        (this.rig, this.zone, Now) = (rig, zone, now);
        this.levels = rig.Tanks.ToDictionary(t => t.Id, t => Math.Clamp(levels.GetValueOrDefault(t.Id), 0, t.CapacityL));
        chance = new SeededRandom(seed);
        BayC = AirC;
    }

    /// <summary>The moment.</summary>
    public Instant Now { get; private set; }

    /// <summary>People aboard.</summary>
    public int People { get; set; } = 2;

    /// <summary>Whether the shower runs.</summary>
    public bool Shower { get; set; }

    /// <summary>Whether the rinse hose runs into black.</summary>
    public bool Hose { get; set; }

    /// <summary>Whether it freezes outside.</summary>
    public bool Freezes { get; set; }

    /// <summary>Whether it is hot outside.</summary>
    public bool Hot { get; set; }

    /// <summary>Whether the bay is heated.</summary>
    public bool BayHeat { get; set; }

    /// <summary>Whether the battery drains.</summary>
    public bool BatteryDrains { get; set; }

    /// <summary>Volts of the battery.</summary>
    public double BatteryV { get; private set; } = FullBatteryV;

    /// <summary>Degrees Celsius in the bay.</summary>
    public double BayC { get; private set; }

    /// <summary>Litres that the meter on the rinse hose has counted since it was made.</summary>
    public double MeterL { get; private set; } = 1200;

    /// <summary>Ids of the tanks whose valve is open.</summary>
    public ISet<string> Open { get; } = new HashSet<string>(StringComparer.Ordinal);

    /// <summary>Probes that are fouled, as tank and probe.</summary>
    public ISet<(string Tank, string Probe)> Fouled { get; } = new HashSet<(string, string)>();

    /// <summary>Degrees Celsius outside: a day between a night's low and an afternoon's high.</summary>
    public double AirC
    {
        get
        {
            var local = Now.InZone(zone);
            var (low, high) = MadeUpWeather.Of("", local.Date, Freezes, Hot);
            return low + (high - low) * (0.5 - 0.5 * Math.Cos(2 * Math.PI * (local.TimeOfDay.TickOfDay / (double)NodaConstants.TicksPerDay - 4.0 / 24)));
        }
    }

    /// <summary>Litres in a tank.</summary>
    /// <param name="tank">Its id.</param>
    public double LevelL(string tank) => levels[tank];

    /// <summary>Whether the panel has current enough to show anything.</summary>
    public bool PanelWorks => BatteryV >= LowestPanelV;

    /// <summary>Goes on.</summary>
    /// <param name="by">For how long; long stretches go in steps of a minute.</param>
    public void Run(Duration by)
    {
        while (by > Duration.Zero)
        {
            var step = Duration.Min(by, Duration.FromMinutes(1));
            Step(step);
            by -= step;
        }
    }

    private void Step(Duration by)
    {
        var (from, minutes) = (Now, by.TotalMinutes);
        Now += by;
        var use = UseHours.Between(from, Now, zone);
        foreach (var tank in rig.Tanks)
        {
            // So much a day, in flushes and washes.
            var each = tank.Role == TankRole.Black ? FlushL : WashL;
            var often = People * rig.MedianInflow(tank, Hookup.Dry) * use / each;
            var events = (int)often + (chance.Uniform() < often - Math.Floor(often) ? 1 : 0);
            var into = events * each + (Shower && tank.Fixtures.Contains("shower") ? ShowerLPerMin * minutes : 0);
            if (Hose && tank.Role == TankRole.Black)
            {
                var litres = (rig.Equipment?.FlushInletLPerMin ?? ShowerLPerMin) * minutes;
                (into, MeterL) = (into + litres, MeterL + litres);
            }
            var now = Math.Min(tank.CapacityL, levels[tank.Id] + into);
            if (Open.Contains(tank.Id))
            {
                var rest = ResidueShare * tank.CapacityL;
                if (now > 2 * rest) before[tank.Id] = Math.Max(before.GetValueOrDefault(tank.Id), now);
                var drained = Math.Max(Math.Min(now, rest + into), now - DrainLPerMin * minutes);
                if (drained <= 2 * rest && now > 2 * rest) Emptied(tank);
                now = drained;
            }
            levels[tank.Id] = now;
        }
        BatteryV = BatteryDrains ? Math.Max(9, BatteryV - BatteryVPerHour * minutes / 60) : FullBatteryV;
        var toward = BayHeat ? Math.Max(AirC, HeatedBayC) : AirC;
        BayC += (toward - BayC) * (1 - Math.Exp(-BayFollows * minutes / 60));
    }

    // A wet film holds some of the lamps that were under the level, for hours.
    private void Emptied(Tank tank)
    {
        foreach (var probe in tank.Monitor.Probes.Where(p => before.GetValueOrDefault(tank.Id) >= p.AtFraction * tank.CapacityL))
            if (chance.Uniform() < World.Usual.FilmChance)
                filmUntil[Key(tank, probe)] = Now.ToUnixTimeSeconds() + HourS * World.Usual.FilmHours(Now, chance);
        before.Remove(tank.Id);
    }

    private static string Key(Tank tank, Probe probe) => $"{tank.Id}/{probe.Id}";

    private bool Filmed(Tank tank, Probe probe) => filmUntil.TryGetValue(Key(tank, probe), out var until) && Now.ToUnixTimeSeconds() < until;

    /// <summary>The lights that are on; none where the panel has no current.</summary>
    /// <param name="tank">The tank.</param>
    public IReadOnlyList<string> Lit(Tank tank)
    {
        ArgumentNullException.ThrowIfNull(tank);
        return !PanelWorks ? [] : [.. tank.Monitor.Probes.Where(p => levels[tank.Id] >= p.AtFraction * tank.CapacityL
            || Fouled.Contains((tank.Id, p.Id)) || Filmed(tank, p)).Select(p => p.Id)];
    }

    /// <summary>What a strip shows.</summary>
    /// <param name="tank">The tank.</param>
    public double Percent(Tank tank)
    {
        ArgumentNullException.ThrowIfNull(tank);
        return Math.Round(Math.Clamp(100 * levels[tank.Id] / tank.FullMarkL + PercentWobble * chance.Normal(), 0, 100), 1);
    }

    /// <summary>What is measured at a probe, in ohms: low under water, more in a film that dries, between the two where something bridges it.</summary>
    /// <param name="tank">The tank.</param>
    /// <param name="probe">The probe.</param>
    public double Ohms(Tank tank, Probe probe)
    {
        ArgumentNullException.ThrowIfNull(tank);
        ArgumentNullException.ThrowIfNull(probe);
        var center = levels[tank.Id] >= probe.AtFraction * tank.CapacityL ? 20e3 : Fouled.Contains((tank.Id, probe.Id)) ? 65e3
            : Filmed(tank, probe) ? 220e3 : 4e6;
        return Math.Round(center * chance.Scatter(0.15));
    }
}

/// <summary>Weather that nobody had: by place and day, the same each time it is asked for.</summary>
public static class MadeUpWeather
{
    private const double HotByC = 12, FrostLowC = -7, FrostHighC = 4, Wiggle = 3;

    /// <summary>The low and high of a day, in C: a year between 5 and 27 degrees, warmest in the middle of July, and a place's own way.</summary>
    /// <param name="place">The place.</param>
    /// <param name="day">The day.</param>
    /// <param name="freezes">Whether it is made to freeze.</param>
    /// <param name="hot">Whether it is made hot.</param>
    public static (double LowC, double HighC) Of(string place, LocalDate day, bool freezes = false, bool hot = false)
    {
        ArgumentNullException.ThrowIfNull(place);
        var own = new SeededRandom(place.Sum(c => c * 31L) + 7);
        var chance = new SeededRandom(place.Sum(c => c * 31L) * 1009 + day.Year * 366L + day.DayOfYear);
        var mean = 16 + 11 * Math.Cos(2 * Math.PI * (day.DayOfYear - 197) / 365.25) + Wiggle * own.Normal();
        var (high, low) = (mean + 6 + Wiggle * chance.Normal(), mean - 7 + Wiggle * chance.Normal());
        if (freezes) (low, high) = (FrostLowC + chance.Uniform(), FrostHighC + chance.Uniform());
        else if (hot) (low, high) = (low + HotByC, Math.Max(high + HotByC, 33));
        return (Math.Round(Math.Min(low, high), 1), Math.Round(Math.Max(low, high), 1));
    }
}
