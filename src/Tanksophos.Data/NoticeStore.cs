using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Tanksophos.Core.Agendas;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Data;

/// <summary>Where somebody wants to be told something.</summary>
/// <param name="Id">Number.</param>
/// <param name="RigId">The rig.</param>
/// <param name="Wire">By which wire.</param>
/// <param name="Target">Address, topic or mailbox.</param>
/// <param name="Level">The least urgent level that is told.</param>
/// <param name="Quiet">Quiet hours; null for none.</param>
/// <param name="Units">Measures of who set it up: <c>us</c> or <c>metric</c>.</param>
/// <param name="Told">When what was told, by its key.</param>
/// <param name="LastAt">When something was last told; null for never.</param>
/// <param name="Problem">Why the last try failed; null where it did not.</param>
public sealed record StoredNotice(int Id, int RigId, NoticeWire Wire, string Target, AgendaLevel Level, QuietHours? Quiet, string Units,
    IReadOnlyDictionary<string, Instant> Told, Instant? LastAt, string? Problem);

/// <summary>Keeps who wants to be told what, and what they were told.</summary>
/// <param name="context">The database.</param>
public sealed class NoticeStore(TanksophosContext context)
{
    /// <summary>Most of a rig.</summary>
    public const int Most = 10;

    /// <summary>Longest address, topic or mailbox, and longest problem that is kept.</summary>
    public const int LongestTarget = 300;

    /// <summary>Those of a rig.</summary>
    public IReadOnlyList<StoredNotice> Of(int rigId) => [.. context.Notices.AsNoTracking().Where(n => n.RigId == rigId).OrderBy(n => n.Id).AsEnumerable()
        .Select(Read).OfType<StoredNotice>()];

    /// <summary>Numbers of the rigs of which somebody wants to be told something.</summary>
    public IReadOnlyList<int> Rigs() => [.. context.Notices.AsNoTracking().Select(n => n.RigId).Distinct()];

    /// <summary>Adds one.</summary>
    /// <returns>False where the rig has as many as are kept.</returns>
    public bool Add(int rigId, NoticeWire wire, string target, AgendaLevel level, QuietHours? quiet, string units)
    {
        using var transaction = context.Database.BeginTransaction();
        if (context.Notices.Count(n => n.RigId == rigId) >= Most) return false;
        context.Notices.Add(new NoticeRow
        {
            RigId = rigId,
            Wire = Codes<NoticeWire>.Word(wire),
            Target = target,
            Level = Codes<AgendaLevel>.Word(level),
            QuietFrom = quiet is { } q ? q.From.Hour * 60 + q.From.Minute : null,
            QuietTo = quiet is { } r ? r.To.Hour * 60 + r.To.Minute : null,
            Units = units,
            Told = "{}",
        });
        context.SaveChanges();
        transaction.Commit();
        context.ChangeTracker.Clear();
        return true;
    }

    /// <summary>Removes one.</summary>
    public bool Remove(int rigId, int id) => context.Notices.Where(n => n.RigId == rigId && n.Id == id).ExecuteDelete() == 1;

    /// <summary>Keeps what was told.</summary>
    public void Told(int id, IReadOnlyDictionary<string, Instant> told, Instant? at)
    {
        var json = JsonSerializer.Serialize(told.ToDictionary(t => t.Key, t => t.Value.ToUnixTimeSeconds()));
        var rows = context.Notices.Where(n => n.Id == id);
        if (at is { } moment)
            rows.ExecuteUpdate(u => u.SetProperty(n => n.Told, json).SetProperty(n => n.LastAt, moment).SetProperty(n => n.Problem, (string?)null));
        else rows.ExecuteUpdate(u => u.SetProperty(n => n.Told, json));
    }

    /// <summary>Keeps why a try failed.</summary>
    public void Failed(int id, string problem)
    {
        ArgumentNullException.ThrowIfNull(problem);
        var kept = problem.Length > LongestTarget ? problem[..LongestTarget] : problem;
        context.Notices.Where(n => n.Id == id).ExecuteUpdate(u => u.SetProperty(n => n.Problem, kept));
    }

    private static StoredNotice? Read(NoticeRow row)
    {
        if (!Codes<NoticeWire>.TryParse(row.Wire, out var wire) || !Codes<AgendaLevel>.TryParse(row.Level, out var level)) return null;
        static LocalTime At(int minute) => LocalTime.FromMinutesSinceMidnight(Math.Clamp(minute, 0, 1439));
        Dictionary<string, long> told;
        try
        {
            told = JsonSerializer.Deserialize<Dictionary<string, long>>(row.Told) ?? [];
        }
        catch (JsonException)
        {
            told = []; // what cannot be read is told once more
        }
        QuietHours? quiet = row is { QuietFrom: { } from, QuietTo: { } to } ? new QuietHours(At(from), At(to)) : null;
        return new StoredNotice(row.Id, row.RigId, wire, row.Target, level, quiet, row.Units,
            told.ToDictionary(t => t.Key, t => Instant.FromUnixTimeSeconds(t.Value)), row.LastAt, row.Problem);
    }
}
