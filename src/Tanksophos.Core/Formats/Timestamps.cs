using System.Globalization;
using System.Text.RegularExpressions;
using NodaTime;

namespace Tanksophos.Core.Formats;

/// <summary>Times in documents: ISO 8601 with an offset. Read: <c>Z</c>, <c>±HH</c>, <c>±HH:MM</c>, seconds optional. Written: <c>±HH:MM</c>.</summary>
public static partial class Timestamps
{
    /// <summary>What is accepted, for messages.</summary>
    public const string Accepted = "an ISO 8601 time with offset, such as 2026-05-09T18:00:00-06:00";

    /// <summary>Reads a time between the years 1900 and 2200.</summary>
    /// <returns>False if the text is not such a time.</returns>
    public static bool TryParse(string? text, out OffsetDateTime time)
    {
        time = default;
        if (text is null || text.Length > 40) return false;
        if (TryParseWritten(text, out time)) return true;
        var m = Shape().Match(text);
        if (!m.Success) return false;
        int Part(string name) => m.Groups[name].Success && m.Groups[name].Length > 0
            ? int.Parse(m.Groups[name].ValueSpan, NumberStyles.None, CultureInfo.InvariantCulture) : 0;
        int year = Part("y"), month = Part("mo"), day = Part("d"), hour = Part("h"), minute = Part("mi"), second = Part("s");
        if (year is < 1900 or > 2200 || month is < 1 or > 12 || day < 1 || day > CalendarSystem.Iso.GetDaysInMonth(year, month)) return false;
        if (hour > 23 || minute > 59 || second > 59) return false;
        int offsetHours = Part("oh"), offsetMinutes = Part("om");
        if (offsetHours > 18 || offsetMinutes > 59 || offsetHours * 60 + offsetMinutes > 18 * 60) return false;
        var nanos = m.Groups["f"].Length > 0 ? int.Parse(m.Groups["f"].Value.PadRight(9, '0'), NumberStyles.None, CultureInfo.InvariantCulture) : 0;
        var sign = m.Groups["sign"].Value == "-" ? -1 : 1;
        time = new LocalDateTime(year, month, day, hour, minute, second).PlusNanoseconds(nanos)
            .WithOffset(Offset.FromSeconds(sign * (offsetHours * 3600 + offsetMinutes * 60)));
        return true;
    }

    // The shape in which times are written is by far the most frequent: read without a pattern. Whatever does not fit is left to the pattern.
    private static bool TryParseWritten(string text, out OffsetDateTime time)
    {
        time = default;
        if (text.Length != 25 || text[4] != '-' || text[7] != '-' || text[10] != 'T' || text[13] != ':' || text[16] != ':' || text[22] != ':'
            || text[19] is not ('+' or '-')) return false;
        int Two(int at) => char.IsAsciiDigit(text[at]) && char.IsAsciiDigit(text[at + 1]) ? (text[at] - '0') * 10 + text[at + 1] - '0' : -1;
        int century = Two(0), years = Two(2), month = Two(5), day = Two(8), hour = Two(11), minute = Two(14), second = Two(17), offsetHours = Two(20),
            offsetMinutes = Two(23);
        if (century is < 19 or > 21 || years < 0 || month is < 1 or > 12 || day is < 1 or > 28 || hour is < 0 or > 23 || minute is < 0 or > 59
            || second is < 0 or > 59) return false;
        if (offsetHours is < 0 or > 17 || offsetMinutes is < 0 or > 59) return false;
        var offset = (text[19] == '-' ? -1 : 1) * (offsetHours * 3600 + offsetMinutes * 60);
        time = new LocalDateTime(century * 100 + years, month, day, hour, minute, second).WithOffset(Offset.FromSeconds(offset));
        return true;
    }

    /// <summary>Writes a time: <c>2026-05-09T18:00:00-06:00</c>, with a fraction of a second only where there is one.</summary>
    public static string Write(OffsetDateTime time)
    {
        var local = time.LocalDateTime;
        var fraction = local.NanosecondOfSecond == 0 ? "" : "." + local.NanosecondOfSecond.ToString("000000000", CultureInfo.InvariantCulture).TrimEnd('0');
        var minutes = time.Offset.Seconds / 60;
        var offset = string.Create(CultureInfo.InvariantCulture, $"{(minutes < 0 ? '-' : '+')}{Math.Abs(minutes) / 60:00}:{Math.Abs(minutes) % 60:00}");
        return string.Create(CultureInfo.InvariantCulture,
            $"{local.Year:0000}-{local.Month:00}-{local.Day:00}T{local.Hour:00}:{local.Minute:00}:{local.Second:00}{fraction}{offset}");
    }

    [GeneratedRegex(@"\A(?<y>[0-9]{4})-(?<mo>[0-9]{2})-(?<d>[0-9]{2})[Tt ](?<h>[0-9]{2}):(?<mi>[0-9]{2})(:(?<s>[0-9]{2})([.,](?<f>[0-9]{1,9})[0-9]*)?)?([Zz]|(?<sign>[+-])(?<oh>[0-9]{2})(:?(?<om>[0-9]{2}))?)\z",
        RegexOptions.ExplicitCapture | RegexOptions.CultureInvariant)]
    private static partial Regex Shape();
}
