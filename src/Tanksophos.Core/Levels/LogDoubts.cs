using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Levels;

/// <summary>Something in the log that is probably not as it was, and how it could be mended.</summary>
/// <param name="Misfit">What does not fit.</param>
/// <param name="Tank">The tank.</param>
/// <param name="Entries">Ids of the entries it rests on, as far as they have one.</param>
/// <param name="Suggest">Entries that would mend it; none where only the crew can know.</param>
public sealed record LogDoubt(LogInconsistency Misfit, Tank Tank, IReadOnlyList<string> Entries, IReadOnlyList<LogEntry> Suggest)
{
    /// <summary>An entry of <see cref="Entries"/> that should go; null for none: the same dump logged by two people.</summary>
    public string? Surplus { get; init; }
}

/// <summary>What in a log people probably forgot, mistyped or wrote twice: proposed, never changed by itself.</summary>
public static class LogDoubts
{
    // Two people may log one dump; a tank that is dumped twice within the hour is one that was rinsed, and then a flush stands between.
    private static readonly Duration Twice = Duration.FromHours(1);
    private static readonly Duration Season = Duration.FromDays(120);
    // A lamp that should have shown otherwise by this likelihood, while it is sound before and after, was misread.
    private const double Misread = 0.06, Sound = 0.8, Agrees = 0.3;
    private const double MuchFuller = 0.1, MoreThanCounted = 1.35; // of the tank; of the count
    private const double FarBelow = 0.65, MuchEmptier = 0.12; // of the count; of the tank
    private const int Looked = 200; // entries back for who was aboard
    private static readonly Duration OneVisit = Duration.FromHours(36);
    private static readonly LocalTime Morning = new(9, 0), Early = new(7, 0), Late = new(20, 0);

    /// <summary>The doubts of a log, the latest last.</summary>
    /// <param name="logbook">The log.</param>
    /// <param name="belief">What is believed of it.</param>
    public static IReadOnlyList<LogDoubt> Of(Logbook logbook, LevelBelief belief)
    {
        ArgumentNullException.ThrowIfNull(logbook);
        ArgumentNullException.ThrowIfNull(belief);
        var entries = logbook.InOrder();
        var since = (belief.AsOf?.ToInstant() ?? Instant.MaxValue) - Season;
        var guests = MorePeople(logbook.Rig, belief, entries).ToList();
        var away = Slower(logbook.Rig, belief, entries.Between(since, Instant.MaxValue).OfType<ReadingEntry>(), entries);
        return [.. belief.Tanks.SelectMany(t => t.Inconsistencies.Where(m => !guests.Exists(g => g.Because.Contains(m)))
            .Select(m => Mended(m, t.Tank, entries))
            .Concat(MisreadLights(t, entries)).Concat(LoggedTwice(t.Tank, entries.Between(since, Instant.MaxValue))))
            .Concat(guests.Select(g => g.Doubt)).Concat(away)
            .Where(d => d.Misfit.At.ToInstant() >= since && !Confirmed(d, entries)).OrderBy(d => d.Misfit.At.ToInstant())];
    }

    // Both roles found much fuller than counted within a day and a half: not two wrong looks, but more people than were written down.
    private static IEnumerable<(LogDoubt Doubt, LogInconsistency[] Because)> MorePeople(Rig rig, LevelBelief belief, IReadOnlyList<LogEntry> entries)
    {
        List<(TankBelief Tank, LogInconsistency Misfit)> Fuller(TankRole role) => [.. belief.Tanks.Where(t => t.Tank.Role == role)
            .SelectMany(t => t.Inconsistencies.Where(m => m.Kind == InconsistencyKind.SeenOtherwise && m.FoundL > m.ExpectedL + MuchFuller * t.Tank.CapacityL)
            .Select(m => (t, m)))];
        // Beside a look that is far off, one well above the count is enough at the other.
        IEnumerable<(TankBelief Tank, LogInconsistency Misfit)> Counted(LogInconsistency more, TankRole role) => belief.Tanks.Where(t => t.Tank.Role == role)
            .SelectMany(t => entries.Between(more.At.ToInstant() - OneVisit, more.At.ToInstant() + OneVisit).OfType<ReadingEntry>()
                .Where(r => r.Tank == t.Tank.Id && r.Fraction is not null).Select(r => (t, CountedBefore(rig, t, r, entries))))
            .Where(x => x.Item2 is { } m && m.FoundL > MoreThanCounted * m.ExpectedL && m.FoundL > m.ExpectedL + MuchFuller * x.t.Tank.CapacityL)
            .Select(x => (x.t, x.Item2!));
        var asked = new HashSet<LogInconsistency>();
        foreach (var (tank, more) in Fuller(TankRole.Gray).Concat(Fuller(TankRole.Black)))
        {
            var role = tank.Tank.Role == TankRole.Gray ? TankRole.Black : TankRole.Gray;
            if (asked.Contains(more)) continue;
            var both = Fuller(role).Where(b => Apart(b.Misfit, more) < OneVisit).Concat(Counted(more, role));
            if (both.FirstOrDefault() is not { Tank: not null } black) continue;
            asked.Add(black.Misfit);
            var at = more.At.ToInstant() > black.Misfit.At.ToInstant() ? more.At : black.Misfit.At;
            // Since the last dump of either, or since what was last said of the people.
            var before = entries.Between(at.ToInstant() - Season, at.ToInstant()).Reverse().Take(Looked).ToList();
            var (people, said) = before.OfType<PeopleEntry>().FirstOrDefault() is { } told ? (told.Count, (OffsetDateTime?)told.At) : (rig.People, null);
            var dumped = before.OfType<DumpEntry>().Where(d => d.Emptied).Select(d => (OffsetDateTime?)d.At).FirstOrDefault();
            var from = said is { } s && dumped is { } d ? s.ToInstant() > d.ToInstant() ? s : d : dumped ?? said ?? at;
            if (people < 1) continue;
            var ratio = 0.5 * (more.FoundL / Math.Max(1, more.ExpectedL) + black.Misfit.FoundL / Math.Max(1, black.Misfit.ExpectedL));
            var count = Math.Clamp((int)Math.Round(people * ratio), people + 1, Math.Min(3 * people, EntryLimits.MaxPeople));
            List<string> rests = [.. entries.Where(e => e.Id is not null && (e is ReadingEntry && e.Tank == tank.Tank.Id && e.At.Equals(more.At)
                || e is ReadingEntry && e.Tank == black.Tank.Tank.Id && e.At.Equals(black.Misfit.At))).Select(e => e.Id!)];
            var misfit = new LogInconsistency(at, InconsistencyKind.UnloggedPeople, more.ExpectedL, more.FoundL) { From = from, Probability = 0.7 };
            // They came, and they are gone again unless the crew says otherwise.
            LogEntry[] guests = [new PeopleEntry { At = from, Count = count }, new PeopleEntry { At = at, Count = people }];
            yield return (new LogDoubt(misfit, tank.Tank, rests, guests), [more, black.Misfit]);
        }
        static Duration Apart(LogInconsistency a, LogInconsistency b) => a.At.ToInstant() is var x && b.At.ToInstant() is var y && x > y ? x - y : y - x;
    }

    // Both roles found far emptier than counted since their last dumps, and no dump forgotten: some of them left, or the place is not what was logged last.
    private static IEnumerable<LogDoubt> Slower(Rig rig, LevelBelief belief, IEnumerable<ReadingEntry> looks, IReadOnlyList<LogEntry> entries)
    {
        if (rig.Tanks.Any(t => belief[t.Id].Inconsistencies.Any(m => m.Kind == InconsistencyKind.UnloggedEmptying))) yield break;
        var seen = looks.Where(r => r is { Fraction: not null, Via: ReadingVia.Sight } && belief.Tanks.Any(t => t.Tank.Id == r.Tank)).ToList();
        var asked = Instant.MinValue;
        foreach (var gray in seen.Where(r => rig.Find(r.Tank)?.Role == TankRole.Gray))
        {
            if (gray.Instant < asked || CountedBefore(rig, belief[gray.Tank!], gray, entries) is not { } less || !FarLess(less, gray)) continue;
            foreach (var black in seen.Where(r => rig.Find(r.Tank)?.Role == TankRole.Black && Span(r.Instant, gray.Instant) < OneVisit))
            {
                if (CountedBefore(rig, belief[black.Tank!], black, entries) is not { } lessBlack || !FarLess(lessBlack, black)) continue;
                var at = gray.Instant > black.Instant ? gray.At : black.At;
                var before = entries.Between(at.ToInstant() - Season, at.ToInstant()).Reverse().Take(Looked).ToList();
                var (people, hookup) = (before.OfType<PeopleEntry>().FirstOrDefault()?.Count ?? rig.People,
                    before.OfType<StayEntry>().FirstOrDefault()?.Hookup ?? Hookup.Full);
                if (people < 1 || before.OfType<DumpEntry>().FirstOrDefault(d => d.Emptied) is not { } dump) continue;
                // Which tells the pair better: fewer people, who leave both tanks alone alike, or water that is saved, gray more than black.
                var (g, b) = (Math.Log(less.FoundL / less.ExpectedL), Math.Log(lessBlack.FoundL / lessBlack.ExpectedL));
                double Saved(TankRole role) => Math.Log(rig.MedianInflow(rig.Tanks.First(t => t.Role == role), Hookup.Dry)
                    / rig.MedianInflow(rig.Tanks.First(t => t.Role == role), hookup));
                var count = Math.Clamp((int)Math.Round(people * Math.Exp(0.5 * (g + b))), 0, people - 1);
                var fewer = Math.Log(Math.Max(0.1, (double)count / people));
                var dry = hookup is not (Hookup.Dry or Hookup.Storage)
                    && Math.Abs(g - Saved(TankRole.Gray)) + Math.Abs(b - Saved(TankRole.Black)) < Math.Abs(g - fewer) + Math.Abs(b - fewer);
                var misfit = new LogInconsistency(at, InconsistencyKind.UnloggedPeople, less.ExpectedL, less.FoundL) { From = dump.At, Probability = 0.6 };
                LogEntry[] mend = dry ? [new StayEntry { At = dump.At, Hookup = Hookup.Dry }]
                    : [new PeopleEntry { At = dump.At, Count = count }, new PeopleEntry { At = at, Count = people }];
                yield return new LogDoubt(misfit, rig.Find(gray.Tank)!, [.. new[] { gray.Id, black.Id }.OfType<string>()], mend);
                asked = at.ToInstant() + Duration.FromDays(2);
                break;
            }
        }
        bool FarLess(LogInconsistency m, ReadingEntry look) => m.FoundL < FarBelow * m.ExpectedL
            && m.FoundL < m.ExpectedL - MuchEmptier * rig.Find(look.Tank)!.CapacityL;
        static Duration Span(Instant a, Instant b) => a > b ? a - b : b - a;
    }

    // What people and days since the last dump lead to expect at a look; null if it is not known when that was.
    private static LogInconsistency? CountedBefore(Rig rig, TankBelief tank, ReadingEntry look, IReadOnlyList<LogEntry> entries)
    {
        var before = entries.Between(look.Instant - Season, look.Instant).Reverse().Take(Looked).ToList();
        if (before.OfType<DumpEntry>().FirstOrDefault(d => d.Emptied && d.Tank == tank.Tank.Id) is not { } dump) return null;
        var hookup = before.OfType<StayEntry>().FirstOrDefault()?.Hookup ?? Hookup.Full;
        var people = before.OfType<PeopleEntry>().FirstOrDefault()?.Count ?? rig.People;
        var factor = (hookup switch { Hookup.Dry => tank.Factors.Dry, Hookup.Partial => tank.Factors.Partial, _ => tank.Factors.Full }).Mean;
        var expected = DumpEntry.ResidueFraction * tank.Tank.CapacityL
            + (look.Instant - dump.Instant).TotalDays * people * rig.MedianInflow(tank.Tank, hookup) * Math.Max(0.1, factor);
        return new LogInconsistency(look.At, InconsistencyKind.SeenOtherwise, Math.Min(tank.Tank.CapacityL, expected),
            look.Fraction!.Value * tank.Tank.CapacityL);
    }

    // Somebody looked it over and said that it is right as logged.
    private static bool Confirmed(LogDoubt doubt, IReadOnlyList<LogEntry> entries) => doubt.Misfit.At.ToInstant() is var at
        && entries.Between(at, at + Duration.Epsilon).Any(e => e is CheckEntry { Code: CheckCode.AsLogged } && e.Tank == doubt.Tank.Id);

    /// <summary>The doubts that are one run: emptied without a word and noticed within the hour; black comes first, as it is dumped.</summary>
    /// <param name="doubts">All of them.</param>
    /// <param name="doubt">One of them.</param>
    public static IReadOnlyList<LogDoubt> SameRun(IReadOnlyList<LogDoubt> doubts, LogDoubt doubt)
    {
        ArgumentNullException.ThrowIfNull(doubts);
        ArgumentNullException.ThrowIfNull(doubt);
        if (doubt.Misfit.Kind != InconsistencyKind.UnloggedEmptying) return [doubt];
        return [.. doubts.Where(d => d != doubt && d.Misfit.Kind == InconsistencyKind.UnloggedEmptying && d.Tank.Id != doubt.Tank.Id
            && d.Misfit.At.ToInstant() - doubt.Misfit.At.ToInstant() is var gap && gap < Twice && gap > -Twice).Prepend(doubt).OrderBy(d => d.Tank.Role)];
    }

    /// <summary>The dumps that are proposed for a tank, each at its likely hour.</summary>
    internal static IEnumerable<DumpEntry> Dumps(Tank tank, IEnumerable<LogInconsistency> misfits, IReadOnlyList<LogEntry> entries) =>
        misfits.Where(m => m.Kind == InconsistencyKind.UnloggedEmptying).Select(m => Mended(m, tank, entries).Suggest[0]).OfType<DumpEntry>();

    private static LogDoubt Mended(LogInconsistency misfit, Tank tank, IReadOnlyList<LogEntry> entries)
    {
        var (from, to) = ((misfit.From ?? misfit.At).ToInstant(), misfit.At.ToInstant());
        List<string> rests = [.. entries.Between(from, to + Duration.Epsilon).Where(e => e.Tank == tank.Id && (e.Instant == from || e.Instant == to)
            && e.Id is not null).Select(e => e.Id!)];
        return new LogDoubt(misfit, tank, rests, misfit.Kind != InconsistencyKind.UnloggedEmptying ? []
            : [new DumpEntry { At = Likely(from, misfit.At, entries), Tank = tank.Id }]);
    }

    // When a forgotten dump most likely was: before the drive or the move in between; else at nine in the morning; else in the middle.
    private static OffsetDateTime Likely(Instant from, OffsetDateTime to, IReadOnlyList<LogEntry> entries)
    {
        var between = entries.Between(from, to.ToInstant());
        foreach (var entry in between)
            if (entry is DriveEntry or StayEntry && entry.Instant > from)
                return Instant.Max(from, entry.Instant - Duration.FromMinutes(30)).WithOffset(to.Offset);
        for (var date = to.Date; (date + Early).WithOffset(to.Offset).ToInstant() >= from; date = date.PlusDays(-1))
            foreach (var hour in (LocalTime[])[Morning, Early, Late])
                if ((date + hour).WithOffset(to.Offset) is var at && at.ToInstant() > from && at.ToInstant() < to.ToInstant()) return at;
        return (from + (to.ToInstant() - from) / 2).WithOffset(to.Offset);
    }

    private static IEnumerable<LogDoubt> MisreadLights(TankBelief tank, IReadOnlyList<LogEntry> entries)
    {
        if (tank.Filter is null) yield break;
        foreach (var reports in tank.Filter.Reports.GroupBy(r => r.Probe))
        {
            var probe = tank.Probes[reports.Key];
            var said = reports.ToList();
            for (var i = 1; i + 1 < said.Count && probe.Working >= Sound; i++)
            {
                if (said[i].IfWorking >= Misread
                    || said[i - 1].IfWorking < Agrees || said[i + 1].IfWorking < Agrees || said[i + 1].Lit == said[i].Lit) continue;
                // What a forgotten dump explains is no mistake.
                if (tank.Inconsistencies.Any(m => m.At.ToInstant() >= said[i - 1].At.ToInstant() && m.At.ToInstant() <= said[i + 1].At.ToInstant())) continue;
                var at = said[i].At;
                if (entries.Between(at.ToInstant(), at.ToInstant() + Duration.Epsilon).OfType<ReadingEntry>()
                    .FirstOrDefault(r => r.Tank == tank.Tank.Id && r.Lit is not null) is not { } reading) continue;
                var lit = said[i].Lit ? reading.Lit!.Where(l => l != probe.Probe.Id) : reading.Lit!.Append(probe.Probe.Id);
                yield return new LogDoubt(new LogInconsistency(at, InconsistencyKind.WrongLamp, said[i].ExpectedL, said[i].ExpectedL)
                { Probability = probe.Working * (1 - said[i].IfWorking / (said[i].IfWorking + Misread)), Probe = probe.Probe },
                    tank.Tank, reading.Id is { } id ? [id] : [], [reading with { Lit = [.. lit] }]);
            }
        }
    }

    private static IEnumerable<LogDoubt> LoggedTwice(Tank tank, IEnumerable<LogEntry> entries)
    {
        DumpEntry? before = null;
        foreach (var entry in entries)
        {
            if (entry.Tank == tank.Id && entry is FlushEntry or ValveEntry) before = null;
            if (entry is not DumpEntry { Emptied: true } dump || dump.Tank != tank.Id) continue;
            if (before is not null && dump.Instant - before.Instant < Twice)
                yield return new LogDoubt(new LogInconsistency(dump.At, InconsistencyKind.LoggedTwice, 0, 0) { From = before.At, Probability = 0.8 }, tank,
                    [.. new[] { before.Id, dump.Id }.OfType<string>()], [])
                { Surplus = dump.Minutes is null ? dump.Id : before.Id };
            before = dump;
        }
    }
}
