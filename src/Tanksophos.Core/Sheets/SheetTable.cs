using System.Globalization;
using System.IO.Compression;
using System.Text;
using System.Text.RegularExpressions;
using System.Text.Unicode;
using CsvHelper;
using CsvHelper.Configuration;
using ExcelDataReader;
using ExcelDataReader.Exceptions;
using Tanksophos.Core.Formats;

namespace Tanksophos.Core.Sheets;

/// <summary>A line of a spreadsheet.</summary>
/// <param name="Line">Its number in the file, from 1.</param>
/// <param name="Cells">Its cells as texts, as many as there are columns; dates and times of a workbook as ISO 8601 without zone.</param>
public sealed record SheetRow(int Line, IReadOnlyList<string> Cells);

/// <summary>A spreadsheet that somebody kept by hand: whatever separator, with or without a title above its header.</summary>
/// <param name="Columns">The names of its columns; "A", "B", ... where it has no header.</param>
/// <param name="Rows">Its lines, the blank ones left out.</param>
/// <param name="Remarks">What was left out of the file.</param>
public sealed partial record SheetTable(IReadOnlyList<string> Columns, IReadOnlyList<SheetRow> Rows, IReadOnlyList<Problem> Remarks)
{
    /// <summary>The year that a title above the header names; null for none, or for several.</summary>
    public int? Year { get; init; }

    /// <summary>Most lines read.</summary>
    public const int MaxRows = 100_000;

    /// <summary>Most columns read.</summary>
    public const int MaxColumns = 40;

    // What a workbook may unpack to: a small file can hold a sea of nothing.
    private const long MaxUnpacked = 256L << 20;

    private const int MaxCell = 2000, HeaderWithin = 15, SeparatorsWithin = 30;

    private static readonly string[] Separators = [",", ";", "\t", "|"];

    // What files begin with that are no spreadsheets although somebody may take them for one.
    private static readonly (byte[] Start, string What)[] Others =
    [
        ([0xFF, 0xD8, 0xFF], "a photo (JPEG)"), ([0x89, 0x50, 0x4E, 0x47], "a picture (PNG)"), ([0x25, 0x50, 0x44, 0x46], "a PDF"),
        ([0x47, 0x49, 0x46, 0x38], "a picture (GIF)"), ([0x52, 0x49, 0x46, 0x46], "a picture or sound file"),
    ];

    /// <summary>Whether a file is a workbook rather than text.</summary>
    public static bool IsWorkbook(ReadOnlySpan<byte> content) => content is [0x50, 0x4B, 0x03, 0x04, ..] or [0xD0, 0xCF, 0x11, 0xE0, ..];

    /// <summary>Reads a workbook (.xlsx, .xls) or a text table.</summary>
    /// <param name="content">The file.</param>
    /// <returns>The table, or a word about why the file is none.</returns>
    public static ReadResult<SheetTable> Read(ReadOnlyMemory<byte> content)
    {
        foreach (var (start, what) in Others)
            if (content.Span.StartsWith(start)) return Fail($"this is {what}. Words in a picture can't be read: type them into a spreadsheet first");
        if (content.Span.Length > 12 && content.Span[4..8].SequenceEqual("ftyp"u8))
            return Fail("this is a photo or video. Words in a picture can't be read: type them into a spreadsheet first");
        var remarks = new List<Problem>();
        List<SheetRow> rows;
        var header = int.MaxValue;
        if (IsWorkbook(content.Span))
        {
            if (Workbook(content, remarks, out rows) is { } problem) return Fail(problem);
        }
        else if (Text(content) is { } text)
        {
            if (Diary(text) is var (lines, above)) (rows, header) = (lines, above);
            else rows = Split(text);
        }
        else return Fail("this is not a spreadsheet: an Excel workbook (.xlsx, .xls) or a text table (.csv) is accepted");
        if (rows.Count > MaxRows) return Fail($"it has more than {MaxRows} lines: split it");
        rows = [.. rows.Where(r => r.Cells.Any(c => c.Length > 0))];
        if (rows.Count == 0) return Fail(IsWorkbook(content.Span) ? "no cell of this workbook has text in it; pictures in a workbook can't be read"
            : "the file is empty");
        var width = Math.Min(MaxColumns, rows.Max(r => r.Cells.Count));
        if (rows.Exists(r => r.Cells.Count > MaxColumns)) remarks.Add(new Problem("", $"only the first {MaxColumns} columns are read"));
        rows = [.. rows.Select(r => r with { Cells = [.. Enumerable.Range(0, width).Select(i => i < r.Cells.Count ? r.Cells[i] : "")] })];
        var isDiary = header < int.MaxValue;
        if (!isDiary) header = HeaderAt(rows);
        var names = header < 0 || isDiary ? [.. Enumerable.Range(0, width).Select(i => Letter(i))]
            : rows[header].Cells.Select((c, i) => c.Length > 0 ? c : Letter(i)).ToList();
        var title = rows[..Math.Max(0, isDiary ? header + 1 : header)].SelectMany(r => r.Cells);
        var years = title.SelectMany(c => FourDigits().Matches(c)).Select(m => m.Value).Distinct().ToList();
        int? year = years is [var only] ? int.Parse(only, NumberStyles.None, CultureInfo.InvariantCulture) : null;
        rows = rows[(header + 1)..];
        return rows.Count == 0 ? Fail("it has a header and no lines below it")
            : new ReadResult<SheetTable>(new SheetTable(names, rows, remarks) { Year = year }, [], []);
    }

    [GeneratedRegex(@"\b(?:19|20)\d\d\b", RegexOptions.CultureInvariant)]
    private static partial Regex FourDigits();

    private static string Letter(int column) => column < 26 ? ((char)('A' + column)).ToString() : "A" + (char)('A' + column - 26);

    // The header is the first line before any date that names two columns, or the line above the first date.
    private static int HeaderAt(List<SheetRow> rows)
    {
        var first = rows.FindIndex(r => r.Cells.Any(SheetDates.LooksLikeDate));
        var until = first < 0 ? Math.Min(rows.Count, HeaderWithin) : Math.Min(first, HeaderWithin);
        for (var i = 0; i < until; i++)
            if (rows[i].Cells.Count(SheetWords.NamesColumn) >= Math.Min(2, rows[i].Cells.Count)) return i;
        return first is > 0 and <= HeaderWithin && rows[first - 1].Cells.Count(c => c.Length > 0) >= 2 ? first - 1 : -1;
    }

    private static string? Workbook(ReadOnlyMemory<byte> content, List<Problem> remarks, out List<SheetRow> best)
    {
        best = [];
        Encoding.RegisterProvider(CodePagesEncodingProvider.Instance); // old workbooks
        try
        {
            using var stream = new MemoryStream(content.ToArray(), writable: false);
            if (content.Span[0] == 'P')
            {
                using var parts = new ZipArchive(stream, ZipArchiveMode.Read, leaveOpen: true);
                if (parts.Entries.Sum(e => e.Length) > MaxUnpacked)
                    return $"this workbook unpacks to more than {MaxUnpacked >> 20} MB: save only its log as .csv";
                stream.Position = 0;
            }
            using var reader = ExcelReaderFactory.CreateReader(stream);
            var sheets = new List<string>();
            var chosen = "";
            do
            {
                var rows = new List<SheetRow>();
                while (reader.Read() && rows.Count <= MaxRows)
                    rows.Add(new SheetRow(reader.Depth + 1, [.. Enumerable.Range(0, Math.Min(reader.FieldCount, MaxColumns + 1))
                        .Select(i => CellText(reader, i))]));
                var filled = rows.Count(r => r.Cells.Any(c => c.Length > 0));
                if (filled > 0) sheets.Add(reader.Name);
                if (filled > best.Count(r => r.Cells.Any(c => c.Length > 0))) (best, chosen) = (rows, reader.Name);
            }
            while (reader.NextResult());
            if (sheets.Count > 1)
            {
                var others = string.Join(", ", sheets.Where(s => s != chosen).Select(s => $"'{s}'"));
                remarks.Add(new Problem("", $"only the sheet '{chosen}' is read, not {others}"));
            }
            return null;
        }
        catch (Exception e) when (e is ExcelReaderException or InvalidDataException or IOException or ArgumentException or FormatException or OverflowException
            or InvalidOperationException or IndexOutOfRangeException or System.Xml.XmlException or NullReferenceException or KeyNotFoundException)
        {
            return e is InvalidPasswordException ? "this workbook has a password: save it without one"
                : "this workbook can't be read: save it as .xlsx or .csv and try again";
        }
    }

    private static string CellText(IExcelDataReader reader, int column) => Tidy(reader.GetValue(column) switch
    {
        null => "",
        IConvertible moment and IFormattable when moment.GetTypeCode() == TypeCode.DateTime => Moment((IFormattable)moment),
        TimeSpan time => time.ToString(@"hh\:mm", CultureInfo.InvariantCulture),
        double share when reader.GetNumberFormatString(column)?.Contains('%', StringComparison.Ordinal) == true =>
            (share * 100).ToString("0.##", CultureInfo.InvariantCulture) + " %",
        double number => number.ToString("0.######", CultureInfo.InvariantCulture),
        bool yes => yes ? "yes" : "no",
        var other => Convert.ToString(other, CultureInfo.InvariantCulture) ?? "",
    });

    // A day has no hour; an hour alone lies, to a workbook, on a day at the beginning of its time.
    private static string Moment(IFormattable moment)
    {
        var text = moment.ToString("yyyy-MM-dd HH:mm", CultureInfo.InvariantCulture);
        return string.CompareOrdinal(text, "1901") < 0 ? text[11..] : text.EndsWith(" 00:00", StringComparison.Ordinal) ? text[..10] : text;
    }

    private static string Tidy(string text) => (text.Length > MaxCell ? text[..MaxCell] : text).ReplaceLineEndings(" ").Trim();

    private static string? Text(ReadOnlyMemory<byte> content)
    {
        if (content.Span is [0xFF, 0xFE, ..]) return Encoding.Unicode.GetString(content.Span[2..]);
        if (content.Span.Contains((byte)0)) return null;
        return (Utf8.IsValid(content.Span) ? Encoding.UTF8 : Encoding.Latin1).GetString(content.Span).TrimStart('\uFEFF');
    }

    // A diary: lines that begin with a date and go on in words, without columns. Null if the text is none.
    // With the number of the last line above the first date, -1 for none.
    private static (List<SheetRow> Lines, int Title)? Diary(string text)
    {
        var lines = text.Split('\n').Take(MaxRows + 1).Select((l, i) => new SheetRow(i + 1, [Tidy(l)])).Where(r => r.Cells[0].Length > 0).ToList();
        var dated = lines.Where(l => !l.Cells[0].Contains('\t', StringComparison.Ordinal) && SheetDates.Diary(l.Cells[0]) is not null).ToList();
        // Columns have as many commas in every line as in the next.
        if (dated.Count < 2 || dated.Count * 10 < lines.Count * 6 || dated.Select(l => l.Cells[0].Count(c => c is ',' or ';' or '|')).Distinct().Count() == 1
            && dated[0].Cells[0].AsSpan().ContainsAny(",;|")) return null;
        return ([.. lines.Select(l => l with { Cells = SheetDates.Diary(l.Cells[0]) is var (date, said) ? [date, said] : ["", l.Cells[0]] })],
            lines.IndexOf(dated[0]) - 1);
    }

    private static List<SheetRow> Split(string text)
    {
        var lines = text.Split('\n', SeparatorsWithin + 1).Take(SeparatorsWithin).Where(l => !string.IsNullOrWhiteSpace(l)).ToList();
        var separator = Separators.MaxBy(s => lines.Count(l => l.Contains(s, StringComparison.Ordinal)) * 1000 + lines.Sum(l => l.Split(s).Length - 1))!;
        using var csv = new CsvParser(new StringReader(text), new CsvConfiguration(CultureInfo.InvariantCulture)
        {
            Delimiter = separator,
            BadDataFound = null,
            IgnoreBlankLines = false,
        });
        var rows = new List<SheetRow>();
        var line = 1;
        while (csv.Read() && rows.Count <= MaxRows)
        {
            rows.Add(new SheetRow(line, [.. (csv.Record ?? []).Take(MaxColumns + 1).Select(Tidy)]));
            line = csv.RawRow + 1;
        }
        return rows;
    }

    private static ReadResult<SheetTable> Fail(string message) => ReadResult<SheetTable>.Fail("", message);
}
