using System.Globalization;
using NodaTime;

namespace Tanksophos.Words;

/// <summary>Says moments the way people do, seen from now, in the local time of the place.</summary>
public sealed class TimeWords(Instant now, DateTimeZone zone, TimeStyle? style = null)
{
    private static readonly CultureInfo English = CultureInfo.InvariantCulture;

    /// <summary>How times and dates are written.</summary>
    public TimeStyle Style { get; } = style ?? TimeStyle.Us;

    /// <summary>Local time of the words.</summary>
    public DateTimeZone Zone => zone;

    /// <summary>The present moment.</summary>
    public Instant Now => now;

    private LocalDate Today => now.InZone(zone).Date;

    /// <summary>"Wednesday evening".</summary>
    public string Greeting
    {
        get
        {
            var local = now.InZone(zone);
            var part = local.Hour switch { < 5 => "night", < 12 => "morning", < 17 => "afternoon", < 22 => "evening", _ => "night" };
            return $"{local.Date.ToString("dddd", English)} {part}";
        }
    }

    /// <summary>"now", "today 7:00 PM", "tomorrow 8:10 AM", "Thu 5:00 AM", "May 14 5:00 AM".</summary>
    public string At(Instant moment)
    {
        var local = moment.InZone(zone);
        if ((moment - now).TotalMinutes is > -2 and < 2) return "now";
        return $"{Day(local.Date)} {Clock(moment)}";
    }

    /// <summary>"now", "today 7:00 PM", "Thu 5:00 AM", "May 14": short enough for a table.</summary>
    public string Brief(Instant moment)
    {
        if ((moment - now).TotalMinutes is > -2 and < 2) return "now";
        var days = Period.DaysBetween(Today, moment.InZone(zone).Date);
        return days is > 6 or < -6 ? Day(moment.InZone(zone).Date) : $"{(days == 0 ? "today" : moment.InZone(zone).ToString("ddd", English))} {Clock(moment)}";
    }

    /// <summary>The hour of a deadline: "now", "today by 7:00 PM".</summary>
    public string By(Instant moment) =>
        (moment - now).TotalMinutes < 2 ? "Now" : Capital($"{Day(moment.InZone(zone).Date)} by {Clock(moment)}");

    /// <summary>"7:00 PM", to five minutes: an estimate is no better than that.</summary>
    public string Clock(Instant moment)
    {
        var rounded = Instant.FromUnixTimeSeconds((moment.ToUnixTimeSeconds() + 150) / 300 * 300).InZone(zone);
        return Style.Time(rounded.TimeOfDay);
    }

    /// <summary>"today", "tomorrow", "Thu", "May 14", "May 14, 2027".</summary>
    public string Day(LocalDate date) => Period.DaysBetween(Today, date) switch
    {
        0 => "today",
        1 => "tomorrow",
        -1 => "yesterday",
        > -7 and < 7 => date.ToString("ddd", English),
        _ => date.Year == Today.Year ? Style.Date(date) : Style.Year(date),
    };

    /// <summary>"Wednesday, May 14" for headings, with "today" and "yesterday" before it.</summary>
    public string Heading(LocalDate date)
    {
        var full = Style.Heading(date, date.Year != Today.Year);
        return Period.DaysBetween(date, Today) switch { 0 => $"Today, {full}", 1 => $"Yesterday, {full}", _ => full };
    }

    /// <summary>"just now", "3 h ago", "2 days ago".</summary>
    public string Ago(Instant moment)
    {
        var gone = now - moment;
        if (gone.TotalMinutes < 2) return "just now";
        if (gone.TotalMinutes < 90) return $"{gone.TotalMinutes:0} min ago";
        if (gone.TotalHours < 36) return $"{gone.TotalHours:0} h ago";
        return $"{gone.TotalDays:0} days ago";
    }

    /// <summary>Exact local time of an entry: "6:10 PM".</summary>
    public string Exact(OffsetDateTime at) => Style.Time(at.TimeOfDay);

    /// <summary>With a small first letter.</summary>
    public static string Lower(string text) => text.Length == 0 ? text : char.ToLowerInvariant(text[0]) + text[1..];

    /// <summary>With a capital first letter.</summary>
    public static string Capital(string text) => text.Length == 0 ? text : char.ToUpperInvariant(text[0]) + text[1..];
}
