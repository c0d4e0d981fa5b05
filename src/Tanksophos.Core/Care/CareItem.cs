using NodaTime;
using Tanksophos.Core.Diagnosis;
using Tanksophos.Core.Log;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Core.Care;

/// <summary>How far a chore is.</summary>
public enum CareState
{
    /// <summary>Done, and not due for a while.</summary>
    Done,

    /// <summary>Due before long.</summary>
    Soon,

    /// <summary>Due.</summary>
    Due,

    /// <summary>Due for a good while.</summary>
    Overdue,

    /// <summary>Never on record; it may have been done long ago.</summary>
    Never,
}

/// <summary>The words for reasons of a chore, as they stand in the open format.</summary>
public static class CareBecause
{
#pragma warning disable CS1591 // each is its own word
    public const string Interval = "interval", NeverRecorded = "never-recorded", HouseRule = "house-rule", Trips = "trips", LivedIn = "lived-in";
    public const string BeforeStorage = "before-storage", InStorage = "in-storage", AfterStorage = "after-storage", Season = "season", Frost = "frost",
        Freezes = "freezes", ColdBay = "cold-bay";
    public const string Dumped = "dumped", Grade = "grade", Ungraded = "ungraded", Problem = "problem", HoldsWaste = "holds-waste";
    public const string SniffFailed = "sniff-failed", RinsesRise = "rinses-rise", StuckLight = "stuck-light", Buildup = "buildup";
    public const string PutOff = "put-off", WaitsForSewer = "waits-for-sewer", SkippedLast = "skipped";
#pragma warning restore CS1591
}

/// <summary>A chore of the year as it stands now.</summary>
/// <param name="Chore">Its word (<see cref="ChoreWords"/>), or the id of one of the rig's own.</param>
/// <param name="Tank">Id of the tank; null if it is about the rig.</param>
/// <param name="Due">When it is or was due.</param>
/// <param name="State">How far it is.</param>
/// <param name="Last">When it was last done; null if never on record.</param>
/// <param name="Because">Why it is due then, as words of <see cref="CareBecause"/>; never empty.</param>
public sealed record CareItem(string Chore, string? Tank, Instant Due, CareState State, Instant? Last, IReadOnlyList<string> Because)
{
    /// <summary>From when it is counted: the last time, or where the log begins.</summary>
    public required Instant From { get; init; }

    /// <summary>When it was done, oldest first.</summary>
    public IReadOnlyList<Instant> DoneAt { get; init; } = [];

    /// <summary>What speaks for it in the log, newest last.</summary>
    public IReadOnlyList<LogEntry> Evidence { get; init; } = [];

    /// <summary>The night for which it is done, for frost; null for other chores.</summary>
    public Weather.WeatherDay? Night { get; init; }

    /// <summary>What a thermometer in the bay says, in C, for frost; null for other chores.</summary>
    public double? BayC { get; init; }

    /// <summary>The rig's own chore; null for one of the program's.</summary>
    public OwnChore? Own { get; init; }

    /// <summary>Trips since it was done, where it goes by trips.</summary>
    public int? Trips { get; init; }

    /// <summary>Grade of the last jet.</summary>
    public Grade? Grade { get; init; }

    /// <summary>What is best for a deep clean here, by what calls for it and what is at hand; null for other chores.</summary>
    public RemedyAction? By { get; init; }

    /// <summary>Drains meant.</summary>
    public IReadOnlyList<string> Drains { get; init; } = [];

    /// <summary>What a first time costs in minutes, as practitioners say, or as the log shows.</summary>
    public double? Minutes { get; init; }

    /// <summary>What it cost the last time, in the smallest unit of the currency, or about, for one of the rig's own.</summary>
    public int? CostMinor { get; init; }

    /// <summary>Whether something is asked of people now.</summary>
    public bool Asks(Instant now) => State is CareState.Due or CareState.Overdue || State == CareState.Never && Due <= now && AsksEvenIfNew;

    // What nobody ever did is asked for where it is forgotten most; the rest waits on the page until somebody looks.
    private bool AsksEvenIfNew => Own is not null || Chore is ChoreWords.Traps or ChoreWords.DeepClean or ChoreWords.StorageCheck or ChoreWords.SeasonClose
        or ChoreWords.SeasonOpen;
}
