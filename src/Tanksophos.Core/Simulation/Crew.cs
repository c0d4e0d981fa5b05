using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Simulation;

/// <summary>A crew that lives in a rig with something wrong and writes down what it notices.</summary>
/// <param name="seed">Seed of all that happens.</param>
/// <param name="condition">What is wrong with black; null for no condition.</param>
/// <param name="odor">What smells; null for no smell.</param>
internal class Crew(long seed, CrewIllness? condition, CrewSmell? odor)
{
    private static readonly Offset Zone = Offset.FromHours(-6);

    // Shared with who plays on from here.
    private protected readonly SeededRandom random = new(seed);
    private protected readonly List<LogEntry> log = [];
    private protected Rig rig = null!;
    private protected double level;
    private protected int days, onset;

    private protected static OffsetDateTime At(int day, double hour) => new LocalDateTime(2026, 4, 1, 0, 0).PlusDays(day).PlusMinutes((long)(hour * 60))
        .WithOffset(Zone);

    private protected bool Chance(double p) => random.Uniform() < p;

    private protected int Between(int low, int high) => low + (int)(random.Uniform() * (high - low + 1));

    private protected T Pick<T>(params (T Value, double Weight)[] of)
    {
        var r = random.Uniform() * of.Sum(o => o.Weight);
        foreach (var (value, weight) in of)
        {
            r -= weight;
            if (r <= 0) return value;
        }
        return of[^1].Value;
    }

    private bool Ill(CrewIllness c, int day) => condition == c && day >= onset;

    public Logbook Write()
    {
        days = Between(40, 75);
        onset = Between(days / 3, days * 2 / 3);
        var capacity = Pick((113.0, 1), (151.4, 2), (189.0, 1));
        var people = Between(1, 4);
        rig = new Rig("Practice", "trailer", people,
        [
            new Tank("black", "Black", TankRole.Black,
                capacity) { Monitor = TankMonitor.WithProbes(new Probe("low", "1/3", 0.33), new Probe("mid", "2/3", 0.66), new Probe("top", "Full", 0.92)),
                Fixtures = ["toilet"] },
            new Tank("gray", "Gray", TankRole.Gray, 1.2 * capacity) { Monitor = Chance(0.5) ? TankMonitor.Percent : TankMonitor.None },
        ])
        { Equipment = new Equipment { FlushInlet = Chance(0.6), JugL = 19 } };
        double perDay = people * 5.5 * Math.Exp(0.35 * random.Normal()), usual = 2.2 * Math.Exp(0.2 * random.Normal());
        bool writesStarter = Chance(0.7), sniffs = Chance(0.5), looks = Chance(0.7), stuck = condition == CrewIllness.Buildup && Chance(0.5);
        var hookup = Hookup.Full;
        var cycles = Pick((2.0, 1), (3.0, 2));
        var moves = 0;
        level = 0.02;
        var grayOpen = false;
        for (var day = 0; day < days; day++)
        {
            if (day >= moves)
            {
                hookup = Pick((Hookup.Full, 5), (Hookup.Partial, 2), (Hookup.Dry, 2));
                if (day > 0) log.Add(new DriveEntry { At = At(day, 9.5), Hours = Between(1, 5) });
                log.Add(new StayEntry { At = At(day, 14), Place = $"Place {moves}", Hookup = hookup });
                if (grayOpen && hookup != Hookup.Full) grayOpen = false;
                if (hookup == Hookup.Full && Chance(0.6) && odor != CrewSmell.ValveOpenToSewer)
                {
                    log.Add(new ValveEntry { At = At(day, 14.4), Tank = "gray", State = ValveState.Open });
                    grayOpen = true;
                }
                else if (grayOpen) log.Add(new ValveEntry { At = At(day, 9), Tank = "gray", State = ValveState.Closed });
                moves = day + Between(4, 11);
            }
            level = Math.Min(1, level + perDay * Math.Exp(0.3 * random.Normal()) * (hookup == Hookup.Dry ? 0.65 : 1) / capacity);
            if (Ill(CrewIllness.ValveLeak, day) && Chance(0.25)) level = Math.Max(0.05, level - 0.12);
            if (looks || Chance(0.15)) Panel(day, stuck);
            if (Chance(0.14)) log.Add(new ReadingEntry
            {
                At = At(day, 8.7),
                Tank = "black",
                Via = ReadingVia.Sight,
                Fraction = Math.Round(Math.Clamp(level + 0.05 * random.Normal(), 0, 1), 2)
            });
            if (level > 0.85 && Chance(0.3)) log.Add(new SymptomEntry { At = At(day, 9), Tank = "black", Code = SymptomCode.Gurgles });
            Signs(day);
            if (hookup == Hookup.Full && (level > 0.62 || moves == day + 1 && level > 0.4) || level > 0.9) Dump(day, usual, cycles, writesStarter, sniffs);
        }
        if (odor is { } cause) Smells(cause, hookup);
        // The season ends some days after the trouble began to be noticed.
        return new Logbook(rig, [.. log.OrderBy(e => e.At.ToInstant()).Select((e, i) => e with { Id = $"e{i}" })], At(days, 20));
    }

    private void Panel(int day, bool stuck)
    {
        var lit = rig.Tanks[0].Monitor.Probes.Where(p => (level >= p.AtFraction || stuck && day >= onset && p.Id == "low") ^ Chance(0.02))
            .Select(p => p.Id).ToList();
        log.Add(new ReadingEntry { At = At(day, 8.2), Tank = "black", Via = ReadingVia.Panel, Lit = lit });
    }

    private protected void Noticed(int day, SymptomCode code, double hour = 18) =>
        log.Add(new SymptomEntry { At = At(day, hour + random.Uniform()), Tank = Chance(0.8) ? "black" : null, Code = code });

    private protected void Checked(int day, CheckCode code, bool pass, double hour = 17) =>
        log.Add(new CheckEntry { At = At(day, hour), Code = code, Result = pass ? CheckResult.Pass : CheckResult.Fail });

    private protected void Signs(int day)
    {
        if (condition is not { } c || day < onset) return;
        var first = day == onset;
        switch (c)
        {
            case CrewIllness.Heap:
                if (first && Chance(0.5))
                {
                    log.Add(new ValveEntry { At = At(day - 6, 10), Tank = "black", State = ValveState.Open });
                    log.Add(new ValveEntry { At = At(day - 6 + Between(1, 5), 18), Tank = "black", State = ValveState.Closed });
                }
                if (Chance(0.1)) Noticed(day, SymptomCode.BacksUpOnFlush);
                if (Chance(0.07)) Noticed(day, SymptomCode.FillsTooSoon);
                if (Chance(0.04)) Noticed(day, SymptomCode.DrainsSlowly);
                if (Chance(0.035)) Noticed(day, SymptomCode.HeapSeen);
                break;
            case CrewIllness.OutletClog:
                if (Chance(0.03)) Noticed(day, SymptomCode.DrainsSlowly);
                if (Chance(0.02)) Noticed(day, SymptomCode.BacksUpOnFlush);
                break;
            case CrewIllness.VentBlocked:
                if (level < 0.75 && Chance(0.12)) Noticed(day, SymptomCode.Gurgles);
                if (Chance(0.05)) Noticed(day, SymptomCode.DrainsSlowly);
                if (Chance(0.04)) log.Add(new OdorEntry
                {
                    At = At(day, 20),
                    Where = OdorPlace.ToiletOnFlush,
                    Smell = Smell.Sewage,
                    Strength = 3,
                    When = Chance(0.3) ? [OdorWhen.Always] : []
                });
                if (Chance(0.012)) Checked(day, CheckCode.RoofVentClear, false);
                break;
            case CrewIllness.ValveLeak:
                if (Chance(0.05)) Noticed(day, SymptomCode.ValveDrips);
                if (Chance(0.03)) Checked(day, CheckCode.CapDry, false);
                if (Chance(0.02)) Noticed(day, SymptomCode.ValveWontClose);
                break;
            case CrewIllness.ValveStiff:
                if (first || Chance(0.04)) Noticed(day, SymptomCode.ValveStiff);
                if (Chance(0.01)) Noticed(day, SymptomCode.ValveWontClose);
                break;
            case CrewIllness.Buildup:
                if (Chance(0.02)) Noticed(day, SymptomCode.FillsTooSoon);
                break;
        }
    }

    private protected void Dump(int day, double usual, double cycles, bool writesStarter, bool sniffs)
    {
        var minutes = usual * Math.Sqrt(level / 0.66) * Math.Exp(0.15 * random.Normal());
        DumpFlow? flow = Pick<DumpFlow?>((DumpFlow.Rush, 5), (DumpFlow.Steady, 3), (null, 2));
        Debris? debris = Pick<Debris?>((Debris.Paper, 3), (Debris.Chunks, 1), (Debris.Specks, 2), (null, 3), (Debris.None, 0.4));
        if (Ill(CrewIllness.OutletClog, day))
        {
            flow = Pick<DumpFlow?>((DumpFlow.Trickle, 4), (DumpFlow.Slow, 3), (DumpFlow.None, 2), (null, 1.5));
            minutes *= 2 + 5 * random.Uniform();
        }
        else if (Ill(CrewIllness.VentBlocked, day) && Chance(0.5))
        {
            flow = Chance(0.7) ? DumpFlow.Slow : DumpFlow.Steady;
            minutes *= 1.3 + 0.6 * random.Uniform();
        }
        else if (Ill(CrewIllness.Heap, day))
        {
            flow = Pick<DumpFlow?>((DumpFlow.Steady, 4), (DumpFlow.Slow, 1.5), (DumpFlow.Rush, 1.5), (null, 2));
            debris = Pick<Debris?>((Debris.None, 4), (Debris.Specks, 2), (null, 3), (Debris.Paper, 1));
        }
        else if (Chance(0.04)) flow = DumpFlow.Slow;
        log.Add(new DumpEntry { At = At(day, 10), Tank = "black", Minutes = Chance(0.7) ? Math.Round(minutes, 1) : null, Flow = flow, Debris = debris });
        if (Ill(CrewIllness.OutletClog, day) && flow is DumpFlow.Trickle or DumpFlow.None)
        {
            if (Chance(0.5)) Noticed(day, SymptomCode.NothingComesOut, 10);
            if (Chance(0.4)) log.Add(new ReadingEntry { At = At(day, 12), Tank = "black", Via = ReadingVia.Sight, Fraction = Math.Round(level * 0.9, 2) });
            level *= 0.8;
            return;
        }
        var ill = Ill(CrewIllness.Buildup, day);
        var took = Math.Clamp((int)Math.Round(cycles + 0.8 * random.Normal() + (ill ? 1 + 2.0 * (day - onset) / Math.Max(1, days - onset) : 0)), 1, 7);
        var dirty = ill && Chance(0.35);
        log.Add(new FlushEntry
        {
            At = At(day, 10.3),
            Tank = "black",
            Method = FlushMethod.BuiltIn,
            Cycles = [.. Enumerable.Range(1, took)
            .Select(k => new FlushCycle(Chance(0.6) ? 60 : null, null, k == took && !dirty ? EndColor.Clear : k == 1 ? EndColor.Dark : EndColor.Tinted,
            k == took && !dirty ? Debris.None : Debris.Paper))]
        });
        level = 0.02;
        if (sniffs && Chance(0.7)) Checked(day, CheckCode.SniffTest, !(ill ? Chance(0.6) : Chance(0.05)), 11);
        if (ill && Chance(0.25))
            log.Add(new OdorEntry { At = At(day, 12), Where = OdorPlace.Bathroom, Smell = Smell.Sewage, Strength = 2, When = [OdorWhen.RightAfterDump] });
        if (writesStarter && Chance(0.95)) log.Add(new WaterEntry { At = At(day, 11.2), Tank = "black", WaterL = 14, Purpose = WaterPurpose.Starter });
        if (Chance(0.7)) log.Add(new DoseEntry { At = At(day, 11.3), Tank = "black", Recipe = DoseRecipe.Enzyme });
        if (condition != CrewIllness.ValveLeak && Chance(0.12)) Checked(day, CheckCode.CapDry, true, 9.8);
        level += 14 / rig.Tanks[0].CapacityL;
    }

    // One to three tellings in the last ten days, with what people say around them.
    private protected void Smells(CrewSmell cause, Hookup hookup)
    {
        var last = days - Between(0, 3);
        var tellings = Between(1, 3);
        for (var i = 0; i < tellings; i++)
        {
            var day = last - i * Between(1, 3);
            var (place, smell) = (Place(cause), SmellOf(cause));
            var when = new List<OdorWhen>();
            void May(OdorWhen w, double p)
            {
                if (Chance(p)) when.Add(w);
            }
            switch (cause)
            {
                case CrewSmell.FanDraw: May(OdorWhen.FanOn, 0.75); May(OdorWhen.RoofVentOpen, 0.35); break;
                case CrewSmell.BowlSeal: May(OdorWhen.Always, 0.6); May(OdorWhen.AfterStorage, 0.3); break;
                case CrewSmell.BlackAnaerobic: May(OdorWhen.HotDay, 0.7); May(OdorWhen.Always, 0.1); break;
                case CrewSmell.BlackCoated: May(OdorWhen.RightAfterDump, 0.7); break;
                case CrewSmell.DryTrap: May(OdorWhen.UnusedFixture, 0.55); May(OdorWhen.AfterStorage, 0.3); break;
                case CrewSmell.GrayGreasy: May(OdorWhen.DrainingSink, 0.65); May(OdorWhen.HotDay, 0.2); break;
                case CrewSmell.ValveOpenToSewer: May(OdorWhen.HookedUp, 0.7); break;
                case CrewSmell.VentBlocked: May(OdorWhen.Always, 0.35); break;
                case CrewSmell.HoseOrCap: May(OdorWhen.HookedUp, 0.3); May(OdorWhen.Driving, 0.1); break;
            }
            if (Chance(0.12)) when.Add(Pick((OdorWhen.HotDay, 1.0), (OdorWhen.HookedUp, 1), (OdorWhen.Always, 0.7)));
            var hour = 12 + 8 * random.Uniform();
            if (cause == CrewSmell.BlackCoated && when.Contains(OdorWhen.RightAfterDump) && i == 0)
            {
                log.Add(new DumpEntry { At = At(day, hour - 1.5), Tank = "black", Flow = DumpFlow.Steady });
                if (Chance(0.5)) Checked(day, CheckCode.SniffTest, false, hour - 1);
            }
            log.Add(new OdorEntry { At = At(day, hour), Where = place, Smell = smell, Strength = Between(1, 5), When = [.. when.Distinct()] });
        }
        if (cause == CrewSmell.ValveOpenToSewer)
        {
            if (hookup != Hookup.Full) log.Add(new StayEntry { At = At(last - 8, 13), Place = "Sewer site", Hookup = Hookup.Full });
            log.Add(new ValveEntry { At = At(last - 7, 15), Tank = Chance(0.5) ? "gray" : "black", State = ValveState.Open });
        }
        if (cause == CrewSmell.VentBlocked)
        {
            if (Chance(0.6)) Noticed(last - 1, SymptomCode.Gurgles);
            if (Chance(0.4)) Noticed(last - 2, SymptomCode.DrainsSlowly);
            if (Chance(0.25)) Checked(last, CheckCode.RoofVentClear, false);
        }
        if (cause == CrewSmell.BowlSeal && Chance(0.5))
        {
            if (Chance(0.5)) Noticed(last - 1, SymptomCode.BowlGoesDry);
            else Checked(last, CheckCode.BowlHoldsWater, false, 21);
        }
        if (cause == CrewSmell.DryTrap && Chance(0.3)) Checked(last, CheckCode.TrapsWet, false, 21);
        if (cause == CrewSmell.HoseOrCap && Chance(0.4)) Checked(last, Chance(0.5) ? CheckCode.CapDry : CheckCode.HoseSound, false, 21);
        if (cause == CrewSmell.Propane && Chance(0.8)) log.Add(new SymptomEntry { At = At(last, 21), Code = SymptomCode.PropaneAlarm });
        // A check that points away, now and then.
        if (cause != CrewSmell.BowlSeal && Chance(0.2)) Checked(last, CheckCode.BowlHoldsWater, true, 21.2);
        if (cause != CrewSmell.DryTrap && Chance(0.2)) Checked(last, CheckCode.TrapsWet, true, 21.3);
    }

    private OdorPlace Place(CrewSmell cause) => Chance(0.07) ? (OdorPlace)Between(0, 8) : cause switch
    {
        CrewSmell.FanDraw => Pick((OdorPlace.ToiletOnFlush, 7.0), (OdorPlace.Bathroom, 3)),
        CrewSmell.BowlSeal => Pick((OdorPlace.Bathroom, 8.0), (OdorPlace.WholeRig, 1)),
        CrewSmell.BlackAnaerobic => Pick((OdorPlace.Bathroom, 5.0), (OdorPlace.ToiletOnFlush, 3), (OdorPlace.WholeRig, 2)),
        CrewSmell.BlackCoated => Pick((OdorPlace.Bathroom, 5.0), (OdorPlace.ToiletOnFlush, 4)),
        CrewSmell.DryTrap => Pick((OdorPlace.Shower, 4.0), (OdorPlace.Floor, 3), (OdorPlace.BathSink, 2), (OdorPlace.GalleySink, 0.5)),
        CrewSmell.GrayGreasy => Pick((OdorPlace.GalleySink, 7.0), (OdorPlace.BathSink, 1.5), (OdorPlace.Shower, 1)),
        CrewSmell.ValveOpenToSewer => Pick((OdorPlace.WholeRig, 5.0), (OdorPlace.Shower, 2), (OdorPlace.BathSink, 1), (OdorPlace.Bathroom, 2)),
        CrewSmell.VentBlocked => Pick((OdorPlace.ToiletOnFlush, 6.0), (OdorPlace.Bathroom, 3)),
        CrewSmell.HoseOrCap => Pick((OdorPlace.Outside, 5.0), (OdorPlace.StorageBay, 5)),
        CrewSmell.Propane => Pick((OdorPlace.Floor, 4.0), (OdorPlace.WholeRig, 3), (OdorPlace.GalleySink, 2)),
    };

    private Smell SmellOf(CrewSmell cause) => Chance(0.06) ? (Smell)Between(0, 5) : cause switch
    {
        CrewSmell.BlackAnaerobic => Pick((Smell.RottenEgg, 8.0), (Smell.Sewage, 2)),
        CrewSmell.GrayGreasy => Pick((Smell.Rancid, 8.0), (Smell.Musty, 1), (Smell.Sewage, 1)),
        CrewSmell.Propane => Pick((Smell.Gas, 9.0), (Smell.RottenEgg, 1)),
        CrewSmell.FanDraw or CrewSmell.BowlSeal or CrewSmell.BlackCoated or CrewSmell.DryTrap or CrewSmell.ValveOpenToSewer
            or CrewSmell.VentBlocked or CrewSmell.HoseOrCap =>
            Pick((Smell.Sewage, 7.0), (Smell.RottenEgg, 2), (Smell.Musty, 1)),
    };
}
