using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Levels;

/// <summary>Makes a belief about the tanks out of a logbook. The same logbook always gives the same belief.</summary>
public interface ILevelEstimator
{
    /// <summary>What is believed at the logbook's now, given everything up to it.</summary>
    /// <param name="logbook">The rig and its log.</param>
    /// <param name="options">What else to keep; null for the belief alone.</param>
    LevelBelief Estimate(Logbook logbook, EstimateOptions? options = null);

    /// <summary>Starts an estimate that is fed entry by entry and can be asked at any time.</summary>
    /// <param name="rig">The rig.</param>
    /// <param name="options">What is wanted besides the belief itself.</param>
    IRunningEstimate Start(Rig rig, EstimateOptions? options = null);

    /// <summary>Takes up an estimate that was saved.</summary>
    /// <param name="rig">The rig, unchanged since.</param>
    /// <param name="saved">What <see cref="IRunningEstimate.Save"/> gave.</param>
    /// <param name="options">What is wanted besides the belief itself.</param>
    /// <returns>The estimate; null if it was saved by another version or is damaged, and has to be made anew.</returns>
    IRunningEstimate? Resume(Rig rig, ReadOnlyMemory<byte> saved, EstimateOptions? options = null);
}

/// <summary>An estimate in the making.</summary>
public interface IRunningEstimate
{
    /// <summary>Time of the last entry; null before the first.</summary>
    Instant? Last { get; }

    /// <summary>Takes an entry into account.</summary>
    /// <param name="entry">The entry; not earlier than <see cref="Last"/>.</param>
    /// <returns>What it changed in the belief about the tank that it means; null if it means none.</returns>
    BeliefChange? Add(LogEntry entry);

    /// <summary>The belief at a moment, with all entries so far; the estimate itself stays where it was.</summary>
    /// <param name="now">Not earlier than <see cref="Last"/>; null for the moment of the last entry.</param>
    LevelBelief At(OffsetDateTime? now);

    /// <summary>A copy that goes on by itself.</summary>
    /// <param name="options">What the copy is to keep; null for the same.</param>
    IRunningEstimate Copy(EstimateOptions? options = null);

    /// <summary>The estimate as bytes, for taking it up later; the level over time is not in it.</summary>
    byte[] Save();
}

/// <summary>What one entry changed in the belief about its tank.</summary>
/// <param name="BeforeL">Expected litres just before.</param>
/// <param name="BeforeSdL">Its standard deviation.</param>
/// <param name="AfterL">Expected litres just after.</param>
/// <param name="AfterSdL">Its standard deviation.</param>
/// <param name="Doubted">Labels of lamps no longer believed since this entry.</param>
/// <param name="Trusted">Labels of lamps believed again since this entry.</param>
public sealed record BeliefChange(float BeforeL, float BeforeSdL, float AfterL, float AfterSdL, IReadOnlyList<string> Doubted, IReadOnlyList<string> Trusted);

/// <summary>What an estimate keeps beside the belief.</summary>
/// <param name="TrackFrom">Keep the level over time from this moment on; null for none.</param>
public sealed record EstimateOptions(Instant? TrackFrom)
{
    /// <summary>Keep what is needed for looking back.</summary>
    internal bool ForSmoothing { get; init; }

    /// <summary>
    /// What the probes are known to have been at a reading (tank, probe, time): chances of working, stuck on, stuck off. The lamps then say nothing of the
    /// probes, only of the level.
    /// </summary>
    internal Func<string, string, Instant, (double Working, double StuckOn, double StuckOff)>? Known { get; init; }
}

/// <summary>What is believed about all tanks at one moment.</summary>
/// <param name="AsOf">The moment; null for a logbook without entries and without a stated moment.</param>
/// <param name="Tanks">One belief per tank, in the rig's order.</param>
/// <param name="PanelFault">Probability, 0..1, that the whole panel is at fault (battery, ground).</param>
public sealed record LevelBelief(OffsetDateTime? AsOf, IReadOnlyList<TankBelief> Tanks, double PanelFault)
{
    /// <summary>The part of <see cref="PanelFault"/> in which all lamps are dark; in the rest all are lit.</summary>
    public double PanelDead { get; init; }

    /// <summary>What was in force at that moment: people, place, valves.</summary>
    public required Circumstances InForce { get; init; }

    /// <summary>The belief about one tank.</summary>
    /// <exception cref="KeyNotFoundException">The rig has no such tank.</exception>
    public TankBelief this[string tankId] => Tanks.FirstOrDefault(t => t.Tank.Id == tankId)
        ?? throw new KeyNotFoundException($"No tank '{tankId}'.");
}

/// <summary>Whether to go by a tank's monitor.</summary>
public enum MonitorVerdict
{
    /// <summary>It agrees with everything else on record.</summary>
    Trust,

    /// <summary>Part of it may be wrong.</summary>
    Doubt,

    /// <summary>It is wrong.</summary>
    Ignore,

    /// <summary>There is no monitor.</summary>
    None,
}

/// <summary>What is believed about one probe; the three sum to 1 and the largest is the verdict.</summary>
/// <param name="Probe">The probe.</param>
/// <param name="Working">Probability that its lamp follows the level; a wet film counts as working.</param>
/// <param name="StuckOn">Probability that it is fouled: lit whatever the level.</param>
/// <param name="StuckOff">Probability that it never lights: wire or stud.</param>
/// <param name="DoubtedSince">The first of the readings in a row that speak against it; null while it is believed.</param>
public sealed record ProbeBelief(Probe Probe, double Working, double StuckOn, double StuckOff, Instant? DoubtedSince)
{
    /// <summary>Whether its lamp is believed.</summary>
    public bool Believed => Working >= StuckOn && Working >= StuckOff;
}

/// <summary>The panel's last word on a tank beside our own.</summary>
/// <param name="Entry">The reading.</param>
/// <param name="Believed">The level believed at that moment, with the reading taken into account.</param>
/// <param name="Contradicts">Labels of lamps that contradict that level; for a percent panel "percent"; empty if it agrees.</param>
public sealed record PanelReport(ReadingEntry Entry, LevelBand Believed, IReadOnlyList<string> Contradicts);

/// <summary>The believed level at a moment of the past.</summary>
/// <param name="At">The moment.</param>
/// <param name="Level">The level then, as believed then.</param>
/// <param name="MeanL">Expected litres.</param>
/// <param name="VarianceL">Variance of it, litres squared.</param>
/// <param name="Open">Whether the valve stood open.</param>
public readonly record struct TrackPoint(Instant At, LevelBand Level, double MeanL = 0, double VarianceL = 0, bool Open = false);

/// <summary>How much a household uses beside the usual: 1 is the median household.</summary>
/// <param name="Mean">Expected factor.</param>
/// <param name="Sd">Its standard deviation.</param>
public readonly record struct HouseholdFactor(double Mean, double Sd);

/// <summary>A household's factor by what is connected.</summary>
/// <param name="Full">With water and a drain.</param>
/// <param name="Partial">With water alone.</param>
/// <param name="Dry">With neither.</param>
public readonly record struct HouseholdFactors(HouseholdFactor Full, HouseholdFactor Partial, HouseholdFactor Dry);

/// <summary>Kinds of things in a log that do not fit the rest of it.</summary>
public enum InconsistencyKind
{
    /// <summary>The lamps fit only if the tank was emptied without a word in the log.</summary>
    UnloggedEmptying,

    /// <summary>Somebody saw a level far from what the log led to expect.</summary>
    SeenOtherwise,

    /// <summary>More was put in or came out than the tank holds.</summary>
    MoreThanFits,

    /// <summary>An entry seems to be some hours off: the lamps knew of a dump before it was logged.</summary>
    WrongHour,

    /// <summary>A light was probably written down wrongly.</summary>
    WrongLamp,

    /// <summary>One dump was probably logged twice.</summary>
    LoggedTwice,

    /// <summary>Black and gray both filled faster than the people logged would fill them: guests, or a stay that was not written down.</summary>
    UnloggedPeople,
}

/// <summary>Something in the log that does not fit the rest.</summary>
/// <param name="At">Time of the entry that shows it.</param>
/// <param name="Kind">What it is.</param>
/// <param name="ExpectedL">Litres that were expected, or that fit.</param>
/// <param name="FoundL">Litres that were found.</param>
public sealed record LogInconsistency(OffsetDateTime At, InconsistencyKind Kind, double ExpectedL, double FoundL)
{
    /// <summary>The earliest moment at which it can have happened; null for at <see cref="At"/> itself.</summary>
    public OffsetDateTime? From { get; init; }

    /// <summary>How sure it is, 0..1.</summary>
    public double Probability { get; init; } = 1;

    /// <summary>The probe whose light is meant; null for none.</summary>
    public Probe? Probe { get; init; }
}

/// <summary>What is believed about one tank.</summary>
public sealed record TankBelief
{
    /// <summary>The tank, with the capacity that is counted with.</summary>
    public required Tank Tank { get; init; }

    /// <summary>Litres in it.</summary>
    public required LevelBand Level { get; init; }

    /// <summary>This household's inflow into it at the present hookup, litres per person and day; 0 in storage.</summary>
    public required double InflowLPerPersonDay { get; init; }

    /// <summary>One belief per probe, low to high; empty without probes.</summary>
    public required IReadOnlyList<ProbeBelief> Probes { get; init; }

    /// <summary>Whether to go by the monitor.</summary>
    public required MonitorVerdict MonitorVerdict { get; init; }

    /// <summary>How the level goes on if people, place and valves stay as they are.</summary>
    public required ILevelForecast Forecast { get; init; }

    /// <summary>Whether its valve stands open.</summary>
    public required bool ValveOpen { get; init; }

    /// <summary>When it was last emptied (dump, flush, or valve closed after standing open); null if never on record.</summary>
    public Instant? LastEmptied { get; init; }

    /// <summary>The panel's last word; null if the panel was never read.</summary>
    public PanelReport? Panel { get; init; }

    /// <summary>This household beside the usual one.</summary>
    public HouseholdFactors Factors { get; init; }

    /// <summary>Litres by which a percent strip is believed to read high; 0 without one.</summary>
    public double CoatingL { get; init; }

    /// <summary>What in the log does not fit the rest, the latest last.</summary>
    public IReadOnlyList<LogInconsistency> Inconsistencies { get; init; } = [];

    /// <summary>What it holds as stated and as the log has shown; null if nobody has watched.</summary>
    public TankCapacity? Capacity { get; init; }

    /// <summary>The estimate behind it, for asking what a check would show.</summary>
    internal TankFilter? Filter { get; init; }

    /// <summary>The level over time, if it was asked for.</summary>
    public IReadOnlyList<TrackPoint> Track { get; init; } = [];

    /// <summary>A level as a share of the tank's capacity, 0..1.</summary>
    public double Fraction(double litres) => litres / Tank.CapacityL;
}

/// <summary>How a tank's level goes on from the moment of the belief, if people, place and valves stay as they are.</summary>
public interface ILevelForecast
{
    /// <summary>The moment it starts from.</summary>
    Instant From { get; }

    /// <summary>Local time at the place.</summary>
    DateTimeZone Zone { get; }

    /// <summary>Expected inflow in litres per day; 0 with nobody aboard, in storage, or with the valve open.</summary>
    double LitresPerDay { get; }

    /// <summary>The level at a moment not before <see cref="From"/>.</summary>
    LevelBand At(Instant moment);

    /// <summary>The level that is not exceeded with probability <paramref name="probability"/> after so many days of use.</summary>
    double Quantile(double days, double probability);

    /// <summary>
    /// The first moment at which the chance of at least <paramref name="litres"/> is <paramref name="probability"/>; null if that is more
    /// than 60 days away. 0.5 gives the expected hour, 0.05 the cautious one (one time in twenty it is sooner).
    /// </summary>
    Instant? Reaches(double litres, double probability);

    /// <summary>The chance that at least so much is in the tank at a moment.</summary>
    double ChanceOf(double litres, Instant moment);

    /// <summary>The forecast for the same tank emptied and closed at a moment.</summary>
    ILevelForecast EmptiedAt(Instant moment);
}
