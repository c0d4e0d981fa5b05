using System.Text.Json;
using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Formats;

/// <summary>
/// Reads and writes one log entry as JSON. The one codec of the program: documents, import, export and the database all use it.
/// </summary>
public static class EntryCodec
{
    /// <summary>Longest note in characters.</summary>
    public const int LongestNote = EntryLimits.LongestNote;

    /// <summary>Longest name of a drain.</summary>
    public const int LongestFixture = EntryLimits.LongestFixture;

    /// <summary>Largest volume in an entry in litres; more cannot be meant.</summary>
    public const double MaxLitres = EntryLimits.MaxLitres;

    /// <summary>Longest chore or service in minutes.</summary>
    public const double MaxChoreMinutes = EntryLimits.MaxChoreMinutes;

    /// <summary>Largest cost in the smallest unit of a currency.</summary>
    public const int MaxCostMinor = EntryLimits.MaxCostMinor;

    /// <summary>Most people aboard.</summary>
    public const int MaxPeople = EntryLimits.MaxPeople;

    /// <summary>Writes an entry as compact UTF-8 JSON in the form of the logbook document.</summary>
    public static byte[] Write(LogEntry entry) => Json.Write(w => WriteTo(w, entry));

    /// <summary>Reads one entry that stands alone.</summary>
    /// <param name="utf8">The JSON of the entry.</param>
    /// <param name="rig">Its rig: tanks and probes it names must exist there; null to take any.</param>
    /// <param name="today">The present moment, against which future times are judged; null to accept any.</param>
    public static ReadResult<LogEntry> Read(ReadOnlyMemory<byte> utf8, Rig? rig, Instant? today = null) =>
        Json.Read<LogEntry>(utf8, (root, _) => ReadFrom(root, rig, today));

    /// <summary>Reads one entry, or a list of entries.</summary>
    /// <param name="utf8">A JSON object, or an array of them.</param>
    /// <param name="rig">Their rig.</param>
    /// <param name="most">Most entries accepted.</param>
    /// <param name="today">The present moment, against which future times are judged; null to accept any.</param>
    public static ReadResult<IReadOnlyList<LogEntry>> ReadSeveral(ReadOnlyMemory<byte> utf8, Rig rig, int most, Instant? today = null)
    {
        if (utf8.Span.TrimStart(" \t\r\n"u8) is not [(byte)'[', ..])
        {
            var one = Read(utf8, rig, today);
            return new ReadResult<IReadOnlyList<LogEntry>>(one.Value is { } entry ? [entry] : null, one.Errors, one.Warnings);
        }
        // A list is read as the entries of a document, so that its errors are named the same way.
        var wrapped = new byte[utf8.Length + 12];
        "{\"entries\":"u8.CopyTo(wrapped);
        utf8.Span.CopyTo(wrapped.AsSpan(11));
        wrapped[^1] = (byte)'}';
        return Json.Read<IReadOnlyList<LogEntry>>(wrapped, (root, findings) =>
        {
            var entries = new List<LogEntry>();
            var ids = new HashSet<string>(StringComparer.Ordinal);
            foreach (var o in root.Children("entries"))
            {
                if (entries.Count == most)
                {
                    root.Error("entries", $"at most {most} entries at once are accepted");
                    break;
                }
                if (ReadFrom(o, rig, today) is not { } entry) continue;
                if (entry.Id is { } id && !ids.Add(id)) o.Error("id", $"entry id '{ObjectReader.Short(id)}' stands twice: ids must be unique");
                entries.Add(entry);
            }
            return entries;
        });
    }

    internal static LogEntry? ReadFrom(ObjectReader o, Rig? rig, Instant? today = null)
    {
        var id = o.Text("id", most: 100, blankAllowed: false);
        var at = o.Time("at", required: true);
        if (at is { } moment && today is { } present && moment.ToInstant() > present) FutureTime(moment, present, o.Error, o.Warn);
        var note = o.Text("note", most: LongestNote);
        var type = o.Text("type", required: true);
        if (type is null) return null;
        var kind = EntryKinds.Find(type);
        var entry = kind is null ? Unknown(o, type) : kind.Read(o, rig, at);
        var tank = ReadTank(o, rig, kind?.NeedsTank == true);
        if (kind is not null) o.Done();
        return entry is null ? null : entry with { Id = id, Tank = tank, Note = note };
    }

    internal static void WriteTo(Utf8JsonWriter w, LogEntry entry)
    {
        w.WriteStartObject();
        w.Optional("id", entry.Id);
        w.WriteString("at", Timestamps.Write(entry.At));
        w.WriteString("type", entry.Type);
        w.Optional("tank", entry.Tank);
        EntryKinds.Of(entry).Write(w, entry);
        w.Optional("note", entry.Note);
        w.WriteEndObject();
    }

    /// <summary>A time ahead of the present day: up to a day is taken with a warning (a wrong zone, a clock), more cannot be meant.</summary>
    internal static void FutureTime(OffsetDateTime moment, Instant today, Action<string, string> error, Action<string, string> warn)
    {
        if (moment.ToInstant() > today + Duration.FromDays(1)) error("at", $"lies more than a day in the future: {Timestamps.Write(moment)}");
        else warn("at", $"lies in the future: {Timestamps.Write(moment)}");
    }

    private static string? ReadTank(ObjectReader o, Rig? rig, bool required)
    {
        var tank = o.Text("tank", required: required);
        if (tank is null || rig is null || rig.FindEver(tank) is not null) return tank;
        o.Error("tank", $"unknown tank '{ObjectReader.Short(tank)}': accepted is one of "
            + $"{string.Join(", ", rig.Tanks.Concat(rig.FormerTanks.Select(f => f.Tank)).Select(t => t.Id))}");
        return null;
    }

    private static LogEntry? Unknown(ObjectReader o, string type)
    {
        o.Error("type", $"unknown type '{ObjectReader.Short(type)}': accepted is one of {string.Join(", ", EntryTypes.All)}");
        return null;
    }
}
