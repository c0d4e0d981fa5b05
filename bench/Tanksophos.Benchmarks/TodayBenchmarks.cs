using BenchmarkDotNet.Attributes;
using BenchmarkDotNet.Configs;
using BenchmarkDotNet.Jobs;
using BenchmarkDotNet.Toolchains.InProcess.Emit;

namespace Tanksophos.Benchmarks;

/// <summary>The page Today over HTTP: with the belief at hand, and after an entry has changed it.</summary>
[MemoryDiagnoser, Config(typeof(InProcess))]
public class TodayBenchmarks
{
    private sealed class InProcess : ManualConfig
    {
        // The test host finds the application's files by the calling assembly, so it must run in this process.
        public InProcess() => AddJob(Job.ShortRun.WithToolchain(InProcessEmitToolchain.Instance));
    }

    private BenchApp app = null!;
    private string key = null!;
    private bool withdrawn;

    [Params(250, 10_000)]
    public int Entries { get; set; }

    [GlobalSetup]
    public void Setup()
    {
        app = new BenchApp(Entries);
        key = app.With(s => s.Log.Page(app.Rig, 0, 1)).Entries[0].Key;
    }

    private async Task<int> TodayAsync() => (await app.Client.GetStringAsync(new Uri($"/?rig={app.Rig}", UriKind.Relative))).Length;

    [Benchmark(Baseline = true, Description = "Today, nothing changed")]
    public Task<int> Unchanged() => TodayAsync();

    [Benchmark(Description = "Today after a change")]
    public Task<int> Changed()
    {
        app.With(s => s.Writer.Withdraw(app.Rig, key, withdrawn = !withdrawn, "bench"));
        return TodayAsync();
    }

    [GlobalCleanup]
    public void Cleanup() => app.Dispose();
}
