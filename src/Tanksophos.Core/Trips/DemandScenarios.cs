using System.Numerics;
using System.Runtime.InteropServices;
using NodaTime;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Trips;

/// <summary>
/// Possible lives of a household on a trip, drawn once: for each life and tank the household's own factor (the same all trip), the level at the start, and a
/// factor for each day. The factors are spread evenly over their distribution, so that a few hundred lives tell a chance of a few percent.
/// </summary>
internal sealed class DemandScenarios
{
    public const int Count = 768;

    private static readonly double[] EvenChances = [.. Enumerable.Range(0, Count).Select(i => Inverse((i + 0.5) / Count))];

    private readonly Trip trip;
    private readonly double[][] factor; // by tank, by life
    private readonly double[][] medians; // litres a person and day by tank, by hookup
    private readonly Dictionary<int, double[][]> days = []; // by tank, by life: the household's factor and the day's
    private readonly int black;
    private readonly LocalDate first;
    private readonly int draw;

    /// <summary>Draws them.</summary>
    /// <param name="trip">The trip.</param>
    /// <param name="draw">Another number gives other lives: what was found with some is judged by others, so that the finding does not flatter itself.</param>
    public DemandScenarios(Trip trip, int draw = 0)
    {
        (this.trip, this.draw) = (trip, draw);
        first = trip.Start.At.Date;
        var usage = trip.Rig.Usage ?? Usage.Default;
        var tanks = trip.Rig.Tanks;
        factor = new double[tanks.Count][];
        medians = [.. tanks.Select(t => Enum.GetValues<Hookup>().Select(h => trip.Rig.MedianInflow(t, h)).ToArray())];
        black = Enumerable.Range(0, tanks.Count).FirstOrDefault(t => tanks[t].Role == TankRole.Black, -1);
        Start = new double[tanks.Count][];
        for (var t = 0; t < tanks.Count; t++)
        {
            var random = new SeededRandom(4711 + t + 1_000_003L * draw);
            factor[t] = [.. Spread(random).Select(z => Math.Exp(usage.For(tanks[t].Role).LogSd * z))];
            var band = trip.Start.Levels.GetValueOrDefault(tanks[t].Id);
            Start[t] = [.. Spread(random)
                .Select(z => Math.Clamp(band.P50L + z * (z < 0 ? band.P50L - band.P05L : band.P95L - band.P50L) / 1.645, 0, tanks[t].CapacityL))];
        }
    }

    /// <summary>Litres at the start, by tank and life.</summary>
    public double[][] Start { get; }

    /// <summary>Adds each life's inflow into each tank over a stretch of one stop to sums by tank and life.</summary>
    /// <param name="sums">By tank and life.</param>
    /// <param name="stop">The stop.</param>
    /// <param name="from">Start of the stretch.</param>
    /// <param name="to">End of the stretch.</param>
    /// <param name="divert">Share of the gray water that goes to black.</param>
    /// <param name="open">Whether a tank's valve stands open, so that nothing stays in it.</param>
    /// <param name="use">What is used, as a share of what is expected: 1 as usual, less for thrift.</param>
    public void Flow(double[][] sums, Stop stop, Instant from, Instant to, double divert, Func<int, bool> open, double use = 1)
    {
        if (stop.People == 0 || Hookup(stop) is not { } hookup || to <= from) return;
        var tanks = trip.Rig.Tanks;
        foreach (var (date, share, _) in UseHours.Days(from, to, stop.Zone))
        {
            var day = Day(Period.DaysBetween(first, date));
            for (var t = 0; t < tanks.Count; t++)
            {
                var litres = use * stop.People * medians[t][(int)hookup] * share;
                if (litres <= 0) continue;
                var kept = tanks[t].Role == TankRole.Gray && black >= 0 ? 1 - divert : 1;
                if (!open(t)) AddTimes(sums[t], kept * litres, day[t]);
                if (kept < 1) AddTimes(sums[black], divert * litres, day[t]);
            }
        }
    }

    // Adds a multiple of one row to another.
    private static void AddTimes(double[] into, double times, double[] row)
    {
        var to = MemoryMarshal.Cast<double, Vector<double>>(into.AsSpan());
        var by = MemoryMarshal.Cast<double, Vector<double>>(row.AsSpan());
        var many = new Vector<double>(times);
        for (var i = 0; i < to.Length; i++) to[i] += many * by[i];
    }

    /// <summary>The rates that hold at a stop; null where nothing flows in.</summary>
    public static Hookup? Hookup(Stop stop) => stop.Hookup switch
    {
        StopHookup.Full => Rigs.Hookup.Full,
        StopHookup.GrayDrain => Rigs.Hookup.GrayDrain,
        StopHookup.Partial => Rigs.Hookup.Partial,
        StopHookup.Dry => Rigs.Hookup.Dry,
        StopHookup.DumpStation or StopHookup.Storage => null,
    };

    /// <summary>What a tank takes in on one whole day at a stop, by life.</summary>
    public double[] DayOf(Stop stop, int tank, LocalDate date)
    {
        var made = new double[Count];
        if (Hookup(stop) is { } hookup) AddTimes(made, stop.People * medians[tank][(int)hookup], Day(Period.DaysBetween(first, date))[tank]);
        return made;
    }

    /// <summary>The value below which a share of the lives lies; the numbers are put in another order.</summary>
    /// <param name="values">By life.</param>
    /// <param name="rank">How many lie below, 0 up to the count less one.</param>
    public static double Ranked(double[] values, int rank)
    {
        int low = 0, high = values.Length - 1;
        while (low < high)
        {
            var pivot = values[(low + high) / 2];
            int i = low, j = high;
            while (i <= j)
            {
                while (values[i] < pivot) i++;
                while (values[j] > pivot) j--;
                if (i > j) break;
                (values[i], values[j]) = (values[j], values[i]);
                i++;
                j--;
            }
            if (rank <= j) high = j;
            else if (rank >= i) low = i;
            else break;
        }
        return values[rank];
    }

    private double[][] Day(int index)
    {
        if (days.TryGetValue(index, out var known)) return known;
        var made = new double[trip.Rig.Tanks.Count][];
        for (var t = 0; t < made.Length; t++)
        {
            var random = new SeededRandom(90_001 + index * 131L + t * 17L + 1_000_003L * draw);
            made[t] = new double[Count];
            for (var life = 0; life < Count; life++) made[t][life] = factor[t][life] * random.Scatter(Usage.DayLogSd);
        }
        return days[index] = made;
    }

    // Standard normal numbers at even chances, in random order.
    private static double[] Spread(SeededRandom random)
    {
        var z = (double[])EvenChances.Clone();
        for (var i = Count - 1; i > 0; i--)
        {
            var j = (int)(random.Uniform() * (i + 1));
            (z[i], z[j]) = (z[j], z[i]);
        }
        return z;
    }

    private static double Inverse(double p)
    {
        double low = -8, high = 8;
        for (var i = 0; i < 60; i++)
        {
            var mid = 0.5 * (low + high);
            if (Gaussian.Below(mid) < p) low = mid;
            else high = mid;
        }
        return 0.5 * (low + high);
    }
}
