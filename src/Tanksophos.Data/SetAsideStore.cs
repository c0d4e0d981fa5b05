using System.Text;
using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Dumping;

namespace Tanksophos.Data;

/// <summary>What kind of row cannot be read.</summary>
public enum SetAsideKind
{
    /// <summary>An entry in its newest revision.</summary>
    Entry,

    /// <summary>An earlier revision of an entry.</summary>
    EntryVersion,

    /// <summary>The rig's present description.</summary>
    Rig,

    /// <summary>An earlier description of the rig.</summary>
    RigVersion,

    /// <summary>A trip's present stops.</summary>
    Trip,

    /// <summary>Earlier stops of a trip.</summary>
    TripVersion,

    /// <summary>A dump run.</summary>
    Run,

    /// <summary>A press in a run.</summary>
    Press,
}

/// <summary>A row that cannot be read and is therefore left out of everything else.</summary>
/// <param name="Kind">What it is.</param>
/// <param name="Key">Its key or number.</param>
/// <param name="Revision">Its revision; 0 where there are none.</param>
/// <param name="At">When it is for, or was written.</param>
/// <param name="Who">Who wrote it.</param>
/// <param name="Raw">Its text as it is stored.</param>
/// <param name="Reason">Why it cannot be read: by path, with what is accepted.</param>
public sealed record SetAsideItem(SetAsideKind Kind, string Key, int Revision, Instant At, string Who, string Raw, string Reason)
{
    /// <summary>Whether it can be corrected and withdrawn; earlier versions are only shown and handed out.</summary>
    public bool Counts => Kind is not (SetAsideKind.EntryVersion or SetAsideKind.RigVersion or SetAsideKind.TripVersion);
}

/// <summary>Finds the rows of a rig that cannot be read, and mends them one by one.</summary>
/// <param name="context">The database.</param>
/// <param name="clock">The time.</param>
public sealed class SetAsideStore(TanksophosContext context, IClock clock)
{
    private const string Withdrawn = "withdrawn";

    /// <summary>All rows of a rig that cannot be read, those that count first. Reads the whole log.</summary>
    public IReadOnlyList<SetAsideItem> Of(int rigId) => [.. All(rigId).OrderBy(r => !r.Counts).ThenBy(r => r.Kind).ThenBy(r => r.At)];

    /// <summary>Rigs of which nothing can be read.</summary>
    public bool IsLost(int rigId) => context.Rigs.Any(r => r.Id == rigId) && new RigStore(context, clock).Find(rigId) is null;

    /// <summary>The numbers of all rigs, readable or not.</summary>
    public IReadOnlyList<int> AllRigs() => [.. context.Rigs.Select(r => r.Id).OrderBy(i => i)];

    /// <summary>Puts a corrected text in the place of one that cannot be read, as a new revision where there are revisions.</summary>
    /// <returns>What is wrong with the text; empty if it was taken.</returns>
    public IReadOnlyList<Problem> Correct(int rigId, SetAsideKind kind, string key, string raw, string who)
    {
        ArgumentNullException.ThrowIfNull(raw);
        using var transaction = context.Database.BeginTransaction();
        if (Find(rigId, kind, key) is null) return [Gone];
        var utf8 = Encoding.UTF8.GetBytes(raw);
        IReadOnlyList<Problem> errors = kind switch
        {
            SetAsideKind.Entry => CorrectEntry(rigId, key, utf8, who),
            SetAsideKind.Rig => CorrectRig(rigId, utf8, who),
            SetAsideKind.Trip => CorrectTrip(key, utf8, who),
            SetAsideKind.Run => CorrectRun(key, raw),
            SetAsideKind.Press => CorrectPress(key, raw),
            _ => [new Problem("", "an earlier version is not corrected")],
        };
        if (errors.Count > 0) return errors;
        context.SaveChanges();
        transaction.Commit();
        context.ChangeTracker.Clear();
        return [];
    }

    /// <summary>
    /// Takes a row that cannot be read out of use: an entry out of the log, a trip away, a run over, a press unsaid; a rig's description gives way to the
    /// newest one that can be read. The text itself stays in the database.
    /// </summary>
    /// <returns>False if there is no such row any more, or nothing to give way to.</returns>
    public bool Withdraw(int rigId, SetAsideKind kind, string key, string who)
    {
        using var transaction = context.Database.BeginTransaction();
        if (Find(rigId, kind, key) is null) return false;
        switch (kind)
        {
            case SetAsideKind.Entry:
                var entry = context.Entries.First(e => e.RigId == rigId && e.Key == key && e.IsCurrent);
                Supersede(entry, who, next => next.Withdrawn = true);
                break;
            case SetAsideKind.Rig:
                if (new RigStore(context, clock).Find(rigId) is not { } readable) return false;
                NewDescription(rigId, readable.Rig, who);
                break;
            case SetAsideKind.Trip:
                context.Trips.First(t => t.Id == Number(key)).Removed = true;
                break;
            case SetAsideKind.Run:
                var run = context.Runs.First(r => r.Id == Number(key));
                (run.EndedAt, run.Finished) = (run.EndedAt ?? clock.GetCurrentInstant(), true);
                break;
            case SetAsideKind.Press:
                context.RunTaps.First(t => t.Id == Number(key)).Fate = Withdrawn;
                break;
            default:
                return false;
        }
        context.SaveChanges();
        transaction.Commit();
        context.ChangeTracker.Clear();
        return true;
    }

    private static Problem Gone => new("", "there is no such row any more, or it can be read");

    private static int Number(string key) => int.TryParse(key, System.Globalization.NumberStyles.None, System.Globalization.CultureInfo.InvariantCulture,
        out var n) ? n : -1;

    private static string Key(long number) => number.ToString(System.Globalization.CultureInfo.InvariantCulture);

    private static string? Reason(IReadOnlyList<Problem> errors) => errors.Count == 0 ? null : string.Join("; ", errors.Take(3));

    private IEnumerable<SetAsideItem> All(int rigId) => Entries(rigId).Concat(Rigs(rigId)).Concat(Trips(rigId)).Concat(Runs(rigId));

    private SetAsideItem? Find(int rigId, SetAsideKind kind, string key) => (kind switch
    {
        SetAsideKind.Entry => Entries(rigId),
        SetAsideKind.Rig => Rigs(rigId),
        SetAsideKind.Trip => Trips(rigId),
        SetAsideKind.Run or SetAsideKind.Press => Runs(rigId),
        _ => [],
    }).FirstOrDefault(r => r.Kind == kind && r.Key == key);

    private IEnumerable<SetAsideItem> Entries(int rigId)
    {
        foreach (var e in context.Entries.AsNoTracking().Where(e => e.RigId == rigId && !(e.IsCurrent && e.Withdrawn)).OrderBy(e => e.Id).AsEnumerable())
            if (Reason(EntryCodec.Read(Encoding.UTF8.GetBytes(e.Json), null).Errors) is { } reason)
                yield return new(e.IsCurrent ? SetAsideKind.Entry : SetAsideKind.EntryVersion, e.Key, e.Revision, e.At, e.Who, e.Json, reason);
    }

    private IEnumerable<SetAsideItem> Rigs(int rigId)
    {
        foreach (var r in context.Rigs.AsNoTracking().Where(r => r.Id == rigId).ToList())
            if (Reason(RigCodec.Read(Encoding.UTF8.GetBytes(r.Json)).Errors) is { } reason)
                yield return new(SetAsideKind.Rig, Key(r.Id), r.Revision, r.CreatedAt, "", r.Json, reason);
        foreach (var r in context.RigRevisions.AsNoTracking()
            .Where(r => r.RigId == rigId && context.Rigs.Any(x => x.Id == rigId && x.Revision != r.Revision)).ToList())
            if (Reason(RigCodec.Read(Encoding.UTF8.GetBytes(r.Json)).Errors) is { } reason)
                yield return new(SetAsideKind.RigVersion, Key(r.Revision), r.Revision, r.At, r.Who, r.Json, reason);
    }

    private IEnumerable<SetAsideItem> Trips(int rigId)
    {
        var trips = context.Trips.AsNoTracking().Where(t => t.RigId == rigId && !t.Removed)
            .Join(context.TripRevisions, t => t.Id, r => r.TripId, (t, r) => new { t.Revision, Row = r, t.CreatedAt }).ToList();
        foreach (var t in trips)
            if (Reason(ItineraryFormat.Read(Encoding.UTF8.GetBytes(t.Row.Json)).Errors) is { } reason)
                yield return new(t.Row.Revision == t.Revision ? SetAsideKind.Trip : SetAsideKind.TripVersion, Key(t.Row.TripId), t.Row.Revision, t.Row.At,
                    t.Row.Who, t.Row.Json, reason);
        foreach (var t in context.Trips.AsNoTracking()
            .Where(t => t.RigId == rigId && !t.Removed && !context.TripRevisions.Any(r => r.TripId == t.Id && r.Revision == t.Revision)).ToList())
            yield return new(SetAsideKind.Trip, Key(t.Id), t.Revision, t.CreatedAt, "", "", "the stops of this revision are missing");
    }

    private IEnumerable<SetAsideItem> Runs(int rigId)
    {
        foreach (var run in context.Runs.AsNoTracking().Where(r => r.RigId == rigId && !r.Finished).ToList())
        {
            if (WhyNoScript(run.Script) is { } reason) yield return new(SetAsideKind.Run, Key(run.Id), 0, run.StartedAt, run.Who, run.Script, reason);
            foreach (var tap in context.RunTaps.AsNoTracking().Where(t => t.RunId == run.Id && t.Fate != Withdrawn).OrderBy(t => t.Id).ToList())
                if (RunStore.ReadTap(tap) is null)
                    yield return new(SetAsideKind.Press, Key(tap.Id), 0, tap.At, tap.Who, PressJson(tap),
                        "press: " + (Codes<RunPress>.TryParse(tap.Press, out _) ? "what was said with it is not an object of texts"
                        : $"unknown code '{tap.Press}'"));
        }
    }

    // A press as people can read and mend it: what was pressed, and what was said with it.
    private static string PressJson(RunTapRow tap) => $"{{\"press\":{JsonSerializer.Serialize(tap.Press)},\"said\":{(tap.Said.Length > 0 ? tap.Said : "{}")}}}";

    private static string? WhyNoScript(string script)
    {
        try
        {
            RunCodec.Read(script);
            return null;
        }
        catch (InvalidDataException e)
        {
            return e.Message;
        }
    }

    private IReadOnlyList<Problem> CorrectEntry(int rigId, string key, byte[] utf8, string who)
    {
        var read = EntryCodec.Read(utf8, new RigStore(context, clock).Find(rigId)?.Rig);
        if (read.Value is not { } entry) return read.Errors;
        var row = context.Entries.First(e => e.RigId == rigId && e.Key == key && e.IsCurrent);
        entry = entry with { Id = LogWriter.IdOf(row) };
        Supersede(row, who, next => (next.At, next.OffsetSeconds, next.Type, next.Tank, next.Json) = (entry.Instant, entry.At.Offset.Seconds, entry.Type,
            entry.Tank, EntryKeys.Json(entry)));
        return [];
    }

    private void Supersede(EntryRow row, string who, Action<EntryRow> change)
    {
        row.IsCurrent = false;
        var next = row.Next(who, clock.GetCurrentInstant());
        change(next);
        context.Entries.Add(next);
    }

    private IReadOnlyList<Problem> CorrectRig(int rigId, byte[] utf8, string who)
    {
        var read = RigCodec.Read(utf8);
        if (read.Value is not { } rig) return read.Errors;
        NewDescription(rigId, rig, who);
        return [];
    }

    private void NewDescription(int rigId, Rig rig, string who)
    {
        var row = context.Rigs.First(r => r.Id == rigId);
        if (!context.RigRevisions.Any(r => r.RigId == rigId && r.Revision == row.Revision))
            context.RigRevisions.Add(new RigRevisionRow { RigId = rigId, Revision = row.Revision, Json = row.Json, At = row.CreatedAt, Who = "" });
        (row.Name, row.Json, row.Revision) = (rig.Name, Gate.Rig(rig), row.Revision + 1);
        context.RigRevisions.Add(new RigRevisionRow { RigId = rigId, Revision = row.Revision, Json = row.Json, At = clock.GetCurrentInstant(), Who = who });
    }

    private IReadOnlyList<Problem> CorrectTrip(string key, byte[] utf8, string who)
    {
        var read = ItineraryFormat.Read(utf8);
        if (read.Value is not { } stops) return read.Errors;
        var row = context.Trips.First(t => t.Id == Number(key));
        row.Revision++;
        (row.BeginsAt, row.EndsAt) = (stops.Begins, stops.Ends);
        context.TripRevisions.Add(new TripRevisionRow
        {
            TripId = row.Id,
            Revision = row.Revision,
            Json = Gate.Itinerary(stops),
            At = clock.GetCurrentInstant(),
            Who = who
        });
        return [];
    }

    private Problem[] CorrectRun(string key, string raw)
    {
        if (WhyNoScript(raw) is { } reason) return [new Problem("", reason)];
        context.Runs.First(r => r.Id == Number(key)).Script = raw;
        return [];
    }

    private Problem[] CorrectPress(string key, string raw)
    {
        var row = context.RunTaps.First(t => t.Id == Number(key));
        try
        {
            using var document = JsonDocument.Parse(raw);
            var press = document.RootElement.GetProperty("press").GetString() ?? "";
            var said = document.RootElement.TryGetProperty("said", out var s) ? s.GetRawText() : "{}";
            (row.Press, row.Said) = (press, said);
        }
        catch (Exception e) when (e is JsonException or InvalidOperationException or KeyNotFoundException)
        {
            return [new Problem("press", "an object with press and said is accepted, such as {\"press\":\"open\",\"said\":{}}")];
        }
        return RunStore.ReadTap(row) is null ? [new Problem("press", $"accepted is one of {string.Join(", ", Codes<RunPress>.All)}, and texts in said")] : [];
    }
}
