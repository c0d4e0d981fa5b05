namespace Tanksophos.Core.Log;

/// <summary>The bounds of what an entry may say. Forms, documents, runs and the database all keep to them; more cannot be meant.</summary>
internal static class EntryLimits
{
    /// <summary>Longest note in characters.</summary>
    public const int LongestNote = 4000;

    /// <summary>Longest name of a drain in characters.</summary>
    public const int LongestFixture = 60;

    /// <summary>Largest volume in litres.</summary>
    public const double MaxLitres = 100_000;

    /// <summary>Most people aboard.</summary>
    public const int MaxPeople = 100;

    /// <summary>Longest drain in minutes: a day.</summary>
    public const double MaxDrainMinutes = 1440;

    /// <summary>Longest rinse cycle in seconds: a day.</summary>
    public const double MaxCycleSeconds = 86_400;

    /// <summary>Longest drive in hours.</summary>
    public const double MaxDriveHours = 240;

    /// <summary>Longest id of a chore in characters.</summary>
    public const int LongestId = 60;

    /// <summary>Longest name of a person, a firm, a part or a chore in characters.</summary>
    public const int LongestName = 120;

    /// <summary>Largest cost in the smallest unit of a currency.</summary>
    public const int MaxCostMinor = 100_000_000;

    /// <summary>Longest chore or service in minutes: a week.</summary>
    public const double MaxChoreMinutes = 10_080;

    /// <summary>Highest pressure of a jet in bar.</summary>
    public const double MaxPressureBar = 1000;

    /// <summary>Most floods after a jet.</summary>
    public const int MaxFloods = 50;
}
