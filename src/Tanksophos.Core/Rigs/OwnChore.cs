namespace Tanksophos.Core.Rigs;

/// <summary>The end of the season with which a chore goes.</summary>
public enum ChoreSeason
{
    /// <summary>When the season is opened.</summary>
    Open,

    /// <summary>When it is closed.</summary>
    Close,
}

/// <summary>A chore of the rig's own. Exactly one of the rhythms is set.</summary>
/// <param name="Id">Unique within the rig; entries point to it.</param>
/// <param name="Name">What its people call it.</param>
public sealed record OwnChore(string Id, string Name)
{
    /// <summary>Longest rhythm in days: ten years.</summary>
    public const int MaxDays = 3650;

    /// <summary>Longest rhythm in months: ten years.</summary>
    public const int MaxMonths = 120;

    /// <summary>Most times a year: once a week.</summary>
    public const int MaxTimes = 52;

    /// <summary>Most steps.</summary>
    public const int MaxSteps = 40;

    /// <summary>Every so many days.</summary>
    public int? EveryDays { get; init; }

    /// <summary>Every so many months.</summary>
    public int? EveryMonths { get; init; }

    /// <summary>So many times a year, evenly.</summary>
    public int? TimesAYear { get; init; }

    /// <summary>Once each season, at its start or end.</summary>
    public ChoreSeason? Season { get; init; }

    /// <summary>Once each trip.</summary>
    public bool EachTrip { get; init; }

    /// <summary>What to do, step by step.</summary>
    public IReadOnlyList<string> Steps { get; init; } = [];

    /// <summary>What to have at hand.</summary>
    public string? Parts { get; init; }

    /// <summary>About so many minutes.</summary>
    public double? Minutes { get; init; }

    /// <summary>About so much, in the smallest unit of the household's currency.</summary>
    public int? CostMinor { get; init; }

    /// <summary>Anything else worth keeping.</summary>
    public string? Note { get; init; }
}
