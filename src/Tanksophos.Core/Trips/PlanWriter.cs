using System.Globalization;
using NodaTime;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;

namespace Tanksophos.Core.Trips;

/// <summary>Turns a found sequence of dumps into actions with their hours, and lives the plan through to say what it leaves to chance.</summary>
internal sealed class PlanWriter(Trip trip, Lives lives, PlanSearch search, IReadOnlyList<PlanChoice> choices)
{
    // Minutes to plan with, as practitioners count them.
    private const int DrainMinutes = 2, GrayDrainMinutes = 3, AfterFillMinutes = 1, SetUpMinutes = 6, StowMinutes = 6, StarterMinutes = 3;
    private const double UsualFlowLPerMin = 7, ThirdFillL = 38, QuickFillL = 19, PedalL = 4, ScrubWaterL = 10;
    private const double HotC = 29, WorthNaming = 0.01;
    private const int TrapDays = 14;

    private readonly Rig rig = trip.Rig;
    private readonly List<PlanAction> actions = [];
    private double stationMinutes;

    public Plan Write()
    {
        for (var i = 0; i < trip.Stops.Count; i++) AtStop(i);
        BetweenDumps();
        Traps();
        actions.Sort((a, b) => a.At.ToInstant().CompareTo(b.At.ToInstant()));
        var ordered = actions.Select((a, i) => (a, i)).OrderBy(x => x.a.At.ToInstant()).ThenBy(x => x.i).Select(x => x.a).ToList();
        return Lived(ordered);
    }

    private void Add(Instant at, int stop, PlanActionKind kind, string? tank, string why, Func<PlanAction, PlanAction>? with = null)
    {
        var s = trip.Stops[stop];
        var from = Instant.Max(s.Arrive.ToInstant(), search.Begin);
        var action = new PlanAction(Instant.Max(from, Instant.Min(at, s.Depart.ToInstant())).InZone(s.Zone).ToOffsetDateTime(), s.Id, kind, tank, why);
        actions.Add(with is null ? action : with(action));
    }

    private IEnumerable<Tank> Of(TankRole role) => rig.Tanks.Where(t => t.Role == role);

    // The galley is the dirtiest: what runs after it rinses the hose.
    private IEnumerable<Tank> Grays => Of(TankRole.Gray).OrderBy(t => !(t.Id.Contains("galley", StringComparison.OrdinalIgnoreCase) || t.Fixtures.Any(f => f.Contains("galley", StringComparison.OrdinalIgnoreCase))));

    private void AtStop(int index)
    {
        var stop = trip.Stops[index];
        var (from, to) = (Instant.Max(stop.Arrive.ToInstant(), search.Begin), stop.Depart.ToInstant());
        if (to <= from) return;
        if (search.Divert[index] > 0)
            Add(from, index, PlanActionKind.Divert, null, "Gray fills first here. Dish water caught in a basin and the shower's warm-up water go down the toilet.", a => a with { ShareToBlack = search.Divert[index] });
        var open = false;
        if (search.IsOpen(stop) && search.Moments.FirstOrDefault(m => m.Stop == index && m.Opens) is { } opens)
        {
            open = true;
            if (!(trip.Start.GrayOpen && from == search.Begin))
                foreach (var gray in Grays) Add(SensibleHours.NotBefore(opens.At + Duration.FromMinutes(RunsAtArrival(index) ? 29 : 0), stop.Zone), index, PlanActionKind.OpenValve, gray.Id, stop.Hookup == StopHookup.GrayDrain ? "Gray may run off here." : "Gray drains here until it is wanted for the rinse.");
        }
        else if (trip.Start.GrayOpen && from == search.Begin)
            foreach (var gray in Grays) Add(from, index, PlanActionKind.CloseValve, gray.Id, "Gray may not run off here.");
        foreach (var choice in choices.Where(c => search.Moments[c.Moment].Stop == index).OrderBy(c => search.Moments[c.Moment].At))
        {
            var moment = search.Moments[choice.Moment];
            if (!choice.Black)
            {
                var at = moment.At;
                foreach (var gray in Grays)
                {
                    Add(at, index, PlanActionKind.Dump, gray.Id, stop.Hookup == StopHookup.Full ? "Near two thirds, and there is a sewer." : "It would not last to the next drain; black is left for a better place.");
                    at += Duration.FromMinutes(GrayDrainMinutes);
                }
                if (stop.Hookup == StopHookup.DumpStation) stationMinutes += SetUpMinutes + GrayDrainMinutes + StowMinutes;
                continue;
            }
            if (open && !moment.Arrival)
                foreach (var gray in Grays)
                    Add(choice.Close.GetValueOrDefault(rig.Tanks.ToList().IndexOf(gray), moment.At - Duration.FromMinutes(5)), index, PlanActionKind.CloseValve, gray.Id, "So that gray water stands ready to rinse the hose, and nothing of black can run up into it.");
            var end = Run(index, moment, choice);
            var goesOn = to - end > Duration.FromHours(2);
            if (open && !moment.Arrival)
            {
                if (goesOn) foreach (var gray in Grays) Add(end, index, PlanActionKind.OpenValve, gray.Id, "The run is done; gray drains again.");
                else open = false;
            }
        }
        if (open)
            foreach (var gray in Grays) Add(SensibleHours.NotAfter(to - Duration.FromMinutes(20), stop.Zone), index, PlanActionKind.CloseValve, gray.Id, "Before the hose comes off and the rig rolls.");
    }

    private bool RunsAtArrival(int stop) => choices.Any(c => c.Black && search.Moments[c.Moment] is { Arrival: true } m && m.Stop == stop);

    private Instant Run(int index, PlanMoment moment, PlanChoice choice)
    {
        var stop = trip.Stops[index];
        var at = moment.At;
        var own = stop.Hookup == StopHookup.Full;
        var station = stop.Hookup == StopHookup.DumpStation;
        var threaded = own || stop.RinseWater == RinseWater.Threaded;
        var before = Enumerable.Range(0, index).Reverse().Select(i => (int?)i).FirstOrDefault(i => trip.Stops[i!.Value].Hookup is StopHookup.Full or StopHookup.Partial or StopHookup.GrayDrain);
        var jug = rig.Equipment?.JugL;
        if (!threaded && jug is { } litres && before == index - 1 && before is { } b)
            Add(SensibleHours.NotAfter(trip.Stops[b].Depart.ToInstant() - Duration.FromMinutes(25), trip.Stops[b].Zone), b, PlanActionKind.FillJug, null, "No hose fits at the next sewer; the jug does the rinse there.", a => a with { WaterL = litres });
        Scrub(index, moment);
        if (choice.TopUpL >= 1)
            foreach (var black in Of(TankRole.Black)) Add(at - Duration.FromMinutes(15), index, PlanActionKind.TopUp, black.Id, "Below the rush level; topped up it leaves in one rush. Stay at the water.", a => a with { WaterL = Math.Round(choice.TopUpL) });
        var clock = at;
        foreach (var black in Of(TankRole.Black))
        {
            Add(clock, index, PlanActionKind.Dump, black.Id, own ? "At a site with its own sewer there is time and water for it." : station ? "It would not last to a site with its own sewer." : "The last sewer before it would be too full.");
            clock += Duration.FromMinutes(DrainMinutes + 1);
            if (Rinse(stop, black, threaded, own) is not { } rinse) continue;
            var (method, cycles, per, minutes) = rinse;
            Add(clock, index, PlanActionKind.Flush, black.Id, own ? "Until the end of a cycle runs clear." : "Short, since others wait; the long flush follows at the next site with a sewer.", a => a with { Method = method, Cycles = cycles, WaterL = Math.Round(cycles * per, 1) });
            clock += Duration.FromMinutes(Math.Ceiling(cycles * (minutes + AfterFillMinutes)));
        }
        if (!(search.IsOpen(stop) && trip.Rules.GrayAtFullHookup == GrayAtFullHookup.Open && !moment.Arrival))
        {
            foreach (var gray in Grays)
            {
                Add(clock, index, PlanActionKind.Dump, gray.Id, "After black, so that it rinses the hose.");
                clock += Duration.FromMinutes(GrayDrainMinutes);
            }
        }
        foreach (var black in Of(TankRole.Black))
        {
            clock += Duration.FromMinutes(StarterMinutes);
            Add(clock, index, PlanActionKind.StarterWater, black.Id, "Covers the bottom, so that nothing lands on a dry floor.", a => a with { WaterL = Math.Round(search.StarterL(black), 1) });
            Dose(clock + Duration.FromMinutes(1), index, black, "After each dump, by the house's school. The label outranks this.");
            clock += Duration.FromMinutes(2);
        }
        if (station) stationMinutes += SetUpMinutes + (clock - at).TotalMinutes + StowMinutes;
        return clock;
    }

    private (FlushMethod Method, int Cycles, double PerCycleL, double Minutes)? Rinse(Stop stop, Tank black, bool threaded, bool own)
    {
        var e = rig.Equipment;
        var brief = !own || stop.Busy;
        if (threaded)
        {
            FlushMethod? method = e?.FlushInlet == true ? FlushMethod.BuiltIn : e is { ReverseFlush: true, Macerator: not true } ? FlushMethod.Reverse : e?.Wand is "rigid" or "flexible" ? FlushMethod.Wand : null;
            if (method is { } m)
            {
                var per = Math.Min(brief || trip.Rules.Flush == FlushProgramme.Quick ? QuickFillL : ThirdFillL, black.CapacityL / 3);
                var cycles = brief ? 1 : trip.Rules.Flush switch { FlushProgramme.Quick => 2, FlushProgramme.Standard => 3, _ => 5 };
                return (m, cycles, per, per / (e?.FlushInletLPerMin ?? UsualFlowLPerMin));
            }
        }
        if (e?.JugL is { } jug && stop.RinseWater != RinseWater.None) return (FlushMethod.Bucket, own && !stop.Busy ? 3 : 1, Math.Min(jug, black.CapacityL / 3), 2);
        if (own) return (FlushMethod.Pedal, 3, Math.Min(QuickFillL, black.CapacityL / 3), 4);
        return trip.Start.FreshL is 0 ? null : (FlushMethod.Pedal, 1, Math.Min(PedalL, black.CapacityL / 3), 1);
    }

    private void Dose(Instant at, int stop, Tank black, string why)
    {
        if (RoutineDose.For(trip.Rules.Treatment, black.CapacityL) is not { } dose) return;
        var hot = trip.Stops[stop].HighC >= HotC;
        var times = hot ? 2 : 1;
        var amount = dose.AmountMl > 0
            ? string.Create(CultureInfo.InvariantCulture, $"{times * dose.AmountMl / 29.5735:0.#} fl oz ({times * dose.AmountMl:0} mL)")
            : string.Create(CultureInfo.InvariantCulture, $"{times * dose.AmountG / 28.3495:0.#} oz ({times * dose.AmountG:0} g)");
        Add(at, stop, PlanActionKind.Dose, black.Id, hot ? why + " Doubled, since days are hot." : why, a => a with { Recipe = dose.Recipe, Amount = amount });
    }

    // Borax and soap before a drive to a dump, for the school that doses so; once a month.
    private void Scrub(int index, PlanMoment moment)
    {
        if (trip.Rules.Treatment != TreatmentSchool.BoraxSoap || !moment.Arrival || index == 0 || trip.Stops[index].DriveHoursBefore < 1) return;
        var before = trip.Stops[index - 1];
        var at = SensibleHours.NotAfter(before.Depart.ToInstant() - Duration.FromMinutes(30), before.Zone);
        if (before.Hookup == StopHookup.DumpStation || before.People == 0 || at < Instant.Max(before.Arrive.ToInstant(), search.Begin)) return;
        if (actions.Any(a => a.Kind == PlanActionKind.ScrubBeforeDrive && (at - a.At.ToInstant()).TotalDays < 28)) return;
        foreach (var black in Of(TankRole.Black))
            Add(at, index - 1, PlanActionKind.ScrubBeforeDrive, black.Id, "The drive to the dump does the scrubbing. Dissolve the borax fully in hot water first.", a => a with { Recipe = DoseRecipe.TravelScrub, Amount = "1/2 cup borax, 1/4 cup dish soap", WaterL = ScrubWaterL });
    }

    // A dose lasts about a week.
    private void BetweenDumps()
    {
        foreach (var black in Of(TankRole.Black))
        {
            var dumps = choices.Where(c => c.Black).Select(c => search.Moments[c.Moment].At).ToList();
            for (var k = -1; k < dumps.Count; k++)
            {
                var since = k < 0 ? search.Begin - Duration.FromDays(trip.Start.DaysSinceBlackDump ?? 0) : dumps[k];
                var until = k + 1 < dumps.Count ? dumps[k + 1] : search.End;
                for (var at = since + Duration.FromDays(RoutineDose.LastsDays); at < until - Duration.FromDays(1); at += Duration.FromDays(RoutineDose.LastsDays))
                {
                    var index = trip.Stops.ToList().FindIndex(s => s.Arrive.ToInstant() <= at && at < s.Depart.ToInstant() && s.Hookup is not (StopHookup.DumpStation or StopHookup.Storage) && s.People > 0);
                    if (index < 0 || at < search.Begin) continue;
                    var hour = SensibleHours.NotBefore(at, trip.Stops[index].Zone);
                    if (hour < trip.Stops[index].Depart.ToInstant()) Dose(hour, index, black, "A dose works for about a week; this fill goes on.");
                }
            }
        }
    }

    private void Traps()
    {
        for (var at = search.Begin + Duration.FromDays(TrapDays); at < search.End; at += Duration.FromDays(TrapDays))
        {
            var index = trip.Stops.ToList().FindIndex(s => s.Arrive.ToInstant() <= at && at < s.Depart.ToInstant() && s.Hookup != StopHookup.DumpStation);
            if (index < 0) continue;
            var hour = SensibleHours.NotBefore(at, trip.Stops[index].Zone);
            if (hour < trip.Stops[index].Depart.ToInstant()) Add(hour, index, PlanActionKind.TopUpTraps, null, "A cup of water into each drain that is not used: a dry trap lets the tank's air in.");
        }
    }

    // Lives the plan through, life by life.
    private Plan Lived(List<PlanAction> plan)
    {
        var tanks = rig.Tanks;
        var level = lives.Start.Select(x => (double[])x.Clone()).ToArray();
        var open = tanks.Select(t => t.Role == TankRole.Gray && trip.Start.GrayOpen).ToArray();
        var overflowed = tanks.Select(_ => new Instant?[Lives.Count]).ToArray();
        var points = tanks.ToDictionary(t => t.Id, _ => new List<PlanLevel>());
        var done = new List<PlanAction>();
        var clock = search.Begin;
        var index = 0;
        void Note(Instant at, Stop stop, int t)
        {
            var sorted = (double[])level[t].Clone();
            Array.Sort(sorted);
            points[tanks[t].Id].Add(new PlanLevel(at.InZone(stop.Zone).ToOffsetDateTime(), new LevelBand(sorted[Lives.Count / 20], sorted[Lives.Count / 2], sorted[Lives.Count * 19 / 20])));
        }
        void Run(Instant to)
        {
            while (clock < to && index < trip.Stops.Count)
            {
                var stop = trip.Stops[index];
                var (from, until) = (Instant.Max(clock, stop.Arrive.ToInstant()), Instant.Min(to, stop.Depart.ToInstant()));
                // By the day, so that the lines bend where use does.
                for (var a = from; a < until;)
                {
                    var b = Instant.Min(until, (a.InZone(stop.Zone).Date.PlusDays(1) + new LocalTime(6, 0)).InZoneLeniently(stop.Zone).ToInstant());
                    lives.Flow(level, stop, a, b, search.Divert[index], t => open[t]);
                    for (var t = 0; t < tanks.Count; t++)
                    {
                        for (var life = 0; life < Lives.Count; life++)
                        {
                            if (level[t][life] <= tanks[t].CapacityL) continue;
                            overflowed[t][life] ??= b;
                            level[t][life] = tanks[t].CapacityL;
                        }
                        Note(b, stop, t);
                    }
                    a = b;
                }
                if (stop.Depart.ToInstant() > to) break;
                index++;
                clock = Instant.Max(clock, until);
            }
            clock = Instant.Max(clock, to);
        }
        for (var t = 0; t < tanks.Count; t++) Note(search.Begin, trip.Stops[0], t);
        foreach (var action in plan)
        {
            Run(action.At.ToInstant());
            var t = tanks.ToList().FindIndex(x => x.Id == action.Tank);
            var made = action;
            if (t >= 0)
            {
                var stop = trip.Stops.First(s => s.Id == action.Stop);
                if (action.Kind == PlanActionKind.Dump)
                {
                    var sorted = (double[])level[t].Clone();
                    Array.Sort(sorted);
                    made = action with { ExpectedL = Math.Round(sorted[Lives.Count / 2], 1) };
                }
                for (var life = 0; life < Lives.Count; life++)
                {
                    level[t][life] = action.Kind switch
                    {
                        PlanActionKind.Dump or PlanActionKind.Flush or PlanActionKind.OpenValve => Math.Min(level[t][life], PlanSearch.Residue(tanks[t])),
                        PlanActionKind.TopUp or PlanActionKind.StarterWater or PlanActionKind.ScrubBeforeDrive => level[t][life] + (action.WaterL ?? 0),
                        _ => level[t][life],
                    };
                    if (level[t][life] <= tanks[t].CapacityL) continue;
                    overflowed[t][life] ??= action.At.ToInstant();
                    level[t][life] = tanks[t].CapacityL;
                }
                open[t] = action.Kind switch { PlanActionKind.OpenValve => true, PlanActionKind.CloseValve => false, _ => open[t] };
                Note(action.At.ToInstant(), stop, t);
            }
            done.Add(made);
        }
        Run(search.End);
        var any = Enumerable.Range(0, Lives.Count).Count(life => overflowed.Any(o => o[life] is not null)) / (double)Lives.Count;
        var risks = new List<PlanRisk>();
        for (var t = 0; t < tanks.Count; t++)
        {
            var times = overflowed[t].OfType<Instant>().Order().ToList();
            var chance = times.Count / (double)Lives.Count;
            if (chance < WorthNaming) continue;
            var at = times[times.Count / 2];
            var stop = trip.Stops.LastOrDefault(s => s.Arrive.ToInstant() <= at) ?? trip.Stops[0];
            risks.Add(new PlanRisk(at.InZone(stop.Zone).ToOffsetDateTime(), tanks[t].Id, chance, Advice(tanks[t], stop)));
        }
        return new Plan(any <= trip.Rules.OverflowRisk, done, points.ToDictionary(p => p.Key, p => (IReadOnlyList<PlanLevel>)p.Value), risks, new PlanTotals(
            done.Count(a => a.Kind == PlanActionKind.Dump && rig.Find(a.Tank)!.Role == TankRole.Black), done.Count(a => a.Kind == PlanActionKind.Dump && rig.Find(a.Tank)!.Role == TankRole.Gray),
            done.Where(a => a.Kind == PlanActionKind.Flush).Sum(a => a.WaterL ?? 0), done.Count(a => a.Kind == PlanActionKind.Dose), Math.Round(stationMinutes), any));
    }

    private static List<PlanAdvice> Advice(Tank tank, Stop stop)
    {
        var mayDivert = tank.Role == TankRole.Gray && stop.Hookup is StopHookup.Dry or StopHookup.Partial;
        List<PlanAdvice> advice = mayDivert ? [PlanAdvice.DivertToBlack, PlanAdvice.CutUse] : [PlanAdvice.CutUse];
        if (stop.Hookup is not StopHookup.Full) advice.AddRange([PlanAdvice.AddStation, PlanAdvice.LeaveEarlier, PlanAdvice.ShortenStay]);
        else advice.Add(PlanAdvice.DumpEarlier);
        return advice;
    }
}
