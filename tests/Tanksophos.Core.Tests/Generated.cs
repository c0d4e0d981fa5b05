using CsCheck;
using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Tests;

/// <summary>Entries, rigs and whole logbooks with everything they can carry, made at random.</summary>
internal static class Generated
{
    private static readonly char[] Letters = ['a', 'Z', '7', ' ', '=', '+', '-', '@', '\'', '"', ',', ';', '\n', '\t', '\\', '<', '\u20ac', '\u00e9'];

    // Texts with what tables, spreadsheets and documents stumble over.
    public static readonly Gen<string> Words = Gen.Int[0, Letters.Length - 1].Select(i => Letters[i]).Array[0, 12].Select(c => new string(c).Trim());

    private static Gen<T> Code<T>() where T : struct, Enum => Gen.Int[0, Enum.GetValues<T>().Length - 1].Select(i => Enum.GetValues<T>()[i]);

    private static readonly Gen<OffsetDateTime> Times = Gen.Select(Gen.Long[0, 4_000_000_000], Gen.Int[-12 * 60, 14 * 60])
        .Select((s, o) => Instant.FromUnixTimeSeconds(s).WithOffset(Offset.FromSeconds(o * 60)));

    private static readonly Gen<double> Litres = Gen.Double[0, 500];

    private static readonly Gen<LogEntry> Bare = Gen.OneOf<LogEntry>(
        Gen.Select(Times, Code<Hookup>(), Words)
            .Select((t, h, p) => (LogEntry)new StayEntry
            {
                At = t,
                Hookup = h,
                Place = p.Length == 0 ? null : p,
                Zone = DateTimeZoneProviders.Tzdb["Europe/Paris"]
            }),
        Gen.Select(Times, Gen.Int[0, 20]).Select((t, n) => (LogEntry)new PeopleEntry { At = t, Count = n }),
        Gen.Select(Times, Litres, Code<WaterPurpose>()).Select((t, l, p) => (LogEntry)new WaterEntry { At = t, Tank = "black", WaterL = l, Purpose = p }),
        Gen.Select(Times, Gen.Double[0, 1], Code<ReadingVia>())
            .Select((t, f, v) => (LogEntry)new ReadingEntry { At = t, Tank = "black", Via = v, Fraction = f, Lit = v == ReadingVia.Panel ? ["low"] : null }),
        Gen.Select(Times, Code<DumpFlow>(), Code<EndColor>(), Code<Debris>(), Litres)
            .Select((t, f, e, d, l) => (LogEntry)new DumpEntry { At = t, Tank = "black", Flow = f, End = e, Debris = d, VolumeL = l }),
        Gen.Select(Times, Code<FlushMethod>(), Gen.Select(Litres, Code<EndColor>()).Select((l, e) => new FlushCycle(null, l, e, null)).List[0, 5])
            .Select((t, m, c) => (LogEntry)new FlushEntry { At = t, Tank = "black", Method = m, Cycles = c }),
        Gen.Select(Times, Code<DoseRecipe>(), Litres)
            .Select((t, r, l) => (LogEntry)new DoseEntry { At = t, Tank = "black", Recipe = r, Amount = "1/2 cup", WaterL = l }),
        Gen.Select(Times, Gen.Double[0, 12], Gen.Bool).Select((t, h, w) => (LogEntry)new DriveEntry { At = t, Hours = h, Winding = w }),
        Gen.Select(Times, Code<OdorPlace>(), Code<Smell>(), Code<OdorWhen>().List[0, 3], Gen.Int[1, 5])
            .Select((t, p, s, w, n) => (LogEntry)new OdorEntry { At = t, Where = p, Smell = s, When = [.. w.Distinct()], Strength = n }),
        Gen.Select(Times, Code<SymptomCode>()).Select((t, c) => (LogEntry)new SymptomEntry { At = t, Code = c }),
        Gen.Select(Times, Code<CheckCode>(), Code<CheckResult>()).Select((t, c, r) => (LogEntry)new CheckEntry { At = t, Code = c, Result = r, Value = 3.5 }),
        Gen.Select(Times, Code<ServiceCode>(), Code<Grade>())
            .Select((t, c, g) => (LogEntry)new ServiceEntry
            {
                At = t,
                Code = c,
                Grade = g,
                Tank = "black",
                Probe = "low",
                CostMinor = 19000,
                Minutes = 90,
                PressureBar = 170.5,
                Floods = 3,
                Debris = Debris.Chunks,
                By = "Somebody, a firm",
                Frost = c == ServiceCode.SeasonClose
            }),
        Gen.Select(Times, Code<ChoreResult>(), Gen.Int[0, ChoreWords.Logged.Count - 1], Times, Gen.Int[0, 9000])
            .Select((t, r, c, until, cost) => (LogEntry)new ChoreEntry
            {
                At = t,
                Chore = ChoreWords.Logged[c],
                Result = r,
                Part = "cap gasket",
                CostMinor = cost,
                Minutes = 12.5,
                Until = r == ChoreResult.Skipped ? until : null
            }),
        Gen.Select(Times, Code<ValveState>()).Select((t, s) => (LogEntry)new ValveEntry { At = t, State = s, Tank = "gray" }));

    public static readonly Gen<LogEntry> Entries = Gen.Select(Bare, Words, Gen.Bool)
        .Select((e, note, named) => e with { Id = named ? "id-" + e.GetHashCode() : null, Note = note.Length == 0 ? null : note });

    private static readonly Gen<Probe> Probes = Gen.Select(Gen.Double[0, 1], Gen.Double[0, 2], Words)
        .Select((at, height, words) => new Probe("p", words.Length == 0 ? "p" : words, at) { HeightM = height, Wire = words, Note = words });

    private static readonly Gen<TankMonitor> Monitors = Gen.OneOf(
        Probes.Array[1, 4].Select(p => TankMonitor.WithProbes([.. p.Select((x, i) => x with { Id = i == 0 ? "low" : $"p{i}" })])),
        Gen.Bool.Select(b => b ? TankMonitor.Percent : TankMonitor.None));

    private static readonly Gen<Tank> Tanks = Gen.Select(Gen.Double[20, 400], Gen.Double[0, 1], Monitors, Gen.Select(Times, Monitors).Array[0, 2],
        Gen.Select(Times, Gen.Double[20, 400]).Array[0, 2], Words)
        .Select((capacity, share, monitor, former, history, words) => new Tank("black", words.Length == 0 ? "black" : words, TankRole.Black, capacity)
        {
            RoomAboveFullL = capacity * share / 4,
            Monitor = monitor,
            UsageShare = share,
            Fixtures = [words],
            LengthM = share,
            DepthM = share / 2,
            WidthM = 1,
            FormerMonitors = [.. former.Select(f => new FormerMonitor(f.Item1, f.Item2))
                .Append(new FormerMonitor(Given.Start, TankMonitor.WithProbes(new Probe("low", "1/3", 0.3))))],
            CapacityHistory = [.. history.Select(h => new DatedCapacity(h.Item1, h.Item2))],
        });

    private static readonly Gen<Equipment> Equipments = Gen.Select(Gen.Bool.Array[11], Gen.Double[0, 10], Words).Select((b, x, w) => new Equipment
    {
        FlushInlet = b[0],
        ReverseFlush = b[1],
        EndValve = b[2],
        ClearPiece = b[3],
        BackflowPreventer = b[4],
        WaterMeter = b[5],
        Macerator = b[6],
        AddOnValve = b[7],
        VentFan = b[8],
        GrayOnlyCap = b[9],
        FrostProof = b[10],
        FlushInletLPerMin = x,
        JugL = x,
        HoseLengthM = x,
        OutletHeightM = x,
        SewerHeightM = -x,
        Wand = w,
        ToiletDrop = w,
    });

    private static readonly Gen<HouseRules> Rules = Gen.Select(Gen.Double[0.1, 1], Gen.Int[1, 60], Code<GrayAtFullHookup>(), Code<FlushProgramme>(),
        Code<TreatmentSchool>(), Gen.Select(Code<BleachRule>(), Code<PaperRule>(), Code<StorageRule>(), Code<DeepCleanRule>()))
        .Select((at, days, gray, flush, treatment, more) => new HouseRules
        {
            DumpBlackAt = at,
            MaxDays = days,
            GrayAtFullHookup = gray,
            Flush = flush,
            Treatment = treatment,
            Bleach = more.Item1,
            Paper = more.Item2,
            Storage = more.Item3,
            DeepClean = more.Item4,
            OverflowRisk = at / 10
        });

    public static readonly Gen<Rig> Rigs = Gen.Select(Tanks, Tanks, Tanks, Gen.Select(Equipments, Rules, Times), Gen.Double[1, 100], Gen.Int[0, 9])
        .Select((black, gray, former, more, x, people) => new Rig("Any rig", "van", people, [black, gray with { Id = "gray", Role = TankRole.Gray }])
        {
            FormerTanks = [new FormerTank(more.Item3, former with { Id = "old" })],
            Equipment = more.Item1,
            Rules = more.Item2,
            // A bottle of every way to count: by label in mL, grams, caps and pieces, and what recipes measure.
            Products =
            [
                new Product("a", "A", Substance.Cultures, new LabelDose(30, DoseUnit.Ml) { PerL = 20 + x }) { Holds = 950, PriceMinor = people * 100,
                    Stock = [new StockNote(more.Item3, 10 * x, people > 4)] },
                new Product("b", "B", Substance.Yeast, new LabelDose(x, DoseUnit.G)),
                    new Product("c", "=C", Substance.Deodorant, new LabelDose(1, DoseUnit.Cap) { CapMl = 30, LastsDays = 1 + people }),
                new Product("d", "D", Substance.Cultures, new LabelDose(1, DoseUnit.Piece)) { Retired = true, Caution = "not near a flame" },
                new Product("e", "E", Substance.Borax, null) { Unit = DoseUnit.G, Holds = x * 20 },
                    new Product("f", "F", Substance.DishSoap, null) { Unit = DoseUnit.Ml },
            ],
            UnusedFixtures = people > 2 ? ["shower", "washer"] : null,
            Chores = [new OwnChore("heater", "Heater") { TimesAYear = 1 + people, Steps = ["off", "cool"], Minutes = x, CostMinor = people,
                Parts = "anode", Note = "n" },
                new OwnChore("roof", "Roof") { Season = people > 4 ? ChoreSeason.Open : ChoreSeason.Close }, new OwnChore("steps",
                    "Steps") { EachTrip = true },
                new OwnChore("bed", "Bed") { EveryDays = 1 + people }, new OwnChore("tires", "Tires") { EveryMonths = 1 + people }],
            ChoresOff = people > 6 ? ["gray-care"] : [],
            CareFrom = people > 7 ? more.Item3 : null,
            FreshCapacityL = x,
            Fresh = new FreshLevel(more.Item3, x / 2),
            Usage = new Usage(new RoleUsage(x, x / 2, x / 3, 0.4), new RoleUsage(x, null, x / 3, 0.5)),
        });

    public static readonly Gen<Logbook> Logbooks = Gen.Select(Rigs, Entries.Array[0, 12], Times)
        .Select((rig, entries, asOf) => new Logbook(rig, [.. entries.Select((e, i) => e with { Id = e.Id is null ? null : $"e{i}" })], asOf));
}
