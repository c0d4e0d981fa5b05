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
    public const double MostLitres = EntryLimits.MostLitres;

    /// <summary>Most people aboard.</summary>
    public const int MostPeople = EntryLimits.MostPeople;

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
        LogEntry? entry = type switch
        {
            "stay" => o.Code<Hookup>("hookup", true) is var hookup && o.Text("place") is var place && o.Zone("zone") is var zone && hookup is { } h && at is { } t
                ? new StayEntry { At = t, Hookup = h, Place = place, Zone = zone } : null,
            "people" => o.Whole("count", 0, MostPeople, true) is { } n && at is { } t ? new PeopleEntry { At = t, Count = n } : null,
            "valve" => o.Code<ValveState>("state", true) is { } s && at is { } t ? new ValveEntry { At = t, State = s } : null,
            "reading" => ReadReading(o, rig, at),
            "dump" => ReadDump(o, at),
            "flush" => ReadFlush(o, at),
            "water" => ReadWater(o, at),
            "dose" => ReadDose(o, at),
            "drive" => ReadDrive(o, at),
            "odor" => ReadOdor(o, at),
            "symptom" => o.Code<SymptomCode>("code", true) is var code && Fixture(o) is var drain && code is { } c && at is { } t ? new SymptomEntry { At = t, Code = c, Fixture = drain } : null,
            "check" => ReadCheck(o, at),
            "service" => ReadService(o, rig, at),
            _ => Unknown(o, type),
        };
        var tank = ReadTank(o, rig, type);
        if (EntryTypes.All.Contains(type)) o.Done();
        return entry is null ? null : entry with { Id = id, Tank = tank, Note = note };
    }

    internal static void WriteTo(Utf8JsonWriter w, LogEntry entry)
    {
        w.WriteStartObject();
        w.Optional("id", entry.Id);
        w.WriteString("at", Timestamps.Write(entry.At));
        w.WriteString("type", entry.Type);
        w.Optional("tank", entry.Tank);
        switch (entry)
        {
            case StayEntry e:
                w.Optional("place", e.Place);
                w.Code("hookup", e.Hookup);
                w.Optional("zone", e.Zone?.Id);
                break;
            case PeopleEntry e:
                w.WriteNumber("count", e.Count);
                break;
            case ValveEntry e:
                w.Code("state", e.State);
                break;
            case ReadingEntry e:
                w.Code("via", e.Via);
                if (e.Lit is not null) w.Texts("lit", e.Lit);
                w.Optional("percent", e.Percent);
                w.Optional("fraction", e.Fraction);
                w.Optional("plusMinus", e.PlusMinus);
                break;
            case DumpEntry e:
                w.Optional("minutes", e.Minutes);
                w.Code("flow", e.Flow);
                w.Code("end", e.End);
                w.Code("debris", e.Debris);
                w.Optional("volumeL", e.VolumeL);
                break;
            case FlushEntry e:
                w.Code("method", e.Method);
                w.WriteStartArray("cycles");
                foreach (var c in e.Cycles)
                {
                    w.WriteStartObject();
                    w.Optional("seconds", c.Seconds);
                    w.Optional("waterL", c.WaterL);
                    w.Code("end", c.End);
                    w.Code("debris", c.Debris);
                    w.WriteEndObject();
                }
                w.WriteEndArray();
                break;
            case WaterEntry e:
                w.WriteNumber("waterL", e.WaterL);
                w.Code("purpose", e.Purpose);
                break;
            case DoseEntry e:
                w.Code("recipe", e.Recipe);
                w.Optional("amount", e.Amount);
                w.Optional("waterL", e.WaterL);
                if (e.Used.Count == 0) break;
                w.WriteStartArray("used");
                foreach (var u in e.Used)
                {
                    w.WriteStartObject();
                    w.WriteString("product", u.Product);
                    w.WriteNumber("quantity", u.Quantity);
                    w.WriteEndObject();
                }
                w.WriteEndArray();
                break;
            case DriveEntry e:
                w.WriteNumber("hours", e.Hours);
                if (e.Winding is { } winding) w.WriteBoolean("winding", winding);
                break;
            case OdorEntry e:
                w.Code("where", e.Where);
                w.Code("smell", e.Smell);
                if (e.Strength is { } strength) w.WriteNumber("strength", strength);
                w.Texts("when", e.When.Select(Codes<OdorWhen>.Word));
                w.Optional("fixture", e.Fixture);
                break;
            case SymptomEntry e:
                w.Code("code", e.Code);
                w.Optional("fixture", e.Fixture);
                break;
            case CheckEntry e:
                w.Code("code", e.Code);
                w.Code("result", e.Result);
                w.Optional("value", e.Value);
                break;
            case ServiceEntry e:
                w.Code("code", e.Code);
                w.Optional("probe", e.Probe);
                w.Code("grade", e.Grade);
                break;
        }
        w.Optional("note", entry.Note);
        w.WriteEndObject();
    }

    /// <summary>A time ahead of the present day: up to a day is taken with a warning (a wrong zone, a clock), more cannot be meant.</summary>
    internal static void FutureTime(OffsetDateTime moment, Instant today, Action<string, string> error, Action<string, string> warn)
    {
        if (moment.ToInstant() > today + Duration.FromDays(1)) error("at", $"lies more than a day in the future: {Timestamps.Write(moment)}");
        else warn("at", $"lies in the future: {Timestamps.Write(moment)}");
    }

    private static readonly string[] TankNeeded = ["valve", "reading", "dump", "flush", "water", "dose"];

    private static string? ReadTank(ObjectReader o, Rig? rig, string type)
    {
        var tank = o.Text("tank", required: TankNeeded.Contains(type));
        if (tank is null || rig is null || rig.FindEver(tank) is not null) return tank;
        o.Error("tank", $"unknown tank '{ObjectReader.Short(tank)}': accepted is one of {string.Join(", ", rig.Tanks.Concat(rig.FormerTanks.Select(f => f.Tank)).Select(t => t.Id))}");
        return null;
    }

    private static LogEntry? Unknown(ObjectReader o, string type)
    {
        o.Error("type", $"unknown type '{ObjectReader.Short(type)}': accepted is one of {string.Join(", ", EntryTypes.All)}");
        return null;
    }

    private static ReadingEntry? ReadReading(ObjectReader o, Rig? rig, OffsetDateTime? at)
    {
        var via = o.Code<ReadingVia>("via", required: true);
        var tank = rig?.FindEver(o.Has("tank") ? o.Text("tank") : null);
        var onPanel = via == ReadingVia.Panel;
        var monitors = tank is null ? [] : MonitorsEver(tank);
        MonitorKind? kind = monitors.Select(m => m.Kind).Distinct().Count() == 1 ? monitors[0].Kind : null;
        var lit = o.Texts("lit", required: onPanel && kind == MonitorKind.Probes);
        var percent = o.Number("percent", 0, 100, required: onPanel && kind == MonitorKind.Percent);
        var fraction = o.Number("fraction", 0, 1, required: via is ReadingVia.Sight or ReadingVia.Meter);
        var plusMinus = o.Number("plusMinus", 0, 1);
        if (onPanel && tank is not null && kind is null or MonitorKind.None && lit is null && percent is null)
            o.Error("lit", "missing: a panel reading needs lit (lamps) or percent; without a monitor use via sight or meter");
        var probes = monitors.SelectMany(m => m.Probes).Select(p => p.Id).Distinct().ToList();
        if (lit is not null && probes.Count > 0)
        {
            var i = 0;
            foreach (var probe in lit)
            {
                if (!probes.Contains(probe))
                    o.Error($"lit[{i}]", $"unknown probe '{ObjectReader.Short(probe)}': accepted is one of {string.Join(", ", probes)}");
                i++;
            }
        }
        return via is { } v && at is { } t ? new ReadingEntry { At = t, Via = v, Lit = lit, Percent = percent, Fraction = fraction, PlusMinus = plusMinus } : null;
    }

    // What a tank's monitor is, and what it was: entries from before a change stay good.
    private static TankMonitor[] MonitorsEver(Tank tank) => [tank.Monitor, .. tank.FormerMonitors.Select(f => f.Monitor)];

    private static DumpEntry? ReadDump(ObjectReader o, OffsetDateTime? at)
    {
        var minutes = o.Number("minutes", 0, EntryLimits.MostDrainMinutes);
        var flow = o.Code<DumpFlow>("flow");
        var end = o.Code<EndColor>("end");
        var debris = o.Code<Debris>("debris");
        var volume = o.Number("volumeL", 0, MostLitres);
        return at is { } t ? new DumpEntry { At = t, Minutes = minutes, Flow = flow, End = end, Debris = debris, VolumeL = volume } : null;
    }

    private static FlushEntry? ReadFlush(ObjectReader o, OffsetDateTime? at)
    {
        var method = o.Code<FlushMethod>("method", required: true);
        var cycles = new List<FlushCycle>();
        foreach (var c in o.Children("cycles"))
        {
            cycles.Add(new FlushCycle(c.Number("seconds", 0, EntryLimits.MostCycleSeconds), c.Number("waterL", 0, MostLitres), c.Code<EndColor>("end"), c.Code<Debris>("debris")));
            c.Done();
        }
        return method is { } m && at is { } t ? new FlushEntry { At = t, Method = m, Cycles = cycles } : null;
    }

    private static WaterEntry? ReadWater(ObjectReader o, OffsetDateTime? at)
    {
        var litres = o.Number("waterL", 0, MostLitres, required: true);
        var purpose = o.Code<WaterPurpose>("purpose", required: true);
        return litres is { } l && purpose is { } p && at is { } t ? new WaterEntry { At = t, WaterL = l, Purpose = p } : null;
    }

    private const double MostQuantity = 1_000_000;

    private static DoseEntry? ReadDose(ObjectReader o, OffsetDateTime? at)
    {
        var recipe = o.Code<DoseRecipe>("recipe", required: true);
        var amount = o.Text("amount");
        var litres = o.Number("waterL", 0, MostLitres);
        var used = new List<ProductUse>();
        foreach (var u in o.Children("used"))
        {
            if (u.Text("product", required: true, most: 60, blankAllowed: false) is { } product && u.Number("quantity", 0, MostQuantity, required: true, aboveMin: true) is { } quantity) used.Add(new ProductUse(product, quantity));
            u.Done();
        }
        return recipe is { } r && at is { } t ? new DoseEntry { At = t, Recipe = r, Amount = amount, WaterL = litres, Used = used } : null;
    }

    private static DriveEntry? ReadDrive(ObjectReader o, OffsetDateTime? at)
    {
        var hours = o.Number("hours", 0, EntryLimits.MostDriveHours, required: true);
        var winding = o.Flag("winding");
        return hours is { } h && at is { } t ? new DriveEntry { At = t, Hours = h, Winding = winding } : null;
    }

    private static OdorEntry? ReadOdor(ObjectReader o, OffsetDateTime? at)
    {
        var where = o.Code<OdorPlace>("where", required: true);
        var smell = o.Code<Smell>("smell", required: true);
        var strength = o.Whole("strength", 1, 5);
        var when = o.CodeList<OdorWhen>("when");
        var fixture = Fixture(o);
        return where is { } w && smell is { } s && at is { } t ? new OdorEntry { At = t, Where = w, Smell = s, Strength = strength, When = when, Fixture = fixture } : null;
    }

    // An open word, as the fixtures of a tank are.
    private static string? Fixture(ObjectReader o) => o.Text("fixture", most: LongestFixture, blankAllowed: false);

    private static CheckEntry? ReadCheck(ObjectReader o, OffsetDateTime? at)
    {
        var code = o.Code<CheckCode>("code", required: true);
        var result = o.Code<CheckResult>("result", required: true);
        var value = o.Number("value", -1e9, 1e9);
        return code is { } c && result is { } r && at is { } t ? new CheckEntry { At = t, Code = c, Result = r, Value = value } : null;
    }

    private static ServiceEntry? ReadService(ObjectReader o, Rig? rig, OffsetDateTime? at)
    {
        var code = o.Code<ServiceCode>("code", required: true);
        var grade = o.Code<Grade>("grade");
        var probe = o.Text("probe");
        if (probe is not null && rig is not null)
        {
            var tank = rig.FindEver(o.Has("tank") ? o.Text("tank") : null);
            var probes = (tank is null ? [.. rig.Tanks, .. rig.FormerTanks.Select(f => f.Tank)] : (IEnumerable<Tank>)[tank]).SelectMany(MonitorsEver).SelectMany(m => m.Probes).Select(p => p.Id).Distinct().ToList();
            if (!probes.Contains(probe)) o.Error("probe", $"unknown probe '{ObjectReader.Short(probe)}': accepted is {(probes.Count == 0 ? "none, this tank has no probes" : "one of " + string.Join(", ", probes))}");
        }
        return code is { } c && at is { } time ? new ServiceEntry { At = time, Code = c, Probe = probe, Grade = grade } : null;
    }
}
