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
        (zone, offset, People, Hookup, Place, StaySince, DrivingUntil) = (other.zone, other.offset, other.People, other.Hookup, other.Place, other.StaySince, other.DrivingUntil);
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
}
