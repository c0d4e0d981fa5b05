using NodaTime;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Sheets;

namespace Tanksophos.Words;

/// <summary>Words of the import.</summary>
public static class ImportWords
{
    /// <summary>How the dates of a table were read.</summary>
    /// <param name="dates">The table.</param>
    /// <param name="style">How the person reads times and dates.</param>
    public static string Dates(DatedTable dates, TimeStyle style)
    {
        ArgumentNullException.ThrowIfNull(dates);
        ArgumentNullException.ThrowIfNull(style);
        return DateRead(dates.Sample, dates.SampleAt, dates.MonthFirst, dates.Sure, style);
    }

    /// <summary>How a date was read.</summary>
    /// <param name="sample">The date as it stood there.</param>
    /// <param name="at">What it was read as.</param>
    /// <param name="monthFirst">In which order.</param>
    /// <param name="sure">Whether only that order fits.</param>
    /// <param name="style">How the person reads times and dates.</param>
    public static string DateRead(string sample, LocalDateTime at, bool monthFirst, bool sure, TimeStyle style)
    {
        ArgumentNullException.ThrowIfNull(style);
        var guess = sure ? "" : $": {(monthFirst ? "month" : "day")} first, a guess";
        return $"“{sample}” is read as {style.Year(at.Date)}, {style.Time(at.TimeOfDay)}{guess}.";
    }

    /// <summary>What a column of a spreadsheet may hold.</summary>
    /// <param name="use">What.</param>
    /// <param name="tank">The tank it is about; null for the tank of the line, or for all.</param>
    public static string Use(SheetColumn use, Tank? tank) => use switch
    {
        SheetColumn.Ignore => "Leave out",
        SheetColumn.Date => "Date",
        SheetColumn.Time => "Time",
        SheetColumn.Tank => "Which tank",
        SheetColumn.What => "What happened, in words",
        SheetColumn.Level => tank is null ? "Level of that tank" : $"Level of {tank.Name}",
        SheetColumn.Dumped => tank is null ? "Dumped (a mark)" : $"{tank.Name} dumped (a mark)",
        SheetColumn.Rinsed => tank is null ? "Rinsed (a mark)" : $"{tank.Name} rinsed (a mark)",
        SheetColumn.Treatment => tank is null ? "Treatment" : $"Treatment in {tank.Name}",
        SheetColumn.Place => "Place",
        SheetColumn.Hookup => "Hookup",
        SheetColumn.People => "People aboard",
        SheetColumn.Note => "Note",
    };

    /// <summary>A few cells of a column, to know it by.</summary>
    /// <param name="cells">The cells.</param>
    public static string Samples(IEnumerable<string> cells) =>
        string.Join(", ", cells.Where(c => c.Length > 0).Distinct().Take(2).Select(c => c.Length <= 24 ? c : c[..24] + "..."));

    /// <summary>The button that reads them the other way round.</summary>
    /// <param name="dates">The table.</param>
    public static string OtherOrder(DatedTable dates)
    {
        ArgumentNullException.ThrowIfNull(dates);
        return dates.MonthFirst ? "No, day first" : "No, month first";
    }
}
