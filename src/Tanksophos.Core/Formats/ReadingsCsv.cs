using System.Globalization;
using System.Text;
using System.Text.Unicode;
using CsvHelper;
using CsvHelper.Configuration;
using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Formats;

/// <summary>Readings as a table: header <c>at,tank,via,lit,percent,fraction,note</c>, comma or semicolon, UTF-8.</summary>
public static class ReadingsCsv
{
    /// <summary>The columns, in the order in which they are written; read in any order.</summary>
    public static IReadOnlyList<string> Columns { get; } = ["at", "tank", "via", "lit", "percent", "fraction", "note"];

    private static readonly string[] Needed = ["at", "tank", "via"];

    /// <summary>The readings of a table.</summary>
    /// <param name="Entries">The readings in the order of the file.</param>
    /// <param name="Paths">The line of each: <c>line 3</c>.</param>
    public sealed record Table(IReadOnlyList<LogEntry> Entries, IReadOnlyList<string> Paths);

    /// <summary>Reads a table for a rig. Errors name the line and the column; nothing is read by halves.</summary>
    /// <param name="utf8">The file.</param>
    /// <param name="rig">The rig whose tanks and probes the table names.</param>
    /// <param name="today">The present day, against which future times are judged; null to accept any.</param>
    public static ReadResult<Table> Read(ReadOnlyMemory<byte> utf8, Rig rig, Instant? today = null)
    {
        ArgumentNullException.ThrowIfNull(rig);
        if (utf8.Span.StartsWith(Encoding.UTF8.Preamble)) utf8 = utf8[3..];
        if (Json.IsBlank(utf8.Span)) return Fail("", "the file is empty");
        if (!Utf8.IsValid(utf8.Span) || utf8.Span.Contains((byte)0)) return Fail("", "not a text file in UTF-8");
        var text = Encoding.UTF8.GetString(utf8.Span);
        var header = text.TrimStart('\r', '\n').Split('\n', 2)[0].TrimEnd('\r');
        var separator = header.Contains(';', StringComparison.Ordinal) ? ";" : ",";
        var findings = new Findings();
        var entries = new List<LogEntry>();
        var paths = new List<string>();
        var path = "line 1"; // where the record at hand starts; it may run over several lines
        try
        {
            using var csv = new CsvReader(new StringReader(text), new CsvConfiguration(CultureInfo.InvariantCulture)
            {
                Delimiter = separator,
                TrimOptions = TrimOptions.Trim,
                BadDataFound = a => throw new BadDataException(a.Field, a.RawRecord, a.Context, "quotes"),
                MissingFieldFound = null,
                IgnoreBlankLines = false,
                PrepareHeaderForMatch = a => (a.Header ?? "").Trim().ToLowerInvariant(),
            });
            csv.Read();
            csv.ReadHeader();
            path = $"line {csv.Parser.RawRow + 1}";
            if (!CheckHeader(csv.HeaderRecord ?? [], separator, findings)) return findings.Result<Table>(null);
            while (csv.Read())
            {
                var blank = csv.Parser.Record is { } record && record.All(string.IsNullOrWhiteSpace);
                if (!blank && ReadLine(csv, path, rig, findings, today) is { } entry)
                {
                    entries.Add(entry);
                    paths.Add(path);
                }
                path = $"line {csv.Parser.RawRow + 1}";
            }
        }
        catch (CsvHelperException)
        {
            return Fail(path, "a quoted field does not end, or a quote stands inside a field without being doubled");
        }
        if (entries.Count == 0 && !findings.AnyErrors) findings.Error("", "the table has a header and no readings");
        return findings.Result(new Table(entries, paths));
    }

    /// <summary>Writes the readings among the entries as such a table, with commas. Other entries are left out, and so is the stated range of a look.</summary>
    public static byte[] Write(IEnumerable<LogEntry> entries)
    {
        ArgumentNullException.ThrowIfNull(entries);
        var text = new StringWriter { NewLine = "\n" };
        using (var csv = new CsvWriter(text, new CsvConfiguration(CultureInfo.InvariantCulture) { NewLine = "\n" }))
        {
            foreach (var column in Columns) csv.WriteField(column);
            csv.NextRecord();
            foreach (var r in entries.OfType<ReadingEntry>())
            {
                csv.WriteField(Timestamps.Write(r.At));
                csv.WriteField(r.Tank);
                csv.WriteField(Codes<ReadingVia>.Word(r.Via));
                csv.WriteField(r.Lit is null ? "" : r.Lit.Count == 0 ? "-" : string.Join(' ', r.Lit));
                csv.WriteField(r.Percent?.ToString(CultureInfo.InvariantCulture) ?? "");
                csv.WriteField(r.Fraction?.ToString(CultureInfo.InvariantCulture) ?? "");
                csv.WriteField(r.Note ?? "");
                csv.NextRecord();
            }
        }
        return Encoding.UTF8.GetBytes(text.ToString());
    }

    private static bool CheckHeader(string[] header, string separator, Findings findings)
    {
        var names = header.Select(h => h.Trim().ToLowerInvariant()).ToList();
        var missing = Needed.Where(n => !names.Contains(n)).ToList();
        if (missing.Count > 0)
        {
            var hint = names.Count == 1 ? " (columns are separated by commas or semicolons; another separator is not accepted)" : "";
            findings.Error("line 1", $"the header lacks {string.Join(", ", missing)}: accepted is {string.Join(separator, Columns)}{hint}");
            return false;
        }
        if (names.GroupBy(n => n).FirstOrDefault(g => g.Count() > 1 && Columns.Contains(g.Key)) is { } twice)
        {
            findings.Error("line 1", $"the column '{twice.Key}' stands twice");
            return false;
        }
        foreach (var extra in names.Where(n => n.Length > 0 && !Columns.Contains(n)).Distinct())
            findings.Warn("line 1", $"unknown column '{ObjectReader.Short(extra)}' is ignored");
        return true;
    }

    private static ReadingEntry? ReadLine(CsvReader csv, string at, Rig rig, Findings findings, Instant? today)
    {
        var ok = true;
        string? Field(string name) => csv.TryGetField<string>(name, out var v) && !string.IsNullOrWhiteSpace(v) ? v.Trim() : null;
        void Error(string column, string message)
        {
            findings.Error($"{at}, {column}", message);
            ok = false;
        }
        double? Number(string name, double max)
        {
            if (Field(name) is not { } text) return null;
            if (double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out var v) && v >= 0 && v <= max) return v;
            Error(name, $"a number from 0 to {max.ToString(CultureInfo.InvariantCulture)} with a decimal point is accepted, found '{ObjectReader.Short(text)}'");
            return null;
        }

        if (!Timestamps.TryParse(Field("at"), out var time)) Error("at", $"accepted is {Timestamps.Accepted}, found '{ObjectReader.Short(Field("at") ?? "")}'");
        else if (today is { } present && time.ToInstant() > present) EntryCodec.FutureTime(time, present, Error, (column, message) => findings.Warn($"{at}, {column}", message));
        var tank = rig.Find(Field("tank"));
        if (tank is null) Error("tank", $"unknown tank '{ObjectReader.Short(Field("tank") ?? "")}': accepted is one of {string.Join(", ", rig.Tanks.Select(t => t.Id))}");
        if (!Codes<ReadingVia>.TryParse(Field("via"), out var via)) Error("via", $"accepted is {ObjectReader.OneOf<ReadingVia>()}, found '{ObjectReader.Short(Field("via") ?? "")}'");
        var percent = Number("percent", 100);
        var fraction = Number("fraction", 1);
        IReadOnlyList<string>? lit = Field("lit") switch
        {
            null => null,
            "-" => [],
            var ids => ids.Split(' ', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries),
        };
        var note = Field("note");
        if (note?.Length > EntryCodec.LongestNote) Error("note", $"at most {EntryCodec.LongestNote} characters are accepted");
        if (!ok || tank is null) return null;

        if (via == ReadingVia.Panel)
        {
            if (tank.Monitor.Kind == MonitorKind.Probes && lit is null) Error("lit", "missing: probe ids separated by spaces, - for none lit");
            if (tank.Monitor.Kind == MonitorKind.Percent && percent is null) Error("percent", "missing: a number from 0 to 100");
            if (tank.Monitor.Kind == MonitorKind.None && lit is null && percent is null) Error("lit", "missing: a panel reading needs lit or percent");
        }
        else if (fraction is null) Error("fraction", "missing: a number from 0 to 1");
        if (lit is not null && tank.Monitor.Kind == MonitorKind.Probes)
            foreach (var probe in lit.Where(p => tank.Monitor.Probes.All(x => x.Id != p)))
                Error("lit", $"unknown probe '{ObjectReader.Short(probe)}': accepted is one of {string.Join(", ", tank.Monitor.Probes.Select(p => p.Id))}");
        return ok ? new ReadingEntry { At = time, Tank = tank.Id, Via = via, Lit = lit, Percent = percent, Fraction = fraction, Note = note } : null;
    }

    private static ReadResult<Table> Fail(string path, string message) => ReadResult<Table>.Fail(path, message);
}
