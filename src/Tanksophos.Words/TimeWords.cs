using System.Globalization;
using NodaTime;
using NodaTime.Text;

namespace Tanksophos.Words;

/// <summary>Says moments the way people do, seen from now, in the local time of the place.</summary>
public sealed class TimeWords(Instant now, DateTimeZone zone)
{
    private static readonly CultureInfo English = CultureInfo.InvariantCulture;

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

    /// <summary>"now", "today 19:00", "tomorrow 08:10", "Thu 05:00", "14 May 05:00".</summary>
    public string At(Instant moment)
    {
        var local = moment.InZone(zone);
        if ((moment - now).TotalMinutes is > -2 and < 2) return "now";
        return $"{Day(local.Date)} {Clock(moment)}";
    }

    /// <summary>"now", "today 19:00", "Thu 05:00", "14 May": short enough for a table.</summary>
    public string Brief(Instant moment)
    {
        if ((moment - now).TotalMinutes is > -2 and < 2) return "now";
        var days = Period.DaysBetween(Today, moment.InZone(zone).Date);
        return days is > 6 or < -6 ? Day(moment.InZone(zone).Date) : $"{(days == 0 ? "today" : moment.InZone(zone).ToString("ddd", English))} {Clock(moment)}";
    }

    /// <summary>The hour of a deadline: "now", "today by 19:00".</summary>
    public string By(Instant moment) =>
        (moment - now).TotalMinutes < 2 ? "Now" : Capital($"{Day(moment.InZone(zone).Date)} by {Clock(moment)}");

    /// <summary>"19:00", to five minutes: an estimate is no better than that.</summary>
    public string Clock(Instant moment)
    {
        var rounded = Instant.FromUnixTimeSeconds((moment.ToUnixTimeSeconds() + 150) / 300 * 300).InZone(zone);
        return rounded.ToString("HH:mm", English);
    }

    /// <summary>"today", "tomorrow", "Thu", "14 May", "14 May 2027".</summary>
    public string Day(LocalDate date) => Period.DaysBetween(Today, date) switch
    {
        0 => "today",
        1 => "tomorrow",
        -1 => "yesterday",
        > -7 and < 7 => date.ToString("ddd", English),
        _ => date.Year == Today.Year ? date.ToString("d MMM", English) : date.ToString("d MMM yyyy", English),
    };

    /// <summary>"Wednesday 14 May" for headings, with "today" and "yesterday" before it.</summary>
    public string Heading(LocalDate date)
    {
        var full = date.ToString(date.Year == Today.Year ? "dddd d MMMM" : "dddd d MMMM yyyy", English);
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

    /// <summary>Exact local time of an entry: "18:10".</summary>
    public static string Exact(OffsetDateTime at) => OffsetDateTimePattern.CreateWithInvariantCulture("HH:mm").Format(at);

    /// <summary>With a small first letter.</summary>
    public static string Lower(string text) => text.Length == 0 ? text : char.ToLowerInvariant(text[0]) + text[1..];

    /// <summary>With a capital first letter.</summary>
    public static string Capital(string text) => text.Length == 0 ? text : char.ToUpperInvariant(text[0]) + text[1..];
}
