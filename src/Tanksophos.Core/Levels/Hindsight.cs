using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Levels;

/// <summary>A level that was seen or metered, beside what was believed just before.</summary>
/// <param name="Entry">The look.</param>
/// <param name="Before">What was believed, in litres.</param>
/// <param name="FoundL">What was found, in litres.</param>
/// <param name="PlusMinusL">Half-width of the 90 % range of what was found, in litres.</param>
/// <param name="Within">Whether the two agree: as often as nine times in ten if the belief is as sure as it says.</param>
public sealed record FoundLevel(ReadingEntry Entry, LevelBand Before, double FoundL, double PlusMinusL, bool Within)
{
    /// <summary>Litres by which the estimate was off; positive if there was more than believed.</summary>
    public double OffL => FoundL - Before.P50L;
}

/// <summary>
/// What was believed of a tank, and what turned out: every look and metered level of a stretch of the log beside the belief before it, as it was worked out
/// then, without what came later. So owners see for themselves how far to trust it.
/// </summary>
/// <param name="Tank">The tank.</param>
/// <param name="Seen">The looks in the order of time.</param>
public sealed record Hindsight(Tank Tank, IReadOnlyList<FoundLevel> Seen)
{
    // 90 % of a normal number lies within so many standard deviations.
    private const double Ninety = 1.645;

    /// <summary>How many looks agreed with the belief.</summary>
    public int Within => Seen.Count(s => s.Within);

    /// <summary>Half of the looks were off by less, in litres; null without a look.</summary>
    public double? UsualOffL => Seen.Count == 0 ? null : Seen.Select(s => Math.Abs(s.OffL)).Order().ElementAt(Seen.Count / 2);

    /// <summary>By how much there was more than believed on the mean, in litres; null without a look.</summary>
    public double? LeaningL => Seen.Count == 0 ? null : Seen.Average(s => s.OffL);

    /// <summary>Looks back.</summary>
    /// <param name="tank">The tank, with the capacity that is counted with.</param>
    /// <param name="log">Entries in the order of time, with what each changed.</param>
    public static Hindsight Of(Tank tank, IEnumerable<(LogEntry Entry, BeliefChange? Change)> log)
    {
        ArgumentNullException.ThrowIfNull(tank);
        ArgumentNullException.ThrowIfNull(log);
        var seen = new List<FoundLevel>();
        foreach (var (entry, change) in log)
        {
            if (entry is not ReadingEntry { Fraction: { } fraction } look || look.Tank != tank.Id || change is null) continue;
            var found = fraction * tank.CapacityL;
            var plusMinus = (look.PlusMinus ?? (look.Via == ReadingVia.Meter ? ReadingEntry.MeterPlusMinus : ReadingEntry.SightPlusMinus)) * tank.CapacityL;
            var half = Ninety * change.BeforeSdL;
            var before = new LevelBand(Math.Max(0, change.BeforeL - half), change.BeforeL, Math.Min(tank.FullMarkL, change.BeforeL + half));
            seen.Add(new FoundLevel(look, before, found, plusMinus, Math.Abs(found - change.BeforeL) <= Math.Sqrt(half * half + plusMinus * plusMinus)));
        }
        return new Hindsight(tank, seen);
    }
}
