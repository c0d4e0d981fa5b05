using NodaTime;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Trips;

/// <summary>Days that a tank lasts.</summary>
/// <param name="Tank">Id of the tank.</param>
/// <param name="Start">What is in it on arrival.</param>
/// <param name="Expected">Days until it is full in half of the possible lives; null if it lasts longer than is looked ahead.</param>
/// <param name="Cautious">Days until it is full in one life of twenty.</param>
public sealed record TankDays(string Tank, LevelBand Start, double? Expected, double? Cautious);

/// <summary>How long the tanks last at a place without a sewer, and what would stretch it.</summary>
/// <param name="Stop">Id of the stop.</param>
/// <param name="Stay">Days that are planned there.</param>
/// <param name="Tanks">Days left by tank, as the plan fills them.</param>
/// <param name="AsPlanned">Days until the first tank is full, cautiously, with what the plan diverts; null if longer than is looked ahead.</param>
/// <param name="BestShare">The share of the gray water that, put down the toilet, makes the tanks last longest; 0 up to a quarter.</param>
/// <param name="WithBestShare">Days until the first tank is full then, cautiously.</param>
/// <param name="WithThrift">The same as in the plan, with a quarter less water used.</param>
/// <param name="FreshDays">Days that the fresh water lasts at expected use, all of it; null if not known or if there is water at the site.</param>
public sealed record DryStay(string Stop, double Stay, IReadOnlyList<TankDays> Tanks, double? AsPlanned, double BestShare, double? WithBestShare,
    double? WithThrift, double? FreshDays)
{
    /// <summary>Whether the fresh water runs out before the stay is over, and before the tanks do.</summary>
    public bool FreshFirst => FreshDays is { } fresh && fresh < Stay && !(AsPlanned < fresh);

    /// <summary>Use with thrift, as a share of what is expected: short showers, one basin for the dishes.</summary>
    public const double Thrift = 0.75;

    private const double ShareStep = 0.01;

    /// <summary>Most of the gray water that people pour down the toilet instead, as a share.</summary>
    public const double MaxShare = 0.25;
    private const int LookAhead = 30;

    /// <summary>The figures for each stop without a sewer where people stay.</summary>
    /// <param name="trip">The trip.</param>
    /// <param name="plan">Its plan; it says what is in the tanks on arrival.</param>
    public static IReadOnlyList<DryStay> Compute(Trip trip, Plan plan)
    {
        ArgumentNullException.ThrowIfNull(trip);
        ArgumentNullException.ThrowIfNull(plan);
        var lives = new DemandScenarios(trip);
        return [.. trip.Stops.Where(s => s.Hookup is StopHookup.Dry or StopHookup.Partial && s.People > 0).Select(s => Compute(trip, plan, lives, s))];
    }

    private static DryStay Compute(Trip trip, Plan plan, DemandScenarios lives, Stop stop)
    {
        var begin = Instant.Max(stop.Arrive.ToInstant(), trip.Start.At.ToInstant());
        var tanks = trip.Rig.Tanks;
        LevelBand[] start = [.. tanks.Select(t => At(plan, t, begin))];
        var date = begin.InZone(stop.Zone).Date;
        // By tank, day and life: what has flown in by the end of so many whole days.
        var sums = tanks.Select((_, t) => Summed(lives, stop, t, date)).ToArray();
        var black = Enumerable.Range(0, tanks.Count).FirstOrDefault(t => tanks[t].Role == TankRole.Black, -1);
        int[] grays = [.. Enumerable.Range(0, tanks.Count).Where(t => tanks[t].Role == TankRole.Gray)];
        var planned = plan.Actions.FirstOrDefault(a => a.Stop == stop.Id && a.Kind == PlanActionKind.Divert)?.ShareToBlack ?? 0;

        // Days until a tank is full, by life.
        double[] Days(int t, double share, double use)
        {
            var days = new double[DemandScenarios.Count];
            var kept = use * (tanks[t].Role == TankRole.Gray && black >= 0 ? 1 - share : 1);
            // Who uses much fills much: the level on arrival is taken from the band's middle.
            var room = tanks[t].CapacityL - start[t].P50L;
            double By(int d, int life)
            {
                var litres = kept * sums[t][d][life];
                if (t == black && share > 0) foreach (var g in grays) litres += use * share * sums[g][d][life];
                return litres;
            }
            for (var life = 0; life < days.Length; life++)
            {
                days[life] = LookAhead;
                if (By(LookAhead, life) <= room) continue;
                var (low, high) = (0, LookAhead);
                while (high - low > 1)
                {
                    var mid = (low + high) / 2;
                    if (By(mid, life) > room) high = mid;
                    else low = mid;
                }
                var (before, after) = (By(low, life), By(high, life));
                days[life] = low + (room - before) / (after - before);
            }
            return days;
        }
        double Cautious(double share, double use)
        {
            var first = Enumerable.Range(0, tanks.Count).Select(t => Days(t, share, use)).Aggregate((a, b) => [.. a.Zip(b, Math.Min)]);
            return DemandScenarios.Ranked(first, DemandScenarios.Count / 20);
        }
        double? Known(double days) => days >= LookAhead ? null : Math.Round(days, 1);

        var (best, longest) = (0.0, Cautious(0, 1));
        if (black >= 0 && grays.Length > 0)
        {
            // The days rise until both fill together and fall from there.
            var (low, high) = (0, (int)Math.Round(MaxShare / ShareStep));
            while (high - low > 2)
            {
                var (a, b) = (low + (high - low) / 3, high - (high - low) / 3);
                if (Cautious(a * ShareStep, 1) < Cautious(b * ShareStep, 1)) low = a + 1;
                else high = b;
            }
            for (var s = low; s <= high; s++) if (Cautious(s * ShareStep, 1) is var days && days > longest + 1e-9) (best, longest) = (s * ShareStep, days);
        }
        var each = tanks.Select((t, i) =>
        {
            var days = Days(i, planned, 1);
            return new TankDays(t.Id, start[i], Known(DemandScenarios.Ranked(days, DemandScenarios.Count / 2)),
                Known(DemandScenarios.Ranked(days, DemandScenarios.Count / 20)));
        });
        return new DryStay(stop.Id, Math.Round((stop.Depart.ToInstant() - begin).TotalDays, 1), [.. each], Known(Cautious(planned, 1)), Math.Round(best, 2),
            Known(longest), Known(Cautious(planned, Thrift)), Fresh(trip, stop, begin));
    }

    private static double[][] Summed(DemandScenarios lives, Stop stop, int tank, LocalDate date)
    {
        var sums = new double[LookAhead + 1][];
        sums[0] = new double[DemandScenarios.Count];
        for (var d = 0; d < LookAhead; d++)
        {
            var (before, day) = (sums[d], lives.DayOf(stop, tank, date.PlusDays(d)));
            for (var life = 0; life < day.Length; life++) day[life] += before[life];
            sums[d + 1] = day;
        }
        return sums;
    }

    private static LevelBand At(Plan plan, Tank tank, Instant moment) =>
        plan.Levels.TryGetValue(tank.Id, out var points) && points.LastOrDefault(p => p.At.ToInstant() <= moment) is var last && last != default ? last.Level
            : new LevelBand(0, 0, 0);

    // What goes down the drains came out of the fresh tank; it is filled at the last place with water.
    private static double? Fresh(Trip trip, Stop stop, Instant begin)
    {
        if (stop.Hookup != StopHookup.Dry) return null;
        double Daily(Stop s) => s.People * trip.Rig.Tanks.Sum(t => trip.Rig.MedianInflow(t, Hookup.Dry));
        var before = trip.Stops.TakeWhile(s => s.Id != stop.Id).ToList();
        var watered = before.FindLastIndex(s => s.Hookup is StopHookup.Full or StopHookup.Partial or StopHookup.GrayDrain);
        var litres = watered >= 0 ? trip.Rig.FreshCapacityL : trip.Start.FreshL;
        if (litres is not { } aboard || Daily(stop) <= 0) return null;
        foreach (var s in before.Skip(watered + 1).Where(s => s.Hookup == StopHookup.Dry))
            aboard -= Daily(s) * Math.Max(0, (s.Depart.ToInstant() - Instant.Max(s.Arrive.ToInstant(), trip.Start.At.ToInstant())).TotalDays);
        return begin >= stop.Depart.ToInstant() ? null : Math.Round(Math.Max(0, aboard) / Daily(stop), 1);
    }
}
