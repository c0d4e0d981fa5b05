using System.Globalization;
using System.Text.Json;
using System.Text.Json.Nodes;
using CsvHelper;
using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Formats;

/// <summary>
/// All entries as a table: one line per entry, one column per field of the logbook document. Lists of words stand in one field with spaces between
/// them (<c>-</c> for an empty list), the cycles of a flush as JSON. What is read becomes the entry's own JSON and goes through the one codec.
/// </summary>
public static class EntriesCsv
{
    // What all entries have, then the fields of each kind in the order of the registry; what came later goes to the end, so that columns keep their places.
    private static readonly string[] CameLater = ["fixture", "used"];

    private static readonly EntryField[] Fields =
    [
        new("id"), new("at"), new("type"), new("tank"),
        .. EntryKinds.All.SelectMany(k => k.Fields).Distinct().OrderBy(f => Array.IndexOf(CameLater, f.Name)), new("note"),
    ];

    private static readonly string[] Needed = ["at", "type"];

    /// <summary>The columns, in the order in which they are written; read in any order.</summary>
    public static IReadOnlyList<string> Columns { get; } = [.. Fields.Select(f => f.Name)];

    /// <summary>Whether a table says of each line what kind of entry it is; a table without that column holds readings only.</summary>
    internal static bool Recognises(string header) => header.Split(',', ';').Any(c => c.Trim().Trim('"').Equals("type", StringComparison.OrdinalIgnoreCase));

    /// <summary>Reads a table for a rig. Errors name the line and the column; nothing is read by halves.</summary>
    /// <param name="utf8">The file.</param>
    /// <param name="rig">The rig whose tanks and probes the table names.</param>
    /// <param name="today">The present day, against which future times are judged; null to accept any.</param>
    public static ReadResult<EntryTable> Read(ReadOnlyMemory<byte> utf8, Rig rig, Instant? today = null)
    {
        ArgumentNullException.ThrowIfNull(rig);
        var ids = new HashSet<string>(StringComparer.Ordinal);
        return CsvTable.Read(utf8, Columns, Needed, "entries", (csv, at, findings) => ReadLine(csv, at, rig, findings, ids, today));
    }

    /// <summary>Writes the entries as such a table, with commas.</summary>
    public static byte[] Write(IEnumerable<LogEntry> entries)
    {
        ArgumentNullException.ThrowIfNull(entries);
        return CsvTable.Write(Columns, Lines(entries));
    }

    /// <summary>The entries line by line, field by field.</summary>
    internal static IEnumerable<string?[]> Lines(IEnumerable<LogEntry> entries) => entries.Select(Line);

    /// <summary>Whether a column holds numbers.</summary>
    internal static bool IsNumber(string column) => Array.Exists(Fields, f => f.Name == column && f.Cell == EntryCell.Number);

    private static string?[] Line(LogEntry entry)
    {
        var line = new string?[Fields.Length];
        using var document = JsonDocument.Parse(EntryCodec.Write(entry));
        for (var i = 0; i < Fields.Length; i++)
        {
            if (!document.RootElement.TryGetProperty(Fields[i].Name, out var value)) continue;
            line[i] = Fields[i].Cell switch
            {
                EntryCell.CodeList => CsvTable.CodeList([.. value.EnumerateArray().Select(v => v.GetString()!)]),
                EntryCell.Text => CsvTable.Shielded(value.GetString()),
                EntryCell.Number or EntryCell.Flag => value.GetRawText(),
                EntryCell.Json => CsvTable.Shielded(value.GetRawText()),
            };
        }
        return line;
    }

    private static LogEntry? ReadLine(CsvReader csv, string at, Rig rig, Findings findings, HashSet<string> ids, Instant? today)
    {
        var json = new JsonObject();
        var ok = true;
        void Error(string column, string message)
        {
            findings.Error($"{at}, {column}", message);
            ok = false;
        }
        foreach (var (name, kind) in Fields)
        {
            if (CsvTable.Field(csv, name) is not { } text) continue;
            if (kind is not (EntryCell.Number or EntryCell.Flag)) text = CsvTable.Unshielded(text)!;
            switch (kind)
            {
                case EntryCell.Number:
                    if (double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out var number) && double.IsFinite(number)) json[name] = number;
                    else Error(name, $"a number with a decimal point is accepted, found '{ObjectReader.Short(text)}'");
                    break;
                case EntryCell.Flag:
                    if (bool.TryParse(text, out var flag)) json[name] = flag;
                    else Error(name, $"true or false is accepted, found '{ObjectReader.Short(text)}'");
                    break;
                case EntryCell.CodeList:
                    if (CsvTable.CodeList(text) is { } words) json[name] = new JsonArray([.. words.Select(w => (JsonNode?)w)]);
                    else Error(name, "words separated by spaces are accepted, - for none");
                    break;
                case EntryCell.Json:
                    try
                    {
                        json[name] = JsonNode.Parse(text, documentOptions: new JsonDocumentOptions { MaxDepth = 8, AllowDuplicateProperties = false });
                    }
                    catch (Exception e) when (e is JsonException or InvalidOperationException) // the latter for half a character
                    {
                        Error(name, "a list in JSON is accepted, such as [{\"seconds\":60,\"end\":\"clear\"}] for cycles");
                    }
                    break;
                default:
                    json[name] = text;
                    break;
            }
        }
        if (!ok) return null;
        var read = EntryCodec.Read(System.Text.Encoding.UTF8.GetBytes(json.ToJsonString()), rig, today);
        foreach (var e in read.Errors) findings.Error(e.Path.Length == 0 ? at : $"{at}, {e.Path}", e.Message);
        foreach (var w in read.Warnings) findings.Warn(w.Path.Length == 0 ? at : $"{at}, {w.Path}", w.Message);
        if (read.Value?.Id is { } id && !ids.Add(id))
        {
            findings.Error($"{at}, id", $"entry id '{ObjectReader.Short(id)}' stands twice: ids must be unique");
            return null;
        }
        return read.Value;
    }
}
