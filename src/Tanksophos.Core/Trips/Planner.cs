using System.Numerics;
using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;

namespace Tanksophos.Core.Trips;

/// <summary>
/// Finds the best legal schedule of dumps for a trip: over a grid of moments, the cheapest sequence of dumps whose chance of any overflow is within the house
/// rule. Lives are drawn once; for each pair of moments the set of lives that overflow between two dumps is known, and labels carry the union, so the risk
/// is that of whole plans. See docs/decisions/0009-planner.md for the cost.
/// </summary>
public static class Planner
{
    private static readonly double[] Shares = [0.1, 0.2, 0.25];
    private const int MostTries = 4;

    /// <summary>Plans a trip.</summary>
    /// <exception cref="ArgumentNullException">No trip is given.</exception>
    public static Plan Make(Trip trip)
    {
        ArgumentNullException.ThrowIfNull(trip);
        var lives = new Lives(trip);
        var none = new double[trip.Stops.Count];
        var best = Within(trip, lives, none);
        // Part of the dish and warm-up water down the toilet: where it makes a plan hold, or saves dumps; as little of it, at as few stops, as does that.
        foreach (var share in Shares)
        {
            double[] all = [.. trip.Stops.Select(x => x.Hookup is StopHookup.Dry or StopHookup.Partial && x.People > 0 ? share : 0)];
            if (all.All(x => x == 0)) break;
            if (Within(trip, lives, all) is not { } diverted || (best is not null && PlanSearch.Compare(best.Value.Cost, diverted.Cost, PlanSearch.ThroughDumps) <= 0)) continue;
            best = diverted;
            for (var i = 0; i < all.Length; i++)
            {
                if (all[i] == 0) continue;
                double[] less = [.. all];
                less[i] = 0;
                if (Within(trip, lives, less) is { } fewer && PlanSearch.Compare(fewer.Cost, best.Value.Cost, PlanSearch.ThroughDumps) <= 0) (best, all) = (fewer, less);
            }
        }
        if (best is { } found) return found.Plan;
        // Nothing holds: the least bad.
        var search = new PlanSearch(trip, lives, none);
        var allowed = (int)(trip.Rules.OverflowRisk * Lives.Count);
        var low = allowed;
        var high = Lives.Count;
        while (high - low > Lives.Count / 50)
        {
            var mid = (low + high) / 2;
            if (search.Best(mid) is null) low = mid;
            else high = mid;
        }
        return new PlanWriter(trip, lives, search, search.Best(high)!.Choices).Write();
    }

    // The cheapest plan whose risk, lived through minute by minute, is within the rule; the search counts in moments and may be a life or two off.
    private static (Plan Plan, long[] Cost)? Within(Trip trip, Lives lives, double[] divert)
    {
        var search = new PlanSearch(trip, lives, divert);
        var allowed = (int)Math.Floor(trip.Rules.OverflowRisk * Lives.Count);
        for (var tries = 0; tries < MostTries && allowed >= 0; tries++)
        {
            if (search.Best(allowed) is not { } best) return null;
            var plan = new PlanWriter(trip, lives, search, best.Choices).Write();
            if (plan.Feasible) return (plan, best.Cost);
            allowed -= Math.Max(1, (int)Math.Ceiling((plan.Totals.OverflowProbability - trip.Rules.OverflowRisk) * Lives.Count));
        }
        return null;
    }
}

/// <summary>A moment at which something may be dumped.</summary>
/// <param name="At">When a run would begin.</param>
/// <param name="Stop">Index of the stop.</param>
/// <param name="Black">Whether black may go here.</param>
/// <param name="Arrival">Whether it is the arrival, before any gray valve is opened.</param>
/// <param name="Opens">Whether gray valves are opened here and stay open; nothing is decided then.</param>
internal sealed record PlanMoment(Instant At, int Stop, bool Black, bool Arrival, bool Opens);

/// <summary>What was decided at a moment.</summary>
/// <param name="Moment">Index of the moment.</param>
/// <param name="Black">Whether black is dumped, and gray after it; else gray alone.</param>
/// <param name="TopUpL">Litres by which black is topped up before.</param>
/// <param name="Close">When each gray is closed for the rinse, by tank index; empty where it is closed anyhow.</param>
internal sealed record PlanChoice(int Moment, bool Black, double TopUpL, IReadOnlyDictionary<int, Instant> Close);

/// <summary>A sequence of dumps and what it costs.</summary>
internal sealed record PlanFound(IReadOnlyList<PlanChoice> Choices, long[] Cost);

/// <summary>The search over sequences of dumps.</summary>
internal sealed class PlanSearch
{
    // Of the wanted gray level, these shares are tried as goals of the closing hour.
    private static readonly double[] Goals = [1, 0.8, 0.6, 0.4];
    private const double HoseVolumes = 4, HoseLPerM = 0.37 * 3.785411784 / 0.3048, UsualHoseM = 4.6, MostGrayAtDump = 0.75;
    // Nobody dumps lower than this without topping up.
    private const double LowestDump = 0.5;
    private static readonly double[] HighShares = [0.99, 0.975, 0.96];
    private const int Words = Lives.Count / 64;
    private const int CostTerms = 9, MostLabels = 32;
    private const int HotMaxDays = 7;
    private const double HotC = 29;
    private static readonly Duration RunLasts = Duration.FromMinutes(25); // until gray goes after black
    private static readonly Duration LongestBanking = Duration.FromDays(2);

    private readonly Trip trip;
    private readonly Lives lives;
    private readonly List<double[][]> sums = []; // by moment: inflow since the start by tank and life; gray none while it stands open
    private readonly double[][] endSums;
    private readonly int[] blacks, grays;
    private readonly Dictionary<(int, int), (ulong[] Lost, double Median, double[] Highs)> blackSpans = [];
    private readonly Dictionary<(int, int), (ulong[] Lost, double Median)> graySpans = [];
    private readonly Dictionary<(int Moment, int Goal, int After), (IReadOnlyDictionary<int, Instant> Close, ulong[] Lost, double Median)> windows = [];
    private readonly double[] divert;
    private readonly int lastBlackMoment; // the last at which black may go before the trip ends, if that is at its last stop; else -1

    private sealed record Label(int LastBlack, int LastGray, long[] Cost, ulong[] Lost, Label? Before, PlanChoice? Choice);

    public PlanSearch(Trip trip, Lives lives, double[] divert)
    {
        (this.trip, this.lives, this.divert) = (trip, lives, divert);
        var tanks = trip.Rig.Tanks;
        blacks = [.. Enumerable.Range(0, tanks.Count).Where(t => tanks[t].Role == TankRole.Black)];
        grays = [.. Enumerable.Range(0, tanks.Count).Where(t => tanks[t].Role == TankRole.Gray)];
        Moments = [.. MomentsOf().OrderBy(m => m.At)];
        var last = Moments.ToList().FindLastIndex(m => m.Black);
        lastBlackMoment = last >= 0 && Moments[last].Stop == trip.Stops.Count - 1 ? last : -1;
        var now = Zero();
        var clock = Begin;
        var stop = 0;
        void Run(Instant to)
        {
            while (clock < to && stop < trip.Stops.Count)
            {
                var s = trip.Stops[stop];
                var (from, until) = (Instant.Max(clock, s.Arrive.ToInstant()), Instant.Min(to, s.Depart.ToInstant()));
                if (until > from) lives.Flow(now, s, from, until, divert[stop], t => tanks[t].Role == TankRole.Gray && IsOpen(s));
                if (s.Depart.ToInstant() > to) break;
                stop++;
                clock = Instant.Max(clock, until);
            }
            clock = Instant.Max(clock, to);
        }
        foreach (var moment in Moments)
        {
            Run(moment.At);
            sums.Add([.. now.Select(x => (double[])x.Clone())]);
        }
        Run(End);
        endSums = now;
    }

    public IReadOnlyList<PlanMoment> Moments { get; }

    public double[] Divert => divert;

    public Instant Begin => trip.Start.At.ToInstant();

    public Instant End => trip.Stops[^1].Depart.ToInstant();

    /// <summary>The share of a gray tank wanted when black goes: the house rule, and four times the hose, at most three quarters.</summary>
    public double GrayTarget(Tank tank) =>
        Math.Min(MostGrayAtDump, Math.Max(trip.Rules.GrayTargetAtDump, HoseVolumes * HoseLPerM * (trip.Rig.Equipment?.HoseLengthM ?? UsualHoseM) / tank.CapacityL));

    public bool IsOpen(Stop stop) => stop.Hookup == StopHookup.GrayDrain || (stop.Hookup == StopHookup.Full && trip.Rules.GrayAtFullHookup != GrayAtFullHookup.Batch);

    public double StarterL(Tank tank) => RoutineDose.StarterWaterL(trip.Rules.Treatment, tank.CapacityL);

    public static double Residue(Tank tank) => DumpEntry.ResidueFraction * tank.CapacityL;

    /// <summary>Whether black can be topped up before a dump here.</summary>
    public bool CanTopUp(PlanMoment moment)
    {
        var stop = trip.Stops[moment.Stop];
        return stop.Hookup == StopHookup.Full || (stop.Hookup == StopHookup.DumpStation && stop is { RinseWater: RinseWater.Threaded, Busy: false });
    }

    /// <summary>The cheapest sequence in which at most so many lives overflow; null if there is none.</summary>
    /// <param name="allowed">Lives that may overflow.</param>
    /// <param name="dominance">Whether a sequence that another beats in cost and in lives is dropped; without, everything is tried.</param>
    public PlanFound? Best(int allowed, bool dominance = true)
    {
        var labels = new Dictionary<(int, int), List<Label>> { [(-1, -1)] = [new Label(-1, -1, new long[CostTerms], new ulong[Words], null, null)] };
        for (var m = 0; m < Moments.Count; m++)
        {
            var next = new Dictionary<(int, int), List<Label>>();
            foreach (var label in labels.Values.SelectMany(l => l))
            {
                if (Moments[m].Opens)
                {
                    Keep(next, With(label, label.LastBlack, m, new long[CostTerms], Union(label.Lost, GraySpan(label.LastGray, m).Lost), null), allowed, dominance);
                    continue;
                }
                Keep(next, label, allowed, dominance);
                foreach (var choice in Choices(label, m)) Keep(next, choice, allowed, dominance);
            }
            labels = next;
        }
        Label? best = null;
        foreach (var label in labels.Values.SelectMany(l => l).Select(Ended))
            if (Counted(label.Lost) <= allowed && (best is null || Compare(label.Cost, best.Cost) < 0)) best = label;
        if (best is null) return null;
        var made = new List<PlanChoice>();
        for (var l = best; l is not null; l = l.Before) if (l.Choice is { } c) made.Add(c);
        made.Reverse();
        return new PlanFound(made, best.Cost);
    }

    private IEnumerable<Label> Choices(Label label, int m)
    {
        var moment = Moments[m];
        var stop = trip.Stops[moment.Stop];
        var tanks = trip.Rig.Tanks;
        var inOpen = IsOpen(stop) && !moment.Arrival;
        var fee = stop.FeeMinor ?? 0;
        var waiting = stop.Busy ? 1 : 0;
        if (grays.Length > 0 && !IsOpen(stop) && label.LastGray < m)
        {
            var cost = new long[CostTerms];
            cost[5] = grays.Length;
            cost[7] = PaidAt(label, moment.Stop) ? 0 : fee;
            cost[8] = waiting * 3;
            yield return With(label, label.LastBlack, m, cost, Union(label.Lost, GraySpan(label.LastGray, m).Lost), new PlanChoice(m, false, 0, new Dictionary<int, Instant>()));
        }
        if (!moment.Black || blacks.Length == 0) yield break;
        var span = BlackSpan(label.LastBlack, m);
        var capacity = tanks[blacks[0]].CapacityL;
        var low = span.Median < (trip.Rules.DumpBlackAt - 0.005) * capacity;
        var rush = Math.Max(trip.Rules.DumpBlackAt, HouseRules.Default.DumpBlackAt) * capacity;
        // How much water goes in before is a choice: the more, the better the rush, and the more lives in which it runs over.
        var fills = new List<double> { 0 };
        if (low && CanTopUp(moment))
            foreach (var high in span.Highs)
                if (Math.Floor(Math.Min(rush - span.Median, capacity - high)) is >= 4 and var litres && !fills.Contains(litres)) fills.Add(litres);
        var goals = inOpen && grays.Length > 0 && trip.Rules.GrayAtFullHookup == GrayAtFullHookup.Bank ? Goals : [0];
        foreach (var goal in goals)
        {
            var (close, lost, gray) = inOpen ? Window(m, goal, label.LastBlack >= 0 && Moments[label.LastBlack].Stop == moment.Stop ? label.LastBlack : -1) : (new Dictionary<int, Instant>(), GraySpan(label.LastGray, m).Lost, GraySpan(label.LastGray, m).Median);
            foreach (var topUp in fills)
            {
                var reached = (span.Median + topUp) / capacity;
                var cost = new long[CostTerms];
                cost[0] = reached < Math.Min(trip.Rules.DumpBlackAt, LowestDump) - 0.01 && m != lastBlackMoment ? 1 : 0; // at the end of the trip it goes as it is
                cost[1] = stop.Hookup == StopHookup.Full ? 0 : 1;
                cost[2] = Late(label.LastBlack, moment.At, stop);
                cost[4] = grays.Length == 0 || trip.Rules.GrayAtFullHookup == GrayAtFullHookup.Open && inOpen ? 0 : (long)Math.Round(20 * Math.Max(0, GrayTarget(tanks[grays[0]]) - gray));
                cost[5] = 1 + grays.Length;
                cost[6] = (long)Math.Round(20 * Math.Max(0, trip.Rules.DumpBlackAt - reached));
                cost[7] = (PaidAt(label, moment.Stop) ? 0 : fee) + (long)Math.Round(topUp);
                cost[8] = waiting * 10;
                var over = topUp > 0 ? Union(span.Lost, Over(label.LastBlack, m, topUp)) : span.Lost;
                yield return With(label, m, inOpen ? label.LastGray : m, cost, Union(Union(label.Lost, over), lost), new PlanChoice(m, true, topUp, close));
            }
        }
    }

    private bool PaidAt(Label label, int stop)
    {
        for (var l = label; l is not null; l = l.Before) if (l.Choice is { } c) return Moments[c.Moment].Stop == stop;
        return false;
    }

    private static Label With(Label from, int black, int gray, long[] cost, ulong[] lost, PlanChoice? choice)
    {
        for (var i = 0; i < CostTerms; i++) cost[i] += from.Cost[i];
        return new Label(black, gray, cost, lost, from, choice);
    }

    // The stretch to the end of the trip: what may still run over, days beyond the limit, and a tank carried home from a last stop with a sewer.
    private Label Ended(Label label)
    {
        var cost = (long[])label.Cost.Clone();
        var lost = Union(label.Lost, GraySpan(label.LastGray, Moments.Count).Lost);
        if (blacks.Length > 0)
        {
            lost = Union(lost, BlackSpan(label.LastBlack, Moments.Count).Lost);
            cost[2] += Late(label.LastBlack, End, trip.Stops[^1]);
            if (lastBlackMoment >= 0 && label.LastBlack != lastBlackMoment) cost[3] += 1;
        }
        return label with { Cost = cost, Lost = lost };
    }

    // Tenths of days beyond the limit between two black dumps.
    private long Late(int last, Instant at, Stop stop)
    {
        var since = last >= 0 ? Moments[last].At : Begin - Duration.FromDays(trip.Start.DaysSinceBlackDump ?? 0);
        var limit = stop.HighC >= HotC ? Math.Min(HotMaxDays, trip.Rules.MaxDays) : trip.Rules.MaxDays;
        return (long)Math.Round(10 * Math.Max(0, (at - since).TotalDays - limit));
    }

    private static void Keep(Dictionary<(int, int), List<Label>> states, Label label, int allowed, bool dominance)
    {
        if (Counted(label.Lost) > allowed) return;
        var key = (label.LastBlack, label.LastGray);
        if (!states.TryGetValue(key, out var list)) states[key] = list = [];
        if (dominance)
        {
            foreach (var other in list) if (Compare(other.Cost, label.Cost) <= 0 && Within(other.Lost, label.Lost)) return;
            list.RemoveAll(other => Compare(label.Cost, other.Cost) <= 0 && Within(label.Lost, other.Lost));
        }
        list.Add(label);
        if (!dominance || list.Count <= MostLabels) return;
        // On long trips: the cheapest go on, and those with the least risk. Trips of a few stops never come here.
        list.Sort((a, b) => Compare(a.Cost, b.Cost));
        var kept = list.Take(MostLabels / 2).Concat(list.Skip(MostLabels / 2).OrderBy(l => Counted(l.Lost)).Take(MostLabels / 4)).ToList();
        list.Clear();
        list.AddRange(kept);
    }

    private (ulong[] Lost, double Median, double[] Highs) BlackSpan(int from, int to)
    {
        if (blackSpans.TryGetValue((from, to), out var known)) return known;
        var lost = new ulong[Words];
        var median = 0.0;
        var highs = new double[HighShares.Length];
        foreach (var t in blacks)
        {
            var tank = trip.Rig.Tanks[t];
            var level = new double[Lives.Count];
            for (var life = 0; life < level.Length; life++)
            {
                level[life] = (from < 0 ? lives.Start[t][life] : Residue(tank) + StarterL(tank)) + At(to)[t][life] - (from < 0 ? 0 : sums[from][t][life]);
                if (level[life] > tank.CapacityL) lost[life / 64] |= 1UL << (life % 64);
            }
            Array.Sort(level);
            median = Math.Max(median, level[level.Length / 2]);
            for (var h = 0; h < highs.Length; h++) highs[h] = Math.Max(highs[h], level[(int)(level.Length * HighShares[h])]);
        }
        return blackSpans[(from, to)] = (lost, Math.Min(median, trip.Rig.Tanks[blacks[0]].CapacityL), highs);
    }

    private ulong[] Over(int from, int to, double more)
    {
        var lost = new ulong[Words];
        foreach (var t in blacks)
        {
            var tank = trip.Rig.Tanks[t];
            for (var life = 0; life < Lives.Count; life++)
                if ((from < 0 ? lives.Start[t][life] : Residue(tank) + StarterL(tank) - sums[from][t][life]) + At(to)[t][life] + more > tank.CapacityL) lost[life / 64] |= 1UL << (life % 64);
        }
        return lost;
    }

    private (ulong[] Lost, double Median) GraySpan(int from, int to)
    {
        if (graySpans.TryGetValue((from, to), out var known)) return known;
        var lost = new ulong[Words];
        var share = 0.0;
        foreach (var t in grays)
        {
            var tank = trip.Rig.Tanks[t];
            var level = new double[Lives.Count];
            for (var life = 0; life < level.Length; life++)
            {
                level[life] = (from < 0 ? lives.Start[t][life] : Residue(tank)) + At(to)[t][life] - (from < 0 ? 0 : sums[from][t][life]);
                if (level[life] > tank.CapacityL) lost[life / 64] |= 1UL << (life % 64);
            }
            Array.Sort(level);
            share = Math.Max(share, Math.Min(1, level[level.Length / 2] / tank.CapacityL));
        }
        return graySpans[(from, to)] = (lost, share);
    }

    // At an open gray: when to close each, so that the expected inflow reaches the goal by the dump; who would overflow meanwhile; the share then expected.
    private (IReadOnlyDictionary<int, Instant> Close, ulong[] Lost, double Median) Window(int m, double goal, int after)
    {
        var key = (m, (int)(100 * goal), after);
        if (windows.TryGetValue(key, out var known)) return known;
        var moment = Moments[m];
        var stop = trip.Stops[moment.Stop];
        var earliest = Instant.Max(Instant.Max(stop.Arrive.ToInstant(), Begin) + Duration.FromMinutes(45), moment.At - LongestBanking);
        // After the run before it gray is opened again first.
        if (after >= 0) earliest = Instant.Max(earliest, Moments[after].At + Duration.FromMinutes(90));
        var close = new Dictionary<int, Instant>();
        var lost = new ulong[Words];
        var share = 0.0;
        foreach (var t in grays)
        {
            var tank = trip.Rig.Tanks[t];
            var rate = Lives.Hookup(stop) is { } hookup ? stop.People * trip.Rig.MedianInflow(tank, hookup) : 0;
            var wanted = goal * GrayTarget(tank) * tank.CapacityL - Residue(tank);
            var at = moment.At - Duration.FromMinutes(5);
            // Back hour by hour until enough would run in; not at night.
            if (goal > 0 && rate > 0)
                while (at - Duration.FromMinutes(30) >= earliest && rate * UseHours.Between(at, moment.At, stop.Zone) < wanted) at -= Duration.FromMinutes(30);
            if (!SensibleHours.Holds(at, stop.Zone)) at = Instant.Max(SensibleHours.NotAfter(at, stop.Zone), earliest);
            close[t] = at;
            var inflow = Zero();
            lives.Flow(inflow, stop, at, moment.At + RunLasts, 0, _ => false);
            var level = new double[Lives.Count];
            for (var life = 0; life < level.Length; life++)
            {
                level[life] = Residue(tank) + inflow[t][life];
                if (level[life] > tank.CapacityL) lost[life / 64] |= 1UL << (life % 64);
            }
            Array.Sort(level);
            share = Math.Max(share, level[level.Length / 2] / tank.CapacityL);
        }
        return windows[key] = (close, lost, Math.Min(1, share));
    }

    private double[][] At(int moment) => moment < Moments.Count ? sums[moment] : endSums;

    private double[][] Zero() => [.. trip.Rig.Tanks.Select(_ => new double[Lives.Count])];

    // The grid: at a site with a sewer the arrival, each morning, and the departure; stations when one is there; for kept-closed gray also the evenings.
    private IEnumerable<PlanMoment> MomentsOf()
    {
        for (var i = 0; i < trip.Stops.Count; i++)
        {
            var stop = trip.Stops[i];
            var (from, to) = (Instant.Max(stop.Arrive.ToInstant(), Begin), stop.Depart.ToInstant());
            if (to <= from) continue;
            if (stop.Hookup == StopHookup.DumpStation)
            {
                yield return new PlanMoment(Instant.Min(from + Duration.FromMinutes(5), to), i, true, true, false);
                continue;
            }
            var station = stop.DumpStation;
            if (stop.Hookup == StopHookup.Full)
            {
                var arrival = from + Duration.FromMinutes(30);
                if (SensibleHours.Holds(arrival, stop.Zone) && arrival + Duration.FromMinutes(60) < to) yield return new PlanMoment(arrival, i, true, !(trip.Start.GrayOpen && from == Begin && IsOpen(stop)), false);
                var leaving = SensibleHours.NotAfter(to - Duration.FromMinutes(75), stop.Zone);
                for (var date = from.InZone(stop.Zone).Date; date <= to.InZone(stop.Zone).Date; date = date.PlusDays(1))
                {
                    foreach (var hour in trip.Rules.GrayAtFullHookup == GrayAtFullHookup.Batch ? (int[])[9, 19] : [9])
                    {
                        var at = (date + new LocalTime(hour, 0)).InZoneLeniently(stop.Zone).ToInstant();
                        if (at > from + Duration.FromHours(3) && at < leaving - Duration.FromHours(3)) yield return new PlanMoment(at, i, true, false, false);
                    }
                }
                if (leaving > arrival + Duration.FromHours(1) || leaving >= from && leaving < arrival) yield return new PlanMoment(leaving, i, true, false, false);
            }
            if (IsOpen(stop)) yield return new PlanMoment(Instant.Min(from + Duration.FromMinutes(31), to), i, false, false, true);
            if (station && to - Duration.FromMinutes(55) >= from) yield return new PlanMoment(to - Duration.FromMinutes(55), i, true, false, false);
        }
    }

    private static ulong[] Union(ulong[] a, ulong[] b)
    {
        var u = new ulong[Words];
        for (var i = 0; i < Words; i++) u[i] = a[i] | b[i];
        return u;
    }

    private static bool Within(ulong[] a, ulong[] b)
    {
        for (var i = 0; i < Words; i++) if ((a[i] & ~b[i]) != 0) return false;
        return true;
    }

    private static int Counted(ulong[] a)
    {
        var n = 0;
        foreach (var w in a) n += BitOperations.PopCount(w);
        return n;
    }

    /// <summary>The terms of the cost up to the number of dumps.</summary>
    public const int ThroughDumps = 6;

    public static int Compare(long[] a, long[] b, int terms = CostTerms)
    {
        for (var i = 0; i < terms; i++) if (a[i] != b[i]) return a[i].CompareTo(b[i]);
        return 0;
    }
}
