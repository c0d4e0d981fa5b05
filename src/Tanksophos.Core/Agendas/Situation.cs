using NodaTime;
using Tanksophos.Core.Care;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Outlook;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Trips;
using Tanksophos.Core.Weather;

namespace Tanksophos.Core.Agendas;

/// <summary>Everything that the court hears: the log, what each judge says of it, and the trip under way with its plan.</summary>
/// <param name="Logbook">The log.</param>
/// <param name="Belief">What is believed of it.</param>
/// <param name="Advice">When tanks reach their marks, and what follows from the log alone.</param>
/// <param name="Sensors">What there is to say of the lamps.</param>
/// <param name="Faults">What is wrong beside them.</param>
public sealed record Situation(Logbook Logbook, LevelBelief Belief, Advice Advice, SensorReport Sensors, FaultReport Faults)
{
    private static readonly Duration WeekAhead = Duration.FromDays(7);

    /// <summary>The trip as it stands now; null without one.</summary>
    public Trip? Trip { get; init; }

    /// <summary>Its plan; null without one.</summary>
    public Plan? Plan { get; init; }

    /// <summary>The looks that are worth taking before its runs; empty where nobody asked for them.</summary>
    public IReadOnlyList<PlanLook> Looks { get; init; } = [];

    /// <summary>The chores of the year as they stand.</summary>
    public IReadOnlyList<CareItem> Care => care ??= CareReport.Compute(Logbook, Belief, Faults, Stops.Count == 0 ? null : new Itinerary("", Stops), Weather);

    private IReadOnlyList<CareItem>? care;

    /// <summary>The stops as entered, those that are over included; empty without a trip.</summary>
    public IReadOnlyList<Stop> Stops { get; init; } = [];

    /// <summary>The weather where the rig stands; null if nothing is known of it.</summary>
    public WeatherHere? Weather { get; init; }

    /// <summary>Devices that should measure and say nothing, with the tanks that they are for.</summary>
    public IReadOnlyList<(string Device, IReadOnlyList<string> Tanks)> Silent { get; init; } = [];

    /// <summary>Tanks that are nearly full by their device, and into which more is running.</summary>
    public IReadOnlyList<string> Filling { get; init; } = [];

    /// <summary>Hottest day of the days ahead, in C; null if it is not known.</summary>
    public double? HighC => Belief.AsOf is null ? null : HighAhead(Stops, Weather, Belief.AsOf.Value.ToInstant(), Belief.InForce.Zone);

    /// <summary>Whether it freezes where the rig is or will be stored.</summary>
    public bool FreezesInStorage => Belief.AsOf?.ToInstant() is { } now
        && (Stops.Any(x => x.Hookup == StopHookup.Storage && x.Depart.ToInstant() > now && x.Freezes)
        || Stops.Count == 0 && Weather?.Freezes is not null);

    /// <summary>Measures in which amounts are said.</summary>
    public Treatments.KitchenUnits Units { get; init; } = Treatments.KitchenUnits.Us;

    /// <summary>Hears the judges on a logbook, and plans the trip if there is one.</summary>
    /// <param name="logbook">The log.</param>
    /// <param name="belief">What is believed of it.</param>
    /// <param name="stops">The stops of the trip under way; null for none.</param>
    public static Situation Build(Logbook logbook, LevelBelief belief, Itinerary? stops = null)
    {
        ArgumentNullException.ThrowIfNull(logbook);
        ArgumentNullException.ThrowIfNull(belief);
        var situation = new Situation(logbook, belief, Advice.For(logbook, belief), SensorReport.Compute(logbook, belief),
            FaultReport.Compute(logbook, belief));
        if (stops is null || belief.AsOf is not { } now) return situation;
        var trip = situation.Present(stops);
        return situation.With(stops, trip, trip is null ? null : Planner.Make(trip));
    }

    /// <summary>The same with a trip under way.</summary>
    /// <param name="stops">The stops as entered.</param>
    /// <param name="trip">The trip as it stands now; null if no stop is left.</param>
    /// <param name="plan">Its plan.</param>
    public Situation With(Itinerary stops, Trip? trip, Plan? plan)
    {
        ArgumentNullException.ThrowIfNull(stops);
        return this with { Stops = stops.Stops, Trip = trip, Plan = trip is null ? null : plan, care = null };
    }

    /// <summary>The hottest day of the week ahead where people stay, in C: by the trip, else by the weather here; null if it is not known.</summary>
    /// <param name="stops">The stops of the trip.</param>
    /// <param name="weather">The weather where the rig stands.</param>
    /// <param name="now">The moment.</param>
    /// <param name="zone">Local time there.</param>
    public static double? HighAhead(IReadOnlyList<Stop> stops, WeatherHere? weather, Instant now, DateTimeZone zone)
    {
        ArgumentNullException.ThrowIfNull(stops);
        var stays = stops.Where(s => s.Arrive.ToInstant() <= now + WeekAhead && s.Depart.ToInstant() >= now && s.Hookup != StopHookup.DumpStation).ToList();
        var next = stays.Count == 0 ? weather?.HighC((now + WeekAhead).InZone(zone).Date) : stays.Max(s => s.HottestC);
        // What was measured today counts too, whatever was expected.
        return weather?.OutsideHighC is { } measured ? Math.Max(measured, next ?? measured) : next;
    }

    /// <summary>A trip as it stands now, with what the log has taught of the rig; null if no stop of it is left.</summary>
    /// <param name="stops">The stops as entered.</param>
    public Trip? Present(Itinerary stops) => PresentTrip.Build(stops, Logbook.Rig, Belief, Logbook.Rig.Fresh?.Litres, ScrubsDue) is { } trip
        ? trip with
        {
            RinsesToClear = Logbook.Rig.Tanks.Where(t => t.Role == TankRole.Black).Select(t => Dumping.RunHistory.Cycles(Logbook.InOrder(), t.Id))
        .Where(c => c.Rinses > 0).Select(c => (double?)Math.Round(c.Further[0], 1)).Max()
        } : null;

    /// <summary>Travel scrubs that recovering a sensor of black still asks for: the drives of a trip do them.</summary>
    public int ScrubsDue => Belief.Tanks.Any(t => t.Tank.Role == TankRole.Black && t.Probes.Any(p => p.StuckOn > 0.5))
        ? Sensors.Courses.Where(c => c.Next?.Rung == SensorRung.TravelScrub && Belief[c.Tank].Tank.Role == TankRole.Black)
        .Select(c => Math.Max(0, c.Next!.Of - c.Next.Done)).DefaultIfEmpty().Max() : 0;
}
