using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Diagnosis;

/// <summary>The rungs of the recovery ladder for sensors, in the order in which practitioners climb it.</summary>
public enum SensorRung
{
    /// <summary>Hard flush; panel again next day.</summary>
    HardFlush = 1,

    /// <summary>Soak or sensor cleaner overnight in a cleaned tank.</summary>
    SensorCleaner = 2,

    /// <summary>Travel scrub on 4-6 dumps in a row.</summary>
    TravelScrub = 3,

    /// <summary>Reverse floods until clear.</summary>
    ReverseFloods = 4,

    /// <summary>Pressure jet by a trained person.</summary>
    PressureJet = 5,

    /// <summary>Wiring, ground, studs.</summary>
    Wiring = 6,

    /// <summary>New probes.</summary>
    NewProbes = 7,
}

/// <summary>One rung as far as it was climbed.</summary>
/// <param name="Rung">The rung.</param>
/// <param name="Done">How often it was done since the lamp lies, by the log.</param>
/// <param name="Of">How often it takes.</param>
public sealed record RungState(SensorRung Rung, int Done, int Of)
{
    /// <summary>Whether it was climbed to its end.</summary>
    public bool Finished => Done >= Of;
}

/// <summary>Where an owner stands on the ladder with one tank.</summary>
/// <param name="Tank">Id of the tank.</param>
/// <param name="For">What it is for: <see cref="ProbeVerdict.StuckOn"/> or <see cref="ProbeVerdict.StuckOff"/>.</param>
/// <param name="Probes">Labels of the lamps.</param>
/// <param name="Since">Since when they lie, as believed now; null if that is not known.</param>
/// <param name="Rungs">The rungs that apply, from the bottom.</param>
/// <param name="Next">The rung to do next or to go on with; null if all were tried.</param>
/// <param name="CheckFirst">Whether the last thing done has not been checked yet: dump, rinse, look at the panel.</param>
public sealed record SensorCourse(string Tank, ProbeVerdict For, IReadOnlyList<string> Probes, OffsetDateTime? Since, IReadOnlyList<RungState> Rungs,
    RungState? Next, bool CheckFirst)
{
    /// <summary>Whether what an owner can do has been tried, so that a trained person is next; never before anything was done.</summary>
    public bool BeyondOwner => Next is null || Next.Rung >= SensorRung.PressureJet && Rungs.Any(r => r.Done > 0);

    /// <summary>Whether nothing is left but to live without this lamp.</summary>
    public bool Exhausted => Next is null;
}

/// <summary>A lamp that came back.</summary>
/// <param name="Tank">Id of the tank.</param>
/// <param name="Probe">Label of the lamp.</param>
/// <param name="At">The first reading at which it is believed again.</param>
/// <param name="By">The last thing that was done for it before; null if it came back by itself.</param>
/// <param name="Rungs">What had been done by then, in the ladder's order.</param>
public sealed record Recovery(string Tank, string Probe, OffsetDateTime At, SensorRung? By, IReadOnlyList<RungState> Rungs);

/// <summary>The recovery ladder for sensors: which rung an owner stands on, counted from the log.</summary>
public static class SensorLadder
{
    /// <summary>Travel scrubs that make a course; practitioners say 4-6 dumps in a row.</summary>
    public const int ScrubsInCourse = 5;

    private const int FloodsInCourse = 3;

    // What was done so long before a lamp came back has its share in it.
    private static readonly Duration Credit = Duration.FromDays(21);

    /// <summary>What a rung asks for on a rig, as a word of the open format: a recipe, a way of flushing, a service.</summary>
    public static string ActionOf(SensorRung rung, Rig rig) => rung switch
    {
        SensorRung.HardFlush => Codes<FlushMethod>.Word(rig.Equipment switch
        {
            { FlushInlet: true } => FlushMethod.BuiltIn,
            { Wand: "rigid" or "flexible" } => FlushMethod.Wand,
            { JugL: not null } => FlushMethod.Bucket,
            _ => FlushMethod.Pedal,
        }),
        SensorRung.SensorCleaner => Codes<DoseRecipe>.Word(DoseRecipe.SensorCleaner),
        SensorRung.TravelScrub => Codes<DoseRecipe>.Word(DoseRecipe.TravelScrub),
        SensorRung.ReverseFloods => Codes<FlushMethod>.Word(FlushMethod.Reverse),
        SensorRung.PressureJet => Codes<ServiceCode>.Word(ServiceCode.PressureJet),
        SensorRung.Wiring => Codes<ServiceCode>.Word(ServiceCode.WiringRepaired),
        SensorRung.NewProbes => Codes<ServiceCode>.Word(ServiceCode.ProbeReplaced),
    };

    /// <summary>The courses that are due, one per tank and kind of fault; empty if all lamps are believed.</summary>
    internal static IReadOnlyList<SensorCourse> Courses(Rig rig, IReadOnlyList<TankSensors> tanks, IReadOnlyList<LogEntry> entries)
    {
        var courses = new List<SensorCourse>();
        foreach (var (tank, findings) in tanks.Select(t => (t.Belief, t.Findings)))
        {
            foreach (var fault in (ProbeVerdict[])[ProbeVerdict.StuckOn, ProbeVerdict.StuckOff])
            {
                var lying = findings.Where(f => f.Verdict == fault).ToList();
                if (lying.Count == 0) continue;
                // The one that has lied longest decides; what was done since then counts.
                var since = lying.Select(f => f.LookBack.LyingSince).OfType<OffsetDateTime>().OrderBy(t => t.ToInstant()).Select(t => (OffsetDateTime?)t)
                    .FirstOrDefault();
                courses.Add(Course(rig, tank.Tank, fault, [.. lying.Select(f => f.Probe.Label)], since, entries));
            }
        }
        return courses;
    }

    /// <summary>Lamps that came back within the stretch looked back on, the latest first.</summary>
    internal static IReadOnlyList<Recovery> Recoveries(Rig rig, IReadOnlyList<TankSensors> tanks, IReadOnlyList<LogEntry> entries)
    {
        var found = new List<Recovery>();
        foreach (var (tank, findings) in tanks.Select(t => (t.Belief, t.Findings)))
        {
            foreach (var probe in findings.Select(f => f.LookBack))
            {
                if (probe.CameBack is not { } at) continue;
                var index = Enumerable.Range(0, probe.Looks.Count).First(i => probe.Looks[i].At.Equals(at));
                var start = index;
                while (start > 0 && !probe.Looks[start - 1].Believed) start--;
                if (start == index) continue; // it began before what is looked back on
                var lying = probe.Looks.Skip(start).Take(index - start).ToList();
                var fault = lying.Average(l => l.StuckOn) >= lying.Average(l => l.StuckOff) ? ProbeVerdict.StuckOn : ProbeVerdict.StuckOff;
                var from = lying[0].At.ToInstant();
                var deeds = entries.Between(from, at.ToInstant()).Where(e => e.Tank == tank.Tank.Id && e.Instant < at.ToInstant()).ToList();
                var rungs = Rungs(rig, fault, deeds);
                var by = deeds.Where(e => RungOf(e) is not null && at.ToInstant() - e.Instant < Credit).Select(RungOf).LastOrDefault();
                found.Add(new Recovery(tank.Tank.Id, probe.Probe.Label, at, by, [.. rungs.Where(r => r.Done > 0)]));
            }
        }
        return [.. found.OrderByDescending(r => r.At.ToInstant())];
    }

    /// <summary>The rung that an entry belongs to; null if it is none of them.</summary>
    public static SensorRung? RungOf(LogEntry entry) => entry switch
    {
        FlushEntry { Method: FlushMethod.Jet } or ServiceEntry { Code: ServiceCode.PressureJet } => SensorRung.PressureJet,
        FlushEntry { Method: FlushMethod.Reverse } => SensorRung.ReverseFloods,
        FlushEntry => SensorRung.HardFlush,
        DoseEntry { Recipe: DoseRecipe.SensorCleaner or DoseRecipe.SoftenerSoak or DoseRecipe.SoapSoak } => SensorRung.SensorCleaner,
        DoseEntry { Recipe: DoseRecipe.TravelScrub } => SensorRung.TravelScrub,
        ServiceEntry { Code: ServiceCode.WiringRepaired } => SensorRung.Wiring,
        ServiceEntry { Code: ServiceCode.ProbeReplaced } => SensorRung.NewProbes,
        _ => null,
    };

    private static SensorCourse Course(Rig rig, Tank tank, ProbeVerdict fault,
        IReadOnlyList<string> labels, OffsetDateTime? since, IReadOnlyList<LogEntry> entries)
    {
        var from = since?.ToInstant() ?? Instant.MaxValue;
        var deeds = entries.Between(from, Instant.MaxValue)
            .Where(e => (e.Tank == tank.Id || e is ServiceEntry { Tank: null, Code: ServiceCode.WiringRepaired })).ToList();
        var rungs = Rungs(rig, fault, deeds);
        // Who has begun a rung goes on with it; below the highest rung that was begun nothing is asked for any more.
        var highest = rungs.Where(r => r.Done > 0).Select(r => (SensorRung?)r.Rung).LastOrDefault();
        var next = rungs.FirstOrDefault(r => !r.Finished && (highest is not { } h || r.Rung >= h));
        var last = deeds.LastOrDefault(e => RungOf(e) is not null);
        var check = last is not null && !deeds.Any(e => e is ReadingEntry { Via: ReadingVia.Panel } && e.Instant > last.Instant);
        return new SensorCourse(tank.Id, fault, labels, since, rungs, next, check);
    }

    private static List<RungState> Rungs(Rig rig, ProbeVerdict fault, IReadOnlyList<LogEntry> deeds)
    {
        int Done(SensorRung rung) => deeds.Count(e => RungOf(e) == rung);
        var wiring = new RungState(SensorRung.Wiring, Math.Min(1, Done(SensorRung.Wiring)), 1);
        var probes = new RungState(SensorRung.NewProbes, Math.Min(1, Done(SensorRung.NewProbes)), 1);
        // A lamp that never lights is not dirty: it starts at the wiring.
        if (fault == ProbeVerdict.StuckOff) return [wiring, probes];
        var rungs = new List<RungState>
        {
            new(SensorRung.HardFlush, Math.Min(1, Done(SensorRung.HardFlush)), 1),
            new(SensorRung.SensorCleaner, Math.Min(1, Done(SensorRung.SensorCleaner)), 1),
            new(SensorRung.TravelScrub, Math.Min(ScrubsInCourse, Done(SensorRung.TravelScrub)), ScrubsInCourse),
        };
        // Nothing can be pushed back up through a macerator, and a rig without the fitting cannot flood in reverse.
        if (rig.Equipment is not { Macerator: true } && rig.Equipment is not { ReverseFlush: false } || Done(SensorRung.ReverseFloods) > 0)
            rungs.Add(new(SensorRung.ReverseFloods, Math.Min(FloodsInCourse, Done(SensorRung.ReverseFloods)), FloodsInCourse));
        rungs.Add(new(SensorRung.PressureJet, Math.Min(1, Done(SensorRung.PressureJet)), 1));
        rungs.Add(wiring);
        rungs.Add(probes);
        return rungs;
    }
}
