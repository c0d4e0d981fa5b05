using Microsoft.EntityFrameworkCore;
using NodaTime;
using Tanksophos.Core.Dumping;
using Tanksophos.Core.Formats;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Data;

/// <summary>A run as it is kept.</summary>
/// <param name="Id">Number.</param>
/// <param name="RigId">The rig.</param>
/// <param name="Key">By which its entries know it.</param>
/// <param name="State">Where it stands.</param>
/// <param name="Place">Name of the place; empty if none is known.</param>
/// <param name="Zone">Local time there.</param>
/// <param name="StartedAt">When it was begun.</param>
/// <param name="Who">Who began it.</param>
/// <param name="Version">Grows with every press.</param>
public sealed record StoredRun(int Id, int RigId, string Key, RunState State, string Place, DateTimeZone Zone, Instant StartedAt, string Who, long Version);

/// <summary>What became of presses that were sent.</summary>
/// <param name="Run">The run afterwards.</param>
/// <param name="Fates">By key.</param>
/// <param name="Wrote">Whether entries were written into the log.</param>
/// <param name="Ahead">Who had pressed last before these; null if nobody had, or the same person did.</param>
public sealed record TapAnswer(StoredRun Run, IReadOnlyDictionary<string, TapFate> Fates, bool Wrote, string? Ahead);

/// <summary>The check of the hose run at a place, as it was last done.</summary>
/// <param name="Place">The place's name, as it was typed.</param>
/// <param name="Who">Who did it.</param>
/// <param name="InOrder">What was found in order, by its word, separated by spaces.</param>
public sealed record PlaceSetUp(string Place, string Who, string InOrder)
{
    /// <summary>When; told by the store.</summary>
    public Instant At { get; init; }

    /// <summary>Height of the rig's outlet above the ground, in metres.</summary>
    public double? OutletM { get; init; }

    /// <summary>Height of the sewer inlet above the ground, in metres; below it is negative.</summary>
    public double? SewerM { get; init; }

    /// <summary>Length of the hose there, in metres.</summary>
    public double? HoseM { get; init; }
}

/// <summary>
/// Keeps dump runs: their steps as they were built and what was pressed. Presses and the entries that follow from them are written in one go.
/// </summary>
/// <param name="context">The database.</param>
/// <param name="rigs">The rigs, for their logs.</param>
/// <param name="clock">The time.</param>
public sealed class RunStore(TanksophosContext context, RigStore rigs, IClock clock)
{
    /// <summary>Most presses of one run.</summary>
    public const int MaxTaps = 2000;

    /// <summary>A run that nobody touched for so long is no longer offered as the one under way.</summary>
    public static readonly Duration GoesStale = Duration.FromHours(18);

    /// <summary>The run under way on a rig; null for none.</summary>
    public StoredRun? Active(int rigId)
    {
        var since = clock.GetCurrentInstant() - GoesStale;
        return context.Runs.AsNoTracking().Where(r => r.RigId == rigId && r.EndedAt == null && r.StartedAt > since).OrderByDescending(r => r.StartedAt).ToList()
            .Select(Read).FirstOrDefault(r => r is not null);
    }

    /// <summary>Whether a run went on at a moment, or had ended just before: what ran into a tank then, the run has written down itself.</summary>
    /// <param name="rigId">The rig.</param>
    /// <param name="at">The moment.</param>
    /// <param name="slack">How long before it may have ended.</param>
    public bool Covers(int rigId, Instant at, Duration slack)
    {
        var (since, ended) = (at - GoesStale, at - slack);
        return context.Runs.Any(r => r.RigId == rigId && r.StartedAt <= at && (r.EndedAt == null ? r.StartedAt > since : r.EndedAt >= ended));
    }

    /// <summary>A run of a rig; null if the rig has none of that number, or it cannot be read.</summary>
    public StoredRun? Find(int rigId, int id) => context.Runs.AsNoTracking().FirstOrDefault(r => r.RigId == rigId && r.Id == id) is { } row ? Read(row) : null;

    /// <summary>The last run that was broken off within a time; null for none.</summary>
    public StoredRun? BrokenOff(int rigId, Duration within)
    {
        var since = clock.GetCurrentInstant() - within;
        return context.Runs.AsNoTracking().Where(r => r.RigId == rigId).OrderByDescending(r => r.StartedAt)
            .FirstOrDefault() is { Finished: false, EndedAt: { } ended } row && ended > since ? Read(row) : null;
    }

    // Runs that tell the pace; older ones were another crew.
    private const int PaceRuns = 24;

    /// <summary>The last runs that were finished, the newest last; one that cannot be read is left out.</summary>
    /// <param name="rigId">The rig.</param>
    /// <param name="before">A run: only earlier ones; null for all.</param>
    public IReadOnlyList<RunTime> Finished(int rigId, int? before = null) =>
        [.. context.Runs.AsNoTracking().Where(r => r.RigId == rigId && r.Finished && (before == null || r.Id < before))
        .OrderByDescending(r => r.StartedAt).Take(PaceRuns).AsEnumerable().Reverse()
        .Select(r => (Row: r, Script: ReadScript(r.Script))).Where(x => x is { Script: not null, Row.EndedAt: not null })
        .Select(x => new RunTime(x.Script!.Form, x.Script.PlannedMinutes, (x.Row.EndedAt!.Value - x.Row.StartedAt).TotalMinutes))];

    /// <summary>The presses of a run, in order; one that cannot be read is left out.</summary>
    public IReadOnlyList<RunEvent> Taps(int id) => [.. context.RunTaps.AsNoTracking().Where(t => t.RunId == id).OrderBy(t => t.Id).AsEnumerable()
        .Select(ReadTap).OfType<RunEvent>()];

    /// <summary>A number for the state of a run: it changes with every press.</summary>
    public long Version(int id) => context.RunTaps.Where(t => t.RunId == id).Max(t => (long?)t.Id) ?? 0;

    /// <summary>Begins a run; if one is under way, that one is it.</summary>
    public StoredRun Start(int rigId, RunScript script, string? place, DateTimeZone zone, string who)
    {
        ArgumentNullException.ThrowIfNull(zone);
        using var transaction = context.Database.BeginTransaction();
        if (Active(rigId) is { } active) return active;
        var row = new RunRow
        {
            RigId = rigId,
            Word = "run-" + Guid.NewGuid().ToString("N")[..16],
            Script = Gate.Script(script),
            Place = place ?? "",
            Zone = zone.Id,
            StartedAt = clock.GetCurrentInstant(),
            Who = who
        };
        context.Runs.Add(row);
        context.SaveChanges();
        transaction.Commit();
        context.ChangeTracker.Clear();
        return Read(row)!;
    }

    /// <summary>
    /// Takes presses in, in their order. One that is already there is not counted again. When the run ends, what was done is written into the log in the same
    /// go.
    /// </summary>
    /// <returns>Null if the rig has no such run, it cannot be read, or it has as many presses as it may.</returns>
    /// <exception cref="NotStorableException">A press or an entry could not be read again; nothing was written.</exception>
    public TapAnswer? Tap(int rigId, int id, IReadOnlyList<RunEvent> taps, string who)
    {
        ArgumentNullException.ThrowIfNull(taps);
        using var transaction = context.Database.BeginTransaction();
        if (context.Runs.FirstOrDefault(r => r.RigId == rigId && r.Id == id) is not { } row) return null;
        var known = context.RunTaps.AsNoTracking().Where(t => t.RunId == id).OrderBy(t => t.Id).ToList();
        if (known.Count + taps.Count > MaxTaps) return null;
        var now = clock.GetCurrentInstant();
        if (ReadScript(row.Script) is not { } script) return null;
        var state = RunState.Replay(script, known.Select(ReadTap).OfType<RunEvent>());
        var fates = new Dictionary<string, TapFate>(StringComparer.Ordinal);
        var before = known.ToDictionary(t => t.Key, t => t.Fate, StringComparer.Ordinal);
        var wrote = false;
        foreach (var tap in taps)
        {
            if (before.TryGetValue(tap.Key, out var fate) && Codes<TapFate>.TryParse(fate, out var was))
            {
                fates[tap.Key] = was;
                continue;
            }
            if (fates.ContainsKey(tap.Key)) continue;
            Gate.Tap(tap);
            // A press is not later than its arrival, and not earlier than the run.
            var at = Instant.Max(row.StartedAt, Instant.Min(now, tap.At));
            var taken = tap with { At = at };
            fates[tap.Key] = state.Apply(taken);
            context.RunTaps.Add(new RunTapRow
            {
                RunId = id,
                Key = tap.Key,
                At = at,
                Step = tap.Step,
                Round = tap.Round,
                Press = Codes<RunPress>.Word(tap.Press),
                Said = RunCodec.WriteSaid(tap.Said),
                Who = who,
                ReceivedAt = now,
                Fate = Codes<TapFate>.Word(fates[tap.Key])
            });
            if (fates[tap.Key] == TapFate.Used && (tap.Press is RunPress.Finish or RunPress.BreakOff or RunPress.Resume))
            {
                (row.EndedAt, row.Finished) = (state.EndedAt, state.Finished);
                if (state.EndedAt is not null) wrote = true;
            }
        }
        context.SaveChanges();
        if (wrote && state.EndedAt is not null) rigs.Writer.Put(rigId, RunEntries.Build(row.Word, state, ZoneOf(row), rigs.Find(rigId)?.Rig), who, row.Word);
        transaction.Commit();
        context.ChangeTracker.Clear();
        var ahead = known.LastOrDefault(t => t.Fate == Codes<TapFate>.Word(TapFate.Used))?.Who;
        return new TapAnswer(Read(row)!, fates, wrote, ahead == who ? null : ahead);
    }

    /// <summary>The check of the hose run at a place; null if none was done there.</summary>
    public PlaceSetUp? SetUp(int rigId, string? place)
    {
        if (string.IsNullOrWhiteSpace(place)) return null;
        return Read(context.PlaceSetUps.AsNoTracking().FirstOrDefault(p => p.RigId == rigId && p.Place == place.Trim()));
    }

    /// <summary>The newest check of the hose run at any place: what belongs to the rig is as it was then; null if none was ever done.</summary>
    public PlaceSetUp? LastSetUp(int rigId) =>
        Read(context.PlaceSetUps.AsNoTracking().Where(p => p.RigId == rigId).OrderByDescending(p => p.At).FirstOrDefault());

    private static PlaceSetUp? Read(PlaceSetUpRow? row) => row is null ? null
        : new PlaceSetUp(row.Place, row.Who, row.InOrder) { At = row.At, OutletM = row.OutletM, SewerM = row.SewerM, HoseM = row.HoseM };

    /// <summary>Keeps the check of the hose run at a place, instead of an earlier one.</summary>
    public void Keep(int rigId, PlaceSetUp setUp)
    {
        ArgumentNullException.ThrowIfNull(setUp);
        using var transaction = context.Database.BeginTransaction();
        context.PlaceSetUps.Where(p => p.RigId == rigId && p.Place == setUp.Place).ExecuteDelete();
        context.PlaceSetUps.Add(new PlaceSetUpRow
        {
            RigId = rigId,
            Place = setUp.Place,
            At = clock.GetCurrentInstant(),
            Who = setUp.Who,
            OutletM = setUp.OutletM,
            SewerM = setUp.SewerM,
            HoseM = setUp.HoseM,
            InOrder = setUp.InOrder
        });
        context.SaveChanges();
        transaction.Commit();
        context.ChangeTracker.Clear();
    }

    private StoredRun? Read(RunRow row)
    {
        if (ReadScript(row.Script) is not { } script) return null;
        var taps = context.RunTaps.AsNoTracking().Where(t => t.RunId == row.Id).OrderBy(t => t.Id).ToList();
        return new StoredRun(row.Id, row.RigId, row.Word, RunState.Replay(script, taps.Select(ReadTap).OfType<RunEvent>()), row.Place, ZoneOf(row),
            row.StartedAt, row.Who, taps.Count == 0 ? 0 : taps[^1].Id);
    }

    private static DateTimeZone ZoneOf(RunRow row) => DateTimeZoneProviders.Tzdb.GetZoneOrNull(row.Zone) ?? DateTimeZone.Utc;

    private static RunScript? ReadScript(string json)
    {
        try
        {
            return RunCodec.Read(json);
        }
        catch (InvalidDataException)
        {
            return null;
        }
    }

    internal static RunEvent? ReadTap(RunTapRow row) =>
        row.Key.Length > 0 && Codes<RunPress>.TryParse(row.Press, out var press) && RunCodec.ReadSaid(row.Said) is { } said
            ? new(row.Key, row.At, row.Step, row.Round, press, said) : null;
}
