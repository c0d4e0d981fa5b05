using System.Diagnostics;
using Tanksophos.Core.Trips;

namespace Tanksophos.Benchmarks;

/// <summary>How long a plan of sixty stops takes, by trip: of a household that is not known and of one that is.</summary>
internal static class PlanLoad
{
    private const int Trips = 12, Stops = 60, MostNights = 6, Rounds = 3;
    private const double Unknown = 0.45, Known = 0.15;

    public static int Measure()
    {
        foreach (var (name, logSd) in new[] { ("unknown", Unknown), ("known", Known) })
        {
            var times = new List<(long Seed, double Milliseconds, int Actions)>();
            for (var seed = 1; seed <= Trips; seed++)
            {
                var trip = SampleTrips.Of(seed, Stops, MostNights, logSd: logSd);
                var (best, actions) = (double.MaxValue, 0);
                for (var round = 0; round < Rounds; round++)
                {
                    var clock = Stopwatch.StartNew();
                    actions = Planner.Make(trip).Actions.Count;
                    best = Math.Min(best, clock.Elapsed.TotalMilliseconds);
                }
                times.Add((seed, best, actions));
            }
            var sorted = times.Select(t => t.Milliseconds).Order().ToList();
            Console.WriteLine($"{Stops} stops, {name} household, best of {Rounds}: median {sorted[sorted.Count / 2]:0} ms, slowest {sorted[^1]:0} ms ("
                + string.Join(", ", times.Select(t => $"{t.Milliseconds:0}")) + ")");
        }
        return 0;
    }
}
