using System.Globalization;
using CsvHelper;
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

    /// <summary>Reads a table for a rig. Errors name the line and the column; nothing is read by halves.</summary>
    /// <param name="utf8">The file.</param>
    /// <param name="rig">The rig whose tanks and probes the table names.</param>
    /// <param name="today">The present day, against which future times are judged; null to accept any.</param>
    public static ReadResult<EntryTable> Read(ReadOnlyMemory<byte> utf8, Rig rig, Instant? today = null)
    {
        ArgumentNullException.ThrowIfNull(rig);
        return CsvTable.Read(utf8, Columns, Needed, "readings", (csv, at, findings) => ReadLine(csv, at, rig, findings, today));
    }

    /// <summary>Writes the readings among the entries as such a table, with commas. Other entries are left out, and so is the stated range of a look.</summary>
    public static byte[] Write(IEnumerable<LogEntry> entries)
    {
        ArgumentNullException.ThrowIfNull(entries);
        return CsvTable.Write(Columns, entries.OfType<ReadingEntry>().Select(r => new[]
        {
            Timestamps.Write(r.At), CsvTable.Shielded(r.Tank), Codes<ReadingVia>.Word(r.Via), r.Lit is null ? null : CsvTable.CodeList(r.Lit),
            r.Percent?.ToString(CultureInfo.InvariantCulture), r.Fraction?.ToString(CultureInfo.InvariantCulture), CsvTable.Shielded(r.Note),
        }));
    }

    private static ReadingEntry? ReadLine(CsvReader csv, string at, Rig rig, Findings findings, Instant? today)
    {
        var ok = true;
        string? Field(string name) => CsvTable.Unshielded(CsvTable.Field(csv, name));
        void Error(string column, string message)
        {
            findings.Error($"{at}, {column}", message);
            ok = false;
        }
        double? Number(string name, double max)
        {
            if (CsvTable.Field(csv, name) is not { } text) return null;
            if (double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out var v) && v >= 0 && v <= max) return v;
            Error(name, $"a number from 0 to {max.ToString(CultureInfo.InvariantCulture)} with a decimal point is accepted, found "
                + $"'{ObjectReader.Short(text)}'");
            return null;
        }

        if (!Timestamps.TryParse(Field("at"), out var time)) Error("at", $"accepted is {Timestamps.Accepted}, found '{ObjectReader.Short(Field("at") ?? "")}'");
        else if (today is { } present && time.ToInstant() > present)
            EntryCodec.FutureTime(time, present, Error, (column, message) => findings.Warn($"{at}, {column}", message));
        var tank = rig.FindEver(Field("tank"));
        if (tank is null) Error("tank",
            $"unknown tank '{ObjectReader.Short(Field("tank") ?? "")}': accepted is one of {string.Join(", ", rig.Tanks.Select(t => t.Id))}");
        if (!Codes<ReadingVia>.TryParse(Field("via"), out var via))
            Error("via", $"accepted is {ObjectReader.OneOf<ReadingVia>()}, found '{ObjectReader.Short(Field("via") ?? "")}'");
        var percent = Number("percent", 100);
        var fraction = Number("fraction", 1);
        IReadOnlyList<string>? lit = null;
        if (Field("lit") is { } listed && (lit = CsvTable.CodeList(listed)) is null) Error("lit", "probe ids separated by spaces are accepted, - for none lit");
        var note = Field("note");
        if (note?.Length > EntryCodec.LongestNote) Error("note", $"at most {EntryCodec.LongestNote} characters are accepted");
        if (!ok || tank is null) return null;

        var monitor = tank.MonitorAt(time.ToInstant());
        if (via == ReadingVia.Panel)
        {
            if (monitor.Kind == MonitorKind.Probes && lit is null) Error("lit", "missing: probe ids separated by spaces, - for none lit");
            if (monitor.Kind == MonitorKind.Percent && percent is null) Error("percent", "missing: a number from 0 to 100");
            if (monitor.Kind == MonitorKind.None && lit is null && percent is null) Error("lit", "missing: a panel reading needs lit or percent");
        }
        else if (fraction is null) Error("fraction", "missing: a number from 0 to 1");
        if (lit is not null && monitor.Kind == MonitorKind.Probes)
            foreach (var probe in lit.Where(p => monitor.Probes.All(x => x.Id != p)))
                Error("lit", $"unknown probe '{ObjectReader.Short(probe)}': accepted is one of {string.Join(", ", monitor.Probes.Select(p => p.Id))}");
        return ok ? new ReadingEntry { At = time, Tank = tank.Id, Via = via, Lit = lit, Percent = percent, Fraction = fraction, Note = note } : null;
    }
}
