using NodaTime;
using Tanksophos.Core.Levels;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Diagnosis;

/// <summary>What is said of a probe.</summary>
public enum ProbeVerdict
{
    /// <summary>Its lamp follows the level.</summary>
    Working,

    /// <summary>Its lamp is lit whatever the level: fouled.</summary>
    StuckOn,

    /// <summary>Its lamp never lights: wire or stud.</summary>
    StuckOff,
}

/// <summary>What a reading says of a probe.</summary>
public enum LampEvidenceKind
{
    /// <summary>Lit although the tank was expected below it.</summary>
    LitThoughBelow,

    /// <summary>Dark although the tank was expected above it.</summary>
    DarkThoughAbove,

    /// <summary>Lit, as expected.</summary>
    LitAsExpected,

    /// <summary>Dark, as expected.</summary>
    DarkAsExpected,
}

/// <summary>One reading that speaks for or against a verdict.</summary>
/// <param name="At">Time of the reading.</param>
/// <param name="Kind">What it says.</param>
/// <param name="ExpectedL">Litres expected in the tank just before.</param>
/// <param name="HoursSinceEmptied">Hours since it was emptied; null if that is not on record.</param>
/// <param name="Weight">Natural logarithm of how many times likelier the reading is if the verdict holds than if the next best is so; negative speaks against
/// it.</param>
public sealed record LampEvidence(OffsetDateTime At, LampEvidenceKind Kind, double ExpectedL, double? HoursSinceEmptied, double Weight);

/// <summary>A verdict on a probe and what carries it.</summary>
/// <param name="Probe">The probe.</param>
/// <param name="Verdict">The likeliest state.</param>
/// <param name="Probability">Its probability, 0..1.</param>
/// <param name="Against">The next best state.</param>
/// <param name="Evidence">The readings that carry it, strongest first; the last ones may speak against it.</param>
/// <param name="Readings">How many readings of this lamp were weighed.</param>
/// <param name="DumpsLit">Over how many of the latest emptyings in a row the lamp stayed lit, or was lit with the tank expected below it.</param>
/// <param name="HoursAfterDump">Hours after the last of them at which that was seen.</param>
/// <param name="ExpectedAfterDumpL">Litres that were expected in the tank then.</param>
/// <param name="LookBack">The probe looked back on.</param>
public sealed record ProbeFinding(Probe Probe, ProbeVerdict Verdict, double Probability, ProbeVerdict Against, IReadOnlyList<LampEvidence> Evidence,
    int Readings, int DumpsLit, double? HoursAfterDump, double? ExpectedAfterDumpL, ProbeLookBack LookBack)
{
    /// <summary>From this probability on a verdict is called settled.</summary>
    public const double SettledFrom = 0.85;

    /// <summary>Whether the record suffices for the verdict.</summary>
    public bool Settled => Probability >= SettledFrom;
}

/// <summary>Explains verdicts on probes by the entries that carry them.</summary>
internal static class ProbeFindings
{
    // Weaker than this a reading says nothing worth telling (a factor of 1.2).
    private const double WorthTelling = 0.18;

    /// <summary>A wet film may hold a lamp for so long after an emptying; what was seen sooner is no sign of fouling.</summary>
    public const double FilmHours = 12;

    /// <summary>The findings on the probes of one tank, low to high.</summary>
    /// <param name="belief">What is believed of the tank.</param>
    /// <param name="back">Its probes looked back on.</param>
    public static IReadOnlyList<ProbeFinding> Compute(TankBelief belief, IReadOnlyList<ProbeLookBack> back)
    {
        ArgumentNullException.ThrowIfNull(belief);
        ArgumentNullException.ThrowIfNull(back);
        return [.. belief.Probes.Select((p, i) => Compute(p, back[i]))];
    }

    /// <summary>The verdict of a belief about a probe.</summary>
    public static ProbeVerdict VerdictOf(ProbeBelief belief)
    {
        ArgumentNullException.ThrowIfNull(belief);
        return belief.Believed ? ProbeVerdict.Working : belief.StuckOn >= belief.StuckOff ? ProbeVerdict.StuckOn : ProbeVerdict.StuckOff;
    }

    private static ProbeFinding Compute(ProbeBelief belief, ProbeLookBack back)
    {
        var verdict = VerdictOf(belief);
        (ProbeVerdict State, double Chance)[] states = [(ProbeVerdict.Working, belief.Working), (ProbeVerdict.StuckOn, belief.StuckOn),
            (ProbeVerdict.StuckOff, belief.StuckOff)];
        // A lamp that was seen both lit and dark is neither; the other fault that could still be so is the one to tell it from.
        var against = verdict != ProbeVerdict.Working ? ProbeVerdict.Working : states.Where(s => s.State != verdict).MaxBy(s => s.Chance).State;
        // What was seen before it began, or before it came back, is no evidence of what is so now.
        var since = (verdict == ProbeVerdict.Working ? back.CameBack : back.LyingSince)?.ToInstant() ?? Instant.MinValue;
        var evidence = back.Looks.Where(l => l.At.ToInstant() >= since)
            .Select(l => new LampEvidence(l.At, Kind(l), l.ExpectedL, l.HoursSinceEmptied, Math.Log(Compute(l, verdict) / Math.Max(1e-9, Compute(l, against)))))
            .Where(e => Math.Abs(e.Weight) >= WorthTelling).OrderByDescending(e => e.Weight).ThenByDescending(e => e.At.ToInstant()).ToList();
        var (dumps, hours, expected) = DumpsLit(back);
        return new ProbeFinding(belief.Probe, verdict, states.First(s => s.State == verdict).Chance, against, evidence, back.Looks.Count, dumps, hours,
            expected, back);
    }

    private static double Compute(LampLook look, ProbeVerdict state) => state switch
    {
        ProbeVerdict.Working => look.Likelihood.Working,
        ProbeVerdict.StuckOn => look.Likelihood.StuckOn,
        ProbeVerdict.StuckOff => look.Likelihood.StuckOff,
    };

    private static LampEvidenceKind Kind(LampLook look) => look.Lit
        ? look.ChanceAbove < 0.5 ? LampEvidenceKind.LitThoughBelow : LampEvidenceKind.LitAsExpected
        : look.ChanceAbove > 0.5 ? LampEvidenceKind.DarkThoughAbove : LampEvidenceKind.DarkAsExpected;

    // The readings between two emptyings belong together; of each such fill the first look after a film would have dried, with the tank expected below the
    // probe, counts.
    private static (int Dumps, double? Hours, double? ExpectedL) DumpsLit(ProbeLookBack back)
    {
        var dumps = 0;
        LampLook? told = null;
        foreach (var fill in back.Looks.Where(l => l.HoursSinceEmptied is not null)
            .GroupBy(l => Math.Round((l.At.ToInstant() - NodaConstants.UnixEpoch).TotalHours - l.HoursSinceEmptied!.Value)).OrderByDescending(g => g.Key))
        {
            var low = fill.Where(l => l.ChanceAbove < 0.3).ToList();
            if (low.Count == 0) continue;
            if (low.Any(l => !l.Lit)) break;
            told ??= low.FirstOrDefault(l => l.HoursSinceEmptied >= FilmHours) ?? low[^1];
            dumps++;
        }
        return (dumps, told?.HoursSinceEmptied, told?.ExpectedL);
    }
}
