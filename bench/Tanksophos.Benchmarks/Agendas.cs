using System.Diagnostics;
using Tanksophos.Core.Agendas;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Simulation;

namespace Tanksophos.Benchmarks;

/// <summary>How long the agenda takes after the belief, over simulated seasons; beside it the belief itself.</summary>
internal static class Agendas
{
    public static int Measure(int seasons)
    {
        List<double> beliefs = [], judges = [], decided = [];
        for (var seed = 1; seed <= seasons; seed++)
        {
            var season = SimulatedSeason.Simulate(new Scenario(seed, 180, DemoSeason.Rig, [])).Logbook;
            var clock = Stopwatch.StartNew();
            var log = season with { Entries = new IndexedLog([.. season.InOrder()]) };
            var belief = new JointEstimator().Estimate(log);
            beliefs.Add(clock.Elapsed.TotalMilliseconds);
            clock.Restart();
            var situation = Situation.Build(log, belief);
            judges.Add(clock.Elapsed.TotalMilliseconds);
            clock.Restart();
            Court.Decide(situation);
            decided.Add(clock.Elapsed.TotalMilliseconds);
        }
        Console.WriteLine($"{seasons} seasons of 180 days, milliseconds");
        foreach (var (name, times) in new[] { ("the belief", beliefs), ("the judges", judges), ("the court", decided),
            ("judges and court", [.. judges.Zip(decided, (a, b) => a + b)]) })
        {
            times.RemoveRange(0, Math.Min(5, times.Count / 4)); // compiled by then
            times.Sort();
            Console.WriteLine($"{name,-18} median {times[times.Count / 2],7:0.0}   p95 {times[(int)(0.95 * times.Count)],7:0.0}   most {times[^1],7:0.0}");
        }
        return 0;
    }
}
