using NodaTime;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Trips;

/// <summary>What a look on the way decides.</summary>
public enum LookFork
{
    /// <summary>Below the limits the run is left out; the next one of the plan takes its place.</summary>
    LeaveOut,

    /// <summary>
    /// Gray is closed earlier than in the plan without looks; is it above the limit, some of it is let out, black shut: down to
    /// about <see cref="PlanLook.LeftShare"/>.
    /// </summary>
    LetOut,
}

/// <summary>A look at the tanks that is part of a plan, with what is done differently then. Without the look the plan stands as it is.</summary>
/// <param name="Run">Key of the run that it decides about (see <see cref="PlanRun"/>).</param>
/// <param name="Stop">Id of the stop where it is taken.</param>
/// <param name="At">When, the first of them, in the local time of the stop.</param>
/// <param name="Fork">What it decides.</param>
/// <param name="Limits">Shares of the tanks, by tank id: all below (leave out), or one above (let out).</param>
/// <param name="Chance">How likely the other way is taken, 0 to 1.</param>
public sealed record PlanLook(string Run, string Stop, OffsetDateTime At, LookFork Fork, IReadOnlyDictionary<string, double> Limits, double Chance)
{
    /// <summary>What stays in a gray of which some is let out, as a share of the tank.</summary>
    public const double LeftShare = 1 / 3.0;

    /// <summary>All hours of looking, the first included.</summary>
    public IReadOnlyList<OffsetDateTime> Hours { get; init; } = [];

    /// <summary>When gray is closed, if it is closed earlier than in the plan without looks; in the local time of the stop.</summary>
    public OffsetDateTime? CloseAt { get; init; }
}

/// <summary>What a way of following a plan comes to, on the mean over all households that the trip may meet.</summary>
/// <param name="Overflow">Chance that any tank runs over at least once.</param>
/// <param name="BlackOverflow">Chance that black does.</param>
/// <param name="BlackDumps">Black dumps.</param>
/// <param name="GrayDumps">Gray dumps.</param>
/// <param name="GrayReady">Share of the black dumps at a full hookup for which the grays together hold what the hose wants; null without such a dump.</param>
public sealed record PlanOutcome(double Overflow, double BlackOverflow, double BlackDumps, double GrayDumps, double? GrayReady);

/// <summary>A plan with the looks that are worth taking.</summary>
/// <param name="Looks">In the order of time; empty where looking changes nothing.</param>
/// <param name="Without">The plan followed to the letter.</param>
/// <param name="With">The plan with the looks taken.</param>
public sealed record LookedPlan(IReadOnlyList<PlanLook> Looks, PlanOutcome Without, PlanOutcome With);

/// <summary>
/// Finds the looks that make a plan leaner: a plan for an unknown household provides for the thirstiest, and whoever looks on the way need not. A look never
/// adds risk: what it leaves out, or closes earlier, is taken only where no further life overflows, misreading included. See docs/decisions/0017-looks.md.
/// </summary>
public static class PlanLooks
{
    /// <summary>Error of a look, as a share of the tank (one standard deviation): a panel by thirds, or a flashlight.</summary>
    public const double ReadingSd = 0.06;

    // People tell quarters and thirds.
    private static readonly double[] Steps = [2 / 3.0, 0.5, 1 / 3.0, 0.25];
    private static readonly double[] FurtherGoals = [1.6, 1.3, 1.1, 0.9];
    // A fork that is hardly ever taken is not worth a look.
    private const double WorthALook = 0.08;
    private const int MostSkips = 6;
    // Further ahead than so many runs a trip is planned anew long before.
    private const int MostRuns = 24;
    private static readonly int[] LookHours = [8, 13, 18, 21];

    /// <summary>Looks for a plan.</summary>
    /// <param name="trip">The trip.</param>
    /// <param name="plan">Its plan.</param>
    public static LookedPlan For(Trip trip, Plan plan)
    {
        ArgumentNullException.ThrowIfNull(trip);
        ArgumentNullException.ThrowIfNull(plan);
        return new Search(trip, plan, draw: 1).Found(new Search(trip, plan, draw: 2));
    }

    private enum Part { Plain, Run, CloseFor, OpenAfter }

    // An action with the run that it belongs to; -1 for none.
    private sealed record Step(Instant At, PlanAction Action, int Tank, int Stop, Part Part, int Run);

    private sealed record Candidate(PlanLook Look, int Run, double[] Limits);

    private sealed class Search
    {
        private readonly Trip trip;
        private readonly IReadOnlyList<Tank> tanks;
        private readonly DemandScenarios lives;
        private readonly List<PlanRun> runs;
        private readonly List<Step> steps = [];
        private readonly double[] divert;
        private readonly double targetL;
        private PlanOutcome letter = new(0, 0, 0, 0, null);
        private readonly Dictionary<(int, Instant, Instant), double[][]> flows = [];

        public Search(Trip trip, Plan plan, int draw)
        {
            (this.trip, tanks, lives) = (trip, trip.Rig.Tanks, new DemandScenarios(trip, draw));
            targetL = GrayRinse.TargetL(trip.Rig, trip.Rules);
            var stops = trip.Stops.ToDictionary(s => s.Id);
            runs = [.. PlanRun.Group(plan.Actions, id => stops[id]).Where(r => r.Dumps)];
            var runOf = new Dictionary<PlanAction, int>(ReferenceEqualityComparer.Instance);
            for (var r = 0; r < runs.Count; r++) foreach (var action in runs[r].Actions) runOf[action] = r;
            divert = new double[trip.Stops.Count];
            var index = trip.Stops.Select((s, i) => (s.Id, i)).ToDictionary(x => x.Id, x => x.i);
            foreach (var action in plan.Actions)
            {
                var stop = index[action.Stop];
                if (action.Kind == PlanActionKind.Divert) divert[stop] = action.ShareToBlack ?? 0;
                if (action.Tank is null) continue;
                var tank = tanks.Select((t, i) => (t.Id, i)).First(x => x.Id == action.Tank).i;
                var own = runOf.GetValueOrDefault(action, -1);
                var (part, run) = action switch
                {
                    { Kind: PlanActionKind.CloseValve, Why: PlanWhy.ForTheRinse } =>
                        (Part.CloseFor, runs.FindIndex(r => r.Stop.Id == action.Stop && r.Until.ToInstant() > action.At.ToInstant())),
                    { Kind: PlanActionKind.OpenValve, Why: PlanWhy.RunDone } =>
                        (Part.OpenAfter, runs.FindLastIndex(r => r.Stop.Id == action.Stop && r.At.ToInstant() < action.At.ToInstant())),
                    { Kind: PlanActionKind.OpenValve or PlanActionKind.CloseValve } => (Part.Plain, -1),
                    _ => (own >= 0 ? Part.Run : Part.Plain, own),
                };
                steps.Add(new Step(action.At.ToInstant(), action, tank, stop, run < 0 ? Part.Plain : part, run));
            }
        }

        // What was chosen with some lives is judged by others, so that the choosing does not flatter itself.
        public LookedPlan Found(Search judge)
        {
            var taken = new List<Candidate>();
            letter = Live(taken, out _);
            var now = letter;
            var skips = 0;
            for (var run = 0; run < Math.Min(runs.Count, MostRuns); run++)
            {
                if (skips < MostSkips && MayLeaveOut(run, taken) && BestSkip(run, taken) is { } skip)
                {
                    taken.Add(skip.Candidate);
                    now = skip.Outcome;
                    skips++;
                }
                else if (BestClosing(run, taken, now) is { } closing)
                {
                    taken.Add(closing.Candidate);
                    now = closing.Outcome;
                }
            }
            var plain = taken.Count > 0 ? judge.Live([], out _) : letter;
            while (taken.Count > 0 && (Beyond(now, letter) > 0 || Beyond(judge.Live(taken, out _), plain) > 0))
            {
                // The one without which the rest is best goes.
                taken.RemoveAt(Enumerable.Range(0, taken.Count).MinBy(i => Beyond(judge.Live([.. taken.Where((_, k) => k != i)], out var _), plain)));
                now = Live(taken, out _);
            }
            return new LookedPlan([.. taken.Select(c => c.Look)], letter, now);
        }

        // How much worse it is than the letter, black weighing more; 0 if it is not.
        private static double Beyond(PlanOutcome now, PlanOutcome letter) =>
            AllowedLives.BlackWeighs * Math.Max(0, now.BlackOverflow - letter.BlackOverflow) + Math.Max(0, now.Overflow - letter.Overflow);

        // Not the last of the trip, not what the owner wished, not what the days ask for; and never for a worse one later.
        private bool MayLeaveOut(int run, List<Candidate> taken)
        {
            var r = runs[run];
            var black = Dumps(r, TankRole.Black);
            var next = runs.Skip(run + 1).FirstOrDefault(x => !black || Dumps(x, TankRole.Black));
            if (next is null || trip.Wishes.Any(w => w.Stop == r.Stop.Id && w.Dump == DumpWish.Here)) return false;
            if (!black) return true;
            if (next.Stop.Hookup != StopHookup.Full && r.Stop.Hookup == StopHookup.Full) return false;
            // Runs before it that may be left out too are not counted on.
            var before = runs.Take(run).Where((_, i) => !taken.Exists(c => c.Run == i && c.Look.Fork == LookFork.LeaveOut))
                .LastOrDefault(x => Dumps(x, TankRole.Black))?.At.ToInstant()
                ?? trip.Start.At.ToInstant() - Duration.FromDays(trip.Start.DaysSinceBlackDump ?? 0);
            var hot = trip.Stops.Any(s => s.Arrive.ToInstant() < next.At.ToInstant() && s.Depart.ToInstant() > before
                && Treatments.RoutineDose.IsHot(s.HottestC));
            return (next.At.ToInstant() - before).TotalDays <= trip.Rules.MaxDaysIn(hot);
        }

        private bool Dumps(PlanRun run, TankRole role) => run.Actions.Any(a => a.Kind == PlanActionKind.Dump && trip.Rig.Find(a.Tank)!.Role == role);

        private (Candidate Candidate, PlanOutcome Outcome)? BestSkip(int run, List<Candidate> taken)
        {
            var r = runs[run];
            var (at, stop) = LookBefore(run);
            if (at <= trip.Start.At.ToInstant()) return null;
            int[] asked = [.. Enumerable.Range(0, tanks.Count).Where(t => r.Actions.Any(a => a.Kind == PlanActionKind.Dump && a.Tank == tanks[t].Id))
                // Gray that stands open is no question.
                .Where(t => tanks[t].Role == TankRole.Black || !steps.Exists(s => s.Part == Part.CloseFor && s.Run == run && s.Tank == t))];
            if (asked.Length == 0) return null;
            var zone = trip.Stops[stop].Zone;
            (Candidate, PlanOutcome)? best = null;
            var chance = WorthALook;
            foreach (var black in Steps)
            {
                foreach (var gray in Steps)
                {
                    double Limit(int t) => tanks[t].Role == TankRole.Black ? black : gray;
                    var limits = new double[tanks.Count];
                    foreach (var t in asked) limits[t] = Limit(t);
                    var look = new PlanLook(r.Key, trip.Stops[stop].Id, at.InZone(zone).ToOffsetDateTime(), LookFork.LeaveOut,
                        asked.ToDictionary(t => tanks[t].Id, Limit), 0)
                    { Hours = [at.InZone(zone).ToOffsetDateTime()] };
                    var outcome = Live([.. taken, new Candidate(look, run, limits)], out var chances);
                    if (chances[^1] <= chance) break; // lower limits are rarer still
                    if (outcome.Overflow > letter.Overflow || outcome.BlackOverflow > letter.BlackOverflow) continue;
                    chance = chances[^1];
                    best = (new Candidate(look with { Chance = chance }, run, limits), outcome);
                    break;
                }
            }
            return best;
        }

        // Before anything is closed or driven for the run.
        private (Instant At, int Stop) LookBefore(int run)
        {
            var r = runs[run];
            var stop = trip.Stops.ToList().FindIndex(s => s.Id == r.Stop.Id);
            if (r.Stop.Hookup == StopHookup.DumpStation && stop > 0)
            {
                var before = trip.Stops[stop - 1];
                var leaving = SensibleHours.NotAfter(before.Depart.ToInstant() - Duration.FromHours(1), before.Zone);
                return (Instant.Max(before.Arrive.ToInstant(), leaving), stop - 1);
            }
            var closes = steps.Where(s => s.Part == Part.CloseFor && s.Run == run).Select(s => (Instant?)s.At).Min();
            var begins = Instant.Min(r.At.ToInstant(), closes ?? Instant.MaxValue) - Duration.FromMinutes(10);
            return (Instant.Max(Instant.Max(r.Stop.Arrive.ToInstant(), trip.Start.At.ToInstant()), begins), stop);
        }

        // With looks gray may be closed so early that most households have enough of it, since those that fill it sooner see that.
        private (Candidate Candidate, PlanOutcome Outcome)? BestClosing(int run, List<Candidate> taken, PlanOutcome now)
        {
            var r = runs[run];
            if (!Dumps(r, TankRole.Black) || r.Stop.Hookup != StopHookup.Full) return null;
            var closes = steps.Where(s => s.Part == Part.CloseFor && s.Run == run).ToList();
            if (closes.Count == 0) return null;
            var (zone, planned) = (r.Stop.Zone, closes.Min(s => s.At));
            // A valve is moved for hours or not at all; what stood open all along may be closed at once.
            var opened = steps.Where(s => s.Action.Kind == PlanActionKind.OpenValve && s.Stop == closes[0].Stop && s.At < planned)
                .Select(s => (Instant?)s.At + PlanGrid.ShortestOpen).Max();
            var there = Instant.Max(r.Stop.Arrive.ToInstant(), trip.Start.At.ToInstant()) + Duration.FromMinutes(30);
            var earliest = Instant.Max(Instant.Max(opened ?? there, there), r.At.ToInstant() - GrayRinse.LongestBanking);
            var (best, outcomeOfBest) = ((Candidate?)null, now);
            var tried = planned;
            foreach (var goal in FurtherGoals)
            {
                var close = closes.Min(s => CloseFor(tanks[s.Tank], r, goal, earliest));
                if (close >= tried && goal != FurtherGoals[0] || close >= planned) continue;
                tried = close;
                Instant[] hours = [.. HoursBetween(close, r.At.ToInstant(), zone)];
                if (hours.Length == 0) continue;
                foreach (var limit in (double[])[0.75, 2 / 3.0, 0.5])
                {
                    var limits = new double[tanks.Count];
                    foreach (var s in closes) limits[s.Tank] = limit;
                    var look = new PlanLook(r.Key, r.Stop.Id, hours[0].InZone(zone).ToOffsetDateTime(), LookFork.LetOut,
                        closes.ToDictionary(s => tanks[s.Tank].Id, _ => limit), 0)
                    { Hours = [.. hours.Select(h => h.InZone(zone).ToOffsetDateTime())], CloseAt = close.InZone(zone).ToOffsetDateTime() };
                    var candidate = new Candidate(look, run, limits);
                    var outcome = Live([.. taken, candidate], out var chances);
                    if (outcome.Overflow > letter.Overflow || outcome.BlackOverflow > letter.BlackOverflow
                        || !(outcome.GrayReady > outcomeOfBest.GrayReady + 0.01)) continue;
                    (best, outcomeOfBest) = (candidate with { Look = look with { Chance = chances[^1] } }, outcome);
                }
            }
            return best is null ? null : (best, outcomeOfBest);
        }

        private Instant CloseFor(Tank tank, PlanRun run, double goal, Instant earliest)
        {
            var rate = run.Stop.People * trip.Rig.MedianInflow(tank, Hookup.Full);
            var wanted = goal * GrayRinse.TargetL(trip.Rig, trip.Rules, tank) - PlanGrid.Residue(tank);
            var at = run.At.ToInstant() - Duration.FromMinutes(5);
            while (at - Duration.FromMinutes(30) >= earliest && rate * UseHours.Between(at, run.At.ToInstant(), run.Stop.Zone) < wanted)
                at -= Duration.FromMinutes(30);
            return SensibleHours.Holds(at, run.Stop.Zone) ? at : Instant.Max(SensibleHours.NotAfter(at, run.Stop.Zone), earliest);
        }

        private static IEnumerable<Instant> HoursBetween(Instant from, Instant to, DateTimeZone zone)
        {
            for (var date = from.InZone(zone).Date; date <= to.InZone(zone).Date; date = date.PlusDays(1))
            {
                foreach (var hour in LookHours)
                {
                    var at = (date + new LocalTime(hour, 0)).InZoneLeniently(zone).ToInstant();
                    if (at > from + Duration.FromHours(1) && at < to - Duration.FromMinutes(45)) yield return at;
                }
            }
        }

        // Every life followed through the plan, each looking for itself.
        private PlanOutcome Live(IReadOnlyList<Candidate> looks, out double[] chances)
        {
            const int n = DemandScenarios.Count;
            double[][] level = [.. lives.Start.Select(x => (double[])x.Clone())];
            bool[][] open = [.. tanks.Select(t => Enumerable.Repeat(t.Role == TankRole.Gray && trip.Start.GrayOpen, n).ToArray())];
            var (ever, everBlack) = (new bool[n], new bool[n]);
            var leftOut = new bool[runs.Count, n];
            var (black, gray, sewer, ready) = (0, 0, 0, 0);
            var taken = new int[looks.Count];
            bool[][] counted = [.. looks.Select(_ => new bool[n])];
            var noise = looks.Select((c, i) => new SeededRandom(31_337 + 97L * c.Run)).ToArray();

            void Spill(int t)
            {
                var (mine, capacity, isBlack) = (level[t], tanks[t].CapacityL, tanks[t].Role == TankRole.Black);
                for (var i = 0; i < n; i++)
                {
                    if (mine[i] <= capacity) continue;
                    mine[i] = capacity;
                    ever[i] = true;
                    everBlack[i] |= isBlack;
                }
            }
            void Stay(int stop, Instant from, Instant to)
            {
                var inflow = FlowOf(stop, from, to);
                for (var t = 0; t < tanks.Count; t++)
                {
                    double[] mine = level[t], more = inflow[t];
                    var isOpen = open[t];
                    for (var i = 0; i < n; i++) if (!isOpen[i]) mine[i] += more[i];
                    Spill(t);
                }
            }
            void Drain(int t, int i, Stop stop)
            {
                if (tanks[t].Role == TankRole.Black)
                {
                    black++;
                    if (stop.Hookup == StopHookup.Full)
                    {
                        sewer++;
                        var grays = 0.0;
                        for (var g = 0; g < tanks.Count; g++) if (tanks[g].Role == TankRole.Gray) grays += level[g][i];
                        if (grays >= targetL) ready++;
                    }
                }
                else gray++;
                level[t][i] = Math.Min(level[t][i], PlanGrid.Residue(tanks[t]));
            }
            void Do(Step step)
            {
                var (t, kind, stop) = (step.Tank, step.Action.Kind, trip.Stops[step.Stop]);
                for (var i = 0; i < n; i++)
                {
                    if (step.Run >= 0 && step.Part != Part.OpenAfter && leftOut[step.Run, i]) continue;
                    switch (kind)
                    {
                        case PlanActionKind.Dump: Drain(t, i, stop); break;
                        case PlanActionKind.Flush or PlanActionKind.OpenValve:
                            level[t][i] = Math.Min(level[t][i], PlanGrid.Residue(tanks[t]));
                            open[t][i] = kind == PlanActionKind.OpenValve || open[t][i];
                            break;
                        case PlanActionKind.CloseValve: open[t][i] = false; break;
                        case PlanActionKind.TopUp or PlanActionKind.StarterWater or PlanActionKind.ScrubBeforeDrive or PlanActionKind.Dose:
                            level[t][i] += step.Action.WaterL ?? 0;
                            break;
                    }
                }
                Spill(t);
            }
            void Look(int which)
            {
                var c = looks[which];
                for (var i = 0; i < n; i++)
                {
                    if (leftOut[c.Run, i]) continue;
                    var below = true;
                    for (var t = 0; t < tanks.Count; t++)
                        if (c.Limits[t] > 0 && level[t][i] / tanks[t].CapacityL + ReadingSd * noise[which].Normal() > c.Limits[t]) below = false;
                    if (c.Look.Fork == LookFork.LeaveOut ? !below : below) continue;
                    if (!counted[which][i]) taken[which]++;
                    counted[which][i] = true;
                    if (c.Look.Fork == LookFork.LeaveOut) leftOut[c.Run, i] = true;
                    else
                    {
                        for (var t = 0; t < tanks.Count; t++)
                        {
                            if (c.Limits[t] <= 0) continue;
                            var left = PlanLook.LeftShare + ReadingSd * noise[which].Normal();
                            level[t][i] = Math.Min(level[t][i], left * tanks[t].CapacityL);
                        }
                    }
                }
            }

            var events = new List<(Instant At, int Order, Action Do)>();
            for (var s = 0; s < steps.Count; s++)
            {
                var step = steps[s];
                var earlier = step.Part == Part.CloseFor
                    ? looks.FirstOrDefault(c => c.Run == step.Run && c.Look.CloseAt is not null)?.Look.CloseAt?.ToInstant() : null;
                if (earlier is { } sooner) events.Add((sooner, 1 + s, () => Do(step)));
                events.Add((step.At, 1 + s, () => Do(step)));
                // What is left out leaves gray open; it is closed when the run would be over, unless the stay goes on.
                if (step.Part == Part.CloseFor && !steps.Exists(x => x.Part == Part.OpenAfter && x.Run == step.Run && x.Tank == step.Tank))
                    events.Add((runs[step.Run].Until.ToInstant(), 1 + s, () =>
                    {
                        for (var i = 0; i < n; i++) if (leftOut[step.Run, i]) open[step.Tank][i] = false;
                    }
                    ));
            }
            for (var k = 0; k < looks.Count; k++)
            {
                var which = k;
                foreach (var hour in looks[k].Look.Hours) events.Add((hour.ToInstant(), 0, () => Look(which)));
            }
            var walk = new TripWalk(trip);
            foreach (var e in events.OrderBy(e => e.At).ThenBy(e => e.Order))
            {
                walk.To(e.At, Stay);
                e.Do();
            }
            walk.To(Instant.Max(trip.Start.At.ToInstant(), trip.Stops[^1].Depart.ToInstant()), Stay);
            chances = [.. taken.Select(x => x / (double)n)];
            return new PlanOutcome(ever.Count(x => x) / (double)n, everBlack.Count(x => x) / (double)n, black / (double)n, gray / (double)n,
                sewer > 0 ? ready / (double)sewer : null);
        }

        private double[][] FlowOf(int stop, Instant from, Instant to)
        {
            if (flows.TryGetValue((stop, from, to), out var known)) return known;
            double[][] made = [.. tanks.Select(_ => new double[DemandScenarios.Count])];
            lives.Flow(made, trip.Stops[stop], from, to, divert[stop], _ => false);
            return flows[(stop, from, to)] = made;
        }
    }
}
