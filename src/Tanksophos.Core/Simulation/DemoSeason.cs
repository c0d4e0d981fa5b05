using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Trips;

namespace Tanksophos.Core.Simulation;

/// <summary>
/// The scenario that a demonstration starts with: an invented rig and crew, a few weeks of entries up to now. It holds a lying lamp, a
/// bank-and-dump stay and a dry stretch. The same seed and moment give the same log.
/// </summary>
public static class DemoSeason
{
    /// <summary>The seed of the demonstration.</summary>
    public const long Seed = 2718;

    private const int Days = 24;
    private const int LampFoulsOnDay = 11;
    private const double BlackFactor = 0.97;
    private const double GrayFactor = 0.82;

    private static readonly DateTimeZone Zone = DateTimeZoneProviders.Tzdb["America/Denver"];

    /// <summary>Lamps that are fouled in it, as tank and probe.</summary>
    public static IReadOnlyList<(string Tank, string Probe)> Fouled { get; } = [("black", "low")];

    /// <summary>The invented rig.</summary>
    public static Rig Rig { get; } = new("Old Biscuit", "travel-trailer", 2,
    [
        new Tank("black", "Black", TankRole.Black, 151.4)
        {
            RoomAboveFullL = 12.1,
            Monitor = TankMonitor.WithProbes(new Probe("low", "1/3", 0.33), new Probe("mid", "2/3", 0.66), new Probe("top", "Full", 0.92)),
            Fixtures = ["toilet"],
            LengthM = 1.1, WidthM = 0.6, DepthM = 0.23,
        },
        new Tank("bath", "Bath gray", TankRole.Gray, 151.4)
        {
            RoomAboveFullL = 7.6,
            Monitor = TankMonitor.WithProbes(new Probe("q1", "1/4", 0.25), new Probe("q2", "1/2", 0.5), new Probe("q3", "3/4", 0.75),
                new Probe("full", "Full", 0.95)),
            Fixtures = ["bath-sink", "shower"],
            UsageShare = 0.65,
            LengthM = 1.3, WidthM = 0.6, DepthM = 0.2,
        },
        new Tank("galley", "Galley gray", TankRole.Gray, 113.6)
        {
            Monitor = TankMonitor.Percent,
            Fixtures = ["galley-sink"],
            UsageShare = 0.35,
            LengthM = 0.9, WidthM = 0.6, DepthM = 0.22,
        },
    ])
    {
        FreshCapacityL = 189,
        Equipment = new Equipment
        {
            FlushInlet = true,
            FlushInletLPerMin = 8.5,
            ReverseFlush = false,
            Wand = "flexible",
            EndValve = false,
            ClearPiece = true,
            BackflowPreventer = true,
            WaterMeter = false,
            JugL = 19,
            Macerator = false,
            HoseLengthM = 4.6,
            ToiletDrop = "straight",
        },
    };

    /// <summary>The log up to a moment.</summary>
    /// <param name="now">The present moment; nothing in the log is later.</param>
    /// <param name="seed">Seed of the generator.</param>
    public static Logbook Until(Instant now, long seed = Seed) =>
        new(Stocked(now.InZone(Zone).Date.PlusDays(-Days)), new Season(now.InZone(Zone).Date.PlusDays(-Days), now, seed).Write());

    // The shelf, counted on the first day.
    private const double Gallon = UsMeasures.GallonL, FluidOunce = UsMeasures.FluidOunceMl, DoseMl = 8 * FluidOunce;

    private static Rig Stocked(LocalDate first)
    {
        Product Counted(Product product, double left) =>
            product with { Stock = [new StockNote((first + new LocalTime(13, 0)).InZoneLeniently(Zone).ToOffsetDateTime(), left, false)] };
        return Rig with
        {
            UnusedFixtures = ["washer drain"],
            Chores = [new OwnChore("own-steps", "Grease the steps") { EveryMonths = 3, Minutes = 10 }],
            Products =
            [
                Counted(new Product("enzyme", "Enzyme in the brown jug", Substance.Cultures,
                    new LabelDose(DoseMl, DoseUnit.Ml) { PerL = 40 * Gallon, Max = 2 * DoseMl, WaterL = 3 * Gallon }) { Holds = 8 * DoseMl, PriceMinor = 2150,
                    Caution = "keep from frost" }, 5 * DoseMl),
                Counted(new Product("borax", "Box of borax", Substance.Borax, null) { Unit = DoseUnit.G, Holds = 1840, PriceMinor = 650 }, 1300),
                Counted(new Product("soap", "Dish soap", Substance.DishSoap, null) { Unit = DoseUnit.Ml, Holds = 830, PriceMinor = 340 }, 500),
            ],
        };
    }

    /// <summary>
    /// The trip that is under way at a moment: out of a full hookup, a dry stretch on which gray fills first, a busy station, water without a sewer, and a
    /// sewer at the end.
    /// </summary>
    /// <param name="now">The present moment, as for the log.</param>
    public static Itinerary TripAt(Instant now)
    {
        var first = now.InZone(Zone).Date.PlusDays(-Days);
        Stop At(string id, string name, int day, int nights, StopHookup hookup) => Itinerary.UsualStop(id, name, Zone, first.PlusDays(day), nights, hookup,
            2) with
        { HighC = 27 };
        var hollow = At("s1", "Lantern Hollow", 19, 7, StopHookup.Full);
        var trip = new Itinerary("High plains loop",
            [hollow with { Arrive = (first.PlusDays(19) + new LocalTime(11, 0)).InZoneLeniently(Zone).ToOffsetDateTime() }]);
        OffsetDateTime Late(int day, int hour) => (first.PlusDays(day) + new LocalTime(hour, 0)).InZoneLeniently(Zone).ToOffsetDateTime();
        Stop[] others =
        [
            At("s2", "Cinder Flat", 26, 6, StopHookup.Dry) with { DriveHoursBefore = 3.5, HighC = 31, People = 3, Depart = Late(32, 17) },
            At("s3", "Crossroads station", 32, 0, StopHookup.DumpStation) with { DriveHoursBefore = 0.7, Busy = true, FeeMinor = 1000 },
            At("s4", "Sallow Bay", 32, 3, StopHookup.Partial) with { DriveHoursBefore = 2.5 },
            At("s5", "Nettle Bench", 35, 4, StopHookup.Full) with { DriveHoursBefore = 3, Septic = true },
        ];
        return others.Aggregate(trip, (t, s) => t.Add(s, t.Stops.Count));
    }

    // Plays the weeks with a hidden true level, and writes down what the crew would have.
    private sealed class Season(LocalDate first, Instant now, long seed)
    {
        private readonly SeededRandom random = new(seed);
        private readonly List<(Instant At, Func<OffsetDateTime, IEnumerable<LogEntry>> Write)> plan = [];
        private readonly List<LogEntry> log = [];
        private readonly Dictionary<string, double> truth = new() { ["black"] = 2, ["bath"] = 2, ["galley"] = 1 };
        private readonly Circumstances circumstances = new(Rig);
        private readonly Dictionary<(string, LocalDate), double> dayFactor = [];
        private bool fouled;

        public List<LogEntry> Write()
        {
            Arrive(0, 14, "Tallow Flat", Hookup.Dry);
            At(0, 14, 20, t => [new WaterEntry { At = t, Tank = "black", WaterL = 15, Purpose = WaterPurpose.Starter }]);
            At(0, 14, 25, t => [new DoseEntry { At = t, Tank = "black", Recipe = DoseRecipe.Enzyme, Amount = "8 fl oz",
                Used = [new ProductUse("enzyme", Math.Round(DoseMl, 2))] }]);
            At(1, 9, 30, t => [new ChoreEntry { At = t, Chore = ChoreWords.Traps, Result = ChoreResult.Done, Minutes = 2 }]);
            Flashlight(2);
            Leave(5, 9, 2.5);
            Arrive(5, 12, "Nettle Bench", Hookup.Full);
            DumpRun(5, 13, 3);
            Valves(5, 14, ValveState.Open);
            At(9, 10, 0, t => [new OdorEntry { At = t, Where = OdorPlace.GalleySink, Smell = Smell.Rancid, Strength = 2, When = [OdorWhen.DrainingSink] }]);
            At(9, 19, 0, t => [new DoseEntry { At = t, Tank = "galley", Recipe = DoseRecipe.GraySoap, Amount = Treatments.Recipes.GraySquirt, WaterL = 4,
                Used = [new ProductUse("soap", 15)] }]);
            Valves(10, 12, ValveState.Closed);
            At(LampFoulsOnDay, 12, 0, _ => Foul());
            DumpRun(12, 8, 4);
            Leave(12, 10, 3);
            Arrive(12, 14, "Quillwater", Hookup.Partial);
            At(13, 16, 0, t => [new ServiceEntry { At = t, Code = ServiceCode.ValveLubricated, Tank = "galley", Note = "it was getting stiff" }]);
            At(13, 16, 30, t => [new ChoreEntry { At = t, Chore = ChoreWords.Traps, Result = ChoreResult.Done, Minutes = 2 }]);
            Flashlight(14);
            Leave(15, 9, 1.5);
            Arrive(15, 11, "Three Kettles", Hookup.Dry);
            At(16, 17, 0, t => [new PeopleEntry { At = t, Count = 3, Note = "a friend for the night" }]);
            Flashlight(17);
            At(17, 11, 0, t => [new PeopleEntry { At = t, Count = 2 }]);
            Leave(19, 8, 2);
            Arrive(19, 11, "Lantern Hollow", Hookup.Full);
            DumpRun(19, 12, 3);
            At(19, 12, 50, t => [new ChoreEntry { At = t, Chore = ChoreWords.HoseInspection, Result = ChoreResult.Done, Minutes = 4, CostMinor = 650,
                Note = "new cap gasket" }]);
            Valves(19, 13, ValveState.Open);
            Flashlight(22);
            for (var day = 0; day <= Days; day++)
            {
                Panel(day, 8, 10);
                // None on the last evening, so that the demonstration finds the same rig at whatever hour it is started.
                if (day < Days) Panel(day, 20, 40);
            }

            Instant? clock = null;
            foreach (var (at, write) in plan.Where(p => p.At <= now).OrderBy(p => p.At))
            {
                if (clock is { } from) Flow(from, at);
                clock = at;
                foreach (var entry in write(at.InZone(Zone).ToOffsetDateTime()))
                {
                    circumstances.Apply(entry);
                    log.Add(entry);
                    if (entry is WaterEntry or DoseEntry) truth[entry.Tank!] += (entry as WaterEntry)?.WaterL ?? (entry as DoseEntry)?.WaterL ?? 0;
                    if (entry is DumpEntry or FlushEntry) truth[entry.Tank!] = DumpEntry.ResidueFraction * Rig.Find(entry.Tank)!.CapacityL;
                }
            }
            return log;
        }

        private void At(int day, int hour, int minute, Func<OffsetDateTime, IEnumerable<LogEntry>> write) =>
            plan.Add(((first.PlusDays(day) + new LocalTime(hour, minute)).InZoneLeniently(Zone).ToInstant(), write));

        private void Arrive(int day, int hour, string place, Hookup hookup) =>
            At(day, hour, 0, t => [new StayEntry { At = t, Place = place, Hookup = hookup, Zone = Zone }]);

        private void Leave(int day, int hour, double hours) =>
            At(day, hour, 30, t => [new DriveEntry { At = t, Hours = hours }]);

        private void Valves(int day, int hour, ValveState state)
        {
            At(day, hour, 5, t => [new ValveEntry { At = t, Tank = "bath", State = state }]);
            At(day, hour, 6, t => [new ValveEntry { At = t, Tank = "galley", State = state }]);
        }

        private void DumpRun(int day, int hour, int cycles)
        {
            At(day, hour, 5, t => [new DumpEntry { At = t, Tank = "black", Minutes = 2.5, Flow = DumpFlow.Rush, End = EndColor.Dark, Debris = Debris.Paper }]);
            At(day, hour, 20, t => [new FlushEntry { At = t, Tank = "black", Method = FlushMethod.BuiltIn,
                Cycles = [.. Enumerable.Range(1, cycles)
                .Select(i => new FlushCycle(60, null, i == cycles ? EndColor.Clear : EndColor.Tinted, i == 1 ? Debris.Paper : Debris.Specks))] }]);
            At(day, hour, 25, t => [new DumpEntry { At = t, Tank = "bath", Minutes = 3 }]);
            At(day, hour, 29, t => [new DumpEntry { At = t, Tank = "galley", Minutes = 2 }]);
            At(day, hour, 36, t => [new CheckEntry { At = t, Code = CheckCode.SniffTest, Result = CheckResult.Pass }]);
            At(day, hour, 40, t => [new WaterEntry { At = t, Tank = "black", WaterL = 15, Purpose = WaterPurpose.Starter }]);
            At(day, hour, 42, t => [new DoseEntry { At = t, Tank = "black", Recipe = DoseRecipe.Enzyme, Amount = "8 fl oz",
                Used = [new ProductUse("enzyme", Math.Round(DoseMl, 2))] }]);
        }

        private void Flashlight(int day) => At(day, 18, 30, t =>
        {
            var seen = Math.Clamp(truth["black"] / 151.4 + 0.04 * random.Normal(), 0, 1);
            return [new ReadingEntry { At = t, Tank = "black", Via = ReadingVia.Sight, Fraction = Math.Round(seen * 20) / 20 }];
        });

        private void Panel(int day, int hour, int minute)
        {
            At(day, hour, minute, t => [new ReadingEntry { At = t, Tank = "black", Via = ReadingVia.Panel, Lit = Lit("black", fouled ? "low" : null) }]);
            At(day, hour, minute, t => [new ReadingEntry { At = t, Tank = "bath", Via = ReadingVia.Panel, Lit = Lit("bath", null) }]);
            if (hour > 12) At(day, hour, minute,
                t => [new ReadingEntry { At = t, Tank = "galley", Via = ReadingVia.Panel,
                Percent = Math.Round(Math.Clamp(100 * truth["galley"] / 113.6 + 2 * random.Normal(), 0, 100)) }]);
        }

        private List<string> Lit(string tank, string? stuckOn) =>
            [.. Rig.Find(tank)!.Monitor.Probes.Where(p => p.Id == stuckOn || truth[tank] >= p.AtFraction * Rig.Find(tank)!.CapacityL).Select(p => p.Id)];

        private IEnumerable<LogEntry> Foul()
        {
            fouled = true;
            return [];
        }

        private void Flow(Instant from, Instant to)
        {
            if (circumstances.DrivingUntil is { } arrival) from = Instant.Max(from, arrival);
            foreach (var tank in Rig.Tanks)
            {
                var mean = circumstances.People * Rig.MedianInflow(tank, circumstances.Hookup) * (tank.Role == TankRole.Black ? BlackFactor : GrayFactor);
                foreach (var (day, share, _) in UseHours.Days(from, to, Zone))
                {
                    if (!dayFactor.TryGetValue((tank.Id, day), out var factor)) dayFactor[(tank.Id, day)] = factor = random.Scatter(Usage.DayLogSd);
                    truth[tank.Id] = Math.Min(tank.CapacityL, truth[tank.Id] + mean * share * factor);
                }
                if (circumstances.IsOpen(tank.Id)) truth[tank.Id] = DumpEntry.ResidueFraction * tank.CapacityL;
            }
        }
    }
}
