using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Weather;

namespace Tanksophos.Core.Trips;

/// <summary>
/// What an owner enters of a trip: the stops one after the other, and what is wished of them. Each stop begins when the one before it is left and the drive is
/// done, so
/// stops neither overlap nor leave gaps; a change at one moves those after it, which keep their nights and their hours.
/// </summary>
/// <param name="Name">The trip's name.</param>
/// <param name="Stops">The stops in the order of time; none yet is fine.</param>
public sealed record Itinerary(string Name, IReadOnlyList<Stop> Stops)
{
    /// <summary>Whether two names mean the same place.</summary>
    public static bool IsSamePlace(string one, string other)
    {
        ArgumentNullException.ThrowIfNull(one);
        ArgumentNullException.ThrowIfNull(other);
        return string.Equals(one.Trim(), other.Trim(), StringComparison.OrdinalIgnoreCase);
    }

    /// <summary>Longest stay in nights.</summary>
    public const int MaxNights = 200;

    /// <summary>Hours on the road before a stop where nobody has said.</summary>
    public const double UsualDriveHours = 2;

    private static readonly LocalTime UsualArrival = new(15, 0), UsualDeparture = new(10, 0), StationOpens = new(8, 0);
    private static readonly Duration AtStation = Duration.FromHours(1);

    /// <summary>What is wished of the stops.</summary>
    public IReadOnlyList<TripWish> Wishes { get; init; } = [];

    /// <summary>Start of the first stop; null without stops.</summary>
    public Instant? Begins => Stops.Count > 0 ? Stops[0].Arrive.ToInstant() : null;

    /// <summary>End of the last stop; null without stops.</summary>
    public Instant? Ends => Stops.Count > 0 ? Stops[^1].Depart.ToInstant() : null;

    /// <summary>The trip with what is known of the weather at its stops.</summary>
    /// <param name="weather">The weather.</param>
    public Itinerary With(WeatherBook weather)
    {
        ArgumentNullException.ThrowIfNull(weather);
        return weather.IsEmpty ? this : this with { Stops = [.. Stops.Select(Known)] };

        Stop Known(Stop stop)
        {
            var days = weather.Days(stop.Name, stop.Arrive.ToInstant().InZone(stop.Zone).Date, stop.Depart.ToInstant().InZone(stop.Zone).Date);
            return days.Count == 0 ? stop : stop with { ExpectedLowC = days.Min(d => d.LowC), ExpectedHighC = days.Max(d => d.HighC) };
        }
    }

    /// <summary>Nights of a stay; 0 at a station.</summary>
    public static int Nights(Stop stop)
    {
        ArgumentNullException.ThrowIfNull(stop);
        return Period.DaysBetween(stop.Arrive.ToInstant().InZone(stop.Zone).Date, stop.Depart.ToInstant().InZone(stop.Zone).Date);
    }

    /// <summary>A stop with the usual hours, beginning on a date; chained to the others it begins when it can.</summary>
    /// <param name="id">Unique within the trip.</param>
    /// <param name="name">Its name.</param>
    /// <param name="zone">Its zone.</param>
    /// <param name="date">Its first day.</param>
    /// <param name="nights">Nights, 0 or more; a station is left after an hour.</param>
    /// <param name="hookup">What is connected.</param>
    /// <param name="people">People aboard.</param>
    public static Stop UsualStop(string id, string name, DateTimeZone zone, LocalDate date, int nights, StopHookup hookup, int people)
    {
        ArgumentNullException.ThrowIfNull(zone);
        var station = hookup == StopHookup.DumpStation;
        var arrive = (date + (station ? new LocalTime(11, 0) : UsualArrival)).InZoneLeniently(zone);
        var depart = station ? arrive.Plus(AtStation) : nights == 0 ? arrive.Plus(Duration.FromHours(3)) : (date.PlusDays(nights) + UsualDeparture)
            .InZoneLeniently(zone);
        return new Stop(id, name, zone, arrive.ToOffsetDateTime(), depart.ToOffsetDateTime(), hookup, people)
        {
            DriveHoursBefore = UsualDriveHours,
            RinseWater = station ? RinseWater.Unthreaded : null,
        };
    }

    /// <summary>The trip with a stop put in before another, or at the end.</summary>
    /// <param name="stop">The stop.</param>
    /// <param name="index">Where, 0 up to the number of stops.</param>
    public Itinerary Add(Stop stop, int index)
    {
        var stops = Stops.ToList();
        stops.Insert(Math.Clamp(index, 0, stops.Count), stop);
        // Put in front, the trip still begins on the day it did.
        return index == 0 && Stops.Count > 0 ? Chained(Begun(stops, Stops[0])) : Chained(stops);
    }

    /// <summary>The trip with a stop changed; null if it has none of that id.</summary>
    public Itinerary? Change(string id, Func<Stop, Stop> change)
    {
        ArgumentNullException.ThrowIfNull(change);
        var index = IndexOf(id);
        if (index < 0) return null;
        var stops = Stops.ToList();
        stops[index] = change(stops[index]);
        return Chained(stops);
    }

    /// <summary>The trip with a stay made longer or shorter; null if it has no such stop.</summary>
    /// <param name="id">Id of the stop.</param>
    /// <param name="nights">Nights, 0 up to <see cref="MaxNights"/>; a station has none.</param>
    public Itinerary? Stretch(string id, int nights) =>
        Change(id, s => s.Hookup == StopHookup.DumpStation ? s : Stretched(s, Math.Clamp(nights, 0, MaxNights)));

    /// <summary>The trip with a stop in another place of the order; null if it has no such stop.</summary>
    public Itinerary? Move(string id, int index)
    {
        var from = IndexOf(id);
        if (from < 0) return null;
        var stops = Stops.ToList();
        var stop = stops[from];
        stops.RemoveAt(from);
        stops.Insert(Math.Clamp(index, 0, stops.Count), stop);
        return Chained(stops[0] == Stops[0] ? stops : Begun(stops, Stops[0]));
    }

    /// <summary>The trip without a stop; null if it has no such stop.</summary>
    public Itinerary? Remove(string id)
    {
        var index = IndexOf(id);
        if (index < 0) return null;
        var stops = Stops.Where(s => s.Id != id).ToList();
        if (index == 0 && stops.Count > 0) stops = Begun(stops, Stops[0]);
        return Chained(stops) with { Wishes = [.. Wishes.Where(w => w.Stop != id)] };
    }

    /// <summary>The trip beginning on another day.</summary>
    public Itinerary BeginOn(LocalDate date)
    {
        if (Stops.Count == 0) return this;
        var first = Stops[0];
        var days = Period.DaysBetween(first.Arrive.ToInstant().InZone(first.Zone).Date, date);
        return Chained([Shifted(first, days), .. Stops.Skip(1)]);
    }

    /// <summary>The trip with a wish of a stop set, or taken back.</summary>
    /// <param name="stop">Id of the stop.</param>
    /// <param name="role">Black, or gray alone.</param>
    /// <param name="dump">The wish; null to take it back.</param>
    public Itinerary Wish(string stop, TankRole role, DumpWish? dump) => this with
    {
        Wishes = [.. Wishes.Where(w => w.Stop != stop || w.Role != role), .. dump is { } d && IndexOf(stop) >= 0 ? [new TripWish(stop, role, d)]
            : Array.Empty<TripWish>()],
    };

    /// <summary>An id that no stop has.</summary>
    public string FreshId()
    {
        var n = Stops.Count + 1;
        while (IndexOf($"s{n}") >= 0) n++;
        return $"s{n}";
    }

    private int IndexOf(string id) => Stops.ToList().FindIndex(s => s.Id == id);

    private Itinerary Chained(List<Stop> stops)
    {
        for (var i = 1; i < stops.Count; i++)
        {
            var stop = stops[i];
            var earliest = Quarter(stops[i - 1].Depart.ToInstant() + Duration.FromHours(stop.DriveHoursBefore));
            var (arrive, depart, nights) = (stop.Arrive.ToInstant().InZone(stop.Zone), stop.Depart.ToInstant().InZone(stop.Zone), Nights(stop));
            var local = earliest.InZone(stop.Zone);
            if (stop.Hookup == StopHookup.DumpStation)
            {
                var opens = (local.Date + StationOpens).InZoneLeniently(stop.Zone).ToInstant();
                var at = local.TimeOfDay < StationOpens ? opens : SensibleHours.Holds(earliest, stop.Zone) ? earliest : opens + Duration.FromDays(1);
                stops[i] = At(stop, at, at + Duration.Min(depart.ToInstant() - arrive.ToInstant(), Duration.FromHours(3)));
                continue;
            }
            var usual = (local.Date + arrive.TimeOfDay).InZoneLeniently(stop.Zone).ToInstant();
            var from = Instant.Max(earliest, usual);
            var until = nights == 0 ? from + (depart.ToInstant() - arrive.ToInstant()) : (local.Date.PlusDays(nights) + depart.TimeOfDay)
                .InZoneLeniently(stop.Zone).ToInstant();
            stops[i] = At(stop, from, until > from ? until : from + Duration.FromHours(1));
        }
        return this with { Stops = stops };
    }

    // The first stop of these begins when the trip began.
    private static List<Stop> Begun(List<Stop> stops, Stop first)
    {
        var days = Period.DaysBetween(stops[0].Arrive.ToInstant().InZone(stops[0].Zone).Date, first.Arrive.ToInstant().InZone(first.Zone).Date);
        return [Shifted(stops[0], days), .. stops.Skip(1)];
    }

    private static Stop Shifted(Stop stop, int days)
    {
        Instant By(OffsetDateTime t)
        {
            var local = t.ToInstant().InZone(stop.Zone);
            return (local.Date.PlusDays(days) + local.TimeOfDay).InZoneLeniently(stop.Zone).ToInstant();
        }
        return At(stop, By(stop.Arrive), By(stop.Depart));
    }

    private static Stop Stretched(Stop stop, int nights)
    {
        var (arrive, depart) = (stop.Arrive.ToInstant().InZone(stop.Zone), stop.Depart.ToInstant().InZone(stop.Zone));
        var until = nights == 0 ? arrive.Plus(Duration.FromHours(3)) : (arrive.Date.PlusDays(nights) + (Nights(stop) == 0 ? UsualDeparture : depart.TimeOfDay))
            .InZoneLeniently(stop.Zone);
        return At(stop, arrive.ToInstant(), until.ToInstant());
    }

    private static Stop At(Stop stop, Instant arrive, Instant depart) =>
        stop with { Arrive = arrive.InZone(stop.Zone).ToOffsetDateTime(), Depart = depart.InZone(stop.Zone).ToOffsetDateTime() };

    private static Instant Quarter(Instant t)
    {
        const long quarter = 15 * 60;
        return Instant.FromUnixTimeSeconds((t.ToUnixTimeSeconds() + quarter - 1) / quarter * quarter);
    }
}
