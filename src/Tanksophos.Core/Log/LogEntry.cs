using NodaTime;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Log;

/// <summary>
/// One thing that happened, as somebody wrote it down. A closed family of immutable records: every entry of a logbook is
/// one of the types in this file. The log records what happened, not what should have.
/// </summary>
public abstract record LogEntry
{
    private protected LogEntry()
    {
    }

    /// <summary>Unique within the logbook if present.</summary>
    public string? Id { get; init; }

    /// <summary>When it happened, with the local offset in force there.</summary>
    public required OffsetDateTime At
    {
        get;
        init
        {
            field = value;
            Instant = value.ToInstant(); // asked for so often that it is worked out once
        }
    }

    /// <summary>Id of the tank meant, if one is meant.</summary>
    public string? Tank { get; init; }

    /// <summary>Anything else worth keeping.</summary>
    public string? Note { get; init; }

    /// <summary>The moment on the global time line.</summary>
    public Instant Instant { get; private init; }

    /// <summary>The word of the format for this kind of entry: <c>reading</c>, <c>dump</c>, ...</summary>
    public string Type => EntryTypes.WordOf(this);
}

/// <summary>The words of the format for the kinds of entries.</summary>
public static class EntryTypes
{
    private static readonly (Type Clr, string Word)[] Table =
    [
        (typeof(StayEntry), "stay"), (typeof(PeopleEntry), "people"), (typeof(ValveEntry), "valve"),
        (typeof(ReadingEntry), "reading"), (typeof(DumpEntry), "dump"), (typeof(FlushEntry), "flush"),
        (typeof(WaterEntry), "water"), (typeof(DoseEntry), "dose"), (typeof(DriveEntry), "drive"),
        (typeof(OdorEntry), "odor"), (typeof(SymptomEntry), "symptom"), (typeof(CheckEntry), "check"),
        (typeof(ServiceEntry), "service"), (typeof(ChoreEntry), "chore"),
    ];

    /// <summary>All words, in the order of the format.</summary>
    public static IReadOnlyList<string> All { get; } = [.. Table.Select(t => t.Word)];

    /// <summary>The word for an entry.</summary>
    /// <exception cref="ArgumentException">It is of a kind that the format does not know.</exception>
    public static string WordOf(LogEntry entry)
    {
        ArgumentNullException.ThrowIfNull(entry);
        return WordOf(entry.GetType());
    }

    /// <summary>The word for a kind of entry.</summary>
    /// <param name="kind">Its type.</param>
    /// <exception cref="ArgumentException">The format does not know it.</exception>
    public static string WordOf(Type kind)
    {
        ArgumentNullException.ThrowIfNull(kind);
        foreach (var (clr, word) in Table) if (clr == kind) return word;
        throw new ArgumentException($"the format has no word for {kind.Name}", nameof(kind));
    }
}

/// <summary>Where the rig stands from now on.</summary>
public sealed record StayEntry : LogEntry
{
    /// <summary>The place's name.</summary>
    public string? Place { get; init; }

    /// <summary>What is connected there.</summary>
    public required Hookup Hookup { get; init; }

    /// <summary>The place's time zone (an IANA id), if known; otherwise entries keep their own offset.</summary>
    public DateTimeZone? Zone { get; init; }
}

/// <summary>People aboard from now on.</summary>
public sealed record PeopleEntry : LogEntry
{
    /// <summary>0 means nobody: no inflow.</summary>
    public required int Count { get; init; }
}

/// <summary>Position of a tank's gate valve.</summary>
public enum ValveState
{
    /// <summary>The tank drains as it fills.</summary>
    Open,

    /// <summary>The tank holds.</summary>
    Closed,
}

/// <summary>A valve moved and left so. Valves start closed.</summary>
public sealed record ValveEntry : LogEntry
{
    /// <summary>Open or closed.</summary>
    public required ValveState State { get; init; }
}

/// <summary>How a level came to be known.</summary>
public enum ReadingVia
{
    /// <summary>The monitor panel showed it.</summary>
    Panel,

    /// <summary>Somebody looked (down the toilet with a flashlight, at a clear wall).</summary>
    Sight,

    /// <summary>A water meter counted it.</summary>
    Meter,
}

/// <summary>What the monitor showed, or a level that somebody saw or metered.</summary>
public sealed record ReadingEntry : LogEntry
{
    /// <summary>Half-width of the 90 % range of a sighted level when none is stated, as a share of capacity.</summary>
    public const double SightPlusMinus = 0.1;

    /// <summary>Half-width of the 90 % range of a metered level when none is stated, as a share of capacity.</summary>
    public const double MeterPlusMinus = 0.03;

    /// <summary>Panel, sight or meter.</summary>
    public required ReadingVia Via { get; init; }

    /// <summary>Ids of the probes whose lamps were lit; null unless a probe panel was read.</summary>
    public IReadOnlyList<string>? Lit { get; init; }

    /// <summary>What a percent panel showed, 0..100; null otherwise.</summary>
    public double? Percent { get; init; }

    /// <summary>Level seen or metered as a share of capacity, 0..1; null for a panel.</summary>
    public double? Fraction { get; init; }

    /// <summary>Half-width of the 90 % range of <see cref="Fraction"/>, 0..1, if stated.</summary>
    public double? PlusMinus { get; init; }

    /// <summary>What was measured at the probes; empty unless a device measures it.</summary>
    public IReadOnlyList<ProbeOhms> Ohms { get; init; } = [];

    /// <summary>Temperature in the bay, in C; null unless a device measures it.</summary>
    public double? BayC { get; init; }

    /// <summary>Whether a device saw it rise within the hour, light after light or percent after percent: more ran in than is usual.</summary>
    public bool? Rising { get; init; }
}

/// <summary>Resistance between a probe and its common.</summary>
/// <param name="Probe">Id of the probe.</param>
/// <param name="Ohms">Ohms, more than 0.</param>
public sealed record ProbeOhms(string Probe, double Ohms)
{
    /// <summary>Most that is believed: beyond it nothing is connected.</summary>
    public const double Most = 1e9;

    // Centers and spreads of log10(ohms). Waste conducts well, at some ten thousand ohms; a film that dries conducts worse and worse, ten times and more; what
    // bridges a fouled probe stays wet and lies between. A judgement: panels differ by their studs, so the spreads are wide.
    private static readonly (double Center, double Spread) Water = (4.3, 0.35), Film = (5.3, 0.45), Fouled = (4.8, 0.5);

    /// <summary>How likely this is with liquid at the probe, with a film on it, and with something that bridges it; the largest is 1.</summary>
    public (double Water, double Film, double Fouled) Odds()
    {
        double Of((double Center, double Spread) kind) =>
            // Heavy tails: a figure from another kind of panel must not decide.
            0.02 + Math.Exp(-0.5 * Math.Pow((Math.Log10(Math.Max(Ohms, 1)) - kind.Center) / kind.Spread, 2)) / kind.Spread;
        var (water, film, fouled) = (Of(Water), Of(Film), Of(Fouled));
        var most = Math.Max(water, Math.Max(film, fouled));
        return (water / most, film / most, fouled / most);
    }
}

/// <summary>How a dump ran.</summary>
public enum DumpFlow
{
    /// <summary>One fast rush.</summary>
    Rush,

    /// <summary>Even and quick.</summary>
    Steady,

    /// <summary>Slower than usual.</summary>
    Slow,

    /// <summary>Little came.</summary>
    Trickle,

    /// <summary>Nothing came.</summary>
    None,
}

/// <summary>Color at the END of a dump or rinse cycle, the trickle that counts.</summary>
public enum EndColor
{
    /// <summary>Clear.</summary>
    Clear,

    /// <summary>Tinted.</summary>
    Tinted,

    /// <summary>Dark.</summary>
    Dark,
}

/// <summary>What came with the water.</summary>
public enum Debris
{
    /// <summary>Nothing.</summary>
    None,

    /// <summary>Specks.</summary>
    Specks,

    /// <summary>Paper.</summary>
    Paper,

    /// <summary>Chunks.</summary>
    Chunks,
}

/// <summary>The valve was opened, the tank drained as far as it would, and the valve closed (unless it stood open before).</summary>
public sealed record DumpEntry : LogEntry
{
    /// <summary>Share of capacity that stays behind after a dump or flush that ran (residue in the corners).</summary>
    public const double ResidueFraction = 0.01;

    /// <summary>How long it ran, in minutes.</summary>
    public double? Minutes { get; init; }

    /// <summary>How it ran.</summary>
    public DumpFlow? Flow { get; init; }

    /// <summary>Color at the end.</summary>
    public EndColor? End { get; init; }

    /// <summary>What came with it.</summary>
    public Debris? Debris { get; init; }

    /// <summary>Litres that came out, if they were measured.</summary>
    public double? VolumeL { get; init; }

    /// <summary>False if little or nothing came out, so that the tank did not empty.</summary>
    public bool Emptied => Flow is not (DumpFlow.Trickle or DumpFlow.None);
}

/// <summary>How rinse water got in.</summary>
public enum FlushMethod
{
    /// <summary>The spray head inside the tank.</summary>
    BuiltIn,

    /// <summary>The toilet's pedal.</summary>
    Pedal,

    /// <summary>Bucket or jug.</summary>
    Bucket,

    /// <summary>A wand down the toilet.</summary>
    Wand,

    /// <summary>Backwards through the outlet.</summary>
    Reverse,

    /// <summary>Gray water flooding up into black.</summary>
    GrayBackfeed,

    /// <summary>A pressure jet, a trained person's job.</summary>
    Jet,
}

/// <summary>One rinse cycle.</summary>
/// <param name="Seconds">Seconds of filling, if timed.</param>
/// <param name="WaterL">Litres that went in, if metered.</param>
/// <param name="End">Color at the end of the cycle.</param>
/// <param name="Debris">What came with it.</param>
public sealed record FlushCycle(double? Seconds, double? WaterL, EndColor? End, Debris? Debris);

/// <summary>Rinse cycles after a dump; ends drained and closed (unless the valve stood open before).</summary>
public sealed record FlushEntry : LogEntry
{
    /// <summary>How the water got in.</summary>
    public required FlushMethod Method { get; init; }

    /// <summary>The cycles in order; may be empty.</summary>
    public IReadOnlyList<FlushCycle> Cycles { get; init; } = [];
}

/// <summary>Why clean water went in.</summary>
public enum WaterPurpose
{
    /// <summary>Starter water: covers the bottom after a dump.</summary>
    Starter,

    /// <summary>Brought up to the dump level before dumping.</summary>
    TopUp,

    /// <summary>For a soak.</summary>
    Soak,

    /// <summary>For storage.</summary>
    Storage,

    /// <summary>Anything else.</summary>
    Other,
}

/// <summary>Clean water was put in.</summary>
public sealed record WaterEntry : LogEntry
{
    /// <summary>Litres, 0 or more.</summary>
    public required double WaterL { get; init; }

    /// <summary>What for.</summary>
    public required WaterPurpose Purpose { get; init; }
}

/// <summary>What was dosed.</summary>
public enum DoseRecipe
{
    /// <summary>Enzyme or bacteria, the routine dose of that school.</summary>
    Enzyme,

    /// <summary>Deodorant digester.</summary>
    Deodorant,

    /// <summary>Softener and cleaner solution.</summary>
    SoftenerCleaner,

    /// <summary>Dry yeast enzyme.</summary>
    Yeast,

    /// <summary>Borax and soap for the drive to the dump.</summary>
    TravelScrub,

    /// <summary>A little borax and water against a smell.</summary>
    Freshener,

    /// <summary>Softener and detergent in a full tank for a day.</summary>
    SoftenerSoak,

    /// <summary>Ice on a drive.</summary>
    IceScrub,

    /// <summary>Dish soap overnight.</summary>
    SoapSoak,

    /// <summary>Bleach in clean water in a flushed tank.</summary>
    SanitizeBleach,

    /// <summary>An old recipe with bleach; recorded when reported, never advised.</summary>
    ClassicBleach,

    /// <summary>A cleaner for probes.</summary>
    SensorCleaner,

    /// <summary>Digests paper.</summary>
    PaperDigester,

    /// <summary>Lubricates valves.</summary>
    ValveLubricant,

    /// <summary>Conditions the bowl's seal.</summary>
    SealConditioner,

    /// <summary>Dish soap for gray.</summary>
    GraySoap,

    /// <summary>Degreaser for gray.</summary>
    GrayDegreaser,

    /// <summary>For storage.</summary>
    StorageDose,

    /// <summary>Anything else.</summary>
    Other,
}

/// <summary>A treatment was put in.</summary>
public sealed record DoseEntry : LogEntry
{
    /// <summary>What it was.</summary>
    public required DoseRecipe Recipe { get; init; }

    /// <summary>How much, in the owner's words.</summary>
    public string? Amount { get; init; }

    /// <summary>Litres of water that went in with it.</summary>
    public double? WaterL { get; init; }

    /// <summary>What it took from the rig's shelf; empty where nobody said.</summary>
    public IReadOnlyList<ProductUse> Used { get; init; } = [];
}

/// <summary>What a treatment took from the shelf.</summary>
/// <param name="Product">Id of the product.</param>
/// <param name="Quantity">How much, in what its bottle is counted in (millilitres, grams, pieces); above 0.</param>
public sealed record ProductUse(string Product, double Quantity);

/// <summary>The rig moved.</summary>
public sealed record DriveEntry : LogEntry
{
    /// <summary>Hours on the road.</summary>
    public required double Hours { get; init; }

    /// <summary>Whether the road wound (more slosh).</summary>
    public bool? Winding { get; init; }
}

/// <summary>Where a smell was.</summary>
public enum OdorPlace
{
    /// <summary>In the bathroom.</summary>
    Bathroom,

    /// <summary>When the toilet is flushed.</summary>
    ToiletOnFlush,

    /// <summary>At the shower.</summary>
    Shower,

    /// <summary>At the bathroom sink.</summary>
    BathSink,

    /// <summary>At the galley sink.</summary>
    GalleySink,

    /// <summary>Near the floor.</summary>
    Floor,

    /// <summary>Everywhere.</summary>
    WholeRig,

    /// <summary>Outside.</summary>
    Outside,

    /// <summary>In the storage bay.</summary>
    StorageBay,
}

/// <summary>What it smelled like.</summary>
public enum Smell
{
    /// <summary>Rotten egg.</summary>
    RottenEgg,

    /// <summary>Sewage.</summary>
    Sewage,

    /// <summary>Rancid food.</summary>
    Rancid,

    /// <summary>Musty.</summary>
    Musty,

    /// <summary>Chemical.</summary>
    Chemical,

    /// <summary>Gas.</summary>
    Gas,
}

/// <summary>What was going on when it smelled.</summary>
public enum OdorWhen
{
    /// <summary>The exhaust fan ran.</summary>
    FanOn,

    /// <summary>The roof vent stood open.</summary>
    RoofVentOpen,

    /// <summary>A hot day.</summary>
    HotDay,

    /// <summary>While driving.</summary>
    Driving,

    /// <summary>While connected to a sewer.</summary>
    HookedUp,

    /// <summary>Straight after a dump.</summary>
    RightAfterDump,

    /// <summary>After standing unused.</summary>
    AfterStorage,

    /// <summary>Near a fixture that is not used.</summary>
    UnusedFixture,

    /// <summary>While a sink drains.</summary>
    DrainingSink,

    /// <summary>All the time.</summary>
    Always,
}

/// <summary>A smell.</summary>
public sealed record OdorEntry : LogEntry
{
    /// <summary>Where.</summary>
    public required OdorPlace Where { get; init; }

    /// <summary>What it smelled like.</summary>
    public required Smell Smell { get; init; }

    /// <summary>1 (faint) to 5 (unbearable); null if not said.</summary>
    public int? Strength { get; init; }

    /// <summary>What was going on.</summary>
    public IReadOnlyList<OdorWhen> When { get; init; } = [];

    /// <summary>The drain it came from, in the rig's own word for it; null if none was pointed at.</summary>
    public string? Fixture { get; init; }
}

/// <summary>Something noticed.</summary>
public enum SymptomCode
{
    /// <summary>Water comes back up on flushing.</summary>
    BacksUpOnFlush,

    /// <summary>Drains slowly.</summary>
    DrainsSlowly,

    /// <summary>The toilet burps on flushing.</summary>
    Gurgles,

    /// <summary>The tank fills much too soon.</summary>
    FillsTooSoon,

    /// <summary>A heap under the toilet was seen.</summary>
    HeapSeen,

    /// <summary>The valve is open and nothing comes.</summary>
    NothingComesOut,

    /// <summary>The valve is hard to move.</summary>
    ValveStiff,

    /// <summary>The valve drips.</summary>
    ValveDrips,

    /// <summary>The valve does not close.</summary>
    ValveWontClose,

    /// <summary>The bowl does not hold its water.</summary>
    BowlGoesDry,

    /// <summary>Water stands in the shower base: gray is full.</summary>
    ShowerStandsInWater,

    /// <summary>The propane alarm sounded.</summary>
    PropaneAlarm,

    /// <summary>No lamp lights on any tank.</summary>
    LampsDead,

    /// <summary>All lamps light on all tanks.</summary>
    LampsAllOn,
}

/// <summary>Something was noticed.</summary>
public sealed record SymptomEntry : LogEntry
{
    /// <summary>What.</summary>
    public required SymptomCode Code { get; init; }

    /// <summary>The drain at which it was noticed, in the rig's own word for it; null if none was pointed at.</summary>
    public string? Fixture { get; init; }
}

/// <summary>A test that can pass or fail.</summary>
public enum CheckCode
{
    /// <summary>Toilet valve open, fan on for a second, before anything is dosed: no smell.</summary>
    SniffTest,

    /// <summary>The bowl holds its water for hours.</summary>
    BowlHoldsWater,

    /// <summary>All drain traps hold water.</summary>
    TrapsWet,

    /// <summary>The roof vent is clear.</summary>
    RoofVentClear,

    /// <summary>The battery is in order.</summary>
    BatteryOk,

    /// <summary>Someone qualified ruled out propane.</summary>
    PropaneRuledOut,

    /// <summary>The wiring is in order.</summary>
    WiringOk,

    /// <summary>The paper falls apart in water.</summary>
    PaperDissolves,

    /// <summary>The cap is dry.</summary>
    CapDry,

    /// <summary>The hose is sound.</summary>
    HoseSound,

    /// <summary>Asked whether a tank was dumped without an entry since it was last looked at: it was not.</summary>
    NotDumped,

    /// <summary>Asked whether an entry of this moment is right: it is.</summary>
    AsLogged,
}

/// <summary>Outcome of a check.</summary>
public enum CheckResult
{
    /// <summary>In order.</summary>
    Pass,

    /// <summary>Not in order.</summary>
    Fail,
}

/// <summary>A test that was done.</summary>
public sealed record CheckEntry : LogEntry
{
    /// <summary>Which test.</summary>
    public required CheckCode Code { get; init; }

    /// <summary>How it came out.</summary>
    public required CheckResult Result { get; init; }

    /// <summary>A measured value, if there was one.</summary>
    public double? Value { get; init; }
}

/// <summary>Work that was done on the rig.</summary>
public enum ServiceCode
{
    /// <summary>Pressure jetting by a trained person.</summary>
    PressureJet,

    /// <summary>A probe was replaced.</summary>
    ProbeReplaced,

    /// <summary>Wiring was repaired.</summary>
    WiringRepaired,

    /// <summary>A valve was replaced.</summary>
    ValveReplaced,

    /// <summary>A valve was lubricated.</summary>
    ValveLubricated,

    /// <summary>A seal was conditioned.</summary>
    SealConditioned,

    /// <summary>A seal was replaced.</summary>
    SealReplaced,

    /// <summary>The vent was cleared.</summary>
    VentCleared,

    /// <summary>Opened for the season.</summary>
    SeasonOpen,

    /// <summary>Closed for the season.</summary>
    SeasonClose,
}

/// <summary>How dirty a tank was found, from what came out.</summary>
public enum Grade
{
    /// <summary>Clean.</summary>
    A,

    /// <summary>A little.</summary>
    B,

    /// <summary>Some.</summary>
    C,

    /// <summary>Much.</summary>
    D,

    /// <summary>Very much.</summary>
    E,

    /// <summary>Blocked with it.</summary>
    F,
}

/// <summary>Work was done.</summary>
public sealed record ServiceEntry : LogEntry
{
    /// <summary>Which work.</summary>
    public required ServiceCode Code { get; init; }

    /// <summary>Id of the probe meant, if one is meant.</summary>
    public string? Probe { get; init; }

    /// <summary>Grade given from what came out.</summary>
    public Grade? Grade { get; init; }

    /// <summary>What it cost, in the smallest unit of the household's currency; 0 or more.</summary>
    public int? CostMinor { get; init; }

    /// <summary>How long it took, in minutes.</summary>
    public double? Minutes { get; init; }

    /// <summary>Pressure of a jet, in bar; rigs are jetted at 100 to 280 (1500 to 4000 psi).</summary>
    public double? PressureBar { get; init; }

    /// <summary>Floods after a jet; two to four at nine tenths are usual.</summary>
    public int? Floods { get; init; }

    /// <summary>What came out.</summary>
    public Debris? Debris { get; init; }

    /// <summary>Who did it, as free words.</summary>
    public string? By { get; init; }

    /// <summary>Whether the rig was closed against frost (with a season's close); null where nobody said.</summary>
    public bool? Frost { get; init; }
}

/// <summary>How a chore went.</summary>
public enum ChoreResult
{
    /// <summary>Done, all in order.</summary>
    Done,

    /// <summary>Done, and something is not in order.</summary>
    Problem,

    /// <summary>Left out this time, or put off.</summary>
    Skipped,
}

/// <summary>A chore of the year was done, found something, or was left out.</summary>
public sealed record ChoreEntry : LogEntry
{
    /// <summary>Which: a word of <see cref="ChoreWords"/>, or the id of a chore of the rig's own.</summary>
    public required string Chore { get; init; }

    /// <summary>How it went.</summary>
    public required ChoreResult Result { get; init; }

    /// <summary>The part or drain meant, as free words; null for all of it.</summary>
    public string? Part { get; init; }

    /// <summary>What it cost, in the smallest unit of the household's currency; 0 or more.</summary>
    public int? CostMinor { get; init; }

    /// <summary>How long it took, in minutes.</summary>
    public double? Minutes { get; init; }

    /// <summary>Put off until then; only with <see cref="ChoreResult.Skipped"/>.</summary>
    public OffsetDateTime? Until { get; init; }
}

/// <summary>The words of the program's own chores, as they stand in the open format.</summary>
public static class ChoreWords
{
#pragma warning disable CS1591 // each is its own word
    public const string Traps = "traps", DeepClean = "deep-clean", HoseInspection = "hose-inspection", YearlyInspection = "yearly-inspection",
        StorageCheck = "storage-check", GrayCare = "gray-care", Frost = "frost";
    public const string PressureJet = "pressure-jet", SeasonOpen = "season-open", SeasonClose = "season-close";
#pragma warning restore CS1591

    /// <summary>Those that an entry of kind chore may name; the others are services.</summary>
    public static IReadOnlyList<string> Logged { get; } = [Traps, DeepClean, HoseInspection, YearlyInspection, StorageCheck, GrayCare, Frost];

    /// <summary>All of them.</summary>
    public static IReadOnlyList<string> All { get; } = [.. Logged, PressureJet, SeasonOpen, SeasonClose];
}
