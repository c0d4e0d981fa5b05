using NodaTime;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Trips;

/// <summary>What a stop on a trip offers.</summary>
public enum StopHookup
{
    /// <summary>Water and a sewer at the site.</summary>
    Full,

    /// <summary>Water at the site, no sewer.</summary>
    Partial,

    /// <summary>Water at the site; gray may run off there, black may not.</summary>
    GrayDrain,

    /// <summary>Neither water nor sewer.</summary>
    Dry,

    /// <summary>A station for dumping, not for staying.</summary>
    DumpStation,

    /// <summary>The rig stands unused.</summary>
    Storage,
}

/// <summary>The tap at a dump station.</summary>
public enum RinseWater
{
    /// <summary>A hose fits.</summary>
    Threaded,

    /// <summary>No hose fits; a jug can be filled.</summary>
    Unthreaded,

    /// <summary>No water.</summary>
    None,
}

/// <summary>Where a trip starts from.</summary>
/// <param name="At">The trip's "now".</param>
/// <param name="Levels">What is in the tanks, by tank id; tanks that are missing are taken as empty.</param>
/// <param name="GrayOpen">Whether the gray valves stand open.</param>
/// <param name="FreshL">Litres of fresh water aboard; null if not known.</param>
/// <param name="DaysSinceBlackDump">Days since black was last dumped; null if not known.</param>
public sealed record TripStart(OffsetDateTime At, IReadOnlyDictionary<string, LevelBand> Levels, bool GrayOpen, double? FreshL, double? DaysSinceBlackDump);

/// <summary>One place on a trip.</summary>
/// <param name="Id">Unique within the trip.</param>
/// <param name="Name">The place's name.</param>
/// <param name="Zone">The place's time zone.</param>
/// <param name="Arrive">Start of the stay.</param>
/// <param name="Depart">End of the stay, later than the start.</param>
/// <param name="Hookup">What is connected there.</param>
/// <param name="People">People aboard, 0 or more.</param>
public sealed record Stop(string Id, string Name, DateTimeZone Zone, OffsetDateTime Arrive, OffsetDateTime Depart, StopHookup Hookup, int People)
{
    /// <summary>Hours on the road before it.</summary>
    public double DriveHoursBefore { get; init; }

    /// <summary>A hottest day so low, in C, has frost at night.</summary>
    public const double FrostHighC = 3;

    /// <summary>Hottest expected temperature in C, as somebody said.</summary>
    public double? HighC { get; init; }

    /// <summary>Hottest day in C as the weather has it; null if it is not known. It is not written with the trip.</summary>
    public double? ExpectedHighC { get; init; }

    /// <summary>Coldest night in C as the weather has it; null if it is not known. It is not written with the trip.</summary>
    public double? ExpectedLowC { get; init; }

    /// <summary>Hottest day in C: as somebody said, else as the weather has it.</summary>
    public double? HottestC => HighC ?? ExpectedHighC;

    /// <summary>Whether it freezes there: by what somebody said of the days, else by the weather.</summary>
    public bool Freezes => HighC is { } said ? said <= FrostHighC : ExpectedLowC <= Weather.WeatherDay.FreezingC;

    /// <summary>The tap at a dump station.</summary>
    public RinseWater? RinseWater { get; init; }

    /// <summary>Others wait there.</summary>
    public bool Busy { get; init; }

    /// <summary>Fee in the smallest coin.</summary>
    public int? FeeMinor { get; init; }

    /// <summary>When a dump station opens, in local time; null if it always is.</summary>
    public LocalTime? Opens { get; init; }

    /// <summary>When it closes; null if it never does.</summary>
    public LocalTime? Closes { get; init; }

    /// <summary>The same stay at a place that is known: what is connected stays as it is said now, the rest of the place is as it was.</summary>
    /// <param name="known">The place as it was entered the last time.</param>
    public Stop AsKnown(Stop known)
    {
        ArgumentNullException.ThrowIfNull(known);
        return known.Hookup != Hookup ? this with { Name = known.Name } : this with
        {
            Name = known.Name,
            RinseWater = known.RinseWater,
            Busy = known.Busy,
            FeeMinor = known.FeeMinor,
            Opens = known.Opens,
            Closes = known.Closes,
            Septic = known.Septic,
            DumpStation = known.DumpStation,
        };
    }

    /// <summary>Whether a station is open at a moment; places other than stations always are.</summary>
    public bool IsOpenAt(Instant moment) => Hookup != StopHookup.DumpStation
        || (moment.InZone(Zone).TimeOfDay is var time && !(time < Opens) && !(time >= Closes));

    /// <summary>Whether a station is closed during the whole stay, so that nothing can be dumped.</summary>
    public bool IsClosed => OpenFrom(Arrive.ToInstant()) is null;

    /// <summary>The first moment of the stay, not before the given one, at which it is open; null if there is none.</summary>
    public Instant? OpenFrom(Instant from)
    {
        var (at, until) = (Instant.Max(from, Arrive.ToInstant()), Depart.ToInstant());
        for (; at <= until; at += Duration.FromMinutes(5)) if (IsOpenAt(at)) return at;
        return null;
    }

    /// <summary>Its sewer runs into a septic system.</summary>
    public bool Septic { get; init; }

    /// <summary>The place has a dump station that is used in the last hour of the stay.</summary>
    public bool DumpStation { get; init; }
}

/// <summary>What the owner wants of a stop, whatever the planner would do.</summary>
public enum DumpWish
{
    /// <summary>Dumped here for sure.</summary>
    Here,

    /// <summary>Not dumped here.</summary>
    NotHere,
}

/// <summary>An owner's wish that the planner plans around.</summary>
/// <param name="Stop">Id of the stop.</param>
/// <param name="Role">Black (with the gray that rinses after it), or gray alone.</param>
/// <param name="Dump">Here, or not here.</param>
public sealed record TripWish(string Stop, TankRole Role, DumpWish Dump);

/// <summary>Where a rig will stand and for how long.</summary>
/// <param name="Rig">The rig.</param>
/// <param name="Rules">House rules for the trip.</param>
/// <param name="Start">Where it starts from.</param>
/// <param name="Stops">The stops in the order of time.</param>
public sealed record Trip(Rig Rig, HouseRules Rules, TripStart Start, IReadOnlyList<Stop> Stops)
{
    /// <summary>Most stops of one trip.</summary>
    public const int MaxStops = 200;

    /// <summary>Longest trip in days.</summary>
    public const int MaxDays = 400;

    /// <summary>What the owner wants, stop by stop.</summary>
    public IReadOnlyList<TripWish> Wishes { get; init; } = [];

    /// <summary>Dumps that a course of travel scrubs still has to go (recovering a sensor takes 4 to 6 in a row); 0 if none runs.</summary>
    public int ScrubsDue { get; init; }

    /// <summary>Rinses that black took until it was clear, from the rig's own history; null for the usual of most rigs.</summary>
    public double? RinsesToClear { get; init; }

    /// <summary>Whether a squirt of soap goes into each gray that was emptied before a drive, to work on the road.</summary>
    public bool GrayCare { get; init; }

    /// <summary>Whether the owner wished this of a stop.</summary>
    public bool Wished(string stop, TankRole role, DumpWish dump) => Wishes.Any(w => w.Stop == stop && w.Role == role && w.Dump == dump);
}
