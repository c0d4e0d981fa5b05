using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Diagnosis;

/// <summary>What of a diagnosis is worth naming to people.</summary>
/// <param name="Named">Conditions worth naming: likely ones, possible ones after them, and for what was noticed lately the best of what is left.</param>
/// <param name="Noticed">What somebody noticed about drains, tanks and valves in the last two weeks, the newest first.</param>
/// <param name="Quiet">Whether there is nothing to say.</param>
/// <param name="TooLittle">Whether the log holds too little of every tank to tell.</param>
public sealed record TroubleSummary(IReadOnlyList<(Tank Tank, ConditionBelief Belief)> Named, IReadOnlyList<SymptomEntry> Noticed, bool Quiet, bool TooLittle)
{
    // Of what was noticed lately, so many are named.
    private const int MaxNoticed = 5;

    /// <summary>Sums a diagnosis up.</summary>
    /// <param name="report">The diagnosis.</param>
    /// <param name="log">The log in the order of time.</param>
    /// <param name="now">The present moment.</param>
    public static TroubleSummary Compute(FaultReport report, IReadOnlyList<LogEntry> log, Instant now)
    {
        ArgumentNullException.ThrowIfNull(report);
        ArgumentNullException.ThrowIfNull(log);
        IReadOnlyList<SymptomEntry> noticed = [.. log.Reverse().TakeWhile(e => now - e.Instant <= Odors.Counts).OfType<SymptomEntry>()
            .Where(s => s.Instant <= now && s.Code is not (SymptomCode.PropaneAlarm or SymptomCode.LampsDead or SymptomCode.LampsAllOn)).Take(MaxNoticed)];
        IReadOnlyList<(Tank Tank, ConditionBelief Belief)> named = [.. report.Tanks.SelectMany(t =>
        {
            var asked = noticed.Any(s => s.Tank == t.Tank.Id || s.Tank is null && t.Tank.Role == TankRole.Black);
            return t.Conditions.OrderByDescending(c => c.Probability)
                .Where((c, i) => c.Probability >= Conditions.Possible || asked && i < 2 && c.Reasons.Any(r => r.Weight > 0 && noticed.Contains(r.Sign.Entry)))
                .Select(c => (t.Tank, c));
        }).OrderByDescending(x => x.c.Probability)];
        return new TroubleSummary(named, noticed, named.Count == 0 && report.Odors.Count == 0 && noticed.Count == 0 && report.Courses.Count == 0,
            report.Tanks.All(t => !t.Enough));
    }
}
