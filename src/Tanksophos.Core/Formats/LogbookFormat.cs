using System.Text.Json;
using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Formats;

/// <summary>The logbook document: a rig and its entries.</summary>
public static class LogbookFormat
{
    /// <summary>The document's <c>format</c> word.</summary>
    public const string Name = "tanksophos-logbook";

    /// <summary>Reads a logbook. Everything wrong in it is listed with its path; nothing is read by halves.</summary>
    /// <param name="utf8">JSON in UTF-8, with or without a byte order mark.</param>
    public static ReadResult<Logbook> Read(ReadOnlyMemory<byte> utf8) => Json.Read(utf8, (root, findings) =>
        Documents.CheckHead(root, Name) ? ReadBody(root, findings)?.Logbook : null);

    /// <summary>Writes a logbook: all arrays present, absent values omitted.</summary>
    public static byte[] Write(Logbook logbook, bool pretty = false)
    {
        ArgumentNullException.ThrowIfNull(logbook);
        return Json.Write(w => WriteTo(w, logbook), pretty);
    }

    internal static (Logbook Logbook, IReadOnlyList<string> Paths)? ReadBody(ObjectReader root, Findings findings, Rig? target = null, Instant? today = null)
    {
        var rig = root.Child("rig", required: true) is { } r ? RigCodec.ReadFrom(r) : null;
        var asOf = root.Time("asOf");
        var entries = new List<LogEntry>();
        var paths = new List<string>();
        var byId = new Dictionary<string, LogEntry>(StringComparer.Ordinal);
        foreach (var o in root.Children("entries", required: true))
        {
            if (EntryCodec.ReadFrom(o, target ?? rig, today) is not { } entry) continue;
            if (entry.Id is { } id && !byId.TryAdd(id, entry))
            {
                if (Same(byId[id], entry)) o.Warn("id", $"entry '{ObjectReader.Short(id)}' stands twice with the same content: counted once");
                else o.Error("id", $"entry id '{ObjectReader.Short(id)}' stands twice with different content: ids must be unique");
                continue;
            }
            entries.Add(entry);
            paths.Add(o.Path);
        }
        root.Done();
        return rig is null || findings.AnyErrors ? null : (new Logbook(rig, entries, asOf), paths);
    }

    /// <summary>Whether two entries say the same, to the letter of the document.</summary>
    public static bool Same(LogEntry a, LogEntry b) => EntryCodec.Write(a).AsSpan().SequenceEqual(EntryCodec.Write(b));

    private static void WriteTo(Utf8JsonWriter w, Logbook logbook)
    {
        w.WriteStartObject();
        WriteFields(w, logbook);
        w.WriteEndObject();
    }

    /// <summary>The fields of the document, for documents that carry more.</summary>
    internal static void WriteFields(Utf8JsonWriter w, Logbook logbook)
    {
        w.WriteString("format", Name);
        w.WriteNumber("version", 1);
        if (logbook.AsOf is { } asOf) w.WriteString("asOf", Timestamps.Write(asOf));
        w.WritePropertyName("rig");
        RigCodec.WriteTo(w, logbook.Rig);
        w.WriteStartArray("entries");
        foreach (var entry in logbook.Entries) EntryCodec.WriteTo(w, entry);
        w.WriteEndArray();
    }
}
