using NodaTime;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Log;

/// <summary>
/// What is in force on a rig at a moment: people, place, hookup, valves. Entries are applied in the order of time;
/// the rules for what counts before the first entry of a kind are here and nowhere else.
/// </summary>
public sealed class Circumstances
{
    private readonly Dictionary<string, Instant> open;
    private DateTimeZone? zone;
    private Offset offset = Offset.Zero;

    /// <summary>Starts with the rig's own people, a full hookup and closed valves.</summary>
    public Circumstances(Rig rig)
    {
        ArgumentNullException.ThrowIfNull(rig);
        open = [];
        People = rig.People;
    }

    private Circumstances(Circumstances other)
    {
        open = new(other.open);
        (zone, offset, People, Hookup, Place, StaySince, DrivingUntil, PropaneAlarm) = (other.zone, other.offset, other.People, other.Hookup, other.Place,
            other.StaySince, other.DrivingUntil, other.PropaneAlarm);
    }

    /// <summary>People aboard.</summary>
    public int People { get; private set; }

    /// <summary>What is connected.</summary>
    public Hookup Hookup { get; private set; } = Hookup.Full;

    /// <summary>The place's name, if known.</summary>
    public string? Place { get; private set; }

    /// <summary>Start of the present stay; null before the first.</summary>
    public Instant? StaySince { get; private set; }

    /// <summary>While driving nothing flows in; the end of the drive in force, if any.</summary>
    public Instant? DrivingUntil { get; private set; }

    /// <summary>
    /// Time of the propane alarm that stands; null if none does. An alarm stands until a <see cref="CheckCode.PropaneRuledOut"/> pass later than it;
    /// a fail resolves nothing and a new alarm stands anew.
    /// </summary>
    public Instant? PropaneAlarm { get; private set; }

    /// <summary>The zone that the present stay states, or null.</summary>
    public DateTimeZone? StatedZone => zone;

    /// <summary>The stay's zone if it states one, else the last entry's own offset.</summary>
    public DateTimeZone Zone => zone ?? DateTimeZone.ForOffset(offset);

    /// <summary>Since when a tank's valve has stood open; null if it is closed.</summary>
    public Instant? OpenSince(string tank) => open.TryGetValue(tank, out var since) ? since : null;

    /// <summary>Whether a tank's valve stands open.</summary>
    public bool IsOpen(string tank) => open.ContainsKey(tank);

    /// <summary>Applies one entry. Entries must come in the order of time.</summary>
    public void Apply(LogEntry entry)
    {
        ArgumentNullException.ThrowIfNull(entry);
        offset = entry.At.Offset;
        switch (entry)
        {
            case StayEntry stay:
                Hookup = stay.Hookup;
                Place = stay.Place;
                StaySince = stay.Instant;
                zone = stay.Zone;
                DrivingUntil = null;
                break;
            case PeopleEntry people:
                People = people.Count;
                break;
            case ValveEntry { Tank: { } tank } valve:
                if (valve.State == ValveState.Closed) open.Remove(tank);
                else open.TryAdd(tank, valve.Instant);
                break;
            case SymptomEntry { Code: SymptomCode.PropaneAlarm } alarm:
                PropaneAlarm = alarm.Instant;
                break;
            case CheckEntry { Code: CheckCode.PropaneRuledOut, Result: CheckResult.Pass } clear when clear.Instant > PropaneAlarm:
                PropaneAlarm = null;
                break;
            case DriveEntry drive:
                DrivingUntil = drive.Instant + Duration.FromHours(drive.Hours);
                break;
        }
    }

    /// <summary>A copy that goes on by itself.</summary>
    public Circumstances Copy() => new(this);

    /// <summary>The circumstances after all entries up to the logbook's now.</summary>
    public static Circumstances After(Logbook logbook)
    {
        ArgumentNullException.ThrowIfNull(logbook);
        var now = new Circumstances(logbook.Rig);
        foreach (var entry in logbook.InOrder()) now.Apply(entry);
        return now;
    }

    /// <summary>Writes what is in force, for a saved estimate.</summary>
    internal void Save(BinaryWriter to)
    {
        to.Write(open.Count);
        foreach (var (tank, since) in open)
        {
            to.Write(tank);
            to.Write(since.ToUnixTimeTicks());
        }
        to.Write(zone?.Id ?? "");
        to.Write(offset.Seconds);
        to.Write(People);
        to.Write((int)Hookup);
        to.Write(Place ?? "");
        to.Write(StaySince?.ToUnixTimeTicks() ?? long.MinValue);
        to.Write(DrivingUntil?.ToUnixTimeTicks() ?? long.MinValue);
        to.Write(PropaneAlarm?.ToUnixTimeTicks() ?? long.MinValue);
    }

    /// <summary>Reads what <see cref="Save"/> wrote.</summary>
    internal void Load(BinaryReader from)
    {
        open.Clear();
        for (var n = from.ReadInt32(); n > 0; n--)
        {
            var tank = from.ReadString();
            open[tank] = Instant.FromUnixTimeTicks(from.ReadInt64());
        }
        var id = from.ReadString();
        zone = id.Length == 0 ? null : DateTimeZoneProviders.Tzdb.GetZoneOrNull(id);
        offset = Offset.FromSeconds(from.ReadInt32());
        People = from.ReadInt32();
        Hookup = (Hookup)from.ReadInt32();
        var place = from.ReadString();
        Place = place.Length == 0 ? null : place;
        StaySince = Moment(from.ReadInt64());
        DrivingUntil = Moment(from.ReadInt64());
        PropaneAlarm = Moment(from.ReadInt64());
    }

    private static Instant? Moment(long ticks) => ticks == long.MinValue ? null : Instant.FromUnixTimeTicks(ticks);
}
