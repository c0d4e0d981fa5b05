using System.Text;
using NodaTime;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;

namespace Tanksophos.Core.Formats;

/// <summary>A measured hour of a channel of a device.</summary>
/// <param name="Device">The device.</param>
/// <param name="Channel">What it measured.</param>
/// <param name="Hour">Its first moment.</param>
/// <param name="Least">Least value.</param>
/// <param name="Mean">Mean.</param>
/// <param name="Most">Greatest value.</param>
public sealed record PackagedHour(string Device, string Channel, Instant Hour, double Least, double Mean, double Most);

/// <summary>
/// A rig for those who analyze: plain tables, each with a JSON Schema of a line of it. The tables are for reading; the logbook document is what can be brought
/// back whole.
/// </summary>
public static class DataPackage
{
    private sealed record Column(string Name, string Type, string Words, IReadOnlyList<string>? OneOf = null);

    private sealed record Table(string Name, string Words, IReadOnlyList<Column> Columns, IEnumerable<string?[]> Lines);

    /// <summary>The files, by name, in an order that a person would read them in.</summary>
    /// <param name="logbook">The rig and its whole log.</param>
    /// <param name="belief">What is believed about it now.</param>
    /// <param name="looks">Each tank's looks beside what was expected.</param>
    /// <param name="hours">What devices measured, by the hour.</param>
    public static IReadOnlyList<(string Name, byte[] Content)> Files(Logbook logbook, LevelBelief belief, IEnumerable<Hindsight> looks,
        IEnumerable<PackagedHour> hours)
    {
        ArgumentNullException.ThrowIfNull(logbook);
        ArgumentNullException.ThrowIfNull(belief);
        ArgumentNullException.ThrowIfNull(hours);
        ArgumentNullException.ThrowIfNull(looks);
        var tables = Tables(logbook, belief, looks, hours);
        var files = new List<(string, byte[])> { ("README.txt", Readme(logbook, tables)), ("rig.json", RigCodec.Write(logbook.Rig)) };
        foreach (var table in tables)
        {
            files.Add(($"{table.Name}.csv", CsvTable.Write([.. table.Columns.Select(c => c.Name)], table.Lines)));
            files.Add(($"schema/{table.Name}.schema.json", Schema(table)));
        }
        return files;
    }

    private static List<Table> Tables(Logbook logbook, LevelBelief belief, IEnumerable<Hindsight> looks, IEnumerable<PackagedHour> hours)
    {
        var tanks = logbook.Rig.Tanks.Select(t => t.Id).ToList();
        static string Moment(OffsetDateTime at) => Timestamps.Write(at);
        return
        [
            new Table("entries", "everything in the log, one line an entry; empty where a kind of entry has no such field",
                [.. EntriesCsv.Columns.Select(EntryColumn)], EntriesCsv.Lines(logbook.Entries)),
            new Table("tanks", "the tanks, and what is believed of each now",
            [
                new("tank", "string", "Id of the tank", tanks), new("name", "string", "What its people call it"),
                new("role", "string", "What it holds", ["black", "gray"]), new("capacityL", "number", "Liters it holds to the top"),
                new("p05L", "number", "Liters now, cautious low side (5 %)"), new("p50L", "number", "Liters now, the middle"),
                new("p95L", "number", "Liters now, cautious high side (95 %)"),
            ], belief.Tanks.Select(t => new[]
            {
                CsvTable.Shielded(t.Tank.Id), CsvTable.Shielded(t.Tank.Name), Rigs.Codes<Rigs.TankRole>.Word(t.Tank.Role), Number(t.Tank.CapacityL),
                Number(t.Level.P05L), Number(t.Level.P50L), Number(t.Level.P95L),
            })),
            new Table("looks", "each time somebody or something saw a level: what was expected before, and what was found",
            [
                new("at", "date-time", "When"), new("tank", "string", "Id of the tank", tanks),
                    new("via", "string", "How it was seen", ["panel", "sight", "meter"]),
                new("expectedL", "number", "Liters expected, the middle"), new("lowL", "number", "Liters expected, low side (5 %)"),
                new("highL", "number", "Liters expected, high side (95 %)"), new("foundL", "number", "Liters found"),
                new("plusMinusL", "number", "How exact the look is, in liters"), new("within", "string", "Whether it was within what was expected",
                    ["yes", "no"]),
            ], HindsightCsv.Lines(looks)),
            new Table("measurements", "what devices measured, by the hour",
            [
                new("device", "string", "Name of the device"), new("channel", "string", "What it measured"),
                    new("hour", "date-time", "First moment of the hour"),
                new("least", "number", "Least value"), new("mean", "number", "Mean"), new("most", "number", "Greatest value"),
            ], hours.Select(h => new[]
            {
                CsvTable.Shielded(h.Device), CsvTable.Shielded(h.Channel), Moment(h.Hour.WithOffset(Offset.Zero)), Number(h.Least), Number(h.Mean),
                    Number(h.Most),
            })),
        ];
    }

    private static Column EntryColumn(string name) => name switch
    {
        "at" => new(name, "date-time", "When it happened"),
        "type" => new(name, "string", "The kind of entry", EntryTypes.All),
        "id" => new(name, "string", "Id of the entry"),
        "tank" => new(name, "string", "Id of the tank meant"),
        "note" => new(name, "string", "Anything else"),
        _ when EntriesCsv.IsNumber(name) => new(name, "number", "As in a logbook document"),
        _ => new(name, "string", "As in a logbook document"),
    };

    private static byte[] Schema(Table table) => Json.Write(w =>
    {
        w.WriteStartObject();
        w.WriteString("$schema", "https://json-schema.org/draft/2020-12/schema");
        w.WriteString("title", table.Name);
        w.WriteString("description", table.Words + ": a line of the table as an object, its empty fields left out");
        w.WriteString("type", "object");
        w.WriteStartObject("properties");
        foreach (var column in table.Columns)
        {
            w.WriteStartObject(column.Name);
            w.WriteString("type", column.Type == "number" ? "number" : "string");
            if (column.Type == "date-time") w.WriteString("format", column.Type);
            if (column.OneOf is { } words) w.Texts("enum", words);
            w.WriteString("description", column.Words);
            w.WriteEndObject();
        }
        w.WriteEndObject();
        w.WriteBoolean("additionalProperties", false);
        w.WriteEndObject();
    }, pretty: true);

    private static byte[] Readme(Logbook logbook, List<Table> tables)
    {
        var text = new StringBuilder($"{logbook.Rig.Name}: its log as plain tables\n\n");
        foreach (var table in tables) text.Append($"{table.Name}.csv\n  {table.Words}\n  Its columns: schema/{table.Name}.schema.json\n\n");
        text.Append("rig.json\n  the rig as in a logbook document\n\nUTF-8; columns separated by commas; liters; times with their offset.\n");
        text.Append("To bring a log back into the program use the logbook document, not these tables.\n");
        return Encoding.UTF8.GetBytes(text.ToString());
    }

    private static string Number(double value) => Math.Round(value, 3).ToString(System.Globalization.CultureInfo.InvariantCulture);
}
