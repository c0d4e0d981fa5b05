using System.Globalization;
using System.Text;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.ViewFeatures;
using NodaTime;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Rigs;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Drawing;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;
using Tanksophos.Words;

namespace Tanksophos.Web.Pages;

/// <summary>
/// The rig's description. What was typed is put into the description as it is stored and read by the one codec; what the form does not know stays as it was.
/// </summary>
[Needs(Role.Owner)]
public sealed class RigModel(CurrentRequest house, RigStore store) : FormPage
{
    /// <summary>Most probes of one tank on the form.</summary>
    public const int MaxProbes = 6;

    public static IReadOnlyList<(string Field, string Words)> Flags =>
    [
        ("flushInlet", RigSays.FlushInletWithASprayHead), ("reverseFlush", RigSays.ReverseFlushFitting), ("endValve", RigSays.GateValveAtTheEndOf),
            ("clearPiece", RigSays.ClearPieceInTheHose),
        ("backflowPreventer", RigSays.BackflowPreventer), ("waterMeter", RigSays.WaterMeter), ("macerator", RigSays.MaceratorPump),
        ("addOnValve", RigSays.AddOnValveBehindADripping), ("ventFan", RigSays.FanInTheRoofVent),
            ("grayOnlyCap", RigSays.CapWithAHoseConnectionFor), ("frostProof", RigSays.TanksAndValvesProtectedFrom),
    ];

    public StoredRig Stored => house.Rig!;

    /// <summary>The rig that is drawn: as it is stored, or as it is being typed.</summary>
    public Rig Rig => typed ?? Stored.Rig;

    /// <summary>The descriptions it has had, newest first.</summary>
    public IReadOnlyList<(int Revision, Rig Rig, Instant At, string Who)> Earlier => store.Descriptions(Stored.Id);

    /// <summary>What was typed if it could not be taken, else what is stored.</summary>
    public string Value(string field, string stored) => Request.HasFormContentType ? Request.Form[field].ToString() : stored;

    public bool Ticked(string field, bool stored) => Request.HasFormContentType ? Request.Form[field] == "yes" : stored;

    /// <summary>The drains that are ticked for the i-th tank: as sent, if the form was sent, else as stored.</summary>
    public IReadOnlyCollection<string> Drains(int i, Tank tank)
    {
        ArgumentNullException.ThrowIfNull(tank);
        return Request.HasFormContentType ? [.. Request.Form[$"t{i}-drain"].OfType<string>()] : [.. tank.Fixtures];
    }

    public TankView View(Tank tank)
    {
        var level = new LevelBand(0, 0, 0);
        return new TankView(new TankBelief
        {
            Tank = tank,
            Level = level,
            InflowLPerPersonDay = 0,
            Probes = [.. tank.Monitor.Probes.Select(p => new ProbeBelief(p, 1, 0, 0, null))],
            MonitorVerdict = MonitorVerdict.Trust,
            Forecast = house.RigSnapshot.Belief.Tanks[0].Forecast,
            ValveOpen = false
        },
            house.RigSnapshot.Advice[house.Rig!.Rig.Find(tank.Id) is null ? house.Rig.Rig.Tanks[0].Id : tank.Id],
                new TroughGeometry(tank, level, Rig.RulesInForce.DumpLevel(tank.Role) * tank.CapacityL), house.Units.Volume(tank.CapacityL));
    }

    /// <summary>What is doubtful about the rig as a whole.</summary>
    public IReadOnlyList<string> Doubts => [.. Plausibility.Check(Rig).Where(d => d.Tank is null).Select(Words)];

    /// <summary>What is doubtful about one tank, to stand beside its fields.</summary>
    public IReadOnlyList<string> DoubtsOf(Tank tank)
    {
        ArgumentNullException.ThrowIfNull(tank);
        return [.. Plausibility.Check(Rig).Where(d => d.Tank?.Id == tank.Id).Select(Words)];
    }

    [Needs(Role.Guest)]
    public void OnGet()
    {
    }

    public IActionResult OnPost(string? revision)
    {
        var stored = house.Rig!;
        var (rig, problems) = Read(stored);
        if (rig is null) return Refuse([.. problems]);
        if (!int.TryParse(revision, NumberStyles.None, CultureInfo.InvariantCulture, out var seen) || !store.Change(stored.Id, seen, _ => rig, house.Who))
            return Refuse(RigSays.SomeoneElseChangedThisRigSince);
        TempData[TodayModel.Logged] = RigSays.RigSaved;
        return RedirectToPage();
    }

    /// <summary>The drawings of what is being typed, and what is doubtful about it; nothing is written. What cannot be read changes nothing.</summary>
    public IActionResult OnPostDraw()
    {
        var (rig, _) = Read(house.Rig!);
        if (rig is null) return StatusCode(StatusCodes.Status204NoContent);
        typed = rig;
        return new PartialViewResult { ViewName = "_RigDrawings", ViewData = new ViewDataDictionary<RigModel>(ViewData, this) };
    }

    private (Rig? Rig, List<string> Problems) Read(StoredRig stored)
    {
        var problems = new List<string>();
        var json = JsonNode.Parse(stored.Description)!.AsObject();
        Whole(json, problems);
        var tanks = json["tanks"]!.AsArray();
        for (var i = 0; i < tanks.Count; i++) OneTank(tanks[i]!.AsObject(), i, stored, problems);
        if (Typed("add") is "gray" or "black") tanks.Add(NewTank(stored.Rig, Typed("add")));
        Remove(json, tanks, stored.Rig, problems);
        TakeBack(json, tanks);
        var read = RigCodec.Read(Encoding.UTF8.GetBytes(json.ToJsonString()));
        problems.AddRange(read.Errors.Select(e => $"{Label(e.Path, stored.Rig)}: {e.Message}."));
        return (problems.Count > 0 ? null : read.Value, problems);
    }

    // A tank that goes stays in the description as a former one: its entries go on pointing to it.
    private void Remove(JsonObject json, JsonArray tanks, Rig rig, List<string> problems)
    {
        if (Typed("remove") is not { Length: > 0 } id) return;
        if (tanks.FirstOrDefault(t => t!["id"]!.GetValue<string>() == id) is not { } tank || rig.Find(id) is null)
            problems.Add(RigSays.TankNoTankOfThatName);
        else if (tanks.Count == 1) problems.Add(RigSays.ARigNeedsAtLeastOne);
        else
        {
            tanks.Remove(tank);
            var former = json["formerTanks"] as JsonArray ?? [];
            json["formerTanks"] = former;
            former.Add(new JsonObject { ["until"] = NowText, ["tank"] = tank });
        }
    }

    private void TakeBack(JsonObject json, JsonArray tanks)
    {
        if (Typed("takeBack") is not { Length: > 0 } id || json["formerTanks"] is not JsonArray former
            || former.FirstOrDefault(f => f!["tank"]!["id"]!.GetValue<string>() == id) is not JsonObject there) return;
        former.Remove(there);
        var tank = there["tank"]!;
        there.Remove("tank");
        tanks.Add(tank);
    }

    private string NowText => Timestamps.Write(Instant.FromUnixTimeSeconds(house.Now.ToUnixTimeSeconds()).InZone(house.Zone).ToOffsetDateTime());

    private void Whole(JsonObject json, List<string> problems)
    {
        json["name"] = Typed("name").Trim();
        json["kind"] = Typed("kind").Trim();
        json["people"] = TypedNumber.Of(Typed("people"));
        Volume(json, "freshCapacityL", "fresh", RigSays.FreshWater, problems);
        FreshNow(json, problems);
        var equipment = json["equipment"] as JsonObject ?? [];
        json["equipment"] = equipment;
        foreach (var (field, _) in Flags)
            if (Typed(field) == "yes" || equipment[field] is not null) equipment[field] = Typed(field) == "yes"; // what was never said is not denied
        foreach (var field in new[] { "wand", "toiletDrop" })
        {
            if (Typed(field).Length > 0) equipment[field] = Typed(field);
            else equipment.Remove(field);
        }
        Volume(equipment, "flushInletLPerMin", "inletFlow", RigSays.FlowOfTheFlushInlet, problems);
        Volume(equipment, "jugL", "jug", RigSays.Jug, problems);
        Length(equipment, "hoseLengthM", "hose", RigSays.SewerHoseField, problems, distance: true);
        Length(equipment, "outletHeightM", "outlet", RigSays.HeightOfTheOutlet, problems);
        Length(equipment, "sewerHeightM", "sewer", RigSays.HeightOfTheSewer, problems);
    }

    // How much fresh water is on board is dated when it is said anew.
    private void FreshNow(JsonObject json, List<string> problems)
    {
        if (Typed("freshNow").Trim().Length == 0) json.Remove("fresh");
        else if (json["fresh"]?["litres"] is { } said && Typed("freshNow") == house.Units.Volume(said.GetValue<double>())) return;
        else if (!house.Units.TryParseVolume(Typed("freshNow"), out var litres)) problems.Add(RigSays.FreshWaterNowEnter(house.Units.AcceptedVolume));
        else if (json["freshCapacityL"] is { } holds && litres > holds.GetValue<double>() * 1.02)
            problems.Add(RigSays.FreshWaterNowTheTankHolds(house.Units.Volume(holds.GetValue<double>())));
        else json["fresh"] = new JsonObject { ["at"] = NowText, ["litres"] = Math.Round(litres, 2) };
    }

    private void OneTank(JsonObject tank, int i, StoredRig stored, List<string> problems)
    {
        string F(string field) => $"t{i}-{field}";
        var name = Typed(F("name")).Trim();
        if (name.Length == 0) problems.Add(RigSays.ANameIsNeeded(stored.Rig.Tanks[i].Name));
        else tank["name"] = name;
        var before = stored.Rig.Tanks[i];
        if (!house.Units.TryParseVolume(Typed(F("capacity")), out var litres)) problems.Add(RigSays.CapacityEnter(name, house.Units.AcceptedVolume));
        else if (house.Units.Volume(litres) != house.Units.Volume(before.CapacityL)) Capacity(tank, before, litres, stored.CreatedAt);
        Volume(tank, "roomAboveFullL", F("room"), RigSays.RoomAboveFull(name), problems);
        Length(tank, "lengthM", F("length"), RigSays.LengthOf(name), problems);
        Length(tank, "depthM", F("depth"), RigSays.DepthOf(name), problems);
        tank["fixtures"] = new JsonArray([.. Request.Form[F("drain")].OfType<string>()
            .Concat(Typed(F("fixtures")).Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)).Distinct()
            .Select(f => (JsonNode?)f)]);
        if (Typed(F("share")).Trim().TrimEnd('%').Trim() is { Length: > 0 } share) tank["usageShare"] = Percent(share, before.UsageShare);
        else tank.Remove("usageShare");
        var monitor = Monitor(i, before, problems);
        if (Differs(before.Monitor, monitor))
        {
            // Readings from before the change go on being read as what they were.
            var former = tank["formerMonitors"] as JsonArray ?? [];
            tank["formerMonitors"] = former;
            former.Add(new JsonObject { ["until"] = NowText, ["monitor"] = tank["monitor"]!.DeepClone() });
        }
        tank["monitor"] = monitor;
    }

    // Another kind, or other studs; a better label, height or wire is no other monitor.
    private static bool Differs(TankMonitor before, JsonObject after) =>
        Codes<MonitorKind>.Word(before.Kind) != after["kind"]!.ToString()
        || !before.Probes.Select(p => p.Id).Order(StringComparer.Ordinal)
        .SequenceEqual((after["probes"] as JsonArray ?? []).Select(p => p!["id"]!.ToString()).Order(StringComparer.Ordinal));

    // A change of capacity is dated, so that the earlier one is not forgotten.
    private void Capacity(JsonObject tank, Tank before, double litres, Instant created)
    {
        var history = tank["capacityHistory"] as JsonArray ?? [];
        tank["capacityHistory"] = history;
        if (history.Count == 0) history.Add(new JsonObject
        {
            ["from"] = Timestamps.Write(created.InZone(house.Zone).ToOffsetDateTime()),
            ["capacityL"] = before.CapacityL
        });
        history.Add(new JsonObject { ["from"] = Timestamps.Write(house.Now.InZone(house.Zone).ToOffsetDateTime()), ["capacityL"] = Math.Round(litres, 2) });
        tank["capacityL"] = Math.Round(litres, 2);
    }

    private JsonObject Monitor(int i, Tank before, List<string> problems)
    {
        var kind = Typed($"t{i}-monitor");
        var monitor = new JsonObject { ["kind"] = kind };
        if (kind != "probes") return monitor;
        var probes = new JsonArray();
        for (var p = 0; p < MaxProbes; p++)
        {
            var label = Typed($"t{i}-p{p}-label").Trim();
            var at = Typed($"t{i}-p{p}-at").Trim().TrimEnd('%').Trim();
            if (label.Length == 0 && at.Length == 0) continue;
            if (at.Length == 0) problems.Add(RigSays.LightAHeightInPercentOf(before.Name, label));
            // An existing probe keeps its id, so that entries go on pointing to it.
            var known = p < before.Monitor.Probes.Count ? before.Monitor.Probes[p] : null;
            var probe = new JsonObject { ["id"] = known?.Id ?? NewProbeId(before, probes), ["label"] = label, ["atFraction"] = Percent(at, known?.AtFraction) };
            if (Typed($"t{i}-p{p}-wire") is { Length: > 0 } wire) probe["wire"] = wire;
            if (known?.HeightM is { } height) probe["heightM"] = height;
            Length(probe, "heightM", $"t{i}-p{p}-height", RigSays.HeightOfLight(before.Name, label), problems);
            if (Typed($"t{i}-p{p}-note").Trim() is { Length: > 0 } note) probe["note"] = note;
            probes.Add(probe);
        }
        monitor["probes"] = probes;
        return monitor;
    }

    private static string NewProbeId(Tank tank, JsonArray taken)
    {
        var ever = tank.FormerMonitors.SelectMany(f => f.Monitor.Probes).Concat(tank.Monitor.Probes).Select(p => p.Id)
            .Concat(taken.Select(p => p!["id"]!.ToString())).ToHashSet(StringComparer.Ordinal);
        return Enumerable.Range(1, 1000).Select(n => $"p{n}").First(id => !ever.Contains(id));
    }

    private static JsonObject NewTank(Rig rig, string role)
    {
        var n = Enumerable.Range(rig.Tanks.Any(t => Codes<TankRole>.Word(t.Role) == role) ? 2 : 1, 40).First(k => rig.FindEver(Id(role, k)) is null);
        return new JsonObject
        {
            ["id"] = Id(role, n),
            ["name"] = TimeWords.Capital(role) + (n == 1 ? "" : $" {n}"),
            ["role"] = role,
            ["capacityL"] = rig.Tanks.LastOrDefault(t => Codes<TankRole>.Word(t.Role) == role)?.CapacityL ?? 150,
            ["monitor"] = new JsonObject { ["kind"] = "none" },
        };

        static string Id(string role, int k) => k == 1 ? role : $"{role}-{k}";
    }

    private void Volume(JsonObject json, string field, string typed, string name, List<string> problems)
    {
        if (Typed(typed).Trim().Length == 0) json.Remove(field);
        // what is shown is rounded: left alone, it stays as it was
        else if (json[field] is { } stored && Typed(typed) == house.Units.Volume(stored.GetValue<double>())) return;
        else if (house.Units.TryParseVolume(Typed(typed), out var litres)) json[field] = Math.Round(litres, 2);
        else problems.Add(SharedSays.Enter(name, house.Units.AcceptedVolume));
    }

    private void Length(JsonObject json, string field, string typed, string name, List<string> problems, bool distance = false)
    {
        if (Typed(typed).Trim().Length == 0) json.Remove(field);
        else if (json[field] is { } stored
            && (Typed(typed) == house.Units.Length(stored.GetValue<double>()) || Typed(typed) == house.Units.Distance(stored.GetValue<double>()))) return;
        else if (distance ? house.Units.TryParseDistance(Typed(typed), out var metres) : house.Units.TryParseLength(Typed(typed), out metres))
            json[field] = Math.Round(metres, 4);
        else problems.Add(SharedSays.Enter(name, distance ? house.Units.AcceptedDistance : house.Units.AcceptedLength));
    }

    private string Typed(string field) => Request.Form[field].ToString();

    private static JsonValue Percent(string text, double? stored)
    {
        if (stored is { } kept && text == Share(kept)) return JsonValue.Create(kept);
        var number = TypedNumber.Of(text);
        return number.TryGetValue<double>(out var percent) ? JsonValue.Create(Math.Round(percent / 100, 4)) : number;
    }

    /// <summary>A share of 1 as the form shows it, in percent.</summary>
    public static string Share(double share) => (share * 100).ToString("0.#", CultureInfo.InvariantCulture);

    private static string Label(string path, Rig rig)
    {
        if (!path.StartsWith("tanks[", StringComparison.Ordinal)) return TimeWords.Capital(path);
        var index = int.Parse(path.AsSpan(6, path.IndexOf(']', StringComparison.Ordinal) - 6), CultureInfo.InvariantCulture);
        var name = index < rig.Tanks.Count ? rig.Tanks[index].Name : RigSays.NewTank;
        return $"{name}, {path[(path.IndexOf(']', StringComparison.Ordinal) + 1)..].TrimStart('.')}";
    }

    private Rig? typed;

    private string Words(RigDoubt doubt) => RigWords.Doubt(doubt, Rig, house.Units);

    public string FallWords => RigWords.Fall(Rig, house.Units);
}
