using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Tanksophos.Core.Practice;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Simulation;

namespace Tanksophos.Data;

/// <summary>A practice case, as far as it was played.</summary>
/// <param name="Word">Its name in addresses.</param>
/// <param name="PersonId">Who plays; 0 for a visitor without an account.</param>
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

/// <summary>A practiced dump run, as far as it was played.</summary>
/// <param name="Word">Its name in addresses.</param>
/// <param name="Seed">Seed of the run; it stays on the server.</param>
/// <param name="Difficulty">1 to 3.</param>
/// <param name="Maker">Version of the drill.</param>
/// <param name="Acts">What was done.</param>
/// <param name="StartedAt">When it was begun.</param>
/// <param name="EndedAt">When it was over; null while it goes on.</param>
/// <param name="Score">Points, 0 to 100; null before the end.</param>
/// <param name="Solved">Whether it was done well; null before the end.</param>
public sealed record StoredDrill(string Word, long Seed, int Difficulty, int Maker, IReadOnlyList<DrillAct> Acts, Instant StartedAt, Instant? EndedAt,
    int? Score, bool? Solved);

/// <summary>What became of somebody's wish to come into a case without an account.</summary>
public enum Visiting
{
    /// <summary>Come in.</summary>
    Done,

    /// <summary>Nobody plays it.</summary>
    NoCase,

    /// <summary>The name is taken.</summary>
    Taken,

    /// <summary>Too many play it.</summary>
    Full,
}

/// <summary>Keeps practice cases and what came of them. Nothing of it touches a log.</summary>
/// <param name="context">The database.</param>
/// <param name="clock">The time.</param>
public sealed class PracticeStore(TanksophosContext context, IClock clock)
{
    // So many of a person's cases are read for what is told of them.
    private const int Reads = 2000;

    // And so many play one together.
    private const int MostTogether = 50;

    // A run is kept among the cases under a topic of its own.
    private const string Drill = "run";

    private sealed record Played(List<string> Acts);

    private sealed record Kept(List<string> Asked, string? Answer, double Share, double Low, double High, double? Sure, bool? Right = null,
        List<string>? Lights = null);

    /// <summary>Begins a case.</summary>
    public StoredPractice Start(int personId, long seed, PracticeTopic topic, int difficulty, int? course, string? group) =>
        Read(Add(personId, null, seed, Codes<PracticeTopic>.Word(topic), difficulty, PracticeCase.Maker, course, group,
            JsonSerializer.Serialize(new Kept([], null, 0, 0, 1, null))))!;

    private PracticeRow Add(int? personId, string? visitor, long seed, string topic, int difficulty, int maker, int? course, string? group, string state)
    {
        var row = new PracticeRow
        {
            PersonId = personId,
            Visitor = visitor,
            Word = Guid.NewGuid().ToString("N")[..16],
            Seed = seed,
            Topic = topic,
            Difficulty = difficulty,
            Maker = maker,
            Course = course,
            Group = group,
            State = state,
            StartedAt = clock.GetCurrentInstant(),
        };
        context.Practice.Add(row);
        context.SaveChanges();
        context.ChangeTracker.Clear();
        return row;
    }

    /// <summary>Lets somebody without an account into a case that is played together.</summary>
    /// <param name="group">Word of those who play it.</param>
    /// <param name="name">Name of who comes in.</param>
    /// <returns>What became of it, and the case; null where nobody came in.</returns>
    public (Visiting Became, StoredPractice? Case) Visit(string group, string name)
    {
        ArgumentNullException.ThrowIfNull(name);
        using var transaction = context.Database.BeginTransaction();
        var all = Together(group);
        if (all is not [var (_, shown), ..]) return (Visiting.NoCase, null);
        if (all.Any(a => string.Equals(a.Who, name, StringComparison.OrdinalIgnoreCase))) return (Visiting.Taken, null);
        if (all.Count >= MostTogether) return (Visiting.Full, null);
        var row = Add(null, name, shown.Seed, Codes<PracticeTopic>.Word(shown.Topic), shown.Difficulty, PracticeCase.Maker, null, group,
            JsonSerializer.Serialize(new Kept([], null, 0, 0, 1, null)));
        transaction.Commit();
        return (Visiting.Done, Read(row));
    }

    /// <summary>Begins a dump run.</summary>
    public StoredDrill StartDrill(int personId, long seed, int difficulty) =>
        ReadDrill(Add(personId, null, seed, Drill, difficulty, DumpDrill.Maker, null, null, JsonSerializer.Serialize(new Played([]))));

    /// <summary>A dump run of a person; null for none.</summary>
    public StoredDrill? FindDrill(int personId, string? word) => word is null ? null
        : context.Practice.AsNoTracking().FirstOrDefault(p => p.Word == word && p.PersonId == personId && p.Topic == Drill) is { } row ? ReadDrill(row) : null;

    /// <summary>All dump runs of a person, the newest first.</summary>
    public IReadOnlyList<StoredDrill> Drills(int personId) => [.. context.Practice.AsNoTracking().Where(p => p.PersonId == personId && p.Topic == Drill)
        .OrderByDescending(p => p.Id).Take(Reads).AsEnumerable().Select(ReadDrill)];

    /// <summary>Does one more thing in a dump run.</summary>
    /// <param name="personId">Who.</param>
    /// <param name="word">The run.</param>
    /// <param name="done">How many things were done when it was pressed: a press from an older page changes nothing.</param>
    /// <param name="act">What is done.</param>
    /// <returns>False where it is not offered, or the page was an older one.</returns>
    public bool Do(int personId, string word, int done, DrillAct act)
    {
        using var transaction = context.Database.BeginTransaction();
        if (context.Practice.FirstOrDefault(p => p.Word == word && p.PersonId == personId && p.Topic == Drill && p.EndedAt == null) is not { } row)
            return false;
        var stored = ReadDrill(row);
        if (stored.Acts.Count != done || !DumpDrill.Play(stored.Seed, stored.Difficulty, stored.Acts).Offered.Contains(act)) return false;
        List<DrillAct> acts = [.. stored.Acts, act];
        var drill = DumpDrill.Play(stored.Seed, stored.Difficulty, acts);
        row.State = JsonSerializer.Serialize(new Played([.. acts.Select(Codes<DrillAct>.Word)]));
        if (drill.Ended)
        {
            var review = DrillReview.Of(drill);
            (row.EndedAt, row.Score, row.Solved) = (clock.GetCurrentInstant(), review.Score, review.Solved);
        }
        context.SaveChanges();
        transaction.Commit();
        context.ChangeTracker.Clear();
        return true;
    }

    private static StoredDrill ReadDrill(PracticeRow row)
    {
        List<string> acts;
        try
        {
            acts = JsonSerializer.Deserialize<Played>(row.State)?.Acts ?? [];
        }
        catch (JsonException)
        {
            acts = []; // what cannot be read is as if nothing had been done yet
        }
        return new StoredDrill(row.Word, row.Seed, Math.Clamp(row.Difficulty, PracticeCase.Easiest, PracticeCase.Hardest), row.Maker,
            [.. acts.Select(a => Codes<DrillAct>.TryParse(a, out var act) ? act : (DrillAct?)null).OfType<DrillAct>()],
            row.StartedAt, row.EndedAt, row.Score, row.Solved);
    }

    /// <summary>A case of a person; null for none.</summary>
    /// <param name="personId">Who; 0 for a visitor.</param>
    /// <param name="word">Its word.</param>
    public StoredPractice? Find(int personId, string? word)
    {
        var whose = Whose(personId);
        return word is null ? null
            : context.Practice.AsNoTracking().FirstOrDefault(p => p.Word == word && p.PersonId == whose) is { } row ? Read(row) : null;
    }

    private static int? Whose(int personId) => personId == 0 ? null : personId;

    /// <summary>All of a person's cases, the newest first.</summary>
    public IReadOnlyList<StoredPractice> Of(int personId) => [.. context.Practice.AsNoTracking().Where(p => p.PersonId == personId)
        .OrderByDescending(p => p.Id).Take(Reads).AsEnumerable().Select(Read).OfType<StoredPractice>()];

    /// <summary>All who play a case together, the first first.</summary>
    public IReadOnlyList<(string Who, StoredPractice Played)> Together(string group) => [.. context.Practice.AsNoTracking().Where(p => p.Group == group)
        .OrderBy(p => p.Id).Take(MostTogether).Select(p => new
        {
            Name = p.Visitor ?? context.Users.Where(u => u.Id == p.PersonId).Select(u => u.UserName).FirstOrDefault(),
            Row = p,
        }).AsEnumerable().Select(x => (x.Name ?? "", Read(x.Row)!)).Where(x => x.Item2 is not null)];

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
                Lights = review.Reply.Lights?.Select(Codes<ProbeState>.Word).ToList(),
            };
        });
    }

    private bool Change(int personId, string word, Func<PracticeRow, Kept, Kept> change)
    {
        var whose = Whose(personId);
        using var transaction = context.Database.BeginTransaction();
        if (context.Practice.FirstOrDefault(p => p.Word == word && p.PersonId == whose && p.EndedAt == null) is not { } row) return false;
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

    private static List<ProbeState>? LightsOf(Kept kept) => kept.Lights is { } said && said.All(l => Codes<ProbeState>.TryParse(l, out _))
        ? [.. said.Select(l => Codes<ProbeState>.TryParse(l, out var state) ? state : default)] : null;

    private static StoredPractice? Read(PracticeRow row)
    {
        if (!Codes<PracticeTopic>.TryParse(row.Topic, out var topic) || row.Difficulty is < PracticeCase.Easiest or > PracticeCase.Hardest) return null;
        var kept = Parse(row.State);
        List<EvidenceCode> asked = [.. kept.Asked.Select(a =>
            Codes<EvidenceCode>.TryParse(a, out var code) ? code : (EvidenceCode?)null).OfType<EvidenceCode>()];
        var reply = row.EndedAt is not null && Codes<CaseAnswer>.TryParse(kept.Answer, out var answer)
            ? new CaseReply(asked, answer, kept.Share, kept.Low, kept.High) { Lights = LightsOf(kept) } : null;
        return new StoredPractice(row.Word, row.PersonId ?? 0, row.Seed, topic, row.Difficulty, row.Maker, row.Course, row.Group, asked, reply, kept.Sure,
            kept.Right,
            row.StartedAt, row.EndedAt, row.Score, row.Solved, row.LevelError);
    }
}
