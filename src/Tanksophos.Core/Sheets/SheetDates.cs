using System.Globalization;
using System.Text.RegularExpressions;
using NodaTime;

namespace Tanksophos.Core.Sheets;

/// <summary>A date as somebody wrote it.</summary>
/// <param name="First">The first number, or the year where it is written year first.</param>
/// <param name="Second">The second number.</param>
/// <param name="Year">The year; null where none was written.</param>
/// <param name="Fixed">
/// The date where only one reading is possible: year first, or with the month in letters. Null where the order of day and month matters.
/// </param>
/// <param name="Time">The hour, if one stands in the same cell.</param>
internal sealed record SheetDate(int First, int Second, int? Year, (int Month, int Day)? Fixed, LocalTime? Time)
{
    /// <summary>The date read in an order.</summary>
    /// <param name="monthFirst">Whether the month stands first where that is open.</param>
    /// <param name="year">The year where none was written.</param>
    public LocalDate? On(bool monthFirst, int year)
    {
        var (month, day) = Fixed ?? (monthFirst ? (First, Second) : (Second, First));
        var y = Year ?? year;
        return month is < 1 or > 12 || y is < 1900 or > 2200 || day < 1 || day > CalendarSystem.Iso.GetDaysInMonth(y, month) ? null
            : new LocalDate(y, month, day);
    }
}

/// <summary>Dates and hours as people write them.</summary>
internal static partial class SheetDates
{
    private static readonly string[] Months = ["jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"];

    // Hours for the words of a day; the middle of what people mean by them.
    private static readonly Dictionary<string, int> Dayparts = new(StringComparer.OrdinalIgnoreCase)
    {
        ["morning"] = 8,
        ["am"] = 9,
        ["noon"] = 12,
        ["midday"] = 12,
        ["afternoon"] = 15,
        ["pm"] = 15,
        ["evening"] = 19,
        ["night"] = 21,
        ["bedtime"] = 22,
    };

    /// <summary>Whether a cell is surely a date, with or without an hour: "1/3" may be a light.</summary>
    public static bool LooksLikeDate(string text) => Read(text) is { } date && (date.Year is not null || date.Fixed is not null);

    /// <summary>A line of a diary taken apart, its date and its words: "5/4: dumped black". Null if it does not begin with a date.</summary>
    public static (string Date, string Said)? Diary(string line) =>
        DiaryLine().Match(line) is { Success: true } parts && Read(parts.Groups["date"].Value) is not null
            ? (parts.Groups["date"].Value, parts.Groups["said"].Value) : null;

    /// <summary>Reads a date; null if the text is none.</summary>
    public static SheetDate? Read(string text)
    {
        if (text.Length is < 3 or > 60) return null;
        if (Iso().Match(text) is { Success: true } iso && Rest(iso, out var time))
            return new SheetDate(0, 0, N(iso, "y"), (N(iso, "m"), N(iso, "d")), time);
        if (Numbers().Match(text) is { Success: true } numbers && Rest(numbers, out time))
            return new SheetDate(N(numbers, "a"), N(numbers, "b"), numbers.Groups["y"].Success ? Century(N(numbers, "y")) : null, null, time);
        if (MonthFirst().Match(text) is { Success: true } month && MonthOf(month) is { } m && Rest(month, out time))
            return new SheetDate(0, 0, month.Groups["y"].Success ? Century(N(month, "y")) : null, (m, N(month, "d")), time);
        if (DayFirst().Match(text) is { Success: true } day && MonthOf(day) is { } n && Rest(day, out time))
            return new SheetDate(0, 0, day.Groups["y"].Success ? Century(N(day, "y")) : null, (n, N(day, "d")), time);
        return null;
    }

    /// <summary>Reads an hour such as "9:00 PM", "21.30", "9pm" or "morning"; null if the text is none.</summary>
    public static LocalTime? Hour(string text)
    {
        text = text.Trim();
        if (Dayparts.TryGetValue(text, out var part)) return new LocalTime(part, 0);
        if (text.Length > 14 || Clock().Match(text) is not { Success: true } clock) return null;
        var (hour, minute) = (N(clock, "h"), clock.Groups["m"].Success ? N(clock, "m") : 0);
        if (clock.Groups["half"] is { Success: true } half)
        {
            if (hour is < 1 or > 12) return null;
            hour = hour % 12 + (half.Value[0] is 'p' or 'P' ? 12 : 0);
        }
        else if (!clock.Groups["m"].Success) return null; // a bare number is no hour
        return hour > 23 || minute > 59 ? null : new LocalTime(hour, minute);
    }

    private static bool Rest(Match date, out LocalTime? time)
    {
        var rest = date.Groups["rest"].Value.Trim(' ', ',', 'T', 't', '-', '@');
        time = rest.Length == 0 ? null : Hour(rest);
        return rest.Length == 0 || time is not null;
    }

    private static int? MonthOf(Match date) =>
        Array.FindIndex(Months, m => date.Groups["m"].Value.StartsWith(m, StringComparison.OrdinalIgnoreCase)) is >= 0 and var i ? i + 1 : null;

    private static int N(Match match, string part) => int.Parse(match.Groups[part].Value, NumberStyles.None, CultureInfo.InvariantCulture);

    private static int Century(int year) => year < 100 ? 2000 + year : year;

    private const string Weekday = @"^(?:(?:mon|tue|wed|thu|fri|sat|sun)[a-z]*\.?,?\s+)?";

    [GeneratedRegex(@"^(?<y>\d{4})[-/.](?<m>\d{1,2})[-/.](?<d>\d{1,2})(?:(?<rest>[ T,].*))?$", RegexOptions.CultureInvariant)]
    private static partial Regex Iso();

    [GeneratedRegex(Weekday + @"(?<a>\d{1,2})(?<s>[/.\-])(?<b>\d{1,2})(?:\k<s>(?<y>\d{4}|\d{2}))?\.?(?:(?<rest>[ T,].*))?$",
        RegexOptions.CultureInvariant | RegexOptions.IgnoreCase)]
    private static partial Regex Numbers();

    [GeneratedRegex(Weekday + @"(?<m>[a-z]{3,9})\.?\s+(?<d>\d{1,2})(?:st|nd|rd|th)?(?:,?\s+(?<y>\d{4}))?(?:(?<rest>[ ,@].*))?$",
        RegexOptions.CultureInvariant | RegexOptions.IgnoreCase)]
    private static partial Regex MonthFirst();

    [GeneratedRegex(Weekday + @"(?<d>\d{1,2})(?:st|nd|rd|th)?[ \-](?<m>[a-z]{3,9})\.?(?:,?[ \-](?<y>\d{4}|\d{2}))?(?:(?<rest>[ ,@].*))?$",
        RegexOptions.CultureInvariant | RegexOptions.IgnoreCase)]
    private static partial Regex DayFirst();

    [GeneratedRegex(@"^(?<date>(?:(?:mon|tue|wed|thu|fri|sat|sun)[a-z]*\.?,?\s+)?(?:\d{4}-\d{1,2}-\d{1,2}|\d{1,2}[/.\-]\d{1,2}(?:[/.\-]\d{2,4})?"
        + @"|[a-z]{3,9}\.?\s+\d{1,2}(?:st|nd|rd|th)?(?:,?\s+\d{4})?|\d{1,2}[ \-][a-z]{3,9}\.?(?:[ \-]\d{4})?))\s*[:\-–]?\s+(?<said>\p{L}.*)$",
        RegexOptions.CultureInvariant | RegexOptions.IgnoreCase)]
    private static partial Regex DiaryLine();

    [GeneratedRegex(@"^(?<h>\d{1,2})(?:[:.h](?<m>\d{2})(?::\d{2})?)?\s*(?<half>[ap](?:\.?m\.?)?)?$", RegexOptions.CultureInvariant | RegexOptions.IgnoreCase)]
    private static partial Regex Clock();
}
