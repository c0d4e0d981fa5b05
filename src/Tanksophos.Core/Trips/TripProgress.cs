using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;
using Tanksophos.Core.Treatments;

namespace Tanksophos.Core.Trips;

/// <summary>Why a plan became another.</summary>
public enum ChangeReason
{
    /// <summary>The stops or wishes were changed.</summary>
    StopsChanged,

    /// <summary>The rig or its house rules were changed.</summary>
    RulesChanged,

    /// <summary>A tank is fuller than the plan had it.</summary>
    FullerThanPlanned,

    /// <summary>A tank is emptier than the plan had it.</summary>
    EmptierThanPlanned,

    /// <summary>A dump was logged that was not in the plan.</summary>
    DumpedUnplanned,

    /// <summary>A planned dump was not logged.</summary>
    NotDumped,

    /// <summary>Nothing of that; the days passed, and the tanks are known better.</summary>
    KnownBetter,
}

/// <summary>A reason with its figures.</summary>
/// <param name="Reason">The reason.</param>
/// <param name="Tank">The tank meant; null if none is.</param>
/// <param name="ExpectedL">Litres that the plan had.</param>
/// <param name="FoundL">Litres believed now.</param>
/// <param name="At">When it happened or should have.</param>
public sealed record PlanReason(ChangeReason Reason, string? Tank = null, double? ExpectedL = null, double? FoundL = null, OffsetDateTime? At = null)
{
    /// <summary>Litres a day by which the tank filled since the plan was made; null if that is too short ago or it was emptied meanwhile.</summary>
    public double? DailyL { get; init; }

    /// <summary>Litres a day that the plan had for that time.</summary>
    public double? PlannedDailyL { get; init; }
}

/// <summary>A dump run that came, went or moved.</summary>
/// <param name="Stop">Id of the stop.</param>
/// <param name="Role">Black with gray after it, or gray alone.</param>
/// <param name="Was">When it was planned; null if it is new.</param>
/// <param name="Is">When it is planned now; null if it fell away.</param>
public sealed record RunChange(string Stop, TankRole Role, OffsetDateTime? Was, OffsetDateTime? Is);

/// <summary>That a plan became another: what, and why.</summary>
/// <param name="At">When it was seen.</param>
/// <param name="Runs">What changed.</param>
/// <param name="Reasons">Why.</param>
public sealed record PlanChange(OffsetDateTime At, IReadOnlyList<RunChange> Runs, IReadOnlyList<PlanReason> Reasons);

/// <summary>A planned action that a log entry did.</summary>
/// <param name="Action">The action as it was planned.</param>
/// <param name="EntryKey">Key of the entry.</param>
/// <param name="At">When it was done.</param>
public sealed record DoneAction(PlanAction Action, string EntryKey, OffsetDateTime At);

/// <summary>
/// A plan that is being carried out: what of it is done, what was left out, and how it changed. Made new by each entry; the one before is all it needs to
/// remember.
/// </summary>
/// <param name="Planned">What is still to be done.</param>
/// <param name="Levels">The levels that the plan has.</param>
/// <param name="Done">What was done, the oldest first.</param>
/// <param name="Changes">How the plan changed, the latest first.</param>
/// <param name="SeenUntil">Entries up to here are accounted for.</param>
public sealed record TripProgress(IReadOnlyList<PlanAction> Planned, IReadOnlyDictionary<string, IReadOnlyList<PlanLevel>> Levels,
    IReadOnlyList<DoneAction> Done, IReadOnlyList<PlanChange> Changes,
    Instant SeenUntil)
{
    /// <summary>Changes that are remembered.</summary>
    public const int MaxChanges = 6;

    // An entry belongs to an action at most so far from it.
    private static readonly Duration Near = Duration.FromHours(20);
    // A run that was not logged so long after its hour was not done.
    private static readonly Duration Grace = Duration.FromHours(3);
    // Hours by which a run may move without being worth a word.
    private static readonly Duration Moved = Duration.FromHours(5);
    private static readonly Duration SameRun = Duration.FromHours(3);
    private const double WorthSaying = 0.12;

    /// <summary>Nothing planned, nothing done.</summary>
    public static TripProgress None { get; } = new([], new Dictionary<string, IReadOnlyList<PlanLevel>>(), [], [], Instant.MinValue);

    /// <summary>Takes what was logged since, and the plan made of the present belief.</summary>
    /// <param name="trip">The trip as it stands now.</param>
    /// <param name="plan">Its plan.</param>
    /// <param name="entries">The log's newest entries in the order of time, with their keys; older ones than have been seen are passed over.</param>
    /// <param name="stopsChanged">Whether the owner changed the stops since.</param>
    /// <param name="rulesChanged">Whether the rig or its rules were changed since.</param>
    public TripProgress Advance(Trip trip, Plan plan, IReadOnlyList<(string Key, LogEntry Entry)> entries, bool stopsChanged, bool rulesChanged)
    {
        ArgumentNullException.ThrowIfNull(trip);
        ArgumentNullException.ThrowIfNull(plan);
        ArgumentNullException.ThrowIfNull(entries);
        var now = trip.Start.At;
        var open = Planned.ToList();
        var done = Done.ToList();
        var reasons = new List<PlanReason>();
        if (stopsChanged) reasons.Add(new PlanReason(ChangeReason.StopsChanged));
        if (rulesChanged) reasons.Add(new PlanReason(ChangeReason.RulesChanged));
        // Entries of a run are often written down a little later than they happened.
        var from = SeenUntil == Instant.MinValue ? Instant.MaxValue : SeenUntil - Near;
        foreach (var (key, entry) in entries.Where(e => e.Entry.Instant > from && e.Entry.Instant <= now.ToInstant() && done.All(d => d.EntryKey != e.Key)))
        {
            var match = open.Where(a => Does(entry, a)).OrderBy(a => Apart(a, entry)).FirstOrDefault();
            if (match is not null)
            {
                open.Remove(match);
                done.Add(new DoneAction(match, key, entry.At));
            }
            else if (entry is DumpEntry && entry.Instant > SeenUntil && trip.Rig.Find(entry.Tank)?.Role == TankRole.Black)
                reasons.Add(new PlanReason(ChangeReason.DumpedUnplanned, entry.Tank, At: entry.At));
        }
        foreach (var missed in open.Where(a => a.Kind == PlanActionKind.Dump && a.At.ToInstant() + Grace < now.ToInstant()))
            reasons.Add(new PlanReason(ChangeReason.NotDumped, missed.Tank, At: missed.At));
        foreach (var (tank, band) in trip.Start.Levels)
        {
            if (!Levels.TryGetValue(tank, out var levels) || At(levels, now.ToInstant()) is not { } had || trip.Rig.Find(tank) is not { } of) continue;
            if (band.P50L > had.P95L && band.P50L - had.P50L > WorthSaying * of.CapacityL)
                reasons.Add(Filled(new PlanReason(ChangeReason.FullerThanPlanned, tank, had.P50L, band.P50L), levels, now.ToInstant()));
            if (band.P50L < had.P05L && had.P50L - band.P50L > WorthSaying * of.CapacityL)
                reasons.Add(Filled(new PlanReason(ChangeReason.EmptierThanPlanned, tank, had.P50L, band.P50L), levels, now.ToInstant()));
        }
        var changes = Changes.ToList();
        // What was missed is still a change; what is done is none.
        // The rest of a run that was begun belongs to what is done.
        open.RemoveAll(a => done.Any(d => d.Action.Stop == a.Stop && Far(d.Action.At, a.At) < SameRun));
        var runs = SeenUntil == Instant.MinValue ? [] : Compared(trip, open, plan.Actions);
        if (runs.Count > 0) changes.Insert(0, new PlanChange(now, runs, reasons.Count > 0 ? reasons : [new PlanReason(ChangeReason.KnownBetter)]));
        if (changes.Count > MaxChanges) changes.RemoveRange(MaxChanges, changes.Count - MaxChanges);
        return new TripProgress(plan.Actions, plan.Levels, done, changes, now.ToInstant());
    }

    // From where the plan began to now, if the tank only filled in the plan and in life.
    private static PlanReason Filled(PlanReason reason, IReadOnlyList<PlanLevel> levels, Instant now)
    {
        var past = levels.TakeWhile(l => l.At.ToInstant() <= now).ToList();
        if (past.Count == 0 || past.Zip(past.Skip(1)).Any(p => p.Second.Level.P50L < p.First.Level.P50L - 1)) return reason;
        var (begun, days) = (past[0].Level.P50L, (now - past[0].At.ToInstant()).TotalDays);
        if (days < 0.75 || reason.FoundL <= begun) return reason;
        return reason with { DailyL = (reason.FoundL - begun) / days, PlannedDailyL = (reason.ExpectedL - begun) / days };
    }

    /// <summary>Whether an entry is the doing of a planned action.</summary>
    public static bool Does(LogEntry entry, PlanAction action)
    {
        ArgumentNullException.ThrowIfNull(entry);
        ArgumentNullException.ThrowIfNull(action);
        if (Apart(action, entry) > Near || (action.Tank is not null && entry.Tank != action.Tank)) return false;
        return (action.Kind, entry) switch
        {
            (PlanActionKind.Dump, DumpEntry) or (PlanActionKind.Flush, FlushEntry) => true,
            (PlanActionKind.CloseValve, ValveEntry { State: ValveState.Closed }) or (PlanActionKind.OpenValve, ValveEntry { State: ValveState.Open }) => true,
            (PlanActionKind.TopUp, WaterEntry { Purpose: WaterPurpose.TopUp }) or (PlanActionKind.StarterWater,
                WaterEntry { Purpose: WaterPurpose.Starter }) => true,
            (PlanActionKind.Dose, DoseEntry d) => d.Recipe == action.Recipe || RoutineDose.IsRoutine(d.Recipe) && action.Recipe is not DoseRecipe.GraySoap,
            (PlanActionKind.ScrubBeforeDrive, DoseEntry d) => d.Recipe == DoseRecipe.TravelScrub,
            (PlanActionKind.TopUpTraps, CheckEntry { Code: CheckCode.TrapsWet, Result: CheckResult.Pass }) => true,
            _ => false,
        };
    }

    private static Duration Apart(PlanAction action, LogEntry entry)
    {
        var d = action.At.ToInstant() - entry.Instant;
        return d < Duration.Zero ? -d : d;
    }

    private static Levels.LevelBand? At(IReadOnlyList<PlanLevel> levels, Instant moment)
    {
        var before = levels.LastOrDefault(l => l.At.ToInstant() <= moment);
        if (before == default) return null;
        var after = levels.FirstOrDefault(l => l.At.ToInstant() > moment);
        if (after == default) return before.Level;
        var (a, b) = (before.At.ToInstant(), after.At.ToInstant());
        var share = b > a ? (moment - a) / (b - a) : 0;
        double Mid(double x, double y) => x + share * (y - x);
        return new Levels.LevelBand(Mid(before.Level.P05L, after.Level.P05L), Mid(before.Level.P50L, after.Level.P50L),
            Mid(before.Level.P95L, after.Level.P95L));
    }

    // Runs of the same stop and kind belong together in their order.
    private static List<RunChange> Compared(Trip trip, IReadOnlyList<PlanAction> was, IReadOnlyList<PlanAction> now)
    {
        var before = Runs(trip, was);
        var after = Runs(trip, now);
        var changes = new List<RunChange>();
        foreach (var key in before.Keys.Union(after.Keys))
        {
            var (a, b) = (before.GetValueOrDefault(key) ?? [], after.GetValueOrDefault(key) ?? []);
            var left = b.ToList();
            var gone = new List<OffsetDateTime>();
            foreach (var run in a)
            {
                var near = left.FindIndex(x => Far(x, run) <= Moved);
                if (near >= 0) left.RemoveAt(near);
                else gone.Add(run);
            }
            for (var i = 0; i < Math.Max(gone.Count, left.Count); i++)
                changes.Add(new RunChange(key.Stop, key.Role, i < gone.Count ? gone[i] : null, i < left.Count ? left[i] : null));
        }
        return changes;
    }

    private static Duration Far(OffsetDateTime a, OffsetDateTime b)
    {
        var d = a.ToInstant() - b.ToInstant();
        return d < Duration.Zero ? -d : d;
    }

    private static Dictionary<(string Stop, TankRole Role), List<OffsetDateTime>> Runs(Trip trip, IReadOnlyList<PlanAction> actions)
    {
        var runs = new Dictionary<(string, TankRole), List<OffsetDateTime>>();
        OffsetDateTime? last = null;
        foreach (var dump in actions.Where(a => a.Kind == PlanActionKind.Dump).OrderBy(a => a.At.ToInstant()))
        {
            // What follows within the run is no run of its own.
            if (last is { } l && Far(dump.At, l) < SameRun) continue;
            last = dump.At;
            var key = (dump.Stop, trip.Rig.Find(dump.Tank)?.Role ?? TankRole.Black);
            if (!runs.TryGetValue(key, out var list)) runs[key] = list = [];
            list.Add(dump.At);
        }
        return runs;
    }
}
