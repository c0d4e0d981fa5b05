using System.Diagnostics;

namespace Tanksophos.Benchmarks;

/// <summary>The pages with ten years of entries, request by request in turn with a bare page of the same application.</summary>
internal static class Pages
{
    public static async Task<int> MeasureAsync(int rounds, int entries)
    {
        var watch = Stopwatch.StartNew();
        using var app = new BenchApp(entries);
        Console.WriteLine($"{entries} entries written, signed in: {watch.Elapsed.TotalSeconds:0.0} s");
        var feed = $"rig={app.Rig}";
        (string Name, string Path)[] pages =
        [
            ("bare page", $"/bare?{feed}"), ("Today", $"/?{feed}"), ("Run", $"/run?{feed}"), ("Trip", $"/trip?{feed}"), ("Find", $"/find?{feed}"),
                ("Health", $"/find/health?{feed}"), ("Service sheet", $"/find/sheet?{feed}"), ("Sensors", $"/sensors?{feed}"),
            ("Treatments", $"/treatments?{feed}"), ("Calculator", $"/treatments/enzyme?{feed}&high=95&days=9"), ("Shelf", $"/treatments/shelf?{feed}"),
                ("Logbook, newest", $"/logbook?{feed}"), ("Logbook, oldest", $"/logbook?{feed}&p=1660"), ("Logbook, one tank", $"/logbook?{feed}&tank=black"),
            ("Logbook, a word", $"/logbook?{feed}&text=Lantern"), ("Write", $"/write/flush?{feed}"), ("Rig", $"/rig?{feed}"), ("Rules", $"/rules?{feed}"),
                ("Account", $"/account?{feed}"),
        ];
        foreach (var (name, path) in pages)
        {
            watch.Restart();
            var size = (await app.Client.GetStringAsync(new Uri(path, UriKind.Relative))).Length;
            Console.WriteLine($"first request of {name,-18} {watch.Elapsed.TotalMilliseconds,5:0} ms, {size / 1024} KB");
        }
        // What is worked out in the background after a start has to be done first.
        for (watch.Restart(); (await app.Client.GetStringAsync(new Uri($"/?handler=Progress&rig={app.Rig}", UriKind.Relative)))
            .Contains("0.", StringComparison.Ordinal);) await Task.Delay(200);
        Console.WriteLine($"all entries worked out in the background: {watch.Elapsed.TotalSeconds:0.0} s more");
        var times = pages.ToDictionary(p => p.Name, _ => new List<double>());
        for (var i = -rounds / 10; i < rounds; i++)
        {
            foreach (var (name, path) in pages)
            {
                watch.Restart();
                using var response = await app.Client.GetAsync(new Uri(path, UriKind.Relative));
                response.EnsureSuccessStatusCode();
                await response.Content.ReadAsByteArrayAsync();
                if (i >= 0) times[name].Add(watch.Elapsed.TotalMilliseconds);
            }
        }
        var bare = times["bare page"].Order().ToList();
        foreach (var (name, _) in pages)
        {
            var sorted = times[name].Order().ToList();
            Console.WriteLine($"{name,-20} median {At(sorted, 0.5),7:0.00} ms ({At(sorted, 0.5) / At(bare, 0.5):0.0}x)   p95 {At(sorted, 0.95),7:0.00} ms "
                + $"({At(sorted, 0.95) / At(bare, 0.95):0.0}x)");
        }
        Console.WriteLine($"memory of the process: {app.Memory >> 20} MB");
        return 0;
    }

    private static double At(List<double> sorted, double share) => sorted[(int)Math.Min(sorted.Count - 1, share * sorted.Count)];
}
