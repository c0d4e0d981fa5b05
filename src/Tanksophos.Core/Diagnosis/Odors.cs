using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Diagnosis;

/// <summary>
/// Ranks what may be behind the smells of the last two weeks: by where, what and when it smelled, and by what else the log says. For each cause the tables give
/// how often it is told in that
/// way, from practitioners' lists of what points to it and what points away.
/// </summary>
internal static class Odors
{
    /// <summary>Smells older than this are no longer asked about.</summary>
    public static readonly Duration Counts = Duration.FromDays(14);

    // What is none of these, or more than one.
    private const double OtherPrior = 0.05, OtherLikelihood = -0.4;
    private const double Sharpness = 1.15;
    private static readonly Duration ChecksCount = Duration.FromDays(10), TrapsHold = Duration.FromDays(14);

    private sealed record Profile(OdorCause Cause, double Prior,
        Dictionary<OdorPlace, double> Where, Dictionary<Smell, double> Smells, Dictionary<OdorWhen, double> When);

    // What nobody lists for a cause is still told now and then.
    private const double RarePlace = 0.015, RareSmell = 0.02;

    // How often a circumstance is named at all, whatever the cause.
    private static readonly Dictionary<OdorWhen, double> UsualWhen = new()
    {
        [OdorWhen.FanOn] = 0.08,
        [OdorWhen.RoofVentOpen] = 0.06,
        [OdorWhen.HotDay] = 0.15,
        [OdorWhen.Driving] = 0.05,
        [OdorWhen.HookedUp] = 0.15,
        [OdorWhen.RightAfterDump] = 0.06,
        [OdorWhen.AfterStorage] = 0.05,
        [OdorWhen.UnusedFixture] = 0.04,
        [OdorWhen.DrainingSink] = 0.05,
        [OdorWhen.Always] = 0.12,
    };

    private static readonly Profile[] Profiles =
    [
        // Smell on flushing with the fan on or the roof vent open, gone otherwise.
        new(OdorCause.FanDraw, 0.14, new() { [OdorPlace.ToiletOnFlush] = 0.62, [OdorPlace.Bathroom] = 0.28, [OdorPlace.WholeRig] = 0.06 },
            new() { [Smell.Sewage] = 0.6, [Smell.RottenEgg] = 0.28, [Smell.Musty] = 0.05 },
            new() { [OdorWhen.FanOn] = 0.72, [OdorWhen.RoofVentOpen] = 0.42, [OdorWhen.Always] = 0.02, [OdorWhen.RightAfterDump] = 0.04 }),
        // The bowl does not hold water: in the bathroom all the time, worse after storage.
        new(OdorCause.BowlSeal, 0.12, new() { [OdorPlace.Bathroom] = 0.72, [OdorPlace.WholeRig] = 0.12, [OdorPlace.ToiletOnFlush] = 0.1 },
            new() { [Smell.Sewage] = 0.68, [Smell.RottenEgg] = 0.2, [Smell.Musty] = 0.06 },
            new() { [OdorWhen.Always] = 0.6, [OdorWhen.AfterStorage] = 0.32 }),
        // Rotten egg, hot days, long since the dump.
        new(OdorCause.BlackAnaerobic, 0.15, new() { [OdorPlace.Bathroom] = 0.48, [OdorPlace.ToiletOnFlush] = 0.28, [OdorPlace.WholeRig] = 0.16 },
            new() { [Smell.RottenEgg] = 0.76, [Smell.Sewage] = 0.18 },
            new() { [OdorWhen.HotDay] = 0.65, [OdorWhen.Always] = 0.15, [OdorWhen.RightAfterDump] = 0.02 }),
        // It smells straight after dump and flush.
        new(OdorCause.BlackCoated, 0.1, new() { [OdorPlace.Bathroom] = 0.45, [OdorPlace.ToiletOnFlush] = 0.38, [OdorPlace.WholeRig] = 0.1 },
            new() { [Smell.Sewage] = 0.6, [Smell.RottenEgg] = 0.24, [Smell.Musty] = 0.1 },
            new() { [OdorWhen.RightAfterDump] = 0.68, [OdorWhen.Always] = 0.12 }),
        // At an unused drain, near the floor, after storage.
        new(OdorCause.DryTrap, 0.14, new() { [OdorPlace.Shower] = 0.34, [OdorPlace.Floor] = 0.26, [OdorPlace.BathSink] = 0.16, [OdorPlace.GalleySink] = 0.08,
            [OdorPlace.WholeRig] = 0.07, [OdorPlace.Bathroom] = 0.06 },
            new() { [Smell.Sewage] = 0.66, [Smell.RottenEgg] = 0.14, [Smell.Musty] = 0.1, [Smell.Gas] = 0.06 },
            new() { [OdorWhen.UnusedFixture] = 0.58, [OdorWhen.AfterStorage] = 0.36, [OdorWhen.Always] = 0.15 }),
        // Rancid food at sinks while they drain.
        new(OdorCause.GrayGreasy, 0.13, new() { [OdorPlace.GalleySink] = 0.7, [OdorPlace.BathSink] = 0.14, [OdorPlace.Shower] = 0.1 },
            new() { [Smell.Rancid] = 0.7, [Smell.Musty] = 0.12, [Smell.Sewage] = 0.1, [Smell.RottenEgg] = 0.05 },
            new() { [OdorWhen.DrainingSink] = 0.62, [OdorWhen.HotDay] = 0.18 }),
        // From drains and toilet while hooked up.
        new(OdorCause.ValveOpenToSewer, 0.08,
            new() { [OdorPlace.WholeRig] = 0.36, [OdorPlace.Shower] = 0.16, [OdorPlace.BathSink] = 0.13, [OdorPlace.Bathroom] = 0.14,
            [OdorPlace.GalleySink] = 0.09, [OdorPlace.ToiletOnFlush] = 0.08 }, new() { [Smell.Sewage] = 0.78, [Smell.RottenEgg] = 0.12 },
            new() { [OdorWhen.HookedUp] = 0.72, [OdorWhen.Always] = 0.2 }),
        // After every flush, with gurgling.
        new(OdorCause.VentBlocked, 0.07, new() { [OdorPlace.ToiletOnFlush] = 0.54, [OdorPlace.Bathroom] = 0.3, [OdorPlace.WholeRig] = 0.08 },
            new() { [Smell.Sewage] = 0.64, [Smell.RottenEgg] = 0.24 },
            new() { [OdorWhen.Always] = 0.3 }),
        // Outside or in the bay.
        new(OdorCause.HoseOrCap, 0.09, new() { [OdorPlace.Outside] = 0.5, [OdorPlace.StorageBay] = 0.44 },
            new() { [Smell.Sewage] = 0.76, [Smell.RottenEgg] = 0.1, [Smell.Musty] = 0.08 },
            new() { [OdorWhen.HookedUp] = 0.28, [OdorWhen.Driving] = 0.12, [OdorWhen.RightAfterDump] = 0.14 }),
        // The alarm is real until shown otherwise.
        new(OdorCause.Propane, 0.02, new() { [OdorPlace.Floor] = 0.34, [OdorPlace.WholeRig] = 0.3, [OdorPlace.GalleySink] = 0.18, [OdorPlace.Outside] = 0.08 },
            new() { [Smell.Gas] = 0.85, [Smell.RottenEgg] = 0.08 },
            new() { [OdorWhen.Always] = 0.2 }),
    ];

    /// <summary>The causes of the smells on record, most probable first; empty if none is on record in the last 14 days.</summary>
    /// <param name="rig">The rig.</param>
    /// <param name="entries">The log in the order of time, nothing later than <paramref name="now"/>.</param>
    /// <param name="now">The moment.</param>
    /// <param name="coated">How likely it is, from all else, that black is coated.</param>
    /// <param name="alarm">Whether a propane alarm stands.</param>
    public static IReadOnlyList<OdorBelief> Compute(Rig rig, IReadOnlyList<LogEntry> entries, Instant now, double coated, bool alarm)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(entries);
        var odors = entries.Kind<OdorEntry>().Where(o => now - o.Instant <= Counts).TakeLast(40).Reverse().ToList();
        if (odors.Count == 0) return [];
        var causes = Enum.GetValues<OdorCause>();
        var sums = new double[causes.Length];
        var reasons = causes.Select(_ => new List<OdorReason>()).ToArray();
        var other = Math.Log(OtherPrior);
        for (var c = 0; c < causes.Length; c++) sums[c] = Math.Log(Profiles[c].Prior);

        // The newest counts whole; those before it are often the same smell told again.
        for (var i = 0; i < odors.Count; i++)
        {
            var weight = (i == 0 ? 1 : 0.55 / Math.Sqrt(i)) * Math.Pow(0.5, (now - odors[i].Instant).TotalDays / 14);
            Add(OdorSign.Where, odors[i], weight, p => Math.Log(p.Where.GetValueOrDefault(odors[i].Where, RarePlace)));
            Add(OdorSign.Smell, odors[i], weight, p => Math.Log(p.Smells.GetValueOrDefault(odors[i].Smell, RareSmell)));
            var told = odors[i].When.ToHashSet();
            Add(OdorSign.When, odors[i], weight,
                p => UsualWhen.Sum(u => Math.Log(told.Contains(u.Key) ? p.When.GetValueOrDefault(u.Key, u.Value)
                : 1 - p.When.GetValueOrDefault(u.Key, u.Value))));
            other += weight * (OtherLikelihood + Math.Log(0.1) + Math.Log(0.16) + UsualWhen.Sum(u => Math.Log(told.Contains(u.Key) ? u.Value : 1 - u.Value)));
        }
        foreach (var (sign, cause, amount, entry) in Around(rig, entries, odors, now, coated, alarm))
        {
            sums[(int)cause] += amount;
            reasons[(int)cause].Add(new OdorReason(sign, amount, entry));
        }
        // What is told is told by people who leave things out rather than add them; on practice cases the sums were too mild.
        for (var c = 0; c < sums.Length; c++) sums[c] *= Sharpness;
        other *= Sharpness;
        var top = Math.Max(sums.Max(), other);
        var total = sums.Sum(s => Math.Exp(s - top)) + Math.Exp(other - top);
        return [.. causes.Select((c, i) =>
            new OdorBelief(c, Math.Exp(sums[i] - top) / total,
            [.. reasons[i].Where(r => Math.Abs(r.Weight) > 0.05).OrderByDescending(r => Math.Abs(r.Weight))])).OrderByDescending(b => b.Probability)
            .ThenBy(b => b.Cause)];

        void Add(OdorSign sign, OdorEntry entry, double weight, Func<Profile, double> of)
        {
            var told = Profiles.Select(of).ToArray();
            // Said against what the causes together would lead to expect.
            var mean = Math.Log(Profiles.Select((p, i) => p.Prior * Math.Exp(told[i])).Sum() / Profiles.Sum(p => p.Prior));
            for (var c = 0; c < sums.Length; c++)
            {
                sums[c] += weight * told[c];
                reasons[c].Add(new OdorReason(sign, weight * (told[c] - mean), entry));
            }
        }
    }

    // What else the log says around the smells.
    private static IEnumerable<(OdorSign Sign, OdorCause Cause, double Weight, LogEntry? Entry)> Around(Rig rig, IReadOnlyList<LogEntry> entries,
        List<OdorEntry> odors, Instant now, double coated, bool alarm)
    {
        var around = new Surroundings(rig, entries, odors[0], [.. entries.Where(e => e.Instant >= odors[^1].Instant - ChecksCount)]);
        return [.. around.Seals(), .. around.Pipes(), .. around.Coat(coated), .. around.Waste(), .. around.Valves(), .. around.Gas(alarm)];
    }

    // The newest smell, and the entries from a while before the oldest that counts.
    private sealed record Surroundings(Rig Rig, IReadOnlyList<LogEntry> Entries, OdorEntry Newest, IReadOnlyList<LogEntry> Near)
    {
        private CheckEntry? Check(CheckCode code) => Near.OfType<CheckEntry>().LastOrDefault(c => c.Code == code);

        private static bool Failed(CheckEntry check) => check.Result == CheckResult.Fail;

        // Bowl and traps.
        public IEnumerable<(OdorSign Sign, OdorCause Cause, double Weight, LogEntry? Entry)> Seals()
        {
            if (Check(CheckCode.BowlHoldsWater) is { } bowl)
                yield return (Failed(bowl) ? OdorSign.BowlDry : OdorSign.BowlHolds, OdorCause.BowlSeal, Failed(bowl) ? 2.8 : -2.6, bowl);
            else if (Near.OfType<SymptomEntry>().LastOrDefault(s => s.Code == SymptomCode.BowlGoesDry) is { } dry)
                yield return (OdorSign.BowlDry, OdorCause.BowlSeal, 2.6, dry);
            if (Check(CheckCode.TrapsWet) is { } traps)
                yield return (Failed(traps) ? OdorSign.TrapDry : OdorSign.TrapsWet, OdorCause.DryTrap, Failed(traps) ? 2.8
                    : traps.Instant <= Newest.Instant ? -2.2
                : -1.2, traps);
            // Who waters the traps and writes it down is known to be late; of others nothing is known.
            else if (Entries.Kind<CheckEntry>().LastOrDefault(c => c.Code == CheckCode.TrapsWet && c.Instant <= Newest.Instant) is { } watered
                && Newest.Instant - watered.Instant is var dryFor && dryFor > TrapsHold)
                yield return (OdorSign.TrapsLongAgo, OdorCause.DryTrap, Math.Min(1.0, 0.3 + 0.03 * (dryFor - TrapsHold).TotalDays), watered);
        }

        // Roof vent, hose and cap.
        public IEnumerable<(OdorSign Sign, OdorCause Cause, double Weight, LogEntry? Entry)> Pipes()
        {
            var vented = Check(CheckCode.RoofVentClear);
            if (vented is not null) yield return (Failed(vented) ? OdorSign.VentBlocked : OdorSign.VentClear, OdorCause.VentBlocked, Failed(vented) ? 3.4
                : -2.4, vented);
            var cap = Check(CheckCode.CapDry);
            var hose = Check(CheckCode.HoseSound);
            var drips = Near.OfType<SymptomEntry>().LastOrDefault(s => s.Code == SymptomCode.ValveDrips);
            if (hose is not null && Failed(hose)) yield return (OdorSign.HoseOrCapBad, OdorCause.HoseOrCap, 2.6, hose);
            else if (cap is not null && Failed(cap)) yield return (OdorSign.HoseOrCapBad, OdorCause.HoseOrCap, 2.2, cap);
            else if (drips is not null) yield return (OdorSign.HoseOrCapBad, OdorCause.HoseOrCap, 1.4, drips);
            else if ((hose ?? cap) is { } sound) yield return (OdorSign.HoseOrCapGood, OdorCause.HoseOrCap, -1.2, sound);
        }

        // What sticks inside the black tank.
        public IEnumerable<(OdorSign Sign, OdorCause Cause, double Weight, LogEntry? Entry)> Coat(double coated)
        {
            var sniff = Check(CheckCode.SniffTest);
            if (sniff is not null)
            {
                var dumped = Entries.LastOrDefault(e => e is DumpEntry or FlushEntry && e.Instant <= sniff.Instant
                    && Rig.FindEver(e.Tank)?.Role == TankRole.Black)?.Instant;
                var straight = dumped is { } d && sniff.Instant - d <= Duration.FromHours(6);
                if (Failed(sniff))
                {
                    yield return (OdorSign.SniffFailed, OdorCause.BlackCoated, straight ? 2.0 : 0.6, sniff);
                    yield return (OdorSign.SniffFailed, OdorCause.BlackAnaerobic, straight ? -0.2 : 0.9, sniff);
                }
                else
                {
                    // A tank that sniff-tests clean is not coated, whatever else it does.
                    // After the smell it outweighs it.
                    var since = sniff.Instant > Newest.Instant ? 2 : 1;
                    yield return (OdorSign.SniffPassed, OdorCause.BlackCoated, since * (straight ? -2.4 : -1.6), sniff);
                    if (!straight) yield return (OdorSign.SniffPassed, OdorCause.BlackAnaerobic, since * -1.2, sniff);
                }
            }
            // Cleaned since it smelled: that was another coat.
            if (Near.LastOrDefault(e => e.Instant > Newest.Instant && (e.Tank is null || Rig.FindEver(e.Tank)?.Role == TankRole.Black)
                && (e is ServiceEntry { Code: ServiceCode.PressureJet } || e is FlushEntry flush && DeepClean.Is(flush) || e is DoseEntry dose
                && DeepClean.Is(dose.Recipe))) is { } cleaned)
                yield return (OdorSign.Cleaned, OdorCause.BlackCoated, cleaned is DoseEntry ? -1.5 : -4.5, cleaned);
            if (coated > 0.15) yield return (OdorSign.Coated, OdorCause.BlackCoated, Math.Min(1.2, 1.4 * coated), null);
        }

        // How long the waste has stood.
        public IEnumerable<(OdorSign Sign, OdorCause Cause, double Weight, LogEntry? Entry)> Waste()
        {
            var black = Rig.Tanks.FirstOrDefault(t => t.Role == TankRole.Black);
            if (black is not null)
            {
                var level = new LevelReckoning(Rig, black, Entries, null);
                foreach (var gurgle in Near.OfType<SymptomEntry>().Where(s => s.Code is SymptomCode.Gurgles or SymptomCode.DrainsSlowly).TakeLast(2))
                    if ((level.At(gurgle.Instant) ?? 0.5) < 0.8)
                        yield return (OdorSign.Gurgles, OdorCause.VentBlocked, gurgle.Code == SymptomCode.Gurgles ? 2.0 : 1.1, gurgle);
                var dump = Entries.LastOrDefault(e => e is DumpEntry { Emptied: true } && e.Tank == black.Id && e.Instant <= Newest.Instant);
                if (dump is not null)
                {
                    var days = (Newest.Instant - dump.Instant).TotalDays;
                    if (days >= 3 && Newest.When.Contains(OdorWhen.HotDay))
                        yield return (OdorSign.HotSinceDump, OdorCause.BlackAnaerobic, Math.Min(0.6, 0.1 * days), dump);
                    if (days >= 4) yield return (OdorSign.LongSinceDump, OdorCause.BlackAnaerobic, Math.Min(1.2, 0.35 + (days - 4) * 0.12), dump);
                    else if (days < 1.5)
                    {
                        yield return (OdorSign.DumpedJustBefore, OdorCause.BlackAnaerobic, -1.2, dump);
                        yield return (OdorSign.DumpedJustBefore, OdorCause.BlackCoated, 0.7, dump);
                    }
                    if (days > 3) yield return (OdorSign.LongSinceDump, OdorCause.BlackCoated, -0.6, dump);
                }
                if (Near.OfType<DoseEntry>()
                    .LastOrDefault(d => d.Tank == black.Id
                    && d.Recipe is DoseRecipe.ClassicBleach or DoseRecipe.SanitizeBleach) is { } bleach) yield return (OdorSign.Bleach,
                    OdorCause.BlackAnaerobic,
                    0.9, bleach);
            }
        }

        // What stood open, and where the rig stood, at the newest smell.
        public IEnumerable<(OdorSign Sign, OdorCause Cause, double Weight, LogEntry? Entry)> Valves()
        {
            var force = new Circumstances(Rig);
            Instant? stood = null;
            foreach (var e in Entries)
            {
                if (e.Instant > Newest.Instant) break;
                if (e is StayEntry stay && force.Hookup == Hookup.Storage && stay.Hookup != Hookup.Storage) stood = e.Instant;
                force.Apply(e);
            }
            var open = Rig.Tanks.Where(t => force.IsOpen(t.Id)).ToList();
            var sewer = force.Hookup is Hookup.Full or Hookup.GrayDrain;
            var opened = open.Count > 0
                ? Entries.LastOrDefault(e => e is ValveEntry { State: ValveState.Open } v && v.Tank == open[0].Id && e.Instant <= Newest.Instant) : null;
            if (!sewer && open.Count == 0) yield return (OdorSign.NoSewer, OdorCause.ValveOpenToSewer, -3.0, null);
            else if (open.Count > 0) yield return (OdorSign.ValveOpen, OdorCause.ValveOpenToSewer, open.Any(t => t.Role == TankRole.Black) ? 2.4 : 0.9, opened);
            else yield return (OdorSign.ValvesClosed, OdorCause.ValveOpenToSewer, -1.5, null);
            if (open.FirstOrDefault(t => t.Role == TankRole.Gray && force.OpenSince(t.Id) is { } since
                && Newest.Instant - since >= Duration.FromDays(3)) is not null) yield return (OdorSign.GrayOpenLong, OdorCause.GrayGreasy, 0.5, opened);
            if (force.Hookup == Hookup.Storage || stood is { } back && Newest.Instant - back <= Duration.FromDays(7))
            {
                yield return (OdorSign.AfterStanding, OdorCause.DryTrap, 0.8, null);
                yield return (OdorSign.AfterStanding, OdorCause.BowlSeal, 0.6, null);
            }
        }

        // The propane alarm.
        public IEnumerable<(OdorSign Sign, OdorCause Cause, double Weight, LogEntry? Entry)> Gas(bool alarm)
        {
            var alarmEntry = Near.OfType<SymptomEntry>().LastOrDefault(s => s.Code == SymptomCode.PropaneAlarm);
            if (alarm) yield return (OdorSign.AlarmStands, OdorCause.Propane, 4.5, alarmEntry);
            else if (Check(CheckCode.PropaneRuledOut) is { Result: CheckResult.Pass } clear)
            {
                yield return (OdorSign.AlarmCleared, OdorCause.Propane, -4.0, clear);
                // Heavy gas collects near the floor where the alarm sits.
                if (alarmEntry is not null) yield return (OdorSign.AlarmCleared, OdorCause.DryTrap, 1.0, alarmEntry);
            }
        }
    }
}
