namespace Tanksophos.Core.Practice;

/// <summary>Makes practice cases.</summary>
public static class CaseMaker
{
    // A crew's life does not always come to what a case needs; then another is drawn.
    private const int Attempts = 60;

    /// <summary>Makes a case. The same seed, topic and difficulty give the same case on every machine.</summary>
    /// <param name="seed">Any number.</param>
    /// <param name="topic">The topic; for mixed the seed chooses.</param>
    /// <param name="difficulty">1 to 3.</param>
    /// <exception cref="ArgumentOutOfRangeException">The difficulty is none of the three.</exception>
    public static PracticeCase Make(long seed, PracticeTopic topic, int difficulty)
    {
        if (difficulty is < PracticeCase.Easiest or > PracticeCase.Hardest) throw new ArgumentOutOfRangeException(nameof(difficulty), difficulty, "1 to 3");
        var chance = new SeededRandom(unchecked(seed * 6_364_136_223 + 97 * difficulty + 13));
        T One<T>(IReadOnlyList<T> of) => of[(int)(chance.Uniform() * of.Count)];
        if (topic == PracticeTopic.Mixed) topic = One([PracticeTopic.Lamps, PracticeTopic.Smells, PracticeTopic.Clogs, PracticeTopic.Rinsing,
            PracticeTopic.Planning]);
        var pool = Pool(topic);
        var answer = One(pool);
        var mixed = topic;
        for (var attempt = 0; attempt < Attempts; attempt++)
        {
            var own = unchecked(seed * 1_000_003 + 7_919 * attempt + 101 * (int)topic + difficulty);
            HiddenRig Play() => new(own, mixed, difficulty, answer);
            var rig = Play();
            if (!rig.Failed) return new PracticeCase(seed, topic, difficulty, rig, Play, Choices(rig, pool, chance, difficulty), Best(rig, topic));
            // Some lives never come to some answers: after a while another is asked of them.
            if (attempt % 12 == 11) answer = One(pool);
        }
        throw new InvalidOperationException($"No case for seed {seed}, {topic}, {difficulty}.");
    }

    /// <summary>What may be so in a topic.</summary>
    public static IReadOnlyList<CaseAnswer> Pool(PracticeTopic topic) => topic switch
    {
        PracticeTopic.Lamps => [CaseAnswer.StuckOn, CaseAnswer.TankFull, CaseAnswer.WetFilm, CaseAnswer.StuckOff, CaseAnswer.PanelFault,
            CaseAnswer.ForgottenDump],
        PracticeTopic.Smells => [CaseAnswer.FanDraw, CaseAnswer.BowlSeal, CaseAnswer.BlackAnaerobic, CaseAnswer.BlackCoated, CaseAnswer.DryTrap,
            CaseAnswer.GrayGreasy, CaseAnswer.ValveOpenToSewer, CaseAnswer.VentBlocked, CaseAnswer.HoseOrCap, CaseAnswer.Propane],
        PracticeTopic.Clogs => [CaseAnswer.Heap, CaseAnswer.OutletClog, CaseAnswer.VentBlocked, CaseAnswer.Buildup, CaseAnswer.ValveLeak, CaseAnswer.TankFull],
        PracticeTopic.Rinsing => [CaseAnswer.Done, CaseAnswer.RinseAgain, CaseAnswer.DeepClean, CaseAnswer.CloseGray, CaseAnswer.OutletClog],
        PracticeTopic.Planning => [CaseAnswer.DumpNow, CaseAnswer.TopUpThenDump, CaseAnswer.GrayOnly, CaseAnswer.CarryOn,
            // What dishwater down the toilet spares is too little to be plainly the right answer; it stays among the choices.
            CaseAnswer.LeaveEarly],
        _ => [],
    };

    // The right one and some others, shuffled.
    private static List<CaseAnswer> Choices(HiddenRig rig, IReadOnlyList<CaseAnswer> pool, SeededRandom chance, int difficulty)
    {
        List<CaseAnswer> fitting = rig.Question switch
        {
            CaseQuestion.LitAfterDump => [CaseAnswer.StuckOn, CaseAnswer.TankFull, CaseAnswer.WetFilm, CaseAnswer.PanelFault],
            CaseQuestion.DarkLight => [CaseAnswer.StuckOff, CaseAnswer.ForgottenDump, CaseAnswer.PanelFault, CaseAnswer.TankFull],
            CaseQuestion.AllAlike => [CaseAnswer.PanelFault, CaseAnswer.TankFull, rig.AllOn ? CaseAnswer.StuckOn : CaseAnswer.StuckOff,
                rig.AllOn ? CaseAnswer.WetFilm : CaseAnswer.ForgottenDump],
            CaseQuestion.Leaving => [CaseAnswer.DumpNow, CaseAnswer.TopUpThenDump, CaseAnswer.GrayOnly, CaseAnswer.CarryOn],
            CaseQuestion.Staying => [CaseAnswer.CarryOn, CaseAnswer.Divert, CaseAnswer.LeaveEarly],
            _ => [.. pool],
        };
        var count = rig.Question == CaseQuestion.Smell ? 2 + 2 * difficulty : 3 + difficulty;
        var others = Shuffled([.. fitting.Where(a => a != rig.Answer)], chance);
        return Shuffled([rig.Answer, .. others.Take(count - 1)], chance);
    }

    /// <summary>The same things in another order.</summary>
    internal static List<T> Shuffled<T>(List<T> of, SeededRandom chance)
    {
        for (var i = of.Count - 1; i > 0; i--)
        {
            var j = (int)(chance.Uniform() * (i + 1));
            (of[i], of[j]) = (of[j], of[i]);
        }
        return of;
    }

    // The cheapest checks that settle it, for who knows what to look for.
    private static List<EvidenceCode> Best(HiddenRig rig, PracticeTopic topic)
    {
        List<EvidenceCode> best = (topic, rig.Answer) switch
        {
            (PracticeTopic.Rinsing, CaseAnswer.CloseGray) => [EvidenceCode.Handles],
            (PracticeTopic.Rinsing, CaseAnswer.OutletClog) => [EvidenceCode.Flashlight],
            (PracticeTopic.Rinsing, _) => [EvidenceCode.WatchEnd],
            (PracticeTopic.Planning, _) => rig.GuestsCome ? [EvidenceCode.Flashlight, EvidenceCode.AskCrew] : [EvidenceCode.Flashlight],
            (_, CaseAnswer.WetFilm) => [EvidenceCode.PanelTomorrow],
            (_, CaseAnswer.PanelFault) => [EvidenceCode.Battery],
            (_, CaseAnswer.ForgottenDump) => [EvidenceCode.AskCrew],
            (_, CaseAnswer.StuckOn or CaseAnswer.StuckOff or CaseAnswer.TankFull or CaseAnswer.Heap) => [EvidenceCode.Flashlight],
            (_, CaseAnswer.FanDraw) => [EvidenceCode.FanOff],
            (_, CaseAnswer.BowlSeal) => [EvidenceCode.BowlHolds],
            (_, CaseAnswer.BlackAnaerobic) => [EvidenceCode.AddWater],
            (_, CaseAnswer.BlackCoated or CaseAnswer.Buildup) => [EvidenceCode.Sniff],
            (_, CaseAnswer.DryTrap) => [EvidenceCode.Traps],
            (_, CaseAnswer.GrayGreasy) => [EvidenceCode.SinkRun],
            (_, CaseAnswer.ValveOpenToSewer) => [EvidenceCode.Handles],
            (_, CaseAnswer.VentBlocked) => [EvidenceCode.RoofVent],
            (_, CaseAnswer.HoseOrCap) => [EvidenceCode.Hose],
            (_, CaseAnswer.OutletClog) => [EvidenceCode.DumpWatch],
            (_, CaseAnswer.ValveLeak) => [EvidenceCode.CapOff],
            _ => [],
        };
        return PracticeCase.GasIn(rig.Told()) is not null && best is not [EvidenceCode.GasOut] ? [EvidenceCode.GasOut, .. best] : best;
    }
}
