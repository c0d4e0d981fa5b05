using NodaTime;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;

namespace Tanksophos.Core.Trips;

/// <summary>What was decided at a moment.</summary>
/// <param name="Moment">Index of the moment.</param>
/// <param name="Black">Whether black is dumped, and gray after it; else gray alone.</param>
/// <param name="TopUpL">Litres by which black is topped up before.</param>
/// <param name="Close">When each gray is closed for the rinse, by tank index; empty where it is closed anyhow.</param>
internal sealed record PlanChoice(int Moment, bool Black, double TopUpL, IReadOnlyDictionary<int, Instant> Close)
{
    /// <summary>Blacks, by tank index, that are left for a later run: several blacks fill at their own pace.</summary>
    public IReadOnlyList<int> Left { get; init; } = [];

    /// <summary>Whether it empties a black tank.</summary>
    public bool Empties(int tank) => Black && !Left.Contains(tank);
}

/// <summary>A sequence of dumps and what it costs.</summary>
internal sealed record PlanFound(IReadOnlyList<PlanChoice> Choices, PlanCost Cost, bool Proven);

/// <summary>A step from one moment to the next.</summary>
/// <param name="Black">The last black dump after it; -1 for none.</param>
/// <param name="Gray">The last drain of gray after it.</param>
/// <param name="Cost">What it costs.</param>
/// <param name="Lost">DemandScenarios in which it overflows something.</param>
/// <param name="BlackLost">Those in which it overflows black.</param>
/// <param name="Choice">What is done; null for nothing.</param>
internal sealed record PlanStep(int Black, int Gray, PlanCost Cost, ulong[] Lost, ulong[] BlackLost, PlanChoice? Choice)
{
    /// <summary>How many lives those are.</summary>
    public int Any { get; } = LifeSet.Counted(Lost);

    /// <summary>How many lose black.</summary>
    public int Blacks { get; } = LifeSet.Counted(BlackLost);
}

/// <summary>How many of the lives may overflow.</summary>
/// <param name="Any">Any tank.</param>
/// <param name="Black">Black alone, which weighs far more.</param>
internal readonly record struct AllowedLives(int Any, int Black)
{
    /// <summary>A black overflow counts like so many gray ones in a plan that cannot hold.</summary>
    public const int BlackWeighs = 20;

    /// <summary>What the house rules allow.</summary>
    public static AllowedLives Of(HouseRules rules)
    {
        var any = (int)Math.Floor(rules.OverflowRisk * DemandScenarios.Count);
        return new AllowedLives(any, Math.Min(any, (int)Math.Floor(rules.BlackOverflowRisk * DemandScenarios.Count)));
    }

    /// <summary>Whether so many are within it.</summary>
    public bool Holds(int any, int black) => any <= Any && black <= Black;

    /// <summary>Whether lives that are lost are more than allowed.</summary>
    public bool IsBeyond(ulong[] any, ulong[] black) => LifeSet.Counted(any) > Any || LifeSet.Counted(black) > Black;
}

/// <summary>
/// The search over sequences of dumps. What a state (moment, last black dump, last drain of gray) still costs at least is known from a pass backwards in which
/// each
/// stretch alone keeps within the risk; the cheapest sequences are then followed first, each with the set of lives that it loses. The first that reaches the
/// end is
/// the best of all. A sequence that another of the same state beats in cost and in lives is dropped.
/// </summary>
internal sealed class PlanSearch(PlanGrid grid, AllowedLives allowed)
{
    // Sequences followed before the search stops proving: from then on one is kept per state, and another only if it loses fewer lives, black weighed more.
    public const int MaxProven = 5_000;

    /// <summary>Nobody dumps lower than this without topping up.</summary>
    public const double LowestDump = 0.5;
    // With some water on top: as far as the fullest of fifty households leaves room for it.
    private const double LowestToppedUp = 0.45;

    /// <summary>Black goes before gray: not within this time after gray went alone.</summary>
    public static readonly Duration BlackFirst = Duration.FromHours(3);

    /// <summary>No second black run at a stop within this time.</summary>
    public static readonly Duration NoSecondRun = Duration.FromHours(12);

    // As bad as a tenth of a day too late.
    private static readonly PlanCost AgainstTheRule = PlanCost.Late(0.1);

    private readonly Dictionary<(int, int, int), State> states = [];

    private int Count => grid.Moments.Count;

    /// <summary>What any plan costs at least; <see cref="PlanCost.Impossible"/> if some stretch alone is beyond the risk.</summary>
    public PlanCost AtLeast() => Least(At(0, -1, -1));

    /// <summary>The cheapest sequence in which at most so many lives overflow as are allowed; null if there is none.</summary>
    public PlanFound? Best()
    {
        if (AtLeast() == PlanCost.Impossible) return null;
        var queue = new PriorityQueue<Label, (PlanCost, int, int)>();
        var order = 0;
        queue.Enqueue(new Label(At(0, -1, -1), PlanCost.None, LifeSet.None, LifeSet.None, 0, 0, null, null), (AtLeast(), 0, order++));
        var followed = 0;
        while (queue.TryDequeue(out var label, out _))
        {
            var state = label.State;
            if (state.Moment > Count) return Made(label, followed <= MaxProven);
            // Those before it cost no more: one of them that loses the same lives or fewer is at least as good.
            if (state.Beats(label)) continue;
            if (++followed > MaxProven && state.Followed.Exists(o => Weight(o) <= Weight(label))) continue;
            state.Followed.Add(label);
            foreach (var (step, next) in Ways(state))
            {
                var any = step.Any == 0 ? label.Any : LifeSet.CountedTogether(label.Lost, step.Lost);
                var blacks = step.Blacks == 0 ? label.Blacks : LifeSet.CountedTogether(label.BlackLost, step.BlackLost);
                if (!allowed.Holds(any, blacks)) continue;
                var made = new Label(next, label.Cost + step.Cost, any == label.Any ? label.Lost : LifeSet.Union(label.Lost, step.Lost),
                    blacks == label.Blacks ? label.BlackLost : LifeSet.Union(label.BlackLost, step.BlackLost), any, blacks, label, step.Choice);
                if (!next.Beats(made)) queue.Enqueue(made, (made.Cost + Least(next), -next.Moment, order++));
            }
        }
        return null;
    }

    // How much of what may be lost is lost: of all lives, and of those that lose black.
    private double Weight(Label label) => (double)label.Any / Math.Max(1, allowed.Any) + (double)label.Blacks / Math.Max(1, allowed.Black);

    // The steps out of a state that can still lead to the end, and where they lead.
    private List<(PlanStep Step, State Next)> Ways(State state)
    {
        if (state.Ways is { } known) return known;
        var made = new List<(PlanStep, State)>();
        foreach (var step in state.Moment == Count ? [Ended(state.Black, state.Gray)] : Steps(state.Moment, state.Black, state.Gray))
        {
            if (!allowed.Holds(step.Any, step.Blacks)) continue;
            var next = At(state.Moment + 1, step.Black, step.Gray);
            if (Least(next) != PlanCost.Impossible) made.Add((step, next));
        }
        return state.Ways = made;
    }

    private State At(int moment, int black, int gray)
    {
        ref var state = ref System.Runtime.InteropServices.CollectionsMarshal.GetValueRefOrAddDefault(states, (moment, black, gray), out _);
        return state ??= new State(moment, black, gray);
    }

    private PlanCost Least(State state)
    {
        if (state.Moment > Count) return PlanCost.None;
        if (state.Least is { } known) return known;
        var best = PlanCost.Impossible;
        foreach (var (step, next) in Ways(state))
        {
            var cost = step.Cost + Least(next);
            if (cost.CompareTo(best) < 0) best = cost;
        }
        state.Least = best;
        return best;
    }

    /// <summary>The steps out of a state.</summary>
    public IReadOnlyList<PlanStep> Steps(int m, int black, int gray)
    {
        var made = new List<PlanStep>();
        void Add(PlanStep step)
        {
            if (KeepsWishes(m, step)) made.Add(step);
        }
        var moment = grid.Moments[m];
        if (moment.Opens)
        {
            var span = grid.GraySpan(gray, m);
            Add(new PlanStep(black, m, PlanCost.None, span.Lost, LifeSet.None, null));
        }
        else
        {
            // Waiting on is no use once too many lives are lost.
            if ((!moment.Black || grid.BlackSpan(black, m).Count <= allowed.Black) && (!moment.Gray || grid.GraySpan(gray, m).Count <= allowed.Any))
                Add(new PlanStep(black, gray, LeavesLow(m, black) && grid.Trip.Rules.LeavingLow == LeavingLowRule.TopUp ? AgainstTheRule : PlanCost.None,
                    LifeSet.None, LifeSet.None, null));
            if (moment.Gray && gray < m) Add(GrayAlone(m, black, gray));
            if (moment.Black) foreach (var step in BlackRuns(m, black, gray)) Add(step);
        }
        return made;
    }

    /// <summary>
    /// The stretch to the end of the trip: what may still run over, days beyond the limit, and a tank carried home from a last stop with a sewer.
    /// </summary>
    public PlanStep Ended(int black, int gray)
    {
        var lost = grid.Grays.Length > 0 ? grid.GraySpan(gray, Count).Lost : LifeSet.None;
        var cost = PlanCost.None;
        var blackLost = LifeSet.None;
        if (grid.Blacks.Length > 0)
        {
            blackLost = grid.BlackSpan(black, Count).Lost;
            lost = LifeSet.Union(lost, blackLost);
            cost = Late(black, grid.End, grid.Trip.Stops[^1]);
            if (grid.LastBlackMoment >= 0 && black != grid.LastBlackMoment && !Within(black, grid.LastBlackMoment, NoSecondRun))
                cost += PlanCost.CarriedHome;
        }
        return new PlanStep(black, gray, cost, lost, blackLost, null);
    }

    private PlanStep GrayAlone(int m, int black, int gray)
    {
        var stop = grid.Trip.Stops[grid.Moments[m].Stop];
        var span = grid.GraySpan(gray, m);
        var cost = PlanCost.Dumps(grid.Grays.Length) + PlanCost.Money(Paid(m, black, gray) ? 0 : stop.FeeMinor ?? 0, 0) + PlanCost.Waiting(stop.Busy ? 3 : 0);
        if (stop.Hookup == StopHookup.Full) cost += PlanCost.Distance(Math.Abs(HouseRules.DumpGrayAt - span.Median));
        return new PlanStep(black, m, cost, span.Lost, LifeSet.None, new PlanChoice(m, false, 0, NoWindow));
    }

    private IEnumerable<PlanStep> BlackRuns(int m, int black, int gray)
    {
        var moment = grid.Moments[m];
        var stop = grid.Trip.Stops[moment.Stop];
        var rules = grid.Trip.Rules;
        var span = grid.BlackSpan(black, m);
        if (span.Count > allowed.Black) yield break;
        // Black goes before gray, so not soon after gray went alone; and no tank is opened again within hours.
        if (Within(gray, m, BlackFirst) && !grid.Moments[gray].Opens || Within(black, m, NoSecondRun)) yield break;
        var inOpen = grid.IsOpen(stop) && !moment.Arrival;
        var wantsGray = grid.Grays.Length > 0 && !(inOpen && rules.GrayAtFullHookup == GrayAtFullHookup.Open);
        var always = PlanCost.Away(stop.Hookup == StopHookup.Full ? 0 : 1) + Late(black, moment.At, stop) + PlanCost.Dumps(1 + grid.Grays.Length)
            + PlanCost.Money(Paid(m, black, gray) ? 0 : stop.FeeMinor ?? 0, 0) + PlanCost.Waiting(stop.Busy ? 10 : 0);
        // What the house rule would carry on goes only where it must.
        if (rules.LeavingLow == LeavingLowRule.CarryOn && stop.Hookup == StopHookup.Full && stop != grid.Trip.Stops[^1]
            && span.Median < (rules.DumpBlackAt - 0.005) * grid.Black.CapacityL) always += AgainstTheRule;
        foreach (var window in Windows(m, black, gray, inOpen, wantsGray))
        {
            var missing = wantsGray ? PlanCost.GrayShort(1 - window.SumL / grid.GrayTargetL) : PlanCost.None;
            foreach (var (litres, lost) in grid.Fills(black, m))
            {
                var reached = (span.Median + litres) / grid.Black.CapacityL;
                // At the end of the trip it goes as it is.
                var low = reached < Math.Min(rules.DumpBlackAt, litres > 0 ? LowestToppedUp : LowestDump) - 0.01 && m != grid.LastBlackMoment ? 1 : 0;
                var cost = always + missing + PlanCost.Low(low) + PlanCost.Distance(rules.DumpBlackAt - reached) + PlanCost.Money(0, litres);
                yield return new PlanStep(m, inOpen ? gray : m, cost, LifeSet.Union(lost, window.Lost), lost, new PlanChoice(m, true, litres, window.Close));
            }
        }
    }

    // Whether the rig leaves a site with a sewer here, not for good, with something worth a dump in black.
    private bool LeavesLow(int m, int black)
    {
        var moment = grid.Moments[m];
        return moment.Black && grid.LastOf[moment.Stop] == m && m != grid.LastBlackMoment && grid.Trip.Stops[moment.Stop].Hookup == StopHookup.Full
            && grid.BlackSpan(black, m).Median >= CarriedOn.WorthNaming * grid.Black.CapacityL && !Within(black, m, NoSecondRun);
    }

    // Whether an earlier drain was at the same stop, less than so long before.
    private bool Within(int earlier, int m, Duration time) => earlier >= 0 && grid.Moments[earlier] is var before && before.Stop == grid.Moments[m].Stop
        && earlier != m && grid.Moments[m].At - before.At < time;

    private static readonly IReadOnlyDictionary<int, Instant> NoWindow = new Dictionary<int, Instant>();

    private List<GrayWindow> Windows(int m, int black, int gray, bool inOpen, bool wanted)
    {
        if (grid.Grays.Length == 0) return [new GrayWindow(NoWindow, LifeSet.None, 0)];
        if (!inOpen)
        {
            var span = grid.GraySpan(gray, m);
            return [new GrayWindow(NoWindow, span.Lost, span.SumL)];
        }
        var after = black >= 0 && grid.Moments[black].Stop == grid.Moments[m].Stop ? black : -1;
        if (!wanted) return [grid.Window(m, PlanGrid.Goals.Length - 1, after)];
        // Of windows that lose the same lives the fullest is enough.
        var kept = new List<GrayWindow>();
        for (var goal = 0; goal < PlanGrid.Goals.Length; goal++)
        {
            var window = grid.Window(m, goal, after);
            if (!kept.Any(k => k.SumL >= window.SumL && LifeSet.Within(k.Lost, window.Lost))) kept.Add(window);
        }
        return kept;
    }

    private bool KeepsWishes(int m, PlanStep step)
    {
        var stop = grid.Moments[m].Stop;
        if (grid.Trip.Wishes.Count == 0 || grid.LastOf[stop] != m) return true;
        var (id, first) = (grid.Trip.Stops[stop].Id, grid.FirstOf[stop]);
        if (grid.Trip.Wished(id, TankRole.Black, DumpWish.Here) && step.Black < first) return false;
        return !grid.Trip.Wished(id, TankRole.Gray, DumpWish.Here) || step.Gray >= first || step.Black >= first;
    }

    // A fee is paid once a stop.
    private bool Paid(int m, int black, int gray)
    {
        var first = grid.FirstOf[grid.Moments[m].Stop];
        return black >= first || (gray >= first && !grid.Moments[gray].Opens);
    }

    private PlanCost Late(int last, Instant at, Stop stop)
    {
        var since = last >= 0 ? grid.Moments[last].At : grid.Begin - Duration.FromDays(grid.Trip.Start.DaysSinceBlackDump ?? 0);
        return PlanCost.Late((at - since).TotalDays - grid.Trip.Rules.MaxDaysIn(RoutineDose.IsHot(stop.HottestC)));
    }

    private static PlanFound Made(Label end, bool proven)
    {
        var made = new List<PlanChoice>();
        for (Label? label = end; label is not null; label = label.Before) if (label.Choice is { } c) made.Add(c);
        made.Reverse();
        return new PlanFound(made, end.Cost, proven);
    }

    // A moment, with the last black dump and the last drain of gray before it.
    private sealed class State(int moment, int black, int gray)
    {
        public readonly int Moment = moment, Black = black, Gray = gray;
        public readonly List<Label> Followed = [];
        public List<(PlanStep Step, State Next)>? Ways;
        public PlanCost? Least;

        public bool Beats(Label label)
        {
            foreach (var o in Followed)
                if (o.Any <= label.Any && o.Blacks <= label.Blacks && o.Cost.CompareTo(label.Cost) <= 0
                    && LifeSet.Within(o.Lost, label.Lost) && LifeSet.Within(o.BlackLost, label.BlackLost)) return true;
            return false;
        }
    }

    private sealed record Label(State State, PlanCost Cost, ulong[] Lost, ulong[] BlackLost, int Any, int Blacks, Label? Before, PlanChoice? Choice);
}
