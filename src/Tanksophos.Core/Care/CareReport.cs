using NodaTime;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;
using Tanksophos.Core.Trips;
using Tanksophos.Core.Weather;

namespace Tanksophos.Core.Care;

/// <summary>
/// What a rig asks for through the year: each chore by its own rhythm, earlier on signs, quiet where it is not needed. The rhythms are practitioners'.
/// </summary>
public sealed class CareReport
{
    /// <summary>Lowest and highest pressure of a jet for rigs in bar: 1,500 and 4,000 psi (practitioners' figures).</summary>
    public const double JetLowBar = 103.42, JetHighBar = 275.79;

    /// <summary>Months after which a tank is jetted again, by what came out the last time.</summary>
    /// <param name="grade">Its grade; null if none was given.</param>
    public static (int From, int To) JetAgainMonths(Grade? grade) => grade switch
    {
        Grade.A => (24, 36),
        Grade.B or null => (24, 24),
        _ => (12, 12),
    };

    /// <summary>Days until water in a trap that nobody uses has dried away: a cup or two every fortnight.</summary>
    public const int TrapDays = 14;

    /// <summary>Days between two looks at a rig in storage, and between two cleanings of a gray tank: a month.</summary>
    public const int MonthDays = 30;

    // A drive that is shorter stirs little.
    private const double ShortestScrubDrive = 1;

    private const int FewTrips = 3, LongestWithoutCleanDays = 90, YearDays = 365, UsualStorageDays = 180;
    private const int TeethKept = 60;
    private static readonly Duration TrendReads = Duration.FromDays(500);
    private const double LikelyBuildup = 0.5, SurelyStuck = 0.5;
    private static readonly Duration Month = Duration.FromDays(MonthDays), Year = Duration.FromDays(YearDays), Traps = Duration.FromDays(TrapDays);
    private static readonly Duration JustBefore = Duration.FromDays(7), ClosedBefore = Duration.FromDays(14), StorageAhead = Duration.FromDays(30);

    private readonly Rig rig;
    private readonly IReadOnlyList<LogEntry> entries;
    private readonly LevelBelief belief;
    private readonly FaultReport faults;
    private readonly IReadOnlyList<Stop> stops;
    private readonly WeatherHere? weather;
    private readonly Instant now, first;
    private readonly Standing standing;
    private readonly ILookup<string, ChoreEntry> logged;
    private readonly List<CareItem> items = [];

    private CareReport(Logbook logbook, LevelBelief belief, FaultReport faults, IReadOnlyList<Stop> stops, WeatherHere? weather, Instant now)
    {
        (this.belief, this.faults, this.stops, this.weather, this.now) = (belief, faults, stops, weather, now);
        rig = logbook.Rig;
        entries = logbook.InOrder();
        first = entries.Count > 0 ? Instant.Min(entries[0].Instant, now) : now;
        standing = Standing.Of(entries);
        logged = entries.Memo((nameof(CareReport), nameof(ChoreEntry)), () => entries.Kind<ChoreEntry>().ToLookup(c => c.Chore, StringComparer.Ordinal));
    }

    /// <summary>All chores of the rig, the most urgent first.</summary>
    /// <param name="logbook">The log.</param>
    /// <param name="belief">What is believed of it.</param>
    /// <param name="faults">What is wrong with the tanks: a sign may call for a chore before its time.</param>
    /// <param name="stops">The stops of the trip under way; null for none.</param>
    /// <param name="weather">The weather where the rig stands; null if nothing is known of it.</param>
    /// <returns>Empty for an empty log without a moment of its own.</returns>
    public static IReadOnlyList<CareItem> Compute(Logbook logbook, LevelBelief belief, FaultReport faults, Itinerary? stops = null,
        WeatherHere? weather = null)
    {
        ArgumentNullException.ThrowIfNull(logbook);
        ArgumentNullException.ThrowIfNull(belief);
        ArgumentNullException.ThrowIfNull(faults);
        return belief.AsOf is { } asOf ? new CareReport(logbook, belief, faults, stops?.Stops ?? [], weather, asOf.ToInstant()).All() : [];
    }

    private List<CareItem> All()
    {
        Trap();
        foreach (var tank in belief.Tanks.Where(t => t.Tank.Role == TankRole.Black)) Clean(tank);
        Hose();
        Simple(ChoreWords.YearlyInspection, Year, 50);
        foreach (var tank in rig.Tanks.Where(t => t.Role == TankRole.Black || JetsOf(t).Count > 0)) Jet(tank);
        foreach (var tank in rig.Tanks.Where(t => t.Role == TankRole.Gray)) GrayTank(tank);
        Storage();
        Frost();
        SeasonEnds();
        foreach (var own in rig.Chores) Own(own);
        items.RemoveAll(i => rig.ChoresOff.Contains(i.Chore));
        return [.. items.OrderBy(i => Rank(i)).ThenBy(i => i.Due).ThenBy(i => i.Chore, StringComparer.Ordinal)];
    }

    private int Rank(CareItem item) => item.State switch
    {
        CareState.Overdue => 0,
        CareState.Due => 1,
        CareState.Never when item.Asks(now) => 2,
        CareState.Soon => 3,
        CareState.Never => 4,
        CareState.Done => 5,
    };

    private bool InStorage => standing.Now is not null;

    private bool SewerHere => belief.InForce.Hookup == Hookup.Full && !InStorage;

    // When the rig next stands at a sewer, by the trip; null if it does not say.
    private Instant? NextSewer => stops.FirstOrDefault(s => s.Hookup is StopHookup.Full && s.Arrive.ToInstant() > now)?.Arrive.ToInstant();

    private Stop? StorageStop => stops.FirstOrDefault(s => s.Hookup == StopHookup.Storage && s.Depart.ToInstant() > now);

    // Entries of a chore, done for a tank, or for none in particular.
    private IEnumerable<ChoreEntry> Of(string chore, string? tank) => logged[chore].Where(c => c.Instant <= now && (c.Tank is null || c.Tank == tank));

    private static Duration Lead(Duration every) => Duration.FromDays(Math.Clamp(every.TotalDays / 12, 4, 30));

    private static Duration Grace(Duration every) => Duration.FromDays(Math.Clamp(every.TotalDays / 4, 1, 7));

    /// <summary>Puts a chore on the list.</summary>
    /// <param name="chore">Its word.</param>
    /// <param name="tank">Its tank.</param>
    /// <param name="done">When it was done.</param>
    /// <param name="every">Its rhythm.</param>
    /// <param name="because">Why.</param>
    /// <param name="signs">What in the log calls for it before its time.</param>
    /// <param name="due">When it is due for another reason than its rhythm; null for none.</param>
    /// <param name="needsSewer">Whether it needs a place with a sewer.</param>
    private CareItem Put(string chore, string? tank, List<Instant> done, Duration every, IReadOnlyList<string> because, Instant? due = null,
        bool needsSewer = false, List<LogEntry>? signs = null)
    {
        var own = Of(chore, tank).ToList();
        Instant? last = done.Count > 0 ? done[^1] : null;
        var from = last ?? first;
        if (rig.CareFrom?.ToInstant() is { } fresh && fresh > from && fresh <= now) from = fresh;
        // Left out once: it is due again after its time, not before.
        var skipped = own.LastOrDefault(c => c.Result == ChoreResult.Skipped && c.Instant >= from);
        if (skipped is { Until: null }) from = skipped.Instant;
        var reasons = because.ToList();
        var at = due is { } other && other > from - JustBefore ? other : from + every;
        if (skipped is { Until: { } until } && until.ToInstant() > at)
        {
            at = until.ToInstant();
            reasons = [CareBecause.PutOff];
        }
        else if (signs is { Count: > 0 } && signs[^1].Instant > from)
            at = Instant.Min(at, signs[^1].Instant);
        if (own is [.., { Result: ChoreResult.Problem } bad] && bad.Instant >= from)
        {
            at = Instant.Min(at, bad.Instant);
            reasons.Insert(0, CareBecause.Problem);
        }
        else if (skipped is { Until: null }) reasons.Add(CareBecause.SkippedLast);
        var state = last is null && rig.CareFrom is null && !(reasons.Contains(CareBecause.Problem) || signs is { Count: > 0 }) ? CareState.Never
            : now < at - Lead(every) ? CareState.Done : now < at ? CareState.Soon : last is null || now < at + Grace(every) ? CareState.Due
                : CareState.Overdue;
        if (needsSewer && !SewerHere && at <= now)
        {
            // It waits for the next place that can give it.
            reasons.Add(CareBecause.WaitsForSewer);
            if (NextSewer is { } sewer) at = sewer;
            if (state != CareState.Never) state = CareState.Soon;
        }
        if (last is null && state == CareState.Never) reasons.Add(CareBecause.NeverRecorded);
        var paid = own.LastOrDefault(c => c.CostMinor is not null);
        var took = own.LastOrDefault(c => c.Minutes is not null);
        at = Instant.FromUnixTimeSeconds(at.ToUnixTimeSeconds());
        var item = new CareItem(chore, tank, at, state, last, [.. reasons.Distinct()])
        {
            From = from,
            DoneAt = done,
            Evidence = [.. (signs ?? []).Concat(own.TakeLast(1)).OrderBy(e => e.Instant)],
            CostMinor = paid?.CostMinor,
            Minutes = took?.Minutes
        };
        items.Add(item);
        return item;
    }

    private void Change(CareItem item, Func<CareItem, CareItem> change) => items[items.IndexOf(item)] = change(item);

    private List<Instant> Done(string chore, string? tank) => [.. Of(chore, tank).Where(c => c.Result != ChoreResult.Skipped).Select(c => c.Instant)];

    // When a check was passed.
    private IEnumerable<Instant> Passed(CheckCode code) => entries.Fold((nameof(Passed), code), (IReadOnlyList<Instant>)[],
        (passed, e) => e is CheckEntry { Result: CheckResult.Pass } check && check.Code == code ? [.. passed.TakeLast(TeethKept - 1), e.Instant] : passed)
        .Where(at => at <= now);

    private void Simple(string chore, Duration every, double minutes)
    {
        var item = Put(chore, null, Done(chore, null), every, [CareBecause.Interval]);
        Change(item, i => i with { Minutes = i.Minutes ?? minutes });
    }

    // Water in the traps of drains that nobody uses; water that was run counts, drain by drain.
    private void Trap()
    {
        if (rig.UnusedFixtures is not { Count: > 0 } drains || InStorage) return;
        var chores = Of(ChoreWords.Traps, null).Where(c => c.Result == ChoreResult.Done).ToList();
        var wet = Passed(CheckCode.TrapsWet).ToList();
        // The drain that has waited longest tells when.
        List<Instant> DoneAt(string drain) => [.. chores.Where(c => c.Part is null || string.Equals(c.Part.Trim(), drain.Trim(),
            StringComparison.OrdinalIgnoreCase))
            .Select(c => c.Instant).Concat(wet).Order()];
        var each = drains.Select(d => (Drain: d, Done: DoneAt(d))).ToList();
        var longest = each.MinBy(d => d.Done.Count > 0 ? d.Done[^1] : Instant.MinValue);
        var stored = standing.Storage.LastOrDefault(s => s.To is not null);
        // They dried while the rig stood: filled again once it is out.
        var after = stored?.To is { } end && longest.Done.Count > 0 && longest.Done[^1] < end && longest.Done[^1] + Traps < end ? end : (Instant?)null;
        var item = Put(ChoreWords.Traps, null, longest.Done, Traps, [after is null ? CareBecause.Interval : CareBecause.AfterStorage], after);
        Change(item, i => i with
        {
            Drains = [.. each.Where(d => d.Done.Count == 0 || d.Done[^1] + Traps <= Instant.Max(now, i.Due)).Select(d => d.Drain)],
            Minutes = i.Minutes ?? 2
        });
    }

    private void Clean(TankBelief tank)
    {
        var id = tank.Tank.Id;
        var done = Courses.DeepCleaned(entries, id)
            .Concat(Of(ChoreWords.DeepClean, id).Where(c => c.Result == ChoreResult.Done).Select(c => c.Instant)).Order().ToList();
        var from = done.Count > 0 ? done[^1] : first;
        var rule = rig.RulesInForce.DeepClean;
        var trips = standing.After(from + JustBefore).ToList();
        var (due, because) = rule switch
        {
            DeepCleanRule.Monthly => (from + Month, CareBecause.HouseRule),
            DeepCleanRule.EachTrip when trips.Count > 0 => (trips[0].From, CareBecause.Trips),
            DeepCleanRule.EachTrip => (from + Month, CareBecause.LivedIn),
            DeepCleanRule.EachFewTrips when trips.Count >= FewTrips => (trips[FewTrips - 1].From, CareBecause.Trips),
            DeepCleanRule.EachFewTrips => (from + Duration.FromDays(LongestWithoutCleanDays), CareBecause.HouseRule),
            DeepCleanRule.BySigns => ((Instant?)null, CareBecause.HouseRule),
        };
        // No school stores a dirty tank.
        if (StorageStop is { } storage && storage.Arrive.ToInstant() is var stored && stored > from + JustBefore && stored <= now + StorageAhead
            && (due is null || stored < due)) (due, because) = (stored, CareBecause.BeforeStorage);
        if (due is null && trips.Count > 0 && InStorage) (due, because) = (trips[^1].From, CareBecause.BeforeStorage);
        var signs = Signs(tank, from);
        if (due is null && signs.Count == 0) return;
        var item = Put(ChoreWords.DeepClean, id, done, due is { } date && date > from ? Duration.FromDays(Math.Max(1, (date - from).TotalDays)) : Month,
            signs.Count > 0 ? [.. signs.Select(s => s.Because).Distinct()] : [because], needsSewer: true, signs: [.. signs.Select(s => s.Entry)]);
        Change(item, i => i with { Trips = trips.Count, Minutes = i.Minutes ?? 45, By = CleanBy(i.Because) });
    }

    // A light that is stuck asks for soap on the move, a coat for water from below; without either it sits overnight. Ice is worth it only on a drive.
    private RemedyAction CleanBy(IReadOnlyList<string> because)
    {
        var drive = stops.Any(s => s.Arrive.ToInstant() > now && s.DriveHoursBefore >= ShortestScrubDrive);
        var coat = because.Contains(CareBecause.SniffFailed) || because.Contains(CareBecause.RinsesRise) || because.Contains(CareBecause.Buildup);
        if (coat && rig.Equipment is { ReverseFlush: true, Macerator: not true }) return RemedyAction.Reverse;
        if (coat) return drive ? RemedyAction.IceScrub : RemedyAction.SoftenerSoak;
        return drive ? RemedyAction.TravelScrub : RemedyAction.SoapSoak;
    }

    // What calls for a deep clean before its time, since the last one.
    private List<(string Because, LogEntry Entry)> Signs(TankBelief tank, Instant since)
    {
        var id = tank.Tank.Id;
        var signs = new List<(string, LogEntry)>();
        if (entries.Kind<CheckEntry>().LastOrDefault(c => c.Code == CheckCode.SniffTest && c.Instant > since && c.Instant <= now
            && (c.Tank is null || c.Tank == id)) is { Result: CheckResult.Fail } sniff) signs.Add((CareBecause.SniffFailed, sniff));
        var deeds = entries.Deeds(id);
        if (deeds.LastOrDefault(d => d is FlushEntry && d.Instant > since && d.Instant <= now) is { } flush)
        {
            if (RunHistory.Trend([.. entries.Kind<FlushEntry>().Between(now - TrendReads, now)], id) is { Rises: true })
                signs.Add((CareBecause.RinsesRise, flush));
            if (faults.Tanks.FirstOrDefault(t => t.Tank.Id == id)?.Conditions.FirstOrDefault(c => c.Code == Condition.Buildup) is { } c
                && c.Probability > LikelyBuildup) signs.Add((CareBecause.Buildup, flush));
        }
        if (tank.Probes.Any(p => p.StuckOn > SurelyStuck && p.DoubtedSince > since)
            && entries.Kind<ReadingEntry>().LastOrDefault(r => r.Tank == id && r.Instant <= now && r.Instant > since) is { } reading)
            signs.Add((CareBecause.StuckLight, reading));
        return [.. signs.OrderBy(s => s.Item2.Instant)];
    }

    // With each dump: due with the next one, if the last went without.
    private void Hose()
    {
        var done = Done(ChoreWords.HoseInspection, null).Concat(Passed(CheckCode.HoseSound)).Order().ToList();
        var bad = entries.Kind<CheckEntry>().LastOrDefault(c => c.Code == CheckCode.HoseSound && c.Instant <= now) is { Result: CheckResult.Fail } fail
            && (done.Count == 0 || fail.Instant > done[^1]) ? fail : null;
        var item = Put(ChoreWords.HoseInspection, null, done, Month, [bad is null ? CareBecause.Dumped : CareBecause.Problem], signs: bad is null
            ? null : [bad]);
        // Nothing was dumped since: nothing to inspect.
        var dumped = entries.Kind<DumpEntry>() is [.., { } last] && last.Instant > item.From + Duration.FromHours(12);
        if (!dumped && item.State is CareState.Due or CareState.Overdue && !item.Because.Contains(CareBecause.Problem))
            Change(item, i => i with { State = CareState.Soon, Minutes = i.Minutes ?? 5 });
        else Change(item, i => i with { Minutes = i.Minutes ?? 5 });
    }

    // A jet without a tank was of all black ones.
    private List<LogEntry> JetsOf(Tank tank) => [.. entries.Fold((nameof(JetsOf), tank.Id, tank.Role), (IReadOnlyList<LogEntry>)[], (jets, e) => e switch
    {
        ServiceEntry { Code: ServiceCode.PressureJet } when e.Tank == tank.Id || e.Tank is null && tank.Role == TankRole.Black => [.. jets, e],
        FlushEntry { Method: FlushMethod.Jet } when e.Tank == tank.Id => [.. jets, e],
        _ => jets,
    }).Where(e => e.Instant <= now)];

    // By the grade of what came out: the worse, the sooner again. Once in a rig's life, even if it is new.
    private void Jet(Tank tank)
    {
        var jets = JetsOf(tank);
        var grade = jets.OfType<ServiceEntry>().LastOrDefault(s => s.Grade is not null && jets[^1].Instant - s.Instant < JustBefore)?.Grade;
        var (soonest, latest) = JetAgainMonths(grade);
        var months = (soonest + latest) / 2;
        var from = jets.Count > 0 ? jets[^1].Instant : first;
        var item = Put(ChoreWords.PressureJet, tank.Id, [.. jets.Select(j => j.Instant)], Months(from, jets.Count > 0 ? months : 12),
            [jets.Count == 0 ? CareBecause.Interval : grade is null ? CareBecause.Ungraded : CareBecause.Grade], needsSewer: true);
        Change(item, i => i with
        {
            Grade = grade,
            Evidence = [.. jets.TakeLast(1)],
            CostMinor = jets.OfType<ServiceEntry>().LastOrDefault()?.CostMinor,
            Minutes = jets.OfType<ServiceEntry>().LastOrDefault()?.Minutes ?? 60
        });
    }

    private Duration Months(Instant from, int months)
    {
        var zone = belief.InForce.Zone;
        var start = from.InZone(zone).LocalDateTime;
        return start.PlusMonths(months).InZoneLeniently(zone).ToInstant() - from;
    }

    private void GrayTank(Tank tank)
    {
        if (InStorage) return;
        var done = entries.Latest<DoseEntry>().Where(d => d.Tank == tank.Id && d.Instant <= now
            && d.Recipe is DoseRecipe.GrayDegreaser or DoseRecipe.GraySoap).Select(d => d.Instant).Take(TeethKept)
            .Concat(Of(ChoreWords.GrayCare, tank.Id).Where(c => c.Result == ChoreResult.Done).Select(c => c.Instant)).Order().ToList();
        var item = Put(ChoreWords.GrayCare, tank.Id, done, Month, [CareBecause.Interval]);
        Change(item, i => i with { Drains = tank.Fixtures, Minutes = i.Minutes ?? 5 });
    }

    private void Storage()
    {
        if (standing.Now is not { } span) return;
        var done = Done(ChoreWords.StorageCheck, null).Where(d => d > span.From).ToList();
        var item = Put(ChoreWords.StorageCheck, null, done, Month, span.Frost ? [CareBecause.InStorage, CareBecause.Frost] : [CareBecause.InStorage],
            done.Count == 0 ? span.From + Month : null);
        // The first of a winter is not a chore that nobody ever did.
        Change(item, i => i with
        {
            From = done.Count == 0 ? span.From : i.From,
            Minutes = i.Minutes ?? 10,
            State = i.State == CareState.Never ? StateAt(i.Due, Month)
            : i.State
        });
    }

    // Water that freezes in hoses, valves and traps splits them: the evening before, or at once where the bay is cold already. Closed for a winter that
    // freezes there is none left. Whoever has done it is asked again for the next night, not for the same.
    private void Frost()
    {
        if (weather is null || standing.Now?.Frost == true) return;
        var zone = belief.InForce.Zone;
        // It is coldest before sunrise: after noon the night of today is over.
        var local = now.InZone(zone);
        var next = local.TimeOfDay < LocalTime.Noon ? local.Date : local.Date.PlusDays(1);
        var night = weather.Days.FirstOrDefault(d => d.Freezes && d.Date >= next && d.Date <= local.Date.PlusDays(FrostAheadDays)
            && d.Source != WeatherSource.Climate);
        if (night is null && !weather.BayIsCold) return;
        var due = weather.BayIsCold ? now : Instant.Max(now, (night!.Date.PlusDays(-1) + FrostEvening).InZoneLeniently(zone).ToInstant());
        var done = Of(ChoreWords.Frost, null).Where(c => c.Result != ChoreResult.Problem).Select(c => c.Instant).ToList();
        var fresh = done.Count > 0 && done[^1] > now - FrostLasts;
        var from = done.Count > 0 ? done[^1] : now;
        items.Add(new CareItem(ChoreWords.Frost, null, fresh ? done[^1] + FrostLasts : due, fresh ? CareState.Done
            : due <= now + FrostDueWithin ? CareState.Due : CareState.Soon, done.Count > 0 ? done[^1] : null,
            weather.BayIsCold ? night is null ? [CareBecause.ColdBay] : [CareBecause.ColdBay, CareBecause.Freezes] : [CareBecause.Freezes])
        {
            From = from,
            DoneAt = [.. done.TakeLast(TeethKept)],
            Night = night,
            BayC = weather.BayIsCold ? weather.BayC : null,
            Minutes = FrostMinutes,
        });
    }

    private const int FrostAheadDays = 3, FrostMinutes = 20;
    private static readonly LocalTime FrostEvening = new(17, 0);
    private static readonly Duration FrostLasts = Duration.FromHours(20), FrostDueWithin = Duration.FromHours(24);

    private CareState StateAt(Instant due, Duration every) => now < due - Lead(every) ? CareState.Done : now < due ? CareState.Soon
        : now < due + Grace(every) ? CareState.Due : CareState.Overdue;

    private void SeasonEnds()
    {
        var services = entries.Kind<ServiceEntry>().Where(s => s.Instant <= now).ToList();
        List<Instant> Done(ServiceCode code) => [.. services.Where(s => s.Code == code).Select(s => s.Instant)];
        var (closes, opens) = (Done(ServiceCode.SeasonClose), Done(ServiceCode.SeasonOpen));
        // Stored again without a word of the season that was between: then that one was never closed.
        if (standing.IsClosed && (standing.Now is null || closes[^1] >= standing.Now.From - ClosedBefore))
        {
            var closed = closes[^1];
            Instant? leaves = standing.Now is null ? standing.Storage.LastOrDefault(s => s.To > closed)?.To
                : stops.FirstOrDefault(s => s.Hookup is not StopHookup.Storage && s.Arrive.ToInstant() > now)?.Arrive.ToInstant();
            var usual = opens.Count > 0 && opens[^1] + Year > closed ? opens[^1] + Year : closed + Duration.FromDays(UsualStorageDays);
            var item = Put(ChoreWords.SeasonOpen, null, opens, Year, [InStorage ? CareBecause.Season : CareBecause.AfterStorage], leaves ?? usual);
            Change(item, i => i with
            {
                Minutes = i.Minutes ?? 60,
                State = InStorage && i.State is CareState.Due or CareState.Overdue ? CareState.Soon
                : i.State
            });
            return;
        }
        Instant? when = null;
        var why = CareBecause.Season;
        if (standing.Now is { } span && (closes.Count == 0 || closes[^1] < span.From - ClosedBefore)) (when, why) = (span.From, CareBecause.InStorage);
        else if (StorageStop is { } stop && stop.Arrive.ToInstant() > now) (when, why) = (stop.Arrive.ToInstant(), CareBecause.BeforeStorage);
        else if (closes.Count > 0 && !InStorage) when = closes[^1] + Year;
        if (when is not { } at) return;
        var waste = SeasonGuide.WithWaste(belief).Count > 0;
        var put = Put(ChoreWords.SeasonClose, null, closes, Year, waste && InStorage ? [why, CareBecause.HoldsWaste] : [why], at, needsSewer: waste
            && InStorage);
        Change(put, i => i with { Minutes = i.Minutes ?? 120 });
    }

    private void Own(OwnChore own)
    {
        var done = Done(own.Id, null);
        var from = done.Count > 0 ? done[^1] : first;
        var spans = standing.Storage;
        Instant? occasion = own.Season switch
        {
            ChoreSeason.Open => spans.LastOrDefault(s => s.To > from)?.To,
            ChoreSeason.Close => spans.LastOrDefault(s => s.From > from)?.From,
            // Before the rig goes: when it comes out of storage.
            null => own.EachTrip ? spans.LastOrDefault(s => s.To > from)?.To : null,
        };
        if ((own.Season is not null || own.EachTrip) && occasion is null && done.Count == 0) occasion = now + Year; // with the next one
        var every = own.EveryDays is { } days ? Duration.FromDays(days) : own.EveryMonths is { } months ? Months(from, months)
            : own.TimesAYear is { } times ? Duration.FromDays((double)YearDays / times) : Year;
        var item = Put(own.Id, null, done, every, [own.Season is not null ? CareBecause.Season : own.EachTrip ? CareBecause.Trips : CareBecause.Interval],
            occasion);
        Change(item, i => i with { Own = own, Minutes = i.Minutes ?? own.Minutes, CostMinor = i.CostMinor ?? own.CostMinor });
    }
}
