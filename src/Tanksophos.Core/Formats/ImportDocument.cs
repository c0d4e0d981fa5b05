using System.Text;
using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Formats;

/// <summary>A file that a person brings: a logbook document or a table of readings, told apart by what is in it.</summary>
/// <param name="Rig">The rig a logbook describes; null for a table.</param>
/// <param name="Entries">The entries in the order of the file.</param>
/// <param name="Paths">Where each entry stands in the file: <c>entries[3]</c> or <c>line 4</c>.</param>
public sealed record ImportDocument(Rig? Rig, IReadOnlyList<LogEntry> Entries, IReadOnlyList<string> Paths)
{
    /// <summary>Reads a file.</summary>
    /// <param name="content">The file's bytes.</param>
    /// <param name="target">The rig that the entries go to: their tanks and probes must exist there; null to judge them by the rig of the file.</param>
    /// <param name="today">The present day: times up to a day ahead are taken with a warning, later ones are errors.</param>
    public static ReadResult<ImportDocument> Read(ReadOnlyMemory<byte> content, Rig? target, Instant today)
    {
        var text = content.Span.StartsWith(Encoding.UTF8.Preamble) ? content[3..] : content;
        if (Json.IsBlank(text.Span))
            return ReadResult<ImportDocument>.Fail("", "the file is empty: accepted is a logbook document (JSON), a CSV of entries or a CSV of readings");
        if (text.Span.TrimStart(" \t\r\n"u8)[0] is (byte)'{' or (byte)'[')
        {
            return Json.Read(text, (root, findings) =>
                Documents.CheckHead(root, LogbookFormat.Name) && LogbookFormat.ReadBody(root, findings, target, today) is { } read
                    ? new ImportDocument(read.Logbook.Rig, read.Logbook.Entries, read.Paths) : null);
        }
        if (target is null)
            return ReadResult<ImportDocument>.Fail("", "a CSV needs a rig to go to: set the rig up or import its logbook first");
        var table = EntriesCsv.Recognises(CsvTable.Header(Encoding.UTF8.GetString(text.Span[..Math.Min(text.Length, 4000)])))
            ? EntriesCsv.Read(text, target, today) : ReadingsCsv.Read(text, target, today);
        return new ReadResult<ImportDocument>(table.Value is { } t ? new ImportDocument(null, t.Entries, t.Paths) : null, table.Errors, table.Warnings);
    }
}
