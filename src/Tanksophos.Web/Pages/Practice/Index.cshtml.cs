using System.Security.Cryptography;
using Microsoft.AspNetCore.Mvc;
using Tanksophos.Core.Practice;
using Tanksophos.Core.Rigs;
using Tanksophos.Data;
using Tanksophos.Web.Accounts;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;

namespace Tanksophos.Web.Pages;

/// <summary>The practice room: the course, cases by topic, progress, and what can be explored.</summary>
public sealed class PracticeModel(CurrentRequest house, PracticeStore store) : FormPage
{
    /// <summary>Set once after a rig was made: Today then offers the room.</summary>
    public const string Offer = "practice-offer";

    private const int Recent = 10, FewestToJudge = 2;
    private IReadOnlyList<StoredPractice>? cases;
    private IReadOnlyList<StoredDrill>? drills;

    /// <summary>The topics.</summary>
    public static IReadOnlyList<PracticeTopic> Topics { get; } = [PracticeTopic.Lamps, PracticeTopic.Smells, PracticeTopic.Clogs, PracticeTopic.Rinsing,
        PracticeTopic.Planning];

    /// <summary>The person's cases, the newest first.</summary>
    public IReadOnlyList<StoredPractice> Cases => cases ??= store.Of(house.PersonId);

    /// <summary>The newest case that can be gone on with; null for none.</summary>
    public StoredPractice? Open => Cases.FirstOrDefault(c => c.EndedAt is null && c.Maker == PracticeCase.Maker);

    /// <summary>The answered cases of a topic, the newest first.</summary>
    public IReadOnlyList<StoredPractice> Of(PracticeTopic topic) => [.. Cases.Where(c => c.Topic == topic && c.Score is not null)];

    /// <summary>The best try at a case of the course; null for none.</summary>
    public StoredPractice? Best(int course) => Cases.Where(c => c.Course == course && c.Score is not null).MaxBy(c => c.Score);

    /// <summary>The first case of the course that is not solved yet; null at its end.</summary>
    public int? NextOfCourse => Course.Cases.FirstOrDefault(c => Best(c.Number)?.Solved != true)?.Number;

    /// <summary>The topic that went worst lately; null for too little to tell.</summary>
    public PracticeTopic? Weakest => Topics.Select(t => (Topic: t, Last: Of(t).Take(Recent).ToList()))
        .Where(t => t.Last.Count >= FewestToJudge && t.Last.Any(c => c.Solved == false))
        .OrderBy(t => t.Last.Average(c => c.Solved == true ? 1.0 : 0)).Select(t => (PracticeTopic?)t.Topic).FirstOrDefault();

    /// <summary>How many marks the average is of, and how many are drawn at most.</summary>
    public const int Lately = 10, Drawn = 40;

    /// <summary>The last marks, the oldest first.</summary>
    public IReadOnlyList<StoredPractice> Marks => [.. Cases.Where(c => c.Score is not null).Take(Drawn).Reverse()];

    /// <summary>Where a mark stands in the drawing: 100 at the top.</summary>
    public (double X, double Y) MarkAt(int index) => (8 + index * 584.0 / Math.Max(1, Marks.Count - 1), 86 - 0.8 * Marks[index].Score!.Value);

    /// <summary>The line through them.</summary>
    public string MarkLine => "M" + string.Join("L", Marks.Select((_, i) => $"{Drawing.Svg.N(MarkAt(i).X)} {Drawing.Svg.N(MarkAt(i).Y)}"));

    /// <summary>How often what was said to be so sure was right, by how sure.</summary>
    public IReadOnlyList<(double Sure, int Right, int Of)> Calibration => [.. Cases.Where(c => c is { Sure: not null, Right: not null })
        .GroupBy(c => c.Sure!.Value).OrderBy(g => g.Key).Select(g => (g.Key, g.Count(c => c.Right == true), g.Count()))];

    /// <summary>How far off the level was on average, as a share of the tank; null before the first answer.</summary>
    public double? LevelOff => Cases.Where(c => c.LevelError is not null).Take(2 * Recent).Select(c => c.LevelError!.Value) is var off && off.Any()
        ? off.Average() : null;

    public void OnGet()
    {
    }

    /// <summary>The person's practiced dump runs that are over, the newest first.</summary>
    public IReadOnlyList<StoredDrill> Drills => drills ??= store.Drills(house.PersonId);

    /// <summary>The newest run that can be gone on with; null for none.</summary>
    public StoredDrill? OpenDrill => Drills.FirstOrDefault(d => d.EndedAt is null && d.Maker == DumpDrill.Maker);

    /// <summary>Begins a dump run.</summary>
    [Needs(Role.Guest)]
    public IActionResult OnPostRun(string? difficulty)
    {
        if (!int.TryParse(difficulty, System.Globalization.NumberStyles.None, System.Globalization.CultureInfo.InvariantCulture, out var hard)
            || hard is < PracticeCase.Easiest or > PracticeCase.Hardest) return Refuse(PracticeSays.LevelTooDifficult);
        return RedirectToPage("/Practice/Run", new { word = store.StartDrill(house.PersonId, RandomNumberGenerator.GetInt32(1, int.MaxValue), hard).Word });
    }

    /// <summary>Begins a case.</summary>
    [Needs(Role.Guest)]
    public IActionResult OnPostStart(string? topic, string? difficulty, int? course)
    {
        if (course is { } number)
        {
            if (Course.Cases.FirstOrDefault(c => c.Number == number) is not { } of) return Refuse(PracticeSays.TopicUnknown);
            return Begin(of.Seed, of.Topic, of.Difficulty, number);
        }
        if (!Codes<PracticeTopic>.TryParse(topic, out var wanted)) return Refuse(PracticeSays.TopicUnknown);
        if (!int.TryParse(difficulty, System.Globalization.NumberStyles.None, System.Globalization.CultureInfo.InvariantCulture, out var hard)
            || hard is < PracticeCase.Easiest or > PracticeCase.Hardest) return Refuse(PracticeSays.LevelTooDifficult);
        if (wanted == PracticeTopic.Mixed) wanted = Topics[RandomNumberGenerator.GetInt32(Topics.Count)];
        return Begin(RandomNumberGenerator.GetInt32(int.MaxValue), wanted, hard, null);
    }

    private RedirectToPageResult Begin(long seed, PracticeTopic topic, int difficulty, int? course) =>
        RedirectToPage("/Practice/Case", new { word = store.Start(house.PersonId, seed, topic, difficulty, course, null).Word });
}
