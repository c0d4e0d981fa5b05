using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Simulation;

/// <summary>What was really so in a simulated rig at a moment.</summary>
/// <param name="At">The moment.</param>
/// <param name="Tank">Id of the tank.</param>
/// <param name="LevelL">Litres in it.</param>
/// <param name="Probes">True state of each of its probes, by id.</param>
public sealed record Truth(OffsetDateTime At, string Tank, double LevelL, IReadOnlyDictionary<string, ProbeState> Probes);

/// <summary>A simulated season: what its crew wrote down, and what was really so.</summary>
/// <param name="Logbook">The log as its crew wrote it.</param>
/// <param name="Truth">The truth, every six hours and at each reading, in the order of time.</param>
public sealed record SimulatedSeason(Logbook Logbook, IReadOnlyList<Truth> Truth)
{
    /// <summary>Plays a scenario. The same scenario gives the same season on every machine.</summary>
    /// <exception cref="ArgumentNullException">No scenario is given.</exception>
    public static SimulatedSeason Simulate(Scenario scenario)
    {
        ArgumentNullException.ThrowIfNull(scenario);
        return new Play(scenario, World.Usual).Run();
    }

    /// <summary>Plays a scenario in a world with other rates.</summary>
    internal static SimulatedSeason Simulate(Scenario scenario, World world) => new Play(scenario, world).Run();

    private sealed class Play
    {
        private static readonly DateTimeZone Zone = DateTimeZoneProviders.Tzdb["America/Denver"];
        private static readonly LocalDate First = new(2026, 4, 3);

        private readonly Scenario scenario;
        private readonly World world;
        private readonly Rig rig;
        private readonly SeededRandom random;
        private readonly List<LogEntry> log = [];
        private readonly List<Truth> truth = [];
        private readonly List<TankPlay> tanks;
        private readonly bool writesFlow;
        private readonly double firstLook, secondLook; // chance of a look at the panel, evening and morning
        private readonly double sightsPerDay, dumpsAbove;
        private Hookup hookup;
        private int people, guests;
        private bool guestsWritten;
        private Instant now;
        private int daysSinceDump;

        public Play(Scenario scenario, World world)
        {
            (this.scenario, this.world) = (scenario, world);
            rig = scenario.Rig;
            random = new SeededRandom(scenario.Seed);
            people = rig.People;
            var usage = rig.Usage ?? Usage.Default;
            tanks = [.. rig.Tanks.Select(t => new TankPlay(Really(t), world, random, Math.Exp(usage.For(t.Role).LogSd * random.Normal())))];
            writesFlow = random.Uniform() < 0.6;
            var watchful = random.Uniform();
            (firstLook, secondLook) = watchful < 0.3 ? (0.45, 0.0) : watchful < 0.7 ? (1.0, 0.0) : (1.0, 1.0);
            var curious = random.Uniform();
            sightsPerDay = curious < 0.4 ? 0 : curious < 0.7 ? 0.05 : 0.15;
            dumpsAbove = 0.5 + 0.2 * random.Uniform();
            now = At(0, 12);
        }

        // What a tank really holds; the rig says what stands on its plate.
        private Tank Really(Tank tank)
        {
            if (world.CapacityOff == 0) return tank;
            var factor = random.Uniform() < 0.5 ? 1 - world.CapacityOff : 1 + world.CapacityOff;
            return tank with { CapacityL = factor * tank.CapacityL, RoomAboveFullL = factor * tank.RoomAboveFullL };
        }

        public SimulatedSeason Run()
        {
            for (var day = 0; day < scenario.Days;)
            {
                var nights = Math.Min(scenario.Days - day, 1 + (int)(random.Uniform() * 6));
                Arrive(day);
                for (var d = 0; d < nights; d++, day++) Day(day, last: d == nights - 1);
            }
            var asOf = At(scenario.Days, 12).InZone(Zone).ToOffsetDateTime();
            Until(asOf.ToInstant());
            Note();
            return new SimulatedSeason(new Logbook(rig, [.. log.OrderBy(e => e.Instant)], asOf), truth);
        }

        private static Instant At(int day, double hour) => (First.PlusDays(day).AtMidnight() + Period.FromMinutes((long)(hour * 60))).InZoneLeniently(Zone)
            .ToInstant();

        private void Write(Func<OffsetDateTime, LogEntry> entry) => log.Add(entry(now.InZone(Zone).ToOffsetDateTime()));

        private void Arrive(int day)
        {
            Until(At(day, 13 + 3 * random.Uniform()));
            var kind = random.Uniform();
            hookup = day == 0 || kind < 0.42 ? Hookup.Full : kind < 0.62 ? Hookup.Partial : kind < 0.68 ? Hookup.GrayDrain : Hookup.Dry;
            // Nobody carries a tank that will not last into the wilderness: then the next place has a sewer.
            if (hookup != Hookup.Full && tanks.Any(t => t.Level > 0.6 * t.Tank.CapacityL)) hookup = Hookup.Full;
            Write(t => new StayEntry { At = t, Place = World.Places[(int)(random.Uniform() * World.Places.Count)], Hookup = hookup, Zone = Zone });
            if (day > 0 && hookup == Hookup.Full && BlackWanted()) DumpRun();
            if (hookup is Hookup.Full or Hookup.GrayDrain && random.Uniform() < 0.5) Valves(ValveState.Open);
        }

        private void Day(int day, bool last)
        {
            if (random.Uniform() < 0.02) People(day, 9.5, random.Uniform() < 0.4 ? 0 : rig.People + 1 + (int)(random.Uniform() * 2));
            else if (people != rig.People && random.Uniform() < 0.5) People(day, 9.5, rig.People);
            if (world.GuestWeekends > 0) Guests(day);
            for (var n = 0; n < 2; n++)
            {
                if (random.Uniform() >= (n == 0 ? secondLook : firstLook)) continue;
                Until(At(day, n == 0 ? 8 + random.Uniform() : 18 + 3 * random.Uniform()));
                Panel();
            }
            foreach (var tank in tanks.Where(t => t.Tank.Role == TankRole.Black && random.Uniform() < sightsPerDay)) Sight(tank);
            Until(At(day, 21.5));
            foreach (var tank in tanks) Notice(tank);
            daysSinceDump++;
            if (hookup == Hookup.Full && BlackWanted() && !last)
            {
                Valves(ValveState.Closed);
                Until(At(day + 1, 9));
                DumpRun();
                if (random.Uniform() < 0.5) Valves(ValveState.Open);
            }
            foreach (var gray in tanks.Where(t => t.Tank.Role == TankRole.Gray && !t.Open && t.Level > 0.75 * t.Tank.CapacityL))
                if (hookup is Hookup.Full or Hookup.GrayDrain) Dump(gray);
            if (!last) return;
            Valves(ValveState.Closed);
            Until(At(day + 1, 9 + random.Uniform()));
            if (hookup == Hookup.Full && (BlackWanted() || random.Uniform() < 0.4)) DumpRun();
            else if (tanks.Any(t => t.Level > 0.85 * t.Tank.CapacityL)) // a station on the way
            {
                Write(t => new StayEntry { At = t, Place = "A station on the way", Hookup = Hookup.Full, Zone = Zone });
                hookup = Hookup.Full;
                DumpRun();
            }
            var hours = 1 + 3 * random.Uniform();
            Write(t => new DriveEntry { At = t, Hours = Math.Round(hours, 1) });
            driving = now + Duration.FromHours(hours);
        }

        private Instant? driving;

        private bool BlackWanted() => tanks.Any(t => t.Tank.Role == TankRole.Black && (t.Level > dumpsAbove * t.Tank.CapacityL || daysSinceDump > 9))
            || (tanks.All(t => t.Tank.Role == TankRole.Gray) && tanks.Any(t => t.Level > 0.5 * t.Tank.CapacityL));

        // Guests come on Saturday morning and leave on Monday; not every crew writes them down.
        private void Guests(int day)
        {
            var weekday = First.PlusDays(day).DayOfWeek;
            if (guests > 0 && weekday == IsoDayOfWeek.Monday) (guests, people) = GuestsLogged(day, 0);
            else if (guests == 0 && people > 0 && weekday == IsoDayOfWeek.Saturday && random.Uniform() < world.GuestWeekends)
                (guests, people) = GuestsLogged(day, 1 + (int)(random.Uniform() * 2));
        }

        private (int Guests, int People) GuestsLogged(int day, int count)
        {
            Until(At(day, 8));
            var aboard = people - guests + count;
            if (count > 0) guestsWritten = random.Uniform() < world.GuestsWritten;
            if (guestsWritten) Write(t => new PeopleEntry { At = t, Count = aboard });
            return (count, aboard);
        }

        private void People(int day, double hour, int count)
        {
            Until(At(day, hour));
            (people, guests) = (count, 0);
            Write(t => new PeopleEntry { At = t, Count = count });
        }

        private void Valves(ValveState state)
        {
            foreach (var gray in tanks.Where(t => t.Tank.Role == TankRole.Gray && t.Open != (state == ValveState.Open)))
            {
                now += Duration.FromMinutes(1);
                gray.Open = state == ValveState.Open;
                if (gray.Open) gray.Emptied(now, Residue(gray));
                Write(t => new ValveEntry { At = t, Tank = gray.Tank.Id, State = state });
            }
        }

        private double Residue(TankPlay tank) => world.ResidueShare * tank.Tank.CapacityL * random.Scatter(world.ResidueLogSd);

        private void Dump(TankPlay tank)
        {
            now += Duration.FromMinutes(2);
            var (clog, vent) = (Has(tank, Trouble.OutletClog), Has(tank, Trouble.VentBlocked));
            var minutes = 0.5 + 2.5 * Math.Sqrt(tank.Level / tank.Tank.CapacityL) * random.Scatter(0.15) * (clog ? world.ClogMinutes : vent
                ? world.VentMinutes : 1);
            DumpFlow? flow = clog ? random.Uniform() < 0.4 ? DumpFlow.Trickle : DumpFlow.Slow : !writesFlow ? null : vent ? DumpFlow.Slow
                : Has(tank, Trouble.Heap) || tank.Level <= 0.45 * tank.Tank.CapacityL ? DumpFlow.Steady : DumpFlow.Rush;
            if (Has(tank, Trouble.ValveStiff) && random.Uniform() < 0.5)
                Write(t => new SymptomEntry { At = t, Tank = tank.Tank.Id, Code = SymptomCode.ValveStiff });
            Write(t => new DumpEntry { At = t, Tank = tank.Tank.Id, Minutes = writesFlow ? Math.Round(minutes, 1) : null, Flow = flow });
            if (flow == DumpFlow.Trickle) tank.Add(-world.ClogLeaves * random.Uniform() * tank.Level);
            else tank.Emptied(now, Residue(tank));
        }

        private bool Has(TankPlay tank, Trouble trouble) =>
            scenario.Troubles.Any(t => t.Tank == tank.Tank.Id && t.Code == trouble && now >= At(0, 0) + Duration.FromDays(t.FromDay));

        // What a crew notices of a trouble, on some days.
        private void Notice(TankPlay tank)
        {
            foreach (var (trouble, codes) in ((Trouble, SymptomCode[])[])[
                (Trouble.Heap, [SymptomCode.BacksUpOnFlush, SymptomCode.BacksUpOnFlush, SymptomCode.FillsTooSoon, SymptomCode.HeapSeen]),
                (Trouble.OutletClog, [SymptomCode.DrainsSlowly]), (Trouble.VentBlocked, [SymptomCode.Gurgles, SymptomCode.DrainsSlowly]),
                    (Trouble.ValveLeak, [SymptomCode.ValveDrips])])
                if (Has(tank, trouble) && random.Uniform() < world.Notices)
                    Write(t => new SymptomEntry { At = t, Tank = tank.Tank.Id, Code = codes[(int)(random.Uniform() * codes.Length)] });
        }

        private void DumpRun()
        {
            foreach (var black in tanks.Where(t => t.Tank.Role == TankRole.Black))
            {
                Dump(black);
                var dirty = Has(black, Trouble.Buildup);
                var cycles = 1 + (int)(random.Uniform() * 4) + (dirty ? world.BuildupCycles : 0);
                now += Duration.FromMinutes(4 * cycles);
                Write(t => new FlushEntry
                {
                    At = t,
                    Tank = black.Tank.Id,
                    Method = rig.Equipment?.FlushInlet == true ? FlushMethod.BuiltIn
                    : FlushMethod.Bucket,
                    Cycles = [.. Enumerable.Range(1, cycles)
                    .Select(i => new FlushCycle(45, null, i == cycles && !dirty ? EndColor.Clear : dirty && i < 4 ? EndColor.Dark : EndColor.Tinted, null))]
                });
                black.Emptied(now, Residue(black));
            }
            foreach (var gray in tanks.Where(t => t.Tank.Role == TankRole.Gray && !t.Open)) Dump(gray);
            foreach (var black in tanks.Where(t => t.Tank.Role == TankRole.Black))
            {
                now += Duration.FromMinutes(5);
                var litres = Math.Round((0.06 + 0.06 * random.Uniform()) * black.Tank.CapacityL, 1);
                Write(t => new WaterEntry { At = t, Tank = black.Tank.Id, WaterL = litres, Purpose = WaterPurpose.Starter });
                black.Add(litres * random.Scatter(0.05));
                Write(t => new DoseEntry { At = t, Tank = black.Tank.Id, Recipe = DoseRecipe.Enzyme, Amount = "8 fl oz" });
            }
            daysSinceDump = 0;
        }

        private void Panel()
        {
            foreach (var tank in tanks)
            {
                if (tank.Tank.Monitor.Kind == MonitorKind.None) continue;
                if (tank.Tank.Monitor.Kind == MonitorKind.Percent)
                {
                    var shown = Math.Round(Math.Clamp(100 * (Math.Min(tank.Level, tank.Tank.FullMarkL) / tank.Tank.FullMarkL + tank.Coating
                        + world.PercentSd * random.Normal()), 0, 100));
                    Write(t => new ReadingEntry { At = t, Tank = tank.Tank.Id, Via = ReadingVia.Panel, Percent = shown });
                }
                else
                {
                    var lit = tank.Lit(now);
                    Write(t => new ReadingEntry { At = t, Tank = tank.Tank.Id, Via = ReadingVia.Panel, Lit = lit });
                }
            }
            Note();
        }

        private void Sight(TankPlay tank)
        {
            var seen = Math.Clamp(tank.Level / tank.Tank.CapacityL + world.SightSd * random.Normal(), 0, 1);
            Write(t => new ReadingEntry { At = t, Tank = tank.Tank.Id, Via = ReadingVia.Sight, Fraction = Math.Round(seen * 20) / 20 });
        }

        private void Note()
        {
            var at = now.InZone(Zone).ToOffsetDateTime();
            truth.AddRange(tanks.Select(t => new Truth(at, t.Tank.Id, t.Level, t.States)));
        }

        private void Until(Instant to)
        {
            if (to <= now) return;
            foreach (var fault in scenario.Faults.OrderBy(f => f.FromDay))
            {
                var from = At(0, 0) + Duration.FromDays(fault.FromDay);
                if (from > now && from <= to) tanks.First(t => t.Tank.Id == fault.Tank).Set(fault.Probe, fault.State);
            }
            var start = driving is { } arrival ? Instant.Max(now, Instant.Min(arrival, to)) : now;
            if (driving <= to) driving = null;
            // Water runs from six in the morning until eleven at night, in the truth as in life.
            foreach (var (date, share) in Hours(start, to))
                foreach (var tank in tanks) tank.Flow(people * rig.MedianInflow(tank.Tank, hookup), share, date, random);
            foreach (var tank in tanks)
            {
                tank.Coated = Has(tank, Trouble.Buildup) ? world.BuildupTakes : 0;
                if (Has(tank, Trouble.ValveLeak)) tank.Add(-Math.Min(tank.Level, world.LeakPerDay * tank.Tank.CapacityL * (to - now).TotalDays));
            }
            foreach (var tank in tanks) tank.Age((to - now).TotalDays, scenario.Faults.Any(f => f.Tank == tank.Tank.Id), random);
            var noted = now;
            now = to;
            if ((to - noted).TotalHours >= 6) Note();
        }

        private static IEnumerable<(LocalDate Date, double Share)> Hours(Instant from, Instant to)
        {
            for (var date = from.InZone(Zone).Date; date <= to.InZone(Zone).Date; date = date.PlusDays(1))
            {
                var open = (date + new LocalTime(6, 0)).InZoneLeniently(Zone).ToInstant();
                var close = (date + new LocalTime(23, 0)).InZoneLeniently(Zone).ToInstant();
                var share = (Instant.Min(close, to) - Instant.Max(open, from)) / (close - open);
                if (share > 0) yield return (date, share);
            }
        }
    }

    private sealed class TankPlay(Tank tank, World world, SeededRandom random, double household)
    {
        private readonly Dictionary<string, ProbeState> states = tank.Monitor.Probes.ToDictionary(p => p.Id, _ => ProbeState.Working);
        private readonly Dictionary<string, Instant> filmUntil = [];
        private LocalDate day;
        private double dayFactor = 1;

        public Tank Tank => tank;

        public double Level { get; private set; } = 0.03 * tank.CapacityL;

        public bool Open { get; set; }

        /// <summary>How much too high a strip reads, as a share.</summary>
        public double Coating { get; private set; }

        public IReadOnlyDictionary<string, ProbeState> States => new Dictionary<string, ProbeState>(states);

        public void Set(string probe, ProbeState state) => states[probe] = state;

        /// <summary>Share of the tank that a coat takes up: so much less fits, and the liquid stands so much higher.</summary>
        public double Coated { get; set; }

        public void Add(double litres) => Level = Math.Clamp(Level + litres, 0, (1 - Coated) * tank.CapacityL);

        public void Flow(double median, double share, LocalDate date, SeededRandom chance)
        {
            if (date != day) (day, dayFactor) = (date, chance.Scatter(world.DayLogSdOf(chance)));
            if (!Open) Add(median * household * dayFactor * share);
        }

        public void Emptied(Instant at, double residue)
        {
            foreach (var probe in tank.Monitor.Probes.Where(p => p.AtFraction * tank.CapacityL <= Level))
                if (random.Uniform() < world.FilmChance)
                    filmUntil[probe.Id] = at + Duration.FromHours(world.FilmHours(at, random));
            Level = Math.Min(Level, residue);
        }

        /// <summary>Faults set in by themselves, unless the scenario says what fails in this tank.</summary>
        public void Age(double days, bool told, SeededRandom chance)
        {
            if (tank.Monitor.Kind == MonitorKind.Percent) Coating = Math.Max(0, Coating + 0.0006 * days * chance.Scatter(0.5));
            if (told) return;
            foreach (var (probe, lowest) in tank.Monitor.Probes.Select((p, i) => (p, i == 0)))
            {
                if (states[probe.Id] != ProbeState.Working) continue;
                var mean = lowest && tank.Role == TankRole.Black ? world.FoulDaysBlackLowest : world.FoulDays;
                if (chance.Uniform() < days / mean) states[probe.Id] = ProbeState.StuckOn;
                else if (chance.Uniform() < days / world.BreakDays) states[probe.Id] = ProbeState.StuckOff;
            }
        }

        public List<string> Lit(Instant at)
        {
            var lit = new List<string>();
            foreach (var probe in tank.Monitor.Probes)
            {
                var gap = Level / ((1 - Coated) * tank.CapacityL) - probe.AtFraction;
                var wet = gap >= 0 || (filmUntil.TryGetValue(probe.Id, out var until) && at < until);
                if (Math.Abs(gap) < world.FlickerNear && random.Uniform() < world.FlickerChance) wet = !wet;
                var on = states[probe.Id] switch { ProbeState.StuckOn => true, ProbeState.StuckOff => false, ProbeState.Working => wet };
                if (random.Uniform() < world.Misread) on = !on;
                if (on) lit.Add(probe.Id);
            }
            return lit;
        }
    }
}
