namespace Tanksophos.Core.Rigs;

/// <summary>What to do with gray at a site with a sewer; practitioners disagree.</summary>
public enum GrayAtFullHookup
{
    /// <summary>Kept closed and dumped at about two thirds: better for the tank, more work.</summary>
    Batch,

    /// <summary>Open between dumps, closed early enough before the black dump to rinse the hose. What most do.</summary>
    Bank,

    /// <summary>Open except while black dumps: least work, but gray grows its own scum.</summary>
    Open,
}

/// <summary>How long to flush after a dump.</summary>
public enum FlushProgramme
{
    /// <summary>Two or three short refills.</summary>
    Quick,

    /// <summary>Until the end of a cycle runs clear, five cycles at most.</summary>
    Standard,

    /// <summary>Until two ends in a row run clear, seven cycles at most.</summary>
    Thorough,
}

/// <summary>The school of the routine treatment after each dump.</summary>
public enum TreatmentSchool
{
    /// <summary>Living cultures digest paper and solids.</summary>
    Enzyme,

    /// <summary>A chemical breaks down and masks.</summary>
    Deodorant,

    /// <summary>Slick walls and soft water; the tank holds, it does not digest.</summary>
    SoftenerCleaner,

    /// <summary>Borax and soap monthly or before a drive, nothing after each dump.</summary>
    BoraxSoap,

    /// <summary>Dry yeast enzyme.</summary>
    Yeast,

    /// <summary>Plenty of water, nothing else.</summary>
    WaterOnly,
}

/// <summary>Whether bleach is ever used.</summary>
public enum BleachRule
{
    /// <summary>Never: the default.</summary>
    Never,

    /// <summary>Only in clean water in an already flushed tank.</summary>
    CleanTank,
}

/// <summary>Which paper goes into the tank.</summary>
public enum PaperRule
{
    /// <summary>Only paper sold for rigs.</summary>
    RvOnly,

    /// <summary>Any paper that passed the glass test, with plenty of water: the default.</summary>
    AnyThatPasses,

    /// <summary>No paper in the tank.</summary>
    None,
}

/// <summary>How tanks stand when the rig is not used.</summary>
public enum StorageRule
{
    /// <summary>A little treated water, about 7 % of capacity: the default above freezing.</summary>
    TreatedWater,

    /// <summary>Full of fresh water.</summary>
    FullFresh,

    /// <summary>Dry.</summary>
    Dry,
}

/// <summary>How often the tanks get a deep clean (soak, scrub or reverse floods).</summary>
public enum DeepCleanRule
{
    /// <summary>Every month: for those who live aboard.</summary>
    Monthly,

    /// <summary>At the end of each trip: the default.</summary>
    EachTrip,

    /// <summary>Every three trips.</summary>
    EachFewTrips,

    /// <summary>Only when something speaks for it: more rinses than usual, a failed sniff test, stuck lights.</summary>
    BySigns,
}

/// <summary>What happens to a black that is below its level when the rig leaves a sewer.</summary>
public enum LeavingLowRule
{
    /// <summary>Whichever asks for fewer dumps on the trip: the default.</summary>
    FewerDumps,

    /// <summary>Topped up to the rush level and dumped before leaving.</summary>
    TopUp,

    /// <summary>Carried on to the next sewer, where the drive has loosened it, if it lasts until then.</summary>
    CarryOn,
}

/// <summary>The household's choices where experienced people disagree.</summary>
public sealed record HouseRules
{
    /// <summary>The choices of most practitioners.</summary>
    public static HouseRules Default { get; } = new();

    /// <summary>Share of capacity at which black is dumped: schools 1/2, 2/3, 3/4; default 2/3, full enough for a rush.</summary>
    public double DumpBlackAt { get; init; } = 0.66;

    /// <summary>Longest time between black dumps in days; default 10.</summary>
    public int MaxDays { get; init; } = 10;

    /// <summary>The same in hot weather, if that is less: seven days (practitioners' rule).</summary>
    public const int HotMaxDays = 7;

    /// <summary>Longest time between black dumps in days, by the weather.</summary>
    /// <param name="hot">Whether it is hot.</param>
    public int MaxDaysIn(bool hot) => hot ? Math.Min(HotMaxDays, MaxDays) : MaxDays;

    /// <summary>Gray at a site with a sewer; default bank.</summary>
    public GrayAtFullHookup GrayAtFullHookup { get; init; } = GrayAtFullHookup.Bank;

    /// <summary>Flush programme; default standard.</summary>
    public FlushProgramme Flush { get; init; } = FlushProgramme.Standard;

    /// <summary>Routine treatment; default enzyme.</summary>
    public TreatmentSchool Treatment { get; init; } = TreatmentSchool.Enzyme;

    /// <summary>Bleach; default never.</summary>
    public BleachRule Bleach { get; init; } = BleachRule.Never;

    /// <summary>Paper; default any that passes the glass test.</summary>
    public PaperRule Paper { get; init; } = PaperRule.AnyThatPasses;

    /// <summary>Storage above freezing; default a little treated water. In frost tanks are emptied and protected by the maker's manual.</summary>
    public StorageRule Storage { get; init; } = StorageRule.TreatedWater;

    /// <summary>Deep clean; default each trip.</summary>
    public DeepCleanRule DeepClean { get; init; } = DeepCleanRule.EachTrip;

    /// <summary>Black below its level when the rig leaves a sewer.</summary>
    public LeavingLowRule LeavingLow { get; init; } = LeavingLowRule.FewerDumps;

    /// <summary>Share of a gray tank that should stand ready to rinse the hose when black is dumped; default 1/2.</summary>
    public double GrayTargetAtDump { get; init; } = 0.5;

    /// <summary>Highest accepted chance that any tank overflows; default 0.05.</summary>
    public double OverflowRisk { get; init; } = 0.05;

    /// <summary>Highest accepted chance that black overflows; default 0.02: sewage is worse than dishwater.</summary>
    public double BlackOverflowRisk { get; init; } = 0.02;

    /// <summary>Share of capacity at which a closed gray is dumped ("about two thirds", batch school).</summary>
    public const double DumpGrayAt = 0.66;

    /// <summary>The level that calls for a dump of a tank, as a share of its capacity.</summary>
    public double DumpLevel(TankRole role) => role == TankRole.Black ? DumpBlackAt : DumpGrayAt;
}
