using NodaTime;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Simulation;

namespace Tanksophos.Core.Practice;

/// <summary>
/// The rig behind a practice case: what is really in its tanks, what is wrong, what its crew wrote down, and what comes of a check. Played anew from its seed
/// whenever it is asked.
/// </summary>
internal sealed class HiddenRig : Crew
{
    private const double DayLogSd = 0.3, HouseholdLogSd = 0.25;
    private const double Apart = 0.12; // what a look tells apart
    private const int LongestStory = 45;

    private readonly long seed;
    private readonly PracticeTopic topic;
    private readonly int difficulty;
    private readonly Dictionary<(string Tank, string Probe), ProbeState> states = [];
    private readonly Dictionary<(string Tank, string Probe), double> film = []; // wet until, in hours of the story
    private readonly double usual;
    private double looks, dumpsAt = 0.6;
    private readonly double householdBlack, householdGray;
    private double gray = 0.02, blackToday = 1, grayToday = 1;
    private double hours = 12; // of the story, from its first midnight
    private int moves, place, people, coming;
    private Hookup hookup = Hookup.Full;
    private bool storyDone, panelDead, panelAllOn, grayOpen;
    private double dirt = RinseModel.AfterDump; // what a rinse has to carry out, 0..1
    private double nowHours;

    public HiddenRig(long seed, PracticeTopic topic, int difficulty, CaseAnswer answer) : base(seed, Illness(topic, answer), Odor(topic, answer))
    {
        (this.seed, this.topic, this.difficulty, Answer) = (seed, topic, difficulty, answer);
        var capacity = Pick((113.6, 1), (132.5, 1), (151.4, 2), (170.3, 1));
        people = Between(1, 4);
        rig = new Rig("Practice", "trailer", people,
        [
            new Tank("black", "Black", TankRole.Black, capacity) { Monitor = Probes3(), Fixtures = ["toilet"] },
            new Tank("gray", "Gray", TankRole.Gray, Math.Round(1.25 * capacity, 1)) { Monitor = Probes3(), Fixtures = ["shower", "bath sink", "galley sink"] },
        ])
        { Equipment = new Equipment { FlushInlet = true, JugL = Math.Round(5 * UsMeasures.GallonL, 1) } };
        foreach (var tank in rig.Tanks) foreach (var probe in tank.Monitor.Probes) states[(tank.Id, probe.Id)] = ProbeState.Working;
        householdBlack = Math.Exp(HouseholdLogSd * random.Normal());
        householdGray = Math.Exp(HouseholdLogSd * random.Normal());
        usual = 2.2 * Math.Exp(0.2 * random.Normal());
        looks = difficulty switch { 1 => 1.0, 2 => 0.75, _ => 0.5 };
        level = 0.02;
        Play();
        storyDone = true;
        nowHours = hours;
    }

    /// <summary>Whether this crew's life never came to what the case needs; another seed may.</summary>
    public bool Failed { get; private set; }

    public CaseAnswer Answer { get; }

    /// <summary>Whether people come along of whom the log knows nothing.</summary>
    public bool GuestsCome => coming > 0;

    /// <summary>Whether the panel shows every light on.</summary>
    public bool AllOn => panelAllOn;

    public CaseQuestion Question { get; private set; }

    public int Nights { get; private set; }

    public List<CaseTracePoint> Trace { get; } = [];

    private static TankMonitor Probes3() =>
        TankMonitor.WithProbes(new Probe("low", "1/3", 0.33), new Probe("mid", "2/3", 0.66), new Probe("top", "Full", 0.92));

    private static CrewIllness? Illness(PracticeTopic topic, CaseAnswer answer) => topic != PracticeTopic.Clogs ? null : answer switch
    {
        CaseAnswer.Heap => CrewIllness.Heap,
        CaseAnswer.OutletClog => CrewIllness.OutletClog,
        CaseAnswer.VentBlocked => CrewIllness.VentBlocked,
        CaseAnswer.Buildup => CrewIllness.Buildup,
        CaseAnswer.ValveLeak => CrewIllness.ValveLeak,
        _ => null,
    };

    private static CrewSmell? Odor(PracticeTopic topic, CaseAnswer answer) =>
        topic == PracticeTopic.Smells && Enum.TryParse<CrewSmell>(answer.ToString(), out var smell) ? smell : null;

    /// <summary>The log as the learner sees it.</summary>
    public Logbook Told() => new(rig, [.. log.Where(e => e.Instant <= Now.ToInstant()).OrderBy(e => e.Instant).Select((e, i) => e with { Id = $"e{i}" })], Now);

    public Dictionary<string, double> Levels() => rig.Tanks.ToDictionary(t => t.Id, t => Share(t) * t.CapacityL);

    public Dictionary<string, IReadOnlyDictionary<string, ProbeState>> Probes() => rig.Tanks.ToDictionary(t => t.Id,
        t => (IReadOnlyDictionary<string, ProbeState>)t.Monitor.Probes.ToDictionary(p => p.Id, p => states[(t.Id, p.Id)]));

    private OffsetDateTime Now => At((int)(nowHours / 24), nowHours % 24);

    private double Share(Tank tank) => tank.Role == TankRole.Black ? level : gray;

    private Tank Black => rig.Tanks[0];

    private Tank Gray => rig.Tanks[1];

    // What runs in on a day of the median household, as a share of the tank.
    private double PerDay(Tank tank, Hookup at, int count) =>
        count * rig.MedianInflow(tank, at) * (tank.Role == TankRole.Black ? householdBlack : householdGray) / tank.CapacityL;

    private void Until(int day, double hour)
    {
        var to = 24.0 * day + hour;
        while (hours < to)
        {
            var midnight = 24 * (Math.Floor(hours / 24) + 1);
            var end = Math.Min(to, midnight);
            var start = hours % 24;
            var stop = end - 24 * Math.Floor(hours / 24);
            var share = Math.Max(0, Math.Min(stop, UseHours.To.Hour) - Math.Max(start, UseHours.From.Hour)) / (UseHours.To.Hour - UseHours.From.Hour);
            level = Math.Min(1, level + PerDay(Black, hookup, people) * blackToday * share);
            if (!grayOpen) gray = Math.Min(1, gray + PerDay(Gray, hookup, people) * grayToday * share);
            hours = end;
            if (hours == midnight) (blackToday, grayToday) = (Math.Exp(DayLogSd * random.Normal()), Math.Exp(DayLogSd * random.Normal()));
            Mark();
        }
    }

    private void Mark()
    {
        if (storyDone) return;
        var at = At((int)(hours / 24), hours % 24).ToInstant();
        foreach (var tank in rig.Tanks) Trace.Add(new CaseTracePoint(at, tank.Id, Share(tank) * tank.CapacityL));
    }

    private bool Lit(Tank tank, Probe probe)
    {
        if (panelDead) return false;
        if (panelAllOn) return true;
        return states[(tank.Id, probe.Id)] switch
        {
            ProbeState.StuckOn => true,
            ProbeState.StuckOff => false,
            _ => Share(tank) >= probe.AtFraction || film.TryGetValue((tank.Id, probe.Id), out var until) && hours < until,
        };
    }

    private List<ReadingEntry> Panel() => [.. rig.Tanks.Select(t => new ReadingEntry
    {
        At = At((int)(hours / 24), hours % 24), Tank = t.Id, Via = ReadingVia.Panel, Lit = [.. t.Monitor.Probes.Where(p => Lit(t, p)).Select(p => p.Id)],
    })];

    // A day: a move, a dump where it is time, a look at the panel in the evening.
    private void Day(int day)
    {
        if (day >= moves) Arrive(day);
        else if (hookup == Hookup.Full && level > dumpsAt) DumpRun(day, 10);
        // Gray goes as often as it takes.
        foreach (var hour in (double[])[10, 15, 19])
        {
            if (hours <= 24.0 * day + hour) Until(day, hour);
            if (hookup == Hookup.Full && gray > 0.5 && hours < 24.0 * day + 19.2) DumpGray(day, Math.Max(hour, hours - 24.0 * day));
        }
        Until(day, 19.5);
        if (Chance(looks)) log.AddRange(Panel());
        Signs(day);
        if (topic == PracticeTopic.Clogs && Answer == CaseAnswer.ValveLeak && day >= onset) level = Math.Max(0.03, level - 0.06);
    }

    private void Arrive(int day, Hookup? at = null)
    {
        if (day > 0)
        {
            if (hookup == Hookup.Full && (level > 0.35 || gray > 0.3)) DumpRun(day, 9);
            Until(day, 10);
            log.Add(new DriveEntry { At = At(day, 10), Hours = Between(1, 3) });
            hours = 24.0 * day + 14;
        }
        hookup = at ?? (level > 0.45 || gray > 0.45 || day == 0 ? Hookup.Full : Pick((Hookup.Full, 4), (Hookup.Partial, 1), (Hookup.Dry, 2)));
        place = (place + Between(1, 9)) % World.Places.Count;
        log.Add(new StayEntry { At = At(day, 14.1), Place = World.Places[place], Hookup = hookup });
        var dry = Math.Max(PerDay(Gray, hookup, people), PerDay(Black, hookup, people));
        moves = day + (hookup == Hookup.Full ? Between(3, 7) : Math.Clamp((int)((0.85 - gray) / (1.3 * dry)), 1, 5));
    }

    private void DumpRun(int day, double hour)
    {
        Until(day, hour);
        var before = level;
        var written = log.Count;
        Dump(day, usual, 2, true, difficulty < 3 && topic != PracticeTopic.Rinsing);
        // The crew's story dumps at ten; here it is some other hour.
        for (var i = written; i < log.Count; i++) log[i] = log[i] with { At = log[i].At.Plus(Duration.FromMinutes((long)Math.Round(60 * (hour - 10)))) };
        if (!grayOpen) DumpGray(day, hour + 0.7);
        hours = 24.0 * day + hour + 1.4;
        // With a clog hardly anything comes, and no light has a film to keep.
        if (level < before / 2) Films(Black, before);
    }

    private void DumpGray(int day, double hour)
    {
        Until(day, hour);
        var before = gray;
        log.Add(new DumpEntry { At = At(day, hour), Tank = "gray", Flow = Chance(0.5) ? DumpFlow.Steady : null });
        gray = 0.012;
        Films(Gray, before);
    }

    private void Films(Tank tank, double before)
    {
        foreach (var probe in tank.Monitor.Probes.Where(p => p.AtFraction <= before))
            if (Chance(World.Usual.FilmChance))
                film[(tank.Id, probe.Id)] = hours + Math.Min(10, -World.Usual.FilmMeanHours * Math.Log(1 - random.Uniform()));
        Mark();
    }

    // Goes on until black holds enough at a place with a sewer, and returns the day.
    private int UntilBlack(double from, int least)
    {
        var day = 0;
        for (; day < LongestStory; day++)
        {
            Day(day);
            if (day < least) continue;
            if (hookup == Hookup.Full)
            {
                // From here on they stay, and the next dump waits.
                moves = int.MaxValue;
                dumpsAt = Math.Max(dumpsAt, from + 0.05);
                if (level >= from) return day;
            }
            else moves = Math.Min(moves, day + 1);
        }
        Failed = true;
        return day;
    }

    private void Play()
    {
        switch (topic)
        {
            case PracticeTopic.Lamps: Lamps(); break;
            case PracticeTopic.Smells: Smelly(); break;
            case PracticeTopic.Clogs: Clogged(); break;
            case PracticeTopic.Rinsing: Rinsing(); break;
            default: Planning(); break;
        }
    }

    private void End(int day, double hour)
    {
        Until(day, hour);
        days = day;
    }

    private void Lamps()
    {
        onset = int.MaxValue;
        switch (Answer)
        {
            case CaseAnswer.StuckOn:
                {
                    Question = CaseQuestion.LitAfterDump;
                    var day = UntilBlack(0.67, Between(8, 14));
                    states[("black", "low")] = ProbeState.StuckOn;
                    if (Chance(difficulty == 1 ? 0.25 : 0.5)) states[("black", "mid")] = ProbeState.StuckOn;
                    DumpRun(day, 20);
                    End(day + 1, 16 + 4 * random.Uniform());
                    Failed |= level > 0.33 - Apart;
                    log.AddRange(Panel());
                    break;
                }
            case CaseAnswer.WetFilm:
                {
                    Question = CaseQuestion.LitAfterDump;
                    var day = UntilBlack(0.66, Between(8, 14));
                    End(day + 1, 9);
                    DumpRun(day + 1, 10);
                    film[("black", "low")] = hours + 6 + 4 * random.Uniform();
                    if (Chance(0.5)) film[("black", "mid")] = hours + 5 + 4 * random.Uniform();
                    End(day + 1, 12 + random.Uniform());
                    log.AddRange(Panel());
                    break;
                }
            case CaseAnswer.TankFull:
                {
                    // They pulled the gray handle and logged black.
                    Question = CaseQuestion.LitAfterDump;
                    var day = UntilBlack(0.69, Between(8, 14));
                    Until(day, 20);
                    log.Add(new DumpEntry { At = At(day, 20), Tank = "black", Minutes = Math.Round(0.6 + 0.4 * random.Uniform(), 1) });
                    gray = 0.02;
                    End(day + 1, 16 + 4 * random.Uniform());
                    log.AddRange(Panel());
                    break;
                }
            case CaseAnswer.StuckOff:
                {
                    Question = CaseQuestion.DarkLight;
                    var day = UntilBlack(0.02, Between(9, 14));
                    moves = int.MaxValue;
                    hookup = Hookup.Full;
                    states[("black", "low")] = ProbeState.StuckOff;
                    if (level > 0.3) DumpRun(++day, 10);
                    // Days until it is past the light, with nobody at the valve.
                    var past = Chance(0.5) ? 0.5 : 0.72;
                    while (level < past && day < LongestStory)
                    {
                        day++;
                        foreach (var hour in (double[])[12, 16, 19])
                        {
                            Until(day, hour);
                            if (gray > 0.5) DumpGray(day, hour);
                        }
                        Until(day, 19.5);
                        if (level < 0.3 || Chance(looks)) log.AddRange(Panel());
                    }
                    End(day, 21);
                    log.AddRange(Panel());
                    break;
                }
            case CaseAnswer.PanelFault:
                {
                    Question = CaseQuestion.AllAlike;
                    var day = UntilBlack(0.45, Between(8, 14));
                    panelAllOn = Chance(0.5);
                    panelDead = !panelAllOn;
                    End(day + 1, 8);
                    log.AddRange(Panel());
                    break;
                }
            default:
                {
                    Question = CaseQuestion.DarkLight;
                    var day = UntilBlack(0.55, Between(8, 14));
                    Until(day, 20.5);
                    log.AddRange(Panel());
                    Until(day + 1, 9);
                    (level, gray) = (0.02 + 14 / Black.CapacityL, 0.015);
                    Mark();
                    End(day + 1, 19 + 2 * random.Uniform());
                    log.AddRange(Panel());
                    break;
                }
        }
    }

    private void Smelly()
    {
        Question = CaseQuestion.Smell;
        onset = int.MaxValue;
        var length = Between(12, 18);
        for (var day = 0; day < length; day++) Day(day);
        days = length;
        // Nobody sits with a full gray tank; on a hookup gray goes, and black waits.
        var longer = Answer switch
        {
            CaseAnswer.BlackAnaerobic => 5,
            CaseAnswer.ValveOpenToSewer => 4,
            _ => gray > 0.5 || Answer == CaseAnswer.HoseOrCap ? 1 : 0
        };
        if (longer > 0)
        {
            if (hookup != Hookup.Full) Arrive(days, Hookup.Full);
            moves = int.MaxValue;
            if (Answer == CaseAnswer.BlackAnaerobic) dumpsAt = 2;
            for (var day = days + 1; day < days + longer; day++) Day(day);
            days += longer;
        }
        Until(days, 11);
        var written = log.Count;
        Smells(Odor(topic, Answer)!.Value, Hookup.Full);
        if (Answer == CaseAnswer.ValveOpenToSewer)
        {
            // Which valve it is shows at the handles; the crew's own words of it stay out of the log.
            log.RemoveAll(e => log.IndexOf(e) >= written && e is ValveEntry);
            grayOpen = true;
            gray = 0.012;
            if (difficulty == 1) log.Add(new ValveEntry { At = At(days - 2, 15), Tank = "gray", State = ValveState.Open });
        }
        var told = log.Skip(written).ToList();
        log.RemoveRange(written, log.Count - written);
        if (difficulty > 1) told.RemoveAll(e => e is CheckEntry or SymptomEntry { Code: not SymptomCode.PropaneAlarm });
        if (Answer == CaseAnswer.Propane && !told.Any(e => e is SymptomEntry { Code: SymptomCode.PropaneAlarm }))
            told.Add(new SymptomEntry { At = At(days, 21), Code = SymptomCode.PropaneAlarm });
        var smells = told.OfType<OdorEntry>().OrderBy(e => e.Instant).ToList();
        if (difficulty == 3) told.RemoveAll(e => e is OdorEntry o && o != smells[^1]);
        log.AddRange(told);
        if (told.Any(e => e is DumpEntry)) level = 0.04;
        End(days, 22.5);
        // Nobody sits with a black tank that is nearly full either.
        Failed |= level > 0.85;
    }

    private void Clogged()
    {
        Question = CaseQuestion.Trouble;
        var length = Between(24, 32);
        onset = length / 2;
        for (var day = 0; day < length; day++) Day(day);
        // A tank in trouble is not left at a place where nothing can be tried.
        if (hookup != Hookup.Full) Arrive(length, Hookup.Full);
        moves = int.MaxValue;
        days = length;
        log.RemoveAll(e => e is ValveEntry { Tank: "black" });
        if (Answer == CaseAnswer.TankFull)
        {
            // Nobody dumped, and nobody looked.
            (dumpsAt, looks) = (2, 0);
            while (level < 0.94 && days < 2 * LongestStory)
            {
                days++;
                foreach (var hour in (double[])[10, 15, 19.6])
                {
                    Until(days, hour);
                    if (gray > 0.5) DumpGray(days, hour);
                }
            }
            log.Add(new SymptomEntry { At = At(days, 20), Tank = "black", Code = Chance(0.6) ? SymptomCode.Gurgles : SymptomCode.BacksUpOnFlush });
        }
        if (difficulty > 1)
            log.RemoveAll(e => e is SymptomEntry { Code: SymptomCode.HeapSeen or SymptomCode.ValveDrips } or CheckEntry
                && e.Instant > At(onset, 0).ToInstant());
        if (!log.Any(e => e is SymptomEntry && e.Instant > At(days - 8, 0).ToInstant()))
            log.Add(new SymptomEntry
            {
                At = At(days, 17.5),
                Tank = "black",
                Code = Answer switch
                {
                    CaseAnswer.Heap => SymptomCode.BacksUpOnFlush,
                    CaseAnswer.VentBlocked => SymptomCode.Gurgles,
                    CaseAnswer.OutletClog => SymptomCode.DrainsSlowly,
                    CaseAnswer.ValveLeak => SymptomCode.ValveDrips,
                    _ => SymptomCode.FillsTooSoon,
                },
            });
        End(days, 20.5);
        level = Math.Min(level, 0.985);
    }

    private void Rinsing()
    {
        Question = CaseQuestion.Rinse;
        onset = int.MaxValue;
        var day = UntilBlack(0.66, Between(8, 14)) + 1;
        Until(day, 9.8);
        if (Answer == CaseAnswer.CloseGray)
        {
            log.Add(new ValveEntry { At = At(day - 1, 20.5), Tank = "gray", State = ValveState.Open });
            grayOpen = true;
            gray = 0.02;
        }
        var clogged = Answer == CaseAnswer.OutletClog;
        log.Add(new DumpEntry
        {
            At = At(day, 10),
            Tank = "black",
            Minutes = Math.Round(usual * (clogged ? 0.5 : 1), 1),
            Flow = clogged ? DumpFlow.Trickle : DumpFlow.Rush,
        });
        if (clogged) level *= 0.85;
        else level = 0.02;
        Films(Black, 0.66);
        dirt = Answer switch { CaseAnswer.Done => 0.05, CaseAnswer.DeepClean => 0.8, CaseAnswer.CloseGray => 0.4, _ => 0.45 + 0.2 * random.Uniform() };
        var done = Answer switch { CaseAnswer.Done => Between(2, 3), CaseAnswer.DeepClean => 5, CaseAnswer.OutletClog => 0, _ => Between(1, 2) };
        // The last end was not watched: the middle ran clear, and that is what the crew went by.
        if (done > 0)
            log.Add(new FlushEntry
            {
                At = At(day, 10.1 + 0.15 * done),
                Tank = "black",
                Method = FlushMethod.BuiltIn,
                Note = "Middle ran clear",
                Cycles = [.. Enumerable.Range(1, done).Select(k => new FlushCycle(null, Math.Round(RinsePlan.FillL(Black.CapacityL, false), 1),
                    k == done ? null : k == 1 ? EndColor.Dark : EndColor.Tinted, k == done ? null : Debris.Paper))],
            });
        hours = 24.0 * day + 10.2 + 0.15 * done;
        End(day, 10.25 + 0.15 * done);
    }

    private EndColor EndNow() => RinseModel.Looks(dirt);

    private void Planning()
    {
        onset = int.MaxValue;
        var sewer = Answer is CaseAnswer.DumpNow or CaseAnswer.TopUpThenDump or CaseAnswer.GrayOnly;
        Question = sewer ? CaseQuestion.Leaving : CaseQuestion.Staying;
        if (difficulty == 3)
        {
            dumpsAt = 0.8;
            if (Chance(0.5)) coming = 2; // guests of whom the log knows nothing yet
        }
        for (var day = 0; day < LongestStory; day++)
        {
            Day(day);
            if (day < 8 || hookup != (sewer ? Hookup.Full : Hookup.Dry)) continue;
            if (sewer) moves = Math.Max(moves, day + 2);
            // An evening on which the answer is plain, also for who is somewhat wrong about it.
            foreach (var nights in (int[])[3, 2, 4, 5, 6])
            {
                Nights = nights;
                if (!Plain(Answer)) continue;
                if (log.OfType<ReadingEntry>().All(r => r.Instant < At(day, 19).ToInstant())) log.AddRange(Panel());
                End(day, 20);
                return;
            }
        }
        Failed = true;
    }

    private bool Plain(CaseAnswer answer)
    {
        foreach (var rate in (double[])[0.75, 1, 1.3])
            foreach (var off in (double[])[-0.05, 0, 0.05])
                if (TripCall.For(Question, level + off, gray + off, rate * PerDay(Black, Hookup.Dry, people + coming),
                    rate * PerDay(Gray, Hookup.Dry, people + coming), Nights,
                    Gray.CapacityL / Black.CapacityL) != answer) return false;
        return true;
    }

    /// <summary>What may be asked for in this case.</summary>
    public List<Evidence> Offered()
    {
        var litres = MeteredL;
        Evidence Of(EvidenceCode code) => code switch
        {
            EvidenceCode.Flashlight => new(code, 2, 0, Mess.Clean),
            EvidenceCode.AskCrew => new(code, 2, 0, Mess.Clean),
            EvidenceCode.Handles => new(code, 1, 0, Mess.Clean),
            EvidenceCode.Battery => new(code, 3, 0, Mess.Clean),
            EvidenceCode.PanelTomorrow => new(code, 1440, 0, Mess.Clean),
            EvidenceCode.Wiring => new(code, 25, 0, Mess.Some),
            EvidenceCode.MeteredFill => new(code, 10, litres, Mess.Clean),
            EvidenceCode.GasOut => new(code, 30, 0, Mess.Clean),
            EvidenceCode.Sniff => new(code, 1, 0, Mess.Clean),
            EvidenceCode.FanOff => new(code, 2, Math.Round(RinsePlan.BowlL, 1), Mess.Clean),
            EvidenceCode.BowlHolds => new(code, 60, Math.Round(RinsePlan.BowlL, 1), Mess.Clean),
            EvidenceCode.Traps => new(code, 5, 0, Mess.Clean),
            EvidenceCode.SinkRun => new(code, 3, 4, Mess.Clean),
            EvidenceCode.AddWater => new(code, 60, Math.Round(2 * UsMeasures.GallonL, 1), Mess.Clean),
            EvidenceCode.RoofVent => new(code, 20, 0, Mess.Some),
            EvidenceCode.CapOff => new(code, 4, 0, Mess.Messy),
            EvidenceCode.Hose => new(code, 4, 0, Mess.Some),
            EvidenceCode.BowlFlush => new(code, 1, Math.Round(RinsePlan.BowlL, 1), Mess.Clean),
            EvidenceCode.DumpWatch => new(code, 8, 0, Mess.Messy),
            EvidenceCode.Cleanout => new(code, 10, 0, Mess.Messy),
            EvidenceCode.WatchEnd => new(code, 2, 0, Mess.Some),
            EvidenceCode.RinseWatch => new(code, 9, Math.Round(RinsePlan.FillL(Black.CapacityL, false), 1), Mess.Some),
        };
        EvidenceCode[] codes = topic switch
        {
            PracticeTopic.Lamps => [EvidenceCode.Flashlight, EvidenceCode.AskCrew, EvidenceCode.Battery, EvidenceCode.PanelTomorrow, EvidenceCode.Wiring,
                EvidenceCode.MeteredFill],
            PracticeTopic.Smells => [EvidenceCode.FanOff, EvidenceCode.BowlHolds, EvidenceCode.Traps, EvidenceCode.SinkRun, EvidenceCode.Sniff,
                EvidenceCode.AddWater, EvidenceCode.Handles, EvidenceCode.Hose, EvidenceCode.RoofVent, EvidenceCode.GasOut],
            PracticeTopic.Clogs => [EvidenceCode.Flashlight, EvidenceCode.BowlFlush, EvidenceCode.RoofVent, EvidenceCode.CapOff, EvidenceCode.Sniff,
                EvidenceCode.DumpWatch, EvidenceCode.Cleanout],
            PracticeTopic.Rinsing => [EvidenceCode.WatchEnd, EvidenceCode.RinseWatch, EvidenceCode.Sniff, EvidenceCode.Handles, EvidenceCode.Flashlight],
            _ => [EvidenceCode.Flashlight, EvidenceCode.AskCrew, EvidenceCode.Battery, EvidenceCode.MeteredFill],
        };
        return [.. codes.Select(Of)];
    }

    private double MeteredL => Math.Round(0.36 * Black.CapacityL, 1);

    /// <summary>Does a check, and says what is found.</summary>
    public EvidenceResult Ask(Evidence evidence)
    {
        var chance = new SeededRandom(unchecked(seed * 1_000_003 + 7_919 * (int)evidence.Code + 17));
        var entries = new List<LogEntry>();
        bool? found = null;
        Danger? danger = null;
        bool Finds() => chance.Uniform() < EvidenceOdds.Found(evidence.Code, Answer);
        var start = hours;
        hours += evidence.Code == EvidenceCode.PanelTomorrow ? 0 : evidence.Minutes / 60;
        OffsetDateTime at() => At((int)(hours / 24), hours % 24);
        void Check(CheckCode code, bool bad)
        {
            found = bad;
            entries.Add(new CheckEntry { At = at(), Code = code, Result = bad ? CheckResult.Fail : CheckResult.Pass });
        }
        void Notice(SymptomCode code) => entries.Add(new SymptomEntry { At = at(), Tank = "black", Code = code });
        void Pour(double litres, WaterPurpose purpose)
        {
            level += litres / Black.CapacityL;
            if (level > 1)
            {
                danger = Danger.Overfilled;
                level = 1;
            }
            entries.Add(new WaterEntry { At = at(), Tank = "black", WaterL = litres, Purpose = purpose });
        }
        switch (evidence.Code)
        {
            case EvidenceCode.Flashlight:
                if (Answer == CaseAnswer.Heap && topic == PracticeTopic.Clogs) found = Finds();
                else if (topic == PracticeTopic.Clogs) found = false;
                if (found == true) Notice(SymptomCode.HeapSeen);
                entries.Add(new ReadingEntry
                {
                    At = at(),
                    Tank = "black",
                    Via = ReadingVia.Sight,
                    Fraction = Math.Round(Math.Clamp(level + World.Usual.SightSd * chance.Normal(), 0.01, 1), 2),
                });
                break;
            case EvidenceCode.AskCrew:
                found = topic == PracticeTopic.Planning ? coming > 0 : Finds();
                if (topic == PracticeTopic.Planning && coming > 0) entries.Add(new PeopleEntry { At = at(), Count = people + coming });
                break;
            case EvidenceCode.Handles: found = grayOpen; break;
            case EvidenceCode.Battery: Check(CheckCode.BatteryOk, Finds()); break;
            case EvidenceCode.Wiring: Check(CheckCode.WiringOk, Finds()); break;
            case EvidenceCode.PanelTomorrow:
                Until((int)(hours / 24) + 1, hours % 24);
                entries.AddRange(Panel());
                break;
            case EvidenceCode.MeteredFill:
                Pour(evidence.WaterL, WaterPurpose.Other);
                hours += 1 / 60.0;
                entries.AddRange(Panel());
                break;
            case EvidenceCode.GasOut: Check(CheckCode.PropaneRuledOut, Finds()); break;
            case EvidenceCode.Sniff:
                Check(CheckCode.SniffTest, topic == PracticeTopic.Rinsing ? dirt >= RinseModel.ClearBelow || Answer == CaseAnswer.OutletClog : Finds());
                break;
            case EvidenceCode.FanOff: found = Finds(); break;
            case EvidenceCode.SinkRun: found = Finds(); break;
            case EvidenceCode.AddWater:
                Pour(evidence.WaterL, WaterPurpose.Other);
                found = Finds();
                break;
            case EvidenceCode.BowlHolds: Check(CheckCode.BowlHoldsWater, Finds()); break;
            case EvidenceCode.Traps: Check(CheckCode.TrapsWet, Finds()); break;
            case EvidenceCode.RoofVent: Check(CheckCode.RoofVentClear, Finds()); break;
            case EvidenceCode.CapOff: Check(CheckCode.CapDry, Finds()); break;
            case EvidenceCode.Hose: Check(CheckCode.HoseSound, Finds()); break;
            case EvidenceCode.BowlFlush:
                level = Math.Min(1, level + evidence.WaterL / Black.CapacityL);
                if (Finds()) Notice(Answer == CaseAnswer.Heap ? SymptomCode.BacksUpOnFlush : SymptomCode.Gurgles);
                found = entries.Count > 0;
                break;
            case EvidenceCode.DumpWatch:
                {
                    var clog = Answer == CaseAnswer.OutletClog;
                    var vent = Answer == CaseAnswer.VentBlocked;
                    var heap = Answer == CaseAnswer.Heap;
                    var minutes = usual * Math.Sqrt(Math.Max(0.05, level) / 0.66) * (clog ? 3.5 : vent ? 1.7 : 1);
                    found = clog;
                    entries.Add(new DumpEntry
                    {
                        At = at(),
                        Tank = "black",
                        Minutes = Math.Round(minutes, 1),
                        Flow = clog ? chance.Uniform() < 0.8 ? DumpFlow.Trickle : DumpFlow.Slow : vent ? DumpFlow.Slow : level > 0.45 && !heap ? DumpFlow.Rush
                            : DumpFlow.Steady,
                        Debris = heap ? Debris.None : clog ? null : Debris.Paper,
                    });
                    level = clog ? 0.85 * level : 0.02;
                    break;
                }
            case EvidenceCode.Cleanout:
                if (level > 0.05) danger = Danger.CleanoutUnderFull;
                found = Answer == CaseAnswer.OutletClog;
                break;
            case EvidenceCode.WatchEnd:
                entries.Add(new FlushEntry
                {
                    At = at(),
                    Tank = "black",
                    Method = FlushMethod.BuiltIn,
                    Cycles = [new FlushCycle(null, 0, EndNow(), dirt < RinseModel.ClearBelow ? Debris.None : Debris.Paper)],
                });
                found = dirt >= RinseModel.ClearBelow;
                break;
            case EvidenceCode.RinseWatch:
                if (grayOpen) danger = Danger.BothValvesOpen;
                if (level + evidence.WaterL / Black.CapacityL > 1) danger = Danger.Overfilled;
                dirt = Answer == CaseAnswer.DeepClean ? 0.92 * dirt : RinseModel.Leaves * dirt;
                entries.Add(new FlushEntry
                {
                    At = at(),
                    Tank = "black",
                    Method = FlushMethod.BuiltIn,
                    Cycles = [new FlushCycle(null, evidence.WaterL, EndNow(), dirt < RinseModel.ClearBelow ? Debris.None : Debris.Paper)],
                });
                found = dirt >= RinseModel.ClearBelow;
                if (Answer == CaseAnswer.OutletClog) entries.Clear();
                break;
        }
        if (hours < start) hours = start;
        return new EvidenceResult(evidence, entries, found, danger, level * Black.CapacityL);
    }
}
