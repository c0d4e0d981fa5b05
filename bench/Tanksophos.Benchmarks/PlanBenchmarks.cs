using BenchmarkDotNet.Attributes;
using Tanksophos.Core.Trips;

namespace Tanksophos.Benchmarks;

/// <summary>Planning trips: of fourteen stops with a household that is not known and one that is, and of sixty stops over half a year.</summary>
[MemoryDiagnoser]
[ShortRunJob]
public class PlanBenchmarks
{
    private const double Known = 0.15;

    private readonly Trip[] fourteen = [.. Enumerable.Range(1, 8).Select(seed => SampleTrips.Of(seed, 14, mostNights: 3))];
    private readonly Trip[] fourteenKnown = [.. Enumerable.Range(1, 8).Select(seed => SampleTrips.Of(seed, 14, mostNights: 3, logSd: Known))];
    private readonly Trip[] sixty = [.. Enumerable.Range(1, 2).Select(seed => SampleTrips.Of(seed, 60, mostNights: 6))];
    private readonly Trip[] sixtyKnown = [.. Enumerable.Range(1, 2).Select(seed => SampleTrips.Of(seed, 60, mostNights: 4, logSd: Known))];

    [Benchmark(OperationsPerInvoke = 8)]
    public int FourteenStops() => fourteen.Sum(t => Planner.Make(t).Actions.Count);

    [Benchmark(OperationsPerInvoke = 8)]
    public int FourteenStopsOfAKnownHousehold() => fourteenKnown.Sum(t => Planner.Make(t).Actions.Count);

    [Benchmark(OperationsPerInvoke = 2)]
    public int SixtyStopsOverHalfAYear() => sixty.Sum(t => Planner.Make(t).Actions.Count);

    [Benchmark(OperationsPerInvoke = 2)]
    public int SixtyStopsOfAKnownHousehold() => sixtyKnown.Sum(t => Planner.Make(t).Actions.Count);
}
