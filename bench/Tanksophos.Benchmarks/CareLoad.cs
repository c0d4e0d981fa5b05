using System.Diagnostics;
using NodaTime;
using Tanksophos.Core.Care;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Benchmarks;

/// <summary>How long the chores of the year take over ten years of entries, the first time and after one more entry.</summary>
internal static class CareLoad
{
    private const int Rounds = 40;

    public static int Measure(int entries)
    {
        var book = LongLog.Of(entries);
        var rig = book.Rig with { UnusedFixtures = ["shower"], Chores = [new OwnChore("x", "X") { EveryMonths = 3 }] };
        var log = new IndexedLog([.. book.Entries.OrderBy(e => e.Instant)]);
        // What is believed and what is wrong is asked elsewhere too; here they are given, from the newest part.
        var recent = new Logbook(rig, new IndexedLog([.. log.TakeLast(400)]));
        var belief = new JointEstimator().Estimate(recent);
        var faults = FaultReport.Compute(recent, belief);
        var first = Stopwatch.StartNew();
        CareReport.Compute(new Logbook(rig, log), belief, faults);
        first.Stop();
        var times = new List<double>();
        for (var i = 0; i < Rounds; i++)
        {
            log = log.Append([new ChoreEntry { At = log[^1].At + Duration.FromMinutes(1), Chore = ChoreWords.Traps, Result = ChoreResult.Done }]);
            var clock = Stopwatch.StartNew();
            CareReport.Compute(new Logbook(rig, log), belief, faults);
            times.Add(clock.Elapsed.TotalMilliseconds);
        }
        times.Sort();
        Console.WriteLine($"{log.Count} entries: first {first.Elapsed.TotalMilliseconds:0.0} ms; after one more entry, {Rounds} times: "
            + $"median {times[Rounds / 2]:0.00} ms, slowest {times[^1]:0.00} ms");
        return 0;
    }
}
