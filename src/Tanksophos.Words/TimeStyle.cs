using System.Globalization;
using NodaTime;

namespace Tanksophos.Words;

/// <summary>How a person reads times and dates: 12 or 24 hours, month or day first.</summary>
/// <param name="TwelveHours">"8:45 PM" instead of "20:45".</param>
/// <param name="MonthFirst">"Nov 28" instead of "28 Nov".</param>
public sealed record TimeStyle(bool TwelveHours, bool MonthFirst)
{
    private static readonly CultureInfo English = CultureInfo.InvariantCulture;

    /// <summary>As in the United States: the default.</summary>
    public static readonly TimeStyle Us = new(TwelveHours: true, MonthFirst: true);

    /// <summary>24 hours, day first.</summary>
    public static readonly TimeStyle International = new(TwelveHours: false, MonthFirst: false);

    /// <summary>"8:45 PM", "20:45".</summary>
    public string Time(LocalTime time) => time.ToString(TwelveHours ? "h:mm tt" : "HH:mm", English);

    /// <summary>"Nov 28", "28 Nov".</summary>
    public string Date(LocalDate date) => date.ToString(MonthFirst ? "MMM d" : "d MMM", English);

    /// <summary>"Nov 28, 2026", "28 Nov 2026".</summary>
    public string Year(LocalDate date) => date.ToString(MonthFirst ? "MMM d, yyyy" : "d MMM yyyy", English);

    /// <summary>"Sat, Nov 28", "Sat 28 Nov".</summary>
    public string WeekDay(LocalDate date) => date.ToString(MonthFirst ? "ddd, MMM d" : "ddd d MMM", English);

    /// <summary>"Saturday, November 28", "Saturday 28 November"; with the year if it is another one.</summary>
    /// <param name="date">The date.</param>
    /// <param name="year">Whether to say the year.</param>
    public string Heading(LocalDate date, bool year) =>
        date.ToString(MonthFirst ? year ? "dddd, MMMM d, yyyy" : "dddd, MMMM d" : year ? "dddd d MMMM yyyy" : "dddd d MMMM", English);

    /// <summary>"Sat, Nov 28, 8:45 PM", "Sat 28 Nov 20:45", in the local time of a place.</summary>
    public string Moment(Instant at, DateTimeZone zone)
    {
        ArgumentNullException.ThrowIfNull(zone);
        var local = at.InZone(zone);
        return $"{WeekDay(local.Date)}{(MonthFirst ? "," : "")} {Time(local.TimeOfDay)}";
    }

    /// <summary>"8:45 PM", "20:45", in the local time of a place.</summary>
    public string Time(Instant at, DateTimeZone zone)
    {
        ArgumentNullException.ThrowIfNull(zone);
        return Time(at.InZone(zone).TimeOfDay);
    }
}
