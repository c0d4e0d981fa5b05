using Tanksophos.Core.Formats;

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
        return $"“{dates.Sample}” is read as {style.Year(dates.SampleAt.Date)}, {style.Time(dates.SampleAt.TimeOfDay)}: "
            + $"{(dates.MonthFirst ? "month" : "day")} first{(dates.Sure ? "" : ", a guess")}.";
    }

    /// <summary>The button that reads them the other way round.</summary>
    /// <param name="dates">The table.</param>
    public static string OtherOrder(DatedTable dates)
    {
        ArgumentNullException.ThrowIfNull(dates);
        return dates.MonthFirst ? "No, day first" : "No, month first";
    }
}
