namespace Tanksophos.Core.Practice;

/// <summary>
/// How often a check finds what it looks for, by what is so: from practitioners' lists of what points to a cause and what points away, put into figures. The
/// hidden rig draws from them, and who plays weighs by them.
/// </summary>
internal static class EvidenceOdds
{
    /// <summary>The chance, 0..1, that a check finds something.</summary>
    /// <param name="code">The check.</param>
    /// <param name="answer">What is so.</param>
    public static double Found(EvidenceCode code, CaseAnswer answer) => code switch
    {
        // For a look from above: that the tank is found fuller than a quarter, or a pile is seen.
        EvidenceCode.Flashlight => answer switch
        {
            CaseAnswer.TankFull or CaseAnswer.OutletClog => 0.97,
            CaseAnswer.Heap => 0.92,
            CaseAnswer.StuckOff or CaseAnswer.PanelFault => 0.9,
            CaseAnswer.StuckOn or CaseAnswer.WetFilm or CaseAnswer.ForgottenDump => 0.04,
            _ => 0.1,
        },
        EvidenceCode.AskCrew => answer switch { CaseAnswer.ForgottenDump => 0.9, CaseAnswer.TankFull => 0.7, _ => 0.02 },
        EvidenceCode.Handles => answer is CaseAnswer.ValveOpenToSewer or CaseAnswer.CloseGray ? 0.99 : 0.01,
        EvidenceCode.Battery => answer == CaseAnswer.PanelFault ? 0.95 : 0.01,
        EvidenceCode.PanelTomorrow => answer == CaseAnswer.WetFilm ? 0.97 : 0.08,
        EvidenceCode.Wiring => answer == CaseAnswer.StuckOff ? 0.85 : 0.05,
        EvidenceCode.MeteredFill => answer is CaseAnswer.StuckOff or CaseAnswer.PanelFault ? 0.2 : 0.6,
        EvidenceCode.GasOut => answer == CaseAnswer.Propane ? 0.97 : 0.02,
        EvidenceCode.Sniff => answer switch
        {
            CaseAnswer.BlackCoated or CaseAnswer.Buildup => 0.92,
            CaseAnswer.BlackAnaerobic => 0.85,
            CaseAnswer.RinseAgain or CaseAnswer.DeepClean or CaseAnswer.CloseGray or CaseAnswer.OutletClog => 0.95,
            CaseAnswer.BowlSeal or CaseAnswer.FanDraw or CaseAnswer.VentBlocked => 0.35,
            CaseAnswer.Done => 0.02,
            _ => 0.1,
        },
        EvidenceCode.FanOff => answer == CaseAnswer.FanDraw ? 0.95 : 0.06,
        EvidenceCode.BowlHolds => answer == CaseAnswer.BowlSeal ? 0.96 : 0.03,
        EvidenceCode.Traps => answer == CaseAnswer.DryTrap ? 0.95 : 0.04,
        EvidenceCode.SinkRun => answer == CaseAnswer.GrayGreasy ? 0.93 : 0.07,
        EvidenceCode.AddWater => answer == CaseAnswer.BlackAnaerobic ? 0.88 : 0.08,
        EvidenceCode.RoofVent => answer == CaseAnswer.VentBlocked ? 0.96 : 0.03,
        EvidenceCode.CapOff => answer == CaseAnswer.ValveLeak ? 0.94 : 0.04,
        EvidenceCode.Hose => answer == CaseAnswer.HoseOrCap ? 0.94 : 0.04,
        EvidenceCode.BowlFlush => answer switch { CaseAnswer.Heap or CaseAnswer.VentBlocked => 0.85, CaseAnswer.TankFull => 0.97, _ => 0.03 },
        EvidenceCode.DumpWatch => answer == CaseAnswer.OutletClog ? 0.97 : 0.03,
        EvidenceCode.Cleanout => answer == CaseAnswer.OutletClog ? 0.9 : 0.05,
        EvidenceCode.WatchEnd => answer switch { CaseAnswer.Done => 0.02, _ => 0.95 },
        EvidenceCode.RinseWatch => answer switch { CaseAnswer.Done => 0.02, CaseAnswer.RinseAgain => 0.5, _ => 0.95 },
    };
}
