using NodaTime;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Diagnosis;

/// <summary>Conditions of one tank.</summary>
/// <param name="Tank">The tank.</param>
/// <param name="Conditions">All of them, in the order of the enumeration.</param>
/// <param name="Enough">Whether the log holds enough to tell "nothing wrong" from "not enough on record".</param>
public sealed record TankConditions(Tank Tank, IReadOnlyList<ConditionBelief> Conditions, bool Enough)
{
    /// <summary>How likely a condition is.</summary>
    public double this[Condition condition] => Conditions.First(c => c.Code == condition).Probability;
}

/// <summary>What is wrong beside the lamps: conditions, smells, checks and ladders.</summary>
/// <param name="Tanks">The tanks in the rig's order.</param>
/// <param name="Odors">Causes of the smells of the last two weeks, most probable first; empty without a smell.</param>
/// <param name="Checks">The checks worth doing, best first.</param>
/// <param name="Courses">Ladders for what is likely, the likeliest first.</param>
/// <param name="Alarm">Whether a propane alarm stands.</param>
public sealed record FaultReport(IReadOnlyList<TankConditions> Tanks, IReadOnlyList<OdorBelief> Odors, IReadOnlyList<CauseCheck> Checks,
    IReadOnlyList<CauseCourse> Courses, bool Alarm)
{
    /// <summary>A smell's cause is worth a ladder from here on.</summary>
    public const double OdorLikely = 0.35;

    // What is older says nothing of now; the log of ten years is not read for it.
    private static readonly Duration Reads = Duration.FromDays(400), Lately = Duration.FromDays(3);
    private const int EnoughLooks = 3;
    private const double BowlDrySure = 0.9;

    /// <summary>Makes the report from a belief and the log behind it.</summary>
    /// <param name="logbook">The log.</param>
    /// <param name="belief">What is believed about it.</param>
    public static FaultReport Compute(Logbook logbook, LevelBelief belief)
    {
        ArgumentNullException.ThrowIfNull(logbook);
        ArgumentNullException.ThrowIfNull(belief);
        var rig = logbook.Rig;
        var alarm = belief.InForce.PropaneAlarm is not null;
        if (belief.AsOf is not { } asOf)
            return new FaultReport([.. rig.Tanks.Select(t => new TankConditions(t, Conditions.Compute(rig, t, [], Instant.MinValue), false))], [],
            [], [], alarm);
        var now = asOf.ToInstant();
        var entries = Read(logbook.InOrder(), now);
        var tanks = belief.Tanks.Select(t => new TankConditions(t.Tank, Conditions.Compute(rig, t.Tank, entries, now, t),
            Enough(entries, t.Tank, now))).ToList();
        var coated = tanks.Where(t => t.Tank.Role == TankRole.Black).Select(t => t[Condition.Buildup]).DefaultIfEmpty().Max();
        var odors = Diagnosis.Odors.Compute(rig, entries, now, coated, alarm);
        var checks = CauseChecks.Build(rig, tanks.ToDictionary(t => t.Tank.Id, t => t.Conditions), odors, alarm,
            code => entries.Any(e => now - e.Instant <= Lately && Answers(e, code) && !NewSince(entries, e)));
        var courses = new List<CauseCourse>();
        if (alarm) courses.Add(CauseLadder.Build(rig, odors.FirstOrDefault(o => o.Cause == OdorCause.Propane) ?? new OdorBelief(OdorCause.Propane, 1, []),
            entries, now));
        foreach (var tank in tanks)
            foreach (var condition in tank.Conditions.Where(c => c.Probability >= Conditions.Likely))
                courses.Add(CauseLadder.Build(rig, tank.Tank, condition, entries, now));
        if (!alarm) courses.AddRange(odors.Where((o, i) => o.Probability >= OdorLikely || i == 0 && o.Probability >= 0.25)
            .Select(o => CauseLadder.Build(rig, o, entries, now)));
        // A bowl that goes dry is looked after before it smells.
        if (!alarm && courses.All(c => c.Odor != OdorCause.BowlSeal) && BowlDry(entries, now) is { } dry)
            courses.Add(CauseLadder.Build(rig, new OdorBelief(OdorCause.BowlSeal, BowlDrySure, [new OdorReason(OdorSign.BowlDry, 1, dry)]), entries, now,
                dry.Instant));
        return new FaultReport(tanks, odors, checks,
            [.. courses.OrderByDescending(c => c.Odor == OdorCause.Propane).ThenByDescending(c => c.Probability)], alarm);
    }

    /// <summary>The part of a log that the report reads.</summary>
    internal static IReadOnlyList<LogEntry> Read(IReadOnlyList<LogEntry> entries, Instant now)
    {
        if (now <= Instant.MinValue + Reads) return entries;
        var from = entries.FirstAt(now - Reads);
        var to = Math.Max(from, now < Instant.MaxValue ? entries.FirstAt(now + Duration.Epsilon) : entries.Count);
        if (from == 0 && to == entries.Count) return entries is IndexedLog ? entries : new IndexedLog([.. entries]);
        // What was in force at the start of the stretch goes with it.
        var stretch = new List<LogEntry>(to - from + 2);
        if (Before(entries.Kind<StayEntry>(), from < entries.Count ? entries[from].Instant : Instant.MaxValue) is { } stay) stretch.Add(stay);
        if (Before(entries.Kind<PeopleEntry>(), from < entries.Count ? entries[from].Instant : Instant.MaxValue) is { } people) stretch.Add(people);
        for (var i = from; i < to; i++) stretch.Add(entries[i]);
        return new IndexedLog([.. stretch]);
    }

    // The last before a moment.
    private static T? Before<T>(IReadOnlyList<T> kind, Instant moment) where T : LogEntry
    {
        for (var i = kind.Count - 1; i >= 0; i--) if (kind[i].Instant < moment) return kind[i];
        return null;
    }

    // Said or found in the last two weeks, and neither mended nor found in order since.
    private static LogEntry? BowlDry(IReadOnlyList<LogEntry> entries, Instant now)
    {
        var last = entries.LastOrDefault(e =>
            e is SymptomEntry { Code: SymptomCode.BowlGoesDry } or CheckEntry { Code: CheckCode.BowlHoldsWater }
                or ServiceEntry { Code: ServiceCode.SealReplaced });
        return last is SymptomEntry or CheckEntry { Result: CheckResult.Fail } && now - last.Instant <= Diagnosis.Odors.Counts ? last : null;
    }

    // A look down the toilet is logged as what was seen there.
    private static bool Answers(LogEntry entry, CauseCheckCode code) => code == CauseCheckCode.Flashlight
        ? entry is SymptomEntry { Code: SymptomCode.HeapSeen } or ReadingEntry { Via: ReadingVia.Sight }
        : entry is CheckEntry check && check.Code == CauseChecks.CodeOf(code);

    // Something new was noticed since the check was done: then it is worth doing again.
    private static bool NewSince(IReadOnlyList<LogEntry> entries, LogEntry check) =>
        entries.Any(e => e.Instant > check.Instant && e is OdorEntry or SymptomEntry && e.Instant - check.Instant > Duration.FromHours(12));

    private static bool Enough(IReadOnlyList<LogEntry> entries, Tank tank, Instant now) =>
        entries.Count(e => now - e.Instant <= Duration.FromDays(90)
            && (e.Tank == tank.Id && e is DumpEntry or FlushEntry or ReadingEntry
            || e is CheckEntry { Code: CheckCode.SniffTest or CheckCode.CapDry })) >= EnoughLooks;
}
