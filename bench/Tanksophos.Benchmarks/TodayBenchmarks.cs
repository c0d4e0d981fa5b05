using BenchmarkDotNet.Attributes;
using BenchmarkDotNet.Configs;
using BenchmarkDotNet.Jobs;
using BenchmarkDotNet.Toolchains.InProcess.Emit;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Mvc.Testing;
using Microsoft.AspNetCore.TestHost;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;
using NodaTime.Testing;
using Tanksophos.Data;

namespace Tanksophos.Benchmarks;

/// <summary>The page Today over HTTP in process: with the belief at hand, and after an entry has changed it.</summary>
[MemoryDiagnoser, Config(typeof(InProcess))]
public class TodayBenchmarks
{
    private sealed class InProcess : ManualConfig
    {
        // The test host finds the application's files by the calling assembly, so it must run in this process.
        public InProcess() => AddJob(Job.ShortRun.WithToolchain(InProcessEmitToolchain.Instance));
    }

    private WebApplicationFactory<Program> factory = null!;
    private HttpClient client = null!;
    private string folder = null!;
    private string key = null!;
    private bool withdrawn;

    [Params(250, 10_000)]
    public int Entries { get; set; }

    [GlobalSetup]
    public void Setup()
    {
        folder = Directory.CreateTempSubdirectory("tanksophos-bench").FullName;
        factory = new WebApplicationFactory<Program>().WithWebHostBuilder(b => b.UseContentRoot(Path.Combine(Startup.FindRoot(), "src", "Tanksophos.Web")).UseSetting("data", folder)
            .ConfigureTestServices(s => s.AddSingleton<IClock>(new FakeClock(LongLog.Now))));
        using var scope = factory.Services.CreateScope();
        var store = scope.ServiceProvider.GetRequiredService<RigStore>();
        var log = LongLog.Of(Entries);
        store.Add(log.Rig, log.Entries);
        key = store.Page(1, 0, 1).Entries[0].Key;
        client = factory.CreateClient();
    }

    [Benchmark(Baseline = true, Description = "Today, nothing changed")]
    public async Task<int> Unchanged() => (await client.GetStringAsync(new Uri("/", UriKind.Relative))).Length;

    [Benchmark(Description = "Today after a change")]
    public async Task<int> Changed()
    {
        using var scope = factory.Services.CreateScope();
        scope.ServiceProvider.GetRequiredService<RigStore>().Withdraw(1, key, withdrawn = !withdrawn, "bench");
        return (await client.GetStringAsync(new Uri("/", UriKind.Relative))).Length;
    }

    [GlobalCleanup]
    public void Cleanup()
    {
        factory.Dispose();
        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        Directory.Delete(folder, recursive: true);
    }
}
