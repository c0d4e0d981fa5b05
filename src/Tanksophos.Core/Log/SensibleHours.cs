using NodaTime;

namespace Tanksophos.Core.Log;

/// <summary>Hours at which one may ask a person to work at a hose: 07:00 to 22:00 local.</summary>
internal static class SensibleHours
{
    private static readonly LocalTime First = new(7, 0);
    private static readonly LocalTime Last = new(22, 0);
    private static readonly LocalTime Morning = new(8, 0);
    private static readonly LocalTime Evening = new(20, 0);

    /// <summary>Whether a moment is a sensible hour.</summary>
    public static bool Holds(Instant moment, DateTimeZone zone)
    {
        var time = moment.InZone(zone).TimeOfDay;
        return time >= First && time <= Last;
    }

    /// <summary>The moment itself if it is sensible, else the evening before it.</summary>
    public static Instant NotAfter(Instant moment, DateTimeZone zone)
    {
        if (Holds(moment, zone)) return moment;
        var local = moment.InZone(zone);
        var day = local.TimeOfDay < First ? local.Date.PlusDays(-1) : local.Date;
        return (day + Evening).InZoneLeniently(zone).ToInstant();
    }

    /// <summary>The moment itself if it is sensible, else the morning after it.</summary>
    public static Instant NotBefore(Instant moment, DateTimeZone zone)
    {
        if (Holds(moment, zone)) return moment;
        var local = moment.InZone(zone);
        var day = local.TimeOfDay < First ? local.Date : local.Date.PlusDays(1);
        return (day + Morning).InZoneLeniently(zone).ToInstant();
    }
}
