using System.Text;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Mvc;
using NodaTime;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Log;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;
using Tanksophos.Words;

namespace Tanksophos.Web.Pages;

/// <summary>A kind of entry that is written on this page.</summary>
/// <param name="Code">The word of the format.</param>
/// <param name="Title">What people call it.</param>
/// <param name="Text">What it holds.</param>
/// <param name="Often">Whether Today offers it in three taps; it is offered here after the others.</param>
public sealed record WriteKind(string Code, string Title, string Text, bool Often = false);

/// <summary>
/// Writing down any kind of entry with all its fields, and correcting one. What was typed becomes the entry's own JSON and is read by the one codec,
/// so that a form accepts exactly what a document does.
/// </summary>
[Needs(Role.Crew)]
public sealed class WriteModel(CurrentRequest house, RigStore store) : FormPage
{
    /// <summary>Most rinse cycles on the form.</summary>
    public const int MaxCycles = 7;

    /// <summary>The kinds, in the order in which they come up.</summary>
    public static IReadOnlyList<WriteKind> Kinds =>
    [
        new("flush", WriteSays.Flush, WriteSays.RinsesAndTheLastTrickleOf),
        new("dose", WriteSays.Dose, WriteSays.TreatmentAdded),
        new("odor", WriteSays.Smell, WriteSays.WhereWhatKindWhen),
        new("symptom", WriteSays.SomethingIsWrong, WriteSays.GurglesDripsSlowDrainsLights),
        new("check", WriteSays.Check, WriteSays.ATestThatPassedOrFailed),
        new("drive", WriteSays.Drive, WriteSays.HoursDrivenInLine),
        new("chore", WriteSays.Chore, WriteSays.TrapsCleaningChecks),
        new("service", WriteSays.WorkDone, WriteSays.JettingSensorsValvesSeals),
        new("dump", WriteSays.Dump, WriteSays.MinutesFlowLastTrickle, true),
        new("reading", WriteSays.Reading, WriteSays.PanelFlashlightOrMeter, true),
        new("water", WriteSays.WaterIn, WriteSays.StarterTopUpSoak, true),
        new("valve", SharedSays.Valve, WriteSays.LeftOpenOrClosed, true),
        new("people", SharedSays.People, WriteSays.HowManyPeople, true),
        new("stay", WriteSays.Place, WriteSays.WhereYouAreAndWhatHookups, true),
    ];

    private static readonly string[] Numbers = ["hours", "strength", "value", "count", "minutes", "percent", "floods"];
    private static readonly string[] Plain = ["where", "smell", "code", "result", "method", "recipe", "amount", "probe", "grade", "fixture", "note", "tank",
        "place", "hookup", "zone", "state", "via", "flow", "end", "debris", "purpose", "chore", "part", "by"];

    // What a new form of a kind starts with, taken from the last entry of that kind.
    private static readonly Dictionary<string, string[]> Remembered = new()
    {
        ["flush"] = ["tank", "method"],
        ["dose"] = ["tank", "recipe", "amount", "product", "taken"],
        ["check"] = ["code"],
        ["water"] = ["tank", "purpose"],
        ["reading"] = ["tank", "via"],
    };

    private JsonObject shown = [];

    public WriteKind? Kind { get; private set; }

    /// <summary>The entry that is corrected; null when a new one is written.</summary>
    public StoredEntry? Editing { get; private set; }

    /// <summary>What stands in the log now, if somebody else changed it since the form was opened.</summary>
    public StoredEntry? Theirs { get; private set; }

    /// <summary>The time the form shows, local; empty for now.</summary>
    public string At { get; private set; } = "";

    /// <summary>What was typed, to be shown again if it could not be taken; else what the entry says, or what was used last.</summary>
    public string Typed(string field) => Request.HasFormContentType ? Request.Form[field].ToString() : shown[field]?.ToString() ?? "";

    public bool Chosen(string field, string value) => Request.HasFormContentType ? Request.Form[field].Contains(value) : shown[field] is JsonArray several
        ? several.Any(v => v?.ToString() == value) : shown[field]?.ToString() == value;

    /// <summary>Whether the form shows a lamp as lit.</summary>
    public bool Lit(Core.Rigs.Tank tank, Core.Rigs.Probe probe)
    {
        ArgumentNullException.ThrowIfNull(tank);
        ArgumentNullException.ThrowIfNull(probe);
        return Request.HasFormContentType ? Request.Form[$"lit-{tank.Id}"].Contains(probe.Id) : Typed("tank") == tank.Id && Chosen("lit", probe.Id);
    }

    public IActionResult OnGet(string? kind, string? edit)
    {
        Kind = Kinds.FirstOrDefault(k => k.Code == kind);
        if (kind is not null && Kind is null) return NotFound();
        if (edit is not null)
        {
            if (!Edit(edit)) return NotFound();
            shown = Fields(Editing!.Entry);
            At = Local(Editing.Entry.At.ToInstant());
        }
        else if (Kind?.Code == "stay") shown["zone"] = house.DeviceZone.Id;
        else if (Kind is not null && Remembered.TryGetValue(Kind.Code, out var fields) && store.Log.Last(house.Rig!.Id, Kind.Code) is { } last)
        {
            var before = Fields(last.Entry);
            foreach (var field in fields) if (before[field] is { } value) shown[field] = value.DeepClone();
        }
        // A page that asks for an entry says what it is about.
        if (edit is null) foreach (var field in Plain) if (Request.Query[field] is { Count: 1 } asked
            && asked[0] is { Length: > 0 and <= 60 } value) shown[field] = value;
        return Page();
    }

    public IActionResult OnPost(string? kind, string? id, string? at, string? edit, string? seen)
    {
        var rig = house.Rig!;
        Kind = Kinds.FirstOrDefault(k => k.Code == kind);
        if (Kind is null || (edit is not null && !Edit(edit))) return NotFound();
        At = at ?? "";
        // When somebody arrives is told in the time of the place where they arrive.
        if (!house.When(at, out var time, out var problem, Kind.Code == "stay" ? DateTimeZoneProviders.Tzdb.GetZoneOrNull(Typed("zone")) : null))
            return Refuse(problem);
        // left alone, it stays to the second
        if (Editing is not null && (string.IsNullOrWhiteSpace(at) || at == Local(Editing.Entry.Instant))) time = Editing.Entry.At;

        var problems = new List<string>();
        var json = Build(Kind.Code, problems);
        json["id"] = id is { Length: > 0 and <= 64 } ? id : TodayModel.NewId();
        json["at"] = Timestamps.Write(time);
        var read = EntryCodec.Read(Encoding.UTF8.GetBytes(json.ToJsonString()), rig.Rig, house.Now);
        problems.AddRange(read.Errors.Select(e => $"{Label(e.Path)}: {e.Message}."));
        if (problems.Count > 0) return Refuse([.. problems]);
        return Editing is null ? Record(rig, read.Value!) : Correct(rig, read.Value!, seen);
    }

    private IActionResult Record(StoredRig rig, LogEntry entry)
    {
        try
        {
            store.Writer.Record(rig.Id, [entry], house.Who);
        }
        catch (EntryConflictException)
        {
            return Refuse(SharedSays.ThisFormWasAlreadySentWith);
        }
        TempData[TodayModel.Logged] = house.Said(entry);
        TempData[TodayModel.LoggedKey] = entry.Id;
        return RedirectToPage("/Today/Index");
    }

    private IActionResult Correct(StoredRig rig, LogEntry entry, string? seen)
    {
        var how = store.Writer.Correct(rig.Id, Editing!.Key, int.TryParse(seen, out var revision) ? revision : 0, entry, house.Who);
        if (how == Correction.Missing) return NotFound();
        if (how == Correction.Done)
        {
            TempData[TodayModel.Logged] = "Corrected: " + house.Said(entry);
            return RedirectToPage("/Entry/Index", new { key = Editing.Key });
        }
        Theirs = store.Log.Entry(rig.Id, Editing.Key);
        Response.StatusCode = StatusCodes.Status409Conflict;
        HttpContext.Features.Get<Microsoft.AspNetCore.Diagnostics.IStatusCodePagesFeature>()?.Enabled = false;
        return Page();
    }

    private bool Edit(string key) => (Editing = store.Log.Entry(house.Rig!.Id, key)) is not null && Editing.Entry.Type == Kind?.Code;

    private string Local(Instant at) => at.InZone(house.Zone).LocalDateTime.ToString("uuuu-MM-dd'T'HH:mm", System.Globalization.CultureInfo.InvariantCulture);

    // An entry as the fields of the form: its own JSON, with volumes in the person's units and the cycles spread out.
    private JsonObject Fields(LogEntry entry)
    {
        var json = JsonNode.Parse(EntryCodec.Write(entry))!.AsObject();
        foreach (var volume in new[] { "waterL", "volumeL" })
            if (json[volume] is { } litres) json[volume] = house.Units.Exact(litres.GetValue<double>());
        foreach (var share in new[] { "fraction", "plusMinus" })
            if (json[share] is { } part) json[share] = Math.Round(part.GetValue<double>() * 100, 2);
        if (json["winding"]?.GetValue<bool>() == true) json["winding"] = "yes";
        if (json["costMinor"] is { } paid) json["cost"] = (paid.GetValue<int>() / 100.0).ToString("0.00", System.Globalization.CultureInfo.InvariantCulture);
        if (json["pressureBar"] is { } bar) json["pressure"] = house.Units.Pressure(bar.GetValue<double>());
        if (json["frost"]?.GetValue<bool>() == true) json["frost"] = "yes";
        if (entry is DoseEntry { Used: [var first, ..] })
        {
            json["product"] = first.Product;
            json["taken"] = Taken(first);
        }
        if (entry is FlushEntry flush)
        {
            for (var i = 1; i <= flush.Cycles.Count; i++)
            {
                var cycle = flush.Cycles[i - 1];
                var filled = new[] { cycle.Seconds is { } s ? WriteSays.S(s.ToString(System.Globalization.CultureInfo.InvariantCulture)) : null,
                    cycle.WaterL is { } litres ? house.Units.Exact(litres) : null }.OfType<string>();
                json[$"filled-{i}"] = string.Join(" + ", filled);
                if (cycle.End is { } end) json[$"end-{i}"] = Core.Rigs.Codes<EndColor>.Word(end);
                if (cycle.Debris is { } debris) json[$"debris-{i}"] = Core.Rigs.Codes<Debris>.Word(debris);
            }
        }
        return json;
    }

    private JsonObject Build(string type, List<string> problems)
    {
        var json = new JsonObject { ["type"] = type };
        foreach (var field in Plain)
            if (Typed(field) is { Length: > 0 } text) json[field] = text;
        foreach (var field in Numbers)
            if (Typed(field) is { Length: > 0 } text) json[field] = TypedNumber.Of(text);
        Volume(json, "waterL", SharedSays.Water, problems);
        Volume(json, "volumeL", WriteSays.Volume, problems);
        foreach (var share in new[] { "fraction", "plusMinus" })
            if (Typed(share).Trim().TrimEnd('%').Trim() is { Length: > 0 } text)
                json[share] = TypedNumber.Of(text) is var number && number.TryGetValue<double>(out var percent)
                ? JsonValue.Create(Math.Round(percent / 100, 6)) : number;
        if (Typed("winding") == "yes") json["winding"] = true;
        if (Typed("frost") == "yes") json["frost"] = true;
        if (Typed("cost") is { Length: > 0 } cost)
        {
            if (Currency.TryParse(cost, EntryCodec.MaxCostMinor / 100, out var minor)) json["costMinor"] = minor;
            else problems.Add(CareSays.CostAccepted);
        }
        if (Typed("pressure") is { Length: > 0 } pressure)
        {
            // Left alone, it stays to the last digit; the form shows it rounded.
            if (Editing?.Entry is ServiceEntry { PressureBar: { } was } && pressure == house.Units.Pressure(was)) json["pressureBar"] = was;
            else if (house.Units.TryParsePressure(pressure, out var bar)) json["pressureBar"] = bar;
            else problems.Add(WriteSays.PressureAccepted);
        }
        if (Editing?.Entry is ChoreEntry { Until: { } until } && json["result"]?.ToString() == "skipped") json["until"] = Timestamps.Write(until);
        if (type == "odor") json["when"] = new JsonArray([.. Request.Form["when"].Select(w => (JsonNode?)w)]);
        if (type == "flush") json["cycles"] = Cycles(problems);
        if (type == "reading")
        {
            Reading(json);
            // What a device measured beside stays with its reading.
            if (Editing?.Entry is ReadingEntry { Via: ReadingVia.Panel } measured && json["tank"]?.ToString() == measured.Tank
                && json["via"]?.ToString() == Core.Rigs.Codes<ReadingVia>.Word(ReadingVia.Panel))
                foreach (var (field, value) in JsonNode.Parse(EntryCodec.Write(measured))!.AsObject())
                    if (field is "ohms" or "bayC" or "rising") json[field] = value?.DeepClone();
        }
        if (type == "dose") Used(json, problems);
        return json;
    }

    private string Taken(ProductUse use) => house.Rig!.Rig.Products.FirstOrDefault(p => p.Id == use.Product) is { } product
        ? ShelfWords.Exact(use.Quantity, product.HoldsIn, house.Units) : "";

    // What the dose took from the shelf; left alone, it stays with all that was noted of it.
    private void Used(JsonObject json, List<string> problems)
    {
        var (chosen, taken) = (Typed("product"), Typed("taken").Trim());
        IReadOnlyList<ProductUse> used;
        if (Editing?.Entry is DoseEntry { Used: [var first, ..] } before && chosen == first.Product && taken == Taken(first)) used = before.Used;
        else if (chosen.Length == 0) return;
        else if (house.Rig!.Rig.Products.FirstOrDefault(p => p.Id == chosen) is not { } product)
        {
            problems.Add(WriteSays.FromTheShelfChooseOneOf);
            return;
        }
        else if (!ShelfWords.TryParse(taken, product.HoldsIn, house.Units, out var amount) || amount <= 0)
        {
            problems.Add(WriteSays.AmountUsedEnterMoreThan0(ShelfWords.Accepted(product.HoldsIn)));
            return;
        }
        else used = [new ProductUse(chosen, Math.Round(amount, 2))];
        json["used"] = new JsonArray([.. used.Select(u => (JsonNode?)new JsonObject { ["product"] = u.Product, ["quantity"] = u.Quantity })]);
    }

    // Of a reading only what its way of reading says is kept: lamps or percent of the panel, or the share seen or metered.
    private void Reading(JsonObject json)
    {
        if (Typed("via") != "panel")
        {
            json.Remove("percent");
            return;
        }
        json.Remove("fraction");
        json.Remove("plusMinus");
        var tank = house.Rig!.Rig.FindEver(Typed("tank"));
        if (tank?.Monitor.Kind == Core.Rigs.MonitorKind.Probes || (tank is not null && Request.Form.ContainsKey($"lit-{tank.Id}")))
            json["lit"] = new JsonArray([.. Request.Form[$"lit-{tank.Id}"].Select(l => (JsonNode?)l)]);
        if (json.ContainsKey("lit")) json.Remove("percent");
    }

    private void Volume(JsonObject json, string field, string name, List<string> problems)
    {
        if (Typed(field) is not { Length: > 0 } typed) return;
        if (house.Units.TryParseVolume(typed, out var litres)) json[field] = Math.Round(litres, 2);
        else problems.Add(SharedSays.Enter(name, house.Units.AcceptedVolume));
    }

    private JsonArray Cycles(List<string> problems)
    {
        var cycles = new JsonArray();
        for (var i = 1; i <= Math.Max(MaxCycles, (Editing?.Entry as FlushEntry)?.Cycles.Count ?? 0); i++)
        {
            var cycle = new JsonObject();
            // "60 s", "10 gal", or both
            foreach (var filled in Typed($"filled-{i}").Split('+', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries))
            {
                if (filled.EndsWith('s') && filled.Split(' ', 2) is [var seconds, "s" or "sec" or "secs"]) cycle["seconds"] = TypedNumber.Of(seconds);
                else if (house.Units.TryParseVolume(filled, out var litres)) cycle["waterL"] = Math.Round(litres, 2);
                else problems.Add(WriteSays.RinseEnterSecondsSuchAs60(i, house.Units.AcceptedVolume));
            }
            if (Typed($"end-{i}") is { Length: > 0 } end) cycle["end"] = end;
            if (Typed($"debris-{i}") is { Length: > 0 } debris) cycle["debris"] = debris;
            if (cycle.Count > 0) cycles.Add(cycle);
        }
        return cycles;
    }

    private static string Label(string path) => path switch
    {
        "" => WriteSays.Entry,
        "waterL" => SharedSays.Water,
        "volumeL" => WriteSays.Volume,
        "plusMinus" => WriteSays.PlusOrMinusField,
        "lit" => WriteSays.Lamps,
        "code" => WriteSays.What,
        _ => TimeWords.Capital(path.Replace('-', ' ')),
    };
}
