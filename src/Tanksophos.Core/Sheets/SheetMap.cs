using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Sheets;

/// <summary>What a column of a spreadsheet holds.</summary>
public enum SheetColumn
{
    /// <summary>Nothing that is taken.</summary>
    Ignore,

    /// <summary>The day, perhaps with the hour.</summary>
    Date,

    /// <summary>The hour.</summary>
    Time,

    /// <summary>Which tank the line is about.</summary>
    Tank,

    /// <summary>What happened, in words: "dumped, rinsed twice, added enzyme".</summary>
    What,

    /// <summary>What the panel showed or somebody saw: "2/3", "57 %", "full".</summary>
    Level,

    /// <summary>A mark if a tank was dumped.</summary>
    Dumped,

    /// <summary>A mark if a tank was rinsed.</summary>
    Rinsed,

    /// <summary>A treatment, by name or as a mark.</summary>
    Treatment,

    /// <summary>Where the rig was.</summary>
    Place,

    /// <summary>The hookup there.</summary>
    Hookup,

    /// <summary>People aboard.</summary>
    People,

    /// <summary>Anything else worth keeping.</summary>
    Note,
}

/// <summary>What one column holds.</summary>
/// <param name="Kind">What.</param>
/// <param name="Tank">Id of the tank it is about; null for the tank of the line, or for every tank.</param>
public sealed record SheetUse(SheetColumn Kind, string? Tank = null)
{
    /// <summary>As a word: <c>level:black</c>.</summary>
    public string Word => Codes<SheetColumn>.Word(Kind) + (Tank is null ? "" : ":" + Tank);

    /// <summary>Reads such a word; null if it is none or names a tank that the rig has not.</summary>
    public static SheetUse? Parse(string? word, Rig rig)
    {
        ArgumentNullException.ThrowIfNull(rig);
        var parts = (word ?? "").Split(':', 2);
        if (!Codes<SheetColumn>.TryParse(parts[0], out var kind)) return null;
        return parts.Length == 1 ? new SheetUse(kind) : rig.Tanks.Any(t => t.Id == parts[1]) ? new SheetUse(kind, parts[1]) : null;
    }
}

/// <summary>How a spreadsheet is understood.</summary>
/// <param name="Columns">What each column holds.</param>
/// <param name="MonthFirst">Whether the month stands before the day in dates such as 3/4/2026.</param>
/// <param name="Sure">Whether its dates fit in this order only.</param>
/// <param name="UnknownHookup">The hookup at places for which the sheet names none.</param>
public sealed record SheetMap(IReadOnlyList<SheetUse> Columns, bool MonthFirst, bool Sure, Hookup UnknownHookup = Hookup.Full)
{
    // How many lines a guess looks at.
    private const int Looked = 200;

    /// <summary>Guesses what the columns hold, by their names and by what stands in them.</summary>
    /// <param name="table">The spreadsheet.</param>
    /// <param name="rig">The rig whose log it is.</param>
    /// <param name="monthFirst">Whether the month is taken to stand first where no date tells.</param>
    public static SheetMap Guess(SheetTable table, Rig rig, bool monthFirst)
    {
        ArgumentNullException.ThrowIfNull(table);
        ArgumentNullException.ThrowIfNull(rig);
        var columns = table.Columns.Select((name, i) => ByName(name, rig) ?? ByContent(Cells(table, i), rig)).ToList();
        if (columns.TrueForAll(c => c.Kind != SheetColumn.Date))
        {
            // No column is called a date: the one that looks most like one is it.
            var best = Enumerable.Range(0, columns.Count).MaxBy(i => Cells(table, i).Count(SheetDates.LooksLikeDate));
            if (Cells(table, best).Exists(SheetDates.LooksLikeDate)) columns[best] = new SheetUse(SheetColumn.Date);
            else if (columns.FindIndex(c => c.Kind == SheetColumn.Ignore) is >= 0 and var plain && AreDays(Cells(table, plain)))
                columns[plain] = new SheetUse(SheetColumn.Date);
        }
        // Of several days or hours the first counts; a second column is left out rather than mixed in.
        foreach (var once in new[] { SheetColumn.Date, SheetColumn.Time, SheetColumn.Tank, SheetColumn.People, SheetColumn.Hookup, SheetColumn.Place })
            foreach (var again in Enumerable.Range(0, columns.Count).Where(i => columns[i].Kind == once).Skip(1).ToList())
                columns[again] = new SheetUse(SheetColumn.Ignore);
        var dates = columns.FindIndex(c => c.Kind == SheetColumn.Date) is >= 0 and var at ? Cells(table, at, all: true) : [];
        var order = Order(dates);
        return new SheetMap(columns, order ?? monthFirst, order is not null);
    }

    // "5/4" and "5/11" without a year: days where more than the marks of a tank could be meant.
    private static bool AreDays(List<string> cells) => cells.Count(c => SheetDates.Read(c) is not null) * 10 >= cells.Count * 8
        && cells.Exists(c => SheetDates.Read(c) is { First: > MostParts } or { Second: > MostParts });

    // Nobody divides a tank into more.
    private const int MostParts = 4;

    // A number above twelve tells the order; else one order may run steadily through the calendar while the other jumps about.
    private static bool? Order(List<string> dates)
    {
        var read = dates.Select(SheetDates.Read).OfType<SheetDate>().Where(d => d.Fixed is null).ToList();
        if (read.Count == 0) return dates.Exists(SheetDates.LooksLikeDate) ? true : null;
        var (dayFirst, monthFirst) = (read.Exists(d => d.First > 12), read.Exists(d => d.Second > 12));
        if (dayFirst != monthFirst) return monthFirst;
        var (month, day) = (Turns(read, true), Turns(read, false));
        return read.Count >= 6 && Math.Abs(month - day) >= 3 && Math.Min(month, day) == 0 ? month < day : null;
    }

    // How often the dates change between going up and going down.
    private static int Turns(List<SheetDate> dates, bool monthFirst)
    {
        var days = dates.Select(d => d.On(monthFirst, 2000)).OfType<NodaTime.LocalDate>().ToList();
        var steps = days.Zip(days.Skip(1), (a, b) => b.CompareTo(a)).Where(s => s != 0).Select(Math.Sign).ToList();
        return steps.Zip(steps.Skip(1), (a, b) => a != b).Count(turned => turned);
    }

    private static SheetUse? ByName(string name, Rig rig)
    {
        var tanks = SheetWords.Tanks(name, rig);
        if (tanks.Count == 0 && SheetWords.IsFresh(name)) return new SheetUse(SheetColumn.Ignore); // the drinking water
        if (SheetWords.Column(name) is not { } kind)
            return tanks.Count > 0 ? new SheetUse(SheetColumn.Level, tanks is [var only] ? only.Id : null) : null;
        return kind is SheetColumn.Level or SheetColumn.Dumped or SheetColumn.Rinsed or SheetColumn.Treatment && tanks is [var tank]
            ? new SheetUse(kind, tank.Id) : new SheetUse(kind);
    }

    private static SheetUse ByContent(List<string> cells, Rig rig)
    {
        if (cells.Count == 0) return new SheetUse(SheetColumn.Ignore);
        bool Most(Func<string, bool> what) => cells.Count(what) * 10 >= cells.Count * 6;
        if (Most(SheetDates.LooksLikeDate)) return new SheetUse(SheetColumn.Date);
        if (Most(c => SheetDates.Hour(c) is not null)) return new SheetUse(SheetColumn.Time);
        if (Most(c => c.Length <= 20 && SheetWords.Tanks(c, rig).Count > 0 && SheetWords.Deeds(c, rig).Count == 0)) return new SheetUse(SheetColumn.Tank);
        if (Most(c => SheetWords.Hookup(c) is not null)) return new SheetUse(SheetColumn.Hookup);
        if (cells.Count(c => SheetWords.Deeds(c, rig).Count > 0) * 10 >= cells.Count * 3) return new SheetUse(SheetColumn.What);
        if (Most(c => SheetWords.Share(c) is not null && !double.TryParse(c, out _))) return new SheetUse(SheetColumn.Level);
        return new SheetUse(cells.Average(c => c.Length) > 12 ? SheetColumn.Note : SheetColumn.Ignore);
    }

    private static List<string> Cells(SheetTable table, int column, bool all = false) =>
        [.. (all ? table.Rows : table.Rows.Take(Looked)).Select(r => r.Cells[column]).Where(c => c.Length > 0)];
}
