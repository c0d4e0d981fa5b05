using BenchmarkDotNet.Running;

namespace Tanksophos.Benchmarks;

// dotnet run -c Release --project bench/Tanksophos.Benchmarks -- startup       start-up beside an empty application
// dotnet run -c Release --project bench/Tanksophos.Benchmarks -- pages [N] [ROUNDS]  the pages with N entries (100000: ten years) beside a bare page
// dotnet run -c Release --project bench/Tanksophos.Benchmarks -- households    two hundred rigs and fifty people at once on one server
// dotnet run -c Release --project bench/Tanksophos.Benchmarks -- fuzz [MINUTES] [SEED]  hostile documents, forms, files, presses and API requests
// dotnet run -c Release --project bench/Tanksophos.Benchmarks -- imports       importing ten years of entries beside raw inserts
// dotnet run -c Release --project bench/Tanksophos.Benchmarks -- seasons how well levels and faulty probes are known over simulated seasons; with "docs" into
// docs/belief.md; "untidy [N] [tuning]" for logs as people keep them alone
// dotnet run -c Release --project bench/Tanksophos.Benchmarks -- trips plans lived through by a thousand households each, beside two habits; with "docs" into
// docs/trips.md
// dotnet run -c Release --project bench/Tanksophos.Benchmarks -- causes how often conditions and smells are named rightly over practice cases; with "docs" into
// docs/causes.md
// dotnet run -c Release --project bench/Tanksophos.Benchmarks -- care [N]      the chores of the year over N entries (100000: ten years)
// dotnet run -c Release --project bench/Tanksophos.Benchmarks -- practice practice cases played by the program and by bad habits; with "docs" into
// docs/practice.md; "tuning" lists what was missed
// dotnet run -c Release --project bench/Tanksophos.Benchmarks -- plans         plans of sixty stops, trip by trip
// dotnet run -c Release --project bench/Tanksophos.Benchmarks -- devices [SECONDS]  20 devices at a message a second, then 2,000 a second; after ./test.sh
// dotnet run -c Release --project bench/Tanksophos.Benchmarks -- decade [YEARS]  ten years of three rigs over HTTP, with crashes; after ./test.sh
// dotnet run -c Release --project bench/Tanksophos.Benchmarks -- agenda        the agenda of simulated seasons, after the belief
// dotnet run -c Release --project bench/Tanksophos.Benchmarks -- mutants [N] [SEED] [FOLDER]  N one-place changes of the core: which does no test notice?
// dotnet run -c Release --project bench/Tanksophos.Benchmarks -- --filter '*'  all benchmarks
internal static class Bench
{
    private static async Task<int> Main(string[] args)
    {
        if (args is ["startup", ..]) return await Startup.MeasureAsync(rounds: 12);
        if (args is ["pages", .. var many])
            return await Pages.MeasureAsync(rounds: many is [_, var r] && int.TryParse(r, out var times) && times is >= 10 and <= 1000 ? times : 100,
            many is [var n, ..] && int.TryParse(n, out var entries) && entries is >= 100 and <= 1_000_000 ? entries : 100_000);
        if (args is ["households", ..]) return await Households.MeasureAsync(rigs: 200, people: 50, seconds: 30);
        if (args is ["fuzz", .. var how])
            return await Fuzz.RunAsync(how is [var m, ..] && double.TryParse(m, System.Globalization.CultureInfo.InvariantCulture, out var minutes) ? minutes
            : 1, how is [_, var s] && ulong.TryParse(s, out var seed) ? seed : (ulong)Environment.TickCount64);
        if (args is ["imports", ..]) return Imports.Measure(rounds: 5);
        if (args is ["seasons", "untidy", .. var untidy])
        {
            Console.Write(Seasons.Untidy(untidy is [var u, ..] && int.TryParse(u, out var some) && some is > 0 and <= 10_000 ? some : 120,
                untidy is [_, "tuning"] ? Seasons.TuningSeeds : Seasons.ReportSeeds));
            return 0;
        }
        if (args is ["seasons", ..])
            return Seasons.Measure(args is [_, _, var many2] && int.TryParse(many2, out var m2) && m2 is > 0 and <= 10_000 ? m2 : 200,
                args is [_, "tuning", ..] ? Seasons.TuningSeeds : Seasons.ReportSeeds, args is [_, "docs"] ? Path.Combine("docs", "belief.md") : null);
        if (args is ["trips", ..]) return TripLives.Measure(200, args is [_, "docs"] ? Path.Combine("docs", "trips.md") : null);
        if (args is ["causes", .. var which])
            return Causes.Measure(330, which is ["tuning"] ? 5_000_001 : 900_000_001, which is ["docs"] ? Path.Combine("docs", "causes.md") : null);
        if (args is ["care", .. var long1]) return CareLoad.Measure(long1 is [var l, ..] && int.TryParse(l, out var length) && length is >= 100 and <= 1_000_000
            ? length : 100_000);
        if (args is ["practice", .. var played])
            return PracticePlay.Measure(played is [_, var c1, ..] && int.TryParse(c1, out var n1) && n1 is > 0 and <= 100_000 ? n1 : 600,
                played is ["tuning", ..] ? PracticePlay.TuningSeeds : PracticePlay.ReportSeeds, played is ["docs", ..] ? Path.Combine("docs", "practice.md")
                : null, played is ["tuning", ..]);
        if (args is ["devices", .. var speaking])
            return await DeviceLoad.MeasureAsync(Path.Combine("artifacts", "test-web"), speaking is [var s2, ..] && int.TryParse(s2, out var secs)
                && secs is >= 5 and <= 3600 ? secs : 600);
        if (args is ["decade", .. var long2])
            return await Decade.MeasureAsync(Path.Combine("artifacts", "test-web"), Path.Combine("tests", "Tanksophos.Web.Tests", "Data", "backups"),
                long2 is [var d, ..] && int.TryParse(d, out var years) && years is >= 1 and <= 10 ? years : 10);
        if (args is ["plans", ..]) return PlanLoad.Measure();
        if (args is ["agenda", ..]) return Agendas.Measure(60);
        if (args is ["mutants", .. var mutants])
        {
            var count = mutants is [var many1, ..] && int.TryParse(many1, out var m1) && m1 is >= 1 and <= 2000 ? m1 : 200;
            var from = mutants is [_, var seed1, ..] && int.TryParse(seed1, out var s1) ? s1 : 1;
            return await Mutants.RunAsync(count, from, mutants is [_, _, var folder] ? folder : null);
        }
        BenchmarkSwitcher.FromAssembly(typeof(Bench).Assembly).Run(args);
        return 0;
    }
}
