using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Trips;

/// <summary>
/// Finds the best legal schedule of dumps for a trip: over a grid of moments, the cheapest sequence of dumps whose chance of any overflow is within the house
/// rule. DemandScenarios are drawn once; for each pair of moments the set of lives that overflow between two dumps is known, and sequences carry the union, so
/// the risk
/// is that of whole plans. See docs/decisions/0009-planner.md for the cost.
/// </summary>
public static class Planner
{
    // What may be asked of people; where a plan holds anyhow only a little and much are tried.
    private static readonly double[] Shares = [0.05, 0.1, 0.15, 0.2, 0.25], WhereItHolds = [0.1, 0.25];
    private const int MaxTries = 6;

    /// <summary>Plans a trip.</summary>
    /// <exception cref="ArgumentNullException">No trip is given.</exception>
    /// <exception cref="ArgumentException">It has no stops.</exception>
    public static Plan Make(Trip trip)
    {
        ArgumentNullException.ThrowIfNull(trip);
        if (trip.Stops.Count == 0) throw new ArgumentException("A trip needs at least one stop.", nameof(trip));
        var (lives, judges) = (new DemandScenarios(trip), new DemandScenarios(trip, draw: 1));
        var allowed = AllowedLives.Of(trip.Rules);
        var plain = new PlanGrid(trip, lives, new double[trip.Stops.Count]);
        var best = Within(plain, judges, allowed);
        var grids = new List<PlanGrid> { plain };
        // Part of the dish and warm-up water down the toilet: where it makes a plan hold, or saves dumps; as little of it, at as few stops, as does that.
        foreach (var share in Shares)
        {
            double[] all = [.. trip.Stops.Select(x => x.Hookup is StopHookup.Dry or StopHookup.Partial && x.People > 0 ? share : 0)];
            if (plain.Blacks.Length == 0 || plain.Grays.Length == 0 || all.All(x => x == 0)) break;
            // Diverting can spare a gray dump of its own, a dump away from a sewer, or a low one; where there is none of these it has nothing to give.
            if (best is { } b && (b.Grid != plain || !b.Found.Choices.Any(c => !c.Black || c.TopUpL > 0)
                && b.Found.Cost.CompareTo(PlanCost.Away(1)) < 0)) break;
            if (best is not null && !WhereItHolds.Contains(share)) continue;
            var grid = new PlanGrid(trip, lives, all, plain);
            grids.Add(grid);
            if (Better(grid, best) is { } diverted) best = Fewer(diverted, lives, judges, allowed);
        }
        if (best is { } found)
        {
            found = (found.Grid, Apart(found.Grid, found.Found, judges, allowed));
            // More starter water before dry stretches, where there is room for it; no valve moved for minutes, where it holds without.
            Plan Written(bool generous, bool tidy) => new PlanWriter(found.Grid, judges, found.Found, generous) { Tidy = tidy }.Write();
            foreach (var (generous, tidy) in new[] { (true, true), (false, true), (true, false) })
                if (Written(generous, tidy) is { Feasible: true } holds) return holds;
            return Written(generous: false, tidy: false);
        }
        return MinBad(grids, judges, allowed);

        (PlanGrid Grid, PlanFound Found)? Better(PlanGrid grid, (PlanGrid Grid, PlanFound Found)? than)
        {
            if (than is { } b && new PlanSearch(grid, allowed).AtLeast().ThroughDumps.CompareTo(b.Found.Cost.ThroughDumps) >= 0) return null;
            return Within(grid, judges, allowed) is { } made && (than is not { } t || made.Found.Cost.ThroughDumps.CompareTo(t.Found.Cost.ThroughDumps) < 0)
                ? made : null;
        }
    }

    // Several blacks: the search takes them as one, by the fullest. One that would go below half stays for a later run, if it lasts until then and its days
    // allow; the last run empties all.
    private static PlanFound Apart(PlanGrid grid, PlanFound found, DemandScenarios judges, AllowedLives allowed)
    {
        if (grid.Blacks.Length < 2) return found;
        List<PlanChoice> choices = [.. found.Choices];
        var joint = new PlanWriter(grid, judges, found, generous: false).Lost();
        // Where nothing holds it gets no worse.
        allowed = new AllowedLives(Math.Max(allowed.Any, joint.Any), Math.Max(allowed.Black, joint.Black));
        for (var i = 0; i < choices.Count; i++)
        {
            if (!choices[i].Black || grid.Trip.Wished(grid.Trip.Stops[grid.Moments[choices[i].Moment].Stop].Id, TankRole.Black, DumpWish.Here)) continue;
            int Before(int t) => i > 0 && choices.FindLastIndex(i - 1, i, c => c.Empties(t)) is >= 0 and var b ? choices[b].Moment : -1;
            double Share(int t) => grid.BlackAt(Before(t), choices[i].Moment, t).Median / grid.Trip.Rig.Tanks[t].CapacityL;
            // The fullest is what the run is for.
            foreach (var t in grid.Blacks.OrderBy(Share).SkipLast(1).Where(t => Share(t) < PlanSearch.LowestDump))
            {
                var (next, before) = (choices.FindIndex(i + 1, c => c.Empties(t)), Before(t));
                if (next < 0) continue;
                var since = before < 0 ? grid.Begin - NodaTime.Duration.FromDays(grid.Trip.Start.DaysSinceBlackDump ?? 0) : grid.Time(before);
                var hot = Treatments.RoutineDose.IsHot(grid.Trip.Stops[grid.Moments[choices[next].Moment].Stop].HottestC);
                if ((grid.Time(choices[next].Moment) - since).TotalDays > grid.Trip.Rules.MaxDaysIn(hot)) continue;
                var tried = new List<PlanChoice>(choices) { [i] = choices[i] with { Left = [.. choices[i].Left, t] } };
                var lost = new PlanWriter(grid, judges, found with { Choices = tried }, generous: false).Lost();
                if (allowed.Holds(lost.Any, lost.Black)) choices = tried;
            }
        }
        return found with { Choices = choices };
    }

    // Stops that need not divert for the same dumps are left out; then the plan is sought again.
    private static (PlanGrid Grid, PlanFound Found) Fewer((PlanGrid Grid, PlanFound Found) made, DemandScenarios lives, DemandScenarios judges,
        AllowedLives allowed)
    {
        var shares = (double[])made.Grid.Divert.Clone();
        for (var i = 0; i < shares.Length; i++)
        {
            if (shares[i] == 0) continue;
            double[] less = [.. shares];
            less[i] = 0;
            var lost = new PlanWriter(new PlanGrid(made.Grid.Trip, lives, less, made.Grid), judges, made.Found, generous: false).Lost();
            if (allowed.Holds(lost.Any, lost.Black)) shares = less;
        }
        if (shares.SequenceEqual(made.Grid.Divert)) return made;
        return Within(new PlanGrid(made.Grid.Trip, lives, shares, made.Grid), judges, allowed) is { } fewer
            && fewer.Found.Cost.ThroughDumps.CompareTo(made.Found.Cost.ThroughDumps) <= 0 ? fewer : made;
    }

    // The cheapest plan whose risk, lived through action by action and in other lives than it was found with, is within the rule.
    private static (PlanGrid Grid, PlanFound Found)? Within(PlanGrid grid, DemandScenarios judges, AllowedLives allowed)
    {
        var rule = allowed;
        var effort = new PlanEffort(grid);
        const int doubt = DemandScenarios.Count / 64;
        if ((rule with { Any = rule.Any + doubt, Black = rule.Black + doubt }).IsBeyond(effort.Lost, effort.BlackLost)) return null;
        for (var tries = 0; tries < MaxTries && allowed is { Any: >= 0, Black: >= 0 }; tries++)
        {
            if (new PlanSearch(grid, allowed).Best() is not { } best) return null;
            var lost = new PlanWriter(grid, judges, best, generous: false).Lost();
            if (rule.Holds(lost.Any, lost.Black)) return (grid, best);
            allowed = new AllowedLives(lost.Any > rule.Any ? allowed.Any - (lost.Any - rule.Any) : allowed.Any,
                lost.Black > rule.Black ? allowed.Black - (lost.Black - rule.Black) : allowed.Black);
        }
        return null;
    }

    // Nothing holds. The stretches that overflow whatever is done are kept as short as the stops allow; around them the plan keeps the rule. Black is given up
    // last: its overflow weighs many of gray.
    private static Plan MinBad(List<PlanGrid> grids, DemandScenarios judges, AllowedLives allowed)
    {
        var (grid, effort) = grids.Select(g => (Grid: g, Effort: new PlanEffort(g))).MinBy(x => x.Effort.Weight);
        foreach (var stretch in effort.Worst(allowed)) grid.Excuse(stretch.Role, stretch.From, stretch.To);
        var found = new PlanSearch(grid, allowed).Best();
        // With wishes in the way even that may fail: then the rest may lose what it must, gray first.
        for (var more = allowed.Any * 2 + 8; found is null && more < DemandScenarios.Count * 2; more *= 2)
            found = new PlanSearch(grid, allowed with { Any = Math.Min(more, DemandScenarios.Count - 1) }).Best();
        for (var more = allowed.Black * 2 + 8; found is null && more < DemandScenarios.Count * 2; more *= 2)
            found = new PlanSearch(grid, new AllowedLives(DemandScenarios.Count - 1, Math.Min(more, DemandScenarios.Count - 1))).Best();
        return new PlanWriter(grid, judges, Apart(grid, found ?? effort.Everything(), judges, allowed), generous: false).Write();
    }
}

/// <summary>What overflows even if everything is dumped whenever it can be.</summary>
internal sealed class PlanEffort
{
    private readonly PlanGrid grid;
    private readonly List<(TankRole Role, int From, int To, ulong[] Lost)> stretches = [];

    public PlanEffort(PlanGrid grid)
    {
        this.grid = grid;
        var moments = Enumerable.Range(0, grid.Moments.Count);
        if (grid.Blacks.Length > 0) Chain(TankRole.Black, [.. moments.Where(m => grid.Moments[m].Black)], grid.BlackSpan);
        if (grid.Grays.Length > 0) Chain(TankRole.Gray, [.. moments.Where(m => Drains(grid.Moments[m]))], grid.GraySpan);
        Lost = LostBy(stretches);
    }

    /// <summary>The lives that overflow.</summary>
    public ulong[] Lost { get; }

    /// <summary>The lives that overflow black.</summary>
    public ulong[] BlackLost => LostBy(stretches.Where(s => s.Role == TankRole.Black));

    /// <summary>How bad it is: a life that overflows black counts like many that overflow gray.</summary>
    public int Weight => AllowedLives.BlackWeighs * LifeSet.Counted(BlackLost) + LifeSet.Counted(Lost);

    /// <summary>The stretches without which the rest would be within the risk: the worst of black as far as black alone needs it, then those of gray.</summary>
    public IReadOnlyList<(TankRole Role, int From, int To)> Worst(AllowedLives allowed)
    {
        var left = stretches.OrderByDescending(s => LifeSet.Counted(s.Lost)).ToList();
        var worst = new List<(TankRole, int, int)>();
        void GiveUp((TankRole Role, int From, int To, ulong[] Lost) s)
        {
            worst.Add((s.Role, s.From, s.To));
            left.Remove(s);
        }
        bool Black((TankRole Role, int From, int To, ulong[] Lost) s) => s.Role == TankRole.Black;
        while (LifeSet.Counted(LostBy(left.Where(Black))) > allowed.Black) GiveUp(left.First(Black));
        while (left.Count > 0 && LifeSet.Counted(LostBy(left)) > allowed.Any) GiveUp(left.Exists(s => !Black(s)) ? left.First(s => !Black(s)) : left[0]);
        return worst;
    }

    private static ulong[] LostBy(IEnumerable<(TankRole Role, int From, int To, ulong[] Lost)> some) =>
        some.Aggregate(LifeSet.None, (all, s) => LifeSet.Union(all, s.Lost));

    /// <summary>Everything dumped whenever it can be, as a plan.</summary>
    public PlanFound Everything()
    {
        var none = new Dictionary<int, NodaTime.Instant>();
        var choices = new List<PlanChoice>();
        for (var m = 0; m < grid.Moments.Count; m++)
        {
            var moment = grid.Moments[m];
            // Not twice within hours, and gray not alone just before black.
            if (choices.Exists(c => grid.Moments[c.Moment] is var before && before.Stop == moment.Stop
                && moment.At - before.At < (moment.Black && c.Black ? PlanSearch.NoSecondRun : PlanSearch.BlackFirst))) continue;
            if (moment.Black) choices.Add(new PlanChoice(m, true, 0, grid.IsOpen(grid.Trip.Stops[moment.Stop]) && !moment.Arrival
                ? grid.Window(m, PlanGrid.Goals.Length - 1, -1).Close : none));
            else if (moment.Gray) choices.Add(new PlanChoice(m, false, 0, none));
        }
        return new PlanFound(choices, PlanCost.None, Proven: false);
    }

    private bool Drains(PlanMoment moment) => moment.Gray || moment.Opens || (moment.Black && (moment.Arrival || !grid.IsOpen(grid.Trip.Stops[moment.Stop])));

    private void Chain(TankRole role, List<int> at, Func<int, int, PlanSpan> span)
    {
        var from = -1;
        for (var k = 0; k < at.Count; k++)
        {
            // Nothing is gained by a first dump while the start is still low.
            if (from < 0 && k + 1 < at.Count && span(-1, at[k + 1]).Count == 0) continue;
            stretches.Add((role, from, at[k], span(from, at[k]).Lost));
            from = at[k];
        }
        stretches.Add((role, from, grid.Moments.Count, span(from, grid.Moments.Count).Lost));
    }
}
