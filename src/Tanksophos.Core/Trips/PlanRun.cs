using System.Globalization;
using NodaTime;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Trips;

/// <summary>Actions that are done in one go: a dump run, or one thing.</summary>
/// <param name="Key">The same as long as the run keeps its stop, day and kind.</param>
/// <param name="At">When it begins.</param>
/// <param name="Until">When its last action begins.</param>
/// <param name="Stop">The stop.</param>
/// <param name="Actions">Its actions in order.</param>
public sealed record PlanRun(string Key, OffsetDateTime At, OffsetDateTime Until, Stop Stop, IReadOnlyList<PlanAction> Actions)
{
    /// <summary>Whether something is dumped in it.</summary>
    public bool Dumps => Actions.Any(a => a.Kind == PlanActionKind.Dump);

    /// <summary>
    /// Actions in runs, in the order of time: those of one stop that follow each other within half an hour, where one of them is a dump; else each kind by
    /// itself.
    /// </summary>
    public static IReadOnlyList<PlanRun> Group(IReadOnlyList<PlanAction> actions, Func<string, Stop> stopOf)
    {
        ArgumentNullException.ThrowIfNull(stopOf);
        ArgumentNullException.ThrowIfNull(actions);
        var runs = new List<List<PlanAction>>();
        foreach (var action in actions)
        {
            var last = runs.Count > 0 ? runs[^1] : null;
            var near = last is not null && last[0].Stop == action.Stop && action.At.ToInstant() - last[^1].At.ToInstant() <= Duration.FromMinutes(30);
            var same = near && last!.TrueForAll(a => a.Kind == action.Kind && a.At.Equals(action.At));
            var run = near && action.Kind is not (PlanActionKind.FillJug or PlanActionKind.Divert or PlanActionKind.ScrubBeforeDrive)
                && (last!.Any(InRun) || InRun(action))
                && last!.TrueForAll(a => a.Kind is not (PlanActionKind.Divert or PlanActionKind.FillJug or PlanActionKind.ScrubBeforeDrive));
            if (same || run) last!.Add(action);
            else runs.Add([action]);
        }
        var seen = new Dictionary<string, int>();
        return [.. runs.Select(r =>
        {
            var stop = stopOf(r[0].Stop);
            var local = r[0].At.ToInstant().InZone(stop.Zone);
            var kind = r.Any(a => a.Kind == PlanActionKind.Dump) ? "run" : Codes<PlanActionKind>.Word(r[0].Kind);
            var key = $"{stop.Id}-{kind}-{local.Date.ToString("uuuuMMdd", CultureInfo.InvariantCulture)}";
            var n = seen[key] = seen.GetValueOrDefault(key) + 1;
            return new PlanRun(n == 1 ? key : $"{key}-{n}", r[0].At, r[^1].At, stop, r);
        })];

        static bool InRun(PlanAction a) => a.Kind is PlanActionKind.Dump or PlanActionKind.TopUp;
    }
}
