using NodaTime;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;

namespace Tanksophos.Core.Trips;

/// <summary>Turns a found sequence of dumps into actions with their hours, and lives the plan through to say what it leaves to chance.</summary>
/// <param name="grid">The grid.</param>
/// <param name="lives">Possible lives.</param>
/// <param name="found">What was found.</param>
/// <param name="generous">Whether more starter water goes in before dry stretches, so that later flushes can be thriftier.</param>
internal sealed class PlanWriter(PlanGrid grid, DemandScenarios lives, PlanFound found, bool generous)
{
    private const double WorthNaming = 0.01;
    private const int TrapDays = 14;

    private const double GenerousStarter = 1.5, MaxStarterFraction = 0.25;
    private const int ScrubEveryDays = 28, ShortestForScrubDays = 4;
    private const double MinScrubDriveHours = 1;
    private static readonly Duration GrayCareWithin = Duration.FromHours(6);

    private readonly PlanGrid grid = grid;
    private readonly DemandScenarios lives = lives;
    private readonly Trip trip = grid.Trip;
    private readonly Rig rig = grid.Trip.Rig;
    private readonly IReadOnlyList<PlanChoice> choices = found.Choices;
    private readonly List<PlanAction> actions = [];
    private double stationMinutes;

    /// <summary>
    /// Whether a valve at an own sewer is left alone where it would be open for less than some hours; else it is closed later, with less for the rinse.
    /// </summary>
    public bool Tidy { get; init; }

    /// <summary>The plan with its levels, risks and sums.</summary>
    public Plan Write() => Lived(Scheduled());

    /// <summary>How many lives overflow somewhere if the plan is followed, and how many overflow black.</summary>
    public (int Any, int Black) Lost()
    {
        var run = new LivedPlan(this, Scheduled(), Noting: false).Through();
        return (run.Overflowed, run.BlackOverflowed);
    }

    private List<PlanAction> Scheduled()
    {
        for (var i = 0; i < trip.Stops.Count; i++) AtStop(i);
        BetweenDumps();
        Traps();
        if (trip.GrayCare) GrayCare();
        List<PlanAction> ordered = [.. actions.Select((a, i) => (a, i)).OrderBy(x => x.a.At.ToInstant()).ThenBy(x => x.i).Select(x => x.a)];
        foreach (var gray in Of(TankRole.Gray)) Valves(ordered, gray.Id);
        return ordered;
    }

    // The hours of waking may have moved a valve across a run, or past the departure; what then makes no sense is left out. At an own sewer a valve is moved
    // for some hours or not at all, where the plan holds without. Left out is always an opening with its closing: what stays closed breaks no law.
    private void Valves(List<PlanAction> ordered, string gray)
    {
        var later = new List<(PlanAction Old, PlanAction New)>();
        var needless = new HashSet<PlanAction>(ReferenceEqualityComparer.Instance);
        var begun = trip.Start.GrayOpen;
        foreach (var stop in trip.Stops)
        {
            PlanAction? opened = null;
            var isOpen = begun;
            begun = false;
            foreach (var action in ordered.Where(a => a.Stop == stop.Id))
            {
                if (action.Kind == PlanActionKind.Dump && rig.Find(action.Tank)!.Role == TankRole.Black && opened is not null)
                {
                    needless.Add(opened);
                    (isOpen, opened) = (false, null);
                }
                if (action.Tank != gray) continue;
                if (action.Kind == PlanActionKind.OpenValve)
                {
                    if (isOpen) needless.Add(action);
                    else (isOpen, opened) = (true, action);
                }
                else if (action.Kind == PlanActionKind.CloseValve)
                {
                    if (!isOpen) needless.Add(action);
                    else if (opened is { Why: not PlanWhy.TooManyDumps } && stop.Hookup == StopHookup.Full
                        && action.At.ToInstant() - opened.At.ToInstant() < PlanGrid.ShortestOpen)
                    {
                        var at = SensibleHours.NotBefore(opened.At.ToInstant() + PlanGrid.ShortestOpen, stop.Zone);
                        var before = ordered.FirstOrDefault(a => a.Stop == stop.Id && a.At.ToInstant() >= action.At.ToInstant() && a != action
                            && (a.Tank == gray || rig.Find(a.Tank)?.Role == TankRole.Black) && a.Kind is not PlanActionKind.Dose)?.At ?? stop.Depart;
                        if (!Tidy && at < before.ToInstant()) later.Add((action, action with { At = at.InZone(stop.Zone).ToOffsetDateTime() }));
                        else
                        {
                            needless.Add(opened);
                            needless.Add(action);
                        }
                    }
                    (isOpen, opened) = (false, null);
                }
            }
            if (opened is not null) needless.Add(opened); // nothing stands open when the rig rolls
        }
        ordered.RemoveAll(needless.Contains);
        foreach (var (old, moved) in later)
        {
            ordered.RemoveAll(a => ReferenceEquals(a, old));
            var index = ordered.FindIndex(a => a.At.ToInstant() > moved.At.ToInstant());
            ordered.Insert(index < 0 ? ordered.Count : index, moved);
        }
    }

    private void Add(Instant at, int stop, PlanActionKind kind, string? tank, PlanWhy why, Func<PlanAction, PlanAction>? with = null)
    {
        var s = trip.Stops[stop];
        var from = Instant.Max(s.Arrive.ToInstant(), grid.Begin);
        var action = new PlanAction(Instant.Max(from, Instant.Min(at, s.Depart.ToInstant())).InZone(s.Zone).ToOffsetDateTime(), s.Id, kind, tank, why);
        actions.Add(with is null ? action : with(action));
    }

    // Not at night, if the stay has a morning.
    private static Instant Waking(Instant at, Stop stop) => SensibleHours.NotBefore(at, stop.Zone) is var hour && hour <= stop.Depart.ToInstant() ? hour : at;

    // Somewhat before the departure; where that is at night and so is the arrival, as soon as people are up.
    private static Instant BeforeLeaving(Stop stop)
    {
        var at = SensibleHours.NotAfter(stop.Depart.ToInstant() - Duration.FromMinutes(25), stop.Zone);
        return at >= stop.Arrive.ToInstant() ? at : Instant.Min(SensibleHours.NotBefore(stop.Arrive.ToInstant(), stop.Zone), stop.Depart.ToInstant());
    }

    private IEnumerable<Tank> Of(TankRole role) => rig.Tanks.Where(t => t.Role == role);

    // The galley is the dirtiest: what runs after it rinses the hose.
    private IEnumerable<Tank> Grays => Of(TankRole.Gray)
        .OrderBy(t => !(t.Id.Contains("galley", StringComparison.OrdinalIgnoreCase)
        || t.Fixtures.Any(f => f.Contains("galley", StringComparison.OrdinalIgnoreCase))));

    private void AtStop(int index)
    {
        var stop = trip.Stops[index];
        var (from, to) = (Instant.Max(stop.Arrive.ToInstant(), grid.Begin), stop.Depart.ToInstant());
        if (to <= from) return;
        if (grid.Divert[index] > 0)
            Add(Waking(from, stop), index, PlanActionKind.Divert, null, PlanWhy.GrayFillsFirst, a => a with { ShareToBlack = grid.Divert[index] });
        var open = false;
        if (grid.IsOpen(stop) && grid.Moments.FirstOrDefault(m => m.Stop == index && m.Opens) is { } opens)
        {
            open = true;
            if (!(trip.Start.GrayOpen && from == grid.Begin))
                foreach (var gray in Grays)
                    Add(SensibleHours.NotBefore(opens.At + Duration.FromMinutes(RunsAtArrival(index) ? 30 : 0), stop.Zone), index, PlanActionKind.OpenValve,
                    gray.Id, OpenWhy(stop));
        }
        else if (trip.Start.GrayOpen && from == grid.Begin)
            foreach (var gray in Grays)
                Add(Waking(from, stop), index, PlanActionKind.CloseValve, gray.Id, stop.Hookup == StopHookup.Full ? PlanWhy.StaysClosed : PlanWhy.MayNotDrain);
        foreach (var choice in choices.Where(c => grid.Moments[c.Moment].Stop == index).OrderBy(c => grid.Moments[c.Moment].At))
        {
            var moment = grid.Moments[choice.Moment];
            if (!choice.Black)
            {
                var at = moment.At;
                foreach (var gray in Grays)
                {
                    Add(at, index, PlanActionKind.Dump, gray.Id, stop.Hookup == StopHookup.Full ? PlanWhy.NearTwoThirds : PlanWhy.WontLastToDrain);
                    at += Duration.FromMinutes(RunMinutes.GrayDrain);
                }
                if (stop.Hookup == StopHookup.DumpStation) stationMinutes += RunMinutes.SetUp + RunMinutes.GrayDrain + RunMinutes.Stow;
                continue;
            }
            if (open && !moment.Arrival)
                foreach (var gray in Grays)
                    Add(choice.Close.GetValueOrDefault(rig.Tanks.ToList().IndexOf(gray), moment.At - Duration.FromMinutes(5)), index,
                        PlanActionKind.CloseValve, gray.Id, PlanWhy.ForTheRinse);
            var end = Run(index, moment, choice);
            var goesOn = to - end > Duration.FromHours(2);
            if (open && !moment.Arrival)
            {
                if (goesOn) foreach (var gray in Grays) Add(end, index, PlanActionKind.OpenValve, gray.Id, PlanWhy.RunDone);
                else open = false;
            }
        }
        if (open)
            foreach (var gray in Grays)
                Add(SensibleHours.NotAfter(to - Duration.FromMinutes(20), stop.Zone), index, PlanActionKind.CloseValve, gray.Id, PlanWhy.BeforeLeaving);
    }

    private PlanWhy OpenWhy(Stop stop) => stop.Hookup == StopHookup.GrayDrain ? PlanWhy.MayDrain
        : trip.Rules.GrayAtFullHookup == GrayAtFullHookup.Batch ? PlanWhy.TooManyDumps
        : trip.Rules.GrayAtFullHookup == GrayAtFullHookup.Open ? PlanWhy.LeftOpen : PlanWhy.UntilRinse;

    private bool RunsAtArrival(int stop) => choices.Any(c => c.Black && grid.Moments[c.Moment] is { Arrival: true } m && m.Stop == stop);

    private Instant Run(int index, PlanMoment moment, PlanChoice choice)
    {
        var stop = trip.Stops[index];
        var at = moment.At;
        var own = stop.Hookup == StopHookup.Full;
        var station = stop.Hookup == StopHookup.DumpStation;
        var threaded = own || stop.RinseWater == RinseWater.Threaded;
        var before = Enumerable.Range(0, index).Reverse().Select(i => (int?)i)
            .FirstOrDefault(i => trip.Stops[i!.Value].Hookup is StopHookup.Full or StopHookup.Partial or StopHookup.GrayDrain);
        var jug = rig.Equipment?.JugL;
        var filled = !threaded && jug is > 0 && before == index - 1 && before is { } place && trip.Stops[place].Depart.ToInstant() > grid.Begin;
        if (filled && before is { } b)
            Add(BeforeLeaving(trip.Stops[b]), b, PlanActionKind.FillJug, null, PlanWhy.JugRinses, a => a with { WaterL = jug });
        Scrub(index, moment);
        var blacks = grid.Blacks.Where(choice.Empties).Select(t => rig.Tanks[t]).ToList();
        if (choice.TopUpL >= 1)
            foreach (var black in blacks.Where(b => TopUpL(choice, b) >= 1))
                Add(at - Duration.FromMinutes(15), index, PlanActionKind.TopUp, black.Id, PlanWhy.BelowRush,
                a => a with { WaterL = Math.Round(TopUpL(choice, black)) });
        var clock = at;
        foreach (var black in blacks)
        {
            Add(clock, index, PlanActionKind.Dump, black.Id, own ? PlanWhy.OwnSewer : station ? PlanWhy.WontLastToSewer : PlanWhy.LastSewer);
            clock += Duration.FromMinutes(RunMinutes.BlackDrain + 1);
            if (Rinse(stop, black, threaded, filled, Stage(index, choice)) is not { } rinse) continue;
            var (method, cycles, per, minutes) = rinse;
            Add(clock, index, PlanActionKind.Flush, black.Id, Stage(index, choice) switch
            {
                FlushStage.Passing => stop.Busy ? PlanWhy.OthersWait : PlanWhy.LongFlushLater,
                FlushStage.Staying => PlanWhy.WhileStaying,
                FlushStage.Last => PlanWhy.LastOfTrip,
                Tanksophos.Core.Trips.PlanWriter.FlushStage.Leaving => PlanWhy.UntilClear,
            }, a => a with { Method = method, Cycles = cycles, WaterL = Math.Round(cycles * per, 1) });
            clock += Duration.FromMinutes(Math.Ceiling(cycles * (minutes + RunMinutes.AfterFill)));
        }
        if (!(grid.IsOpen(stop) && trip.Rules.GrayAtFullHookup == GrayAtFullHookup.Open && !moment.Arrival))
        {
            foreach (var gray in Grays)
            {
                Add(clock, index, PlanActionKind.Dump, gray.Id, PlanWhy.RinsesHose);
                clock += Duration.FromMinutes(RunMinutes.GrayDrain);
            }
        }
        foreach (var black in blacks)
        {
            clock += Duration.FromMinutes(RunMinutes.Starter);
            var (litres, reason) = Starter(index, choice, black);
            Add(clock, index, PlanActionKind.StarterWater, black.Id, reason, a => a with { WaterL = Math.Round(litres, 1) });
            Dose(clock + Duration.FromMinutes(1), index, black, HottestUntilNextDump(choice), PlanWhy.AfterEachDump);
            clock += Duration.FromMinutes(2);
        }
        if (station) stationMinutes += RunMinutes.SetUp + (clock - at).TotalMinutes + RunMinutes.Stow;
        return clock;
    }

    // One black is topped up as it was found; of several each as far as it is itself below the rush level.
    private double TopUpL(PlanChoice choice, Tank black)
    {
        if (grid.Blacks.Length == 1) return choice.TopUpL;
        var t = Index(black);
        var (median, room) = grid.BlackAt(choices.LastOrDefault(c => c.Moment < choice.Moment && c.Empties(t))?.Moment ?? -1, choice.Moment, t);
        return Math.Floor(Math.Min(Math.Max(trip.Rules.DumpBlackAt, HouseRules.Default.DumpBlackAt) * black.CapacityL - median, room));
    }

    private int Index(Tank tank) => rig.Tanks.ToList().IndexOf(tank);

    private enum FlushStage { Passing, Staying, Leaving, Last }

    // Light when staying, thorough when leaving; at the end of the trip more than the routine.
    private FlushStage Stage(int index, PlanChoice choice)
    {
        var stop = trip.Stops[index];
        if (stop.Hookup != StopHookup.Full) return FlushStage.Passing;
        if (!choices.Any(c => c.Black && c.Moment > choice.Moment)) return FlushStage.Last;
        return choices.Any(c => c.Black && c.Moment > choice.Moment && grid.Moments[c.Moment].Stop == index) ? FlushStage.Staying : FlushStage.Leaving;
    }

    private (FlushMethod Method, int Cycles, double PerCycleL, double Minutes)? Rinse(Stop stop, Tank black, bool threaded, bool jugFilled, FlushStage stage)
    {
        var e = rig.Equipment;
        var brief = stage == FlushStage.Passing || stop.Busy;
        var quick = trip.Rules.Flush == FlushProgramme.Quick;
        var (station, last) = (brief, stage == FlushStage.Last);
        var cycles = RinsePlan.Expected(trip.RinsesToClear ?? RunHistory.UsualToClear, RinsePlan.Need(trip.Rules.Flush, station, last),
            RinsePlan.Cap(trip.Rules.Flush, station, stop.Busy, last), station);
        if (threaded)
        {
            FlushMethod? method = e?.FlushInlet == true ? FlushMethod.BuiltIn : e is { ReverseFlush: true, Macerator: not true } ? FlushMethod.Reverse
                : e?.Wand is "rigid" or "flexible" ? FlushMethod.Wand : null;
            if (method is { } m)
            {
                var per = RinsePlan.FillL(black.CapacityL, brief || quick);
                return (m, cycles, per, per / (m == FlushMethod.Reverse ? RinsePlan.ReverseLPerMin : e?.KnownFlowLPerMin ?? RinsePlan.HeadLPerMin));
            }
        }
        if (e?.JugL is > 0 and var jug && (stop.RinseWater != RinseWater.None || jugFilled))
            return (FlushMethod.Bucket, cycles, Math.Min(jug, black.CapacityL / 3), RunMinutes.Jug);
        if (stage != FlushStage.Passing) return (FlushMethod.Pedal, cycles, RinsePlan.PedalL(black.CapacityL, othersWait: false), RunMinutes.Pedal);
        return trip.Start.FreshL is 0 && stop.RinseWater == RinseWater.None ? null
            : (FlushMethod.Pedal, 1, RinsePlan.PedalL(black.CapacityL, othersWait: true), RunMinutes.Pedal);
    }

    // A tenth, or what the dose asks for; half as much again before days without water; by the house rule before storage.
    private (double Litres, PlanWhy Why) Starter(int index, PlanChoice choice, Tank black)
    {
        var usual = grid.StarterL(black);
        var last = !choices.Any(c => c.Moment > choice.Moment && c.Black && grid.Moments[c.Moment].Stop == index);
        var next = last ? trip.Stops.Skip(index + 1).FirstOrDefault(s => s.Hookup != StopHookup.DumpStation) : null;
        if (next?.Hookup == StopHookup.Storage)
            return next.Freezes ? (usual, PlanWhy.FrostInStorage)
                : (usual, trip.Rules.Storage switch
                {
                    StorageRule.FullFresh => PlanWhy.StoredFull,
                    StorageRule.Dry => PlanWhy.StoredDry,
                    StorageRule.TreatedWater => PlanWhy.StoredTreated,
                });
        return generous && next?.Hookup == StopHookup.Dry
            ? (Math.Max(usual, Math.Min(GenerousStarter * usual, MaxStarterFraction * black.CapacityL)), PlanWhy.DryDaysAhead)
            : (usual, PlanWhy.CoversBottom);
    }

    private double? HottestUntilNextDump(PlanChoice choice)
    {
        var from = grid.Time(choice.Moment);
        var next = choices.FirstOrDefault(c => c.Black && c.Moment > choice.Moment);
        var until = next is null ? grid.End : grid.Time(next.Moment);
        return trip.Stops.Where(s => s.Arrive.ToInstant() < until && s.Depart.ToInstant() > from && s.Hookup != StopHookup.DumpStation).Max(s => s.HottestC);
    }

    private void Dose(Instant at, int stop, Tank black, double? highC, PlanWhy why)
    {
        if (RoutineDose.For(trip.Rules.Treatment, black.CapacityL) is not { } dose) return;
        var hot = RoutineDose.IsHot(highC);
        var product = Shelf.For(rig, trip.Rules.Treatment);
        var computed = DoseCalculator.Routine(trip.Rules.Treatment, new DoseCase(black.CapacityL) { HighC = highC, Product = product });
        // This fill is dumped at the next black dump.
        var septic = product is { Dose: not null, Kind: Substance.Formaldehyde }
            && choices.FirstOrDefault(c => c.Black && grid.Time(c.Moment) > at) is { } next
            && trip.Stops[grid.Moments[next.Moment].Stop] is { Septic: true } place ? place.Name : null;
        Add(at, stop, PlanActionKind.Dose, black.Id, why,
            a => a with { Recipe = dose.Recipe, Amount = computed.Ingredients[0].Amount, Doubled = hot, NotForSepticAt = septic });
    }

    // Borax and soap on top of the waste before a drive to a dump: while a course for the sensors runs, monthly or once a trip by the house rule, and as the
    // routine of its own school.
    private void Scrub(int index, PlanMoment moment)
    {
        if (!moment.Arrival || index == 0 || trip.Stops[index].DriveHoursBefore < MinScrubDriveHours) return;
        var before = trip.Stops[index - 1];
        var at = SensibleHours.NotAfter(before.Depart.ToInstant() - Duration.FromMinutes(30), before.Zone);
        if (before.Hookup == StopHookup.DumpStation || before.People == 0 || at < Instant.Max(before.Arrive.ToInstant(), grid.Begin)) return;
        var earlier = actions.Where(a => a.Kind == PlanActionKind.ScrubBeforeDrive).Select(a => a.At.ToInstant()).Distinct().ToList();
        PlanWhy why;
        var recovery = earlier.Count < trip.ScrubsDue;
        if (recovery) why = PlanWhy.SensorCourse;
        else if (earlier.Any(e => (at - e).TotalDays < ScrubEveryDays)) return;
        else if (trip.Rules.Treatment == TreatmentSchool.BoraxSoap) why = PlanWhy.SchoolOfTheRoad;
        else if (trip.Rules.Treatment == TreatmentSchool.WaterOnly || trip.Rules.DeepClean is DeepCleanRule.EachFewTrips or DeepCleanRule.BySigns
            || (grid.End - grid.Begin).TotalDays < ShortestForScrubDays) return;
        else if (trip.Rules.DeepClean == DeepCleanRule.EachTrip && (earlier.Count > 0 || !LastWithDrive(moment))) return;
        else why = trip.Rules.DeepClean == DeepCleanRule.Monthly ? PlanWhy.Monthly : PlanWhy.OncePerTrip;
        var run = choices.First(c => c.Black && grid.Moments[c.Moment] == moment);
        foreach (var black in grid.Blacks.Where(run.Empties).Select(t => rig.Tanks[t]))
        {
            var scrub = DoseCalculator.Compute(DoseRecipe.TravelScrub, new DoseCase(black.CapacityL) { Recovery = recovery });
            Add(at, index - 1, PlanActionKind.ScrubBeforeDrive, black.Id, why,
                a => a with { Recipe = DoseRecipe.TravelScrub, Amount = scrub.AmountInWords, WaterL = scrub.WaterL });
        }
    }

    private bool LastWithDrive(PlanMoment moment) => !choices.Any(c => c.Black && grid.Moments[c.Moment] is { Arrival: true } m && m.At > moment.At
        && trip.Stops[m.Stop].DriveHoursBefore >= MinScrubDriveHours && trip.Stops[m.Stop - 1].Hookup != StopHookup.DumpStation);

    // A dose lasts about a week.
    private void BetweenDumps()
    {
        var lasts = Duration.FromDays(Shelf.LastsDays(rig, trip.Rules.Treatment));
        foreach (var black in Of(TankRole.Black))
        {
            var dumps = choices.Where(c => c.Empties(Index(black))).Select(c => grid.Moments[c.Moment].At).ToList();
            for (var k = -1; k < dumps.Count; k++)
            {
                var since = k < 0 ? grid.Begin - Duration.FromDays(trip.Start.DaysSinceBlackDump ?? 0) : dumps[k];
                var until = k + 1 < dumps.Count ? dumps[k + 1] : grid.End;
                var last = k + 1 < dumps.Count ? until - RoutineDose.BeforeDump : until - Duration.FromDays(1);
                for (var at = since + lasts; at < last; at += lasts)
                {
                    var index = trip.Stops.ToList()
                        .FindIndex(s => s.Arrive.ToInstant() <= at && at < s.Depart.ToInstant()
                        && s.Hookup is not (StopHookup.DumpStation or StopHookup.Storage) && s.People > 0);
                    if (index < 0 || at < grid.Begin) continue;
                    var hour = SensibleHours.NotBefore(at, trip.Stops[index].Zone);
                    if (hour < trip.Stops[index].Depart.ToInstant()) Dose(hour, index, black, trip.Stops[index].HottestC, PlanWhy.DoseWornOff);
                }
            }
        }
    }

    // Soap and a little water into a gray that was emptied before a drive: the road does the washing.
    private void GrayCare()
    {
        for (var index = 0; index + 1 < trip.Stops.Count; index++)
        {
            var leaves = trip.Stops[index].Depart.ToInstant();
            if (trip.Stops[index + 1].DriveHoursBefore < MinScrubDriveHours || trip.Stops[index].Hookup == StopHookup.DumpStation) continue;
            foreach (var gray in Grays)
            {
                var emptied = actions.LastOrDefault(a => a.Stop == trip.Stops[index].Id && a.Tank == gray.Id
                    && a.Kind is PlanActionKind.Dump or PlanActionKind.CloseValve && a.At.ToInstant() <= leaves && a.At.ToInstant() > leaves - GrayCareWithin);
                if (emptied is null) continue;
                Add(Instant.Max(emptied.At.ToInstant() + Duration.FromMinutes(20),
                    SensibleHours.NotAfter(leaves - Duration.FromMinutes(15), trip.Stops[index].Zone)), index, PlanActionKind.Dose, gray.Id,
                    PlanWhy.WorksOnTheRoad, a =>
                    a with { Recipe = DoseRecipe.GraySoap, Amount = Recipes.GraySquirt, WaterL = Recipes.Find(DoseRecipe.GraySoap)!.WaterLitres });
            }
        }
    }

    private void Traps()
    {
        for (var at = grid.Begin + Duration.FromDays(TrapDays); at < grid.End; at += Duration.FromDays(TrapDays))
        {
            var index = trip.Stops.ToList().FindIndex(s => s.Arrive.ToInstant() <= at && at < s.Depart.ToInstant() && s.Hookup != StopHookup.DumpStation);
            if (index < 0) continue;
            var hour = SensibleHours.NotBefore(at, trip.Stops[index].Zone);
            if (hour < trip.Stops[index].Depart.ToInstant()) Add(hour, index, PlanActionKind.TopUpTraps, null, PlanWhy.UnusedTraps);
        }
    }

    private Plan Lived(List<PlanAction> plan)
    {
        var run = new LivedPlan(this, plan, Noting: true).Through();
        var done = run.Done;
        var probability = run.Overflowed / (double)DemandScenarios.Count;
        var black = run.BlackOverflowed / (double)DemandScenarios.Count;
        var holds = probability <= trip.Rules.OverflowRisk && black <= trip.Rules.BlackOverflowRisk;
        return new Plan(holds, done, run.Points.ToDictionary(p => p.Key, p => (IReadOnlyList<PlanLevel>)p.Value), run.Risks(),
            new PlanTotals(
            done.Count(a => a.Kind == PlanActionKind.Dump && rig.Find(a.Tank)!.Role == TankRole.Black),
                done.Count(a => a.Kind == PlanActionKind.Dump && rig.Find(a.Tank)!.Role == TankRole.Gray),
            done.Where(a => a.Kind == PlanActionKind.Flush).Sum(a => a.WaterL ?? 0),
                done.Count(a => a is { Kind: PlanActionKind.Dose, Recipe: not DoseRecipe.GraySoap }), Math.Round(stationMinutes), probability)
            { BlackOverflowProbability = black })
        { Proven = found.Proven };
    }

    // DemandScenarios the plan through, life by life.
    private sealed record LivedPlan(PlanWriter Writer, List<PlanAction> Plan, bool Noting)
    {
        private readonly double[][] level = [.. Writer.lives.Start.Select(x => (double[])x.Clone())];
        private readonly Instant?[][] over = [.. Writer.rig.Tanks.Select(_ => new Instant?[DemandScenarios.Count])]; // in this stretch
        private readonly double[] ranked = new double[DemandScenarios.Count]; // to be put in order
        private readonly bool[] ever = new bool[DemandScenarios.Count], everBlack = new bool[DemandScenarios.Count];
        private readonly Instant[] since = [.. Writer.rig.Tanks.Select(_ => Writer.grid.Begin)];
        private readonly List<(int Tank, Instant From, Instant To, int[] DemandScenarios, Instant Middle)> spills = [];
        private readonly bool[] open = [.. Writer.rig.Tanks.Select(t => t.Role == TankRole.Gray && Writer.trip.Start.GrayOpen)];

        public List<PlanAction> Done { get; } = [];

        public Dictionary<string, List<PlanLevel>> Points { get; } = Writer.rig.Tanks.ToDictionary(t => t.Id, _ => new List<PlanLevel>());

        public int Overflowed => ever.Count(x => x);

        public int BlackOverflowed => everBlack.Count(x => x);

        public LivedPlan Through()
        {
            var (trip, grid, tanks) = (Writer.trip, Writer.grid, Writer.rig.Tanks);
            var walk = new TripWalk(trip);
            void To(Instant moment) => walk.To(moment, (index, from, until) => Stay(index, from, until));
            for (var t = 0; t < tanks.Count; t++) Note(grid.Begin, trip.Stops[0], t);
            var indices = tanks.Select((t, i) => (t.Id, i)).ToDictionary(x => x.Id, x => x.i);
            var stops = trip.Stops.ToDictionary(s => s.Id);
            foreach (var action in Plan)
            {
                var at = action.At.ToInstant();
                To(at);
                Done.Add(action.Tank is { } id ? Do(action, indices[id], stops[action.Stop], at) : action);
            }
            To(grid.End);
            for (var t = 0; t < tanks.Count; t++) Drained(t, grid.End);
            return this;
        }

        public List<PlanRisk> Risks()
        {
            var risks = new List<PlanRisk>();
            foreach (var (t, from, to, lost, middle) in spills)
            {
                var chance = lost.Length / (double)DemandScenarios.Count;
                if (chance < WorthNaming) continue;
                var stop = Writer.trip.Stops.LastOrDefault(s => s.Arrive.ToInstant() <= middle) ?? Writer.trip.Stops[0];
                var mends = new Mending(Writer.grid, Writer.lives, t, from, to, middle,
                    [.. Done.Where(a => a.Kind == PlanActionKind.Dump).Select(a => (a.Tank!, a.At.ToInstant()))]);
                risks.Add(new PlanRisk(middle.InZone(stop.Zone).ToOffsetDateTime(), Writer.rig.Tanks[t].Id, chance, mends.Ranked(chance)));
            }
            risks.Sort((a, b) => a.At.ToInstant().CompareTo(b.At.ToInstant()));
            return risks;
        }

        private void Stay(int index, Instant from, Instant until)
        {
            var (stop, tanks) = (Writer.trip.Stops[index], Writer.rig.Tanks);
            // By the day, so that the lines bend where use does.
            for (var a = from; a < until;)
            {
                var b = Instant.Min(until, (a.InZone(stop.Zone).Date.PlusDays(1) + new LocalTime(6, 0)).InZoneLeniently(stop.Zone).ToInstant());
                Writer.lives.Flow(level, stop, a, b, Writer.grid.Divert[index], t => open[t]);
                for (var t = 0; t < tanks.Count; t++)
                {
                    Spill(t, b);
                    Note(b, stop, t);
                }
                a = b;
            }
        }

        private PlanAction Do(PlanAction action, int t, Stop stop, Instant at)
        {
            var mine = level[t];
            var made = action;
            switch (action.Kind)
            {
                case PlanActionKind.Dump or PlanActionKind.Flush or PlanActionKind.OpenValve:
                    if (action.Kind == PlanActionKind.Dump && Noting)
                        made = action with { ExpectedL = Math.Round(DemandScenarios.Ranked((double[])mine.Clone(), DemandScenarios.Count / 2), 1) };
                    Drained(t, at);
                    var residue = PlanGrid.Residue(Writer.rig.Tanks[t]);
                    for (var life = 0; life < mine.Length; life++) mine[life] = Math.Min(mine[life], residue);
                    break;
                case PlanActionKind.TopUp or PlanActionKind.StarterWater or PlanActionKind.ScrubBeforeDrive or PlanActionKind.Dose:
                    for (var life = 0; life < mine.Length; life++) mine[life] += action.WaterL ?? 0;
                    Spill(t, at);
                    break;
            }
            open[t] = action.Kind switch { PlanActionKind.OpenValve => true, PlanActionKind.CloseValve => false, _ => open[t] };
            Note(at, stop, t);
            return made;
        }

        private void Spill(int t, Instant at)
        {
            var (mine, capacity, black) = (level[t], Writer.rig.Tanks[t].CapacityL, Writer.rig.Tanks[t].Role == TankRole.Black);
            for (var life = 0; life < mine.Length; life++)
            {
                if (mine[life] <= capacity) continue;
                mine[life] = capacity;
                over[t][life] ??= at;
                ever[life] = true;
                everBlack[life] |= black;
            }
        }

        private void Drained(int t, Instant at)
        {
            int[] lost = [.. Enumerable.Range(0, DemandScenarios.Count).Where(life => over[t][life] is not null)];
            if (lost.Length > 0)
            {
                var times = lost.Select(life => over[t][life]!.Value).Order().ToList();
                spills.Add((t, since[t], at, lost, times[times.Count / 2]));
                Array.Clear(over[t]);
            }
            since[t] = at;
        }

        private void Note(Instant at, Stop stop, int t)
        {
            if (!Noting) return;
            level[t].CopyTo(ranked, 0);
            double At(int rank) => DemandScenarios.Ranked(ranked, rank);
            const int Lives = DemandScenarios.Count;
            Points[Writer.rig.Tanks[t].Id].Add(new PlanLevel(at.InZone(stop.Zone).ToOffsetDateTime(),
                new LevelBand(At(Lives / 20), At(Lives / 2), At(Lives * 19 / 20))));
        }
    }
}
