using System.Globalization;
using System.Text;
using System.Text.Json;
using System.Text.Unicode;
using CsvHelper;
using CsvHelper.Configuration;
using Tanksophos.Core.Log;

namespace Tanksophos.Core.Formats;

/// <summary>The entries of a table.</summary>
/// <param name="Entries">The entries in the order of the file.</param>
/// <param name="Paths">The line of each: <c>line 3</c>.</param>
public sealed record EntryTable(IReadOnlyList<LogEntry> Entries, IReadOnlyList<string> Paths);

/// <summary>What the tables have in common: comma or semicolon, UTF-8, a header in any order, quoted fields over several lines.</summary>
internal static class CsvTable
{
    /// <summary>Reads a table line by line.</summary>
    /// <param name="utf8">The file.</param>
    /// <param name="columns">The columns known; others are ignored with a warning.</param>
    /// <param name="needed">The columns that must be there.</param>
    /// <param name="what">What its lines are, in the plural.</param>
    /// <param name="readLine">Makes an entry of a line, or reports why not.</param>
    public static ReadResult<EntryTable> Read(ReadOnlyMemory<byte> utf8, IReadOnlyList<string> columns, IReadOnlyList<string> needed, string what,
        Func<CsvReader, string, Findings, LogEntry?> readLine)
    {
        if (utf8.Span.StartsWith(Encoding.UTF8.Preamble)) utf8 = utf8[3..];
        if (Json.IsBlank(utf8.Span)) return Fail("", "the file is empty");
        if (!Utf8.IsValid(utf8.Span) || utf8.Span.Contains((byte)0)) return Fail("", "not a text file in UTF-8");
        var text = Encoding.UTF8.GetString(utf8.Span);
        var separator = Header(text).Contains(';', StringComparison.Ordinal) ? ";" : ",";
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
            if (!CheckHeader(csv.HeaderRecord ?? [], separator, columns, needed, findings)) return findings.Result<EntryTable>(null);
            while (csv.Read())
            {
                var blank = csv.Parser.Record is { } record && record.All(string.IsNullOrWhiteSpace);
                if (!blank && readLine(csv, path, findings) is { } entry)
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
        if (entries.Count == 0 && !findings.AnyErrors) findings.Error("", $"the table has a header and no {what}");
        return findings.Result(new EntryTable(entries, paths));
    }

    /// <summary>Writes a table with commas; null is an empty field.</summary>
    public static byte[] Write(IReadOnlyList<string> columns, IEnumerable<string?[]> lines)
    {
        var text = new StringWriter { NewLine = "\n" };
        using (var csv = new CsvWriter(text, new CsvConfiguration(CultureInfo.InvariantCulture) { NewLine = "\n" }))
        {
            foreach (var line in lines.Prepend([.. columns]))
            {
                foreach (var field in line) csv.WriteField(field ?? "");
                csv.NextRecord();
            }
        }
        return Encoding.UTF8.GetBytes(text.ToString());
    }

    /// <summary>The first line of a table.</summary>
    public static string Header(string text) => text.TrimStart('\uFEFF', '\r', '\n').Split('\n', 2)[0].TrimEnd('\r');

    /// <summary>A field of the line; null if it is blank or the column is not there.</summary>
    public static string? Field(CsvReader csv, string name) => csv.TryGetField<string>(name, out var v) && !string.IsNullOrWhiteSpace(v) ? v.Trim() : null;

    /// <summary>A spreadsheet takes a text that starts like a formula for one; with an apostrophe before it, it stays a text.</summary>
    public static string? Shielded(string? text) => text is not null && LooksLikeFormula(text) ? "'" + text : text;

    /// <summary>The text without the apostrophe that <see cref="Shielded"/> put before it.</summary>
    public static string? Unshielded(string? text) => text is ['\'', ..] && LooksLikeFormula(text) ? text[1..] : text;

    /// <summary>Several words in one field, with spaces between them and <c>-</c> for none; as a JSON list where a word itself has a space in it.</summary>
    public static string CodeList(IReadOnlyList<string> words) =>
        words.Count == 0 ? "-" : Shielded(words.Any(w => w.Length == 0 || w == "-" || w[0] == '[' || w.Any(char.IsWhiteSpace))
            ? JsonSerializer.Serialize(words) : string.Join(' ', words))!;

    /// <summary>The words of such a field; null if it is a list that cannot be read.</summary>
    public static IReadOnlyList<string>? CodeList(string field)
    {
        if (field == "-") return [];
        if (!field.StartsWith('[')) return field.Split(' ', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
        try
        {
            return JsonSerializer.Deserialize<string[]>(field) is { } words && words.All(w => w is not null) ? words : null;
        }
        catch (Exception e) when (e is JsonException or InvalidOperationException)
        {
            return null;
        }
    }

    private static bool LooksLikeFormula(string text) => text.TrimStart('\'') is ['=' or '+' or '-' or '@' or '\t' or '\r', _, ..];

    private static bool CheckHeader(string[] header, string separator, IReadOnlyList<string> columns, IReadOnlyList<string> needed, Findings findings)
    {
        var known = columns.Select(c => c.ToLowerInvariant()).ToList();
        var names = header.Select(h => h.Trim().ToLowerInvariant()).ToList();
        var missing = needed.Where(n => !names.Contains(n)).ToList();
        if (missing.Count > 0)
        {
            var hint = names.Count == 1 ? " (columns are separated by commas or semicolons; another separator is not accepted)" : "";
            findings.Error("line 1", $"the header lacks {string.Join(", ", missing)}: accepted is {string.Join(separator, columns)}{hint}");
            return false;
        }
        if (names.GroupBy(n => n).FirstOrDefault(g => g.Count() > 1 && known.Contains(g.Key)) is { } twice)
        {
            findings.Error("line 1", $"the column '{twice.Key}' stands twice");
            return false;
        }
        foreach (var extra in names.Where(n => n.Length > 0 && !known.Contains(n)).Distinct())
            findings.Warn("line 1", $"unknown column '{ObjectReader.Short(extra)}' is ignored");
        return true;
    }

    private static ReadResult<EntryTable> Fail(string path, string message) => ReadResult<EntryTable>.Fail(path, message);
}
