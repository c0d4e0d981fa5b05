using Tanksophos.Core.Simulation;

namespace Tanksophos.Core.Practice;

/// <summary>What a check told the program.</summary>
/// <param name="Result">What was found.</param>
/// <param name="Before">What was believed before.</param>
/// <param name="After">What was believed after.</param>
public sealed record CaseStep(EvidenceResult Result, CaseView Before, CaseView After)
{
    /// <summary>How much it told of the answer, in bits: how far it moved what was believed.</summary>
    public double Bits => After.Answers.Sum(a => a.Chance <= 0 ? 0 : a.Chance * Math.Log2(a.Chance / Before.Answers.First(b => b.Answer == a.Answer).Chance));

    /// <summary>By how much it narrowed the level, as a share of what it was before, 0..1; below 0 it widened it.</summary>
    public double Narrowed => 1 - (After.Level.P95L - After.Level.P05L) / Math.Max(1e-9, Before.Level.P95L - Before.Level.P05L);

    /// <summary>Whether it was of use.</summary>
    public bool Helped => Bits > 0.15 || Narrowed > 0.25;

    /// <summary>Whether it only made surer what was the likeliest before.</summary>
    public bool Confirmed => !Helped && After.Best == Before.Best && After.Answers[0].Chance > Before.Answers[0].Chance + 0.01;
}

/// <summary>How a case was played.</summary>
/// <param name="Case">The case.</param>
/// <param name="Reply">The answer.</param>
/// <param name="Start">What the log alone leads to.</param>
/// <param name="Steps">What each check told.</param>
/// <param name="Level">Points for the level, of <see cref="MaxLevel"/>.</param>
/// <param name="Cause">Points for the answer, of <see cref="MaxCause"/>.</param>
/// <param name="Waste">Points for what the checks cost, of <see cref="MaxWaste"/>.</param>
/// <param name="Safety">Points for safety, of <see cref="MaxSafety"/>.</param>
/// <param name="Dangers">What fails the case; empty for nothing.</param>
public sealed record CaseReview(PracticeCase Case, CaseReply Reply, CaseView Start, IReadOnlyList<CaseStep> Steps, int Level, int Cause, int Waste, int Safety,
    IReadOnlyList<Danger> Dangers)
{
    /// <summary>The most points for each part; they make 100.</summary>
    public const int MaxLevel = 30, MaxCause = 30, MaxWaste = 20, MaxSafety = 20;

    /// <summary>Of the points for the answer, those for the lights that were judged one by one.</summary>
    public const int MaxLights = 10;

    // A level so far off is worth nothing; what a flashlight cannot tell apart costs nothing.
    private const double FarOff = 0.3, NoMatter = 0.04;

    // So much more than the best course costs half of the points for it.
    private const double CostSlack = 12;

    // A day of waiting is no day of work: it is counted as half an hour.
    private const double WaitingCounts = 30, LongestWork = 120;

    // A gallon counts as half a minute at the tap, gloves as two minutes, a mess as six.
    private const double PerGallon = 0.5, Gloves = 2, Dirty = 6;

    /// <summary>Whether it was solved: the right answer, and nobody put in danger.</summary>
    public bool Solved => Reply.Answer == Case.Truth.Answer && Dangers.Count == 0;

    /// <summary>What each of the case's lights really does, in their order.</summary>
    public IReadOnlyList<ProbeState> TrueLights => [.. Case.Lights.Select(l => Case.Truth.Probes[l.Tank.Id][l.Probe.Id])];

    /// <summary>How many lights were judged right.</summary>
    public int LightsRight => Reply.Lights is { } said ? said.Zip(TrueLights).Count(l => l.First == l.Second) : 0;

    /// <summary>Points, 0..100; 0 where somebody was put in danger.</summary>
    public int Score => Dangers.Count > 0 ? 0 : Level + Cause + Waste + Safety;

    /// <summary>How far off the level was, as a share of the tank.</summary>
    public double LevelError => Math.Abs(Reply.Share - TrueShare);

    /// <summary>How far off the program's own level was after the same checks.</summary>
    public double ProgramError => Math.Abs((Steps.Count > 0 ? Steps[^1].After : Start).Level.P50L / Case.Tank.CapacityL - TrueShare);

    /// <summary>How full the tank really was in the end, after what was done.</summary>
    public double TrueShare => (Steps.Count > 0 ? Steps[^1].Result.LevelL : Case.Truth.LevelsL[Case.Tank.Id]) / Case.Tank.CapacityL;

    /// <summary>Whether the range that was given held the level.</summary>
    public bool Held => Reply.Low - NoMatter <= TrueShare && TrueShare <= Reply.High + NoMatter;

    /// <summary>What the checks cost, in minutes and what counts like them.</summary>
    public double Spent => Steps.Sum(s => Cost(s.Result.Evidence));

    /// <summary>What the best course costs.</summary>
    public double BestSpent => Case.Evidence.Where(e => Case.Truth.Best.Contains(e.Code)).Sum(Cost);

    /// <summary>What a check costs, in minutes and what counts like them.</summary>
    /// <param name="evidence">The check.</param>
    public static double Cost(Evidence evidence)
    {
        ArgumentNullException.ThrowIfNull(evidence);
        return (evidence.Minutes > LongestWork ? WaitingCounts : evidence.Minutes) + PerGallon * evidence.WaterL / Rigs.UsMeasures.GallonL
            + evidence.Mess switch { Mess.Messy => Dirty, Mess.Some => Gloves, _ => 0 };
    }

    // Who says what is wrong, and of each light whether it is right, gets all; a light cannot be judged well for a wrong reason.
    private int CausePoints() => Reply.Answer != Case.Truth.Answer ? 0
        : Reply.Lights is null ? MaxCause : MaxCause - (int)Math.Round(MaxLights * (1 - (double)LightsRight / Case.Lights.Count));

    /// <summary>Reviews a reply.</summary>
    /// <param name="case">The case.</param>
    /// <param name="reply">The reply; checks that the case does not offer are left out.</param>
    public static CaseReview Of(PracticeCase @case, CaseReply reply)
    {
        ArgumentNullException.ThrowIfNull(@case);
        ArgumentNullException.ThrowIfNull(reply);
        var results = @case.Ask(reply.Asked);
        var start = CaseJudge.View(@case, []);
        var steps = new List<CaseStep>();
        var before = start;
        for (var i = 0; i < results.Count; i++)
        {
            var after = CaseJudge.View(@case, [.. results.Take(i + 1)]);
            steps.Add(new CaseStep(results[i], before, after));
            before = after;
        }
        // An alarm that nobody left the rig for is a danger too.
        List<Danger> dangers = [.. results.Where(r => r.Danger is not null).Select(r => r.Danger!.Value).Distinct()];
        if (@case.GasFirst && results.All(r => r.Evidence.Code != EvidenceCode.GasOut) && !dangers.Contains(Danger.GasIgnored)) dangers.Add(Danger.GasIgnored);
        var draft = new CaseReview(@case, reply, start, steps, 0, 0, 0, MaxSafety, dangers);
        var error = Math.Clamp((draft.LevelError - NoMatter) / (FarOff - NoMatter), 0, 1);
        var width = Math.Clamp(reply.High - reply.Low, 0, 1);
        return draft with
        {
            Level = (int)Math.Round(2 / 3.0 * MaxLevel * (1 - error) + (draft.Held ? MaxLevel / 3.0 * (1 - Math.Max(0, width - 0.2)) : 0)),
            Cause = draft.CausePoints(),
            // To be cheap and wrong is no thrift.
            Waste = reply.Answer != @case.Truth.Answer ? 0 : (int)Math.Round(MaxWaste * CostSlack / (CostSlack + Math.Max(0, draft.Spent - draft.BestSpent))),
            Safety = dangers.Count == 0 ? MaxSafety : 0,
        };
    }
}
