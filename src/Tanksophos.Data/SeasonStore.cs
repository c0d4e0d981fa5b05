using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Tanksophos.Core.Care;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Data;

/// <summary>Closing or opening the season, as far as it has come.</summary>
/// <param name="Id">Number.</param>
/// <param name="Word">The start of the ids of its entries.</param>
/// <param name="Asked">What was said before the first step.</param>
/// <param name="Done">When each step was done, by its id.</param>
/// <param name="Skipped">Steps that were left out.</param>
/// <param name="StartedAt">When it was begun.</param>
/// <param name="Who">Who began it.</param>
public sealed record StoredSeason(int Id, string Word, SeasonAsked Asked, IReadOnlyDictionary<string, Instant> Done, IReadOnlySet<string> Skipped,
    Instant StartedAt,
    string Who);

/// <summary>Keeps a season's guide while it goes on, so that it can be gone on with days later and from another phone.</summary>
/// <param name="context">The database.</param>
/// <param name="clock">The time.</param>
public sealed class SeasonStore(TanksophosContext context, IClock clock)
{
    private sealed record Kept(string End, bool Frost, bool Sewer, int Months, Dictionary<string, long> Done, HashSet<string> Skipped);

    /// <summary>The one under way; null for none.</summary>
    public StoredSeason? Active(int rigId) =>
        context.Seasons.AsNoTracking().Where(s => s.RigId == rigId && s.EndedAt == null).OrderByDescending(s => s.Id).AsEnumerable().Select(Read)
            .FirstOrDefault(s => s is not null);

    /// <summary>Begins one; if one is under way, that one is it.</summary>
    public StoredSeason Start(int rigId, SeasonAsked asked, string who)
    {
        ArgumentNullException.ThrowIfNull(asked);
        using var transaction = context.Database.BeginTransaction();
        if (Active(rigId) is { } active) return active;
        var row = new SeasonRow
        {
            RigId = rigId,
            Word = "season-" + Guid.NewGuid().ToString("N")[..12],
            State = Write(new Kept(Codes<ChoreSeason>.Word(asked.End), asked.Frost, asked.Sewer, asked.Months, [], [])),
            StartedAt = clock.GetCurrentInstant(),
            Who = who
        };
        context.Seasons.Add(row);
        context.SaveChanges();
        transaction.Commit();
        context.ChangeTracker.Clear();
        return Read(row)!;
    }

    /// <summary>Marks a step as done, left out, or not yet done.</summary>
    /// <param name="rigId">The rig.</param>
    /// <param name="step">The step's id.</param>
    /// <param name="done">True for done, false for left out, null for not yet.</param>
    /// <returns>Null if nothing is under way.</returns>
    public StoredSeason? Mark(int rigId, string step, bool? done) => Change(rigId, kept =>
    {
        kept.Done.Remove(step);
        kept.Skipped.Remove(step);
        if (done == true) kept.Done[step] = clock.GetCurrentInstant().ToUnixTimeSeconds();
        else if (done == false) kept.Skipped.Add(step);
        return kept;
    });

    /// <summary>Changes what was said before the first step; what was done stays.</summary>
    public StoredSeason? Ask(int rigId, SeasonAsked asked)
    {
        ArgumentNullException.ThrowIfNull(asked);
        return Change(rigId, kept => kept with { Frost = asked.Frost, Sewer = asked.Sewer, Months = asked.Months });
    }

    /// <summary>Ends the one under way.</summary>
    public void End(int rigId)
    {
        foreach (var row in context.Seasons.Where(s => s.RigId == rigId && s.EndedAt == null).ToList()) row.EndedAt = clock.GetCurrentInstant();
        context.SaveChanges();
        context.ChangeTracker.Clear();
    }

    private StoredSeason? Change(int rigId, Func<Kept, Kept> change)
    {
        using var transaction = context.Database.BeginTransaction();
        if (context.Seasons.Where(s => s.RigId == rigId && s.EndedAt == null).OrderByDescending(s => s.Id).AsEnumerable()
            .FirstOrDefault(s => Parse(s.State) is not null) is not { } row) return null;
        row.State = Write(change(Parse(row.State)!));
        context.SaveChanges();
        transaction.Commit();
        var read = Read(row);
        context.ChangeTracker.Clear();
        return read;
    }

    private static string Write(Kept kept) => JsonSerializer.Serialize(kept);

    // What cannot be read is as if it had never been begun: nothing of it is in the log yet.
    private static Kept? Parse(string json)
    {
        try
        {
            return JsonSerializer.Deserialize<Kept>(json) is { End: not null, Done: not null, Skipped: not null } kept ? kept : null;
        }
        catch (JsonException)
        {
            return null;
        }
    }

    private static StoredSeason? Read(SeasonRow row) => Parse(row.State) is { } kept && Codes<ChoreSeason>.TryParse(kept.End, out var end)
        ? new StoredSeason(row.Id, row.Word, new SeasonAsked(end, kept.Frost, kept.Sewer, Math.Clamp(kept.Months, 0, 60)),
            kept.Done.ToDictionary(d => d.Key, d => Instant.FromUnixTimeSeconds(Math.Clamp(d.Value, 0, 32_000_000_000))), kept.Skipped, row.StartedAt,
                row.Who) : null;
}
