using NodaTime;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Diagnosis;

/// <summary>Reads the signs of trouble off a log: what was noticed, and what follows from what was written down.</summary>
internal sealed class Signs
{
    // A tank is about full from here on; below the second figure gurgling has no such excuse.
    private const double AboutFull = 0.75, NotFull = 0.55;
    private const double LowDumpBelow = 0.35, GoodLevel = 0.4, StillFull = 0.35, Thrifty = 0.6;
    private const double FallenBy = 0.08; // share of capacity beyond what both readings leave open
    private const double OneDrain = 0.35, SeenEnough = 0.6, HoldsLessBelow = 0.88;
    private const double Drained = 0.12, Sure = 0.82; // two 90 % half-widths taken together are narrower than their sum
    private const int ManyCycles = 5, FewCycles = 2;
    private static readonly Duration RunLasts = LastRunTemplate.RunLasts, SniffAfter = Duration.FromHours(6), OpenCounts = Duration.FromHours(3),
        StoredFrom = Duration.FromDays(14), Uncleaned = Duration.FromDays(270), Recent = Duration.FromDays(400), Together = Duration.FromDays(14),
        FillLasts = Duration.FromHours(14);

    private readonly Rig rig;
    private readonly Tank tank;
    private readonly IReadOnlyList<LogEntry> entries;
    private readonly Instant now;
    private readonly TankBelief? belief;
    private readonly List<Sign> found = [];
    private readonly LevelReckoning level;

    private Signs(Rig rig, Tank tank, IReadOnlyList<LogEntry> entries, Instant now, TankBelief? belief)
    {
        (this.rig, this.tank, this.entries, this.now, this.belief) = (rig, tank, entries, now, belief);
        level = new LevelReckoning(rig, tank, entries, belief);
    }

    /// <summary>The signs for one tank up to a moment.</summary>
    /// <param name="rig">The rig.</param>
    /// <param name="tank">The tank.</param>
    /// <param name="entries">The log in the order of time, nothing later than <paramref name="now"/>.</param>
    /// <param name="now">The moment.</param>
    /// <param name="belief">What is believed of the tank; null where only the log is to speak.</param>
    // by the plate: that it holds less is a sign too
    public static IReadOnlyList<Sign> Collect(Rig rig, Tank tank, IReadOnlyList<LogEntry> entries, Instant now, TankBelief? belief) =>
        new Signs(rig, tank.AsStated, entries, now, belief).All();

    private bool Black => tank.Role == TankRole.Black;

    private List<Sign> All()
    {
        Noticed();
        Dumps();
        Valves();
        Starts();
        Rinses();
        Fills();
        Levels();
        Overall();
        found.RemoveAll(s => now - s.At > Recent);
        return found;
    }

    private void Add(SignCode code, LogEntry entry, double size = 1) => found.Add(new Sign(code, entry.Instant, entry, size));

    // A symptom without a tank is about the toilet's tank, if there is one.
    private bool Mine(LogEntry entry) => entry.Tank == tank.Id || entry.Tank is null && Black;

    private void Noticed()
    {
        Instant? lastDump = null;
        foreach (var entry in entries)
        {
            switch (entry)
            {
                case DumpEntry { Emptied: true } or FlushEntry when entry.Tank == tank.Id:
                    lastDump = entry.Instant;
                    break;
                case SymptomEntry s when Mine(s):
                    Symptom(s);
                    break;
                case CheckEntry { Code: CheckCode.SniffTest } sniff when Mine(sniff):
                    var justDumped = lastDump is not { } at || sniff.Instant - at <= SniffAfter;
                    if (sniff.Result == CheckResult.Fail) Add(justDumped ? SignCode.SniffFailed : SignCode.SniffFailedLater, sniff);
                    else Add(SignCode.SniffPassed, sniff, justDumped ? 1 : 0.6);
                    break;
                case CheckEntry { Code: CheckCode.RoofVentClear } vent when Mine(vent):
                    Add(vent.Result == CheckResult.Fail ? SignCode.VentFoundBlocked : SignCode.VentFoundClear, vent);
                    break;
                case CheckEntry { Code: CheckCode.CapDry } cap when cap.Tank is null || cap.Tank == tank.Id:
                    // The outlet is shared: a wet cap without a tank's name is as likely another's.
                    Add(cap.Result == CheckResult.Fail ? SignCode.CapWet : SignCode.CapDry, cap, cap.Tank is null ? Black ? 0.9 : 0.6 : 1);
                    break;
                case CheckEntry { Code: CheckCode.PaperDissolves, Result: CheckResult.Fail } paper when Black && !entries.Kind<CheckEntry>()
                    .Any(c => c is { Code: CheckCode.PaperDissolves, Result: CheckResult.Pass } && c.Instant > paper.Instant):
                    Add(SignCode.PaperFailed, paper);
                    break;
                case OdorEntry odor when Black && odor.When.Contains(OdorWhen.RightAfterDump)
                    && odor.Where is OdorPlace.Bathroom or OdorPlace.ToiletOnFlush or OdorPlace.WholeRig && odor.Smell is not (Smell.Chemical or Smell.Rancid):
                    Add(SignCode.SmellAfterDump, odor);
                    break;
                case OdorEntry { Where: OdorPlace.Outside or OdorPlace.StorageBay } odor:
                    Add(SignCode.SmellAtBay, odor, Black ? 1 : 0.5);
                    break;
                case OdorEntry { Where: OdorPlace.ToiletOnFlush } odor when Black && !odor.When.Contains(OdorWhen.FanOn)
                    && !odor.When.Contains(OdorWhen.RoofVentOpen):
                    Add(SignCode.SmellOnFlush, odor);
                    break;
            }
        }
    }

    private void Symptom(SymptomEntry s)
    {
        switch (s.Code)
        {
            case SymptomCode.BacksUpOnFlush:
                // A tank that is full to the top backs up without any heap.
                var full = level.At(s.Instant) is { } f && f > 0.93;
                Add(SignCode.BacksUp, s, full ? 0.35 : 1);
                break;
            case SymptomCode.DrainsSlowly:
                Add(SignCode.DrainsSlowly, s, OneDrainOf(s) ? OneDrain : 1);
                break;
            case SymptomCode.Gurgles:
                var share = level.At(s.Instant) ?? 0.5;
                if (share >= AboutFull) Add(SignCode.GurglesWhenFull, s);
                else Add(SignCode.Gurgles, s, (share <= NotFull ? 1 : (AboutFull - share) / (AboutFull - NotFull)) * (OneDrainOf(s) ? OneDrain : 1));
                break;
            case SymptomCode.FillsTooSoon:
                Add(SignCode.FillsTooSoon, s);
                break;
            case SymptomCode.HeapSeen:
                Add(SignCode.HeapSeen, s);
                break;
            case SymptomCode.NothingComesOut:
                Add(SignCode.NothingCame, s);
                break;
            case SymptomCode.ValveStiff:
                Add(SignCode.ValveStiff, s);
                break;
            case SymptomCode.ValveDrips:
                Add(SignCode.ValveDrips, s);
                break;
            case SymptomCode.ValveWontClose:
                Add(SignCode.ValveWontClose, s);
                break;
        }
    }

    // Where one drain of several is slow and the others are not, it is its own pipe or trap rather than the tank they share.
    private bool OneDrainOf(SymptomEntry s) => s.Fixture is { } drain && tank.Fixtures.Count(f => f != "toilet") > 1
        && !entries.Kind<SymptomEntry>().Any(other => Mine(other) && other.Code == s.Code && other.Fixture != drain && other.Instant - s.Instant <= Together
        && s.Instant - other.Instant <= Together);

    private void Dumps()
    {
        var earlier = new List<LogEntry>();
        DumpEntry? before = null;
        foreach (var dump in entries.Kind<DumpEntry>().Where(d => d.Tank == tank.Id))
        {
            var share = level.Before(dump);
            var again = before is not null && dump.Instant - before.Instant <= RunLasts; // what comes after a rinse is thin and low by nature
            before = dump;
            if (!again)
            {
                switch (dump.Flow)
                {
                    case DumpFlow.Rush: Add(SignCode.Rushed, dump); break;
                    // Little in it always runs steadily: of solids that says nothing.
                    case DumpFlow.Steady when !(share < LowDumpBelow): Add(SignCode.RanSteadily, dump); break;
                    case DumpFlow.Slow: Add(SignCode.RanSlowly, dump, share < 0.2 ? 0.5 : 1); break;
                    case DumpFlow.Trickle: Add(SignCode.Trickled, dump, share < 0.1 ? 0.5 : 1); break;
                    case DumpFlow.None: Add(SignCode.NothingCame, dump, share < 0.1 ? 0.4 : 0.9); break;
                }
                if (Black && share < LowDumpBelow && share > 0.05 && !ToppedUp(dump)) Add(SignCode.LowDump, dump);
                if (Black && share > GoodLevel && dump.Debris == Debris.None && dump.Flow is not (DumpFlow.None or DumpFlow.Trickle) && !RinseShows(dump))
                    Add(SignCode.LiquidAlone, dump);
                if (dump.Minutes is > 0 and var minutes && share > 0.15)
                {
                    var litres = share * tank.CapacityL;
                    var usual = RunHistory.Drain(earlier, tank, litres, d => level.Before(d) * tank.CapacityL);
                    var ratio = Math.Log(60 * minutes / usual.Seconds) / Math.Max(0.18, Math.Log(usual.SlowSeconds / usual.Seconds) / 2);
                    // A rig of which two or three drains are known is judged more mildly.
                    if (ratio > 2) Add(SignCode.DrainedLong, dump, Math.Min(2, ratio / 3) * (usual.Timed >= 3 ? 1 : 0.6));
                    else if (ratio < 1 && dump.Flow is null) Add(SignCode.DrainedAsUsual, dump);
                    if (ratio < 3) earlier.Add(dump);
                }
            }
            // Somebody looked soon after and it still stood high.
            if (entries.Between(dump.Instant + Duration.Epsilon, dump.Instant + Duration.FromHours(8))
                .FirstOrDefault(e => e is ReadingEntry { Via: not ReadingVia.Panel, Fraction: not null } && e.Tank == tank.Id) is ReadingEntry seen
                && seen.Fraction > StillFull)
                Add(SignCode.StayedFull, seen);
        }
    }

    private bool ToppedUp(DumpEntry dump) => entries.Between(dump.Instant - Duration.FromHours(30), dump.Instant - Duration.Epsilon)
        .Any(e => e is WaterEntry { Purpose: WaterPurpose.TopUp or WaterPurpose.Soak } && e.Tank == tank.Id);

    // Debris of the rinse is what the dump did not show.
    private bool RinseShows(DumpEntry dump) => entries.Between(dump.Instant, dump.Instant + RunLasts)
        .Any(e => e is FlushEntry f && f.Tank == tank.Id && f.Cycles.Any(c => c.Debris is Debris.Paper or Debris.Chunks));

    private void Valves()
    {
        if (!Black) return;
        ValveEntry? opened = null;
        void Closed(Instant until)
        {
            if (opened is not { } entry || until - entry.Instant < OpenCounts) return;
            // Half a day, two days, a week: each about doubles the risk's odds again.
            found.Add(new Sign(SignCode.BlackStoodOpen, until, entry, Math.Min(2.2, 0.5 + 0.45 * Math.Log((until - entry.Instant).TotalHours / 6))));
        }
        foreach (var entry in entries.Kind<ValveEntry>().Where(v => v.Tank == tank.Id))
        {
            if (entry.State == ValveState.Open) opened ??= entry;
            else
            {
                Closed(entry.Instant);
                opened = null;
            }
        }
        Closed(now);
    }

    // Only of who writes starter water down at all can be said that it was left out.
    private void Starts()
    {
        if (!Black || !entries.Any(e => e is WaterEntry { Purpose: WaterPurpose.Starter } && e.Tank == tank.Id)) return;
        var dumps = entries.Kind<DumpEntry>().Where(d => d.Tank == tank.Id && d.Emptied).ToList();
        for (var i = 0; i < dumps.Count; i++)
        {
            var until = i + 1 < dumps.Count ? dumps[i + 1].Instant : now;
            if (until - dumps[i].Instant < Duration.FromDays(1)) continue;
            var soon = dumps[i].Instant + Duration.FromHours(18);
            if (!entries.Between(dumps[i].Instant - Duration.FromMinutes(5), soon).Any(e => e is WaterEntry or DoseEntry { WaterL: > 2 } && e.Tank == tank.Id)
                && !InStorage(dumps[i].Instant)) Add(SignCode.DryStart, dumps[i]);
        }
        // Stored: without a rinse just before.
        var stays = entries.Kind<StayEntry>();
        foreach (var stay in stays.Where(s => s.Hookup == Hookup.Storage))
        {
            var next = stays.FirstAt(stay.Instant + Duration.Epsilon);
            var end = next < stays.Count ? stays[next].Instant : now;
            if (end - stay.Instant >= StoredFrom && !entries.Between(stay.Instant - Duration.FromDays(3), stay.Instant + Duration.FromDays(2))
                .Any(e => e is FlushEntry && e.Tank == tank.Id)) Add(SignCode.StoredDirty, stay);
        }
    }

    private bool InStorage(Instant at) => entries.Kind<StayEntry>() is var stays
        && stays.FirstAt(at + Duration.FromHours(18) + Duration.Epsilon) is > 0 and var after && stays[after - 1].Hookup == Hookup.Storage;

    private void Rinses()
    {
        if (RunHistory.MeteredFullL(entries, tank) is { } full && tank.CapacityL > 0)
        {
            var entry = entries.Last(e => e is ReadingEntry { Via: ReadingVia.Meter } && e.Tank == tank.Id);
            var share = full / tank.FullMarkL;
            if (share < 0.94) Add(SignCode.HoldsLess, entry, Math.Min(1.5, (1 - share) / 0.1));
            else if (share > 0.97) Add(SignCode.HoldsAll, entry);
        }
        var judged = RunHistory.ToClear(entries, tank.Id);
        // A jet or a new tank begins a new history.
        var cleaned = entries.LastOrDefault(e => e.Tank == tank.Id
            && e is ServiceEntry { Code: ServiceCode.PressureJet } or FlushEntry { Method: FlushMethod.Jet })?.Instant ?? Instant.MinValue;
        var since = judged.Where(r => r.At > cleaned && now - r.At <= Recent).ToList();
        foreach (var (at, cycles, clear) in since.TakeLast(4))
        {
            var entry = entries.Between(at, at).First(e => e is FlushEntry && e.Tank == tank.Id);
            if (!clear && cycles >= ManyCycles) Add(SignCode.RinseDirty, entry, 1.3);
            else if (!clear && cycles >= 3) Add(SignCode.RinseDirty, entry, 0.7);
            else if (clear && cycles >= ManyCycles + 1) Add(SignCode.RinseDirty, entry, 0.8);
            else if (clear && cycles <= FewCycles) Add(SignCode.RinseClear, entry);
        }
        if (since.Count == 0) return;
        var last = entries.Between(since[^1].At, since[^1].At).Last(e => e is FlushEntry && e.Tank == tank.Id);
        var trend = RunHistory.Trend([.. entries.Where(e => e.Instant > cleaned)], tank.Id);
        if (trend is { Rises: true }) found.Add(new Sign(SignCode.CyclesRise, last.Instant, last, Math.Min(1.3, 0.7 + trend.PerMonth / 3)));
        else if (since.Count >= 5)
        {
            double Mean(IEnumerable<(Instant At, int Cycles, bool Clear)> of) => of.Average(r => r.Cycles + (r.Clear ? 0 : 1.0));
            var more = Mean(since.TakeLast(3)) - Mean(since.Take(since.Count - 3));
            if (more >= 1.2) found.Add(new Sign(SignCode.CyclesMore, last.Instant, last, Math.Min(1.5, more / 1.5)));
        }
    }

    // Water that was counted into the emptied tank, up to where a lamp came on or somebody saw the level: what it holds now. A lamp that was lit before the
    // fill says nothing.
    private void Fills()
    {
        var top = tank.Monitor.Probes.MaxBy(p => p.AtFraction);
        double? litres = null;
        var (emptied, dark) = (Instant.MinValue, false);
        var force = new Circumstances(rig);
        var inflow = Enum.GetValues<Hookup>().ToDictionary(h => h, h => rig.MedianInflow(tank, h));
        foreach (var entry in entries)
        {
            force.Apply(entry);
            if (entry.Tank != tank.Id) continue;
            switch (entry)
            {
                case DumpEntry { Emptied: true } or FlushEntry:
                    (litres, emptied, dark) = (DumpEntry.ResidueFraction * tank.CapacityL, entry.Instant, false);
                    break;
                case DumpEntry or ValveEntry:
                    litres = null;
                    break;
                case WaterEntry water:
                    litres += water.WaterL;
                    break;
                case DoseEntry dose:
                    litres += dose.WaterL ?? 0;
                    break;
                case ReadingEntry reading when litres is { } put && reading.Instant - emptied <= FillLasts:
                    put += force.People * inflow[force.Hookup] * (reading.Instant - emptied).TotalDays;
                    if (top is not null && reading.Lit is { } lit)
                    {
                        if (!lit.Contains(top.Id))
                        {
                            dark = true;
                            if (put > tank.FullMarkL) Add(SignCode.HoldsAll, reading);
                        }
                        else if (dark) Holds(reading, put / (top.AtFraction * tank.CapacityL), 1);
                    }
                    // an eye is right within a tenth
                    else if (reading is { Via: ReadingVia.Sight, Fraction: > SeenEnough and var seen }) Holds(reading, put / (seen * tank.CapacityL), 0.5);
                    break;
            }
        }

        void Holds(ReadingEntry reading, double share, double weight)
        {
            if (share < HoldsLessBelow) Add(SignCode.HoldsLess, reading, weight * Math.Min(1.5, (1 - share) / 0.15));
            else if (share > 0.97) Add(SignCode.HoldsAll, reading, weight);
        }
    }

    // Levels that somebody saw since the last drain: what fell went somewhere. A leak shows as a slow fall over several looks or one that stops half way; a
    // fall to nothing at one go is as
    // often a dump that nobody wrote down, unless nobody was there to make it.
    private void Levels()
    {
        var since = new List<Seen>();
        bool open = false, crossed = false;
        Sign? largest = null;
        var force = new Circumstances(rig);
        foreach (var entry in entries)
        {
            force.Apply(entry);
            if (entry is ValveEntry v && v.Tank == tank.Id) open = v.State == ValveState.Open;
            if (entry.Tank == tank.Id && entry is DumpEntry or FlushEntry or ValveEntry)
            {
                since.Clear();
                crossed = false;
                largest = null;
            }
            if (entry is not ReadingEntry reading || reading.Tank != tank.Id || open
                || Look(reading, force.Hookup == Hookup.Storage ? 0 : force.People) is not { } look) continue;
            since.RemoveAll(l => reading.Instant - l.Reading.Instant > Duration.FromDays(14));
            // The first so many of them, they come in the order of time.
            var before = since.Count;
            while (before > 0 && reading.Instant - since[before - 1].Reading.Instant < Duration.FromHours(4)) before--;
            since.Add(look);
            if (before == 0) continue;
            var last = since[before - 1];
            // Lamps are misread now and then: what only one look at them says is not taken for a level.
            var at = -1;
            for (var i = 0; i < before; i++)
                if ((at < 0 || since[i].Lower > since[at].Lower)
                    && (since[i].Reading.Lit is null || i > 0 && since[i - 1].Lower >= since[i].Lower - 0.02 || i + 1 < before
                    && since[i + 1].Lower >= since[i].Lower - 0.02)) at = i;
            if (at < 0 || reading.Lit is not null && last.Upper > look.Upper + 0.02) continue;
            var peak = since[at];
            var away = since.FindIndex(at + 1, l => l.People != 0) < 0;
            // A lamp that goes dark and stays so with nobody aboard is no slosh.
            var fall = away && reading.Lit is not null && peak.Lower > look.Lower && last.Lower < peak.Lower ? Math.Max(0.04, peak.Lower - look.Upper)
                : peak.Lower - look.Upper;
            if (fall > 0)
            {
                var on = since[at..];
                var steps = on.Zip(on.Skip(1)).Count(x => x.Second.Middle < x.First.Middle - 0.01);
                var slow = steps >= 3 && on.Zip(on.Skip(1)).Max(x => x.First.Middle - x.Second.Middle) < 0.6 * (peak.Middle - look.Middle);
                var size = (0.3 + fall / FallenBy * 0.5) * (look.Upper < Drained && !slow && !away ? 0.5 : 1) * (slow ? 1.25 : 1) * (away ? 1.3
                    : 1) * (peak.Reading.Via == reading.Via ? 1 : 0.6);
                size = Math.Min(slow || away ? 2.2 : 1.5, size);
                // One sign a filling, of its largest fall.
                if (largest is null || size >= largest.Size)
                {
                    if (largest is not null) found.Remove(largest);
                    found.Add(largest = new Sign(SignCode.LevelFell, reading.Instant, reading, size));
                }
                if (!Black || crossed || !GrayRose(peak.Reading.Instant, reading.Instant)) continue;
                crossed = true;
                Add(SignCode.CrossFlow, reading);
            }
            else if (last.Middle > 0.25 && reading.Lit is null && last.Middle - look.Middle < 0.02
                && reading.Instant - last.Reading.Instant >= Duration.FromHours(20)) Add(SignCode.LevelHeld, reading);
        }
        foreach (var inconsistency in belief?.Inconsistencies ?? [])
            if (inconsistency.Kind == InconsistencyKind.SeenOtherwise && inconsistency.FoundL < inconsistency.ExpectedL - 0.25 * tank.CapacityL
                && !found.Any(s => s.Code == SignCode.LevelFell && (s.At - inconsistency.At.ToInstant()).TotalDays is > -1 and < 1))
                found.Add(new Sign(SignCode.LevelFell, inconsistency.At.ToInstant(), null, 0.5));
    }

    private bool GrayRose(Instant from, Instant to)
    {
        foreach (var gray in rig.Tanks.Where(t => t.Role == TankRole.Gray))
        {
            var readings = entries.Between(from - Duration.FromDays(1), to + Duration.FromDays(1)).OfType<ReadingEntry>()
                .Where(r => r.Tank == gray.Id).ToList();
            if (readings.Count < 2 || entries.Between(readings[0].Instant + Duration.Epsilon, readings[^1].Instant - Duration.Epsilon)
                .Any(e => e.Tank == gray.Id && e is DumpEntry or ValveEntry)) continue;
            if (Share(readings[0]) is not { } a || Share(readings[^1]) is not { } b) continue;
            var expected = PersonDays(readings[0].Instant, readings[^1].Instant) * rig.MedianInflow(gray, Hookup.Partial) / gray.CapacityL;
            if (b.Share - a.Share > 0.08 + 1.5 * expected) return true;
        }
        return false;
    }

    // Days between two moments, each counted once for everybody aboard.
    private double PersonDays(Instant from, Instant to)
    {
        var (people, at, sum) = (rig.People, from, 0.0);
        foreach (var entry in entries.Kind<PeopleEntry>().TakeWhile(e => e.Instant < to))
        {
            if (entry.Instant > at)
            {
                sum += people * (entry.Instant - at).TotalDays;
                at = entry.Instant;
            }
            people = entry.Count;
        }
        return sum + people * (to - at).TotalDays;
    }

    // A look at the level: between which shares of the tank it was.
    private sealed record Seen(ReadingEntry Reading, double Lower, double Upper, int People)
    {
        public double Middle => (Lower + Upper) / 2;
    }

    private List<Probe>? held;

    private Seen? Look(ReadingEntry reading, int people)
    {
        if (Share(reading) is { } share) return new Seen(reading, share.Share - Sure * share.Half, share.Share + Sure * share.Half, people);
        if (reading.Lit is not { } lit) return null;
        // Between the highest lamp lit and the next above it; lamps that are not believed say nothing.
        var probes = held ??= [.. tank.Monitor.Probes.Where(p => belief?.Probes.FirstOrDefault(b => b.Probe.Id == p.Id) is not { Working: < 0.7 })
            .OrderBy(p => p.AtFraction)];
        if (probes.Count == 0) return null;
        var top = probes.FindLastIndex(p => lit.Contains(p.Id));
        for (var i = 0; i < top; i++) if (!lit.Contains(probes[i].Id)) return null; // no level looks like that
        return new Seen(reading, top < 0 ? 0 : probes[top].AtFraction, top + 1 < probes.Count ? probes[top + 1].AtFraction : 1, people);
    }

    private static (double Share, double Half)? Share(ReadingEntry reading) => reading switch
    {
        { Via: ReadingVia.Sight, Fraction: { } f } => (f, reading.PlusMinus ?? 0.1),
        { Via: ReadingVia.Meter, Fraction: { } f } => (f, reading.PlusMinus ?? 0.03),
        { Via: ReadingVia.Panel, Percent: { } p } => (p / 100, 0.06),
        _ => null,
    };

    private void Overall()
    {
        if (belief is not null)
        {
            var fouled = belief.Probes.Count(p => p.StuckOn > 0.6);
            if (fouled > 0) found.Add(new Sign(SignCode.LampFouled, now, null, fouled > 1 ? 1.5 : 1));
            else if (belief.Probes.Count > 0 && belief.Probes.All(p => p.Working > 0.9)) found.Add(new Sign(SignCode.LampsGood, now, null));
            var usual = rig.MedianInflow(tank, Hookup.Full);
            if (Black && usual > 0 && belief.Factors.Full.Mean is > 0 and < Thrifty) found.Add(new Sign(SignCode.ThriftyUse, now, null));
        }
        if (entries.Count == 0 || now - entries[0].Instant < Uncleaned) return;
        var deep = entries.LastOrDefault(e => e.Tank == tank.Id
            && e is ServiceEntry { Code: ServiceCode.PressureJet } or FlushEntry { Method: FlushMethod.Jet or FlushMethod.Reverse }
            or DoseEntry { Recipe: DoseRecipe.IceScrub or DoseRecipe.SoftenerSoak or DoseRecipe.TravelScrub or DoseRecipe.SoapSoak });
        if (deep is null || now - deep.Instant > Uncleaned) found.Add(new Sign(SignCode.LongUncleaned, now, deep));
    }
}

/// <summary>
/// Reckons a tank's level at moments of the past from the log alone: what was seen, else what flows in by people and place since the last drain. Rough, but
/// enough to tell a full tank from a
/// half-full one when somebody heard it gurgle.
/// </summary>
internal sealed class LevelReckoning
{
    private readonly List<(Instant At, double Share)> points = [];
    private readonly Dictionary<LogEntry, double> before = new(ReferenceEqualityComparer.Instance);

    public LevelReckoning(Rig rig, Tank tank, IReadOnlyList<LogEntry> entries, TankBelief? belief)
    {
        var circumstances = new Circumstances(rig);
        var factors = belief?.Factors;
        // Litres a person and day, by the place.
        var inflow = Enum.GetValues<Hookup>().ToDictionary(h => h, h => rig.MedianInflow(tank, h) * Factor(h));
        // half of what the belief has learned: it too may have taken a gurgle for a full tank
        double Factor(Hookup hookup) =>
            (hookup switch
            {
                Hookup.Full or Hookup.GrayDrain => factors?.Full.Mean,
                Hookup.Partial => factors?.Partial.Mean,
                _ => factors?.Dry.Mean
            }) is > 0 and var f ? Math.Sqrt(Math.Clamp(f, 0.4, 2.5)) : 1;
        var litres = DumpEntry.ResidueFraction * tank.CapacityL;
        Instant? clock = null;
        foreach (var entry in entries)
        {
            if (clock is { } from && entry.Instant > from)
            {
                var days = (entry.Instant - from).TotalDays;
                if (!circumstances.IsOpen(tank.Id)) litres += days * circumstances.People * inflow[circumstances.Hookup];
                litres = Math.Min(litres, tank.CapacityL);
                points.Add((entry.Instant, litres / tank.CapacityL));
            }
            clock = entry.Instant;
            if (entry.Tank == tank.Id)
            {
                before[entry] = litres / tank.CapacityL;
                litres = entry switch
                {
                    DumpEntry { Emptied: true } or FlushEntry => DumpEntry.ResidueFraction * tank.CapacityL,
                    WaterEntry w => Math.Min(tank.CapacityL, litres + w.WaterL),
                    DoseEntry d => Math.Min(tank.CapacityL, litres + (d.WaterL ?? 0)),
                    ReadingEntry { Via: not ReadingVia.Panel, Fraction: { } seen } => seen * tank.CapacityL,
                    ReadingEntry { Percent: { } percent } => (litres + percent / 100 * tank.CapacityL) / 2, // strips read high once they are coated
                    ReadingEntry { Lit: { } lit } when belief is not null => ByLamps(litres, lit, tank, belief),
                    ValveEntry { State: ValveState.Open } => 0,
                    _ => litres,
                };
            }
            circumstances.Apply(entry);
            points.Add((entry.Instant, litres / tank.CapacityL));
        }
    }

    // Lamps that are believed keep the reckoning between them.
    private static double ByLamps(double litres, IReadOnlyList<string> lit, Tank tank, TankBelief belief)
    {
        foreach (var p in belief.Probes.Where(p => p.Working > 0.7))
        {
            var mark = p.Probe.AtFraction * tank.CapacityL;
            litres = lit.Contains(p.Probe.Id) ? Math.Max(litres, mark) : Math.Min(litres, mark);
        }
        return litres;
    }

    /// <summary>Share of the tank at a moment; null before the log begins.</summary>
    public double? At(Instant moment)
    {
        int low = 0, high = points.Count;
        while (low < high)
        {
            var middle = (low + high) / 2;
            if (points[middle].At <= moment) low = middle + 1;
            else high = middle;
        }
        return low == 0 ? null : points[low - 1].Share;
    }

    /// <summary>Share of the tank just before an entry of its own.</summary>
    public double Before(LogEntry entry) => before.TryGetValue(entry, out var share) ? share : 0;
}
