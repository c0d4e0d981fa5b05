using System.Diagnostics;
using System.Globalization;
using System.Text;
using Tanksophos.Core.Practice;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Benchmarks;

/// <summary>Plays practice cases with the program's own play and with bad habits: accuracy and score by topic.</summary>
internal static class PracticePlay
{
    /// <summary>Seeds of the report, which nobody tuned on, and of tuning.</summary>
    public const long ReportSeeds = 700_000_001, TuningSeeds = 1;

    private static readonly (string Name, Func<PracticeCase, CaseReply> Play)[] Players =
    [
        ("the program", CasePlay.Own), ("asks everything", CasePlay.AsksEverything), ("dumps everything", CasePlay.DumpsEverything),
        ("believes the panel", CasePlay.BelievesThePanel),
    ];

    private static readonly PracticeTopic[] Topics = [PracticeTopic.Lamps, PracticeTopic.Smells, PracticeTopic.Clogs, PracticeTopic.Rinsing,
        PracticeTopic.Planning];

    public static int Measure(int count, long first, string? docs, bool misses)
    {
        CaseMaker.Make(0, PracticeTopic.Lamps, 1);
        var making = new List<double>();
        var cases = new List<PracticeCase>();
        for (var i = 0; i < count; i++)
        {
            var watch = Stopwatch.StartNew();
            cases.Add(CaseMaker.Make(first + i, Topics[i % Topics.Length], 1 + i / Topics.Length % 3));
            making.Add(watch.Elapsed.TotalMilliseconds);
        }
        making.Sort();
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
            $"{count} cases made: median {making[count / 2]:0.0} ms, one of a hundred above {making[count * 99 / 100]:0.0} ms, slowest {making[^1]:0.0} ms"));
        var table = new StringBuilder("| player | topic | solved | in danger | score | level off | range holds | checks | cost | water, gal |\n"
            + "|---|---|---|---|---|---|---|---|---|---|\n");
        foreach (var (name, play) in Players)
        {
            var reviews = cases.AsParallel().AsOrdered().Select(c => CaseReview.Of(c, play(c))).ToList();
            foreach (var group in reviews.GroupBy(r => r.Case.Topic).OrderBy(g => g.Key)) Row(table, name, group.Key.ToString().ToLowerInvariant(), [.. group]);
            Row(table, name, "all", reviews);
            if (!misses || name != Players[0].Name) continue;
            foreach (var miss in reviews.Where(r => !r.Solved))
                Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{miss.Case.Seed} {miss.Case.Topic} {miss.Case.Difficulty}: ")
                    + $"{miss.Case.Truth.Answer}, said {miss.Reply.Answer} after {string.Join(" ", miss.Reply.Asked)} {string.Join(" ", miss.Dangers)} "
                    + string.Join(", ", (miss.Steps.Count > 0 ? miss.Steps[^1].After : miss.Start).Answers
                        .Select(a => string.Create(CultureInfo.InvariantCulture, $"{a.Answer} {a.Chance:0.00}"))));
        }
        Console.Write(table);
        foreach (var group in cases.GroupBy(c => (c.Topic, c.Truth.Answer)).OrderBy(g => g.Key))
            if (misses) Console.WriteLine($"{group.Key}: {group.Count()}");
        if (docs is null) return 0;
        File.WriteAllText(docs, $"""
            # How well practice cases are played

            {count} cases that nobody tuned on (a fifth of each topic, a third of each difficulty), played by the program itself and by three bad habits.
            The program asks for the check that tells most for its cost until it is sure, and judges what was found by the same belief and diagnosis as a real
            log. Made anew with `dotnet run -c Release --project bench/Tanksophos.Benchmarks -- practice docs`.

            "Cost" counts minutes, half a minute for each gallon, two for gloves, six for a mess; a day of waiting counts as half an hour. "Level off" is the
            distance of the level that was said from the true one, as a share of the tank. "Range holds" is how often the true level lies in the range that was
            given. A case is solved with the right answer and nobody in danger: a tank overfilled, a propane alarm ignored, both valves open, a cleanout opened
            under a full tank each fail it.

            {table}
            """.ReplaceLineEndings("\n"));
        return 0;
    }

    private static void Row(StringBuilder table, string name, string topic, List<CaseReview> of) => table.Append(string.Create(CultureInfo.InvariantCulture,
        $"| {name} | {topic} | {100.0 * of.Count(r => r.Solved) / of.Count:0} % | {100.0 * of.Count(r => r.Dangers.Count > 0) / of.Count:0} % "))
        .Append(string.Create(CultureInfo.InvariantCulture,
            $"| {of.Average(r => r.Score):0} | {100 * of.Average(r => r.LevelError):0.0} % | {100.0 * of.Count(r => r.Held) / of.Count:0} % "))
        .Append(string.Create(CultureInfo.InvariantCulture,
            $"| {of.Average(r => r.Steps.Count):0.0} | {of.Average(r => r.Spent):0} | "))
        .Append(string.Create(CultureInfo.InvariantCulture, $"{of.Average(r => r.Steps.Sum(s => s.Result.Evidence.WaterL) / UsMeasures.GallonL):0.0} |\n"));
}
