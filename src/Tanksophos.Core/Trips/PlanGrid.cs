using NodaTime;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;

namespace Tanksophos.Core.Trips;

/// <summary>A moment at which something may be dumped.</summary>
/// <param name="At">When a run would begin.</param>
/// <param name="Stop">Index of the stop.</param>
/// <param name="Black">Whether black may go here.</param>
/// <param name="Gray">Whether gray may go alone here.</param>
/// <param name="Arrival">Whether it is the arrival, before any gray valve is opened.</param>
/// <param name="Opens">Whether gray valves are opened here and stay open; nothing is decided then.</param>
internal sealed record PlanMoment(Instant At, int Stop, bool Black, bool Gray, bool Arrival, bool Opens);

/// <summary>What runs in between two moments, over all lives.</summary>
/// <param name="Lost">DemandScenarios in which a tank overflows.</param>
/// <param name="Count">How many those are.</param>
/// <param name="Median">Expected at the end: the share of the fullest gray, or litres of black (of several the fullest, as litres in the first).</param>
/// <param name="SumL">Litres expected at the end in all of these tanks together.</param>
internal sealed record PlanSpan(ulong[] Lost, int Count, double Median, double SumL)
{
    public static readonly PlanSpan Dead = new(LifeSet.All, DemandScenarios.Count, 0, 0);
}

/// <summary>When gray that stood open is closed before black goes.</summary>
/// <param name="Close">Per gray tank, by tank index.</param>
/// <param name="Lost">DemandScenarios in which one overflows meanwhile.</param>
/// <param name="SumL">Litres expected at the rinse in all grays together.</param>
internal sealed record GrayWindow(IReadOnlyDictionary<int, Instant> Close, ulong[] Lost, double SumL);

/// <summary>The fixed grid of moments of a trip, and what flows in between any two of them in each possible life.</summary>
internal sealed class PlanGrid
{
    // Of the wanted gray level, these shares are tried as goals of the closing hour.
    public static readonly double[] Goals = [1, 0.8, 0.6, 0.4, 0.2, 0];
    private const double MaxBatchesADay = 2;
    private static readonly double[] HighShares = [0.998, 0.99, 0.98];
    private static readonly Duration RunLasts = Duration.FromMinutes(25); // until gray goes after black
    /// <summary>A valve at an own sewer stands open for so long, or is left alone.</summary>
    public static readonly Duration ShortestOpen = Duration.FromHours(4);

    private static readonly Duration HalfHour = Duration.FromMinutes(30);

    private static readonly Duration[] BeforeLeaving = [Duration.FromMinutes(55), Duration.FromMinutes(40), Duration.FromMinutes(30)];

    private readonly DemandScenarios lives;
    private readonly double[] scratch = new double[DemandScenarios.Count];
    private readonly Lazy<double[][][]> sums; // by moment, the last for the end: inflow since the start by tank and life; gray none while it stands open
    private readonly PlanSpan?[]?[] blackSpans, graySpans;
    private readonly Dictionary<(int Moment, int Goal, int After), GrayWindow> windows;
    private readonly Dictionary<(int From, int Moment), List<(double Litres, ulong[] Lost)>> fills = [];
    private readonly HashSet<(TankRole Role, int From, int To)> excused = [];

    /// <summary>Lays it out.</summary>
    /// <param name="trip">The trip.</param>
    /// <param name="lives">Possible lives.</param>
    /// <param name="divert">Share of the gray water that goes to black, by stop.</param>
    /// <param name="like">A grid of the same trip and lives with other shares; what does not depend on them is taken from it.</param>
    public PlanGrid(Trip trip, DemandScenarios lives, double[] divert, PlanGrid? like = null)
    {
        (Trip, this.lives, Divert) = (trip, lives, divert);
        var tanks = trip.Rig.Tanks;
        Blacks = [.. Enumerable.Range(0, tanks.Count).Where(t => tanks[t].Role == TankRole.Black)];
        Grays = [.. Enumerable.Range(0, tanks.Count).Where(t => tanks[t].Role == TankRole.Gray)];
        Moments = like?.Moments ?? [.. MomentsOf().OrderBy(m => m.At)];
        windows = like?.windows ?? [];
        blackSpans = new PlanSpan?[Moments.Count + 1][];
        graySpans = new PlanSpan?[Moments.Count + 1][];
        FirstOf = [.. Enumerable.Range(0, trip.Stops.Count).Select(i => Moments.FindIndex(m => m.Stop == i))];
        LastOf = [.. Enumerable.Range(0, trip.Stops.Count).Select(i => Moments.FindLastIndex(m => m.Stop == i))];
        var last = Moments.FindLastIndex(m => m.Black);
        LastBlackMoment = last >= 0 && Moments[last].Stop == trip.Stops.Count - 1 ? last : -1;
        GrayTargetL = GrayRinse.TargetL(trip.Rig, trip.Rules);
        sums = new Lazy<double[][][]>(SumsOf);
    }

    public Trip Trip { get; }

    public List<PlanMoment> Moments { get; }

    /// <summary>Share of the gray water that goes to black, by stop.</summary>
    public double[] Divert { get; }

    /// <summary>Indices of the black tanks; the search takes several as one, see <see cref="Planner"/>.</summary>
    public int[] Blacks { get; }

    public int[] Grays { get; }

    /// <summary>First and last moment of each stop; -1 for none.</summary>
    public int[] FirstOf { get; }

    public int[] LastOf { get; }

    /// <summary>The last moment at which black may go before the trip ends, if that is at its last stop; else -1.</summary>
    public int LastBlackMoment { get; }

    public Instant Begin => Trip.Start.At.ToInstant();

    public Instant End => Instant.Max(Begin, Trip.Stops[^1].Depart.ToInstant());

    public Tank Black => Trip.Rig.Tanks[Blacks[0]];

    public Instant Time(int moment) => moment < 0 ? Begin : moment < Moments.Count ? Moments[moment].At : End;

    /// <summary>Litres wanted in all grays together when black goes.</summary>
    public double GrayTargetL { get; }

    /// <summary>
    /// Whether gray stands open at a stop, apart from black dumps: where it may run off, unless the house keeps it closed. More than two batches a day are too
    /// many to ask.
    /// </summary>
    public bool IsOpen(Stop stop) => stop.Hookup == StopHookup.GrayDrain
        || (stop.Hookup == StopHookup.Full && (Trip.Rules.GrayAtFullHookup != GrayAtFullHookup.Batch || TooManyBatches(stop)));

    /// <summary>Whether keeping gray closed would mean more than two dumps a day.</summary>
    public bool TooManyBatches(Stop stop) =>
        Grays.Any(t => stop.People * Trip.Rig.MedianInflow(Trip.Rig.Tanks[t],
            Hookup.Full) > MaxBatchesADay * HouseRules.DumpGrayAt * Trip.Rig.Tanks[t].CapacityL);

    public double StarterL(Tank tank) => RoutineDose.StarterWaterL(Trip.Rules.Treatment, tank.CapacityL, Shelf.For(Trip.Rig, Trip.Rules.Treatment));

    public static double Residue(Tank tank) => DumpEntry.ResidueFraction * tank.CapacityL;

    /// <summary>Whether black can be topped up before a dump at a stop.</summary>
    public static bool CanTopUp(Stop stop) => stop.Hookup == StopHookup.Full
        || (stop.Hookup == StopHookup.DumpStation && stop is { RinseWater: RinseWater.Threaded, Busy: false });

    /// <summary>From now on a stretch that overflows whatever is done counts as no risk; it must begin and end with a drain.</summary>
    public void Excuse(TankRole role, int from, int to)
    {
        excused.Add((role, from, to));
        Array.Clear(role == TankRole.Black ? blackSpans : graySpans);
        fills.Clear();
    }

    public bool IsExcused => excused.Count > 0;

    /// <summary>Black from one dump (-1: the start) to a moment (their number: the end).</summary>
    public PlanSpan BlackSpan(int from, int to)
    {
        var row = blackSpans[from + 1] ??= new PlanSpan?[Moments.Count + 1];
        return row[to] ??= Excused(TankRole.Black, from, to, () => Span(from, to, Blacks, t => Residue(t) + StarterL(t), share: false));
    }

    /// <summary>Gray from one drain to a moment.</summary>
    public PlanSpan GraySpan(int from, int to)
    {
        var row = graySpans[from + 1] ??= new PlanSpan?[Moments.Count + 1];
        return row[to] ??= Excused(TankRole.Gray, from, to, () => Span(from, to, Grays, Residue, share: true));
    }

    /// <summary>
    /// Amounts by which black may be topped up before a dump; the first is none. The more, the better the rush, and the more lives in which it runs over.
    /// </summary>
    public IReadOnlyList<(double Litres, ulong[] Lost)> Fills(int from, int moment) =>
        fills.TryGetValue((from, moment), out var known) ? known : fills[(from, moment)] = FillsOf(from, moment);

    private List<(double Litres, ulong[] Lost)> FillsOf(int from, int moment)
    {
        var span = BlackSpan(from, moment);
        List<(double, ulong[])> made = [(0, span.Lost)];
        var capacity = Black.CapacityL;
        var rush = Math.Max(Trip.Rules.DumpBlackAt, HouseRules.Default.DumpBlackAt) * capacity;
        if (span.Median >= (Trip.Rules.DumpBlackAt - 0.005) * capacity || !CanTopUp(Trip.Stops[Moments[moment].Stop])) return made;
        var levels = Blacks.Select(t => Level(from, moment, t, Residue(Trip.Rig.Tanks[t]) + StarterL(Trip.Rig.Tanks[t]))).ToList();
        foreach (var share in HighShares)
        {
            var high = levels.Max(l => DemandScenarios.Ranked([.. l], (int)(DemandScenarios.Count * share)));
            var litres = Math.Floor(Math.Min(rush - span.Median, capacity - high));
            if (litres < 4 || made.Any(f => f.Item1 == litres)) continue;
            var lost = span.Lost;
            for (var b = 0; b < Blacks.Length; b++) lost = LifeSet.Union(lost, LifeSet.Above(levels[b], Trip.Rig.Tanks[Blacks[b]].CapacityL - litres));
            made.Add((litres, lost));
        }
        return made;
    }

    /// <summary>At an open gray: when to close each, so that the expected inflow reaches a share of what is wanted by the dump.</summary>
    /// <param name="m">The dump.</param>
    /// <param name="goal">Index into <see cref="Goals"/>.</param>
    /// <param name="after">The dump before it at the same stop; -1 for none.</param>
    public GrayWindow Window(int m, int goal, int after)
    {
        var key = (m, goal, after);
        if (windows.TryGetValue(key, out var known)) return known;
        var moment = Moments[m];
        var stop = Trip.Stops[moment.Stop];
        var earliest = Instant.Max(Instant.Max(stop.Arrive.ToInstant(), Begin) + Duration.FromMinutes(45), moment.At - GrayRinse.LongestBanking);
        // After the run before it gray is opened again first.
        if (after >= 0) earliest = Instant.Max(earliest, Moments[after].At + Duration.FromMinutes(90));
        var close = new Dictionary<int, Instant>();
        var lost = LifeSet.None;
        var sum = 0.0;
        foreach (var t in Grays)
        {
            var tank = Trip.Rig.Tanks[t];
            var rate = DemandScenarios.Hookup(stop) is { } hookup ? stop.People * Trip.Rig.MedianInflow(tank, hookup) : 0;
            var wanted = Goals[goal] * GrayRinse.TargetL(Trip.Rig, Trip.Rules, tank) - Residue(tank);
            var at = moment.At - Duration.FromMinutes(5);
            // Back by half hours until enough would run in; not at night.
            if (Goals[goal] > 0 && rate > 0)
            {
                var (few, many) = (0, Math.Max(0, (int)((at - earliest) / HalfHour)));
                while (few < many)
                {
                    var mid = (few + many) / 2;
                    if (rate * UseHours.Between(at - mid * HalfHour, moment.At, stop.Zone) < wanted) few = mid + 1;
                    else many = mid;
                }
                at -= few * HalfHour;
            }
            if (!SensibleHours.Holds(at, stop.Zone)) at = Instant.Max(SensibleHours.NotAfter(at, stop.Zone), earliest);
            close[t] = at;
            var inflow = Zero();
            lives.Flow(inflow, stop, at, moment.At + RunLasts, 0, _ => false);
            var level = inflow[t];
            for (var life = 0; life < level.Length; life++) level[life] += Residue(tank);
            lost = LifeSet.Union(lost, LifeSet.Above(level, tank.CapacityL));
            sum += Math.Min(tank.CapacityL, DemandScenarios.Ranked(level, DemandScenarios.Count / 2));
        }
        return windows[key] = new GrayWindow(close, lost, sum);
    }

    /// <summary>Litres expected in a black tank at a moment, and what is above the level of one life in fifty.</summary>
    /// <param name="from">The moment of its last dump; -1 for the start.</param>
    /// <param name="moment">The moment.</param>
    /// <param name="tank">Index of the tank.</param>
    public (double Median, double Room) BlackAt(int from, int moment, int tank)
    {
        var t = Trip.Rig.Tanks[tank];
        var level = Level(from, moment, tank, Residue(t) + StarterL(t));
        var high = DemandScenarios.Ranked([.. level], (int)(DemandScenarios.Count * HighShares[^1]));
        return (Math.Min(t.CapacityL, DemandScenarios.Ranked(level, DemandScenarios.Count / 2)), Math.Max(0, t.CapacityL - high));
    }

    private PlanSpan Excused(TankRole role, int from, int to, Func<PlanSpan> made)
    {
        foreach (var (r, i, j) in excused)
            if (r == role && from <= i && j <= to) return from == i && to == j ? made() with { Lost = LifeSet.None, Count = 0 } : PlanSpan.Dead;
        return made();
    }

    private PlanSpan Span(int from, int to, int[] which, Func<Tank, double> after, bool share)
    {
        var lost = LifeSet.None;
        var (median, sum) = (0.0, 0.0);
        foreach (var t in which)
        {
            var tank = Trip.Rig.Tanks[t];
            var level = Level(from, to, t, after(tank), scratch);
            lost = LifeSet.Union(lost, LifeSet.Above(level, tank.CapacityL));
            var mid = Math.Min(tank.CapacityL, DemandScenarios.Ranked(level, DemandScenarios.Count / 2));
            median = Math.Max(median, share ? mid / tank.CapacityL : mid / tank.CapacityL * Black.CapacityL);
            sum += mid;
        }
        return new PlanSpan(lost, LifeSet.Counted(lost), median, sum);
    }

    private double[] Level(int from, int to, int t, double after, double[]? into = null)
    {
        var level = into ?? new double[DemandScenarios.Count];
        double[] until = sums.Value[to][t], start = lives.Start[t];
        if (from < 0)
        {
            for (var life = 0; life < level.Length; life++) level[life] = start[life] + until[life];
            return level;
        }
        var since = sums.Value[from][t];
        for (var life = 0; life < level.Length; life++) level[life] = after + until[life] - since[life];
        return level;
    }

    private double[][][] SumsOf()
    {
        var made = new double[Moments.Count + 1][][];
        var now = Zero();
        var walk = new TripWalk(Trip);
        for (var m = 0; m <= Moments.Count; m++)
        {
            walk.To(Time(m), (stop, from, until) =>
                lives.Flow(now, Trip.Stops[stop], from, until, Divert[stop], t => Trip.Rig.Tanks[t].Role == TankRole.Gray && IsOpen(Trip.Stops[stop])));
            made[m] = [.. now.Select(x => (double[])x.Clone())];
        }
        return made;
    }

    private double[][] Zero() => [.. Trip.Rig.Tanks.Select(_ => new double[DemandScenarios.Count])];

    // At a site with a sewer the arrival, each morning, and the departure; stations when one is there; for kept-closed gray also the evenings.
    private IEnumerable<PlanMoment> MomentsOf()
    {
        for (var i = 0; i < Trip.Stops.Count; i++)
        {
            var stop = Trip.Stops[i];
            var (from, to) = (Instant.Max(stop.Arrive.ToInstant(), Begin), stop.Depart.ToInstant());
            if (to <= from) continue;
            var black = Blacks.Length > 0 && !Trip.Wished(stop.Id, TankRole.Black, DumpWish.NotHere);
            var gray = Grays.Length > 0 && !IsOpen(stop) && !Trip.Wished(stop.Id, TankRole.Gray, DumpWish.NotHere);
            if (stop.Hookup == StopHookup.DumpStation)
            {
                // Nobody is asked to work at a hose at night.
                var there = stop.OpenFrom(SensibleHours.NotBefore(Instant.Min(from + Duration.FromMinutes(5), to), stop.Zone));
                if ((black || gray) && there <= to) yield return new PlanMoment(there.Value, i, black, gray, Arrival: true, Opens: false);
                continue;
            }
            if (stop.Hookup == StopHookup.Full)
            {
                var arrival = from + Duration.FromMinutes(30);
                if (SensibleHours.Holds(arrival, stop.Zone) && arrival + Duration.FromMinutes(60) < to)
                    yield return new PlanMoment(arrival, i, black, gray, !(Trip.Start.GrayOpen && from == Begin && IsOpen(stop)), false);
                var leaving = SensibleHours.NotAfter(to - Duration.FromMinutes(75), stop.Zone);
                for (var date = from.InZone(stop.Zone).Date; date <= to.InZone(stop.Zone).Date; date = date.PlusDays(1))
                {
                    foreach (var hour in Trip.Rules.GrayAtFullHookup == GrayAtFullHookup.Batch ? (int[])[9, 19] : [9])
                    {
                        var at = (date + new LocalTime(hour, 0)).InZoneLeniently(stop.Zone).ToInstant();
                        if (at > from + Duration.FromHours(3) && at < leaving - Duration.FromHours(3))
                            yield return new PlanMoment(at, i, black, gray, Arrival: false, Opens: false);
                    }
                }
                if (leaving > arrival + Duration.FromHours(1) || (leaving >= from && leaving < arrival))
                    yield return new PlanMoment(leaving, i, black, gray, Arrival: false, Opens: false);
            }
            if (IsOpen(stop)) yield return new PlanMoment(Instant.Min(from + Duration.FromMinutes(35), to), i, Black: false, Gray: false, Arrival: false,
                Opens: true);
            // Its station is used in the last hour of the stay, a little later where that begins before people are up.
            if (stop.DumpStation && (black || gray))
                foreach (var last in BeforeLeaving.Select(m => to - m).Where(t => t >= from && SensibleHours.Holds(t, stop.Zone)).Take(1))
                    yield return new PlanMoment(last, i, black, gray, Arrival: false, Opens: false);
        }
    }
}

/// <summary>Goes along a trip from its start, stay by stay.</summary>
internal sealed class TripWalk(Trip trip)
{
    private Instant clock = trip.Start.At.ToInstant();
    private int stop;

    /// <summary>Goes on to a moment, and tells each stretch that lies in a stop: its index, from, until.</summary>
    public void To(Instant moment, Action<int, Instant, Instant> stretch)
    {
        while (clock < moment && stop < trip.Stops.Count)
        {
            var s = trip.Stops[stop];
            var (from, until) = (Instant.Max(clock, s.Arrive.ToInstant()), Instant.Min(moment, s.Depart.ToInstant()));
            if (until > from) stretch(stop, from, until);
            if (s.Depart.ToInstant() > moment) break;
            stop++;
            clock = Instant.Max(clock, until);
        }
        clock = Instant.Max(clock, moment);
    }
}
