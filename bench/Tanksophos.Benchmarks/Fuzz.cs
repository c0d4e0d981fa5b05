using System.Diagnostics;
using Tanksophos.Hostile;

namespace Tanksophos.Benchmarks;

/// <summary>Hostile inputs for some minutes, half of them to the readers and the command line, half to a running program: forms, files, presses, API.</summary>
internal static class Fuzz
{
    private const int Round = 2000, WebRound = 200;

    public static async Task<int> RunAsync(double minutes, ulong seed)
    {
        using var app = new BenchApp(400);
        var token = await app.TokenAsync();
        await app.PostAsync("/run", "/run?handler=Start", ("form", "full"));
        var readers = Readers.All();
        var broken = new List<string>();
        var (documents, requests) = (0, 0);
        for (var watch = Stopwatch.StartNew(); watch.Elapsed.TotalMinutes < minutes; documents += Round)
        {
            var read = Task.Run(() => Readers.Fuzz(documents, Round, seed, readers));
            var fuzz = new WebFuzz(app.Client, token, seed * 7919 + (ulong)documents);
            while (!read.IsCompleted) await fuzz.RunAsync(WebRound);
            requests += fuzz.Requests;
            broken.AddRange(await read);
            broken.AddRange(fuzz.Broken);
            if (broken.Count > 50) break;
        }
        foreach (var line in broken.Take(50)) Console.WriteLine(line);
        Console.WriteLine($"{documents} documents to {readers.Count} readers, {requests} requests to a running program: {broken.Count} broken");
        return broken.Count == 0 ? 0 : 1;
    }
}
