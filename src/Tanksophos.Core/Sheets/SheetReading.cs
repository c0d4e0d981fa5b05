using NodaTime;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Sheets;

/// <summary>The entries that a spreadsheet tells of.</summary>
/// <param name="Entries">The entries, in the order of time where the sheet has its newest lines on top.</param>
/// <param name="Paths">The line of each: <c>line 3</c>.</param>
/// <param name="Taken">How many lines gave an entry.</param>
/// <param name="Sample">A date as it stood there; empty if none could be read.</param>
/// <param name="SampleAt">What it was read as.</param>
/// <param name="Remarks">What was left out or assumed, by line.</param>
public sealed record SheetEntries(IReadOnlyList<LogEntry> Entries, IReadOnlyList<string> Paths, int Taken, string Sample, LocalDateTime SampleAt,
    IReadOnlyList<Problem> Remarks);

/// <summary>Makes entries of a spreadsheet.</summary>
public static class SheetReading
{
    // Where the sheet tells no hour. A level that was written down and a dump belong to daylight.
    private static readonly LocalTime Noon = new(12, 0);

    // A light counts as meant by a share when they differ by no more than this: people write 33 % or 1/3 for the same light.
    private const double SameMark = 0.06;

    // Down to here a tank counts as emptied: nobody reads a drained tank closer.
    private const double Emptied = 0.1;

    /// <summary>Makes the entries.</summary>
    /// <param name="table">The spreadsheet.</param>
    /// <param name="map">How it is understood.</param>
    /// <param name="rig">The rig whose log it is.</param>
    /// <param name="zone">The zone in which its hours were written.</param>
    /// <param name="now">The present moment; lines of a later day are plans and left out.</param>
    /// <param name="today">The day from which years that nobody wrote are guessed; null for that of <paramref name="now"/>.</param>
    public static SheetEntries Read(SheetTable table, SheetMap map, Rig rig, DateTimeZone zone, Instant now, LocalDate? today = null)
    {
        ArgumentNullException.ThrowIfNull(table);
        ArgumentNullException.ThrowIfNull(map);
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(zone);
        return new Reader(table, map, rig, zone, now, today).Read();
    }

    private sealed class Reader(SheetTable table, SheetMap map, Rig rig, DateTimeZone zone, Instant now, LocalDate? today)
    {
        private readonly List<(LogEntry Entry, int Line)> made = [];
        private readonly List<Problem> remarks = [.. table.Remarks];
        private readonly List<SheetColumn> kinds = [.. map.Columns.Select(c => c.Kind)];
        private readonly HashSet<string> saidOnce = new(StringComparer.Ordinal);
        private string place = "";
        private Hookup? hookup;
        private int? people;
        private string sample = "";
        private LocalDateTime sampleAt;

        public SheetEntries Read()
        {
            var taken = 0;
            foreach (var (row, day) in Dated())
            {
                var before = made.Count;
                Line(row, day);
                if (made.Count > before) taken++;
                else if (row.Cells.Where((_, i) => map.Columns[i].Kind is SheetColumn.What or SheetColumn.Note).Any(c => c.Length > 0))
                    remarks.Add(new Problem($"line {row.Line}", $"nothing recognized in '{Short(Text(row, SheetColumn.What, SheetColumn.Note))}'; left out"));
            }
            return new SheetEntries([.. made.Select(m => m.Entry)], [.. made.Select(m => $"line {m.Line}")], taken, sample, sampleAt, remarks);
        }

        // Lines with their dates, oldest first; a blank date is that of the line above.
        private List<(SheetRow Row, LocalDateTime At)> Dated()
        {
            var at = Index(SheetColumn.Date);
            if (at < 0)
            {
                remarks.Add(new Problem("", "no column has a date: choose the one that does"));
                return [];
            }
            var lastDay = now.InZone(zone).Date;
            var (dates, days) = Days(at, today ?? lastDay);
            var dated = new List<(SheetRow Row, LocalDateTime At)>();
            for (var i = 0; i < table.Rows.Count; i++)
            {
                var row = table.Rows[i];
                var cell = row.Cells[at];
                if (days[i] is not { } day)
                {
                    remarks.Add(new Problem($"line {row.Line}", cell.Length == 0 ? "no date; left out"
                        : $"'{Short(cell)}' isn't a date, so the line is left out"));
                    continue;
                }
                if (day > lastDay.PlusDays(1))
                {
                    remarks.Add(new Problem($"line {row.Line}", "in the future; left out"));
                    continue;
                }
                var hour = dates[i]?.Time ?? (Index(SheetColumn.Time) is >= 0 and var t ? SheetDates.Hour(row.Cells[t]) : null);
                if (hour is null) Once("hour", "", "lines without a time count as noon");
                dated.Add((row, day + (hour ?? Noon)));
                if (sample.Length == 0 && dates[i] is not null) (sample, sampleAt) = (cell, day + (hour ?? Noon));
            }
            if (Falls([.. dated.Select(d => d.At.Date)])) dated.Reverse(); // the newest line is on top
            return dated;
        }

        // Each line's day. Where no year was written it is the one that brings the day nearest to its neighbor's; where none was written at all, the newest
        // day is of the year in the sheet's title, or the last of its kind that has been.
        private (SheetDate?[] Dates, LocalDate?[] Days) Days(int column, LocalDate newest)
        {
            var dates = table.Rows.Select(r => SheetDates.Read(r.Cells[column])).ToArray();
            var days = dates.Select(d => d is { Year: not null } ? d.On(map.MonthFirst, 0) : null).ToArray();
            var known = Array.FindIndex(days, d => d is not null);
            if (known < 0)
            {
                var rough = dates.Select(d => d?.On(map.MonthFirst, LeapYear)).ToArray();
                known = Falls([.. rough.OfType<LocalDate>()]) ? Array.FindIndex(rough, d => d is not null) : Array.FindLastIndex(rough, d => d is not null);
                if (known < 0) return (dates, days);
                days[known] = table.Year is { } titled ? dates[known]!.On(map.MonthFirst, titled)
                    : dates[known]!.On(map.MonthFirst, newest.Year) is { } d && d <= newest ? d : dates[known]!.On(map.MonthFirst, newest.Year - 1);
            }
            for (var i = known - 1; i >= 0; i--) days[i] ??= Near(dates[i], days[i + 1]);
            for (var i = known + 1; i < days.Length; i++)
                days[i] ??= dates[i] is null && table.Rows[i].Cells[column].Length == 0 ? days[i - 1]
                    : Near(dates[i], days[i - 1] ?? days[..i].LastOrDefault(d => d is not null));
            // A line above the first date that has none of its own stays without.
            return (dates, days);
        }

        private const int LeapYear = 2024;

        private LocalDate? Near(SheetDate? date, LocalDate? neighbor) =>
            date is null || neighbor is not { } near ? null
            : new[] { near.Year - 1, near.Year, near.Year + 1 }.Select(y => date.On(map.MonthFirst, y)).OfType<LocalDate>()
                .OrderBy(d => Math.Abs(Period.DaysBetween(d, near))).Select(d => (LocalDate?)d).FirstOrDefault();

        private static bool Falls(List<LocalDate> days) => days.Zip(days.Skip(1), (a, b) => b.CompareTo(a)).Sum(Math.Sign) < 0;

        private void Line(SheetRow row, LocalDateTime local)
        {
            var at = NotAfterNow(local.InZoneLeniently(zone));
            var about = Text(row, SheetColumn.Tank);
            var tanks = SheetWords.Tanks(about, rig);
            if (about.Length > 0 && tanks.Count == 0)
            {
                // The drinking water, or a tank that the rig has not: not a word of it may count for the waste tanks.
                remarks.Add(new Problem($"line {row.Line}", $"'{Short(about)}' isn't a waste tank of this rig, so the line is left out"));
                return;
            }
            var start = made.Count;
            Around(row, at);
            var first = made.Count;
            for (var i = 0; i < row.Cells.Count; i++)
            {
                if (kinds[i] != SheetColumn.Level || row.Cells[i].Length == 0) continue;
                if (EmptiedBetween(row, i) is { Count: > 0 } emptied) Deed(row, new SheetDeed(SheetDeedKind.Dump, emptied), emptied, at);
                // "PM Black" in a line without an hour.
                var then = local.TimeOfDay == Noon && SheetWords.DaypartOf(table.Columns[i]) is { } part && SheetDates.Hour(part) is { } hour
                    ? NotAfterNow((local.Date + hour).InZoneLeniently(zone)) : at;
                Level(row, WithUnit(row.Cells[i], table.Columns[i]), Of(i, tanks), then, table.Columns[i]);
            }
            if (EachLineIsADump)
            {
                Once("each", table.Columns[Index(SheetColumn.Date)], "each line counts as a dump");
                var dumped = Of(Index(SheetColumn.Date), tanks);
                Deed(row, new SheetDeed(SheetDeedKind.Dump, dumped), dumped, at);
            }
            Marks(row, tanks, at);
            var text = What(row);
            var there = made.Skip(first).Select(m => m.Entry).ToList();
            var last = text.Length > 0 ? at : there.Select(e => e.At).Append(at).MaxBy(t => t.ToInstant()); // "dumped after dinner"
            var deeds = SheetWords.Deeds(text.Length > 0 ? text : Text(row, SheetColumn.Note), rig);
            foreach (var deed in Named(deeds))
                if (text.Length > 0 || there.Count == 0 || !Told(deed, there))
                    Deed(row, deed, deed.Tanks.Count > 0 ? deed.Tanks : tanks.Count > 0 ? tanks : Noted(row, deed), last);
            // "2/3" as what happened.
            if (deeds.Count == 0 && tanks is [_] && made.Count == first && SheetWords.Share(text) is not null) Level(row, text, tanks, at, "");
            DumpBeforeEmpty(first);
            var all = Text(row, SheetColumn.What, SheetColumn.Note);
            if (SheetWords.TellsOfGas(all))
                remarks.Add(new Problem($"line {row.Line}", "mentions gas: kept as a note only. If it isn't resolved, log it on Today"));
            Note(row, made.Count > first ? first : start, all, deeds.Count > 0 ? text : "");
        }

        private OffsetDateTime NotAfterNow(ZonedDateTime at) => (at.ToInstant() > now ? now.InZone(zone) : at).ToOffsetDateTime();

        // "Date dumped", and nothing else that tells of dumps.
        private bool EachLineIsADump => SheetWords.TellsOfDumps(table.Columns[Index(SheetColumn.Date)])
            && Index(SheetColumn.Dumped) < 0 && Index(SheetColumn.What) < 0;

        // "Black before" was two thirds and "Black after" is empty: it was dumped in between.
        private IReadOnlyList<Tank> EmptiedBetween(SheetRow row, int after)
        {
            if (!SheetWords.IsAfter(table.Columns[after]) || SheetWords.Share(row.Cells[after]) is not <= Emptied) return [];
            var tanks = Of(after, []);
            for (var i = 0; i < after; i++)
                if (kinds[i] == SheetColumn.Level && SheetWords.IsBefore(table.Columns[i]) && Of(i, []).SequenceEqual(tanks)
                    && SheetWords.Share(row.Cells[i]) > Emptied) return tanks;
            return [];
        }

        // What happened; "Dump" beside "black and gray" is one sentence.
        private string What(SheetRow row)
        {
            var cells = row.Cells.Where((c, i) => c.Length > 0 && kinds[i] == SheetColumn.What).ToList();
            return cells is [{ Length: <= ShortWord } word, _, ..] && !word.Any(char.IsPunctuation) ? string.Join(' ', cells) : string.Join("; ", cells);
        }

        private const int ShortWord = 16;

        // Whether levels and marks tell already what a note beside them tells.
        private static bool Told(SheetDeed deed, List<LogEntry> there) => deed.Kind switch
        {
            SheetDeedKind.Dump => there.Exists(e => e is DumpEntry),
            SheetDeedKind.Rinse => there.Exists(e => e is FlushEntry),
            SheetDeedKind.Dose => there.Exists(e => e is DoseEntry),
            SheetDeedKind.Smell or SheetDeedKind.Symptom => false,
            _ => true,
        };

        // Who writes "empty, dumped" in one line read it afterwards.
        private void DumpBeforeEmpty(int first)
        {
            for (var i = made.Count - 1; i >= first; i--)
            {
                if (made[i].Entry is not ReadingEntry { Tank: { } tank } reading || !IsEmpty(reading)) continue;
                var dump = made.FindIndex(i + 1, m => m.Entry is DumpEntry d && d.Tank == tank && d.At == reading.At);
                if (dump < 0) continue;
                made.Insert(dump + 1, made[i]);
                made.RemoveAt(i);
            }
        }

        private static bool IsEmpty(ReadingEntry reading) =>
            reading.Lit is { Count: 0 } || reading.Percent <= Emptied * 100 || reading.Fraction <= Emptied;

        // "20" below "Black (gal)" is gallons.
        private static string WithUnit(string cell, string column) =>
            cell.All(c => char.IsAsciiDigit(c) || c is '.' or ',') && SheetWords.UnitOf(column) is { } unit ? $"{cell} {unit}" : cell;

        // "dump" in one column and "only gray" in the notes.
        private IReadOnlyList<Tank> Noted(SheetRow row, SheetDeed deed) =>
            deed.Kind is SheetDeedKind.Dump or SheetDeedKind.Rinse ? SheetWords.Tanks(Text(row, SheetColumn.Note), rig) : [];

        // "Dumped black, rinsed twice, added enzyme": what names no tank is about the one before it; in "dump + rinse black" about the one after it.
        private static IEnumerable<SheetDeed> Named(IReadOnlyList<SheetDeed> deeds)
        {
            IReadOnlyList<Tank> last = deeds is [{ Kind: SheetDeedKind.Dump, Tanks.Count: 0 }, { Kind: SheetDeedKind.Rinse } rinse, ..] ? rinse.Tanks : [];
            IReadOnlyList<Tank> all = last;
            var dumping = false;
            foreach (var deed in deeds)
            {
                if (deed.Tanks.Count > 0) (last, all) = (deed.Tanks, [.. all.Union(deed.Tanks)]);
                if (deed.Tanks.Count > 0 || deed.Kind is not (SheetDeedKind.Dump or SheetDeedKind.Rinse or SheetDeedKind.Dose or SheetDeedKind.Water))
                    yield return deed;
                else yield return deed with { Tanks = deed.Kind == SheetDeedKind.Dump ? last : BlackOr(dumping ? all : last) }; // "black, then gray, rinsed"
                dumping = deed.Kind == SheetDeedKind.Dump;
            }
        }

        // Where the rig was and with how many: an entry when it changes.
        private void Around(SheetRow row, OffsetDateTime at)
        {
            var here = Text(row, SheetColumn.Place);
            var hooked = Text(row, SheetColumn.Hookup);
            var told = Index(SheetColumn.Hookup) is >= 0 and var column ? SheetWords.Hookup(hooked, table.Columns[column]) : null;
            if (hooked.Length > 0 && told is null) Once("hookup " + hooked, $"line {row.Line}",
                $"'{Short(hooked)}' isn't a hookup we know, so {Hookups} is assumed");
            if (here.Length > 0 && !here.Equals(place, StringComparison.OrdinalIgnoreCase) || told is { } changed && changed != hookup)
            {
                if (here.Length > 0) place = here;
                hookup = told ?? map.UnknownHookup;
                if (told is null && hooked.Length == 0) Once("no hookup", "", $"places without a hookup count as {Hookups}");
                Add(row, new StayEntry { At = at, Place = place.Length == 0 ? null : Cut(place, EntryLimits.LongestName), Hookup = hookup.Value });
            }
            if (int.TryParse(Text(row, SheetColumn.People), out var count) && count is >= 0 and <= EntryLimits.MaxPeople && count != people)
            {
                people = count;
                Add(row, new PeopleEntry { At = at, Count = count });
            }
        }

        private string Hookups => Codes<Hookup>.Word(map.UnknownHookup) + " hookup";

        private void Marks(SheetRow row, IReadOnlyList<Tank> tanks, OffsetDateTime at)
        {
            foreach (var kind in new[] { SheetColumn.Dumped, SheetColumn.Rinsed, SheetColumn.Treatment })
                for (var i = 0; i < row.Cells.Count; i++)
                {
                    if (map.Columns[i].Kind != kind || !SheetWords.Yes(row.Cells[i])) continue;
                    var cell = row.Cells[i];
                    var named = SheetWords.Tanks(cell, rig);
                    var of = map.Columns[i].Tank is null && named.Count > 0 ? named : Of(i, tanks);
                    var then = SheetDates.Hour(cell) is { } hour ? (at.Date + hour).InZoneLeniently(zone).ToOffsetDateTime() : at;
                    foreach (var when in DaysIn(cell, at) ?? [then]) Deed(row, kind switch
                    {
                        SheetColumn.Dumped => new SheetDeed(SheetDeedKind.Dump, of),
                        SheetColumn.Rinsed => new SheetDeed(SheetDeedKind.Rinse, of)
                        {
                            Method = SheetWords.Method(cell, rig),
                            Times = int.TryParse(cell, out var n) ? Math.Clamp(n, 1, 10) : 1,
                        },
                        _ => new SheetDeed(SheetDeedKind.Dose, of)
                        {
                            Recipe = SheetWords.Recipe(cell) ?? SheetWords.Recipe(table.Columns[i]) ?? DoseRecipe.Other,
                        },
                    }, of, when);
                }
        }

        // Days instead of a mark: "6/26/2025, 7/2/2025" below "Black dumped".
        private List<OffsetDateTime>? DaysIn(string cell, OffsetDateTime line)
        {
            var days = cell.Split([',', ';', '&', '+'], StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)
                .Select(part => (Date: SheetDates.Read(part), Day: Near(SheetDates.Read(part), line.Date))).ToList();
            return days.Count == 0 || days.Exists(d => d.Date is null || d.Day is null || SheetDates.Hour(cell) is not null) ? null
                : [.. days.Select(d => NotAfterNow((d.Day!.Value + (d.Date!.Time ?? Noon)).InZoneLeniently(zone)))];
        }

        // The tanks that a column is about: the one it was taken for, those of the line, or those that its name means. "Gray" of two grays is both, and never
        // the black one.
        private IReadOnlyList<Tank> Of(int column, IReadOnlyList<Tank> line) => map.Columns[column].Tank is { } id ? [.. rig.Tanks.Where(t => t.Id == id)]
            : line.Count > 0 ? line : SheetWords.Tanks(table.Columns[column], rig);

        private void Deed(SheetRow row, SheetDeed deed, IReadOnlyList<Tank> tanks, OffsetDateTime at)
        {
            switch (deed.Kind)
            {
                case SheetDeedKind.Dump:
                    if (tanks.Count == 0) Once("dump", $"line {row.Line}", "a dump with no tank named counts for all tanks");
                    foreach (var tank in tanks.Count > 0 ? tanks : rig.Tanks)
                        if (!IsDumped(row, tank, at))
                            Add(row, new DumpEntry { At = at, Tank = tank.Id });
                    break;
                case SheetDeedKind.Rinse:
                    foreach (var tank in tanks.Count > 0 ? tanks : Blacks)
                        Add(row, new FlushEntry
                        {
                            At = at,
                            Tank = tank.Id,
                            Method = deed.Method,
                            Cycles = [.. Enumerable.Repeat(new FlushCycle(null, null, null, null), deed.Times)]
                        });
                    break;
                case SheetDeedKind.Dose:
                    foreach (var tank in Black(tanks)) Add(row, new DoseEntry { At = at, Tank = tank.Id, Recipe = deed.Recipe });
                    break;
                case SheetDeedKind.Water:
                    foreach (var tank in Black(tanks))
                        Add(row, new WaterEntry { At = at, Tank = tank.Id, WaterL = deed.Litres, Purpose = WaterPurpose.Starter });
                    break;
                case SheetDeedKind.Level:
                    Level(row, deed.Text, tanks, at, "");
                    break;
                case SheetDeedKind.Smell:
                    Add(row, new OdorEntry { At = at, Where = deed.Where, Smell = deed.Smell, Tank = null });
                    break;
                case SheetDeedKind.Symptom:
                    var about = tanks.Count > 0 ? tanks : deed.Symptom is SymptomCode.BacksUpOnFlush or SymptomCode.HeapSeen ? Blacks : [];
                    Add(row, new SymptomEntry { At = at, Code = deed.Symptom, Tank = about is [var one] ? one.Id : null });
                    break;
                case SheetDeedKind.Drive when deed.Hours is > 0 and <= EntryLimits.MaxDriveHours:
                    Add(row, new DriveEntry { At = at, Hours = deed.Hours });
                    break;
                case SheetDeedKind.Stay:
                    if (deed.Text.Equals(place, StringComparison.OrdinalIgnoreCase)) break;
                    (place, hookup) = (deed.Text, deed.Hookup ?? map.UnknownHookup);
                    if (deed.Hookup is null) Once("no hookup", "", $"places without a hookup count as {Hookups}");
                    Add(row, new StayEntry { At = at, Place = Cut(place, EntryLimits.LongestName), Hookup = hookup.Value });
                    break;
                case SheetDeedKind.People when deed.Count <= EntryLimits.MaxPeople && deed.Count != people:
                    people = deed.Count;
                    Add(row, new PeopleEntry { At = at, Count = deed.Count });
                    break;
            }
        }

        // Whether the line has said so already, in another column.
        private bool IsDumped(SheetRow row, Tank tank, OffsetDateTime at)
        {
            for (var i = made.Count - 1; i >= 0 && made[i].Line == row.Line; i--)
                if (made[i].Entry is DumpEntry dump && dump.Tank == tank.Id && dump.At == at) return true;
            return false;
        }

        private IReadOnlyList<Tank> Blacks => [.. rig.Tanks.Where(t => t.Role == TankRole.Black)];

        // A treatment goes into the black tank unless somebody says gray.
        private IReadOnlyList<Tank> Black(IReadOnlyList<Tank> tanks) => BlackOr(tanks) is [var only] ? [only] : Blacks;

        // Of "black and gray" it is the black one that was rinsed or treated.
        private static IReadOnlyList<Tank> BlackOr(IReadOnlyList<Tank> tanks) =>
            tanks.Any(t => t.Role == TankRole.Black) ? [.. tanks.Where(t => t.Role == TankRole.Black)] : tanks;

        private void Level(SheetRow row, string cell, IReadOnlyList<Tank> tanks, OffsetDateTime at, string column)
        {
            if (SheetWords.IsDumpLetter(cell, out var before))
            {
                if (before.Length > 0) Level(row, before, tanks, at, column);
                Deed(row, new SheetDeed(SheetDeedKind.Dump, tanks), tanks, at);
                return;
            }
            if (SheetWords.Deeds(cell, rig) is { Count: > 0 } deeds && SheetWords.Share(cell) is null)
            {
                foreach (var deed in deeds) Deed(row, deed, tanks, at); // "dumped" among the levels
                return;
            }
            if (tanks.Count != 1)
            {
                Once("level " + column, column.Length > 0 ? column : $"line {row.Line}",
                    tanks.Count == 0 ? "levels left out: choose which tank this is" : "levels left out: they could be of several tanks, choose one");
                return;
            }
            var tank = tanks[0];
            if (Reading(cell, tank, at) is { } reading) Add(row, reading);
            else if (SheetWords.Yes(cell)) remarks.Add(new Problem($"line {row.Line}", $"'{Short(cell)}' isn't a level of {tank.Name}, so it's left out"));
            if (SheetWords.Share(cell) is not null && SheetWords.Deeds(cell, rig).FirstOrDefault(d => d.Kind == SheetDeedKind.Dump) is { } after)
                Deed(row, after, tanks, at); // "2/3, dumped"
        }

        private static ReadingEntry? Reading(string cell, Tank tank, OffsetDateTime at)
        {
            var monitor = tank.MonitorAt(at.ToInstant());
            if (monitor.Kind == MonitorKind.Probes && Lights(cell, monitor) is { } named)
                return new ReadingEntry { At = at, Tank = tank.Id, Via = ReadingVia.Panel, Lit = named };
            if (SheetWords.Amount(cell) is { } litres && litres <= tank.CapacityL)
                return new ReadingEntry { At = at, Tank = tank.Id, Via = ReadingVia.Sight, Fraction = Math.Round(litres / tank.CapacityL, 3) };
            if (SheetWords.Share(cell) is not { } share) return null;
            if (monitor.Kind == MonitorKind.Percent)
                return new ReadingEntry { At = at, Tank = tank.Id, Via = ReadingVia.Panel, Percent = Math.Round(share * 100, 1) };
            var probes = monitor.Probes;
            if (monitor.Kind == MonitorKind.Probes && (share <= SameMark || share >= 1 - SameMark
                || probes.Any(p => Math.Abs(p.AtFraction - share) <= SameMark)))
                return new ReadingEntry
                {
                    At = at,
                    Tank = tank.Id,
                    Via = ReadingVia.Panel,
                    Lit = [.. probes.Where(p => share > SameMark && (share >= 1 - SameMark || p.AtFraction <= share + SameMark)).Select(p => p.Id)],
                };
            return new ReadingEntry { At = at, Tank = tank.Id, Via = ReadingVia.Sight, Fraction = Math.Round(share, 3) };
        }

        // Lights named one by one, "low mid" or "1/3 2/3"; one alone means all up to it.
        private static List<string>? Lights(string cell, TankMonitor monitor)
        {
            var words = cell.Split([' ', ',', '+', ';'], StringSplitOptions.RemoveEmptyEntries);
            var named = words.Select(w => monitor.Probes.ToList().FindIndex(p => Same(p.Id, w) || Same(p.Label, w))).ToList();
            if (words.Length == 0 || named.Contains(-1)) return null;
            return [.. monitor.Probes.Where((_, i) => named.Count == 1 ? i <= named[0] : named.Contains(i)).Select(p => p.Id)];
        }

        private static bool Same(string a, string b) => a.Equals(b, StringComparison.OrdinalIgnoreCase);

        private void Note(SheetRow row, int first, string all, string understood)
        {
            // A text that is more than the words we took from it is kept with the line's first entry.
            if (made.Count == first || all.Length == 0 || all == understood && understood.Length <= 12) return;
            made[first] = (made[first].Entry with { Note = Cut(all, EntryLimits.LongestNote) }, row.Line);
        }

        private void Add(SheetRow row, LogEntry entry) => made.Add((entry, row.Line));

        private void Once(string key, string path, string message)
        {
            if (saidOnce.Add(key)) remarks.Add(new Problem(path, message));
        }

        private int Index(SheetColumn kind) => kinds.IndexOf(kind);

        private string Text(SheetRow row, params SheetColumn[] wanted) =>
            string.Join("; ", row.Cells.Where((c, i) => c.Length > 0 && wanted.Contains(kinds[i])));

        private static string Cut(string text, int most) => text.Length <= most ? text : text[..most];

        private static string Short(string text) => text.Length <= 40 ? text : text[..40] + "...";
    }
}
