using BenchmarkDotNet.Attributes;
using BenchmarkDotNet.Engines;
using BenchmarkDotNet.Jobs;
using Microsoft.Data.Sqlite;
using NodaTime;
using NodaTime.Testing;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Simulation;
using Tanksophos.Data;
using Tanksophos.Web.Rigs;

namespace Tanksophos.Benchmarks;

/// <summary>The belief over one season of about 250 entries on two tanks: anew, with one more entry, saved and taken up, looked back on.</summary>
[MemoryDiagnoser, SimpleJob(RuntimeMoniker.HostProcess)]
public class BeliefBenchmarks
{
    private readonly JointEstimator estimator = new();
    private Logbook season = null!;
    private LevelBelief belief = null!;
    private IRunningEstimate running = null!;
    private ReadingEntry more = null!;
    private byte[] saved = null!;

    [GlobalSetup]
    public void Setup()
    {
        TankMonitor Lamps() => TankMonitor.WithProbes(new Probe("low", "1/3", 0.33), new Probe("mid", "2/3", 0.66), new Probe("top", "Full", 0.92));
        var rig = new Rig("Any", "trailer", 2,
            [new Tank("black", "Black", TankRole.Black, 150) { Monitor = Lamps(), RoomAboveFullL = 10 },
            new Tank("gray", "Gray", TankRole.Gray, 190) { Monitor = Lamps() }]);
        season = SimulatedSeason.Simulate(new Scenario(11, 62, rig, [new ScenarioFault("black", "low", ProbeState.StuckOn, 20)])).Logbook;
        Console.WriteLine($"// {season.Entries.Count} entries");
        running = estimator.Start(rig);
        foreach (var entry in season.InOrder()) running.Add(entry);
        more = new ReadingEntry { At = season.AsOf!.Value, Tank = "black", Via = ReadingVia.Panel, Lit = ["low"] };
        saved = running.Save();
        belief = running.At(season.AsOf);
    }

    [Benchmark(Baseline = true, Description = "whole season")]
    public LevelBelief Whole() => estimator.Estimate(season);

    [Benchmark(Description = "one more entry, and the belief after it")]
    public LevelBelief OneMore()
    {
        var copy = running.Copy();
        copy.Add(more);
        return copy.At(season.AsOf);
    }

    [Benchmark(Description = "save")]
    public byte[] Save() => running.Save();

    [Benchmark(Description = "take up what was saved, and the belief")]
    public LevelBelief Resume() => estimator.Resume(season.Rig, saved)!.At(season.AsOf);

    [Benchmark(Description = "findings, next checks, ladder")]
    public SensorReport Report() => SensorReport.Compute(season, belief);

    [Benchmark(Description = "looking back on it all")]
    public IReadOnlyList<TankLookBack> LookBack() => LevelSmoother.Compute(season);
}

/// <summary>Ten years of entries: the first answer after a start, from the saved estimate, beside working all of it out.</summary>
[MemoryDiagnoser, SimpleJob(RunStrategy.Monitoring, RuntimeMoniker.HostProcess, launchCount: 1, warmupCount: 1, iterationCount: 5, invocationCount: 1)]
public class RestartBenchmarks
{
    private const int Entries = 100_000;
    private DataFolder folder = null!;
    private TanksophosContext context = null!;
    private RigStore store = null!;
    private StoredRig rig = null!;
    private FakeClock clock = null!;
    private RigCache memory = null!;

    [GlobalSetup]
    public void Setup()
    {
        folder = new DataFolder(Directory.CreateTempSubdirectory("tanksophos-restart").FullName);
        folder.Migrate();
        context = folder.Open();
        var log = LongLog.Of(Entries);
        clock = new FakeClock(log.InOrder()[^1].Instant + Duration.FromHours(1));
        store = new RigStore(context, clock);
        rig = store.Find(store.Add(log.Rig, log.Entries))!;
        var first = new RigCache(new JointEstimator(), clock, folder);
        first.Now(rig, store);
        first.Idle().Wait();
        if (store.Checkpoints.Find(rig.Id) is not { Holds: true }) throw new InvalidOperationException("No estimate was saved.");
    }

    [IterationSetup]
    public void Fresh() => memory = new RigCache(new JointEstimator(), clock, folder);

    [IterationCleanup]
    public void Stop() => memory.Forget(rig.Id);

    [GlobalCleanup]
    public void Clean()
    {
        context.Dispose();
        SqliteConnection.ClearAllPools();
        Directory.Delete(folder.Root, recursive: true);
    }

    [Benchmark(Baseline = true, Description = "first answer, from what was saved")]
    public RigSnapshot First() => memory.Now(rig, store);

    [Benchmark(Description = "all of it worked out")]
    public RigSnapshot All() => new RigCache(new JointEstimator(), clock).Now(rig, store);
}
