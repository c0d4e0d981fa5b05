namespace Tanksophos.Core.Trips;

/// <summary>
/// What a plan costs, in terms that are compared one after the other: the first that differs decides. The terms stand in one number, so that costs add and
/// compare as numbers do. See docs/decisions/0009-planner.md.
/// </summary>
internal readonly record struct PlanCost(UInt128 Packed) : IComparable<PlanCost>
{
    // Bits of the terms, from the last to the first. The sums of the longest trip that is accepted stay within them.
    private const int WaitingBits = 14, MoneyBits = 30, DistanceBits = 14, DumpBits = 12, GrayBits = 14, CarriedBits = 2, LateBits = 16, AwayBits = 10;
    private const int MoneyAt = WaitingBits, DistanceAt = MoneyAt + MoneyBits, DumpsAt = DistanceAt + DistanceBits, GrayAt = DumpsAt + DumpBits,
        CarriedAt = GrayAt + GrayBits;
    private const int LateAt = CarriedAt + CarriedBits, AwayAt = LateAt + LateBits, LowAt = AwayAt + AwayBits;

    public static readonly PlanCost None;
    public static readonly PlanCost Impossible = new(UInt128.MaxValue);

    /// <summary>Black dumps below half of the tank that nothing was put on top of.</summary>
    public static PlanCost Low(int dumps) => new((UInt128)(uint)dumps << LowAt);

    /// <summary>Black dumps elsewhere than at a site with its own sewer.</summary>
    public static PlanCost Away(int dumps) => new((UInt128)(uint)dumps << AwayAt);

    /// <summary>Days beyond the longest time between black dumps, in tenths.</summary>
    public static PlanCost Late(double days) => new((UInt128)Whole(10 * days, 6000) << LateAt);

    /// <summary>Black carried home from a last stop with a sewer.</summary>
    public static PlanCost CarriedHome => new(UInt128.One << CarriedAt);

    /// <summary>Gray missing at the rinse, in fifths of what is wanted.</summary>
    public static PlanCost GrayShort(double share) => new((UInt128)Whole(5 * share, 5) << GrayAt);

    /// <summary>Dumps, counted by tank.</summary>
    public static PlanCost Dumps(int tanks) => new((UInt128)(uint)tanks << DumpsAt);

    /// <summary>How far from its rush level black is dumped, or gray from two thirds, in tenths of the tank.</summary>
    public static PlanCost Distance(double share) => new((UInt128)Whole(10 * share, 10) << DistanceAt);

    /// <summary>Fees in the smallest coin, and litres of water put on top.</summary>
    public static PlanCost Money(double feeMinor, double waterL) => new((UInt128)Whole(feeMinor + waterL, 1_000_000) << MoneyAt);

    /// <summary>Minutes that others wait.</summary>
    public static PlanCost Waiting(int minutes) => new((uint)minutes);

    /// <summary>The terms down to the number of dumps; what comes after is left out.</summary>
    public PlanCost ThroughDumps => new(Packed >> DumpsAt);

    public static PlanCost operator +(PlanCost a, PlanCost b) => a == Impossible || b == Impossible ? Impossible : new(a.Packed + b.Packed);

    public int CompareTo(PlanCost other) => Packed.CompareTo(other.Packed);

    private static ulong Whole(double x, double most) => (ulong)Math.Round(Math.Clamp(x, 0, most));
}
