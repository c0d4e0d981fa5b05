using BenchmarkDotNet.Running;

namespace Tanksophos.Benchmarks;

// dotnet run -c Release --project bench/Tanksophos.Benchmarks -- startup       start-up beside an empty application
// dotnet run -c Release --project bench/Tanksophos.Benchmarks -- --filter '*'  all benchmarks
internal static class Bench
{
    private static async Task<int> Main(string[] args)
    {
        if (args is ["startup", ..]) return await Startup.MeasureAsync(rounds: 12);
        BenchmarkSwitcher.FromAssembly(typeof(Bench).Assembly).Run(args);
        return 0;
    }
}
