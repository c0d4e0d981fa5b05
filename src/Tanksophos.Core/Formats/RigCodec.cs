using System.Text.Json;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;

namespace Tanksophos.Core.Formats;

/// <summary>Reads and writes the description of a rig, as it stands in documents and in the database.</summary>
public static class RigCodec
{
    /// <summary>Largest accepted capacity in litres; plausible tanks are far smaller.</summary>
    public const double MaxCapacityL = 50_000;

    /// <summary>Most products on one shelf.</summary>
    public const int MaxProducts = 200;

    /// <summary>Most chores of a rig's own.</summary>
    public const int MaxChores = 60;

    /// <summary>Most drains that get no daily water.</summary>
    public const int MaxUnused = 20;

    /// <summary>Most tanks on one rig.</summary>
    public const int MaxTanks = 20;

    /// <summary>Writes a rig as compact UTF-8 JSON.</summary>
    public static byte[] Write(Rig rig) => Json.Write(w => WriteTo(w, rig));

    /// <summary>Reads a rig that stands alone.</summary>
    public static ReadResult<Rig> Read(ReadOnlyMemory<byte> utf8) => Json.Read(utf8, (root, _) => ReadFrom(root));

    internal static Rig? ReadFrom(ObjectReader o)
    {
        var name = o.Text("name", required: true, blankAllowed: false);
        var kind = o.Text("kind");
        var people = o.Whole("people", 0, EntryCodec.MaxPeople, required: true);
        var tanks = new List<Tank>();
        var seen = 0;
        foreach (var t in o.Children("tanks", required: true))
        {
            seen++;
            if (ReadTank(t) is { } tank) AddUnique(t, tank);
        }
        var former = new List<FormerTank>();
        foreach (var f in o.Children("formerTanks"))
        {
            var until = f.Time("until", required: true);
            if (f.Child("tank", required: true) is { } t && ReadTank(t) is { } tank && until is { } end)
            {
                if (tanks.Any(x => x.Id == tank.Id) || former.Any(x => x.Tank.Id == tank.Id)) t.Error("id", UniqueTank(tank.Id));
                else former.Add(new FormerTank(end, tank));
            }
            f.Done();
        }
        FreshLevel? level = null;
        if (o.Child("fresh") is { } fl)
        {
            if (fl.Time("at", required: true) is { } at && fl.Number("litres", 0, MaxCapacityL, required: true) is { } litres)
                level = new FreshLevel(at, litres);
            fl.Done();
        }
        if (o.Has("tanks") && seen == 0) o.Error("tanks", "at least one tank is required");
        if (seen > MaxTanks) o.Error("tanks", $"at most {MaxTanks} tanks are accepted, found {seen}");
        foreach (var role in tanks.GroupBy(t => t.Role))
            if (role.Sum(t => t.UsageShare ?? 0) > 1.0001)
                o.Warn("tanks", $"the usage shares of the {Codes<TankRole>.Word(role.Key)} tanks add up to more than 1");
        var usage = o.Child("usage") is { } u ? ReadUsage(u) : null;
        var equipment = o.Child("equipment") is { } e ? ReadEquipment(e) : null;
        var rules = o.Child("rules") is { } r ? ReadRules(r) : null;
        var fresh = o.Number("freshCapacityL", 0, MaxCapacityL);
        var products = new List<Product>();
        foreach (var p in o.Children("products"))
        {
            if (ReadProduct(p) is not { } product) continue;
            if (products.Count >= MaxProducts) p.Error("id", $"at most {MaxProducts} products are accepted");
            else if (products.Any(x => x.Id == product.Id)) p.Error("id", $"product id '{product.Id}' stands twice: ids must be unique within a rig");
            else products.Add(product);
        }
        var unused = o.Texts("unusedFixtures", most: MaxUnused, longest: EntryLimits.LongestFixture);
        var chores = ReadChores(o);
        var off = o.Texts("choresOff", most: MaxChores, longest: EntryLimits.LongestId);
        var careFrom = o.Time("careFrom");
        o.Done();
        return name is null || people is null || tanks.Count == 0 ? null
            : new Rig(name, kind ?? "", people.Value, tanks)
            {
                Usage = usage,
                Equipment = equipment,
                Rules = rules,
                FreshCapacityL = fresh,
                Fresh = level,
                FormerTanks = former,
                Products = products,
                UnusedFixtures = unused,
                Chores = chores,
                ChoresOff = off ?? [],
                CareFrom = careFrom
            };

        void AddUnique(ObjectReader t, Tank tank)
        {
            if (tanks.Any(x => x.Id == tank.Id)) t.Error("id", UniqueTank(tank.Id));
            else tanks.Add(tank);
        }
    }

    private static string UniqueTank(string id) => $"tank id '{id}' stands twice: ids must be unique within a rig";

    internal static HouseRules ReadRules(ObjectReader o)
    {
        var d = HouseRules.Default;
        var rules = new HouseRules
        {
            DumpBlackAt = o.Number("dumpBlackAt", 0, 1, aboveMin: true) ?? d.DumpBlackAt,
            MaxDays = o.Whole("maxDays", 1, 365) ?? d.MaxDays,
            GrayAtFullHookup = o.Code<GrayAtFullHookup>("grayAtFullHookup") ?? d.GrayAtFullHookup,
            Flush = o.Code<FlushProgramme>("flush") ?? d.Flush,
            Treatment = o.Code<TreatmentSchool>("treatment") ?? d.Treatment,
            Bleach = o.Code<BleachRule>("bleach") ?? d.Bleach,
            Paper = o.Code<PaperRule>("paper") ?? d.Paper,
            Storage = Older(o, "storage", "full-of-water", StorageRule.FullFresh) ?? d.Storage,
            DeepClean = Older(o, "deepClean", "every-few-trips", DeepCleanRule.EachFewTrips) ?? d.DeepClean,
            LeavingLow = o.Code<LeavingLowRule>("leavingLow") ?? d.LeavingLow,
            GrayTargetAtDump = o.Number("grayTargetAtDump", 0, 1) ?? d.GrayTargetAtDump,
            OverflowRisk = o.Number("overflowRisk", 0, 1) ?? d.OverflowRisk,
            BlackOverflowRisk = o.Number("blackOverflowRisk", 0, 1) ?? d.BlackOverflowRisk,
        };
        o.Done();
        return rules;
    }

    // A word that the format had before is read as the one it has now.
    private static T? Older<T>(ObjectReader o, string name, string was, T now) where T : struct, Enum =>
        o.Is(name, was) ? now : o.Code<T>(name);

    internal static void WriteRules(Utf8JsonWriter w, HouseRules r)
    {
        w.WriteNumber("dumpBlackAt", r.DumpBlackAt);
        w.WriteNumber("maxDays", r.MaxDays);
        w.Code("grayAtFullHookup", r.GrayAtFullHookup);
        w.Code("flush", r.Flush);
        w.Code("treatment", r.Treatment);
        w.Code("bleach", r.Bleach);
        w.Code("paper", r.Paper);
        w.Code("storage", r.Storage);
        w.Code("deepClean", r.DeepClean);
        if (r.LeavingLow != LeavingLowRule.FewerDumps) w.Code("leavingLow", r.LeavingLow);
        w.WriteNumber("grayTargetAtDump", r.GrayTargetAtDump);
        w.WriteNumber("overflowRisk", r.OverflowRisk);
        if (r.BlackOverflowRisk != HouseRules.Default.BlackOverflowRisk) w.WriteNumber("blackOverflowRisk", r.BlackOverflowRisk);
    }

    internal static void WriteTo(Utf8JsonWriter w, Rig rig)
    {
        w.WriteStartObject();
        w.WriteString("name", rig.Name);
        w.WriteString("kind", rig.Kind);
        w.WriteNumber("people", rig.People);
        w.WriteStartArray("tanks");
        foreach (var tank in rig.Tanks) WriteTank(w, tank);
        w.WriteEndArray();
        if (rig.FormerTanks.Count > 0)
        {
            w.WriteStartArray("formerTanks");
            foreach (var f in rig.FormerTanks)
            {
                w.WriteStartObject();
                w.WriteString("until", Timestamps.Write(f.Until));
                w.WritePropertyName("tank");
                WriteTank(w, f.Tank);
                w.WriteEndObject();
            }
            w.WriteEndArray();
        }
        w.Optional("freshCapacityL", rig.FreshCapacityL);
        if (rig.Fresh is { } fresh)
        {
            w.WriteStartObject("fresh");
            w.WriteString("at", Timestamps.Write(fresh.At));
            w.WriteNumber("litres", fresh.Litres);
            w.WriteEndObject();
        }
        if (rig.Usage is { } usage)
        {
            w.WriteStartObject("usage");
            foreach (var role in Enum.GetValues<TankRole>()) WriteRoleUsage(w, Codes<TankRole>.Word(role), usage.For(role));
            w.WriteEndObject();
        }
        if (rig.Equipment is { } e)
        {
            w.WriteStartObject("equipment");
            w.Optional("flushInlet", e.FlushInlet);
            w.Optional("flushInletLPerMin", e.FlushInletLPerMin);
            w.Optional("reverseFlush", e.ReverseFlush);
            w.Optional("wand", e.Wand);
            w.Optional("endValve", e.EndValve);
            w.Optional("clearPiece", e.ClearPiece);
            w.Optional("backflowPreventer", e.BackflowPreventer);
            w.Optional("waterMeter", e.WaterMeter);
            w.Optional("jugL", e.JugL);
            w.Optional("macerator", e.Macerator);
            w.Optional("hoseLengthM", e.HoseLengthM);
            w.Optional("toiletDrop", e.ToiletDrop);
            w.Optional("addOnValve", e.AddOnValve);
            w.Optional("ventFan", e.VentFan);
            w.Optional("grayOnlyCap", e.GrayOnlyCap);
            w.Optional("frostProof", e.FrostProof);
            w.Optional("outletHeightM", e.OutletHeightM);
            w.Optional("sewerHeightM", e.SewerHeightM);
            w.WriteEndObject();
        }
        if (rig.Rules is { } rules)
        {
            w.WriteStartObject("rules");
            WriteRules(w, rules);
            w.WriteEndObject();
        }
        if (rig.Products.Count > 0)
        {
            w.WriteStartArray("products");
            foreach (var p in rig.Products) WriteProduct(w, p);
            w.WriteEndArray();
        }
        if (rig.UnusedFixtures is { } unused) w.Texts("unusedFixtures", unused);
        if (rig.Chores.Count > 0)
        {
            w.WriteStartArray("chores");
            foreach (var chore in rig.Chores) WriteChore(w, chore);
            w.WriteEndArray();
        }
        if (rig.ChoresOff.Count > 0) w.Texts("choresOff", rig.ChoresOff);
        if (rig.CareFrom is { } from) w.WriteString("careFrom", Timestamps.Write(from));
        w.WriteEndObject();
    }

    // The bounds are those of the form, so that what one takes the other takes.
    private static Product? ReadProduct(ObjectReader o)
    {
        var id = o.Text("id", required: true, most: 60, blankAllowed: false);
        var name = o.Text("name", required: true, most: 60, blankAllowed: false);
        var kind = o.Code<Substance>("kind", required: true);
        LabelDose? dose = null;
        if (o.Child("dose") is { } d)
        {
            var amount = d.Number("amount", 0, LabelDoses.MaxAmount, required: true, aboveMin: true);
            var unit = d.Code<DoseUnit>("unit", required: true);
            var label = new LabelDose(amount ?? 1, unit ?? DoseUnit.Ml)
            {
                PerL = d.Number("perL", 0, 5000, aboveMin: true),
                Max = d.Number("most", 0, 50_000, aboveMin: true),
                CapMl = d.Number("capMl", 0, 500, aboveMin: true),
                LastsDays = d.Whole("lastsDays", 1, 60),
                WaterL = d.Number("waterL", 0, 500)
            };
            if (amount is not null && unit is not null) dose = label;
            d.Done();
        }
        var counted = o.Code<DoseUnit>("unit");
        var holds = o.Number("holds", 0, 100_000, aboveMin: true);
        var price = o.Whole("priceMinor", 0, 100_000_000);
        var caution = o.Text("caution", most: 300);
        var retired = o.Flag("retired");
        var stock = new List<StockNote>();
        foreach (var s in o.Children("stock"))
        {
            if (s.Time("at", required: true) is { } at && s.Number("amount", 0, 1_000_000, required: true) is { } amount)
                stock.Add(new StockNote(at, amount, s.Flag("bought") == true));
            s.Done();
        }
        o.Done();
        if (id is null || name is null || kind is null) return null;
        var product = new Product(id, name, kind.Value, dose)
        {
            Unit = counted,
            Holds = holds,
            PriceMinor = price,
            Caution = caution,
            Retired = retired == true,
            Stock = [.. stock.OrderBy(s => s.At.ToInstant())]
        };
        if (LabelDoses.Problem(product) is not { } wrong) return product;
        o.Error(wrong.Field, $"accepted is: {wrong.Accepted}");
        return null;
    }

    private static List<OwnChore> ReadChores(ObjectReader o)
    {
        var chores = new List<OwnChore>();
        foreach (var c in o.Children("chores"))
        {
            if (ReadOwnChore(c) is not { } chore) continue;
            if (chores.Count >= MaxChores) c.Error("id", $"at most {MaxChores} chores are accepted");
            else if (chores.Any(x => x.Id == chore.Id)) c.Error("id", $"chore id '{chore.Id}' stands twice: ids must be unique within a rig");
            else chores.Add(chore);
        }
        foreach (var twice in chores.GroupBy(c => c.Name.Trim(), StringComparer.OrdinalIgnoreCase).Where(g => g.Count() > 1))
            o.Warn("chores", $"{twice.Count()} chores are called '{twice.Key}'");
        return chores;
    }

    private static OwnChore? ReadOwnChore(ObjectReader o)
    {
        var id = o.Text("id", required: true, most: EntryLimits.LongestId, blankAllowed: false);
        var name = o.Text("name", required: true, most: EntryLimits.LongestName, blankAllowed: false);
        var days = o.Whole("everyDays", 1, OwnChore.MaxDays);
        var months = o.Whole("everyMonths", 1, OwnChore.MaxMonths);
        var times = o.Whole("timesAYear", 1, OwnChore.MaxTimes);
        var season = o.Code<ChoreSeason>("season");
        var trip = o.Flag("eachTrip");
        var steps = o.Texts("steps", most: OwnChore.MaxSteps, longest: EntryLimits.LongestNote);
        var parts = o.Text("parts", most: EntryLimits.LongestNote);
        var minutes = o.Number("minutes", 0, EntryLimits.MaxChoreMinutes);
        var cost = o.Whole("costMinor", 0, EntryLimits.MaxCostMinor);
        var note = o.Text("note", most: EntryLimits.LongestNote);
        var rhythms = new bool[] { o.Has("everyDays"), o.Has("everyMonths"), o.Has("timesAYear"), o.Has("season"), o.Has("eachTrip") }.Count(b => b);
        if (rhythms != 1) o.Error("everyDays", "exactly one of everyDays, everyMonths, timesAYear, season, eachTrip is accepted");
        if (trip == false) o.Error("eachTrip", "only true is accepted");
        if (id is not null && ChoreWords.All.Contains(id)) o.Error("id", $"'{id}' is a chore of the program's own: another id is accepted");
        o.Done();
        return id is null || name is null || rhythms != 1 || ChoreWords.All.Contains(id) ? null
            : new OwnChore(id, name)
            {
                EveryDays = days,
                EveryMonths = months,
                TimesAYear = times,
                Season = season,
                EachTrip = trip == true,
                Steps = steps ?? [],
                Parts = parts,
                Minutes = minutes,
                CostMinor = cost,
                Note = note
            };
    }

    private static void WriteChore(Utf8JsonWriter w, OwnChore c)
    {
        w.WriteStartObject();
        w.WriteString("id", c.Id);
        w.WriteString("name", c.Name);
        w.Optional("everyDays", c.EveryDays);
        w.Optional("everyMonths", c.EveryMonths);
        w.Optional("timesAYear", c.TimesAYear);
        w.Code("season", c.Season);
        if (c.EachTrip) w.WriteBoolean("eachTrip", true);
        if (c.Steps.Count > 0) w.Texts("steps", c.Steps);
        w.Optional("parts", c.Parts);
        w.Optional("minutes", c.Minutes);
        w.Optional("costMinor", c.CostMinor);
        w.Optional("note", c.Note);
        w.WriteEndObject();
    }

    private static void WriteProduct(Utf8JsonWriter w, Product p)
    {
        w.WriteStartObject();
        w.WriteString("id", p.Id);
        w.WriteString("name", p.Name);
        w.Code("kind", p.Kind);
        if (p.Dose is { } d)
        {
            w.WriteStartObject("dose");
            w.WriteNumber("amount", d.Amount);
            w.Code("unit", d.Unit);
            w.Optional("perL", d.PerL);
            w.Optional("most", d.Max);
            w.Optional("capMl", d.CapMl);
            w.Optional("lastsDays", d.LastsDays);
            w.Optional("waterL", d.WaterL);
            w.WriteEndObject();
        }
        w.Code("unit", p.Unit);
        w.Optional("holds", p.Holds);
        w.Optional("priceMinor", p.PriceMinor);
        w.Optional("caution", p.Caution);
        if (p.Retired) w.WriteBoolean("retired", true);
        w.WriteStartArray("stock");
        foreach (var s in p.Stock)
        {
            w.WriteStartObject();
            w.WriteString("at", Timestamps.Write(s.At));
            w.WriteNumber("amount", s.Amount);
            w.WriteBoolean("bought", s.Bought);
            w.WriteEndObject();
        }
        w.WriteEndArray();
        w.WriteEndObject();
    }

    private static Tank? ReadTank(ObjectReader o)
    {
        var id = o.Text("id", required: true, most: 60, blankAllowed: false);
        var name = o.Text("name");
        var role = o.Code<TankRole>("role", required: true);
        var capacity = o.Number("capacityL", 0, MaxCapacityL, required: true, aboveMin: true);
        var room = o.Number("roomAboveFullL", 0, capacity ?? MaxCapacityL);
        var monitor = o.Child("monitor", required: true) is { } m ? ReadMonitor(m) : null;
        var fixtures = o.Texts("fixtures");
        var share = o.Number("usageShare", 0, 1);
        double? length = o.Number("lengthM", 0, 50), width = o.Number("widthM", 0, 50), depth = o.Number("depthM", 0, 50);
        var history = new List<DatedCapacity>();
        foreach (var h in o.Children("capacityHistory"))
        {
            if (h.Time("from", true) is { } from && h.Number("capacityL", 0, MaxCapacityL, true, aboveMin: true) is { } litres)
                history.Add(new DatedCapacity(from, litres));
            h.Done();
        }
        var former = new List<FormerMonitor>();
        foreach (var f in o.Children("formerMonitors"))
        {
            if (f.Time("until", true) is { } until && f.Child("monitor", true) is { } fm && ReadMonitor(fm) is { } old)
                former.Add(new FormerMonitor(until, old));
            f.Done();
        }
        o.Done();
        return id is null || role is null || capacity is null || monitor is null ? null
            : new Tank(id, string.IsNullOrWhiteSpace(name) ? id : name, role.Value, capacity.Value)
            {
                RoomAboveFullL = room ?? 0,
                Monitor = monitor,
                Fixtures = fixtures ?? [],
                UsageShare = share,
                LengthM = length,
                WidthM = width,
                DepthM = depth,
                CapacityHistory = history,
                FormerMonitors = former,
            };
    }

    private static void WriteTank(Utf8JsonWriter w, Tank tank)
    {
        w.WriteStartObject();
        w.WriteString("id", tank.Id);
        w.WriteString("name", tank.Name);
        w.Code("role", tank.Role);
        w.WriteNumber("capacityL", tank.CapacityL);
        w.WriteNumber("roomAboveFullL", tank.RoomAboveFullL);
        WriteMonitor(w, tank.Monitor);
        w.Texts("fixtures", tank.Fixtures);
        w.Optional("usageShare", tank.UsageShare);
        w.Optional("lengthM", tank.LengthM);
        w.Optional("widthM", tank.WidthM);
        w.Optional("depthM", tank.DepthM);
        w.WriteStartArray("capacityHistory");
        foreach (var h in tank.CapacityHistory)
        {
            w.WriteStartObject();
            w.WriteString("from", Timestamps.Write(h.From));
            w.WriteNumber("capacityL", h.CapacityL);
            w.WriteEndObject();
        }
        w.WriteEndArray();
        if (tank.FormerMonitors.Count > 0)
        {
            w.WriteStartArray("formerMonitors");
            foreach (var f in tank.FormerMonitors)
            {
                w.WriteStartObject();
                w.WriteString("until", Timestamps.Write(f.Until));
                WriteMonitor(w, f.Monitor);
                w.WriteEndObject();
            }
            w.WriteEndArray();
        }
        w.WriteEndObject();
    }

    private static void WriteMonitor(Utf8JsonWriter w, TankMonitor monitor)
    {
        w.WriteStartObject("monitor");
        w.Code("kind", monitor.Kind);
        if (monitor.Kind == MonitorKind.Probes)
        {
            w.WriteStartArray("probes");
            foreach (var p in monitor.Probes)
            {
                w.WriteStartObject();
                w.WriteString("id", p.Id);
                w.WriteString("label", p.Label);
                w.WriteNumber("atFraction", p.AtFraction);
                w.Optional("wire", p.Wire);
                w.Optional("heightM", p.HeightM);
                w.Optional("note", p.Note);
                w.WriteEndObject();
            }
            w.WriteEndArray();
        }
        w.WriteEndObject();
    }

    private static TankMonitor? ReadMonitor(ObjectReader o)
    {
        var kind = o.Code<MonitorKind>("kind", required: true);
        var probes = new List<Probe>();
        var listed = 0;
        foreach (var p in o.Children("probes", required: kind == MonitorKind.Probes))
        {
            listed++;
            var id = p.Text("id", required: true, most: 60, blankAllowed: false);
            var label = p.Text("label", most: 60);
            var at = p.Number("atFraction", 0, 1, required: true);
            var wire = p.Text("wire");
            var height = p.Number("heightM", 0, 50);
            var note = p.Text("note");
            p.Done();
            if (id is null || at is null) continue;
            if (id.Contains(' ', StringComparison.Ordinal) || id == "-") p.Error("id", "a probe id without spaces is accepted, other than '-'");
            else if (probes.Any(x => x.Id == id)) p.Error("id", $"probe id '{id}' stands twice: ids must be unique within a tank");
            else probes.Add(new Probe(id, string.IsNullOrWhiteSpace(label) ? id : label, at.Value) { Wire = wire, HeightM = height, Note = note });
        }
        if (kind == MonitorKind.Probes && o.Has("probes") && listed == 0) o.Error("probes", "at least one probe is required");
        o.Done();
        return kind switch
        {
            MonitorKind.Probes => probes.Count == 0 ? null : TankMonitor.WithProbes([.. probes]),
            MonitorKind.Percent => TankMonitor.Percent,
            MonitorKind.None => TankMonitor.None,
            _ => null,
        };
    }

    private static Usage ReadUsage(ObjectReader o)
    {
        var black = o.Child("black") is { } b ? ReadRoleUsage(b, Usage.Default.Black) : Usage.Default.Black;
        var gray = o.Child("gray") is { } g ? ReadRoleUsage(g, Usage.Default.Gray) : Usage.Default.Gray;
        o.Done();
        return new Usage(black, gray);
    }

    private static RoleUsage ReadRoleUsage(ObjectReader o, RoleUsage standard)
    {
        const double most = 2000;
        var hookup = o.Number("hookupLPerPersonDay", 0, most) ?? standard.HookupLPerPersonDay;
        var partial = o.Number("partialLPerPersonDay", 0, most);
        var dry = o.Number("dryLPerPersonDay", 0, most) ?? standard.DryLPerPersonDay;
        var spread = o.Number("logSd", 0, 3) ?? standard.LogSd;
        o.Done();
        return new RoleUsage(hookup, partial, dry, spread);
    }

    private static void WriteRoleUsage(Utf8JsonWriter w, string name, RoleUsage u)
    {
        w.WriteStartObject(name);
        w.WriteNumber("hookupLPerPersonDay", u.HookupLPerPersonDay);
        w.Optional("partialLPerPersonDay", u.PartialLPerPersonDay);
        w.WriteNumber("dryLPerPersonDay", u.DryLPerPersonDay);
        w.WriteNumber("logSd", u.LogSd);
        w.WriteEndObject();
    }

    private static Equipment ReadEquipment(ObjectReader o)
    {
        var equipment = new Equipment
        {
            FlushInlet = o.Flag("flushInlet"),
            FlushInletLPerMin = o.Number("flushInletLPerMin", 0, 200),
            ReverseFlush = o.Flag("reverseFlush"),
            Wand = o.Text("wand"),
            EndValve = o.Flag("endValve"),
            ClearPiece = o.Flag("clearPiece"),
            BackflowPreventer = o.Flag("backflowPreventer"),
            WaterMeter = o.Flag("waterMeter"),
            JugL = o.Number("jugL", 0, 500),
            Macerator = o.Flag("macerator"),
            HoseLengthM = o.Number("hoseLengthM", 0, 100),
            ToiletDrop = o.Text("toiletDrop"),
            AddOnValve = o.Flag("addOnValve"),
            VentFan = o.Flag("ventFan"),
            GrayOnlyCap = o.Flag("grayOnlyCap"),
            FrostProof = o.Flag("frostProof"),
            OutletHeightM = o.Number("outletHeightM", -10, 10),
            SewerHeightM = o.Number("sewerHeightM", -10, 10),
        };
        o.Done();
        return equipment;
    }
}
