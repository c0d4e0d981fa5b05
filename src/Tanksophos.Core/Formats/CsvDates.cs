using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;
using System.Text.Unicode;
using CsvHelper;
using CsvHelper.Configuration;
using NodaTime;

namespace Tanksophos.Core.Formats;

/// <summary>A table whose dates are written as people write them, made into one that can be read.</summary>
/// <param name="Utf8">The table with dates of the format.</param>
/// <param name="MonthFirst">How its dates were read.</param>
/// <param name="Sure">Whether only one order fits all its dates.</param>
/// <param name="Sample">A date as it stood there.</param>
/// <param name="SampleAt">What it was read as.</param>
public sealed record DatedTable(ReadOnlyMemory<byte> Utf8, bool MonthFirst, bool Sure, string Sample, LocalDateTime SampleAt);

/// <summary>
/// Dates such as <c>11/27/2026 9:00 PM</c> in the column <c>at</c> of a table. The order of day and month is told by a number above 12; where no
/// date tells, it is a guess that the caller supplies and the person should see.
/// </summary>
public static partial class CsvDates
{
    private const string Column = "at";

    /// <summary>Reads such dates of a table.</summary>
    /// <param name="utf8">The file.</param>
    /// <param name="zone">The zone in which its hours were written.</param>
    /// <param name="guess">Whether the month is taken to stand first where no date tells.</param>
    /// <param name="chosen">The order that a person chose; null to go by the dates.</param>
    /// <returns>Null if the table has no such date or cannot be read as one; then it is for the reader of tables to say what is wrong.</returns>
    public static DatedTable? Read(ReadOnlyMemory<byte> utf8, DateTimeZone zone, bool guess, bool? chosen = null)
    {
        ArgumentNullException.ThrowIfNull(zone);
        var (header, lines) = Lines(utf8);
        var at = Array.FindIndex(header, h => h.Trim().Equals(Column, StringComparison.OrdinalIgnoreCase));
        if (at < 0) return null;
        var found = lines.Where(l => l.Length > at).Select(l => Written().Match(l[at].Trim())).Where(m => m.Success).ToList();
        if (found.Count == 0) return null;
        var dayFirst = found.Exists(m => Number(m, "a") > 12);
        var monthFirst = found.Exists(m => Number(m, "b") > 12);
        var order = dayFirst == monthFirst ? chosen ?? guess : monthFirst;
        foreach (var line in lines)
        {
            if (line.Length > at && Written().Match(line[at].Trim()) is { Success: true } date && Local(date, order) is { } local)
                line[at] = Timestamps.Write(local.InZoneLeniently(zone).ToOffsetDateTime());
        }
        var first = found.Find(m => Local(m, order) is not null);
        return first is null ? null
            : new DatedTable(CsvTable.Write(header, lines), order, dayFirst != monthFirst, first.Value, Local(first, order)!.Value);
    }

    /// <summary>Whether a file is no document and no table of ours: a table without a column <c>at</c>, or no text at all.</summary>
    /// <param name="content">The file.</param>
    public static bool IsKeptByHand(ReadOnlyMemory<byte> content)
    {
        var text = content.Span.StartsWith(Encoding.UTF8.Preamble) ? content[3..] : content;
        if (Json.IsBlank(text.Span) || text.Span.TrimStart(" \t\r\n"u8)[0] is (byte)'{' or (byte)'[') return false;
        if (!Utf8.IsValid(text.Span) || text.Span.Contains((byte)0)) return true;
        var header = CsvTable.Header(Encoding.UTF8.GetString(text.Span[..Math.Min(text.Length, 4000)]));
        return !header.Split(',', ';').Any(c => c.Trim().Trim('"').Equals(Column, StringComparison.OrdinalIgnoreCase));
    }

    private static (string[] Header, List<string[]> Lines) Lines(ReadOnlyMemory<byte> utf8)
    {
        if (!Utf8.IsValid(utf8.Span)) return ([], []);
        var text = Encoding.UTF8.GetString(utf8.Span).TrimStart('\uFEFF');
        var lines = new List<string[]>();
        using var csv = new CsvParser(new StringReader(text), new CsvConfiguration(CultureInfo.InvariantCulture)
        {
            Delimiter = CsvTable.Header(text).Contains(';', StringComparison.Ordinal) ? ";" : ",",
            BadDataFound = null,
            IgnoreBlankLines = false,
        });
        try
        {
            while (csv.Read()) lines.Add([.. csv.Record ?? []]);
        }
        catch (CsvHelperException)
        {
            return ([], []);
        }
        return lines.Count == 0 ? ([], []) : (lines[0], lines[1..]);
    }

    private static int Number(Match date, string part) => int.Parse(date.Groups[part].Value, NumberStyles.None, CultureInfo.InvariantCulture);

    private static LocalDateTime? Local(Match date, bool monthFirst)
    {
        var (month, day) = monthFirst ? (Number(date, "a"), Number(date, "b")) : (Number(date, "b"), Number(date, "a"));
        var year = Number(date, "y") is var y && y < 100 ? 2000 + y : y;
        var (hour, minute, second) = (Number(date, "h"), Number(date, "m"), date.Groups["s"].Success ? Number(date, "s") : 0);
        if (date.Groups["half"] is { Success: true } half)
        {
            if (hour is < 1 or > 12) return null;
            hour = hour % 12 + (half.Value[0] is 'p' or 'P' ? 12 : 0);
        }
        if (month is < 1 or > 12 || hour > 23 || minute > 59 || second > 59 || year is < 1900 or > 2200
            || day < 1 || day > CalendarSystem.Iso.GetDaysInMonth(year, month)) return null;
        return new LocalDateTime(year, month, day, hour, minute, second);
    }

    [GeneratedRegex(@"^(?<a>\d{1,2})[/.\-](?<b>\d{1,2})[/.\-](?<y>\d{4}|\d{2})[ ,T]+(?<h>\d{1,2}):(?<m>\d{2})(?::(?<s>\d{2}))?\s*(?<half>[AaPp]\.?[Mm]\.?)?$",
        RegexOptions.CultureInvariant)]
    private static partial Regex Written();
}
