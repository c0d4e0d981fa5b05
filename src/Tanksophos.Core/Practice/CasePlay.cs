using Tanksophos.Core.Simulation;

namespace Tanksophos.Core.Practice;

/// <summary>A way to play a case, and what it came to.</summary>
/// <param name="Asked">The checks, in order.</param>
/// <param name="Answer">What was answered.</param>
/// <param name="Share">How full the tank was said to be, 0..1.</param>
/// <param name="Low">The lower end of what was thought possible.</param>
/// <param name="High">The upper end.</param>
public sealed record CaseReply(IReadOnlyList<EvidenceCode> Asked, CaseAnswer Answer, double Share, double Low, double High)
{
    /// <summary>What each of <see cref="PracticeCase.Lights"/> was said to do, in that order; null where nobody was asked.</summary>
    public IReadOnlyList<ProbeState>? Lights { get; init; }
}

/// <summary>Ways of playing: the program's own, and bad habits to compare it with.</summary>
internal static class CasePlay
{
    // Sure enough to answer, and the least that a check has to tell.
    private const double Sure = 0.85, WorthAsking = 0.02;
    private const int MostChecks = 6;

    /// <summary>The program's own play: the check that tells most for its cost, until it is sure.</summary>
    /// <param name="case">The case.</param>
    public static CaseReply Own(PracticeCase @case)
    {
        ArgumentNullException.ThrowIfNull(@case);
        var asked = new List<EvidenceCode>();
        if (@case.GasFirst) asked.Add(EvidenceCode.GasOut);
        while (true)
        {
            var results = @case.Ask(asked);
            var view = CaseJudge.View(@case, results);
            var next = view.Answers[0].Chance >= Sure && !Wide(@case, view) || asked.Count >= MostChecks ? null : Next(@case, view, asked, results);
            if (next is null) return Reply(@case, asked, view);
            asked.Add(next.Value);
        }
    }

    /// <summary>Believes the panel, asks nothing, and takes the first answer that goes with it.</summary>
    /// <param name="case">The case.</param>
    public static CaseReply BelievesThePanel(PracticeCase @case)
    {
        ArgumentNullException.ThrowIfNull(@case);
        var tank = @case.Tank;
        var last = @case.Logbook.InOrder().OfType<Log.ReadingEntry>().LastOrDefault(r => r.Tank == tank.Id && r.Lit is not null);
        var share = last is null ? 0.5 : tank.Monitor.Probes.Where(p => last.Lit!.Contains(p.Id)).Select(p => p.AtFraction).DefaultIfEmpty(0.1).Max();
        var answer = new[] { CaseAnswer.TankFull, CaseAnswer.Done, CaseAnswer.CarryOn, CaseAnswer.ForgottenDump }.FirstOrDefault(@case.Choices.Contains,
            @case.Choices[0]);
        return new CaseReply([], answer, share, share, Math.Min(1, share + 0.33));
    }

    /// <summary>Dumps and rinses before thinking, wherever there is a sewer, and then answers by what came out.</summary>
    /// <param name="case">The case.</param>
    public static CaseReply DumpsEverything(PracticeCase @case)
    {
        ArgumentNullException.ThrowIfNull(@case);
        EvidenceCode[] asked = [.. new[] { EvidenceCode.DumpWatch, EvidenceCode.RinseWatch, EvidenceCode.Cleanout, EvidenceCode.AddWater,
            EvidenceCode.MeteredFill }.Where(c => @case.Evidence.Any(e => e.Code == c))];
        var view = CaseJudge.View(@case, @case.Ask(asked));
        return Reply(@case, asked, view) with { Answer = @case.Choices.Contains(CaseAnswer.DumpNow) ? CaseAnswer.DumpNow : view.Best };
    }

    /// <summary>Asks for everything on offer, in the order in which it is offered, and then answers as the program would.</summary>
    /// <param name="case">The case.</param>
    public static CaseReply AsksEverything(PracticeCase @case)
    {
        ArgumentNullException.ThrowIfNull(@case);
        EvidenceCode[] asked = [.. @case.Evidence.Select(e => e.Code)];
        return Reply(@case, asked, CaseJudge.View(@case, @case.Ask(asked)));
    }

    private static CaseReply Reply(PracticeCase @case, IReadOnlyList<EvidenceCode> asked, CaseView view) =>
        new(asked, view.Best, view.Level.P50L / @case.Tank.CapacityL, view.Level.P05L / @case.Tank.CapacityL, view.Level.P95L / @case.Tank.CapacityL);

    private static bool Wide(PracticeCase @case, CaseView view) => view.Level.P95L - view.Level.P05L > 0.35 * @case.Tank.CapacityL;

    // What a check is expected to tell, in bits, for what it costs; a wide level is worth a look too.
    private static EvidenceCode? Next(PracticeCase @case, CaseView view, List<EvidenceCode> asked, IReadOnlyList<EvidenceResult> results) => @case.Evidence
        .Where(e => !asked.Contains(e.Code) && IsSafe(@case, e, view, results))
        .Select(e => (e.Code, Worth: (Bits(@case, view, e.Code) + (e.Code == EvidenceCode.Flashlight && Wide(@case, view) ? 0.3 : 0))
            / Math.Sqrt(1 + CaseReview.Cost(e))))
        .Where(e => e.Worth >= WorthAsking).OrderByDescending(e => e.Worth).Select(e => (EvidenceCode?)e.Code).FirstOrDefault();

    private static double Bits(PracticeCase @case, CaseView view, EvidenceCode code)
    {
        // A trip hangs on how full it is and on who comes along: either settles half of what is open.
        if (@case.Topic == PracticeTopic.Planning)
            return code is EvidenceCode.Flashlight or EvidenceCode.AskCrew ? -0.5 * view.Answers.Sum(a => a.Chance * Math.Log2(a.Chance)) : 0;
        var found = view.Answers.Sum(a => a.Chance * EvidenceOdds.Found(code, a.Answer));
        return view.Answers.Sum(a =>
        {
            var p = EvidenceOdds.Found(code, a.Answer);
            return a.Chance * (p * Math.Log2(p / found) + (1 - p) * Math.Log2((1 - p) / (1 - found)));
        });
    }

    private static bool IsSafe(PracticeCase @case, Evidence evidence, CaseView view, IReadOnlyList<EvidenceResult> results) => evidence.Code switch
    {
        EvidenceCode.Cleanout => false,
        EvidenceCode.GasOut => @case.GasFirst || view.Answers.Any(a => a is { Answer: CaseAnswer.Propane, Chance: > 0.1 }),
        // Nothing is filled in before somebody looked, and never with gray open.
        EvidenceCode.RinseWatch => results.Any(r => r.Evidence.Code == EvidenceCode.Handles && r.Found == false)
            && results.Any(r => r.Evidence.Code == EvidenceCode.WatchEnd) && Fits(@case, evidence, view),
        EvidenceCode.MeteredFill or EvidenceCode.AddWater or EvidenceCode.BowlFlush => Fits(@case, evidence, view),
        _ => true,
    };

    private static bool Fits(PracticeCase @case, Evidence evidence, CaseView view) => view.Level.P95L + evidence.WaterL < 0.95 * @case.Tank.CapacityL;
}
