using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Tanksophos.Core.Practice;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Data;

/// <summary>A practice case, as far as it was played.</summary>
/// <param name="Word">Its name in addresses.</param>
/// <param name="PersonId">Who plays.</param>
/// <param name="Seed">Seed of the case; it stays on the server.</param>
/// <param name="Topic">The topic that was asked for.</param>
/// <param name="Difficulty">1 to 3.</param>
/// <param name="Maker">Version of the maker.</param>
/// <param name="Course">Which case of the course it is; null for none.</param>
/// <param name="Group">Word of those who play it together; null for one alone.</param>
/// <param name="Asked">What was asked for, in order.</param>
/// <param name="Reply">The answer; null before it.</param>
/// <param name="Sure">How sure one said to be, 0..1; null where nothing was said.</param>
/// <param name="Right">Whether the answer was right, safe or not; null before it.</param>
/// <param name="StartedAt">When it was begun.</param>
/// <param name="EndedAt">When it was answered; null while it goes on.</param>
/// <param name="Score">Points, 0 to 100.</param>
/// <param name="Solved">Whether it was solved.</param>
/// <param name="LevelError">How far off the level was, as a share of the tank.</param>
public sealed record StoredPractice(string Word, int PersonId, long Seed, PracticeTopic Topic, int Difficulty, int Maker, int? Course, string? Group,
    IReadOnlyList<EvidenceCode> Asked, CaseReply? Reply, double? Sure, bool? Right,
    Instant StartedAt, Instant? EndedAt, int? Score, bool? Solved, double? LevelError);

/// <summary>Keeps practice cases and what came of them. Nothing of it touches a log.</summary>
/// <param name="context">The database.</param>
/// <param name="clock">The time.</param>
public sealed class PracticeStore(TanksophosContext context, IClock clock)
{
    // So many of a person's cases are read for what is told of them.
    private const int Reads = 2000;

    // And so many play one together.
    private const int MostTogether = 50;

    private sealed record Kept(List<string> Asked, string? Answer, double Share, double Low, double High, double? Sure, bool? Right = null);

    /// <summary>Begins a case.</summary>
    public StoredPractice Start(int personId, long seed, PracticeTopic topic, int difficulty, int? course, string? group)
    {
        var row = new PracticeRow
        {
            PersonId = personId,
            Word = Guid.NewGuid().ToString("N")[..16],
            Seed = seed,
            Topic = Codes<PracticeTopic>.Word(topic),
            Difficulty = difficulty,
            Maker = PracticeCase.Maker,
            Course = course,
            Group = group,
            State = JsonSerializer.Serialize(new Kept([], null, 0, 0, 1, null)),
            StartedAt = clock.GetCurrentInstant(),
        };
        context.Practice.Add(row);
        context.SaveChanges();
        context.ChangeTracker.Clear();
        return Read(row)!;
    }

    /// <summary>A case of a person; null for none.</summary>
    public StoredPractice? Find(int personId, string? word) => word is null ? null
        : context.Practice.AsNoTracking().FirstOrDefault(p => p.Word == word && p.PersonId == personId) is { } row ? Read(row) : null;

    /// <summary>All of a person's cases, the newest first.</summary>
    public IReadOnlyList<StoredPractice> Of(int personId) => [.. context.Practice.AsNoTracking().Where(p => p.PersonId == personId)
        .OrderByDescending(p => p.Id).Take(Reads).AsEnumerable().Select(Read).OfType<StoredPractice>()];

    /// <summary>All who play a case together, the first first.</summary>
    public IReadOnlyList<(string Who, StoredPractice Played)> Together(string group) => [.. context.Practice.AsNoTracking().Where(p => p.Group == group)
        .OrderBy(p => p.Id).Take(MostTogether).Join(context.Users, p => p.PersonId, u => u.Id, (p, u) => new { u.UserName, Row = p }).AsEnumerable()
        .Select(x => (x.UserName ?? "", Read(x.Row)!)).Where(x => x.Item2 is not null)];

    /// <summary>A person's own copy of a case that is played together; null for none.</summary>
    public StoredPractice? Mine(int personId, string group) => context.Practice.AsNoTracking().Where(p => p.PersonId == personId && p.Group == group)
        .OrderByDescending(p => p.Id).FirstOrDefault() is { } row ? Read(row) : null;

    /// <summary>Lets others play a case too.</summary>
    /// <returns>The word by which they come in; null if there is no such case.</returns>
    public string? Share(int personId, string word)
    {
        if (context.Practice.FirstOrDefault(p => p.Word == word && p.PersonId == personId) is not { } row) return null;
        row.Group ??= Guid.NewGuid().ToString("N")[..10];
        context.SaveChanges();
        context.ChangeTracker.Clear();
        return row.Group;
    }

    /// <summary>Asks for one more thing.</summary>
    /// <returns>False if the case is answered already, or there is none.</returns>
    public bool Ask(int personId, string word, EvidenceCode code) => Change(personId, word, (_, kept) =>
    {
        var name = Codes<EvidenceCode>.Word(code);
        if (!kept.Asked.Contains(name)) kept.Asked.Add(name);
        return kept;
    });

    /// <summary>Answers a case. A second answer changes nothing.</summary>
    /// <param name="personId">Who.</param>
    /// <param name="word">The case.</param>
    /// <param name="review">The review of the answer.</param>
    /// <param name="sure">How sure one is, 0..1.</param>
    public bool End(int personId, string word, CaseReview review, double? sure)
    {
        ArgumentNullException.ThrowIfNull(review);
        return Change(personId, word, (row, kept) =>
        {
            row.EndedAt = clock.GetCurrentInstant();
            (row.Score, row.Solved, row.LevelError) = (review.Score, review.Solved, review.LevelError);
            return kept with
            {
                Answer = Codes<CaseAnswer>.Word(review.Reply.Answer),
                Share = review.Reply.Share,
                Low = review.Reply.Low,
                High = review.Reply.High,
                Sure = sure,
                Right = review.Reply.Answer == review.Case.Truth.Answer,
            };
        });
    }

    private bool Change(int personId, string word, Func<PracticeRow, Kept, Kept> change)
    {
        using var transaction = context.Database.BeginTransaction();
        if (context.Practice.FirstOrDefault(p => p.Word == word && p.PersonId == personId && p.EndedAt == null) is not { } row) return false;
        row.State = JsonSerializer.Serialize(change(row, Parse(row.State)));
        context.SaveChanges();
        transaction.Commit();
        context.ChangeTracker.Clear();
        return true;
    }

    // What cannot be read is as if nothing had been asked yet.
    private static Kept Parse(string json)
    {
        try
        {
            return JsonSerializer.Deserialize<Kept>(json) is { Asked: not null } kept ? kept : new Kept([], null, 0, 0, 1, null);
        }
        catch (JsonException)
        {
            return new Kept([], null, 0, 0, 1, null);
        }
    }

    private static StoredPractice? Read(PracticeRow row)
    {
        if (!Codes<PracticeTopic>.TryParse(row.Topic, out var topic) || row.Difficulty is < PracticeCase.Easiest or > PracticeCase.Hardest) return null;
        var kept = Parse(row.State);
        List<EvidenceCode> asked = [.. kept.Asked.Select(a =>
            Codes<EvidenceCode>.TryParse(a, out var code) ? code : (EvidenceCode?)null).OfType<EvidenceCode>()];
        var reply = row.EndedAt is not null && Codes<CaseAnswer>.TryParse(kept.Answer, out var answer)
            ? new CaseReply(asked, answer, kept.Share, kept.Low, kept.High) : null;
        return new StoredPractice(row.Word, row.PersonId, row.Seed, topic, row.Difficulty, row.Maker, row.Course, row.Group, asked, reply, kept.Sure,
            kept.Right,
            row.StartedAt, row.EndedAt, row.Score, row.Solved, row.LevelError);
    }
}
