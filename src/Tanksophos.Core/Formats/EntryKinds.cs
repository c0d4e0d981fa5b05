using System.Text.Json;
using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Weather;

namespace Tanksophos.Core.Formats;

/// <summary>How a field of an entry stands in a table.</summary>
internal enum EntryCell { Text, Number, Flag, CodeList, Json }

/// <summary>A field of an entry beside those that all have.</summary>
/// <param name="Name">Its name in documents, and its column in tables.</param>
/// <param name="Cell">How it stands in a table.</param>
internal sealed record EntryField(string Name, EntryCell Cell = EntryCell.Text);

/// <summary>A kind of entry: its word, its fields, and how it is read and written.</summary>
/// <param name="Word">The word of the format.</param>
/// <param name="Type">Its type.</param>
/// <param name="NeedsTank">Whether a tank must be named.</param>
/// <param name="Fields">Its own fields, in the order in which they are written.</param>
/// <param name="Read">Reads them; null after errors.</param>
/// <param name="Write">Writes them.</param>
internal sealed record EntryKind(string Word, Type Type, bool NeedsTank,
    IReadOnlyList<EntryField> Fields, Func<ObjectReader, Rig?, OffsetDateTime?, LogEntry?> Read, Action<Utf8JsonWriter, LogEntry> Write);

/// <summary>
/// All kinds of entries in one place. A kind that is missing here cannot be written at all; a field that is missing is found by a test that fills every
/// property and looks for it in document and table.
/// </summary>
internal static class EntryKinds
{
    /// <summary>The kinds, in the order of the format.</summary>
    public static IReadOnlyList<EntryKind> All { get; } =
    [
        Kind<StayEntry>(false, (o, _, at) => o.Code<Hookup>("hookup", true) is var hookup && o.Text("place") is var place && o.Zone("zone") is var zone
            && hookup is { } h && at is { } t
            ? new StayEntry { At = t, Hookup = h, Place = place, Zone = zone } : null, WriteStay, new("place"), new("hookup"), new("zone")),
        Kind<PeopleEntry>(false, (o, _, at) => o.Whole("count", 0, EntryCodec.MaxPeople, true) is { } n && at is { } t ? new PeopleEntry { At = t, Count = n }
            : null, WritePeople, new EntryField("count", EntryCell.Number)),
        Kind<ValveEntry>(true, (o, _, at) => o.Code<ValveState>("state", true) is { } s && at is { } t ? new ValveEntry { At = t, State = s } : null,
            WriteValve, new EntryField("state")),
        Kind<ReadingEntry>(true, ReadReading, WriteReading, new("via"), new("lit", EntryCell.CodeList), new("percent", EntryCell.Number),
            new("fraction", EntryCell.Number), new("plusMinus", EntryCell.Number), new("ohms", EntryCell.Json),
            new("bayC", EntryCell.Number), new("rising", EntryCell.Flag)),
        Kind<DumpEntry>(true, ReadDump, WriteDump, new("minutes", EntryCell.Number), new("flow"), new("end"), new("debris"), new("volumeL", EntryCell.Number)),
        Kind<FlushEntry>(true, ReadFlush, WriteFlush, new("method"), new("cycles", EntryCell.Json)),
        Kind<WaterEntry>(true, ReadWater, WriteWater, new("waterL", EntryCell.Number), new("purpose")),
        Kind<DoseEntry>(true, ReadDose, WriteDose, new("recipe"), new("amount"), new("waterL", EntryCell.Number), new("used", EntryCell.Json)),
        Kind<DriveEntry>(false, ReadDrive, WriteDrive, new("hours", EntryCell.Number), new("winding", EntryCell.Flag)),
        Kind<OdorEntry>(false, ReadOdor, WriteOdor, new("where"), new("smell"), new("strength", EntryCell.Number), new("when", EntryCell.CodeList),
            new("fixture")),
        Kind<SymptomEntry>(false, (o, _, at) => o.Code<SymptomCode>("code", true) is var code && Fixture(o) is var drain && code is { } c && at is { } t
            ? new SymptomEntry { At = t, Code = c, Fixture = drain } : null, WriteSymptom, new("code"), new("fixture")),
        Kind<CheckEntry>(false, ReadCheck, WriteCheck, new("code"), new("result"), new("value", EntryCell.Number)),
        Kind<ServiceEntry>(false, ReadService, WriteService, new("code"), new("probe"), new("grade"), new("costMinor", EntryCell.Number),
            new("minutes", EntryCell.Number), new("pressureBar", EntryCell.Number), new("floods", EntryCell.Number), new("debris"), new("by"),
            new("frost", EntryCell.Flag)),
        Kind<ChoreEntry>(false, ReadChore, WriteChore, new("chore"), new("result"), new("part"), new("costMinor", EntryCell.Number),
            new("minutes", EntryCell.Number), new("until")),
    ];

    private static readonly Dictionary<string, EntryKind> ByWord = All.ToDictionary(k => k.Word, StringComparer.Ordinal);
    private static readonly Dictionary<Type, EntryKind> ByType = All.ToDictionary(k => k.Type);

    /// <summary>The kind with a word; null if there is none.</summary>
    public static EntryKind? Find(string word) => ByWord.GetValueOrDefault(word);

    /// <summary>The kind of an entry.</summary>
    /// <exception cref="KeyNotFoundException">It is not registered.</exception>
    public static EntryKind Of(LogEntry entry) => ByType[entry.GetType()];

    private static EntryKind Kind<T>(bool needsTank, Func<ObjectReader, Rig?, OffsetDateTime?, T?> read, Action<Utf8JsonWriter, T> write,
        params EntryField[] fields) where T : LogEntry =>
        new(EntryTypes.WordOf(typeof(T)), typeof(T), needsTank, fields, (o, rig, at) => read(o, rig, at), (w, e) => write(w, (T)e));

    private static void WriteStay(Utf8JsonWriter w, StayEntry e)
    {
        w.Optional("place", e.Place);
        w.Code("hookup", e.Hookup);
        w.Optional("zone", e.Zone?.Id);
    }

    private static void WritePeople(Utf8JsonWriter w, PeopleEntry e)
    {
        w.WriteNumber("count", e.Count);
    }

    private static void WriteValve(Utf8JsonWriter w, ValveEntry e)
    {
        w.Code("state", e.State);
    }

    private static void WriteReading(Utf8JsonWriter w, ReadingEntry e)
    {
        w.Code("via", e.Via);
        if (e.Lit is not null) w.Texts("lit", e.Lit);
        w.Optional("percent", e.Percent);
        w.Optional("fraction", e.Fraction);
        w.Optional("plusMinus", e.PlusMinus);
        if (e.Ohms.Count > 0)
        {
            w.WriteStartArray("ohms");
            foreach (var at in e.Ohms)
            {
                w.WriteStartObject();
                w.WriteString("probe", at.Probe);
                w.WriteNumber("ohms", at.Ohms);
                w.WriteEndObject();
            }
            w.WriteEndArray();
        }
        w.Optional("bayC", e.BayC);
        w.Optional("rising", e.Rising);
    }

    private static void WriteDump(Utf8JsonWriter w, DumpEntry e)
    {
        w.Optional("minutes", e.Minutes);
        w.Code("flow", e.Flow);
        w.Code("end", e.End);
        w.Code("debris", e.Debris);
        w.Optional("volumeL", e.VolumeL);
    }

    private static void WriteFlush(Utf8JsonWriter w, FlushEntry e)
    {
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
    }

    private static void WriteWater(Utf8JsonWriter w, WaterEntry e)
    {
        w.WriteNumber("waterL", e.WaterL);
        w.Code("purpose", e.Purpose);
    }

    private static void WriteDose(Utf8JsonWriter w, DoseEntry e)
    {
        w.Code("recipe", e.Recipe);
        w.Optional("amount", e.Amount);
        w.Optional("waterL", e.WaterL);
        if (e.Used.Count == 0) return;
        w.WriteStartArray("used");
        foreach (var u in e.Used)
        {
            w.WriteStartObject();
            w.WriteString("product", u.Product);
            w.WriteNumber("quantity", u.Quantity);
            w.WriteEndObject();
        }
        w.WriteEndArray();
    }

    private static void WriteDrive(Utf8JsonWriter w, DriveEntry e)
    {
        w.WriteNumber("hours", e.Hours);
        if (e.Winding is { } winding) w.WriteBoolean("winding", winding);
    }

    private static void WriteOdor(Utf8JsonWriter w, OdorEntry e)
    {
        w.Code("where", e.Where);
        w.Code("smell", e.Smell);
        if (e.Strength is { } strength) w.WriteNumber("strength", strength);
        w.Texts("when", e.When.Select(Codes<OdorWhen>.Word));
        w.Optional("fixture", e.Fixture);
    }

    private static void WriteSymptom(Utf8JsonWriter w, SymptomEntry e)
    {
        w.Code("code", e.Code);
        w.Optional("fixture", e.Fixture);
    }

    private static void WriteCheck(Utf8JsonWriter w, CheckEntry e)
    {
        w.Code("code", e.Code);
        w.Code("result", e.Result);
        w.Optional("value", e.Value);
    }

    private static void WriteService(Utf8JsonWriter w, ServiceEntry e)
    {
        w.Code("code", e.Code);
        w.Optional("probe", e.Probe);
        w.Code("grade", e.Grade);
        w.Optional("costMinor", e.CostMinor);
        w.Optional("minutes", e.Minutes);
        w.Optional("pressureBar", e.PressureBar);
        w.Optional("floods", e.Floods);
        w.Code("debris", e.Debris);
        w.Optional("by", e.By);
        w.Optional("frost", e.Frost);
    }

    private static void WriteChore(Utf8JsonWriter w, ChoreEntry e)
    {
        w.WriteString("chore", e.Chore);
        w.Code("result", e.Result);
        w.Optional("part", e.Part);
        w.Optional("costMinor", e.CostMinor);
        w.Optional("minutes", e.Minutes);
        if (e.Until is { } until) w.WriteString("until", Timestamps.Write(until));
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
        var ohms = new List<ProbeOhms>();
        foreach (var measured in o.Children("ohms"))
        {
            if (measured.Text("probe", required: true) is not { } probe
                || measured.Number("ohms", 0, ProbeOhms.Most, required: true, aboveMin: true) is not { } n)
                continue;
            if (probes.Count > 0 && !probes.Contains(probe))
                measured.Error("probe", $"unknown probe '{ObjectReader.Short(probe)}': accepted is one of {string.Join(", ", probes)}");
            else if (ohms.Exists(x => x.Probe == probe)) measured.Error("probe", $"'{ObjectReader.Short(probe)}' stands twice");
            else ohms.Add(new ProbeOhms(probe, n));
        }
        var bay = o.Number("bayC", WeatherDay.ColdestC, WeatherDay.HottestC);
        var rising = o.Flag("rising");
        return via is { } v && at is { } t
            ? new ReadingEntry
            {
                At = t,
                Via = v,
                Lit = lit,
                Percent = percent,
                Fraction = fraction,
                PlusMinus = plusMinus,
                Ohms = ohms,
                BayC = bay,
                Rising = rising
            } : null;
    }

    // What a tank's monitor is, and what it was: entries from before a change stay good.
    private static TankMonitor[] MonitorsEver(Tank tank) => [tank.Monitor, .. tank.FormerMonitors.Select(f => f.Monitor)];

    private static DumpEntry? ReadDump(ObjectReader o, Rig? rig, OffsetDateTime? at)
    {
        var minutes = o.Number("minutes", 0, EntryLimits.MaxDrainMinutes);
        var flow = o.Code<DumpFlow>("flow");
        var end = o.Code<EndColor>("end");
        var debris = o.Code<Debris>("debris");
        var volume = o.Number("volumeL", 0, EntryCodec.MaxLitres);
        return at is { } t ? new DumpEntry { At = t, Minutes = minutes, Flow = flow, End = end, Debris = debris, VolumeL = volume } : null;
    }

    private static FlushEntry? ReadFlush(ObjectReader o, Rig? rig, OffsetDateTime? at)
    {
        var method = o.Code<FlushMethod>("method", required: true);
        var cycles = new List<FlushCycle>();
        foreach (var c in o.Children("cycles"))
        {
            cycles.Add(new FlushCycle(c.Number("seconds", 0, EntryLimits.MaxCycleSeconds), c.Number("waterL", 0, EntryCodec.MaxLitres),
                c.Code<EndColor>("end"), c.Code<Debris>("debris")));
            c.Done();
        }
        return method is { } m && at is { } t ? new FlushEntry { At = t, Method = m, Cycles = cycles } : null;
    }

    private static WaterEntry? ReadWater(ObjectReader o, Rig? rig, OffsetDateTime? at)
    {
        var litres = o.Number("waterL", 0, EntryCodec.MaxLitres, required: true);
        var purpose = o.Code<WaterPurpose>("purpose", required: true);
        return litres is { } l && purpose is { } p && at is { } t ? new WaterEntry { At = t, WaterL = l, Purpose = p } : null;
    }

    private const double MaxQuantity = 1_000_000;

    private static DoseEntry? ReadDose(ObjectReader o, Rig? rig, OffsetDateTime? at)
    {
        var recipe = o.Code<DoseRecipe>("recipe", required: true);
        var amount = o.Text("amount");
        var litres = o.Number("waterL", 0, EntryCodec.MaxLitres);
        var used = new List<ProductUse>();
        foreach (var u in o.Children("used"))
        {
            if (u.Text("product", required: true, most: 60, blankAllowed: false) is { } product
                && u.Number("quantity", 0, MaxQuantity, required: true, aboveMin: true) is { } quantity) used.Add(new ProductUse(product, quantity));
            u.Done();
        }
        return recipe is { } r && at is { } t ? new DoseEntry { At = t, Recipe = r, Amount = amount, WaterL = litres, Used = used } : null;
    }

    private static DriveEntry? ReadDrive(ObjectReader o, Rig? rig, OffsetDateTime? at)
    {
        var hours = o.Number("hours", 0, EntryLimits.MaxDriveHours, required: true);
        var winding = o.Flag("winding");
        return hours is { } h && at is { } t ? new DriveEntry { At = t, Hours = h, Winding = winding } : null;
    }

    private static OdorEntry? ReadOdor(ObjectReader o, Rig? rig, OffsetDateTime? at)
    {
        var where = o.Code<OdorPlace>("where", required: true);
        var smell = o.Code<Smell>("smell", required: true);
        var strength = o.Whole("strength", 1, 5);
        var when = o.CodeList<OdorWhen>("when");
        var fixture = Fixture(o);
        return where is { } w && smell is { } s && at is { } t
            ? new OdorEntry { At = t, Where = w, Smell = s, Strength = strength, When = when, Fixture = fixture } : null;
    }

    // An open word, as the fixtures of a tank are.
    private static string? Fixture(ObjectReader o) => o.Text("fixture", most: EntryCodec.LongestFixture, blankAllowed: false);

    private static CheckEntry? ReadCheck(ObjectReader o, Rig? rig, OffsetDateTime? at)
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
            var probes = (tank is null ? [.. rig.Tanks, .. rig.FormerTanks.Select(f => f.Tank)] : (IEnumerable<Tank>)[tank]).SelectMany(MonitorsEver)
                .SelectMany(m => m.Probes).Select(p => p.Id).Distinct().ToList();
            if (!probes.Contains(probe))
                o.Error("probe", $"unknown probe '{ObjectReader.Short(probe)}': accepted is "
                    + $"{(probes.Count == 0 ? "none, this tank has no probes" : "one of " + string.Join(", ", probes))}");
        }
        var cost = o.Whole("costMinor", 0, EntryLimits.MaxCostMinor);
        var minutes = o.Number("minutes", 0, EntryLimits.MaxChoreMinutes);
        var pressure = o.Number("pressureBar", 0, EntryLimits.MaxPressureBar);
        var floods = o.Whole("floods", 0, EntryLimits.MaxFloods);
        var debris = o.Code<Debris>("debris");
        var by = o.Text("by", most: EntryLimits.LongestName);
        var frost = o.Flag("frost");
        return code is { } c && at is { } time
            ? new ServiceEntry
            {
                At = time,
                Code = c,
                Probe = probe,
                Grade = grade,
                CostMinor = cost,
                Minutes = minutes,
                PressureBar = pressure,
                Floods = floods,
                Debris = debris,
                By = by,
                Frost = frost
            } : null;
    }

    private static ChoreEntry? ReadChore(ObjectReader o, Rig? rig, OffsetDateTime? at)
    {
        var chore = o.Text("chore", required: true, most: EntryLimits.LongestId, blankAllowed: false);
        var result = o.Code<ChoreResult>("result", required: true);
        var part = o.Text("part", most: EntryLimits.LongestName);
        var cost = o.Whole("costMinor", 0, EntryLimits.MaxCostMinor);
        var minutes = o.Number("minutes", 0, EntryLimits.MaxChoreMinutes);
        var until = o.Time("until");
        // A chore that was taken off the list keeps its entries; only a new word is a mistake where the rig's own are known.
        if (chore is not null && rig is not null && !ChoreWords.Logged.Contains(chore) && rig.Chores.All(c => c.Id != chore))
        {
            var accepted = ChoreWords.Logged.Concat(rig.Chores.Select(c => c.Id));
            if (ChoreWords.All.Contains(chore)) o.Error("chore", $"'{chore}' is logged as a service: accepted is one of {string.Join(", ", accepted)}");
            else o.Warn("chore", $"'{ObjectReader.Short(chore)}' is no chore of this rig: known are {string.Join(", ", accepted)}");
        }
        if (until is not null && result is not null and not ChoreResult.Skipped) o.Error("until", "is accepted only with result skipped");
        return chore is not null && result is { } r && at is { } t
            ? new ChoreEntry { At = t, Chore = chore, Result = r, Part = part, CostMinor = cost, Minutes = minutes, Until = until } : null;
    }
}
