namespace Tanksophos.Core.Diagnosis;

/// <summary>
/// What each sign says of each condition: natural logarithms of the likelihood ratio, how often it is seen with the condition against without. From
/// practitioners' lists of signs, put into
/// figures and then checked on practice cases; there is one line per figure so that it can be argued with.
/// </summary>
internal static class SignTable
{
    /// <summary>One figure.</summary>
    /// <param name="Sign">The sign.</param>
    /// <param name="Condition">What it is a sign of.</param>
    /// <param name="LogOdds">What it weighs when fresh and of usual size; below 0 it speaks against.</param>
    /// <param name="HalfLifeDays">Days in which its weight halves; what is computed over months does not age.</param>
    public sealed record Line(SignCode Sign, Condition Condition, double LogOdds, double HalfLifeDays)
    {
        /// <summary>What the second of a kind weighs of the first, the third of the second: they are not independent.</summary>
        public double Again { get; init; } = 0.55;
    }

    // Each low dump and each dry start adds to the pile that stands: a habit over weeks is the pile in the making.
    private const double Piles = 0.8;

    private const double Weeks = 30, Season = 90, Never = 100_000;

    /// <summary>Chance of a condition on a rig of which nothing is known: most older rigs have something, few have any one thing.</summary>
    public static double Prior(Condition condition, bool black) => condition switch
    {
        Condition.Buildup => black ? 0.08 : 0.05,
        Condition.Heap => black ? 0.04 : 0.004, // it stands under a toilet
        Condition.OutletClog => 0.02,
        Condition.VentBlocked => 0.03,
        Condition.ValveLeak => 0.04,
        Condition.ValveStiff => 0.03,
    };

    /// <summary>All figures.</summary>
    public static IReadOnlyList<Line> Lines { get; } =
    [
        // A heap: liquids leave, solids stay. Flush goes down slowly or backs up though the tank is not full; it "fills" much too soon.
        new(SignCode.HeapSeen, Condition.Heap, 5.2, Season),        // seen is seen
        new(SignCode.BacksUp, Condition.Heap, 2.6, Weeks),          // the commonest word for it
        new(SignCode.FillsTooSoon, Condition.Heap, 1.9, Weeks),     // the heap stands under the drop
        new(SignCode.DrainsSlowly, Condition.Heap, 1.0, Weeks),     // also with a clog or a blocked vent
        new(SignCode.LiquidAlone, Condition.Heap, 0.7, Season),     // one dump says little, several much
        new(SignCode.StayedFull, Condition.Heap, 0.6, Weeks),
        new(SignCode.BlackStoodOpen, Condition.Heap, 1.5, Season),  // by hours: the first driver that practitioners name
        new(SignCode.DryStart, Condition.Heap, 0.5, Season) { Again = Piles },  // each time
        new(SignCode.LowDump, Condition.Heap, 0.6, Season) { Again = Piles },  // each time
        new(SignCode.ThriftyUse, Condition.Heap, 0.5, Never),
        new(SignCode.PaperFailed, Condition.Heap, 0.9, Season),
        new(SignCode.StoredDirty, Condition.Heap, 0.9, Season),
        new(SignCode.Rushed, Condition.Heap, -0.9, Weeks),          // solids that leave in a rush are no heap
        new(SignCode.RanSteadily, Condition.Heap, -0.3, Weeks),

        // Outlet clog: valve open, little or nothing comes, and it takes far longer than usual.
        new(SignCode.NothingCame, Condition.OutletClog, 5.0, Weeks),
        new(SignCode.Trickled, Condition.OutletClog, 3.4, Weeks),
        new(SignCode.RanSlowly, Condition.OutletClog, 1.5, Weeks),  // a kinked hose does it too
        new(SignCode.DrainedLong, Condition.OutletClog, 1.6, Weeks),
        new(SignCode.StayedFull, Condition.OutletClog, 2.4, Weeks),
        new(SignCode.DrainsSlowly, Condition.OutletClog, 1.5, Weeks),
        new(SignCode.BacksUp, Condition.OutletClog, 0.8, Weeks),
        new(SignCode.Rushed, Condition.OutletClog, -3.0, Weeks),
        new(SignCode.RanSteadily, Condition.OutletClog, -1.6, Weeks),
        new(SignCode.DrainedAsUsual, Condition.OutletClog, -1.2, Weeks),

        // Vent blocked: gurgling with the tank not full, slow flush, smell after every flush.
        new(SignCode.VentFoundBlocked, Condition.VentBlocked, 5.0, Season),
        new(SignCode.VentFoundClear, Condition.VentBlocked, -3.2, Season),
        new(SignCode.Gurgles, Condition.VentBlocked, 2.3, Weeks),
        new(SignCode.GurglesWhenFull, Condition.VentBlocked, 0.1, Weeks), // a full tank explains it
        new(SignCode.DrainsSlowly, Condition.VentBlocked, 1.3, Weeks),
        new(SignCode.RanSlowly, Condition.VentBlocked, 0.8, Weeks),  // air comes down the vent when a tank empties
        new(SignCode.DrainedLong, Condition.VentBlocked, 0.6, Weeks),
        new(SignCode.SmellOnFlush, Condition.VentBlocked, 0.8, Weeks),
        new(SignCode.Rushed, Condition.VentBlocked, -0.8, Weeks),    // no rush without air

        // Leaking valve: a drip at the cap, a level that falls without a dump, gray that rises while black falls.
        new(SignCode.ValveDrips, Condition.ValveLeak, 4.2, Season),
        new(SignCode.ValveWontClose, Condition.ValveLeak, 3.6, Weeks),
        new(SignCode.CapWet, Condition.ValveLeak, 3.2, Season),
        new(SignCode.CapDry, Condition.ValveLeak, -1.5, Season),
        new(SignCode.LevelFell, Condition.ValveLeak, 1.7, Season),
        new(SignCode.CrossFlow, Condition.ValveLeak, 3.0, Season),
        new(SignCode.LevelHeld, Condition.ValveLeak, -0.6, Weeks),
        new(SignCode.SmellAtBay, Condition.ValveLeak, 0.7, Weeks),
        new(SignCode.ValveStiff, Condition.ValveLeak, 0.4, Weeks),   // debris in the slot does both

        // Stiff valve.
        new(SignCode.ValveStiff, Condition.ValveStiff, 5.5, Season), // felt is felt
        new(SignCode.ValveWontClose, Condition.ValveStiff, 1.6, Weeks),
        new(SignCode.ValveDrips, Condition.ValveStiff, 0.3, Weeks),

        // Buildup: cycles to clear rise, probes stick, capacity shrinks, and it smells straight after a dump.
        new(SignCode.CyclesRise, Condition.Buildup, 2.4, Never),
        new(SignCode.CyclesMore, Condition.Buildup, 1.3, Never),
        new(SignCode.RinseDirty, Condition.Buildup, 0.9, Weeks),
        new(SignCode.RinseClear, Condition.Buildup, -0.7, Weeks),
        new(SignCode.HoldsLess, Condition.Buildup, 2.6, Season),
        new(SignCode.HoldsAll, Condition.Buildup, -1.6, Season),
        new(SignCode.LampFouled, Condition.Buildup, 1.1, Never),     // the commonest reason to look
        new(SignCode.LampsGood, Condition.Buildup, -0.3, Never),
        new(SignCode.SniffFailed, Condition.Buildup, 1.7, Weeks),
        new(SignCode.SniffFailedLater, Condition.Buildup, 0.5, Weeks),
        new(SignCode.SniffPassed, Condition.Buildup, -1.3, Weeks),   // a tank that sniff-tests clean is not coated
        new(SignCode.SmellAfterDump, Condition.Buildup, 1.0, Weeks),
        new(SignCode.FillsTooSoon, Condition.Buildup, 0.8, Weeks),
        new(SignCode.LongUncleaned, Condition.Buildup, 0.6, Never),
    ];

    /// <summary>No pile of signs makes a thing surer than this many to one (its logarithm).</summary>
    public const double Surest = 5.5;
}
