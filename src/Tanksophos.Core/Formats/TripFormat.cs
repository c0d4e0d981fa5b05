using System.Text.Json;
using NodaTime;
using NodaTime.Text;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Trips;

namespace Tanksophos.Core.Formats;

/// <summary>The trip document: where a rig will stand and for how long.</summary>
public static class TripFormat
{
    /// <summary>The document's <c>format</c> word.</summary>
    public const string Name = "tanksophos-trip";

    /// <summary>Longest time between two stops, in hours, beyond the drive.</summary>
    public const int LongestGapHours = 24;

    /// <summary>Reads a trip. Everything wrong in it is listed with its path.</summary>
    /// <param name="utf8">JSON in UTF-8.</param>
    public static ReadResult<Trip> Read(ReadOnlyMemory<byte> utf8) => Json.Read(utf8, (root, _) =>
        Documents.CheckHead(root, Name) ? ReadBody(root) : null);

    internal static Trip? ReadBody(ObjectReader root)
    {
        var rig = root.Child("rig", required: true) is { } r ? RigCodec.ReadFrom(r) : null;
        var rules = root.Child("rules") is { } h ? RigCodec.ReadRules(h) : rig?.RulesInForce ?? HouseRules.Default;
        var start = root.Child("start", required: true) is { } s ? ReadStart(s, rig) : null;
        if (!root.Has("stops") || root.IsEmptyList("stops")) root.Error("stops", "at least one stop is required");
        var (stops, wishes) = ReadStops(root, start);
        var scrubs = root.Whole("scrubsDue", 0, 6) ?? 0;
        var grayCare = root.Flag("grayCare") == true;
        var rinses = root.Number("rinsesToClear", 1, 20);
        root.Done();
        return rig is null || start is null ? null
            : new Trip(rig, rules, start, stops) { Wishes = wishes, ScrubsDue = scrubs, GrayCare = grayCare, RinsesToClear = rinses };
    }

    // The stops and what is wished of them.
    internal static (IReadOnlyList<Stop> Stops, IReadOnlyList<TripWish> Wishes) ReadStops(ObjectReader root, TripStart? start)
    {
        var stops = new List<Stop>();
        var listed = 0;
        Instant? before = null;
        foreach (var o in root.Children("stops"))
        {
            listed++;
            if (ReadStop(o) is not { } stop) continue;
            if (stops.Any(x => x.Id == stop.Id)) o.Error("id", $"stop id '{ObjectReader.Short(stop.Id)}' stands twice: ids must be unique within a trip");
            if (stop.Depart.ToInstant() <= stop.Arrive.ToInstant()) o.Error("depart", "must be later than arrive");
            else if (stops.Count > 0 && before is { } b && stop.Arrive.ToInstant() < b)
                o.Error("arrive", "must not be earlier than the departure from the stop before: stops stand in the order of time");
            else if (start is { } now && stop.Depart.ToInstant() <= now.At.ToInstant())
                o.Error("depart", "must be later than start.at: a stop that is over does not belong in the plan");
            else if (stops.Count > 0 && before is { } left && stop.Arrive.ToInstant() - left > Duration.FromHours(LongestGapHours + stop.DriveHoursBefore))
                o.Error("arrive", $"more than a day's gap before it that the drive does not fill: at most {LongestGapHours} h beyond driveHoursBefore are "
                    + $"accepted; add the stop that is missing");
            else if (start is { } s0 && stop.Depart.ToInstant() - s0.At.ToInstant() > Duration.FromDays(Trip.MaxDays))
                o.Error("depart", $"a trip lasts at most {Trip.MaxDays} days from start.at");
            if (stop.People == 0 && stop.Hookup is not (StopHookup.Storage or StopHookup.DumpStation))
                o.Error("people", "must be 1 or more where people stay; a stop with nobody aboard has the hookup storage");
            before = stop.Depart.ToInstant();
            stops.Add(stop);
        }
        if (listed > Trip.MaxStops) root.Error("stops", $"{listed} stops: at most {Trip.MaxStops} are accepted");
        var wishes = new List<TripWish>();
        foreach (var o in root.Children("wishes"))
        {
            var id = o.Text("stop", required: true);
            var role = o.Code<TankRole>("role", required: true);
            var dump = o.Code<DumpWish>("dump", required: true);
            o.Done();
            if (id is not null && stops.Count > 0 && stops.All(s => s.Id != id)) o.Error("stop", $"no stop has the id '{ObjectReader.Short(id)}'");
            else if (id is not null && role is { } of && dump is { } d) wishes.Add(new TripWish(id, of, d));
        }
        return (stops, wishes);
    }

    /// <summary>Writes a trip; reading it gives the same trip.</summary>
    /// <param name="trip">The trip.</param>
    /// <param name="pretty">Whether to indent.</param>
    public static byte[] Write(Trip trip, bool pretty = false)
    {
        ArgumentNullException.ThrowIfNull(trip);
        return Json.Write(w =>
        {
            w.WriteStartObject();
            w.WriteString("format", Name);
            w.WriteNumber("version", 1);
            w.WritePropertyName("rig");
            RigCodec.WriteTo(w, trip.Rig);
            w.WriteStartObject("rules");
            RigCodec.WriteRules(w, trip.Rules);
            w.WriteEndObject();
            w.WriteStartObject("start");
            w.WriteString("at", Timestamps.Write(trip.Start.At));
            w.WriteStartObject("levels");
            foreach (var (tank, band) in trip.Start.Levels)
            {
                w.WriteStartObject(tank);
                w.Computed("p05L", band.P05L);
                w.Computed("p50L", band.P50L);
                w.Computed("p95L", band.P95L);
                w.WriteEndObject();
            }
            w.WriteEndObject();
            w.WriteBoolean("grayOpen", trip.Start.GrayOpen);
            w.Optional("freshL", trip.Start.FreshL);
            w.Optional("daysSinceBlackDump", trip.Start.DaysSinceBlackDump);
            w.WriteEndObject();
            WriteStops(w, trip.Stops, trip.Wishes);
            if (trip.GrayCare) w.WriteBoolean("grayCare", true);
            w.Optional("rinsesToClear", trip.RinsesToClear);
            if (trip.ScrubsDue > 0) w.WriteNumber("scrubsDue", trip.ScrubsDue);
            w.WriteEndObject();
        }, pretty);
    }

    internal static void WriteStops(Utf8JsonWriter w, IReadOnlyList<Stop> stops, IReadOnlyList<TripWish> wishes)
    {
        w.WriteStartArray("stops");
        foreach (var s in stops) WriteStop(w, s);
        w.WriteEndArray();
        w.WriteStartArray("wishes");
        foreach (var wish in wishes)
        {
            w.WriteStartObject();
            w.WriteString("stop", wish.Stop);
            w.Code("role", wish.Role);
            w.Code("dump", wish.Dump);
            w.WriteEndObject();
        }
        w.WriteEndArray();
    }

    private static void WriteStop(Utf8JsonWriter w, Stop s)
    {
        w.WriteStartObject();
        w.WriteString("id", s.Id);
        w.WriteString("name", s.Name);
        w.WriteString("zone", s.Zone.Id);
        w.WriteString("arrive", Timestamps.Write(s.Arrive));
        w.WriteString("depart", Timestamps.Write(s.Depart));
        w.Code("hookup", s.Hookup);
        w.WriteNumber("people", s.People);
        w.WriteNumber("driveHoursBefore", s.DriveHoursBefore);
        w.Optional("highC", s.HighC);
        w.Code("rinseWater", s.RinseWater);
        if (s.Busy) w.WriteBoolean("busy", true);
        if (s.FeeMinor is { } fee) w.WriteNumber("feeMinor", fee);
        if (s.Opens is { } opens) w.WriteString("opens", Hour.Format(opens));
        if (s.Closes is { } closes) w.WriteString("closes", Hour.Format(closes));
        if (s.Septic) w.WriteBoolean("septic", true);
        if (s.DumpStation) w.WriteBoolean("dumpStation", true);
        w.WriteEndObject();
    }

    private static TripStart? ReadStart(ObjectReader o, Rig? rig)
    {
        var at = o.Time("at", required: true);
        var levels = new Dictionary<string, LevelBand>(StringComparer.Ordinal);
        if (o.Child("levels") is { } map)
        {
            foreach (var (tank, band) in map.Map())
            {
                if (rig is not null && rig.Find(tank) is null)
                    map.Error(tank, $"unknown tank '{ObjectReader.Short(tank)}': accepted is one of {string.Join(", ", rig.Tanks.Select(t => t.Id))}");
                var most = rig?.Find(tank)?.CapacityL ?? RigCodec.MaxCapacityL;
                var low = band.Number("p05L", 0, most, required: true);
                var mid = band.Number("p50L", 0, most, required: true);
                var high = band.Number("p95L", 0, most, required: true);
                band.Done();
                if (low is not { } a || mid is not { } b || high is not { } c) continue;
                if (a > b || b > c) band.Error("p50L", "must lie between p05L and p95L");
                else levels[tank] = new LevelBand(a, b, c);
            }
        }
        var grayOpen = o.Flag("grayOpen");
        var fresh = o.Number("freshL", 0, RigCodec.MaxCapacityL);
        var days = o.Number("daysSinceBlackDump", 0, 3650);
        o.Done();
        return at is { } t ? new TripStart(t, levels, grayOpen ?? false, fresh, days) : null;
    }

    private static Stop? ReadStop(ObjectReader o)
    {
        var id = o.Text("id", required: true, most: 60, blankAllowed: false);
        var name = o.Text("name");
        var zone = o.Zone("zone", required: true);
        var arrive = o.Time("arrive", required: true);
        var depart = o.Time("depart", required: true);
        var hookup = o.Code<StopHookup>("hookup", required: true);
        var people = o.Whole("people", 0, EntryCodec.MaxPeople, required: true);
        var drive = o.Number("driveHoursBefore", 0, 240);
        var high = o.Number("highC", -60, 60);
        var rinse = o.Code<RinseWater>("rinseWater");
        var busy = o.Flag("busy");
        var fee = o.Whole("feeMinor", 0, 100_000_000);
        var (opens, closes) = (ReadHour(o, "opens"), ReadHour(o, "closes"));
        if (opens >= closes) o.Error("closes", "must be later than opens");
        var septic = o.Flag("septic");
        var station = o.Flag("dumpStation");
        o.Done();
        var mayCarryStation = hookup is StopHookup.Partial or StopHookup.GrayDrain or StopHookup.Dry;
        if (station == true && hookup is not null && !mayCarryStation)
            o.Warn("dumpStation", "only partial, gray-drain and dry stops carry it: ignored");
        return id is null || zone is null || hookup is null || people is null || arrive is not { } a || depart is not { } d ? null
            : new Stop(id, name ?? id, zone, a, d, hookup.Value, people.Value)
            {
                DriveHoursBefore = drive ?? 0,
                HighC = high,
                RinseWater = rinse,
                Busy = busy ?? false,
                FeeMinor = fee,
                Opens = hookup == StopHookup.DumpStation ? opens : null,
                Closes = hookup == StopHookup.DumpStation ? closes : null,
                Septic = septic ?? false,
                DumpStation = station == true && mayCarryStation,
            };
    }

    private static readonly LocalTimePattern Hour = LocalTimePattern.CreateWithInvariantCulture("HH:mm");

    private static LocalTime? ReadHour(ObjectReader o, string name)
    {
        if (o.Text(name, most: 8) is not { } text) return null;
        if (Hour.Parse(text) is { Success: true, Value: var time }) return time;
        o.Error(name, "must be a time of day such as 08:00");
        return null;
    }
}
