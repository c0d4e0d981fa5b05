using NodaTime;
using Tanksophos.Core.Log;
using Tanksophos.Core.Outlook;
using Tanksophos.Core.Trips;

namespace Tanksophos.Core.Agendas;

/// <summary>What there is to do.</summary>
public enum AgendaCode
{
    /// <summary>Everyone out.</summary>
    Evacuate,

    /// <summary>Out, doors open, air the rig.</summary>
    Ventilate,

    /// <summary>Close a valve.</summary>
    CloseValve,

    /// <summary>Open a valve.</summary>
    OpenValve,

    /// <summary>Nothing more into the toilet or the drains of a tank.</summary>
    StopUsing,

    /// <summary>No more water down the drains.</summary>
    StopWater,

    /// <summary>A dump run.</summary>
    DumpRun,

    /// <summary>Rinse a tank.</summary>
    Rinse,

    /// <summary>Water into black before a dump.</summary>
    TopUp,

    /// <summary>Water that covers the bottom.</summary>
    StarterWater,

    /// <summary>A routine treatment.</summary>
    Dose,

    /// <summary>A travel scrub before a drive.</summary>
    ScrubBeforeDrive,

    /// <summary>A rung of a ladder.</summary>
    Remedy,

    /// <summary>A check.</summary>
    Check,

    /// <summary>Look at the level.</summary>
    LookInside,

    /// <summary>Be at a drain in time.</summary>
    FindDrain,

    /// <summary>Part of the gray water goes down the toilet.</summary>
    Divert,

    /// <summary>Confirm an entry that seems to be missing.</summary>
    ConfirmEntry,

    /// <summary>A chore.</summary>
    Care,

    /// <summary>Buy something.</summary>
    Buy,

    /// <summary>Say where the rig is.</summary>
    LogPlace,

    /// <summary>Bring the log up to date.</summary>
    CatchUp,
}

/// <summary>How soon.</summary>
public enum AgendaLevel
{
    /// <summary>Before everything else: people can be hurt.</summary>
    Safety,

    /// <summary>Now.</summary>
    Now,

    /// <summary>Within a day.</summary>
    Today,

    /// <summary>Within four days.</summary>
    Soon,

    /// <summary>Later.</summary>
    Later,
}

/// <summary>The words for reasons, as they stand in the open format.</summary>
public static class Because
{
#pragma warning disable CS1591 // each is its own word
    public const string PropaneAlarm = "propane-alarm", GasSmell = "gas-smell";
    public const string Bleach = "bleach", NothingCame = "nothing-came", Trickle = "trickle", Clog = "outlet-clog", Heap = "heap";
    public const string BlackOpen = "black-open", NothingDrains = "nothing-drains", Departure = "departure", GrayForRinse = "gray-for-rinse",
        DrainsHere = "drains-here";
    public const string Level = "level", Days = "days", MayOverflow = "may-overflow", Plan = "plan", SoakDone = "soak-done",
        RinsedWithWater = "rinsed-with-water";
    public const string SewerAhead = "sewer-ahead", NoStarterWater = "no-starter-water", NoDose = "no-dose", DoseWornOff = "dose-worn-off",
        SniffFailed = "sniff-failed";
    public const string SensorDoubt = "sensor-doubt", WideRange = "wide-range", NoPlace = "no-place", TripDisagrees = "trip-disagrees", Silence = "silence";
    public const string Unlogged = "unlogged-emptying", UnloggedPeople = "unlogged-people";
    public const string HouseRule = "house-rule", Stock = "stock", Smell = "smell", Symptom = "symptom", Drive = "drive",
        DryStretch = "dry-stretch", UnusedTraps = "unused-traps", Device = "device", Filling = "filling";
    public const string DumpWithin48H = "dump-within-48-h", StillWorks = "still-works", BelongsToRun = "belongs-to-run", NoRoom = "no-room";
#pragma warning restore CS1591
}

/// <summary>One thing to do.</summary>
/// <param name="Code">What.</param>
/// <param name="Level">How soon.</param>
/// <param name="Tanks">Ids of the tanks meant, in the order in which they go; empty if it is about the rig.</param>
/// <param name="Because">Why, as words of <see cref="Agendas.Because"/> or of the diagnosis; never empty.</param>
public sealed record AgendaItem(AgendaCode Code, AgendaLevel Level, IReadOnlyList<string> Tanks, IReadOnlyList<string> Because)
{
    /// <summary>When; null for no hour of its own.</summary>
    public Instant? At { get; init; }

    /// <summary>By when at the latest; null if there is no such hour.</summary>
    public Instant? By { get; init; }

    /// <summary>The form of a run.</summary>
    public Dumping.RunForm? Form { get; init; }

    /// <summary>Litres of water.</summary>
    public double? WaterL { get; init; }

    /// <summary>The treatment.</summary>
    public DoseRecipe? Recipe { get; init; }

    /// <summary>Its amount in kitchen measures.</summary>
    public string? Amount { get; init; }

    /// <summary>What is done, as in the assessment's remedies.</summary>
    public string? Action { get; init; }

    /// <summary>What it is done for, as in the assessment's remedies.</summary>
    public string? For { get; init; }

    /// <summary>The check, as in the assessment.</summary>
    public string? Check { get; init; }

    /// <summary>The chore, or the product to buy.</summary>
    public string? Chore { get; init; }

    /// <summary>The chore behind it; null if it comes from elsewhere.</summary>
    public Care.CareItem? CareItem { get; init; }

    /// <summary>Name of the device meant; null for none.</summary>
    public string? Device { get; init; }

    /// <summary>The entry to confirm.</summary>
    public LogEntry? Entry { get; init; }

    /// <summary>The doubts about the log that are asked, one run of them.</summary>
    public IReadOnlyList<Levels.LogDoubt> Doubts { get; init; } = [];

    /// <summary>About so many minutes.</summary>
    public double? Minutes { get; init; }

    /// <summary>How full the first tank is expected to be then, as a share of what it holds; null where that is of no matter.</summary>
    public double? Fraction { get; init; }

    /// <summary>Share of the gray water that goes down the toilet.</summary>
    public double? Share { get; init; }

    /// <summary>The outlook's own step behind it, with its figures; null if it comes from elsewhere.</summary>
    public NextStep? Step { get; init; }

    /// <summary>The planned run behind it; null if it is not planned.</summary>
    public PlanRun? Planned { get; init; }

    /// <summary>The look by which the planned run may be left out; null without one.</summary>
    public PlanLook? Look { get; init; }

    /// <summary>The tank meant, if it is one.</summary>
    public string? Tank => Tanks.Count == 1 ? Tanks[0] : null;
}

/// <summary>Something that would be due and must not be done now.</summary>
/// <param name="Code">What.</param>
/// <param name="Tank">Id of the tank; null if it is about the rig.</param>
/// <param name="Because">Why not.</param>
/// <param name="Item">What it would have been.</param>
public sealed record AgendaHeld(AgendaCode Code, string? Tank, string Because, AgendaItem Item);

/// <summary>What there is to do, and what is held back.</summary>
/// <param name="AsOf">The moment; null for an empty log without one.</param>
/// <param name="Items">In order: by level, then by the hour.</param>
/// <param name="Held">What was thought of and must wait.</param>
public sealed record Agenda(OffsetDateTime? AsOf, IReadOnlyList<AgendaItem> Items, IReadOnlyList<AgendaHeld> Held)
{
    /// <summary>
    /// Tanks that do not let go of what is in them, by id, with the word of the reason: nothing is drained from them and nothing is filled in.
    /// </summary>
    public IReadOnlyDictionary<string, string> Blocked { get; init; } = new Dictionary<string, string>();

    /// <summary>Checks that would help and were answered just now, by their word and tank.</summary>
    public IReadOnlySet<(string Check, string? Tank)> Answered { get; init; } = new HashSet<(string, string?)>();

    /// <summary>Whether a check that would help is still to be made.</summary>
    /// <param name="check">Its word.</param>
    /// <param name="tank">Its tank; null for the rig.</param>
    public bool Asks(string check, string? tank) => !Answered.Contains((check, tank));
}
